package judge

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
)

// show judges what all feeds share: angles, what is sent against what destinations take, and the uplink.
func (p *pass) show() {
	p.angles()
	for i := range p.Show.Destinations {
		p.ingest(i)
	}
	p.uplink()
	if !p.quiet {
		p.strands()
	}
}

// strands are what leaves the programme, each with the limits it depends on.
func (p *pass) strands() {
	p.outs = []Out{}
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		o := Out{Kind: "destination", Label: d.Name, Detail: p.say("%s at %s", p.sizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name()),
			State: Slack, Room: 1, Limits: []string{}, Judged: true}
		for _, id := range []string{"ingest:" + strconv.Itoa(i), "ingest-bitrate:" + strconv.Itoa(i), "uplink"} {
			at, ok := p.index[id]
			if !ok {
				continue
			}
			l := &p.limits[at]
			o.Limits, o.State = append(o.Limits, id), Worse(o.State, l.State)
			if l.Sense != Fits && l.Rule != "ingest-bitrate" {
				o.Room = min(o.Room, max(0, 1-l.Ratio.High))
			}
		}
		p.outs = append(p.outs, o)
	}
	for _, rec := range p.Show.Recordings {
		what := rec.What
		if it := p.Item(what); it != nil {
			what = it.Label
		}
		p.outs = append(p.outs, Out{Kind: "recording", Label: p.say("Recording of %s", what), Detail: "not judged by this version", State: Slack, Room: 1, Limits: []string{}})
	}
}

// angles judges the pictures the program can pick from against the angles the show wants. A switcher hands over one
// picture, however many inputs it has. Handbook 1.1, 3.1.
func (p *pass) angles() {
	want := p.Show.Angles
	if want == 0 {
		return
	}
	have, one, what := p.pickable(), "picture the program can pick", "pictures the program can pick"
	if !p.Show.AnglesSelectable {
		one, what = "picture that reaches the computer", "pictures that reach the computer, some by way of a switcher"
		seen := map[string]bool{}
		for _, sources := range p.arrived {
			for _, id := range sources {
				seen[id] = true
			}
		}
		have = len(seen)
	}
	l := Limit{ID: "angles", Rule: "angles", Sense: AtLeast, Unit: "angles", Stage: AtSend, Shared: true, Ceiling: 1, Where: []string{"show"},
		kinds: []string{"plug", "show"}, // only the wiring counts
		What:  "Angles to cut between", Facts: p.facts.of(Basis{Name: "angles", Low: float64(have), Value: float64(have), High: float64(have), From: fact.Given}),
		Loads:    p.loads.of(Load{Item: "", Label: what, Sum: what, term: times(1, 0)}),
		caps:     p.terms.of(times(float64(want))),
		LimitSum: "the show asks for so many", Source: Source{fact.Practice, "Handbook 1.1: separately selectable angles"}}
	for i := range p.Leads {
		l.Where = append(l.Where, p.Leads[i].ID)
	}
	if p.Show.AnglesSelectable && p.handsOver() < want {
		l.kinds = []string{"show"} // however it is wired
	}
	l.Says = p.say("%s of the %s the show wants.", sentenceCase(count(have, one, what)), strconv.Itoa(want))
	if p.quiet {
		p.add(nil, &l)
		return
	}
	if sw := p.handed(); sw != nil && p.Show.AnglesSelectable {
		at := slices.IndexFunc(p.Items, func(it rig.Item) bool { return it.ID == sw.ID })
		inputs := 0
		for j := range sw.Gear.Ports {
			if sw.Gear.Ports[j].Direction == gear.In && p.g.LeadAt(at, j) >= 0 {
				inputs++
			}
		}
		l.Says += p.say(" %s shows %s, and hands the computer one picture, the one chosen on it.", sw.Label, count(inputs, "input", "inputs"))
	}
	p.add(nil, &l)
}

// pickable counts the pictures a program can pick from: one for every stream, but one picture by several streams once.
func (p *pass) pickable() int {
	single, n := map[string]bool{}, 0
	for _, sources := range p.arrived {
		if len(sources) > 1 {
			n++
		} else if !single[sources[0]] {
			single[sources[0]] = true
			n++
		}
	}
	return n
}

