package judge

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/usb"
)

// speedBasis is a port's speed as the MB/s it stands for.
func (p *pass) speedBasis(it *rig.Item, port *gear.Port) Basis {
	path := p.path("items", it.ID, "ports", port.ID, "usb/speed")
	speed := usb.UnknownSpeed
	if port.USB != nil {
		speed = port.USB.Speed
	}
	name := p.say("speed of %s on %s", rig.PortName(port), it.Label)
	if speed != usb.UnknownSpeed {
		return speedFact(path, name, speed)
	}
	options := portSpeedOptions
	var edits [][]rig.Edit
	if !p.quiet {
		for _, o := range options {
			edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: o.Word}})
		}
	}
	return choice(path, name, "MB/s", string(usb.UnknownSpeed), options, func() Ask {
		return Ask{Question: p.say("How fast is the USB socket “%s” of %s?", rig.PortName(port), it.Label),
			How: "The system's USB listing tells; a blue or marked socket is usually 5 Gb/s or more.", Minutes: 2, Edits: edits}
	})
}

// speedFact is a known speed as the MB/s its bulk streams may take.
func speedFact(path, name string, speed usb.Speed) Basis {
	mb, _ := usb.BusMBps(speed, false, false)
	return Basis{Path: path, Name: name, Unit: "MB/s", Low: mb, Value: mb, High: mb, From: fact.Given, Word: string(speed)}
}

var portSpeedOptions = speedOptions(usb.HighSpeed, usb.Gen1, usb.Gen2)

func speedOptions(speeds ...usb.Speed) (out []Option) {
	for _, s := range speeds {
		mb, _ := usb.BusMBps(s, false, false)
		out = append(out, Option{Word: string(s), Label: speedNames[s], Number: mb})
	}
	return out
}

var speedNames = map[usb.Speed]string{usb.HighSpeed: "USB 2, 480 Mb/s", usb.Gen1: "5 Gb/s", usb.Gen1x2: "10 Gb/s on two lanes",
	usb.Gen2: "10 Gb/s", usb.Gen2x2: "20 Gb/s", usb.Tunnel: "40 Gb/s (tunnelled)", usb.UnknownSpeed: "speed unknown"}

