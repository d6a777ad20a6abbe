package plans

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Device is a device on USB with every way it can work, for those who look for a better place for it.
type Device struct {
	Item    int          // in the rig
	Port    int          // its upstream port
	Lead    int          // the lead it is plugged in by
	End     string       // of the lead, in the socket it is on: "to", or "from" where it was laid the other way round
	Socket  string       // that socket: "pc.front-left"
	Either  bool         // nobody knows whether it and its lead come to more than 480 Mb/s
	DrawW   limit.Bounds // what it takes of the socket it is in, in watts; nothing when it has a supply of its own
	Formats []DeviceFormat
}

// DeviceFormat is one way a device can work, with what it takes of each side of a bus in MB/s, likely and at worst. A
// side it cannot work on is negative.
type DeviceFormat struct {
	Name       string
	Deliver    *rig.Deliver // nil for a device without pictures
	Fast       float64
	FastWorst  float64
	High       float64
	HighWorst  float64
	Sends      float64 // on whichever side
	SendsWorst float64
	Loss       Loss
	Now        bool
}

// Loss is what pictures lose against the show, as one number that orders them: for a dozen devices the size and rate
// count before 4:2:2, and that before an uncompressed picture.
type Loss int

const (
	lossSmaller    Loss = 400
	lossChroma     Loss = 20
	lossCompressed Loss = 1
)

// LossOf is what a picture in a format loses against the show, where at most so much of its rate is there to be had.
func LossOf(pr *rig.Programme, f picture.Format, width, height int, rate picture.Rate, had int64) (l Loss) {
	if width < pr.Width || height < pr.Height || !rate.IsZero() && rate.Nominal() < min(pr.Rate.Nominal(), had) {
		l += lossSmaller
	}
	switch {
	case f.Compressed():
		l += lossChroma + lossCompressed
	case f.Richness() < picture.YUY2.Richness():
		l += lossChroma
	}
	return l
}

// String is what has to be given up; nothing where pictures are compressed only.
func (l Loss) String() string {
	small, chroma, compressed := strconv.Itoa(int(l/lossSmaller)), l%lossSmaller/lossChroma,
		strconv.Itoa(int(l%lossChroma))
	switch {
	case l >= lossSmaller:
		return lang.Text("%s smaller or slower than the programme, %s below 4:2:2, %s compressed", small,
			strconv.Itoa(int(chroma)), compressed)
	case chroma > 0:
		return lang.Text("%s below 4:2:2, %s compressed", strconv.Itoa(int(chroma)), compressed)
	}
	return ""
}

// Devices lists the devices of a judged rig that sit on USB, hubs and docks left out.
func (p *Plan) Devices() []Device {
	r := p.Rig
	var out []Device
	for i := range r.Items {
		it := &r.Items[i]
		if it.IsHost() || it.Gear.Kind == gear.Hub || it.Gear.Kind == gear.Dock {
			continue
		}
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			lead := p.Wiring.LeadAt(i, j)
			if port.Direction != gear.Upstream || port.Connector.Family() != gear.USBFamily ||
				port.Connector == gear.Internal || lead < 0 {
				continue
			}
			s := Device{Item: i, Port: j, Lead: lead, End: "to", Socket: r.Leads[lead].To}
			if from, _, _, _ := p.Wiring.LeadEnds(lead); from != i { // laid the other way round
				s.End, s.Socket = "from", r.Leads[lead].From
			}
			high, either := p.side(it, port, &r.Leads[lead])
			s.Either = either
			if surely, possibly := it.Gear.BusPowered(); possibly {
				d := DrawFact(it)
				s.DrawW = limit.Bounds{Low: d.Low, Value: d.Value, High: d.High}
				if !surely {
					s.DrawW.Low, s.DrawW.Value = 0, 0
				}
			}
			s.Formats = p.waysToWork(it, i, port, high)
			out = append(out, s)
		}
	}
	return out
}

// side tells whether a device and its lead come to more than 480 Mb/s: surely not, or nobody knows.
func (p *Plan) side(it *rig.Item, port *gear.Port, l *rig.Lead) (high, either bool) {
	way := Stream{Speeds: []limit.Fact{p.SpeedFact(it, port)}}
	if f, ok := USBGradeFact(l); ok {
		way.Through(f)
	}
	surely, possibly := way.High()
	return surely, possibly && !surely
}

