package view_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/judge"
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
	_, err := view.InspectedAt(v, "camera-9", &inspect.Arrived{}, nil, nil, 0)
	require.Error(t, err)
}
