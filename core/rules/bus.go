package rules

import (
	"cmp"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/usb"
)

var CarriesData = rule(Rule{
	Name:    "carries-data",
	Asks:    "Has the lead, or the socket, data wires?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: Failing,
	Board:   Short{Open: "data wires in it?", Bad: "charge only, no data"},
	Source:  practice("Charge-only cable"),
	Example: "A lead from a charger, marked for charging only, between a stick and the computer: the device is not found.",
	Judge:   Judging{AtUSBLead: judgeUSBLead},
})

// judgeCarriesData judges whether a USB lead has data wires. It reports whether it may have.
func judgeCarriesData(p *Pass, own *Rule, hop func() *plans.Hop, where []string, l *rig.Lead) bool {
	r := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Port, Where: where}
	text := lang.Text("It is marked as a data lead.")
	grade := usb.Grade(l.Grade)
	switch {
	case grade == usb.ChargeOnly:
		r.Outcomes, text = limit.No, lang.Text("A charge-only lead has no data wires: the device is not found.")
	case l.LengthM.High == 0:
		return true // a plug that goes straight in has its wires
	case grade == usb.UnknownGrade:
		r.Outcomes, text = limit.Maybe, ""
		r.Facts = p.FactList(limit.Fact{Key: limit.At("leads/ID/grade", l.ID), Word: "unknown", From: fact.Estimate,
			Open: func() []limit.Option {
				out := []limit.Option{{Word: string(usb.ChargeOnly), Label: lang.Text("Made for charging only"),
					State: limit.Snapped}}
				for i, g := range plans.LeadGrades {
					out = append(out, limit.Option{Word: string(g), Label: plans.SpeedOptions[i].Label,
						State: limit.Slack})
				}
				return out
			}})
	}
	r.Say = func(w *Words) {
		if w.What, w.Says = w.T("The lead %s carries data", w.LeadTitle(l)), text; text == "" {
			w.Says = w.T("Nobody has looked whether the lead %s has data wires: one from a charger may have none.",
				w.LeadTitle(l))
		}
	}
	p.Add(hop(), own, l.ID, &r)
	return grade != usb.ChargeOnly
}

// judgeUSBLead passes a USB lead: does it carry data, and is it short enough for its speed? Its grade joins the parts
// that limit the connection's speed.
func judgeUSBLead(p *Pass, own *Rule, w *Walk) {
	l, from, to, s := w.Lead, w.From, w.To, w.Bytes
	var made *plans.Hop
	hop := func() *plans.Hop { // a plug that goes straight in is no stretch of its own
		if made == nil {
			made = p.NewHop(w, plans.Hop{Stage: plans.Port, Kind: "lead", Ref: l.ID, Lead: l})
		}
		return made
	}
	if !judgeCarriesData(p, own, hop, w.Deps(), l) {
		return
	}
	if f, ok := plans.USBGradeFact(l); ok {
		s.Through(f)
	}
	if l.LengthM.High > 0 {
		judgeUSBReach(p, hop(), w.Deps(), l, s, p.DockLead(w.LeadAt), from, to)
	}
	if l.SpanM != nil || l.LengthM.High > 0 {
		judgeRunOf(p, Run, hop(), w.Deps(), l)
	}
}

