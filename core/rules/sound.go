package rules

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sound"
)

var Voice = rule(Rule{
	Name:    "voice",
	Asks:    "Does every voice get to air by exactly one way?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSound,
	Board:   Short{Open: "which way to air?", Bad: "no way to air, or two"},
	Source:  practice("Exactly one path for each voice"),
	Example: "A headset and the camera's microphone both open: the voice is heard twice, hollow. None open: silence.",
	Judge:   Judging{OnRig: judgeSound},
})

var MicDistance = rule(Rule{
	Name:    "mic-distance",
	Asks:    "Is the microphone near enough to the mouth?",
	Sum:     "distance ≤ 1 m, 0.6 m of it with room to spare",
	Sense:   limit.AtMost,
	Unit:    "m",
	Ceiling: nearEnough / farthest,
	Over:    limit.Flaw,
	Subject: TheSound,
	Source:  practice("The closest microphone wins: 6 dB for each doubling of distance"),
	Example: "3 m is 20 dB less than 0.3 m, and the room is as loud as before.",
})

var SoundLevel = rule(Rule{
	Name:    "sound-level",
	Asks:    "Does an input get the level it takes?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Open: "mic or line?", Bad: "line into microphone, or the other way"},
	Source:  practice("A professional line is 26 to 47 dB too much for a microphone socket"),
	Example: "A mixer's +4 dBu into a camera's microphone socket, which overloads at −25 to −10 dBV: clipped.",
})

var OneLeg = rule(Rule{
	Name:    "one-leg",
	Asks:    "Does a balanced output get into a 3.5 mm socket by one leg only?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSound,
	Board:   Short{Open: "one leg, or both?", Bad: "both legs cancel: silence"},
	Source:  practice("A stereo socket given both legs cancels when summed to mono"),
	Example: "A healthy meter, left and right turned against each other, and silence for whoever hears it in mono.",
})

var MicPower = rule(Rule{
	Name:    "mic-power",
	Asks:    "Is a microphone fed with what it needs?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSound,
	Board:   Short{Open: "is the microphone fed?", Bad: "microphone without its power"},
	Source:  practice("Condensers need 48 V or plug-in power"),
	Example: "A condenser that needs 48 V at a camera's socket that gives plug-in power: nothing comes out.",
})

var SampleRate = rule(Rule{
	Name:    "sample-rate",
	Asks:    "Does sound run at 48 kHz?",
	Sense:   limit.Fits,
	Over:    limit.Care,
	Subject: TheSound,
	Source:  practice("48 kHz everywhere"),
	Example: "A 44.1 kHz interface in a 48 kHz programme is resampled: harmless, unless a program does not.",
})

var Loudspeaker = rule(Rule{
	Name:    "loudspeaker",
	Asks:    "Does a loudspeaker play into an open microphone?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Open: "loudspeakers on?", Bad: "loudspeaker into an open microphone"},
	Source:  practice("Monitor on headphones, not on loudspeakers"),
	Example: "A call on speaker beside an open microphone: the far end hears itself.",
})

var Monitor = rule(Rule{
	Name:    "monitor",
	Asks:    "Does a speaker hear himself without delay?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Bad: "he hears himself late"},
	Source:  practice("Monitoring through a delayed path disturbs the speaker"),
	Example: "Headphones at the program, 50 ms late: people slow down and stumble.",
})

var SoundTreated = rule(Rule{
	Name:    "sound-treated",
	Asks:    "Is a voice of one's own kept out of what treats speech?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Bad: "a call treats the voice"},
	Source:  practice("Call programs cancel echoes and gate: never in the path to air of one's own microphone"),
	Example: "The headset goes by the call program to air: words lose their beginnings.",
})

var Headroom = rule(Rule{
	Name:    "headroom",
	Asks:    "Does a microphone's input have room over the loudest peaks?",
	Sum:     "full scale − loudest peak ≥ 6 dB",
	Sense:   limit.AtLeast,
	Unit:    "dB",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSound,
	Source:  practice("At least 6 dB to clipping at the loudest expected peak"),
	Example: "60 dB of gain where 47 are planned: the peaks would stand at +3 dBFS, and clip.",
})

var LipSync = rule(Rule{
	Name:    "lip-sync",
	Asks:    "Do sound and picture come together?",
	Sum:     "sound's way + its delay − picture's way, within −40 to +60 ms surely, −90 to +185 possibly",
	Sense:   limit.Within,
	Unit:    "ms",
	Ceiling: 1,
	Over:    limit.Flaw,
	Many:    "nobody has clapped before them",
	Subject: TheSound,
	Source:  standard("EBU R 37; ITU-R BT.1359-1"),
	Example: "A USB microphone 60 ms after the mouth and a camera 200 ms: the sound is 140 ms early until it is delayed by as much.",
})

