package rules

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

var Processor = rule(Rule{
	Name:      "processor",
	Asks:      "Does the processor get through everything it has to compute?",
	Sum:       "system and idle programs + Σ pixels a second ÷ what the machine does of that work ≤ 100 %",
	Sense:     limit.AtMost,
	Unit:      "%",
	Over:      limit.Drops,
	Subject:   TheSend,
	Computing: true,
	Source:    estimate("what computers of its class usually do, until this one is measured"),
	Example:   "1080p30 coded at veryfast is 62.2 Mpx/s: of 150 to 400 Mpx/s 16 to 42 %; with 10 to 25 % for the system and a converted 1080p30 source 26 to 71 %: slack.",
	Judge:     Judging{OnRig: judgeComputer},
})

var Graphics = rule(Rule{
	Name:      "graphics",
	Asks:      "Does the graphics processor compose the picture in time?",
	Sum:       "layers × programme pixels a second ≤ what it composes",
	Sense:     limit.AtMost,
	Unit:      "Mpx/s",
	Over:      limit.Drops,
	Subject:   TheSend,
	Computing: true,
	Source:    estimate("Seldom the limit below 2160p60 with a handful of layers"),
	Example:   "Five sources in a 1080p60 programme are at most 622 Mpx/s of 2500: slack.",
})

var MemoryTraffic = rule(Rule{
	Name:      "memory-traffic",
	Asks:      "Does the memory carry every copy of the pictures?",
	Sum:       "Σ each full copy, its bytes read and written",
	Sense:     limit.AtMost,
	Unit:      "GB/s",
	Over:      limit.Drops,
	Subject:   TheSend,
	Computing: true,
	Source:    estimate("Laptops move 15 to 50 GB/s, desktops 30 to 80"),
	Example:   "Each copy of a 1080p60 BGRA picture is 995 MB/s, read and written.",
})

var HardwareEncoder = rule(Rule{
	Name:    "hardware-encoder",
	Asks:    "Does the hardware encoder get through what it codes?",
	Sum:     "Σ pixels a second it codes ≤ its rate",
	Sense:   limit.AtMost,
	Unit:    "Mpx/s",
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  estimate("250 to 1500 Mpx/s, until this one is measured"),
	Example: "1080p60 and a 1080p60 recording are 249 Mpx/s; of 250 to 1500 they are taut.",
})

var HardwareSessions = rule(Rule{
	Name:    "hardware-sessions",
	Asks:    "Does the hardware encoder code so many streams at once?",
	Sum:     "streams ≤ sessions it allows",
	Sense:   limit.AtMost,
	Unit:    "streams",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheSend,
	Source:  estimate("2 to 8 at once; some allow few"),
	Example: "Four streams on an encoder that allows three: the fourth does not start.",
})

// judgeComputer judges what the computer has to compute, place by place: processor, graphics processor, hardware
// encoder, memory.
func judgeComputer(p *Pass, own *Rule, _ *Walk) {
	defer judgeKept(p)
	c := p.HostOf()
	if c == nil {
		return
	}
	streams := p.ArrivedStreams(c.Item)
	p.Computed = streams
	if p.SameWork(c.Item, streams, own, Graphics, MemoryTraffic, HardwareEncoder, HardwareSessions) {
		return
	}
	slices.SortFunc(streams, plans.CompareStreams) // whatever the order of the items
	p.Codings = p.WantedCodings()
	where := p.PassedBy(streams, c.ID, "send", "show")
	b := newBusy(p, c, streams, where)
	for _, s := range streams {
		b.takes(s)
	}
	for i := range p.Codings {
		if cd := &p.Codings[i]; cd.Scaled() {
			v := float64(cd.From[0]) * float64(cd.From[1]) * cd.Rate.Float() / say.Mega
			b.work("send", limit.Bounds{Low: v, Value: v, High: v}, nil, job{kind: plans.ScalingWork, coding: i})
		}
	}
	for _, o := range p.Besides() {
		b.doesBesides(&o)
	}
	coded := b.codes()
	p.Add(nil, own, c.ID, b.result())

	pr := p.Show.Programme
	layer := float64(pr.Width) * float64(pr.Height) * pr.Rate.Float() / say.Mega
	judgeGraphics(p, c, len(streams), layer, where)
	judgeMemory(p, c, &b.traffic, coded, where)
	judgeHardware(p, c)
}