// waysToWork are a device's formats, with what its stream takes in each.
func (p *Plan) waysToWork(it *rig.Item, item int, port *gear.Port, high bool) []DeviceFormat {
	now := Stream{Owner: it, Port: port.ID, MayReserve: port.USB == nil || port.USB.Transfer == usb.UnknownTransfer ||
		port.USB.Transfer == ""}
	now.Reserves = port.USB != nil && port.USB.Transfer == usb.Isochronous
	for _, s := range p.Streams {
		if s.Owner == it && s.Port == port.ID {
			now = *s
		}
	}
	kind := usb.Bulk
	if now.Reserves || now.MayReserve {
		kind = usb.Isochronous
	}
	_, most := usb.EndpointMBps(usb.HighSpeed, kind)
	choices := []Delivery(nil)
	in := p.arrivingMode(it, item)
	if own := BoxMode(it, it.Gear.Port(port.ID)); it.Gear.Kind == gear.Switcher && own != nil {
		// it hands on its own picture
		in = own
	}
	if len(it.Gear.Delivers) > 0 {
		choices = p.Deliveries(it, in)
	}
	if len(choices) == 0 {
		f := DeviceFormat{Name: lang.Text("in use"), Now: true}
		if now.Ref == "" { // it sends nothing that is judged
			takes := it.Gear.TakesOfBus()
			now.Facts, now.Load = []limit.Fact{limit.Of(limit.Key{}, "MB/s", takes)}, limit.Times(1, 1)
		}
		p.sides(&f, &now, high, most)
		return []DeviceFormat{f}
	}
	var want rig.Deliver
	asked := false
	if it.Set != nil {
		want, asked = it.Set.Deliver[port.ID]
	}
	var out []DeviceFormat
	pr := p.Show.Programme
	for i := range choices {
		c := choices[i]
		if slices.ContainsFunc(choices, func(o Delivery) bool {
			// of lines alike but for their rate, the program takes the best
			return o.Format == c.Format && o.Width == c.Width && o.Height == c.Height && o.At != c.At &&
				p.Richer(&o, &c)
		}) {
			continue
		}
		f := DeviceFormat{Name: string(c.Format) + " " + picture.SizeName(c.Width, c.Height),
			Deliver: &rig.Deliver{Format: c.Format, Width: c.Width, Height: c.Height, Rate: want.Rate}}
		f.Now = len(choices) == 1 || asked && c.Format == want.Format && (want.Width == 0 ||
			c.Width == want.Width && c.Height == want.Height)
		if !want.Rate.IsZero() && want.Rate.Cmp(c.Rate) < 0 { // the rate it was set to stays
			c.Rate = want.Rate
		}
		s := now
		if !f.Now || now.Sends != sendsChosen { // what it sends now has been judged
			p.StreamOf(&s, it, port, c)
		}
		if p.sides(&f, &s, high, most); f.Fast < 0 && f.High < 0 {
			continue
		}
		had := pr.Rate.Nominal()
		if !in.Rate.IsZero() {
			had = in.Rate.Nominal() // what does not come in is not lost here
		}
		f.Loss = LossOf(&pr, c.Format, c.Width, c.Height, c.Rate, had)
		if !slices.ContainsFunc(out, func(o DeviceFormat) bool { return o.Name == f.Name }) {
			out = append(out, f)
		}
	}
	return out
}

// sides fills in what a stream takes of either side of the bus, as likely and at worst; −1 where it does not go. high
// is a socket that has the 480 Mb/s side only, most what one endpoint carries there.
func (p *Plan) sides(f *DeviceFormat, s *Stream, high bool, most float64) {
	need := s.Load.Bounds(s.Facts)
	if s.Unknown { // as likely it is what it would take to hold: none is ruled out that may be
		need.Value = need.Low
	}
	f.Fast, f.FastWorst, f.High, f.HighWorst = need.Value, need.High, need.Value, need.High
	f.Sends, f.SendsWorst = need.Value, need.High
	if high {
		f.Fast, f.FastWorst = -1, -1
	}
	if (s.Reserves || s.MayReserve) && s.Width > 0 {
		facts, load, _ := p.Reservation(s)
		b := load.Bounds(facts)
		f.HighWorst = b.High
		if f.High = b.Value; facts[0].From == fact.Estimate {
			// as likely it takes a setting that is not the largest
			f.High = min(b.Value, max(need.Value, b.Value/2))
		}
	}
	if need.Value > most {
		f.High = -1
	}
	if need.High > most {
		f.HighWorst = -1
	}
}

// arrivingMode is the picture that comes into a capture device, where one lead tells; the zero Mode for a source.
func (p *Plan) arrivingMode(it *rig.Item, item int) *picture.Mode {
	for i := range p.Feeds { // as it was followed from its source
		if f := &p.Feeds[i]; f.Bytes != nil && f.Bytes.Owner == it && f.Mode != nil && it.Gear.Kind != gear.Switcher {
			return f.Mode
		}
	}
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction != gear.In {
			continue
		}
		at := p.Wiring.LeadAt(item, j)
		if at < 0 {
			continue
		}
		fi, fp, _, _ := p.Wiring.LeadEnds(at)
		if src := &p.Items[fi]; src.IsSource() {
			m, _ := p.SentMode(src, &src.Gear.Ports[fp])
			return m
		}
		return p.ProgrammeMode()
	}
	return &NoPicture
}
