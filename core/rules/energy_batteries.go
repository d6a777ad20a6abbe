package rules

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/say"
)

var RunTime = rule(Rule{
	Name:    "run-time",
	Asks:    "Does what a camera runs on last for set-up, rehearsal and show?",
	Sum:     "set-up + rehearsal + show ≤ Wh × usable share ÷ W",
	Sense:   limit.AtMost,
	Unit:    "min",
	Many:    "what they run on may not last",
	Over:    limit.Drops,
	Subject: ThePower,
	Board:   Short{Open: "what does it run on?", Bad: "cannot run on that"},
	Source:  estimate("Run time = Wh × usable share ÷ draw"),
	Example: "1080 mAh at 7.2 V is 7.8 Wh; with 0.9 usable and 6.5 W it runs 65 min. A show needing 195 min snaps.",
	Say:     sayRunTime,
	Judge:   Judging{AtSource: judgeRunTime, OnRig: judgeBatteries},
})

// BatteryCaution stands beside every figure of a battery.
const BatteryCaution = "Lithium batteries: maker's charger only, no swollen or damaged packs, never charge unattended or covered."

func judgeRunTime(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone {
		return // on the mains, or fed by the socket it is plugged into
	}
	s := &p.Show
	l := Result{Where: p.WithShow(w)}
	need := s.SetupMinutes + s.RehearsalMinutes + s.Minutes
	runs := plans.RunsOn(p.Rig, it)
	switch runs {
	case "":
		l.Sense, l.Outcomes = limit.Fits, limit.Maybe
		mains := limit.Untested
		if pw := it.Gear.Power; pw != nil && (pw.Mains == gear.MainsYes || pw.Mains == gear.MainsDummy) {
			mains = limit.Slack
		} else if pw != nil && pw.Mains == gear.MainsNo {
			mains = limit.Snapped
		}
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/set/runsOn", it.ID),
			limit.OneOf(limit.Would("mains", mains), limit.Would("battery", limit.Untested),
				limit.Would("usb", limit.Untested))))
		l.Facts[0].Word = "not said"
		l.Say = func(w *Words) { againstClock(w, it); w.Says = w.T("Nobody has said what %s runs on.", it.Label) }
		p.Add(w.Hop, own, it.ID, &l)
		return
	case "mains":
		judgeOnMains(p, own, w, &l, it)
		return
	}
	l.Loads = p.LoadOf(it.ID, limit.Times(need))
	room := 4
	if runs == "usb" { // what comes in, and a bank
		room = 10
	}
	l.Facts = packFacts(p.Mem.Facts.Room(room), it)
	if runs == "usb" {
		judgeFedByUSB(p, own, w, &l, it, need)
		return
	}
	packs := packsOf(it, runs)
	// WattHours × usable ÷ draw, as power.RunMinutes has it, with 1 for every fact.
	l.Caps = p.CapAt(limit.Times(packs*power.RunMinutes(power.WattHours(1, 1), 1, 1), 1, 2, 3).Per(4))
	p.Add(w.Hop, own, it.ID, &l)
}

// packsOf is how many packs of its own an item has with it.
func packsOf(it *rig.Item, runs string) float64 {
	packs := 1.0
	if runs == "grip" {
		packs = 2
	}
	if it.Set != nil {
		packs += float64(it.Set.Spares)
	}
	return packs
}

func sayRunTime(w *Words) { sayRunTimeOf(w, w.Result.Hop.Item, w.Result.Facts) }

// sayRunTimeOf words how long a battery lasts.
func sayRunTimeOf(w *Words, it *rig.Item, f []limit.Fact) {
	againstClock(w, it)
	w.Loads[0].Sum = needSum(w.Rig)
	w.Sum = w.T("%s mAh × %s V ÷ 1000 × %s usable ÷ %s W × 60", say.Number(f[0].Value), say.Number(f[1].Value),
		say.Number(f[2].Value), say.Number(f[3].Value))
	if packs := packsOf(it, plans.RunsOn(w.Rig, it)); packs > 1 {
		w.Sum = w.T("%s × ", say.Number(packs)) + w.Sum
	}
	need := say.Number(w.Result.Load.Value)
	w.Says = w.T("%s needs %s min; its battery gives %s.", it.Label, need, w.LimitText())
	if pw := it.Gear.Power; pw == nil || pw.Battery == nil {
		w.Says = w.T("%s needs %s min; nobody has described its battery.", it.Label, need)
	}
}

// againstClock names what is judged of an item's power.
func againstClock(w *Words, it *rig.Item) {
	w.What, w.Caution = w.T("Power of %s against the clock", it.Label), BatteryCaution
}

