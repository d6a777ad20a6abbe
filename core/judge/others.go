package judge

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/pcie"
	"eventether/core/rig"
	"eventether/core/usb"
)

// deepest is how many hubs may stand in a chain [standard: USB 2.0, 4.1.1: seven tiers with the root and the device].
const deepest = 5

// others adds to the buses what sends no picture: drives, sound, and chains of hubs that are too long. Handbook 3.3.
func (p *pass) others() {
	for i := range p.Items {
		it := &p.Items[i]
		if it.IsSource() || it.IsHost() || it.Gear.Kind == gear.Capture || it.Gear.Kind == gear.Switcher || it.Gear.Kind == gear.Card || it.Gear.Kind == gear.Dock {
			continue
		}
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			if port.Direction != gear.Upstream || port.Connector.Family() != gear.USBFamily || p.g.LeadAt(i, j) < 0 {
				continue
			}
			if it.Gear.Kind == gear.Hub {
				p.depth(i, j)
				continue
			}
			p.other(it, i, j)
		}
	}
}

// other is a stream of a device without a picture, up to the controller it ends at.
func (p *pass) other(it *rig.Item, item, port int) {
	s := &stream{owner: it, port: it.Gear.Ports[port].ID, where: []string{it.ID}, name: "no picture", other: true, device: usb.UnknownSpeed}
	s.speeds = append(s.speeds, p.speedBasis(it, &it.Gear.Ports[port]))
	takes := it.Gear.TakesOfBus()
	b := basis(p.path("items", it.ID, "busMBps"), p.say("what %s takes of the bus", it.Label), "MB/s", it.Gear.BusMBps, takes,
		p.ask("How many megabytes a second does %s move while the show runs?", it.Label, "The system's own activity display shows it.", 5))
	s.facts, s.load, s.sum = []Basis{b}, times(1, 0), p.say("%s", "while in use")
	s.maybe = true
	if u := it.Gear.Ports[port].USB; u != nil {
		s.iso = u.Transfer == usb.Isochronous
		s.maybe = u.Transfer == usb.UnknownTransfer || u.Transfer == ""
		if u.Speed != usb.UnknownSpeed {
			s.device = u.Speed
		}
	}
	for range len(p.Items) {
		at := p.g.LeadAt(item, port)
		if at < 0 {
			return
		}
		fi, fp, ti, tp := p.g.LeadEnds(at)
		if ti == item { // laid the other way round
			fi, fp, ti, tp = ti, tp, fi, fp
		}
		l, up := &p.Leads[at], &p.Items[ti]
		in := &up.Gear.Ports[tp]
		s.where = append(s.where, l.ID, up.ID)
		if !p.carriesData(func() *Hop { return nil }, slices.Clone(s.where), l) {
			return
		}
		if b, ok := p.gradeBasisUSB(l); ok {
			s.pass(b)
		}
		if l.LengthM.High > 0 {
			p.usbReach(nil, slices.Clone(s.where), l, s, p.dockLead(at), &p.Items[fi].Gear.Ports[fp], in)
		}
		if in.Direction != gear.Downstream || in.ChargeOnly {
			p.add(nil, &Limit{ID: "way-round:" + up.ID + "." + in.ID, Rule: "way-round", Sense: Fits, outcomes: no, Stage: AtPort, Where: slices.Clone(s.where),
				What: "Device meets computer", Says: p.say("%s of %s takes no device: %s is not found.", rig.PortName(in), up.Label, it.Label), Source: Source{fact.Practice, "Handbook 3.3"}})
			return
		}
		next := -1
		if !up.IsHost() {
			if next = slices.IndexFunc(up.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream }); next < 0 {
				return
			}
		}
		if s.enter(p, ti, in, next) {
			p.streams = append(p.streams, s)
			p.link(nil, s)
			return
		}
		item, port = ti, next
	}
}

// depth counts the hubs from one up to the computer.
func (p *pass) depth(item, port int) {
	first := &p.Items[item]
	where := []string{first.ID}
	n := 1
	for range len(p.Items) {
		at := p.g.LeadAt(item, port)
		if at < 0 {
			return
		}
		ti := p.g.Far(at, item)
		up := &p.Items[ti]
		where = append(where, p.Leads[at].ID, up.ID)
		next := slices.IndexFunc(up.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream })
		if up.IsHost() || next < 0 {
			break
		}
		n++
		item, port = ti, next
	}
	if n <= 2 {
		return // nothing worth saying
	}
	hubs := float64(n)
	l := Limit{ID: "depth:" + first.ID, Rule: "hub-depth", Unit: "hubs", Ceiling: 1, Stage: AtPort, Shared: true, Where: where, What: p.say("Hubs in a chain up from %s", first.Label),
		Facts: p.facts.of(Basis{Name: "hubs in the chain", Low: hubs, Value: hubs, High: hubs, From: fact.Given}), Loads: p.loads.of(Load{Item: first.ID, Label: first.Label, Sum: "counted up to the computer", term: times(1, 0)}),
		caps: p.terms.of(times(deepest)), LimitSum: "seven tiers with the root and the device", Source: Source{fact.Standard, "USB 2.0, 4.1.1"}}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s hubs in a chain; five work.", num(hubs))
	}
}

