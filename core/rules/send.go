package rules

import (
	"cmp"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

var Angles = rule(Rule{
	Name:    "angles",
	Asks:    "Are there as many pictures to cut between as the show wants?",
	Sum:     "pictures the program can pick ≥ angles the show asks for",
	Sense:   limit.AtLeast,
	Unit:    "angles",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheShow,
	Source:  practice("Separately selectable angles"),
	Example: "Four cameras on a switcher hand the computer one picture: one of the three angles a show wants to pick in software.",
	Judge:   Judging{OnRig: judgeAngles},
})

// judgeAngles judges the pictures the program can pick from against the angles the show wants. A switcher hands over
// one picture, however many inputs it has.
func judgeAngles(p *Pass, own *Rule, _ *Walk) {
	want := p.Show.Angles
	if want == 0 || p.Untouched(ID{Rule: own}, func(*rig.Item) bool { return false }) {
		return
	}
	have, selectable := pickable(p), p.Show.AnglesSelectable
	come, single := have, selectable && takesOne(p)
	switch {
	case single:
		have = min(have, 1)
	case !selectable:
		have = 0
		seen := p.Marked()
		for _, s := range p.Streams {
			for _, i := range s.Brings {
				if !seen[i] {
					seen[i] = true
					have++
				}
			}
		}
	}
	l := Result{Limit: limit.Limit{Facts: p.FactList(limit.Known(float64(have), "", fact.Given)),
		Loads: p.LoadOf("", limit.Times(1, 1)), Caps: p.CapAt(limit.Times(float64(want)))},
		Stage: plans.Send, Shared: true, Where: whereWired(p), Kinds: &wiringKinds}
	if selectable && (single || handsOver(p) < want) {
		l.Kinds = &showKinds // however it is wired
	}
	l.Say = func(w *Words) {
		one, what := lang.Text("picture the program can pick"), lang.Text("pictures the program can pick")
		if !selectable {
			one, what = lang.Text("picture that reaches the computer, by itself or in a switcher's"),
				lang.Text("pictures that reach the computer, by themselves or in a switcher's")
		}
		w.What, w.Facts[0].Name, w.Loads[0], w.Sum = lang.Text("Angles to cut between"), lang.Text("angles"),
			labelled(what, what), lang.Text("the show asks for so many")
		w.Says = w.T("%s; the show wants %s.", say.Sentence(say.Count(have, one, what)),
			say.Count(want, "angle", "angles"))
		if single && come > 1 {
			w.Says += w.T(" %s takes one camera at a time: another is chosen in its menu, and nothing is seen meanwhile.",
				say.Sentence(plans.ProgramName(w.Show.Program)))
		}
		if sw := handedOn(w.Pass); sw != nil && selectable {
			at, inputs := w.Wiring.At(sw.ID), 0
			for j := range sw.Gear.Ports {
				if sw.Gear.Ports[j].Direction == gear.In && w.Wiring.LeadAt(at, j) >= 0 {
					inputs++
				}
			}
			w.Says += w.T(" %s shows %s, and hands the computer one picture, the one chosen on it.", sw.Label,
				say.Count(inputs, "input", "inputs"))
		}
	}
	p.Add(nil, own, "", &l)
}

// whereWired are the show and every lead: what it rests on how many pictures come where.
func whereWired(p *Pass) []string {
	where := append(p.Mem.IDs.Room(len(p.Leads)+1), "show")
	for i := range p.Leads {
		where = append(where, p.Leads[i].ID)
	}
	return where
}

// The kinds of moves that can change how many angles there are: only the wiring and the show's wish count.
var wiringKinds, showKinds = []string{"plug", "show"}, []string{"show"}

// pickable counts the pictures a program can pick from: one for every stream, but one picture by several streams once.
func pickable(p *Pass) int {
	single, n := p.Marked(), 0
	for _, s := range p.Streams {
		switch {
		case len(s.Brings) > 1:
			n++
		case len(s.Brings) == 1 && !single[s.Brings[0]]:
			single[s.Brings[0]] = true
			n++
		}
	}
	return n
}

// handsOver is how many pictures the devices of the rig could hand to the computer, however they are wired.
func handsOver(p *Pass) int {
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

var Ingest = rule(Rule{
	Name:    "ingest",
	Asks:    "Does the destination take the sent picture's size and rate?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Open: "what does it take?", Bad: "more than it takes"},
	Source:  datasheet("the destination's own limits"),
	Example: "1920×1080 sent to a destination that takes 1280×720 at most: snapped.",
	Judge:   Judging{OnRig: judgeIngest},
})

var IngestBitrate = rule(Rule{
	Name:    "ingest-bitrate",
	Asks:    "Does the destination take the video bitrate?",
	Sum:     "video bitrate ≤ the destination's cap",
	Sense:   limit.AtMost,
	Unit:    "kb/s",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheSend,
	Source:  datasheet("the destination's own limits"),
	Example: "5000 kb/s to a destination that takes 4000: snapped.",
})

// judgeIngest judges the sent picture against what each destination takes.
func judgeIngest(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		judgeIngestOf(p, own, i)
	}
}

var toSend = []string{"send"}

func judgeIngestOf(p *Pass, own *Rule, i int) {
	d := &p.Show.Destinations[i]
	in := d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	at := strconv.Itoa(i)
	checked := func(w *Words) {
		w.Source = datasheet(lang.Text("the destination's own limits, checked on %s",
			cmp.Or(in.CheckedOn, lang.Text("no date"))))
	}
	fits := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true, Where: toSend}
	sent := func() (string, string) { return picture.SizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name() }
	text := func(w *Words) string {
		size, rate := sent()
		return w.T("%s takes %s at %s.", d.Name, size, rate)
	}
	switch {
	case !plans.Fits(in, d.Send.Width, d.Send.Height) || !in.MaxRate.IsZero() && d.Send.Rate.Cmp(in.MaxRate) > 0:
		fits.Outcomes = limit.No
		text = func(w *Words) string {
			size, rate := sent()
			return w.T("%s takes at most %s at %s; %s at %s is sent.", d.Name, sizeOr(in), rateOr(in.MaxRate), size,
				rate)
		}
	case in.MaxWidth == 0 && in.MaxHeight == 0 || in.MaxRate.IsZero():
		fits.Outcomes, fits.Facts = limit.Maybe, p.FactList(profileFact(p, i, true))
		text = func(w *Words) string { return w.T("Nobody has looked up what %s takes at most.", d.Name) }
	}
	fits.Say = func(w *Words) { checked(w); w.What, w.Says = w.T("Picture %s takes", d.Name), text(w) }
	p.Add(nil, own, at, &fits)
	l := Result{Stage: plans.Send, Shared: true, Where: toSend}
	l.Loads = p.LoadOf("", limit.Times(1, 1))
	known := in.MaxVideoKbps > 0
	if known {
		l.Facts, l.Caps = p.FactList(p.VideoFact(i)), p.CapAt(limit.Times(in.MaxVideoKbps))
	} else {
		f := profileFact(p, i, false)
		f.Unit, f.Low, f.Value, f.High = "kb/s", plans.LeastMost, rig.Profiles[1].Kbps,
			rig.Profiles[len(rig.Profiles)-1].Kbps
		l.Facts, l.Caps = p.FactList(p.VideoFact(i), f), plans.SecondFact
	}
	l.Say = func(w *Words) {
		checked(w)
		w.What, w.Sum, w.Loads[0] = w.T("Bitrate %s takes", d.Name), lang.Text("the destination's cap"),
			labelled(d.Name, lang.Text("video bitrate"))
		if !known {
			w.Sum, w.Facts[1].Name = lang.Text("nobody has looked it up"), w.T("highest video bitrate %s takes", d.Name)
		}
		w.Says = w.T("%s of the %s %s takes.", w.LoadText(), w.LimitText(), d.Name)
	}
	p.Add(nil, IngestBitrate, at, &l)
}

