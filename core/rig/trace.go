package rig

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"eventether/core/gear"
)

// Feed is the way one source's picture takes, hop by hop, towards the computer.
type Feed struct {
	Source int // index of the source in Items
	Hops   []Hop
	// Arrives tells whether the last hop is the computer that takes the pictures.
	Arrives bool
	// Branch marks a way that ends elsewhere (a recorder, a monitor) beside the one that counts.
	Branch bool
	// Again marks a further way by a port of the source that a feed before this one has.
	Again bool
	// Via is the lead such a way, or a branch, begins to be one of its own at.
	Via int
}

// Hop is one item on the way. LeadIn is the lead that brings the picture here, In and Out the ports it uses; -1 where
// there is none (the source has no way in, the computer no way out).
type Hop struct {
	Item   int
	LeadIn int
	In     int
	Out    int
}

// Trace follows every source to the computer and then everywhere else its picture goes, in the order of the ids: a
// picture that is split takes each way that reaches the computer, and every lead a picture is sent into stands in at
// least one feed. It is finite by construction: a way is the shortest there is, the number of ways at most the number
// of leads, whatever joins and splits on the way.
func (g *Wiring) Trace() []Feed {
	t := g.tracer
	if t == nil {
		t = &tracer{}
	}
	t.begin(g)
	sources := t.sources
	for i := range g.Items {
		if g.Items[i].IsSource() {
			sources = append(sources, i)
		}
	}
	slices.SortFunc(sources, func(a, b int) int { return strings.Compare(g.Items[a].ID, g.Items[b].ID) })
	t.sources = sources
	for _, i := range sources {
		it := &g.Items[i]
		began := len(t.feeds)
		for p := range it.Gear.Ports {
			if sends(it.Gear.Ports[p].Direction) && g.LeadAt(i, p) >= 0 {
				t.keep(t.follow(i, p))
			}
		}
		slices.SortFunc(t.feeds[began:], func(a, b Feed) int {
			return strings.Compare(it.Gear.Ports[a.Hops[0].Out].ID, it.Gear.Ports[b.Hops[0].Out].ID)
		})
		if len(t.feeds) == began {
			t.feeds = append(t.feeds,
				Feed{Source: i, Via: -1, Hops: []Hop{{Item: i, LeadIn: -1, In: -1, Out: firstOut(it)}}})
		}
	}
	if t.open() {
		for _, i := range sources {
			t.branches(i)
		}
	}
	t.mark()
	return t.feeds
}

// sends tells whether a picture leaves by a port.
func sends(d gear.Direction) bool { return d.Sends() }

// entry is an item as a picture enters it: by a picture input or by a USB socket. What it may leave by follows.
type entry struct {
	item int
	down bool
}

// farAway is more hops than any rig has.
const farAway = 1 << 30

// distances counts for every entry the hops to the computer that takes the pictures, farAway where there is no way.
func (t *tracer) distances() {
	g := t.g
	t.toHost = append(t.toHost[:0], make([][2]int, len(g.Items))...)
	out, queue := t.toHost, t.queue[:0]
	for i := range out {
		out[i] = [2]int{farAway, farAway}
	}
	// reach notes what may send into a socket, one hop further away than the socket's item.
	reach := func(item, port, hops int) {
		p, ok := g.in(portKey{item, port})
		if !ok {
			return
		}
		from := g.across(p)
		d := g.Items[from.item].Gear.Ports[from.port].Direction
		if !sends(d) || g.Items[from.item].IsHost() {
			return
		}
		for side := range 2 {
			if side == 1 && d != gear.Upstream || out[from.item][side] <= hops {
				continue // what came in by USB leaves by USB
			}
			out[from.item][side] = hops
			queue = append(queue, entry{from.item, side == 1})
		}
	}
	for i := range g.Items {
		if g.Items[i].IsHost() {
			for p := range g.Items[i].Gear.Ports {
				reach(i, p, 1)
			}
		}
	}
	for at := 0; at < len(queue); at++ {
		e := queue[at]
		enters, side := gear.In, 0
		if e.down {
			enters, side = gear.Downstream, 1
		}
		for p := range g.Items[e.item].Gear.Ports {
			if g.Items[e.item].Gear.Ports[p].Direction == enters {
				reach(e.item, p, out[e.item][side]+1)
			}
		}
	}
	t.queue = queue
}

