package rules

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
)

var Angles = rule(Rule{Name: "angles", Asks: "Are there as many pictures to cut between as the show wants?", Sum: "pictures the program can pick ≥ angles the show asks for", Sense: limit.AtLeast, Unit: "angles", Ceiling: 1, Over: limit.Dark, Subject: TheShow,
	Source:  practice("Separately selectable angles"),
	Example: "Four cameras on a switcher hand the computer one picture: one of the three angles a show wants to pick in software.",
	Judge:   Judging{OnRig: judgeAngles}})

// judgeAngles judges the pictures the program can pick from against the angles the show wants. A switcher hands over one
// picture, however many inputs it has.
func judgeAngles(p *Pass, own *Rule, _ *Walk) {
	want := p.Show.Angles
	if want == 0 || p.untouched(ID{Rule: own}, func(*rig.Item) bool { return false }) {
		return
	}
	have, selectable := p.pickable(), p.Show.AnglesSelectable
	come, single := have, selectable && p.takesOne()
	switch {
	case single:
		have = min(have, 1)
	case !selectable:
		have = 0
		seen := p.marked()
		for _, s := range p.Streams {
			for _, i := range s.brings {
				if !seen[i] {
					seen[i] = true
					have++
				}
			}
		}
	}
	l := Result{Limit: limit.Limit{Facts: p.facts(limit.Known(float64(have), "", fact.Given)), Loads: p.load("", limit.Times(1, 1)), Caps: p.cap(limit.Times(float64(want)))},
		Stage: Send, Shared: true, Where: p.whereWired(), Kinds: &wiringKinds}
	if selectable && (single || p.handsOver() < want) {
		l.Kinds = &showKinds // however it is wired
	}
	l.Say = func(w *Words) {
		one, what := lang.Text("picture the program can pick"), lang.Text("pictures the program can pick")
		if !selectable {
			one, what = lang.Text("picture that reaches the computer, by itself or in a switcher's"), lang.Text("pictures that reach the computer, by themselves or in a switcher's")
		}
		w.What, w.Facts[0].Name, w.Loads[0], w.Sum = lang.Text("Angles to cut between"), lang.Text("angles"), LoadWords{what, what}, lang.Text("the show asks for so many")
		w.Says = w.T("%s; the show wants %s.", Sentence(Count(have, one, what)), Count(want, "angle", "angles"))
		if single && come > 1 {
			w.Says += w.T(" %s takes one camera at a time: another is chosen in its menu, and nothing is seen meanwhile.", Sentence(programName(w.Show.Program)))
		}
		if sw := w.handed(); sw != nil && selectable {
			at, inputs := w.Wiring.At(sw.ID), 0
			for j := range sw.Gear.Ports {
				if sw.Gear.Ports[j].Direction == gear.In && w.Wiring.LeadAt(at, j) >= 0 {
					inputs++
				}
			}
			w.Says += w.T(" %s shows %s, and hands the computer one picture, the one chosen on it.", sw.Label, Count(inputs, "input", "inputs"))
		}
	}
	p.add(nil, own, "", &l)
}

// whereWired are the show and every lead: what it rests on how many pictures come where.
func (p *Pass) whereWired() []string {
	where := append(p.Mem.IDs.Room(len(p.Leads)+1), "show")
	for i := range p.Leads {
		where = append(where, p.Leads[i].ID)
	}
	return where
}

// The kinds of moves that can change how many angles there are: only the wiring and the show's wish count.
var wiringKinds, showKinds = []string{"plug", "show"}, []string{"show"}

// pickable counts the pictures a program can pick from: one for every stream, but one picture by several streams once.
func (p *Pass) pickable() int {
	single, n := p.marked(), 0
	for _, s := range p.Streams {
		switch {
		case len(s.brings) > 1:
			n++
		case len(s.brings) == 1 && !single[s.brings[0]]:
			single[s.brings[0]] = true
			n++
		}
	}
	return n
}

// handsOver is how many pictures the devices of the rig could hand to the computer, however they are wired.
func (p *Pass) handsOver() int {
	n := 0
	for i := range p.Items {
		it := &p.Items[i]
		if it.IsHost() || it.Gear.Kind == gear.Hub || it.Gear.Kind == gear.Dock {
			continue
		}
		for j := range it.Gear.Ports {
			if it.Gear.Ports[j].Direction == gear.Upstream {
				n++
			}
		}
	}
	return n
}

const (
	defaultAudioKbps = 160  // AAC-LC stereo [practice: handbook 5.3]
	callKbps         = 2500 // a person joining by a call [estimate]
)

// Packaging is what transport adds to video and audio [handbook 5.4]: 1.05, and 1.25 where lost packets are sent again.
func Packaging(transport string) float64 {
	if transport == "srt" {
		return 1.25
	}
	return 1.05
}

