package look

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// leaning is a grid of bars that is turned clockwise by so many degrees, with soft edges as a lens draws them.
func leaning(degrees float64) Frame {
	const w, h = 640, 360
	f := Frame{Width: w, Height: h, Luma: make([]byte, w*h)}
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	for y := range h {
		for x := range w {
			u, v := cos*float64(x)+sin*float64(y), -sin*float64(x)+cos*float64(y)
			at := u // upright bars above, level ones below
			if y > h/2 {
				at = v
			}
			f.Luma[y*w+x] = byte(128 + 80*math.Tanh(9*math.Sin(at/14)))
		}
	}
	return f
}

// Lines that lean are told with the way they lean: upright lines turned clockwise have their tops to the right.
func TestLevel(t *testing.T) {
	for _, c := range []struct {
		degrees float64
		answer  Answer
		says    string
	}{{0, Clear, "Level"}, {2, Found, "2° to the right"}, {-3, Found, "3° to the left"}, {0.5, Clear, "Level"}} {
		p := NewPicture()
		p.Add(leaning(c.degrees))
		s := p.leans()
		assert.Equal(t, c.answer, s.Answer, "%v: %s", c.degrees, s.Says)
		assert.Contains(t, s.Says, c.says)
	}
	p := NewPicture()
	p.Add(Frame{Width: 640, Height: 360, Luma: make([]byte, 640*360)})
	assert.Equal(t, CannotTell, p.leans().Answer, "black")
}

// A frame handed on whole before any as samples breaks nothing.
func TestWholeFrameFirst(t *testing.T) {
	p := NewPicture()
	for range 30 {
		p.AddClosely(leaning(1))
	}
	assert.NotPanics(t, func() { p.AddSampled(0, 640, 360, make([]byte, SampledWidth*SampledHeight)); p.See() })
}
