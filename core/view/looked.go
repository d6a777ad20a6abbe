package view

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/advise"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// Looked is what a clip really shows and plays, beside what was planned.
type Looked struct {
	Of       string         `json:"of" doc:"Id of the feed it was taken from, or programme"`
	Label    string         `json:"label"`
	Rows     []LookedRow    `json:"rows" doc:"Planned and measured, where both are known"`
	Wrong    []LookedWrong  `json:"wrong" doc:"What was found that nobody wants, and what to do about it, the worst first"`
	Open     []look.Sign    `json:"open" doc:"What this clip cannot tell"`
	Clear    []look.Sign    `json:"clear" doc:"What was looked for and is not there"`
	Figures  []LookedFigure `json:"figures" doc:"What was measured besides"`
	Takes    []LookedTake   `json:"takes" doc:"What of it the rig can take over, in the place of what was said or estimated"`
	Notes    []string       `json:"notes" doc:"What to know of how it was looked at"`
	Sentence string         `json:"sentence"`
	Passes   Passes         `json:"passes"`
	Frame    *LookedFrame   `json:"frame,omitempty" doc:"Where in the picture what was found lies; none where nothing has a place"`

	planned, measured string // in one line
}

// LookedFrame is a picture's frame with what lies in it, in its pixels.
type LookedFrame struct {
	Width  int        `json:"width"`
	Height int        `json:"height"`
	Active look.Box   `json:"active" doc:"What is not border"`
	Stays  []look.Box `json:"stays" doc:"What stays put while the picture moves"`
}

// LookedRow is one thing that was planned and measured.
type LookedRow struct {
	What     string      `json:"what"`
	Planned  string      `json:"planned"`
	Measured string      `json:"measured"`
	Agrees   look.Answer `json:"agrees" enum:"found,clear,cannot-tell" doc:"found: it is as planned; clear: it is not"`
}

// LookedWrong is a finding with what follows from it.
type LookedWrong struct {
	look.Sign
	Do string `json:"do"`
}

// LookedFigure is a figure with its name.
type LookedFigure struct {
	What string `json:"what"`
	Says string `json:"says"`
}

// LookedTake is something measured that the rig can take over, as edits.
type LookedTake struct {
	Says  string     `json:"says"`
	Edits []rig.Edit `json:"edits"`
}

// LookedOf lists what a clip may be of: every picture that gets to the computer, every way of sound, and the programme.
func LookedOf(v *verdict.Verdict) []LookedFigure {
	out := []LookedFigure{{"programme", lang.Text("the programme")}}
	for _, f := range v.FeedsThat(false) {
		if f.Bytes != nil {
			out = append(out, LookedFigure{f.ID, f.Source.Label})
		}
	}
	if v.Sound != nil {
		for i := range v.Sound.Paths {
			out = append(out, LookedFigure{advise.ClipOfSound + strconv.Itoa(i), lang.Text("the sound of %s", v.PathName(i))})
		}
	}
	return out
}

func partLabel(w *sheet.Wanted) string {
	if w.Stream {
		return lang.Text("the stream to %s", w.Name)
	}
	return w.Name
}

// LookedAt sets what was seen and heard beside the plan of a feed, or of the programme. An error names a feed that is
// none.
func LookedAt(v *verdict.Verdict, of string, seen *look.Seen, heard *look.Heard) (*Looked, error) {
	l := &Looked{Of: of, Rows: []LookedRow{}, Wrong: []LookedWrong{}, Open: []look.Sign{}, Clear: []look.Sign{},
		Figures: []LookedFigure{}, Takes: []LookedTake{}, Notes: []string{}}
	if n, ok := strings.CutPrefix(of, advise.ClipOfSound); ok {
		return l, l.wayOfSound(v, n, heard)
	}
	width, height, rate := v.Show.Programme.Width, v.Show.Programme.Height, v.Show.Programme.Rate
	l.Label = lang.Text("the programme")
	switch w, coded := sheet.WantedOf(v, of); {
	case coded:
		l.Label, width, height, rate = partLabel(&w), w.Width, w.Height, w.Rate
	case of != "programme":
		at := slices.IndexFunc(v.Feeds, func(f plans.Feed) bool { return f.ID == of && f.Bytes != nil })
		if at < 0 {
			return nil, fmt.Errorf("%q is no picture that gets to the computer", of)
		}
		f := &v.Feeds[at]
		l.Label, width, height, rate = f.Source.Label, f.Bytes.Width, f.Bytes.Height, f.Bytes.Rate
		l.takesOfPicture(v, f, seen)
	}
	if seen != nil {
		if whole := (look.Box{W: seen.Width, H: seen.Height}); seen.Active != whole || len(seen.Stays) > 0 {
			l.Frame = &LookedFrame{seen.Width, seen.Height, seen.Active, append([]look.Box{}, seen.Stays...)}
		}
		l.pictures(v.Rig, seen, width, height, rate)
		l.sort(v.Rig, seen.Signs)
	}
	if heard != nil {
		l.sort(v.Rig, heard.Signs)
		l.levels(heard)
	}
	l.sentence()
	l.passes(v, seen, heard)
	return l, nil
}

