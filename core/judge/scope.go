package judge

import (
	"slices"
	"strings"

	"eventether/core/rig"
)

// base is a judged rig that changes are tried on. Trying a change judges only what it touches: limits name what they
// depend on (Limit.Where), so that whatever depends on nothing that was touched is as it was. A test holds it against
// judging the whole rig.
type base struct {
	r      *rig.Rig
	p      *pass
	ways   []rig.Feed
	tree   map[int][]hung
	at     map[string][]int32 // id of an item or lead, "show" or "send" -> the limits that depend on it
	feeds  map[string][]int32 // id of an item or lead -> the ways through it
	joined map[int][]int32    // lead -> its ways, where there are several
	other  map[*stream]bool   // streams without a picture
	counts [4]int             // limits by severity
	whole  bool               // some limit depends on more than it can name: every change is judged whole
	work   int                // limits weighed in trials so far
}

// baseOf judges a rig as the base of changes.
func baseOf(r *rig.Rig) *base {
	p := newPass(r, true)
	p.run()
	b := &base{r: r, p: p, ways: p.ways, at: make(map[string][]int32, len(r.Items)+len(r.Leads)), feeds: make(map[string][]int32, len(r.Items)+len(r.Leads)),
		joined: map[int][]int32{}, other: map[*stream]bool{}, tree: p.hangers()}
	for i := range p.limits {
		l := &p.limits[i]
		for _, id := range l.Where {
			b.at[id] = append(b.at[id], int32(i))
		}
		b.counts[l.State.severity()]++
		b.whole = b.whole || l.Rule == "recorded"
	}
	for i := range b.ways {
		for _, h := range b.ways[i].Hops {
			id := r.Items[h.Item].ID
			b.feeds[id] = append(b.feeds[id], int32(i))
			if h.LeadIn >= 0 {
				id := r.Leads[h.LeadIn].ID
				b.feeds[id] = append(b.feeds[id], int32(i))
			}
		}
	}
	for i := range r.Leads {
		if on := b.feeds[r.Leads[i].ID]; len(on) > 1 {
			b.joined[i] = on
		}
	}
	for _, s := range p.streams {
		if s.other {
			b.other[s] = true
		}
	}
	return b
}

// changed is what a change did to a limit: a zero is says that it is gone.
type changed struct {
	id      string
	was, is State
}

// state is the state of the rig as it is.
func (b *base) state() State { return worstOf(b.counts) }

func worstOf(counts [4]int) State {
	worst := Slack
	for i, st := range []State{Slack, Taut, Untested, Snapped} {
		if counts[i] > 0 {
			worst = st
		}
	}
	return worst
}

// delta is what a change does to a rig.
type delta struct {
	State   State
	Changes []changed
	g       *rig.Graph
	whole   bool            // everything was judged anew
	limits  []Limit         // as they are after, those that depend on what was touched; good until the trial ends
	before  map[string]bool // ids of the limits that depended on it before
	counts  [4]int
}

// scope is what a pass over a changed rig is limited to.
type scope struct {
	base    *base
	touched []string
	item    []bool // touched, by index
	lead    []bool
	source  []bool // walked anew
	before  map[string]bool
	keys    map[busKey]bool
}

func (s *scope) touches(where []string) bool {
	for _, id := range where {
		for _, t := range s.touched {
			if id == t {
				return true
			}
		}
	}
	return false
}

