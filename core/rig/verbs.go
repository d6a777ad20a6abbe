package rig

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/work"
)

// Verb is one thing an edit can do, in one row: the fields it reads, what it writes, what it touches, how it is done.
// Applying, judging what a change touches, the schema, the documentation and the checks all read this table: a new verb
// is one row.
type Verb struct {
	Do VerbName
	// Says is what it does, with the fields it reads by their names.
	Says string
	// Needs are the fields it cannot do without, May those it reads where they are given; names as in JSON.
	Needs, May []string
	// Example is an edit as it is written in JSON.
	Example string

	writes  part                 // which of the two long lists of a rig it writes into
	touches func(*Edit) []string // ids of what has to be judged anew, and only that; nil for everything
	rewires bool                 // the wiring may be another afterwards
	within  bool                 // nothing is written but what it touches, and nothing comes or goes
	turns   func(*Rig, *Edit) string
	do      func(*Rig, *Edit) error
}

// VerbName is the word an edit says what it does by.
type VerbName string

// part is which of the long lists of a rig is written; the others are shared with the rig an edit is made on.
type part uint8

const (
	inItems part = 1 << iota
	inLeads
	whereItsPath // the list its path begins with
)

// Touch is what an edit touches.
type Touch struct {
	IDs     []string // what has to be judged anew, and only that
	Rewires bool     // the wiring may be another afterwards
	Within  bool     // nothing is written but what it touches, and nothing comes or goes
	Known   bool     // false: everything may be another
}

// Touches is what an edit touches.
func (e *Edit) Touches() Touch {
	v := verbs[e.Do]
	if v == nil || v.touches == nil {
		return Touch{}
	}
	ids := v.touches(e)
	return Touch{ids, v.rewires, v.within, ids != nil}
}

func itsItem(e *Edit) []string { return []string{e.Item} }
func itsLead(e *Edit) []string { return []string{e.Lead} }

// itsPath is the item or lead a path begins with.
func itsPath(e *Edit) []string {
	parts := strings.SplitN(e.Path, "/", 3)
	if len(parts) < 3 || parts[0] != "items" && parts[0] != "leads" {
		return nil
	}
	return parts[1:2]
}

