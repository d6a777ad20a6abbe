package inspect_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"eventether/core/inspect"
)

// stream is a made stream: frames of so many bytes at a rate, a keyframe every so many, so many B-frames between others.
func stream(t *inspect.Traffic, frames int, hz float64, key, between int, bytes func(int) int) {
	for n, at := range order(frames, between) {
		t.Picture(inspect.Packet{At: float64(at) / hz, Decode: float64(n)/hz - float64(between)/hz, Bytes: bytes(n), Key: at%key == 0})
	}
}

// order is how frames are decoded that have so many shown between two that are referred to.
func order(frames, between int) (out []int) {
	out = append(out, 0)
	for at := 1; at < frames; at += between + 1 {
		last := min(at+between, frames-1)
		out = append(out, last)
		for b := at; b < last; b++ {
			out = append(out, b)
		}
	}
	return out
}

// By hand: 30 frames a second of 5000 bytes are 1200 kb/s; a keyframe every 60 comes every 2 s.
func TestCame(t *testing.T) {
	tr := inspect.NewTraffic(1200)
	stream(tr, 600, 30, 60, 2, func(int) int { return 5000 })
	for n := range 938 { // 1024 samples at 48 kHz, 427 bytes: 160 kb/s
		tr.Sound(inspect.Packet{At: float64(n) * 1024 / 48000, Bytes: 427})
	}
	c := tr.Came()
	assert.Equal(t, 600, c.Frames)
	assert.Equal(t, "30", c.Pace.Name)
	assert.Zero(t, c.Uneven)
	assert.Equal(t, 2, c.BFrames)
	assert.Len(t, c.Windows, 20)
	assert.InDelta(t, 1200, c.VideoKbps, 1)
	assert.InDelta(t, 1200, c.Most, 41)
	assert.InDelta(t, 160, c.AudioKbps, 1)
	assert.Equal(t, 10, c.Keys.Count)
	assert.InDelta(t, 2, c.Keys.Usual, 1e-9)
	assert.Equal(t, 60, c.Keys.Frames)
	assert.InDelta(t, 2, c.Keys.Most, 1e-6)
	assert.InDelta(t, 40, c.NeedsKbit, 0.01, "one frame is in the bucket at a time")
}

// A keyframe of 30,000 bytes among frames of 4000 at 1200 kb/s: the bucket holds 240 kbit when it comes, and drains by 8 kbit a
// frame (32 in, 40 out) until it is empty after 26.
func TestTheBufferByHand(t *testing.T) {
	tr := inspect.NewTraffic(1200)
	stream(tr, 120, 30, 60, 0, func(n int) int {
		if n%60 == 0 {
			return 30_000
		}
		return 4000
	})
	assert.InDelta(t, 240, tr.Came().NeedsKbit, 0.01)
}

// A bucket is never too small for what it was found to need: whatever comes, filled at its rate it never runs over, and with a
// tenth less it does.
func TestTheBufferIsTheLeast(t *testing.T) {
	dice := rand.New(rand.NewPCG(5, 6))
	for range 200 {
		hz, mean := 24+dice.Float64()*40, 2000+dice.Float64()*20_000
		sizes := make([]int, 300)
		sum := 0.0
		for i := range sizes {
			sizes[i] = int(mean * (0.2 + 3*dice.Float64()*dice.Float64()))
			sum += float64(sizes[i])
		}
		kbps := sum * 8 / 1000 / (300 / hz) * 1.02
		tr := inspect.NewTraffic(kbps)
		stream(tr, len(sizes), hz, 60, 0, func(n int) int { return sizes[n] })
		need := tr.Came().NeedsKbit
		runsOver := func(size float64) bool {
			in := 0.0
			for n := range sizes {
				if n > 0 {
					in = math.Max(0, in-kbps/hz)
				}
				if in += float64(sizes[n]) * 8 / 1000; in > size {
					return true
				}
			}
			return false
		}
		assert.False(t, runsOver(need+1e-6))
		assert.True(t, runsOver(0.9*need))
	}
}

// Nothing, one frame, frames without sound, times that go back: figures that encode as JSON, and no panic.
func TestOddTraffic(t *testing.T) {
	for name, feed := range map[string]func(*inspect.Traffic){
		"nothing":    func(*inspect.Traffic) {},
		"one frame":  func(tr *inspect.Traffic) { tr.Picture(inspect.Packet{Bytes: 9, Key: true}) },
		"only sound": func(tr *inspect.Traffic) { tr.Sound(inspect.Packet{At: 3, Bytes: 9}) },
		"goes back": func(tr *inspect.Traffic) {
			for n := range 100 {
				tr.Picture(inspect.Packet{At: -float64(n), Decode: -float64(n), Bytes: 100})
			}
		},
		"far ahead": func(tr *inspect.Traffic) {
			tr.Picture(inspect.Packet{Bytes: 9})
			tr.Picture(inspect.Packet{At: 1e9, Decode: 1e9, Bytes: 9})
		},
		"at once": func(tr *inspect.Traffic) {
			for range 100 {
				tr.Picture(inspect.Packet{At: 1, Decode: 1, Bytes: 100, Key: true})
			}
		},
	} {
		tr := inspect.NewTraffic(1000)
		feed(tr)
		c := tr.Came()
		for _, v := range []float64{c.Seconds, c.VideoKbps, c.AudioKbps, c.Most, c.Least, c.Uneven, c.NeedsKbit, c.SkewMs, c.Keys.Usual, c.Keys.Most} {
			assert.False(t, math.IsNaN(v) || math.IsInf(v, 0), name)
		}
		assert.NotNil(t, c.Windows, name)
		assert.NotNil(t, c.Sound, name)
	}
}
