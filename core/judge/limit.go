// Package judge answers: will the rig hold, where is it weakest, and what should change?
//
// Rig makes one pass over a rig: every feed hop by hop, every shared limit. Each rule becomes a Limit, judged on the
// bounds of the facts it rests on (handbook README). Advise adds what to do: findings with fixes that are edits to the
// rig, already judged, the smallest set of them that makes the rig hold, and the next question worth asking.
package judge

import (
	"cmp"
	"slices"

	"eventether/core/fact"
)

// State is one of the four words every limit, hop, feed and rig is judged with.
type State string

// Slack: even at worst within the planning ceiling of the sure limit. Taut: even at worst within the sure limit.
// Snapped: even at best over the possible limit. Untested: it depends.
const (
	Slack    State = "slack"
	Taut     State = "taut"
	Untested State = "untested"
	Snapped  State = "snapped"
)

// severity orders the states, slack first.
func (s State) severity() int {
	switch s {
	case Taut:
		return 1
	case Untested:
		return 2
	case Snapped:
		return 3
	}
	return 0
}

// Worse is the worse of two states; a rig is as good as its worst limit.
func Worse(a, b State) State {
	if b.severity() > a.severity() {
		return b
	}
	if a == "" {
		return Slack
	}
	return a
}

// Holds tells whether a state promises that it will hold.
func (s State) Holds() bool { return s.severity() <= Taut.severity() }

// Sense says which side of a limit is the good one.
type Sense string

// AtMost: a bus. AtLeast: a voltage, a number of angles. Within: a lip-sync window. Fits: a yes or no.
const (
	AtMost  Sense = "at-most"
	AtLeast Sense = "at-least"
	Within  Sense = "within"
	Fits    Sense = "fits"
)

// Bounds is an interval with its likely value.
type Bounds struct {
	Low   float64 `json:"low"`
	Value float64 `json:"value"`
	High  float64 `json:"high"`
}

// Source says where a rule or a figure comes from.
type Source struct {
	Kind fact.From `json:"kind"`
	Name string    `json:"name"`
}

// Limit is every limit there is: a bus, a supply, a voltage, a reach, an uplink, a yes or no. One type, one line on
// screen, one line in the text report.
type Limit struct {
	ID      string   `json:"id" doc:"Rule and place, such as reach:l1"`
	Rule    string   `json:"rule"`
	What    string   `json:"what" doc:"What is limited, in words"`
	Says    string   `json:"says" doc:"The judgement in one line"`
	Stage   Stage    `json:"stage" enum:"camera,socket,lead,capture,port,picture,send"`
	Shared  bool     `json:"shared" doc:"Several things hang on it"`
	Where   []string `json:"where" doc:"Ids of the items and leads it depends on"`
	Sense   Sense    `json:"sense" enum:"at-most,at-least,within,fits"`
	Unit    string   `json:"unit"`
	Ceiling float64  `json:"ceiling" doc:"Share of the limit that still counts as slack"`
	Loads   []Load   `json:"loads"`
	Load    Bounds   `json:"load"`
	// Sure and Possible are the limit's own bounds. For Within they are the upper edge, SureLow and PossibleLow the
	// lower one.
	Sure        float64      `json:"sure"`
	Possible    float64      `json:"possible"`
	SureLow     float64      `json:"sureLow,omitempty"`
	PossibleLow float64      `json:"possibleLow,omitempty"`
	LimitSum    string       `json:"limitSum" doc:"Where the limit's number comes from, as a sum"`
	State       State        `json:"state" enum:"slack,taut,untested,snapped"`
	Ratio       Bounds       `json:"ratio" doc:"Load over limit (limit over load for at-least); 1 is the limit"`
	Share       string       `json:"share" doc:"The ratio in words; empty for a yes or no"`
	Facts       []Basis      `json:"facts" doc:"Every fact the limit rests on"`
	DependsOn   []Dependence `json:"dependsOn" doc:"Of an untested limit: the facts that would decide, most first"`
	Source      Source       `json:"source"`
	Caution     string       `json:"caution,omitempty"`

	kinds    []string // the kinds of moves that can change it; any when none is named
	caps     []term
	capOf    func([]Basis) Bounds // in place of caps, where the limit is no lowest of products: monotone in every fact
	outcomes []State              // of Fits: the states the answer may still turn out to be
}

// Load is one item's share of a limit.
type Load struct {
	Item   string `json:"item"`
	Label  string `json:"label"`
	Bounds        // in the limit's unit
	Sum    string `json:"sum" doc:"The sum behind the number"`
	Est    bool   `json:"est" doc:"Rests on an estimate"`

	term term
}