// Verbs are all an edit can do, in the order they are documented.
var Verbs = []Verb{
	{Do: "add", Says: "Put newItem in.", Needs: []string{"newItem"}, writes: inItems, do: (*Rig).add,
		Example: `{"do":"add","newItem":{"id":"stick-2","label":"Stick 2","gear":{"kind":"capture","name":"Capture stick"}}}`},
	{Do: "remove", Says: "Take item and its leads out.", Needs: []string{"item"}, writes: inItems | inLeads,
		do:      (*Rig).remove,
		Example: `{"do":"remove","item":"stick-2"}`},
	{Do: "lay", Says: "Put newLead in.", Needs: []string{"newLead"}, writes: inLeads, do: (*Rig).lay, turns: laid,
		Example: `{"do":"lay","newLead":{"id":"lead-9","from":"cam.hdmi","to":"stick.in","grade":"high-speed","lengthM":5}}`},
	{Do: "unplug", Says: "Take lead away.", Needs: []string{"lead"}, writes: inLeads, do: (*Rig).unplug,
		Example: `{"do":"unplug","lead":"lead-9"}`},
	{Do: "plug", Says: "Put end of lead into socket.", Needs: []string{"lead", "end", "socket"}, writes: inLeads,
		touches: itsLead, rewires: true, within: true, do: (*Rig).plug, turns: plugged,
		Example: `{"do":"plug","lead":"lead-9","end":"to","socket":"pc.back-2"}`},
	{Do: "lead", Says: "Replace lead by one of grade, lengthM, thin and adapters.", Needs: []string{"lead"},
		May: []string{"grade", "lengthM", "thin", "adapters"}, writes: inLeads, touches: itsLead, within: true,
		do:      (*Rig).replaceLead,
		Example: `{"do":"lead","lead":"lead-9","grade":"premium","lengthM":3}`},
	{Do: "tried", Says: "lead was tried at mhz: yes, it holds, or no.", Needs: []string{"lead", "mhz", "yes"},
		May: []string{"at"}, writes: inLeads, touches: itsLead, within: true, do: (*Rig).tried,
		Example: `{"do":"tried","lead":"lead-9","mhz":297,"yes":true,"at":"2026-09-01"}`},
	{Do: "swap", Says: "Give item the spec sheet gear, and the label name; its leads move to sockets of the same family.", Needs: []string{"item", "gear"}, May: []string{"name"}, writes: inItems | inLeads, touches: itsItem, rewires: true,
		do:      func(r *Rig, e *Edit) error { return r.onItem(e, r.swap) },
		Example: `{"do":"swap","item":"stick-2","gear":{"kind":"capture","name":"4K stick"}}`},
	{Do: "take", Says: "Give item the newer spec sheet gear of the shelf entry shelf; its settings are kept.",
		Needs: []string{"item", "gear"}, May: []string{"shelf"}, writes: inItems | inLeads,
		do:      func(r *Rig, e *Edit) error { return r.onItem(e, r.take) },
		Example: `{"do":"take","item":"cam","gear":{"kind":"camera","name":"Camcorder"},"shelf":{"id":"camcorder","revision":2}}`},
	{Do: "label", Says: "Call item name.", Needs: []string{"item", "name"}, writes: inItems, do: (*Rig).label,
		Example: `{"do":"label","item":"cam","name":"Bench camera"}`},
	{Do: "powered-by", Says: "item gets its power from the item word, or from nothing named.", Needs: []string{"item"},
		May: []string{"word"}, writes: inItems, do: (*Rig).poweredBy,
		Example: `{"do":"powered-by","item":"cam","word":"strip"}`},
	{Do: "mode", Says: "Set port of item to mode.", Needs: []string{"item", "port", "mode"}, writes: inItems,
		touches: itsItem, within: true, do: (*Rig).mode,
		Example: `{"do":"mode","item":"cam","port":"hdmi","mode":{"width":1920,"height":1080,"rate":"30000/1001"}}`},
	{Do: "deliver", Says: "What the program takes from port of item is deliver.", Needs: []string{"item", "port",
		"deliver"}, writes: inItems, touches: itsItem, within: true, do: (*Rig).deliver,
		Example: `{"do":"deliver","item":"stick","port":"usb","deliver":{"format":"NV12","width":1920,"height":1080}}`},
	{Do: "takes", Says: "port of item takes mode: yes, or no.", Needs: []string{"item", "port", "mode", "yes"},
		writes: inItems, touches: itsItem, within: true, do: (*Rig).takes,
		Example: `{"do":"takes","item":"stick","port":"in","mode":{"width":1920,"height":1080,"rate":"60"},"yes":false}`},
	{Do: "info-display", Says: "Set the information display of item: word is on or off.",
		Needs: []string{"item", "word"}, writes: inItems, touches: itsItem, within: true, do: (*Rig).infoDisplay,
		Example: `{"do":"info-display","item":"cam","word":"off"}`},
	{Do: "runs-on", Says: "item runs on word: battery, mains, usb or grip.", Needs: []string{"item", "word"},
		writes: inItems, touches: itsItem, within: true, do: (*Rig).runsOn,
		Example: `{"do":"runs-on","item":"cam","word":"mains"}`},
	{Do: "computes", Says: "The computer item can do what was measured, computes.",
		Needs: []string{"item", "computes"}, writes: inItems, do: (*Rig).computes,
		Example: `{"do":"computes","item":"pc","computes":{}}`},
	{Do: "fact", Says: "Set the number at path.", Needs: []string{"path", "fact"}, writes: whereItsPath,
		touches: itsPath, within: true, do: (*Rig).applyPath,
		Example: `{"do":"fact","path":"leads/lead-9/lengthM","fact":{"value":5,"from":"measured","at":"2026-09-01"}}`},
	{Do: "word", Says: "Set the choice at path.", Needs: []string{"path"}, May: []string{"word", "at"},
		writes: whereItsPath, touches: itsPath, within: true, do: (*Rig).applyPath,
		Example: `{"do":"word","path":"items/cam/clean","word":"clean"}`},
	{Do: "send", Says: "Change send of the destination name.", Needs: []string{"name", "send"},
		touches: func(*Edit) []string { return []string{"send"} }, within: true, do: (*Rig).send,
		Example: `{"do":"send","name":"Stream","send":{"width":1920,"height":1080,"rate":"30"}}`},
	{Do: "show", Says: "Replace the show.", Needs: []string{"show"}, do: func(r *Rig, e *Edit) error {
		r.Show = *e.Show
		return nil
	},
		Example: `{"do":"show","show":{"programme":{"width":1920,"height":1080,"rate":"30"},"minutes":90,"program":{"kind":"encoder"},"destinations":[]}}`},
	{Do: "sound", Says: "The ways of sound are sound, or described no more.", May: []string{"sound"},
		do:      func(r *Rig, e *Edit) error { r.Sound = e.Sound; return nil },
		Example: `{"do":"sound","sound":{"paths":[]}}`},
	{Do: "times", Says: "One's own times of work are times; 0 takes one away.", May: []string{"times"},
		do:      (*Rig).ownTimes,
		Example: `{"do":"times","times":{"mount":4}}`},
	{Do: "readings", Says: "The measurements of the line are readings, or none.", May: []string{"readings"},
		do:      (*Rig).readings,
		Example: `{"do":"readings","readings":[{"value":12.4,"at":"2026-11-20T19:00:00+01:00","by":"wired"}]}`},
	{Do: "name", Says: "Call the rig name.", Needs: []string{"name"}, do: func(r *Rig, e *Edit) error {
		r.Name = e.Name
		return nil
	},
		Example: `{"do":"name","name":"Village hall"}`},
}

