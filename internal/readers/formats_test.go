package readers

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/picture"
)

const listing = `ioctl: VIDIOC_ENUM_FMT
	Type: Video Capture

	[0]: 'MJPG' (Motion-JPEG, compressed)
		Size: Discrete 1920x1080
			Interval: Discrete 0.017s (60.000 fps)
			Interval: Discrete 0.017s (59.940 fps)
			Interval: Discrete 0.033s (29.970 fps)
			Interval: Discrete 0.133s (7.500 fps)
		Size: Discrete 1280x720
			Interval: Discrete 0.017s (60.000 fps)
	[1]: 'YUYV' (YUYV 4:2:2)
		Size: Stepwise 16x16 - 1920x1080 with step 8/2
			Interval: Stepwise 0.017s - 1.000s with step 0.001s (1.000-60.000 fps)
	[2]: 'NV12' (Y/CbCr 4:2:0)
		Size: Continuous 2x2 - 4096x2160
	[3]: 'GREY' (8-bit Greyscale)
		Size: Discrete 640x480
			Interval: Discrete 0.033s (30.000 fps)
`

func TestFormats(t *testing.T) {
	for name, text := range map[string]string{"as printed": listing, "with CRLF": strings.ReplaceAll(listing, "\n",
		"\r\n"), "with decimal commas": strings.NewReplacer(".000 ", ",000 ", ".940", ",940", ".970", ",970", "7.500",
		"7,500", "(1.000-60", "(1,000-60").Replace(listing)} {
		t.Run(name, func(t *testing.T) {
			l, err := Formats([]byte(text))
			require.NoError(t, err)
			require.False(t, l.Incomplete, "%v", l.Problems)
			require.Len(t, l.Modes, 5)
			require.Equal(t, ListedMode{PixelFormat: "MJPG", Format: "MJPEG", SizeKind: "discrete", Width: 1920,
				Height: 1080, Rates: []string{"60/1", "60000/1001", "30000/1001", "7500/1000"}}, l.Modes[0])
			require.Equal(t, ListedMode{PixelFormat: "YUYV", Format: "YUY2", SizeKind: "stepwise", MinWidth: 16,
				MaxWidth: 1920, StepWidth: 8, MinHeight: 16, MaxHeight: 1080, StepHeight: 2,
				Rates: []string{"60/1", "1/1"}, RateRange: true}, l.Modes[2])
			require.Equal(t, "continuous", l.Modes[3].SizeKind)
			require.Empty(t, l.Modes[3].Rates)
			require.NotNil(t, l.Modes[3].Rates)
		})
	}
}

// The words this reader knows are those the tool prints: they stand in its program. [general tool: v4l2-ctl of
// v4l-utils]
func TestWordsAreTheTools(t *testing.T) {
	path, err := exec.LookPath("v4l2-ctl")
	require.NoError(t, err, "the Debian package v4l-utils has it")
	out, err := exec.Command("strings", "-n", "4", path).Output()
	require.NoError(t, err)
	for _, piece := range []string{"Size: %s", "%dx%d - %dx%d with step %d/%d", "Interval: %s",
		"%ss - %ss with step %ss (%s-%s fps)", "Discrete", "Stepwise", "Continuous", "Type: %s"} {
		require.Contains(t, string(out), piece)
	}
}

func TestFormatsDelivers(t *testing.T) {
	l, err := Formats([]byte(listing))
	require.NoError(t, err)
	delivers, left := l.Delivers()
	require.Equal(t, []string{"GREY"}, left)
	require.Len(t, delivers, 4)
	require.Equal(t, picture.NV12, delivers[0].Format, "the largest first")
	require.Equal(t, picture.YUY2, delivers[1].Format, "then the richest")
	// A stepped size follows the picture down; a discrete one does not.
	w, h, ok := delivers[1].Size(1284, 721)
	require.Equal(t, []any{1280, 720, true}, []any{w, h, ok})
	_, _, ok = delivers[2].Size(1280, 720)
	require.False(t, ok)
	require.Equal(t, picture.NewRate(60000, 1001), delivers[2].RateFor(picture.NewRate(60000, 1001)))
	require.Equal(t, picture.NewRate(30000, 1001), delivers[2].RateFor(picture.R(50)), "the highest rate below")
}

// A range of rates is every rate within it; a picture no sheet can have is left out and named; a line with a zero byte
// costs that line only.
func TestFormatsAtTheirEdges(t *testing.T) {
	text := strings.Replace(listing, "Size: Discrete 640x480", "Size: Discrete 8x8", 1)
	l, err := Formats([]byte(strings.Replace(text, "1280x720", "1280\x00x720", 1)))
	require.NoError(t, err)
	require.True(t, l.Incomplete)
	require.Contains(t, l.Problems[0].Text, "zero byte")
	delivers, left := l.Delivers()
	require.Contains(t, left, "GREY")
	for _, d := range delivers {
		require.GreaterOrEqual(t, min(d.Width, d.Height), 16)
		if d.Format == picture.YUY2 {
			require.Empty(t, d.Rates, "1 to 60, not 1 and 60")
			require.Equal(t, picture.R(25), d.RateFor(picture.R(25)))
		}
	}
}

