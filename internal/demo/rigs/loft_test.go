package rigs

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/rig"
)

// The loft has the faults it is meant to show, and no other limit snaps.
func TestLoftHasItsFaults(t *testing.T) {
	r := Loft()
	require.Empty(t, rig.Check(r))
	v := judge.Full(r)
	var snapped []string
	for _, f := range v.Findings {
		if f.State == judge.Snapped {
			snapped = append(snapped, f.Limit)
		}
	}
	require.ElementsMatch(t, []string{"bus:hub..fast", "run-time:cam-face", "reach:bench-lead", "cadence:stick-stage.usb:cam-stage.hdmi"}, snapped)
	require.NotNil(t, v.Cure)
	require.True(t, v.Cure.Proven)
	require.Len(t, v.Cure.Moves, 4)
	require.Contains(t, v.Sentence, "four moves")
	require.Contains(t, v.Questions[0].Ask, "What is printed on the HDMI lead")
}

func TestLoftEvenHolds(t *testing.T) {
	r := LoftEven()
	require.Empty(t, rig.Check(r))
	v := judge.Full(r)
	require.True(t, v.State.Holds(), "%s", judge.Report(r.Name, &v))
	require.Empty(t, v.Questions)
}