// judgeUSBReach judges the length of a USB lead at the speed it has to carry: that of its two sockets, its grade, and
// the device behind it; 40 Gb/s where both ends of a dock's lead make a tunnel of it.
func judgeUSBReach(p *Pass, hop *plans.Hop, where []string, l *rig.Lead, s *plans.Stream, dock bool,
	from, to *gear.Port) {
	device := s.Device
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
	for i := range s.Speeds { // what is slower, or may be, on the way to here
		fastest, slowest = usb.Slower(fastest, plans.SpeedOf(s.Speeds[i].High)),
			usb.Slower(slowest, plans.SpeedOf(s.Speeds[i].Low))
	}
	for _, port := range [2]*gear.Port{from, to} {
		switch {
		case plans.OpenPort(port):
			slowest = usb.HighSpeed
		case plans.Tunnels(port): // with something slower at the other end it is a 10 Gb/s socket
			fastest, slowest = usb.Slower(fastest, usb.Gen2), usb.Slower(slowest, usb.Gen2)
		default:
			fastest, slowest = usb.Slower(fastest, port.USB.Speed), usb.Slower(slowest, port.USB.Speed)
		}
	}
	unmarked, forty := usb.Grade(l.Grade) == usb.UnknownGrade, usb.Grade(l.Grade) == usb.Lead40G
	if unmarked {
		slowest = usb.HighSpeed
	}
	if (plans.Tunnels(from) || plans.OpenPort(from)) && (plans.Tunnels(to) || plans.OpenPort(to)) && (dock ||
		plans.Tunnels(from)) && (forty || unmarked) {
		if fastest = usb.Tunnel; forty && plans.Tunnels(from) && plans.Tunnels(to) {
			slowest = usb.Tunnel
		}
	}
	sure, _ := usb.Reach(fastest, typeC)
	_, possible := usb.Reach(slowest, typeC)
	what := func(w *Words) { w.What = w.T("Reach of the lead %s", w.LeadTitle(l)) }
	source := practice("USB lead lengths; USB 2 from the 26 ns of USB 2.0, 7.1.16")
	if t := l.Tried; t != nil { // a trial of a USB lead is of the lead as it is used
		r := Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Yes}, Stage: plans.Port, Where: where}
		text := lang.Text("The lead %s was tried and held.")
		if !t.Holds {
			r.Outcomes, text = limit.No, lang.Text("The lead %s was tried and did not hold.")
		}
		r.Say = func(w *Words) { what(w); w.Source, w.Says = source, w.T(text, w.LeadTitle(l)) }
		p.Add(hop, Reach, l.ID, &r)
		return
	}
	reach := limit.Fact{Unit: "m", Low: sure, Value: sure, High: max(possible, sure), From: fact.Practice}
	mhz := speedMHz[fastest]
	if !reach.Narrow() {
		reach.Key, reach.Open = limit.At("leads/ID/tried", l.ID), plans.TriedOptions(l, mhz, reach.Low, reach.High,
			false)
	}
	r := Result{Limit: limit.Limit{Facts: p.FactList(length(l), reach), Loads: p.LoadOf(l.ID, limit.Times(1, 1)),
		Caps: plans.SecondFact}, Stage: plans.Port, Where: where}
	r.Say = func(w *Words) {
		what(w)
		w.Source, w.Loads[0].Sum, w.Sum = source, lang.Text("its length"),
			w.T("passive lead at %s", rig.SpeedName(fastest))
		w.Facts[1].Name = w.T("reach of passive USB leads at %s", rig.SpeedName(fastest))
		if f := &w.Result.Facts[1]; !f.IsZero() {
			w.Facts[1].Ask = w.AskOf(f, w.T("Does the USB lead %s (%s) hold?", w.LeadTitle(l), w.LeadName(l)),
				lang.Text("Run the picture for a quarter of an hour and look whether the device drops out or comes back slower."),
				15)
		}
		w.Says = w.T("The lead %s is %s long; a passive one carries %s for %s.", w.LeadTitle(l), w.LoadText(),
			rig.SpeedName(fastest), w.LimitText())
	}
	p.Add(hop, Reach, l.ID, &r)
}

// speedMHz is the frequency a trial of a USB lead stands for: half the bit rate of a lane.
var speedMHz = map[usb.Speed]float64{usb.HighSpeed: 240, usb.Gen1: 2500, usb.Gen1x2: 2500, usb.Gen2: 5000,
	usb.Gen2x2: 5000, usb.Tunnel: 10000}

