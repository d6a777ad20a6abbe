package rules

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

var Sends = rule(Rule{
	Name:    "sends",
	Asks:    "Does the output send the picture it is set to?",
	Sense:   limit.Fits,
	Many:    "nobody knows whether they send the picture they are set to",
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "does it send that?", Bad: "cannot send that"},
	Source:  datasheet("The modes of the spec sheet; set size and rate, never auto"),
	Example: "A camera that lists 1080p25 and 1080p50, set to 1080p60: snapped.",
	Say:     saySends,
	Judge:   Judging{AtOutput: judgeSends, AtBoxOut: judgePassesOn},
})

// judgeSends judges the mode a source's socket is set to, and whether it can send it.
func judgeSends(p *Pass, own *Rule, w *Walk) {
	it, port, mode := w.Item, w.Port, w.Mode
	l := Result{Where: w.Deps(), Mode: mode}
	listed := slices.ContainsFunc(port.Modes, func(m picture.Mode) bool {
		return m.Same(*mode) || it.Set != nil && it.Set.Upright && m.Width == mode.Height && m.Height == mode.Width &&
			m.Rate == mode.Rate
	})
	switch {
	case w.Assumed:
		l.Outcomes, l.Facts = limit.Maybe, p.FactList(modeFact(p, it, port))
	case listed:
		l.Outcomes = limit.Yes
	case len(port.Modes) == 0 || port.MoreModes:
		l.Outcomes, l.Facts = limit.Maybe, p.FactList(takesFact(p, it, port, mode))
	default:
		l.Outcomes = limit.No
	}
	p.Add(w.Hop, own, w.Hop.Ref, &l)
}

func saySends(w *Words) {
	it, mode := w.Result.Hop.Item, w.Result.Mode
	switch w.What = w.T("Picture %s sends", it.Label); {
	case w.Result.State == limit.Slack:
		w.Says = w.T("%s is set to %s.", it.Label, mode.Name())
	case w.Result.State == limit.Snapped:
		w.Says = w.T("%s cannot send %s.", it.Label, mode.Name())
	case w.Result.Facts[0].Field == "items/ID/output/PORT":
		w.Says = w.T("Nobody has said which picture %s sends; %s is assumed.", it.Label, mode.Name())
	default:
		askTakes(w, 0, it, mode, "send")
		w.Says = w.T("%s is not among the pictures %s is known to send.", mode.Name(), it.Label)
	}
}

// judgePassesOn judges whether an output of a box gives the picture that is to leave by it.
func judgePassesOn(p *Pass, own *Rule, w *Walk) {
	it, port, mode := w.Item, w.Port, w.Mode
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps()}
	text := lang.Text("%s passes on %s.")
	whole := false
	switch {
	case slices.ContainsFunc(port.Refuses, mode.Same):
		l.Outcomes, text = limit.No, lang.Text("%s was tried with %s and does not pass it on.")
	case slices.ContainsFunc(port.Modes, mode.Same):
	case len(port.Modes) == 0 && (port.LoopOf != "" || it.Gear.Kind == gear.Splitter || it.Gear.Kind == gear.Converter):
		whole = true
	case len(port.Modes) == 0 || port.MoreModes:
		l.Outcomes, l.Facts, text = limit.Maybe, p.FactList(takesFact(p, it, port, mode)),
			lang.Text("Nobody has tried whether %s passes on %s.")
	default:
		l.Outcomes, text = limit.No, lang.Text("%s does not pass on %s.")
	}
	l.Say = func(w *Words) {
		w.What, w.Says, w.Source = w.T("Picture %s sends", it.Label), w.T(text, it.Label, mode.Name()),
			datasheet("The output list of the spec sheet")
		if whole {
			w.Says, w.Source = w.T("%s passes on what comes in.", it.Label),
				practice("A loop-through passes the input on")
		}
		if len(w.Facts) > 0 {
			askTakes(w, 0, it, mode, lang.Text("pass on"))
		}
	}
	p.Add(w.Hop, own, w.Ref+":"+w.Feed.ID, &l)
}

