package advise

import (
	"cmp"
	"context"
	"reflect"
	"slices"
	"strings"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// largestCure is the most moves the search considers for faults that hang together; faults that share nothing are cured
// apart, and each may take as many.
const largestCure = 7

// search finds the smallest set of moves after which nothing breaks the rig and nothing new is untested: fewest moves,
// then money, then minutes, then the least loss of picture. Sets that give up picture are considered only when no other
// set does it.
//
// It deepens one move at a time. At each rig it takes the failing limit that the fewest moves touch; every set that
// cures the rig holds at least one of those moves, because a limit changes only when something it depends on does
// (Limit.Where), and each move changes one thing. So trying just those is exact, and failing limits that share nothing
// give a lower bound on the moves still needed: they are cured apart first, which is exact by the same reason wherever
// the cures fit together. The test beside this file compares it with trying every set.
type search struct {
	ctx      context.Context
	root     *rig.Rig
	b        *verdict.Base
	limit    int             // of b.work
	only     map[string]bool // ids the faults of this group depend on; any when nil
	lossless bool
	seen     map[string]bool
	moves    []Move // that can change what fails in the rig as it is
	best     *found
	quickest float64 // minutes of the quickest move, once it was asked for
	unsure   bool    // what a way out leaves to mend was given up on before it was known that nothing mends it
}

type found struct {
	moves   []Move
	minutes float64
	cost    gear.Amount
	loss    int
	state   limit.State
}

// What takes longer than weighing a limit in a trial does, in limits weighed [measured]: listing a move, a result of a
// rig that is judged whole, and one of a rig that choices are proposed for besides.
const (
	perMove     = 3
	perResult   = 4
	perProposed = 8
)

// over tells whether the search has to stop.
func (s *search) over() bool { return s.b.Work > s.limit || s.ctx.Err() != nil }

// cure looks for the smallest set of moves. found is nil when there is none, or none was found; proven tells that no
// smaller one exists, or that there is none of up to largestCure moves.
func (s *search) cure() (best *found, proven bool) {
	bad := s.failing(nil)
	groups := apart(bad)
	if len(groups) > 1 {
		if best, proven = s.together(groups); best != nil {
			return best, proven
		}
		if len(groups) > largestCure {
			return nil, proven && !s.over()
		}
	}
	s.only = nil
	return s.group(bad)
}

// together cures each group by itself and puts the cures together, where they fit: each is as small as can be, and none
// can do another's work.
func (s *search) together(groups [][]*engine.Result) (*found, bool) {
	var moves []Move
	proven := true
	for _, g := range groups {
		s.only = map[string]bool{}
		for _, l := range g {
			for _, id := range l.Where {
				s.only[id] = true
			}
		}
		part, sure := s.group(g)
		if part == nil {
			return nil, sure
		}
		proven = proven && sure
		moves = append(moves, part.moves...)
	}
	s.only = nil
	var edits []rig.Edit
	for i := range moves {
		edits = append(edits, moves[i].Edits...)
	}
	f := total(moves)
	whole := false
	err := s.b.Try(edits, func(d *verdict.Delta) {
		whole = len(s.failing(d)) == 0 && len(rig.Check(d.Rig)) == 0
		f.state = d.State
	})
	if err != nil || !whole {
		return nil, false
	}
	return &f, proven
}

// group searches for the cure of faults that hang together.
func (s *search) group(bad []*engine.Result) (*found, bool) {
	s.moves = nil
	for _, s.lossless = range []bool{true, false} {
		for depth := max(1, disjoint(bad)); depth <= largestCure; depth++ {
			s.seen, s.best = map[string]bool{}, nil
			deeper := s.deepen(s.root, nil, nil, nil, depth)
			if s.best != nil {
				return s.best, !s.over()
			}
			if s.over() {
				return nil, false
			}
			if !deeper {
				break
			}
		}
	}
	return nil, true
}

// deepen tries to cure a rig with at most left moves. It reports whether more moves might have helped.
func (s *search) deepen(r *rig.Rig, d *verdict.Delta, path []Move, edits []rig.Edit, left int) bool {
	failing := s.failing(d)
	if len(failing) == 0 {
		if len(path) > 0 && len(rig.Check(r)) > 0 {
			return true // it would make a loop, or something else nobody can keep
		}
		state := s.b.State
		if d != nil {
			state = d.State
		}
		s.keep(path, state)
		return false
	}
	if bound := disjoint(failing); bound > left || s.over() {
		return true
	}
	p := s.b.Verdict
	if d != nil {
		p = verdict.Bare(r, d.Wiring)
	}
	touched := map[string]bool{}
	for _, l := range failing {
		for _, id := range l.Where {
			touched[id] = true
		}
	}
	universe := s.moves
	if d != nil || universe == nil {
		universe = movesOn(p, touched)
		s.b.Work += perMove * len(universe)
	}
	if d == nil {
		s.moves = universe // there are more sets to begin with them
	}
	var next, touching []*Move
	for i, l := range failing { // one of them has to go: the one fewest moves change
		where := make(map[string]bool, len(l.Where))
		for _, id := range l.Where {
			where[id] = true
		}
		touching = touching[:0]
		for k := range universe {
			m := &universe[k]
			if s.lossless && m.GivesUp != "" || !changes(m, l, where) || usesSlot(path, m.Slot) {
				continue
			}
			if touching = append(touching, m); i > 0 && len(touching) >= len(next) {
				break
			}
		}
		if i == 0 || len(touching) < len(next) {
			next, touching = touching, next
		}
	}
	slices.SortFunc(next, func(a, b *Move) int { // the cheap ones first, so that dear ones need no trial
		return cmp.Or(cmp.Compare(costOf(a), costOf(b)), cmp.Compare(a.Minutes, b.Minutes),
			cmp.Compare(a.loss, b.loss), cmp.Compare(a.ID, b.ID))
	})
	deeper := false
	for _, m := range next {
		trail := append(slices.Clip(path), *m)
		key := setKey(trail)
		if s.over() {
			return true
		}
		if s.seen[key] || s.best != nil && !s.hopeful(trail, left-1) {
			continue
		}
		s.seen[key] = true
		all := append(slices.Clip(edits), m.Edits...)
		further := func(d *verdict.Delta) {
			if s.deepen(d.Rig, d, trail, all, left-1) {
				deeper = true
			}
		}
		if left == 1 { // nothing more is tried on what comes of it
			_ = s.b.Try(all, further)
		} else if after, err := rig.Apply(r, m.Edits...); err == nil { // moves that are found on it are kept
			s.b.TryRig(after, all, further)
		}
	}
	return deeper
}

// failing lists the limits that keep a rig from counting as cured: snapped ones, ones that were snapped and are now
// merely unknown, and, when more is unknown than before, the new unknowns. d is what the moves so far have changed, nil
// for the rig as it is.
func (s *search) failing(d *verdict.Delta) []*engine.Result {
	var out []*engine.Result
	limits := s.b.Results
	if d != nil {
		limits = d.Results
		more := d.Counts[limit.Untested.Severity()] > s.b.Counts[limit.Untested.Severity()]
		for i := range limits {
			l := &limits[i]
			var was limit.State
			if have := s.b.Find(l.ID); have != nil {
				was = have.State
			}
			bad := l.State == limit.Snapped || s.lossless && l.State == limit.Kinked &&
				was != limit.Kinked // a flaw is given up for, never made in passing
			if (bad || l.Counts() == limit.Untested && (was == limit.Snapped || more && was != limit.Untested)) &&
				s.mine(l, was) {
				out = append(out, l)
			}
		}
	}
	for i := range s.b.Results {
		if l := &s.b.Results[i]; l.State == limit.Snapped && s.mine(l, limit.Snapped) && (d == nil ||
			!d.Whole && !d.Before[i]) {
			if d == nil || !slices.ContainsFunc(limits, func(o engine.Result) bool { return o.ID == l.ID }) {
				out = append(out, l)
			}
		}
	}
	return out
}

// mine tells whether a fault is one of the group that is searched for, or one its moves have made.
func (s *search) mine(l *engine.Result, was limit.State) bool {
	return s.only == nil || was != limit.Snapped || slices.ContainsFunc(l.Where, func(id string) bool {
		return s.only[id]
	})
}

// apart groups limits that share something they depend on.
func apart(limits []*engine.Result) (groups [][]*engine.Result) {
	of := map[string]int{} // id -> group
	for _, l := range limits {
		at := -1
		for _, id := range l.Where {
			k, ok := of[id]
			switch {
			case !ok || k == at:
			case at < 0:
				at = k
			default: // it joins two
				groups[at] = append(groups[at], groups[k]...)
				groups[k] = nil
				for id, j := range of {
					if j == k {
						of[id] = at
					}
				}
			}
		}
		if at < 0 {
			at = len(groups)
			groups = append(groups, nil)
		}
		groups[at] = append(groups[at], l)
		for _, id := range l.Where {
			of[id] = at
		}
	}
	return slices.DeleteFunc(groups, func(g []*engine.Result) bool { return len(g) == 0 })
}

// changes tells whether a move can change a limit that depends on these ids.
func changes(m *Move, l *engine.Result, where map[string]bool) bool {
	return slices.ContainsFunc(m.touches, func(id string) bool { return where[id] }) && (l.Kinds == nil ||
		slices.Contains(*l.Kinds, m.Kind))
}

// disjoint counts failing limits that share nothing they depend on: each needs a move of its own.
func disjoint(failing []*engine.Result) int {
	n := 0
	used := map[string]bool{}
	for _, l := range failing {
		if !slices.ContainsFunc(l.Where, func(id string) bool { return used[id] }) {
			n++
			for _, id := range l.Where {
				used[id] = true
			}
		}
	}
	return n
}

func usesSlot(path []Move, slot string) bool {
	return slices.ContainsFunc(path, func(m Move) bool { return m.Slot == slot })
}

func setKey(path []Move) string {
	ids := make([]string, len(path))
	for i := range path {
		ids[i] = path[i].ID
	}
	slices.Sort(ids)
	return strings.Join(ids, "|")
}

func total(path []Move) found {
	f := found{moves: path}
	for i := range path {
		f.minutes += path[i].Minutes
		f.cost += costOf(&path[i])
		f.loss += path[i].loss
	}
	return f
}

func (f *found) less(o *found) bool {
	switch {
	case f.cost != o.cost:
		return f.cost < o.cost
	case f.minutes != o.minutes:
		return f.minutes < o.minutes
	}
	return f.loss < o.loss
}

func (s *search) better(path []Move) bool {
	f := total(path)
	return s.best == nil || f.less(s.best)
}

// hopeful tells whether a set could still beat the best one once more moves are added. A level is searched only when
// no smaller set cures the rig, so every set that does will have just as many moves more, each at least the quickest.
func (s *search) hopeful(path []Move, more int) bool {
	f := total(path)
	if s.quickest == 0 {
		s.quickest = quickest(s.root.WorkMinutes)
	}
	f.minutes += float64(more) * s.quickest
	return f.less(s.best)
}

func (s *search) keep(path []Move, state limit.State) {
	if s.better(path) {
		f := total(slices.Clone(path))
		f.state = state
		s.best = &f
	}
}

// result words the moves of the best set, in the order they are best made.
func (s *search) result(best *found, proven, wayOut bool) *Cure {
	c := &Cure{Proven: proven, State: best.state, Minutes: best.minutes, GivesUp: []string{}, Edits: []rig.Edit{}}
	c.Cost = *Price(s.root, best.cost)
	r, moves := s.root, best.moves
	if wayOut {
		r = s.b.Given
	} else {
		moves = s.inOrder(moves)
	}
	for _, m := range moves {
		on := map[string]bool{}
		for _, id := range m.touches {
			on[id] = true
		}
		if !wayOut { // worded for the rig it is made on, where it is the same there that was judged
			for _, worded := range movesOn(verdict.Bare(r, rig.NewWiring(r)), on) {
				if worded.ID == m.ID && reflect.DeepEqual(worded.Edits, m.Edits) {
					m = worded
				}
			}
		}
		m.word()
		c.Moves = append(c.Moves, m)
		c.Edits = append(c.Edits, m.Edits...)
		if m.GivesUp != "" && !slices.Contains(c.GivesUp, m.GivesUp) {
			c.GivesUp = append(c.GivesUp, m.GivesUp)
		}
		if after, err := rig.Apply(r, m.Edits...); err == nil {
			r = after
		}
	}
	look := verdict.Look
	if wayOut {
		look = judge.LookRig
	}
	look(r, func(v *verdict.Verdict) { c.Flaws = flaws(v) })
	return c
}

// flaws counts the kinds of flaws of a verdict.
func flaws(v *verdict.Verdict) int {
	seen := map[*engine.Rule]bool{}
	for i := range v.Results {
		if v.Results[i].State == limit.Kinked {
			seen[v.Results[i].ID.Rule] = true
		}
	}
	return len(seen)
}

// mendFlaws adds to a cure the moves that mend flaws, cost nothing and give nothing up, one at a time, the quickest
// first. A flaw that needs more than that is lived with.
func (s *search) mendFlaws(f *found) *found {
	r, moves, state := s.root, f.moves, f.state
	v := s.b.Verdict
	b := s.b
	if len(moves) > 0 {
		after, err := rig.Apply(r, editsOf(moves)...)
		if err != nil {
			return f
		}
		r, v = after, verdict.As(after)
		b = verdict.BaseOf(v)
		s.b.Work += perResult * len(v.Results)
	}
	for range 12 {
		touched := map[string]bool{}
		for i := range v.Results {
			if l := &v.Results[i]; l.State == limit.Kinked {
				for _, id := range l.Where {
					touched[id] = id != "show"
				}
			}
		}
		if len(touched) == 0 || s.over() {
			break
		}
		all := slices.DeleteFunc(movesOn(v, touched), func(m Move) bool {
			return m.half || m.anew || m.GivesUp != "" || costOf(&m) > 0 || usesSlot(moves, m.Slot)
		})
		slices.SortFunc(all, func(a, b Move) int {
			return cmp.Or(cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.loss, b.loss), cmp.Compare(a.ID, b.ID))
		})
		found := false
		for i := range all {
			m := &all[i]
			if s.over() {
				break
			}
			was := b.Work
			err := b.Try(m.Edits, func(d *verdict.Delta) {
				kinked, untested, snapped := limit.Kinked.Severity(), limit.Untested.Severity(),
					limit.Snapped.Severity()
				found = d.Counts[kinked] < b.Counts[kinked] && d.Counts[untested] <= b.Counts[untested] &&
					d.Counts[snapped] <= b.Counts[snapped]
			})
			if b != s.b {
				s.b.Work += b.Work - was
			}
			if found = err == nil && found && keeps(r, m); found {
				after, err := rig.Apply(r, m.Edits...)
				if err != nil {
					break
				}
				moves = append(slices.Clip(moves), *m)
				r, v = after, verdict.As(after)
				b = verdict.BaseOf(v)
				s.b.Work += perResult * len(v.Results)
				state = v.State
				break
			}
		}
		if !found {
			break
		}
	}
	if len(moves) == len(f.moves) {
		return f
	}
	out := total(moves)
	out.state = state
	return &out
}

