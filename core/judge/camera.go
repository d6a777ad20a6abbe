package judge

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// source judges the camera and its picture socket: clean output, battery against the clock, the mode it sends.
// Handbook 2.1, 2.2, 4.2.
func (p *pass) source(w *walk, it *rig.Item, out int) {
	hop := w.at(AtCamera, "item", it.ID, it.Label, it.Gear.Name)
	p.clean(hop, w, it, out)
	p.device(hop, w, it, out)
	p.runTime(hop, w, it)
	p.light(hop, w, it, out)
	p.heat(hop, w, it, out)
	if out < 0 {
		w.at(AtSocket, "item", it.ID, "no picture output", "")
		return
	}
	port := &it.Gear.Ports[out]
	if port.Direction == gear.Upstream {
		w.at(AtSocket, "port", it.ID+"."+port.ID, rig.PortName(port), "its own USB")
		return
	}
	p.sent(w, it, port)
}

func (p *pass) clean(hop *Hop, w *walk, it *rig.Item, out int) {
	if out < 0 || it.Gear.Ports[out].Direction != gear.Out {
		return
	}
	l := Limit{ID: "clean:" + it.ID, Rule: "clean", Sense: Fits, Where: w.deps(), What: p.say("Clean picture from %s", it.Label),
		Source: Source{fact.Practice, "Handbook 2.1: nothing drawn over the picture that goes to air"}}
	off := it.Set == nil || it.Set.InfoDisplay != "on" // not said is proposed off
	switch it.Gear.Clean {
	case gear.AlwaysClean:
		l.outcomes, l.Says = yes, p.say("%s sends no menus or boxes.", it.Label)
	case gear.AfterSetting:
		switch {
		case !off:
			l.outcomes, l.Says = no, p.say("%s shows its information display in the picture until it is turned off.", it.Label)
		case it.Set == nil || it.Set.InfoDisplay == "":
			l.outcomes, l.Says = yes, p.say("%s is clean with its information display off, which is proposed.", it.Label)
		default:
			l.outcomes, l.Says = yes, p.say("%s is clean: its information display is off.", it.Label)
		}
	case gear.NeverClean:
		l.outcomes, l.Says = no, p.say("%s never sends a clean picture by this output.", it.Label)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has looked whether %s draws menus or boxes over its picture.", it.Label)
		l.Facts = p.facts.of(p.cleanBasis(it, off))
	}
	p.add(hop, &l)
}

func (p *pass) cleanBasis(it *rig.Item, off bool) Basis {
	path := p.path("items", it.ID, "clean")
	after := afterSetting(off)
	if p.quiet {
		return Basis{}
	}
	word := func(c gear.Clean) []rig.Edit { return []rig.Edit{{Do: "word", Path: path, Word: string(c)}} }
	return Basis{Path: path, Name: "clean output of " + it.Label, Word: string(gear.UnknownClean), From: fact.Estimate,
		Options: []Option{
			{Word: string(gear.AlwaysClean), Label: "Clean as it comes", State: Slack},
			{Word: string(gear.AfterSetting), Label: "Clean once its display is off", State: after},
			{Word: string(gear.NeverClean), Label: "Never clean", State: Snapped},
		},
		ask: func() Ask {
			return Ask{Question: "Does " + it.Label + " send a clean picture, without menus, boxes or borders?",
				How:     "Feed on the screen; half-press focus, change exposure, wait past the idle time, start and stop a recording.",
				Minutes: 5, Edits: [][]rig.Edit{word(gear.AlwaysClean), word(gear.AfterSetting), word(gear.NeverClean)}}
		}}
}

const batteryCaution = "Lithium batteries: maker's charger only, no swollen or damaged packs, never charge unattended or covered."

// runs tells what a camera or phone runs on: as said, else its own battery when its sheet has one, else the mains when it
// has an adapter; "" when nobody has said and the sheet does not tell.
func (p *pass) runs(it *rig.Item) string {
	if it.Set != nil && it.Set.RunsOn != "" {
		return it.Set.RunsOn
	}
	if it.PoweredBy != "" {
		if giver := p.Item(it.PoweredBy); giver != nil {
			switch giver.Gear.Kind {
			case gear.Strip, gear.UPS:
				return "mains"
			case gear.PowerBank, gear.Hub, gear.Dock, gear.Computer:
				return "usb"
			}
		}
	}
	pw := it.Gear.Power
	switch {
	case pw != nil && pw.Battery != nil:
		return "battery"
	case pw != nil && pw.Mains == gear.MainsYes:
		return "mains"
	}
	return ""
}

