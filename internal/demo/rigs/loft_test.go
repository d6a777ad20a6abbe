package rigs

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/view"
)

// The loft has the faults it is meant to show, and no other limit snaps.
func TestLoftHasItsFaults(t *testing.T) {
	r := Loft()
	require.Empty(t, rig.Check(r))
	v := full(r)
	var snapped, kinked []string
	for _, f := range v.Findings {
		for _, m := range f.Members {
			if f.State == limit.Snapped {
				snapped = append(snapped, m.Limit)
			} else if f.State == limit.Kinked {
				kinked = append(kinked, m.Limit)
			}
		}
	}
	require.ElementsMatch(t, []string{"bus:hub..fast", "port-current:pc.front-right", "run-time:cam-face",
		"reach:bench-lead"}, snapped)
	require.Equal(t, []string{"voice:Ida", "cadence:stick-stage.usb:cam-stage.hdmi"}, kinked)
	require.NotNil(t, v.Cure)
	require.True(t, v.Cure.Proven)
	require.Len(t, v.Cure.Moves, 5)
	require.Contains(t, v.Sentence, "five moves")
	require.Contains(t, v.Cure.Moves[3].Label, "Mute Ida by Face camera", "not the microphone at her collar")
	require.Contains(t, v.Questions[0].Ask, "What is printed on the HDMI lead")
}

func TestLoftEvenHolds(t *testing.T) {
	r := LoftEven()
	require.Empty(t, rig.Check(r))
	v := full(r)
	require.True(t, v.State.Holds(), "%s", view.Report(r.Name, &v))
	require.Empty(t, v.Questions)
}

// The desk's card sits in a slot that is narrower than it looks; one move mends it.
func TestDesk(t *testing.T) {
	r := Desk()
	require.Empty(t, rig.Check(r))
	v := full(r)
	require.Equal(t, limit.Snapped, v.State)
	require.Equal(t, "slot:tower.slot-2", v.Findings[0].Members[0].Limit)
	require.Contains(t, v.Findings[0].Says,
		"994.3 MB/s of the 0 to 410 MB/s this slot carries. It is shared with the drive")
	require.Len(t, v.Cure.Moves, 1)
	require.Contains(t, v.Cure.Moves[0].ID, "plug:card-slot:tower.slot-")
	require.True(t, v.Cure.Proven)
	require.Equal(t, 15.0, v.Cure.Minutes, "a computer is switched off and opened for it")
	require.Contains(t, v.Cure.Moves[0].Label,
		"Switch Tower off and unplug it, touch metal before you reach in, and move")
	require.Len(t, v.Feeds, 4)
}

// full judges a rig with everything a screen shows.
func full(r *rig.Rig) view.Verdict {
	v := judge.Rig(r)
	return view.Of(v, advise.On(context.Background(), v, advise.Effort))
}
