package advise

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/verdict"
	"eventether/core/work"
)

// wayOut looks for the nearest thing that works for a rig no set of moves mends: what changes the show itself, then
// leaving sources out, one at a time, the ones that stand in the way first. nil when neither works: each source left
// out is the one that leaves the fewest limits in the way, not every set of them is tried.
func (s *search) wayOut() *found {
	given := s.b.Given
	var best *found
	for _, m := range resorts(s.b.Verdict) {
		if s.stop() {
			break
		}
		if f := s.after(given, nil, m); f != nil && (best == nil || f.givesLess(best)) {
			best = f
		}
	}
	if best != nil {
		return best
	}
	r, path := given, []Move(nil)
	v := s.b.Verdict
	for !s.stop() { // one source after another
		least, at := 0, -1
		var next *verdict.Verdict
		out := withouts(r, v)
		for i := range out {
			if s.stop() {
				break
			}
			if f := s.after(r, path, out[i]); f != nil {
				return f
			}
			after, err := rig.Apply(r, out[i].Edits...)
			if err != nil || len(rig.Check(after)) > 0 {
				continue
			}
			now := judge.Rig(after)
			s.b.Work += perProposed * len(now.Results)
			if n := now.Count(limit.Snapped); at < 0 || n < least {
				least, at, next = n, i, now
			}
		}
		if at < 0 {
			return nil
		}
		path = append(path, out[at])
		r, v = next.Given, next
	}
	return nil
}

// stop tells whether the way out has taken long enough: half as long again as the cure may.
func (s *search) stop() bool { return s.b.Work > s.limit+s.limit/2 || s.ctx.Err() != nil }

// givesLess tells whether one way out gives up less than another, or takes less.
func (f *found) givesLess(o *found) bool {
	if c := cmp.Or(cmp.Compare(f.loss, o.loss), cmp.Compare(len(f.moves), len(o.moves))); c != 0 {
		return c < 0
	}
	return f.less(o)
}

// after makes a move, and mends what still breaks the rig then; nil when nothing does.
func (s *search) after(r *rig.Rig, path []Move, m Move) *found {
	return s.afterWithin(r, path, m, s.limit/8) // there are others to try
}

// afterWithin is after, with so much effort for mending.
func (s *search) afterWithin(r *rig.Rig, path []Move, m Move, effort int) *found {
	after, err := rig.Apply(r, m.Edits...)
	if err != nil || len(rig.Check(after)) > 0 {
		return nil
	}
	v := judge.Rig(after)
	s.b.Work += perProposed * len(v.Results)
	moves, state := append(slices.Clip(path), m), v.State
	if v.State == limit.Snapped {
		in := &search{ctx: s.ctx, root: v.Rig, b: verdict.BaseOf(v), limit: effort}
		cure, proven := in.cure()
		s.b.Work += in.b.Work
		if cure == nil {
			s.unsure = s.unsure || !proven
			return nil
		}
		moves, state = append(moves, cure.moves...), cure.state
	}
	f := total(moves)
	f.state = state
	// What is proposed once all of it is done is what counts.
	whole, err := rig.Apply(s.b.Given, editsOf(moves)...)
	if err != nil || len(rig.Check(whole)) > 0 {
		return nil
	}
	judge.LookRig(whole, func(now *verdict.Verdict) { f.state = now.State })
	if f.state == limit.Snapped {
		return nil
	}
	return &f
}

// resorts are the moves that change what the show asks for, judged anew.
func resorts(v *verdict.Verdict) []Move {
	u := universeOf(v)
	u.shows()
	return u.out
}

// withouts are the moves that leave out one source that stands in the way, with what serves it alone.
func withouts(r *rig.Rig, v *verdict.Verdict) []Move {
	sources := 0
	for i := range r.Items {
		if r.Items[i].IsSource() {
			sources++
		}
	}
	if sources < 2 {
		return nil
	}
	trouble := map[string]int{} // id -> limits in its way
	for i := range v.Results {
		if l := &v.Results[i]; l.State == limit.Snapped {
			for _, id := range l.Where {
				trouble[id]++
			}
		}
	}
	var out []Move
	for i := range r.Items {
		it := &r.Items[i]
		if !it.IsSource() || trouble[it.ID] == 0 || named(r, it.ID) {
			continue
		}
		ids := append([]string{it.ID}, servants(r, v, it)...)
		m := move("show", "without:"+it.ID, it.ID).
			touching(append(ids, "show")...).
			taking(r.WorkMinutes.Of(work.Show)).
			givingUp(it.Label).
			worse(4000).
			proposing().
			saying(func() (string, string) {
				return lang.Text("Leave %s out", it.Label), lang.Text("without %s", it.Label)
			})
		for _, id := range ids {
			m.Edits = append(m.Edits, rig.Edit{Do: "remove", Item: id})
		}
		if r.Show.Angles > sources-1 {
			show := r.Show
			show.Angles = sources - 1
			m.Edits = append(m.Edits, rig.Edit{Do: "show", Show: &show})
		}
		out = append(out, *m)
	}
	slices.SortStableFunc(out, func(a, b Move) int {
		return cmp.Or(cmp.Compare(trouble[b.Of], trouble[a.Of]), strings.Compare(a.ID, b.ID))
	})
	return out
}

// servants are what serves one source alone on its way to the computer: its stick, its converter.
func servants(r *rig.Rig, v *verdict.Verdict, it *rig.Item) (out []string) {
	for i := range v.Ways {
		f := &v.Ways[i]
		if v.Items[f.Source].ID != it.ID || f.Branch {
			continue
		}
		for _, h := range f.Hops[1:] {
			o := &v.Items[h.Item]
			shared := slices.ContainsFunc(v.Ways, func(w rig.Feed) bool {
				return w.Source != f.Source && slices.ContainsFunc(w.Hops, func(x rig.Hop) bool {
					return x.Item == h.Item
				})
			})
			if shared || o.IsHost() || o.Gear.Kind == gear.Hub || o.Gear.Kind == gear.Dock || named(r, o.ID) ||
				r.Item(o.ID) == nil {
				break
			}
			if !slices.Contains(out, o.ID) {
				out = append(out, o.ID)
			}
		}
	}
	return out
}

// named tells whether something else in a rig names an item, so that it cannot just go.
func named(r *rig.Rig, id string) bool {
	return slices.ContainsFunc(r.Items, func(it rig.Item) bool { return it.PoweredBy == id }) ||
		slices.ContainsFunc(r.Show.Recordings, func(x rig.Recording) bool { return x.What == id || x.Drive == id }) ||
		slices.ContainsFunc(r.Show.Also, func(x rig.AlsoProgram) bool { return slices.Contains(x.Takes, id) })
}
