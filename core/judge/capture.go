package judge

import (
	"cmp"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// input judges whether a device locks to the picture that arrives. Handbook 2.7, 3.1.
func (p *pass) input(w *walk, it *rig.Item, in int, stage Stage) {
	port := &it.Gear.Ports[in]
	hop := w.at(stage, "item", it.ID, it.Label, it.Gear.Name)
	if p.inputsUsed(it) > 1 { // a line for each input, until the box joins them
		hop.Joins = it.ID
		if !p.quiet {
			hop.Label, hop.Detail = rig.PortName(port), it.Label
		}
	}
	if port.Direction != gear.In {
		return // the lead before it already says so
	}
	ref := it.ID + "." + port.ID
	m := w.mode
	same := func(o picture.Mode) bool { return o.Same(m) }
	l := Limit{ID: "takes:" + ref, Rule: "takes", Sense: Fits, Where: w.deps(), What: p.say("Picture %s takes", it.Label),
		Source: Source{fact.DataSheet, "The input list of the spec sheet; handbook 3.1"}}
	switch {
	case slices.ContainsFunc(port.Refuses, same):
		l.outcomes, l.Says = no, p.say("%s was tried with %s and shows nothing.", it.Label, p.name(m))
	case slices.ContainsFunc(port.Modes, same):
		l.outcomes, l.Says = yes, p.say("%s locks to %s.", it.Label, p.name(m))
	case len(port.Modes) == 0 || port.MoreModes:
		l.outcomes, l.Says = maybe, p.say("Nobody has tried whether %s locks to %s.", it.Label, p.name(m))
		l.Facts = p.facts.of(p.takesBasis(it, port, m, "take"))
	case upstream(it).ID != "" && !picture.Television(m.Width, m.Height): // a list of television's pictures tells nothing of this one
		p.odd(&l, it, p.sizeName(m.Width, m.Height))
	default:
		l.outcomes, l.Says = no, p.say("%s does not take %s: it shows nothing.", it.Label, p.name(m))
	}
	p.add(hop, &l)
	p.chroma420(hop, w, it, port)
	p.socketRate(hop, w, it, port, "take")
	if isSDI(port) {
		p.sdiLevel(hop, w, it, port)
	}
	p.oddSize(hop, w, it)
}

// inputsUsed counts the picture inputs of an item that have a lead in them.
func (p *pass) inputsUsed(it *rig.Item) int {
	if it.Gear.Kind == gear.Capture || it.Gear.Kind == gear.Computer {
		return 1
	}
	n, at := 0, slices.IndexFunc(p.Items, func(o rig.Item) bool { return o.ID == it.ID })
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction == gear.In && p.g.LeadAt(at, j) >= 0 {
			n++
		}
	}
	return n
}

// chroma420 judges a picture sent at 4:2:0, which both ends must know. Handbook 2.5.
func (p *pass) chroma420(hop *Hop, w *walk, it *rig.Item, port *gear.Port) {
	if w.mode.Chroma != picture.YUV420 || port.Connector.Family() != gear.HDMIFamily {
		return
	}
	l := Limit{ID: "chroma:" + it.ID + "." + port.ID, Rule: "chroma", Sense: Fits, Where: w.deps(), What: p.say("4:2:0 at the input of %s", it.Label),
		Source: Source{fact.Standard, "HDMI 2.0, from memory; handbook 2.5: 4:2:0 must be accepted by both ends"}}
	m := w.mode
	switch {
	case slices.ContainsFunc(port.Modes, func(o picture.Mode) bool { return o.Same(m) && o.Chroma == picture.YUV420 }):
		l.outcomes, l.Says = yes, p.say("%s takes %s at 4:2:0.", it.Label, p.name(m))
	case port.ModesFrom == "edid":
		l.outcomes, l.Says = no, p.say("%s does not list %s at 4:2:0 in its EDID.", it.Label, p.name(m))
	case port.Takes420 == "yes":
		l.outcomes, l.Says = yes, p.say("%s takes 4:2:0.", it.Label)
	case port.Takes420 == "no":
		l.outcomes, l.Says = no, p.say("%s does not take 4:2:0.", it.Label)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has said whether %s takes 4:2:0. Its EDID says.", it.Label)
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "ports", port.ID, "takes420"), p.say("whether %s takes 4:2:0", it.Label),
			p.say("Does %s take %s at 4:2:0?", it.Label, p.name(m)), "Its EDID lists it, or its data sheet does; or connect it once and look.", 3, answer{"yes", "Yes", Slack}, answer{"no", "No", Snapped}))
	}
	p.add(hop, &l)
}

