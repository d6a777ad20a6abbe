package rigtext

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
)

// told reads lines nobody helped with, and gives the rig.
func told(t *testing.T, text string) *rig.Rig {
	t.Helper()
	got := Read(text, shelf())
	require.Empty(t, got.Problems, "%s", text)
	require.Empty(t, rig.Check(got.Rig))
	require.NotEqual(t, limit.State(0), judge.Rig(got.Rig).State)
	return got.Rig
}

func lead(t *testing.T, r *rig.Rig, from string) *rig.Lead {
	t.Helper()
	for i := range r.Leads {
		if r.Leads[i].From == from {
			return &r.Leads[i]
		}
	}
	require.Fail(t, "no lead from "+from)
	return nil
}

func TestALineSaysATether(t *testing.T) {
	r := told(t, "Desk [Desktop]\nBench camera [Mirrorless camera] > HDMI High Speed 5 m > Stick 1 [full-HD stick] > back 2")
	l := lead(t, r, "bench-camera.hdmi")
	require.Equal(t, "stick-1.in", l.To)
	require.Equal(t, "high-speed", l.Grade)
	require.Equal(t, 5.0, l.LengthM.Value)
	require.Equal(t, "desk.back-2", lead(t, r, "stick-1.usb").To)
	require.False(t, lead(t, r, "stick-1.usb").AnySocket, "somebody has said which")
	require.Len(t, judge.Rig(r).Feeds, 1)
}

func TestWhatWasNotSaidIsProposed(t *testing.T) {
	r := told(t, "Bench camera [Mirrorless camera]\nSide camera [Camcorder]")
	require.Len(t, judge.Rig(r).Feeds, 2, "with capture devices, leads and a laptop")
	require.True(t, slices.ContainsFunc(r.Leads, func(l rig.Lead) bool { return l.AnySocket }),
		"nobody has said which socket")
	require.Equal(t, "Laptop", r.Item("laptop").Label)

	r = told(t, "Cam A [Camcorder] > Stick [full-HD stick] > right\nMine [Laptop]")
	require.Equal(t, "mine.right", lead(t, r, "stick.usb").To, "the computer is there wherever it is named")

	r = told(t, "Cam B [Camcorder] > PC [Laptop]")
	require.Len(t, judge.Rig(r).Feeds, 1, "a capture device is proposed between them")
}

func TestLinesMeetInThingsNamedAgain(t *testing.T) {
	r := told(t, strings.Join([]string{
		"PC [Laptop]",
		"Cam A [Camcorder] > 3 m > Switcher [Four-input switcher] input 1",
		"Cam B [Mirrorless camera] > premium 4,5 m > Switcher input 2",
		"Slides [Second computer for slides] > HDMI 2 m > Switcher input 4",
		"Switcher USB > USB 5 Gb/s 1 m > PC right, Type-C",
		"Switcher monitor out > Screen [Monitor]",
		"Cam A < dummy battery < Strip [Mains strip, six sockets]",
		"Ada > Lapel microphone on a lead > Desk box [Audio interface] > PC",
		"show.minutes: 90",
		"rig: Evening class",
	}, "\n"))
	require.Equal(t, "Evening class", r.Name)
	require.Equal(t, 90.0, r.Show.Minutes)
	toProgram := 0
	for _, f := range judge.Rig(r).Feeds {
		if !strings.Contains(f.ID, ">") {
			toProgram++
		}
	}
	require.Equal(t, 3, toProgram, Write(r))
	require.Equal(t, "switcher.in-2", lead(t, r, "cam-b.hdmi").To)
	require.Equal(t, "premium", lead(t, r, "cam-b.hdmi").Grade)
	require.Equal(t, 4.5, lead(t, r, "cam-b.hdmi").LengthM.Value)
	require.Equal(t, "screen.in", lead(t, r, "switcher.out").To)
	require.Equal(t, "strip", r.Item("cam-a").PoweredBy)
	require.Equal(t, "mains", r.Item("cam-a").Set.RunsOn)
	require.Equal(t, []rig.SoundPath{{Voice: "Ada", From: "lapel-microphone-on-a-lead", Via: []string{"desk-box"}}},
		r.Sound.Paths)
	require.Equal(t, "desk-box.usb", lead(t, r, "desk-box.usb").From)
}

