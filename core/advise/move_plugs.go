// What a technician would do with plugs: into a free socket, into another one of its kind, two that change places.

package advise

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/core/work"
)

// socketClass groups sockets that are alike for the bus.
type socketClass struct {
	item          string
	controller    string
	speed         usb.Speed
	connector     gear.Connector
	in            string    // picture inputs are each their own
	allows, volts fact.Fact // and what it gives
}

// spot is a socket of the rig.
type spot struct {
	item, port int
	class      int // sockets alike have one number
	taken      bool
}

// spots are the sockets of a direction and family, in the order of the sheets.
func (u *universe) spots(d gear.Direction, f gear.Family) []spot {
	if u.sockets == nil {
		u.sockets, u.classes = map[spotKind][]spot{}, map[socketClass]int{}
		for i := range u.Items {
			it := &u.Items[i]
			for j := range it.Gear.Ports {
				port := &it.Gear.Ports[j]
				if port.Direction != gear.In && port.Direction != gear.Downstream || port.Connector == gear.Internal {
					continue
				}
				c := classOf(it, port)
				n, ok := u.classes[c]
				if !ok {
					n = len(u.classes)
					u.classes[c] = n
				}
				k := spotKind{port.Direction, port.Connector.Family()}
				u.sockets[k] = append(u.sockets[k], spot{i, j, n, u.g.LeadAt(i, j) >= 0})
			}
		}
	}
	return u.sockets[spotKind{d, f}]
}

type spotKind struct {
	direction gear.Direction
	family    gear.Family
}

// plugged is a lead as its plug moves: the device it is of, the socket it is in, and which end of the lead that is.
type plugged struct {
	dev, devPort, host, socket int
	end                        string
	wants                      gear.Direction
}

func (u *universe) pluggedAs(at int) (p plugged, ok bool) {
	fi, fp, ti, tp := u.g.LeadEnds(at)
	if fi < 0 {
		return p, false
	}
	p = plugged{fi, fp, ti, tp, "to", gear.In}
	if d := u.Items[fi].Gear.Ports[fp].Direction; d == gear.In || d == gear.Downstream { // called from its far end
		p.dev, p.devPort, p.host, p.socket, p.end = ti, tp, fi, fp, "from"
	}
	from, to := &u.Items[p.dev].Gear.Ports[p.devPort], &u.Items[p.host].Gear.Ports[p.socket]
	if from.Direction == gear.Upstream {
		p.wants = gear.Downstream
	}
	return p, from.Connector != gear.Internal && to.Connector != gear.Internal && (u.Leads[at].LengthM.High > 0 ||
		from.Connector.Family() != gear.HDMIFamily)
}

// elsewhere lists a free socket of every kind a plug is not in, and a taken one of every kind none is free of.
func (u *universe) elsewhere(p plugged) (free, taken []spot) {
	dev := &u.Items[p.dev]
	from, to := &dev.Gear.Ports[p.devPort], &u.Items[p.host].Gear.Ports[p.socket]
	passesOn := slices.ContainsFunc(dev.Gear.Ports, func(p gear.Port) bool {
		return p.Direction == gear.In || p.Direction == gear.Downstream
	})
	spots := u.spots(p.wants, from.Connector.Family())
	is, ok := u.classes[classOf(&u.Items[p.host], to)]
	if !ok {
		is = -1
	}
	var above []bool
	if passesOn {
		above = u.g.Above(p.dev)
	}
	const hasFree, hasTaken = 1, 2
	marks := make([]uint8, len(u.classes))
	for _, s := range spots {
		if s.item == p.dev || s.class == is || s.item == p.host && s.port == p.socket || marks[s.class]&hasFree != 0 ||
			s.taken && marks[s.class]&hasTaken != 0 {
			continue
		}
		it := &u.Items[s.item]
		if port := &it.Gear.Ports[s.port]; p.wants == gear.Downstream && !plugFits(to.Connector, port.Connector) &&
			(!adapts(to, port) || s.taken) {
			continue
		}
		if passesOn && !it.IsHost() && above[s.item] {
			continue // into what hangs on it: a loop
		}
		if p.wants == gear.Downstream && onlyFeeds(it) && !onlyFeeds(&u.Items[p.host]) && (from.USB != nil ||
			passesOn) {
			continue // nobody mends a picture by taking its plug out of the computer
		}
		if s.taken {
			marks[s.class] |= hasTaken
			taken = append(taken, s)
		} else {
			marks[s.class] |= hasFree
			free = append(free, s)
		}
	}
	return free, slices.DeleteFunc(taken, func(s spot) bool { return marks[s.class]&hasFree != 0 })
}

// onlyFeeds tells whether USB sockets of a thing give power and nothing else.
func onlyFeeds(it *rig.Item) bool {
	return it.Gear.Kind == gear.Supply || it.Gear.Kind == gear.PowerBank
}

// adapts tells whether a plug that is in one USB socket goes into another by an adapter.
func adapts(was, now *gear.Port) bool {
	return was.Connector == gear.USBA && now.Connector == gear.USBC
}

