package bench

import (
	"cmp"
	"slices"
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

// more puts things of the shelf in.
func (h *Hand) more(e *Stocked, n int) error {
	for range n {
		it := h.itemOf(e, n > 1)
		if e.Gear.Kind == gear.Computer && (slices.ContainsFunc(h.r.Items, func(o rig.Item) bool {
			return o.IsHost()
		}) || len(free(h.r, &it, gear.Downstream)) == 0) {
			it.Role = "source"
		}
		if err := h.put(it); err != nil {
			return err
		}
		if err := h.lead(it.ID); err != nil {
			return err
		}
	}
	if n > 1 {
		h.done.What = lang.Text("Put in %s × %s", strconv.Itoa(n), e.Gear.Name)
	} else {
		h.done.What = lang.Text("Put in %s", h.r.Item(h.done.Items[0]).Label)
	}
	return nil
}

// again puts one more of an item in, set as it is.
func (h *Hand) again(it *rig.Item) error {
	c := *it
	c.ID, c.Label = h.itemID(gear.Slug(it.Gear.Name)), h.label(it.Label, false)
	if at := slices.IndexFunc(h.shelf, func(e Stocked) bool {
		return it.Shelf != nil && e.ID == it.Shelf.ID
	}); at >= 0 && h.left(&h.shelf[at]) <= 0 {
		c.Owned = new(false)
		if c.Price == nil {
			c.Price = h.shelf[at].Price
		}
		h.note("%s is not owned: it has to be got", c.Label)
	}
	h.done.What = lang.Text("One more %s", it.Label)
	if err := h.put(c); err != nil {
		return err
	}
	return h.lead(c.ID)
}

// free are the sockets of an item without a lead, of the given directions.
func free(r *rig.Rig, it *rig.Item, dirs ...gear.Direction) (out []*gear.Port) {
	for i := range it.Gear.Ports {
		if p := &it.Gear.Ports[i]; slices.Contains(dirs, p.Direction) && r.LeadIn(it.ID+"."+p.ID) == nil {
			out = append(out, p)
		}
	}
	return out
}

// lead gives a thing its way to the computer, as far as it has one.
func (h *Hand) lead(id string) error {
	it := h.r.Item(id)
	switch {
	case it.IsHost():
		return nil
	case it.IsSource():
		return h.source(it)
	case it.Gear.Kind == gear.Switcher, it.Gear.Kind == gear.Capture, it.Gear.Kind == gear.Card:
		return h.onward(it)
	}
	for _, p := range free(h.r, it, gear.Upstream) { // drives, microphones, interfaces, hubs, docks
		if p.Connector.Family() == gear.USBFamily || p.Connector == gear.PCIe {
			return h.toComputer(it.ID, p.ID)
		}
	}
	if len(it.Gear.Ports) > 0 {
		h.note("%s is not connected yet: pick up one of its sockets", it.Label)
	}
	return nil
}

// onward leads the picture of a device to the computer: by its own USB or slot, else by what its picture output fits
// into.
func (h *Hand) onward(it *rig.Item) error {
	up := free(h.r, it, gear.Upstream)
	if len(up) > 0 {
		return h.toComputer(it.ID, up[0].ID)
	}
	return h.source(it)
}

// source gives a source its way: into a switcher or capture device that has an input free, into one that is owned and
// free, else into one that has to be got; by its own USB where it has no picture output.
func (h *Hand) source(it *rig.Item) error {
	outs := free(h.r, it, gear.Out)
	if up := free(h.r, it, gear.Upstream); len(outs) == 0 && len(up) > 0 {
		return h.toComputer(it.ID, up[0].ID)
	}
	if len(outs) == 0 {
		return nil
	}
	slices.SortStableFunc(outs, func(a, b *gear.Port) int { // the picture that goes out, not one that is only passed on
		return cmp.Compare(b2i(a.LoopOf != ""), b2i(b.LoopOf != ""))
	})
	out := outs[0]
	if out.Connector == gear.LAN {
		return h.byNetwork(it, out)
	}
	var ways []func(*Hand) error
	for _, p := range outs { // what stands in the rig and has an input free
		for i := range h.r.Items {
			to := &h.r.Items[i]
			if to.ID == it.ID || !captures(&to.Gear) {
				continue
			}
			if ins := fitting(free(h.r, to, gear.In), p); len(ins) > 0 {
				ways = append(ways, func(c *Hand) error { return c.join(it.ID+"."+p.ID, to.ID+"."+ins[0].ID) })
			}
		}
	}
	if h.best(ways) {
		return nil
	}
	for own := range 2 { // what is owned and free, then what is not
		for i := range h.shelf {
			e := &h.shelf[i]
			if !captures(&e.Gear) || e.Gear.Kind == gear.Switcher || !h.reaches(&e.Gear) ||
				(h.left(e) > 0) != (own == 0) || own == 1 && !isPlain(e, out) {
				continue
			}
			for _, p := range outs {
				if ins := fitting(ports(&e.Gear, gear.In), p); len(ins) > 0 {
					ways = append(ways, func(c *Hand) error { return c.capture(it, p, c.itemOf(e, false), ins[0].ID) })
					break
				}
			}
		}
		if h.best(ways) {
			return nil
		}
	}
	plain := &gear.Stick
	if out.Connector.Family() == gear.SDIFamily {
		plain = &gear.SDIBox
	}
	box := h.itemOf(&Stocked{Entry: gear.Entry{ID: plain.Key, Gear: plain.Gear}}, false)
	return h.capture(it, out, box, plain.Gear.Ports[0].ID)
}

// reaches tells whether a capture device that is put in finds a way to the computer: a card wants a slot that is free.
func (h *Hand) reaches(g *gear.Gear) bool {
	for _, p := range ports(g, gear.Upstream) {
		if p.Connector.Family() == gear.USBFamily || h.socket(&rig.Item{Gear: *g}, p) != "" {
			return true
		}
	}
	return false
}

// mostWays is how many ways are judged against each other.
const mostWays = 4

// best goes the way that snaps fewest limits and leaves fewest untested, of those that can be gone; false where none
// can.
func (h *Hand) best(ways []func(*Hand) error) bool {
	var best *Hand
	var snapped, untested int
	for _, do := range ways[:min(len(ways), mostWays)] {
		c, err := h.try(do)
		if err != nil || len(rig.Check(c.r)) > 0 {
			continue
		}
		if len(ways) == 1 {
			*h = *c
			return true
		}
		if s, u := broken(c.r); best == nil || s < snapped || s == snapped && u < untested {
			best, snapped, untested = c, s, u
		}
	}
	if best != nil {
		*h = *best
	}
	return best != nil
}

// isPlain tells whether a thing nobody owns is the one that is proposed to be got: the general kind for that output.
func isPlain(e *Stocked, out *gear.Port) bool {
	if out.Connector.Family() == gear.SDIFamily {
		return e.ID == gear.SDIBox.Key
	}
	return e.ID == "full-hd-stick"
}

// captures tells whether pictures go into a thing that hands them to a computer, or on to one.
func captures(g *gear.Gear) bool {
	return g.Kind == gear.Capture || g.Kind == gear.Card || g.Kind == gear.Switcher
}

func ports(g *gear.Gear, d gear.Direction) (out []*gear.Port) {
	for i := range g.Ports {
		if g.Ports[i].Direction == d {
			out = append(out, &g.Ports[i])
		}
	}
	return out
}

// fitting are the sockets a picture output goes into.
func fitting(in []*gear.Port, out *gear.Port) []*gear.Port {
	return slices.DeleteFunc(in, func(p *gear.Port) bool { return p.Connector.Family() != out.Connector.Family() })
}

// capture puts a capture device in behind an output and leads it on to the computer.
func (h *Hand) capture(it *rig.Item, out *gear.Port, box rig.Item, in string) error {
	if err := h.put(box); err != nil {
		return err
	}
	if err := h.join(it.ID+"."+out.ID, box.ID+"."+in); err != nil {
		return err
	}
	return h.onward(h.r.Item(box.ID))
}

// byNetwork leads a source that sends over the network to a network socket, where there is one.
func (h *Hand) byNetwork(it *rig.Item, out *gear.Port) error {
	for i := range h.r.Items {
		to := &h.r.Items[i]
		for j := range to.Gear.Ports {
			p := &to.Gear.Ports[j]
			if p.Connector == gear.LAN && p.Direction.Takes() && h.r.LeadIn(to.ID+"."+p.ID) == nil {
				return h.join(it.ID+"."+out.ID, to.ID+"."+p.ID)
			}
		}
	}
	h.note("%s sends over the network, and the computer has no network socket described: it is not connected yet",
		it.Label)
	return nil
}

// join lays a lead nobody has described yet.
func (h *Hand) join(a, b string) error {
	l := NewLead(h.r, a, b, h.leadID())
	if l.Adapters > 0 {
		it, _ := h.r.Port(l.From)
		h.note("%s: an adapter from Type-A to Type-C", it.Label)
	}
	return h.do(rig.Edit{Do: "lay", NewLead: l})
}

// toComputer plugs a device into a free socket of the computer, or of what hangs on it; into a hub where there is none.
func (h *Hand) toComputer(item, port string) error {
	ref := item + "." + port
	it, p := h.r.Port(ref)
	host := slices.IndexFunc(h.r.Items, func(o rig.Item) bool { return o.IsHost() })
	if host < 0 {
		h.note("%s is not connected yet: there is no computer", it.Label)
		return nil
	}
	if p.Connector == gear.Internal {
		return h.inside(ref, &h.r.Items[host])
	}
	if to := h.socket(it, p); to != "" {
		return h.join(ref, to)
	}
	if p.Connector.Family() != gear.USBFamily {
		h.note("%s is not connected yet: %s has no free slot", it.Label, h.r.Items[host].Label)
		return nil
	}
	return h.viaHub(ref)
}

// socket is the free socket a plug goes into, as shaped as the plug if there is one, the computer's own before a hub's.
func (h *Hand) socket(it *rig.Item, p *gear.Port) string {
	g := rig.NewWiring(h.r)
	best, rank := "", 0
	for i := range h.r.Items {
		to := &h.r.Items[i]
		far := 0
		if to.ID == it.ID || !to.IsHost() && to.Gear.Kind != gear.Hub && to.Gear.Kind != gear.Dock {
			continue
		}
		if !to.IsHost() {
			up := slices.IndexFunc(to.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream })
			if up < 0 {
				continue
			}
			for range g.Up(i, up) {
				far++
			}
			if far == 0 || it.Gear.Kind == gear.Hub { // it leads nowhere; and a hub stands on the computer's own
				continue
			}
		}
		for _, q := range free(h.r, to, gear.Downstream) {
			if q.ChargeOnly || q.Connector == gear.Internal || q.Connector.Family() != p.Connector.Family() {
				continue
			}
			n := 1 + 2*far
			if shaped(p.Connector) != q.Connector {
				n += 100
			}
			if best == "" || n < rank {
				best, rank = to.ID+"."+q.ID, n
			}
		}
	}
	return best
}

