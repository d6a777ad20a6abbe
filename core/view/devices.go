package view

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"eventether/core/advise"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Input is a camera, capture device or microphone as a browser lists it.
type Input struct {
	ID    string `json:"id" minLength:"1" maxLength:"200"`
	Label string `json:"label" maxLength:"200"`
	Kind  string `json:"kind" enum:"videoinput,audioinput"`
}

// InputIs says what of a rig an input is.
type InputIs struct {
	ID   string `json:"id"`
	Of   string `json:"of" doc:"What a look at it is of, as looking is told; empty where nobody knows"`
	Sure bool   `json:"sure" doc:"By its name: nothing else of the rig is called so"`
	Twin bool   `json:"twin" doc:"Another input has the same name: which is which has to be seen"`
	Why  string `json:"why"`
	// Asks are the size and rate it is opened with: what the plan wants of it; 0 where it wants none.
	Width  int     `json:"width"`
	Height int     `json:"height"`
	Rate   float64 `json:"rate"`
}

// candidate is a picture or a way of sound of a rig with the names its device may have in a system.
type candidate struct {
	of    string
	names []string
}

// InputsOf finds which of a rig's pictures and ways of sound the inputs of a computer are: by their names where they
// tell, and the only one by being that.
func InputsOf(v *verdict.Verdict, inputs []Input) []InputIs {
	out := make([]InputIs, len(inputs))
	claims := map[string]int{}
	for kind, all := range map[string][]candidate{"videoinput": picturesBy(v), "audioinput": soundsBy(v)} {
		var mine []int
		for i := range inputs {
			if inputs[i].Kind == kind {
				mine = append(mine, i)
			}
		}
		for _, i := range mine {
			out[i] = inputs[i].is(inputs, mine, all)
			claims[out[i].Of]++
		}
	}
	for i := range out {
		if out[i].Of != "" && claims[out[i].Of] > 1 { // two names that hold the same one: neither tells
			out[i].Of, out[i].Sure, out[i].Why = "", false, sayWhich()
		}
		if inputs[i].Kind == "videoinput" {
			out[i].asks(v)
		}
	}
	return out
}

func sayWhich() string { return lang.Text("Say which it is, or look.") }

func (in *Input) is(inputs []Input, mine []int, all []candidate) InputIs {
	is := InputIs{ID: in.ID, Why: sayWhich()}
	var fits []string
	for _, c := range all {
		if slices.ContainsFunc(c.names, func(name string) bool { return sameName(in.Label, name) }) {
			fits = append(fits, c.of)
		}
	}
	for _, k := range mine {
		o := &inputs[k]
		is.Twin = is.Twin || o.ID != in.ID && plainName(o.Label) != "" && plainName(o.Label) == plainName(in.Label)
	}
	switch {
	case is.Twin:
		is.Why = lang.Text("Another has the same name: cover one lens, wave at it or pull its plug, and see which changes.")
		if len(all) > 0 && kindOf(all[0].of) == "sound" {
			is.Why = lang.Text("Another has the same name: tap one microphone, and see which level rises.")
		}
	case len(fits) == 1:
		is.Of, is.Sure, is.Why = fits[0], true, lang.Text("By its name.")
	case len(fits) == 0 && len(all) == 1 && len(mine) == 1:
		is.Of, is.Why = all[0].of, lang.Text("The only one there is; its name tells nothing.")
	}
	return is
}

func kindOf(of string) string {
	if strings.HasPrefix(of, advise.ClipOfSound) {
		return "sound"
	}
	return "picture"
}

// asks are the size and rate the plan wants of a picture.
func (is *InputIs) asks(v *verdict.Verdict) {
	p := v.Show.Programme
	is.Width, is.Height, is.Rate = p.Width, p.Height, p.Rate.Float()
	if at := slices.IndexFunc(v.Feeds, func(f plans.Feed) bool { return f.ID == is.Of && f.Bytes != nil }); at >= 0 {
		b := v.Feeds[at].Bytes
		is.Width, is.Height, is.Rate = b.Width, b.Height, b.Rate.Float()
	}
}

// picturesBy are the pictures that get to the computer, by what it sees of them: the capture device, else the source.
func picturesBy(v *verdict.Verdict) (out []candidate) {
	for _, f := range v.FeedsThat(false) {
		if f.Bytes == nil {
			continue
		}
		by := f.Source
		for i := range f.Hops {
			if it := f.Hops[i].Item; it != nil && (it.Gear.Kind == gear.Capture || it.Gear.Kind == gear.Card) {
				by = it
			}
		}
		out = append(out, candidate{f.ID, []string{by.Label, by.Gear.Name}})
	}
	return out
}

// soundsBy are the ways of sound, by what brings them into the computer.
func soundsBy(v *verdict.Verdict) (out []candidate) {
	if v.Sound == nil {
		return nil
	}
	for i := range v.Sound.Paths {
		path := &v.Sound.Paths[i]
		var names []string
		for _, id := range append([]string{path.From}, path.Via...) {
			if it := v.Item(id); it != nil && !it.IsHost() { // the last of them is what the system sees
				names = []string{it.Label, it.Gear.Name}
			}
		}
		out = append(out, candidate{advise.ClipOfSound + strconv.Itoa(i), names})
	}
	return out
}

