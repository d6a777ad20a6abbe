// Package rules answers: which rules does the job have, and what does each say of a rig?
//
// A rule is one value with everything about it in its row: what it asks, its sum, where it comes from, what happens
// when it is over, when it is called, and what it says. The files stand by subject.
package rules

import (
	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/limit"
	"eventether/core/rig"
)

// table is every rule there is. Each file puts its own into it while the program begins, before anything is judged.
var (
	rows  []*Rule
	table *engine.Table
)

// rule puts a rule into the table.
func rule(r Rule) *Rule {
	rows = append(rows, &r)
	return &r
}

func init() { table = engine.TableOf(rows) }

// All lists every rule by name.
func All() []*Rule { return table.All() }

// Named is the rule of a name, nil when there is none: for what comes from outside.
func Named(name engine.Name) *Rule { return table.Named(name) }

// New readies a pass of every rule over a rig that passes rig.Check, or nearly.
func New(r *rig.Rig, w *rig.Wiring) *Pass { return Again(new(Pass), r, w) }

// Again readies a used pass for another rig, keeping its memory: nothing of the last one may be held any more.
func Again(p *Pass, r *rig.Rig, w *rig.Wiring) *Pass { return p.Reset(table, r, w) }

// practice, standard and so on are sources by kind, for the table.
func practice(name string) limit.Source { return limit.Source{Kind: fact.Practice, Name: name} }

func standard(name string) limit.Source { return limit.Source{Kind: fact.Standard, Name: name} }

func estimate(name string) limit.Source { return limit.Source{Kind: fact.Estimate, Name: name} }

func datasheet(name string) limit.Source { return limit.Source{Kind: fact.DataSheet, Name: name} }

func measured(name string) limit.Source { return limit.Source{Kind: fact.Measured, Name: name} }