// modeFact is which of its modes a source is set to.
func modeFact(p *Pass, it *rig.Item, port *gear.Port) limit.Fact {
	return limit.Fact{Key: limit.Part("items/ID/output/PORT", it.ID, port.ID), From: fact.Estimate, Word: "not said",
		Open: func() (out []limit.Option) {
			modes := port.Modes
			if len(modes) == 0 {
				modes = commonModes
			}
			for i := range modes {
				m := modes[i]
				out = append(out, limit.Option{Word: m.Name(), Label: plans.ModeText(&m), State: limit.Slack,
					Do: []rig.Edit{{Do: "mode", Item: it.ID, Port: port.ID, Mode: &m}}})
			}
			return out
		}}
}

var commonModes = []picture.Mode{
	{Width: 1920, Height: 1080, Rate: picture.NewRate(60000, 1001)},
	{Width: 1920, Height: 1080, Rate: picture.R(50)},
	{Width: 1920, Height: 1080, Rate: picture.NewRate(30000, 1001)},
	{Width: 1920, Height: 1080, Rate: picture.R(25)},
	{Width: 3840, Height: 2160, Rate: picture.NewRate(30000, 1001)},
	{Width: 1280, Height: 720, Rate: picture.NewRate(60000, 1001)},
}

// takesFact is whether a port takes (or sends) a mode that is not on its list.
func takesFact(p *Pass, it *rig.Item, port *gear.Port, m *picture.Mode) limit.Fact {
	k := limit.Key{Field: "items/ID/ports/PORT", Of: it.ID, Sub: port.ID + "/takes/" + m.Name()}
	t, f := true, false
	edit := func(yes *bool) []rig.Edit {
		return []rig.Edit{{Do: "takes", Item: it.ID, Port: port.ID, Mode: m, Yes: yes}}
	}
	return limit.Fact{Key: k, Word: "unknown", From: fact.Estimate, Open: func() []limit.Option {
		return []limit.Option{{Word: "yes", Label: "Yes", State: limit.Slack, Do: edit(&t)},
			{Word: "no", Label: "No", State: limit.Snapped, Do: edit(&f)}}
	}}
}

// askTakes words the question of a takesFact.
func askTakes(w *Words, at int, it *rig.Item, m *picture.Mode, verb string) {
	w.Facts[at] = FactWords{Name: w.T("whether %s can %s %s", it.Label, lang.Text(verb), m.Name()),
		Ask: w.AskOf(&w.Result.Facts[at], w.T("Does %s %s %s?", it.Label, lang.Text(verb), m.Name()),
			lang.Text("Its data sheet lists the pictures; or connect it once and look."), 3)}
}

var Takes = rule(Rule{
	Name:    "takes",
	Asks:    "Does the input lock to the picture that arrives?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "does it take that?", Bad: "does not take that"},
	Source:  datasheet("The input list of the spec sheet"),
	Example: "2160p30 into a stick that lists 1080p60 and below: snapped.",
	Say:     sayTakes,
	Judge:   Judging{AtPictureIn: judgePictureIn},
})

// judgePictureIn judges a picture that comes in: whether the device locks to it, its chroma, its link, its shape.
func judgePictureIn(p *Pass, own *Rule, w *Walk) {
	it, port, m := w.Item, w.Port, w.Mode
	l := Result{Where: w.Deps(), Mode: m}
	switch {
	case slices.ContainsFunc(port.Refuses, m.Same):
		l.Outcomes = limit.No
	case slices.ContainsFunc(port.Modes, m.Same):
		l.Outcomes = limit.Yes
	case len(port.Modes) == 0 || port.MoreModes:
		l.Outcomes, l.Facts = limit.Maybe, p.FactList(takesFact(p, it, port, m))
	case plans.Upstream(it).ID != "" && !picture.Television(m.Width,
		m.Height): // a list of television's pictures tells nothing of this one
		oddShape(p, &l, it, m)
		odd := l.Say
		l.Say = func(w *Words) { w.What = w.T("Picture %s takes", it.Label); odd(w) }
	default:
		l.Outcomes = limit.No
	}
	p.Add(w.Hop, own, w.Ref, &l)
	judgeChroma(p, w)
	p.Link(w)
	if plans.IsSDI(port) {
		judgeSDILevel(p, w)
	}
	judgeOddSize(p, w)
}

