package rules

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/usb"
)

// drawFact is what an item draws, in watts.
func drawFact(it *rig.Item) limit.Fact {
	return limit.Of(key("items/ID/power/drawW", it.ID), "W", it.Gear.Draws())
}

// selfFact is whether a hub has a supply of its own: 0 when it takes nothing from above, 1 when everything.
//
// without is the number that stands for "none of its own": 1 for what is taken from above, 0 for what its own supply bears.
func selfFact(it *rig.Item, without float64) limit.Fact {
	return limit.Choice(key("items/ID/power/selfPowered", it.ID), "", "unknown", &selfOptions[int(without)])
}

var selfOptions = [2][]limit.Option{{{Word: "no", Number: 0}, {Word: "yes", Number: 1}}, {{Word: "no", Number: 1}, {Word: "yes", Number: 0}}}

// Draws is a limit of what hangs on a socket or a supply, with the ids it depends on.
type Draws struct {
	limit.Limit
	Where  []string
	Shared bool // several things hang on it
}

// gather adds to a limit what one hung device takes out of a supply: its own draw, and through a hub without a supply
// everything behind it. shares are facts that stand for hubs nobody has looked at, however many; way holds the items
// passed, so that a chain that bites its own tail ends.
func (p *Plan) gather(l *Draws, h rig.Hung, perWatt float64, shares []limit.Ref, way ...int) {
	it := &p.Items[h.Item]
	l.Where = merge(l.Where, []string{it.ID, p.Leads[h.Lead].ID})
	surely, possibly := it.Gear.BusPowered()
	if !possibly || slices.Contains(way, h.Item) {
		return
	}
	if !surely && it.Gear.Kind == gear.Hub {
		shares = append(slices.Clip(shares), l.Let(selfFact(it, 1)))
	}
	t := limit.Times(perWatt, l.Let(drawFact(it)))
	for _, share := range shares {
		t = t.With(share)
	}
	l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: t})
	for _, below := range p.Wiring.Hangs(h.Item) {
		p.gather(l, below, perWatt, shares, append(slices.Clip(way), h.Item)...)
	}
}

// drawSum is a draw in watts, as the sum of a load; in amperes it is divided by 5 V.
func (w *Words) drawSum(at int, current bool) {
	ld := &w.Result.Loads[at]
	f := w.Result.Fact(ld.Term.By()[0])
	w.Loads[at].Sum = w.T("%s W", Span(f.Low, f.High, ""))
	if current {
		w.Loads[at].Sum += lang.Text(" ÷ 5 V")
	}
}

var PortCurrent = rule(Rule{Name: "port-current", Asks: "Does a USB socket give the current of what hangs on it?", Sum: "Σ W ÷ 5 V of the device, and of everything behind a hub without a supply ≤ mA the socket allows", Sense: limit.AtMost, Unit: "mA", Over: limit.Drops, Subject: ThePower,
	Source:  standard("USB 2.0, 7.2.1; USB 3.2, 11.4"),
	Example: "Two sticks of 2.5 W behind a hub without a supply (1 W) on a USB 3 socket: 1200 of 900 mA, snapped.",
	Say:     sayPortCurrent,
	Judge:   Judging{OnRig: judgeSupplies}})

// judgeSupplies judges every socket's current, every hub's and dock's supply, and the voltage at the end of every lead.
func judgeSupplies(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		hangs := p.Wiring.Hangs(i)
		if len(hangs) == 0 {
			continue
		}
		if k := it.Gear.Kind; k == gear.Hub || k == gear.Dock {
			p.ownSupply(it, i, hangs)
		}
		for _, h := range hangs {
			if p.ConcernsPlug(i, h) {
				p.socketCurrent(own, it, i, h)
			}
		}
	}
}

// currentOptions are the speeds a socket may have, with the current that goes with each. [standard: USB 2.0, USB 3.2]
var currentOptions = []limit.Option{{Word: string(usb.HighSpeed), Number: power.PortUSB2}, {Word: string(usb.Gen1), Number: power.PortUSB3}, {Word: string(usb.Gen2), Number: power.PortUSB3},
	{Word: string(usb.Gen2x2), Number: power.PortUSB3x2}, {Word: string(usb.Tunnel), Number: power.PortUSB3x2}}

