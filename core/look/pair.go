package look

import (
	"math"
	"math/cmplx"
	"slices"

	"eventether/core/lang"
	"eventether/core/say"
)

// Lag is by how much one sound comes later than another.
type Lag struct {
	Seconds float64 `json:"seconds" doc:"Positive where the second comes later"`
	Second  float64 `json:"second" doc:"The next best peak as a share of the best: sure under 0.7"`
}

// Sure tells whether a lag stands out of all others [handbook 9.4].
func (l Lag) Sure() bool { return l.Second < 0.7 }

// LagOf is by how much b comes later than a, samples at one rate, at most so many seconds either way: cross-correlation
// with phase weighting (GCC-PHAT [Knapp and Carter 1976, from memory]), its peak refined by a parabola. ok is false where
// either is silent.
func LagOf(a, b []float32, rate, most float64) (Lag, bool) {
	n := powerOfTwo(len(a) + len(b))
	x, y := make([]complex128, n), make([]complex128, n)
	var ea, eb float64
	for i, v := range a {
		x[i] = complex(float64(v), 0)
		ea += float64(v) * float64(v)
	}
	for i, v := range b {
		y[i] = complex(float64(v), 0)
		eb += float64(v) * float64(v)
	}
	if ea < 1e-9*float64(len(a)) || eb < 1e-9*float64(len(b)) || len(a) == 0 || len(b) == 0 {
		return Lag{}, false
	}
	transform(x, false)
	transform(y, false)
	cross, mean := x, 0.0
	for i := range cross {
		cross[i] = y[i] * cmplx.Conj(x[i])
		mean += cmplx.Abs(cross[i]) / float64(n)
	}
	for i, c := range cross { // what lies far under the rest is noise, and says nothing of the time
		cross[i] = c / complex(cmplx.Abs(c)+0.01*mean, 0)
	}
	transform(cross, true)
	reach := min(int(most*rate), n/2-1)
	at := func(k int) float64 { return real(cross[(k+n)%n]) }
	best := -reach
	for k := -reach; k <= reach; k++ {
		if at(k) > at(best) {
			best = k
		}
	}
	second, near := 0.0, max(2, int(rate/1000)) // within a millisecond it is the same peak
	for k := -reach; k <= reach; k++ {
		if max(k-best, best-k) > near {
			second = max(second, at(k))
		}
	}
	peak := at(best)
	if peak <= 0 {
		return Lag{}, false
	}
	shift := 0.0
	if p, q := at(best-1), at(best+1); peak > p && peak >= q {
		shift = (p - q) / (2 * (p - 2*peak + q))
	}
	return Lag{(float64(best) + shift) / rate, second / peak}, true
}

// ClapRate is how many samples a second are kept of a sound to hold it against another.
const ClapRate = 8000

// mostClaps is how much is kept, in samples.
const mostClaps = 30 * ClapRate

// HeardFirst says which of two sounds hears claps first: the middle of several and how far they lie apart.
type HeardFirst struct {
	Times  []float64 `json:"times" doc:"When each was heard by the first, seconds of its own"`
	Lags   []float64 `json:"lags" doc:"Milliseconds the second heard each later"`
	Middle float64   `json:"middle" doc:"Median of them, milliseconds"`
	Spread float64   `json:"spread" doc:"Furthest from the middle of those that agree, milliseconds"`
	Answer Answer    `json:"answer" enum:"found,cannot-tell"`
	Says   string    `json:"says"`
}

// Of claps: how they stand out, how far they lie apart at least, and how many are wanted [estimate].
const (
	clapOver  = 16.0 // dB over what was in the second before
	clapLevel = -45.0
	clapApart = 0.5
	leastClap = 3
	clapAgree = 15.0 // ms from the middle; three of four have to
	clapReach = 0.6  // seconds one may hear it later than the other
)

