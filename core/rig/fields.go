package rig

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/h264"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/sdi"
	"eventether/core/typed"
	"eventether/core/usb"
)

// Field is one thing a rig or a spec sheet may state: a number with bounds, or one of several words. Everything that
// has to know what can be stated reads this table: checking, edits by path, questions, forms, the schema, and the tests
// that forget and narrow facts. A new field is one row.
type Field struct {
	// Path names it, with capitals for ids: items/ID/ports/PORT/volts.
	Path string
	// Name says what it is, with {item}, {lead}, {port} and {sub} for whose: "draw of {item}".
	Name string
	// Unit of a number as it is printed beside it, and in words.
	Unit, Units string
	// Low and High bound a number.
	Low, High float64
	// Words lists what a choice may be; none where it is free text or checked by its own reader.
	Words []Word
	// Ask is the question for it, How says how to find out, Minutes what that takes. No Ask: nobody is asked for it.
	Ask, How string
	Minutes  float64
	// Board is the question in a few words, on the board while a limit hangs on this more than on anything else.
	Board string
	// Usual are numbers people usually find, offered as answers beside any other.
	Usual []float64
	// Clip: looking tells it, at the device while it is open or at a test recording of it.
	Clip bool
	// instead gives other texts where what the field belongs to asks for them.
	instead func(r *Rig, of, sub string) Wording

	scope  *scope
	number func(*spot) **fact.Fact // of a number that may be missing
	stated func(*spot) *fact.Fact  // of a number that always stands there
	put    func(*spot, *Edit) error
}

// OnBoard is Board in the language in use.
func (f *Field) OnBoard() string { return lang.Text(f.Board) }

// Word is one thing a choice may be, and how it is offered.
type Word struct{ Word, Label string }

// Wording are the words of a field.
type Wording struct{ Name, Ask, How string }

// Wording are the words of the field for what it belongs to.
func (f *Field) Wording(r *Rig, of, sub string) Wording {
	t := Wording{f.Name, f.Ask, f.How}
	if f.instead != nil {
		if o := f.instead(r, of, sub); o.Name != "" {
			t = o
		}
	}
	return Wording{lang.Text(t.Name), lang.Text(t.Ask), lang.Text(t.How)}
}

// IsNumber tells whether it is a number with bounds, rather than a choice.
func (f *Field) IsNumber() bool { return f.number != nil || f.stated != nil }

// Label is how a word of the field is offered.
func (f *Field) Label(word string) string {
	for _, w := range f.Words {
		if w.Word == word && w.Label != "" {
			return lang.Text(w.Label)
		}
	}
	return lang.Text(word)
}

// spot is where a field stands in one rig. In a spot that is to be written, whatever leads there is copied first; in
// one that is only read, what is not stated reads as nothing.
type spot struct {
	r     *Rig
	it    *Item
	lead  *Lead
	id    string // what stands for the second id of the path
	n     int    // the same as a place in a list, or the place of the port or controller
	write bool
}

var (
	errNowhere = errors.New("names nothing of a rig")
	onOff      = []Word{{"off", "Off"}, {"on", "On"}}
	yesNo      = []Word{{"yes", "Yes"}, {"no", "No"}, {"unknown", ""}}
)

// within makes what a path leads through: the field itself in a spot that is read, a copy in one that is written.
func within[T any](s *spot, at **T) *T {
	if !s.write && *at != nil {
		return *at
	}
	var v T
	if *at != nil {
		v = **at
	}
	if s.write {
		*at = &v
	}
	return &v
}

func (s *spot) gear() *gear.Gear { return &s.it.Gear }

func (s *spot) port() *gear.Port {
	if s.write {
		s.it.Gear.Ports = slices.Clone(s.it.Gear.Ports)
	}
	return &s.it.Gear.Ports[s.n]
}
func (s *spot) power() *gear.Power       { return within(s, &s.it.Gear.Power) }
func (s *spot) standby() *gear.Standby   { return within(s, &s.it.Gear.Standby) }
func (s *spot) sounds() *gear.SoundSheet { return within(s, &s.it.Gear.Sound) }
func (s *spot) sound() *Sound            { return within(s, &s.r.Sound) }
func (s *spot) path() *SoundPath {
	snd := s.sound()
	if s.write {
		snd.Paths = slices.Clone(snd.Paths)
	}
	return &snd.Paths[s.n]
}
func (s *spot) hdmi() *gear.HDMIPort { return within(s, &s.port().HDMI) }
func (s *spot) sdi() *gear.SDIPort {
	p := s.port()
	if p.SDI == nil && s.write {
		p.SDI = &gear.SDIPort{Link: sdi.UnknownLink}
	}
	return within(s, &p.SDI)
}
func (s *spot) usb() *gear.USBPort {
	p := s.port()
	if p.USB == nil && s.write {
		p.USB = &gear.USBPort{Speed: usb.UnknownSpeed}
	}
	return within(s, &p.USB)
}
func (s *spot) delivery() *gear.Delivery {
	if s.write {
		s.it.Gear.Delivers = slices.Clone(s.it.Gear.Delivers)
	}
	return &s.it.Gear.Delivers[s.n]
}
func (s *spot) controller() *gear.Controller {
	if s.write {
		s.it.Gear.Controllers = slices.Clone(s.it.Gear.Controllers)
	}
	return &s.it.Gear.Controllers[s.n]
}
func (s *spot) heat() *gear.HeatLimit {
	g := &s.it.Gear
	if s.write {
		g.HeatLimits = slices.Clone(g.HeatLimits)
		if s.n == len(g.HeatLimits) { // the first that is said, of any picture
			g.HeatLimits = append(g.HeatLimits, gear.HeatLimit{})
		}
	}
	return &g.HeatLimits[s.n]
}
func (s *spot) battery() *gear.BatteryPack {
	p := s.power()
	if p.Battery == nil && s.write {
		b := gear.DefaultBattery // what is not said yet stays wide
		if s.it.Gear.Kind == gear.PowerBank {
			b = gear.BatteryPack{MAh: gear.DefaultBankMAh, Volts: gear.BankVolts}
		}
		p.Battery = &b
	}
	return within(s, &p.Battery)
}
func (s *spot) destination() *Destination {
	if s.write {
		s.r.Show.Destinations = slices.Clone(s.r.Show.Destinations)
	}
	return &s.r.Show.Destinations[s.n]
}
func (s *spot) ingest() *Ingest { return within(s, &s.destination().Ingest) }

// undisturbed sets one setting of the computer that takes the pictures.
func undisturbed(id string) func(*spot, *Edit) error {
	return func(s *spot, e *Edit) error {
		set := s.set()
		set.Undisturbed = maps.Clone(set.Undisturbed)
		if set.Undisturbed == nil {
			set.Undisturbed = map[string]string{}
		}
		set.Undisturbed[id] = e.Word
		return nil
	}
}

func (s *spot) recording() *Recording {
	if s.write {
		s.r.Show.Recordings = slices.Clone(s.r.Show.Recordings)
	}
	return &s.r.Show.Recordings[s.n]
}
func (s *spot) computes() *gear.Computes { return within(s, &s.it.Gear.Computes) }
func (s *spot) call() *Call {
	if s.write {
		s.r.Show.Calls = slices.Clone(s.r.Show.Calls)
	}
	return &s.r.Show.Calls[s.n]
}
func (s *spot) uplink() *Uplink { return within(s, &s.r.Uplink) }
func (s *spot) set() *Set       { return within(s, &s.it.Set) }

// choose is the setter of a field that takes one of its words.
func choose[T ~string](at func(*spot) *T) func(*spot, *Edit) error {
	return func(s *spot, e *Edit) error {
		*at(s) = T(e.Word)
		return nil
	}
}

func words[T ~string](list []T, more ...T) (out []Word) {
	for _, w := range append(slices.Clone(list), more...) {
		out = append(out, Word{Word: string(w)})
	}
	return out
}

// encoderWords are what may code a picture: hardware, the presets of software H.264 from the fastest on, and more.
func encoderWords(more ...string) []Word {
	out := []Word{{"hardware", "The hardware encoder"}}
	for i := range h264.Presets {
		out = append(out, Word{Word: h264.Presets[i].Name})
	}
	return append(out, words(more)...)
}

func presetField(name, what, ask string) Field {
	return Field{Path: "items/ID/computes/" + name + "MpxS", Name: what, Unit: "Mpx/s", Units: "megapixels a second",
		Low: 0.01, High: 1e5,
		Ask: ask, How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.",
		Minutes: 4,
		number:  func(s *spot) **fact.Fact { return s.computes().AtPreset(name) }}
}

