package judge

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/usb"
)

// hung is a device on a USB socket: the item, the lead that ends there, and the socket.
type hung struct {
	item, lead int
	port       int // of the item it hangs on
}

// hangers lists what hangs on the USB sockets of every item, by item.
func (p *pass) hangers() map[int][]hung {
	out := map[int][]hung{}
	for i := range p.Leads {
		fi, fp, ti, tp := p.g.LeadEnds(i)
		if fi < 0 {
			continue
		}
		from, to := &p.Items[fi].Gear.Ports[fp], &p.Items[ti].Gear.Ports[tp]
		if from.Direction == gear.Upstream && to.Direction == gear.Downstream && from.Connector.Family() == gear.USBFamily {
			out[ti] = append(out[ti], hung{fi, i, tp})
		}
	}
	return out
}

// supplies judges every socket's current, every hub's and dock's supply, the voltage at the end of every lead, strips,
// UPSs and the circuit. Handbook 4.
func (p *pass) supplies() {
	tree := p.hangers()
	p.indexHops()
	for i := range p.Items {
		it := &p.Items[i]
		hangs := tree[i]
		if len(hangs) > 0 {
			p.ownSupply(it, hangs, tree)
			for _, h := range hangs {
				p.socketCurrent(it, h, tree)
			}
		}
		if it.Gear.Kind == gear.Strip || it.Gear.Kind == gear.UPS {
			p.outlet(i)
		}
	}
	p.circuit()
}

// drawBasis is what an item draws, in watts.
func (p *pass) drawBasis(it *rig.Item) Basis {
	var stated *fact.Fact
	if it.Gear.Power != nil {
		stated = it.Gear.Power.DrawW
	}
	return basis(p.path("items", it.ID, "power/drawW"), p.say("draw of %s", it.Label), "W", stated, it.Gear.Draws(),
		p.ask("How many watts does %s draw?", it.Label, "A USB or mains power meter shows it.", 5))
}

// selfBasis asks whether a hub has a supply of its own: 0 when it takes nothing from above, 1 when everything.
func (p *pass) selfBasis(it *rig.Item) Basis {
	path := p.path("items", it.ID, "power/selfPowered")
	if p.quiet {
		return Basis{Low: 0, Value: 1, High: 1}
	}
	word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: w}} }
	b := choice(path, p.say("whether %s has a supply of its own", it.Label), "", "unknown",
		[]Option{{Word: "no", Label: "No, it lives on the socket", Number: 1}, {Word: "yes", Label: "Yes, and it is plugged in", Number: 0}},
		func() Ask {
			return Ask{Question: p.say("Has %s a supply of its own, and is it plugged in?", it.Label), How: "Look for a socket for one, and for the lead.", Minutes: 1,
				Edits: [][]rig.Edit{word("no"), word("yes")}}
		})
	return b
}

// gather adds to a limit what one hung device takes out of a supply: its own draw, and through a hub without a supply
// everything behind it. shares are facts that stand for hubs nobody has looked at.
func (p *pass) gather(l *Limit, h hung, tree map[int][]hung, perWatt float64, shares []int16) {
	it := &p.Items[h.item]
	l.Where = merge(l.Where, []string{it.ID, p.Leads[h.lead].ID})
	surely, possibly := it.Gear.BusPowered()
	if !possibly {
		return
	}
	if !surely && it.Gear.Kind == gear.Hub {
		l.Facts = append(l.Facts, p.selfBasis(it))
		shares = append(slices.Clip(shares), int16(len(l.Facts)-1))
	}
	l.Facts = append(l.Facts, p.drawBasis(it))
	by := append(slices.Clone(shares), int16(len(l.Facts)-1))
	if len(by) <= 3 {
		l.Loads = append(l.Loads, p.taken(it, &l.Facts[len(l.Facts)-1], times(perWatt, by...)))
	}
	for _, below := range tree[h.item] {
		p.gather(l, below, tree, perWatt, shares)
	}
}

