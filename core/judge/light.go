package judge

import (
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/rig"
)

// Light is how a camera stands against lamps on the mains. Handbook 1.4.
type Light struct {
	MainsHz int     `json:"mainsHz"`
	Rate    string  `json:"rate" doc:"Frames a second, as people say it"`
	BeatHz  float64 `json:"beatHz" doc:"How often a second the brightness beats with a wrong exposure; 0 stands as bands"`
	Shutter string  `json:"shutter,omitempty" doc:"The exposure to set; none when every one flickers"`
	Words   string  `json:"words"`
}

// light judges a camera's shutter against the mains, where somebody has said how it is set, and says what to set.
func (p *pass) light(hop *Hop, w *walk, it *rig.Item, out int) {
	if out < 0 {
		return
	}
	switch it.Gear.Kind {
	case gear.Camera, gear.Phone, gear.Webcam:
	default:
		return
	}
	rate := p.Show.Programme.Rate
	if port := &it.Gear.Ports[out]; port.Direction == gear.Out {
		m, _ := p.outputMode(it, port)
		rate = m.Rate
		if !m.Inner.IsZero() {
			rate = m.Inner
		}
	}
	mains := int64(p.Show.MainsHz)
	if !p.quiet && mains > 0 {
		w.feed.Light = p.lightWords(rate, mains)
	}
	if it.Set == nil || it.Set.Shutter.IsZero() {
		return // proposed free of flicker
	}
	e := it.Set.Shutter
	l := Limit{ID: "flicker:" + it.ID, Rule: "flicker", Sense: Fits, outcomes: yes, Where: append(w.deps(), "show"), What: p.say("Shutter of %s in lamp light", it.Label),
		Source: Source{fact.Practice, "Handbook 1.4: whole periods of the lamps' flicker; dimmed LED lamps and LED walls flicker at rates of their own: look"}}
	if mains == 0 { // nobody has said where
		f50, f60 := it.Set.Shutter.FreeOfFlicker(50), it.Set.Shutter.FreeOfFlicker(60)
		switch {
		case f50 && f60:
			l.Says = p.say("The shutter of %s lasts whole periods in 50 and in 60 Hz light.", it.Label)
		case f50 || f60:
			l.outcomes, l.Says = soft, p.say("Nobody has said the mains frequency of the place, and the shutter of %s is free of banding at one of the two only.", it.Label)
		default:
			l.outcomes, l.Says = soft, p.say("The shutter of %s flickers in 50 and in 60 Hz light.", it.Label)
		}
		p.add(hop, &l)
		return
	}
	if !p.quiet {
		l.Says = p.say("%s s lasts whole periods of the light's %s Hz: no banding.", e.String(), strconv.FormatInt(2*mains, 10))
	}
	if !e.FreeOfFlicker(mains) {
		l.outcomes = soft
		if !p.quiet {
			l.Says = p.say("%s s does not last whole periods of the light's %s Hz: %s", e.String(), strconv.FormatInt(2*mains, 10), p.lightWords(rate, mains).Words)
		}
	}
	p.add(hop, &l)
}

func (p *pass) lightWords(rate picture.Rate, mains int64) *Light {
	l := &Light{MainsHz: int(mains), Rate: rate.Name(), BeatHz: picture.Beat(rate, mains)}
	what := p.say("with another one the brightness beats %s times a second.", num(round1(l.BeatHz*10)/10))
	switch {
	case l.BeatHz == 0:
		what = "with another one bands stand in the picture."
	case l.BeatHz < 0.5:
		what = "with another one bands crawl through the picture."
	}
	if e, ok := picture.Shutter(rate, mains); ok {
		l.Shutter = e.String()
		l.Words = p.say("set the shutter to %s s; %s", l.Shutter, what)
	} else {
		l.Words = p.say("no exposure within a frame at %s is free of flicker in %s Hz light.", rate.Name(), strconv.FormatInt(mains, 10))
	}
	return l
}