func needSum(r *rig.Rig) string {
	s := &r.Show
	return lang.Text("%s set-up + %s rehearsal + %s show", say.Number(s.SetupMinutes), say.Number(s.RehearsalMinutes),
		say.Number(s.Minutes))
}

// packFacts adds the four facts of a battery to a list: mAh, volts, usable share, draw.
func packFacts(to []limit.Fact, it *rig.Item) []limit.Fact {
	pack := &gear.DefaultBattery
	if it.Gear.Power != nil && it.Gear.Power.Battery != nil {
		pack = it.Gear.Power.Battery
	}
	return append(to,
		limit.Of(limit.At("items/ID/power/battery/mAh", it.ID), "mAh", pack.MAh),
		limit.Of(limit.At("items/ID/power/battery/volts", it.ID), "V", pack.Volts),
		limit.Stated(limit.At("items/ID/power/battery/usableShare", it.ID), "", pack.UsableShare, gear.DefaultUsable),
		plans.DrawFact(it),
	)
}

// judgeOnMains judges a camera on the mains: no end, when it can run so.
func judgeOnMains(p *Pass, own *Rule, w *Walk, l *Result, it *rig.Item) {
	l.Sense = limit.Fits
	can := gear.MainsUnknown
	if it.Gear.Power != nil && it.Gear.Power.Mains != "" {
		can = it.Gear.Power.Mains
	}
	text := lang.Text("Nobody has said whether %s can run on the mains.")
	switch can {
	case gear.MainsYes, gear.MainsDummy:
		l.Outcomes, text = limit.Yes, lang.Text("%s runs on the mains: no end.")
	case gear.MainsNo:
		l.Outcomes, text = limit.No, lang.Text("%s is meant to run on the mains, and its sheet says it cannot.")
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/power/mains", it.ID),
			limit.OneOf(limit.Would(string(gear.MainsYes), limit.Slack), limit.Would(string(gear.MainsDummy),
				limit.Slack), limit.Would(string(gear.MainsNo), limit.Snapped))))
	}
	l.Say = says("Power of %s against the clock", text, it.Label)
	p.Add(w.Hop, own, it.ID, l)
}

// judgeFedByUSB judges a camera on power by USB: no end while what comes in is what it draws, else its own battery
// makes up for the rest; a bank is finite, however strong its socket. A bank that several things hang on is shared by
// what they draw.
func judgeFedByUSB(p *Pass, own *Rule, w *Walk, l *Result, it *rig.Item, need float64) {
	supply, giver, why := suppliedByUSB(p, it)
	l.Where = plans.Merge(l.Where, []string{it.ID})
	if giver != nil {
		l.Where = plans.Merge(l.Where, []string{giver.ID})
	}
	if it.Gear.Power == nil || it.Gear.Power.Battery == nil {
		// it may have none: then it lives as long as what feeds it
		l.Facts[0].Low = 0
	}
	comesIn := l.Let(supply)
	// Watt-hours the bank has, and the watts of everything on it.
	var bank limit.Ref
	var others []limit.Ref
	banks := 1.0
	if giver != nil && giver.Gear.Kind == gear.PowerBank {
		pack := gear.BatteryPack{MAh: gear.DefaultBankMAh, Volts: gear.BankVolts}
		if giver.Gear.Power != nil && giver.Gear.Power.Battery != nil {
			pack = *giver.Gear.Power.Battery
		}
		if giver.Set != nil { // one after another
			banks += float64(giver.Set.Spares)
		}
		bank = l.Let(limit.Of(limit.At("items/ID/power/battery/mAh", giver.ID), "mAh", pack.MAh))
		l.Let(limit.Of(limit.At("items/ID/power/battery/volts", giver.ID), "V", pack.Volts))
		l.Let(bankShare(giver.ID, pack.UsableShare))
		for i := range p.Items {
			o := &p.Items[i]
			if o.ID == it.ID || o.PoweredBy != giver.ID {
				continue
			}
			l.Where = plans.Merge(l.Where, []string{o.ID})
			others = append(others, l.Let(plans.DrawFact(o)))
		}
	}
	l.CapOf = func(f []limit.Fact) limit.Bounds {
		minutes := func(gives, takes func(*limit.Fact) float64) float64 {
			draw, in := takes(&f[3]), gives(&f[comesIn-1])
			if bank == 0 && in >= draw {
				return limit.Endless
			}
			own := power.WattHours(gives(&f[0]), gives(&f[1])) * gives(&f[2])
			left, alone := limit.Endless, limit.Endless
			if bank != 0 { // min((Ebank + Eown) ÷ P, Eown ÷ (P − S))
				holds, rest := power.WattHours(gives(&f[bank-1]), gives(&f[bank]))*gives(&f[bank+1])*
					power.BankConverter*banks, 0.0
				for _, o := range others {
					rest += takes(&f[o-1])
				}
				left = limit.Divide(holds, draw+rest) + limit.Divide(own, draw)
			}
			if in < draw {
				alone = limit.Divide(own, draw-in)
			}
			return 60 * min(left, alone, limit.Endless/60)
		}
		low := func(f *limit.Fact) float64 { return f.Low }
		value := func(f *limit.Fact) float64 { return f.Value }
		high := func(f *limit.Fact) float64 { return f.High }
		return limit.Bounds{Low: minutes(low, high), Value: minutes(value, value), High: minutes(high, low)}
	}
	l.Say = func(w *Words) {
		againstClock(w, it)
		from := lang.Text("nothing named")
		if giver != nil {
			from = giver.Label
		}
		r := w.Result
		w.Loads[0].Sum, w.Sum = needSum(w.Rig),
			lang.Text("what comes in less what it draws comes out of its battery; a bank ends when it is empty")
		w.Facts[comesIn-1].Name = why()
		draw, in := &r.Facts[3], r.Fact(comesIn)
		switch {
		case r.Sure >= limit.Endless/2:
			w.Says = w.T("%s runs on power by USB from %s: at least %s W for at most %s W, no end.", it.Label, from,
				say.Number(in.Low), say.Number(draw.High))
		case bank != 0 && banks > 1:
			w.Says = w.T("%s needs %s min; %s like %s, one after another, and its own battery give %s.", it.Label,
				say.Number(need), say.Number(banks), from, w.LimitText())
		case bank != 0:
			w.Says = w.T("%s needs %s min; %s and its own battery give %s.", it.Label, say.Number(need), from,
				w.LimitText())
		default:
			w.Says = w.T("%s draws %s and gets %s from %s: the battery makes up for the rest and lasts %s of the %s min needed.",
				it.Label,
				say.Span(draw.Low, draw.High, "W"), say.Span(in.Low, in.High, "W"), from, w.LimitText(),
				say.Number(need))
		}
	}
	p.Add(w.Hop, own, it.ID, l)
}

