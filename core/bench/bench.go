// Package bench answers: what can be done by hand at a place of a rig, and which edits does it take? An act is what
// somebody does in one go, such as putting one more camera there with its whole way to the computer; what comes of it
// is a list of edits and, in words, what was decided and what is left loose.
package bench

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/verdict"
)

// Act is one thing done by hand. At is an item, a lead, or a socket (item.socket), by what is done.
type Act struct {
	Do    string `json:"do" enum:"more,replace,same,between,out,connect,again"`
	At    string `json:"at,omitempty" maxLength:"130" doc:"An item; of between a lead; of connect a socket, or an item that picks up sound"`
	To    string `json:"to,omitempty" maxLength:"130" doc:"Of connect: the other socket, or the item its sound goes into"`
	Entry string `json:"entry,omitempty" maxLength:"60" doc:"The thing on the shelf"`
	Count int    `json:"count,omitempty" minimum:"0" maximum:"12" doc:"Of more: how many; 1 when not said"`
	Alike bool   `json:"alike,omitempty" doc:"Of replace and same: every item that is alike"`
	Whole bool   `json:"whole,omitempty" doc:"Of out: with everything that serves nothing else"`
}

// acts are the things that can be done, in one row each: what it needs, and how it is done.
var acts = map[string]struct {
	entry, item, lead bool // it needs a thing of the shelf; At is an item, or a lead
	do                func(h *Hand, a *Act, it *rig.Item, l *rig.Lead, e *Stocked) error
}{
	// Things come in, sources with their whole way to the computer, others plugged in where they are plugged in as a
	// rule.
	"more": {entry: true, do: func(h *Hand, a *Act, _ *rig.Item, _ *rig.Lead, e *Stocked) error {
		return h.more(e, max(1, a.Count))
	}},
	// Another thing in its place; leads move to sockets that fit, what does not fit is left loose.
	"replace": {entry: true, item: true, do: func(h *Hand, a *Act, it *rig.Item, _ *rig.Lead, e *Stocked) error {
		return h.forAll(it, a.Alike, func(it *rig.Item) error { return h.replace(it, e) })
	}},
	// It is a thing of the shelf; what was measured in the rig is kept.
	"same": {entry: true, item: true, do: func(h *Hand, a *Act, it *rig.Item, _ *rig.Lead, e *Stocked) error {
		return h.forAll(it, a.Alike, func(it *rig.Item) error { return h.same(it, e) })
	}},
	"between": {entry: true, lead: true, do: func(h *Hand, _ *Act, _ *rig.Item, l *rig.Lead, e *Stocked) error {
		return h.between(l, e)
	}},
	// What hung on it is led past it where that fits, else left loose.
	"out": {item: true, do: func(h *Hand, a *Act, it *rig.Item, _ *rig.Lead, _ *Stocked) error {
		if a.Whole {
			return h.outWhole(it)
		}
		return h.out(it)
	}},
	// One socket to another; of sound, what picks it up into what it goes through.
	"connect": {do: func(h *Hand, a *Act, _ *rig.Item, _ *rig.Lead, _ *Stocked) error {
		return h.connectAct(a.At, a.To)
	}},
	"again": {item: true, do: func(h *Hand, _ *Act, it *rig.Item, _ *rig.Lead, _ *Stocked) error {
		return h.again(it)
	}},
}

// Stocked is a thing on the shelf.
type Stocked struct {
	gear.Entry
	Revision int
}

// Done is an act as edits, with what was decided and what is left loose.
type Done struct {
	Edits []rig.Edit `json:"edits"`
	What  string     `json:"what" doc:"The act in words"`
	Notes []string   `json:"notes" doc:"What was decided, and what is left loose"`
	Items []string   `json:"items" doc:"Ids of the items that came in"`
}

// Refusal is an act that cannot be done, in words for whoever did it.
type Refusal struct{ Why string }

func (r *Refusal) Error() string { return r.Why }

func refuse(format string, args ...string) error { return &Refusal{lang.Text(format, args...)} }

// Do turns an act into edits. An error is a *Refusal.
func Do(r *rig.Rig, a Act, shelf []Stocked) (*Done, error) {
	h := New(r, shelf)
	if err := h.act(&a); err != nil {
		return nil, err
	}
	if problems := rig.Check(h.r); len(problems) > 0 {
		return nil, &Refusal{InWords(h.r, problems[0])}
	}
	return &h.done, nil
}

// Hand is an act under way: the rig as far as it is done.
type Hand struct {
	r     *rig.Rig
	shelf []Stocked
	done  Done
}

// New begins an act on a rig.
func New(r *rig.Rig, shelf []Stocked) *Hand {
	return &Hand{r: r, shelf: shelf, done: Done{Edits: []rig.Edit{}, Notes: []string{}, Items: []string{}}}
}

// Rig is the rig as far as the act is done.
func (h *Hand) Rig() *rig.Rig { return h.r }

// Done is what was done so far.
func (h *Hand) Done() *Done { return &h.done }

// Edit makes edits of the act.
func (h *Hand) Edit(edits ...rig.Edit) error { return h.do(edits...) }

// Put adds an item.
func (h *Hand) Put(it rig.Item) error { return h.put(it) }

// ItemOf is a new item of a thing on the shelf, not put in yet.
func (h *Hand) ItemOf(e *Stocked) rig.Item { return h.itemOf(e, false) }

// Way gives an item its way to the computer, as far as it has one.
func (h *Hand) Way(id string) error { return h.lead(id) }