// shaped is the socket the computer's end of a device's lead fits into as a rule.
func shaped(c gear.Connector) gear.Connector {
	if c == gear.USBB || c == gear.USBMicroB {
		return gear.USBA
	}
	return c
}

// inside gives a computer the socket of something built into it.
func (h *Hand) inside(ref string, host *rig.Item) error {
	for _, q := range free(h.r, host, gear.Downstream) {
		if q.Connector == gear.Internal {
			return h.join(ref, host.ID+"."+q.ID)
		}
	}
	_, p := h.r.Port(ref)
	g := host.Gear
	id := rig.FreshID("inside", func(id string) bool { return g.Port(id) >= 0 })
	q := gear.Port{ID: id, Label: "inside the case", Connector: gear.Internal, Direction: gear.Downstream, USB: p.USB}
	if len(g.Controllers) > 0 {
		q.Controller = g.Controllers[0].ID
	}
	g.Ports = append(slices.Clip(g.Ports), q)
	if err := h.do(rig.Edit{Do: "take", Item: host.ID, Gear: &g, Shelf: host.Shelf}); err != nil {
		return err
	}
	return h.join(ref, host.ID+"."+id)
}

// viaHub puts a hub in where the computer's sockets have run out: it takes the place of one plug, which moves onto it.
func (h *Hand) viaHub(ref string) error {
	it, _ := h.r.Port(ref)
	at := -1
	for i := range h.r.Leads { // the last plug that may go into any socket, else the last of a device
		l := &h.r.Leads[i]
		from, fp := h.r.Port(l.From)
		to, tp := h.r.Port(l.To)
		if from == nil || to == nil || fp.Direction != gear.Upstream || !to.IsHost() ||
			tp.Connector == gear.Internal || tp.Connector.Family() != gear.USBFamily || from.Gear.Kind == gear.Hub ||
			from.Gear.Kind == gear.Dock {
			continue
		}
		if at < 0 || l.AnySocket || !h.r.Leads[at].AnySocket {
			at = i
		}
	}
	if at < 0 {
		h.note("%s is not connected yet: the computer has no free socket", it.Label)
		return nil
	}
	var hub rig.Item
	own := slices.IndexFunc(h.shelf, func(e Stocked) bool {
		return e.Gear.Kind == gear.Hub && h.left(&e) > 0 && len(ports(&e.Gear, gear.Upstream)) > 0 &&
			len(ports(&e.Gear, gear.Downstream)) > 1
	})
	if own >= 0 {
		hub = h.itemOf(&h.shelf[own], false)
	} else {
		hub = h.itemOf(&Stocked{Entry: gear.Entry{ID: gear.PoweredHub.Key, Gear: gear.PoweredHub.Gear}}, false)
	}
	l := h.r.Leads[at]
	if err := h.put(hub); err != nil {
		return err
	}
	up, down := ports(&hub.Gear, gear.Upstream), ports(&hub.Gear, gear.Downstream)
	moved, _ := h.r.Port(l.From)
	if err := h.do(rig.Edit{Do: "plug", Lead: l.ID, End: "to", Socket: hub.ID + "." + down[0].ID}); err != nil {
		return err
	}
	if err := h.join(hub.ID+"."+up[0].ID, l.To); err != nil {
		return err
	}
	h.note("the computer has no free socket: %s takes the place of %s", hub.Label, moved.Label)
	return h.join(ref, hub.ID+"."+down[1].ID)
}
