package look

import (
	"math"
	"slices"

	"eventether/core/say"
)

// Of cuts: how much a picture changes at one, and against what it changes around it [estimate].
const (
	cutLeast  = 14.0 // codes of luma the cells change on average
	cutOver   = 4.0  // times the most that they change within half a second around it
	cutAround = 12   // frames either way
	mostCuts  = 500
)

// cuts are the times at which the picture is another from one frame to the next: it changes all over, and does not around
// that.
func (p *Picture) cuts() []float64 {
	out := []float64{}
	for i, c := range p.change {
		if math.IsNaN(c) || c < cutLeast || len(out) == mostCuts {
			continue
		}
		around := 0.0
		for k := max(1, i-cutAround); k <= min(len(p.change)-1, i+cutAround); k++ {
			if k != i && !math.IsNaN(p.change[k]) {
				around = max(around, p.change[k])
			}
		}
		if c >= cutOver*around {
			out = append(out, p.times[i]-p.times[0])
		}
	}
	return out
}

// grain is how far the samples of what stands still differ from one whole frame to the next.
type grain struct {
	before  []byte
	width   int
	samples []float64 // mean square of the differences of the quietest tiles of each pair of frames
}

// Tiles of it, in samples, and how many of a picture are looked at either way.
const (
	noiseTile  = 16
	noiseTiles = 12
)

// add compares a frame with the one before it, tile by tile, and keeps what the tenth quietest tile comes to.
func (n *grain) add(f Frame) {
	defer func() { n.before, n.width = append(n.before[:0], f.Luma[:f.Width*f.Height]...), f.Width }()
	if n.width != f.Width || len(n.before) != f.Width*f.Height || f.Width < 2*noiseTile || f.Height < 2*noiseTile {
		return
	}
	var of []float64
	for ty := range noiseTiles {
		for tx := range noiseTiles {
			x, y := tx*(f.Width-noiseTile)/(noiseTiles-1), ty*(f.Height-noiseTile)/(noiseTiles-1)
			var sum, square, beside, last float64
			flat := true
			for dy := range noiseTile {
				at := (y+dy)*f.Width + x
				for dx := range noiseTile {
					a, b := int(f.Luma[at+dx]), int(n.before[at+dx])
					d := float64(a - b)
					sum, square = sum+d, square+d*d
					if dx > 0 {
						beside += d * last
					}
					last = d
					flat = flat && a > 20 && a < 232 // what is cut off at an end has no noise of its own
				}
			}
			const count = noiseTile * noiseTile
			mean := sum / count
			// Noise differs from sample to sample; what moves differs from one to the next by little.
			if v := square/count - mean*mean; flat && beside/(count-noiseTile)-mean*mean < 0.5*v {
				of = append(of, v)
			}
		}
	}
	if len(of) >= noiseTiles {
		slices.Sort(of)
		n.samples = append(n.samples, of[len(of)/10])
	}
}

// leastNoise is in how many pairs of frames something has to have stood still.
const leastNoise = 5

// sigma is the noise of one frame: a difference of two has twice its square. A picture that moves all over, or shows the same
// samples again, tells none.
func (n *grain) sigma() float64 {
	if len(n.samples) < leastNoise {
		return 0
	}
	v := quantile(slices.Sorted(slices.Values(n.samples)), 0.25)
	if s := math.Sqrt(v / 2); s >= 0.05 && s < 25 {
		return say.Round2(s)
	}
	return 0
}
