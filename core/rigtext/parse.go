package rigtext

import (
	"encoding/json"
	"regexp"
	"strings"

	"eventether/core/lang"
)

// Mark is what is not understood in a text, at its place, with what could be said there.
type Mark struct {
	Line  int      `json:"line" doc:"Counted from 1"`
	From  int      `json:"from" doc:"Characters before the place"`
	To    int      `json:"to" doc:"Characters before what comes behind it"`
	Text  string   `json:"text" doc:"What is wrong, in words"`
	Wants []string `json:"wants" doc:"What could be said there"`
}

// InWords is a problem with what could be said instead.
func (p *Mark) InWords() string {
	if len(p.Wants) == 0 {
		return p.Text
	}
	return p.Text + lang.Text("; it could be: %s", strings.Join(p.Wants, ", "))
}

// LongestLine is how many characters a line that joins things may have.
const LongestLine = 2000

// longestFact is how many characters a line with a fact may have: a list of pictures is long.
const longestFact = 200_000

// span is a piece of a line: its text without blanks around it, and where that stands in bytes.
type span struct {
	text     string
	from, to int
}

// link is how an element hangs on the one before it.
type link byte

const (
	first link = iota
	leads      // >
	power      // <
)

// element is one part of a chain.
type element struct {
	span
	by    link
	label string // as typed, without quotes
	sheet string // in brackets; "" where none is said
	rest  span   // behind the brackets: a socket
	quoted,
	bracket bool
}

// statement is one line that says something.
type statement struct {
	line  int
	text  string
	key   *pair // of a fact
	at    span  // its value
	chain []element
	voice bool
	sheet string // of the head of a sheet
	kind  string
	below bool // a fact of the line above
}

var (
	factLine  = regexp.MustCompile(`^([A-Za-z][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_+-]+)*)\s*:(?:\s+|$)(.*)$`)
	sheetLine = regexp.MustCompile(`^\[("(?:[^"\\]|\\.)*"|[^\]>"]+)\]\s+is\s+(?:a|an)\s+(\S+)$`)
	quoteMark = regexp.MustCompile(`^(?:> ?)+`)
	topKeys   = map[string]bool{"rig": true, "notes": true, "show": true, "uplink": true, "ceiling": true,
		"workMinutes": true, "sound": true}
)

// parse takes a text apart into lines that say something; places are in the text as it came.
func parse(text string) (out []statement, problems []Mark) {
	text = strings.TrimPrefix(text, "\ufeff")
	lines := strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n")
	for n, line := range lines {
		s := statement{line: n + 1, text: line}
		bad := func(from, to int, format string, args ...string) {
			problems = append(problems, Mark{n + 1, runes(line, from), runes(line, to), lang.Text(format, args...),
				[]string{}})
		}
		body := strings.TrimRight(line, " \t")
		lead := len(body) - len(strings.TrimLeft(body, " \t"))
		if m := quoteMark.FindString(body); m != "" { // out of a mail
			lead = len(m)
			inner := len(body[lead:]) - len(strings.TrimLeft(body[lead:], " \t"))
			s.below = inner >= 2
			lead += inner
		} else {
			s.below = lead >= 2 || strings.HasPrefix(body, "\t")
		}
		body = body[lead:]
		switch {
		case body == "" || strings.HasPrefix(body, "# ") || body == "#":
			continue
		case len(body) > longestFact:
			bad(0, len(line), "the line is longer than %s characters", "200000")
			continue
		}
		if m := factLine.FindStringSubmatchIndex(body); m != nil && (s.below || topKeys[headOf(body[m[2]:m[3]])]) {
			s.key = &pair{body[m[2]:m[3]], body[m[4]:m[5]]}
			s.at = span{body, lead, lead + len(body)}
			out = append(out, s)
			continue
		}
		if len([]rune(body)) > LongestLine {
			bad(0, len(line), "the line is longer than %s characters", "2000")
			continue
		}
		if s.below {
			bad(lead, len(line), "a fact of the line above is written as its name, a colon, its value")
			continue
		}
		if m := sheetLine.FindStringSubmatch(body); m != nil {
			s.sheet, s.kind = unquoted(m[1]), m[2]
			s.at = span{body, lead, lead + len(body)}
			out = append(out, s)
			continue
		}
		if rest, ok := strings.CutPrefix(body, "voice "); ok {
			s.voice = true
			lead += len("voice ")
			body = rest
		}
		var why *Mark
		if s.chain, why = chain(line, body, lead); why != nil {
			why.Line = n + 1
			problems = append(problems, *why)
			continue
		}
		out = append(out, s)
	}
	return out, problems
}

