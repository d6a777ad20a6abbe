// Package h264 answers: which level does an H.264 stream need, how many reference pictures does a level leave, and what
// does a preset of the reference encoder write?
//
// Pictures are counted in macroblocks of 16 × 16 samples: 1080 lines are coded as 68 rows of them. Bitrates are kb/s,
// buffers kbit, both of the video alone; Table A-1 gives them for the Baseline and Main profiles, and High may have a
// quarter more.
package h264

import (
	"math"

	"eventether/core/picture"
)

// Level is one row of ITU-T H.264 Table A-1.
type Level struct {
	Name    string
	MBPS    int // macroblocks a second, MaxMBPS
	Frame   int // macroblocks a picture, MaxFS
	DPB     int // macroblocks of all reference pictures, MaxDpbMbs
	Kbps    int // MaxBR, kb/s, for Main
	CPBKbit int // MaxCPB, kbit, for Main
}

// Levels is Table A-1 [standard: ITU-T H.264; all rows are from memory of it, and are
// checked against what libx264 writes], the lowest first. Level 1b is left out: it exists for pictures nobody sends.
var Levels = []Level{
	{"1", 1485, 99, 396, 64, 175},
	{"1.1", 3000, 396, 900, 192, 500},
	{"1.2", 6000, 396, 2376, 384, 1000},
	{"1.3", 11880, 396, 2376, 768, 2000},
	{"2", 11880, 396, 2376, 2000, 2000},
	{"2.1", 19800, 792, 4752, 4000, 4000},
	{"2.2", 20250, 1620, 8100, 4000, 4000},
	{"3", 40500, 1620, 8100, 10000, 10000},
	{"3.1", 108000, 3600, 18000, 14000, 14000},
	{"3.2", 216000, 5120, 20480, 20000, 20000},
	{"4", 245760, 8192, 32768, 20000, 25000},
	{"4.1", 245760, 8192, 32768, 50000, 62500},
	{"4.2", 522240, 8704, 34816, 50000, 62500},
	{"5", 589824, 22080, 110400, 135000, 135000},
	{"5.1", 983040, 36864, 184320, 240000, 240000},
	{"5.2", 2073600, 36864, 184320, 240000, 240000},
	{"6", 4177920, 139264, 696320, 240000, 240000},
	{"6.1", 8355840, 139264, 696320, 480000, 480000},
	{"6.2", 16711680, 139264, 696320, 800000, 800000},
}

// Stream is what a level has to hold.
type Stream struct {
	Width, Height int // samples, before they are rounded up to macroblocks
	Rate          picture.Rate
	Kbps          float64 // highest rate, kb/s; 0 where none is set
	BufferKbit    float64 // kbit; 0 where none is set
	References    int     // pictures kept to refer to: Kept of what the encoder is told
	// Main tells that it is no High stream: a quarter less bitrate and buffer.
	Main bool
}

// Macroblocks across and down a picture.
func Macroblocks(width, height int) (across, down int) { return (width + 15) / 16, (height + 15) / 16 }

// MaxReferences is how many pictures of a size a level keeps, at most 16 [H.264 A.3.1 h].
func (l *Level) MaxReferences(width, height int) int {
	across, down := Macroblocks(width, height)
	return min(16, l.DPB/max(1, across*down))
}

// Holds tells whether a level holds a stream.
func (l *Level) Holds(s Stream) bool {
	across, down := Macroblocks(s.Width, s.Height)
	more := 1.25
	if s.Main {
		more = 1
	}
	return across*down <= l.Frame &&
		across*across <= 8*l.Frame && down*down <= 8*l.Frame && // no side longer than √(8·MaxFS)
		int64(across*down)*s.Rate.Num <= int64(l.MBPS)*max(s.Rate.Den, 1) &&
		s.Kbps <= more*float64(l.Kbps) && s.BufferKbit <= more*float64(l.CPBKbit) &&
		s.References <= l.MaxReferences(s.Width, s.Height)
}

// Kept is how many pictures a stream keeps that is told to refer to so many: with two B-frames or more the middle one
// is referred to as well, and libx264 then keeps four at least, with one two [checked against what it writes].
func Kept(references, bFrames int) int {
	switch {
	case bFrames > 1:
		return max(references, 4)
	case bFrames == 1:
		return max(references, 2)
	}
	return max(references, 1)
}

// LevelFor is the lowest level that holds a stream; nil where none does.
func LevelFor(s Stream) *Level {
	for i := range Levels {
		if Levels[i].Holds(s) {
			return &Levels[i]
		}
	}
	return nil
}

// Preset is one trade of speed for quality of the reference encoder, libx264.
type Preset struct {
	Name string
	// Speed is how fast it is, against veryfast: measured, and its bounds [estimate: the ratios move with
	// the picture].
	Speed, Low, High float64
	// References are the pictures it keeps when nobody says otherwise [libx264, checked against what it writes].
	References int
}

// Presets lists those that can be thought of for a live stream, the fastest first.
var Presets = []Preset{
	{"ultrafast", 4, 3, 9, 1},
	{"superfast", 2, 1.5, 3, 1},
	{"veryfast", 1, 1, 1, 1},
	{"faster", 0.6, 0.45, 0.8, 2},
	{"fast", 0.5, 0.35, 0.7, 2},
	{"medium", 0.38, 0.25, 0.6, 3},
	{"slow", 0.25, 0.15, 0.45, 5},
}

// lookahead is how many frames a preset of libx264 looks ahead [libx264, checked against what it writes into its
// files].
var lookahead = map[string]float64{"ultrafast": 0, "superfast": 0, "veryfast": 10, "faster": 20, "fast": 30,
	"medium": 40, "slow": 50}

// DelayFrames is how many frames libx264 holds back with a preset, two B-frames and so many threads: lookahead +
// B-frames + frames coded at once + 2 less the one that comes out; slow at 1, 12 and 24 threads holds back 52, 66 and
// 78 [measured: the frames before the first packet].
func DelayFrames(p *Preset, threads int) float64 {
	if threads <= 1 {
		return lookahead[p.Name] + 2
	}
	return lookahead[p.Name] + 2 + float64(threads) + 2
}

// PresetNamed is the preset of a name; nil where there is none.
func PresetNamed(name string) *Preset {
	for i := range Presets {
		if Presets[i].Name == name {
			return &Presets[i]
		}
	}
	return nil
}

// BitsPerPixel is a bitrate spread over the pixels it codes.
func BitsPerPixel(kbps float64, width, height int, rate picture.Rate) float64 {
	return kbps * 1000 / (float64(width) * float64(height) * rate.Float())
}

// Keyframe is the distance of keyframes in frames for a distance in seconds: the nearest whole number of them, at least
// one.
func Keyframe(seconds float64, rate picture.Rate) int {
	return max(1, int(math.Round(seconds*rate.Float())))
}