// runTime judges set-up, rehearsal and show against what the camera runs on: the mains without end, power by USB and a
// bank as long as they hold, its own battery. Handbook 4.2.
func (p *pass) runTime(hop *Hop, w *walk, it *rig.Item) {
	if it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone {
		return // on the mains, or fed by the socket it is plugged into
	}
	s := &p.Show
	l := Limit{ID: "run-time:" + it.ID, Rule: "run-time", Unit: "min", Where: append(w.deps(), "show"), What: p.say("Power of %s against the clock", it.Label),
		Source: Source{fact.Estimate, "Handbook 4.2: run time = Wh × usable share ÷ draw"}, Caution: batteryCaution}
	need := s.SetupMinutes + s.RehearsalMinutes + s.Minutes
	switch p.runs(it) {
	case "":
		l.Sense, l.outcomes, l.Says = Fits, maybe, p.say("Nobody has said what %s runs on.", it.Label)
		l.Facts = p.facts.of(p.runsBasis(it))
		p.add(hop, &l)
		return
	case "mains":
		p.onMains(&l, it)
		p.add(hop, &l)
		return
	}
	l.Loads = p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(need),
		Sum: p.say("%s set-up + %s rehearsal + %s show", p.num(s.SetupMinutes), p.num(s.RehearsalMinutes), p.num(s.Minutes))})
	p.packFacts(&l, it)
	if p.runs(it) == "usb" {
		p.fedByUSB(hop, &l, it, need)
		return
	}
	packs := 1.0
	if p.runs(it) == "grip" {
		packs = 2
	}
	if it.Set != nil {
		packs += float64(it.Set.Spares)
	}
	// WattHours × usable ÷ draw, as power.RunMinutes has it, with 1 for every fact.
	l.caps = p.terms.of(times(packs*power.RunMinutes(power.WattHours(1, 1), 1, 1), 0, 1, 2).per(3))
	if !p.quiet {
		f := l.Facts
		l.LimitSum = p.say("%s mAh × %s V ÷ 1000 × %s usable ÷ %s W × 60", p.num(f[0].Value), p.num(f[1].Value), p.num(f[2].Value), p.num(f[3].Value))
		if packs > 1 {
			l.LimitSum = p.say("%s × ", num(packs)) + l.LimitSum
		}
	}
	kept := p.add(hop, &l)
	if !p.quiet {
		if pw := it.Gear.Power; pw == nil || pw.Battery == nil {
			kept.Says = p.say("%s needs %s min; nobody has described its battery.", it.Label, p.num(need))
		} else {
			kept.Says = p.say("%s needs %s min; its battery gives %s.", it.Label, p.num(need), p.span(kept.Possible, kept.Sure, "min"))
		}
	}
}

// packFacts puts the four facts of a battery first: mAh, volts, usable share, draw.
func (p *pass) packFacts(l *Limit, it *rig.Item) {
	pack := gear.DefaultBattery
	if it.Gear.Power != nil && it.Gear.Power.Battery != nil {
		pack = *it.Gear.Power.Battery
	}
	at := p.path("items", it.ID, "power", "")
	name := func(what string) string { return p.say("%s of %s", what, it.Label) }
	l.Facts = p.facts.of(
		basis(at+"battery/mAh", name("battery capacity"), "mAh", &pack.MAh, fact.Fact{}, p.ask("How many mAh has the battery of %s?", it.Label, "It is printed on the pack.", 1)),
		basis(at+"battery/volts", name("battery voltage"), "V", &pack.Volts, fact.Fact{}, p.ask("What voltage has the battery of %s?", it.Label, "It is printed on the pack.", 1)),
		basis(at+"battery/usableShare", name("usable share of the battery"), "", pack.UsableShare, gear.DefaultUsable, p.ask("Which share of its rating does the battery of %s still give?", it.Label, "0.9 new, 0.7 old or cold; run it down once and compare.", 90)),
		p.drawBasis(it),
	)
}

