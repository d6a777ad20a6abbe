package plans

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
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

	Port       string
	Ref        string // owner and port
	Input      int    // of a card: the input it came in by, counted from 1
	Where      []string
	Speeds     []limit.Fact // every part the connection passes, with the MB/s its speed stands for
	Device     usb.Speed
	Reserves   bool // surely reserves
	MayReserve bool // may reserve
	Facts      []limit.Fact
	Load       limit.Term // over facts: MB/s it sends
	Sends      sending
	Chosen     Delivery   // of a picture
	offers     []Delivery // of one nobody has chosen
	Other      bool       // it has no picture
	From       int        // place of the source whose way it was begun on
	Brings     []int      // places of the sources whose pictures get to the computer by it
	Combs      bool       // an interlaced picture comes in: somebody has to deinterlace it
	// Where it shares, from the device up: hubs, a dock with a controller of its own, the computer's controller.
	Shares       []ShareAt
	Crosses      []HopAt
	ReservesMBps *fact.Fact // what its sheet says it reserves
	Beside       *Stream    // another of its owner
	// A card shares nothing but its slot.
	Slot     *rig.Item
	SlotPort *gear.Port
}

// IsOther tells whether it is traffic without a picture.
func (s *Stream) IsOther() bool { return s.Other }

// ShareAt is where a stream shares with others: the item, its controller ("" for a hub's way up), the socket it is in,
// and how many of the stream's speeds come before what is above it.
type ShareAt struct {
	Item       int
	Controller string
	Socket     string
	Above      int
}

// HopAt is a hop of the board where a stream meets others.
type HopAt struct {
	Item *rig.Item
	Feed *Feed
	Hop  int
}

// sending is what a stream sends, for its name and its sum.
type sending uint8

const (
	sendsOther     sending = iota // no picture
	sendsChosen                   // Stream.chosen
	SendsUndecided                // one of several pictures
	SendsUnknown                  // nobody has said which picture
)

// Name is the picture of a stream, in short.
func (s *Stream) Name() string {
	switch s.Sends {
	case sendsChosen:
		return s.Chosen.short()
	case SendsUndecided:
		return lang.Text("format not said")
	case sendsOther:
		return lang.Text("no picture")
	}
	return ""
}

// Sum is the arithmetic of a stream's load.
func (s *Stream) Sum() string {
	switch s.Sends {
	case sendsChosen:
		d := &s.Chosen
		format, size := string(d.Format), picture.SizeName(d.Width, d.Height)
		if !d.Format.Compressed() {
			bytes, _ := d.Format.FrameBytes(d.Width, d.Height)
			return lang.Text("%s %s: %s B a frame × %s", format, size, strconv.FormatInt(bytes, 10), d.Rate.String())
		}
		return lang.Text("%s %s: %s × %s × %s bit ÷ 8 × %s", format, size, strconv.Itoa(d.Width),
			strconv.Itoa(d.Height), say.Number(s.Facts[0].Value), d.Rate.String())
	case SendsUndecided:
		return lang.Text("between %s and %s MB/s, by format", say.Number(s.Facts[0].Low), say.Number(s.Facts[0].High))
	case SendsUnknown:
		return lang.Text("nobody has said which picture it delivers")
	}
	return lang.Text("while in use")
}

// Unsettled is a stream whose picture the program could choose: anything its device delivers.
func (p *Plan) Unsettled(s *Stream, it *rig.Item, port *gear.Port, choices []Delivery) {
	best := 0
	for i := 1; i < len(choices); i++ {
		if p.Richer(&choices[i], &choices[best]) {
			best = i
		}
	}
	p.StreamOf(s, it, port, choices[best])
	if len(choices) == 1 {
		return
	}
	f := p.formatFact(it, port, choices, best)
	s.offers = choices
	s.Facts, s.Load = p.FactList(f), limit.Times(1, 1)
	s.Sends = SendsUndecided
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
		if s.Sends != SendsUndecided || slices.ContainsFunc(out, func(u Undecided) bool {
			return u.Item == s.Owner && u.Port == s.Port
		}) {
			continue
		}
		u := Undecided{Item: s.Owner, Port: s.Port}
		had := int64(math.MaxInt64)
		for i := range s.offers {
			if n := s.offers[i].Rate.Nominal(); i == 0 || n > had {
				had = n
			}
		}
		for i := range s.offers {
			d := &s.offers[i]
			loss := LossOf(&p.Show.Programme, d.Format, d.Width, d.Height, d.Rate, had)
			u.Offers = append(u.Offers, Offer{rig.Deliver{Format: d.Format, Width: d.Width, Height: d.Height},
				loss >= lossSmaller, loss % lossSmaller, d.Mbps(s.Owner).Value,
				float64(d.Width*d.Height) * d.Rate.Float()})
		}
		out = append(out, u)
	}
	return out
}

