package plans

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/h264"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// Coding is one picture the computer codes: for one destination or several, for a recording, for a call.
type Coding struct {
	Width, Height int
	Rate          picture.Rate
	From          [2]int // size of what it is made from: the programme, or a source
	// Preset of software H.264; nil where hardware codes, and where the program does as it likes (Own).
	Preset       *h264.Preset
	Hardware     bool
	Own          bool
	Said         bool  // somebody has chosen what codes it
	Destinations []int // what is passed on comes last
	Recordings   []int
	// KeyframeSeconds is the distance of its keyframes: 2, or the most its destinations take where that is less; 0 of
	// what is not sent.
	KeyframeSeconds float64
	Call            string // who is called, where it is for a call
	word            string // what somebody has said codes it
}

// MpxS is what is coded, in millions of pixels a second.
func (c *Coding) MpxS() float64 {
	return float64(c.Width) * float64(c.Height) * c.Rate.Float() / say.Mega
}

// Scaled tells whether the picture is made larger or smaller before it is coded.
func (c *Coding) Scaled() bool { return c.From != [2]int{c.Width, c.Height} }

// SentLike is the coding a destination gets; nil where the program codes nothing for it.
func (p *Plan) SentLike(destination int) *Coding {
	for i := range p.Codings {
		if slices.Contains(p.Codings[i].Destinations, destination) {
			return &p.Codings[i]
		}
	}
	return nil
}

// KeptLike is the coding a recording is made of; nil where the computer does not make it.
func (p *Plan) KeptLike(recording int) *Coding {
	for i := range p.Codings {
		if slices.Contains(p.Codings[i].Recordings, recording) {
			return &p.Codings[i]
		}
	}
	return nil
}

// KeepsStream is the word of a recording that keeps the sent picture as it was coded.
const KeepsStream = "stream"

// WantedCodings lists what the computer codes, before anything is chosen.
func (p *Plan) WantedCodings() []Coding {
	sh := &p.Show
	own := !p.CodesHere()
	out := p.Codings[:0]
	pr := [2]int{sh.Programme.Width, sh.Programme.Height}
	for _, g := range p.together() {
		d := &sh.Destinations[g.of[0]].Send
		c := Coding{Width: d.Width, Height: d.Height, Rate: d.Rate, From: pr, Own: own, KeyframeSeconds: g.keyframes(),
			Destinations: append(g.of, g.passed...)}
		c.choose(g.word) // what nobody has chosen goes with what somebody has
		out = append(out, c)
	}
	for i := range sh.Recordings {
		rec := &sh.Recordings[i]
		if !p.ByComputer(rec) {
			continue
		}
		if rec.Encoder == KeepsStream && rec.What == "programme" && len(out) > 0 && len(out[0].Destinations) > 0 {
			out[0].Recordings = append(out[0].Recordings, i)
			continue
		}
		c := Coding{From: pr, Rate: sh.Programme.Rate, Recordings: []int{i}, Own: own && rec.What == "programme"}
		if s := p.StreamFrom(rec.What); s != nil {
			c.From, c.Rate = [2]int{s.Width, s.Height}, s.Rate
		}
		c.Width, c.Height = c.From[0], c.From[1]
		if rec.Width > 0 && rec.Height > 0 {
			c.Width, c.Height = rec.Width, rec.Height
		}
		if rec.Encoder != KeepsStream {
			c.choose(rec.Encoder)
		}
		out = append(out, c)
	}
	calls := func(name string) {
		out = append(out, Coding{Width: 1280, Height: 720, Rate: picture.R(30), From: pr, Own: true,
			Call: name}) // as calls usually are [practice]
	}
	for i := range sh.Calls {
		calls(sh.Calls[i].Name)
	}
	for i := range sh.Also {
		if sh.Also[i].Kind != "encoder" {
			calls(sh.Also[i].Name)
			continue
		}
		// What another encoder sends nobody has said: as much as the programme, as it likes.
		out = append(out, Coding{Width: pr[0], Height: pr[1], Rate: sh.Programme.Rate, From: pr, Own: true,
			Call: sh.Also[i].Name})
	}
	if own && len(sh.Destinations) == 0 { // a studio or a call that sends somewhere nobody has named
		out = append(out, Coding{Width: pr[0], Height: pr[1], Rate: sh.Programme.Rate, From: pr, Own: true,
			Call: ProgramName(sh.Program)})
	}
	return out
}

