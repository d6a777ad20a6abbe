package rigtext

import (
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"eventether/core/fact"
)

// A few things stand in a text as one says them and not as their parts: a figure with its bounds and source, a picture, an amount.
//
//	6.4 (5.9 to 7.1) measured 2026-09-01
//	1920x1080 at 30000/1001 4:2:2 8 bit
//	150.00 EUR

var (
	number   = `(-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)`
	factForm = regexp.MustCompile(`^` + number + `(?: \(` + number + ` to ` + number +
		`\))?(?: ([a-z-]+))?(?: (\d{4}-\d{2}-\d{2}\S*))?$`)
	modeForm  = regexp.MustCompile(`^(\d+)x(\d+)(i)? at (\d+(?:/\d+)?)(?: (4:[024]:[024]))?(?: (\d+) bit)?$`)
	moneyForm = regexp.MustCompile(`^(-?\d+\.\d{2}) ([A-Z]{3})$`)
)

// leafText is how a part of a document is said in one piece; "" where it is told by its parts.
func leafText(m map[string]any) string {
	var out string
	switch {
	case only(m, "value", "low", "high", "from", "at") && m["value"] != nil:
		out = fmt.Sprint(m["value"])
		if m["low"] != nil && m["high"] != nil {
			out += fmt.Sprintf(" (%v to %v)", m["low"], m["high"])
		}
		if m["from"] != nil {
			out += fmt.Sprintf(" %v", m["from"])
		}
		if m["at"] != nil {
			out += fmt.Sprintf(" %v", m["at"])
		}
	case only(m, "width", "height", "rate", "chroma", "bits") && m["rate"] != nil && m["width"] != nil &&
		m["height"] != nil:
		out = fmt.Sprintf("%vx%v at %v", m["width"], m["height"], m["rate"])
		if m["chroma"] != nil {
			out += fmt.Sprintf(" %v", m["chroma"])
		}
		if m["bits"] != nil {
			out += fmt.Sprintf(" %v bit", m["bits"])
		}
	case only(m, "amount", "currency") && len(m) == 2:
		out = fmt.Sprintf("%v %v", m["amount"], m["currency"])
	default:
		return ""
	}
	if back, ok := leafOf(out).(map[string]any); !ok || valueJSON(back) != valueJSON(m) {
		return ""
	}
	return out
}

// leafOf reads what is said in one piece; nil where it is no such thing.
func leafOf(s string) any {
	if m := factForm.FindStringSubmatch(s); m != nil && (m[2] != "" || m[4] != "" || m[5] != "") {
		if m[4] != "" && !slices.Contains(fact.Sources, fact.From(m[4])) {
			return nil
		}
		out := map[string]any{"value": json.Number(m[1])}
		for i, k := range map[int]string{2: "low", 3: "high"} {
			if m[i] != "" {
				out[k] = json.Number(m[i])
			}
		}
		for i, k := range map[int]string{4: "from", 5: "at"} {
			if m[i] != "" {
				out[k] = m[i]
			}
		}
		return out
	}
	if m := modeForm.FindStringSubmatch(s); m != nil {
		out := map[string]any{"width": json.Number(m[1]), "height": json.Number(m[2]), "rate": m[4]}
		if m[3] != "" {
			return nil
		}
		if m[5] != "" {
			out["chroma"] = m[5]
		}
		if m[6] != "" {
			out["bits"] = json.Number(m[6])
		}
		return out
	}
	if m := moneyForm.FindStringSubmatch(s); m != nil {
		return map[string]any{"amount": m[1], "currency": m[2]}
	}
	return nil
}

func only(m map[string]any, keys ...string) bool {
	for k := range m {
		if !slices.Contains(keys, k) {
			return false
		}
	}
	return true
}

// listText is a list of things that are each said in one piece; "" where it is none.
func listText(list []any) string {
	var parts []string
	for _, e := range list {
		m, ok := e.(map[string]any)
		if !ok {
			return ""
		}
		text := leafText(m)
		if text == "" {
			return ""
		}
		parts = append(parts, text)
	}
	if len(parts) == 0 {
		return ""
	}
	return "each " + strings.Join(parts, ", ")
}

// listOf reads such a list; nil where it is none.
func listOf(s string) any {
	rest, ok := strings.CutPrefix(s, "each ")
	if !ok {
		return nil
	}
	out := []any{}
	for _, p := range strings.Split(rest, ", ") {
		v := leafOf(strings.TrimSpace(p))
		if v == nil {
			return nil
		}
		out = append(out, v)
	}
	return out
}
