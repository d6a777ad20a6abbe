package rules

import (
	"cmp"
	"slices"
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

// says is the wording of a result that has a subject and one thing to say of it.
func says(what, says, about string) func(*Words) {
	return func(w *Words) { w.What, w.Says = w.T(what, about), w.T(says, about) }
}

var Clean = rule(Rule{
	Name:    "clean",
	Asks:    "Does the camera draw menus, boxes or borders over its picture?",
	Sense:   limit.Fits,
	Many:    "nobody has looked whether they draw menus or boxes over their pictures",
	Over:    limit.Flaw,
	Subject: TheLead,
	Board:   Short{Open: "menus in it? nobody looked", Bad: "menus in the picture"},
	Source:  practice("Nothing drawn over the picture that goes to air"),
	Example: "Clean once its display is off, and the display is on: snapped until it is turned off.",
	Say:     sayClean,
	Judge:   Judging{AtSource: judgeClean},
})

func judgeClean(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if w.Out < 0 || it.Gear.Ports[w.Out].Direction != gear.Out {
		return
	}
	l := Result{Where: w.Deps()}
	off := it.Set == nil || it.Set.InfoDisplay != "on" // not said is proposed off
	switch {
	case it.Gear.Clean == gear.AlwaysClean, it.Gear.Clean == gear.AfterSetting && off:
		l.Outcomes = limit.Yes
	case it.Gear.Clean == gear.AfterSetting, it.Gear.Clean == gear.NeverClean:
		l.Outcomes = limit.No
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/clean", it.ID), cleanWords(off)))
	}
	p.Add(w.Hop, own, it.ID, &l)
}

func sayClean(w *Words) {
	it := w.Result.Hop.Item
	text := lang.Text("Nobody has looked whether %s draws menus or boxes over its picture.")
	switch {
	case it.Gear.Clean == gear.AlwaysClean:
		text = lang.Text("%s sends no menus or boxes.")
	case it.Gear.Clean == gear.NeverClean:
		text = lang.Text("%s never sends a clean picture by this output.")
	case w.Result.State == limit.Kinked:
		text = lang.Text("%s shows its information display in the picture until it is turned off.")
	case it.Gear.Clean == gear.AfterSetting && (it.Set == nil || it.Set.InfoDisplay == ""):
		text = lang.Text("%s is clean with its information display off, which is proposed.")
	case it.Gear.Clean == gear.AfterSetting:
		text = lang.Text("%s is clean: its information display is off.")
	}
	w.What, w.Says = w.T("Clean picture from %s", it.Label), w.T(text, it.Label)
}

// cleanWords are what a look at a camera's output may show, by whether its information display is off.
func cleanWords(off bool) *[]limit.Option {
	if off {
		return cleanOff
	}
	return cleanOn
}

var (
	cleanOff = limit.OneOf(limit.Would(string(gear.AlwaysClean), limit.Slack), limit.Would(string(gear.AfterSetting),
		afterSetting(true)), limit.Would(string(gear.NeverClean), limit.Snapped))
	cleanOn = limit.OneOf(limit.Would(string(gear.AlwaysClean), limit.Slack), limit.Would(string(gear.AfterSetting),
		afterSetting(false)), limit.Would(string(gear.NeverClean), limit.Snapped))
)

// afterSetting is what a device that is clean only after a setting comes to.
func afterSetting(set bool) limit.State {
	if set {
		return limit.Slack
	}
	return limit.Snapped
}

var Setting = rule(Rule{
	Name:    "setting",
	Asks:    "Does a setting stand so that it cannot end the show?",
	Sense:   limit.Fits,
	Over:    limit.Drops,
	Subject: TheLead,
	Board:   Short{Open: "a setting to look at", Bad: "a setting is wrong"},
	Source:  practice("One forgotten setting ends a show"),
	Example: "Auto power off on, and a show needs it off: snapped.",
	Judge:   Judging{AtSource: judgeSettings},
})

func judgeSettings(p *Pass, own *Rule, w *Walk) {
	for i := range w.Item.Gear.Settings {
		judgeSetting(p, own, w, w.Item, &w.Item.Gear.Settings[i])
	}
}

func judgeSetting(p *Pass, own *Rule, w *Walk, it *rig.Item, s *gear.Setting) {
	k := s.Known()
	if k.Want == "" {
		return // matters only through what it excludes
	}
	have, said := plans.Stands(it, s)
	wrong := limit.Soft
	if k.Ends {
		wrong = limit.No
	}
	l := Result{Where: w.Deps()}
	switch {
	case k.Sleeps: // off is off, for as long as nobody notices
		l.Over = limit.Dark
	case k.Flaw:
		l.Over = limit.Flaw
	}
	text := func(w *Words) string { return "" }
	switch {
	case have == k.Want && !said:
		l.Outcomes = limit.Yes
		text = func(w *Words) string {
			return w.T("%s of %s: %s is proposed.", say.Sentence(lang.Text(k.Label)), it.Label, lang.Text(have))
		}
	case have == k.Want:
		l.Outcomes = limit.Yes
		text = func(w *Words) string {
			return w.T("%s of %s is %s.", say.Sentence(lang.Text(k.Label)), it.Label, lang.Text(have))
		}
	case have == "unknown":
		l.Outcomes = limit.Yes | wrong
		if !k.Ends { // it cannot end the show: straight until somebody looks
			l.Outcomes = limit.Soft
		}
		other := otherThan(k.Want)
		l.Facts = p.FactList(limit.Open(limit.Part("items/ID/set/settings/SETTING", it.ID, s.ID),
			limit.OneOf(limit.Option{Word: k.Want, Label: say.Sentence(lang.Text(k.Want)), State: limit.Slack},
				limit.Option{Word: other, Label: say.Sentence(lang.Text(other)), State: wrong.Settle()})))
		text = func(w *Words) string {
			return w.T("Nobody has looked at the %s of %s; a show needs it %s.", lang.Text(k.Label), it.Label,
				lang.Text(k.Want))
		}
	default:
		l.Outcomes = wrong
		text = func(w *Words) string {
			return w.T("%s of %s is %s and should be %s: %s.", say.Sentence(lang.Text(k.Label)), it.Label,
				lang.Text(have), lang.Text(k.Want), lang.Text(cmp.Or(k.Why, "its sheet asks for it")))
		}
	}
	l.Say = func(w *Words) {
		w.What, w.Says = w.T("Setting of %s: %s", it.Label, lang.Text(k.Label)), text(w)
	}
	p.Add(w.Hop, own, it.ID+":"+s.ID, &l)
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

var Excludes = rule(Rule{
	Name:    "excludes",
	Asks:    "Are two settings on that exclude each other?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Bad: "two settings exclude each other"},
	Source:  datasheet("The spec sheet of the device"),
	Example: "The phone link on and USB streaming on, where one needs the other off: snapped.",
	Judge:   Judging{AtSource: judgeExclusions},
})

func judgeExclusions(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	g := &it.Gear
	for i := range g.Settings {
		s := &g.Settings[i]
		for _, id := range s.Excludes {
			other := g.Setting(id)
			if other == nil {
				continue
			}
			l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps()}
			both := plans.StandsOn(it, s) && plans.StandsOn(it, other)
			if both {
				l.Outcomes = limit.No
			}
			l.Say = func(w *Words) {
				w.What = w.T("Settings of %s that exclude each other", it.Label)
				w.Says = w.T("%s and %s of %s are not both on.", say.Sentence(lang.Text(s.Known().Label)),
					lang.Text(other.Known().Label), it.Label)
				if both {
					w.Says = w.T("%s of %s needs %s off, and both are on.", say.Sentence(lang.Text(s.Known().Label)),
						it.Label, lang.Text(other.Known().Label))
				}
			}
			p.Add(w.Hop, own, it.ID+":"+s.ID+":"+id, &l)
		}
	}
}

var Standby = rule(Rule{
	Name:    "standby",
	Asks:    "Does the device sleep before the show is over, when nobody touches it?",
	Sum:     "the show ≤ its idle time; where somebody touches it in time, 2 min ≤ its idle time",
	Sense:   limit.AtMost,
	Unit:    "min",
	Many:    "nobody has waited to see whether they sleep or switch themselves off when they are left alone",
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "does it sleep?", Bad: "falls asleep"},
	Source:  practice("Wait past the idle time"),
	Example: "A show of 120 min, and the picture goes after 30 min: snapped.",
	Say:     sayStandby,
	Judge:   Judging{AtSource: judgeStandby},
})

