package rules

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
)

var Inputs = rule(Rule{Name: "inputs", Asks: "Has everything whose sound goes into a thing an input of its own there?", Sum: "microphones and receivers that go into it ≤ its inputs", Sense: limit.AtMost, Unit: "inputs", Ceiling: 1, Over: limit.Dark, Subject: TheSound,
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "Three hand-held microphones into an interface with two inputs: one voice has nowhere to go."})

// inputsOf is how many microphones a thing takes while nobody has looked: an interface two as a rule, a desk a handful, a camera one
// [estimate].
var inputsOf = map[gear.Kind]fact.Fact{gear.AudioInterface: fact.Est(2, 1, 8), gear.Mixer: fact.Est(6, 2, 16), gear.Recorder: fact.Est(2, 1, 8),
	gear.Camera: fact.Est(1, 1, 2), gear.Switcher: fact.Est(2, 1, 4)}

var OneInput = rule(Rule{Name: "one-input", Asks: "Does nothing else go into the same input?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSound,
	Board:   Short{"", "two in one input"},
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "The lapel and the stand microphone are both said to go into input 1: one of them has nowhere to go."})

// Plug is the input a way of sound goes into: of the first thing on its way that has some.
type Plug struct {
	Item   string `json:"item" doc:"Item id of the interface, desk, camera or other thing"`
	Number int    `json:"number" doc:"As it is printed there"`
	Said   bool   `json:"said" doc:"Somebody has said it; else the first that is free"`
	from   string // what is plugged in
}

// goesInto is the first thing on a way of sound that has inputs, and what goes into it; "" where there is none.
func (p *Plan) goesInto(k int) (id, from string) {
	from = p.Sound.Paths[k].From
	for _, id := range p.Sound.Paths[k].Via {
		if it := p.Item(id); it != nil {
			if _, takes := inputsOf[it.Gear.Kind]; takes {
				return id, from
			}
		}
		from = id
	}
	return "", ""
}

// plugs gives every way its input: what is said, else the first that is free; what comes by one thing goes into one input.
func (p *Plan) plugs(ways []SoundWay) {
	taken := map[Plug]bool{}
	of := map[[2]string]int{}
	for k := range ways {
		id, from := p.goesInto(k)
		if id == "" {
			continue
		}
		ways[k].Plug = &Plug{Item: id, from: from}
		if n := p.Sound.Paths[k].Input; n > 0 {
			ways[k].Plug.Number, ways[k].Plug.Said = n, true
			taken[Plug{Item: id, Number: n}], of[[2]string{id, from}] = true, n
		}
	}
	for k := range ways {
		plug := ways[k].Plug
		if plug == nil || plug.Said {
			continue
		}
		n := of[[2]string{plug.Item, plug.from}]
		for free := 1; n == 0; free++ {
			if !taken[Plug{Item: plug.Item, Number: free}] {
				n = free
			}
		}
		plug.Number = n
		taken[Plug{Item: plug.Item, Number: n}], of[[2]string{plug.Item, plug.from}] = true, n
	}
}

// oneInput judges inputs somebody has said: each is for one thing.
func (p *Pass) oneInput(plan *SoundPlan, add func(*Rule, string, Result)) {
	for k := range plan.Paths {
		plug := plan.Paths[k].Plug
		if plug == nil || !plug.Said {
			continue
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		other := ""
		for i := range plan.Paths {
			o := plan.Paths[i].Plug
			if o != nil && o.Said && o.Item == plug.Item && o.Number == plug.Number && o.from != plug.from && (other == "" || o.from < other) {
				other, l.Outcomes = o.from, limit.No
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
			w.Says = w.T("%s and %s both go into %s.", w.Item(plug.from).Label, w.Item(other).Label, at)
		}
		add(OneInput, p.pathPlace(k), l)
	}
}

// inputs judges what takes sound by what goes straight into it: microphones, the receivers of radio sets, a desk before it.
func (p *Pass) inputs(add func(*Rule, string, Result)) {
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
		last, at := len(into), ""
		for k := range p.Sound.Paths {
			n := p.Sound.Paths[k].Input
			if id, from := p.goesInto(k); id == it.ID && (n > last || n == last && from < at) {
				last, at = n, from
			}
		}
		l := p.roomy(1, 1)
		for _, from := range into {
			l.Loads = append(l.Loads, limit.Load{Item: from, Term: limit.Times(1)})
		}
		if at != "" { // the inputs before the last that is used are there, used or not
			l.Loads = append(l.Loads, limit.Load{Item: at, Term: limit.Times(float64(last - len(into)))})
		}
		l.Caps = p.cap(limit.Times(1, l.Let(stated(key("items/ID/sound/inputs", it.ID), "inputs", soundOf(it).Inputs, usual))))
		l.Say = func(w *Words) {
			w.What, w.Sum = w.T("Inputs of %s", it.Label), lang.Text("one microphone an input")
			for k, from := range into {
				w.Loads[k] = LoadWords{w.Item(from).Label, lang.Text("one input")}
			}
			w.Says = w.T("%s into %s, which has %s.", Sentence(Count(len(into), "source of sound goes", "sources of sound go")), it.Label, w.limit())
			if at != "" {
				w.Loads[len(into)] = LoadWords{w.Item(at).Label, w.T("it goes into input %s, which is the last in use", strconv.Itoa(last))}
				w.Says = w.T("%s goes into input %s of %s, which has %s.", w.Item(at).Label, strconv.Itoa(last), it.Label, w.limit())
			}
		}
		add(Inputs, it.ID, l)
	}
}
