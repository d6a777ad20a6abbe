package rigtest

import (
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// shelf is the shelf as it was when the first laws were held, so that a seed stays the rig it was: what came later is
// put in by Newer. Microphones without a plug of USB are made in sound.go.
var shelf = slices.DeleteFunc(gear.Starter(), func(e gear.Entry) bool {
	return e.Gear.Sound != nil && len(e.Gear.Ports) == 0 || e.ID == "usb-headset" ||
		slices.ContainsFunc(gear.MoreKinds(), func(m gear.Entry) bool { return m.ID == e.ID })
})

// Newer is a rig with general kinds that came to the shelf later in the place of some of its things, as far as their
// leads fit.
func Newer(r *rig.Rig, d *Dice) *rig.Rig {
	kinds := slices.DeleteFunc(gear.MoreKinds(), func(e gear.Entry) bool {
		return e.Gear.Kind == gear.KeyPad
	}) // switches puts those in
	if d.Of(4) {
		r.Show.PreviewPct = new(d.within(fact.Est(10, 2, 30)))
	}
	for range 1 + d.N(3) {
		it := &r.Items[d.N(len(r.Items))]
		g := Clone(kinds[d.N(len(kinds))].Gear)
		if g.Kind != it.Gear.Kind && !(g.Kind.Shoots() && it.Gear.Kind.Shoots()) {
			continue
		}
		after, err := rig.Apply(r, rig.Edit{Do: "take", Item: it.ID, Gear: &g})
		if err == nil && len(rig.Check(after)) == 0 {
			r = after
		}
	}
	if up := r.Uplink; up != nil && len(up.MeasuredMbps) > 0 && d.Of(3) { // tried, and not filled
		up = Clone(up)
		up.MeasuredMbps = slices.Clone(up.MeasuredMbps)
		up.MeasuredMbps[d.N(len(up.MeasuredMbps))].Least = true
		r = Clone(r)
		r.Uplink = up
	}
	return r
}

// Rig makes the rig of a seed. It is sound: rig.Check finds nothing wrong with it, however badly it is wired.
func Rig(seed uint64) *rig.Rig {
	b := &builder{Dice: NewDice(seed), ids: map[string]int{}, used: map[string]bool{}}
	b.r = &rig.Rig{Format: rig.Format, Name: fmt.Sprintf("rig %d", seed), Items: []rig.Item{}, Leads: []rig.Lead{}}
	b.show()
	b.computer()
	for range 1 + b.N(5) {
		b.source()
	}
	b.extras()
	b.supplies()
	b.plans()
	b.sound()
	b.openSockets(NewDice(seed ^ 0xa11))
	b.comesIn(NewDice(seed ^ 0xca11))
	b.touched(NewDice(seed ^ 0x70c4))
	b.contacts(NewDice(seed ^ 0x0438))
	b.sending(NewDice(seed ^ 0x5e4d))
	b.switches(NewDice(seed ^ 0x5317))
	b.layouts(NewDice(seed ^ 0x1a70))
	b.late(NewDice(seed ^ 0x1a7e))
	b.walks(NewDice(seed ^ 0x0a1c))
	b.inputs(NewDice(seed ^ 0x1279))
	b.plugs(NewDice(seed ^ 0x9106))
	rig.Straight(b.r)
	return b.r
}

// mostInputs is how many microphones things that take sound take at most, as they are sold.
var mostInputs = map[gear.Kind]int{gear.AudioInterface: 8, gear.Mixer: 16, gear.Recorder: 8, gear.Camera: 2,
	gear.Switcher: 4}

// inputs says of some things that take sound how many microphones they take.
func (b *builder) inputs(d *Dice) {
	for i := range b.r.Items {
		g := &b.r.Items[i].Gear
		if most := mostInputs[g.Kind]; most > 0 && d.Of(2) && g.Sound != nil {
			s := *g.Sound
			s.Inputs = new(fact.Exactly(float64(1 + d.N(most))))
			g.Sound = &s
		}
	}
}

// plugs says of some ways of sound which input they go into, two into one now and then.
func (b *builder) plugs(d *Dice) {
	if b.r.Sound == nil {
		return
	}
	for i := range b.r.Sound.Paths {
		if p := &b.r.Sound.Paths[i]; len(p.Via) > 0 && d.Of(3) {
			p.Input = 1 + d.N(4)
		}
	}
}

// walks says of some leads whether people walk over them.
func (b *builder) walks(d *Dice) {
	for i := range b.r.Leads {
		b.r.Leads[i].OverWalk = pick(d, "", "", "yes", "no")
	}
}

// late says of some things how much they delay the picture.
func (b *builder) late(d *Dice) {
	for i := range b.r.Items {
		if g := &b.r.Items[i].Gear; d.Of(6) && (g.Kind.Shoots() || g.Kind == gear.Capture || g.Kind == gear.Card ||
			g.Kind == gear.Converter || g.Kind == gear.Switcher) {
			g.PictureDelayMs = new(d.within(fact.Est(60, 0, 300)))
		}
	}
}

// layouts gives a third of the rigs arrangements, of sources that may come together or not, and windows they are shown
// in.
func (b *builder) layouts(d *Dice) {
	if !d.Of(3) {
		return
	}
	var sources []string
	for i := range b.r.Items {
		if b.r.Items[i].IsSource() {
			sources = append(sources, b.r.Items[i].ID)
		}
	}
	for range 1 + d.N(3) {
		l := rig.Layout{Name: pick(d, "", "", "Talk"), Shape: pick(d, "full", "inset", "two-up", "upright")}
		n := map[string]int{"full": 1, "upright": 1, "two-up": 2, "inset": 2 + d.N(2)}[l.Shape]
		if n > len(sources) {
			continue
		}
		first := d.N(len(sources))
		for k := range n {
			l.Sources = append(l.Sources, sources[(first+k)%len(sources)])
		}
		if l.Shape == "inset" {
			l.Corner, l.SizePct, l.EdgePct = pick(d, "", "top-left", "top-right", "bottom-left"),
				pick(d, 0.0, 15, 25, 33), pick(d, 0.0, 0.5, 5)
		}
		b.r.Show.Layouts = append(b.r.Show.Layouts, l)
	}
	for i := range b.r.Show.Destinations {
		b.r.Show.Destinations[i].Window = pick(d, "as-sent", "", "4:3", "1:1", "9:16", "21:9")
	}
}

// switches says of some rigs that a pad or a pedal changes angles, with the thing or without it; a switcher that is
// nowhere stays so in one of four.
func (b *builder) switches(d *Dice) {
	s := &b.r.Show
	if s.Switching == "switcher" && !d.Of(4) && !slices.ContainsFunc(b.r.Items, func(it rig.Item) bool {
		return it.Gear.Kind == gear.Switcher
	}) {
		s.Switching = ""
	}
	if s.Switching != "" || !d.Of(4) {
		return
	}
	s.Switching = pick(d, "pad", "pedal")
	if d.Of(2) {
		return
	}
	for _, e := range gear.MoreKinds() {
		if e.Gear.Kind == gear.KeyPad && b.r.Item(e.ID) == nil {
			b.r.Items = append(b.r.Items, rig.Item{ID: e.ID, Label: e.Gear.Name, Gear: Clone(e.Gear)})
			return
		}
	}
}

// comesIn says of some rigs what comes in by calls, and what else the computer does.
func (b *builder) comesIn(d *Dice) {
	s := &b.r.Show
	for i := range s.Calls {
		c := &s.Calls[i]
		if c.Persons = d.N(10); c.Persons > 0 && d.Of(3) {
			n := float64(c.Persons)
			f := d.within(fact.Est(900*n, 600*n, 3000*n))
			c.DownKbps = &f
		}
	}
	for _, what := range []string{rig.VirtualCamera, rig.ScreenRecording, rig.OwnStream} {
		if d.Of(8) {
			s.Besides = append(s.Besides, what)
		}
	}
	if up := b.r.Uplink; up != nil && len(up.MeasuredMbps) > 0 && d.Of(3) {
		f := d.within(fact.Est(200, 50, 1000))
		up.DownMbps = &f
	}
	for i := range s.Calls {
		if n := float64(s.Calls[i].Persons); n > 0 && d.Of(3) {
			f := d.within(fact.Est(15.552*n, 6.912*n, 27.648*n))
			s.Calls[i].DownMpxS = &f
		}
	}
	if d.Of(3) {
		f := d.within(fact.Est(110.592, 62.208, 248.832))
		s.ScreenMpxS = &f
	}
}

// sending says more of what is sent and kept: what destinations want at least and of sound, how often keyframes, who
// passes on, which way round, full range, the hour and how a line was measured, clocks of cameras.
func (b *builder) sending(d *Dice) {
	s := &b.r.Show
	for i := range s.Destinations {
		o := &s.Destinations[i]
		if in := o.Ingest; in != nil {
			if d.Of(2) {
				in.MinVideoKbps = new(pick(d, 0.0, 0, 400, 1000, 3000, 8000))
				if in.MaxVideoKbps > 0 {
					*in.MinVideoKbps = min(*in.MinVideoKbps, in.MaxVideoKbps)
				}
			}
			if d.Of(2) {
				in.MaxAudioKbps = pick(d, 96.0, 128, 160, 320, 512)
			}
			if d.Of(2) {
				in.KeyframeSeconds, in.KeyframeExact = pick(d, 1.0, 2, 4), d.Of(3)
			}
			in.LandscapeOnly = d.Of(6)
		}
		if d.Of(6) {
			o.Send.Range, o.Send.RangeSeen = "full", pick(d, "", "yes", "no")
		}
		if d.Of(8) {
			o.Transport = "webrtc"
			if o.Ingest != nil {
				o.Ingest.Transports = nil
			}
		}
		if d.Of(8) {
			o.Send.Rate = pick(d, rates...)
		}
	}
	if len(s.Destinations) > 0 && d.Of(4) { // one passes on to another
		passed := Clone(s.Destinations[0])
		passed.Name, passed.Via = "Passed on", s.Destinations[0].Name
		if passed.Ingest != nil && d.Of(2) {
			passed.Ingest.MaxVideoKbps, passed.Ingest.MinVideoKbps = 2500, nil
		}
		s.Destinations = append(s.Destinations, passed)
	}
	if d.Of(2) {
		s.StartsAt = pick(d, "19:30", "10:00", "23:45")
	}
	if up := b.r.Uplink; up != nil {
		if d.Of(2) {
			up.LossPct, up.RTTMs = new(d.within(trade.loss)), new(d.within(trade.roundTrip))
		}
		if up.Whose = pick(d, "", "", "own", "limited", "venue", "phone"); up.Whose == "limited" ||
			up.Whose == "phone" {
			up.AllowanceGB = d.maybe(trade.allowance)
		}
		up.TriedThere = pick(d, "", "yes", "no", "unknown")
		if d.Of(4) {
			up.SecondMbps = new(d.within(trade.second))
		}
		for i := range up.MeasuredMbps {
			m := &up.MeasuredMbps[i]
			m.At, m.By = pick(d, "2026-09-01T19:00:00Z", "2026-09-02T19:20:00+02:00", "2026-09-03T11:00:00Z",
				"2026-09-04T00:30:00+05:30"), pick(d, "", "", "wired", "air")
		}
	}
	if d.Of(5) {
		s.GamePct = new(d.within(span(10, 98)))
	}
	for i := range s.Destinations {
		if in := s.Destinations[i].Ingest; in != nil && d.Of(3) {
			in.MaxMinutes = new(d.within(trade.longest))
		}
		s.Destinations[i].Held = pick(d, "", "", "yes", "no")
		s.Destinations[i].Permission = pick(d, "", "", "yes", "no")
	}
	s.Date = pick(d, "", "2026-12-04")
	for i := range b.r.Items {
		it := &b.r.Items[i]
		if d.Of(12) {
			it.Arrives = pick(d, "2026-12-01", "2026-12-05")
		}
		if it.IsHost() && d.Of(3) {
			if it.Set == nil {
				it.Set = &rig.Set{}
			}
			it.Set.Undisturbed = map[string]string{pick(d, "sleep", "updates", "notices"): pick(d, "on", "off")}
		}
	}
	for i := range s.Recordings {
		rec := &s.Recordings[i]
		if d.Of(5) {
			rec.Kbps = new(d.within(fact.Est(20000, 1500, 90000)))
		}
		if d.Of(3) {
			rec.DriftPPM, rec.Resynced = new(d.within(fact.Est(30, 0, 100))), pick(d, "", "", "yes")
		}
	}
}

// touched has somebody touch some of the cameras and phones, so that they do not fall asleep.
func (b *builder) touched(d *Dice) {
	for i := range b.r.Items {
		if it := &b.r.Items[i]; it.Set != nil && it.Set.Settings != nil || it.Gear.Kind == gear.Camera ||
			it.Gear.Kind == gear.Phone {
			if d.Of(5) {
				if it.Set == nil {
					it.Set = &rig.Set{}
				}
				it.Set.Touched = true
			}
		}
	}
}

// contacts says of some USB leads what their contacts add.
func (b *builder) contacts(d *Dice) {
	for i := range b.r.Leads {
		if l := &b.r.Leads[i]; l.AWG != nil && d.Of(6) {
			f := d.within(fact.Est(0.06, 0, 0.12))
			l.ContactsOhm = &f
		}
	}
}

// openSockets leaves it open, in some rigs, which sockets devices go into.
func (b *builder) openSockets(d *Dice) {
	if !d.Of(4) {
		return
	}
	for i := range b.r.Leads {
		l := &b.r.Leads[i]
		it, p := b.r.Port(l.From)
		if p.Direction != gear.Upstream {
			it, p = b.r.Port(l.To)
		}
		if k := it.Gear.Kind; p.Direction == gear.Upstream && p.Connector.Family() == gear.USBFamily &&
			p.Connector != gear.Internal && k != gear.Hub && k != gear.Dock && !it.IsHost() {
			l.AnySocket = d.Of(2)
		}
	}
}

type builder struct {
	*Dice
	r    *rig.Rig
	ids  map[string]int
	used map[string]bool // sockets with a plug
	host string
}

func (b *builder) id(stem string) string {
	b.ids[stem]++
	return fmt.Sprintf("%s-%d", stem, b.ids[stem])
}

// encoders are words of what codes a picture; mostly nobody has chosen.
var encoders = []string{"", "", "", "hardware", "veryfast", "medium", "ultrafast"}

// computes says what a computer can do, now and then: figures within those of its class.
func (b *builder) computes(g *gear.Gear) {
	g.Class = pick(b.Dice, "", gear.Laptop, gear.DesktopClass, gear.SmallLaptop, gear.GoodLaptop, gear.MidDesktop,
		gear.LargeDesktop)
	if b.Of(2) {
		return
	}
	can, of := &gear.Computes{}, gear.ByClass(g.Class)
	for _, f := range []struct{ at, of **fact.Fact }{{&can.EncodeMpxS, &of.EncodeMpxS},
		{&can.MJPEGMpxS, &of.MJPEGMpxS}, {&can.H264MpxS, &of.H264MpxS}, {&can.ConvertMpxS, &of.ConvertMpxS},
		{&can.ScaleMpxS, &of.ScaleMpxS}, {&can.DeinterlaceMpxS, &of.DeinterlaceMpxS},
		{&can.ComposeMpxS, &of.ComposeMpxS}, {&can.MemoryGBps, &of.MemoryGBps}} {
		if b.Of(2) {
			*f.at = b.maybe(**f.of)
		}
	}
	if b.Of(3) {
		can.IdleShare = b.maybe(trade.idle)
	}
	if can.Hardware = pick(b.Dice, "", "none", "Board encoder"); can.Hardware == "Board encoder" && b.Of(2) {
		can.HardwareMpxS, can.HardwareSessions = b.maybe(trade.hardware), b.maybe(trade.sessions)
	}
	g.Computes = can
}

var rates = []picture.Rate{picture.NewRate(24000, 1001), picture.R(24), picture.R(25), picture.NewRate(30000, 1001),
	picture.R(30), picture.R(50), picture.NewRate(60000, 1001), picture.R(60)}

func (b *builder) show() {
	size := pick(b.Dice, [2]int{1920, 1080}, [2]int{1920, 1080}, [2]int{1280, 720}, [2]int{3840, 2160})
	s := &b.r.Show
	*s = rig.Show{Programme: rig.Programme{Width: size[0], Height: size[1], Rate: pick(b.Dice, rates...)},
		Motion:  pick(b.Dice, "", "still", "talk", "stage", "play", "sport"),
		Minutes: float64(10 + 10*b.N(20)), SetupMinutes: float64(15 * b.N(6)), RehearsalMinutes: float64(5 * b.N(5)),
		MainsHz: pick(b.Dice, 0, 50, 60),
		Angles:  b.N(6), AnglesSelectable: b.Of(2), Switching: pick(b.Dice, "", "keys", "switcher"),
		SoundFrom: pick(b.Dice, "", "camera", "computer"),
		Program: rig.Program{Kind: pick(b.Dice, "encoder", "encoder", "browser-studio", "destination-page", "call"),
			Name: pick(b.Dice, "", "", "Home encoder")}, Destinations: []rig.Destination{}}
	if b.Of(3) {
		s.CircuitA = b.maybe(trade.circuitA)
	}
	if b.Of(4) {
		v := fact.Fact{Value: 230, Low: 210, High: 250}
		if s.MainsHz == 60 {
			v = fact.Fact{Value: 120, Low: 110, High: 125}
		}
		s.MainsVolts = b.maybe(v)
	}
	for i := range b.N(3) {
		d := rig.Destination{Name: fmt.Sprintf("Channel %d", i+1), Transport: pick(b.Dice, "", "rtmp", "srt"),
			Send: rig.Send{Width: size[0], Height: size[1], Rate: s.Programme.Rate}}
		if b.Of(2) {
			d.Send.Width, d.Send.Height = 1280, 720
		}
		if b.Of(2) {
			d.Send.VideoKbps = b.maybe(fact.Est(4000, 1000, 12000))
		}
		if !b.Of(3) {
			d.Ingest = &rig.Ingest{}
			if !b.Of(4) {
				p := pick(b.Dice, rig.Profiles...)
				d.Ingest = &rig.Ingest{MaxWidth: p.Width, MaxHeight: p.Height, MaxRate: picture.R(p.Rate),
					MaxVideoKbps: p.Kbps, CheckedOn: "2026-09-01"}
			}
		}
		d.Send.Encoder = pick(b.Dice, encoders...)
		if d.Ingest != nil && b.Of(4) {
			d.Ingest.VideoCodecs, d.Ingest.Transports, d.Ingest.MaxAudioKbps = []string{pick(b.Dice, "h264", "av1")},
				[]string{pick(b.Dice, "rtmp", "srt")}, float64(pick(b.Dice, 96, 320))
		}
		s.Destinations = append(s.Destinations, d)
	}
	if b.Of(4) {
		s.Calls = append(s.Calls, rig.Call{Name: "Guest", UpKbps: b.maybe(fact.Est(2500, 600, 4000)), Persons: 1})
	}
	switch b.N(4) {
	case 0:
		b.r.Uplink = &rig.Uplink{EstimateMbps: b.maybe(fact.Est(10, 0.5, 1000))}
	case 1, 2:
		b.r.Uplink = &rig.Uplink{}
		for range 1 + b.N(6) {
			b.r.Uplink.MeasuredMbps = append(b.r.Uplink.MeasuredMbps, rig.UplinkReading{Value: round(1 + 40*b.Float()),
				At: "2026-09-01T19:00:00Z"})
		}
	}
	if b.Of(5) {
		c := pick(b.Dice, 0.5, 0.7, 0.9, 1)
		b.r.Ceiling = &c
	}
}

// ofKind copies a sheet of a kind off the shelf, with its facts stated anew or left out.
func (b *builder) ofKind(kinds ...gear.Kind) gear.Gear {
	var fits []int
	for i := range shelf {
		if slices.Contains(kinds, shelf[i].Gear.Kind) {
			fits = append(fits, i)
		}
	}
	g := Clone(shelf[pick(b.Dice, fits...)].Gear)
	b.restate(&g)
	return g
}

// restate states a sheet's facts anew, from what exists in the trade.
func (b *builder) restate(g *gear.Gear) {
	if b.Of(2) {
		if g.Power == nil {
			g.Power = &gear.Power{}
		}
		g.Power.DrawW = b.maybe(drawOf(g))
	}
	if g.Power != nil && g.Power.Battery != nil && b.Of(2) {
		pack, share := gear.DefaultBattery, trade.usable
		if g.Kind == gear.PowerBank {
			pack, share = gear.BatteryPack{MAh: trade.bank, Volts: gear.BankVolts}, trade.bankShare
		}
		g.Power.Battery = &gear.BatteryPack{MAh: b.within(pack.MAh), Volts: b.within(pack.Volts),
			UsableShare: b.maybe(share)}
	}
	if g.Kind == gear.Camera || g.Kind == gear.Phone {
		if b.Of(3) {
			g.Clean = pick(b.Dice, gear.Cleans...)
		}
		if g.Power != nil {
			g.Power.USB = pick(b.Dice, "", "runs", "charges", "no", "unknown")
			if b.Of(4) {
				g.Power.Mains = pick(b.Dice, gear.MainsYes, gear.MainsDummy, gear.MainsNo, gear.MainsUnknown, "")
			}
			if b.Of(5) {
				g.Power.Battery = nil
			}
		}
		if b.Of(8) {
			g.Power = nil
		}
		switch b.N(4) {
		case 0:
			g.Settings = append(slices.DeleteFunc(slices.Clone(g.Settings), func(s gear.Setting) bool {
				return s.ID == "auto-power-off"
			}), gear.Setting{ID: "auto-power-off", As: pick(b.Dice, "", "on", "off")})
		case 1:
			g.Settings = slices.DeleteFunc(slices.Clone(g.Settings), func(s gear.Setting) bool {
				return s.ID == "auto-power-off" || s.ID == "idle-standby"
			})
			g.Standby = nil
			if b.Of(2) {
				g.Standby = &gear.Standby{AfterMinutes: b.maybe(trade.standby), Does: pick(b.Dice, "nothing", "black",
					"resizes", "unknown", "")}
			}
		}
		if b.Of(3) {
			g.HeatLimits = []gear.HeatLimit{{Width: 3840, Height: 2160, Minutes: b.within(trade.heat)}}
		}
	}
	if g.Kind == gear.Switcher && b.Of(2) { // a second output, for a recorder or another switcher
		at := slices.IndexFunc(g.Ports, func(p gear.Port) bool { return p.Direction == gear.Out })
		more := g.Ports[at]
		more.ID, more.Label = "out-b", "second out"
		g.Ports = append(g.Ports, more)
	}
	for i := range g.Ports {
		b.port(&g.Ports[i], g)
	}
	for i := range g.Delivers {
		if g.Delivers[i].Format == picture.MJPEG && b.Of(2) {
			g.Delivers[i].BitsPerPixel = b.maybe(trade.mjpeg)
		}
	}
	if len(g.Delivers) > 0 {
		g.OddSizes = pick(b.Dice, "", picture.Box, picture.Crop, picture.Stretch, picture.Refuse, picture.UnknownHow)
		if b.Of(12) {
			g.Delivers = nil
		}
	}
	if g.Kind == gear.Hub {
		if g.Power == nil {
			g.Power = &gear.Power{}
		}
		g.Power.SelfPowered = pick(b.Dice, "", "yes", "no", "unknown")
		g.Power.SupplyW, g.Power.SupplyVolts = b.maybe(fact.Est(10, 5, 60)), pick(b.Dice, nil, factOf(5), factOf(12))
	}
	if g.Kind == gear.Dock {
		g.Power.SupplyW, g.Power.ChargesW = b.maybe(fact.Est(90, 45, 240)), b.maybe(trade.charges)
	}
	if g.Kind == gear.Drive {
		g.FreeGB, g.WriteMBps, g.FileSystem = b.maybe(trade.free), b.maybe(trade.write),
			pick(b.Dice, "", "fat32", "exfat")
	}
	if g.BusMBps == nil && (g.Kind == gear.Drive || g.Kind == gear.AudioInterface || g.Kind == gear.Microphone ||
		g.Kind == gear.Mixer) {
		g.BusMBps = b.maybe(g.TakesOfBus())
	}
	if (g.Kind == gear.Capture || g.Kind == gear.Webcam) && b.Of(5) {
		g.WorksWith = []gear.Experience{{Program: pick(b.Dice, "encoder", "Home encoder", "call"),
			Works: pick(b.Dice, "works", "badly", "no", "untested")}}
	}
}

func factOf(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

func (b *builder) port(p *gear.Port, g *gear.Gear) {
	switch p.Connector.Family() {
	case gear.HDMIFamily:
		if b.Of(2) {
			p.HDMI = &gear.HDMIPort{MaxTMDSMHz: pick(b.Dice, nil, factOf(hdmi.MHz12), factOf(hdmi.MHz14),
				factOf(hdmi.MHz20))}
			if m := p.HDMI.MaxTMDSMHz; m != nil && m.High == hdmi.MHz20 {
				p.HDMI.FixedRate = pick(b.Dice, "", hdmi.UnknownFRL, hdmi.FRL4x10, hdmi.FRL4x12, hdmi.SaidNone)
			}
		}
		if b.Of(6) {
			p.Modes, p.MoreModes = nil, false
		} else if b.Of(3) {
			p.MoreModes = !p.MoreModes
		}
		p.Takes420 = pick(b.Dice, "", "", "yes", "no", "unknown")
	case gear.SDIFamily:
		if b.Of(3) {
			p.SDI = pick(b.Dice, nil, &gear.SDIPort{Link: sdi.HD}, &gear.SDIPort{Link: sdi.ThreeG, Level: sdi.LevelA},
				&gear.SDIPort{Link: sdi.ThreeG, Level: sdi.LevelB}, &gear.SDIPort{Link: sdi.TwelveG,
					Level: sdi.BothLevels}, &gear.SDIPort{Link: sdi.UnknownLink})
		}
	case gear.USBFamily:
		if p.Direction == gear.Upstream && b.Of(3) && g.Kind != gear.Hub && g.Kind != gear.Dock {
			p.USB = pick(b.Dice, nil, &gear.USBPort{Speed: usb.HighSpeed, Transfer: usb.Isochronous},
				&gear.USBPort{Speed: usb.Gen1, Transfer: usb.UnknownTransfer}, &gear.USBPort{Speed: usb.Gen1,
					Transfer: usb.Bulk}, &gear.USBPort{Speed: usb.UnknownSpeed, Transfer: usb.Isochronous})
		}
		if p.Direction == gear.Downstream && b.Of(4) {
			p.AllowsMA = b.maybe((&gear.Port{Connector: p.Connector, USB: p.USB}).Allows())
		}
		if p.Direction == gear.Downstream && b.Of(5) {
			p.Volts = b.maybe(trade.volts)
		}
	}
}

// put adds an item.
func (b *builder) put(stem string, g gear.Gear) *rig.Item {
	id := b.id(stem)
	b.r.Items = append(b.r.Items, rig.Item{ID: id, Label: id, Gear: g})
	return &b.r.Items[len(b.r.Items)-1]
}

func (b *builder) computer() {
	g := Clone(pick(b.Dice, gear.Computers...).Gear)
	b.computes(&g)
	if b.Of(3) {
		g.FreeGB, g.WriteMBps = b.maybe(trade.free), b.maybe(trade.inner)
	}
	if b.Of(2) { // one of its own kind
		g.Ports, g.Controllers = nil, nil
		for c := range 1 + b.N(3) {
			id := fmt.Sprintf("c%d", c+1)
			g.Controllers = append(g.Controllers, gear.Controller{ID: id, UplinkMBps: b.maybe(trade.uplink)})
			for p := range 1 + b.N(4) {
				port := gear.Port{ID: fmt.Sprintf("%s-%d", id, p+1), Connector: pick(b.Dice, gear.USBA, gear.USBA,
					gear.USBC), Direction: gear.Downstream, Controller: id,
					USB: pick(b.Dice, nil, &gear.USBPort{Speed: usb.UnknownSpeed}, &gear.USBPort{Speed: usb.HighSpeed},
						&gear.USBPort{Speed: usb.Gen1}, &gear.USBPort{Speed: usb.Gen1}, &gear.USBPort{Speed: usb.Gen2},
						&gear.USBPort{Speed: usb.Gen2x2}, &gear.USBPort{Speed: usb.Tunnel})}
				if b.Of(12) {
					port.Controller = ""
				}
				g.Ports = append(g.Ports, port)
			}
		}
		for s := range b.N(4) {
			slot := gear.Port{ID: fmt.Sprintf("slot-%d", s+1), Connector: gear.PCIe, Direction: gear.Downstream}
			if !b.Of(4) {
				slot.Slot = &gear.Slot{Link: pcie.Link{Generation: 1 + b.N(5), Lanes: pick(b.Dice, 1, 4, 8, 16)},
					Size: 16, Place: b.N(5), SharedWith: pick(b.Dice, "", "", "a drive")}
				if slot.Slot.SharedWith != "" {
					slot.Slot.Sharing = pick(b.Dice, "", "whole", "half", "off", "unknown")
				}
			}
			g.Ports = append(g.Ports, slot)
		}
		g.Ports = append(g.Ports, gear.Port{ID: "picture-out", Connector: gear.HDMIA, Direction: gear.Out})
		g.USB2 = pick(b.Dice, "", "shared", "apart", "unknown")
		g.USB2Packets = pick(b.Dice, 0, 0, 4, 5)
	}
	b.restate(&g)
	b.host = b.put("pc", g).ID
}

// lead lays a lead between two sockets, one end or the other first.
func (b *builder) lead(from, to string, l rig.Lead) {
	l.ID, l.From, l.To = b.id("lead"), from, to
	if b.Of(40) {
		l.From, l.To = to, from
	}
	b.used[from], b.used[to] = true, true
	b.r.Leads = append(b.r.Leads, l)
}

// hdmiLead is some HDMI lead; an active or optical one is longer than passive ones are sold.
func (b *builder) hdmiLead(small bool) rig.Lead {
	l := rig.Lead{Grade: pick(b.Dice, "unknown", "standard", "high-speed", "high-speed", "premium", "ultra", "active",
		"optical"), LengthM: b.within(fact.Est(2, 0.5, 16))}
	if hdmi.Grade(l.Grade).Directional() {
		l.LengthM = b.within(fact.Est(12, 6, 40))
		l.Direction = pick(b.Dice, "", "right", "wrong")
	}
	run(b.Dice, &l)
	if small && b.Of(2) {
		thin := b.Of(2)
		l.Thin = &thin
	}
	if b.Of(8) {
		l.Adapters = 1
	}
	return l
}

// run says of some leads how far they have to go: no further than they do.
func run(d *Dice, l *rig.Lead) {
	if d.Of(4) {
		f := d.within(fact.Fact{Low: l.LengthM.Low / 2, High: l.LengthM.Low})
		l.SpanM = &f
	}
}

// aside is a die of its own for a lead, so that what came in later leaves the rigs of old seeds what they were.
func (b *builder) aside() *Dice { return NewDice(b.state ^ uint64(len(b.r.Leads))) }

func (b *builder) coax() rig.Lead {
	l := rig.Lead{Grade: pick(b.Dice, "rg-6", "rg-59", "rg-179", "coax", "fibre"),
		LengthM: b.within(fact.Est(20, 1, 120))}
	run(b.aside(), &l)
	return l
}

// usbLead is some USB lead; short ones mostly.
func (b *builder) usbLead() rig.Lead {
	l := rig.Lead{Grade: pick(b.Dice, "usb-unknown", "usb-2", "usb-5g", "usb-5g", "usb-5g", "usb-10g", "usb-20g",
		"usb-40g"), LengthM: b.within(fact.Est(1, 0.3, 4))}
	if b.Of(25) {
		l.Grade = "usb-charge"
	}
	if b.Of(3) {
		f := b.within(trade.awg)
		l.AWG = &f
	}
	run(b.aside(), &l)
	return l
}

// socket finds a free socket of a shape and direction, on the things a plug may go into; a hub or dock is put in when
// there is none.
func (b *builder) socket(shape gear.Connector, above []string) string {
	var free []string
	for i := range b.r.Items {
		it := &b.r.Items[i]
		if it.ID != b.host && it.Gear.Kind != gear.Hub && it.Gear.Kind != gear.Dock || slices.Contains(above, it.ID) {
			continue
		}
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			if ref := it.ID + "." + p.ID; p.Direction == gear.Downstream && p.Connector == shape && !b.used[ref] {
				free = append(free, ref)
			}
		}
	}
	if len(free) > 0 && !b.Of(6) || len(b.r.Items) > 60 {
		if len(free) == 0 {
			return ""
		}
		return pick(b.Dice, free...)
	}
	var box gear.Gear
	if shape == gear.USBA || shape == gear.USBC {
		box = b.ofKind(gear.Hub, gear.Hub, gear.Dock)
		for j := range box.Ports {
			if box.Ports[j].Direction == gear.Downstream && j > 1 && b.Of(3) {
				box.Ports[j].Connector = gear.USBC
			}
		}
	} else {
		return ""
	}
	it := b.put(string(box.Kind), box)
	id := it.ID
	up := slices.IndexFunc(box.Ports, func(p gear.Port) bool { return p.Direction == gear.Upstream })
	if to := b.socket(box.Ports[up].Connector, append(slices.Clone(above), id)); to != "" && !b.Of(15) {
		b.lead(id+"."+box.Ports[up].ID, to, b.usbLead())
	}
	for j := range box.Ports {
		if p := &box.Ports[j]; p.Direction == gear.Downstream && p.Connector == shape && !b.used[id+"."+p.ID] {
			return id + "." + p.ID
		}
	}
	return ""
}

// plugIn gives an upstream port of an item a socket.
func (b *builder) plugIn(id string, p *gear.Port) {
	shape := p.Connector
	switch shape {
	case gear.USBB, gear.USBMicroB: // the far end of such a lead is an A or C plug
		shape = pick(b.Dice, gear.USBA, gear.USBC)
	case gear.PCIe:
		for i := range b.r.Items {
			it := &b.r.Items[i]
			for j := range it.Gear.Ports {
				if ref := it.ID + "." + it.Gear.Ports[j].ID; it.ID == b.host && it.Gear.Ports[j].Connector ==
					gear.PCIe && !b.used[ref] {
					b.lead(id+"."+p.ID, ref, rig.Lead{Grade: "slot", LengthM: fact.Exactly(0)})
					return
				}
			}
		}
		return
	}
	to := b.socket(shape, []string{id})
	if to == "" {
		return
	}
	l := b.usbLead()
	if b.Of(2) {
		l.LengthM, l.Grade, l.AWG, l.SpanM = fact.Exactly(0), "usb-5g", nil, nil
	}
	b.lead(id+"."+p.ID, to, l)
}

// source puts a source in and takes its picture on.
func (b *builder) source() {
	g := b.ofKind(gear.Camera, gear.Camera, gear.Camera, gear.Phone, gear.Webcam, gear.Console, gear.Player)
	role := ""
	if b.Of(8) {
		g = Clone(gear.Sources[3].Gear)
		b.restate(&g)
		role = "source"
	}
	it := b.put(string(g.Kind), g)
	it.Role = role
	id := it.ID
	for j := range g.Ports {
		p := &g.Ports[j]
		if b.used[id+"."+p.ID] || j > 0 && !b.Of(4) {
			continue
		}
		switch p.Direction {
		case gear.Out:
			b.onward(id, p, 0)
		case gear.Upstream:
			if p.Connector != gear.LAN {
				b.plugIn(id, p)
			}
		}
	}
}

// into finds a free picture input of a family on one of some kinds, or puts in a thing that has one.
func (b *builder) into(f gear.Family, not string, kinds ...gear.Kind) (id string, in *gear.Port) {
	for _, fresh := range []bool{b.Of(2), true} {
		if !fresh {
			for i := range b.r.Items {
				it := &b.r.Items[i]
				if it.ID == not || !slices.Contains(kinds, it.Gear.Kind) || it.ID <= not && it.Gear.Kind ==
					gear.Switcher {
					continue
				}
				for j := range it.Gear.Ports {
					p := &it.Gear.Ports[j]
					if p.Direction == gear.In && p.Connector.Family() == f && !b.used[it.ID+"."+p.ID] &&
						!b.passedBy(it.ID, not) {
						return it.ID, p
					}
				}
			}
			continue
		}
		for range 20 {
			g := b.ofKind(kinds...)
			at := slices.IndexFunc(g.Ports, func(p gear.Port) bool {
				return p.Direction == gear.In && p.Connector.Family() == f
			})
			if at >= 0 {
				it := b.put(string(g.Kind), g)
				return it.ID, &it.Gear.Ports[at]
			}
		}
	}
	return "", nil
}

// passedBy tells whether a picture that goes into an item comes to another, so that a lead back would make a loop.
func (b *builder) passedBy(from, to string) bool {
	seen := map[string]bool{}
	var walk func(id string) bool
	walk = func(id string) bool {
		if id == to {
			return true
		}
		if seen[id] {
			return false
		}
		seen[id] = true
		for i := range b.r.Leads {
			x, _ := rig.SplitRef(b.r.Leads[i].From)
			y, _ := rig.SplitRef(b.r.Leads[i].To)
			if x == id && walk(y) || y == id && walk(x) {
				return true
			}
		}
		return false
	}
	return walk(from)
}

// onward takes a picture from an output to the computer, to a box on the way, or nowhere.
func (b *builder) onward(id string, out *gear.Port, depth int) {
	family, ref := out.Connector.Family(), id+"."+out.ID
	small := out.Connector.Small()
	if b.Of(25) || len(b.r.Items) > 40 {
		return // nobody has plugged it in
	}
	kinds := []gear.Kind{gear.Capture, gear.Capture, gear.Capture, gear.Card}
	if depth < 4 && b.Of(2) {
		kinds = []gear.Kind{gear.Switcher, gear.Switcher, gear.Splitter, gear.Converter, gear.Recorder, gear.Capture}
	}
	if depth > 0 && b.Of(6) {
		kinds = []gear.Kind{gear.Monitor, gear.Recorder}
	}
	switch family {
	case gear.HDMIFamily, gear.SDIFamily:
	default:
		return
	}
	if family == gear.HDMIFamily && b.Of(40) && !b.used[b.host+".picture-out"] && b.host != id {
		if _, p := b.r.Port(b.host + ".picture-out"); p != nil { // into the computer's own output
			b.lead(ref, b.host+".picture-out", b.hdmiLead(small))
			return
		}
	}
	to, in := b.into(family, id, kinds...)
	if in == nil {
		if to, in = b.into(family, id, gear.Capture, gear.Converter); in == nil {
			return
		}
	}
	l := b.hdmiLead(small || in.Connector.Small())
	if family == gear.SDIFamily {
		l = b.coax()
	}
	inID := in.ID
	b.lead(ref, to+"."+inID, l)
	ports := b.r.Item(to).Gear.Ports
	for j := range ports {
		p := ports[j]
		if b.used[to+"."+p.ID] {
			continue
		}
		switch {
		case p.Direction == gear.Upstream && (b.Of(2) || p.Connector == gear.PCIe ||
			b.r.Item(to).Gear.Kind == gear.Capture):
			b.plugIn(to, &p)
		case p.Direction == gear.Out && !b.Of(3):
			b.onward(to, &p, depth+1)
		}
	}
}

// extras are what a rig has besides: drives, sound, monitors, lamps.
func (b *builder) extras() {
	for range b.N(4) {
		g := b.ofKind(gear.Drive, gear.Microphone, gear.AudioInterface, gear.Mixer, gear.Monitor, gear.Lamp,
			gear.WirelessSound, gear.Battery, gear.Recorder)
		it := b.put(string(g.Kind), g)
		id := it.ID
		for j := range g.Ports {
			if p := &g.Ports[j]; p.Direction == gear.Upstream && !b.Of(6) {
				b.plugIn(id, p)
			}
		}
	}
}

// supplies hangs things on strips, UPSs, supplies and banks, which may hang on each other.
func (b *builder) supplies() {
	first := len(b.r.Items)
	for range b.N(4) {
		g := b.ofKind(gear.Strip, gear.UPS, gear.Supply, gear.PowerBank)
		if g.Power == nil {
			g.Power = &gear.Power{}
		}
		switch g.Kind {
		case gear.Strip:
			g.Power.RatedA = b.maybe(trade.stripA)
		case gear.UPS:
			g.Power.LimitW, g.Power.LimitVA, g.Power.Efficiency = b.maybe(trade.stripLimitW), b.maybe(trade.limitVA),
				b.maybe(fact.Est(0.85, 0.75, 0.92))
		}
		it := b.put(string(g.Kind), g)
		if n := len(b.r.Items) - 1; n > first && b.Of(2) {
			it.PoweredBy = b.r.Items[first+b.N(n-first)].ID
		}
	}
	for i := range first {
		it := &b.r.Items[i]
		if len(b.r.Items) > first && b.Of(3) {
			it.PoweredBy = b.r.Items[first+b.N(len(b.r.Items)-first)].ID
		}
		if it.Gear.Power != nil && b.Of(4) {
			it.Gear.Power.PowerFactor = b.maybe(trade.powerFactor)
		}
	}
}

// plans says, or leaves unsaid, how things are set and what is kept.
func (b *builder) plans() {
	for i := range b.r.Items {
		it := &b.r.Items[i]
		set := rig.Set{}
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			switch {
			case p.Direction == gear.Out && (it.IsSource() || it.Gear.Kind == gear.Switcher) && !b.Of(4):
				m := picture.Mode{Width: 1920, Height: 1080, Rate: pick(b.Dice, rates...)}
				if len(p.Modes) > 0 && !b.Of(6) {
					m = pick(b.Dice, p.Modes...)
				} else if b.Of(6) {
					m.Width, m.Height = 3440, 1440
				}
				if b.Of(8) {
					m.Chroma, m.Bits = pick(b.Dice, picture.RGB, picture.YUV422, picture.YUV420, picture.YUV444),
						pick(b.Dice, 8, 10)
				}
				if set.Output == nil {
					set.Output = map[string]picture.Mode{}
				}
				set.Output[p.ID] = m
			case p.Direction == gear.Upstream && len(it.Gear.Delivers) > 0 && b.Of(2):
				d := pick(b.Dice, it.Gear.Delivers...)
				set.Deliver = map[string]rig.Deliver{p.ID: {Format: d.Format, Width: d.Width, Height: d.Height}}
			}
		}
		if it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Phone {
			set.InfoDisplay, set.RunsOn = pick(b.Dice, "", "", "on", "off"), pick(b.Dice, "", "", "battery", "mains",
				"usb", "grip")
			set.Upright = it.Gear.Turns && b.Of(3)
			set.Spares = b.N(3)
			if b.Of(3) {
				set.Shutter = pick(b.Dice, picture.NewExposure(1, 50), picture.NewExposure(1, 60),
					picture.NewExposure(1, 120), picture.NewExposure(1, 97))
			}
		}
		if it.Gear.Protected == gear.UntilTurnedOff {
			set.Protection = pick(b.Dice, "", "on", "off")
		}
		for j := range it.Gear.Settings {
			if b.Of(3) {
				if set.Settings == nil {
					set.Settings = map[string]string{}
				}
				set.Settings[it.Gear.Settings[j].ID] = pick(b.Dice, "on", "off", "unknown")
			}
		}
		if b.Of(2) || set.Output != nil {
			it.Set = &set
		}
	}
	if b.Of(2) {
		rec := rig.Recording{What: "programme", Container: pick(b.Dice, "", "fmp4", "mkv", "mp4"),
			Quality: float64(pick(b.Dice, 0, 16, 20)), Encoder: pick(b.Dice, append(encoders, "stream")...),
			Tracks: b.N(3)}
		if b.Of(3) {
			rec.Kbps = b.maybe(fact.Est(6000, 5500, 6500))
		}
		for i := range b.r.Items {
			if k := b.r.Items[i].Gear.Kind; (k == gear.Drive || k == gear.Recorder) && b.Of(2) {
				rec.Drive = b.r.Items[i].ID
			}
		}
		b.r.Show.Recordings = append(b.r.Show.Recordings, rec)
	}
	for i := range b.r.Items {
		if it := &b.r.Items[i]; it.Gear.Kind == gear.Camera && b.Of(6) {
			b.r.Show.Recordings = append(b.r.Show.Recordings, rig.Recording{What: it.ID, InCamera: true})
			it.Gear.RecordLimitMinutes = b.maybe(trade.record)
		}
		if it := &b.r.Items[i]; it.Gear.Kind == gear.Capture && b.Of(10) {
			b.r.Show.Also = append(b.r.Show.Also, rig.AlsoProgram{Kind: "call", Takes: []string{it.ID}})
		}
	}
}
