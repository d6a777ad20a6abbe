package rig

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/usb"
)

// Paths name single facts of a rig, with ids in place of positions:
//
//	leads/ID/lengthM                          items/ID/power/drawW
//	leads/ID/grade                            items/ID/power/battery/mAh | volts | usableShare
//	items/ID/clean                            items/ID/power/mains
//	items/ID/ports/PORT/usb/speed|transfer    items/ID/delivers/N/bitsPerPixel
//	items/ID/ports/PORT/hdmi/maxTmdsMHz       items/ID/controllers/CONTROLLER/uplinkMBps
//	uplink/estimateMbps                       show/destinations/N/videoKbps | audioKbps

// applyPath sets one fact or one choice. Whatever the path leads through is copied first.
func (r *Rig) applyPath(e *Edit) error {
	if e.Do == "fact" {
		if e.Fact == nil {
			return fmt.Errorf("fact is missing")
		}
		if err := e.Fact.Check(); err != nil {
			return err
		}
	}
	parts := strings.Split(e.Path, "/")
	var err error
	switch {
	case len(parts) == 3 && parts[0] == "leads":
		err = r.leadPath(parts[1], parts[2], e)
	case len(parts) >= 3 && parts[0] == "items":
		it := r.Item(parts[1])
		if it == nil {
			return noItem(parts[1])
		}
		err = itemPath(it, parts[2:], e)
	case e.Path == "uplink/estimateMbps":
		up := Uplink{}
		if r.Uplink != nil {
			up = *r.Uplink
		}
		up.EstimateMbps = e.Fact
		r.Uplink = &up
	case len(parts) == 4 && parts[0] == "show" && parts[1] == "destinations":
		n, bad := strconv.Atoi(parts[2])
		if bad != nil || n < 0 || n >= len(r.Show.Destinations) {
			return fmt.Errorf("path %q: no such destination", e.Path)
		}
		r.Show.Destinations = slices.Clone(r.Show.Destinations)
		switch parts[3] {
		case "videoKbps":
			r.Show.Destinations[n].Send.VideoKbps = e.Fact
		case "audioKbps":
			r.Show.Destinations[n].Send.AudioKbps = e.Fact
		default:
			return noPath(e)
		}
	default:
		return noPath(e)
	}
	return err
}

func noPath(e *Edit) error { return fmt.Errorf("path %q: names no %s of a rig", e.Path, e.Do) }

func (r *Rig) leadPath(id, field string, e *Edit) error {
	l := r.Lead(id)
	if l == nil {
		return fmt.Errorf("lead %q: not in this rig", id)
	}
	switch {
	case field == "lengthM" && e.Fact != nil:
		l.LengthM = *e.Fact
	case field == "grade" && e.Do == "word":
		l.Grade = e.Word
	default:
		return noPath(e)
	}
	return nil
}

func itemPath(it *Item, parts []string, e *Edit) error {
	g := &it.Gear
	switch {
	case len(parts) == 1 && parts[0] == "clean":
		return choose(&g.Clean, gear.Cleans, e)
	case parts[0] == "power" && len(parts) >= 2:
		return powerPath(g, parts[1:], e)
	case parts[0] == "ports" && len(parts) == 4:
		at := g.Port(parts[1])
		if at < 0 {
			return fmt.Errorf("path %q: %q has no port %q; it has %s", e.Path, it.ID, parts[1], portList(g))
		}
		g.Ports = slices.Clone(g.Ports)
		return portPath(&g.Ports[at], parts[2]+"/"+parts[3], e)
	case parts[0] == "delivers" && len(parts) == 3 && parts[2] == "bitsPerPixel":
		n, bad := strconv.Atoi(parts[1])
		if bad != nil || n < 0 || n >= len(g.Delivers) || e.Fact == nil {
			return noPath(e)
		}
		g.Delivers = slices.Clone(g.Delivers)
		g.Delivers[n].BitsPerPixel = e.Fact
		return nil
	case parts[0] == "controllers" && len(parts) == 3 && parts[2] == "uplinkMBps" && e.Fact != nil:
		for i := range g.Controllers {
			if g.Controllers[i].ID == parts[1] {
				g.Controllers = slices.Clone(g.Controllers)
				g.Controllers[i].UplinkMBps = e.Fact
				return nil
			}
		}
	}
	return noPath(e)
}