// leastHeadroom is what is kept to clipping at the loudest expected peak, dB [practice].
const leastHeadroom = 6.0

// Room where the reading of a microphone is near enough, m: the near field indoors, and a distance people get away with
// [practice].
const (
	nearEnough = sound.Near
	farthest   = 1.0
)

// soundWhere is what every limit of sound depends on.
func soundWhere(p *Pass) []string {
	where := []string{"sound", "show"}
	for i := range p.Sound.Paths {
		for _, id := range append([]string{p.Sound.Paths[i].From}, p.Sound.Paths[i].Via...) {
			if !slices.Contains(where, id) {
				where = append(where, id)
			}
		}
	}
	return where
}

func judgeSound(p *Pass, own *Rule, _ *Walk) {
	plan := p.Sounds()
	if plan == nil {
		return
	}
	where := soundWhere(p)
	add := func(id *Rule, place string, l Result) {
		l.Stage, l.Shared, l.Where = plans.Send, true, slices.Clone(where)
		p.Add(nil, id, place, &l)
	}
	judgeVoices(p, own, plan, add)
	open := false
	for i := range plan.Paths {
		if w := &plan.Paths[i]; w.On != "muted" {
			open = open || !p.Played(i)
			judgeSoundPath(p, i, w, add)
		}
	}
	judgeRoom(p, open, add)
	judgeInputs(p, add)
	judgeOneInput(p, plan, add)
	all := slices.Clone(where)
	for i := range p.Items { // time along a picture hangs on all it passes, and on what would let another one come
		all = plans.Merge(all, []string{p.Items[i].ID})
	}
	for i := range p.Leads {
		all = plans.Merge(all, []string{p.Leads[i].ID})
	}
	for i := range plan.Paths {
		if w := &plan.Paths[i]; w.On == "air" && len(plan.Pictures) > 0 && !p.Played(i) {
			judgeLipSync(p, i, w, all)
		}
	}
}

// pathPlace is where limits of a way stand: by what picks it up, so that the order of ways is no matter.
func pathPlace(p *Pass, i int) string {
	path := &p.Sound.Paths[i]
	place := path.From + ":" + path.Voice
	for k := range i { // the same twice
		if o := &p.Sound.Paths[k]; o.From == path.From && o.Voice == path.Voice {
			return place + ":" + strconv.Itoa(i)
		}
	}
	return place
}

func judgeVoices(p *Pass, own *Rule, plan *plans.SoundPlan, add func(*Rule, string, Result)) {
	var voices []string
	for i := range plan.Paths {
		if v := plan.Paths[i].Voice; !slices.Contains(voices, v) {
			voices = append(voices, v)
		}
	}
	for _, v := range voices {
		var open []string
		for i := range plan.Paths {
			if w := &plan.Paths[i]; w.Voice == v && w.On == "air" {
				open = append(open, w.Name)
			}
		}
		slices.Sort(open)
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		switch {
		case len(open) == 0:
			l.Outcomes = limit.No
		case len(open) > 1:
			l.Outcomes, l.Over = limit.No, limit.Flaw
		}
		l.Say = func(w *Words) {
			w.What = w.T("Way of %s to air", v)
			switch {
			case len(open) == 0:
				w.Says = w.T("%s gets to air by no way: silence.", v)
			case len(open) > 1:
				w.Says = w.T("%s gets to air by %s ways: %s. Heard twice it is hollow, or echoes; keep one and mute the others.",
					v, strconv.Itoa(len(open)), say.List(open))
			default:
				w.Says = w.T("%s gets to air by one way: %s.", v, open[0])
			}
		}
		add(own, v, l)
	}
}

