package judge

import (
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// lead judges one lead: way round, grade and reach. s is nil while the picture has not entered USB.
func (p *pass) lead(w *walk, at int, s *stream) {
	l := &p.Leads[at]
	fi, fp, ti, tp := p.g.LeadEnds(at)
	from, to := &p.Items[fi].Gear.Ports[fp], &p.Items[ti].Gear.Ports[tp]
	w.lead = l.ID
	switch {
	case s != nil && from.Connector.Family() == gear.USBFamily:
		p.usbLead(w, s, l, p.dockLead(at), from, to)
		return
	case s != nil && from.Connector == gear.PCIe:
		return // a card sits in its slot
	}
	hop := w.at(AtLead, "lead", l.ID, p.leadName(l), p.carries(w, from))
	switch from.Connector.Family() {
	case gear.HDMIFamily:
		if !p.wayRound(hop, w, l, &p.Items[fi], from, &p.Items[ti], to) {
			return
		}
		p.sourceEnd(hop, w, l)
		p.leadGrade(hop, w, l)
		p.leadReach(hop, w, l, from, to)
		p.joints(hop, w, l, from, to)
		p.distance(hop, w, l)
	case gear.SDIFamily:
		p.sdiLead(hop, w, l, &p.Items[fi], from, &p.Items[ti], to)
	default:
		p.notJudged("lead", l.ID, p.say("the lead %s", p.leadTitle(l)), p.say("there are no rules for %s links yet", upperFamily(from.Connector.Family())))
	}
}

// leadName is "High Speed 3 m".
func (p *pass) leadName(l *rig.Lead) string {
	if p.quiet {
		return ""
	}
	if l.LengthM.High == 0 {
		return "plugged straight in"
	}
	length := span(l.LengthM.Low, l.LengthM.High, "m")
	if l.LengthM.From == fact.Estimate {
		length = "~" + num(l.LengthM.Value) + " m est."
	}
	return GradeName(l.Grade) + " " + length
}

// carries is what a lead has to carry, in short.
func (p *pass) carries(w *walk, from *gear.Port) string {
	if p.quiet || from.Connector.Family() != gear.HDMIFamily {
		if link, mbps, ok := sdi.For(w.mode); ok && isSDI(from) && !p.quiet {
			return "carries " + string(link) + ", " + num(mbps) + " Mb/s"
		}
		return ""
	}
	if w.fixed {
		low, high := hdmi.FixedRateNeed(w.mode)
		return "carries " + span(low, high, "Gb/s")
	}
	low, high := hdmi.CharacterRate(w.mode)
	return "carries " + span(low/mega, high/mega, "MHz")
}

// leadTitle tells a lead by the things it joins.
func (p *pass) leadTitle(l *rig.Lead) string {
	if p.quiet {
		return ""
	}
	from, to := p.g.End(l.From), p.g.End(l.To)
	if from == nil || to == nil {
		return l.ID
	}
	return "from " + from.Label + " to " + to.Label
}

// GradeName is a lead grade in words.
func GradeName(grade string) string {
	if name, ok := gradeNames[grade]; ok {
		return name
	}
	return grade
}

var gradeNames = map[string]string{
	"unknown": "Unmarked HDMI", "standard": "Standard HDMI", "high-speed": "High Speed HDMI", "premium": "Premium High Speed HDMI",
	"ultra": "Ultra High Speed HDMI", "active": "Active HDMI", "optical": "Optical HDMI",
	"usb-charge": "Charge-only USB", "usb-2": "USB 2", "usb-5g": "USB 5 Gb/s", "usb-10g": "USB 10 Gb/s", "usb-20g": "USB 20 Gb/s",
	"usb-40g": "USB 40 Gb/s", "usb-unknown": "Unmarked USB",
	"coax": "Unmarked coax", "rg-6": "RG-6 class coax", "rg-59": "RG-59 class coax", "rg-179": "Thin RG-179 coax", "fibre": "SDI over fibre", "lan": "Network", "slot": "Slot",
}

// distance judges a lead against the distance it has to bridge, where somebody has said it: what lies there already reaches.
// Handbook 2.5.
func (p *pass) distance(hop *Hop, w *walk, l *rig.Lead) {
	if l.SpanM == nil {
		if l.LengthM.High > 0 {
			p.add(hop, &Limit{ID: "run:" + l.ID, Rule: "run", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("Run of the lead %s", p.leadTitle(l)),
				Says: p.say("The lead %s lies there, so it reaches.", p.leadTitle(l)), Source: Source{fact.Practice, "Handbook 2.5: the run is a fact of its own"}})
		}
		return
	}
	lim := Limit{ID: "run:" + l.ID, Rule: "run", Sense: AtLeast, Unit: "m", Ceiling: 1, Where: w.deps(), What: p.say("Run of the lead %s", p.leadTitle(l)),
		Facts: p.facts.of(p.lengthBasis(l), basis(p.path("leads", l.ID, "spanM"), p.say("run of the lead %s", p.leadTitle(l)), "m", l.SpanM, fact.Fact{},
			p.ask("How far has the lead %s to reach, along the way it lies?", p.leadTitle(l), "A tape along the walk.", 3))),
		Loads:    p.loads.of(Load{Item: l.ID, Label: p.leadName(l), Sum: "its length", term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: "the distance along the way it lies", Caution: floorCaution, Source: Source{fact.Practice, "Handbook 2.5: a lead shorter than its run cannot be laid"}}
	kept := p.add(hop, &lim)
	if !p.quiet {
		kept.Says = p.say("The lead %s is %s long and has to reach %s.", p.leadTitle(l), p.span(kept.Load.Low, kept.Load.High, "m"), p.span(kept.Sure, kept.Possible, "m"))
	}
}

// notJudged names a thing no rule looks at yet: never silently slack.
func (p *pass) notJudged(kind, ref, label, why string) {
	if !slices.ContainsFunc(p.unjudged, func(n NotJudged) bool { return n.Ref == ref }) {
		p.unjudged = append(p.unjudged, NotJudged{kind, ref, label, why})
	}
}

// wayRound judges direction: an output must meet an input, and a computer's picture socket is an output unless its
// record says otherwise. Handbook 2.4.
func (p *pass) wayRound(hop *Hop, w *walk, l *rig.Lead, fi *rig.Item, from *gear.Port, ti *rig.Item, to *gear.Port) bool {
	lim := Limit{ID: "way-round:" + l.ID, Rule: "way-round", Sense: Fits, Where: append(w.deps(), ti.ID), What: p.say("Output meets input"),
		Source: Source{fact.Practice, "Handbook 2.4: an HDMI socket on a computer is an output unless its record says so"}}
	switch {
	case from.Direction == gear.Out && to.Direction == gear.In:
		lim.outcomes, lim.Says = yes, p.say("An output meets an input.")
	case to.Direction == gear.Out && ti.Gear.Kind == gear.Computer:
		lim.outcomes, lim.Says = no, p.say("The picture socket “%s” of %s is an output: %s put into it carries nothing.", rig.PortName(to), ti.Label, fi.Label)
	default:
		lim.outcomes, lim.Says = no, p.say("%s of %s is %s and %s of %s is %s: nothing flows.", rig.PortName(from), fi.Label, string(from.Direction), rig.PortName(to), ti.Label, string(to.Direction))
	}
	p.add(hop, &lim)
	return lim.outcomes[0] == Slack
}

// floorCaution stands beside every length that is laid across a room. Handbook 4.5.
const floorCaution = "Cables on floors: cover or tape along the whole walk, leave slack at the camera, strain relief at small sockets."

// sourceEnd judges which way round an active or optical lead lies: it works one way only. Handbook 2.4.
func (p *pass) sourceEnd(hop *Hop, w *walk, l *rig.Lead) {
	if !hdmi.Grade(l.Grade).Directional() && l.Direction == "" && hdmi.Grade(l.Grade) != hdmi.Unknown {
		return // passive copper works both ways round
	}
	lim := Limit{ID: "source-end:" + l.ID, Rule: "source-end", Sense: Fits, Where: w.deps(), What: p.say("Which way round the lead %s lies", p.leadTitle(l)),
		Source: Source{fact.Practice, "Handbook 2.5: active and optical leads have a source end"}}
	switch {
	case l.Direction == "" && !hdmi.Grade(l.Grade).Directional() && !maybeActive(l):
		lim.outcomes, lim.Says = yes, p.say("The lead %s is short and without a mark: passive, which works both ways round.", p.leadTitle(l))
	case l.Direction == "right":
		lim.outcomes, lim.Says = yes, p.say("Its source end is at the source.")
	case l.Direction == "wrong":
		lim.outcomes, lim.Says = no, p.say("The lead %s lies the wrong way round: it carries nothing.", p.leadTitle(l))
	default:
		lim.outcomes, lim.Says = maybe, p.say("The lead %s works one way round only, and nobody has looked at its ends.", p.leadTitle(l))
		if !hdmi.Grade(l.Grade).Directional() {
			lim.Says = p.say("The lead %s is long and without a mark: it may be an active one, which works one way round only.", p.leadTitle(l))
		}
		lim.Facts = p.facts.of(p.stateBasis(p.path("leads", l.ID, "direction"), p.say("which way round the lead %s lies", p.leadTitle(l)),
			p.say("Is the source end of the lead %s at the source?", p.leadTitle(l)), "The plugs are marked, source and display or 1 and 2.", 1,
			answer{"right", "Yes", Slack}, answer{"wrong", "No", Snapped}))
	}
	p.add(hop, &lim)
}

// maybeActive tells whether a lead without a mark is longer than passive ones are sold, so that it may be an active or
// optical one [practice].
func maybeActive(l *rig.Lead) bool {
	return hdmi.Grade(l.Grade) == hdmi.Unknown && l.LengthM.High > hdmi.PassiveMetres
}

// joints judges adapters: each is a joint that can work loose, the more so at a small socket. Handbook 2.4.
func (p *pass) joints(hop *Hop, w *walk, l *rig.Lead, from, to *gear.Port) {
	if l.Adapters == 0 {
		return
	}
	lim := Limit{ID: "joints:" + l.ID, Rule: "joints", Sense: Fits, outcomes: soft, Where: w.deps(), What: p.say("Joints of the lead %s", p.leadTitle(l)),
		Says:   p.say("%s in the lead %s: each is a joint that can work loose; one lead with the right ends has none.", sentenceCase(count(l.Adapters, "adapter", "adapters")), p.leadTitle(l)),
		Source: Source{fact.Practice, "Handbook 2.4: prefer one lead with the right ends"}}
	if from.Connector.Small() || to.Connector.Small() {
		lim.Caution = "Small sockets want strain relief: the weight of an adapter and a lead bends them."
	}
	p.add(hop, &lim)
}

// leadGrade judges the mark on a lead against what it carries: a character rate, or a fixed-rate link.
func (p *pass) leadGrade(hop *Hop, w *walk, l *rig.Lead) {
	unit := "MHz"
	facts := p.facts.room(2)
	sum := ""
	if w.fixed {
		unit, sum = "Gb/s", p.fixedSum(w)
		facts = append(facts, p.triedNeed(fixedBasis(w), l, 1200), p.fixedGradeBasis(l))
	} else {
		low, high := hdmi.CharacterRate(w.mode)
		sum = p.rateSum(w.mode)
		facts = append(facts, p.triedNeed(rateBasis(low, high), l, high/mega), p.gradeBasis(l))
	}
	lim := Limit{ID: "grade:" + l.ID, Rule: "grade", Unit: unit, Where: w.deps(), What: p.say("Grade of the lead %s", p.leadTitle(l)),
		Ceiling:  1, // a lead is certified up to its rate; there is no planning share of a certificate
		Facts:    facts,
		Loads:    p.loads.of(Load{Item: w.feed.Source, Label: w.feed.Label, Sum: sum, term: times(1, 0)}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: p.say("%s is certified for so much", GradeName(l.Grade)),
		Source:   Source{fact.Standard, "HDMI lead categories, from memory; handbook 2.5"}}
	kept := p.add(hop, &lim)
	if !p.quiet {
		kept.Says = p.say("%s carries %s; %s needs %s.", GradeName(l.Grade), p.span(kept.Sure, kept.Possible, unit), p.name(w.mode),
			span(kept.Load.Low, kept.Load.High, unit))
	}
}

// triedNeed narrows what a picture needs of a lead where its blanking is not known: only a trial at so many MHz tells.
func (p *pass) triedNeed(need Basis, l *rig.Lead, mhz float64) Basis {
	if !fact.Over(need.High, need.Low) {
		return need
	}
	switch t := l.Tried; {
	case t != nil && t.Holds && !fact.Over(mhz, t.MHz):
		need.Value, need.High = need.Low, need.Low
	case t != nil && !t.Holds && !fact.Over(t.MHz, mhz):
		need.Value, need.Low = need.High, need.High
	case !p.quiet:
		need.Path = p.path("leads", l.ID, "tried")
		need.Options, need.ask = p.triedOptions(l, mhz, 0, 1)
		need.Options[0].Number, need.Options[1].Number = need.Low, need.High
	}
	return need
}

func (p *pass) gradeBasis(l *rig.Lead) Basis {
	grade := hdmi.Grade(l.Grade)
	path := p.path("leads", l.ID, "grade")
	if grade != hdmi.Unknown {
		mhz, _ := hdmi.GradeMHz(grade)
		return Basis{Path: path, Name: p.say("grade of the lead %s", p.leadTitle(l)), Unit: "MHz", Low: mhz, Value: mhz, High: mhz, From: fact.Given, Word: l.Grade}
	}
	options, edits := gradeOptions, [][]rig.Edit(nil)
	if !p.quiet {
		for _, o := range options {
			edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: o.Word}})
		}
	}
	return choice(path, p.say("grade of the lead %s", p.leadTitle(l)), "MHz", l.Grade, options,
		func() Ask {
			return Ask{Question: p.say("What is printed on the HDMI lead %s?", p.leadTitle(l)), How: "Look along the jacket and on the plugs.", Minutes: 1, Edits: edits}
		})
}

var gradeOptions = func() (out []Option) {
	for _, g := range []hdmi.Grade{hdmi.StandardHD, hdmi.HighSpeed, hdmi.Premium, hdmi.UltraHigh} {
		mhz, _ := hdmi.GradeMHz(g)
		out = append(out, Option{Word: string(g), Label: gradeNames[string(g)], Number: mhz})
	}
	return out
}()

const reachSource = "Handbook 2.5: reach of passive copper"

// leadReach judges the length of a lead against how far its rate goes over copper, or by what happened when it was
// tried.
func (p *pass) leadReach(hop *Hop, w *walk, l *rig.Lead, from, to *gear.Port) {
	mhz := 1200.0 // a fixed-rate link, past every character rate
	if !w.fixed {
		_, high := hdmi.CharacterRate(w.mode)
		mhz = high / mega
	}
	if p.wasTried(hop, w, l, mhz) {
		return
	}
	var reach Basis
	why := ""
	if certified, _ := hdmi.GradeMHz(hdmi.Grade(l.Grade)); l.ReachM != nil && !fact.Over(mhz, certified) {
		reach = basis(p.path("leads", l.ID, "reachM"), p.say("reach the maker promises for the lead %s", p.leadTitle(l)), "m", l.ReachM, fact.Fact{}, nil)
		why = "what its maker promises, up to its grade"
	} else {
		grade := hdmi.Grade(l.Grade)
		if grade == hdmi.Unknown && !maybeActive(l) {
			grade = hdmi.StandardHD // short: copper
		}
		sure, possible := hdmi.Reach(grade, mhz, thickness(l, from, to))
		reach = p.reachBasis(l, mhz, sure, possible)
		if !p.quiet {
			why = p.say("%s at %s MHz: surely %s m, possibly %s m", leadKind(grade), p.num(mhz), p.num(sure), p.num(possible))
		}
	}
	lim := Limit{ID: "reach:" + l.ID, Rule: "reach", Unit: "m", Where: w.deps(), What: p.say("Reach of the lead %s", p.leadTitle(l)),
		Facts:    p.facts.of(p.lengthBasis(l), reach),
		Loads:    p.loads.of(Load{Item: l.ID, Label: p.leadName(l), term: times(1, 0), Sum: "its length"}),
		caps:     p.terms.of(times(1, 1)),
		LimitSum: why, Caution: floorCaution,
		Source: Source{fact.Practice, reachSource}}
	kept := p.add(hop, &lim)
	if !p.quiet {
		kept.Says = p.say("The lead %s is %s long; it carries %s MHz for %s.", p.leadTitle(l), p.span(kept.Load.Low, kept.Load.High, "m"), p.num(mhz), p.span(kept.Sure, kept.Possible, "m"))
	}
}

// leadKind is what a grade is made of, in words.
func leadKind(g hdmi.Grade) string {
	switch g {
	case hdmi.Active:
		return "active copper"
	case hdmi.Optical:
		return "optical"
	case hdmi.Unknown:
		return "passive, active or optical"
	}
	return "passive copper"
}

// lengthBasis is the length of a lead as a fact.
func (p *pass) lengthBasis(l *rig.Lead) Basis {
	return basis(p.path("leads", l.ID, "lengthM"), p.say("length of the lead %s", p.leadTitle(l)), "m", &l.LengthM, fact.Fact{}, p.ask("How long is the lead %s?", p.leadTitle(l), "A tape measure, or the figure on the bag.", 1))
}

// wasTried judges a lead by what happened when it was tried, if that tells: it held a rate as high, or failed at one as
// low.
func (p *pass) wasTried(hop *Hop, w *walk, l *rig.Lead, mhz float64) bool {
	t := l.Tried
	if t == nil || (!t.Holds || mhz > t.MHz) && (t.Holds || mhz < t.MHz) {
		return false
	}
	lim := Limit{ID: "reach:" + l.ID, Rule: "reach", Sense: Fits, Where: w.deps(), What: p.say("The lead %s as tried", p.leadTitle(l)),
		Source: Source{fact.Measured, strings.TrimSpace("tried " + t.At)}}
	if t.Holds {
		lim.outcomes, lim.Says = yes, p.say("This lead was tried at %s MHz and held.", p.num(t.MHz))
	} else {
		lim.outcomes, lim.Says = no, p.say("This lead was tried at %s MHz and did not hold.", p.num(t.MHz))
	}
	p.add(hop, &lim)
	return true
}

// reachBasis is the reach as a fact: between its sure and possible value only a trial tells, and its two answers are
// "no further than the sure reach" and "as far as this lead is long".
func (p *pass) reachBasis(l *rig.Lead, mhz, sure, possible float64) Basis {
	b := Basis{Path: p.path("leads", l.ID, "tried"), Name: p.say("whether the lead %s holds at %s MHz", p.leadTitle(l), p.num(mhz)), Unit: "m",
		Low: sure, Value: sure, High: possible, From: fact.Practice}
	if b.Options, b.ask = p.triedOptions(l, mhz, sure, possible); b.Options == nil {
		b.Path = "" // nothing to find out
	}
	return b
}

// triedOptions are the two answers a trial of a lead has, and the question for it.
func (p *pass) triedOptions(l *rig.Lead, mhz, sure, possible float64) ([]Option, func() Ask) {
	if p.quiet || sure == possible {
		return nil, nil
	}
	t, f := true, false
	return []Option{{Word: "yes", Label: "It holds", Number: possible}, {Word: "no", Label: "It drops out", Number: sure}},
		func() Ask {
			return Ask{Question: p.say("Does the lead %s (%s) hold at %s MHz?", p.leadTitle(l), p.leadName(l), p.num(mhz)), Minutes: 15,
				How: "Run the picture for a quarter of an hour and look for sparkles or cuts to black.",
				Edits: [][]rig.Edit{{{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &t}},
					{{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &f}}}}
		}
}

// thickness: a lead to a mini or micro socket may be a thin one unless it is said.
func thickness(l *rig.Lead, from, to *gear.Port) hdmi.Thickness {
	switch {
	case l.Thin != nil && *l.Thin:
		return hdmi.Thin
	case l.Thin != nil:
		return hdmi.Thick
	case from.Connector.Small() || to.Connector.Small():
		return hdmi.MaybeThin
	}
	return hdmi.Thick
}
