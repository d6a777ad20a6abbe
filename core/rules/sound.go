package rules

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/sound"
)

var Voice = rule(Rule{Name: "voice", Asks: "Does every voice get to air by exactly one way?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSound,
	Board:   Short{"which way to air?", "no way to air, or two"},
	Source:  practice("Exactly one path for each voice"),
	Example: "A headset and the camera's microphone both open: the voice is heard twice, hollow. None open: silence.",
	Judge:   Judging{OnRig: judgeSound}})

var MicDistance = rule(Rule{Name: "mic-distance", Asks: "Is the microphone near enough to the mouth?", Sum: "distance ≤ 1 m, 0.6 m of it with room to spare", Sense: limit.AtMost, Unit: "m", Ceiling: nearEnough / farthest, Over: limit.Flaw, Subject: TheSound,
	Source:  practice("The closest microphone wins: 6 dB for each doubling of distance"),
	Example: "3 m is 20 dB less than 0.3 m, and the room is as loud as before."})

var SoundLevel = rule(Rule{Name: "sound-level", Asks: "Does an input get the level it takes?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"mic or line?", "line into microphone, or the other way"},
	Source:  practice("A professional line is 26 to 47 dB too much for a microphone socket"),
	Example: "A mixer's +4 dBu into a camera's microphone socket, which overloads at −25 to −10 dBV: clipped."})

var OneLeg = rule(Rule{Name: "one-leg", Asks: "Does a balanced output get into a 3.5 mm socket by one leg only?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSound,
	Board:   Short{"one leg, or both?", "both legs cancel: silence"},
	Source:  practice("A stereo socket given both legs cancels when summed to mono"),
	Example: "A healthy meter, left and right turned against each other, and silence for whoever hears it in mono."})

var MicPower = rule(Rule{Name: "mic-power", Asks: "Is a microphone fed with what it needs?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSound,
	Board:   Short{"is the microphone fed?", "microphone without its power"},
	Source:  practice("Condensers need 48 V or plug-in power"),
	Example: "A condenser that needs 48 V at a camera's socket that gives plug-in power: nothing comes out."})

var SampleRate = rule(Rule{Name: "sample-rate", Asks: "Does sound run at 48 kHz?", Sense: limit.Fits, Over: limit.Care, Subject: TheSound,
	Source:  practice("48 kHz everywhere"),
	Example: "A 44.1 kHz interface in a 48 kHz programme is resampled: harmless, unless a program does not."})

var Loudspeaker = rule(Rule{Name: "loudspeaker", Asks: "Does a loudspeaker play into an open microphone?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"loudspeakers on?", "loudspeaker into an open microphone"},
	Source:  practice("Monitor on headphones, not on loudspeakers"),
	Example: "A call on speaker beside an open microphone: the far end hears itself."})

var Monitor = rule(Rule{Name: "monitor", Asks: "Does a speaker hear himself without delay?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"", "he hears himself late"},
	Source:  practice("Monitoring through a delayed path disturbs the speaker"),
	Example: "Headphones at the program, 50 ms late: people slow down and stumble."})

var SoundTreated = rule(Rule{Name: "sound-treated", Asks: "Is a voice of one's own kept out of what treats speech?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"", "a call treats the voice"},
	Source:  practice("Call programs cancel echoes and gate: never in the path to air of one's own microphone"),
	Example: "The headset goes by the call program to air: words lose their beginnings."})

var Headroom = rule(Rule{Name: "headroom", Asks: "Does a microphone's input have room over the loudest peaks?", Sum: "full scale − loudest peak ≥ 6 dB", Sense: limit.AtLeast, Unit: "dB", Ceiling: 1, Over: limit.Flaw, Subject: TheSound,
	Source:  practice("At least 6 dB to clipping at the loudest expected peak"),
	Example: "60 dB of gain where 47 are planned: the peaks would stand at +3 dBFS, and clip."})

var LipSync = rule(Rule{Name: "lip-sync", Asks: "Do sound and picture come together?", Sum: "sound's way + its delay − picture's way, within −40 to +60 ms surely, −90 to +185 possibly", Sense: limit.Within, Unit: "ms", Ceiling: 1, Over: limit.Flaw, Many: "nobody has clapped before them", Subject: TheSound,
	Source:  standard("EBU R 37; ITU-R BT.1359-1"),
	Example: "A USB microphone 60 ms after the mouth and a camera 200 ms: the sound is 140 ms early until it is delayed by as much."})

// leastHeadroom is what is kept to clipping at the loudest expected peak, dB [practice].
const leastHeadroom = 6.0

// Room where the reading of a microphone is near enough, m: the near field indoors, and a distance people get away with [practice].
const (
	nearEnough = sound.Near
	farthest   = 1.0
)

// SoundPlan is how sound and pictures come together.
type SoundPlan struct {
	Paths    []SoundWay   `json:"paths"`
	Pictures []PictureWay `json:"pictures"`
	Slowest  sound.Span   `json:"slowest" doc:"Delay of the slowest picture, ms"`
	Target   Loudness     `json:"target" doc:"Where the programme is brought to"`
	Later    sound.Delay  `json:"later" doc:"What every picture is delayed by, where a sound is later than all of them"`
}

// Loudness is what a programme is brought to.
type Loudness struct {
	LUFS   float64 `json:"lufs" doc:"Integrated loudness"`
	Within float64 `json:"within" doc:"Either way, LU"`
	Peak   float64 `json:"peak" doc:"True peak at most, dBTP"`
	Said   bool    `json:"said"`
	Source string  `json:"source"`
}

// loudness is what the programme is brought to: as said, else what online talk is [practice: −16 to −14]; −23 is broadcast's, ±1 LU live
// [standard: EBU R 128].
func (p *Plan) loudness() Loudness {
	l := Loudness{LUFS: -15, Within: 1, Peak: -1, Source: lang.Text("common practice of online talk: −16 to −14 LUFS")}
	if t := p.Sound.TargetLUFS; t != 0 {
		l.LUFS, l.Said = t, true
		if l.Source = lang.Text("as said"); t == -23 {
			l.Source = "EBU R 128"
		}
	}
	return l
}

