package hdmi

import (
	"math"

	"eventether/core/picture"
)

// Blanking is one of the ways VESA formulas make a timing for a size no list has.
type Blanking int

// The formulas [standard: VESA CVT 1.2 and GTF 1.1, constants from memory; the test beside this file compares with
// edid-decode's own calculation].
const (
	CVT         Blanking = iota // plain
	CVTReduced                  // reduced blanking, version 1
	CVTReduced2                 // reduced blanking, version 2
	GTF
)

// leastPorch is the least back porch in lines: 7 by CVT 1.2, as the reference tool and the kernel's video code have it
// (the first CVT had 6).
const leastPorch = 7

// Computed is a timing by formula, progressive.
type Computed struct {
	Width, Height  int
	HTotal, VTotal int
	ClockHz        int64
}

// Rate is the exact rate a computed timing really has: 2560×1440 "at 60" with reduced blanking is 59.951 Hz.
func (c Computed) Rate() picture.Rate {
	return picture.NewRate(c.ClockHz, int64(c.HTotal)*int64(c.VTotal))
}

// Compute makes a timing for a size and a wanted rate in Hz. Widths are rounded down to whole character cells of 8
// pixels, but for reduced blanking version 2, which takes any.
func Compute(w, h int, hz float64, b Blanking) Computed {
	cell := 8
	if b == CVTReduced2 {
		cell = 1
	}
	w -= w % cell
	width, lines, frame := float64(w), float64(h), 1e6/hz // frame time in µs
	switch b {
	case CVTReduced, CVTReduced2:
		hBlank, porches, step := 160.0, 3+vSync(w, h)+leastPorch, 250_000.0
		if b == CVTReduced2 {
			hBlank, porches, step = 80, 1+8+6, 1000
		}
		const leastBlank = 460 // µs
		line := (frame - leastBlank) / lines
		v := lines + max(math.Floor(leastBlank/line)+1, porches)
		clock := step * math.Floor(hz*v*(width+hBlank)/step)
		return Computed{w, h, w + int(hBlank), int(v), int64(clock)}
	case GTF:
		line := (frame - 550) / (lines + 1)
		v := lines + math.RoundToEven(550/line) + 1
		line *= 1e6 / line / v / hz // to the wanted rate exactly
		duty := 30 - 300*line/1000
		hBlank := math.RoundToEven(width*duty/(100-duty)/16) * 16
		return Computed{w, h, w + int(hBlank), int(v), int64(math.Round((width+hBlank)/line*1000)) * 1000}
	}
	line := (frame - 550) / (lines + 3)
	v := lines + max(math.Floor(550/line)+1, vSync(w, h)+leastPorch) + 3
	duty := max(30-300*line/1000, 20)
	hBlank := math.Floor(width*duty/(100-duty)/16) * 16
	clock := 250_000 * math.Floor((width+hBlank)/line*1e6/250_000)
	return Computed{w, h, w + int(hBlank), int(v), int64(clock)}
}

// vSync is the width of the vertical sync in lines, by which CVT marks the shape of the picture.
func vSync(w, h int) float64 {
	for _, shape := range []struct {
		w, h  int
		lines float64
	}{{4, 3, 4}, {16, 9, 5}, {16, 10, 6}, {5, 4, 7}, {15, 9, 7}} {
		if w*shape.h == h*shape.w {
			return shape.lines
		}
	}
	return 10
}

// computerClock bounds the pixel clock in Hz a computer uses for a size CTA-861 does not list.
func computerClock(m picture.Mode) (low, high float64) {
	hz := m.Rate.Float()
	for _, near := range []float64{hz, math.Round(hz)} { // 59.951 was asked for as 60
		if c := Compute(m.Width, m.Height, near, CVTReduced); near > 0 && c.Width == m.Width && c.Rate() == m.Rate {
			return float64(c.ClockHz), float64(c.ClockHz)
		}
	}
	if hz <= 0 || 1e6/hz <= 1000 { // the formulas need a frame longer than its blanking
		active := float64(m.Width) * float64(m.Height) * hz
		return active, active * 1.3 // [estimate]
	}
	small, large := Compute(m.Width, m.Height, hz, CVTReduced2), Compute(m.Width, m.Height, hz, CVT)
	// Interlaced computer sizes have about half the lines a field; the clock stays that of the frame rate.
	return float64(min(small.ClockHz, large.ClockHz)), float64(max(small.ClockHz, large.ClockHz))
}
