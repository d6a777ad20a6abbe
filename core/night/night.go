// Package night answers: what has happened tonight, and over all nights? A show's log is a list of operations that is only
// ever added to; what stands on the sheet follows from it, in whatever order the operations come in.
package night

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
)

// Op is one thing somebody did or wrote down. Ids are made where it happens, so that sending it again adds nothing.
type Op struct {
	ID   string `json:"id" minLength:"8" maxLength:"60" pattern:"^[A-Za-z0-9-]+$" doc:"Made once, where it happens"`
	Kind string `json:"kind" enum:"tick,untick,fail,incident,figure,note,air,end,drop"`
	// At is milliseconds since 1970 UTC, by the clock of the computer that keeps it: a phone's wrong clock is put right when it comes in.
	At   int64  `json:"at" doc:"When it happened, milliseconds since 1970 UTC"`
	Who  string `json:"who,omitempty" maxLength:"60"`
	Step string `json:"step,omitempty" maxLength:"300" doc:"Of a tick, untick and fail"`
	// Of is the operation this one stands for: an incident or figure written again; or what is dropped, going to air and the
	// end of it too.
	Of       string    `json:"of,omitempty" maxLength:"60"`
	Incident *Incident `json:"incident,omitempty"`
	Figure   *Figure   `json:"figure,omitempty"`
	Text     string    `json:"text,omitempty" maxLength:"2000"`
}

// Incident is something that went wrong.
type Incident struct {
	Loss        string  `json:"loss" enum:"source,composing,coding,sending,sound,power,other" doc:"Kind of loss"`
	Part        string  `json:"part,omitempty" maxLength:"120" doc:"Item or lead id, or what people call it"`
	Hop         string  `json:"hop,omitempty" enum:"camera,socket,lead,capture,port,picture,send" doc:"Where on the tether"`
	What        string  `json:"what" maxLength:"500"`
	Cause       string  `json:"cause,omitempty" maxLength:"500"`
	Cure        string  `json:"cure,omitempty" maxLength:"500"`
	MinutesLost float64 `json:"minutesLost,omitempty" minimum:"0" maximum:"10080"`
	Next        string  `json:"next,omitempty" maxLength:"500" doc:"What to change next time"`
}

// Figure is something measured, or read off, during the show.
type Figure struct {
	What  string  `json:"what" maxLength:"120" doc:"bitrate, dropped, processor, temperature, battery, free, uplink, or a name"`
	Of    string  `json:"of,omitempty" maxLength:"120" doc:"Item id it is of"`
	Path  string  `json:"path,omitempty" maxLength:"200" doc:"The fact of the rig it measures"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit,omitempty" maxLength:"20"`
}

// Standing is a show as its operations have made it.
type Standing struct {
	Ticks     map[string]Tick `json:"ticks" doc:"By step"`
	Incidents []Written       `json:"incidents"`
	Figures   []Written       `json:"figures"`
	Notes     []Written       `json:"notes"`
	AirAt     int64           `json:"airAt" doc:"When it went to air; 0 when it has not"`
	AirOp     string          `json:"airOp,omitempty" doc:"The operation that says so: dropping it takes it back"`
	EndAt     int64           `json:"endAt" doc:"When it ended; 0 when it has not"`
	EndOp     string          `json:"endOp,omitempty" doc:"The operation that says so: dropping it takes it back"`
	Lost      float64         `json:"lost" doc:"Minutes lost by all incidents"`
}

// Tick is how a step stands.
type Tick struct {
	Done   bool   `json:"done"`
	Failed bool   `json:"failed"`
	At     int64  `json:"at"`
	Who    string `json:"who,omitempty"`
	op     string
}

// Written is an incident, figure or note as it stands, with what it said before.
type Written struct {
	ID     string `json:"id" doc:"Of the first operation about it"`
	Op     Op     `json:"op"`
	Before []Op   `json:"before" doc:"What it said before, the oldest first"`
}

// later tells which of two operations counts: the later one; of the same moment, the one with the greater id, everywhere.
func later(a, b *Op) int { return cmp.Or(cmp.Compare(a.At, b.At), strings.Compare(a.ID, b.ID)) }

