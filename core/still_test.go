package core_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/costs"
	"eventether/core/judge"
	"eventether/core/ladder"
	"eventether/core/rig/rigtest"
	"eventether/core/runsheet"
	"eventether/core/sheet"
	"eventether/core/view"
)

// A verdict is read by several requests at once: whatever is asked of it, it stays as it was, down to the memory it was
// made in.
func TestAVerdictStaysAsItWas(t *testing.T) {
	for seed := range uint64(60) {
		v := judge.Rig(rigtest.Rig(seed + 600))
		before := fmt.Sprintf("%+v", *v)
		still := func(asked string) {
			require.Equal(t, len(before), len(fmt.Sprintf("%+v", *v)), "seed %d: %s", seed, asked)
		}
		a := advise.On(t.Context(), v, 20_000)
		still("its advice")
		view.Of(v, a)
		still("its words")
		for i := range v.Items {
			if i%4 == 0 {
				advise.JudgeOn(t.Context(), v, v.Items[i].ID)
			}
		}
		still("moves of an item")
		runsheet.Of(v, a.Cure, runsheet.Options{People: 2})
		sheet.Of(v)
		costs.Of(v, a, nil)
		costs.SideOf(v, a, nil)
		ladder.Of(v)
		ladder.Regions(v)
		view.Powers(v)
		still("its sheets")
		require.Equal(t, before, fmt.Sprintf("%+v", *v), "seed %d", seed)
	}
}
