package plans

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/usb"
)

// SpeedFact is a port's speed as the MB/s it stands for.
func (p *Plan) SpeedFact(it *rig.Item, port *gear.Port) limit.Fact {
	k := limit.Part("items/ID/ports/PORT/usb/speed", it.ID, port.ID)
	if port.USB == nil || port.USB.Speed == usb.UnknownSpeed {
		f := limit.Choice(k, "MB/s", string(usb.UnknownSpeed), &SpeedOptions)
		f.Value = SpeedOptions[1].Number // as likely 5 Gb/s [practice]
		return f
	}
	return knownSpeed(k, port.USB.Speed)
}

// knownSpeed is a known speed as the MB/s its bulk streams may take.
func knownSpeed(k limit.Key, speed usb.Speed) limit.Fact {
	mb, _ := usb.BusMBps(speed, false, false)
	return limit.Fact{Key: k, Unit: "MB/s", Low: mb, Value: mb, High: mb, From: fact.Given, Word: string(speed)}
}

// SpeedOptions are what a socket or lead nobody has looked up may be; 40 Gb/s counts as its USB path.
var SpeedOptions = func() (out []limit.Option) {
	for _, s := range speedSteps40 {
		mb, _ := usb.BusMBps(s, false, false)
		out = append(out, limit.Option{Word: string(s), Label: rig.SpeedName(s), Number: mb})
	}
	return out
}()

var speedSteps40 = []usb.Speed{usb.HighSpeed, usb.Gen1, usb.Gen2, usb.Gen2x2, usb.Tunnel}

// LeadGrades are the grades that stand for speedOptions, in the same order.
var LeadGrades = []usb.Grade{usb.USB2Lead, usb.Lead5G, usb.Lead10G, usb.Lead20G, usb.Lead40G}

// leadOptions are what an unmarked USB lead may be: the word of the speed it comes to, and the grade that says so.
func leadOptions(id string) func() []limit.Option {
	return func() []limit.Option {
		out := slices.Clone(SpeedOptions)
		for i := range out {
			out[i].Do = []rig.Edit{{Do: "word", Path: "leads/" + id + "/grade", Word: string(LeadGrades[i])}}
		}
		return out
	}
}

// USBGradeFact is what a USB lead is made for, as the MB/s it stands for; ok is false for a lead without data wires.
func USBGradeFact(l *rig.Lead) (f limit.Fact, ok bool) {
	grade := usb.Grade(l.Grade)
	k := limit.At("leads/ID/grade", l.ID)
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
	f = limit.Choice(k, "MB/s", l.Grade, &SpeedOptions)
	f.Options, f.Open = nil, leadOptions(l.ID)
	return f, true
}

// Tunnels tells whether a socket may make a 40 Gb/s tunnel.
func Tunnels(port *gear.Port) bool { return port.USB != nil && port.USB.Speed == usb.Tunnel }

// OpenPort tells whether nobody has said how fast a socket is.
func OpenPort(port *gear.Port) bool { return port.USB == nil || port.USB.Speed == usb.UnknownSpeed }

// DockLead tells whether a lead is the way up of a dock.
func (p *Plan) DockLead(lead int) bool {
	fi, fp, ti, tp := p.Wiring.LeadEnds(lead)
	up := func(item, port int) bool {
		return p.Items[item].Gear.Kind == gear.Dock && p.Items[item].Gear.Ports[port].Direction == gear.Upstream
	}
	return up(fi, fp) || up(ti, tp)
}

// Enter notes the socket a stream's plug is in and what it shares from there on; up is the port of the way on, -1 in
// the computer. It reports whether the stream has arrived.
func (s *Stream) Enter(p *Plan, item int, in *gear.Port, up int) bool {
	it := &p.Items[item]
	s.Speeds = append(s.Speeds, p.SpeedFact(it, in))
	if it.IsHost() {
		s.Shares = append(s.Shares, ShareAt{item, in.Controller, in.ID, len(s.Speeds)})
		s.Host = it
		return true
	}
	owned := ""
	if it.Gear.Kind == gear.Dock && OwnsController(it, in.Controller) {
		owned = in.Controller
	}
	if up >= 0 {
		s.Speeds = append(s.Speeds, p.SpeedFact(it, &it.Gear.Ports[up]))
	}
	s.Shares = append(s.Shares, ShareAt{item, owned, in.ID, len(s.Speeds)})
	return false
}

// OwnsController tells whether a dock brings a controller of its own for a port: over a 40 Gb/s way up its ports share
// its tunnel, not the controllers of the computer.
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

// Through notes a part the connection goes through, until the stream has reached the computer.
func (s *Stream) Through(part limit.Fact) {
	if s.Host == nil {
		s.Speeds = append(s.Speeds, part)
	}
}

var highSpeedMBps, _ = usb.BusMBps(usb.HighSpeed, false, false)

// High tells whether a stream ends up on the high-speed side of the bus: surely, or possibly.
func (s *Stream) High() (surely, possibly bool) {
	for i := range s.Speeds {
		surely = surely || s.Speeds[i].High <= highSpeedMBps
		possibly = possibly || s.Speeds[i].Low <= highSpeedMBps
	}
	return surely, possibly
}

