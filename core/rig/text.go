package rig

import (
	"fmt"
	"reflect"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
)

// TextProblem tells what keeps a text from being kept: bytes that are no UTF-8, control characters, marks that turn the
// direction of what follows, or nothing to see at all. "" when nothing does; the empty text is no problem here.
func TextProblem(s string) string {
	if atAGlance(s) {
		return ""
	}
	if !utf8.ValidString(s) {
		return "is not valid UTF-8"
	}
	seen := s == ""
	for _, c := range s {
		switch {
		case c < ' ' && c != '\n' && c != '\t', c >= 0x7f && c <= 0x9f:
			return fmt.Sprintf("holds the control character %U: plain text only", c)
		case c >= 0x202a && c <= 0x202e, c >= 0x2066 && c <= 0x2069:
			return fmt.Sprintf("holds %U, which turns the direction of what follows: write it without", c)
		case c == 0xfffe, c == 0xffff:
			return fmt.Sprintf("holds %U, which is no character", c)
		}
		seen = seen || !invisible(c)
	}
	if !seen {
		return "has nothing to see in it: want letters, digits or signs"
	}
	return ""
}

// atAGlance tells whether a text is one of which there is nothing to say at a glance: letters, digits and signs of
// ASCII, or nothing.
func atAGlance(s string) bool {
	seen := s == ""
	for i := range len(s) {
		if c := s[i]; c < ' ' || c > '~' {
			return false
		} else if c > ' ' {
			seen = true
		}
	}
	return seen
}

func invisible(c rune) bool {
	return unicode.IsSpace(c) || unicode.Is(unicode.Cf, c) || unicode.Is(unicode.Mn, c) || c == 0x115f || c == 0x3164
}

var (
	factOf     = reflect.TypeFor[fact.Fact]()
	rateOf     = reflect.TypeFor[picture.Rate]()
	exposureOf = reflect.TypeFor[picture.Exposure]()
)

// Texts lists the problems of every text in a document, whatever its type: one check for all, keys of lists by id
// included.
func Texts(at string, doc any) (out []Problem) {
	if v := reflect.ValueOf(doc); !sound(v) { // where each text stands is of interest only then
		texts(at, v, &out)
	}
	return out
}

// sound tells whether there is nothing to say of any text in a document.
func sound(v reflect.Value) bool {
	switch v.Kind() {
	case reflect.String:
		return TextProblem(v.String()) == ""
	case reflect.Pointer:
		return v.IsNil() || sound(v.Elem())
	case reflect.Slice:
		for i := range v.Len() {
			if !sound(v.Index(i)) {
				return false
			}
		}
	case reflect.Map:
		for i := v.MapRange(); i.Next(); {
			if !sound(i.Key()) || !sound(i.Value()) {
				return false
			}
		}
	case reflect.Struct:
		if t := v.Type(); t == rateOf || t == exposureOf {
			return true
		}
		for i := range v.NumField() {
			if !sound(v.Field(i)) {
				return false
			}
		}
	}
	return true
}

func texts(at string, v reflect.Value, out *[]Problem) {
	switch v.Kind() {
	case reflect.String:
		if p := TextProblem(v.String()); p != "" {
			*out = append(*out, Problem{at, p})
		}
	case reflect.Pointer:
		if !v.IsNil() {
			texts(at, v.Elem(), out)
		}
	case reflect.Slice:
		for i := range v.Len() {
			texts(fmt.Sprintf("%s[%d]", at, i), v.Index(i), out)
		}
	case reflect.Map:
		for _, k := range slices.SortedFunc(slices.Values(v.MapKeys()), func(a, b reflect.Value) int {
			return strings.Compare(a.String(), b.String())
		}) {
			if p := TextProblem(k.String()); p != "" {
				*out = append(*out, Problem{at, fmt.Sprintf("the name %q %s", k.String(), p)})
			}
			texts(at+"."+k.String(), v.MapIndex(k), out)
		}
	case reflect.Struct:
		switch v.Type() {
		case rateOf, exposureOf:
			return
		case factOf:
			texts(at+".at", v.FieldByName("At"), out)
			return
		}
		for i := range v.NumField() {
			f := v.Type().Field(i)
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if name == "" {
				texts(at, v.Field(i), out) // an embedded part
				continue
			}
			texts(strings.TrimPrefix(at+"."+name, "."), v.Field(i), out)
		}
	}
}

// isID tells whether a text is an id as documents have them: small letters, digits, hyphens within.
func isID(s string) bool {
	for i := range len(s) {
		if c := s[i]; !(c >= 'a' && c <= 'z' || c >= '0' && c <= '9' || c == '-' && i > 0) {
			return false
		}
	}
	return s != ""
}

// LongestID is the longest id a document may name.
const LongestID = 60

// FreshID is a new id from a stem: the stem itself, or with a number behind it, cut so that it stays an id. taken tells
// which are not free.
func FreshID(stem string, taken func(string) bool) string {
	if len(stem) > LongestID || !isID(stem) {
		stem = gear.Slug(stem)
	}
	for n := 1; ; n++ {
		id := stem
		if n > 1 {
			tail := fmt.Sprintf("-%d", n)
			id = strings.TrimRight(stem[:min(len(stem), LongestID-len(tail))], "-") + tail
		}
		if !taken(id) {
			return id
		}
	}
}