// touchesOf lists what edits touch, by id, and whether the wiring may be another afterwards. ok is false where a change
// cannot be judged by what it touches.
func touchesOf(edits []rig.Edit) (ids []string, wiring, ok bool) {
	add := func(id string) {
		if !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	for i := range edits {
		e := &edits[i]
		switch e.Do {
		case "plug":
			add(e.Lead)
			wiring = true
		case "lead", "tried":
			add(e.Lead)
		case "mode", "deliver", "info-display", "runs-on", "takes":
			add(e.Item)
		case "swap":
			add(e.Item)
			wiring = true
		case "send":
			add("send")
		case "fact", "word":
			parts := strings.SplitN(e.Path, "/", 3)
			if len(parts) < 3 || parts[0] != "items" && parts[0] != "leads" {
				return nil, false, false
			}
			add(parts[1])
		default:
			return nil, false, false
		}
	}
	return ids, wiring, true
}

// try judges a rig after edits and hands what changed to look, which must not keep it.
func (b *base) try(after *rig.Rig, edits []rig.Edit, look func(*delta)) {
	touched, wiring, ok := touchesOf(edits)
	p := passes.Get().(*pass)
	defer passes.Put(p)
	g := b.p.g
	if wiring || !ok || b.whole {
		g = rig.NewGraph(after)
	} else {
		g = g.Of(after)
	}
	p.reset(after, g)
	if !ok || b.whole || len(after.Items) != len(b.r.Items) || len(after.Leads) != len(b.r.Leads) {
		p.run()
		b.work += len(p.limits)
		d := b.compare(p, nil, nil)
		look(&d)
		return
	}
	ways := b.ways
	if wiring {
		ways = g.Trace()
	}
	s := b.scope(after, touched, ways, wiring)
	p.scope = s
	p.runScoped(ways, wiring)
	b.work += len(p.limits) + 8 // and what it takes to find them
	d := b.compare(p, s, s.before)
	look(&d)
	p.scope = nil
}

// scope finds what a change touches.
func (b *base) scope(after *rig.Rig, touched []string, ways []rig.Feed, wiring bool) *scope {
	s := &scope{base: b, touched: touched, item: make([]bool, len(after.Items)), lead: make([]bool, len(after.Leads)), source: make([]bool, len(after.Items)),
		before: map[string]bool{}, keys: map[busKey]bool{}}
	for _, id := range touched {
		if i := b.p.g.At(id); i >= 0 {
			s.item[i] = true
		} else if i := slices.IndexFunc(after.Leads, func(l rig.Lead) bool { return l.ID == id }); i >= 0 {
			s.lead[i] = true
		}
		for _, k := range b.at[id] {
			l := &b.p.limits[k]
			s.before[l.ID] = true
			if l.Shared {
				continue
			}
			for _, id := range l.Where {
				if i := b.p.g.At(id); i >= 0 && after.Items[i].IsSource() {
					s.source[i] = true
				}
			}
		}
		for _, k := range b.feeds[id] {
			s.source[b.ways[k].Source] = true
		}
	}
	var joined map[int][]int32
	if wiring {
		on := map[int][]int32{}
		joined = map[int][]int32{}
		for i := range ways {
			for _, h := range ways[i].Hops {
				if s.item[h.Item] || h.LeadIn >= 0 && s.lead[h.LeadIn] {
					s.source[ways[i].Source] = true
				}
				if h.LeadIn < 0 {
					continue
				}
				for _, key := range [2]int{h.LeadIn, -1 - h.Item<<8 - h.In} { // by one lead, or two plugs meant for one socket
					if on[key] = append(on[key], int32(i)); len(on[key]) > 1 && on[key][0] != int32(i) {
						joined[key] = on[key]
					}
				}
			}
		}
	}
	// Feeds that share a lead share limits: all of them are walked anew, or none.
	spread := func(ways []rig.Feed, joined map[int][]int32) (more bool) {
		for _, on := range joined {
			any, all := false, true
			for _, k := range on {
				any, all = any || s.source[ways[k].Source], all && s.source[ways[k].Source]
			}
			if any && !all {
				for _, k := range on {
					s.source[ways[k].Source] = true
				}
				more = true
			}
		}
		return more
	}
	// Which way a picture takes may be another after a change of the wiring: everything of a source that is walked anew
	// counts, and what rests on several sources takes the others along.
	anew := func() (more bool) {
		for i := range s.source {
			id := after.Items[i].ID
			if !s.source[i] || slices.Contains(s.touched, id) {
				continue
			}
			s.touched = append(slices.Clip(s.touched), id)
			for _, k := range b.at[id] {
				l := &b.p.limits[k]
				s.before[l.ID] = true
				for _, other := range l.Where {
					if o := b.p.g.At(other); !l.Shared && o >= 0 && after.Items[o].IsSource() && !s.source[o] {
						s.source[o], more = true, true
					}
				}
			}
		}
		return more
	}
	for spread(b.ways, b.joined) || joined != nil && spread(ways, joined) || wiring && anew() {
	}
	return s
}

// runScoped is the pass over what a change touches.
func (p *pass) runScoped(ways []rig.Feed, wiring bool) {
	s := p.scope
	p.ways = ways
	n := 0
	for i := range ways {
		if s.source[ways[i].Source] {
			n++
		}
	}
	p.grow(n)
	for i := range ways {
		if s.source[ways[i].Source] {
			p.feed(&ways[i])
		}
	}
	fresh := len(p.streams)
	p.others()
	for k, st := range p.streams {
		if k < fresh || s.touches(st.where) {
			s.note(p, st)
		}
	}
	for _, st := range s.base.p.streams { // what was not walked is as it was
		switch i := p.g.At(st.where[0]); {
		case s.base.other[st]:
			if s.touches(st.where) {
				s.note(p, st)
			}
		case s.source[i]:
			s.note(p, st)
		default:
			p.streams = append(p.streams, st)
		}
	}
	for key, sources := range s.base.p.arrived {
		if !s.source[p.g.At(sources[0])] {
			if p.arrived == nil {
				p.arrived = map[string][]string{}
			}
			p.arrived[key] = sources
		}
	}
	p.clashes()
	p.switchers()
	p.cards()
	p.buses()
	p.supplies()
	p.show()
}

// note marks the buses a stream is on as touched.
func (s *scope) note(p *pass, st *stream) {
	for _, at := range st.shares {
		s.keys[busKey{at.item, at.controller, true}] = true
		s.keys[busKey{at.item, at.controller, false}] = true
	}
}

// compare finds what a pass over a changed rig came to, against the base.
func (b *base) compare(p *pass, s *scope, before map[string]bool) delta {
	d := delta{counts: b.counts, before: before, g: p.g, whole: s == nil}
	if s == nil {
		d.counts = [4]int{}
		d.limits = p.limits
	} else {
		d.limits = slices.DeleteFunc(p.limits, func(l Limit) bool { return !before[l.ID] && !s.touches(l.Where) })
	}
	for i := range d.limits {
		l := &d.limits[i]
		was := State("")
		if k, ok := b.p.index[l.ID]; ok {
			have := &b.p.limits[k]
			if s != nil && !l.Shared && !before[l.ID] && worseLimit(have, l) { // new to what crosses it, and not the worst of it
				where := l.Where
				*l = *have
				l.Where = merge(slices.Clip(where), have.Where)
			}
			was = have.State
			if s != nil {
				d.counts[was.severity()]--
			}
		}
		d.counts[l.State.severity()]++
		if was != l.State {
			d.Changes = append(d.Changes, changed{l.ID, was, l.State})
		}
	}
	here := make(map[string]bool, len(d.limits))
	for i := range d.limits {
		here[d.limits[i].ID] = true
	}
	gone := func(l *Limit) {
		if here[l.ID] {
			return
		}
		if s != nil {
			d.counts[l.State.severity()]--
		}
		d.Changes = append(d.Changes, changed{l.ID, l.State, ""})
	}
	if s == nil {
		for i := range b.p.limits {
			gone(&b.p.limits[i])
		}
	} else {
		for id := range before {
			gone(&b.p.limits[b.p.index[id]])
		}
	}
	d.State = worstOf(d.counts)
	slices.SortFunc(d.Changes, func(x, y changed) int { return strings.Compare(x.id, y.id) })
	return d
}
