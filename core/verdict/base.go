package verdict

import (
	"slices"
	"sync"

	"eventether/core/engine"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
)

// Base is a judged rig that changes are tried on. Trying a change judges only what it touches: results name what they
// depend on (Where), so that whatever depends on nothing that was touched is as it was. A test holds it against judging
// the whole rig.
type Base struct {
	*Verdict
	Counts [5]int // limits by the severity of what they count for
	Work   int    // limits weighed in trials so far, and what it takes to find them

	at     map[string][]int32 // id of an item or lead, "show" or "send" -> the limits that depend on it
	feeds  map[string][]int32 // id of an item or lead -> the ways through it
	joined [][2]int32         // ways by one lead, two and two
	finds  int                // what finding the limits of one trial takes, counted in limits
	leadAt map[string]int     // id of a lead -> its place
	of     [][]int32          // limit -> the places of the sources it depends on; none for a shared one

	draft    *rig.Draft
	drafting bool // a trial is looked at that lives in the draft

	whole bool // some limit depends on more than it can name: every change is judged whole
}

// BaseOf makes a verdict the base of changes.
func BaseOf(v *Verdict) *Base {
	r := v.Rig
	// A trial asks what is shared of every thing there is, which outweighs what it judges [measured: 45 µs a trial at 5
	// feeds, 75 at 12, 125 at 50, 200 at 100, 400 at 200, at 0.4 µs a limit].
	finds := 100 + 5*len(r.Items)/2
	b := &Base{finds: finds, Verdict: v, at: make(map[string][]int32, len(r.Items)+len(r.Leads)),
		feeds: make(map[string][]int32, len(r.Items)+len(r.Leads)), joined: joinedWays(v.Ways, v.Wiring)}
	b.leadAt = make(map[string]int, len(r.Leads))
	for i := range r.Leads {
		b.leadAt[r.Leads[i].ID] = i
	}
	b.of = make([][]int32, len(v.Results))
	places := make([]int32, 0, 2*len(v.Results))
	for i := range v.Results {
		l := &v.Results[i]
		began := len(places)
		for _, id := range l.Where {
			b.at[id] = append(b.at[id], int32(i))
			if k := v.Wiring.At(id); !l.Shared && k >= 0 && r.Items[k].IsSource() {
				places = append(places, int32(k))
			}
		}
		b.of[i] = places[began:len(places):len(places)]
		b.Counts[l.Counts().Severity()]++
		b.whole = b.whole || l.ID.Rule == rules.Recorded
	}
	for i := range v.Ways {
		for _, h := range v.Ways[i].Hops {
			id := r.Items[h.Item].ID
			b.feeds[id] = append(b.feeds[id], int32(i))
			if h.LeadIn >= 0 {
				id := r.Leads[h.LeadIn].ID
				b.feeds[id] = append(b.feeds[id], int32(i))
			}
		}
	}
	return b
}

// Fork is a base for trials beside those of another, over the same verdict; its work is counted apart.
func (b *Base) Fork() *Base {
	fork := *b
	fork.Work, fork.draft, fork.drafting = 0, nil, false
	return &fork
}

// joinedWays lists the ways that go by one lead, or by two plugs meant for one socket: each with the first of them.
func joinedWays(ways []rig.Feed, w *rig.Wiring) (joined [][2]int32) {
	first := make([]int32, len(w.Leads)) // lead -> the first way by it, counted from 1
	var sockets map[[2]int]int32
	if len(w.Clashes()) > 0 {
		sockets = map[[2]int]int32{}
	}
	for i := range ways {
		for _, h := range ways[i].Hops {
			if h.LeadIn < 0 {
				continue
			}
			if at := first[h.LeadIn]; at > 0 && at != int32(i)+1 {
				joined = append(joined, [2]int32{at - 1, int32(i)})
			} else {
				first[h.LeadIn] = int32(i) + 1
			}
			if sockets == nil {
				continue
			}
			if at, ok := sockets[[2]int{h.Item, h.In}]; ok && at != int32(i) {
				joined = append(joined, [2]int32{at, int32(i)})
			} else {
				sockets[[2]int{h.Item, h.In}] = int32(i)
			}
		}
	}
	return joined
}

// Changed is what a change did to a limit: a zero State says that it is not there.
type Changed struct {
	ID      engine.ID
	Was, Is limit.State
}

func worstOf(counts [5]int) limit.State {
	for i := len(counts) - 1; i > 0; i-- {
		if counts[i] > 0 {
			return limit.States[i]
		}
	}
	return limit.Slack
}

