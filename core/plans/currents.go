package plans

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

// DrawFact is what an item draws, in watts.
func DrawFact(it *rig.Item) limit.Fact {
	return limit.Of(limit.At("items/ID/power/drawW", it.ID), "W", it.Gear.Draws())
}

// selfFact is whether a hub has a supply of its own: 0 when it takes nothing from above, 1 when everything.
//
// without is the number that stands for "none of its own": 1 for what is taken from above, 0 for what its own supply
// bears.
func selfFact(it *rig.Item, without float64) limit.Fact {
	return limit.Choice(limit.At("items/ID/power/selfPowered", it.ID), "", "unknown", &selfOptions[int(without)])
}

var selfOptions = [2][]limit.Option{{{Word: "no", Number: 0}, {Word: "yes", Number: 1}},
	{{Word: "no", Number: 1}, {Word: "yes", Number: 0}}}

// Draws is a limit of what hangs on a socket or a supply, with the ids it depends on.
type Draws struct {
	limit.Limit
	Where  []string
	Shared bool // several things hang on it
}

// Gather adds to a limit what one hung device takes out of a supply: its own draw, and through a hub without a supply
// everything behind it. shares are facts that stand for hubs nobody has looked at, however many; way holds the items
// passed, so that a chain that bites its own tail ends.
func (p *Plan) Gather(l *Draws, h rig.Hung, perWatt float64, shares []limit.Ref, way ...int) {
	it := &p.Items[h.Item]
	l.Where = Merge(l.Where, []string{it.ID, p.Leads[h.Lead].ID})
	surely, possibly := it.Gear.BusPowered()
	if !possibly || slices.Contains(way, h.Item) {
		return
	}
	if !surely && it.Gear.Kind == gear.Hub {
		shares = append(slices.Clip(shares), l.Let(selfFact(it, 1)))
	}
	t := limit.Times(perWatt, l.Let(DrawFact(it)))
	for _, share := range shares {
		t = t.With(share)
	}
	l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: t})
	for _, below := range p.Wiring.Hangs(h.Item) {
		p.Gather(l, below, perWatt, shares, append(slices.Clip(way), h.Item)...)
	}
}

// currentOptions are the speeds a socket may have, with the current that goes with each. [standard: USB 2.0, USB 3.2]
var currentOptions = []limit.Option{{Word: string(usb.HighSpeed), Number: power.PortUSB2},
	{Word: string(usb.Gen1), Number: power.PortUSB3}, {Word: string(usb.Gen2), Number: power.PortUSB3},
	{Word: string(usb.Gen2x2), Number: power.PortUSB3x2}, {Word: string(usb.Tunnel), Number: power.PortUSB3x2}}

// allows is the current a socket gives, in mA: as stated, else by its speed and shape. [standard: USB 2.0, USB 3.2]
func allows(it *rig.Item, port *gear.Port) limit.Fact {
	if port.AllowsMA == nil && port.Connector != gear.USBC && OpenPort(port) { // its speed tells
		return limit.Choice(limit.Part("items/ID/ports/PORT/usb/speed", it.ID, port.ID), "mA",
			string(usb.UnknownSpeed), &currentOptions)
	}
	return limit.Of(limit.Part("items/ID/ports/PORT/allowsMa", it.ID, port.ID), "mA", port.Allows())
}

// CurrentLimit is what a socket allows, its last fact, against what hangs on it; without loads when nothing draws on
// it.
func (p *Plan) CurrentLimit(it *rig.Item, at int, h rig.Hung) Draws {
	port, dev := &it.Gear.Ports[h.Port], &p.Items[h.Item]
	l := Draws{Where: append(p.Mem.IDs.Room(3), it.ID), Shared: dev.Gear.Kind == gear.Hub}
	if k := dev.Gear.Kind; k != gear.Hub && k != gear.Dock { // one device: most sockets, and the quick way
		l.Where = append(l.Where, dev.ID, p.Leads[h.Lead].ID)
		l.Facts = p.FactList(DrawFact(dev), allows(it, port))
		l.Loads = p.LoadOf(dev.ID, limit.Times(1000/power.VBus, 1))
	} else {
		n := 2 + len(p.Wiring.Hangs(h.Item))
		l.Facts, l.Loads = p.Mem.Facts.Room(2*n), p.Mem.Loads.Room(n)
		p.Gather(&l, h, 1000/power.VBus, nil, at)
		if len(l.Loads) == 0 {
			return l
		}
		l.Let(allows(it, port))
	}
	l.Caps = p.CapAt(limit.Times(1, limit.Ref(len(l.Facts))))
	return l
}

// suppliedBy is the limit of a supply: which load is the charging of the laptop, -1 for none, and which facts are what
// it gives and the share left of it at 5 V.
type suppliedBy struct {
	Draws
	Charging    int
	Gives, Left limit.Ref
}

// SupplyLimit is what the supply of a hub or dock gives against what hangs on it; ok is false where it has none.
func (p *Plan) SupplyLimit(it *rig.Item, at int, hangs []rig.Hung) (l suppliedBy, ok bool) {
	isDock := it.Gear.Kind == gear.Dock
	if surely, _ := it.Gear.BusPowered(); it.Gear.Kind != gear.Hub && !isDock || surely {
		return l, false
	}
	pw := gear.Power{}
	if it.Gear.Power != nil {
		pw = *it.Gear.Power
	}
	l.Limit, l.Shared, l.Where = p.RoomFor(2*len(hangs)+6, len(hangs)+3), true, []string{it.ID}
	l.Loads = append(l.Loads, limit.Load{Item: it.ID, Term: limit.Times(1, l.Let(DrawFact(it)))})
	for _, h := range hangs {
		p.Gather(&l.Draws, h, 1, nil, at)
	}
	l.Charging = -1
	if isDock { // nobody knows whether it charges the laptop until somebody says
		l.Charging = len(l.Loads)
		l.Loads = append(l.Loads,
			limit.Load{Item: it.ID,
				Term: limit.Times(1, l.Let(limit.Stated(limit.At("items/ID/power/chargesW", it.ID), "W", pw.ChargesW,
					gear.DefaultCharges)))})
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
	l.Gives = l.Let(limit.Stated(limit.At("items/ID/power/supplyW", it.ID), "W", pw.SupplyW, standIn))
	l.Left = l.Let(leftAt5V(it, pw.LeftAt5V()))
	l.Caps = p.CapAt(limit.Times(1, l.Gives, l.Left))
	return l, true
}

// leftAt5V is the share of a supply that is left at 5 V; which volts it gives is asked where nobody has said.
func leftAt5V(it *rig.Item, lost fact.Fact) limit.Fact {
	f := limit.Of(limit.Key{}, "", lost)
	if lost.Narrow() {
		return f
	}
	f.Key = limit.At("items/ID/power/supplyVolts", it.ID)
	f.Open = func() []limit.Option {
		path := "items/" + it.ID + "/power/supplyVolts"
		five, more := fact.Exactly(5), fact.Exactly(12)
		return []limit.Option{{Word: "5", Label: lang.Text("5 V"), Number: lost.High,
			Do: []rig.Edit{{Do: "fact", Path: path, Fact: &five}}},
			{Word: "12", Label: lang.Text("More than 5 V"), Number: lost.Low,
				Do: []rig.Edit{{Do: "fact", Path: path, Fact: &more}}}}
	}
	return f
}
