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
	s := &stream{owner: it, port: it.Gear.Ports[port].ID, where: []string{it.ID}, name: "no picture"}
	s.speeds = append(s.speeds, p.speedBasis(it, &it.Gear.Ports[port]))
	takes := it.Gear.TakesOfBus()
	b := basis(p.path("items", it.ID, "busMBps"), p.say("what %s takes of the bus", it.Label), "MB/s", it.Gear.BusMBps, takes,
		p.ask("How many megabytes a second does %s move while the show runs?", it.Label, "The system's own activity display shows it.", 5))
	s.facts, s.load, s.sum = []Basis{b}, times(1, 0), p.say("%s", "while in use")
	if u := it.Gear.Ports[port].USB; u != nil {
		s.iso = u.Transfer == usb.Isochronous
	}
	for range len(p.Items) {
		at := p.g.LeadAt(item, port)
		if at < 0 {
			return
		}
		_, _, ti, tp := p.g.LeadEnds(at)
		up := &p.Items[ti]
		in := &up.Gear.Ports[tp]
		s.where = append(s.where, p.Leads[at].ID, up.ID)
		if speed, _, err := usb.GradeSpeed(usb.Grade(p.Leads[at].Grade)); err == nil && speed != "" && usb.Grade(p.Leads[at].Grade) != usb.UnknownGrade {
			s.pass(speedFact("", p.say("grade of the lead %s", p.leadTitle(&p.Leads[at])), speed))
		}
		s.speeds = append(s.speeds, p.speedBasis(up, in))
		if up.IsHost() || up.Gear.Kind == gear.Dock && ownsController(up, in.Controller) {
			s.host, s.controller, s.hostPort = up, in.Controller, in.ID
			p.streams = append(p.streams, s)
			return
		}
		next := slices.IndexFunc(up.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream })
		if next < 0 || in.Direction != gear.Downstream {
			return
		}
		s.speeds = append(s.speeds, p.speedBasis(up, &up.Gear.Ports[next]))
		s.hubs = append(s.hubs, hubAt{ti, len(s.speeds)})
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
		_, _, ti, _ := p.g.LeadEnds(at)
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
	kept := p.add(nil, l)
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
			if a.Slot == nil || b.Slot == nil || a.Slot.Place == 0 || b.Slot.Place == 0 || a.Slot.Place-b.Slot.Place > 1 || b.Slot.Place-a.Slot.Place > 1 {
				continue
			}
			x, y := bySlot[a][0], bySlot[b][0]
			p.add(nil, Limit{ID: "side-by-side:" + x.owner.ID + ":" + y.owner.ID, Rule: "side-by-side", Sense: Fits, outcomes: soft, Stage: AtPort, Shared: true,
				Where: merge(slices.Clone(x.where), y.where), What: "Cards side by side", Says: p.say("%s and %s sit side by side and heat each other: leave an empty slot between them and keep air moving.", x.owner.Label, y.owner.Label),
				Source: Source{fact.Practice, "Handbook 3.5"}, Caution: "Hot cards and power supplies: switch off and unplug before opening a computer; touch metal first."})
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
	b := Basis{Name: p.say("what %s carries", rig.PortName(port)), Unit: "MB/s", From: fact.Given}
	var needs *gear.Slot
	for i := range card.Gear.Ports {
		if card.Gear.Ports[i].Slot != nil {
			needs = card.Gear.Ports[i].Slot
		}
	}
	if port.Slot == nil {
		b = p.wiredBasis(host, port, b.Name, needs)
		l.LimitSum = "nobody has said how the slot is wired"
	} else {
		link := port.Slot.Link
		if needs != nil {
			link = pcie.Meet(link, needs.Link)
		}
		b.Low = link.UsableMBps()
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
	}
	l.Facts = append(l.Facts, b)
	l.caps = p.terms.of(times(1, int16(len(l.Facts)-1)))
	kept := p.add(nil, l)
	if !p.quiet {
		kept.Says = p.say("%s of the %s this slot carries.", p.span(kept.Load.Low, kept.Load.High, "MB/s"), p.span(kept.Sure, kept.Possible, "MB/s"))
		if port.Slot != nil && port.Slot.SharedWith != "" {
			kept.Says += p.say(" It is shared with %s: that may halve it or turn it off.", port.Slot.SharedWith)
		}
	}
	p.hang(kept.ID, host, streams)
}

// wiredBasis asks how a slot is wired: from one old lane to what the card can use of a modern four.
func (p *pass) wiredBasis(host *rig.Item, port *gear.Port, name string, needs *gear.Slot) Basis {
	path := p.path("items", host.ID, "ports", port.ID, "slot/wired")
	var options []Option
	var edits [][]rig.Edit
	for _, l := range []pcie.Link{{Generation: 2, Lanes: 1}, {Generation: 2, Lanes: 4}, {Generation: 3, Lanes: 1}, {Generation: 3, Lanes: 4}} {
		met := l
		if needs != nil {
			met = pcie.Meet(l, needs.Link)
		}
		o := Option{Word: l.Word(), Number: met.UsableMBps()}
		if !p.quiet {
			o.Label = p.say("generation %s, %s", num(float64(l.Generation)), count(l.Lanes, "lane", "lanes"))
			edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: l.Word()}})
		}
		options = append(options, o)
	}
	return choice(path, name, "MB/s", "", options, func() Ask {
		return Ask{Question: p.say("How is %s of %s wired?", rig.PortName(port), host.Label),
			How: "The board's handbook lists generation and lanes of each slot; lspci -vv shows them for the card in it (LnkSta).", Minutes: 5, Edits: edits}
	})
}
