package look

import (
	"math"
	"slices"
)

// Loudness measures by ITU-R BS.1770-4 [standard; its coefficients and gates from memory, held against another
// program]: two filters, the mean square of blocks of 400 ms every 100 ms, a gate at −70 LUFS and one 10 LU under what
// is left.
type Loudness struct {
	rate    float64
	filters []weighting // of each channel
	peaks   []upsampled
	samples int         // so far
	sum     float64     // of squares in the piece at hand, both channels added
	from    int         // the sample it begins with
	pieces  [40]float64 // mean squares of the last 400 ms in pieces of 10, for the loudest of them wherever they begin
	whole   int         // pieces so far
	hops    []float64   // mean squares of 100 ms
	loudest float64     // of any 400 ms
	peak    float64
}

// hopPieces are the pieces of a hop.
const hopPieces = 10

// NewLoudness measures one or two channels at so many samples a second.
func NewLoudness(rate float64, channels int) *Loudness {
	l := &Loudness{rate: rate, filters: make([]weighting, channels), peaks: make([]upsampled, channels)}
	for c := range l.filters {
		l.filters[c] = weighting{shelf(rate), highPass(rate)}
	}
	return l
}

// Add takes samples of both channels, full scale at 1.
func (l *Loudness) Add(left, right []float32) {
	for len(left) > 0 {
		ends := int(math.Round(float64(l.whole+1) * l.rate / 100))
		n := min(len(left), ends-l.samples)
		for c, of := range [2][]float32{left[:n], right[:n]} {
			if c < len(l.filters) {
				l.sum += l.filters[c].squares(of)
				l.peak = l.peaks[c].highest(of, l.peak)
			}
		}
		left, right, l.samples = left[n:], right[n:], l.samples+n
		if l.samples == ends {
			l.piece(l.sum / float64(ends-l.from))
			l.sum, l.from = 0, ends
		}
	}
}

// piece takes the mean square of 10 ms.
func (l *Loudness) piece(square float64) {
	n := len(l.pieces)
	l.pieces[l.whole%n] = square
	l.whole++
	if l.whole >= n {
		l.loudest = max(l.loudest, total(l.pieces[:])/float64(n))
	}
	if l.whole%hopPieces == 0 {
		at := (l.whole - hopPieces) % n
		l.hops = append(l.hops, total(l.pieces[at:at+hopPieces])/hopPieces)
	}
}

func total(v []float64) (sum float64) {
	for _, x := range v {
		sum += x
	}
	return sum
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

// biquad is a filter of the second order: what it multiplies by, and what it keeps of its last two samples.
type biquad struct {
	b0, b1, b2, a1, a2 float64
	kept1, kept2       float64
}

// weighting are the filters a channel goes through: the shelf of the head, and the high pass.
type weighting struct{ shelf, highPass biquad }

// squares is the sum of squares of samples that went through both. The filters are worked out where they stand, in
// transposed form, so that a sample waits for the one before it as briefly as can be.
func (w *weighting) squares(samples []float32) (sum float64) {
	f, g := w.shelf, w.highPass
	for _, v := range samples {
		x := float64(v)
		y := f.kept1 + f.b0*x
		f.kept1 = f.kept2 + f.b1*x - f.a1*y
		f.kept2 = f.b2*x - f.a2*y
		z := g.kept1 + g.b0*y
		g.kept1 = g.kept2 + g.b1*y - g.a1*z
		g.kept2 = g.b2*y - g.a2*z
		sum += z * z
	}
	w.shelf, w.highPass = f, g
	return sum
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

// between finds three points between any two samples: a windowed sinc of sixteen samples, which is even within 0.02 dB up to two fifths of the rate; that of BS.1770-4 has twelve [standard, from memory]. The third is the first
// turned round, and the second is the same from both ends; so each is kept as what pairs of samples, the same way from the
// middle, are multiplied by: their sum and their difference for the outer two, their sum for the one in the middle.
const taps = 16

var between = func() (h struct {
	outerSum, outerDifference, middle [taps / 2]float64
	most                              float64 // by which a point can be higher than the highest sample around it
}) {
	point := func(quarter float64) (w [taps]float64) {
		for i := range w {
			x := float64(i) - float64(taps)/2 + 1 - quarter/4
			w[i] = 0.5 + 0.5*math.Cos(math.Pi*x/(float64(taps)/2+0.5))
			if x != 0 {
				w[i] *= math.Sin(math.Pi*x) / (math.Pi * x)
			}
		}
		sum := total(w[:])
		for i := range w {
			w[i] /= sum
		}
		return w
	}
	for quarter := 1.0; quarter <= 3; quarter++ {
		w, all := point(quarter), 0.0
		for _, v := range w {
			all += math.Abs(v)
		}
		h.most = max(h.most, all)
	}
	first, middle := point(1), point(2)
	for i := range h.middle {
		a, b := first[i], first[taps-1-i]
		h.outerSum[i], h.outerDifference[i], h.middle[i] = (a+b)/2, (a-b)/2, middle[i]
	}
	return h
}()

// upsampled keeps the last samples of a channel, with room for those that come.
type upsampled struct{ samples [2 * taps]float64 }

// highest is the highest of so far, of samples, and of the points between them, up to half a window before the last. Where
// no sample around is high enough for a point between to be higher than so far, none is worked out.
func (u *upsampled) highest(samples []float32, soFar float64) float64 {
	for len(samples) > 0 {
		n := min(len(samples), taps)
		for i, v := range samples[:n] {
			u.samples[taps+i] = float64(v)
		}
		near := highestOf(u.samples[:taps+n])
		soFar = max(soFar, highestOf(u.samples[taps:taps+n]))
		if near*between.most > soFar {
			for i := range n {
				if v := pointsAfter((*[taps]float64)(u.samples[i+1:])); v > soFar {
					soFar = v
				}
			}
		}
		copy(u.samples[:taps], u.samples[n:n+taps])
		samples = samples[n:]
	}
	return soFar
}

// pointsAfter is the highest of the three points between the two samples in the middle of a window.
func pointsAfter(of *[taps]float64) float64 {
	var same, turned, middle float64
	h := &between
	for i := 0; i < taps/2; i += 2 { // two pairs at once, which wait less for each other
		a, b, c, d := of[i], of[taps-1-i], of[i+1], of[taps-2-i]
		same += h.outerSum[i]*(a+b) + h.outerSum[i+1]*(c+d)
		turned += h.outerDifference[i]*(a-b) + h.outerDifference[i+1]*(c-d)
		middle += h.middle[i]*(a+b) + h.middle[i+1]*(c+d)
	}
	return max(math.Abs(same)+math.Abs(turned), math.Abs(middle))
}

func highestOf(samples []float64) (most float64) {
	for _, v := range samples {
		if v = math.Abs(v); v > most { // which is quicker than max, for what is no number is not asked for
			most = v
		}
	}
	return most
}
