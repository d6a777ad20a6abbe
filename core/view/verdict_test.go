package view_test

import (
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/usb"
)

// The hops of a feed follow the stages, and a feed is as bad as its worst hop.
func TestHopsFollowTheStages(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := rigtest.Rig(rapid.Uint64Range(1, 4000).Draw(t, "seed"))
		v := Rig(r)
		worst := limit.Slack
		for _, f := range v.Feeds {
			last, state, feed := -1, limit.Slack, limit.Slack
			for _, h := range f.Hops {
				at := slices.Index(plans.Stages, h.Stage)
				require.GreaterOrEqual(t, at, last, "%s: %s comes too late", f.ID, h.Stage)
				last, state = at, limit.Worse(state, h.State)
				if h.State != limit.Untested {
					feed = limit.Worse(feed, h.State)
				}
				require.NotEmpty(t, h.Label, "%+v", h)
				require.True(t, h.Room >= 0 && h.Room <= 1)
				for _, id := range h.Limits {
					l := limitIn(&v, id)
					require.NotNil(t, l, id)
					if l.Over.Breaks() || l.State == limit.Kinked {
						require.LessOrEqual(t, l.State.Severity(), h.State.Severity(), "%s in %s", id, h.Ref)
						worst = limit.Worse(worst, l.State)
					} else if l.State == limit.Untested { // dotted there, and there only
						require.GreaterOrEqual(t, h.State.Severity(), limit.Kinked.Severity())
					}
				}
			}
			require.LessOrEqual(t, f.State.Severity(), state.Severity())
			require.GreaterOrEqual(t, f.State.Severity(), feed.Severity())
		}
		for i := range v.Limits {
			if l := &v.Limits[i]; l.Over.Breaks() || l.State == limit.Kinked {
				worst = limit.Worse(worst, l.State)
			}
		}
		require.Equal(t, worst, v.State)
	})
}

func TestSentences(t *testing.T) {
	const open = " Not judged yet: sound."
	for _, c := range []struct {
		name  string
		edits []rig.Edit
		spoil func(*rig.Rig)
		want  string
	}{
		{"slack", nil, nil, "Holds as proposed with room to spare." + open},
		{"taut", []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: &fact.Fact{Value: 9, Low: 9, High: 9,
			From: fact.Given}}}, nil,
			"Holds as proposed, with little to spare: The lead from Camera to Stick is 9 m long; it carries 74.18 MHz for 10 to 15 m." +
				open},
		{"untested", []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "unknown"}}, nil,
			"Holds as proposed with room to spare." + open},
		{"one move", []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "after-setting"},
			{Do: "info-display", Item: "cam-0", Word: "on"}}, nil,
			"Holds as proposed, with one flaw; one move would mend it: 1 minute, nothing to buy." + open},
		{"one fact", nil, func(r *rig.Rig) { r.Uplink = nil }, "Holds as proposed if one fact turns out well."},
		{"a move and an open point", []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "after-setting"},
			{Do: "info-display", Item: "cam-0", Word: "on"}}, func(r *rig.Rig) { r.Uplink = nil },
			"Holds as proposed if one fact turns out well. With one flaw."},
		{"something to buy", []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: &fact.Fact{Value: 16, Low: 16,
			High: 16, From: fact.Given}}}, nil,
			"Holds after one move: 10 minutes, about 82 EUR to buy."},
		{"something to give up", nil, func(r *rig.Rig) { r.Uplink = line(1) },
			"Holds after one move: 1 minute, nothing to buy."},
		{"nothing helps", nil, func(r *rig.Rig) { r.Items[0].Gear.Clean = gear.NeverClean },
			"Holds as proposed, with one flaw: Camera never sends a clean picture by this output." + open},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := plain()
			if c.spoil != nil {
				c.spoil(r)
			}
			r, err := rig.Apply(r, c.edits...)
			require.NoError(t, err)
			v := Full(r)
			require.Equal(t, c.want, v.Sentence)
		})
	}
}

// What leaves the programme: each destination and each recording with its limits, and what codes it.
func TestOuts(t *testing.T) {
	r := plain()
	r.Show.Destinations[0].Ingest = &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxVideoKbps: 4000,
		CheckedOn: "2026-09-01"}
	r.Show.Recordings = []rig.Recording{{What: "programme"}, {What: "cam-0"}}
	v := Rig(r)
	require.Len(t, v.Outs, 3)
	require.Equal(t, []string{"ingest:0", "ingest-bitrate:0", "ingest-least:0", "ingest-audio:0", "codec:0",
		"transport:0", "sent-size:0", "bits-a-pixel:0", "sent-cadence:0", "range:0", "uplink", "processor:pc",
		"graphics:pc", "memory-traffic:pc"}, v.Outs[0].Limits)
	require.True(t, v.Outs[0].Judged)
	require.Regexp(t, "^1280×720 at 29.97, software, [a-z]+fast$", v.Outs[0].Detail)
	require.Equal(t, "Recording of programme", v.Outs[1].Label)
	require.Equal(t, "Recording of Camera", v.Outs[2].Label)
	for i, o := range v.Outs[1:] { // how much is free on the computer's own drive nobody has said
		require.True(t, o.Judged)
		require.Equal(t, limit.Untested, o.State)
		require.Subset(t, o.Limits, []string{"container:" + strconv.Itoa(i), "drive-write:pc", "drive-space:pc",
			"processor:pc"})
	}
}