// judgePort takes a stream into a hub, a dock or the computer, where its connection is judged.
func judgePort(p *Pass, own *Rule, w *Walk) {
	it, in, ref, hop, s := w.Item, w.Port, w.Ref, w.Hop, w.Bytes
	if in.Direction != gear.Downstream {
		p.Add(hop, WayRound, ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(), Say: func(w *Words) {
			w.What, w.Source = lang.Text("Device meets computer"),
				practice("A device's plug goes into a downstream port")
			w.Says = w.T("%s of %s is %s: a device's plug belongs into a downstream port.", rig.PortName(in), it.Label,
				string(in.Direction))
		}})
		return
	}
	if in.ChargeOnly {
		p.Add(hop, CarriesData, ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(),
			Say: func(w *Words) {
				w.Source = practice("A charge-only port carries no data")
				w.What, w.Says = w.T("%s of %s carries data", rig.PortName(in), it.Label),
					w.T("%s of %s gives power and carries no data: the device is not found.", rig.PortName(in),
						it.Label)
			}})
		return
	}
	s.Crosses = append(s.Crosses, plans.HopAt{Item: it, Feed: w.Feed, Hop: len(w.Feed.Hops) - 1})
	if in.Connector == gear.PCIe {
		s.Slot, s.SlotPort, s.Where = it, in, w.Deps()
		return
	}
	if s.Host != nil {
		if it.IsHost() {
			p.Here(hop, ID{Rule: own, Place: s.Ref})
		}
		return // another feed of the same switcher was here already
	}
	s.Where = w.Deps()
	if s.Enter(&p.Plan, p.Wiring.At(it.ID), in, w.Out) {
		judgeConnection(p, own, hop, s)
	}
}

var Link = rule(Rule{
	Name:    "link",
	Asks:    "Does the slowest part of a device's own USB connection carry its picture?",
	Sum:     "bytes a frame × rate ≤ the slowest of device, leads, hubs and port",
	Sense:   limit.AtMost,
	Unit:    "MB/s",
	Over:    limit.Drops,
	Subject: TheBus,
	Source:  standard("USB 2.0 chapter 5 and USB 3.2; bulk payload figures from memory"),
	Example: "1080p60 YUY2 is 248.8 MB/s; on a 5 Gb/s bulk link (470 MB/s) 53 %: slack. On 480 Mb/s it never fits.",
	Say:     sayLink,
	Judge:   Judging{AtUSBPort: judgePort, AfterWays: judgeOthers},
})

// judgeConnection judges one stream against the slowest part of its own connection.
func judgeConnection(p *Pass, own *Rule, hop *plans.Hop, s *plans.Stream) {
	l := Result{Stage: plans.Port, Where: s.Where}
	l.Facts = append(append(p.Mem.Facts.Room(len(s.Facts)+len(s.Speeds)+1), s.Facts...), s.Speeds...)
	l.Caps = p.Mem.Terms.Room(len(s.Speeds) + 1)
	first := limit.Ref(len(s.Facts) + 1)
	slowest, fastest, likely := 0, s.Speeds[0].High, s.Speeds[0].Value
	for i := range s.Speeds {
		likely = min(likely, s.Speeds[i].Value)
		l.Caps = append(l.Caps, limit.Times(1, first+limit.Ref(i)))
		if s.Speeds[i].Low < s.Speeds[slowest].Low {
			slowest = i
		}
		fastest = min(fastest, s.Speeds[i].High)
	}
	// A reserving stream is bound to one endpoint: a share of what bulk streams get on the same connection.
	if s.Reserves || s.MayReserve {
		l.Caps = append(l.Caps, limit.Times(1, l.Let(endpointFact(p, s, &s.Speeds[slowest], likely, fastest))))
	}
	l.Loads = p.LoadOf(s.Owner.ID, s.Load)
	p.Add(hop, own, s.Ref, &l)
}

func sayLink(w *Words) {
	s := w.Streams[slices.IndexFunc(w.Streams, func(s *plans.Stream) bool { return s.Ref == w.Result.ID.Place })]
	at, slowest := len(s.Facts), 0
	for i := range s.Speeds {
		if s.Speeds[i].Low < s.Speeds[slowest].Low {
			slowest = i
		}
	}
	slow := w.Facts[at+slowest].Name
	w.What, w.Loads[0].Sum, w.Sum = w.T("USB connection of %s", s.Owner.Label), s.Sum(), w.T("slowest part: %s", slow)
	w.Says = w.T("%s sends %s; its connection carries %s (slowest part: %s).", s.Owner.Label, w.LoadText(),
		w.LimitText(), slow)
	if s.Reserves {
		w.Facts[at+len(s.Speeds)].Name = lang.Text("what one reserving endpoint carries")
	}
}

