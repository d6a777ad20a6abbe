package place

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/usb"
)

// sticks draws a rig of cameras on capture sticks, in sockets of two controllers and of a hub, placed anyhow.
func sticks(t *rapid.T) *rig.Rig {
	rate := picture.NewRate(30000, 1001)
	hd := picture.Mode{Width: 1920, Height: 1080, Rate: rate}
	r := &rig.Rig{Format: rig.Format, Name: "sticks",
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: rate}, Minutes: 60,
			Program:      rig.Program{Kind: "encoder"},
			Destinations: []rig.Destination{{Name: "d", Send: rig.Send{Width: 1280, Height: 720, Rate: rate}}}}}
	speeds := []usb.Speed{usb.HighSpeed, usb.Gen1, usb.Gen1, usb.Gen2}
	pc := gear.Gear{Kind: gear.Computer, Name: "Computer"}
	var sockets []string
	for c := range 2 {
		up := fact.Exactly(rapid.SampledFrom([]float64{200, 400, 3900}).Draw(t, "uplink"))
		pc.Controllers = append(pc.Controllers, gear.Controller{ID: fmt.Sprintf("c%d", c), UplinkMBps: &up})
		for k := range 3 {
			id := fmt.Sprintf("s%d%d", c, k)
			pc.Ports = append(pc.Ports, gear.Port{ID: id, Connector: gear.USBA, Direction: gear.Downstream,
				Controller: fmt.Sprintf("c%d", c),
				USB:        &gear.USBPort{Speed: rapid.SampledFrom(speeds).Draw(t, "speed")}})
			if c+k > 0 { // the first is the hub's
				sockets = append(sockets, "pc."+id)
			}
		}
	}
	half := fact.Exactly(0.5)
	hub := gear.Gear{Kind: gear.Hub, Name: "Hub",
		Power: &gear.Power{SelfPowered: rapid.SampledFrom([]string{"yes", "no"}).Draw(t, "self"), DrawW: &half},
		Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.Gen1}}}}
	for k := range 3 {
		id := fmt.Sprintf("h%d", k)
		hub.Ports = append(hub.Ports, gear.Port{ID: id, Connector: gear.USBA, Direction: gear.Downstream,
			USB: &gear.USBPort{Speed: usb.Gen1}})
		sockets = append(sockets, "hub."+id)
	}
	sockets = rapid.Permutation(sockets).Draw(t, "sockets")
	for i := range rapid.IntRange(1, 4).Draw(t, "sticks") {
		w := fact.Exactly(rapid.SampledFrom([]float64{1, 2.5, 4}).Draw(t, "watts"))
		cam, stick := fmt.Sprintf("cam-%d", i), fmt.Sprintf("stick-%d", i)
		r.Items = append(r.Items, rig.Item{ID: cam, Label: cam, Gear: gear.Gear{Kind: gear.Camera, Name: "Camera",
			Clean: gear.AlwaysClean, Ports: []gear.Port{{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out,
				Modes: []picture.Mode{hd}}}},
			Set: &rig.Set{Output: map[string]picture.Mode{"hdmi": hd}}},
			rig.Item{ID: stick, Label: stick, Gear: gear.Gear{Kind: gear.Capture, Name: "Stick",
				Power: &gear.Power{DrawW: &w},
				Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In, Modes: []picture.Mode{hd}},
					{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1,
						Transfer: usb.Bulk}}},
				Delivers: slices.Clone(gear.Stick.Gear.Delivers)},
				Set: &rig.Set{Deliver: map[string]rig.Deliver{"usb": {Format: picture.YUY2, Width: 1920,
					Height: 1080}}}})
		r.Leads = append(r.Leads, rig.Lead{ID: "l" + cam, From: cam + ".hdmi", To: stick + ".in", Grade: "high-speed",
			LengthM: fact.Exactly(2)},
			rig.Lead{ID: "l" + stick, From: stick + ".usb", To: sockets[i], Grade: "usb-5g", LengthM: fact.Exactly(0)})
	}
	r.Items = append(r.Items, rig.Item{ID: "pc", Label: "Computer", Gear: pc}, rig.Item{ID: "hub", Label: "Hub",
		Gear: hub})
	r.Leads = append(r.Leads, rig.Lead{ID: "lhub", From: "hub.up", To: "pc.s00", Grade: "usb-5g",
		LengthM: fact.Exactly(0)})
	return r
}

