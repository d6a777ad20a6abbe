// Package advise answers: what should change, and what is to be asked next?
//
// Everything here stands on a verdict that judge has made: moves are edits to the rig, each judged by what it touches
// (judge.Base), a cure is the smallest set of them after which nothing snaps, a question is the fact that decides most.
package advise

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/parallel"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Finding is what is to be known about a verdict: one limit that is not slack, or several that are the same thing of
// several things. Every limit that is not slack stands in exactly one.
type Finding struct {
	Members  []Member // the worst first
	State    limit.State
	Over     limit.Consequence
	Question *Question // what would settle it, of untested ones
}

// Member is one limit of a finding, with what would mend it.
type Member struct {
	Result *engine.Result
	Fixes  []Move // already judged, the best first
	Eases  []Move // of an untested one that no move settles: what makes its worst less, the most for the least first
}

// Cure is the smallest set of moves after which nothing breaks the rig, and what mends flaws for nothing besides; of a
// rig none of that mends, the way out that gives up least.
type Cure struct {
	Moves   []Move      `json:"moves"`
	Edits   []rig.Edit  `json:"edits"`
	Minutes float64     `json:"minutes"`
	Cost    gear.Money  `json:"cost"`
	GivesUp []string    `json:"givesUp"`
	Flaws   int         `json:"flaws" doc:"Kinds of flaws that stay"`
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped" doc:"The rig afterwards"`
	Proven  bool        `json:"proven" doc:"No smaller set of the moves there are does it"`
}

// Advice is what to do about a verdict, and how far it got: what was not finished is said, never passed as proven.
type Advice struct {
	Findings   []Finding
	Cure       *Cure
	Questions  []Question
	Complete   bool // every move was judged, and the search for a cure ended by itself
	Moves      int  // moves worth judging
	Judged     int  // of them, how many were
	Unlisted   int  // fixes that are judged and not listed, for length
	WayOut     bool // nothing mends it: the cure changes what the show asks for, or leaves sources out
	CureProven bool // the cure is the smallest there is; or, when there is none, none of up to seven moves exists
	Work       int  // limits weighed
}

// Effort is how many limits advice may weigh before it stops and says so: two or three seconds' worth.
const Effort = 3_000_000

// MostFixes bounds the fixes listed in one verdict, the worst findings first.
const MostFixes = 400

// On is what to do about a verdict: findings with judged fixes, the smallest cure, the next questions; until the
// context ends or so many limits have been weighed.
func On(ctx context.Context, v *verdict.Verdict, effort int) *Advice {
	a, b := begin(v)
	apart := b.Fork()
	wait := parallel.Do(func() { a.mend(ctx, b, effort/2) }) // what mends it counts before what eases it
	tried := judgeMoves(ctx, apart, effort)
	wait()
	a.Moves, a.Work = tried.moves, b.Work
	for a.Judged < len(tried.took) && a.Work <= effort {
		a.Work += tried.took[a.Judged]
		a.Judged++
	}
	a.Complete = a.Complete && a.Judged == a.Moves
	a.Findings = a.findings(v, tried.judged[:a.Judged])
	return a
}

// Mend is the part of On that the verdict's sentence needs: the smallest cure, and the findings without what eases each
// of them. It is complete where there is nothing to ease.
func Mend(ctx context.Context, v *verdict.Verdict, effort int) *Advice {
	a, b := begin(v)
	a.mend(ctx, b, effort/2)
	a.Work = b.Work
	a.Complete = a.Complete && len(worthEasing(v)) == 0
	a.Findings = a.findings(v, nil)
	return a
}

func begin(v *verdict.Verdict) (*Advice, *verdict.Base) {
	return &Advice{Complete: true, CureProven: true, Questions: Questions(v)},
		verdict.BaseOf(v) // findings are grouped by questions
}

// worthEasing are the ids that limits depend on which do not hold.
func worthEasing(v *verdict.Verdict) map[string]bool {
	worth := map[string]bool{}
	for i := range v.Results {
		if v.Results[i].State.Severity() >= limit.Kinked.Severity() {
			for _, id := range v.Results[i].Where {
				worth[id] = true
			}
		}
	}
	return worth
}