// ClapsOf finds claps in a sound, and by how much another heard each of them later. Both are samples at ClapRate that
// begin at one moment.
func ClapsOf(a, b []float32) HeardFirst {
	out := HeardFirst{Times: []float64{}, Lags: []float64{}, Answer: CannotTell,
		Says: lang.Text("Fewer than three claps were heard by both: clap five times, a second apart, and be still between.")}
	const block = ClapRate / 100
	n := min(len(a), len(b)) / block
	levels := make([]float64, n)
	for i := range levels {
		sum := 0.0
		for _, v := range a[i*block : (i+1)*block] {
			sum += float64(v) * float64(v)
		}
		levels[i] = level(sum / block)
	}
	last := -1000
	for i := 20; i < n; i++ {
		before := median(levels[max(0, i-100) : i-2])
		if levels[i] < clapLevel || levels[i] < before+clapOver || i-last < int(100*clapApart) {
			continue
		}
		last = i
		from, to := max(0, (i-5)*block), min(len(a), len(b), (i+30)*block) // the clap and what of it is heard in the room
		reach := int(clapReach * ClapRate)
		// What the other heard is looked for further either way.
		lo, hi := max(0, from-reach), min(len(b), to+reach)
		lag, ok := LagOf(a[from:to], b[lo:hi], ClapRate, 2*clapReach)
		if !ok || !lag.Sure() {
			continue
		}
		out.Times = append(out.Times, float64(i)/100)
		out.Lags = append(out.Lags, say.Round2(1000*(lag.Seconds-float64(from-lo)/ClapRate)))
	}
	if len(out.Lags) < leastClap {
		return out
	}
	out.Middle = median(out.Lags)
	agree := 0
	for _, l := range out.Lags {
		if d := math.Abs(l - out.Middle); d <= clapAgree {
			agree++
			out.Spread = max(out.Spread, d)
		}
	}
	out.Spread = say.Round2(out.Spread)
	if agree < leastClap || 4*agree < 3*len(out.Lags) {
		out.Says = lang.Text("The claps do not agree: %s ms. Clap again, from one place.",
			say.Span(slices.Min(out.Lags), slices.Max(out.Lags), ""))
		return out
	}
	out.Answer = Found
	count := say.Count(agree, "clap", "claps")
	switch {
	case math.Abs(out.Middle) < 1:
		out.Says = lang.Text("Both hear it at once, within a millisecond (%s).", count)
	case out.Middle > 0:
		out.Says = lang.Text("The second hears it %s ms later, give or take %s (%s).", say.Number(out.Middle),
			say.Number(out.Spread), count)
	default:
		out.Says = lang.Text("The second hears it %s ms earlier, give or take %s (%s).", say.Number(-out.Middle),
			say.Number(out.Spread), count)
	}
	return out
}

// Of an echo: where it is looked for, and what counts as one [estimate].
const (
	echoFrom  = 0.03 // seconds: what comes sooner is the room
	echoTo    = 0.6
	echoLeast = 0.2 // of what it repeats
	echoOver  = 9.0 // times what the other delays come to
)

// echo looks for a sound that comes again: the mean of the logarithm of its spectra ripples by the delay, and their
// transform (the cepstrum) has a peak there, half as high as the echo is strong.
func (s *Sound) echo(quiet bool) Sign {
	f := Sign{What: IsEcho, Unit: "ms", Answer: CannotTell, Says: lang.Text("Too short to hear whether it comes again.")}
	rate := s.rate / float64(max(1, int(s.rate/humRate)))
	window := powerOfTwo(int(1.5 * rate))
	of := s.side[0]
	if s.square[1] > s.square[0] {
		of = s.side[1]
	}
	switch {
	case quiet:
		f.Says = lang.Text("Silent.")
		return f
	case len(of) < 3*window:
		return f
	}
	mean := make([]float64, window)
	n := 0.0
	v := make([]complex128, window)
	for from := 0; from+window <= len(of); from += window / 2 {
		part, sum := windowed(of[from:from+window]), 0.0
		for i, x := range part {
			v[i] = complex(x, 0)
			sum += x * x
		}
		if level(sum/float64(window)) < -70 {
			continue
		}
		transform(v, false)
		for i, c := range v {
			mean[i] += math.Log(cmplx.Abs(c) + 1e-9)
		}
		n++
	}
	if n < 4 {
		return f
	}
	for i := range v {
		v[i] = complex(mean[i]/n, 0)
	}
	transform(v, true)
	at := func(k int) float64 { return real(v[k]) / float64(window) }
	from, to := int(echoFrom*rate), min(int(echoTo*rate), window/2-2)
	best := from
	others := make([]float64, 0, to-from)
	for k := from; k < to; k++ {
		others = append(others, math.Abs(at(k)))
		if at(k) > at(best) {
			best = k
		}
	}
	usual := quantile(slices.Sorted(slices.Values(others)), 0.7)
	strong := 2 * (at(best) + max(0, at(best-1)) + max(0, at(best+1))) // it may fall between two
	f.Value = math.Round(1000 * float64(best) / rate)
	switch {
	case strong >= echoLeast && at(best) >= echoOver*usual && !s.repeatsOften(at, best, to):
		f.Answer, f.Says = Found, lang.Text("It comes again after %s ms, %s dB weaker.", say.Number(f.Value),
			say.Number(math.Round(max(0, -dB(min(1, strong))))))
	default:
		f.Answer, f.Value, f.Says = Clear, 0, lang.Text("Nothing comes again.")
	}
	return f
}

// repeatsOften tells a tone that hums on, or a rhythm, from an echo: its peak comes again at every multiple, as strong,
// where an echo's second is at most half as strong and turned over.
func (s *Sound) repeatsOften(at func(int) float64, best, to int) bool {
	twice := 0.0
	for k := 2*best - 2; k <= 2*best+2 && k < to; k++ {
		twice = max(twice, at(k))
	}
	return twice > 0.5*at(best)
}