// judgeSoundPath judges what a way goes through.
func judgeSoundPath(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	place, name := pathPlace(p, i), way.Name
	if !p.Played(i) {
		d := p.Roomy(1, 1)
		d.Loads = append(d.Loads,
			limit.Load{Item: path.From,
				Term: limit.Times(1, d.Let(limit.Stated(limit.Part("sound/paths/N/distanceM", "", strconv.Itoa(i)),
					"m", path.DistanceM, p.UsualDistance(i))))})
		d.Caps = p.CapAt(limit.Times(1, d.Let(limit.Known(farthest, "m", fact.Practice))))
		d.Say = func(w *Words) {
			less := math.Round(20 * math.Log10(max(w.Result.Load.Value, 0.01)/0.3))
			w.What, w.Loads[0] = w.T("Distance of %s", name), labelled(name, lang.Text("from the mouth"))
			w.Says = w.T("%s is picked up at %s.", name, w.LoadText())
			if less > 0 {
				w.Says = w.T("%s is picked up at %s: %s dB less than at 0.3 m, and the room is as loud as before. Nearer first, gain after.",
					name, w.LoadText(), say.Number(less))
			}
		}
		add(MicDistance, place, d)
	}
	before := p.Item(path.From)
	for _, id := range path.Via {
		it := p.Item(id)
		if it == nil || before == nil {
			continue
		}
		judgeStage(p, i, place+">"+id, name, before, it, add)
		before = it
	}
	if host := p.Host(); host != nil && before != nil && way.With == "" && analogue(before) &&
		!slices.Contains(way.Items, host.ID) {
		judgeStage(p, i, place+">"+host.ID, name, before, host, add) // it ends in the computer's own socket
	}
	judgeRates(p, way, add)
	judgeTreated(p, i, way, add)
	judgeLevelControl(p, way, add)
	judgeOneSided(p, i, way, add)
	judgeHum(p, i, way, add)
	judgeHeadroom(p, i, way, add)
	judgeNoise(p, i, way, add)
}

// judgeRates judges the sample rate of everything a way goes through that is a device of its own.
func judgeRates(p *Pass, way *plans.SoundWay, add func(*Rule, string, Result)) {
	for _, id := range way.Items {
		it := p.Item(id)
		if it == nil || it.IsSource() || it.IsHost() {
			continue
		}
		khz := plans.SoundOf(it).KHz
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		switch {
		case khz == nil:
			l.Outcomes = limit.Maybe
			l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/kHz", id),
				limit.OneOf(limit.Would("48", limit.Slack), limit.Would("44.1", limit.Snapped),
					limit.Would("96", limit.Snapped), limit.Would("0", limit.Slack))))
		case *khz > 0 && *khz != 48:
			l.Outcomes = limit.No
		}
		l.Say = func(w *Words) {
			w.What = w.T("Sample rate of %s", it.Label)
			switch {
			case khz == nil:
				w.Says = w.T("Nobody has looked at which sample rate %s runs.", it.Label)
			case *khz == 0:
				w.Says = w.T("%s has none: it is analogue.", it.Label)
			case *khz == 48:
				w.Says = w.T("%s runs at 48 kHz, as everything does.", it.Label)
			default:
				w.Says = w.T("%s runs at %s kHz in a programme of 48: set it to 48, or have it resampled; not locked and not resampled it clicks at a steady beat.",
					it.Label, say.Number(*khz))
			}
		}
		add(SampleRate, id, l)
	}
}

// answers is the outcome of a question that everything on a way is asked alike: bad where one thing answers yes, open
// where one has not answered. A thing that cannot is left out.
func answers(p *Pass, way *plans.SoundWay, field string, can func(*rig.Item) bool,
	of func(gear.SoundSheet) gear.Answer) (l Result, yes, unknown []string) {
	l.Outcomes = limit.Yes
	for _, id := range way.Items {
		it := p.Item(id)
		if it == nil || !can(it) {
			continue
		}
		switch a := of(plans.SoundOf(it)); a {
		case gear.Yes:
			yes = append(yes, it.Label)
		case gear.No:
		default:
			unknown = append(unknown, it.Label)
			l.Facts = append(l.Facts, limit.Open(limit.At(field, id), limit.OneOf(limit.Would("no", limit.Slack),
				limit.Would("yes", limit.Snapped))))
		}
	}
	switch {
	case len(yes) > 0:
		l.Outcomes, l.Facts = limit.No, nil
	case len(unknown) > 0:
		l.Outcomes = limit.Maybe
	}
	return l, yes, unknown
}

// judgeTreated judges whether something on the way of a voice treats speech.
func judgeTreated(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	if way.On != "air" || p.Played(i) {
		return
	}
	name := way.Name
	l, yes, unknown := answers(p, way, "items/ID/sound/processes", func(it *rig.Item) bool { return !it.IsHost() },
		func(s gear.SoundSheet) gear.Answer { return s.Processes })
	l.Say = func(w *Words) {
		w.What = w.T("What treats %s", name)
		switch {
		case len(yes) > 0:
			w.Says = w.T("%s treats speech on the way of %s: echo cancelling and gates take the beginnings of words. Take it by another way to air.",
				say.List(yes), name)
		case len(unknown) > 0:
			w.Says = w.T("Nobody has looked whether %s treats speech.", say.List(unknown))
		default:
			w.Says = w.T("Nothing treats %s on its way.", name)
		}
	}
	add(SoundTreated, pathPlace(p, i), l)
}

