package view_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// What a try of the line tells, and what the rig takes of it: a line that was filled is known, one that was not carries
// at least that, and the plan then rests on it.
func TestOfLine(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	for i := range v.Results {
		if l := &v.Results[i]; l.ID.Rule == rules.Uplink {
			assert.InDelta(t, l.Load.High*1000/0.75, view.LineNeeds(v), 100)
		}
	}
	try := view.LineTry{Wanted: 8, Mbps: 8, Seconds: 60, Counted: true, RTTms: 24.2, LeastMs: 21, Pct: 0.3,
		At: "2026-12-04T19:30:00+01:00", By: "wired"}
	l := view.OfLine(&try)
	assert.Contains(t, l.Sentence, "8 Mb/s at least")
	require.Len(t, l.Takes, 3)
	r := v.Rig
	for _, take := range l.Takes {
		after, err := rig.Apply(r, take.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
		r = after
	}
	last := r.Uplink.MeasuredMbps[len(r.Uplink.MeasuredMbps)-1]
	assert.Equal(t, rig.UplinkReading{Value: 8, At: try.At, By: "wired", Least: true}, last)
	assert.InDelta(t, 24.2, r.Uplink.RTTMs.Value, 0.01)
	assert.InDelta(t, 0.3, r.Uplink.LossPct.Value, 0.01)

	try.Filled, try.Mbps, try.Stalls = true, 3.1, 2
	l = view.OfLine(&try)
	assert.Contains(t, l.Sentence, "carries 3.1 Mb/s: less than the 8 Mb/s")
	assert.Contains(t, l.Sentence, "stood still two times")
	after, err := rig.Apply(v.Rig, l.Takes[0].Edits...)
	require.NoError(t, err)
	assert.False(t, after.Uplink.MeasuredMbps[len(after.Uplink.MeasuredMbps)-1].Least)

	try.Counted = false
	assert.Len(t, view.OfLine(&try).Takes, 1)
	try.Local = true
	assert.Empty(t, view.OfLine(&try).Takes)
	try.Local, try.Closed, try.Seconds = false, "the far end closed the connection after 0.4 s", 0.4
	l = view.OfLine(&try)
	assert.Empty(t, l.Takes)
	assert.Contains(t, l.Sentence, "The far end closed")
}
