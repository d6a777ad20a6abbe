package view_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/rig"
	"eventether/core/verdict"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

func feedOf(v *verdict.Verdict, label string) string {
	for _, f := range view.LookedOf(v) {
		if f.Says == label {
			return f.What
		}
	}
	return ""
}

// Which of a rig an input is: by a name nothing else has; never guessed among twins; the only one by being that.
func TestInputsOf(t *testing.T) {
	r := rigs.Loft()
	v := judge.Rig(r)
	face := feedOf(v, "Roving phone")
	require.NotEmpty(t, face)
	input := func(id, label, kind string) view.Input { return view.Input{ID: id, Label: label, Kind: kind} }
	is := view.InputsOf(v, []view.Input{input("1", "Roving phone (1d6b:0102)", "videoinput"),
		input("2", "USB Video", "videoinput"), input("3", "USB Video", "videoinput"), input("4", "Other", "videoinput"),
		input("5", r.Item("air-sound").Label, "audioinput"), input("6", "Built-in", "audioinput")})
	assert.Equal(t, face, is[0].Of)
	assert.True(t, is[0].Sure)
	assert.Positive(t, is[0].Width)
	for _, k := range []int{1, 2} {
		assert.Empty(t, is[k].Of)
		assert.True(t, is[k].Twin)
		assert.Contains(t, is[k].Why, "cover one lens")
		assert.Equal(t, v.Show.Programme.Width, is[k].Width, "opened as the programme wants it until it is known")
	}
	assert.Empty(t, is[3].Of)
	assert.Equal(t, advise.ClipOfSound+"0", is[4].Of)
	assert.False(t, is[5].Twin)
	assert.Empty(t, view.InputsOf(v, nil))

	// Two names that hold the same one.
	is = view.InputsOf(v, []view.Input{input("1", "Roving phone", "videoinput"), input("2", "Roving phone front", "videoinput")})
	for _, k := range is {
		assert.Empty(t, k.Of)
		assert.False(t, k.Sure)
	}

	// One microphone, and one way of sound: it is that, as far as anybody can say.
	one := *r
	sound := *r.Sound
	sound.Paths = sound.Paths[:1]
	one.Sound = &sound
	is = view.InputsOf(judge.Rig(&one), []view.Input{input("1", "", "audioinput")})
	assert.Equal(t, advise.ClipOfSound+"0", is[0].Of)
	assert.False(t, is[0].Sure)
}

