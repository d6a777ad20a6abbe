package rules

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Stream is a picture, or other traffic, on its way through USB or a slot.
type Stream struct {
	Owner  *rig.Item
	Host   *rig.Item // the computer, once the stream has got there
	Width  int       // what the program gets
	Height int
	Rate   picture.Rate
	Deep   bool // more than 8 bits a component
	// Unknown: nobody has said which picture it is.
	Unknown bool

	port   string
	ref    string // owner and port
	in     int    // of a card: the input it came in by, counted from 1
	where  []string
	speeds []limit.Fact // every part the connection passes, with the MB/s its speed stands for
	device usb.Speed
	iso    bool // surely reserves
	maybe  bool // may reserve
	facts  []limit.Fact
	load   limit.Term // over facts: MB/s it sends
	sends  sending
	chosen delivery   // of a picture
	offers []delivery // of one nobody has chosen
	other  bool       // it has no picture
	from   int        // place of the source whose way it was begun on
	brings []int      // places of the sources whose pictures get to the computer by it
	combs  bool       // an interlaced picture comes in: somebody has to deinterlace it
	// Where it shares, from the device up: hubs, a dock with a controller of its own, the computer's controller.
	shares   []shareAt
	crosses  []hopAt
	reserves *fact.Fact // what its sheet says it reserves
	beside   *Stream    // another of its owner
	// A card shares nothing but its slot.
	slot     *rig.Item
	slotPort *gear.Port
}

// Where are the ids of everything a stream passes.
func (s *Stream) Where() []string { return s.where }

// IsOther tells whether it is traffic without a picture.
func (s *Stream) IsOther() bool { return s.other }

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
func (p *Pass) startStream(w *Walk, it *rig.Item, at, out int) *Stream {
	port := &it.Gear.Ports[out]
	if last := w.Hop; last.Stage != Capture || last.Ref != it.ID { // else the device that took the picture hands it on
		p.hop(w, Hop{Stage: Capture, Kind: "item", Ref: it.ID, Item: it, Own: true})
	}
	s := p.stream()
	s.Owner, s.port, s.ref = it, port.ID, p.Wiring.Ref(at, out)
	if it.Gear.Kind == gear.Card { // a stream for each input
		s.in = w.In + 1
	}
	if port.Connector == gear.LAN {
		p.notJudged("port", s.ref, func(p *Pass) (string, string) {
			return p.T("the network connection of %s", it.Label), lang.Text("there are no rules for network connections yet")
		})
	}
	s.from = w.Source
	w.Bytes, w.Item, w.Out, w.Port = s, it, out, port
	p.at(AtCapture, w)
	w.Hop.Bytes = s
	s.where = w.deps()
	s.speeds = append(p.Mem.Facts.Room(4), p.speedFact(it, port))
	s.device = usb.UnknownSpeed
	if port.USB != nil && port.USB.Speed != usb.UnknownSpeed {
		s.device = port.USB.Speed
	}
	s.maybe = port.Connector.Family() == gear.USBFamily
	if port.USB != nil {
		s.iso = port.USB.Transfer == usb.Isochronous
		s.maybe = port.USB.Transfer == usb.UnknownTransfer || port.USB.Transfer == ""
	}
	for have := p.began[at]; have != nil; have = have.beside {
		if have.port == port.ID && have.in == s.in {
			w.where = merge(slices.Clip(w.where), have.where) // what it is rests on the feed that came first
			w.Bytes = have
			return have
		}
	}
	s.beside, p.began[at] = p.began[at], s
	s.shares, s.crosses = p.shares.Room(3), p.crosses.Room(3)
	p.Streams = append(p.Streams, s)
	return s
}

// sending is what a stream sends, for its name and its sum.
type sending uint8

const (
	sendsOther     sending = iota // no picture
	sendsChosen                   // Stream.chosen
	sendsUndecided                // one of several pictures
	sendsUnknown                  // nobody has said which picture
)

// Name is the picture of a stream, in short.
func (s *Stream) Name() string {
	switch s.sends {
	case sendsChosen:
		return s.chosen.short()
	case sendsUndecided:
		return lang.Text("format not said")
	case sendsOther:
		return lang.Text("no picture")
	}
	return ""
}

