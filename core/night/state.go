package night

import (
	"cmp"
	"math"
	"slices"
	"strings"
)

// later tells which of two operations counts: the later one; of the same moment, the one with the greater id,
// everywhere.
func later(a, b *Op) int { return cmp.Or(cmp.Compare(a.At, b.At), strings.Compare(a.ID, b.ID)) }

// Fold makes the state of operations. The same operations give the same state, in whatever order and however often they
// come.
func Fold(ops []Op) Standing {
	s := NewState()
	for i := range ops {
		s.Add(ops[i])
	}
	return s.Standing()
}

// State is a show as far as its operations are known. Adding one costs what it changes, however many there are.
type State struct {
	ids     map[string]bool
	ticks   map[string]Tick
	written map[string]*entry
	dropped map[string]bool
	failed  map[string]bool // steps that ever did
	airs    []*Op           // by time
	ends    []*Op
	lost    int64    // of what is not dropped, in thousandths of a minute: whole numbers add up alike in any order
	changes []change // one for every operation, in the order they came
}

// change says what an operation changed: a step, or what was written.
type change struct{ step, written string }

// entry is what has been said of one incident, figure or note: all operations on it, by time.
type entry struct{ ops []*Op }

func (e *entry) now() *Op { return e.ops[len(e.ops)-1] }

// mostBefore is how much of what something said before is told: what it said first, and the last of the rest. All of it
// is in the file.
const mostBefore = 20

func (e *entry) as(id string) Written {
	w := Written{ID: id, Op: *e.now(), Before: []Op{}}
	for i, op := range e.ops[:len(e.ops)-1] {
		if i == 0 || i >= len(e.ops)-mostBefore {
			w.Before = append(w.Before, *op)
		}
	}
	return w
}

// NewState is a show of which nothing has happened yet.
func NewState() *State {
	return &State{ids: map[string]bool{}, ticks: map[string]Tick{}, written: map[string]*entry{},
		dropped: map[string]bool{}, failed: map[string]bool{}}
}

// Seq is how many operations have been added.
func (s *State) Seq() int64 { return int64(len(s.changes)) }

// Add adds an operation; one that is there already changes nothing.
func (s *State) Add(op Op) {
	if s.ids[op.ID] {
		return
	}
	s.ids[op.ID] = true
	var c change
	switch op.Kind {
	case "tick", "untick", "fail":
		c.step = op.Step
		if op.Kind == "fail" {
			s.failed[op.Step] = true
		}
		was, ok := s.ticks[op.Step]
		if !ok || later(&Op{At: was.At, ID: was.op}, &op) < 0 {
			s.ticks[op.Step] = Tick{Done: op.Kind == "tick", Failed: op.Kind == "fail", At: op.At, Who: op.Who,
				Said: op.Said, op: op.ID}
		}
	case "air":
		s.airs = within(s.airs, &op)
	case "end":
		s.ends = within(s.ends, &op)
	case "drop":
		c.written = op.Of
		s.lost -= s.lostBy(op.Of)
		s.dropped[op.Of] = true
	case "incident", "figure", "note":
		id := cmp.Or(op.Of, op.ID)
		c.written = id
		s.lost -= s.lostBy(id)
		e := s.written[id]
		if e == nil {
			e = &entry{}
			s.written[id] = e
		}
		e.ops = within(e.ops, &op)
		s.lost += s.lostBy(id)
	}
	s.changes = append(s.changes, c)
}

// within puts an operation among others by time.
func within(ops []*Op, op *Op) []*Op {
	at, _ := slices.BinarySearchFunc(ops, op, later)
	return slices.Insert(ops, at, op)
}

// lostBy is what an incident counts for now, in thousandths of a minute.
func (s *State) lostBy(id string) int64 {
	e := s.written[id]
	if e == nil || s.dropped[id] || e.now().Kind != "incident" || e.now().Incident == nil {
		return 0
	}
	return int64(math.Round(e.now().Incident.MinutesLost * 1000))
}

// last is the latest operation that is not taken back.
func (s *State) last(ops []*Op) (at int64, id string) {
	for i := len(ops) - 1; i >= 0; i-- {
		if !s.dropped[ops[i].ID] {
			return ops[i].At, ops[i].ID
		}
	}
	return 0, ""
}

// Ticked is how the steps stand, and when the show went to air: what its pace goes by.
func (s *State) Ticked() *Standing {
	out := &Standing{Ticks: s.ticks}
	out.AirAt, out.AirOp = s.last(s.airs)
	out.EndAt, out.EndOp = s.last(s.ends)
	return out
}

// Standing is the show as it stands.
func (s *State) Standing() Standing {
	out := s.Since(0)
	return out.Standing
}

// Changes are what has become of a show since it had come to some seq: what is in its lists and ticks replaces what was
// there, or is new.
type Changes struct {
	Standing
	Gone []string `json:"gone" doc:"Incidents, figures and notes that were dropped"`
}

// Since is what has changed after the first so many operations; all of it after none.
func (s *State) Since(seq int64) Changes {
	out := Changes{Standing: Standing{Ticks: map[string]Tick{}, Incidents: []Written{}, Figures: []Written{},
		Notes: []Written{}, Lost: float64(s.lost) / 1000}, Gone: []string{}}
	out.AirAt, out.AirOp = s.last(s.airs)
	out.EndAt, out.EndOp = s.last(s.ends)
	seen := map[string]bool{}
	for _, c := range s.changes[min(max(seq, 0), s.Seq()):] {
		if c.step != "" {
			out.Ticks[c.step] = s.ticks[c.step]
		}
		if c.written == "" || seen[c.written] {
			continue
		}
		seen[c.written] = true
		e := s.written[c.written]
		switch {
		case s.dropped[c.written]:
			out.Gone = append(out.Gone, c.written)
		case e == nil:
		case e.now().Kind == "incident":
			out.Incidents = append(out.Incidents, e.as(c.written))
		case e.now().Kind == "figure":
			out.Figures = append(out.Figures, e.as(c.written))
		default:
			out.Notes = append(out.Notes, e.as(c.written))
		}
	}
	for _, l := range []([]Written){out.Incidents, out.Figures, out.Notes} {
		slices.SortFunc(l, func(a, b Written) int { return later(a.First(), b.First()) })
	}
	return out
}
