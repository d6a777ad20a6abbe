// Package say answers: how do people say a number, a span, a count, a list?
package say

import (
	"math"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/limit"
)

// Round2 leaves three figures at most.
func Round2(v float64) float64 {
	switch {
	case v >= 100:
		return Whole(v)
	case v >= 10:
		return float64(int(v*10+0.5)) / 10
	}
	return float64(int(v*100+0.5)) / 100
}

// Whole rounds to whole numbers.
func Whole(v float64) float64 { return float64(int(v + 0.5)) }

// Mega scales hertz and bytes to the millions limits are shown in.
const Mega = 1e6

// Number writes a number as people do: whole when it is, else with three significant digits at least.
func Number(v float64) string {
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

// Span writes one number, or both ends of a range, with its unit.
func Span(low, high float64, unit string) string {
	if low > high {
		low, high = high, low
	}
	if unit == "min" { // nobody counts seconds of a battery, and none are promised
		low, high = minutes(low), minutes(high)
	}
	unit = lang.Text(unit)
	a, b := Number(low), Number(high)
	if a == b {
		return strings.TrimSpace(a + " " + unit)
	}
	if high >= limit.Never {
		return strings.TrimSpace(a + " " + unit + lang.Text(" or more"))
	}
	return strings.TrimSpace(lang.Text("%s to %s", a, b) + " " + unit)
}

// minutes rounds down to what people can use: tenths, whole minutes from 100 on.
func minutes(v float64) float64 {
	if v >= 100 {
		return math.Floor(v)
	}
	return math.Floor(v*10+1e-6) / 10
}

// Percent writes a ratio as a share of the limit.
func Percent(r limit.Bounds) string {
	if r.High >= limit.Never {
		return lang.Text("past any limit")
	}
	low, high := math.Round(r.Low*100), math.Round(r.High*100)
	if low == high {
		return strconv.Itoa(int(low)) + " %"
	}
	return lang.Text("%s to %s", strconv.Itoa(int(low)), strconv.Itoa(int(high))) + " %"
}

var numerals = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}

// Count writes "one move", "three moves".
func Count(n int, one, many string) string {
	word := strconv.Itoa(n)
	if n >= 0 && n < len(numerals) {
		word = lang.Text(numerals[n])
	}
	if n == 1 {
		return word + " " + lang.Text(one)
	}
	return word + " " + lang.Text(many)
}

// List joins words with commas.
func List(words []string) string { return strings.Join(words, ", ") }

// Plain is a number as edits write it: a point, and no blanks.
func Plain(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// Sentence begins with a capital.
func Sentence(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Round1 rounds to tenths.
func Round1(v float64) float64 { return float64(int(v*10+0.5)) / 10 }