// Sum is the arithmetic of a stream's load.
func (s *Stream) Sum() string {
	switch s.sends {
	case sendsChosen:
		d := &s.chosen
		format, size := string(d.Format), picture.SizeName(d.width, d.height)
		if !d.Format.Compressed() {
			bytes, _ := d.Format.FrameBytes(d.width, d.height)
			return lang.Text("%s %s: %s B a frame × %s", format, size, strconv.FormatInt(bytes, 10), d.rate.String())
		}
		return lang.Text("%s %s: %s × %s × %s bit ÷ 8 × %s", format, size, strconv.Itoa(d.width), strconv.Itoa(d.height), Number(s.facts[0].Value), d.rate.String())
	case sendsUndecided:
		return lang.Text("between %s and %s MB/s, by format", Number(s.facts[0].Low), Number(s.facts[0].High))
	case sendsUnknown:
		return lang.Text("nobody has said which picture it delivers")
	}
	return lang.Text("while in use")
}

var Delivers = rule(Rule{Name: "delivers", Asks: "Can the device hand the computer the picture the program takes?", Sense: limit.Fits, Over: limit.Dark, Subject: TheBus,
	Board:   Short{"which picture?", "does not deliver that"},
	Source:  datasheet("The delivered list of the spec sheet"),
	Example: "A program asks for NV12, and the stick delivers MJPEG and YUY2: snapped.",
	Say:     sayDelivers,
	Judge:   Judging{AtCapture: judgeDelivered}})

// judgeDelivered settles which picture the program takes from a device, and how many bytes it is.
func judgeDelivered(p *Pass, own *Rule, w *Walk) {
	s, it, port := w.Bytes, w.Item, w.Port
	place := s.ref
	if s.in > 0 {
		place += ":" + it.Gear.Ports[s.in-1].ID
	}
	m := w.Mode
	l := Result{Where: w.deps()}
	choices := p.deliveries(it, m)
	fitted := len(choices)
	if len(it.Gear.Delivers) > 0 && m.Width > 0 { // what a device that scales or boxes makes of a picture it has no size for
		for i := range it.Gear.Delivers {
			if !slices.ContainsFunc(choices[:fitted], func(c delivery) bool { return c.at == i }) {
				d := &it.Gear.Delivers[i]
				choices = append(choices, delivery{d, i, d.Width, d.Height, d.RateFor(m.Rate)})
			}
		}
	}
	var want rig.Deliver
	asked := false
	if it.Set != nil {
		want, asked = it.Set.Deliver[port.ID]
	}
	at := -1
	switch {
	case len(choices) == 0:
		l.Outcomes = limit.Maybe
		pr := &p.Show.Programme
		s.Width, s.Height, s.Rate, s.Unknown = pr.Width, pr.Height, pr.Rate, true
		known := p.deliversFact(it, m)
		l.Facts = p.facts(known)
		options := known.Open
		known.Unit, known.Low, known.Value, known.High = "MB/s", unknownStream.Low, unknownStream.Value, unknownStream.High
		known.Open = func() []limit.Option {
			o := options()
			for i := range o {
				o[i].State = 0
			}
			return o
		}
		s.facts = p.facts(known)
		s.load = limit.Times(1, 1)
		s.sends = sendsUnknown
	case asked:
		for i := range choices {
			c := &choices[i]
			fits := c.Format == want.Format && (want.Width == 0 || want.Width == c.width && want.Height == c.height)
			if fits && (at < 0 || i < fitted == (at < fitted) && p.richer(c, &choices[at])) {
				at = i
			}
		}
		if at < 0 {
			l.Outcomes = limit.No
			l.Say = func(w *Words) {
				w.Says = w.T("%s does not deliver %s.", it.Label, strings.TrimSpace(string(want.Format)+" "+deliverSize(want)))
			}
			for i := range choices {
				if at < 0 || p.richer(&choices[i], &choices[at]) {
					at = i
				}
			}
		} else if at >= fitted {
			p.odd(&l, it, m)
		} else {
			l.Outcomes = limit.Yes
		}
		c := choices[at]
		if !want.Rate.IsZero() && want.Rate.Cmp(c.rate) < 0 {
			c.rate = want.Rate
		}
		p.streamOf(s, it, port, c)
	case fitted == 0:
		p.odd(&l, it, m)
		p.undecided(s, it, port, choices)
	case fitted == 1:
		l.Outcomes = limit.Yes
		p.streamOf(s, it, port, choices[0])
	default: // whichever it is, the device can do it; how much it is matters on the bus
		l.Outcomes = limit.Yes
		p.undecided(s, it, port, choices[:fitted])
	}
	if its := l.Say; its != nil {
		l.Say = func(w *Words) { w.What = w.T("Picture %s delivers", it.Label); its(w) }
	}
	if it.IsSource() && it.Set != nil && it.Set.Upright && s.Width > s.Height { // the picture follows the device
		s.Width, s.Height = s.Height, s.Width
	}
	p.add(w.Hop, own, place, &l)
}