// choose notes what somebody has said codes it.
func (c *Coding) choose(word string) {
	if c.Own || word == "" {
		return
	}
	c.word, c.Said, c.Hardware, c.Preset = word, true, word == "hardware", h264.PresetNamed(word)
}

// ByComputer tells whether the computer makes a recording, not a camera or a recorder.
func (p *Plan) ByComputer(rec *rig.Recording) bool {
	if rec.InCamera {
		return false
	}
	at := p.Wiring.At(rec.Drive)
	return at < 0 || p.Items[at].Gear.Kind != gear.Recorder
}

// StreamFrom is the stream by which a source reaches the computer; nil for the programme and for what does not.
func (p *Plan) StreamFrom(source string) *Stream {
	for _, s := range p.Streams {
		if !s.Other && s.Host != nil && s.Where[0] == source {
			return s
		}
	}
	return nil
}

// Computer is what the rules of the load know of a computer.
type Computer struct {
	*rig.Item
	Can   *gear.Computes // as it is stated; never nil
	class *gear.Computes // as its class has it
	Slow  fact.Fact      // how many times slower it may be than it is rated: on its battery
}

// HostOf is the computer that takes the pictures; nil when the rig has none.
func (p *Plan) HostOf() *Computer {
	it := p.Host()
	if it == nil {
		return nil
	}
	c := &Computer{Item: it, Can: it.Gear.Computes, class: gear.ByClass(it.Gear.Class),
		Slow: fact.Known(1, fact.Practice)}
	if c.Can == nil {
		c.Can = &gear.Computes{}
	}
	if it.Set != nil && it.Set.RunsOn == "battery" {
		c.Slow = fact.Est(1.3, 1, 2) // half to all of it [estimate]
	}
	return c
}

// open tells whether the class of the computer leaves room: nobody has said which kind it is.
func (c *Computer) open() bool { return !slices.Contains(gear.Classes, c.Gear.Class) }

// Encode is how fast it codes at veryfast.
func (c *Computer) Encode() limit.Fact {
	return c.Fact("encodeMpxS", "Mpx/s", c.Can.EncodeMpxS, func(can *gear.Computes) *fact.Fact {
		return can.EncodeMpxS
	})
}

// Fact is a capacity as it is stated, or as the class has it. While neither is known, the class is what is asked for:
// one look at the computer says it, and it bounds everything at once.
func (c *Computer) Fact(field, unit string, have *fact.Fact, of func(*gear.Computes) *fact.Fact) limit.Fact {
	f := limit.Stated(limit.At("items/ID/computes/"+field, c.ID), unit, have, *of(c.class))
	if have == nil && c.open() {
		f.Key, f.Word = limit.At("items/ID/class", c.ID), "unknown"
		least, most := c.class.EncodeMpxS.Low, c.class.EncodeMpxS.High
		f.Open = func() (out []limit.Option) {
			for _, class := range gear.Classes {
				if can := gear.ByClass(class); can.EncodeMpxS.Low >= least && can.EncodeMpxS.High <= most {
					// a laptop is no desktop
					out = append(out, limit.Option{Word: string(class), Number: of(can).Value})
				}
			}
			return out
		}
	}
	return f
}

// ownSpeed is how fast programs code that do as they like, against veryfast: browsers and calls code fast and plainly
// [estimate].
var ownSpeed = fact.Est(1.5, 0.8, 3)

