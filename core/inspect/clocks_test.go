package inspect_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat/distuv"

	"eventether/core/inspect"
	"eventether/core/look"
)

// babble is a sound that is another every tenth of a second and never comes again, as a function of time that two recorders can
// sample.
type babble struct {
	hz, phase, loud [][5]float64 // of each tenth of a second
}

func newBabble(seed uint64) *babble {
	dice := rand.New(rand.NewPCG(seed, 9))
	b := &babble{}
	for range 8000 {
		var hz, phase, loud [5]float64
		for j := range hz {
			hz[j], phase[j], loud[j] = 100+3000*dice.Float64(), 2*math.Pi*dice.Float64(), dice.NormFloat64()
		}
		b.hz, b.phase, b.loud = append(b.hz, hz), append(b.phase, phase), append(b.loud, loud)
	}
	return b
}

// samples records it: so many seconds at 8000 a second by a clock that runs so many ppm slow, from a moment on, with noise.
func (b *babble) samples(from, seconds, ppm, noise float64, seed uint64) []float32 {
	dice := rand.New(rand.NewPCG(seed, 5))
	out := make([]float32, int(seconds*8000))
	for i := range out {
		t := from + float64(i)/8000*(1+ppm*1e-6)
		v, k := 0.0, int(t*10)
		for j, hz := range b.hz[k] {
			v += b.loud[k][j] * math.Sin(2*math.Pi*hz*t+b.phase[k][j])
		}
		out[i] = float32(0.03*v + noise*dice.NormFloat64())
	}
	return out
}

// Known offsets come out to a millisecond, known drifts to 2 ppm in ten minutes, and what was never there does not.
func TestTimesOf(t *testing.T) {
	for _, c := range []struct{ late, ppm, noise, seconds float64 }{{0.0123, 0, 0.01, 120}, {-0.250, 31, 0.01, 600}, {2.5, -47, 0.02, 150}, {-11, 100, 0.01, 90}} {
		b := newBabble(uint64(1000 + c.ppm))
		first := b.samples(50, c.seconds, 0, c.noise, 1)
		second := b.samples(50-c.late, c.seconds, c.ppm, c.noise, 2)
		got := inspect.TimesOf(first, second, 8000)
		require.Equal(t, look.Found, got.Answer, "%+v: %s", c, got.Says)
		// A clock that runs slow counts fewer of its own seconds: what it heard stands earlier in it.
		assert.InDelta(t, 1000*c.late, got.Ms, 1+1000*math.Abs(c.late*c.ppm)*1e-6, "%+v: %s", c, got.Says)
		assert.InDelta(t, -c.ppm, got.PPM, 2*600/c.seconds, "%+v: %s", c, got.Says)
		if math.Abs(c.ppm) > 4 {
			assert.Equal(t, look.Found, got.Drift, got.Says)
		}
	}
	b := newBabble(7)
	short := inspect.TimesOf(b.samples(0, 9, 0, 0.02, 1), b.samples(0.01, 9, 50, 0.02, 2), 8000)
	assert.Equal(t, look.Found, short.Answer)
	assert.Equal(t, look.CannotTell, short.Drift, short.Says)
	assert.Contains(t, short.Says, "not measurable")
	other := newBabble(8)
	assert.Equal(t, look.CannotTell, inspect.TimesOf(b.samples(0, 60, 0, 0.02, 1), other.samples(0, 60, 0, 0.02, 2), 8000).Answer)
	assert.Equal(t, look.CannotTell, inspect.TimesOf(nil, make([]float32, 80000), 8000).Answer)
}

// The interval of 95 in 100 against the t distribution of another library.
func TestStudent(t *testing.T) {
	for _, free := range []float64{3, 4, 5, 8, 12, 30, 100, 1000} {
		want := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: free}.Quantile(0.975)
		assert.InEpsilon(t, want, inspect.Student(free), 0.02, "%g", free)
	}
}

// slate is a filmed slate: light gathered for a share of each frame's time, sound later by so many seconds.
func slate(hz, shutter, late, ppm, noise float64, seconds int) ([]inspect.Light, []float32) {
	dice := rand.New(rand.NewPCG(4, 4))
	var lights []inspect.Light
	lit := func(from, to float64) (share float64) { // of a stretch of time the screen is white
		for k := 0; k <= seconds; k++ {
			on := 0.4 + float64(k)*inspect.SlateEvery
			share += max(0, min(to, on+inspect.SlateFlash)-max(from, on))
		}
		return share / (to - from)
	}
	for k := 0; float64(k) < float64(seconds)*hz; k++ {
		at := float64(k) / hz
		v := 0.02 + 0.6*lit(at, at+shutter/hz)
		cells := make([]float32, 16)
		for c := range cells {
			cells[c] = float32(0.05 + 0.004*dice.NormFloat64())
			if c > 12 {
				cells[c] = float32(v + 0.004*dice.NormFloat64())
			}
		}
		lights = append(lights, inspect.Light{At: at, Cells: cells})
	}
	sound := make([]float32, seconds*8000)
	for i := range sound {
		at := float64(i) / 8000
		v := noise * dice.NormFloat64()
		for k := 0; k <= seconds; k++ {
			on := (0.4+float64(k)*inspect.SlateEvery)*(1+ppm*1e-6) + late
			if at >= on && at < on+inspect.SlateBeep {
				v += 0.2 * math.Sin(2*math.Pi*1000*(at-on))
			}
		}
		sound[i] = float32(v)
	}
	return lights, sound
}

// A slate of known offset comes out to a millisecond where the whole frame gathers light, and within the part of the frame that
// does not where it does not; what is none is not taken for one.
func TestSlateOf(t *testing.T) {
	for _, hz := range []float64{24, 25, 30000.0 / 1001, 50, 60} {
		for _, late := range []float64{-0.120, -0.03, 0, 0.045, 0.250} {
			l, s := slate(hz, 1, late, 0, 0.01, 30)
			got := inspect.SlateOf(l, s, 8000, 0)
			require.Equal(t, look.Found, got.Answer, "%g at %g: %s", late, hz, got.Says)
			assert.InDelta(t, 1000*late, got.Ms, 1, "%g at %g: %s", late, hz, got.Says)
			assert.GreaterOrEqual(t, len(got.Pairs), 26)
		}
		l, s := slate(hz, 0.5, 0.04, 0, 0.01, 40)
		got := inspect.SlateOf(l, s, 8000, 0)
		assert.InDelta(t, 40, got.Ms, 500/hz, "half a shutter: %s", got.Says)
	}
	l, s := slate(50, 1, 0.1, 0, 0.01, 30)
	assert.InDelta(t, 100-5.8, inspect.SlateOf(l, s, 8000, 5.8).Ms, 1, "two metres of air")
	l, s = slate(50, 1, 0.02, 80, 0.002, 170)
	got := inspect.SlateOf(l, s, 8000, 0)
	assert.InDelta(t, 80, got.PPM, 20, got.Says)

	dark, _ := slate(30, 1, 0, 0, 0.01, 1)
	_, noise := slate(30, 1, 99, 0, 0.05, 30)
	none := inspect.SlateOf(dark, noise, 8000, 0)
	assert.Equal(t, look.Clear, none.Answer, none.Says)
	assert.Equal(t, look.Clear, inspect.SlateOf(nil, nil, 8000, 0).Answer)
	l, _ = slate(30, 1, 0, 0, 0, 30)
	assert.Equal(t, look.CannotTell, inspect.SlateOf(l, noise, 8000, 0).Answer, "flashes without beeps")
}
