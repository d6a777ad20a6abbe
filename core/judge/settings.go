package judge

import (
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// answer is one thing a choice may turn out to be, for stateBasis.
type answer struct {
	word, label string
	state       State
}

// stateBasis is a fact that is one of several words, each with the state it would mean; path takes the word.
func (p *pass) stateBasis(path, name, question, how string, minutes float64, answers ...answer) Basis {
	if p.quiet {
		return Basis{}
	}
	b := Basis{Path: path, Name: name, Word: "unknown", From: fact.Estimate}
	var edits [][]rig.Edit
	for _, a := range answers {
		b.Options = append(b.Options, Option{Word: a.word, Label: a.label, State: a.state})
		edits = append(edits, []rig.Edit{{Do: "word", Path: path, Word: a.word}})
	}
	b.ask = func() Ask { return Ask{Question: question, How: how, Minutes: minutes, Edits: edits} }
	return b
}

// device judges what a source does by itself: its settings, standby, protection, recording limit. Handbook 2.2.
func (p *pass) device(hop *Hop, w *walk, it *rig.Item, out int) {
	g := &it.Gear
	for i := range g.Settings {
		p.setting(hop, w, it, &g.Settings[i])
	}
	p.standby(hop, w, it)
	p.exclusions(hop, w, it)
	if out >= 0 && g.Ports[out].Direction == gear.Out {
		p.protected(hop, w, it)
	}
	p.recordLimit(hop, w, it)
	p.upright(hop, w, it)
}

// stands is how a setting of an item stands for the show: as somebody has said, else as it is proposed, which is what a
// show needs; a setting no show needs stands as the device comes.
func stands(it *rig.Item, s *gear.Setting) (word string, said bool) {
	if it.Set != nil {
		if word, ok := it.Set.Settings[s.ID]; ok {
			return word, true
		}
	}
	if want := s.Known().Want; want != "" {
		return want, false
	}
	if s.As == "" {
		return "unknown", true
	}
	return s.As, true
}

func standsOn(it *rig.Item, s *gear.Setting) bool {
	word, _ := stands(it, s)
	return word == "on"
}

func (p *pass) setting(hop *Hop, w *walk, it *rig.Item, s *gear.Setting) {
	k := s.Known()
	if k.Want == "" {
		return // matters only through what it excludes
	}
	have, said := stands(it, s)
	wrong := soft
	if k.Ends {
		wrong = no
	}
	l := Limit{ID: "setting:" + it.ID + ":" + s.ID, Rule: "setting", Sense: Fits, Where: w.deps(),
		What: p.say("Setting of %s: %s", it.Label, k.Label), Source: Source{fact.Practice, "Handbook 2.2: one forgotten setting ends a show"}}
	switch {
	case have == k.Want && !said:
		l.outcomes, l.Says = yes, p.say("%s of %s: %s is proposed.", sentenceCase(k.Label), it.Label, have)
	case have == k.Want:
		l.outcomes, l.Says = yes, p.say("%s of %s is %s.", sentenceCase(k.Label), it.Label, have)
	case have == "unknown":
		l.outcomes = []State{Slack, wrong[0]}
		if !k.Ends { // it cannot end the show: straight until somebody looks
			l.outcomes = soft
		}
		l.Says = p.say("Nobody has looked at the %s of %s; a show needs it %s.", k.Label, it.Label, k.Want)
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "set", "settings", s.ID), p.say("%s of %s", k.Label, it.Label),
			p.say("How does the %s of %s stand?", k.Label, it.Label), "In its menu.", 1,
			answer{k.Want, sentenceCase(k.Want), Slack}, answer{otherThan(k.Want), sentenceCase(otherThan(k.Want)), wrong[0]}))
	default:
		l.outcomes = wrong
		l.Says = p.say("%s of %s is %s and should be %s: %s.", sentenceCase(k.Label), it.Label, have, k.Want, orElse(k.Why, "its sheet asks for it"))
	}
	p.add(hop, &l)
}

func otherThan(want string) string {
	switch want {
	case "on":
		return "off"
	case "off":
		return "on"
	}
	return "other"
}

