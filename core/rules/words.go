package rules

import (
	"math"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
)

// Words are what a result says, in one language. They are made after judging, from its figures and ids.
type Words struct {
	*Pass
	Result  *Result
	What    string // what is limited
	Says    string // the judgement in one line
	Short   string // the figure on the board, where it is not the usual one (Figure)
	Sum     string // where the limit's number comes from
	Caution string
	Source  limit.Source
	Loads   []LoadWords // of Result.Loads
	Facts   []FactWords // of Result.Facts

	rank   []limit.Dependence
	ranked bool
}

// Rank is Limit.Rank of the result, worked out once.
func (w *Words) Rank() []limit.Dependence {
	if !w.ranked {
		w.rank, w.ranked = w.Result.Rank(), true
	}
	return w.rank
}

// LoadWords are what one load says.
type LoadWords struct {
	Label string
	Sum   string // the sum behind its number
}

// FactWords are what one fact says.
type FactWords struct {
	Name string
	Ask  *Ask // nil when nobody is asked for it
}

// Ask says how a fact is asked for. Edits holds, for each of the fact's options, the edits that answer it; a number is
// answered by a fact edit at the fact's path.
type Ask struct {
	Question string
	How      string
	Minutes  float64
	Edits    [][]rig.Edit
}

// Word puts a result into words.
func (p *Pass) Word(l *Result) *Words {
	w := p.told(l)
	w.Source.Name, w.Caution = lang.Text(w.Source.Name), lang.Text(w.Caution)
	for i := range l.Facts {
		if w.Facts[i].Ask == nil {
			w.Facts[i].Ask = p.ask(&l.Facts[i])
		}
	}
	return w
}

// What is what a result is called.
func (p *Pass) What(l *Result) string { return p.told(l).What }

// told is what a rule says of a result.
func (p *Pass) told(l *Result) *Words {
	w := &Words{Pass: p, Result: l, Loads: make([]LoadWords, len(l.Loads)), Facts: make([]FactWords, len(l.Facts))}
	say := l.Say
	if w.Source = l.ID.Rule.Source; say == nil {
		say = l.ID.Rule.Say
	}
	for i := range l.Loads {
		w.Loads[i].Label = p.labelOf(l.Loads[i].Item)
	}
	for i := range l.Facts {
		w.Facts[i].Name = p.FactName(&l.Facts[i])
	}
	if say != nil {
		say(w)
	}
	return w
}

// labelOf is what an id is called.
func (p *Pass) labelOf(id string) string {
	if i := p.Wiring.At(id); i >= 0 {
		return p.Items[i].Label
	}
	if l := p.Lead(id); l != nil {
		return p.leadName(l)
	}
	return id
}

// FactName is what a fact is called.
func (p *Plan) FactName(f *limit.Fact) string {
	field := rig.FieldAt(f.Field)
	if field == nil {
		return ""
	}
	return p.fill(field, field.Wording(p.Rig, f.Of, f.Sub).Name, f)
}

// ask is the question of a fact's field; nil for a figure of the rules, one nobody is asked for, and one that is known.
func (p *Pass) ask(f *limit.Fact) *Ask {
	field := rig.FieldAt(f.Field)
	if field == nil {
		return nil
	}
	t := field.Wording(p.Rig, f.Of, f.Sub)
	if t.Ask == "" {
		return nil
	}
	return p.askOf(f, p.fill(field, t.Ask, f), t.How, field.Minutes)
}

// askOf is a question in given words.
func (p *Pass) askOf(f *limit.Fact, question, how string, minutes float64) *Ask {
	a := &Ask{Question: question, How: how, Minutes: minutes}
	path := f.Path()
	for _, o := range f.Choices() {
		edits, ok := o.Do.([]rig.Edit)
		if !ok {
			edits = []rig.Edit{{Do: "word", Path: path, Word: o.Word}}
		}
		a.Edits = append(a.Edits, edits)
	}
	return a
}

// fill puts names into the gaps of a field's text.
func (p *Plan) fill(field *rig.Field, text string, f *limit.Fact) string {
	for {
		from, to := strings.IndexByte(text, '{'), strings.IndexByte(text, '}')
		if from < 0 || to < from {
			return text
		}
		name := ""
		switch it := p.Item(f.Of); text[from+1 : to] {
		case "item":
			if it != nil {
				name = it.Label
			}
		case "lead":
			if l := p.Lead(f.Of); l != nil {
				name = p.LeadTitle(l)
			}
		case "port":
			if it != nil {
				if at := it.Gear.Port(f.Sub); at >= 0 {
					name = rig.PortName(&it.Gear.Ports[at])
				}
			}
		case "sub":
			name = p.subName(field, it, f.Sub)
		}
		text = text[:from] + name + text[to+1:]
	}
}