// Socket is the free socket of a computer a plug goes into, "" where there is none.
func (h *Hand) Socket(it *rig.Item, p *gear.Port) string { return h.socket(it, p) }

// LeadID is an id no lead has yet.
func (h *Hand) LeadID() string { return h.leadID() }

func (h *Hand) act(a *Act) error {
	kind, known := acts[a.Do]
	if !known {
		return refuse("%s is nothing that can be done at the board", a.Do)
	}
	var entry *Stocked
	if a.Entry != "" {
		at := slices.IndexFunc(h.shelf, func(e Stocked) bool { return e.ID == a.Entry })
		if at < 0 {
			return refuse("%s is not on the shelf", a.Entry)
		}
		entry = &h.shelf[at]
	}
	it, lead := h.r.Item(a.At), h.r.Lead(a.At)
	switch {
	case kind.entry && entry == nil:
		return refuse("choose a thing of the shelf first")
	case kind.item && it == nil:
		return refuse("%s is not in this rig any more", a.At)
	case kind.lead && lead == nil:
		return refuse("%s is no lead of this rig any more", a.At)
	}
	return kind.do(h, a, it, lead, entry)
}

// do makes an edit of the rig as far as it is done.
func (h *Hand) do(edits ...rig.Edit) error {
	after, err := rig.Apply(h.r, edits...)
	if err != nil {
		return &Refusal{errors.Unwrap(err).Error()} // without which edit of the act it was
	}
	h.r = after
	h.done.Edits = append(h.done.Edits, edits...)
	return nil
}

func (h *Hand) note(format string, args ...string) {
	h.done.Notes = append(h.done.Notes, lang.Text(format, args...))
}

// try does something to a copy of the hand, to be taken or dropped.
func (h *Hand) try(do func(*Hand) error) (*Hand, error) {
	c := *h
	c.done.Edits, c.done.Notes, c.done.Items = slices.Clone(h.done.Edits), slices.Clone(h.done.Notes),
		slices.Clone(h.done.Items)
	return &c, do(&c)
}

// broken is how many limits a rig snaps, and how many are untested.
func broken(r *rig.Rig) (snapped, untested int) {
	judge.LookRig(r, func(v *verdict.Verdict) { snapped, untested = v.Breaks() })
	return snapped, untested
}

func (h *Hand) itemID(stem string) string {
	return rig.FreshID(stem, func(id string) bool { return h.r.Item(id) != nil })
}

func (h *Hand) leadID() string {
	n := len(h.r.Leads) + 1
	return rig.FreshID(fmt.Sprintf("lead-%d", n), func(id string) bool { return h.r.Lead(id) != nil })
}

// label is a name no item has yet; numbered says that it is one of several.
func (h *Hand) label(name string, numbered bool) string {
	has := func(l string) bool {
		return slices.ContainsFunc(h.r.Items, func(it rig.Item) bool { return strings.EqualFold(it.Label, l) })
	}
	first, size := utf8.DecodeRuneInString(name)
	name = string(unicode.ToUpper(first)) + name[size:]
	n := 1
	if !numbered {
		if !has(name) {
			return name
		}
		n = 2
	}
	for ; ; n++ {
		if l := fmt.Sprintf("%s %d", name, n); !has(l) {
			return l
		}
	}
}

// left is how many of a thing are owned and not in the rig.
func (h *Hand) left(e *Stocked) int {
	if !e.Owned {
		return 0
	}
	n := max(1, e.Count)
	for i := range h.r.Items {
		if s := h.r.Items[i].Shelf; s != nil && s.ID == e.ID {
			n--
		}
	}
	return n
}

// itemOf is a new item of a thing on the shelf.
func (h *Hand) itemOf(e *Stocked, numbered bool) rig.Item {
	it := rig.Item{ID: h.itemID(gear.Slug(e.Gear.Name)), Label: h.label(e.Gear.Name, numbered), Gear: e.Gear}
	if e.Revision > 0 {
		it.Shelf = &rig.ShelfRef{ID: e.ID, Revision: e.Revision}
	}
	if h.left(e) <= 0 {
		it.Owned, it.Price = new(false), e.Price
		h.note("%s is not owned: it has to be got", it.Label)
	}
	return it
}

// put adds an item.
func (h *Hand) put(it rig.Item) error {
	h.done.Items = append(h.done.Items, it.ID)
	return h.do(rig.Edit{Do: "add", NewItem: &it})
}

func (h *Hand) forAll(it *rig.Item, alike bool, do func(*rig.Item) error) error {
	ids := []string{it.ID}
	if alike {
		ids = Alike(h.r, it)
	}
	for _, id := range ids {
		if err := do(h.r.Item(id)); err != nil {
			return err
		}
	}
	return nil
}

// Alike are the ids of all items of the kind and name of one, itself among them.
func Alike(r *rig.Rig, it *rig.Item) (ids []string) {
	for i := range r.Items {
		if o := &r.Items[i]; o.Gear.Kind == it.Gear.Kind && o.Gear.Name == it.Gear.Name && o.Role == it.Role {
			ids = append(ids, o.ID)
		}
	}
	return ids
}

// InWords is a problem of a rig without the path to where it stands: the thing, then what is wrong with it.
func InWords(r *rig.Rig, p rig.Problem) string {
	name := ""
	if rest, ok := strings.CutPrefix(p.Place, "items["); ok {
		var n int
		if _, err := fmt.Sscanf(rest, "%d", &n); err == nil && n < len(r.Items) {
			name = r.Items[n].Label + ": "
		}
	}
	return name + p.Text
}