// mend looks for the cure, and for a way out where there is none.
func (a *Advice) mend(ctx context.Context, b *verdict.Base, effort int) {
	if b.State != limit.Snapped && b.Counts[limit.Kinked.Severity()] == 0 {
		return
	}
	s := &search{ctx: ctx, root: b.Rig, b: b, limit: effort}
	best, proven := &found{state: b.State}, true
	if b.State == limit.Snapped {
		plain, sure := s.cure()
		if best, proven = s.rebuilt(plain), sure; best.rebuilds() && len(best.moves) > 1 {
			proven = false // two ways at once are not looked at
		}
		if best == nil {
			a.Complete = !s.over()
			s.unsure = false
			if best = s.wayOut(); best != nil {
				a.WayOut = true
			} else if s.stop() || s.unsure { // not every way out was looked at to its end
				proven, a.Complete = false, false
			}
		}
		a.CureProven = proven
	}
	if best == nil {
		return
	}
	anew := a.WayOut || best.rebuilds()
	if !anew {
		best = s.mendFlaws(best)
		a.Complete = !s.over()
	}
	if len(best.moves) > 0 {
		a.Cure = s.result(best, proven && !a.WayOut, anew)
	}
}

// eased is what judging the moves came to.
type eased struct {
	moves  int // that are worth judging
	judged []Move
	took   []int // limits weighed for each of them
}

// judgeMoves tries every move that touches a limit that does not hold, and notes what it would do; those that touch a
// snapped one first. What would ease a taut limit is judged when somebody opens it (Moves.JudgeOn).
func judgeMoves(ctx context.Context, b *verdict.Base, most int) (e eased) {
	worth := worthEasing(b.Verdict)
	if len(worth) == 0 {
		return e
	}
	u := universeOf(b.Verdict)
	u.sound = true
	u.on(worth)
	plain := trials{ctx: ctx, moves: u.places(worth), most: int64(most)}
	u.out = nil
	others := u.rebuilds()
	e.moves = len(plain.moves) + len(others)
	n := plain.judge(b)
	if e.judged, e.took = plain.moves[:n], plain.took[:n]; n < len(plain.moves) {
		return e
	}
	more := trials{ctx: ctx, moves: worthTrying(b, plain.moves, others), most: plain.most - plain.total.Load()}
	e.moves -= len(others) - len(more.moves)
	n = more.judge(b)
	e.judged, e.took = append(e.judged, more.moves[:n]...), append(e.took, more.took[:n]...)
	return e
}

// judgeMove notes what a move would do. One that cannot be made, or would leave a rig nobody can keep, is not judged.
func judgeMove(b *verdict.Base, m *Move) {
	if m.anew {
		if after, err := rig.Apply(b.Given, m.Edits...); err == nil {
			judge.LookRig(after, func(now *verdict.Verdict) {
				b.Work += perProposed * len(now.Results)
				m.Judged = judged(b.Compare(now))
				m.Judged.lessen(b.Verdict, now.Results)
			})
		}
		return
	}
	_ = b.Try(m.Edits, func(d *verdict.Delta) {
		m.Judged = judged(d)
		m.Judged.lessen(b.Verdict, d.Results)
	}) // one that cannot be made is not judged
}

// judged says what a change does.
func judged(d *verdict.Delta) *Judged {
	j := &Judged{State: d.State, Heals: []string{}, Strains: []string{}}
	for _, c := range d.Changes {
		switch was, is := c.Was.Severity(), c.Is.Severity(); {
		case c.Is == 0 && c.Was != limit.Slack || is < was:
			j.heals = append(j.heals, c.ID)
		case is > was:
			j.strains = append(j.strains, c.ID)
		}
	}
	for _, c := range d.Changes { // what is gone may only be elsewhere
		if c.Is != 0 && c.Is.Holds() || c.Is == 0 && len(j.strains) == 0 {
			j.mends = append(j.mends, c.ID)
		}
	}
	return j
}

// lessen notes which limits that nobody can settle yet come to much less at their worst, as they are in results after a
// move.
func (j *Judged) lessen(v *verdict.Verdict, results []engine.Result) {
	for i := range results {
		l := &results[i]
		if l.State != limit.Untested || !l.Over.Breaks() || l.Ratio.High >= limit.Never {
			continue
		}
		was := v.Find(l.ID)
		if was != nil && was.State == limit.Untested && was.Ratio.High > 1 &&
			l.Ratio.High <= min(worthLess*was.Ratio.High, inReach) && l.Ratio.Value <= was.Ratio.Value {
			j.lessens = append(j.lessens, lessened{l.ID, l.Ratio})
		}
	}
}

// names are what limits are called, each worded once.
type names struct {
	// of a change that brings limits of its own; nil for moves, which are judged by what they touch
	after *verdict.Verdict
	of    *verdict.Verdict
	known map[engine.ID]string
}

func namesOf(v *verdict.Verdict) *names { return &names{of: v, known: map[engine.ID]string{}} }

