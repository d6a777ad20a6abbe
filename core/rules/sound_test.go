package rules_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
)

// heard is the plain rig with one voice: a dynamic microphone at 10 cm into an interface's preamplifier.
func heard(change func(r *rig.Rig, s *rig.Sound)) *rig.Rig {
	r := plain()
	thing := func(id string, kind gear.Kind, s gear.SoundSheet) {
		r.Items = append(r.Items, rig.Item{ID: id, Label: strings.ToUpper(id[:1]) + id[1:],
			Gear: gear.Gear{Kind: kind, Name: id, Sound: &s}})
	}
	thing("mic", gear.Microphone, gear.SoundSheet{Microphone: "dynamic", Needs: "none", Gives: "microphone",
		Balanced: "yes"})
	thing("box", gear.AudioInterface, gear.SoundSheet{Takes: "preamplifier", Socket: "xlr", Feeds: "phantom",
		Gives: "digital"})
	r.Sound = &rig.Sound{Loudspeakers: "no", Paths: []rig.SoundPath{{Voice: "Ida", From: "mic", Via: []string{"box"},
		On: "air", Loud: "raised", DistanceM: exactly(0.1)}}}
	if change != nil {
		change(r, r.Sound)
	}
	return r
}

// Sums by hand from the arithmetic. The plain rig's camera sends 29.97: a frame is 33.37 ms; camera 1 to 3, capture 1
// to 3, program 1 to 2 frames are 100 to 267 ms, 167 as planned. The microphone: 0.3 ms of air, 2.7 to 21.3 of the
// interface, 20 to 100 of the program: 23 to 122 ms, 56 as planned; delayed by 111 it stands 167 ± against it.
func TestSound(t *testing.T) {
	// more puts other microphones into the interface, which has so many inputs, or nobody knows how many.
	more := func(inputs float64, mics int) func(*rig.Rig, *rig.Sound) {
		return func(r *rig.Rig, s *rig.Sound) {
			if inputs > 0 {
				r.Item("box").Gear.Sound.Inputs = exactly(inputs)
			}
			for k := range mics {
				mic := *r.Item("mic")
				mic.ID += strings.Repeat("x", k+1)
				r.Items = append(r.Items, mic)
				s.Paths = append(s.Paths, rig.SoundPath{Voice: mic.ID, From: mic.ID, Via: []string{"box"}, On: "air"})
			}
		}
	}
	for _, c := range []struct {
		name  string
		limit string
		do    func(r *rig.Rig, s *rig.Sound)
		want  State
		says  string
	}{
		{"one way", "voice:Ida", nil, Slack, "by one way"},
		{"two ways", "voice:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Ida", From: "cam-0", On: "air"})
		}, Kinked, "Heard twice it is hollow"},
		{"none", "voice:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].On = "muted" }, Snapped, "silence"},
		{"the nearest is proposed", "voice:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].On = ""
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Ida", From: "cam-0"})
		}, Slack, "Ida by Mic"},
		{"near", "mic-distance:mic:Ida", nil, Slack, "0.1 m"},
		{"at 0.8 m", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = exactly(0.8) },
			Taut, "9 dB less"},
		{"far", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = exactly(3) }, Kinked,
			"20 dB less"},
		{"nobody measured", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = nil },
			Untested, "0.02 to 6 m"},
		{"microphone into preamplifier", "sound-level:mic:Ida>box", nil, Slack, "gives what"},
		{"a line into a camera's socket", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Gives, r.Item("box").Gear.Sound.Takes = "professional-line", "microphone"
		}, Kinked, "26 to 47 dB too much"},
		{"a microphone into a line", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound.Takes = "line"
		}, Kinked, "too quiet"},
		{"nobody said", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound.Takes = ""
		}, Untested, "what level Box takes"},
		{"straight into the computer's socket", "sound-level:mic:Ida>pc", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].Via = nil
		}, Untested, "what level Computer takes"},
		{"a microphone of which nothing is said but its level", "mic-power:mic:Ida>box",
			func(r *rig.Rig, _ *rig.Sound) {
				r.Item("mic").Gear.Sound = &gear.SoundSheet{Gives: "microphone"}
			}, Untested, "Nobody has looked"},
		{"nobody described", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound, r.Item("mic").Gear.Sound = nil, nil
		}, Untested, "what Mic gives and what Box takes"},
		{"both legs into 3.5 mm", "one-leg:mic:Ida>box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("box").Gear.Sound.Socket, s.Paths[0].OneLeg = "jack-3.5", "no"
		}, Snapped, "both legs cancel"},
		{"which lead?", "one-leg:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound.Socket = "jack-3.5"
		}, Untested, "3.5 mm"},
		{"48 V where it is needed", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Needs = "phantom"
		}, Slack, "is fed"},
		{"no 48 V", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Needs, r.Item("box").Gear.Sound.Feeds = "phantom", "plug-in"
		}, Snapped, "nothing comes out"},
		{"needs nobody knows what", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Needs = ""
		}, Untested, "Nobody has looked"},
		{"44.1", "sample-rate:box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.KHz = new(44.1) }, Taut,
			"44.1 kHz"},
		{"loudspeakers", "loudspeaker", func(_ *rig.Rig, s *rig.Sound) { s.Loudspeakers = "yes" }, Kinked,
			"a second time"},
		{"loudspeakers?", "loudspeaker", func(_ *rig.Rig, s *rig.Sound) { s.Loudspeakers = "" }, Untested,
			"Nobody has said"},
		{"he hears himself late", "monitor", func(_ *rig.Rig, s *rig.Sound) { s.Monitor = "program" }, Kinked,
			"stumble"},
		{"by way of a call", "sound-treated:mic:Ida", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound.Processes = gear.Yes
		}, Kinked, "beginnings of words"},
		{"gain 60 where 47 are planned", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			g := 60.0
			s.Paths[0].GainDB = &g
		}, Untested, "47 planned"},
		{"the meter says 3 dB", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].HeadroomDB = exactly(3)
		}, Kinked, "3 dB under clipping"},
		{"the meter says 12 dB", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].HeadroomDB = exactly(12)
		}, Slack, "12 dB"},
		{"planned delay", "lip-sync:mic:Ida", nil, Untested, "delayed by 111 ms"},
		{"clapped 110 ms early as planned", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].OffsetMs = exactly(-110)
		}, Slack, "delayed by 221 ms as the clap test has it"},
		{"nobody looked for level control", "level-control:mic:Ida", nil, Untested,
			"whether the automatic level control of Mic, Box is off"},
		{"level control on", "level-control:mic:Ida", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Sound.AutoLevel = gear.Yes
		}, Kinked, "comes up by as much as 30 dB"},
		{"nobody listened for the side", "one-sided:mic:Ida", nil, Untested, "whether Ida by Mic is in the middle"},
		{"on the left", "one-sided:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].Middle = "no" }, Kinked,
			"one side only"},
		{"nobody listened for hum", "hum:mic:Ida", nil, Untested, "Nobody has listened whether Ida by Mic hums."},
		{"it does not hum", "hum:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].Hum = "no" }, Slack,
			"does not hum"},
		{"unbalanced may", "hum:mic:Ida", func(r *rig.Rig, _ *rig.Sound) { r.Item("mic").Gear.Sound.Balanced = "no" },
			Untested, "The lead out of Mic may be unbalanced"},
		{"it hums", "hum:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].Hum = "yes" }, Kinked,
			"both ends into one outlet"},
		{"noise far below", "noise:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].NoiseDB = exactly(52) },
			Slack, "52 dB under Ida"},
		{"noise measured near", "noise:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].NoiseDB = exactly(31) },
			Kinked, "gain afterwards lifts both"},
		{"noise of what nobody described", "noise:mic:Ida", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Microphone = ""
		}, Untested, "0 to 130 dB"},
		{"noise by what microphone and input are", "noise:mic:Ida", nil, Untested, "34.24 to 72.24 dB under Ida"},
		// 63 to 69 + 20 dB SPL, −57 to −53 dBV/Pa, over −128 to −100 dBu
		{"one microphone into what may have one input", "inputs:box", nil, Slack,
			"One source of sound goes into Box, which has 1 to 8 inputs"},
		{"two, and nobody has counted the inputs", "inputs:box", more(0, 1), Untested,
			"Two sources of sound go into Box"},
		{"two into two", "inputs:box", more(2, 1), Slack, "which has 2 inputs"},
		{"three into two", "inputs:box", more(2, 2), Snapped, "Three sources of sound go into Box, which has 2 inputs"},
		{"a radio set takes an input too", "inputs:box", func(r *rig.Rig, s *rig.Sound) {
			more(1, 0)(r, s)
			radio := *r.Item("mic")
			radio.ID, radio.Gear.Kind = "radio", gear.WirelessSound
			lapel := *r.Item("mic")
			lapel.ID = "lapel"
			r.Items = append(r.Items, radio, lapel)
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Bo", From: "lapel", Via: []string{"radio", "box"},
				On: "air"})
		}, Snapped, "Two sources of sound go into Box, which has 1 input"},
		{"two lapels by one receiver are one source", "inputs:box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("box").Gear.Sound.Inputs = exactly(2)
			radio := *r.Item("mic")
			radio.ID, radio.Gear.Kind = "radio", gear.WirelessSound
			r.Items = append(r.Items, radio)
			for _, id := range []string{"lapel", "lapel-2"} {
				lapel := *r.Item("mic")
				lapel.ID = id
				r.Items = append(r.Items, lapel)
				s.Paths = append(s.Paths, rig.SoundPath{Voice: id, From: id, Via: []string{"radio", "box"}, On: "air"})
			}
		}, Slack, "Two sources of sound go into Box, which has 2 inputs"},
		{"a microphone into a camera, as it came", "inputs:cam-0", func(r *rig.Rig, s *rig.Sound) {
			s.Paths[0].Via = []string{"cam-0"}
		}, Slack, "One source of sound goes into Camera, which has 1 to 2 inputs"},
		{"a microphone into a switcher", "inputs:box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("box").Gear.Kind = gear.Switcher
		}, Slack, "which has 1 to 4 inputs"},
		{"an input nobody else is in", "one-input:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].Input = 2 },
			Slack, "has input 2 of Box to itself"},
		{"two in one input", "one-input:mic:Ida", func(r *rig.Rig, s *rig.Sound) {
			more(2, 1)(r, s)
			s.Paths[0].Input, s.Paths[1].Input = 2, 2
		}, Snapped, "Mic and Mic both go into input 2 of Box"},
		{"an input that is not there", "inputs:box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("box").Gear.Sound.Inputs = exactly(2)
			s.Paths[0].Input = 3
		}, Snapped, "Mic goes into input 3 of Box, which has 2 inputs"},
		{"the last of those that are there", "inputs:box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("box").Gear.Sound.Inputs = exactly(2)
			s.Paths[0].Input = 2
		}, Slack, "Mic goes into input 2 of Box, which has 2 inputs"},
		{"headroom as planned", "headroom:mic:Ida", nil, Slack, "9 to 12 dB under clipping"},
		// Another microphone 0.25 m away, the own at 0.1 m: 2.5 times.
		{"two open, too near", "three-to-one:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Bo", From: "cam-0", On: "air"})
			s.Paths[0].NextM = exactly(0.25)
		}, Kinked, "2.5 times as far"},
		{"two open, far enough", "three-to-one:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Bo", From: "cam-0", On: "air"})
			s.Paths[0].NextM = exactly(1)
		}, Slack, "Two microphones open at once leave 3 dB less"},
		{"a pad", "sound-level:mic:Ida>box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("mic").Gear.Sound.Gives, r.Item("box").Gear.Sound.Takes, s.Paths[0].Pad = "professional-line",
				"microphone", "yes"
		}, Slack, "a pad brings it down"},
		{"clapped, 20 ms late", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].OffsetMs, s.Paths[0].DelayMs = exactly(20), new(91.0)
		}, Slack, "measured with 91 ms set: set 71 ms"},
		{"clapped, 100 ms late", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].OffsetMs, s.Paths[0].DelayMs = exactly(100), new(111.0)
		}, Taut, "measured with 111 ms set: set 11 ms"},
		{"clapped, 140 ms early", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) {
			s.Paths[0].OffsetMs, s.Paths[0].DelayMs = exactly(-140), new(0.0)
		}, Kinked, "140 ms before"},
	} {
		t.Run(c.name, func(t *testing.T) {
			row(c.limit)
			r := heard(c.do)
			require.Empty(t, rig.Check(r))
			v := judge.Rig(r)
			found := false
			for i := range v.Results {
				l := &v.Results[i]
				if l.ID.String() == c.limit {
					found = true
					assert.Equal(t, c.want, l.State)
					assert.Contains(t, v.Word(l).Says, c.says)
				}
			}
			require.True(t, found, c.limit)
		})
	}
	plan := judge.Rig(heard(nil)).Sounds()
	require.InDelta(t, 166.8, plan.Slowest.Value, 0.1)
	require.InDelta(t, 55.6, plan.Paths[0].Delay.Value, 0.1)
	assert.Equal(t, 111.0, plan.Paths[0].Set.Ms)
	assert.InDelta(t, 3.3, plan.Paths[0].Set.Frames, 0.01)
	assert.Equal(t, 5328, plan.Paths[0].Set.Samples)
	assert.Equal(t, -15.0, plan.Target.LUFS)
	broadcast := judge.Rig(heard(func(_ *rig.Rig, s *rig.Sound) { s.TargetLUFS = -23 })).Sounds().Target
	assert.Equal(t, "EBU R 128", broadcast.Source)
	assert.InDelta(t, 46.8, plan.Paths[0].Levels.Gain.Value, 0.05)
	// Of a microphone nobody knows what comes out of, it may code by itself: as late as an interface's largest buffer,
	// or not at all.
	for _, gives := range []string{"", "unknown"} {
		open := judge.Rig(heard(func(r *rig.Rig, _ *rig.Sound) { r.Item("mic").Gear.Sound.Gives = gives })).Sounds().
			Paths[0].Delay
		assert.InDelta(t, plan.Paths[0].Delay.Low, open.Low, 1e-9, "%q", gives)
		assert.InDelta(t, plan.Paths[0].Delay.High+1024.0/48, open.High, 1e-9, "%q", gives)
	}
	// Inputs nobody has said are the first that are free; what comes by one receiver goes into one.
	plugged := judge.Rig(heard(func(r *rig.Rig, s *rig.Sound) {
		more(0, 2)(r, s)
		s.Paths[1].Input = 1
		radio := *r.Item("mic")
		radio.ID, radio.Gear.Kind = "radio", gear.WirelessSound
		r.Items = append(r.Items, radio)
		for _, voice := range []string{"Bo", "Cy"} {
			s.Paths = append(s.Paths, rig.SoundPath{Voice: voice, From: "mic", Via: []string{"radio", "box"}})
		}
		s.Paths = append(s.Paths, rig.SoundPath{Voice: "Di", From: "cam-0"})
	})).Sounds()
	var numbers []int
	for _, w := range plugged.Paths[:5] {
		numbers = append(numbers, w.Plug.Number)
		assert.Equal(t, "box", w.Plug.Item)
	}
	assert.Equal(t, []int{2, 1, 3, 4, 4}, numbers)
	assert.True(t, plugged.Paths[1].Plug.Said)
	assert.False(t, plugged.Paths[0].Plug.Said)
	assert.Nil(t, plugged.Paths[5].Plug)
	// A stick that was measured to be late counts as it was measured, in place of one to three frames.
	stick := judge.Rig(heard(func(r *rig.Rig, _ *rig.Sound) { r.Item("stick-0").Gear.PictureDelayMs = exactly(120) })).
		Sounds()
	at := slices.IndexFunc(stick.Pictures[0].Parts, func(d plans.DelayPart) bool { return d.Item == "stick-0" })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, 120.0, stick.Pictures[0].Parts[at].Ms.Value)
	assert.InDelta(t, 166.8-66.7+120, stick.Slowest.Value, 0.1)
	assert.Equal(t, 164.0, stick.Paths[0].Set.Ms, "220.07 − 55.6")
	// A wireless system and a call, later than the picture: the picture waits for it.
	late := judge.Rig(heard(func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.DelayMs = exactly(250) })).
		Sounds()
	assert.Equal(t, 133.0, late.Later.Ms, "0.3 + 250 + 50 − 166.8")
	assert.Zero(t, late.Paths[0].Set.Ms)
	assert.Equal(t, 133.0, late.Pictures[0].Set.Ms)
}

