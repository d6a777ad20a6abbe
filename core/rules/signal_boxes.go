package rules

import (
	"slices"
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

var LoopOf = rule(Rule{
	Name:    "loop-of",
	Asks:    "Does a loop-through pass on the picture that comes in at its own input?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Bad: "nothing comes in"},
	Source:  datasheet("The spec sheet"),
	Example: "A loop-through of input 1, and the camera is on input 2: its picture does not leave there.",
	Judge:   Judging{AtBox: judgeLoop},
})

// judgeLoop judges an output that passes on what comes in at another input.
func judgeLoop(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	port := &it.Gear.Ports[w.Out]
	if port.LoopOf == "" || port.LoopOf == it.Gear.Ports[w.In].ID {
		return
	}
	source := w.Feed.Source
	p.Add(w.Hop, own, w.Ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(), Say: func(w *Words) {
		w.What = w.T("What %s of %s passes on", rig.PortName(port), it.Label)
		w.Says = w.T("%s of %s passes on what comes in at %s, and %s comes in elsewhere.", rig.PortName(port),
			it.Label, port.LoopOf, source.Label)
	}})
}

var SwitcherMode = rule(Rule{
	Name:    "switcher-mode",
	Asks:    "Does an input without a scaler get the picture the switcher runs at?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Open: "do the rates agree?", Bad: "rates do not agree"},
	Source:  datasheet("The spec sheet: inputs with and without a scaler"),
	Example: "A switcher at 1080p50, and a camera at 1080p25 on an input without a scaler: it does not fit.",
	Judge:   Judging{AtBox: judgeSwitcherMode},
})

// judgeSwitcherMode turns the picture into the box's own: a switcher's inputs come out at its size and rate when they
// have a scaler, and must come in so when they have none. A box that switches nothing passes on what comes in.
func judgeSwitcherMode(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	scaler := it.Gear.Ports[w.In].Scaler
	if it.Gear.Kind != gear.Switcher && !scaler {
		return
	}
	came := w.Mode
	mine := plans.BoxMode(it, w.Out)
	if mine == nil {
		if mine = came; scaler {
			mine = p.ProgrammeMode()
		}
	}
	if came.Same(*mine) {
		return
	}
	source := w.Feed.Source
	if !scaler {
		p.Add(w.Hop, own, it.ID+":"+w.Feed.ID, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(),
			Say: func(w *Words) {
				w.What = w.T("What this input of %s takes", it.Label)
				w.Says = w.T("%s runs at %s, and this input has no scaler: %s from %s does not fit.", it.Label,
					mine.Name(), came.Name(), source.Label)
			}})
		w.Mode = mine
		return
	}
	if mine.Width < came.Width && mine.Width < p.Show.Programme.Width {
		w.WasDown = true
	}
	if c := picture.CadenceOf(came.Rate, mine.Rate); c.Kind == picture.Judder || c.Kind == picture.Slip {
		judgeCadenceOf(p, Cadence, w, it.ID+":"+w.Feed.ID, came.Rate, mine.Rate, it)
	}
	scaled := *mine
	scaled.Chroma, scaled.Bits = came.Chroma, came.Bits
	w.Mode = &scaled
}

var Overview = rule(Rule{
	Name:    "overview",
	Asks:    "Does whoever switches see all inputs?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheBus,
	Source:  practice("Without an overview the operator switches blind"),
	Example: "A switcher without an overview and three cameras on it: whoever switches does it blind.",
	Judge:   Judging{OnRig: judgeOverview},
})

func judgeOverview(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		if it.Gear.Kind != gear.Switcher {
			continue
		}
		used, inputs := 0, 0
		where := []string{it.ID}
		for j := range it.Gear.Ports {
			if it.Gear.Ports[j].Direction != gear.In {
				continue
			}
			inputs++
			if at := p.Wiring.LeadAt(i, j); at >= 0 {
				used++
				where = append(where, p.Leads[at].ID)
			}
		}
		if used > 0 {
			judgeOverviewOf(p, own, it, used, inputs, where)
		}
	}
}

func judgeOverviewOf(p *Pass, own *Rule, it *rig.Item, used, inputs int, where []string) {
	l := Result{Limit: limit.Limit{Outcomes: limit.Soft}, Stage: plans.Capture, Shared: true,
		Where: where} // a care at worst
	if used < 2 || it.Gear.Overview == "yes" {
		l.Outcomes = limit.Yes
	}
	l.Say = func(w *Words) {
		w.What = w.T("Seeing the inputs of %s", it.Label)
		switch {
		case used < 2:
			w.Says = w.T("%s has one picture to show.", it.Label)
		case it.Gear.Overview == "yes":
			w.Says = w.T("%s shows all %s inputs on one output.", it.Label, strconv.Itoa(inputs))
		case it.Gear.Overview == "no":
			w.Says = w.T("%s has no overview: whoever switches its %s pictures does it blind.", it.Label,
				strconv.Itoa(used))
		default:
			w.Says = w.T("Nobody has said whether %s shows all its inputs somewhere.", it.Label)
		}
		if used < inputs {
			w.Says += w.T(" %s to spare: nothing is on it, and choosing it puts black to air.",
				say.Sentence(say.Count(inputs-used, "input is", "inputs are")))
		}
	}
	p.Add(nil, own, it.ID, &l)
}

// handedOn is the switcher by way of which a picture reaches the computer, nil when there is none.
func handedOn(p *Pass) *rig.Item {
	for i := range p.Items {
		it := &p.Items[i]
		if it.Gear.Kind != gear.Switcher {
			continue
		}
		for j := range p.Feeds {
			f := &p.Feeds[j]
			if slices.ContainsFunc(f.Hops, func(h plans.Hop) bool { return h.Ref == it.ID }) &&
				p.Find(ID{Rule: Arrives, Place: f.ID}) == nil {
				return it
			}
		}
	}
	return nil
}

var OnePlug = rule(Rule{
	Name:    "one-plug",
	Asks:    "Is there one plug for each socket?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Bad: "two plugs, one socket"},
	Source:  practice("One socket takes one plug"),
	Example: "Two plugs meant for one socket, as only a half-made change can have them.",
	Judge:   Judging{OnRig: judgeClashes},
})

func judgeClashes(p *Pass, own *Rule, _ *Walk) {
	for _, leads := range p.Wiring.Clashes() {
		var where []string
		place := ""
		for n, i := range leads {
			if n > 0 {
				place += ":"
			}
			place += p.Leads[i].ID
			where = append(where, p.Leads[i].ID)
		}
		p.Add(nil, own, place, &Result{Limit: limit.Limit{Outcomes: limit.No}, Stage: plans.Port, Where: where,
			Say: func(w *Words) {
				w.What, w.Says = lang.Text("One plug for one socket"), lang.Text("Two plugs are meant for one socket.")
			}})
	}
}