// subName is what the second id of a path is called.
func (p *Plan) subName(field *rig.Field, it *rig.Item, sub string) string {
	switch {
	case strings.HasPrefix(field.Path, "sound/paths/"):
		if n, err := strconv.Atoi(sub); err == nil && p.Sound != nil && n < len(p.Sound.Paths) {
			return p.PathName(n)
		}
	case strings.HasPrefix(field.Path, "show/destinations/"):
		if n, err := strconv.Atoi(sub); err == nil && n < len(p.Show.Destinations) {
			return p.Show.Destinations[n].Name
		}
	case strings.HasPrefix(field.Path, "show/recordings/"):
		if n, err := strconv.Atoi(sub); err == nil && n < len(p.Show.Recordings) {
			return p.T("the %s", p.RecordingName(n))
		}
	case strings.Contains(field.Path, "/settings/") && it != nil:
		if s := it.Gear.Setting(sub); s != nil {
			return s.Known().Label
		}
	case strings.Contains(field.Path, "/worksWith/"):
		return programName(p.Show.Program)
	}
	return sub
}

// OptionLabel is how an option of a fact is offered.
func OptionLabel(f *limit.Fact, o *limit.Option) string {
	if o.Label != "" {
		return lang.Text(o.Label)
	}
	if field := rig.FieldAt(f.Field); field != nil {
		return field.Label(o.Word)
	}
	return o.Word
}

// T is lang.Text, which all wording goes through.
func (p *Plan) T(format string, args ...string) string { return lang.Text(format, args...) }

// Text is T for those who have no pass at hand.
func Text(format string, args ...string) string { return lang.Text(format, args...) }

// load is the load of the result between its bounds, with the unit.
func (w *Words) load() string {
	return Span(w.Result.Load.Low, w.Result.Load.High, w.Result.Unit)
}

// limit is the limit of the result between its bounds, with the unit: for AtLeast from what possibly does to what surely
// does.
func (w *Words) limit() string { return Span(w.Result.Sure, w.Result.Possible, w.Result.Unit) }

// Number writes a number as people do: whole when it is, else with three significant digits at least.
func Number(v float64) string {
	a := math.Abs(v)
	digits := 3
	switch {
	case v == math.Trunc(v) && a < 1e15, a >= 1000:
		digits = 0
	case a >= 100:
		digits = 1
	case a >= 1:
		digits = 2
	}
	s := strconv.FormatFloat(v, 'f', digits, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}

// Span writes one number, or both ends of a range, with its unit.
func Span(low, high float64, unit string) string {
	if low > high {
		low, high = high, low
	}
	if unit == "min" { // nobody counts seconds of a battery, and none are promised
		low, high = minutes(low), minutes(high)
	}
	unit = lang.Text(unit)
	a, b := Number(low), Number(high)
	if a == b {
		return strings.TrimSpace(a + " " + unit)
	}
	if high >= limit.Never {
		return strings.TrimSpace(a + " " + unit + lang.Text(" or more"))
	}
	return strings.TrimSpace(lang.Text("%s to %s", a, b) + " " + unit)
}

// minutes rounds down to what people can use: tenths, whole minutes from 100 on.
func minutes(v float64) float64 {
	if v >= 100 {
		return math.Floor(v)
	}
	return math.Floor(v*10+1e-6) / 10
}

// Percent writes a ratio as a share of the limit.
func Percent(r limit.Bounds) string {
	if r.High >= limit.Never {
		return lang.Text("past any limit")
	}
	low, high := math.Round(r.Low*100), math.Round(r.High*100)
	if low == high {
		return strconv.Itoa(int(low)) + " %"
	}
	return lang.Text("%s to %s", strconv.Itoa(int(low)), strconv.Itoa(int(high))) + " %"
}

var numerals = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}

// Count writes "one move", "three moves".
func Count(n int, one, many string) string {
	word := strconv.Itoa(n)
	if n >= 0 && n < len(numerals) {
		word = lang.Text(numerals[n])
	}
	if n == 1 {
		return word + " " + lang.Text(one)
	}
	return word + " " + lang.Text(many)
}

// List joins words with commas.
func List(words []string) string { return strings.Join(words, ", ") }

// Plain is a number as edits write it: a point, and no blanks.
func Plain(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// Sentence begins with a capital.
func Sentence(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// LeadTitle tells a lead by the things it joins.
func (p *Plan) LeadTitle(l *rig.Lead) string {
	from, to := p.Wiring.End(l.From), p.Wiring.End(l.To)
	if from == nil || to == nil {
		return l.ID
	}
	return lang.Text("from %s to %s", from.Label, to.Label)
}

// ModeText is a picture with its chroma and depth, where they are said.
func ModeText(m *picture.Mode) string {
	if m.Rate.IsZero() {
		return ""
	}
	text := m.Name()
	if m.Chroma != picture.NotSaid {
		text += " " + string(m.Chroma)
	}
	if m.Bits > 8 {
		text += lang.Text(" %s-bit", strconv.Itoa(m.Bits))
	}
	return text
}

func orElse(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

func round1(v float64) float64 { return float64(int(v*10+0.5)) / 10 }
