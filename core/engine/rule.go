// Package engine answers: what do rules make of a rig?
//
// A Pass walks a rig once, from every lens to the computer, and at each Moment calls the rules that judge there; they
// add up limits (core/limit) from the facts of the rig and its plans (core/plans). It knows no rule. Judging makes
// figures and ids only; words are made when somebody asks for them, by the wording of a result's rule. What a pass
// takes is memory it keeps, and what it leaves out in a trial is known here only (Scope).
package engine

import (
	"cmp"
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/limit"
	"eventether/core/word"
)

// overWords say what a consequence means.
var overWords = map[limit.Consequence]string{
	limit.Dark:  "dark: no picture, no stream or no recording",
	limit.Drops: "drops: it comes and goes, or ends before the show does",
	limit.Flaw:  "flaw: it goes to air, and looks worse than it should",
	limit.Care:  "care: nothing on air; effort, risk or money",
}

var kindWords = map[fact.From]string{fact.Practice: "common practice of the trade",
	fact.Standard: "published standard", fact.Estimate: "planning estimate",
	fact.DataSheet: "the device's own sheet", fact.Measured: "what happened when it was tried"}

// Subject is a part of the work, in its order.
type Subject uint16

// The subjects.
const (
	TheShow Subject = 1 + iota
	TheLead
	TheBus
	ThePower
	TheSend
	TheSound
	Failing
)

var subjectWords = []string{
	"The show and its pictures", "The camera, its output and the lead", "Capture device and bus", "Power and heat",
	"Program, sent picture and uplink", "Sound and time", "Leads that fail",
}

func (s Subject) String() string { return word.Of(subjectWords, s) }

// InWords is a rule as people read it: what it means when it is over, and where it comes from.
func (r *Rule) InWords() (over, source string) {
	return overWords[r.Over], fmt.Sprintf("%s (%s)", r.Source.Name, kindWords[r.Source.Kind])
}

// Rule is one rule of the job. Results name their rule by this value; its Name is what is printed and kept.
type Rule struct {
	Name Name
	Asks string // the question it answers, as one would put it to a colleague
	// Sum is the arithmetic in words; empty for a yes or no.
	Sum     string
	Sense   limit.Sense
	Unit    string
	Ceiling float64 // share that counts as slack; 0 is the rig's own planning ceiling
	Source  limit.Source
	Over    limit.Consequence // what happens when it is over
	Example string            // one case worked by hand
	Subject Subject           // the part of the work it belongs to
	// Many is what several of them have in common when they are not known to hold, after "Three cameras: ".
	Many string
	// Board is what the board says of a yes or no while it is open, and when the answer is bad.
	Board Short
	// Whole tells that a result rests on more than it names: a change of the rig is then judged whole.
	Whole bool
	// Computing tells that it weighs what the computer has to compute: less to do eases it, whatever is chosen.
	Computing bool

	// Say puts a result into words, from its figures and ids and from where it was judged; a case it does not tell
	// brings its own words (Result.Say), which cost memory in every pass: a rule that judges every feed has the usual
	// case here.
	Say func(*Words)

	// Judge are the functions that judge, by when they are called. What is judged in one go with another rule (the
	// graphics with the processor) has none of its own.
	Judge Judging

	at int // its place among all, from 1: what its results are looked up by
}

// Name is a rule's name as it is printed, kept and sent: "reach".
type Name string

// Short are a few words for the board.
type Short struct{ Open, Bad string }

// Judging are the functions of a rule by the moment they are called at. Each is handed its own rule: a row cannot name
// a function that names the row.
type Judging map[Moment]func(p *Pass, own *Rule, w *Walk)

// String is the rule's name.
func (r *Rule) String() string { return string(r.Name) }

// MarshalText gives the name.
func (r *Rule) MarshalText() ([]byte, error) { return []byte(r.Name), nil }

// ID names one result: the rule, and the place it is judged at. Place is empty for what there is one of.
type ID struct {
	Rule  *Rule
	Place string
}

// String is the id as it is printed: "reach:l1", "uplink".
func (id ID) String() string {
	switch {
	case id.Rule == nil:
		return ""
	case id.Place == "":
		return string(id.Rule.Name)
	}
	return string(id.Rule.Name) + ":" + id.Place
}

// Compare orders ids as their strings are ordered.
func (id ID) Compare(o ID) int {
	a, b := id.Rule.Name, o.Rule.Name
	n := min(len(a), len(b))
	if c := cmp.Compare(a[:n], b[:n]); c != 0 || len(a) == len(b) {
		return cmp.Or(c, cmp.Compare(id.Place, o.Place))
	}
	return cmp.Compare(id.String(), o.String())
}

// Moment is when in a pass a rule is called: what there is to judge.
type Moment uint8

// The moments of a pass, in the order they come.
const (
	AtSource      Moment = iota // a source: Walk.Item
	AtOutput                    // the picture socket of a source: Walk.Item, Walk.Port
	AtLink                      // either end of a picture link: Walk.Item, Walk.Port, Walk.Verb
	AtPictureLead               // Walk.Lead, Walk.From, Walk.To; sets Walk.Dead where nothing flows
	AtHDMILead                  // one through which something flows
	AtCoax                      // the same for SDI
	AtPictureIn                 // a picture comes into a device: Walk.Item, Walk.Port
	AtBox                       // it goes through one: Walk.Item, Walk.In, Walk.Out; sets Walk.Mode to what comes out
	AtBoxOut                    // it leaves a box as a picture: Walk.Item, Walk.Port
	AtCapture                   // it goes on as bytes: Walk.Bytes, of which what is sent is settled
	AtUSBLead                   // Walk.Lead, Walk.LeadAt, Walk.Bytes
	AtUSBPort                   // Walk.Item, Walk.In, Walk.Out, Walk.Bytes
	AtEnd                       // the way ends and does not arrive: Walk.Item
	AtProgramme                 // a picture has arrived: Walk.Bytes
	AfterWays                   // every way has been walked, and what shares with them comes: no Walk
	OnRig                       // everything is known: no Walk
	moments       = iota
)

// Table is a set of rules, ready to be called at their moments.
type Table struct {
	rules []*Rule // by name
	at    [moments][]judging
}

// judging is one function of a rule.
type judging struct {
	rule  *Rule
	judge func(*Pass, *Rule, *Walk)
}

// TableOf readies rules, whatever their order; it panics where two have one name.
func TableOf(rules []*Rule) *Table {
	t := &Table{rules: slices.SortedFunc(slices.Values(rules), func(a, b *Rule) int {
		return cmp.Compare(a.Name, b.Name)
	})}
	for i, r := range t.rules {
		if i > 0 && t.rules[i-1].Name == r.Name {
			panic(fmt.Sprintf("rule %q stands twice", r.Name))
		}
		r.at = i + 1
		for m, judge := range r.Judge {
			t.at[m] = append(t.at[m], judging{r, judge})
		}
	}
	return t
}

// All lists every rule by name.
func (t *Table) All() []*Rule { return slices.Clone(t.rules) }

// Named is the rule of a name, nil when there is none: for what comes from outside.
func (t *Table) Named(name Name) *Rule {
	i, ok := slices.BinarySearchFunc(t.rules, name, func(r *Rule, n Name) int { return cmp.Compare(r.Name, n) })
	if !ok {
		return nil
	}
	return t.rules[i]
}
