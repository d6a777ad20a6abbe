package view_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// A clip's step of the run sheet is done where the clip is whole, as the sheet has it and as loud as is aimed at; where it is not,
// what follows says which of these it is, though the picture is as planned.
func TestInspectedPasses(t *testing.T) {
	v := judge.Rig(rigs.LoftEven())
	target := v.Sounds().Target
	loud := func(lufs float64) *look.Heard {
		h := &look.Heard{Seconds: 60, LUFS: lufs, TruePeak: target.Peak - 3, PeakDB: -8}
		for _, n := range []look.Name{look.IsSilent, look.IsClipped, look.IsHum, look.IsEcho} {
			h.Signs = append(h.Signs, look.Sign{What: n, Answer: look.Clear})
		}
		return h
	}
	whole := &inspect.Whole{Safe: look.Found, Ends: look.Found}
	for name, c := range map[string]struct {
		change  func(*inspect.Arrived)
		heard   *look.Heard
		is      look.Answer
		follows string
	}{
		"as it is set":    {func(*inspect.Arrived) {}, loud(target.LUFS), look.Found, ""},
		"another rate":    {func(a *inspect.Arrived) { a.Audio.Rate = 44100 }, loud(target.LUFS), look.Clear, "44.1 kHz instead of 48"},
		"breaks off":      {func(a *inspect.Arrived) { a.Whole = &inspect.Whole{Ends: look.Clear, Says: "Its end is missing."} }, loud(target.LUFS), look.Clear, "end is missing"},
		"too quiet":       {func(*inspect.Arrived) {}, loud(target.LUFS - 12), look.Clear, "is aimed at"},
		"does not say":    {func(a *inspect.Arrived) { a.Video.Profile = "" }, loud(target.LUFS), look.CannotTell, "still to be seen"},
		"sound that ends": {func(a *inspect.Arrived) { a.Came.Gaps = []inspect.Gap{{Of: "sound", From: 30, To: 60}} }, loud(target.LUFS), look.Clear, "The sound ends at 0:30 of 1:00."},
		"holes in it": {func(a *inspect.Arrived) {
			a.Came.Gaps = []inspect.Gap{{Of: "sound", From: 30, To: 30.2}, {Of: "sound", From: 41, To: 41.5}}
		}, loud(target.LUFS), look.Clear, "The sound is gone at 0:41 for 0.5 s: the longest of two gaps."},
		"begins anew":     {func(a *inspect.Arrived) { a.Came.Anew = []float64{12, 40} }, loud(target.LUFS), look.Clear, "begin anew two times, first at 0:12"},
		"HDR":             {func(a *inspect.Arrived) { a.Video.Transfer = "arib-std-b67" }, loud(target.LUFS), look.Clear, "HDR (HLG)"},
		"an ordinary one": {func(a *inspect.Arrived) { a.Video.Transfer = "bt709" }, loud(target.LUFS), look.Found, ""},
		"no sound at all": {func(a *inspect.Arrived) { a.Audio = nil }, nil, look.Clear, "o sound comes"},
	} {
		a, w := right(t, 60)
		a.Transport, a.Whole = "", whole
		c.change(a)
		s := seen(func(s *look.Seen) {
			s.Width, s.Height, s.Active = w.Width, w.Height, look.Box{W: w.Width, H: w.Height}
		})
		out, err := view.InspectedAt(v, "stream-0", a, s, c.heard, 1000)
		require.NoError(t, err, name)
		p := view.PreflightOf([]*view.Looked{out.Looked})
		assert.Equal(t, c.is, p.Rows[0].Passes.Answer, "%s: %+v", name, p.Rows[0])
		assert.Contains(t, p.Rows[0].Follows, c.follows, name)
	}
	// What no look knows of stands in the sentence, too: beside what a look says, or in its place where that is all well.
	for name, c := range map[string]struct {
		change func(*inspect.Arrived)
		black  bool
		says   []string
	}{
		"all well":      {func(*inspect.Arrived) {}, false, nil},
		"HDR":           {func(a *inspect.Arrived) { a.Video.Transfer = "smpte2084" }, false, []string{"It is HDR (PQ)"}},
		"gone":          {func(a *inspect.Arrived) { a.Came.Gaps = []inspect.Gap{{Of: "sound", From: 30, To: 60}} }, false, []string{"The sound ends at 0:30"}},
		"black":         {func(*inspect.Arrived) {}, true, []string{"lack"}},
		"black and HDR": {func(a *inspect.Arrived) { a.Video.Transfer = "smpte2084" }, true, []string{"lack"}},
		"black, gone":   {func(a *inspect.Arrived) { a.Came.Gaps = []inspect.Gap{{Of: "sound", From: 30, To: 60}} }, true, []string{"lack", "The sound ends at 0:30"}},
	} {
		a, w := right(t, 60)
		a.Transport, a.Whole = "", whole
		c.change(a)
		s := seen(func(s *look.Seen) {
			s.Width, s.Height, s.Active = w.Width, w.Height, look.Box{W: w.Width, H: w.Height}
			if c.black {
				is(look.IsBlack, look.Found)(s)
			}
		})
		out, err := view.InspectedAt(v, "stream-0", a, s, loud(target.LUFS), 1000)
		require.NoError(t, err, name)
		for _, says := range c.says {
			assert.Contains(t, out.Sentence, says, name)
		}
		assert.Equal(t, len(c.says) == 0, out.Findings[0].State == limit.Slack || out.Findings[0].State == limit.Untested, name)
	}
	_, err := view.InspectedAt(v, "camera-9", &inspect.Arrived{}, nil, nil, 0)
	require.Error(t, err)
}

// What gaps do: a hole is heard, what stays away ends a show; of one kind alone, nobody knows what should be beside it.
func TestGapsOf(t *testing.T) {
	for name, c := range map[string]struct {
		came  inspect.Came
		state limit.State
		spans int
	}{
		"none":            {inspect.Came{Seconds: 60, Frames: 1500, Sound: []float64{160}}, limit.Slack, 0},
		"a hole":          {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "sound", From: 30, To: 31.9}}}, limit.Kinked, 1},
		"a large one":     {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "sound", From: 30, To: 32}}}, limit.Snapped, 1},
		"late":            {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "picture", To: 5}}}, limit.Kinked, 1},
		"ends":            {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "picture", From: 50, To: 60}}}, limit.Snapped, 1},
		"both have":       {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "picture", To: 5}, {Of: "sound", From: 30, To: 30.2}}}, limit.Kinked, 2},
		"late, and a gap": {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "sound", To: 9}, {Of: "sound", From: 55, To: 60}}}, limit.Snapped, 2},
		"back at the end": {inspect.Came{Seconds: 60, Gaps: []inspect.Gap{{Of: "sound", From: 58, To: 59.7}}}, limit.Kinked, 1},
		"joined":          {inspect.Came{Seconds: 60, Anew: []float64{30}}, limit.Kinked, 0},
	} {
		f := view.GapsOf(&c.came)
		require.NotNil(t, f, name)
		assert.Equal(t, c.state, f.State, "%s: %s", name, f.Says)
		assert.Len(t, f.Spans, c.spans, name)
	}
	assert.Nil(t, view.GapsOf(&inspect.Came{Seconds: 60, Frames: 1500}), "no sound beside it")
}
