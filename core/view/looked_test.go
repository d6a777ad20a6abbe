package view_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/look"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// seen is a picture as a clip may show it: nothing found, but what a test changes.
func seen(change func(*look.Seen)) *look.Seen {
	s := &look.Seen{Width: 1920, Height: 1080, Active: look.Box{W: 1920, H: 1080}, Seconds: 20,
		Pace: &look.Pace{Hz: 29.97, Name: "29.97", Frames: 600}, Cadence: &look.Cadence{Hz: 29.97, Name: "29.97"}}
	for _, n := range []look.Name{look.IsRate, look.IsRepeats, look.IsBlack, look.IsFrozen, look.IsBorder, look.IsRange,
		look.IsCombing, look.IsFlicker, look.IsExposure} {
		s.Signs = append(s.Signs, look.Sign{What: n, Answer: look.Clear, Says: string(n)})
	}
	look.Find(s.Signs, look.IsRate).Answer = look.Found
	change(s)
	return s
}

func heard(change func(*look.Heard)) *look.Heard {
	h := &look.Heard{Seconds: 20, Rate: 48000, TruePeak: -9, LUFS: -22, FloorDB: -60}
	for _, n := range []look.Name{look.IsSilent, look.IsClipped, look.IsOneSided, look.IsEqual, look.IsInverted, look.IsOffset,
		look.IsHum, look.IsPumping} {
		h.Signs = append(h.Signs, look.Sign{What: n, Answer: look.Clear, Says: string(n)})
	}
	change(h)
	return h
}

func is(n look.Name, a look.Answer) func(*look.Seen) {
	return func(s *look.Seen) { look.Find(s.Signs, n).Answer = a }
}

// What a clip shows stands beside the plan, and what follows from it is said.
func TestLookedAtPictures(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	for name, c := range map[string]struct {
		seen   *look.Seen
		rows   map[string]look.Answer
		wrong  []look.Name
		says   string
		figure int
	}{
		"as planned": {seen(func(*look.Seen) {}), map[string]look.Answer{"Size": look.Found, "Frames a second": look.Found}, nil,
			"is as planned, as far as this tells", 0},
		"smaller": {seen(func(s *look.Seen) { s.Width, s.Height, s.Active = 1280, 720, look.Box{W: 1280, H: 720} }),
			map[string]look.Answer{"Size": look.Clear}, nil, "not as planned: 1280×720 instead of 1920×1080", 0},
		"a border": {seen(func(s *look.Seen) {
			s.Active = look.Box{Y: 60, W: 1920, H: 960}
			is(look.IsBorder, look.Found)(s)
		}), map[string]look.Answer{"Size": look.Found, "Of it in use": look.Clear}, []look.Name{look.IsBorder}, "border", 0},
		"25 in 29.97": {seen(func(s *look.Seen) {
			s.Cadence = &look.Cadence{Hz: 25, Name: "25", Repeats: 100}
			is(look.IsRepeats, look.Found)(s)
		}), map[string]look.Answer{"New ones among them": look.Clear}, []look.Name{look.IsRepeats}, "repeats", 0},
		"too short": {seen(func(s *look.Seen) { s.Pace = &look.Pace{Hz: 29.98, Error: 0.02, Frames: 30} }),
			map[string]look.Answer{"Frames a second": look.CannotTell}, nil, "is as planned", 0},
		"black first": {seen(func(s *look.Seen) {
			is(look.IsFlicker, look.Found)(s)
			is(look.IsBlack, look.Found)(s)
		}), nil, []look.Name{look.IsBlack, look.IsFlicker}, "black One thing besides", 0},
	} {
		l, err := view.LookedAt(v, "programme", c.seen, nil)
		require.NoError(t, err, name)
		for what, want := range c.rows {
			found := false
			for _, r := range l.Rows {
				if r.What == what {
					found = true
					assert.Equal(t, want, r.Agrees, "%s: %s", name, what)
				}
			}
			assert.True(t, found, "%s: no row %s", name, what)
		}
		var wrong []look.Name
		for _, w := range l.Wrong {
			wrong = append(wrong, w.What)
			assert.NotEmpty(t, w.Do, "%s: nothing to do about %s", name, w.What)
		}
		assert.Equal(t, c.wrong, wrong, name)
		assert.Contains(t, l.Sentence, c.says, name)
		assert.Len(t, l.Clear, 9-len(wrong), name)
	}
}

