package plans

import (
	"strconv"
	"strings"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// FactName is what a fact is called.
func (p *Plan) FactName(f *limit.Fact) string {
	field := rig.FieldAt(f.Field)
	if field == nil {
		return ""
	}
	return p.Fill(field, field.Wording(p.Rig, f.Of, f.Sub).Name, f)
}

// Fill puts names into the gaps of a field's text.
func (p *Plan) Fill(field *rig.Field, text string, f *limit.Fact) string {
	for {
		from, to := strings.IndexByte(text, '{'), strings.IndexByte(text, '}')
		if from < 0 || to < from {
			return text
		}
		name := ""
		switch it := p.Item(f.Of); text[from+1 : to] {
		case "item":
			if it != nil {
				name = it.Label
			}
		case "lead":
			if l := p.Lead(f.Of); l != nil {
				name = p.LeadTitle(l)
			}
		case "port":
			if it != nil {
				if at := it.Gear.Port(f.Sub); at >= 0 {
					name = rig.PortName(&it.Gear.Ports[at])
				}
			}
		case "sub":
			name = p.subName(field, it, f.Sub)
		}
		text = text[:from] + name + text[to+1:]
	}
}

// subName is what the second id of a path is called.
func (p *Plan) subName(field *rig.Field, it *rig.Item, sub string) string {
	switch {
	case strings.HasPrefix(field.Path, "sound/paths/"):
		if n, err := strconv.Atoi(sub); err == nil && p.Sound != nil && n < len(p.Sound.Paths) {
			return p.PathName(n)
		}
	case strings.HasPrefix(field.Path, "show/destinations/"):
		if n, err := strconv.Atoi(sub); err == nil && n < len(p.Show.Destinations) {
			return p.Show.Destinations[n].Name
		}
	case strings.HasPrefix(field.Path, "show/recordings/"):
		if n, err := strconv.Atoi(sub); err == nil && n < len(p.Show.Recordings) {
			return p.T("the %s", p.RecordingName(n))
		}
	case strings.Contains(field.Path, "/settings/") && it != nil:
		if s := it.Gear.Setting(sub); s != nil {
			return s.Known().Label
		}
	case strings.Contains(field.Path, "/worksWith/"):
		return ProgramName(p.Show.Program)
	}
	return sub
}

// OptionLabel is how an option of a fact is offered.
func OptionLabel(f *limit.Fact, o *limit.Option) string {
	if o.Label != "" {
		return lang.Text(o.Label)
	}
	if field := rig.FieldAt(f.Field); field != nil {
		return field.Label(o.Word)
	}
	return o.Word
}

// T is lang.Text, which all wording goes through.
func (p *Plan) T(format string, args ...string) string { return lang.Text(format, args...) }

// LeadTitle tells a lead by the things it joins.
func (p *Plan) LeadTitle(l *rig.Lead) string {
	from, to := p.Wiring.End(l.From), p.Wiring.End(l.To)
	if from == nil || to == nil {
		return l.ID
	}
	return lang.Text("from %s to %s", from.Label, to.Label)
}

// ModeText is a picture with its chroma and depth, where they are said.
func ModeText(m *picture.Mode) string {
	if m.Rate.IsZero() {
		return ""
	}
	text := m.Name()
	if m.Chroma != picture.NotSaid {
		text += " " + string(m.Chroma)
	}
	if m.Bits > 8 {
		text += lang.Text(" %s-bit", strconv.Itoa(m.Bits))
	}
	return text
}

// NoPicture stands for a picture nobody has said.
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

// CadenceText is how movement at one rate looks at another, in a few words.
func CadenceText(from, into picture.Rate) string {
	return CadenceWords(picture.CadenceOf(from, into), from, into)
}

// CadenceWords say how a rate goes into another.
func CadenceWords(c picture.Cadence, s, pr picture.Rate) string {
	switch c.Kind {
	case picture.SameRate:
		return lang.Text("same rate")
	case picture.Clean:
		if s.Cmp(pr) > 0 {
			return lang.Text("clean, one frame in %s shown", strconv.Itoa(len(c.Pattern)))
		}
		return lang.Text("clean, each shown %s times", strconv.Itoa(c.Pattern[0]))
	case picture.Slip:
		return lang.Text("a slip every %s s", say.Number(c.SlipSeconds))
	}
	return lang.Text("judder %s", Pattern(c.Pattern))
}

// Pattern writes repeats as 2,1,1,1.
func Pattern(p []int) string {
	words := make([]string, len(p))
	for i, n := range p {
		words[i] = strconv.Itoa(n)
	}
	return strings.Join(words, ",")
}

// ProgramKinds are the programs: what their name is, and the most lines the kind is known to take
// ([practice]; 0 is any).
var ProgramKinds = map[string]struct {
	Name     string
	Lines    int
	Mirrored bool
	One      bool // it takes one camera at a time, chosen in its menu
}{
	"encoder":          {"the encoder", 0, false, false},
	"browser-studio":   {"the studio in the browser", 1080, true, false},
	"destination-page": {"the destination's page", 1080, true, true},
	"call":             {"the call", 1080, true, true},
}

// CodesHere tells whether the program's coding is set here; calls, pages and studios in the browser set it by
// themselves.
func (p *Plan) CodesHere() bool { return p.Show.Program.Kind == "encoder" }

// ProgramName is a program as people say it.
func ProgramName(p rig.Program) string {
	if p.Name != "" {
		return p.Name
	}
	return lang.Text(ProgramKinds[p.Kind].Name)
}

// RecordingOf is what a recording is of.
func (p *Plan) RecordingOf(rec *rig.Recording) string {
	if it := p.Item(rec.What); it != nil {
		return it.Label
	}
	return rec.What
}
