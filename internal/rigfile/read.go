// Package rigfile reads and writes rig files: JSON checked against the JSON Schema made from the Go types, then against
// what only the whole document shows. It lists every problem by place, in words, and changes nothing.
package rigfile

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/rig"
)

// MaxBytes is the largest rig file that is read. A rig of 200 feeds is about 400 kB.
const MaxBytes = 4 << 20

// Unusable says why a document cannot be used.
type Unusable struct {
	Problems []rig.Problem
}

// Error joins the problems, one a line.
func (u *Unusable) Error() string {
	lines := make([]string, len(u.Problems))
	for i, p := range u.Problems {
		lines[i] = p.String()
	}
	return strings.Join(lines, "\n")
}

func unusable(place, format string, args ...any) *Unusable {
	return &Unusable{[]rig.Problem{{Place: place, Text: fmt.Sprintf(format, args...)}}}
}

// MostProblems is how many problems of a document are named; the rest are counted.
const MostProblems = 100

// bounded names the first problems and counts the rest.
func bounded(problems []rig.Problem) *Unusable {
	if more := len(problems) - MostProblems; more > 0 {
		problems = append(slices.Clone(problems[:MostProblems]),
			rig.Problem{Text: fmt.Sprintf("and %d more problems", more)})
	}
	return &Unusable{problems}
}

// Read reads a rig document. The error is an *Unusable with every problem found, up to MostProblems by name.
func Read(data []byte) (*rig.Rig, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if len(data) > MaxBytes {
		return nil, tooLarge()
	}
	tree, problems, err := open(data)
	if err != nil {
		return nil, err
	}
	return read(data, tree, problems)
}

// open goes over a document and parses it. One that is out of all bounds is refused before any more is done with it;
// names that stand twice are problems. Most documents are neither, which takes no more than counting to see.
func open(data []byte) (tree any, problems []rig.Problem, err error) {
	names, fine := outline(data)
	if !fine {
		if problems, err = scan(data); err != nil {
			return nil, nil, err
		}
	}
	if tree, err = parse(data); err != nil {
		return nil, nil, err
	}
	if fine && names != namesIn(tree) {
		problems, err = scan(data)
	}
	return tree, problems, err
}

// outline counts the names in the objects of a document, and tells whether it surely stays within the bounds scan
// knows. Of what is no JSON the count means nothing.
func outline(data []byte) (names int, fine bool) {
	var open [deepest]struct {
		list   bool
		commas int
	}
	depth, commas, opened := 0, 0, 0
	for i := 0; i < len(data); i++ {
		switch c := data[i]; c {
		case '"':
			for i++; i < len(data) && data[i] != '"'; i++ {
				if data[i] == '\\' {
					i++
				}
			}
		case ':':
			names++
		case ',':
			if commas++; depth > 0 {
				if at := &open[depth-1]; at.list {
					if at.commas++; at.commas >= longestList {
						return 0, false
					}
				}
			}
		case '{', '[':
			if depth == deepest {
				return 0, false
			}
			open[depth].list, open[depth].commas = c == '[', 0
			depth++
			opened++
		case '}', ']':
			depth = max(depth-1, 0)
		}
	}
	// A value is the first of a list or object, or stands behind a comma or a name; lists and objects are closed
	// besides.
	return names, 2*names+commas+2*opened+1 <= mostValues
}

// namesIn counts the names in the objects of what was parsed, where each stands once.
func namesIn(tree any) (n int) {
	switch v := tree.(type) {
	case map[string]any:
		n = len(v)
		for _, e := range v {
			n += namesIn(e)
		}
	case []any:
		for _, e := range v {
			n += namesIn(e)
		}
	}
	return n
}

func tooLarge() error { return unusable("", "the file is larger than %d MB: no rig is", MaxBytes>>20) }

// read makes a rig of a document that has been gone over and parsed.
func read(data []byte, tree any, problems []rig.Problem) (*rig.Rig, error) {
	doc, ok := tree.(map[string]any)
	if !ok {
		return nil, unusable("", "want a JSON object with \"format\": %q, got %s", rig.Format, kindOf(tree))
	}
	if err := version(doc); err != nil {
		return nil, err
	}
	problems = append(problems, against(rigSchema, doc)...)
	if len(problems) > 0 {
		return nil, bounded(problems)
	}
	var r rig.Rig
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&r); err != nil {
		return nil, unusable("", "%s", err)
	}
	if r.Items == nil {
		r.Items = []rig.Item{}
	}
	if r.Leads == nil {
		r.Leads = []rig.Lead{}
	}
	if problems := append(rig.Texts("", &r), rig.Check(&r)...); len(problems) > 0 {
		return nil, bounded(problems)
	}
	rig.Straight(&r)
	return &r, nil
}