// bankShare is the share of a bank's rating that is left of it: as stated, else by its age, which is asked in one tap
// [estimate].
func bankShare(id string, said *fact.Fact) limit.Fact {
	const field = "items/ID/power/battery/usableShare"
	f := limit.Stated(limit.At(field, id), "", said, fact.Est(0.8, 0.35, 1))
	if said == nil {
		f.Open = func() []limit.Option {
			age := func(word, label string, low, value, high float64) limit.Option {
				share := fact.Est(value, low, high)
				return limit.Option{Word: word, Label: lang.Text(label), Number: value,
					Do: []rig.Edit{{Do: "fact", Path: limit.At(field, id).Path(), Fact: &share}}}
			}
			return []limit.Option{age("new", "New", 0.9, 0.95, 1), age("some-years", "Some years old", 0.6, 0.75, 0.9),
				age("old", "Old", 0.35, 0.5, 0.7)}
		}
	}
	return f
}

// suppliedByUSB is what power by USB gives a camera, in watts, what gives it (the thing named, else what its USB lead
// is plugged into), and what that is called. Nothing when the camera cannot run on it.
func suppliedByUSB(p *Pass, it *rig.Item) (f limit.Fact, giver *rig.Item, name func() string) {
	giver = p.Item(it.PoweredBy)
	var port *gear.Port
	if giver == nil {
		giver, port = pluggedInto(p, it)
	}
	none := limit.Fact{Unit: "W", From: fact.Estimate}
	mode := "unknown"
	if it.Gear.Power != nil && it.Gear.Power.USB != "" {
		mode = it.Gear.Power.USB
	}
	switch {
	case mode == "no" || mode == "charges":
		return none, giver, func() string {
			return lang.Text("what %s gets by USB: its sheet says USB %s it", it.Label,
				map[string]string{"no": "does not run", "charges": "only charges"}[mode])
		}
	case giver != nil && (giver.Gear.Kind == gear.Strip || giver.Gear.Kind == gear.UPS) &&
		!slices.ContainsFunc(giver.Gear.Ports, func(p gear.Port) bool {
			return p.Connector.Family() == gear.USBFamily
		}):
		return none, giver, func() string {
			return lang.Text("what %s gives by USB: nothing, as far as its sheet says", giver.Label)
		}
	case giver == nil:
		return none, nil, func() string {
			return lang.Text("what %s gets by USB: nobody has named what gives it", it.Label)
		}
	}
	gives := fact.Est(4.5, 2.5, 100)
	k := limit.Key{}
	if pw := giver.Gear.Power; pw != nil && pw.SupplyW != nil && giver.Gear.Kind != gear.Computer &&
		giver.Gear.Kind != gear.Hub && giver.Gear.Kind != gear.Dock {
		gives, k = *pw.SupplyW, limit.At("items/ID/power/supplyW", giver.ID)
	} else {
		if port == nil {
			for i := range giver.Gear.Ports {
				if giver.Gear.Ports[i].Direction == gear.Downstream && giver.Gear.Ports[i].Connector.Family() ==
					gear.USBFamily {
					port = &giver.Gear.Ports[i]
					break
				}
			}
		}
		if port != nil { // asked for in milliamperes where the socket's current is judged
			f := port.Allows()
			gives = fact.Fact{Value: f.Value * power.VBus / 1000, Low: f.Low * power.VBus / 1000,
				High: f.High * power.VBus / 1000, From: f.From}
		}
	}
	f = limit.Of(k, "W", gives)
	if port != nil && k.IsZero() && !f.Narrow() {
		f.Key, f.Open = limit.Part("items/ID/ports/PORT/allowsMa", giver.ID, port.ID),
			givenMA(giver.ID, port.ID, f.Low, f.High)
	}
	if mode == "unknown" {
		most := f.High
		f.Low = 0 // it may only charge, or do nothing
		f.Key = limit.At("items/ID/power/usb", it.ID)
		f.Options = &[]limit.Option{{Word: "runs", Number: most}, {Word: "charges"}, {Word: "no"}}
	}
	return f, giver, func() string { return lang.Text("what %s gives by USB", giver.Label) }
}