func headOf(path string) string {
	head, _, _ := strings.Cut(path, ".")
	return head
}

// runes is how many characters stand before a byte of a line.
func runes(line string, at int) int { return len([]rune(line[:min(at, len(line))])) }

// chain takes a line that joins things apart at > and <, but within quotes and brackets.
func chain(line, body string, lead int) (out []element, why *Mark) {
	start, by, quoted, bracket := 0, first, false, false
	cut := func(end int) {
		raw := body[start:end]
		trimmed := strings.TrimSpace(raw)
		from := start + strings.Index(raw, trimmed)
		out = append(out, element{span: span{trimmed, lead + from, lead + from + len(trimmed)}, by: by})
	}
	for i := 0; i < len(body); i++ {
		switch c := body[i]; {
		case c == '\\' && quoted:
			i++
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == '[':
			bracket = true
		case c == ']':
			bracket = false
		case bracket:
		case c == '>' || c == '<':
			cut(i)
			start, by = i+1, leads
			if c == '<' {
				by = power
			}
		}
	}
	if quoted || bracket {
		return nil, &Mark{From: runes(line, lead+start), To: runes(line, len(line)), Text: unclosed(quoted),
			Wants: []string{}}
	}
	cut(len(body))
	for i := range out {
		e := &out[i]
		if e.text == "" {
			return nil, &Mark{From: runes(line, max(0, e.from-1)), To: runes(line, e.to+1),
				Text: lang.Text("nothing stands here"), Wants: []string{}}
		}
		e.parts()
	}
	return out, nil
}

func unclosed(quoted bool) string {
	if quoted {
		return lang.Text("the quotes are not closed")
	}
	return lang.Text("the bracket is not closed")
}

// parts takes an element apart: a name, in quotes or not, a sheet in brackets, a socket.
func (e *element) parts() {
	text, from := e.text, e.from
	if n := quotedLen(text); n > 0 {
		e.label, e.quoted = unquoted(text[:n]), true
		text, from = text[n:], from+n
	}
	open := strings.Index(text, "[")
	if open < 0 {
		if e.rest = trimmed(text, from); !e.quoted {
			e.label, e.rest = e.text, span{}
		}
		return
	}
	if !e.quoted {
		e.label = strings.TrimSpace(text[:open])
	}
	inside := text[open+1:]
	skip := len(inside) - len(strings.TrimLeft(inside, " "))
	skip += quotedLen(inside[skip:])
	end := strings.Index(inside[skip:], "]") // there is one: chain has seen to it
	e.sheet, e.bracket = unquoted(strings.TrimSpace(inside[:skip+end])), true
	n := open + 1 + skip + end + 1
	e.rest = trimmed(text[n:], from+n)
}

// quotedLen is how much of a text is a name in quotes; 0 where it begins with none.
func quotedLen(text string) int {
	if !strings.HasPrefix(text, `"`) {
		return 0
	}
	for i := 1; i < len(text); i++ {
		switch text[i] {
		case '\\':
			i++
		case '"':
			return i + 1
		}
	}
	return 0
}

// unquoted is a name without the quotes it may stand in; within them it is written as in JSON.
func unquoted(text string) string {
	if quotedLen(text) != len(text) || text == "" {
		return text
	}
	var s string
	if json.Unmarshal([]byte(text), &s) != nil {
		return text[1 : len(text)-1]
	}
	return s
}

func trimmed(text string, from int) span {
	t := strings.TrimSpace(text)
	at := from + strings.Index(text, t)
	return span{t, at, at + len(t)}
}
