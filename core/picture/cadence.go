package picture

import (
	"math"
	"math/bits"
)

// CadenceKind names how a source's rate sits against the programme's.
type CadenceKind string

// The four kinds.
const (
	SameRate CadenceKind = "same"
	Clean    CadenceKind = "clean"
	Slip     CadenceKind = "slip"
	Judder   CadenceKind = "judder"
)

// slipParts: a difference of at most one part in so many still counts as a slip, 0.2 %.
const slipParts = 500

// Cadence is what a programme at rate C shows of a source at rate S.
type Cadence struct {
	Kind CadenceKind
	// Pattern holds, for each source frame of one period, how many programme ticks it stays on screen; 0 is a dropped
	// frame.
	Pattern []int
	// UnevenPerSecond counts the steps a second that differ from the usual step: repeats, drops and slips.
	UnevenPerSecond float64
	// SlipSeconds is the time between two slips against the pattern, 0 when there are none.
	SlipSeconds float64
}

// Shown is the source frame the programme shows at tick k: floor(k·S/C), phase zero.
func Shown(s, c Rate, k int64) int64 {
	num, den := s.Num*c.Den, s.Den*c.Num
	return k/den*num + k%den*num/den // in two parts, so that nothing overflows in a show of years
}

// once is the pattern of equal rates: every frame on one tick.
var once = [...]int{1}

// CadenceOf derives the cadence from the exact fractions. Both rates must be set.
func CadenceOf(s, c Rate) Cadence {
	if s == c {
		return Cadence{Kind: SameRate, Pattern: once[:]}
	}
	// ticks/frames is the shortest ratio of programme ticks to source frames within the tolerance.
	ticks, frames, exact := shortRatio(s, c)
	cad := Cadence{Pattern: pattern(ticks, frames)}
	whole := ticks%frames == 0 || frames%ticks == 0
	if !exact {
		// Drift against the short pattern, in frames of the faster rate when the pattern is even, else in source
		// frames.
		drift := math.Abs(float64(ticks)*s.Float() - float64(frames)*c.Float())
		if whole && ticks > frames {
			drift /= float64(frames)
		} else {
			drift /= float64(ticks)
		}
		cad.SlipSeconds = 1 / drift
		cad.UnevenPerSecond = drift
	}
	switch {
	case whole && exact:
		cad.Kind = Clean
	case whole:
		cad.Kind = Slip
	default:
		cad.Kind = Judder
		cad.UnevenPerSecond += float64(unevenSteps(ticks, frames)) * c.Float() / float64(ticks)
	}
	return cad
}

// shortRatio finds the smallest number of source frames after which source and programme meet again within 0.2 %: the
// simplest fraction in that interval, by continued fractions. exact tells that it is the ratio itself.
func shortRatio(s, c Rate) (ticks, frames int64, exact bool) {
	// C/S in lowest terms; the cross factors are cancelled first, so that nothing overflows.
	g1, g2 := gcd(c.Num, s.Num), gcd(s.Den, c.Den)
	nHigh, nLow := bits.Mul64(uint64(c.Num/g1), uint64(s.Den/g2))
	dHigh, dLow := bits.Mul64(uint64(s.Num/g1), uint64(c.Den/g2))
	if nHigh == 0 && dHigh == 0 && max(nLow, dLow) < 1<<53/(slipParts+1) {
		n, d := int64(nLow), int64(dLow)
		ticks, frames = simplest(n*(slipParts-1), d*slipParts, n*(slipParts+1), d*slipParts)
		return ticks, frames, ticks == n && frames == d
	}
	// Far more digits than any device keeps to: the nearest fraction in floating point, never exact.
	x := c.Float() / s.Float()
	const parts = 1 << 30
	ticks, frames = simplest(int64(x*(1-1.0/slipParts)*parts), parts, int64(math.Ceil(x*(1+1.0/slipParts)*parts)),
		parts)
	return ticks, frames, false
}

// simplest is the fraction of the smallest terms between two positive ones, both ends counting.
func simplest(lowNum, lowDen, highNum, highDen int64) (num, den int64) {
	whole := lowNum / lowDen
	if whole*lowDen == lowNum {
		return whole, 1
	}
	if (whole+1)*highDen <= highNum {
		return whole + 1, 1
	}
	// Both lie between whole and whole+1: what is left over, turned upside down.
	n, d := simplest(highDen, highNum-whole*highDen, lowDen, lowNum-whole*lowDen)
	return whole*n + d, n
}

func pattern(ticks, frames int64) []int {
	p := make([]int, frames)
	for k := range ticks {
		p[k*frames/ticks]++
	}
	return p
}

// unevenSteps counts, in one period, the steps that are not the commonest one.
func unevenSteps(ticks, frames int64) int {
	counts := map[int64]int{}
	total, most := 0, 0
	note := func(step int64) {
		counts[step]++
		total++
		most = max(most, counts[step])
	}
	if frames < ticks { // frames are held for differing times
		for _, n := range pattern(ticks, frames) {
			note(int64(n))
		}
	} else { // frames are skipped in differing strides
		for k := range ticks {
			note((k+1)*frames/ticks - k*frames/ticks)
		}
	}
	return total - most
}