// A switcher joins its sources: one stream to the computer, one picture to pick from.
func TestSwitcherGivesOneAngle(t *testing.T) {
	r := feedsRig(2)
	in := func(id string) gear.Port {
		return gear.Port{ID: id, Connector: gear.HDMIA, Direction: gear.In, MoreModes: true}
	}
	r.Items = slices.DeleteFunc(r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Capture })
	r.Items = append(r.Items, rig.Item{ID: "mix", Label: "Switcher", Gear: gear.Gear{Kind: gear.Switcher,
		Name: "Switcher",
		Ports: []gear.Port{in("in-1"), in("in-2"), {ID: "usb", Connector: gear.USBA, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}}},
		Delivers: []gear.Delivery{{Format: picture.MJPEG, Width: 1920, Height: 1080, MaxRate: picture.R(60)}}}})
	r.Leads = []rig.Lead{
		{ID: "a", From: "cam-0.hdmi", To: "mix.in-1", Grade: "high-speed", LengthM: fact.Exactly(2)},
		{ID: "b", From: "cam-1.hdmi", To: "mix.in-2", Grade: "high-speed", LengthM: fact.Exactly(2)},
		{ID: "u", From: "mix.usb", To: "pc.p0", Grade: "usb-5g", LengthM: fact.Exactly(0)}}
	require.Empty(t, rig.Check(r))
	v := Rig(r)
	require.Len(t, v.Feeds, 2)
	angles := limitIn(&v, "angles")
	require.Equal(t, limit.Snapped, angles.State)
	require.Equal(t, 1.0, angles.Load.Value, "a switcher hands over one picture, however many inputs it has")
	require.Len(t, limitIn(&v, "bus:pc.c0.fast").Loads, 1)
	r.Show.AnglesSelectable = false
	v = Rig(r)
	require.Equal(t, 2.0, limitIn(&v, "angles").Load.Value)
	require.Equal(t, limit.Slack, limitIn(&v, "angles").State)
}

// Links this version has no rules for are never silently slack.
func TestWhatNoRuleCoversIsNamed(t *testing.T) {
	r := plain()
	r.Items[0].Gear.Ports[0].Connector, r.Items[1].Gear.Ports = gear.LAN, slices.Clone(r.Items[1].Gear.Ports)
	r.Items[1].Gear.Ports[0].Connector, r.Leads[0].Grade = gear.LAN, "lan"
	r.Items = append(r.Items, rig.Item{ID: "lamp", Label: "Lamp in a cupboard", Gear: gear.Gear{Kind: gear.Battery,
		Name: "Spare"}})
	require.Empty(t, rig.Check(r))
	v := Full(r)
	named := map[string]string{}
	for _, n := range v.NotJudged {
		named[n.Ref] = n.Why
	}
	require.Contains(t, named["h0"], "no rules for LAN links yet")
	require.Contains(t, named["lamp"], "spare")
	require.NotContains(t, named, "computer-load")
	require.Contains(t, v.Sentence, "Not judged yet: the lead from Camera to Stick, Lamp in a cupboard")
}

// A feed tells of a source that falls asleep and has no setting against it, and whether somebody touches it; of no
// other.
func TestASourceThatFallsAsleep(t *testing.T) {
	for _, c := range []struct {
		name    string
		standby *gear.Standby
		touched bool
		setting string
		want    string // empty for nothing to tell
	}{
		{"it keeps sending", &gear.Standby{Does: "nothing"}, false, "", ""},
		{"nobody has waited", nil, false, "", ""},
		{"a setting sees to it", &gear.Standby{Does: "black", AfterMinutes: new(fact.Exactly(20))}, false,
			"auto-power-off", ""},
		{"it sleeps", &gear.Standby{Does: "black", AfterMinutes: new(fact.Exactly(20))}, false, "",
			"Left alone for 20 min"},
		{"it is touched", &gear.Standby{Does: "resizes", AfterMinutes: new(fact.Exactly(20))}, true, "",
			"every 16 min at the latest"},
		{"it is touched, and nobody has waited", nil, true, "", "somebody touches it before"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := plain()
			r.Items[0].Gear.Standby, r.Items[0].Set.Touched = c.standby, c.touched
			if c.setting != "" {
				r.Items[0].Gear.Settings = []gear.Setting{{ID: c.setting}}
			}
			v := Rig(r)
			if s := v.Feeds[0].Sleep; c.want == "" {
				require.Nil(t, s)
			} else {
				require.NotNil(t, s)
				require.Equal(t, c.touched, s.Touched)
				require.Contains(t, s.Words, c.want)
			}
		})
	}
}
