package rules

import (
	"cmp"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/pcie"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/usb"
)

// judgeOthers adds to the buses what sends no picture: drives, sound.
func judgeOthers(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		if it.IsSource() || it.IsHost() {
			continue
		}
		switch it.Gear.Kind {
		case gear.Capture, gear.Switcher, gear.Card, gear.Dock, gear.Hub:
			continue
		}
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			if port.Direction == gear.Upstream && port.Connector.Family() == gear.USBFamily && p.Wiring.LeadAt(i,
				j) >= 0 {
				judgeOther(p, own, it, i, j)
			}
		}
	}
}

func noHop() *plans.Hop { return nil }

// judgeOther is a stream of a device without a picture, up to the controller it ends at.
func judgeOther(p *Pass, link *Rule, it *rig.Item, item, port int) {
	s := p.Stream()
	*s = plans.Stream{Owner: it, Port: it.Gear.Ports[port].ID, Ref: p.Wiring.Ref(item, port), Where: []string{it.ID},
		Other: true, Device: usb.UnknownSpeed}
	s.Speeds = append(s.Speeds, p.SpeedFact(it, &it.Gear.Ports[port]))
	s.Facts, s.Load = []limit.Fact{limit.Stated(limit.At("items/ID/busMBps", it.ID), "MB/s", it.Gear.BusMBps,
		it.Gear.TakesOfBus())}, limit.Times(1, 1)
	s.MayReserve = true
	if u := it.Gear.Ports[port].USB; u != nil {
		s.Reserves = u.Transfer == usb.Isochronous
		s.MayReserve = u.Transfer == usb.UnknownTransfer || u.Transfer == ""
		if u.Speed != usb.UnknownSpeed {
			s.Device = u.Speed
		}
	}
	for up := range p.Wiring.Up(item, port) {
		l, above := &p.Leads[up.Lead], &p.Items[up.Item]
		in := &above.Gear.Ports[up.Socket]
		s.Where = append(s.Where, l.ID, above.ID)
		judgeCarriesData(p, CarriesData, noHop, slices.Clone(s.Where),
			l) // without data wires it is not found; its bus is judged as it was meant, as a picture's is
		if f, ok := plans.USBGradeFact(l); ok {
			s.Through(f)
		}
		if l.LengthM.High > 0 {
			judgeUSBReach(p, nil, slices.Clone(s.Where), l, s, p.DockLead(up.Lead),
				&p.Items[up.From].Gear.Ports[up.FromPort], in)
		}
		if l.SpanM != nil || l.LengthM.High > 0 {
			judgeRunOf(p, Run, nil, slices.Clone(s.Where), l)
		}
		if in.Direction != gear.Downstream || in.ChargeOnly {
			p.Add(nil, WayRound, p.Wiring.Ref(up.Item, up.Socket), &Result{Limit: limit.Limit{Outcomes: limit.No},
				Stage: plans.Port, Where: slices.Clone(s.Where), Say: func(w *Words) {
					w.What, w.Source = lang.Text("Device meets computer"),
						practice("A device's plug goes into a downstream port")
					w.Says = w.T("%s of %s takes no device: %s is not found.", rig.PortName(in), above.Label, it.Label)
				}})
			return
		}
		if !above.IsHost() && up.On < 0 {
			return
		}
		if s.Enter(&p.Plan, up.Item, in, up.On) {
			p.Streams = append(p.Streams, s)
			judgeConnection(p, link, nil, s)
			return
		}
	}
}

// deepest is how many hubs may stand in a chain [standard: USB 2.0, 4.1.1: seven tiers with the root and the device].
const deepest = 5

var HubDepth = rule(Rule{
	Name:    "hub-depth",
	Asks:    "Do no more than five hubs stand in a chain?",
	Sum:     "hubs from here up to the computer ≤ 5",
	Sense:   limit.AtMost,
	Unit:    "hubs",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Bad: "too many hubs"},
	Source:  standard("USB 2.0, 4.1.1"),
	Example: "Six hubs on each other: what hangs on the sixth is not found.",
	Judge:   Judging{OnRig: judgeDepth},
})

// judgeDepth counts the hubs from each one up to the computer.
func judgeDepth(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		first := &p.Items[i]
		if first.Gear.Kind != gear.Hub {
			continue
		}
		for j := range first.Gear.Ports {
			if first.Gear.Ports[j].Direction == gear.Upstream && first.Gear.Ports[j].Connector.Family() ==
				gear.USBFamily && p.Wiring.LeadAt(i, j) >= 0 {
				judgeHubDepth(p, own, i, j)
			}
		}
	}
}