// Write gives the canonical form of a rig: fixed order of fields, two blanks, a newline at the end.
func Write(r *rig.Rig) ([]byte, error) { return encode(r) }

func encode(v any) ([]byte, error) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	if err := enc.Encode(v); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

func parse(data []byte) (any, error) {
	if i := bytes.IndexByte(data, 0); i >= 0 {
		return nil, unusable(place(data, int64(i)), "this is not text: a rig file is JSON")
	}
	var tree any
	dec := json.NewDecoder(bytes.NewReader(data))
	err := dec.Decode(&tree)
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &syntax):
		return nil, unusable(place(data, syntax.Offset), "this is not JSON: %s", syntax.Error())
	case errors.Is(err, io.EOF):
		return nil, unusable("", "the file is empty: want a JSON object with \"format\": %q", rig.Format)
	case errors.Is(err, io.ErrUnexpectedEOF):
		return nil, unusable(place(data, int64(len(data))), "the file ends in the middle: it may have been cut off")
	case err != nil:
		return nil, unusable("", "this is not JSON: %s", err)
	}
	if _, err := dec.Token(); err != io.EOF {
		return nil, unusable(place(data, dec.InputOffset()),
			"something follows the end of the rig: want one JSON object")
	}
	return tree, nil
}

func place(data []byte, offset int64) string {
	offset = min(offset, int64(len(data)))
	return fmt.Sprintf("line %d", 1+bytes.Count(data[:offset], []byte("\n")))
}

// version refuses other kinds of file and newer formats before anything else is said about them.
func version(doc map[string]any) error {
	text, ok := doc["format"].(string)
	number, isRig := strings.CutPrefix(text, rig.FormatPrefix)
	n, err := strconv.Atoi(number)
	switch {
	case !ok:
		return unusable("format", "is missing: a rig file says \"format\": %q", rig.Format)
	case !isRig || err != nil || n < 1:
		return unusable("format", "%q is not a rig file: want %q", text, rig.Format)
	case n > rig.FormatNumber:
		return unusable("format", "%q is newer than this version, which reads up to %q: update to open it", text,
			rig.Format)
	}
	return nil
}

// Bounds of any document, far above what a rig needs: how long a list may be, how deep lists and objects may nest, and
// how many values there may be in all.
const (
	longestList = 4000
	deepest     = 40
	mostValues  = 400_000
)

// scan goes over a document once, without keeping it: it refuses one that is out of all bounds before any more is done
// with it, and finds names that stand twice in one object, of which the first would be dropped silently.
func scan(data []byte) (out []rig.Problem, err error) {
	dec := json.NewDecoder(bytes.NewReader(data))
	type level struct {
		keys  map[string]bool
		isKey bool
		n     int
	}
	var stack []level
	line, at, values, twice := 1, int64(0), 0, 0
	where := func() string { // lines are counted on, never from the start again
		now := min(dec.InputOffset(), int64(len(data)))
		line += bytes.Count(data[at:now], []byte("\n"))
		at = now
		return fmt.Sprintf("line %d", line)
	}
	for {
		tok, err := dec.Token()
		if err != nil {
			if more := twice - MostProblems; more > 0 {
				out = append(out, rig.Problem{Text: fmt.Sprintf("and %d more names that stand twice", more)})
			}
			return out, nil // what is no JSON is said in better words by parse
		}
		top := len(stack) - 1
		if values++; values > mostValues {
			return nil, unusable(where(), "more than %d values: no rig has so many", mostValues)
		}
		if d, ok := tok.(json.Delim); !ok || d == '{' || d == '[' {
			if top >= 0 && stack[top].keys == nil {
				if stack[top].n++; stack[top].n > longestList {
					return nil, unusable(where(), "a list of more than %d: no list of a rig is so long", longestList)
				}
			}
		}
		switch t := tok.(type) {
		case json.Delim:
			switch t {
			case '{', '[':
				if len(stack) == deepest {
					return nil, unusable(where(),
						"more than %d lists and objects within each other: no rig nests so deep", deepest)
				}
				l := level{}
				if t == '{' {
					l = level{keys: map[string]bool{}, isKey: true}
				}
				stack = append(stack, l)
				continue
			}
			stack = stack[:top]
			top--
		case string:
			if top >= 0 && stack[top].keys != nil && stack[top].isKey {
				if stack[top].keys[t] {
					if twice++; twice <= MostProblems {
						out = append(out,
							rig.Problem{Place: where(), Text: fmt.Sprintf("%q stands twice in one object", clip(t))})
					}
				}
				stack[top].keys[t] = true
				stack[top].isKey = false
				continue
			}
		}
		if top >= 0 && stack[top].keys != nil {
			stack[top].isKey = true
		}
	}
}