var standbyWords = limit.OneOf(limit.Would("nothing", limit.Slack), limit.Would("resizes", limit.Snapped),
	limit.Would("black", limit.Snapped))

// touched tells whether somebody is to touch a device before it falls asleep.
func touched(it *rig.Item) bool { return it.Set != nil && it.Set.Touched }

// judgeStandby judges sleeping devices that have no setting for it: sleep that cannot be turned off. Somebody may see
// to it that they never get there.
func judgeStandby(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	st := it.Gear.Standby
	if st == nil && it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone {
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
	lasts := p.Show.Minutes
	if touched(it) {
		lasts = plans.LeastTouch
	}
	switch {
	case st.Does == "nothing":
		p.Add(w.Hop, own, it.ID, &Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Yes}, Where: w.Deps()})
		return
	case (st.Does == "" || st.Does == "unknown") && !touched(it):
		p.Add(w.Hop, own, it.ID, &Result{Limit: limit.Limit{Sense: limit.Fits, Outcomes: limit.Maybe,
			Facts: p.FactList(limit.Open(limit.At("items/ID/standby/does", it.ID), standbyWords))}, Where: w.Deps()})
		return
	}
	l := Result{Limit: limit.Limit{Facts: p.FactList(limit.Stated(limit.At("items/ID/standby/afterMinutes", it.ID),
		"min", st.AfterMinutes, gear.DefaultStandby)),
		Loads: p.LoadOf(it.ID, limit.Times(lasts)), Caps: plans.FirstFact}, Where: w.Deps()}
	p.Add(w.Hop, own, it.ID, &l)
}

