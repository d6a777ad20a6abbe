package look

import (
	"math"

	"eventether/core/lang"
	"eventether/core/say"
)

// Patch is a marked part of a picture: three bytes a pixel, red, green, blue, full range, with the curve of BT.709.
type Patch struct {
	Label  string
	Pixels []byte
}

// Match is how one camera's patch differs from another's of the same card.
type Match struct {
	Label  string  `json:"label"`
	Stops  float64 `json:"stops" doc:"Brighter than the first, in stops"`
	DeltaE float64 `json:"deltaE" doc:"CIE 1976, D65, after exposure is evened"`
	Answer Answer  `json:"answer" enum:"found,clear,cannot-tell" doc:"found: it matches; clear: it differs by what is noticed"`
	Says   string  `json:"says"`
}

// What is noticed: side by side, and on a cut [practice; handbook 9.2]; of stops a third [estimate].
const (
	besideE = 3.0
	onCutE  = 6.0
	aThird  = 1.0 / 3
)

// MatchOf holds patches of one card against the first of them.
func MatchOf(patches []Patch) []Match {
	out := []Match{}
	if len(patches) == 0 {
		return out
	}
	first, ok := patches[0].linear()
	for i := range patches {
		p := &patches[i]
		m := Match{Label: p.Label, Answer: CannotTell}
		rgb, mine := p.linear()
		switch {
		case !mine:
			m.Says = lang.Text("Most of the mark is burnt out or black: mark a part that is neither, or set the exposure first.")
		case !ok:
			m.Says = lang.Text("The first one's mark is burnt out or black: there is nothing to hold it against.")
		case i == 0:
			m.Answer, m.Says = Found, lang.Text("The others are held against it.")
		default:
			m.against(first, rgb, patches[0].Label)
		}
		out = append(out, m)
	}
	return out
}

func (m *Match) against(first, rgb [3]float64, label string) {
	y1, y2 := luminance(first), luminance(rgb)
	stops := math.Log2(y2 / y1)
	for c := range rgb {
		rgb[c] *= y1 / y2
	}
	a, b := labOf(first), labOf(rgb)
	de := math.Sqrt((a[0]-b[0])*(a[0]-b[0]) + (a[1]-b[1])*(a[1]-b[1]) + (a[2]-b[2])*(a[2]-b[2]))
	m.Stops, m.DeltaE = math.Round(stops*100)/100, say.Round1(de)
	m.Answer = Found
	light := lang.Text("as bright as %s, within a third of a stop", label)
	if math.Abs(stops) >= aThird {
		m.Answer = Clear
		how := lang.Text("brighter")
		if stops < 0 {
			how = lang.Text("darker")
		}
		light = lang.Text("%s stops %s than %s", say.Number(say.Round1(math.Abs(stops))), how, label)
	}
	colour := lang.Text("colours apart by ΔE %s: not seen", say.Number(m.DeltaE))
	switch {
	case de >= onCutE:
		m.Answer = Clear
		colour = lang.Text("colours apart by ΔE %s, %s: seen on a cut. Set the white balance of both by hand on one card", say.Number(m.DeltaE), warmth(a, b))
	case de >= besideE:
		m.Answer = Clear
		colour = lang.Text("colours apart by ΔE %s, %s: seen side by side", say.Number(m.DeltaE), warmth(a, b))
	}
	m.Says = say.Sentence(light) + "; " + colour + "."
}

// warmth names the larger part of a difference in colour.
func warmth(a, b [3]float64) string {
	da, db := b[1]-a[1], b[2]-a[2]
	switch {
	case math.Abs(db) >= math.Abs(da) && db > 0:
		return lang.Text("warmer")
	case math.Abs(db) >= math.Abs(da):
		return lang.Text("cooler")
	case da > 0:
		return lang.Text("more magenta")
	}
	return lang.Text("greener")
}

// linear is the mean light of a patch, its clipped pixels left out; ok is false where those are most of it.
func (p *Patch) linear() (rgb [3]float64, ok bool) {
	n := 0.0
	for i := 0; i+2 < len(p.Pixels); i += 3 {
		r, g, b := p.Pixels[i], p.Pixels[i+1], p.Pixels[i+2]
		if max(r, g, b) > 252 || max(r, g, b) < 4 {
			continue
		}
		for c, v := range [3]byte{r, g, b} {
			rgb[c] += inverse709[v]
		}
		n++
	}
	if n == 0 || n*6 < float64(len(p.Pixels)) {
		return rgb, false
	}
	for c := range rgb {
		rgb[c] /= n
	}
	return rgb, luminance(rgb) > 0
}

// inverse709 is the light behind each code [standard: ITU-R BT.709-6, item 1.2].
var inverse709 = func() (t [256]float64) {
	for i := range t {
		v := float64(i) / 255
		if v < 0.081 {
			t[i] = v / 4.5
		} else {
			t[i] = math.Pow((v+0.099)/1.099, 1/0.45)
		}
	}
	return t
}()

// luminance of linear light [standard: ITU-R BT.709-6, item 3.2].
func luminance(rgb [3]float64) float64 { return 0.2126*rgb[0] + 0.7152*rgb[1] + 0.0722*rgb[2] }

// labOf is CIE 1976 L*a*b* of linear BT.709 light under D65 [standard: CIE 15; the matrix by the primaries of BT.709-6].
func labOf(rgb [3]float64) [3]float64 {
	x := (0.4124564*rgb[0] + 0.3575761*rgb[1] + 0.1804375*rgb[2]) / 0.95047
	y := 0.2126729*rgb[0] + 0.7151522*rgb[1] + 0.0721750*rgb[2]
	z := (0.0193339*rgb[0] + 0.1191920*rgb[1] + 0.9503041*rgb[2]) / 1.08883
	f := func(t float64) float64 {
		if t > 216.0/24389 {
			return math.Cbrt(t)
		}
		return (24389.0/27*t + 16) / 116
	}
	return [3]float64{116*f(y) - 16, 500 * (f(x) - f(y)), 200 * (f(y) - f(z))}
}
