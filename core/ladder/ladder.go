// Package ladder answers: what is the best that the line carries, over all destinations together, and what does each step down
// the ladder of sizes and rates give up?
//
// Pictures are weighed by how much moves in the show: size counts always, rate the more the more moves. The search is exact: it
// builds the destinations up one by one and keeps, of every cost, the best that can be had for it.
package ladder

import (
	"cmp"
	"math"
	"slices"

	"eventether/core/fact"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
)

// takes tells whether a destination takes a rung, and at which bitrates; low is above high where it does not.
func takes(d *rig.Destination, g *rules.Rung) (low, high float64, ok bool) {
	low, high = g.LowKbps, g.HighKbps
	in := d.Ingest
	if in == nil {
		return low, high, true
	}
	if in.MaxWidth > 0 && g.Width > in.MaxWidth || in.MaxHeight > 0 && g.Height > in.MaxHeight || !in.MaxRate.IsZero() && g.Rate.Cmp(in.MaxRate) > 0 {
		return 0, 0, false
	}
	if in.MaxVideoKbps > 0 {
		high = min(high, in.MaxVideoKbps)
		low = min(low, high)
	}
	low = max(low, in.MinVideoKbps)
	high = max(low, high)
	if in.MaxVideoKbps > 0 && low > in.MaxVideoKbps || low < g.FloorKbps && high < g.FloorKbps {
		return 0, 0, false // its cap leaves too few bits for so many pixels
	}
	return max(low, min(g.FloorKbps, high)), high, true
}

// Option is one way to send to one destination.
type Option struct {
	Rung int     // place among the rungs; -1 leaves the destination out
	Kbps float64 // video
	Cost int     // hundredths of kb/s on the line, with sound and packaging
	// Value and Bits are what it is worth: the picture first, then how much of the useful bitrate it has, in thousandths.
	Value, Bits int
}

// steps is into how many bitrates the span of a rung is divided.
const steps = 4

// optionsOf are the ways to send to one destination: every rung it takes, at the bitrates between its ends.
func optionsOf(d *rig.Destination, rungs []rules.Rung, sound, share float64) []Option {
	out := []Option{{Rung: -1}}
	for i := range rungs {
		low, high, ok := takes(d, &rungs[i])
		if !ok {
			continue
		}
		for k := range steps {
			kbps := math.Round(low + (high-low)*float64(k)/(steps-1))
			if k > 0 && kbps == out[len(out)-1].Kbps {
				continue
			}
			bits := 1000
			if rungs[i].HighKbps > 0 {
				bits = int(min(1000, 1000*kbps/rungs[i].HighKbps))
			}
			out = append(out, Option{Rung: i, Kbps: kbps, Cost: int(math.Ceil(100 * share * (kbps + sound))), Value: rungs[i].Worth, Bits: bits})
		}
	}
	return out
}