func (u *universe) plugs(at int) {
	p, ok := u.pluggedAs(at)
	if !ok {
		return
	}
	l, dev := &u.Leads[at], &u.Items[p.dev]
	free, taken := u.elsewhere(p)
	for _, s := range free {
		it := &u.Items[s.item]
		port := &it.Gear.Ports[s.port]
		m := u.plug(l, p.end, dev, it, port)
		if to := &u.Items[p.host].Gear.Ports[p.socket]; p.wants == gear.Downstream && !plugFits(to.Connector,
			port.Connector) {
			u.adapt(m, dev, it, port)
		}
		u.add(m)
	}
	if u.sound {
		return
	}
	for _, s := range taken {
		it := &u.Items[s.item]
		m := u.plug(l, p.end, dev, it, &it.Gear.Ports[s.port])
		m.half = true
		u.add(m)
	}
}

// adapt makes a plug of another shape fit by an adapter.
func (u *universe) adapt(m *Move, dev, it *rig.Item, port *gear.Port) {
	m.Cost = u.money(priceAdapter)
	m.say = func() (label, short string) {
		return lang.Text("Put %s into %s of %s by an adapter from A to C", dev.Label, rig.PortName(port), it.Label),
			lang.Text("%s to %s by an adapter", dev.Label, rig.PortName(port))
	}
}

func classOf(it *rig.Item, port *gear.Port) socketClass {
	c := socketClass{item: it.ID, controller: port.Controller, connector: port.Connector}
	if port.USB != nil {
		c.speed = port.USB.Speed
	}
	if port.AllowsMA != nil {
		c.allows = *port.AllowsMA
	}
	if port.Volts != nil {
		c.volts = *port.Volts
	}
	if port.Direction == gear.In || port.Slot != nil {
		c.in = port.ID
	}
	return c
}

// plugFits tells whether a plug that is in one USB socket goes into another.
func plugFits(was, now gear.Connector) bool { return was == now }

func (u *universe) plug(l *rig.Lead, end string, dev, it *rig.Item, port *gear.Port) *Move {
	ref := it.ID + "." + port.ID
	m := move("plug", "plug:"+l.ID+":"+ref, l.ID).
		slotted("plug:" + l.ID).
		taking(u.takes(work.Plug)).
		doing(rig.Edit{Do: "plug", Lead: l.ID, End: end, Socket: ref})
	m.say = func() (label, short string) {
		return lang.Text("Put %s into %s of %s", dev.Label, rig.PortName(port), it.Label),
			lang.Text("%s to %s", dev.Label, rig.PortName(port))
	}
	if port.Connector == gear.PCIe {
		m.Minutes = u.takes(work.Card)
		m.say = func() (label, short string) {
			return lang.Text("Switch %s off and unplug it, touch metal before you reach in, and move %s to %s",
					it.Label, dev.Label, rig.PortName(port)),
				lang.Text("%s to %s", dev.Label, rig.PortName(port))
		}
	}
	return m
}

// connect uses a USB connection a device has and nobody uses, where its picture does not get to the computer another
// way.
func (u *universe) connect(it *rig.Item) {
	stuck := false
	for i := range u.p.Results {
		l := &u.p.Results[i]
		stuck = stuck || l.State == limit.Snapped && (l.ID.Rule == rules.Arrives || l.ID.Rule == rules.WayRound) &&
			slices.Contains(l.Where, it.ID)
	}
	if !stuck || len(it.Gear.Delivers) == 0 {
		return
	}
	at := u.g.At(it.ID)
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Upstream || port.Connector.Family() != gear.USBFamily || u.g.LeadAt(at, j) >= 0 {
			continue
		}
		for h := range u.Items {
			host := &u.Items[h]
			for k := range host.Gear.Ports {
				socket := &host.Gear.Ports[k]
				if !host.IsHost() || socket.Direction != gear.Downstream ||
					socket.Connector.Family() != gear.USBFamily || u.g.LeadAt(h, k) >= 0 {
					continue
				}
				id := rig.FreshID(it.ID[:min(len(it.ID), 40)]+"-usb", func(id string) bool {
					return u.Item(id) != nil || u.Lead(id) != nil
				})
				edits := []rig.Edit{{Do: "lay", NewLead: &rig.Lead{ID: id, From: it.ID + "." + port.ID,
					To: host.ID + "." + socket.ID, Grade: "usb-5g", LengthM: fact.Exactly(1)}}}
				touches := []string{it.ID, "show"} // angles hang on every lead there is
				for n := range u.Leads {           // out of the output it was put into for want of an input
					if f, _, t, tp := u.g.LeadEnds(n); f == at && t == h && host.Gear.Ports[tp].Direction == gear.Out {
						edits, touches = append(edits, rig.Edit{Do: "unplug", Lead: u.Leads[n].ID}),
							append(touches, u.Leads[n].ID)
					}
				}
				u.add(move("plug", "connect:"+it.ID+"."+port.ID, it.ID).
					slotted("connect:" + it.ID).
					touching(touches...).
					taking(u.takes(work.Desk)).
					costing(u.money(priceUSBLead)).
					saying(func() (string, string) {
						return lang.Text("Use the USB of %s: a lead into %s of %s", it.Label, rig.PortName(socket),
							host.Label), lang.Text("%s by its own USB", it.Label)
					}).
					doing(edits...))
				return
			}
		}
	}
}

