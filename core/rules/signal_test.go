package rules_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/sdi"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// onSDI is the plain rig with SDI between camera and capture device.
func onSDI(r *rig.Rig) {
	f := func(w, h int, rate picture.Rate) picture.Mode {
		return picture.Mode{Width: w, Height: h, Rate: rate}
	}
	modes := []picture.Mode{f(1920, 1080, f2997), f(1920, 1080, picture.R(50)), f(3840, 2160, f5994),
		f(2560, 1440, picture.R(60))}
	r.Items[0].Gear.Ports[0] = gear.Port{ID: "hdmi", Connector: gear.BNC, Direction: gear.Out,
		SDI: &gear.SDIPort{Link: sdi.TwelveG, Level: sdi.LevelB}, Modes: modes}
	r.Items[1].Gear.Ports[0] = gear.Port{ID: "in", Connector: gear.BNC, Direction: gear.In,
		SDI: &gear.SDIPort{Link: sdi.TwelveG, Level: sdi.BothLevels}, Modes: modes}
	r.Leads[0].Grade = "rg-6"
}

func settingOf(id, as, want string, excludes ...string) gear.Setting {
	return gear.Setting{ID: id, As: as, Want: want, Excludes: excludes}
}

// Each rule between the lens and the moment a picture enters the computer, from the plain rig by one change.
// [practice; standards where the rules name them]
func TestSignalRules(t *testing.T) {
	mode := func(r *rig.Rig, m picture.Mode) { r.Items[0].Set.Output["hdmi"] = m }
	uhd60 := picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(60)}
	fixed := func(src, sink hdmi.FRL) func(*rig.Rig) {
		return func(r *rig.Rig) {
			mode(r, picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(120)})
			for i, f := range []hdmi.FRL{src, sink} {
				p := &r.Items[i].Gear.Ports[0]
				mhz := fact.Exactly(600)
				p.HDMI, p.Modes = &gear.HDMIPort{MaxTMDSMHz: &mhz, FixedRate: f}, nil
			}
			r.Leads[0].Grade = "ultra"
		}
	}
	whole := func(v float64) *fact.Fact { f := fact.Exactly(v); return &f }
	for _, c := range []struct {
		name  string
		spoil func(*rig.Rig)
		limit string
		want  State
		says  string
	}{
		// 2.2 settings
		{"auto power off is said to stay on", func(r *rig.Rig) {
			said(r, settingOf("auto-power-off", "on", ""), "on")
		}, "setting:cam-0:auto-power-off", Snapped, "is on and should be off"},
		{"it comes on, and nobody has said how it is to stand", func(r *rig.Rig) {
			r.Items[0].Gear.Settings = []gear.Setting{settingOf("auto-power-off", "on", "")}
		}, "setting:cam-0:auto-power-off", Slack, "off is proposed"},
		{"and set off for the show", func(r *rig.Rig) {
			r.Items[0].Gear.Settings = []gear.Setting{settingOf("auto-power-off", "on", "")}
			r.Items[0].Set.Settings = map[string]string{"auto-power-off": "off"}
		}, "setting:cam-0:auto-power-off", Slack, "is off"},
		{"nobody knows how it stands", func(r *rig.Rig) { said(r, settingOf("auto-power-off", "", ""), "unknown") },
			"setting:cam-0:auto-power-off", Untested, "Nobody has looked"},
		{"a setting that cannot end the show", func(r *rig.Rig) { said(r, settingOf("exposure", "auto", ""), "auto") },
			"setting:cam-0:exposure", Taut, "goes to air"},
		{"a setting of its own", func(r *rig.Rig) { said(r, settingOf("beeper", "on", "off"), "on") },
			"setting:cam-0:beeper", Taut, "should be off"},
		{"two settings that exclude each other", func(r *rig.Rig) {
			r.Items[0].Gear.Settings = []gear.Setting{settingOf("usb-remote", "on", "on", "phone-link"),
				settingOf("phone-link", "on", "on")}
		}, "excludes:cam-0:usb-remote:phone-link", Snapped, "needs phone link off"},
		{"it sleeps after ten minutes", func(r *rig.Rig) {
			r.Items[0].Gear.Standby = &gear.Standby{AfterMinutes: whole(10), Does: "black"}
		}, "standby:cam-0", Snapped, "Left alone for 10 min"},
		{"it sleeps after ten minutes, and somebody touches it before", func(r *rig.Rig) {
			r.Items[0].Gear.Standby, r.Items[0].Set.Touched = &gear.Standby{AfterMinutes: whole(10), Does: "black"},
				true
		}, "standby:cam-0", Slack, "every 8 min at the latest"},
		{"it sleeps sooner than anybody can touch it", func(r *rig.Rig) {
			r.Items[0].Gear.Standby, r.Items[0].Set.Touched = &gear.Standby{AfterMinutes: whole(1), Does: "black"}, true
		}, "standby:cam-0", Snapped, "Left alone for 1 min"},
		{"it is touched, and nobody knows when it sleeps", func(r *rig.Rig) {
			r.Items[0].Gear.Standby, r.Items[0].Set.Touched = &gear.Standby{Does: "black"}, true
		}, "standby:cam-0", Untested, "somebody touches it before"},
		{"it is touched, and nobody knows whether it sleeps", func(r *rig.Rig) {
			r.Items[0].Gear.Standby, r.Items[0].Set.Touched = nil, true
		}, "standby:cam-0", Untested, "Left alone for 1 to 60 min"},
		{"nobody has waited", func(r *rig.Rig) { r.Items[0].Gear.Standby = &gear.Standby{} }, "standby:cam-0",
			Untested, "Nobody has waited"},
		{"it records half an hour", func(r *rig.Rig) {
			r.Items[0].Gear.RecordLimitMinutes = whole(29.98)
			r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true}}
		}, "record-limit:cam-0", Snapped, "29.9 min at a time"},
		{"started again in time, it records half an hour", func(r *rig.Rig) {
			r.Items[0].Gear.RecordLimitMinutes = whole(29.98)
			r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true}}
			r.Show.Recordings[0].Restarts = true
		}, "record-limit:cam-0", Taut, "started again in time"},
		{"it records twice, and one of the two is left to run", func(r *rig.Rig) {
			r.Items[0].Gear.RecordLimitMinutes = whole(29.98)
			r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, Restarts: true},
				{What: "cam-0", InCamera: true}}
		}, "record-limit:cam-0", Snapped, "29.9 min at a time"},
		{"protected until turned off", func(r *rig.Rig) {
			r.Items[0].Gear.Protected, r.Items[0].Set.Protection = gear.UntilTurnedOff, "on"
		}, "protected:cam-0", Snapped, "until its own menu"},
		{"protected until turned off, and nobody has said", func(r *rig.Rig) {
			r.Items[0].Gear.Protected = gear.UntilTurnedOff
		}, "protected:cam-0", Slack, "off is proposed"},
		{"and turned off", func(r *rig.Rig) {
			r.Items[0].Gear.Protected = gear.UntilTurnedOff
			r.Items[0].Set.Protection = "off"
		}, "protected:cam-0", Slack, "not to encrypt"},
		{"a console nobody has tried", func(r *rig.Rig) { r.Items[0].Gear.Kind = gear.Console }, "protected:cam-0",
			Untested, "Nobody has tried"},
		{"always protected", func(r *rig.Rig) { r.Items[0].Gear.Protected = gear.AlwaysProtected }, "protected:cam-0",
			Snapped, "shows black"},
		{"upright", func(r *rig.Rig) { r.Items[0].Gear.Turns = true; r.Items[0].Set.Upright = true }, "upright:cam-0",
			Taut, "stands upright"},
		// 1.4 light
		{"1/60 in 50 Hz light", func(r *rig.Rig) {
			r.Show.MainsHz = 50
			r.Items[0].Set.Shutter = picture.NewExposure(1, 60)
		}, "flicker:cam-0", Kinked, "set the shutter to 1/50 s"},
		{"1/50 in 50 Hz light", func(r *rig.Rig) {
			r.Show.MainsHz = 50
			r.Items[0].Set.Shutter = picture.NewExposure(1, 50)
		}, "flicker:cam-0", Slack, "no banding"},
		// 2.4 leads
		{"an active lead nobody has looked at", func(r *rig.Rig) { r.Leads[0].Grade = "active" }, "source-end:h0",
			Untested, "nobody has looked at its ends"},
		{"an optical lead the wrong way round", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].Direction = "optical",
				"wrong"
		}, "source-end:h0", Snapped, "wrong way round"},
		{"an adapter", func(r *rig.Rig) { r.Leads[0].Adapters = 1 }, "joints:h0", Taut, "work loose"},
		{"an active lead longer than its maker promises", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].Direction, r.Leads[0].LengthM, r.Leads[0].ReachM = "active", "right",
				fact.Exactly(30), whole(20)
		}, "reach:h0", Snapped, "for 20 m"},
		// 2.5 links
		{"4K120 over a fixed-rate link", fixed(hdmi.FRL4x12, hdmi.FRL4x12), "fixed-rate:stick-0.in", Slack,
			"28.51 Gb/s"},
		{"4K120 into a slow fixed-rate link", fixed(hdmi.FRL4x12, hdmi.FRL3x6), "fixed-rate:stick-0.in", Snapped,
			"15.68 Gb/s"},
		{"4K120 into one nobody has looked up", fixed(hdmi.FRL4x12, hdmi.UnknownFRL), "fixed-rate:stick-0.in",
			Untested, "fixed-rate link"},
		{"4K120 over a premium lead", func(r *rig.Rig) {
			fixed(hdmi.FRL4x12, hdmi.FRL4x12)(r)
			r.Leads[0].Grade = "premium"
		}, "grade:h0", Snapped, "0 Gb/s"},
		{"4K120 without a fixed-rate link", fixed(hdmi.SaidNone, hdmi.FRL4x12), "character-rate:stick-0.in", Snapped,
			"1188 MHz"},
		{"4K120 in 10 bits on 4 lanes of 10: it depends", func(r *rig.Rig) {
			fixed(hdmi.FRL4x12, hdmi.FRL4x10)(r)
			mode(r, picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(120), Chroma: picture.RGB, Bits: 10})
		}, "fixed-rate:stick-0.in", Untested, "29.86 to 35.64 Gb/s of the 34.84 Gb/s"},
		{"10 m of active copper at 148.5 MHz", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].Direction, r.Leads[0].LengthM = "active", "right", fact.Exactly(12)
		}, "reach:h0", Untested, "for 10 to 20 m"},
		{"an optical lead past its reach", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].Direction, r.Leads[0].LengthM = "optical", "right", fact.Exactly(120)
		}, "reach:h0", Snapped, "for 30 to 100 m"},
		{"a long lead without a mark may be an active one", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].LengthM = "unknown", fact.Exactly(18)
		}, "reach:h0", Untested, "18 m long"},
		{"and then works one way round only", func(r *rig.Rig) {
			r.Leads[0].Grade, r.Leads[0].LengthM = "unknown",
				fact.Exactly(18)
		}, "source-end:h0", Untested, "may be an active one"},
		{"4:2:0 nobody has asked about", func(r *rig.Rig) {
			m := uhd60
			m.Chroma = picture.YUV420
			mode(r, m)
			r.Items[1].Gear.Ports[0].Modes = []picture.Mode{uhd60}
		}, "chroma:stick-0.in", Untested, "Its EDID says"},
		{"4:2:0 an EDID does not list", func(r *rig.Rig) {
			m := uhd60
			m.Chroma = picture.YUV420
			mode(r, m)
			r.Items[1].Gear.Ports[0].Modes, r.Items[1].Gear.Ports[0].ModesFrom = []picture.Mode{uhd60}, "edid"
		}, "chroma:stick-0.in", Snapped, "does not list"},
		// 2.6 SDI
		{"a picture SDI has no mapping for", func(r *rig.Rig) {
			onSDI(r)
			mode(r, picture.Mode{Width: 2560, Height: 1440, Rate: picture.R(60)})
		}, "sdi-picture:cam-0.hdmi", Snapped, "no mapping"},
		{"HD over RG-6", onSDI, "reach:h0", Slack, "HD-SDI"},
		{"12G over 45 m of RG-6", func(r *rig.Rig) {
			onSDI(r)
			mode(r, picture.Mode{Width: 3840, Height: 2160, Rate: f5994})
			r.Leads[0].LengthM = fact.Exactly(45)
		}, "reach:h0", Untested, "30 to 80"},
		{"12G over 90 m of RG-6", func(r *rig.Rig) {
			onSDI(r)
			mode(r, picture.Mode{Width: 3840, Height: 2160, Rate: f5994})
			r.Leads[0].LengthM = fact.Exactly(90)
		}, "reach:h0", Snapped, "90 m long"},
		{"and tried, and it held", func(r *rig.Rig) {
			onSDI(r)
			mode(r, picture.Mode{Width: 3840, Height: 2160, Rate: f5994})
			r.Leads[0].LengthM, r.Leads[0].Tried = fact.Exactly(90), &rig.Tried{MHz: 5940, Holds: true}
		}, "reach:h0", Slack, "held"},
		{"a data sheet in place of the class", func(r *rig.Rig) {
			onSDI(r)
			r.Leads[0].Loss = []sdi.Point{{MHz: 100, DB: 8}, {MHz: 750, DB: 25}, {MHz: 1500, DB: 38}}
			r.Leads[0].LengthM = fact.Exactly(81)
		}, "reach:h0", Snapped, "80.48 m"},
		{"coax shorter than its run", func(r *rig.Rig) {
			onSDI(r)
			f := fact.Exactly(30)
			r.Leads[0].LengthM, r.Leads[0].SpanM = fact.Exactly(20), &f
		}, "run:h0", Snapped, "has to reach 30 m"},
		{"coax without a mark", func(r *rig.Rig) {
			onSDI(r)
			r.Leads[0].Grade, r.Leads[0].LengthM = "coax",
				fact.Exactly(60)
		}, "reach:h0", Untested, "HD-SDI"},
		{"3G into an HD input", func(r *rig.Rig) {
			onSDI(r)
			mode(r, *hd(picture.R(50)))
			r.Items[1].Gear.Ports[0].SDI = &gear.SDIPort{Link: sdi.HD}
		}, "sdi-link:stick-0.in", Snapped, "2970 Mb/s of the 1485 Mb/s"},
		{"an input whose link nobody knows", func(r *rig.Rig) {
			onSDI(r)
			mode(r, *hd(picture.R(50)))
			r.Items[1].Gear.Ports[0].SDI = nil
		}, "sdi-link:stick-0.in", Untested, "2970"},
		{"level B into level A", func(r *rig.Rig) {
			onSDI(r)
			mode(r, *hd(picture.R(50)))
			r.Items[1].Gear.Ports[0].SDI = &gear.SDIPort{Link: sdi.ThreeG, Level: sdi.LevelA}
		}, "sdi-level:stick-0.in", Snapped, "shows nothing"},
		{"a level nobody knows", func(r *rig.Rig) {
			onSDI(r)
			mode(r, *hd(picture.R(50)))
			r.Items[1].Gear.Ports[0].SDI = &gear.SDIPort{Link: sdi.ThreeG}
		}, "sdi-level:stick-0.in", Untested, "Nobody has looked up"},
		{"SDI the wrong way round", func(r *rig.Rig) { onSDI(r); r.Items[1].Gear.Ports[0].Direction = gear.Out },
			"way-round:h0", Snapped, "nothing flows"},
		// 3.1 capture
		{"an odd size nobody has tried", func(r *rig.Rig) { ultraWide(r, "") }, "odd-size:stick-0:cam-0.hdmi",
			Untested, "3440×1440"},
		{"an odd size that is refused", func(r *rig.Rig) { ultraWide(r, picture.Refuse) },
			"odd-size:stick-0:cam-0.hdmi", Snapped, "refuses"},
		{"an odd size that is cropped", func(r *rig.Rig) { ultraWide(r, picture.Crop) }, "odd-size:stick-0:cam-0.hdmi",
			Taut, "cuts off"},
		{"10-bit into an 8-bit capture", func(r *rig.Rig) {
			m := *hd(f2997)
			m.Chroma, m.Bits = picture.YUV422, 10
			mode(r, m)
		}, "depth:stick-0.usb:cam-0.hdmi", Slack, "washed out"},
		{"24 inside 60 by pulldown", func(r *rig.Rig) {
			m := *hd(f5994)
			m.Inner = picture.NewRate(24000, 1001)
			mode(r, m)
		}, "cadence:stick-0.usb:cam-0.hdmi", Kinked, "23.976"},
		// 5.0 programs
		{"a device that does not work in the program", func(r *rig.Rig) {
			r.Items[1].Gear.WorksWith = []gear.Experience{{Program: "encoder", Works: "no"}}
		}, "works-with:stick-0", Snapped, "does not work in the encoder"},
		{"one that works badly in this very program", func(r *rig.Rig) {
			r.Show.Program.Name = "Home encoder"
			r.Items[1].Gear.WorksWith = []gear.Experience{{Program: "encoder", Works: "works"},
				{Program: "Home encoder", Works: "badly"}}
		}, "works-with:stick-0", Taut, "worked badly in Home encoder"},
		{"one that was tried elsewhere only", func(r *rig.Rig) {
			r.Items[1].Gear.ListedAs = "USB video"
			r.Items[1].Gear.WorksWith = []gear.Experience{{Program: "call", Works: "works"}}
		}, "works-with:stick-0", Untested, "list it as “USB video”"},
		{"two programs on one device", func(r *rig.Rig) {
			r.Show.Also = []rig.AlsoProgram{{Kind: "call", Takes: []string{"cam-0"}}}
		}, "two-programs:stick-0", Snapped, "both want"},
		{"a device that shares", func(r *rig.Rig) {
			r.Items[1].Gear.Shares = true
			r.Show.Also = []rig.AlsoProgram{{Kind: "call", Takes: []string{"stick-0"}}}
		}, "two-programs:stick-0", Slack, "shares its picture"},
		{"a mirrored self-view", func(r *rig.Rig) { r.Show.Program.Kind = "browser-studio" },
			"mirrored:stick-0:cam-0.hdmi", Slack, "what is sent is not"},
		{"a device that opens small", func(r *rig.Rig) { r.Items[1].Gear.OpensSmall = true },
			"by-hand:stick-0:cam-0.hdmi", Slack, "by hand"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := plain()
			r.Items[0].Set.Output = map[string]picture.Mode{"hdmi": *hd(f2997)}
			c.spoil(r)
			require.Empty(t, rig.Check(r))
			v := Full(r)
			row(c.limit)
			l := limitIn(&v, c.limit)
			require.NotNil(t, l, "%v", ids(&v))
			require.Equal(t, c.want, l.State, l.Says)
			require.Contains(t, l.Says, c.says)
			if l.State == Untested { // somebody can be asked
				require.True(t, asked(&v, l), l.ID)
			}
		})
	}
}

