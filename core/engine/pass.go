package engine

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/memory"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
)

// Result is a limit as a rule has judged it on a rig.
type Result struct {
	limit.Limit
	ID     ID
	Stage  plans.Stage
	Shared bool      // several things hang on it
	Where  []string  // ids of the items and leads it depends on, "show" or "send"
	Kinds  *[]string // the kinds of moves that can change it; any when none is named
	Lacks  gear.Kind // what is said to be used and is not in the rig

	// Hop is the stretch of the board it was judged on, none of what is judged on the whole rig, and Mode the picture
	// it was judged on, where that decides: what the words of its rule are made from, beside its figures and ids.
	Hop  *plans.Hop
	Mode *picture.Mode
	// Say are its own words, where those of its rule (Rule.Say) do not tell the case.
	Say func(*Words)
}

// NotJudged is a thing no rule looks at: named, never passed over.
type NotJudged struct {
	Kind string // item, lead, port, setting, destination, recording or subject
	Ref  string // an id, item.port, or a name
	Say  func(*Pass) (label, why string)
}

// Pass is one judging of a rig: what it was given, and what it found. Its figures are final once Run has returned.
type Pass struct {
	plans.Plan
	Results  []Result
	Unjudged []NotJudged
	// Walked is what judging took besides its results: how often what was judged was come upon again, and how much that
	// rests on.
	Walked int
	// Scratch is memory rules keep from one pass to the next.
	Scratch any

	table *Table
	scope *Scope // of a pass over a changed rig
	index index
	// for each socket of something others are plugged into the last hop that ends there; Hop.here are the others
	ending  []*plans.Hop
	worst   limit.State // of what the results count for, unless recount
	recount bool
	latest  int             // place of the result that was added last
	began   []*plans.Stream // for each item the last stream begun there; Stream.beside are the others
	walker  Walk
	stamped map[string]uint32 // ids, by the last merging they stood in
	stamp   uint32
	hops    memory.Slab[plans.Hop]
	shares  memory.Slab[plans.ShareAt]
	crosses memory.Slab[plans.HopAt]
}

// Reset readies a new or used pass for a rig that passes rig.Check, or nearly, keeping its memory: nothing of the last
// one may be held any more.
func (p *Pass) Reset(t *Table, r *rig.Rig, w *rig.Wiring) *Pass {
	p.Plan.Reset(r, w)
	*p = Pass{table: t, Plan: p.Plan, Results: p.Results[:0], Scratch: p.Scratch, index: p.index, ending: p.ending[:0],
		began: append(p.began[:0], make([]*plans.Stream, len(r.Items))...), stamped: p.stamped, stamp: p.stamp,
		hops: p.hops[:0], shares: p.shares[:0], crosses: p.crosses[:0]}
	p.index.empty(0)
	return p
}

// Run judges the whole rig.
func (p *Pass) Run() *Pass {
	p.Ways = p.Wiring.Trace()
	p.grow(len(p.Ways))
	p.ending = append(p.ending[:0], make([]*plans.Hop, p.Wiring.Sockets())...)
	for i := range p.Ways {
		p.walk(&p.Ways[i])
	}
	p.at(AfterWays, nil)
	p.at(OnRig, nil)
	return p
}

// at calls the rules of a moment.
func (p *Pass) at(m Moment, w *Walk) {
	for _, j := range p.table.at[m] {
		j.judge(p, j.rule, w)
	}
}

// grow makes room for so many feeds.
func (p *Pass) grow(feeds int) {
	room := 12 + 24*feeds // about what a feed brings
	if cap(p.Results) < room {
		p.Results = make([]Result, 0, room)
		p.index.empty(room)
		p.Mem.Facts, p.Mem.Loads, p.Mem.Terms = make([]limit.Fact, 0, 2*room), make([]limit.Load, 0, room),
			make([]limit.Term, 0, room)
		p.Mem.Ints = make([]int, 0, 4*room)
	}
	if cap(p.Feeds) < feeds { // never grows below: pointers into it stay good
		p.Feeds = make([]plans.Feed, 0, feeds)
	}
}

// Roomy is a result with room for so many facts and loads.
func (p *Pass) Roomy(facts, loads int) (l Result) {
	l.Facts, l.Loads = p.Mem.Facts.Room(facts), p.Mem.Loads.Room(loads)
	return l
}

// Find is the result of an id, nil when there is none.
func (p *Pass) Find(id ID) *Result {
	if i, _, ok := p.index.find(p.Results, id); ok {
		return &p.Results[i]
	}
	return nil
}

// Index is the place of a result among Results.
func (p *Pass) Index(id ID) (int, bool) {
	i, _, ok := p.index.find(p.Results, id)
	return i, ok
}

// About is the id of the item or lead a result is about.
func (l *Result) About() string {
	if i := strings.IndexAny(l.ID.Place, ".:"); i >= 0 {
		return l.ID.Place[:i]
	}
	return l.ID.Place
}

// Socket is the port a result about a socket of its hop's item is about.
func (l *Result) Socket() *gear.Port {
	_, port, _ := strings.Cut(l.ID.Place, ".")
	return &l.Hop.Item.Gear.Ports[l.Hop.Item.Gear.Port(port)]
}

// WorseResult tells whether a limit several feeds share is to be judged on one of them rather than another: on the
// worst of what crosses it, whatever the order.
func WorseResult(a, b *Result) bool {
	return cmp.Or(cmp.Compare(a.State.Severity(), b.State.Severity()), cmp.Compare(a.Ratio.High, b.Ratio.High),
		cmp.Compare(a.Ratio.Low, b.Ratio.Low),
		cmp.Compare(len(a.Facts), len(b.Facts)), cmp.Compare(firstLoad(b), firstLoad(a))) > 0
}

