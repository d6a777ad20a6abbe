package rules

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/usb"
)

// speedFact is a port's speed as the MB/s it stands for.
func (p *Plan) speedFact(it *rig.Item, port *gear.Port) limit.Fact {
	k := part("items/ID/ports/PORT/usb/speed", it.ID, port.ID)
	if port.USB == nil || port.USB.Speed == usb.UnknownSpeed {
		f := limit.Choice(k, "MB/s", string(usb.UnknownSpeed), &speedOptions)
		f.Value = speedOptions[1].Number // as likely 5 Gb/s [practice]
		return f
	}
	return knownSpeed(k, port.USB.Speed)
}

// knownSpeed is a known speed as the MB/s its bulk streams may take.
func knownSpeed(k limit.Key, speed usb.Speed) limit.Fact {
	mb, _ := usb.BusMBps(speed, false, false)
	return limit.Fact{Key: k, Unit: "MB/s", Low: mb, Value: mb, High: mb, From: fact.Given, Word: string(speed)}
}

// speedOptions are what a socket or lead nobody has looked up may be; 40 Gb/s counts as its USB path.
var speedOptions = func() (out []limit.Option) {
	for _, s := range speedSteps40 {
		mb, _ := usb.BusMBps(s, false, false)
		out = append(out, limit.Option{Word: string(s), Label: rig.SpeedName(s), Number: mb})
	}
	return out
}()

var speedSteps40 = []usb.Speed{usb.HighSpeed, usb.Gen1, usb.Gen2, usb.Gen2x2, usb.Tunnel}

// leadGrades are the grades that stand for speedOptions, in the same order.
var leadGrades = []usb.Grade{usb.USB2Lead, usb.Lead5G, usb.Lead10G, usb.Lead20G, usb.Lead40G}

// leadOptions are what an unmarked USB lead may be: the word of the speed it comes to, and the grade that says so.
func leadOptions(id string) func() []limit.Option {
	return func() []limit.Option {
		out := slices.Clone(speedOptions)
		for i := range out {
			out[i].Do = []rig.Edit{{Do: "word", Path: "leads/" + id + "/grade", Word: string(leadGrades[i])}}
		}
		return out
	}
}

// usbGradeFact is what a USB lead is made for, as the MB/s it stands for; ok is false for a lead without data wires.
func usbGradeFact(l *rig.Lead) (f limit.Fact, ok bool) {
	grade := usb.Grade(l.Grade)
	k := key("leads/ID/grade", l.ID)
	sure, _, err := usb.GradeSpeed(grade)
	switch {
	case grade == usb.ChargeOnly || err != nil:
		return f, false
	case grade == usb.Lead40G:
		f = knownSpeed(k, usb.Gen2x2) // and 20 Gb/s for what has no tunnel: a lead for 40 carries it
		f.Word = string(usb.Tunnel)
		return f, true
	case grade != usb.UnknownGrade:
		return knownSpeed(k, sure), true
	}
	f = limit.Choice(k, "MB/s", l.Grade, &speedOptions)
	f.Options, f.Open = nil, leadOptions(l.ID)
	return f, true
}

var CarriesData = rule(Rule{Name: "carries-data", Asks: "Has the lead, or the socket, data wires?", Sense: limit.Fits, Over: limit.Dark, Subject: Failing,
	Board:   Short{"data wires in it?", "charge only, no data"},
	Source:  practice("Charge-only cable"),
	Example: "A lead from a charger, marked for charging only, between a stick and the computer: the device is not found.",
	Judge:   Judging{AtUSBLead: judgeUSBLead}})

// carriesData judges whether a USB lead has data wires. It reports whether it may have.
func (p *Pass) carriesData(own *Rule, hop func() *Hop, where []string, l *rig.Lead) bool {
	r := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Port, Where: where}
	text := lang.Text("It is marked as a data lead.")
	grade := usb.Grade(l.Grade)
	switch {
	case grade == usb.ChargeOnly:
		r.Outcomes, text = limit.No, lang.Text("A charge-only lead has no data wires: the device is not found.")
	case l.LengthM.High == 0:
		return true // a plug that goes straight in has its wires
	case grade == usb.UnknownGrade:
		r.Outcomes, text = limit.Maybe, ""
		r.Facts = p.facts(limit.Fact{Key: key("leads/ID/grade", l.ID), Word: "unknown", From: fact.Estimate, Open: func() []limit.Option {
			out := []limit.Option{{Word: string(usb.ChargeOnly), Label: lang.Text("Made for charging only"), State: limit.Snapped}}
			for i, g := range leadGrades {
				out = append(out, limit.Option{Word: string(g), Label: speedOptions[i].Label, State: limit.Slack})
			}
			return out
		}})
	}
	r.Say = func(w *Words) {
		if w.What, w.Says = w.T("The lead %s carries data", w.LeadTitle(l)), text; text == "" {
			w.Says = w.T("Nobody has looked whether the lead %s has data wires: one from a charger may have none.", w.LeadTitle(l))
		}
	}
	p.add(hop(), own, l.ID, &r)
	return grade != usb.ChargeOnly
}

