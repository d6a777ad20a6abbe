package rigtest

import (
	"fmt"
	"math"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// sound describes how voices get to air, on a quarter of the rigs: microphones of every kind, through interfaces,
// mixers and wireless, or with the picture; things said and left out.
func (b *builder) sound() {
	if !b.Of(4) {
		return
	}
	s := &rig.Sound{Paths: []rig.SoundPath{}, Loudspeakers: pick(b.Dice, "", "yes", "no", "unknown"),
		Monitor: pick(b.Dice, "", "none", "direct", "program")}
	thing := func(kind gear.Kind, snd gear.SoundSheet) string {
		id := b.id(string(kind))
		b.r.Items = append(b.r.Items, rig.Item{ID: id, Label: id, Gear: gear.Gear{Kind: kind, Name: string(kind),
			Sound: &snd}})
		return id
	}
	sources := []string{}
	for i := range b.r.Items {
		if it := &b.r.Items[i]; it.IsSource() {
			sources = append(sources, it.ID)
		}
	}
	for v := range 1 + b.N(3) {
		for range 1 + b.N(2) {
			p := rig.SoundPath{Voice: fmt.Sprintf("voice %d", v+1), On: pick(b.Dice, "", "", "air", "muted", "track"),
				Loud: pick(b.Dice, "", "calm", "raised", "loud"), OneLeg: pick(b.Dice, "", "yes", "no", "unknown")}
			bounds := fact.Est(0.4, 0.02, 6)
			if len(sources) > 0 && b.Of(3) {
				p.From = pick(b.Dice, sources...)
				bounds = fact.Est(2, 0.3, 8)
				if k := b.r.Item(p.From).Gear.Kind; k == gear.Computer || k == gear.Player || k == gear.Console {
					bounds = fact.Fact{}
				}
			} else {
				mic := gear.SoundSheet{Microphone: pick(b.Dice, "", "dynamic", "condenser", "lavalier", "headset",
					"unknown"), Needs: pick(b.Dice, "", "none", "phantom", "plug-in", "battery", "unknown"),
					Gives: pick(b.Dice, "", "microphone", "consumer-line", "professional-line", "digital",
						"unknown"),
					Balanced: pick(b.Dice, "", "yes", "no"), KHz: pick(b.Dice, nil, new(0.0), new(48.0), new(44.1))}
				p.From = thing(gear.Microphone, mic)
				switch mic.Microphone {
				case "headset":
					bounds = fact.Est(0.04, 0.02, 0.1)
				case "lavalier":
					bounds = fact.Est(0.2, 0.1, 0.3)
				}
			}
			if bounds.High > 0 && b.Of(2) {
				f := b.within(bounds)
				p.DistanceM = &f
			}
			for range b.N(3) {
				kind := pick(b.Dice, gear.AudioInterface, gear.Mixer, gear.WirelessSound)
				p.Via = append(p.Via,
					thing(kind, gear.SoundSheet{Takes: pick(b.Dice, "", "microphone", "preamplifier", "line",
						"digital", "unknown"), Socket: pick(b.Dice, "", "jack-3.5", "xlr"),
						Feeds:    pick(b.Dice, "", "none", "phantom", "plug-in", "unknown"),
						Gives:    pick(b.Dice, "", "consumer-line", "professional-line", "digital"),
						Balanced: pick(b.Dice, "", "yes", "no"), Processes: pick(b.Dice, "", "", gear.No, gear.No,
							gear.Yes), AutoLevel: pick(b.Dice, "", gear.No, gear.No, gear.Yes),
						KHz: pick(b.Dice, nil, new(48.0), new(44.1))}))
			}
			if b.Of(4) {
				d := float64(10 * b.N(20))
				p.DelayMs = &d
			}
			if b.Of(4) {
				g := float64(b.N(60))
				p.GainDB = &g
			}
			p.Middle, p.Hum = pick(b.Dice, "", "", "yes", "no"), pick(b.Dice, "", "", "no", "yes")
			p.Pad = pick(b.Dice, "", "", "", "yes")
			if b.Of(3) {
				f := b.within(fact.Est(1.5, 0.1, 20))
				p.NextM = &f
			}
			if from := b.r.Item(p.From); b.Of(4) && !electronics(from) { // else electronics alone say it
				f := b.within(fact.Est(45, 0, 90))
				p.NoiseDB = &f
			}
			if f := b.within(fact.Est(9, 0, 40)); b.Of(5) && (p.GainDB == nil || !electronics(b.r.Item(p.From))) {
				// else the gain says what is left
				p.HeadroomDB = &f
			}
			if b.Of(5) {
				v := round(450*b.Float() - 200)
				p.OffsetMs = &fact.Fact{Low: v - float64(b.N(40)), Value: v, High: v + float64(b.N(40)),
					From: fact.Measured}
				if p.DelayMs == nil { // claps were made with some delay
					p.DelayMs = new(math.Abs(10 * math.Round(v/30)))
				}
			}
			s.Paths = append(s.Paths, p)
		}
	}
	b.r.Sound = s
}

// electronics tells whether levels follow from what is on the sheet of a microphone.
func electronics(it *rig.Item) bool {
	return it.Gear.Sound != nil && it.Gear.Sound.Gives == "microphone"
}
