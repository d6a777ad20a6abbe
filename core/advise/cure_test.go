package advise

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/say"
	"eventether/core/usb"
	"eventether/core/verdict"
)

var f2997 = picture.NewRate(30000, 1001)

func hd(r picture.Rate) *picture.Mode { return &picture.Mode{Width: 1920, Height: 1080, Rate: r} }

// full judges a rig and advises.
func full(r *rig.Rig) (*verdict.Verdict, *Advice) {
	v := judge.Rig(r)
	return v, On(context.Background(), v, Effort)
}

// tryAll is the search without its cleverness: every sequence of at most depth moves, whatever they touch, each rig
// judged whole.
type tryAll struct {
	*search
	tried map[string]bool
}

func (s *tryAll) walk(r *rig.Rig, path []Move, left int) {
	v := judge.Rig(r)
	more := v.Count(limit.Untested) > s.b.Counts[limit.Untested.Severity()]
	cured := len(rig.Check(r)) == 0
	for i := range v.Results {
		l := &v.Results[i]
		var was limit.State
		if have := s.b.Find(l.ID); have != nil {
			was = have.State
		}
		cured = cured && l.State != limit.Snapped && !(l.State == limit.Untested && (was == limit.Snapped ||
			more && was != limit.Untested))
	}
	if cured {
		s.keep(path, v.State)
	}
	if left == 0 {
		return
	}
	for _, m := range movesOn(verdict.Bare(r, rig.NewWiring(r)), nil) {
		if s.lossless && m.GivesUp != "" || usesSlot(path, m.Slot) {
			continue
		}
		trail := append(append([]Move(nil), path...), m)
		if key := setKey(trail); !s.tried[key] {
			s.tried[key] = true
			after, err := rig.Apply(r, m.Edits...)
			if err == nil {
				s.walk(after, trail, left-1)
			}
		}
	}
}

// smallest is the best set of at most depth moves found by trying all.
func smallest(r *rig.Rig, depth int) *found {
	b := verdict.BaseOf(judge.Rig(r))
	for _, lossless := range []bool{true, false} {
		for d := 1; d <= depth; d++ {
			s := &tryAll{&search{root: r, b: b, lossless: lossless}, map[string]bool{}}
			s.walk(r, nil, d)
			if s.best != nil {
				return s.best
			}
		}
	}
	return nil
}

// faulty draws a small rig with faults: one or two cameras on sticks, perhaps on a hub or a slow socket, leads that may
// be too long, rates that may not fit, batteries that may be small.
func faulty(t *rapid.T) *rig.Rig {
	n := rapid.IntRange(1, 2).Draw(t, "feeds")
	r := rigtest.Feeds(n)
	few := []picture.Mode{*hd(f2997), *hd(picture.R(25)), *hd(picture.R(60))}
	pc := &r.Items[len(r.Items)-1].Gear
	pc.Ports = append(pc.Ports, gear.Port{ID: "slow", Connector: gear.USBA, Direction: gear.Downstream,
		Controller: "c0", USB: &gear.USBPort{Speed: usb.HighSpeed}},
		gear.Port{ID: "spare", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0",
			USB: &gear.USBPort{Speed: usb.Gen2}})
	for i := range n {
		cam, stick := &r.Items[2*i], &r.Items[2*i+1]
		mhz := fact.Exactly(340)
		cam.Gear.Ports = []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out,
			HDMI: &gear.HDMIPort{MaxTMDSMHz: &mhz}, Modes: few}}
		cam.Gear.Clean = rapid.SampledFrom([]gear.Clean{gear.AlwaysClean, gear.AfterSetting}).Draw(t, "clean")
		cam.Set.Output["hdmi"] = rapid.SampledFrom(few).Draw(t, "mode")
		cam.Gear.Power = nil
		if rapid.Bool().Draw(t, "small battery") {
			w := fact.Exactly(6.5)
			cam.Gear.Power = &gear.Power{DrawW: &w, Mains: gear.MainsDummy,
				Battery: &gear.BatteryPack{MAh: fact.Exactly(1000), Volts: fact.Exactly(3.6)}}
		}
		stick.Gear.Ports[0].HDMI, stick.Gear.Ports[0].MoreModes = &gear.HDMIPort{MaxTMDSMHz: &mhz}, false
		stick.Gear.Ports = append([]gear.Port(nil), stick.Gear.Ports...)
		stick.Gear.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
		stick.Gear.Delivers = []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080,
			MaxRate: picture.R(60)}, {Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: picture.R(60)}}
		stick.Set.Deliver["usb"] = rig.Deliver{Format: rapid.SampledFrom([]picture.Format{picture.YUY2, picture.NV12}).
			Draw(t, "format")}
		r.Leads[2*i].LengthM = fact.Exactly(rapid.SampledFrom([]float64{2, 16}).Draw(t, "length"))
		r.Leads[2*i].Grade = rapid.SampledFrom([]string{"high-speed", "standard", "active"}).Draw(t, "grade")
		if r.Leads[2*i].Grade == "active" {
			r.Leads[2*i].Direction = rapid.SampledFrom([]string{"right", "wrong"}).Draw(t, "direction")
		}
		if rapid.Bool().Draw(t, "sleepy") {
			cam.Gear.Settings = []gear.Setting{{ID: "auto-power-off", As: "on"}}
		}
		if i == 0 && rapid.Bool().Draw(t, "slow socket") {
			r.Leads[1].To = "pc.slow"
		}
	}
	r.Uplink = &rig.Uplink{MeasuredMbps: []rig.UplinkReading{{Value: rapid.SampledFrom([]float64{20, 2}).Draw(t,
		"uplink")}}}
	if n == 2 && rapid.Bool().Draw(t, "hub") {
		r.Items = append(r.Items, rig.Item{ID: "hub", Label: "Hub", Gear: gear.SpareHub.Gear})
		r.Leads[1].To, r.Leads[3].To = "hub.p1", "hub.p2"
		r.Leads = append(r.Leads, rig.Lead{ID: "up", From: "hub.up", To: "pc.p0", Grade: "usb-5g"})
	}
	return r
}

