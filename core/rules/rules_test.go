package rules_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/view"
)

var (
	f2997 = picture.NewRate(30000, 1001)
	f5994 = picture.NewRate(60000, 1001)
)

func hd(r picture.Rate) *picture.Mode { return &picture.Mode{Width: 1920, Height: 1080, Rate: r} }

// Each rule, from the plain rig, by one or two edits.
func TestRules(t *testing.T) {
	whole := func(v float64) *fact.Fact { f := fact.Exactly(v); return &f }
	yes, thin := true, true
	for _, c := range []struct {
		name  string
		spoil func(*rig.Rig)
		edits []rig.Edit
		limit string
		want  State
		says  string
	}{
		{"the plain rig's stick", nil, nil, "link:stick-0.usb", Slack, "93.22 MB/s"},
		{"a camera nobody has looked at", nil, []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "unknown"}},
			"clean:cam-0", Untested, "Nobody has looked"},
		{"a camera with its display on", nil,
			[]rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "after-setting"},
				{Do: "info-display", Item: "cam-0", Word: "on"}}, "clean:cam-0", Kinked, "information display"},
		{"a display nobody has mentioned is proposed off", nil,
			[]rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "after-setting"}}, "clean:cam-0", Slack,
			"which is proposed"},
		{"and whether it is clean then is asked", nil,
			[]rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "unknown"}}, "clean:cam-0", Untested,
			"Nobody has looked"},
		{"and off", nil, []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "after-setting"},
			{Do: "info-display", Item: "cam-0", Word: "off"}}, "clean:cam-0", Slack, "is off"},
		{"a camera that is never clean", nil, []rig.Edit{{Do: "word", Path: "items/cam-0/clean", Word: "never"}},
			"clean:cam-0", Kinked, "never"},
		{"a battery that is too small", func(r *rig.Rig) {
			r.Items[0].Set.RunsOn = "battery"
			r.Items[0].Gear.Power = &gear.Power{DrawW: whole(6.5), Battery: &gear.BatteryPack{MAh: fact.Exactly(1080),
				Volts: fact.Exactly(7.2), UsableShare: whole(0.9)}}
			r.Show.SetupMinutes = 60
		}, nil, "run-time:cam-0", Snapped, "120 min; its battery gives 64.6"},
		{"4K30 from a socket made for 165 MHz", nil,
			[]rig.Edit{{Do: "fact", Path: "items/cam-0/ports/hdmi/hdmi/maxTmdsMHz", Fact: whole(165)},
				{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: &picture.Mode{Width: 3840, Height: 2160,
					Rate: picture.R(30)}}}, "character-rate:cam-0.hdmi", Snapped, "297 MHz of the 165 MHz"},
		{"a mode the camera cannot send", nil,
			[]rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: &picture.Mode{Width: 2560, Height: 1440,
				Rate: picture.R(60)}}}, "sends:cam-0.hdmi", Snapped, "cannot send"},
		{"an unmarked lead", nil, []rig.Edit{{Do: "word", Path: "leads/h0/grade", Word: "unknown"},
			{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(picture.R(60))}}, "grade:h0", Untested,
			"74.25 to 600 MHz"},
		{"a standard lead at 148.5 MHz", nil, []rig.Edit{{Do: "word", Path: "leads/h0/grade", Word: "standard"},
			{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(picture.R(60))}}, "grade:h0", Snapped, "148.5"},
		{"a lead between sure and possible", nil, []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: whole(12)}},
			"reach:h0", Untested, "10 to 15 m"},
		{"a lead past the possible", nil, []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: whole(16)}},
			"reach:h0", Snapped, "16 m long"},
		{"a lead in the last fifth of its reach", nil,
			[]rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: whole(9)}}, "reach:h0", Taut, "9 m long"},
		{"a lead that was tried and held", nil, []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: whole(12)},
			{Do: "tried", Lead: "h0", MHz: 148.5, Yes: &yes}}, "reach:h0", Slack, "was tried"},
		{"but not at this rate", nil, []rig.Edit{{Do: "fact", Path: "leads/h0/lengthM", Fact: whole(12)},
			{Do: "tried", Lead: "h0", MHz: 50, Yes: &yes}}, "reach:h0", Untested, "12 m long"},
		{"a thin lead", nil, []rig.Edit{{Do: "lead", Lead: "h0", LengthM: whole(8), Thin: &thin}}, "reach:h0", Snapped,
			"5 to 7.5 m"},
		{"output into output", nil, []rig.Edit{{Do: "plug", Lead: "h0", End: "to", Socket: "pc.picture-out"}},
			"way-round:h0", Snapped, "is an output"},
		{"a stick that has not been tried", func(r *rig.Rig) { r.Items[1].Gear.Ports[0].MoreModes = true },
			[]rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: &picture.Mode{Width: 3840, Height: 2160,
				Rate: picture.R(30)}}}, "takes:stick-0.in", Untested, "Nobody has tried"},
		{"a stick that refuses", nil,
			[]rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: &picture.Mode{Width: 3840, Height: 2160,
				Rate: picture.R(30)}}}, "takes:stick-0.in", Snapped, "does not take"},
		{"1080p30 YUY2 on USB 2", nil, []rig.Edit{{Do: "deliver", Item: "stick-0", Port: "usb",
			Deliver: &rig.Deliver{Format: picture.YUY2}}, {Do: "plug", Lead: "u0", End: "to", Socket: "pc.slow"}},
			"link:stick-0.usb", Snapped, "124.3 MB/s; its connection carries 53.25"},
		{"a picture taken at fewer frames than come in", nil,
			[]rig.Edit{{Do: "deliver", Item: "stick-0", Port: "usb", Deliver: &rig.Deliver{Format: picture.YUY2,
				Rate: picture.R(15)}}}, "delivers:stick-0.usb", Slack, "YUY2 1920×1080 at 15."},
		{"MJPEG on USB 2", nil,
			[]rig.Edit{{Do: "deliver", Item: "stick-0", Port: "usb", Deliver: &rig.Deliver{Format: picture.MJPEG}},
				{Do: "plug", Lead: "u0", End: "to", Socket: "pc.slow"}}, "link:stick-0.usb", Slack,
			"7.77 to 31.07 MB/s"},
		{"a socket of unknown speed", nil, []rig.Edit{{Do: "plug", Lead: "u0", End: "to", Socket: "pc.open"}},
			"link:stick-0.usb", Untested, "53.25 to 470"},
		{"a USB 2 lead", nil, []rig.Edit{{Do: "word", Path: "leads/u0/grade", Word: "usb-2"}}, "link:stick-0.usb",
			Snapped, "grade of the lead"},
		{"a charge-only lead", nil, []rig.Edit{{Do: "word", Path: "leads/u0/grade", Word: "usb-charge"}},
			"carries-data:u0", Snapped, "no data wires"},
		{"a USB lead past its reach", nil, []rig.Edit{{Do: "fact", Path: "leads/u0/lengthM", Fact: whole(4)}},
			"reach:u0", Snapped, "4 m long"},
		{"a transfer nobody knows", nil, []rig.Edit{{Do: "word", Path: "items/stick-0/ports/usb/usb/transfer",
			Word: "unknown"}}, "link:stick-0.usb", Slack, "393.2 to 470"},
		{"a format nobody has said", func(r *rig.Rig) { r.Items[1].Set = nil }, nil, "link:stick-0.usb", Slack,
			"7.77 to 124.3"},
		{"a narrow add-in card", nil, []rig.Edit{{Do: "fact", Path: "items/pc/controllers/c0/uplinkMBps",
			Fact: whole(90)}}, "bus:pc.c0.fast", Snapped, "93.22 MB/s of 90"},
		{"25 in 29.97", nil, []rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(picture.R(25))}},
			"cadence:stick-0.usb:cam-0.hdmi", Kinked, "judder 2,1,1,1,1"},
		{"59.94 in 29.97", nil, []rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(f5994)}},
			"cadence:stick-0.usb:cam-0.hdmi", Slack, "one frame in 2"},
		{"30 in 29.97", nil, []rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(picture.R(30))}},
			"cadence:stick-0.usb:cam-0.hdmi", Slack, "a slip every 33.37 s"},
		{"a picture that is enlarged", nil,
			[]rig.Edit{{Do: "deliver", Item: "stick-0", Port: "usb", Deliver: &rig.Deliver{Format: picture.YUY2,
				Width: 1280, Height: 720}}}, "size:stick-0.usb:cam-0.hdmi", Kinked, "enlarged 1.5×"},
		{"an interlaced picture", nil,
			[]rig.Edit{{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: &picture.Mode{Width: 1920, Height: 1080,
				Rate: f2997, Interlaced: true}}}, "interlaced:stick-0.usb:cam-0.hdmi", Taut, "deinterlace"},
		{"a camera that is not plugged in", nil, []rig.Edit{{Do: "unplug", Lead: "h0"}}, "arrives:cam-0.hdmi", Snapped,
			"no further than Camera"},
		{"an angle short", func(r *rig.Rig) { r.Show.Angles = 2 }, nil, "angles", Snapped, "the show wants two angles"},
		{"a backup stream takes as much again", func(r *rig.Rig) {
			r.Uplink, r.Show.Destinations[0].Backup = line(9),
				true
		}, nil, "uplink", Taut, "5.59 to 8.74 Mb/s of 9"}, // 2 × (2500 to 4000 + 160) × 1.05
		{"a slow uplink", func(r *rig.Rig) { r.Uplink = line(2) }, nil, "uplink", Snapped, "of 2 Mb/s"},
		{"an uplink nobody has measured", func(r *rig.Rig) { r.Uplink = nil }, nil, "uplink", Untested,
			"0.5 to 1000 Mb/s"},
		{"an uplink measured once", func(r *rig.Rig) { r.Uplink.MeasuredMbps = []rig.UplinkReading{{Value: 4}} },
			nil, "uplink", Untested, "of 2.8 to 4 Mb/s"},
		{"a destination nobody has looked up", func(r *rig.Rig) { r.Show.Destinations[0].Ingest = nil }, nil,
			"ingest:0", Untested, "Nobody has looked up"},
		{"a lead shorter than its run", func(r *rig.Rig) { f := fact.Exactly(3); r.Leads[0].SpanM = &f }, nil,
			"run:h0", Snapped, "has to reach 3 m"},
		{"a USB lead shorter than its run", func(r *rig.Rig) {
			f := fact.Exactly(2)
			r.Leads[1].LengthM, r.Leads[1].SpanM = fact.Exactly(1), &f
		}, nil, "run:u0", Snapped, "has to reach 2 m"},
		{"a USB lead that lies there", func(r *rig.Rig) { r.Leads[1].LengthM = fact.Exactly(1) }, nil, "run:u0", Slack,
			"so it reaches"},
		{"more than a destination takes", func(r *rig.Rig) {
			r.Show.Destinations[0].Ingest = &rig.Ingest{MaxWidth: 640, MaxHeight: 360}
		}, nil, "ingest:0", Snapped, "takes at most 640×360"},
		{"a faster rate than a destination takes", func(r *rig.Rig) {
			r.Show.Destinations[0].Ingest = &rig.Ingest{MaxRate: picture.R(25)}
		}, nil, "ingest:0", Snapped, "at 25"},
		{"a bitrate over the cap", func(r *rig.Rig) {
			r.Show.Destinations[0].Ingest = &rig.Ingest{MaxVideoKbps: 3000}
			r.Show.Destinations[0].Send.VideoKbps = whole(3500)
		}, nil, "ingest-bitrate:0", Snapped, "3500 kb/s of the 3000"},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := plain()
			if c.spoil != nil {
				c.spoil(r)
			}
			r, err := rig.Apply(r, c.edits...)
			require.NoError(t, err)
			require.Empty(t, rig.Check(r))
			v := Full(r)
			row(c.limit)
			l := limitIn(&v, c.limit)
			require.NotNil(t, l, "%v", ids(&v))
			require.Equal(t, c.want, l.State, "%s %+v", l.Says, l.Ratio)
			require.Contains(t, l.Says, c.says)
			require.NotEmpty(t, l.Source.Name)
			require.NotEmpty(t, l.What)
			if c.want == Untested {
				require.NotEmpty(t, l.DependsOn, "an untested verdict names what it depends on")
				require.NotEmpty(t, v.Questions)
			}
		})
	}
}

