package judge

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// programs of handbook 5.0: what their name is, and the most lines the kind is known to take ([practice]; 0 is any).
var programKinds = map[string]struct {
	name     string
	lines    float64
	mirrored bool
}{
	"encoder":          {"the encoder", 0, false},
	"browser-studio":   {"the studio in the browser", 1080, true},
	"destination-page": {"the destination's page", 1080, true},
	"call":             {"the call", 1080, true},
}

// programName is a program as people say it.
func programName(p rig.Program) string {
	if p.Name != "" {
		return p.Name
	}
	return programKinds[p.Kind].name
}

// program judges whether the program takes the picture, as far as anybody has tried, and what to know about it there.
// Handbook 5.0, 3.1.
func (p *pass) program(hop *Hop, w *walk, s *stream) {
	it := s.owner
	kind := programKinds[p.Show.Program.Kind]
	name := programName(p.Show.Program)
	id := it.ID + ":" + w.feed.ID
	p.worksWith(hop, w, it, name)
	if p.Show.Program.Kind != "encoder" {
		l := Limit{ID: "program-size:" + id, Rule: "program-size", Sense: Fits, outcomes: yes, Where: append(w.deps(), "show"), What: p.say("Size %s takes", name),
			Says: p.say("%s takes pictures of up to %s lines.", sentenceCase(name), p.num(kind.lines)), Source: Source{fact.Practice, "Handbook 5.0: studios and calls often take up to 1080p, and less when the line is short"}}
		if s.unknown {
			l.outcomes, l.Says = soft, p.say("Nobody has said which pictures %s delivers; %s usually takes up to %s lines.", s.owner.Label, name, p.num(kind.lines))
		} else if float64(s.height) > kind.lines {
			l.outcomes, l.Says = soft, p.say("%s sends %s; %s usually makes it 1080 lines at most.", w.feed.Label, p.sizeName(s.width, s.height), name)
		}
		p.add(hop, &l)
	}
	if kind.mirrored && it.Gear.Kind != gear.Switcher {
		p.add(hop, &Limit{ID: "mirrored:" + id, Rule: "mirrored", Sense: Fits, outcomes: yes, Where: w.deps(), What: "Mirrored self-view",
			Says:   p.say("%s may show you mirrored; what is sent is not.", sentenceCase(name)),
			Source: Source{fact.Practice, "Handbook 5.0: only the preview is mirrored; check the recording"}})
	}
	if it.Gear.OpensSmall {
		p.add(hop, &Limit{ID: "by-hand:" + id, Rule: "by-hand", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("Size of %s in the program", it.Label),
			Says:   p.say("%s opens small: choose %s by hand in %s.", it.Label, p.sizeName(s.width, s.height), name),
			Source: Source{fact.Practice, "Handbook 5.0"}})
	}
	p.shared(hop, w, it, name)
}

// worksWith judges a device by what happened when it was used with the program.
func (p *pass) worksWith(hop *Hop, w *walk, it *rig.Item, name string) {
	l := Limit{ID: "works-with:" + it.ID, Rule: "works-with", Sense: Fits, Where: append(w.deps(), "show"), What: p.say("%s in %s", it.Label, name),
		Source: Source{fact.Measured, "What happened when it was tried; handbook 3.1"}}
	works := "untested"
	at := slices.IndexFunc(it.Gear.WorksWith, func(e gear.Experience) bool { return e.Program == p.Show.Program.Name && e.Program != "" })
	if at < 0 {
		at = slices.IndexFunc(it.Gear.WorksWith, func(e gear.Experience) bool { return e.Program == p.Show.Program.Kind })
	}
	if at >= 0 {
		works = it.Gear.WorksWith[at].Works
		l.Source.Name = p.say("tried %s", orUnknown(it.Gear.WorksWith[at].At))
	}
	plain := it.Gear.Driver == "" || it.Gear.Driver == "none"
	switch {
	case at < 0 && plain && len(it.Gear.WorksWith) == 0: // a plain device is taken by nearly every program
		l.outcomes, l.Says, l.Source = yes, p.say("%s works as a plain device; %s takes such.", it.Label, name), Source{fact.Practice, "Handbook 3.1: plain webcam-class devices need no driver"}
	case works == "works":
		l.outcomes, l.Says = yes, p.say("%s has worked in %s.", it.Label, name)
	case works == "badly":
		l.outcomes, l.Says = soft, p.say("%s has worked badly in %s.", it.Label, name)
	case works == "no":
		l.outcomes, l.Says = no, p.say("%s does not work in %s.", it.Label, name)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has tried %s in %s.", it.Label, name)
		program := p.Show.Program.Name
		if program == "" {
			program = p.Show.Program.Kind
		}
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "worksWith", program), p.say("whether %s works in %s", it.Label, name),
			p.say("Does %s work in %s?", it.Label, name), "Open the program and choose it.", 5,
			answer{"works", "It works", Slack}, answer{"badly", "It works badly", Taut}, answer{"no", "It does not", Snapped}))
	}
	if it.Gear.ListedAs != "" {
		l.Says += p.say(" Programs list it as “%s”.", it.Gear.ListedAs)
	}
	p.add(hop, &l)
}

// shared judges two programs on one device: only something that shares the picture lets both have it. Handbook 5.0.
func (p *pass) shared(hop *Hop, w *walk, it *rig.Item, name string) {
	for i := range p.Show.Also {
		also := &p.Show.Also[i]
		if !slices.Contains(also.Takes, it.ID) && !slices.Contains(also.Takes, w.feed.Source) {
			continue
		}
		other := programName(rig.Program{Kind: also.Kind, Name: also.Name})
		l := Limit{ID: "two-programs:" + it.ID, Rule: "two-programs", Sense: Fits, outcomes: no, Where: append(w.deps(), "show"), What: p.say("Programs that take %s", it.Label),
			Says:   p.say("%s and %s both want %s, and a device opens for one: something that shares its picture has to stand between.", name, other, it.Label),
			Source: Source{fact.Practice, "Handbook 5.0: several programs take one camera only through something that shares it"}}
		if it.Gear.Shares {
			l.outcomes, l.Says = yes, p.say("%s shares its picture: %s and %s both have it.", it.Label, name, other)
		}
		p.add(hop, &l)
	}
}
