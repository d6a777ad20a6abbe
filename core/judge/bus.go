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

// portSpeedOptions are what a socket or lead nobody has looked up may be; 40 Gb/s counts as its USB path.
var portSpeedOptions = speedOptions(usb.HighSpeed, usb.Gen1, usb.Gen2, usb.Gen2x2, usb.Tunnel)

func speedOptions(speeds ...usb.Speed) (out []Option) {
	for _, s := range speeds {
		mb, _ := usb.BusMBps(s, false, false)
		out = append(out, Option{Word: string(s), Label: speedNames[s], Number: mb})
	}
	return out
}

var speedNames = map[usb.Speed]string{usb.HighSpeed: "USB 2, 480 Mb/s", usb.Gen1: "5 Gb/s", usb.Gen1x2: "10 Gb/s on two lanes",
	usb.Gen2: "10 Gb/s", usb.Gen2x2: "20 Gb/s", usb.Tunnel: "40 Gb/s (tunnelled)", usb.UnknownSpeed: "speed unknown"}

// gradeBasisUSB is what a USB lead is made for, as the MB/s it stands for; ok is false for a lead without data wires.
func (p *pass) gradeBasisUSB(l *rig.Lead) (b Basis, ok bool) {
	grade := usb.Grade(l.Grade)
	name := p.say("grade of the lead %s", p.leadTitle(l))
	path := p.path("leads", l.ID, "grade")
	sure, _, err := usb.GradeSpeed(grade)
	switch {
	case grade == usb.ChargeOnly || err != nil:
		return b, false
	case grade == usb.Lead40G:
		sure = usb.Tunnel // and 20 Gb/s for what has no tunnel: a lead for 40 carries it
		b = speedFact(path, name, usb.Gen2x2)
		b.Word = string(sure)
		return b, true
	case grade != usb.UnknownGrade:
		return speedFact(path, name, sure), true
	}
	var edits [][]rig.Edit
	if !p.quiet {
		for _, g := range leadGrades {
			edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: string(g)}})
		}
	}
	return choice(path, name, "MB/s", l.Grade, portSpeedOptions, func() Ask {
		return Ask{Question: p.say("What is the USB lead %s made for?", p.leadTitle(l)), How: "Look at its marks; a thin lead from a charger is USB 2.", Minutes: 1, Edits: edits}
	}), true
}

// leadGrades are the grades that stand for portSpeedOptions, in the same order.
var leadGrades = []usb.Grade{usb.USB2Lead, usb.Lead5G, usb.Lead10G, usb.Lead20G, usb.Lead40G}

// carriesData judges whether a USB lead has data wires. It reports whether it may have.
func (p *pass) carriesData(hop func() *Hop, where []string, l *rig.Lead) bool {
	lim := Limit{ID: "carries-data:" + l.ID, Rule: "carries-data", Sense: Fits, outcomes: yes, Stage: AtPort, Where: where, What: p.say("The lead %s carries data", p.leadTitle(l)),
		Source: Source{fact.Practice, "Handbook 7.4: charge-only cable"}}
	switch grade := usb.Grade(l.Grade); {
	case grade == usb.ChargeOnly:
		lim.outcomes, lim.Says = no, p.say("A charge-only lead has no data wires: the device is not found.")
		p.add(hop(), &lim)
		return false
	case l.LengthM.High == 0:
		return true // a plug that goes straight in has its wires
	case grade == usb.UnknownGrade:
		lim.outcomes, lim.Says = maybe, p.say("Nobody has looked whether the lead %s has data wires: one from a charger may have none.", p.leadTitle(l))
		if !p.quiet {
			path := "leads/" + l.ID + "/grade"
			answers := []answer{{string(usb.ChargeOnly), "Made for charging only", Snapped}}
			for i, g := range leadGrades {
				answers = append(answers, answer{string(g), portSpeedOptions[i].Label, Slack})
			}
			lim.Facts = p.facts.of(p.stateBasis(path, p.say("grade of the lead %s", p.leadTitle(l)), p.say("What is the USB lead %s made for?", p.leadTitle(l)),
				"Look at its marks; a thin lead from a charger is USB 2, or has no data wires at all.", 1, answers...))
		}
	default:
		lim.Says = p.say("It is marked as a data lead.")
	}
	p.add(hop(), &lim)
	return true
}

