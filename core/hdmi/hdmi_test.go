package hdmi

import (
	"os"
	"os/exec"
	"regexp"
	"slices"
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
		h := header{width: n(0), height: n(1), interlaced: n(2) == 1, clock: int64(n(4)),
			reducible: strings.Contains(m[2], "CAN_REDUCE_FPS")}
		h.hTotal = h.width + n(5) + n(6) + n(7)
		h.vTotal = h.height + n(8) + n(9) + n(10)
		if h.interlaced {
			h.vTotal += n(11) + n(12) + n(13)
		}
		out[m[1]] = h
	}
	require.Greater(t, len(out), 20)
	return out
}

// Every CTA-861 timing of the kernel header against the table, with the /1001 rate where the header allows it.
// [standard: CTA-861, as linux/v4l2-dv-timings.h states it]
func TestTimingsAgainstKernelHeader(t *testing.T) {
	for key, h := range kernelTimings(t) {
		t.Run(key, func(t *testing.T) {
			twice := 1
			if h.interlaced && h.width == 720 { // sent with every pixel twice
				twice = 2
			}
			at := slices.IndexFunc(CTA, func(c Timing) bool {
				return c.Width == h.width*twice && c.Height == h.height && c.Interlaced == h.interlaced && c.HTotal ==
					h.hTotal*twice && c.ClockHz == h.clock*int64(twice)
			})
			require.GreaterOrEqual(t, at, 0, "not in the table")
			row := &CTA[at]
			require.Equal(t, h.vTotal, row.VTotal)
			m := picture.Mode{Width: h.width, Height: h.height, Interlaced: h.interlaced, Rate: row.Rate()}
			clock, ok := PixelClock(m)
			require.True(t, ok)
			require.InDelta(t, row.ClockHz, clock, 0.5)
			if h.reducible && row.Rate().Den == 1 {
				m.Rate = picture.NewRate(row.Rate().Num*1000, 1001)
				clock, ok = PixelClock(m)
				require.True(t, ok)
				require.InDelta(t, float64(row.ClockHz)/1.001, clock, 0.5)
			}
		})
	}
}

var listed = regexp.MustCompile(`(\d+)x(\d+)(i?)\s+([\d.]+) Hz\s+(\S+)\s+[\d.]+ kHz\s+([\d.]+) MHz`)

// reference asks Debian's edid-decode for timings.
func reference(t testing.TB, args ...string) string {
	t.Helper()
	out, err := exec.Command("edid-decode", args...).Output()
	require.NoError(t, err, "the Debian package edid-decode has it")
	return string(out)
}

// Every row of CTA against the list of edid-decode, both ways. [standard: CTA-861-I, as edid-decode states it]
func TestCTAAgainstReferenceTool(t *testing.T) {
	lines := regexp.MustCompile(`(?m)^VIC\s+(\d+):(.*)$`).FindAllStringSubmatch(reference(t, "--list-vics"), -1)
	require.Len(t, lines, len(CTA))
	for _, line := range lines {
		vic, err := strconv.Atoi(line[1])
		require.NoError(t, err)
		f := listed.FindStringSubmatch(line[2])
		require.NotNil(t, f, line[2])
		row := ByVIC(vic)
		require.NotNil(t, row, "VIC %d", vic)
		rate := row.Rate().Float()
		if row.Interlaced {
			rate *= 2
		}
		mhz, err := strconv.ParseFloat(f[6], 64)
		require.NoError(t, err)
		require.Equal(t, []string{f[1], f[2], f[3], f[4], f[5]}, []string{strconv.Itoa(row.Width),
			strconv.Itoa(row.Height),
			map[bool]string{true: "i"}[row.Interlaced], strconv.FormatFloat(rate, 'f', 6, 64), row.Aspect}, "VIC %d",
			vic)
		require.InDelta(t, mhz*1e6, row.ClockHz, 0.5)
		require.Equal(t, vic, row.VIC)
	}
	for _, none := range []int{-1, 0, 128, 192, 220, 256} {
		require.Nil(t, ByVIC(none))
	}
}

var porches = regexp.MustCompile(`(?s)Hfront\s+(-?\d+) Hsync\s+(\d+) Hback\s+(\d+).*?Vfront\s+(\d+) Vsync\s+(\d+) Vback\s+(\d+)`)

