package view

import (
	"math"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// LineTry is what trying a line came to.
type LineTry struct {
	Wanted, Mbps        float64 // Mb/s that were to be sent, and that arrived
	Seconds             float64
	Stalls              int
	Filled, Local       bool
	Counted             bool
	RTTms, LeastMs, Pct float64 // round trips, and segments sent again of a hundred
	Closed              string
	At                  string // when, with the place's zone
	By                  string // wired or air
}

// LineTried says what a try of a line came to, and what the rig can take over of it.
type LineTried struct {
	Sentence string         `json:"sentence"`
	Figures  []LookedFigure `json:"figures"`
	Takes    []LookedTake   `json:"takes"`
	Notes    []string       `json:"notes"`
}

// usualKbps is what a try sends for a plan that sends nothing yet [practice: 1080p at 30].
const usualKbps = 6000

// LineNeeds is what a try sends so that the line has room for what is planned, in kb/s: the need ÷ 0.75, which is what
// the uplink is planned with.
func LineNeeds(v *verdict.Verdict) float64 {
	for i := range v.Results {
		if l := &v.Results[i]; l.ID.Rule == rules.Uplink && l.Load.High > 0 {
			return math.Ceil(l.Load.High*1000/rules.Uplink.Ceiling/100) * 100
		}
	}
	return usualKbps
}

// OfLine words a try. A line that was not filled is known to carry at least what arrived; one on this very computer
// tells of no line; of one that was closed at once nothing is taken.
func OfLine(t *LineTry) *LineTried {
	l := &LineTried{Figures: []LookedFigure{}, Takes: []LookedTake{}, Notes: []string{}}
	mbps := func(v float64) string { return lang.Text("%s Mb/s", say.Number(say.Round2(v))) }
	figure := func(what, says string) { l.Figures = append(l.Figures, LookedFigure{what, says}) }
	figure(lang.Text("Sent"), mbps(t.Wanted))
	figure(lang.Text("Arrived"), mbps(t.Mbps))
	if t.Counted {
		figure(lang.Text("Round trip"), lang.Text("%s ms, the least %s ms", say.Number(say.Round1(t.RTTms)), say.Number(say.Round1(t.LeastMs))))
		figure(lang.Text("Sent again"), lang.Text("%s %", say.Number(t.Pct)))
	} else {
		l.Notes = append(l.Notes, lang.Text("This system counts no resends and no round trip; what was written stands for what arrived."))
	}
	switch {
	case t.Closed != "":
		l.Sentence = say.Sentence(t.Closed) + "."
	case t.Local:
		l.Sentence = lang.Text("This computer makes, sends and takes %s. It says nothing of the line.", mbps(t.Mbps))
	case t.Filled:
		l.Sentence = lang.Text("The line carries %s: less than the %s that were sent.", mbps(t.Mbps), mbps(t.Wanted))
	default:
		l.Sentence = lang.Text("The line carries %s at least: it was not filled.", mbps(t.Mbps))
	}
	if t.Stalls > 0 {
		l.Sentence += " " + lang.Text("It stood still %s, for longer than a second.", say.Count(t.Stalls, "time", "times"))
	}
	const enough = 5 // seconds: what a try of less tells is how fast it began [estimate]
	if t.Local || t.Seconds < enough {
		return l
	}
	l.Notes = append(l.Notes, lang.Text("One try says little about an evening: try at the hour of the show, on several days."))
	reading := rig.Edit{Do: "fact", Path: "uplink/reading", At: t.At, Word: t.By, Fact: new(fact.Known(t.Mbps, fact.Measured))}
	says := lang.Text("A measurement of the line: %s", mbps(t.Mbps))
	if !t.Filled {
		says = lang.Text("A measurement of the line: %s at least", mbps(t.Mbps))
		reading.Fact.High = reading.Fact.Value + 1
	}
	l.Takes = append(l.Takes, LookedTake{says, []rig.Edit{reading}})
	if t.Counted && t.LeastMs >= 0.1 {
		l.Takes = append(l.Takes,
			LookedTake{lang.Text("Round trip to the ingest: %s ms", say.Number(say.Round1(t.RTTms))),
				[]rig.Edit{{Do: "fact", Path: "uplink/rttMs", Fact: measured(max(0.1, say.Round1(t.RTTms)))}}},
			LookedTake{lang.Text("Loss on the way out: %s %, as far as resends tell", say.Number(t.Pct)),
				[]rig.Edit{{Do: "fact", Path: "uplink/lossPct", Fact: measured(t.Pct)}}})
	}
	return l
}
