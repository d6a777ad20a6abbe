// Package typed answers: what number did somebody mean who typed "12 m", "5,5 Mb/s", "2 h 30 min" or "1/50"? It is the one reader of
// numbers people type, whatever field they type into.
package typed

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"eventether/core/lang"
)

// unit is one unit people type: how many of the first of its kind it is.
type unit struct {
	kind  string
	scale float64
	names []string
}

// units are all that are understood, those of one kind together, the one that comes first being 1.
var units = []unit{
	{"a length", 1, []string{"m", "metre", "metres", "meter", "meters"}}, {"a length", 0.01, []string{"cm"}}, {"a length", 0.001, []string{"mm"}}, {"a length", 1000, []string{"km"}},
	{"a length", 0.3048, []string{"ft", "foot", "feet"}}, {"a length", 0.0254, []string{"in", "inch", "inches"}},
	{"a time", 1, []string{"s", "sec", "second", "seconds"}}, {"a time", 0.001, []string{"ms"}}, {"a time", 60, []string{"min", "mins", "minute", "minutes"}}, {"a time", 3600, []string{"h", "hr", "hour", "hours"}}, {"a time", 86400, []string{"d", "day", "days"}},
	{"a bitrate", 1, []string{"bit/s", "b/s", "bps"}}, {"a bitrate", 1e3, []string{"kb/s", "kbit/s", "kbps"}}, {"a bitrate", 1e6, []string{"mb/s", "mbit/s", "mbps"}}, {"a bitrate", 1e9, []string{"gb/s", "gbit/s", "gbps"}},
	{"bytes a second", 1, []string{"B/s"}}, {"bytes a second", 1e3, []string{"kB/s"}}, {"bytes a second", 1e6, []string{"MB/s"}}, {"bytes a second", 1e9, []string{"GB/s"}},
	{"an amount of data", 1, []string{"B", "bytes"}}, {"an amount of data", 1e6, []string{"MB"}}, {"an amount of data", 1e9, []string{"GB"}}, {"an amount of data", 1e12, []string{"TB"}},
	{"a power", 1, []string{"w", "watt", "watts"}}, {"a power", 1e-3, []string{"mw"}}, {"a power", 1e3, []string{"kw"}},
	{"an apparent power", 1, []string{"va"}}, {"an apparent power", 1e3, []string{"kva"}},
	{"a current", 1, []string{"a", "amp", "amps", "ampere", "amperes"}}, {"a current", 1e-3, []string{"ma"}},
	{"a voltage", 1, []string{"v", "volt", "volts"}}, {"a voltage", 1e-3, []string{"mv"}},
	{"a charge", 1, []string{"ah"}}, {"a charge", 1e-3, []string{"mah"}}, {"an energy", 1, []string{"wh"}}, {"an energy", 1e3, []string{"kwh"}},
	{"a resistance", 1, []string{"Ω", "ohm", "ohms"}}, {"a resistance", 1e-3, []string{"mΩ", "mohm"}},
	{"a frequency", 1, []string{"hz"}}, {"a frequency", 1e3, []string{"khz"}}, {"a frequency", 1e6, []string{"mhz"}}, {"a frequency", 1e9, []string{"ghz"}},
	{"a level", 1, []string{"db"}}, {"a share", 1, []string{"%", "percent"}}, {"a loudness", 1, []string{"lufs"}}, {"a drift", 1, []string{"ppm"}},
	{"pixels a second", 1, []string{"mpx/s"}}, {"bits", 1, []string{"bit", "bits"}}, {"a wire gauge", 1, []string{"awg"}},
}

// find is the unit of a name. Where capitals tell bits from bytes they count.
func find(name string) *unit {
	for i := range units {
		if slices.Contains(units[i].names, name) {
			return &units[i]
		}
	}
	if strings.ContainsAny(name, "B") && !strings.EqualFold(name, "mb/s") || name == "MB" || name == "GB" {
		return nil
	}
	for i := range units {
		for _, n := range units[i].names {
			if strings.EqualFold(n, name) && n == strings.ToLower(n) {
				return &units[i]
			}
		}
	}
	return nil
}

// rate tells bitrates from bytes: "Mb/s" are bits, "MB/s" bytes; "Mbps" and "mb/s" bits.
var (
	piece    = regexp.MustCompile(`^\s*([-+−]?[0-9][0-9.,' \x{a0}\x{202f}]*(?:[eE][-+]?[0-9]{1,3})?(?:/[0-9]+)?)\s*([^\s0-9]*)`)
	clock    = regexp.MustCompile(`^(\d{1,3}):([0-5]\d)$`)
	currency = regexp.MustCompile(`^[A-Z]{3}$`)
)