// said gives the camera a setting and says how it stands for the show.
func said(r *rig.Rig, s gear.Setting, word string) {
	r.Items[0].Gear.Settings = []gear.Setting{s}
	r.Items[0].Set.Settings = map[string]string{s.ID: word}
}

func ultraWide(r *rig.Rig, how picture.How) {
	m := picture.Mode{Width: 3440, Height: 1440, Rate: picture.R(30)}
	r.Items[0].Gear.Ports[0].Modes, r.Items[1].Gear.Ports[0].Modes = []picture.Mode{m}, []picture.Mode{m}
	r.Items[0].Set.Output["hdmi"] = m
	r.Items[1].Gear.OddSizes = how
}

// What can be asked for is answered by the edits that come with the question: nothing stays untested that was asked.
func TestSignalQuestionsHaveAnswers(t *testing.T) {
	r := plain()
	said(r, settingOf("auto-power-off", "", ""), "unknown")
	r.Items[0].Gear.Kind = gear.Console
	r.Items[1].Gear.WorksWith = []gear.Experience{{Program: "call", Works: "works"}}
	r.Leads[0].Grade = "active"
	for range 20 {
		v := Full(r)
		if len(v.Questions) == 0 {
			require.NotEqual(t, Untested, v.State)
			return
		}
		q := v.Questions[0]
		edits := []rig.Edit{{Do: "fact", Path: q.Path, Fact: &fact.Fact{Value: q.Value, Low: q.Value, High: q.Value,
			From: fact.Given}}}
		if len(q.Answers) > 0 {
			edits = q.Answers[0].Edits
		}
		after, err := rig.Apply(r, edits...)
		require.NoError(t, err, q.Ask)
		require.Empty(t, rig.Check(after))
		r = after
	}
	t.Fatal("the questions do not end")
}

