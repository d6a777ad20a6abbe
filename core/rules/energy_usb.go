package rules

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/usb"
)

// drawSum is a draw in watts, as the sum of a load; in amperes it is divided by 5 V.
func drawSum(w *Words, at int, current bool) {
	ld := &w.Result.Loads[at]
	f := w.Result.Fact(ld.Term.By()[0])
	w.Loads[at].Sum = w.T("%s W", say.Span(f.Low, f.High, ""))
	if current {
		w.Loads[at].Sum += lang.Text(" ÷ 5 V")
	}
}

var PortCurrent = rule(Rule{
	Name:    "port-current",
	Asks:    "Does a USB socket give the current of what hangs on it?",
	Sum:     "Σ W ÷ 5 V of the device, and of everything behind a hub without a supply ≤ mA the socket allows",
	Sense:   limit.AtMost,
	Unit:    "mA",
	Over:    limit.Drops,
	Subject: ThePower,
	Source:  standard("USB 2.0, 7.2.1; USB 3.2, 11.4"),
	Example: "Two sticks of 2.5 W behind a hub without a supply (1 W) on a USB 3 socket: 1200 of 900 mA, snapped.",
	Say:     sayPortCurrent,
	Judge:   Judging{OnRig: judgeSupplies},
})

// judgeSupplies judges every socket's current, every hub's and dock's supply, and the voltage at the end of every lead.
func judgeSupplies(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		hangs := p.Wiring.Hangs(i)
		if len(hangs) == 0 {
			continue
		}
		if k := it.Gear.Kind; k == gear.Hub || k == gear.Dock {
			judgeSupply(p, it, i, hangs)
		}
		for _, h := range hangs {
			if p.ConcernsPlug(i, h) {
				judgeSocketCurrent(p, own, it, i, h)
			}
		}
	}
}

var PortLetter = rule(Rule{
	Name:    "port-letter",
	Asks:    "Does a device take more of a hub without a supply than the letter of the specification gives each port?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: ThePower,
	Source:  standard("USB 2.0, 7.2.1.1 and USB 3.2, 11.4.1: one unit a port of a hub without a supply"),
	Example: "A stick of 2.5 W takes 500 mA; by the letter such a hub gives 150 mA a port. It works while the sum fits the socket: taut.",
})

// judgeLetter tells when a device takes more of a hub without a supply than the letter of the specification gives each
// of its ports: it works while the sum fits.
func judgeLetter(p *Pass, it *rig.Item, at int, h rig.Hung, ref string) {
	dev := &p.Items[h.Item]
	unit := power.UnitUSB3
	if up := plans.Upstream(it); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		unit = power.UnitUSB2
	}
	draw := dev.Gear.Draws()
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Port, Where: []string{it.ID, dev.ID,
		p.Leads[h.Lead].ID}}
	over := fact.Over(draw.High*1000/power.VBus, unit)
	if over {
		l.Outcomes = limit.Soft
	}
	l.Say = func(w *Words) {
		w.What = w.T("One port of %s by the letter", it.Label)
		w.Says = w.T("%s stays within the %s mA a hub without a supply gives each port by the letter.", dev.Label,
			say.Number(unit))
		if over {
			w.Says = w.T("%s takes %s; by the letter a hub without a supply gives %s mA a port. It works while the sum fits the socket.",
				dev.Label, say.Span(draw.Low*1000/power.VBus, draw.High*1000/power.VBus, "mA"), say.Number(unit))
		}
	}
	p.OnSocket(p.Add(nil, PortLetter, ref, &l), at, h.Port)
}

const vanish = "the first device works, and plugging in the second makes one vanish or never appear"

// judgeSocketCurrent judges one USB socket against what hangs on it, and the voltage at the end of the lead.
func judgeSocketCurrent(p *Pass, own *Rule, it *rig.Item, at int, h rig.Hung) {
	ref := p.Wiring.Ref(at, h.Port)
	dev := &p.Items[h.Item]
	if _, possibly := dev.Gear.BusPowered(); !possibly {
		return
	}
	if surely, possibly := it.Gear.BusPowered(); possibly && it.Gear.Kind == gear.Hub {
		judgeLetter(p, it, at, h, ref)
		if surely { // what a hub without a supply may pass on is judged where it is plugged in
			judgeDrop(p, it, at, h)
			return
		}
	}
	d := p.CurrentLimit(it, at, h)
	if len(d.Loads) == 0 {
		return
	}
	p.OnSocket(p.Add(nil, own, ref, &Result{Limit: d.Limit, Stage: plans.Port, Where: d.Where, Shared: d.Shared}),
		at, h.Port)
	judgeDrop(p, it, at, h)
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
		drawSum(w, i, true)
	}
	if w.Result.Facts[socket].Field == "items/ID/ports/PORT/usb/speed" {
		w.Facts[socket].Name = w.T("current of %s on %s, by its speed", name, it.Label)
	}
	w.Says = w.T("%s and what hangs on it take %s of the %s %s of %s allows.", dev.Label, w.LoadText(), w.LimitText(),
		name, it.Label)
	if w.Result.State != limit.Slack && dev.Gear.Kind == gear.Hub {
		w.Says += w.T(" When it is too much, %s.", lang.Text(vanish))
	}
}

