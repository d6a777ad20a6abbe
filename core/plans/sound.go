package plans

import (
	"cmp"
	"math"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sound"
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

// loudness is what the programme is brought to: as said, else what online talk is [practice: −16 to −14]; −23 is
// broadcast's, ±1 LU live [standard: EBU R 128].
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

// On tells where a way goes: as said, else the nearest of its voice on air and the others muted.
func (p *Plan) On(i int) (on string, proposed bool) {
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
		if path := &p.Sound.Paths[i]; path.Voice == voice && path.On == "air" && (best < 0 ||
			p.Distance(i).Value < p.Distance(best).Value) {
			best = i
		}
	}
	return best
}

// nearer tells whether way a is the better one for air: nearer to the mouth as such microphones stand as a rule, then
// by what it is called. How far this one was measured is judged, and does not turn the choice over.
func nearer(p *Plan, a, b int) bool {
	at := func(i int) float64 { return p.UsualDistance(i).Value }
	if at(a) != at(b) {
		return at(a) < at(b)
	}
	return p.Sound.Paths[a].From < p.Sound.Paths[b].From
}

// SoundOf is what a thing does with sound; nothing said is nothing.
func SoundOf(it *rig.Item) gear.SoundSheet {
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
	slices.SortFunc(out.Pictures, func(a, b PictureWay) int {
		return slices.Compare([]string{a.Label, a.ID}, []string{b.Label, b.ID})
	})
	for _, w := range out.Pictures { // which of them is the slowest is known only within their bounds
		out.Slowest = sound.Span{Low: max(out.Slowest.Low, w.Delay.Low), Value: max(out.Slowest.Value, w.Delay.Value),
			High: max(out.Slowest.High, w.Delay.High)}
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
				d = d.Plus(sound.Span{Low: f.Low, Value: f.Value,
					High: f.High}) // a clap test found it later than planned
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
			against = out.Slowest.Plus(sound.Span{Low: math.Round(late.Low), Value: out.Later.Ms,
				High: math.Round(late.High)})
		}
		w.Offset = w.Delay.Plus(sound.Exactly(w.Set.Ms)).Minus(against)
		if w.With != "" { // it comes in with a picture, and waits as it does: only a delay somebody has set parts them
			w.Offset = sound.Air(p.Distance(i)).Plus(ownSound)
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

// clapped takes a clap test into account: it corrects what was set when it was made, new delay = delay then − offset.
// Where nobody has said a delay, that was the planned one (the screen keeps it with the claps, so that it does not move
// with the plan), and what is proposed now is the corrected; what then is left is the spread of the test, as far to one
// side as to the other: a narrower test leaves less on both.
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

// oneDelayADevice gives ways that come in by one device one delay, since a program has one for each device it lists:
// what somebody has set there, else the middle between what each would want.
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
	if s.IsOther() || s.Host == nil || len(s.Where) == 0 {
		return nil
	}
	return p.Item(s.Where[0])
}

// unknownRate is at how many frames a second a device sends of which nobody knows the pictures [estimate].
var unknownRate = sound.Span{Low: 10, High: 120}

// framesASecond is the rate of a stream: of one nobody has chosen the picture of, whatever its device offers, and of a
// device nobody has described anything usual; likely the programme's, fps.
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
	switch s.Sends {
	case SendsUnknown:
		reach(unknownRate.Low)
		reach(unknownRate.High)
	case SendsUndecided:
		for i := range s.offers {
			reach(s.offers[i].Rate.Float())
		}
	}
	return out
}