var LevelControl = rule(Rule{
	Name:    "level-control",
	Asks:    "Is automatic level control off on the way of every voice?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Open: "level control off?", Bad: "level control on"},
	Source:  practice("Automatic level control lifts the room by as much as 30 dB in pauses and undoes every level that was set"),
	Example: "A camera's automatic recording level: the room comes up whenever nobody speaks.",
})

// judgeLevelControl judges automatic level control along a way.
func judgeLevelControl(p *Pass, way *plans.SoundWay, add func(*Rule, string, Result)) {
	name := way.Name
	l, yes, unknown := answers(p, way, "items/ID/sound/autoLevel", func(it *rig.Item) bool { return !it.IsHost() },
		func(s gear.SoundSheet) gear.Answer { return s.AutoLevel })
	l.Say = func(w *Words) {
		w.What = w.T("Level control on the way of %s", name)
		switch {
		case len(yes) > 0:
			w.Says = w.T("The automatic level control of %s is on: in pauses the room comes up by as much as 30 dB. Turn it off and set the level by hand.",
				say.List(yes))
		case len(unknown) > 0:
			w.Says = w.T("Nobody has looked whether the automatic level control of %s is off.", say.List(unknown))
		default:
			w.Says = w.T("Levels on the way of %s stay as they are set.", name)
		}
	}
	add(LevelControl, pathPlace(p, way.Index), l)
}

var OneSided = rule(Rule{
	Name:    "one-sided",
	Asks:    "Is every voice heard in the middle?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Open: "in the middle?", Bad: "on one side only"},
	Source:  practice("Input 1 of an interface lands on the left only, until it is set to the middle"),
	Example: "A microphone in input 1, and a listener with one earphone hears nothing.",
})

// judgeOneSided judges whether a voice is heard in the middle.
func judgeOneSided(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	name := way.Name
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	switch p.Sound.Paths[i].Middle {
	case "yes":
	case "no":
		l.Outcomes = limit.No
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.Part("sound/paths/N/middle", "", strconv.Itoa(i)),
			limit.OneOf(limit.Would("yes", limit.Slack), limit.Would("no", limit.Snapped))))
	}
	l.Say = func(w *Words) {
		w.What = w.T("Side of %s", name)
		switch w.Result.State {
		case limit.Slack:
			w.Says = w.T("%s is heard in the middle.", name)
		case limit.Untested:
			w.Says = w.T("Nobody has listened whether %s is in the middle, and whole in mono.", name)
		default:
			w.Says = w.T("%s is heard on one side only: set its input to the middle, or to mono.", name)
		}
	}
	add(OneSided, pathPlace(p, i), l)
}

var Hum = rule(Rule{
	Name:    "hum",
	Asks:    "Does it hum?",
	Sense:   limit.Fits,
	Over:    limit.Flaw,
	Subject: TheSound,
	Board:   Short{Open: "does it hum?", Bad: "it hums"},
	Source:  practice("An unbalanced lead between two things on the mains makes a loop: one outlet, a balanced lead or a transformer"),
	Example: "A mixer's unbalanced output into a laptop on its charger: 50 Hz and its harmonics in every pause.",
})

// judgeHum judges hum on a way: ears say it, and which leads may make a loop.
func judgeHum(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	var loops []string
	for _, id := range way.Items[:len(way.Items)-1] { // what comes out of each but the last
		it := p.Item(id)
		if it == nil {
			continue
		}
		if s := plans.SoundOf(it); s.Balanced != "yes" && s.Gives != "digital" {
			loops = append(loops, it.Label)
			if s.Balanced != "no" {
				l.Facts = append(l.Facts, limit.Open(limit.At("items/ID/sound/balanced", id),
					limit.OneOf(limit.Would("yes", limit.Untested), limit.Would("no", limit.Untested))))
			}
		}
	}
	switch {
	case path.Hum == "yes":
		l.Outcomes, l.Facts = limit.No, nil
	case path.Hum == "no":
		l.Facts = nil
	default:
		l.Outcomes = limit.Maybe
		l.Facts = append([]limit.Fact{limit.Open(limit.Part("sound/paths/N/hum", "", strconv.Itoa(i)),
			limit.OneOf(limit.Would("no", limit.Slack), limit.Would("yes", limit.Snapped)))}, l.Facts...)
	}
	name := way.Name
	l.Say = func(w *Words) {
		w.What = w.T("Hum in %s", name)
		switch w.Result.State {
		case limit.Slack:
			w.Says = w.T("%s does not hum.", name)
		case limit.Untested:
			w.Says = w.T("Nobody has listened whether %s hums.", name)
			if len(loops) > 0 {
				w.Says += " " + w.T("The lead out of %s may be unbalanced: where both ends are on the mains it makes a loop.",
					say.List(loops))
			}
		default:
			w.Says = w.T("%s hums: both ends into one outlet, a balanced lead, or a transformer in between.", name)
			w.Caution = lang.Text("Never lift or tape off a safety earth to stop a hum.")
		}
	}
	add(Hum, pathPlace(p, i), l)
}