// SoundWay is one way of a voice.
type SoundWay struct {
	Index    int         `json:"index"`
	Voice    string      `json:"voice"`
	Name     string      `json:"name"`
	On       string      `json:"on" enum:"air,muted,track"`
	Proposed bool        `json:"proposed" doc:"Where it goes is proposed, not said"`
	Items    []string    `json:"items" doc:"From the microphone to the program"`
	Plug     *Plug       `json:"plug,omitempty"`
	ListedAs string      `json:"listedAs" doc:"Look for it in the program under this name first"`
	With     string      `json:"with,omitempty" doc:"Id of the picture it comes in with"`
	Delay    sound.Span  `json:"delay" doc:"From the mouth to the program, ms"`
	Parts    []DelayPart `json:"parts"`
	Set      sound.Delay `json:"set" doc:"What to delay it by in the program"`
	SetSaid  bool        `json:"setSaid"`
	// Corrected is what a clap test makes of a delay somebody has set.
	Corrected  *sound.Delay  `json:"corrected,omitempty" doc:"What to set instead, by the clap test: the delay then less the offset measured"`
	SharedWith []string      `json:"sharedWith" doc:"Ways that come in by the same device: a program has one delay for all of them"`
	Offset     sound.Span    `json:"offset" doc:"Against the slowest picture with that delay, ms; late is above zero"`
	Measured   bool          `json:"measured" doc:"The offset was measured by a clap test"`
	Levels     *sound.Levels `json:"levels,omitempty"`
}

// PictureWay is the way of one picture, as far as time goes.
type PictureWay struct {
	ID    string      `json:"id" doc:"Item id of the source"`
	Label string      `json:"label"`
	Delay sound.Span  `json:"delay" doc:"ms"`
	Parts []DelayPart `json:"parts"`
	Set   sound.Delay `json:"set" doc:"What to delay it by, so that cuts while somebody claps or speaks agree"`
}

// DelayPart is one stretch of a delay.
type DelayPart struct {
	Of   string     `json:"of"`
	Why  string     `json:"why"`
	Ms   sound.Span `json:"ms"`
	Item string     `json:"item,omitempty" doc:"Of a picture's way: the thing whose delay it is, where it may be stated"`
}

// PathName is what a way of sound is called.
func (p *Plan) PathName(i int) string {
	path := &p.Sound.Paths[i]
	by := path.From
	if it := p.Item(path.From); it != nil {
		by = it.Label
	}
	name := lang.Text("%s by %s", path.Voice, by)
	for k := range p.Sound.Paths { // the same by another way has to be told from it
		if o := &p.Sound.Paths[k]; k == i || o.From != path.From || o.Voice != path.Voice {
			continue
		} else if len(path.Via) > 0 && !slices.Equal(o.Via, path.Via) {
			through := path.Via[0]
			if it := p.Item(through); it != nil {
				through = it.Label
			}
			return lang.Text("%s through %s", name, through)
		} else if k < i {
			return lang.Text("%s, once more", name)
		}
	}
	return name
}

// on tells where a way goes: as said, else the nearest of its voice on air and the others muted.
func (p *Plan) on(i int) (on string, proposed bool) {
	path := &p.Sound.Paths[i]
	if path.On != "" {
		return path.On, false
	}
	best := -1
	for k := range p.Sound.Paths {
		o := &p.Sound.Paths[k]
		if o.Voice != path.Voice {
			continue
		}
		if o.On == "air" {
			return "muted", true
		}
		if o.On == "" && (best < 0 || nearer(p, k, best)) {
			best = k
		}
	}
	if best == i {
		return "air", true
	}
	return "muted", true
}

// NearestOnAir is the way of a voice on air that is nearest to the mouth, as far as anybody knows; -1 for none.
func (p *Plan) NearestOnAir(voice string) int {
	best := -1
	for i := range p.Sound.Paths {
		if path := &p.Sound.Paths[i]; path.Voice == voice && path.On == "air" && (best < 0 || p.distance(i).Value < p.distance(best).Value) {
			best = i
		}
	}
	return best
}

// nearer tells whether way a is the better one for air: nearer to the mouth as such microphones stand as a rule, then by what
// it is called. How far this one was measured is judged, and does not turn the choice over.
func nearer(p *Plan, a, b int) bool {
	at := func(i int) float64 { return p.usualDistance(i).Value }
	if at(a) != at(b) {
		return at(a) < at(b)
	}
	return p.Sound.Paths[a].From < p.Sound.Paths[b].From
}

// soundOf is what a thing does with sound; nothing said is nothing.
func soundOf(it *rig.Item) gear.SoundSheet {
	if it == nil || it.Gear.Sound == nil {
		return gear.SoundSheet{}
	}
	return *it.Gear.Sound
}

func ms(s sound.Span, frames float64) sound.Span { return s.Times(1000 / frames) }

// Sounds plans how sound and pictures come together; nil where nobody has described the sound.
func (p *Plan) Sounds() *SoundPlan {
	if p.Sound == nil || len(p.Sound.Paths) == 0 {
		return nil
	}
	out := &SoundPlan{Paths: []SoundWay{}, Pictures: []PictureWay{}, Target: p.loudness()}
	fps := p.programmed.Rate.Float()
	if fps <= 0 {
		fps = 30
	}
	seen := map[string]bool{}
	for _, s := range p.Streams {
		source := p.pictured(s)
		if source == nil || seen[source.ID] {
			continue
		}
		seen[source.ID] = true
		out.Pictures = append(out.Pictures, p.pictureWay(s, source, fps))
	}
	slices.SortFunc(out.Pictures, func(a, b PictureWay) int { return slices.Compare([]string{a.Label, a.ID}, []string{b.Label, b.ID}) })
	for _, w := range out.Pictures { // which of them is the slowest is known only within their bounds
		out.Slowest = sound.Span{Low: max(out.Slowest.Low, w.Delay.Low), Value: max(out.Slowest.Value, w.Delay.Value), High: max(out.Slowest.High, w.Delay.High)}
	}
	for i := range p.Sound.Paths {
		out.Paths = append(out.Paths, p.soundWay(i, out, fps))
	}
	p.plugs(out.Paths)
	// A sound later than every picture: the pictures wait for it.
	var late sound.Span
	for i := range out.Paths {
		if w := &out.Paths[i]; w.On == "air" && w.With == "" {
			d := w.Delay.Plus(sound.Exactly(w.Set.Ms)) // what is set already counts; nothing said is nothing yet
			if f := p.Sound.Paths[i].OffsetMs; f != nil && !w.SetSaid {
				d = d.Plus(sound.Span{Low: f.Low, Value: f.Value, High: f.High}) // a clap test found it later than planned
			}
			d = d.Minus(out.Slowest)
			late = sound.Span{Low: max(late.Low, d.Low), Value: max(late.Value, d.Value), High: max(late.High, d.High)}
		}
	}
	out.Later = sound.DelayOf(late.Value, fps)
	for i := range out.Pictures {
		w := &out.Pictures[i]
		w.Set = sound.DelayOf(out.Slowest.Value-w.Delay.Value+out.Later.Ms, fps)
	}
	for i := range out.Paths {
		w := &out.Paths[i]
		path := &p.Sound.Paths[i]
		with := slices.IndexFunc(out.Pictures, func(x PictureWay) bool { return x.ID == w.With })
		switch {
		case w.SetSaid:
		case with >= 0: // as its picture: they stay together
			w.Set = out.Pictures[with].Set
		default:
			w.Set = sound.DelayOf(max(0, out.Slowest.Value+out.Later.Ms-w.Delay.Value), fps)
		}
		against := out.Slowest.Plus(sound.Exactly(out.Later.Ms))
		if w.SetSaid { // it stays as it is set, whatever the pictures come to wait
			against = out.Slowest.Plus(sound.Span{Low: math.Round(late.Low), Value: out.Later.Ms, High: math.Round(late.High)})
		}
		w.Offset = w.Delay.Plus(sound.Exactly(w.Set.Ms)).Minus(against)
		if w.With != "" { // it comes in with a picture, and waits as it does: only a delay somebody has set parts them
			w.Offset = sound.Air(p.distance(i)).Plus(ownSound)
			if w.SetSaid {
				w.Offset = w.Offset.Plus(sound.Exactly(w.Set.Ms))
			}
		}
		if f := path.OffsetMs; f != nil {
			w.clapped(sound.Span{Low: f.Low, Value: f.Value, High: f.High}, fps)
		}
	}
	p.oneDelayADevice(out, fps)
	return out
}

