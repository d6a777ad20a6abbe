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
	twice := len(p.g.Clashes()) > 0 // two plugs are meant for one socket: each counts
	if !p.quiet {
		p.indexHops()
	}
	for i := range p.Items {
		it := &p.Items[i]
		hangs := tree[i]
		if len(hangs) > 0 {
			if k := it.Gear.Kind; k == gear.Hub || k == gear.Dock {
				p.ownSupply(it, hangs, tree)
			}
			for _, h := range hangs {
				if s := p.scope; s == nil || twice || s.item[i] || s.source[h.item] || s.item[h.item] || s.lead[h.lead] || p.Items[h.item].Gear.Kind == gear.Hub {
					p.socketCurrent(it, h, tree)
				}
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
//
// without is the number that stands for "none of its own": 1 for what is taken from above, 0 for what its own supply bears.
func (p *pass) selfBasis(it *rig.Item, without float64) Basis {
	path := p.path("items", it.ID, "power/selfPowered")
	if p.quiet {
		return Basis{Low: 0, Value: 1, High: 1}
	}
	word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: w}} }
	b := choice(path, p.say("whether %s has a supply of its own", it.Label), "", "unknown",
		[]Option{{Word: "no", Label: "No, it lives on the socket", Number: without}, {Word: "yes", Label: "Yes, and it is plugged in", Number: 1 - without}},
		func() Ask {
			return Ask{Question: p.say("Has %s a supply of its own, and is it plugged in?", it.Label), How: "Look for a socket for one, and for the lead.", Minutes: 1,
				Edits: [][]rig.Edit{word("no"), word("yes")}}
		})
	return b
}

// gather adds to a limit what one hung device takes out of a supply: its own draw, and through a hub without a supply
// everything behind it. shares are facts that stand for hubs nobody has looked at, however many; way holds the items
// passed, so that a chain that bites its own tail ends.
func (p *pass) gather(l *Limit, h hung, tree map[int][]hung, perWatt float64, shares []int16, way ...int) {
	it := &p.Items[h.item]
	l.Where = merge(l.Where, []string{it.ID, p.Leads[h.lead].ID})
	surely, possibly := it.Gear.BusPowered()
	if !possibly || slices.Contains(way, h.item) {
		return
	}
	if !surely && it.Gear.Kind == gear.Hub {
		l.Facts = append(l.Facts, p.selfBasis(it, 1))
		shares = append(slices.Clip(shares), int16(len(l.Facts)-1))
	}
	l.Facts = append(l.Facts, p.drawBasis(it))
	draw := int16(len(l.Facts) - 1)
	t := times(perWatt, draw)
	for _, share := range shares {
		t = t.with(share)
	}
	l.Loads = append(l.Loads, p.taken(it, &l.Facts[draw], t))
	for _, below := range tree[h.item] {
		p.gather(l, below, tree, perWatt, shares, append(slices.Clip(way), h.item)...)
	}
}

// currentOptions are the speeds a socket may have, with the current that goes with each. [standard: USB 2.0, USB 3.2]
var currentOptions = []Option{{Word: string(usb.HighSpeed), Label: speedNames[usb.HighSpeed], Number: power.PortUSB2},
	{Word: string(usb.Gen1), Label: speedNames[usb.Gen1], Number: power.PortUSB3}, {Word: string(usb.Gen2), Label: speedNames[usb.Gen2], Number: power.PortUSB3},
	{Word: string(usb.Gen2x2), Label: speedNames[usb.Gen2x2], Number: power.PortUSB3x2}, {Word: string(usb.Tunnel), Label: speedNames[usb.Tunnel], Number: power.PortUSB3x2}}

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