func sayStandby(w *Words) {
	it := w.Result.Hop.Item
	switch w.What = w.T("Standby of %s", it.Label); {
	case w.Result.Sense != limit.Fits && touched(it):
		w.Source, w.Loads[0].Sum, w.Sum = practice("Nobody touches a camera more often than every two minutes"),
			lang.Text("as often as somebody can touch it"), lang.Text("its idle time")
		w.Says = w.T("Left alone for %s, %s sleeps; somebody touches it before.", w.LimitText(), it.Label)
		if every, ok := plans.TouchEvery(it, w.Ceiling); ok {
			w.Short = w.T("touched every %s min", say.Number(every))
			w.Says = w.T("Left alone for %s, %s sleeps; somebody touches it every %s min at the latest.",
				w.LimitText(), it.Label, say.Number(every))
		}
	case w.Result.Sense != limit.Fits:
		w.Source, w.Loads[0].Sum, w.Sum = datasheet("The spec sheet"), lang.Text("the show, if nobody touches it"),
			lang.Text("its idle time")
		sleeps := lang.Text("its picture goes")
		if it.Gear.Standby.Does == "resizes" {
			sleeps = lang.Text("its picture changes size, and the capture loses it")
		}
		w.Says = w.T("Left alone for %s, %s sleeps: %s.", w.LimitText(), it.Label, sleeps)
	case w.Result.State == limit.Untested:
		w.Says = w.T("Nobody has waited to see whether %s sleeps or switches itself off when it is left alone.",
			it.Label)
	default:
		w.Says = w.T("%s keeps sending when nobody touches it.", it.Label)
	}
}

var Protected = rule(Rule{
	Name:    "protected",
	Asks:    "Does the source encrypt its picture output, which a capture device shows as black?",
	Sense:   limit.Fits,
	Many:    "nobody has tried whether they show a picture through a capture device",
	Over:    limit.Dark,
	Subject: TheLead,
	Board:   Short{Open: "black? nobody tried", Bad: "encrypted: captured as black"},
	Source:  practice("An encrypted output is captured as black"),
	Example: "A player that always encrypts, into a capture device: snapped. We only say that this is a cause.",
	Judge:   Judging{AtSource: judgeProtected},
})