// Number reads a number typed into a field of a unit: with a comma or a point, with a unit of the same kind, in pieces ("2 h 30 min"),
// as a clock has it where the field counts time, or as a fraction. The error says in words what is wrong with it.
func Number(text, in string) (float64, error) {
	s := strings.TrimSpace(text)
	if s == "" {
		return 0, fmt.Errorf("%s", lang.Text("a number is missing"))
	}
	own := find(in)
	if m := clock.FindStringSubmatch(s); m != nil && own != nil && own.kind == "a time" {
		h, _ := strconv.ParseFloat(m[1], 64)
		min, _ := strconv.ParseFloat(m[2], 64)
		return round((h*3600 + min*60) / own.scale), nil
	}
	total, pieces, kind := 0.0, 0, ""
	for s != "" {
		m := piece.FindStringSubmatch(s)
		if m == nil {
			return 0, fmt.Errorf("%s", lang.Text("“%s” is not a number", strings.TrimSpace(text)))
		}
		v, err := plain(m[1])
		if err != nil {
			return 0, err
		}
		s = strings.TrimSpace(s[len(m[0]):])
		name := strings.TrimRight(m[2], ".;")
		pieces++
		u := find(name)
		switch {
		case name == "":
			if pieces > 1 || s != "" {
				return 0, fmt.Errorf("%s", lang.Text("“%s” is not one number", strings.TrimSpace(text)))
			}
			return v, nil
		case name == in || in == "" && currency.MatchString(name):
			u = own
			if s != "" || pieces > 1 {
				break
			}
			return v, nil
		case u == nil && in == "":
			return 0, fmt.Errorf("%s", lang.Text("“%s” is no unit of this: it is a number without one", name))
		case u == nil:
			return 0, fmt.Errorf("%s", lang.Text("“%s” is no unit that is known: it is in %s", name, in))
		case own == nil:
			return 0, fmt.Errorf("%s", lang.Text("“%s” is no unit of this: it is in %s", name, orNone(in)))
		}
		if u.kind != own.kind {
			return 0, fmt.Errorf("%s", lang.Text("“%s” is %s: this is in %s", strings.TrimSpace(text), u.kind, in))
		}
		if kind != "" && s == "" && pieces > 1 && u.kind != kind {
			return 0, fmt.Errorf("%s", lang.Text("“%s” is not one number", strings.TrimSpace(text)))
		}
		kind = u.kind
		total += v * u.scale / own.scale
	}
	return round(total), nil
}

func orNone(unit string) string {
	if unit == "" {
		return lang.Text("nothing, a number without a unit")
	}
	return unit
}

// plain is a number with a comma or a point, and blanks or marks between its thousands; or a fraction.
func plain(s string) (float64, error) {
	bad := fmt.Errorf("%s", lang.Text("“%s” is not a number", strings.TrimSpace(s)))
	s = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "−", "-").Replace(s)
	if a, b, ok := strings.Cut(s, "/"); ok {
		x, err := plain(a)
		y, err2 := strconv.ParseFloat(b, 64)
		if err != nil || err2 != nil || y == 0 {
			return 0, bad
		}
		return x / y, nil
	}
	comma, point := strings.LastIndex(s, ","), strings.LastIndex(s, ".")
	switch {
	case comma >= 0 && point >= 0 && comma > point:
		s = strings.ReplaceAll(strings.ReplaceAll(s, ".", ""), ",", ".")
	case comma >= 0 && point >= 0:
		s = strings.ReplaceAll(s, ",", "")
	case strings.Count(s, ",") > 1:
		s = strings.ReplaceAll(s, ",", "")
	case strings.Count(s, ".") > 1:
		s = strings.ReplaceAll(s, ".", "")
	default:
		s = strings.ReplaceAll(s, ",", ".")
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(v, 0) || math.IsNaN(v) {
		return 0, bad
	}
	return v, nil
}

// round takes away what converting leaves behind the twelfth digit.
func round(v float64) float64 {
	r, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 12, 64), 64)
	if err != nil {
		return v
	}
	return r
}

// Within says in words that a number is past the bounds of its field; "" where it is within them.
func Within(v, low, high float64, unit string) string {
	if v >= low && v <= high {
		return ""
	}
	n := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	if unit != "" {
		unit = " " + unit
	}
	return lang.Text("%s is out of bounds: %s to %s", n(v)+unit, n(low), n(high)+unit)
}

var between = regexp.MustCompile(`[;\n\r\t]+|,\s+|\s+`)

// Numbers reads several numbers typed behind each other, with blanks, semicolons, or commas and blanks between them; a unit stands
// right behind its number.
func Numbers(text, in string) ([]float64, error) {
	var out []float64
	for _, part := range between.Split(strings.TrimSpace(text), -1) {
		part = strings.Trim(part, ",")
		if part == "" {
			continue
		}
		if find(part) != nil && len(out) > 0 && find(part).kind == kindOf(in) { // "12 ms": the unit of the number before it
			continue
		}
		v, err := Number(part, in)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("%s", lang.Text("a number is missing"))
	}
	return out, nil
}

func kindOf(name string) string {
	if u := find(name); u != nil {
		return u.kind
	}
	return ""
}
