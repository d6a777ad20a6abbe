package judge

import (
	"eventether/core/picture"
)

// Shape is how a source's picture lies on the programme, for a small true-to-shape drawing.
type Shape struct {
	Programme [2]int       `json:"programme" doc:"Width and height of the programme"`
	Sent      [2]int       `json:"sent" doc:"Width and height of what the source sends"`
	At        picture.Rect `json:"at" doc:"The part of the programme it covers"`
	Shows     picture.Rect `json:"shows" doc:"The part of what is sent that is seen"`
	Fills     float64      `json:"fills" doc:"Share of the programme it covers"`
	Words     string       `json:"words" doc:"Border, crop and scale in words; empty when it fits as it is"`
}

// scaled notes that a picture was scaled on the way; down and up again loses twice.
func (w *walk) scaled(fromW, fromH, toW, toH, programme int) {
	if toW < fromW && toW < programme {
		w.wasDown = true
	}
}

// shape follows the picture's outline from the source through the capture device into the programme.
func (p *pass) shape(w *walk, s *stream) *Shape {
	pr := p.Show.Programme
	in := w.mode
	if in.Width == 0 {
		in.Width, in.Height = s.width, s.height
	}
	how := s.owner.Gear.OddSizes
	first := picture.Fitted{At: picture.Whole, Shows: picture.Whole, Enlarged: 1}
	odd := picture.Aspect(in.Width, in.Height) != float64(s.width)/float64(s.height)
	if odd && how != picture.Refuse {
		if how == "" || how == picture.UnknownHow {
			how = picture.Box
		}
		first = picture.Fit(in.Width, in.Height, s.width, s.height, how)
	}
	second := picture.Fit(s.width, s.height, pr.Width, pr.Height, picture.Box)
	sh := &Shape{Programme: [2]int{pr.Width, pr.Height}, Sent: [2]int{in.Width, in.Height}, At: first.At.Within(second.At), Shows: first.Shows}
	sh.Fills = sh.At.W * sh.At.H
	sh.Words = p.shapeWords(w, sh, odd && how == picture.Stretch, second.Enlarged)
	return sh
}

func (p *pass) shapeWords(w *walk, sh *Shape, stretched bool, enlarged float64) string {
	if p.quiet {
		return ""
	}
	var parts []string
	if sh.At.W < 0.9995 {
		parts = append(parts, p.say("borders at the sides: it fills %s % of the width", num(round1(sh.At.W*100))))
	}
	if sh.At.H < 0.9995 {
		parts = append(parts, p.say("borders above and below: it fills %s % of the height", num(round1(sh.At.H*100))))
	}
	if sh.Shows.W < 0.9995 {
		parts = append(parts, p.say("the sides are cut: %s % of the width is kept", num(round1(sh.Shows.W*100))))
	}
	if sh.Shows.H < 0.9995 {
		parts = append(parts, p.say("top and bottom are cut: %s % of the height is kept", num(round1(sh.Shows.H*100))))
	}
	if stretched {
		parts = append(parts, "pulled out of shape")
	}
	if enlarged > 1.0005 {
		parts = append(parts, p.say("enlarged %s×", num(enlarged)))
	}
	if w.mode.Interlaced {
		parts = append(parts, "interlaced")
	}
	return list(parts)
}

func round1(v float64) float64 { return float64(int(v*10+0.5)) / 10 }
