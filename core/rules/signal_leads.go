package rules

import (
	"strings"

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

// FloorCaution stands beside every length that is laid across a room.
const FloorCaution = "Cables on floors: cover or tape along the whole walk, leave slack at the camera, strain relief at small sockets."

var WayRound = rule(Rule{
	Name:    "way-round",
	Asks:    "Does an output meet an input?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "which way round?", Bad: "output meets output"},
	Source:  practice("An HDMI socket on a computer is an output unless its record says so"),
	Example: "A camera plugged into the HDMI socket of a graphics card: an output meets an output, nothing flows.",
	Say:     sayFlows,
	Judge:   Judging{AtPictureLead: judgeWayRound},
})

// judgeWayRound judges direction: an output must meet an input, and a computer's picture socket is an output unless its
// record says otherwise. Nothing else is judged of a lead through which nothing flows.
func judgeWayRound(p *Pass, own *Rule, w *Walk) {
	fi, ti, from, to := w.Ends[0], w.Ends[1], w.From, w.To
	flows := from.Direction == gear.Out && to.Direction == gear.In
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes},
		Where: append(append(p.Mem.IDs.Room(len(w.Where)+1), w.Where...), ti.ID)}
	if !flows {
		l.Outcomes = limit.No
		l.Say = func(w *Words) {
			w.What = lang.Text("Output meets input")
			w.Says = w.T("%s of %s is %s and %s of %s is %s: nothing flows.", rig.PortName(from), fi.Label,
				string(from.Direction), rig.PortName(to), ti.Label, string(to.Direction))
			if to.Direction == gear.Out && ti.Gear.Kind == gear.Computer {
				w.Says = w.T("The picture socket “%s” of %s is an output: %s put into it carries nothing.",
					rig.PortName(to), ti.Label, fi.Label)
			}
		}
	}
	p.Add(w.Hop, own, w.Lead.ID, &l)
	w.Dead = !flows
}

func sayFlows(w *Words) {
	w.What, w.Says = lang.Text("Output meets input"), lang.Text("An output meets an input.")
}

var SourceEnd = rule(Rule{
	Name:    "source-end",
	Asks:    "Does an active or optical lead lie the right way round?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "which way round?", Bad: "wrong way round"},
	Source:  practice("Active and optical leads have a source end"),
	Example: "An optical lead with its display end at the camera carries nothing; turning it costs two minutes.",
	Judge:   Judging{AtHDMILead: judgeSourceEnd},
})

var directionWords = limit.OneOf(limit.Would("right", limit.Slack), limit.Would("wrong", limit.Snapped))

func judgeSourceEnd(p *Pass, own *Rule, w *Walk) {
	l := w.Lead
	directional := hdmi.Grade(l.Grade).Directional()
	if !directional && l.Direction == "" && hdmi.Grade(l.Grade) != hdmi.Unknown {
		return // passive copper works both ways round
	}
	r := Result{Where: w.Deps()}
	text := lang.Text("The lead %s works one way round only, and nobody has looked at its ends.")
	switch {
	case l.Direction == "" && !directional && !plans.MaybeActive(l):
		r.Outcomes, text = limit.Yes,
			lang.Text("The lead %s is short and without a mark: passive, which works both ways round.")
	case l.Direction == "right":
		r.Outcomes, text = limit.Yes, lang.Text("Its source end is at the source.")
	case l.Direction == "wrong":
		r.Outcomes, text = limit.No, lang.Text("The lead %s lies the wrong way round: it carries nothing.")
	default:
		r.Outcomes = limit.Maybe
		if !directional {
			text = lang.Text("The lead %s is long and without a mark: it may be an active one, which works one way round only.")
		}
		r.Facts = p.FactList(limit.Open(limit.At("leads/ID/direction", l.ID), directionWords))
	}
	r.Say = func(w *Words) {
		title := w.LeadTitle(l)
		if w.What = w.T("Which way round the lead %s lies", title); strings.Contains(text, "%s") {
			w.Says = w.T(text, title)
		} else {
			w.Says = text
		}
	}
	p.Add(w.Hop, own, l.ID, &r)
}

var Joints = rule(Rule{
	Name:    "joints",
	Asks:    "Are there adapters in the lead that can work loose?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheLead,
	Source:  practice("Prefer one lead with the right ends"),
	Example: "A lead with a mini adapter: one joint, taut.",
	Judge:   Judging{AtHDMILead: judgeJoints},
})

