package look

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// card is a patch of one light, with noise.
func card(label string, r, g, b float64, dice *rand.Rand) Patch {
	p := Patch{Label: label}
	code := func(v float64) byte {
		if v < 0.018 {
			v *= 4.5
		} else {
			v = 1.099*math.Pow(v, 0.45) - 0.099
		}
		return byte(max(0, min(255, math.Round(255*v+dice.NormFloat64()))))
	}
	for range 64 * 64 {
		p.Pixels = append(p.Pixels, code(r), code(g), code(b))
	}
	return p
}

// Cameras that see one card: two stops apart, one warmer, one burnt out.
func TestMatch(t *testing.T) {
	dice := rand.New(rand.NewPCG(3, 4))
	of := func(r, g, b float64) Match {
		all := MatchOf([]Patch{card("Bench camera", 0.2, 0.2, 0.2, dice), card("Face camera", r, g, b, dice)})
		require.Len(t, all, 2)
		assert.Equal(t, Found, all[0].Answer)
		return all[1]
	}
	m := of(0.05, 0.05, 0.05)
	assert.InDelta(t, -2, m.Stops, 0.03)
	assert.Less(t, m.DeltaE, 1.0)
	assert.Contains(t, m.Says, "2 stops darker than Bench camera")
	m = of(0.2, 0.2, 0.2)
	assert.Equal(t, Found, m.Answer, m.Says)
	m = of(0.26, 0.2, 0.13)
	assert.Equal(t, Clear, m.Answer)
	assert.Contains(t, m.Says, "warmer: seen on a cut")
	m = of(0.2, 0.2, 0.226)
	assert.Contains(t, m.Says, "cooler: seen side by side")
	assert.Equal(t, CannotTell, of(1.2, 1.2, 1.2).Answer, "burnt out")
	assert.Equal(t, CannotTell, of(0, 0, 0).Answer, "black")
	burnt := MatchOf([]Patch{card("A", 1.2, 1.2, 1.2, dice), card("B", 0.2, 0.2, 0.2, dice)})
	assert.Equal(t, CannotTell, burnt[1].Answer)
	assert.Empty(t, MatchOf(nil))
	assert.Equal(t, CannotTell, MatchOf([]Patch{{Label: "none"}})[0].Answer)
}

// CIE 15: a luminance of 18.42 % is L* 50, white is 100 and without colour. The primaries of BT.709 under D65 are values
// published for sRGB, which has the same: red 53.24, 80.09, 67.20; green 87.73, −86.18, 83.18; blue 32.30, 79.19, −107.86 (from
// memory).
func TestLab(t *testing.T) {
	for _, c := range []struct{ rgb, want [3]float64 }{
		{[3]float64{0.18418, 0.18418, 0.18418}, [3]float64{50, 0, 0}},
		{[3]float64{1, 1, 1}, [3]float64{100, 0, 0}},
		{[3]float64{1, 0, 0}, [3]float64{53.24, 80.09, 67.20}},
		{[3]float64{0, 1, 0}, [3]float64{87.73, -86.18, 83.18}},
		{[3]float64{0, 0, 1}, [3]float64{32.30, 79.19, -107.86}},
	} {
		lab := labOf(c.rgb)
		for i := range lab {
			assert.InDelta(t, c.want[i], lab[i], 0.02, "%v", c.rgb)
		}
	}
}
