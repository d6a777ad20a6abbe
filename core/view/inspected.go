package view

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// Inspected is what a clip really is, beside the plan.
type Inspected struct {
	Looked   *Looked         `json:"looked"`
	Findings []Found         `json:"findings" doc:"What was looked for, the worst first"`
	Held     *inspect.Held   `json:"held,omitempty" doc:"Line by line against the sheet; none of a clip that is no recording or stream of it"`
	Coded    []LookedFigure  `json:"coded" doc:"How it is coded, in words"`
	Whole    *inspect.Whole  `json:"whole,omitempty"`
	Kbps     Plot            `json:"kbps" doc:"Of the picture, each second"`
	Loudness Plot            `json:"loudness" doc:"Of the last three seconds, each second, LUFS"`
	Cuts     []float64       `json:"cuts" doc:"When the picture changes from one frame to the next"`
	Arrived  inspect.Arrived `json:"arrived"`
	Seconds  float64         `json:"seconds"`
	Sentence string          `json:"sentence"`
}

// Found is one thing that was looked for, with its state: slack where it is not there, untested where the clip does not tell.
type Found struct {
	What  look.Name      `json:"what"`
	State limit.State    `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Says  string         `json:"says"`
	Do    string         `json:"do,omitempty"`
	Spans []look.Stretch `json:"spans"`
}

// Plot is a row of figures by the second, with what is planned of them.
type Plot struct {
	From   float64   `json:"from" doc:"Seconds at the first of them"`
	Values []float64 `json:"values"`
	Unit   string    `json:"unit"`
	Low    *float64  `json:"low,omitempty" doc:"Of what is planned"`
	High   *float64  `json:"high,omitempty"`
	Says   string    `json:"says" doc:"In one line"`
}

// mostPlot are points of one plot; more are thinned out, the highest of each kept.
const mostPlot = 1200

// InspectedOf lists what a clip may be of: recordings and streams of the sheet first, then what a look may be of.
func InspectedOf(v *verdict.Verdict) []LookedFigure {
	out := []LookedFigure{}
	parts := []string{}
	for i := range v.Show.Recordings {
		parts = append(parts, "recording-"+strconv.Itoa(i))
	}
	for i := range v.Show.Destinations {
		parts = append(parts, "stream-"+strconv.Itoa(i))
	}
	for _, part := range parts {
		if w, ok := sheet.WantedOf(v, part); ok {
			out = append(out, LookedFigure{part, partLabel(&w)})
		}
	}
	return append(out, LookedOf(v)...)
}

// PlannedKbps is the bitrate planned for the picture of a part of the sheet, 0 where none is.
func PlannedKbps(v *verdict.Verdict, of string) float64 {
	w, _ := sheet.WantedOf(v, of)
	return w.Kbps
}

// InspectedAt sets what a clip came to beside the plan of what it is of. bytes is its size. An error names what is none.
func InspectedAt(v *verdict.Verdict, of string, a *inspect.Arrived, seen *look.Seen, heard *look.Heard, bytes int64) (*Inspected, error) {
	l, err := LookedAt(v, of, seen, heard)
	if err != nil {
		return nil, err
	}
	out := &Inspected{Looked: l, Findings: []Found{}, Coded: CodedAs(a, bytes), Whole: a.Whole, Cuts: []float64{}, Arrived: *a,
		Seconds: a.Came.Seconds}
	if held, ok := inspect.Hold(v, of, a); ok {
		out.Held = held
		switch held.State {
		case limit.Kinked.String(), limit.Snapped.String():
			l.Passes.fails(held.Sentence)
		case limit.Untested.String():
			l.Passes.open(held.Sentence)
		}
		out.takes(v, of, bytes)
	}
	if a.Whole != nil && a.Whole.Ends == look.Clear {
		l.Passes.fails(a.Whole.Says)
	}
	out.findings()
	out.add(GapsOf(&a.Came))
	out.add(curveOf(a.Video))
	out.add(loudnessFound(v, heard))
	low, high := loudnessOf(v)
	out.Kbps = thinned(Plot{Values: a.Came.Windows, Unit: "kb/s"})
	if kbps := PlannedKbps(v, of); kbps > 0 {
		out.Kbps.High = &kbps
	}
	if len(a.Came.Windows) > 0 {
		out.Kbps.Says = lang.Text("%s kb/s on average, %s to %s in whole seconds.", say.Number(math.Round(a.Came.VideoKbps)),
			say.Number(math.Round(a.Came.Least)), say.Number(math.Round(a.Came.Most)))
	}
	out.Loudness = thinned(Plot{From: 3, Values: []float64{}, Unit: "LUFS", Low: low, High: high})
	if heard != nil {
		out.Loudness = thinned(Plot{From: 3 + heard.From, Values: heard.Loudness, Unit: "LUFS", Low: low, High: high,
			Says: lang.Text("Integrated %s LUFS, range %s LU; loudest three seconds %s, loudest 400 ms %s LUFS; true peak %s dBTP.", below(heard.LUFS),
				say.Number(heard.Range), below(heard.ShortTerm), below(heard.Momentary), below(heard.TruePeak))})
		out.Seconds = max(out.Seconds, heard.From+heard.Seconds)
	}
	if seen != nil {
		out.Cuts = append(out.Cuts, seen.Cuts...)
	}
	out.sentence()
	return out, nil
}

// loudnessOf are the bounds of loudness a rig aims at; nil where it aims at none.
func loudnessOf(v *verdict.Verdict) (low, high *float64) {
	plan := v.Sounds()
	if plan == nil {
		return nil, nil
	}
	t := plan.Target
	return new(t.LUFS - t.Within), new(t.LUFS + t.Within)
}

// thinned keeps the highest of so many neighbours that the plot can be drawn.
func thinned(p Plot) Plot {
	if n := len(p.Values); n > mostPlot {
		by := (n + mostPlot - 1) / mostPlot
		var of []float64
		for part := range slices.Chunk(p.Values, by) {
			of = append(of, slices.Max(part))
		}
		p.Values = of
	}
	if p.Values == nil {
		p.Values = []float64{}
	}
	return p
}

// endsShow are findings with which a show is dark, silent or of no use; the others are flaws.
var endsShow = []look.Name{look.IsAsleep, look.IsBlack, look.IsFrozen, look.IsSilent, look.IsInverted}

// stateOf is how much a finding counts.
func stateOf(what look.Name) limit.State {
	if slices.Contains(endsShow, what) {
		return limit.Snapped
	}
	return limit.Kinked
}

// findings gives each thing that was looked for its state, the worst first.
func (out *Inspected) findings() {
	l := out.Looked
	for _, w := range l.Wrong {
		out.Findings = append(out.Findings, Found{w.What, stateOf(w.What), w.Says, w.Do, w.Spans})
	}
	for _, group := range []struct {
		of    []look.Sign
		state limit.State
	}{{l.Open, limit.Untested}, {l.Clear, limit.Slack}} {
		for _, f := range group.of {
			out.Findings = append(out.Findings, Found{f.What, group.state, f.Says, "", f.Spans})
		}
	}
	slices.SortStableFunc(out.Findings, func(a, b Found) int { return b.State.Severity() - a.State.Severity() })
}

// CodedAs says how a clip of so many bytes is coded, in words.
func CodedAs(a *inspect.Arrived, bytes int64) []LookedFigure {
	out := []LookedFigure{}
	put := func(what, says string) { out = append(out, LookedFigure{what, says}) }
	if a.Container != "" && bytes > 0 {
		put(lang.Text("File"), lang.Text("%s, %s MB, %s", a.Container, say.Number(say.Round2(float64(bytes)/1e6)), clock(a.Came.Seconds)))
	}
	if v := a.Video; v != nil {
		text := strings.TrimSpace(v.Codec + " " + v.Profile)
		if v.Level != "" {
			text += " " + lang.Text("level %s", v.Level)
		}
		row := lang.Text("%s, %s, %s %s bit", text, picture.SizeName(v.Width, v.Height), v.Chroma, strconv.Itoa(v.Bits))
		if v.Interlaced {
			row = lang.Text("%s, interlaced", row)
		}
		put(lang.Text("Picture"), row)
		if name := inspect.HDR(v.Transfer); name != "" {
			put(lang.Text("Light"), lang.Text("HDR (%s)", name))
		}
		if v.Shape != "" {
			put(lang.Text("Pixels"), lang.Text("%s, not square: it is shown as %s", v.Shape, picture.SizeName(v.Shown())))
		}
		if v.Turned != 0 {
			put(lang.Text("Turned"), lang.Text("by %s° when it is shown, by a mark in the file; the size is the one it is shown in", strconv.Itoa(v.Turned)))
		}
		even := lang.Text("constant rate")
		if a.Came.Uneven > 0.01 {
			even = lang.Text("variable rate: %s % of the steps are uneven", say.Number(math.Round(100*a.Came.Uneven)))
		}
		if a.Came.Pace != nil {
			put(lang.Text("Frames"), lang.Text("%s, %s", say.Count(a.Came.Frames, "frame", "frames"), even))
		}
		if k := a.Came.Keys; k.Count > 1 {
			put(lang.Text("Keyframes"), lang.Text("%s, %s s apart as a rule, %s to %s", strconv.Itoa(k.Count), say.Number(say.Round2(k.Usual)),
				say.Number(say.Round2(k.Least)), say.Number(say.Round2(k.Most))))
		}
		put(lang.Text("B-frames"), strconv.Itoa(a.Came.BFrames))
	}
	if s := a.Audio; s != nil {
		put(lang.Text("Sound"), lang.Text("%s, %s kHz, %s; %s kb/s", s.Codec, say.Number(float64(s.Rate)/1000), say.Count(s.Channels, "channel", "channels"),
			say.Number(math.Round(a.Came.AudioKbps))))
		if a.Tracks > 1 {
			put(lang.Text("Sound tracks"), strconv.Itoa(a.Tracks))
		}
	}
	if f := GapsOf(&a.Came); f != nil && f.State != limit.Slack {
		put(lang.Text("Gaps"), f.Says)
	}
	return out
}

// gate is what loudness is not measured under, LUFS [standard: ITU-R BS.1770-4].
const gate = -70

// loudnessFound holds a sound's loudness and true peak against what the rig aims at; nil where it aims at none, or nothing is to be heard at all.
func loudnessFound(v *verdict.Verdict, heard *look.Heard) *Found {
	plan := v.Sounds()
	if plan == nil || heard == nil {
		return nil
	}
	if silent := look.Find(heard.Signs, look.IsSilent); silent != nil && silent.Answer == look.Found {
		return nil // told as that
	}
	t, f := plan.Target, &Found{What: look.IsLoudness, State: limit.Slack, Spans: []look.Stretch{}}
	off := math.Abs(heard.LUFS - t.LUFS)
	if heard.LUFS <= gate {
		f.State, f.Says = limit.Snapped, lang.Text("Next to nothing is to be heard: not over −70 LUFS, and %s is aimed at.", below(t.LUFS))
		f.Do = lang.Text("Look whether the microphone or its way is muted, or its gain is down.")
		if heard.Seconds < 10 {
			f.State = limit.Untested
		}
		return f
	}
	f.Says = lang.Text("%s LUFS, %s ± %s is aimed at; true peak %s dBTP.", below(heard.LUFS), below(t.LUFS), say.Number(t.Within), below(heard.TruePeak))
	switch {
	case heard.TruePeak > t.Peak:
		f.State, f.Do = limit.Kinked, lang.Text("A limiter at %s dBTP on the programme, after its loudness is set.", below(t.Peak))
	case off > t.Within && heard.Seconds < 10:
		f.State, f.Do = limit.Untested, lang.Text("A minute of speech tells it.")
	case off > t.Within && heard.LUFS < t.LUFS:
		f.State, f.Do = limit.Kinked, lang.Text("%s dB more on the programme, with a limiter after it; or it was not the show's speech.", say.Number(math.Round(off)))
	case off > t.Within:
		f.State, f.Do = limit.Kinked, lang.Text("%s dB less on the programme.", say.Number(math.Round(off)))
	}
	return f
}

// add takes one more finding, nil for none; the test recording is to show what it is of.
func (out *Inspected) add(f *Found) {
	if f == nil {
		return
	}
	switch f.State {
	case limit.Kinked, limit.Snapped:
		out.Looked.Passes.fails(f.Says)
	case limit.Untested:
		out.Looked.Passes.open(f.Says)
	}
	out.Findings = append(out.Findings, *f)
	slices.SortStableFunc(out.Findings, func(a, b Found) int { return b.State.Severity() - a.State.Severity() })
}

// endsAShow is how long a picture or a sound may be gone in a recording and be a flaw only, in seconds [estimate].
const endsAShow = 2.0

// GapsOf tells where only picture or only sound is there, and where time stamps begin anew; nil of a clip that has but one of them
// and goes on evenly.
func GapsOf(c *inspect.Came) *Found {
	f := &Found{What: look.IsGaps, State: limit.Slack, Spans: []look.Stretch{}, Says: lang.Text("Picture and sound are there from the beginning to the end.")}
	says := []string{}
	put := func(state limit.State, text string) {
		says = append(says, text)
		if state.Severity() > f.State.Severity() {
			f.State = state
		}
	}
	for _, of := range []string{inspect.OfPicture, inspect.OfSound} {
		name := lang.Text("The picture")
		if of == inspect.OfSound {
			name = lang.Text("The sound")
		}
		holes, longest := 0, inspect.Gap{}
		for _, g := range c.Gaps {
			if g.Of != of {
				continue
			}
			f.Spans = append(f.Spans, look.Stretch{From: g.From, To: g.To})
			switch {
			case g.From == 0:
				put(limit.Kinked, lang.Text("%s begins at %s only.", name, clock(g.To)))
			case g.To >= c.Seconds-0.15: // the tenths it is told in, and a packet
				put(limit.Snapped, lang.Text("%s ends at %s of %s.", name, clock(g.From), clock(c.Seconds)))
			default:
				if holes++; g.To-g.From > longest.To-longest.From {
					longest = g
				}
			}
		}
		if holes == 0 {
			continue
		}
		state, lasts := limit.Kinked, longest.To-longest.From
		if lasts >= endsAShow {
			state = limit.Snapped
		}
		if text := lang.Text("%s is gone at %s for %s s", name, clock(longest.From), say.Number(say.Round2(lasts))); holes == 1 {
			put(state, text+".")
		} else {
			put(state, lang.Text("%s: the longest of %s.", text, say.Count(holes, "gap", "gaps")))
		}
	}
	if n := len(c.Anew); n > 0 {
		when := lang.Text("at %s", clock(c.Anew[0]))
		if n > 1 {
			when = lang.Text("%s, first at %s", say.Count(n, "time", "times"), clock(c.Anew[0]))
		}
		put(limit.Kinked, lang.Text("Its time stamps begin anew %s: recordings were joined, or the program began again. Many players stop there.", when))
	}
	switch {
	case len(says) > 0:
		f.Says, f.Do = strings.Join(says, " "), lang.Text("Look at the lead, the device and the program's log of that time, and record once more.")
	case c.Frames == 0 || len(c.Sound) == 0:
		return nil
	}
	return f
}

// curveOf tells of a picture whose light is kept by a curve that an ordinary capture, program or player takes for another; nil
// where nothing says.
func curveOf(v *inspect.Video) *Found {
	if v == nil || v.Transfer == "" {
		return nil
	}
	f := &Found{What: look.IsCurve, State: limit.Slack, Spans: []look.Stretch{}, Says: lang.Text("It is of an ordinary range of light.")}
	if name := inspect.HDR(v.Transfer); name != "" {
		f.State = limit.Kinked
		f.Says = lang.Text("It is HDR (%s): taken for an ordinary picture it looks washed out.", name)
		f.Do = lang.Text("Set the camera and the program to an ordinary picture (BT.709), or turn HDR into it on the way.")
	}
	return f
}

// clock is a length as people write it.
func clock(seconds float64) string {
	s := int(math.Round(seconds))
	if s < 3600 {
		return strconv.Itoa(s/60) + ":" + twoDigits(s%60)
	}
	return strconv.Itoa(s/3600) + ":" + twoDigits(s/60%60) + ":" + twoDigits(s%60)
}

func twoDigits(n int) string {
	if n < 10 {
		return "0" + strconv.Itoa(n)
	}
	return strconv.Itoa(n)
}

// takes offers what a test recording showed of its size: size × 8 ÷ time.
func (out *Inspected) takes(v *verdict.Verdict, of string, bytes int64) {
	n, ok := strings.CutPrefix(of, "recording-")
	i, err := strconv.Atoi(n)
	seconds := out.Arrived.Came.Seconds
	if !ok || err != nil || seconds < 10 || bytes == 0 || i >= len(v.Show.Recordings) {
		return
	}
	kbps := math.Round(float64(bytes) * 8 / 1000 / seconds)
	out.Looked.Takes = append(out.Looked.Takes, LookedTake{
		lang.Text("%s takes %s kb/s: size × 8 ÷ time, with its sound", say.Sentence(v.RecordingName(i)), say.Number(kbps)),
		[]rig.Edit{{Do: "fact", Path: "show/recordings/" + n + "/kbps", Fact: new(fact.Known(kbps, fact.Measured))}}})
}

// besides are findings no look knows of: they stand in no sentence of it.
var besides = []look.Name{look.IsGaps, look.IsCurve, look.IsLoudness}

// sentence says in one line how it stands: what ends a show first, then the sheet, then what spoils it.
func (out *Inspected) sentence() {
	l := out.Looked
	ends, spoils := []string{}, []string{} // what no look knows of
	for i := range out.Findings {
		switch f := &out.Findings[i]; {
		case !slices.Contains(besides, f.What):
		case f.State == limit.Snapped:
			ends = append(ends, f.Says)
		case f.State == limit.Kinked:
			spoils = append(spoils, f.Says)
		}
	}
	switch {
	case len(out.Findings) > 0 && out.Findings[0].State == limit.Snapped:
		if !slices.Contains(besides, out.Findings[0].What) {
			ends = append([]string{l.Sentence}, ends...)
		}
		out.Sentence = strings.Join(ends, " ")
	case out.Whole != nil && out.Whole.Ends == look.Clear:
		out.Sentence = out.Whole.Says
	case out.Held != nil && (out.Held.State == limit.Snapped.String() || out.Held.State == limit.Kinked.String()):
		out.Sentence = lang.Text("%s: %s", say.Sentence(l.Label), lowered(out.Held.Sentence))
	case len(spoils) > 0 && len(l.Wrong) == 0:
		out.Sentence = strings.Join(spoils, " ")
	default:
		out.Sentence = strings.Join(append([]string{l.Sentence}, spoils...), " ")
	}
}