// clapped takes a clap test into account: it corrects what was set when it was made, new delay = delay then − offset. Where nobody
// has said a delay, that was the planned one (the screen keeps it with the claps, so that it does not move with the plan), and what is
// proposed now is the corrected; what then is left is the spread of the test, as far to one side as to the other: a narrower test
// leaves less on both.
func (w *SoundWay) clapped(offset sound.Span, fps float64) {
	w.Measured = true
	after := sound.DelayOf(max(0, w.Set.Ms-(offset.Low+offset.High)/2), fps)
	if w.SetSaid || w.With != "" {
		w.Offset, w.Corrected = offset, &after
		return
	}
	moved := after.Ms - w.Set.Ms
	w.Set, w.Offset = after, offset.Plus(sound.Exactly(moved))
}

// oneDelayADevice gives ways that come in by one device one delay, since a program has one for each device it lists: what somebody
// has set there, else the middle between what each would want.
func (p *Plan) oneDelayADevice(plan *SoundPlan, fps float64) {
	for i := range plan.Paths {
		w := &plan.Paths[i]
		if w.With != "" || w.On == "muted" || len(w.SharedWith) > 0 {
			continue
		}
		device := w.Items[len(w.Items)-1]
		var same []*SoundWay
		low, high, said := math.Inf(1), 0.0, -1.0
		for k := range plan.Paths {
			o := &plan.Paths[k]
			if o.With != "" || o.On == "muted" || o.Items[len(o.Items)-1] != device {
				continue
			}
			same = append(same, o)
			low, high = min(low, o.Set.Ms), max(high, o.Set.Ms)
			if o.SetSaid {
				said = max(said, o.Set.Ms)
			}
		}
		if len(same) < 2 {
			continue
		}
		one := sound.DelayOf((low+high)/2, fps)
		if said >= 0 {
			one = sound.DelayOf(said, fps)
		}
		for _, o := range same {
			for _, other := range same {
				if other != o {
					o.SharedWith = append(o.SharedWith, other.Name)
				}
			}
			if !o.SetSaid {
				o.Offset = o.Offset.Plus(sound.Exactly(one.Ms - o.Set.Ms))
				o.Set = one
			}
		}
	}
}

// ownSound is how far the sound a device sends with its picture stands from it, ms: about a frame [estimate].
var ownSound = sound.Span{Low: -20, Value: 0, High: 40}

// pictured is the source of a stream that gets to the program; nil for what carries no picture, or gets nowhere.
func (p *Plan) pictured(s *Stream) *rig.Item {
	if s.IsOther() || s.Host == nil || len(s.where) == 0 {
		return nil
	}
	return p.Item(s.where[0])
}

// unknownRate is at how many frames a second a device sends of which nobody knows the pictures [estimate].
var unknownRate = sound.Span{Low: 10, High: 120}

// framesASecond is the rate of a stream: of one nobody has chosen the picture of, whatever its device offers, and of a device nobody
// has described anything usual; likely the programme's, fps.
func (s *Stream) framesASecond(fps float64) sound.Span {
	rate := s.Rate.Float()
	if s.Rate.IsZero() || rate <= 0 {
		rate = fps
	}
	out := sound.Span{Low: rate, Value: rate, High: rate}
	reach := func(v float64) {
		if v > 0 {
			out.Low, out.High = min(out.Low, v), max(out.High, v)
		}
	}
	switch s.sends {
	case sendsUnknown:
		reach(unknownRate.Low)
		reach(unknownRate.High)
	case sendsUndecided:
		for i := range s.offers {
			reach(s.offers[i].rate.Float())
		}
	}
	return out
}

// pictureWay adds up the delay of a picture.
func (p *Plan) pictureWay(s *Stream, source *rig.Item, fps float64) PictureWay {
	w := PictureWay{ID: source.ID, Label: source.Label, Parts: []DelayPart{}}
	rate := s.framesASecond(fps)
	lasts := func(frames sound.Span) sound.Span {
		return sound.Span{Low: frames.Low * 1000 / rate.High, Value: frames.Value * 1000 / rate.Value, High: frames.High * 1000 / rate.Low}
	}
	add := func(it *rig.Item, why string, s sound.Span) {
		w.Parts = append(w.Parts, DelayPart{Of: it.Label, Why: why, Ms: s, Item: it.ID})
		w.Delay = w.Delay.Plus(s)
	}
	stated := func(it *rig.Item) bool {
		d := it.Gear.PictureDelayMs
		if d != nil {
			add(it, lang.Text("as stated"), sound.Span{Low: d.Low, Value: d.Value, High: d.High})
		}
		return d != nil
	}
	if source.Gear.Kind.Shoots() && !stated(source) {
		add(source, lang.Text("1 to 3 frames out of a camera"), lasts(sound.CameraFrames))
	}
	for k, id := range s.where[1:] {
		it := p.Item(id)
		if it == nil || slices.Contains(s.where[:k+1], id) || stated(it) {
			continue
		}
		switch it.Gear.Kind {
		case gear.Converter, gear.Switcher, gear.Splitter:
			add(it, lang.Text("0 to 2 frames through a converter or switcher"), lasts(sound.BoxFrames))
		case gear.Capture:
			add(it, lang.Text("1 to 3 frames of capture and USB"), lasts(sound.CaptureFrames))
		case gear.Card:
			add(it, lang.Text("1 to 2 frames of a card"), lasts(sound.CardFrames))
		}
	}
	last := DelayPart{Of: programName(p.Show.Program), Why: lang.Text("1 frame of the programme, and its buffer"), Ms: ms(sound.ProgramFrames, fps)}
	w.Parts, w.Delay = append(w.Parts, last), w.Delay.Plus(last.Ms)
	return w
}

