package rules

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/say"
	"eventether/core/sound"
)

var ThreeToOne = rule(Rule{
	Name:    "three-to-one",
	Asks:    "Is every other open microphone three times as far from a mouth as its own?",
	Sum:     "distance to the nearest other open microphone ÷ distance to one's own ≥ 3",
	Sense:   limit.AtLeast,
	Unit:    "times",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSound,
	Source:  practice("3 : 1 is 9.5 dB down: a ripple of +2.5 and −3.5 dB; nearer there are notches at odd multiples of c ÷ 2Δd"),
	Example: "Two at a table, each 0.4 m from their microphone and 0.8 m from the other's: twice as far, hollow.",
	Judge:   Judging{OnRig: judgeTogether},
})

// leastApart is how many times as far the nearest other open microphone has to be [practice].
const leastApart = 3.0

// usualNext is how far the nearest other open microphone is while nobody has measured, m [estimate]: a shared table to
// a stage.
var usualNext = fact.Est(1.5, 0.1, 20)

// judgeTogether judges open microphones against one another: those on air that pick voices up.
func judgeTogether(p *Pass, own *Rule, _ *Walk) {
	plan := p.Sounds()
	if plan == nil {
		return
	}
	var open []int
	for i := range plan.Paths {
		if plan.Paths[i].On == "air" && !p.Played(i) {
			open = append(open, i)
		}
	}
	if len(open) < 2 {
		return
	}
	where := soundWhere(p)
	db := say.Number(math.Round(10*math.Log10(float64(len(open)))*10) / 10)
	for _, i := range open {
		path, name := &p.Sound.Paths[i], plan.Paths[i].Name
		near := p.Distance(i)
		l := p.Roomy(2, 1)
		l.Stage, l.Shared, l.Where = plans.Send, true, where
		at := strconv.Itoa(i)
		next := l.Let(limit.Stated(limit.Part("sound/paths/N/nextM", "", at), "m", path.NextM, usualNext))
		mine := l.Let(limit.Stated(limit.Part("sound/paths/N/distanceM", "", at), "m", path.DistanceM,
			fact.Fact{Value: near.Value, Low: max(near.Low, 0.005), High: max(near.High, 0.005), From: fact.Estimate}))
		l.Loads = append(l.Loads, limit.Load{Item: path.From, Term: limit.Times(1, next).Per(mine)})
		l.Caps = p.CapAt(limit.Times(leastApart))
		l.Say = func(w *Words) {
			w.What, w.Sum, w.Loads[0] = w.T("Other microphones open beside %s", name), lang.Text("three times as far"),
				labelled(name, lang.Text("distance to the nearest other ÷ distance to its own"))
			w.Says = w.T("The nearest other open microphone is %s as far from the mouth of %s as its own; 3 at least.",
				w.LoadText(), name)
			if w.Result.State == limit.Kinked {
				f := &w.Result.Facts[0]
				apart := f.Value - w.Result.Facts[1].Value
				if apart > 0.01 {
					first := sound.Speed(20) / (2 * apart)
					w.Says += " " + w.T("It sounds hollow, with notches at %s Hz and three times that; nearer to one's own, or mute who does not speak.",
						say.Number(math.Round(first)))
				}
			}
			w.Says += " " + w.T("%s open at once leave %s dB less gain before feedback, and bring up the room by as much.",
				say.Sentence(say.Count(len(open), "microphone", "microphones")), db)
		}
		p.Add(nil, own, pathPlace(p, i), &l)
	}
}

var Drift = rule(Rule{
	Name:    "drift",
	Asks:    "Do recordings of different clocks stay together?",
	Sum:     "parts per million × minutes × 0.06, within −40 to +60 ms surely, −90 to +185 possibly",
	Sense:   limit.Within,
	Unit:    "ms",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSound,
	Source:  standard("EBU R 37; ITU-R BT.1359-1, as for lip sync"),
	Example: "50 parts per million over two hours are 360 ms: set right afterwards, or in the break.",
	Judge:   Judging{OnRig: judgeDrift},
})

// unknownPPM is how far two clocks are apart while nobody has measured, either way [estimate].
const unknownPPM = 100.0

// judgeDrift judges what a camera or recorder keeps by its own clock against what the computer keeps, sends and hears
// by its own.
func judgeDrift(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Recordings {
		rec := &p.Show.Recordings[i]
		if p.ByComputer(rec) {
			continue
		}
		at, name := strconv.Itoa(i), p.RecordingName(i)
		l := p.Roomy(2, 1)
		l.Stage, l.Shared, l.Where = plans.Send, true, []string{"show"}
		if rec.Resynced == "yes" {
			l.Sense, l.Outcomes = limit.Fits, limit.Yes
		} else {
			// Which way is not known: a figure of parts per million stands for both ways, so that the tighter edge
			// counts.
			ppm := limit.Stated(limit.Part("show/recordings/N/driftPpm", "", at), "ppm", rec.DriftPPM,
				fact.Est(30, 0, unknownPPM))
			l.Measured = rec.DriftPPM != nil
			l.Loads = append(l.Loads, limit.Load{Item: "show", Term: limit.Times(p.Show.Minutes*0.06, l.Let(ppm))})
			l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Fact{Low: sound.Tight.Early, Value: sound.Noticed.Early,
				High: sound.Accepted.Late, From: fact.Standard, Unit: "ms"})))
			l.SureLow, l.PossibleLow = -sound.Tight.Early, -sound.Accepted.Late
		}
		l.Say = func(w *Words) {
			w.What = w.T("Clock of the %s", name)
			if rec.Resynced == "yes" {
				w.Says = w.T("The %s is set right against the others, or runs by a common clock.", name)
				return
			}
			w.Sum, w.Loads[0] = lang.Text("40 ms apart surely, 185 possibly"),
				labelled(name, lang.Text("parts per million × minutes × 0.06"))
			w.Says = w.T("By its own clock the %s is %s apart at the end of the show: set it right afterwards against a common sound, begin anew in the break, or use a common clock.",
				name, w.LoadText())
		}
		p.Add(nil, own, at, &l)
	}
}

