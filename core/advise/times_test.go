package advise

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/rig/rigtest"
	"eventether/core/work"
)

// Somebody's own times stand in every move, and the search for the quickest cure is still right with them.
func TestOwnTimes(t *testing.T) {
	r := rigtest.Feeds(4)
	byKind := func() map[string]float64 {
		out := map[string]float64{}
		for _, m := range Moves(r) {
			out[m.ID] = m.Minutes
		}
		return out
	}
	usual := byKind()
	r.WorkMinutes = work.Times{"plug": 0.2, "mode": 11}
	changed := 0
	for id, m := range byKind() {
		switch usual[id] {
		case 1:
			if m == 0.2 {
				changed++
			}
		case 2:
			require.Contains(t, []float64{2, 11, 0.4}, m, id)
		}
	}
	require.Positive(t, changed)
	require.InDelta(t, 0.2, quickest(r.WorkMinutes), 1e-9)
	require.InDelta(t, 1, quickest(nil), 1e-9)
}
