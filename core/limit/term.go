package limit

import "slices"

// Term is a number times any number of facts, over at most one: coefficient × Π by ÷ under. The coefficient may be
// below zero; no fact is. Each fact stands in a term once.
type Term struct {
	coef  float64
	by    [3]Ref // the first factors: there are very many terms, and few with more
	under Ref
	more  *[]Ref
}

// Times is a coefficient times the named facts.
func Times(coef float64, by ...Ref) Term {
	t := Term{coef: coef}
	n := copy(t.by[:], by)
	if n < len(by) {
		more := append([]Ref(nil), by[n:]...)
		t.more = &more
	}
	return t
}

// With multiplies a term by one more fact.
func (t Term) With(by Ref) Term {
	for i := range t.by {
		if t.by[i] == 0 {
			t.by[i] = by
			return t
		}
	}
	more := append(slices.Clip(t.rest()), by)
	t.more = &more
	return t
}

// rest are the factors after the first ones.
func (t *Term) rest() []Ref {
	if t.more == nil {
		return nil
	}
	return *t.more
}

// Per divides a term by a fact.
func (t Term) Per(under Ref) Term {
	t.under = under
	return t
}

// Scale multiplies a term by a number.
func (t Term) Scale(by float64) Term {
	t.coef *= by
	return t
}

// After is the term of a limit whose facts come after n others: what Let named for one list, put behind another.
func (t Term) After(n int) Term {
	for i := range t.by {
		if t.by[i] != 0 {
			t.by[i] += Ref(n)
		}
	}
	if t.under != 0 {
		t.under += Ref(n)
	}
	if t.more != nil {
		more := slices.Clone(*t.more)
		for i := range more {
			more[i] += Ref(n)
		}
		t.more = &more
	}
	return t
}

// By lists the facts a term multiplies.
func (t *Term) By() []Ref {
	n := 0
	for n < len(t.by) && t.by[n] != 0 {
		n++
	}
	if t.more == nil {
		return t.by[:n]
	}
	return append(slices.Clip(t.by[:n]), *t.more...)
}

// Bounds is the value of a term on the bounds of the facts it names: exact, since each stands in it once. It is always
// finite: what is divided by nothing is endless.
func (t *Term) Bounds(facts []Fact) Bounds {
	b := Bounds{1, 1, 1}
	if t.by[0] != 0 {
		f := &facts[t.by[0]-1]
		b = Bounds{f.Low, f.Value, f.High}
	}
	if t.by[1] != 0 || t.under != 0 || t.more != nil {
		t.further(facts, &b)
	}
	if t.coef < 0 {
		b.Low, b.High = b.High, b.Low
	}
	return Bounds{finite(t.coef * b.Low), finite(t.coef * b.Value), finite(t.coef * b.High)}
}

// further multiplies bounds by the second factor of a term and those after it, and divides them.
func (t *Term) further(facts []Fact, b *Bounds) {
	times := func(r Ref) {
		f := &facts[r-1]
		b.Low, b.Value, b.High = b.Low*f.Low, b.Value*f.Value, b.High*f.High
	}
	for _, r := range t.by[1:] {
		if r == 0 {
			break
		}
		times(r)
	}
	for _, r := range t.rest() {
		times(r)
	}
	if t.under != 0 {
		f := &facts[t.under-1]
		b.Low, b.Value, b.High = Divide(b.Low, f.High), Divide(b.Value, f.Value), Divide(b.High, f.Low)
	}
}

// Endless stands for "no end" where a figure has to be written as a number: minutes of a camera that is fed, say.
const Endless = 1e12

// Never stands for "infinitely over" where a ratio has to be written as a number.
const Never = 1e6

// Divide is a ÷ b, Endless when b is nothing and a is not.
func Divide(a, b float64) float64 {
	switch {
	case a == 0:
		return 0
	case b <= 0:
		return Endless
	}
	return finite(a / b)
}

// finite keeps a figure within what can be written and counted on with.
func finite(v float64) float64 {
	switch {
	case v > Endless:
		return Endless
	case v < -Endless:
		return -Endless
	}
	return v
}

// Under is the fact a term is divided by, the zero Ref for none.
func (t *Term) Under() Ref { return t.under }