// endpointFact is what one reserving endpoint carries at the speeds the connection may turn out to have.
func endpointFact(p *Pass, s *plans.Stream, slowest *limit.Fact, likely, fastest float64) limit.Fact {
	value, _ := usb.EndpointMBps(plans.SpeedOf(likely), usb.Isochronous)
	sure, _ := usb.EndpointMBps(plans.SpeedOf(slowest.Low), usb.Isochronous)
	if s.Reserves {
		// With the largest headers at both ends: the few bytes they may be shorter are known to nobody and asked of
		// nobody.
		at, _ := usb.EndpointMBps(plans.SpeedOf(fastest), usb.Isochronous)
		f := limit.Fact{Unit: "MB/s", Low: sure, Value: min(max(value, sure), max(sure, at)), High: max(sure, at),
			From: fact.Standard}
		if slowest.Options != nil || slowest.Open != nil { // its speed is open
			o := plans.Revalued(*slowest, func(o *limit.Option) float64 {
				v, _ := usb.EndpointMBps(plans.SpeedOf(o.Number), usb.Isochronous)
				return v
			})
			f.Key, f.Open = o.Key, o.Open
		}
		return f
	}
	_, possible := usb.EndpointMBps(plans.SpeedOf(fastest), usb.Isochronous)
	bulk := max(possible, fastest)
	f := plans.TransferFact(s, min(sure, bulk), bulk)
	f.Value = min(max(value, f.Low), f.High)
	return f
}

// onBus is a stream on a bus, with what its load there is multiplied by: nothing when it is surely there.
type onBus struct {
	*plans.Stream
	socket  string // of the bus's item
	factors []limit.Fact
}

var Bus = rule(Rule{
	Name:    "bus",
	Asks:    "Does a shared bus carry everything on it?",
	Sum:     "Σ MB/s of what is on it ≤ the controller's uplink, the hub's way up, or one 480 Mb/s bus",
	Sense:   limit.AtMost,
	Unit:    "MB/s",
	Over:    limit.Drops,
	Subject: TheBus,
	Source:  standard("USB 2.0 chapter 5: what one bus carries, and who shares it"),
	Example: "Two sticks at 1080p60 YUY2, 497.7 MB/s, behind one hub on 5 Gb/s (470 MB/s): snapped. At NV12, 373.2: slack by a hair.",
	Judge:   Judging{OnRig: judgeBuses},
})

// judgeBuses judges what streams share: every hub's way up and every controller, the fast pair and the 480 Mb/s pair
// apart. A stream whose speed is open stands on both sides, one of which it is on.
func judgeBuses(p *Pass, own *Rule, _ *Walk) {
	m := &scratchOf(p).buses
	m.empty()
	for _, s := range p.Streams {
		if s.Host == nil {
			continue
		}
		surely, possibly := s.High()
		var above []limit.Fact // factors from docks below
		for _, at := range s.Shares {
			for _, high := range [2]bool{false, true} {
				if surely && !high || !possibly && high {
					continue
				}
				k := plans.BusKey{Item: at.Item, Controller: at.Controller, High: high}
				if !p.ConcernsBus(k) {
					continue
				}
				on := onBus{Stream: s, socket: at.Socket, factors: above}
				if possibly && !surely {
					on.factors = append(slices.Clip(above), s.Side(high))
				}
				m.put(k, on)
			}
			if at.Controller == "" || p.Items[at.Item].IsHost() {
				continue
			}
			// A dock with a controller of its own: its way up, and past it only what is not tunnelled.
			if p.ConcernsWayUp(at.Item) {
				m.putWay(plans.BusKey{Item: at.Item}, onBus{Stream: s, socket: at.Socket})
			}
			tunnel, may, open := s.Tunnelled(at)
			switch {
			case tunnel:
				above = append(slices.Clip(above), limit.Fact{From: fact.Standard, Word: p.Items[at.Item].ID})
			case may:
				f := plans.Revalued(*open, func(o *limit.Option) float64 {
					if plans.IsTunnel(o) {
						return 0
					}
					return 1
				})
				f.Unit, f.Low, f.Value, f.High = "", 0, 1, 1
				above = append(slices.Clip(above), f)
			}
		}
	}
	for i := range m.buses {
		k, on := m.buses[i].key, m.buses[i].on
		if it := &p.Items[k.Item]; !k.High || it.Gear.USB2 != "apart" || !it.IsHost() && k.Controller == "" {
			judgeBus(p, own, k, on)
			continue
		}
		for _, s := range on { // each socket has 480 Mb/s of its own: the worst of them counts
			mine := slices.DeleteFunc(slices.Clone(on), func(o onBus) bool { return o.socket != s.socket })
			if mine[0].Stream == s.Stream {
				judgeBus(p, own, k, mine)
			}
		}
	}
	for i := range m.ways {
		judgeWayUp(p, m.ways[i].key.Item, m.ways[i].on)
	}
}