// judgeHeadroom judges the loudest peaks against full scale. Where no gain is said it is turned up as planned, which
// leaves the planned room: said, and not described, it may be anything.
func judgeHeadroom(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	if p.Played(i) {
		return
	}
	name := way.Name
	standIn := fact.Est(10.5, 9, 12) // the mean at −24 dBFS, peaks 12 to 15 dB over it
	planned := 0.0
	switch v := way.Levels; {
	case v != nil && (path.GainDB == nil || plans.SoundOf(p.Item(path.From)).Gives ==
		"microphone"): // else nobody knows what comes out
		planned = math.Round(v.Gain.Value)
		standIn = fact.Est(min(max(0, v.Headroom.Value), 120), min(max(0, v.Headroom.Low), 120),
			min(max(0, v.Headroom.High), 120))
	case path.GainDB != nil:
		standIn = fact.Est(9, 0, 120)
	}
	l := p.Roomy(2, 1)
	l.Loads = append(l.Loads,
		limit.Load{Item: path.From,
			Term: limit.Times(1, l.Let(limit.Stated(limit.Part("sound/paths/N/headroomDb", "", strconv.Itoa(i)), "dB",
				path.HeadroomDB, standIn)))})
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Known(leastHeadroom, "dB", fact.Practice))))
	gain := path.GainDB
	l.Say = func(w *Words) {
		w.What, w.Loads[0] = w.T("Headroom of %s", name), labelled(name, lang.Text("to full scale at the loudest peak"))
		w.Says = w.T("The loudest peaks of %s stand %s under clipping; 6 dB at least.", name, w.LoadText())
		if gain != nil && planned > 0 {
			w.Says += " " + w.T("%s dB of gain are set, and %s planned.", say.Number(*gain), say.Number(planned))
		}
	}
	add(Headroom, pathPlace(p, i), l)
}

var Noise = rule(Rule{
	Name:    "noise",
	Asks:    "Does the noise of the electronics lie far enough under speech?",
	Sum:     "mean of speech − noise of the input ≥ 40 dB",
	Sense:   limit.AtLeast,
	Unit:    "dB",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSound,
	Source:  practice("Noise at least 40 dB under mean speech; it is set by the first stage"),
	Example: "A dynamic microphone 0.3 m from a calm voice gives −76 dBu: over an input's −120 dBu it is 44 dB, over −100 only 24.",
})

// leastQuiet is how far electronic noise has to lie under mean speech, dB [practice].
const leastQuiet = 40.0

// judgeNoise judges the noise of the electronics under speech, by a test recording or by what microphone and input are.
func judgeNoise(p *Pass, i int, way *plans.SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	if p.Played(i) {
		return
	}
	name := way.Name
	standIn := fact.Est(45, 0, 130)
	if v := way.Levels; v != nil && plans.SoundOf(p.Item(path.From)).Gives == "microphone" {
		standIn = fact.Est(min(max(0, v.Noise.Value), 130), min(max(0, v.Noise.Low), 130),
			min(max(0, v.Noise.High), 130))
	}
	l := p.Roomy(2, 1)
	l.Loads = append(l.Loads,
		limit.Load{Item: path.From,
			Term: limit.Times(1, l.Let(limit.Stated(limit.Part("sound/paths/N/noiseDb", "", strconv.Itoa(i)), "dB",
				path.NoiseDB, standIn)))})
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Known(leastQuiet, "dB", fact.Practice))))
	l.Say = func(w *Words) {
		w.What, w.Loads[0] = w.T("Noise under %s", name),
			labelled(name, lang.Text("mean of speech − noise of the input"))
		w.Says = w.T("The noise lies %s under %s; 40 dB at least.", w.LoadText(), name)
		if w.Result.State == limit.Kinked {
			w.Says += " " + lang.Text("Nearer to the mouth, a microphone that gives more, or a quieter first stage: gain afterwards lifts both.")
		}
	}
	add(Noise, pathPlace(p, i), l)
}