// A question that a recording answers says of what it is to be, and looking at one of that offers what is asked for.
func TestQuestionsThatAClipAnswers(t *testing.T) {
	marked := map[string]bool{}
	for i := range rig.Fields {
		if rig.Fields[i].Clip {
			marked[rig.Fields[i].Path] = true
		}
	}
	r := rigs.Loft()
	for i := range r.Sound.Paths {
		path := &r.Sound.Paths[i]
		path.Middle, path.Hum, path.HeadroomDB, path.GainDB = "", "", nil, new(20.0) // a gain that says nothing of what comes out
	}
	for i := range r.Items {
		if r.Items[i].Gear.Kind == gear.Camera {
			r.Items[i].Gear.Clean, r.Items[i].Gear.Standby, r.Items[i].Gear.Settings = gear.UnknownClean, nil, nil
		}
	}
	v := judge.Rig(r)
	asked := map[string]bool{}
	for _, q := range advise.Questions(v) {
		if q.Clip == "" {
			continue
		}
		l, err := view.LookedAt(v, q.Clip, seen(func(s *look.Seen) {
			s.Seconds = 60 * 600
			s.Signs = append(s.Signs, look.Sign{What: look.IsOverlay, Answer: look.Clear},
				look.Sign{What: look.IsAsleep, Answer: look.Clear})
		}), heard(func(*look.Heard) {}))
		require.NoError(t, err, q.Ask)
		answers := false
		for _, take := range l.Takes {
			answers = answers || take.Edits[0].Path == q.Path
		}
		assert.True(t, answers, "%s is not answered by %s", q.Path, q.Clip)
		path := regexp.MustCompile("/[0-9]+/").ReplaceAllString(q.Path, "/N/")
		asked[regexp.MustCompile("^items/[^/]+/").ReplaceAllString(path, "items/ID/")] = true
	}
	assert.Equal(t, marked, asked)
}

// What was measured is offered as edits that the rig takes, and that say what was measured.
func TestWhatALookTells(t *testing.T) {
	r := rigs.Loft()
	v := judge.Rig(r)
	l, err := view.LookedAt(v, "sound:0", nil, heard(func(h *look.Heard) { look.Find(h.Signs, look.IsHum).Answer = look.Found }))
	require.NoError(t, err)
	require.Len(t, l.Takes, 3)
	for _, take := range l.Takes {
		r, err = rig.Apply(r, take.Edits...)
		require.NoError(t, err, take.Says)
	}
	path := r.Sound.Paths[0]
	assert.Equal(t, "yes", string(path.Hum))
	assert.Equal(t, "yes", string(path.Middle))
	assert.InDelta(t, 9, path.HeadroomDB.Value, 1e-9)
	require.Empty(t, rig.Check(r))
	// Silence tells nothing of headroom, and three seconds are too short for it.
	for name, h := range map[string]*look.Heard{
		"silent": heard(func(h *look.Heard) {
			look.Find(h.Signs, look.IsSilent).Answer = look.Found
			look.Find(h.Signs, look.IsOneSided).Answer, look.Find(h.Signs, look.IsHum).Answer = look.CannotTell, look.CannotTell
		}),
	} {
		l, err := view.LookedAt(v, "sound:0", nil, h)
		require.NoError(t, err, name)
		assert.Empty(t, l.Takes, name)
	}
	short, err := view.LookedAt(v, "sound:0", nil, heard(func(h *look.Heard) { h.Seconds = 3 }))
	require.NoError(t, err)
	assert.Len(t, short.Takes, 2)

	var feed string
	for _, f := range view.LookedOf(v) {
		if f.Says == "Stage camera" {
			feed = f.What
		}
	}
	require.NotEmpty(t, feed)
	stage := v.Item(v.Feeds[0].Source.ID)
	require.NotNil(t, stage)
	l, err = view.LookedAt(v, feed, seen(is(look.IsFlicker, look.Found)), nil)
	require.NoError(t, err)
	require.Len(t, l.Takes, 1, "the shutter that fits 50 Hz")
	assert.Contains(t, l.Takes[0].Says, "1/")
	_, err = rig.Apply(v.Given, l.Takes[0].Edits...)
	require.NoError(t, err)
	l, err = view.LookedAt(v, feed, seen(func(s *look.Seen) {
		s.Cadence = &look.Cadence{Hz: 29.97, Name: picture.NewRate(30000, 1001).Name(), Repeats: 30}
	}), nil)
	require.NoError(t, err)
	for _, take := range l.Takes {
		after, err := rig.Apply(v.Given, take.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
	}
	for _, of := range []string{"nobody", "sound:99", "sound:x", "sound:-1", ""} {
		_, err := view.LookedAt(v, of, nil, nil)
		require.Error(t, err, of)
	}
}

// Every demo rig names what a clip may be of, each once.
func TestLookedOf(t *testing.T) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall(), rigs.Desk()} {
		v := judge.Rig(r)
		ids := map[string]bool{}
		for _, c := range view.LookedOf(v) {
			assert.False(t, ids[c.What], c.What)
			ids[c.What] = true
			_, err := view.LookedAt(v, c.What, nil, nil)
			assert.NoError(t, err, c.What)
			assert.NotEmpty(t, c.Says)
		}
		assert.True(t, ids["programme"])
		assert.Greater(t, len(ids), 1)
	}
}