// usbLead judges a USB lead: does it carry data, and is it short enough for its speed? Its grade joins the parts that
// limit the connection's speed.
func (p *pass) usbLead(w *walk, s *stream, l *rig.Lead, dock bool, from, to *gear.Port) {
	var made *Hop
	hop := func() *Hop { // a plug that goes straight in is no stretch of its own
		if made == nil {
			made = w.at(AtPort, "lead", l.ID, p.leadName(l), p.leadTitle(l))
		}
		return made
	}
	if !p.carriesData(hop, w.deps(), l) {
		return
	}
	if b, ok := p.gradeBasisUSB(l); ok {
		s.pass(b)
	}
	if l.LengthM.High > 0 {
		p.usbReach(hop(), w.deps(), l, s, dock, from, to)
	}
}

// usbReach judges the length of a USB lead at the speed it has to carry: that of its two sockets, its grade, and the
// device behind it; 40 Gb/s where both ends of a dock's lead make a tunnel of it.
func (p *pass) usbReach(hop *Hop, where []string, l *rig.Lead, s *stream, dock bool, from, to *gear.Port) {
	device := s.device
	typeC := from.Connector == gear.USBC || to.Connector == gear.USBC
	fastest := usb.Gen2x2
	if device != usb.UnknownSpeed {
		fastest = usb.Slower(device, usb.Gen2x2)
	}
	switch usb.Grade(l.Grade) {
	case usb.USB2Lead:
		fastest = usb.HighSpeed
	case usb.Lead5G:
		fastest = usb.Slower(fastest, usb.Gen1)
	case usb.Lead10G:
		fastest = usb.Slower(fastest, usb.Gen2)
	}
	slowest := fastest
	if device == usb.UnknownSpeed {
		slowest = usb.HighSpeed
	}
	for i := range s.speeds { // what is slower, or may be, on the way to here
		fastest, slowest = usb.Slower(fastest, speedOf(s.speeds[i].High)), usb.Slower(slowest, speedOf(s.speeds[i].Low))
	}
	for _, port := range []*gear.Port{from, to} {
		switch {
		case port.USB == nil || port.USB.Speed == usb.UnknownSpeed:
			slowest = usb.HighSpeed
		case tunnels(port): // with something slower at the other end it is a 10 Gb/s socket
			fastest, slowest = usb.Slower(fastest, usb.Gen2), usb.Slower(slowest, usb.Gen2)
		default:
			fastest, slowest = usb.Slower(fastest, port.USB.Speed), usb.Slower(slowest, port.USB.Speed)
		}
	}
	if usb.Grade(l.Grade) == usb.UnknownGrade {
		slowest = usb.HighSpeed
	}
	if (tunnels(from) || open(from)) && (tunnels(to) || open(to)) && (dock || tunnels(from)) && (usb.Grade(l.Grade) == usb.Lead40G || usb.Grade(l.Grade) == usb.UnknownGrade) {
		if fastest = usb.Tunnel; usb.Grade(l.Grade) == usb.Lead40G && tunnels(from) && tunnels(to) {
			slowest = usb.Tunnel
		}
	}
	reachSure, _ := usb.Reach(fastest, typeC)
	_, reachPossible := usb.Reach(slowest, typeC)
	if fastest == usb.Tunnel { // a longer one falls back to less
		reachSure, _ = usb.Reach(usb.Tunnel, typeC)
	}
	reach := Basis{Name: p.say("reach of passive USB leads at %s", speedNames[fastest]), Unit: "m", Low: reachSure, Value: reachSure, High: max(reachPossible, reachSure), From: fact.Practice}
	if !p.quiet && reach.Low != reach.High {
		reach.Path = p.path("leads", l.ID, "tried")
		reach.Options, reach.ask = p.triedUSB(l, reach.Low, reach.High, fastest)
	}
	lim := Limit{ID: "reach:" + l.ID, Rule: "reach", Unit: "m", Stage: AtPort, Where: where, What: p.say("Reach of the lead %s", p.leadTitle(l)),
		Facts:    p.facts.of(p.lengthBasis(l), reach),
		Loads:    p.loads.of(Load{Item: l.ID, Label: p.leadName(l), Sum: "its length", term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: p.say("passive lead at %s", speedNames[fastest]),
		Source:   Source{fact.Practice, "Handbook 3.3: USB lead lengths; USB 2 from the 26 ns of USB 2.0, 7.1.16"}}
	if t := l.Tried; t != nil { // a trial of a USB lead is of the lead as it is used
		lim.Facts, lim.Loads, lim.caps, lim.Sense, lim.outcomes = nil, nil, nil, Fits, yes
		lim.Says = p.say("The lead %s was tried and held.", p.leadTitle(l))
		if !t.Holds {
			lim.outcomes, lim.Says = no, p.say("The lead %s was tried and did not hold.", p.leadTitle(l))
		}
		p.add(hop, &lim)
		return
	}
	kept := p.add(hop, &lim)
	if !p.quiet {
		kept.Says = p.say("The lead %s is %s long; a passive one carries %s for %s.", p.leadTitle(l), p.span(kept.Load.Low, kept.Load.High, "m"), speedNames[fastest], p.span(kept.Sure, kept.Possible, "m"))
	}
}

// tunnels tells whether a socket may make a 40 Gb/s tunnel.
func tunnels(port *gear.Port) bool { return port.USB != nil && port.USB.Speed == usb.Tunnel }

// dockLead tells whether a lead is the way up of a dock.
func (p *pass) dockLead(lead int) bool {
	fi, fp, ti, tp := p.g.LeadEnds(lead)
	up := func(item, port int) bool {
		return p.Items[item].Gear.Kind == gear.Dock && p.Items[item].Gear.Ports[port].Direction == gear.Upstream
	}
	return up(fi, fp) || up(ti, tp)
}

// open tells whether nobody has said how fast a socket is.
func open(port *gear.Port) bool {
	return port.USB == nil || port.USB.Speed == usb.UnknownSpeed
}

// triedUSB are the two answers a trial of a USB lead has.
func (p *pass) triedUSB(l *rig.Lead, sure, possible float64, s usb.Speed) ([]Option, func() Ask) {
	t, f := true, false
	mhz := map[usb.Speed]float64{usb.HighSpeed: 240, usb.Gen1: 2500, usb.Gen1x2: 2500, usb.Gen2: 5000, usb.Gen2x2: 5000, usb.Tunnel: 10000}[s]
	return []Option{{Word: "yes", Label: "It holds", Number: possible}, {Word: "no", Label: "It drops out", Number: sure}}, func() Ask {
		return Ask{Question: p.say("Does the USB lead %s (%s) hold?", p.leadTitle(l), p.leadName(l)), Minutes: 15, How: "Run the picture for a quarter of an hour and look whether the device drops out or comes back slower.",
			Edits: [][]rig.Edit{{{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &t}}, {{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &f}}}}
	}
}

// port takes a stream into a hub, a dock or the computer, where its connection is judged.
func (p *pass) port(w *walk, it *rig.Item, h rig.Hop, s *stream) {
	in := &it.Gear.Ports[h.In]
	hop := w.at(AtPort, "port", it.ID+"."+in.ID, rig.PortName(in), p.speedName(in))
	hop.Lead = w.lead
	if in.Direction != gear.Downstream {
		p.add(hop, &Limit{ID: "way-round:" + it.ID + "." + in.ID, Rule: "way-round", Sense: Fits, outcomes: no, Where: w.deps(),
			What: "Device meets computer", Says: p.say("%s of %s is %s: a device's plug belongs into a downstream port.", rig.PortName(in), it.Label, string(in.Direction)),
			Source: Source{fact.Practice, "Handbook 3.3"}})
		return
	}
	if in.ChargeOnly {
		p.add(hop, &Limit{ID: "carries-data:" + it.ID + "." + in.ID, Rule: "carries-data", Sense: Fits, outcomes: no, Where: w.deps(), What: p.say("%s of %s carries data", rig.PortName(in), it.Label),
			Says: p.say("%s of %s gives power and carries no data: the device is not found.", rig.PortName(in), it.Label), Source: Source{fact.Practice, "Handbook 4.1: a charge-only port carries no data"}})
		return
	}
	s.crosses = append(s.crosses, hopAt{it, w.feed, len(w.feed.Hops) - 1})
	if in.Connector == gear.PCIe {
		s.slot, s.slotPort, s.where = it, in, w.deps()
		return
	}
	if s.host != nil {
		if it.IsHost() {
			id := "link:" + s.owner.ID + "." + s.port
			hop.Limits = append(hop.Limits, id)
			if i, ok := p.index[id]; ok {
				hop.State = Worse(hop.State, p.limits[i].State)
			}
		}
		return // another feed of the same switcher was here already
	}
	s.where = w.deps()
	if s.enter(p, h.Item, in, h.Out) {
		p.link(hop, s)
	}
}

// enter notes the socket a stream's plug is in and what it shares from there on; up is the port of the way on, -1 in the
// computer. It reports whether the stream has arrived.
func (s *stream) enter(p *pass, item int, in *gear.Port, up int) bool {
	it := &p.Items[item]
	s.speeds = append(s.speeds, p.speedBasis(it, in))
	if it.IsHost() {
		s.shares = append(s.shares, shareAt{item, in.Controller, in.ID, len(s.speeds)})
		s.host = it
		return true
	}
	owned := ""
	if it.Gear.Kind == gear.Dock && ownsController(it, in.Controller) {
		owned = in.Controller
	}
	if up >= 0 {
		s.speeds = append(s.speeds, p.speedBasis(it, &it.Gear.Ports[up]))
	}
	s.shares = append(s.shares, shareAt{item, owned, in.ID, len(s.speeds)})
	return false
}

// ownsController tells whether a dock brings a controller of its own for a port: over a 40 Gb/s way up its ports share
// its tunnel, not the controllers of the computer. Handbook 3.3.
func ownsController(it *rig.Item, id string) bool {
	return id != "" && slices.ContainsFunc(it.Gear.Controllers, func(c gear.Controller) bool { return c.ID == id })
}

func (p *pass) speedName(port *gear.Port) string {
	if port.Slot != nil && !p.quiet {
		return slotWords(port.Slot)
	}
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

var highSpeedMBps, _ = usb.BusMBps(usb.HighSpeed, false, false)

// high tells whether a stream ends up on the high-speed side of the bus: surely, or possibly.
func (s *stream) high() (surely, possibly bool) {
	for i := range s.speeds {
		surely = surely || s.speeds[i].High <= highSpeedMBps
		possibly = possibly || s.speeds[i].Low <= highSpeedMBps
	}
	return surely, possibly
}

// side is whether a stream whose speed is open runs on one side of the bus, as a factor of its load: 1 there, 0 on the
// other.
func (s *stream) side(high bool) Basis {
	at := slices.IndexFunc(s.speeds, func(b Basis) bool { return b.Low <= highSpeedMBps })
	b := s.speeds[at]
	b.Unit, b.Low, b.Value, b.High = "", 0, 0, 1
	if !high {
		b.Value = 1
	}
	b.Options = slices.Clone(b.Options)
	for i := range b.Options {
		on := b.Options[i].Number <= highSpeedMBps
		b.Options[i].Number = 0
		if on == high {
			b.Options[i].Number = 1
		}
	}
	return b
}

// tunnelled tells whether the way up of a dock with a controller of its own is a 40 Gb/s tunnel: surely, or possibly.
// open is the part that would tell.
func (s *stream) tunnelled(at shareAt) (surely, possibly bool, open *Basis) {
	surely, possibly = true, true
	for i := max(at.above-1, 0); i < len(s.speeds); i++ { // its own way up, and what is above
		b := &s.speeds[i]
		switch {
		case b.Word == string(usb.Tunnel):
		case len(b.Options) > 0 || b.Low != b.High:
			surely = false
			if open == nil {
				open = b
			}
		default:
			surely, possibly = false, false
		}
	}
	return surely && possibly, possibly, open
}

var speedSteps = []usb.Speed{usb.HighSpeed, usb.Gen1, usb.Gen1x2, usb.Gen2, usb.Gen2x2}

// speedOf is the speed a figure of speedFact stands for.
func speedOf(mbps float64) usb.Speed {
	at := usb.HighSpeed
	for _, s := range speedSteps {
		if v, _ := usb.BusMBps(s, false, false); v <= mbps {
			at = s
		}
	}
	return at
}

// link judges one stream against the slowest part of its own connection. Handbook 3.2.
func (p *pass) link(hop *Hop, s *stream) {
	l := Limit{ID: "link:" + s.owner.ID + "." + s.port, Rule: "link", Unit: "MB/s", Where: s.where,
		What: p.say("USB connection of %s", s.owner.Label), Source: Source{fact.Standard, "USB 2.0 chapter 5 and USB 3.2; bulk payload figures from memory"}}
	l.Facts = append(append(p.facts.room(len(s.facts)+len(s.speeds)+1), s.facts...), s.speeds...)
	l.caps = p.terms.room(len(s.speeds) + 1)
	n := int16(len(s.facts))
	slowest := 0
	fastest := s.speeds[0].High
	for i := range s.speeds {
		l.caps = append(l.caps, times(1, n+int16(i)))
		if s.speeds[i].Low < s.speeds[slowest].Low {
			slowest = i
		}
		fastest = min(fastest, s.speeds[i].High)
	}
	// A reserving stream is bound to one endpoint: a share of what bulk streams get on the same connection.
	if s.iso || s.maybe {
		l.caps = append(l.caps, times(1, int16(len(l.Facts))))
		l.Facts = append(l.Facts, p.endpointBasis(s, &s.speeds[slowest], fastest))
	}
	l.Loads = p.loads.of(Load{Item: s.owner.ID, Label: s.owner.Label, Sum: s.sum, term: s.load})
	l.LimitSum = p.say("slowest part: %s", s.speeds[slowest].Name)
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s sends %s; its connection carries %s (slowest part: %s).", s.owner.Label,
			span(kept.Load.Low, kept.Load.High, "MB/s"), span(kept.Sure, kept.Possible, "MB/s"), s.speeds[slowest].Name)
	}
}

// endpointBasis is what one reserving endpoint carries at the speeds the connection may turn out to have.
func (p *pass) endpointBasis(s *stream, slowest *Basis, fastest float64) Basis {
	isoSure, _ := usb.EndpointMBps(speedOf(slowest.Low), usb.Isochronous)
	_, isoPossible := usb.EndpointMBps(speedOf(fastest), usb.Isochronous)
	if s.iso {
		// With the largest headers at both ends: the few bytes they may be shorter are known to nobody and asked of nobody.
		at, _ := usb.EndpointMBps(speedOf(fastest), usb.Isochronous)
		b := Basis{Name: "what one reserving endpoint carries", Unit: "MB/s", Low: isoSure, Value: isoSure, High: max(isoSure, at), From: fact.Standard}
		if len(slowest.Options) > 0 && !p.quiet { // its speed is open
			b.Path, b.ask = slowest.Path, slowest.ask
			for _, o := range slowest.Options {
				o.Number, _ = usb.EndpointMBps(speedOf(o.Number), usb.Isochronous)
				b.Options = append(b.Options, o)
			}
		}
		return b
	}
	bulk := max(isoPossible, fastest)
	return p.transferBasis(s, min(isoSure, bulk), bulk)
}

// transferBasis asks how a device's stream uses the bus.
func (p *pass) transferBasis(s *stream, iso, bulk float64) Basis {
	if p.quiet {
		return Basis{Low: min(iso, bulk), Value: iso, High: max(iso, bulk)}
	}
	path := p.path("items", s.owner.ID, "ports", s.port, "usb/transfer")
	word := func(t usb.Transfer) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: string(t)}} }
	return choice(path, p.say("how %s uses the bus", s.owner.Label), "MB/s", string(usb.UnknownTransfer),
		[]Option{{Word: string(usb.Isochronous), Label: "It reserves (isochronous)", Number: iso}, {Word: string(usb.Bulk), Label: "It shares (bulk)", Number: bulk}},
		func() Ask {
			return Ask{Question: p.say("Does %s reserve its bandwidth, or share it?", s.owner.Label),
				How: "The system's USB listing names the endpoint: isochronous or bulk.", Minutes: 3,
				Edits: [][]rig.Edit{word(usb.Isochronous), word(usb.Bulk)}}
		})
}

