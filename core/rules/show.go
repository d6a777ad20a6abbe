package rules

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
)

var ComputerAwake = rule(Rule{
	Name:    "computer-awake",
	Asks:    "Does the computer stay awake and undisturbed through the show?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Bad: "not undisturbed"},
	Source:  practice("Sleep, lid, updates and notices are settings of the computer that end or spoil a show: off for set-up, rehearsal and show"),
	Example: "A laptop that sleeps after 30 minutes without a key, in a show of two hours.",
	Judge:   Judging{OnRig: judgeAwake},
})

// judgeAwake judges the settings of the computer: what nobody has said is proposed off, and is a step.
func judgeAwake(p *Pass, own *Rule, _ *Walk) {
	it := p.Host()
	if it == nil {
		return
	}
	for k := range plans.Undisturbed {
		u := &plans.Undisturbed[k]
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes, Over: u.Over}, Stage: plans.Send, Shared: true,
			Where: []string{it.ID}}
		on := it.Set != nil && it.Set.Undisturbed[u.ID] == "on"
		if on {
			l.Outcomes = limit.No
		}
		l.Say = func(w *Words) {
			w.What = w.T("%s of %s", lang.Text(u.Name), it.Label)
			if w.Says = w.T("Off for set-up, rehearsal and show."); on {
				w.Says = w.T(u.Says, it.Label)
			}
		}
		p.Add(nil, own, it.ID+":"+u.ID, &l)
	}
}

var BroadcastLength = rule(Rule{
	Name:    "broadcast-length",
	Asks:    "Does the destination take a broadcast as long as rehearsal and show?",
	Sum:     "rehearsal + show ≤ the longest broadcast it takes",
	Sense:   limit.AtMost,
	Unit:    "min",
	Over:    limit.Dark,
	Subject: TheSend,
	Source:  datasheet("the destination's own limits"),
	Example: "A rehearsal of 30 and a show of 240 minutes on a destination that ends broadcasts after four hours: cut off.",
	Judge:   Judging{OnRig: judgeLength},
})

// unknownLongest is how long a broadcast may be where nobody has looked, minutes: destinations end it after four hours
// to two days [practice].
var unknownLongest = fact.Fact{Value: 720, Low: 240, High: 2880, From: fact.Practice}

func judgeLength(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if p.Show.Program.Kind == "call" {
			continue
		}
		var most *fact.Fact
		if d.Ingest != nil {
			most = d.Ingest.MaxMinutes
		}
		l := p.Roomy(1, 1)
		l.Stage, l.Shared, l.Where = plans.Send, true, []string{"send", "show"}
		l.Loads = append(l.Loads, limit.Load{Item: "show", Term: limit.Times(p.Show.RehearsalMinutes + p.Show.Minutes)})
		l.Caps = p.CapAt(limit.Times(1,
			l.Let(limit.Stated(limit.Part("show/destinations/N/maxMinutes", "", strconv.Itoa(i)), "min", most,
				unknownLongest))))
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Loads[0] = w.T("Longest broadcast of %s", d.Name), lang.Text("after which it is ended"),
				labelled(lang.Text("rehearsal and show"), lang.Text("in one broadcast"))
			w.Says = w.T("Rehearsal and show take %s of the %s %s lets a broadcast run.", w.LoadText(), w.LimitText(),
				d.Name)
			if w.Result.State == limit.Snapped {
				w.Says += " " + lang.Text("Rehearse in a broadcast of its own, or begin anew in the break.")
			}
		}
		p.Add(nil, own, strconv.Itoa(i), &l)
	}
}

var Permission = rule(Rule{
	Name:    "permission",
	Asks:    "May one go live on the destination at all?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Bad: "may not go live yet"},
	Source:  practice("The first permission for live may take a day; sign-in and a second factor are asked for from a new network"),
	Example: "An account that never went live: the button says 24 hours.",
})

var Arrival = rule(Rule{
	Name:    "arrival",
	Asks:    "Is everything that was ordered there before the show?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Open: "in time?", Bad: "arrives too late"},
	Source:  practice("Things ordered stand against the show's date"),
	Example: "A lead that arrives on Saturday, for a show on Friday.",
	Judge:   Judging{OnRig: judgeBefore},
})

// judgeBefore judges what has to be there before the day: permission to go live, things that were ordered.
func judgeBefore(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Permission == "" {
			continue // a step for the day before
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: toSend}
		if d.Permission == "no" {
			l.Outcomes = limit.No
		}
		l.Say = func(w *Words) {
			w.What, w.Says = w.T("Going live on %s", d.Name), w.T("Going live on %s is allowed.", d.Name)
			if d.Permission == "no" {
				w.Says = w.T("Nobody may go live on %s yet: ask for it now, the first permission may take a day.",
					d.Name)
			}
		}
		p.Add(nil, Permission, strconv.Itoa(i), &l)
	}
	for i := range p.Items {
		it := &p.Items[i]
		if it.Arrives == "" {
			continue
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true,
			Where: []string{it.ID, "show"}}
		date := p.Show.Date
		switch {
		case date == "":
			l.Outcomes = limit.Maybe
			l.Facts = p.FactList(openWord("show/date", limit.Would(rig.DayAfter(it.Arrives), limit.Slack),
				limit.Would(it.Arrives, limit.Snapped)))
		case it.Arrives >= date: // dates of one form compare as texts
			l.Outcomes = limit.No
		}
		l.Say = func(w *Words) {
			w.What = w.T("Arrival of %s", it.Label)
			switch w.Result.State {
			case limit.Slack:
				w.Says = w.T("%s arrives on %s, before the show on %s.", it.Label, it.Arrives, date)
			case limit.Untested:
				w.Says = w.T("%s arrives on %s, and nobody has said on which day the show is.", it.Label, it.Arrives)
			default:
				w.Says = w.T("%s arrives on %s, and the show is on %s: borrow one, or do without.", it.Label,
					it.Arrives, date)
			}
		}
		p.Add(nil, own, it.ID, &l)
	}
}