// judgeUSBLead passes a USB lead: does it carry data, and is it short enough for its speed? Its grade joins the parts that
// limit the connection's speed.
func judgeUSBLead(p *Pass, own *Rule, w *Walk) {
	l, from, to, s := w.Lead, w.From, w.To, w.Bytes
	var made *Hop
	hop := func() *Hop { // a plug that goes straight in is no stretch of its own
		if made == nil {
			made = p.hop(w, Hop{Stage: Port, Kind: "lead", Ref: l.ID, Lead: l})
		}
		return made
	}
	if !p.carriesData(own, hop, w.deps(), l) {
		return
	}
	if f, ok := usbGradeFact(l); ok {
		s.pass(f)
	}
	if l.LengthM.High > 0 {
		p.usbReach(hop(), w.deps(), l, s, p.dockLead(w.LeadAt), from, to)
	}
	if l.SpanM != nil || l.LengthM.High > 0 {
		p.run(Run, hop(), w.deps(), l)
	}
}

// usbReach judges the length of a USB lead at the speed it has to carry: that of its two sockets, its grade, and the
// device behind it; 40 Gb/s where both ends of a dock's lead make a tunnel of it.
func (p *Pass) usbReach(hop *Hop, where []string, l *rig.Lead, s *Stream, dock bool, from, to *gear.Port) {
	device := s.device
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
	for i := range s.speeds { // what is slower, or may be, on the way to here
		fastest, slowest = usb.Slower(fastest, speedOf(s.speeds[i].High)), usb.Slower(slowest, speedOf(s.speeds[i].Low))
	}
	for _, port := range [2]*gear.Port{from, to} {
		switch {
		case openPort(port):
			slowest = usb.HighSpeed
		case tunnels(port): // with something slower at the other end it is a 10 Gb/s socket
			fastest, slowest = usb.Slower(fastest, usb.Gen2), usb.Slower(slowest, usb.Gen2)
		default:
			fastest, slowest = usb.Slower(fastest, port.USB.Speed), usb.Slower(slowest, port.USB.Speed)
		}
	}
	unmarked, forty := usb.Grade(l.Grade) == usb.UnknownGrade, usb.Grade(l.Grade) == usb.Lead40G
	if unmarked {
		slowest = usb.HighSpeed
	}
	if (tunnels(from) || openPort(from)) && (tunnels(to) || openPort(to)) && (dock || tunnels(from)) && (forty || unmarked) {
		if fastest = usb.Tunnel; forty && tunnels(from) && tunnels(to) {
			slowest = usb.Tunnel
		}
	}
	sure, _ := usb.Reach(fastest, typeC)
	_, possible := usb.Reach(slowest, typeC)
	what := func(w *Words) { w.What = w.T("Reach of the lead %s", w.LeadTitle(l)) }
	source := practice("USB lead lengths; USB 2 from the 26 ns of USB 2.0, 7.1.16")
	if t := l.Tried; t != nil { // a trial of a USB lead is of the lead as it is used
		r := Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Yes}, Stage: Port, Where: where}
		text := lang.Text("The lead %s was tried and held.")
		if !t.Holds {
			r.Outcomes, text = limit.No, lang.Text("The lead %s was tried and did not hold.")
		}
		r.Say = func(w *Words) { what(w); w.Source, w.Says = source, w.T(text, w.LeadTitle(l)) }
		p.add(hop, Reach, l.ID, &r)
		return
	}
	reach := limit.Fact{Unit: "m", Low: sure, Value: sure, High: max(possible, sure), From: fact.Practice}
	mhz := speedMHz[fastest]
	if !reach.Narrow() {
		reach.Key, reach.Open = key("leads/ID/tried", l.ID), triedOptions(l, mhz, reach.Low, reach.High, false)
	}
	r := Result{Limit: limit.Limit{Facts: p.facts(length(l), reach), Loads: p.load(l.ID, limit.Times(1, 1)), Caps: secondFact}, Stage: Port, Where: where}
	r.Say = func(w *Words) {
		what(w)
		w.Source, w.Loads[0].Sum, w.Sum = source, lang.Text("its length"), w.T("passive lead at %s", rig.SpeedName(fastest))
		w.Facts[1].Name = w.T("reach of passive USB leads at %s", rig.SpeedName(fastest))
		if f := &w.Result.Facts[1]; !f.IsZero() {
			w.Facts[1].Ask = w.askOf(f, w.T("Does the USB lead %s (%s) hold?", w.LeadTitle(l), w.leadName(l)), lang.Text("Run the picture for a quarter of an hour and look whether the device drops out or comes back slower."), 15)
		}
		w.Says = w.T("The lead %s is %s long; a passive one carries %s for %s.", w.LeadTitle(l), w.load(), rig.SpeedName(fastest), w.limit())
	}
	p.add(hop, Reach, l.ID, &r)
}

