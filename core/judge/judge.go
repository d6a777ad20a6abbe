package judge

import (
	"cmp"
	"slices"
	"strings"
	"sync"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// Stage is one of the seven places a tether passes, from lens to audience.
type Stage string

// The stages of the board, in order.
const (
	AtCamera  Stage = "camera"
	AtSocket  Stage = "socket"
	AtLead    Stage = "lead"
	AtCapture Stage = "capture"
	AtPort    Stage = "port"
	AtPicture Stage = "picture"
	AtSend    Stage = "send"
)

// Stages lists the stages in order.
var Stages = []Stage{AtCamera, AtSocket, AtLead, AtCapture, AtPort, AtPicture, AtSend}

// Verdict is everything judging finds.
type Verdict struct {
	State     State       `json:"state" enum:"slack,taut,untested,snapped"`
	Sentence  string      `json:"sentence" doc:"The verdict in one sentence, with the smallest set of moves"`
	Feeds     []Feed      `json:"feeds"`
	Branches  []Feed      `json:"branches" doc:"Where pictures go besides: recorders, monitors"`
	Outs      []Out       `json:"outs" doc:"What leaves the programme: destinations and recordings"`
	Limits    []Limit     `json:"limits"`
	NotJudged []NotJudged `json:"notJudged" doc:"What no rule looks at yet, by name"`
	Findings  []Finding   `json:"findings"`
	Advice    *Advice     `json:"advice,omitempty" doc:"How far the advice got; none when there is none yet"`
	Cure      *Cure       `json:"cure,omitempty"`
	Questions []Question  `json:"questions" doc:"What to ask next, the most deciding first"`
}

// NotJudged is a thing no rule looks at: named, never passed over. A rig that holds holds but for these.
type NotJudged struct {
	Kind  string `json:"kind" enum:"item,lead,port,setting,destination,recording,subject"`
	Ref   string `json:"ref" doc:"What it is: an id, or item.port"`
	Label string `json:"label"`
	Why   string `json:"why"`
}

// Feed is the verdict on one source's way to the audience.
type Feed struct {
	ID     string `json:"id"`
	Source string `json:"source" doc:"Item id of the source"`
	Label  string `json:"label"`
	State  State  `json:"state" enum:"slack,taut,untested,snapped"`
	Branch bool   `json:"branch,omitempty" doc:"It goes elsewhere than to the computer, beside the way that counts"`
	End    string `json:"end,omitempty" doc:"Of a branch: the item it ends at"`
	Hops   []Hop  `json:"hops"`
	Shape  *Shape `json:"shape,omitempty" doc:"How the picture lies on the programme; none when it does not get there"`
	Light  *Light `json:"light,omitempty" doc:"Shutter and mains flicker, of cameras"`
}

// Hop is one stretch of a feed on the board.
type Hop struct {
	Stage  Stage    `json:"stage" enum:"camera,socket,lead,capture,port,picture,send"`
	Ref    string   `json:"ref" doc:"What it is: an item id, a lead id or item.port"`
	Kind   string   `json:"kind" enum:"item,port,lead,rig"`
	Label  string   `json:"label"`
	Detail string   `json:"detail"`
	State  State    `json:"state" enum:"slack,taut,untested,snapped"`
	Room   float64  `json:"room" doc:"Share of the worst limit that is left at worst: 1 idle, 0 at the limit"`
	Limits []string `json:"limits" doc:"Ids of the limits judged here"`
	Figure string   `json:"figure,omitempty" doc:"Load over limit of the worst limit here, in words"`
	Lead   string   `json:"lead,omitempty" doc:"The lead whose plug is in this socket"`
	Joins  string   `json:"joins,omitempty" doc:"Feeds with the same mark run together here"`
}

// Out is one strand from the programme: a destination or a recording.
type Out struct {
	Kind   string   `json:"kind" enum:"destination,recording"`
	Label  string   `json:"label"`
	Detail string   `json:"detail"`
	State  State    `json:"state" enum:"slack,taut,untested,snapped"`
	Room   float64  `json:"room"`
	Limits []string `json:"limits"`
	Judged bool     `json:"judged" doc:"False while this version has no rule for it"`
}

// Rig judges a rig that passes rig.Check: one pass, every hop, every limit, no fixes yet.
func Rig(r *rig.Rig) Verdict {
	v := newPass(r, false).run()
	v.Findings, v.Questions = []Finding{}, []Question{}
	v.Sentence = sentence(&v)
	return v
}

// Figures judges a rig without words: states and numbers only.
func Figures(r *rig.Rig) Verdict {
	v := newPass(r, true).run()
	v.Findings, v.Questions = []Finding{}, []Question{}
	return v
}

// StateOf is the state of a rig and the number of its feeds, without words.
func StateOf(r *rig.Rig) (s State, feeds int) {
	trial(r, func(v *Verdict) { s, feeds = v.State, len(v.Feeds) })
	return s, feeds
}

func newPass(r *rig.Rig, quiet bool) *pass {
	return &pass{Rig: r, g: rig.NewGraph(r), quiet: quiet, ceiling: r.PlanningCeiling()}
}

// passes keeps the memory of quiet passes for the next one.
var passes = sync.Pool{New: func() any { return new(pass) }}

// trial judges a rig without words and hands the verdict to look, which must not keep it.
func trial(r *rig.Rig, look func(*Verdict)) {
	p := passes.Get().(*pass)
	p.reset(r, rig.NewGraph(r))
	v := p.run()
	look(&v)
	passes.Put(p)
}

// reset readies a used pass for another rig.
func (p *pass) reset(r *rig.Rig, g *rig.Graph) {
	*p = pass{Rig: r, g: g, quiet: true, ceiling: r.PlanningCeiling(), limits: p.limits[:0], index: p.index, feeds: p.feeds[:0],
		facts: p.facts[:0], loads: p.loads[:0], terms: p.terms[:0], offers: p.offers[:0], ids: p.ids[:0]}
	clear(p.index)
}

// run is the pass.
func (p *pass) run() Verdict {
	feeds := p.g.Trace()
	p.ways = feeds
	p.grow(len(feeds))
	for i := range feeds {
		p.feed(&feeds[i])
	}
	p.clashes()
	p.switchers()
	p.others()
	p.cards()
	p.buses()
	p.supplies()
	p.show()
	p.recorders()
	if !p.quiet {
		p.coverage()
	}
	return p.verdict()
}

// grow makes room for so many feeds.
func (p *pass) grow(feeds int) {
	room := 12 + 24*feeds // about what a feed brings
	if cap(p.limits) < room || p.index == nil {
		p.limits, p.index = make([]Limit, 0, room), make(map[string]int, room)
		p.facts, p.loads, p.terms = make([]Basis, 0, 2*room), make([]Load, 0, room), make([]term, 0, room)
		p.ids = make([]string, 0, 4*room)
	}
	if cap(p.feeds) < feeds { // never grows below: pointers into it stay good
		p.feeds = make([]Feed, 0, feeds)
	}
}

type pass struct {
	*rig.Rig
	g        *rig.Graph
	ways     []rig.Feed
	scope    *scope // of a change: what the pass is limited to
	quiet    bool
	ceiling  float64
	outs     []Out
	limits   []Limit
	index    map[string]int
	feeds    []Feed
	streams  []*stream
	arrived  map[string][]string // stream -> the sources that reach the computer by it
	unjudged []NotJudged
	hopsAt   map[string][]*Hop
	facts    slab[Basis]
	outlets  map[string][]int // giver -> what hangs on it
	loads    slab[Load]
	terms    slab[term]
	offers   slab[delivery]
	ids      []string
}

// say puts texts in the places of %s, or does nothing in a quiet pass. It takes texts only, so that a quiet pass costs
// nothing (arguments of other types would have to be boxed first) and a worded one little.
func (p *pass) say(format string, args ...string) string {
	if p.quiet {
		return ""
	}
	size := len(format)
	for _, a := range args {
		size += len(a)
	}
	b := make([]byte, 0, size)
	for _, a := range args {
		at := strings.Index(format, "%s")
		b = append(append(b, format[:at]...), a...)
		format = format[at+2:]
	}
	return string(append(b, format...))
}

// room is an empty list for n ids.
func (p *pass) room(n int) []string {
	if len(p.ids)+n > cap(p.ids) {
		p.ids = make([]string, 0, max(2*cap(p.ids), 64))
	}
	at := len(p.ids)
	p.ids = p.ids[:at+n]
	return p.ids[at : at : at+n]
}

// slab hands out small slices of one large one.
type slab[T any] []T

func (s *slab[T]) of(items ...T) []T {
	if len(*s)+len(items) > cap(*s) {
		*s = make([]T, 0, max(2*cap(*s), len(items), 16))
	}
	at := len(*s)
	*s = append(*s, items...)
	return (*s)[at:len(*s):len(*s)]
}

// room is an empty list with room for n.
func (s *slab[T]) room(n int) []T {
	if len(*s)+n > cap(*s) {
		*s = make([]T, 0, max(2*cap(*s), n, 16))
	}
	at := len(*s)
	*s = (*s)[:at+n]
	return (*s)[at : at : at+n]
}

// worseLimit tells whether a limit several feeds share is to be judged on one of them rather than another: on the worst
// of what crosses it, whatever the order.
func worseLimit(a, b *Limit) bool {
	return cmp.Or(cmp.Compare(a.State.severity(), b.State.severity()), cmp.Compare(a.Ratio.High, b.Ratio.High), cmp.Compare(a.Ratio.Low, b.Ratio.Low),
		cmp.Compare(len(a.Facts), len(b.Facts)), cmp.Compare(loadItem(b), loadItem(a))) > 0
}

func loadItem(l *Limit) string {
	if len(l.Loads) == 0 {
		return ""
	}
	return l.Loads[0].Item
}

// add weighs and keeps a limit; of one that several feeds bring, the worst counts, and what any of them depends on.
func (p *pass) add(h *Hop, l *Limit) *Limit {
	if l.Ceiling == 0 {
		l.Ceiling = p.ceiling
	}
	if l.Sense == "" {
		l.Sense = AtMost
	}
	l.weigh()
	var kept *Limit
	if i, ok := p.index[l.ID]; ok {
		kept = &p.limits[i]
		where := merge(slices.Clip(kept.Where), l.Where)
		if !worseLimit(l, kept) {
			kept.Where = where
			p.note(h, kept)
			return kept
		}
		*kept = *l
		kept.Where = where
	} else {
		p.index[l.ID] = len(p.limits)
		p.limits = append(p.limits, *l)
		kept = &p.limits[len(p.limits)-1]
	}
	if !p.quiet {
		for i := range kept.Loads {
			kept.Loads[i].Est = kept.Loads[i].rests(kept.Facts)
		}
		kept.rank()
		kept.fill()
		// What is made for its limit (a socket's rate, a lead's grade) has no share worth showing until it fails.
		if kept.Sense != Fits && (kept.Ceiling < 1 || kept.State != Slack) {
			kept.Share = Percent(kept.Ratio)
		}
	}
	p.note(h, kept)
	return kept
}

// note counts a limit towards a hop. Without words nobody looks at hops.
func (p *pass) note(h *Hop, l *Limit) {
	if !p.quiet {
		h.note(l)
	}
}

// fill makes empty lists of missing ones, which is how they are written.
func (l *Limit) fill() {
	if l.Loads == nil {
		l.Loads = []Load{}
	}
	if l.Facts == nil {
		l.Facts = []Basis{}
	}
	if l.DependsOn == nil {
		l.DependsOn = []Dependence{}
	}
	if l.Where == nil {
		l.Where = []string{}
	}
}

func (ld *Load) rests(facts []Basis) bool {
	for _, i := range ld.term.by[:ld.term.nBy] {
		if facts[i].From == fact.Estimate {
			return true
		}
	}
	return ld.term.under > 0 && facts[ld.term.under].From == fact.Estimate
}

// note counts a limit towards a hop.
func (h *Hop) note(l *Limit) {
	if h == nil {
		return
	}
	if l.Stage == "" {
		l.Stage = h.Stage
	}
	h.State = Worse(h.State, l.State)
	if slices.Contains(h.Limits, l.ID) {
		return
	}
	if l.Sense != Fits && (l.Ceiling < 1 || l.State != Slack) {
		if room := max(0, 1-l.Ratio.High); room < h.Room {
			h.Room, h.Figure = room, l.Share
		}
	}
	h.Limits = append(h.Limits, l.ID)
}

// path joins the parts of a fact's path, or nothing in a quiet pass.
func (p *pass) path(parts ...string) string {
	if p.quiet {
		return ""
	}
	return strings.Join(parts, "/")
}

// walk carries what is known of a picture along a feed.
type walk struct {
	pass  *pass
	feed  *Feed
	mode  picture.Mode // the picture on the link
	fixed bool         // the link is a fixed-rate one
	lead  string       // the lead that was passed last
	// Of SDI: the mapping that is sent, and the socket that sends it, as ITEM/ports/PORT.
	level   sdi.Level
	levelAt string
	in      int        // the input of the capture device the picture came in by
	next    *gear.Port // the socket at the far end of the link
	wasDown bool       // the picture was made smaller than the programme on the way
	where   []string   // ids passed so far: everything a limit here depends on
}

// at starts a hop; the pointer is good until the next one.
func (w *walk) at(stage Stage, kind, ref, label, detail string) *Hop {
	w.feed.Hops = append(w.feed.Hops, Hop{Stage: stage, Kind: kind, Ref: ref, Label: label, Detail: detail, State: Slack, Room: 1, Limits: w.pass.room(4)})
	return &w.feed.Hops[len(w.feed.Hops)-1]
}

// deps is everything passed so far. The walk only ever appends, so what is handed out stays as it is.
func (w *walk) deps() []string { return w.where[:len(w.where):len(w.where)] }

func (p *pass) feed(f *rig.Feed) {
	src := &p.Items[f.Source]
	p.feeds = p.feeds[:len(p.feeds)+1]
	feed := &p.feeds[len(p.feeds)-1]
	*feed = Feed{Source: src.ID, Label: src.Label, ID: src.ID, State: Slack, Hops: feed.Hops, Branch: f.Branch}
	feed.Hops = slices.Grow(feed.Hops[:0], 3+2*len(f.Hops))
	first := f.Hops[0]
	if first.Out >= 0 {
		feed.ID = src.ID + "." + src.Gear.Ports[first.Out].ID
	}
	if f.Again && f.Via >= 0 {
		feed.ID += ">" + p.Leads[f.Via].ID
	}
	w := &walk{pass: p, feed: feed, where: make([]string, 0, 2*len(f.Hops))}
	w.where = append(w.where, src.ID)
	if f.Again || f.Branch { // that there is such a way, and what it is called, rests on all of its leads
		for _, h := range f.Hops[1:] {
			w.where = append(w.where, p.Leads[h.LeadIn].ID)
		}
	}
	if len(f.Hops) > 1 {
		p.nextLink(w, f, 0)
	}
	p.source(w, src, first.Out)
	var s *stream
	if first.Out >= 0 && src.Gear.Ports[first.Out].Direction == gear.Upstream {
		s = p.startStream(w, src, first.Out, -1)
	}
	for i := 1; i < len(f.Hops); i++ {
		h := f.Hops[i]
		if f.Branch && h.Out < 0 {
			feed.End = p.Items[h.Item].ID
		}
		w.where = append(w.where, p.Leads[h.LeadIn].ID)
		p.lead(w, h.LeadIn, s)
		it := &p.Items[h.Item]
		w.where = append(w.where, it.ID)
		switch {
		case s == nil && h.Out >= 0 && it.Gear.Ports[h.Out].Direction == gear.Upstream:
			w.in = h.In
			p.input(w, it, h.In, AtCapture)
			p.own(&w.feed.Hops[len(w.feed.Hops)-1], w, it, h.In, h.Out)
			s = p.startStream(w, it, h.Out, h.LeadIn)
		case s == nil && (h.Out >= 0 || !it.IsHost()):
			p.input(w, it, h.In, AtLead)
			if i+1 < len(f.Hops) {
				p.nextLink(w, f, i)
			}
			p.through(w, it, h.In, h.Out)
		case s == nil:
			p.input(w, it, h.In, AtCapture)
		default:
			p.port(w, it, h, s)
		}
	}
	p.arrives(w, f, s)
	for i := range feed.Hops {
		feed.State = Worse(feed.State, feed.Hops[i].State)
	}
}

// nextLink readies the walk for the link that leaves the i-th hop of a feed.
func (p *pass) nextLink(w *walk, f *rig.Feed, i int) {
	w.next = nil
	if out := f.Hops[i].Out; out >= 0 {
		next := &f.Hops[i+1]
		if next.In >= 0 {
			w.next = &p.Items[next.Item].Gear.Ports[next.In]
		}
	}
}

// arrives closes a feed: did it get to the computer, and what does the programme make of it?
func (p *pass) arrives(w *walk, f *rig.Feed, s *stream) {
	if f.Arrives && s != nil {
		if p.arrived == nil {
			p.arrived = map[string][]string{}
		}
		key := s.owner.ID + "." + s.port
		if s.in > 0 {
			key += ":" + s.owner.Gear.Ports[s.in-1].ID
		}
		if !slices.Contains(p.arrived[key], w.feed.Source) {
			p.arrived[key] = append(p.arrived[key], w.feed.Source)
		}
		p.picture(w, s)
		return
	}
	if f.Branch {
		return // it ends where it is meant to
	}
	last := f.Hops[len(f.Hops)-1]
	it := &p.Items[last.Item]
	hop := w.at(AtPort, "item", it.ID, it.Label, "")
	says := p.say("%s goes no further than %s: no lead takes it on to the computer.", w.feed.Label, it.Label)
	if f.Arrives {
		says = p.say("%s goes into a picture socket of %s, but no capture device stands before it.", w.feed.Label, it.Label)
	}
	p.add(hop, &Limit{ID: "arrives:" + w.feed.ID, Rule: "arrives", Sense: Fits, outcomes: no,
		What: p.say("Way of %s to the computer", w.feed.Label), Says: says, Where: w.deps(),
		Source: Source{fact.Practice, "A feed counts only when it reaches the computer"}})
}

// The three answers a yes-or-no can have.
var (
	yes   = []State{Slack}
	soft  = []State{Taut}
	no    = []State{Snapped}
	maybe = []State{Slack, Snapped}
)

// clashes are sockets with two plugs, which only a half-made change can have.
func (p *pass) clashes() {
	for _, leads := range p.g.Clashes() {
		l := Limit{Rule: "one-plug", Sense: Fits, outcomes: no, Stage: AtPort,
			What: "One plug for one socket", Source: Source{fact.Practice, "One socket takes one plug"}}
		l.ID = "one-plug"
		for _, i := range leads {
			l.ID += ":" + p.Leads[i].ID
			l.Where = append(l.Where, p.Leads[i].ID)
		}
		l.Says = p.say("Two plugs are meant for one socket.")
		p.add(nil, &l)
	}
}

// verdict gathers the pass.
func (p *pass) verdict() Verdict {
	v := Verdict{State: Slack, Outs: p.outs, Limits: p.limits, NotJudged: p.unjudged, Feeds: p.feeds, Branches: []Feed{}}
	for i := range p.limits {
		v.State = Worse(v.State, p.limits[i].State)
	}
	branches := 0
	for i := range p.feeds {
		f := &p.feeds[i]
		for j := range f.Hops { // shared limits strained hops after their feed was walked
			if h := &f.Hops[j]; !p.quiet {
				p.settleHop(h)
			}
			f.State = Worse(f.State, f.Hops[j].State)
		}
		if f.Branch {
			branches++
		}
	}
	if branches > 0 {
		v.Feeds = make([]Feed, 0, len(p.feeds)-branches)
		for _, f := range p.feeds {
			if f.Branch {
				v.Branches = append(v.Branches, f)
			} else {
				v.Feeds = append(v.Feeds, f)
			}
		}
	}
	slices.SortStableFunc(v.Feeds, func(a, b Feed) int { return p.g.At(a.Source) - p.g.At(b.Source) }) // as the items stand
	if v.NotJudged == nil {
		v.NotJudged = []NotJudged{}
	}
	return v
}

// settleHop brings a hop up to what its limits came to in the end: one that several feeds share may have got worse after
// this feed was walked.
func (p *pass) settleHop(h *Hop) {
	h.State, h.Room, h.Figure = Slack, 1, ""
	for _, id := range h.Limits {
		l := &p.limits[p.index[id]]
		h.State = Worse(h.State, l.State)
		if l.Sense != Fits && (l.Ceiling < 1 || l.State != Slack) {
			if room := max(0, 1-l.Ratio.High); room < h.Room {
				h.Room, h.Figure = room, l.Share
			}
		}
	}
}

// basis turns a stated fact, or the rule's default, into a limit's fact.
func basis(path, name, unit string, f *fact.Fact, standIn fact.Fact, ask func() Ask) Basis {
	if f == nil {
		f = &standIn
	}
	return Basis{Path: path, Name: name, Unit: unit, Low: f.Low, Value: f.Value, High: f.High, From: f.From, At: f.At, ask: ask}
}

// choice is a fact that is one of several words, each with its number in the sum.
func choice(path, name, unit, word string, options []Option, ask func() Ask) Basis {
	b := Basis{Path: path, Name: name, Unit: unit, Word: word, From: fact.Given, ask: ask, Options: options}
	b.Low, b.High, b.Value = options[0].Number, options[0].Number, options[0].Number
	for _, o := range options[1:] {
		b.Low, b.High = min(b.Low, o.Number), max(b.High, o.Number)
	}
	if len(options) > 1 {
		b.From = fact.Estimate
	}
	return b
}

// mega scales hertz and bytes to the millions limits are shown in.
const mega = 1e6