func FuzzFormats(f *testing.F) {
	f.Add([]byte(listing))
	f.Add([]byte("\t[0]: 'NV12' (Y)\n\t\tSize: Stepwise 1x1 - 2x2 with step 1/1\n\t\t\tInterval: Continuous 0.1s - 1s (1.000-10.000 fps)\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		l, err := Formats(data)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		for _, m := range l.Modes {
			require.NotEmpty(t, m.PixelFormat)
		}
		delivers, _ := l.Delivers()
		for i := range delivers {
			require.GreaterOrEqual(t, min(delivers[i].Width, delivers[i].Height), 16)
			require.GreaterOrEqual(t, delivers[i].MaxRate.Float(), 0.99)
		}
	})
}

func TestBadListings(t *testing.T) {
	for _, c := range []struct {
		name, text string
		err        string   // nothing could be read
		problems   []string // or it was read in part
		modes      int
	}{
		{"nothing", " \n\n", "the listing is empty", nil, 0},
		{"binary", "\x7fELF\x00", "byte 4 is 0: this is no text", nil, 0},
		{"another text", "hello there\n", `line 1: "hello there" is no line of such a listing`, nil, 0},
		{"formats without sizes", "\t[0]: 'NV12' (Y/CbCr 4:2:0)\n", "no size is listed", nil, 0},
		{"another language", "\t[0]: 'NV12' (Y/CbCr 4:2:0)\n\t\tGröße: Diskret 1920x1080\n",
			"is it in another language? Print it again with LC_ALL=C", nil, 0},
		{"cut in the middle of a size", listing[:strings.Index(listing, "1280x720")+7], "",
			[]string{`line 10: "Size: Discrete 1280x72": the listing ends in the middle of this line`}, 1},
		{"cut in the middle of a rate", listing[:strings.Index(listing, "(29.970")+4], "",
			[]string{`line 8: "Interval: Discrete 0.033s (29.": the listing ends in the middle`}, 1},
		{"a size without a format", "Size: Discrete 640x480\n" + listing, "",
			[]string{"line 1: \"Size: Discrete 640x480\": no pixel format was named before this size"}, 5},
		{"a size of nothing", strings.Replace(listing, "1280x720", "0x720", 1), "",
			[]string{"line 10: ", "line 11: a rate stands here without a size before it"}, 4},
		{"a rate of nothing", strings.Replace(listing, "(59.940", "(0.000", 1), "",
			[]string{`line 7: "0.000" is no rate`}, 5},
		{"steps the wrong way round", strings.Replace(listing, "16x16 - 1920x1080", "1920x1080 - 16x16", 1), "",
			[]string{"line 13: ", "line 14: a rate"}, 4},
	} {
		t.Run(c.name, func(t *testing.T) {
			l, err := Formats([]byte(c.text))
			if c.err != "" {
				require.ErrorContains(t, err, c.err)
				return
			}
			require.NoError(t, err)
			require.True(t, l.Incomplete)
			require.Len(t, l.Problems, len(c.problems), "%v", l.Problems)
			for i, p := range l.Problems {
				require.Contains(t, "line "+itoa(p.Line)+": "+p.Text, c.problems[i])
			}
			require.Len(t, l.Modes, c.modes)
		})
	}
}

func itoa(n int) string {
	s := ""
	for ; n > 0; n /= 10 {
		s = string(rune('0'+n%10)) + s
	}
	return s
}

// Cut anywhere, a listing never gives a mode the whole one does not have, and says that something is missing whenever
// a line was cut.
func TestCutAnywhere(t *testing.T) {
	whole, err := Formats([]byte(listing))
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		at := rapid.IntRange(0, len(listing)).Draw(t, "cut")
		l, err := Formats([]byte(listing[:at]))
		if err != nil {
			return
		}
		for i, m := range l.Modes {
			full := whole.Modes[i]
			require.Equal(t, full.Rates[:len(m.Rates)], m.Rates)
			require.False(t, m.RateRange && !full.RateRange)
			m.Rates, full.Rates, full.RateRange = nil, nil, m.RateRange
			require.Equal(t, full, m)
		}
		last := listing[strings.LastIndexByte(listing[:at], '\n')+1 : at]
		if cut := strings.TrimSpace(last); cut != "" && at < len(listing) && !strings.HasSuffix(cut, "fps)") &&
			listing[at] != '\n' {
			require.True(t, l.Incomplete, "%q", cut)
		}
	})
}