// handsOver is how many pictures the devices of the rig could hand to the computer, however they are wired.
func (p *pass) handsOver() int {
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

func isArrives(id string) bool { return len(id) > 8 && id[:8] == "arrives:" }

// startKbps are the trade's starting bitrates by lines and rate class, low and high [practice, estimate: handbook 5.3].
var startKbps = []struct {
	lines     int
	fast      bool
	low, high float64
}{
	{480, false, 1000, 1500},
	{720, false, 2500, 4000},
	{720, true, 3500, 5000},
	{1080, false, 5000, 5000},
	{1080, true, 6500, 9000},
	{2160, false, 13000, 20000},
	{2160, true, 20000, 35000},
}

// StartKbps is the bitrate to start from for a sent picture nobody has given one: that of the smallest listed picture
// at least as large.
func StartKbps(height int, r picture.Rate) fact.Fact {
	fast := r.Float() > 31
	best := startKbps[len(startKbps)-1]
	for _, row := range startKbps {
		if row.lines >= height && (row.fast || !fast) {
			best = row
			break
		}
	}
	return fact.Fact{Value: best.low, Low: best.low, High: best.high, From: fact.Practice}
}

const (
	defaultAudioKbps = 160  // AAC-LC stereo [practice: handbook 5.3]
	uplinkCeiling    = 0.75 // planning share of an uplink [practice: handbook 5.4]
	callKbps         = 2500 // a person joining by a call [estimate]
)

// packaging is what transport adds to video and audio [handbook 5.4]: 1.05, and 1.25 where lost packets are sent again.
func packaging(transport string) float64 {
	if transport == "srt" {
		return 1.25
	}
	return 1.05
}

// video is the bitrate of a destination in kb/s, as a fact.
func (p *pass) video(i int) Basis {
	d := &p.Show.Destinations[i]
	path := "show/destinations/" + strconv.Itoa(i) + "/videoKbps"
	standIn := StartKbps(d.Send.Height, d.Send.Rate)
	if d.Ingest == nil || d.Ingest.MaxVideoKbps == 0 {
		standIn.Low = min(standIn.Low, Profiles[0].Kbps) // it may take no more than the least do
	} else { // nobody sends more than is taken
		standIn.High = min(standIn.High, d.Ingest.MaxVideoKbps)
		standIn.Low, standIn.Value = min(standIn.Low, standIn.High), min(standIn.Value, standIn.High)
	}
	return basis(path, p.say("video bitrate to %s", d.Name), "kb/s", d.Send.VideoKbps, standIn,
		p.ask("Which video bitrate is set for %s?", d.Name, "In the program's output settings.", 1))
}

// ingest judges the sent picture against what a destination takes.
func (p *pass) ingest(i int) {
	d := &p.Show.Destinations[i]
	in := d.Ingest
	if in == nil {
		in = &rig.Ingest{}
	}
	at := strconv.Itoa(i)
	checked := Source{fact.DataSheet, "the destination's own limits, checked on " + orUnknown(in.CheckedOn)}
	fits := Limit{ID: "ingest:" + at, Rule: "ingest", Sense: Fits, Stage: AtSend, Shared: true, outcomes: yes, Where: []string{"send"},
		What: p.say("Picture %s takes", d.Name), Source: checked}
	if !p.quiet {
		fits.Says = p.say("%s takes %s at %s.", d.Name, p.sizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name())
	}
	over := in.MaxWidth > 0 && d.Send.Width > in.MaxWidth || in.MaxHeight > 0 && d.Send.Height > in.MaxHeight ||
		!in.MaxRate.IsZero() && d.Send.Rate.Cmp(in.MaxRate) > 0
	switch {
	case over:
		fits.outcomes = no
		if !p.quiet {
			fits.Says = p.say("%s takes at most %s at %s; %s at %s is sent.", d.Name, sizeOr(in), rateOr(in.MaxRate),
				picture.SizeName(d.Send.Width, d.Send.Height), d.Send.Rate.Name())
		}
	case in.MaxWidth == 0 && in.MaxHeight == 0 || in.MaxRate.IsZero():
		fits.outcomes = maybe
		fits.Says = p.say("Nobody has looked up what %s takes at most.", d.Name)
		fits.Facts = p.facts.of(p.profileBasis(i))
	}
	p.add(nil, &fits)
	l := Limit{ID: "ingest-bitrate:" + at, Rule: "ingest-bitrate", Unit: "kb/s", Stage: AtSend, Shared: true, Ceiling: 1, Where: []string{"send"},
		What:     p.say("Bitrate %s takes", d.Name),
		Loads:    p.loads.of(Load{Label: d.Name, Sum: "video bitrate", term: times(1, 0)}),
		LimitSum: "the destination's cap", Source: checked}
	if in.MaxVideoKbps > 0 {
		l.Facts, l.caps = p.facts.of(p.video(i)), p.terms.of(times(in.MaxVideoKbps))
	} else {
		b := p.profileBasis(i)
		for k := range b.Options {
			b.Options[k].State = ""
		}
		b.Name, b.Unit = p.say("highest video bitrate %s takes", d.Name), "kb/s"
		b.Low, b.Value, b.High = Profiles[0].Kbps, Profiles[1].Kbps, Profiles[len(Profiles)-1].Kbps
		l.Facts, l.caps, l.LimitSum = p.facts.of(p.video(i), b), p.terms.of(times(1, 1)), "nobody has looked it up"
	}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s of the %s %s takes.", p.span(kept.Load.Low, kept.Load.High, "kb/s"), p.span(kept.Sure, kept.Possible, "kb/s"), d.Name)
	}
}