func sayDelivers(w *Words) {
	s := w.Result.Hop.Bytes
	it, asked := s.Owner, false
	if it.Set != nil {
		_, asked = it.Set.Deliver[s.port]
	}
	switch w.What = w.T("Picture %s delivers", it.Label); {
	case s.Unknown:
		w.Says = w.T("Nobody has said which pictures %s delivers.", it.Label)
	case s.sends == sendsUndecided:
		w.Says = w.T("Nobody has said which picture the program takes from %s.", it.Label)
	case asked:
		w.Says = w.T("%s delivers %s.", it.Label, s.chosen.name())
	default:
		w.Says = w.T("%s delivers %s and nothing else.", it.Label, s.chosen.name())
	}
}

// unknownStream bounds what a device nobody has described sends, in MB/s: a small picture well compressed to 2160p60 as it
// is [estimate].
var unknownStream = fact.Est(60, 0.3, 1000)

// deliversFact is what a device delivers: the usual formats at the size that comes in.
func (p *Pass) deliversFact(it *rig.Item, in *picture.Mode) limit.Fact {
	if in.Width == 0 {
		in = p.programmeMode()
	}
	return limit.Fact{Key: key("items/ID/delivers", it.ID), Word: "unknown", From: fact.Estimate, Open: func() (out []limit.Option) {
		for _, f := range []picture.Format{picture.MJPEG, picture.NV12, picture.YUY2, picture.H264} {
			d := gear.Delivery{Format: f, Width: in.Width, Height: in.Height, MaxRate: in.Rate}
			c := delivery{&d, 0, d.Width, d.Height, in.Rate}
			word := string(f) + " " + picture.SizeName(in.Width, in.Height)
			out = append(out, limit.Option{Word: word, Label: word, Number: c.mbps(it).Value, State: limit.Slack,
				Do: []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/delivers", Word: rig.DeliversWord(f, in.Width, in.Height, in.Rate)}}})
		}
		return out
	}}
}

// undecided is a stream whose picture the program could choose: anything its device delivers.
func (p *Plan) undecided(s *Stream, it *rig.Item, port *gear.Port, choices []delivery) {
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
	f := p.formatFact(it, port, choices, best)
	s.offers = choices
	s.facts, s.load = p.facts(f), limit.Times(1, 1)
	s.sends = sendsUndecided
}

// Undecided is a device of which nobody has said what the program takes, with what it may take.
type Undecided struct {
	Item   *rig.Item
	Port   string
	Offers []Offer
}

// Offer is one picture a device can hand on.
type Offer struct {
	Deliver rig.Deliver
	Smaller bool // than the programme, or slower than what there is of it
	Loss    Loss // besides
	MBps    float64
	PixelsS float64 // pixels a second
}

// Undecided lists the devices whose picture nobody has chosen, each once.
func (p *Plan) Undecided() (out []Undecided) {
	for _, s := range p.Streams {
		if s.sends != sendsUndecided || slices.ContainsFunc(out, func(u Undecided) bool { return u.Item == s.Owner && u.Port == s.port }) {
			continue
		}
		u := Undecided{Item: s.Owner, Port: s.port}
		had := int64(math.MaxInt64)
		for i := range s.offers {
			if n := s.offers[i].rate.Nominal(); i == 0 || n > had {
				had = n
			}
		}
		for i := range s.offers {
			d := &s.offers[i]
			loss := LossOf(&p.Show.Programme, d.Format, d.width, d.height, d.rate, had)
			u.Offers = append(u.Offers, Offer{rig.Deliver{Format: d.Format, Width: d.width, Height: d.height}, loss >= lossSmaller, loss % lossSmaller, d.mbps(s.Owner).Value, float64(d.width*d.height) * d.rate.Float()})
		}
		out = append(out, u)
	}
	return out
}

// richer tells whether a delivered picture suits the show better than another, in whatever order the sheet has them: one as
// large and as fast as the programme first, then the richest, then the smallest that is so.
func (p *Plan) richer(a, b *delivery) bool {
	pr := &p.Show.Programme
	small := func(d *delivery) int {
		if d.width < pr.Width || d.height < pr.Height || d.rate.Nominal() < pr.Rate.Nominal() {
			return 1
		}
		return 0
	}
	area := func(d *delivery) int {
		if small(d) == 1 {
			return -d.width * d.height
		}
		return d.width * d.height
	}
	return cmp.Or(small(a)-small(b), b.Format.Richness()-a.Format.Richness(), area(a)-area(b), b.rate.Cmp(a.rate), cmp.Compare(a.Format, b.Format), b.MaxRate.Cmp(a.MaxRate)) < 0
}

func deliverSize(d rig.Deliver) string {
	if d.Width == 0 {
		return ""
	}
	return picture.SizeName(d.Width, d.Height)
}

// delivery is one line of a device's delivered list with the size and rate it comes at.
type delivery struct {
	*gear.Delivery
	at            int
	width, height int
	rate          picture.Rate
}

func (d *delivery) short() string {
	return string(d.Format) + " " + picture.SizeName(d.width, d.height)
}

func (d *delivery) name() string { return d.short() + " at " + d.rate.Name() }

// deliveries lists what a device can hand on of a picture, in the order of its sheet: no larger than the picture that
// comes in (a source's own USB knows no such bound), at its rate or an even part of it.
func (p *Plan) deliveries(it *rig.Item, in *picture.Mode) []delivery {
	out := p.Mem.offers.Room(len(it.Gear.Delivers))
	for i := range it.Gear.Delivers {
		d := &it.Gear.Delivers[i]
		c := delivery{d, i, d.Width, d.Height, d.MaxRate}
		if !in.Rate.IsZero() {
			w, h, ok := d.Size(in.Width, in.Height)
			// A picture of another shape is fitted in: one of its sides has to be as large as the delivery's.
			if !ok && (d.Steps != nil || in.Width < d.Width && in.Height < d.Height || in.Width*in.Height < d.Width*d.Height/2) {
				continue
			}
			c.width, c.height, c.rate = w, h, d.RateFor(in.Rate)
		}
		out = append(out, c)
	}
	return out
}

// streamOf fills in the load of one delivery.
func (p *Plan) streamOf(s *Stream, it *rig.Item, port *gear.Port, d delivery) {
	s.reserves = d.ReservesMBps
	if s.reserves == nil && port.USB != nil {
		s.reserves = port.USB.ReservesMBps
	}
	s.Width, s.Height, s.Rate = d.width, d.height, d.rate
	s.Deep = d.Format == picture.P010 || d.Format == picture.V210
	s.sends, s.chosen = sendsChosen, d
	load, bits, compressed := d.bytes(it)
	if s.load, s.facts = load, nil; compressed {
		s.facts = p.facts(bits)
	}
}

// bytes is what a delivery sends in MB/s: so much, or so much for each bit a pixel of a compressed one.
func (d *delivery) bytes(it *rig.Item) (t limit.Term, bits limit.Fact, compressed bool) {
	if !d.Format.Compressed() {
		numer, den, _ := d.Format.Stream(d.width, d.height, d.rate)
		return limit.Times(float64(numer) / float64(den) / mega), bits, false
	}
	standIn := gear.DefaultMJPEGBits
	if d.Format == picture.H264 {
		standIn = gear.DefaultH264Bits
	}
	bits = stated(part("items/ID/delivers/N/bitsPerPixel", it.ID, strconv.Itoa(d.at)), "bit", d.BitsPerPixel, standIn)
	return limit.Times(float64(d.width)*float64(d.height)*d.rate.Float()/8/mega, 1), bits, true
}

// mbps is what a delivery sends, between its bounds.
func (d *delivery) mbps(it *rig.Item) limit.Bounds {
	t, bits, compressed := d.bytes(it)
	if !compressed {
		return t.Bounds(nil)
	}
	return t.Bounds([]limit.Fact{bits})
}

// formatFact is which picture the program takes, as likely the best of them; each answer is so many MB/s.
func (p *Plan) formatFact(it *rig.Item, port *gear.Port, choices []delivery, best int) limit.Fact {
	f := limit.Fact{Key: part("items/ID/deliver/PORT", it.ID, port.ID), Unit: "MB/s", From: fact.Estimate, Word: "not said"}
	for i := range choices {
		mb := choices[i].mbps(it)
		if i == 0 {
			f.Low, f.High = mb.Low, mb.High
		}
		if i == best {
			f.Value = mb.Value
		}
		f.Low, f.High = min(f.Low, mb.Low), max(f.High, mb.High)
	}
	f.Open = func() (out []limit.Option) {
		for i := range choices {
			c := &choices[i]
			out = append(out, limit.Option{Word: c.name(), Label: c.name(), Number: c.mbps(it).Value,
				Do: []rig.Edit{{Do: "deliver", Item: it.ID, Port: port.ID, Deliver: &rig.Deliver{Format: c.Format, Width: c.width, Height: c.height}}}})
		}
		return out
	}
	return f
}
