// Package rigtest answers, for tests: what could a rig look like? It makes seeded random rigs from the whole shelf and
// of every kind of wiring, with facts stated or left out, and ways to change them that a law can be held against: facts
// forgotten, corners of the bounds, other orders.
//
// A stated fact lies within the bounds its absence would be given, so that forgetting it only widens.
package rigtest

import (
	"math"

	"eventether/core/fact"
)

// Dice is a small random generator (splitmix64): the same seed gives the same rig, on every machine.
type Dice struct{ state uint64 }

// NewDice seeds one.
func NewDice(seed uint64) *Dice {
	d := &Dice{seed}
	d.state = d.next() ^ seed<<32 // near seeds must not give sequences that are one another's tails
	return d
}

func (d *Dice) next() uint64 {
	d.state += 0x9e3779b97f4a7c15
	z := d.state
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return z ^ z>>31
}

// N is a number from 0 to n-1.
func (d *Dice) N(n int) int { return int(d.next() % uint64(n)) }

// Of tells yes once in n.
func (d *Dice) Of(n int) bool { return d.N(n) == 0 }

// Float is a number from 0 to 1.
func (d *Dice) Float() float64 { return float64(d.next()>>11) / (1 << 53) }

// pick draws one of a list.
func pick[T any](d *Dice, list ...T) T { return list[d.N(len(list))] }

// within draws a fact within bounds: exact, measured or an estimate.
func (d *Dice) within(b fact.Fact) fact.Fact {
	at := func() float64 { return round(b.Low + (b.High-b.Low)*d.Float()*d.Float()) }
	v := min(max(at(), b.Low), b.High)
	switch d.N(3) {
	case 0:
		return fact.Exactly(v)
	case 1:
		return fact.Fact{Value: v, Low: max(b.Low, v*0.95), High: min(b.High, v*1.05), From: fact.Measured,
			At: "2026-09-01"}
	}
	w := min(max(at(), b.Low), b.High)
	low, high := min(v, w), max(v, w)
	return fact.Est(low+(high-low)/3, low, high)
}

// maybe states a fact within bounds, or leaves it out.
func (d *Dice) maybe(b fact.Fact) *fact.Fact {
	if d.Of(3) {
		return nil
	}
	f := d.within(b)
	return &f
}

func round(v float64) float64 {
	step := math.Pow(10, math.Floor(math.Log10(max(math.Abs(v), 1e-9)))-2)
	return math.Round(v/step) * step
}