// distance is how far a microphone is from the mouth, as far as anybody knows.
func (p *Plan) distance(i int) sound.Span {
	path := &p.Sound.Paths[i]
	if f := path.DistanceM; f != nil {
		return sound.Span{Low: f.Low, Value: f.Value, High: f.High}
	}
	f := p.usualDistance(i)
	return sound.Span{Low: f.Low, Value: f.Value, High: f.High}
}

// usualDistance is where such a microphone stands as a rule [estimate]; nothing comes through the air where sound is played.
func (p *Plan) usualDistance(i int) fact.Fact {
	it := p.Item(p.Sound.Paths[i].From)
	s := soundOf(it)
	switch {
	case it == nil:
		return fact.Est(0.5, 0.02, 6)
	case it.Gear.Kind == gear.Computer || it.Gear.Kind == gear.Player || it.Gear.Kind == gear.Console:
		return fact.Est(0, 0, 0)
	case s.Microphone == "headset":
		return fact.Est(0.04, 0.02, 0.1)
	case s.Microphone == "lavalier":
		return fact.Est(0.2, 0.1, 0.3)
	case it.Gear.Kind == gear.Camera, it.Gear.Kind == gear.Phone, it.Gear.Kind == gear.Webcam, s.Microphone == "built-in":
		return fact.Est(2, 0.3, 8)
	}
	return fact.Est(0.4, 0.02, 6)
}

// played tells whether a way begins with something that plays, not with a microphone.
func (p *Plan) played(i int) bool {
	it := p.Item(p.Sound.Paths[i].From)
	return it != nil && (it.Gear.Kind == gear.Computer || it.Gear.Kind == gear.Player || it.Gear.Kind == gear.Console || it.Gear.Kind == gear.Mixer)
}

// soundWay adds up the delay of a way of sound.
func (p *Plan) soundWay(i int, plan *SoundPlan, fps float64) SoundWay {
	path := &p.Sound.Paths[i]
	on, proposed := p.on(i)
	w := SoundWay{Index: i, Voice: path.Voice, Name: p.PathName(i), On: on, Proposed: proposed, Items: append([]string{path.From}, path.Via...), Parts: []DelayPart{}, SharedWith: []string{}}
	add := func(of, why string, s sound.Span) {
		w.Parts = append(w.Parts, DelayPart{Of: of, Why: why, Ms: s})
		w.Delay = w.Delay.Plus(s)
	}
	if !p.played(i) {
		add(lang.Text("the air"), lang.Text("%s at 343 m/s", Span(p.distance(i).Low, p.distance(i).High, "m")), sound.Air(p.distance(i)))
	}
	for _, id := range w.Items {
		it := p.Item(id)
		if it == nil {
			continue
		}
		if at := slices.IndexFunc(plan.Pictures, func(x PictureWay) bool { return x.ID == id }); at >= 0 || p.carries(id, plan) != "" {
			w.With = id
			if at < 0 {
				w.With = p.carries(id, plan)
				at = slices.IndexFunc(plan.Pictures, func(x PictureWay) bool { return x.ID == w.With })
			}
			add(it.Label, lang.Text("with its picture"), plan.Pictures[at].Delay)
			w.ListedAs = p.soundListed(it)
			w.levels(p, i)
			return p.said(w, fps)
		}
		s := soundOf(it)
		switch {
		case s.DelayMs != nil:
			add(it.Label, lang.Text("as stated"), sound.Span{Low: s.DelayMs.Low, Value: s.DelayMs.Value, High: s.DelayMs.High})
		case it.Gear.Kind == gear.WirelessSound:
			add(it.Label, lang.Text("2 to 20 ms of a wireless system"), sound.Wireless)
		case it.Gear.Kind == gear.AudioInterface, it.Gear.Kind == gear.Microphone && s.Gives == "digital":
			add(it.Label, lang.Text("a buffer of 128 to 1024 frames at 48 kHz"), sound.Interface)
		case it.Gear.Kind == gear.Microphone && (s.Gives == "" || s.Gives == "unknown"): // it may code by itself
			d := sound.Interface
			if d.Low = 0; w.Items[len(w.Items)-1] != id {
				d.Value = 0 // into something: it hardly does
			}
			add(it.Label, lang.Text("nothing, or a buffer of up to 1024 frames at 48 kHz if it is a digital one"), d)
		}
	}
	add(programName(p.Show.Program), lang.Text("a program's own sound buffers"), sound.ProgramSound)
	if last := p.Item(w.Items[len(w.Items)-1]); last != nil {
		w.ListedAs = p.soundListed(last)
	}
	w.levels(p, i)
	return p.said(w, fps)
}

func (p *Plan) said(w SoundWay, fps float64) SoundWay {
	if d := p.Sound.Paths[w.Index].DelayMs; d != nil {
		w.Set, w.SetSaid = sound.DelayOf(*d, fps), true
	}
	return w
}

// carries is the source whose picture goes through a box or capture device, the first by id; "" where none does.
func (p *Plan) carries(id string, plan *SoundPlan) string {
	best := ""
	it := p.Item(id)
	if it == nil || it.IsHost() || it.Gear.Kind == gear.Hub || it.Gear.Kind == gear.Dock {
		return ""
	}
	for _, s := range p.Streams {
		if source := p.pictured(s); source != nil && slices.Contains(s.where, id) && (best == "" || source.ID < best) {
			best = source.ID
		}
	}
	return best
}