func judgeJoints(p *Pass, own *Rule, w *Walk) {
	l := w.Lead
	if l.Adapters == 0 {
		return
	}
	small := w.From.Connector.Small() || w.To.Connector.Small()
	p.Add(w.Hop, own, l.ID, &Result{Limit: limit.Limit{Outcomes: limit.Soft}, Where: w.Deps(), Say: func(w *Words) {
		w.What = w.T("Joints of the lead %s", w.LeadTitle(l))
		w.Says = w.T("%s in the lead %s: each is a joint that can work loose; one lead with the right ends has none.",
			say.Sentence(say.Count(l.Adapters, "adapter", "adapters")), w.LeadTitle(l))
		if small {
			w.Caution = lang.Text("Small sockets want strain relief: the weight of an adapter and a lead bends them.")
		}
	}})
}

var Run = rule(Rule{
	Name:    "run",
	Asks:    "Is the lead as long as the way it has to go?",
	Sum:     "length of the lead ≥ run along the way it lies",
	Sense:   limit.AtLeast,
	Unit:    "m",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "does it reach?", Bad: "shorter than the run"},
	Source:  practice("A lead shorter than its run cannot be laid"),
	Example: "A 2 m lead for a run of 3 m: snapped.",
	Say:     sayRun,
	Judge:   Judging{AtHDMILead: judgeRun, AtCoax: judgeRun},
})

// judgeRun judges a lead against the distance it has to bridge, where somebody has said it: what lies there already
// reaches.
func judgeRun(p *Pass, own *Rule, w *Walk) {
	l := w.Lead
	if l.SpanM != nil || l.LengthM.High > 0 {
		judgeRunOf(p, own, w.Hop, w.Deps(), l)
	}
}

func judgeRunOf(p *Pass, own *Rule, hop *plans.Hop, where []string, l *rig.Lead) {
	if l.SpanM == nil {
		p.Add(hop, own, l.ID, &Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Yes}, Stage: stageOf(hop),
			Where: where})
		return
	}
	r := Result{Stage: stageOf(hop),
		Limit: limit.Limit{Facts: p.FactList(length(l), limit.Of(limit.At("leads/ID/spanM", l.ID), "m", *l.SpanM)),
			Loads: p.LoadOf(l.ID, limit.Times(1, 1)), Caps: plans.SecondFact}, Where: where}
	p.Add(hop, own, l.ID, &r)
}

func sayRun(w *Words) {
	title := w.LeadTitle(w.Lead(w.Result.ID.Place))
	if w.What = w.T("Run of the lead %s", title); w.Result.Sense == limit.Fits {
		w.Says, w.Source = w.T("The lead %s lies there, so it reaches.", title),
			practice("The run is a fact of its own")
		return
	}
	w.Loads[0].Sum, w.Sum, w.Caution = lang.Text("its length"), lang.Text("the distance along the way it lies"),
		FloorCaution
	w.Says = w.T("The lead %s is %s long and has to reach %s.", title, w.LoadText(), w.LimitText())
}

// stageOf is the stage of a hop; what stands on none is a plug's, at the computer.
func stageOf(hop *plans.Hop) plans.Stage {
	if hop == nil {
		return plans.Port
	}
	return hop.Stage
}

var Grade = rule(Rule{
	Name:    "grade",
	Asks:    "Is the lead made for what it has to carry?",
	Sum:     "character rate ≤ rate of the lead's mark; or need of a fixed-rate link ≤ what the mark promises",
	Sense:   limit.AtMost,
	Unit:    "MHz",
	Ceiling: 1,
	Over:    limit.Drops,
	Subject: TheLead,
	Board:   Short{Open: "what is printed on it?", Bad: "too poor a lead"},
	Source:  standard("HDMI lead categories, from memory"),
	Example: "2160p60 at 8-bit RGB, 594 MHz, over a High Speed lead (340 MHz): snapped; Premium High Speed carries it.",
	Say:     sayGrade,
	Judge:   Judging{AtHDMILead: judgeGrade},
})

// judgeGrade judges the mark on a lead against what it carries: a character rate, or a fixed-rate link, by which
// whatever is past every character rate has to go.
func judgeGrade(p *Pass, own *Rule, w *Walk) {
	l, m := w.Lead, w.Mode
	low, high := w.CharacterRate()
	fixed := w.Fixed || fact.Over(low/say.Mega, hdmi.MHz20)
	r := Result{Where: w.Deps()}
	need, mhz := rateFact(low, high), high/say.Mega
	made := gradeFact(l)
	if fixed {
		r.Unit, need, made, mhz = "Gb/s", fixedFact(m), fixedGradeFact(l), fixedMHz
	}
	if triedNeed(&need, l, mhz) {
		need.Open = plans.TriedOptions(l, mhz, need.Low, need.High, true)
	}
	r.Facts, r.Loads, r.Caps = p.FactList(need, made), p.LoadOf(w.Feed.Source.ID, limit.Times(1, 1)), plans.SecondFact
	p.Add(w.Hop, own, l.ID, &r)
}