// runsBasis asks what a camera runs on.
func (p *pass) runsBasis(it *rig.Item) Basis {
	if p.quiet {
		return Basis{}
	}
	b := Basis{Path: p.path("items", it.ID, "set", "runsOn"), Name: p.say("what %s runs on", it.Label), Word: "not said", From: fact.Estimate}
	mains := Untested
	if pw := it.Gear.Power; pw != nil && (pw.Mains == gear.MainsYes || pw.Mains == gear.MainsDummy) {
		mains = Slack
	} else if pw != nil && pw.Mains == gear.MainsNo {
		mains = Snapped
	}
	var edits [][]rig.Edit
	for _, o := range []Option{{Word: "mains", Label: "The mains, by an adapter or a dummy battery", State: mains}, {Word: "battery", Label: "Its own battery", State: Untested}, {Word: "usb", Label: "Power by USB", State: Untested}} {
		b.Options = append(b.Options, o)
		edits = append(edits, []rig.Edit{{Do: "runs-on", Item: it.ID, Word: o.Word}})
	}
	b.ask = func() Ask {
		return Ask{Question: p.say("What does %s run on?", it.Label), How: "Look at what is plugged into it, and at the label of the pack.", Minutes: 1, Edits: edits}
	}
	return b
}

// onMains judges a camera on the mains: no end, when it can run so.
func (p *pass) onMains(l *Limit, it *rig.Item) {
	l.Sense, l.Caution = Fits, ""
	can := gear.MainsUnknown
	if it.Gear.Power != nil && it.Gear.Power.Mains != "" {
		can = it.Gear.Power.Mains
	}
	switch can {
	case gear.MainsYes, gear.MainsDummy:
		l.outcomes, l.Says = yes, p.say("%s runs on the mains: no end.", it.Label)
	case gear.MainsNo:
		l.outcomes, l.Says = no, p.say("%s is meant to run on the mains, and its sheet says it cannot.", it.Label)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has said whether %s can run on the mains.", it.Label)
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "power/mains"), p.say("whether %s can run on the mains", it.Label), p.say("Can %s run on the mains?", it.Label),
			"An adapter for its own socket, or a dummy battery made for it.", 5, answer{string(gear.MainsYes), "Yes, by its adapter", Slack}, answer{string(gear.MainsDummy), "Yes, by a dummy battery", Slack}, answer{string(gear.MainsNo), "No", Snapped}))
	}
}

// fedByUSB judges a camera on power by USB: no end while what comes in is what it draws, else its own battery makes up for
// the rest; a bank is finite, however strong its socket. A bank that several things hang on is shared by what they draw.
func (p *pass) fedByUSB(hop *Hop, l *Limit, it *rig.Item, need float64) {
	supply, giver := p.suppliedByUSB(it)
	l.Where = merge(l.Where, []string{it.ID})
	from := "nothing named"
	if giver != nil {
		from = giver.Label
		l.Where = merge(l.Where, []string{giver.ID})
	}
	if it.Gear.Power == nil || it.Gear.Power.Battery == nil { // it may have none: then it lives as long as what feeds it
		l.Facts[0].Low = 0
	}
	n := len(l.Facts)
	l.Facts = append(slices.Clip(l.Facts), supply)
	// Watt-hours the bank has, and the watts of everything on it.
	bankAt, others := -1, [][2]int{}
	if giver != nil && giver.Gear.Kind == gear.PowerBank {
		bankAt = len(l.Facts)
		l.Facts = append(l.Facts, p.bankFacts(giver)...)
		for i := range p.Items {
			o := &p.Items[i]
			if o.ID == it.ID || o.PoweredBy != giver.ID {
				continue
			}
			l.Where = merge(l.Where, []string{o.ID})
			others = append(others, [2]int{len(l.Facts), 0})
			l.Facts = append(l.Facts, p.drawBasis(o))
		}
	}
	l.capOf = func(f []Basis) Bounds {
		at := func(own, share, draw, in, bank, rest float64) float64 {
			e := own * share
			left, alone := endless, endless
			if bankAt >= 0 {
				left = divide(bank, draw+rest) + divide(e, draw)
			}
			if in < draw {
				alone = divide(e, draw-in)
			}
			return 60 * min(left, alone, endless/60)
		}
		pick := func(which func(*Basis) float64, heavy func(*Basis) float64) float64 {
			bank, rest := 0.0, 0.0
			if bankAt >= 0 {
				bank = power.WattHours(which(&f[bankAt]), which(&f[bankAt+1])) * power.BankConverter
			}
			for _, o := range others {
				rest += heavy(&f[o[0]])
			}
			draw, in := heavy(&f[3]), which(&f[n])
			own := power.WattHours(which(&f[0]), which(&f[1]))
			if bankAt < 0 && in >= draw {
				return endless
			}
			return at(own, which(&f[2]), draw, in, bank, rest)
		}
		low, value, high := func(b *Basis) float64 { return b.Low }, func(b *Basis) float64 { return b.Value }, func(b *Basis) float64 { return b.High }
		return Bounds{pick(low, high), pick(value, value), pick(high, low)}
	}
	l.LimitSum = "what comes in less what it draws comes out of its battery; a bank ends when it is empty"
	kept := p.add(hop, l)
	if p.quiet {
		return
	}
	draw := &kept.Facts[3]
	switch {
	case kept.Sure >= endless/2:
		kept.Says = p.say("%s runs on power by USB from %s: at least %s W for at most %s W, no end.", it.Label, from, p.num(supply.Low), p.num(draw.High))
	case bankAt >= 0:
		kept.Says = p.say("%s needs %s min; %s and its own battery give %s.", it.Label, p.num(need), from, p.span(kept.Possible, kept.Sure, "min"))
	default:
		kept.Says = p.say("%s draws %s and gets %s from %s: the battery makes up for the rest and lasts %s of the %s min needed.", it.Label,
			p.span(draw.Low, draw.High, "W"), p.span(supply.Low, supply.High, "W"), from, p.span(kept.Possible, kept.Sure, "min"), p.num(need))
	}
}

