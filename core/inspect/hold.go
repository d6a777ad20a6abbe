package inspect

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/h264"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// Held is what arrived beside its part of the sheet.
type Held struct {
	Part     string    `json:"part"`
	Name     string    `json:"name"`
	Lines    []Line    `json:"lines" doc:"In the sheet's order"`
	Refuses  []Refusal `json:"refuses" doc:"What the destination of this stream would not take"`
	Unknown  []string  `json:"unknown" doc:"What nobody has looked up of what that destination takes: whether it refuses that cannot be told"`
	Sentence string    `json:"sentence"`
	State    string    `json:"state" enum:"slack,taut,kinked,untested,snapped" doc:"The worst of its lines, those nobody can see from here apart"`
}

// Line is one line of the sheet beside what arrived. Slack: as it is set. Taut: it does no harm. Kinked: it is not, and goes
// on with a flaw. Snapped: the destination does not take it, or nothing comes. Untested: it cannot be seen from what arrived.
type Line struct {
	ID       string      `json:"id" doc:"Of the sheet's line"`
	Name     string      `json:"name"`
	Planned  string      `json:"planned"`
	Measured string      `json:"measured"`
	State    limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped"`
	Says     string      `json:"says,omitempty"`
	Hidden   bool        `json:"hidden,omitempty" doc:"No stream shows it, however long it is watched"`
}

// Refusal is one thing a destination does not take.
type Refusal struct {
	Line    string `json:"line" doc:"Id of the sheet's line it is about"`
	What    string `json:"what"`
	Allowed string `json:"allowed"`
	Arrived string `json:"arrived"`
	Says    string `json:"says"`
}

// Of bitrates and keyframes [estimate].
const (
	nearKbps    = 0.10 // of the rate planned: it is that rate
	peakKbps    = 1.5  // times the rate in one second: no constant rate
	sureAfter   = 10.0 // seconds from which on a rate is judged
	nearBuffer  = 1.15 // times the buffer
	moreSound   = 1.15 // times the rate of the sound
	lessSound   = 0.8  // of it: some coders spend less on silence
	leastFrames = 12   // from which on B-frames are judged
	overMost    = 1.05 // times what a destination takes at most, and less by as much than it takes at least: measured, not set
)

// Hold sets what arrived beside a part of the sheet of a rig: stream-0, recording-1. ok is false where the rig has no such
// part, or its program codes as it likes.
func Hold(v *verdict.Verdict, part string, a *Arrived) (*Held, bool) {
	w, ok := sheet.WantedOf(v, part)
	if !ok {
		return nil, false
	}
	out := &Held{Part: part, Name: w.Name, Lines: []Line{}, Refuses: Refuses(w.Ingest, w.Name, a), Unknown: []string{}}
	if w.Stream {
		out.Unknown = Unknown(w.Ingest)
	}
	h := holder{w: &w, a: a, refuses: out.Refuses, states: map[string]*Line{}}
	h.picture()
	h.coding()
	h.sound()
	h.whole()
	for _, p := range sheet.Of(v).Parts {
		if p.ID != part {
			continue
		}
		for i := range p.Lines {
			out.Lines = append(out.Lines, h.line(&p.Lines[i]))
		}
	}
	out.settle()
	return out, true
}

// settle finds the worst line, and says how it stands.
func (o *Held) settle() {
	worst := limit.Slack
	var first *Line
	open := 0
	for i := range o.Lines {
		l := &o.Lines[i]
		if l.State == limit.Untested {
			if !l.Hidden {
				open++
			}
			continue
		}
		if l.State.Severity() > worst.Severity() {
			worst, first = l.State, l
		}
	}
	off := 0
	for i := range o.Lines {
		if s := o.Lines[i].State; s == limit.Kinked || s == limit.Snapped {
			off++
		}
	}
	switch {
	case off == 0 && len(o.Refuses) > 0: // of something the sheet has no line for
		worst, o.Sentence = limit.Snapped, o.Refuses[0].Says
	case off > 0:
		o.Sentence = first.Says
		if off > 1 {
			o.Sentence += " " + say.Sentence(lang.Text("%s besides.", say.Count(off-1, "line", "lines")))
		}
	case open > 0:
		worst = limit.Untested
		o.Sentence = say.Sentence(lang.Text("As it is set so far; %s still to be seen.", say.Count(open, "line is", "lines are")))
	default:
		o.Sentence = lang.Text("Every line that can be seen from here is as it is set.")
	}
	o.State = worst.String()
}

