package rules_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/verdict"
)

func TestLowerQuartile(t *testing.T) {
	for _, c := range []struct {
		of   []float64
		want float64
	}{{[]float64{5}, 5}, {[]float64{5, 1, 2, 4, 3}, 2}, {[]float64{1, 2, 3, 4}, 1.75}} {
		require.InDelta(t, c.want, plans.LowerQuartile(c.of), 1e-12)
	}
}

// read are measurements in turn: value, time, and "air" where it was measured so.
func read(of ...any) (out []rig.UplinkReading) {
	for i := 0; i+2 < len(of); i += 3 {
		m := rig.UplinkReading{Value: float64(of[i].(int)), At: of[i+1].(string)}
		if by := of[i+2].(string); by == "air" {
			m.By = "air"
		}
		out = append(out, m)
	}
	return out
}

// Worked by hand from the rule: four and more near the hour are their lower quartile; fewer 0.7 of their lowest to
// their highest; none near it the same of all.
func TestWhatALineCarries(t *testing.T) {
	night := []any{50, "2026-11-01T03:00:00Z", "", 50, "2026-11-02T03:00:00Z", "", 50, "2026-11-03T03:00:00Z", "",
		50, "2026-11-04T03:00:00Z", "",
		50, "2026-11-05T03:00:00Z", "", 50, "2026-11-06T03:00:00Z", "", 50, "2026-11-07T03:00:00Z", "", 50,
		"2026-11-08T03:00:00Z", ""}
	for name, c := range map[string]struct {
		readings  []rig.UplinkReading
		starts    string
		minutes   float64
		low, high float64
		near      int
	}{
		"two of 8 to 9 at the hour, eight of 50 at night": {read(append([]any{8, "2026-11-01T19:00:00Z", "", 9,
			"2026-11-02T20:00:00Z", ""}, night...)...), "19:30", 120, 5.6, 9, 2},
		"five at the hour": {read(3, "2026-11-01T19:00:00Z", "", 4, "2026-11-02T19:00:00Z", "",
			5, "2026-11-03T19:00:00Z", "", 6, "2026-11-04T19:00:00Z", "", 6, "2026-11-05T19:00:00Z", ""), "19:30",
			60, 4, 4, 5},
		"none near it": {read(night...), "19:30", 120, 35, 50, 0},
		"no start said, four of them": {read(8, "2026-11-01T19:00:00Z", "", 8, "2026-11-02T19:00:00Z", "",
			9, "2026-11-03T19:00:00Z", "", 9, "2026-11-04T19:00:00Z", ""), "", 120, 5.6, 9, 0},
		"until two hours after its end": {read(7, "2026-11-01T23:29:00Z", ""), "19:30", 120, 4.9, 7, 1},
		"and no later": {read(7, "2026-11-01T23:31:00Z", "", 9, "2026-11-01T17:30:00Z", ""),
			"19:30", 120, 6.3, 9, 1},
		"across midnight": {read(7, "2026-11-01T01:30:00Z", "", 9, "2026-11-01T12:00:00Z", ""),
			"23:00", 60, 4.9, 7, 1},
		"by the clock on the wall, not by UTC": {read(8, "2026-11-01T19:30:00+05:30", "", 50, "2026-11-01T14:00:00Z",
			""), "19:30", 60, 5.6, 8, 1},
		"by air a half to all of it": {read(20, "2026-11-01T19:00:00Z", "air", 20, "2026-11-02T19:00:00Z",
			"air", 20, "2026-11-03T19:00:00Z", "air", 20, "2026-11-04T19:00:00Z", "air"), "19:30", 60, 10, 20, 4},
		"one of four by air": {read(20, "2026-11-01T19:00:00Z", "air", 20, "2026-11-02T19:00:00Z",
			"", 20, "2026-11-03T19:00:00Z", "", 20, "2026-11-04T19:00:00Z", ""), "19:30", 60, 17.5, 20, 4},
		"one by air": {read(20, "2026-11-01T19:00:00Z", "air"), "19:30", 60, 7, 20, 1},
	} {
		l := plans.LineOf(c.readings, c.starts, c.minutes)
		require.InDelta(t, c.low, l.Low, 1e-9, name)
		require.InDelta(t, c.high, l.High, 1e-9, name)
		require.Len(t, l.Near, c.near, name)
	}
}

func TestOddReadings(t *testing.T) {
	places := func(of []plans.Odd) (out []int) {
		for _, o := range of {
			out = append(out, o.Place)
		}
		return out
	}
	require.Equal(t, []int{1, 3},
		places(plans.OddReadings(read(8, "", "", 0, "", "", 9, "", "", 99999, "", "", 7, "", ""))))
	require.Equal(t, []int{2}, places(plans.OddReadings(read(8, "", "", 9, "", "", 40, "", ""))))
	require.Empty(t, plans.OddReadings(read(8, "", "", 30, "", "")))
}