func ids(v *Verdict) (out []string) {
	for i := range v.Limits {
		out = append(out, v.Limits[i].ID)
	}
	return out
}

func TestPlainIsSlack(t *testing.T) {
	v := Full(plain())
	require.Equal(t, Slack, v.State, "%s", view.Report("plain", &v))
	require.Equal(t, "Holds with room to spare. Not judged yet: sound.", v.Sentence)
	require.Empty(t, v.Findings)
	require.Empty(t, v.Questions)
	require.Nil(t, v.Cure)
}

// Two sticks on one hub share its way up; the fast pair and the 480 Mb/s pair are kept apart. [practice]
func TestHubShares(t *testing.T) {
	hub := func(r *rig.Rig, n int) *rig.Rig {
		edits := []rig.Edit{{Do: "add", NewItem: &rig.Item{ID: "hub", Label: "Hub", Gear: gear.SpareHub.Gear}}}
		for i := range n {
			edits = append(edits, rig.Edit{Do: "plug", Lead: fmt.Sprintf("u%d", i), End: "to",
				Socket: fmt.Sprintf("hub.p%d", i+1)},
				rig.Edit{Do: "word", Path: fmt.Sprintf("items/stick-%d/ports/usb/usb/transfer", i), Word: "bulk"},
				rig.Edit{Do: "deliver", Item: fmt.Sprintf("stick-%d", i), Port: "usb",
					Deliver: &rig.Deliver{Format: picture.YUY2}},
				rig.Edit{Do: "mode", Item: fmt.Sprintf("cam-%d", i), Port: "hdmi", Mode: hd(picture.R(60))})
		}
		edits = append(edits, rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: "up", From: "hub.up", To: "pc.p0",
			Grade: "usb-5g"}})
		out, err := rig.Apply(r, edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(out))
		return out
	}
	v := Rig(hub(feedsRig(2), 2))
	l := limitIn(&v, "bus:hub..fast")
	require.NotNil(t, l, "%v", ids(&v))
	require.Equal(t, Snapped, l.State)
	require.InDelta(t, 497.664, l.Load.Value, 1e-6, "two of them (497.7) snap")
	require.Len(t, l.Loads, 2)
	for _, f := range v.Feeds {
		require.Equal(t, Snapped, f.State)
		require.True(t, slices.ContainsFunc(f.Hops, func(h view.Hop) bool {
			return h.Joins == "hub" && h.State == Snapped
		}))
	}
	v = Rig(hub(feedsRig(1), 1))
	require.Equal(t, Slack, limitIn(&v, "bus:hub..fast").State)

	webcam := gear.Sources[1].Gear
	r, err := rig.Apply(hub(feedsRig(1), 1), rig.Edit{Do: "add", NewItem: &rig.Item{ID: "web", Label: "Webcam",
		Gear: webcam}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: "w", From: "web.usb", To: "hub.p3", Grade: "usb-5g"}})
	require.NoError(t, err)
	v = Rig(r)
	require.NotNil(t, limitIn(&v, "bus:hub..480"))
	require.InDelta(t, 248.832, limitIn(&v, "bus:hub..fast").Load.Value, 1e-6,
		"a USB 2 device takes nothing from the fast pair")
}

