// Package verdict answers: what has judging a rig as it stands found, and what would a change of it do?
//
// As runs the table of rules over a rig once: every feed hop by hop, every shared limit. A Base judges changes of a rig
// by what they touch.
package verdict

import (
	"slices"

	"eventether/core/engine"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
)

// Verdict is what judging a rig has found: figures and ids, and nothing that could change them. It is not changed once
// it is made, and may be read from several places at once.
type Verdict struct {
	*plans.Plan // over the rig with every proposal taken
	Results     []engine.Result
	Unjudged    []engine.NotJudged
	State       limit.State // the worst of what its limits count for
	Given       *rig.Rig    // the rig as it was given
	Proposed    Proposed    // the choices it leaves open, as they were judged

	pass *engine.Pass
}

// of is the verdict of a pass that has run.
func of(p *engine.Pass, given *rig.Rig) *Verdict {
	return &Verdict{Plan: &p.Plan, Results: p.Results, Unjudged: p.Unjudged, State: p.State(), Given: given, pass: p}
}

// As judges a rig as it stands: a choice nobody has made is not known.
func As(r *rig.Rig) *Verdict {
	p := rules.New(r, rig.NewWiring(r)).Run()
	rules.Cover(p)
	return of(p, r)
}

// Bare is what a rig comes to before it is judged: it finds no result.
func Bare(r *rig.Rig, w *rig.Wiring) *Verdict { return of(rules.New(r, w), r) }

// Find is the result of an id, nil when there is none.
func (v *Verdict) Find(id engine.ID) *engine.Result { return v.pass.Find(id) }

// Index is the place of a result among Results.
func (v *Verdict) Index(id engine.ID) (int, bool) { return v.pass.Index(id) }

// Word puts a result into words.
func (v *Verdict) Word(l *engine.Result) *engine.Words { return v.pass.Word(l) }

// What is what a result is called.
func (v *Verdict) What(l *engine.Result) string { return v.pass.What(l) }

// Name is what something no rule looks at is called, and why none does.
func (v *Verdict) Name(n *engine.NotJudged) (label, why string) { return n.Say(v.pass) }

// HopState is the worst of what is judged at a hop; of what bends and breaks nothing, that something is not known.
func (v *Verdict) HopState(h *plans.Hop) limit.State {
	s, own := limit.Slack, limit.Slack
	for _, i := range h.Results {
		s, own = limit.Worse(s, v.Results[i].Counts()), limit.Worse(own, v.Results[i].State)
	}
	if s.Severity() < limit.Kinked.Severity() {
		return own
	}
	return s
}

// FeedState is the worst of what is judged at a feed's hops; that a flaw is not known is no more than taut.
func (v *Verdict) FeedState(f *plans.Feed) limit.State {
	s := limit.Slack
	for i := range f.Hops {
		for _, k := range f.Hops[i].Results {
			switch l := &v.Results[k]; {
			case l.State == limit.Untested && !l.Over.Breaks():
				s = limit.Worse(s, limit.Taut)
			default:
				s = limit.Worse(s, l.State)
			}
		}
	}
	return s
}

// ShowsRoom tells whether a result has a share worth showing: what is made for its limit (a socket's rate, a lead's
// grade) has none until it fails.
func ShowsRoom(l *engine.Result) bool {
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

// Breaks is how many limits count as snapped, and how many as untested.
func (v *Verdict) Breaks() (snapped, untested int) {
	for i := range v.Results {
		switch v.Results[i].Counts() {
		case limit.Snapped:
			snapped++
		case limit.Untested:
			untested++
		}
	}
	return snapped, untested
}

// Look judges a rig as it stands and hands the verdict to look, which must keep nothing of it. What was not judged is
// not listed.
func Look(r *rig.Rig, look func(*Verdict)) {
	m := rooms.Get().(*room)
	p := &m.pass
	rules.Again(p, r, m.wiring.Wiring(r)).Run()
	look(of(p, r))
	rooms.Put(m)
}

// StateOf is the state of a rig as it stands.
func StateOf(r *rig.Rig) (s limit.State) {
	Look(r, func(v *Verdict) { s = v.State })
	return s
}

// Feeds lists the feeds of a verdict that are branches, or are not, as the items stand.
func (v *Verdict) FeedsThat(branch bool) []*plans.Feed {
	var out []*plans.Feed
	for i := range v.Feeds {
		if f := &v.Feeds[i]; f.Branch == branch {
			out = append(out, f)
		}
	}
	if !branch {
		slices.SortStableFunc(out, func(a, b *plans.Feed) int {
			return v.Wiring.At(a.Source.ID) - v.Wiring.At(b.Source.ID)
		})
	}
	return out
}