// Basis is one fact a limit rests on: a number with bounds, or a choice.
type Basis struct {
	Path    string    `json:"path" doc:"Where in the rig it stands; empty for figures of the rules"`
	Name    string    `json:"name"`
	Unit    string    `json:"unit"`
	Low     float64   `json:"low"`
	Value   float64   `json:"value"`
	High    float64   `json:"high"`
	From    fact.From `json:"from"`
	At      string    `json:"at,omitempty"`
	Word    string    `json:"word,omitempty" doc:"The choice as it stands"`
	Options []Option  `json:"options,omitempty" doc:"What a choice may turn out to be"`
	ask     func() Ask
}

// Option is one thing a choice may turn out to be, and what that would mean: a number in a sum, or a state.
type Option struct {
	Word   string  `json:"word"`
	Label  string  `json:"label"`
	Number float64 `json:"number"`
	State  State   `json:"state,omitempty"`
}

// Dependence is a fact an untested limit depends on, with the share of its possible values that would decide it.
type Dependence struct {
	Path    string  `json:"path"`
	Name    string  `json:"name"`
	Decides float64 `json:"decides"`
	narrows float64 // share of the spread of the ratio that knowing it would remove
}

// term is coef × Π facts[by] × Π facts[more] ÷ facts[under]; indices into Limit.Facts. No fact is below zero; the
// coefficient may be. A fixed array for the first factors, since there are very many terms and few with more.
type term struct {
	coef  float64
	by    [3]int16
	nBy   int8
	under int16 // 0 is none: what divides is never the first fact
	more  []int16
}

// times is coef × the facts at the given places, however many.
func times(coef float64, by ...int16) term {
	t := term{coef: coef, nBy: int8(min(len(by), 3))}
	copy(t.by[:], by)
	if len(by) > 3 {
		t.more = append([]int16(nil), by[3:]...)
	}
	return t
}

// with multiplies a term by one more fact.
func (t term) with(by int16) term {
	if int(t.nBy) < len(t.by) {
		t.by[t.nBy] = by
		t.nBy++
		return t
	}
	t.more = append(slices.Clip(t.more), by)
	return t
}

// per divides a term by the fact at the given place, which must not be the first.
func (t term) per(under int16) term {
	t.under = under
	return t
}

// shift moves a term's facts by n places.
func (t term) shift(n int) term {
	for i := range t.nBy {
		t.by[i] += int16(n)
	}
	if t.under > 0 {
		t.under += int16(n)
	}
	if len(t.more) > 0 {
		more := make([]int16, len(t.more))
		for i := range more {
			more[i] = t.more[i] + int16(n)
		}
		t.more = more
	}
	return t
}

// bounds is the value of a term on the bounds of its facts: exact, since each fact stands in it once. It is always
// finite: what is divided by nothing is endless.
func (t term) bounds(facts []Basis) Bounds {
	b := Bounds{1, 1, 1}
	for _, i := range t.by[:t.nBy] {
		f := &facts[i]
		b.Low, b.Value, b.High = b.Low*f.Low, b.Value*f.Value, b.High*f.High
	}
	for _, i := range t.more {
		f := &facts[i]
		b.Low, b.Value, b.High = b.Low*f.Low, b.Value*f.Value, b.High*f.High
	}
	if t.under > 0 {
		f := &facts[t.under]
		b.Low, b.Value, b.High = divide(b.Low, f.High), divide(b.Value, f.Value), divide(b.High, f.Low)
	}
	b.Low, b.Value, b.High = finite(t.coef*b.Low), finite(t.coef*b.Value), finite(t.coef*b.High)
	if t.coef < 0 {
		b.Low, b.High = b.High, b.Low
	}
	return b
}

// endless stands for "no end" where a figure has to be written as a number: minutes of a camera that is fed, say.
const endless = 1e12

// divide is a ÷ b, endless when b is nothing and a is not.
func divide(a, b float64) float64 {
	switch {
	case a == 0:
		return 0
	case b <= 0:
		return endless
	}
	return finite(a / b)
}

// finite keeps a figure within what can be written and counted on with.
func finite(v float64) float64 { return min(max(v, -endless), endless) }

// weigh computes loads, limit, ratio and state from the facts.
func (l *Limit) weigh() {
	if l.Sense == Fits {
		l.State = settle(l.outcomes)
		return
	}
	l.Load = Bounds{}
	for i := range l.Loads {
		ld := &l.Loads[i]
		ld.Bounds = ld.term.bounds(l.Facts)
		l.Load.Low += ld.Low
		l.Load.Value += ld.Value
		l.Load.High += ld.High
	}
	limit := l.limit()
	l.Sure, l.Possible = limit.Low, limit.High
	switch l.Sense {
	case AtMost:
		l.Ratio = Bounds{ratio(l.Load.Low, limit.High), ratio(l.Load.Value, limit.Value), ratio(l.Load.High, limit.Low)}
	case AtLeast:
		l.Ratio = Bounds{ratio(limit.Low, l.Load.High), ratio(limit.Value, l.Load.Value), ratio(limit.High, l.Load.Low)}
		l.Sure, l.Possible = limit.High, limit.Low
	case Within:
		l.Ratio = l.windowRatio()
	}
	switch {
	case !fact.Over(l.Ratio.High, l.Ceiling):
		l.State = Slack
	case !fact.Over(l.Ratio.High, 1):
		l.State = Taut
	case fact.Over(l.Ratio.Low, 1):
		l.State = Snapped
	default:
		l.State = Untested
	}
}

