package judge

import (
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// sdiSocket judges a picture against the link of an SDI socket. Handbook 2.6.
func (p *pass) sdiSocket(hop *Hop, w *walk, it *rig.Item, port *gear.Port, verb string) {
	ref := it.ID + "." + port.ID
	link, mbps, ok := sdi.For(w.mode)
	if !ok {
		p.add(hop, &Limit{ID: "sdi-picture:" + ref, Rule: "sdi-picture", Sense: Fits, outcomes: no, Where: w.deps(), What: p.say("Picture on the SDI socket of %s", it.Label),
			Says:   p.say("SDI has no mapping for %s: television's sizes and rates only.", p.name(w.mode)),
			Source: Source{fact.Standard, "SMPTE ST 259, 292-1, 425-1, 2081-10, 2082-10; from memory"}})
		return
	}
	l := Limit{ID: "sdi-link:" + ref, Rule: "sdi-link", Unit: "Mb/s", Where: w.deps(), What: p.say("SDI link the socket of %s must %s", it.Label, verb),
		Ceiling:  1, // a socket is made for its link
		Facts:    p.facts.of(Basis{Name: p.say("bit rate of %s", p.name(w.mode)), Unit: "Mb/s", Low: mbps, Value: mbps, High: mbps, From: fact.Standard}, p.linkBasis(it, port)),
		Loads:    p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: p.say("%s is a picture for %s-SDI", p.name(w.mode), string(link)), term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: "the fastest link of the socket", Source: Source{fact.Standard, "SMPTE ST 259, 292-1, 424, 2081-1, 2082-1; from memory"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s needs %s of the %s the socket of %s can %s.", p.name(w.mode), p.span(mbps, mbps, "Mb/s"), p.span(kept.Sure, kept.Possible, "Mb/s"), it.Label, verb)
	}
}

// linkBasis is the fastest link of an SDI socket in Mb/s.
func (p *pass) linkBasis(it *rig.Item, port *gear.Port) Basis {
	path := p.path("items", it.ID, "ports", port.ID, "sdi/link")
	name := p.say("SDI link of %s", it.Label)
	link := sdi.UnknownLink
	if port.SDI != nil {
		link = port.SDI.Link
	}
	if link != sdi.UnknownLink && link != sdi.NoLink {
		mbps := link.Mbps()
		return Basis{Path: path, Name: name, Unit: "Mb/s", Low: mbps, Value: mbps, High: mbps, From: fact.Given, Word: string(link)}
	}
	var options []Option
	var edits [][]rig.Edit
	for _, l := range sdi.Links[1:] {
		options = append(options, Option{Word: string(l), Label: string(l) + "-SDI", Number: l.Mbps()})
		edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: string(l)}})
	}
	return choice(path, name, "Mb/s", string(sdi.UnknownLink), options, func() Ask {
		return Ask{Question: p.say("How fast is the SDI socket of %s?", it.Label), How: "Beside the socket or in the data sheet: HD, 3G, 6G or 12G.", Minutes: 2, Edits: edits}
	})
}

// sdiLevel judges the two mappings of 1080 lines at 50 frames and more. Handbook 2.6.
func (p *pass) sdiLevel(hop *Hop, w *walk, it *rig.Item, port *gear.Port) {
	if !sdi.TwoMappings(w.mode) {
		return
	}
	level := sdi.UnknownLevel
	if port.SDI != nil && port.SDI.Level != "" {
		level = port.SDI.Level
	}
	if w.level == sdi.BothLevels && level != sdi.UnknownLevel {
		w.level = level // it can be set to what the input takes, which is proposed
	}
	surely, possibly := sdi.Meet(w.level, level)
	l := Limit{ID: "sdi-level:" + it.ID + "." + port.ID, Rule: "sdi-level", Sense: Fits, Where: w.deps(), What: p.say("Mapping of 3G-SDI at %s", it.Label),
		Source: Source{fact.Standard, "SMPTE ST 425-1, from memory"}}
	switch {
	case surely:
		l.outcomes, l.Says = yes, p.say("%s takes the mapping that is sent.", it.Label)
	case !possibly:
		l.outcomes, l.Says = no, p.say("The source sends level %s, and %s takes level %s only: it shows nothing.", string(w.level), it.Label, string(level))
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has looked up which mapping of 3G-SDI is sent, or which %s takes.", it.Label)
		unknown := func(l sdi.Level) bool { return l == "" || l == sdi.UnknownLevel }
		if unknown(level) {
			state := func(in sdi.Level) State {
				if a, b := sdi.Meet(w.level, in); a {
					return Slack
				} else if b {
					return Untested
				}
				return Snapped
			}
			l.Facts = append(l.Facts, p.stateBasis(p.path("items", it.ID, "ports", port.ID, "sdi/level"), p.say("mapping %s takes", it.Label),
				p.say("Which mapping of 3G-SDI does %s take?", it.Label), "In its data sheet: level A, level B, or both.", 3,
				answer{"AB", "Both", state(sdi.BothLevels)}, answer{"A", "Level A only", state(sdi.LevelA)}, answer{"B", "Level B only", state(sdi.LevelB)}))
		}
		if unknown(w.level) && w.levelAt != "" {
			state := func(out sdi.Level) State {
				if a, b := sdi.Meet(out, level); a {
					return Slack
				} else if b {
					return Untested
				}
				return Snapped
			}
			l.Facts = append(l.Facts, p.stateBasis(p.path("items", w.levelAt, "sdi/level"), p.say("mapping %s sends", w.feed.Label),
				p.say("Which mapping of 3G-SDI does %s send?", w.feed.Label), "In its menu or data sheet: level A or level B.", 3,
				answer{"A", "Level A", state(sdi.LevelA)}, answer{"B", "Level B", state(sdi.LevelB)}))
		}
	}
	p.add(hop, &l)
}