// SpeedOf is what divides a coding's work: the facts and the share of veryfast, as work for one pixel.
func (c *Computer) SpeedOf(l *limit.Limit, encode limit.Ref, coding *Coding) limit.Term {
	if have, of := c.Can.OwnMpxS, c.Can.EncodeMpxS; coding.Own && (have != nil || of != nil) {
		standIn := have
		if standIn == nil { // by its usual relation to what is known
			f := fact.Est(of.Value*ownSpeed.Value, of.Low*ownSpeed.Low, of.High*ownSpeed.High)
			standIn = &f
		}
		return limit.Times(1).Per(l.Let(limit.Stated(limit.At("items/ID/computes/ownMpxS", c.ID), "Mpx/s", have,
			*standIn)))
	}
	if coding.Own {
		return limit.Times(1, l.Let(limit.Fact{Low: 1 / ownSpeed.High, Value: 1 / ownSpeed.Value,
			High: 1 / ownSpeed.Low, From: fact.Estimate})).Per(encode)
	}
	if have := *c.Can.AtPreset(coding.Preset.Name); have != nil && coding.Preset.Name != "veryfast" {
		return limit.Times(1).Per(l.Let(limit.Stated(limit.At("items/ID/computes/"+coding.Preset.Name+"MpxS", c.ID),
			"Mpx/s", have, *have)))
	}
	if of := c.Can.EncodeMpxS; of != nil && coding.Preset.Name != "veryfast" { // by its usual relation to what is known
		pre := coding.Preset
		return limit.Times(1).Per(l.Let(limit.Stated(limit.At("items/ID/computes/"+pre.Name+"MpxS", c.ID), "Mpx/s",
			nil, fact.Est(of.Value*pre.Speed, of.Low*pre.Low, of.High*pre.High))))
	}
	if coding.Preset.Low == coding.Preset.High {
		return limit.Times(1).Per(encode)
	}
	return limit.Times(1, l.Let(limit.Fact{Low: 1 / coding.Preset.High, Value: 1 / coding.Preset.Speed,
		High: 1 / coding.Preset.Low, From: fact.Estimate})).Per(encode)
}

// surely is how many pixels a second a preset codes at worst.
func (c *Computer) surely(pre *h264.Preset) float64 {
	if have := *c.Can.AtPreset(pre.Name); have != nil {
		return have.Low
	}
	if have := c.Can.EncodeMpxS; have != nil {
		return have.Low * pre.Low
	}
	return c.class.EncodeMpxS.Low * pre.Low
}

// OwnSurely is how many pixels a second programs that do as they like code at worst.
func (c *Computer) OwnSurely() float64 {
	if c.Can.OwnMpxS != nil {
		return c.Can.OwnMpxS.Low
	}
	return c.surely(veryfast) * ownSpeed.Low
}

var veryfast = h264.PresetNamed("veryfast")

