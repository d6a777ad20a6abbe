// Package hdmi answers: what must an HDMI link carry for this picture, and which link and lead carry it?
// Handbook 2.4 and 2.5.
package hdmi

import "eventether/core/picture"

// Timing is one CTA-861 format: active and total raster and the pixel clock at the base rate.
type Timing struct {
	Width, Height int
	Interlaced    bool
	HTotal        int // pixels in a line with blanking
	VTotal        int // lines in a frame (both fields) with blanking
	ClockHz       int64
	Rate          picture.Rate // frames a second at ClockHz
}

// Timings lists the CTA-861 formats in use [standard: CTA-861]. The test beside this file checks every row but the
// last against linux/v4l2-dv-timings.h of Debian's linux-libc-dev; 1080p120 is not in that header and is from memory
// of CTA-861 (VIC 63), as the handbook has it. 480i and 576i are sent with every pixel doubled, so their clock here
// is twice the header's nominal 13.5 MHz (as the header's own note says).
var Timings = []Timing{
	{720, 480, true, 1716, 525, 27_000_000, picture.Rate{Num: 30000, Den: 1001}},
	{720, 480, false, 858, 525, 27_000_000, picture.Rate{Num: 60000, Den: 1001}},
	{720, 576, true, 1728, 625, 27_000_000, picture.R(25)},
	{720, 576, false, 864, 625, 27_000_000, picture.R(50)},
	{1280, 720, false, 3300, 750, 59_400_000, picture.R(24)},
	{1280, 720, false, 3960, 750, 74_250_000, picture.R(25)},
	{1280, 720, false, 3300, 750, 74_250_000, picture.R(30)},
	{1280, 720, false, 1980, 750, 74_250_000, picture.R(50)},
	{1280, 720, false, 1650, 750, 74_250_000, picture.R(60)},
	{1920, 1080, false, 2750, 1125, 74_250_000, picture.R(24)},
	{1920, 1080, false, 2640, 1125, 74_250_000, picture.R(25)},
	{1920, 1080, false, 2200, 1125, 74_250_000, picture.R(30)},
	{1920, 1080, true, 2640, 1125, 74_250_000, picture.R(25)},
	{1920, 1080, true, 2200, 1125, 74_250_000, picture.R(30)},
	{1920, 1080, false, 2640, 1125, 148_500_000, picture.R(50)},
	{1920, 1080, false, 2200, 1125, 148_500_000, picture.R(60)},
	{3840, 2160, false, 5500, 2250, 297_000_000, picture.R(24)},
	{3840, 2160, false, 5280, 2250, 297_000_000, picture.R(25)},
	{3840, 2160, false, 4400, 2250, 297_000_000, picture.R(30)},
	{3840, 2160, false, 5280, 2250, 594_000_000, picture.R(50)},
	{3840, 2160, false, 4400, 2250, 594_000_000, picture.R(60)},
	{4096, 2160, false, 5500, 2250, 297_000_000, picture.R(24)},
	{4096, 2160, false, 5280, 2250, 297_000_000, picture.R(25)},
	{4096, 2160, false, 4400, 2250, 297_000_000, picture.R(30)},
	{4096, 2160, false, 5280, 2250, 594_000_000, picture.R(50)},
	{4096, 2160, false, 4400, 2250, 594_000_000, picture.R(60)},
	{1920, 1080, false, 2200, 1125, 297_000_000, picture.R(120)},
}

type timingKey struct {
	w, h       int
	interlaced bool
	rate       picture.Rate
}

// byMode finds a timing at its exact rate; the /1001 neighbours are entered with their scaled clock.
var byMode = func() map[timingKey]float64 {
	m := map[timingKey]float64{}
	for _, t := range Timings {
		key := timingKey{t.Width, t.Height, t.Interlaced, t.Rate}
		m[key] = float64(t.ClockHz)
		other := picture.NewRate(t.Rate.Num*1000, t.Rate.Den*1001)
		scaled := float64(t.ClockHz) * 1000 / 1001
		if t.Rate.Den == 1001 { // 480 lines: the base clock belongs to the /1001 rate
			other = picture.R(t.Rate.Num / 1000)
			scaled = float64(t.ClockHz) * 1001 / 1000
		}
		key.rate = other
		m[key] = scaled
	}
	return m
}()

// PixelClock is the pixel clock of a CTA-861 picture in Hz; ok is false when CTA-861 has no such format at exactly
// that rate or its /1001 neighbour.
func PixelClock(m picture.Mode) (hz float64, ok bool) {
	hz, ok = byMode[timingKey{m.Width, m.Height, m.Interlaced, m.Rate}]
	return hz, ok
}

// Blanking of sizes CTA-861 does not list [estimate]: from none at all to 1.3 times the active picture.
const (
	leastBlanking = 1.0
	mostBlanking  = 1.3
)

// CharacterRate bounds the TMDS character rate of a picture in Hz. Low and high are equal for CTA-861 formats; for
// other sizes they span the blanking a sender may choose. Handbook 2.5: clock × bits ÷ 8 for RGB and 4:4:4, clock for
// 4:2:2 up to 12 bit, half that of RGB for 4:2:0.
func CharacterRate(m picture.Mode) (low, high float64) {
	clock, ok := PixelClock(m)
	low, high = clock, clock
	if !ok {
		active := float64(m.Width) * float64(m.Height) * m.Rate.Float()
		low, high = active*leastBlanking, active*mostBlanking
	}
	factor := 1.0
	switch m.Chroma {
	case picture.YUV422:
	case picture.YUV420:
		factor = float64(m.Depth()) / 16
	default:
		factor = float64(m.Depth()) / 8
	}
	return low * factor, high * factor
}