// Fold makes the state of operations. The same operations give the same state, in whatever order and however often they come.
func Fold(ops []Op) Standing {
	sorted := slices.Clone(ops)
	slices.SortFunc(sorted, func(a, b Op) int { return later(&a, &b) })
	sorted = slices.CompactFunc(sorted, func(a, b Op) bool { return a.ID == b.ID })
	s := Standing{Ticks: map[string]Tick{}, Incidents: []Written{}, Figures: []Written{}, Notes: []Written{}}
	dropped := map[string]bool{}
	for i := range sorted {
		if op := &sorted[i]; op.Kind == "drop" {
			dropped[op.Of] = true
		}
	}
	at := map[string]*Written{}
	for i := range sorted {
		op := &sorted[i]
		switch op.Kind {
		case "tick", "untick", "fail":
			s.Ticks[op.Step] = Tick{Done: op.Kind == "tick", Failed: op.Kind == "fail", At: op.At, Who: op.Who, op: op.ID}
		case "air":
			if !dropped[op.ID] {
				s.AirAt, s.AirOp = op.At, op.ID
			}
		case "end":
			if !dropped[op.ID] {
				s.EndAt, s.EndOp = op.At, op.ID
			}
		case "incident", "figure", "note":
			id := cmp.Or(op.Of, op.ID)
			k := at[id]
			if k == nil {
				at[id] = &Written{ID: id, Op: *op, Before: []Op{}}
				continue
			}
			k.Before, k.Op = append(k.Before, k.Op), *op
		}
	}
	for id, k := range at {
		if dropped[id] {
			continue
		}
		switch k.Op.Kind {
		case "incident":
			s.Incidents = append(s.Incidents, *k)
			if k.Op.Incident != nil {
				s.Lost += k.Op.Incident.MinutesLost
			}
		case "figure":
			s.Figures = append(s.Figures, *k)
		default:
			s.Notes = append(s.Notes, *k)
		}
	}
	for _, l := range []([]Written){s.Incidents, s.Figures, s.Notes} {
		slices.SortFunc(l, func(a, b Written) int { return later(a.First(), b.First()) })
	}
	return s
}

// First is the operation that first wrote it down.
func (k *Written) First() *Op {
	if len(k.Before) > 0 {
		return &k.Before[0]
	}
	return &k.Op
}

// mostLost is how many minutes one incident can lose: a week.
const mostLost = 10080

// Problem says what is wrong with an operation; "" when nothing is.
func (op *Op) Problem() string {
	switch {
	case (op.Kind == "tick" || op.Kind == "untick" || op.Kind == "fail") && op.Step == "":
		return fmt.Sprintf("%s %q: step is missing", op.Kind, op.ID)
	case op.Kind == "incident" && (op.Incident == nil || strings.TrimSpace(op.Incident.What) == ""):
		return fmt.Sprintf("incident %q: say what happened", op.ID)
	case op.Kind == "figure" && (op.Figure == nil || strings.TrimSpace(op.Figure.What) == ""):
		return fmt.Sprintf("figure %q: say what was measured", op.ID)
	case op.Kind == "figure" && (math.IsNaN(op.Figure.Value) || math.IsInf(op.Figure.Value, 0)):
		return fmt.Sprintf("figure %q: %v is no figure", op.ID, op.Figure.Value)
	case op.Kind == "note" && strings.TrimSpace(op.Text) == "":
		return fmt.Sprintf("note %q is empty", op.ID)
	case op.Kind == "incident" && !(op.Incident.MinutesLost >= 0 && op.Incident.MinutesLost <= mostLost):
		return fmt.Sprintf("incident %q: %v minutes lost: want 0 to %v", op.ID, op.Incident.MinutesLost, mostLost)
	case op.Kind == "drop" && op.Of == "":
		return fmt.Sprintf("drop %q: say of what", op.ID)
	}
	return ""
}

// Texts are the texts of an operation that people wrote.
func (op *Op) Texts() []*string {
	out := []*string{&op.Text, &op.Who}
	if i := op.Incident; i != nil {
		out = append(out, &i.What, &i.Cause, &i.Cure, &i.Next, &i.Part)
	}
	if f := op.Figure; f != nil {
		out = append(out, &f.What, &f.Unit)
	}
	return out
}

// Step is what is known of a step of the sheet when times are taken.
type Step struct {
	ID      string
	Kind    string  // of work
	Minutes float64 // planned
}

// Took is how long a step took.
type Took struct {
	Step    string  `json:"step"`
	Kind    string  `json:"kind"`
	Minutes float64 `json:"minutes"`
	Planned float64 `json:"planned"`
}

// mostLonger is how many times the plan a step may have taken for its time to count: more is a pause, not work.
const mostLonger = 5

// Times are how long steps took: from the tick a person made before to this one; of the first nobody knows when it was begun. A
// time that is none (several ticked at once, a long pause) does not count.
func Times(s *Standing, steps []Step) []Took {
	type at struct {
		step Step
		tick Tick
	}
	var done []at
	for _, st := range steps {
		if t, ok := s.Ticks[st.ID]; ok && t.Done {
			done = append(done, at{st, t})
		}
	}
	slices.SortStableFunc(done, func(a, b at) int { return cmp.Compare(a.tick.At, b.tick.At) })
	last := map[string]int64{}
	out := []Took{}
	for _, d := range done {
		from, ok := last[d.tick.Who]
		last[d.tick.Who] = d.tick.At
		m := float64(d.tick.At-from) / 60000
		if !ok || d.step.Kind == "" || d.step.Minutes <= 0 || m < d.step.Minutes/mostLonger || m > d.step.Minutes*mostLonger {
			continue
		}
		out = append(out, Took{d.step.ID, d.step.Kind, m, d.step.Minutes})
	}
	return out
}