// Settle chooses what codes what nobody has chosen: the hardware encoder where there is one with room, else software at
// the slowest preset with which the processor stays slack, given what it has to do besides, the streams before the
// recordings; the fastest where none does.
func (p *Plan) Settle(c *Computer, besides float64) {
	room, sessions := 0.0, 0
	if h := c.Can; h.Hardware != "" && h.Hardware != "none" {
		room = p.Ceiling * orFact(h.HardwareMpxS, gear.DefaultHardware).Low
		sessions = int(orFact(h.HardwareSessions, gear.DefaultSessions).Low)
	}
	work := 0.0
	for i := range p.Codings {
		cd := &p.Codings[i]
		switch {
		case cd.Own:
			work += cd.MpxS() * c.Slow.High / c.OwnSurely()
			continue
		case cd.Preset != nil:
			work += cd.MpxS() * c.Slow.High / c.surely(cd.Preset)
			continue
		case cd.Hardware:
			room, sessions = room-cd.MpxS(), sessions-1
		}
	}
	// What is sent gains most by a slower preset, since its bitrate is bound; a recording at constant quality only
	// grows. So the streams choose first, with the recordings at the fastest, then the recordings with what is left.
	var sent, kept []*Coding
	for i := range p.Codings {
		cd := &p.Codings[i]
		switch {
		case cd.Own || cd.Said:
		case sessions > 0 && cd.MpxS() <= room:
			cd.Hardware, room, sessions = true, room-cd.MpxS(), sessions-1
		case len(cd.Destinations) > 0:
			sent = append(sent, cd)
		default:
			kept = append(kept, cd)
		}
	}
	at := func(list []*Coding, pre *h264.Preset) (share float64) {
		for _, cd := range list {
			share += cd.MpxS() * c.Slow.High / c.surely(pre)
		}
		return share
	}
	fastest := &h264.Presets[0]
	for i := range h264.Presets {
		if pre := &h264.Presets[i]; c.surely(pre) > c.surely(fastest) {
			fastest = pre
		}
	}
	choose := func(list []*Coding, besides float64) (share float64) {
		chosen := fastest
		for i := len(h264.Presets) - 1; i >= 0; i-- {
			if pre := &h264.Presets[i]; !fact.Over(besides+at(list, pre), p.Ceiling) {
				chosen = pre
				break
			}
		}
		for _, cd := range list {
			cd.Preset = chosen
		}
		return at(list, chosen)
	}
	taken := choose(sent, besides+work+at(kept, fastest))
	choose(kept, besides+work+taken)
}

func orFact(f *fact.Fact, standIn fact.Fact) fact.Fact {
	if f != nil {
		return *f
	}
	return standIn
}

// CodingName is what a coding is for.
func (p *Plan) CodingName(c *Coding) string {
	var names []string
	for _, i := range c.Destinations {
		names = append(names, p.Show.Destinations[i].Name)
	}
	for _, i := range c.Recordings {
		names = append(names, p.T("recording of %s", p.RecordingOf(&p.Show.Recordings[i])))
	}
	if len(names) == 0 {
		return p.T("what %s sends", cmp.Or(c.Call, lang.Text("a call")))
	}
	return say.List(names)
}

// CodedBy is what codes it, in words.
func CodedBy(c *Coding) string {
	switch {
	case c.Own:
		return lang.Text("the program by itself")
	case c.Hardware:
		return lang.Text("the hardware encoder")
	}
	return lang.Text("software, %s", c.Preset.Name)
}

// Pixels are what a stream brings a second, in millions: as chosen, or between what its device may deliver. Of them,
// what has to be decoded from MJPEG and from H.264.
func (s *Stream) Pixels() (all, mjpeg, h264 limit.Bounds) {
	point := func(w, h int, r picture.Rate) limit.Bounds {
		v := float64(w) * float64(h) * r.Float() / say.Mega
		return limit.Bounds{Low: v, Value: v, High: v}
	}
	switch s.Sends {
	case sendsChosen:
		all = point(s.Chosen.Width, s.Chosen.Height, s.Chosen.Rate)
		switch s.Chosen.Format {
		case picture.MJPEG:
			mjpeg = all
		case picture.H264:
			h264 = all
		}
	case SendsUndecided:
		all = limit.Bounds{Low: math.Inf(1)}
		for i := range s.offers {
			o := &s.offers[i]
			at := point(o.Width, o.Height, o.Rate)
			all.Low, all.High = min(all.Low, at.Low), max(all.High, at.High)
			switch o.Format {
			case picture.MJPEG:
				mjpeg.High = max(mjpeg.High, at.High)
			case picture.H264:
				h264.High = max(h264.High, at.High)
			}
		}
		all.Value = point(s.Chosen.Width, s.Chosen.Height, s.Chosen.Rate).Value
		switch s.Chosen.Format {
		case picture.MJPEG:
			mjpeg.Value = all.Value
		case picture.H264:
			h264.Value = all.Value
		}
	default: // a small picture to 2160p60, as unknownStream has it
		all = limit.Bounds{Low: 9, Value: 62, High: 500}
		mjpeg = limit.Bounds{High: 500}
	}
	return all, mjpeg, h264
}

