package rules

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

var LineLoss = rule(Rule{
	Name:    "line-loss",
	Asks:    "Does a lossy line carry the stream over TCP?",
	Sum:     "(video + audio) × packaging ≤ 75 % of the smaller of the line and 0.87 × 1460 B × 8 ÷ (round trip × √loss)",
	Sense:   limit.AtMost,
	Unit:    "Mb/s",
	Ceiling: plans.UplinkShare,
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  standard("Mathis, Semke, Mahdavi, Ott 1997, with delayed acknowledgements; newer congestion control does better, so the line stays possible"),
	Example: "100 ms and 1 % carry 1.0 Mb/s surely, however fast the line is: 5.4 Mb/s of 1 to 50 depends.",
	Judge:   Judging{OnRig: judgeLoss},
})

// Over a line nobody has tried: loss in percent and round trip in ms [estimate].
var (
	unknownLoss = fact.Est(0.1, 0, 2)
	unknownRTT  = fact.Est(40, 5, 200)
)

// heldOptions are what a minute at the full bitrate may have shown: that the whole line is carried, or only what the
// formula has.
func heldOptions(said string) *[]limit.Option {
	yes, no := limit.Option{Word: "yes", Number: 1}, limit.Option{Word: "no", Number: 0}
	switch said {
	case "yes":
		return &[]limit.Option{yes}
	case "no":
		return &[]limit.Option{no}
	}
	return &[]limit.Option{yes, no}
}

// judgeLoss judges each stream over TCP by itself: each is a connection of its own.
func judgeLoss(p *Pass, own *Rule, _ *Walk) {
	var loss, rtt *fact.Fact
	if p.Uplink != nil {
		loss, rtt = p.Uplink.LossPct, p.Uplink.RTTMs
	}
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" || !p.OverTCP(d) {
			continue
		}
		l := p.Roomy(5, 2)
		l.Stage, l.Shared, l.Where = plans.Send, true, toSend
		share := plans.Packaging(d.Transport) / 1000
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(share, l.Let(p.VideoFact(i)))},
			limit.Load{Item: "send", Term: limit.Times(share, l.Let(p.AudioFact(i)))})
		line := l.Let(p.UploadFact())
		lost, trip := l.Let(limit.Stated(limit.At("uplink/lossPct", ""), "%", loss, unknownLoss)),
			l.Let(limit.Stated(limit.At("uplink/rttMs", ""), "ms", rtt, unknownRTT))
		held := l.Let(limit.Choice(limit.Part("show/destinations/N/held", "", strconv.Itoa(i)), "", d.Held,
			heldOptions(d.Held)))
		l.CapOf = func(f []limit.Fact) limit.Bounds {
			up, lo, rt, tried := f[line-1], f[lost-1], f[trip-1], f[held-1]
			b := limit.Bounds{Low: up.Low, Value: up.Value, High: up.High}
			if tried.Low == 0 { // not known to send better than the formula has it
				b.Low, b.Value = min(up.Low, plans.Mathis(rt.High, lo.High)),
					min(up.Value, plans.Mathis(rt.Value, lo.Value))
			}
			if tried.High == 0 { // known not to
				b.High = min(up.High, plans.Mathis(rt.Low, lo.Low))
			}
			return b
		}
		l.Say = func(w *Words) {
			w.What, w.Sum = w.T("What the line carries to %s at its loss", d.Name),
				lang.Text("the smaller of the line and what one connection carries; newer ways of sending may carry the whole line")
			w.Loads[0], w.Loads[1] = labelled(w.T("%s, picture", d.Name),
				w.T("× %s packaging", say.Number(plans.Packaging(d.Transport)))), labelled(w.T("%s, sound", d.Name),
				w.T("× %s packaging", say.Number(plans.Packaging(d.Transport))))
			w.Facts[line-1].Name = lang.Text("what the line carries")
			switch {
			case loss == nil || rtt == nil:
				w.Says = w.T("%s to %s of the %s one connection may carry: nobody has measured loss and round trip.",
					w.LoadText(), d.Name, w.LimitText())
			default:
				w.Says = w.T("%s to %s of the %s one connection carries at its loss and round trip.", w.LoadText(),
					d.Name, w.LimitText())
			}
		}
		p.Add(nil, own, strconv.Itoa(i), &l)
	}
}

var Allowance = rule(Rule{
	Name:    "allowance",
	Asks:    "Is there data enough left for test, rehearsal and show?",
	Sum:     "Mb/s × minutes of test, rehearsal and show × 0.0075 ≤ what is left of the allowance",
	Sense:   limit.AtMost,
	Unit:    "GB",
	Over:    limit.Dark,
	Subject: TheSend,
	Source:  practice("What is sent counts against a data allowance; over it a line is cut off or slowed down"),
	Example: "5.418 Mb/s is 2.44 GB an hour.",
	Judge:   Judging{OnRig: judgeAllowance},
})