// oddSize judges a picture of another shape than anything the device delivers. Handbook 3.1.
func (p *pass) oddSize(hop *Hop, w *walk, it *rig.Item) {
	if w.mode.Width == 0 || upstream(it).ID == "" {
		return
	}
	if len(it.Gear.Delivers) == 0 { // it may have the shape, or not
		l := Limit{ID: "odd-size:" + it.ID + ":" + w.feed.ID, Rule: "odd-size", Sense: Fits, outcomes: maybe, Where: w.deps(), What: p.say("Shape of %s at %s", w.feed.Label, it.Label),
			Says: p.say("Nobody has said which pictures %s delivers, nor of which shape.", it.Label), Source: Source{fact.DataSheet, "The spec sheet; handbook 3.1"}, Facts: p.facts.of(p.deliversBasis(it, w.mode))}
		p.add(hop, &l)
		return
	}
	shape := picture.Aspect(w.mode.Width, w.mode.Height)
	if slices.ContainsFunc(it.Gear.Delivers, func(d gear.Delivery) bool {
		width, height, _ := d.Size(w.mode.Width, w.mode.Height)
		return picture.Aspect(width, height) == shape || d.Width == w.mode.Width && d.Height == w.mode.Height
	}) {
		return
	}
	l := Limit{ID: "odd-size:" + it.ID + ":" + w.feed.ID, Rule: "odd-size", Sense: Fits, Where: w.deps(), What: p.say("Shape of %s at %s", w.feed.Label, it.Label),
		Source: Source{fact.DataSheet, "The spec sheet; handbook 3.1: odd sizes are cropped, boxed, scaled or refused, by device"}}
	p.odd(&l, it, p.sizeName(w.mode.Width, w.mode.Height))
	p.add(hop, &l)
}

// odd judges a picture of a size or shape a device does not have, by what its sheet says it makes of such.
func (p *pass) odd(l *Limit, it *rig.Item, size string) {
	switch it.Gear.OddSizes {
	case picture.Box:
		l.outcomes, l.Says = yes, p.say("%s puts borders around %s.", it.Label, size)
	case picture.Crop:
		l.outcomes, l.Says = soft, p.say("%s cuts off what of %s does not fit.", it.Label, size)
	case picture.Stretch:
		l.outcomes, l.Says = soft, p.say("%s pulls %s out of shape.", it.Label, size)
	case picture.Refuse:
		l.outcomes, l.Says = no, p.say("%s refuses %s: it shows nothing.", it.Label, size)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has seen what %s makes of %s.", it.Label, size)
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "oddSizes"), p.say("what %s makes of odd sizes", it.Label),
			p.say("What does %s make of %s?", it.Label, size), "Connect it and look at all four edges.", 5,
			answer{string(picture.Box), "Borders around it", Slack}, answer{string(picture.Crop), "Cuts the edges off", Taut},
			answer{string(picture.Stretch), "Pulls it out of shape", Taut}, answer{string(picture.Refuse), "Shows nothing", Snapped}))
	}
}

// stream is a picture on its way through USB.
type stream struct {
	owner  *rig.Item
	port   string
	in     int // of a card: the input it came in by, counted from 1
	where  []string
	speeds []Basis // every part the connection passes, with the MB/s its speed stands for
	device usb.Speed
	iso    bool // surely reserves
	maybe  bool // may reserve
	facts  []Basis
	load   term // over facts: MB/s it sends
	sum    string
	name   string // the picture, in short
	// What the program gets.
	width, height int
	rate          picture.Rate
	deep          bool // more than 8 bits a component
	other         bool // it has no picture
	unknown       bool // nobody has said which picture it is
	// Where it shares, from the device up: hubs, a dock with a controller of its own, the computer's controller.
	shares   []shareAt
	crosses  []hopAt
	host     *rig.Item  // the computer, once the stream has got there
	reserves *fact.Fact // what its sheet says it reserves
	// A card shares nothing but its slot.
	slot     *rig.Item
	slotPort *gear.Port
}

// shareAt is where a stream shares with others: the item, its controller ("" for a hub's way up), the socket it is in,
// and how many of the stream's speeds come before what is above it.
type shareAt struct {
	item       int
	controller string
	socket     string
	above      int
}

// hopAt is a hop of the board where a stream meets others.
type hopAt struct {
	item *rig.Item
	feed *Feed
	hop  int
}