// allows is the current a socket gives, in mA: as stated, else by its speed and shape. [standard: USB 2.0, USB 3.2]
func allows(it *rig.Item, port *gear.Port) limit.Fact {
	if port.AllowsMA == nil && port.Connector != gear.USBC && openPort(port) { // its speed tells
		return limit.Choice(part("items/ID/ports/PORT/usb/speed", it.ID, port.ID), "mA", string(usb.UnknownSpeed), &currentOptions)
	}
	return limit.Of(part("items/ID/ports/PORT/allowsMa", it.ID, port.ID), "mA", port.Allows())
}

var PortLetter = rule(Rule{Name: "port-letter", Asks: "Does a device take more of a hub without a supply than the letter of the specification gives each port?", Sense: limit.Fits, Over: limit.Care, Subject: ThePower,
	Source:  standard("USB 2.0, 7.2.1.1 and USB 3.2, 11.4.1: one unit a port of a hub without a supply"),
	Example: "A stick of 2.5 W takes 500 mA; by the letter such a hub gives 150 mA a port. It works while the sum fits the socket: taut."})

// letter tells when a device takes more of a hub without a supply than the letter of the specification gives each of its
// ports: it works while the sum fits.
func (p *Pass) letter(it *rig.Item, at int, h rig.Hung, ref string) {
	dev := &p.Items[h.Item]
	unit := power.UnitUSB3
	if up := Upstream(it); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		unit = power.UnitUSB2
	}
	draw := dev.Gear.Draws()
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Port, Where: []string{it.ID, dev.ID, p.Leads[h.Lead].ID}}
	over := fact.Over(draw.High*1000/power.VBus, unit)
	if over {
		l.Outcomes = limit.Soft
	}
	l.Say = func(w *Words) {
		w.What = w.T("One port of %s by the letter", it.Label)
		w.Says = w.T("%s stays within the %s mA a hub without a supply gives each port by the letter.", dev.Label, Number(unit))
		if over {
			w.Says = w.T("%s takes %s; by the letter a hub without a supply gives %s mA a port. It works while the sum fits the socket.", dev.Label, Span(draw.Low*1000/power.VBus, draw.High*1000/power.VBus, "mA"), Number(unit))
		}
	}
	p.OnSocket(p.add(nil, PortLetter, ref, &l), at, h.Port)
}

const vanish = "the first device works, and plugging in the second makes one vanish or never appear"

// socketCurrent judges one USB socket against what hangs on it, and the voltage at the end of the lead.
func (p *Pass) socketCurrent(own *Rule, it *rig.Item, at int, h rig.Hung) {
	ref := p.Wiring.Ref(at, h.Port)
	dev := &p.Items[h.Item]
	if _, possibly := dev.Gear.BusPowered(); !possibly {
		return
	}
	if surely, possibly := it.Gear.BusPowered(); possibly && it.Gear.Kind == gear.Hub {
		p.letter(it, at, h, ref)
		if surely { // what a hub without a supply may pass on is judged where it is plugged in
			p.drop(it, at, h)
			return
		}
	}
	d := p.currentLimit(it, at, h)
	if len(d.Loads) == 0 {
		return
	}
	p.OnSocket(p.add(nil, own, ref, &Result{Limit: d.Limit, Stage: Port, Where: d.Where, Shared: d.Shared}), at, h.Port)
	p.drop(it, at, h)
}

func sayPortCurrent(w *Words) {
	at := w.Wiring.At(w.Result.About())
	it := &w.Items[at]
	_, id := rig.SplitRef(w.Result.ID.Place)
	port := it.Gear.Port(id)
	dev := &w.Items[w.Wiring.Far(w.Wiring.LeadAt(at, port), at)]
	socket, name := len(w.Facts)-1, rig.PortName(&it.Gear.Ports[port])
	w.What, w.Sum = w.T("Current of %s on %s", name, it.Label), lang.Text("what the socket allows")
	for i := range w.Loads {
		w.drawSum(i, true)
	}
	if w.Result.Facts[socket].Field == "items/ID/ports/PORT/usb/speed" {
		w.Facts[socket].Name = w.T("current of %s on %s, by its speed", name, it.Label)
	}
	w.Says = w.T("%s and what hangs on it take %s of the %s %s of %s allows.", dev.Label, w.load(), w.limit(), name, it.Label)
	if w.Result.State != limit.Slack && dev.Gear.Kind == gear.Hub {
		w.Says += w.T(" When it is too much, %s.", lang.Text(vanish))
	}
}