// soundListed is the name a program lists its sound under, to look for first.
func (p *Plan) soundListed(it *rig.Item) string {
	switch {
	case it.Gear.Sound != nil && it.Gear.Sound.ListedAs != "":
		return it.Gear.Sound.ListedAs
	case it.Gear.ListedAs != "":
		return it.Gear.ListedAs
	}
	for _, s := range p.Streams { // a camera's sound comes under the name of what captures it
		if source := p.pictured(s); source != nil && source.ID == it.ID {
			return orElse(s.Owner.Gear.ListedAs, s.Owner.Gear.Name)
		}
	}
	return it.Gear.Name
}

// levels plans the levels of a way that begins with a microphone at an input somebody has described.
func (w *SoundWay) levels(p *Plan, i int) {
	path := &p.Sound.Paths[i]
	from := soundOf(p.Item(path.From))
	sens, ok := map[string]sound.Span{"dynamic": {Low: -57, Value: -55, High: -53}, "condenser": {Low: -42, Value: -37, High: -32}, "lavalier": {Low: -44, Value: -42, High: -40}, "headset": {Low: -46, Value: -42, High: -38}}[from.Microphone]
	if !ok || from.Gives == "digital" {
		return
	}
	takes := ""
	if len(path.Via) > 0 { // only what it is plugged into: what nobody said of that is not read off what comes after
		takes = soundOf(p.Item(path.Via[0])).Takes
	}
	full, noise := sound.Span{}, sound.Span{Low: -128, Value: -120, High: -100} // [memory: handbook 6.5]
	switch takes {
	case "preamplifier":
		full = sound.Span{Low: 0, Value: 10, High: 16} // [memory]
	case "microphone": // of a camera or switcher: overloads at −25 to −10 dBV [estimate]
		full = sound.Span{Low: -25, Value: -18, High: -10}.Plus(sound.Exactly(sound.DBuOfDBV))
	case "line": // EBU R 68 and SMPTE RP 155 [memory]
		full = sound.Span{Low: 18, Value: 18, High: 24}
	default:
		return
	}
	var gain *sound.Span
	if path.GainDB != nil {
		g := sound.Exactly(*path.GainDB)
		gain = &g
	}
	l := sound.LevelsOf(sound.Speech(sound.Loud(path.Loud)).Plus(sound.Gain(p.distance(i))), sens, full, noise, gain)
	w.Levels = &l
}

// soundWhere is what every limit of sound depends on.
func (p *Pass) soundWhere() []string {
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
	where := p.soundWhere()
	add := func(id *Rule, place string, l Result) {
		l.Stage, l.Shared, l.Where = Send, true, slices.Clone(where)
		p.add(nil, id, place, &l)
	}
	p.voices(own, plan, add)
	open := false
	for i := range plan.Paths {
		if w := &plan.Paths[i]; w.On != "muted" {
			open = open || !p.played(i)
			p.soundPath(i, w, add)
		}
	}
	p.room(open, add)
	p.inputs(add)
	p.oneInput(plan, add)
	all := slices.Clone(where)
	for i := range p.Items { // time along a picture hangs on all it passes, and on what would let another one come
		all = merge(all, []string{p.Items[i].ID})
	}
	for i := range p.Leads {
		all = merge(all, []string{p.Leads[i].ID})
	}
	for i := range plan.Paths {
		if w := &plan.Paths[i]; w.On == "air" && len(plan.Pictures) > 0 && !p.played(i) {
			p.lipSync(i, w, all)
		}
	}
}

// pathPlace is where limits of a way stand: by what picks it up, so that the order of ways is no matter.
func (p *Pass) pathPlace(i int) string {
	path := &p.Sound.Paths[i]
	place := path.From + ":" + path.Voice
	for k := range i { // the same twice
		if o := &p.Sound.Paths[k]; o.From == path.From && o.Voice == path.Voice {
			return place + ":" + strconv.Itoa(i)
		}
	}
	return place
}

func (p *Pass) voices(own *Rule, plan *SoundPlan, add func(*Rule, string, Result)) {
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
				w.Says = w.T("%s gets to air by %s ways: %s. Heard twice it is hollow, or echoes; keep one and mute the others.", v, strconv.Itoa(len(open)), List(open))
			default:
				w.Says = w.T("%s gets to air by one way: %s.", v, open[0])
			}
		}
		add(own, v, l)
	}
}

