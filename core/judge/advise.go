package judge

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/rig"
)

// Finding is one limit that is not slack, with what would mend it.
type Finding struct {
	Limit string `json:"limit" doc:"Id of the limit"`
	State State  `json:"state" enum:"taut,untested,snapped"`
	Says  string `json:"says"`
	Fixes []Move `json:"fixes" doc:"Already judged, the best first"`
}

// Cure is the smallest set of moves after which nothing snaps.
type Cure struct {
	Moves   []Move     `json:"moves"`
	Edits   []rig.Edit `json:"edits"`
	Minutes float64    `json:"minutes"`
	Cost    gear.Money `json:"cost"`
	GivesUp []string   `json:"givesUp"`
	State   State      `json:"state" enum:"slack,taut,untested,snapped" doc:"The rig afterwards"`
	Proven  bool       `json:"proven" doc:"No smaller set of the moves there are does it"`
}

// Advice says how far the advice of a verdict got: what was not finished is said, never passed as proven.
type Advice struct {
	Complete   bool `json:"complete" doc:"Every move was judged, and the search for a cure ended by itself"`
	Moves      int  `json:"moves" doc:"Moves worth judging"`
	Judged     int  `json:"judged" doc:"Of them, how many were"`
	Unlisted   int  `json:"unlisted" doc:"Fixes that are judged and not listed, for length"`
	work       int  // limits weighed
	CureProven bool `json:"cureProven" doc:"The cure is the smallest there is; or, when there is none, none of up to seven moves exists"`
}

// Effort is how many limits advice may weigh before it stops and says so: a few seconds' worth.
const Effort = 4_000_000

// MostFixes bounds the fixes listed in one verdict, the worst findings first.
const MostFixes = 400

// Full judges a rig and advises.
func Full(r *rig.Rig) Verdict { return FullWithin(context.Background(), r, Effort) }

// FullWithin judges a rig and advises until the context ends or so many limits have been weighed.
func FullWithin(ctx context.Context, r *rig.Rig, effort int) Verdict {
	v := Rig(r)
	AdviseWithin(ctx, r, &v, effort)
	return v
}

// Advise adds to a verdict what to do about it: findings with judged fixes, the smallest cure, the next questions and
// the sentence above the board.
func Advise(r *rig.Rig, v *Verdict) { AdviseWithin(context.Background(), r, v, Effort) }

// AdviseWithin is Advise until the context ends or so many limits have been weighed.
func AdviseWithin(ctx context.Context, r *rig.Rig, v *Verdict, effort int) {
	b := baseOf(r)
	v.Questions = questions(v.Limits)
	v.Advice = &Advice{Complete: true, CureProven: true}
	if v.State == Snapped { // what mends it comes before what eases it
		s := &search{ctx: ctx, root: r, b: b, limit: effort / 2}
		best, proven := s.cure()
		v.Advice.CureProven = proven
		if best != nil {
			v.Cure = s.result(best, proven)
		}
		v.Advice.Complete = !s.over()
	}
	all := b.judgeMoves(ctx, v, b.work+effort/2)
	v.Advice.work = b.work
	v.Findings = findings(r, v, all)
	v.Sentence = sentence(v)
}

// judgeMoves tries every move that touches a limit that does not hold, and notes what it would do; those that touch a
// snapped one first. What would ease a taut limit is judged when somebody opens it (JudgeOn).
func (b *base) judgeMoves(ctx context.Context, v *Verdict, limit int) []Move {
	worth := map[string]bool{}
	for i := range v.Limits {
		if !v.Limits[i].State.Holds() {
			for _, id := range v.Limits[i].Where {
				worth[id] = true
			}
		}
	}
	if len(worth) == 0 {
		return nil
	}
	all := slices.DeleteFunc(movesOn(b.r, b.p.g, worth, false), func(m Move) bool { return m.half })
	all = append(all, (&universe{Rig: b.r, g: b.p.g, p: &pass{Rig: b.r, g: b.p.g}}).places(worth)...)
	what := limitNames(v)
	v.Advice.Moves = len(all)
	for i := range all {
		if b.work > limit || ctx.Err() != nil {
			v.Advice.Complete = false
			return all[:i]
		}
		b.judge(&all[i], what)
		v.Advice.Judged++
	}
	return all
}

// judge notes what a move would do. One that cannot be made, or would leave a rig nobody can keep, is not judged.
func (b *base) judge(m *Move, what map[string]string) {
	after, err := rig.Apply(b.r, m.Edits...)
	if err != nil {
		return
	}
	b.try(after, m.Edits, func(d *delta) { m.Judged = d.judged(what) })
}

// judged puts a change in words.
func (d *delta) judged(what map[string]string) *Judged {
	j := &Judged{State: d.State, Heals: []string{}, Strains: []string{}}
	for _, c := range d.Changes {
		switch was, is := c.was.severity(), c.is.severity(); {
		case c.is == "" && c.was != Slack || is < was:
			j.Heals = append(j.Heals, c.id)
		case is > was:
			j.Strains = append(j.Strains, c.id)
		}
	}
	j.Words = effect(j, what)
	return j
}

func touchesAny(where, ids []string) bool {
	return slices.ContainsFunc(ids, func(id string) bool { return slices.Contains(where, id) })
}