func (n *names) what(id engine.ID) string {
	word, ok := n.known[id]
	if !ok {
		if l := n.of.Find(id); l != nil {
			word = n.of.What(l)
		} else if n.after != nil && n.after.Find(id) != nil { // what only comes with the change
			word = n.after.What(n.after.Find(id))
		} else {
			word = lang.Text("a limit it did not touch before")
		}
		n.known[id] = word
	}
	return word
}

// word puts what a change does into words.
func (j *Judged) word(n *names) {
	j.Heals, j.Strains = []string{}, []string{}
	name := func(ids []engine.ID, list *[]string) string {
		var words []string
		for _, id := range ids {
			*list = append(*list, id.String())
			words = append(words, n.what(id))
		}
		return say.List(slices.Compact(words))
	}
	var parts []string
	if len(j.heals) > 0 {
		parts = append(parts, lang.Text("eases %s", name(j.heals, &j.Heals)))
	}
	if len(j.strains) > 0 {
		parts = append(parts, lang.Text("strains %s", name(j.strains, &j.Strains)))
	}
	if j.Words = strings.Join(parts, "; "); len(parts) == 0 {
		j.Words = lang.Text("changes no verdict")
	}
}

// Compare says what a changed rig does to the limits of a verdict.
func Compare(v, after *verdict.Verdict) *Judged {
	j := judged(v.Compare(after))
	j.word(namesOf(v))
	return j
}

// Told is as Compare, with limits that only come with the change named by their own words: there may be several.
func Told(v, after *verdict.Verdict) *Judged {
	j := judged(v.Compare(after))
	n := namesOf(v)
	n.after = after
	j.word(n)
	return j
}

func touchesAny(where, ids []string) bool {
	return slices.ContainsFunc(ids, func(id string) bool { return slices.Contains(where, id) })
}

// JudgeOn lists the moves that can be done to one item or lead, each judged. Those nobody could keep are left out.
func JudgeOn(ctx context.Context, v *verdict.Verdict, id string) []Move {
	b := verdict.BaseOf(v)
	u := universeOf(v)
	u.sound = true
	u.out = slices.DeleteFunc(u.on(map[string]bool{id: true}), func(m Move) bool {
		return m.Of != id
	}) // the board changes places instead
	u.everySocket(id)
	u.swapPlugs(id)
	u.lengths(id)
	u.others(id)
	out, said := u.out[:0], namesOf(v)
	for i := range u.out {
		if ctx.Err() != nil {
			break
		}
		m := &u.out[i]
		if !keeps(v.Rig, m) {
			continue
		}
		if judgeMove(b, m); m.Judged != nil {
			m.word()
			m.Judged.word(said)
			out = append(out, *m)
		}
	}
	return out
}

// keeps tells whether a move leaves a rig that can be kept; only the kinds whose edits may not are tried.
func keeps(r *rig.Rig, m *Move) bool {
	if m.Kind != "plug" && m.Kind != "swap" && m.Kind != "way" {
		return true
	}
	after, err := rig.Apply(r, m.Edits...)
	if err != nil {
		return false
	}
	if m.Kind == "plug" { // the things are what they were
		return len(rig.CheckLeads(after)) == 0
	}
	return len(rig.Check(after)) == 0
}

