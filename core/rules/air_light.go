package rules

import (
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
)

var Flicker = rule(Rule{
	Name:    "flicker",
	Asks:    "Is the shutter free of banding in lamps on the mains?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheShow,
	Board:   Short{Open: "50 or 60 Hz light?", Bad: "bands in lamp light"},
	Source:  practice("Whole periods of the lamps' flicker; dimmed LED lamps and LED walls flicker at rates of their own: look"),
	Example: "1/60 s in 50 Hz light is not a whole number of 1/100 s: bands. 1/50 s is.",
	Judge:   Judging{AtSource: judgeFlicker},
})

// banding is the state of a shutter that is free of banding, or not.
func banding(free bool) limit.State {
	if free {
		return limit.Slack
	}
	return limit.Snapped
}

// judgeFlicker judges a camera's shutter against the mains, where somebody has said how it is set.
func judgeFlicker(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if w.Out < 0 || it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone && it.Gear.Kind != gear.Webcam {
		return
	}
	rate := p.Show.Programme.Rate
	if port := &it.Gear.Ports[w.Out]; port.Direction == gear.Out {
		rate = w.Mode.Rate
		if !w.Mode.Inner.IsZero() {
			rate = w.Mode.Inner
		}
	}
	mains := int64(p.Show.MainsHz)
	if mains > 0 {
		w.Feed.Light = rate
	}
	if it.Set == nil || it.Set.Shutter.IsZero() {
		return // proposed free of flicker
	}
	e := it.Set.Shutter
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: p.WithShow(w)}
	if mains == 0 { // nobody has said where
		f50, f60 := e.FreeOfFlicker(50), e.FreeOfFlicker(60)
		text := lang.Text("The shutter of %s flickers in 50 and in 60 Hz light.")
		switch {
		case f50 && f60:
			text = lang.Text("The shutter of %s lasts whole periods in 50 and in 60 Hz light.")
		case f50 || f60:
			l.Outcomes = limit.Maybe
			l.Facts = p.FactList(limit.Open(limit.At("show/mainsHz", ""), limit.OneOf(limit.Would("50", banding(f50)),
				limit.Would("60", banding(f60)))))
			text = lang.Text("Nobody has said the mains frequency of the place, and the shutter of %s is free of banding at one of the two only.")
		default:
			l.Outcomes = limit.No
		}
		l.Say = says("Shutter of %s in lamp light", text, it.Label)
		p.Add(w.Hop, own, it.ID, &l)
		return
	}
	free := e.FreeOfFlicker(mains)
	if !free {
		l.Outcomes = limit.No
	}
	l.Say = func(w *Words) {
		w.What = w.T("Shutter of %s in lamp light", it.Label)
		w.Says = w.T("%s s lasts whole periods of the light's %s Hz: no banding.", e.String(),
			strconv.FormatInt(2*mains, 10))
		if !free {
			w.Says = w.T("%s s does not last whole periods of the light's %s Hz: %s", e.String(),
				strconv.FormatInt(2*mains, 10), plans.LightOf(rate, mains).Words())
		}
	}
	p.Add(w.Hop, own, it.ID, &l)
}