// currentLimit is what a socket allows, its last fact, against what hangs on it; without loads when nothing draws on it.
func (p *Plan) currentLimit(it *rig.Item, at int, h rig.Hung) Draws {
	port, dev := &it.Gear.Ports[h.Port], &p.Items[h.Item]
	l := Draws{Where: append(p.Mem.IDs.Room(3), it.ID), Shared: dev.Gear.Kind == gear.Hub}
	if k := dev.Gear.Kind; k != gear.Hub && k != gear.Dock { // one device: most sockets, and the quick way
		l.Where = append(l.Where, dev.ID, p.Leads[h.Lead].ID)
		l.Facts = p.facts(drawFact(dev), allows(it, port))
		l.Loads = p.load(dev.ID, limit.Times(1000/power.VBus, 1))
	} else {
		n := 2 + len(p.Wiring.Hangs(h.Item))
		l.Facts, l.Loads = p.Mem.Facts.Room(2*n), p.Mem.Loads.Room(n)
		p.gather(&l, h, 1000/power.VBus, nil, at)
		if len(l.Loads) == 0 {
			return l
		}
		l.Let(allows(it, port))
	}
	l.Caps = p.cap(limit.Times(1, limit.Ref(len(l.Facts))))
	return l
}

var Supply = rule(Rule{Name: "supply", Asks: "Does the supply of a hub or dock give what hangs on it, and what charges the laptop?", Sum: "Σ W of devices + the hub itself + charging ≤ supply W × share left at 5 V", Sense: limit.AtMost, Unit: "W", Over: limit.Drops, Subject: ThePower,
	Source:  practice("Σ devices + the hub itself ≤ its supply; a tenth is lost where more than 5 V are turned down"),
	Example: "A dock of 60 W that charges with 45 W and takes 10 W itself leaves 5 W: a 4K stick of 4 W is taut."})

// ownSupply judges the supply of a hub or dock that has one, or may have.
func (p *Pass) ownSupply(it *rig.Item, at int, hangs []rig.Hung) {
	of, ok := p.supplyLimit(it, at, hangs)
	if !ok {
		return
	}
	l := Result{Limit: of.Limit, Stage: Port, Where: of.Where, Shared: true}
	charging, gives, left := of.charging, of.gives, of.left
	l.Say = func(w *Words) {
		w.What = w.T("Supply of %s", it.Label)
		w.Loads[0].Label = w.T("%s itself", it.Label)
		for i := 1; i < len(w.Loads); i++ {
			if i == charging {
				w.Loads[i].Label = lang.Text("charging the laptop")
			} else {
				w.drawSum(i, false)
			}
		}
		w.Facts[left-1].Name = lang.Text("left of it at 5 V")
		w.Sum = w.T("%s W × %s", Number(w.Result.Fact(gives).Value), Number(w.Result.Fact(left).Value))
		w.Says = w.T("%s and what hangs on it take %s of the %s its supply gives.", it.Label, w.load(), w.limit())
	}
	kept := p.add(nil, Supply, it.ID, &l)
	for _, h := range hangs {
		p.OnSocket(kept, at, h.Port)
	}
}

// suppliedBy is the limit of a supply: which load is the charging of the laptop, -1 for none, and which facts are what it
// gives and the share left of it at 5 V.
type suppliedBy struct {
	Draws
	charging    int
	gives, left limit.Ref
}

