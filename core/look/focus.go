package look

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/say"
)

// focus keeps, of each frame that is looked at closely, how much fine detail it has for its contrast.
type focus struct {
	at     []float64
	detail []float64 // logarithm to the base of two of fine energy over coarse
	moved  []bool    // the picture changed all over since the look before: another scene, not another focus
	frame  []int     // which frame of the picture it is
	wide   [8 * 6]float64
}

// add measures what changes between neighbouring samples against what changes over a twentieth of the picture.
func (k *focus) add(p *Picture, f Frame) {
	w, h := f.Width, f.Height
	far := max(8, w/20)
	sumFine, sumCoarse, count := 0, 0, 0
	for y := 2; y+2 < h; y += 5 {
		row := f.Luma[y*w : y*w+w]
		for x := 2; x+far < w; x += 3 {
			d, c := 2*int(row[x])-int(row[x-1])-int(row[x+1]), int(row[x])-int(row[x+far])
			sumFine, sumCoarse, count = sumFine+d*d, sumCoarse+c*c, count+1
		}
	}
	if count == 0 || sumCoarse == 0 {
		return
	}
	fine, coarse, n := float64(sumFine), float64(sumCoarse), float64(count)
	var wide [len(k.wide)]float64
	for i, v := range p.cell { // parts so large that a softer picture leaves them as they are
		wide[i/across/3*8+i%across/4] += v / 12
	}
	change := 0.0
	for i := range wide {
		change += math.Abs(wide[i]-k.wide[i]) / float64(len(wide))
	}
	moved := len(k.at) > 0 && change > sceneMoves
	k.wide = wide
	k.at, k.detail, k.frame = append(k.at, f.At), append(k.detail, math.Log2((fine+n)/(coarse+n))), append(k.frame, len(p.times)-1)
	k.moved = append(k.moved, moved)
}

// Of hunting: by how much fine detail swings, and how often, all [estimate].
const (
	sceneMoves = 2.0 // codes by which its parts change from one look to the next
	huntSwing  = 1.0 // powers of two of energy from the sharpest to the softest
	huntTurns  = 2
	huntSpan   = 6.0 // seconds within which it swings so often
)

// hunts tells of a lens that looks for its focus: fine detail comes and goes while the scene stays.
func (p *Picture) hunts() Sign {
	f := Sign{What: IsFocus, Answer: CannotTell, Unit: "times",
		Says: lang.Text("The scene moves all over: let it stand for ten seconds to see whether the focus hunts.")}
	k := &p.focus
	still := 0
	for _, m := range k.moved {
		if !m {
			still++
		}
	}
	if still < 15 || 2*still < len(k.moved) {
		return f
	}
	turns, where := k.turns(p)
	sharp := quantile(slices.Sorted(slices.Values(k.detail)), 0.9)
	switch {
	case len(turns) >= huntTurns:
		f.Answer, f.Value, f.Spans = Found, float64(len(turns)), where
		f.Says = lang.Text("The focus hunts: fine detail comes and goes %s.", say.Count(len(turns), "time", "times"))
	case sharp < -9: // a five-hundredth of the contrast lies in neighbouring samples
		f.Says = lang.Text("Little fine detail all along: a soft focus, or a smooth scene. Look at something with print on it.")
	default:
		f.Answer, f.Says = Clear, lang.Text("Fine detail stays: the focus holds.")
	}
	return f
}

// turns are the times detail falls by a swing and comes back while the scene stays.
func (k *focus) turns(p *Picture) (at []float64, where []Stretch) {
	high, low, from := math.Inf(-1), math.Inf(1), 0.0
	falling := false
	reset := func() { high, low, falling = math.Inf(-1), math.Inf(1), false }
	for i, d := range k.detail {
		if k.moved[i] || p.dark[max(0, k.frame[i])] > 0.9 {
			reset()
			continue
		}
		switch {
		case !falling && d > high:
			high, from = d, k.at[i]
		case !falling && d < high-huntSwing:
			falling, low = true, d
		case falling && d < low:
			low = d
		case falling && d > low+huntSwing:
			if k.at[i]-from <= huntSpan {
				at = append(at, k.at[i])
				where = append(where, Stretch{from, k.at[i]})
			}
			falling, high, from = false, d, k.at[i]
		}
	}
	return at, where
}

// lean is a histogram of the directions of edges near upright and level, by weight, in steps of a quarter of a degree.
type lean struct {
	weight [2*leanMost*leanSteps + 1]float64
}

const (
	leanMost  = 10 // degrees either way
	leanSteps = 4  // a degree
)

// add takes the directions of the edges of a frame: of every few samples, by the gradient of Scharr, which keeps angles.
func (l *lean) add(f Frame) {
	w, h := f.Width, f.Height
	for y := 1; y+1 < h; y += 7 {
		a, b, c := f.Luma[(y-1)*w:y*w], f.Luma[y*w:(y+1)*w], f.Luma[(y+1)*w:(y+2)*w]
		for x := 1; x+1 < w; x += 3 {
			gx := 3*(int(a[x+1])-int(a[x-1])) + 10*(int(b[x+1])-int(b[x-1])) + 3*(int(c[x+1])-int(c[x-1]))
			gy := 3*(int(c[x-1])-int(a[x-1])) + 10*(int(c[x])-int(a[x])) + 3*(int(c[x+1])-int(a[x+1]))
			size := gx*gx + gy*gy
			if size < 16*16*60*60 {
				continue
			}
			// Upright edges have gy near none, level ones gx: both lean the same way by the same angle.
			angle := math.Atan2(float64(gy), float64(gx)) * 180 / math.Pi
			angle -= 90 * math.Round(angle/90)
			if math.Abs(angle) <= leanMost {
				l.weight[int(math.Round(angle*leanSteps))+leanMost*leanSteps] += math.Sqrt(float64(size))
			}
		}
	}
}

// leans tells whether lines that are upright or level lean in the picture.
func (p *Picture) leans() Sign {
	f := Sign{What: IsLevel, Answer: CannotTell, Unit: "°",
		Says: lang.Text("Too few straight lines to see whether the camera is level.")}
	bins := p.lean.weight[:]
	total, best := 0.0, 0
	for i, v := range bins {
		total += v
		if v > bins[best] {
			best = i
		}
	}
	near := func(from, to int) (sum, at float64) {
		for i := max(0, from); i <= min(len(bins)-1, to); i++ {
			sum += bins[i]
			at += bins[i] * float64(i)
		}
		return sum, at
	}
	const reach = 6 // a degree and a half: an edge that leans is a stair, whose steps point either way
	sum, at := near(best-reach, best+reach)
	if total == 0 || sum < 0.4*total || best < reach || best >= len(bins)-reach { // lines all point one way, or are none
		return f
	}
	angle := (at/sum - leanMost*leanSteps) / leanSteps
	if narrow, _ := near(best-reach/2, best+reach/2); math.Abs(angle) < 2 && math.Abs(angle) >= 1 && narrow < 0.4*total { // so little is told by lines that agree only
		return f
	}
	f.Value = say.Round1(math.Abs(angle))
	if math.Abs(angle) < 1 {
		f.Answer, f.Says = Clear, lang.Text("Level, within a degree.")
		return f
	}
	f.Answer, f.Says = Found, lang.Text("Lines lean by %s° to the right: turn the camera that much.", say.Number(f.Value))
	if angle < 0 {
		f.Says = lang.Text("Lines lean by %s° to the left: turn the camera that much.", say.Number(f.Value))
	}
	return f
}
