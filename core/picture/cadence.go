package picture

// CadenceKind names how a source's rate sits against the programme's.
type CadenceKind string

// The four kinds of handbook 1.3.
const (
	SameRate CadenceKind = "same"
	Clean    CadenceKind = "clean"
	Slip     CadenceKind = "slip"
	Judder   CadenceKind = "judder"
)

// slipParts: a difference of at most one part in so many still counts as a slip, 0.2 % (handbook 1.3).
const slipParts = 500

// Cadence is what a programme at rate C shows of a source at rate S.
type Cadence struct {
	Kind CadenceKind
	// Pattern holds, for each source frame of one period, how many programme ticks it stays on screen; 0 is a dropped frame.
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

// CadenceOf derives the cadence from the exact fractions. Both rates must be set.
func CadenceOf(s, c Rate) Cadence {
	if s == c {
		return Cadence{Kind: SameRate, Pattern: []int{1}}
	}
	// ticks/frames is the shortest ratio of programme ticks to source frames within the tolerance.
	ticks, frames := shortRatio(s, c)
	// Exact in integers: ticks/frames against C/S is ticks·S against frames·C.
	left, right := ticks*s.Num*c.Den, frames*c.Num*s.Den
	exact := left == right
	cad := Cadence{Pattern: pattern(ticks, frames)}
	whole := ticks%frames == 0 || frames%ticks == 0
	if !exact {
		// Drift against the short pattern, in frames of the faster rate when the pattern is even, else in source frames.
		drift := float64(max(left-right, right-left)) / float64(s.Den*c.Den)
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

// shortRatio finds the smallest number of source frames after which source and programme meet again within 0.2 %.
func shortRatio(s, c Rate) (ticks, frames int64) {
	wantTicks, wantFrames := c.Num*s.Den, c.Den*s.Num
	for sum := int64(2); ; sum++ {
		for frames = 1; frames < sum; frames++ {
			ticks = sum - frames
			if gcd(ticks, frames) != 1 {
				continue
			}
			off := ticks*wantFrames - frames*wantTicks
			if max(off, -off)*slipParts <= frames*wantTicks {
				return ticks, frames
			}
		}
	}
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