// Richer tells whether a delivered picture suits the show better than another, in whatever order the sheet has them:
// one as large and as fast as the programme first, then the richest, then the smallest that is so.
func (p *Plan) Richer(a, b *Delivery) bool {
	pr := &p.Show.Programme
	small := func(d *Delivery) int {
		if d.Width < pr.Width || d.Height < pr.Height || d.Rate.Nominal() < pr.Rate.Nominal() {
			return 1
		}
		return 0
	}
	area := func(d *Delivery) int {
		if small(d) == 1 {
			return -d.Width * d.Height
		}
		return d.Width * d.Height
	}
	return cmp.Or(small(a)-small(b), b.Format.Richness()-a.Format.Richness(), area(a)-area(b), b.Rate.Cmp(a.Rate),
		cmp.Compare(a.Format, b.Format), b.MaxRate.Cmp(a.MaxRate)) < 0
}

// Delivery is one line of a device's delivered list with the size and rate it comes at.
type Delivery struct {
	*gear.Delivery
	At            int
	Width, Height int
	Rate          picture.Rate
}

func (d *Delivery) short() string {
	return string(d.Format) + " " + picture.SizeName(d.Width, d.Height)
}

// Name is a delivered picture with its rate.
func (d *Delivery) Name() string { return d.short() + " at " + d.Rate.Name() }

// Deliveries lists what a device can hand on of a picture, in the order of its sheet: no larger than the picture that
// comes in (a source's own USB knows no such bound), at its rate or an even part of it.
func (p *Plan) Deliveries(it *rig.Item, in *picture.Mode) []Delivery {
	out := p.Mem.offers.Room(len(it.Gear.Delivers))
	for i := range it.Gear.Delivers {
		d := &it.Gear.Delivers[i]
		c := Delivery{d, i, d.Width, d.Height, d.MaxRate}
		if !in.Rate.IsZero() {
			w, h, ok := d.Size(in.Width, in.Height)
			// A picture of another shape is fitted in: one of its sides has to be as large as the delivery's.
			if !ok && (d.Steps != nil || in.Width < d.Width && in.Height < d.Height ||
				in.Width*in.Height < d.Width*d.Height/2) {
				continue
			}
			c.Width, c.Height, c.Rate = w, h, d.RateFor(in.Rate)
		}
		out = append(out, c)
	}
	return out
}

// StreamOf fills in the load of one delivery.
func (p *Plan) StreamOf(s *Stream, it *rig.Item, port *gear.Port, d Delivery) {
	s.ReservesMBps = d.ReservesMBps
	if s.ReservesMBps == nil && port.USB != nil {
		s.ReservesMBps = port.USB.ReservesMBps
	}
	s.Width, s.Height, s.Rate = d.Width, d.Height, d.Rate
	s.Deep = d.Format == picture.P010 || d.Format == picture.V210
	s.Sends, s.Chosen = sendsChosen, d
	load, bits, compressed := d.bytes(it)
	if s.Load, s.Facts = load, nil; compressed {
		s.Facts = p.FactList(bits)
	}
}

// bytes is what a delivery sends in MB/s: so much, or so much for each bit a pixel of a compressed one.
func (d *Delivery) bytes(it *rig.Item) (t limit.Term, bits limit.Fact, compressed bool) {
	if !d.Format.Compressed() {
		numer, den, _ := d.Format.Stream(d.Width, d.Height, d.Rate)
		return limit.Times(float64(numer) / float64(den) / say.Mega), bits, false
	}
	standIn := gear.DefaultMJPEGBits
	if d.Format == picture.H264 {
		standIn = gear.DefaultH264Bits
	}
	bits = limit.Stated(limit.Part("items/ID/delivers/N/bitsPerPixel", it.ID, strconv.Itoa(d.At)), "bit",
		d.BitsPerPixel, standIn)
	return limit.Times(float64(d.Width)*float64(d.Height)*d.Rate.Float()/8/say.Mega, 1), bits, true
}

// Mbps is what a delivery sends, between its bounds.
func (d *Delivery) Mbps(it *rig.Item) limit.Bounds {
	t, bits, compressed := d.bytes(it)
	if !compressed {
		return t.Bounds(nil)
	}
	return t.Bounds([]limit.Fact{bits})
}

// formatFact is which picture the program takes, as likely the best of them; each answer is so many MB/s.
func (p *Plan) formatFact(it *rig.Item, port *gear.Port, choices []Delivery, best int) limit.Fact {
	f := limit.Fact{Key: limit.Part("items/ID/deliver/PORT", it.ID, port.ID), Unit: "MB/s", From: fact.Estimate,
		Word: "not said"}
	for i := range choices {
		mb := choices[i].Mbps(it)
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
			out = append(out, limit.Option{Word: c.Name(), Label: c.Name(), Number: c.Mbps(it).Value,
				Do: []rig.Edit{{Do: "deliver", Item: it.ID, Port: port.ID, Deliver: &rig.Deliver{Format: c.Format,
					Width: c.Width, Height: c.Height}}}})
		}
		return out
	}
	return f
}