func powerPath(g *gear.Gear, parts []string, e *Edit) error {
	p := gear.Power{}
	if g.Power != nil {
		p = *g.Power
	}
	g.Power = &p
	switch {
	case parts[0] == "mains":
		return choose(&p.Mains, []gear.MainsPossible{gear.MainsYes, gear.MainsDummy, gear.MainsNo, gear.MainsUnknown}, e)
	case parts[0] == "drawW" && e.Fact != nil:
		p.DrawW = e.Fact
		return nil
	case parts[0] == "battery" && len(parts) == 2 && e.Fact != nil && p.Battery != nil:
		b := *p.Battery
		p.Battery = &b
		switch parts[1] {
		case "mAh":
			b.MAh = *e.Fact
			return nil
		case "volts":
			b.Volts = *e.Fact
			return nil
		case "usableShare":
			b.UsableShare = e.Fact
			return nil
		}
	}
	return noPath(e)
}

func portPath(p *gear.Port, field string, e *Edit) error {
	switch field {
	case "hdmi/maxTmdsMHz":
		if e.Fact == nil {
			return noPath(e)
		}
		p.HDMI = &gear.HDMIPort{MaxTMDSMHz: e.Fact}
		return nil
	case "usb/speed", "usb/transfer":
		u := gear.USBPort{Speed: usb.UnknownSpeed}
		if p.USB != nil {
			u = *p.USB
		}
		p.USB = &u
		if field == "usb/speed" {
			return choose(&u.Speed, append(slices.Clone(usb.Speeds), usb.UnknownSpeed), e)
		}
		return choose(&u.Transfer, []usb.Transfer{usb.Bulk, usb.Isochronous, usb.UnknownTransfer}, e)
	}
	return noPath(e)
}

// choose sets a field to the edit's word when the list allows it.
func choose[T ~string](field *T, allowed []T, e *Edit) error {
	if e.Do != "word" {
		return noPath(e)
	}
	for _, a := range allowed {
		if string(a) == e.Word {
			*field = a
			return nil
		}
	}
	return fmt.Errorf("path %q: %q is not one of %v", e.Path, e.Word, allowed)
}

// FactAt gives the fact a numeric path names, or an error when it names none or is not set.
func (r *Rig) FactAt(path string) (fact.Fact, error) {
	for _, f := range r.Facts() {
		if f.Path == path {
			return f.Fact, nil
		}
	}
	return fact.Fact{}, fmt.Errorf("path %q: no such fact in this rig", path)
}

// NamedFact is a numeric fact with its path.
type NamedFact struct {
	Path string
	Fact fact.Fact
}

// Facts lists every numeric fact the rig states, with its path.
func (r *Rig) Facts() []NamedFact {
	var out []NamedFact
	add := func(f *fact.Fact, format string, args ...any) {
		if f != nil {
			out = append(out, NamedFact{fmt.Sprintf(format, args...), *f})
		}
	}
	for i := range r.Leads {
		add(&r.Leads[i].LengthM, "leads/%s/lengthM", r.Leads[i].ID)
	}
	for i := range r.Items {
		id, g := r.Items[i].ID, &r.Items[i].Gear
		for j := range g.Ports {
			if h := g.Ports[j].HDMI; h != nil {
				add(h.MaxTMDSMHz, "items/%s/ports/%s/hdmi/maxTmdsMHz", id, g.Ports[j].ID)
			}
		}
		for j := range g.Delivers {
			add(g.Delivers[j].BitsPerPixel, "items/%s/delivers/%d/bitsPerPixel", id, j)
		}
		for j := range g.Controllers {
			add(g.Controllers[j].UplinkMBps, "items/%s/controllers/%s/uplinkMBps", id, g.Controllers[j].ID)
		}
		if p := g.Power; p != nil {
			add(p.DrawW, "items/%s/power/drawW", id)
			if b := p.Battery; b != nil {
				add(&b.MAh, "items/%s/power/battery/mAh", id)
				add(&b.Volts, "items/%s/power/battery/volts", id)
				add(b.UsableShare, "items/%s/power/battery/usableShare", id)
			}
		}
	}
	if r.Uplink != nil {
		add(r.Uplink.EstimateMbps, "uplink/estimateMbps")
	}
	for i := range r.Show.Destinations {
		add(r.Show.Destinations[i].Send.VideoKbps, "show/destinations/%d/videoKbps", i)
		add(r.Show.Destinations[i].Send.AudioKbps, "show/destinations/%d/audioKbps", i)
	}
	return out
}

// GradeIsHDMI tells whether a grade word belongs to HDMI leads.
func GradeIsHDMI(grade string) bool { return slices.Contains(hdmi.Grades, hdmi.Grade(grade)) }