// takesOfPicture offers what was seen of a source's picture: the rate it sends, where its sheet has it, and the shutter that fits.
func (l *Looked) takesOfPicture(v *verdict.Verdict, f *plans.Feed, s *look.Seen) {
	if s == nil {
		return
	}
	it := f.Source
	if c := s.Cadence; c != nil && c.Name != "" && c.Repeats > 0 {
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			now, _ := v.OutputMode(it, port)
			at := slices.IndexFunc(port.Modes, func(m picture.Mode) bool {
				return m.Rate.Name() == c.Name && m.Width == now.Width && m.Height == now.Height && m.Interlaced == now.Interlaced
			})
			if port.Direction != gear.Out || at < 0 || now.Rate.Name() == c.Name || v.Wiring.LeadAt(v.Wiring.At(it.ID), j) < 0 {
				continue
			}
			l.Takes = append(l.Takes, LookedTake{lang.Text("%s sends %s", it.Label, port.Modes[at].Name()),
				[]rig.Edit{{Do: "mode", Item: it.ID, Port: port.ID, Mode: &port.Modes[at]}}})
			break
		}
	}
	l.takesOfClean(it, s)
	l.takesOfSleep(v, it, s)
	if f := look.Find(s.Signs, look.IsFlicker); f != nil && f.Answer == look.Found && it.IsSource() && v.Show.MainsHz > 0 {
		rate := v.Show.Programme.Rate
		if s.Pace != nil && s.Pace.Name != "" {
			if r, err := picture.ParseRate(s.Pace.Name); err == nil {
				rate = r
			}
		}
		if word := plans.LightOf(rate, int64(v.Show.MainsHz)).Shutter; word != "" {
			l.Takes = append(l.Takes, LookedTake{lang.Text("Set the shutter of %s to %s s", it.Label, word),
				[]rig.Edit{{Do: "word", Path: "items/" + it.ID + "/set/shutter", Word: word}}})
		}
	}
}

// leastClean is how long a picture is watched before it is called clean, in seconds: some signs come only at times [estimate].
const leastClean = 30