// holder judges lines by their ids.
type holder struct {
	w       *sheet.Wanted
	a       *Arrived
	refuses []Refusal
	states  map[string]*Line
}

// line is a line of the sheet with what was found of it; one nobody judged cannot be seen from here.
func (h *holder) line(l *sheet.Entered) Line {
	out := Line{ID: l.ID, Name: l.Name, Planned: l.T(), State: limit.Untested, Hidden: true,
		Says: lang.Text("What arrives does not show it: look in the program.")}
	if got := h.states[l.ID]; got != nil {
		out.Measured, out.State, out.Says, out.Hidden = got.Measured, got.State, got.Says, false
	}
	for _, r := range h.refuses {
		if r.Line == l.ID {
			out.State, out.Says = limit.Snapped, r.Says
		}
	}
	return out
}

func (h *holder) put(id, measured string, state limit.State, says string) {
	if state == limit.Slack {
		says = ""
	}
	h.states[id] = &Line{Measured: measured, State: state, Says: says}
}

// said puts a line the stream says something of; else it is open.
func (h *holder) said(id string, known bool, measured string, state limit.State, says string) {
	if !known {
		h.put(id, "", limit.Untested, lang.Text("The stream does not say."))
		return
	}
	h.put(id, measured, state, says)
}

// notYet stands for what too little has come of to tell.
func (h *holder) notYet(ids ...string) {
	for _, id := range ids {
		h.put(id, "", limit.Untested, lang.Text("Too little has come to tell."))
	}
}

func either(same bool, other limit.State) limit.State {
	if same {
		return limit.Slack
	}
	return other
}

// picture judges size, rate and keyframes.
func (h *holder) picture() {
	v, c, w := h.a.Video, &h.a.Came, h.w
	if v == nil {
		for _, id := range []string{"size", "rate", "scaling", "keyframe-seconds", "keyframe-frames", "scene-cut", "bitrate", "rate-control",
			"buffer", "profile", "level", "references", "b-frames", "range", "matrix", "chroma"} {
			h.put(id, lang.Text("no picture"), limit.Snapped, lang.Text("No picture comes."))
		}
		return
	}
	size, shown := picture.SizeName(v.Width, v.Height), picture.SizeName(v.Shown())
	switch want := picture.SizeName(w.Width, w.Height); {
	case v.Width <= 0 || v.Height <= 0:
		h.said("size", false, "", limit.Untested, "")
	case size != want && size != shown:
		h.put("size", size, limit.Kinked, lang.Text("It comes as %s, which is shown as %s, instead of %s: set the output size in the program, with square pixels.", size, shown, want))
	case size != want:
		h.put("size", size, limit.Kinked, lang.Text("It comes as %s instead of %s: set the output size in the program.", size, want))
	case size != shown:
		h.put("size", size, limit.Kinked, lang.Text("Its pixels are not square (%s): it is shown as %s. Set them square in the program.", v.Shape, shown))
	case v.Turned != 0:
		h.put("size", size, limit.Taut, lang.Text("A mark in the file turns it by %s° when it is shown: what does not heed the mark shows it as it was kept.", strconv.Itoa(v.Turned)))
	default:
		h.put("size", size, limit.Slack, "")
	}
	h.rate()
	h.keyframes()
	if c.Keys.Count < 2 {
		h.notYet("keyframe-seconds", "keyframe-frames", "scene-cut")
	}
}

// rate judges the frames a second by their times.
func (h *holder) rate() {
	p, want := h.a.Came.Pace, h.w.Rate
	if p == nil {
		h.notYet("rate")
		return
	}
	name := p.Name
	if name == "" {
		name = say.Number(say.Round2(p.Hz))
	}
	away := math.Abs(p.Hz - want.Float())
	switch {
	case h.a.Came.Uneven > 0.01:
		h.put("rate", name, limit.Kinked, lang.Text("%s of a hundred steps from frame to frame are uneven: set a constant rate of %s.",
			say.Number(math.Round(100*h.a.Came.Uneven)), want.Name()))
	case p.Name == want.Name():
		h.put("rate", name, limit.Slack, "")
	case p.Name == "" && away <= 3*p.Error+want.Float()*2e-6:
		h.notYet("rate")
	default:
		h.put("rate", name, limit.Kinked, lang.Text("%s frames a second come instead of %s.", name, want.Name()))
	}
}