// verbs are the same by name.
var verbs = func() map[VerbName]*Verb {
	out := make(map[VerbName]*Verb, len(Verbs))
	for i := range Verbs {
		out[Verbs[i].Do] = &Verbs[i]
	}
	return out
}()

// editFields are the fields of an edit with their meaning; given tells whether one is there.
var editFields = []struct {
	name, says string
	given      func(*Edit) bool
}{
	{"item", "id of an item", func(e *Edit) bool { return e.Item != "" }},
	{"port", "id of one of its sockets", func(e *Edit) bool { return e.Port != "" }},
	{"lead", "id of a lead", func(e *Edit) bool { return e.Lead != "" }},
	{"end", "from, the end nearer the lens, or to", func(e *Edit) bool { return e.End != "" }},
	{"socket", "item.socket", func(e *Edit) bool { return e.Socket != "" }},
	{"mode", "a picture: width, height, rate, chroma, bits", func(e *Edit) bool { return e.Mode != nil }},
	{"deliver", "a picture a device hands on: format, width, height, rate", func(e *Edit) bool {
		return e.Deliver != nil
	}},
	{"grade", "grade of a lead", func(e *Edit) bool { return e.Grade != "" }},
	{"lengthM", "metres, with its bounds and source", func(e *Edit) bool { return e.LengthM != nil }},
	{"thin", "a thin lead made for small sockets", func(e *Edit) bool { return e.Thin != nil }},
	{"adapters", "adapters in the lead, 0 to 10", func(e *Edit) bool { return e.Adapters != nil }},
	{"path", "path of a field, as in docs/formats", func(e *Edit) bool { return e.Path != "" }},
	{"fact", "a number with its bounds and source", func(e *Edit) bool { return e.Fact != nil }},
	{"word", "a choice, an id or a date, by the verb", func(e *Edit) bool { return e.Word != "" }},
	{"mhz", "character rate in MHz, half the bit rate of SDI", func(e *Edit) bool { return e.MHz > 0 }},
	{"at", "day of a trial", func(e *Edit) bool { return e.At != "" }},
	{"yes", "true or false", func(e *Edit) bool { return e.Yes != nil }},
	{"send", "the sent picture", func(e *Edit) bool { return e.Send != nil }},
	{"gear", "a spec sheet", func(e *Edit) bool { return e.Gear != nil }},
	{"shelf", "where on the shelf the sheet is from", func(e *Edit) bool { return e.Shelf != nil }},
	{"name", "a name", func(e *Edit) bool { return e.Name != "" }},
	{"newItem", "a whole item", func(e *Edit) bool { return e.NewItem != nil }},
	{"newLead", "a whole lead", func(e *Edit) bool { return e.NewLead != nil }},
	{"show", "the whole show", func(e *Edit) bool { return e.Show != nil }},
	{"computes", "what a computer was measured to do", func(e *Edit) bool { return e.Computes != nil }},
	{"times", "minutes by kind of work", func(e *Edit) bool { return e.Times != nil }},
	{"readings", "measurements of the line: value in Mb/s, at, by wired or air", func(e *Edit) bool {
		return e.Readings != nil
	}},
	{"sound", "the ways of sound", func(e *Edit) bool { return e.Sound != nil }},
}

// EditField says what a field of an edit means; "" for one there is none of.
func EditField(name string) string {
	for i := range editFields {
		if editFields[i].name == name {
			return editFields[i].says
		}
	}
	return ""
}

