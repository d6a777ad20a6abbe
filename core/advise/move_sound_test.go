package advise

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

// What a clap test asks of a delay is one edit of two words: the delay, and what was measured, moved with it; made
// once, it asks nothing.
func TestCorrectionOf(t *testing.T) {
	r := rigs.Loft()
	require.NotEmpty(t, r.Sound.Paths)
	path := &r.Sound.Paths[0]
	set := 90.0
	path.DelayMs = &set
	path.OffsetMs = &fact.Fact{Low: 35, Value: 40, High: 45, From: fact.Measured}
	way := func(r *rig.Rig) *Correction {
		v := judge.Rig(r)
		return CorrectionOf(v.Given, &v.Sounds().Paths[0])
	}
	c := way(r)
	require.NotNil(t, c)
	require.Zero(t, c.Index)
	require.Equal(t, 50.0, c.Ms, "sound 40 ms late with 90 ms set: 50 ms")
	after, err := rig.Apply(r, c.Edits...)
	require.NoError(t, err)
	require.Equal(t, 50.0, *after.Sound.Paths[0].DelayMs)
	require.Equal(t, fact.Fact{Low: -5, Value: 0, High: 5, From: fact.Measured}, *after.Sound.Paths[0].OffsetMs)
	require.Nil(t, way(after), "it is as the clap test has it")
	after.Sound.Paths[0].OffsetMs = nil
	require.Nil(t, way(after), "nobody clapped")
}
