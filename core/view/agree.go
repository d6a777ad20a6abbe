package view

import (
	"fmt"
	"slices"

	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/negotiate"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// Agreement is what the two ends of a lead can agree on, for the board.
type Agreement struct {
	Lead   string       `json:"lead"`
	Source string       `json:"source" doc:"Label of the item that sends"`
	Sink   string       `json:"sink" doc:"Label of the item that takes"`
	Now    string       `json:"now" doc:"The picture that is set"`
	Auto   string       `json:"auto,omitempty" doc:"The picture a source left on auto would send"`
	Best   string       `json:"best,omitempty" doc:"The best picture for the show both take"`
	Takes  []AgreedMode `json:"takes" doc:"Best for the show first"`
	Fails  []FailedMode `json:"fails"`
	Try    []string     `json:"try" doc:"What to try when the device shows nothing, in this order"`
}

// AgreedMode is one picture both ends take.
type AgreedMode struct {
	Name     string     `json:"name"`
	Sure     bool       `json:"sure" doc:"False when one end has not said so"`
	Movement string     `json:"movement" doc:"Its cadence in the programme"`
	Now      bool       `json:"now"`
	Edits    []rig.Edit `json:"edits" doc:"Set it; empty when the source cannot be set"`
}

// FailedMode is one picture that does not work, and why.
type FailedMode struct {
	Name string `json:"name"`
	Why  string `json:"why"`
}

// Agree negotiates over one HDMI or SDI lead of a rig.
func Agree(r *rig.Rig, leadID string) (*Agreement, error) {
	g := rig.NewWiring(r)
	at := slices.IndexFunc(r.Leads, func(l rig.Lead) bool { return l.ID == leadID })
	if at < 0 {
		return nil, fmt.Errorf("lead %q: not in this rig", leadID)
	}
	fi, fp, ti, tp := g.LeadEnds(at)
	src, sink := &r.Items[fi], &r.Items[ti]
	from, to := &src.Gear.Ports[fp], &sink.Gear.Ports[tp]
	if from.Direction != gear.Out || to.Direction != gear.In {
		return nil, fmt.Errorf("lead %q: joins %s to %s; only an output and an input agree on a picture", leadID,
			from.Direction, to.Direction)
	}
	p := plans.Of(r, g)
	now, _ := p.OutputMode(src, from)
	pr := r.Show.Programme
	o := negotiate.Between(from, to, leadCarry(&r.Leads[at], from, to))
	a := &Agreement{Lead: leadID, Source: src.Label, Sink: sink.Label, Now: plans.ModeText(&now),
		Takes: []AgreedMode{}, Fails: []FailedMode{}, Try: []string{}}
	ranked := negotiate.Rank(o.Takes, pr.Width, pr.Height, pr.Rate)
	settable := src.IsSource() || src.Gear.Kind == gear.Switcher
	nowSure := false
	for _, t := range ranked {
		rate := t.Mode.Rate
		if !t.Mode.Inner.IsZero() {
			rate = t.Mode.Inner
		}
		m := AgreedMode{Name: plans.ModeText(&t.Mode), Sure: t.Sure, Movement: plans.CadenceText(rate, pr.Rate),
			Now: t.Mode.Same(now), Edits: []rig.Edit{}}
		if settable && !m.Now && slices.ContainsFunc(from.Modes, t.Mode.Same) {
			mode := t.Mode
			m.Edits = append(m.Edits, rig.Edit{Do: "mode", Item: src.ID, Port: from.ID, Mode: &mode})
		}
		nowSure = nowSure || m.Now && m.Sure
		a.Takes = append(a.Takes, m)
	}
	if len(ranked) > 0 && ranked[0].Sure {
		a.Best = a.Takes[0].Name
	}
	if auto := negotiate.Settles(o, to); auto != nil {
		a.Auto = plans.ModeText(auto)
	}
	for _, f := range o.Fails {
		a.Fails = append(a.Fails, FailedMode{plans.ModeText(&f.Mode), f.Why})
	}
	a.Try = tries(a, now, src, from, &r.Leads[at], nowSure)
	return a, nil
}

// tries is what to try when a device will not lock, the likeliest and cheapest first.
func tries(a *Agreement, now picture.Mode, src *rig.Item, from *gear.Port, l *rig.Lead, nowSure bool) []string {
	out := []string{}
	add := func(format string, args ...string) { out = append(out, lang.Text(format, args...)) }
	if a.Best != "" && !nowSure {
		add(lang.Text("Set %s to %s."), src.Label, a.Best)
	}
	if now.Height > 1080 {
		add(lang.Text("Set the output of %s to full HD: a device with a 1080-only input shows nothing of 4K."),
			src.Label)
	}
	near := now
	switch {
	case now.Rate.Den == 1001:
		near.Rate = picture.R(now.Rate.Num / 1000)
	case now.Rate.Nominal()%6 == 0:
		near.Rate = picture.NewRate(now.Rate.Num*1000, 1001)
	}
	if near.Rate != now.Rate && slices.ContainsFunc(from.Modes, near.Same) {
		add(lang.Text("Try %s in place of %s: some devices know only one of the two."), near.Name(), now.Name())
	}
	if now.Interlaced {
		add(lang.Text("Try a progressive picture: not every input takes an interlaced one."))
	}
	if now.Depth() > 8 || now.Chroma == picture.YUV420 {
		add(lang.Text("Set 8-bit, and RGB or 4:2:2: deep colour and 4:2:0 are refused by some inputs."))
	}
	if l.LengthM.High > 2 {
		add(lang.Text("Try a short lead you know to be good: it proves where the fault is not."))
	}
	if l.Adapters > 0 {
		add(lang.Text("Take the adapter out of the way."))
	}
	if k := src.Gear.Kind; k == gear.Console || k == gear.Player {
		add(lang.Text("Look for the encryption of the picture output in the menu of %s: a captured picture is black while it is on."),
			src.Label)
	}
	add(lang.Text("Wake %s up, and plug the lead in again once both ends are on."), src.Label)
	return out
}

// leadCarry is what a lead carries at its length: by its mark, its reach, and what happened when it was tried.
func leadCarry(l *rig.Lead, from, to *gear.Port) negotiate.Carry {
	if from.Connector.Family() == gear.SDIFamily {
		return coaxCarry(l)
	}
	var c negotiate.Carry
	grade := hdmi.Grade(l.Grade)
	c.SureMHz, c.PossibleMHz = hdmi.GradeMHz(grade)
	c.SureGbps, c.PossibleGbps = grade.FixedRateGbps()
	made := grade
	if made == hdmi.Unknown && !plans.MaybeActive(l) {
		made = hdmi.StandardHD
	}
	sure, possible := 0.0, 0.0
	for _, mhz := range []float64{148.5, hdmi.MHz14, hdmi.MHz20} { // the steps of hdmi.Reach
		s, p := hdmi.Reach(made, mhz, plans.Thickness(l, from, to))
		if l.LengthM.High <= s {
			sure = mhz
		}
		if l.LengthM.Low <= p {
			possible = mhz
		}
	}
	c.SureMHz, c.PossibleMHz = min(c.SureMHz, sure), min(c.PossibleMHz, possible)
	s, p := hdmi.Reach(made, 1200, plans.Thickness(l, from, to))
	if l.LengthM.High > s {
		c.SureGbps = 0
	}
	if l.LengthM.Low > p {
		c.PossibleGbps = 0
	}
	if l.Direction == "wrong" {
		return negotiate.Carry{}
	}
	if t := l.Tried; t != nil {
		if t.Holds {
			c.SureMHz, c.PossibleMHz = max(c.SureMHz, t.MHz), max(c.PossibleMHz, t.MHz)
		} else {
			c.SureMHz, c.PossibleMHz = min(c.SureMHz, t.MHz-0.001), min(c.PossibleMHz, t.MHz-0.001)
		}
	}
	return c
}

func coaxCarry(l *rig.Lead) (c negotiate.Carry) {
	if sdi.Class(l.Grade) == sdi.Optical {
		c.SureMbps, c.PossibleMbps = sdi.TwelveG.Mbps(), sdi.TwelveG.Mbps()
		return c
	}
	for _, link := range sdi.Links {
		b, _ := plans.CoaxReach(l, link, link.Mbps()/2)
		if l.LengthM.High <= b.Low {
			c.SureMbps = max(c.SureMbps, link.Mbps())
		}
		if l.LengthM.Low <= b.High {
			c.PossibleMbps = max(c.PossibleMbps, link.Mbps())
		}
	}
	if t := l.Tried; t != nil && t.Holds {
		c.SureMbps, c.PossibleMbps = max(c.SureMbps, 2*t.MHz), max(c.PossibleMbps, 2*t.MHz)
	} else if t != nil {
		c.SureMbps, c.PossibleMbps = min(c.SureMbps, 2*t.MHz-1), min(c.PossibleMbps, 2*t.MHz-1)
	}
	return c
}
