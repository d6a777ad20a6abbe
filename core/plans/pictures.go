package plans

import (
	"cmp"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// OutputMode is the mode a picture output is set to; without a setting, the only or the best one it lists, else the
// programme's own. assumed tells that somebody should say.
func (p *Plan) OutputMode(it *rig.Item, port *gear.Port) (m picture.Mode, assumed bool) {
	if it.Set != nil {
		if m, ok := it.Set.Output[port.ID]; ok {
			return m, false
		}
	}
	listed, assumed := p.listedMode(port)
	return *listed, assumed
}

// SentMode is OutputMode while the pass runs, in memory of the pass. The mode is not to be changed.
func (p *Plan) SentMode(it *rig.Item, port *gear.Port) (m *picture.Mode, assumed bool) {
	if it.Set != nil {
		if m, ok := it.Set.Output[port.ID]; ok {
			return &p.Mem.Modes.Of(m)[0], false
		}
	}
	return p.listedMode(port)
}

// listedMode is the mode of an output nobody has set.
func (p *Plan) listedMode(port *gear.Port) (m *picture.Mode, assumed bool) {
	switch len(port.Modes) {
	case 0:
		return p.ProgrammeMode(), true
	case 1:
		return &port.Modes[0], false
	}
	best := 0
	for i := 1; i < len(port.Modes); i++ {
		if p.suits(&port.Modes[i], &port.Modes[best]) {
			best = i
		}
	}
	return &port.Modes[best], true
}

// suits tells whether a picture suits the show better than another, in whatever order they are listed: cadence first,
// then a size as large as the programme's and no larger, then the rate, then the name.
func (p *Plan) suits(a, b *picture.Mode) bool {
	return cmp.Or(cmp.Compare(p.unsuited(a), p.unsuited(b)), a.Rate.Cmp(b.Rate), cmp.Compare(b.Chroma, a.Chroma),
		cmp.Compare(a.Depth(), b.Depth()), cmp.Compare(a.Width, b.Width)) < 0
}

func (p *Plan) unsuited(m *picture.Mode) int {
	pr := p.Show.Programme
	rate := m.Rate
	if !m.Inner.IsZero() {
		rate = m.Inner
	}
	n := 0
	switch {
	case rate == pr.Rate:
	case rate.Nominal() == pr.Rate.Nominal():
		n = 200
	case rate.Nominal()%max(pr.Rate.Nominal(), 1) == 0:
		n = 100
	case pr.Rate.Nominal()%max(rate.Nominal(), 1) == 0:
		n = 300
	default:
		n = 400
	}
	switch {
	case m.Interlaced:
		n += 50
	case m.Width == pr.Width && m.Height == pr.Height:
	case m.Width >= pr.Width && m.Height >= pr.Height:
		n += 20
	default:
		n += 40 - min(m.Height*9/max(pr.Height, 1), 9)
	}
	return n
}

// UsesFixedRate tells whether a picture goes over a fixed-rate link of two HDMI sockets: both may have one, and the
// character rate, in Hz, is past what one of them does. sure tells that both are known to have one.
func UsesFixedRate(from, to *gear.Port, rate float64) (uses, sure bool) {
	a, b := FixedRateOf(from), FixedRateOf(to)
	if a == hdmi.NoFRL || b == hdmi.NoFRL {
		return false, false
	}
	most := hdmi.MHz20
	for _, port := range [2]*gear.Port{from, to} {
		if port.HDMI != nil && port.HDMI.MaxTMDSMHz != nil {
			most = min(most, port.HDMI.MaxTMDSMHz.High)
		}
	}
	return fact.Over(rate/say.Mega, most), a != hdmi.UnknownFRL && b != hdmi.UnknownFRL
}

// FixedRateOf is what is known of a socket's fixed-rate link: as said, else none where its character rate is below what
// every socket with one has, else unknown [memory: HDMI 2.1].
func FixedRateOf(port *gear.Port) hdmi.FRL {
	switch {
	case port.HDMI == nil:
		return hdmi.UnknownFRL
	case port.HDMI.FixedRate == hdmi.SaidNone:
		return hdmi.NoFRL
	case port.HDMI.FixedRate != hdmi.NoFRL:
		return port.HDMI.FixedRate
	case port.HDMI.MaxTMDSMHz != nil && !fact.Over(hdmi.MHz20, port.HDMI.MaxTMDSMHz.High):
		return hdmi.UnknownFRL
	case port.HDMI.MaxTMDSMHz == nil:
		return hdmi.UnknownFRL
	}
	return hdmi.NoFRL
}

// Upstream is the port of an item that faces the computer; an empty one when it has none.
func Upstream(it *rig.Item) *gear.Port {
	for i := range it.Gear.Ports {
		if it.Gear.Ports[i].Direction == gear.Upstream {
			return &it.Gear.Ports[i]
		}
	}
	return &noPort
}

var noPort gear.Port

// BoxMode is the picture a switcher or scaling converter runs at: as its output is set, else its only mode; nil when
// nobody has said.
func BoxMode(it *rig.Item, out int) *picture.Mode {
	if it.Set != nil {
		if out >= 0 {
			if m, ok := it.Set.Output[it.Gear.Ports[out].ID]; ok {
				return &m
			}
		}
		first := "" // a switcher runs at one picture, whichever output it is set for
		for id := range it.Set.Output {
			if first == "" || id < first {
				first = id
			}
		}
		if first != "" {
			m := it.Set.Output[first]
			return &m
		}
	}
	if out >= 0 && len(it.Gear.Ports[out].Modes) == 1 {
		return &it.Gear.Ports[out].Modes[0]
	}
	return nil
}

// Shape is how a source's picture lies on the programme.
type Shape struct {
	Programme [2]int       // width and height of the programme
	Sent      [2]int       // width and height of what the source sends
	At        picture.Rect // the part of the programme it covers
	Shows     picture.Rect // the part of what is sent that is seen
	Fills     float64      // share of the programme it covers
	Enlarged  float64
	Stretched bool
	Scanned   bool // interlaced
}

// ShapeOf follows a picture's outline from the source through the capture device into the programme; nil for one that
// does not get there.
func (p *Plan) ShapeOf(f *Feed) *Shape {
	if f.Bytes == nil {
		return nil
	}
	s, in, pr := f.Bytes, *f.Mode, &p.Show.Programme
	if in.Width == 0 {
		in.Width, in.Height = s.Width, s.Height
	}
	how := s.Owner.Gear.OddSizes
	first := picture.Fitted{At: picture.Whole, Shows: picture.Whole, Enlarged: 1}
	odd := picture.Aspect(in.Width, in.Height) != float64(s.Width)/float64(s.Height)
	if odd && how != picture.Refuse {
		if how == "" || how == picture.UnknownHow {
			how = picture.Box
		}
		first = picture.Fit(in.Width, in.Height, s.Width, s.Height, how)
	}
	second := picture.Fit(s.Width, s.Height, pr.Width, pr.Height, picture.Box)
	sh := &Shape{Programme: [2]int{pr.Width, pr.Height}, Sent: [2]int{in.Width, in.Height},
		At: first.At.Within(second.At), Shows: first.Shows,
		Enlarged: second.Enlarged, Stretched: odd && how == picture.Stretch, Scanned: in.Interlaced}
	sh.Fills = sh.At.W * sh.At.H
	return sh
}

// Words are border, crop and scale in words; empty when the picture fits as it is.
func (sh *Shape) Words() string {
	var parts []string
	if sh.At.W < 0.9995 {
		parts = append(parts, lang.Text("borders at the sides: it fills %s % of the width",
			say.Number(say.Round1(sh.At.W*100))))
	}
	if sh.At.H < 0.9995 {
		parts = append(parts, lang.Text("borders above and below: it fills %s % of the height",
			say.Number(say.Round1(sh.At.H*100))))
	}
	if sh.Shows.W < 0.9995 {
		parts = append(parts, lang.Text("the sides are cut: %s % of the width is kept",
			say.Number(say.Round1(sh.Shows.W*100))))
	}
	if sh.Shows.H < 0.9995 {
		parts = append(parts, lang.Text("top and bottom are cut: %s % of the height is kept",
			say.Number(say.Round1(sh.Shows.H*100))))
	}
	if sh.Stretched {
		parts = append(parts, lang.Text("pulled out of shape"))
	}
	if sh.Enlarged > 1.0005 {
		parts = append(parts, lang.Text("enlarged %s×", say.Number(sh.Enlarged)))
	}
	if sh.Scanned {
		parts = append(parts, lang.Text("interlaced"))
	}
	return say.List(parts)
}
