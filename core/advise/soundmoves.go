package advise

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/rig"
	"eventether/core/rules"
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
		u.add(Move{Kind: "setting", Of: "sound", Slot: path, touches: []string{"sound"}, Minutes: minutes, loss: loss, ID: id, say: say,
			Edits: []rig.Edit{{Do: "word", Path: path, Word: word}}})
	}
	for i := range u.Sound.Paths {
		path := &u.Sound.Paths[i]
		at := "sound/paths/" + strconv.Itoa(i) + "/"
		name := u.p.PathName(i)
		if path.On == "air" {
			add("mute:"+strconv.Itoa(i), at+"on", "muted", u.takes(work.Send), 1, func() (string, string) {
				return rules.Text("Mute %s", name), rules.Text("%s muted", name)
			})
		} else if path.On != "" {
			add("on-air:"+strconv.Itoa(i), at+"on", "air", u.takes(work.Send), 1, func() (string, string) {
				return rules.Text("Take %s to air", name), rules.Text("%s on air", name)
			})
		}
		if d := path.DistanceM; d != nil && d.High > nearMouth.High {
			near := nearMouth
			u.add(Move{Kind: "setting", Of: "sound", Slot: at + "distanceM", touches: []string{"sound"}, Minutes: u.takes(work.Mic), loss: 1, ID: "near:" + strconv.Itoa(i),
				Edits: []rig.Edit{{Do: "fact", Path: at + "distanceM", Fact: &near}}, say: func() (string, string) {
					return rules.Text("Put the microphone nearer: a hand or two from the mouth, %s", name), rules.Text("%s nearer", name)
				}})
		}
		if path.OneLeg == "no" {
			add("one-leg:"+strconv.Itoa(i), at+"oneLeg", "yes", u.takes(work.Swap), 2, func() (string, string) {
				return rules.Text("Take a lead of one leg only, balanced to unbalanced, for %s", name), rules.Text("the right lead for %s", name)
			})
		}
	}
	if u.Sound.Monitor == "program" {
		add("hear-direct", "sound/monitor", "direct", u.takes(work.Send), 1, func() (string, string) {
			return rules.Text("Take the headphones at the input itself: the program's sound comes late"), rules.Text("headphones at the input")
		})
	}
	if u.Sound.Loudspeakers == "yes" {
		add("headphones", "sound/loudspeakers", "no", u.takes(work.Send), 1, func() (string, string) {
			return rules.Text("Loudspeakers off, headphones on"), rules.Text("headphones")
		})
	}
}
