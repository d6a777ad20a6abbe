package rigfile

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

var shelfSchema = registry.Schema(reflect.TypeFor[gear.ShelfFile](), true, "ShelfFile")

// ShelfSchema is the JSON Schema (2020-12) of a file of shelf entries, as kept in docs/formats.
func ShelfSchema() ([]byte, error) {
	return schemaDocument("eventether-shelf-1.schema.json", "Even Tether shelf file, format 1", shelfSchema.Ref)
}

// ReadShelf reads a file of shelf entries. The error is an *Unusable that lists every problem by place.
func ReadShelf(data []byte) ([]gear.Entry, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if len(data) > MaxBytes {
		return nil, unusable("", "the file is larger than %d MB: no shelf is", MaxBytes>>20)
	}
	tree, problems, err := open(data)
	if err != nil {
		return nil, err
	}
	doc, ok := tree.(map[string]any)
	if !ok {
		return nil, unusable("", "want a JSON object with \"format\": %q, got %s", gear.ShelfFormat, kindOf(tree))
	}
	if format, _ := doc["format"].(string); format != gear.ShelfFormat {
		return nil, unusable("format", "%q is not a shelf file of this version: want %q", format, gear.ShelfFormat)
	}
	problems = append(problems, against(shelfSchema, doc)...)
	if len(problems) > 0 {
		return nil, bounded(problems)
	}
	var f gear.ShelfFile
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return nil, unusable("", "%s", err)
	}
	return f.Entries, checkEntries(f.Entries)
}

// ReadEntry reads one entry as it comes in a request.
func ReadEntry(data []byte) (*gear.Entry, error) {
	file, err := json.Marshal(map[string]any{"format": gear.ShelfFormat, "entries": []json.RawMessage{data}})
	if err != nil {
		return nil, unusable("", "this is not JSON: %s", err)
	}
	entries, err := ReadShelf(file)
	if err != nil {
		return nil, err
	}
	return &entries[0], nil
}

func checkEntries(entries []gear.Entry) error {
	var problems []rig.Problem
	seen := map[string]int{}
	for i := range entries {
		at := fmt.Sprintf("entries[%d] %q", i, entries[i].ID)
		if first, twice := seen[entries[i].ID]; twice {
			problems = append(problems, rig.Problem{Place: at + ".id",
				Text: fmt.Sprintf("is the id of entries[%d] too: ids must differ", first)})
		}
		seen[entries[i].ID] = i
		problems = append(append(problems, rig.Texts(at, &entries[i])...), rig.CheckEntry(at, &entries[i])...)
	}
	if len(problems) > 0 {
		return bounded(problems)
	}
	return nil
}

// WriteShelf writes entries in canonical form.
func WriteShelf(entries []gear.Entry) ([]byte, error) {
	return encode(gear.ShelfFile{Format: gear.ShelfFormat, Entries: entries})
}

// csvColumns are the columns of a shelf as a table. The last holds the whole spec sheet as JSON; the ones before it are
// for people and win over it on reading.
var csvColumns = []string{"id", "kind", "name", "owned", "count", "price", "currency", "clean", "draw W", "draw from",
	"measured on", "listed as", "driver", "notes", "demo", "sheet"}

