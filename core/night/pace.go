package night

import (
	"math"

	"eventether/core/runsheet"
)

// Pace is how a set-up comes along.
type Pace struct {
	Done    int      `json:"done" doc:"Steps before air that are done"`
	Of      int      `json:"of"`
	Next    []string `json:"next" doc:"Steps that can be done now, the one with the least time first"`
	Left    float64  `json:"left" doc:"Minutes of work left, as planned for so many people"`
	Factor  float64  `json:"factor" doc:"Times as long as planned, so far; 1 while nothing tells"`
	ReadyAt int64    `json:"readyAt" doc:"When all will be done at this pace, milliseconds since 1970 UTC; 0 when nothing is begun"`
	// Ahead is minutes to spare before the margin begins; negative when they are missing.
	Ahead float64 `json:"ahead"`
}

// Bounds of a pace that is believed, and how many minutes of work have to be done for it to tell anything.
const (
	quickestPace, slowestPace = 0.5, 3.0
	tells                     = 10.0
)

// PaceOf tells how a set-up comes along: what is left is planned anew, and stretched by the pace so far.
func PaceOf(s *runsheet.RunSheet, people int, st *Standing, airAt, now int64) Pace {
	done := func(id string) bool { return st.Ticks[id].Done }
	p := Pace{Next: []string{}, Factor: 1}
	first, last, work := int64(math.MaxInt64), int64(0), 0.0
	for i := range s.Steps {
		x := &s.Steps[i]
		if !x.Phase.Before() {
			continue
		}
		p.Of++
		if !done(x.ID) {
			continue
		}
		p.Done++
		work += x.Minutes * float64(x.People)
		t := st.Ticks[x.ID].At
		first = min(first, t-int64(x.Minutes*60000))
		last = max(last, t)
	}
	p.Left = s.Left(people, done)
	for _, t := range s.Plan(people).Turns {
		if x := s.Step(t.Step); x != nil && !done(t.Step) && ready(x, done) {
			p.Next = append(p.Next, t.Step)
		}
	}
	if planned := work / float64(max(1, people)); planned >= tells && last > first {
		p.Factor = min(max(float64(last-first)/60000/planned, quickestPace), slowestPace)
	}
	if p.Done == 0 {
		p.Ahead = math.Floor(float64(airAt-now)/60000 - p.Left - runsheet.Margin)
		return p
	}
	p.ReadyAt = now + int64(p.Left*p.Factor*60000)
	if p.Left == 0 {
		p.ReadyAt = last
	}
	p.Ahead = math.Floor(float64(airAt-p.ReadyAt)/60000 - runsheet.Margin)
	return p
}

func ready(x *runsheet.Step, done func(string) bool) bool {
	for _, a := range x.After {
		if !done(a) {
			return false
		}
	}
	return true
}
