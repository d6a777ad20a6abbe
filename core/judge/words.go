package judge

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"eventether/core/picture"
)

// num writes a number as people do: whole when it is, else with three significant digits at least.
func num(v float64) string {
	a := math.Abs(v)
	digits := 3
	switch {
	case v == math.Trunc(v) && a < 1e15, a >= 1000:
		digits = 0
	case a >= 100:
		digits = 1
	case a >= 1:
		digits = 2
	}
	s := strconv.FormatFloat(v, 'f', digits, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}

// span writes one number, or both ends of a range, with its unit.
func span(low, high float64, unit string) string {
	if low > high {
		low, high = high, low
	}
	if unit == "min" { // nobody counts seconds of a battery, and none are promised
		low, high = minutes(low), minutes(high)
	}
	a, b := num(low), num(high)
	if a == b {
		return strings.TrimSpace(a + " " + unit)
	}
	if high >= never {
		return strings.TrimSpace(a + " " + unit + " or more")
	}
	return strings.TrimSpace(a + " to " + b + " " + unit)
}

// minutes rounds down to what people can use: tenths, whole minutes from 100 on.
func minutes(v float64) float64 {
	if v >= 100 {
		return math.Floor(v)
	}
	return math.Floor(v*10+1e-6) / 10
}

// The same for a pass, which writes nothing when it is quiet.

func (p *pass) num(v float64) string {
	if p.quiet {
		return ""
	}
	return num(v)
}

func (p *pass) span(low, high float64, unit string) string {
	if p.quiet {
		return ""
	}
	return span(low, high, unit)
}

func (p *pass) name(m picture.Mode) string {
	if p.quiet {
		return ""
	}
	return m.Name()
}

func (p *pass) sizeName(w, h int) string {
	if p.quiet {
		return ""
	}
	return picture.SizeName(w, h)
}

// Percent writes a ratio as a share of the limit.
func Percent(r Bounds) string {
	if r.High >= never {
		return "past any limit"
	}
	low, high := math.Round(r.Low*100), math.Round(r.High*100)
	if low == high {
		return fmt.Sprintf("%.0f %%", low)
	}
	return fmt.Sprintf("%.0f to %.0f %%", low, high)
}

var numerals = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}

// count writes "one move", "three moves".
func count(n int, one, many string) string {
	word := strconv.Itoa(n)
	if n >= 0 && n < len(numerals) {
		word = numerals[n]
	}
	if n == 1 {
		return word + " " + one
	}
	return word + " " + many
}

// list joins words with commas.
func list(words []string) string { return strings.Join(words, ", ") }