// Delta is what a change does to a rig.
type Delta struct {
	Rig     *rig.Rig // after
	State   limit.State
	Changes []Changed
	Wiring  *rig.Wiring
	Whole   bool // everything was judged anew
	// Results are those that depend on what was touched, as they are after; good until the trial ends.
	Results []engine.Result
	Before  []bool // of the base's results, those that depended on it before
	Counts  [5]int
}

// touches is what edits touch.
type touches struct {
	ids    []string
	wiring bool // the wiring may be another afterwards
	within bool // nothing is written but the items and leads that are named, and none comes or goes
	ok     bool // what changes can be judged by what is touched
}

func touchesOf(edits []rig.Edit) (t touches) {
	t.within, t.ok = true, true
	add := func(id string) {
		if !slices.Contains(t.ids, id) {
			t.ids = append(t.ids, id)
		}
	}
	for i := range edits {
		e := edits[i].Touches()
		if !e.Known {
			return touches{}
		}
		for _, id := range e.IDs {
			add(id)
		}
		t.wiring, t.within = t.wiring || e.Rewires, t.within && e.Within
	}
	return t
}

// room is the memory of one pass that nobody keeps.
type room struct {
	pass   engine.Pass
	wiring rig.Room
	scope  engine.Scope
	before []bool
	was    []int32
	here   []bool
}

var rooms = sync.Pool{New: func() any { return new(room) }}

// Try judges the rig after edits and hands what changed to look, which must keep nothing of it. An error is one of
// making the edits.
func (b *Base) Try(edits []rig.Edit, look func(*Delta)) error {
	t := touchesOf(edits)
	if !t.within || b.drafting {
		after, err := rig.Apply(b.Rig, edits...)
		if err == nil {
			b.try(after, t, false, look)
		}
		return err
	}
	if b.draft == nil {
		b.draft = rig.NewDraft(b.Rig)
	}
	items, leads := b.places(t.ids)
	b.drafting = true
	defer func() {
		b.draft.Undo(items, leads)
		b.drafting = false
	}()
	after, err := b.draft.Apply(edits)
	if err == nil {
		b.try(after, t, true, look)
	}
	return err
}

// TryRig is as Try, of a rig that edits have been made on already and that may be kept, as may its wiring.
func (b *Base) TryRig(after *rig.Rig, edits []rig.Edit, look func(*Delta)) {
	b.try(after, touchesOf(edits), false, look)
}

// places are where things stand in the lists of the rig.
func (b *Base) places(ids []string) (items, leads []int) {
	for _, id := range ids {
		if i := b.Wiring.At(id); i >= 0 {
			items = append(items, i)
		} else if i, ok := b.leadAt[id]; ok {
			leads = append(leads, i)
		}
	}
	return items, leads
}

// try judges a changed rig; one that nobody keeps is wired in memory that nobody keeps.
func (b *Base) try(after *rig.Rig, t touches, passing bool, look func(*Delta)) {
	m := rooms.Get().(*room)
	defer rooms.Put(m)
	p, w := &m.pass, b.Wiring
	switch {
	case (t.wiring || !t.ok || b.whole) && !passing:
		w = rig.NewWiring(after)
	case t.wiring || !t.ok || b.whole:
		_, leads := b.places(t.ids)
		w = m.wiring.Moved(b.Wiring, after, leads)
	default:
		w = w.Of(after)
	}
	rules.Again(p, after, w)
	var d Delta
	if !t.ok || b.whole || len(after.Items) != len(b.Rig.Items) || len(after.Leads) != len(b.Rig.Leads) {
		p.Run()
		d = b.compare(m, nil)
	} else {
		ways := b.Ways
		if t.wiring {
			ways = w.Trace()
		}
		b.scope(m, t, ways)
		p.RunWithin(&m.scope, b.pass, ways)
		d = b.compare(m, &m.scope)
	}
	b.Work += len(p.Results) + p.Walked + b.finds
	d.Rig = after
	look(&d)
}