// letter tells when a device takes more of a hub without a supply than the letter of the specification gives each of its
// ports: it works while the sum fits. Handbook 4.1. [standard: USB 2.0, 7.2.1.1: one unit of 100 mA; USB 3.2: 150 mA]
func (p *pass) letter(it *rig.Item, h hung, ref string) {
	dev := &p.Items[h.item]
	allows := power.UnitUSB3
	if up := upstream(it); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		allows = power.UnitUSB2
	}
	l := Limit{ID: "port-letter:" + ref, Rule: "port-letter", Sense: Fits, outcomes: yes, Stage: AtPort, Where: []string{it.ID, dev.ID, p.Leads[h.lead].ID},
		What: p.say("One port of %s by the letter", it.Label), Source: Source{fact.Standard, "USB 2.0, 7.2.1.1 and USB 3.2, 11.4.1: one unit a port of a hub without a supply"}}
	draw := dev.Gear.Draws()
	if !p.quiet {
		l.Says = p.say("%s stays within the %s mA a hub without a supply gives each port by the letter.", dev.Label, num(allows))
	}
	if fact.Over(draw.High*1000/power.VBus, allows) {
		l.outcomes = soft
		if !p.quiet {
			l.Says = p.say("%s takes %s; by the letter a hub without a supply gives %s mA a port. It works while the sum fits the socket.", dev.Label, p.span(draw.Low*1000/power.VBus, draw.High*1000/power.VBus, "mA"), num(allows))
		}
	}
	p.add(nil, &l)
	p.hangAt(l.ID, ref)
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
	if surely, possibly := it.Gear.BusPowered(); possibly && it.Gear.Kind == gear.Hub {
		p.letter(it, h, ref)
		if surely { // what a hub without a supply may pass on is judged where it is plugged in
			p.drop(it, h, tree)
			return
		}
	}
	l := Limit{ID: "port-current:" + ref, Rule: "port-current", Unit: "mA", Stage: AtPort, Where: []string{it.ID}, Shared: dev.Gear.Kind == gear.Hub,
		What:   p.say("Current of %s on %s", rig.PortName(port), it.Label),
		Source: Source{fact.Standard, "USB 2.0, 7.2.1; USB 3.2, 11.4; handbook 4.1"}}
	if k := dev.Gear.Kind; k != gear.Hub && k != gear.Dock { // one device: most sockets, and the quick way
		l.Where = []string{it.ID, dev.ID, p.Leads[h.lead].ID}
		l.Facts = p.facts.of(p.drawBasis(dev), p.allows(it, port))
		l.Loads = p.loads.of(p.taken(dev, &l.Facts[0], times(1000/power.VBus, 0)))
	} else {
		p.gather(&l, h, tree, 1000/power.VBus, nil, p.g.At(it.ID))
		if len(l.Loads) == 0 {
			return
		}
		l.Facts = append(l.Facts, p.allows(it, port))
	}
	l.caps = p.terms.of(times(1, int16(len(l.Facts)-1)))
	if !p.quiet {
		l.LimitSum = "what the socket allows"
	}
	kept := p.add(nil, &l)
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
	if p.quiet {
		return
	}
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