func judgeProtected(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if w.Out < 0 || it.Gear.Ports[w.Out].Direction != gear.Out {
		return
	}
	state := it.Gear.Protected
	if state == "" {
		if it.Gear.Kind != gear.Console && it.Gear.Kind != gear.Player {
			return
		}
		state = gear.UnknownProtected
	}
	l := Result{Where: w.Deps()}
	off := it.Set == nil || it.Set.Protection != "on" // not said is proposed off, where its maker allows it
	text := lang.Text("Nobody has tried whether %s shows a picture through a capture device.")
	switch {
	case state == gear.NeverProtected:
		l.Outcomes, text = limit.Yes, lang.Text("%s does not encrypt its picture.")
	case state == gear.AlwaysProtected:
		l.Outcomes, text = limit.No, lang.Text("%s encrypts its picture: a capture device shows black.")
	case state == gear.UntilTurnedOff && off && (it.Set == nil || it.Set.Protection == ""):
		l.Outcomes, text = limit.Yes,
			lang.Text("%s encrypts its picture until its own menu turns that off, where its maker allows it: off is proposed.")
	case state == gear.UntilTurnedOff && off:
		l.Outcomes, text = limit.Yes, lang.Text("%s is set not to encrypt its picture.")
	case state == gear.UntilTurnedOff:
		l.Outcomes, text = limit.No,
			lang.Text("%s encrypts its picture until its own menu turns that off, where its maker allows it.")
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/protected", it.ID),
			limit.OneOf(limit.Would(string(gear.NeverProtected), limit.Slack), limit.Would(string(gear.UntilTurnedOff),
				afterSetting(off)), limit.Would(string(gear.AlwaysProtected), limit.Snapped))))
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("Protected output of %s", it.Label), w.T(text, it.Label) }
	p.Add(w.Hop, own, it.ID, &l)
}

var RecordLimit = rule(Rule{
	Name:    "record-limit",
	Asks:    "Does the camera record for as long as the show?",
	Sum:     "the show ≤ what it records at a time",
	Sense:   limit.AtMost,
	Unit:    "min",
	Ceiling: 1,
	Over:    limit.Drops,
	Subject: TheLead,
	Source:  datasheet("The spec sheet"),
	Example: "A show of 120 min on a camera that stops at 29.9 min: snapped.",
	Judge:   Judging{AtSource: judgeRecordLimit},
})

func judgeRecordLimit(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if !recordsItself(p, it) {
		return
	}
	most := limit.Stated(limit.At("items/ID/recordLimitMinutes", it.ID), "min", it.Gear.RecordLimitMinutes,
		gear.DefaultRecordLimit)
	l := Result{Limit: limit.Limit{Facts: p.FactList(most),
		Loads: p.LoadOf(it.ID, limit.Times(p.Show.Minutes)), Caps: plans.FirstFact}, Where: p.WithShow(w)}
	restarts := !slices.ContainsFunc(p.Show.Recordings, func(r rig.Recording) bool {
		return r.InCamera && r.What == it.ID && !r.Restarts
	})
	if restarts { // somebody sees to it: what is over is only to be remembered
		l.Over = limit.Care
	}
	l.Say = func(w *Words) {
		w.What, w.Loads[0].Sum, w.Sum = w.T("Recording in %s", it.Label), lang.Text("the show"),
			lang.Text("what it records at a time")
		w.Says = w.T("%s records %s at a time; the show lasts %s min.", it.Label, w.LimitText(),
			say.Number(w.Show.Minutes))
		if restarts && w.Result.State != limit.Slack {
			w.Says += lang.Text(" It is stopped and started again in time; a few seconds are missing each time.")
		}
	}
	p.Add(w.Hop, own, it.ID, &l)
}

// recordsItself tells whether the show wants a recording made in a camera.
func recordsItself(p *Pass, it *rig.Item) bool {
	return slices.ContainsFunc(p.Show.Recordings, func(r rig.Recording) bool { return r.InCamera && r.What == it.ID })
}

var Upright = rule(Rule{
	Name:    "upright",
	Asks:    "Does a phone that is turned send an upright picture?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheLead,
	Board:   Short{Bad: "stands upright"},
	Source:  practice("The output follows the phone when it turns"),
	Example: "A phone held upright in a 16:9 programme fills 31.6 % of it: taut.",
	Judge:   Judging{AtSource: judgeUpright},
})

func judgeUpright(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if !it.Gear.Turns {
		return
	}
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Where: w.Deps()}
	text := lang.Text("%s lies level.")
	if it.Set != nil && it.Set.Upright && p.Show.Programme.Width > p.Show.Programme.Height {
		l.Outcomes, text = limit.Soft,
			lang.Text("%s stands upright: its picture fills only a part of a wide programme.")
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("How %s is held", it.Label), w.T(text, it.Label) }
	p.Add(w.Hop, own, it.ID, &l)
}

