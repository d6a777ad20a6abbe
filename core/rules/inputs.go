package rules

import (
	"slices"
	"strconv"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/say"
)

var Inputs = rule(Rule{Name: "inputs", Asks: "Has everything whose sound goes into a thing an input of its own there?", Sum: "microphones and receivers that go into it ≤ its inputs", Sense: limit.AtMost, Unit: "inputs", Ceiling: 1, Over: limit.Dark, Subject: TheSound,
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "Three hand-held microphones into an interface with two inputs: one voice has nowhere to go."})

var OneInput = rule(Rule{Name: "one-input", Asks: "Does nothing else go into the same input?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSound,
	Board:   Short{Bad: "two in one input"},
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "The lapel and the stand microphone are both said to go into input 1: one of them has nowhere to go."})

// judgeOneInput judges inputs somebody has said: each is for one thing.
func judgeOneInput(p *Pass, plan *plans.SoundPlan, add func(*Rule, string, Result)) {
	for k := range plan.Paths {
		plug := plan.Paths[k].Plug
		if plug == nil || !plug.Said {
			continue
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		other := ""
		for i := range plan.Paths {
			o := plan.Paths[i].Plug
			if o != nil && o.Said && o.Item == plug.Item && o.Number == plug.Number && o.From != plug.From && (other == "" || o.From < other) {
				other, l.Outcomes = o.From, limit.No
			}
		}
		name := plan.Paths[k].Name
		l.Say = func(w *Words) {
			at := w.T("input %s of %s", strconv.Itoa(plug.Number), w.Item(plug.Item).Label)
			w.What = w.T("Input of %s", name)
			if other == "" {
				w.Says = w.T("%s has %s to itself.", name, at)
				return
			}
			w.Says = w.T("%s and %s both go into %s.", w.Item(plug.From).Label, w.Item(other).Label, at)
		}
		add(OneInput, pathPlace(p, k), l)
	}
}

// judgeInputs judges what takes sound by what goes straight into it: microphones, the receivers of radio sets, a desk before it.
func judgeInputs(p *Pass, add func(*Rule, string, Result)) {
	for i := range p.Items {
		it := &p.Items[i]
		usual, takes := plans.InputsOf[it.Gear.Kind]
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
		last, at := len(into), ""
		for k := range p.Sound.Paths {
			n := p.Sound.Paths[k].Input
			if id, from := p.GoesInto(k); id == it.ID && (n > last || n == last && from < at) {
				last, at = n, from
			}
		}
		l := p.Roomy(1, 1)
		for _, from := range into {
			l.Loads = append(l.Loads, limit.Load{Item: from, Term: limit.Times(1)})
		}
		if at != "" { // the inputs before the last that is used are there, used or not
			l.Loads = append(l.Loads, limit.Load{Item: at, Term: limit.Times(float64(last - len(into)))})
		}
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("items/ID/sound/inputs", it.ID), "inputs", plans.SoundOf(it).Inputs, usual))))
		l.Say = func(w *Words) {
			w.What, w.Sum = w.T("Inputs of %s", it.Label), lang.Text("one microphone an input")
			for k, from := range into {
				w.Loads[k] = labelled(w.Item(from).Label, lang.Text("one input"))
			}
			w.Says = w.T("%s into %s, which has %s.", say.Sentence(say.Count(len(into), "source of sound goes", "sources of sound go")), it.Label, w.LimitText())
			if at != "" {
				w.Loads[len(into)] = labelled(w.Item(at).Label, w.T("it goes into input %s, which is the last in use", strconv.Itoa(last)))
				w.Says = w.T("%s goes into input %s of %s, which has %s.", w.Item(at).Label, strconv.Itoa(last), it.Label, w.LimitText())
			}
		}
		add(Inputs, it.ID, l)
	}
}
