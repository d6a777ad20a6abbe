package picture

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// The worked figures.
func TestFlicker(t *testing.T) {
	require.InDelta(t, 10.09, Beat(NewRate(30000, 1001), 50), 0.001)
	require.Equal(t, 5.0, Beat(R(25), 60))
	require.Zero(t, Beat(R(25), 50))
	require.Zero(t, Beat(R(60), 60))
	require.Equal(t, 20.0, Beat(R(120), 50))
	for _, c := range []struct {
		rate  Rate
		mains int64
		want  string
	}{
		{R(25), 50, "1/50"}, {R(50), 50, "1/100"}, {NewRate(30000, 1001), 50, "1/50"},
		{NewRate(30000, 1001), 60, "1/60"},
		{NewRate(60000, 1001), 60, "1/120"}, {R(24), 60, "1/60"}, {NewRate(24000, 1001), 50, "1/50"},
		{R(25), 60, "1/60"}, {R(100), 50, "1/100"},
	} {
		got, ok := Shutter(c.rate, c.mains)
		require.True(t, ok)
		require.Equal(t, c.want, got.String(), "%s in %d Hz light", c.rate.Name(), c.mains)
		require.True(t, got.FreeOfFlicker(c.mains))
	}
	_, ok := Shutter(R(120), 50)
	require.False(t, ok)
	for text, free := range map[string]bool{"1/50": true, "1/100": true, "1/60": false, "1/25": true, "1/125": false,
		"1/30": false} {
		e, err := ParseExposure(text)
		require.NoError(t, err)
		require.Equal(t, free, e.FreeOfFlicker(50), text)
	}
	for _, bad := range []string{"0.02", "1/0", "-1/50", "50 Hz", "60"} {
		_, err := ParseExposure(bad)
		require.ErrorContains(t, err, "such as \"1/50\"", bad)
	}
}

// By brute force over a second of light: an exposure free of flicker gathers the same light whenever it begins, one
// that is not does not.
func TestFreeOfFlickerGathersEvenLight(t *testing.T) {
	light := func(from, seconds, mains float64) float64 { // ∫ sin²(2π·mains·t), in closed form
		w := 4 * math.Pi * mains
		return seconds/2 - (math.Sin(w*(from+seconds))-math.Sin(w*from))/(2*w)
	}
	rapid.Check(t, func(t *rapid.T) {
		mains := rapid.SampledFrom([]int64{50, 60}).Draw(t, "mains")
		e := NewExposure(rapid.Int64Range(1, 6).Draw(t, "num"), rapid.Int64Range(20, 400).Draw(t, "den"))
		least, most := math.Inf(1), 0.0
		for i := range 50 {
			v := light(float64(i)*0.00037, e.Seconds(), float64(mains))
			least, most = min(least, v), max(most, v)
		}
		require.Equal(t, (most-least)/most < 1e-9, e.FreeOfFlicker(mains), e.String())
	})
}

// The worked figures: an upright phone fills 31.6 % of a wide frame; a 4:3 window keeps 75 % of a 16:9
// picture, a square one 56 %.
func TestFit(t *testing.T) {
	f := Fit(1080, 1920, 1920, 1080, Box)
	require.InDelta(t, 0.316, f.At.W, 0.0005)
	require.Equal(t, 1.0, f.At.H)
	require.InDelta(t, 0.5625, f.Enlarged, 1e-9)
	require.InDelta(t, 0.75, Fit(1920, 1080, 1440, 1080, Crop).Shows.W, 1e-9)
	require.InDelta(t, 0.5625, Fit(1920, 1080, 1080, 1080, Crop).Shows.W, 1e-9)
	require.Equal(t, Whole, Fit(1280, 720, 1920, 1080, Box).At)
	require.Equal(t, 1.5, Fit(1280, 720, 1920, 1080, Box).Enlarged)
	require.InDelta(t, 0.75, Fit(720, 576, 1920, 1080, Box).At.W, 1e-9, "television's 4:3")
	wide := Fit(3440, 1440, 1920, 1080, Box)
	require.InDelta(t, 1920.0/3440*1440/1080, wide.At.H, 1e-9)
	rapid.Check(t, func(t *rapid.T) {
		side := rapid.IntRange(100, 8000)
		w, h, fw, fh := side.Draw(t, "w"), side.Draw(t, "h"), side.Draw(t, "frame w"), side.Draw(t, "frame h")
		box, crop := Fit(w, h, fw, fh, Box), Fit(w, h, fw, fh, Crop)
		require.Equal(t, Whole, box.Shows)
		require.Equal(t, Whole, crop.At)
		require.InDelta(t, 1, max(box.At.W, box.At.H), 1e-12)
		require.InDelta(t, 1, max(crop.Shows.W, crop.Shows.H), 1e-12)
		if w != 720 { // its shape stays
			require.InEpsilon(t, float64(w)/float64(h), box.At.W*float64(fw)/(box.At.H*float64(fh)), 1e-9)
		}
		require.LessOrEqual(t, box.Enlarged, crop.Enlarged*(1+1e-12))
		require.Equal(t, box.At, box.At.Within(Whole))
	})
}
