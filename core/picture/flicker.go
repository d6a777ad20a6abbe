package picture

import (
	"fmt"
	"math"
)

// Exposure is a time in seconds as an exact fraction, 1/50. The zero Exposure means "not set".
type Exposure struct{ Num, Den int64 }

// NewExposure reduces num/den to lowest terms.
func NewExposure(num, den int64) Exposure {
	return Exposure(NewRate(num, den))
}

// ParseExposure reads "1/50", "1/25" or "2".
func ParseExposure(s string) (Exposure, error) {
	r, ok := fraction(s)
	if !ok || r.Float() > 10 || r.Float() < 1e-6 {
		return Exposure{},
			fmt.Errorf("exposure %q: want a fraction of a second such as \"1/50\", from a millionth to 10 s", s)
	}
	return Exposure(r), nil
}

// String is "1/50".
func (e Exposure) String() string { return Rate(e).String() }

// Seconds is the time in seconds.
func (e Exposure) Seconds() float64 { return Rate(e).Float() }

// MarshalText writes the fraction.
func (e Exposure) MarshalText() ([]byte, error) { return Rate(e).MarshalText() }

// UnmarshalText reads what ParseExposure reads.
func (e *Exposure) UnmarshalText(text []byte) error {
	if len(text) == 0 {
		*e = Exposure{}
		return nil
	}
	parsed, err := ParseExposure(string(text))
	if err == nil {
		*e = parsed
	}
	return err
}

// IsZero tells whether the exposure is not set.
func (e Exposure) IsZero() bool { return e.Num == 0 }

// FreeOfFlicker tells whether an exposure lasts a whole number of the lamps' flicker periods, of which there are two in
// every cycle of the mains.
func (e Exposure) FreeOfFlicker(mainsHz int64) bool {
	return !e.IsZero() && e.Num*2*mainsHz%e.Den == 0
}

// Beat is how often a second the brightness beats when an exposure is not free of flicker: |F − n·f| for the n nearest,
// F twice the mains frequency, f the frame rate. A beat of 0 stands still as bands.
func Beat(f Rate, mainsHz int64) float64 {
	flicker := float64(2 * mainsHz)
	n := max(1, math.Round(flicker/f.Float()))
	// In integers, so that 25 in 50 Hz light is exactly 0.
	return math.Abs(float64(2*mainsHz*f.Den)-n*float64(f.Num)) / float64(f.Den)
}

// Shutter is the exposure free of flicker, not longer than the frame time, that is nearest to half the frame time (the
// 180° habit [practice]); at a tie the shorter. ok is false when there is none, such as 120 frames in 50 Hz light.
func Shutter(f Rate, mainsHz int64) (e Exposure, ok bool) {
	best := 0.0
	for k := int64(1); k*f.Num <= 2*mainsHz*f.Den; k++ { // k flicker periods, k/(2·mains), within Den/Num
		off := math.Abs(float64(2*k*f.Num - 2*mainsHz*f.Den)) // from half a frame, scaled by 2·mains·2·Num
		if !ok || off < best {
			e, best, ok = NewExposure(k, 2*mainsHz), off, true
		}
	}
	return e, ok
}
