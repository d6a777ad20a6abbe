package rig

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// Paths name single facts of a rig, with ids in place of positions:
//
//	leads/ID/lengthM                          items/ID/power/drawW
//	leads/ID/grade                            items/ID/power/battery/mAh | volts | usableShare
//	items/ID/clean                            items/ID/power/mains
//	items/ID/ports/PORT/usb/speed|transfer    items/ID/delivers/N/bitsPerPixel
//	items/ID/ports/PORT/hdmi/maxTmdsMHz       items/ID/controllers/CONTROLLER/uplinkMBps
//	uplink/estimateMbps                       show/destinations/N/videoKbps | audioKbps
//	leads/ID/direction | reachM               items/ID/protected | oddSizes | overview | driver
//	items/ID/ports/PORT/sdi/link|level        items/ID/ports/PORT/hdmi/fixedRate
//	items/ID/settings/SETTING/as              items/ID/set/settings/SETTING
//	items/ID/set/upright|protection|shutter|spares items/ID/worksWith/PROGRAM
//	items/ID/power/supplyW … efficiency       items/ID/power/selfPowered | usb
//	items/ID/ports/PORT/allowsMa              items/ID/busMBps
//	items/ID/ports/PORT/slot/wired            items/ID/heatLimits/N/minutes
//	leads/ID/awg                              show/mainsVolts | circuitA
//	items/ID/standby/does | afterMinutes      items/ID/recordLimitMinutes

// applyPath sets one fact or one choice. Whatever the path leads through is copied first.
func (r *Rig) applyPath(e *Edit) error {
	if e.Do == "fact" {
		if e.Fact == nil {
			return fmt.Errorf("fact is missing")
		}
		if err := e.Fact.Check(); err != nil {
			return err
		}
	}
	parts := strings.Split(e.Path, "/")
	var err error
	switch {
	case len(parts) == 3 && parts[0] == "leads":
		err = r.leadPath(parts[1], parts[2], e)
	case len(parts) >= 3 && parts[0] == "items":
		it := r.Item(parts[1])
		if it == nil {
			return noItem(parts[1])
		}
		err = itemPath(it, parts[2:], e)
	case e.Path == "show/mainsVolts" && e.Fact != nil:
		r.Show.MainsVolts = e.Fact
	case e.Path == "show/circuitA" && e.Fact != nil:
		r.Show.CircuitA = e.Fact
	case len(parts) == 4 && parts[0] == "show" && parts[1] == "calls" && parts[3] == "upKbps" && e.Fact != nil:
		n, bad := strconv.Atoi(parts[2])
		if bad != nil || n < 0 || n >= len(r.Show.Calls) {
			return fmt.Errorf("path %q: no such call", e.Path)
		}
		r.Show.Calls = slices.Clone(r.Show.Calls)
		r.Show.Calls[n].UpKbps = e.Fact
	case e.Path == "uplink/reading" && e.Fact != nil:
		up := Uplink{}
		if r.Uplink != nil {
			up = *r.Uplink
		}
		up.MeasuredMbps = append(slices.Clip(up.MeasuredMbps), UplinkReading{Value: e.Fact.Value, At: e.At})
		r.Uplink = &up
	case e.Path == "uplink/estimateMbps":
		up := Uplink{}
		if r.Uplink != nil {
			up = *r.Uplink
		}
		up.EstimateMbps = e.Fact
		r.Uplink = &up
	case len(parts) == 4 && parts[0] == "show" && parts[1] == "destinations":
		n, bad := strconv.Atoi(parts[2])
		if bad != nil || n < 0 || n >= len(r.Show.Destinations) {
			return fmt.Errorf("path %q: no such destination", e.Path)
		}
		r.Show.Destinations = slices.Clone(r.Show.Destinations)
		switch parts[3] {
		case "videoKbps":
			r.Show.Destinations[n].Send.VideoKbps = e.Fact
		case "audioKbps":
			r.Show.Destinations[n].Send.AudioKbps = e.Fact
		case "takes":
			return r.Show.Destinations[n].takesAtMost(e)
		default:
			return noPath(e)
		}
	default:
		return noPath(e)
	}
	return err
}

// Profile is what a kind of destination takes at most, for when nobody has looked it up.
type Profile struct {
	Word          string
	Width, Height int
	Rate          int64
	Kbps          float64 // video
}

// Profiles are what destinations take at most as a rule [practice: handbook 5.3], the smallest first.
var Profiles = []Profile{{"720p30", 1280, 720, 30, 4000}, {"1080p30", 1920, 1080, 30, 6000}, {"1080p60", 1920, 1080, 60, 9000}, {"2160p60", 4096, 2160, 60, 50000}}

