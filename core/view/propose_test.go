package view_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/view"
)

func proposedOf(t *testing.T, computer string, sources ...rig.StartSource) (*rig.Rig, view.Proposed) {
	t.Helper()
	r, err := rig.New(rig.Start{Sources: sources, Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60},
		Computer: computer})
	require.NoError(t, err)
	return r, view.Of(judge.Rig(r), nil).Proposed
}

// Which plug goes where is said in one breath: of one computer once, of many the first and how many more.
func TestSocketsInWords(t *testing.T) {
	_, one := proposedOf(t, "desktop", rig.StartSource{Kind: "camera", Count: 1})
	require.Contains(t, one.Words, "put Stick 1 into back 1 of Desktop")
	_, three := proposedOf(t, "desktop", rig.StartSource{Kind: "camera", Count: 2}, rig.StartSource{Kind: "webcam",
		Count: 1})
	require.Regexp(t, `put Stick 1 into back \d, Stick 2 into back \d and Webcam into back \d of Desktop`, three.Words)
	_, many := proposedOf(t, "desktop", rig.StartSource{Kind: "camera", Count: 12})
	require.Contains(t, many.Words, "and 9 more as the board shows")
	for _, c := range one.Choices {
		require.NotEmpty(t, c.Label, c.Kind)
	}
}

// Taking all proposals is one change; the sockets are among it, and the board marks them until then.
func TestSocketsAreMarked(t *testing.T) {
	r, p := proposedOf(t, "desktop", rig.StartSource{Kind: "camera", Count: 2})
	marked := func(r *rig.Rig) (n int) {
		v := view.Of(judge.Rig(r), nil)
		for _, f := range v.Feeds {
			for _, h := range f.Hops {
				if h.Stage == plans.Port && h.Kind == "port" && h.Proposed {
					n++
				}
			}
		}
		return n
	}
	require.Equal(t, 2, marked(r))
	after, err := rig.Apply(r, p.Edits...)
	require.NoError(t, err)
	require.Zero(t, marked(after))
	require.Empty(t, view.Of(judge.Rig(after), nil).Proposed.Words)
}

// A dummy battery that is proposed says what one costs, in the show's currency, and its cautions.
func TestADummyBatterySaysItsPrice(t *testing.T) {
	r, p := proposedOf(t, "laptop", rig.StartSource{Kind: "camera", Count: 1})
	require.Contains(t, p.Words, "right voltage and polarity")
	require.Contains(t, p.Words, "about 25 EUR each")
	r.Show.Budget = nil
	require.Contains(t, view.Of(judge.Rig(r), nil).Proposed.Words, "EUR")
}

// A camera with two sockets, both to be set alike: each is named by its socket, and none twice.
func TestTwoSocketsOfOneThing(t *testing.T) {
	r := rigtest.Feeds(2)
	cam := &r.Items[0]
	second := cam.Gear.Ports[0]
	second.ID, second.Label = "hdmi-2", "HDMI 2"
	cam.Gear.Ports = append([]gear.Port{}, append(cam.Gear.Ports, second)...)
	cam.Set.Output = nil
	r.Item("cam-1").Set.Output = nil
	r.Leads[2].From = "cam-0.hdmi-2"
	v := judge.Rig(r)
	words := view.Of(v, nil).Proposed.Words
	require.Contains(t, words, "Camera (HDMI 2)", words)
	require.Contains(t, words, "run two things called Camera", words)
}