// PixelFact is what a stream brings a second, for one nobody has chosen the picture of: the answer decides it.
func (s *Stream) PixelFact(px limit.Bounds) limit.Fact {
	f := s.Facts[0]
	f.Unit, f.Low, f.Value, f.High = "Mpx/s", px.Low, px.Value, px.High
	open, offers := f.Open, s.offers
	f.Open = func() []limit.Option {
		out := open()
		for i := range out {
			if i < len(offers) {
				out[i].Number = float64(offers[i].Width) * float64(offers[i].Height) * offers[i].Rate.Float() / say.Mega
			} else {
				out[i].Number = px.Value
			}
			out[i].State = 0
		}
		return out
	}
	return f
}

// ArrivedStreams are the pictures that reach a computer, each once.
func (p *Plan) ArrivedStreams(host *rig.Item) (out []*Stream) {
	out = p.Computed[:0]
	for _, s := range p.Streams {
		if s.Arrived(host) {
			out = append(out, s)
		}
	}
	return out
}

// Arrived tells whether a picture gets to the computer by it.
func (s *Stream) Arrived(host *rig.Item) bool {
	return !s.Other && s.Host != nil && s.Host.ID == host.ID // a trial's host is a copy
}

// mpxS are so many pixels a second nobody is asked for.
func mpxS(b limit.Bounds) limit.Fact {
	return limit.Fact{Unit: "Mpx/s", Low: b.Low, Value: b.Value, High: b.High, From: fact.Estimate}
}

// SameWork tells whether a stream is the same work for the computer as another by the same socket.
func (s *Stream) SameWork(o *Stream) bool {
	same := func(a, b *Delivery) bool {
		return a.Delivery == b.Delivery && a.At == b.At && a.Width == b.Width && a.Height == b.Height && a.Rate ==
			b.Rate
	}
	return s.Owner.ID == o.Owner.ID && s.Sends == o.Sends && s.Combs == o.Combs && s.Width == o.Width && s.Height ==
		o.Height && s.Rate == o.Rate &&
		same(&s.Chosen, &o.Chosen) && slices.EqualFunc(s.offers, o.offers, func(a, b Delivery) bool {
		return same(&a, &b)
	}) && slices.Equal(s.Brings, o.Brings)
}

// JobKind is a kind of work the computer does with a picture.
type JobKind uint8

const (
	IdlingWork JobKind = iota // the system and what else is open
	DecodingMJPEG
	DecodingH264
	ConvertingWork
	DeinterlacingWork
	ScalingWork
	CodingWork
	Kinds = iota
)

// PassedBy are the ids of everything streams pass, each once, after some of their own.
func (p *Plan) PassedBy(streams []*Stream, first ...string) []string {
	most := len(first)
	for _, s := range streams {
		most += len(s.Where)
	}
	p.passed.begin(p.Mem.IDs.Room(most), most)
	p.passed.add(first)
	for _, s := range streams {
		p.passed.add(s.Where)
	}
	return p.passed.ids
}

// CompareStreams orders streams by their sockets, whatever the order of the items.
func CompareStreams(a, b *Stream) int {
	switch {
	case a.Ref < b.Ref:
		return -1
	case a.Ref > b.Ref:
		return 1
	}
	return a.Input - b.Input
}

// Bytes a pixel of the copies that are counted [a full copy counts its bytes twice; which copies programs
// make is an estimate]: a source is written as it comes (up to 2 bytes, 4:2:2) and read, then written and read once
// more as BGRA for composing; the programme is read as BGRA and written and read as NV12 for each coding.
const (
	CopiesIn  = 2*2 + 2*4
	CopiesOut = 2*4 + 2*1.5
)

