package runsheet_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/runsheet"
	"eventether/core/work"
	"eventether/internal/demo/rigs"
)

func of(r *rig.Rig, o runsheet.Options) *runsheet.RunSheet {
	v := judge.Rig(r)
	return runsheet.Of(v, advise.On(context.Background(), v, 100_000).Cure, o)
}

func Example() {
	s := of(rigs.LoftEven(), runsheet.Options{People: 2})
	for _, line := range s.Summary(func(before float64) string { return fmt.Sprintf("%.0f min before air", before) }) {
		fmt.Println(line)
	}
	// Output:
	// Alone: begin at 157 min before air (142 min of work, 15 for nothing).
	// Two of you: begin at 115 min before air (100 min of work, 15 for nothing). No order can take less than 89 min.
}

func TestOnlyWhatThisRigNeeds(t *testing.T) {
	s := of(rigs.LoftEven(), runsheet.Options{People: 2})
	need := func(id string) *runsheet.Step {
		st := s.Step(id)
		require.NotNil(t, st, id)
		return st
	}
	require.Contains(t, need("set:cam-bench").Values, runsheet.Value{Name: "Information display on the output",
		Value: "off"})
	assert.Equal(t, "Bench camera → Four-K stick, in", need("lead:bench-lead").Label)
	assert.Contains(t, need("lead:bench-lead").After, "mount:cam-bench")
	assert.Equal(t, work.Plug, need("lead:face-plug").Kind)
	assert.Contains(t, need("source-stick-face").After, "lead:face-lead")
	assert.Contains(t, strings.Join(need("test").Pass, " "), "1920 × 1080 at exactly 29.97")
	assert.Contains(t, need("rehearsal").After, "test")
	assert.Nil(t, s.Step("set:slides-none"))
	assert.Contains(t, need("uplink").Pass[0], "three quarters")

	bare := rigs.LoftEven()
	bare.Show.Destinations, bare.Show.Recordings = nil, nil
	s = of(bare, runsheet.Options{})
	for _, st := range s.Steps {
		assert.NotContains(t, []string{"rehearsal", "uplink", "record", "chat", "end:stream"}, st.ID,
			"nothing is sent or kept")
	}
}

// Each phase comes in its order, no step waits for one that is not before it, and ids stand once; on rigs of every
// kind.
func TestEveryRigHasASoundSheet(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	for seed := range 300 {
		r := rigtest.Rig(uint64(seed))
		s := runsheet.Of(judge.Rig(r), nil, runsheet.Options{People: 2, First: seed%2 == 0})
		at := map[string]int{}
		phase := 0
		for i := range s.Steps {
			st := &s.Steps[i]
			_, twice := at[st.ID]
			require.False(t, twice, "seed %d: %s stands twice", seed, st.ID)
			at[st.ID] = i
			for phase < len(runsheet.Phases) && runsheet.Phases[phase] != st.Phase {
				phase++
			}
			require.Less(t, phase, len(runsheet.Phases), "seed %d: %s out of order", seed, st.ID)
			for _, a := range st.After {
				_, before := at[a]
				require.True(t, before, "seed %d: %s waits for %s", seed, st.ID, a)
			}
			require.NotContains(t, st.Do, "%s")
			require.NotEmpty(t, st.Do)
			require.Positive(t, st.Minutes)
		}
		for _, l := range r.Leads { // every lead but a card's turn is laid by a step
			if _, port := r.Port(l.From); port != nil && port.Connector != gear.PCIe && s.Step("lead:"+l.ID) == nil {
				to, in := r.Port(l.To)
				require.True(t, to == nil || in == nil, "seed %d: nobody lays %s", seed, l.ID)
			}
		}
		one, two := s.Plan(1), s.Plan(2)
		for _, plan := range []*runsheet.Plan{one, two} { // nothing is done at the place before it is carried there
			carried := -1.0
			for _, turn := range plan.Turns {
				if turn.Step == "carry" {
					carried = turn.End
				}
			}
			for _, turn := range plan.Turns {
				if st := s.Step(turn.Step); st.ID != "carry" && st.Phase != runsheet.Find &&
					st.Phase != runsheet.Ready {
					require.GreaterOrEqual(t, turn.Start, carried-1e-6,
						"seed %d: %s begins before anything is carried in", seed, st.ID)
				}
			}
		}
		require.LessOrEqual(t, one.AtLeast, one.Minutes+1e-6)
		require.LessOrEqual(t, two.Minutes, one.Minutes*1.0001+2, "two are about as quick as one, or quicker")
		_, err := json.Marshal(s)
		require.NoError(t, err)
		require.NotEmpty(t, s.Text(2, nil))
		require.NotEmpty(t, s.Markdown(1, nil))
	}
}

func TestOwnTimesBeforeEstimates(t *testing.T) {
	r := rigs.LoftEven()
	before := of(r, runsheet.Options{}).Plan(1).Minutes
	r.WorkMinutes = work.Times{"mount": 2}
	s := of(r, runsheet.Options{})
	require.True(t, s.Step("mount:cam-face").Own)
	require.Equal(t, 2.0, s.Step("mount:cam-face").Minutes)
	require.InDelta(t, before-4*4, s.Plan(1).Minutes, 1e-6, "four cameras, four minutes less each")
}

func TestAsLastTime(t *testing.T) {
	last := of(rigs.LoftEven(), runsheet.Options{})
	r := rigs.LoftEven()
	r.Show.Destinations[0].Send.VideoKbps.Value, r.Show.Destinations[0].Send.VideoKbps.Low,
		r.Show.Destinations[0].Send.VideoKbps.High = 3000, 3000, 3000
	r, err := rig.Apply(r, rig.Edit{Do: "remove", Item: "cam-stage"})
	require.NoError(t, err)
	now := of(r, runsheet.Options{})
	now.Since(last)
	st := now.Step("enter:stream:Stream to Class channel")
	require.NotNil(t, st)
	assert.Equal(t, "changed", st.Change)
	assert.Contains(t, st.Values, runsheet.Value{Name: "Bitrate", Value: "3000 kb/s", Was: "4000 kb/s"})
	assert.Equal(t, "same", now.Step("mount:cam-face").Change)
	assert.Contains(t, now.Gone, "Mount and frame Stage camera.")
	again := of(rigs.LoftEven(), runsheet.Options{})
	again.Since(last)
	for _, st := range again.Steps {
		assert.Equal(t, "same", st.Change, st.ID)
	}
}

func TestWhatDoesNotFitIsSaidFirst(t *testing.T) {
	r := rigs.LoftEven()
	r.Show.SetupMinutes, r.Show.RehearsalMinutes = 30, 0
	s := of(r, runsheet.Options{People: 2})
	require.NotEmpty(t, s.First)
	require.Contains(t, s.First[0], "and 30 are planned")
	require.Contains(t, s.First[0], "with 2 of you")
	s = of(rigs.Loft(), runsheet.Options{})
	require.Contains(t, s.First[0], "does not hold as it is")
	require.Equal(t, runsheet.Find, s.Steps[0].Phase)
}

func BenchmarkTwelveCameras(b *testing.B) {
	v := judge.Rig(rigtest.Feeds(12))
	for b.Loop() {
		runsheet.Of(v, nil, runsheet.Options{People: 2})
	}
}