// currentOptions are the speeds a socket may have, with the current that goes with each. [standard: USB 2.0, USB 3.2]
var currentOptions = []Option{{Word: string(usb.HighSpeed), Label: speedNames[usb.HighSpeed], Number: power.PortUSB2},
	{Word: string(usb.Gen1), Label: speedNames[usb.Gen1], Number: power.PortUSB3}, {Word: string(usb.Gen2), Label: speedNames[usb.Gen2], Number: power.PortUSB3}}

// allows is the current a socket gives, in mA: as stated, else by its speed and shape. [standard: USB 2.0, USB 3.2]
func (p *pass) allows(it *rig.Item, port *gear.Port) Basis {
	if port.AllowsMA == nil && port.Connector != gear.USBC && (port.USB == nil || port.USB.Speed == usb.UnknownSpeed) { // its speed tells
		b := p.speedBasis(it, port)
		return choice(b.Path, p.say("current of %s on %s, by its speed", rig.PortName(port), it.Label), "mA", b.Word, currentOptions, b.ask)
	}
	return basis(p.path("items", it.ID, "ports", port.ID, "allowsMa"), p.say("current of %s on %s", rig.PortName(port), it.Label), "mA", port.AllowsMA, port.Allows(),
		p.ask("How many milliamperes does the socket %s allow?", rig.PortName(port), "Its data sheet says; 500 for USB 2 and 900 for USB 3 where nothing is said.", 5))
}

// taken is what an item takes of a supply by its draw.
func (p *pass) taken(it *rig.Item, draw *Basis, t term) Load {
	ld := Load{Item: it.ID, Label: it.Label, term: t}
	if !p.quiet {
		ld.Sum = p.say("%s W", p.span(draw.Low, draw.High, ""))
		if t.coef != 1 {
			ld.Sum += " ÷ 5 V"
		}
	}
	return ld
}

const vanish = "the first device works, and plugging in the second makes one vanish or never appear"

// socketCurrent judges one USB socket against what hangs on it, and the voltage at the end of the lead.
func (p *pass) socketCurrent(it *rig.Item, h hung, tree map[int][]hung) {
	port := &it.Gear.Ports[h.port]
	ref := it.ID + "." + port.ID
	dev := &p.Items[h.item]
	if _, possibly := dev.Gear.BusPowered(); !possibly {
		return
	}
	if surely, _ := it.Gear.BusPowered(); surely && it.Gear.Kind == gear.Hub {
		p.drop(it, h, tree) // what a hub without a supply may pass on is judged where it is plugged in
		return
	}
	l := Limit{ID: "port-current:" + ref, Rule: "port-current", Unit: "mA", Stage: AtPort, Where: []string{it.ID}, Shared: dev.Gear.Kind == gear.Hub,
		What:   p.say("Current of %s on %s", rig.PortName(port), it.Label),
		Source: Source{fact.Standard, "USB 2.0, 7.2.1; USB 3.2, 11.4; handbook 4.1"}}
	if k := dev.Gear.Kind; k != gear.Hub && k != gear.Dock { // one device: most sockets, and the quick way
		l.Where = []string{it.ID, dev.ID, p.Leads[h.lead].ID}
		l.Facts = p.facts.of(p.drawBasis(dev), p.allows(it, port))
		l.Loads = p.loads.of(p.taken(dev, &l.Facts[0], times(1000/power.VBus, 0)))
	} else {
		p.gather(&l, h, tree, 1000/power.VBus, nil)
		if len(l.Loads) == 0 {
			return
		}
		l.Facts = append(l.Facts, p.allows(it, port))
	}
	l.caps = p.terms.of(times(1, int16(len(l.Facts)-1)))
	if !p.quiet {
		l.LimitSum = "what the socket allows"
	}
	kept := p.add(nil, l)
	if !p.quiet {
		kept.Says = p.say("%s and what hangs on it take %s of the %s %s of %s allows.", dev.Label, p.span(kept.Load.Low, kept.Load.High, "mA"), p.span(kept.Sure, kept.Possible, "mA"),
			rig.PortName(port), it.Label)
		if kept.State != Slack && dev.Gear.Kind == gear.Hub {
			kept.Says += p.say(" When it is too much, %s.", vanish)
		}
	}
	p.hangAt(kept.ID, ref)
	p.drop(it, h, tree)
}