// givenMA are what a bank's socket may be made for, as the watts it then gives at 5 V; each is printed beside the
// socket.
func givenMA(item, port string, low, high float64) func() []limit.Option {
	return func() (out []limit.Option) {
		for _, ma := range []float64{500, 900, 1500, 2000, 2400, 3000} {
			w := ma * power.VBus / 1000
			if w < low || w > high {
				continue
			}
			given := fact.Exactly(ma)
			out = append(out, limit.Option{Word: say.Number(ma), Label: lang.Text("5 V, %s A: %s W",
				say.Number(ma/1000), say.Number(w)), Number: w,
				Do: []rig.Edit{{Do: "fact", Path: "items/" + item + "/ports/" + port + "/allowsMa", Fact: &given}}})
		}
		return out
	}
}

// pluggedInto is what an item's USB lead goes into, and the socket; nil when it has none.
func pluggedInto(p *Pass, it *rig.Item) (*rig.Item, *gear.Port) {
	at := p.Wiring.At(it.ID)
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction != gear.Upstream || it.Gear.Ports[j].Connector.Family() != gear.USBFamily {
			continue
		}
		for up := range p.Wiring.Up(at, j) {
			above := &p.Items[up.Item]
			return above, &above.Gear.Ports[up.Socket]
		}
	}
	return nil, nil
}

// cells are a pair of small cells, charged or alkaline: 4 to 8 Wh [estimate]. A radio transmitter takes
// 0.2 to 0.7 W.
var (
	cells     = gear.BatteryPack{MAh: fact.Est(2200, 1700, 2700), Volts: fact.Est(2.6, 2.4, 3)}
	radioDraw = fact.Est(0.4, 0.2, 0.7)
)

// judgeBatteries judges whatever else on the way to air may live on a battery as cameras are: radio microphones and
// their receivers, interfaces, recorders and converters that have one, the computer off the mains.
func judgeBatteries(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Items {
		it := &p.Items[i]
		if it.Gear.Kind == gear.Camera || it.Gear.Kind == gear.Phone || !mayRunOut(p, it) {
			continue
		}
		judgeBattery(p, own, it)
	}
}

// mayRunOut tells whether a thing on the way to air may live on a battery: it has one, hangs on a bank, is said to run
// on one, or is of a kind that has, and nobody said otherwise.
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
	return heardBy(p, it.ID) && (it.Gear.Kind == gear.WirelessSound || plans.SoundOf(it).Needs == "battery" ||
		it.Gear.Kind == gear.Microphone && unfed(p, it))
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
			l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/needs", it.ID),
				limit.OneOf(limit.Would("none", limit.Slack), limit.Would("phantom", limit.Slack),
					limit.Would("plug-in", limit.Slack), limit.Would("battery", limit.Untested))))
			l.Say = func(w *Words) {
				againstClock(w, it)
				w.Says = w.T("Nobody has said what feeds %s: a battery of its own ends.", it.Label)
			}
			p.Add(nil, own, it.ID, &l)
			return
		}
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/set/runsOn", it.ID),
			limit.OneOf(limit.Would("mains", limit.Slack), limit.Would("usb", limit.Slack),
				limit.Would("battery", limit.Untested))))
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