// speedMHz is the frequency a trial of a USB lead stands for: half the bit rate of a lane.
var speedMHz = map[usb.Speed]float64{usb.HighSpeed: 240, usb.Gen1: 2500, usb.Gen1x2: 2500, usb.Gen2: 5000, usb.Gen2x2: 5000, usb.Tunnel: 10000}

// tunnels tells whether a socket may make a 40 Gb/s tunnel.
func tunnels(port *gear.Port) bool { return port.USB != nil && port.USB.Speed == usb.Tunnel }

// openPort tells whether nobody has said how fast a socket is.
func openPort(port *gear.Port) bool { return port.USB == nil || port.USB.Speed == usb.UnknownSpeed }

// dockLead tells whether a lead is the way up of a dock.
func (p *Plan) dockLead(lead int) bool {
	fi, fp, ti, tp := p.Wiring.LeadEnds(lead)
	up := func(item, port int) bool {
		return p.Items[item].Gear.Kind == gear.Dock && p.Items[item].Gear.Ports[port].Direction == gear.Upstream
	}
	return up(fi, fp) || up(ti, tp)
}

// judgePort takes a stream into a hub, a dock or the computer, where its connection is judged.
func judgePort(p *Pass, own *Rule, w *Walk) {
	it, in, ref, hop, s := w.Item, w.Port, w.Ref, w.Hop, w.Bytes
	if in.Direction != gear.Downstream {
		p.add(hop, WayRound, ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.deps(), Say: func(w *Words) {
			w.What, w.Source = lang.Text("Device meets computer"), practice("A device's plug goes into a downstream port")
			w.Says = w.T("%s of %s is %s: a device's plug belongs into a downstream port.", rig.PortName(in), it.Label, string(in.Direction))
		}})
		return
	}
	if in.ChargeOnly {
		p.add(hop, CarriesData, ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.deps(), Say: func(w *Words) {
			w.Source = practice("A charge-only port carries no data")
			w.What, w.Says = w.T("%s of %s carries data", rig.PortName(in), it.Label), w.T("%s of %s gives power and carries no data: the device is not found.", rig.PortName(in), it.Label)
		}})
		return
	}
	s.crosses = append(s.crosses, hopAt{it, w.Feed, len(w.Feed.Hops) - 1})
	if in.Connector == gear.PCIe {
		s.slot, s.slotPort, s.where = it, in, w.deps()
		return
	}
	if s.Host != nil {
		if it.IsHost() {
			p.Here(hop, ID{Rule: own, Place: s.ref})
		}
		return // another feed of the same switcher was here already
	}
	s.where = w.deps()
	if s.enter(&p.Plan, p.Wiring.At(it.ID), in, w.Out) {
		p.connection(own, hop, s)
	}
}

// enter notes the socket a stream's plug is in and what it shares from there on; up is the port of the way on, -1 in the
// computer. It reports whether the stream has arrived.
func (s *Stream) enter(p *Plan, item int, in *gear.Port, up int) bool {
	it := &p.Items[item]
	s.speeds = append(s.speeds, p.speedFact(it, in))
	if it.IsHost() {
		s.shares = append(s.shares, shareAt{item, in.Controller, in.ID, len(s.speeds)})
		s.Host = it
		return true
	}
	owned := ""
	if it.Gear.Kind == gear.Dock && OwnsController(it, in.Controller) {
		owned = in.Controller
	}
	if up >= 0 {
		s.speeds = append(s.speeds, p.speedFact(it, &it.Gear.Ports[up]))
	}
	s.shares = append(s.shares, shareAt{item, owned, in.ID, len(s.speeds)})
	return false
}

// OwnsController tells whether a dock brings a controller of its own for a port: over a 40 Gb/s way up its ports share
// its tunnel, not the controllers of the computer. Handbook 3.3.
func OwnsController(it *rig.Item, id string) bool {
	return id != "" && slices.ContainsFunc(it.Gear.Controllers, func(c gear.Controller) bool { return c.ID == id })
}

// SocketSpeed is how fast a socket is, in words.
func SocketSpeed(port *gear.Port) string {
	if port.Slot != nil {
		return SlotName(port.Slot)
	}
	if port.USB == nil {
		return rig.SpeedName(usb.UnknownSpeed)
	}
	return rig.SpeedName(port.USB.Speed)
}

