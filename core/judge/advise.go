package judge

import (
	"cmp"
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

// Full judges a rig and advises.
func Full(r *rig.Rig) Verdict {
	v := Rig(r)
	Advise(r, &v)
	return v
}

// Advise adds to a verdict what to do about it: findings with judged fixes, the smallest cure, the next questions and
// the sentence above the board.
func Advise(r *rig.Rig, v *Verdict) {
	all := Moves(r)
	before := states(v)
	judgeMoves(r, v, before, all)
	v.Findings = findings(v, all)
	v.Questions = questions(v.Limits)
	if v.State == Snapped {
		s := &search{root: r, before: before, untested: count0(v, Untested), budget: searchBudget}
		v.Cure = s.cure(v)
	}
	v.Sentence = sentence(v)
}

// states indexes limits by id.
func states(v *Verdict) map[string]State {
	m := make(map[string]State, len(v.Limits))
	for i := range v.Limits {
		m[v.Limits[i].ID] = v.Limits[i].State
	}
	return m
}

func count0(v *Verdict, s State) int {
	n := 0
	for i := range v.Limits {
		if v.Limits[i].State == s {
			n++
		}
	}
	return n
}

// judgeMoves tries every move that touches a limit that does not hold, and notes what it would do. What would ease a
// taut limit is judged when somebody opens it (JudgeOn).
func judgeMoves(r *rig.Rig, v *Verdict, before map[string]State, all []Move) {
	worth := map[string]bool{}
	for i := range v.Limits {
		if !v.Limits[i].State.Holds() {
			for _, id := range v.Limits[i].Where {
				worth[id] = true
			}
		}
	}
	what := limitNames(v)
	for i := range all {
		if !all[i].half && worthAny(worth, all[i].touches) {
			if after, err := rig.Apply(r, all[i].Edits...); err == nil {
				trial(after, func(v *Verdict) { all[i].Judged = compare(before, v, what) })
			}
		}
	}
}

func worthAny(worth map[string]bool, ids []string) bool {
	return slices.ContainsFunc(ids, func(id string) bool { return worth[id] })
}

func touchesAny(where, ids []string) bool {
	return slices.ContainsFunc(ids, func(id string) bool { return slices.Contains(where, id) })
}

// JudgeOn lists the moves that can be done to one item or lead, each judged.
func JudgeOn(r *rig.Rig, id string) []Move {
	now := Rig(r)
	before, what := states(&now), limitNames(&now)
	g := rig.NewGraph(r)
	u := &universe{Rig: r, g: g, p: &pass{Rig: r, g: g}, out: slices.DeleteFunc(On(Moves(r), id), func(m Move) bool {
		_, taken := socketOf(g, m) // the board changes places instead
		return taken
	})}
	u.everySocket(id)
	u.swapPlugs(id)
	u.lengths(id)
	u.others(id)
	mine := u.out
	for i := range mine {
		if after, err := rig.Apply(r, mine[i].Edits...); err == nil {
			trial(after, func(v *Verdict) { mine[i].Judged = compare(before, v, what) })
		}
	}
	return mine
}

// socketOf tells which socket a plug move goes to and whether it is taken.
func socketOf(g *rig.Graph, m Move) (ref string, taken bool) {
	if m.Kind != "plug" || len(m.Edits) != 1 {
		return "", false
	}
	ref = m.Edits[0].Socket
	return ref, g.Taken(ref)
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
	trial(after, func(v *Verdict) { j = compare(states(before), v, limitNames(before)) })
	return j
}

func compare(before map[string]State, v *Verdict, what map[string]string) *Judged {
	j := &Judged{State: v.State, Heals: []string{}, Strains: []string{}}
	seen := make(map[string]bool, len(v.Limits))
	for i := range v.Limits {
		l := &v.Limits[i]
		seen[l.ID] = true
		switch was := before[l.ID].severity(); {
		case l.State.severity() < was:
			j.Heals = append(j.Heals, l.ID)
		case l.State.severity() > was:
			j.Strains = append(j.Strains, l.ID)
		}
	}
	gone := []string{}
	for id, s := range before {
		if !seen[id] && s != Slack {
			gone = append(gone, id)
		}
	}
	slices.Sort(gone)
	j.Heals = append(j.Heals, gone...)
	j.Words = effect(j, what)
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
func findings(v *Verdict, all []Move) []Finding {
	out := []Finding{}
	order := make([]*Limit, 0, len(v.Limits))
	for i := range v.Limits {
		if v.Limits[i].State != Slack {
			order = append(order, &v.Limits[i])
		}
	}
	slices.SortStableFunc(order, func(a, b *Limit) int {
		return cmp.Or(cmp.Compare(b.State.severity(), a.State.severity()), cmp.Compare(b.Ratio.High, a.Ratio.High))
	})
	for _, l := range order {
		f := Finding{Limit: l.ID, State: l.State, Says: l.Says, Fixes: []Move{}}
		for i := range all {
			if m := &all[i]; m.Judged != nil && slices.Contains(m.Judged.Heals, l.ID) && touchesAny(l.Where, m.touches) {
				f.Fixes = append(f.Fixes, *m)
			}
		}
		slices.SortStableFunc(f.Fixes, func(a, b Move) int {
			return cmp.Or(cmp.Compare(len(a.Judged.Strains), len(b.Judged.Strains)), cmp.Compare(len(a.GivesUp), len(b.GivesUp)),
				cmp.Compare(costOf(a), costOf(b)), cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.loss, b.loss))
		})
		if len(f.Fixes) > 8 {
			f.Fixes = f.Fixes[:8]
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
