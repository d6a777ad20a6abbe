// Package fact answers: what do we know about this number, how surely, and where from?
//
// A Fact is a value with a low and a high bound and a source. A plain JSON number is a fact taken as given by the user;
// the long form is {"value", "low", "high", "from", "at"}.
package fact

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// From says where a value comes from.
type From string

// The sources a fact can have, from surest to widest.
const (
	Given     From = "given"      // typed by the user, taken as it stands
	Measured  From = "measured"   // measured on the date in At
	DataSheet From = "data-sheet" // read in the maker's data sheet
	Standard  From = "standard"   // a published standard
	Practice  From = "practice"   // common practice of the trade
	Estimate  From = "estimate"   // a planning default, replaced by a measurement as soon as there is one
)

// Sources lists every From a document may name.
var Sources = []From{Given, Measured, DataSheet, Standard, Practice, Estimate}

// Fact is a number with bounds: Low <= Value <= High always holds after decoding. The unit belongs to the field that
// holds it.
type Fact struct {
	Value float64
	Low   float64
	High  float64
	From  From
	At    string // date of a measurement, "2026-09-01", or empty
}

// Exactly is a fact without spread, as the user gave it.
func Exactly(v float64) Fact { return Fact{Value: v, Low: v, High: v, From: Given} }

// Est is a planning estimate with its bounds.
func Est(v, low, high float64) Fact { return Fact{Value: v, Low: low, High: high, From: Estimate} }

// Known is a fact without spread from a named source.
func Known(v float64, from From) Fact { return Fact{Value: v, Low: v, High: v, From: from} }

// Tolerance is the one share by which a load may pass its limit in floating-point sums and still count as equal to it:
// 440 of 440 fits, whatever order the 440 were added up in.
const Tolerance = 1e-9

// Over tells whether a load is past its limit. Every comparison of sums against limits goes by it.
func Over(load, limit float64) bool {
	return load > limit+Tolerance*max(1, math.Abs(limit))
}

// Narrow tells whether the bounds leave no room.
func (f Fact) Narrow() bool { return f.Low == f.High }

// Check reports what is wrong with the fact, or nil.
func (f Fact) Check() error {
	for _, n := range []float64{f.Value, f.Low, f.High} {
		if math.IsNaN(n) || math.IsInf(n, 0) {
			return fmt.Errorf("%v is not a number that can be worked with", n)
		}
	}
	if f.Low > f.Value || f.Value > f.High {
		return fmt.Errorf("bounds must enclose the value: low %v, value %v, high %v", num(f.Low), num(f.Value),
			num(f.High))
	}
	for _, s := range Sources {
		if f.From == s {
			return nil
		}
	}
	return fmt.Errorf("from %q is not one of %v", f.From, Sources)
}

type long struct {
	Value *float64 `json:"value"`
	Low   *float64 `json:"low,omitempty"`
	High  *float64 `json:"high,omitempty"`
	From  From     `json:"from,omitempty"`
	At    string   `json:"at,omitempty"`
}

// MarshalJSON writes a given fact without spread as a plain number, any other in the long form.
func (f Fact) MarshalJSON() ([]byte, error) {
	if f.From == Given && f.Narrow() && f.At == "" {
		return json.Marshal(f.Value)
	}
	l := long{Value: &f.Value, From: f.From, At: f.At}
	if !f.Narrow() {
		l.Low, l.High = &f.Low, &f.High
	}
	return json.Marshal(l)
}

// UnmarshalJSON reads both forms. A missing bound is the value itself; a missing source is "given".
func (f *Fact) UnmarshalJSON(data []byte) error {
	if len(data) > 0 && data[0] != '{' {
		v, err := strconv.ParseFloat(string(data), 64)
		if err != nil {
			return fmt.Errorf("%s is not a number", data)
		}
		*f = Exactly(v)
		return nil
	}
	var l long
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&l); err != nil {
		return err
	}
	if l.Value == nil {
		return fmt.Errorf("value is missing")
	}
	*f = Fact{Value: *l.Value, Low: *l.Value, High: *l.Value, From: l.From, At: l.At}
	if l.Low != nil {
		f.Low = *l.Low
	}
	if l.High != nil {
		f.High = *l.High
	}
	if f.From == "" {
		f.From = Given
	}
	return f.Check()
}

func num(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// String is the fact in words: 6.5 (5 to 8), estimate; 6.1, measured 2026-09-01.
func (f Fact) String() string {
	s := num(f.Value)
	if !f.Narrow() {
		s += " (" + num(f.Low) + " to " + num(f.High) + ")"
	}
	s += ", " + strings.ReplaceAll(string(f.From), "-", " ")
	if f.At != "" {
		s += " " + f.At
	}
	return s
}
