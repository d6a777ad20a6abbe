package engine_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
)

// What a pass hands out pointers to stays where it is: no feed has more hops than there was room for from the
// beginning.
func TestHopsStayWhereTheyAre(t *testing.T) {
	most := 0
	for seed := range uint64(400) {
		r := rigtest.Rig(seed)
		p := rules.New(r, rig.NewWiring(r)).Run()
		for i := range p.Feeds {
			require.Equal(t, 2+2*len(p.Ways[i].Hops), cap(p.Feeds[i].Hops), "seed %d, %s: its hops were moved", seed,
				p.Feeds[i].ID)
			if len(p.Feeds[i].Hops) == 2+2*len(p.Ways[i].Hops) {
				most++
			}
		}
	}
	require.Positive(t, most, "none used all its room")
}

// Ids are ordered as they are written.
func TestIDsAreOrderedAsWritten(t *testing.T) {
	ids := []engine.ID{{Rule: rules.IngestBitrate, Place: "0"}, {Rule: rules.Ingest, Place: "0"},
		{Rule: rules.Reach, Place: "l1"}, {Rule: rules.Uplink},
		{Rule: rules.Reach, Place: "l10"}, {Rule: rules.Run, Place: "l1"}, {Rule: rules.RunTime, Place: "cam"}}
	for _, a := range ids {
		for _, b := range ids {
			require.Equal(t, strings.Compare(a.String(), b.String()), a.Compare(b), "%s %s", a, b)
		}
	}
}