// Which input a voice goes into is said behind the thing; what is no input is marked at its place.
func TestAVoiceGoesIntoAnInput(t *testing.T) {
	const rest = "Cam A [Camcorder] > Stick 1 [4K stick] > PC [Laptop]\n"
	require.Equal(t, 2, told(t, rest+"Ada > Lapel microphone on a lead > Desk box [Audio interface] input 2 > PC").
		Sound.Paths[0].Input)
	for _, wrong := range []string{"input 0", "input 65", "input Bo"} {
		problems := Read(rest+"Ada > Lapel microphone on a lead > Desk box [Audio interface] "+wrong, shelf()).Problems
		require.Len(t, problems, 1, wrong)
		require.Contains(t, problems[0].Text, "want input 1 to 64", wrong)
		require.Equal(t, 2, problems[0].Line)
	}
}

// Things whose names read like leads, and sound that goes into an interface without a voice named.
func TestThingsCalledAsTheirKind(t *testing.T) {
	r := told(t, "Small laptop\nWebcam\nUSB drive\nNetwork adapter\nLapel microphone on a lead > Interface with two inputs\nFour-input switcher monitor out > Monitor")
	require.NotNil(t, lead(t, r, "usb-drive.usb"))
	require.Equal(t, []rig.SoundPath{{Voice: "Lapel microphone on a lead", From: "lapel-microphone-on-a-lead",
		Via: []string{"interface-with-two-inputs"}}}, r.Sound.Paths)
	named := told(t, "Laptop\nStudio camera with SDI SDI > SDI box\nCamera whose USB gives 1080p60 USB > Laptop")
	require.Equal(t, "sdi-box.in", lead(t, named, "studio-camera-with-sdi.sdi").To,
		"a socket behind the name of a kind")
	require.NotNil(t, lead(t, named, "camera-whose-usb-gives-1080p60.usb"), "and not what reads like a lead within it")
	require.NotNil(t, lead(t, r, "four-input-switcher.usb"), "its plug finds the computer, whatever else it gives")
}

func TestSaidOfARigThatIsThere(t *testing.T) {
	r := told(t, "Cam A [Camcorder] > Stick [full-HD stick] > PC [Laptop]")
	got := Say(r, "Cam B [Camcorder] > 7 m > Stick 2 [4K stick]\n  owned: false\nCam A\n  clean: clean", shelf())
	require.Len(t, got.Problems, 1, "the lead has no owner")
	got = Say(r, "Cam B [Camcorder] > 7 m > Stick 2 [4K stick]\nCam A\n  clean: clean", shelf())
	require.Empty(t, got.Problems)
	after, err := rig.Apply(r, got.Done.Edits...)
	require.NoError(t, err)
	require.Equal(t, plain(after), plain(got.Rig), "the edits make what was read")
	require.Len(t, judge.Rig(after).Feeds, 2)
	require.Equal(t, "clean", string(after.Item("cam-a").Gear.Clean))
}

// What is not understood is marked at its place, with what could stand there.
func TestWhatIsNotUnderstood(t *testing.T) {
	base := told(t, "Cam A [Camcorder] > Stick [full-HD stick] > PC [Laptop]")
	for _, c := range []struct{ text, at, says, wants string }{
		{"Cam B [Camcoder] > Stick 2 [4K stick]", "[Camcoder]", "no thing on the shelf is called “Camcoder”", ""},
		{"Cam B [Games camcorder]", "[Games camcorder]", "no thing on the shelf", "Camcorder"},
		{"Cam B [Camcorder] > Hyper Speed HDMI 5 m > Stick 2 [4K stick]", "Hyper Speed HDMI 5 m",
			"“hyper” says no grade of a lead", "Premium High Speed HDMI"},
		{"Cam B [Camcorder] > Nowhere", "Nowhere", "is no thing of this rig", ""},
		{"Cam B [Camcorder] > HDMI 5 m", "HDMI 5 m", "the lead leads nowhere", ""},
		{"HDMI 5 m > Stick", "HDMI 5 m", "begins with a thing", ""},
		{"Cam B [Camcorder] > 5 m > 3 m > Stick", "3 m", "two leads one after the other", ""},
		{"Cam B [Camcorder] > Stick", "Stick", "is taken", ""},
		{"Cam B [Camcorder] HDMI > PC right", "PC right", "a capture device stands between them", ""},
		{"Cam B [Camcorder] socket nine > Stick 2 [4K stick]", "socket nine", "has no socket", "HDMI"},
		{"Cam A [Webcam]", "Cam A [Webcam]", "is a Camcorder already", ""},
		{"Cam B [Camcorder", "Cam B [Camcorder", "the bracket is not closed", ""},
		{"Cam B > > Stick", " ", "nothing stands here", ""},
		{"Cam A < steam", "steam", "nothing power comes from", "mains"},
		{"< Strip", "", "nothing stands here", ""},
		{"  colour: red", "colour: red", "no thing or lead above it", ""},
		{"Cam B [Camcorder]\n  colour: red", "colour: red", "colour is no field there", ""},
		{"Cam A\n  colour: red", "colour: red", "colour is nothing that can be said of Cam A here", ""},
		{"show.minutes: many", "show.minutes: many", "", ""},
		{"uplink.whose: own", "uplink.whose: own", "said of a whole rig", ""},
		{strings.Repeat("x", 2001), strings.Repeat("x", 2001), "longer than 2000 characters", ""},
		{"Dear all,\nplease find the list below.\nYours, A", "Dear all,", "is no thing of this rig", ""},
	} {
		got := Say(base, c.text, shelf())
		require.NotEmpty(t, got.Problems, c.text)
		p := got.Problems[0]
		line := []rune(strings.Split(c.text, "\n")[p.Line-1])
		require.Contains(t, p.Text, c.says, c.text)
		require.Contains(t, string(line[p.From:p.To]), strings.TrimSpace(c.at), "%s: %+v", c.text, p)
		if c.wants != "" {
			require.Contains(t, p.Wants, c.wants, c.text)
		}
	}
	got := Say(base, "Dear all,\nplease find the list below.\nYours, A", shelf())
	require.Len(t, got.Problems, 3, "every line is marked")
}