// pass notes a part the connection goes through, until the stream has reached the computer.
func (s *Stream) pass(part limit.Fact) {
	if s.Host == nil {
		s.speeds = append(s.speeds, part)
	}
}

var highSpeedMBps, _ = usb.BusMBps(usb.HighSpeed, false, false)

// high tells whether a stream ends up on the high-speed side of the bus: surely, or possibly.
func (s *Stream) high() (surely, possibly bool) {
	for i := range s.speeds {
		surely = surely || s.speeds[i].High <= highSpeedMBps
		possibly = possibly || s.speeds[i].Low <= highSpeedMBps
	}
	return surely, possibly
}

// revalued is a choice whose words stand for other numbers.
func revalued(f limit.Fact, number func(o *limit.Option) float64) limit.Fact {
	of := limit.Fact{Options: f.Options, Open: f.Open}
	f.Options = nil
	f.Open = func() []limit.Option {
		o := slices.Clone(of.Choices())
		for i := range o {
			o[i].Number = number(&o[i])
		}
		return o
	}
	return f
}

// side is whether a stream whose speed is open runs on one side of the bus, as a factor of its load: 1 there, 0 on the
// other.
func (s *Stream) side(high bool) limit.Fact {
	at := slices.IndexFunc(s.speeds, func(f limit.Fact) bool { return f.Low <= highSpeedMBps })
	f := revalued(s.speeds[at], func(o *limit.Option) float64 {
		if (o.Number <= highSpeedMBps) == high {
			return 1
		}
		return 0
	})
	f.Unit, f.Low, f.Value, f.High = "", 0, 0, 1
	if !high {
		f.Value = 1
	}
	return f
}

// isTunnel tells whether an option of a speed or grade stands for a tunnel.
func isTunnel(o *limit.Option) bool {
	return o.Word == string(usb.Tunnel) || o.Word == string(usb.Lead40G)
}

// tunnelled tells whether the way up of a dock with a controller of its own is a 40 Gb/s tunnel: surely, or possibly.
// open is the part that would tell.
func (s *Stream) tunnelled(at shareAt) (surely, possibly bool, open *limit.Fact) {
	surely, possibly = true, true
	for i := max(at.above-1, 0); i < len(s.speeds); i++ { // its own way up, and what is above
		f := &s.speeds[i]
		switch {
		case f.Word == string(usb.Tunnel):
		case f.Options != nil || f.Open != nil || f.Low != f.High:
			surely = false
			if open == nil {
				open = f
			}
		default:
			surely, possibly = false, false
		}
	}
	return surely && possibly, possibly, open
}

var speedSteps = []usb.Speed{usb.HighSpeed, usb.Gen1, usb.Gen1x2, usb.Gen2, usb.Gen2x2}

var speedMBps = func() (out [5]float64) {
	for i, s := range speedSteps {
		out[i], _ = usb.BusMBps(s, false, false)
	}
	return out
}()

// speedOf is the speed a figure of knownSpeed stands for.
func speedOf(mbps float64) usb.Speed {
	at := usb.HighSpeed
	for i, s := range speedSteps {
		if speedMBps[i] <= mbps {
			at = s
		}
	}
	return at
}

var Link = rule(Rule{Name: "link", Asks: "Does the slowest part of a device's own USB connection carry its picture?", Sum: "bytes a frame × rate ≤ the slowest of device, leads, hubs and port", Sense: limit.AtMost, Unit: "MB/s", Over: limit.Drops, Subject: TheBus,
	Source:  standard("USB 2.0 chapter 5 and USB 3.2; bulk payload figures from memory"),
	Example: "1080p60 YUY2 is 248.8 MB/s; on a 5 Gb/s bulk link (470 MB/s) 53 %: slack. On 480 Mb/s it never fits.",
	Say:     sayLink,
	Judge:   Judging{AtUSBPort: judgePort, AfterWays: judgeOthers}})

// connection judges one stream against the slowest part of its own connection.
func (p *Pass) connection(own *Rule, hop *Hop, s *Stream) {
	l := Result{Stage: Port, Where: s.where}
	l.Facts = append(append(p.Mem.Facts.Room(len(s.facts)+len(s.speeds)+1), s.facts...), s.speeds...)
	l.Caps = p.Mem.Terms.Room(len(s.speeds) + 1)
	first := limit.Ref(len(s.facts) + 1)
	slowest, fastest, likely := 0, s.speeds[0].High, s.speeds[0].Value
	for i := range s.speeds {
		likely = min(likely, s.speeds[i].Value)
		l.Caps = append(l.Caps, limit.Times(1, first+limit.Ref(i)))
		if s.speeds[i].Low < s.speeds[slowest].Low {
			slowest = i
		}
		fastest = min(fastest, s.speeds[i].High)
	}
	// A reserving stream is bound to one endpoint: a share of what bulk streams get on the same connection.
	if s.iso || s.maybe {
		l.Caps = append(l.Caps, limit.Times(1, l.Let(p.endpointFact(s, &s.speeds[slowest], likely, fastest))))
	}
	l.Loads = p.load(s.Owner.ID, s.load)
	p.add(hop, own, s.ref, &l)
}