// bankFacts are what a power bank holds: mAh at the volts of its cells.
func (p *pass) bankFacts(bank *rig.Item) []Basis {
	pack := gear.BatteryPack{MAh: gear.DefaultBankMAh, Volts: gear.BankVolts}
	if bank.Gear.Power != nil && bank.Gear.Power.Battery != nil {
		pack = *bank.Gear.Power.Battery
	}
	at := p.path("items", bank.ID, "power", "")
	return []Basis{
		basis(at+"battery/mAh", p.say("capacity of %s", bank.Label), "mAh", &pack.MAh, fact.Fact{}, p.ask("How many mAh has %s?", bank.Label, "It is printed on it.", 1)),
		basis(at+"battery/volts", p.say("cell voltage of %s", bank.Label), "V", &pack.Volts, fact.Fact{}, p.ask("At which voltage are the mAh of %s rated?", bank.Label, "The cells', 3.6 to 3.7 V: the print says the watt-hours, or mAh and volts.", 1)),
	}
}

// suppliedByUSB is what power by USB gives a camera, in watts, and what gives it: the thing named, else what its USB lead
// is plugged into. Nothing when the camera cannot run on it.
func (p *pass) suppliedByUSB(it *rig.Item) (Basis, *rig.Item) {
	giver := p.Item(it.PoweredBy)
	var port *gear.Port
	if giver == nil {
		giver, port = p.pluggedInto(it)
	}
	none := func(path, why string, ask func() Ask, options []Option) Basis {
		return Basis{Path: path, Name: p.say("what %s gets by USB: %s", it.Label, why), Unit: "W", From: fact.Estimate, ask: ask, Options: options}
	}
	mode := "unknown"
	if it.Gear.Power != nil && it.Gear.Power.USB != "" {
		mode = it.Gear.Power.USB
	}
	switch {
	case mode == "no" || mode == "charges":
		return none("", p.say("its sheet says USB %s it", map[string]string{"no": "does not run", "charges": "only charges"}[mode]), nil, nil), giver
	case giver == nil:
		return none("", "nobody has named what gives it", nil, nil), nil
	}
	gives, path := fact.Est(4.5, 2.5, 100), ""
	name := p.say("what %s gives by USB", giver.Label)
	if pw := giver.Gear.Power; pw != nil && pw.SupplyW != nil && giver.Gear.Kind != gear.Computer && giver.Gear.Kind != gear.Hub && giver.Gear.Kind != gear.Dock {
		gives, path = *pw.SupplyW, p.path("items", giver.ID, "power/supplyW")
	} else {
		if port == nil {
			for i := range giver.Gear.Ports {
				if giver.Gear.Ports[i].Direction == gear.Downstream && giver.Gear.Ports[i].Connector.Family() == gear.USBFamily {
					port = &giver.Gear.Ports[i]
					break
				}
			}
		}
		if port != nil {
			f := port.Allows()
			gives = fact.Fact{Value: f.Value * power.VBus / 1000, Low: f.Low * power.VBus / 1000, High: f.High * power.VBus / 1000, From: f.From}
			path = p.path("items", giver.ID, "ports", port.ID, "allowsMa")
		}
	}
	b := basis(path, name, "W", &gives, fact.Fact{}, p.ask("How many watts does %s give by USB?", giver.Label, "Volts × amperes printed on it, or a USB power meter.", 5))
	if strings.HasSuffix(path, "allowsMa") {
		b.ask = nil // asked for in milliamperes where the socket's current is judged
		b.Path = ""
	}
	if mode == "unknown" {
		most := b.High
		b.Low = 0 // it may only charge, or do nothing
		if !p.quiet {
			at := p.path("items", it.ID, "power/usb")
			word := func(w string) []rig.Edit { return []rig.Edit{{Do: "word", Path: at, Word: w}} }
			b.Path, b.Options = at, []Option{{Word: "runs", Label: "It runs it", Number: most}, {Word: "charges", Label: "It only charges it while it is off", Number: 0}, {Word: "no", Label: "Nothing", Number: 0}}
			b.ask = func() Ask {
				return Ask{Question: p.say("What does power by USB do for %s?", it.Label), How: "Plug it in while the camera runs and watch its battery sign for a quarter of an hour; some have a setting for it.", Minutes: 15,
					Edits: [][]rig.Edit{word("runs"), word("charges"), word("no")}}
			}
		}
	}
	return b, giver
}

