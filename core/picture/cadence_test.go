package picture

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var (
	f23976 = NewRate(24000, 1001)
	f2997  = NewRate(30000, 1001)
	f5994  = NewRate(60000, 1001)
)

// Cadence against Debian's ffmpeg: numbered frames go through its fps filter. Its rounding rule "up" agrees with
// floor(k·S/C): a frame at time j/S goes to tick ceil(j·C/S), so tick k shows the last j with j·C/S <= k.
func TestShownAgainstFFmpeg(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	for _, c := range []struct{ s, c Rate }{
		{R(24), R(30)}, {R(25), R(30)}, {R(24), R(60)}, {R(50), R(30)}, {f5994, R(60)},
		{R(60), f2997}, {R(25), R(60)}, {f23976, f2997}, {R(30), R(60)}, {f5994, f2997}, {R(60), R(50)},
	} {
		t.Run(c.s.String()+" into "+c.c.String(), func(t *testing.T) {
			// Each frame is 16 bytes that all hold its number, one byte high and one low.
			const frames = 2400
			in := make([]byte, 0, frames*16)
			for i := range frames {
				for range 8 {
					in = append(in, byte(i>>8), byte(i))
				}
			}
			out := run(t, in, "-f", "rawvideo", "-pixel_format", "gray", "-video_size", "4x4", "-framerate",
				c.s.String(), "-i", "-",
				"-vf", fmt.Sprintf("fps=fps=%s:round=up:start_time=0", c.c), "-f", "rawvideo", "-fps_mode",
				"passthrough", "-")
			ticks := len(out) / 16
			require.Greater(t, ticks, 1000)
			for k := range ticks - 2 { // the filter closes the stream with rules of its own
				shown := int64(out[k*16])<<8 | int64(out[k*16+1])
				require.Equal(t, shown, Shown(c.s, c.c, int64(k)), "tick %d", k)
			}
		})
	}
}

func TestCadence(t *testing.T) {
	for _, c := range []struct {
		s, c    Rate
		kind    CadenceKind
		pattern []int
		slip    float64 // seconds
	}{
		// Every worked case.
		{R(30), R(30), SameRate, []int{1}, 0},
		{R(60), R(30), Clean, []int{1, 0}, 0},
		{R(30), R(60), Clean, []int{2}, 0},
		{f5994, f2997, Clean, []int{1, 0}, 0},
		{R(120), R(30), Clean, []int{1, 0, 0, 0}, 0},
		{f5994, R(60), Slip, []int{1}, 1001.0 / 60},
		{f5994, R(30), Slip, []int{1, 0}, 1001.0 / 60},
		{R(60), f2997, Slip, []int{1, 0}, 1001.0 / 60},
		{f2997, R(30), Slip, []int{1}, 1001.0 / 30},
		{f23976, R(24), Slip, []int{1}, 1001.0 / 24},
		{R(24), R(30), Judder, []int{2, 1, 1, 1}, 0},
		{R(24), R(60), Judder, []int{3, 2}, 0},
		{R(25), R(30), Judder, []int{2, 1, 1, 1, 1}, 0},
		{R(25), R(60), Judder, []int{3, 2, 3, 2, 2}, 0},
		{R(24), f2997, Judder, []int{2, 1, 1, 1}, 1 / (24 - 24000.0/1001)},
	} {
		t.Run(c.s.String()+" into "+c.c.String(), func(t *testing.T) {
			got := CadenceOf(c.s, c.c)
			require.Equal(t, c.kind, got.Kind)
			require.Equal(t, c.pattern, got.Pattern)
			require.InDelta(t, c.slip, got.SlipSeconds, 1e-6)
		})
	}
}

func TestFiftyIntoThirtyShowsThreeOfFive(t *testing.T) {
	got := CadenceOf(R(50), R(30))
	require.Equal(t, Judder, got.Kind)
	require.Len(t, got.Pattern, 5)
	shown := slices.DeleteFunc(slices.Clone(got.Pattern), func(n int) bool { return n == 0 })
	require.Len(t, shown, 3)
}

