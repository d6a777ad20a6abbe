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

var Downlink = rule(Rule{Name: "downlink", Asks: "Does the line bring in what comes by calls?", Sum: "Σ people × a picture each, and one's own stream if it is watched ≤ 75 % of the download", Sense: limit.AtMost, Unit: "Mb/s", Ceiling: 0.75, Over: limit.Drops, Subject: TheSend,
	Source:  estimate("A picture in a call takes 0.6 to 3 Mb/s each way; a line brings in at least what it sends"),
	Example: "Three people at 0.6 to 3 Mb/s are 1.8 to 9 Mb/s; of 20 Mb/s 45 % at worst: slack.",
	Judge:   Judging{OnRig: judgeDownlink}})

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
		total := fact.Est(who.Value*plans.CallDownKbps.Value, who.Low*plans.CallDownKbps.Low, who.High*plans.CallDownKbps.High)
		if counted := who.Low == who.High; counted || sh.Calls[i].DownKbps != nil {
			l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(limit.Stated(key, "kb/s", sh.Calls[i].DownKbps, total)))})
			continue
		}
		each := l.Let(limit.Fact{Unit: "kb/s", Low: plans.CallDownKbps.Low, Value: plans.CallDownKbps.Value, High: plans.CallDownKbps.High, From: fact.Estimate})
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(who), each)}) // who is counted before bits are
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
				w.Loads[i].Sum = w.T("%s people × %s", say.Number(float64(n)), say.Span(plans.CallDownKbps.Low, plans.CallDownKbps.High, "kb/s"))
			}
			if f.IsZero() { // nobody has counted them
				w.Facts[at].Name = lang.Text("what comes in of each")
				w.Loads[i].Sum = w.T("%s people × %s", say.Span(w.Result.Facts[at+1].Low, w.Result.Facts[at+1].High, ""), say.Span(f.Low, f.High, "kb/s"))
				at++
			}
			at++
		}
		if watched {
			w.Loads[len(w.Loads)-1] = labelled(lang.Text("one's own stream, watched here"), say.Span(w.Result.Facts[at].Low, w.Result.Facts[at].High, "kb/s"))
		}
		w.Says = w.T("%s of %s download.", w.LoadText(), w.LimitText())
	}
	p.Add(nil, own, "", &l)
}

// previewPct is how much of a layer a preview is, in percent: the program draws every source and the programme once more, small
// [estimate].
var previewPct = fact.Est(10, 2, 30)