// within refuses a document that is out of the bounds scan knows; it cannot name a line of what nobody wrote.
func within(tree any) error {
	values := 0
	var walk func(v any, depth int) error
	walk = func(v any, depth int) error {
		if values++; values > mostValues {
			return unusable("", "more than %d values: no rig has so many", mostValues)
		}
		switch v := v.(type) {
		case map[string]any:
			if depth == deepest {
				return unusable("", "more than %d lists and objects within each other: no rig nests so deep", deepest)
			}
			values += len(v) // the names
			for _, e := range v {
				if err := walk(e, depth+1); err != nil {
					return err
				}
			}
		case []any:
			if len(v) > longestList {
				return unusable("", "a list of %d: no list of a rig is longer than %d", len(v), longestList)
			}
			if depth == deepest {
				return unusable("", "more than %d lists and objects within each other: no rig nests so deep", deepest)
			}
			for _, e := range v {
				if err := walk(e, depth+1); err != nil {
					return err
				}
			}
		}
		return nil
	}
	return walk(tree, 0)
}

// clip shortens a text that is shown in a message.
func clip(s string) string {
	if r := []rune(s); len(r) > 80 {
		return string(r[:80]) + "…"
	}
	return s
}

func kindOf(v any) string {
	switch v.(type) {
	case []any:
		return "a list"
	case string:
		return "a text"
	case float64:
		return "a number"
	case bool:
		return "true or false"
	case nil:
		return "null"
	}
	return "an object"
}

// against lists what the JSON Schema finds, with places people can follow.
func against(schema *huma.Schema, doc map[string]any) (out []rig.Problem) {
	result := &huma.ValidateResult{}
	huma.Validate(registry, schema, huma.NewPathBuffer([]byte{}, 0), huma.ModeWriteToServer, doc, result)
	for _, err := range result.Errors {
		if len(out) > MostProblems { // enough to say; the rest is counted
			out = append(out, make([]rig.Problem, len(result.Errors)-len(out))...)
			return out
		}
		var d *huma.ErrorDetail
		if !errors.As(err, &d) {
			out = append(out, rig.Problem{Text: err.Error()})
			continue
		}
		out = append(out, rig.Problem{Place: named(doc, d.Location), Text: inWords(d)})
	}
	return out
}

var index = regexp.MustCompile(`^(items|leads|ports|controllers|entries)\[(\d+)\]$`)

// named adds ids to the positions of a location: items[2] "stick-1".gear.ports[0] "in".connector.
func named(doc any, location string) string {
	parts := strings.Split(location, ".")
	at := doc
	for i, part := range parts {
		name, _, _ := strings.Cut(part, "[")
		m, _ := at.(map[string]any)
		at = m[name]
		if n := strings.IndexByte(part, '['); n >= 0 {
			k, _ := strconv.Atoi(strings.Trim(part[n:], "[]"))
			if list, ok := at.([]any); ok && k < len(list) {
				at = list[k]
			}
		}
		if index.MatchString(part) {
			if m, ok := at.(map[string]any); ok {
				if id, ok := m["id"].(string); ok {
					parts[i] = fmt.Sprintf("%s %q", part, id)
				}
			}
		}
	}
	return strings.Join(parts, ".")
}

// units of fields whose names end so, for saying what a number means.
var units = []struct{ suffix, unit string }{
	{"lengthM", "metres"}, {"spanM", "metres"}, {"drawW", "watts"}, {"MHz", "megahertz"}, {"Mhz", "megahertz"},
	{"mhz", "megahertz"}, {"Mbps", "megabits a second"},
	{"MBps", "megabytes a second"}, {"Kbps", "kilobits a second"}, {"GB", "decimal gigabytes"},
	{"mAh", "milliampere-hours"},
	{"volts", "volts"}, {"Ma", "milliamperes"}, {"inutes", "minutes"}, {"Hz", "hertz"},
}

// inWords turns a schema message into one that names the value and what is allowed.
func inWords(d *huma.ErrorDetail) string {
	text := d.Message
	field := d.Location[strings.LastIndexByte(d.Location, '.')+1:]
	if text == "unexpected property" {
		return "is not a field of a rig here: check the spelling"
	}
	if name, ok := strings.CutPrefix(text, "expected required property "); ok {
		return strings.TrimSuffix(name, " to be present") + " is missing"
	}
	text = strings.Replace(text, "expected ", "want ", 1)
	value, err := json.Marshal(d.Value)
	if err != nil || len(value) > 80 {
		value = []byte(kindOf(d.Value))
	}
	if _, isText := d.Value.(string); isText {
		for _, u := range units {
			if strings.HasSuffix(field, u.suffix) {
				return fmt.Sprintf("%s: want a plain number in %s", value, u.unit)
			}
		}
	}
	return fmt.Sprintf("%s: %s", value, text)
}