// across is the socket at the other end of the lead whose plug is p: a lead laid the wrong way round still joins its
// two sockets.
func (g *Wiring) across(p plug) portKey {
	if p.to {
		return g.ends[p.lead][0]
	}
	return g.ends[p.lead][1]
}

// tracer traces one wiring after another in the same memory.
type tracer struct {
	g       *Wiring
	toHost  [][2]int // of every entry, the hops to the computer that takes the pictures
	queue   []entry
	sources []int
	covered []bool // leads that stand in a feed
	feeds   []Feed
	seen    map[entry]int // of branches: the step an entry was first reached by
	room    []Hop         // for ways to come
	used    int           // of room
}

func (t *tracer) begin(g *Wiring) {
	t.g, t.feeds, t.sources, t.used = g, t.feeds[:0], t.sources[:0], 0
	t.covered = append(t.covered[:0], make([]bool, len(g.Leads))...)
	t.distances()
}

// mostUsual is how many hops a way has as a rule: camera, stick, hub, computer, and one more.
const mostUsual = 5

func (t *tracer) keep(f Feed) {
	for _, h := range f.Hops {
		if h.LeadIn >= 0 {
			t.covered[h.LeadIn] = true
		}
	}
	t.feeds = append(t.feeds, f)
}

// next is the hop a lead in an item's socket leads to, or false when it comes back to where the picture has been.
func (t *tracer) next(hops []Hop, item, port int) (Hop, bool) {
	p, ok := t.g.in(portKey{item, port})
	if !ok {
		return Hop{}, false
	}
	end := t.g.across(p)
	for i := range hops {
		if hops[i].Item == end.item {
			return Hop{}, false // a loop; Check names it
		}
	}
	return Hop{Item: end.item, LeadIn: p.lead, In: end.port, Out: -1}, true
}

// follow takes a picture from a source's port on the shortest way to the computer, or as far as its first sockets lead.
func (t *tracer) follow(item, port int) Feed {
	if t.used+mostUsual > len(t.room) {
		t.room, t.used = make([]Hop, max(12*mostUsual, 2*len(t.room))), 0
	}
	hops := append(t.room[t.used:t.used:t.used+mostUsual], Hop{Item: item, LeadIn: -1, In: -1, Out: port})
	t.used += mostUsual
	return t.extend(Feed{Source: item, Hops: hops, Via: -1})
}

func (t *tracer) extend(f Feed) Feed {
	for {
		last := &f.Hops[len(f.Hops)-1]
		h, ok := t.next(f.Hops, last.Item, last.Out)
		if !ok {
			if len(f.Hops) > 1 {
				last.Out = -1
			}
			return f
		}
		h.Out = t.choose(h.Item, h.In)
		f.Arrives = t.g.Items[h.Item].IsHost()
		f.Hops = append(f.Hops, h)
		if f.Arrives || h.Out < 0 {
			return f
		}
	}
}

// choose is the port a picture leaves an item by on the shortest way to the computer, -1 where it ends.
func (t *tracer) choose(item, port int) int {
	it := &t.g.Items[item]
	in := it.Gear.Ports[port].Direction
	if it.IsHost() || in != gear.In && in != gear.Downstream {
		return -1
	}
	best, out := farAway+1, -1
	for q := range it.Gear.Ports {
		if !passes(in, it.Gear.Ports[q].Direction) {
			continue
		}
		p, ok := t.g.in(portKey{item, q})
		if !ok {
			continue
		}
		end := t.g.across(p)
		way := farAway
		if far := &t.g.Items[end.item]; far.IsHost() {
			way = 0
		} else if d := far.Gear.Ports[end.port].Direction; d == gear.In {
			way = t.toHost[end.item][0]
		} else if d == gear.Downstream {
			way = t.toHost[end.item][1]
		}
		if way < best || way == best && it.Gear.Ports[q].ID < it.Gear.Ports[out].ID {
			best, out = way, q
		}
	}
	return out
}

// open tells whether any lead a picture is sent into stands in no feed yet.
func (t *tracer) open() bool {
	for i := range t.covered {
		if !t.covered[i] && t.g.pictureLead(i) {
			return true
		}
	}
	return false
}