// The cure is as small, as quick and as cheap as the best that trying every set of up to three moves finds.
func TestCureAgainstTryingAll(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	cured, sizes := 0, map[int]int{}
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		require.Empty(t, rig.Check(r))
		v := judge.Rig(r)
		if v.State != limit.Snapped {
			return
		}
		s := &search{ctx: t.Context(), root: v.Rig, b: verdict.BaseOf(v), limit: Effort}
		got, proven := s.cure()
		const depth = 3
		if got != nil && len(got.moves) > depth {
			require.Nil(t, smallest(v.Rig, depth-1), "trying all finds a smaller set")
			return
		}
		want := smallest(v.Rig, depth)
		if want == nil {
			require.True(t, got == nil || len(got.moves) > depth || slices.ContainsFunc(got.moves, func(m Move) bool {
				return m.GivesUp != ""
			}))
			return
		}
		require.NotNil(t, got, "%s", setKey(want.moves))
		require.True(t, proven)
		require.Equal(t, len(want.moves), len(got.moves), "%s", setKey(want.moves))
		require.Equal(t, want.minutes, got.minutes)
		require.Equal(t, want.cost, got.cost)
		cured++
		sizes[len(want.moves)]++
	})
	require.Positive(t, cured)
	t.Logf("cured by size: %v", sizes)
}

// After a cure no flaw is left that a single move mends for nothing, and none is there that was not there before.
func TestCureMendsFlaws(t *testing.T) {
	mended := 0
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		v, a := full(r)
		if a.Cure == nil || a.WayOut {
			return
		}
		after, err := rig.Apply(v.Rig, a.Cure.Edits...)
		require.NoError(t, err)
		now := verdict.As(after)
		for i := range now.Results {
			if l := &now.Results[i]; l.State == limit.Kinked && len(a.Cure.GivesUp) == 0 {
				was := v.Find(l.ID)
				require.NotNil(t, was, "%s", l.ID)
				require.Equal(t, limit.Kinked, was.State, "%s", l.ID)
			}
		}
		mended += max(0, v.Count(limit.Kinked)-now.Count(limit.Kinked))
	})
	require.Positive(t, mended)
}

// What a cure promises is what happens when its edits are made.
func TestCureKeepsItsPromise(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		v, a := full(r)
		if a.Cure == nil {
			return
		}
		after, err := rig.Apply(r, a.Cure.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
		now, _ := full(after)
		require.Equal(t, a.Cure.State, now.State)
		require.NotEqual(t, limit.Snapped, now.State)
		require.LessOrEqual(t, now.Count(limit.Untested), v.Count(limit.Untested))
	})
}

// Every fix offered does what it says.
func TestFixesAreJudged(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		v, a := full(r)
		for _, f := range a.Findings {
			for _, member := range f.Members {
				for _, m := range member.Fixes {
					after, err := rig.Apply(v.Rig, m.Edits...)
					require.NoError(t, err, m.ID)
					now := verdict.As(after)
					require.Equal(t, m.Judged.State, now.State, m.ID)
					if l := now.Find(member.Result.ID); l != nil {
						require.Less(t, l.State.Severity(), member.Result.State.Severity(), "%s for %s", m.ID,
							member.Result.ID)
					}
				}
			}
		}
	})
}

