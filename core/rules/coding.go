package rules

import (
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
	// KeyframeSeconds is the distance of its keyframes: 2, or the most its destinations take where that is less; 0 of what is not sent.
	KeyframeSeconds float64
	Call            string // who is called, where it is for a call
	word            string // what somebody has said codes it
}

// MpxS is what is coded, in millions of pixels a second.
func (c *Coding) MpxS() float64 {
	return float64(c.Width) * float64(c.Height) * c.Rate.Float() / mega
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

// codings lists what the computer codes, before anything is chosen.
func (p *Plan) codings() []Coding {
	sh := &p.Show
	own := !p.codesHere()
	out := p.Codings[:0]
	pr := [2]int{sh.Programme.Width, sh.Programme.Height}
	for _, g := range p.together() {
		d := &sh.Destinations[g.of[0]].Send
		c := Coding{Width: d.Width, Height: d.Height, Rate: d.Rate, From: pr, Own: own, KeyframeSeconds: g.keyframes(), Destinations: append(g.of, g.passed...)}
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
		if s := p.streamFrom(rec.What); s != nil {
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
		out = append(out, Coding{Width: 1280, Height: 720, Rate: picture.R(30), From: pr, Own: true, Call: name}) // as calls usually are [practice]
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
		out = append(out, Coding{Width: pr[0], Height: pr[1], Rate: sh.Programme.Rate, From: pr, Own: true, Call: sh.Also[i].Name})
	}
	if own && len(sh.Destinations) == 0 { // a studio or a call that sends somewhere nobody has named
		out = append(out, Coding{Width: pr[0], Height: pr[1], Rate: sh.Programme.Rate, From: pr, Own: true, Call: programName(sh.Program)})
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

// streamFrom is the stream by which a source reaches the computer; nil for the programme and for what does not.
func (p *Plan) streamFrom(source string) *Stream {
	for _, s := range p.Streams {
		if !s.other && s.Host != nil && s.where[0] == source {
			return s
		}
	}
	return nil
}

// computer is what the rules of the load know of a computer.
type computer struct {
	*rig.Item
	can   *gear.Computes // as it is stated; never nil
	class *gear.Computes // as its class has it
	slow  fact.Fact      // how many times slower it may be than it is rated: on its battery
}

// hostOf is the computer that takes the pictures; nil when the rig has none.
func (p *Plan) hostOf() *computer {
	it := p.Host()
	if it == nil {
		return nil
	}
	c := &computer{Item: it, can: it.Gear.Computes, class: gear.ByClass(it.Gear.Class), slow: fact.Known(1, fact.Practice)}
	if c.can == nil {
		c.can = &gear.Computes{}
	}
	if it.Set != nil && it.Set.RunsOn == "battery" {
		c.slow = fact.Est(1.3, 1, 2) // half to all of it [estimate: handbook 5.6]
	}
	return c
}

// open tells whether the class of the computer leaves room: nobody has said which kind it is.
func (c *computer) open() bool { return !slices.Contains(gear.Classes, c.Gear.Class) }

// encode is how fast it codes at veryfast.
func (c *computer) encode() limit.Fact {
	return c.fact("encodeMpxS", "Mpx/s", c.can.EncodeMpxS, func(can *gear.Computes) *fact.Fact { return can.EncodeMpxS })
}

// fact is a capacity as it is stated, or as the class has it. While neither is known, the class is what is asked for: one look at
// the computer says it, and it bounds everything at once.
func (c *computer) fact(field, unit string, have *fact.Fact, of func(*gear.Computes) *fact.Fact) limit.Fact {
	f := stated(key("items/ID/computes/"+field, c.ID), unit, have, *of(c.class))
	if have == nil && c.open() {
		f.Key, f.Word = key("items/ID/class", c.ID), "unknown"
		least, most := c.class.EncodeMpxS.Low, c.class.EncodeMpxS.High
		f.Open = func() (out []limit.Option) {
			for _, class := range gear.Classes {
				if can := gear.ByClass(class); can.EncodeMpxS.Low >= least && can.EncodeMpxS.High <= most { // a laptop is no desktop
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

// speedOf is what divides a coding's work: the facts and the share of veryfast, as work for one pixel.
func (c *computer) speedOf(l *limit.Limit, encode limit.Ref, coding *Coding) limit.Term {
	if have, of := c.can.OwnMpxS, c.can.EncodeMpxS; coding.Own && (have != nil || of != nil) {
		standIn := have
		if standIn == nil { // by its usual relation to what is known
			f := fact.Est(of.Value*ownSpeed.Value, of.Low*ownSpeed.Low, of.High*ownSpeed.High)
			standIn = &f
		}
		return limit.Times(1).Per(l.Let(stated(key("items/ID/computes/ownMpxS", c.ID), "Mpx/s", have, *standIn)))
	}
	if coding.Own {
		return limit.Times(1, l.Let(limit.Fact{Low: 1 / ownSpeed.High, Value: 1 / ownSpeed.Value, High: 1 / ownSpeed.Low, From: fact.Estimate})).Per(encode)
	}
	if have := *c.can.AtPreset(coding.Preset.Name); have != nil && coding.Preset.Name != "veryfast" {
		return limit.Times(1).Per(l.Let(stated(key("items/ID/computes/"+coding.Preset.Name+"MpxS", c.ID), "Mpx/s", have, *have)))
	}
	if of := c.can.EncodeMpxS; of != nil && coding.Preset.Name != "veryfast" { // by its usual relation to what is known
		pre := coding.Preset
		return limit.Times(1).Per(l.Let(stated(key("items/ID/computes/"+pre.Name+"MpxS", c.ID), "Mpx/s", nil, fact.Est(of.Value*pre.Speed, of.Low*pre.Low, of.High*pre.High))))
	}
	if coding.Preset.Low == coding.Preset.High {
		return limit.Times(1).Per(encode)
	}
	return limit.Times(1, l.Let(limit.Fact{Low: 1 / coding.Preset.High, Value: 1 / coding.Preset.Speed, High: 1 / coding.Preset.Low, From: fact.Estimate})).Per(encode)
}

// surely is how many pixels a second a preset codes at worst.
func (c *computer) surely(pre *h264.Preset) float64 {
	if have := *c.can.AtPreset(pre.Name); have != nil {
		return have.Low
	}
	if have := c.can.EncodeMpxS; have != nil {
		return have.Low * pre.Low
	}
	return c.class.EncodeMpxS.Low * pre.Low
}

// ownSurely is how many pixels a second programs that do as they like code at worst.
func (c *computer) ownSurely() float64 {
	if c.can.OwnMpxS != nil {
		return c.can.OwnMpxS.Low
	}
	return c.surely(veryfast) * ownSpeed.Low
}

var veryfast = h264.PresetNamed("veryfast")

// settle chooses what codes what nobody has chosen: the hardware encoder where there is one with room, else software at the
// slowest preset with which the processor stays slack, given what it has to do besides, the streams before the recordings; the
// fastest where none does.
func (p *Plan) settle(c *computer, besides float64) {
	room, sessions := 0.0, 0
	if h := c.can; h.Hardware != "" && h.Hardware != "none" {
		room = p.ceiling * orFact(h.HardwareMpxS, gear.DefaultHardware).Low
		sessions = int(orFact(h.HardwareSessions, gear.DefaultSessions).Low)
	}
	work := 0.0
	for i := range p.Codings {
		cd := &p.Codings[i]
		switch {
		case cd.Own:
			work += cd.MpxS() * c.slow.High / c.ownSurely()
			continue
		case cd.Preset != nil:
			work += cd.MpxS() * c.slow.High / c.surely(cd.Preset)
			continue
		case cd.Hardware:
			room, sessions = room-cd.MpxS(), sessions-1
		}
	}
	// What is sent gains most by a slower preset, since its bitrate is bound; a recording at constant quality only grows. So the
	// streams choose first, with the recordings at the fastest, then the recordings with what is left.
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
			share += cd.MpxS() * c.slow.High / c.surely(pre)
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
			if pre := &h264.Presets[i]; !fact.Over(besides+at(list, pre), p.ceiling) {
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
		return p.T("what %s sends", orElse(c.Call, lang.Text("a call")))
	}
	return List(names)
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

var Processor = rule(Rule{Name: "processor", Asks: "Does the processor get through everything it has to compute?", Sum: "system and idle programs + Σ pixels a second ÷ what the machine does of that work ≤ 100 %", Sense: limit.AtMost, Unit: "%", Over: limit.Drops, Subject: TheSend,
	Computing: true,
	Source:    estimate("what computers of its class usually do, until this one is measured"),
	Example:   "1080p30 coded at veryfast is 62.2 Mpx/s: of 150 to 400 Mpx/s 16 to 42 %; with 10 to 25 % for the system and a converted 1080p30 source 26 to 71 %: slack.",
	Judge:     Judging{OnRig: judgeComputer}})

var Graphics = rule(Rule{Name: "graphics", Asks: "Does the graphics processor compose the picture in time?", Sum: "layers × programme pixels a second ≤ what it composes", Sense: limit.AtMost, Unit: "Mpx/s", Over: limit.Drops, Subject: TheSend,
	Computing: true,
	Source:    estimate("Seldom the limit below 2160p60 with a handful of layers"),
	Example:   "Five sources in a 1080p60 programme are at most 622 Mpx/s of 2500: slack."})

var MemoryTraffic = rule(Rule{Name: "memory-traffic", Asks: "Does the memory carry every copy of the pictures?", Sum: "Σ each full copy, its bytes read and written", Sense: limit.AtMost, Unit: "GB/s", Over: limit.Drops, Subject: TheSend,
	Computing: true,
	Source:    estimate("Laptops move 15 to 50 GB/s, desktops 30 to 80"),
	Example:   "Each copy of a 1080p60 BGRA picture is 995 MB/s, read and written."})

var HardwareEncoder = rule(Rule{Name: "hardware-encoder", Asks: "Does the hardware encoder get through what it codes?", Sum: "Σ pixels a second it codes ≤ its rate", Sense: limit.AtMost, Unit: "Mpx/s", Over: limit.Drops, Subject: TheSend,
	Source:  estimate("250 to 1500 Mpx/s, until this one is measured"),
	Example: "1080p60 and a 1080p60 recording are 249 Mpx/s; of 250 to 1500 they are taut."})

var HardwareSessions = rule(Rule{Name: "hardware-sessions", Asks: "Does the hardware encoder code so many streams at once?", Sum: "streams ≤ sessions it allows", Sense: limit.AtMost, Unit: "streams", Ceiling: 1, Over: limit.Dark, Subject: TheSend,
	Source:  estimate("2 to 8 at once; some allow few"),
	Example: "Four streams on an encoder that allows three: the fourth does not start."})

// pixels are what a stream brings a second, in millions: as chosen, or between what its device may deliver. Of them, what has
// to be decoded from MJPEG and from H.264.
func (s *Stream) pixels() (all, mjpeg, h264 limit.Bounds) {
	point := func(w, h int, r picture.Rate) limit.Bounds {
		v := float64(w) * float64(h) * r.Float() / mega
		return limit.Bounds{Low: v, Value: v, High: v}
	}
	switch s.sends {
	case sendsChosen:
		all = point(s.chosen.width, s.chosen.height, s.chosen.rate)
		switch s.chosen.Format {
		case picture.MJPEG:
			mjpeg = all
		case picture.H264:
			h264 = all
		}
	case sendsUndecided:
		all = limit.Bounds{Low: math.Inf(1)}
		for i := range s.offers {
			o := &s.offers[i]
			at := point(o.width, o.height, o.rate)
			all.Low, all.High = min(all.Low, at.Low), max(all.High, at.High)
			switch o.Format {
			case picture.MJPEG:
				mjpeg.High = max(mjpeg.High, at.High)
			case picture.H264:
				h264.High = max(h264.High, at.High)
			}
		}
		all.Value = point(s.chosen.width, s.chosen.height, s.chosen.rate).Value
		switch s.chosen.Format {
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

// pixelFact is what a stream brings a second, for one nobody has chosen the picture of: the answer decides it.
func (s *Stream) pixelFact(px limit.Bounds) limit.Fact {
	f := s.facts[0]
	f.Unit, f.Low, f.Value, f.High = "Mpx/s", px.Low, px.Value, px.High
	open, offers := f.Open, s.offers
	f.Open = func() []limit.Option {
		out := open()
		for i := range out {
			if i < len(offers) {
				out[i].Number = float64(offers[i].width) * float64(offers[i].height) * offers[i].rate.Float() / mega
			} else {
				out[i].Number = px.Value
			}
			out[i].State = 0
		}
		return out
	}
	return f
}

// arrivedStreams are the pictures that reach a computer, each once.
func (p *Plan) arrivedStreams(host *rig.Item) (out []*Stream) {
	out = p.computed[:0]
	for _, s := range p.Streams {
		if s.arrived(host) {
			out = append(out, s)
		}
	}
	return out
}

func (s *Stream) arrived(host *rig.Item) bool {
	return !s.other && s.Host != nil && s.Host.ID == host.ID // a trial's host is a copy
}

// judgeComputer judges what the computer has to compute, place by place: processor, graphics processor, hardware encoder,
// memory.
func judgeComputer(p *Pass, own *Rule, _ *Walk) {
	c := p.hostOf()
	if c == nil {
		judgeKept(p)
		return
	}
	streams := p.arrivedStreams(c.Item)
	p.computed = streams
	if p.SameWork(c.Item, streams, own, Graphics, MemoryTraffic, HardwareEncoder, HardwareSessions) {
		judgeKept(p)
		return
	}
	slices.SortFunc(streams, compareStreams) // whatever the order of the items
	p.Codings = p.codings()
	where := p.passedBy(streams, c.ID, "send", "show")
	n := 3*len(streams) + 2*len(p.Codings) + 2 + 2*len(p.Show.Calls) + 3*len(p.Show.Besides)
	l := p.roomy(n+8, n)
	l.Stage, l.Shared, l.Where = Send, true, where
	idle := l.Let(stated(key("items/ID/computes/idleShare", c.ID), "", c.can.IdleShare, gear.DefaultIdle))
	besides := l.Fact(idle).High
	var slow limit.Ref
	if c.slow.High > 1 {
		slow = l.Let(limit.Fact{Low: c.slow.Low, Value: c.slow.Value, High: c.slow.High, From: fact.Estimate})
	}
	mem := p.scratch()
	jobs := slices.Grow(mem.jobs[:0], n)
	mem.jobs = jobs
	load := func(item string, t limit.Term, j job) {
		if slow != 0 && j.kind != idling {
			t = t.With(slow)
		}
		l.Loads = append(l.Loads, limit.Load{Item: item, Term: t.Scale(100)})
		jobs = append(jobs, j)
	}
	load(c.ID, limit.Times(1, idle), job{})
	var speeds [kinds]limit.Ref
	// work is so many Mpx/s of a kind of work, and the fact that is, where somebody may know it.
	work := func(item string, px limit.Bounds, known *limit.Fact, j job) {
		if px.High == 0 {
			return
		}
		if speeds[j.kind] == 0 {
			speeds[j.kind] = l.Let(c.does(j.kind))
		}
		t := limit.Times(px.Value)
		switch {
		case known != nil:
			t = limit.Times(1, l.Let(*known))
		case px.Low < px.High:
			t = limit.Times(1, l.Let(limit.Fact{Low: px.Low, Value: px.Value, High: px.High, From: fact.Estimate, Unit: "Mpx/s"}))
		}
		j.px = px
		load(item, t.Per(speeds[j.kind]), j)
		besides += px.High * c.slow.High / l.Fact(speeds[j.kind]).Low
	}
	traffic := p.roomy(len(streams)+1, len(streams)+1)
	pr := p.Show.Programme
	layer := float64(pr.Width) * float64(pr.Height) * pr.Rate.Float() / mega
	for _, s := range streams {
		all, m, h := s.pixels()
		work(s.Owner.ID, m, nil, job{kind: decodingMJPEG, of: s})
		work(s.Owner.ID, h, nil, job{kind: decodingH264, of: s})
		var asked *limit.Fact
		if all.Low < all.High {
			asked = new(s.pixelFact(all))
		}
		work(s.Owner.ID, all, asked, job{kind: converting, of: s})
		if s.combs {
			work(s.Owner.ID, all, nil, job{kind: combing, of: s})
		}
		t := limit.Times(all.Value * copiesIn / 1000)
		if all.Low < all.High {
			t = limit.Times(copiesIn/1000.0, traffic.Let(*asked))
		}
		traffic.Loads = append(traffic.Loads, limit.Load{Item: s.Owner.ID, Term: t})
	}
	for i := range p.Codings {
		if cd := &p.Codings[i]; cd.Scaled() {
			v := float64(cd.From[0]) * float64(cd.From[1]) * cd.Rate.Float() / mega
			work("send", limit.Bounds{Low: v, Value: v, High: v}, nil, job{kind: scaling, coding: i})
		}
	}
	besidesThis := p.besides()
	for i := range besidesThis {
		o := &besidesThis[i]
		var known *limit.Fact
		if !o.px.IsZero() {
			known = &o.px
		}
		work("show", boundsOf(o.px), known, job{kind: o.kind, beside: o.name})
		if o.kind != converting {
			work("show", boundsOf(o.px), known, job{kind: converting, beside: o.name})
		}
		t := limit.Times(o.px.Value * o.copies / 1000)
		if known != nil {
			t = limit.Times(o.copies/1000, traffic.Let(o.px))
		}
		traffic.Loads = append(traffic.Loads, limit.Load{Item: "show", Term: t})
	}
	var encode limit.Ref
	if slices.Contains(p.Show.Besides, rig.ScreenRecording) { // coded as the program that records it likes
		encode = l.Let(c.encode())
		own := c.speedOf(&l.Limit, encode, &Coding{Own: true})
		px := p.screen()
		load("show", own.With(l.Let(px)), job{kind: coding, beside: lang.Text("recording of the screen"), px: boundsOf(px)})
		besides += px.High * c.slow.High / c.ownSurely()
	}
	p.settle(c, besides)
	coded := 0.0
	for i := range p.Codings {
		cd := &p.Codings[i]
		coded += cd.MpxS()
		if cd.Hardware {
			continue
		}
		if encode == 0 {
			encode = l.Let(c.encode())
		}
		load("send", c.speedOf(&l.Limit, encode, cd).Scale(cd.MpxS()), job{kind: coding, coding: i})
	}
	l.Caps = p.cap(limit.Times(100))
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Processor of %s", c.Label), lang.Text("the whole machine")
		for i := range jobs {
			w.Loads[i] = w.job(&jobs[i])
		}
		w.Says = w.T("The processor of %s is %s busy.", c.Label, w.load())
		if w.Result.State == limit.Snapped || w.Result.State == limit.Untested {
			w.Says += lang.Text(" A late preview is the first sign; then frames are lost while composing, or while coding.")
		}
	}
	p.add(nil, own, c.ID, &l)

	p.graphics(c, len(streams), layer, where)
	p.memory(c, &traffic, coded, where)
	p.hardware(c)
	judgeKept(p)
}

// mpxS are so many pixels a second nobody is asked for.
func mpxS(b limit.Bounds) limit.Fact {
	return limit.Fact{Unit: "Mpx/s", Low: b.Low, Value: b.Value, High: b.High, From: fact.Estimate}
}

// sameWork tells whether a stream is the same work for the computer as another by the same socket.
func (s *Stream) sameWork(o *Stream) bool {
	same := func(a, b *delivery) bool {
		return a.Delivery == b.Delivery && a.at == b.at && a.width == b.width && a.height == b.height && a.rate == b.rate
	}
	return s.Owner.ID == o.Owner.ID && s.sends == o.sends && s.combs == o.combs && s.Width == o.Width && s.Height == o.Height && s.Rate == o.Rate &&
		same(&s.chosen, &o.chosen) && slices.EqualFunc(s.offers, o.offers, func(a, b delivery) bool { return same(&a, &b) }) && slices.Equal(s.brings, o.brings)
}

// job is one piece of the processor's work.
type job struct {
	kind   jobKind
	of     *Stream
	coding int
	px     limit.Bounds
	beside string // what it is of, where that is no source
}

type jobKind uint8

const (
	idling jobKind = iota // the system and what else is open
	decodingMJPEG
	decodingH264
	converting
	combing
	scaling
	coding
	kinds = iota
)

// does is how fast the computer does a kind of work.
func (c *computer) does(k jobKind) limit.Fact {
	switch k {
	case decodingMJPEG:
		return c.fact("mjpegMpxS", "Mpx/s", c.can.MJPEGMpxS, func(can *gear.Computes) *fact.Fact { return can.MJPEGMpxS })
	case decodingH264:
		return c.fact("h264MpxS", "Mpx/s", c.can.H264MpxS, func(can *gear.Computes) *fact.Fact { return can.H264MpxS })
	case combing:
		return c.fact("deinterlaceMpxS", "Mpx/s", c.can.DeinterlaceMpxS, func(can *gear.Computes) *fact.Fact { return can.DeinterlaceMpxS })
	case scaling:
		return c.fact("scaleMpxS", "Mpx/s", c.can.ScaleMpxS, func(can *gear.Computes) *fact.Fact { return can.ScaleMpxS })
	}
	return c.fact("convertMpxS", "Mpx/s", c.can.ConvertMpxS, func(can *gear.Computes) *fact.Fact { return can.ConvertMpxS })
}

// job puts a piece of work into words.
func (w *Words) job(j *job) LoadWords {
	var c *Coding
	if (j.kind == scaling || j.kind == coding) && j.beside == "" {
		c = &w.Codings[j.coding]
	}
	px := Span(j.px.Low, j.px.High, "Mpx/s")
	if j.beside != "" {
		switch j.kind {
		case decodingH264:
			return LoadWords{w.T("%s, decoded", j.beside), "H.264 " + px}
		case coding:
			return LoadWords{w.T("%s, coded", j.beside), px}
		}
		return LoadWords{w.T("%s, converted", j.beside), px}
	}
	switch j.kind {
	case idling:
		return LoadWords{lang.Text("system and what else is open"), ""}
	case decodingMJPEG:
		return LoadWords{w.T("%s, decoded", j.of.Owner.Label), "MJPEG " + px}
	case decodingH264:
		return LoadWords{w.T("%s, decoded", j.of.Owner.Label), "H.264 " + px}
	case combing:
		return LoadWords{w.T("%s, deinterlaced", j.of.Owner.Label), px}
	case scaling:
		return LoadWords{w.T("%s, scaled", w.CodingName(c)), px}
	case coding:
		return LoadWords{w.T("%s, coded", w.CodingName(c)), lang.Text("%s at %s: %s Mpx/s, %s", picture.SizeName(c.Width, c.Height), c.Rate.Name(), Number(c.MpxS()), CodedBy(c))}
	}
	return LoadWords{w.T("%s, converted", j.of.Owner.Label), px}
}

// passedBy are the ids of everything streams pass, each once, after some of their own.
func (p *Plan) passedBy(streams []*Stream, first ...string) []string {
	most := len(first)
	for _, s := range streams {
		most += len(s.where)
	}
	p.passed.begin(p.Mem.IDs.Room(most), most)
	p.passed.add(first)
	for _, s := range streams {
		p.passed.add(s.where)
	}
	return p.passed.ids
}

func compareStreams(a, b *Stream) int {
	switch {
	case a.ref < b.ref:
		return -1
	case a.ref > b.ref:
		return 1
	}
	return a.in - b.in
}

// graphics judges composing: one layer at least, all sources at most.
func (p *Pass) graphics(c *computer, sources int, layer float64, where []string) {
	if sources == 0 {
		return
	}
	at := limit.Fact{Key: key("show/layers", ""), Low: 1, Value: min(2, float64(sources)), High: float64(sources), From: fact.Estimate}
	if n := float64(p.layers()); n > 0 {
		at.Low, at.Value, at.High, at.From = n, n, n, fact.Given
	}
	l := Result{Stage: Send, Shared: true, Where: where}
	small := stated(key("show/previewPct", ""), "%", p.Show.PreviewPct, previewPct)
	l.Facts = p.facts(at, c.fact("composeMpxS", "Mpx/s", c.can.ComposeMpxS, func(can *gear.Computes) *fact.Fact { return can.ComposeMpxS }), small)
	l.Loads, l.Caps = p.Mem.Loads.Of(limit.Load{Item: c.ID, Term: limit.Times(layer, 1)}, limit.Load{Item: c.ID, Term: limit.Times(float64(sources+1)*layer/100, 3)}), secondFact
	if g := p.Show.GamePct; g != nil { // a share of the same processor, whatever its capacity: what it leaves
		left := limit.Fact{Key: key("show/gamePct", ""), Unit: "%", Low: max(0, 100-g.High), Value: max(0, 100-g.Value), High: max(0, 100-g.Low), From: g.From}
		l.Caps = p.cap(limit.Times(0.01, 2, l.Let(left)))
	}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Composing by %s", c.Label), lang.Text("its graphics processor")
		if g := p.Show.GamePct; g != nil {
			w.Sum = w.T("its graphics processor, less the %s a game or graphics work takes", Span(g.Low, g.High, "%"))
			w.Facts[3].Name = lang.Text("what is left beside a game or graphics work")
		}
		w.Loads[0] = LoadWords{lang.Text("layers on air at once"), w.T("%s × %s Mpx/s of the programme", Span(at.Low, at.High, ""), Number(layer))}
		w.Loads[1] = LoadWords{lang.Text("previews of every source and of the programme"), w.T("%s × %s Mpx/s × %s", Number(float64(sources+1)), Number(layer), Span(small.Low, small.High, "%"))}
		w.Says = w.T("%s of %s.", w.load(), w.limit())
	}
	p.add(nil, Graphics, c.ID, &l)
}

// Bytes a pixel of the copies that are counted [handbook 5.6: a full copy counts its bytes twice; which copies programs make is an
// estimate]: a source is written as it comes (up to 2 bytes, 4:2:2) and read, then written
// and read once more as BGRA for composing; the programme is read as BGRA and written and read as NV12 for each coding.
const (
	copiesIn  = 2*2 + 2*4
	copiesOut = 2*4 + 2*1.5
)

func (p *Pass) memory(c *computer, l *Result, coded float64, where []string) {
	l.Stage, l.Shared, l.Where = Send, true, where
	l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(coded * copiesOut / 1000)})
	l.Caps = p.cap(limit.Times(1, l.Let(c.fact("memoryGBps", "GB/s", c.can.MemoryGBps, func(can *gear.Computes) *fact.Fact { return can.MemoryGBps }))))
	n := len(l.Loads) - 1
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Memory traffic of %s", c.Label), lang.Text("what its memory moves")
		besides := w.besides()
		for i := range n {
			w.Loads[i].Sum = w.T("pixels a second × %s bytes, read and written", Number(copiesIn))
			if k := i - (n - len(besides)); k >= 0 {
				w.Loads[i] = LoadWords{besides[k].name, w.T("pixels a second × %s bytes, read and written", Number(besides[k].copies))}
			}
		}
		w.Loads[n] = LoadWords{lang.Text("pictures that are coded"), w.T("%s Mpx/s × %s bytes a pixel, read and written", Number(coded), Number(copiesOut))}
		w.Says = w.T("%s of %s.", w.load(), w.limit())
	}
	p.add(nil, MemoryTraffic, c.ID, l)
}

// hardware judges the hardware encoder, where anything is coded by it.
func (p *Pass) hardware(c *computer) {
	n, work := 0, 0.0
	for i := range p.Codings {
		if p.Codings[i].Hardware {
			n, work = n+1, work+p.Codings[i].MpxS()
		}
	}
	if n == 0 {
		return
	}
	name := c.can.Hardware
	if name == "" || name == "none" {
		name = lang.Text("the hardware encoder")
	}
	where := []string{c.ID, "send", "show"}
	l := Result{Stage: Send, Shared: true, Where: where}
	l.Facts = p.facts(stated(key("items/ID/computes/hardwareMpxS", c.ID), "Mpx/s", c.can.HardwareMpxS, gear.DefaultHardware))
	l.Loads, l.Caps = p.load("send", limit.Times(work)), firstFact
	if c.can.Hardware == "none" {
		l.Facts[0].Low, l.Facts[0].Value, l.Facts[0].High = 0, 0, 0
	} else if c.can.Hardware == "" { // whether there is one at all, nobody has said
		l.Facts[0].Low = 0
	}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Hardware encoder of %s", c.Label), name
		w.Loads[0] = LoadWords{Count(n, "picture", "pictures"), lang.Text("pixels a second")}
		w.Says = w.T("%s of %s.", w.load(), w.limit())
		if c.can.Hardware == "none" {
			w.Says = w.T("%s has no hardware encoder that opens.", c.Label)
		}
	}
	p.add(nil, HardwareEncoder, c.ID, &l)
	s := Result{Stage: Send, Shared: true, Where: where}
	s.Facts = p.facts(stated(key("items/ID/computes/hardwareSessions", c.ID), "", c.can.HardwareSessions, gear.DefaultSessions))
	s.Loads, s.Caps = p.load("send", limit.Times(float64(n))), firstFact
	s.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Streams the hardware encoder of %s codes at once", c.Label), name, LoadWords{lang.Text("streams"), ""}
		w.Says = w.T("%s of %s.", Sentence(Count(n, "stream", "streams")), Span(w.Result.Sure, w.Result.Possible, ""))
	}
	p.add(nil, HardwareSessions, c.ID, &s)
}

// Video is the video bitrate to a destination, Audio that of its sound, Kept that of a recording's picture: kb/s, with bounds.
func (p *Plan) Video(i int) limit.Bounds { return boundsOf(p.video(i)) }
func (p *Plan) Audio(i int) limit.Bounds { return boundsOf(p.audio(i)) }
func (p *Plan) Kept(i int) limit.Bounds  { return boundsOf(p.keptKbps(i)) }

// Upload is what the line carries, Mb/s.
func (p *Plan) Upload() limit.Bounds { return boundsOf(p.upload()) }

func boundsOf(f limit.Fact) limit.Bounds {
	return limit.Bounds{Low: f.Low, Value: f.Value, High: f.High}
}

// QualityFor is the constant quality to record at: 16 to 20, smaller for short shows, larger for hours [practice: handbook 5.3]; that
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

// keptBits are the bits a pixel of a recording: at quality 18 by content, twice as many every six steps down [estimate: handbook
// 5.5, 5.9]; of what a camera or recorder writes by itself, from a frugal to a generous setting [estimate].
var (
	keptBits = fact.Est(0.4, 0.05, 1.2)
	ownBits  = fact.Est(0.8, 0.2, 3.5)
)

// keptKbps is the bitrate of a recording.
func (p *Plan) keptKbps(i int) limit.Fact {
	rec := &p.Show.Recordings[i]
	at := part("show/recordings/N/kbps", "", strconv.Itoa(i))
	if c := p.KeptLike(i); c != nil && len(c.Destinations) > 0 {
		return p.video(c.Destinations[0]) // the stream itself
	}
	w, h, r := p.KeptPicture(i)
	px := float64(w) * float64(h) * r.Float() / 1000
	if rec.RawBits > 0 && rec.InCamera { // w·h·bits·rate ÷ 8 ÷ compression [handbook 5.5]
		kbps := px * float64(rec.RawBits) / max(rec.RawRatio, 1)
		return stated(at, "kb/s", rec.Kbps, fact.Exactly(kbps))
	}
	b := ownBits
	if p.ByComputer(rec) {
		b = keptBits
		k := math.Exp2((18 - QualityFor(rec, p.Show.Minutes)) / 6)
		b.Low, b.Value, b.High = b.Low*k, b.Value*k, b.High*k
	}
	return stated(at, "kb/s", rec.Kbps, fact.Est(px*b.Value, px*b.Low, px*b.High))
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
