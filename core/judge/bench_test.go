package judge

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
)

// feedsRig is a rig of n feeds, each a camera on a stick, on as many computers' sockets and controllers as it takes:
// four to a controller.
func feedsRig(n int) *rig.Rig {
	rate := picture.NewRate(30000, 1001)
	r := &rig.Rig{Format: rig.Format, Name: "bench", Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: rate}, Minutes: 60, Angles: n, AnglesSelectable: true,
		Program: rig.Program{Kind: "encoder"}, Destinations: []rig.Destination{{Name: "d", Send: rig.Send{Width: 1280, Height: 720, Rate: rate}}}}}
	cam, stick := gear.Sources[0].Gear, gear.Stick.Gear
	pc := rig.Item{ID: "pc", Label: "Computer", Gear: gear.Gear{Kind: gear.Computer, Name: "Computer"}}
	for i := range n {
		ctl := fmt.Sprintf("c%d", i/4)
		if i%4 == 0 {
			pc.Gear.Controllers = append(pc.Gear.Controllers, gear.Controller{ID: ctl})
		}
		pc.Gear.Ports = append(pc.Gear.Ports, gear.Port{ID: fmt.Sprintf("p%d", i), Connector: gear.USBA, Direction: gear.Downstream, Controller: ctl, USB: &gear.USBPort{Speed: "5G"}})
		m := picture.Mode{Width: 1920, Height: 1080, Rate: rate}
		r.Items = append(r.Items,
			rig.Item{ID: fmt.Sprintf("cam-%d", i), Label: "Camera", Gear: cam, Set: &rig.Set{Output: map[string]picture.Mode{"hdmi": m}}},
			rig.Item{ID: fmt.Sprintf("stick-%d", i), Label: "Stick", Gear: stick, Set: &rig.Set{Deliver: map[string]rig.Deliver{"usb": {Format: picture.NV12, Width: 1920, Height: 1080}}}})
		r.Leads = append(r.Leads,
			rig.Lead{ID: fmt.Sprintf("h%d", i), From: fmt.Sprintf("cam-%d.hdmi", i), To: fmt.Sprintf("stick-%d.in", i), Grade: "high-speed", LengthM: fact.Est(3, 2, 4)},
			rig.Lead{ID: fmt.Sprintf("u%d", i), From: fmt.Sprintf("stick-%d.usb", i), To: fmt.Sprintf("pc.p%d", i), Grade: "usb-5g", LengthM: fact.Exactly(0)})
	}
	r.Items = append(r.Items, pc)
	return r
}

// BenchmarkPass is the pass itself: every hop, every limit, every state and number, without words.
func BenchmarkPass(b *testing.B) { sizes(b, func(r *rig.Rig) { trial(r, func(*Verdict) {}) }) }

// BenchmarkRig is the pass with every word and with the ranking of what untested limits depend on.
func BenchmarkRig(b *testing.B) { sizes(b, func(r *rig.Rig) { Rig(r) }) }

// BenchmarkReference encodes the same rigs with encoding/json, to compare with on a noisy machine.
func BenchmarkReference(b *testing.B) {
	sizes(b, func(r *rig.Rig) {
		if _, err := json.Marshal(r); err != nil {
			b.Fatal(err)
		}
	})
}

func sizes(b *testing.B, do func(*rig.Rig)) {
	for _, n := range []int{12, 25, 50, 100, 200, 400} {
		r := feedsRig(n)
		b.Run(fmt.Sprintf("feeds=%d", n), func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				do(r)
			}
		})
	}
}

// BenchmarkAdvise is everything a screen shows: words, judged fixes, cure, questions.
func BenchmarkAdvise(b *testing.B) {
	for _, n := range []int{12, 50, 100, 200} {
		r := feedsRig(n)
		b.Run(fmt.Sprintf("feeds=%d", n), func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				Full(r)
			}
		})
	}
}

// BenchmarkHubs is the pass over forty sticks on ten hubs without supplies, four on each.
func BenchmarkHubs(b *testing.B) {
	r := feedsRig(40)
	for h := range 10 {
		id := fmt.Sprintf("hub-%d", h)
		hub := rig.Item{ID: id, Label: id, Gear: gear.Gear{Kind: gear.Hub, Name: id, Power: &gear.Power{SelfPowered: "no"},
			Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: "5G"}}}}}
		for k := range 4 {
			port := fmt.Sprintf("h%d", k)
			hub.Gear.Ports = append(hub.Gear.Ports, gear.Port{ID: port, Connector: gear.USBA, Direction: gear.Downstream, USB: &gear.USBPort{Speed: "5G"}})
			r.Lead(fmt.Sprintf("u%d", 4*h+k)).To = id + "." + port
		}
		r.Items = append(r.Items, hub)
		r.Leads = append(r.Leads, rig.Lead{ID: id + "-up", From: id + ".up", To: fmt.Sprintf("pc.p%d", 4*h), Grade: "usb-5g", LengthM: fact.Exactly(1)})
	}
	require.Empty(b, rig.Check(r))
	b.ReportAllocs()
	for b.Loop() {
		trial(r, func(*Verdict) {})
	}
}
