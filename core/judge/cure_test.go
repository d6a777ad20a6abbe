package judge

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// tryAll is the search without its cleverness: every sequence of at most depth moves, whatever they touch, each rig judged
// whole.
type tryAll struct {
	*search
	tried map[string]bool
}

func (s *tryAll) walk(r *rig.Rig, path []Move, left int) {
	v := Figures(r)
	more := countState(&v, Untested) > s.b.counts[Untested.severity()]
	cured := len(rig.Check(r)) == 0
	for i := range v.Limits {
		l := &v.Limits[i]
		was := State("")
		if k, ok := s.b.p.index[l.ID]; ok {
			was = s.b.p.limits[k].State
		}
		cured = cured && l.State != Snapped && !(l.State == Untested && (was == Snapped || more && was != Untested))
	}
	if cured {
		s.keep(path, v.State)
	}
	if left == 0 {
		return
	}
	for _, m := range movesOn(r, rig.NewGraph(r), nil, true) {
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
	b := baseOf(r)
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
	r := feedsRig(n)
	few := []picture.Mode{*hd(f2997), *hd(picture.R(25)), *hd(picture.R(60))}
	pc := &r.Items[len(r.Items)-1].Gear
	pc.Ports = append(pc.Ports, gear.Port{ID: "slow", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.HighSpeed}},
		gear.Port{ID: "spare", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.Gen2}})
	for i := range n {
		cam, stick := &r.Items[2*i], &r.Items[2*i+1]
		mhz := fact.Exactly(340)
		cam.Gear.Ports = []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out, HDMI: &gear.HDMIPort{MaxTMDSMHz: &mhz}, Modes: few}}
		cam.Gear.Clean = rapid.SampledFrom([]gear.Clean{gear.AlwaysClean, gear.AfterSetting}).Draw(t, "clean")
		cam.Set.Output["hdmi"] = rapid.SampledFrom(few).Draw(t, "mode")
		cam.Gear.Power = nil
		if rapid.Bool().Draw(t, "small battery") {
			w := fact.Exactly(6.5)
			cam.Gear.Power = &gear.Power{DrawW: &w, Mains: gear.MainsDummy, Battery: &gear.BatteryPack{MAh: fact.Exactly(1000), Volts: fact.Exactly(3.6)}}
		}
		stick.Gear.Ports[0].HDMI, stick.Gear.Ports[0].MoreModes = &gear.HDMIPort{MaxTMDSMHz: &mhz}, false
		stick.Gear.Ports = append([]gear.Port(nil), stick.Gear.Ports...)
		stick.Gear.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
		stick.Gear.Delivers = []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)}, {Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: picture.R(60)}}
		stick.Set.Deliver["usb"] = rig.Deliver{Format: rapid.SampledFrom([]picture.Format{picture.YUY2, picture.NV12}).Draw(t, "format")}
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
	r.Uplink = &rig.Uplink{MeasuredMbps: []rig.UplinkReading{{Value: rapid.SampledFrom([]float64{20, 2}).Draw(t, "uplink")}}}
	if n == 2 && rapid.Bool().Draw(t, "hub") {
		r.Items = append(r.Items, rig.Item{ID: "hub", Label: "Hub", Gear: gear.SpareHub.Gear})
		r.Leads[1].To, r.Leads[3].To = "hub.p1", "hub.p2"
		r.Leads = append(r.Leads, rig.Lead{ID: "up", From: "hub.up", To: "pc.p0", Grade: "usb-5g"})
	}
	return r
}