// keyframes judges how often they come: the usual distance against the one set, and any that come in between.
func (h *holder) keyframes() {
	k, w := &h.a.Came.Keys, h.w
	frame := 1.0 / w.Rate.Float()
	if k.Count < 2 {
		if k.Most > w.KeyframeSeconds+2*frame { // none came when it should have
			text := lang.Text("over %s s", say.Number(math.Floor(10*k.Most)/10))
			says := lang.Text("%s s have gone by without a keyframe; every %s s is set.", say.Number(math.Floor(10*k.Most)/10), say.Number(w.KeyframeSeconds))
			h.put("keyframe-seconds", text, limit.Kinked, says)
		}
		return
	}
	want := float64(h264.Keyframe(w.KeyframeSeconds, w.Rate)) * frame
	usual := say.Number(say.Round2(k.Usual))
	right := math.Abs(k.Usual-want) <= frame*1.01+0.002
	says := lang.Text("A keyframe comes every %s s instead of every %s.", usual, say.Number(w.KeyframeSeconds))
	if right && k.Most > want+2*frame {
		right, says = false, lang.Text("Up to %s s go by without a keyframe; every %s s is set.", say.Number(say.Round2(k.Most)), say.Number(w.KeyframeSeconds))
	}
	h.put("keyframe-seconds", usual, either(right, limit.Kinked), says)
	h.put("keyframe-frames", strconv.Itoa(k.Frames), either(right, limit.Kinked), says)
	cuts := k.Least < k.Usual-1.5*frame-0.002
	text := lang.Text("off")
	if cuts {
		text = lang.Text("on")
	}
	h.put("scene-cut", text, either(!cuts, limit.Kinked),
		lang.Text("Keyframes come in between, the nearest after %s s: turn keyframes at scene cuts off.", say.Number(say.Round2(k.Least))))
}

// coding judges bitrate, buffer, and what the stream says of itself.
func (h *holder) coding() {
	v, w := h.a.Video, h.w
	if v == nil {
		return
	}
	h.bitrate()
	web := w.Transport == "webrtc"
	bad := limit.Kinked
	if web {
		bad = limit.Snapped
	}
	switch {
	case v.Codec == "":
		for _, id := range []string{"profile", "level", "references"} {
			h.said(id, false, "", limit.Untested, "")
		}
	case v.Codec != "h264":
		h.put("encoder", v.Codec, limit.Kinked, lang.Text("It is coded as %s instead of H.264.", v.Codec))
		for _, id := range []string{"profile", "level", "references"} {
			h.put(id, v.Codec, limit.Kinked, lang.Text("It is coded as %s instead of H.264.", v.Codec))
		}
	default:
		h.said("profile", v.Profile != "", v.Profile, either(v.Profile == w.Profile, bad), lang.Text("Profile %s comes instead of %s.", v.Profile, w.Profile))
		h.level()
		bFrames := w.BFrames
		if c := &h.a.Came; c.Frames >= leastFrames { // with other B-frames others are kept: that is their line's fault
			bFrames = c.BFrames
		}
		kept := h264.Kept(w.References, bFrames)
		state := either(v.References == kept, limit.Kinked)
		if v.References < kept {
			state = limit.Taut
		}
		h.said("references", v.References > 0, strconv.Itoa(v.References), state,
			say.Sentence(lang.Text("%s instead of %s.", say.Count(v.References, "picture is kept", "pictures are kept"), strconv.Itoa(kept))))
	}
	if c := &h.a.Came; c.Frames < leastFrames {
		h.notYet("b-frames")
	} else {
		text := strconv.Itoa(c.BFrames)
		h.put("b-frames", text, either(c.BFrames == w.BFrames, bad), say.Sentence(lang.Text("%s come in a row instead of %s.",
			say.Count(c.BFrames, "B-frame", "B-frames"), strconv.Itoa(w.BFrames))))
	}
	h.colour()
}

// level judges what level a stream says it needs.
func (h *holder) level() {
	v, w := h.a.Video, h.w
	says := lang.Text("Level %s stands in the stream instead of %s: set it by hand, or look at size, rate and references.", v.Level, w.Level)
	state := either(v.Level == w.Level, limit.Kinked)
	if v.Level != w.Level && !w.Stream { // a player of files reads what it finds
		state, says = limit.Taut, lang.Text("Level %s stands in the file, and %s was planned.", v.Level, w.Level)
	}
	h.said("level", v.Level != "" && w.Level != "", v.Level, state, says)
}

