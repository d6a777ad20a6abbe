// Package picture answers: how large is a picture, how often does it come, how many bytes is it, and does it fit the
// programme's beat?
package picture

import (
	"cmp"
	"fmt"
	"math"
	"math/bits"
	"strconv"
	"strings"
)

// Rate is an exact number of frames a second, Num/Den in lowest terms. The zero Rate means "not set".
type Rate struct {
	Num, Den int64
}

// MaxRate and MinRate bound the rates a document may state, in frames a second: no picture that goes to air comes less
// than once a second.
const (
	MaxRate = 1000
	MinRate = 1
)

// NewRate reduces num/den to lowest terms.
func NewRate(num, den int64) Rate {
	if num <= 0 || den <= 0 {
		return Rate{}
	}
	g := gcd(num, den)
	return Rate{num / g, den / g}
}

// R is NewRate(num, 1).
func R(num int64) Rate { return Rate{num, 1} }

// ParseRate reads "30", "30000/1001" or "60/1". Decimals are refused: 29.97 is a rounded name, not a rate.
func ParseRate(s string) (Rate, error) {
	r, ok := fraction(s)
	if !ok {
		return Rate{}, fmt.Errorf("rate %q: want a whole number or an exact fraction such as \"30000/1001\"%s", s,
			rateHint(s))
	}
	if r.Num > MaxRate*r.Den {
		return Rate{}, fmt.Errorf("rate %q: more than %d frames a second", s, MaxRate)
	}
	if r.Num < MinRate*r.Den {
		return Rate{}, fmt.Errorf("rate %q: less than %d frame a second", s, MinRate)
	}
	return r, nil
}

// fraction reads a positive whole number or fraction, each part below 2³¹, in lowest terms.
func fraction(s string) (Rate, bool) {
	numText, denText, has := strings.Cut(s, "/")
	if !has {
		denText = "1"
	}
	num, err1 := strconv.ParseInt(numText, 10, 32)
	den, err2 := strconv.ParseInt(denText, 10, 32)
	return NewRate(num, den), err1 == nil && err2 == nil && num > 0 && den > 0
}

func rateHint(s string) string {
	switch strings.TrimSpace(s) {
	case "23.976", "23.98":
		return " (23.976 is 24000/1001)"
	case "29.97":
		return " (29.97 is 30000/1001)"
	case "59.94":
		return " (59.94 is 60000/1001)"
	}
	return ""
}

// String is the exact fraction, "30000/1001" or "30".
func (r Rate) String() string {
	if r.Den == 1 {
		return strconv.FormatInt(r.Num, 10)
	}
	return strconv.FormatInt(r.Num, 10) + "/" + strconv.FormatInt(r.Den, 10)
}

// Name is what people say: 29.97, 59.94, 23.976, 25.
func (r Rate) Name() string {
	if r.Den == 1 {
		return strconv.FormatInt(r.Num, 10)
	}
	digits := 2
	if r.Num == 24000 {
		digits = 3
	}
	return strings.TrimRight(strings.TrimRight(strconv.FormatFloat(r.Float(), 'f', digits, 64), "0"), ".")
}

// Float is the rate in frames a second.
func (r Rate) Float() float64 {
	if r.Den == 0 {
		return 0
	}
	return float64(r.Num) / float64(r.Den)
}

// IsZero tells whether the rate is not set.
func (r Rate) IsZero() bool { return r.Num == 0 }

// Cmp compares two rates exactly: -1, 0 or 1.
func (r Rate) Cmp(o Rate) int {
	aHigh, aLow := bits.Mul64(uint64(r.Num), uint64(o.Den))
	bHigh, bLow := bits.Mul64(uint64(o.Num), uint64(r.Den))
	return cmp.Or(cmp.Compare(aHigh, bHigh), cmp.Compare(aLow, bLow))
}

// Part is the largest whole part of a rate (r, r/2, r/3, …) that is at most most, allowing two parts in a thousand so
// that 60000/1001 counts as 60. Both rates must be set.
func (r Rate) Part(most Rate) Rate {
	n := int64(math.Ceil(r.Float() / (most.Float() * 1.002)))
	if n <= 1 {
		return r
	}
	return NewRate(r.Num, r.Den*n)
}

// Nominal is the whole rate people mean, 30 for 30000/1001.
func (r Rate) Nominal() int64 {
	if r.Den == 0 {
		return 0
	}
	return (r.Num + r.Den/2) / r.Den
}

// MarshalText writes the exact fraction.
func (r Rate) MarshalText() ([]byte, error) {
	if r.IsZero() {
		return []byte(""), nil
	}
	return []byte(r.String()), nil
}

// UnmarshalText reads what ParseRate reads.
func (r *Rate) UnmarshalText(text []byte) error {
	if len(text) == 0 {
		*r = Rate{}
		return nil
	}
	parsed, err := ParseRate(string(text))
	if err == nil {
		*r = parsed
	}
	return err
}

func gcd(a, b int64) int64 {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}