var Chroma = rule(Rule{
	Name:    "chroma",
	Asks:    "Does the input take a picture sent at 4:2:0?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "does it take 4:2:0?", Bad: "no 4:2:0"},
	Source:  standard("HDMI 2.0, from memory; 4:2:0 must be accepted by both ends"),
	Example: "2160p60 at 4:2:0 into an input whose EDID does not list it so: snapped.",
})

func sayTakes(w *Words) {
	it, port, m := w.Result.Hop.Item, w.Result.Hop.Port, w.Result.Mode
	text := lang.Text("%s locks to %s.")
	switch {
	case w.Result.State == limit.Snapped && slices.ContainsFunc(port.Refuses, m.Same):
		text = lang.Text("%s was tried with %s and shows nothing.")
	case w.Result.State == limit.Snapped:
		text = lang.Text("%s does not take %s: it shows nothing.")
	case w.Result.State == limit.Untested:
		text = lang.Text("Nobody has tried whether %s locks to %s.")
		askTakes(w, 0, it, m, "take")
	}
	w.What, w.Says = w.T("Picture %s takes", it.Label), w.T(text, it.Label, m.Name())
}

// judgeChroma judges a picture sent at 4:2:0, which both ends must know.
func judgeChroma(p *Pass, w *Walk) {
	it, port, m := w.Item, w.Port, w.Mode
	if m.Chroma != picture.YUV420 || port.Connector.Family() != gear.HDMIFamily {
		return
	}
	l := Result{Where: w.Deps()}
	var text func(w *Words) string
	short := func(format string) func(w *Words) string {
		return func(w *Words) string { return w.T(format, it.Label) }
	}
	switch {
	case slices.ContainsFunc(port.Modes, func(o picture.Mode) bool { return o.Same(*m) && o.Chroma == picture.YUV420 }):
		l.Outcomes, text = limit.Yes, func(w *Words) string { return w.T("%s takes %s at 4:2:0.", it.Label, m.Name()) }
	case port.ModesFrom == "edid":
		l.Outcomes, text = limit.No, func(w *Words) string {
			return w.T("%s does not list %s at 4:2:0 in its EDID.", it.Label, m.Name())
		}
	case port.Takes420 == "yes":
		l.Outcomes, text = limit.Yes, short(lang.Text("%s takes 4:2:0."))
	case port.Takes420 == "no":
		l.Outcomes, text = limit.No, short(lang.Text("%s does not take 4:2:0."))
	default:
		l.Outcomes, text = limit.Maybe, short(lang.Text("Nobody has said whether %s takes 4:2:0. Its EDID says."))
		l.Facts = p.FactList(limit.Open(limit.Part("items/ID/ports/PORT/takes420", it.ID, port.ID),
			limit.OneOf(limit.Would("yes", limit.Slack), limit.Would("no", limit.Snapped))))
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("4:2:0 at the input of %s", it.Label), text(w) }
	p.Add(w.Hop, Chroma, w.Ref, &l)
}

var OddSize = rule(Rule{
	Name:    "odd-size",
	Asks:    "What does the capture device make of a picture of another shape than it delivers?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheBus,
	Board:   Short{Open: "what of an odd size?", Bad: "odd size shows nothing"},
	Source:  datasheet("The spec sheet; odd sizes are cropped, boxed, scaled or refused, by device"),
	Example: "3440×1440 into a 16:9 capture that refuses odd sizes: snapped; one that crops them: taut.",
})

