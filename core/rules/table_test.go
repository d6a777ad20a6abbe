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
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/internal/demo/rigs"
)

// Every rule says what it asks, where it comes from, what happens when it is over, and one case worked by hand; a rule
// with a number has its sum and unit. Nobody is sent to a handbook they do not have.
func TestEveryRuleIsWhole(t *testing.T) {
	require.Greater(t, len(rules.All()), 50)
	for _, r := range rules.All() {
		require.True(t, strings.HasSuffix(r.Asks, "?"), r.Name)
		require.NotEmpty(t, r.Source.Name, r.Name)
		require.NotContains(t, strings.ToLower(r.Source.Name), "handbook", r.Name)
		require.True(t, slices.Contains(fact.Sources, r.Source.Kind), r.Name)
		require.True(t, slices.Contains(limit.Consequences, r.Over), r.Name)
		require.NotEmpty(t, r.Example, r.Name)
		require.NotEmpty(t, r.Subject.String(), "%s stands under no heading", r.Name)
		if r.Sense != limit.Fits {
			require.NotEmpty(t, r.Sum, r.Name)
			require.NotEmpty(t, r.Unit, r.Name)
		}
		require.Same(t, r, rules.Named(r.Name))
	}
}

// docs/rules.md is what the table makes.
func TestRulesInDocsAreCurrent(t *testing.T) {
	have, err := os.ReadFile("../../docs/rules.md")
	require.NoError(t, err)
	require.True(t, rules.Markdown() == string(have),
		"docs/rules.md is not what the table of rules makes: run make generate")
}

