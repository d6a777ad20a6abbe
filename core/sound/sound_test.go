package sound_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/sound"
)

func ExampleDelayOf() {
	d := sound.DelayOf(100, 30000.0/1001)
	fmt.Println(d.Ms, d.Frames, d.Samples)
	// Output: 100 3 4800
}

// The inverse distance law and the speed of sound, by published tables: 6.02 dB a doubling, 343.4 m/s at 20 °C
// and 331.3 at 0, 2.9 ms a metre.
func TestDistance(t *testing.T) {
	at := func(m float64) float64 { return sound.Gain(sound.Exactly(m)).Value }
	for m := 0.05; m < sound.Near/2; m *= 1.3 {
		assert.InDelta(t, 6.0206, at(m)-at(2*m), 1e-3)
	}
	assert.InDelta(t, 10.46, at(0.3), 0.01, "20·log10(1 ÷ 0.3)")
	far := sound.Gain(sound.Exactly(3))
	assert.InDelta(t, -9.54, far.Low, 0.01)
	assert.InDelta(t, 4.44, far.High, 0.01, "indoors the room carries it")
	assert.InDelta(t, 331.3, sound.Speed(0), 1e-9)
	assert.InDelta(t, 343.4, sound.Speed(20), 0.1)
	assert.InDelta(t, 2.91, sound.Air(sound.Exactly(1)).Value, 0.005)
	assert.InDelta(t, 5.33, sound.Buffer(256, 48), 0.01)
}

// By hand: a dynamic microphone of −55 dBV/Pa, raised speech (66 dB SPL at 1 m) at 10 cm is 86 dB SPL; −55 − 93.98 + 86
// + 2.22 = −60.76 dBu. A preamplifier whose 0 dBFS is +10 dBu at its least gain: to stand at −24 dBFS it wants −24 −
// (−60.76 − 10) = 46.8 dB. Noise of −125 dBu lies 64 dB under it.
func TestLevels(t *testing.T) {
	spl := sound.Exactly(66).Plus(sound.Gain(sound.Exactly(0.1)))
	assert.InDelta(t, 86, spl.Value, 1e-9)
	l := sound.LevelsOf(spl, sound.Exactly(-55), sound.Exactly(10), sound.Exactly(-125), nil)
	assert.InDelta(t, -60.76, l.Mean.Value, 0.01)
	assert.InDelta(t, 46.8, l.Gain.Value, 0.05)
	assert.InDelta(t, -10.5, l.Peak.Value, 0.01)
	assert.InDelta(t, 9, l.Headroom.Low, 1e-9)
	assert.InDelta(t, 64.2, l.Noise.Value, 0.05)
	hot := sound.Exactly(60)
	l = sound.LevelsOf(spl, sound.Exactly(-55), sound.Exactly(10), sound.Exactly(-125), &hot)
	assert.InDelta(t, -24+13.2+13.5, l.Peak.Value, 0.1, "13 dB too much clips")
	assert.Negative(t, l.Headroom.Low)
	// +4 dBu into a camera's microphone socket that overloads at −25 to −10 dBV wants 26 to 47 dB less (practice
	// rounds the same).
	assert.InDelta(t, 11.8, 4-(-10+sound.DBuOfDBV), 0.1)
	assert.InDelta(t, 0.7746, math.Pow(10, -sound.DBuOfDBV/20), 1e-4)
}

// A figure that is known better never comes out wider.
func TestSpans(t *testing.T) {
	wide, tight := sound.Speech(""), sound.Speech(sound.Raised)
	assert.LessOrEqual(t, wide.Low, tight.Low)
	assert.GreaterOrEqual(t, wide.High, tight.High)
	for _, m := range []sound.Span{{Low: 0.1, Value: 0.3, High: 3}, {Low: 0.7, Value: 1, High: 2},
		{Low: 0.5, Value: 0.65, High: 0.7}} {
		g := sound.Gain(m)
		assert.LessOrEqual(t, g.Low, g.Value)
		assert.LessOrEqual(t, g.Value, g.High)
		for _, x := range []float64{m.Low, m.Value, m.High} {
			in := sound.Gain(sound.Exactly(x))
			assert.GreaterOrEqual(t, in.Low, g.Low-1e-9)
			assert.LessOrEqual(t, in.High, g.High+1e-9)
		}
	}
}

func TestClaps(t *testing.T) {
	got, ok := sound.Claps([]float64{114, 109, 112, 131, 110})
	require.True(t, ok)
	require.Equal(t, sound.Span{Low: 109, Value: 112, High: 131}, got,
		"one clap that was off moves the middle by nothing")
	got, _ = sound.Claps([]float64{10, 20})
	require.Equal(t, sound.Span{Low: 10, Value: 15, High: 20}, got)
	_, ok = sound.Claps(nil)
	require.False(t, ok)
}