// supplyLimit is what the supply of a hub or dock gives against what hangs on it; ok is false where it has none.
func (p *Plan) supplyLimit(it *rig.Item, at int, hangs []rig.Hung) (l suppliedBy, ok bool) {
	isDock := it.Gear.Kind == gear.Dock
	if surely, _ := it.Gear.BusPowered(); it.Gear.Kind != gear.Hub && !isDock || surely {
		return l, false
	}
	pw := gear.Power{}
	if it.Gear.Power != nil {
		pw = *it.Gear.Power
	}
	l.Limit, l.Shared, l.Where = p.roomFor(2*len(hangs)+6, len(hangs)+3), true, []string{it.ID}
	l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: limit.Times(1, l.Let(drawFact(it)))})
	for _, h := range hangs {
		p.gather(&l.Draws, h, 1, nil, at)
	}
	l.charging = -1
	if isDock { // nobody knows whether it charges the laptop until somebody says
		l.charging = len(l.Loads)
		l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: limit.Times(1, l.Let(stated(key("items/ID/power/chargesW", it.ID), "W", pw.ChargesW, gear.DefaultCharges)))})
	}
	if !isDock && pw.SelfPowered != "yes" { // only if it has one
		own := l.Let(selfFact(it, 0))
		for i := range l.Loads {
			l.Loads[i].Term = l.Loads[i].Term.With(own)
		}
	}
	standIn := fact.Est(10, 5, 60)
	if isDock {
		standIn = fact.Est(90, 45, 240)
	}
	l.gives = l.Let(stated(key("items/ID/power/supplyW", it.ID), "W", pw.SupplyW, standIn))
	l.left = l.Let(leftAt5V(it, pw.LeftAt5V()))
	l.Caps = p.cap(limit.Times(1, l.gives, l.left))
	return l, true
}

// leftAt5V is the share of a supply that is left at 5 V; which volts it gives is asked where nobody has said.
func leftAt5V(it *rig.Item, lost fact.Fact) limit.Fact {
	f := limit.Of(limit.Key{}, "", lost)
	if lost.Narrow() {
		return f
	}
	f.Key = key("items/ID/power/supplyVolts", it.ID)
	f.Open = func() []limit.Option {
		path := "items/" + it.ID + "/power/supplyVolts"
		five, more := fact.Exactly(5), fact.Exactly(12)
		return []limit.Option{{Word: "5", Label: lang.Text("5 V"), Number: lost.High, Do: []rig.Edit{{Do: "fact", Path: path, Fact: &five}}},
			{Word: "12", Label: lang.Text("More than 5 V"), Number: lost.Low, Do: []rig.Edit{{Do: "fact", Path: path, Fact: &more}}}}
	}
	return f
}

var Drop = rule(Rule{Name: "drop", Asks: "Is there enough voltage left at the end of a USB lead?", Sum: "V at the socket − A × (2 × m × mΩ/m ÷ 1000 + contacts) ≥ V the device needs", Sense: limit.AtLeast, Unit: "V", Ceiling: 1, Over: limit.Drops, Subject: ThePower,
	Source:  standard("ASTM B258 wire sizes, copper 17.24 nΩ·m; voltages at port and device from memory of USB 2.0 and USB 3.2"),
	Example: "0.9 A over 2 m of AWG 28 loses 0.77 V in the wire: 4.23 V from 5.0 V. A USB 3 device (4.00 V) works, a USB 2 device (4.40 V) does not."})