// UploadShare is what each kilobit of a destination takes of the line: packaging, and twice where its backup ingest gets the
// same.
func UploadShare(d *rig.Destination) float64 {
	if d.Backup {
		return 2 * Packaging(d.Transport)
	}
	return Packaging(d.Transport)
}

// leastMost is the lowest most that destinations have, kb/s [practice]: those that are for sound first.
const leastMost = 2500

// video is the bitrate of a destination in kb/s, as a fact: of one that another passes on, that of the other.
func (p *Plan) video(i int) limit.Fact {
	i = p.passer(i) // what is passed on stays as it was coded
	d := &p.Show.Destinations[i]
	standIn := StartKbps(d.Send.Width, d.Send.Height, d.Send.Rate)
	if d.Ingest == nil || d.Ingest.MaxVideoKbps == 0 {
		standIn.Low = min(standIn.Low, leastMost) // it may take no more than the least do
	} else { // nobody sends more than is taken
		standIn.High = min(standIn.High, d.Ingest.MaxVideoKbps)
		standIn.Low, standIn.Value = min(standIn.Low, standIn.High), min(standIn.Value, standIn.High)
	}
	return stated(part("show/destinations/N/videoKbps", "", strconv.Itoa(i)), "kb/s", d.Send.VideoKbps, standIn)
}

var Ingest = rule(Rule{Name: "ingest", Asks: "Does the destination take the sent picture's size and rate?", Sense: limit.Fits, Over: limit.Dark, Subject: TheShow,
	Board:   Short{"what does it take?", "more than it takes"},
	Source:  datasheet("the destination's own limits"),
	Example: "1920×1080 sent to a destination that takes 1280×720 at most: snapped.",
	Judge:   Judging{OnRig: judgeIngest}})

var IngestBitrate = rule(Rule{Name: "ingest-bitrate", Asks: "Does the destination take the video bitrate?", Sum: "video bitrate ≤ the destination's cap", Sense: limit.AtMost, Unit: "kb/s", Ceiling: 1, Over: limit.Dark, Subject: TheSend,
	Source:  datasheet("the destination's own limits"),
	Example: "5000 kb/s to a destination that takes 4000: snapped."})

// judgeIngest judges the sent picture against what each destination takes.
func judgeIngest(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		p.ingest(own, i)
	}
}

var toSend = []string{"send"}

func (p *Pass) ingest(own *Rule, i int) {
	d := &p.Show.Destinations[i]
	in := d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	at := strconv.Itoa(i)
	checked := func(w *Words) {
		w.Source = datasheet(lang.Text("the destination's own limits, checked on %s", orElse(in.CheckedOn, lang.Text("no date"))))
	}
	fits := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Send, Shared: true, Where: toSend}
	sent := func() (string, string) { return picture.SizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name() }
	text := func(w *Words) string {
		size, rate := sent()
		return w.T("%s takes %s at %s.", d.Name, size, rate)
	}
	switch {
	case !Fits(in, d.Send.Width, d.Send.Height) || !in.MaxRate.IsZero() && d.Send.Rate.Cmp(in.MaxRate) > 0:
		fits.Outcomes = limit.No
		text = func(w *Words) string {
			size, rate := sent()
			return w.T("%s takes at most %s at %s; %s at %s is sent.", d.Name, sizeOr(in), rateOr(in.MaxRate), size, rate)
		}
	case in.MaxWidth == 0 && in.MaxHeight == 0 || in.MaxRate.IsZero():
		fits.Outcomes, fits.Facts = limit.Maybe, p.facts(p.profileFact(i, true))
		text = func(w *Words) string { return w.T("Nobody has looked up what %s takes at most.", d.Name) }
	}
	fits.Say = func(w *Words) { checked(w); w.What, w.Says = w.T("Picture %s takes", d.Name), text(w) }
	p.add(nil, own, at, &fits)
	l := Result{Stage: Send, Shared: true, Where: toSend}
	l.Loads = p.load("", limit.Times(1, 1))
	known := in.MaxVideoKbps > 0
	if known {
		l.Facts, l.Caps = p.facts(p.video(i)), p.cap(limit.Times(in.MaxVideoKbps))
	} else {
		f := p.profileFact(i, false)
		f.Unit, f.Low, f.Value, f.High = "kb/s", leastMost, rig.Profiles[1].Kbps, rig.Profiles[len(rig.Profiles)-1].Kbps
		l.Facts, l.Caps = p.facts(p.video(i), f), secondFact
	}
	l.Say = func(w *Words) {
		checked(w)
		w.What, w.Sum, w.Loads[0] = w.T("Bitrate %s takes", d.Name), lang.Text("the destination's cap"), LoadWords{d.Name, lang.Text("video bitrate")}
		if !known {
			w.Sum, w.Facts[1].Name = lang.Text("nobody has looked it up"), w.T("highest video bitrate %s takes", d.Name)
		}
		w.Says = w.T("%s of the %s %s takes.", w.load(), w.limit(), d.Name)
	}
	p.add(nil, IngestBitrate, at, &l)
}