// Two webcams that each reserve the largest setting do not surely fit one high-speed bus. [standard: USB 2.0 chapter 5]
func TestTwoReservationsOnHighSpeed(t *testing.T) {
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "webcam", Count: 2}},
		Out: rig.StartOut{Height: 720, Fps: 30, Minutes: 60}, Computer: "desktop"})
	require.NoError(t, err)
	v := Rig(r)
	l := limitIn(&v, "bus:pc.usb.480")
	require.NotNil(t, l)
	require.Equal(t, Untested, l.State)
	require.InDelta(t, 2*24.576, l.Load.High, 1e-9, "each reserves at most the largest setting")
}

// Adding a device never lowers a shared load, and judging is repeatable.
func TestAddingNeverLowersALoad(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 9).Draw(t, "feeds")
		a, b := Rig(feedsRig(n)), Rig(feedsRig(n+1))
		again := Rig(feedsRig(n))
		require.Equal(t, ids(&a), ids(&again))
		for i := range a.Limits {
			if l := &a.Limits[i]; l.Shared && l.Sense == limit.AtMost {
				require.GreaterOrEqual(t, limitIn(&b, l.ID).Load.Low, l.Load.Low, l.ID)
			}
		}
	})
}

// Narrowing any stated fact of a whole rig keeps every limit that was slack or snapped as it was.
func TestNarrowingARig(t *testing.T) {
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: 2}, {Kind: "webcam", Count: 1},
		{Kind: "phone", Count: 1}, {Kind: "slides", Count: 1}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "desktop"})
	require.NoError(t, err)
	before := Rig(r)
	facts := r.Facts()
	rapid.Check(t, func(t *rapid.T) {
		f := rapid.SampledFrom(facts).Draw(t, "fact")
		low := f.Fact.Low + (f.Fact.High-f.Fact.Low)*rapid.Float64Range(0, 1).Draw(t, "low")
		high := low + (f.Fact.High-low)*rapid.Float64Range(0, 1).Draw(t, "high")
		narrow := fact.Fact{Value: low, Low: low, High: high, From: fact.Measured}
		after, err := rig.Apply(r, rig.Edit{Do: "fact", Path: f.Path, Fact: &narrow})
		require.NoError(t, err)
		v := Rig(after)
		for i := range before.Limits {
			was := &before.Limits[i]
			now := limitIn(&v, was.ID)
			require.NotNil(t, now)
			if was.State == Slack || was.State == Snapped {
				require.Equal(t, was.State, now.State, "%s after %s", was.ID, f.Path)
			}
		}
	})
}