// pluggedInto is what an item's USB lead goes into, and the socket; nil when it has none.
func (p *pass) pluggedInto(it *rig.Item) (*rig.Item, *gear.Port) {
	at := p.g.At(it.ID)
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction != gear.Upstream || it.Gear.Ports[j].Connector.Family() != gear.USBFamily {
			continue
		}
		if lead := p.g.LeadAt(at, j); lead >= 0 {
			fi, fp, ti, tp := p.g.LeadEnds(lead)
			if fi == at {
				return &p.Items[ti], &p.Items[ti].Gear.Ports[tp]
			}
			return &p.Items[fi], &p.Items[fi].Gear.Ports[fp]
		}
	}
	return nil, nil
}

// heat judges the show against how long the device runs in its picture before heat stops it. Handbook 4.4.
func (p *pass) heat(hop *Hop, w *walk, it *rig.Item, out int) {
	if it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone && len(it.Gear.HeatLimits) == 0 || out < 0 {
		return
	}
	m := picture.Mode{}
	if port := &it.Gear.Ports[out]; port.Direction == gear.Out {
		m, _ = p.outputMode(it, port)
	} else if len(it.Gear.Delivers) > 0 {
		m = picture.Mode{Width: it.Gear.Delivers[0].Width, Height: it.Gear.Delivers[0].Height, Rate: it.Gear.Delivers[0].MaxRate}
	}
	at := slices.IndexFunc(it.Gear.HeatLimits, func(h gear.HeatLimit) bool {
		return (h.Width == 0 || h.Width == m.Width && h.Height == m.Height) && (h.Rate.IsZero() || h.Rate == m.Rate)
	})
	l := Limit{ID: "heat:" + it.ID, Rule: "heat", Unit: "min", Where: append(w.deps(), "show"), What: p.say("%s against heat", it.Label),
		Source: Source{fact.Practice, "Handbook 4.4: a property of the camera and of the mode; sun, a closed screen and charging inside heat it"}}
	limit := gear.DefaultHeatLimit
	if at >= 0 {
		limit = it.Gear.HeatLimits[at].Minutes
		l.Source.Kind = limit.From
	} else if demanding := m.Height > 1080 || m.Width > 1920 || slices.ContainsFunc(p.Show.Recordings, func(r rig.Recording) bool { return r.InCamera && r.What == it.ID }); !demanding {
		l.Sense, l.outcomes, l.Says = Fits, yes, p.say("%s sends full HD at most and records nothing itself: heat stops few cameras at that.", it.Label)
		p.add(hop, &l)
		return
	} else {
		at = len(it.Gear.HeatLimits)
	}
	l.Facts = p.facts.of(basis(p.path("items", it.ID, "heatLimits", strconv.Itoa(at)+"/minutes"), p.say("run time of %s by heat", it.Label), "min", &limit, fact.Fact{},
		p.ask("How many minutes does %s run in this picture before heat stops it?", it.Label, "Let it run once as in the show, closed screen and lamp on, and note the time.", 90)))
	l.Loads = p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(p.Show.Minutes), Sum: "the show without a break"})
	l.caps = p.terms.of(times(1, 0))
	l.LimitSum = p.say("as measured at %s", p.modeText(m))
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("At %s heat stops %s after %s; the show lasts %s min.", p.modeText(m), it.Label, p.span(kept.Sure, kept.Possible, "min"), p.num(p.Show.Minutes))
		if at == len(it.Gear.HeatLimits) {
			kept.LimitSum = "nobody has let it run"
			kept.Says = p.say("Nobody has let %s run at %s for as long as the show: heat may stop it.", it.Label, p.modeText(m))
		}
	}
}