// takesOfClean offers what was seen of signs and borders in a source's picture.
func (l *Looked) takesOfClean(it *rig.Item, s *look.Seen) {
	signs, border := look.Find(s.Signs, look.IsOverlay), look.Find(s.Signs, look.IsBorder)
	if signs == nil || border == nil || !it.Gear.Kind.Shoots() {
		return
	}
	says, word := lang.Text("%s sends a clean picture: watched for %s s, moved", it.Label, say.Number(math.Round(s.Seconds))), gear.AlwaysClean
	switch {
	case signs.Answer == look.Found: // a border alone is of another setting: size, shape, overscan
		says, word = lang.Text("%s does not send a clean picture as it comes: its display has to be turned off", it.Label),
			gear.AfterSetting
	case signs.Answer != look.Clear || border.Answer != look.Clear || s.Seconds < leastClean:
		return
	}
	l.Takes = append(l.Takes, LookedTake{says, []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/clean", Word: string(word)}}})
}

// wayOfSound sets what was heard beside a way of sound, whose headroom, middle and hum it tells.
func (l *Looked) wayOfSound(v *verdict.Verdict, n string, heard *look.Heard) error {
	i, err := strconv.Atoi(n)
	if err != nil || v.Sound == nil || i < 0 || i >= len(v.Sound.Paths) {
		return fmt.Errorf("%q is no way of sound of this rig", advise.ClipOfSound+n)
	}
	l.Label = lang.Text("the sound of %s", v.PathName(i))
	if heard == nil {
		l.passes(v, nil, nil)
		return nil
	}
	l.sort(v.Rig, heard.Signs)
	l.levels(heard)
	l.sentence()
	l.passes(v, nil, heard)
	path := "sound/paths/" + n + "/"
	silent := look.Find(heard.Signs, look.IsSilent).Answer == look.Found
	if room := -heard.TruePeak; !silent && room > 0 && heard.Seconds >= 5 {
		l.Takes = append(l.Takes, LookedTake{lang.Text("Headroom over the loudest peak: %s dB", say.Number(room)),
			[]rig.Edit{{Do: "fact", Path: path + "headroomDb", Fact: new(fact.Known(room, fact.Measured))}}})
	}
	word := func(name look.Name, field, found, clear, foundSays, clearSays string) {
		switch f := look.Find(heard.Signs, name); f.Answer {
		case look.Found:
			l.Takes = append(l.Takes, LookedTake{foundSays, []rig.Edit{{Do: "word", Path: path + field, Word: found}}})
		case look.Clear:
			l.Takes = append(l.Takes, LookedTake{clearSays, []rig.Edit{{Do: "word", Path: path + field, Word: clear}}})
		}
	}
	word(look.IsOneSided, "middle", "no", "yes", lang.Text("Heard on one side"), lang.Text("Heard in the middle"))
	word(look.IsHum, "hum", "yes", "no", lang.Text("It hums"), lang.Text("It does not hum"))
	return nil
}

// levels are figures of a sound.
func (l *Looked) levels(heard *look.Heard) {
	if heard.LUFS > -200 {
		l.Figures = append(l.Figures,
			LookedFigure{lang.Text("Loudness"), lang.Text("%s LUFS, range %s LU", below(heard.LUFS), say.Number(heard.Range))},
			LookedFigure{lang.Text("Peak"), lang.Text("%s dBTP", below(heard.TruePeak))},
			LookedFigure{lang.Text("Quietest tenth"), lang.Text("%s dBFS", below(heard.FloorDB))})
		l.planned = lang.Text("speech peaks at −12 to −6 dBFS")
		l.measured = lang.Text("peaks at %s dBFS, %s LUFS", below(heard.PeakDB), below(heard.LUFS))
	}
}

// lowered begins in small letters, behind a colon.
func lowered(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// below is a level with a minus that is one.
func below(v float64) string { return strings.Replace(say.Number(v), "-", "−", 1) }

// pictures holds size and rate against the plan.
func (l *Looked) pictures(r *rig.Rig, s *look.Seen, width, height int, rate picture.Rate) {
	agrees := func(same bool) look.Answer {
		if same {
			return look.Found
		}
		return look.Clear
	}
	l.Rows = append(l.Rows, LookedRow{lang.Text("Size"), picture.SizeName(width, height),
		picture.SizeName(s.Width, s.Height),
		agrees(s.Width == width && s.Height == height)})
	l.planned, l.measured = picture.SizeName(width, height), picture.SizeName(s.Active.W, s.Active.H)
	if s.Active.W != s.Width || s.Active.H != s.Height {
		l.Rows = append(l.Rows, LookedRow{lang.Text("Of it in use"), picture.SizeName(width, height),
			picture.SizeName(s.Active.W, s.Active.H), look.Clear})
	}
	if s.Pace == nil {
		return
	}
	row := LookedRow{lang.Text("Frames a second"), rate.Name(), s.Pace.Name, agrees(s.Pace.Name == rate.Name())}
	if s.Pace.Name == "" {
		row.Measured = say.Span(s.Pace.Hz-3*s.Pace.Error, s.Pace.Hz+3*s.Pace.Error, "")
		row.Agrees = agrees(math.Abs(s.Pace.Hz-rate.Float()) <= 3*s.Pace.Error)
		if row.Agrees == look.Found {
			row.Agrees = look.CannotTell
		}
	}
	l.Rows = append(l.Rows, row)
	l.planned = lang.Text("%s at %s", l.planned, rate.Name())
	l.measured = lang.Text("%s at %s", l.measured, row.Measured)
	if c := s.Cadence; c != nil && c.Repeats > 0 && look.Find(s.Signs, look.IsRepeats).Answer == look.Found {
		name := c.Name
		if name == "" {
			name = say.Number(say.Round2(c.Hz))
		}
		l.Rows = append(l.Rows, LookedRow{lang.Text("New ones among them"), rate.Name(), name, look.Clear})
	}
}

// wanted are findings nobody minds.
var wanted = []look.Name{look.IsRate, look.IsEqual, look.IsRange}

// sort puts findings where they belong.
func (l *Looked) sort(r *rig.Rig, all []look.Sign) {
	for _, f := range all {
		switch {
		case f.Answer == look.CannotTell:
			l.Open = append(l.Open, f)
		case f.Answer == look.Clear || slices.Contains(wanted, f.What):
			l.Clear = append(l.Clear, f)
		default:
			l.Wrong = append(l.Wrong, LookedWrong{f, doAbout(r, f.What)})
		}
	}
	slices.SortStableFunc(l.Wrong, func(a, b LookedWrong) int {
		return slices.Index(worstFirst, a.What) - slices.Index(worstFirst, b.What)
	})
}

// worstFirst is the order in which findings end a show, or spoil it [practice].
var worstFirst = []look.Name{look.IsAsleep, look.IsBlack, look.IsFrozen, look.IsSilent, look.IsInverted, look.IsClipped,
	look.IsOneSided,
	look.IsTurned, look.IsOverlay, look.IsEcho, look.IsRepeats, look.IsFocus, look.IsCombing, look.IsBorder, look.IsFlicker, look.IsHum, look.IsPumping, look.IsExposure,
	look.IsOffset, look.IsLevel}

// doAbout is what a technician does about a finding [practice].
func doAbout(r *rig.Rig, what look.Name) string {
	switch what {
	case look.IsBlack:
		return lang.Text("Look whether the source sleeps, encrypts its picture or lost its lead at that time.")
	case look.IsFrozen:
		return lang.Text("Look whether the device lost its connection then: its lead, its socket, what shares its bus.")
	case look.IsAsleep:
		return lang.Text("Turn its automatic power off and its idle standby off, or have somebody touch it in time.")
	case look.IsOverlay:
		return lang.Text("Turn the display of information on its output off (a clean output); watch it once more, for some signs come only at times.")
	case look.IsSilent:
		return lang.Text("Look whether the way of sound is muted, or another input is taken; a source may have to be set to PCM.")
	case look.IsInverted:
		return lang.Text("Take one side for both, or turn one side round where the input can.")
	case look.IsClipped:
		return lang.Text("Turn the gain down at the first input that is too loud: what is cut off there comes back nowhere.")
	case look.IsOneSided:
		return lang.Text("Set the input to the middle, or to mono.")
	case look.IsRepeats:
		return lang.Text("Set source, capture device and programme to one rate, and the source to movement at that rate.")
	case look.IsCombing:
		return lang.Text("Set the source to a progressive picture (p, not i); else deinterlace it in the program.")
	case look.IsBorder:
		return lang.Text("Set the source to the programme's size and shape, its overscan off; else crop it in the program.")
	case look.IsFlicker:
		if word := plans.LightOf(r.Show.Programme.Rate, int64(r.Show.MainsHz)).Shutter; r.Show.MainsHz > 0 &&
			word != "" {
			return lang.Text("Set the shutter to %s s.", word)
		}
		return lang.Text("Set the shutter to the mains: 1/50 or 1/100 s at 50 Hz, 1/60 or 1/120 s at 60 Hz.")
	case look.IsHum:
		return lang.Text("One mains outlet for all that is joined by sound leads; a balanced lead, or an isolator, in the longest of them.")
	case look.IsPumping:
		return lang.Text("Turn the automatic level control off, and set the level by hand.")
	case look.IsEcho:
		return lang.Text("Turn the loudspeaker off, or listen on headphones; else two microphones hear one voice: open one of them only.")
	case look.IsFocus:
		return lang.Text("Set the focus by hand, or touch to focus once and lock it.")
	case look.IsLevel:
		return lang.Text("Level the head of the stand by its bubble, or by a line of the wall.")
	case look.IsExposure:
		return lang.Text("Set the exposure by hand, until skin is neither white nor black.")
	case look.IsOffset:
		return lang.Text("A high pass takes it away; look at the input that brings it.")
	}
	return ""
}

// sentence says in one line how it stands.
func (l *Looked) sentence() {
	off := slices.IndexFunc(l.Rows, func(r LookedRow) bool { return r.Agrees == look.Clear })
	switch {
	case len(l.Wrong) > 0:
		l.Sentence = lang.Text("%s: %s", say.Sentence(l.Label), lowered(l.Wrong[0].Says))
	case off >= 0:
		l.Sentence = lang.Text("%s is not as planned: %s instead of %s.", say.Sentence(l.Label), l.Rows[off].Measured,
			l.Rows[off].Planned)
	default:
		l.Sentence = lang.Text("%s is as planned, as far as this tells.", say.Sentence(l.Label))
	}
	if n := len(l.Wrong); n > 1 {
		l.Sentence += " " + say.Sentence(lang.Text("%s besides.", say.Count(n-1, "thing", "things")))
	}
}