func judgeOddSize(p *Pass, w *Walk) {
	it, m := w.Item, w.Mode
	if m.Width == 0 || plans.Upstream(it).ID == "" {
		return
	}
	source := w.Feed.Source
	l := Result{Where: w.Deps()}
	if len(it.Gear.Delivers) == 0 { // it may have the shape, or not
		l.Outcomes, l.Facts = limit.Maybe, p.FactList(deliversFact(p, it, m))
		l.Say = func(w *Words) {
			w.What = w.T("Shape of %s at %s", source.Label, it.Label)
			w.Source, w.Says = datasheet("The spec sheet"),
				w.T("Nobody has said which pictures %s delivers, nor of which shape.", it.Label)
		}
		p.Add(w.Hop, OddSize, it.ID+":"+w.Feed.ID, &l)
		return
	}
	shape := picture.Aspect(m.Width, m.Height)
	for i := range it.Gear.Delivers {
		d := &it.Gear.Delivers[i]
		if d.Width == m.Width && d.Height == m.Height {
			return
		}
		if width, height, _ := d.Size(m.Width, m.Height); picture.Aspect(width, height) == shape {
			return
		}
	}
	oddShape(p, &l, it, m)
	odd := l.Say
	l.Say = func(w *Words) { w.What = w.T("Shape of %s at %s", source.Label, it.Label); odd(w) }
	p.Add(w.Hop, OddSize, it.ID+":"+w.Feed.ID, &l)
}

var oddWords = limit.OneOf(limit.Would(string(picture.Box), limit.Slack), limit.Would(string(picture.Crop),
	limit.Taut), limit.Would(string(picture.Stretch), limit.Taut), limit.Would(string(picture.Refuse), limit.Snapped))

// oddShape judges a picture of a size or shape a device does not have, by what its sheet says it makes of such.
func oddShape(p *Pass, l *Result, it *rig.Item, m *picture.Mode) {
	width, height := m.Width, m.Height
	text := lang.Text("Nobody has seen what %s makes of %s.")
	switch it.Gear.OddSizes {
	case picture.Box:
		l.Outcomes, text = limit.Yes, lang.Text("%s puts borders around %s.")
	case picture.Crop:
		l.Outcomes, text = limit.Soft, lang.Text("%s cuts off what of %s does not fit.")
	case picture.Stretch:
		l.Outcomes, text = limit.Soft, lang.Text("%s pulls %s out of shape.")
	case picture.Refuse:
		l.Outcomes, text = limit.No, lang.Text("%s refuses %s: it shows nothing.")
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/oddSizes", it.ID), oddWords))
	}
	l.Say = func(w *Words) {
		size := picture.SizeName(width, height)
		w.Says = w.T(text, it.Label, size)
		if len(w.Facts) > 0 {
			w.Facts[0].Ask = w.AskOf(&w.Result.Facts[0], w.T("What does %s make of %s?", it.Label, size),
				lang.Text("Connect it and look at all four edges."), 5)
		}
	}
}

var CharacterRate = rule(Rule{
	Name:    "character-rate",
	Asks:    "Does the HDMI socket carry the character rate of the picture?",
	Sum:     "pixel clock × bits a component ÷ 8 ≤ what the socket's HDMI version allows",
	Sense:   limit.AtMost,
	Unit:    "MHz",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheLead,
	Source:  standard("CTA-861 timings; HDMI character rates from memory"),
	Example: "2160p60 at 8-bit RGB needs 594 MHz: past a socket of HDMI 1.4 (340 MHz), inside one of 2.0 (600 MHz).",
	Say:     sayCharacterRate,
	Judge:   Judging{AtLink: judgeLink},
})

// judgeLink judges a picture against what its socket carries, by the socket's family.
func judgeLink(p *Pass, own *Rule, w *Walk) {
	switch {
	case plans.IsSDI(w.Port):
		judgeSDISocket(p, w)
	case w.Fixed:
		judgeFixedRate(p, w)
		if !w.FixedSure { // one end may have none: then its character rate counts
			judgeCharacterOpen(p, own, w)
		}
	default:
		judgeCharacterRate(p, own, w)
	}
}

func judgeCharacterRate(p *Pass, own *Rule, w *Walk) {
	it, port, m := w.Item, w.Port, w.Mode
	if port.Connector.Family() != gear.HDMIFamily {
		return
	}
	var most *fact.Fact
	if port.HDMI != nil {
		most = port.HDMI.MaxTMDSMHz
	}
	low, high := w.CharacterRate()
	rate := rateFact(low, high)
	openRate(p, &rate, it, port, m)
	l := Result{Limit: limit.Limit{Facts: p.FactList(rate,
		limit.Stated(limit.Part("items/ID/ports/PORT/hdmi/maxTmdsMHz", it.ID, port.ID), "MHz", most,
			gear.DefaultMaxTMDS)),
		Loads: p.LoadOf(w.Feed.Source.ID, limit.Times(1, 1)), Caps: plans.SecondFact}, Where: w.Deps(), Mode: m}
	p.Add(w.Hop, own, w.Ref, &l)
}

