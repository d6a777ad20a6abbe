package judge

import (
	"slices"
	"strings"

	"eventether/core/limit"
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
	whole  bool               // some limit depends on more than it can name: every change is judged whole
}

// BaseOf makes a verdict the base of changes.
func BaseOf(v *Verdict) *Base {
	r := v.Rig
	// A trial copies the list of things and asks every shared limit of each: in a large rig that outweighs what it judges.
	finds := 8 + 8*max(0, len(r.Items)-60)
	b := &Base{finds: finds, Verdict: v, at: make(map[string][]int32, len(r.Items)+len(r.Leads)), feeds: make(map[string][]int32, len(r.Items)+len(r.Leads)), joined: joinedWays(v.Ways, v.Wiring)}
	for i := range v.Results {
		l := &v.Results[i]
		for _, id := range l.Where {
			b.at[id] = append(b.at[id], int32(i))
		}
		b.Counts[l.Counts().Severity()]++
		b.whole = b.whole || l.ID.Rule == "recorded"
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
	ID      limit.ID
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
	State   limit.State
	Changes []Changed
	Wiring  *rig.Wiring
	Whole   bool // everything was judged anew
	// Results are those that depend on what was touched, as they are after; good until the trial ends.
	Results []rules.Result
	Before  []bool // of the base's results, those that depended on it before
	Counts  [5]int
}

// TouchesOf lists what edits touch, by id, and whether the wiring may be another afterwards. ok is false where a change
// cannot be judged by what it touches.
func TouchesOf(edits []rig.Edit) (ids []string, wiring, ok bool) {
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

// Try judges a rig after edits and hands what changed to look, which must not keep it.
func (b *Base) Try(after *rig.Rig, edits []rig.Edit, look func(*Delta)) {
	touched, wiring, ok := TouchesOf(edits)
	p := passes.Get().(*rules.Pass)
	defer passes.Put(p)
	w := b.Wiring
	if wiring || !ok || b.whole {
		w = rig.NewWiring(after)
	} else {
		w = w.Of(after)
	}
	p.Reset(after, w)
	if !ok || b.whole || len(after.Items) != len(b.Rig.Items) || len(after.Leads) != len(b.Rig.Leads) {
		p.Run()
		b.Work += len(p.Results) + b.finds
		d := b.compare(p, nil, nil)
		look(&d)
		return
	}
	ways := b.Ways
	if wiring {
		ways = w.Trace()
	}
	s, before := b.scope(after, p.Wiring, touched, ways, wiring)
	p.RunWithin(s, b.Pass, ways)
	b.Work += len(p.Results) + b.finds
	d := b.compare(p, s, before)
	look(&d)
}

// scope finds what a change touches, and the limits that depended on it before.
func (b *Base) scope(after *rig.Rig, now *rig.Wiring, touched []string, ways []rig.Feed, wiring bool) (*rules.Scope, []bool) {
	s := &rules.Scope{Touched: touched, Item: make([]bool, len(after.Items)), Lead: make([]bool, len(after.Leads)), Source: make([]bool, len(after.Items))}
	before := make([]bool, len(b.Results))
	w := b.Wiring
	for _, id := range touched {
		if i := w.At(id); i >= 0 {
			s.Item[i] = true
		} else if i := slices.IndexFunc(after.Leads, func(l rig.Lead) bool { return l.ID == id }); i >= 0 {
			s.Lead[i] = true
		}
		for _, k := range b.at[id] {
			l := &b.Results[k]
			before[k] = true
			if l.Shared {
				continue
			}
			for _, id := range l.Where {
				if i := w.At(id); i >= 0 && after.Items[i].IsSource() {
					s.Source[i] = true
				}
			}
		}
		for _, k := range b.feeds[id] {
			s.Source[b.Ways[k].Source] = true
		}
	}
	var joined [][2]int32
	if wiring {
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
		for i := range s.Source {
			id := after.Items[i].ID
			if !s.Source[i] || slices.Contains(s.Touched, id) {
				continue
			}
			s.Touched = append(slices.Clip(s.Touched), id)
			for _, k := range b.at[id] {
				l := &b.Results[k]
				before[k] = true
				for _, other := range l.Where {
					if o := w.At(other); !l.Shared && o >= 0 && after.Items[o].IsSource() && !s.Source[o] {
						s.Source[o], more = true, true
					}
				}
			}
		}
		return more
	}
	for spread(b.Ways, b.joined) || spread(ways, joined) || wiring && anew() {
	}
	return s, before
}

// compare finds what a pass over a changed rig came to, against the base.
func (b *Base) compare(p *rules.Pass, s *rules.Scope, before []bool) Delta {
	d := Delta{Counts: b.Counts, Before: before, Wiring: p.Wiring, Whole: s == nil}
	if s == nil {
		d.Counts = [5]int{}
		d.Results = p.Results
	} else {
		kept := p.Results[:0]
		for i := range p.Results {
			l := &p.Results[i]
			if k, ok := b.Index(l.ID); ok && before[k] || s.Touches(l.Where) {
				kept = append(kept, *l)
			}
		}
		d.Results = kept
	}
	here := make([]bool, len(b.Results))
	for i := range d.Results {
		l := &d.Results[i]
		was := limit.State("")
		if k, ok := b.Index(l.ID); ok {
			have := &b.Results[k]
			here[k] = true
			if s != nil && !l.Shared && !before[k] && rules.WorseResult(have, l) { // new to what crosses it, and not the worst of it
				where := l.Where
				*l = *have
				l.Where = merge(slices.Clip(where), have.Where)
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
	for k := range b.Results {
		if here[k] || s != nil && !before[k] {
			continue
		}
		l := &b.Results[k]
		if s != nil {
			d.Counts[l.Counts().Severity()]--
		}
		d.Changes = append(d.Changes, Changed{l.ID, l.State, ""})
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
		was := limit.State("")
		if have := v.Find(l.ID); have != nil {
			was = have.State
		}
		if was != l.State {
			d.Changes = append(d.Changes, Changed{l.ID, was, l.State})
		}
	}
	for i := range v.Results {
		if l := &v.Results[i]; after.Find(l.ID) == nil {
			d.Changes = append(d.Changes, Changed{l.ID, l.State, ""})
		}
	}
	sortChanges(d.Changes)
	return d
}

func merge(a, b []string) []string {
	for _, x := range b {
		if !slices.Contains(a, x) {
			a = append(a, x)
		}
	}
	return a
}
