// What a technician would do in menus: information display off, sleep off, the right shutter; a hand that touches or
// restarts in time.

package advise

import (
	"slices"
	"strconv"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

func (u *universe) settings(it *rig.Item) {
	u.mine = len(u.out)
	if it.Gear.Clean == gear.AfterSetting && it.Set != nil && it.Set.InfoDisplay == "on" {
		u.add(move("setting", "info-display:"+it.ID, it.ID).
			taking(u.takesSetting()).
			saying(func() (string, string) {
				return lang.Text("Turn the information display of %s off", it.Label),
					lang.Text("information display of %s off", it.Label)
			}).
			doing(rig.Edit{Do: "info-display", Item: it.ID, Word: "off"}))
	}
	u.ownSettings(it)
	if it.Gear.Protected == gear.UntilTurnedOff && it.Set != nil && it.Set.Protection == "on" {
		u.set(it, "protection", "off", func(_, item string) (string, string) {
			return lang.Text("Turn the encryption of %s off in its own menu, where its maker allows it", item),
				lang.Text("encryption of %s off", item)
		})
	}
	if it.IsHost() && it.Set != nil {
		for _, of := range plans.Undisturbed {
			if it.Set.Undisturbed[of.ID] == "on" {
				u.set(it, of.ID, "off", func(_, item string) (string, string) {
					return lang.Text("Turn off until the show is over, on %s: %s", item, lang.Text(of.Name)),
						lang.Text("off on %s: %s", item, lang.Text(of.Name))
				})
			}
		}
	}
	if it.Set != nil && it.Set.Upright {
		u.set(it, "upright", "no", func(_, item string) (string, string) {
			return lang.Text("Lay %s level", item), lang.Text("%s level", item)
		})
	}
	u.shutter(it)
	u.spare(it)
	u.feed(it)
	u.restart(it)
	u.touch(it)
	u.onBattery(it)
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || it.Set != nil && it.Set.RunsOn == "mains" ||
		pw.Mains != gear.MainsYes && pw.Mains != gear.MainsDummy {
		return
	}
	m := move("power", "runs-on:"+it.ID, it.ID).
		taking(u.takes(work.Power)).
		saying(func() (string, string) {
			return lang.Text("Run %s from the mains by its adapter", it.Label), lang.Text("%s on the mains", it.Label)
		}).
		doing(rig.Edit{Do: "runs-on", Item: it.ID, Word: "mains"})
	if pw.Mains == gear.MainsDummy {
		m.Cost = u.money(priceDummy)
		m.say = func() (string, string) {
			return lang.Text("Run %s from the mains by a dummy battery (right voltage and polarity, from a maker you can name)",
				it.Label), lang.Text("%s on a dummy battery", it.Label)
		}
	}
	u.add(m)
}

// restart has somebody stop a recording in a camera and start it again, before the camera ends it by itself.
func (u *universe) restart(it *rig.Item) {
	every, ok := plans.RestartEvery(it)
	if !ok || it.Gear.RecordLimitMinutes.Low >= u.Show.Minutes {
		return
	}
	m := move("setting", "restart:"+it.ID, it.ID).
		taking(u.takes(work.Setting)).
		givingUp(lang.Text("a few seconds of it each time")).
		worse(5).
		saying(func() (string, string) {
			return lang.Text("Stop the recording in %s and start it again every %s min at the latest, in a break if there is one",
				it.Label, say.Number(every)), lang.Text("recording in %s started again", it.Label)
		})
	for i := range u.Show.Recordings {
		if rec := &u.Show.Recordings[i]; rec.InCamera && rec.What == it.ID && !rec.Restarts {
			m.Edits = append(m.Edits, rig.Edit{Do: "word", Path: "show/recordings/" + strconv.Itoa(i) + "/restarts",
				Word: "yes"})
		}
	}
	if len(m.Edits) > 0 {
		u.add(m)
	}
}

// touch has somebody touch a device that sleeps and has no setting against it, before it does.
func (u *universe) touch(it *rig.Item) {
	every, ok := plans.TouchEvery(it, u.PlanningCeiling())
	if !ok || it.Gear.Standby.AfterMinutes.Low*u.PlanningCeiling() >= u.Show.Minutes ||
		it.Set != nil && it.Set.Touched {
		return
	}
	if l := u.p.Find(engine.ID{Rule: rules.Standby, Place: it.ID}); l == nil {
		return // its settings see to it
	}
	u.add(move("setting", "touch:"+it.ID, it.ID).
		taking(u.takes(work.Setting)).
		givingUp(lang.Text("a hand during the show")).
		worse(5).
		saying(func() (string, string) {
			return lang.Text("Touch %s every %s min at the latest during the show, so that it does not fall asleep: half-press, turn a dial",
				it.Label, say.Number(every)), lang.Text("%s touched in time", it.Label)
		}).
		doing(rig.Edit{Do: "word", Path: "items/" + it.ID + "/set/touched", Word: "yes"}))
}

// shutter sets a shutter that bands in the light of the place to one that does not.
func (u *universe) shutter(it *rig.Item) {
	hz := int64(u.Show.MainsHz)
	if it.Set == nil || it.Set.Shutter.IsZero() || hz == 0 || it.Set.Shutter.FreeOfFlicker(hz) {
		return
	}
	rate := u.Show.Programme.Rate
	for j := range it.Gear.Ports {
		if port := &it.Gear.Ports[j]; port.Direction == gear.Out {
			if m, _ := u.p.OutputMode(it, port); !m.Rate.IsZero() {
				rate = m.Rate
			}
			break
		}
	}
	if word := plans.LightOf(rate, hz).Shutter; word != "" {
		u.set(it, "shutter", word, func(word, item string) (string, string) {
			return lang.Text("Set the shutter of %s to %s s", item, word), lang.Text("shutter of %s to %s s", item,
				word)
		})
	}
}

// ownSettings puts settings of a device right, and turns off one of two that exclude each other.
func (u *universe) ownSettings(it *rig.Item) {
	for i := range it.Gear.Settings {
		s := &it.Gear.Settings[i]
		have, _ := plans.Stands(it, s)
		if k := s.Known(); k.Want != "" && have != k.Want {
			u.set(it, "settings/"+s.ID, k.Want, func(word, item string) (string, string) {
				return lang.Text("Set the %s of %s to %s", k.Label, item, word), lang.Text("%s of %s %s", k.Label,
					item, word)
			})
		}
		for _, id := range s.Excludes {
			if other := it.Gear.Setting(id); other != nil && have == "on" && plans.StandsOn(it, other) {
				for _, off := range []*gear.Setting{other, s} {
					label := off.Known().Label
					u.set(it, "settings/"+off.ID, "off", func(_, item string) (string, string) {
						return lang.Text("Turn the %s of %s off", label, item), lang.Text("%s of %s off", label, item)
					})
				}
			}
		}
	}
}

// set is the move that sets something on a device for this show.
func (u *universe) set(it *rig.Item, field, word string, say func(word, item string) (label, short string)) {
	m := move("setting", "set:"+it.ID+":"+field+":"+word, it.ID).
		slotted("set:" + it.ID + ":" + field).
		taking(u.takesSetting()).
		saying(func() (string, string) { return say(word, it.Label) }).
		doing(rig.Edit{Do: "word", Path: "items/" + it.ID + "/set/" + field, Word: word})
	if !slices.ContainsFunc(u.out[u.mine:], func(o Move) bool { return o.ID == m.ID }) {
		u.add(m)
	}
}