// busKey is one bus: a hub's way up ("" for its controller), or a controller of a computer or dock, on one of its sides.
type busKey struct {
	item       int
	controller string
	high       bool
}

// onBus is a stream on a bus, with what its load there is multiplied by: nothing when it is surely there.
type onBus struct {
	*stream
	socket  string // of the bus's item
	factors []Basis
}

// buses judges what streams share: every hub's way up and every controller, the fast pair and the 480 Mb/s pair apart.
// A stream whose speed is open stands on both sides, one of which it is on. Handbook 3.3.
func (p *pass) buses() {
	var order []busKey
	groups := map[busKey][]onBus{}
	put := func(k busKey, on onBus) {
		if _, ok := groups[k]; !ok {
			order = append(order, k)
		}
		groups[k] = append(groups[k], on)
	}
	var docks []int
	ways := map[int][]onBus{}
	for _, s := range p.streams {
		if s.host == nil {
			continue
		}
		surely, possibly := s.high()
		var above []Basis // factors from docks below
		for _, at := range s.shares {
			for _, high := range []bool{false, true} {
				if surely && !high || !possibly && high {
					continue
				}
				on := onBus{stream: s, socket: at.socket, factors: above}
				if possibly && !surely {
					on.factors = append(slices.Clip(above), s.side(high))
				}
				put(busKey{at.item, at.controller, high}, on)
			}
			if at.controller == "" || p.Items[at.item].IsHost() {
				continue
			}
			// A dock with a controller of its own: its way up, and past it only what is not tunnelled.
			if ways[at.item] == nil {
				docks = append(docks, at.item)
			}
			ways[at.item] = append(ways[at.item], onBus{stream: s, socket: at.socket})
			tunnel, may, open := s.tunnelled(at)
			switch {
			case tunnel:
				above = append(slices.Clip(above), Basis{Name: p.say("%s is tunnelled", p.Items[at.item].Label), From: fact.Standard})
			case may:
				b := *open
				b.Unit, b.Low, b.Value, b.High = "", 0, 1, 1
				b.Options = slices.Clone(b.Options)
				for i := range b.Options {
					b.Options[i].Number = 1
					if b.Options[i].Word == string(usb.Tunnel) || b.Options[i].Word == string(usb.Lead40G) {
						b.Options[i].Number = 0
					}
				}
				above = append(slices.Clip(above), b)
			}
		}
	}
	for _, k := range order {
		if s := p.scope; s != nil && !s.keys[k] && !s.item[k.item] {
			continue
		}
		if it := &p.Items[k.item]; !k.high || it.Gear.USB2 != "apart" || !it.IsHost() && k.controller == "" {
			p.bus(k, groups[k])
			continue
		}
		for _, s := range groups[k] { // each socket has 480 Mb/s of its own: the worst of them counts
			mine := slices.DeleteFunc(slices.Clone(groups[k]), func(o onBus) bool { return o.socket != s.socket })
			if mine[0].stream == s.stream {
				p.bus(k, mine)
			}
		}
	}
	for _, d := range docks {
		if s := p.scope; s != nil && !s.item[d] && !slices.ContainsFunc(ways[d], func(o onBus) bool {
			return slices.ContainsFunc(o.shares, func(a shareAt) bool { return a.item == d && s.keys[busKey{a.item, a.controller, false}] })
		}) {
			continue
		}
		p.wayUp(d, ways[d])
	}
}

