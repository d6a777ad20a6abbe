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
			Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.HighSpeed}}}}})
		for d := range depth {
			hub := fmt.Sprintf("hub-%d-%d", i, d)
			r.Items = append(r.Items, Item{ID: hub, Label: hub, Gear: gear.SpareHub.Gear})
			r.Leads = append(r.Leads, Lead{ID: fmt.Sprintf("l-%d-%d", i, d), From: at + ".up", To: hub + ".p1", Grade: "usb-2", LengthM: fact.Exactly(1)})
			at = hub
		}
		socket := fmt.Sprintf("s%d", i)
		r.Items[0].Gear.Ports = append(r.Items[0].Gear.Ports, gear.Port{ID: socket, Connector: gear.USBA, Direction: gear.Downstream})
		r.Leads = append(r.Leads, Lead{ID: "end-" + socket, From: at + ".up", To: "pc." + socket, Grade: "usb-2", LengthM: fact.Exactly(1)})
	}
	return r, depths
}

// Any number of hops: every feed arrives, passes each thing once, and each lead joins the hop before to the hop after.
func TestTraceAnyNumberOfHops(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, depths := chain(t)
		require.Empty(t, Check(r))
		g := NewGraph(r)
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
				require.Equal(t, []int{before.Item, before.Out, h.Item, h.In}, []int{fromItem, fromPort, toItem, toPort})
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
		for _, f := range NewGraph(after).Trace() {
			if f.Arrives {
				arrive++
			}
		}
		require.Equal(t, len(depths)-1, arrive)
	})
}
