// Package lang answers: what does a text say in the language in use? Texts are written in English where they are made;
// another language is one file that has a text of its own for each.
package lang

import (
	"encoding/json"
	"fmt"
	"sort"
	"strings"
)

// Language holds the texts of a language by the English ones; what is missing stays English.
type Language map[string]string

// Read reads a language: a JSON object of English texts, each with the one that stands for it. A text needs as many %s
// as the English one; an empty one stays English.
func Read(data []byte) (Language, error) {
	var l Language
	if err := json.Unmarshal(data, &l); err != nil {
		return nil, fmt.Errorf("a language is a JSON object of texts, such as docs/texts.json: %w", err)
	}
	english := make([]string, 0, len(l))
	for text := range l {
		english = append(english, text)
	}
	sort.Strings(english)
	for _, text := range english {
		to := l[text]
		if to == "" {
			delete(l, text)
			continue
		}
		if want, have := strings.Count(text, "%s"), strings.Count(to, "%s"); want != have {
			return nil, fmt.Errorf("the text for %q has %d places for names and figures (%%s), and needs %d: %q",
				text, have, want, to)
		}
	}
	return l, nil
}

// in is the language in use; nil for English.
var in Language

// Use sets the language of every text made from now on. It is called once, before anything is judged.
func Use(c Language) { in = c }

// Text is a text with others in the places of %s, in their order.
func Text(text string, args ...string) string {
	if t, ok := in[text]; ok {
		text = t
	}
	if len(args) == 0 {
		return text
	}
	size := len(text)
	for _, a := range args {
		size += len(a)
	}
	b := make([]byte, 0, size)
	for _, a := range args {
		at := strings.Index(text, "%s")
		if at < 0 {
			break
		}
		b = append(append(b, text[:at]...), a...)
		text = text[at+2:]
	}
	return string(append(b, text...))
}
