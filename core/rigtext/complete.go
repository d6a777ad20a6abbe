package rigtext

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

// Completion is what could stand at a place of a line: Text in place of the characters From to To.
type Completion struct {
	Text string `json:"text"`
	From int    `json:"from" doc:"Characters before what it replaces"`
	To   int    `json:"to"`
	Says string `json:"says" doc:"What it is"`
}

// mostCompletions is how many are worth reading through.
const mostCompletions = 8

// Complete lists what could stand where somebody is typing: at characters into a line said of a rig.
func Complete(r *rig.Rig, line string, at int, shelf []bench.Stocked) []Completion {
	chars := []rune(line)
	at = max(0, min(at, len(chars)))
	typed := chars[:at]
	start, bracket, inQuotes, sep := 0, -1, false, rune(0)
	for i, c := range typed {
		switch {
		case c == '"' && bracket < 0:
			inQuotes = !inQuotes
		case inQuotes:
		case c == '[':
			bracket = i
		case c == ']':
			bracket = -1
		case bracket < 0 && (c == '>' || c == '<'):
			start, sep = i+1, c
		}
	}
	out := []Completion{}
	from := start
	for from < len(typed) && typed[from] == ' ' {
		from++
	}
	word := strings.ToLower(string(typed[from:]))
	if bracket >= 0 {
		from, word = bracket+1, strings.ToLower(string(typed[bracket+1:]))
	}
	offer := func(text, says string) {
		low := strings.ToLower(text)
		if strings.Contains(low, word) && low != word && !slices.ContainsFunc(out, func(c Completion) bool {
			return c.Text == text
		}) {
			out = append(out, Completion{text, from, at, says})
		}
	}
	var prev *rig.Item
	if sep != 0 {
		prev = before(r, string(typed[:start-1]), shelf)
	}
	kind := func(g *gear.Gear) string { return bench.KindName(g.Kind) }
	switch {
	case inQuotes:
	case bracket >= 0:
		for _, e := range owned(shelf) {
			offer(e.Gear.Name+"]", kind(&e.Gear))
		}
	case sep == '<':
		for _, w := range []string{"mains", "dummy battery", "battery", "usb", "grip"} {
			offer(w, lang.Text("what it runs on"))
		}
		for i := range r.Items {
			if it := &r.Items[i]; it.Gear.Kind.Gives() {
				offer(quoted(it.Label), kind(&it.Gear))
			}
		}
	case sep == '>':
		for i := range r.Items {
			it := &r.Items[i]
			if prev != nil && it.ID == prev.ID {
				continue
			}
			for j := range it.Gear.Ports {
				p := &it.Gear.Ports[j]
				if p.Direction.Takes() && r.LeadIn(it.ID+"."+p.ID) == nil && (prev == nil || sendsInto(r, prev, p)) {
					offer(quoted(it.Label)+" "+rig.PortName(p), bench.FamilyName(p.Connector.Family()))
				}
			}
		}
		for i := range grades {
			if g := &grades[i]; prev == nil || sendsBy(r, prev, g.family) {
				offer(g.name+" ", lang.Text("a lead"))
			}
		}
		for _, e := range owned(shelf) {
			if takesAny(&e.Gear, r, prev) {
				offer(e.Gear.Name+" ["+e.Gear.Name+"]", kind(&e.Gear))
			}
		}
	default:
		for i := range r.Items {
			offer(quoted(r.Items[i].Label), kind(&r.Items[i].Gear))
		}
		for _, e := range owned(shelf) {
			offer(e.Gear.Name+" ["+e.Gear.Name+"]", kind(&e.Gear))
		}
	}
	slices.SortStableFunc(out, func(a, b Completion) int { // what begins so before what has it within
		return cmp.Compare(b2i(!strings.HasPrefix(strings.ToLower(a.Text), word)),
			b2i(!strings.HasPrefix(strings.ToLower(b.Text), word)))
	})
	return out[:min(len(out), mostCompletions)]
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// owned is the shelf with what is owned first.
func owned(shelf []bench.Stocked) []bench.Stocked {
	out := slices.Clone(shelf)
	slices.SortStableFunc(out, func(a, b bench.Stocked) int { return b2i(b.Owned) - b2i(a.Owned) })
	return out
}

// before is the last thing a half line names; nil where it names none.
func before(r *rig.Rig, half string, shelf []bench.Stocked) *rig.Item {
	chain, why := chain(half, half, 0)
	if why != nil {
		return nil
	}
	rd := newReader(r, shelf)
	rd.now = &statement{text: half}
	for i := len(chain) - 1; i >= 0; i-- {
		e := &chain[i]
		if it, _, known := rd.thing(e); known {
			return it
		}
		name := e.sheet
		if name == "" {
			name = e.label
		}
		if tree, _ := rd.sheet(name); tree != nil {
			it := &rig.Item{ID: "new-thing", Label: e.label}
			if into(tree, &it.Gear) == nil {
				return it
			}
		}
	}
	return nil
}

// sendsInto tells whether a free socket of a thing goes into a socket.
func sendsInto(r *rig.Rig, it *rig.Item, p *gear.Port) bool {
	return slices.ContainsFunc(it.Gear.Ports, func(q gear.Port) bool {
		return q.Direction.Sends() && q.Connector.Family() == p.Connector.Family() && r.LeadIn(it.ID+"."+q.ID) == nil
	})
}

// sendsBy tells whether a thing has a free socket of a family to send by.
func sendsBy(r *rig.Rig, it *rig.Item, f gear.Family) bool {
	return slices.ContainsFunc(it.Gear.Ports, func(q gear.Port) bool {
		return q.Direction.Sends() && q.Connector.Family() == f && r.LeadIn(it.ID+"."+q.ID) == nil
	})
}

func takesAny(g *gear.Gear, r *rig.Rig, prev *rig.Item) bool {
	return slices.ContainsFunc(g.Ports, func(p gear.Port) bool {
		return p.Direction.Takes() && (prev == nil || sendsInto(r, prev, &p))
	})
}
