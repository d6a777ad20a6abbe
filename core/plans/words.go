package plans

import (
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
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
