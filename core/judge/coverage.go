package judge

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// coverage names what no limit rests on: silence is never slack. Every item, lead, socket in use, setting, destination and
// recording stands in a limit or here.
func (p *pass) coverage() {
	covered := make(map[string]bool, 2*len(p.Items)+len(p.Leads))
	for i := range p.limits {
		l := &p.limits[i]
		for _, id := range l.Where {
			covered[id] = true
		}
		for k := range l.Loads {
			covered[l.Loads[k].Item] = true
		}
	}
	named := func(kind, ref, label, why string) {
		if !covered[ref] {
			p.notJudged(kind, ref, label, why)
		}
	}
	for i := range p.Items {
		it := &p.Items[i]
		named("item", it.ID, it.Label, whyNot(it))
		for j := range it.Gear.Settings {
			s := &it.Gear.Settings[j]
			if _, ok := p.index["setting:"+it.ID+":"+s.ID]; !ok && !slices.ContainsFunc(it.Gear.Settings, func(o gear.Setting) bool { return len(s.Excludes) > 0 || slices.Contains(o.Excludes, s.ID) }) {
				p.notJudged("setting", it.ID+"/"+s.ID, p.say("%s of %s", s.Known().Label, it.Label), "nobody has said how a show needs it")
			}
		}
	}
	for i := range p.Leads {
		l := &p.Leads[i]
		named("lead", l.ID, p.say("the lead %s", p.leadTitle(l)), "no picture and no device of the rig goes through it")
	}
	for i := range p.Show.Destinations {
		if _, ok := p.index["ingest:"+strconv.Itoa(i)]; !ok {
			p.notJudged("destination", strconv.Itoa(i), p.Show.Destinations[i].Name, "nothing is known of it")
		}
	}
	for i, rec := range p.Show.Recordings {
		if _, ok := p.index["recorded:"+strconv.Itoa(i)]; ok || rec.InCamera {
			continue
		}
		what := rec.What
		if it := p.Item(what); it != nil {
			what = it.Label
		}
		p.notJudged("recording", strconv.Itoa(i), p.say("the recording of %s", what), "there are no rules for drives and encoding yet")
	}
	p.notJudged("subject", "computer-load", "what the computer has to compute", "there are no rules for decoding, composing and encoding yet")
	p.notJudged("subject", "sound", "sound", "there are no rules for sound yet")
}

// whyNot tells why no rule looks at a thing.
func whyNot(it *rig.Item) string {
	switch it.Gear.Kind {
	case gear.Drive:
		return "there are no rules for drives yet"
	case gear.Microphone, gear.AudioInterface, gear.Mixer, gear.WirelessSound:
		return "there are no rules for sound yet"
	case gear.Battery:
		return "count it as a spare of its camera"
	case gear.Strip, gear.UPS, gear.Supply, gear.PowerBank:
		return "nothing hangs on it"
	case gear.Hub, gear.Dock:
		return "nothing is plugged into it"
	}
	return "it is connected to nothing a rule looks at"
}

// recorders judges recordings that are wanted on a recorder: does a picture get there? What it takes is judged where it
// comes in.
func (p *pass) recorders() {
	for i, rec := range p.Show.Recordings {
		at := p.g.At(rec.Drive)
		if rec.InCamera || at < 0 || p.Items[at].Gear.Kind != gear.Recorder {
			continue
		}
		it := &p.Items[at]
		l := Limit{ID: "recorded:" + strconv.Itoa(i), Rule: "recorded", Sense: Fits, outcomes: no, Stage: AtSend, Shared: true, Where: []string{it.ID, "show"},
			What: p.say("What %s records", it.Label), Says: p.say("No picture gets to %s: it records nothing.", it.Label), Source: Source{fact.Practice, "Handbook 1.1: recordings wanted"}}
		for j := range p.Leads {
			l.Where = append(l.Where, p.Leads[j].ID)
		}
		for j := range p.feeds {
			f := &p.feeds[j]
			if slices.ContainsFunc(f.Hops, func(h Hop) bool { return h.Ref == it.ID }) && (rec.What == "programme" || rec.What == f.Source) {
				l.outcomes, l.Says = yes, p.say("%s gets the picture of %s.", it.Label, f.Label)
			}
		}
		p.add(nil, &l)
	}
}
