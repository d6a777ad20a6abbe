// Package ladder answers: what is the best that the line carries, over all destinations together, and what does each
// step down the ladder of sizes and rates give up?
//
// Pictures are weighed by how much moves in the show: size counts always, rate the more the more moves. The search is
// exact: it builds the destinations up one by one and keeps, of every cost, the best that can be had for it.
package ladder

import (
	"cmp"
	"math"
	"slices"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/verdict"
)

// takes tells whether a destination takes a rung, from which bitrate on, and which is wished for it, as they are
// proposed.
func takes(d *rig.Destination, g *plans.Rung) (least, wish float64, ok bool) {
	least, wish = g.LeastKbps, plans.Wish(d, g.Width, g.Height, g.Rate)
	in := d.Ingest
	if in == nil {
		return least, wish, true
	}
	if in.MaxWidth > 0 && in.MaxHeight > 0 && !plans.Fits(in, g.Width, g.Height) ||
		!in.MaxRate.IsZero() && g.Rate.Cmp(in.MaxRate) > 0 {
		return 0, 0, false
	}
	wants, _ := in.Least()
	wish = max(wish, wants)
	if in.MaxVideoKbps > 0 {
		wish = min(wish, in.MaxVideoKbps)
	}
	least = plans.LeastOf(wish, g.MpxS*1e6)
	if wish < g.FloorKbps { // its cap leaves too few bits for so many pixels
		return 0, 0, false
	}
	return min(wish, max(least, wants)), wish, true
}

// Option is one way to send to one destination.
type Option struct {
	Rung  int     // place among the rungs; -1 leaves the destination out
	Kbps  float64 // video, the least it is sent with
	Wish  float64 // and the most
	Cost  int     // hundredths of kb/s on the line at the least, with sound and packaging
	Value int     // what the picture is worth
}

// optionsOf are the ways to send to one destination: every rung it takes.
func optionsOf(d *rig.Destination, rungs []plans.Rung, sound, share float64) []Option {
	out := []Option{{Rung: -1}}
	for i := range rungs {
		if least, wish, ok := takes(d, &rungs[i]); ok {
			out = append(out, Option{Rung: i, Kbps: least, Wish: wish,
				Cost: int(math.Ceil(100 * share * (least + sound))), Value: rungs[i].Worth})
		}
	}
	return out
}

// Best chooses an option for every list so that their costs together stay within a budget and their values are the
// most; of what is equal, the cheapest. Every list has an option that costs nothing.
func Best(lists [][]Option, budget int) []int {
	type state struct {
		cost, value int
		from, took  int
	}
	levels := make([][]state, len(lists)+1)
	levels[0] = []state{{}}
	for i, list := range lists {
		var next []state
		for f, s := range levels[i] {
			for t, o := range list {
				if cost := s.cost + o.Cost; cost <= budget {
					next = append(next, state{cost, s.value + o.Value, f, t})
				}
			}
		}
		slices.SortFunc(next, func(a, b state) int {
			return cmp.Or(cmp.Compare(a.cost, b.cost), cmp.Compare(b.value, a.value), cmp.Compare(a.from, b.from),
				cmp.Compare(a.took, b.took))
		})
		kept := next[:0] // of what costs more, only what is worth more
		for _, s := range next {
			if n := len(kept); n == 0 || s.value > kept[n-1].value {
				kept = append(kept, s)
			}
		}
		levels[i+1] = kept
	}
	chosen := make([]int, len(lists))
	at := len(levels[len(lists)]) - 1
	for i := len(lists) - 1; i >= 0; i-- {
		s := levels[i+1][at]
		chosen[i], at = s.took, s.from
	}
	return chosen
}

// Carries is what the line carries.
type Carries struct {
	SlackKbps float64     `json:"slackKbps" doc:"What may be used of the line with room to spare: 75 % of what it surely carries"`
	SureKbps  float64     `json:"sureKbps" doc:"What the line surely carries"`
	LineIs    string      `json:"lineIs" doc:"What that figure of the line is: the lower quartile of so many measurements, with the lowest beside it"`
	Odd       []plans.Odd `json:"odd" doc:"Measurements to look at again"`
	OtherKbps float64     `json:"otherKbps" doc:"Calls and whatever else uploads"`
	NowKbps   float64     `json:"nowKbps" doc:"What is sent now, with sound and packaging, at worst"`
	// Rungs are the sizes and rates of the ladder, the best first for what moves in the show.
	Rungs []Rated `json:"rungs"`
	// Best is the best the line carries with room to spare; within all it surely carries where nothing else does.
	Best  []Choice    `json:"best"`
	State limit.State `json:"state" enum:"slack,taut,snapped" doc:"How the line stands with the best: snapped when it carries nothing"`
	Same  bool        `json:"same" doc:"It is what is sent already"`
	Edits []rig.Edit  `json:"edits" doc:"What makes it so"`
	Gains string      `json:"gains" doc:"What it changes, in words"`
	// Later is how long sending the recordings away takes afterwards.
	Later []Later `json:"later"`
}