// loadOn adds a stream's load to a limit, times what it is multiplied by there.
func (p *pass) loadOn(l *Limit, s *stream, facts []Basis, load term, sum string, factors []Basis) {
	l.Where = merge(l.Where, s.where)
	load = load.shift(len(l.Facts))
	l.Facts = append(l.Facts, facts...)
	for i := range factors {
		load = load.with(int16(len(l.Facts)))
		l.Facts = append(l.Facts, factors[i])
	}
	l.Loads = append(l.Loads, Load{Item: s.owner.ID, Label: s.owner.Label, Sum: sum, term: load})
}

func (p *pass) bus(k busKey, streams []onBus) {
	it := &p.Items[k.item]
	l := Limit{Rule: "bus", Unit: "MB/s", Stage: AtPort, Shared: true}
	onHost := it.IsHost() || k.controller != ""
	side := "5 Gb/s and faster"
	l.ID = "bus:" + it.ID + "." + k.controller + ".fast"
	if k.high {
		side = "480 Mb/s"
		l.ID = "bus:" + it.ID + "." + k.controller + ".480"
	}
	l.What = p.say("%s, the %s side", it.Label, side)
	if onHost {
		l.What = p.say("%s, all ports of %s, the %s side", it.Label, orThe(k.controller), side)
	}
	iso, open := false, (*stream)(nil)
	sockets := map[string]bool{}
	for _, s := range streams {
		iso = iso || s.iso
		if s.maybe && open == nil {
			open = s.stream
		}
		sockets[s.socket] = true
		facts, load, sum := s.facts, s.load, s.sum
		if k.high && (s.iso || s.maybe) && s.width > 0 {
			facts, load, sum = p.reservation(s.stream)
		}
		p.loadOn(&l, s.stream, facts, load, sum, s.factors)
	}
	var caps []Basis // the lowest of these is the limit
	switch {
	case k.high:
		b := p.highBasis(it, iso, open)
		n := int16(len(l.Facts))
		l.Facts = append(l.Facts, b)
		cap := times(1, n)
		if onHost && len(sockets) > 1 && it.Gear.USB2 != "shared" && it.Gear.USB2 != "apart" {
			l.Facts = append(l.Facts, p.apartBasis(it, len(sockets)))
			cap = cap.with(n + 1)
		}
		l.caps = append(l.caps, cap)
		l.LimitSum = b.Name
	case onHost:
		caps = []Basis{p.uplinkBasis(it, k.controller)}
	default:
		up := upstream(it)
		caps = []Basis{p.speedBasis(it, up)}
		if (iso || open != nil) && up.USB != nil && up.USB.Speed == usb.Gen1 {
			sure, possible := usb.BusMBps(usb.Gen1, iso, open != nil)
			b := Basis{Name: "what reserving streams may take of 5 Gb/s", Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
			if sure < possible && open != nil {
				b = p.transferBasis(open, sure, possible)
			}
			caps = append(caps, b)
		}
		caps = append(caps, p.above(k.item, streams)...)
	}
	for _, b := range caps {
		l.caps = append(l.caps, times(1, int16(len(l.Facts))))
		l.Facts = append(l.Facts, b)
	}
	l.Source = Source{fact.Standard, "Handbook 3.2 and 3.3; USB 2.0 chapter 5"}
	if !p.quiet && len(caps) > 0 {
		l.LimitSum = caps[0].Name
		if caps[0].Word != "" {
			l.LimitSum += ": " + speedNames[usb.Speed(caps[0].Word)]
		}
	}
	kept := p.add(nil, &l)
	id := kept.ID
	if !p.quiet {
		kept.Says = p.say("%s carries %s: %s of %s.", kept.What, count(len(streams), "stream", "streams"), p.span(kept.Load.Low, kept.Load.High, "MB/s"), p.span(kept.Sure, kept.Possible, "MB/s"))
	}
	p.hang(id, it, streams)
}

// highBasis is what one 480 Mb/s bus carries: bulk as it is; with reserving streams four packets of 1024 bytes a
// microframe surely and a fifth possibly (handbook 3.2).
func (p *pass) highBasis(it *rig.Item, iso bool, open *stream) Basis {
	sure, possible := usb.BusMBps(usb.HighSpeed, iso, open != nil)
	if !iso && open != nil {
		b := p.transferBasis(open, sure, possible)
		b.Name = p.say("what one 480 Mb/s bus carries, by %s", b.Name)
		return b
	}
	b := Basis{Name: "what one 480 Mb/s bus carries", Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
	if n := it.Gear.USB2Packets; iso && n > 0 {
		b.Low = float64(n*usb.IsoTransaction*usb.MicroframesPerSecond) / mega
		b.Value, b.High, b.From = b.Low, b.Low, fact.Measured
		return b
	}
	if !iso || p.quiet {
		return b
	}
	path := p.path("items", it.ID, "usb2Packets")
	word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: w}} }
	b.Path = path
	b.Options = []Option{{Word: "5", Label: "Yes, all of them start", Number: possible}, {Word: "4", Label: "No, the last one is refused", Number: sure}}
	b.ask = func() Ask {
		return Ask{Question: p.say("Do all streams on the 480 Mb/s bus of %s start together?", it.Label), How: "Open them one after the other in the program; a reserving stream that does not fit is refused when it opens.", Minutes: 5,
			Edits: [][]rig.Edit{word("5"), word("4")}}
	}
	return b
}

