package night

import (
	"regexp"
	"slices"
	"strings"
)

// KeyPattern is one of the patterns that tell what looks like a stream key.
type KeyPattern struct {
	Name   string
	Source string // of a regular expression as package regexp has it
}

// KeyPatterns are the patterns WithoutKeys goes by, in the order of their names: the browser has the same, made from
// these.
func KeyPatterns() (out []KeyPattern) {
	for name, re := range map[string]*regexp.Regexp{"address": address, "secretIn": secretIn, "nameIs": nameIs,
		"flagged": flagged, "bearer": bearer, "jwt": jwt,
		"lines2": lines2, "groups": groups, "long": long, "long6": long6, "before": before, "word": word,
		"number": number, "hexOnly": hexOnly, "dated": dated, "simple": simple} {
		out = append(out, KeyPattern{name, re.String()})
	}
	slices.SortFunc(out, func(a, b KeyPattern) int { return strings.Compare(a.Name, b.Name) })
	return out
}

// KeyStopWords are the words that stand after a word for key and are none.
func KeyStopWords() []string { return slices.Clone(stop) }

// PlainRunes are the characters a text is looked through without, by what stands in their place: from, to, what it
// becomes; -1 for nothing.
func PlainRunes() [][3]rune { return slices.Clone(plainRunes) }