// hangAt lists a limit on the hops of the board that end in a socket.
func (p *pass) hangAt(id, ref string) {
	l := &p.limits[p.index[id]]
	for _, h := range p.hopsAt[ref] {
		h.note(l)
	}
}

// indexHops finds the hops that end in a socket of something others are plugged into.
func (p *pass) indexHops() {
	p.hopsAt = make(map[string][]*Hop, len(p.feeds))
	for i := range p.feeds {
		for j := range p.feeds[i].Hops {
			if h := &p.feeds[i].Hops[j]; h.Stage == AtPort && h.Kind == "port" {
				p.hopsAt[h.Ref] = append(p.hopsAt[h.Ref], h)
			}
		}
	}
}

// ownSupply judges the supply of a hub or dock that has one. Handbook 4.1.
func (p *pass) ownSupply(it *rig.Item, hangs []hung, tree map[int][]hung) {
	pw := it.Gear.Power
	isDock := it.Gear.Kind == gear.Dock
	if it.Gear.Kind != gear.Hub && !isDock || pw == nil || !isDock && pw.SelfPowered != "yes" {
		return
	}
	l := Limit{ID: "supply:" + it.ID, Rule: "supply", Unit: "W", Stage: AtPort, Shared: true, Where: []string{it.ID}, What: p.say("Supply of %s", it.Label),
		Source: Source{fact.Practice, "Handbook 4.1: Σ devices + the hub itself ≤ its supply; a tenth is lost where more than 5 V are turned down"}}
	l.Facts = append(l.Facts, p.drawBasis(it))
	l.Loads = append(l.Loads, Load{Item: it.ID, Label: p.say("%s itself", it.Label), term: times(1, 0)})
	for _, h := range hangs {
		p.gather(&l, h, tree, 1, nil)
	}
	if isDock && pw.ChargesW != nil {
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/chargesW"), p.say("what %s charges the laptop with", it.Label), "W", pw.ChargesW, fact.Fact{}, nil))
		l.Loads = append(l.Loads, Load{Item: it.ID, Label: "charging the laptop", term: times(1, int16(len(l.Facts)-1))})
	}
	standIn := fact.Est(10, 5, 25)
	if isDock {
		standIn = fact.Est(90, 45, 180)
	}
	lost := pw.LeftAt5V()
	l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/supplyW"), p.say("supply of %s", it.Label), "W", pw.SupplyW, standIn,
		p.ask("How many watts does the supply of %s give?", it.Label, "Volts × amperes, printed on it.", 1)),
		Basis{Name: "left of it at 5 V", Low: lost.Low, Value: lost.Value, High: lost.High, From: lost.From})
	n := int16(len(l.Facts))
	l.caps = p.terms.of(times(1, n-2, n-1))
	if !p.quiet {
		l.LimitSum = p.say("%s W × %s", num(l.Facts[n-2].Value), num(lost.Value))
	}
	kept := p.add(nil, l)
	if !p.quiet {
		kept.Says = p.say("%s and what hangs on it take %s of the %s its supply gives.", it.Label, p.span(kept.Load.Low, kept.Load.High, "W"), p.span(kept.Sure, kept.Possible, "W"))
	}
	for _, h := range hangs {
		p.hangAt(kept.ID, it.ID+"."+it.Gear.Ports[h.port].ID)
	}
}

