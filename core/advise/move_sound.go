// What a technician would do with sound: mute, nearer, power for the microphone, gain, delay, line or pad, another
// interface.

package advise

import (
	"math"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/work"
)

// nearMouth is where a microphone is moved to: a hand or two from the mouth [practice].
var nearMouth = fact.Est(0.3, 0.2, 0.4)

// hears are what brings every voice to air once, and keeps loudspeakers out of it.
func (u *universe) hears() {
	if u.Sound == nil {
		return
	}
	add := func(id, path, word string, minutes float64, loss int, say func() (string, string)) {
		u.add(move("setting", id, "sound").
			slotted(path).
			taking(minutes).
			worse(loss).
			saying(say).
			doing(rig.Edit{Do: "word", Path: path, Word: word}))
	}
	for i := range u.Sound.Paths {
		path := &u.Sound.Paths[i]
		at := "sound/paths/" + strconv.Itoa(i) + "/"
		name := u.p.PathName(i)
		if path.On == "air" {
			loss := 1
			if u.p.NearestOnAir(path.Voice) == i { // the nearest one is what a voice is heard by
				loss = 200
			}
			add("mute:"+strconv.Itoa(i), at+"on", "muted", u.takes(work.Send), loss, func() (string, string) {
				return lang.Text("Mute %s", name), lang.Text("%s muted", name)
			})
		} else if path.On != "" {
			add("on-air:"+strconv.Itoa(i), at+"on", "air", u.takes(work.Send), 1, func() (string, string) {
				return lang.Text("Take %s to air", name), lang.Text("%s on air", name)
			})
		}
		if d := path.DistanceM; d != nil && d.High > nearMouth.High {
			near := nearMouth
			u.add(move("setting", "near:"+strconv.Itoa(i), "sound").
				slotted(at + "distanceM").
				taking(u.takes(work.Mic)).
				worse(1).
				saying(func() (string, string) {
					return lang.Text("Put the microphone nearer: a hand or two from the mouth, %s", name),
						lang.Text("%s nearer", name)
				}).
				doing(rig.Edit{Do: "fact", Path: at + "distanceM", Fact: &near}))
		}
		u.soundMoves(i, at, name, add)
		if path.OneLeg == "no" {
			add("one-leg:"+strconv.Itoa(i), at+"oneLeg", "yes", u.takes(work.Swap), 2, func() (string, string) {
				return lang.Text("Take a lead of one leg only, balanced to unbalanced, for %s", name),
					lang.Text("the right lead for %s", name)
			})
		}
	}
	u.moreInputs()
	if u.Sound.Monitor == "program" {
		add("hear-direct", "sound/monitor", "direct", u.takes(work.Send), 1, func() (string, string) {
			return lang.Text("Take the headphones at the input itself: the program's sound comes late"),
				lang.Text("headphones at the input")
		})
	}
	if u.Sound.Loudspeakers == "yes" {
		add("headphones", "sound/loudspeakers", "no", u.takes(work.Send), 1, func() (string, string) {
			return lang.Text("Loudspeakers off, headphones on"), lang.Text("headphones")
		})
	}
}

// moreInputs puts an interface with more inputs where more microphones go in than an interface takes.
func (u *universe) moreInputs() {
	for i := range u.p.Results {
		l := &u.p.Results[i]
		if l.ID.Rule != rules.Inputs || l.State.Severity() < limit.Untested.Severity() {
			continue
		}
		it := u.Item(l.ID.Place)
		if it == nil || it.Gear.Kind != gear.AudioInterface {
			continue
		}
		for _, e := range gear.MoreKinds() {
			s := e.Gear.Sound
			if e.Gear.Kind != gear.AudioInterface || s == nil || s.Inputs == nil || s.Inputs.Low < l.Load.High {
				continue
			}
			g := e.Gear
			m := move("swap", "inputs:"+it.ID+":"+e.ID, it.ID).
				slotted("swap:" + it.ID).
				taking(u.takes(work.Swap)).
				costing(u.money(e.Price.Amount)).
				worse(3).
				saying(func() (string, string) {
					return lang.Text("Use an interface with %s inputs in place of %s", say.Number(s.Inputs.Value),
						it.Label), lang.Text("%s inputs", say.Number(s.Inputs.Value))
				}).
				doing(rig.Edit{Do: "swap", Item: it.ID, Gear: &g})
			u.add(m)
			break
		}
	}
}

