package plans

import (
	"cmp"
	"slices"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/usb"
)

// USBSocket is a USB socket of a computer, a dock or a hub, for those who look for a better place for a device: what it
// gives, and what it shares from there up to the computer, by the facts the rules of buses and power weigh.
type USBSocket struct {
	Item, Port int
	High       bool    // only the 480 Mb/s side
	Open       bool    // or the fast one: nobody knows
	MaxMW      float64 // what it gives; 0 when it sets no limit of its own
	Shares     []Shared
}

// Shared is one thing sockets share, with what it has left for devices that can be moved: MB/s of a side of a bus, or
// milliwatts of a current or supply.
type Shared struct {
	What  Sharing
	Place string // where its limit is judged: two that share what and place share the same thing
	Of    int    // the item it belongs to
	Name  string
	Cap   float64
}

// Sharing is what is shared.
type Sharing int

const (
	FastSide Sharing = iota
	HighSide
	BothSides
	Current // of the socket a hub without a supply is plugged into
	SupplyPower
)

// Sockets lists the USB sockets a device may be moved to; those behind a lead without data wires, and those that hold a
// hub's or dock's own plug, are left out. With worst, everything is taken as the bounds allow it to be at worst; else
// as likely, where what nobody has said is what it would take to hold.
func (p *Plan) Sockets(worst bool) []USBSocket {
	s := sockets{Plan: p, worst: worst, movable: map[string]bool{}}
	for _, d := range p.Devices() {
		s.movable[p.Items[d.Item].ID] = true
		port := &p.Items[d.Item].Gear.Ports[d.Port]
		switch {
		case port.USB == nil || port.USB.Transfer == usb.UnknownTransfer || port.USB.Transfer == "":
			if s.open == nil {
				s.open = &Stream{Owner: &p.Items[d.Item], Port: port.ID}
			}
		case port.USB.Transfer == usb.Isochronous:
			s.iso = true
		}
	}
	var out []USBSocket
	for i := range p.Items {
		if it := &p.Items[i]; !it.IsHost() && it.Gear.Kind != gear.Hub && it.Gear.Kind != gear.Dock {
			continue
		}
		for j := range p.Items[i].Gear.Ports {
			if x, ok := s.socket(i, j); ok {
				out = append(out, x)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b USBSocket) int {
		// of two that serve as well the nearer one, whatever the order of the rig
		return cmp.Or(cmp.Compare(p.hubsAbove(a.Item), p.hubsAbove(b.Item)), cmp.Compare(p.Items[a.Item].ID,
			p.Items[b.Item].ID),
			cmp.Compare(p.Items[a.Item].Gear.Ports[a.Port].ID, p.Items[b.Item].Gear.Ports[b.Port].ID))
	})
	return out
}

// hubsAbove is how many hubs and docks stand between an item's sockets and the computer, itself among them.
func (p *Plan) hubsAbove(item int) (n int) {
	if it := &p.Items[item]; !it.IsHost() {
		up := it.Gear.Port(Upstream(it).ID)
		if up < 0 {
			return len(p.Items)
		}
		for range p.Wiring.Up(item, up) {
			n++
		}
		if n == 0 { // it leads nowhere
			return len(p.Items)
		}
	}
	return n
}

type sockets struct {
	*Plan
	worst   bool
	iso     bool    // something reserves
	open    *Stream // something may
	movable map[string]bool
}

// cap is what a fact bounds: at worst its low end; as likely what it is said to be, and what it may be where nobody
// has.
func (s *sockets) cap(f limit.Fact) float64 {
	switch {
	case s.worst:
		return f.Low
	case f.Options != nil || f.Open != nil:
		return f.High
	}
	return f.Value
}

func (s *sockets) least(facts ...limit.Fact) float64 {
	v := limit.Never
	for _, f := range facts {
		v = min(v, s.cap(f))
	}
	return v
}

// takes tells whether something takes its power from above: at worst if it may.
func (s *sockets) takes(it *rig.Item) bool {
	surely, possibly := it.Gear.BusPowered()
	return surely || s.worst && possibly
}

// socket is one socket; ok is false for one nothing can be moved to.
func (s *sockets) socket(item, at int) (x USBSocket, ok bool) {
	it := &s.Items[item]
	port := &it.Gear.Ports[at]
	if port.Direction != gear.Downstream || port.Connector.Family() != gear.USBFamily ||
		port.Connector == gear.Internal || port.ChargeOnly {
		return x, false
	}
	if lead := s.Wiring.LeadAt(item, at); lead >= 0 && !s.movable[s.Items[s.Wiring.Far(lead, item)].ID] {
		// what is in it stays: a hub, a screen
		return x, false
	}
	way, steps := &Stream{}, []rig.Step(nil)
	up := slices.IndexFunc(it.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream })
	if it.IsHost() {
		up = -1
	}
	for done := way.Enter(s.Plan, item, port, up); !done; {
		if steps = slices.Collect(s.Wiring.Up(item, up)); len(steps) == 0 {
			return x, false
		}
		for _, step := range steps {
			grade, data := USBGradeFact(&s.Leads[step.Lead])
			if !data {
				return x, false
			}
			way.Through(grade)
			in := &s.Items[step.Item].Gear.Ports[step.Socket]
			if in.Direction != gear.Downstream || in.ChargeOnly {
				return x, false
			}
			done = way.Enter(s.Plan, step.Item, in, step.On)
		}
		if !done {
			return x, false
		}
	}
	x = USBSocket{Item: item, Port: at}
	surely, possibly := way.High()
	x.High, x.Open = surely || s.worst && possibly, s.worst && possibly && !surely
	if alone, _ := it.Gear.BusPowered(); !alone || it.Gear.Kind != gear.Hub {
		x.MaxMW = s.cap(allows(it, port)) * power.VBus
	}
	s.buses(&x, way)
	s.supplies(&x, steps)
	return x, true
}

