package judge

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
)

// through passes the picture on by a box that hands it on as a picture: a switcher, splitter, converter, or a capture
// device's loop-through. Handbook 3.1.
func (p *pass) through(w *walk, it *rig.Item, in, out int) {
	hop := &w.feed.Hops[len(w.feed.Hops)-1]
	if out < 0 {
		return
	}
	port := &it.Gear.Ports[out]
	if port.LoopOf != "" && port.LoopOf != it.Gear.Ports[in].ID {
		p.add(hop, &Limit{ID: "loop-of:" + it.ID + "." + port.ID, Rule: "loop-of", Sense: Fits, outcomes: no, Where: w.deps(), What: p.say("What %s of %s passes on", rig.PortName(port), it.Label),
			Says:   p.say("%s of %s passes on what comes in at %s, and %s comes in elsewhere.", rig.PortName(port), it.Label, port.LoopOf, w.feed.Label),
			Source: Source{fact.DataSheet, "The spec sheet; handbook 2.7"}})
	}
	p.own(hop, w, it, in, out)
	p.lists(hop, w, it, port)
	p.socketRate(hop, w, it, port, "send")
}

// lists judges whether an output of a box gives the picture that is to leave by it.
func (p *pass) lists(hop *Hop, w *walk, it *rig.Item, port *gear.Port) {
	l := Limit{ID: "sends:" + it.ID + "." + port.ID + ":" + w.feed.ID, Rule: "sends", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("Picture %s sends", it.Label),
		Says: p.say("%s passes on %s.", it.Label, p.name(w.mode)), Source: Source{fact.DataSheet, "The output list of the spec sheet; handbook 3.1"}}
	switch {
	case slices.ContainsFunc(port.Refuses, w.mode.Same):
		l.outcomes, l.Says = no, p.say("%s was tried with %s and does not pass it on.", it.Label, p.name(w.mode))
	case slices.ContainsFunc(port.Modes, w.mode.Same):
	case len(port.Modes) == 0 && (port.LoopOf != "" || it.Gear.Kind == gear.Splitter || it.Gear.Kind == gear.Converter):
		l.Says, l.Source = p.say("%s passes on what comes in.", it.Label), Source{fact.Practice, "Handbook 2.7: a loop-through passes the input on"}
	case len(port.Modes) == 0 || port.MoreModes:
		l.outcomes, l.Says = maybe, p.say("Nobody has tried whether %s passes on %s.", it.Label, p.name(w.mode))
		l.Facts = p.facts.of(p.takesBasis(it, port, w.mode, "pass on"))
	default:
		l.outcomes, l.Says = no, p.say("%s does not pass on %s.", it.Label, p.name(w.mode))
	}
	p.add(hop, &l)
}

// own turns the picture into the box's own: a switcher's inputs come out at its size and rate when they have a scaler,
// and must come in so when they have none. A box that switches nothing passes on what comes in.
func (p *pass) own(hop *Hop, w *walk, it *rig.Item, in, out int) {
	scaler := it.Gear.Ports[in].Scaler
	if it.Gear.Kind != gear.Switcher && !scaler {
		return
	}
	mine, said := p.boxMode(it, out)
	if !said {
		mine = w.mode
		if scaler {
			pr := p.Show.Programme
			mine = picture.Mode{Width: pr.Width, Height: pr.Height, Rate: pr.Rate}
		}
	}
	came := w.mode
	if came.Same(mine) {
		return
	}
	if !scaler {
		p.add(hop, &Limit{ID: "switcher-mode:" + it.ID + ":" + w.feed.ID, Rule: "switcher-mode", Sense: Fits, outcomes: no, Where: w.deps(), What: p.say("What this input of %s takes", it.Label),
			Says:   p.say("%s runs at %s, and this input has no scaler: %s from %s does not fit.", it.Label, p.name(mine), p.name(came), w.feed.Label),
			Source: Source{fact.DataSheet, "The spec sheet: inputs with and without a scaler; handbook 3.1"}})
		w.mode = mine
		return
	}
	w.scaled(came.Width, came.Height, mine.Width, mine.Height, p.Show.Programme.Width)
	if c := picture.CadenceOf(came.Rate, mine.Rate); c.Kind == picture.Judder || c.Kind == picture.Slip {
		p.cadence(hop, w, "cadence:"+it.ID+":"+w.feed.ID, came.Rate, mine.Rate, p.say("Movement of %s in %s", w.feed.Label, it.Label))
	}
	mine.Chroma, mine.Bits = came.Chroma, came.Bits
	w.mode = mine
}

// boxMode is the picture a switcher or scaling converter runs at: as its output is set, else its only mode.
func (p *pass) boxMode(it *rig.Item, out int) (picture.Mode, bool) {
	if it.Set != nil {
		if out >= 0 {
			if m, ok := it.Set.Output[it.Gear.Ports[out].ID]; ok {
				return m, true
			}
		}
		first := "" // a switcher runs at one picture, whichever output it is set for
		for id := range it.Set.Output {
			if first == "" || id < first {
				first = id
			}
		}
		if first != "" {
			return it.Set.Output[first], true
		}
	}
	if out >= 0 && len(it.Gear.Ports[out].Modes) == 1 {
		return it.Gear.Ports[out].Modes[0], true
	}
	return picture.Mode{}, false
}

// switchers judges what only shows once all feeds are walked: one picture for the computer, an overview for whoever
// switches, inputs to spare. Handbook 3.1.
func (p *pass) switchers() {
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
			if at := p.g.LeadAt(i, j); at >= 0 {
				used++
				where = append(where, p.Leads[at].ID)
			}
		}
		if used == 0 {
			continue
		}
		p.overview(it, used, inputs, where)
	}
}

func (p *pass) overview(it *rig.Item, used, inputs int, where []string) {
	l := Limit{ID: "overview:" + it.ID, Rule: "overview", Sense: Fits, Stage: AtCapture, Shared: true, Where: where, What: p.say("Seeing the inputs of %s", it.Label),
		Source: Source{fact.Practice, "Handbook 3.1: without an overview the operator switches blind"}}
	spare := ""
	if used < inputs {
		spare = p.say(" %s to spare: nothing is on it, and choosing it puts black to air.", sentenceCase(count(inputs-used, "input is", "inputs are")))
	}
	switch {
	case used < 2:
		l.outcomes, l.Says = yes, p.say("%s has one picture to show.", it.Label)
	case it.Gear.Overview == "yes":
		l.outcomes, l.Says = yes, p.say("%s shows all %s inputs on one output.", it.Label, strconv.Itoa(inputs))
	case it.Gear.Overview == "no":
		l.outcomes, l.Says = soft, p.say("%s has no overview: whoever switches its %s pictures does it blind.", it.Label, strconv.Itoa(used))
	default:
		l.outcomes = soft // a care at worst
		l.Says = p.say("Nobody has said whether %s shows all its inputs somewhere.", it.Label)
	}
	l.Says += spare
	p.add(nil, &l)
}

// handed tells whether any picture reaches the computer by way of a switcher.
func (p *pass) handed() *rig.Item {
	for i := range p.Items {
		it := &p.Items[i]
		if it.Gear.Kind != gear.Switcher {
			continue
		}
		for j := range p.feeds {
			f := &p.feeds[j]
			if slices.ContainsFunc(f.Hops, func(h Hop) bool { return h.Ref == it.ID }) && !slices.ContainsFunc(f.Hops, func(h Hop) bool { return slices.ContainsFunc(h.Limits, isArrives) }) {
				return it
			}
		}
	}
	return nil
}