// drop judges the voltage that is left at the end of a USB lead: what the socket gives less what the wire and the contacts
// take, on the bounds of all of them. The lowest a socket may give by the specification is told beside it.
func (p *Pass) drop(it *rig.Item, at int, h rig.Hung) {
	lead, dev := &p.Leads[h.Lead], &p.Items[h.Item]
	if _, possibly := dev.Gear.BusPowered(); lead.LengthM.High == 0 || !possibly {
		return
	}
	port := &it.Gear.Ports[h.Port]
	fast := port.USB == nil || port.USB.Speed != usb.HighSpeed
	open := openPort(port)
	if up := Upstream(dev); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		fast, open = false, false
	} else if openPort(up) {
		open = open || fast
	}
	least, lowest := limit.Known(power.DeviceUSB3, "V", fact.Standard), power.LowUSB3
	if !fast {
		least, lowest = limit.Known(power.DeviceUSB2, "V", fact.Standard), power.LowUSB2
	} else if open { // its speed would tell
		least.Value, least.High = power.DeviceUSB2, power.DeviceUSB2
		of, its := it, port
		if up := Upstream(dev); openPort(up) {
			of, its = dev, up
		}
		least.Key = part("items/ID/ports/PORT/usb/speed", of.ID, its.ID)
		least.Open = func() (out []limit.Option) {
			for _, o := range speedOptions {
				if o.Number = power.DeviceUSB3; o.Word == string(usb.HighSpeed) {
					o.Number = power.DeviceUSB2
				}
				out = append(out, o)
			}
			return out
		}
	}
	d := Draws{Limit: p.roomFor(8, 1), Where: append(p.Mem.IDs.Room(4), lead.ID, it.ID)}
	p.gather(&d, h, 1/power.VBus, nil, at)
	l, taken := Result{Limit: d.Limit, Stage: Port, Where: d.Where}, d.Loads
	// volts − amperes × (2 × metres × mΩ/m ÷ 1000 + contacts): one term for the socket, two for each device.
	metres, gauge := l.Let(length(lead)), l.Let(gaugeFact(lead))
	contacts := l.Let(stated(key("leads/ID/contactsOhm", lead.ID), "Ω", lead.ContactsOhm, fact.Est(power.ContactOhms/2, 0, power.ContactOhms)))
	volts := l.Let(stated(part("items/ID/ports/PORT/volts", it.ID, port.ID), "V", port.Volts, gear.DefaultPortVolts))
	needs := l.Let(least)
	l.Loads = append(p.Mem.Loads.Room(1+2*len(taken)), limit.Load{Item: it.ID, Term: limit.Times(1, volts)})
	for _, ld := range taken {
		l.Loads = append(l.Loads, limit.Load{Item: ld.Item, Term: ld.Term.With(metres).With(gauge).Scale(-2.0 / 1000)}, limit.Load{Item: ld.Item, Term: ld.Term.With(contacts).Scale(-1)})
	}
	l.Caps = p.cap(limit.Times(1, needs))
	l.Say = func(w *Words) {
		r := w.Result
		w.What, w.Sum = w.T("Voltage at the end of the lead %s", w.LeadTitle(lead)), w.T("what a device needs: %s V on USB 3, %s V on USB 2", Number(power.DeviceUSB3), Number(power.DeviceUSB2))
		w.Loads[0] = LoadWords{w.T("%s of %s", rig.PortName(port), it.Label), lang.Text("what the socket gives")}
		for i := 1; i < len(w.Loads); i += 2 {
			device := w.Loads[i].Label
			w.Loads[i] = LoadWords{w.T("%s, in the wire", device), w.T("A × 2 × %s m × %s mΩ/m", Number(r.Fact(metres).Value), Number(r.Fact(gauge).Value))}
			w.Loads[i+1] = LoadWords{w.T("%s, in the contacts", device), lang.Text("A × up to 0.12 Ω")}
			if lead.ContactsOhm != nil {
				w.Loads[i+1].Sum = w.T("A × %s", Span(r.Fact(contacts).Low, r.Fact(contacts).High, "Ω"))
			}
		}
		w.Facts[gauge-1].Name, w.Facts[contacts-1].Name, w.Facts[needs-1].Name = w.T("gauge of the lead %s, as mΩ/m", w.LeadTitle(lead)), lang.Text("contacts of both plugs"), w.T("what %s needs", dev.Label)
		w.Says = w.T("%s gets %s at the end of this lead; it needs %s.", dev.Label, w.load(), w.limit())
		if worst := r.Load.Low - r.Fact(volts).Low + lowest; port.Volts == nil && fact.Over(r.Sure, worst) {
			w.Says += w.T(" A socket that gives only the %s V the specification asks of it would leave %s.", Number(lowest), Span(worst, worst, "V"))
		}
	}
	p.OnSocket(p.add(nil, Drop, lead.ID, &l), at, h.Port)
}

// gaugeFact is the resistance of a lead's power wires, by its gauge.
func gaugeFact(l *rig.Lead) limit.Fact {
	f := gear.DefaultAWG
	if l.AWG != nil {
		f = *l.AWG
	}
	// A higher gauge is a thinner wire: the bounds keep their order.
	g := limit.Fact{Key: key("leads/ID/awg", l.ID), Unit: "mΩ/m", From: f.From, Low: power.MilliohmPerMetre(f.Low), Value: power.MilliohmPerMetre(f.Value), High: power.MilliohmPerMetre(f.High)}
	if l.AWG == nil || !f.Narrow() {
		g.Open = func() (out []limit.Option) {
			for _, awg := range askedGauges {
				gauge := fact.Exactly(awg)
				out = append(out, limit.Option{Word: Number(awg), Label: Number(awg) + " AWG", Number: power.MilliohmPerMetre(awg), Do: []rig.Edit{{Do: "fact", Path: "leads/" + l.ID + "/awg", Fact: &gauge}}})
			}
			return out
		}
	}
	return g
}

var askedGauges = []float64{30, 28, 26, 24, 22, 20}