// limit is the lowest of the caps, or what the rule's own function makes of the facts.
func (l *Limit) limit() Bounds {
	if l.capOf != nil {
		b := l.capOf(l.Facts)
		return Bounds{finite(b.Low), finite(b.Value), finite(b.High)}
	}
	b := Bounds{endless, endless, endless}
	for _, c := range l.caps {
		cb := c.bounds(l.Facts)
		b = Bounds{min(b.Low, cb.Low), min(b.Value, cb.Value), min(b.High, cb.High)}
	}
	return b
}

// windowRatio measures how far the load is from zero towards the edge on its side: 1 is the edge.
func (l *Limit) windowRatio() Bounds {
	at := func(x, up, down float64) float64 {
		if x >= 0 {
			return ratio(x, up)
		}
		return ratio(x, down)
	}
	// The largest ratio lies at an end of the load, the smallest at the point nearest zero.
	nearest := max(l.Load.Low, min(0, l.Load.High))
	up, down := l.limit().Low, l.SureLow
	return Bounds{
		Low:   at(nearest, l.limit().High, l.PossibleLow),
		Value: at(l.Load.Value, up, down),
		High:  max(at(l.Load.Low, up, down), at(l.Load.High, up, down)),
	}
}

// ratio is load ÷ limit. A load of nothing or less is nothing; a limit of nothing or less is past any load. For a window
// both may be negative.
func ratio(load, limit float64) float64 {
	switch {
	case load == 0:
		return 0
	case load < 0 && limit < 0:
		return min(load/limit, never)
	case load < 0:
		return 0
	case limit <= 0:
		return never
	}
	return min(load/limit, never)
}

// never stands for "infinitely over" where a number has to be written in JSON.
const never = 1e6

// settle is the state of a yes or no that may still turn out one way or another.
func settle(outcomes []State) State {
	worst, allSnapped := Slack, true
	for _, s := range outcomes {
		worst = Worse(worst, s)
		allSnapped = allSnapped && s == Snapped
	}
	if worst == Snapped && !allSnapped {
		return Untested
	}
	return worst
}

// rank lists the facts an untested limit depends on: the share of a fact's possible values that, once known, would
// turn the limit into slack, taut or snapped, whatever the other facts are. samples is the number of values tried.
func (l *Limit) rank() {
	l.DependsOn = nil
	if l.State != Untested {
		return
	}
	trial := Limit{Sense: l.Sense, Ceiling: l.Ceiling, Facts: slices.Clone(l.Facts), Loads: slices.Clone(l.Loads), caps: l.caps, capOf: l.capOf,
		SureLow: l.SureLow, PossibleLow: l.PossibleLow}
	for i := range l.Facts {
		f := &l.Facts[i]
		values := f.values()
		if len(values) < 2 || f.Path == "" || slices.ContainsFunc(l.Facts[:i], func(b Basis) bool { return b.Path == f.Path }) {
			continue
		}
		decided, width := 0, 0.0
		for k, v := range values {
			if l.Sense == Fits {
				if v.State != "" && v.State != Untested {
					decided++
				}
				continue
			}
			for j := i; j < len(l.Facts); j++ { // the same fact may stand in a sum more than once
				if g := &l.Facts[j]; g.Path == f.Path {
					if same := g.values(); len(same) == len(values) {
						trial.Facts[j].Low, trial.Facts[j].Value, trial.Facts[j].High = same[k].Number, same[k].Number, same[k].Number
					}
				}
			}
			trial.weigh()
			if trial.State != Untested {
				decided++
			}
			width += trial.Ratio.High - trial.Ratio.Low
		}
		copy(trial.Facts, l.Facts)
		d := Dependence{Path: f.Path, Name: f.Name, Decides: float64(decided) / float64(len(values))}
		if full := l.Ratio.High - l.Ratio.Low; full > 0 {
			d.narrows = 1 - width/float64(len(values))/full
		}
		l.DependsOn = append(l.DependsOn, d)
	}
	slices.SortStableFunc(l.DependsOn, func(a, b Dependence) int {
		return cmp.Or(cmp.Compare(b.Decides, a.Decides), cmp.Compare(b.narrows, a.narrows), cmp.Compare(a.Path, b.Path))
	})
}

const samples = 9

// values are the points a fact may turn out to be.
func (f *Basis) values() []Option {
	if len(f.Options) > 0 {
		return f.Options
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