// ownSupply judges the supply of a hub or dock that has one, or may have. Handbook 4.1.
func (p *pass) ownSupply(it *rig.Item, hangs []hung, tree map[int][]hung) {
	isDock := it.Gear.Kind == gear.Dock
	surely, _ := it.Gear.BusPowered()
	if it.Gear.Kind != gear.Hub && !isDock || surely {
		return
	}
	pw := gear.Power{}
	if it.Gear.Power != nil {
		pw = *it.Gear.Power
	}
	l := Limit{ID: "supply:" + it.ID, Rule: "supply", Unit: "W", Stage: AtPort, Shared: true, Where: []string{it.ID}, What: p.say("Supply of %s", it.Label),
		Source: Source{fact.Practice, "Handbook 4.1: Σ devices + the hub itself ≤ its supply; a tenth is lost where more than 5 V are turned down"}}
	l.Facts = append(l.Facts, p.drawBasis(it))
	l.Loads = append(l.Loads, Load{Item: it.ID, Label: p.say("%s itself", it.Label), term: times(1, 0)})
	for _, h := range hangs {
		p.gather(&l, h, tree, 1, nil, p.g.At(it.ID))
	}
	if isDock { // nobody knows whether it charges the laptop until somebody says
		l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/chargesW"), p.say("what %s charges the laptop with", it.Label), "W", pw.ChargesW, gear.DefaultCharges,
			p.ask("With how many watts does %s charge the laptop? 0 when it does not.", it.Label, "Printed on it; the system's battery display shows what arrives.", 2)))
		l.Loads = append(l.Loads, Load{Item: it.ID, Label: "charging the laptop", term: times(1, int16(len(l.Facts)-1))})
	}
	if !isDock && pw.SelfPowered != "yes" { // only if it has one
		l.Facts = append(l.Facts, p.selfBasis(it, 0))
		own := int16(len(l.Facts) - 1)
		for i := range l.Loads {
			l.Loads[i].term = l.Loads[i].term.with(own)
		}
	}
	standIn := fact.Est(10, 5, 60)
	if isDock {
		standIn = fact.Est(90, 45, 240)
	}
	lost := pw.LeftAt5V()
	l.Facts = append(l.Facts, basis(p.path("items", it.ID, "power/supplyW"), p.say("supply of %s", it.Label), "W", pw.SupplyW, standIn,
		p.ask("How many watts does the supply of %s give?", it.Label, "Volts × amperes, printed on it.", 1)),
		p.leftAt5V(it, lost))
	n := int16(len(l.Facts))
	l.caps = p.terms.of(times(1, n-2, n-1))
	if !p.quiet {
		l.LimitSum = p.say("%s W × %s", num(l.Facts[n-2].Value), num(lost.Value))
	}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s and what hangs on it take %s of the %s its supply gives.", it.Label, p.span(kept.Load.Low, kept.Load.High, "W"), p.span(kept.Sure, kept.Possible, "W"))
	}
	for _, h := range hangs {
		p.hangAt(kept.ID, it.ID+"."+it.Gear.Ports[h.port].ID)
	}
}

// leftAt5V is the share of a supply that is left at 5 V; which volts it gives is asked where nobody has said.
func (p *pass) leftAt5V(it *rig.Item, lost fact.Fact) Basis {
	b := Basis{Name: "left of it at 5 V", Low: lost.Low, Value: lost.Value, High: lost.High, From: lost.From}
	if p.quiet || lost.Narrow() {
		return b
	}
	b.Path = p.path("items", it.ID, "power/supplyVolts")
	b.Options = []Option{{Word: "5", Label: "5 V", Number: lost.High}, {Word: "12", Label: "More than 5 V", Number: lost.Low}}
	b.ask = func() Ask {
		five, more := fact.Exactly(5), fact.Exactly(12)
		set := func(f *fact.Fact) []rig.Edit { return []rig.Edit{{Do: "fact", Path: b.Path, Fact: f}} }
		return Ask{Question: p.say("At which voltage does the supply of %s work?", it.Label), How: "Printed on it, before the amperes.", Minutes: 1, Edits: [][]rig.Edit{set(&five), set(&more)}}
	}
	return b
}