// Revalued is a choice whose words stand for other numbers.
func Revalued(f limit.Fact, number func(o *limit.Option) float64) limit.Fact {
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

// Side is whether a stream whose speed is open runs on one side of the bus, as a factor of its load: 1 there, 0 on the
// other.
func (s *Stream) Side(high bool) limit.Fact {
	at := slices.IndexFunc(s.Speeds, func(f limit.Fact) bool { return f.Low <= highSpeedMBps })
	f := Revalued(s.Speeds[at], func(o *limit.Option) float64 {
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

// IsTunnel tells whether an option of a speed or grade stands for a tunnel.
func IsTunnel(o *limit.Option) bool {
	return o.Word == string(usb.Tunnel) || o.Word == string(usb.Lead40G)
}

// Tunnelled tells whether the way up of a dock with a controller of its own is a 40 Gb/s tunnel: surely, or possibly.
// open is the part that would tell.
func (s *Stream) Tunnelled(at ShareAt) (surely, possibly bool, open *limit.Fact) {
	surely, possibly = true, true
	for i := max(at.Above-1, 0); i < len(s.Speeds); i++ { // its own way up, and what is above
		f := &s.Speeds[i]
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

// SpeedOf is the speed a figure of knownSpeed stands for.
func SpeedOf(mbps float64) usb.Speed {
	at := usb.HighSpeed
	for i, s := range speedSteps {
		if speedMBps[i] <= mbps {
			at = s
		}
	}
	return at
}

// TransferFact is how a device's stream uses the bus: what it carries either way.
func TransferFact(s *Stream, iso, bulk float64) limit.Fact {
	return limit.Fact{Key: limit.Part("items/ID/ports/PORT/usb/transfer", s.Owner.ID, s.Port), Unit: "MB/s",
		Word: string(usb.UnknownTransfer), From: fact.Estimate,
		Low: min(iso, bulk), Value: iso, High: max(iso, bulk), Open: func() []limit.Option {
			return []limit.Option{{Word: string(usb.Isochronous), Number: iso}, {Word: string(usb.Bulk), Number: bulk}}
		}}
}

// BusKey is one bus: a hub's way up ("" for its controller), or a controller of a computer or dock, on one of its
// sides.
type BusKey struct {
	Item       int
	Controller string
	High       bool
}

// HighFact is what one 480 Mb/s bus carries: bulk as it is; with reserving streams four packets of 1024 bytes a
// microframe surely and a fifth possibly.
func HighFact(it *rig.Item, iso bool, open *Stream) limit.Fact {
	sure, possible := usb.BusMBps(usb.HighSpeed, iso, open != nil)
	measured := float64(it.Gear.USB2Packets*usb.IsoTransaction*usb.MicroframesPerSecond) / say.Mega // 0 when nobody has
	if !iso && open != nil {
		return TransferFact(open, max(sure, measured), possible)
	}
	f := limit.Fact{Unit: "MB/s", Low: sure, Value: sure, High: possible, From: fact.Standard}
	if iso && measured > 0 {
		f.Low, f.Value, f.High, f.From = measured, measured, measured, fact.Measured
		return f
	}
	if iso {
		f.Key = limit.At("items/ID/usb2Packets", it.ID)
		f.Open = func() []limit.Option {
			return []limit.Option{{Word: "5", Number: possible}, {Word: "4", Number: sure}}
		}
	}
	return f
}

// UplinkFact is what all ports of a controller share; those of sockets nobody has named a controller for, together.
func UplinkFact(host *rig.Item, id string) limit.Fact {
	for i := range host.Gear.Controllers {
		if c := &host.Gear.Controllers[i]; c.ID == id {
			return limit.Stated(limit.Part("items/ID/controllers/CONTROLLER/uplinkMBps", host.ID, id), "MB/s",
				c.UplinkMBps, gear.DefaultUplink)
		}
	}
	return limit.Stated(limit.At("items/ID/uplinkMBps", host.ID), "MB/s", host.Gear.UplinkMBps, gear.DefaultUplink)
}

// Reservation replaces a stream's average by what it takes out of a 480 Mb/s bus when it reserves: what its listing
// says of this picture or of its alternate settings, else at least its packets and at most the largest setting.
func (p *Plan) Reservation(s *Stream) ([]limit.Fact, limit.Term, func() string) {
	need := s.Load.Bounds(s.Facts)
	low, high := usb.ReservationMBps(need.Low)
	f := limit.Fact{Key: limit.Part("items/ID/ports/PORT/usb/reservesMBps", s.Owner.ID, s.Port), Unit: "MB/s",
		Low: low, Value: high, High: high, From: fact.Estimate}
	if r := s.ReservesMBps; r != nil {
		f.Low, f.Value, f.High, f.From = r.Low, r.Value, r.High, r.From
	}
	if s.MayReserve { // a device that shares takes its average, whatever that is
		f.Low, f.High = min(f.Low, need.Low), max(f.High, need.High)
		t := TransferFact(s, f.High, need.High)
		f.Key, f.Open = t.Key, t.Open
	}
	return p.FactList(f), limit.Times(1, 1), func() string {
		return lang.Text("reserves %s to %s MB/s: its packets, up to the largest setting", say.Number(f.Low),
			say.Number(f.High))
	}
}

// SlotName is a slot as people say it.
func SlotName(s *gear.Slot) string {
	words := lang.Text("generation %s, %s lanes", say.Number(float64(s.Generation)), say.Number(float64(s.Lanes)))
	if s.Lanes == 1 {
		words = lang.Text("generation %s, one lane", say.Number(float64(s.Generation)))
	}
	if s.Size > s.Lanes {
		words += lang.Text(" in a ×%s socket", say.Number(float64(s.Size)))
	}
	return words
}