// The hall: four faults, cured by four moves; every feed goes through the switcher, where the lines join.
func TestHall(t *testing.T) {
	r := rigs.Hall()
	v := Full(r)
	require.Equal(t, Snapped, v.State)
	require.Len(t, v.Feeds, 3)
	for _, f := range v.Feeds {
		at := slices.IndexFunc(f.Hops, func(h view.Hop) bool { return h.Ref == "switcher" })
		require.Positive(t, at)
		require.Equal(t, "switcher", f.Hops[at].Joins)
		require.Equal(t, plans.Lead, f.Hops[at].Stage)
		require.NotNil(t, f.Shape)
		require.Equal(t, 1.0, f.Shape.Fills)
		require.NotNil(t, f.Light)
	}
	require.NotNil(t, v.Cure)
	require.True(t, v.Cure.Proven)
	var ids []string
	for _, m := range v.Cure.Moves {
		ids = append(ids, m.ID)
	}
	slices.Sort(ids)
	require.Equal(t, []string{"lead:balcony-coax:rg-6:45", "runs-on:cam-side", "show:switch-there"}, ids)
	require.Equal(t, 1.0, limitIn(&v, "angles").Load.Value)
	require.Contains(t, limitIn(&v, "angles").Says, "Switcher shows three inputs, and hands the computer one picture")
	require.Contains(t, limitIn(&v, "overview:switcher").Says, "puts black to air")

	t.Run("an input without a scaler takes only the switcher's own picture", func(t *testing.T) {
		r := rigs.Hall()
		sw := r.Item("switcher")
		sw.Gear.Ports = slices.Clone(sw.Gear.Ports)
		sw.Gear.Ports[2].Scaler = false
		v := Rig(r)
		require.Equal(t, Snapped, limitIn(&v, "switcher-mode:switcher:cam-side.hdmi").State)
	})
	t.Run("without an overview the operator switches blind", func(t *testing.T) {
		r := rigs.Hall()
		r.Item("switcher").Gear.Overview = "no"
		v := Rig(r)
		require.Equal(t, Taut, limitIn(&v, "overview:switcher").State)
		require.Contains(t, limitIn(&v, "overview:switcher").Says, "blind")
	})
	t.Run("a loop-through passes on its own input only", func(t *testing.T) {
		r := rigs.Hall()
		sw := r.Item("switcher")
		sw.Gear.Ports = slices.Clone(sw.Gear.Ports)
		sw.Gear.Ports[4].LoopOf = "in-1"
		v := Rig(r)
		require.Equal(t, Snapped, limitIn(&v, "loop-of:switcher.out").State)
	})
	t.Run("made smaller in the switcher and enlarged again", func(t *testing.T) {
		r := rigs.Hall()
		small := picture.Mode{Width: 1280, Height: 720, Rate: picture.R(50)}
		for _, id := range []string{"switcher", "box"} {
			it := r.Item(id)
			it.Gear.Ports = slices.Clone(it.Gear.Ports)
			for i := range it.Gear.Ports {
				it.Gear.Ports[i].Modes = append(slices.Clone(it.Gear.Ports[i].Modes), small)
			}
		}
		r.Item("switcher").Set = &rig.Set{Output: map[string]picture.Mode{"out": small}}
		r.Item("box").Gear.Delivers = []gear.Delivery{{Format: picture.YUY2, Width: 1280, Height: 720,
			MaxRate: picture.R(60)}}
		v := Rig(r)
		size := limitIn(&v, "size:box.usb:cam-aisle.sdi")
		require.Equal(t, Kinked, size.State)
		require.Contains(t, size.Says, "made smaller on the way and enlarged 1.5× again")
	})
}