// Asking on and on, and always taking the first answer, ends with a rig that is judged.
func TestQuestionsLeadToAnAnswer(t *testing.T) {
	r, err := rig.New(rig.Start{Sources: []rig.StartSource{{Kind: "camera", Count: 2}, {Kind: "webcam", Count: 1}},
		Out: rig.StartOut{Height: 1080, Fps: 30, Minutes: 60}, Computer: "laptop"})
	require.NoError(t, err)
	v := Full(r)
	asked := 0
	for ; len(v.Questions) > 0; asked++ {
		require.Less(t, asked, 60, "%v", v.Questions[0].Ask)
		q := v.Questions[0]
		edits := []rig.Edit{{Do: "fact", Path: q.Path, Fact: &fact.Fact{Value: q.High, Low: q.High, High: q.High,
			From: fact.Given}}}
		if len(q.Answers) > 0 {
			edits = q.Answers[len(q.Answers)-1].Edits
		}
		r, err = rig.Apply(r, edits...)
		require.NoError(t, err, q.Path)
		require.Empty(t, rig.Check(r))
		v = Full(r)
	}
	for i := range v.Limits {
		if l := &v.Limits[i]; l.State == Untested {
			for _, d := range l.DependsOn {
				require.Empty(t, d.Path, "%s still depends on %s, which nobody asks for", l.ID, d.Name)
			}
		}
	}
	t.Logf("%d questions", asked)
}

