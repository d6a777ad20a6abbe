package readers

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"
)

// Bounds of a table of figures.
const (
	MostRows    = 2000
	MostColumns = 60
)

// Table is a table of figures somebody's program wrote, column by column, for its reader to choose from.
type Table struct {
	Columns  []Column  `json:"columns"`
	Rows     int       `json:"rows"`
	Problems []Problem `json:"problems"`
}

// Column is one column of a table: all its cells as numbers, or as times, where they are such.
type Column struct {
	Name    string     `json:"name"`
	Numbers []*float64 `json:"numbers" doc:"A number for each row; null where a cell holds none"`
	Times   []*int64   `json:"times" doc:"Milliseconds since 1970 UTC for each row; null where a cell holds no time"`
	Figures int        `json:"figures" doc:"Cells that are numbers"`
	Moments int        `json:"moments" doc:"Cells that are times"`
}

// ReadTable reads a table of figures: a first row of names, then a row for each moment. Commas, semicolons or tabs
// stand between the columns, tabs or semicolons where the first row has any; decimal commas and a byte-order mark are
// understood. Times of day are of the day of on. A row of another width is named, and read as far as it goes.
func ReadTable(data []byte, on time.Time) (*Table, error) {
	r := rowsOf(data)
	out := &Table{Columns: []Column{}, Problems: []Problem{}}
	problem := func(line int, format string, args ...any) {
		if len(out.Problems) < 20 {
			out.Problems = append(out.Problems, Problem{Line: line, Text: fmt.Sprintf(format, args...)})
		}
	}
	for n := 0; ; n++ {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var p *csv.ParseError
			if errors.As(err, &p) {
				problem(p.Line, "%v", p.Err)
				continue
			}
			return nil, err
		}
		line, _ := r.FieldPos(0)
		if n == 0 {
			if len(row) > MostColumns {
				return nil, fmt.Errorf("%d columns: want %d at most", len(row), MostColumns)
			}
			for i, name := range row {
				if name = strings.TrimSpace(name); name == "" {
					name = fmt.Sprintf("column %d", i+1)
				}
				if _, ok := number(name); ok {
					return nil, fmt.Errorf("the first row holds the figure %q: want the names of the columns there",
						name)
				}
				out.Columns = append(out.Columns, Column{Name: name, Numbers: []*float64{}, Times: []*int64{}})
			}
			continue
		}
		if out.Rows == MostRows {
			return nil, fmt.Errorf("more than %d rows: thin it out, a figure a minute tells enough", MostRows)
		}
		if len(row) != len(out.Columns) {
			problem(line, "%d cells: the first row has %d", len(row), len(out.Columns))
		}
		out.Rows++
		for i := range out.Columns {
			c := &out.Columns[i]
			cell := ""
			if i < len(row) {
				cell = strings.TrimSpace(row[i])
			}
			var v *float64
			var t *int64
			if x, ok := number(cell); ok {
				v = &x
				c.Figures++
			}
			if at, ok := moment(cell, on); ok {
				ms := at.UnixMilli()
				t = &ms
				c.Moments++
			}
			c.Numbers, c.Times = append(c.Numbers, v), append(c.Times, t)
		}
	}
	if out.Rows == 0 {
		return nil, errors.New("no row can be read: want a row of names, then a row of figures for each moment")
	}
	return out, nil
}

// rowsOf reads the rows of a table: a byte-order mark is passed over, and commas, semicolons or tabs stand between the
// columns, tabs or semicolons where the first row has any.
func rowsOf(data []byte) *csv.Reader {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	first, _, _ := bytes.Cut(data, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(data))
	r.FieldsPerRecord, r.TrimLeadingSpace, r.LazyQuotes = -1, true, true
	switch {
	case bytes.ContainsRune(first, '\t'):
		r.Comma = '\t'
	case bytes.ContainsRune(first, ';'):
		r.Comma = ';'
	}
	return r
}

// number reads 12.5, 12,5, 1.234,5 and 1,234.5; what a spreadsheet kept from running is read without its mark.
func number(s string) (float64, bool) {
	s = strings.TrimPrefix(strings.ReplaceAll(s, "\u00a0", ""), "'")
	dot, comma := strings.LastIndexByte(s, '.'), strings.LastIndexByte(s, ',')
	switch {
	case dot >= 0 && comma > dot:
		s = strings.Replace(strings.ReplaceAll(s, ".", ""), ",", ".", 1)
	case dot > comma && comma >= 0:
		s = strings.ReplaceAll(s, ",", "")
	case comma >= 0:
		s = strings.Replace(s, ",", ".", 1)
	}
	if strings.ContainsAny(s, "xXpP_iInN") { // no hexadecimals, no infinities
		return 0, false
	}
	v, err := strconv.ParseFloat(s, 64)
	return v, err == nil && v > -1e15 && v < 1e15
}

// moment reads a time, or a time of day on a day.
func moment(s string, on time.Time) (time.Time, bool) {
	for _, form := range []string{"15:04", "15:04:05", "15:04:05.000"} {
		if t, err := time.Parse(form, s); err == nil {
			return time.Date(on.Year(), on.Month(), on.Day(), t.Hour(), t.Minute(), t.Second(), 0, on.Location()), true
		}
	}
	return timeOf(s)
}
