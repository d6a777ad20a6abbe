package view

import (
	"math"
	"slices"
	"strings"

	"eventether/core/advise"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/plans"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Passes tells whether a look showed what the run sheet wants to see of it before its step is ticked.
type Passes struct {
	Answer look.Answer `json:"answer" enum:"found,clear,cannot-tell" doc:"found: the step can be ticked; clear: it failed; cannot-tell: somebody has to look at what is left"`
	Left   []string    `json:"left" doc:"What it did not show, and the step wants seen"`
}

// fails says that a step is not done, and why.
func (p *Passes) fails(why string) {
	p.Answer, p.Left = look.Clear, append(p.Left, ended(why))
}

// open says that something of a step is still to be seen, where nothing has failed.
func (p *Passes) open(why string) {
	if p.Answer == look.Found {
		p.Answer = look.CannotTell
	}
	p.Left = append(p.Left, ended(why))
}

// ended is a sentence without its full stop, to stand among others.
func ended(s string) string { return lowered(strings.TrimSuffix(s, ".")) }

// Speech peaks between these on the way in, dBFS [practice; handbook 6.1].
const (
	speechLow  = -12
	speechHigh = -6
)

// passes holds what was seen and heard against what the step of the run sheet has to show: the right picture, whole, at
// its size and rate, moving evenly, with no menu or border; or speech that peaks where it should.
func (l *Looked) passes(v *verdict.Verdict, s *look.Seen, h *look.Heard) {
	p := &l.Passes
	p.Answer, p.Left = look.Found, []string{}
	sound := strings.HasPrefix(l.Of, advise.ClipOfSound)
	left := func(text string) {
		p.Answer = look.CannotTell
		p.Left = append(p.Left, text)
	}
	switch {
	case sound && h == nil:
		left(lang.Text("nothing was heard"))
	case sound:
		switch peak := h.PeakDB; {
		case peak < speechLow:
			left(lang.Text("it peaks at %s dBFS: say a few words; if that was speech, %s dB more gain", below(peak),
				say.Number(math.Round((speechLow+speechHigh)/2-peak))))
		case peak > speechHigh:
			left(lang.Text("it peaks at %s dBFS: %s dB less gain where it comes in", below(peak),
				say.Number(math.Round(peak-(speechLow+speechHigh)/2))))
			p.Answer = look.Clear
		}
	case s == nil:
		left(lang.Text("nothing was seen"))
	default:
		if s.Pace != nil && s.Pace.Lost*100 > s.Pace.Frames+s.Pace.Lost {
			left(lang.Text("%s missing: whether the device or this computer loses them", say.Count(s.Pace.Lost, "frame is", "frames are")))
		}
		for _, name := range []look.Name{look.IsRate, look.IsRepeats, look.IsBorder} {
			if f := look.Find(s.Signs, name); f != nil && f.Answer == look.CannotTell {
				left(lowered(f.Says))
			}
		}
		if f := look.Find(s.Signs, look.IsOverlay); f != nil && f.Answer == look.CannotTell && !clean(v, l.Of) {
			left(lang.Text("whether menus or signs lie over it: move the camera slowly, or look"))
		}
	}
	if sound && h != nil {
		for _, name := range []look.Name{look.IsHum, look.IsEcho} { // one voice, no echo, no hum
			if f := look.Find(h.Signs, name); f != nil && f.Answer == look.CannotTell {
				left(lowered(f.Says))
			}
		}
	}
	off := slices.ContainsFunc(l.Rows, func(row LookedRow) bool { return row.Agrees == look.Clear })
	if len(l.Wrong) > 0 || off {
		p.Answer = look.Clear
	}
}

// clean tells whether the source of a feed is one that draws nothing over its picture.
func clean(v *verdict.Verdict, of string) bool {
	at := slices.IndexFunc(v.Feeds, func(f plans.Feed) bool { return f.ID == of })
	if at < 0 {
		return true // the programme, or made of it: what draws over it was seen at its sources
	}
	g := &v.Feeds[at].Source.Gear
	return g.Clean == gear.AlwaysClean || !g.Kind.Shoots()
}

// Preflight is every device that was looked at in one line each, in the run sheet's order.
type Preflight struct {
	Rows     []PreflightRow `json:"rows"`
	Sentence string         `json:"sentence"`
}

// PreflightRow is one device: planned, measured, what follows.
type PreflightRow struct {
	Of       string `json:"of"`
	Label    string `json:"label"`
	Planned  string `json:"planned"`
	Measured string `json:"measured"`
	Passes   Passes `json:"passes"`
	Follows  string `json:"follows" doc:"What to do about it; empty where it is as it has to be"`
}

// PreflightOf sums looks up, in the order they come in.
func PreflightOf(all []*Looked) *Preflight {
	p := &Preflight{Rows: []PreflightRow{}}
	count := map[look.Answer]int{}
	for _, l := range all {
		row := PreflightRow{Of: l.Of, Label: say.Sentence(l.Label), Planned: l.planned, Measured: l.measured, Passes: l.Passes}
		switch l.Passes.Answer {
		case look.Clear:
			switch {
			case len(l.Wrong) > 0:
				row.Follows = l.Wrong[0].Says + " " + l.Wrong[0].Do
			case len(l.Passes.Left) > 0:
				row.Follows = say.Sentence(strings.Join(l.Passes.Left, "; ")) + "."
			default:
				row.Follows = l.Sentence
			}
		case look.CannotTell:
			row.Follows = say.Sentence(strings.Join(l.Passes.Left, "; ")) + "."
		}
		count[l.Passes.Answer]++
		p.Rows = append(p.Rows, row)
	}
	switch bad, open := count[look.Clear], count[look.CannotTell]; {
	case len(all) == 0:
		p.Sentence = lang.Text("Nothing was looked at.")
	case bad > 0:
		p.Sentence = say.Sentence(say.Count(bad, "device is not as it has to be.", "devices are not as they have to be."))
	case open > 0:
		p.Sentence = lang.Text("Nothing wrong; of %s something is still to be seen by eye.", say.Count(open, "device", "devices"))
	default:
		p.Sentence = lang.Text("All of it is as it has to be.")
	}
	return p
}
