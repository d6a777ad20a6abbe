package view_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/h264"
	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/rig"
	"eventether/core/sheet"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// right is what arrives when everything is set as on the sheet.
func right(t *testing.T, seconds float64) (*inspect.Arrived, sheet.Wanted) {
	t.Helper()
	w, ok := sheet.WantedOf(judge.Rig(rigs.LoftEven()), "stream-0")
	require.True(t, ok)
	hz := w.Rate.Float()
	tr := inspect.NewTraffic(w.Kbps)
	order := []int{0, 3, 1, 2}
	frames := int(seconds * hz)
	for n := range frames {
		at := n
		if n > 0 {
			at = (n-1)/3*3 + order[(n-1)%3+1]
		}
		tr.Picture(inspect.Packet{At: float64(at) / hz, Decode: float64(n-2) / hz, Bytes: int(w.Kbps * 1000 / 8 / hz), Key: at%60 == 0})
	}
	for n := range int(seconds * 46.875) {
		tr.Sound(inspect.Packet{At: float64(n) / 46.875, Bytes: int(w.AudioKbps * 1000 / 8 / 46.875)})
	}
	return &inspect.Arrived{Transport: "rtmp", Tracks: 1, Came: tr.Came(),
		Video: &inspect.Video{Codec: "h264", Profile: w.Profile, Level: w.Level, Width: w.Width, Height: w.Height, References: h264.Kept(w.References, w.BFrames), Range: "limited", Matrix: "bt709", Chroma: "4:2:0", Bits: 8},
		Audio: &inspect.Audio{Codec: "aac", Profile: "LC", Rate: 48000, Channels: 2}}, w
}