// sdiLead judges a coax lead: direction, and its reach for the link. Handbook 2.6.
func (p *pass) sdiLead(hop *Hop, w *walk, l *rig.Lead, fi *rig.Item, from *gear.Port, ti *rig.Item, to *gear.Port) {
	if !p.wayRound(hop, w, l, fi, from, ti, to) {
		return
	}
	link, mbps, ok := sdi.For(w.mode)
	if !ok || sdi.Class(l.Grade) == sdi.Optical {
		return // the sockets say it; fibre is as long as its maker says
	}
	mhz := mbps / 2
	if p.wasTried(hop, w, l, mhz) {
		return
	}
	reach, why := p.coaxReach(l, link, mhz)
	lim := Limit{ID: "reach:" + l.ID, Rule: "reach", Unit: "m", Where: w.deps(), What: p.say("Reach of the lead %s", p.leadTitle(l)),
		Facts:    p.facts.of(p.lengthBasis(l), reach),
		Loads:    p.loads.of(Load{Item: l.ID, Label: p.leadName(l), term: times(1, 0), Sum: "its length"}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: why, Caution: floorCaution,
		Source: Source{fact.Estimate, "Handbook 2.6: reach = budget ÷ loss at half the bit rate; budgets from SMPTE ST 259, 292-1, 424, 2081-1, 2082-1, from memory"}}
	kept := p.add(hop, &lim)
	if !p.quiet {
		kept.Says = p.say("The lead %s is %s long; this coax carries %s-SDI for %s.", p.leadTitle(l), p.span(kept.Load.Low, kept.Load.High, "m"), string(link), p.span(kept.Sure, kept.Possible, "m"))
	}
}

// coaxReach bounds the reach of a coax lead: surely the shorter of the sum and what people plan with, possibly the sum.
// A lead of unknown class may be any.
func (p *pass) coaxReach(l *rig.Lead, link sdi.Link, mhz float64) (Basis, string) {
	b := Basis{Path: p.path("leads", l.ID, "tried"), Name: p.say("reach of the lead %s", p.leadTitle(l)), Unit: "m", From: fact.Estimate}
	points := l.Loss
	class := sdi.Class(l.Grade)
	var why string
	if len(points) > 0 {
		b.From = fact.DataSheet
	}
	if len(points) == 0 && class == sdi.UnknownCoax {
		worst, _ := sdi.Planning(sdi.RG179)
		best, _ := sdi.Planning(sdi.RG6)
		b.Low, _ = sdi.Reach([]sdi.Point{worst}, link)
		b.High, _ = sdi.Reach([]sdi.Point{best}, link)
		b.Path = p.path("leads", l.ID, "grade")
		why = p.say("coax nobody has read the jacket of: from thin to RG-6 class at %s MHz", p.num(mhz))
		if !p.quiet {
			var edits [][]rig.Edit
			for _, c := range []sdi.Class{sdi.RG6, sdi.RG59, sdi.RG179} {
				pt, _ := sdi.Planning(c)
				reach, _ := sdi.Reach([]sdi.Point{pt}, link)
				b.Options = append(b.Options, Option{Word: string(c), Label: GradeName(string(c)), Number: reach})
				edits = append(edits, []rig.Edit{{Do: "word", Path: b.Path, Word: string(c)}})
			}
			b.ask = func() Ask {
				return Ask{Question: p.say("What is printed on the coax lead %s?", p.leadTitle(l)), How: "Along the jacket: RG-6, RG-59, RG-179, or a maker's type.", Minutes: 1, Edits: edits}
			}
		}
	} else {
		if len(points) == 0 {
			pt, _ := sdi.Planning(class)
			points = []sdi.Point{pt}
		}
		reach, err := sdi.Reach(points, link)
		if err != nil { // points that make no sense: anything may be
			b.Low, b.High, why = 0, 1000, err.Error()
		} else {
			b.Low, b.High = reach, reach
			if !p.quiet {
				db, _ := sdi.Loss(points, link.Mbps()/2)
				why = p.say("%s dB ÷ %s dB per 100 m at %s MHz", num(sdi.Budget(link)), num(db), p.num(mhz))
			}
		}
		if sure, _ := sdi.HabitMetres(link); sure > 0 && len(l.Loss) == 0 && sure < b.Low {
			b.Low = sure
			why += p.say("; planned with 30 to 60 m")
		}
		if b.Options, b.ask = p.triedOptions(l, mhz, b.Low, b.High); b.Options == nil {
			b.Path = "" // a sum of the rules, nothing to find out
		}
	}
	b.Value = b.Low
	if sdi.Class(l.Grade) == sdi.UnknownCoax && len(l.Loss) == 0 {
		b.Value = (b.Low + b.High) / 2
	}
	return b, why
}

// isSDI tells whether a socket is one of SDI.
func isSDI(port *gear.Port) bool { return port.Connector.Family() == gear.SDIFamily }

func upperFamily(f gear.Family) string { return strings.ToUpper(string(f)) }