// Shapes, against the worked figures.
func TestShapes(t *testing.T) {
	shape := func(m picture.Mode, how picture.How, delivers ...gear.Delivery) *view.Shape {
		r := plain()
		r.Items[0].Gear.Ports[0].Modes, r.Items[1].Gear.Ports[0].Modes = []picture.Mode{m}, []picture.Mode{m}
		r.Items[0].Set.Output = map[string]picture.Mode{"hdmi": m}
		r.Items[1].Gear.OddSizes = how
		if delivers != nil {
			r.Items[1].Gear.Delivers, r.Items[1].Set = delivers, nil
		}
		v := Rig(r)
		return v.Feeds[0].Shape
	}
	up := shape(picture.Mode{Width: 1080, Height: 1920, Rate: f2997}, picture.Box)
	require.InDelta(t, 0.316, up.At.W, 0.0005)
	require.Contains(t, up.Words, "fills 31.6 % of the width")
	sd := shape(picture.Mode{Width: 720, Height: 576, Rate: picture.R(25), Interlaced: true}, picture.Box,
		gear.Delivery{Format: picture.YUY2, Width: 720, Height: 576, MaxRate: picture.R(25)})
	require.Contains(t, sd.Words, "interlaced")
	require.Contains(t, sd.Words, "enlarged")
	wide := shape(picture.Mode{Width: 3440, Height: 1440, Rate: picture.R(30)}, picture.Crop)
	require.InDelta(t, 16.0/9/(3440.0/1440), wide.Shows.W, 1e-9)
	require.Contains(t, wide.Words, "the sides are cut")
	require.Contains(t, shape(picture.Mode{Width: 3440, Height: 1440, Rate: picture.R(30)}, picture.Stretch).Words,
		"out of shape")
	require.Empty(t, shape(*hd(f2997), picture.Box).Words)
}