// What is suggested can be done, holds where the judge looks, is best of all the same whatever the order things are
// listed in, and is not improved by asking again.
func TestSuggestions(t *testing.T) {
	possible, moved := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		r := sticks(t)
		require.Empty(t, rig.Check(r))
		s := Suggest(r, Options{})
		require.True(t, s.Proven)
		if !s.Possible {
			require.NotEmpty(t, s.Why)
			require.Empty(t, s.Edits)
			return
		}
		possible++
		after, err := rig.Apply(r, s.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
		v := rules.New(after, rig.NewWiring(after)).Run()
		for i := range v.Results {
			switch l := &v.Results[i]; l.ID.Rule {
			case rules.Bus, rules.Link, rules.PortCurrent:
				require.NotEqual(t, limit.Snapped, l.State, "%s: %s", l.ID, v.Word(l).Says)
			}
		}
		for _, x := range s.Shared {
			require.LessOrEqual(t, x.Suggested, x.Carries*(1+1e-9), x.Name)
		}
		if len(s.Moves) > 0 {
			moved++
		}
		again := Suggest(after, Options{})
		require.True(t, again.Possible)
		require.Empty(t, again.Moves, "what is placed stays")
		require.Equal(t, s.Lost, again.Lost)

		// The order of items, leads and the names of the sockets say nothing.
		other := *r
		other.Items, other.Leads = slices.Clone(r.Items), slices.Clone(r.Leads)
		rand.New(rand.NewPCG(1, uint64(len(r.Items)))).Shuffle(len(other.Items), func(i, j int) {
			other.Items[i], other.Items[j] = other.Items[j], other.Items[i]
		})
		slices.Reverse(other.Leads)
		o := Suggest(&other, Options{})
		require.Equal(t, s.Possible, o.Possible)
		require.Equal(t, s.Sure, o.Sure)
		require.Equal(t, s.Lost, o.Lost)
		require.Len(t, o.Moves, len(s.Moves))
		worst := func(s *Suggestion) (w float64) {
			for _, x := range s.Shared {
				if x.Unit == "MB/s" {
					w = max(w, x.Suggested/x.Carries)
				}
			}
			return
		}
		require.InDelta(t, worst(s), worst(o), 1e-9)
	})
	require.Positive(t, possible)
	require.Positive(t, moved)
}

// Stopped before it began, a search claims nothing.
func TestStoppedSuggestion(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := sticks(t)
		s := Suggest(r, Options{Stop: func() bool { return true }})
		if s.Proven && !s.Possible { // known without a search: a device that works on no socket there is
			require.False(t, Suggest(r, Options{}).Possible, "it ruled out what there is")
		}
		require.Empty(t, s.Changes)
	})
}

func mbps(s usb.Speed) float64 {
	v, _ := usb.BusMBps(s, false, false)
	return v
}

// A dock with a controller of its own has a way up that everything behind it shares: the slowest of its socket, the
// lead and the computer's socket; a tunnel where all three make one; nothing over a lead that only charges. [practice]
func TestDocksHaveAWayUp(t *testing.T) {
	for _, c := range []struct {
		socket usb.Speed
		grade  usb.Grade
		worst  bool
		want   float64 // MB/s; 0 for no sockets at all
	}{
		{usb.Tunnel, usb.Lead40G, true, usb.TunnelMBps},
		{usb.Tunnel, usb.USB2Lead, true, mbps(usb.HighSpeed)},
		{usb.Tunnel, usb.UnknownGrade, true, mbps(usb.HighSpeed)},
		{usb.Gen1, usb.Lead40G, true, mbps(usb.Gen1)},
		{usb.UnknownSpeed, usb.Lead10G, true, mbps(usb.HighSpeed)},
		{usb.UnknownSpeed, usb.Lead10G, false, mbps(usb.Gen2)},
		{usb.Gen1, usb.ChargeOnly, false, 0},
	} {
		port := func(id string, d gear.Direction, s usb.Speed, ctl string) gear.Port {
			return gear.Port{ID: id, Connector: gear.USBC, Direction: d, Controller: ctl, USB: &gear.USBPort{Speed: s}}
		}
		r := &rig.Rig{Format: rig.Format, Items: []rig.Item{
			{ID: "pc", Label: "PC", Gear: gear.Gear{Kind: gear.Computer,
				Ports: []gear.Port{port("c", gear.Downstream, c.socket, "x")}}},
			{ID: "dock", Label: "Dock", Gear: gear.Gear{Kind: gear.Dock, Controllers: []gear.Controller{{ID: "own"}},
				Ports: []gear.Port{port("up", gear.Upstream, usb.Tunnel, ""), port("d1", gear.Downstream, usb.Gen2,
					"own")}}}},
			Leads: []rig.Lead{{ID: "l", From: "dock.up", To: "pc.c", Grade: string(c.grade)}}}
		s := Of(r, c.worst)
		if c.want == 0 {
			require.Empty(t, s.Ports, "%v", c)
			continue
		}
		require.Len(t, s.Ports, 1)
		uses := []Resource{}
		for _, i := range s.Ports[0].Uses {
			uses = append(uses, s.Resources[i])
		}
		require.Contains(t, uses, Resource{"Dock, its way up", BothSides, c.want}, "%v", c)
		past := slices.ContainsFunc(uses, func(r Resource) bool { return r.Name == "PC, x" })
		require.Equal(t, c.want != usb.TunnelMBps, past, "what is tunnelled passes the computer's controller by: %v", c)
	}
}

// A rig with too few sockets of two shapes gets the same reason every time.
func TestOneReason(t *testing.T) {
	r := rigtest.Rig(241)
	first := Suggest(r, Options{Effort: 2000}).Why
	require.Equal(t, "plugs of the shape usb-a: 3, and sockets for them: 2", first)
	for range 30 {
		require.Equal(t, first, Suggest(r, Options{Effort: 2000}).Why)
	}
}