// sent judges the mode the socket is set to, and whether the socket can send it.
func (p *pass) sent(w *walk, it *rig.Item, port *gear.Port) {
	ref := it.ID + "." + port.ID
	mode, assumed := p.outputMode(it, port)
	if it.Set != nil && it.Set.Upright && mode.Width > mode.Height {
		mode.Width, mode.Height = mode.Height, mode.Width
	}
	w.mode = mode
	hop := w.at(AtSocket, "port", ref, rig.PortName(port), p.modeText(mode))
	l := Limit{ID: "sends:" + ref, Rule: "sends", Sense: Fits, Where: w.deps(), What: p.say("Picture %s sends", it.Label),
		Source: Source{fact.DataSheet, "The modes of the spec sheet; handbook 2.2: set size and rate, never auto"}}
	listed := slices.ContainsFunc(port.Modes, func(m picture.Mode) bool {
		return m.Same(mode) || it.Set != nil && it.Set.Upright && m.Width == mode.Height && m.Height == mode.Width && m.Rate == mode.Rate
	})
	switch {
	case assumed:
		l.outcomes = maybe
		l.Says = p.say("Nobody has said which picture %s sends; %s is assumed.", it.Label, p.name(mode))
		l.Facts = p.facts.of(p.modeBasis(it, port))
	case listed:
		l.outcomes, l.Says = yes, p.say("%s is set to %s.", it.Label, p.name(mode))
	case len(port.Modes) == 0 || port.MoreModes:
		l.outcomes = maybe
		l.Says = p.say("%s is not among the pictures %s is known to send.", p.name(mode), it.Label)
		l.Facts = p.facts.of(p.takesBasis(it, port, mode, "send"))
	default:
		l.outcomes, l.Says = no, p.say("%s cannot send %s.", it.Label, p.name(mode))
	}
	p.add(hop, &l)
	p.socketRate(hop, w, it, port, "send")
}

// socketRate judges a picture against what its socket carries, by the socket's family. For an output it settles what
// kind of link follows.
func (p *pass) socketRate(hop *Hop, w *walk, it *rig.Item, port *gear.Port, verb string) {
	if port.Direction == gear.Out {
		w.fixed = p.usesFixedRate(w, port, w.next)
		w.level, w.levelAt = sdi.UnknownLevel, p.path(it.ID, "ports", port.ID)
		if port.SDI != nil && port.SDI.Level != "" {
			w.level = port.SDI.Level
		}
	}
	switch {
	case isSDI(port):
		p.sdiSocket(hop, w, it, port, verb)
	case w.fixed:
		p.fixedRate(hop, w, it, port, verb)
		if fixedRateOf(port) == hdmi.UnknownFRL { // it may have none: then its character rate counts
			p.characterOpen(hop, w, it, port, verb)
		}
	default:
		p.characterRate(hop, w, it, port, verb)
	}
}

// outputMode is the mode a picture output is set to; without a setting, the only or the first one it lists, else the
// programme's own. assumed tells that somebody should say.
func (p *pass) outputMode(it *rig.Item, port *gear.Port) (m picture.Mode, assumed bool) {
	if it.Set != nil {
		if m, ok := it.Set.Output[port.ID]; ok {
			return m, false
		}
	}
	switch len(port.Modes) {
	case 0:
		pr := p.Show.Programme
		return picture.Mode{Width: pr.Width, Height: pr.Height, Rate: pr.Rate}, true
	case 1:
		return port.Modes[0], false
	}
	best := 0
	for i := 1; i < len(port.Modes); i++ {
		if p.suits(&port.Modes[i], &port.Modes[best]) {
			best = i
		}
	}
	return port.Modes[best], true
}

// suits tells whether a picture suits the show better than another, in whatever order they are listed: cadence first, then
// a size as large as the programme's and no larger, then the rate, then the name.
func (p *pass) suits(a, b *picture.Mode) bool {
	return cmp.Or(cmp.Compare(p.unsuited(a), p.unsuited(b)), a.Rate.Cmp(b.Rate), cmp.Compare(b.Chroma, a.Chroma), cmp.Compare(a.Depth(), b.Depth()), cmp.Compare(a.Width, b.Width)) < 0
}