// Profiles are what destinations take at most, as a rule, for a question nobody has looked up the answer of [practice:
// handbook 5.3 and its caps; 1.1].
var Profiles = rig.Profiles

// profileBasis asks what a destination takes at most.
func (p *pass) profileBasis(i int) Basis {
	if p.quiet {
		return Basis{}
	}
	d := &p.Show.Destinations[i]
	path := "show/destinations/" + strconv.Itoa(i) + "/takes"
	b := Basis{Path: path, Name: p.say("what %s takes at most", d.Name), Word: "not said", From: fact.Estimate}
	var edits [][]rig.Edit
	for _, pr := range Profiles {
		state := Slack
		if d.Send.Height > pr.Height || d.Send.Width > pr.Width || d.Send.Rate.Cmp(picture.R(pr.Rate)) > 0 {
			state = Snapped
		}
		b.Options = append(b.Options, Option{Word: pr.Word, Label: p.say("%s, %s kb/s", pr.Word, num(pr.Kbps)), Number: pr.Kbps, State: state})
		edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: pr.Word}})
	}
	b.ask = func() Ask {
		return Ask{Question: p.say("What does %s take at most?", d.Name), How: "Its help page lists size, frame rate and bitrate; the exact figures can be set on the Show page.", Minutes: 5, Edits: edits}
	}
	return b
}

func sizeOr(in *rig.Ingest) string {
	switch {
	case in.MaxWidth > 0 && in.MaxHeight > 0:
		return picture.SizeName(in.MaxWidth, in.MaxHeight)
	case in.MaxHeight > 0:
		return num(float64(in.MaxHeight)) + " lines"
	case in.MaxWidth > 0:
		return num(float64(in.MaxWidth)) + " wide"
	}
	return "any size"
}

func orUnknown(date string) string {
	if date == "" {
		return "no date"
	}
	return date
}

func rateOr(r picture.Rate) string {
	if r.IsZero() {
		return "any rate"
	}
	return r.Name()
}

