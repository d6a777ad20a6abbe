package rules

import (
	"slices"
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

// Cover names what no limit rests on, once a pass has run: silence is never slack. Every item, lead, socket in use,
// setting, destination and recording stands in a limit or here.
func Cover(p *Pass) {
	covered := make(map[string]bool, 2*len(p.Items)+len(p.Leads))
	for i := range p.Results {
		l := &p.Results[i]
		for _, id := range l.Where {
			covered[id] = true
		}
		for k := range l.Loads {
			covered[l.Loads[k].Item] = true
		}
	}
	judged := func(rule *Rule, place string) bool {
		_, ok := p.Index(ID{Rule: rule, Place: place})
		return ok
	}
	for i := range p.Items {
		it := &p.Items[i]
		switch {
		case !covered[it.ID]:
			p.NotJudged("item", it.ID, func(p *Pass) (string, string) { return it.Label, whyNot(p, it) })
		case loose(p, i): // its draw may count, and nothing else of it does
			p.NotJudged("item", it.ID, func(*Pass) (string, string) {
				return it.Label, lang.Text("it is connected to nothing")
			})
		}
		for j := range it.Gear.Settings {
			s := &it.Gear.Settings[j]
			if !judged(Setting, it.ID+":"+s.ID) && !slices.ContainsFunc(it.Gear.Settings, func(o gear.Setting) bool {
				return len(s.Excludes) > 0 || slices.Contains(o.Excludes, s.ID)
			}) {
				p.NotJudged("setting", it.ID+"/"+s.ID, func(p *Pass) (string, string) {
					return p.T("%s of %s", s.Known().Label, it.Label), lang.Text("nobody has said how a show needs it")
				})
			}
		}
	}
	for i := range p.Leads {
		if l := &p.Leads[i]; !covered[l.ID] {
			p.NotJudged("lead", l.ID, func(p *Pass) (string, string) {
				return p.T("the lead %s", p.LeadTitle(l)),
					lang.Text("no picture and no device of the rig goes through it")
			})
		}
	}
	for i := range p.Show.Destinations {
		if d := &p.Show.Destinations[i]; !judged(Ingest, strconv.Itoa(i)) {
			p.NotJudged("destination", strconv.Itoa(i), func(*Pass) (string, string) {
				return d.Name, lang.Text("nothing is known of it")
			})
		}
	}
	for i := range p.Show.Recordings {
		if rec := &p.Show.Recordings[i]; hostOfRecording(p, rec) == nil {
			p.NotJudged("recording", strconv.Itoa(i), func(p *Pass) (string, string) {
				return p.T("the %s", p.RecordingName(i)), lang.Text("the rig has nothing to record it on")
			})
		}
	}
	if p.Host() == nil {
		p.NotJudged("subject", "computer-load", func(*Pass) (string, string) {
			return lang.Text("what the computer has to compute"), lang.Text("the rig has no computer")
		})
	}
	if up := p.Uplink; len(p.Show.Destinations)+len(p.Show.Calls) > 0 && (up == nil ||
		up.Whose == "" && up.AllowanceGB == nil) {
		p.NotJudged("subject", "line", func(*Pass) (string, string) {
			return lang.Text("what the line may send, and whether it is let out"),
				lang.Text("nobody has said whose it is: one's own, one with an allowance, a venue's or a phone's")
		})
	}
	if p.Sound == nil || len(p.Sound.Paths) == 0 {
		p.NotJudged("subject", "sound", func(*Pass) (string, string) {
			return lang.Text("sound"), lang.Text("nobody has described how it gets to air")
		})
	}
}

// hostOfRecording is what a recording is made on; nil when the rig has nothing for it.
func hostOfRecording(p *Pass, rec *rig.Recording) *rig.Item {
	if it := p.Item(rec.Drive); it != nil && !rec.InCamera {
		return it
	}
	if rec.InCamera {
		return p.Item(rec.What)
	}
	return p.Host()
}

// loose tells whether a thing pictures or plugs go through, or end at, has no lead in any of its sockets.
func loose(p *Pass, item int) bool {
	it := &p.Items[item]
	if it.IsHost() || it.IsSource() || len(it.Gear.Ports) == 0 || it.Gear.Kind.Gives() && it.Gear.Kind != gear.Hub &&
		it.Gear.Kind != gear.Dock {
		return false
	}
	for i := range it.Gear.Ports {
		if p.Wiring.LeadAt(item, i) >= 0 {
			return false
		}
	}
	return true
}

// whyNot tells why no rule looks at a thing.
func whyNot(p *Pass, it *rig.Item) string {
	switch it.Gear.Kind {
	case gear.Drive:
		return lang.Text("nothing is recorded on it")
	case gear.Microphone, gear.AudioInterface, gear.Mixer, gear.WirelessSound:
		return lang.Text("no way of sound goes through it")
	case gear.Battery:
		return lang.Text("count it as a spare of its camera")
	case gear.Strip, gear.UPS, gear.Supply, gear.PowerBank:
		return feedsWhat(p, it)
	case gear.Hub, gear.Dock:
		return lang.Text("nothing is plugged into it")
	}
	return lang.Text("it is connected to nothing a rule looks at")
}

// feedsWhat tells what hangs on a supply no rule looks at: what it gives and how long is added up for strips and UPSs,
// and for cameras and phones that run on it.
func feedsWhat(p *Pass, it *rig.Item) string {
	var fed, others []string
	for i := range p.Items {
		switch o := &p.Items[i]; {
		case o.PoweredBy != it.ID:
		case (o.Gear.Kind == gear.Camera || o.Gear.Kind == gear.Phone) && plans.RunsOn(p.Rig, o) == "battery":
			others = append(others, o.Label)
		default:
			fed = append(fed, o.Label)
		}
	}
	switch {
	case len(fed) > 0:
		return lang.Text("what hangs on it is not added up, nor how long it lasts: %s. Watts on their plates against watts on its own, by hand",
			say.List(fed))
	case len(others) > 0:
		return lang.Text("said to feed what is also said to run on its own battery: %s", say.List(others))
	}
	return lang.Text("nothing hangs on it")
}

var Recorded = rule(Rule{
	Name:    "recorded",
	Asks:    "Does a picture get to a recorder that is to record it?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheShow,
	Board:   Short{Open: "is it recorded?", Bad: "nothing records it"},
	Whole:   true,
	Source:  practice("Recordings wanted"),
	Example: "A recording wanted on a recorder whose input is empty: it records nothing.",
	Judge:   Judging{OnRig: judgeRecorded},
})

// judgeRecorded judges recordings that are wanted on a recorder: does a picture get there? What it takes is judged
// where it comes in.
func judgeRecorded(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Recordings {
		rec := &p.Show.Recordings[i]
		at := p.Wiring.At(rec.Drive)
		if rec.InCamera || at < 0 || p.Items[at].Gear.Kind != gear.Recorder {
			continue
		}
		it := &p.Items[at]
		l := Result{Limit: limit.Limit{Outcomes: limit.No}, Stage: plans.Send, Shared: true,
			Where: []string{it.ID, "show"}}
		for j := range p.Leads {
			l.Where = append(l.Where, p.Leads[j].ID)
		}
		var of *rig.Item
		for j := range p.Feeds {
			f := &p.Feeds[j]
			if slices.ContainsFunc(f.Hops, func(h plans.Hop) bool { return h.Ref == it.ID }) &&
				(rec.What == "programme" || rec.What == f.Source.ID) {
				l.Outcomes, of = limit.Yes, f.Source
			}
		}
		l.Say = func(w *Words) {
			w.What, w.Says = w.T("What %s records", it.Label), w.T("No picture gets to %s: it records nothing.",
				it.Label)
			if of != nil {
				w.Says = w.T("%s gets the picture of %s.", it.Label, of.Label)
			}
		}
		p.Add(nil, own, strconv.Itoa(i), &l)
	}
}