// usbLead judges a USB lead: does it carry data, and is it short enough for its speed? Its grade joins the parts that
// limit the connection's speed.
func (p *pass) usbLead(w *walk, s *stream, l *rig.Lead, from, to *gear.Port) {
	hop := func() *Hop { // a plug that goes straight in is no stretch of its own
		return w.at(AtPort, "lead", l.ID, p.leadName(l), p.leadTitle(l))
	}
	grade := usb.Grade(l.Grade)
	name := p.say("grade of the lead %s", p.leadTitle(l))
	path := p.path("leads", l.ID, "grade")
	sure, _, err := usb.GradeSpeed(grade)
	switch {
	case grade == usb.ChargeOnly || err != nil:
		p.add(hop(), Limit{ID: "carries-data:" + l.ID, Rule: "carries-data", Sense: Fits, outcomes: no, Where: w.deps(),
			What: p.say("The lead %s carries data", p.leadTitle(l)), Says: p.say("A charge-only lead has no data wires: the device is not found."),
			Source: Source{fact.Practice, "Handbook 7.4: charge-only cable"}})
		return
	case grade == usb.UnknownGrade:
		options := portSpeedOptions
		words := []usb.Grade{usb.USB2Lead, usb.Lead5G, usb.Lead10G}
		var edits [][]rig.Edit
		if !p.quiet {
			for _, g := range words {
				edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: string(g)}})
			}
		}
		s.pass(choice(path, name, "MB/s", l.Grade, options, func() Ask {
			return Ask{Question: p.say("What is the USB lead %s made for?", p.leadTitle(l)), How: "Look at its marks; a thin lead from a charger is USB 2.", Minutes: 1, Edits: edits}
		}))
		sure = usb.Gen2
	default:
		s.pass(speedFact(path, name, sure))
	}
	if l.LengthM.High == 0 {
		return
	}
	speed := usb.Slower(sure, s.device)
	reachSure, reachPossible := usb.Reach(speed, from.Connector == gear.USBC || to.Connector == gear.USBC)
	lim := Limit{ID: "reach:" + l.ID, Rule: "reach", Unit: "m", Where: w.deps(), What: p.say("Reach of the lead %s", p.leadTitle(l)),
		Facts: p.facts.of(
			basis(p.path("leads", l.ID, "lengthM"), p.say("length of the lead %s", p.leadTitle(l)), "m", &l.LengthM, fact.Fact{}, p.ask("How long is the lead %s?", p.leadTitle(l), "A tape measure.", 1)),
			Basis{Name: "reach of passive USB leads", Unit: "m", Low: reachSure, Value: reachSure, High: reachPossible, From: fact.Practice}),
		Loads:    p.loads.of(Load{Item: l.ID, Label: p.leadName(l), Sum: "its length", term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: p.say("passive lead at %s", speedNames[speed]),
		Source:   Source{fact.Practice, "Handbook 3.3: USB lead lengths; USB 2 from the 26 ns of USB 2.0, 7.1.16"}}
	kept := p.add(hop(), lim)
	if !p.quiet {
		kept.Says = p.say("The lead %s is %s long; a passive one carries %s for %s.", p.leadTitle(l), p.span(kept.Load.Low, kept.Load.High, "m"), speedNames[speed], p.span(reachSure, reachPossible, "m"))
	}
}

// port takes a stream into a hub, or into the computer, where its connection is judged.
func (p *pass) port(w *walk, it *rig.Item, h rig.Hop, s *stream) {
	in := &it.Gear.Ports[h.In]
	hop := w.at(AtPort, "port", it.ID+"."+in.ID, rig.PortName(in), p.speedName(in))
	hop.Lead = w.lead
	if in.Direction != gear.Downstream {
		p.add(hop, Limit{ID: "way-round:" + it.ID + "." + in.ID, Rule: "way-round", Sense: Fits, outcomes: no, Where: w.deps(),
			What: "Device meets computer", Says: p.say("%s of %s is %s: a device's plug belongs into a downstream port.", rig.PortName(in), it.Label, string(in.Direction)),
			Source: Source{fact.Practice, "Handbook 3.3"}})
		return
	}
	if in.Connector == gear.PCIe {
		s.slot, s.slotPort, s.where = it, in, w.deps()
		s.crosses = append(s.crosses, hopAt{it, w.feed, len(w.feed.Hops) - 1})
		return
	}
	if s.host != nil && it.IsHost() && s.host.Gear.Kind == gear.Dock {
		return // the dock's own controller is where its sharing ended
	}
	s.crosses = append(s.crosses, hopAt{it, w.feed, len(w.feed.Hops) - 1})
	if s.host != nil {
		hop.Limits = append(hop.Limits, "link:"+s.owner.ID+"."+s.port)
		if i, ok := p.index[hop.Limits[0]]; ok {
			hop.State = Worse(hop.State, p.limits[i].State)
		}
		return // another feed of the same switcher was here already
	}
	s.speeds = append(s.speeds, p.speedBasis(it, in))
	s.where = w.deps()
	if it.Gear.Kind == gear.Dock && ownsController(it, in.Controller) {
		s.host, s.controller, s.hostPort = it, in.Controller, in.ID
		p.link(hop, s)
		return
	}
	if h.Out >= 0 { // a hub or dock: its own way up counts too
		up := &it.Gear.Ports[h.Out]
		s.speeds = append(s.speeds, p.speedBasis(it, up))
		s.hubs = append(s.hubs, hubAt{h.Item, len(s.speeds)})
		return
	}
	s.host, s.controller, s.hostPort = it, in.Controller, in.ID
	p.link(hop, s)
}

// ownsController tells whether a dock brings a controller of its own for a port: its ports then share its tunnel, not
// the controllers of the computer. Handbook 3.3.
func ownsController(it *rig.Item, id string) bool {
	return id != "" && slices.ContainsFunc(it.Gear.Controllers, func(c gear.Controller) bool { return c.ID == id })
}

func (p *pass) speedName(port *gear.Port) string {
	if port.USB == nil {
		return speedNames[usb.UnknownSpeed]
	}
	return speedNames[port.USB.Speed]
}

// pass notes a part the connection goes through, until the stream has reached the computer.
func (s *stream) pass(part Basis) {
	if s.host == nil {
		s.speeds = append(s.speeds, part)
	}
}

// high tells whether a stream ends up on the high-speed side of the bus: surely, or possibly.
func (s *stream) high() (surely, possibly bool) {
	hs, _ := usb.BusMBps(usb.HighSpeed, false, false)
	for _, b := range s.speeds {
		surely = surely || b.High <= hs
		possibly = possibly || b.Low <= hs
	}
	return surely, possibly
}

// link judges one stream against the slowest part of its own connection. Handbook 3.2.
func (p *pass) link(hop *Hop, s *stream) {
	l := Limit{ID: "link:" + s.owner.ID + "." + s.port, Rule: "link", Unit: "MB/s", Where: s.where,
		What: p.say("USB connection of %s", s.owner.Label), Source: Source{fact.Standard, "USB 2.0 chapter 5 and USB 3.2; bulk payload figures from memory"}}
	l.Facts = append(append(make([]Basis, 0, len(s.facts)+len(s.speeds)+1), s.facts...), s.speeds...)
	n := int16(len(s.facts))
	slowest := s.speeds[0]
	for i := range s.speeds {
		l.caps = append(l.caps, times(1, n+int16(i)))
		if s.speeds[i].Low < slowest.Low {
			slowest = s.speeds[i]
		}
	}
	// A reserving stream is bound to one endpoint: a share of what bulk streams get on the same connection.
	surely, possibly := s.high()
	speed := usb.Gen1
	if surely {
		speed = usb.HighSpeed
	}
	if s.iso || s.maybe {
		bulk, _ := usb.EndpointMBps(speed, usb.Bulk)
		isoSure, isoPossible := usb.EndpointMBps(speed, usb.Isochronous)
		if possibly && !surely { // the speed is open: the endpoint may be either
			isoSure, _ = usb.EndpointMBps(usb.HighSpeed, usb.Isochronous)
		}
		endpoint := Basis{Name: "what one reserving endpoint carries", Unit: "MB/s", Low: isoSure, Value: isoSure, High: isoPossible, From: fact.Standard}
		if !s.iso {
			endpoint = p.transferBasis(s, isoSure, bulk)
		}
		l.caps = append(l.caps, times(1, int16(len(l.Facts))))
		l.Facts = append(l.Facts, endpoint)
	}
	l.Loads = p.loads.of(Load{Item: s.owner.ID, Label: s.owner.Label, Sum: s.sum, term: s.load})
	l.LimitSum = p.say("slowest part: %s", slowest.Name)
	kept := p.add(hop, l)
	if !p.quiet {
		kept.Says = p.say("%s sends %s; its connection carries %s (slowest part: %s).", s.owner.Label,
			span(kept.Load.Low, kept.Load.High, "MB/s"), span(kept.Sure, kept.Possible, "MB/s"), slowest.Name)
	}
}

// transferBasis asks how a device's stream uses the bus.
func (p *pass) transferBasis(s *stream, iso, bulk float64) Basis {
	path := p.path("items", s.owner.ID, "ports", s.port, "usb/transfer")
	if p.quiet {
		return Basis{Low: min(iso, bulk), Value: iso, High: max(iso, bulk)}
	}
	word := func(t usb.Transfer) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: string(t)}} }
	return choice(path, p.say("how %s uses the bus", s.owner.Label), "MB/s", string(usb.UnknownTransfer),
		[]Option{{Word: string(usb.Isochronous), Label: "It reserves (isochronous)", Number: iso}, {Word: string(usb.Bulk), Label: "It shares (bulk)", Number: bulk}},
		func() Ask {
			return Ask{Question: p.say("Does %s reserve its bandwidth, or share it?", s.owner.Label),
				How: "The system's USB listing names the endpoint: isochronous or bulk.", Minutes: 3,
				Edits: [][]rig.Edit{word(usb.Isochronous), word(usb.Bulk)}}
		})
}