// cards judges every card slot against the pictures of the card in it, and cards side by side. Handbook 3.5.
func (p *pass) cards() {
	var order []*gear.Port
	bySlot := map[*gear.Port][]*stream{}
	for _, s := range p.streams {
		if s.slot == nil {
			continue
		}
		if bySlot[s.slotPort] == nil {
			order = append(order, s.slotPort)
		}
		bySlot[s.slotPort] = append(bySlot[s.slotPort], s)
	}
	for _, port := range order {
		p.slot(port, bySlot[port])
	}
	for i, a := range order {
		for _, b := range order[i+1:] {
			x, y := bySlot[a][0], bySlot[b][0]
			if x.owner.ID > y.owner.ID {
				x, y = y, x
			}
			known := a.Slot != nil && b.Slot != nil && a.Slot.Place != 0 && b.Slot.Place != 0
			if known && (a.Slot.Place-b.Slot.Place > 1 || b.Slot.Place-a.Slot.Place > 1) {
				continue
			}
			l := Limit{ID: "side-by-side:" + x.owner.ID + ":" + y.owner.ID, Rule: "side-by-side", Sense: Fits, outcomes: soft, Stage: AtPort, Shared: true,
				Where: merge(slices.Clone(x.where), y.where), What: "Cards side by side", Says: p.say("%s and %s sit side by side and heat each other: leave an empty slot between them and keep air moving.", x.owner.Label, y.owner.Label),
				Source: Source{fact.Practice, "Handbook 3.5"}, Caution: "Hot cards and power supplies: switch off and unplug before opening a computer; touch metal first."}
			if !known {
				l.Says = p.say("Nobody has said whether %s and %s sit side by side: cards heat each other.", x.owner.Label, y.owner.Label)
			}
			p.add(nil, &l)
		}
	}
}

// slot judges one card slot: the lower generation and the lower width of slot and card, and what packets leave.
func (p *pass) slot(port *gear.Port, streams []*stream) {
	host, card := streams[0].slot, streams[0].owner
	ref := host.ID + "." + port.ID
	l := Limit{ID: "slot:" + ref, Rule: "slot", Unit: "MB/s", Stage: AtPort, Shared: true, What: p.say("What %s of %s carries", rig.PortName(port), host.Label),
		Source: Source{fact.Standard, "PCI Express Base: coding; packets leave about 82 % [memory]"}, Caution: "Hot cards: switch off and unplug before opening a computer; touch metal first."}
	for _, s := range streams {
		l.Where = merge(l.Where, s.where)
		label := s.owner.Label
		if s.in > 0 {
			label = p.say("%s, %s", s.owner.Label, rig.PortName(&s.owner.Gear.Ports[s.in-1]))
		}
		l.Loads = append(l.Loads, Load{Item: s.owner.ID, Label: label, Sum: s.sum, term: s.load.shift(len(l.Facts))})
		l.Facts = append(l.Facts, s.facts...)
	}
	var needs *gear.Slot
	for i := range card.Gear.Ports {
		if card.Gear.Ports[i].Slot != nil {
			needs = card.Gear.Ports[i].Slot
		}
	}
	b := p.slotBasis(&l, host, port, card, needs)
	cap := times(1, int16(len(l.Facts)))
	l.Facts = append(l.Facts, b)
	if port.Slot != nil && (port.Slot.SharedWith != "" || port.Slot.Sharing != "") {
		cap = cap.with(int16(len(l.Facts)))
		l.Facts = append(l.Facts, p.sharingBasis(host, port))
	}
	l.caps = p.terms.of(cap)
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s of the %s this slot carries.", p.span(kept.Load.Low, kept.Load.High, "MB/s"), p.span(kept.Sure, kept.Possible, "MB/s"))
		if port.Slot != nil && port.Slot.SharedWith != "" {
			kept.Says += p.say(" It is shared with %s: that may halve it or turn it off.", port.Slot.SharedWith)
		}
	}
	on := make([]onBus, len(streams))
	for i, s := range streams {
		on[i].stream = s
	}
	p.hang(kept.ID, host, on)
}

