package sheet

import (
	"math"
	"strconv"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/plans"
	"eventether/core/say"
)

// sound is what is set for sound: of each way its device, where it goes, gain, power, delay; what every picture waits;
// what the far end of a call hears. No lines where nobody has described the sound.
func (m *maker) sound() Part {
	p := Part{ID: "sound", Kind: "sound", Name: lang.Text("Sound"), Lines: []Entered{}}
	plan := m.v.Sounds()
	if plan == nil {
		return p
	}
	add := func(l Entered) {
		if l.Also == nil {
			l.Also = []string{}
		}
		p.Lines = append(p.Lines, l)
	}
	how := func(said bool) How {
		if said {
			return Said
		}
		return Proposed
	}
	ms := func(v float64) string { return strconv.FormatFloat(math.Round(v), 'f', 0, 64) }
	for i := range plan.Paths {
		w := &plan.Paths[i]
		path, at := &m.v.Sound.Paths[i], strconv.Itoa(i)
		goes := map[string]string{"air": lang.Text("on air"), "track": lang.Text("on its own track only"),
			"muted": lang.Text("muted")}[w.On]
		add(Entered{ID: "goes-" + at, Name: w.Name, Value: lang.Text("%s: %s", w.ListedAs, goes),
			How: how(!w.Proposed), Matters: 1, Source: lang.Text("common practice"),
			Why:     lang.Text("Exactly one path to air for each voice; look for the device by that name first."),
			Changes: lang.Text("Which way is nearest, on the Sound page.")})
		if w.On == "muted" {
			continue
		}
		delay := Entered{ID: "delay-" + at, Name: lang.Text("Delay of %s", w.Name),
			Also: []string{lang.Text("sync offset")}, Value: ms(w.Set.Ms), Unit: "ms", How: how(w.SetSaid), Matters: 1,
			Source: "EBU R 37",
			Why: lang.Text("So much later is the slowest picture; in frames of the programme: %s.",
				say.Number(w.Set.Frames)), Changes: lang.Text("A clap test: delay set less the offset measured.")}
		if w.Corrected != nil && w.Corrected.Ms != w.Set.Ms {
			delay.Changes = lang.Text("The clap test says %s ms.", ms(w.Corrected.Ms))
		}
		if len(w.SharedWith) > 0 {
			delay.Why += " " + lang.Text("One delay for all that come in by this device: %s too.",
				say.List(w.SharedWith))
		}
		add(delay)
		if w.Levels != nil {
			add(Entered{ID: "gain-" + at, Name: lang.Text("Gain of %s", w.Name),
				Also: []string{lang.Text("input level")}, Value: ms(w.Levels.Set.Value), Unit: "dB",
				How: how(path.GainDB != nil), Matters: 2, Source: lang.Text("levels from mouth to programme"),
				Why:     lang.Text("The mean then stands at −24 dBFS, and peaks at −12 to −9."),
				Changes: lang.Text("The meter: it is to begin with.")})
		}
		m.phantom(add, w, at)
		add(Entered{ID: "side-" + at, Name: lang.Text("Side of %s", w.Name),
			Also: []string{"pan", lang.Text("balance"), "mono"}, Value: lang.Text("middle"),
			How: how(path.Middle == "yes"), Matters: 2, Source: lang.Text("common practice"),
			Why: lang.Text("An input of an interface lands on one side until it is set to the middle; listen in mono.")})
	}
	for _, pic := range plan.Pictures {
		if pic.Set.Ms >= 1 {
			add(Entered{ID: "picture-" + pic.ID, Name: lang.Text("Delay of the picture of %s", pic.Label),
				Also: []string{lang.Text("render delay")}, Value: ms(pic.Set.Ms), Unit: "ms", How: Proposed,
				Matters: 1, Source: "EBU R 37",
				Why: m.pictureWhy(plan), Changes: lang.Text("A clap test before that camera.")})
		}
	}
	for i := range m.v.Show.Calls {
		name := m.v.Show.Calls[i].Name
		if name == "" {
			name = lang.Text("the call")
		}
		add(Entered{ID: "far-end-" + strconv.Itoa(i), Name: lang.Text("What %s hears", name),
			Also: []string{"mix-minus", lang.Text("return")}, Value: lang.Text("everything but itself"), How: Usual,
			Matters: 1, Source: lang.Text("common practice"),
			Why: lang.Text("The far end that hears itself back a moment later cannot speak.")})
	}
	return p
}

func (m *maker) pictureWhy(plan *plans.SoundPlan) string {
	if plan.Later.Ms > 0 {
		return lang.Text("A sound comes later than every picture: all of them wait, this one included.")
	}
	return lang.Text("It comes earlier than the slowest picture: with it cuts agree while somebody speaks.")
}

// phantom says of each input a microphone goes into whether it feeds it.
func (m *maker) phantom(add func(Entered), w *plans.SoundWay, at string) {
	for k := 1; k < len(w.Items); k++ {
		from, to := m.v.Item(w.Items[k-1]), m.v.Item(w.Items[k])
		if from == nil || to == nil || from.Gear.Kind != gear.Microphone || from.Gear.Sound == nil ||
			from.Gear.Sound.Gives == "digital" {
			continue
		}
		l := Entered{ID: "phantom-" + at, Name: lang.Text("48 V at %s for %s", to.Label, w.Name),
			Also: []string{"phantom", "+48"}, Value: lang.Text("off"), How: Usual, Matters: 2,
			Source: lang.Text("common practice"),
			Why:    lang.Text("Off for what does not ask for it: it harms few microphones and some other things.")}
		switch from.Gear.Sound.Needs {
		case "phantom":
			l.Value, l.How, l.Matters, l.Why = lang.Text("on"), Follows, 1,
				lang.Text("%s is a microphone that needs it; switched while the input is muted.", from.Label)
		case "", "unknown":
			l.Value, l.Why = lang.Text("off until somebody has looked"),
				lang.Text("Nobody has said whether %s needs it.", from.Label)
		}
		add(l)
	}
}
