package rules

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/power"
	"eventether/core/rig"
)

// cells are a pair of small cells, charged or alkaline: 4 to 8 Wh [estimate: handbook 4.2]. A radio transmitter takes 0.2 to 0.7 W.
var (
	cells     = gear.BatteryPack{MAh: fact.Est(2200, 1700, 2700), Volts: fact.Est(2.6, 2.4, 3)}
	radioDraw = fact.Est(0.4, 0.2, 0.7)
)

// judgeBatteries judges whatever else on the way to air may live on a battery as cameras are: radio microphones and their receivers,
// interfaces, recorders and converters that have one, the computer off the mains.
func judgeBatteries(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		if it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Phone || !mayRunOut(p, it) {
			continue
		}
		judgeBattery(p, own, it)
	}
}

// mayRunOut tells whether a thing on the way to air may live on a battery: it has one, hangs on a bank, is said to run on one, or is
// of a kind that has, and nobody said otherwise.
func mayRunOut(p *Pass, it *rig.Item) bool {
	switch it.Gear.Kind {
	case gear.PowerBank, gear.UPS, gear.Battery, gear.Supply, gear.Strip, gear.Lamp:
		return false
	}
	if giver := p.Item(it.PoweredBy); giver != nil && giver.Gear.Kind == gear.PowerBank {
		return true
	}
	if it.Gear.Kind == gear.Computer {
		return it.Set != nil && it.Set.RunsOn != ""
	}
	if it.Gear.Power != nil && it.Gear.Power.Battery != nil || it.Set != nil && it.Set.RunsOn != "" {
		return true
	}
	return heardBy(p, it.ID) && (it.Gear.Kind == gear.WirelessSound || plans.SoundOf(it).Needs == "battery" || it.Gear.Kind == gear.Microphone && unfed(p, it))
}

// unfed tells whether nobody has said what feeds a microphone, and no USB plug does.
func unfed(p *Pass, it *rig.Item) bool {
	if needs := plans.SoundOf(it).Needs; needs != "" && needs != "unknown" {
		return false
	}
	for i := range it.Gear.Ports {
		if it.Gear.Ports[i].Direction == gear.Upstream {
			return false
		}
	}
	return true
}

// heardBy tells whether a voice that is not muted comes by a thing.
func heardBy(p *Pass, id string) bool {
	if p.Sound == nil {
		return false
	}
	for i := range p.Sound.Paths {
		path := &p.Sound.Paths[i]
		if on, _ := p.On(i); on == "muted" {
			continue
		}
		if path.From == id {
			return true
		}
		for _, via := range path.Via {
			if via == id {
				return true
			}
		}
	}
	return false
}

func judgeBattery(p *Pass, own *Rule, it *rig.Item) {
	s := &p.Show
	need := s.SetupMinutes + s.RehearsalMinutes + s.Minutes
	l := Result{Stage: plans.Send, Shared: true, Where: []string{it.ID, "show", "sound"}}
	runs := plans.RunsOn(p.Rig, it)
	if runs == "" && plans.SoundOf(it).Needs == "battery" {
		runs = "battery"
	}
	switch runs {
	case "mains":
		l.Sense, l.Outcomes = limit.Fits, limit.Yes
		l.Say = says("Power of %s against the clock", "%s runs on the mains: no end.", it.Label)
		p.Add(nil, own, it.ID, &l)
		return
	case "usb":
		l.Loads, l.Facts = p.LoadOf(it.ID, limit.Times(need)), append(p.Mem.Facts.Room(10), otherPack(p, it)...)
		judgeFedByUSB(p, own, &Walk{}, &l, it, need)
		return
	case "":
		l.Sense, l.Outcomes = limit.Fits, limit.Maybe
		if it.Gear.Kind == gear.Microphone && unfed(p, it) {
			l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/needs", it.ID), limit.OneOf(limit.Would("none", limit.Slack), limit.Would("phantom", limit.Slack), limit.Would("plug-in", limit.Slack), limit.Would("battery", limit.Untested))))
			l.Say = func(w *Words) {
				againstClock(w, it)
				w.Says = w.T("Nobody has said what feeds %s: a battery of its own ends.", it.Label)
			}
			p.Add(nil, own, it.ID, &l)
			return
		}
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/set/runsOn", it.ID), limit.OneOf(limit.Would("mains", limit.Slack), limit.Would("usb", limit.Slack), limit.Would("battery", limit.Untested))))
		l.Facts[0].Word = "not said"
		l.Say = func(w *Words) { againstClock(w, it); w.Says = w.T("Nobody has said what %s runs on.", it.Label) }
		p.Add(nil, own, it.ID, &l)
		return
	}
	l.Facts = append(p.Mem.Facts.Room(4), otherPack(p, it)...)
	l.Loads = p.LoadOf(it.ID, limit.Times(need))
	l.Caps = p.CapAt(limit.Times(packsOf(it, runs)*power.RunMinutes(power.WattHours(1, 1), 1, 1), 1, 2, 3).Per(4))
	l.Say = func(w *Words) { sayRunTimeOf(w, it, w.Result.Facts) }
	p.Add(nil, own, it.ID, &l)
}

// otherPack are the four facts of a battery that is no camera's: mAh, volts, usable share, draw.
func otherPack(p *Pass, it *rig.Item) []limit.Fact {
	pack, draw := cells, radioDraw
	if it.Gear.Power != nil && it.Gear.Power.Battery != nil {
		pack = *it.Gear.Power.Battery
	} else if it.Gear.Kind != gear.Microphone && it.Gear.Kind != gear.WirelessSound {
		pack = gear.DefaultBattery
	}
	if it.Gear.Kind != gear.Microphone { // a set of transmitter and receiver takes more than a transmitter
		draw = (&gear.Gear{Kind: it.Gear.Kind, Class: it.Gear.Class}).Draws()
	}
	var said *fact.Fact
	if it.Gear.Power != nil {
		said = it.Gear.Power.DrawW
	}
	return []limit.Fact{
		limit.Of(limit.At("items/ID/power/battery/mAh", it.ID), "mAh", pack.MAh),
		limit.Of(limit.At("items/ID/power/battery/volts", it.ID), "V", pack.Volts),
		limit.Stated(limit.At("items/ID/power/battery/usableShare", it.ID), "", pack.UsableShare, gear.DefaultUsable),
		limit.Stated(limit.At("items/ID/power/drawW", it.ID), "W", said, draw),
	}
}