// takesAtMost fills what a destination's limits do not say yet from a profile.
func (d *Destination) takesAtMost(e *Edit) error {
	at := slices.IndexFunc(Profiles, func(p Profile) bool { return p.Word == e.Word })
	if at < 0 || e.Do != "word" {
		return fmt.Errorf("path %q: %q is not one of 720p30, 1080p30, 1080p60, 2160p60", e.Path, e.Word)
	}
	in, p := Ingest{}, &Profiles[at]
	if d.Ingest != nil {
		in = *d.Ingest
	}
	if in.MaxWidth == 0 && in.MaxHeight == 0 {
		in.MaxWidth, in.MaxHeight = p.Width, p.Height
	}
	if in.MaxRate.IsZero() {
		in.MaxRate = picture.R(p.Rate)
	}
	if in.MaxVideoKbps == 0 {
		in.MaxVideoKbps = p.Kbps
	}
	d.Ingest = &in
	return nil
}

// DeliversWord is a delivered picture as edits write it: "YUY2 1920x1080 60000/1001".
func DeliversWord(f picture.Format, w, h int, r picture.Rate) string {
	return fmt.Sprintf("%s %dx%d %s", f, w, h, r)
}

// delivers adds the one picture a device is known to deliver.
func delivers(g *gear.Gear, e *Edit) error {
	bad := fmt.Errorf("path %q: %q: want format, size and rate such as %q", e.Path, e.Word, "YUY2 1920x1080 60")
	parts := strings.Fields(e.Word)
	if e.Do != "word" || len(parts) != 3 || !slices.Contains(picture.Formats, picture.Format(parts[0])) {
		return bad
	}
	var w, h int
	if n, err := fmt.Sscanf(parts[1], "%dx%d", &w, &h); err != nil || n != 2 || w < 16 || h < 16 || w > 16384 || h > 16384 {
		return bad
	}
	rate, err := picture.ParseRate(parts[2])
	if err != nil {
		return fmt.Errorf("path %q: %w", e.Path, err)
	}
	g.Delivers = append(slices.Clip(g.Delivers), gear.Delivery{Format: picture.Format(parts[0]), Width: w, Height: h, MaxRate: rate})
	return nil
}

func noPath(e *Edit) error { return fmt.Errorf("path %q: names no %s of a rig", e.Path, e.Do) }

func (r *Rig) leadPath(id, field string, e *Edit) error {
	l := r.Lead(id)
	if l == nil {
		return fmt.Errorf("lead %q: not in this rig", id)
	}
	switch {
	case field == "lengthM" && e.Fact != nil:
		l.LengthM = *e.Fact
	case field == "grade" && e.Do == "word":
		l.Grade = e.Word
	case field == "awg" && e.Fact != nil:
		l.AWG = e.Fact
	case field == "spanM" && e.Fact != nil:
		l.SpanM = e.Fact
	case field == "reachM" && e.Fact != nil:
		l.ReachM = e.Fact
	case field == "direction" && (e.Word == "right" || e.Word == "wrong"):
		l.Direction = e.Word
	default:
		return noPath(e)
	}
	return nil
}

