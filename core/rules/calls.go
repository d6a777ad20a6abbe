package rules

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
)

// What a person's picture in a call takes down the line, kb/s, and in pixels: a call program asks for 360p to 720p of each at
// 30 frames/s, by how many there are and how large they are shown [estimate: handbook 5.9].
var (
	callDownKbps = fact.Est(900, 600, 3000)
	callDownMpxS = limit.Bounds{Low: 640 * 360 * 30 / mega, Value: 960 * 540 * 30 / mega, High: 1280 * 720 * 30 / mega}
)

// screenMpxS is a screen of 1080 to 2160 lines, taken 30 times a second [estimate].
var screenMpxS = fact.Est(2560*1440*30/mega, 1920*1080*30/mega, 3840*2160*30/mega)

// screen is how much of a screen is recorded.
func (p *Plan) screen() limit.Fact {
	return stated(key("show/screenMpxS", ""), "Mpx/s", p.Show.ScreenMpxS, screenMpxS)
}

// mostPersons is how many people's pictures a call may show while nobody has counted them: a page of nine [estimate].
const mostPersons = 9

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
	l := p.roomy(2*n, n)
	l.Stage, l.Shared, l.Where = Send, true, []string{"send", "show"}
	for i := range sh.Calls {
		who, key := p.persons(i), part("show/calls/N/downKbps", "", strconv.Itoa(i))
		total := fact.Est(who.Value*callDownKbps.Value, who.Low*callDownKbps.Low, who.High*callDownKbps.High)
		if counted := who.Low == who.High; counted || sh.Calls[i].DownKbps != nil {
			l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(stated(key, "kb/s", sh.Calls[i].DownKbps, total)))})
			continue
		}
		each := l.Let(limit.Fact{Unit: "kb/s", Low: callDownKbps.Low, Value: callDownKbps.Value, High: callDownKbps.High, From: fact.Estimate})
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(who), each)}) // who is counted before bits are
	}
	if watched {
		l.Loads = append(l.Loads, limit.Load{Item: "send", Term: limit.Times(0.001, l.Let(p.video(0)))})
	}
	l.Caps = p.cap(limit.Times(1, l.Let(p.download())))
	l.Say = func(w *Words) {
		w.What = lang.Text("Downlink")
		w.Facts[len(w.Facts)-1].Name = lang.Text("download of the line")
		at := 0
		for i := range w.Show.Calls {
			f := &w.Result.Facts[at]
			w.Loads[i] = LoadWords{callName(&w.Show, i), Span(f.Low, f.High, "kb/s")}
			if n := w.Show.Calls[i].Persons; n > 0 && w.Show.Calls[i].DownKbps == nil {
				w.Loads[i].Sum = w.T("%s people × %s", Number(float64(n)), Span(callDownKbps.Low, callDownKbps.High, "kb/s"))
			}
			if f.IsZero() { // nobody has counted them
				w.Facts[at].Name = lang.Text("what comes in of each")
				w.Loads[i].Sum = w.T("%s people × %s", Span(w.Result.Facts[at+1].Low, w.Result.Facts[at+1].High, ""), Span(f.Low, f.High, "kb/s"))
				at++
			}
			at++
		}
		if watched {
			w.Loads[len(w.Loads)-1] = LoadWords{lang.Text("one's own stream, watched here"), Span(w.Result.Facts[at].Low, w.Result.Facts[at].High, "kb/s")}
		}
		w.Says = w.T("%s of %s download.", w.load(), w.limit())
	}
	p.add(nil, own, "", &l)
}

func callName(sh *rig.Show, i int) string {
	if n := sh.Calls[i].Name; n != "" {
		return lang.Text("call %s", n)
	}
	return lang.Text("call %s", strconv.Itoa(i+1))
}

// persons is how many people's pictures come in on a call.
func (p *Plan) persons(i int) limit.Fact {
	if n := float64(p.Show.Calls[i].Persons); n > 0 {
		return limit.Fact{Key: part("show/calls/N/persons", "", strconv.Itoa(i)), Low: n, Value: n, High: n, From: fact.Given}
	}
	return limit.Fact{Key: part("show/calls/N/persons", "", strconv.Itoa(i)), Low: 1, Value: 1, High: mostPersons, From: fact.Estimate}
}

// download is what the line brings in: at least what it sends, while nobody has measured [practice].
func (p *Plan) download() limit.Fact {
	var have *fact.Fact
	if p.Uplink != nil {
		have = p.Uplink.DownMbps
	}
	up := p.upload()
	return stated(key("uplink/downMbps", ""), "Mb/s", have, fact.Est(max(50, up.Value), min(up.Low, 1000), max(up.High, 1000)))
}

// beside is what else the computer is made to do, as work of its places.
type beside struct {
	name   string
	kind   jobKind
	px     limit.Fact // Mpx/s
	copies float64    // bytes a pixel in memory
}

// besides lists it: what comes in from calls is decoded, what a shared camera gives and what the screen shows is converted; what the
// screen shows is coded too.
func (p *Plan) besides() (out []beside) {
	sh := &p.Show
	pr := float64(sh.Programme.Width) * float64(sh.Programme.Height) * sh.Programme.Rate.Float() / mega
	for i := range sh.Calls {
		who := p.persons(i)
		px := stated(part("show/calls/N/downMpxS", "", strconv.Itoa(i)), "Mpx/s", sh.Calls[i].DownMpxS,
			fact.Est(who.Value*callDownMpxS.Value, who.Low*callDownMpxS.Low, who.High*callDownMpxS.High))
		out = append(out, beside{lang.Text("people of %s", callName(sh, i)), decodingH264, px, copiesIn})
	}
	for _, what := range sh.Besides {
		switch what {
		case rig.VirtualCamera:
			out = append(out, beside{lang.Text("virtual camera for other programs"), converting, mpxS(limit.Bounds{Low: pr, Value: pr, High: pr}), copiesOut})
		case rig.ScreenRecording:
			out = append(out, beside{lang.Text("recording of the screen"), converting, p.screen(), copiesIn})
		case rig.OwnStream:
			if len(sh.Destinations) > 0 {
				s := &sh.Destinations[0].Send
				px := float64(s.Width) * float64(s.Height) * s.Rate.Float() / mega
				out = append(out, beside{lang.Text("one's own stream, watched here"), decodingH264, mpxS(limit.Bounds{Low: px, Value: px, High: px}), copiesIn})
			}
		}
	}
	return out
}

// previewPct is how much of a layer a preview is, in percent: the program draws every source and the programme once more, small
// [estimate].
var previewPct = fact.Est(10, 2, 30)
