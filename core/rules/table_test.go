package rules_test

import (
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/internal/demo/rigs"
)

// Every rule says what it asks, where it comes from, what happens when it is over, and one case worked by hand; a rule with
// a number has its sum and unit. Nobody is sent to a handbook they do not have.
func TestEveryRuleIsWhole(t *testing.T) {
	require.Greater(t, len(rules.All()), 50)
	for _, r := range rules.All() {
		require.True(t, strings.HasSuffix(r.Asks, "?"), r.ID)
		require.NotEmpty(t, r.Source.Name, r.ID)
		require.NotContains(t, strings.ToLower(r.Source.Name), "handbook", r.ID)
		require.True(t, slices.Contains(fact.Sources, r.Source.Kind), r.ID)
		require.True(t, slices.Contains(limit.Consequences, r.Over), r.ID)
		require.NotEmpty(t, r.Example, r.ID)
		require.NotEmpty(t, r.Chapter, r.ID)
		require.NotEmpty(t, r.Subject(), "%s stands under no heading", r.ID)
		if r.Sense != limit.Fits {
			require.NotEmpty(t, r.Sum, r.ID)
			require.NotEmpty(t, r.Unit, r.ID)
		}
		require.Equal(t, r, rules.ByID(r.ID))
	}
}

// docs/rules.md is what the table makes.
func TestRulesInDocsAreCurrent(t *testing.T) {
	have, err := os.ReadFile("../../docs/rules.md")
	require.NoError(t, err)
	require.True(t, rules.Markdown() == string(have), "docs/rules.md is not what the table of rules makes: run make generate")
}

// withDock puts a dock between the stick and the computer.
func withDock(grade string) *rig.Rig {
	r := plain()
	mbps := fact.Exactly(2000)
	r.Items = append(r.Items, rig.Item{ID: "dock", Label: "Dock", Gear: gear.Gear{Kind: gear.Dock, Name: "Dock", Controllers: []gear.Controller{{ID: "own", UplinkMBps: &mbps}},
		Ports: []gear.Port{{ID: "up", Connector: gear.USBC, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Tunnel}},
			{ID: "d0", Connector: gear.USBA, Direction: gear.Downstream, Controller: "own", USB: &gear.USBPort{Speed: usb.Gen2}}}}})
	pc := r.Item("pc")
	pc.Gear.Ports = append(slices.Clone(pc.Gear.Ports), gear.Port{ID: "c", Connector: gear.USBC, Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.Tunnel}})
	r.Lead("u0").To = "dock.d0"
	r.Leads = append(r.Leads, rig.Lead{ID: "up", From: "dock.up", To: "pc.c", Grade: grade, LengthM: fact.Exactly(0.5)})
	return r
}

// The rules that show only on rigs of their own.
func TestRulesOfTheirOwn(t *testing.T) {
	hall := func(spoil func(*rig.Rig)) func() *rig.Rig {
		return func() *rig.Rig {
			r := rigs.Hall()
			sw := r.Item("switcher")
			sw.Gear.Ports = slices.Clone(sw.Gear.Ports)
			spoil(r)
			return r
		}
	}
	from := func(spoil func(*rig.Rig)) func() *rig.Rig {
		return func() *rig.Rig { r := plain(); spoil(r); return r }
	}
	recorder := rig.Item{ID: "rec", Label: "Recorder", Gear: gear.Gear{Kind: gear.Recorder, Name: "Recorder", Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In}}}}
	for _, c := range []struct {
		name, limit string
		rig         func() *rig.Rig
		want        State
		says        string
	}{
		{"a format the device does not deliver", "delivers:stick-0.usb", from(func(r *rig.Rig) {
			r.Items[1].Set = &rig.Set{Deliver: map[string]rig.Deliver{"usb": {Format: picture.RGB24}}}
		}), Snapped, "does not deliver RGB24"},
		{"one it does", "delivers:stick-0.usb", plain, Slack, "delivers NV12"},
		{"a dock over a USB 2 lead", "way-up:dock", func() *rig.Rig { return withDock("usb-2") }, Snapped, "goes up Dock"},
		{"the same by a tunnel", "way-up:dock", func() *rig.Rig { return withDock("usb-40g") }, Slack, "of 2750 MB/s"},
		{"a loop-through of another input", "loop-of:switcher.out", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Ports[4].LoopOf = "in-1" }), Snapped, "comes in elsewhere"},
		{"an input without a scaler", "switcher-mode:switcher:cam-side.hdmi", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Ports[2].Scaler = false }), Snapped, "has no scaler"},
		{"no overview", "overview:switcher", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Overview = "no" }), Taut, "does it blind"},
		{"an overview", "overview:switcher", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Overview = "yes" }), Slack, "shows all"},
		{"2160 lines into a call", "program-size:stick-0:cam-0.hdmi", from(func(r *rig.Rig) {
			uhd := picture.Mode{Width: 3840, Height: 2160, Rate: f2997}
			r.Show.Program.Kind = "call"
			r.Items[0].Set.Output["hdmi"] = uhd
			r.Items[1].Gear.Delivers = []gear.Delivery{{Format: picture.NV12, Width: 3840, Height: 2160, MaxRate: picture.R(30)}}
			r.Items[1].Set = nil
		}), Taut, "1080 lines at most"},
		{"1080 lines into a call", "program-size:stick-0:cam-0.hdmi", from(func(r *rig.Rig) { r.Show.Program.Kind = "call" }), Slack, "up to 1080 lines"},
		{"a recorder nothing gets to", "recorded:0", from(func(r *rig.Rig) {
			r.Items = append(r.Items, recorder)
			r.Show.Recordings = []rig.Recording{{What: "programme", Drive: "rec"}}
		}), Snapped, "it records nothing"},
		{"two plugs for one socket", "one-plug:u0:more", from(func(r *rig.Rig) { // half a change: no document has it
			more := r.Items[1]
			more.ID = "stick-1"
			r.Items = append(r.Items, more)
			r.Leads = append(r.Leads, rig.Lead{ID: "more", From: "stick-1.usb", To: r.Lead("u0").To, Grade: "usb-5g"})
		}), Snapped, "one socket"},
	} {
		t.Run(c.name, func(t *testing.T) {
			v := Rig(c.rig())
			row(c.limit)
			l := limitIn(&v, c.limit)
			require.NotNil(t, l, "%v", ids(&v))
			require.Equal(t, c.want, l.State, l.Says)
			require.Contains(t, l.Says, c.says)
		})
	}
}