// WriteShelfCSV writes entries as a table (RFC 4180, comma, UTF-8).
func WriteShelfCSV(entries []gear.Entry) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	if err := w.Write(csvColumns); err != nil {
		return nil, err
	}
	for i := range entries {
		e := &entries[i]
		sheet, err := json.Marshal(e.Gear)
		if err != nil {
			return nil, err
		}
		row := []string{e.ID, string(e.Gear.Kind), e.Gear.Name, yesNo(e.Owned), "", "", "", string(e.Gear.Clean),
			"", "", "", e.Gear.ListedAs, e.Gear.Driver, e.Gear.Notes, "", string(sheet)}
		if e.Count > 0 {
			row[4] = strconv.Itoa(e.Count)
		}
		if e.Demo {
			row[14] = "yes"
		}
		if e.Price != nil {
			row[5], row[6] = e.Price.Amount.String(), e.Price.Currency
		}
		if p := e.Gear.Power; p != nil && p.DrawW != nil {
			row[8], row[9], row[10] = strconv.FormatFloat(p.DrawW.Value, 'f', -1, 64), string(p.DrawW.From), p.DrawW.At
		}
		for k := range row {
			row[k] = Harmless(row[k])
		}
		if err := w.Write(row); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// runs are the signs a spreadsheet takes for the beginning of a formula, wide ones too; the apostrophe is what marks a
// text.
const runs = "=+-@'＝＋－＠"

// figures are what stands in a cell as a number: it stays one.
var figures = regexp.MustCompile(`^[+-]?[0-9]+([.,][0-9]+)?([eE][+-]?[0-9]+)?$`)

// Harmless puts an apostrophe before a cell a spreadsheet would run, whatever blanks, tabs or line ends stand before
// the sign; plain takes it off again. A number stays a number.
func Harmless(cell string) string {
	if runnable(cell) {
		return "'" + cell
	}
	return cell
}

func runnable(cell string) bool {
	first, _ := utf8.DecodeRuneInString(strings.TrimLeftFunc(cell, func(c rune) bool {
		return unicode.IsSpace(c) || unicode.IsControl(c) || unicode.Is(unicode.Cf, c)
	}))
	if strings.HasPrefix(cell, "\t") || strings.HasPrefix(cell, "\r") {
		return true
	}
	return first != utf8.RuneError && strings.ContainsRune(runs, first) && !figures.MatchString(cell)
}

func plain(cell string) string {
	if rest, marked := strings.CutPrefix(cell, "'"); marked && runnable(rest) {
		return rest
	}
	return cell
}

func yesNo(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

// ReadShelfCSV reads a table of entries: kind and name are needed, the other columns may be missing, and their order
// does not matter. Every problem is named by line and column.
func ReadShelfCSV(data []byte) ([]gear.Entry, error) {
	if len(data) > MaxBytes {
		return nil, unusable("", "the file is larger than %d MB: no shelf is", MaxBytes>>20)
	}
	if i := bytes.IndexByte(data, 0); i >= 0 {
		return nil, unusable(place(data, int64(i)), "this is not text: want a table with commas")
	}
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(data, []byte("\ufeff"))))
	r.FieldsPerRecord = -1
	head, err := r.Read()
	if err != nil {
		return nil, unusable("line 1", "want a first line that names the columns, such as %s",
			strings.Join(csvColumns[:4], ","))
	}
	at := map[string]int{}
	var problems []rig.Problem
	for i, name := range head {
		name = strings.TrimSpace(name)
		k := slices.IndexFunc(csvColumns, func(c string) bool { return strings.EqualFold(c, name) })
		if k < 0 {
			problems = append(problems,
				rig.Problem{Place: "line 1", Text: fmt.Sprintf("column %q is not known: want some of %s", name,
					strings.Join(csvColumns, ", "))})
			continue
		}
		at[csvColumns[k]] = i
	}
	for _, need := range []string{"kind", "name"} {
		if _, ok := at[need]; !ok {
			problems = append(problems, rig.Problem{Place: "line 1", Text: fmt.Sprintf("column %q is missing", need)})
		}
	}
	if len(problems) > 0 {
		return nil, &Unusable{problems}
	}
	var out []gear.Entry
	for {
		row, err := r.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			var bad *csv.ParseError
			if errors.As(err, &bad) {
				return nil, unusable(fmt.Sprintf("line %d", bad.Line), "the table cannot be read on: column %d: %s",
					bad.Column, bad.Err)
			}
			return nil, unusable("", "the table cannot be read on: %s", err)
		}
		line, _ := r.FieldPos(0)
		if len(out) == longestList/2 {
			return nil, unusable(fmt.Sprintf("line %d", line), "more than %d entries: no shelf has so many",
				longestList/2)
		}
		cells := func(name string) string {
			if i, ok := at[name]; ok && i < len(row) {
				return strings.TrimSpace(plain(row[i]))
			}
			return ""
		}
		e, bad := entryOf(cells)
		for _, p := range bad {
			problems = append(problems, rig.Problem{Place: fmt.Sprintf("line %d, %s", line, p.Place), Text: p.Text})
		}
		out = append(out, e)
	}
	if len(problems) > 0 {
		return nil, bounded(problems)
	}
	if len(out) == 0 {
		return nil, unusable("", "the table has no line below its head")
	}
	text, err := WriteShelf(out)
	if err != nil {
		return nil, err
	}
	return ReadShelf(text) // the same checks as for JSON
}

// entryOf turns one line of a table into an entry.
func entryOf(cell func(string) string) (e gear.Entry, bad []rig.Problem) {
	wrong := func(column, format string, args ...any) {
		bad = append(bad, rig.Problem{Place: "column " + column, Text: fmt.Sprintf(format, args...)})
	}
	if sheet := cell("sheet"); sheet != "" {
		dec := json.NewDecoder(strings.NewReader(sheet))
		dec.DisallowUnknownFields()
		if err := dec.Decode(&e.Gear); err != nil {
			wrong("sheet", "%s", err)
		}
	}
	put := func(name string, into *string) {
		if v := cell(name); v != "" {
			*into = v
		}
	}
	put("kind", (*string)(&e.Gear.Kind))
	put("name", &e.Gear.Name)
	put("clean", (*string)(&e.Gear.Clean))
	put("listed as", &e.Gear.ListedAs)
	put("driver", &e.Gear.Driver)
	put("notes", &e.Gear.Notes)
	if e.Gear.Name == "" {
		wrong("name", "is empty")
	}
	if e.ID = cell("id"); e.ID == "" {
		e.ID = gear.Slug(e.Gear.Name)
	}
	yes := func(column string) bool {
		switch v := strings.ToLower(cell(column)); v {
		case "yes", "true", "1":
			return true
		case "", "no", "false", "0":
		default:
			wrong(column, "%q: want yes or no", v)
		}
		return false
	}
	e.Owned, e.Demo = yes("owned"), yes("demo")
	if v := cell("count"); v != "" {
		n, err := strconv.Atoi(v)
		if err != nil || n < 0 || n > 999 {
			wrong("count", "%q: want a whole number from 0 to 999", v)
		}
		e.Count = n
	}
	if v := cell("price"); v != "" {
		m := gear.Money{Currency: cell("currency")}
		if err := m.Amount.UnmarshalText([]byte(v)); err != nil {
			wrong("price", "%s", err)
		}
		e.Price = &m
	}
	if v := cell("draw W"); v != "" {
		watts, err := strconv.ParseFloat(v, 64)
		if err != nil || math.IsNaN(watts) || math.IsInf(watts, 0) {
			wrong("draw W", "%q: want a plain number in watts", v)
		} else {
			p := gear.Power{}
			if e.Gear.Power != nil {
				p = *e.Gear.Power
			}
			if p.DrawW == nil || p.DrawW.Value != watts {
				f := fact.Exactly(watts)
				if from := cell("draw from"); from != "" {
					f.From, f.At = fact.From(from), cell("measured on")
				}
				p.DrawW = &f
			}
			e.Gear.Power = &p
		}
	}
	return e, bad
}