var Supply = rule(Rule{
	Name:    "supply",
	Asks:    "Does the supply of a hub or dock give what hangs on it, and what charges the laptop?",
	Sum:     "Σ W of devices + the hub itself + charging ≤ supply W × share left at 5 V",
	Sense:   limit.AtMost,
	Unit:    "W",
	Over:    limit.Drops,
	Subject: ThePower,
	Source:  practice("Σ devices + the hub itself ≤ its supply; a tenth is lost where more than 5 V are turned down"),
	Example: "A dock of 60 W that charges with 45 W and takes 10 W itself leaves 5 W: a 4K stick of 4 W is taut.",
})

// judgeSupply judges the supply of a hub or dock that has one, or may have.
func judgeSupply(p *Pass, it *rig.Item, at int, hangs []rig.Hung) {
	of, ok := p.SupplyLimit(it, at, hangs)
	if !ok {
		return
	}
	l := Result{Limit: of.Limit, Stage: plans.Port, Where: of.Where, Shared: true}
	charging, gives, left := of.Charging, of.Gives, of.Left
	l.Say = func(w *Words) {
		w.What = w.T("Supply of %s", it.Label)
		w.Loads[0].Label = w.T("%s itself", it.Label)
		for i := 1; i < len(w.Loads); i++ {
			if i == charging {
				w.Loads[i].Label = lang.Text("charging the laptop")
			} else {
				drawSum(w, i, false)
			}
		}
		w.Facts[left-1].Name = lang.Text("left of it at 5 V")
		w.Sum = w.T("%s W × %s", say.Number(w.Result.Fact(gives).Value), say.Number(w.Result.Fact(left).Value))
		w.Says = w.T("%s and what hangs on it take %s of the %s its supply gives.", it.Label, w.LoadText(),
			w.LimitText())
	}
	kept := p.Add(nil, Supply, it.ID, &l)
	for _, h := range hangs {
		p.OnSocket(kept, at, h.Port)
	}
}

var Drop = rule(Rule{
	Name:    "drop",
	Asks:    "Is there enough voltage left at the end of a USB lead?",
	Sum:     "V at the socket − A × (2 × m × mΩ/m ÷ 1000 + contacts) ≥ V the device needs",
	Sense:   limit.AtLeast,
	Unit:    "V",
	Ceiling: 1,
	Over:    limit.Drops,
	Subject: ThePower,
	Source:  standard("ASTM B258 wire sizes, copper 17.24 nΩ·m; voltages at port and device from memory of USB 2.0 and USB 3.2"),
	Example: "0.9 A over 2 m of AWG 28 loses 0.77 V in the wire: 4.23 V from 5.0 V. A USB 3 device (4.00 V) works, a USB 2 device (4.40 V) does not.",
})