// scratch is the memory rules keep from one pass to the next.
type scratch struct {
	buses busRoom
	jobs  []job
}

func scratchOf(p *Pass) *scratch {
	if p.Scratch == nil {
		p.Scratch = new(scratch)
	}
	return p.Scratch.(*scratch)
}

// busRoom is the memory of sorting streams by what they share.
type busRoom struct {
	buses, ways []streamsOn
	at          map[plans.BusKey]int
}

// streamsOn are the streams on one bus, or on a dock's way up.
type streamsOn struct {
	key plans.BusKey
	on  []onBus
}

func (m *busRoom) empty() {
	m.buses, m.ways = m.buses[:0], m.ways[:0]
	if m.at == nil {
		m.at = map[plans.BusKey]int{}
	}
	clear(m.at)
}

// put adds a stream to a bus; buses stand in the order they are first met.
func (m *busRoom) put(k plans.BusKey, on onBus) {
	at := len(m.buses) - 1
	if at < 0 || m.buses[at].key != k {
		var ok bool
		if at, ok = m.at[k]; !ok {
			at = len(m.buses)
			m.at[k] = at
			m.buses = one(m.buses, k)
		}
	}
	m.buses[at].on = append(m.buses[at].on, on)
}

// putWay adds a stream to the way up of a dock.
func (m *busRoom) putWay(k plans.BusKey, on onBus) {
	at := slices.IndexFunc(m.ways, func(s streamsOn) bool { return s.key == k })
	if at < 0 {
		at = len(m.ways)
		m.ways = one(m.ways, k)
	}
	m.ways[at].on = append(m.ways[at].on, on)
}

// one more, in the memory of one there was before.
func one(list []streamsOn, k plans.BusKey) []streamsOn {
	if n := len(list); n < cap(list) {
		list = list[:n+1]
		list[n].key, list[n].on = k, list[n].on[:0]
		return list
	}
	return append(list, streamsOn{key: k})
}

// loadOn adds a stream's load to a limit, times what it is multiplied by there.
func loadOn(l *Result, s *plans.Stream, facts []limit.Fact, load limit.Term, factors []limit.Fact) {
	l.Where = plans.Merge(l.Where, s.Where)
	load = load.After(len(l.Facts))
	l.Facts = append(l.Facts, facts...)
	for i := range factors {
		load = load.With(l.Let(factors[i]))
	}
	l.Loads = append(l.Loads, limit.Load{Item: s.Owner.ID, Term: load})
}

// tunnelNames words the factors that say that something is tunnelled.
func tunnelNames(w *Words) {
	for i := range w.Result.Facts {
		if f := &w.Result.Facts[i]; f.IsZero() && f.Word != "" && w.Facts[i].Name == "" {
			w.Facts[i].Name = w.T("%s is tunnelled", w.LabelOf(f.Word))
		}
	}
}

