// Package rules answers: which rules does the job have, and what does each say of a rig?
//
// A Rule is one value in one table: what it asks, where it comes from, what happens when it is over, and the function that
// judges. A Pass walks a rig once, from every lens to the computer, and at each Moment calls the rules that judge there;
// they add up limits (core/limit) from the facts of the rig. Judging makes figures and ids only. What a result says in words
// is made when somebody asks for it, by the wording of its rule.
package rules

import (
	"cmp"
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/limit"
)

// Rule is one rule of the job.
type Rule struct {
	ID   limit.RuleID
	Asks string // the question it answers, as one would put it to a colleague
	// Sum is the arithmetic in words; empty for a yes or no.
	Sum     string
	Sense   limit.Sense
	Unit    string
	Ceiling float64 // share that counts as slack; 0 is the rig's own planning ceiling
	Source  limit.Source
	Over    limit.Consequence // what happens when it is over
	Example string            // one case worked by hand
	// Many is what several of them have in common when they are not known to hold, after "Three cameras: ".
	Many string
	// Chapter is the part of the handbook it puts to work.
	Chapter string

	// Say puts a result into words, from its figures and ids and from where it was judged; a case it does not tell brings
	// its own words (Result.Say), which cost memory in every pass: a rule that judges every feed has the usual case here.
	Say func(*Words)

	// Judge are the functions that judge, by when they are called. A rule whose answer decides where the walk goes on is
	// called by the walk itself and has none.
	Judge map[Moment]func(*Pass, *Walk)
}

// Moment is when in a pass a rule is called: what there is to judge.
type Moment uint8

// The moments of a pass, in the order they come.
const (
	AtSource    Moment = iota // a source: Walk.Item
	AtOutput                  // the picture socket of a source: Walk.Item, Walk.Port
	AtLink                    // either end of a picture link: Walk.Item, Walk.Port, Walk.Verb
	AtPictureIn               // a picture comes into a device: Walk.Item, Walk.Port
	AtBoxOut                  // a picture leaves a box as a picture: Walk.Item, Walk.Port
	AtHDMILead                // Walk.Lead, Walk.From, Walk.To
	AtCoax                    // the same for SDI
	AtProgramme               // a picture has arrived: Walk.Stream
	OnRig                     // everything has been walked: no Walk
	moments     = iota
)

var (
	table []*Rule
	byID  [512]brief // by slotOf, the next free one where that is taken; never half full
	at    [moments][]func(*Pass, *Walk)
)

// brief is what every result needs of its rule, side by side.
type brief struct {
	id      limit.RuleID
	over    limit.Consequence
	sense   limit.Sense
	unit    string
	ceiling float64
	rule    *Rule
}

// rule puts a rule into the table.
func rule(r Rule) limit.RuleID {
	if ByID(r.ID) != nil {
		panic(fmt.Sprintf("rule %q stands twice", r.ID))
	}
	kept := &r
	table = append(table, kept)
	if 2*len(table) > len(byID) {
		panic("more rules than byID has room for")
	}
	at := slotOf(r.ID)
	for byID[at].rule != nil {
		at = (at + 1) % len(byID)
	}
	byID[at] = brief{r.ID, r.Over, r.Sense, r.Unit, r.Ceiling, kept}
	return r.ID
}

// ready sorts the table once all files have put their rules into it, whatever the order of the files.
func ready() {
	slices.SortFunc(table, func(a, b *Rule) int { return cmp.Compare(a.ID, b.ID) })
	for _, r := range table {
		for m, judge := range r.Judge {
			at[m] = append(at[m], judge)
		}
	}
}

func init() { ready() }

// All lists every rule by id.
func All() []*Rule { return slices.Clone(table) }

// ByID is the rule of an id, nil when there is none.
func ByID(id limit.RuleID) *Rule { return briefFrom(slotOf(id), id).rule }

// briefFrom is the rule of an id that is first looked for at a slot; an empty one when there is none.
func briefFrom(slot int, id limit.RuleID) *brief {
	at := slot
	for byID[at].rule != nil && byID[at].id != id {
		at = (at + 1) % len(byID)
	}
	return &byID[at]
}

// slotOf is where a rule is looked for first: every result of every pass looks its rule up.
func slotOf(id limit.RuleID) int {
	n := uint(len(id))
	if n == 0 {
		return 0
	}
	h := n*37 + uint(id[0])*131 + uint(id[n/2])*31 + uint(id[n/3])*11 + uint(id[n-1])*7
	return int(h % uint(len(byID)))
}

// practice, standard and so on are sources by kind, for the table.
func practice(name string) limit.Source  { return limit.Source{Kind: fact.Practice, Name: name} }
func standard(name string) limit.Source  { return limit.Source{Kind: fact.Standard, Name: name} }
func estimate(name string) limit.Source  { return limit.Source{Kind: fact.Estimate, Name: name} }
func datasheet(name string) limit.Source { return limit.Source{Kind: fact.DataSheet, Name: name} }
func measured(name string) limit.Source  { return limit.Source{Kind: fact.Measured, Name: name} }
