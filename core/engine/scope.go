package engine

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/plans"
	"eventether/core/rig"
)

// Scope is what a pass over a changed rig is limited to: what the change touches, and what hangs together with it.
type Scope struct {
	Touched []string // ids
	Item    []bool   // touched, by place
	Lead    []bool
	Source  []bool // walked anew

	base  *Pass          // over the rig before
	buses []plans.BusKey // touched
	fresh int            // how many of the pass's streams are walked anew, the first of them
}

// Reset readies a used scope for another change.
func (s *Scope) Reset(touched []string, items, leads int) {
	*s = Scope{Touched: touched, Item: append(s.Item[:0], make([]bool, items)...),
		Lead:   append(s.Lead[:0], make([]bool, leads)...),
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

// Untouched tells, in a pass within a scope, whether a limit many things share is what it was: nothing it rests on is
// touched, and nothing that is touched has come to count in it.
func (p *Pass) Untouched(id ID, counts func(*rig.Item) bool) bool {
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

// RunWithin judges a changed rig as far as a scope says, taking the rest from a pass over the rig before. Its results
// are those that depend on what is in the scope, and perhaps some more; ways are those of the changed rig.
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
		if k < s.fresh || s.Touches(st.Where) {
			s.note(st)
		}
	}
	for _, st := range base.Streams { // what was not walked is as it was
		switch {
		case st.Other:
			if s.Touches(st.Where) {
				s.note(st)
			}
		case s.Source[st.From]:
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
func (s *Scope) note(st *plans.Stream) {
	for _, at := range st.Shares {
		for _, high := range [2]bool{true, false} {
			if k := (plans.BusKey{Item: at.Item, Controller: at.Controller, High: high}); !slices.Contains(s.buses, k) {
				s.buses = append(s.buses, k)
			}
		}
	}
}

// ConcernsBus tells whether a bus has to be judged: in a pass within a scope where something on it is touched.
func (p *Pass) ConcernsBus(k plans.BusKey) bool {
	s := p.scope
	return s == nil || s.Item[k.Item] || slices.Contains(s.buses, k)
}

// ConcernsWayUp tells the same of the way up of a dock, on which either side of it shares.
func (p *Pass) ConcernsWayUp(item int) bool {
	s := p.scope
	return s == nil || s.Item[item] || slices.ContainsFunc(s.buses, func(k plans.BusKey) bool { return k.Item == item })
}

// ConcernsPlug tells the same of what hangs on a socket of an item, with whatever is behind a hub.
func (p *Pass) ConcernsPlug(item int, h rig.Hung) bool {
	s := p.scope
	return s == nil || p.Wiring.Clash(item, h.Port) || s.Item[item] || s.Source[h.Item] || s.Item[h.Item] ||
		s.Lead[h.Lead] ||
		p.Items[h.Item].Gear.Kind == gear.Hub
}

// SameWork tells, in a pass within a scope, whether the computer has the work it had before the change, and takes over
// what some rules judged of it then: only which leads and sockets the pictures come by may be another, on which those
// rest that weigh what it computes.
func (p *Pass) SameWork(host *rig.Item, streams []*plans.Stream, by ...*Rule) bool {
	s := p.scope
	if s == nil || len(streams) != len(s.base.Computed) || s.Item[p.Wiring.At(host.ID)] ||
		slices.Contains(s.Touched, "send") || slices.Contains(s.Touched, "show") {
		return false
	}
	moved := false
	for _, now := range p.Streams[:s.fresh] {
		if !now.Arrived(host) {
			continue
		}
		at, ok := slices.BinarySearchFunc(s.base.Computed, now, plans.CompareStreams)
		if !ok || !now.SameWork(s.base.Computed[at]) || s.Item[p.Wiring.At(now.Owner.ID)] {
			return false
		}
		moved = moved || !slices.Equal(now.Where, s.base.Computed[at].Where)
	}
	var where []string
	if moved {
		slices.SortFunc(streams, plans.CompareStreams)
		where = p.PassedBy(streams, host.ID, "send", "show")
	}
	for _, rule := range by {
		l := s.base.Find(ID{Rule: rule, Place: host.ID})
		if l == nil {
			continue
		}
		kept := *l
		if moved && rule.Computing { // its encoder codes what it codes, whatever way it comes
			kept.Where = where
		}
		p.keep(kept)
	}
	p.Codings = append(p.Codings[:0], s.base.Codings...)
	return true
}
