package judge

import (
	"math"
	"slices"
	"strconv"

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
	off := it.Set != nil && it.Set.InfoDisplay == "off"
	switch it.Gear.Clean {
	case gear.AlwaysClean:
		l.outcomes, l.Says = yes, p.say("%s sends no menus or boxes.", it.Label)
	case gear.AfterSetting:
		if off {
			l.outcomes, l.Says = yes, p.say("%s is clean: its information display is off.", it.Label)
		} else {
			l.outcomes, l.Says = no, p.say("%s shows its information display in the picture until it is turned off.", it.Label)
		}
	case gear.NeverClean:
		l.outcomes, l.Says = no, p.say("%s never sends a clean picture by this output.", it.Label)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has looked whether %s draws menus or boxes over its picture.", it.Label)
		l.Facts = p.facts.of(p.cleanBasis(it, off))
	}
	p.add(hop, l)
}

func (p *pass) cleanBasis(it *rig.Item, off bool) Basis {
	path := p.path("items", it.ID, "clean")
	after := Snapped
	if off {
		after = Slack
	}
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

// runTime judges set-up, rehearsal and show against the battery. Handbook 4.2: with power by USB only what is drawn
// beyond it comes out of the battery, a grip holds two, and a spare counts once more.
func (p *pass) runTime(hop *Hop, w *walk, it *rig.Item) {
	pw := it.Gear.Power
	runs := ""
	if it.Set != nil {
		runs = it.Set.RunsOn
	}
	if pw == nil || pw.Battery == nil || runs == "mains" {
		return
	}
	s := &p.Show
	need := s.SetupMinutes + s.RehearsalMinutes + s.Minutes
	at := p.path("items", it.ID, "power", "")
	name := func(what string) string { return p.say("%s of %s", what, it.Label) }
	draw := basis(at+"drawW", name("draw"), "W", pw.DrawW, fact.Est(6, 2, 12), p.ask("How many watts does %s draw while sending?", it.Label, "Read a USB power meter, or battery watt-hours divided by the hours it lasted.", 10))
	l := Limit{ID: "run-time:" + it.ID, Rule: "run-time", Unit: "min", Where: w.deps(),
		What: p.say("Battery of %s against the clock", it.Label),
		Facts: p.facts.of(
			basis(at+"battery/mAh", name("battery capacity"), "mAh", &pw.Battery.MAh, fact.Fact{}, p.ask("How many mAh has the battery of %s?", it.Label, "It is printed on the pack.", 1)),
			basis(at+"battery/volts", name("battery voltage"), "V", &pw.Battery.Volts, fact.Fact{}, p.ask("What voltage has the battery of %s?", it.Label, "It is printed on the pack.", 1)),
			basis(at+"battery/usableShare", name("usable share of the battery"), "", pw.Battery.UsableShare, gear.DefaultUsable, p.ask("Which share of its rating does the battery of %s still give?", it.Label, "0.9 new, 0.7 old or cold; run it down once and compare.", 90)),
			draw,
		),
		Loads: p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(need),
			Sum: p.say("%s set-up + %s rehearsal + %s show", p.num(s.SetupMinutes), p.num(s.RehearsalMinutes), p.num(s.Minutes))}),
		Source:  Source{fact.Estimate, "Handbook 4.2: run time = Wh × usable share ÷ draw"},
		Caution: batteryCaution}
	packs := 1.0
	if runs == "grip" {
		packs = 2
	}
	if it.Set != nil {
		packs += float64(it.Set.Spares)
	}
	supplied, from := p.suppliedByUSB(it, runs)
	bank, extra := p.bankEnergy(it, runs)
	f := l.Facts
	if runs == "usb" {
		l.Where = merge(l.Where, []string{it.PoweredBy})
		net := &f[3]
		net.Name = p.say("draw of %s beyond %s by USB", it.Label, p.span(supplied.Low, supplied.High, "W"))
		net.Low, net.Value, net.High = max(0, draw.Low-supplied.High), max(0, draw.Value-supplied.Value), max(0, draw.High-supplied.Low)
		if net.High == 0 {
			p.add(hop, Limit{ID: l.ID, Rule: l.Rule, Sense: Fits, outcomes: yes, Where: l.Where, What: l.What, Source: l.Source,
				Says: p.say("%s runs on power by USB from %s: at least %s W for at most %s W, no end.", it.Label, from, p.num(supplied.Low), p.num(draw.High))})
			return
		}
	}
	// WattHours × usable ÷ draw, as power.RunMinutes has it, with 1 for every fact.
	l.caps = p.terms.of(times(packs*power.RunMinutes(power.WattHours(1, 1), 1, 1), 0, 1, 2).per(3))
	if !p.quiet {
		l.LimitSum = p.say("%s mAh × %s V ÷ 1000 × %s usable ÷ %s W × 60", p.num(f[0].Value), p.num(f[1].Value), p.num(f[2].Value), p.num(f[3].Value))
		if packs > 1 {
			l.LimitSum = p.say("%s × ", num(packs)) + l.LimitSum
		}
	}
	if extra {
		p.bank(hop, w, it, need, draw, bank, &l)
		return
	}
	kept := p.add(hop, l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s min; its battery gives %s.", it.Label, p.num(need), p.span(kept.Possible, kept.Sure, "min"))
		if runs == "usb" && from != "" {
			kept.Says = p.say("%s draws %s and gets %s from %s: the battery makes up for the rest and lasts %s of the %s min needed.", it.Label,
				p.span(draw.Low, draw.High, "W"), p.span(supplied.Low, supplied.High, "W"), from, p.span(kept.Possible, kept.Sure, "min"), p.num(need))
		}
	}
}

