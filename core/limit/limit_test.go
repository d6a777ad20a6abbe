package limit

import (
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
)

// limitOf is a load between two bounds against a limit between two bounds.
func limitOf(sense Sense, loadLow, loadHigh, sure, possible float64) Limit {
	l := Limit{Sense: sense, Ceiling: 0.8}
	load := l.Let(Fact{Key: Key{Field: "load"}, Low: loadLow, Value: loadLow, High: loadHigh})
	most := l.Let(Fact{Key: Key{Field: "limit"}, Low: math.Min(sure, possible), Value: sure,
		High: math.Max(sure, possible)})
	l.Loads, l.Caps = []Load{{Term: Times(1, load)}}, []Term{Times(1, most)}
	l.Weigh()
	return l
}

// The states, as docs/arithmetic.md defines them.
func TestStates(t *testing.T) {
	for _, c := range []struct {
		name                            string
		sense                           Sense
		low, high, sure, possible, want any
	}{
		{"well inside", AtMost, 10.0, 50.0, 100.0, 100.0, Slack},
		{"at the ceiling", AtMost, 80.0, 80.0, 100.0, 100.0, Slack},
		{"past the ceiling", AtMost, 10.0, 81.0, 100.0, 100.0, Taut},
		{"at the limit", AtMost, 100.0, 100.0, 100.0, 100.0, Taut},
		{"at worst over", AtMost, 90.0, 101.0, 100.0, 100.0, Untested},
		{"at best over the sure limit only", AtMost, 110.0, 110.0, 100.0, 120.0, Untested},
		{"at best over the possible limit", AtMost, 121.0, 130.0, 100.0, 120.0, Snapped},
		{"nothing of nothing", AtMost, 0.0, 0.0, 0.0, 0.0, Slack},
		{"something of nothing", AtMost, 1.0, 1.0, 0.0, 0.0, Snapped},
		{"a voltage with room", AtLeast, 6.0, 7.0, 4.4, 4.4, Slack},
		{"a voltage near its floor", AtLeast, 4.5, 5.0, 4.4, 4.4, Taut},
		{"a voltage that may sag", AtLeast, 4.3, 5.0, 4.4, 4.4, Untested},
		{"a voltage below", AtLeast, 4.0, 4.3, 4.4, 4.4, Snapped},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := limitOf(c.sense, c.low.(float64), c.high.(float64), c.sure.(float64), c.possible.(float64))
			require.Equal(t, c.want, got.State, "%+v", got.Ratio)
		})
	}
}

// A window: sound 40 ms early to 60 ms late surely accepted, 90 to 185 possibly.
func TestWithin(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		want      State
	}{
		{-10, 20, Slack}, {-30, 45, Slack}, {-35, 0, Taut}, {0, 59, Taut}, {-50, 0, Untested}, {0, 100, Untested},
		{-200, -100, Snapped}, {190, 300, Snapped}, {-300, 300, Untested},
	} {
		l := Limit{Sense: Within, Ceiling: 0.8, SureLow: -40, PossibleLow: -90,
			Facts: []Fact{{Low: c.low, Value: c.low, High: c.high}, {Low: 60, Value: 60, High: 185}},
			Loads: []Load{{Term: Times(1, 1)}}, Caps: []Term{Times(1, 2)}}
		l.Weigh()
		require.Equal(t, c.want, l.State, "%v to %v: %+v", c.low, c.high, l.Ratio)
	}
}

func TestSettle(t *testing.T) {
	for _, c := range []struct {
		outcomes Outcomes
		want     State
	}{
		{Yes, Slack}, {Soft, Taut}, {No, Snapped}, {Maybe, Untested}, {Yes | Soft, Taut}, {Soft | No, Untested},
		{Yes | Soft | No, Untested}, {0, Slack},
		{Surely(Kinked), Kinked}, {Yes | Surely(Kinked), Kinked}, {Soft | Surely(Untested), Untested},
	} {
		require.Equal(t, c.want, c.outcomes.Settle(), "%v", c.outcomes)
	}
}

// randomLimit draws a limit of one to three loads, each a product of up to two facts, one possibly divided by a third,
// against the lower of one or two caps. Every fact has its own place, as every rule here has it.
func randomLimit(t *rapid.T) *Limit {
	l := &Limit{Sense: rapid.SampledFrom([]Sense{AtMost, AtLeast}).Draw(t, "sense"),
		Ceiling: rapid.SampledFrom([]float64{0.75, 0.8, 1}).Draw(t, "ceiling")}
	draw := func(name string) Ref {
		low := rapid.Float64Range(0.1, 50).Draw(t, name)
		high := low * rapid.Float64Range(1, 3).Draw(t, name+" spread")
		return l.Let(Fact{Key: Key{Field: name, Of: strconv.Itoa(len(l.Facts))}, Low: low, Value: low, High: high})
	}
	for i := range rapid.IntRange(1, 3).Draw(t, "loads") {
		tm := Times(rapid.Float64Range(0.5, 4).Draw(t, "coef"), draw("load"))
		if i == 0 && rapid.Bool().Draw(t, "divided") {
			tm = tm.Per(draw("under"))
		}
		l.Loads = append(l.Loads, Load{Term: tm})
	}
	for range rapid.IntRange(1, 2).Draw(t, "caps") {
		l.Caps = append(l.Caps, Times(rapid.Float64Range(1, 6).Draw(t, "cap coef"), draw("cap")))
	}
	l.Weigh()
	return l
}