// profileFact is what a destination takes at most: a picture, with the state each would mean, or a bitrate.
func profileFact(p *Pass, i int, states bool) limit.Fact {
	d := &p.Show.Destinations[i]
	return limit.Fact{Key: limit.Part("show/destinations/N/takes", "", strconv.Itoa(i)), Word: "not said",
		From: fact.Estimate, Open: func() (out []limit.Option) {
			least, _ := d.Ingest.Least()
			for _, pr := range rig.Profiles {
				if pr.Kbps < least {
					continue // it wants more than that at least
				}
				o := limit.Option{Word: pr.Word, Label: lang.Text("%s, %s kb/s", pr.Word, say.Number(pr.Kbps)),
					Number: pr.Kbps}
				if states {
					o.State = limit.Slack
					if !plans.Fits(&rig.Ingest{MaxWidth: pr.Width, MaxHeight: pr.Height}, d.Send.Width,
						d.Send.Height) ||
						d.Send.Rate.Cmp(picture.R(pr.Rate)) > 0 {
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
		return say.Number(float64(in.MaxHeight)) + " lines"
	case in.MaxWidth > 0:
		return say.Number(float64(in.MaxWidth)) + " wide"
	}
	return lang.Text("any size")
}

func rateOr(r picture.Rate) string {
	if r.IsZero() {
		return lang.Text("any rate")
	}
	return r.Name()
}

var Uplink = rule(Rule{
	Name:    "uplink",
	Asks:    "Does the line carry everything that is sent?",
	Sum:     "Σ (video + audio) × packaging + calls ≤ 75 % of the lower quartile of the measurements",
	Sense:   limit.AtMost,
	Unit:    "Mb/s",
	Ceiling: 0.75,
	Over:    limit.Drops,
	Subject: TheSend,
	Source:  practice("Slack to 75 % of the lower quartile of the measurements"),
	Example: "4000 + 160 kb/s × 1.05 is 4.4 Mb/s; of 11.8 Mb/s 37 %: slack.",
	Judge:   Judging{OnRig: judgeUplink},
})

// judgeUplink judges everything that is sent against the line.
func judgeUplink(p *Pass, own *Rule, _ *Walk) {
	if len(p.Show.Destinations) == 0 && len(p.Show.Calls) == 0 {
		return
	}
	n := 2*len(p.Show.Destinations) + len(p.Show.Calls)
	l := p.Roomy(n+1, n)
	l.Stage, l.Shared, l.Where = plans.Send, true, toSend
	load := func(t limit.Term) { l.Loads = append(l.Loads, limit.Load{Item: "send", Term: t}) }
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" {
			continue // another passes it on
		}
		share := plans.UploadShare(d)
		load(limit.Times(share/1000, l.Let(p.VideoFact(i))))
		load(limit.Times(share/1000, l.Let(p.AudioFact(i))))
	}
	for i := range p.Show.Calls {
		load(limit.Times(0.001, l.Let(p.CallUp(i))))
	}
	l.Caps = p.CapAt(limit.Times(1, l.Let(p.UploadFact())))
	l.Say = func(w *Words) {
		w.What, w.Sum = lang.Text("Uplink"), plans.UploadSum(w.Rig)
		if last := len(w.Facts) - 1; w.Facts[last].Name == "" {
			w.Facts[last].Name = lang.Text("measured upload")
		}
		n := 0
		kbps := func(i int) string { return say.Number(w.Result.Facts[i].Value) }
		for i := range w.Show.Destinations {
			d := &w.Show.Destinations[i]
			if d.Via != "" {
				continue
			}
			share := w.T("%s packaging", say.Number(plans.Packaging(d.Transport)))
			if d.Backup {
				share += w.T(" × 2, with its backup")
			}
			w.Loads[n] = labelled(w.T("%s, picture", d.Name), w.T("%s kb/s × %s ÷ 1000", kbps(n), share))
			w.Loads[n+1] = labelled(w.T("%s, sound", d.Name), w.T("%s kb/s × %s ÷ 1000", kbps(n+1), share))
			n += 2
		}
		for i := range w.Show.Calls {
			w.Loads[n] = labelled(w.T("call %s", w.Show.Calls[i].Name), w.T("%s kb/s", kbps(n)))
			n++
		}
		w.Says = w.T("%s of %s upload.", w.LoadText(), w.LimitText())
		if w.Result.State == limit.Snapped {
			w.Says += lang.Text(" Frames are lost while sending.")
		}
	}
	p.Add(nil, own, "", &l)
}

var SentCadence = rule(Rule{
	Name:    "sent-cadence",
	Asks:    "Does movement stay even from the programme to what is sent?",
	Sum:     "uneven steps a second of the programme's rate in the sent one ≤ 0.2, ≤ 0.05 in sport and play; any where nothing moves",
	Sense:   limit.AtMost,
	Unit:    "uneven steps/s",
	Over:    limit.Flaw,
	Subject: TheShow,
	Source:  practice("Whole multiples of the programme rate; never mix 25/50 with 30/60"),
	Example: "A programme at 25 sent as 30 shows 2,1,1,1,1: five uneven steps a second, judder. 50 sent as 25 is clean.",
	Judge:   Judging{OnRig: judgeSentCadence},
})

// judgeSentCadence judges how the programme's rate goes into each sent one. A recording runs at the rate of what it is
// made of.
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
		l.Loads = append(l.Loads,
			limit.Load{Item: "send", Term: limit.Times(1, l.Let(limit.Known(c.UnevenPerSecond, "/s", fact.Standard)))})
		l.Caps = p.CapAt(limit.Times(UnevenStepsAllowed(p.Show.Motion)))
		l.Stage, l.Shared, l.Where = plans.Send, true, []string{"send", "show"}
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Short = w.T("Movement sent to %s", d.Name), unevenSum(w.Show.Motion),
				lang.Text("%s sent as %s", from.Name(), into.Name())
			w.Facts[0].Name, w.Loads[0] = lang.Text("uneven steps a second"),
				labelled(d.Name, cadenceSum(c, from, into))
			w.Says = w.T("A programme at %s sent at %s: %s.", from.Name(), into.Name(),
				plans.CadenceWords(c, from, into))
		}
		p.Add(nil, own, strconv.Itoa(i), &l)
	}
}

var Range = rule(Rule{
	Name:    "range",
	Asks:    "Do viewers see the range of brightness that is sent?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSend,
	Board:   Short{Open: "full range: right at the far end?", Bad: "shadows and lights lost"},
	Source:  standard("ITU-R BT.709 defines video at 16 to 235; players assume it unless a stream is flagged, and not all read the flag"),
	Example: "Full range chosen, and a player that takes it for limited: shadows are crushed and lights burn out.",
	Judge:   Judging{OnRig: judgeRange},
})

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
				l.Outcomes, l.Facts = limit.Maybe,
					p.FactList(limit.Open(limit.Part("show/destinations/N/rangeSeen", "", at),
						limit.OneOf(limit.Would("yes", limit.Slack), limit.Would("no", limit.Snapped))))
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
				w.Says = w.T("Full range is sent to %s, and nobody has looked at the far end whether shadows and lights are whole there.",
					d.Name)
			default:
				w.Says = w.T("Full range is sent to %s and shows wrong at the far end: send limited.", d.Name)
			}
		}
		p.Add(nil, own, at, &l)
	}
}