// busy adds up what a computer has to compute: the loads of its processor, and what goes through its memory with them.
type busy struct {
	*Pass
	c       *plans.Computer
	l       Result
	traffic Result
	jobs    []job                  // of l.Loads
	speeds  [plans.Kinds]limit.Ref // the fact of each kind of work, once there is some of it
	slow    limit.Ref              // what all but idling is multiplied by; 0 for nothing
	encode  limit.Ref              // the speed of coding, once something is coded
	besides float64                // share of the processor that is gone at worst before anything is coded
}

// newBusy begins with what the computer does by itself.
func newBusy(p *Pass, c *plans.Computer, streams []*plans.Stream, where []string) *busy {
	n := 3*len(streams) + 2*len(p.Codings) + 2 + 2*len(p.Show.Calls) + 3*len(p.Show.Besides)
	mem := scratchOf(p)
	mem.jobs = slices.Grow(mem.jobs[:0], n)
	b := &busy{Pass: p, c: c, l: p.Roomy(n+8, n), traffic: p.Roomy(len(streams)+1, len(streams)+1), jobs: mem.jobs}
	b.l.Stage, b.l.Shared, b.l.Where = plans.Send, true, where
	idle := limit.Stated(limit.At("items/ID/computes/idleShare", c.ID), "", c.Can.IdleShare, gear.DefaultIdle)
	at := b.l.Let(idle)
	b.besides = idle.High
	if c.Slow.High > 1 {
		b.slow = b.l.Let(limit.Fact{Low: c.Slow.Low, Value: c.Slow.Value, High: c.Slow.High, From: fact.Estimate})
	}
	b.load(c.ID, limit.Times(1, at), job{})
	return b
}

// load is a share of the processor.
func (b *busy) load(item string, t limit.Term, j job) {
	if b.slow != 0 && j.kind != plans.IdlingWork {
		t = t.With(b.slow)
	}
	b.l.Loads = append(b.l.Loads, limit.Load{Item: item, Term: t.Scale(100)})
	b.jobs = append(b.jobs, j)
}

// work is so many Mpx/s of a kind of work, and the fact that is, where somebody may know it.
func (b *busy) work(item string, px limit.Bounds, known *limit.Fact, j job) {
	if px.High == 0 {
		return
	}
	if b.speeds[j.kind] == 0 {
		b.speeds[j.kind] = b.l.Let(jobFact(b.c, j.kind))
	}
	t := limit.Times(px.Value)
	switch {
	case known != nil:
		t = limit.Times(1, b.l.Let(*known))
	case px.Low < px.High:
		t = limit.Times(1, b.l.Let(limit.Fact{Low: px.Low, Value: px.Value, High: px.High, From: fact.Estimate,
			Unit: "Mpx/s"}))
	}
	j.px = px
	b.load(item, t.Per(b.speeds[j.kind]), j)
	b.besides += px.High * b.c.Slow.High / b.l.Fact(b.speeds[j.kind]).Low
}

// takes decodes, converts and deinterlaces a picture that comes in.
func (b *busy) takes(s *plans.Stream) {
	all, m, h := s.Pixels()
	b.work(s.Owner.ID, m, nil, job{kind: plans.DecodingMJPEG, of: s})
	b.work(s.Owner.ID, h, nil, job{kind: plans.DecodingH264, of: s})
	var asked *limit.Fact
	if all.Low < all.High {
		asked = new(s.PixelFact(all))
	}
	b.work(s.Owner.ID, all, asked, job{kind: plans.ConvertingWork, of: s})
	if s.Combs {
		b.work(s.Owner.ID, all, nil, job{kind: plans.DeinterlacingWork, of: s})
	}
	t := limit.Times(all.Value * plans.CopiesIn / 1000)
	if asked != nil {
		t = limit.Times(plans.CopiesIn/1000.0, b.traffic.Let(*asked))
	}
	b.traffic.Loads = append(b.traffic.Loads, limit.Load{Item: s.Owner.ID, Term: t})
}