// judgeDrop judges the voltage that is left at the end of a USB lead: what the socket gives less what the wire and the
// contacts take, on the bounds of all of them. The lowest a socket may give by the specification is told beside it.
func judgeDrop(p *Pass, it *rig.Item, at int, h rig.Hung) {
	lead, dev := &p.Leads[h.Lead], &p.Items[h.Item]
	if _, possibly := dev.Gear.BusPowered(); lead.LengthM.High == 0 || !possibly {
		return
	}
	port := &it.Gear.Ports[h.Port]
	fast := port.USB == nil || port.USB.Speed != usb.HighSpeed
	open := plans.OpenPort(port)
	if up := plans.Upstream(dev); up.USB != nil && up.USB.Speed == usb.HighSpeed {
		fast, open = false, false
	} else if plans.OpenPort(up) {
		open = open || fast
	}
	least, lowest := limit.Known(power.DeviceUSB3, "V", fact.Standard), power.LowUSB3
	if !fast {
		least, lowest = limit.Known(power.DeviceUSB2, "V", fact.Standard), power.LowUSB2
	} else if open { // its speed would tell
		least.Value, least.High = power.DeviceUSB2, power.DeviceUSB2
		of, its := it, port
		if up := plans.Upstream(dev); plans.OpenPort(up) {
			of, its = dev, up
		}
		least.Key = limit.Part("items/ID/ports/PORT/usb/speed", of.ID, its.ID)
		least.Open = func() (out []limit.Option) {
			for _, o := range plans.SpeedOptions {
				if o.Number = power.DeviceUSB3; o.Word == string(usb.HighSpeed) {
					o.Number = power.DeviceUSB2
				}
				out = append(out, o)
			}
			return out
		}
	}
	d := plans.Draws{Limit: p.RoomFor(8, 1), Where: append(p.Mem.IDs.Room(4), lead.ID, it.ID)}
	p.Gather(&d, h, 1/power.VBus, nil, at)
	l, taken := Result{Limit: d.Limit, Stage: plans.Port, Where: d.Where}, d.Loads
	// volts − amperes × (2 × metres × mΩ/m ÷ 1000 + contacts): one term for the socket, two for each device.
	metres, gauge := l.Let(length(lead)), l.Let(gaugeFact(lead))
	contacts := l.Let(limit.Stated(limit.At("leads/ID/contactsOhm", lead.ID), "Ω", lead.ContactsOhm,
		fact.Est(power.ContactOhms/2, 0, power.ContactOhms)))
	volts := l.Let(limit.Stated(limit.Part("items/ID/ports/PORT/volts", it.ID, port.ID), "V", port.Volts,
		gear.DefaultPortVolts))
	needs := l.Let(least)
	l.Loads = append(p.Mem.Loads.Room(1+2*len(taken)), limit.Load{Item: it.ID, Term: limit.Times(1, volts)})
	for _, ld := range taken {
		l.Loads = append(l.Loads, limit.Load{Item: ld.Item, Term: ld.Term.With(metres).With(gauge).Scale(-2.0 / 1000)},
			limit.Load{Item: ld.Item, Term: ld.Term.With(contacts).Scale(-1)})
	}
	l.Caps = p.CapAt(limit.Times(1, needs))
	l.Say = func(w *Words) {
		r := w.Result
		w.What, w.Sum = w.T("Voltage at the end of the lead %s", w.LeadTitle(lead)),
			w.T("what a device needs: %s V on USB 3, %s V on USB 2", say.Number(power.DeviceUSB3),
				say.Number(power.DeviceUSB2))
		w.Loads[0] = labelled(w.T("%s of %s", rig.PortName(port), it.Label), lang.Text("what the socket gives"))
		for i := 1; i < len(w.Loads); i += 2 {
			device := w.Loads[i].Label
			w.Loads[i] = labelled(w.T("%s, in the wire", device), w.T("A × 2 × %s m × %s mΩ/m",
				say.Number(r.Fact(metres).Value), say.Number(r.Fact(gauge).Value)))
			w.Loads[i+1] = labelled(w.T("%s, in the contacts", device), lang.Text("A × up to 0.12 Ω"))
			if lead.ContactsOhm != nil {
				w.Loads[i+1].Sum = w.T("A × %s", say.Span(r.Fact(contacts).Low, r.Fact(contacts).High, "Ω"))
			}
		}
		w.Facts[gauge-1].Name, w.Facts[contacts-1].Name, w.Facts[needs-1].Name = w.T("gauge of the lead %s, as mΩ/m",
			w.LeadTitle(lead)), lang.Text("contacts of both plugs"), w.T("what %s needs", dev.Label)
		w.Says = w.T("%s gets %s at the end of this lead; it needs %s.", dev.Label, w.LoadText(), w.LimitText())
		if worst := r.Load.Low - r.Fact(volts).Low + lowest; port.Volts == nil && fact.Over(r.Sure, worst) {
			w.Says += w.T(" A socket that gives only the %s V the specification asks of it would leave %s.",
				say.Number(lowest), say.Span(worst, worst, "V"))
		}
	}
	p.OnSocket(p.Add(nil, Drop, lead.ID, &l), at, h.Port)
}

// gaugeFact is the resistance of a lead's power wires, by its gauge.
func gaugeFact(l *rig.Lead) limit.Fact {
	f := gear.DefaultAWG
	if l.AWG != nil {
		f = *l.AWG
	}
	// A higher gauge is a thinner wire: the bounds keep their order.
	g := limit.Fact{Key: limit.At("leads/ID/awg", l.ID), Unit: "mΩ/m", From: f.From,
		Low: power.MilliohmPerMetre(f.Low), Value: power.MilliohmPerMetre(f.Value),
		High: power.MilliohmPerMetre(f.High)}
	if l.AWG == nil || !f.Narrow() {
		g.Open = func() (out []limit.Option) {
			for _, awg := range askedGauges {
				gauge := fact.Exactly(awg)
				out = append(out, limit.Option{Word: say.Number(awg), Label: say.Number(awg) + " AWG",
					Number: power.MilliohmPerMetre(awg), Do: []rig.Edit{{Do: "fact", Path: "leads/" + l.ID + "/awg",
						Fact: &gauge}}})
			}
			return out
		}
	}
	return g
}

var askedGauges = []float64{30, 28, 26, 24, 22, 20}