// analogue tells whether what comes out of the last thing of a way may need a socket of the computer's own: what is not
// said to be digital, of things that are not themselves a device of the computer.
func analogue(it *rig.Item) bool {
	switch it.Gear.Kind {
	case gear.Microphone, gear.Mixer, gear.WirelessSound:
		return plans.SoundOf(it).Gives != "digital"
	}
	return false
}

// judgeStage judges one thing feeding the next.
func judgeStage(p *Pass, i int, place, name string, from, to *rig.Item, add func(*Rule, string, Result)) {
	out, in := plans.SoundOf(from), plans.SoundOf(to)
	if in.Takes == "" && in.Socket == "" && in.Feeds == "" && out.Gives == "" && out.Needs == "" && out.Balanced == "" {
		l := Result{Limit: limit.Limit{Outcomes: limit.Maybe,
			Facts: p.FactList(limit.Open(limit.At("items/ID/sound/takes", to.ID),
				limit.OneOf(limit.Would("digital", limit.Slack), limit.Would("preamplifier", limit.Slack),
					limit.Would("microphone", limit.Untested), limit.Would("line", limit.Untested))))}}
		l.Say = func(w *Words) {
			w.What, w.Says = w.T("Level of %s into %s", name, to.Label),
				w.T("Nobody has said what %s gives and what %s takes.", from.Label, to.Label)
		}
		add(SoundLevel, place, l)
		judgeOneLeg(p, i, place, name, from, to, add)
		if from.Gear.Kind == gear.Microphone {
			judgeMicPower(p, place, name, "", "", from, to, add)
		}
		return
	}
	gives, takes := out.Gives, in.Takes
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	says := func(w *Words) string { return w.T("%s gives what %s takes.", from.Label, to.Label) }
	line := gives == "consumer-line" || gives == "professional-line"
	switch {
	case line && takes == "microphone" && p.Sound.Paths[i].Pad == "yes":
		says = func(w *Words) string {
			return w.T("%s gives a line, and a pad brings it down to what %s takes.", from.Label, to.Label)
		}
	case line && takes == "microphone":
		l.Outcomes = limit.No
		says = func(w *Words) string {
			return w.T("%s gives a line and %s has a microphone socket: 26 to 47 dB too much for a professional one, and it clips. Set the input to line, or put a pad in between.",
				from.Label, to.Label)
		}
	case gives == "microphone" && takes == "line":
		l.Outcomes = limit.No
		says = func(w *Words) string {
			return w.T("%s gives microphone level and %s takes a line: too quiet by some 40 dB, and noise comes up with it. A preamplifier belongs in between.",
				from.Label, to.Label)
		}
	case gives == "" || gives == "unknown":
		if takes == "digital" {
			break
		}
		bad := func(word string) limit.State {
			if takes == "microphone" && word != "microphone" && word != "digital" ||
				takes == "line" && word == "microphone" {
				return limit.Snapped
			}
			return limit.Slack
		}
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/gives", from.ID),
			limit.OneOf(limit.Would("microphone", bad("microphone")),
				limit.Would("consumer-line", bad("consumer-line")), limit.Would("professional-line",
					bad("professional-line")), limit.Would("digital", limit.Slack))))
		says = func(w *Words) string { return w.T("Nobody has said what level %s gives.", from.Label) }
	case takes == "" || takes == "unknown":
		if gives == "digital" {
			break
		}
		bad := func(word string) limit.State {
			if line && word == "microphone" || gives == "microphone" && word == "line" {
				return limit.Snapped
			}
			return limit.Slack
		}
		l.Outcomes = limit.Maybe
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/takes", to.ID),
			limit.OneOf(limit.Would("microphone", bad("microphone")), limit.Would("preamplifier", limit.Slack),
				limit.Would("line", bad("line")), limit.Would("digital", limit.Slack))))
		says = func(w *Words) string { return w.T("Nobody has said what level %s takes.", to.Label) }
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("Level of %s into %s", name, to.Label), says(w) }
	add(SoundLevel, place, l)
	if gives != "digital" && takes != "digital" {
		judgeOneLeg(p, i, place, name, from, to, add)
	}
	if needs := out.Needs; (out.Microphone != "" || from.Gear.Kind == gear.Microphone) && gives != "digital" &&
		needs != "none" && needs != "battery" {
		judgeMicPower(p, place, name, needs, in.Feeds, from, to, add)
	}
}