func firstLoad(l *Result) string {
	if len(l.Loads) == 0 {
		return ""
	}
	return l.Loads[0].Item
}

// Add weighs and keeps a result of a rule at a place; of one that several feeds bring, the worst counts, and what any
// of them depends on. The result belongs to the pass afterwards, and hop, when there is one, is judged on it.
func (p *Pass) Add(hop *plans.Hop, r *Rule, place string, l *Result) *Result {
	l.ID, l.Hop = ID{Rule: r, Place: place}, hop
	if l.Over == 0 {
		l.Over = r.Over
	}
	if l.Sense == 0 {
		l.Sense = r.Sense
	}
	if l.Unit == "" && l.Sense != limit.Fits {
		l.Unit = r.Unit
	}
	if l.Ceiling = r.Ceiling; l.Ceiling == 0 || l.Sense == limit.Fits {
		l.Ceiling = p.Ceiling
	}
	l.Weigh()
	at, slot, there := p.index.findHashed(p.Results, &l.ID, memory.HashOf(r.at, place))
	if !there {
		at = len(p.Results)
		p.Results = append(p.Results, *l)
		p.index.put(p.Results, slot, at)
		p.worst = limit.Worse(p.worst, l.Counts())
	} else if kept := &p.Results[at]; WorseResult(l, kept) {
		p.recount = true // it may count for less than what it takes the place of
		l.Where = p.rests(kept.Where, l.Where)
		*kept = *l
	} else {
		kept.Where = p.rests(kept.Where, l.Where)
	}
	p.latest = at
	kept := &p.Results[at]
	switch {
	case hop == nil:
	case there:
		note(hop, at, kept)
	default:
		noteFirst(hop, at, kept)
	}
	return kept
}

// keep takes over a result that was weighed in another pass.
func (p *Pass) keep(l Result) {
	if _, slot, there := p.index.find(p.Results, l.ID); !there {
		p.Results = append(p.Results, l)
		p.index.put(p.Results, slot, len(p.Results)-1)
		p.worst = limit.Worse(p.worst, l.Counts())
	}
}

// State is the worst of what the results count for.
func (p *Pass) State() limit.State {
	if p.recount {
		p.worst, p.recount = limit.Slack, false
		for i := range p.Results {
			p.worst = limit.Worse(p.worst, p.Results[i].Counts())
		}
	}
	return limit.Worse(limit.Slack, p.worst)
}

// Here counts a result that was added before towards a hop.
func (p *Pass) Here(h *plans.Hop, id ID) {
	if at, ok := p.Index(id); ok {
		note(h, at, &p.Results[at])
	}
}

// OnCrossings counts the result that was added last towards the hops where streams meet at an item. In a pass within a
// scope streams stand on hops of the pass before, which stay as they are.
func (p *Pass) OnCrossings(l *Result, it *rig.Item, s *plans.Stream) {
	if p.scope != nil {
		return
	}
	p.assertLatest(l)
	for _, c := range s.Crosses {
		if c.Item == it {
			h := &c.Feed.Hops[c.Hop]
			note(h, p.latest, l)
			h.Joins = it.ID
		}
	}
}

// OnSocket counts the result that was added last towards the hops that end in a socket.
func (p *Pass) OnSocket(l *Result, item, port int) {
	if p.scope != nil {
		return
	}
	p.assertLatest(l)
	for h := p.ending[p.Wiring.Socket(item, port)]; h != nil; h = h.Here {
		note(h, p.latest, l)
	}
}

// assertLatest holds a caller to handing back what add gave it last: the place is counted by that.
func (p *Pass) assertLatest(l *Result) {
	if l != &p.Results[p.latest] {
		panic("not the result that was added last: " + l.ID.String())
	}
}

// note counts a result towards a hop.
func note(h *plans.Hop, at int, l *Result) {
	if l.Stage == 0 {
		l.Stage = h.Stage
	}
	if !slices.Contains(h.Results, at) {
		h.Results = append(h.Results, at)
	}
}

// noteFirst counts a result towards a hop on which it does not stand yet.
func noteFirst(h *plans.Hop, at int, l *Result) {
	if l.Stage == 0 {
		l.Stage = h.Stage
	}
	h.Results = append(h.Results, at)
}

// walkedPer is how many ids of a merging count as much as one weighing [measured].
const walkedPer = 8

// rests is merge for the lists of results, which are long where a picture has come a long way: each id is looked at
// once.
func (p *Pass) rests(a, b []string) []string {
	p.Walked += 1 + (len(a)+len(b))/walkedPer
	if len(a) == len(b) && (len(a) == 0 || &a[0] == &b[0]) {
		return a // one and the same
	}
	a = slices.Clip(a)
	if len(a)*len(b) <= 64 {
		return plans.Merge(a, b)
	}
	if p.stamped == nil || len(p.stamped) > 4*(len(p.Items)+len(p.Leads)) { // ids of other rigs
		p.stamped, p.stamp = make(map[string]uint32, len(p.Items)+len(p.Leads)), 0
	}
	p.stamp++
	for _, x := range a {
		p.stamped[x] = p.stamp
	}
	for _, x := range b {
		if p.stamped[x] != p.stamp {
			p.stamped[x] = p.stamp
			a = append(a, x)
		}
	}
	return a
}

// NotJudged names a thing no rule looks at yet.
func (p *Pass) NotJudged(kind, ref string, say func(*Pass) (label, why string)) {
	if !slices.ContainsFunc(p.Unjudged, func(n NotJudged) bool { return n.Ref == ref }) {
		p.Unjudged = append(p.Unjudged, NotJudged{kind, ref, say})
	}
}