// startStream begins the USB part of a feed at the device that hands the picture to the computer. A device reached by
// several feeds (a switcher) sends one stream; the feeds share it.
func (p *pass) startStream(w *walk, it *rig.Item, out, leadIn int) *stream {
	port := &it.Gear.Ports[out]
	var hop *Hop
	if last := &w.feed.Hops[len(w.feed.Hops)-1]; last.Stage == AtCapture && last.Ref == it.ID {
		hop = last // the device that took the picture hands it on
	} else {
		hop = w.at(AtCapture, "item", it.ID, p.say("%s itself", it.Label), "")
	}
	s := &stream{owner: it, port: port.ID}
	if it.Gear.Kind == gear.Card { // a stream for each input
		s.in = w.in + 1
	}
	if port.Connector == gear.LAN {
		p.notJudged("port", it.ID+"."+port.ID, p.say("the network connection of %s", it.Label), "there are no rules for network connections yet")
	}
	p.delivered(hop, w, s, it, port)
	hop.Detail = s.name
	s.where = w.deps()
	s.speeds = append(p.facts.room(4), p.speedBasis(it, port))
	s.device = usb.UnknownSpeed
	if port.USB != nil && port.USB.Speed != usb.UnknownSpeed {
		s.device = port.USB.Speed
	}
	s.maybe = port.Connector.Family() == gear.USBFamily
	if port.USB != nil {
		s.iso = port.USB.Transfer == usb.Isochronous
		s.maybe = port.USB.Transfer == usb.UnknownTransfer || port.USB.Transfer == ""
	}
	for _, have := range p.streams {
		if have.owner == it && have.port == port.ID && have.in == s.in {
			w.where = merge(slices.Clip(w.where), have.where) // what it is rests on the feed that came first
			return have
		}
	}
	p.streams = append(p.streams, s)
	return s
}

// delivered settles which picture the program takes from a device, and how many bytes it is. Handbook 1.2, 3.1.
func (p *pass) delivered(hop *Hop, w *walk, s *stream, it *rig.Item, port *gear.Port) {
	ref := it.ID + "." + port.ID
	if s.in > 0 {
		ref += ":" + it.Gear.Ports[s.in-1].ID
	}
	l := Limit{ID: "delivers:" + ref, Rule: "delivers", Sense: Fits, Where: w.deps(), What: p.say("Picture %s delivers", it.Label),
		Source: Source{fact.DataSheet, "The delivered list of the spec sheet; handbook 3.1"}}
	choices := p.deliveries(it, port, w.mode)
	fitted := len(choices)
	if len(it.Gear.Delivers) > 0 && w.mode.Width > 0 { // what a device that scales or boxes makes of a picture it has no size for
		for i, d := range it.Gear.Delivers {
			if !slices.ContainsFunc(choices[:fitted], func(c delivery) bool { return c.at == i }) {
				choices = append(choices, delivery{d, i, d.RateFor(w.mode.Rate)})
			}
		}
	}
	var want rig.Deliver
	asked := false
	if it.Set != nil {
		want, asked = it.Set.Deliver[port.ID]
	}
	fits := func(c *delivery) bool {
		return c.Format == want.Format && (want.Width == 0 || want.Width == c.Width && want.Height == c.Height)
	}
	at := -1
	switch {
	case len(choices) == 0:
		l.outcomes, l.Says = maybe, p.say("Nobody has said which pictures %s delivers.", it.Label)
		pr := p.Show.Programme
		s.width, s.height, s.rate, s.unknown = pr.Width, pr.Height, pr.Rate, true
		known := p.deliversBasis(it, w.mode)
		l.Facts = p.facts.of(known)
		known.Options, known.Name, known.Unit = slices.Clone(known.Options), p.say("bytes %s sends", it.Label), "MB/s"
		known.Low, known.Value, known.High = unknownStream.Low, unknownStream.Value, unknownStream.High
		for i := range known.Options {
			known.Options[i].State = ""
		}
		s.facts = p.facts.of(known)
		s.load = times(1, 0)
		s.sum = "nobody has said which picture it delivers"
	case asked:
		for i := range choices {
			if fits(&choices[i]) && (at < 0 || i < fitted == (at < fitted) && p.richer(&choices[i], &choices[at])) {
				at = i
			}
		}
		if at < 0 {
			l.outcomes, l.Says = no, p.say("%s does not deliver %s %s.", it.Label, string(want.Format), deliverSize(want))
			for i := range choices {
				if at < 0 || p.richer(&choices[i], &choices[at]) {
					at = i
				}
			}
		} else {
			l.outcomes, l.Says = yes, p.say("%s delivers %s.", it.Label, p.deliveryName(&choices[at]))
			if at >= fitted {
				p.odd(&l, it, p.sizeName(w.mode.Width, w.mode.Height))
			}
		}
		c := choices[at]
		if !want.Rate.IsZero() && want.Rate.Cmp(c.rate) < 0 {
			c.rate = want.Rate
		}
		p.streamOf(s, it, port, c)
	case fitted == 0:
		p.odd(&l, it, p.sizeName(w.mode.Width, w.mode.Height))
		p.undecided(s, it, port, choices)
	case fitted == 1:
		l.outcomes, l.Says = yes, p.say("%s delivers %s and nothing else.", it.Label, p.deliveryName(&choices[0]))
		p.streamOf(s, it, port, choices[0])
	default:
		l.outcomes = yes // whichever it is, the device can do it; how much it is matters on the bus
		l.Says = p.say("Nobody has said which picture the program takes from %s.", it.Label)
		p.undecided(s, it, port, choices[:fitted])
	}
	if it.IsSource() && it.Set != nil && it.Set.Upright && s.width > s.height { // the picture follows the device
		s.width, s.height = s.height, s.width
	}
	p.add(hop, &l)
}

