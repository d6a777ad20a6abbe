package hdmi

import "eventether/core/picture"

// FRL is a fixed-rate link of HDMI 2.1: lanes × gigabits a second a lane. The zero FRL is none.
type FRL string

// The fixed-rate links [memory: HDMI 2.1]. UnknownFRL is a socket nobody has looked up, SaidNone one somebody has;
// NoFRL says nothing.
const (
	NoFRL      FRL = ""
	UnknownFRL FRL = "unknown"
	SaidNone   FRL = "none" // somebody has looked: it has none
	FRL3x3     FRL = "3x3"
	FRL3x6     FRL = "3x6"
	FRL4x6     FRL = "4x6"
	FRL4x8     FRL = "4x8"
	FRL4x10    FRL = "4x10"
	FRL4x12    FRL = "4x12"
)

// FRLs lists the fixed-rate links in rising order; the place of one, counted from 1, is its code in an EDID.
var FRLs = []FRL{FRL3x3, FRL3x6, FRL4x6, FRL4x8, FRL4x10, FRL4x12}

var frlGbps = map[FRL]float64{FRL3x3: 9, FRL3x6: 18, FRL4x6: 24, FRL4x8: 32, FRL4x10: 40, FRL4x12: 48}

// RawGbps is the line rate of a fixed-rate link, 0 for none.
func (f FRL) RawGbps() float64 { return frlGbps[f] }

// PayloadGbps is what a fixed-rate link carries after its 16b/18b coding and about 2 % of error correction, in Gb/s:
// 15.7 of the 18 [memory: HDMI 2.1]. 0 for none.
func (f FRL) PayloadGbps() float64 { return frlGbps[f] * 16 / 18 * 0.98 }

// BitsPerPixel of a picture on a link: three components for RGB and 4:4:4, two for 4:2:2, one and a half for 4:2:0.
func BitsPerPixel(m picture.Mode) float64 {
	bits := float64(m.Depth())
	switch m.Chroma {
	case picture.YUV422:
		return bits * 2
	case picture.YUV420:
		return bits * 1.5
	}
	return bits * 3
}

// FixedRateNeed bounds what a picture needs of a fixed-rate link in Gb/s: at least its active pixels, since blanking is
// compressed away there, at most its whole clock (2160p120 10-bit RGB 29.9 to 35.6).
func FixedRateNeed(m picture.Mode) (low, high float64) {
	clock, ok := PixelClock(m)
	if !ok {
		_, clock = computerClock(m)
	}
	active := float64(m.Width) * float64(m.Height) * m.Rate.Float()
	return active * BitsPerPixel(m) / 1e9, clock * BitsPerPixel(m) / 1e9
}