// Rated is one rung for all destinations.
type Rated struct {
	plans.Rung
	NeedKbps float64     `json:"needKbps" doc:"On the line, all destinations at the least bitrate of the rung"`
	State    limit.State `json:"state" enum:"slack,taut,snapped"`
	// LineKbps is where the line would have to be for it to be slack.
	LineKbps float64 `json:"lineKbps"`
	GivesUp  string  `json:"givesUp" doc:"Against the rung above"`
	Taken    int     `json:"taken" doc:"How many destinations take it"`
	Now      bool    `json:"now" doc:"A destination is sent this"`
}

// Choice is what one destination is sent.
type Choice struct {
	Destination string  `json:"destination"`
	Label       string  `json:"label" doc:"Lines and rate; empty when it is left out"`
	Kbps        float64 `json:"kbps"`
}

// Later is one recording sent away after the show.
type Later struct {
	Recording string       `json:"recording"`
	GB        limit.Bounds `json:"gb"`
	SendHours limit.Bounds `json:"sendHours" doc:"Over the line, with all of it"`
	CopyHours limit.Bounds `json:"copyHours" doc:"Twice, to two drives, at the speed of the slower"`
	Words     string       `json:"words" doc:"The same in words"`
}

// Of plans the line of a judged rig.
func Of(v *verdict.Verdict) *Carries {
	up := v.Find(engine.ID{Rule: rules.Uplink})
	p := &Carries{Rungs: []Rated{}, Best: []Choice{}, Edits: []rig.Edit{}, Later: []Later{}, Odd: []plans.Odd{},
		State: limit.Slack}
	sure := v.Upload()
	p.SureKbps = sure.Low * 1000
	p.SlackKbps = plans.UplinkShare * p.SureKbps
	p.LineIs = v.LineSum()
	if v.Uplink != nil {
		p.Odd = plans.OddReadings(v.Uplink.MeasuredMbps)
	}
	if up != nil {
		p.NowKbps = up.Load.High * 1000
	}
	var lists [][]Option
	rungs := plans.Rungs(v.Show.Programme, v.Show.Motion)
	p.OtherKbps = p.NowKbps
	var own []int
	for i := range v.Show.Destinations {
		d := &v.Show.Destinations[i]
		if d.Via != "" {
			continue // another passes it on
		}
		share := plans.UploadShare(d)
		p.OtherKbps -= share * (v.Video(i).High + v.Audio(i).High)
		lists, own = append(lists, optionsOf(d, rungs, v.Audio(i).High, share)), append(own, i)
	}
	p.OtherKbps = max(0, math.Round(p.OtherKbps*100)/100)
	p.steps(v, rungs)
	p.later(v)
	if len(lists) == 0 {
		return p
	}
	budget := func(kbps float64) int { return int(math.Floor(100 * max(0, kbps-p.OtherKbps))) }
	chosen := Best(lists, budget(p.SlackKbps))
	if leftOut(lists, chosen) {
		chosen, p.State = Best(lists, budget(p.SureKbps)), limit.Taut
	}
	p.Same = true
	kbps := p.bitrates(v, lists, chosen, own, rungs)
	for k, i := range own {
		d := &v.Show.Destinations[i]
		o := lists[k][chosen[k]]
		c := Choice{Destination: d.Name}
		if o.Rung < 0 {
			p.State, p.Same = limit.Snapped, false
			p.Best = append(p.Best, c)
			continue
		}
		g := rungs[o.Rung]
		c.Label, c.Kbps = g.Label, kbps[k]
		p.Best = append(p.Best, c)
		if d.Send.Width != g.Width || d.Send.Height != g.Height || d.Send.Rate != g.Rate || v.Video(i).High != kbps[k] {
			p.Same = false
			send := d.Send
			send.Width, send.Height, send.Rate = g.Width, g.Height, g.Rate
			send.VideoKbps = new(fact.Exactly(kbps[k]))
			p.Edits = append(p.Edits, plans.SendEdits(&v.Show, i, send)...)
		}
	}
	p.Gains = p.gains(v)
	return p
}

// bitrates are those of the rungs that were chosen, lowered from the wish as everywhere until the line is as it can be.
func (p *Carries) bitrates(v *verdict.Verdict, lists [][]Option, chosen, own []int, rungs []plans.Rung) []float64 {
	open := make([]plans.Open, 0, len(own))
	others := p.OtherKbps
	for k, i := range own {
		o := lists[k][chosen[k]]
		share := plans.UploadShare(&v.Show.Destinations[i])
		if o.Rung < 0 {
			open = append(open, plans.Open{Px: 1})
			continue
		}
		others += share * v.Audio(i).High
		open = append(open, plans.Open{Kbps: o.Wish, Px: rungs[o.Rung].MpxS * 1e6, Share: share, Least: o.Kbps})
	}
	budget := p.SlackKbps
	if p.State == limit.Taut {
		budget = p.SureKbps
	}
	plans.Lower(open, others, budget)
	out := make([]float64, len(open))
	for k := range open {
		out[k] = open[k].Kbps
	}
	return out
}