func TestStartKbps(t *testing.T) {
	for _, c := range []struct {
		h    int
		r    picture.Rate
		want [2]float64
	}{
		{720, f2997, [2]float64{2500, 4000}}, {1080, f2997, [2]float64{5000, 5000}},
		{720, f5994, [2]float64{3500, 5000}}, {1080, f5994, [2]float64{6500, 9000}},
		{480, f2997, [2]float64{1000, 1500}}, {2160, picture.R(25), [2]float64{10850, 16650}},
		{2160, f5994, [2]float64{25000, 35000}}, {480, f5994, [2]float64{2000, 3000}},
	} {
		got := plans.StartKbps(c.h*16/9, c.h, c.r)
		require.Equal(t, c.want, [2]float64{got.Low, got.High}, "%d at %v", c.h, c.r)
		require.Equal(t, got, plans.StartKbps(c.h, c.h*16/9, c.r), "upright, as many pixels as lying down")
	}
	for _, upright := range plans.Rungs(rig.Programme{Width: 1080, Height: 1920, Rate: picture.R(30)}, "talk") {
		require.Greater(t, upright.Height, upright.Width, upright.Label)
	}
}

func TestReportAndLine(t *testing.T) {
	r, err := rig.Apply(plain(), rig.Edit{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: hd(picture.R(25))},
		rig.Edit{Do: "word", Path: "items/cam-0/clean", Word: "unknown"})
	require.NoError(t, err)
	v := Full(r)
	text := view.Report("Plain", &v)
	for _, want := range []string{"Plain: kinked", "Tethers", "Shared limits", "Findings", "judder 2,1,1,1,1",
		"fix: Set Camera to", "Next question", "Not judged\n", "sound: nobody has described how it gets to air",
		"rule: cadence. Whole multiples"} {
		require.Contains(t, text, want)
	}
	for _, line := range strings.Split(text, "\n") {
		require.Equal(t, strings.TrimRight(line, " "), line)
	}
}