func sayCharacterRate(w *Words) {
	it, m, verb := w.Result.Hop.Item, w.Result.Mode, "take"
	if port := w.Result.Socket(); port.Direction == gear.Out {
		verb = "send"
	}
	w.What, w.Sum = w.T("Character rate the socket of %s must %s", it.Label, verb),
		lang.Text("what the HDMI version of the socket allows")
	w.Loads[0].Sum = rateSum(m)
	if !w.Result.Facts[0].IsZero() { // its blanking is open, which a trial tells
		askTakes(w, 0, it, m, verb)
	}
	w.Facts[0].Name = lang.Text("character rate")
	w.Says = w.T("%s needs %s of the %s the socket of %s can %s.", m.Name(), w.LoadText(), w.LimitText(), it.Label,
		verb)
}

// openRate narrows what a picture needs of a socket where its blanking is not known: a socket that lists the picture
// carries it, one that was tried and refused does not, and of any other it is asked, which it reports.
func openRate(p *Pass, need *limit.Fact, it *rig.Item, port *gear.Port, m *picture.Mode) (asked bool) {
	if !fact.Over(need.High, need.Low) {
		return false
	}
	switch {
	case slices.ContainsFunc(port.Modes, m.Same):
		need.Value, need.High = need.Low, need.Low
	case slices.ContainsFunc(port.Refuses, m.Same):
		need.Value, need.Low = need.High, need.High
	default:
		f := takesFact(p, it, port, m)
		options, low, high := f.Open, need.Low, need.High
		need.Key = f.Key
		need.Open = func() []limit.Option {
			o := options()
			o[0].Number, o[1].Number = low, high
			o[0].State, o[1].State = 0, 0
			return o
		}
		return true
	}
	return false
}

// judgeCharacterOpen is said of a picture past every character rate where one end of the link may have no fixed-rate
// link.
func judgeCharacterOpen(p *Pass, own *Rule, w *Walk) {
	it, port, verb, m := w.Item, w.Port, w.Verb, w.Mode
	other, otherPort := it, port
	if plans.FixedRateOf(port) != hdmi.UnknownFRL { // it is the other end nobody has looked at
		if other, otherPort = otherEnd(w); other == nil || plans.FixedRateOf(otherPort) != hdmi.UnknownFRL {
			return
		}
	}
	f := frlFact(other, otherPort)
	low, _ := hdmi.FixedRateNeed(*m)
	options := slices.Clone(f.Choices())
	for i := range options {
		options[i].State = limit.Slack
		if fact.Over(low, options[i].Number) {
			options[i].State = limit.Snapped
		}
	}
	f.Options = &options
	l := Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Maybe, Facts: p.FactList(f)}, Where: w.Deps()}
	l.Say = func(w *Words) {
		w.Source = standard("HDMI 2.1, from memory")
		w.What = w.T("Character rate the socket of %s must %s", it.Label, verb)
		w.Says = w.T("%s is past every character rate: the socket of %s can %s it only over a fixed-rate link, and nobody has looked whether it has one.",
			m.Name(), it.Label, verb)
		if other != it {
			w.Says = w.T("%s is past every character rate: the socket of %s can %s it only over a fixed-rate link, and nobody has looked whether %s has one.",
				m.Name(), it.Label, verb, other.Label)
		}
	}
	p.Add(w.Hop, own, w.Ref, &l)
}

// otherEnd is the item and socket at the other end of the link whose socket is at hand.
func otherEnd(w *Walk) (*rig.Item, *gear.Port) {
	if w.Port.Direction == gear.Out {
		return w.NextItem, w.Next
	}
	if w.From == nil || w.To != w.Port {
		return nil, nil
	}
	return w.Ends[0], w.From
}

// rateFact is a character rate in MHz as a figure of the rules: narrow for standard timings.
func rateFact(low, high float64) limit.Fact {
	from := fact.Standard
	if low != high {
		from = fact.Estimate
	}
	return limit.Fact{Unit: "MHz", Low: low / say.Mega, Value: (low + high) / 2 / say.Mega, High: high / say.Mega,
		From: from}
}