// soundMoves are what is turned, switched or put in between on one way: power for the microphone, the gain, the delay a
// clap test asks for, line instead of microphone or a pad, level control off, the middle.
func (u *universe) soundMoves(i int, at, name string, add func(id, path, word string, minutes float64, loss int,
	say func() (string, string))) {
	path, key := &u.Sound.Paths[i], strconv.Itoa(i)
	ways := append([]string{path.From}, path.Via...)
	turn := u.takes(work.Send)
	var before *gear.SoundSheet
	for k, id := range ways {
		it := u.Item(id)
		if it == nil {
			continue
		}
		s := it.Gear.Sound
		if s == nil {
			s = &gear.SoundSheet{}
		}
		of := "items/" + id + "/sound/"
		if s.AutoLevel == gear.Yes {
			add("level-control:"+key+":"+id, of+"autoLevel", "no", turn, 0, func() (string, string) {
				return lang.Text("Turn the automatic level control of %s off, and set the level by hand", it.Label),
					lang.Text("level control of %s off", it.Label)
			})
		}
		if s.KHz != nil && *s.KHz != 0 && *s.KHz != 48 {
			add("rate:"+key+":"+id, of+"kHz", "48", turn, 0, func() (string, string) {
				return lang.Text("Set %s to 48 kHz", it.Label), lang.Text("%s at 48 kHz", it.Label)
			})
		}
		if before != nil && k > 0 {
			if needs := before.Needs; (needs == "phantom" || needs == "plug-in") && s.Feeds != needs {
				add("feed:"+key+":"+id, of+"feeds", needs, turn, 1, func() (string, string) {
					if needs == "phantom" {
						return lang.Text("Switch 48 V on at %s, where it has it: muted while it is switched",
							it.Label), lang.Text("48 V at %s", it.Label)
					}
					return lang.Text("Switch plug-in power on at %s, where it has it", it.Label),
						lang.Text("plug-in power at %s", it.Label)
				})
			}
			line := before.Gives == "consumer-line" || before.Gives == "professional-line"
			if line && s.Takes == "microphone" {
				add("line:"+key+":"+id, of+"takes", "line", turn, 0, func() (string, string) {
					return lang.Text("Set the input of %s to line, where it can be", it.Label),
						lang.Text("%s at line", it.Label)
				})
				if path.Pad != "yes" {
					add("pad:"+key, at+"pad", "yes", u.takes(work.Swap), 2, func() (string, string) {
						return lang.Text("Put a pad of 40 dB in between for %s", name), lang.Text("a pad for %s", name)
					})
				}
			}
			if before.Gives == "microphone" && s.Takes == "line" {
				add("preamplifier:"+key+":"+id, of+"takes", "preamplifier", turn, 1, func() (string, string) {
					return lang.Text("Use a microphone input of %s, not a line input", it.Label),
						lang.Text("a microphone input of %s", it.Label)
				})
			}
		}
		before = s
	}
	if path.Middle == "no" {
		add("middle:"+key, at+"middle", "yes", turn, 0, func() (string, string) {
			return lang.Text("Set %s to the middle, and listen in mono", name), lang.Text("%s in the middle", name)
		})
	}
	plan := u.p.Sounds()
	if plan == nil {
		return
	}
	w := &plan.Paths[i]
	if path.GainDB != nil && w.Levels != nil {
		if gain := math.Round(max(0, w.Levels.Gain.Value)); gain != *path.GainDB && gain <= 90 {
			u.add(move("setting", "gain:"+key, "sound").
				slotted(at + "gainDb").
				taking(turn).
				saying(func() (string, string) {
					return lang.Text("Set the gain of %s to %s dB, by the meter", name, say.Number(gain)),
						lang.Text("%s dB for %s", say.Number(gain), name)
				}).
				doing(rig.Edit{Do: "word", Path: at + "gainDb", Word: say.Plain(gain)}))
		}
	}
	if c := CorrectionOf(u.Rig, w); c != nil {
		u.add(move("setting", "delay:"+key, "sound").
			slotted(at + "delayMs").
			taking(turn).
			saying(func() (string, string) {
				return lang.Text("Set the delay of %s to %s ms, as the clap test has it", name, say.Number(c.Ms)),
					lang.Text("%s ms for %s", say.Number(c.Ms), name)
			}).
			doing(c.Edits...))
	}
}

// Correction is the delay a clap test asks of one way of sound, as edits: what is measured moves with it.
type Correction struct {
	Index int        `json:"index" doc:"Of the way of sound"`
	Ms    float64    `json:"ms"`
	Edits []rig.Edit `json:"edits"`
}

// CorrectionOf is what a clap test asks of a way; nil where it asks nothing.
func CorrectionOf(r *rig.Rig, w *plans.SoundWay) *Correction {
	f := r.Sound.Paths[w.Index].OffsetMs
	if f == nil || w.Corrected == nil || w.Corrected.Ms == w.Set.Ms {
		return nil
	}
	moved := w.Corrected.Ms - w.Set.Ms
	after := fact.Fact{Low: f.Low + moved, Value: f.Value + moved, High: f.High + moved, From: f.From, At: f.At}
	at := "sound/paths/" + strconv.Itoa(w.Index) + "/"
	return &Correction{w.Index, w.Corrected.Ms,
		[]rig.Edit{{Do: "word", Path: at + "delayMs", Word: say.Plain(w.Corrected.Ms)},
			{Do: "fact", Path: at + "offsetMs", Fact: &after}}}
}