// drop judges the voltage that is left at the end of a USB lead. Handbook 4.1: below in the nominal case it snaps, below
// in the worst case only it is taut.
func (p *pass) drop(it *rig.Item, h hung, tree map[int][]hung) {
	lead, dev := &p.Leads[h.lead], &p.Items[h.item]
	if surely, _ := dev.Gear.BusPowered(); lead.LengthM.High == 0 || !surely {
		return
	}
	port := &it.Gear.Ports[h.port]
	fast := port.USB == nil || port.USB.Speed != usb.HighSpeed
	if up := upstream(dev); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		fast = false
	}
	least, worst := power.DeviceUSB3, power.LowUSB3
	if !fast {
		least, worst = power.DeviceUSB2, power.LowUSB2
	}
	l := Limit{ID: "drop:" + lead.ID, Rule: "drop", Unit: "V", Stage: AtPort, Where: []string{lead.ID, it.ID}, Ceiling: 1, lenient: true,
		What:   p.say("Voltage lost in the lead %s", p.leadTitle(lead)),
		Source: Source{fact.Standard, "ASTM B258 wire sizes, copper 17.24 nΩ·m; voltages at port and device from memory of USB 2.0 and USB 3.2"}}
	p.gather(&l, h, tree, 1/power.VBus, nil)
	// amperes × (2 × metres × mΩ/m ÷ 1000 + contacts): two terms for each device.
	gauge := p.gaugeBasis(lead)
	length := p.lengthBasis(lead)
	n := int16(len(l.Facts))
	l.Facts = append(l.Facts, length, gauge, Basis{Name: "contacts of both plugs", Unit: "Ω", Low: 0, Value: power.ContactOhms / 2, High: power.ContactOhms, From: fact.Estimate})
	var loads []Load
	for _, ld := range l.Loads {
		wire, contact := ld, ld
		if ld.term.nBy > 1 {
			return // through hubs nobody has looked at: judged once they are known
		}
		wire.term = times(ld.term.coef*2/1000, ld.term.by[0], n, n+1)
		contact.term = times(ld.term.coef, ld.term.by[0], n+2)
		if !p.quiet {
			wire.Label, contact.Label = p.say("%s, in the wire", ld.Label), p.say("%s, in the contacts", ld.Label)
			wire.Sum = p.say("A × 2 × %s m × %s mΩ/m", num(length.Value), num(gauge.Value))
			contact.Sum = "A × up to 0.12 Ω"
		}
		loads = append(loads, wire, contact)
	}
	l.Loads = loads
	margin := Basis{Name: "what may be lost", Unit: "V", Low: worst - least, Value: power.VBus - least, High: power.VBus - least, From: fact.Standard}
	if margin.Low < 0.01 {
		margin.Low = 0.01
	}
	l.Facts = append(l.Facts, margin)
	l.caps = p.terms.of(times(1, n+3))
	if !p.quiet {
		l.LimitSum = p.say("%s V nominal, %s V at worst, less the %s V the device needs", num(power.VBus), num(worst), num(least))
	}
	kept := p.add(nil, l)
	if !p.quiet {
		kept.Says = p.say("%s gets %s at the end of this lead; it works down to %s V.", dev.Label, p.span(worst-kept.Load.High, power.VBus-kept.Load.Low, "V"), num(least))
	}
	p.hangAt(kept.ID, it.ID+"."+port.ID)
}

// gaugeBasis is the resistance of a lead's power wires, by its gauge.
func (p *pass) gaugeBasis(l *rig.Lead) Basis {
	f := gear.DefaultAWG
	if l.AWG != nil {
		f = *l.AWG
	}
	// A higher gauge is a thinner wire: the bounds keep their order.
	b := Basis{Path: p.path("leads", l.ID, "awg"), Name: p.say("gauge of the lead %s, as mΩ/m", p.leadTitle(l)), Unit: "mΩ/m", From: f.From, At: f.At,
		Low: power.MilliohmPerMetre(f.Low), Value: power.MilliohmPerMetre(f.Value), High: power.MilliohmPerMetre(f.High)}
	if p.quiet || l.AWG != nil {
		return b
	}
	for _, awg := range []float64{28, 24, 22, 20} {
		b.Options = append(b.Options, Option{Word: num(awg), Label: num(awg) + " AWG", Number: power.MilliohmPerMetre(awg)})
	}
	b.ask = func() Ask {
		ask := Ask{Question: p.say("Which gauge is printed on the USB lead %s for power?", p.leadTitle(l)), How: "Along the jacket, such as 28AWG/1P+24AWG/2C: the second is for power.", Minutes: 1}
		for _, awg := range []float64{28, 24, 22, 20} {
			gauge := fact.Exactly(awg)
			ask.Edits = append(ask.Edits, []rig.Edit{{Do: "fact", Path: b.Path, Fact: &gauge}})
		}
		return ask
	}
	return b
}
