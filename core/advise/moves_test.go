package advise

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
)

// What the search for a cure rests on: a limit gets better only by a move that touches something in its Where.
func TestWhereIsComplete(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		before := judge.Rig(r)
		for _, m := range Moves(r) {
			after, err := rig.Apply(r, m.Edits...)
			require.NoError(t, err, m.ID)
			if len(rig.Check(after)) > 0 {
				continue // into a taken socket: half a change, and the other half touches the plug that was there
			}
			now := judge.Rig(after)
			for i := range before.Results {
				was := &before.Results[i]
				if was.State != limit.Snapped || touchesAny(was.Where, m.touches) {
					continue
				}
				is := now.Find(was.ID)
				require.NotNil(t, is, "%s made %s go away and touches only %s, which is not in %v", m.ID, was.ID,
					m.touches, was.Where)
				require.Equal(t, limit.Snapped, is.State, "%s eased %s and touches only %s, which is not in %v", m.ID,
					was.ID, m.touches, was.Where)
			}
		}
	})
}

// Every move there is can be made, changes the rig, and takes some time.
func TestMovesCanBeMade(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		seen := map[string]bool{}
		for _, m := range Moves(r) {
			require.False(t, seen[m.ID], m.ID)
			seen[m.ID] = true
			require.GreaterOrEqual(t, m.Minutes, quickest(r.WorkMinutes), m.ID)
			require.NotEmpty(t, m.Label, m.ID)
			require.NotEmpty(t, m.Short, m.ID)
			after, err := rig.Apply(r, m.Edits...)
			require.NoError(t, err, m.ID)
			require.NotEqual(t, r, after, m.ID)
		}
	})
}
