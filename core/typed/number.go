// Package typed answers: what number did somebody mean who typed "12 m", "5,5 Mb/s", "2 h 30 min" or "1/50"? It is the
// one reader of numbers people type, whatever field they type into.
package typed

import (
	"errors"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"

	"eventether/core/lang"
)

// unit is one unit people type: how many of the first of its kind it is.
type unit struct {
	kind  string
	scale float64
}

// units are all that are understood, by their names in small letters but for the B of bytes: bits and bytes differ by
// it alone. Prefixes are those of the SI; an inch is 25.4 mm and a foot 304.8 mm exactly (international yard and pound,
// 1959) [memory].
var units = func() map[string]unit {
	out := map[string]unit{}
	add := func(kind string, scale float64, names ...string) {
		for _, n := range names {
			out[key(n)] = unit{kind, scale}
		}
	}
	add("a length", 1, "m", "metre", "metres", "meter", "meters")
	add("a length", 0.01, "cm")
	add("a length", 0.001, "mm")
	add("a length", 1000, "km")
	add("a length", 0.3048, "ft", "foot", "feet")
	add("a length", 0.0254, "in", "inch", "inches")
	add("a time", 1, "s", "sec", "second", "seconds")
	add("a time", 0.001, "ms")
	add("a time", 60, "min", "mins", "minute", "minutes")
	add("a time", 3600, "h", "hr", "hour", "hours")
	add("a time", 86400, "d", "day", "days")
	for i, prefix := range []string{"", "k", "m", "g"} {
		bits := math.Pow(1000, float64(i))
		add("a bitrate", bits, prefix+"b/s", prefix+"bit/s", prefix+"bps")
		add("bytes a second", bits, prefix+"B/s")
	}
	add("an amount of data", 1, "B", "bytes")
	add("an amount of data", 1e6, "MB")
	add("an amount of data", 1e9, "GB")
	add("an amount of data", 1e12, "TB")
	for _, u := range []struct {
		kind  string
		names []string
	}{{"a power", []string{"W", "watt", "watts"}}, {"a current", []string{"A", "amp", "amps", "ampere", "amperes"}},
		{"a voltage", []string{"V", "volt", "volts"}}, {"a charge", []string{"Ah"}}} {
		add(u.kind, 1, u.names...)
		add(u.kind, 1e-3, "m"+u.names[0])
	}
	add("a power", 1e3, "kW")
	add("an apparent power", 1, "VA")
	add("an apparent power", 1e3, "kVA")
	add("an energy", 1, "Wh")
	add("an energy", 1e3, "kWh")
	add("a resistance", 1, "Ω", "ohm", "ohms")
	add("a resistance", 1e-3, "mΩ", "mohm")
	add("a frequency", 1, "Hz")
	add("a frequency", 1e3, "kHz")
	add("a frequency", 1e6, "MHz")
	add("a frequency", 1e9, "GHz")
	add("a level", 1, "dB", "db")
	add("a share", 1, "%", "percent")
	add("a loudness", 1, "LUFS")
	add("a drift", 1, "ppm")
	add("pixels a second", 1, "Mpx/s")
	add("bits", 1, "bit", "bits")
	add("a wire gauge", 1, "AWG")
	return out
}()

// key is a name as units are kept by it.
func key(name string) string {
	return strings.Map(func(c rune) rune {
		if c == 'B' {
			return c
		}
		return unicode.ToLower(c)
	}, name)
}

func find(name string) (unit, bool) {
	u, ok := units[key(name)]
	if small := strings.ToLower(name); !ok && !strings.HasSuffix(small, "b/s") { // MBPS is not bytes
		u, ok = units[small]
	}
	return u, ok
}

var (
	piece    = regexp.MustCompile(`^([-+−]?[0-9][0-9.,' \x{a0}\x{202f}]*(?:[eE][-+]?[0-9]{1,3})?(?:/[0-9]+)?)\s*([^\s0-9]*)\s*`)
	clock    = regexp.MustCompile(`^(\d{1,3}):([0-5]\d)$`)
	currency = regexp.MustCompile(`^[A-Z]{3}$`)
)

// Number reads a number typed into a field of a unit: with a comma or a point, with a unit of the same kind, in pieces
// ("2 h 30 min"), as a clock has it where the field counts time, or as a fraction. The error says in words what is
// wrong with it.
func Number(text, in string) (float64, error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0, wrong("a number is missing")
	}
	own, measured := find(in)
	if m := clock.FindStringSubmatch(text); m != nil && own.kind == "a time" {
		h, _ := strconv.ParseFloat(m[1], 64)
		min, _ := strconv.ParseFloat(m[2], 64)
		return round((h*3600 + min*60) / own.scale), nil
	}
	total := 0.0
	for rest, first := text, true; rest != ""; first = false {
		m := piece.FindStringSubmatch(rest)
		if m == nil {
			return 0, wrong("“%s” is not a number", text)
		}
		v, err := plain(m[1])
		if err != nil {
			return 0, err
		}
		rest = rest[len(m[0]):]
		name := strings.TrimRight(m[2], ".;")
		alone := first && rest == ""
		u, known := find(name)
		switch {
		case alone && (name == "" || name == in || in == "" && currency.MatchString(name)):
			return v, nil
		case name == "" || !measured && name == in: // several numbers, or several amounts
			return 0, wrong("“%s” is not one number", text)
		case in == "":
			return 0, wrong("“%s” is no unit of this: it is a number without one", name)
		case !known:
			return 0, wrong("“%s” is no unit that is known: it is in %s", name, in)
		case u.kind != own.kind:
			return 0, wrong("“%s” is %s: this is in %s", text, lang.Text(u.kind), in)
		}
		total += v * u.scale / own.scale
	}
	return round(total), nil
}

func wrong(format string, args ...string) error { return errors.New(lang.Text(format, args...)) }

// plain is a number with a comma or a point, and blanks or marks between its thousands; or a fraction.
func plain(s string) (float64, error) {
	bad := wrong("“%s” is not a number", strings.TrimSpace(s))
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

// Numbers reads several numbers typed behind each other, with blanks, semicolons, or commas and blanks between them; a
// unit stands right behind its number.
func Numbers(text, in string) ([]float64, error) {
	var out []float64
	for _, part := range between.Split(strings.TrimSpace(text), -1) {
		part = strings.Trim(part, ",")
		if part == "" {
			continue
		}
		if u, ok := find(part); ok && len(out) > 0 && u == units[key(in)] { // "12 ms": the unit of the number before it
			continue
		}
		v, err := Number(part, in)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	if len(out) == 0 {
		return nil, wrong("a number is missing")
	}
	return out, nil
}
