package rules

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/word"
)

// Stage is one of the seven places a tether passes, from lens to audience.
type Stage uint16

// The stages of the board, in order.
const (
	Camera Stage = 1 + iota
	Socket
	Lead
	Capture
	Port
	Picture
	Send
)

var stageWords = []string{"camera", "socket", "lead", "capture", "port", "picture", "send"}

func (s Stage) String() string { return word.Of(stageWords, s) }

// MarshalText gives the word.
func (s Stage) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// UnmarshalText reads the word.
func (s *Stage) UnmarshalText(text []byte) error { return word.Read(s, stageWords, "stage", text) }

// Stages lists the stages in order.
var Stages = []Stage{Camera, Socket, Lead, Capture, Port, Picture, Send}

// Result is a limit as a rule has judged it on a rig.
type Result struct {
	limit.Limit
	ID     ID
	Stage  Stage
	Shared bool      // several things hang on it
	Where  []string  // ids of the items and leads it depends on, "show" or "send"
	Kinds  *[]string // the kinds of moves that can change it; any when none is named
	Lacks  gear.Kind // what is said to be used and is not in the rig

	// Hop is the stretch of the board it was judged on, none of what is judged on the whole rig, and Mode the picture it was
	// judged on, where that decides: what the words of its rule are made from, beside its figures and ids.
	Hop  *Hop
	Mode *picture.Mode
	// Say are its own words, where those of its rule (Rule.Say) do not tell the case.
	Say func(*Words)
}

// Feed is the way of one picture from its source, hop by hop.
type Feed struct {
	ID     string
	Source *rig.Item
	Branch bool      // it goes elsewhere than to the computer, beside the way that counts
	End    *rig.Item // of a branch: what it ends at
	Hops   []Hop
	// Mode is the picture on the last picture link, Bytes what arrived of it; none when it does not get there.
	Mode  *picture.Mode
	Bytes *Stream
	// Light is the rate at which lamps on the mains are filmed; zero where nothing is.
	Light picture.Rate
}

// Hop is one stretch of a feed on the board.
type Hop struct {
	Stage   Stage
	Fixed   bool   // the picture goes over a fixed-rate link
	Several bool   // one of several inputs of its item
	Own     bool   // a source that is its own capture device
	Kind    string // item, port, lead or rig
	Ref     string // what it is: an item id, a lead id or item.port
	Joins   string // feeds with the same mark run together here
	Results []int  // places in Pass.Results of what is judged here

	Item  *rig.Item // what it is of: of the programme the source; none for a lead
	Port  *gear.Port
	Lead  *rig.Lead     // what it is, or the lead whose plug is in this socket
	Mode  *picture.Mode // the picture on it
	Bytes *Stream       // what is handed on from here
	here  *Hop          // another that ends in its socket
}

// NotJudged is a thing no rule looks at: named, never passed over.
type NotJudged struct {
	Kind string // item, lead, port, setting, destination, recording or subject
	Ref  string // an id, item.port, or a name
	Say  func(*Pass) (label, why string)
}

// Pass is one judging of a rig: what it was given, and what it found. Its figures are final once Run has returned.
type Pass struct {
	*rig.Rig
	Wiring  *rig.Wiring
	Ways    []rig.Feed
	Results []Result
	Feeds   []Feed
	Streams []*Stream
	// Codings are what the computer codes, and by what: the best it carries where nobody has chosen.
	Codings    []Coding
	Unjudged   []NotJudged
	scope      *Scope
	ceiling    float64
	index      index
	ending     []*Hop      // for each socket of something others are plugged into the last hop that ends there; Hop.here are the others
	worst      limit.State // of what the results count for, unless recount
	recount    bool
	latest     int // place of the result that was added last
	programmed picture.Mode
	factRoom   slab[limit.Fact]
	loadRoom   slab[limit.Load]
	termRoom   slab[limit.Term]
	offers     slab[delivery]
	hopRoom    slab[Hop]
	streamRoom slab[Stream]
	began      []*Stream // for each item the last stream begun there; Stream.beside are the others
	shareRoom  slab[shareAt]
	crossRoom  slab[hopAt]
	walker     Walk
	intRoom    slab[int]
	modeRoom   slab[picture.Mode]
	whereRoom  slab[string]
	jobRoom    slab[job]
	// Walked is what judging took besides its results: how often what was judged was come upon again, and how much that rests on.
	Walked   int
	stamped  map[string]uint32 // ids, by the last merging they stood in
	stamp    uint32
	busRoom  busRoom
	marks    []bool
	passed   idSet
	computed []*Stream // what gets to the computer, in the order of their sockets
}

