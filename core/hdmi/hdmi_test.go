package hdmi

import (
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/picture"
)

// header is a timing as linux/v4l2-dv-timings.h of Debian's linux-libc-dev states it.
type header struct {
	width, height, hTotal, vTotal int
	interlaced                    bool
	clock                         int64
	reducible                     bool // the /1001 rate is allowed
}

var (
	define = regexp.MustCompile(`(?s)#define V4L2_DV_BT_CEA_(\w+) \{(.*?)\n\}`)
	inits  = regexp.MustCompile(`(?s)V4L2_INIT_BT_TIMINGS\((.*)\)`)
)

// kernelTimings parses the header; nothing of it is copied here.
func kernelTimings(t *testing.T) map[string]header {
	t.Helper()
	text, err := os.ReadFile("/usr/include/linux/v4l2-dv-timings.h")
	require.NoError(t, err, "the Debian package linux-libc-dev has it")
	out := map[string]header{}
	for _, m := range define.FindAllStringSubmatch(strings.ReplaceAll(string(text), "\\\n", "\n"), -1) {
		in := inits.FindStringSubmatch(m[2])
		require.NotNil(t, in, m[1])
		args := strings.Split(in[1], ",")
		n := func(i int) int {
			v, err := strconv.Atoi(strings.TrimSpace(args[i]))
			require.NoError(t, err, "%s argument %d: %q", m[1], i, args[i])
			return v
		}
		// width, height, interlaced, polarities, clock, hfp, hsync, hbp, vfp, vsync, vbp, il_vfp, il_vsync, il_vbp
		h := header{width: n(0), height: n(1), interlaced: n(2) == 1, clock: int64(n(4)), reducible: strings.Contains(m[2], "CAN_REDUCE_FPS")}
		h.hTotal = h.width + n(5) + n(6) + n(7)
		h.vTotal = h.height + n(8) + n(9) + n(10)
		if h.interlaced {
			h.vTotal += n(11) + n(12) + n(13)
			if strings.Contains(m[2], "HALF_LINE") {
				require.Contains(t, m[2], "HALF_LINE") // the odd field is a line longer; it is in the il_ figures
			}
		}
		out[m[1]] = h
	}
	require.Greater(t, len(out), 20)
	return out
}

// Every row of Timings but 1080p120 (which the header does not have) against the kernel header.
// [standard: CTA-861, as linux/v4l2-dv-timings.h states it]
func TestTimingsAgainstKernelHeader(t *testing.T) {
	kernel := kernelTimings(t)
	matched := map[string]bool{}
	for _, row := range Timings {
		if row.Height == 1080 && row.Rate == picture.R(120) {
			continue
		}
		name := picture.Mode{Width: row.Width, Height: row.Height, Rate: row.Rate, Interlaced: row.Interlaced}.Name()
		t.Run(strconv.Itoa(row.Width)+" "+name, func(t *testing.T) {
			found := false
			for key, h := range kernel {
				twice := 1
				if row.Interlaced && row.Width == 720 { // pixels sent twice
					twice = 2
				}
				if h.width != row.Width || h.height != row.Height || h.interlaced != row.Interlaced || h.hTotal*twice != row.HTotal || h.clock*int64(twice) != row.ClockHz {
					continue
				}
				found = true
				matched[key] = true
				require.Equal(t, h.vTotal, row.VTotal)
				require.InEpsilon(t, row.Rate.Float(), float64(row.ClockHz)/float64(row.HTotal)/float64(row.VTotal), 1e-12, "clock ÷ raster is the rate")
				if h.reducible {
					_, ok := PixelClock(picture.Mode{Width: row.Width, Height: row.Height, Interlaced: row.Interlaced, Rate: picture.NewRate(row.Rate.Num*1000, row.Rate.Den*1001)})
					require.True(t, ok)
				}
			}
			require.True(t, found, "no such timing in the header")
		})
	}
	for key := range kernel {
		if !matched[key] {
			require.Equal(t, "640X480P59_94", key, "a CTA-861 timing of the header that the table does not have")
		}
	}
}

// The worked figures of handbook 2.5.
func TestCharacterRates(t *testing.T) {
	mode := func(w, h int, r int64, c picture.Chroma, bits int) picture.Mode {
		return picture.Mode{Width: w, Height: h, Rate: picture.R(r), Chroma: c, Bits: bits}
	}
	for _, c := range []struct {
		m    picture.Mode
		want float64 // MHz
	}{
		{mode(3840, 2160, 60, picture.RGB, 8), 594},
		{mode(3840, 2160, 60, picture.RGB, 10), 742.5},
		{mode(3840, 2160, 60, picture.YUV420, 8), 297},
		{mode(3840, 2160, 60, picture.YUV422, 12), 594},
		{mode(3840, 2160, 30, picture.RGB, 8), 297},
		{mode(1920, 1080, 60, picture.NotSaid, 0), 148.5},
		{mode(1920, 1080, 60, picture.YUV444, 10), 185.625},
	} {
		low, high := CharacterRate(c.m)
		require.Equal(t, low, high)
		require.InDelta(t, c.want*1e6, low, 1)
	}
	low, _ := CharacterRate(picture.Mode{Width: 1920, Height: 1080, Rate: picture.NewRate(60000, 1001)})
	require.InDelta(t, 148.5e6*1000/1001, low, 1)
	low, high := CharacterRate(mode(3440, 1440, 60, picture.RGB, 8))
	require.Less(t, low, high, "a size CTA-861 does not list has bounds")
	require.LessOrEqual(t, low, 319.75e6)
	require.GreaterOrEqual(t, high, 319.75e6, "handbook 1.2: 3440×1440 reduced blanking is 319.75 MHz")
}

// Monotone: a higher rate never reaches further, a thinner lead never further than a thick one, sure never past possible.
func TestReachIsMonotone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(1, 1200).Draw(t, "mhz")
		b := rapid.Float64Range(a, 1300).Draw(t, "more")
		for _, thin := range []Thickness{Thick, Thin, MaybeThin} {
			s1, p1 := Reach(a, thin)
			s2, p2 := Reach(b, thin)
			require.LessOrEqual(t, s2, s1)
			require.LessOrEqual(t, p2, p1)
			require.LessOrEqual(t, s1, p1)
			thick, thickPossible := Reach(a, Thick)
			require.LessOrEqual(t, s1, thick)
			require.LessOrEqual(t, p1, thickPossible)
		}
	})
	sure, possible := Reach(297, Thick)
	require.Equal(t, []float64{5, 10}, []float64{sure, possible}, "handbook 2.5")
}

func TestGradesRise(t *testing.T) {
	last := 0.0
	for _, g := range []Grade{StandardHD, HighSpeed, Premium} {
		sure, possible := GradeMHz(g)
		require.Equal(t, sure, possible)
		require.Greater(t, sure, last)
		last = sure
	}
	sure, possible := GradeMHz(Unknown)
	require.Less(t, sure, possible)
}