// judgeOneLeg judges a balanced output into a 3.5 mm socket, which wants one leg only. Bad is only all three together:
// what is not known of them keeps it open.
func judgeOneLeg(p *Pass, i int, place, name string, from, to *rig.Item, add func(*Rule, string, Result)) {
	balanced, socket, leg := plans.SoundOf(from).Balanced, plans.SoundOf(to).Socket, p.Sound.Paths[i].OneLeg
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	known := func(s string) bool { return s != "" && s != "unknown" }
	if balanced != "no" && (!known(socket) || socket == "jack-3.5") && leg != "yes" {
		l.Outcomes = limit.No
		// what the bad answer means where the others are known to be bad too
		alone := func(others ...bool) limit.State {
			if slices.Contains(others, false) {
				return limit.Untested
			}
			return limit.Snapped
		}
		if leg != "no" {
			l.Facts = append(l.Facts, limit.Open(limit.Part("sound/paths/N/oneLeg", "", strconv.Itoa(i)),
				limit.OneOf(limit.Would("yes", limit.Slack),
					limit.Would("no", alone(balanced == "yes", socket == "jack-3.5")))))
		}
		if !known(balanced) {
			l.Facts = append(l.Facts, limit.Open(limit.At("items/ID/sound/balanced", from.ID),
				limit.OneOf(limit.Would("no", limit.Slack),
					limit.Would("yes", alone(leg == "no", socket == "jack-3.5")))))
		}
		if !known(socket) {
			l.Facts = append(l.Facts, limit.Open(limit.At("items/ID/sound/socket", to.ID),
				limit.OneOf(limit.Would("xlr", limit.Slack), limit.Would("jack-6.3", limit.Slack),
					limit.Would("jack-3.5", alone(balanced == "yes", leg == "no")))))
		}
		if len(l.Facts) > 0 {
			l.Outcomes = limit.Maybe
		}
	}
	l.Say = func(w *Words) {
		w.What = w.T("Lead of %s into %s", name, to.Label)
		switch w.Result.State {
		case limit.Slack:
			w.Says = w.T("%s goes into %s as it should.", from.Label, to.Label)
		case limit.Untested:
			w.Says = w.T("If %s is balanced and %s has a 3.5 mm socket, the lead has to carry one leg only: both legs cancel, which is silence with a healthy meter.",
				from.Label, to.Label)
		default:
			w.Says = w.T("%s is balanced and %s has a 3.5 mm socket: with a lead of one leg only it is right; both legs cancel, which is silence with a healthy meter.",
				from.Label, to.Label)
		}
	}
	add(OneLeg, place, l)
}

func judgeMicPower(p *Pass, place, name, needs, feeds string, from, to *rig.Item, add func(*Rule, string, Result)) {
	l := Result{Limit: limit.Limit{Outcomes: limit.Maybe}}
	fits := func(needs, feeds string) limit.State {
		if needs == "none" || needs == "battery" || needs == feeds {
			return limit.Slack
		}
		return limit.Snapped
	}
	switch {
	case needs == "" || needs == "unknown":
		if feeds == "" || feeds == "unknown" {
			feeds = "none"
		}
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/needs", from.ID),
			limit.OneOf(limit.Would("none", limit.Slack), limit.Would("phantom", fits("phantom", feeds)),
				limit.Would("plug-in", fits("plug-in", feeds)), limit.Would("battery", limit.Slack))))
	case feeds == "" || feeds == "unknown":
		l.Facts = p.FactList(limit.Open(limit.At("items/ID/sound/feeds", to.ID),
			limit.OneOf(limit.Would("none", limit.Snapped), limit.Would("phantom", fits(needs, "phantom")),
				limit.Would("plug-in", fits(needs, "plug-in")))))
	case fits(needs, feeds) == limit.Slack:
		l.Outcomes = limit.Yes
	default:
		l.Outcomes = limit.No
	}
	l.Say = func(w *Words) {
		w.What = w.T("What feeds the microphone of %s", name)
		switch {
		case w.Result.State == limit.Untested:
			w.Says = w.T("Nobody has looked whether %s is fed with what it needs by %s.", from.Label, to.Label)
		case w.Result.State == limit.Slack:
			w.Says = w.T("%s is fed with what it needs by %s.", from.Label, to.Label)
		default:
			w.Says = w.T("%s needs %s, which %s does not give: nothing comes out of it.", from.Label, powerName(needs),
				to.Label)
		}
	}
	add(MicPower, place, l)
}

func powerName(needs string) string {
	if needs == "phantom" {
		return lang.Text("48 V phantom power")
	}
	return lang.Text("plug-in power")
}

