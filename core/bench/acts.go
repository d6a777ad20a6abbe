package bench

import (
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

// replace puts a thing of the shelf in an item's place. Leads move to sockets that fit; what fits nowhere is taken out,
// and what it led to is named.
func (h *Hand) replace(it *rig.Item, e *Stocked) error {
	old := it.Label
	if err := h.fitLeads(it, &e.Gear); err != nil {
		return err
	}
	called := old
	if plainName(old, it.Gear.Name) {
		called = h.label(e.Gear.Name, false)
	}
	edit := rig.Edit{Do: "take", Item: it.ID, Gear: &e.Gear}
	if e.Revision > 0 {
		edit.Shelf = &rig.ShelfRef{ID: e.ID, Revision: e.Revision}
	}
	owned := h.left(e) > 0
	if err := h.do(edit); err != nil {
		return err
	}
	if called != old {
		if err := h.do(rig.Edit{Do: "label", Item: it.ID, Name: called}); err != nil {
			return err
		}
	}
	if err := h.has(it.ID, owned, e); err != nil {
		return err
	}
	h.done.Items = append(h.done.Items, it.ID)
	h.done.What = lang.Text("Replace %s by %s", old, e.Gear.Name)
	return nil
}

// plainName tells whether a label is only what the thing is called, with a number or not.
func plainName(label, name string) bool {
	rest, ok := strings.CutPrefix(strings.ToLower(label), strings.ToLower(name))
	return ok && strings.Trim(rest, " 0123456789") == ""
}

// has says whether a replaced item is there, or has to be got for its price.
func (h *Hand) has(id string, owned bool, e *Stocked) error {
	word := "owned"
	if !owned {
		word = "to-buy"
		h.note("%s is not owned: it has to be got", h.r.Item(id).Label)
	}
	if e.Price != nil && !owned {
		price, err := e.Price.Amount.MarshalText()
		if err != nil {
			return &Refusal{err.Error()}
		}
		if err := h.do(rig.Edit{Do: "word", Path: "items/" + id + "/price",
			Word: string(price) + " " + e.Price.Currency}); err != nil {
			return err
		}
	}
	if was := h.r.Item(id).Owned; (was == nil || *was) == owned {
		return nil
	}
	return h.do(rig.Edit{Do: "word", Path: "items/" + id + "/owned", Word: word})
}

// fitLeads takes the leads out of an item that fit no socket of another sheet.
func (h *Hand) fitLeads(it *rig.Item, g *gear.Gear) error {
	used := map[int]bool{}
	fits := func(was *gear.Port) bool {
		at := -1
		for i := range g.Ports {
			if p := &g.Ports[i]; !used[i] && p.Replaces(was) && (at < 0 || p.ID == was.ID) {
				at = i
			}
		}
		if at >= 0 {
			used[at] = true
		}
		return at >= 0
	}
	for _, l := range slices.Clone(h.r.Leads) {
		for _, ref := range []string{l.From, l.To} {
			id, port := rig.SplitRef(ref)
			if id != it.ID {
				continue
			}
			if _, p := h.r.Port(ref); p == nil || fits(p) {
				continue
			}
			other, _ := h.r.Port(otherEnd(&l, ref))
			h.note("%s has no socket for the lead in %s: %s is loose now", g.Name, port, other.Label)
			if err := h.do(rig.Edit{Do: "unplug", Lead: l.ID}); err != nil {
				return err
			}
		}
	}
	return nil
}

// same says that an item is a thing of the shelf: its sheet is taken, and what was measured in this rig is kept.
func (h *Hand) same(it *rig.Item, e *Stocked) error {
	if it.Gear.Kind != e.Gear.Kind {
		return refuse("%s is a %s and %s a %s: replace it instead", it.Label, KindName(it.Gear.Kind), e.Gear.Name,
			KindName(e.Gear.Kind))
	}
	measured := []rig.NamedFact{}
	for _, f := range h.r.Facts() {
		if f.Of == it.ID && strings.HasPrefix(f.Path, "items/") && f.Fact.From == fact.Measured {
			measured = append(measured, f)
		}
	}
	if err := h.fitLeads(it, &e.Gear); err != nil {
		return err
	}
	edit := rig.Edit{Do: "take", Item: it.ID, Gear: &e.Gear}
	if e.Revision > 0 {
		edit.Shelf = &rig.ShelfRef{ID: e.ID, Revision: e.Revision}
	}
	if err := h.do(edit); err != nil {
		return err
	}
	for _, f := range measured {
		now, missing := h.r.FactAt(f.Path)
		if missing == nil && now == f.Fact {
			continue
		}
		own := f.Fact
		if c, err := h.try(func(c *Hand) error { return c.do(rig.Edit{Do: "fact", Path: f.Path, Fact: &own}) }); err ==
			nil && len(rig.Check(c.r)) == 0 {
			*h = *c
			was := lang.Text("nothing")
			if missing == nil {
				was = said(now.Value, f.Field.Unit)
			}
			h.note("kept: %s is %s as measured here; the sheet says %s", f.Field.Wording(h.r, f.Of, f.Sub).Name,
				said(own.Value, f.Field.Unit), was)
		}
	}
	h.done.Items = append(h.done.Items, it.ID)
	h.done.What = lang.Text("%s is %s", it.Label, e.Gear.Name)
	return nil
}

// between puts a thing into a lead: what came by the lead goes into it, and a new lead goes on from it to where the
// lead went.
func (h *Hand) between(l *rig.Lead, e *Stocked) error {
	from, to := l.From, l.To
	_, fp := h.r.Port(from)
	_, tp := h.r.Port(to)
	if fp == nil || tp == nil {
		return refuse("the lead ends nowhere")
	}
	in, out := Through(&e.Gear, fp, tp)
	switch {
	case in == nil:
		return refuse("%s has nothing that takes %s", e.Gear.Name, FamilyName(fp.Connector.Family()))
	case out == nil:
		return refuse("%s has nothing that gives %s", e.Gear.Name, FamilyName(tp.Connector.Family()))
	}
	it := h.itemOf(e, false)
	id := l.ID
	sender, _ := h.r.Port(from)
	taker, _ := h.r.Port(to)
	h.done.What = lang.Text("Put %s between %s and %s", it.Label, sender.Label, taker.Label)
	if err := h.put(it); err != nil {
		return err
	}
	if err := h.do(rig.Edit{Do: "plug", Lead: id, End: "to", Socket: it.ID + "." + in.ID}); err != nil {
		return err
	}
	return h.join(it.ID+"."+out.ID, to)
}

// Through is which sockets of a thing a lead would go into and come out of; nil where it has none.
func Through(g *gear.Gear, from, to *gear.Port) (in, out *gear.Port) {
	for i := range g.Ports {
		p := &g.Ports[i]
		switch {
		case in == nil && p.Direction.Takes() && p.Connector.Family() == from.Connector.Family():
			in = p
		case out == nil && p.Direction.Sends() && p.Connector.Family() == to.Connector.Family() &&
			(p.Direction == gear.Upstream) == (to.Direction == gear.Downstream):
			out = p
		}
	}
	return in, out
}

// out takes an item out. The first picture or plug that came into it is led past it to where it led; the others look
// for a socket of their own; what finds none is loose, and named.
func (h *Hand) out(it *rig.Item) error {
	id, label := it.ID, it.Label
	var in []rig.Lead
	var onTo []string
	for _, l := range h.r.Leads {
		a, _ := rig.SplitRef(l.From)
		b, _ := rig.SplitRef(l.To)
		switch {
		case b == id:
			in = append(in, l)
		case a == id:
			onTo = append(onTo, l.To)
		}
	}
	if err := h.remove(id); err != nil {
		return err
	}
	h.done.What = lang.Text("Take out %s", label)
	for _, l := range in {
		from, fp := h.r.Port(l.From)
		if from == nil {
			continue
		}
		if at := slices.IndexFunc(onTo, func(to string) bool { return WhyNot(h.r, l.From, to) == "" }); at >= 0 {
			l.To = onTo[at]
			if err := h.do(rig.Edit{Do: "lay", NewLead: &l}); err != nil {
				return err
			}
			onTo = slices.Delete(onTo, at, at+1)
			continue
		}
		if fp.Direction == gear.Upstream && !it.IsHost() {
			if to := h.socket(from, fp); to != "" {
				l.To, l.AnySocket = to, from.Gear.Kind != gear.Hub && from.Gear.Kind != gear.Dock
				if err := h.do(rig.Edit{Do: "lay", NewLead: &l}); err != nil {
					return err
				}
				continue
			}
		}
		if to := h.freeInput(l.From); to != "" {
			l.To = to
			if err := h.do(rig.Edit{Do: "lay", NewLead: &l}); err != nil {
				return err
			}
			on, p := h.r.Port(to)
			h.note("%s goes into %s of %s now", from.Label, rig.PortName(p), on.Label)
			continue
		}
		h.note("%s is loose now", from.Label)
	}
	for _, to := range onTo {
		if o, p := h.r.Port(to); o != nil && p.Direction == gear.In {
			h.note("%s has no picture now", o.Label)
		}
	}
	return nil
}

// freeInput is a free input a picture fits into, of what hands pictures to the computer; "" for none.
func (h *Hand) freeInput(from string) string {
	if _, p := h.r.Port(from); p == nil || p.Direction != gear.Out {
		return ""
	}
	for i := range h.r.Items {
		it := &h.r.Items[i]
		if k := it.Gear.Kind; k != gear.Card && k != gear.Capture && k != gear.Switcher {
			continue
		}
		for _, p := range free(h.r, it, gear.In) {
			if to := it.ID + "." + p.ID; WhyNot(h.r, from, to) == "" {
				return to
			}
		}
	}
	return ""
}

// outWhole takes an item out with everything that serves nothing else: a source with its leads, its converters and its
// capture device.
func (h *Hand) outWhole(it *rig.Item) error {
	label := it.Label
	ids := []string{it.ID}
	for next := it; ; {
		var on *rig.Item
		n := 0
		for _, l := range h.r.Leads {
			if a, _ := rig.SplitRef(l.From); a == next.ID {
				n++
				on, _ = h.r.Port(l.To)
			}
		}
		if n != 1 || on == nil || on.IsHost() || !captures(&on.Gear) && on.Gear.Kind != gear.Converter {
			break
		}
		others := 0
		for _, l := range h.r.Leads {
			if b, _ := rig.SplitRef(l.To); b == on.ID {
				others++
			}
		}
		if others != 1 {
			break
		}
		ids = append(ids, on.ID)
		next = on
	}
	for _, id := range ids {
		if id != it.ID {
			h.note("%s goes with it", h.r.Item(id).Label)
		}
		if err := h.remove(id); err != nil {
			return err
		}
	}
	h.done.What = lang.Text("Take out %s", label)
	return nil
}

// remove takes an item out with everything in the rig that names it.
func (h *Hand) remove(id string) error {
	for i := range h.r.Items {
		if o := &h.r.Items[i]; o.PoweredBy == id {
			h.note("%s has no power named now", o.Label)
			if err := h.do(rig.Edit{Do: "powered-by", Item: o.ID}); err != nil {
				return err
			}
		}
	}
	show, changed := h.r.Show, false
	kept := slices.DeleteFunc(slices.Clone(show.Recordings), func(rec rig.Recording) bool { return rec.What == id })
	changed = len(kept) != len(show.Recordings)
	for i := range kept {
		if kept[i].Drive == id {
			kept[i].Drive, changed = "", true
			h.note("what was kept on it goes to the computer's own drive")
		}
	}
	show.Recordings = kept
	show.Also = slices.Clone(show.Also)
	for i := range show.Also {
		if n := len(show.Also[i].Takes); n > 0 {
			show.Also[i].Takes = slices.DeleteFunc(slices.Clone(show.Also[i].Takes), func(t string) bool {
				return t == id
			})
			changed = changed || len(show.Also[i].Takes) != n
		}
	}
	if changed {
		if err := h.do(rig.Edit{Do: "show", Show: &show}); err != nil {
			return err
		}
	}
	return h.do(rig.Edit{Do: "remove", Item: id})
}

// connectAct leads one socket to another. The lead that hung in a socket one takes is not touched: taken sockets are
// refused. An item instead of a socket is the sound of it.
func (h *Hand) connectAct(a, b string) error {
	if !strings.Contains(a, ".") && !strings.Contains(b, ".") {
		return h.listen(a, b)
	}
	if why := WhyNot(h.r, a, b); why != "" {
		return &Refusal{why}
	}
	from, fp := h.r.Port(a)
	to, tp := h.r.Port(b)
	h.done.What = lang.Text("Lead %s of %s to %s of %s", rig.PortName(fp), from.Label, rig.PortName(tp), to.Label)
	if err := h.join(a, b); err != nil {
		return err
	}
	l := &h.r.Leads[len(h.r.Leads)-1]
	if !l.AnySocket {
		return nil
	}
	said := *l // somebody has said which socket
	said.AnySocket = false
	if err := h.do(rig.Edit{Do: "unplug", Lead: l.ID}); err != nil {
		return err
	}
	return h.do(rig.Edit{Do: "lay", NewLead: &said})
}

// listen puts the sound of one item through another, or straight to the program.
func (h *Hand) listen(from, into string) error {
	mic, to := h.r.Item(from), h.r.Item(into)
	if mic == nil || to == nil {
		return refuse("it is not in this rig any more")
	}
	if mic.ID == to.ID {
		return refuse("that is the same thing")
	}
	takes := to.Gear.Sound != nil && to.Gear.Sound.Takes != "" || to.Gear.Kind == gear.AudioInterface ||
		to.Gear.Kind == gear.Mixer || to.IsHost()
	if !takes {
		return refuse("%s has no input for sound on its sheet", to.Label)
	}
	s := rig.Sound{Paths: []rig.SoundPath{}}
	if h.r.Sound != nil {
		s = *h.r.Sound
	}
	s.Paths = slices.Clone(s.Paths)
	via := []string{}
	if !to.IsHost() {
		via = append(via, to.ID)
	}
	if at := slices.IndexFunc(s.Paths, func(p rig.SoundPath) bool { return p.From == mic.ID }); at >= 0 {
		s.Paths[at].Via = via
	} else {
		s.Paths = append(s.Paths, rig.SoundPath{Voice: mic.Label, From: mic.ID, Via: via})
	}
	h.done.What = lang.Text("Sound of %s into %s", mic.Label, to.Label)
	return h.do(rig.Edit{Do: "sound", Sound: &s})
}
