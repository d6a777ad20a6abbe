package judge

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"eventether/core/gear"
	"eventether/core/rig"
)

// The search for a cure gives up after so many judged rigs, and then says so (Cure.Proven); largestCure is the most
// moves it considers. Both are far above what rigs of the sizes people have need.
const (
	searchBudget = 6000
	limitsAPiece = 40 // a trial of a rig with so many limits counts for one more
	largestCure  = 7
)

// search finds the smallest set of moves after which nothing snaps and nothing new is untested: fewest moves, then
// minutes, then money, then the least loss of picture. Sets that give up picture are considered only when no other
// set does it.
//
// It deepens one move at a time. At each rig it takes the failing limit that the fewest moves touch; every set that
// cures the rig holds at least one of those moves, because a limit changes only when something it depends on does
// (Limit.Where), and each move changes one thing. So trying just those is exact, and failing limits that share
// nothing give a lower bound on the moves still needed. The test beside this file compares it with trying every set.
type search struct {
	root     *rig.Rig
	before   map[string]State
	untested int
	budget   int
	lossless bool
	seen     map[string]bool
	best     *found
}

type found struct {
	moves   []Move
	minutes float64
	cost    gear.Amount
	loss    int
	state   State
}

func (s *search) cure(v *Verdict) *Cure {
	proven := true
	for _, s.lossless = range []bool{true, false} {
		for depth := 1; depth <= largestCure; depth++ {
			s.seen = map[string]bool{}
			s.best = nil
			deeper := s.deepen(s.root, v, nil, depth)
			if s.best != nil {
				return s.result(proven && s.budget > 0)
			}
			if s.budget <= 0 {
				proven = false
			}
			if !deeper || s.budget <= 0 {
				break
			}
		}
		if s.budget <= 0 {
			s.budget = searchBudget / 2
		}
	}
	return nil
}

// deepen tries to cure a rig with at most left moves. It reports whether more moves might have helped.
func (s *search) deepen(r *rig.Rig, v *Verdict, path []Move, left int) bool {
	failing := s.failing(v)
	if len(failing) == 0 {
		if len(path) > 0 && len(rig.Check(r)) > 0 {
			return true // it would make a loop, or something else nobody can keep
		}
		s.keep(path, v.State)
		return false
	}
	if bound := disjoint(failing); bound > left || s.budget <= 0 {
		return true
	}
	universe := moves(r, rig.NewGraph(r), true)
	var next []Move
	for i, l := range failing {
		var touching []Move
		for k := range universe {
			m := &universe[k]
			if s.lossless && m.GivesUp != "" || !l.changesBy(m) || usesSlot(path, m.Slot) {
				continue
			}
			touching = append(touching, *m)
		}
		if i == 0 || len(touching) < len(next) {
			next = touching
		}
	}
	slices.SortStableFunc(next, func(a, b Move) int { // the cheap ones first, so that dear ones need no trial
		return cmp.Or(cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(costOf(a), costOf(b)), cmp.Compare(a.loss, b.loss))
	})
	deeper := false
	for i := range next {
		m := &next[i]
		trail := append(slices.Clip(path), *m)
		key := setKey(trail)
		if s.seen[key] || s.best != nil && !s.hopeful(trail, left-1) {
			continue
		}
		s.seen[key] = true
		after, err := rig.Apply(r, m.Edits...)
		if err != nil {
			continue
		}
		trial(after, func(v *Verdict) {
			s.budget -= 1 + len(v.Limits)/limitsAPiece
			if s.deepen(after, v, trail, left-1) {
				deeper = true
			}
		})
	}
	return deeper
}

// failing lists the limits that keep a rig from counting as cured: snapped ones, ones that were snapped and are now
// merely unknown, and, when more is unknown than before, the new unknowns.
func (s *search) failing(v *Verdict) []*Limit {
	var out []*Limit
	more := count0(v, Untested) > s.untested
	for i := range v.Limits {
		l := &v.Limits[i]
		was := s.before[l.ID]
		if l.State == Snapped || l.State == Untested && (was == Snapped || more && was != Untested) {
			out = append(out, l)
		}
	}
	return out
}

// changesBy tells whether a move can change a limit.
func (l *Limit) changesBy(m *Move) bool {
	return touchesAny(l.Where, m.touches) && (len(l.kinds) == 0 || slices.Contains(l.kinds, m.Kind))
}

// disjoint counts failing limits that share nothing they depend on: each needs a move of its own.
func disjoint(failing []*Limit) int {
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
		f.cost += costOf(path[i])
		f.loss += path[i].loss
	}
	return f
}