// What makes an untested limit less leaves it untested, strains nothing, and is named only where no move settles it.
func TestEasesMakeLess(t *testing.T) {
	seen := 0
	for _, seed := range []uint64{0, 3, 4, 5, 27, 28} {
		v := judge.Rig(rigtest.Rig(seed))
		for _, f := range On(context.Background(), v, Effort).Findings {
			for _, member := range f.Members {
				for _, m := range member.Eases {
					seen++
					require.Equal(t, limit.Untested, member.Result.State)
					require.Empty(t, member.Fixes)
					require.Empty(t, m.Judged.Strains)
					from, as := v.Rig, verdict.As
					if m.anew {
						from, as = rigtest.Rig(seed), judge.Rig
					}
					after, err := rig.Apply(from, m.Edits...)
					require.NoError(t, err, m.ID)
					l := as(after).Find(member.Result.ID)
					require.Equal(t, limit.Untested, l.State, m.ID)
					require.LessOrEqual(t, l.Ratio.High, worthLess*member.Result.Ratio.High, m.ID)
					require.LessOrEqual(t, l.Ratio.High, float64(inReach), m.ID)
					require.Contains(t, m.Judged.Words, say.Percent(l.Ratio), "seed %d: %s", seed, m.ID)
				}
			}
		}
	}
	require.Greater(t, seen, 8)
}

// Two sticks in each other's place: neither socket is free, and changing them over is two moves.
func TestCureChangesPlaces(t *testing.T) {
	r := rigtest.Feeds(2)
	pc := &r.Items[4].Gear
	pc.Ports = []gear.Port{
		{ID: "fast", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0",
			USB: &gear.USBPort{Speed: usb.Gen1}},
		{ID: "slow", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0",
			USB: &gear.USBPort{Speed: usb.HighSpeed}}}
	bits := fact.Exactly(0.1)
	heavy, light := &r.Items[1], &r.Items[3]
	for i, it := range []*rig.Item{heavy, light} {
		it.Gear.Ports = append([]gear.Port(nil), it.Gear.Ports...)
		it.Gear.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
		it.Gear.Delivers = []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)}}
		it.Gear.Name = "one of a kind"
		it.Gear.Ports = append(it.Gear.Ports, gear.Port{ID: "loop", Connector: gear.HDMIA,
			Direction: gear.Out}) // nothing to buy stands in for it
		it.Set = nil
		r.Items[2*i].Gear.Ports = []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out,
			Modes: []picture.Mode{*hd(f2997)}}}
		r.Items[2*i].Gear.Clean, r.Items[2*i].Gear.Power = gear.AlwaysClean, nil
	}
	light.Gear.Delivers = []gear.Delivery{{Format: picture.MJPEG, Width: 1920, Height: 1080, MaxRate: picture.R(60),
		BitsPerPixel: &bits}}
	r.Leads[1].To, r.Leads[3].To = "pc.slow", "pc.fast"
	r.Uplink = &rig.Uplink{MeasuredMbps: []rig.UplinkReading{{Value: 20}}}
	require.Empty(t, rig.Check(r))
	v, a := full(r)
	require.Equal(t, limit.Snapped, v.State)
	require.NotNil(t, a.Cure)
	require.Len(t, a.Cure.Moves, 2)
	for _, m := range a.Cure.Moves {
		require.Equal(t, "plug", m.Kind)
	}
	require.Zero(t, a.Cure.Cost.Amount)
}

// What can be done on the board: every free socket, changing places, every length; each judged.
func TestJudgeOn(t *testing.T) {
	r := rigtest.Feeds(2)
	kinds := func(id string) map[string]int {
		n := map[string]int{}
		for _, m := range JudgeOn(t.Context(), judge.Rig(r), id) {
			require.NotNil(t, m.Judged, m.ID)
			require.Equal(t, id, m.Of)
			n[m.Kind]++
		}
		return n
	}
	require.Equal(t, 1, kinds("u0")["plug"], "the other socket is taken: change places")
	require.Greater(t, kinds("h0")["length"], 8)
	require.Greater(t, kinds("cam-0")["mode"], 10)
	require.Equal(t, 3, kinds("stick-0")["deliver"])
	require.Equal(t, 2, kinds("stick-0")["swap"])
	require.Equal(t, 2, kinds("pc")["swap"], "a laptop or a desktop")
	require.Empty(t, kinds("nobody"))
}
