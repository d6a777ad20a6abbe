package rigtext

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"
)

// A tree is a document as its JSON has it: maps, lists, texts, json.Number, true, false.

// treeOf is what JSON makes of a value.
func treeOf(v any) map[string]any {
	text, err := json.Marshal(v)
	if err != nil {
		panic(err) // a rig is always written
	}
	dec := json.NewDecoder(bytes.NewReader(text))
	dec.UseNumber()
	out := map[string]any{}
	if err := dec.Decode(&out); err != nil {
		panic(err)
	}
	return out
}

// into reads a tree as a value; what it does not know is an error.
func into(tree map[string]any, v any) error {
	text, err := json.Marshal(tree)
	if err != nil {
		return err
	}
	dec := json.NewDecoder(bytes.NewReader(text))
	dec.DisallowUnknownFields()
	return dec.Decode(v)
}

// pair is one thing a tree says: a path, and its value as texts have it.
type pair struct{ path, value string }

// none stands for what is not said though the sheet or the default says it.
const none = "-"

// differences are what makes one tree of another, path by path.
func differences(at string, was, is map[string]any, out *[]pair) {
	for _, k := range slices.Sorted(maps.Keys(was)) {
		if _, still := is[k]; !still {
			*out = append(*out, pair{at + k, none})
		}
	}
	for _, k := range slices.Sorted(maps.Keys(is)) {
		a, had := was[k]
		b := is[k]
		if had && reflect.DeepEqual(a, b) {
			continue
		}
		deeper, isMap := b.(map[string]any)
		shallow, wasMap := a.(map[string]any)
		if isMap {
			if text := leafText(deeper); text != "" {
				*out = append(*out, pair{at + k, text})
				continue
			}
		}
		if isMap && len(deeper) > 0 && (wasMap || !had) && plainKeys(deeper) && plainKeys(shallow) {
			differences(at+k+".", shallow, deeper, out)
			continue
		}
		if list, ok := b.([]any); ok && byID(list) {
			old, _ := a.([]any)
			if sameIDs(old, list) {
				for i := range list {
					before := map[string]any{}
					if i < len(old) {
						before = old[i].(map[string]any)
					}
					now := list[i].(map[string]any)
					differences(at+k+"."+now["id"].(string)+".", before, without(now, before), out)
				}
				continue
			}
		}
		*out = append(*out, pair{at + k, valueText(b)})
	}
}

// without leaves out the id of a new element, which its path says.
func without(now, before map[string]any) map[string]any {
	if len(before) > 0 {
		return now
	}
	out := maps.Clone(now)
	delete(out, "id")
	return out
}

func plainKeys(m map[string]any) bool {
	for k := range m {
		if k == "" || strings.ContainsAny(k, ".: \t\"") {
			return false
		}
	}
	return true
}

// byID tells whether a list is one of things with ids, each with more than that.
func byID(list []any) bool {
	seen := map[string]bool{}
	for _, e := range list {
		m, ok := e.(map[string]any)
		if !ok || !plainKeys(m) {
			return false
		}
		id, ok := m["id"].(string)
		if !ok || id == "" || seen[id] || len(m) < 2 || strings.ContainsAny(id, ".: ") {
			return false
		}
		seen[id] = true
	}
	return len(list) > 0
}

// sameIDs tells whether a list begins with the ids of another, in order.
func sameIDs(old, list []any) bool {
	if len(old) > len(list) || len(old) > 0 && !byID(old) {
		return false
	}
	for i := range old {
		if old[i].(map[string]any)["id"] != list[i].(map[string]any)["id"] {
			return false
		}
	}
	return true
}

// valueText is a value as texts have it: plain words as they are, lists said piece by piece, everything else as JSON.
func valueText(v any) string {
	if s, ok := v.(string); ok && isPlain(s) {
		return s
	}
	if list, ok := v.([]any); ok {
		if text := listText(list); text != "" {
			return text
		}
	}
	return valueJSON(v)
}

func valueJSON(v any) string {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(v); err != nil {
		panic(err)
	}
	return strings.TrimSuffix(b.String(), "\n")
}

// isPlain tells whether a text reads as itself without quotes.
func isPlain(s string) bool {
	if s == "" || s == none || strings.TrimSpace(s) != s || strings.ContainsAny(s, "\n\r\t") ||
		strings.ContainsAny(s[:1], `"[{`) {
		return false
	}
	_, text := valueOf(s).(string)
	return text
}

// valueOf reads a value: what is said in one piece, JSON, else the text as it is.
func valueOf(s string) any {
	if v := leafOf(s); v != nil {
		return v
	}
	if v := listOf(s); v != nil {
		return v
	}
	dec := json.NewDecoder(strings.NewReader(s))
	dec.UseNumber()
	var v any
	if err := dec.Decode(&v); err != nil || dec.InputOffset() != int64(len(s)) {
		return s
	}
	return v
}

// put sets a path of a tree.
func put(tree map[string]any, path, value string) error {
	steps := strings.Split(path, ".")
	return putAt(tree, steps, value)
}

func putAt(tree map[string]any, steps []string, value string) error {
	key := steps[0]
	if key == "" {
		return fmt.Errorf("a part of the name is empty")
	}
	if len(steps) == 1 {
		if value == none {
			delete(tree, key)
		} else {
			tree[key] = valueOf(value)
		}
		return nil
	}
	switch next := tree[key].(type) {
	case map[string]any:
		return putAt(next, steps[1:], value)
	case []any:
		return putInto(tree, key, next, steps[1:], value)
	case nil:
		if len(steps) > 2 && idLists[key] { // a list of things with ids that begins here
			return putInto(tree, key, nil, steps[1:], value)
		}
		next2 := map[string]any{}
		tree[key] = next2
		return putAt(next2, steps[1:], value)
	}
	return fmt.Errorf("%s has no parts", key)
}

// idLists are the lists whose parts are named by id.
var idLists = map[string]bool{"ports": true, "settings": true, "controllers": true}

// putInto sets a path within the part of a list that has an id, or stands at a place counted from 1.
func putInto(tree map[string]any, key string, list []any, steps []string, value string) error {
	for i := range list {
		if m, ok := list[i].(map[string]any); ok && (m["id"] == steps[0] || m["id"] == nil && strconv.Itoa(i+1) ==
			steps[0]) {
			if len(steps) == 1 {
				return fmt.Errorf("%s.%s: say which part of it", key, steps[0])
			}
			return putAt(m, steps[1:], value)
		}
	}
	if !idLists[key] || len(steps) < 2 {
		return fmt.Errorf("%s has no part %q", key, steps[0])
	}
	m := map[string]any{"id": steps[0]}
	tree[key] = append(list, m)
	return putAt(m, steps[1:], value)
}

// cloneTree is a copy of a tree that can be changed.
func cloneTree(v any) any {
	switch v := v.(type) {
	case map[string]any:
		out := make(map[string]any, len(v))
		for k, e := range v {
			out[k] = cloneTree(e)
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, e := range v {
			out[i] = cloneTree(e)
		}
		return out
	}
	return v
}