// testMinutes are what is sent besides rehearsal and show: the tests before.
const testMinutes = 5

// judgeAllowance judges what is sent against a data allowance: of a phone's or another's line; one's own has none, as a
// rule [practice].
func judgeAllowance(p *Pass, own *Rule, _ *Walk) {
	if p.Uplink == nil || len(p.Show.Destinations) == 0 && len(p.Show.Calls) == 0 {
		return
	}
	up := p.Uplink
	if up.AllowanceGB == nil && up.Whose != "phone" && up.Whose != "limited" {
		return
	}
	l := p.Roomy(2*len(p.Show.Destinations)+len(p.Show.Calls)+1, 2*len(p.Show.Destinations)+len(p.Show.Calls))
	l.Stage, l.Shared, l.Where = plans.Send, true, toSend
	gb := (testMinutes + p.Show.RehearsalMinutes + p.Show.Minutes) * 0.0075 / 1000
	var names []string
	load := func(name string, by float64, f limit.Fact) {
		names = append(names, name)
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(by*gb, l.Let(f))})
	}
	for i := range p.Show.Destinations {
		if d := &p.Show.Destinations[i]; d.Via == "" {
			load(p.T("%s, picture", d.Name), plans.UploadShare(d), p.VideoFact(i))
			load(p.T("%s, sound", d.Name), plans.UploadShare(d), p.AudioFact(i))
		}
	}
	for i := range p.Show.Calls {
		load(plans.CallName(&p.Show, i), 1, p.CallUp(i))
	}
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("uplink/allowanceGB", ""), "GB", up.AllowanceGB,
		fact.Est(20, 0, 1000)))))
	l.Say = func(w *Words) {
		w.What, w.Sum = lang.Text("Data allowance"), lang.Text("what is left of it")
		for k := range names {
			w.Loads[k] = labelled(names[k], lang.Text("Mb/s × minutes × 0.0075"))
		}
		w.Says = w.T("Tests, rehearsal and show send %s of the %s that are left.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, own, "", &l)
}

var VenueNetwork = rule(Rule{
	Name:    "venue-network",
	Asks:    "Does the venue's network let the stream out?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Open: "tried from the place?", Bad: "does not get out"},
	Source:  practice("A venue's network has a sign-in page, closed ports or sessions that end: 60 s to the real ingest from the place tell"),
	Example: "A hotel's network signs everybody out at midnight, and lets no RTMP out: found on the evening before.",
	Judge:   Judging{OnRig: judgeVenue},
})

// judgeVenue judges a line that is another's: whether anybody has sent from the place.
func judgeVenue(p *Pass, own *Rule, _ *Walk) {
	if p.Uplink == nil || p.Uplink.Whose != "venue" {
		return
	}
	l := Result{Limit: limit.Limit{Outcomes: limit.Maybe}, Stage: plans.Send, Shared: true, Where: toSend}
	switch p.Uplink.TriedThere {
	case "yes":
		l.Outcomes = limit.Yes
	case "no":
		l.Outcomes = limit.No
	default:
		l.Facts = p.FactList(openWord("uplink/triedThere", limit.Would("yes", limit.Slack),
			limit.Would("no", limit.Snapped)))
	}
	l.Say = func(w *Words) {
		w.What = lang.Text("The venue's network")
		switch w.Result.State {
		case limit.Slack:
			w.Says = lang.Text("A minute was sent to the real ingest from the place, and arrived.")
		case limit.Untested:
			w.Says = lang.Text("Nobody has sent from the place yet: a sign-in page, closed ports or sessions that end are found by sending 60 s to the real ingest.")
		default:
			w.Says = lang.Text("What is sent from the place does not arrive: sign in, ask for the port to be opened, or bring a line.")
		}
	}
	p.Add(nil, own, "", &l)
}

var SecondLine = rule(Rule{
	Name:    "second-line",
	Asks:    "Does the second line carry the lowest rung?",
	Sum:     "(1000 + 128) kb/s × 1.05 ≤ 75 % of the second line",
	Sense:   limit.AtMost,
	Unit:    "Mb/s",
	Ceiling: plans.UplinkShare,
	Over:    limit.Care,
	Subject: TheSend,
	Source:  practice("A second line is worth what it carries of the lowest rung, 480p30"),
	Example: "A phone that sends 3 Mb/s carries 1.18 with room; how long changing over takes is on the run sheet.",
	Judge:   Judging{OnRig: judgeSecond},
})

// lowestRungKbps is picture and sound of the lowest rung.
const lowestRungKbps = 1000 + 128

// judgeSecond judges a second line where there is one.
func judgeSecond(p *Pass, own *Rule, _ *Walk) {
	if p.Uplink == nil || p.Uplink.SecondMbps == nil {
		return
	}
	l := p.Roomy(1, 1)
	l.Stage, l.Shared, l.Where = plans.Send, true, toSend
	l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(lowestRungKbps * 1.05 / 1000)})
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("uplink/secondMbps", ""), "Mb/s", p.Uplink.SecondMbps,
		fact.Est(5, 0, 100)))))
	l.Say = func(w *Words) {
		w.What, w.Sum, w.Loads[0] = lang.Text("Second line"), lang.Text("what it carries"),
			labelled(lang.Text("the lowest rung"), lang.Text("(1000 + 128) × 1.05 ÷ 1000"))
		w.Says = w.T("The lowest rung takes %s of the %s of the second line.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, own, "", &l)
}

var Downlink = rule(Rule{
	Name:    "downlink",
	Asks:    "Does the line bring in what comes by calls?",
	Sum:     "Σ people × a picture each, and one's own stream if it is watched ≤ 75 % of the download",
	Sense:   limit.AtMost,
	Unit:    "Mb/s",
	Ceiling: 0.75,
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  estimate("A picture in a call takes 0.6 to 3 Mb/s each way; a line brings in at least what it sends"),
	Example: "Three people at 0.6 to 3 Mb/s are 1.8 to 9 Mb/s; of 20 Mb/s 45 % at worst: slack.",
	Judge:   Judging{OnRig: judgeDownlink},
})

// judgeDownlink judges what comes in against the line.
func judgeDownlink(p *Pass, own *Rule, _ *Walk) {
	sh := &p.Show
	watched := slices.Contains(sh.Besides, rig.OwnStream) && len(sh.Destinations) > 0
	if len(sh.Calls) == 0 && !watched {
		return
	}
	n := len(sh.Calls) + 1
	l := p.Roomy(2*n, n)
	l.Stage, l.Shared, l.Where = plans.Send, true, []string{"send", "show"}
	for i := range sh.Calls {
		who, key := p.Persons(i), limit.Part("show/calls/N/downKbps", "", strconv.Itoa(i))
		total := fact.Est(who.Value*plans.CallDownKbps.Value, who.Low*plans.CallDownKbps.Low,
			who.High*plans.CallDownKbps.High)
		if counted := who.Low == who.High; counted || sh.Calls[i].DownKbps != nil {
			l.Loads = append(l.Loads,
				limit.Load{Item: "send",
					Term: limit.Times(0.001, l.Let(limit.Stated(key, "kb/s", sh.Calls[i].DownKbps, total)))})
			continue
		}
		each := l.Let(limit.Fact{Unit: "kb/s", Low: plans.CallDownKbps.Low, Value: plans.CallDownKbps.Value,
			High: plans.CallDownKbps.High, From: fact.Estimate})
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(who),
			each)}) // who is counted before bits are
	}
	if watched {
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(p.VideoFact(0)))})
	}
	l.Caps = p.CapAt(limit.Times(1, l.Let(p.Download())))
	l.Say = func(w *Words) {
		w.What = lang.Text("Downlink")
		w.Facts[len(w.Facts)-1].Name = lang.Text("download of the line")
		at := 0
		for i := range w.Show.Calls {
			f := &w.Result.Facts[at]
			w.Loads[i] = labelled(plans.CallName(&w.Show, i), say.Span(f.Low, f.High, "kb/s"))
			if n := w.Show.Calls[i].Persons; n > 0 && w.Show.Calls[i].DownKbps == nil {
				w.Loads[i].Sum = w.T("%s people × %s", say.Number(float64(n)), say.Span(plans.CallDownKbps.Low,
					plans.CallDownKbps.High, "kb/s"))
			}
			if f.IsZero() { // nobody has counted them
				w.Facts[at].Name = lang.Text("what comes in of each")
				w.Loads[i].Sum = w.T("%s people × %s", say.Span(w.Result.Facts[at+1].Low, w.Result.Facts[at+1].High,
					""), say.Span(f.Low, f.High, "kb/s"))
				at++
			}
			at++
		}
		if watched {
			w.Loads[len(w.Loads)-1] = labelled(lang.Text("one's own stream, watched here"),
				say.Span(w.Result.Facts[at].Low, w.Result.Facts[at].High, "kb/s"))
		}
		w.Says = w.T("%s of %s download.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, own, "", &l)
}

// previewPct is how much of a layer a preview is, in percent: the program draws every source and the programme once
// more, small [estimate].
var previewPct = fact.Est(10, 2, 30)