func sayLink(w *Words) {
	s := w.Streams[slices.IndexFunc(w.Streams, func(s *Stream) bool { return s.ref == w.Result.ID.Place })]
	at, slowest := len(s.facts), 0
	for i := range s.speeds {
		if s.speeds[i].Low < s.speeds[slowest].Low {
			slowest = i
		}
	}
	slow := w.Facts[at+slowest].Name
	w.What, w.Loads[0].Sum, w.Sum = w.T("USB connection of %s", s.Owner.Label), s.Sum(), w.T("slowest part: %s", slow)
	w.Says = w.T("%s sends %s; its connection carries %s (slowest part: %s).", s.Owner.Label, w.load(), w.limit(), slow)
	if s.iso {
		w.Facts[at+len(s.speeds)].Name = lang.Text("what one reserving endpoint carries")
	}
}

// endpointFact is what one reserving endpoint carries at the speeds the connection may turn out to have.
func (p *Pass) endpointFact(s *Stream, slowest *limit.Fact, likely, fastest float64) limit.Fact {
	value, _ := usb.EndpointMBps(speedOf(likely), usb.Isochronous)
	sure, _ := usb.EndpointMBps(speedOf(slowest.Low), usb.Isochronous)
	if s.iso {
		// With the largest headers at both ends: the few bytes they may be shorter are known to nobody and asked of nobody.
		at, _ := usb.EndpointMBps(speedOf(fastest), usb.Isochronous)
		f := limit.Fact{Unit: "MB/s", Low: sure, Value: min(max(value, sure), max(sure, at)), High: max(sure, at), From: fact.Standard}
		if slowest.Options != nil || slowest.Open != nil { // its speed is open
			o := revalued(*slowest, func(o *limit.Option) float64 {
				v, _ := usb.EndpointMBps(speedOf(o.Number), usb.Isochronous)
				return v
			})
			f.Key, f.Open = o.Key, o.Open
		}
		return f
	}
	_, possible := usb.EndpointMBps(speedOf(fastest), usb.Isochronous)
	bulk := max(possible, fastest)
	f := transferFact(s, min(sure, bulk), bulk)
	f.Value = min(max(value, f.Low), f.High)
	return f
}

// transferFact is how a device's stream uses the bus: what it carries either way.
func transferFact(s *Stream, iso, bulk float64) limit.Fact {
	return limit.Fact{Key: part("items/ID/ports/PORT/usb/transfer", s.Owner.ID, s.port), Unit: "MB/s", Word: string(usb.UnknownTransfer), From: fact.Estimate,
		Low: min(iso, bulk), Value: iso, High: max(iso, bulk), Open: func() []limit.Option {
			return []limit.Option{{Word: string(usb.Isochronous), Number: iso}, {Word: string(usb.Bulk), Number: bulk}}
		}}
}

// busKey is one bus: a hub's way up ("" for its controller), or a controller of a computer or dock, on one of its sides.
type busKey struct {
	item       int
	controller string
	high       bool
}

// onBus is a stream on a bus, with what its load there is multiplied by: nothing when it is surely there.
type onBus struct {
	*Stream
	socket  string // of the bus's item
	factors []limit.Fact
}

var Bus = rule(Rule{Name: "bus", Asks: "Does a shared bus carry everything on it?", Sum: "Σ MB/s of what is on it ≤ the controller's uplink, the hub's way up, or one 480 Mb/s bus", Sense: limit.AtMost, Unit: "MB/s", Over: limit.Drops, Subject: TheBus,
	Source:  standard("USB 2.0 chapter 5: what one bus carries, and who shares it"),
	Example: "Two sticks at 1080p60 YUY2, 497.7 MB/s, behind one hub on 5 Gb/s (470 MB/s): snapped. At NV12, 373.2: slack by a hair.",
	Judge:   Judging{OnRig: judgeBuses}})