func itemPath(it *Item, parts []string, e *Edit) error {
	g := &it.Gear
	switch {
	case len(parts) == 1 && parts[0] == "clean":
		return choose(&g.Clean, gear.Cleans, e)
	case len(parts) == 1:
		return ownPath(g, parts[0], e)
	case parts[0] == "set" && e.Do == "word":
		return setPath(it, parts[1:], e)
	case parts[0] == "settings" && len(parts) == 3 && parts[2] == "as" && e.Do == "word":
		g.Settings = slices.Clone(g.Settings)
		if s := g.Setting(parts[1]); s != nil {
			s.As = e.Word
			return nil
		}
	case parts[0] == "worksWith" && len(parts) == 2 && e.Do == "word":
		return worksWith(g, parts[1], e)
	case parts[0] == "standby" && len(parts) == 2:
		st := gear.Standby{}
		if g.Standby != nil {
			st = *g.Standby
		}
		g.Standby = &st
		switch {
		case parts[1] == "afterMinutes" && e.Fact != nil:
			st.AfterMinutes = e.Fact
			return nil
		case parts[1] == "does":
			return choose(&st.Does, []string{"nothing", "resizes", "black", "unknown"}, e)
		}
	case parts[0] == "power" && len(parts) >= 2:
		return powerPath(g, parts[1:], e)
	case parts[0] == "ports" && len(parts) == 3 && parts[2] == "allowsMa" && e.Fact != nil && g.Port(parts[1]) >= 0:
		g.Ports = slices.Clone(g.Ports)
		g.Ports[g.Port(parts[1])].AllowsMA = e.Fact
		return nil
	case parts[0] == "ports" && len(parts) == 3 && g.Port(parts[1]) >= 0 && (parts[2] == "volts" && e.Fact != nil || parts[2] == "takes420"):
		g.Ports = slices.Clone(g.Ports)
		if p := &g.Ports[g.Port(parts[1])]; parts[2] == "takes420" {
			return choose(&p.Takes420, []string{"yes", "no", "unknown"}, e)
		} else {
			p.Volts = e.Fact
		}
		return nil
	case parts[0] == "ports" && len(parts) == 4:
		at := g.Port(parts[1])
		if at < 0 {
			return fmt.Errorf("path %q: %q has no port %q; it has %s", e.Path, it.ID, parts[1], portList(g))
		}
		g.Ports = slices.Clone(g.Ports)
		return portPath(&g.Ports[at], parts[2]+"/"+parts[3], e)
	case parts[0] == "heatLimits" && len(parts) == 3 && parts[2] == "minutes":
		n, bad := strconv.Atoi(parts[1])
		if bad != nil || n < 0 || n > len(g.HeatLimits) || e.Fact == nil {
			return noPath(e)
		}
		g.HeatLimits = slices.Clone(g.HeatLimits)
		if n == len(g.HeatLimits) { // the first that is said, of any picture
			g.HeatLimits = append(g.HeatLimits, gear.HeatLimit{})
		}
		g.HeatLimits[n].Minutes = *e.Fact
		return nil
	case parts[0] == "delivers" && len(parts) == 3 && parts[2] == "bitsPerPixel":
		n, bad := strconv.Atoi(parts[1])
		if bad != nil || n < 0 || n >= len(g.Delivers) || e.Fact == nil {
			return noPath(e)
		}
		g.Delivers = slices.Clone(g.Delivers)
		g.Delivers[n].BitsPerPixel = e.Fact
		return nil
	case parts[0] == "controllers" && len(parts) == 3 && parts[2] == "uplinkMBps" && e.Fact != nil:
		for i := range g.Controllers {
			if g.Controllers[i].ID == parts[1] {
				g.Controllers = slices.Clone(g.Controllers)
				g.Controllers[i].UplinkMBps = e.Fact
				return nil
			}
		}
	}
	return noPath(e)
}

// ownPath sets a field of the sheet itself.
func ownPath(g *gear.Gear, field string, e *Edit) error {
	switch field {
	case "protected":
		return choose(&g.Protected, []gear.Protected{gear.NeverProtected, gear.UntilTurnedOff, gear.AlwaysProtected, gear.UnknownProtected}, e)
	case "oddSizes":
		return choose(&g.OddSizes, picture.Hows, e)
	case "overview":
		return choose(&g.Overview, []string{"yes", "no", "unknown"}, e)
	case "driver":
		return choose(&g.Driver, []string{"none", "driver", "software", "unknown"}, e)
	case "usb2":
		return choose(&g.USB2, []string{"shared", "apart", "unknown"}, e)
	case "usb2Packets":
		if e.Do == "word" && (e.Word == "4" || e.Word == "5") {
			g.USB2Packets = int(e.Word[0] - '0')
			return nil
		}
	case "delivers":
		return delivers(g, e)
	case "busMBps":
		if e.Fact != nil {
			g.BusMBps = e.Fact
			return nil
		}
	case "recordLimitMinutes":
		if e.Fact != nil {
			g.RecordLimitMinutes = e.Fact
			return nil
		}
	}
	return noPath(e)
}

// setPath sets how an item stands for this show.
func setPath(it *Item, parts []string, e *Edit) error {
	set := Set{}
	if it.Set != nil {
		set = *it.Set
	}
	it.Set = &set
	switch {
	case len(parts) == 2 && parts[0] == "settings":
		if it.Gear.Setting(parts[1]) == nil {
			return fmt.Errorf("path %q: %q has no setting %q", e.Path, it.ID, parts[1])
		}
		set.Settings = maps.Clone(set.Settings)
		if set.Settings == nil {
			set.Settings = map[string]string{}
		}
		set.Settings[parts[1]] = e.Word
	case len(parts) == 1 && parts[0] == "upright" && (e.Word == "yes" || e.Word == "no"):
		set.Upright = e.Word == "yes"
	case len(parts) == 1 && parts[0] == "spares":
		n, err := strconv.Atoi(e.Word)
		if err != nil || n < 0 || n > 50 {
			return fmt.Errorf("path %q: %q: want a whole number from 0 to 50", e.Path, e.Word)
		}
		set.Spares = n
	case len(parts) == 1 && parts[0] == "protection":
		return choose(&set.Protection, []string{"on", "off"}, e)
	case len(parts) == 1 && parts[0] == "shutter":
		exposure, err := picture.ParseExposure(e.Word)
		if err != nil {
			return fmt.Errorf("path %q: %w", e.Path, err)
		}
		set.Shutter = exposure
	default:
		return noPath(e)
	}
	return nil
}

