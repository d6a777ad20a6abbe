package inspect

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/say"
)

// Against is one recording of a sound against another of the same: by how much it comes later, and how far their clocks are
// apart.
type Against struct {
	Answer  look.Answer `json:"answer" enum:"found,cannot-tell" doc:"Whether they hold the same sound at all"`
	Ms      float64     `json:"ms" doc:"By how much the second comes later at the beginning of the first, milliseconds"`
	ErrorMs float64     `json:"errorMs" doc:"95 of 100, either way"`
	Drift   look.Answer `json:"drift" enum:"found,clear,cannot-tell" doc:"found: their clocks are apart; clear: by less than can be told; cannot-tell: not measurable with these pairs"`
	PPM     float64     `json:"ppm" doc:"Parts per million the second's clock is slower"`
	PPMs    float64     `json:"ppmError" doc:"95 of 100, either way"`
	Pairs   []Pair      `json:"pairs" doc:"Places that were compared"`
	Says    string      `json:"says"`
}

// Pair is one place of two recordings, or one flash and its beep.
type Pair struct {
	At float64 `json:"at" doc:"Seconds from the beginning of the first"`
	Ms float64 `json:"ms" doc:"By how much the second comes later"`
}

// Of comparing two recordings [estimate].
const (
	coarse     = 8.0  // seconds that are compared first, as far apart as they may be: two clocks part by a millisecond in no less
	tries      = 12   // places that are tried so
	mostApart  = 60.0 // seconds one may begin later than the other
	piece      = 3.9  // seconds of one place: with what is looked at around it just under a power of two of samples
	pieces     = 120  // places at most
	around     = 0.12 // seconds either way of where the place before was
	leastPairs = 6
	leastSlope = 25.0 // ppm: a wider interval tells nothing
)

// TimesOf sets two recordings of one sound beside each other, samples of one channel at one rate.
func TimesOf(a, b []float32, rate float64) *Against {
	out := &Against{Answer: look.CannotTell, Drift: look.CannotTell, Pairs: []Pair{},
		Says: lang.Text("They do not hold the same sound, or too little of it: record speech or claps with both.")}
	first, ok := roughly(a, b, rate)
	if !ok {
		return out
	}
	out.Pairs = placesOf(a, b, rate, first)
	line, ok := fit(out.Pairs)
	if !ok {
		return out
	}
	out.Pairs = line.pairs
	out.Answer = look.Found
	out.Ms, out.ErrorMs = hundredths(line.at), hundredths(max(0.02, line.atError))
	later := lang.Text("%s ms later", say.Number(say.Round2(out.Ms)))
	if out.Ms < 0 {
		later = lang.Text("%s ms earlier", say.Number(say.Round2(-out.Ms)))
	}
	later = lang.Text("The second comes %s, give or take %s", later, say.Number(out.ErrorMs))
	out.PPM, out.PPMs = hundredths(line.slope*1000), hundredths(line.slopeError*1000) // ms a second is a thousand ppm
	switch {
	case len(out.Pairs) < leastPairs || out.PPMs > leastSlope:
		out.PPM, out.PPMs = 0, 0
		out.Says = lang.Text("%s. Drift is not measurable with these: record ten minutes.", later)
	case math.Abs(out.PPM) <= out.PPMs:
		out.Drift = look.Clear
		out.Says = lang.Text("%s. Their clocks agree within %s ppm.", later, say.Number(out.PPMs))
	default:
		out.Drift = look.Found
		out.Says = lang.Text("%s. Their clocks are %s ppm apart, give or take %s: %s ms an hour.", later, say.Number(math.Abs(out.PPM)), say.Number(out.PPMs),
			say.Number(math.Round(math.Abs(out.PPM)*3.6)))
	}
	return out
}

func hundredths(v float64) float64 { return math.Round(v*100) / 100 }

// roughly finds by how much b comes later than a, in seconds, from stretches of either that are long enough.
func roughly(a, b []float32, rate float64) (float64, bool) {
	n := int(coarse * rate)
	for from := 0; from < len(a); from += max(n, (len(a)-n)/tries) {
		x := a[from:min(len(a), from+n)]
		lo, hi := max(0, from-int(mostApart*rate)), min(len(b), from+len(x)+int(mostApart*rate))
		if len(x) < int(2*rate) || hi-lo < int(2*rate) {
			continue
		}
		if lag, ok := look.LagOf(x, b[lo:hi], rate, 2*mostApart+coarse); ok && lag.Sure() {
			return lag.Seconds + float64(lo-from)/rate, true
		}
	}
	return 0, false
}

// placesOf compares places from the beginning to the end, each near where the one before was: clocks that drift are followed.
func placesOf(a, b []float32, rate, lag float64) []Pair {
	out := []Pair{}
	n := int(piece * rate)
	every := max(n/2, (len(a)-n)/pieces)
	missed := 0
	for from := 0; from+n <= len(a); from += every {
		x := a[from : from+n]
		reach := around * float64(1+missed)
		lo := from + int((lag-reach)*rate)
		hi := from + n + int((lag+reach)*rate)
		if lo < 0 || hi > len(b) {
			continue
		}
		got, ok := look.LagOf(x, b[lo:hi], rate, 2*reach+0.01)
		if !ok || !got.Sure() {
			missed = min(missed+1, 8)
			continue
		}
		missed = 0
		lag = got.Seconds + float64(lo-from)/rate
		out = append(out, Pair{hundredths(float64(from)/rate + piece/2), math.Round(1e6*lag) / 1000})
	}
	return out
}

// fitted is a line through pairs.
type fitted struct {
	at, atError       float64 // ms at 0 s
	slope, slopeError float64 // ms a second
	pairs             []Pair  // that lie on it
}

// fit lays a line through pairs by least squares, without those that lie far off it; its errors are of 95 in 100.
func fit(all []Pair) (f fitted, ok bool) {
	f.pairs = slices.Clone(all)
	for range 3 {
		n := float64(len(f.pairs))
		if n == 0 {
			return f, false
		}
		var st, sm, stt, stm float64
		for _, p := range f.pairs {
			st, sm, stt, stm = st+p.At, sm+p.Ms, stt+p.At*p.At, stm+p.At*p.Ms
		}
		mean, wide := st/n, stt-st*st/n
		f.slope = 0
		if wide > 0 {
			f.slope = (stm - st*sm/n) / wide
		}
		f.at = sm/n - f.slope*mean
		off := make([]float64, len(f.pairs))
		square := 0.0
		for i, p := range f.pairs {
			off[i] = math.Abs(p.Ms - f.at - f.slope*p.At)
			square += off[i] * off[i]
		}
		sigma := math.Sqrt(square / max(1, n-2))
		t := student(n - 2)
		if wide > 0 {
			f.slopeError = t * sigma / math.Sqrt(wide)
			f.atError = t * sigma * math.Sqrt(1/n+mean*mean/wide)
		}
		usual := slices.Sorted(slices.Values(off))[len(off)/2]
		kept := f.pairs[:0:0]
		for i, p := range f.pairs {
			if off[i] <= max(0.05, 5*usual) {
				kept = append(kept, p)
			}
		}
		if len(kept) == len(f.pairs) {
			break
		}
		f.pairs = kept
	}
	return f, true
}

// student is how many standard errors hold 95 of 100 either way, for so many degrees of freedom [standard: the t distribution;
// an approximation from memory, within 2 in 100 from 3 on, held against a table].
func student(free float64) float64 {
	if free < 1 {
		return 12.7
	}
	return 1.96 + 2.37/free + 2.82/(free*free) + 2.55/(free*free*free) + 3/(free*free*free*free)
}
