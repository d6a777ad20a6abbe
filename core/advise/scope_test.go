package advise

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/verdict"
)

// Judging only what a change touches comes to what judging the whole rig comes to, for every move on random rigs: each
// limit, its state and its figures, what goes and what comes, and the state of the rig.
func TestTryingAgreesWithJudging(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	moved, kinds := 0, map[string]int{}
	for seed := range uint64(250) {
		r := rigtest.Rig(seed)
		b := verdict.BaseOf(verdict.As(r))
		all := Moves(r)
		for i := range all {
			if len(all) > 40 && i%(len(all)/40) != 0 {
				continue
			}
			m := &all[i]
			agrees(t, b, r, m.Edits, fmt.Sprintf("seed %d, %s", seed, m.ID))
			moved++
			kinds[m.Kind]++
		}
		for i := range r.Leads { // and each lead turned round by its plugs
			l := &r.Leads[i]
			agrees(t, b, r, []rig.Edit{{Do: "plug", Lead: l.ID, End: "from", Socket: l.To},
				{Do: "plug", Lead: l.ID, End: "to", Socket: l.From}}, fmt.Sprintf("seed %d, %s turned", seed, l.ID))
			moved++
			kinds["turned"]++
		}
	}
	require.Greater(t, moved, 3000)
	t.Logf("%d moves: %v", moved, kinds)
}

// agrees holds that trying edits comes to what judging the whole of the changed rig comes to.
func agrees(t *testing.T, b *verdict.Base, r *rig.Rig, edits []rig.Edit, at string) {
	t.Helper()
	after, err := rig.Apply(r, edits...)
	require.NoError(t, err)
	whole := verdict.As(after)
	require.NoError(t, b.Try(edits, func(d *verdict.Delta) {
		require.Equal(t, after, d.Rig)
		require.Equal(t, whole.State, d.State, at)
		got := map[engine.ID]limit.State{}
		for k := range b.Results {
			got[b.Results[k].ID] = b.Results[k].State
		}
		for _, c := range d.Changes {
			if c.Is == 0 {
				delete(got, c.ID)
			} else {
				got[c.ID] = c.Is
			}
		}
		for k := range whole.Results {
			l := &whole.Results[k]
			if l.State != got[l.ID] {
				require.Equal(t, l.State, got[l.ID], "%s: %s", at, l.ID)
			}
		}
		require.Len(t, got, len(whole.Results), at)
		for k := range d.Results {
			l := &d.Results[k]
			is := whole.Find(l.ID)
			if is.Load.High != l.Load.High || is.Sure != l.Sure {
				require.InDelta(t, is.Load.High, l.Load.High, 1e-6, "%s: %s", at, l.ID)
				require.InDelta(t, is.Sure, l.Sure, 1e-6, "%s: %s", at, l.ID)
			}
		}
	}))
}

// However large a rig is, advice weighs no more limits than its effort and one step more (a rig judged whole, or its
// moves listed), says so when that was not enough, and proves nothing then.
func TestAdviceStaysWithinItsEffort(t *testing.T) {
	rigs := []*rig.Rig{rigtest.Feeds(50)}
	for seed := range uint64(60) {
		rigs = append(rigs, rigtest.Rig(seed+1))
	}
	short := 0
	for i, r := range rigs {
		whole, moves := judge.Rig(r), len(Moves(r))
		for _, effort := range []int{0, 500, 5000} {
			a := On(t.Context(), whole, effort)
			require.LessOrEqual(t, a.Work, effort+2*perProposed*len(whole.Results)+perMove*moves+5*len(r.Items)/2+100,
				"rig %d, effort %d", i, effort)
			if !a.Complete {
				short++
			}
			if a.Cure != nil && a.Cure.Proven {
				require.True(t, a.CureProven, "rig %d", i)
			}
			require.LessOrEqual(t, a.Judged, a.Moves)
		}
	}
	require.Positive(t, short, "some of them were too large for their effort")
}