// unknownStream bounds what a device nobody has described sends, in MB/s: a small picture well compressed to 2160p60 as it
// is [estimate].
var unknownStream = fact.Est(60, 0.3, 1000)

// deliversBasis asks what a device delivers: the usual formats at the size that comes in.
func (p *pass) deliversBasis(it *rig.Item, in picture.Mode) Basis {
	if p.quiet {
		return Basis{}
	}
	if in.Width == 0 {
		pr := p.Show.Programme
		in = picture.Mode{Width: pr.Width, Height: pr.Height, Rate: pr.Rate}
	}
	path := "items/" + it.ID + "/delivers"
	b := Basis{Path: path, Name: p.say("what %s delivers", it.Label), Word: "unknown", From: fact.Estimate}
	var edits [][]rig.Edit
	for _, f := range []picture.Format{picture.MJPEG, picture.NV12, picture.YUY2, picture.H264} {
		var s stream
		d := delivery{gear.Delivery{Format: f, Width: in.Width, Height: in.Height, MaxRate: in.Rate}, 0, in.Rate}
		p.streamOf(&s, it, &gear.Port{}, d)
		word := string(f) + " " + picture.SizeName(in.Width, in.Height)
		b.Options = append(b.Options, Option{Word: word, Label: word, Number: s.load.bounds(s.facts).Value, State: Slack})
		edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: rig.DeliversWord(f, in.Width, in.Height, in.Rate)}})
	}
	b.ask = func() Ask {
		return Ask{Question: p.say("Which picture does %s deliver?", it.Label), How: "Its data sheet or v4l2-ctl --list-formats-ext lists them; on the shelf the whole list can be read in.", Minutes: 5, Edits: edits}
	}
	return b
}

// undecided is a stream whose picture the program could choose: anything its device delivers.
func (p *pass) undecided(s *stream, it *rig.Item, port *gear.Port, choices []delivery) {
	best := 0
	for i := 1; i < len(choices); i++ {
		if p.richer(&choices[i], &choices[best]) {
			best = i
		}
	}
	p.streamOf(s, it, port, choices[best])
	if len(choices) == 1 {
		return
	}
	b := p.formatBasis(it, port, choices)
	s.facts, s.load = []Basis{b}, times(1, 0)
	if !p.quiet {
		s.sum = p.say("between %s and %s MB/s, by format", p.num(b.Low), p.num(b.High))
	}
	s.name = "format not said"
}

// richer tells whether a delivered picture suits the show better than another, in whatever order the sheet has them: one as
// large and as fast as the programme first, then the richest, then the smallest that is so.
func (p *pass) richer(a, b *delivery) bool {
	pr := p.Show.Programme
	small := func(d *delivery) int {
		if d.Width < pr.Width || d.Height < pr.Height || d.rate.Nominal() < pr.Rate.Nominal() {
			return 1
		}
		return 0
	}
	area := func(d *delivery) int {
		if small(d) == 1 {
			return -d.Width * d.Height
		}
		return d.Width * d.Height
	}
	return cmp.Or(small(a)-small(b), b.Format.Richness()-a.Format.Richness(), area(a)-area(b), b.rate.Cmp(a.rate), cmp.Compare(a.Format, b.Format), b.MaxRate.Cmp(a.MaxRate)) < 0
}

func (p *pass) deliveryName(d *delivery) string {
	if p.quiet {
		return ""
	}
	return d.name()
}

func deliverSize(d rig.Deliver) string {
	if d.Width == 0 {
		return ""
	}
	return picture.SizeName(d.Width, d.Height)
}