// numbered is what systems put behind a name: the ids of maker and product, and which of several it is.
var numbered = regexp.MustCompile(`\s*\(([0-9a-f]{4}:[0-9a-f]{4}|\d+)\)\s*$`)

// plainName is a name without case, signs and ids.
func plainName(s string) string {
	s = numbered.ReplaceAllString(strings.ToLower(s), "")
	return strings.Join(strings.FieldsFunc(s, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// sameName tells whether one name is the other, or holds it.
func sameName(a, b string) bool {
	a, b = plainName(a), plainName(b)
	const least = 4
	if len(a) < least || len(b) < least {
		return a == b && a != ""
	}
	return strings.Contains(" "+a+" ", " "+b+" ") || strings.Contains(" "+b+" ", " "+a+" ")
}

// DeviceFacts are what a page says of a device it had open, and of itself.
type DeviceFacts struct {
	Label   string  `json:"label,omitempty" doc:"Its name, as the system gives it" maxLength:"200"`
	Asked   string  `json:"asked,omitempty" doc:"Size and rate it was asked for" maxLength:"60"`
	Given   string  `json:"given,omitempty" doc:"Size and rate the browser says it gives" maxLength:"60"`
	FirstMs float64 `json:"firstMs,omitempty" doc:"From opening it to the first frame, milliseconds" minimum:"0" maximum:"600000"`
	// Processing are the steps of the browser's own sound processing that are on although they were asked off.
	Processing []string `json:"processing,omitempty" maxItems:"5" enum:"echoCancellation,noiseSuppression,autoGainControl"`
	Scaled     bool     `json:"scaled,omitempty" doc:"This browser gives no unscaled frames"`
	Skipped    int      `json:"skipped,omitempty" doc:"Frames the browser or the page dropped: not the device's" minimum:"0" maximum:"100000000"`
	Unplugged  bool     `json:"unplugged,omitempty" doc:"It went while it was open"`
	Stands     string   `json:"stands,omitempty" enum:"upright,upside-down,left,right,mirrored" doc:"How the picture stands, as somebody says who sees it"`
	Hidden     bool     `json:"hidden,omitempty" doc:"The page was hidden for a while, and that while is not judged"`
}

// Device is what was measured of a device that was open, with what its page said.
type Device struct {
	DeviceFacts
	Seen  *look.Seen
	Heard *look.Heard
	Warm  *Warm // of this very computer; nil where the device is at another
}

// LookedAtDevice sets what a device delivered beside the plan, as LookedAt does a clip, with what only an open device
// tells. An error names a feed that is none.
func LookedAtDevice(v *verdict.Verdict, of string, d *Device) (*Looked, error) {
	l, err := LookedAt(v, of, d.Seen, d.Heard)
	if err != nil {
		return nil, err
	}
	if d.Asked != "" && d.Given != "" && d.Asked != d.Given {
		l.Rows = append([]LookedRow{{lang.Text("Opened"), d.Asked, d.Given, look.Clear}}, l.Rows...)
	}
	if p := d.pace(); p != nil && p.missing() > 0.01 { // what the browser dropped is not counted
		l.Passes.Answer = look.Clear
	}
	l.stands(d)
	if w := d.Warm; w != nil {
		l.Figures = append(l.Figures, w.figures()...)
	}
	if d.FirstMs > 0 {
		l.Figures = append(l.Figures, LookedFigure{lang.Text("First picture after"),
			lang.Text("%s s", say.Number(say.Round1(d.FirstMs/1000)))})
	}
	note := func(yes bool, text string) {
		if yes {
			l.Notes = append(l.Notes, text)
		}
	}
	note(d.Unplugged, lang.Text("It went while it was open: unplugged, switched off, or taken by something else."))
	note(d.Hidden, lang.Text("The page was hidden for a while: browsers hold frames back then, and that while is not judged."))
	note(d.Skipped > 0, lang.Text("%s dropped by the browser or this page: not the device's doing.",
		say.Sentence(say.Count(d.Skipped, "frame was", "frames were"))))
	note(d.Scaled, lang.Text("This browser gives scaled frames only: border, combing, range, exposure and signs cannot be told."))
	note(len(d.Processing) > 0, lang.Text("The browser's own %s is on although it was asked off: levels are its doing.",
		say.List(named(d.Processing))))
	note(d.Seen == nil && d.Heard == nil, lang.Text("It gave nothing at all: another program may hold it, or its source is off."))
	if d.Seen == nil && d.Heard == nil {
		l.Sentence = lang.Text("%s gave nothing.", say.Sentence(l.Label))
		l.Passes = Passes{look.Clear, []string{}}
	}
	return l, nil
}

// stands puts what somebody says of how the picture stands where it belongs: nobody said is not upright.
func (l *Looked) stands(d *Device) {
	f := look.Sign{What: look.IsTurned, Answer: look.Found, Spans: []look.Stretch{}}
	do := lang.Text("Turn the camera, or turn the picture in its menu or in the program.")
	switch d.Stands {
	case "upright":
		f.Answer, f.Says = look.Clear, lang.Text("It stands upright, as somebody says who saw it.")
		l.Clear = append(l.Clear, f)
		return
	case "upside-down":
		f.Says = lang.Text("It stands on its head: turned by 180°.")
	case "left":
		f.Says = lang.Text("It lies on its left side: turned by 90°.")
	case "right":
		f.Says = lang.Text("It lies on its right side: turned by 90°.")
	case "mirrored":
		f.Says = lang.Text("It is mirrored: writing reads backwards.")
		do = lang.Text("Turn mirroring off in the camera's menu or the program; a mirrored view of oneself is not always what is sent.")
	default:
		if d.Seen != nil {
			f.Answer, f.Says = look.CannotTell, lang.Text("Whether it stands upright nobody said: say it beside the picture while it is open.")
			l.Open = append(l.Open, f)
		}
		return
	}
	l.Wrong = append(l.Wrong, LookedWrong{f, do})
	l.Passes.Answer = look.Clear
	l.sentence()
}

// Warm is what a computer went through while devices were open.
type Warm struct {
	BusyPct, MostPct float64 // of the processor: on average, and in its busiest second or more, percent
	FromC, ToC       float64 // of the warmest sensor: when it began, and its highest, °C; 0 where the system tells none
}

func (w *Warm) figures() []LookedFigure {
	pct := func(v float64) string { return say.Number(math.Round(v)) }
	out := []LookedFigure{{lang.Text("Processor meanwhile"), lang.Text("%s % on average, %s % at most", pct(w.BusyPct), pct(w.MostPct))}}
	if w.ToC > 0 {
		out = append(out, LookedFigure{lang.Text("Warmest sensor"), lang.Text("%s °C, from %s °C", pct(w.ToC), pct(w.FromC))})
	}
	return out
}

func named(processing []string) (out []string) {
	words := map[string]string{"echoCancellation": lang.Text("echo cancelling"),
		"noiseSuppression": lang.Text("noise suppression"), "autoGainControl": lang.Text("level control")}
	for _, p := range processing {
		if w := words[p]; w != "" {
			out = append(out, w)
		}
	}
	return out
}

// takesOfSleep offers what watching told of a source's idle time.
func (l *Looked) takesOfSleep(v *verdict.Verdict, it *rig.Item, s *look.Seen) {
	f := look.Find(s.Signs, look.IsAsleep)
	path := "items/" + it.ID + "/standby/"
	switch {
	case f == nil || it.Gear.Kind != gear.Camera && it.Gear.Kind != gear.Phone:
	case f.Answer == look.Found:
		minutes := math.Round(f.Value*100) / 100
		for i := range it.Gear.Settings {
			if g := it.Gear.Settings[i].Known(); g.Sleeps {
				l.Takes = append(l.Takes, LookedTake{lang.Text("Set the %s of %s to %s", g.Label, it.Label, g.Want),
					[]rig.Edit{{Do: "word", Path: "items/" + it.ID + "/set/settings/" + g.ID, Word: g.Want}}})
				return
			}
		}
		l.Takes = append(l.Takes, LookedTake{lang.Text("%s sleeps after %s min", it.Label, say.Number(minutes)),
			[]rig.Edit{{Do: "word", Path: path + "does", Word: "black"},
				{Do: "fact", Path: path + "afterMinutes", Fact: measured(minutes)}}})
	case f.Answer == look.Clear && s.Seconds/60 >= float64(v.Show.Minutes):
		l.Takes = append(l.Takes, LookedTake{lang.Text("%s stays awake for as long as the show", it.Label),
			[]rig.Edit{{Do: "word", Path: path + "does", Word: "nothing"}}})
	}
}

func measured(value float64) *fact.Fact { return new(fact.Known(value, fact.Measured)) }

// devicePace is how fast frames came, and how many of those that are missing the browser dropped.
type devicePace struct {
	*look.Pace
	dropped int
}

func (d *Device) pace() *devicePace {
	if d.Seen == nil || d.Seen.Pace == nil {
		return nil
	}
	return &devicePace{d.Seen.Pace, min(d.Skipped, d.Seen.Pace.Lost)}
}

// missing is the share of frames that is missing, and was not dropped by the browser.
func (p *devicePace) missing() float64 {
	return float64(p.Lost-p.dropped) / float64(p.Frames+p.Lost)
}

// delivered is how many frames a second came from the device.
func (p *devicePace) delivered() float64 { return p.Hz * (1 - p.missing()) }

func (d *Device) paceWords() string {
	p := d.pace()
	if p == nil {
		return lang.Text("no frames")
	}
	text := lang.Text("%s frames/s", say.Number(say.Round2(p.delivered())))
	if p.Lost > 0 {
		text += ", " + lang.Text("%s missing", say.Count(p.Lost, "frame", "frames"))
	}
	return text
}