// pictureLead tells whether a picture goes into a lead: by a picture output, or by the USB of a thing with picture
// inputs.
func (g *Wiring) pictureLead(i int) bool {
	for _, e := range g.ends[i] {
		if e.item < 0 {
			continue
		}
		ports := g.Items[e.item].Gear.Ports
		switch ports[e.port].Direction {
		case gear.Out:
			return true
		case gear.Upstream:
			if slices.ContainsFunc(ports, func(p gear.Port) bool { return p.Direction == gear.In }) {
				return true
			}
		}
	}
	return false
}

// branches adds the ways of a source's picture that lead through leads no feed has yet, the near ones first, each going
// on to the computer or as far as it leads.
func (t *tracer) branches(source int) {
	type step struct {
		hop  Hop
		from int // the step before, -1 at the source
		out  int // the port of the step before
	}
	var steps []step
	if t.seen == nil {
		t.seen = map[entry]int{}
	}
	clear(t.seen)
	leave := func(from, item, port int) {
		p, ok := t.g.in(portKey{item, port})
		if !ok {
			return
		}
		end := t.g.across(p)
		if end.item == source {
			return
		}
		steps = append(steps, step{Hop{Item: end.item, LeadIn: p.lead, In: end.port, Out: -1}, from, port})
	}
	it := &t.g.Items[source]
	var outs []int
	for p := range it.Gear.Ports {
		if sends(it.Gear.Ports[p].Direction) {
			outs = append(outs, p)
		}
	}
	slices.SortFunc(outs, func(a, b int) int { return strings.Compare(it.Gear.Ports[a].ID, it.Gear.Ports[b].ID) })
	for _, p := range outs {
		leave(-1, source, p)
	}
	for at := 0; at < len(steps); at++ {
		h := steps[at].hop
		far := &t.g.Items[h.Item]
		in := far.Gear.Ports[h.In].Direction
		e := entry{h.Item, in == gear.Downstream}
		if _, twice := t.seen[e]; twice || far.IsHost() || in != gear.In && in != gear.Downstream {
			continue
		}
		t.seen[e] = at
		outs = outs[:0]
		for q := range far.Gear.Ports {
			if passes(in, far.Gear.Ports[q].Direction) {
				outs = append(outs, q)
			}
		}
		slices.SortFunc(outs, func(a, b int) int {
			return strings.Compare(far.Gear.Ports[a].ID, far.Gear.Ports[b].ID)
		}) // whatever the order of the sheet
		for _, q := range outs {
			leave(at, h.Item, q)
		}
	}
	for at := range steps {
		via := steps[at].hop.LeadIn
		if t.covered[via] {
			continue
		}
		last := steps[at].hop
		out := t.choose(last.Item, last.In)
		var hops []Hop
		for k := at; k >= 0; k = steps[k].from {
			h := steps[k].hop
			h.Out = out
			hops = append(hops, h)
			out = steps[k].out
		}
		hops = append(hops, Hop{Item: source, LeadIn: -1, In: -1, Out: out})
		slices.Reverse(hops)
		if repeats(hops) {
			continue // it came back to where it had been: Check names the loop
		}
		f := Feed{Source: source, Hops: hops, Via: via, Arrives: t.g.Items[last.Item].IsHost()}
		if !f.Arrives && hops[len(hops)-1].Out >= 0 {
			f = t.extend(f)
		}
		t.keep(f)
	}
}

func repeats(hops []Hop) bool {
	for i := range hops {
		for j := range i {
			if hops[i].Item == hops[j].Item {
				return true
			}
		}
	}
	return false
}

// mark tells branches from feeds: what goes to a recorder or a monitor is a branch where the same picture also reaches
// the computer, and where it does not, all ways but the first.
func (t *tracer) mark() {
	slices.SortStableFunc(t.feeds, func(a, b Feed) int {
		return strings.Compare(t.g.Items[a.Source].ID, t.g.Items[b.Source].ID)
	})
	for i := range t.feeds {
		f := &t.feeds[i]
		if !f.Arrives {
			for j := i - 1; j >= 0 && t.feeds[j].Source == f.Source; j-- {
				f.Branch = f.Branch || t.feeds[j].Arrives || t.before(&t.feeds[j], f)
			}
			for j := i + 1; j < len(t.feeds) && t.feeds[j].Source == f.Source; j++ {
				f.Branch = f.Branch || t.feeds[j].Arrives || t.before(&t.feeds[j], f)
			}
		}
		f.Again = i > 0 && t.feeds[i-1].Source == f.Source && slices.ContainsFunc(t.feeds[:i], func(g Feed) bool {
			return g.Source == f.Source && g.Hops[0].Out == f.Hops[0].Out
		})
	}
}

