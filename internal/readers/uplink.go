package readers

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"time"

	"eventether/core/rig"
)

// MostReadings bounds the measurements of a line that are read at once.
const MostReadings = 1000

// UplinkFile is what a table of upload measurements says.
type UplinkFile struct {
	Readings []rig.UplinkReading `json:"readings"`
	Problems []Problem           `json:"problems"`
}

// timeForms are the ways times are written in such tables; without a zone they are taken as they stand.
var timeForms = []string{time.RFC3339, "2006-01-02 15:04:05", "2006-01-02T15:04:05", "2006-01-02 15:04",
	"2006-01-02T15:04", "02.01.2006 15:04", "2006-01-02"}

// ReadUplink reads a table of upload measurements: a line each, with the columns at (a time), mbps (megabits a second)
// and, if it is there, by (wired or air). Commas, semicolons or tabs between them, decimal commas and a byte-order mark
// are understood; a line that is not is named and left out. Nothing readable at all is an error.
func ReadUplink(data []byte) (*UplinkFile, error) {
	r := rowsOf(data)
	out := &UplinkFile{Readings: []rig.UplinkReading{}, Problems: []Problem{}}
	columns := map[string]int{"at": 0, "mbps": 1, "by": 2}
	left := 0
	problem := func(line int, format string, args ...any) {
		if len(out.Problems) < 100 {
			out.Problems = append(out.Problems, Problem{Line: line, Text: fmt.Sprintf(format, args...)})
		} else {
			left++
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
		line, _ := r.FieldPos(0) // only of a row that was read
		if n == 0 {
			if head := header(row); head != nil {
				if _, ok := head["mbps"]; !ok {
					return nil, fmt.Errorf("the table has no column mbps: want at,mbps and perhaps by; it has %s",
						strings.Join(row, ", "))
				}
				columns = head
				continue
			}
		}
		cell := func(name string) string {
			if i, ok := columns[name]; ok && i < len(row) {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		text := cell("mbps")
		v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
		switch {
		case err != nil || !(v >= 0 && v <= 1e5):
			problem(line, "%q: want megabits a second, 0 to 100000", text)
			continue
		case len(out.Readings) == MostReadings:
			return nil, fmt.Errorf("more than %d measurements: the newest few weeks say more than all of them",
				MostReadings)
		}
		reading := rig.UplinkReading{Value: v}
		if at := cell("at"); at != "" {
			t, ok := timeOf(at)
			if !ok {
				problem(line, "%q: want a time such as 2026-11-20T19:30", at)
				continue
			}
			reading.At = t.Format(time.RFC3339)
		}
		switch by := strings.ToLower(cell("by")); by {
		case "", "wired", "air":
			reading.By = by
		default:
			problem(line, "by %q: want wired or air", by)
			continue
		}
		out.Readings = append(out.Readings, reading)
	}
	if left > 0 {
		out.Problems = append(out.Problems, Problem{Text: fmt.Sprintf("and %d lines more", left)})
	}
	if len(out.Readings) == 0 {
		return nil, errors.New("no measurement can be read: want lines of time and megabits a second, such as 2026-11-20T19:30,11.8")
	}
	return out, nil
}

// header are the columns of a first row of names; nil where it is none.
func header(row []string) map[string]int {
	known := map[string]string{"at": "at", "time": "at", "date": "at", "when": "at", "mbps": "mbps", "mb/s": "mbps",
		"mbit/s": "mbps", "upload": "mbps", "by": "by", "how": "by"}
	var out map[string]int
	for i, c := range row {
		c = strings.ToLower(strings.TrimSpace(c))
		if _, err := strconv.ParseFloat(strings.Replace(c, ",", ".", 1), 64); err == nil {
			return nil
		}
		if name, ok := known[c]; ok {
			if out == nil {
				out = map[string]int{}
			}
			out[name] = i
		}
	}
	if _, isTime := timeOf(strings.TrimSpace(row[0])); out == nil && !isTime {
		return map[string]int{}
	}
	return out
}

func timeOf(s string) (time.Time, bool) {
	for _, form := range timeForms {
		if t, err := time.Parse(form, s); err == nil {
			return t, true
		}
	}
	return time.Time{}, false
}
