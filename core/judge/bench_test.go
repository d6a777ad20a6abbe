package judge_test

import (
	"context"
	"encoding/json"
	"fmt"
	"runtime/debug"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/quick"
)

// BenchmarkPass is the pass itself: every hop, every limit, every state and number, without words; memory is collected
// as in the server.
func BenchmarkPass(b *testing.B) {
	defer debug.SetGCPercent(debug.SetGCPercent(300))
	sizes(b, func(r *rig.Rig) { verdict.Look(r, func(*verdict.Verdict) {}) })
}

// BenchmarkRig is the pass with every word and with the ranking of what untested limits depend on.
func BenchmarkRig(b *testing.B) { sizes(b, func(r *rig.Rig) { view.Of(judge.Rig(r), nil) }) }

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
		r := rigtest.Feeds(n)
		b.Run(fmt.Sprintf("feeds=%d", n), func(b *testing.B) { quick.Of(b, func() { do(r) }) })
	}
}

// BenchmarkAdvise is everything a screen shows: words, judged fixes, cure, questions.
func BenchmarkAdvise(b *testing.B) {
	for _, n := range []int{12, 50, 100, 200} {
		r := rigtest.Feeds(n)
		b.Run(fmt.Sprintf("feeds=%d", n), func(b *testing.B) {
			quick.Of(b, func() {
				v := judge.Rig(r)
				view.Of(v, advise.On(context.Background(), v, advise.Effort))
			})
		})
	}
}

// BenchmarkHubs is the pass over forty sticks on ten hubs without supplies, four on each.
func BenchmarkHubs(b *testing.B) {
	r := rigtest.Feeds(40)
	for h := range 10 {
		id := fmt.Sprintf("hub-%d", h)
		hub := rig.Item{ID: id, Label: id, Gear: gear.Gear{Kind: gear.Hub, Name: id,
			Power: &gear.Power{SelfPowered: "no"},
			Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream,
				USB: &gear.USBPort{Speed: "5G"}}}}}
		for k := range 4 {
			port := fmt.Sprintf("h%d", k)
			hub.Gear.Ports = append(hub.Gear.Ports, gear.Port{ID: port, Connector: gear.USBA,
				Direction: gear.Downstream, USB: &gear.USBPort{Speed: "5G"}})
			r.Lead(fmt.Sprintf("u%d", 4*h+k)).To = id + "." + port
		}
		r.Items = append(r.Items, hub)
		r.Leads = append(r.Leads, rig.Lead{ID: id + "-up", From: id + ".up", To: fmt.Sprintf("pc.p%d", 4*h),
			Grade: "usb-5g", LengthM: fact.Exactly(1)})
	}
	require.Empty(b, rig.Check(r))
	b.ReportAllocs()
	for b.Loop() {
		verdict.Look(r, func(*verdict.Verdict) {})
	}
}
