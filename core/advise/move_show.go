// What a technician would do with what the show asks for: its rate, who switches and where, arrangements, another
// program.

package advise

import (
	"slices"
	"strconv"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

// programmeRates sets the programme to the rate a source sends that goes unevenly into it.
func (u *universe) programmeRates() {
	seen := []picture.Rate{u.Show.Programme.Rate}
	for i := range u.p.Feeds {
		s := u.p.Feeds[i].Bytes
		if s == nil || s.Unknown || s.Rate.IsZero() || slices.Contains(seen, s.Rate) || len(seen) > 4 {
			continue
		}
		if k := picture.CadenceOf(s.Rate, u.Show.Programme.Rate).Kind; k != picture.Judder && k != picture.Slip {
			continue
		}
		rate := s.Rate
		seen = append(seen, rate)
		show := u.Show
		was := show.Programme.Rate
		show.Programme.Rate = rate
		show.Destinations = slices.Clone(show.Destinations)
		for j := range show.Destinations {
			if d := &show.Destinations[j]; d.Send.Rate == was {
				d.Send.Rate = rate
			}
		}
		m := move("show", "show:rate:"+rate.String(), "show").
			slotted("show").
			taking(u.takes(work.Show)).
			worse(30).
			proposing().
			saying(func() (string, string) {
				return lang.Text("Make the programme %s", rate.Name()), lang.Text("programme at %s", rate.Name())
			}).
			doing(rig.Edit{Do: "show", Show: &show})
		if rate.Cmp(was) < 0 {
			m.GivesUp, m.loss = lang.Text("a programme at %s", was.Name()), 80
		}
		u.add(m)
	}
}

// shows changes what the show asks for, where that is what cannot be had.
func (u *universe) shows() {
	u.programmeRates()
	if u.Show.AnglesSelectable && slices.ContainsFunc(u.Items, func(it rig.Item) bool {
		return it.Gear.Kind == gear.Switcher
	}) {
		show := u.Show
		show.AnglesSelectable, show.Switching = false, "switcher"
		u.add(move("show", "show:switch-there", "show").
			slotted("show").
			taking(u.takes(work.Show)).
			givingUp(lang.Text("picking each angle in the program")).
			worse(50).
			saying(func() (string, string) {
				return lang.Text("Change angles on the switcher instead of in the program"),
					lang.Text("angles changed on the switcher")
			}).
			doing(rig.Edit{Do: "show", Show: &show}))
	}
	u.otherPrograms()
	for i := range u.Show.Also {
		show := u.Show
		show.Also = slices.Delete(slices.Clone(u.Show.Also), i, i+1)
		name := plans.ProgramName(rig.Program{Kind: u.Show.Also[i].Kind, Name: u.Show.Also[i].Name})
		u.add(move("show", "show:without:"+strconv.Itoa(i), "show").
			slotted("show").
			taking(u.takes(work.Show)).
			givingUp(lang.Text("the picture in %s", name)).
			worse(60).
			saying(func() (string, string) {
				return lang.Text("Do without the picture in %s", name), lang.Text("no picture for %s", name)
			}).
			doing(rig.Edit{Do: "show", Show: &show}))
	}
}

// otherPrograms takes the pictures with a program that takes several, where the one there is takes one camera; and
// changes angles by hand where what was to change them is not there.
func (u *universe) otherPrograms() {
	add := func(id string, loss int, gives string, say func() (string, string), change func(*rig.Show)) {
		show := u.Show
		show.Destinations, show.Besides = slices.Clone(show.Destinations), slices.Clone(show.Besides)
		change(&show)
		u.add(move("show", "show:"+id, "show").
			slotted("show").
			taking(u.takes(work.Show)).
			givingUp(gives).
			worse(loss).
			saying(say).
			doing(rig.Edit{Do: "show", Show: &show}))
	}
	over := func(rule *engine.Rule) bool {
		return slices.ContainsFunc(u.p.Results, func(l engine.Result) bool {
			return l.ID.Rule == rule && l.State.Severity() >= limit.Kinked.Severity()
		})
	}
	if kind := u.Show.Program.Kind; (kind == "call" || kind == "destination-page") && (over(rules.Angles) ||
		over(rules.OneCamera) || over(rules.Arranged)) {
		name := plans.ProgramName(u.Show.Program)
		if kind == "call" {
			add("through-encoder", 20, "", func() (string, string) {
				return lang.Text("Compose in an encoder on this computer, and give its picture to %s as a camera",
					name), lang.Text("an encoder in between")
			}, func(sh *rig.Show) {
				sh.Program = rig.Program{Kind: "encoder"}
				if !slices.Contains(sh.Besides, rig.VirtualCamera) {
					sh.Besides = append(sh.Besides, rig.VirtualCamera)
				}
				if len(sh.Calls) == 0 {
					sh.Calls = []rig.Call{{Name: u.Show.Program.Name, Persons: 1}}
				}
			})
		} else {
			add("by-encoder", 20, "", func() (string, string) {
				return lang.Text("Send with an encoder on this computer in place of %s", name),
					lang.Text("an encoder in place of the page")
			}, func(sh *rig.Show) {
				sh.Program = rig.Program{Kind: "encoder"}
				for i := range sh.Destinations {
					d := &sh.Destinations[i]
					if in := d.Ingest; in != nil && len(in.Transports) > 0 {
						d.Transport = in.Transports[0]
					} else if d.Transport == "webrtc" {
						d.Transport = "rtmp"
					}
				}
			})
		}
		if u.Show.Angles != 1 {
			add("one-angle", 60, lang.Text("every picture but one"), func() (string, string) {
				return lang.Text("Show one camera only in %s", name), lang.Text("one camera only")
			}, func(sh *rig.Show) { sh.Angles = 1 })
		}
	}
	u.layouts(over, add)
	if by := u.Show.Switching; over(rules.WhoSwitches) {
		if by != "keys" {
			add("by-keys", 5, "", func() (string, string) {
				return lang.Text("Change angles in the program, by keys"), lang.Text("angles changed by keys")
			}, func(sh *rig.Show) { sh.Switching, sh.AnglesSelectable = "keys", true })
		}
	}
}

// layouts changes arrangements: an inset further in, where a window cuts it off, or without one that cannot be
// composed.
func (u *universe) layouts(over func(*engine.Rule) bool,
	add func(id string, loss int, gives string, say func() (string, string), change func(*rig.Show))) {
	cut, uncomposed := over(rules.Window), over(rules.Arranged)
	for i := range u.Show.Layouts {
		l, name := &u.Show.Layouts[i], plans.LayoutName(u.Rig, i)
		change := func(to func(*rig.Show)) func(*rig.Show) {
			return func(sh *rig.Show) { sh.Layouts = slices.Clone(sh.Layouts); to(sh) }
		}
		if in := plans.WindowEdge(u.Rig, i); cut && in > 0 && l.Shape == "inset" {
			add("layout:"+strconv.Itoa(i)+":in", 5, "", func() (string, string) {
				return lang.Text("Move the insets of %s in, to %s % from the edge", name, say.Number(in)),
					lang.Text("insets of %s further in", name)
			}, change(func(sh *rig.Show) { sh.Layouts[i].EdgePct = in }))
		}
		if uncomposed && len(l.Sources) > 1 {
			add("layout:"+strconv.Itoa(i)+":without", 60, lang.Text("seeing %s together", plans.LayoutNames(u.Rig, i)),
				func() (string, string) {
					return lang.Text("Do without the arrangement %s", name), lang.Text("no %s", name)
				}, change(func(sh *rig.Show) { sh.Layouts = slices.Delete(sh.Layouts, i, i+1) }))
		}
	}
}
