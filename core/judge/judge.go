// Package judge answers: will the rig hold, and where is it weakest?
//
// Rig runs the table of rules over a rig once: every feed hop by hop, every shared limit. What comes back is figures and ids;
// what they mean in words is asked for afterwards (core/view). A Base judges changes of a rig by what they touch.
package judge

import (
	"slices"
	"sync"

	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
)

// Verdict is what judging a rig has found. It is not changed once it is made, and may be read from several places at once.
type Verdict struct {
	*rules.Pass
	State limit.State // the worst of all limits
}

// Rig judges a rig that passes rig.Check: one pass, every hop, every limit.
func Rig(r *rig.Rig) *Verdict {
	p := rules.New(r, rig.NewWiring(r)).Run()
	p.Cover()
	return &Verdict{Pass: p, State: stateOf(p.Results)}
}

func stateOf(results []rules.Result) limit.State {
	worst := limit.Slack
	for i := range results {
		worst = limit.Worse(worst, results[i].State)
	}
	return worst
}

// HopState is the worst of what is judged at a hop.
func (v *Verdict) HopState(h *rules.Hop) limit.State {
	s := limit.Slack
	for _, i := range h.Results {
		s = limit.Worse(s, v.Results[i].State)
	}
	return s
}

// FeedState is the worst of a feed's hops.
func (v *Verdict) FeedState(f *rules.Feed) limit.State {
	s := limit.Slack
	for i := range f.Hops {
		s = limit.Worse(s, v.HopState(&f.Hops[i]))
	}
	return s
}

// ShowsRoom tells whether a result has a share worth showing: what is made for its limit (a socket's rate, a lead's grade)
// has none until it fails.
func ShowsRoom(l *rules.Result) bool {
	return l.Sense != limit.Fits && (l.Ceiling < 1 || l.State != limit.Slack)
}

// Count is how many limits have a state.
func (v *Verdict) Count(s limit.State) int {
	n := 0
	for i := range v.Results {
		if v.Results[i].State == s {
			n++
		}
	}
	return n
}

// passes keeps the memory of passes nobody keeps.
var passes = sync.Pool{New: func() any { return new(rules.Pass) }}

// Look judges a rig and hands the verdict to look, which must keep nothing of it. What was not judged is not listed.
func Look(r *rig.Rig, look func(*Verdict)) {
	p := passes.Get().(*rules.Pass)
	p.Reset(r, rig.NewWiring(r)).Run()
	look(&Verdict{Pass: p, State: stateOf(p.Results)})
	passes.Put(p)
}

// StateOf is the state of a rig.
func StateOf(r *rig.Rig) (s limit.State) {
	Look(r, func(v *Verdict) { s = v.State })
	return s
}

// Feeds lists the feeds of a verdict that are branches, or are not, as the items stand.
func (v *Verdict) FeedsThat(branch bool) []*rules.Feed {
	var out []*rules.Feed
	for i := range v.Feeds {
		if f := &v.Feeds[i]; f.Branch == branch {
			out = append(out, f)
		}
	}
	if !branch {
		slices.SortStableFunc(out, func(a, b *rules.Feed) int { return v.Wiring.At(a.Source.ID) - v.Wiring.At(b.Source.ID) })
	}
	return out
}
