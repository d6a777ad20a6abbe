package inspect_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
)

// cameWith are frames at 25 a second and sound at 50 packets a second, of which some never come.
func cameWith(seconds float64, picture, sound func(at float64) bool, clock func(at float64) float64) inspect.Came {
	tr := inspect.NewTraffic(0)
	for n := range int(seconds * 50) {
		at := float64(n) / 50
		if n%2 == 0 && picture(at) {
			tr.Picture(inspect.Packet{At: clock(at), Decode: clock(at), Bytes: 4000, Key: n%100 == 0})
		}
		if sound(at) {
			tr.Sound(inspect.Packet{At: clock(at), Bytes: 400})
		}
	}
	return tr.Came()
}

func TestGaps(t *testing.T) {
	always, same := func(float64) bool { return true }, func(at float64) float64 { return at }
	within := func(from, to float64) func(float64) bool {
		return func(at float64) bool { return at >= from-1e-9 && at < to-1e-9 }
	}
	without := func(from, to float64) func(float64) bool {
		return func(at float64) bool { return !within(from, to)(at) }
	}
	for name, c := range map[string]struct {
		picture, sound func(float64) bool
		want           []inspect.Gap
	}{
		"both, all along":             {always, always, nil},
		"the sound ends":              {always, within(0, 6), []inspect.Gap{{Of: "sound", From: 6, To: 20}}},
		"the picture ends":            {within(0, 6), always, []inspect.Gap{{Of: "picture", From: 6, To: 20}}},
		"the sound begins late":       {always, within(3, 20), []inspect.Gap{{Of: "sound", To: 3}}},
		"the picture begins late":     {within(3, 20), always, []inspect.Gap{{Of: "picture", To: 3}}},
		"a hole in the sound":         {always, without(5, 5.5), []inspect.Gap{{Of: "sound", From: 5, To: 5.5}}},
		"two, and no end":             {always, func(at float64) bool { return without(5, 5.5)(at) && without(9, 12)(at) && at < 18 }, []inspect.Gap{{Of: "sound", From: 5, To: 5.5}, {Of: "sound", From: 9, To: 12}, {Of: "sound", From: 18, To: 20}}},
		"a little later, as programs": {within(0.6, 20), always, nil},
		"a little sooner over":        {always, within(0, 19.3), nil},
		"one packet":                  {always, without(5, 5.02), nil},
		"a sound alone":               {func(float64) bool { return false }, without(5, 6), []inspect.Gap{{Of: "sound", From: 5, To: 6}}},
		"a picture alone":             {always, func(float64) bool { return false }, nil},
	} {
		got := cameWith(20, c.picture, c.sound, same)
		assert.Equal(t, c.want, got.Gaps, name)
		assert.Empty(t, got.Anew, name)
		for _, g := range got.Gaps { // nothing is past its end, and what stays away ends with it
			assert.LessOrEqual(t, g.To, got.Seconds+0.05, name)
		}
	}

	// One that begins first and one that ends last: it lasts for both.
	both := cameWith(12, within(0, 8), within(3, 12), same)
	assert.InDelta(t, 12, both.Seconds, 0.05)
	assert.Equal(t, []inspect.Gap{{Of: "sound", To: 3}, {Of: "picture", From: 8, To: 12}}, both.Gaps)

	// Time stamps that begin anew, twice: all figures are as if they went on.
	even := cameWith(20, always, always, same)
	anew := cameWith(20, always, always, func(at float64) float64 {
		switch {
		case at < 8:
			return at + 3
		case at < 14:
			return at - 8
		}
		return at - 14
	})
	assert.Equal(t, []float64{8, 14}, anew.Anew)
	even.Anew = anew.Anew
	require.NotNil(t, anew.Pace)
	assert.InDelta(t, 25, anew.Pace.Hz, 1e-6)
	assert.InDelta(t, even.Seconds, anew.Seconds, 1e-6)
	assert.Equal(t, even.Windows, anew.Windows)
	assert.Equal(t, even.Sound, anew.Sound)
	assert.Equal(t, even.Keys.Count, anew.Keys.Count)
	assert.Zero(t, anew.BFrames)
	assert.Zero(t, anew.Uneven)
	assert.Empty(t, anew.Gaps)
}

// A sound that stops while the picture goes on is told at once, and stays told when it comes again; of the far end's doing it is
// not, and a sender that begins anew is judged by what comes then.
func TestOnlyOneOfBoth(t *testing.T) {
	l := inspect.NewLive(0)
	now := 50.0
	send := func(seconds float64, picture, sound bool) {
		for n := range int(seconds * 50) {
			if n%2 == 0 && picture {
				l.Picture(now, inspect.Packet{At: now, Decode: now, Bytes: 4000})
			}
			if sound {
				l.Sound(now, inspect.Packet{At: now, Bytes: 400})
			}
			now += 0.02
		}
	}
	l.Begins(now)
	send(10, true, true)
	g := l.Going(now)
	assert.Nil(t, g.Without)
	assert.Empty(t, g.Apart)
	send(1.5, true, false) // a breath
	assert.Nil(t, l.Going(now).Without)
	send(10, true, true)
	assert.Empty(t, l.Going(now).Apart)

	send(7, true, false)
	g = l.Going(now)
	require.NotNil(t, g.Without)
	assert.Equal(t, "sound", g.Without.Of)
	assert.InDelta(t, 7, g.Without.To-g.Without.From, 0.2)
	assert.InDelta(t, 21.5, g.Without.From, 0.2)
	send(5, true, true)
	g = l.Going(now)
	assert.Nil(t, g.Without)
	require.Len(t, g.Apart, 1)
	assert.InDelta(t, 28.5, g.Apart[0].To, 0.2)
	send(4, false, true)
	require.NotNil(t, l.Going(now).Without)
	assert.Equal(t, "picture", l.Going(now).Without.Of)
	send(2, true, true)
	assert.Len(t, l.Going(now).Apart, 2)

	l.Dips(now, inspect.Narrow, 300, 5)
	send(6, true, false)
	assert.Nil(t, l.Going(now).Without, "what the far end did")
	send(3, true, true)
	assert.Len(t, l.Going(now).Apart, 2)

	now += 60
	l.Ends(now)
	l.Begins(now)
	send(5, true, true)
	assert.Empty(t, l.Going(now).Apart, "begun anew")
	send(5, false, false)
	assert.Nil(t, l.Going(now).Without, "nothing comes at all: that is silence")
}