func judgeBus(p *Pass, own *Rule, k plans.BusKey, streams []onBus) {
	it := &p.Items[k.Item]
	l := Result{Stage: plans.Port, Shared: true}
	onHost := it.IsHost() || k.Controller != ""
	side, place := lang.Text("5 Gb/s and faster"), it.ID+"."+k.Controller+".fast"
	if k.High {
		side, place = lang.Text("480 Mb/s"), it.ID+"."+k.Controller+".480"
	}
	l.Facts, l.Loads = p.Mem.Facts.Room(2*len(streams)+6), p.Mem.Loads.Room(len(streams))
	l.Where = p.Mem.IDs.Room(6 * len(streams))
	iso, open := false, (*plans.Stream)(nil)
	one := true              // one socket only
	var sums []func() string // where they are not those of what is sent
	for i, s := range streams {
		iso = iso || s.Reserves
		if s.MayReserve && open == nil {
			open = s.Stream
		}
		one = one && s.socket == streams[0].socket
		facts, load := s.Facts, s.Load
		if k.High && (s.Reserves || s.MayReserve) && s.Width > 0 {
			if sums == nil {
				sums = make([]func() string, len(streams))
			}
			facts, load, sums[i] = p.Reservation(s.Stream)
		}
		loadOn(&l, s.Stream, facts, load, s.factors)
	}
	first := len(l.Facts) // of what is the limit
	name := capOfBus(p, &l, k, streams, reserving{iso, open, one})
	l.Say = func(w *Words) {
		for i := range streams {
			if w.Loads[i].Sum = streams[i].Sum(); sums != nil && sums[i] != nil {
				w.Loads[i].Sum = sums[i]()
			}
		}
		tunnelNames(w)
		name(w)
		w.What = w.T("%s, the %s side", it.Label, side)
		if onHost {
			w.What = w.T("%s, all ports of %s, the %s side", it.Label, cmp.Or(k.Controller, "the computer"), side)
		}
		f := &w.Result.Facts[first]
		w.Sum = w.Facts[first].Name
		if !k.High && f.Word != "" {
			w.Sum += ": " + rig.SpeedName(usb.Speed(f.Word))
		}
		for i := range w.Result.Facts {
			if f := &w.Result.Facts[i]; f.Field == "items/ID/ports/PORT/usb/reservesMBps" ||
				f.Field == "items/ID/ports/PORT/usb/transfer" && i < first {
				w.Facts[i].Name = w.T("reservation of %s", w.LabelOf(f.Of))
			}
		}
		w.Says = w.T("%s carries %s: %s of %s.", w.What, say.Count(len(streams), "stream", "streams"), w.LoadText(),
			w.LimitText())
	}
	kept := p.Add(nil, own, place, &l)
	for _, s := range streams {
		p.OnCrossings(kept, it, s.Stream)
	}
}

// reserving is what streams on a bus reserve: some surely, one of those that may, and whether all are in one socket.
type reserving struct {
	iso  bool
	open *plans.Stream
	one  bool
}