// rateSum shows how a character rate comes about.
func rateSum(m *picture.Mode) string {
	clock, ok := hdmi.PixelClock(*m)
	if !ok {
		return lang.Text("%s × %s × %s, with blanking nobody has stated", strconv.Itoa(m.Width),
			strconv.Itoa(m.Height), m.Rate.String())
	}
	low, _ := hdmi.CharacterRate(*m)
	factor := low / clock
	base := lang.Text("%s MHz pixel clock (CTA-861 %s)", say.Number(clock/say.Mega), m.Name())
	if factor == 1 {
		return base + " × 1"
	}
	chroma := "rgb"
	if m.Chroma != picture.NotSaid {
		chroma = string(m.Chroma)
	}
	return base + " × " + say.Number(math.Round(factor*1000)/1000) + lang.Text(" for %s %s-bit", chroma,
		strconv.Itoa(m.Depth()))
}

var FixedRate = rule(Rule{
	Name:    "fixed-rate",
	Asks:    "Does the fixed-rate link of the socket carry the picture?",
	Sum:     "between active pixels/s and clock, × bits a pixel ≤ line rate × 16 ÷ 18, less 2 %",
	Sense:   limit.AtMost,
	Unit:    "Gb/s",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "fast enough?", Bad: "link too slow"},
	Source:  standard("HDMI 2.1, from memory"),
	Example: "2160p120 at 10-bit RGB needs 29.9 to 35.6 Gb/s; 4×10 carries about 34.8: it depends.",
})

// fixedFact is what a picture needs of a fixed-rate link.
func fixedFact(m *picture.Mode) limit.Fact {
	low, high := hdmi.FixedRateNeed(*m)
	from := fact.Standard
	if low != high {
		from = fact.Estimate
	}
	return limit.Fact{Unit: "Gb/s", Low: low, Value: (low + high) / 2, High: high, From: from}
}

func fixedSum(m *picture.Mode) string {
	return lang.Text("pixel clock × %s bits a pixel, blanking not compressed", say.Number(hdmi.BitsPerPixel(*m)))
}

func judgeFixedRate(p *Pass, w *Walk) {
	it, port, verb, m := w.Item, w.Port, w.Verb, w.Mode
	need := fixedFact(m)
	open := openRate(p, &need, it, port, m)
	l := Result{Limit: limit.Limit{Facts: p.FactList(need, frlFact(it, port)), Loads: p.LoadOf(w.Feed.Source.ID,
		limit.Times(1, 1)), Caps: plans.SecondFact}, Where: w.Deps()}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("Fixed-rate link the socket of %s must %s", it.Label, verb),
			lang.Text("line rate × 16 ÷ 18, less 2 % for error correction")
		w.Loads[0].Sum = fixedSum(m)
		if open {
			askTakes(w, 0, it, m, verb)
		}
		w.Facts[0].Name = lang.Text("need of a fixed-rate link")
		w.Says = w.T("%s needs %s of the %s the fixed-rate link of %s can %s.", m.Name(), w.LoadText(), w.LimitText(),
			it.Label, verb)
	}
	p.Add(w.Hop, FixedRate, w.Ref, &l)
}

// frlOptions are the fixed-rate links a socket may have.
var frlOptions = func() []limit.Option {
	out := []limit.Option{{Word: "none"}}
	for _, f := range hdmi.FRLs {
		out = append(out, limit.Option{Word: string(f), Number: f.PayloadGbps()})
	}
	return out
}()

func frlFact(it *rig.Item, port *gear.Port) limit.Fact {
	k := limit.Part("items/ID/ports/PORT/hdmi/fixedRate", it.ID, port.ID)
	if f := plans.FixedRateOf(port); f != hdmi.UnknownFRL {
		g := f.PayloadGbps()
		return limit.Fact{Key: k, Unit: "Gb/s", Low: g, Value: g, High: g, From: fact.Given, Word: string(f)}
	}
	return limit.Choice(k, "Gb/s", string(hdmi.UnknownFRL), &frlOptions)
}