func (p *pass) unsuited(m *picture.Mode) int {
	pr := p.Show.Programme
	rate := m.Rate
	if !m.Inner.IsZero() {
		rate = m.Inner
	}
	n := 0
	switch {
	case rate == pr.Rate:
	case rate.Nominal() == pr.Rate.Nominal():
		n = 200
	case rate.Nominal()%max(pr.Rate.Nominal(), 1) == 0:
		n = 100
	case pr.Rate.Nominal()%max(rate.Nominal(), 1) == 0:
		n = 300
	default:
		n = 400
	}
	switch {
	case m.Interlaced:
		n += 50
	case m.Width == pr.Width && m.Height == pr.Height:
	case m.Width >= pr.Width && m.Height >= pr.Height:
		n += 20
	default:
		n += 40 - min(m.Height*9/max(pr.Height, 1), 9)
	}
	return n
}

// modeBasis asks which of its modes a source is set to.
func (p *pass) modeBasis(it *rig.Item, port *gear.Port) Basis {
	b := Basis{Path: p.path("items", it.ID, "output", port.ID), From: fact.Estimate, Word: "not said"}
	if p.quiet {
		return b
	}
	b.Name = "picture " + it.Label + " sends"
	ask := Ask{Question: "Which picture does " + it.Label + " send?",
		How: "Look in its output menu, and set it rather than leaving it on auto.", Minutes: 2}
	b.ask = func() Ask { return ask }
	modes := port.Modes
	if len(modes) == 0 {
		modes = commonModes
	}
	for _, m := range modes {
		b.Options = append(b.Options, Option{Word: m.Name(), Label: p.modeText(m), State: Slack})
		ask.Edits = append(ask.Edits, []rig.Edit{{Do: "mode", Item: it.ID, Port: port.ID, Mode: &m}})
	}
	return b
}

var commonModes = []picture.Mode{
	{Width: 1920, Height: 1080, Rate: picture.NewRate(60000, 1001)},
	{Width: 1920, Height: 1080, Rate: picture.R(50)},
	{Width: 1920, Height: 1080, Rate: picture.NewRate(30000, 1001)},
	{Width: 1920, Height: 1080, Rate: picture.R(25)},
	{Width: 3840, Height: 2160, Rate: picture.NewRate(30000, 1001)},
	{Width: 1280, Height: 720, Rate: picture.NewRate(60000, 1001)},
}

// takesBasis asks whether a port takes (or sends) a mode that is not on its list.
func (p *pass) takesBasis(it *rig.Item, port *gear.Port, m picture.Mode, verb string) Basis {
	if p.quiet {
		return Basis{}
	}
	path := p.path("items", it.ID, "ports", port.ID, "takes", m.Name())
	t, f := true, false
	edit := func(yes *bool) []rig.Edit {
		return []rig.Edit{{Do: "takes", Item: it.ID, Port: port.ID, Mode: &m, Yes: yes}}
	}
	return Basis{Path: path, Name: "whether " + it.Label + " can " + verb + " " + m.Name(), Word: "unknown", From: fact.Estimate,
		Options: []Option{{Word: "yes", Label: "Yes", State: Slack}, {Word: "no", Label: "No", State: Snapped}},
		ask: func() Ask {
			return Ask{Question: "Does " + it.Label + " " + verb + " " + m.Name() + "?",
				How: "Its data sheet lists the pictures; or connect it once and look.", Minutes: 3,
				Edits: [][]rig.Edit{edit(&t), edit(&f)}}
		}}
}

// characterRate judges a picture against the TMDS character rate of an HDMI socket. Handbook 2.5.
func (p *pass) characterRate(hop *Hop, w *walk, it *rig.Item, port *gear.Port, verb string) {
	if port.Connector.Family() != gear.HDMIFamily {
		return
	}
	ref := it.ID + "." + port.ID
	var max *fact.Fact
	if port.HDMI != nil {
		max = port.HDMI.MaxTMDSMHz
	}
	low, high := hdmi.CharacterRate(w.mode)
	rate := rateBasis(low, high)
	p.openRate(&rate, it, port, w.mode, verb)
	l := Limit{ID: "character-rate:" + ref, Rule: "character-rate", Unit: "MHz", Where: w.deps(),
		What:    p.say("Character rate the socket of %s must %s", it.Label, verb),
		Ceiling: 1, // a socket is made for its rate; there is no planning share of what it is made for
		Facts: p.facts.of(
			rate,
			basis(p.path("items", it.ID, "ports", port.ID, "hdmi/maxTmdsMHz"), p.say("highest character rate of %s", it.Label), "MHz", max, gear.DefaultMaxTMDS,
				p.ask("Which HDMI version is the socket of %s?", it.Label, "165 MHz for 1.2 and full-HD sticks, 340 for 1.4 (4K30), 600 for 2.0 (4K60).", 2)),
		),
		Loads:    p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: p.rateSum(w.mode), term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: "what the HDMI version of the socket allows",
		Source:   Source{fact.Standard, "CTA-861 timings; HDMI character rates from memory"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s of the %s the socket of %s can %s.", p.name(w.mode),
			span(kept.Load.Low, kept.Load.High, "MHz"), span(kept.Sure, kept.Possible, "MHz"), it.Label, verb)
	}
}