var Inputs = rule(Rule{
	Name:    "inputs",
	Asks:    "Has everything whose sound goes into a thing an input of its own there?",
	Sum:     "microphones and receivers that go into it ≤ its inputs",
	Sense:   limit.AtMost,
	Unit:    "inputs",
	Ceiling: 1,
	Over:    limit.Dark,
	Subject: TheSound,
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "Three hand-held microphones into an interface with two inputs: one voice has nowhere to go.",
})

var OneInput = rule(Rule{
	Name:    "one-input",
	Asks:    "Does nothing else go into the same input?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSound,
	Board:   Short{Bad: "two in one input"},
	Source:  practice("One microphone an input; two on one lead short each other out"),
	Example: "The lapel and the stand microphone are both said to go into input 1: one of them has nowhere to go.",
})

// judgeOneInput judges inputs somebody has said: each is for one thing.
func judgeOneInput(p *Pass, plan *plans.SoundPlan, add func(*Rule, string, Result)) {
	for k := range plan.Paths {
		plug := plan.Paths[k].Plug
		if plug == nil || !plug.Said {
			continue
		}
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		other := ""
		for i := range plan.Paths {
			o := plan.Paths[i].Plug
			if o != nil && o.Said && o.Item == plug.Item && o.Number == plug.Number && o.From != plug.From &&
				(other == "" || o.From < other) {
				other, l.Outcomes = o.From, limit.No
			}
		}
		name := plan.Paths[k].Name
		l.Say = func(w *Words) {
			at := w.T("input %s of %s", strconv.Itoa(plug.Number), w.Item(plug.Item).Label)
			w.What = w.T("Input of %s", name)
			if other == "" {
				w.Says = w.T("%s has %s to itself.", name, at)
				return
			}
			w.Says = w.T("%s and %s both go into %s.", w.Item(plug.From).Label, w.Item(other).Label, at)
		}
		add(OneInput, pathPlace(p, k), l)
	}
}

// judgeInputs judges what takes sound by what goes straight into it: microphones, the receivers of radio sets, a desk
// before it.
func judgeInputs(p *Pass, add func(*Rule, string, Result)) {
	for i := range p.Items {
		it := &p.Items[i]
		usual, takes := plans.InputsOf[it.Gear.Kind]
		if !takes {
			continue
		}
		var into []string
		for k := range p.Sound.Paths {
			before := p.Sound.Paths[k].From
			for _, id := range p.Sound.Paths[k].Via {
				if id == it.ID && !slices.Contains(into, before) {
					into = append(into, before)
				}
				before = id
			}
		}
		if len(into) == 0 {
			continue
		}
		last, at := len(into), ""
		for k := range p.Sound.Paths {
			n := p.Sound.Paths[k].Input
			if id, from := p.GoesInto(k); id == it.ID && (n > last || n == last && from < at) {
				last, at = n, from
			}
		}
		l := p.Roomy(1, 1)
		for _, from := range into {
			l.Loads = append(l.Loads, limit.Load{Item: from, Term: limit.Times(1)})
		}
		if at != "" { // the inputs before the last that is used are there, used or not
			l.Loads = append(l.Loads, limit.Load{Item: at, Term: limit.Times(float64(last - len(into)))})
		}
		l.Caps = p.CapAt(limit.Times(1, l.Let(limit.Stated(limit.At("items/ID/sound/inputs", it.ID), "inputs",
			plans.SoundOf(it).Inputs, usual))))
		l.Say = func(w *Words) {
			w.What, w.Sum = w.T("Inputs of %s", it.Label), lang.Text("one microphone an input")
			for k, from := range into {
				w.Loads[k] = labelled(w.Item(from).Label, lang.Text("one input"))
			}
			w.Says = w.T("%s into %s, which has %s.", say.Sentence(say.Count(len(into), "source of sound goes",
				"sources of sound go")), it.Label, w.LimitText())
			if at != "" {
				w.Loads[len(into)] = labelled(w.Item(at).Label, w.T("it goes into input %s, which is the last in use",
					strconv.Itoa(last)))
				w.Says = w.T("%s goes into input %s of %s, which has %s.", w.Item(at).Label, strconv.Itoa(last),
					it.Label, w.LimitText())
			}
		}
		add(Inputs, it.ID, l)
	}
}