// apartBasis asks whether the 480 Mb/s sides of a computer's sockets share one bus: planned as shared, possibly each its own.
func (p *pass) apartBasis(it *rig.Item, sockets int) Basis {
	n := float64(sockets)
	if p.quiet {
		return Basis{Low: 1, Value: 1, High: n}
	}
	path := p.path("items", it.ID, "usb2")
	word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: w}} }
	return choice(path, p.say("480 Mb/s buses behind these sockets of %s", it.Label), "", "unknown",
		[]Option{{Word: "shared", Label: "They share one", Number: 1}, {Word: "apart", Label: "Each has its own", Number: n}}, func() Ask {
			return Ask{Question: p.say("Do the USB 2 sides of the sockets of %s share one 480 Mb/s bus?", it.Label),
				How: "The system's USB listing: devices under one root hub of 480M share it.", Minutes: 3, Edits: [][]rig.Edit{word("shared"), word("apart")}}
		})
}

// wayUp judges the way up of a dock with a controller of its own, which is a link like any other: the lowest of its
// socket, the lead and the computer's socket; a tunnel where all three make one. Handbook 3.3.
func (p *pass) wayUp(item int, streams []onBus) {
	it := &p.Items[item]
	l := Limit{ID: "way-up:" + it.ID, Rule: "way-up", Unit: "MB/s", Stage: AtPort, Shared: true, What: p.say("Way up of %s", it.Label),
		Source: Source{fact.Practice, "Handbook 3.2 and 3.3: a dock's way up is a link like any other; a tunnel carries 22 Gb/s"}}
	for _, s := range streams {
		p.loadOn(&l, s.stream, s.facts, s.load, s.sum, nil)
	}
	s := streams[0].stream
	at := s.shares[slices.IndexFunc(s.shares, func(a shareAt) bool { return a.item == item })]
	tunnel, may, _ := s.tunnelled(at)
	if tunnel {
		l.caps = append(l.caps, times(1, int16(len(l.Facts))))
		l.Facts = append(l.Facts, Basis{Name: "what a 40 Gb/s tunnel carries", Unit: "MB/s", Low: usb.TunnelMBps, Value: usb.TunnelMBps, High: usb.TunnelMBps, From: fact.Practice})
		l.LimitSum = "22 Gb/s of PCI Express in a 40 Gb/s tunnel"
	} else {
		for i := max(at.above-1, 0); i < len(s.speeds); i++ {
			b := s.speeds[i]
			if may { // what is open may turn out a tunnel, which carries more than USB
				b.High = usb.TunnelMBps
				b.Options = slices.Clone(b.Options)
				for k := range b.Options {
					if b.Options[k].Word == string(usb.Tunnel) {
						b.Options[k].Number = usb.TunnelMBps
					}
				}
			}
			l.caps = append(l.caps, times(1, int16(len(l.Facts))))
			l.Facts = append(l.Facts, b)
		}
		l.LimitSum = "the slowest of its socket, the lead and the computer's socket"
	}
	kept := p.add(nil, &l)
	id := kept.ID
	if !p.quiet {
		kept.Says = p.say("%s goes up %s: %s of %s.", count(len(streams), "stream", "streams"), it.Label, p.span(kept.Load.Low, kept.Load.High, "MB/s"), p.span(kept.Sure, kept.Possible, "MB/s"))
		kept.Says = sentenceCase(kept.Says)
	}
	p.hang(id, it, streams)
}

