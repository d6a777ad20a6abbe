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

// Read reads a rig document. The error is an *Unusable with every problem found.
func Read(data []byte) (*rig.Rig, error) {
	if len(data) > MaxBytes {
		return nil, unusable("", "the file is larger than %d MB: no rig is", MaxBytes>>20)
	}
	tree, err := parse(data)
	if err != nil {
		return nil, err
	}
	doc, ok := tree.(map[string]any)
	if !ok {
		return nil, unusable("", "want a JSON object with \"format\": %q, got %s", rig.Format, kindOf(tree))
	}
	if err := version(doc); err != nil {
		return nil, err
	}
	problems := duplicateKeys(data)
	problems = append(problems, against(rigSchema, doc)...)
	if len(problems) > 0 {
		return nil, &Unusable{problems}
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
	if problems := rig.Check(&r); len(problems) > 0 {
		return nil, &Unusable{problems}
	}
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
		return nil, unusable(place(data, dec.InputOffset()), "something follows the end of the rig: want one JSON object")
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
		return unusable("format", "%q is newer than this version, which reads up to %q: update to open it", text, rig.Format)
	}
	return nil
}

// duplicateKeys finds names that stand twice in one object; the first would be dropped silently.
func duplicateKeys(data []byte) (out []rig.Problem) {
	dec := json.NewDecoder(bytes.NewReader(data))
	type level struct {
		keys  map[string]bool
		isKey bool
	}
	var stack []level
	for {
		tok, err := dec.Token()
		if err != nil {
			return out
		}
		top := len(stack) - 1
		switch t := tok.(type) {
		case json.Delim:
			switch t {
			case '{':
				stack = append(stack, level{map[string]bool{}, true})
				continue
			case '[':
				stack = append(stack, level{})
				continue
			}
			stack = stack[:top]
			top--
		case string:
			if top >= 0 && stack[top].keys != nil && stack[top].isKey {
				if stack[top].keys[t] {
					out = append(out, rig.Problem{Place: place(data, dec.InputOffset()), Text: fmt.Sprintf("%q stands twice in one object", t)})
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
	{"lengthM", "metres"}, {"spanM", "metres"}, {"drawW", "watts"}, {"MHz", "megahertz"}, {"Mhz", "megahertz"}, {"mhz", "megahertz"}, {"Mbps", "megabits a second"},
	{"MBps", "megabytes a second"}, {"Kbps", "kilobits a second"}, {"GB", "decimal gigabytes"}, {"mAh", "milliampere-hours"},
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
