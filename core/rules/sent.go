package rules

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
)

var SentCadence = rule(Rule{Name: "sent-cadence", Asks: "Does movement stay even from the programme to what is sent?", Sum: "uneven steps a second of the programme's rate in the sent one ≤ 0.2, ≤ 0.05 in sport and play; any where nothing moves", Sense: limit.AtMost, Unit: "uneven steps/s", Over: limit.Flaw, Subject: TheShow,
	Source:  practice("Whole multiples of the programme rate; never mix 25/50 with 30/60"),
	Example: "A programme at 25 sent as 30 shows 2,1,1,1,1: five uneven steps a second, judder. 50 sent as 25 is clean.",
	Judge:   Judging{OnRig: judgeSentCadence}})

// judgeSentCadence judges how the programme's rate goes into each sent one. A recording runs at the rate of what it is made of.
func judgeSentCadence(p *Pass, own *Rule, _ *Walk) {
	from := p.Show.Programme.Rate
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		into := d.Send.Rate
		c := picture.CadenceOf(from, into)
		l := p.Roomy(1, 1)
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(1, l.Let(limit.Known(c.UnevenPerSecond, "/s", fact.Standard)))})
		l.Caps = p.CapAt(limit.Times(UnevenStepsAllowed(p.Show.Motion)))
		l.Stage, l.Shared, l.Where = plans.Send, true, []string{"send", "show"}
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Short = w.T("Movement sent to %s", d.Name), unevenSum(w.Show.Motion), lang.Text("%s sent as %s", from.Name(), into.Name())
			w.Facts[0].Name, w.Loads[0] = lang.Text("uneven steps a second"), labelled(d.Name, cadenceSum(c, from, into))
			w.Says = w.T("A programme at %s sent at %s: %s.", from.Name(), into.Name(), plans.CadenceWords(c, from, into))
		}
		p.Add(nil, own, strconv.Itoa(i), &l)
	}
}

var Range = rule(Rule{Name: "range", Asks: "Do viewers see the range of brightness that is sent?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSend,
	Board:   Short{Open: "full range: right at the far end?", Bad: "shadows and lights lost"},
	Source:  standard("ITU-R BT.709 defines video at 16 to 235; players assume it unless a stream is flagged, and not all read the flag"),
	Example: "Full range chosen, and a player that takes it for limited: shadows are crushed and lights burn out.",
	Judge:   Judging{OnRig: judgeRange}})

func judgeRange(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		at := strconv.Itoa(i)
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: toSend}
		full := d.Send.Range == "full"
		if full {
			switch d.Send.RangeSeen {
			case "yes":
			case "no":
				l.Outcomes = limit.No
			default:
				l.Outcomes, l.Facts = limit.Maybe, p.FactList(limit.Open(limit.Part("show/destinations/N/rangeSeen", "", at), limit.OneOf(limit.Would("yes", limit.Slack), limit.Would("no", limit.Snapped))))
			}
		}
		l.Say = func(w *Words) {
			w.What = w.T("Range of brightness sent to %s", d.Name)
			switch {
			case !full:
				w.Says = lang.Text("Limited, as players assume it.")
			case w.Result.State == limit.Slack:
				w.Says = w.T("Full, and it was seen right at the far end of %s.", d.Name)
			case w.Result.State == limit.Untested:
				w.Says = w.T("Full range is sent to %s, and nobody has looked at the far end whether shadows and lights are whole there.", d.Name)
			default:
				w.Says = w.T("Full range is sent to %s and shows wrong at the far end: send limited.", d.Name)
			}
		}
		p.Add(nil, own, at, &l)
	}
}
