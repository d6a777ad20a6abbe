package look

import (
	"math"
	"math/cmplx"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The transform is the sum it is defined by, and comes back.
func TestTransform(t *testing.T) {
	dice := rand.New(rand.NewPCG(1, 2))
	v := make([]complex128, 16)
	for i := range v {
		v[i] = complex(dice.NormFloat64(), dice.NormFloat64())
	}
	have := append([]complex128{}, v...)
	transform(have, false)
	for k := range v {
		want := complex(0, 0)
		for i, x := range v {
			want += x * cmplx.Rect(1, -2*math.Pi*float64(i*k)/16)
		}
		assert.InDelta(t, 0, cmplx.Abs(want-have[k]), 1e-9)
	}
	transform(have, true)
	for i := range v {
		assert.InDelta(t, 0, cmplx.Abs(have[i]/16-v[i]), 1e-12)
	}
}

// delayed is a sound so many samples later, a fraction too, by straight lines between samples.
func delayed(v []float32, by float64) []float32 {
	out := make([]float32, len(v))
	for i := range out {
		at := float64(i) - by
		k := int(math.Floor(at))
		if k >= 0 && k+1 < len(v) {
			f := float32(at - float64(k))
			out[i] = v[k]*(1-f) + v[k+1]*f
		}
	}
	return out
}

func noise(n int, dice *rand.Rand) []float32 {
	out := make([]float32, n)
	for i := range out {
		out[i] = float32(0.2 * dice.NormFloat64())
	}
	return out
}

// Known delays between two microphones that hear one voice, each with noise of its own, come back to half a sample.
func TestLagOf(t *testing.T) {
	dice := rand.New(rand.NewPCG(5, 6))
	for _, by := range []float64{0, 1, 17.5, 240, -333.25, 2000} {
		a := noise(16000, dice)
		b := delayed(a, by)
		if by < 0 {
			b, a = a, delayed(a, -by)
		}
		for i := range a {
			a[i] += float32(0.05 * dice.NormFloat64())
			b[i] += float32(0.05 * dice.NormFloat64())
		}
		lag, ok := LagOf(a, b, 8000, 0.5)
		require.True(t, ok)
		assert.InDelta(t, by/8000, lag.Seconds, 0.5/8000, "%v samples", by)
		assert.True(t, lag.Sure(), "%v: %v", by, lag.Second)
	}
	lag, ok := LagOf(noise(16000, dice), noise(16000, dice), 8000, 0.5)
	require.True(t, ok)
	assert.False(t, lag.Sure(), "two sounds that have nothing to do with each other: %v", lag)
	_, ok = LagOf(make([]float32, 100), noise(100, dice), 8000, 0.5)
	assert.False(t, ok, "silent")
	_, ok = LagOf(nil, nil, 8000, 0.5)
	assert.False(t, ok)
}

// claps are short bursts that die away, in a room that hums and hisses.
func claps(n int, dice *rand.Rand) []float32 {
	out := make([]float32, (n+2)*ClapRate)
	for k := range n {
		for i := range ClapRate / 10 {
			out[(k+1)*ClapRate+i] = float32(0.6 * dice.NormFloat64() * math.Exp(-float64(i)/200))
		}
	}
	return out
}

func hiss(v []float32, dice *rand.Rand) []float32 {
	for i := range v {
		v[i] += float32(0.002*dice.NormFloat64() + 0.002*math.Sin(2*math.Pi*50*float64(i)/ClapRate))
	}
	return v
}

// Which of two hears a clap first, and by how much; too few claps, or none alike, are not told.
func TestClaps(t *testing.T) {
	dice := rand.New(rand.NewPCG(7, 8))
	for _, ms := range []float64{0, 12, 90, -40} {
		a := claps(5, dice)
		b := delayed(a, math.Abs(ms)*ClapRate/1000)
		if ms < 0 {
			a, b = b, a
		}
		c := ClapsOf(hiss(a, dice), hiss(b, dice))
		assert.Equal(t, Found, c.Answer, c.Says)
		assert.InDelta(t, ms, c.Middle, 1, c.Says)
		assert.Len(t, c.Lags, 5)
		assert.Less(t, c.Spread, 1.0)
	}
	a := claps(2, dice)
	assert.Equal(t, CannotTell, ClapsOf(hiss(a, dice), hiss(delayed(a, 80), dice)).Answer, "two claps")
	assert.Equal(t, CannotTell, ClapsOf(hiss(claps(5, dice), dice), hiss(make([]float32, 7*ClapRate), dice)).Answer,
		"the other hears none")
	assert.Equal(t, CannotTell, ClapsOf(nil, nil).Answer)
	// Walked about between the claps: they do not agree.
	a = claps(5, dice)
	b := delayed(a, 80)
	copy(b[3*ClapRate:], delayed(a, 800)[3*ClapRate:])
	c := ClapsOf(hiss(a, dice), hiss(b, dice))
	assert.Equal(t, CannotTell, c.Answer)
	assert.Contains(t, c.Says, "do not agree")
	// One of five that was heard otherwise (something fell) leaves the others as they are.
	b = delayed(a, 80)
	copy(b[5*ClapRate:], delayed(a, 800)[5*ClapRate:])
	c = ClapsOf(hiss(a, dice), hiss(b, dice))
	assert.Equal(t, Found, c.Answer, c.Says)
	assert.InDelta(t, 10, c.Middle, 1)
}