// judgeRoom judges loudspeakers and headphones.
func judgeRoom(p *Pass, open bool, add func(*Rule, string, Result)) {
	if open {
		l := Result{Limit: limit.Limit{Outcomes: limit.Maybe}}
		switch p.Sound.Loudspeakers {
		case "no":
			l.Outcomes = limit.Yes
		case "yes":
			l.Outcomes = limit.No
		default:
			l.Facts = p.FactList(openWord("sound/loudspeakers", limit.Would("no", limit.Slack),
				limit.Would("yes", limit.Snapped)))
		}
		l.Say = func(w *Words) {
			w.What = lang.Text("Loudspeakers and open microphones")
			switch w.Result.State {
			case limit.Slack:
				w.Says = lang.Text("No loudspeaker is on in the room.")
			case limit.Untested:
				w.Says = lang.Text("Nobody has said whether loudspeakers are on in the room.")
			default:
				w.Says = lang.Text("A loudspeaker plays into an open microphone: everything is heard a second time. Headphones instead.")
			}
		}
		add(Loudspeaker, "", l)
	}
	if p.Sound.Monitor == "program" {
		l := Result{Limit: limit.Limit{Outcomes: limit.No}}
		l.Say = func(w *Words) {
			w.What, w.Says = lang.Text("What the speaker hears himself by"),
				lang.Text("The speaker hears the program's sound, 20 to 100 ms late: people slow down and stumble. Take the headphones at the input itself.")
			w.Caution = lang.Text("Hearing: set the level low before putting headphones on.")
		}
		add(Monitor, "", l)
	}
}

func openWord(field string, options ...limit.Option) limit.Fact {
	return limit.Open(limit.Key{Field: field}, limit.OneOf(options...))
}

// lateness says how sound stands against its picture.
func lateness(s sound.Span) string {
	low, high := math.Round(s.Low), math.Round(s.High)
	switch {
	case low == 0 && high == 0:
		return lang.Text("with its picture")
	case low >= 0:
		return lang.Text("%s after its picture", say.Span(low, high, "ms"))
	case high <= 0:
		return lang.Text("%s before its picture", say.Span(-high, -low, "ms"))
	}
	return lang.Text("between %s ms before and %s ms after its picture", say.Number(-low), say.Number(high))
}

// judgeLipSync judges sound against the slowest picture, as both are planned to be delayed.
func judgeLipSync(p *Pass, i int, way *plans.SoundWay, where []string) {
	path := &p.Sound.Paths[i]
	l := p.Roomy(2, 1)
	offset := limit.Fact{Key: limit.Part("sound/paths/N/offsetMs", "", strconv.Itoa(i)), Unit: "ms",
		Low: way.Offset.Low, Value: way.Offset.Value, High: way.Offset.High, From: fact.Estimate}
	if way.Measured { // with what it corrected
		offset.From = fact.Measured
	}
	l.Loads = append(l.Loads, limit.Load{Item: path.From, Term: limit.Times(1, l.Let(offset))})
	l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Fact{Low: sound.Tight.Late, Value: sound.Noticed.Late,
		High: sound.Accepted.Late, From: fact.Standard, Unit: "ms"})))
	l.SureLow, l.PossibleLow = -sound.Tight.Early, -sound.Accepted.Early
	name, set, measured, corrected, comes := way.Name, way.Set, way.Measured, way.Corrected, lateness(way.Offset)
	l.Say = func(w *Words) {
		w.What, w.Loads[0], w.Sum = w.T("Sound after picture, %s", name),
			labelled(name, lang.Text("its way + its delay − the slowest picture's")),
			lang.Text("40 ms early to 60 ms late surely, 90 early to 185 late possibly")
		switch {
		case measured && corrected != nil:
			w.Says = w.T("%s comes %s, measured with %s ms set: set %s ms.", name, comes, say.Number(set.Ms),
				say.Number(corrected.Ms))
		case measured:
			w.Says = w.T("%s, delayed by %s ms as the clap test has it, comes %s.", name, say.Number(set.Ms), comes)
		case set.Ms > 0:
			w.Says = w.T("%s, delayed by %s ms, comes %s; a clap test says it exactly.", name, say.Number(set.Ms),
				comes)
		default:
			w.Says = w.T("%s comes %s; a clap test says it exactly.", name, comes)
		}
	}
	l.Measured = measured // what most accept and some notice is near the limit then, not unknown
	l.Stage, l.Shared, l.Where = plans.Send, true, where
	p.Add(nil, LipSync, pathPlace(p, i), &l)
}