// lacks names what a verb needs and an edit does not give.
func (v *Verb) lacks(e *Edit) (out []string) {
	for _, need := range v.Needs {
		for i := range editFields {
			if editFields[i].name == need && !editFields[i].given(e) {
				out = append(out, need)
			}
		}
	}
	return out
}

func noItem(id string) error { return fmt.Errorf("item %q: not in this rig", id) }

func (r *Rig) send(e *Edit) error {
	for i := range r.Show.Destinations {
		if r.Show.Destinations[i].Name == e.Name {
			r.Show.Destinations = slices.Clone(r.Show.Destinations)
			r.Show.Destinations[i].Send = *e.Send
			return nil
		}
	}
	return fmt.Errorf("destination %q: not in this show", e.Name)
}

func (r *Rig) add(e *Edit) error {
	r.Items = append(r.Items, *e.NewItem)
	return nil
}

func (r *Rig) lay(e *Edit) error {
	r.Leads = append(r.Leads, *e.NewLead)
	return nil
}

func (r *Rig) remove(e *Edit) error {
	if r.Item(e.Item) == nil {
		return noItem(e.Item)
	}
	r.Items = slices.DeleteFunc(r.Items, func(it Item) bool { return it.ID == e.Item })
	r.Leads = slices.DeleteFunc(r.Leads, func(l Lead) bool {
		a, _ := SplitRef(l.From)
		b, _ := SplitRef(l.To)
		return a == e.Item || b == e.Item
	})
	r.Show.Layouts = without(r.Show.Layouts, e.Item)
	if r.Sound != nil {
		s := *r.Sound
		s.Paths = slices.DeleteFunc(slices.Clone(s.Paths), func(p SoundPath) bool {
			return p.From == e.Item || slices.Contains(p.Via, e.Item)
		})
		r.Sound = &s
	}
	return nil
}

// readings takes the measurements of the line for those there were.
func (r *Rig) readings(e *Edit) error {
	up := Uplink{}
	if r.Uplink != nil {
		up = *r.Uplink
	}
	for i, m := range e.Readings {
		if f := FieldAt("uplink/reading"); !(m.Value >= f.Low && m.Value <= f.High) {
			return fmt.Errorf("measurement %d: %g Mb/s: want %g to %g", i+1, m.Value, f.Low, f.High)
		}
		if m.By != "" && m.By != "wired" && m.By != "air" {
			return fmt.Errorf("measurement %d: %q: want wired or air", i+1, m.By)
		}
	}
	if up.MeasuredMbps = e.Readings; len(e.Readings) == 0 {
		up.MeasuredMbps = nil
	}
	r.Uplink = &up
	return nil
}

func (r *Rig) ownTimes(e *Edit) error {
	own := maps.Clone(r.WorkMinutes)
	if own == nil {
		own = work.Times{}
	}
	for kind, m := range e.Times {
		if own[kind] = m; m == 0 {
			delete(own, kind)
		}
	}
	if r.WorkMinutes = own; len(own) == 0 {
		r.WorkMinutes = nil
	}
	return nil
}

// onLead does something to the lead of an edit.
func (r *Rig) onLead(e *Edit, do func(*Lead) error) error {
	l := r.Lead(e.Lead)
	if l == nil {
		return fmt.Errorf("lead %q: not in this rig", e.Lead)
	}
	return do(l)
}

func (r *Rig) unplug(e *Edit) error {
	return r.onLead(e, func(*Lead) error {
		r.Leads = slices.DeleteFunc(r.Leads, func(x Lead) bool { return x.ID == e.Lead })
		return nil
	})
}

func (r *Rig) plug(e *Edit) error {
	return r.onLead(e, func(l *Lead) error {
		if _, p := r.Port(e.Socket); p == nil {
			return fmt.Errorf("socket %q: not in this rig", e.Socket)
		}
		l.AnySocket = false
		switch e.End {
		case "from":
			l.From = e.Socket
		case "to":
			l.To = e.Socket
		default:
			return fmt.Errorf("end %q: want from or to", e.End)
		}
		return nil
	})
}

func (r *Rig) tried(e *Edit) error {
	return r.onLead(e, func(l *Lead) error {
		l.Tried = &Tried{MHz: e.MHz, Holds: *e.Yes, At: e.At}
		return nil
	})
}