// before orders ways of one source that do not arrive, whatever the order of its sheet.
func (t *tracer) before(a, b *Feed) bool {
	port := func(f *Feed) string {
		if out := f.Hops[0].Out; out >= 0 {
			return t.g.Items[f.Source].Gear.Ports[out].ID
		}
		return ""
	}
	last := func(f *Feed) string {
		if f.Via >= 0 {
			return t.g.Leads[f.Via].ID
		}
		return ""
	}
	return strings.Compare(port(a)+" "+last(a), port(b)+" "+last(b)) < 0
}

// firstOut is the port a source's picture would leave by: a picture output before its USB, whatever the order of its
// sheet.
func firstOut(it *Item) int {
	best := -1
	for p := range it.Gear.Ports {
		q := &it.Gear.Ports[p]
		if !sends(q.Direction) {
			continue
		}
		if best < 0 || cmp.Or(strings.Compare(string(q.Direction), string(it.Gear.Ports[best].Direction)),
			strings.Compare(q.ID, it.Gear.Ports[best].ID)) < 0 {
			best = p
		}
	}
	return best
}

// passes tells whether a picture that came in by one direction of port leaves by another.
func passes(in, out gear.Direction) bool {
	switch in {
	case gear.In:
		return sends(out)
	case gear.Downstream:
		return out == gear.Upstream
	}
	return false
}

// findLoop describes a loop a picture or a chain of hubs could run round in, or returns "". Which end of a lead is
// called from does not count: what sends and what takes does. The computer that takes the pictures is where ways end.
func findLoop(r *Rig) string {
	g := NewWiring(r)
	state := make([]int, len(r.Items)) // 0 new, 1 on the way, 2 done
	var path []int
	var visit func(i int) string
	visit = func(i int) string {
		state[i] = 1
		path = append(path, i)
		for p := range r.Items[i].Gear.Ports {
			pl, ok := g.in(portKey{i, p})
			if !ok || !sends(r.Items[i].Gear.Ports[p].Direction) {
				continue
			}
			end := g.across(pl)
			next := end.item
			if d := r.Items[next].Gear.Ports[end.port].Direction; sends(d) || r.Items[next].IsHost() {
				continue // nothing flows, or it has arrived
			}
			if state[next] == 1 {
				names := []string{}
				for _, k := range path[slices.Index(path, next):] {
					names = append(names, r.Items[k].ID)
				}
				return strings.Join(append(names, r.Items[next].ID), " → ")
			}
			if state[next] == 0 {
				if loop := visit(next); loop != "" {
					return loop
				}
			}
		}
		path = path[:len(path)-1]
		state[i] = 2
		return ""
	}
	for i := range r.Items {
		if state[i] == 0 && !r.Items[i].IsHost() {
			if loop := visit(i); loop != "" {
				return loop
			}
		}
	}
	return ""
}

// Above marks the items from which what leaves comes to an item, so that a lead from there back into one of them would
// make a loop.
func (g *Wiring) Above(item int) []bool {
	out := make([]bool, len(g.Items))
	looked := make([]bool, len(g.Items))
	looked[item] = true
	for queue := []int{item}; len(queue) > 0; queue = queue[1:] {
		for p := range g.Items[queue[0]].Gear.Ports {
			pl, ok := g.in(portKey{queue[0], p})
			if !ok {
				continue
			}
			from := g.across(pl)
			if !sends(g.Items[from.item].Gear.Ports[from.port].Direction) {
				continue
			}
			out[from.item] = true
			if !looked[from.item] && !g.Items[from.item].IsHost() {
				looked[from.item] = true
				queue = append(queue, from.item)
			}
		}
	}
	return out
}

func sortedKeys[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }

func contains(list []string, s string) bool { return slices.Contains(list, s) }