func orElse(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

func sentenceCase(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// exclusions finds settings that must not both be on. Handbook 2.2.
func (p *pass) exclusions(hop *Hop, w *walk, it *rig.Item) {
	g := &it.Gear
	for i := range g.Settings {
		s := &g.Settings[i]
		for _, id := range s.Excludes {
			other := g.Setting(id)
			if other == nil {
				continue
			}
			if !standsOn(it, s) || !standsOn(it, other) {
				p.add(hop, &Limit{ID: "excludes:" + it.ID + ":" + s.ID + ":" + id, Rule: "excludes", Sense: Fits, outcomes: yes, Where: w.deps(),
					What: p.say("Settings of %s that exclude each other", it.Label), Says: p.say("%s and %s of %s are not both on.", sentenceCase(s.Known().Label), other.Known().Label, it.Label),
					Source: Source{fact.DataSheet, "The spec sheet of the device; handbook 2.2"}})
				continue
			}
			p.add(hop, &Limit{ID: "excludes:" + it.ID + ":" + s.ID + ":" + id, Rule: "excludes", Sense: Fits, outcomes: no, Where: w.deps(),
				What:   p.say("Settings of %s that exclude each other", it.Label),
				Says:   p.say("%s of %s needs %s off, and both are on.", sentenceCase(s.Known().Label), it.Label, other.Known().Label),
				Source: Source{fact.DataSheet, "The spec sheet of the device; handbook 2.2"}})
		}
	}
}

// standby judges sleeping devices that have no setting for it: sleep that cannot be turned off.
func (p *pass) standby(hop *Hop, w *walk, it *rig.Item) {
	st := it.Gear.Standby
	kind := it.Gear.Kind
	if st == nil && kind != gear.Camera && kind != gear.Phone {
		return
	}
	for i := range it.Gear.Settings {
		if it.Gear.Settings[i].Known().Sleeps {
			return // the setting says it
		}
	}
	if st == nil { // nobody knows whether it sleeps or switches itself off
		st = &gear.Standby{}
	}
	id := "standby:" + it.ID
	if st.Does == "nothing" {
		p.add(hop, &Limit{ID: id, Rule: "standby", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("Standby of %s", it.Label),
			Says: p.say("%s keeps sending when nobody touches it.", it.Label), Source: Source{fact.Practice, "Handbook 2.2: wait past the idle time"}})
		return
	}
	if st.Does == "" || st.Does == "unknown" {
		p.add(hop, &Limit{ID: id, Rule: "standby", Sense: Fits, outcomes: maybe, Where: w.deps(), What: p.say("Standby of %s", it.Label),
			Says: p.say("Nobody has waited to see whether %s sleeps or switches itself off when it is left alone.", it.Label), Source: Source{fact.Practice, "Handbook 2.2: wait past the idle time"},
			Facts: p.facts.of(p.stateBasis(p.path("items", it.ID, "standby", "does"), p.say("standby of %s", it.Label),
				p.say("What does %s do when nobody touches it?", it.Label), "Leave it alone with its picture on a screen, past its idle time.", 30,
				answer{"nothing", "It keeps sending", Slack}, answer{"resizes", "The picture changes size", Snapped}, answer{"black", "The picture goes", Snapped}))})
		return
	}
	sleeps := "its picture goes"
	if st.Does == "resizes" {
		sleeps = "its picture changes size, and the capture loses it"
	}
	s := &p.Show
	l := Limit{ID: id, Rule: "standby", Unit: "min", Where: w.deps(), What: p.say("Standby of %s", it.Label),
		Facts: p.facts.of(basis(p.path("items", it.ID, "standby", "afterMinutes"), p.say("idle time of %s", it.Label), "min", st.AfterMinutes, gear.DefaultStandby,
			p.ask("After how many minutes does %s sleep?", it.Label, "Its menu or handbook says; or wait.", 30))),
		Loads:    p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(s.Minutes), Sum: "the show, if nobody touches it"}),
		caps:     p.terms.of(times(1, 0)),
		LimitSum: "its idle time", Source: Source{fact.DataSheet, "The spec sheet; handbook 2.2"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("Left alone for %s, %s sleeps: %s.", p.span(kept.Sure, kept.Possible, "min"), it.Label, sleeps)
	}
}

// protected judges encrypted picture outputs, which a capture device shows as black. It says only that this is a cause.
// Handbook 2.2.
func (p *pass) protected(hop *Hop, w *walk, it *rig.Item) {
	kind := it.Gear.Kind
	state := it.Gear.Protected
	if state == "" {
		if kind != gear.Console && kind != gear.Player {
			return
		}
		state = gear.UnknownProtected
	}
	l := Limit{ID: "protected:" + it.ID, Rule: "protected", Sense: Fits, Where: w.deps(), What: p.say("Protected output of %s", it.Label),
		Source: Source{fact.Practice, "Handbook 2.2: an encrypted output is captured as black"}}
	off := it.Set == nil || it.Set.Protection != "on" // not said is proposed off, where its maker allows it
	switch {
	case state == gear.NeverProtected:
		l.outcomes, l.Says = yes, p.say("%s does not encrypt its picture.", it.Label)
	case state == gear.AlwaysProtected:
		l.outcomes, l.Says = no, p.say("%s encrypts its picture: a capture device shows black.", it.Label)
	case state == gear.UntilTurnedOff && off && (it.Set == nil || it.Set.Protection == ""):
		l.outcomes, l.Says = yes, p.say("%s encrypts its picture until its own menu turns that off, where its maker allows it: off is proposed.", it.Label)
	case state == gear.UntilTurnedOff && off:
		l.outcomes, l.Says = yes, p.say("%s is set not to encrypt its picture.", it.Label)
	case state == gear.UntilTurnedOff:
		l.outcomes, l.Says = no, p.say("%s encrypts its picture until its own menu turns that off, where its maker allows it.", it.Label)
	default:
		l.outcomes, l.Says = maybe, p.say("Nobody has tried whether %s shows a picture through a capture device.", it.Label)
		l.Facts = p.facts.of(p.stateBasis(p.path("items", it.ID, "protected"), p.say("protection of %s", it.Label),
			p.say("Does %s show a picture through a capture device?", it.Label), "Connect it once and look. Its own menu may have a switch for it.", 5,
			answer{string(gear.NeverProtected), "Yes, as it comes", Slack}, answer{string(gear.UntilTurnedOff), "Only once its own menu says so", afterSetting(off)},
			answer{string(gear.AlwaysProtected), "No, black", Snapped}))
	}
	p.add(hop, &l)
}

// afterSetting is what a device that is clean only after a setting comes to.
func afterSetting(set bool) State {
	if set {
		return Slack
	}
	return Snapped
}

// recordLimit judges recording in the camera against how long it records at a time. Handbook 2.2.
func (p *pass) recordLimit(hop *Hop, w *walk, it *rig.Item) {
	if !slices.ContainsFunc(p.Show.Recordings, func(r rig.Recording) bool { return r.InCamera && r.What == it.ID }) {
		return
	}
	l := Limit{ID: "record-limit:" + it.ID, Rule: "record-limit", Unit: "min", Where: append(w.deps(), "show"), What: p.say("Recording in %s", it.Label), Ceiling: 1,
		Facts: p.facts.of(basis(p.path("items", it.ID, "recordLimitMinutes"), p.say("recording limit of %s", it.Label), "min", it.Gear.RecordLimitMinutes, gear.DefaultRecordLimit,
			p.ask("How long does %s record at a time?", it.Label, "Its handbook says.", 3))),
		Loads:    p.loads.of(Load{Item: it.ID, Label: it.Label, term: times(p.Show.Minutes), Sum: "the show"}),
		caps:     p.terms.of(times(1, 0)),
		LimitSum: "what it records at a time", Source: Source{fact.DataSheet, "The spec sheet; handbook 2.2"}}
	kept := p.add(hop, &l)
	if !p.quiet {
		kept.Says = p.say("%s records %s at a time; the show lasts %s min.", it.Label, p.span(kept.Sure, kept.Possible, "min"), p.num(p.Show.Minutes))
	}
}

// upright judges a device that is turned and sends an upright picture.
func (p *pass) upright(hop *Hop, w *walk, it *rig.Item) {
	if !it.Gear.Turns {
		return
	}
	l := Limit{ID: "upright:" + it.ID, Rule: "upright", Sense: Fits, outcomes: yes, Where: w.deps(), What: p.say("How %s is held", it.Label),
		Says: p.say("%s lies level.", it.Label), Source: Source{fact.Practice, "Handbook 2.2: the output follows the phone when it turns"}}
	if it.Gear.Turns && it.Set != nil && it.Set.Upright && p.Show.Programme.Width > p.Show.Programme.Height {
		l.outcomes, l.Says = soft, p.say("%s stands upright: its picture fills only a part of a wide programme.", it.Label)
	}
	p.add(hop, &l)
}
