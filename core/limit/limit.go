// Package limit answers: does a load stay within its limit, when both are known only between bounds?
//
// A Limit is every limit there is: a bus, a supply, a voltage, a reach, a processor, an uplink, a yes or no. It names
// the facts it rests on, adds up loads made of products of them, and compares the sum with a limit made the same way;
// Weigh gives one of five words for it. Nothing here knows what a rig is: judging, advice, simulation and diagnosis
// read the same type.
package limit

import (
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/word"
)

// State is one of the five words every limit is judged with. The zero State is no judgement, and counts as Slack.
type State uint16

// Slack: even at worst within the planning ceiling of the sure limit. Taut: even at worst within the sure limit.
// Kinked: even at best over the possible limit, and all that happens is a flaw on air. Snapped: the same, and it does
// not hold. Untested: it depends.
const (
	Slack State = 1 + iota
	Taut
	Kinked
	Untested
	Snapped
)

var stateWords = []string{"slack", "taut", "kinked", "untested", "snapped"}

func (s State) String() string { return word.Of(stateWords, s) }

// MarshalText gives the word.
func (s State) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// UnmarshalText reads the word.
func (s *State) UnmarshalText(text []byte) error { return word.Read(s, stateWords, "state", text) }

// States lists the states, the best first; a state's place is its Severity.
var States = [5]State{Slack, Taut, Kinked, Untested, Snapped}

// Severity orders the states: 0 is slack, 4 is snapped.
func (s State) Severity() int { return max(0, int(s)-1) }

// Holds tells whether a state promises that it will hold, if with a flaw.
func (s State) Holds() bool { return s.Severity() <= 2 }

// Worse is the worse of two states; a rig is as good as its worst limit. It is never the zero State.
func Worse(a, b State) State { return max(a, b, Slack) }

// Consequence is what happens when a limit is over: by what happens, not by how far over it is.
type Consequence uint16

// Dark: no picture, no stream, no recording. Drops: it comes and goes, or ends before the show does. Flaw: it goes to
// air and looks or sounds worse than it should. Care: nothing on air; effort, risk or money.
const (
	Dark Consequence = 1 + iota
	Drops
	Flaw
	Care
)

var consequenceWords = []string{"dark", "drops", "flaw", "care"}

func (c Consequence) String() string { return word.Of(consequenceWords, c) }

// MarshalText gives the word.
func (c Consequence) MarshalText() ([]byte, error) { return []byte(c.String()), nil }

// UnmarshalText reads the word.
func (c *Consequence) UnmarshalText(text []byte) error {
	return word.Read(c, consequenceWords, "consequence", text)
}

// Consequences lists them, the worst first.
var Consequences = []Consequence{Dark, Drops, Flaw, Care}

// Breaks tells whether a rig does not hold with it. The zero Consequence counts as Dark.
func (c Consequence) Breaks() bool { return c != Flaw && c != Care }

// Sense says which side of a limit is the good one.
type Sense uint16

// AtMost: a bus. AtLeast: a voltage, a number of angles. Within: a lip-sync window. Fits: a yes or no.
const (
	AtMost Sense = 1 + iota
	AtLeast
	Within
	Fits
)

var senseWords = []string{"at-most", "at-least", "within", "fits"}

func (s Sense) String() string { return word.Of(senseWords, s) }

// MarshalText gives the word.
func (s Sense) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// UnmarshalText reads the word.
func (s *Sense) UnmarshalText(text []byte) error { return word.Read(s, senseWords, "sense", text) }

// Bounds is an interval with its likely value: Low <= Value <= High.
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

// Limit is one limit with its load.
//
// Invariants: a Limit is made by filling Facts (with Let), Loads and Caps (or CapOf, or Outcomes), and is weighed once;
// after Weigh every figure in it is finite, Ratio.Low <= Ratio.High, and State is one of the five words, Kinked only of
// a Flaw. Narrowing a fact and weighing again never turns Slack or Snapped into anything else, nor Taut into anything
// but Slack or Taut. Every Term is monotone in every fact, since a fact stands in it at most once and no fact is below
// zero.
type Limit struct {
	Over  Consequence // what happens when it is over
	Sense Sense
	State State // what Weigh comes to
	// Outcomes are, of a yes or no, the states the answer may still turn out to be.
	Outcomes Outcomes
	Unit     string
	Ceiling  float64 // share of the limit that still counts as slack, 0 to 1
	Facts    []Fact
	Loads    []Load
	Caps     []Term // the lowest of them is the limit
	// CapOf stands in place of Caps where the limit is no lowest of products. It has to be monotone in every fact.
	CapOf func([]Fact) Bounds
	// Measured tells of a window that its load was measured: what lies wholly between the sure and the possible edge is
	// then Taut, since nothing is left to find out.
	Measured bool
	// SureLow and PossibleLow are the lower edge of a window; its upper edge is in Caps.
	SureLow, PossibleLow float64

	// What Weigh finds.
	Load           Bounds
	Sure, Possible float64
	Ratio          Bounds // load over limit (limit over load for AtLeast); 1 is the limit
}