// onItem does something to the item of an edit.
func (r *Rig) onItem(e *Edit, do func(*Item, *Edit) error) error {
	it := r.Item(e.Item)
	if it == nil {
		return noItem(e.Item)
	}
	return do(it, e)
}

// setting changes how the item of an edit is set.
func (r *Rig) setting(e *Edit, do func(*Item, *Set) error) error {
	return r.onItem(e, func(it *Item, e *Edit) error {
		set := Set{}
		if it.Set != nil {
			set = *it.Set
		}
		if err := do(it, &set); err != nil {
			return err
		}
		it.Set = &set
		return nil
	})
}

// itsPort tells whether the port of an edit is one of an item.
func (e *Edit) itsPort(it *Item) error {
	if it.Gear.Port(e.Port) < 0 {
		return fmt.Errorf("port %q: %q has %s", e.Port, e.Item, portList(&it.Gear))
	}
	return nil
}

func (r *Rig) mode(e *Edit) error {
	return r.setting(e, func(it *Item, set *Set) error {
		if set.Output = maps.Clone(set.Output); set.Output == nil {
			set.Output = map[string]picture.Mode{}
		}
		set.Output[e.Port] = *e.Mode
		return e.itsPort(it)
	})
}

func (r *Rig) deliver(e *Edit) error {
	return r.setting(e, func(it *Item, set *Set) error {
		if set.Deliver = maps.Clone(set.Deliver); set.Deliver == nil {
			set.Deliver = map[string]Deliver{}
		}
		set.Deliver[e.Port] = *e.Deliver
		return e.itsPort(it)
	})
}

func (r *Rig) infoDisplay(e *Edit) error {
	return r.setting(e, func(_ *Item, set *Set) error {
		set.InfoDisplay = e.Word
		return e.oneOf("on", "off")
	})
}

func (r *Rig) runsOn(e *Edit) error {
	return r.setting(e, func(_ *Item, set *Set) error {
		set.RunsOn = e.Word
		return e.oneOf("battery", "mains", "usb", "grip")
	})
}

// oneOf tells whether the word of an edit is one of some.
func (e *Edit) oneOf(words ...string) error {
	if slices.Contains(words, e.Word) {
		return nil
	}
	last := len(words) - 1
	return fmt.Errorf("word %q: want %s or %s", e.Word, strings.Join(words[:last], ", "), words[last])
}

func (r *Rig) takes(e *Edit) error {
	return r.onItem(e, func(it *Item, e *Edit) error { return it.takes(e) })
}

func (r *Rig) take(it *Item, e *Edit) error {
	kept := it.Set
	if err := r.swap(it, e); err != nil {
		return err
	}
	it.Shelf, it.Set = e.Shelf, keepFitting(kept, &it.Gear)
	return nil
}

func (r *Rig) poweredBy(e *Edit) error {
	return r.onItem(e, func(it *Item, e *Edit) error {
		if e.Word != "" && r.Item(e.Word) == nil {
			return noItem(e.Word)
		}
		it.PoweredBy = e.Word
		return nil
	})
}

func (r *Rig) label(e *Edit) error {
	return r.onItem(e, func(it *Item, e *Edit) error {
		it.Label = e.Name
		return nil
	})
}

func (r *Rig) computes(e *Edit) error {
	return r.onItem(e, func(it *Item, e *Edit) error {
		if it.Gear.Kind != gear.Computer {
			return fmt.Errorf("%q is a %s, not a computer", e.Item, it.Gear.Kind)
		}
		it.Gear.Computes = e.Computes
		return nil
	})
}

// VerbsMarkdown is what edits can do, as docs/edits.md has it.
func VerbsMarkdown() string {
	var b strings.Builder
	b.WriteString("# Edits\n\nEvery change to a rig, whether a fix, an answer or an act of the board, is a list of edits. An edit says what it does by `do`; which\nfields it reads follows from that. Edits of one change are made in order, and are kept together or not at all. Made by\n`make generate` from the table in `core/rig/verbs.go`.\n")
	for i := range Verbs {
		v := &Verbs[i]
		fmt.Fprintf(&b, "\n## %s\n\n%s\n\n", v.Do, v.Says)
		for _, name := range v.Needs {
			fmt.Fprintf(&b, "- `%s`: %s\n", name, EditField(name))
		}
		for _, name := range v.May {
			fmt.Fprintf(&b, "- `%s`, where it is given: %s\n", name, EditField(name))
		}
		fmt.Fprintf(&b, "\n```json\n%s\n```\n", v.Example)
	}
	return b.String()
}