// profileFact is what a destination takes at most: a picture, with the state each would mean, or a bitrate.
func (p *Pass) profileFact(i int, states bool) limit.Fact {
	d := &p.Show.Destinations[i]
	return limit.Fact{Key: part("show/destinations/N/takes", "", strconv.Itoa(i)), Word: "not said", From: fact.Estimate, Open: func() (out []limit.Option) {
		least, _ := d.Ingest.Least()
		for _, pr := range rig.Profiles {
			if pr.Kbps < least {
				continue // it wants more than that at least
			}
			o := limit.Option{Word: pr.Word, Label: lang.Text("%s, %s kb/s", pr.Word, Number(pr.Kbps)), Number: pr.Kbps}
			if states {
				o.State = limit.Slack
				if !Fits(&rig.Ingest{MaxWidth: pr.Width, MaxHeight: pr.Height}, d.Send.Width, d.Send.Height) || d.Send.Rate.Cmp(picture.R(pr.Rate)) > 0 {
					o.State = limit.Snapped
				}
			}
			out = append(out, o)
		}
		return out
	}}
}

func sizeOr(in *rig.Ingest) string {
	switch {
	case in.MaxWidth > 0 && in.MaxHeight > 0:
		return picture.SizeName(in.MaxWidth, in.MaxHeight)
	case in.MaxHeight > 0:
		return Number(float64(in.MaxHeight)) + " lines"
	case in.MaxWidth > 0:
		return Number(float64(in.MaxWidth)) + " wide"
	}
	return lang.Text("any size")
}

func rateOr(r picture.Rate) string {
	if r.IsZero() {
		return lang.Text("any rate")
	}
	return r.Name()
}

var Uplink = rule(Rule{Name: "uplink", Asks: "Does the line carry everything that is sent?", Sum: "Σ (video + audio) × packaging + calls ≤ 75 % of the lower quartile of the measurements", Sense: limit.AtMost, Unit: "Mb/s", Ceiling: 0.75, Over: limit.Drops, Subject: TheSend,
	Source:  practice("Slack to 75 % of the lower quartile of the measurements"),
	Example: "4000 + 160 kb/s × 1.05 is 4.4 Mb/s; of 11.8 Mb/s 37 %: slack.",
	Judge:   Judging{OnRig: judgeUplink}})

// judgeUplink judges everything that is sent against the line.
func judgeUplink(p *Pass, own *Rule, _ *Walk) {
	if len(p.Show.Destinations) == 0 && len(p.Show.Calls) == 0 {
		return
	}
	n := 2*len(p.Show.Destinations) + len(p.Show.Calls)
	l := p.roomy(n+1, n)
	l.Stage, l.Shared, l.Where = Send, true, toSend
	load := func(t limit.Term) { l.Loads = append(l.Loads, limit.Load{Item: "send", Term: t}) }
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" {
			continue // another passes it on
		}
		share := UploadShare(d)
		load(limit.Times(share/1000, l.Let(p.video(i))))
		load(limit.Times(share/1000, l.Let(p.audio(i))))
	}
	for i := range p.Show.Calls {
		load(limit.Times(0.001, l.Let(p.callUp(i))))
	}
	l.Caps = p.cap(limit.Times(1, l.Let(p.upload())))
	l.Say = func(w *Words) {
		w.What, w.Sum = lang.Text("Uplink"), uploadSum(w.Rig)
		if last := len(w.Facts) - 1; w.Facts[last].Name == "" {
			w.Facts[last].Name = lang.Text("measured upload")
		}
		n := 0
		kbps := func(i int) string { return Number(w.Result.Facts[i].Value) }
		for i := range w.Show.Destinations {
			d := &w.Show.Destinations[i]
			if d.Via != "" {
				continue
			}
			share := w.T("%s packaging", Number(Packaging(d.Transport)))
			if d.Backup {
				share += w.T(" × 2, with its backup")
			}
			w.Loads[n] = LoadWords{w.T("%s, picture", d.Name), w.T("%s kb/s × %s ÷ 1000", kbps(n), share)}
			w.Loads[n+1] = LoadWords{w.T("%s, sound", d.Name), w.T("%s kb/s × %s ÷ 1000", kbps(n+1), share)}
			n += 2
		}
		for i := range w.Show.Calls {
			w.Loads[n] = LoadWords{w.T("call %s", w.Show.Calls[i].Name), w.T("%s kb/s", kbps(n))}
			n++
		}
		w.Says = w.T("%s of %s upload.", w.load(), w.limit())
		if w.Result.State == limit.Snapped {
			w.Says += lang.Text(" Frames are lost while sending.")
		}
	}
	p.add(nil, own, "", &l)
}