// Best chooses an option for every list so that their costs together stay within a budget and their values, then their bits, are
// the most; of what is equal, the cheapest. Every list has an option that costs nothing.
func Best(lists [][]Option, budget int) []int {
	type state struct {
		cost, value, bits int
		from, took        int
	}
	levels := make([][]state, len(lists)+1)
	levels[0] = []state{{}}
	for i, list := range lists {
		var next []state
		for f, s := range levels[i] {
			for t, o := range list {
				if cost := s.cost + o.Cost; cost <= budget {
					next = append(next, state{cost, s.value + o.Value, s.bits + o.Bits, f, t})
				}
			}
		}
		slices.SortFunc(next, func(a, b state) int {
			return cmp.Or(cmp.Compare(a.cost, b.cost), cmp.Compare(b.value, a.value), cmp.Compare(b.bits, a.bits), cmp.Compare(a.from, b.from), cmp.Compare(a.took, b.took))
		})
		kept := next[:0] // of what costs more, only what is worth more
		for _, s := range next {
			if n := len(kept); n == 0 || s.value > kept[n-1].value || s.value == kept[n-1].value && s.bits > kept[n-1].bits {
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
	SlackKbps float64 `json:"slackKbps" doc:"What may be used of the line with room to spare: 75 % of what it surely carries"`
	SureKbps  float64 `json:"sureKbps" doc:"What the line surely carries"`
	OtherKbps float64 `json:"otherKbps" doc:"Calls and whatever else uploads"`
	NowKbps   float64 `json:"nowKbps" doc:"What is sent now, with sound and packaging, at worst"`
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
	rules.Rung
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
func Of(v *judge.Verdict) *Carries {
	up := v.Find(limit.ID{Rule: "uplink"})
	p := &Carries{Rungs: []Rated{}, Best: []Choice{}, Edits: []rig.Edit{}, Later: []Later{}, State: limit.Slack}
	sure := v.Upload()
	p.SureKbps = sure.Low * 1000
	p.SlackKbps = 0.75 * p.SureKbps
	if up != nil {
		p.NowKbps = up.Load.High * 1000
	}
	var lists [][]Option
	rungs := rules.Rungs(v.Show.Programme, v.Show.Motion)
	p.OtherKbps = p.NowKbps
	var own []int
	for i := range v.Show.Destinations {
		d := &v.Show.Destinations[i]
		if d.Via != "" {
			continue // another passes it on
		}
		share := rules.UploadShare(d)
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
		c.Label, c.Kbps = g.Label, o.Kbps
		p.Best = append(p.Best, c)
		if d.Send.Width != g.Width || d.Send.Height != g.Height || d.Send.Rate != g.Rate || v.Video(i).High != o.Kbps {
			p.Same = false
			send := d.Send
			send.Width, send.Height, send.Rate = g.Width, g.Height, g.Rate
			kbps := fact.Exactly(o.Kbps)
			send.VideoKbps = &kbps
			p.Edits = append(p.Edits, rig.Edit{Do: "send", Name: d.Name, Send: &send})
			for j := range v.Show.Destinations { // what passes it on goes with it
				if o := &v.Show.Destinations[j]; o.Via == d.Name {
					on := o.Send
					on.Width, on.Height, on.Rate = send.Width, send.Height, send.Rate
					p.Edits = append(p.Edits, rig.Edit{Do: "send", Name: o.Name, Send: &on})
				}
			}
		}
	}
	p.Gains = p.gains(v)
	return p
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
func (p *Carries) steps(v *judge.Verdict, rungs []rules.Rung) {
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
			s.NeedKbps += rules.UploadShare(d) * (low + v.Audio(i).High)
		}
		s.LineKbps = s.NeedKbps / 0.75
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
func givesUp(from, to *rules.Rung) string {
	switch {
	case to.Height < from.Height && to.Rate.Cmp(from.Rate) > 0:
		return lang.Text("%s lines for %s; moves more smoothly", rules.Number(float64(to.Height)), rules.Number(float64(from.Height)))
	case to.Height > from.Height:
		return lang.Text("%s frames a second for %s; sharper", to.Rate.Name(), from.Rate.Name())
	case to.Rate.Cmp(from.Rate) < 0 && to.Height < from.Height:
		return lang.Text("%s lines for %s, and half the frames", rules.Number(float64(to.Height)), rules.Number(float64(from.Height)))
	case to.Rate.Cmp(from.Rate) < 0:
		return lang.Text("half the frames: movement is less smooth")
	}
	return lang.Text("%s lines for %s", rules.Number(float64(to.Height)), rules.Number(float64(from.Height)))
}

func (p *Carries) gains(v *judge.Verdict) string {
	switch {
	case p.State == limit.Snapped:
		return lang.Text("The line does not surely carry every destination, even at the lowest rung. Send to fewer, to one that passes it on, or record here in full and send the files afterwards.")
	case p.Same:
		return lang.Text("What is sent is the best the line carries.")
	case p.State == limit.Taut:
		return lang.Text("The best the line carries, with little to spare.")
	}
	up := v.Find(limit.ID{Rule: "uplink"})
	if up != nil && up.State != limit.Slack {
		return lang.Text("The best the line carries with room to spare.")
	}
	return lang.Text("The line would carry more.")
}

// later is how long the recordings take to send away and to copy.
func (p *Carries) later(v *judge.Verdict) {
	up := v.Upload()
	for i := range v.Show.Recordings {
		kbps := v.Kept(i)
		gb := func(x float64) float64 { return x * v.Show.Minutes * 60 / 8e6 }
		l := Later{Recording: rules.Sentence(v.RecordingName(i)), GB: limit.Bounds{Low: gb(kbps.Low), Value: gb(kbps.Value), High: gb(kbps.High)}}
		hours := func(gb, mbps float64) float64 { return limit.Divide(gb*8000, mbps) / 3600 }
		l.SendHours = limit.Bounds{Low: hours(l.GB.Low, up.High), Value: hours(l.GB.Value, up.Value), High: hours(l.GB.High, up.Low)}
		for _, k := range v.KeptOn() {
			if k.Drive == nil || !slices.Contains(k.Recordings, i) {
				continue
			}
			w := k.Writes()
			l.CopyHours = limit.Bounds{Low: 2 * limit.Divide(l.GB.Low*1000, w.High) / 3600, Value: 2 * limit.Divide(l.GB.Value*1000, w.Value) / 3600, High: 2 * limit.Divide(l.GB.High*1000, w.Low) / 3600}
		}
		l.Words = lang.Text("The show takes %s; copying it twice %s; sending it away over this line %s.", rules.Span(l.GB.Low, l.GB.High, "GB"), spell(l.CopyHours), spell(l.SendHours))
		p.Later = append(p.Later, l)
	}
}

// spell writes a time as people say it: minutes up to two hours, then hours.
func spell(h limit.Bounds) string {
	if h.High >= limit.Never {
		return lang.Text("%s h or more", rules.Number(math.Round(h.Low*10)/10))
	}
	if h.High < 2 {
		return rules.Span(math.Ceil(h.Low*60), math.Ceil(h.High*60), "minutes")
	}
	return rules.Span(math.Round(h.Low*10)/10, math.Round(h.High*10)/10, "hours")
}
