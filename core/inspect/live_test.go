package inspect_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
)

// sender makes frames at 30 a second and hands them on at times a way gives them.
type sender struct {
	l   *inspect.Live
	now float64
	n   int // of the connection at hand
}

func (s *sender) begin() { s.l.Begins(s.now); s.n = 0 }

// send hands frames on for so many seconds; late is by how much each comes late, skip whether it never comes.
func (s *sender) send(seconds float64, late func(float64) float64, skip func(int) bool) {
	from := s.now
	for k := 0; float64(k) < seconds*30; k++ {
		at := from + float64(k)/30
		if skip == nil || !skip(k) {
			s.now = at + late(at-from)
			s.l.Picture(s.now, inspect.Packet{At: float64(s.n) / 30, Decode: float64(s.n) / 30, Bytes: 5000, Key: s.n%60 == 0})
		}
		s.n++
	}
	s.now = from + seconds
}

func onTime(float64) float64 { return 0.05 }

func TestLive(t *testing.T) {
	l := inspect.NewLive(1200)
	s := &sender{l: l, now: 100}
	assert.False(t, l.Going(100).Connected)
	s.begin()
	s.send(10, onTime, nil)
	g := l.Going(s.now)
	assert.True(t, g.Connected)
	assert.InDelta(t, 0, g.Behind, 1e-6)
	assert.Zero(t, g.Lost)
	assert.Empty(t, g.Stalls)
	require.GreaterOrEqual(t, len(g.Seconds), 10)
	assert.InDelta(t, 1200, g.Seconds[5].Kbps, 41)
	assert.InDelta(t, 30, g.Seconds[5].Frames, 1)

	// Narrowed for four seconds: frames come up to two seconds late, and catch up within one after it.
	l.Dips(s.now, inspect.Narrow, 600, 4)
	s.send(6, func(at float64) float64 {
		if at < 4 {
			return 0.05 + at/2
		}
		return max(0.05, 2.05-(at-4)*2)
	}, nil)
	s.send(4, onTime, nil)
	d := l.Going(s.now).Dips[0]
	assert.InDelta(t, 2, d.Behind, 0.15)
	assert.Zero(t, d.Lost)
	assert.False(t, d.Anew)
	assert.InDelta(t, 0.9, d.Back, 0.35)
	assert.Contains(t, d.Says, "Narrowed to 600 kb/s for 4 s: no frames lost")

	// A sender that throws frames away.
	l.Dips(s.now, inspect.Stalls, 0, 2)
	s.send(5, onTime, func(k int) bool { return k > 0 && k < 60 })
	d = l.Going(s.now).Dips[1]
	assert.InDelta(t, 59, d.Lost, 1)
	assert.InDelta(t, 2, d.Silent, 0.15)
	assert.Len(t, l.Going(s.now).Stalls, 1)

	// Closed; the sender is back three seconds later.
	l.Dips(s.now, inspect.Closes, 0, 0)
	l.Ends(s.now)
	s.now += 3
	assert.Contains(t, l.Going(s.now).Dips[2].Says, "has not come back")
	s.begin()
	s.send(4, onTime, nil)
	d = l.Going(s.now).Dips[2]
	assert.True(t, d.Anew)
	assert.InDelta(t, 3, d.Back, 0.1)
	assert.Contains(t, d.Says, "connected anew 3 s after it")
	assert.Equal(t, 2, l.Going(s.now).Connections)

	// The far end parted them: what it came to is told of the one that lasted longest.
	assert.Greater(t, l.Arrived().Came.Frames, 600)

	// A dip nothing is to be seen of.
	l.Dips(s.now, inspect.Slow, 100, 2)
	s.send(4, onTime, nil)
	assert.Contains(t, l.Going(s.now).Dips[3].Says, "nothing of it was to be seen")
}

// Before anybody has connected nothing dips, and nothing is silent.
func TestLiveOfNobody(t *testing.T) {
	l := inspect.NewLive(0)
	l.Dips(5, inspect.Stalls, 0, 2)
	g := l.Going(10)
	assert.Empty(t, g.Dips)
	assert.Zero(t, g.Silent)
	assert.NotNil(t, g.Seconds)
	assert.Zero(t, l.Arrived().Came.Frames)
}