// What an open device tells stands beside the plan, with what its page and the browser did.
func TestLookedAtDevice(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	of := feedOf(v, "Stage camera")
	asleep := func(a look.Answer, minutes, seconds float64) *look.Seen {
		return seen(func(s *look.Seen) {
			s.Seconds, s.Stays = seconds, []look.Box{{X: 8, Y: 900, W: 40, H: 24}}
			s.Signs = append(s.Signs, look.Sign{What: look.IsAsleep, Answer: a, Value: minutes, Says: "sleep"},
				look.Sign{What: look.IsOverlay, Answer: look.Found, Says: "one thing stays put"})
		})
	}
	l, err := view.LookedAtDevice(v, of, &view.Device{Seen: asleep(look.CannotTell, 0, 20),
		DeviceFacts: view.DeviceFacts{Asked: "1920 × 1080, 25", Given: "1280 × 720, 25", FirstMs: 1340,
			Processing: []string{"autoGainControl"}, Skipped: 2, Unplugged: true, Hidden: true, Scaled: true}})
	require.NoError(t, err)
	assert.Equal(t, "Opened", l.Rows[0].What)
	assert.Len(t, l.Notes, 5)
	assert.Contains(t, l.Notes[4], "level control")
	assert.Equal(t, "1.3 s", l.Figures[len(l.Figures)-1].Says)
	assert.Equal(t, look.IsOverlay, l.Wrong[0].What)
	assert.Contains(t, l.Wrong[0].Do, "clean output")
	require.NotNil(t, l.Frame)
	assert.Equal(t, 900, l.Frame.Stays[0].Y)
	assert.Equal(t, 1080, l.Frame.Active.H)

	l, err = view.LookedAtDevice(v, of, &view.Device{})
	require.NoError(t, err)
	assert.Contains(t, l.Sentence, "gave nothing")
	_, err = view.LookedAtDevice(v, "nothing", &view.Device{})
	require.ErrorContains(t, err, `"nothing"`)

	// It fell asleep: what is taken makes the judge say so, or sets it off.
	l, err = view.LookedAtDevice(v, of, &view.Device{Seen: asleep(look.Found, 4.5, 300)})
	require.NoError(t, err)
	var take *view.LookedTake
	for i := range l.Takes {
		if l.Takes[i].Edits[0].Path != "" && l.Takes[i].Edits[0].Do == "word" {
			take = &l.Takes[i]
		}
	}
	require.NotNil(t, take, "%+v", l.Takes)
	after, err := rig.Apply(v.Rig, take.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
}

// Devices alone and beside each other: what stumbles is named, and what the browser dropped is not the device's.
func TestTogetherOf(t *testing.T) {
	paced := func(hz float64, frames, lost, skipped int) *view.Device {
		return &view.Device{DeviceFacts: view.DeviceFacts{Label: "Cam", Skipped: skipped}, Seen: &look.Seen{Pace: &look.Pace{Hz: hz, Frames: frames, Lost: lost}}}
	}
	none := &view.Device{DeviceFacts: view.DeviceFacts{Label: "Cam"}}
	for name, c := range map[string]struct {
		alone, beside *view.Device
		is            look.Answer
		says          string
	}{
		"keeps up":          {paced(60, 600, 0, 0), paced(60, 600, 1, 0), look.Clear, "each keeps its frames"},
		"loses":             {paced(60, 600, 0, 0), paced(60, 400, 200, 0), look.Found, "Cam does not keep up"},
		"slower":            {paced(60, 600, 0, 0), paced(30, 300, 0, 0), look.Found, "does not keep up"},
		"gone":              {paced(60, 600, 0, 0), none, look.Found, "does not keep up"},
		"nothing to hold":   {none, paced(60, 600, 0, 0), look.CannotTell, "Too little"},
		"the browser drops": {paced(60, 600, 0, 0), paced(60, 500, 100, 100), look.CannotTell, "the browser itself drops"},
	} {
		got := view.TogetherOf(nil, nil, []*view.Device{c.alone}, []*view.Device{c.beside})
		assert.Equal(t, c.is, got.Rows[0].Stumbles, name)
		assert.Contains(t, got.Sentence, c.says, name)
	}
}

// The plan's own word on what devices share stands beside what was measured of them: where both go the same way it says so,
// and where they do not, what to look at.
func TestWhatThePlanSaysOfAllAtOnce(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	var of []string
	for i := range v.Feeds {
		if v.Feeds[i].Bytes != nil && !v.Feeds[i].Branch {
			of = append(of, v.Feeds[i].ID)
		}
	}
	var alone, keeps, loses []*view.Device
	for range of {
		paced := func(lost int) *view.Device {
			return &view.Device{DeviceFacts: view.DeviceFacts{Label: "Cam"}, Seen: &look.Seen{Pace: &look.Pace{Hz: 30, Frames: 300, Lost: lost}}}
		}
		alone, keeps, loses = append(alone, paced(0)), append(keeps, paced(0)), append(loses, paced(60))
	}
	got := view.TogetherOf(v, of, alone, loses)
	require.NotEmpty(t, got.Shares)
	assert.Equal(t, limit.Snapped, got.Shares[0].State, "%+v", got.Shares)
	assert.GreaterOrEqual(t, len(got.Shares[0].Of), 2)
	assert.Contains(t, got.Shares[0].Figure, "MB/s")
	assert.Contains(t, got.Agrees, "As the plan has it:")
	assert.Contains(t, view.TogetherOf(v, of, alone, keeps).Agrees, "they send less than planned")
	assert.Contains(t, view.TogetherOf(v, of[:1], alone[:1], loses[:1]).Agrees, "they share no hub")
	assert.Empty(t, view.TogetherOf(v, of[:1], alone[:1], keeps[:1]).Agrees)

	// What stumbles only beside the others is not done either.
	l, err := view.LookedAtDevice(v, of[0], &view.Device{DeviceFacts: view.DeviceFacts{Stands: "upright"}, Seen: seen(func(*look.Seen) {})})
	require.NoError(t, err)
	before := l.Passes.Answer
	l.Stumbled(view.TogetherOf(v, of[:1], alone[:1], keeps[:1]).Rows[0])
	assert.Equal(t, before, l.Passes.Answer)
	l.Stumbled(got.Rows[0])
	assert.Equal(t, look.Clear, l.Passes.Answer)
	assert.Contains(t, l.Passes.Left[len(l.Passes.Left)-1], "beside the others it gives")
}

// A device that loses frames failed its step; where the browser dropped them, somebody has to look.
func TestMissingFramesFailAStep(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	for skipped, want := range map[int]look.Answer{0: look.Clear, 40: look.CannotTell} {
		d := &view.Device{DeviceFacts: view.DeviceFacts{Skipped: skipped, Stands: "upright"},
			Seen: seen(func(s *look.Seen) { s.Pace.Lost = 30 })}
		l, err := view.LookedAtDevice(v, "programme", d)
		require.NoError(t, err)
		assert.Equal(t, want, l.Passes.Answer, "%d dropped by the browser", skipped)
	}
}
