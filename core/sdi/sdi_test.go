package sdi

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/picture"
)

func mode(w, h int, r picture.Rate, interlaced bool) picture.Mode {
	return picture.Mode{Width: w, Height: h, Rate: r, Interlaced: interlaced}
}

// The table. [standard: SMPTE ST 259, ST 292-1, ST 424, ST 2081-1, ST 2082-1; from memory]
func TestLinkOfPicture(t *testing.T) {
	f := func(n int64) picture.Rate { return picture.NewRate(n*1000, 1001) }
	for _, c := range []struct {
		m    picture.Mode
		link Link
		mbps float64
	}{
		{mode(720, 576, picture.R(25), true), SD, 270},
		{mode(720, 480, f(30), true), SD, 270},
		{mode(1280, 720, picture.R(50), false), HD, 1485},
		{mode(1280, 720, f(60), false), HD, 1485 / 1.001},
		{mode(1920, 1080, picture.R(25), true), HD, 1485},
		{mode(1920, 1080, f(30), false), HD, 1485 / 1.001},
		{mode(1920, 1080, picture.R(24), false), HD, 1485},
		{mode(1920, 1080, picture.R(50), false), ThreeG, 2970},
		{mode(1920, 1080, f(60), false), ThreeG, 2970 / 1.001},
		{mode(3840, 2160, picture.R(25), false), SixG, 5940},
		{mode(3840, 2160, f(30), false), SixG, 5940 / 1.001},
		{mode(3840, 2160, picture.R(50), false), TwelveG, 11880},
		{mode(4096, 2160, picture.R(60), false), TwelveG, 11880},
	} {
		link, mbps, ok := For(c.m)
		require.True(t, ok, c.m.Name())
		require.Equal(t, c.link, link, c.m.Name())
		require.InDelta(t, c.mbps, mbps, 1e-6, c.m.Name())
	}
	for _, none := range []picture.Mode{mode(2560, 1440, picture.R(60), false),
		mode(1920, 1080, picture.NewRate(60001, 1000), false),
		mode(3840, 2160, picture.R(30), true), mode(720, 576, picture.R(50), false)} {
		_, _, ok := For(none)
		require.False(t, ok, none.Name())
	}
	require.True(t, TwoMappings(mode(1920, 1080, picture.R(50), false)))
	require.False(t, TwoMappings(mode(1920, 1080, picture.R(25), false)))
}

// The payload of a link is about what the active picture needs: every mapped picture at 4:2:2 10-bit with its
// television blanking fits, and no lower link would hold it. (Bits of the active picture only, so a bound.)
func TestActivePictureFitsItsLink(t *testing.T) {
	for _, h := range []int{576, 480, 720, 1080, 2160} {
		w := map[int]int{576: 720, 480: 720, 720: 1280, 1080: 1920, 2160: 3840}[h]
		for _, r := range rates {
			for _, interlaced := range []bool{true, false} {
				m := mode(w, h, r, interlaced)
				link, mbps, ok := For(m)
				if !ok {
					continue
				}
				need := float64(w*h) * r.Float() * 20 / 1e6
				require.Less(t, need, mbps, m.Name())
				for i, l := range Links {
					if l == link && i > 0 && link != HD { // 720p24 would fit less; HD is its only mapping
						require.Greater(t, need*1.2, Links[i-1].Mbps(), m.Name())
					}
				}
			}
		}
	}
}

func TestReach(t *testing.T) {
	// Worked by hand: RG-6 class, 19 dB at 1 GHz. HD: √0.7425 × 19 = 16.37 dB → 122 m. 12G: √5.94 × 19 × 1.0784 = 49.94
	// dB → 80 m.
	p, ok := Planning(RG6)
	require.True(t, ok)
	for _, c := range []struct {
		l    Link
		want float64
	}{{SD, 20 / (19 * 0.367423) * 100}, {HD, 122.2}, {ThreeG, 86.4}, {SixG, 122.2}, {TwelveG, 80.1}} {
		got, err := Reach([]Point{p}, c.l)
		require.NoError(t, err)
		require.InDelta(t, c.want, got, 0.4, c.l)
	}
	_, err := Reach(nil, HD)
	require.ErrorContains(t, err, "at least one point")
	_, err = Loss([]Point{{1000, 10}, {1000, 12}}, 500)
	require.ErrorContains(t, err, "two losses are given at 1000 MHz")
	_, ok = Planning(UnknownCoax)
	require.False(t, ok)
	sure, possible := HabitMetres(TwelveG)
	require.Equal(t, []float64{30, 60}, []float64{sure, possible})
}

// A data sheet that follows a·√f + b·f is met exactly, at its points and between them.
func TestLossFollowsTheDataSheet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(0.1, 2).Draw(t, "a")
		b := rapid.Float64Range(0, 0.002).Draw(t, "b")
		law := func(mhz float64) float64 { return a*sqrt(mhz) + b*mhz }
		points := []Point{{135, law(135)}, {750, law(750)}, {1500, law(1500)}, {3000, law(3000)}, {6000, law(6000)}}
		f := rapid.Float64Range(100, 6500).Draw(t, "mhz")
		got, err := Loss(points, f)
		require.NoError(t, err)
		require.InEpsilon(t, law(f), got, 1e-9)
		// Monotone: a faster link never reaches further on the same budget.
		last := 1e18
		for _, l := range []Link{SD, HD, ThreeG} {
			r, err := Reach(points, l)
			require.NoError(t, err)
			require.Less(t, r, last)
			last = r
		}
	})
}

func sqrt(x float64) float64 { // Newton, so that the law is not computed by the code under test
	r := x
	for range 60 {
		r = (r + x/r) / 2
	}
	return r
}

func TestLevels(t *testing.T) {
	for _, c := range []struct {
		from, to         Level
		surely, possibly bool
	}{
		{LevelA, LevelA, true, true}, {LevelB, LevelA, false, false}, {LevelA, BothLevels, true, true},
		{UnknownLevel, BothLevels, true, true},
		{UnknownLevel, LevelA, false, true}, {LevelB, UnknownLevel, false, true}, {BothLevels, LevelA, false, true},
	} {
		surely, possibly := Meet(c.from, c.to)
		require.Equal(t, []bool{c.surely, c.possibly}, []bool{surely, possibly}, "%s to %s", c.from, c.to)
	}
}