// slotBasis is what a slot and the card in it come to: the lower generation and width of both; where one of them is not
// known, anything up to the other.
func (p *pass) slotBasis(l *Limit, host *rig.Item, port *gear.Port, card *rig.Item, needs *gear.Slot) Basis {
	name := p.say("what %s carries", rig.PortName(port))
	most := pcie.Link{Generation: pcie.MaxGeneration, Lanes: 16}
	if port.Slot == nil {
		l.LimitSum = "nobody has said how the slot is wired"
		b := p.linkBasisPCIe(p.path("items", host.ID, "ports", port.ID, "slot/wired"), name, most, needs, p.say("How is %s of %s wired?", rig.PortName(port), host.Label),
			"The board's handbook lists generation and lanes of each slot; lspci -vv shows them for the card in it (LnkSta).")
		return b
	}
	if needs == nil {
		l.LimitSum = "nobody has said what the card is made for"
		cardPort := ""
		for i := range card.Gear.Ports {
			if card.Gear.Ports[i].Connector == gear.PCIe {
				cardPort = card.Gear.Ports[i].ID
			}
		}
		return p.linkBasisPCIe(p.path("items", card.ID, "ports", cardPort, "slot/wired"), name, port.Slot.Link, nil, p.say("Which generation and how many lanes has %s?", card.Label),
			"Its data sheet says; lspci -vv shows it (LnkCap).")
	}
	link := pcie.Meet(port.Slot.Link, needs.Link)
	b := Basis{Name: name, Unit: "MB/s", From: fact.Given, Low: link.UsableMBps()}
	b.Value, b.High = b.Low, b.Low
	if !p.quiet {
		l.LimitSum = p.say("generation %s, %s: %s MB/s after coding × 0.82 for packets", num(float64(link.Generation)), count(link.Lanes, "lane", "lanes"), num(link.CodedMBps()))
		if link.Generation < port.Slot.Generation {
			l.LimitSum += p.say("; the card is of generation %s, the slot of %s", num(float64(link.Generation)), num(float64(port.Slot.Generation)))
		}
		if port.Slot.Size > port.Slot.Lanes {
			l.LimitSum += p.say("; the slot is ×%s long and has %s wired", num(float64(port.Slot.Size)), count(port.Slot.Lanes, "lane", "lanes"))
		}
	}
	return b
}

// linkBasisPCIe asks how a slot or card is wired: from one old lane to the most the other end can use.
func (p *pass) linkBasisPCIe(path, name string, most pcie.Link, needs *gear.Slot, question, how string) Basis {
	var options []Option
	var edits [][]rig.Edit
	for _, l := range []pcie.Link{{Generation: 1, Lanes: 1}, {Generation: 2, Lanes: 1}, {Generation: 2, Lanes: 4}, {Generation: 3, Lanes: 1}, {Generation: 3, Lanes: 4}, {Generation: 3, Lanes: 8}, {Generation: 4, Lanes: 4}, {Generation: 5, Lanes: 16}} {
		met := pcie.Meet(l, most)
		if needs != nil {
			met = pcie.Meet(met, needs.Link)
		}
		o := Option{Word: l.Word(), Number: met.UsableMBps()}
		if !p.quiet {
			o.Label = p.say("generation %s, %s", num(float64(l.Generation)), count(l.Lanes, "lane", "lanes"))
			edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: l.Word()}})
		}
		options = append(options, o)
	}
	return choice(path, name, "MB/s", "", options, func() Ask {
		return Ask{Question: question, How: how, Minutes: 5, Edits: edits}
	})
}

// sharingBasis is the share of a slot that is left beside what it is shared with: until somebody has looked, anything from
// nothing to all. Handbook 3.5.
func (p *pass) sharingBasis(host *rig.Item, port *gear.Port) Basis {
	left := map[string]float64{"whole": 1, "half": 0.5, "off": 0}
	name := p.say("share of %s left beside %s", rig.PortName(port), orElse(port.Slot.SharedWith, "what shares it"))
	if v, ok := left[port.Slot.Sharing]; ok {
		return Basis{Path: p.path("items", host.ID, "ports", port.ID, "slot/sharing"), Name: name, Low: v, Value: v, High: v, From: fact.Given, Word: port.Slot.Sharing}
	}
	path := p.path("items", host.ID, "ports", port.ID, "slot/sharing")
	word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: w}} }
	return choice(path, name, "", "unknown", []Option{{Word: "whole", Label: "The slot keeps all its lanes", Number: 1}, {Word: "half", Label: "It is halved", Number: 0.5}, {Word: "off", Label: "It is off", Number: 0}},
		func() Ask {
			return Ask{Question: p.say("What is left of %s of %s beside %s?", rig.PortName(port), host.Label, orElse(port.Slot.SharedWith, "what shares it")),
				How: "The board's handbook says what the other socket takes away; lspci -vv shows the card's width (LnkSta).", Minutes: 5, Edits: [][]rig.Edit{word("whole"), word("half"), word("off")}}
		})
}
