package plans

import (
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/say"
)

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
	sh := &Shape{Programme: [2]int{pr.Width, pr.Height}, Sent: [2]int{in.Width, in.Height}, At: first.At.Within(second.At), Shows: first.Shows,
		Enlarged: second.Enlarged, Stretched: odd && how == picture.Stretch, Scanned: in.Interlaced}
	sh.Fills = sh.At.W * sh.At.H
	return sh
}

// Words are border, crop and scale in words; empty when the picture fits as it is.
func (sh *Shape) Words() string {
	var parts []string
	if sh.At.W < 0.9995 {
		parts = append(parts, lang.Text("borders at the sides: it fills %s % of the width", say.Number(say.Round1(sh.At.W*100))))
	}
	if sh.At.H < 0.9995 {
		parts = append(parts, lang.Text("borders above and below: it fills %s % of the height", say.Number(say.Round1(sh.At.H*100))))
	}
	if sh.Shows.W < 0.9995 {
		parts = append(parts, lang.Text("the sides are cut: %s % of the width is kept", say.Number(say.Round1(sh.Shows.W*100))))
	}
	if sh.Shows.H < 0.9995 {
		parts = append(parts, lang.Text("top and bottom are cut: %s % of the height is kept", say.Number(say.Round1(sh.Shows.H*100))))
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