// suppliedByUSB is what power by USB gives a camera, in watts: nothing when it cannot run on it.
func (p *pass) suppliedByUSB(it *rig.Item, runs string) (fact.Fact, string) {
	none := fact.Fact{From: fact.Estimate}
	if runs != "usb" {
		return none, ""
	}
	giver := p.Item(it.PoweredBy)
	if giver == nil {
		return none, "nothing named"
	}
	mode := it.Gear.Power.USB
	if mode == "no" {
		return none, giver.Label
	}
	gives := fact.Est(4.5, 2.5, 7.5)
	if pw := giver.Gear.Power; pw != nil && pw.SupplyW != nil {
		gives = *pw.SupplyW
	} else {
		for i := range giver.Gear.Ports {
			if f := giver.Gear.Ports[i].AllowsMA; f != nil && giver.Gear.Ports[i].Direction == gear.Downstream {
				gives = fact.Fact{Value: f.Value * power.VBus / 1000, Low: f.Low * power.VBus / 1000, High: f.High * power.VBus / 1000, From: f.From}
				break
			}
		}
	}
	if mode == "" || mode == "unknown" {
		gives.Low = 0 // it may only charge, or do nothing
	}
	if mode == "charges" { // it charges while it is off
		return none, giver.Label
	}
	return gives, giver.Label
}

// bankEnergy is what a power bank adds, in watt-hours; false when the camera does not run on one.
func (p *pass) bankEnergy(it *rig.Item, runs string) (fact.Fact, bool) {
	if runs != "usb" || it.PoweredBy == "" {
		return fact.Fact{}, false
	}
	giver := p.Item(it.PoweredBy)
	if giver == nil || giver.Gear.Kind != gear.PowerBank || giver.Gear.Power == nil || giver.Gear.Power.Battery == nil {
		return fact.Fact{}, false
	}
	b := giver.Gear.Power.Battery
	return fact.Fact{Value: power.WattHours(b.MAh.Value, b.Volts.Value) * power.BankConverter, Low: power.WattHours(b.MAh.Low, b.Volts.Low) * power.BankConverter * power.UsableNew,
		High: power.WattHours(b.MAh.High, b.Volts.High) * power.BankConverter, From: fact.Estimate}, true
}

// bank judges a camera on a power bank: the bank empties too. Its mAh are at its cells' voltage, not at 5 V.
func (p *pass) bank(hop *Hop, w *walk, it *rig.Item, need float64, draw Basis, bank fact.Fact, own *Limit) {
	giver := p.Item(it.PoweredBy)
	l := Limit{ID: "run-time:" + it.ID, Rule: "run-time", Unit: "min", Where: own.Where, What: p.say("Power bank of %s against the clock", it.Label),
		Facts: p.facts.of(Basis{Name: p.say("energy of %s", giver.Label), Unit: "Wh", Low: bank.Low, Value: bank.Value, High: bank.High, From: bank.From}, draw),
		Loads: own.Loads, caps: p.terms.of(times(60, 0).per(1)), Source: Source{fact.Estimate, "Handbook 4.2: Wh × 0.85 converter loss ÷ draw"}, Caution: batteryCaution}
	if !p.quiet {
		l.LimitSum = p.say("%s Wh ÷ %s W × 60; the camera's own battery comes on top", num(bank.Value), num(draw.Value))
	}
	kept := p.add(hop, l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s min; %s alone gives %s.", it.Label, p.num(need), giver.Label, p.span(kept.Possible, kept.Sure, "min"))
	}
}