// The cure is as small, as quick and as cheap as the best that trying every set of up to three moves finds.
func TestCureAgainstTryingAll(t *testing.T) {
	cured, sizes := 0, map[int]int{}
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		require.Empty(t, rig.Check(r))
		v := Full(r)
		if v.State != Snapped {
			require.Nil(t, v.Cure)
			return
		}
		const depth = 3
		if v.Cure != nil && len(v.Cure.Moves) > depth {
			require.Nil(t, smallest(r, depth-1), "trying all finds a smaller set")
			return
		}
		want := smallest(r, depth)
		if want == nil {
			require.True(t, v.Cure == nil || len(v.Cure.Moves) > depth || len(v.Cure.GivesUp) > 0)
			return
		}
		require.NotNil(t, v.Cure, "%s", setKey(want.moves))
		require.True(t, v.Cure.Proven)
		require.Equal(t, len(want.moves), len(v.Cure.Moves), "%s", setKey(want.moves))
		require.Equal(t, want.minutes, v.Cure.Minutes)
		require.Equal(t, want.cost, v.Cure.Cost.Amount)
		cured++
		sizes[len(want.moves)]++
	})
	require.Positive(t, cured)
	t.Logf("cured by size: %v", sizes)
}

// What a cure promises is what happens when its edits are made.
func TestCureKeepsItsPromise(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		v := Full(r)
		if v.Cure == nil {
			return
		}
		after, err := rig.Apply(r, v.Cure.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
		now := Full(after)
		require.Equal(t, v.Cure.State, now.State)
		require.NotEqual(t, Snapped, now.State)
		require.LessOrEqual(t, countState(&now, Untested), countState(&v, Untested))
	})
}

// Every fix offered does what it says.
func TestFixesAreJudged(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := faulty(t)
		v := Full(r)
		for _, f := range v.Findings {
			for _, m := range f.Fixes {
				after, err := rig.Apply(r, m.Edits...)
				require.NoError(t, err, m.ID)
				now := Rig(after)
				require.Equal(t, m.Judged.State, now.State, m.ID)
				if l := limitIn(&now, f.Limit); l != nil {
					require.Less(t, l.State.severity(), f.State.severity(), "%s for %s", m.ID, f.Limit)
				}
			}
		}
	})
}

// Two sticks in each other's place: neither socket is free, and changing them over is two moves.
func TestCureChangesPlaces(t *testing.T) {
	r := feedsRig(2)
	pc := &r.Items[4].Gear
	pc.Ports = []gear.Port{
		{ID: "fast", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.Gen1}},
		{ID: "slow", Connector: gear.USBA, Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.HighSpeed}}}
	bits := fact.Exactly(0.1)
	heavy, light := &r.Items[1], &r.Items[3]
	for i, it := range []*rig.Item{heavy, light} {
		it.Gear.Ports = append([]gear.Port(nil), it.Gear.Ports...)
		it.Gear.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
		it.Gear.Delivers = []gear.Delivery{{Format: picture.YUY2, Width: 1920, Height: 1080, MaxRate: picture.R(60)}}
		it.Gear.Name = "one of a kind"
		it.Gear.Ports = append(it.Gear.Ports, gear.Port{ID: "loop", Connector: gear.HDMIA, Direction: gear.Out}) // nothing to buy stands in for it
		it.Set = nil
		r.Items[2*i].Gear.Ports = []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out, Modes: []picture.Mode{*hd(f2997)}}}
		r.Items[2*i].Gear.Clean, r.Items[2*i].Gear.Power = gear.AlwaysClean, nil
	}
	light.Gear.Delivers = []gear.Delivery{{Format: picture.MJPEG, Width: 1920, Height: 1080, MaxRate: picture.R(60), BitsPerPixel: &bits}}
	r.Leads[1].To, r.Leads[3].To = "pc.slow", "pc.fast"
	r.Uplink = &rig.Uplink{MeasuredMbps: []rig.UplinkReading{{Value: 20}}}
	require.Empty(t, rig.Check(r))
	v := Full(r)
	require.Equal(t, Snapped, v.State)
	require.NotNil(t, v.Cure, "%s", Report("", &v))
	require.Len(t, v.Cure.Moves, 2)
	for _, m := range v.Cure.Moves {
		require.Equal(t, "plug", m.Kind)
	}
	require.Contains(t, v.Sentence, "two moves")
	require.Contains(t, v.Sentence, "nothing to buy")
}

// What can be done on the board: every free socket, changing places, every length; each judged.
func TestJudgeOn(t *testing.T) {
	r := feedsRig(2)
	kinds := func(id string) map[string]int {
		n := map[string]int{}
		for _, m := range JudgeOn(t.Context(), r, id) {
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
