package rigtext

import (
	"slices"
	"strings"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/rig"
)

// sheet finds a sheet by its name: of the text itself, of the shelf, a general kind.
func (r *reader) sheet(name string) (tree map[string]any, e *bench.Stocked) {
	if tree := r.sheets[strings.ToLower(name)]; tree != nil {
		return tree, nil
	}
	for i := range r.shelf {
		if strings.EqualFold(r.shelf[i].Gear.Name, name) {
			return treeOf(r.shelf[i].Gear), &r.shelf[i]
		}
	}
	if g := general(name); g != nil {
		return treeOf(*g), nil
	}
	return nil, nil
}

// general is a general kind by its name.
func general(name string) *gear.Gear {
	for _, e := range gear.Starter() {
		if strings.EqualFold(e.Gear.Name, name) {
			return &e.Gear
		}
	}
	for _, list := range [][]gear.Generic{gear.Sources, gear.Computers, {gear.Stick, gear.SDIBox, gear.PoweredHub,
		gear.SpareHub}} {
		for i := range list {
			if strings.EqualFold(list[i].Gear.Name, name) {
				return &list[i].Gear
			}
		}
	}
	return nil
}

// thing finds what an element names: an item, and a socket where one is said. known is false where it names nothing.
func (r *reader) thing(e *element) (it *rig.Item, socket span, known bool) {
	rg := r.Rig()
	if id, ok := strings.CutPrefix(e.label, "#"); ok && !e.quoted {
		id, rest, _ := strings.Cut(id, " ")
		if it := rg.Item(id); it != nil {
			return it, trimmed(rest, e.to-len(rest)), true
		}
	}
	best := -1
	for i := range rg.Items {
		l := rg.Items[i].Label
		switch {
		case strings.EqualFold(l, e.label):
			return &rg.Items[i], e.rest, true
		case e.quoted || e.bracket:
		case len(e.label) > len(l) && strings.EqualFold(e.label[:len(l)], l) && e.label[len(l)] == ' ':
			if best < 0 || len(l) > len(rg.Items[best].Label) {
				best = i
			}
		}
	}
	if best >= 0 {
		n := len(rg.Items[best].Label)
		return &rg.Items[best], trimmed(e.label[n:], e.from+n), true
	}
	if e.quoted || e.bracket {
		return nil, span{}, false
	}
	for i := range rg.Items { // a socket of the computer that takes the pictures
		if it := &rg.Items[i]; it.IsHost() && portOf(it, e.label) >= 0 {
			return it, e.span, true
		}
	}
	return nil, span{}, false
}

// portOf finds a socket of an item by its name, its id, or what it is where there is only one of that; -1 for none.
func portOf(it *rig.Item, name string) int {
	for i := range it.Gear.Ports {
		if p := &it.Gear.Ports[i]; strings.EqualFold(rig.PortName(p), name) || strings.EqualFold(p.ID, name) {
			return i
		}
	}
	at := -1
	for i := range it.Gear.Ports {
		if strings.EqualFold(bench.FamilyName(it.Gear.Ports[i].Connector.Family()), name) {
			if at >= 0 {
				return -1
			}
			at = i
		}
	}
	return at
}

// newThing puts a new item in, of the sheet an element names.
func (r *reader) newThing(e *element, label, sheet string) *rig.Item {
	tree, entry := r.sheet(sheet)
	if tree == nil {
		at := e.span
		if e.bracket {
			open := strings.Index(e.text, "[")
			at = span{sheet, e.from + open, e.from + strings.Index(e.text, "]") + 1}
		}
		r.bad(at, r.nearest(sheet), "no thing on the shelf is called “%s”", sheet)
		return nil
	}
	var g gear.Gear
	if err := into(tree, &g); err != nil {
		r.bad(e.span, nil, "%s", plainError(err))
		return nil
	}
	it := rig.Item{Gear: g}
	if entry != nil && !r.whole {
		it = r.ItemOf(entry)
	}
	if label != "" {
		it.Label = label
	} else if it.Label == "" {
		it.Label = sheet
	}
	it.ID = rig.FreshID(gear.Slug(it.Label), func(id string) bool { return r.Rig().Item(id) != nil })
	if g.Kind == gear.Computer && slices.ContainsFunc(r.Rig().Items, func(o rig.Item) bool { return o.IsHost() }) &&
		!r.whole {
		it.Role = "source"
	}
	if err := r.Put(it); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
		return nil
	}
	r.fresh = append(r.fresh, it.ID)
	return r.Rig().Item(it.ID)
}

// nearest are names of sheets that share a word with what was typed, at most five.
func (r *reader) nearest(name string) []string {
	var out []string
	for _, word := range strings.Fields(strings.ToLower(name)) {
		for i := range r.shelf {
			if n := r.shelf[i].Gear.Name; len(word) > 2 && strings.Contains(strings.ToLower(n), word) &&
				!slices.Contains(out, n) && len(out) < 5 {
				out = append(out, n)
			}
		}
	}
	return out
}

// find is the item an element names, put in where it is new.
func (r *reader) find(e *element) (it *rig.Item, socket span) {
	if r.whole && e.bracket { // a whole rig names every thing once with its kind, whatever it is called
		return r.newThing(e, e.label, e.sheet), e.rest
	}
	it, socket, known := r.thing(e)
	switch {
	case known && e.bracket && !strings.EqualFold(it.Gear.Name, e.sheet):
		r.bad(e.span, nil, "%s is a %s already: two things of one name cannot be told apart", it.Label, it.Gear.Name)
		return nil, span{}
	case known:
		return it, socket
	case e.bracket:
		return r.newThing(e, e.label, e.sheet), e.rest
	}
	if tree, _ := r.sheet(e.label); tree != nil { // a thing called as its kind is
		return r.newThing(e, "", e.label), span{}
	}
	if n := r.kindBefore(e.label); n > 0 && !e.quoted {
		return r.newThing(e, "", e.label[:n]), trimmed(e.label[n:], e.from+n)
	}
	return nil, span{}
}

// kindBefore is how much of what was typed is the name of a kind, with one of its sockets behind it; 0 for none.
func (r *reader) kindBefore(label string) (n int) {
	for i := range r.shelf {
		g := &r.shelf[i].Gear
		if k := len(g.Name); k > n && len(label) > k+1 && strings.EqualFold(label[:k], g.Name) && label[k] == ' ' &&
			portOf(&rig.Item{Gear: *g}, strings.TrimSpace(label[k:])) >= 0 {
			n = k
		}
	}
	return n
}

// portNames are the sockets of an item as they are called.
func portNames(it *rig.Item) (out []string) {
	for i := range it.Gear.Ports {
		out = append(out, rig.PortName(&it.Gear.Ports[i]))
	}
	return out
}