// heat judges the show against how long the device runs in its picture before heat stops it. Handbook 4.4.
func (p *pass) heat(hop *Hop, w *walk, it *rig.Item, out int) {
	if len(it.Gear.HeatLimits) == 0 || out < 0 {
		return
	}
	m := picture.Mode{}
	if port := &it.Gear.Ports[out]; port.Direction == gear.Out {
		m, _ = p.outputMode(it, port)
	}
	at := slices.IndexFunc(it.Gear.HeatLimits, func(h gear.HeatLimit) bool {
		return (h.Width == 0 || h.Width == m.Width && h.Height == m.Height) && (h.Rate.IsZero() || h.Rate == m.Rate)
	})
	if at < 0 {
		return
	}
	f := basis(p.path("items", it.ID, "heatLimits", strconv.Itoa(at)+"/minutes"), p.say("run time of %s by heat", it.Label), "min", &it.Gear.HeatLimits[at].Minutes, fact.Fact{},
		p.ask("How many minutes does %s run in this picture before heat stops it?", it.Label, "Let it run once as in the show, closed screen and lamp on, and note the time.", 90))
	l := Limit{ID: "heat:" + it.ID, Rule: "heat", Unit: "min", Where: append(w.deps(), "show"), What: p.say("%s against heat", it.Label),
		Facts:    p.facts.of(f),
		Loads:    p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(p.Show.Minutes), Sum: "the show without a break"}),
		caps:     p.terms.of(times(1, 0)),
		LimitSum: p.say("as measured at %s", p.modeText(m)), Source: Source{f.From, "Handbook 4.4: a property of the camera and of the mode; sun, a closed screen and charging inside heat it"}}
	kept := p.add(hop, l)
	if !p.quiet {
		kept.Says = p.say("At %s heat stops %s after %s; the show lasts %s min.", p.modeText(m), it.Label, p.span(kept.Sure, kept.Possible, "min"), p.num(p.Show.Minutes))
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
	case listed || len(port.Modes) == 0:
		l.outcomes, l.Says = yes, p.say("%s is set to %s.", it.Label, p.name(mode))
	case port.MoreModes:
		l.outcomes = maybe
		l.Says = p.say("%s is not among the pictures %s is known to send.", p.name(mode), it.Label)
		l.Facts = p.facts.of(p.takesBasis(it, port, mode, "send"))
	default:
		l.outcomes, l.Says = no, p.say("%s cannot send %s.", it.Label, p.name(mode))
	}
	p.add(hop, l)
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
	return port.Modes[0], true
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
	l := Limit{ID: "character-rate:" + ref, Rule: "character-rate", Unit: "MHz", Where: w.deps(),
		What:    p.say("Character rate the socket of %s must %s", it.Label, verb),
		Ceiling: 1, // a socket is made for its rate; there is no planning share of what it is made for
		Facts: p.facts.of(
			rateBasis(low, high),
			basis(p.path("items", it.ID, "ports", port.ID, "hdmi/maxTmdsMHz"), p.say("highest character rate of %s", it.Label), "MHz", max, gear.DefaultMaxTMDS,
				p.ask("Which HDMI version is the socket of %s?", it.Label, "165 MHz for 1.2 and full-HD sticks, 340 for 1.4 (4K30), 600 for 2.0 (4K60).", 2)),
		),
		Loads:    p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: p.rateSum(w.mode), term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: "what the HDMI version of the socket allows",
		Source:   Source{fact.Standard, "CTA-861 timings; HDMI character rates from memory"}}
	kept := p.add(hop, l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s of the %s the socket of %s can %s.", p.name(w.mode),
			span(kept.Load.Low, kept.Load.High, "MHz"), span(kept.Sure, kept.Possible, "MHz"), it.Label, verb)
	}
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