// Video is the video bitrate to a destination, Audio that of its sound, Kept that of a recording's picture: kb/s, with
// bounds.
func (p *Plan) Video(i int) limit.Bounds { return BoundsOf(p.VideoFact(i)) }

// Audio is the sound sent to the i-th destination, kb/s.
func (p *Plan) Audio(i int) limit.Bounds { return BoundsOf(p.AudioFact(i)) }

// Kept is what the i-th recording writes of picture, kb/s.
func (p *Plan) Kept(i int) limit.Bounds { return BoundsOf(p.KeptFact(i)) }

// Upload is what the line carries, Mb/s.
func (p *Plan) Upload() limit.Bounds { return BoundsOf(p.UploadFact()) }

// BoundsOf are the bounds of a fact.
func BoundsOf(f limit.Fact) limit.Bounds {
	return limit.Bounds{Low: f.Low, Value: f.Value, High: f.High}
}

// QualityFor is the constant quality to record at: 16 to 20, smaller for short shows, larger for hours [practice]; that
// short ends at half an hour and hours begin after two is ours [estimate].
func QualityFor(rec *rig.Recording, minutes float64) float64 {
	switch {
	case rec.Quality > 0:
		return rec.Quality
	case minutes <= 30:
		return 16
	case minutes <= 120:
		return 18
	}
	return 20
}

// keptBits are the bits a pixel of a recording: at quality 18 by content, twice as many every six steps down
// [estimate]; of what a camera or recorder writes by itself, from a frugal to a generous setting [estimate].
var (
	keptBits = fact.Est(0.4, 0.05, 1.2)
	ownBits  = fact.Est(0.8, 0.2, 3.5)
)

// KeptFact is the bitrate of a recording.
func (p *Plan) KeptFact(i int) limit.Fact {
	rec := &p.Show.Recordings[i]
	at := limit.Part("show/recordings/N/kbps", "", strconv.Itoa(i))
	if c := p.KeptLike(i); c != nil && len(c.Destinations) > 0 {
		return p.VideoFact(c.Destinations[0]) // the stream itself
	}
	w, h, r := p.KeptPicture(i)
	px := float64(w) * float64(h) * r.Float() / 1000
	if rec.RawBits > 0 && rec.InCamera { // w·h·bits·rate ÷ 8 ÷ compression [practice]
		kbps := px * float64(rec.RawBits) / max(rec.RawRatio, 1)
		return limit.Stated(at, "kb/s", rec.Kbps, fact.Exactly(kbps))
	}
	b := ownBits
	if p.ByComputer(rec) {
		b = keptBits
		k := math.Exp2((18 - QualityFor(rec, p.Show.Minutes)) / 6)
		b.Low, b.Value, b.High = b.Low*k, b.Value*k, b.High*k
	}
	return limit.Stated(at, "kb/s", rec.Kbps, fact.Est(px*b.Value, px*b.Low, px*b.High))
}

// KeptPicture is the picture a recording is of.
func (p *Plan) KeptPicture(i int) (w, h int, r picture.Rate) {
	rec := &p.Show.Recordings[i]
	if c := p.KeptLike(i); c != nil {
		return c.Width, c.Height, c.Rate
	}
	w, h, r = p.Show.Programme.Width, p.Show.Programme.Height, p.Show.Programme.Rate
	most := 0.0
	if it := p.Item(rec.What); it != nil && it.Set != nil {
		for k := range it.Gear.Ports { // what it sends is what it records, as a rule
			m, ok := it.Set.Output[it.Gear.Ports[k].ID]
			if px := float64(m.Width*m.Height) * m.Rate.Float(); ok && px > most {
				w, h, r, most = m.Width, m.Height, m.Rate, px
			}
		}
	}
	if rec.Width > 0 && rec.Height > 0 {
		w, h = rec.Width, rec.Height
	}
	return w, h, r
}
