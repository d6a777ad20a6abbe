package view

import (
	"math"
	"strconv"

	"eventether/core/fact"
	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sound"
	"eventether/core/verdict"
)

// OffsetTakes offers what was measured of sound after picture, in milliseconds, for every way of sound on air: its delay is set as
// that asks, and what is then left is kept as measured.
func OffsetTakes(v *verdict.Verdict, low, value, high float64) []LookedTake {
	out := []LookedTake{}
	plan := v.Sounds()
	if plan == nil {
		return out
	}
	for i := range plan.Paths {
		w := &plan.Paths[i]
		if w.On == "muted" {
			continue
		}
		set := w.Set.Ms
		after := math.Round(max(0, set-(low+high)/2))
		moved := after - set
		f := fact.Fact{Low: say.Round2(low + moved), Value: say.Round2(value + moved), High: say.Round2(high + moved), From: fact.Measured}
		at := "sound/paths/" + strconv.Itoa(w.Index) + "/"
		out = append(out, LookedTake{
			lang.Text("%s: a delay of %s ms instead of %s", say.Sentence(v.PathName(i)), say.Number(after), say.Number(set)),
			[]rig.Edit{{Do: "word", Path: at + "delayMs", Word: say.Plain(after)}, {Do: "fact", Path: at + "offsetMs", Fact: &f}}})
	}
	return out
}

// SlateTakes offers what a filmed slate measured.
func SlateTakes(v *verdict.Verdict, s *inspect.Slate) []LookedTake {
	if s == nil || s.Answer != look.Found {
		return []LookedTake{}
	}
	return OffsetTakes(v, s.Low, s.Ms, s.High)
}

// DriftTakes offers how far two clocks were found to be apart, for every recording of another device than the program.
func DriftTakes(v *verdict.Verdict, a *inspect.Against) []LookedTake {
	out := []LookedTake{}
	if a == nil || a.Answer != look.Found || a.Drift == look.CannotTell {
		return out
	}
	low, high := math.Abs(a.PPM)-a.PPMs, math.Abs(a.PPM)+a.PPMs
	f := fact.Fact{Low: say.Round2(max(0, low)), Value: say.Round2(math.Abs(a.PPM)), High: say.Round2(high), From: fact.Measured}
	for i := range v.Show.Recordings {
		if rec := &v.Show.Recordings[i]; rec.What != "programme" || rec.InCamera {
			own := f
			out = append(out, LookedTake{lang.Text("The clock of %s is %s ppm off", v.RecordingName(i), say.Number(f.Value)),
				[]rig.Edit{{Do: "fact", Path: "show/recordings/" + strconv.Itoa(i) + "/driftPpm", Fact: &own}}})
		}
	}
	return out
}

// ClapsMet is what claps in a clip came to, whose frames somebody picked.
type ClapsMet struct {
	Each  []float64    `json:"each" doc:"Sound after picture of each, milliseconds"`
	Low   float64      `json:"low"`
	Value float64      `json:"value" doc:"The middle one"`
	High  float64      `json:"high"`
	Says  string       `json:"says"`
	Takes []LookedTake `json:"takes"`
}

// ClappedAt sets when claps were heard against when hands met, both in seconds. A frame is shown for as long as the next is not:
// hands met somewhere within it, which is half a frame either way of its middle.
func ClappedAt(v *verdict.Verdict, heard, met []float64) *ClapsMet {
	out := &ClapsMet{Each: []float64{}, Takes: []LookedTake{}, Says: lang.Text("Pick the frame in which the hands meet, of three claps at least.")}
	half := 500 / v.Show.Programme.Rate.Float()
	for i := range min(len(heard), len(met)) {
		out.Each = append(out.Each, say.Round2(1000*(heard[i]-met[i])-half))
	}
	s, ok := sound.Claps(out.Each)
	if !ok {
		return out
	}
	out.Low, out.Value, out.High = s.Low, s.Value, s.High
	if len(out.Each) < 3 {
		return out
	}
	out.Says = lang.Text("The sound comes %s ms after the picture, in the middle of %s; each is worth half a frame either way.", below(say.Round2(s.Value)),
		say.Count(len(out.Each), "clap", "claps"))
	out.Takes = OffsetTakes(v, s.Low, s.Value, s.High)
	return out
}