// A text out of a mail reads as it was written: quoted, with blank lines, with notes.
func TestOutOfAMail(t *testing.T) {
	r := told(t, "> # our rig\r\n> \r\n> Cam A [Camcorder] > 5 m > Stick [full-HD stick] > PC [Laptop]\r\n>   spanM: 4\r\n")
	require.Equal(t, 4.0, lead(t, r, "stick.usb").SpanM.Value, "of the last lead of the line")
}

func FuzzSay(f *testing.F) {
	base := Read("Cam A [Camcorder] > Stick [full-HD stick] > PC [Laptop]", shelf()).Rig
	for _, s := range []string{"Cam B [Camcorder] > HDMI 5 m > Stick 2 [4K stick]\n  spanM: 4",
		"Ada > Lapel microphone on a lead > PC", "show.minutes: 3", "[X] is a camera\n  ports.a.connector: hdmi-a",
		`"a>b" [Webcam] < Cam A`, "  a.b: {",
		"A [Laptop]\n  gear.ports.left.volts: 4.8 (4.7 to 4.9) measured 2026-01-01"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		got := Say(base, text, shelf())
		if len(got.Problems) == 0 {
			after, err := rig.Apply(base, got.Done.Edits...)
			require.NoError(t, err)
			require.Empty(t, rig.Check(after))
		}
		for _, p := range got.Problems {
			lines := strings.Split(strings.ReplaceAll(strings.TrimPrefix(text, "\ufeff"), "\r\n", "\n"), "\n")
			require.LessOrEqual(t, p.To, len([]rune(lines[p.Line-1]))+1)
			require.LessOrEqual(t, p.From, p.To)
		}
		whole := Read(text, nil)
		if len(whole.Problems) == 0 {
			judge.Rig(whole.Rig)
		}
	})
}

func TestCompletion(t *testing.T) {
	r := told(t, "Cam A [Camcorder] > Stick [full-HD stick] > PC [Laptop]\nSwitcher [Four-input switcher]\nStrip [Mains strip, six sockets]")
	texts := func(line string) (out []string) {
		for _, c := range Complete(r, line, len([]rune(line)), shelf()) {
			require.LessOrEqual(t, c.From, c.To)
			out = append(out, c.Text)
		}
		return out
	}
	require.Contains(t, texts("Cam B [camc"), "Camcorder]")
	require.Contains(t, texts("Cam B [Camcorder] > Swi"), "Switcher input 1")
	require.Contains(t, texts("Cam B [Camcorder] > prem"), "Premium High Speed HDMI ")
	require.NotContains(t, texts("Cam B [Camcorder] > "), "RG-6 coax ", "it has no SDI")
	require.Contains(t, texts("Cam A < st"), "Strip")
	require.Contains(t, texts("Cam A < ma"), "mains")
	require.Contains(t, texts("swi"), "Switcher")
	require.Contains(t, texts("Cam B [Webcam] > ri"), "PC right")
	require.Empty(t, texts(`"in quotes`))
	for at := range 40 {
		Complete(r, "Cam B [Camcorder] > HDMI 5 m > Switcher input 2", at, shelf())
	}
}