// worksWith notes what happened with a program.
func worksWith(g *gear.Gear, program string, e *Edit) error {
	if !slices.Contains([]string{"works", "badly", "no", "untested"}, e.Word) {
		return fmt.Errorf("path %q: %q is not one of works, badly, no, untested", e.Path, e.Word)
	}
	g.WorksWith = slices.Clone(g.WorksWith)
	for i := range g.WorksWith {
		if g.WorksWith[i].Program == program {
			g.WorksWith[i].Works, g.WorksWith[i].At = e.Word, e.At
			return nil
		}
	}
	g.WorksWith = append(g.WorksWith, gear.Experience{Program: program, Works: e.Word, At: e.At})
	return nil
}

func powerPath(g *gear.Gear, parts []string, e *Edit) error {
	p := gear.Power{}
	if g.Power != nil {
		p = *g.Power
	}
	g.Power = &p
	switch {
	case parts[0] == "mains":
		return choose(&p.Mains, []gear.MainsPossible{gear.MainsYes, gear.MainsDummy, gear.MainsNo, gear.MainsUnknown}, e)
	case parts[0] == "selfPowered":
		return choose(&p.SelfPowered, []string{"yes", "no", "unknown"}, e)
	case parts[0] == "usb":
		return choose(&p.USB, []string{"runs", "charges", "no", "unknown"}, e)
	case len(parts) == 1 && e.Fact != nil && powerFacts(&p)[parts[0]] != nil:
		*powerFacts(&p)[parts[0]] = e.Fact
		return nil
	case parts[0] == "battery" && len(parts) == 2 && e.Fact != nil && (p.Battery != nil || g.Kind == gear.Camera || g.Kind == gear.Phone || g.Kind == gear.PowerBank):
		b := gear.DefaultBattery // what is not said yet stays wide
		if g.Kind == gear.PowerBank {
			b = gear.BatteryPack{MAh: gear.DefaultBankMAh, Volts: gear.BankVolts}
		}
		if p.Battery != nil {
			b = *p.Battery
		}
		p.Battery = &b
		switch parts[1] {
		case "mAh":
			b.MAh = *e.Fact
			return nil
		case "volts":
			b.Volts = *e.Fact
			return nil
		case "usableShare":
			b.UsableShare = e.Fact
			return nil
		}
	}
	return noPath(e)
}

// powerFacts are the numbers of a power sheet by name.
func powerFacts(p *gear.Power) map[string]**fact.Fact {
	return map[string]**fact.Fact{"drawW": &p.DrawW, "supplyW": &p.SupplyW, "supplyVolts": &p.SupplyVolts, "chargesW": &p.ChargesW, "powerFactor": &p.PowerFactor,
		"ratedA": &p.RatedA, "limitW": &p.LimitW, "limitVA": &p.LimitVA, "efficiency": &p.Efficiency}
}

