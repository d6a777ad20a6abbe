// Package word answers: how is a value kept that is one of a few words?
//
// As its place among them, counted from 1, and nothing said as 0: a verdict over many feeds holds thousands, and a text
// is eight times as large. It is a word again wherever somebody reads it, JSON among them. The type under such a value
// is uint16, not uint8: go vet reports string(v) of it, which would be a character and not the word.
package word

import (
	"fmt"
	"strings"
)

// Of is the word of a value, empty for 0 and for what is none of them.
func Of[T ~uint16](words []string, v T) string {
	if v == 0 || int(v) > len(words) {
		return ""
	}
	return words[v-1]
}

// Read sets a value to what a text says, 0 for an empty one. The error names what it should have been.
func Read[T ~uint16](to *T, words []string, what string, text []byte) error {
	for i, w := range words {
		if w == string(text) {
			*to = T(i + 1)
			return nil
		}
	}
	if len(text) > 0 {
		return fmt.Errorf("%s: %q is none of %s", what, text, strings.Join(words, ", "))
	}
	*to = 0
	return nil
}