// bitrate judges the rate, how constant it is, and whether a buffer of the size set holds it.
func (h *holder) bitrate() {
	c, w := &h.a.Came, h.w
	if w.Kbps == 0 { // whether a rate or a quality was kept to, no stream shows
		return
	}
	if len(c.Windows) < 2 {
		h.notYet("bitrate", "rate-control", "buffer")
		return
	}
	mean := say.Number(math.Round(c.VideoKbps)) + " kb/s"
	want := say.Number(w.Kbps)
	switch r := c.VideoKbps / w.Kbps; {
	case c.Seconds < sureAfter && math.Abs(r-1) > nearKbps:
		h.put("bitrate", mean, limit.Untested, lang.Text("It comes nearer to its rate as it goes on: %s s at least are wanted.", say.Number(sureAfter)))
	case r > 1+nearKbps:
		h.put("bitrate", mean, limit.Kinked, lang.Text("%s come instead of %s: the line was judged for less.", mean, want))
	case r < 1-nearKbps:
		h.put("bitrate", mean, limit.Kinked, lang.Text("%s come instead of %s. Either it is set so, or the picture stood too still to need it: show movement, and look again.", mean, want))
	default:
		h.put("bitrate", mean, limit.Slack, "")
	}
	steady := c.Most <= peakKbps*max(w.Kbps, c.VideoKbps)
	text := lang.Text("%s to %s kb/s", say.Number(math.Round(c.Least)), say.Number(math.Round(c.Most)))
	h.put("rate-control", text, either(steady, limit.Kinked), lang.Text("In its busiest second it takes %s kb/s: set a constant bitrate (CBR).", say.Number(math.Round(c.Most))))
	if c.NeedsKbit > 0 {
		need := say.Number(math.Round(c.NeedsKbit)) + " kbit"
		over := c.NeedsKbit > nearBuffer*w.BufferKbit
		h.put("buffer", need, either(!over, limit.Kinked),
			lang.Text("At %s kb/s a buffer of %s is needed for it; %s kbit are set.", want, need, say.Number(w.BufferKbit)))
	}
}

// colour judges range, matrix and format.
func (h *holder) colour() {
	v, w := h.a.Video, h.w
	want, kind := "limited", lang.Text("limited")
	if w.Full {
		want, kind = "full", lang.Text("full")
	}
	names := map[string]string{"limited": lang.Text("limited"), "full": lang.Text("full"), "": lang.Text("not said")}
	switch {
	case v.Range == "" && w.Full:
		h.put("range", names[""], limit.Kinked, lang.Text("The stream does not say that it is of full range: it is shown too dark and too bright."))
	case v.Range != "" && v.Range != want:
		h.put("range", names[v.Range], limit.Kinked, lang.Text("The stream says %s range instead of %s.", names[v.Range], kind))
	case h.a.Luma == "full" && !w.Full:
		h.put("range", lang.Text("full, in the picture itself"), limit.Kinked,
			lang.Text("The picture goes beyond 16 to 235, and the stream does not say so: it is shown too dark and too bright."))
	case v.Range == "" && h.a.Luma == "":
		h.put("range", names[""], limit.Untested, lang.Text("The stream does not say; players take limited, and nobody has looked whether the picture is."))
	default:
		h.put("range", names[v.Range], limit.Slack, "")
	}
	switch v.Matrix {
	case "bt709":
		h.put("matrix", "BT.709", limit.Slack, "")
	case "":
		h.put("matrix", names[""], limit.Taut, lang.Text("The stream does not say; players take BT.709 from 720 lines on."))
		if v.Height < 720 {
			h.put("matrix", names[""], limit.Kinked, lang.Text("The stream does not say, and players take BT.601 under 720 lines: hues shift."))
		}
	default:
		h.put("matrix", v.Matrix, limit.Kinked, lang.Text("The stream says %s instead of BT.709: hues shift.", v.Matrix))
	}
	format := lang.Text("%s, %s bit", v.Chroma, strconv.Itoa(v.Bits))
	if v.Chroma == "" {
		h.notYet("chroma")
	} else {
		h.put("chroma", format, either(v.Chroma == "4:2:0" && v.Bits == 8 && !v.Interlaced, limit.Kinked), lang.Text("%s comes instead of 4:2:0, 8 bit.", format))
	}
	if v.Interlaced {
		h.put("chroma", lang.Text("%s, interlaced", format), limit.Kinked, lang.Text("It is coded interlaced: set the program to progressive."))
	}
}

