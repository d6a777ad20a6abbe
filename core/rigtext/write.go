package rigtext

import (
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"eventether/core/bench"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// Write is a rig as text: its things, how they hang together, what is chosen, and every fact that no sheet and no
// default says. Ids and where on a shelf a sheet came from are left out where names tell things apart.
func Write(r *rig.Rig) string {
	w := &writer{r: r, sheets: map[string]map[string]any{}, said: map[string]bool{}}
	w.line("%s", Head)
	w.line("rig: %s", nameText(r.Name))
	w.top()
	w.things()
	w.tethers()
	w.voices()
	w.ownSheets()
	return w.b.String()
}

type writer struct {
	b      strings.Builder
	r      *rig.Rig
	sheets map[string]map[string]any // the first sheet of every name, for those that are no general kind
	names  []string
	said   map[string]bool // items that have been named with their sheet
}

func (w *writer) line(format string, args ...any) {
	fmt.Fprintf(&w.b, format, args...)
	w.b.WriteByte('\n')
}

func (w *writer) facts(was, is map[string]any) {
	var out []pair
	differences("", was, is, &out)
	for _, p := range out {
		w.line("  %s: %s", p.path, p.value)
	}
}

func nameText(s string) string { return valueText(s) }

// top are the facts of the rig as a whole that a new one does not have.
func (w *writer) top() {
	was, is := treeOf(Blank()), treeOf(w.r)
	for _, k := range []string{"format", "name", "items", "leads", "sound"} {
		delete(was, k)
		delete(is, k)
	}
	show := is["show"].(map[string]any)
	for _, k := range naming {
		list, _ := show[k].([]any)
		renamed(list, func(id string) string {
			if it := w.r.Item(id); it != nil && !w.own(it) {
				return it.Label
			}
			return id
		})
	}
	var out []pair
	differences("", was, is, &out)
	for _, p := range out {
		w.line("%s: %s", p.path, p.value)
	}
	if s := w.r.Sound; s != nil {
		tree := treeOf(s)
		delete(tree, "paths")
		out = nil
		differences("sound.", map[string]any{}, tree, &out)
		if len(s.Paths) == 0 {
			out = append(out, pair{"sound.paths", "[]"})
		}
		for _, p := range out {
			w.line("%s: %s", p.path, p.value)
		}
	}
}

// sheetOf is the sheet an item is written with: what its name stands for in this text.
func (w *writer) sheetOf(g *gear.Gear) map[string]any {
	if k := general(g.Name); k != nil {
		return treeOf(*k)
	}
	key := strings.ToLower(g.Name)
	if w.sheets[key] == nil {
		w.sheets[key] = treeOf(*g)
		w.names = append(w.names, g.Name)
	}
	return w.sheets[key]
}

// item gives the tree of an item, and the one its name and sheet alone would make.
func (w *writer) item(it *rig.Item) (plain, whole map[string]any) {
	whole = treeOf(it)
	delete(whole, "shelf")
	delete(whole, "poweredBy")
	if set, ok := whole["set"].(map[string]any); ok && it.Set.RunsOn != "" {
		if delete(set, "runsOn"); len(set) == 0 {
			delete(whole, "set")
		}
	}
	plain = map[string]any{"id": whole["id"], "label": it.Label, "gear": w.sheetOf(&it.Gear)}
	if !w.own(it) {
		return plain, whole
	}
	plain["id"] = ""
	return plain, whole
}

// own tells whether an item has to be told by its id: another is called as it is, or as a part of it.
func (w *writer) own(it *rig.Item) bool {
	return slices.ContainsFunc(w.r.Items, func(o rig.Item) bool {
		return o.ID != it.ID && strings.EqualFold(o.Label, it.Label)
	})
}

// name is how an item is called in a line.
func (w *writer) name(it *rig.Item) string {
	if w.own(it) {
		return "#" + it.ID
	}
	if slices.ContainsFunc(w.r.Items, func(o rig.Item) bool { // else its socket may read as a part of the other's name
		return len(o.Label) > len(it.Label) && strings.EqualFold(o.Label[:len(it.Label)], it.Label) &&
			o.Label[len(it.Label)] == ' '
	}) {
		return valueJSON(it.Label)
	}
	return quoted(it.Label)
}

// quoted puts a name in quotes where it would read as something else.
func quoted(label string) string {
	_, isLead, unknown := leadIn(label)
	plain := !isLead && unknown == "" && !strings.ContainsAny(label, "\"<>[]:\\\n\r\t") && !strings.HasPrefix(label,
		"#") && !strings.HasPrefix(label, "voice ") && strings.TrimSpace(label) == label &&
		runs[strings.ToLower(label)] == ""
	if plain {
		return label
	}
	return valueJSON(label)
}

// sheetName is the name of a sheet as it stands in brackets.
func sheetName(name string) string {
	if strings.ContainsAny(name, "\"<>[]\\\n\r\t") || strings.TrimSpace(name) != name {
		return valueJSON(name)
	}
	return name
}

// declared is an item as it is named for the first time, with its sheet.
func (w *writer) declared(it *rig.Item) string {
	w.said[it.ID] = true
	return quoted(it.Label) + " [" + sheetName(it.Gear.Name) + "]"
}

// things are the items that have more to say than a line of a tether has room for, and those no lead joins.
func (w *writer) things() {
	joined := map[string]bool{}
	for i := range w.r.Leads {
		a, _ := rig.SplitRef(w.r.Leads[i].From)
		b, _ := rig.SplitRef(w.r.Leads[i].To)
		joined[a], joined[b] = true, true
	}
	w.line("")
	for i := range w.r.Items {
		it := &w.r.Items[i]
		w.line("%s", w.declared(it))
		plain, whole := w.item(it)
		w.facts(plain, whole)
	}
	for i := range w.r.Items { // what gives power may come later
		it := &w.r.Items[i]
		power := ""
		if it.Set != nil && it.Set.RunsOn != "" {
			power = " < " + it.Set.RunsOn
		}
		if by := w.r.Item(it.PoweredBy); by != nil {
			power += " < " + w.name(by)
		}
		if power != "" {
			w.line("%s%s", w.name(it), power)
		}
	}
}

// tethers are the leads: from where a picture begins on, as far as nothing has to be said of a lead.
func (w *writer) tethers() {
	w.line("")
	done := make([]bool, len(w.r.Leads))
	from := map[string][]int{}
	for i := range w.r.Leads {
		a, _ := rig.SplitRef(w.r.Leads[i].From)
		from[a] = append(from[a], i)
	}
	walk := func(at int) {
		l := &w.r.Leads[at]
		line := ""
		for {
			done[at] = true
			it, p := w.r.Port(l.From)
			to, q := w.r.Port(l.To)
			text, plain := w.lead(l)
			if line == "" {
				line = w.socket(it, p)
			}
			line += " > "
			if text != "" {
				line += text + " > "
			}
			line += w.socket(to, q)
			whole := treeOf(l)
			if !reflect.DeepEqual(plain, whole) {
				w.line("%s", line)
				w.facts(plain, whole)
				return
			}
			next := from[to.ID]
			if len(next) != 1 || done[next[0]] || to.IsHost() {
				w.line("%s", line)
				return
			}
			// A line that goes on names the socket a picture comes into; the one it leaves by is said where it begins.
			if leads := w.leaves(to); leads != 1 {
				w.line("%s", line)
				return
			}
			at = next[0]
			l = &w.r.Leads[at]
		}
	}
	for i := range w.r.Items {
		if w.r.Items[i].IsSource() {
			for _, at := range from[w.r.Items[i].ID] {
				if !done[at] {
					walk(at)
				}
			}
		}
	}
	for at := range w.r.Leads {
		if !done[at] {
			walk(at)
		}
	}
}

// leaves counts the sockets of an item a lead could leave by, free or not.
func (w *writer) leaves(it *rig.Item) (n int) {
	for i := range it.Gear.Ports {
		if it.Gear.Ports[i].Direction.Sends() {
			n++
		}
	}
	return n
}

// socket is an item with one of its sockets; of the computer that takes the pictures the socket alone says it.
func (w *writer) socket(it *rig.Item, p *gear.Port) string {
	name := rig.PortName(p)
	if at := portOf(it, name); at < 0 || it.Gear.Ports[at].ID != p.ID {
		name = p.ID
	}
	if text := w.name(it) + " " + name; !readsAsLead(text) {
		return text
	}
	return valueJSON(it.Label) + " " + name
}

func readsAsLead(text string) bool {
	_, is, _ := leadIn(text)
	return is
}

// lead is what a line says of a lead, and the tree that alone would make.
func (w *writer) lead(l *rig.Lead) (text string, plain map[string]any) {
	usual := bench.NewLead(w.r, l.From, l.To, l.ID)
	usual.From, usual.To, usual.AnySocket = l.From, l.To, false
	said := *usual
	if name := gradeName(l.Grade); name != "" && l.Grade != usual.Grade {
		text, said.Grade = name, l.Grade
	}
	if l.LengthM != usual.LengthM && l.LengthM == fact.Exactly(l.LengthM.Value) {
		n := strconv.FormatFloat(l.LengthM.Value, 'f', -1, 64)
		if text == "" {
			if text = gradeName(usual.Grade); text == "" {
				return "", treeOf(usual)
			}
		}
		text, said.LengthM = text+" "+n+" m", l.LengthM
	}
	return text, treeOf(said)
}

// voices are the ways of sound.
func (w *writer) voices() {
	if w.r.Sound == nil {
		return
	}
	w.line("")
	for i := range w.r.Sound.Paths {
		p := &w.r.Sound.Paths[i]
		line := "voice " + valueJSON(p.Voice)
		plain := map[string]any{"voice": p.Voice, "from": p.From}
		via := []any{}
		for _, id := range append([]string{p.From}, p.Via...) {
			if it := w.r.Item(id); it != nil {
				line += " > " + w.name(it)
			}
		}
		for _, id := range p.Via {
			via = append(via, id)
		}
		if len(via) > 0 {
			plain["via"] = via
		}
		w.line("%s", line)
		w.facts(plain, treeOf(p))
	}
}

// ownSheets are the sheets that are no general kind.
func (w *writer) ownSheets() {
	slices.Sort(w.names)
	for _, name := range w.names {
		tree := w.sheets[strings.ToLower(name)]
		kind, _ := tree["kind"].(string)
		w.line("")
		w.line("[%s] is a %s", sheetName(name), kind)
		w.facts(map[string]any{"kind": kind, "name": name}, tree)
	}
}