// drop judges the voltage that is left at the end of a USB lead: what the socket gives less what the wire and the contacts
// take, on the bounds of all of them. Handbook 4.1. The lowest a socket may give by the specification is told beside it.
func (p *pass) drop(it *rig.Item, h hung, tree map[int][]hung) {
	lead, dev := &p.Leads[h.lead], &p.Items[h.item]
	if _, possibly := dev.Gear.BusPowered(); lead.LengthM.High == 0 || !possibly {
		return
	}
	port := &it.Gear.Ports[h.port]
	fast := port.USB == nil || port.USB.Speed != usb.HighSpeed
	open := port.USB == nil || port.USB.Speed == usb.UnknownSpeed
	if up := upstream(dev); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		fast, open = false, false
	} else if up.USB == nil || up.USB.Speed == usb.UnknownSpeed {
		open = open || fast
	}
	least := Basis{Name: p.say("what %s needs", dev.Label), Unit: "V", Low: power.DeviceUSB3, Value: power.DeviceUSB3, High: power.DeviceUSB3, From: fact.Standard}
	lowest := power.LowUSB3
	if !fast {
		least.Low, least.Value, least.High, lowest = power.DeviceUSB2, power.DeviceUSB2, power.DeviceUSB2, power.LowUSB2
	} else if open { // its speed would tell
		least.Value, least.High = power.DeviceUSB2, power.DeviceUSB2
	}
	l := Limit{ID: "drop:" + lead.ID, Rule: "drop", Unit: "V", Sense: AtLeast, Stage: AtPort, Where: []string{lead.ID, it.ID}, Ceiling: 1,
		What:   p.say("Voltage at the end of the lead %s", p.leadTitle(lead)),
		Source: Source{fact.Standard, "ASTM B258 wire sizes, copper 17.24 nΩ·m; voltages at port and device from memory of USB 2.0 and USB 3.2"}}
	p.gather(&l, h, tree, 1/power.VBus, nil, p.g.At(it.ID))
	taken := l.Loads
	// volts − amperes × (2 × metres × mΩ/m ÷ 1000 + contacts): one term for the socket, two for each device.
	gauge := p.gaugeBasis(lead)
	length := p.lengthBasis(lead)
	volts := basis(p.path("items", it.ID, "ports", port.ID, "volts"), p.say("voltage of %s on %s", rig.PortName(port), it.Label), "V", port.Volts, gear.DefaultPortVolts,
		p.ask("How many volts has the socket %s with everything plugged in?", rig.PortName(port), "A USB power meter shows it.", 5))
	n := int16(len(l.Facts))
	l.Facts = append(l.Facts, length, gauge, Basis{Name: "contacts of both plugs", Unit: "Ω", Low: 0, Value: power.ContactOhms / 2, High: power.ContactOhms, From: fact.Estimate}, volts, least)
	l.Loads = append(make([]Load, 0, 1+2*len(taken)), Load{Item: it.ID, Label: p.say("%s of %s", rig.PortName(port), it.Label), Sum: "what the socket gives", term: times(1, n+3)})
	for _, ld := range taken {
		wire, contact := ld, ld
		wire.term = ld.term.with(n).with(n + 1)
		wire.term.coef = -ld.term.coef * 2 / 1000
		contact.term = ld.term.with(n + 2)
		contact.term.coef = -ld.term.coef
		if !p.quiet {
			wire.Label, contact.Label = p.say("%s, in the wire", ld.Label), p.say("%s, in the contacts", ld.Label)
			wire.Sum = p.say("A × 2 × %s m × %s mΩ/m", num(length.Value), num(gauge.Value))
			contact.Sum = "A × up to 0.12 Ω"
		}
		l.Loads = append(l.Loads, wire, contact)
	}
	l.caps = p.terms.of(times(1, n+4))
	if !p.quiet {
		l.LimitSum = p.say("what a device needs: %s V on USB 3, %s V on USB 2", num(power.DeviceUSB3), num(power.DeviceUSB2))
	}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s gets %s at the end of this lead; it needs %s.", dev.Label, p.span(kept.Load.Low, kept.Load.High, "V"), p.span(kept.Possible, kept.Sure, "V"))
		if worst := kept.Load.Low - volts.Low + lowest; port.Volts == nil && fact.Over(kept.Sure, worst) {
			kept.Says += p.say(" A socket that gives only the %s V the specification asks of it would leave %s.", num(lowest), p.span(worst, worst, "V"))
		}
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
	if p.quiet || l.AWG != nil && f.Narrow() {
		return b
	}
	for _, awg := range askedGauges {
		b.Options = append(b.Options, Option{Word: num(awg), Label: num(awg) + " AWG", Number: power.MilliohmPerMetre(awg)})
	}
	b.ask = func() Ask {
		ask := Ask{Question: p.say("Which gauge is printed on the USB lead %s for power?", p.leadTitle(l)), How: "Along the jacket, such as 28AWG/1P+24AWG/2C: the second is for power.", Minutes: 1}
		for _, awg := range askedGauges {
			gauge := fact.Exactly(awg)
			ask.Edits = append(ask.Edits, []rig.Edit{{Do: "fact", Path: b.Path, Fact: &gauge}})
		}
		return ask
	}
	return b
}

var askedGauges = []float64{30, 28, 26, 24, 22, 20}
