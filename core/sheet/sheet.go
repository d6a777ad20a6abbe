// Package sheet answers: what has to be typed into the program, for every stream and every recording, and why?
//
// A sheet is made of a verdict: it takes the choices that were judged, the proposed ones among them, and adds what
// follows from them. Values stand under the names programs use for them, with the other names people know them by
// , so that a sheet can be followed in any program; kinds of program that set nearly everything by
// themselves get only what their users can set.
package sheet

import (
	"maps"
	"math"
	"slices"
	"strconv"

	"eventether/core/gear"
	"eventether/core/h264"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Format names the JSON form of a sheet.
const Format = "eventether-sheet/1"

// Sheet is everything to be set for one rig.
type Sheet struct {
	Format string `json:"format"`
	Rig    string `json:"rig" doc:"Name of the rig"`
	Parts  []Part `json:"parts" doc:"Sources, streams, recordings, in the order one sets them"`
}

// Part is what is set for one stream, one recording, for the sources, or for sound.
type Part struct {
	ID    string    `json:"id" doc:"sources, sound, stream-0, recording-0 and so on"`
	Kind  string    `json:"kind" enum:"sources,sound,stream,recording"`
	Name  string    `json:"name"`
	Lines []Entered `json:"lines"`
	// Command makes a stream or recording with these settings of a made-up moving picture, 5 s long, in the current
	// folder. None where the program codes as it likes, or the computer codes nothing.
	Command string `json:"command,omitempty"`
	// Note says what has to be known besides.
	Note string `json:"note,omitempty"`
}

// How is how a value came about.
type How string

// Said: somebody chose it. Proposed: the product did, and it was judged so. Follows: from the others, by a standard or
// by arithmetic. Usual: as the trade does it.
const (
	Said     How = "said"
	Proposed How = "proposed"
	Follows  How = "follows"
	Usual    How = "usual"
)

// Entered is one value to be set.
type Entered struct {
	ID      string   `json:"id"`
	Name    string   `json:"name" doc:"As a program's field has it"`
	Also    []string `json:"also" doc:"Other names for it"`
	Value   string   `json:"value"`
	Unit    string   `json:"unit,omitempty"`
	Why     string   `json:"why" doc:"The reason, in one sentence"`
	Source  string   `json:"source" doc:"Where the reason comes from"`
	How     How      `json:"how" enum:"said,proposed,follows,usual"`
	Changes string   `json:"changes,omitempty" doc:"What would change it"`
	// Matters orders the lines where not all can be set: 1 matters most.
	Matters int    `json:"matters" enum:"1,2,3"`
	Was     string `json:"was,omitempty" doc:"The value in the older state it is compared with, where that is another"`
}

// T is a value with its unit, as it is printed.
func (l *Entered) T() string {
	if l.Unit == "" {
		return l.Value
	}
	return l.Value + " " + l.Unit
}

// Of makes the sheet of a verdict.
func Of(v *verdict.Verdict) *Sheet {
	s := &Sheet{Format: Format, Rig: v.Given.Name, Parts: []Part{}}
	m := maker{v: v}
	if p := m.sources(); len(p.Lines) > 0 {
		s.Parts = append(s.Parts, p)
	}
	if p := m.sound(); len(p.Lines) > 0 {
		s.Parts = append(s.Parts, p)
	}
	for i := range v.Show.Destinations {
		if v.Show.Destinations[i].Via == "" { // what another passes on is that one's stream
			s.Parts = append(s.Parts, m.stream(i))
		}
	}
	for i := range v.Show.Recordings {
		s.Parts = append(s.Parts, m.recording(i))
	}
	return s
}

// Since marks the values that differ from those of an older sheet.
func (s *Sheet) Since(older *Sheet) {
	for i := range s.Parts {
		p := &s.Parts[i]
		at := slices.IndexFunc(older.Parts, func(o Part) bool { return o.Kind == p.Kind && o.Name == p.Name })
		if at < 0 {
			continue
		}
		for k := range p.Lines {
			l := &p.Lines[k]
			for _, o := range older.Parts[at].Lines {
				if o.ID == l.ID && o.T() != l.T() {
					l.Was = o.T()
				}
			}
		}
	}
}

type maker struct{ v *verdict.Verdict }

func (m *maker) encoder() bool { return m.v.Show.Program.Kind == "encoder" }

// sources are the devices to choose in the program, with what to choose of each.
func (m *maker) sources() Part {
	p := Part{ID: "sources", Kind: "sources", Name: lang.Text("Sources to choose in the program"), Lines: []Entered{}}
	seen := map[string]int{}
	for _, s := range m.v.Streams {
		if s.IsOther() || s.Host == nil {
			continue
		}
		name := s.Owner.Gear.ListedAs
		how, why := Said, lang.Text("That is how it has listed itself.")
		if name == "" {
			name, how, why = s.Owner.Gear.Name, Usual,
				lang.Text("Nobody has noted how programs list it: a camera by its own name, a stick by a general one.")
		}
		seen[name]++
		l := Entered{ID: "source-" + s.Owner.ID, Name: s.Owner.Label, Also: []string{}, Value: name, How: how,
			Why: why, Matters: 1, Source: lang.Text("common practice"),
			Changes: lang.Text("Alike names are numbered by the system, and the numbers may swap after a restart: tell them apart by looking.")}
		if m.encoder() {
			l.Value = lang.Text("%s: %s at %s", name, s.Name(), s.Rate.Name())
		} else {
			l.Value = lang.Text("%s: %s", name, picture.SizeName(s.Width, s.Height))
		}
		if s.Owner.Gear.OpensSmall {
			l.Why += " " + lang.Text("It opens small: choose its size by hand.")
		}
		p.Lines = append(p.Lines, l)
	}
	for _, n := range slices.Sorted(maps.Keys(seen)) {
		if k := seen[n]; k > 1 {
			p.Note = join(p.Note, lang.Text("%s are listed as “%s”: label which is which.",
				say.Sentence(say.Count(k, "source", "sources")), n))
		}
	}
	slices.SortFunc(p.Lines, func(a, b Entered) int {
		return slices.Compare([]string{a.Name, a.ID}, []string{b.Name, b.ID})
	})
	p.Lines = append(p.Lines, m.microphone())
	return p
}

func (m *maker) microphone() Entered {
	l := Entered{ID: "microphone", Name: lang.Text("Sound input"), Also: []string{lang.Text("microphone"),
		lang.Text("audio device")}, How: Usual, Matters: 1, Source: lang.Text("common practice"),
		Why:     lang.Text("Exactly one path to air for each voice; mute every other."),
		Changes: lang.Text("Where the sound comes from, on the Show page.")}
	switch m.v.Show.SoundFrom {
	case "camera":
		l.Value = lang.Text("the camera's, by its capture device")
	case "switcher":
		l.Value = lang.Text("the switcher's, by its USB")
	case "computer":
		l.Value = lang.Text("the microphone at the computer")
	case "interface":
		l.Value = lang.Text("the audio interface")
	default:
		l.Value, l.Why = lang.Text("not said yet"),
			lang.Text("Nobody has said where the sound comes from; exactly one path to air for each voice, and mute every other.")
		return l
	}
	l.How = Said
	return l
}

// number writes a bitrate as a program's field takes it.
func number(v float64) string { return strconv.FormatFloat(math.Round(v), 'f', 0, 64) }

func (m *maker) stream(i int) Part {
	d := &m.v.Show.Destinations[i]
	p := Part{ID: "stream-" + strconv.Itoa(i), Kind: "stream", Name: lang.Text("Stream to %s", d.Name),
		Lines: []Entered{}}
	c := m.v.SentLike(i)
	if c == nil || c.Own {
		p.Note = m.byItself()
		p.Lines = append(p.Lines, Entered{ID: "expected-upload", Name: lang.Text("Upload it will use"),
			Also: []string{}, Value: number(m.v.Video(i).Value + m.v.Audio(i).Value), Unit: "kb/s", How: Usual,
			Matters: 2, Source: lang.Text("starting values of the trade"),
			Why:     lang.Text("The program sets the bitrate by itself, and lowers it, and the size with it, when the line gives less."),
			Changes: lang.Text("The line, and what the program decides.")})
		return p
	}
	given := &m.v.Given.Show.Destinations[i].Send
	kbps := math.Round(m.v.Video(i).Value)
	said := func(is bool) How {
		if is {
			return Said
		}
		return Proposed
	}
	w := writer{p: &p}
	w.size(m, c, d.Name)
	bitrate := lang.Text("%s bits for each pixel that is sent.",
		say.Number(math.Round(1000*h264.BitsPerPixel(kbps, c.Width, c.Height, c.Rate))/1000))
	if d.Ingest != nil && d.Ingest.MaxVideoKbps > 0 {
		bitrate += " " + lang.Text("%s takes %s kb/s at most.", d.Name, number(d.Ingest.MaxVideoKbps))
	}
	w.add(Entered{ID: "bitrate", Name: lang.Text("Bitrate"), Also: []string{lang.Text("video bitrate"),
		lang.Text("rate"), lang.Text("target")}, Value: number(kbps), Unit: "kb/s", How: said(given.VideoKbps != nil),
		Matters: 1,
		Why:     bitrate, Source: lang.Text("the destination's limits, the line, and the trade's starting values"),
		Changes: lang.Text("Another size or rate, a lower cap, a slower line.")})
	frames := h264.Keyframe(c.KeyframeSeconds, c.Rate)
	key, why := m.keyframeWhy(c)
	w.keyframes(c.KeyframeSeconds, frames, key, why)
	w.add(Entered{ID: "rate-control", Name: lang.Text("Rate control"), Also: []string{}, Value: "CBR", How: Usual,
		Matters: 2, Why: lang.Text("A constant bitrate is what the line was judged for; peaks would fill the send buffer."), Source: lang.Text("common practice"),
		Changes: lang.Text("Nothing, for a stream.")})
	w.add(Entered{ID: "buffer", Name: lang.Text("Buffer size"), Also: []string{"VBV", "bufsize", "CPB"},
		Value: number(kbps), Unit: "kbit", How: Usual, Matters: 3, Why: lang.Text("One second of bitrate."),
		Source:  lang.Text("common practice"),
		Changes: lang.Text("A destination that asks for another.")})
	web := d.Transport == "webrtc"
	refs := w.coder(m, c, said(c.Said), kbps, kbps, web)
	w.colour(given.Range)
	coding := Entered{ID: "audio", Name: lang.Text("Sound coding"), Also: []string{lang.Text("audio codec")},
		Value: "AAC-LC", How: Usual, Matters: 2, Why: lang.Text("Taken everywhere."),
		Source: lang.Text("common practice")}
	if web {
		coding.Value, coding.How, coding.Why, coding.Source = "Opus", Follows,
			lang.Text("What WebRTC senders and ingests have in common; AAC is not among it."), "RFC 7874, RFC 7587"
	}
	w.add(coding)
	sound := math.Round(m.v.Audio(i).Value)
	w.sound(sound, said(given.AudioKbps != nil), 1)
	w.add(Entered{ID: "transport", Name: lang.Text("Service or transport"), Also: []string{lang.Text("protocol")},
		Value: plans.TransportName(or(d.Transport, "rtmp")), How: said(d.Transport != ""), Matters: 1,
		Source: lang.Text("the destination's limits"),
		Why:    transportWhy(d.Transport), Changes: lang.Text("What %s takes.", d.Name)})
	w.reconnect(d.Ingest)
	w.delay(c, kbps)
	if d.Backup {
		w.add(Entered{ID: "backup", Name: lang.Text("Backup stream"), Also: []string{lang.Text("second server"),
			lang.Text("failover")}, Value: lang.Text("to the backup ingest"), How: Said, Matters: 1,
			Why:    lang.Text("The same picture, coded once and uploaded twice: the line was judged for both."),
			Source: lang.Text("the show"), Changes: lang.Text("Doing without it.")})
	}
	p.Note = lang.Text("Server and key: copy them straight from %s into the program; they are not kept here, and belong on no screen that is shared.",
		d.Name)
	if passed := m.passedOn(i); len(passed) > 0 {
		p.Note = join(p.Note, lang.Text("It is passed on to %s, as it is coded here: nothing is set for that.",
			say.List(passed)))
	}
	p.Command = streamCommand(&command{c: c, name: d.Name, kbps: kbps, frames: frames, refs: refs, level: w.level,
		full: given.Range == "full", sound: sound, transport: d.Transport})
	return p
}

// passedOn are the names of those a destination passes its stream on to.
func (m *maker) passedOn(i int) (names []string) {
	for _, o := range m.v.Show.Destinations {
		if o.Via == m.v.Show.Destinations[i].Name {
			names = append(names, o.Name)
		}
	}
	return names
}

// keyframeWhy says why keyframes come as often as they do.
func (m *maker) keyframeWhy(c *plans.Coding) (How, string) {
	for _, i := range c.Destinations {
		d := &m.v.Show.Destinations[i]
		switch in := d.Ingest; {
		case in == nil || in.KeyframeSeconds == 0 || math.Abs(in.KeyframeSeconds-c.KeyframeSeconds) > 1e-9:
		case in.KeyframeExact:
			return Follows, lang.Text("%s asks for one exactly every %s s.", d.Name, say.Number(in.KeyframeSeconds))
		case in.KeyframeSeconds < 2:
			return Follows, lang.Text("%s asks for one every %s s at most.", d.Name, say.Number(in.KeyframeSeconds))
		}
	}
	return Usual, lang.Text("Every two seconds: viewers come in quickly, and little bitrate is lost.")
}

// reconnect adds what happens when the line breaks off: on, tried again soon, and sooner than the destination gives up.
func (w *writer) reconnect(in *rig.Ingest) {
	l := Entered{ID: "reconnect", Name: lang.Text("Reconnecting"), Also: []string{lang.Text("automatic reconnect"),
		lang.Text("retry delay")}, Value: lang.Text("on, first try after 2 s"), How: Usual, Matters: 2,
		Source: lang.Text("common practice"),
		Why:    lang.Text("A line that breaks for a moment ends no show: destinations wait 30 to 90 s as a rule.")}
	if in != nil && in.GraceSeconds > 0 {
		l.Why = lang.Text("It waits %s s for a stream that broke off.", say.Number(in.GraceSeconds))
		if in.GraceSeconds < 2 {
			l.Value = lang.Text("on, first try at once")
		}
	}
	w.add(l)
}

// delay adds what the coder itself holds back: lookahead, B-frames, frames coded at once and two more, and the buffer.
func (w *writer) delay(c *plans.Coding, kbps float64) {
	if c.Preset == nil {
		return
	}
	low, high := h264.DelayFrames(c.Preset, 1), h264.DelayFrames(c.Preset, 24)
	fps := c.Rate.Float()
	w.add(Entered{ID: "coder-delay", Name: lang.Text("Delay of the coder"),
		Also: []string{lang.Text("encoder latency")}, Value: say.Span(math.Round(10*(low/fps+1))/10,
			math.Round(10*(high/fps+1))/10, ""), Unit: "s", How: Follows, Matters: 3,
		Source: lang.Text("lookahead, B-frames, frames at once and two, ÷ rate, and one second of buffer"),
		Why: lang.Text("%s to %s frames at 1 to 24 threads: it matters where viewers answer.", number(low),
			number(high)), Changes: lang.Text("A faster preset or low-latency settings, which give up quality for it.")})
}

// byItself is what a program that codes as it likes leaves to its user.
func (m *maker) byItself() string {
	switch m.v.Show.Program.Kind {
	case "browser-studio":
		return lang.Text("A studio in the browser codes by itself. Choose the device, its size and the microphone; have it record locally where it can: that copy is not lowered by the line.")
	case "destination-page":
		return lang.Text("The destination's own page sets everything but camera and microphone, and its own largest size.")
	case "call":
		return lang.Text("A call sets everything but camera and microphone, and lowers the size with the line: keep the good copy here.")
	}
	return ""
}

func transportWhy(t string) string {
	if t == "srt" {
		return lang.Text("Set its latency to four round-trip times at least, more where more is lost; what it sends again takes up to a quarter more of the line.")
	}
	return lang.Text("Loss becomes delay, and a line below the bitrate fills the buffer until frames are dropped: by cable, not by air.")
}

// writer adds lines to a part.
type writer struct {
	p     *Part
	level *h264.Level
}

func (w *writer) add(l Entered) {
	if l.Also == nil {
		l.Also = []string{}
	}
	w.p.Lines = append(w.p.Lines, l)
}

func (w *writer) size(m *maker, c *plans.Coding, name string) {
	from := picture.SizeName(c.From[0], c.From[1])
	l := Entered{ID: "size", Name: lang.Text("Output size"), Also: []string{lang.Text("resolution"),
		lang.Text("scaled output")}, Value: picture.SizeName(c.Width-c.Width%2, c.Height-c.Height%2), How: Said,
		Matters: 1,
		Why:     lang.Text("As it is composed: nothing is scaled."), Source: lang.Text("the show"),
		Changes: lang.Text("Another size on the Show page.")}
	filter := Entered{ID: "scaling", Name: lang.Text("Scaling"), Also: []string{lang.Text("downscale filter")},
		Value: lang.Text("none"), How: Follows, Matters: 3, Why: lang.Text("The programme is %s and so is this.",
			from), Source: lang.Text("two honest steps: source to programme, programme to sent")}
	switch {
	case c.Width > c.From[0] || c.Height > c.From[1]:
		l.Why = lang.Text("%s is made larger: soft, and no sharper for its bitrate. Better as it is composed.", from)
		filter.Value, filter.Why = lang.Text("bicubic, once, at the output"),
			lang.Text("It is made larger; a sharpening filter would ring.")
	case c.Scaled():
		l.Why = lang.Text("Made smaller of %s, once.", from)
		filter.Value, filter.Why = lang.Text("Lanczos, once, at the output"),
			lang.Text("The sharpest of the usual filters for a picture made smaller; never down in one place and up in another.")
	}
	if c.Width%2 == 1 || c.Height%2 == 1 {
		l.Why = join(l.Why, lang.Text("Of %s: coded pictures have even sides, so the last column or row goes.",
			picture.SizeName(c.Width, c.Height)))
	}
	w.add(l)
	w.add(Entered{ID: "rate", Name: lang.Text("Frame rate"), Also: []string{lang.Text("frames a second"), "FPS"},
		Value: c.Rate.Name(), Unit: lang.Text("frames/s"), How: Said, Matters: 1,
		Why:     lang.Text("Exactly %s; programs round it when they show it.", c.Rate.String()),
		Source:  lang.Text("the show"),
		Changes: lang.Text("Another rate on the Show page; the rate sources come at.")})
	w.add(filter)
}

func (w *writer) keyframes(seconds float64, frames int, how How, why string) {
	w.add(Entered{ID: "keyframe-seconds", Name: lang.Text("Keyframe interval"),
		Also: []string{"GOP", lang.Text("IDR interval")}, Value: say.Number(seconds), Unit: "s", How: how, Matters: 1,
		Why: why, Source: lang.Text("the destination's limits, or common practice"),
		Changes: lang.Text("What the destination asks for.")})
	w.add(Entered{ID: "keyframe-frames", Name: lang.Text("Keyframe interval in frames"),
		Also: []string{lang.Text("GOP size"), "keyint"}, Value: strconv.Itoa(frames), Unit: lang.Text("frames"),
		How: Follows, Matters: 1,
		Why:    lang.Text("The nearest whole number, for programs that count frames; set one of the two."),
		Source: lang.Text("seconds × rate")})
	w.add(Entered{ID: "scene-cut", Name: lang.Text("Keyframes at scene cuts"), Also: []string{"scenecut"},
		Value: lang.Text("off"), How: Usual, Matters: 3,
		Why:    lang.Text("The interval stays fixed, as destinations cut the stream into pieces by it."),
		Source: lang.Text("common practice")})
}

// coder adds what codes, its preset, profile, level, B-frames and references, and gives the references. A kbps of 0 has
// no bound. web tells that it goes to a WebRTC ingest, which is bound to take the Constrained Baseline profile, without
// B-frames.
func (w *writer) coder(m *maker, c *plans.Coding, how How, kbps, buffer float64, web bool) (refs int) {
	preset := c.Preset
	coder, why := lang.Text("software H.264 (x264)"),
		lang.Text("The slowest preset the processor carries with room to spare.")
	changes := lang.Text("Measuring the computer; a hardware encoder; fewer or smaller pictures to decode.")
	if c.Hardware {
		coder, why, preset = lang.Text("hardware H.264"),
			lang.Text("It has room for this, and leaves the processor free."), h264.PresetNamed("veryfast")
	} else if how == Said {
		why = lang.Text("Chosen on the Send page.")
	}
	w.add(Entered{ID: "encoder", Name: lang.Text("Encoder"), Also: []string{lang.Text("video encoder")}, Value: coder,
		How: how, Matters: 1, Why: why, Source: lang.Text("what this computer can do"), Changes: changes})
	if c.Hardware {
		w.add(Entered{ID: "preset", Name: lang.Text("Preset"), Also: []string{lang.Text("usage"), lang.Text("effort")},
			Value: lang.Text("quality, with two passes where it is offered"), How: Usual, Matters: 3,
			Why:    lang.Text("Its quality is about that of veryfast to fast; take the better one while its load allows."),
			Source: lang.Text("common practice")})
	} else {
		w.add(Entered{ID: "preset", Name: lang.Text("Preset"), Also: []string{lang.Text("usage"), lang.Text("effort"),
			lang.Text("speed against quality")}, Value: preset.Name, How: how, Matters: 2, Why: why,
			Source: lang.Text("what this computer can do"), Changes: changes})
	}
	as := shapeOf(c, kbps, buffer, web)
	profile := Entered{ID: "profile", Name: lang.Text("Profile"), Value: as.profile, How: Usual, Matters: 3,
		Why:    lang.Text("Better for the same bitrate, and played everywhere; the fastest preset turns it off unless it is asked for by name."),
		Source: lang.Text("common practice")}
	between := Entered{ID: "b-frames", Name: lang.Text("B-frames"),
		Also: []string{lang.Text("bidirectional pictures")}, How: Usual, Matters: 3,
		Why: lang.Text("Better for the same bitrate, and a delay of two frames."), Source: lang.Text("common practice")}
	if web {
		profile.How, profile.Matters, profile.Why, profile.Source = Follows,
			1, lang.Text("The profile every WebRTC receiver is bound to take."), "RFC 7742"
		between.How, between.Matters, between.Why = Follows, 1,
			lang.Text("WebRTC receivers do not put pictures back in order: with B-frames movement jumps.")
	}
	between.Value = strconv.Itoa(as.bFrames)
	w.level, refs = as.level, as.references
	w.add(profile)
	if w.level == nil {
		w.add(Entered{ID: "level", Name: lang.Text("Level"), Value: lang.Text("none holds it"), How: Follows,
			Matters: 2, Why: lang.Text("No level of H.264 has room for this size, rate and bitrate."),
			Source: "ITU-T H.264, Table A-1"})
		return refs
	}
	across, down := h264.Macroblocks(c.Width, c.Height)
	w.add(Entered{ID: "level", Name: lang.Text("Level"), Value: w.level.Name, How: Follows, Matters: 3,
		Source: "ITU-T H.264, Table A-1",
		Why: lang.Text("The lowest that holds %s × %s macroblocks at %s: %s a second of %s.", strconv.Itoa(across),
			strconv.Itoa(down), c.Rate.Name(), number(float64(across*down)*c.Rate.Float()), strconv.Itoa(w.level.MBPS)),
		Changes: lang.Text("Another size, rate, bitrate or number of references; set it together with the references.")})
	w.add(Entered{ID: "references", Name: lang.Text("Reference pictures"), Also: []string{lang.Text("references"),
		"ref"}, Value: strconv.Itoa(refs), How: Follows, Matters: 3, Source: "ITU-T H.264, Table A-1",
		Why: lang.Text("What the preset wants; level %s keeps %s of this size at most.", w.level.Name,
			strconv.Itoa(w.level.MaxReferences(c.Width, c.Height)))})
	w.add(between)
	return refs
}

// colour adds how the picture is described: the school of chapter 8 is limited range, and full is a choice with a
// warning.
func (w *writer) colour(school string) {
	r := Entered{ID: "range", Name: lang.Text("Colour range"), Also: []string{lang.Text("video or PC levels"),
		"16–235 / 0–255"}, Value: lang.Text("limited"), How: Usual, Matters: 2,
		Source:  lang.Text("where habits differ"),
		Why:     lang.Text("BT.709 video is defined at 16 to 235, and players assume it unless it is flagged."),
		Changes: lang.Text("Choosing full range on the Send page, with a check of the whole path.")}
	if school == "full" {
		r.Value, r.How = lang.Text("full"), Said
		r.Why = lang.Text("Chosen. Players that do not read the flag show it too dark and too bright: check the whole path, from the source to the viewer's player.")
	}
	w.add(r)
	w.add(Entered{ID: "matrix", Name: lang.Text("Colour space"),
		Also: []string{lang.Text("matrix, primaries, transfer")}, Value: "BT.709", How: Usual, Matters: 3,
		Why:    lang.Text("HD is BT.709; MJPEG sources usually are BT.601 and have to be converted, or hues shift."),
		Source: "ITU-R BT.709"})
	w.add(Entered{ID: "chroma", Name: lang.Text("Colour format"), Also: []string{lang.Text("pixel format"),
		"NV12, I420"}, Value: "4:2:0, 8 bit", How: Usual, Matters: 3, Why: lang.Text("What destinations take."),
		Source: lang.Text("common practice")})
}

func (w *writer) sound(kbps float64, how How, tracks int) {
	w.add(Entered{ID: "audio-bitrate", Name: lang.Text("Audio bitrate"), Value: number(kbps), Unit: "kb/s", How: how,
		Matters: 2, Why: lang.Text("128 at least for music and speech."), Source: lang.Text("common practice"),
		Changes: lang.Text("A destination that takes less.")})
	w.add(Entered{ID: "audio-rate", Name: lang.Text("Sample rate"), Value: "48", Unit: "kHz", How: Usual, Matters: 2,
		Why:    lang.Text("48 kHz everywhere: nothing is resampled, nothing clicks."),
		Source: lang.Text("common practice")})
	w.add(Entered{ID: "audio-channels", Name: lang.Text("Channels"), Value: lang.Text("stereo"), How: Usual,
		Matters: 3, Why: lang.Text("A voice in the middle sounds the same on both."),
		Source: lang.Text("common practice")})
	if tracks > 0 && w.p.Kind == "recording" {
		w.add(Entered{ID: "audio-tracks", Name: lang.Text("Sound tracks"), Also: []string{lang.Text("audio tracks")},
			Value: strconv.Itoa(tracks), How: Proposed, Matters: 2,
			Why:    lang.Text("One for each microphone, so that each can be mended afterwards."),
			Source: lang.Text("common practice"), Changes: lang.Text("Another microphone.")})
	}
}

func (m *maker) recording(i int) Part {
	rec := &m.v.Show.Recordings[i]
	p := Part{ID: "recording-" + strconv.Itoa(i), Kind: "recording", Name: say.Sentence(m.v.RecordingName(i)),
		Lines: []Entered{}}
	w := writer{p: &p}
	c := m.v.KeptLike(i)
	if c == nil {
		p.Note = lang.Text("It is made by the device itself: set it there, and look how much is free on its card.")
		w.file(m, i)
		return p
	}
	said := func(is bool) How {
		if is {
			return Said
		}
		return Proposed
	}
	if c.Own {
		p.Note = lang.Text("The program records by itself, locally, while or after sending: switch that on.")
		w.file(m, i)
		return p
	}
	given := &m.v.Given.Show.Recordings[i]
	container := or(rec.Container, "fmp4")
	stream := len(c.Destinations) > 0
	tracks := max(1, rec.Tracks)
	if stream {
		w.add(Entered{ID: "encoder", Name: lang.Text("Encoder"), Value: lang.Text("the stream's own"),
			How: said(given.Encoder != ""), Matters: 1,
			Why:    lang.Text("The sent picture is kept as it was coded: no more work, and no better than the stream."),
			Source: lang.Text("chosen"), Changes: lang.Text("A computer with room to code twice.")})
	} else {
		w.size(m, c, p.Name)
		q := plans.QualityFor(rec, m.v.Show.Minutes)
		w.add(Entered{ID: "rate-control", Name: lang.Text("Rate control"), Also: []string{"CRF", "CQ", "QP", "ICQ"},
			Value: lang.Text("constant quality"), How: Usual, Matters: 1,
			Why:    lang.Text("A recording need not keep to a rate; the same number is not the same quality on every scale."),
			Source: lang.Text("common practice")})
		w.add(Entered{ID: "quality", Name: lang.Text("Quality"), Also: []string{"CRF", "CQ", "QP"},
			Value: say.Number(q), How: said(given.Quality > 0), Matters: 1,
			Why:     lang.Text("Smaller is better and larger: 16 for short clips, 20 for hours; six steps are twice the bytes."),
			Source:  lang.Text("common practice"),
			Changes: lang.Text("The length of the show, the room on the drive, a test recording.")})
		w.keyframes(2, h264.Keyframe(2, c.Rate), Usual,
			lang.Text("Every two seconds: a player finds its place quickly, and a crash costs no more than that."))
		refs := w.coder(m, c, said(c.Said), m.v.KeptPeak(i), 0, false)
		w.colour("")
		p.Command = recordingCommand(&command{c: c, name: p.Name, quality: q, frames: h264.Keyframe(2, c.Rate),
			refs: refs, level: w.level, container: container, tracks: tracks})
	}
	crash := Entered{ID: "container", Name: lang.Text("Container"), Also: []string{lang.Text("recording format"),
		lang.Text("file type")}, Value: plans.ContainerName(container), How: said(given.Container != ""), Matters: 1,
		Why:     lang.Text("It can be played after a crash, up to the last moments."),
		Source:  lang.Text("where habits differ"),
		Changes: lang.Text("An editor that takes no such file: change the container afterwards, without coding again.")}
	if container == "mp4" || container == "mov" {
		crash.Why = lang.Text("Plain: if power or program fails, everything since its start is lost. Use fragmented MP4 or Matroska.")
	}
	w.add(crash)
	w.sound(160, Usual, tracks)
	w.file(m, i)
	return p
}

// file adds what the file will be: how large, on which drive, and where it has to be split.
func (w *writer) file(m *maker, i int) {
	minutes := m.v.Show.Minutes
	kbps, gb := m.v.KeptWhole(i), m.v.KeptFileGB(i)
	l := Entered{ID: "file-size", Name: lang.Text("It will take"), Value: say.Span(gb.Low, gb.High, ""), Unit: "GB",
		How: Follows, Matters: 3, Source: lang.Text("bitrate with its sound × length of the show ÷ 8"),
		Why:     lang.Text("%s for %s min.", say.Span(kbps.Low, kbps.High, "kb/s"), say.Number(minutes)),
		Changes: lang.Text("A test recording of two minutes: size ÷ time says it better than what a player shows.")}
	w.add(l)
	for _, k := range m.v.KeptOn() {
		if k.Drive == nil || !slices.Contains(k.Recordings, i) {
			continue
		}
		where := k.Drive.Label
		if k.Drive.Gear.Kind == gear.Computer {
			where = lang.Text("the drive in %s", k.Drive.Label)
		}
		w.add(Entered{ID: "drive", Name: lang.Text("Recording path"), Also: []string{lang.Text("folder")},
			Value: where, How: Said, Matters: 1,
			Why:    lang.Text("It was judged for it: what it writes, and what is free on it."),
			Source: lang.Text("the rig"), Changes: lang.Text("Another drive on the Show page.")})
		if k.Drive.Gear.FileSystem == "fat32" {
			most := plans.MostFile / gb.High * minutes
			w.add(Entered{ID: "split", Name: lang.Text("Split the file"),
				Also: []string{lang.Text("automatic file splitting")}, Value: number(math.Floor(most)), Unit: "min",
				How: Follows, Matters: 1,
				Why: lang.Text("FAT32 ends a file at 4 GiB; at its highest rate it gets there in %s min.",
					say.Number(math.Floor(most))), Source: lang.Text("FAT32 keeps a file's length in 32 bits")})
		}
	}
}

// join puts one sentence behind another.
func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + " " + b
}

func or(s, other string) string {
	if s == "" {
		return other
	}
	return s
}