// hang lists a shared limit on the hops where its streams pass.
func (p *pass) hang(id string, it *rig.Item, streams []onBus) {
	if p.quiet {
		return
	}
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
func (p *pass) above(item int, streams []onBus) []Basis {
	s := streams[0]
	for _, at := range s.shares {
		if at.item == item {
			return s.speeds[at.above:]
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

// reservation replaces a stream's average by what it takes out of a 480 Mb/s bus when it reserves: what its listing says
// of this picture or of its alternate settings, else at least its packets and at most the largest setting.
func (p *pass) reservation(s *stream) ([]Basis, term, string) {
	need := s.load.bounds(s.facts)
	low, high := usb.ReservationMBps(need.Low)
	b := Basis{Name: p.say("reservation of %s", s.owner.Label), Unit: "MB/s", Low: low, Value: high, High: high, From: fact.Estimate}
	if f := s.reserves; f != nil {
		b.Low, b.Value, b.High, b.From, b.At = f.Low, f.Value, f.High, f.From, f.At
	}
	if s.maybe { // a device that shares takes its average, whatever that is
		b.Low, b.High = min(b.Low, need.Low), max(b.High, need.High)
	}
	if !p.quiet {
		b.Path = p.path("items", s.owner.ID, "ports", s.port, "usb/reservesMBps")
		b.ask = p.ask("How many megabytes a second do the alternate settings of %s reserve?", s.owner.Label, "lsusb -v lists them (wMaxPacketSize × packets × 8000 microframes); most devices claim the largest.", 5)
		if s.maybe {
			t := p.transferBasis(s, b.High, need.High)
			b.Path, b.ask, b.Options = t.Path, t.ask, t.Options
		}
	}
	return []Basis{b}, times(1, 0), p.say("reserves %s to %s MB/s: its packets, up to the largest setting", p.num(b.Low), p.num(b.High))
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
