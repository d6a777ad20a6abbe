package ladder_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/judge"
	"eventether/core/ladder"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/verdict"
)

func exactly(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

func worth(lists [][]ladder.Option, chosen []int) (cost, value int) {
	for i, c := range chosen {
		o := lists[i][c]
		cost, value = cost+o.Cost, value+o.Value
	}
	return cost, value
}

// The search against trying everything, on 2,000 random cases of up to five destinations.
func TestBestAgainstTryingAll(t *testing.T) {
	dice := rand.New(rand.NewPCG(5, 4))
	for n := range 2000 {
		lists := make([][]ladder.Option, 1+dice.IntN(5))
		for i := range lists {
			lists[i] = []ladder.Option{{Rung: -1}}
			for range 1 + dice.IntN(6) {
				lists[i] = append(lists[i], ladder.Option{Cost: 1 + dice.IntN(60), Value: dice.IntN(8)})
			}
		}
		budget := dice.IntN(200)
		cost, value := worth(lists, ladder.Best(lists, budget))
		require.LessOrEqual(t, cost, budget)
		at := make([]int, len(lists))
		for {
			if c, v := worth(lists, at); c <= budget {
				better := v > value || v == value && c < cost
				require.False(t, better, "case %d: %v gives %d %d, the search %d %d", n, at, c, v, cost, value)
			}
			i := 0
			for i < len(at) && at[i] == len(lists[i])-1 {
				at[i] = 0
				i++
			}
			if i == len(at) {
				break
			}
			at[i]++
		}
	}
}

// sends is a rig that sends 1080p60 to a number of destinations over a line that was measured.
func sends(mbps float64, motion string, destinations ...rig.Destination) *rig.Rig {
	r := rigtest.Plain()
	f5994 := picture.NewRate(60000, 1001)
	r.Show.Programme.Rate, r.Show.Motion, r.Uplink = f5994, motion, rigtest.Line(mbps)
	for i := range destinations {
		destinations[i].Name = fmt.Sprint("channel ", i)
		destinations[i].Send = rig.Send{Width: 1920, Height: 1080, Rate: f5994, VideoKbps: exactly(9000)}
	}
	r.Show.Destinations = destinations
	return r
}

// Worked by hand: 0.75 of the line, ÷ 1.05, less 160 of sound, is what a picture may have.
func TestPlans(t *testing.T) {
	open := rig.Destination{}
	capped := rig.Destination{Ingest: &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30),
		MaxVideoKbps: 4000}}
	for _, c := range []struct {
		name   string
		rig    *rig.Rig
		labels []string
		state  limit.State
	}{
		{"room for everything", sends(20, "sport", open), []string{"1080p59.94"}, limit.Slack},
		// 9 Mb/s: 6268 kb/s, over the 5594 where 1080p59.94 shows blocks: the bitrate gives way, not the picture.
		{"the bitrate gives way first", sends(9, "talk", open), []string{"1080p59.94"}, limit.Slack},
		// 5.5 Mb/s: 3768 kb/s. Talk wants lines (1080p29.97 from 2797 on), sport wants frames (720p59.94 from 2486 on).
		{"a talk keeps its lines", sends(5.5, "talk", open), []string{"1080p29.97"}, limit.Slack},
		{"sport keeps its frames", sends(5.5, "sport", open), []string{"720p59.94"}, limit.Slack},
		// 4 Mb/s: 2697 kb/s, under 2797.
		{"a slower one", sends(4, "still", open), []string{"720p59.94"}, limit.Slack},
		{"a cap", sends(20, "sport", capped), []string{"720p29.97"}, limit.Slack},
		// Two at 12 Mb/s: 8571 together, 8251 without sound: 5600 and 1250 at least.
		{"two share it", sends(12, "talk", open, capped), []string{"1080p59.94", "720p29.97"}, limit.Slack},
		// 1 Mb/s: 554 kb/s, and 480p29.97 wants 600 by steps; of all of it 792.
		{"all of it and no more", sends(1, "still", open), []string{"480p29.97"}, limit.Taut},
		{"too little", sends(0.5, "talk", open), []string{""}, limit.Snapped},
		{"one passes it on", sends(12, "talk", open, rig.Destination{Via: "channel 0"}), []string{"1080p59.94"},
			limit.Slack},
	} {
		t.Run(c.name, func(t *testing.T) {
			require.Empty(t, rig.Check(c.rig))
			p := ladder.Of(judge.Rig(c.rig))
			labels := []string{}
			for _, b := range p.Best {
				labels = append(labels, b.Label)
			}
			assert.Equal(t, c.labels, labels, "%+v", p.Best)
			assert.Equal(t, c.state, p.State)
			assert.NotEmpty(t, p.Gains)
			if c.state == limit.Snapped {
				return
			}
			after, err := rig.Apply(c.rig, p.Edits...)
			require.NoError(t, err)
			require.Empty(t, rig.Check(after))
			v := verdict.As(after)
			assert.Equal(t, c.state, v.Find(engine.ID{Rule: rules.Uplink}).State,
				"what it promises is what judging gives")
			assert.True(t, ladder.Of(judge.Rig(after)).Same, "and there is nothing better then")
		})
	}
}

func TestLadderAndFilesAfterwards(t *testing.T) {
	r := sends(9, "talk", rig.Destination{})
	r.Show.Minutes, r.Show.Recordings = 60, []rig.Recording{{What: "programme", Kbps: exactly(12000)}}
	p := ladder.Of(judge.Rig(r))
	require.Len(t, p.Rungs, 6)
	for i, s := range p.Rungs {
		assert.Equal(t, i > 0, s.GivesUp != "", s.Label)
		assert.InDelta(t, s.NeedKbps/0.75, s.LineKbps, 1e-9)
	}
	assert.Equal(t, "1080p59.94", p.Rungs[0].Label)
	assert.True(t, p.Rungs[0].Now)
	assert.InDelta(t, 1.05*(5600+160), p.Rungs[0].NeedKbps, 0.01, "9000 less 68 steps of 50: not under 5594")
	// 5.4 GB at 9 Mb/s take 4800 s.
	require.Len(t, p.Later, 1)
	assert.InDelta(t, 5.4, p.Later[0].GB.Value, 1e-9)
	assert.InDelta(t, 4800.0/3600, p.Later[0].SendHours.High, 1e-9)
}

// Six destinations, each with everything to choose from.
func BenchmarkSix(b *testing.B) {
	r := sends(80, "stage", rig.Destination{}, rig.Destination{}, rig.Destination{}, rig.Destination{},
		rig.Destination{}, rig.Destination{})
	v := judge.Rig(r)
	for b.Loop() {
		ladder.Of(v)
	}
}

// Of a 16:9 picture 4:3 keeps 75 % of the width, square 56 %, an upright phone 31.6 %.
func TestWindows(t *testing.T) {
	got := ladder.Windows(rig.Programme{Width: 1920, Height: 1080})
	require.Len(t, got, 3)
	assert.InDelta(t, 0.75, got[0].Keeps, 1e-9)
	assert.InDelta(t, 0.5625, got[1].Keeps, 0.0005)
	assert.InDelta(t, 0.316, got[2].Keeps, 0.0005)
	assert.Equal(t, []int{240, 420, 657}, []int{got[0].Inset, got[1].Inset, got[2].Inset}) // (1 − keeps) ÷ 2 of 1920
	assert.Len(t, ladder.Windows(rig.Programme{Width: 1024, Height: 768}), 2, "4:3 itself cuts nothing")
}