// A sender that stops, is set otherwise and begins anew by itself is judged by what comes then: not by what it said, sent, lost
// or left out before. One the far end parted from it is judged by the longer of both, unless it says something else of itself.
func TestWhatIsJudgedBeginsAnew(t *testing.T) {
	main, high, sound := &inspect.Video{Codec: "h264", Profile: "Main"}, &inspect.Video{Codec: "h264", Profile: "High"}, &inspect.Audio{Codec: "aac", Rate: 48000, Channels: 2}
	l := inspect.NewLive(1200)
	s := &sender{l: l, now: 0}
	s.begin()
	l.Says(main, sound)
	s.send(30, onTime, func(k int) bool { return k > 100 && k < 130 })
	l.Ends(s.now)
	assert.NotZero(t, l.Going(s.now).Lost)
	s.now += 45 // somebody looks for the setting
	s.begin()
	l.Says(high, nil)
	s.send(5, onTime, nil)
	g, a := l.Going(s.now), l.Arrived()
	assert.Zero(t, g.Lost)
	assert.Empty(t, g.Stalls, "looking for a setting is no stop")
	assert.InDelta(t, 75, g.Since, 0.1)
	assert.Equal(t, "High", a.Video.Profile)
	assert.Nil(t, a.Audio, "it sends no sound now")
	assert.Zero(t, a.Tracks)
	assert.InDelta(t, 150, a.Came.Frames, 1)

	for _, says := range []*inspect.Video{high, main} {
		l.Dips(s.now, inspect.Closes, 0, 0)
		l.Ends(s.now)
		s.now += 2
		s.begin()
		l.Says(says, nil)
		s.send(2, onTime, nil)
	}
	assert.Equal(t, "Main", l.Arrived().Video.Profile, "another setting is judged by itself, however short")
	assert.InDelta(t, 60, l.Arrived().Came.Frames, 1)
	assert.InDelta(t, 75, l.Going(s.now).Since, 0.1, "the far end's own doing begins nothing anew")
}

// A stream that comes later and later by its own doing is told to; not what came at once when it connected, what caught up is
// told as that, and what the far end did badly is not the sender's doing, before, while and after it falls behind.
func TestLate(t *testing.T) {
	slower := func(by float64) func(float64) float64 { return func(at float64) float64 { return at * by } }
	for name, c := range map[string]struct {
		run       func(s *sender)
		most, now float64
	}{
		"on time":             {func(s *sender) { s.send(20, onTime, nil) }, 0, 0},
		"gathered before":     {func(s *sender) { s.send(20, func(at float64) float64 { return max(0, 2-at) }, nil) }, 0, 0},
		"further and further": {func(s *sender) { s.send(23, slower(0.2), nil) }, 4, 4},
		"a hitch": {func(s *sender) {
			s.send(10, onTime, nil)
			s.send(10, func(at float64) float64 { return max(0.05, 2.05-at) }, nil)
		}, 2, 0},
		"the far end, got over": {func(s *sender) {
			s.send(10, onTime, nil)
			s.l.Dips(s.now, inspect.Narrow, 600, 4)
			s.send(10, func(at float64) float64 { return 0.05 + max(0, min(at, 8-at)) }, nil)
			s.send(60, onTime, nil)
		}, 0, 0},
		"the far end, never got over": {func(s *sender) {
			s.send(10, onTime, nil)
			s.l.Dips(s.now, inspect.Narrow, 600, 4)
			s.send(10, func(at float64) float64 { return 0.05 + min(at, 4) }, nil)
			s.send(60, func(float64) float64 { return 4.05 }, nil)
		}, 0, 0},
		"behind, and the far end besides": {func(s *sender) {
			s.send(10, slower(0.2), nil)
			s.l.Dips(s.now, inspect.Narrow, 600, 4)
			s.send(34, func(at float64) float64 { return 2 + min(at, 4) }, nil)
			s.send(20, func(at float64) float64 { return 6 + at*0.1 }, nil)
		}, 3.4, 3.4},
		"behind, and a sender that begins anew": {func(s *sender) {
			s.send(20, slower(0.2), nil)
			s.l.Ends(s.now)
			s.now += 5
			s.begin()
			s.send(10, onTime, nil)
		}, 0, 0},
	} {
		s := &sender{l: inspect.NewLive(1200)}
		s.begin()
		c.run(s)
		g := s.l.Going(s.now)
		assert.InDelta(t, c.most, g.Late, 0.15, name)
		assert.InDelta(t, c.now, g.LateNow, 0.15, name)
		assert.Equal(t, name == "the far end, never got over" || name == "behind, and the far end besides", len(g.Dips) > 0 && g.Dips[0].Stays, name)
	}
}

// Somebody who stops a sender that did not get over a bad far end, and begins with other settings, is judged by what comes then.
func TestBeginningAnewAfterADip(t *testing.T) {
	l := inspect.NewLive(1200)
	s := &sender{l: l}
	s.begin()
	s.send(10, onTime, nil)
	l.Dips(s.now, inspect.Narrow, 600, 4)
	s.send(60, func(at float64) float64 { return 0.05 + min(at, 4) }, nil)
	require.True(t, l.Going(s.now).Dips[0].Stays)
	l.Ends(s.now)
	s.now += 20
	s.begin()
	s.send(5, onTime, nil)
	assert.InDelta(t, 90, l.Going(s.now).Since, 0.1)
	assert.InDelta(t, 150, l.Arrived().Came.Frames, 1)
}

// Time stamps that are set back are told, and are no lateness.
func TestTimeStampsThatGoBack(t *testing.T) {
	l := inspect.NewLive(1200)
	s := &sender{l: l}
	s.begin()
	s.send(20, onTime, nil)
	s.n -= 300
	s.send(20, onTime, nil)
	g := l.Going(s.now)
	assert.Equal(t, 1, g.Backs)
	assert.Zero(t, g.Lost)
	assert.InDelta(t, 0, g.Late, 0.05)
	assert.InDelta(t, 0, g.Behind, 0.05)
}