// VESA timings against edid-decode's own calculation. [standard: VESA CVT 1.2, GTF 1.1]
func TestComputedAgainstReferenceTool(t *testing.T) {
	for _, size := range [][2]int{{2560, 1440}, {3440, 1440}, {1920, 1200}, {1680, 1050}, {1360, 768}, {1280, 1024},
		{1280, 800}, {1600, 1200}, {5120, 1440}, {3840, 1600}, {640, 480}, {512, 320}} {
		for _, hz := range []float64{24, 50, 60, 75, 120, 144} {
			if hz < 50 && size[0] < 2000 || hz == 50 && size[0] < 640 {
				continue // below what the formulas are meant for
			}
			for b, arg := range map[Blanking]string{CVT: "rb=0", CVTReduced: "rb=1", CVTReduced2: "rb=2", GTF: ""} {
				name := strconv.Itoa(size[0]) + "×" + strconv.Itoa(size[1]) + " " + strconv.Itoa(int(hz)) + " " + arg
				t.Run(name, func(t *testing.T) {
					spec := "w=" + strconv.Itoa(size[0]) + ",h=" + strconv.Itoa(size[1]) + ",fps=" +
						strconv.Itoa(int(hz))
					var out string
					if b == GTF {
						out = reference(t, "--gtf", spec)
					} else {
						out = reference(t, "--cvt", spec+","+arg)
					}
					f, p := listed.FindStringSubmatch(out), porches.FindStringSubmatch(out)
					require.NotNil(t, f, out)
					require.NotNil(t, p, out)
					n := func(s string) int { v, _ := strconv.Atoi(s); return v }
					mhz, _ := strconv.ParseFloat(f[6], 64)
					got := Compute(size[0], size[1], hz, b)
					require.Equal(t, n(f[1]), got.Width)
					require.Equal(t, n(f[1])+n(p[1])+n(p[2])+n(p[3]), got.HTotal, out)
					require.Equal(t, n(f[2])+n(p[4])+n(p[5])+n(p[6]), got.VTotal, out)
					off := 1.0
					if b == CVTReduced2 {
						off = 1000.5 // the tool's floating-point floor may lose one step of 1 kHz
					}
					require.InDelta(t, mhz*1e6, got.ClockHz, off, out)
				})
			}
		}
	}
	// The figures.
	require.Equal(t, int64(241_500_000), Compute(2560, 1440, 60, CVTReduced).ClockHz)
	require.Equal(t, int64(319_750_000), Compute(3440, 1440, 60, CVTReduced).ClockHz)
	require.InDelta(t, 59.951, Compute(2560, 1440, 60, CVTReduced).Rate().Float(), 0.001)
	require.InDelta(t, 59.973, Compute(3440, 1440, 60, CVTReduced).Rate().Float(), 0.001)
	exact := Compute(2560, 1440, 60, CVTReduced)
	low, high := CharacterRate(picture.Mode{Width: 2560, Height: 1440, Rate: exact.Rate()})
	require.Equal(t, []float64{241.5e6, 241.5e6}, []float64{low, high},
		"a rate only reduced blanking gives has no spread")
}

// The fixed-rate link: 6 × 3 carries about 15.6 Gb/s; 4K120 8-bit needs 28.5 Gb/s.
func TestFixedRateLink(t *testing.T) {
	require.InDelta(t, 15.6, FRL3x6.PayloadGbps(), 0.1)
	require.Zero(t, NoFRL.PayloadGbps())
	low, high := FixedRateNeed(picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(120)})
	require.InDelta(t, 23.888, low, 1e-3, "its active pixels")
	require.InDelta(t, 28.512, high, 1e-9, "its whole clock")
	// 2160p120 10-bit RGB 29.9 to 35.6 Gb/s; 4×10 carries about 34.8.
	low, high = FixedRateNeed(picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(120), Chroma: picture.RGB,
		Bits: 10})
	require.InDelta(t, 29.9, low, 0.05)
	require.InDelta(t, 35.6, high, 0.05)
	require.InDelta(t, 34.8, FRL4x10.PayloadGbps(), 0.05)
	last := 0.0
	for _, f := range FRLs {
		require.Greater(t, f.PayloadGbps(), last)
		require.Less(t, f.PayloadGbps(), f.RawGbps())
		last = f.PayloadGbps()
	}
}

// The worked figures.
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
	require.GreaterOrEqual(t, high, 319.75e6, "3440×1440 reduced blanking is 319.75 MHz")
}

// Monotone: a higher rate never reaches further, a thinner lead never further than a thick one, sure never past
// possible.
func TestReachIsMonotone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(1, 1200).Draw(t, "mhz")
		b := rapid.Float64Range(a, 1300).Draw(t, "more")
		for _, g := range Grades {
			for _, thin := range []Thickness{Thick, Thin, MaybeThin} {
				s1, p1 := Reach(g, a, thin)
				s2, p2 := Reach(g, b, thin)
				require.LessOrEqual(t, s2, s1)
				require.LessOrEqual(t, p2, p1)
				require.LessOrEqual(t, s1, p1)
				thick, thickPossible := Reach(g, a, Thick)
				require.LessOrEqual(t, s1, thick)
				require.LessOrEqual(t, p1, thickPossible)
				unsure, unmarked := Reach(Unknown, a, thin)
				require.GreaterOrEqual(t, unmarked, p1, "a lead without a mark may be any")
				if !g.Directional() {
					require.LessOrEqual(t, unsure, s1)
				}
			}
		}
	})
	for _, c := range []struct {
		g              Grade
		mhz            float64
		sure, possible float64
	}{{HighSpeed, 148.5, 10, 15}, {HighSpeed, 297, 5, 10}, {Premium, 594, 3, 5}, {UltraHigh, 1200, 2, 3},
		{Active, 297, 10, 20}, {Active, 594, 8, 15}, {Optical, 594, 30, 100}} {
		sure, possible := Reach(c.g, c.mhz, Thick)
		require.Equal(t, []float64{c.sure, c.possible}, []float64{sure, possible}, "%v at %v MHz", c.g,
			c.mhz)
	}
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
