package view

import (
	"slices"

	"eventether/core/advise"
	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// PowerPlan is the clock of the show with every battery on it, and the ways each camera could be powered.
type PowerPlan struct {
	Phases    []Phase   `json:"phases"`
	Total     float64   `json:"total" doc:"Minutes"`
	Batteries []Battery `json:"batteries"`
	Supplies  []Supply  `json:"supplies"`
}

// Phase is one stretch of the clock, in minutes from the start.
type Phase struct {
	Name string  `json:"name"`
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// Battery is one battery against the clock.
type Battery struct {
	Item  string      `json:"item"`
	Label string      `json:"label"`
	State limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Low   float64     `json:"low" doc:"Minutes it lasts, at worst"`
	High  float64     `json:"high" doc:"Minutes it lasts, at best"`
	Says  string      `json:"says"`
	Ways  []PowerWay  `json:"ways"`
}

// PowerWay is one way to power a camera, judged.
type PowerWay struct {
	Key     string      `json:"key" enum:"battery,grip,mains,usb-supply,usb-bank"`
	Name    string      `json:"name"`
	Figure  string      `json:"figure" doc:"How long it lasts of what is needed, in a few words"`
	Now     bool        `json:"now" doc:"The rig is so"`
	As      bool        `json:"asProposed" doc:"Nobody has said, and it is proposed so: the verdict goes by it"`
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Says    string      `json:"says"`
	Caution string      `json:"caution,omitempty"`
	Edits   []rig.Edit  `json:"edits"`
}

// Supply is one thing that gives power, with what hangs on it.
type Supply struct {
	Item   string   `json:"item"`
	Label  string   `json:"label"`
	Kind   string   `json:"kind"`
	Limits []string `json:"limits" doc:"Ids of the limits judged there"`
	Hangs  []string `json:"hangs" doc:"Labels of what hangs on it"`
}

// Powers lays out the power of a rig.
func Powers(v *verdict.Verdict) *PowerPlan {
	r := v.Rig
	s := &r.Show
	out := &PowerPlan{Phases: []Phase{}, Batteries: []Battery{}, Supplies: []Supply{}}
	for _, ph := range []struct {
		name    string
		minutes float64
	}{{lang.Text("setting up"), s.SetupMinutes}, {lang.Text("rehearsal"), s.RehearsalMinutes},
		{lang.Text("the show"), s.Minutes}} {
		if ph.minutes > 0 {
			out.Phases = append(out.Phases, Phase{ph.name, out.Total, out.Total + ph.minutes})
			out.Total += ph.minutes
		}
	}
	for i := range r.Items {
		it := &r.Items[i]
		if l := v.Find(engine.ID{Rule: rules.RunTime, Place: it.ID}); l != nil ||
			it.IsSource() && it.Gear.Power != nil && it.Gear.Power.Battery != nil {
			out.Batteries = append(out.Batteries, battery(v, it, l))
		}
		if it.Gear.Kind.Gives() {
			out.Supplies = append(out.Supplies, supplyOf(r, it, v))
		}
	}
	return out
}

func supplyOf(r *rig.Rig, it *rig.Item, v *verdict.Verdict) Supply {
	s := Supply{Item: it.ID, Label: it.Label, Kind: string(it.Gear.Kind), Limits: []string{}, Hangs: []string{}}
	var ids []engine.ID
	for _, rule := range []*engine.Rule{rules.Supply, rules.Strip, rules.UPSW, rules.UPSVA, rules.Nested} {
		ids = append(ids, engine.ID{Rule: rule, Place: it.ID})
	}
	for i := range it.Gear.Ports {
		ids = append(ids, engine.ID{Rule: rules.PortCurrent, Place: it.ID + "." + it.Gear.Ports[i].ID})
	}
	for i := range v.Results {
		for _, id := range ids {
			if v.Results[i].ID == id {
				s.Limits = append(s.Limits, id.String())
			}
		}
	}
	for i := range r.Items {
		if r.Items[i].PoweredBy == it.ID {
			s.Hangs = append(s.Hangs, r.Items[i].Label)
		}
	}
	for i := range r.Leads {
		if to, _ := rig.SplitRef(r.Leads[i].To); to == it.ID {
			if from, port := rig.SplitRef(r.Leads[i].From); r.Item(from) != nil {
				if p := r.Item(from).Gear.Port(port); p >= 0 && r.Item(from).Gear.Ports[p].Direction == gear.Upstream {
					s.Hangs = append(s.Hangs, r.Item(from).Label)
				}
			}
		}
	}
	return s
}

// battery tells how long a battery lasts, and what else could power its camera.
func battery(v *verdict.Verdict, it *rig.Item, l *engine.Result) Battery {
	b := Battery{Item: it.ID, Label: it.Label, Ways: []PowerWay{}}
	pw := it.Gear.Power
	if l != nil {
		b.State, b.Says = l.State, v.Word(l).Says
	}
	if l != nil && l.Sense == limit.AtMost {
		b.Low, b.High = l.Sure, l.Possible
	} else if pw != nil && pw.Battery != nil {
		usable := gear.DefaultUsable
		if pw.Battery.UsableShare != nil {
			usable = *pw.Battery.UsableShare
		}
		draw := it.Gear.Draws()
		b.Low = power.RunMinutes(power.WattHours(pw.Battery.MAh.Low, pw.Battery.Volts.Low), usable.Low, draw.High)
		b.High = power.RunMinutes(power.WattHours(pw.Battery.MAh.High, pw.Battery.Volts.High), usable.High, draw.Low)
	}
	b.Low, b.High = min(b.Low, limit.Never), min(b.High, limit.Never)
	if l == nil || l.Sense == limit.Fits && l.State == limit.Slack && pw != nil && pw.Battery != nil {
		b.State, b.Says = limit.Slack, lang.Text("%s runs on the mains; its battery alone would last %s.", it.Label,
			say.Span(b.Low, b.High, "min"))
	}
	for _, p := range advise.Powerings(v.Rig, it) {
		w := PowerWay{Key: p.Key, Name: p.Name, Caution: p.Caution, Edits: p.Edits}
		after, err := rig.Apply(v.Rig, w.Edits...)
		if err != nil || len(rig.Check(after)) > 0 {
			continue
		}
		verdict.Look(after, func(now *verdict.Verdict) {
			w.State, w.Says, w.Figure = limit.Slack,
				lang.Text("No end, and the camera runs cooler without a battery charging inside."), lang.Text("no end")
			if l := now.Find(engine.ID{Rule: rules.RunTime, Place: it.ID}); l != nil {
				word := now.Word(l)
				w.State, w.Says = l.State, word.Says
				if l.Sense == limit.AtMost && l.Sure < limit.Never {
					w.Figure = say.Span(l.Sure, l.Possible, "min")
				} else if l.State != limit.Slack {
					w.Figure = word.Figure()
				}
			}
		})
		w.Now = same(v.Rig, it, w)
		if w.Now && slices.ContainsFunc(v.Proposed.Choices, func(c verdict.Proposal) bool {
			return c.Kind == verdict.ProposePower && c.Of == it.ID
		}) {
			w.Now, w.As = false, true
		}
		b.Ways = append(b.Ways, w)
	}
	return b
}

func same(r *rig.Rig, it *rig.Item, w PowerWay) bool {
	runs := "battery"
	if it.Set != nil && it.Set.RunsOn != "" {
		runs = it.Set.RunsOn
	}
	return w.Edits[0].Word == runs && len(w.Edits) == 1 && r.Item(it.ID) != nil
}