// The rehearsal's step is done when five minutes came as they are set and nothing was lost; it has failed when something is
// not; what the far end did badly on purpose is nobody's fault.
func TestRehearsedAt(t *testing.T) {
	v := judge.Rig(rigs.LoftEven())
	whole, _ := right(t, 310)
	short, _ := right(t, 60)
	wrong, _ := right(t, 310)
	wrong.Video.Profile = "Main"
	dumb, _ := right(t, 310)
	dumb.Video.Profile = ""
	going := func(edit func(*inspect.Going)) inspect.Going {
		g := inspect.Going{Connected: true, Connections: 1, Stalls: []look.Stretch{}}
		if edit != nil {
			edit(&g)
		}
		return g
	}
	fine := func(edit func(*look.Heard)) *look.Heard {
		target := v.Sounds().Target
		h := &look.Heard{Seconds: 310, LUFS: target.LUFS, TruePeak: target.Peak - 2, Signs: []look.Sign{{What: look.IsSilent, Answer: look.Clear}, {What: look.IsEqual, Answer: look.Found, Says: "One channel."}}}
		for range 307 {
			h.Loudness = append(h.Loudness, target.LUFS)
		}
		if edit != nil {
			edit(h)
		}
		return h
	}
	for name, c := range map[string]struct {
		a    *inspect.Arrived
		g    inspect.Going
		seen []look.Sign
		is   look.Answer
		says string
	}{
		"nobody":                      {&inspect.Arrived{}, inspect.Going{}, nil, look.CannotTell, "Nobody sends yet"},
		"whole":                       {whole, going(nil), nil, look.Found, "Every line that can be seen"},
		"short":                       {short, going(nil), nil, look.CannotTell, "Every line that can be seen"},
		"wrong":                       {wrong, going(nil), nil, look.Clear, "Profile Main comes instead of High."},
		"loses":                       {whole, going(func(g *inspect.Going) { g.Lost = 4 }), nil, look.Clear, "four frames were lost"},
		"stops":                       {whole, going(func(g *inspect.Going) { g.Stalls = []look.Stretch{{From: 50, To: 53}} }), nil, look.Clear, "stopped coming one time"},
		"loses, and does not say all": {dumb, going(func(g *inspect.Going) { g.Lost = 4 }), nil, look.Clear, "Four frames were lost: look"},
		"goes back":                   {whole, going(func(g *inspect.Going) { g.Backs = 2 }), nil, look.Clear, "its time stamps went back two times"},
		"no sound now":                {whole, going(func(g *inspect.Going) { g.Without = &inspect.Gap{Of: "sound", From: 30, To: 42.4} }), nil, look.Clear, "No sound has come for 12 s"},
		"no picture":                  {whole, going(func(g *inspect.Going) { g.Without = &inspect.Gap{Of: "picture", From: 30, To: 33} }), nil, look.Clear, "No picture has come for 3 s"},
		"sound gone":                  {whole, going(func(g *inspect.Going) { g.Apart = []inspect.Gap{{Of: "sound", From: 30, To: 42}} }), nil, look.Clear, "the sound was gone one time"},
		"on purpose": {whole, going(func(g *inspect.Going) {
			g.Lost, g.Stalls, g.Dips = 4, []look.Stretch{{From: 50, To: 53}}, []inspect.Dip{{At: 50, Seconds: 3, Lost: 4, Back: 0.5}}
		}), nil, look.Found, "Every line"},
		"black":      {whole, going(nil), []look.Sign{{What: look.IsBlack, Answer: look.Found, Says: "Black for 9 s in all."}}, look.Clear, "Black for 9 s"},
		"behind":     {wrong, going(func(g *inspect.Going) { g.Late, g.LateNow = 15.8, 15.8 }), nil, look.Clear, "It falls behind: it comes 15.8 s later now than when it had settled."},
		"a bit late": {wrong, going(func(g *inspect.Going) { g.Late, g.LateNow = 1.2, 1.2 }), nil, look.Clear, "Profile Main"},
		"late":       {whole, going(func(g *inspect.Going) { g.Late, g.LateNow = 2.5, 2.5 }), nil, look.Clear, "It falls behind"},
		"caught up":  {whole, going(func(g *inspect.Going) { g.Late, g.LateNow = 4, 0.1 }), nil, look.Clear, "It came 4 s late for a while and caught up"},
		"not over it": {whole, going(func(g *inspect.Going) {
			g.Dips = []inspect.Dip{{At: 50, Seconds: 3, Behind: 9, Back: -1, Over: true, Stays: true, Says: "Narrowed to 600 kb/s for 3 s: it is not yet as it was before."}}
		}), nil, look.Clear, "Narrowed to 600 kb/s"},
		"not over it yet": {whole, going(func(g *inspect.Going) {
			g.Dips = []inspect.Dip{{At: 50, Seconds: 3, Behind: 9, Back: -1, Over: true, Says: "Narrowed"}}
		}), nil, look.Found, "Every line"},
		"gone": {whole, going(func(g *inspect.Going) { g.Connected = false }), nil, look.Found, "The sender is gone."},
	} {
		r, err := view.RehearsedAt(v, "stream-0", c.a, c.g, c.seen, fine(nil))
		require.NoError(t, err, name)
		assert.Equal(t, c.is, r.Preflight.Rows[0].Passes.Answer, "%s: %s", name, r.Sentence)
		assert.Contains(t, r.Sentence, c.says, name)
	}
	for name, c := range map[string]struct {
		heard *look.Heard
		is    look.Answer
		says  string
		worst limit.State
	}{
		"nobody listened": {nil, look.CannotTell, "Every line", 0},
		"as it should be": {fine(nil), look.Found, "Every line", limit.Slack},
		"silent": {fine(func(h *look.Heard) {
			h.LUFS, h.Signs = -200, []look.Sign{{What: look.IsSilent, Answer: look.Found, Says: "Silent: nothing over −80 dBFS."}}
		}), look.Clear, "Silent: nothing over −80 dBFS. Look whether the way of sound is muted", limit.Snapped},
		"silent so far":   {fine(func(h *look.Heard) { h.Seconds, h.LUFS = 2, -200 }), look.CannotTell, "Every line", 0},
		"next to nothing": {fine(func(h *look.Heard) { h.LUFS = -200 }), look.Clear, "Next to nothing is to be heard", limit.Snapped},
		"cancels itself": {fine(func(h *look.Heard) {
			h.Signs = append(h.Signs, look.Sign{What: look.IsInverted, Answer: look.Found, Says: "Against one another."})
		}), look.Clear, "Against one another.", limit.Snapped},
		"too quiet": {fine(func(h *look.Heard) { h.LUFS -= 14 }), look.Found, "one thing is not as it should be", limit.Kinked},
		"quiet, and clips": {fine(func(h *look.Heard) {
			h.LUFS -= 14
			h.Signs = append(h.Signs, look.Sign{What: look.IsClipped, Answer: look.Found})
		}), look.Found, "two things are not", limit.Kinked},
		"silent since": {fine(func(h *look.Heard) {
			for i := 280; i < 307; i++ {
				h.Loudness[i] = -70
			}
		}), look.Found, "Every line", limit.Untested},
	} {
		r, err := view.RehearsedAt(v, "stream-0", whole, going(nil), nil, c.heard)
		require.NoError(t, err, name)
		assert.Equal(t, c.is, r.Preflight.Rows[0].Passes.Answer, "%s: %s", name, r.Sentence)
		assert.Contains(t, r.Sentence, c.says, name)
		if c.worst == 0 {
			assert.Empty(t, r.Sounds, name)
		} else {
			require.NotEmpty(t, r.Sounds, name)
			assert.Equal(t, c.worst, r.Sounds[0].State, "%s: %+v", name, r.Sounds)
		}
		if name == "silent since" {
			assert.Equal(t, "Silent for 29 s now, and it was not before.", r.Sounds[0].Says)
		}
	}
	_, err := view.RehearsedAt(v, "recording-0", whole, going(nil), nil, nil)
	require.ErrorContains(t, err, "no stream of this rig")
}

// Every kind of destination people begin from says what it would refuse of a stream that is too much for it, and nothing of one
// that is not.
func TestElsewhere(t *testing.T) {
	a, _ := right(t, 60)
	much, _ := right(t, 60)
	much.Video.Width, much.Video.Height, much.Video.Codec, much.Came.VideoKbps = 16384, 8192, "vp9", 900_000
	for i := range rig.KnownDestinations {
		k := &rig.KnownDestinations[i]
		e := view.ElsewhereOf(k, much)
		if k.Ingest.MaxWidth > 0 || k.Ingest.MaxVideoKbps > 0 || len(k.Ingest.VideoCodecs) > 0 {
			assert.NotEmpty(t, e.Refuses, k.Name)
		}
		if k.Ingest.MaxHeight >= 720 && (len(k.Ingest.Transports) == 0 || k.Ingest.Transports[0] == "rtmp") && k.Ingest.MaxVideoKbps == 0 {
			assert.Empty(t, view.ElsewhereOf(k, a).Refuses, k.Name)
		}
	}
}