func (f *found) less(o *found) bool {
	switch {
	case f.minutes != o.minutes:
		return f.minutes < o.minutes
	case f.cost != o.cost:
		return f.cost < o.cost
	}
	return f.loss < o.loss
}

func (s *search) better(path []Move) bool {
	f := total(path)
	return s.best == nil || f.less(s.best)
}

// quickest is the least any move takes, in minutes.
const quickest = min(minutesPlug, minutesMode, minutesDeliver, minutesLead, minutesSetting, minutesPower, minutesSend, minutesSwap)

// hopeful tells whether a set could still beat the best one once more moves are added. A level is searched only when
// no smaller set cures the rig, so every set that does will have just as many moves more, each at least the quickest.
func (s *search) hopeful(path []Move, more int) bool {
	f := total(path)
	f.minutes += float64(more) * quickest
	return f.less(s.best)
}

func (s *search) keep(path []Move, state State) {
	if s.better(path) {
		f := total(slices.Clone(path))
		f.state = state
		s.best = &f
	}
}

// result words the moves of the best set, in the order they are made.
func (s *search) result(proven bool) *Cure {
	c := &Cure{Proven: proven, State: s.best.state, Minutes: s.best.minutes, GivesUp: []string{}, Edits: []rig.Edit{}}
	c.Cost = gear.Money{Amount: s.best.cost, Currency: (&universe{Rig: s.root}).currency()}
	r := s.root
	for _, m := range s.best.moves {
		for _, worded := range Moves(r) {
			if worded.ID == m.ID {
				m = worded
			}
		}
		c.Moves = append(c.Moves, m)
		c.Edits = append(c.Edits, m.Edits...)
		if m.GivesUp != "" && !slices.Contains(c.GivesUp, m.GivesUp) {
			c.GivesUp = append(c.GivesUp, m.GivesUp)
		}
		if after, err := rig.Apply(r, m.Edits...); err == nil {
			r = after
		}
	}
	return c
}

// sentence is what stands above the board.
func sentence(v *Verdict) string {
	switch {
	case v.State == Slack:
		return "Holds with room to spare." + unjudged(v)
	case v.State == Taut && len(v.Findings) == 0:
		return "Holds, with little to spare." + unjudged(v)
	case v.State == Taut:
		return "Holds, with little to spare: " + weakest(v) + unjudged(v)
	case v.State == Untested:
		return "Nothing is known to fail. Whether it holds depends on " + count(count0(v, Untested), "open point", "open points") + "."
	case v.Cure == nil && len(v.Findings) == 0:
		return "Does not hold."
	case v.Cure == nil:
		return "Does not hold, and no set of moves known here mends it. " + weakest(v)
	}
	c := v.Cure
	shorts := make([]string, len(c.Moves))
	for i := range c.Moves {
		shorts[i] = c.Moves[i].Short
	}
	b := "Holds after "
	if c.State == Untested {
		b = "No longer fails after "
	}
	b += count(len(c.Moves), "move", "moves") + ": " + list(shorts) + ". " + num(c.Minutes) + " "
	if c.Minutes == 1 {
		b += "minute, "
	} else {
		b += "minutes, "
	}
	if c.Cost.Amount == 0 {
		b += "nothing to buy."
	} else {
		b += "about " + c.Cost.String() + " to buy."
	}
	if len(c.GivesUp) > 0 {
		b += " Gives up " + list(c.GivesUp) + "."
	}
	if !c.Proven {
		b += " A smaller set may exist."
	}
	if c.State == Untested {
		b += " Whether it then holds depends on " + count(len(untestedAfter(v)), "open point", "open points") + "."
	}
	return b
}

// unjudged names what a rig that holds was not judged on: silence is never slack.
func unjudged(v *Verdict) string {
	const most = 3
	names := make([]string, 0, most)
	for i := range v.NotJudged {
		if len(names) < most {
			names = append(names, v.NotJudged[i].Label)
		}
	}
	switch more := len(v.NotJudged) - most; {
	case len(names) == 0:
		return ""
	case more > 0:
		return " Not judged yet: " + list(names) + " and " + strconv.Itoa(more) + " more."
	}
	return " Not judged yet: " + list(names) + "."
}

// untestedAfter are the limits that are untested now; a cure never adds to them.
func untestedAfter(v *Verdict) (out []string) {
	for i := range v.Limits {
		if v.Limits[i].State == Untested {
			out = append(out, v.Limits[i].ID)
		}
	}
	return out
}

func weakest(v *Verdict) string {
	if len(v.Findings) == 0 {
		return ""
	}
	return v.Findings[0].Says
}
