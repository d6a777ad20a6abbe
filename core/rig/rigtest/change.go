package rigtest

import (
	"fmt"
	"reflect"
	"slices"
	"sync"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// Clone copies a value with everything it points to.
func Clone[T any](v T) T {
	out := reflect.New(reflect.TypeFor[T]()).Elem()
	copyInto(out, reflect.ValueOf(v))
	return out.Interface().(T)
}

func copyInto(to, from reflect.Value) {
	switch from.Kind() {
	case reflect.Pointer:
		if !from.IsNil() {
			p := reflect.New(from.Type().Elem())
			copyInto(p.Elem(), from.Elem())
			to.Set(p)
		}
	case reflect.Slice:
		if !from.IsNil() {
			s := reflect.MakeSlice(from.Type(), from.Len(), from.Len())
			if flat(from.Type().Elem()) {
				reflect.Copy(s, from)
				to.Set(s)
				return
			}
			for i := range from.Len() {
				copyInto(s.Index(i), from.Index(i))
			}
			to.Set(s)
		}
	case reflect.Map:
		if !from.IsNil() {
			m := reflect.MakeMapWithSize(from.Type(), from.Len())
			for _, k := range from.MapKeys() {
				v := reflect.New(from.Type().Elem()).Elem()
				copyInto(v, from.MapIndex(k))
				m.SetMapIndex(k, v)
			}
			to.Set(m)
		}
	case reflect.Struct:
		to.Set(from)
		if flat(from.Type()) {
			return
		}
		for i := range from.NumField() {
			if to.Field(i).CanSet() && deep(from.Field(i).Kind()) {
				copyInto(to.Field(i), from.Field(i))
			}
		}
	default:
		to.Set(from)
	}
}

// flats remembers which types are copied by copying them.
var flats sync.Map

// flat tells whether a copy of a value of a type shares nothing with it that can be changed.
func flat(t reflect.Type) bool {
	if known, ok := flats.Load(t); ok {
		return known.(bool)
	}
	is := true
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Map:
		is = false
	case reflect.Struct:
		for i := range t.NumField() {
			is = is && flat(t.Field(i).Type)
		}
	}
	flats.Store(t, is)
	return is
}

func deep(k reflect.Kind) bool {
	return k == reflect.Pointer || k == reflect.Slice || k == reflect.Map || k == reflect.Struct
}

// Facts calls do with every numeric fact a rig states.
func Facts(r *rig.Rig, do func(*fact.Fact)) { eachFact(reflect.ValueOf(r).Elem(), do) }

var factType = reflect.TypeFor[fact.Fact]()

func eachFact(v reflect.Value, do func(*fact.Fact)) {
	if v.Type() == factType {
		do(v.Addr().Interface().(*fact.Fact))
		return
	}
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			eachFact(v.Elem(), do)
		}
	case reflect.Slice:
		for i := range v.Len() {
			eachFact(v.Index(i), do)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if v.Field(i).CanSet() && deep(v.Field(i).Kind()) {
				eachFact(v.Field(i), do)
			}
		}
	}
}

// Corner is the rig with every fact at one end of its bounds or the other.
func Corner(r *rig.Rig, d *Dice) *rig.Rig {
	out := Clone(r)
	Facts(out, func(f *fact.Fact) {
		v := f.Low
		if d.Of(2) {
			v = f.High
		}
		f.Low, f.Value, f.High = v, v, v
	})
	return out
}

// Narrow is the rig with one of its wide facts narrowed, and which one it was; nil when it states none.
func Narrow(r *rig.Rig, d *Dice) *rig.Rig {
	wide := 0
	Facts(r, func(f *fact.Fact) {
		if !f.Narrow() {
			wide++
		}
	})
	if wide == 0 {
		return nil
	}
	out, at := Clone(r), d.N(wide)
	Facts(out, func(f *fact.Fact) {
		if f.Narrow() {
			return
		}
		if at == 0 {
			low := f.Low + (f.High-f.Low)*d.Float()
			high := low + (f.High-low)*d.Float()
			*f = fact.Fact{Value: low, Low: low, High: high, From: fact.Measured}
		}
		at--
	})
	return out
}