// codecName is how people call a coding of sound.
func codecName(a *Audio) string {
	switch a.Codec {
	case "aac":
		return "AAC-" + a.Profile
	case "opus":
		return "Opus"
	}
	return a.Codec
}

// sound judges the sound's coding, rates and tracks.
func (h *holder) sound() {
	a, w, c := h.a.Audio, h.w, &h.a.Came
	if a == nil {
		for _, id := range []string{"audio", "audio-bitrate", "audio-rate", "audio-channels", "audio-tracks"} {
			h.put(id, lang.Text("no sound"), limit.Snapped, lang.Text("No sound comes."))
		}
		return
	}
	name := codecName(a)
	h.said("audio", a.Codec != "" && (a.Codec != "aac" || a.Profile != ""), name, either(a.Codec == w.AudioCodec && (a.Codec != "aac" || a.Profile == "LC"), limit.Kinked),
		lang.Text("The sound is coded as %s.", name))
	h.said("audio-rate", a.Rate > 0, say.Number(float64(a.Rate)/1000)+" kHz", either(a.Rate == 48000, limit.Kinked),
		lang.Text("The sound comes at %s kHz instead of 48.", say.Number(float64(a.Rate)/1000)))
	channels := map[int]string{1: lang.Text("mono"), 2: lang.Text("stereo")}[a.Channels]
	if channels == "" {
		channels = say.Count(a.Channels, "channel", "channels")
	}
	h.said("audio-channels", a.Channels > 0, channels, either(a.Channels == 2, limit.Kinked), lang.Text("The sound comes as %s instead of stereo.", channels))
	h.put("audio-tracks", strconv.Itoa(h.a.Tracks), either(h.a.Tracks == w.Tracks, limit.Kinked),
		lang.Text("%s instead of %s.", say.Sentence(say.Count(h.a.Tracks, "sound track is there", "sound tracks are there")), strconv.Itoa(w.Tracks)))
	if w.AudioKbps > 0 {
		kbps := say.Number(math.Round(c.AudioKbps)) + " kb/s"
		switch r := c.AudioKbps / w.AudioKbps; {
		case len(c.Sound) < 4:
			h.notYet("audio-bitrate")
		case r > moreSound:
			h.put("audio-bitrate", kbps, limit.Kinked, lang.Text("The sound takes %s instead of %s.", kbps, say.Number(w.AudioKbps)))
		case r < lessSound:
			h.put("audio-bitrate", kbps, limit.Kinked, lang.Text("The sound takes %s instead of %s: it is set lower, or nothing was to be heard.", kbps, say.Number(w.AudioKbps)))
		default:
			h.put("audio-bitrate", kbps, limit.Slack, "")
		}
	}
}

// whole judges transport and container.
func (h *holder) whole() {
	a, w := h.a, h.w
	if w.Stream && a.Transport != "" {
		h.put("transport", strings.ToUpper(a.Transport), either(a.Transport == w.Transport, limit.Kinked),
			lang.Text("It comes by %s instead of %s.", strings.ToUpper(a.Transport), strings.ToUpper(w.Transport)))
	}
	if !w.Stream && a.Container != "" {
		same := a.Container == w.Container
		state := either(same, limit.Taut)
		if a.Whole != nil && a.Whole.Safe != look.Found && !same {
			state = limit.Kinked
		}
		text := plans.ContainerName(a.Container)
		says := lang.Text("It is %s instead of %s.", text, plans.ContainerName(w.Container))
		if a.Whole != nil && a.Whole.Safe == look.Clear {
			says += " " + lang.Text("A crash would lose all of it.")
		}
		h.put("container", text, state, says)
	}
}