// capOfBus adds what a bus carries to a limit, and gives the names of its facts.
func capOfBus(p *Pass, l *Result, k plans.BusKey, streams []onBus, on reserving) (name func(*Words)) {
	it := &p.Items[k.Item]
	onHost := it.IsHost() || k.Controller != ""
	name = func(*Words) {}
	switch {
	case k.High:
		f := plans.HighFact(it, on.iso, on.open)
		n := l.Let(f)
		name = func(w *Words) {
			if f.Field == "items/ID/ports/PORT/usb/transfer" {
				w.Facts[n-1].Name = w.T("what one 480 Mb/s bus carries, by %s", w.Facts[n-1].Name)
			} else {
				w.Facts[n-1].Name = lang.Text("what one 480 Mb/s bus carries")
			}
		}
		cap := limit.Times(1, n)
		if onHost && !on.one && it.Gear.USB2 != "shared" && it.Gear.USB2 != "apart" {
			cap = cap.With(l.Let(apartFact(it, streams)))
		}
		l.Caps = p.CapAt(cap)
	case onHost:
		f := plans.UplinkFact(it, k.Controller)
		l.Caps = p.CapAt(limit.Times(1, l.Let(f)))
	default:
		up := plans.Upstream(it)
		l.Caps = append(p.Mem.Terms.Room(8), limit.Times(1, l.Let(p.SpeedFact(it, up))))
		if (on.iso || on.open != nil) && up.USB != nil && up.USB.Speed == usb.Gen1 {
			sure, possible := usb.BusMBps(usb.Gen1, on.iso, on.open != nil)
			f := limit.Fact{Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
			if sure < possible && on.open != nil {
				f = plans.TransferFact(on.open, sure, possible)
			}
			n := l.Let(f)
			l.Caps = append(l.Caps, limit.Times(1, n))
			name = func(w *Words) {
				if f.IsZero() {
					w.Facts[n-1].Name = lang.Text("what reserving streams may take of 5 Gb/s")
				}
			}
		}
		for _, f := range above(k.Item, streams) {
			l.Caps = append(l.Caps, limit.Times(1, l.Let(f)))
		}
	}
	return name
}

// apartFact is whether the 480 Mb/s sides of a computer's sockets share one bus: planned as shared, possibly each its
// own.
func apartFact(it *rig.Item, streams []onBus) limit.Fact {
	n := 0
	for i := range streams {
		if !slices.ContainsFunc(streams[:i], func(o onBus) bool { return o.socket == streams[i].socket }) {
			n++
		}
	}
	return limit.Choice(limit.At("items/ID/usb2", it.ID), "", "unknown", &[]limit.Option{{Word: "shared", Number: 1},
		{Word: "apart", Number: float64(n)}})
}

var WayUp = rule(Rule{
	Name:    "way-up",
	Asks:    "Does the way up of a dock carry everything behind it?",
	Sum:     "Σ MB/s ≤ the lowest of its socket, the lead and the computer's socket; 2750 MB/s in a tunnel",
	Sense:   limit.AtMost,
	Unit:    "MB/s",
	Over:    limit.Drops,
	Subject: TheBus,
	Source:  practice("A dock's way up is a link like any other; a tunnel carries 22 Gb/s"),
	Example: "Four streams of 124 MB/s over a USB 2 lead (53 MB/s): snapped, whatever the dock's ports are.",
})

// judgeWayUp judges the way up of a dock with a controller of its own, which is a link like any other: the lowest of
// its socket, the lead and the computer's socket; a tunnel where all three make one.
func judgeWayUp(p *Pass, item int, streams []onBus) {
	it := &p.Items[item]
	l := Result{Stage: plans.Port, Shared: true}
	for _, s := range streams {
		loadOn(&l, s.Stream, s.Facts, s.Load, nil)
	}
	s := streams[0].Stream
	at := s.Shares[slices.IndexFunc(s.Shares, func(a plans.ShareAt) bool { return a.Item == item })]
	tunnel, may, _ := s.Tunnelled(at)
	if tunnel {
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Known(usb.TunnelMBps, "MB/s", fact.Practice))))
	} else {
		for i := max(at.Above-1, 0); i < len(s.Speeds); i++ {
			f := s.Speeds[i]
			if may { // what is open may turn out a tunnel, which carries more than USB
				f = plans.Revalued(f, func(o *limit.Option) float64 {
					if o.Word == string(usb.Tunnel) {
						return usb.TunnelMBps
					}
					return o.Number
				})
				f.High = usb.TunnelMBps
			}
			l.Caps = append(l.Caps, limit.Times(1, l.Let(f)))
		}
	}
	l.Say = func(w *Words) {
		for i, s := range streams {
			w.Loads[i].Sum = s.Sum()
		}
		w.What, w.Sum = w.T("Way up of %s", it.Label),
			lang.Text("the slowest of its socket, the lead and the computer's socket")
		if tunnel {
			w.Facts[len(w.Facts)-1].Name, w.Sum = lang.Text("what a 40 Gb/s tunnel carries"),
				lang.Text("22 Gb/s of PCI Express in a 40 Gb/s tunnel")
		}
		w.Says = say.Sentence(w.T("%s %s: %s of %s.", say.Count(len(streams), "stream goes up", "streams go up"),
			it.Label, w.LoadText(), w.LimitText()))
	}
	kept := p.Add(nil, WayUp, it.ID, &l)
	for _, s := range streams {
		p.OnCrossings(kept, it, s.Stream)
	}
}

// above are the speeds between a hub and the computer, which bound what the hub can pass on.
func above(item int, streams []onBus) []limit.Fact {
	s := streams[0]
	for _, at := range s.Shares {
		if at.Item == item {
			return s.Speeds[at.Above:]
		}
	}
	return nil
}