// judgeBuses judges what streams share: every hub's way up and every controller, the fast pair and the 480 Mb/s pair apart.
// A stream whose speed is open stands on both sides, one of which it is on.
func judgeBuses(p *Pass, own *Rule, _ *Walk) {
	m := &p.scratch().buses
	m.empty()
	for _, s := range p.Streams {
		if s.Host == nil {
			continue
		}
		surely, possibly := s.high()
		var above []limit.Fact // factors from docks below
		for _, at := range s.shares {
			for _, high := range [2]bool{false, true} {
				if surely && !high || !possibly && high {
					continue
				}
				k := busKey{at.item, at.controller, high}
				if !p.ConcernsBus(k) {
					continue
				}
				on := onBus{Stream: s, socket: at.socket, factors: above}
				if possibly && !surely {
					on.factors = append(slices.Clip(above), s.side(high))
				}
				m.put(k, on)
			}
			if at.controller == "" || p.Items[at.item].IsHost() {
				continue
			}
			// A dock with a controller of its own: its way up, and past it only what is not tunnelled.
			if p.ConcernsWayUp(at.item) {
				m.putWay(busKey{item: at.item}, onBus{Stream: s, socket: at.socket})
			}
			tunnel, may, open := s.tunnelled(at)
			switch {
			case tunnel:
				above = append(slices.Clip(above), limit.Fact{From: fact.Standard, Word: p.Items[at.item].ID})
			case may:
				f := revalued(*open, func(o *limit.Option) float64 {
					if isTunnel(o) {
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
		if it := &p.Items[k.item]; !k.high || it.Gear.USB2 != "apart" || !it.IsHost() && k.controller == "" {
			p.bus(own, k, on)
			continue
		}
		for _, s := range on { // each socket has 480 Mb/s of its own: the worst of them counts
			mine := slices.DeleteFunc(slices.Clone(on), func(o onBus) bool { return o.socket != s.socket })
			if mine[0].Stream == s.Stream {
				p.bus(own, k, mine)
			}
		}
	}
	for i := range m.ways {
		p.wayUp(m.ways[i].key.item, m.ways[i].on)
	}
}

// scratch is the memory rules keep from one pass to the next.
type scratch struct {
	buses busRoom
	jobs  []job
}

func (p *Pass) scratch() *scratch {
	if p.Scratch == nil {
		p.Scratch = new(scratch)
	}
	return p.Scratch.(*scratch)
}

// busRoom is the memory of sorting streams by what they share.
type busRoom struct {
	buses, ways []streamsOn
	at          map[busKey]int
}

// streamsOn are the streams on one bus, or on a dock's way up.
type streamsOn struct {
	key busKey
	on  []onBus
}

func (m *busRoom) empty() {
	m.buses, m.ways = m.buses[:0], m.ways[:0]
	if m.at == nil {
		m.at = map[busKey]int{}
	}
	clear(m.at)
}

// put adds a stream to a bus; buses stand in the order they are first met.
func (m *busRoom) put(k busKey, on onBus) {
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
func (m *busRoom) putWay(k busKey, on onBus) {
	at := slices.IndexFunc(m.ways, func(s streamsOn) bool { return s.key == k })
	if at < 0 {
		at = len(m.ways)
		m.ways = one(m.ways, k)
	}
	m.ways[at].on = append(m.ways[at].on, on)
}

// one more, in the memory of one there was before.
func one(list []streamsOn, k busKey) []streamsOn {
	if n := len(list); n < cap(list) {
		list = list[:n+1]
		list[n].key, list[n].on = k, list[n].on[:0]
		return list
	}
	return append(list, streamsOn{key: k})
}

// loadOn adds a stream's load to a limit, times what it is multiplied by there.
func loadOn(l *Result, s *Stream, facts []limit.Fact, load limit.Term, factors []limit.Fact) {
	l.Where = merge(l.Where, s.where)
	load = load.After(len(l.Facts))
	l.Facts = append(l.Facts, facts...)
	for i := range factors {
		load = load.With(l.Let(factors[i]))
	}
	l.Loads = append(l.Loads, limit.Load{Item: s.Owner.ID, Term: load})
}

// tunnelNames words the factors that say that something is tunnelled.
func (w *Words) tunnelNames() {
	for i := range w.Result.Facts {
		if f := &w.Result.Facts[i]; f.IsZero() && f.Word != "" && w.Facts[i].Name == "" {
			w.Facts[i].Name = w.T("%s is tunnelled", w.labelOf(f.Word))
		}
	}
}

func (p *Pass) bus(own *Rule, k busKey, streams []onBus) {
	it := &p.Items[k.item]
	l := Result{Stage: Port, Shared: true}
	onHost := it.IsHost() || k.controller != ""
	side, place := lang.Text("5 Gb/s and faster"), it.ID+"."+k.controller+".fast"
	if k.high {
		side, place = lang.Text("480 Mb/s"), it.ID+"."+k.controller+".480"
	}
	l.Facts, l.Loads = p.Mem.Facts.Room(2*len(streams)+6), p.Mem.Loads.Room(len(streams))
	l.Where = p.Mem.IDs.Room(6 * len(streams))
	iso, open := false, (*Stream)(nil)
	one := true              // one socket only
	var sums []func() string // where they are not those of what is sent
	for i, s := range streams {
		iso = iso || s.iso
		if s.maybe && open == nil {
			open = s.Stream
		}
		one = one && s.socket == streams[0].socket
		facts, load := s.facts, s.load
		if k.high && (s.iso || s.maybe) && s.Width > 0 {
			if sums == nil {
				sums = make([]func() string, len(streams))
			}
			facts, load, sums[i] = p.reservation(s.Stream)
		}
		loadOn(&l, s.Stream, facts, load, s.factors)
	}
	first := len(l.Facts) // of what is the limit
	name := func(w *Words) {}
	switch {
	case k.high:
		f := highFact(it, iso, open)
		n := l.Let(f)
		name = func(w *Words) {
			if f.Field == "items/ID/ports/PORT/usb/transfer" {
				w.Facts[n-1].Name = w.T("what one 480 Mb/s bus carries, by %s", w.Facts[n-1].Name)
			} else {
				w.Facts[n-1].Name = lang.Text("what one 480 Mb/s bus carries")
			}
		}
		cap := limit.Times(1, n)
		if onHost && !one && it.Gear.USB2 != "shared" && it.Gear.USB2 != "apart" {
			cap = cap.With(l.Let(apartFact(it, streams)))
		}
		l.Caps = p.cap(cap)
	case onHost:
		f := uplinkFact(it, k.controller)
		l.Caps = p.cap(limit.Times(1, l.Let(f)))
	default:
		up := Upstream(it)
		l.Caps = append(p.Mem.Terms.Room(8), limit.Times(1, l.Let(p.speedFact(it, up))))
		if (iso || open != nil) && up.USB != nil && up.USB.Speed == usb.Gen1 {
			sure, possible := usb.BusMBps(usb.Gen1, iso, open != nil)
			f := limit.Fact{Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
			if sure < possible && open != nil {
				f = transferFact(open, sure, possible)
			}
			n := l.Let(f)
			l.Caps = append(l.Caps, limit.Times(1, n))
			name = func(w *Words) {
				if f.IsZero() {
					w.Facts[n-1].Name = lang.Text("what reserving streams may take of 5 Gb/s")
				}
			}
		}
		for _, f := range above(k.item, streams) {
			l.Caps = append(l.Caps, limit.Times(1, l.Let(f)))
		}
	}
	l.Say = func(w *Words) {
		for i := range streams {
			if w.Loads[i].Sum = streams[i].Sum(); sums != nil && sums[i] != nil {
				w.Loads[i].Sum = sums[i]()
			}
		}
		w.tunnelNames()
		name(w)
		w.What = w.T("%s, the %s side", it.Label, side)
		if onHost {
			w.What = w.T("%s, all ports of %s, the %s side", it.Label, orElse(k.controller, "the computer"), side)
		}
		f := &w.Result.Facts[first]
		w.Sum = w.Facts[first].Name
		if !k.high && f.Word != "" {
			w.Sum += ": " + rig.SpeedName(usb.Speed(f.Word))
		}
		for i := range w.Result.Facts {
			if f := &w.Result.Facts[i]; f.Field == "items/ID/ports/PORT/usb/reservesMBps" || f.Field == "items/ID/ports/PORT/usb/transfer" && i < first {
				w.Facts[i].Name = w.T("reservation of %s", w.labelOf(f.Of))
			}
		}
		w.Says = w.T("%s carries %s: %s of %s.", w.What, Count(len(streams), "stream", "streams"), w.load(), w.limit())
	}
	kept := p.add(nil, own, place, &l)
	for _, s := range streams {
		p.OnCrossings(kept, it, s.Stream)
	}
}

// highFact is what one 480 Mb/s bus carries: bulk as it is; with reserving streams four packets of 1024 bytes a
// microframe surely and a fifth possibly (handbook 3.2).
func highFact(it *rig.Item, iso bool, open *Stream) limit.Fact {
	sure, possible := usb.BusMBps(usb.HighSpeed, iso, open != nil)
	measured := float64(it.Gear.USB2Packets*usb.IsoTransaction*usb.MicroframesPerSecond) / mega // 0 when nobody has
	if !iso && open != nil {
		return transferFact(open, max(sure, measured), possible)
	}
	f := limit.Fact{Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
	if iso && measured > 0 {
		f.Low, f.Value, f.High, f.From = measured, measured, measured, fact.Measured
		return f
	}
	if iso {
		f.Key = key("items/ID/usb2Packets", it.ID)
		f.Open = func() []limit.Option {
			return []limit.Option{{Word: "5", Number: possible}, {Word: "4", Number: sure}}
		}
	}
	return f
}

// apartFact is whether the 480 Mb/s sides of a computer's sockets share one bus: planned as shared, possibly each its own.
func apartFact(it *rig.Item, streams []onBus) limit.Fact {
	n := 0
	for i := range streams {
		if !slices.ContainsFunc(streams[:i], func(o onBus) bool { return o.socket == streams[i].socket }) {
			n++
		}
	}
	return limit.Choice(key("items/ID/usb2", it.ID), "", "unknown", &[]limit.Option{{Word: "shared", Number: 1}, {Word: "apart", Number: float64(n)}})
}

var WayUp = rule(Rule{Name: "way-up", Asks: "Does the way up of a dock carry everything behind it?", Sum: "Σ MB/s ≤ the lowest of its socket, the lead and the computer's socket; 2750 MB/s in a tunnel", Sense: limit.AtMost, Unit: "MB/s", Over: limit.Drops, Subject: TheBus,
	Source:  practice("A dock's way up is a link like any other; a tunnel carries 22 Gb/s"),
	Example: "Four streams of 124 MB/s over a USB 2 lead (53 MB/s): snapped, whatever the dock's ports are."})

// wayUp judges the way up of a dock with a controller of its own, which is a link like any other: the lowest of its
// socket, the lead and the computer's socket; a tunnel where all three make one.
func (p *Pass) wayUp(item int, streams []onBus) {
	it := &p.Items[item]
	l := Result{Stage: Port, Shared: true}
	for _, s := range streams {
		loadOn(&l, s.Stream, s.facts, s.load, nil)
	}
	s := streams[0].Stream
	at := s.shares[slices.IndexFunc(s.shares, func(a shareAt) bool { return a.item == item })]
	tunnel, may, _ := s.tunnelled(at)
	if tunnel {
		l.Caps = p.cap(limit.Times(1, l.Let(limit.Known(usb.TunnelMBps, "MB/s", fact.Practice))))
	} else {
		for i := max(at.above-1, 0); i < len(s.speeds); i++ {
			f := s.speeds[i]
			if may { // what is open may turn out a tunnel, which carries more than USB
				f = revalued(f, func(o *limit.Option) float64 {
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
		w.What, w.Sum = w.T("Way up of %s", it.Label), lang.Text("the slowest of its socket, the lead and the computer's socket")
		if tunnel {
			w.Facts[len(w.Facts)-1].Name, w.Sum = lang.Text("what a 40 Gb/s tunnel carries"), lang.Text("22 Gb/s of PCI Express in a 40 Gb/s tunnel")
		}
		w.Says = Sentence(w.T("%s %s: %s of %s.", Count(len(streams), "stream goes up", "streams go up"), it.Label, w.load(), w.limit()))
	}
	kept := p.add(nil, WayUp, it.ID, &l)
	for _, s := range streams {
		p.OnCrossings(kept, it, s.Stream)
	}
}

// above are the speeds between a hub and the computer, which bound what the hub can pass on.
func above(item int, streams []onBus) []limit.Fact {
	s := streams[0]
	for _, at := range s.shares {
		if at.item == item {
			return s.speeds[at.above:]
		}
	}
	return nil
}

// uplinkFact is what all ports of a controller share; those of sockets nobody has named a controller for, together.
func uplinkFact(host *rig.Item, id string) limit.Fact {
	for i := range host.Gear.Controllers {
		if c := &host.Gear.Controllers[i]; c.ID == id {
			return stated(part("items/ID/controllers/CONTROLLER/uplinkMBps", host.ID, id), "MB/s", c.UplinkMBps, gear.DefaultUplink)
		}
	}
	return stated(key("items/ID/uplinkMBps", host.ID), "MB/s", host.Gear.UplinkMBps, gear.DefaultUplink)
}

// reservation replaces a stream's average by what it takes out of a 480 Mb/s bus when it reserves: what its listing says
// of this picture or of its alternate settings, else at least its packets and at most the largest setting.
func (p *Plan) reservation(s *Stream) ([]limit.Fact, limit.Term, func() string) {
	need := s.load.Bounds(s.facts)
	low, high := usb.ReservationMBps(need.Low)
	f := limit.Fact{Key: part("items/ID/ports/PORT/usb/reservesMBps", s.Owner.ID, s.port), Unit: "MB/s", Low: low, Value: high, High: high, From: fact.Estimate}
	if r := s.reserves; r != nil {
		f.Low, f.Value, f.High, f.From = r.Low, r.Value, r.High, r.From
	}
	if s.maybe { // a device that shares takes its average, whatever that is
		f.Low, f.High = min(f.Low, need.Low), max(f.High, need.High)
		t := transferFact(s, f.High, need.High)
		f.Key, f.Open = t.Key, t.Open
	}
	return p.facts(f), limit.Times(1, 1), func() string {
		return lang.Text("reserves %s to %s MB/s: its packets, up to the largest setting", Number(f.Low), Number(f.High))
	}
}
