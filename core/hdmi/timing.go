// Package hdmi answers: what must an HDMI link carry for this picture, and which link and lead carry it?
package hdmi

import "eventether/core/picture"

type timingKey struct {
	w, h       int
	interlaced bool
	rate       picture.Rate
}

// byMode finds a pixel clock at an exact rate. Rates of the 60 Hz family are entered with their /1001 neighbour and its
// scaled clock; doubled interlaced formats under the width of their picture too. Of formats with the same raster and
// rate the one with the lowest code counts.
var byMode = func() map[timingKey]float64 {
	m := map[timingKey]float64{}
	put := func(w int, t *Timing, rate picture.Rate, clock float64) {
		key := timingKey{w, t.Height, t.Interlaced, rate}
		if _, have := m[key]; !have {
			m[key] = clock
		}
	}
	for i := range CTA {
		t := &CTA[i]
		widths := []int{t.Width}
		if t.Interlaced && t.Width == 1440 {
			widths = append(widths, 720)
		}
		for _, w := range widths {
			rate := t.Rate()
			put(w, t, rate, float64(t.ClockHz))
			switch {
			case rate.Den == 1001: // the base clock belongs to the /1001 rate
				put(w, t, picture.R(rate.Num/1000), float64(t.ClockHz)*1001/1000)
			case rate.Nominal()%6 == 0 && rate.Den == 1:
				put(w, t, picture.NewRate(rate.Num*1000, 1001), float64(t.ClockHz)*1000/1001)
			}
		}
	}
	return m
}()

// PixelClock is the pixel clock of a CTA-861 picture in Hz; ok is false when CTA-861 has no such format at exactly
// that rate or its /1001 neighbour.
func PixelClock(m picture.Mode) (hz float64, ok bool) {
	hz, ok = byMode[timingKey{m.Width, m.Height, m.Interlaced, m.Rate}]
	return hz, ok
}

// CharacterRate bounds the TMDS character rate of a picture in Hz. Low and high are equal for CTA-861 formats; for
// other sizes they span the blankings a computer may choose, from the smallest (CVT reduced, version 2) to the largest
// (plain CVT), unless the rate is exactly one of them.5: clock × bits ÷ 8 for RGB and 4:4:4, clock for
// 4:2:2 up to 12 bit, half that of RGB for 4:2:0.
func CharacterRate(m picture.Mode) (low, high float64) {
	clock, ok := PixelClock(m)
	low, high = clock, clock
	if !ok {
		low, high = computerClock(m)
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
