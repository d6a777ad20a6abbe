package rules

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sdi"
)

var SDIPicture = rule(Rule{
	Name:    "sdi-picture",
	Asks:    "Is there a mapping of the picture on SDI?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Bad: "no SDI picture"},
	Source:  standard("SMPTE ST 259, 292-1, 425-1, 2081-10, 2082-10; from memory"),
	Example: "2560×1440 has none: television's sizes and rates only.",
})

var SDILink = rule(Rule{
	Name:    "sdi-link",
	Asks:    "Is the SDI socket fast enough for the picture?",
	Sum:     "bit rate of the picture's link ≤ fastest link of the socket",
	Sense:   limit.AtMost,
	Unit:    "Mb/s",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "which SDI is it?", Bad: "SDI link too slow"},
	Source:  standard("SMPTE ST 259, 292-1, 424, 2081-1, 2082-1; from memory"),
	Example: "1080p50 needs 2970 Mb/s; an HD socket takes 1485: snapped.",
})

// judgeSDISocket judges a picture against the link of an SDI socket.
func judgeSDISocket(p *Pass, w *Walk) {
	it, port, verb, m := w.Item, w.Port, w.Verb, w.Mode
	ref := w.Ref
	link, mbps, ok := sdi.For(*m)
	if !ok {
		p.Add(w.Hop, SDIPicture, ref, &Result{Limit: limit.Limit{Outcomes: limit.No}, Where: w.Deps(),
			Say: func(w *Words) {
				w.What, w.Says = w.T("Picture on the SDI socket of %s", it.Label),
					w.T("SDI has no mapping for %s: television's sizes and rates only.", m.Name())
			}})
		return
	}
	l := Result{Limit: limit.Limit{Facts: p.FactList(limit.Known(mbps, "Mb/s", fact.Standard), sdiLinkFact(it, port)),
		Loads: p.LoadOf(w.Feed.Source.ID, limit.Times(1, 1)), Caps: plans.SecondFact}, Where: w.Deps()}
	l.Say = func(w *Words) {
		w.What, w.Sum = w.T("SDI link the socket of %s must %s", it.Label, verb),
			lang.Text("the fastest link of the socket")
		w.Facts[0].Name, w.Loads[0].Sum = w.T("bit rate of %s", m.Name()), w.T("%s is a picture for %s-SDI", m.Name(),
			string(link))
		w.Says = w.T("%s needs %s of the %s the socket of %s can %s.", m.Name(), say.Span(mbps, mbps, "Mb/s"),
			w.LimitText(), it.Label, verb)
	}
	p.Add(w.Hop, SDILink, ref, &l)
}

var sdiOptions = func() (out []limit.Option) {
	for _, l := range sdi.Links[1:] {
		out = append(out, limit.Option{Word: string(l), Number: l.Mbps()})
	}
	return out
}()

// sdiLinkFact is the fastest link of an SDI socket in Mb/s.
func sdiLinkFact(it *rig.Item, port *gear.Port) limit.Fact {
	k := limit.Part("items/ID/ports/PORT/sdi/link", it.ID, port.ID)
	link := sdi.UnknownLink
	if port.SDI != nil {
		link = port.SDI.Link
	}
	if link != sdi.UnknownLink && link != sdi.NoLink {
		mbps := link.Mbps()
		return limit.Fact{Key: k, Unit: "Mb/s", Low: mbps, Value: mbps, High: mbps, From: fact.Given,
			Word: string(link)}
	}
	return limit.Choice(k, "Mb/s", string(sdi.UnknownLink), &sdiOptions)
}

var SDILevel = rule(Rule{
	Name:    "sdi-level",
	Asks:    "Does the input take the mapping of 3G-SDI that is sent?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "level A or B?", Bad: "levels A and B do not meet"},
	Source:  standard("SMPTE ST 425-1, from memory"),
	Example: "A level-B source into an input that takes level A only shows nothing.",
})