// Clocks: 50 parts per million over two hours are 360 ms.
func TestDrift(t *testing.T) {
	row("drift:0")
	for name, c := range map[string]struct {
		do   func(*rig.Recording)
		want State
		says string
	}{
		"nobody measured":  {nil, Untested, "0 to 720 ms apart"},
		"50 ppm":           {func(r *rig.Recording) { r.DriftPPM = exactly(50) }, Kinked, "360 ms apart"},
		"5 ppm":            {func(r *rig.Recording) { r.DriftPPM = exactly(5) }, Slack, "36 ms apart"},
		"15 ppm, measured": {func(r *rig.Recording) { r.DriftPPM = exactly(15) }, Taut, "108 ms apart"},
		"set right against the others": {func(r *rig.Recording) { r.Resynced = "yes" }, Slack,
			"set right against the others"},
	} {
		r := plain()
		r.Show.Minutes = 120
		r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true}}
		if c.do != nil {
			c.do(&r.Show.Recordings[0])
		}
		v := judge.Rig(r)
		l := v.Find(engine.ID{Rule: rules.Drift, Place: "0"})
		require.Equal(t, c.want, l.State, name)
		require.Contains(t, v.Word(l).Says, c.says, name)
	}
}

// What stands in two ways by one device has one delay, and what is said there counts; a late voice with a delay of
// nothing still holds the pictures back.
func TestDelaysTogether(t *testing.T) {
	two := func(change func(*rig.Sound)) *plans.SoundPlan {
		return judge.Rig(heard(func(r *rig.Rig, s *rig.Sound) {
			far := r.Items[len(r.Items)-2]
			far.ID, far.Label = "far", "Far"
			r.Items = append(r.Items, far)
			s.Paths = append(s.Paths, rig.SoundPath{Voice: "Bo", From: "far", Via: []string{"box"}, On: "air",
				DistanceM: exactly(6.96)}) // 20 ms of air more
			if change != nil {
				change(s)
			}
		})).Sounds()
	}
	p := two(nil)
	require.Equal(t, []float64{101, 101}, []float64{p.Paths[0].Set.Ms, p.Paths[1].Set.Ms}, "between 111 and 91")
	require.Equal(t, []string{"Bo by Far"}, p.Paths[0].SharedWith)
	require.InDelta(t, 20, p.Paths[1].Offset.Value-p.Paths[0].Offset.Value, 0.1, "and stays 20 ms apart")
	p = two(func(s *rig.Sound) { s.Paths[0].DelayMs = new(80.0) })
	require.Equal(t, []float64{80, 80}, []float64{p.Paths[0].Set.Ms, p.Paths[1].Set.Ms})
	late := judge.Rig(heard(func(r *rig.Rig, s *rig.Sound) {
		r.Item("box").Gear.Sound.DelayMs, s.Paths[0].DelayMs = exactly(250), new(0.0)
	})).Sounds()
	require.Equal(t, 133.0, late.Later.Ms)
}