// uplink judges everything that is sent against the line. Handbook 5.4.
func (p *pass) uplink() {
	if len(p.Show.Destinations) == 0 && len(p.Show.Calls) == 0 {
		return
	}
	l := Limit{ID: "uplink", Rule: "uplink", Unit: "Mb/s", Stage: AtSend, Shared: true, Ceiling: uplinkCeiling, Where: []string{"send"},
		What: "Uplink", Source: Source{fact.Practice, "Handbook 5.4: slack to 75 % of the lower quartile of the measurements"}}
	put := func(b Basis) int16 {
		l.Facts = append(l.Facts, b)
		return int16(len(l.Facts) - 1)
	}
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		share := packaging(d.Transport)
		v := put(p.video(i))
		a := put(basis("show/destinations/"+strconv.Itoa(i)+"/audioKbps", p.say("audio bitrate to %s", d.Name), "kb/s", d.Send.AudioKbps,
			fact.Known(defaultAudioKbps, fact.Practice), nil))
		l.Loads = append(l.Loads,
			Load{Label: p.say("%s, picture", d.Name), term: times(share/1000, v), Sum: p.say("%s kb/s × %s packaging ÷ 1000", p.num(l.Facts[v].Value), p.num(share))},
			Load{Label: p.say("%s, sound", d.Name), term: times(share/1000, a), Sum: p.say("%s kb/s × %s packaging ÷ 1000", p.num(l.Facts[a].Value), p.num(share))})
	}
	for i := range p.Show.Calls {
		c := &p.Show.Calls[i]
		f := put(basis("show/calls/"+strconv.Itoa(i)+"/upKbps", "uplink of a call", "kb/s", c.UpKbps, fact.Est(callKbps, 600, 4000),
			p.ask("How many kilobits a second does the call%s send?", "", "1500 to 3000 at 720p, 3000 to 4000 at 1080p; the call program shows it.", 3)))
		l.Loads = append(l.Loads, Load{Label: "call " + c.Name, term: times(0.001, f), Sum: p.say("%s kb/s", p.num(l.Facts[f].Value))})
	}
	have, sum := p.uplinkHave()
	l.caps = p.terms.of(times(1, put(have)))
	l.LimitSum = sum
	for i := range l.Loads {
		if l.Loads[i].Item == "" {
			l.Loads[i].Item = "send"
		}
	}
	kept := p.add(nil, &l)
	if !p.quiet {
		kept.Says = p.say("%s of %s upload.", p.span(kept.Load.Low, kept.Load.High, "Mb/s"), p.span(kept.Sure, kept.Possible, "Mb/s"))
	}
}

// uplinkHave is the sustained upload: the lower quartile of the measurements, bounds while there are few of them, else the
// estimate. Handbook 5.4, 5.9.
func (p *pass) uplinkHave() (Basis, string) {
	up := p.Uplink
	ask := p.ask("How many megabits a second does the line %s upload?", "of this place", "Measure at the hour of the show, by cable, on several days.", 5)
	if up != nil && len(up.MeasuredMbps) > 0 {
		v := LowerQuartile(up.MeasuredMbps)
		b := Basis{Path: "uplink/measuredMbps", Name: "measured upload", Unit: "Mb/s", Low: v, Value: v, High: v, From: fact.Measured}
		for _, m := range up.MeasuredMbps {
			b.At = max(b.At, m.At)
		}
		sum := p.say("lower quartile of %s", count(len(up.MeasuredMbps), "measurement", "measurements"))
		if n := len(up.MeasuredMbps); n < 4 { // a few say little: from 0.7 of the lowest to the highest
			b.Low, b.High = up.MeasuredMbps[0].Value, up.MeasuredMbps[0].Value
			for _, m := range up.MeasuredMbps {
				b.Low, b.High = min(b.Low, m.Value), max(b.High, m.Value)
			}
			b.Low *= 0.7
			b.Value = min(max(v, b.Low), b.High)
			b.Path, b.ask = "uplink/reading", ask
			sum = p.say("%s only: from 0.7 × the lowest to the highest", count(n, "measurement", "measurements"))
		}
		return b, sum
	}
	var est *fact.Fact
	if up != nil {
		est = up.EstimateMbps
	}
	return basis("uplink/estimateMbps", "upload of the line", "Mb/s", est, fact.Est(10, 0.5, 1000), ask), "not measured yet"
}

// LowerQuartile of the readings, by linear interpolation between ranks ((n−1)·¼, as type 7 of Hyndman and Fan 1996).
func LowerQuartile(readings []rig.UplinkReading) float64 {
	v := make([]float64, len(readings))
	for i := range readings {
		v[i] = readings[i].Value
	}
	slices.Sort(v)
	at := float64(len(v)-1) / 4
	i := int(math.Floor(at))
	if i+1 == len(v) {
		return v[i]
	}
	return v[i] + (at-float64(i))*(v[i+1]-v[i])
}
