package judge

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Stream is a device on USB with every way it can work, for those who look for a better place for it.
type Stream struct {
	Item    int // in the rig
	Port    int // its upstream port
	Lead    int // the lead that ends in the socket it is on
	Fast    bool
	Formats []StreamFormat
}

// StreamFormat is one way a device can work, with what it takes of each side of a bus in MB/s, likely and at worst. A side
// it cannot work on is negative.
type StreamFormat struct {
	Name      string
	Deliver   *rig.Deliver // nil for a device without pictures
	Fast      float64
	FastWorst float64
	High      float64
	HighWorst float64
	Loss      int
	Now       bool
}

// What a format loses against the show, so that for a dozen devices the size and rate count before 4:2:2, and that
// before an uncompressed picture (handbook 3.4).
const (
	lossSmaller    = 400
	lossChroma     = 20
	lossCompressed = 1
)

// Streams lists the devices of a rig that sit on USB, hubs and docks left out.
func Streams(r *rig.Rig) []Stream {
	p := newPass(r, true)
	var out []Stream
	for i := range r.Items {
		it := &r.Items[i]
		if it.IsHost() || it.Gear.Kind == gear.Hub || it.Gear.Kind == gear.Dock {
			continue
		}
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			lead := p.g.LeadAt(i, j)
			if port.Direction != gear.Upstream || port.Connector.Family() != gear.USBFamily || port.Connector == gear.Internal || lead < 0 {
				continue
			}
			s := Stream{Item: i, Port: j, Lead: lead, Fast: p.runsFast(it, port, &r.Leads[lead])}
			s.Formats = p.waysToWork(it, i, port, s.Fast)
			out = append(out, s)
		}
	}
	return out
}

// runsFast tells whether a device and its lead come to more than 480 Mb/s.
func (p *pass) runsFast(it *rig.Item, port *gear.Port, l *rig.Lead) bool {
	if port.USB == nil || port.USB.Speed == usb.HighSpeed {
		return false
	}
	sure, _, err := usb.GradeSpeed(usb.Grade(l.Grade))
	return err == nil && sure != "" && sure != usb.HighSpeed
}

func (p *pass) waysToWork(it *rig.Item, item int, port *gear.Port, fast bool) []StreamFormat {
	iso := port.USB != nil && (port.USB.Transfer == usb.Isochronous || port.USB.Transfer == usb.UnknownTransfer || port.USB.Transfer == "")
	sides := func(f *StreamFormat, value, worst float64) {
		f.Fast, f.FastWorst = value, worst
		if !fast {
			f.Fast, f.FastWorst = -1, -1
		}
		f.High, f.HighWorst = value, worst
		if iso {
			_, reserved := usb.ReservationMBps(value)
			f.High, f.HighWorst = min(reserved, max(value, reserved/2)), reserved
		}
		_, most := usb.EndpointMBps(usb.HighSpeed, usb.Bulk)
		if iso {
			_, most = usb.EndpointMBps(usb.HighSpeed, usb.Isochronous)
		}
		if value > most {
			f.High, f.HighWorst = -1, -1
		}
	}
	if len(it.Gear.Delivers) == 0 {
		f := StreamFormat{Name: "in use", Now: true}
		takes := it.Gear.TakesOfBus()
		sides(&f, takes.Value, takes.High)
		return []StreamFormat{f}
	}
	in := p.arrivingMode(it, item)
	var want rig.Deliver
	asked := false
	if it.Set != nil {
		want, asked = it.Set.Deliver[port.ID]
	}
	var out []StreamFormat
	pr := p.Show.Programme
	for k, c := range p.deliveries(it, port, in) {
		var s stream
		p.streamOf(&s, it, port, c)
		b := s.load.bounds(s.facts)
		f := StreamFormat{Name: string(c.Format) + " " + picture.SizeName(c.Width, c.Height), Deliver: &rig.Deliver{Format: c.Format, Width: c.Width, Height: c.Height}}
		sides(&f, b.Value, b.High)
		if f.Fast < 0 && f.High < 0 {
			continue
		}
		wanted := pr.Rate.Nominal()
		if !in.Rate.IsZero() {
			wanted = min(wanted, in.Rate.Nominal()) // what does not come in is not lost here
		}
		if c.Width < pr.Width || c.Height < pr.Height || c.rate.Nominal() < wanted {
			f.Loss += lossSmaller
		}
		switch {
		case c.Format.Compressed():
			f.Loss += lossChroma + lossCompressed
		case c.Format.Richness() < picture.YUY2.Richness():
			f.Loss += lossChroma
		}
		f.Now = asked && c.Format == want.Format && (want.Width == 0 || c.Width == want.Width && c.Height == want.Height) || !asked && k == 0
		if !slices.ContainsFunc(out, func(o StreamFormat) bool { return o.Name == f.Name }) {
			out = append(out, f)
		}
	}
	return out
}

// arrivingMode is the picture that comes into a capture device, where one lead tells; the zero Mode for a source.
func (p *pass) arrivingMode(it *rig.Item, item int) picture.Mode {
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction != gear.In {
			continue
		}
		at := p.g.LeadAt(item, j)
		if at < 0 {
			continue
		}
		fi, fp, _, _ := p.g.LeadEnds(at)
		if src := &p.Items[fi]; src.IsSource() {
			m, _ := p.outputMode(src, &src.Gear.Ports[fp])
			return m
		}
		pr := p.Show.Programme
		return picture.Mode{Width: pr.Width, Height: pr.Height, Rate: pr.Rate}
	}
	return picture.Mode{}
}