// everySocket adds plug moves into the free sockets that Moves leaves out because they are like another one: on the
// board a hand may want just that socket.
func (u *universe) everySocket(id string) {
	l := u.Lead(id)
	if l == nil {
		return
	}
	dev, p := u.Port(l.From)
	_, to := u.Port(l.To)
	end, now := "to", l.To
	if p != nil && (p.Direction == gear.In || p.Direction == gear.Downstream) {
		dev, p = u.Port(l.To)
		_, to = u.Port(l.From)
		end, now = "from", l.From
	}
	if p == nil || to == nil || to.Connector == gear.Internal {
		return
	}
	wants := gear.In
	if p.Direction == gear.Upstream {
		wants = gear.Downstream
	}
	above := u.g.Above(u.g.At(dev.ID))
	passesOn := slices.ContainsFunc(dev.Gear.Ports, func(p gear.Port) bool {
		return p.Direction == gear.In || p.Direction == gear.Downstream
	})
	for i := range u.Items {
		it := &u.Items[i]
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			ref := it.ID + "." + port.ID
			if it.ID == dev.ID || passesOn && !it.IsHost() && above[i] || port.Direction != wants ||
				!plugFits(to.Connector, port.Connector) || u.g.LeadAt(i, j) >= 0 {
				continue
			}
			m := u.plug(l, end, dev, it, port)
			if ref != now && !slices.ContainsFunc(u.out, func(o Move) bool { return o.ID == m.ID }) {
				u.add(m)
			}
		}
	}
}

// places are the moves that change places with the plug in a like socket, where no like socket is free: one for each
// kind of socket, as plugs has them.
func (u *universe) places(ids map[string]bool) []Move {
	for i := range u.Leads {
		if !ids[u.Leads[i].ID] {
			continue
		}
		if p, ok := u.pluggedAs(i); ok {
			if _, taken := u.elsewhere(p); len(taken) > 0 {
				u.swapWith(i, func(s spot) bool {
					return slices.ContainsFunc(taken, func(t spot) bool { return t.item == s.item && t.port == s.port })
				})
			}
		}
	}
	return u.out
}

// swapPlugs offers to change places with the plug in every like socket that is taken.
func (u *universe) swapPlugs(id string) {
	if i := slices.IndexFunc(u.Leads, func(l rig.Lead) bool { return l.ID == id }); i >= 0 {
		u.swapWith(i, func(spot) bool { return true })
	}
}

// swapWith offers to change places with the plugs in some of the taken sockets.
func (u *universe) swapWith(at int, with func(spot) bool) {
	l := &u.Leads[at]
	fi, fp, ti, tp := u.g.LeadEnds(at)
	if fi < 0 || u.Items[fi].Gear.Ports[fp].Direction != gear.Upstream {
		return
	}
	from, to := &u.Items[fi], &u.Items[ti].Gear.Ports[tp]
	for i := range u.Leads {
		o := &u.Leads[i]
		di, dp, hi, hp := u.g.LeadEnds(i)
		if i == at || di < 0 || di == fi || hi == fi || di == ti || hi == ti && hp == tp ||
			!with(spot{item: hi, port: hp}) {
			continue
		}
		dev, host := &u.Items[di], &u.Items[hi]
		socket := &host.Gear.Ports[hp]
		if dev.Gear.Ports[dp].Direction != gear.Upstream || socket.Connector != to.Connector {
			continue
		}
		minutes := 2.0 * u.takes(work.Plug)
		if to.Connector == gear.PCIe { // the computer is opened once
			minutes = u.takes(work.Card) + u.takes(work.Plug)
		}
		u.add(move("plug", "change:"+l.ID+":"+o.ID, l.ID).
			slotted("plug:"+l.ID).
			touching(l.ID, o.ID).
			taking(minutes).
			saying(func() (string, string) {
				if to.Connector == gear.PCIe {
					return lang.Text("Switch %s off and unplug it, touch metal before you reach in, and change places: %s into %s, %s into %s",
							host.Label, from.Label, rig.PortName(socket), dev.Label, rig.PortName(to)),
						lang.Text("%s and %s change places", from.Label, dev.Label)
				}
				return lang.Text("Change places: %s into %s, %s into %s", from.Label, rig.PortName(socket), dev.Label,
					rig.PortName(to)), lang.Text("%s and %s change places", from.Label, dev.Label)
			}).
			doing(rig.Edit{Do: "plug", Lead: l.ID, End: "to", Socket: o.To}, rig.Edit{Do: "plug", Lead: o.ID,
				End: "to", Socket: l.To}))
	}
}