func sayGrade(w *Words) {
	l, m, fixed := w.Result.Hop.Lead, w.Result.Hop.Mode, w.Result.Unit == "Gb/s"
	w.What, w.Sum = w.T("Grade of the lead %s", w.LeadTitle(l)), w.T("%s is certified for so much",
		plans.GradeName(l.Grade))
	w.Loads[0].Sum, w.Facts[0].Name = rateSum(m), lang.Text("character rate")
	if fixed {
		w.Loads[0].Sum, w.Facts[0].Name = fixedSum(m), lang.Text("need of a fixed-rate link")
	}
	if !w.Result.Facts[0].IsZero() { // its blanking is open, which a trial tells
		askTried(w, 0, w.Facts[0].Name, l, atMHz(m, fixed))
	}
	w.Says = w.T("%s carries %s; %s needs %s.", plans.GradeName(l.Grade), w.LimitText(), m.Name(), w.LoadText())
}

// fixedMHz stands for a fixed-rate link where leads are told by MHz: past every character rate.
const fixedMHz = 1200

// atMHz is what a lead has to hold for a picture: its character rate at most, in MHz, or a fixed-rate link.
func atMHz(m *picture.Mode, fixed bool) float64 {
	if fixed {
		return fixedMHz
	}
	_, high := hdmi.CharacterRate(*m)
	return high / say.Mega
}

// triedNeed narrows what a picture needs of a lead where its blanking is not known: only a trial at so many MHz tells,
// which is then asked for.
func triedNeed(need *limit.Fact, l *rig.Lead, mhz float64) (asked bool) {
	if !fact.Over(need.High, need.Low) {
		return false
	}
	switch t := l.Tried; {
	case t != nil && t.Holds && !fact.Over(mhz, t.MHz):
		need.Value, need.High = need.Low, need.Low
	case t != nil && !t.Holds && !fact.Over(t.MHz, mhz):
		need.Value, need.Low = need.High, need.High
	default:
		need.Key = limit.At("leads/ID/tried", l.ID)
		return true
	}
	return false
}

func gradeFact(l *rig.Lead) limit.Fact {
	grade := hdmi.Grade(l.Grade)
	k := limit.At("leads/ID/grade", l.ID)
	if grade != hdmi.Unknown {
		mhz, _ := hdmi.GradeMHz(grade)
		return limit.Fact{Key: k, Unit: "MHz", Low: mhz, Value: mhz, High: mhz, From: fact.Given, Word: l.Grade}
	}
	return limit.Choice(k, "MHz", l.Grade, &gradeOptions)
}

var gradeOptions = func() (out []limit.Option) {
	for _, g := range []hdmi.Grade{hdmi.StandardHD, hdmi.HighSpeed, hdmi.Premium, hdmi.UltraHigh} {
		mhz, _ := hdmi.GradeMHz(g)
		out = append(out, limit.Option{Word: string(g), Label: plans.GradeName(string(g)), Number: mhz})
	}
	return out
}()

// fixedGradeFact is what a lead's mark promises of a fixed-rate link.
func fixedGradeFact(l *rig.Lead) limit.Fact {
	sure, possible := hdmi.Grade(l.Grade).FixedRateGbps()
	f := limit.Fact{Key: limit.At("leads/ID/grade", l.ID), Unit: "Gb/s", Low: sure, Value: sure, High: possible,
		From: fact.Given, Word: l.Grade}
	if sure != possible {
		f.From = fact.Estimate
		f.Options = &[]limit.Option{{Word: string(hdmi.UltraHigh), Label: plans.GradeName(string(hdmi.UltraHigh)),
			Number: possible}, {Word: string(hdmi.Premium), Label: lang.Text("Any other mark")}}
	}
	return f
}

var Reach = rule(Rule{
	Name:    "reach",
	Asks:    "Is the lead short enough for what it carries?",
	Sum:     "length ≤ reach at this rate: HDMI by grade and rate, coax budget ÷ loss, USB by speed",
	Sense:   limit.AtMost,
	Unit:    "m",
	Over:    limit.Drops,
	Subject: TheLead,
	Source:  practice("Reach of passive copper"),
	Example: "12 m of passive HDMI at 148.5 MHz: surely 10 m, possibly 15 m, so it depends. A trial tells.",
	Say:     sayHDMIReach,
	Judge:   Judging{AtHDMILead: judgeHDMIReach, AtCoax: judgeCoaxReach},
})

