package judge

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// Judging only what a change touches comes to what judging the whole rig comes to, for every move on random rigs: each
// limit, its state and its figures, what goes and what comes, and the state of the rig.
func TestTryingAgreesWithJudging(t *testing.T) {
	moved, kinds := 0, map[string]int{}
	for seed := range uint64(250) {
		r := rigtest.Rig(seed)
		b := baseOf(r)
		all := Moves(r)
		for i := range all {
			if len(all) > 40 && i%(len(all)/40) != 0 {
				continue
			}
			m := &all[i]
			after, err := rig.Apply(r, m.Edits...)
			require.NoError(t, err)
			whole := Figures(after)
			is := map[string]*Limit{}
			for k := range whole.Limits {
				is[whole.Limits[k].ID] = &whole.Limits[k]
			}
			b.try(after, m.Edits, func(d *delta) {
				at := fmt.Sprintf("seed %d, %s", seed, m.ID)
				require.Equal(t, whole.State, d.State, at)
				got := map[string]State{}
				for k := range b.p.limits {
					got[b.p.limits[k].ID] = b.p.limits[k].State
				}
				for _, c := range d.Changes {
					if c.is == "" {
						delete(got, c.id)
					} else {
						got[c.id] = c.is
					}
				}
				for id, l := range is {
					require.Equal(t, l.State, got[id], "%s: %s", at, id)
				}
				require.Len(t, got, len(is), at)
				for k := range d.limits {
					l := &d.limits[k]
					require.InDelta(t, is[l.ID].Load.High, l.Load.High, 1e-6, "%s: %s", at, l.ID)
					require.InDelta(t, is[l.ID].Sure, l.Sure, 1e-6, "%s: %s", at, l.ID)
				}
			})
			moved++
			kinds[m.Kind]++
		}
	}
	require.Greater(t, moved, 3000)
	t.Logf("%d moves: %v", moved, kinds)
}

// However large a rig is, advice weighs no more limits than its effort and one trial more, says so when that was not
// enough, and proves nothing then. The verdict itself is whole.
func TestAdviceStaysWithinItsEffort(t *testing.T) {
	rigs := []*rig.Rig{feedsRig(50)}
	for seed := range uint64(60) {
		rigs = append(rigs, rigtest.Rig(seed+1))
	}
	short := 0
	for i, r := range rigs {
		whole := Rig(r)
		for _, effort := range []int{0, 500, 5000} {
			v := FullWithin(t.Context(), r, effort)
			require.Equal(t, len(whole.Limits), len(v.Limits))
			require.Equal(t, whole.State, v.State)
			require.LessOrEqual(t, v.Advice.work, effort+8*len(v.Limits)+64, "rig %d, effort %d", i, effort)
			if !v.Advice.Complete {
				short++
			}
			if v.Cure != nil && v.Cure.Proven {
				require.True(t, v.Advice.CureProven, "rig %d", i)
			}
			require.LessOrEqual(t, v.Advice.Judged, v.Advice.Moves)
		}
	}
	require.Positive(t, short, "some of them were too large for their effort")
}