func portPath(p *gear.Port, field string, e *Edit) error {
	switch field {
	case "hdmi/maxTmdsMHz", "hdmi/fixedRate":
		h := gear.HDMIPort{}
		if p.HDMI != nil {
			h = *p.HDMI
		}
		p.HDMI = &h
		if field == "hdmi/fixedRate" {
			return choose(&h.FixedRate, append(slices.Clone(hdmi.FRLs), hdmi.UnknownFRL, hdmi.SaidNone), e)
		}
		if e.Fact == nil {
			return noPath(e)
		}
		h.MaxTMDSMHz = e.Fact
		return nil
	case "sdi/link", "sdi/level":
		s := gear.SDIPort{Link: sdi.UnknownLink}
		if p.SDI != nil {
			s = *p.SDI
		}
		p.SDI = &s
		if field == "sdi/link" {
			return choose(&s.Link, append(slices.Clone(sdi.Links), sdi.UnknownLink), e)
		}
		return choose(&s.Level, []sdi.Level{sdi.LevelA, sdi.LevelB, sdi.BothLevels, sdi.UnknownLevel}, e)
	case "slot/wired":
		if e.Do != "word" {
			return noPath(e)
		}
		link, err := pcie.Parse(e.Word)
		if err != nil {
			return fmt.Errorf("path %q: %w", e.Path, err)
		}
		slot := gear.Slot{}
		if p.Slot != nil {
			slot = *p.Slot
		}
		slot.Link = link
		p.Slot = &slot
		return nil
	case "slot/sharing":
		if p.Slot == nil {
			return fmt.Errorf("path %q: nobody has said yet how the slot is wired", e.Path)
		}
		slot := *p.Slot
		p.Slot = &slot
		return choose(&slot.Sharing, []string{"whole", "half", "off", "unknown"}, e)
	case "usb/reservesMBps":
		if e.Fact == nil {
			return noPath(e)
		}
		u := gear.USBPort{Speed: usb.UnknownSpeed}
		if p.USB != nil {
			u = *p.USB
		}
		u.ReservesMBps = e.Fact
		p.USB = &u
		return nil
	case "usb/speed", "usb/transfer":
		u := gear.USBPort{Speed: usb.UnknownSpeed}
		if p.USB != nil {
			u = *p.USB
		}
		p.USB = &u
		if field == "usb/speed" {
			return choose(&u.Speed, append(slices.Clone(usb.Speeds), usb.UnknownSpeed), e)
		}
		return choose(&u.Transfer, []usb.Transfer{usb.Bulk, usb.Isochronous, usb.UnknownTransfer}, e)
	}
	return noPath(e)
}

// choose sets a field to the edit's word when the list allows it.
func choose[T ~string](field *T, allowed []T, e *Edit) error {
	if e.Do != "word" {
		return noPath(e)
	}
	for _, a := range allowed {
		if string(a) == e.Word {
			*field = a
			return nil
		}
	}
	return fmt.Errorf("path %q: %q is not one of %v", e.Path, e.Word, allowed)
}

// FactAt gives the fact a numeric path names, or an error when it names none or is not set.
func (r *Rig) FactAt(path string) (fact.Fact, error) {
	for _, f := range r.Facts() {
		if f.Path == path {
			return f.Fact, nil
		}
	}
	return fact.Fact{}, fmt.Errorf("path %q: no such fact in this rig", path)
}

// NamedFact is a numeric fact with its path.
type NamedFact struct {
	Path string
	Fact fact.Fact
}

// Facts lists every numeric fact the rig states, with its path.
func (r *Rig) Facts() []NamedFact {
	var out []NamedFact
	add := func(f *fact.Fact, format string, args ...any) {
		if f != nil {
			out = append(out, NamedFact{fmt.Sprintf(format, args...), *f})
		}
	}
	for i := range r.Leads {
		add(&r.Leads[i].LengthM, "leads/%s/lengthM", r.Leads[i].ID)
		add(r.Leads[i].ReachM, "leads/%s/reachM", r.Leads[i].ID)
	}
	for i := range r.Items {
		id, g := r.Items[i].ID, &r.Items[i].Gear
		for j := range g.Ports {
			if h := g.Ports[j].HDMI; h != nil {
				add(h.MaxTMDSMHz, "items/%s/ports/%s/hdmi/maxTmdsMHz", id, g.Ports[j].ID)
			}
		}
		for j := range g.Delivers {
			add(g.Delivers[j].BitsPerPixel, "items/%s/delivers/%d/bitsPerPixel", id, j)
		}
		for j := range g.Controllers {
			add(g.Controllers[j].UplinkMBps, "items/%s/controllers/%s/uplinkMBps", id, g.Controllers[j].ID)
		}
		add(g.BusMBps, "items/%s/busMBps", id)
		add(g.RecordLimitMinutes, "items/%s/recordLimitMinutes", id)
		if g.Standby != nil {
			add(g.Standby.AfterMinutes, "items/%s/standby/afterMinutes", id)
		}
		if p := g.Power; p != nil {
			facts := powerFacts(p)
			for _, name := range sortedKeys(facts) {
				add(*facts[name], "items/%s/power/"+name, id)
			}
			if b := p.Battery; b != nil {
				add(&b.MAh, "items/%s/power/battery/mAh", id)
				add(&b.Volts, "items/%s/power/battery/volts", id)
				add(b.UsableShare, "items/%s/power/battery/usableShare", id)
			}
		}
	}
	if r.Uplink != nil {
		add(r.Uplink.EstimateMbps, "uplink/estimateMbps")
	}
	for i := range r.Show.Destinations {
		add(r.Show.Destinations[i].Send.VideoKbps, "show/destinations/%d/videoKbps", i)
		add(r.Show.Destinations[i].Send.AudioKbps, "show/destinations/%d/audioKbps", i)
	}
	return out
}
