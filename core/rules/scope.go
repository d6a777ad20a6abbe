package rules

import (
	"slices"

	"eventether/core/rig"
)

// Scope is what a pass over a changed rig is limited to: what the change touches, and what hangs together with it.
type Scope struct {
	Touched []string // ids
	Item    []bool   // touched, by place
	Lead    []bool
	Source  []bool // walked anew

	base  *Pass    // over the rig before
	buses []busKey // touched
	fresh int      // how many of the pass's streams are walked anew, the first of them
}

// Reset readies a used scope for another change.
func (s *Scope) Reset(touched []string, items, leads int) {
	*s = Scope{Touched: touched, Item: append(s.Item[:0], make([]bool, items)...), Lead: append(s.Lead[:0], make([]bool, leads)...),
		Source: append(s.Source[:0], make([]bool, items)...), buses: s.buses[:0]}
}

// Touches tells whether anything of a list of ids is touched.
func (s *Scope) Touches(where []string) bool {
	for _, id := range where {
		for _, t := range s.Touched {
			if id == t {
				return true
			}
		}
	}
	return false
}

// untouched tells, in a pass within a scope, whether a limit many things share is what it was: nothing it rests on is touched,
// and nothing that is touched has come to count in it.
func (p *Pass) untouched(id ID, counts func(*rig.Item) bool) bool {
	s := p.scope
	if s == nil {
		return false
	}
	if l := s.base.Find(id); l == nil || s.Touches(l.Where) {
		return false
	}
	for i, touched := range s.Item {
		if touched && counts(&p.Items[i]) {
			return false
		}
	}
	return true
}

// RunWithin judges a changed rig as far as a scope says, taking the rest from a pass over the rig before. Its results are
// those that depend on what is in the scope, and perhaps some more; ways are those of the changed rig.
func (p *Pass) RunWithin(s *Scope, base *Pass, ways []rig.Feed) *Pass {
	p.scope, s.base = s, base
	p.Ways = ways
	n := 0
	for i := range ways {
		if s.Source[ways[i].Source] {
			n++
		}
	}
	p.grow(max(n, len(base.Results)/24)) // the shared ones come too
	for i := range ways {
		if s.Source[ways[i].Source] {
			p.walk(&ways[i])
		}
	}
	s.fresh = len(p.Streams)
	p.at(AfterWays, nil)
	for k, st := range p.Streams {
		if k < s.fresh || s.Touches(st.where) {
			s.note(st)
		}
	}
	for _, st := range base.Streams { // what was not walked is as it was
		switch {
		case st.other:
			if s.Touches(st.where) {
				s.note(st)
			}
		case s.Source[st.from]:
			s.note(st)
		default:
			p.Streams = append(p.Streams, st)
		}
	}
	p.at(OnRig, nil)
	p.scope = nil
	return p
}

// note marks the buses a stream is on as touched.
func (s *Scope) note(st *Stream) {
	for _, at := range st.shares {
		for _, high := range [2]bool{true, false} {
			if k := (busKey{at.item, at.controller, high}); !slices.Contains(s.buses, k) {
				s.buses = append(s.buses, k)
			}
		}
	}
}
