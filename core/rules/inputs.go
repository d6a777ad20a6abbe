package rules

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
)

var _ = rule(Rule{ID: "inputs", Asks: "Has everything whose sound goes into a thing an input of its own there?", Sum: "microphones and receivers that go into it ≤ its inputs", Sense: limit.AtMost, Unit: "inputs", Ceiling: 1, Over: limit.Dark, Chapter: "6.1",
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "Three hand-held microphones into an interface with two inputs: one voice has nowhere to go."})

// inputsOf is how many microphones a thing takes while nobody has looked: an interface two as a rule, a desk a handful, a camera one
// [estimate].
var inputsOf = map[gear.Kind]fact.Fact{gear.AudioInterface: fact.Est(2, 1, 8), gear.Mixer: fact.Est(6, 2, 16), gear.Recorder: fact.Est(2, 1, 8),
	gear.Camera: fact.Est(1, 1, 2), gear.Switcher: fact.Est(2, 1, 4)}

// inputs judges what takes sound by what goes straight into it: microphones, the receivers of radio sets, a desk before it.
func (p *Pass) inputs(add func(limit.RuleID, string, Result)) {
	for i := range p.Items {
		it := &p.Items[i]
		usual, takes := inputsOf[it.Gear.Kind]
		if !takes {
			continue
		}
		var into []string
		for k := range p.Sound.Paths {
			before := p.Sound.Paths[k].From
			for _, id := range p.Sound.Paths[k].Via {
				if id == it.ID && !slices.Contains(into, before) {
					into = append(into, before)
				}
				before = id
			}
		}
		if len(into) == 0 {
			continue
		}
		l := p.roomy(1, 1)
		for _, from := range into {
			l.Loads = append(l.Loads, limit.Load{Item: from, Term: limit.Times(1)})
		}
		l.Caps = p.cap(limit.Times(1, l.Let(stated(key("items/ID/sound/inputs", it.ID), "inputs", soundOf(it).Inputs, usual))))
		l.Say = func(w *Words) {
			w.What, w.Sum = w.T("Inputs of %s", it.Label), lang.Text("one microphone an input")
			for k, from := range into {
				w.Loads[k] = LoadWords{w.Item(from).Label, lang.Text("one input")}
			}
			w.Says = w.T("%s into %s, which has %s.", Sentence(Count(len(into), "source of sound goes", "sources of sound go")), it.Label, w.limit())
		}
		add("inputs", it.ID, l)
	}
}
