package advise

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/verdict"
)

// Two that judge moves beside each other come to what one comes to who judges them in order, wherever the effort ends:
// the same moves, the same words, the same work.
func TestTwoJudgeAsOneDoes(t *testing.T) {
	cut := 0
	for seed := range uint64(24) {
		v := judge.Rig(rigtest.Rig(seed + 300))
		for _, effort := range []int{20_000, 4_000, 700, 0} {
			alone := verdict.BaseOf(v)
			e := judgeMoves(t.Context(), verdict.BaseOf(v), effort)
			work := 0
			for i := range e.judged {
				m := e.judged[i]
				m.Judged = nil
				was := alone.Work
				judgeMove(alone, &m)
				require.Equal(t, alone.Work-was, e.took[i], "seed %d, %s", seed, m.ID)
				require.Equal(t, m.Judged, e.judged[i].Judged, "seed %d, %s", seed, m.ID)
				work += e.took[i]
			}
			if len(e.judged) < e.moves {
				cut++
				require.Greater(t, work, effort, "seed %d: stopped before the effort ended", seed)
			}
			once := On(t.Context(), v, effort)
			again := On(t.Context(), v, effort)
			require.Equal(t, idsOfAll(once), idsOfAll(again), "seed %d, effort %d", seed, effort)
			require.Equal(t, [3]int{once.Judged, once.Moves, once.Work}, [3]int{again.Judged, again.Moves, again.Work},
				"seed %d, effort %d", seed, effort)
		}
	}
	require.Greater(t, cut, 24, "the effort hardly ever ended")
}

func idsOfAll(a *Advice) (ids [][]string) {
	for i := range a.Findings {
		for _, m := range a.Findings[i].Members {
			ids = append(ids, append([]string{m.Result.ID.String()}, idsOf(m.Fixes)...))
		}
	}
	if a.Cure != nil {
		ids = append(ids, idsOf(a.Cure.Moves))
	}
	return ids
}

// Once its caller has left, nothing more is judged.
func TestNobodyJudgesForOneWhoLeft(t *testing.T) {
	ctx, leave := context.WithCancel(t.Context())
	leave()
	e := judgeMoves(ctx, verdict.BaseOf(judge.Rig(rigtest.Rig(301))), Effort)
	require.Positive(t, e.moves)
	require.Empty(t, e.judged)
}

// A fork tries what it is asked to on the rig as it was, whatever is being tried on the base it comes from.
func TestAForkTriesOnItsOwn(t *testing.T) {
	tried := 0
	for seed := range uint64(30) {
		r := rigtest.Rig(seed + 70)
		b := verdict.BaseOf(verdict.As(r))
		all := Moves(r)
		for i := 2; i < len(all); i += 5 {
			require.NoError(t, b.Try(all[i-2].Edits, func(*verdict.Delta) {}))
			fork := b.Fork()
			require.NoError(t, b.Try(all[i-1].Edits, func(d *verdict.Delta) {
				require.NoError(t, fork.Try(all[i].Edits, func(in *verdict.Delta) {
					want, err := rig.Apply(r, all[i].Edits...)
					require.NoError(t, err)
					require.Equal(t, want, in.Rig, "seed %d, %s", seed, all[i].ID)
				}))
				want, err := rig.Apply(r, all[i-1].Edits...)
				require.NoError(t, err)
				require.Equal(t, want, d.Rig, "seed %d, %s", seed, all[i-1].ID)
			}))
			tried++
		}
	}
	require.Greater(t, tried, 100)
}
