package rigtext

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/internal/demo/rigs"
)

func shelf() (out []bench.Stocked) {
	for _, e := range gear.Starter() {
		e.Owned = true
		e.Count = 9
		out = append(out, bench.Stocked{Entry: e, Revision: 1})
	}
	return out
}

// plain is a rig as a text can tell it: things are called by their names, leads by their ends, in no order.
func plain(r *rig.Rig) string {
	tree := treeOf(r)
	text, _ := json.Marshal(tree)
	labels := map[string]string{}
	for i := range r.Items {
		labels[r.Items[i].ID] = r.Items[i].Label
	}
	unique := map[string]int{}
	for _, l := range labels {
		unique[strings.ToLower(l)]++
	}
	name := func(id string) string {
		if l, ok := labels[id]; ok && unique[strings.ToLower(l)] == 1 {
			return l
		}
		return id
	}
	ref := func(s string) string {
		id, port, _ := strings.Cut(s, ".")
		return name(id) + "." + port
	}
	_ = json.Unmarshal(text, &tree)
	tree = treeOf(r)
	items := tree["items"].([]any)
	for _, e := range items {
		m := e.(map[string]any)
		m["id"] = name(m["id"].(string))
		delete(m, "shelf")
		if by, ok := m["poweredBy"].(string); ok {
			m["poweredBy"] = name(by)
		}
	}
	slices.SortFunc(items, func(a, b any) int {
		return strings.Compare(a.(map[string]any)["id"].(string), b.(map[string]any)["id"].(string))
	})
	leads := tree["leads"].([]any)
	for _, e := range leads {
		m := e.(map[string]any)
		delete(m, "id")
		m["from"], m["to"] = ref(m["from"].(string)), ref(m["to"].(string))
	}
	slices.SortFunc(leads, func(a, b any) int {
		x, y := a.(map[string]any), b.(map[string]any)
		return strings.Compare(x["from"].(string)+x["to"].(string), y["from"].(string)+y["to"].(string))
	})
	show := tree["show"].(map[string]any)
	for _, k := range naming {
		list, _ := show[k].([]any)
		renamed(list, name)
	}
	if sound, ok := tree["sound"].(map[string]any); ok {
		paths, _ := sound["paths"].([]any)
		for _, e := range paths {
			m := e.(map[string]any)
			m["from"] = name(m["from"].(string))
			via, _ := m["via"].([]any)
			for i := range via {
				via[i] = name(via[i].(string))
			}
		}
	}
	out, _ := json.MarshalIndent(tree, "", " ")
	return string(out)
}

// Every rig written as text and read again is the same.
func TestWrittenAndReadIsTheSame(t *testing.T) {
	n := uint64(500)
	if testing.Short() {
		n = 200
	}
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.Hall(), rigs.Desk()} {
		same(t, r, r.Name)
	}
	for seed := range n {
		r := rigtest.Rig(8_000_000 + seed)
		if seed%3 == 0 {
			r = judge.Rig(r).Rig
		}
		if seed%4 == 1 {
			oddNames(r, rigtest.NewDice(seed))
		}
		same(t, r, fmt.Sprint("seed ", 8_000_000+seed))
	}
}

// oddNames calls things as nobody should: as leads, sockets and parts of each other are called, with every sign the
// text form has a meaning for.
func oddNames(r *rig.Rig, d *rigtest.Dice) {
	odd := []string{`a "b"`, "x > y", "[z]", "HDMI", "5 m", "High Speed HDMI", "#7", "voice of", "Straße İ", "left",
		"mains", "back\\slash", "tab\there", "two\nlines", "key: value", "Stick", "Stick 1", "Stick 1 in", "Over",
		"# note", "- x"}
	for i := range r.Items {
		it := &r.Items[i]
		if d.Of(2) {
			it.Label = odd[d.N(len(odd))]
		}
		if d.Of(4) {
			it.Gear.Name = odd[d.N(len(odd))]
		}
	}
	if r.Sound != nil {
		for i := range r.Sound.Paths {
			r.Sound.Paths[i].Voice = odd[d.N(len(odd))]
		}
	}
	r.Notes = "two\nlines, \"quotes\""
}

func same(t *testing.T, r *rig.Rig, name string) {
	t.Helper()
	text := Write(r)
	got := Read(text, nil)
	require.Empty(t, got.Problems, "%s\n%s", name, text)
	require.Equal(t, plain(r), plain(got.Rig), "%s\n%s", name, text)
}