// openRate narrows what a picture needs of a socket where its blanking is not known: a socket that lists the picture
// carries it, one that was tried and refused does not, and of any other it is asked.
func (p *pass) openRate(need *Basis, it *rig.Item, port *gear.Port, m picture.Mode, verb string) {
	if !fact.Over(need.High, need.Low) {
		return
	}
	switch {
	case slices.ContainsFunc(port.Modes, m.Same):
		need.Value, need.High = need.Low, need.Low
	case slices.ContainsFunc(port.Refuses, m.Same):
		need.Value, need.Low = need.High, need.High
	case !p.quiet:
		b := p.takesBasis(it, port, m, verb)
		need.Path, need.Options, need.ask = b.Path, b.Options, b.ask
		need.Options[0].Number, need.Options[1].Number = need.Low, need.High
		need.Options[0].State, need.Options[1].State = "", ""
	}
}

// characterOpen is said of a socket that needs a fixed-rate link and may have none.
func (p *pass) characterOpen(hop *Hop, w *walk, it *rig.Item, port *gear.Port, verb string) {
	l := Limit{ID: "character-rate:" + it.ID + "." + port.ID, Rule: "character-rate", Sense: Fits, outcomes: maybe, Where: w.deps(),
		What: p.say("Character rate the socket of %s must %s", it.Label, verb), Says: p.say("%s is past every character rate: the socket of %s can %s it only over a fixed-rate link, and nobody has looked whether it has one.", p.name(w.mode), it.Label, verb),
		Source: Source{fact.Standard, "HDMI 2.1, from memory; handbook 2.5"}}
	if !p.quiet {
		b := p.frlBasis(it, port)
		b.Options = slices.Clone(b.Options)
		low, _ := hdmi.FixedRateNeed(w.mode)
		for i := range b.Options {
			b.Options[i].State = Slack
			if fact.Over(low, b.Options[i].Number) {
				b.Options[i].State = Snapped
			}
		}
		l.Facts = p.facts.of(b)
	}
	p.add(hop, &l)
}

// rateBasis is a character rate in MHz as a fact of the rules: narrow for standard timings.
func rateBasis(low, high float64) Basis {
	from := fact.Standard
	if low != high {
		from = fact.Estimate
	}
	return Basis{Name: "character rate", Unit: "MHz", Low: low / mega, Value: (low + high) / 2 / mega, High: high / mega, From: from}
}

// rateSum shows how a character rate comes about.
func (p *pass) rateSum(m picture.Mode) string {
	if p.quiet {
		return ""
	}
	clock, ok := hdmi.PixelClock(m)
	if !ok {
		return p.say("%s × %s × %s, with blanking nobody has stated", strconv.Itoa(m.Width), strconv.Itoa(m.Height), m.Rate.String())
	}
	low, _ := hdmi.CharacterRate(m)
	factor := low / clock
	base := p.say("%s MHz pixel clock (CTA-861 %s)", p.num(clock/mega), p.name(m))
	if factor == 1 {
		return base + " × 1"
	}
	return base + " × " + num(math.Round(factor*1000)/1000) + p.say(" for %s %s-bit", orRGB(m.Chroma), strconv.Itoa(m.Depth()))
}

func orRGB(c picture.Chroma) string {
	if c == picture.NotSaid {
		return "rgb"
	}
	return string(c)
}

func (p *pass) modeText(m picture.Mode) string {
	if p.quiet || m.Rate.IsZero() {
		return ""
	}
	text := m.Name()
	if m.Chroma != picture.NotSaid {
		text += " " + string(m.Chroma)
	}
	if m.Bits > 8 {
		text += p.say(" %s-bit", strconv.Itoa(m.Bits))
	}
	return text
}