// at is the same limit with other facts.
func at(l *Limit, facts []Fact) *Limit {
	c := *l
	c.Facts, c.Loads = facts, append([]Load(nil), l.Loads...)
	c.Weigh()
	return &c
}

// Narrowing a fact never turns slack or snapped into anything else.
func TestNarrowingKeepsSureVerdicts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomLimit(t)
		facts := append([]Fact(nil), l.Facts...)
		i := rapid.IntRange(0, len(facts)-1).Draw(t, "which")
		a := facts[i].Low + (facts[i].High-facts[i].Low)*rapid.Float64Range(0, 1).Draw(t, "from")
		b := a + (facts[i].High-a)*rapid.Float64Range(0, 1).Draw(t, "to")
		facts[i].Low, facts[i].Value, facts[i].High = a, a, b
		after := at(l, facts)
		switch l.State {
		case Slack, Snapped:
			require.Equal(t, l.State, after.State)
		case Taut:
			require.True(t, after.State.Holds())
		}
	})
}

// The verdict on bounds is what the verdicts on all corners of the bounds say together.
func TestBoundsAgreeWithCorners(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomLimit(t)
		var outcomes Outcomes
		n := len(l.Facts)
		for corner := range 1 << n {
			facts := append([]Fact(nil), l.Facts...)
			for i := range facts {
				v := facts[i].Low
				if corner>>i&1 == 1 {
					v = facts[i].High
				}
				facts[i].Low, facts[i].Value, facts[i].High = v, v, v
			}
			c := at(l, facts)
			require.NotEqual(t, Untested, c.State, "nothing is open at a corner")
			outcomes |= Surely(c.State)
		}
		require.Equal(t, outcomes.Settle(), l.State)
	})
}

// A fact that decides alone is ranked before one that cannot.
func TestRank(t *testing.T) {
	l := &Limit{Sense: AtMost, Ceiling: 0.8}
	wide := l.Let(Fact{Key: Key{Field: "wide"}, Low: 10, Value: 50, High: 150})
	narrow := l.Let(Fact{Key: Key{Field: "narrow"}, Low: 0, Value: 1, High: 2})
	most := l.Let(Fact{Key: Key{Field: "cap"}, Low: 100, Value: 100, High: 100})
	ours := l.Let(Fact{Low: 0, High: 1})
	l.Loads, l.Caps = []Load{{Term: Times(1, wide)}, {Term: Times(1, narrow)}, {Term: Times(1, ours)}},
		[]Term{Times(1, most)}
	l.Weigh()
	require.Equal(t, Untested, l.State)
	ranked := l.Rank()
	require.Len(t, ranked, 2, "facts of the rules and narrow ones are not asked for")
	require.Equal(t, "wide", l.Facts[ranked[0].Fact].Path())
	require.Greater(t, ranked[0].Decides, 0.8)
	require.Equal(t, "narrow", l.Facts[ranked[1].Fact].Path())
	require.Zero(t, ranked[1].Decides)

	choice := &Limit{Sense: Fits, Outcomes: Maybe,
		Facts: []Fact{{Key: Key{Field: "clean"}, Options: &[]Option{{State: Slack}, {State: Snapped}},
			From: fact.Estimate}}}
	choice.Weigh()
	require.Equal(t, 1.0, choice.Rank()[0].Decides)
}

// However many factors a term has, it is their product, and a term put behind other facts names the same ones.
func TestTermsHaveAnyNumberOfFactors(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var l Limit
		n := rapid.IntRange(0, 9).Draw(t, "factors")
		term, want := Times(rapid.Float64Range(-3, 3).Draw(t, "coefficient")), 0.0
		want = term.Bounds(nil).Value
		for range n {
			v := rapid.Float64Range(0, 3).Draw(t, "fact")
			term = term.With(l.Let(Fact{Low: v, Value: v, High: v}))
			want *= v
		}
		require.InDelta(t, want, term.Bounds(l.Facts).Value, 1e-9)
		require.Len(t, term.By(), n)
		shift := rapid.IntRange(0, 5).Draw(t, "shift")
		moved := append(make([]Fact, shift), l.Facts...)
		after := term.After(shift)
		require.InDelta(t, want, after.Bounds(moved).Value, 1e-9)
	})
}

// A key is written with its ids in their places.
func TestKeys(t *testing.T) {
	require.Equal(t, "items/pc/ports/front/volts", Key{"items/ID/ports/PORT/volts", "pc", "front"}.Path())
	require.Equal(t, "show/destinations/2/videoKbps", Key{"show/destinations/N/videoKbps", "", "2"}.Path())
	require.Equal(t, "uplink/estimateMbps", Key{Field: "uplink/estimateMbps"}.Path())
	require.Equal(t, "leads/l1/awg", Key{Field: "leads/ID/awg", Of: "l1"}.Path())
}
