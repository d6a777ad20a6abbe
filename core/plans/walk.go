package plans

import (
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
)

var NoPicture picture.Mode

// ProgrammeMode is the programme's size and rate as a picture.
func (p *Plan) ProgrammeMode() *picture.Mode { return &p.programmed }

// InputsUsed counts the picture inputs of an item that have a lead in them.
func (p *Plan) InputsUsed(it *rig.Item, at int) int {
	if it.Gear.Kind == gear.Capture || it.Gear.Kind == gear.Computer {
		return 1
	}
	n := 0
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction == gear.In && p.Wiring.LeadAt(at, j) >= 0 {
			n++
		}
	}
	return n
}

// Movement is the rate of the movement in the picture that arrived, which may be slower than its link.
func Movement(m *picture.Mode, s *Stream) picture.Rate {
	if !m.Inner.IsZero() && m.Inner.Cmp(s.Rate) < 0 {
		return m.Inner
	}
	return s.Rate
}

// HopWords are what a hop says: a label, and a detail beside it.
func (p *Plan) HopWords(h *Hop) (label, detail string) {
	switch {
	case h.Stage == Picture:
		s, pr := h.Bytes, &p.Show.Programme
		label, detail = CadenceText(Movement(h.Mode, s), pr.Rate), picture.SizeName(s.Width, s.Height)
		if s.Width != pr.Width || s.Height != pr.Height {
			detail = p.T("%s into %s", detail, picture.SizeName(pr.Width, pr.Height))
		}
	case h.Kind == "lead" && h.Stage == Lead:
		label, detail = p.LeadName(h.Lead), carries(h.Mode, h.Fixed, h.Port)
	case h.Kind == "lead":
		label, detail = p.LeadName(h.Lead), p.LeadTitle(h.Lead)
	case h.Stage == Socket && h.Port == nil:
		label = lang.Text("no picture output")
	case h.Stage == Socket && h.Mode == nil:
		label, detail = rig.PortName(h.Port), lang.Text("its own USB")
	case h.Stage == Socket:
		label, detail = rig.PortName(h.Port), ModeText(h.Mode)
	case h.Kind == "port":
		label, detail = rig.PortName(h.Port), SocketSpeed(h.Port)
		if h.Item != nil && !h.Item.IsHost() { // of a hub or dock
			detail = p.T("%s, %s", h.Item.Label, detail)
		}
	case h.Stage == Port: // it goes no further
		label = h.Item.Label
	case h.Own:
		label = p.T("%s itself", h.Item.Label)
	case h.Several:
		label, detail = rig.PortName(h.Port), h.Item.Label
	default:
		label, detail = h.Item.Label, h.Item.Gear.Name
	}
	if h.Bytes != nil && h.Stage == Capture {
		detail = h.Bytes.Name()
	}
	return label, detail
}