// What a look shows of the step of the run sheet: done, failed, or what is left for an eye.
func TestPasses(t *testing.T) {
	v := judge.Rig(rigs.Loft())
	camera, phone := feedOf(v, "Bench camera"), feedOf(v, "Slides laptop")
	require.NotEmpty(t, camera)
	require.NotEmpty(t, phone)
	good := seen(func(s *look.Seen) {
		s.Signs = append(s.Signs, look.Sign{What: look.IsOverlay, Answer: look.CannotTell, Says: "Too little moves"})
	})
	clean := seen(func(s *look.Seen) {
		s.Signs = append(s.Signs, look.Sign{What: look.IsOverlay, Answer: look.Clear, Says: "Nothing stays put"})
	})
	slides := seen(func(s *look.Seen) {
		s.Pace.Name, s.Signs = "60", append(s.Signs, look.Sign{What: look.IsOverlay, Answer: look.CannotTell, Says: "Too little moves"})
	})
	level := func(peak float64) *look.Heard { return heard(func(h *look.Heard) { h.PeakDB = peak }) }
	for name, c := range map[string]struct {
		of    string
		seen  *look.Seen
		heard *look.Heard
		want  look.Answer
		left  string
	}{
		"clean and moved":      {camera, clean, nil, look.Found, ""},
		"nobody moved it":      {camera, good, nil, look.CannotTell, "menus or signs"},
		"slides draw no menus": {phone, slides, nil, look.Found, ""},
		"a still scene":        {"programme", seen(is(look.IsRepeats, look.CannotTell)), nil, look.CannotTell, "repeats"},
		"a border":             {camera, seen(is(look.IsBorder, look.Found)), nil, look.Clear, ""},
		"another size":         {camera, seen(func(s *look.Seen) { s.Width = 1280 }), nil, look.Clear, ""},
		"nothing":              {camera, nil, nil, look.CannotTell, "nothing was seen"},
		"speech as it should":  {"sound:0", nil, level(-9), look.Found, ""},
		"too low":              {"sound:0", nil, level(-22), look.CannotTell, "−22 dBFS"},
		"too hot":              {"sound:0", nil, level(-2), look.Clear, ""},
		"speech on one side":   {"sound:0", nil, heard(func(h *look.Heard) { h.PeakDB = -9; look.Find(h.Signs, look.IsOneSided).Answer = look.Found }), look.Clear, ""},
		"too short for an echo": {"sound:0", nil, heard(func(h *look.Heard) {
			h.PeakDB = -9
			h.Signs = append(h.Signs, look.Sign{What: look.IsEcho, Answer: look.CannotTell, Says: "Too short to hear"})
		}), look.CannotTell, "too short to hear"},
		"frames missing":         {"programme", seen(func(s *look.Seen) { s.Pace.Lost = 30 }), nil, look.CannotTell, "30 frames are missing"},
		"a way nobody heard":     {"sound:0", nil, nil, look.CannotTell, "nothing was heard"},
		"the programme as it is": {"programme", good, nil, look.Found, ""},
	} {
		l, err := view.LookedAt(v, c.of, c.seen, c.heard)
		require.NoError(t, err, name)
		assert.Equal(t, c.want, l.Passes.Answer, "%s: %v", name, l.Passes.Left)
		assert.Contains(t, strings.Join(l.Passes.Left, "; "), c.left, name)
		p := view.PreflightOf([]*view.Looked{l})
		assert.Equal(t, c.want == look.Found, p.Rows[0].Follows == "", name)
	}
	assert.Equal(t, "Nothing was looked at.", view.PreflightOf(nil).Sentence)
}