func judgeHubDepth(p *Pass, own *Rule, item, port int) {
	first, n := &p.Items[item], 1
	where := []string{first.ID}
	top := false
	for up := range p.Wiring.Up(item, port) {
		where = append(where, p.Leads[up.Lead].ID, p.Items[up.Item].ID)
		if up.On < 0 {
			top = true
			break
		}
		n++
	}
	if !top || n <= 2 {
		return // it leads nowhere, or there is nothing worth saying
	}
	hubs := float64(n)
	p.Add(nil, own, first.ID, &Result{Limit: limit.Limit{Facts: p.FactList(limit.Known(hubs, "", fact.Given)),
		Loads: p.LoadOf(first.ID, limit.Times(1, 1)), Caps: p.CapAt(limit.Times(deepest))},
		Stage: plans.Port, Shared: true, Where: where, Say: func(w *Words) {
			w.What, w.Says = w.T("Hubs in a chain up from %s", first.Label), w.T("%s hubs in a chain; five work.",
				say.Number(hubs))
			w.Facts[0].Name, w.Loads[0].Sum, w.Sum = lang.Text("hubs in the chain"),
				lang.Text("counted up to the computer"), lang.Text("seven tiers with the root and the device")
		}})
}

const cardCaution = "Hot cards and power supplies: switch off and unplug before opening a computer; touch metal first."

var Slot = rule(Rule{
	Name:    "slot",
	Asks:    "Does the card slot carry the pictures of the card in it?",
	Sum:     "Σ MB/s ≤ lanes × MB/s a lane after coding × 0.82, at the lower generation and width of slot and card",
	Sense:   limit.AtMost,
	Unit:    "MB/s",
	Over:    limit.Drops,
	Subject: TheBus,
	Source:  standard("PCI Express Base: coding; packets leave about 82 % [memory]"),
	Example: "2160p60 YUY2, 995.3 MB/s, fits Gen 2 ×4 (1640 MB/s usable): 61 %, slack.",
	Judge:   Judging{OnRig: judgeCards},
})

var SideBySide = rule(Rule{
	Name:    "side-by-side",
	Asks:    "Do two cards sit side by side and heat each other?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheBus,
	Source:  practice("Cards run hot: leave an empty slot between them and keep air moving"),
	Example: "Two four-input cards in neighbouring slots: leave an empty slot between them.",
})

// judgeCards judges every card slot against the pictures of the card in it, and cards side by side.
func judgeCards(p *Pass, own *Rule, _ *Walk) {
	var order []*gear.Port
	bySlot := map[*gear.Port][]*plans.Stream{}
	for _, s := range p.Streams {
		if s.Slot == nil {
			continue
		}
		if bySlot[s.SlotPort] == nil {
			order = append(order, s.SlotPort)
		}
		bySlot[s.SlotPort] = append(bySlot[s.SlotPort], s)
	}
	for _, port := range order {
		judgeSlot(p, own, port, bySlot[port])
	}
	for i, a := range order {
		for _, b := range order[i+1:] {
			x, y := bySlot[a][0], bySlot[b][0]
			if x.Owner.ID > y.Owner.ID {
				x, y = y, x
			}
			known := a.Slot != nil && b.Slot != nil && a.Slot.Place != 0 && b.Slot.Place != 0
			if known && (a.Slot.Place-b.Slot.Place > 1 || b.Slot.Place-a.Slot.Place > 1) {
				continue
			}
			p.Add(nil, SideBySide, x.Owner.ID+":"+y.Owner.ID, &Result{Limit: limit.Limit{Outcomes: limit.Soft},
				Stage: plans.Port, Shared: true, Where: plans.Merge(slices.Clone(x.Where), y.Where),
				Say: func(w *Words) {
					w.What, w.Caution = lang.Text("Cards side by side"), cardCaution
					w.Says = w.T("%s and %s sit side by side and heat each other: leave an empty slot between them and keep air moving.",
						x.Owner.Label, y.Owner.Label)
					if !known {
						w.Says = w.T("Nobody has said whether %s and %s sit side by side: cards heat each other.",
							x.Owner.Label, y.Owner.Label)
					}
				}})
		}
	}
}