// doesBesides is what the computer does beside the programme: calls, a recording of the screen, one's own stream.
func (b *busy) doesBesides(o *plans.Beside) {
	var known *limit.Fact
	if !o.Px.IsZero() {
		known = &o.Px
	}
	px := plans.BoundsOf(o.Px)
	b.work("show", px, known, job{kind: o.Kind, beside: o.Name})
	if o.Kind != plans.ConvertingWork {
		b.work("show", px, known, job{kind: plans.ConvertingWork, beside: o.Name})
	}
	t := limit.Times(o.Px.Value * o.Copies / 1000)
	if known != nil {
		t = limit.Times(o.Copies/1000, b.traffic.Let(o.Px))
	}
	b.traffic.Loads = append(b.traffic.Loads, limit.Load{Item: "show", Term: t})
}

// codes settles what codes each picture, and adds what the processor codes; all of it in Mpx/s.
func (b *busy) codes() (coded float64) {
	c, l := b.c, &b.l
	if slices.Contains(b.Show.Besides, rig.ScreenRecording) { // coded as the program that records it likes
		b.encode = l.Let(c.Encode())
		its := c.SpeedOf(&l.Limit, b.encode, &plans.Coding{Own: true})
		px := b.Screen()
		b.load("show", its.With(l.Let(px)), job{kind: plans.CodingWork, beside: lang.Text("recording of the screen"),
			px: plans.BoundsOf(px)})
		b.besides += px.High * c.Slow.High / c.OwnSurely()
	}
	b.Settle(c, b.besides)
	for i := range b.Codings {
		cd := &b.Codings[i]
		coded += cd.MpxS()
		if cd.Hardware {
			continue
		}
		if b.encode == 0 {
			b.encode = l.Let(c.Encode())
		}
		b.load("send", c.SpeedOf(&l.Limit, b.encode, cd).Scale(cd.MpxS()), job{kind: plans.CodingWork, coding: i})
	}
	return coded
}

// result is the limit of the processor.
func (b *busy) result() *Result {
	l, jobs, of := &b.l, b.jobs, b.c.Label
	l.Caps = b.CapAt(limit.Times(100))
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Processor of %s", of), lang.Text("the whole machine")
		for i := range jobs {
			w.Loads[i] = jobWords(w, &jobs[i])
		}
		w.Says = w.T("The processor of %s is %s busy.", of, w.LoadText())
		if w.Result.State == limit.Snapped || w.Result.State == limit.Untested {
			w.Says += lang.Text(" A late preview is the first sign; then frames are lost while composing, or while coding.")
		}
	}
	return l
}

// job is one piece of the processor's work.
type job struct {
	kind   plans.JobKind
	of     *plans.Stream
	coding int
	px     limit.Bounds
	beside string // what it is of, where that is no source
}

// jobFact is how fast the computer does a kind of work.
func jobFact(c *plans.Computer, k plans.JobKind) limit.Fact {
	switch k {
	case plans.DecodingMJPEG:
		return c.Fact("mjpegMpxS", "Mpx/s", c.Can.MJPEGMpxS, func(can *gear.Computes) *fact.Fact {
			return can.MJPEGMpxS
		})
	case plans.DecodingH264:
		return c.Fact("h264MpxS", "Mpx/s", c.Can.H264MpxS, func(can *gear.Computes) *fact.Fact { return can.H264MpxS })
	case plans.DeinterlacingWork:
		return c.Fact("deinterlaceMpxS", "Mpx/s", c.Can.DeinterlaceMpxS, func(can *gear.Computes) *fact.Fact {
			return can.DeinterlaceMpxS
		})
	case plans.ScalingWork:
		return c.Fact("scaleMpxS", "Mpx/s", c.Can.ScaleMpxS, func(can *gear.Computes) *fact.Fact {
			return can.ScaleMpxS
		})
	}
	return c.Fact("convertMpxS", "Mpx/s", c.Can.ConvertMpxS, func(can *gear.Computes) *fact.Fact {
		return can.ConvertMpxS
	})
}