// pictureWay adds up the delay of a picture.
func (p *Plan) pictureWay(s *Stream, source *rig.Item, fps float64) PictureWay {
	w := PictureWay{ID: source.ID, Label: source.Label, Parts: []DelayPart{}}
	rate := s.framesASecond(fps)
	lasts := func(frames sound.Span) sound.Span {
		return sound.Span{Low: frames.Low * 1000 / rate.High, Value: frames.Value * 1000 / rate.Value,
			High: frames.High * 1000 / rate.Low}
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
	for k, id := range s.Where[1:] {
		it := p.Item(id)
		if it == nil || slices.Contains(s.Where[:k+1], id) || stated(it) {
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
	last := DelayPart{Of: ProgramName(p.Show.Program), Why: lang.Text("1 frame of the programme, and its buffer"),
		Ms: ms(sound.ProgramFrames, fps)}
	w.Parts, w.Delay = append(w.Parts, last), w.Delay.Plus(last.Ms)
	return w
}

// Distance is how far a microphone is from the mouth, as far as anybody knows.
func (p *Plan) Distance(i int) sound.Span {
	path := &p.Sound.Paths[i]
	if f := path.DistanceM; f != nil {
		return sound.Span{Low: f.Low, Value: f.Value, High: f.High}
	}
	f := p.UsualDistance(i)
	return sound.Span{Low: f.Low, Value: f.Value, High: f.High}
}

// UsualDistance is where such a microphone stands as a rule [estimate]; nothing comes through the air where sound is
// played.
func (p *Plan) UsualDistance(i int) fact.Fact {
	it := p.Item(p.Sound.Paths[i].From)
	s := SoundOf(it)
	switch {
	case it == nil:
		return fact.Est(0.5, 0.02, 6)
	case it.Gear.Kind == gear.Computer || it.Gear.Kind == gear.Player || it.Gear.Kind == gear.Console:
		return fact.Est(0, 0, 0)
	case s.Microphone == "headset":
		return fact.Est(0.04, 0.02, 0.1)
	case s.Microphone == "lavalier":
		return fact.Est(0.2, 0.1, 0.3)
	case it.Gear.Kind == gear.Camera, it.Gear.Kind == gear.Phone, it.Gear.Kind == gear.Webcam,
		s.Microphone == "built-in":
		return fact.Est(2, 0.3, 8)
	}
	return fact.Est(0.4, 0.02, 6)
}

// Played tells whether a way begins with something that plays, not with a microphone.
func (p *Plan) Played(i int) bool {
	it := p.Item(p.Sound.Paths[i].From)
	return it != nil && (it.Gear.Kind == gear.Computer || it.Gear.Kind == gear.Player ||
		it.Gear.Kind == gear.Console || it.Gear.Kind == gear.Mixer)
}

// soundWay adds up the delay of a way of sound.
func (p *Plan) soundWay(i int, plan *SoundPlan, fps float64) SoundWay {
	path := &p.Sound.Paths[i]
	on, proposed := p.On(i)
	w := SoundWay{Index: i, Voice: path.Voice, Name: p.PathName(i), On: on, Proposed: proposed,
		Items: append([]string{path.From}, path.Via...), Parts: []DelayPart{}, SharedWith: []string{}}
	add := func(of, why string, s sound.Span) {
		w.Parts = append(w.Parts, DelayPart{Of: of, Why: why, Ms: s})
		w.Delay = w.Delay.Plus(s)
	}
	if !p.Played(i) {
		add(lang.Text("the air"), lang.Text("%s at 343 m/s", say.Span(p.Distance(i).Low, p.Distance(i).High, "m")),
			sound.Air(p.Distance(i)))
	}
	for _, id := range w.Items {
		it := p.Item(id)
		if it == nil {
			continue
		}
		if at := slices.IndexFunc(plan.Pictures, func(x PictureWay) bool { return x.ID == id }); at >= 0 ||
			p.carries(id, plan) != "" {
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
		s := SoundOf(it)
		switch {
		case s.DelayMs != nil:
			add(it.Label, lang.Text("as stated"), sound.Span{Low: s.DelayMs.Low, Value: s.DelayMs.Value,
				High: s.DelayMs.High})
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
	add(ProgramName(p.Show.Program), lang.Text("a program's own sound buffers"), sound.ProgramSound)
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
		if source := p.pictured(s); source != nil && slices.Contains(s.Where, id) && (best == "" || source.ID < best) {
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
			return cmp.Or(s.Owner.Gear.ListedAs, s.Owner.Gear.Name)
		}
	}
	return it.Gear.Name
}

// levels plans the levels of a way that begins with a microphone at an input somebody has described.
func (w *SoundWay) levels(p *Plan, i int) {
	path := &p.Sound.Paths[i]
	from := SoundOf(p.Item(path.From))
	sens, ok := map[string]sound.Span{"dynamic": {Low: -57, Value: -55, High: -53}, "condenser": {Low: -42, Value: -37,
		High: -32}, "lavalier": {Low: -44, Value: -42, High: -40}, "headset": {Low: -46, Value: -42,
		High: -38}}[from.Microphone]
	if !ok || from.Gives == "digital" {
		return
	}
	takes := ""
	if len(path.Via) > 0 { // only what it is plugged into: what nobody said of that is not read off what comes after
		takes = SoundOf(p.Item(path.Via[0])).Takes
	}
	full, noise := sound.Span{}, sound.Span{Low: -128, Value: -120, High: -100} // [memory]
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
	l := sound.LevelsOf(sound.Speech(sound.Loud(path.Loud)).Plus(sound.Gain(p.Distance(i))), sens, full, noise, gain)
	w.Levels = &l
}

// InputsOf is how many microphones a thing takes while nobody has looked: an interface two as a rule, a desk a handful,
// a camera one [estimate].
var InputsOf = map[gear.Kind]fact.Fact{gear.AudioInterface: fact.Est(2, 1, 8), gear.Mixer: fact.Est(6, 1, 16),
	gear.Recorder: fact.Est(2, 1, 8),
	gear.Camera:   fact.Est(1, 1, 2), gear.Switcher: fact.Est(2, 1, 4)}

// Plug is the input a way of sound goes into: of the first thing on its way that has some.
type Plug struct {
	Item   string `json:"item" doc:"Item id of the interface, desk, camera or other thing"`
	Number int    `json:"number" doc:"As it is printed there"`
	Said   bool   `json:"said" doc:"Somebody has said it; else the first that is free"`
	From   string `json:"-"` // what is plugged in
}

// GoesInto is the first thing on a way of sound that has inputs, and what goes into it; "" where there is none.
func (p *Plan) GoesInto(k int) (id, from string) {
	from = p.Sound.Paths[k].From
	for _, id := range p.Sound.Paths[k].Via {
		if it := p.Item(id); it != nil {
			if _, takes := InputsOf[it.Gear.Kind]; takes {
				return id, from
			}
		}
		from = id
	}
	return "", ""
}

// plugs gives every way its input: what is said, else the first that is free; what comes by one thing goes into one
// input.
func (p *Plan) plugs(ways []SoundWay) {
	taken := map[Plug]bool{}
	of := map[[2]string]int{}
	for k := range ways {
		id, from := p.GoesInto(k)
		if id == "" {
			continue
		}
		ways[k].Plug = &Plug{Item: id, From: from}
		if n := p.Sound.Paths[k].Input; n > 0 {
			ways[k].Plug.Number, ways[k].Plug.Said = n, true
			taken[Plug{Item: id, Number: n}], of[[2]string{id, from}] = true, n
		}
	}
	for k := range ways {
		plug := ways[k].Plug
		if plug == nil || plug.Said {
			continue
		}
		n := of[[2]string{plug.Item, plug.From}]
		for free := 1; n == 0; free++ {
			if !taken[Plug{Item: plug.Item, Number: free}] {
				n = free
			}
		}
		plug.Number = n
		taken[Plug{Item: plug.Item, Number: n}], of[[2]string{plug.Item, plug.From}] = true, n
	}
}