// judgeHDMIReach judges the length of a lead against how far its rate goes over what it is made of, or by what happened
// when it was tried.
func judgeHDMIReach(p *Pass, own *Rule, w *Walk) {
	l := w.Lead
	mhz := float64(fixedMHz)
	if !w.Fixed {
		_, high := w.CharacterRate()
		mhz = high / say.Mega
	}
	if judgeTried(p, own, w, l, mhz) {
		return
	}
	r := Result{Where: w.Deps()}
	var reach limit.Fact
	if certified, _ := hdmi.GradeMHz(hdmi.Grade(l.Grade)); l.ReachM != nil && !fact.Over(mhz, certified) {
		reach = limit.Of(limit.At("leads/ID/reachM", l.ID), "m", *l.ReachM)
	} else {
		sure, possible := hdmi.Reach(madeAs(l), mhz, plans.Thickness(l, w.From, w.To))
		reach = limit.Fact{Unit: "m", Low: sure, Value: sure, High: possible, From: fact.Practice}
		if sure != possible {
			reach.Key, reach.Open = limit.At("leads/ID/tried", l.ID), plans.TriedOptions(l, mhz, sure, possible, false)
		}
	}
	r.Facts, r.Loads, r.Caps = p.FactList(length(l), reach), p.LoadOf(l.ID, limit.Times(1, 1)), plans.SecondFact
	p.Add(w.Hop, own, l.ID, &r)
}

func sayHDMIReach(w *Words) {
	h, reach := w.Result.Hop, &w.Result.Facts[1]
	l, mhz := h.Lead, atMHz(h.Mode, h.Fixed)
	w.What, w.Loads[0].Sum, w.Caution = w.T("Reach of the lead %s", w.LeadTitle(l)), lang.Text("its length"),
		FloorCaution
	w.Sum = lang.Text("what its maker promises, up to its grade")
	if reach.Field != "leads/ID/reachM" {
		w.Sum = w.T("%s at %s MHz: surely %s m, possibly %s m", leadKind(madeAs(l)), say.Number(mhz),
			say.Number(reach.Low), say.Number(reach.High))
		askTried(w, 1, w.T("whether the lead %s holds at %s MHz", w.LeadTitle(l), say.Number(mhz)), l, mhz)
	}
	w.Says = w.T("The lead %s is %s long; it carries %s MHz for %s.", w.LeadTitle(l), w.LoadText(), say.Number(mhz),
		w.LimitText())
}

// madeAs is the grade whose reach a lead has: one without a mark that is short is copper.
func madeAs(l *rig.Lead) hdmi.Grade {
	if grade := hdmi.Grade(l.Grade); grade != hdmi.Unknown || plans.MaybeActive(l) {
		return grade
	}
	return hdmi.StandardHD
}

// leadKind is what a grade is made of, in words.
func leadKind(g hdmi.Grade) string {
	switch g {
	case hdmi.Active:
		return lang.Text("active copper")
	case hdmi.Optical:
		return "optical"
	case hdmi.Unknown:
		return lang.Text("passive, active or optical")
	}
	return lang.Text("passive copper")
}

// length is the length of a lead as a fact.
func length(l *rig.Lead) limit.Fact {
	return limit.Of(limit.At("leads/ID/lengthM", l.ID), "m", l.LengthM)
}

// judgeTried judges a lead by what happened when it was tried, if that tells: it held a rate as high, or failed at one
// as low.
func judgeTried(p *Pass, own *Rule, w *Walk, l *rig.Lead, mhz float64) bool {
	t := l.Tried
	if t == nil || (!t.Holds || mhz > t.MHz) && (t.Holds || mhz < t.MHz) {
		return false
	}
	r := Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Yes}, Where: w.Deps()}
	text := lang.Text("This lead was tried at %s MHz and held.")
	if !t.Holds {
		r.Outcomes, text = limit.No, lang.Text("This lead was tried at %s MHz and did not hold.")
	}
	r.Say = func(w *Words) {
		w.What, w.Says, w.Source = w.T("The lead %s as tried", w.LeadTitle(l)), w.T(text, say.Number(t.MHz)),
			measured(strings.TrimSpace("tried "+t.At))
	}
	p.Add(w.Hop, own, l.ID, &r)
	return true
}

// askTried words the question of a trial, of a fact of that name.
func askTried(w *Words, at int, name string, l *rig.Lead, mhz float64) {
	f := &w.Result.Facts[at]
	if f.IsZero() {
		return
	}
	w.Facts[at] = FactWords{Name: name, Ask: w.AskOf(f, w.T("Does the lead %s (%s) hold at %s MHz?", w.LeadTitle(l),
		w.LeadName(l), say.Number(mhz)),
		lang.Text("Run the picture for a quarter of an hour and look for sparkles or cuts to black."), 15)}
}