// JudgeOn lists the moves that can be done to one item or lead, each judged. Those nobody could keep are left out.
func JudgeOn(ctx context.Context, r *rig.Rig, id string) []Move {
	now := Rig(r)
	b := baseOf(r)
	u := &universe{Rig: r, g: b.p.g, p: &pass{Rig: r, g: b.p.g}}
	u.out = slices.DeleteFunc(movesOn(r, b.p.g, map[string]bool{id: true}, false), func(m Move) bool { return m.half || m.Of != id }) // the board changes places instead
	u.everySocket(id)
	u.swapPlugs(id)
	u.lengths(id)
	u.others(id)
	what := limitNames(&now)
	out := u.out[:0]
	for i := range u.out {
		if ctx.Err() != nil {
			break
		}
		m := &u.out[i]
		if m.Kind == "plug" || m.Kind == "swap" { // the kinds whose edits can leave a rig unsound
			if after, err := rig.Apply(r, m.Edits...); err != nil || len(rig.Check(after)) > 0 {
				continue
			}
		}
		if b.judge(m, what); m.Judged != nil {
			out = append(out, *m)
		}
	}
	return out
}

// states indexes limits by id.
func states(v *Verdict) map[string]State {
	m := make(map[string]State, len(v.Limits))
	for i := range v.Limits {
		m[v.Limits[i].ID] = v.Limits[i].State
	}
	return m
}

func countState(v *Verdict, s State) int {
	n := 0
	for i := range v.Limits {
		if v.Limits[i].State == s {
			n++
		}
	}
	return n
}

func limitNames(v *Verdict) map[string]string {
	m := make(map[string]string, len(v.Limits))
	for i := range v.Limits {
		m[v.Limits[i].ID] = v.Limits[i].What
	}
	return m
}

// Compare judges what a changed rig does to the limits of the verdict before.
func Compare(before *Verdict, after *rig.Rig) (j *Judged) {
	was := states(before)
	trial(after, func(v *Verdict) {
		d := delta{State: v.State}
		for i := range v.Limits {
			l := &v.Limits[i]
			if was[l.ID] != l.State {
				d.Changes = append(d.Changes, changed{l.ID, was[l.ID], l.State})
			}
			delete(was, l.ID)
		}
		for id, s := range was {
			d.Changes = append(d.Changes, changed{id, s, ""})
		}
		slices.SortFunc(d.Changes, func(x, y changed) int { return strings.Compare(x.id, y.id) })
		j = d.judged(limitNames(before))
	})
	return j
}

func effect(j *Judged, what map[string]string) string {
	name := func(ids []string) string {
		var words []string
		for _, id := range ids {
			if w := what[id]; w != "" {
				words = append(words, w)
			} else {
				words = append(words, "a limit it did not touch before")
			}
		}
		return list(slices.Compact(words))
	}
	var parts []string
	if len(j.Heals) > 0 {
		parts = append(parts, "eases "+name(j.Heals))
	}
	if len(j.Strains) > 0 {
		parts = append(parts, "strains "+name(j.Strains))
	}
	if len(parts) == 0 {
		return "changes no verdict"
	}
	return strings.Join(parts, "; ")
}

// findings lists every limit that is not slack, the worst first, with the moves that make it better.
func findings(r *rig.Rig, v *Verdict, all []Move) []Finding {
	out := []Finding{}
	order := make([]*Limit, 0, len(v.Limits))
	for i := range v.Limits {
		if v.Limits[i].State != Slack {
			order = append(order, &v.Limits[i])
		}
	}
	slices.SortStableFunc(order, func(a, b *Limit) int {
		return cmp.Or(cmp.Compare(b.State.severity(), a.State.severity()), cmp.Compare(b.Ratio.High, a.Ratio.High), cmp.Compare(a.ID, b.ID))
	})
	heals := map[string][]*Move{}
	for i := range all {
		if j := all[i].Judged; j != nil {
			for _, id := range j.Heals {
				heals[id] = append(heals[id], &all[i])
			}
		}
	}
	listed, keeps := 0, map[string]bool{}
	unsound := func(m *Move) bool { // nobody could keep it
		if m.Kind != "plug" && m.Kind != "swap" {
			return false
		}
		sound, known := keeps[m.ID]
		if !known {
			after, err := rig.Apply(r, m.Edits...)
			sound = err == nil && len(rig.Check(after)) == 0
			keeps[m.ID] = sound
		}
		return !sound
	}
	for _, l := range order {
		f := Finding{Limit: l.ID, State: l.State, Says: l.Says, Fixes: []Move{}}
		fixes := slices.DeleteFunc(heals[l.ID], func(m *Move) bool { return !touchesAny(l.Where, m.touches) })
		slices.SortStableFunc(fixes, func(a, b *Move) int {
			return cmp.Or(cmp.Compare(len(a.Judged.Strains), len(b.Judged.Strains)), cmp.Compare(len(a.GivesUp), len(b.GivesUp)),
				cmp.Compare(costOf(*a), costOf(*b)), cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.loss, b.loss), cmp.Compare(a.ID, b.ID))
		})
		for _, m := range fixes {
			switch {
			case len(f.Fixes) == 8 || listed == MostFixes:
				v.Advice.Unlisted++
			case !unsound(m):
				f.Fixes = append(f.Fixes, *m)
				listed++
			}
		}
		out = append(out, f)
	}
	return out
}

func costOf(m Move) gear.Amount {
	if m.Cost == nil {
		return 0
	}
	return m.Cost.Amount
}
