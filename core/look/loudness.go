package look

import (
	"math"
	"slices"
)

// Loudness measures by ITU-R BS.1770-4 [standard; its coefficients and gates from memory, held against another
// program]: two filters, the mean square of blocks of 400 ms every 100 ms, a gate at −70 LUFS and one 10 LU under what
// is left.
type Loudness struct {
	rate     float64
	channels int
	filters  [2][2]biquad // of each channel: the shelf of the head, and the high pass
	sum      float64      // of the hop at hand
	in       int
	hops     []float64   // mean squares of 100 ms, both channels added
	fine     [40]float64 // mean squares of the last 400 ms in pieces of 10, for the loudest of them wherever they begin
	fines    int
	piece    float64
	inPiece  int
	loudest  float64
	peaks    [2]upsampled
	peak     float64
}

// NewLoudness measures one or two channels at so many samples a second.
func NewLoudness(rate float64, channels int) *Loudness {
	l := &Loudness{rate: rate, channels: channels}
	for c := range l.filters {
		l.filters[c] = [2]biquad{shelf(rate), highPass(rate)}
	}
	return l
}

// Add takes samples of both channels, full scale at 1.
func (l *Loudness) Add(left, right []float32) {
	hop, short := int(math.Round(l.rate/10)), int(math.Round(l.rate/100))
	for i := range left {
		for c, v := range [2]float64{float64(left[i]), float64(right[i])} {
			if c == l.channels {
				break
			}
			l.peak = max(l.peak, l.peaks[c].next(v))
			y := l.filters[c][1].next(l.filters[c][0].next(v))
			l.sum, l.piece = l.sum+y*y, l.piece+y*y
		}
		if l.inPiece++; l.inPiece == short {
			l.fine[l.fines%len(l.fine)] = l.piece / float64(short)
			if l.fines++; l.fines >= len(l.fine) {
				mean := 0.0
				for _, v := range l.fine {
					mean += v / float64(len(l.fine))
				}
				l.loudest = max(l.loudest, mean)
			}
			l.piece, l.inPiece = 0, 0
		}
		if l.in++; l.in == hop {
			l.hops = append(l.hops, l.sum/float64(hop))
			l.sum, l.in = 0, 0
		}
	}
}

// Integrated is the loudness of all of it, LUFS; −Inf of silence, or of less than 400 ms.
func (l *Loudness) Integrated() float64 {
	blocks := l.blocks(4)
	over := func(gate float64) (mean float64, n int) {
		for _, b := range blocks {
			if lufs(b) > gate {
				mean += b
				n++
			}
		}
		return mean / max(1, float64(n)), n
	}
	mean, n := over(-70)
	if n == 0 {
		return math.Inf(-1)
	}
	mean, n = over(lufs(mean) - 10)
	if n == 0 {
		return math.Inf(-1)
	}
	return lufs(mean)
}

// Range is the loudness range by EBU Tech 3342 [standard, from memory]: of blocks of 3 s, from the tenth to the
// ninety-fifth of a hundred, after gates at −70 LUFS and 20 LU under the mean; 0 of less than that.
func (l *Loudness) Range() float64 {
	var loud []float64
	mean := 0.0
	for _, b := range l.blocks(30) {
		if lufs(b) > -70 {
			loud = append(loud, b)
			mean += b
		}
	}
	if len(loud) == 0 {
		return 0
	}
	gate := lufs(mean/float64(len(loud))) - 20
	var of []float64
	for _, b := range loud {
		if v := lufs(b); v > gate {
			of = append(of, v)
		}
	}
	slices.Sort(of)
	if len(of) < 2 {
		return 0
	}
	at := func(share float64) float64 { return of[int(math.Round(share*float64(len(of)-1)))] }
	return at(0.95) - at(0.10)
}

// quietest is what a plot of loudness goes down to, LUFS: the absolute gate of BS.1770.
const quietest = -70

// ShortTerm is the loudness of the last three seconds at every whole second from the third on, LUFS, at least -70 [standard:
// EBU Tech 3341].
func (l *Loudness) ShortTerm() []float64 {
	out := []float64{}
	for i, b := range l.blocks(30) {
		if i%10 == 0 {
			out = append(out, tenths(max(quietest, lufs(b))))
		}
	}
	return out
}