// judgeSDILevel judges the two mappings of 1080 lines at 50 frames and more.
func judgeSDILevel(p *Pass, w *Walk) {
	it, port := w.Item, w.Port
	if !sdi.TwoMappings(*w.Mode) {
		return
	}
	level := sdi.UnknownLevel
	if port.SDI != nil && port.SDI.Level != "" {
		level = port.SDI.Level
	}
	if w.Level == sdi.BothLevels && level != sdi.UnknownLevel {
		w.Level = level // it can be set to what the input takes, which is proposed
	}
	sent := w.Level
	surely, possibly := sdi.Meet(sent, level)
	l := Result{Where: w.Deps()}
	text := func(w *Words) string {
		return w.T("Nobody has looked up which mapping of 3G-SDI is sent, or which %s takes.", it.Label)
	}
	meet := func(out, in sdi.Level) limit.State {
		if a, b := sdi.Meet(out, in); a {
			return limit.Slack
		} else if b {
			return limit.Untested
		}
		return limit.Snapped
	}
	unknown := func(l sdi.Level) bool { return l == "" || l == sdi.UnknownLevel }
	switch {
	case surely:
		l.Outcomes, text = limit.Yes, func(w *Words) string {
			return w.T("%s takes the mapping that is sent.", it.Label)
		}
	case !possibly:
		l.Outcomes, text = limit.No, func(w *Words) string {
			return w.T("The source sends level %s, and %s takes level %s only: it shows nothing.", string(sent),
				it.Label, string(level))
		}
	default:
		l.Outcomes = limit.Maybe
		if unknown(level) {
			l.Let(limit.Open(limit.Part("items/ID/ports/PORT/sdi/level", it.ID, port.ID),
				limit.OneOf(limit.Would("AB", meet(sent, sdi.BothLevels)),
					limit.Option{Word: "A", Label: lang.Text("Level A only"), State: meet(sent, sdi.LevelA)},
					limit.Option{Word: "B", Label: lang.Text("Level B only"), State: meet(sent, sdi.LevelB)})))
		}
		if unknown(sent) && w.LevelItem != "" {
			l.Let(limit.Open(limit.Part("items/ID/ports/PORT/sdi/level", w.LevelItem, w.LevelPort),
				limit.OneOf(limit.Would("A", meet(sdi.LevelA, level)), limit.Would("B", meet(sdi.LevelB, level)))))
		}
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("Mapping of 3G-SDI at %s", it.Label), text(w) }
	p.Add(w.Hop, SDILevel, w.Ref, &l)
}

// judgeCoaxReach judges a coax lead by its reach for the link.
func judgeCoaxReach(p *Pass, own *Rule, w *Walk) {
	l := w.Lead
	link, mbps, ok := sdi.For(*w.Mode)
	if !ok || sdi.Class(l.Grade) == sdi.Optical {
		return // the sockets say it; fibre is as long as its maker says
	}
	mhz := mbps / 2
	if judgeTried(p, own, w, l, mhz) {
		return
	}
	reach, why := plans.CoaxReach(l, link, mhz)
	r := Result{Limit: limit.Limit{Facts: p.FactList(length(l), reach), Loads: p.LoadOf(l.ID, limit.Times(1, 1)),
		Caps: plans.SecondFact}, Where: w.Deps()}
	r.Say = func(w *Words) {
		w.Source = estimate("Reach = budget ÷ loss at half the bit rate; budgets from SMPTE ST 259, 292-1, 424, 2081-1, 2082-1, from memory")
		w.What, w.Loads[0].Sum, w.Sum, w.Caution = w.T("Reach of the lead %s", w.LeadTitle(l)),
			lang.Text("its length"), why(), FloorCaution
		w.Facts[1].Name = w.T("reach of the lead %s", w.LeadTitle(l))
		if reach.Field == "leads/ID/tried" {
			askTried(w, 1, w.T("whether the lead %s holds at %s MHz", w.LeadTitle(l), say.Number(mhz)), l, mhz)
			w.Facts[1].Name = w.T("reach of the lead %s", w.LeadTitle(l))
		}
		w.Says = w.T("The lead %s is %s long; this coax carries %s-SDI for %s.", w.LeadTitle(l), w.LoadText(),
			string(link), w.LimitText())
	}
	p.Add(w.Hop, own, l.ID, &r)
}
