package rules_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
)

// heard is the plain rig with one voice: a dynamic microphone at 10 cm into an interface's preamplifier.
func heard(change func(r *rig.Rig, s *rig.Sound)) *rig.Rig {
	r := plain()
	thing := func(id string, kind gear.Kind, s gear.SoundSheet) {
		r.Items = append(r.Items, rig.Item{ID: id, Label: strings.ToUpper(id[:1]) + id[1:], Gear: gear.Gear{Kind: kind, Name: id, Sound: &s}})
	}
	thing("mic", gear.Microphone, gear.SoundSheet{Microphone: "dynamic", Needs: "none", Gives: "microphone", Balanced: "yes"})
	thing("box", gear.AudioInterface, gear.SoundSheet{Takes: "preamplifier", Socket: "xlr", Feeds: "phantom", Gives: "digital"})
	r.Sound = &rig.Sound{Loudspeakers: "no", Paths: []rig.SoundPath{{Voice: "Ida", From: "mic", Via: []string{"box"}, On: "air", Loud: "raised", DistanceM: exactly(0.1)}}}
	if change != nil {
		change(r, r.Sound)
	}
	return r
}

// Sums by hand from handbook 6. The plain rig's camera sends 29.97: a frame is 33.37 ms; camera 1 to 3, capture 1 to 3, program 1
// to 2 frames are 100 to 267 ms, 167 as planned. The microphone: 0.3 ms of air, 2.7 to 21.3 of the interface, 20 to 100 of the
// program: 23 to 122 ms, 56 as planned; delayed by 111 it stands 167 ± against it.
func TestSound(t *testing.T) {
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
		{"at 0.8 m", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = exactly(0.8) }, Taut, "9 dB less"},
		{"far", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = exactly(3) }, Kinked, "20 dB less"},
		{"nobody measured", "mic-distance:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].DistanceM = nil }, Untested, "0.02 to 6 m"},
		{"microphone into preamplifier", "sound-level:mic:Ida>box", nil, Slack, "gives what"},
		{"a line into a camera's socket", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Gives, r.Item("box").Gear.Sound.Takes = "professional-line", "microphone"
		}, Kinked, "26 to 47 dB too much"},
		{"a microphone into a line", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.Takes = "line" }, Kinked, "too quiet"},
		{"nobody said", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.Takes = "" }, Untested, "what level Box takes"},
		{"straight into the computer's socket", "sound-level:mic:Ida>pc", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].Via = nil }, Untested, "what level Computer takes"},
		{"a microphone of which nothing is said but its level", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound = &gear.SoundSheet{Gives: "microphone"}
		}, Untested, "Nobody has looked"},
		{"nobody described", "sound-level:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound, r.Item("mic").Gear.Sound = nil, nil }, Untested, "what Mic gives and what Box takes"},
		{"both legs into 3.5 mm", "one-leg:mic:Ida>box", func(r *rig.Rig, s *rig.Sound) {
			r.Item("box").Gear.Sound.Socket, s.Paths[0].OneLeg = "jack-3.5", "no"
		}, Snapped, "both legs cancel"},
		{"which lead?", "one-leg:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.Socket = "jack-3.5" }, Untested, "3.5 mm"},
		{"48 V where it is needed", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("mic").Gear.Sound.Needs = "phantom" }, Slack, "is fed"},
		{"no 48 V", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) {
			r.Item("mic").Gear.Sound.Needs, r.Item("box").Gear.Sound.Feeds = "phantom", "plug-in"
		}, Snapped, "nothing comes out"},
		{"needs nobody knows what", "mic-power:mic:Ida>box", func(r *rig.Rig, _ *rig.Sound) { r.Item("mic").Gear.Sound.Needs = "" }, Untested, "Nobody has looked"},
		{"44.1", "sample-rate:box", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.KHz = 44.1 }, Taut, "44.1 kHz"},
		{"loudspeakers", "loudspeaker", func(_ *rig.Rig, s *rig.Sound) { s.Loudspeakers = "yes" }, Kinked, "a second time"},
		{"loudspeakers?", "loudspeaker", func(_ *rig.Rig, s *rig.Sound) { s.Loudspeakers = "" }, Untested, "Nobody has said"},
		{"he hears himself late", "monitor", func(_ *rig.Rig, s *rig.Sound) { s.Monitor = "program" }, Kinked, "stumble"},
		{"by way of a call", "sound-treated:mic:Ida", func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.Processes = true }, Kinked, "beginnings of words"},
		{"gain 60 where 47 are planned", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { g := 60.0; s.Paths[0].GainDB = &g }, Untested, "47 planned"},
		{"the meter says 3 dB", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].HeadroomDB = exactly(3) }, Kinked, "3 dB under clipping"},
		{"the meter says 12 dB", "headroom:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].HeadroomDB = exactly(12) }, Slack, "12 dB"},
		{"planned delay", "lip-sync:mic:Ida", nil, Untested, "delayed by 111 ms"},
		{"clapped, 20 ms late", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].OffsetMs = exactly(20) }, Slack, "measured"},
		{"clapped, 100 ms late", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].OffsetMs = exactly(100) }, Taut, "measured"},
		{"clapped, 140 ms early", "lip-sync:mic:Ida", func(_ *rig.Rig, s *rig.Sound) { s.Paths[0].OffsetMs = exactly(-140) }, Kinked, "140 ms before"},
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
	// A wireless system and a call, later than the picture: the picture waits for it.
	late := judge.Rig(heard(func(r *rig.Rig, _ *rig.Sound) { r.Item("box").Gear.Sound.DelayMs = exactly(250) })).Sounds()
	assert.Equal(t, 133.0, late.Later.Ms, "0.3 + 250 + 50 − 166.8")
	assert.Zero(t, late.Paths[0].Set.Ms)
	assert.Equal(t, 133.0, late.Pictures[0].Set.Ms)
}
