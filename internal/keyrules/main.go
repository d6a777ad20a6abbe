// Command keyrules writes what tells a stream key from a text, as the JSON file the browser reads it from: patterns,
// words and characters are those of core/night. `make generate` keeps web/src/night/keyRules.json by it.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"strings"

	"eventether/core/night"
)

// pattern is a regular expression as JavaScript has it.
type pattern struct {
	Source string `json:"source"`
	Flags  string `json:"flags"`
}

func main() {
	if _, err := os.Stdout.Write(rules()); err != nil {
		fmt.Fprintln(os.Stderr, "keyrules:", err)
		os.Exit(1)
	}
}

// rules is the file.
func rules() []byte {
	out := struct {
		Patterns map[string]pattern `json:"patterns"`
		Stop     []string           `json:"stop"`
		Plain    [][3]rune          `json:"plain"`
	}{map[string]pattern{}, night.KeyStopWords(), night.PlainRunes()}
	for _, p := range night.KeyPatterns() {
		out.Patterns[p.Name] = forBrowser(p.Source)
	}
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	if err := enc.Encode(out); err != nil {
		panic(err) // it is made of texts and numbers
	}
	return b.Bytes()
}

// forBrowser is a pattern of package regexp as JavaScript has it. White space is the five characters package regexp
// means by it, and the flag for either case stands behind.
func forBrowser(source string) (out pattern) {
	source, folded := strings.CutPrefix(source, "(?i)")
	if folded {
		out.Flags = "i"
	}
	var b strings.Builder
	class := false
	for i := 0; i < len(source); i++ {
		switch c := source[i]; {
		case c == '\\' && source[i+1] == 's':
			if i++; class {
				b.WriteString(`\t\n\f\r `)
			} else {
				b.WriteString(`[\t\n\f\r ]`)
			}
		case c == '\\':
			b.WriteString(source[i : i+2])
			i++
		default:
			class = c == '[' || class && c != ']'
			b.WriteByte(c)
		}
	}
	out.Source = b.String()
	return out
}