// findings lists every limit that is not slack with the moves that make it better, those that are the same thing
// together.
func (a *Advice) findings(v *verdict.Verdict, all []Move) []Finding {
	order := make([]*engine.Result, 0, len(v.Results))
	for i := range v.Results {
		if v.Results[i].State != limit.Slack {
			order = append(order, &v.Results[i])
		}
	}
	slices.SortStableFunc(order, func(a, b *engine.Result) int {
		return cmp.Or(cmp.Compare(urgency(a), urgency(b)), cmp.Compare(hits(v, b), hits(v, a)),
			cmp.Compare(b.Ratio.High, a.Ratio.High), a.ID.Compare(b.ID))
	})
	heals := map[engine.ID][]*Move{}
	for i := range all {
		if j := all[i].Judged; j != nil {
			for _, id := range j.heals {
				heals[id] = append(heals[id], &all[i])
			}
		}
	}
	listed, sound, said := 0, map[string]bool{}, namesOf(v)
	kept := func(m *Move) bool {
		ok, known := sound[m.ID]
		if !known {
			ok = keeps(v.Rig, m)
			sound[m.ID] = ok
		}
		return ok
	}
	eases := easing(all)
	settles := map[engine.ID]*Question{}
	for i := range a.Questions { // the most deciding first
		q := &a.Questions[i]
		for _, id := range q.ids {
			if settles[id] == nil {
				settles[id] = q
			}
		}
	}
	out := []Finding{}
	at := map[string]int{}
	for _, l := range order {
		m := Member{Result: l, Fixes: []Move{}, Eases: []Move{}}
		fixes := slices.DeleteFunc(heals[l.ID], func(m *Move) bool { return !touchesAny(l.Where, m.touches) })
		slices.SortStableFunc(fixes, func(a, b *Move) int {
			return cmp.Or(cmp.Compare(len(a.Judged.strains), len(b.Judged.strains)),
				cmp.Compare(len(a.GivesUp), len(b.GivesUp)),
				cmp.Compare(costOf(a), costOf(b)), cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.loss, b.loss),
				cmp.Compare(a.ID, b.ID))
		})
		for _, fix := range fixes {
			switch {
			case len(m.Fixes) == 8 || listed == MostFixes:
				a.Unlisted++
			case kept(fix):
				if fix.Label == "" {
					fix.word()
					fix.Judged.word(said)
				}
				m.Fixes = append(m.Fixes, *fix)
				listed++
			}
		}
		for k := range eases[l.ID] {
			e := &eases[l.ID][k]
			if len(m.Fixes) > 0 || len(m.Eases) == mostEases {
				break
			}
			if touchesAny(l.Where, e.move.touches) && kept(e.move) {
				m.Eases = append(m.Eases, e.worded(l, said))
			}
		}
		same, q := l.ID.Rule.String()+" "+l.State.String(), (*Question)(nil)
		if l.State == limit.Untested && l.Over.Breaks() { // what one answer settles is one thing
			if q = settles[l.ID]; q != nil {
				if same = q.Path; !slices.ContainsFunc(q.ids, func(id engine.ID) bool { return id.Rule != l.ID.Rule }) {
					same = l.ID.Rule.String() + " " +
						q.key.Field // the same thing of things that are not alike: a camera and a phone that may sleep
				}
			}
		} else if l.State == limit.Untested {
			q = settles[l.ID]
		}
		k, ok := at[same]
		if !ok {
			k = len(out)
			at[same] = k
			out = append(out, Finding{State: l.State, Over: l.Over, Question: q})
		}
		out[k].Members = append(out[k].Members, m)
	}
	return out
}

// mostEases is how many moves are named for an untested limit that none of them settles.
const mostEases = 3

// easier is a move that makes an untested limit less at its worst.
type easier struct {
	move *Move
	to   limit.Bounds // what the limit comes to then
}

// easing gathers by limit the moves that make it less and strain nothing, the cheapest that gives up least first, then
// the one after which its worst is least.
func easing(all []Move) map[engine.ID][]easier {
	out := map[engine.ID][]easier{}
	for i := range all {
		if j := all[i].Judged; j != nil && len(j.strains) == 0 && all[i].Kind != "plug" {
			// another socket settles it or is none of its business
			for _, l := range j.lessens {
				out[l.id] = append(out[l.id], easier{&all[i], l.ratio})
			}
		}
	}
	for _, list := range out {
		slices.SortStableFunc(list, func(a, b easier) int {
			return cmp.Or(cmp.Compare(costOf(a.move), costOf(b.move)), cmp.Compare(a.move.loss, b.move.loss),
				cmp.Compare(a.to.High, b.to.High), cmp.Compare(a.move.ID, b.move.ID))
		})
	}
	return out
}

// worded is the move, with what it makes of the limit in words.
func (e *easier) worded(l *engine.Result, said *names) Move {
	m, j := *e.move, *e.move.Judged
	m.word()
	j.word(said)
	j.Words = lang.Text("makes %s less, %s in place of %s: it may not be enough", said.what(l.ID), say.Percent(e.to),
		say.Percent(l.Ratio))
	m.Judged = &j
	return m
}

// urgency orders what is not slack: dark before drops, then what may be one of them, flaws, what may be a flaw, what is
// near its limit, what asks for care.
func urgency(l *engine.Result) int {
	switch {
	case l.Over == limit.Care:
		return 7
	case l.State == limit.Snapped && l.Over != limit.Drops:
		return 0
	case l.State == limit.Snapped:
		return 1
	case l.State == limit.Untested && l.Over.Breaks():
		return 2
	case l.State == limit.Kinked:
		return 3
	case l.State == limit.Untested:
		return 4
	case l.Over.Breaks():
		return 5
	}
	return 6
}

// hits is how many sources a limit has a hand in; all of them where it is of the show.
func hits(v *verdict.Verdict, l *engine.Result) int {
	n := 0
	for _, id := range l.Where {
		if id == "show" || id == "send" {
			if l.Shared {
				return len(v.Items)
			}
			continue
		}
		if it := v.Item(id); it != nil && it.IsSource() {
			n++
		}
	}
	return n
}

func costOf(m *Move) gear.Amount {
	if m.Cost == nil {
		return 0
	}
	return m.Cost.Amount
}