func TestAgree(t *testing.T) {
	a, err := view.Agree(rigs.Loft(), "stage-lead")
	require.NoError(t, err)
	require.Equal(t, "1080p29.97 4:2:2", a.Best)
	require.Equal(t, "1080p25 4:2:2", a.Now)
	require.NotEmpty(t, a.Takes[0].Edits)
	after, err := rig.Apply(rigs.Loft(), a.Takes[0].Edits...)
	require.NoError(t, err)
	v := Rig(after)
	require.Equal(t, Slack, limitIn(&v, "cadence:stick-stage.usb:cam-stage.hdmi").State)
	require.Contains(t, strings.Join(a.Try, "\n"), "Try a short lead")

	bench, err := view.Agree(rigs.Loft(), "bench-lead")
	require.NoError(t, err)
	require.Contains(t, strings.Join(bench.Try, "\n"), "a device with a 1080-only input shows nothing of 4K")
	require.NotEmpty(t, bench.Fails)
	_, err = view.Agree(rigs.Loft(), "no-lead")
	require.ErrorContains(t, err, `lead "no-lead": not in this rig`)
	_, err = view.Agree(rigs.Loft(), "phone-lead")
	require.ErrorContains(t, err, "only an output and an input agree")
	hall, err := view.Agree(rigs.Hall(), "balcony-coax")
	require.NoError(t, err)
	require.Empty(t, hall.Takes, "45 m of thin coax carry neither 3G nor HD")
}

func TestWays(t *testing.T) {
	ways, err := view.Ways(rigs.Loft(), "cam-face")
	require.NoError(t, err)
	require.Len(t, ways, 2)
	byUSB, captured := ways[0], ways[1]
	require.True(t, captured.Now)
	require.Equal(t, "YUY2 1920×1080", captured.Picture)
	require.True(t, byUSB.Possible, byUSB.Why)
	require.Equal(t, "MJPEG 1280×720", byUSB.Picture)
	require.Equal(t, Snapped, byUSB.State)
	require.Contains(t, byUSB.Weakest, "its battery gives", "the battery is too small either way")
	after, err := rig.Apply(rigs.Loft(), byUSB.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))

	phone, err := view.Ways(rigs.Loft(), "phone")
	require.NoError(t, err)
	require.True(t, phone[0].Now)
	require.Equal(t, "its sheet has no picture output", phone[1].Why)
	_, err = view.Ways(rigs.Loft(), "pc")
	require.ErrorContains(t, err, "only a source")

	back, err := view.Ways(after, "cam-face")
	require.NoError(t, err)
	require.True(t, back[0].Now)
	require.True(t, back[1].Possible, back[1].Why)
	require.NotNil(t, back[1].Cost)
}