// New readies a pass over a rig that passes rig.Check, or nearly.
func New(r *rig.Rig, w *rig.Wiring) *Pass {
	return new(Pass).Reset(r, w)
}

// Reset readies a used pass for another rig, keeping its memory: nothing of the last one may be held any more.
func (p *Pass) Reset(r *rig.Rig, w *rig.Wiring) *Pass {
	*p = Pass{Rig: r, Wiring: w, ceiling: r.PlanningCeiling(), Codings: p.Codings[:0], Results: p.Results[:0], index: p.index, Feeds: p.Feeds[:0], Streams: p.Streams[:0],
		factRoom: p.factRoom[:0], loadRoom: p.loadRoom[:0], termRoom: p.termRoom[:0], offers: p.offers[:0], hopRoom: p.hopRoom[:0], streamRoom: p.streamRoom[:0], began: append(p.began[:0], make([]*Stream, len(r.Items))...), shareRoom: p.shareRoom[:0], crossRoom: p.crossRoom[:0], intRoom: p.intRoom[:0], modeRoom: p.modeRoom[:0], whereRoom: p.whereRoom[:0],
		jobRoom: p.jobRoom[:0], stamped: p.stamped, stamp: p.stamp, busRoom: p.busRoom, ending: p.ending[:0], marks: p.marks, passed: p.passed, computed: p.computed[:0]}
	p.index.empty(0)
	p.programmed = picture.Mode{Width: r.Show.Programme.Width, Height: r.Show.Programme.Height, Rate: r.Show.Programme.Rate}
	return p
}

// Run judges the whole rig.
func (p *Pass) Run() *Pass {
	p.Ways = p.Wiring.Trace()
	p.grow(len(p.Ways))
	p.ending = append(p.ending[:0], make([]*Hop, p.Wiring.Sockets())...)
	for i := range p.Ways {
		p.walk(&p.Ways[i])
	}
	p.at(AfterWays, nil)
	p.at(OnRig, nil)
	return p
}

// at calls the rules of a moment.
func (p *Pass) at(m Moment, w *Walk) {
	for _, j := range at[m] {
		j.judge(p, j.rule, w)
	}
}

// grow makes room for so many feeds.
func (p *Pass) grow(feeds int) {
	room := 12 + 24*feeds // about what a feed brings
	if cap(p.Results) < room {
		p.Results = make([]Result, 0, room)
		p.index.empty(room)
		p.factRoom, p.loadRoom, p.termRoom = make([]limit.Fact, 0, 2*room), make([]limit.Load, 0, room), make([]limit.Term, 0, room)
		p.intRoom = make([]int, 0, 4*room)
	}
	if cap(p.Feeds) < feeds { // never grows below: pointers into it stay good
		p.Feeds = make([]Feed, 0, feeds)
	}
}

// stream is a new stream; the pointer is good as long as the pass.
func (p *Pass) stream() *Stream {
	s := append(p.streamRoom.room(1), Stream{})
	return &s[0]
}

// roomy is a result with room for so many facts and loads.
func (p *Pass) roomy(facts, loads int) Result {
	var l Result
	l.Facts, l.Loads = p.factRoom.room(facts), p.loadRoom.room(loads)
	return l
}