// buses judges what streams share: every hub's way up and every controller, the fast pair and the 480 Mb/s pair apart.
// Handbook 3.3.
func (p *pass) buses() {
	type key struct {
		item       *rig.Item
		controller string
		high       bool
	}
	var order []key
	groups := map[key][]*stream{}
	put := func(k key, s *stream) {
		if _, ok := groups[k]; !ok {
			order = append(order, k)
		}
		groups[k] = append(groups[k], s)
	}
	for i := range p.streams {
		s := p.streams[i]
		if s.host == nil {
			continue
		}
		high, _ := s.high()
		for _, h := range s.hubs {
			put(key{&p.Items[h.item], "", high}, s)
		}
		put(key{s.host, s.controller, high}, s)
	}
	for _, k := range order {
		p.bus(k.item, k.controller, k.high, groups[k])
	}
}

func (p *pass) bus(it *rig.Item, controller string, high bool, streams []*stream) {
	l := Limit{Rule: "bus", Unit: "MB/s", Stage: AtPort, Shared: true}
	onHost := it.IsHost() || it.Gear.Kind == gear.Dock && ownsController(it, controller)
	var caps []Basis // the lowest of these is the limit
	side := "5 Gb/s and faster"
	if high {
		side = "480 Mb/s"
	}
	iso, maybeIso := false, false
	for _, s := range streams {
		iso, maybeIso = iso || s.iso, maybeIso || s.maybe
	}
	switch {
	case high:
		sure, possible := usb.BusMBps(usb.HighSpeed, iso, maybeIso)
		planned := sure
		if onHost && len(streams) > 1 { // its 480 Mb/s ports may or may not share one bus: plan as shared
			possible *= float64(len(streams))
		}
		caps = []Basis{{Name: "what one 480 Mb/s bus carries", Unit: "MB/s", Low: sure, Value: planned, High: possible, From: fact.Standard}}
	case onHost:
		caps = []Basis{p.uplinkBasis(it, controller)}
	default:
		up := upstream(it)
		caps = []Basis{p.speedBasis(it, up)}
		if (iso || maybeIso) && up.USB != nil && up.USB.Speed == usb.Gen1 {
			sure, possible := usb.BusMBps(usb.Gen1, iso, maybeIso)
			caps = append(caps, Basis{Name: "what reserving streams may take of 5 Gb/s", Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard})
		}
		caps = append(caps, p.above(it, streams)...)
	}
	l.ID = "bus:" + it.ID + "." + controller + ".fast"
	if high {
		l.ID = "bus:" + it.ID + "." + controller + ".480"
	}
	l.What = p.say("%s, the %s side", it.Label, side)
	if onHost {
		l.What = p.say("%s, all ports of %s, the %s side", it.Label, orThe(controller), side)
	}
	for _, s := range streams {
		l.Where = merge(l.Where, s.where)
		facts, load := s.facts, s.load
		sum := s.sum
		if high && (s.iso || s.maybe) {
			facts, load, sum = p.reservation(s)
		}
		l.Loads = append(l.Loads, Load{Item: s.owner.ID, Label: s.owner.Label, Sum: sum, term: load.shift(len(l.Facts))})
		l.Facts = append(l.Facts, facts...)
	}
	for _, b := range caps {
		l.caps = append(l.caps, times(1, int16(len(l.Facts))))
		l.Facts = append(l.Facts, b)
	}
	l.Source = Source{fact.Standard, "Handbook 3.2 and 3.3; USB 2.0 chapter 5"}
	if !p.quiet {
		l.LimitSum = caps[0].Name
		if caps[0].Word != "" {
			l.LimitSum += ": " + speedNames[usb.Speed(caps[0].Word)]
		}
	}
	kept := p.add(nil, l)
	id := kept.ID
	if !p.quiet {
		kept.Says = p.say("%s carries %s: %s of %s.", kept.What, count(len(streams), "stream", "streams"), p.span(kept.Load.Low, kept.Load.High, "MB/s"), p.span(kept.Sure, kept.Possible, "MB/s"))
	}
	p.hang(id, it, streams)
}