// judgeSlot judges one card slot: the lower generation and the lower width of slot and card, and what packets leave.
func judgeSlot(p *Pass, own *Rule, port *gear.Port, streams []*plans.Stream) {
	host, card := streams[0].Slot, streams[0].Owner
	l := Result{Stage: plans.Port, Shared: true}
	for _, s := range streams {
		loadOn(&l, s, s.Facts, s.Load, nil)
	}
	var needs *gear.Slot
	for i := range card.Gear.Ports {
		if card.Gear.Ports[i].Slot != nil {
			needs = card.Gear.Ports[i].Slot
		}
	}
	f, why := slotFact(host, port, card, needs)
	cap := limit.Times(1, l.Let(f))
	carries := len(l.Facts) - 1
	share := limit.Ref(0)
	if port.Slot != nil && (port.Slot.SharedWith != "" || port.Slot.Sharing != "") {
		share = l.Let(sharingFact(host, port))
		cap = cap.With(share)
	}
	l.Caps = p.CapAt(cap)
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("What %s of %s carries", rig.PortName(port), host.Label), why()
		w.Caution = lang.Text("Hot cards: switch off and unplug before opening a computer; touch metal first.")
		w.Facts[carries].Name = w.T("what %s carries", rig.PortName(port))
		for i, s := range streams {
			w.Loads[i].Sum = s.Sum()
			if s.Input > 0 {
				w.Loads[i].Label = w.T("%s, %s", s.Owner.Label, rig.PortName(&s.Owner.Gear.Ports[s.Input-1]))
			}
		}
		w.Says = w.T("%s of the %s this slot carries.", w.LoadText(), w.LimitText())
		if port.Slot != nil && port.Slot.SharedWith != "" {
			w.Says += w.T(" It is shared with %s: that may halve it or turn it off.", port.Slot.SharedWith)
		}
		if share != 0 {
			beside := cmp.Or(port.Slot.SharedWith, lang.Text("what shares it"))
			if w.Result.Possible <= 0 {
				w.Short = w.T("turned off by %s", beside)
				w.Says = w.T("%s turns %s off: a card in it is not found.", say.Sentence(beside), rig.PortName(port))
			}
			w.Facts[share-1].Name = w.T("share of %s left beside %s", rig.PortName(port), beside)
			w.Facts[share-1].Ask = w.AskOf(w.Result.Fact(share), w.T("What is left of %s of %s beside %s?",
				rig.PortName(port), host.Label, beside),
				lang.Text("The board's handbook says what the other socket takes away; lspci -vv shows the card's width (LnkSta)."),
				5)
		}
	}
	kept := p.Add(nil, own, host.ID+"."+port.ID, &l)
	for _, s := range streams {
		p.OnCrossings(kept, host, s)
	}
}

// slotFact is what a slot and the card in it come to: the lower generation and width of both; where one of them is not
// known, anything up to the other.
func slotFact(host *rig.Item, port *gear.Port, card *rig.Item, needs *gear.Slot) (limit.Fact, func() string) {
	if port.Slot == nil {
		return wiredFact(limit.Part("items/ID/ports/PORT/slot/wired", host.ID, port.ID),
				pcie.Link{Generation: pcie.MaxGeneration, Lanes: 16}, needs), func() string {
				return lang.Text("nobody has said how the slot is wired")
			}
	}
	if needs == nil {
		cardPort := ""
		for i := range card.Gear.Ports {
			if card.Gear.Ports[i].Connector == gear.PCIe {
				cardPort = card.Gear.Ports[i].ID
			}
		}
		return wiredFact(limit.Part("items/ID/ports/PORT/slot/wired", card.ID, cardPort), port.Slot.Link, nil),
			func() string { return lang.Text("nobody has said what the card is made for") }
	}
	link := pcie.Meet(port.Slot.Link, needs.Link)
	return limit.Known(link.UsableMBps(), "MB/s", fact.Given), func() string {
		sum := lang.Text("generation %s, %s: %s MB/s after coding × 0.82 for packets",
			say.Number(float64(link.Generation)), say.Count(link.Lanes, "lane", "lanes"), say.Number(link.CodedMBps()))
		if link.Generation < port.Slot.Generation {
			sum += lang.Text("; the card is of generation %s, the slot of %s", say.Number(float64(link.Generation)),
				say.Number(float64(port.Slot.Generation)))
		}
		if port.Slot.Size > port.Slot.Lanes {
			sum += lang.Text("; the slot is ×%s long and has %s wired", say.Number(float64(port.Slot.Size)),
				say.Count(port.Slot.Lanes, "lane", "lanes"))
		}
		return sum
	}
}

// wiredFact is how a slot or card is wired: from one old lane to the most the other end can use.
func wiredFact(k limit.Key, most pcie.Link, needs *gear.Slot) limit.Fact {
	var options []limit.Option
	for _, l := range []pcie.Link{{Generation: 1, Lanes: 1}, {Generation: 2, Lanes: 1}, {Generation: 2, Lanes: 4},
		{Generation: 3, Lanes: 1}, {Generation: 3, Lanes: 4}, {Generation: 3, Lanes: 8}, {Generation: 4, Lanes: 4},
		{Generation: 5, Lanes: 16}} {
		met := pcie.Meet(l, most)
		if needs != nil {
			met = pcie.Meet(met, needs.Link)
		}
		options = append(options, limit.Option{Word: l.Word(), Label: lang.Text("generation %s, %s",
			say.Number(float64(l.Generation)), say.Count(l.Lanes, "lane", "lanes")), Number: met.UsableMBps()})
	}
	return limit.Choice(k, "MB/s", "", &options)
}

// sharingFact is the share of a slot that is left beside what it is shared with: until somebody has looked, anything
// from nothing to all.
func sharingFact(host *rig.Item, port *gear.Port) limit.Fact {
	k := limit.Part("items/ID/ports/PORT/slot/sharing", host.ID, port.ID)
	if v, ok := map[string]float64{"whole": 1, "half": 0.5, "off": 0}[port.Slot.Sharing]; ok {
		return limit.Fact{Key: k, Low: v, Value: v, High: v, From: fact.Given, Word: port.Slot.Sharing}
	}
	return limit.Choice(k, "", "unknown", &[]limit.Option{{Word: "whole", Number: 1}, {Word: "half", Number: 0.5},
		{Word: "off", Number: 0}})
}