// withDock puts a dock between the stick and the computer.
func withDock(grade string) *rig.Rig {
	r := plain()
	mbps := fact.Exactly(2000)
	r.Items = append(r.Items, rig.Item{ID: "dock", Label: "Dock", Gear: gear.Gear{Kind: gear.Dock, Name: "Dock",
		Controllers: []gear.Controller{{ID: "own", UplinkMBps: &mbps}},
		Ports: []gear.Port{{ID: "up", Connector: gear.USBC, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.Tunnel}},
			{ID: "d0", Connector: gear.USBA, Direction: gear.Downstream, Controller: "own",
				USB: &gear.USBPort{Speed: usb.Gen2}}}}})
	pc := r.Item("pc")
	pc.Gear.Ports = append(slices.Clone(pc.Gear.Ports), gear.Port{ID: "c", Connector: gear.USBC,
		Direction: gear.Downstream, Controller: "c0", USB: &gear.USBPort{Speed: usb.Tunnel}})
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
	two := func(spoil func(*rig.Rig)) func() *rig.Rig {
		return func() *rig.Rig { r := rigtest.Feeds(2); spoil(r); return r }
	}
	inset := func(window string) func(*rig.Rig) {
		return func(r *rig.Rig) {
			r.Show.Layouts = []rig.Layout{{Shape: "inset", Sources: []string{"cam-0", "cam-1"}}}
			r.Show.Destinations[0].Window = window
		}
	}
	recorder := rig.Item{ID: "rec", Label: "Recorder", Gear: gear.Gear{Kind: gear.Recorder, Name: "Recorder",
		Ports: []gear.Port{{ID: "in", Connector: gear.HDMIA, Direction: gear.In}}}}
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
		{"a dock over a USB 2 lead", "way-up:dock", func() *rig.Rig { return withDock("usb-2") }, Snapped,
			"goes up Dock"},
		{"the same by a tunnel", "way-up:dock", func() *rig.Rig { return withDock("usb-40g") }, Slack, "of 2750 MB/s"},
		{"a loop-through of another input", "loop-of:switcher.out", hall(func(r *rig.Rig) {
			r.Item("switcher").Gear.Ports[4].LoopOf = "in-1"
		}), Snapped, "comes in elsewhere"},
		{"an input without a scaler", "switcher-mode:switcher:cam-side.hdmi", hall(func(r *rig.Rig) {
			r.Item("switcher").Gear.Ports[2].Scaler = false
		}), Snapped, "has no scaler"},
		{"no overview", "overview:switcher", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Overview = "no" }), Taut,
			"does it blind"},
		{"an overview", "overview:switcher", hall(func(r *rig.Rig) { r.Item("switcher").Gear.Overview = "yes" }),
			Slack, "shows all"},
		{"2160 lines into a call", "program-size:stick-0:cam-0.hdmi", from(func(r *rig.Rig) {
			uhd := picture.Mode{Width: 3840, Height: 2160, Rate: f2997}
			r.Show.Program.Kind = "call"
			r.Items[0].Set.Output["hdmi"] = uhd
			r.Items[1].Gear.Delivers = []gear.Delivery{{Format: picture.NV12, Width: 3840, Height: 2160,
				MaxRate: picture.R(30)}}
			r.Items[1].Set = nil
		}), Taut, "1080 lines at most"},
		{"1080 lines into a call", "program-size:stick-0:cam-0.hdmi", from(func(r *rig.Rig) {
			r.Show.Program.Kind = "call"
		}), Slack, "up to 1080 lines"},
		{"two cameras into a call", "one-camera", two(func(r *rig.Rig) {
			r.Show.Program.Kind, r.Show.Angles, r.Show.AnglesSelectable = "call", 2, false
		}), Kinked, "The call takes one camera, and 2 pictures come to it"},
		{"each wanted by itself in a page", "angles", two(func(r *rig.Rig) {
			r.Show.Program.Kind, r.Show.Angles, r.Show.AnglesSelectable = "destination-page", 2, true
		}), Snapped, "takes one camera at a time"},
		{"the same in a studio", "angles", two(func(r *rig.Rig) {
			r.Show.Program.Kind, r.Show.Angles, r.Show.AnglesSelectable = "browser-studio", 2, true
		}), Slack, "Two pictures"},
		{"a switcher that is nowhere", "who-switches", two(func(r *rig.Rig) {
			r.Show.Angles, r.Show.Switching = 2, "switcher"
		}), Snapped, "A hardware switcher is to change angles, and none is in this rig"},
		{"a switcher that is there", "who-switches", hall(func(r *rig.Rig) { r.Show.Switching = "switcher" }), Slack,
			"A hardware switcher changes angles"},
		{"a pedal that is nowhere", "who-switches", two(func(r *rig.Rig) {
			r.Show.Angles, r.Show.Switching = 2, "pedal"
		}), Taut, "A pedal is to change angles"},
		{"keys, and nobody knows of which computer", "who-switches", two(func(r *rig.Rig) {
			r.Show.Angles, r.Show.Switching = 2, "keys"
		}), Untested, "a laptop has some"},
		{"keys of a laptop", "who-switches", two(func(r *rig.Rig) {
			r.Show.Angles, r.Show.Switching = 2, "keys"
			r.Item("pc").Gear.Class = gear.GoodLaptop
		}), Slack, "The keys of Computer change angles"},
		{"keys of a desktop without a keyboard", "who-switches", two(func(r *rig.Rig) {
			r.Show.Angles, r.Show.Switching = 2, "keys"
			r.Item("pc").Gear.Class = gear.MidDesktop
		}), Taut, "A keyboard is to change angles"},
		{"an inset of two that come by themselves", "arranged:0", two(inset("")), Slack,
			"Camera large; Camera at the bottom right, 25 % of the width, 2.5 % from the edge"},
		{"an inset of what comes through a switcher", "arranged:0", hall(func(r *rig.Rig) {
			r.Show.Layouts = []rig.Layout{{Name: "Talk", Shape: "inset", Sources: []string{"cam-side", "cam-aisle"}}}
		}), Snapped, "does not come to the program by itself: Talk cannot be composed there"},
		{"an inset in a call", "arranged:0", two(func(r *rig.Rig) { inset("")(r); r.Show.Program.Kind = "call" }),
			Snapped, "takes one camera and composes nothing"},
		{"an inset in a 4:3 window", "window:0:0", two(inset("4:3")), Kinked,
			"reaches to 47.5 % of the width from the middle, and the window of 4:3 shows 37.5 %"},
		{"an inset, and nobody has looked in which window", "window:0:0", two(inset("")), Untested,
			"reaches to 47.5 % of the width from the middle, and 15.82 to 50 % may be shown"},
		// 9 ÷ 16 of 9 ÷ 16 of the width in an upright one: 31.6 %
		{"an inset in the shape it is sent in", "window:0:0", two(inset("as-sent")), Slack,
			"in the shape it is sent in"},
		// In an upright picture the programme is a band; a wide window shows 24.1 % of the height, and the inset
		// reaches to 14.4 % of it from the middle: as if 39.7 % of the width were shown. A square and 9:16 show the
		// whole width.
		{"an inset in an upright picture, and nobody has looked", "window:0:0", two(func(r *rig.Rig) {
			inset("")(r)
			r.Show.Destinations[0].Send.Width, r.Show.Destinations[0].Send.Height = 1080, 1920
		}), Untested, "and 39.72 to 50 % may be shown"},
		{"further in", "window:0:0", two(func(r *rig.Rig) { inset("4:3")(r); r.Show.Layouts[0].EdgePct = 12.5 }),
			Slack, "reaches to 37.5 %"},
		{"an inset in a wide window", "window:0:0", two(inset("21:9")), Kinked,
			"of the height from the middle, and the window of 21:9 shows 38.1 %"},
		// 9 ÷ 16 × 21 ÷ 9 wider: 76.2 % of the height
		{"two up in a square", "window:0:0", two(func(r *rig.Rig) {
			inset("1:1")(r)
			r.Show.Layouts[0].Shape = "two-up"
		}), Kinked, "reaches to 50 % of the width from the middle, and the window of 1:1 shows 28.1 %"},
		{"a small camera that is an inset only", "size:stick-1.usb:cam-1.hdmi", two(func(r *rig.Rig) {
			inset("")(r)
			r.Items[3].Set.Deliver["usb"] = rig.Deliver{Format: picture.YUY2, Width: 1280, Height: 720}
		}), Slack, "is as large as its part of the programme or larger: 25 % of the width"},
		{"the same as the large one", "size:stick-0.usb:cam-0.hdmi", two(func(r *rig.Rig) {
			inset("")(r)
			r.Items[1].Set.Deliver["usb"] = rig.Deliver{Format: picture.YUY2, Width: 1280, Height: 720}
		}), Kinked, "enlarged 1.5×"},
		{"a recorder nothing gets to", "recorded:0", from(func(r *rig.Rig) {
			r.Items = append(r.Items, recorder)
			r.Show.Recordings = []rig.Recording{{What: "programme", Drive: "rec"}}
		}), Snapped, "it records nothing"}, {"two plugs for one socket", "one-plug:u0:more", from(func(r *rig.Rig) {
			// half a change: no document has it
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
	alone := two(func(r *rig.Rig) { inset("1:1")(r); r.Show.Layouts[0].Shape = "full" })()
	v := Rig(alone)
	require.Nil(t, limitIn(&v, "window:0:0"), "a picture alone may lose its sides")
	v = Rig(two(func(r *rig.Rig) { r.Show.Program.Kind, r.Show.Angles, r.Show.AnglesSelectable = "call", 1, false })())
	require.Nil(t, limitIn(&v, "one-camera"), "who wants one angle changes none")
}

// Every yes or no that can be bad has few words on the board, and none is for a rule or a field that is not there.
func TestEveryYesOrNoHasFewWords(t *testing.T) {
	for _, r := range rules.All() {
		if r.Sense == limit.Fits && r.Over != limit.Care {
			require.NotEmpty(t, r.Board.Bad, "%s says nothing on the board when it is bad", r.Name)
		}
	}
}