// scope finds what a change touches, and the limits that depended on it before.
func (b *Base) scope(m *room, t touches, ways []rig.Feed) {
	after, now := m.pass.Rig, m.pass.Wiring
	s := &m.scope
	s.Reset(t.ids, len(after.Items), len(after.Leads))
	m.before, m.was = append(m.before[:0], make([]bool, len(b.Results))...), m.was[:0]
	w := b.Wiring
	depended := func(k int32) {
		if !m.before[k] {
			m.before[k] = true
			m.was = append(m.was, k)
		}
	}
	for _, id := range t.ids {
		if i := w.At(id); i >= 0 {
			s.Item[i] = true
		} else if i, ok := b.leadAt[id]; ok {
			s.Lead[i] = true
		}
		for _, k := range b.at[id] {
			depended(k)
			for _, i := range b.of[k] {
				s.Source[i] = true
			}
		}
		for _, k := range b.feeds[id] {
			s.Source[b.Ways[k].Source] = true
		}
	}
	var joined [][2]int32
	if t.wiring {
		for i := range ways {
			for _, h := range ways[i].Hops {
				if s.Item[h.Item] || h.LeadIn >= 0 && s.Lead[h.LeadIn] {
					s.Source[ways[i].Source] = true
				}
			}
		}
		joined = joinedWays(ways, now)
	}
	// Feeds that share a lead share limits: all of them are walked anew, or none.
	spread := func(ways []rig.Feed, joined [][2]int32) (more bool) {
		for _, on := range joined {
			if x, y := ways[on[0]].Source, ways[on[1]].Source; s.Source[x] != s.Source[y] {
				s.Source[x], s.Source[y], more = true, true, true
			}
		}
		return more
	}
	// Which way a picture takes may be another after a change of the wiring: everything of a source that is walked anew
	// counts, and what rests on several sources takes the others along.
	anew := func() (more bool) {
		for i, walked := range s.Source {
			if !walked {
				continue
			}
			id := after.Items[i].ID
			if slices.Contains(s.Touched, id) {
				continue
			}
			s.Touched = append(slices.Clip(s.Touched), id)
			for _, k := range b.at[id] {
				depended(k)
				for _, o := range b.of[k] {
					if !s.Source[o] {
						s.Source[o], more = true, true
					}
				}
			}
		}
		return more
	}
	for spread(b.Ways, b.joined) || spread(ways, joined) || t.wiring && anew() {
	}
}

// compare finds what a pass over a changed rig came to, against the base.
func (b *Base) compare(m *room, s *engine.Scope) Delta {
	p := &m.pass
	d := Delta{Counts: b.Counts, Before: m.before, Wiring: p.Wiring, Whole: s == nil}
	if s == nil {
		d.Counts, d.Before = [5]int{}, nil
		d.Results = p.Results
	} else {
		kept := p.Results[:0]
		for i := range p.Results {
			l := &p.Results[i]
			if k, ok := b.Index(l.ID); ok && m.before[k] || s.Touches(l.Where) {
				kept = append(kept, *l)
			}
		}
		d.Results = kept
	}
	m.here = append(m.here[:0], make([]bool, len(b.Results))...)
	for i := range d.Results {
		l := &d.Results[i]
		var was limit.State
		if k, ok := b.Index(l.ID); ok {
			have := &b.Results[k]
			m.here[k] = true
			if s != nil && !l.Shared && !m.before[k] && engine.WorseResult(have, l) {
				// new to what crosses it, and not the worst of it
				where := l.Where
				*l = *have
				l.Where = plans.Merge(slices.Clip(where), have.Where)
			}
			was = have.State
			if s != nil {
				d.Counts[have.Counts().Severity()]--
			}
		}
		d.Counts[l.Counts().Severity()]++
		if was != l.State {
			d.Changes = append(d.Changes, Changed{l.ID, was, l.State})
		}
	}
	gone := func(k int) {
		if m.here[k] {
			return
		}
		l := &b.Results[k]
		if s != nil {
			d.Counts[l.Counts().Severity()]--
		}
		d.Changes = append(d.Changes, Changed{l.ID, l.State, 0})
	}
	if s == nil {
		for k := range b.Results {
			gone(k)
		}
	} else {
		for _, k := range m.was {
			gone(int(k))
		}
	}
	d.State = worstOf(d.Counts)
	sortChanges(d.Changes)
	return d
}

func sortChanges(c []Changed) {
	slices.SortFunc(c, func(x, y Changed) int { return x.ID.Compare(y.ID) })
}

// Compare judges what a changed rig does to the limits of a verdict.
func (v *Verdict) Compare(after *Verdict) *Delta {
	d := &Delta{State: after.State, Whole: true, Wiring: after.Wiring}
	for i := range after.Results {
		l := &after.Results[i]
		var was limit.State
		if have := v.Find(l.ID); have != nil {
			was = have.State
		}
		if was != l.State {
			d.Changes = append(d.Changes, Changed{l.ID, was, l.State})
		}
	}
	for i := range v.Results {
		if l := &v.Results[i]; after.Find(l.ID) == nil {
			d.Changes = append(d.Changes, Changed{l.ID, l.State, 0})
		}
	}
	sortChanges(d.Changes)
	return d
}