// Counts is what a limit counts for in the verdict of the whole: its state where the rig does not hold with it over; a
// flaw bends a rig and never breaks it, whether it is known or not; what asks for care only does neither.
func (l *Limit) Counts() State {
	switch {
	case l.Over.Breaks() || l.State == Kinked:
		return l.State
	}
	return Slack
}

// Load is one thing's share of a limit.
type Load struct {
	Item string // id of the thing; empty for none
	Term Term
	Bounds
}

// Ref names a fact inside its limit: what Let returned. The zero Ref names none.
type Ref int16

// Let adds a fact to the limit and gives the name terms call it by.
func (l *Limit) Let(f Fact) Ref {
	l.Facts = append(l.Facts, f)
	return Ref(len(l.Facts))
}

// Fact is the fact a Ref names.
func (l *Limit) Fact(r Ref) *Fact { return &l.Facts[r-1] }

// Key says which thing in the world a fact is about: two facts with one key are the same fact. Field is a path with
// capitals for ids ("items/ID/ports/PORT/volts"); Of stands in for ID, Sub for the other. The zero Key is a figure of
// the rules, which nobody can be asked for.
type Key struct {
	Field   string
	Of, Sub string
}

// Path is the key as one path: "items/pc/ports/front/volts".
func (k Key) Path() string {
	if k.Of == "" && k.Sub == "" {
		return k.Field
	}
	out := make([]byte, 0, len(k.Field)+len(k.Of)+len(k.Sub))
	for part := range strings.SplitSeq(k.Field, "/") {
		switch {
		case part == "ID":
			part = k.Of
		case part[0] >= 'A' && part[0] <= 'Z':
			part = k.Sub
		}
		if len(out) > 0 {
			out = append(out, '/')
		}
		out = append(out, part...)
	}
	return string(out)
}

// IsZero tells whether it is a figure of the rules.
func (k Key) IsZero() bool { return k.Field == "" }

// Fact is one thing a limit rests on: a number with bounds, or a choice among words. Low is never below zero.
type Fact struct {
	Key
	Low, Value, High float64
	From             fact.From
	Unit             string
	Word             string    // the choice as it stands
	Options          *[]Option // what a choice may turn out to be
	// Open gives the options where listing them is work; it is called only when somebody wants to know.
	Open func() []Option
}

// Option is one thing a choice may turn out to be, and what that would mean: a number in a sum, or a state.
type Option struct {
	Word   string
	Label  string
	Number float64
	State  State
	// Do is what would record the answer, when it is more than the word at the fact's path; the caller's own.
	Do any
}

// Choices are the options of a fact, none of a number.
func (f *Fact) Choices() []Option {
	if f.Options == nil && f.Open != nil {
		return f.Open()
	}
	if f.Options == nil {
		return nil
	}
	return *f.Options
}

// Of is a fact with the bounds of a stated one.
func Of(k Key, unit string, f fact.Fact) Fact {
	return Fact{Key: k, Low: f.Low, Value: f.Value, High: f.High, From: f.From, Unit: unit}
}

// Known is a figure of the rules, without a key.
func Known(v float64, unit string, from fact.From) Fact {
	return Fact{Low: v, Value: v, High: v, From: from, Unit: unit}
}

// Choice is a fact that is one of several words, each with its number in the sum.
func Choice(k Key, unit, word string, of *[]Option) Fact {
	options := *of
	f := Fact{Key: k, Unit: unit, Word: word, From: fact.Given, Options: of}
	f.Low, f.High, f.Value = options[0].Number, options[0].Number, options[0].Number
	for i := range options[1:] {
		f.Low, f.High = min(f.Low, options[i+1].Number), max(f.High, options[i+1].Number)
	}
	if len(options) > 1 {
		f.From = fact.Estimate
	}
	return f
}

// Narrow tells whether the bounds leave no room.
func (f *Fact) Narrow() bool { return f.Low == f.High }

// Estimated tells whether a load rests on an estimate.
func (l *Limit) Estimated(ld *Load) bool {
	return slices.ContainsFunc(ld.Term.By(), func(r Ref) bool { return l.Fact(r).From == fact.Estimate }) ||
		ld.Term.under != 0 && l.Fact(ld.Term.under).From == fact.Estimate
}
