package look

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// textured is a wall with structure, so many times as wide as what is seen of it.
func textured(w, h int, dice *rand.Rand) []byte {
	out := make([]byte, w*h)
	for y := range h {
		for x := range w {
			out[y*w+x] = byte(128 + 50*math.Sin(float64(x)/9+float64(y)/23) + 30*math.Sin(float64(x)/31-float64(y)/7) +
				float64(dice.IntN(17)-8))
		}
	}
	return out
}

// panned feeds a picture that is moved over a wall, with what draw puts over every frame.
func panned(p *Picture, seconds float64, draw func(luma []byte, w, h int, at float64)) {
	const w, h, hz = 320, 180, 30
	dice := rand.New(rand.NewPCG(1, 2))
	wall := textured(3*w, h, dice)
	luma := make([]byte, w*h)
	for n := range int(seconds * hz) {
		at := float64(n) / hz
		off := int(float64(w) * (1 + math.Sin(at)))
		for y := range h {
			copy(luma[y*w:y*w+w], wall[y*3*w+off:])
		}
		if draw != nil {
			draw(luma, w, h, at)
		}
		p.Add(Frame{At: at, Width: w, Height: h, Luma: luma})
	}
}

func box(luma []byte, w, x0, y0, x1, y1 int, v byte) {
	for y := y0; y < y1; y++ {
		for x := x0; x < x1; x++ {
			luma[y*w+x] = v
		}
	}
}

func TestWhatStaysPut(t *testing.T) {
	p := NewPicture()
	panned(p, 8, nil)
	s := p.See()
	assert.Equal(t, Clear, Find(s.Signs, IsOverlay).Answer)
	assert.Empty(t, s.Stays)

	p = NewPicture()
	panned(p, 8, func(luma []byte, w, _ int, _ float64) { box(luma, w, 20, 150, 44, 166, 230) })
	s = p.See()
	require.Equal(t, Found, Find(s.Signs, IsOverlay).Answer)
	assert.Contains(t, Find(s.Signs, IsOverlay).Says, "lower left")
	require.Len(t, s.Stays, 1)
	b := s.Stays[0]
	assert.InDelta(t, 20, b.X, 5)
	assert.InDelta(t, 150, b.Y, 5)
	assert.InDelta(t, 24, b.W, 9)
	assert.InDelta(t, 16, b.H, 9)

	p = NewPicture() // nobody moves the camera
	for n := range 240 {
		luma := make([]byte, 320*180)
		box(luma, 320, 20, 150, 44, 166, 230)
		p.Add(Frame{At: float64(n) / 30, Width: 320, Height: 180, Luma: luma})
	}
	assert.Equal(t, CannotTell, Find(p.See().Signs, IsOverlay).Answer)
}

func TestAsleep(t *testing.T) {
	of := func(seconds, dark float64) Sign {
		p := NewPicture()
		panned(p, seconds, func(luma []byte, w, h int, at float64) {
			if at >= dark {
				box(luma, w, 0, 0, w, h, 16)
			}
		})
		return *Find(p.See().Signs, IsAsleep)
	}
	f := of(50, 45)
	assert.Equal(t, Found, f.Answer)
	assert.InDelta(t, 0.75, f.Value, 0.01)
	assert.Equal(t, CannotTell, of(30, 99).Answer, "half a minute tells nothing")
	f = of(65, 99)
	assert.Equal(t, Clear, f.Answer)
	assert.Contains(t, f.Says, "1.1 min")
	assert.NotEqual(t, Found, of(30, 5).Answer, "it was never awake")
}

// A picture of samples alone comes to what the whole one does, but for what is looked at line by line.
func TestSampledIsTheSame(t *testing.T) {
	whole, few, none := NewPicture(), NewPicture(), NewPicture()
	panned(whole, 6, func(luma []byte, w, h int, at float64) {
		if at > 3 && at < 4.5 {
			box(luma, w, 0, 0, w, h, 16)
		}
		samples := make([]byte, SampledWidth*SampledHeight)
		for y := range SampledHeight {
			for x := range SampledWidth {
				samples[y*SampledWidth+x] = luma[(y*h+h/2)/SampledHeight*w+(x*w+w/2)/SampledWidth]
			}
		}
		few.AddSampled(at, w, h, samples)
		none.AddSampled(at, w, h, samples)
		if len(few.times)%6 == 1 {
			few.AddClosely(Frame{At: at, Width: w, Height: h, Luma: luma})
		}
	})
	a, b, c := whole.See(), few.See(), none.See()
	assert.Equal(t, a.Pace, b.Pace)
	for i := range a.Signs {
		assert.Equal(t, a.Signs[i].Answer, b.Signs[i].Answer, a.Signs[i].What)
	}
	for _, what := range []Name{IsBorder, IsRange, IsCombing, IsExposure, IsOverlay} {
		assert.Equal(t, CannotTell, Find(c.Signs, what).Answer, what)
	}
	assert.Equal(t, Found, Find(c.Signs, IsBlack).Answer)
	now := few.Now()
	assert.InDelta(t, 30, now.Hz, 0.5)
	assert.Greater(t, now.Change, 1.5)
	assert.False(t, now.Dark)
	assert.Equal(t, 180, now.Frames)
	assert.Zero(t, NewPicture().Now())
}
