package rig

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/usb"
)

// chain is n webcams, each behind a chain of hubs of its own drawn depth, in one computer.
func chain(t *rapid.T) (*Rig, []int) {
	r := small()
	r.Items, r.Leads = r.Items[3:], nil
	pc := &r.Items[0].Gear
	pc.Ports = nil
	var depths []int
	for i := range rapid.IntRange(1, 6).Draw(t, "webcams") {
		depth := rapid.IntRange(0, 5).Draw(t, "depth")
		depths = append(depths, depth)
		at := fmt.Sprintf("web-%d", i)
		r.Items = append(r.Items, Item{ID: at, Label: at, Gear: gear.Gear{Kind: gear.Webcam, Name: "Webcam",
			Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream,
				USB: &gear.USBPort{Speed: usb.HighSpeed}}}}})
		for d := range depth {
			hub := fmt.Sprintf("hub-%d-%d", i, d)
			r.Items = append(r.Items, Item{ID: hub, Label: hub, Gear: gear.SpareHub.Gear})
			r.Leads = append(r.Leads, Lead{ID: fmt.Sprintf("l-%d-%d", i, d), From: at + ".up", To: hub + ".p1",
				Grade: "usb-2", LengthM: fact.Exactly(1)})
			at = hub
		}
		socket := fmt.Sprintf("s%d", i)
		r.Items[0].Gear.Ports = append(r.Items[0].Gear.Ports, gear.Port{ID: socket, Connector: gear.USBA,
			Direction: gear.Downstream})
		r.Leads = append(r.Leads, Lead{ID: "end-" + socket, From: at + ".up", To: "pc." + socket, Grade: "usb-2",
			LengthM: fact.Exactly(1)})
	}
	return r, depths
}

// Any number of hops: every feed arrives, passes each thing once, and each lead joins the hop before to the hop after.
func TestTraceAnyNumberOfHops(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, depths := chain(t)
		require.Empty(t, Check(r))
		g := NewWiring(r)
		feeds := g.Trace()
		require.Len(t, feeds, len(depths))
		for i, f := range feeds {
			require.True(t, f.Arrives)
			require.Len(t, f.Hops, depths[i]+2)
			seen := map[int]bool{}
			for k, h := range f.Hops {
				require.False(t, seen[h.Item])
				seen[h.Item] = true
				if k == 0 {
					require.Equal(t, -1, h.LeadIn)
					continue
				}
				before := f.Hops[k-1]
				fromItem, fromPort, toItem, toPort := g.LeadEnds(h.LeadIn)
				require.Equal(t, []int{before.Item, before.Out, h.Item, h.In}, []int{fromItem, fromPort, toItem,
					toPort})
			}
		}
	})
}

// Taking out one lead anywhere stops just the feed that went through it.
func TestUnpluggingStopsOneFeed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, depths := chain(t)
		out := rapid.IntRange(0, len(r.Leads)-1).Draw(t, "lead")
		after, err := Apply(r, Edit{Do: "unplug", Lead: r.Leads[out].ID})
		require.NoError(t, err)
		arrive := 0
		for _, f := range NewWiring(after).Trace() {
			if f.Arrives {
				arrive++
			}
		}
		require.Equal(t, len(depths)-1, arrive)
	})
}

// Switchers in layers, two leads from each to the next, that reach the computer or do not: the ways are as many as the
// leads at most, however many there are to choose from (2^24 here), and every lead stands in one.
func TestTraceLayersOfSwitchers(t *testing.T) {
	for _, arrives := range []bool{true, false} {
		r := small()
		pc := r.Items[3]
		r.Items, r.Leads = r.Items[:1], nil
		const layers = 24
		at := "cam.hdmi"
		for i := range layers {
			id := fmt.Sprintf("sw-%d", i)
			sw := Item{ID: id, Label: id, Gear: gear.Gear{Kind: gear.Switcher, Name: id, Ports: []gear.Port{
				{ID: "in-1", Connector: gear.HDMIA, Direction: gear.In}, {ID: "in-2", Connector: gear.HDMIA,
					Direction: gear.In},
				{ID: "out-1", Connector: gear.HDMIA, Direction: gear.Out}, {ID: "out-2", Connector: gear.HDMIA,
					Direction: gear.Out},
				{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream}}}}
			r.Items = append(r.Items, sw)
			lay := func(n, from, to string) {
				r.Leads = append(r.Leads, Lead{ID: fmt.Sprintf("l-%d-%s", i, n), From: from, To: to,
					Grade: "high-speed", LengthM: fact.Exactly(1)})
			}
			lay("a", at, id+".in-1")
			if i > 0 {
				lay("b", fmt.Sprintf("sw-%d.out-2", i-1), id+".in-2")
			}
			at = id + ".out-1"
		}
		r.Items = append(r.Items, pc)
		if arrives {
			r.Leads = append(r.Leads, Lead{ID: "usb", From: fmt.Sprintf("sw-%d.usb", layers-1),
				To: "pc." + pc.Gear.Ports[0].ID, Grade: "usb-5g", LengthM: fact.Exactly(1)})
		}
		require.Empty(t, Check(r))
		feeds := NewWiring(r).Trace()
		require.LessOrEqual(t, len(feeds), len(r.Leads))
		seen := map[int]bool{}
		for _, f := range feeds {
			for _, h := range f.Hops[1:] {
				seen[h.LeadIn] = true
			}
		}
		require.Len(t, seen, len(r.Leads))
		require.Equal(t, arrives, feeds[0].Arrives)
		require.False(t, feeds[0].Branch)
	}
}

// A hub plugged in below itself, or two hubs into each other, is a loop however the leads are called.
func TestHubsInCircles(t *testing.T) {
	for _, turned := range []bool{false, true} {
		r := small()
		for i := range 2 {
			id := fmt.Sprintf("ring-%d", i)
			r.Items = append(r.Items, Item{ID: id, Label: id, Gear: gear.SpareHub.Gear})
		}
		for i := range 2 {
			l := Lead{ID: fmt.Sprintf("ring-lead-%d", i), From: fmt.Sprintf("ring-%d.up", i),
				To: fmt.Sprintf("ring-%d.p1", 1-i), Grade: "usb-5g", LengthM: fact.Exactly(1)}
			if turned {
				l.From, l.To = l.To, l.From
			}
			r.Leads = append(r.Leads, l)
		}
		problems := Check(r)
		require.Len(t, problems, 1)
		require.Contains(t, problems[0].Text, "the leads make a loop: ring-")
		require.NotPanics(t, func() { NewWiring(r).Trace() })
	}
}