// Shuffle is the rig with its items, leads and lists in another order.
func Shuffle(r *rig.Rig, d *Dice) *rig.Rig {
	out := Clone(r)
	mix(d, out.Items)
	mix(d, out.Leads)
	for i := range out.Items {
		g := &out.Items[i].Gear
		mix(d, g.Ports)
		mix(d, g.Settings)
		mix(d, g.Controllers)
		for j := range g.Ports {
			mix(d, g.Ports[j].Modes)
		}
		mix(d, g.Delivers)
	}
	return out
}

func mix[T any](d *Dice, list []T) {
	for i := len(list) - 1; i > 0; i-- {
		j := d.N(i + 1)
		list[i], list[j] = list[j], list[i]
	}
}

// Forgotten is one stated fact of a rig that can be taken out.
type Forgotten struct {
	Name string
	Do   func(*rig.Rig)
}

// Forgettable lists the facts a rig states and could as well not.
func Forgettable(r *rig.Rig) []Forgotten {
	var out []Forgotten
	add := func(there bool, do func(*rig.Rig), format string, args ...any) {
		if there {
			out = append(out, Forgotten{fmt.Sprintf(format, args...), do})
		}
	}
	s := &r.Show
	add(s.CircuitA != nil, func(r *rig.Rig) { r.Show.CircuitA = nil }, "circuitA")
	add(s.ScreenMpxS != nil, func(r *rig.Rig) { r.Show.ScreenMpxS = nil }, "recording of the screen")
	add(s.MainsVolts != nil, func(r *rig.Rig) { r.Show.MainsVolts = nil }, "mainsVolts")
	add(s.MainsHz != 0, func(r *rig.Rig) { r.Show.MainsHz = 0 }, "mainsHz")
	add(r.Uplink != nil && r.Uplink.DownMbps != nil, func(r *rig.Rig) { r.Uplink.DownMbps = nil }, "download")
	add(r.Uplink != nil && len(r.Uplink.MeasuredMbps) > 0, func(r *rig.Rig) { r.Uplink.MeasuredMbps = nil },
		"uplink measurements")
	add(r.Uplink != nil && len(r.Uplink.MeasuredMbps) == 0 && r.Uplink.EstimateMbps != nil, func(r *rig.Rig) {
		r.Uplink.EstimateMbps = nil
	}, "uplink estimate")
	for i := range s.Destinations {
		add(s.Destinations[i].Ingest != nil, func(r *rig.Rig) {
			// that one takes H.264 by a usual transport is practice, and settled
			in := r.Show.Destinations[i].Ingest
			r.Show.Destinations[i].Ingest = &rig.Ingest{VideoCodecs: in.VideoCodecs, Transports: in.Transports}
		}, "ingest %d", i)
	}
	for i := range s.Calls {
		add(s.Calls[i].DownKbps != nil, func(r *rig.Rig) { r.Show.Calls[i].DownKbps = nil },
			"what comes in of call %d", i)
		add(s.Calls[i].DownMpxS != nil, func(r *rig.Rig) { r.Show.Calls[i].DownMpxS = nil }, "pictures of call %d", i)
		add(s.Calls[i].Persons > 0, func(r *rig.Rig) { r.Show.Calls[i].Persons = 0 }, "people of call %d", i)
		add(s.Calls[i].UpKbps != nil, func(r *rig.Rig) { r.Show.Calls[i].UpKbps = nil }, "call %d", i)
	}
	for i := range s.Destinations {
		in := s.Destinations[i].Ingest
		add(in != nil && in.MinVideoKbps != nil, func(r *rig.Rig) { r.Show.Destinations[i].Ingest.MinVideoKbps = nil },
			"least of %d", i)
		add(in != nil && in.MaxAudioKbps > 0, func(r *rig.Rig) { r.Show.Destinations[i].Ingest.MaxAudioKbps = 0 },
			"sound taken of %d", i)
		add(s.Destinations[i].Send.RangeSeen != "", func(r *rig.Rig) { r.Show.Destinations[i].Send.RangeSeen = "" },
			"range seen of %d", i)
	}
	if up := r.Uplink; up != nil {
		add(up.LossPct != nil, func(r *rig.Rig) { r.Uplink.LossPct = nil }, "loss")
		add(up.RTTMs != nil, func(r *rig.Rig) { r.Uplink.RTTMs = nil }, "round trip")
		add(up.AllowanceGB != nil, func(r *rig.Rig) { r.Uplink.AllowanceGB = nil }, "allowance")
		add(up.TriedThere != "", func(r *rig.Rig) { r.Uplink.TriedThere = "" }, "tried there")
	}
	add(s.Date != "", func(r *rig.Rig) { r.Show.Date = "" }, "date")
	for i := range s.Destinations {
		in := s.Destinations[i].Ingest
		add(s.Destinations[i].Held != "", func(r *rig.Rig) { r.Show.Destinations[i].Held = "" }, "held of %d", i)
		add(in != nil && in.MaxMinutes != nil, func(r *rig.Rig) { r.Show.Destinations[i].Ingest.MaxMinutes = nil },
			"longest of %d", i)
	}
	for i := range s.Recordings {
		add(s.Recordings[i].DriftPPM != nil, func(r *rig.Rig) { r.Show.Recordings[i].DriftPPM = nil }, "drift of %d", i)
	}
	for i := range r.Show.Destinations {
		add(r.Show.Destinations[i].Window != "", func(r *rig.Rig) {
			r.Show.Destinations = slices.Clone(r.Show.Destinations)
			r.Show.Destinations[i].Window = ""
		}, "window of %d", i)
	}
	if r.Sound != nil {
		for i := range r.Sound.Paths {
			path := &r.Sound.Paths[i]
			way := func(do func(*rig.SoundPath)) func(*rig.Rig) { return func(r *rig.Rig) { do(&r.Sound.Paths[i]) } }
			add(path.DistanceM != nil, way(func(p *rig.SoundPath) { p.DistanceM = nil }), "distance of %d", i)
			add(path.OneLeg != "", way(func(p *rig.SoundPath) { p.OneLeg = "" }), "leg of %d", i)
			add(path.Middle != "", way(func(p *rig.SoundPath) { p.Middle = "" }), "middle of %d", i)
			add(path.Hum != "", way(func(p *rig.SoundPath) { p.Hum = "" }), "hum of %d", i)
			add(path.NextM != nil, way(func(p *rig.SoundPath) { p.NextM = nil }), "next of %d", i)
			add(path.NoiseDB != nil, way(func(p *rig.SoundPath) { p.NoiseDB = nil }), "noise of %d", i)
			add(path.HeadroomDB != nil && path.GainDB != nil, way(func(p *rig.SoundPath) { p.HeadroomDB = nil }),
				"headroom of %d", i)
		}
		add(r.Sound.Loudspeakers != "", func(r *rig.Rig) { r.Sound.Loudspeakers = "" }, "loudspeakers")
	}
	for i := range r.Leads {
		l := &r.Leads[i]
		_, from := r.Port(l.From)
		_, to := r.Port(l.To)
		small := from != nil && from.Connector.Small() || to != nil && to.Connector.Small()
		switch {
		case from == nil:
		case from.Connector.Family() == gear.HDMIFamily:
			add(true, func(r *rig.Rig) { r.Leads[i].Grade = string(hdmi.Unknown) }, "grade of %s", l.ID)
		case from.Connector.Family() == gear.SDIFamily && l.Grade != "fibre":
			add(true, func(r *rig.Rig) { r.Leads[i].Grade = string(sdi.UnknownCoax) }, "grade of %s", l.ID)
		case from.Connector.Family() == gear.USBFamily && l.LengthM.High > 0:
			add(true, func(r *rig.Rig) { r.Leads[i].Grade = "usb-unknown" }, "grade of %s", l.ID)
		}
		add(l.ContactsOhm != nil, func(r *rig.Rig) { r.Leads[i].ContactsOhm = nil }, "contacts of %s", l.ID)
		add(l.AWG != nil, func(r *rig.Rig) { r.Leads[i].AWG = nil }, "gauge of %s", l.ID)
		add(l.SpanM != nil, func(r *rig.Rig) { r.Leads[i].SpanM = nil }, "run of %s", l.ID)
		add(l.Thin != nil && small, func(r *rig.Rig) { r.Leads[i].Thin = nil }, "thickness of %s",
			l.ID) // others are thick as a rule
		add(l.Direction != "", func(r *rig.Rig) { r.Leads[i].Direction = "" }, "direction of %s", l.ID)
	}
	for i := range r.Items {
		it := &r.Items[i]
		g, id := &it.Gear, it.ID
		at := func(do func(*gear.Gear)) func(*rig.Rig) { return func(r *rig.Rig) { do(&r.Items[i].Gear) } }
		shoots := g.Kind == gear.Camera || g.Kind == gear.Phone
		add(g.Clean != "", at(func(g *gear.Gear) { g.Clean = gear.UnknownClean }), "clean of %s", id)
		add(g.OddSizes != "", at(func(g *gear.Gear) { g.OddSizes = "" }), "odd sizes of %s", id)
		add(g.Overview != "", at(func(g *gear.Gear) { g.Overview = "" }), "overview of %s", id)
		add(g.USB2 != "", at(func(g *gear.Gear) { g.USB2 = "" }), "usb2 of %s", id)
		add(g.USB2Packets != 0, at(func(g *gear.Gear) { g.USB2Packets = 0 }), "usb2Packets of %s", id)
		add(g.BusMBps != nil, at(func(g *gear.Gear) { g.BusMBps = nil }), "bus of %s", id)
		add(g.FreeGB != nil, at(func(g *gear.Gear) { g.FreeGB = nil }), "free space of %s", id)
		add(g.WriteMBps != nil, at(func(g *gear.Gear) { g.WriteMBps = nil }), "writing of %s", id)
		add(g.Class != "" && g.Computes == nil, at(func(g *gear.Gear) { g.Class = "" }), "class of %s", id)
		if g.Computes != nil {
			can := func(do func(*gear.Computes)) func(*rig.Rig) { return at(func(g *gear.Gear) { do(g.Computes) }) }
			add(g.Computes.EncodeMpxS != nil, can(func(c *gear.Computes) { c.EncodeMpxS = nil }), "coding of %s", id)
			add(g.Computes.MJPEGMpxS != nil, can(func(c *gear.Computes) { c.MJPEGMpxS = nil }), "MJPEG of %s", id)
			add(g.Computes.H264MpxS != nil, can(func(c *gear.Computes) { c.H264MpxS = nil }), "H.264 of %s", id)
			add(g.Computes.ConvertMpxS != nil, can(func(c *gear.Computes) { c.ConvertMpxS = nil }), "converting of %s",
				id)
			add(g.Computes.ScaleMpxS != nil, can(func(c *gear.Computes) { c.ScaleMpxS = nil }), "scaling of %s", id)
			add(g.Computes.DeinterlaceMpxS != nil, can(func(c *gear.Computes) { c.DeinterlaceMpxS = nil }),
				"deinterlacing of %s", id)
			add(g.Computes.ComposeMpxS != nil, can(func(c *gear.Computes) { c.ComposeMpxS = nil }), "composing of %s",
				id)
			add(g.Computes.MemoryGBps != nil, can(func(c *gear.Computes) { c.MemoryGBps = nil }), "memory of %s", id)
			add(g.Computes.IdleShare != nil, can(func(c *gear.Computes) { c.IdleShare = nil }), "idle share of %s", id)
			add(g.Computes.HardwareMpxS != nil, can(func(c *gear.Computes) { c.HardwareMpxS = nil }),
				"hardware encoder of %s", id)
			add(g.Computes.HardwareSessions != nil, can(func(c *gear.Computes) { c.HardwareSessions = nil }),
				"sessions of %s", id)
		}
		add(g.Sound != nil && g.Sound.Inputs != nil, at(func(g *gear.Gear) {
			s := *g.Sound
			s.Inputs = nil
			g.Sound = &s
		}), "inputs of %s", id)
		add(g.PictureDelayMs != nil, at(func(g *gear.Gear) { g.PictureDelayMs = nil }), "picture delay of %s", id)
		add(g.RecordLimitMinutes != nil, at(func(g *gear.Gear) { g.RecordLimitMinutes = nil }), "record limit of %s",
			id)
		add(g.Standby != nil && shoots, at(func(g *gear.Gear) { g.Standby = nil }), "standby of %s", id)
		add(g.Standby != nil && g.Standby.AfterMinutes != nil, at(func(g *gear.Gear) { g.Standby.AfterMinutes = nil }),
			"standby minutes of %s", id)
		add(len(g.HeatLimits) > 0 && shoots, at(func(g *gear.Gear) { g.HeatLimits = nil }), "heat limits of %s", id)
		add(len(g.Delivers) > 0, at(func(g *gear.Gear) { g.Delivers = nil }), "delivered pictures of %s", id)
		add(g.Protected != "" && (g.Kind == gear.Console || g.Kind == gear.Player), at(func(g *gear.Gear) {
			g.Protected = ""
		}), "protection of %s", id)
		for j := range g.Settings {
			add(g.Settings[j].As != "", at(func(g *gear.Gear) { g.Settings[j].As = "" }), "setting %s of %s",
				g.Settings[j].ID, id)
		}
		for j := range g.Controllers {
			add(g.Controllers[j].UplinkMBps != nil, at(func(g *gear.Gear) { g.Controllers[j].UplinkMBps = nil }),
				"uplink of %s of %s", g.Controllers[j].ID, id)
		}
		for j := range g.Delivers {
			add(g.Delivers[j].BitsPerPixel != nil, at(func(g *gear.Gear) { g.Delivers[j].BitsPerPixel = nil }),
				"bits of %s", id)
		}
		for j := range g.Ports {
			p := &g.Ports[j]
			add(p.HDMI != nil && p.HDMI.MaxTMDSMHz != nil, at(func(g *gear.Gear) { g.Ports[j].HDMI.MaxTMDSMHz = nil }),
				"character rate of %s.%s", id, p.ID)
			add(p.HDMI != nil && p.HDMI.FixedRate != "", at(func(g *gear.Gear) { g.Ports[j].HDMI.FixedRate = "" }),
				"fixed rate of %s.%s", id, p.ID)
			add(p.SDI != nil, at(func(g *gear.Gear) { g.Ports[j].SDI = nil }), "SDI of %s.%s", id, p.ID)
			add(len(p.Modes) > 0 && it.Set != nil && setFor(it, p.ID), at(func(g *gear.Gear) {
				g.Ports[j].Modes, g.Ports[j].MoreModes = nil, false
			}), "modes of %s.%s", id, p.ID)
			add(len(p.Modes) > 0 && p.Direction == gear.In, at(func(g *gear.Gear) {
				g.Ports[j].Modes, g.Ports[j].MoreModes = nil, false
			}), "modes of %s.%s", id, p.ID)
			add(p.Takes420 != "", at(func(g *gear.Gear) { g.Ports[j].Takes420 = "" }), "4:2:0 of %s.%s", id, p.ID)
			add(p.USB != nil && p.Connector.Family() == gear.USBFamily, at(func(g *gear.Gear) {
				g.Ports[j].USB = nil
			}), "USB of %s.%s", id, p.ID)
			add(p.AllowsMA != nil, at(func(g *gear.Gear) { g.Ports[j].AllowsMA = nil }), "current of %s.%s", id, p.ID)
			add(p.Volts != nil, at(func(g *gear.Gear) { g.Ports[j].Volts = nil }), "volts of %s.%s", id, p.ID)
			add(p.Slot != nil && p.Slot.Sharing != "", at(func(g *gear.Gear) { g.Ports[j].Slot.Sharing = "" }),
				"sharing of %s.%s", id, p.ID)
			add(p.Slot != nil && p.Slot.SharedWith == "" && p.Slot.Link != pcie.Link{}, at(func(g *gear.Gear) {
				g.Ports[j].Slot = nil
			}), "slot of %s.%s", id, p.ID)
		}
		if snd := g.Sound; snd != nil {
			heard := func(do func(*gear.SoundSheet)) func(*rig.Rig) { return at(func(g *gear.Gear) { do(g.Sound) }) }
			add(snd.Microphone != "", heard(func(s *gear.SoundSheet) { s.Microphone = "" }), "microphone of %s", id)
			add(snd.Needs != "", heard(func(s *gear.SoundSheet) { s.Needs = "" }), "needs of %s", id)
			add(snd.Gives != "", heard(func(s *gear.SoundSheet) { s.Gives = "" }), "level out of %s", id)
			add(snd.Balanced != "", heard(func(s *gear.SoundSheet) { s.Balanced = "" }), "balanced of %s", id)
			add(snd.Takes != "", heard(func(s *gear.SoundSheet) { s.Takes = "" }), "level in of %s", id)
			add(snd.Socket != "", heard(func(s *gear.SoundSheet) { s.Socket = "" }), "sound socket of %s", id)
			add(snd.Feeds != "", heard(func(s *gear.SoundSheet) { s.Feeds = "" }), "feeds of %s", id)
			add(snd.KHz != nil, heard(func(s *gear.SoundSheet) { s.KHz = nil }), "sample rate of %s", id)
			add(snd.Processes != "", heard(func(s *gear.SoundSheet) { s.Processes = "" }), "treating of %s", id)
			add(snd.AutoLevel != "", heard(func(s *gear.SoundSheet) { s.AutoLevel = "" }), "level control of %s", id)
		}
		add(g.FileSystem != "", at(func(g *gear.Gear) { g.FileSystem = "" }), "file system of %s", id)
		if pw := g.Power; pw != nil {
			add(pw.DrawW != nil, at(func(g *gear.Gear) { g.Power.DrawW = nil }), "draw of %s", id)
			add(pw.SupplyW != nil && g.Kind != gear.Supply, at(func(g *gear.Gear) { g.Power.SupplyW = nil }),
				"supply of %s", id)
			add(pw.SupplyVolts != nil, at(func(g *gear.Gear) { g.Power.SupplyVolts = nil }), "supply volts of %s", id)
			add(pw.ChargesW != nil, at(func(g *gear.Gear) { g.Power.ChargesW = nil }), "charging of %s", id)
			add(pw.PowerFactor != nil, at(func(g *gear.Gear) { g.Power.PowerFactor = nil }), "power factor of %s", id)
			add(pw.RatedA != nil, at(func(g *gear.Gear) { g.Power.RatedA = nil }), "rating of %s", id)
			add(pw.LimitW != nil, at(func(g *gear.Gear) { g.Power.LimitW = nil }), "watts of %s", id)
			add(pw.LimitVA != nil, at(func(g *gear.Gear) { g.Power.LimitVA = nil }), "volt-amperes of %s", id)
			add(pw.SelfPowered != "" && g.Kind == gear.Hub, at(func(g *gear.Gear) { g.Power.SelfPowered = "" }),
				"own supply of %s", id)
			add(pw.USB != "" && shoots, at(func(g *gear.Gear) { g.Power.USB = "" }), "USB power of %s", id)
			add(pw.Battery != nil && (shoots && it.Set != nil && slices.Contains([]string{"battery", "grip", "mains"},
				it.Set.RunsOn) || g.Kind == gear.PowerBank), at(func(g *gear.Gear) { g.Power.Battery = nil }),
				"battery of %s", id)
			add(pw.Battery != nil && pw.Battery.UsableShare != nil, at(func(g *gear.Gear) {
				g.Power.Battery.UsableShare = nil
			}), "usable share of %s", id)
			add(pw.Mains != "" && shoots && it.Set != nil && it.Set.RunsOn != "", at(func(g *gear.Gear) {
				g.Power.Mains = ""
			}), "mains of %s", id)
		}
	}
	return out
}

func setFor(it *rig.Item, port string) bool {
	_, ok := it.Set.Output[port]
	return ok
}