// jobWords puts a piece of work into words.
func jobWords(w *Words, j *job) LoadWords {
	var c *plans.Coding
	if (j.kind == plans.ScalingWork || j.kind == plans.CodingWork) && j.beside == "" {
		c = &w.Codings[j.coding]
	}
	px := say.Span(j.px.Low, j.px.High, "Mpx/s")
	if j.beside != "" {
		switch j.kind {
		case plans.DecodingH264:
			return labelled(w.T("%s, decoded", j.beside), "H.264 "+px)
		case plans.CodingWork:
			return labelled(w.T("%s, coded", j.beside), px)
		}
		return labelled(w.T("%s, converted", j.beside), px)
	}
	switch j.kind {
	case plans.IdlingWork:
		return labelled(lang.Text("system and what else is open"), "")
	case plans.DecodingMJPEG:
		return labelled(w.T("%s, decoded", j.of.Owner.Label), "MJPEG "+px)
	case plans.DecodingH264:
		return labelled(w.T("%s, decoded", j.of.Owner.Label), "H.264 "+px)
	case plans.DeinterlacingWork:
		return labelled(w.T("%s, deinterlaced", j.of.Owner.Label), px)
	case plans.ScalingWork:
		return labelled(w.T("%s, scaled", w.CodingName(c)), px)
	case plans.CodingWork:
		return labelled(w.T("%s, coded", w.CodingName(c)), lang.Text("%s at %s: %s Mpx/s, %s",
			picture.SizeName(c.Width, c.Height), c.Rate.Name(), say.Number(c.MpxS()), plans.CodedBy(c)))
	}
	return labelled(w.T("%s, converted", j.of.Owner.Label), px)
}

// judgeGraphics judges composing: one layer at least, all sources at most.
func judgeGraphics(p *Pass, c *plans.Computer, sources int, layer float64, where []string) {
	if sources == 0 {
		return
	}
	at := limit.Fact{Key: limit.At("show/layers", ""), Low: 1, Value: min(2, float64(sources)), High: float64(sources),
		From: fact.Estimate}
	if n := float64(p.Layers()); n > 0 {
		at.Low, at.Value, at.High, at.From = n, n, n, fact.Given
	}
	l := Result{Stage: plans.Send, Shared: true, Where: where}
	small := limit.Stated(limit.At("show/previewPct", ""), "%", p.Show.PreviewPct, previewPct)
	l.Facts = p.FactList(at, c.Fact("composeMpxS", "Mpx/s", c.Can.ComposeMpxS, func(can *gear.Computes) *fact.Fact {
		return can.ComposeMpxS
	}), small)
	l.Loads, l.Caps = p.Mem.Loads.Of(limit.Load{Item: c.ID, Term: limit.Times(layer, 1)},
		limit.Load{Item: c.ID, Term: limit.Times(float64(sources+1)*layer/100, 3)}), plans.SecondFact
	if g := p.Show.GamePct; g != nil { // a share of the same processor, whatever its capacity: what it leaves
		left := limit.Fact{Key: limit.At("show/gamePct", ""), Unit: "%", Low: max(0, 100-g.High),
			Value: max(0, 100-g.Value), High: max(0, 100-g.Low), From: g.From}
		l.Caps = p.CapAt(limit.Times(0.01, 2, l.Let(left)))
	}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Composing by %s", c.Label), lang.Text("its graphics processor")
		if g := p.Show.GamePct; g != nil {
			w.Sum = w.T("its graphics processor, less the %s a game or graphics work takes",
				say.Span(g.Low, g.High, "%"))
			w.Facts[3].Name = lang.Text("what is left beside a game or graphics work")
		}
		w.Loads[0] = labelled(lang.Text("layers on air at once"), w.T("%s × %s Mpx/s of the programme",
			say.Span(at.Low, at.High, ""), say.Number(layer)))
		w.Loads[1] = labelled(lang.Text("previews of every source and of the programme"),
			w.T("%s × %s Mpx/s × %s", say.Number(float64(sources+1)), say.Number(layer),
				say.Span(small.Low, small.High, "%")))
		w.Says = w.T("%s of %s.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, Graphics, c.ID, &l)
}

func judgeMemory(p *Pass, c *plans.Computer, l *Result, coded float64, where []string) {
	l.Stage, l.Shared, l.Where = plans.Send, true, where
	l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(coded * plans.CopiesOut / 1000)})
	l.Caps = p.CapAt(limit.Times(1,
		l.Let(c.Fact("memoryGBps", "GB/s", c.Can.MemoryGBps, func(can *gear.Computes) *fact.Fact {
			return can.MemoryGBps
		}))))
	n := len(l.Loads) - 1
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Memory traffic of %s", c.Label), lang.Text("what its memory moves")
		besides := w.Besides()
		for i := range n {
			w.Loads[i].Sum = w.T("pixels a second × %s bytes, read and written", say.Number(plans.CopiesIn))
			if k := i - (n - len(besides)); k >= 0 {
				w.Loads[i] = labelled(besides[k].Name, w.T("pixels a second × %s bytes, read and written",
					say.Number(besides[k].Copies)))
			}
		}
		w.Loads[n] = labelled(lang.Text("pictures that are coded"),
			w.T("%s Mpx/s × %s bytes a pixel, read and written", say.Number(coded), say.Number(plans.CopiesOut)))
		w.Says = w.T("%s of %s.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, MemoryTraffic, c.ID, l)
}