// hang lists a shared limit on the hops where its streams pass.
func (p *pass) hang(id string, it *rig.Item, streams []*stream) {
	l := &p.limits[p.index[id]]
	for _, s := range streams {
		for _, at := range s.crosses {
			if at.item != it {
				continue
			}
			h := &at.feed.Hops[at.hop]
			h.note(l)
			h.Joins = it.ID
		}
	}
}

// above are the speeds between a hub and the computer, which bound what the hub can pass on.
func (p *pass) above(it *rig.Item, streams []*stream) []Basis {
	s := streams[0]
	for _, h := range s.hubs {
		if &p.Items[h.item] == it {
			return s.speeds[h.above:]
		}
	}
	return nil
}

func upstream(it *rig.Item) *gear.Port {
	for i := range it.Gear.Ports {
		if it.Gear.Ports[i].Direction == gear.Upstream {
			return &it.Gear.Ports[i]
		}
	}
	return &gear.Port{}
}

// uplinkBasis is what all ports of a controller share.
func (p *pass) uplinkBasis(host *rig.Item, id string) Basis {
	for i := range host.Gear.Controllers {
		if c := &host.Gear.Controllers[i]; c.ID == id {
			return basis(p.path("items", host.ID, "controllers", id, "uplinkMBps"), p.say("uplink of %s", id), "MB/s", c.UplinkMBps, gear.DefaultUplink,
				p.ask("How much does the controller %s carry for all its ports?", id, "An add-in card on one Gen 2 lane carries 410 MB/s; a controller in the chipset about 3900.", 5))
		}
	}
	b := basis("", "uplink of a controller nobody has named", "MB/s", nil, gear.DefaultUplink, nil)
	return b
}

// reservation replaces a stream's average by what it takes out of a 480 Mb/s bus when it reserves.
func (p *pass) reservation(s *stream) ([]Basis, term, string) {
	need := s.load.bounds(s.facts)
	low, high := usb.ReservationMBps(need.Low)
	b := Basis{Name: p.say("reservation of %s", s.owner.Label), Unit: "MB/s", Low: low, Value: high, High: max(high, need.High), From: fact.Estimate}
	return []Basis{b}, times(1, 0), p.say("reserves %s to %s MB/s: its packets, up to the largest setting", p.num(low), p.num(high))
}

func merge(a, b []string) []string {
	for _, x := range b {
		if !slices.Contains(a, x) {
			a = append(a, x)
		}
	}
	return a
}

func orThe(controller string) string {
	if controller == "" {
		return "the computer"
	}
	return controller
}