// Fields is every field there is, in the order of the document.
var Fields = []Field{
	{Path: "show/mainsVolts", Name: "mains voltage", Unit: "V", Units: "volts", Low: 50, High: 500,
		Ask: "Which voltage has the mains of this place?",
		How: "230 V where it is 50 Hz, as a rule, 120 V where it is 60 Hz.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.r.Show.MainsVolts }},
	{Path: "show/mainsHz", Name: "mains frequency of the place", Words: []Word{{"50", "50 Hz"}, {"60", "60 Hz"}},
		Ask:     "Which frequency has the mains of this place?",
		How:     "50 Hz in most of the world, 60 Hz in the Americas and parts of Asia; it is printed on every mains adapter.",
		Minutes: 1,
		put: func(s *spot, e *Edit) error {
			hz, err := strconv.Atoi(e.Word)
			s.r.Show.MainsHz = hz
			return err
		}},
	{Path: "show/layers", Name: "sources on air at once", Words: []Word{{"1", "One"}, {"2", "Two"}, {"3", "Three"},
		{"4", "Four"}, {"9", "Nine"}},
		Ask: "How many sources are on air at once, at most?",
		How: "One when the picture is switched; two for a picture in a picture or an interview.", Minutes: 1,
		put: func(s *spot, e *Edit) error {
			n, err := strconv.Atoi(e.Word)
			s.r.Show.Layers = n
			return err
		}},
	{Path: "show/circuitA", Name: "rating of the circuit", Unit: "A", Units: "amperes", Low: 0.5, High: 500,
		Ask: "How many amperes is the circuit of this place rated for?", How: "Printed on its breaker or fuse.",
		Minutes: 3,
		number:  func(s *spot) **fact.Fact { return &s.r.Show.CircuitA }},
	{Path: "show/destinations/N/videoKbps", Name: "video bitrate to {sub}", Unit: "kb/s", Units: "kilobits a second",
		Low: 1, High: 1e6,
		Ask: "Which video bitrate is set for {sub}?", How: "In the program's output settings.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.destination().Send.VideoKbps }},
	{Path: "show/destinations/N/audioKbps", Name: "audio bitrate to {sub}", Unit: "kb/s", Units: "kilobits a second",
		Low: 0, High: 1e5,
		number: func(s *spot) **fact.Fact { return &s.destination().Send.AudioKbps }},
	{Path: "show/destinations/N/takes", Name: "what {sub} takes at most", Words: profileWords(),
		Ask:     "What does {sub} take at most?",
		How:     "Its help page lists size, frame rate and bitrate; the exact figures can be set on the Show page.",
		Minutes: 5,
		put:     func(s *spot, e *Edit) error { return s.destination().takesAtMost(e.Word) }},
	{Path: "show/destinations/N/window", Name: "shape of the window {sub} is seen in",
		Words: []Word{{"as-sent", "As it is sent"}, {"4:3", "4:3"}, {"1:1", "A square"}, {"9:16", "9:16, upright"},
			{"21:9", "21:9"}},
		Ask: "In a window of which shape do people see {sub}?",
		How: "Open it as a viewer does, on a phone too: does it fill its window, and what is cut off?", Minutes: 2,
		put: choose(func(s *spot) *string { return &s.destination().Window })},
	{Path: "show/destinations/N/takesAudio", Name: "highest audio bitrate {sub} takes", Unit: "kb/s",
		Words: words([]string{"96", "128", "160", "320", "512"}),
		Ask:   "How many kilobits a second of sound does {sub} take at most?",
		How:   "Its help page says; 128 is taken nearly everywhere.", Minutes: 5,
		put: func(s *spot, e *Edit) error {
			d := s.destination()
			in := Ingest{}
			if d.Ingest != nil {
				in = *d.Ingest
			}
			kbps, err := strconv.ParseFloat(e.Word, 64)
			in.MaxAudioKbps, d.Ingest = kbps, &in
			return err
		}},
	{Path: "show/destinations/N/takesLeast", Name: "lowest video bitrate {sub} takes", Unit: "kb/s",
		Words: []Word{{"0", "Any, however low"}, {"400", "400"}, {"1000", "1000"}, {"3000", "3000"}, {"6000", "6000"},
			{"8000", "8000"}},
		Ask: "How many kilobits a second of video does {sub} want at least?",
		How: "Its help page says; many name none. A lower one is refused or looks broken to it.", Minutes: 5,
		put: func(s *spot, e *Edit) error {
			d := s.destination()
			in := Ingest{}
			if d.Ingest != nil {
				in = *d.Ingest
			}
			kbps, err := strconv.ParseFloat(e.Word, 64)
			in.MinVideoKbps, d.Ingest = &kbps, &in
			return err
		}},
	{Path: "show/destinations/N/range", Name: "range of brightness sent to {sub}",
		Words: []Word{{"limited", "Limited, 16 to 235"}, {"full", "Full, 0 to 255"}},
		put:   choose(func(s *spot) *string { return &s.destination().Send.Range })},
	{Path: "show/destinations/N/rangeSeen", Name: "full range at the far end of {sub}", Words: yesNo,
		Ask: "Is the picture right at the far end of {sub}, with full range?",
		How: "A private stream, a phone: black clothes still have folds, and white paper still has lines.", Minutes: 6,
		put: choose(func(s *spot) *string { return &s.destination().Send.RangeSeen })},
	{Path: "show/destinations/N/encoder", Name: "what codes the picture for {sub}", Words: encoderWords(),
		put: choose(func(s *spot) *string { return &s.destination().Send.Encoder })},
	{Path: "show/recordings/N/kbps", Name: "bitrate of {sub}", Unit: "kb/s", Units: "kilobits a second", Low: 1,
		High:    1e8,
		Ask:     "Which bitrate has a test recording of {sub}?",
		How:     "Record two minutes of the real scene, with movement: its size in megabytes × 8000 ÷ its seconds. What a player shows as its rate may differ; size and time do not lie.",
		Minutes: 6,
		number:  func(s *spot) **fact.Fact { return &s.recording().Kbps }},
	{Path: "show/recordings/N/encoder", Name: "what codes {sub}", Words: encoderWords("stream"),
		put: choose(func(s *spot) *string { return &s.recording().Encoder })},
	{Path: "show/destinations/N/transport", Name: "how it is sent to {sub}", Words: words(transports),
		put: choose(func(s *spot) *string { return &s.destination().Transport })},
	{Path: "show/recordings/N/drive", Name: "drive of {sub}", put: choose(func(s *spot) *string {
		return &s.recording().Drive
	})},
	{Path: "show/recordings/N/rawBits", Name: "bits a pixel of {sub}, raw",
		Words: words([]string{"0", "10", "12", "14", "16"}),
		put: func(s *spot, e *Edit) error {
			n, err := strconv.Atoi(e.Word)
			if err != nil || n < 0 || n > 16 {
				return fmt.Errorf("%q: want bits a pixel, a whole number from 0 (not raw) to 16", e.Word)
			}
			s.recording().RawBits = n
			return nil
		}},
	{Path: "show/recordings/N/rawRatio", Name: "compression of {sub}, raw",
		put: func(s *spot, e *Edit) error {
			v, err := strconv.ParseFloat(e.Word, 64)
			if err != nil || !(v >= 1 && v <= 100) {
				return fmt.Errorf("%q: want what raw is compressed by, 1 to 100", e.Word)
			}
			s.recording().RawRatio = v
			return nil
		}},
	{Path: "show/recordings/N/restarts", Name: "starting {sub} again in time",
		Words: []Word{{"yes", "Stopped and started again in time"}, {"no", "Left to run"}},
		put: func(s *spot, e *Edit) error {
			if e.Word != "yes" && e.Word != "no" {
				return fmt.Errorf("%q: want yes or no", e.Word)
			}
			s.recording().Restarts = e.Word == "yes"
			return nil
		}},
	{Path: "show/recordings/N/container", Name: "container of {sub}",
		Words: words([]string{"fmp4", "mkv", "mp4", "mov"}), put: choose(func(s *spot) *string {
			return &s.recording().Container
		})},
	{Path: "show/destinations/N/maxMinutes", Name: "longest broadcast of {sub}", Unit: "min", Units: "minutes", Low: 1,
		High: 100000,
		Ask:  "After how many minutes does {sub} end a broadcast?",
		How:  "Its help page says; often four hours to two days.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.ingest().MaxMinutes }},
	{Path: "show/destinations/N/permission", Name: "permission to go live on {sub}", Words: []Word{{"yes", "Allowed"},
		{"no", "Not yet"}}, put: choose(func(s *spot) *string { return &s.destination().Permission })},
	{Path: "show/gamePct", Name: "graphics work beside the programme", Unit: "%",
		Units: "percent of the graphics processor", Low: 0, High: 100,
		Ask: "Which share of the graphics processor does the game or graphics work take?",
		How: "The system's task manager shows it while it runs; a cap on its frame rate lowers it.", Minutes: 3,
		number: func(s *spot) **fact.Fact { return &s.r.Show.GamePct }},
	{Path: "show/previewPct", Name: "share of a layer a preview takes", Unit: "%", Units: "percent of a layer", Low: 0,
		High:    100,
		Ask:     "How much does one of the program's previews take of a whole layer?",
		How:     "What the graphics processor takes with previews shown, less without, ÷ the previews ÷ what one layer takes.",
		Minutes: 8,
		number:  func(s *spot) **fact.Fact { return &s.r.Show.PreviewPct }},
	{Path: "show/destinations/N/held", Name: "a minute at full bitrate to {sub}", Words: yesNo,
		Ask: "Did a minute at the full bitrate arrive at {sub} without frames lost?",
		How: "Privately, at the hour of the show: the program counts frames lost while sending.", Minutes: 6,
		put: choose(func(s *spot) *string { return &s.destination().Held })},
	{Path: "show/date", Name: "day of the show", Ask: "On which day is the show?",
		How: "What was ordered has to be there before.", Minutes: 1,
		put: func(s *spot, e *Edit) error {
			if !IsDay(e.Word) {
				return fmt.Errorf("%q: want a day such as 2026-12-04", e.Word)
			}
			s.r.Show.Date = e.Word
			return nil
		}},
	{Path: "items/ID/arrives", Name: "arrival of {item}", put: func(s *spot, e *Edit) error {
		if e.Word != "" && !IsDay(e.Word) {
			return fmt.Errorf("%q: want a day such as 2026-12-04", e.Word)
		}
		s.it.Arrives = e.Word
		return nil
	}},
	{Path: "items/ID/set/sleep", Name: "sleep of {item}", Words: onOff, put: undisturbed("sleep")},
	{Path: "items/ID/set/updates", Name: "updates of {item}", Words: onOff, put: undisturbed("updates")},
	{Path: "items/ID/set/notices", Name: "notices of {item}", Words: onOff, put: undisturbed("notices")},
	{Path: "uplink/lossPct", Name: "loss of the line", Unit: "%", Units: "percent", Low: 0, High: 100,
		Ask:     "How many packets does the line lose on the way out, in percent?",
		How:     "Two hundred pings to the ingest, at the hour of the show: the last line says the loss and the round trip.",
		Minutes: 4,
		Usual:   []float64{0, 0.1, 1},
		number:  func(s *spot) **fact.Fact { return &s.uplink().LossPct }},
	{Path: "uplink/rttMs", Name: "round trip of the line", Unit: "ms", Units: "milliseconds", Low: 0.1, High: 5000,
		Ask: "How long is the round trip to the ingest?",
		How: "Pings to the ingest, at the hour of the show: their mean.", Minutes: 2,
		Usual:  []float64{10, 30, 100},
		number: func(s *spot) **fact.Fact { return &s.uplink().RTTMs }},
	{Path: "uplink/allowanceGB", Name: "data allowance", Unit: "GB", Units: "gigabytes", Low: 0, High: 1e6,
		Ask: "How many gigabytes of the data allowance are left?", How: "The line's own page or the phone's settings.",
		Minutes: 2,
		number:  func(s *spot) **fact.Fact { return &s.uplink().AllowanceGB }},
	{Path: "uplink/secondMbps", Name: "second line", Unit: "Mb/s", Units: "megabits a second", Low: 0, High: 100000,
		Ask: "How much does the second line send?", How: "A measurement at the hour of the show, over that line.",
		Minutes: 3,
		number:  func(s *spot) **fact.Fact { return &s.uplink().SecondMbps }},
	{Path: "uplink/whose", Name: "whose line it is", Words: []Word{{"own", "One's own"},
		{"limited", "One's own, with a data allowance"}, {"venue", "A venue's network"}, {"phone", "A phone's"}},
		put: choose(func(s *spot) *string { return &s.uplink().Whose })},
	{Path: "uplink/triedThere", Name: "whether the venue's network was tried", Words: yesNo,
		Ask:     "Has a minute been sent to the real ingest from the place?",
		How:     "There, by its network: sign in, send 60 s privately, and look at the destination's own preview.",
		Minutes: 10,
		put:     choose(func(s *spot) *string { return &s.uplink().TriedThere })},
	{Path: "show/calls/N/upKbps", Name: "uplink of a call", Unit: "kb/s", Units: "kilobits a second", Low: 0, High: 1e6,
		Ask: "How many kilobits a second does the call send?",
		How: "1500 to 3000 at 720p, 3000 to 4000 at 1080p; the call program shows it.", Minutes: 3,
		number: func(s *spot) **fact.Fact { return &s.call().UpKbps }},
	{Path: "show/calls/N/downKbps", Name: "what comes in of a call", Unit: "kb/s", Units: "kilobits a second", Low: 0,
		High: 1e7,
		Ask:  "How many kilobits a second come in by the call, in all?",
		How:  "600 to 3000 for each person shown; the call program shows it.", Minutes: 3,
		number: func(s *spot) **fact.Fact { return &s.call().DownKbps }},
	{Path: "show/calls/N/downMpxS", Name: "pictures that come in of a call", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0, High: 1e5,
		Ask:     "How many megapixels a second of pictures come in of the call?",
		How:     "Width × height × frames a second, for each person: 640×360 at 30 is 7, 1280×720 at 30 is 28. The call program's statistics show it.",
		Minutes: 5,
		number:  func(s *spot) **fact.Fact { return &s.call().DownMpxS }},
	{Path: "show/screenMpxS", Name: "recording of the screen", Unit: "Mpx/s", Units: "megapixels a second", Low: 0,
		High:    1e5,
		Ask:     "How many megapixels a second does the recording of the screen take?",
		How:     "Width × height × frames a second: 1920×1080 at 30 is 62, 2560×1440 at 30 is 111, 3840×2160 at 30 is 249.",
		Minutes: 2,
		number:  func(s *spot) **fact.Fact { return &s.r.Show.ScreenMpxS }},
	{Path: "show/calls/N/persons", Name: "people whose pictures come in by a call",
		Words: words([]string{"1", "2", "3", "4"}),
		Ask:   "How many people's pictures come in by the call?", How: "Count those whose cameras are on.", Minutes: 1,
		put: func(s *spot, e *Edit) error {
			n, err := strconv.Atoi(e.Word)
			if err != nil || n < 0 || n > 500 {
				return fmt.Errorf("%q: want a whole number from 0 to 500", e.Word)
			}
			s.call().Persons = n
			return nil
		}},
	{Path: "uplink/downMbps", Name: "download of the line", Unit: "Mb/s", Units: "megabits a second", Low: 0, High: 1e5,
		Ask: "How many megabits a second does the line of this place download?",
		How: "Measure at the hour of the show, by cable.", Minutes: 5, Usual: []float64{20, 50, 100, 250},
		number: func(s *spot) **fact.Fact { return &s.uplink().DownMbps }},
	{Path: "uplink/estimateMbps", Name: "upload of the line", Unit: "Mb/s", Units: "megabits a second", Low: 0,
		High: 1e5,
		Ask:  "How many megabits a second does the line of this place upload?",
		How:  "Measure at the hour of the show, by cable, on several days.", Minutes: 5,
		Usual:  []float64{5, 10, 20, 50},
		number: func(s *spot) **fact.Fact { return &s.uplink().EstimateMbps }},
	{Path: "uplink/reading", Name: "measured upload", Unit: "Mb/s", Units: "megabits a second", Low: 0, High: 1e5,
		Ask: "How many megabits a second does the line of this place upload?",
		How: "Measure at the hour of the show, by cable, on several days.", Minutes: 5,
		put: func(s *spot, e *Edit) error {
			if e.Fact == nil {
				return errNowhere
			}
			up := s.uplink()
			up.MeasuredMbps = append(slices.Clip(up.MeasuredMbps), UplinkReading{Value: e.Fact.Value, At: e.At,
				By: e.Word, Least: e.Fact.High > e.Fact.Value})
			if e.Word != "" && e.Word != "wired" && e.Word != "air" {
				return fmt.Errorf("%q: want wired or air", e.Word)
			}
			return nil
		}},

	{Path: "items/ID/clean", Name: "clean output of {item}",
		Words: []Word{{string(gear.AlwaysClean), "Clean as it comes"},
			{string(gear.AfterSetting), "Clean once its display is off"}, {string(gear.NeverClean), "Never clean"},
			{string(gear.UnknownClean), ""}},
		Ask:     "Does {item} send a clean picture, without menus, boxes or borders?",
		How:     "Feed on the screen; half-press focus, change exposure, wait past the idle time, start and stop a recording.",
		Minutes: 5, Clip: true,
		put: choose(func(s *spot) *gear.Clean { return &s.gear().Clean })},
	{Path: "items/ID/protected", Name: "protection of {item}",
		Words: []Word{{string(gear.NeverProtected), "Yes, as it comes"}, {string(gear.UntilTurnedOff),
			"Only once its own menu says so"}, {string(gear.AlwaysProtected), "No, black"},
			{string(gear.UnknownProtected), ""}},
		Ask: "Does {item} show a picture through a capture device?",
		How: "Connect it once and look. Its own menu may have a switch for it.", Minutes: 5,
		put: choose(func(s *spot) *gear.Protected { return &s.gear().Protected })},
	{Path: "items/ID/oddSizes", Name: "what {item} makes of odd sizes",
		Words: []Word{{string(picture.Box), "Borders around it"}, {string(picture.Crop), "Cuts the edges off"},
			{string(picture.Stretch), "Pulls it out of shape"}, {string(picture.Refuse), "Shows nothing"},
			{string(picture.UnknownHow), ""}},
		Ask: "What does {item} make of a picture of another size?", How: "Connect it and look at all four edges.",
		Minutes: 5,
		put:     choose(func(s *spot) *picture.How { return &s.gear().OddSizes })},
	{Path: "items/ID/overview", Name: "whether {item} shows all its inputs", Words: yesNo,
		put: choose(func(s *spot) *string { return &s.gear().Overview })},
	{Path: "items/ID/driver", Name: "what has to be installed for {item}",
		Words: words([]string{"none", "driver", "software", "unknown"}), put: choose(func(s *spot) *string {
			return &s.gear().Driver
		})},
	{Path: "items/ID/usb2", Board: "one bus, or one each?", Name: "480 Mb/s buses behind these sockets of {item}",
		Words: []Word{{"shared", "They share one"}, {"apart", "Each has its own"}, {"unknown", ""}},
		Ask:   "Do the USB 2 sides of the sockets of {item} share one 480 Mb/s bus?",
		How:   "The system's USB listing: devices under one root hub of 480M share it.", Minutes: 3,
		put: choose(func(s *spot) *string { return &s.gear().USB2 })},
	{Path: "items/ID/usb2Packets", Name: "what one 480 Mb/s bus carries",
		Words:   []Word{{"5", "Yes, all of them start"}, {"4", "No, the last one is refused"}},
		Ask:     "Do all streams on the 480 Mb/s bus of {item} start together?",
		How:     "Open them one after the other in the program; a reserving stream that does not fit is refused when it opens.",
		Minutes: 5,
		put:     func(s *spot, e *Edit) error { s.gear().USB2Packets = int(e.Word[0] - '0'); return nil }},
	{Path: "items/ID/delivers", Name: "what {item} delivers",
		Ask:     "Which picture does {item} deliver?",
		How:     "Its data sheet or v4l2-ctl --list-formats-ext lists them; on the shelf the whole list can be read in.",
		Minutes: 5,
		put:     func(s *spot, e *Edit) error { return delivers(s.gear(), e) }},
	{Path: "items/ID/deliver/PORT", Name: "format {item} delivers", Unit: "MB/s",
		Ask: "Which picture does the program take from {item}?", How: "Look in the program's settings of that source.",
		Minutes: 2},
	{Path: "items/ID/output/PORT", Name: "picture {item} sends",
		Ask: "Which picture does {item} send?",
		How: "Look in its output menu, and set it rather than leaving it on auto.", Minutes: 2},
	{Path: "items/ID/busMBps", Name: "what {item} takes of the bus", Unit: "MB/s", Units: "megabytes a second", Low: 0,
		High: 1e4,
		Ask:  "How many megabytes a second does {item} move while the show runs?",
		How:  "The system's own activity display shows it.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.gear().BusMBps }},
	{Path: "items/ID/uplinkMBps", Name: "uplink of the sockets of {item} without a named controller", Unit: "MB/s",
		Units: "megabytes a second", Low: 1, High: 1e6,
		Ask: "How much do the sockets of {item} without a named controller carry together?",
		How: "An add-in card on one Gen 2 lane carries 410 MB/s; a controller in the chipset about 3900.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.gear().UplinkMBps }},
	{Path: "items/ID/recordLimitMinutes", Name: "recording limit of {item}", Unit: "min", Units: "minutes", Low: 0.1,
		High: 1e5,
		Ask:  "How long does {item} record at a time?", How: "Its handbook says.", Minutes: 3,
		number: func(s *spot) **fact.Fact { return &s.gear().RecordLimitMinutes }},
	{Path: "items/ID/freeGB", Board: "how much is free on it?", Name: "free space of {item}", Unit: "GB",
		Units: "decimal gigabytes", Low: 0, High: 1e7,
		Ask: "How many gigabytes are free on {item}?", How: "The system's own display of the drive.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.gear().FreeGB }},
	{Path: "items/ID/writeMBps", Board: "how fast does it write?", Name: "sustained write of {item}", Unit: "MB/s",
		Units: "megabytes a second", Low: 0, High: 1e5,
		Ask: "How many megabytes a second does {item} write for long?",
		How: "Copy a file larger than its memory and take the time.", Minutes: 10, number: func(s *spot) **fact.Fact {
			return &s.gear().WriteMBps
		}},
	{Path: "items/ID/fileSystem", Name: "file system of {item}", Words: []Word{{"fat32", "FAT32"}, {"exfat", "exFAT"},
		{"other", "Another"}},
		Ask:     "Which file system has {item}?",
		How:     "Its properties in the system's file manager, or what a camera formatted it as: cards up to 32 GB are FAT32 as a rule, larger ones exFAT.",
		Minutes: 2,
		put:     choose(func(s *spot) *string { return &s.gear().FileSystem })},
	{Path: "items/ID/class", Board: "which kind of computer?", Name: "kind of computer {item} is", Unit: "Mpx/s",
		Words: []Word{{string(gear.SmallLaptop), "Small laptop"}, {string(gear.GoodLaptop), "Good laptop"},
			{string(gear.MidDesktop), "Desktop"}, {string(gear.LargeDesktop), "Large desktop"},
			{string(gear.Laptop), "Some laptop"}, {string(gear.DesktopClass), "Some desktop"}},
		Ask:     "Which kind of computer is {item}?",
		How:     "Small: thin, or some years old. Better: let Even Tether measure it, on the Send screen or by eventether measure.",
		Minutes: 1,
		put:     choose(func(s *spot) *gear.Class { return &s.gear().Class })},
	{Path: "items/ID/computes/encodeMpxS", Name: "software H.264 of {item} at veryfast", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e5,
		Ask:     "How fast does {item} code H.264?",
		How:     "Let Even Tether measure it: on the Send screen, or eventether measure on that computer. 62 is 1080p30, 124 is 1080p60.",
		Minutes: 4,
		number:  func(s *spot) **fact.Fact { return &s.computes().EncodeMpxS }},
	presetField("ultrafast", "software H.264 of {item} at ultrafast", "How fast does {item} code H.264 at ultrafast?"),
	presetField("superfast", "software H.264 of {item} at superfast", "How fast does {item} code H.264 at superfast?"),
	presetField("faster", "software H.264 of {item} at faster", "How fast does {item} code H.264 at faster?"),
	presetField("fast", "software H.264 of {item} at fast", "How fast does {item} code H.264 at fast?"),
	presetField("medium", "software H.264 of {item} at medium", "How fast does {item} code H.264 at medium?"),
	presetField("slow", "software H.264 of {item} at slow", "How fast does {item} code H.264 at slow?"),

	{Path: "items/ID/computes/ownMpxS", Name: "coding by programs of their own on {item}", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e5,
		Ask:     "How fast do browsers and calls on {item} code?",
		How:     "Let one send 1080p30 alone and look how much busier the processor gets: 62 ÷ that share. A half busier is 124.",
		Minutes: 5,
		number:  func(s *spot) **fact.Fact { return &s.computes().OwnMpxS }},
	{Path: "items/ID/computes/hardwareMpxS", Name: "hardware encoder of {item}", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e6,
		Ask: "How fast does the hardware encoder of {item} code H.264?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().HardwareMpxS }},
	{Path: "items/ID/computes/hardwareSessions", Name: "streams the hardware encoder of {item} codes at once",
		Units: "streams", Low: 1, High: 100,
		Ask: "How many streams does the hardware encoder of {item} code at once?",
		How: "Its maker's table says; or start one after the other in the program.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.computes().HardwareSessions }},
	{Path: "items/ID/computes/mjpegMpxS", Name: "MJPEG decoding of {item}", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e6,
		Ask: "How fast does {item} decode MJPEG?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().MJPEGMpxS }},
	{Path: "items/ID/computes/h264MpxS", Name: "H.264 decoding of {item}", Unit: "Mpx/s", Units: "megapixels a second",
		Low: 0.01, High: 1e6,
		Ask: "How fast does {item} decode H.264?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().H264MpxS }},
	{Path: "items/ID/computes/convertMpxS", Name: "conversion of pixel formats by {item}", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e6,
		Ask: "How fast does {item} convert pixel formats?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().ConvertMpxS }},
	{Path: "items/ID/computes/scaleMpxS", Name: "scaling by {item}", Unit: "Mpx/s", Units: "megapixels a second",
		Low: 0.01, High: 1e6,
		Ask: "How fast does {item} scale?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().ScaleMpxS }},
	{Path: "items/ID/computes/deinterlaceMpxS", Name: "deinterlacing by {item}", Unit: "Mpx/s",
		Units: "megapixels a second", Low: 0.01, High: 1e6,
		Ask: "How fast does {item} deinterlace?",
		How: "Let Even Tether measure it: on the Send screen, or eventether measure on that computer.", Minutes: 4,
		number: func(s *spot) **fact.Fact { return &s.computes().DeinterlaceMpxS }},
	{Path: "items/ID/computes/composeMpxS", Name: "composing by {item}", Unit: "Mpx/s", Units: "megapixels a second",
		Low: 0.01, High: 1e7,
		Ask:     "How much does the graphics processor of {item} compose?",
		How:     "Seldom a limit with a handful of layers; try the real layout and watch the program's own frame display.",
		Minutes: 10,
		number:  func(s *spot) **fact.Fact { return &s.computes().ComposeMpxS }},
	{Path: "items/ID/computes/memoryGBps", Name: "memory traffic of {item}", Unit: "GB/s", Units: "gigabytes a second",
		Low: 0.1, High: 1e4,
		Ask: "How much memory traffic does {item} move?",
		How: "Two memory modules move twice what one does; a memory test shows it.", Minutes: 10,
		number: func(s *spot) **fact.Fact { return &s.computes().MemoryGBps }},
	{Path: "items/ID/computes/idleShare", Name: "share of {item} taken before the show", Units: "a share of 1", Low: 0,
		High: 1,
		Ask:  "Which share of the processor of {item} is taken before the show starts?",
		How:  "The system's own activity display, with everything open that will be open: 0.1 is 10 %.", Minutes: 2,
		number: func(s *spot) **fact.Fact { return &s.computes().IdleShare }},
	{Path: "items/ID/standby/afterMinutes", Name: "idle time of {item}", Unit: "min", Units: "minutes", Low: 0.1,
		High: 1e5,
		Ask:  "After how many minutes does {item} sleep?", How: "Its menu or handbook says; or wait.", Minutes: 30,
		number: func(s *spot) **fact.Fact { return &s.standby().AfterMinutes }},
	{Path: "items/ID/standby/does", Name: "standby of {item}", Words: []Word{{"nothing", "It keeps sending"},
		{"resizes", "The picture changes size"}, {"black", "The picture goes"}, {"unknown", ""}},
		Ask: "What does {item} do when nobody touches it?",
		How: "Leave it alone with its picture on a screen, past its idle time.", Minutes: 30, Clip: true,
		put: choose(func(s *spot) *string { return &s.standby().Does })},
	{Path: "items/ID/heatLimits/N/minutes", Name: "run time of {item} by heat", Unit: "min", Units: "minutes",
		Low: 0.1, High: 1e5,
		Ask: "How many minutes does {item} run in this picture before heat stops it?",
		How: "Let it run once as in the show, closed screen and lamp on, and note the time.", Minutes: 90,
		stated: func(s *spot) *fact.Fact { return &s.heat().Minutes }},
	{Path: "items/ID/settings/SETTING/as", Name: "how {sub} of {item} stands as it comes",
		put: func(s *spot, e *Edit) error {
			s.gear().Settings = slices.Clone(s.gear().Settings)
			s.gear().Settings[s.n].As = e.Word
			return nil
		}},
	{Path: "items/ID/worksWith/PROGRAM", Name: "whether {item} works in {sub}", Words: []Word{{"works", "It works"},
		{"badly", "It works badly"}, {"no", "It does not"}, {"untested", ""}},
		Ask: "Does {item} work in {sub}?", How: "Open the program and choose it.", Minutes: 5,
		put: func(s *spot, e *Edit) error { worksWith(s.gear(), s.id, e); return nil }},

	{Path: "items/ID/power/drawW", Board: "how much does it draw?", Name: "draw of {item}", Unit: "W", Units: "watts",
		Low: 0, High: 5000,
		Ask: "How many watts does {item} draw?", How: "A USB or mains power meter shows it.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.power().DrawW }},
	{Path: "items/ID/power/supplyW", Name: "supply of {item}", Unit: "W", Units: "watts", Low: 0.1, High: 5000,
		Ask: "How many watts does the supply of {item} give?", How: "Volts × amperes, printed on it.", Minutes: 1,
		instead: func(r *Rig, of, _ string) Wording {
			if k := r.Item(of).Gear.Kind; k == gear.Hub || k == gear.Dock {
				return Wording{}
			}
			return Wording{"what {item} gives by USB", "How many watts does {item} give by USB?",
				"Volts × amperes printed on it, or a USB power meter."}
		},
		number: func(s *spot) **fact.Fact { return &s.power().SupplyW }},
	{Path: "items/ID/power/supplyVolts", Name: "voltage of the supply of {item}", Unit: "V", Units: "volts", Low: 1,
		High: 60,
		Ask:  "At which voltage does the supply of {item} work?", How: "Printed on it, before the amperes.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.power().SupplyVolts }},
	{Path: "items/ID/power/chargesW", Name: "what {item} charges the laptop with", Unit: "W", Units: "watts", Low: 0,
		High: 500,
		Ask:  "With how many watts does {item} charge the laptop? 0 when it does not.",
		How:  "Printed on it; the system's battery display shows what arrives.", Minutes: 2,
		number: func(s *spot) **fact.Fact { return &s.power().ChargesW }},
	{Path: "items/ID/power/powerFactor", Name: "power factor of {item}", Units: "a share of 1", Low: 0.1, High: 1,
		Ask: "Which power factor has {item}?", How: "On its plate, or by a mains meter.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.power().PowerFactor }},
	{Path: "items/ID/power/ratedA", Name: "rating of {item}", Unit: "A", Units: "amperes", Low: 0.5, High: 100,
		Ask: "How many amperes may {item} carry?", How: "It is printed on it.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.power().RatedA }},
	{Path: "items/ID/power/limitW", Name: "what {item} gives", Unit: "W", Units: "watts", Low: 1, High: 1e5,
		Ask: "How many W does {item} give?", How: "It is printed on it.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.power().LimitW }},
	{Path: "items/ID/power/limitVA", Name: "what {item} gives", Unit: "VA", Units: "volt-amperes", Low: 1, High: 1e5,
		Ask: "How many VA does {item} give?", How: "It is printed on it.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.power().LimitVA }},
	{Path: "items/ID/power/efficiency", Name: "efficiency of {item}", Units: "a share of 1", Low: 0.1, High: 1,
		Ask: "Which share of its battery reaches the outlets of {item}?", How: "Its data sheet says.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.power().Efficiency }},
	{Path: "items/ID/power/battery/mAh", Name: "battery capacity of {item}", Unit: "mAh", Units: "milliampere-hours",
		Low: 1, High: 1e6,
		Ask: "How many mAh has the battery of {item}?", How: "It is printed on the pack.", Minutes: 1,
		instead: func(r *Rig, of, _ string) Wording {
			if r.Item(of).Gear.Kind != gear.PowerBank {
				return Wording{}
			}
			return Wording{"capacity of {item}", "How many mAh has {item}?", "It is printed on it."}
		},
		stated: func(s *spot) *fact.Fact { return &s.battery().MAh }},
	{Path: "items/ID/power/battery/volts", Name: "battery voltage of {item}", Unit: "V", Units: "volts", Low: 0.5,
		High: 100,
		Ask:  "What voltage has the battery of {item}?", How: "It is printed on the pack.", Minutes: 1,
		instead: func(r *Rig, of, _ string) Wording {
			if r.Item(of).Gear.Kind != gear.PowerBank {
				return Wording{}
			}
			return Wording{"cell voltage of {item}", "At which voltage are the mAh of {item} rated?",
				"The cells', 3.6 to 3.7 V: the print says the watt-hours, or mAh and volts."}
		},
		stated: func(s *spot) *fact.Fact { return &s.battery().Volts }},
	{Path: "items/ID/power/battery/usableShare", Name: "usable share of the battery of {item}", Units: "a share of 1",
		Low: 0.01, High: 1,
		Ask: "Which share of its rating does the battery of {item} still give?",
		How: "0.9 new, 0.7 old or cold; run it down once and compare.", Minutes: 90,
		number: func(s *spot) **fact.Fact { return &s.battery().UsableShare }},
	{Path: "items/ID/power/mains", Name: "whether {item} can run on the mains",
		Words: []Word{{string(gear.MainsYes), "Yes, by its adapter"},
			{string(gear.MainsDummy), "Yes, by a dummy battery"}, {string(gear.MainsNo), "No"},
			{string(gear.MainsUnknown), ""}},
		Ask: "Can {item} run on the mains?", How: "An adapter for its own socket, or a dummy battery made for it.",
		Minutes: 5,
		put:     choose(func(s *spot) *gear.MainsPossible { return &s.power().Mains })},
	{Path: "items/ID/power/selfPowered", Board: "has it a supply?", Name: "whether {item} has a supply of its own",
		Words: []Word{{"no", "No, it lives on the socket"}, {"yes", "Yes, and it is plugged in"}, {"unknown", ""}},
		Ask:   "Has {item} a supply of its own, and is it plugged in?",
		How:   "Look for a socket for one, and for the lead.", Minutes: 1,
		put: choose(func(s *spot) *string { return &s.power().SelfPowered })},
	{Path: "items/ID/power/usb", Name: "what power by USB does for {item}", Words: []Word{{"runs", "It runs it"},
		{"charges", "It only charges it while it is off"}, {"no", "Nothing"}, {"unknown", ""}},
		Ask:     "What does power by USB do for {item}?",
		How:     "Plug it in while the camera runs and watch its battery sign for a quarter of an hour; some have a setting for it.",
		Minutes: 15,
		put:     choose(func(s *spot) *string { return &s.power().USB })},

	{Path: "items/ID/ports/PORT/hdmi/maxTmdsMHz", Name: "highest character rate of {item}", Unit: "MHz",
		Units: "megahertz", Low: 10, High: 2000,
		Ask: "Which HDMI version is the socket of {item}?",
		How: "165 MHz for 1.2 and full-HD sticks, 340 for 1.4 (4K30), 600 for 2.0 (4K60).", Minutes: 2,
		number: func(s *spot) **fact.Fact { return &s.hdmi().MaxTMDSMHz }},
	{Path: "items/ID/ports/PORT/hdmi/fixedRate", Name: "fixed-rate link of {item}", Unit: "Gb/s",
		Words: fixedRateWords(),
		Ask:   "Which fixed-rate link has the socket of {item}?",
		How:   "Its EDID says (for a sink), or its data sheet: 24, 32, 40 or 48 Gb/s.", Minutes: 3,
		put: choose(func(s *spot) *hdmi.FRL { return &s.hdmi().FixedRate })},
	{Path: "items/ID/ports/PORT/sdi/link", Name: "SDI link of {item}", Unit: "Mb/s", Words: sdiWords(),
		Ask: "How fast is the SDI socket of {item}?",
		How: "Beside the socket or in the data sheet: HD, 3G, 6G or 12G.", Minutes: 2,
		put: choose(func(s *spot) *sdi.Link { return &s.sdi().Link })},
	{Path: "items/ID/ports/PORT/sdi/level", Name: "mapping of 3G-SDI at {item}",
		Words: []Word{{string(sdi.LevelA), "Level A"}, {string(sdi.LevelB), "Level B"},
			{string(sdi.BothLevels), "Both"}, {string(sdi.UnknownLevel), ""}},
		Ask: "Which mapping of 3G-SDI has {item}?", How: "In its menu or data sheet: level A, level B, or both.",
		Minutes: 3,
		instead: func(r *Rig, of, sub string) Wording {
			if g := &r.Item(of).Gear; g.Ports[g.Port(sub)].Direction == gear.In {
				return Wording{"mapping {item} takes", "Which mapping of 3G-SDI does {item} take?",
					"In its data sheet: level A, level B, or both."}
			}
			return Wording{"mapping {item} sends", "Which mapping of 3G-SDI does {item} send?",
				"In its menu or data sheet: level A or level B."}
		},
		put: choose(func(s *spot) *sdi.Level { return &s.sdi().Level })},
	{Path: "items/ID/ports/PORT/takes420", Name: "whether {item} takes 4:2:0", Words: yesNo,
		Ask: "Does {item} take pictures at 4:2:0?",
		How: "Its EDID lists it, or its data sheet does; or connect it once and look.", Minutes: 3,
		put: choose(func(s *spot) *string { return &s.port().Takes420 })},
	{Path: "items/ID/ports/PORT/usb/speed", Board: "5 Gb/s, or 480 Mb/s?", Name: "speed of {port} on {item}",
		Unit: "MB/s", Words: speedWords(),
		Ask: "How fast is the USB socket “{port}” of {item}?",
		How: "The system's USB listing tells; a blue or marked socket is usually 5 Gb/s or more.", Minutes: 2,
		put: choose(func(s *spot) *usb.Speed { return &s.usb().Speed })},
	{Path: "items/ID/ports/PORT/usb/transfer", Board: "reserves its bandwidth?", Name: "how {item} uses the bus",
		Unit: "MB/s", Words: []Word{{string(usb.Isochronous), "It reserves (isochronous)"},
			{string(usb.Bulk), "It shares (bulk)"}, {string(usb.UnknownTransfer), ""}},
		Ask: "Does {item} reserve its bandwidth, or share it?",
		How: "The system's USB listing names the endpoint: isochronous or bulk.", Minutes: 3,
		put: choose(func(s *spot) *usb.Transfer { return &s.usb().Transfer })},
	{Path: "items/ID/ports/PORT/usb/reservesMBps", Name: "reservation of {item}", Unit: "MB/s",
		Units: "megabytes a second", Low: 0, High: 1e4,
		Ask:     "How many megabytes a second do the alternate settings of {item} reserve?",
		How:     "lsusb -v lists them (wMaxPacketSize × packets × 8000 microframes); most devices claim the largest.",
		Minutes: 5,
		number:  func(s *spot) **fact.Fact { return &s.usb().ReservesMBps }},
	{Path: "items/ID/ports/PORT/allowsMa", Name: "current of {port} on {item}", Unit: "mA", Units: "milliamperes",
		Low: 0, High: 50000,
		Ask: "How many milliamperes does the socket {port} allow?",
		How: "Its data sheet says; 500 for USB 2 and 900 for USB 3 where nothing is said.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.port().AllowsMA }},
	{Path: "items/ID/ports/PORT/volts", Name: "voltage of {port} on {item}", Unit: "V", Units: "volts", Low: 0,
		High: 60,
		Ask:  "How many volts has the socket {port} with everything plugged in?", How: "A USB power meter shows it.",
		Minutes: 5,
		number:  func(s *spot) **fact.Fact { return &s.port().Volts }},
	{Path: "items/ID/ports/PORT/slot/wired", Name: "what {port} carries", Unit: "MB/s",
		Ask:     "How is {port} of {item} wired?",
		How:     "The board's handbook lists generation and lanes of each slot; lspci -vv shows them for the card in it (LnkSta).",
		Minutes: 5,
		instead: func(r *Rig, of, _ string) Wording {
			if r.Item(of).Gear.Kind != gear.Card {
				return Wording{}
			}
			return Wording{"what {item} is made for", "Which generation and how many lanes has {item}?",
				"Its data sheet says; lspci -vv shows it (LnkCap)."}
		},
		put: func(s *spot, e *Edit) error {
			link, err := pcie.Parse(e.Word)
			if err == nil {
				within(s, &s.port().Slot).Link = link
			}
			return err
		}},
	{Path: "items/ID/ports/PORT/slot/sharing", Name: "share of {port} left beside what shares it",
		Words: []Word{{"whole", "The slot keeps all its lanes"}, {"half", "It is halved"}, {"off", "It is off"},
			{"unknown", ""}},
		Ask:     "What is left of {port} of {item} beside what shares it?",
		How:     "The board's handbook says what the other socket takes away; lspci -vv shows the card's width (LnkSta).",
		Minutes: 5,
		put: func(s *spot, e *Edit) error {
			p := s.port()
			if p.Slot == nil {
				return errors.New("nobody has said yet how the slot is wired")
			}
			within(s, &p.Slot).Sharing = e.Word
			return nil
		}},
	{Path: "items/ID/ports/PORT", Name: "whether {item} can take or send a picture",
		Ask: "Does {item} take this picture?", How: "Its data sheet lists the pictures; or connect it once and look.",
		Minutes: 3},
	{Path: "items/ID/delivers/N/bitsPerPixel", Name: "bits a pixel from {item}", Unit: "bit", Units: "bits",
		Low: 0.001, High: 64,
		Ask: "How many bits a pixel is the picture of {item}?",
		How: "Record ten seconds unaltered: bytes × 8 ÷ (width × height × frames).", Minutes: 10,
		instead: func(r *Rig, of, sub string) Wording {
			n, err := strconv.Atoi(sub)
			d := r.Item(of).Gear.Delivers
			if err != nil || n >= len(d) {
				return Wording{}
			}
			f := string(d[n].Format)
			return Wording{lang.Text("bits a pixel of %s from {item}", f),
				lang.Text("How many bits a pixel is the %s of {item}?", f),
				"Record ten seconds unaltered: bytes × 8 ÷ (width × height × frames)."}
		},
		number: func(s *spot) **fact.Fact { return &s.delivery().BitsPerPixel }},
	{Path: "items/ID/delivers/N/reservesMBps", Name: "what {item} reserves for one of its pictures", Unit: "MB/s",
		Units: "megabytes a second", Low: 0, High: 1e4,
		number: func(s *spot) **fact.Fact { return &s.delivery().ReservesMBps }},
	{Path: "items/ID/controllers/CONTROLLER/uplinkMBps", Name: "uplink of {sub}", Unit: "MB/s",
		Units: "megabytes a second", Low: 1, High: 1e6,
		Ask: "How much does the controller {sub} carry for all its ports?",
		How: "An add-in card on one Gen 2 lane carries 410 MB/s; a controller in the chipset about 3900.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.controller().UplinkMBps }},

	{Path: "items/ID/set/runsOn", Name: "what {item} runs on",
		Words: []Word{{"mains", "The mains, by an adapter or a dummy battery"}, {"battery", "Its own battery"},
			{"usb", "Power by USB"}, {"grip", "Two batteries in a grip"}},
		Ask: "What does {item} run on?", How: "Look at what is plugged into it, and at the label of the pack.",
		Minutes: 1,
		put:     choose(func(s *spot) *string { return &s.set().RunsOn })},
	{Path: "items/ID/set/infoDisplay", Name: "information display of {item}", Words: words([]string{"on", "off"}),
		put: choose(func(s *spot) *string { return &s.set().InfoDisplay })},
	{Path: "items/ID/set/settings/SETTING", Name: "{sub} of {item}", Ask: "How does the {sub} of {item} stand?",
		How: "In its menu.", Minutes: 1,
		put: func(s *spot, e *Edit) error {
			set := s.set()
			if set.Settings = maps.Clone(set.Settings); set.Settings == nil {
				set.Settings = map[string]string{}
			}
			set.Settings[s.id] = e.Word
			return nil
		}},
	{Path: "items/ID/set/upright", Name: "how {item} is held", Words: []Word{{"yes", "Upright"}, {"no", "Level"}},
		put: func(s *spot, e *Edit) error { s.set().Upright = e.Word == "yes"; return nil }},
	{Path: "items/ID/set/touched", Name: "touching {item} in time", Words: []Word{{"yes", "Touched in time"},
		{"no", "Left alone"}},
		put: func(s *spot, e *Edit) error { s.set().Touched = e.Word == "yes"; return nil }},
	{Path: "items/ID/set/protection", Name: "encryption of {item}", Words: words([]string{"on", "off"}),
		put: choose(func(s *spot) *string { return &s.set().Protection })},
	{Path: "items/ID/set/shutter", Name: "shutter of {item}",
		put: func(s *spot, e *Edit) (err error) { s.set().Shutter, err = picture.ParseExposure(e.Word); return err }},
	{Path: "items/ID/owned", Name: "whose {item} is", Words: []Word{{"owned", "Owned"}, {"borrowed", "Borrowed"},
		{"to-buy", "To buy"}},
		put: func(s *spot, e *Edit) error {
			yes := e.Word != "to-buy"
			s.it.Owned, s.it.Borrowed = &yes, e.Word == "borrowed"
			return nil
		}},
	{Path: "items/ID/price", Name: "price of {item}",
		put: func(s *spot, e *Edit) error {
			if e.Word == "" { // it has none any more
				s.it.Price = nil
				return nil
			}
			in := "EUR"
			if b := s.r.Show.Budget; b != nil {
				in = b.Currency
			}
			hundredths, currency, err := typed.Money(e.Word, in)
			if err != nil {
				return err
			}
			s.it.Price = &gear.Money{Amount: gear.Amount(hundredths), Currency: currency}
			return nil
		}},
	{Path: "items/ID/set/spares", Name: "charged batteries to change to, of {item}",
		put: func(s *spot, e *Edit) error {
			n, err := strconv.Atoi(e.Word)
			if err != nil || n < 0 || n > 50 {
				return fmt.Errorf("%q: want a whole number from 0 to 50", e.Word)
			}
			s.set().Spares = n
			return nil
		}},

	{Path: "sound/loudspeakers", Name: "loudspeakers in the room", Words: yesNo,
		Ask: "Are loudspeakers on in the room during the show?",
		How: "Also a laptop that plays the stream, and a call on speaker.", Minutes: 1,
		put: choose(func(s *spot) *string { return &s.sound().Loudspeakers })},
	{Path: "sound/monitor", Name: "what the speaker hears", Words: []Word{{"none", "Nothing"},
		{"direct", "The input itself"}, {"program", "The program's sound"}},
		put: choose(func(s *spot) *string { return &s.sound().Monitor })},
	{Path: "sound/paths/N/distanceM", Name: "distance of {sub}", Unit: "m", Units: "metres", Low: 0.005, High: 100,
		Ask: "How far is it from the mouth to the microphone: {sub}?", How: "A tape, or a hand's width of 0.1 m.",
		Minutes: 1, Usual: []float64{0.1, 0.3, 1, 3},
		number: func(s *spot) **fact.Fact { return &s.path().DistanceM }},
	{Path: "sound/paths/N/offsetMs", Name: "sound after picture, {sub}", Unit: "ms", Units: "milliseconds", Low: -5000,
		High: 5000,
		Ask:  "How late is the sound against the picture: {sub}?",
		How:  "Five claps before the camera in a test recording; the middle one. Early is below zero.", Minutes: 4,
		Usual:  []float64{-40, 0, 40, 100},
		number: func(s *spot) **fact.Fact { return &s.path().OffsetMs }},
	{Path: "sound/paths/N/headroomDb", Name: "headroom of {sub}", Unit: "dB", Units: "decibels", Low: 0, High: 120,
		Ask:     "How far under full scale do the loudest peaks stay: {sub}?",
		How:     "The input's meter in a minute of real speech: peaks at −12 dBFS are 12. A light that says clip is 0.",
		Minutes: 2, Usual: []float64{0, 6, 9, 12}, Clip: true,
		number: func(s *spot) **fact.Fact { return &s.path().HeadroomDB }},
	{Path: "sound/paths/N/oneLeg", Name: "lead of {sub}", Words: yesNo,
		Ask:     "Does the lead into the 3.5 mm socket carry one leg only: {sub}?",
		How:     "A lead made for it says balanced to unbalanced, or mono; a stereo lead carries both, which cancel.",
		Minutes: 2,
		put:     choose(func(s *spot) *string { return &s.path().OneLeg })},
	{Path: "sound/paths/N/on", Name: "where {sub} goes", Words: []Word{{"air", "On air"}, {"muted", "Muted"},
		{"track", "Its own track only"}},
		put: choose(func(s *spot) *string { return &s.path().On })},
	{Path: "items/ID/sound/needs", Name: "what the microphone of {item} is fed by", Words: []Word{{"none", "Nothing"},
		{"phantom", "48 V phantom power"}, {"plug-in", "Plug-in power"}, {"battery", "A battery of its own"},
		{"unknown", ""}},
		Ask: "What is the microphone of {item} fed by?",
		How: "Its data sheet; condensers on XLR mostly want 48 V, small ones on 3.5 mm plug-in power.", Minutes: 2,
		put: choose(func(s *spot) *string { return &s.sounds().Needs })},
	{Path: "items/ID/sound/feeds", Name: "what the input of {item} feeds microphones with",
		Words: []Word{{"none", "Nothing"}, {"phantom", "48 V phantom power"}, {"plug-in", "Plug-in power"},
			{"unknown", ""}},
		Ask: "What does the input of {item} feed microphones with?",
		How: "A switch marked 48 V, or plug-in power in its menu.", Minutes: 2,
		put: choose(func(s *spot) *string { return &s.sounds().Feeds })},
	{Path: "items/ID/sound/gives", Name: "level out of {item}", Words: []Word{{"microphone", "Microphone level"},
		{"consumer-line", "Line, −10 dBV"}, {"professional-line", "Line, +4 dBu"},
		{"digital", "Digital: USB, HDMI, SDI"}, {"unknown", ""}},
		Ask: "What level comes out of {item}?", How: "A switch beside the socket, or its data sheet.", Minutes: 2,
		put: choose(func(s *spot) *string { return &s.sounds().Gives })},
	{Path: "items/ID/sound/takes", Name: "level {item} takes",
		Words: []Word{{"microphone", "Microphone, of a camera or switcher"},
			{"preamplifier", "A microphone preamplifier"}, {"line", "Line"}, {"digital", "Digital: USB, HDMI, SDI"},
			{"unknown", ""}},
		Ask: "What level does the sound input of {item} take?", How: "Marked mic or line, or in its menu.",
		Minutes: 1,
		put:     choose(func(s *spot) *string { return &s.sounds().Takes })},
	{Path: "items/ID/sound/balanced", Name: "output of {item}", Words: []Word{{"yes", "Balanced"},
		{"no", "Unbalanced"}, {"unknown", ""}},
		Ask: "Is the output of {item} balanced?",
		How: "XLR and three-pole jacks marked balanced are; headphone and 3.5 mm outputs are not.", Minutes: 2,
		put: choose(func(s *spot) *string { return &s.sounds().Balanced })},
	{Path: "items/ID/sound/socket", Name: "sound input of {item}", Words: []Word{{"jack-3.5", "3.5 mm"},
		{"jack-6.3", "6.3 mm"}, {"xlr", "XLR"}, {"usb", "USB"}, {"air", "By air"}, {"unknown", ""}},
		Ask: "Which sound input does {item} have?", How: "Look at the socket the sound goes into.", Minutes: 1,
		put: choose(func(s *spot) *string { return &s.sounds().Socket })},
	{Path: "items/ID/sound/kHz", Name: "sample rate of {item}", Words: []Word{{"48", "48 kHz"}, {"44.1", "44.1 kHz"},
		{"96", "96 kHz"}, {"0", "It has none: analogue"}},
		Ask: "At which sample rate does {item} run?", How: "In its own settings, or the system's sound settings.",
		Minutes: 2,
		put: func(s *spot, e *Edit) error {
			v, err := strconv.ParseFloat(e.Word, 64)
			s.sounds().KHz = &v
			return err
		}},
	{Path: "items/ID/sound/processes", Name: "what {item} does to speech",
		Words: []Word{{"yes", "It treats it: echo cancelling, a gate"}, {"no", "Nothing"}, {"unknown", ""}},
		Ask:   "Does {item} treat speech: cancel echoes, gate, clean noise?",
		How:   "In its menu or its software; call programs and headsets for calls do.", Minutes: 3,
		put: choose(func(s *spot) *gear.Answer { return &s.sounds().Processes })},
	{Path: "items/ID/sound/autoLevel", Name: "automatic level control of {item}",
		Words:   []Word{{"yes", "On"}, {"no", "Off, or it has none"}, {"unknown", ""}},
		Ask:     "Is the automatic level control of {item} off?",
		How:     "Its sound menu: recording level by hand, no AGC, ALC or limiter that lifts pauses; in calls and the system's sound settings too.",
		Minutes: 3,
		put:     choose(func(s *spot) *gear.Answer { return &s.sounds().AutoLevel })},
	{Path: "items/ID/sound/microphone", Name: "microphone of {item}", Words: []Word{{"dynamic", "Dynamic"},
		{"condenser", "Condenser"}, {"lavalier", "Lavalier"}, {"headset", "Headset"}, {"built-in", "Built in"},
		{"unknown", ""}},
		put: choose(func(s *spot) *string { return &s.sounds().Microphone })},
	{Path: "sound/paths/N/pad", Name: "pad for {sub}", Words: []Word{{"yes", "With a pad"}, {"no", "Without"}},
		put: choose(func(s *spot) *string { return &s.path().Pad })},
	{Path: "sound/paths/N/input", Name: "input of {sub}", put: func(s *spot, e *Edit) error {
		n, err := strconv.Atoi(e.Word)
		if err != nil || n < 1 || n > 64 {
			return fmt.Errorf("%q: want the number of an input, 1 to 64", e.Word)
		}
		s.path().Input = n
		return nil
	}},
	{Path: "sound/paths/N/gainDb", Name: "gain of {sub}", Unit: "dB", put: func(s *spot, e *Edit) error {
		v, err := strconv.ParseFloat(e.Word, 64)
		if err != nil || !(v >= -30 && v <= 90) {
			return fmt.Errorf("%q: want decibels, -30 to 90", e.Word)
		}
		s.path().GainDB = &v
		return nil
	}},
	{Path: "sound/paths/N/delayMs", Name: "delay of {sub}", Unit: "ms", put: func(s *spot, e *Edit) error {
		v, err := strconv.ParseFloat(e.Word, 64)
		if err != nil || !(v >= 0 && v <= 5000) {
			return fmt.Errorf("%q: want milliseconds, 0 to 5000", e.Word)
		}
		s.path().DelayMs = &v
		return nil
	}},
	{Path: "sound/paths/N/middle", Name: "where {sub} is heard", Words: []Word{{"yes", "In the middle"},
		{"no", "On one side"}, {"unknown", ""}},
		Ask:     "Is {sub} heard in the middle, and whole in mono?",
		How:     "Headphones at the program: input 1 of an interface lands on the left until it is set to the middle. Then listen in mono.",
		Minutes: 2, Clip: true,
		put: choose(func(s *spot) *string { return &s.path().Middle })},
	{Path: "sound/paths/N/hum", Name: "hum in {sub}", Words: []Word{{"no", "None"}, {"yes", "It hums"},
		{"unknown", ""}},
		Ask: "Does {sub} hum in pauses?",
		How: "Everything plugged in as for the show, gain up, nobody speaking: listen on headphones.", Minutes: 3, Clip: true,
		put: choose(func(s *spot) *string { return &s.path().Hum })},
	{Path: "sound/paths/N/nextM", Name: "nearest other open microphone to {sub}", Unit: "m", Units: "metres",
		Low: 0.05, High: 100,
		Ask: "How far is the mouth of {sub} from the nearest other microphone that is open?",
		How: "A tape, from mouth to microphone.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.path().NextM }},
	{Path: "sound/paths/N/noiseDb", Name: "noise under {sub}", Unit: "dB", Units: "decibels", Low: 0, High: 130,
		Ask: "How far does the noise in pauses lie under the speech of {sub}?",
		How: "A test recording: the meter while speaking, less the meter in a pause, in decibels.", Minutes: 5,
		number: func(s *spot) **fact.Fact { return &s.path().NoiseDB }},
	{Path: "show/recordings/N/driftPpm", Name: "clock of {sub} against the program's", Unit: "ppm",
		Units: "parts per million", Low: 0, High: 1000,
		Ask: "How far does the clock of {sub} drift from the program's?",
		How: "Clap at the beginning and after an hour: milliseconds apart ÷ 3.6 are parts per million.", Minutes: 65,
		number: func(s *spot) **fact.Fact { return &s.recording().DriftPPM }},
	{Path: "show/recordings/N/resynced", Name: "how {sub} keeps time with the others",
		Words: []Word{{"yes", "Set right afterwards, or a common clock"}, {"no", "As it is"}},
		put:   choose(func(s *spot) *string { return &s.recording().Resynced })},
	{Path: "items/ID/pictureDelayMs", Name: "delay of the picture through {item}", Unit: "ms", Units: "milliseconds",
		Low: 0, High: 5000,
		Ask:     "How much does {item} delay the picture?",
		How:     "Film a running clock beside its picture on the screen, and count; or by claps against a microphone whose delay is known.",
		Minutes: 10,
		number:  func(s *spot) **fact.Fact { return &s.gear().PictureDelayMs }},
	{Path: "items/ID/sound/inputs", Name: "inputs of {item}", Units: "inputs", Low: 0, High: 256,
		Ask: "How many microphones does {item} take at once?",
		How: "Count its microphone sockets; some have a line input beside that is none.", Minutes: 1,
		Usual:  []float64{1, 2, 4, 8},
		number: func(s *spot) **fact.Fact { return &s.sounds().Inputs }},
	{Path: "items/ID/sound/delayMs", Name: "delay of sound through {item}", Unit: "ms", Units: "milliseconds", Low: 0,
		High:   2000,
		number: func(s *spot) **fact.Fact { return &s.sounds().DelayMs }},

	{Path: "leads/ID/lengthM", Board: "how long is it?", Name: "length of the lead {lead}", Unit: "m", Units: "metres",
		Low: 0, High: 2000,
		Ask: "How long is the lead {lead}?", How: "A tape measure, or the figure on the bag.", Minutes: 1,
		stated: func(s *spot) *fact.Fact { return &s.lead.LengthM }},
	{Path: "leads/ID/spanM", Name: "run of the lead {lead}", Unit: "m", Units: "metres", Low: 0, High: 2000,
		Ask: "How far has the lead {lead} to reach, along the way it lies?", How: "A tape along the walk.", Minutes: 3,
		number: func(s *spot) **fact.Fact { return &s.lead.SpanM }},
	{Path: "leads/ID/awg", Board: "how thick are its wires?", Name: "gauge of the lead {lead}", Units: "AWG", Low: 10,
		High: 36,
		Ask:  "Which gauge is printed on the USB lead {lead} for power?",
		How:  "Along the jacket, such as 28AWG/1P+24AWG/2C: the second is for power.", Minutes: 1,
		number: func(s *spot) **fact.Fact { return &s.lead.AWG }},
	{Path: "leads/ID/contactsOhm", Name: "contacts of both plugs of the lead {lead}", Unit: "Ω", Units: "ohms", Low: 0,
		High:    5,
		Ask:     "How much do the contacts of the USB lead {lead} resist?",
		How:     "Measure volts at both ends while the device runs: what is lost ÷ the current, less 2 × length × what a metre of the wire has.",
		Minutes: 10,
		number:  func(s *spot) **fact.Fact { return &s.lead.ContactsOhm }},
	{Path: "leads/ID/reachM", Name: "reach the maker promises for the lead {lead}", Unit: "m", Units: "metres",
		Low: 0.1, High: 5000,
		number: func(s *spot) **fact.Fact { return &s.lead.ReachM }},
	{Path: "leads/ID/grade", Board: "what is printed on it?", Name: "grade of the lead {lead}",
		Ask: "What is printed on the lead {lead}?", How: "Look along the jacket and on the plugs.", Minutes: 1,
		instead: func(r *Rig, of, _ string) Wording {
			l := r.Lead(of)
			_, p := r.Port(l.From)
			switch {
			case p == nil:
			case p.Connector.Family() == gear.USBFamily:
				return Wording{"grade of the lead {lead}", "What is the USB lead {lead} made for?",
					"Look at its marks; a thin lead from a charger is USB 2, or has no data wires at all."}
			case p.Connector.Family() == gear.SDIFamily:
				return Wording{"grade of the lead {lead}", "What is printed on the coax lead {lead}?",
					"Along the jacket: RG-6, RG-59, RG-179, or a maker's type."}
			case p.Connector.Family() == gear.HDMIFamily:
				return Wording{"grade of the lead {lead}", "What is printed on the HDMI lead {lead}?",
					"Look along the jacket and on the plugs."}
			}
			return Wording{}
		},
		put: func(s *spot, e *Edit) error { s.lead.Grade = e.Word; return nil }},
	{Path: "leads/ID/direction", Name: "which way round the lead {lead} lies", Words: []Word{{"right", "Yes"},
		{"wrong", "No"}},
		Ask: "Is the source end of the lead {lead} at the source?",
		How: "The plugs are marked, source and display or 1 and 2.", Minutes: 1,
		put: choose(func(s *spot) *string { return &s.lead.Direction })},
	{Path: "leads/ID/overWalk", Name: "whether the lead {lead} lies over a walk", Words: yesNo[:2],
		Ask: "Does the lead {lead} lie where people walk?", How: "Along the way it goes, from the camera to the desk.",
		Minutes: 1,
		put:     choose(func(s *spot) *string { return &s.lead.OverWalk })},
	{Path: "leads/ID/tried", Name: "whether the lead {lead} holds",
		Ask: "Does the lead {lead} hold?",
		How: "Run the picture for a quarter of an hour and look for sparkles or cuts to black.", Minutes: 15},
}

func profileWords() (out []Word) {
	for i := range Profiles {
		out = append(out, Word{Profiles[i].Word, fmt.Sprintf("%s, %v kb/s", Profiles[i].Word, Profiles[i].Kbps)})
	}
	return out
}

func fixedRateWords() []Word {
	out := []Word{{string(hdmi.SaidNone), "None"}}
	for _, f := range hdmi.FRLs {
		out = append(out, Word{string(f), string(f) + " Gb/s"})
	}
	return append(out, Word{string(hdmi.UnknownFRL), ""})
}

func sdiWords() (out []Word) {
	for _, l := range sdi.Links {
		out = append(out, Word{string(l), string(l) + "-SDI"})
	}
	return append(out, Word{string(sdi.UnknownLink), ""})
}

func speedWords() (out []Word) {
	for _, s := range usb.Speeds {
		out = append(out, Word{string(s), SpeedName(s)})
	}
	return append(out, Word{string(usb.UnknownSpeed), ""})
}

// SpeedName is a USB speed as people say it.
func SpeedName(s usb.Speed) string {
	switch s {
	case usb.HighSpeed:
		return lang.Text("USB 2, 480 Mb/s")
	case usb.Gen1:
		return "5 Gb/s"
	case usb.Gen1x2:
		return lang.Text("10 Gb/s on two lanes")
	case usb.Gen2:
		return "10 Gb/s"
	case usb.Gen2x2:
		return "20 Gb/s"
	case usb.Tunnel:
		return lang.Text("40 Gb/s (tunnelled)")
	}
	return lang.Text("speed unknown")
}

// byPath finds a field by its path with capitals for ids.
var byPath = func() map[string]*Field {
	m := make(map[string]*Field, len(Fields))
	for i := range Fields {
		f := &Fields[i]
		m[f.Path] = f
		f.scope = scopeOf(f.Path)
	}
	return m
}()

// FieldAt is the field with a path as it stands in Fields, nil when there is none.
func FieldAt(path string) *Field { return byPath[path] }

// lists are the parts of a path behind which an id or a place stands.
var lists = map[string]string{"ports": "PORT", "delivers": "N", "controllers": "CONTROLLER", "heatLimits": "N",
	"settings": "SETTING", "worksWith": "PROGRAM",
	"destinations": "N", "calls": "N", "recordings": "N", "paths": "N", "deliver": "PORT", "output": "PORT"}

// split takes a path apart: its field, and what stands for the ids.
func split(path string) (f *Field, of, sub string) {
	parts := strings.Split(path, "/")
	shape := slices.Clone(parts)
	at := 1
	if parts[0] == "items" || parts[0] == "leads" {
		if len(parts) < 3 {
			return nil, "", ""
		}
		shape[1], of, at = "ID", parts[1], 2
	}
	if at < len(parts) && parts[at] == "set" {
		at++
	}
	if at+1 < len(parts) && lists[parts[at]] != "" {
		shape[at+1], sub = lists[parts[at]], parts[at+1]
	}
	return byPath[strings.Join(shape, "/")], of, sub
}

// find fills in a spot of a field from the ids of its path.
func (f *Field) find(s *spot, of, sub string) error {
	s.id = sub
	return f.scope.find(s, of, sub)
}

// applyPath sets one fact or one choice. Whatever the path leads through is copied first.
func (r *Rig) applyPath(e *Edit) error {
	if e.Do == "fact" {
		if e.Fact == nil {
			return fmt.Errorf("fact is missing")
		}
		if err := e.Fact.Check(); err != nil {
			return err
		}
	}
	f, of, sub := split(e.Path)
	if f == nil {
		return noPath(e)
	}
	s := &spot{r: r, write: true}
	if err := f.find(s, of, sub); err != nil {
		if strings.HasPrefix(e.Path, "items/") && s.it == nil || strings.HasPrefix(e.Path, "leads/") {
			return err
		}
		return fmt.Errorf("path %q: %w", e.Path, err)
	}
	switch {
	case e.Do == "fact" && f.number != nil:
		*f.number(s) = e.Fact
	case e.Do == "fact" && f.stated != nil:
		*f.stated(s) = *e.Fact
	case f.put == nil || (e.Do == "fact") != (f.Path == "uplink/reading"):
		return noPath(e)
	default:
		if len(f.Words) > 0 && !slices.ContainsFunc(f.Words, func(w Word) bool { return w.Word == e.Word }) {
			return fmt.Errorf("path %q: %q is not one of %v", e.Path, e.Word, f.words())
		}
		switch err := f.put(s, e); {
		case errors.Is(err, errNowhere):
			return noPath(e)
		case err != nil:
			return fmt.Errorf("path %q: %w", e.Path, err)
		}
	}
	return nil
}

func (f *Field) words() (out []string) {
	for _, w := range f.Words {
		out = append(out, w.Word)
	}
	return out
}

func noPath(e *Edit) error { return fmt.Errorf("path %q: names no %s of a rig", e.Path, e.Do) }

// NamedFact is a numeric fact with its field and where it stands.
type NamedFact struct {
	Field   *Field
	Of, Sub string
	Path    string
	Fact    fact.Fact
}

// Facts lists every numeric fact the rig states, with its path, in the order of Fields.
func (r *Rig) Facts() []NamedFact {
	var out []NamedFact
	r.eachFact(func(f *Field, s *spot, of, sub string, at *fact.Fact) {
		out = append(out, NamedFact{f, of, sub, f.At(of, sub), *at})
	})
	return out
}

// eachFact visits every numeric fact the rig states.
func (r *Rig) eachFact(do func(f *Field, s *spot, of, sub string, at *fact.Fact)) {
	for i := range Fields {
		f := &Fields[i]
		if !f.IsNumber() {
			continue
		}
		f.everywhere(r, func(s *spot, of, sub string) {
			var at *fact.Fact
			if f.number != nil {
				at = *f.number(s)
			} else {
				at = f.stated(s)
			}
			if at != nil {
				do(f, s, of, sub, at)
			}
		})
	}
}

// At is the path of a field for the given ids.
func (f *Field) At(of, sub string) string {
	parts := strings.Split(f.Path, "/")
	for i, p := range parts {
		switch {
		case p == "ID":
			parts[i] = of
		case p != "" && strings.ToUpper(p) == p && p[0] >= 'A':
			parts[i] = sub
		}
	}
	return strings.Join(parts, "/")
}

// everywhere visits every place of a rig a field can stand in, for reading.
func (f *Field) everywhere(r *Rig, do func(s *spot, of, sub string)) {
	s := spot{r: r}
	f.scope.each(&s, func(of, sub string) { do(&s, of, sub) })
}

// FactAt gives the fact a numeric path names, or an error when it names none or is not set.
func (r *Rig) FactAt(path string) (fact.Fact, error) {
	for _, f := range r.Facts() {
		if f.Path == path {
			return f.Fact, nil
		}
	}
	return fact.Fact{}, fmt.Errorf("path %q: no such fact in this rig", path)
}

// inDocument is where a field stands in a rig file, for problems: items[0] "cam".gear.power.drawW.
func (f *Field) inDocument(s *spot, of, sub string) string {
	last := strings.TrimPrefix(f.Path, f.scope.within)
	return f.scope.in(s, of, sub) + strings.ReplaceAll(last, "/", ".")
}
