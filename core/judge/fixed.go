package judge

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/rig"
)

// usesFixedRate tells whether a picture goes over a fixed-rate link: both ends have one, and the character rate is past
// what one of them does.
func (p *pass) usesFixedRate(w *walk, from, to *gear.Port) bool {
	if from.Connector.Family() != gear.HDMIFamily || to == nil || fixedRateOf(from) == hdmi.NoFRL || fixedRateOf(to) == hdmi.NoFRL {
		return false
	}
	low, _ := hdmi.CharacterRate(w.mode)
	limit := hdmi.MHz20
	for _, port := range []*gear.Port{from, to} {
		if port.HDMI != nil && port.HDMI.MaxTMDSMHz != nil {
			limit = min(limit, port.HDMI.MaxTMDSMHz.High)
		}
	}
	return fact.Over(low/mega, limit)
}

// fixedRateOf is what is known of a socket's fixed-rate link: as said, else none where its character rate is below what
// every socket with one has, else unknown [memory: HDMI 2.1].
func fixedRateOf(port *gear.Port) hdmi.FRL {
	switch {
	case port.HDMI == nil:
		return hdmi.UnknownFRL
	case port.HDMI.FixedRate == hdmi.SaidNone:
		return hdmi.NoFRL
	case port.HDMI.FixedRate != hdmi.NoFRL:
		return port.HDMI.FixedRate
	case port.HDMI.MaxTMDSMHz != nil && !fact.Over(hdmi.MHz20, port.HDMI.MaxTMDSMHz.High):
		return hdmi.UnknownFRL
	case port.HDMI.MaxTMDSMHz == nil:
		return hdmi.UnknownFRL
	}
	return hdmi.NoFRL
}

// fixedBasis is what a picture needs of a fixed-rate link.
func fixedBasis(w *walk) Basis {
	low, high := hdmi.FixedRateNeed(w.mode)
	from := fact.Standard
	if low != high {
		from = fact.Estimate
	}
	return Basis{Name: "need of a fixed-rate link", Unit: "Gb/s", Low: low, Value: (low + high) / 2, High: high, From: from}
}

func (p *pass) fixedSum(w *walk) string {
	if p.quiet {
		return ""
	}
	return p.say("pixel clock × %s bits a pixel, blanking not compressed", num(hdmi.BitsPerPixel(w.mode)))
}

// fixedRate judges a picture against the fixed-rate link of a socket. Handbook 2.5.
func (p *pass) fixedRate(hop *Hop, w *walk, it *rig.Item, port *gear.Port, verb string) {
	ref := it.ID + "." + port.ID
	need := fixedBasis(w)
	p.openRate(&need, it, port, w.mode, verb)
	l := Limit{ID: "fixed-rate:" + ref, Rule: "fixed-rate", Unit: "Gb/s", Where: w.deps(), What: p.say("Fixed-rate link the socket of %s must %s", it.Label, verb),
		Ceiling:  1,
		Facts:    p.facts.of(need, p.frlBasis(it, port)),
		Loads:    p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: p.fixedSum(w), term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: "line rate × 16 ÷ 18, less 2 % for error correction", Source: Source{fact.Standard, "HDMI 2.1, from memory; handbook 2.5"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s of the %s the fixed-rate link of %s can %s.", p.name(w.mode), p.span(kept.Load.Low, kept.Load.High, "Gb/s"),
			p.span(kept.Sure, kept.Possible, "Gb/s"), it.Label, verb)
	}
}

func (p *pass) frlBasis(it *rig.Item, port *gear.Port) Basis {
	path := p.path("items", it.ID, "ports", port.ID, "hdmi/fixedRate")
	name := p.say("fixed-rate link of %s", it.Label)
	if f := fixedRateOf(port); f != hdmi.UnknownFRL {
		g := f.PayloadGbps()
		return Basis{Path: path, Name: name, Unit: "Gb/s", Low: g, Value: g, High: g, From: fact.Given, Word: string(f)}
	}
	options := []Option{{Word: "none", Label: "None", Number: 0}}
	edits := [][]rig.Edit{{{Do: "word", Path: path, Word: "none"}}}
	for _, f := range hdmi.FRLs {
		options = append(options, Option{Word: string(f), Label: string(f) + " Gb/s", Number: f.PayloadGbps()})
		edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: string(f)}})
	}
	return choice(path, name, "Gb/s", string(hdmi.UnknownFRL), options, func() Ask {
		return Ask{Question: p.say("Which fixed-rate link has the socket of %s?", it.Label), How: "Its EDID says (for a sink), or its data sheet: 24, 32, 40 or 48 Gb/s.", Minutes: 3, Edits: edits}
	})
}

// fixedGradeBasis is what a lead's mark promises of a fixed-rate link.
func (p *pass) fixedGradeBasis(l *rig.Lead) Basis {
	sure, possible := hdmi.Grade(l.Grade).FixedRateGbps()
	b := Basis{Path: p.path("leads", l.ID, "grade"), Name: p.say("grade of the lead %s", p.leadTitle(l)), Unit: "Gb/s", Low: sure, Value: sure, High: possible, From: fact.Given, Word: l.Grade}
	if sure == possible || p.quiet {
		return b
	}
	b.From = fact.Estimate
	b.Options = []Option{{Word: string(hdmi.UltraHigh), Label: gradeNames[string(hdmi.UltraHigh)], Number: possible}, {Word: string(hdmi.Premium), Label: "Any other mark", Number: 0}}
	edits := [][]rig.Edit{{{Do: "word", Path: b.Path, Word: string(hdmi.UltraHigh)}}, {{Do: "word", Path: b.Path, Word: string(hdmi.Premium)}}}
	b.ask = func() Ask {
		return Ask{Question: p.say("Is the HDMI lead %s marked Ultra High Speed?", p.leadTitle(l)), How: "Look along the jacket and on the plugs.", Minutes: 1, Edits: edits}
	}
	return b
}