// judgeHardware judges the hardware encoder, where anything is coded by it.
func judgeHardware(p *Pass, c *plans.Computer) {
	n, work := 0, 0.0
	for i := range p.Codings {
		if p.Codings[i].Hardware {
			n, work = n+1, work+p.Codings[i].MpxS()
		}
	}
	if n == 0 {
		return
	}
	name := c.Can.Hardware
	if name == "" || name == "none" {
		name = lang.Text("the hardware encoder")
	}
	where := []string{c.ID, "send", "show"}
	l := Result{Stage: plans.Send, Shared: true, Where: where}
	l.Facts = p.FactList(limit.Stated(limit.At("items/ID/computes/hardwareMpxS", c.ID), "Mpx/s", c.Can.HardwareMpxS,
		gear.DefaultHardware))
	l.Loads, l.Caps = p.LoadOf("send", limit.Times(work)), plans.FirstFact
	if c.Can.Hardware == "none" {
		l.Facts[0].Low, l.Facts[0].Value, l.Facts[0].High = 0, 0, 0
	} else if c.Can.Hardware == "" { // whether there is one at all, nobody has said
		l.Facts[0].Low = 0
	}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Hardware encoder of %s", c.Label), name
		w.Loads[0] = labelled(say.Count(n, "picture", "pictures"), lang.Text("pixels a second"))
		w.Says = w.T("%s of %s.", w.LoadText(), w.LimitText())
		if c.Can.Hardware == "none" {
			w.Says = w.T("%s has no hardware encoder that opens.", c.Label)
		}
	}
	p.Add(nil, HardwareEncoder, c.ID, &l)
	s := Result{Stage: plans.Send, Shared: true, Where: where}
	s.Facts = p.FactList(limit.Stated(limit.At("items/ID/computes/hardwareSessions", c.ID), "", c.Can.HardwareSessions,
		gear.DefaultSessions))
	s.Loads, s.Caps = p.LoadOf("send", limit.Times(float64(n))), plans.FirstFact
	s.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = w.T("Streams the hardware encoder of %s codes at once", c.Label), name,
			labelled(lang.Text("streams"), "")
		w.Says = w.T("%s of %s.", say.Sentence(say.Count(n, "stream", "streams")),
			say.Span(w.Result.Sure, w.Result.Possible, ""))
	}
	p.Add(nil, HardwareSessions, c.ID, &s)
}
