package look_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/look"
)

// at are the times of so many frames at a rate, with jitter of a normal law, some lost.
func at(hz float64, n int, jitter float64, lost func(int) bool, seed uint64) []float64 {
	r := rand.New(rand.NewPCG(seed, 1))
	var out []float64
	for i := range n {
		if lost == nil || !lost(i) {
			out = append(out, 3+float64(i)/hz+jitter*r.NormFloat64())
		}
	}
	return out
}

// Ten seconds tell 30 from 29.97 in spite of two milliseconds of jitter and of a frame lost in 300; one does not, and
// says so.
func TestPace(t *testing.T) {
	for name, c := range map[string]struct {
		hz     float64
		n      int
		jitter float64
		lost   func(int) bool
		want   string
		gone   int
	}{
		"30, ten seconds":       {30, 300, 0.002, nil, "30", 0},
		"29.97, ten seconds":    {30000.0 / 1001, 300, 0.002, nil, "29.97", 0},
		"one lost in 300":       {30, 300, 0.002, func(i int) bool { return i == 120 }, "30", 1},
		"one second":            {30, 30, 0.002, nil, "", 0},
		"59.94 without jitter":  {60000.0 / 1001, 240, 0, nil, "59.94", 0},
		"23.976, times in ms":   {24000.0 / 1001, 300, 0.0003, nil, "23.976", 0},
		"27 is no camera's":     {27, 300, 0.001, nil, "", 0},
		"several lost in a row": {25, 500, 0.001, func(i int) bool { return i > 200 && i < 210 }, "25", 9},
	} {
		p, ok := look.PaceOf(at(c.hz, c.n, c.jitter, c.lost, 7))
		require.True(t, ok, name)
		assert.Equal(t, c.want, p.Name, "%s: %+v", name, p)
		assert.Equal(t, c.gone, p.Lost, name)
		assert.InDelta(t, c.hz, p.Hz, 4*p.Error+1e-6, name)
		assert.InDelta(t, 1.96*1000*c.jitter, p.JitterMs, 0.35*1000*c.jitter+0.01, name)
	}
	_, ok := look.PaceOf(at(30, 8, 0, nil, 1))
	require.False(t, ok, "too few")
	_, ok = look.PaceOf(make([]float64, 100))
	require.False(t, ok, "no time passes")
}

// The error that is told is the error there is: of a hundred tries about two thirds lie within one of it.
func TestPaceKnowsItsError(t *testing.T) {
	within, n := 0, 300
	for seed := range n {
		p, _ := look.PaceOf(at(50, 200, 0.002, nil, uint64(seed)))
		if math.Abs(p.Hz-50) < p.Error {
			within++
		}
	}
	require.InDelta(t, 0.68, float64(within)/float64(n), 0.09)
}

func tone(hz, volume float64, seconds float64, rate float64) (out []float32) {
	for i := range int(seconds * rate) {
		out = append(out, float32(volume*math.Sin(2*math.Pi*hz*float64(i)/rate)))
	}
	return out
}

func heard(left, right []float32, rate float64, channels int) look.Heard {
	s := look.NewSound(rate, channels)
	for i := 0; i < len(left); i += 1000 {
		s.Add(left[i:min(len(left), i+1000)], right[i:min(len(left), i+1000)])
	}
	return s.Hear()
}

// A sine of 997 Hz at full scale on one channel is −3.01 LUFS [standard: ITU-R BS.1770], and at −23 dBFS on both −23.0
// [standard: EBU Tech 3341, case 1], at any sample rate.
func TestLoudnessOfSines(t *testing.T) {
	for _, rate := range []float64{44100, 48000, 96000} {
		one := tone(997, 1, 6, rate)
		h := heard(one, make([]float32, len(one)), rate, 2)
		assert.InDelta(t, -3.01, h.LUFS, 0.06, "%v", rate)
		assert.InDelta(t, 0, h.TruePeak, 0.06)
		both := tone(1000, math.Pow(10, -23.0/20), 20, rate)
		assert.InDelta(t, -23.0, heard(both, both, rate, 2).LUFS, 0.06)
		assert.InDelta(t, -26.0, heard(both, both, rate, 1).LUFS, 0.06, "one channel counts once")
	}
	// Case 3: −36 for 10 s, −23 for 60 s, −36 for 10 s are −23.0: the gate leaves the quiet out.
	quiet, loud := tone(1000, math.Pow(10, -36.0/20), 10, 48000), tone(1000, math.Pow(10, -23.0/20), 60, 48000)
	all := append(append(append([]float32{}, quiet...), loud...), quiet...)
	assert.InDelta(t, -23.0, heard(all, all, 48000, 2).LUFS, 0.1)
	// EBU Tech 3342, case 1: 20 s each at −20 and −30 have a range of 10 LU.
	a, b := tone(1000, math.Pow(10, -20.0/20), 20, 48000), tone(1000, math.Pow(10, -30.0/20), 20, 48000)
	steps := append(append([]float32{}, a...), b...)
	assert.InDelta(t, 10, heard(steps, steps, 48000, 2).Range, 1)
	// Between samples: a quarter of the rate, off by 45°, peaks 3 dB over its samples.
	var off []float32
	for i := range 48000 {
		off = append(off, float32(0.5*math.Sin(math.Pi/2*float64(i)+math.Pi/4)*min(1, float64(i)/4800)))
	}
	h := heard(off, off, 48000, 2)
	assert.InDelta(t, -9.03, h.PeakDB, 0.1)
	assert.InDelta(t, -6.02, h.TruePeak, 0.3)
}

// Sound that has nothing to tell says so: silence, and nothing at all.
func TestNothingToHear(t *testing.T) {
	for name, n := range map[string]int{"nothing": 0, "silence": 96000, "a moment": 100} {
		h := heard(make([]float32, n), make([]float32, n), 48000, 2)
		require.Equal(t, -200.0, h.LUFS, name)
		for _, f := range h.Signs {
			require.False(t, math.IsNaN(f.Value) || math.IsInf(f.Value, 0), "%s: %s", name, f.What)
			require.NotEmpty(t, f.Says, "%s: %s", name, f.What)
		}
		require.Equal(t, look.Found, look.Find(h.Signs, look.IsSilent).Answer, name)
		require.Equal(t, look.CannotTell, look.Find(h.Signs, look.IsHum).Answer, name)
	}
}

// Pictures that have nothing to tell say so: none, one, grey ones, and frames that are too small or cut short are left
// out.
func TestNothingToSee(t *testing.T) {
	grey := make([]byte, 64*36)
	for i := range grey {
		grey[i] = 110
	}
	p := look.NewPicture()
	require.NotEmpty(t, p.See().Signs)
	p.Add(look.Frame{Width: 64, Height: 36, Luma: grey[:100]})
	p.Add(look.Frame{Width: 8, Height: 8, Luma: grey})
	require.Zero(t, p.Frames())
	for i := range 200 {
		p.Add(look.Frame{At: float64(i) / 25, Width: 64, Height: 36, Luma: grey})
	}
	s := p.See()
	for _, n := range []look.Name{look.IsRepeats, look.IsFrozen, look.IsRange, look.IsCombing} {
		require.Equal(t, look.CannotTell, look.Find(s.Signs, n).Answer, n)
	}
	require.Equal(t, "25", s.Pace.Name)
}
