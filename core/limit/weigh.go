package limit

import (
	"cmp"
	"math/bits"
	"slices"

	"eventether/core/fact"
)

// Weigh computes loads, limit, ratio and state from the facts.
func (l *Limit) Weigh() {
	if l.State = l.weigh(); l.State == Snapped {
		switch l.Over {
		case Flaw:
			l.State = Kinked
		case Care:
			l.State = Taut
		}
	}
}

func (l *Limit) weigh() State {
	if l.Sense == Fits {
		return l.Outcomes.Settle()
	}
	l.Load = Bounds{}
	for i := range l.Loads {
		ld := &l.Loads[i]
		ld.Bounds = ld.Term.Bounds(l.Facts)
		l.Load.Low += ld.Low
		l.Load.Value += ld.Value
		l.Load.High += ld.High
	}
	cap := l.cap()
	l.Sure, l.Possible = cap.Low, cap.High
	switch l.Sense {
	case AtMost:
		l.Ratio = Bounds{ratio(l.Load.Low, cap.High), ratio(l.Load.Value, cap.Value), ratio(l.Load.High, cap.Low)}
	case AtLeast:
		l.Ratio = Bounds{ratio(cap.Low, l.Load.High), ratio(cap.Value, l.Load.Value), ratio(cap.High, l.Load.Low)}
		l.Sure, l.Possible = cap.High, cap.Low
	case Within:
		l.Ratio = l.window(cap)
		if l.Measured && l.between(cap) {
			return Taut
		}
	}
	switch {
	case !fact.Over(l.Ratio.High, l.Ceiling):
		return Slack
	case !fact.Over(l.Ratio.High, 1):
		return Taut
	case fact.Over(l.Ratio.Low, 1):
		return Snapped
	}
	return Untested
}

// cap is the lowest of the caps, or what the rule's own function makes of the facts.
func (l *Limit) cap() Bounds {
	if l.CapOf != nil {
		b := l.CapOf(l.Facts)
		return Bounds{finite(b.Low), finite(b.Value), finite(b.High)}
	}
	if len(l.Caps) == 0 {
		return Bounds{Endless, Endless, Endless}
	}
	b := l.Caps[0].Bounds(l.Facts)
	for i := 1; i < len(l.Caps); i++ {
		c := l.Caps[i].Bounds(l.Facts)
		b = Bounds{min(b.Low, c.Low), min(b.Value, c.Value), min(b.High, c.High)}
	}
	return b
}

// between tells whether the whole of a load lies between the sure and the possible edge of its window, on one side.
func (l *Limit) between(cap Bounds) bool {
	return !fact.Over(l.Load.High, cap.High) && fact.Over(l.Load.Low, cap.Low) ||
		!fact.Over(l.PossibleLow, l.Load.Low) && fact.Over(l.SureLow, l.Load.High)
}

// window measures how far the load is from zero towards the edge on its side: 1 is the edge.
func (l *Limit) window(cap Bounds) Bounds {
	at := func(x, up, down float64) float64 {
		if x >= 0 {
			return ratio(x, up)
		}
		return ratio(x, down)
	}
	// The largest ratio lies at an end of the load, the smallest at the point nearest zero.
	nearest := max(l.Load.Low, min(0, l.Load.High))
	up, down := cap.Low, l.SureLow
	return Bounds{
		Low:   at(nearest, cap.High, l.PossibleLow),
		Value: at(l.Load.Value, up, down),
		High:  max(at(l.Load.Low, up, down), at(l.Load.High, up, down)),
	}
}

// ratio is load ÷ limit. A load of nothing or less is nothing; a limit of nothing or less is past any load. For a
// window both may be negative.
func ratio(load, limit float64) float64 {
	switch {
	case load == 0:
		return 0
	case load < 0 && limit < 0:
		return min(load/limit, Never)
	case load < 0:
		return 0
	case limit <= 0:
		return Never
	}
	return min(load/limit, Never)
}

// Outcomes are states the answer to a yes or no may turn out to be, a bit for each by its severity; none is Yes.
type Outcomes uint8

// The outcomes a yes or no can have, for Limit.Outcomes.
const (
	Yes   Outcomes = 1 << 0 // Slack
	Soft  Outcomes = 1 << 1 // Taut: it works, and one should know
	No    Outcomes = 1 << 4 // Snapped
	Maybe          = Yes | No
)

// Surely is the outcome that is one state.
func Surely(s State) Outcomes { return 1 << s.Severity() }

// Settle is the state of a yes or no that may still turn out one way or another.
func (o Outcomes) Settle() State {
	switch {
	case o <= Yes:
		return Slack
	case o > No:
		return Untested
	}
	return States[bits.Len8(uint8(o))-1]
}

// Dependence is a fact an untested limit depends on.
type Dependence struct {
	Fact    int     // place in Limit.Facts
	Decides float64 // share of its possible values that would decide the limit, 0 to 1
	Narrows float64 // share of the spread of the ratio that knowing it would remove
}

// Rank lists the facts an untested limit depends on, the most deciding first; nil for any other. A fact of the rules
// cannot be asked for, and one that stands in a sum more than once is tried everywhere at once.
func (l *Limit) Rank() []Dependence {
	if l.State != Untested {
		return nil
	}
	var out []Dependence
	trial := *l
	trial.Facts, trial.Loads = slices.Clone(l.Facts), slices.Clone(l.Loads)
	options := make([][]Option, len(l.Facts)) // listed once
	for i := range l.Facts {
		options[i] = l.Facts[i].values()
	}
	for i := range l.Facts {
		f, values := &l.Facts[i], options[i]
		if len(values) < 2 || f.IsZero() || slices.ContainsFunc(l.Facts[:i], func(b Fact) bool {
			return b.Key == f.Key
		}) {
			continue
		}
		decided, width := 0, 0.0
		for k, v := range values {
			if l.Sense == Fits {
				if v.State != 0 && v.State != Untested {
					decided++
				}
				continue
			}
			for j := i; j < len(l.Facts); j++ {
				if l.Facts[j].Key == f.Key && len(options[j]) == len(values) {
					n := options[j][k].Number
					trial.Facts[j].Low, trial.Facts[j].Value, trial.Facts[j].High = n, n, n
				}
			}
			trial.Weigh()
			if trial.State != Untested {
				decided++
			}
			width += trial.Ratio.High - trial.Ratio.Low
		}
		copy(trial.Facts, l.Facts)
		d := Dependence{Fact: i, Decides: float64(decided) / float64(len(values))}
		if full := l.Ratio.High - l.Ratio.Low; full > 0 {
			d.Narrows = 1 - width/float64(len(values))/full
		}
		out = append(out, d)
	}
	slices.SortStableFunc(out, func(a, b Dependence) int {
		return cmp.Or(cmp.Compare(b.Decides, a.Decides), cmp.Compare(b.Narrows, a.Narrows),
			cmp.Compare(l.Facts[a.Fact].Path(), l.Facts[b.Fact].Path()))
	})
	return out
}

// samples is how many of the values of a number Rank tries, both bounds among them.
const samples = 9

// values are the points a fact may turn out to be.
func (f *Fact) values() []Option {
	if o := f.Choices(); len(o) > 0 {
		return o
	}
	if f.Low == f.High {
		return nil
	}
	out := make([]Option, samples)
	for i := range out {
		out[i].Number = f.Low + (f.High-f.Low)*float64(i)/(samples-1)
	}
	return out
}