// Most are the highest momentary and short-term loudness, of 400 ms and of 3 s, LUFS, at least -70; -70 of less than that.
func (l *Loudness) Most() (momentary, shortTerm float64) {
	shortTerm = quietest
	for _, b := range l.blocks(30) {
		shortTerm = max(shortTerm, lufs(b))
	}
	return max(quietest, lufs(l.loudest)), shortTerm
}

// TruePeak is the highest point of the wave between its samples, dBTP.
func (l *Loudness) TruePeak() float64 { return dB(l.peak) }

// blocks are the mean squares of so many hops, one beginning at every hop.
func (l *Loudness) blocks(hops int) []float64 {
	out := make([]float64, 0, len(l.hops))
	sum := 0.0
	for i, h := range l.hops {
		sum += h
		if i >= hops {
			sum -= l.hops[i-hops]
		}
		if i+1 >= hops {
			out = append(out, max(0, sum)/float64(hops))
		}
	}
	return out
}

func lufs(square float64) float64 { return -0.691 + 10*math.Log10(max(square, 1e-30)) }

func dB(v float64) float64 { return 20 * math.Log10(max(v, 1e-12)) }

// biquad is a filter of the second order.
type biquad struct {
	b0, b1, b2, a1, a2 float64
	x1, x2, y1, y2     float64
}

func (f *biquad) next(x float64) float64 {
	y := f.b0*x + f.b1*f.x1 + f.b2*f.x2 - f.a1*f.y1 - f.a2*f.y2
	f.x2, f.x1, f.y2, f.y1 = f.x1, x, f.y1, y
	return y
}

// shelf is the first filter of BS.1770 at any rate: +4 dB above 1.7 kHz.
func shelf(rate float64) biquad {
	const freq, gain, q = 1681.974450955533, 3.999843853973347, 0.7071752369554196
	k := math.Tan(math.Pi * freq / rate)
	vh := math.Pow(10, gain/20)
	vb := math.Pow(vh, 0.4996667741545416)
	a0 := 1 + k/q + k*k
	return biquad{b0: (vh + vb*k/q + k*k) / a0, b1: 2 * (k*k - vh) / a0, b2: (vh - vb*k/q + k*k) / a0,
		a1: 2 * (k*k - 1) / a0, a2: (1 - k/q + k*k) / a0}
}

// highPass is the second one: nothing below 38 Hz.
func highPass(rate float64) biquad {
	const freq, q = 38.13547087602444, 0.5003270373238773
	k := math.Tan(math.Pi * freq / rate)
	a0 := 1 + k/q + k*k
	return biquad{b0: 1, b1: -2, b2: 1, a1: 2 * (k*k - 1) / a0, a2: (1 - k/q + k*k) / a0}
}

// between is a filter that finds three points between any two samples: a windowed sinc of twenty-four samples.
const taps = 24

var between = func() (h [3][taps]float64) {
	for p := range h {
		sum := 0.0
		for i := range h[p] {
			x := float64(i) - float64(taps)/2 + 1 - float64(p+1)/4
			w := 0.5 + 0.5*math.Cos(math.Pi*x/(float64(taps)/2+0.5))
			s := 1.0
			if x != 0 {
				s = math.Sin(math.Pi*x) / (math.Pi * x)
			}
			h[p][i] = s * w
			sum += s * w
		}
		for i := range h[p] {
			h[p][i] /= sum
		}
	}
	return h
}()

// upsampled keeps the last samples of a channel.
type upsampled struct {
	last [2 * taps]float64 // twice, so that a window lies in one piece
	at   int
}

// next is the highest of a sample and of the points before it.
func (u *upsampled) next(v float64) float64 {
	u.last[u.at], u.last[u.at+taps] = v, v
	u.at = (u.at + 1) % taps
	most := math.Abs(v)
	of := u.last[u.at : u.at+taps]
	near := 0.0
	for _, s := range of[taps/2-2 : taps/2+3] {
		near = max(near, math.Abs(s))
	}
	if near < 0.05 { // no peak worth looking between
		return most
	}
	for p := range between {
		sum := 0.0
		for i, h := range between[p] {
			sum += h * of[i]
		}
		most = max(most, math.Abs(sum))
	}
	return most
}