// buses adds both sides of every bus on the way up.
func (s *sockets) buses(x *USBSocket, way *Stream) {
	for _, at := range way.Shares {
		it := &s.Items[at.Item]
		own := it.IsHost() || at.Controller != ""
		name := it.Label
		var fast float64
		if own {
			name = it.Label + ", " + cmp.Or(at.Controller, lang.Text("its controller"))
			fast = s.cap(UplinkFact(it, at.Controller))
		} else {
			up := Upstream(it)
			fast = s.least(append([]limit.Fact{s.SpeedFact(it, up)}, way.Speeds[at.Above:]...)...)
			if up.USB != nil && up.USB.Speed == usb.Gen1 && (s.iso || s.open != nil) {
				sure, possible := usb.BusMBps(usb.Gen1, s.iso, s.open != nil)
				if !s.worst {
					sure = possible
				}
				fast = min(fast, sure)
			}
		}
		place := it.ID + "." + at.Controller
		x.Shares = append(x.Shares, Shared{FastSide, place + ".fast", at.Item, name, fast})
		high := place + ".480"
		if it.Gear.USB2 == "apart" && own { // each socket has 480 Mb/s of its own
			high += "." + at.Socket
			name += ", " + at.Socket
		}
		x.Shares = append(x.Shares, Shared{HighSide, high, at.Item, name, s.cap(HighFact(it, s.iso, s.open))})
		if it.IsHost() || at.Controller == "" {
			continue
		}
		tunnel, may, _ := way.Tunnelled(at)
		carries := limit.Never
		switch {
		case tunnel || may && !s.worst:
			carries = usb.TunnelMBps
		default:
			carries = s.least(way.Speeds[max(at.Above-1, 0):]...)
		}
		x.Shares = append(x.Shares, Shared{BothSides, it.ID, at.Item, it.Label + lang.Text(", its way up"), carries})
		if tunnel || may && !s.worst { // past it nothing of USB is shared
			return
		}
	}
}

// supplies adds every current and supply on the way up that the device itself would draw on.
func (s *sockets) supplies(x *USBSocket, steps []rig.Step) {
	item := x.Item
	for n := 0; ; n++ {
		it := &s.Items[item]
		if it.IsHost() {
			return
		}
		if surely, _ := it.Gear.BusPowered(); !surely {
			if l, ok := s.SupplyLimit(it, item, s.Wiring.Hangs(item)); ok {
				x.Shares = append(x.Shares, Shared{SupplyPower, it.ID, item, it.Label + lang.Text(", its supply"),
					s.left(&l.Limit) * 1000})
			}
		}
		if !s.takes(it) || n >= len(steps) {
			return
		}
		step := steps[n]
		above := &s.Items[step.Item]
		if alone, _ := above.Gear.BusPowered(); !alone || above.Gear.Kind != gear.Hub {
			// else it is judged where that one is plugged in
			l := s.CurrentLimit(above, step.Item, rig.Hung{Item: item, Lead: step.Lead, Port: step.Socket})
			x.Shares = append(x.Shares, Shared{Current, s.Wiring.Ref(step.Item, step.Socket), item,
				it.Label + lang.Text(", its current"), s.left(&l.Limit) * power.VBus})
		}
		item = step.Item
	}
}

// left is what a limit leaves for what can be moved.
func (s *sockets) left(l *limit.Limit) float64 {
	l.Loads = slices.DeleteFunc(l.Loads, func(ld limit.Load) bool { return s.movable[ld.Item] })
	load := limit.Bounds{}
	for i := range l.Loads {
		b := l.Loads[i].Term.Bounds(l.Facts)
		load = limit.Bounds{Low: load.Low + b.Low, Value: load.Value + b.Value, High: load.High + b.High}
	}
	gives := l.Caps[0].Bounds(l.Facts)
	if s.worst {
		return max(0, gives.Low-load.High)
	}
	return max(0, gives.Value-load.Value)
}