// delivery is one line of a device's delivered list with the rate it comes at.
type delivery struct {
	gear.Delivery
	at   int
	rate picture.Rate
}

func (d delivery) name() string {
	return string(d.Format) + " " + picture.SizeName(d.Width, d.Height) + " at " + d.rate.Name()
}

// deliveries lists what a device can hand on of a picture, in the order of its sheet: no larger than the picture that
// comes in (a source's own USB knows no such bound), at its rate or an even part of it.
func (p *pass) deliveries(it *rig.Item, port *gear.Port, in picture.Mode) []delivery {
	out := p.offers.room(len(it.Gear.Delivers))
	for i, d := range it.Gear.Delivers {
		rate := d.MaxRate
		if !in.Rate.IsZero() {
			w, h, ok := d.Size(in.Width, in.Height)
			// A picture of another shape is fitted in: one of its sides has to be as large as the delivery's.
			if !ok && (d.Steps != nil || in.Width < d.Width && in.Height < d.Height || in.Width*in.Height < d.Width*d.Height/2) {
				continue
			}
			d.Width, d.Height = w, h
			rate = d.RateFor(in.Rate)
		}
		out = append(out, delivery{d, i, rate})
	}
	return out
}

// streamOf fills in the load of one delivery.
func (p *pass) streamOf(s *stream, it *rig.Item, port *gear.Port, d delivery) {
	s.reserves = d.ReservesMBps
	if s.reserves == nil && port.USB != nil {
		s.reserves = port.USB.ReservesMBps
	}
	s.width, s.height, s.rate = d.Width, d.Height, d.rate
	s.deep = d.Format == picture.P010 || d.Format == picture.V210
	if !p.quiet {
		s.name = string(d.Format) + " " + picture.SizeName(d.Width, d.Height)
	}
	if !d.Format.Compressed() {
		numer, den, _ := d.Format.Stream(d.Width, d.Height, d.rate)
		s.load = times(float64(numer) / float64(den) / mega)
		s.facts = nil
		if !p.quiet {
			bytes, _ := d.Format.FrameBytes(d.Width, d.Height)
			s.sum = p.say("%s %s: %s B a frame × %s", string(d.Format), p.sizeName(d.Width, d.Height), strconv.FormatInt(bytes, 10), d.rate.String())
		}
		return
	}
	standIn := gear.DefaultMJPEGBits
	if d.Format == picture.H264 {
		standIn = gear.DefaultH264Bits
	}
	s.facts = p.facts.of(basis(p.path("items", it.ID, "delivers", strconv.Itoa(d.at), "bitsPerPixel"), p.say("bits a pixel of %s from %s", string(d.Format), it.Label), "bit", d.BitsPerPixel, standIn,
		p.ask("How many bits a pixel is the "+string(d.Format)+" of %s?", it.Label, "Record ten seconds unaltered: bytes × 8 ÷ (width × height × frames).", 10)))
	s.load = times(float64(d.Width)*float64(d.Height)*d.rate.Float()/8/mega, 0)
	if !p.quiet {
		s.sum = p.say("%s %s: %s × %s × %s bit ÷ 8 × %s", string(d.Format), p.sizeName(d.Width, d.Height), strconv.Itoa(d.Width), strconv.Itoa(d.Height), p.num(s.facts[0].Value), d.rate.String())
	}
}

// formatBasis asks which picture the program takes; each answer is so many MB/s.
func (p *pass) formatBasis(it *rig.Item, port *gear.Port, choices []delivery) Basis {
	b := Basis{Path: p.path("items", it.ID, "deliver", port.ID), Name: p.say("format %s delivers", it.Label), Unit: "MB/s", From: fact.Estimate, Word: "not said"}
	ask := Ask{Question: p.say("Which picture does the program take from %s?", it.Label), How: "Look in the program's settings of that source.", Minutes: 2}
	b.ask = func() Ask { return ask }
	for i, c := range choices {
		var s stream
		p.streamOf(&s, it, port, c)
		mb := s.load.bounds(s.facts)
		if i == 0 {
			b.Low, b.Value, b.High = mb.Low, mb.Value, mb.High
		}
		b.Low, b.High = min(b.Low, mb.Low), max(b.High, mb.High)
		if p.quiet {
			continue
		}
		b.Options = append(b.Options, Option{Word: c.name(), Label: c.name(), Number: mb.Value})
		ask.Edits = append(ask.Edits, []rig.Edit{{Do: "deliver", Item: it.ID, Port: port.ID,
			Deliver: &rig.Deliver{Format: c.Format, Width: c.Width, Height: c.Height}}})
	}
	return b
}