// leftOut tells whether a destination is left out.
func leftOut(lists [][]Option, chosen []int) bool {
	for i, c := range chosen {
		if lists[i][c].Rung < 0 {
			return true
		}
	}
	return false
}

// steps are the rungs for all destinations together.
func (p *Carries) steps(v *verdict.Verdict, rungs []plans.Rung) {
	for k := range rungs {
		s := Rated{Rung: rungs[k], NeedKbps: p.OtherKbps}
		for i := range v.Show.Destinations {
			d := &v.Show.Destinations[i]
			if d.Send.Width == s.Width && d.Send.Height == s.Height && d.Send.Rate == s.Rate {
				s.Now = true
			}
			low, _, ok := takes(d, &rungs[k])
			if d.Via != "" || !ok {
				continue
			}
			s.Taken++
			s.NeedKbps += plans.UploadShare(d) * (low + v.Audio(i).High)
		}
		s.LineKbps = s.NeedKbps / plans.UplinkShare
		switch {
		case s.NeedKbps <= p.SlackKbps:
			s.State = limit.Slack
		case s.NeedKbps <= p.SureKbps:
			s.State = limit.Taut
		default:
			s.State = limit.Snapped
		}
		if k > 0 {
			s.GivesUp = givesUp(&rungs[k-1], &rungs[k])
		}
		p.Rungs = append(p.Rungs, s)
	}
}

// givesUp says what one rung gives up against another.
func givesUp(from, to *plans.Rung) string {
	switch {
	case to.Height < from.Height && to.Rate.Cmp(from.Rate) > 0:
		return lang.Text("%s lines for %s; moves more smoothly", say.Number(float64(to.Height)),
			say.Number(float64(from.Height)))
	case to.Height > from.Height:
		return lang.Text("%s frames a second for %s; sharper", to.Rate.Name(), from.Rate.Name())
	case to.Rate.Cmp(from.Rate) < 0 && to.Height < from.Height:
		return lang.Text("%s lines for %s, and half the frames", say.Number(float64(to.Height)),
			say.Number(float64(from.Height)))
	case to.Rate.Cmp(from.Rate) < 0:
		return lang.Text("half the frames: movement is less smooth")
	}
	return lang.Text("%s lines for %s", say.Number(float64(to.Height)), say.Number(float64(from.Height)))
}

func (p *Carries) gains(v *verdict.Verdict) string {
	switch {
	case p.State == limit.Snapped:
		return lang.Text("The line does not surely carry every destination, even at the lowest rung. Send to fewer, to one that passes it on, or record here in full and send the files afterwards.")
	case p.Same:
		return lang.Text("What is sent is the best the line carries.")
	case p.State == limit.Taut:
		return lang.Text("The best the line carries, with little to spare.")
	}
	up := v.Find(engine.ID{Rule: rules.Uplink})
	if up != nil && up.State != limit.Slack {
		return lang.Text("The best the line carries with room to spare.")
	}
	return lang.Text("The line would carry more.")
}

// later is how long the recordings take to send away and to copy.
func (p *Carries) later(v *verdict.Verdict) {
	up := v.Upload()
	for i := range v.Show.Recordings {
		l := Later{Recording: say.Sentence(v.RecordingName(i)), GB: v.KeptGB(i)}
		hours := func(gb, mbps float64) float64 { return limit.Divide(gb*8000, mbps) / 3600 }
		l.SendHours = limit.Bounds{Low: hours(l.GB.Low, up.High), Value: hours(l.GB.Value, up.Value),
			High: hours(l.GB.High, up.Low)}
		for _, k := range v.KeptOn() {
			if k.Drive == nil || !slices.Contains(k.Recordings, i) {
				continue
			}
			w := k.Writes()
			l.CopyHours = limit.Bounds{Low: 2 * limit.Divide(l.GB.Low*1000, w.High) / 3600,
				Value: 2 * limit.Divide(l.GB.Value*1000, w.Value) / 3600, High: 2 * limit.Divide(l.GB.High*1000,
					w.Low) / 3600}
		}
		l.Words = lang.Text("Rehearsal and show take %s; copying it twice %s; sending it away over this line %s.",
			say.Span(l.GB.Low, l.GB.High, "GB"), spell(l.CopyHours), spell(l.SendHours))
		p.Later = append(p.Later, l)
	}
}

// spell writes a time as people say it: minutes up to two hours, then hours.
func spell(h limit.Bounds) string {
	if h.High >= limit.Never {
		return lang.Text("%s h or more", say.Number(math.Round(h.Low*10)/10))
	}
	if h.High < 2 {
		return say.Span(math.Ceil(h.Low*60), math.Ceil(h.High*60), "minutes")
	}
	return say.Span(math.Round(h.Low*10)/10, math.Round(h.High*10)/10, "hours")
}