func editsOf(moves []Move) (edits []rig.Edit) {
	for i := range moves {
		edits = append(edits, moves[i].Edits...)
	}
	return edits
}

// kindsInOrder is the order moves are best made in: power before plugs, what is set last.
var kindsInOrder = []string{"show", "power", "lead", "swap", "plug", "setting", "mode", "deliver", "send"}

// inOrder puts the moves of a cure in the best order to make them: the rig is never worse on the way where there is
// such an order, and power comes before plugs.
func (s *search) inOrder(moves []Move) []Move {
	left := slices.Clone(moves)
	slices.SortStableFunc(left, func(a, b Move) int {
		return cmp.Or(cmp.Compare(slices.Index(kindsInOrder, a.Kind), slices.Index(kindsInOrder, b.Kind)),
			cmp.Compare(a.ID, b.ID))
	})
	var out []Move
	r := s.root
	bad := s.b.Counts[limit.Snapped.Severity()]
	for len(left) > 1 && !s.over() {
		at, least, next := 0, -1, r
		for i := range left {
			after, err := rig.Apply(r, left[i].Edits...)
			if err != nil || left[i].half && len(rig.Check(after)) > 0 && len(left) > 1 && i+1 < len(left) {
				continue // into a socket that is still taken
			}
			n := 0
			verdict.Look(after, func(v *verdict.Verdict) { n = v.Count(limit.Snapped) })
			s.b.Work += perResult * len(s.b.Results)
			if least < 0 || n < least && least > bad {
				at, least, next = i, n, after
			}
			if least >= 0 && least <= bad {
				break
			}
		}
		out = append(out, left[at])
		left = slices.Delete(left, at, at+1)
		if least >= 0 {
			bad, r = least, next
		}
	}
	return append(out, left...)
}