var Heat = rule(Rule{
	Name:    "heat",
	Asks:    "Does the device run for as long as the show before heat stops it?",
	Sum:     "the show without a break ≤ the time it runs in this picture",
	Sense:   limit.AtMost,
	Unit:    "min",
	Many:    "heat may stop them before the show is over",
	Over:    limit.Drops,
	Subject: ThePower,
	Source:  practice("A property of the camera and of the mode; sun, a closed screen and charging inside heat it"),
	Example: "A show of 120 min in 2160p30, and heat stops the camera after 40 min there: snapped.",
	Say:     sayHeat,
	Judge:   Judging{AtSource: judgeHeat},
})

// itsDelivery is the picture a source delivers by its own USB: the one it is set to, else the largest and fastest it
// lists.
func itsDelivery(it *rig.Item, port *gear.Port) (out *gear.Delivery) {
	var want rig.Deliver
	if it.Set != nil {
		want = it.Set.Deliver[port.ID]
	}
	for i := range it.Gear.Delivers {
		d := &it.Gear.Delivers[i]
		if d.Format == want.Format && (want.Width == 0 || want.Width == d.Width && want.Height == d.Height) {
			return d
		}
		if out == nil || cmp.Or(cmp.Compare(d.Width*d.Height, out.Width*out.Height), d.MaxRate.Cmp(out.MaxRate)) > 0 {
			out = d
		}
	}
	return out
}

func judgeHeat(p *Pass, own *Rule, w *Walk) {
	it := w.Item
	if it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone && len(it.Gear.HeatLimits) == 0 || w.Out < 0 {
		return
	}
	m := w.Mode
	if it.Gear.Ports[w.Out].Direction != gear.Out {
		m = &plans.NoPicture
		if len(it.Gear.Delivers) > 0 {
			d := itsDelivery(it, &it.Gear.Ports[w.Out])
			m = &picture.Mode{Width: d.Width, Height: d.Height, Rate: d.MaxRate}
		}
	}
	at := slices.IndexFunc(it.Gear.HeatLimits, func(h gear.HeatLimit) bool {
		return (h.Width == 0 || h.Width == m.Width && h.Height == m.Height) && (h.Rate.IsZero() || h.Rate == m.Rate)
	})
	l := Result{Where: p.WithShow(w), Mode: m}
	runs := gear.DefaultHeatLimit
	switch {
	case at >= 0:
		runs = it.Gear.HeatLimits[at].Minutes
	case m.Width > 0 && m.Height <= 1080 && m.Width <= 1920 && !recordsItself(p, it):
		l.Sense, l.Outcomes = limit.Fits, limit.Yes
		p.Add(w.Hop, own, it.ID, &l)
		return
	default:
		at = len(it.Gear.HeatLimits)
	}
	l.Facts = p.FactList(limit.Of(limit.Part("items/ID/heatLimits/N/minutes", it.ID, strconv.Itoa(at)), "min", runs))
	l.Loads, l.Caps = p.LoadOf(it.ID, limit.Times(p.Show.Minutes)), plans.FirstFact
	p.Add(w.Hop, own, it.ID, &l)
}

func sayHeat(w *Words) {
	it, picture := w.Result.Hop.Item, plans.ModeText(w.Result.Mode)
	if w.What = w.T("%s against heat", it.Label); w.Result.Sense == limit.Fits {
		w.Says = w.T("%s sends full HD at most and records nothing itself: heat stops few cameras at that.", it.Label)
		return
	}
	runs := &w.Result.Facts[0]
	w.Loads[0].Sum = lang.Text("the show without a break")
	if runs.Sub == strconv.Itoa(len(it.Gear.HeatLimits)) { // none of its sheet
		w.Sum = lang.Text("nobody has let it run")
		w.Says = w.T("Nobody has let %s run at %s for as long as the show: heat may stop it.", it.Label, picture)
		if picture == "" {
			w.Says = w.T("Nobody has let %s run for as long as the show: heat may stop it.", it.Label)
		}
		return
	}
	w.Source.Kind, w.Sum = runs.From, w.T("as measured at %s", picture)
	w.Says = w.T("At %s heat stops %s after %s; the show lasts %s min.", picture, it.Label, w.LimitText(),
		say.Number(w.Show.Minutes))
}