// marked is a mark for each item, none of them set.
func (p *Pass) marked() []bool {
	p.marks = append(p.marks[:0], make([]bool, len(p.Items))...)
	return p.marks
}

// slab hands out small slices of one large one.
type slab[T any] []T

// of is a list of the items given.
func (s *slab[T]) of(items ...T) []T { return append(s.room(len(items)), items...) }

// room is an empty list with room for n.
func (s *slab[T]) room(n int) []T {
	if len(*s)+n > cap(*s) {
		*s = make([]T, 0, max(2*cap(*s), n, 16))
	}
	at := len(*s)
	*s = (*s)[:at+n]
	return (*s)[at : at : at+n]
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

// socket is the port a result about a socket of its hop's item is about.
func (l *Result) socket() *gear.Port {
	_, port, _ := strings.Cut(l.ID.Place, ".")
	return &l.Hop.Item.Gear.Ports[l.Hop.Item.Gear.Port(port)]
}

// WorseResult tells whether a limit several feeds share is to be judged on one of them rather than another: on the worst
// of what crosses it, whatever the order.
func WorseResult(a, b *Result) bool {
	return cmp.Or(cmp.Compare(a.State.Severity(), b.State.Severity()), cmp.Compare(a.Ratio.High, b.Ratio.High), cmp.Compare(a.Ratio.Low, b.Ratio.Low),
		cmp.Compare(len(a.Facts), len(b.Facts)), cmp.Compare(firstLoad(b), firstLoad(a))) > 0
}

func firstLoad(l *Result) string {
	if len(l.Loads) == 0 {
		return ""
	}
	return l.Loads[0].Item
}

// add weighs and keeps a result of a rule at a place; of one that several feeds bring, the worst counts, and what any of
// them depends on. The result belongs to the pass afterwards, and hop, when there is one, is judged on it.
func (p *Pass) add(hop *Hop, r *Rule, place string, l *Result) *Result {
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
		l.Ceiling = p.ceiling
	}
	l.Weigh()
	at, slot, there := p.index.findHashed(p.Results, &l.ID, hashOf(r.at, place))
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
		hop.note(at, kept)
	default:
		hop.first(at, kept)
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

// note counts a result towards a hop.
func (h *Hop) note(at int, l *Result) {
	if l.Stage == 0 {
		l.Stage = h.Stage
	}
	if !slices.Contains(h.Results, at) {
		h.Results = append(h.Results, at)
	}
}

// first counts a result towards a hop on which it does not stand yet.
func (h *Hop) first(at int, l *Result) {
	if l.Stage == 0 {
		l.Stage = h.Stage
	}
	h.Results = append(h.Results, at)
}

func merge(a, b []string) []string {
	for _, x := range b {
		if !slices.Contains(a, x) {
			a = append(a, x)
		}
	}
	return a
}

// walkedPer is how many ids of a merging count as much as one weighing [measured].
const walkedPer = 8

// rests is merge for the lists of results, which are long where a picture has come a long way: each id is looked at once.
func (p *Pass) rests(a, b []string) []string {
	p.Walked += 1 + (len(a)+len(b))/walkedPer
	if len(a) == len(b) && (len(a) == 0 || &a[0] == &b[0]) {
		return a // one and the same
	}
	a = slices.Clip(a)
	if len(a)*len(b) <= 64 {
		return merge(a, b)
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

// notJudged names a thing no rule looks at yet.
func (p *Pass) notJudged(kind, ref string, say func(*Pass) (label, why string)) {
	if !slices.ContainsFunc(p.Unjudged, func(n NotJudged) bool { return n.Ref == ref }) {
		p.Unjudged = append(p.Unjudged, NotJudged{kind, ref, say})
	}
}

// mega scales hertz and bytes to the millions limits are shown in.
const mega = 1e6