// The pattern is what Shown does over one period, for any pair of rates whose ratio is short.
func TestPatternIsWhatIsShown(t *testing.T) {
	rates := []Rate{f23976, R(24), R(25), f2997, R(30), R(50), f5994, R(60), R(100), NewRate(120000, 1001), R(120),
		R(144)}
	rapid.Check(t, func(t *rapid.T) {
		s, c := rapid.SampledFrom(rates).Draw(t, "source"), rapid.SampledFrom(rates).Draw(t, "programme")
		cad := CadenceOf(s, c)
		require.NotEmpty(t, cad.Kind)
		if cad.SlipSeconds > 0 {
			require.Greater(t, cad.SlipSeconds, 1.0, "%v into %v", s, c)
			return
		}
		ticks := int64(0)
		for _, n := range cad.Pattern {
			ticks += int64(n)
		}
		counts := make([]int, len(cad.Pattern))
		for k := range ticks {
			counts[Shown(s, c, k)]++
		}
		require.Equal(t, counts, cad.Pattern)
		require.Equal(t, int64(len(cad.Pattern)), Shown(s, c, ticks), "the period closes")
		require.Equal(t, cad.Kind == Judder, cad.UnevenPerSecond > 0)
	})
}

func TestUnevenSteps(t *testing.T) {
	for _, c := range []struct {
		s, c Rate
		want float64
	}{
		{R(24), R(30), 6}, {R(25), R(30), 5}, {R(24), R(60), 12}, {R(50), R(30), 10}, {R(60), R(30), 0},
		{f5994, R(60), 60 - 60000.0/1001},
	} {
		require.InDelta(t, c.want, CadenceOf(c.s, c.c).UnevenPerSecond, 1e-9, "%v into %v", c.s, c.c)
	}
}

func TestRates(t *testing.T) {
	for _, c := range []struct{ text, exact, name string }{
		{"30", "30", "30"}, {"60/1", "60", "60"}, {"30000/1001", "30000/1001", "29.97"},
		{"60000/1001", "60000/1001", "59.94"},
		{"24000/1001", "24000/1001", "23.976"}, {"120000/1001", "120000/1001", "119.88"}, {"50/2", "25", "25"},
	} {
		r, err := ParseRate(c.text)
		require.NoError(t, err)
		require.Equal(t, c.exact, r.String())
		require.Equal(t, c.name, r.Name())
		text, err := r.MarshalText()
		require.NoError(t, err)
		var back Rate
		require.NoError(t, back.UnmarshalText(text))
		require.Equal(t, r, back)
	}
	for _, bad := range []struct{ text, says string }{
		{"29.97", "30000/1001"}, {"59.94", "60000/1001"}, {"23.976", "24000/1001"}, {"", "whole number"},
		{"0", "whole number"}, {"-5", "whole number"},
		{"30/0", "whole number"}, {"a", "whole number"}, {"1e9", "whole number"}, {"99999", "more than 1000"},
		{"30/1/1", "whole number"},
	} {
		_, err := ParseRate(bad.text)
		require.ErrorContains(t, err, bad.says, bad.text)
	}
	require.Negative(t, f2997.Cmp(R(30)))
	require.Positive(t, R(30).Cmp(f2997))
	require.Zero(t, R(30).Cmp(NewRate(60, 2)))
	require.EqualValues(t, 30, f2997.Nominal())
}

func TestModeNames(t *testing.T) {
	for _, c := range []struct {
		m    Mode
		want string
	}{
		{Mode{Width: 1920, Height: 1080, Rate: f2997}, "1080p29.97"},
		{Mode{Width: 1920, Height: 1080, Rate: R(25), Interlaced: true}, "1080i25"},
		{Mode{Width: 3840, Height: 2160, Rate: R(60)}, "2160p60"},
		{Mode{Width: 3440, Height: 1440, Rate: R(60)}, "3440×1440 p60"},
	} {
		require.Equal(t, c.want, c.m.Name())
	}
	require.True(t, Mode{Width: 1, Rate: R(30), Chroma: RGB}.Same(Mode{Width: 1, Rate: R(30), Chroma: YUV422,
		Bits: 10}))
	require.Equal(t, 8, Mode{}.Depth())
}