// Refuses tells what of it a destination would not take, by what is known of that: nothing where nothing is known.
func Refuses(in *rig.Ingest, name string, a *Arrived) []Refusal {
	out := []Refusal{}
	if in == nil {
		return out
	}
	refuse := func(line, what, allowed, arrived string) {
		out = append(out, Refusal{line, what, allowed, arrived,
			lang.Text("%s takes %s %s; %s comes.", name, what, allowed, arrived)})
	}
	if t := a.Transport; t != "" && len(in.Transports) > 0 && !slices.Contains(in.Transports, t) {
		refuse("transport", lang.Text("transports"), strings.ToUpper(strings.Join(in.Transports, ", ")), strings.ToUpper(t))
	}
	if v := a.Video; v != nil {
		refusesPicture(in, v, &a.Came, refuse)
	}
	if in.MaxAudioKbps > 0 && len(a.Came.Sound) >= 4 && a.Came.AudioKbps > in.MaxAudioKbps*overMost {
		refuse("audio-bitrate", lang.Text("sound of"), lang.Text("%s kb/s at most", say.Number(in.MaxAudioKbps)), say.Number(math.Round(a.Came.AudioKbps))+" kb/s")
	}
	return out
}

// Unknown names what nobody has looked up of what a destination takes: all of it where nothing is known.
func Unknown(in *rig.Ingest) []string {
	if in == nil {
		in = &rig.Ingest{}
	}
	_, least := in.Least()
	out := []string{}
	for _, l := range []struct {
		known bool
		what  string
	}{
		{in.MaxWidth > 0 && in.MaxHeight > 0, lang.Text("the largest picture")},
		{in.MaxRate.Num > 0, lang.Text("the most frames a second")},
		{in.MaxVideoKbps > 0, lang.Text("the highest bitrate")},
		{least, lang.Text("the lowest bitrate")},
		{in.KeyframeSeconds > 0, lang.Text("how often keyframes have to come")},
		{len(in.VideoCodecs) > 0, lang.Text("how the picture may be coded")},
		{in.MaxAudioKbps > 0, lang.Text("the highest bitrate of the sound")},
	} {
		if !l.known {
			out = append(out, l.what)
		}
	}
	return out
}

func refusesPicture(in *rig.Ingest, v *Video, c *Came, refuse func(line, what, allowed, arrived string)) {
	w, h := v.Width, v.Height
	size := picture.SizeName(w, h)
	if in.LandscapeOnly && h > w {
		refuse("size", lang.Text("pictures"), lang.Text("wider than high"), size)
	} else if h > w {
		w, h = h, w
	}
	if in.MaxWidth > 0 && w > in.MaxWidth || in.MaxHeight > 0 && h > in.MaxHeight {
		refuse("size", lang.Text("sizes"), lang.Text("up to %s", picture.SizeName(in.MaxWidth, in.MaxHeight)), size)
	}
	if most := in.MaxRate.Float(); in.MaxRate.Num > 0 && c.Pace != nil && c.Pace.Hz > most+3*c.Pace.Error+most*1e-3 {
		refuse("rate", lang.Text("frames a second"), lang.Text("up to %s", in.MaxRate.Name()), say.Number(say.Round2(c.Pace.Hz)))
	}
	if len(in.VideoCodecs) > 0 && !slices.Contains(in.VideoCodecs, v.Codec) {
		refuse("encoder", lang.Text("pictures coded as"), strings.Join(in.VideoCodecs, ", "), v.Codec)
	}
	if len(c.Windows) >= 2 && c.Seconds >= sureAfter {
		kbps := say.Number(math.Round(c.VideoKbps)) + " kb/s"
		if in.MaxVideoKbps > 0 && c.VideoKbps > in.MaxVideoKbps*overMost {
			refuse("bitrate", lang.Text("pictures of"), lang.Text("%s kb/s at most", say.Number(in.MaxVideoKbps)), kbps)
		}
		if least, known := in.Least(); known && least > 0 && c.VideoKbps < least/overMost {
			refuse("bitrate", lang.Text("pictures of"), lang.Text("%s kb/s at least", say.Number(least)), kbps)
		}
	}
	if k := &c.Keys; in.KeyframeSeconds > 0 && c.Pace != nil {
		frame := 1 / c.Pace.Hz
		switch {
		case k.Most > in.KeyframeSeconds+2*frame:
			refuse("keyframe-seconds", lang.Text("a keyframe"), lang.Text("every %s s at most", say.Number(in.KeyframeSeconds)), lang.Text("one after %s s", say.Number(say.Round2(k.Most))))
		case in.KeyframeExact && k.Count > 1 && k.Least < in.KeyframeSeconds-2*frame:
			refuse("keyframe-seconds", lang.Text("a keyframe"), lang.Text("exactly every %s s", say.Number(in.KeyframeSeconds)), lang.Text("one after %s s", say.Number(say.Round2(k.Least))))
		}
	}
}