// The trade's starting values, and between them by rate, rounded to 50: 1080p25 is 5000 × 25 ÷ 30 = 4167, 4150.
func TestStartingBitrates(t *testing.T) {
	for _, c := range []struct {
		w, h int
		rate picture.Rate
		wish float64
	}{
		{1280, 720, picture.R(30), 2500}, {854, 480, picture.R(30), 1500}, {1280, 720, picture.R(60), 5000},
		{1920, 1080, picture.R(30), 5000}, {1920, 1080, picture.R(60), 9000},
		{2560, 1440, picture.R(30), 9000}, {2560, 1440, picture.R(60), 13000}, {3840, 2160, picture.R(30), 20000},
		{3840, 2160, picture.R(60), 35000},
		{1920, 1080, picture.R(25), 4150}, {1920, 1080, picture.R(50), 7500},
		{1920, 1080, picture.NewRate(30000, 1001), 5000}, {1080, 1920, picture.R(30), 5000},
		{1920, 1080, picture.R(24), 4000},
		{1280, 720, picture.R(25), 2100}, {4096, 2160, picture.R(30), 20000},
	} {
		require.Equal(t, c.wish, plans.StartKbps(c.w, c.h, c.rate).Value, "%d×%d %s", c.w, c.h, c.rate)
	}
}

// Bitrates nobody chose, by hand: (video + 160 of sound) × 1.05 has to keep within 75 % of the line.
func TestProposedBitrates(t *testing.T) {
	at := func(h int, fps int64, in *rig.Ingest) rig.Destination {
		return rig.Destination{Name: "d", Send: rig.Send{Width: h * 16 / 9, Height: h, Rate: picture.R(fps)},
			Ingest: in}
	}
	said := func(d rig.Destination, kbps float64) rig.Destination {
		d.Send.VideoKbps = new(fact.Exactly(kbps))
		return d
	}
	most := func(kbps float64) *rig.Ingest {
		return &rig.Ingest{MaxWidth: 1920, MaxHeight: 1080, MaxRate: picture.R(60), MaxVideoKbps: kbps,
			MinVideoKbps: new(0.0), MaxAudioKbps: 320}
	}
	least := func(kbps float64) *rig.Ingest {
		in := most(0)
		in.MinVideoKbps = &kbps
		return in
	}
	small := &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30), MaxVideoKbps: 6000,
		MinVideoKbps: new(0.0), MaxAudioKbps: 160}
	for name, c := range map[string]struct {
		mbps float64 // 0: nobody has measured
		sent []rig.Destination
		want []float64
		line limit.State
	}{
		"the wish": {50, []rig.Destination{at(1080, 30, nil)}, []float64{5000}, limit.Slack},
		"5 Mb/s: 3411 is all, 3400 by steps": {5, []rig.Destination{at(1080, 30, most(0))}, []float64{3400},
			limit.Slack},
		"nobody has measured": {0, []rig.Destination{at(1080, 30, most(0))}, []float64{5000},
			limit.Untested},
		"a cap": {50, []rig.Destination{at(1080, 30, most(4160))}, []float64{4160},
			limit.Slack},
		"a least": {50, []rig.Destination{at(1080, 30, least(8000))}, []float64{8000},
			limit.Slack},
		"a least the line does not carry": {7, []rig.Destination{at(1080, 30, least(8000))}, []float64{4800},
			limit.Slack}, // 5250 ÷ 1.05 − 160 = 4840
		"never under 0.045 bits a pixel": {3, []rig.Destination{at(1080, 30, most(0))}, []float64{2800},
			limit.Snapped},
		"two share a coding and a line": {8.6, []rig.Destination{at(1080, 30, most(0)), at(1080, 30, most(0))},
			[]float64{2900, 2900}, limit.Slack}, // 6450 ÷ 2.1 − 160 = 2911
		"least over most: two codings": {100, []rig.Destination{at(1080, 30, most(4000)),
			at(1080, 30, least(6000))}, []float64{4000, 6000}, limit.Slack},
		"most of one, least of the other": {100, []rig.Destination{at(1080, 30, most(4000)),
			at(1080, 30, least(3000))}, []float64{4000, 4000}, limit.Slack},
		"one is said, the other goes along": {100, []rig.Destination{said(at(1080, 30, most(0)), 6000),
			at(1080, 30, most(0))}, []float64{0, 6000}, limit.Slack},
		"720 lines where no more is taken": {50, []rig.Destination{at(720, 30, small)}, []float64{4000}, limit.Slack},
		"720 lines where more is taken": {50, []rig.Destination{at(720, 30, most(0))}, []float64{2500},
			limit.Slack},
		// 1080p30 has 0.0804 bits a pixel, 720p30 0.0904: the smaller gives way first. 7000 × 0.75 = 5250 ÷ 1.05 = 5000
		// − 320 of sound.
		"most bits a pixel gives way first": {7, []rig.Destination{at(1080, 30, most(0)), at(720, 30, most(0))},
			[]float64{3250, 1400}, limit.Slack},
	} {
		r := plain()
		for i := range c.sent {
			c.sent[i].Name = string(rune('a' + i))
		}
		r.Show.Destinations, r.Uplink = c.sent, nil
		if c.mbps > 0 {
			r.Show.StartsAt, r.Uplink = "19:30", &rig.Uplink{}
			for range 4 {
				r.Uplink.MeasuredMbps = append(r.Uplink.MeasuredMbps, rig.UplinkReading{Value: c.mbps,
					At: "2026-11-01T19:30:00Z"})
			}
		}
		v := judge.Rig(r)
		require.Equal(t, c.want, verdict.As(r).Bitrates(), name)
		require.Equal(t, c.line, v.Find(engine.ID{Rule: rules.Uplink}).State, name)
		for i := range c.want {
			if c.want[i] > 0 {
				require.Equal(t, c.want[i], v.Video(i).Value, name)
			}
		}
	}
}
