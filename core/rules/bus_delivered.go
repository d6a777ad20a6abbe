package rules

import (
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
)

var Delivers = rule(Rule{
	Name:    "delivers",
	Asks:    "Can the device hand the computer the picture the program takes?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Open: "which picture?", Bad: "does not deliver that"},
	Source:  datasheet("The delivered list of the spec sheet"),
	Example: "A program asks for NV12, and the stick delivers MJPEG and YUY2: snapped.",
	Say:     sayDelivers,
	Judge:   Judging{AtCapture: judgeDelivered},
})

// judgeDelivered settles which picture the program takes from a device, and how many bytes it is.
func judgeDelivered(p *Pass, own *Rule, w *Walk) {
	s, it, port, m := w.Bytes, w.Item, w.Port, w.Mode
	place := s.Ref
	if s.Input > 0 {
		place += ":" + it.Gear.Ports[s.Input-1].ID
	}
	l := Result{Where: w.Deps()}
	choices := p.Deliveries(it, m)
	fitted := len(choices)
	if len(it.Gear.Delivers) > 0 && m.Width > 0 {
		choices = withOdd(choices, it, m)
	}
	var want rig.Deliver
	asked := false
	if it.Set != nil {
		want, asked = it.Set.Deliver[port.ID]
	}
	switch {
	case len(choices) == 0:
		deliversUnknown(p, &l, s, it, m)
	case asked:
		c := deliversAsked(p, &l, it, m, choices, fitted, want)
		p.StreamOf(s, it, port, c)
	case fitted == 0:
		oddShape(p, &l, it, m)
		p.Unsettled(s, it, port, choices)
	case fitted == 1:
		l.Outcomes = limit.Yes
		p.StreamOf(s, it, port, choices[0])
	default: // whichever it is, the device can do it; how much it is matters on the bus
		l.Outcomes = limit.Yes
		p.Unsettled(s, it, port, choices[:fitted])
	}
	if its := l.Say; its != nil {
		l.Say = func(w *Words) { w.What = w.T("Picture %s delivers", it.Label); its(w) }
	}
	if it.IsSource() && it.Set != nil && it.Set.Upright && s.Width > s.Height { // the picture follows the device
		s.Width, s.Height = s.Height, s.Width
	}
	p.Add(w.Hop, own, place, &l)
}

// withOdd adds what a device that scales or boxes makes of a picture it has no size for, behind what fits.
func withOdd(choices []plans.Delivery, it *rig.Item, m *picture.Mode) []plans.Delivery {
	fitted := choices
	for i := range it.Gear.Delivers {
		if !slices.ContainsFunc(fitted, func(c plans.Delivery) bool { return c.At == i }) {
			d := &it.Gear.Delivers[i]
			choices = append(choices, plans.Delivery{Delivery: d, At: i, Width: d.Width, Height: d.Height,
				Rate: d.RateFor(m.Rate)})
		}
	}
	return choices
}

// deliversUnknown is a device of which nobody has said what it delivers: the programme's picture, in bytes of any
// format.
func deliversUnknown(p *Pass, l *Result, s *plans.Stream, it *rig.Item, m *picture.Mode) {
	l.Outcomes = limit.Maybe
	pr := &p.Show.Programme
	s.Width, s.Height, s.Rate, s.Unknown = pr.Width, pr.Height, pr.Rate, true
	known := deliversFact(p, it, m)
	l.Facts = p.FactList(known)
	options := known.Open
	known.Unit, known.Low, known.Value = "MB/s", unknownStream.Low, unknownStream.Value
	known.High = unknownStream.High
	known.Open = func() []limit.Option {
		o := options()
		for i := range o {
			o[i].State = 0
		}
		return o
	}
	s.Facts, s.Load, s.Sends = p.FactList(known), limit.Times(1, 1), plans.SendsUnknown
}

// deliversAsked is the picture a program asks for; where there is none such, the best there is. So many of the choices
// fit what comes in.
func deliversAsked(p *Pass, l *Result, it *rig.Item, m *picture.Mode, choices []plans.Delivery, fitted int,
	want rig.Deliver) plans.Delivery {
	at := -1
	for i := range choices {
		c := &choices[i]
		fits := c.Format == want.Format && (want.Width == 0 || want.Width == c.Width && want.Height == c.Height)
		if fits && (at < 0 || i < fitted == (at < fitted) && p.Richer(c, &choices[at])) {
			at = i
		}
	}
	switch {
	case at < 0:
		l.Outcomes = limit.No
		l.Say = func(w *Words) {
			w.Says = w.T("%s does not deliver %s.", it.Label,
				strings.TrimSpace(string(want.Format)+" "+deliverSize(want)))
		}
		for i := range choices {
			if at < 0 || p.Richer(&choices[i], &choices[at]) {
				at = i
			}
		}
	case at >= fitted:
		oddShape(p, l, it, m)
	default:
		l.Outcomes = limit.Yes
	}
	c := choices[at]
	if !want.Rate.IsZero() && want.Rate.Cmp(c.Rate) < 0 {
		c.Rate = want.Rate
	}
	return c
}

func sayDelivers(w *Words) {
	s := w.Result.Hop.Bytes
	it, asked := s.Owner, false
	if it.Set != nil {
		_, asked = it.Set.Deliver[s.Port]
	}
	switch w.What = w.T("Picture %s delivers", it.Label); {
	case s.Unknown:
		w.Says = w.T("Nobody has said which pictures %s delivers.", it.Label)
	case s.Sends == plans.SendsUndecided:
		w.Says = w.T("Nobody has said which picture the program takes from %s.", it.Label)
	case asked:
		w.Says = w.T("%s delivers %s.", it.Label, s.Chosen.Name())
	default:
		w.Says = w.T("%s delivers %s and nothing else.", it.Label, s.Chosen.Name())
	}
}

// unknownStream bounds what a device nobody has described sends, in MB/s: a small picture well compressed to 2160p60 as
// it is [estimate].
var unknownStream = fact.Est(60, 0.3, 1000)

// deliversFact is what a device delivers: the usual formats at the size that comes in.
func deliversFact(p *Pass, it *rig.Item, in *picture.Mode) limit.Fact {
	if in.Width == 0 {
		in = p.ProgrammeMode()
	}
	return limit.Fact{Key: limit.At("items/ID/delivers", it.ID), Word: "unknown", From: fact.Estimate,
		Open: func() (out []limit.Option) {
			for _, f := range []picture.Format{picture.MJPEG, picture.NV12, picture.YUY2, picture.H264} {
				d := gear.Delivery{Format: f, Width: in.Width, Height: in.Height, MaxRate: in.Rate}
				c := plans.Delivery{Delivery: &d, Width: d.Width, Height: d.Height, Rate: in.Rate}
				word := string(f) + " " + picture.SizeName(in.Width, in.Height)
				out = append(out, limit.Option{Word: word, Label: word, Number: c.Mbps(it).Value, State: limit.Slack,
					Do: []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/delivers",
						Word: rig.DeliversWord(f, in.Width,
							in.Height, in.Rate)}}})
			}
			return out
		}}
}

func deliverSize(d rig.Deliver) string {
	if d.Width == 0 {
		return ""
	}
	return picture.SizeName(d.Width, d.Height)
}
