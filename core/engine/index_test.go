package engine

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/plans"
	"eventether/core/rig"
)

// The index against a map, through growing, emptying and asking for what is not there.
func TestIndexAgainstAMap(t *testing.T) {
	var x index
	some := make([]*Rule, 37)
	for i := range some {
		some[i] = &Rule{Name: Name(fmt.Sprint("rule-", i)), at: i + 1}
	}
	for round := range 4 {
		x.empty(round * 10)
		var results []Result
		want := map[ID]int{}
		for i := range 500 {
			id := ID{Rule: some[i%37], Place: fmt.Sprintf("place-%d", i%211)}
			at, slot, there := x.find(results, id)
			was, known := want[id]
			require.Equal(t, known, there, id)
			if there {
				require.Equal(t, was, at)
				continue
			}
			want[id] = len(results)
			results = append(results, Result{ID: id})
			x.put(results, slot, len(results)-1)
		}
		require.Greater(t, len(want), 400)
		for id, at := range want {
			got, _, ok := x.find(results, id)
			require.True(t, ok, id)
			require.Equal(t, at, got)
		}
		_, _, ok := x.find(results, ID{Rule: &Rule{}})
		require.False(t, ok)
	}
}

// Merging by sets gives what merging one by one does, in the same order, whatever is merged one after the other.
func TestRestsIsMerge(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := &Pass{Plan: plans.Plan{Rig: &rig.Rig{Items: make([]rig.Item, 3)}}}
		ids := rapid.SliceOfNDistinct(rapid.StringMatching("[a-z]{1,3}"), 0, 30, rapid.ID[string])
		for range 6 {
			a, b := ids.Draw(t, "a"), ids.Draw(t, "b")
			require.Equal(t, plans.Merge(slices.Clone(a), b), append([]string{}, p.rests(a, b)...))
		}
	})
}