// soundPath judges what a way goes through.
func (p *Pass) soundPath(i int, way *SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	place, name := p.pathPlace(i), way.Name
	if !p.played(i) {
		d := p.roomy(1, 1)
		d.Loads = append(d.Loads, limit.Load{Item: path.From, Term: limit.Times(1, d.Let(stated(part("sound/paths/N/distanceM", "", strconv.Itoa(i)), "m", path.DistanceM, p.usualDistance(i))))})
		d.Caps = p.cap(limit.Times(1, d.Let(limit.Known(farthest, "m", fact.Practice))))
		d.Say = func(w *Words) {
			less := math.Round(20 * math.Log10(max(w.Result.Load.Value, 0.01)/0.3))
			w.What, w.Loads[0] = w.T("Distance of %s", name), LoadWords{name, lang.Text("from the mouth")}
			w.Says = w.T("%s is picked up at %s.", name, w.load())
			if less > 0 {
				w.Says = w.T("%s is picked up at %s: %s dB less than at 0.3 m, and the room is as loud as before. Nearer first, gain after.", name, w.load(), Number(less))
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
		p.stage(i, place+">"+id, name, before, it, add)
		before = it
	}
	if host := p.Host(); host != nil && before != nil && way.With == "" && analogue(before) && !slices.Contains(way.Items, host.ID) {
		p.stage(i, place+">"+host.ID, name, before, host, add) // it ends in the computer's own socket
	}
	p.rates(way, add)
	p.treated(i, way, add)
	p.levelControl(way, add)
	p.oneSided(i, way, add)
	p.hum(i, way, add)
	p.headroom(i, way, add)
	p.noise(i, way, add)
}

// rates judges the sample rate of everything a way goes through that is a device of its own.
func (p *Pass) rates(way *SoundWay, add func(*Rule, string, Result)) {
	for _, id := range way.Items {
		it := p.Item(id)
		if it == nil || it.IsSource() || it.IsHost() {
			continue
		}
		khz := soundOf(it).KHz
		l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
		switch {
		case khz == nil:
			l.Outcomes = limit.Maybe
			l.Facts = p.facts(open(key("items/ID/sound/kHz", id), oneOf(would("48", limit.Slack), would("44.1", limit.Snapped), would("96", limit.Snapped), would("0", limit.Slack))))
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
				w.Says = w.T("%s runs at %s kHz in a programme of 48: set it to 48, or have it resampled; not locked and not resampled it clicks at a steady beat.", it.Label, Number(*khz))
			}
		}
		add(SampleRate, id, l)
	}
}

// answers is the outcome of a question that everything on a way is asked alike: bad where one thing answers yes, open where one
// has not answered. A thing that cannot is left out.
func (p *Pass) answers(way *SoundWay, field string, can func(*rig.Item) bool, of func(gear.SoundSheet) gear.Answer) (l Result, yes, unknown []string) {
	l.Outcomes = limit.Yes
	for _, id := range way.Items {
		it := p.Item(id)
		if it == nil || !can(it) {
			continue
		}
		switch a := of(soundOf(it)); a {
		case gear.Yes:
			yes = append(yes, it.Label)
		case gear.No:
		default:
			unknown = append(unknown, it.Label)
			l.Facts = append(l.Facts, open(key(field, id), oneOf(would("no", limit.Slack), would("yes", limit.Snapped))))
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

// treated judges whether something on the way of a voice treats speech.
func (p *Pass) treated(i int, way *SoundWay, add func(*Rule, string, Result)) {
	if way.On != "air" || p.played(i) {
		return
	}
	name := way.Name
	l, yes, unknown := p.answers(way, "items/ID/sound/processes", func(it *rig.Item) bool { return !it.IsHost() }, func(s gear.SoundSheet) gear.Answer { return s.Processes })
	l.Say = func(w *Words) {
		w.What = w.T("What treats %s", name)
		switch {
		case len(yes) > 0:
			w.Says = w.T("%s treats speech on the way of %s: echo cancelling and gates take the beginnings of words. Take it by another way to air.", List(yes), name)
		case len(unknown) > 0:
			w.Says = w.T("Nobody has looked whether %s treats speech.", List(unknown))
		default:
			w.Says = w.T("Nothing treats %s on its way.", name)
		}
	}
	add(SoundTreated, p.pathPlace(i), l)
}

var LevelControl = rule(Rule{Name: "level-control", Asks: "Is automatic level control off on the way of every voice?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"level control off?", "level control on"},
	Source:  practice("Automatic level control lifts the room by as much as 30 dB in pauses and undoes every level that was set"),
	Example: "A camera's automatic recording level: the room comes up whenever nobody speaks."})

// levelControl judges automatic level control along a way.
func (p *Pass) levelControl(way *SoundWay, add func(*Rule, string, Result)) {
	name := way.Name
	l, yes, unknown := p.answers(way, "items/ID/sound/autoLevel", func(it *rig.Item) bool { return !it.IsHost() }, func(s gear.SoundSheet) gear.Answer { return s.AutoLevel })
	l.Say = func(w *Words) {
		w.What = w.T("Level control on the way of %s", name)
		switch {
		case len(yes) > 0:
			w.Says = w.T("The automatic level control of %s is on: in pauses the room comes up by as much as 30 dB. Turn it off and set the level by hand.", List(yes))
		case len(unknown) > 0:
			w.Says = w.T("Nobody has looked whether the automatic level control of %s is off.", List(unknown))
		default:
			w.Says = w.T("Levels on the way of %s stay as they are set.", name)
		}
	}
	add(LevelControl, p.pathPlace(way.Index), l)
}

var OneSided = rule(Rule{Name: "one-sided", Asks: "Is every voice heard in the middle?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"in the middle?", "on one side only"},
	Source:  practice("Input 1 of an interface lands on the left only, until it is set to the middle"),
	Example: "A microphone in input 1, and a listener with one earphone hears nothing."})

// oneSided judges whether a voice is heard in the middle.
func (p *Pass) oneSided(i int, way *SoundWay, add func(*Rule, string, Result)) {
	name := way.Name
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	switch p.Sound.Paths[i].Middle {
	case "yes":
	case "no":
		l.Outcomes = limit.No
	default:
		l.Outcomes = limit.Maybe
		l.Facts = p.facts(open(part("sound/paths/N/middle", "", strconv.Itoa(i)), oneOf(would("yes", limit.Slack), would("no", limit.Snapped))))
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
	add(OneSided, p.pathPlace(i), l)
}

var Hum = rule(Rule{Name: "hum", Asks: "Does it hum?", Sense: limit.Fits, Over: limit.Flaw, Subject: TheSound,
	Board:   Short{"does it hum?", "it hums"},
	Source:  practice("An unbalanced lead between two things on the mains makes a loop: one outlet, a balanced lead or a transformer"),
	Example: "A mixer's unbalanced output into a laptop on its charger: 50 Hz and its harmonics in every pause."})

// hum judges hum on a way: ears say it, and which leads may make a loop.
func (p *Pass) hum(i int, way *SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	var loops []string
	for _, id := range way.Items[:len(way.Items)-1] { // what comes out of each but the last
		it := p.Item(id)
		if it == nil {
			continue
		}
		if s := soundOf(it); s.Balanced != "yes" && s.Gives != "digital" {
			loops = append(loops, it.Label)
			if s.Balanced != "no" {
				l.Facts = append(l.Facts, open(key("items/ID/sound/balanced", id), oneOf(would("yes", limit.Untested), would("no", limit.Untested))))
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
		l.Facts = append([]limit.Fact{open(part("sound/paths/N/hum", "", strconv.Itoa(i)), oneOf(would("no", limit.Slack), would("yes", limit.Snapped)))}, l.Facts...)
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
				w.Says += " " + w.T("The lead out of %s may be unbalanced: where both ends are on the mains it makes a loop.", List(loops))
			}
		default:
			w.Says = w.T("%s hums: both ends into one outlet, a balanced lead, or a transformer in between.", name)
			w.Caution = lang.Text("Never lift or tape off a safety earth to stop a hum.")
		}
	}
	add(Hum, p.pathPlace(i), l)
}

// headroom judges the loudest peaks against full scale. Where no gain is said it is turned up as planned, which leaves the planned
// room: said, and not described, it may be anything.
func (p *Pass) headroom(i int, way *SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	if p.played(i) {
		return
	}
	name := way.Name
	standIn := fact.Est(10.5, 9, 12) // the mean at −24 dBFS, peaks 12 to 15 dB over it
	planned := 0.0
	switch v := way.Levels; {
	case v != nil && (path.GainDB == nil || soundOf(p.Item(path.From)).Gives == "microphone"): // else nobody knows what comes out
		planned = math.Round(v.Gain.Value)
		standIn = fact.Est(min(max(0, v.Headroom.Value), 120), min(max(0, v.Headroom.Low), 120), min(max(0, v.Headroom.High), 120))
	case path.GainDB != nil:
		standIn = fact.Est(9, 0, 120)
	}
	l := p.roomy(2, 1)
	l.Loads = append(l.Loads, limit.Load{Item: path.From, Term: limit.Times(1, l.Let(stated(part("sound/paths/N/headroomDb", "", strconv.Itoa(i)), "dB", path.HeadroomDB, standIn)))})
	l.Caps = p.cap(limit.Times(1, l.Let(limit.Known(leastHeadroom, "dB", fact.Practice))))
	gain := path.GainDB
	l.Say = func(w *Words) {
		w.What, w.Loads[0] = w.T("Headroom of %s", name), LoadWords{name, lang.Text("to full scale at the loudest peak")}
		w.Says = w.T("The loudest peaks of %s stand %s under clipping; 6 dB at least.", name, w.load())
		if gain != nil && planned > 0 {
			w.Says += " " + w.T("%s dB of gain are set, and %s planned.", Number(*gain), Number(planned))
		}
	}
	add(Headroom, p.pathPlace(i), l)
}

var Noise = rule(Rule{Name: "noise", Asks: "Does the noise of the electronics lie far enough under speech?", Sum: "mean of speech − noise of the input ≥ 40 dB", Sense: limit.AtLeast, Unit: "dB", Ceiling: 1, Over: limit.Flaw, Subject: TheSound,
	Source:  practice("Noise at least 40 dB under mean speech; it is set by the first stage"),
	Example: "A dynamic microphone 0.3 m from a calm voice gives −76 dBu: over an input's −120 dBu it is 44 dB, over −100 only 24."})

// leastQuiet is how far electronic noise has to lie under mean speech, dB [practice].
const leastQuiet = 40.0

// noise judges the noise of the electronics under speech, by a test recording or by what microphone and input are.
func (p *Pass) noise(i int, way *SoundWay, add func(*Rule, string, Result)) {
	path := &p.Sound.Paths[i]
	if p.played(i) {
		return
	}
	name := way.Name
	standIn := fact.Est(45, 0, 130)
	if v := way.Levels; v != nil && soundOf(p.Item(path.From)).Gives == "microphone" {
		standIn = fact.Est(min(max(0, v.Noise.Value), 130), min(max(0, v.Noise.Low), 130), min(max(0, v.Noise.High), 130))
	}
	l := p.roomy(2, 1)
	l.Loads = append(l.Loads, limit.Load{Item: path.From, Term: limit.Times(1, l.Let(stated(part("sound/paths/N/noiseDb", "", strconv.Itoa(i)), "dB", path.NoiseDB, standIn)))})
	l.Caps = p.cap(limit.Times(1, l.Let(limit.Known(leastQuiet, "dB", fact.Practice))))
	l.Say = func(w *Words) {
		w.What, w.Loads[0] = w.T("Noise under %s", name), LoadWords{name, lang.Text("mean of speech − noise of the input")}
		w.Says = w.T("The noise lies %s under %s; 40 dB at least.", w.load(), name)
		if w.Result.State == limit.Kinked {
			w.Says += " " + lang.Text("Nearer to the mouth, a microphone that gives more, or a quieter first stage: gain afterwards lifts both.")
		}
	}
	add(Noise, p.pathPlace(i), l)
}

// analogue tells whether what comes out of the last thing of a way may need a socket of the computer's own: what is not said to be
// digital, of things that are not themselves a device of the computer.
func analogue(it *rig.Item) bool {
	switch it.Gear.Kind {
	case gear.Microphone, gear.Mixer, gear.WirelessSound:
		return soundOf(it).Gives != "digital"
	}
	return false
}

// stage judges one thing feeding the next.
func (p *Pass) stage(i int, place, name string, from, to *rig.Item, add func(*Rule, string, Result)) {
	out, in := soundOf(from), soundOf(to)
	if in.Takes == "" && in.Socket == "" && in.Feeds == "" && out.Gives == "" && out.Needs == "" && out.Balanced == "" {
		l := Result{Limit: limit.Limit{Outcomes: limit.Maybe, Facts: p.facts(open(key("items/ID/sound/takes", to.ID), oneOf(would("digital", limit.Slack), would("preamplifier", limit.Slack), would("microphone", limit.Untested), would("line", limit.Untested))))}}
		l.Say = func(w *Words) {
			w.What, w.Says = w.T("Level of %s into %s", name, to.Label), w.T("Nobody has said what %s gives and what %s takes.", from.Label, to.Label)
		}
		add(SoundLevel, place, l)
		p.oneLeg(i, place, name, from, to, add)
		if from.Gear.Kind == gear.Microphone {
			p.micPower(place, name, "", "", from, to, add)
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
			return w.T("%s gives a line and %s has a microphone socket: 26 to 47 dB too much for a professional one, and it clips. Set the input to line, or put a pad in between.", from.Label, to.Label)
		}
	case gives == "microphone" && takes == "line":
		l.Outcomes = limit.No
		says = func(w *Words) string {
			return w.T("%s gives microphone level and %s takes a line: too quiet by some 40 dB, and noise comes up with it. A preamplifier belongs in between.", from.Label, to.Label)
		}
	case gives == "" || gives == "unknown":
		if takes == "digital" {
			break
		}
		bad := func(word string) limit.State {
			if takes == "microphone" && word != "microphone" && word != "digital" || takes == "line" && word == "microphone" {
				return limit.Snapped
			}
			return limit.Slack
		}
		l.Outcomes = limit.Maybe
		l.Facts = p.facts(open(key("items/ID/sound/gives", from.ID), oneOf(would("microphone", bad("microphone")), would("consumer-line", bad("consumer-line")), would("professional-line", bad("professional-line")), would("digital", limit.Slack))))
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
		l.Facts = p.facts(open(key("items/ID/sound/takes", to.ID), oneOf(would("microphone", bad("microphone")), would("preamplifier", limit.Slack), would("line", bad("line")), would("digital", limit.Slack))))
		says = func(w *Words) string { return w.T("Nobody has said what level %s takes.", to.Label) }
	}
	l.Say = func(w *Words) { w.What, w.Says = w.T("Level of %s into %s", name, to.Label), says(w) }
	add(SoundLevel, place, l)
	if gives != "digital" && takes != "digital" {
		p.oneLeg(i, place, name, from, to, add)
	}
	if needs := out.Needs; (out.Microphone != "" || from.Gear.Kind == gear.Microphone) && gives != "digital" && needs != "none" && needs != "battery" {
		p.micPower(place, name, needs, in.Feeds, from, to, add)
	}
}

// oneLeg judges a balanced output into a 3.5 mm socket, which wants one leg only. Bad is only all three together: what is not known of
// them keeps it open.
func (p *Pass) oneLeg(i int, place, name string, from, to *rig.Item, add func(*Rule, string, Result)) {
	balanced, socket, leg := soundOf(from).Balanced, soundOf(to).Socket, p.Sound.Paths[i].OneLeg
	l := Result{Limit: limit.Limit{Outcomes: limit.Yes}}
	known := func(s string) bool { return s != "" && s != "unknown" }
	if balanced != "no" && (!known(socket) || socket == "jack-3.5") && leg != "yes" {
		l.Outcomes = limit.No
		alone := func(others ...bool) limit.State { // what the bad answer means where the others are known to be bad too
			if slices.Contains(others, false) {
				return limit.Untested
			}
			return limit.Snapped
		}
		if leg != "no" {
			l.Facts = append(l.Facts, open(part("sound/paths/N/oneLeg", "", strconv.Itoa(i)), oneOf(would("yes", limit.Slack), would("no", alone(balanced == "yes", socket == "jack-3.5")))))
		}
		if !known(balanced) {
			l.Facts = append(l.Facts, open(key("items/ID/sound/balanced", from.ID), oneOf(would("no", limit.Slack), would("yes", alone(leg == "no", socket == "jack-3.5")))))
		}
		if !known(socket) {
			l.Facts = append(l.Facts, open(key("items/ID/sound/socket", to.ID), oneOf(would("xlr", limit.Slack), would("jack-6.3", limit.Slack), would("jack-3.5", alone(balanced == "yes", leg == "no")))))
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
			w.Says = w.T("If %s is balanced and %s has a 3.5 mm socket, the lead has to carry one leg only: both legs cancel, which is silence with a healthy meter.", from.Label, to.Label)
		default:
			w.Says = w.T("%s is balanced and %s has a 3.5 mm socket: with a lead of one leg only it is right; both legs cancel, which is silence with a healthy meter.", from.Label, to.Label)
		}
	}
	add(OneLeg, place, l)
}

func (p *Pass) micPower(place, name, needs, feeds string, from, to *rig.Item, add func(*Rule, string, Result)) {
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
		l.Facts = p.facts(open(key("items/ID/sound/needs", from.ID), oneOf(would("none", limit.Slack), would("phantom", fits("phantom", feeds)), would("plug-in", fits("plug-in", feeds)), would("battery", limit.Slack))))
	case feeds == "" || feeds == "unknown":
		l.Facts = p.facts(open(key("items/ID/sound/feeds", to.ID), oneOf(would("none", limit.Snapped), would("phantom", fits(needs, "phantom")), would("plug-in", fits(needs, "plug-in")))))
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
			w.Says = w.T("%s needs %s, which %s does not give: nothing comes out of it.", from.Label, powerName(needs), to.Label)
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

// room judges loudspeakers and headphones.
func (p *Pass) room(open bool, add func(*Rule, string, Result)) {
	if open {
		l := Result{Limit: limit.Limit{Outcomes: limit.Maybe}}
		switch p.Sound.Loudspeakers {
		case "no":
			l.Outcomes = limit.Yes
		case "yes":
			l.Outcomes = limit.No
		default:
			l.Facts = p.facts(openWord("sound/loudspeakers", would("no", limit.Slack), would("yes", limit.Snapped)))
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
			w.What, w.Says = lang.Text("What the speaker hears himself by"), lang.Text("The speaker hears the program's sound, 20 to 100 ms late: people slow down and stumble. Take the headphones at the input itself.")
			w.Caution = lang.Text("Hearing: set the level low before putting headphones on.")
		}
		add(Monitor, "", l)
	}
}

func openWord(field string, options ...limit.Option) limit.Fact {
	return open(limit.Key{Field: field}, oneOf(options...))
}

// lateness says how sound stands against its picture.
func lateness(s sound.Span) string {
	low, high := math.Round(s.Low), math.Round(s.High)
	switch {
	case low == 0 && high == 0:
		return lang.Text("with its picture")
	case low >= 0:
		return lang.Text("%s after its picture", Span(low, high, "ms"))
	case high <= 0:
		return lang.Text("%s before its picture", Span(-high, -low, "ms"))
	}
	return lang.Text("between %s ms before and %s ms after its picture", Number(-low), Number(high))
}

// lipSync judges sound against the slowest picture, as both are planned to be delayed.
func (p *Pass) lipSync(i int, way *SoundWay, where []string) {
	path := &p.Sound.Paths[i]
	l := p.roomy(2, 1)
	offset := limit.Fact{Key: part("sound/paths/N/offsetMs", "", strconv.Itoa(i)), Unit: "ms", Low: way.Offset.Low, Value: way.Offset.Value, High: way.Offset.High, From: fact.Estimate}
	if way.Measured { // with what it corrected
		offset.From = fact.Measured
	}
	l.Loads = append(l.Loads, limit.Load{Item: path.From, Term: limit.Times(1, l.Let(offset))})
	l.Caps = p.cap(limit.Times(1, l.Let(limit.Fact{Low: sound.Tight.Late, Value: sound.Noticed.Late, High: sound.Accepted.Late, From: fact.Standard, Unit: "ms"})))
	l.SureLow, l.PossibleLow = -sound.Tight.Early, -sound.Accepted.Early
	name, set, measured, corrected, comes := way.Name, way.Set, way.Measured, way.Corrected, lateness(way.Offset)
	l.Say = func(w *Words) {
		w.What, w.Loads[0], w.Sum = w.T("Sound after picture, %s", name), LoadWords{name, lang.Text("its way + its delay − the slowest picture's")}, lang.Text("40 ms early to 60 ms late surely, 90 early to 185 late possibly")
		switch {
		case measured && corrected != nil:
			w.Says = w.T("%s comes %s, measured with %s ms set: set %s ms.", name, comes, Number(set.Ms), Number(corrected.Ms))
		case measured:
			w.Says = w.T("%s, delayed by %s ms as the clap test has it, comes %s.", name, Number(set.Ms), comes)
		case set.Ms > 0:
			w.Says = w.T("%s, delayed by %s ms, comes %s; a clap test says it exactly.", name, Number(set.Ms), comes)
		default:
			w.Says = w.T("%s comes %s; a clap test says it exactly.", name, comes)
		}
	}
	l.Measured = measured // what most accept and some notice is near the limit then, not unknown
	l.Stage, l.Shared, l.Where = Send, true, where
	p.add(nil, LipSync, p.pathPlace(i), &l)
}
