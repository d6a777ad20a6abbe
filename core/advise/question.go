package advise

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Question is one fact worth asking for, with what it would decide; of things that are alike it is one question.
type Question struct {
	Path    string   `json:"path"`
	Ask     string   `json:"ask"`
	How     string   `json:"how"`
	Minutes float64  `json:"minutes" doc:"What finding out takes"`
	Unit    string   `json:"unit"`
	Low     float64  `json:"low"`
	Value   float64  `json:"value"`
	High    float64  `json:"high"`
	Answers []Answer `json:"answers" doc:"The choices; none for a number, which is answered by a fact edit at path"`
	Decides float64  `json:"decides" doc:"Sum over untested limits of the share of answers that would decide each; a limit that is only a flaw counts a tenth"`
	Limits  []string `json:"limits" doc:"The untested limits that depend on it"`
	Alike   []Alike  `json:"alike" doc:"The same question of other things that are alike"`
	Number  bool     `json:"number" doc:"It can be answered by any number, besides the usual ones in answers"`
	Flaw    bool     `json:"flaw" doc:"It decides no more than whether something looks or sounds worse than it should"`
	Clip    string   `json:"clip,omitempty" doc:"What is to be looked at to answer it, as looking is told: sound:0, or a picture"`

	key     limit.Key
	like    string
	narrows float64
	ids     []engine.ID
}

// ClipOfSound begins what a recording of a way of sound is of, before its place among them.
const ClipOfSound = "sound:"

// clipOf is what is to be looked at for a fact: a way of sound, or the picture of a source; none where it does not get to
// the computer.
func clipOf(v *verdict.Verdict, f *limit.Fact) string {
	if strings.HasPrefix(f.Field, "sound/") {
		return ClipOfSound + f.Sub
	}
	for i := range v.Feeds {
		if feed := &v.Feeds[i]; feed.Source.ID == f.Of && feed.Bytes != nil {
			return feed.ID
		}
	}
	return ""
}

// Alike is the same question of another thing of the same kind and sheet.
type Alike struct {
	Path  string `json:"path"`
	Label string `json:"label" doc:"What it is of"`
}

// Answer is one choice and the edits that record it.
type Answer struct {
	Label string     `json:"label"`
	Edits []rig.Edit `json:"edits"`
	All   []rig.Edit `json:"all" doc:"The same answer for everything alike, this included"`
}

// worth is what a question decides against the effort: ten minutes halve it.
func (q *Question) worth() float64 { return q.Decides / (1 + q.Minutes/10) }

// flawWeight is what a limit that is no more than a flaw counts beside one that breaks the rig.
const flawWeight = 0.1

// Questions gathers what untested limits depend on, ranked by how much each fact would decide for the minutes it takes
// to find out, then by how much it would narrow. Facts alike of things alike are one question.
func Questions(v *verdict.Verdict) []Question {
	out := []Question{}
	at := map[limit.Key]int{}
	for i := range v.Results {
		l := &v.Results[i]
		if l.State != limit.Untested {
			continue
		}
		weight := 1.0
		if !l.Over.Breaks() {
			weight = flawWeight
		}
		w := v.Word(l)
		for _, d := range l.Rank() {
			f, ask := &l.Facts[d.Fact], w.Facts[d.Fact].Ask
			if ask == nil {
				continue
			}
			k, ok := at[f.Key]
			if !ok {
				k = len(out)
				at[f.Key] = k
				out = append(out, Question{Path: f.Path(), Ask: ask.Question, How: ask.How, Minutes: ask.Minutes,
					Unit: f.Unit, Low: f.Low, Value: f.Value, High: f.High, Answers: []Answer{}, Alike: []Alike{},
					Flaw: true, key: f.Key, like: likeness(v, f)})
				choices := f.Choices()
				for j := range choices {
					out[k].Answers = append(out[k].Answers, Answer{plans.OptionLabel(f, &choices[j]), ask.Edits[j],
						ask.Edits[j]})
				}
				if field := rig.FieldAt(f.Field); field != nil && field.Clip {
					out[k].Clip = clipOf(v, f)
				}
				if out[k].Number = len(choices) == 0; out[k].Number {
					out[k].usual(f)
				}
			}
			q := &out[k]
			q.Decides += d.Decides * weight
			q.narrows += d.Narrows * weight
			q.Flaw = q.Flaw && !l.Over.Breaks()
			q.Limits, q.ids = append(q.Limits, l.ID.String()), append(q.ids, l.ID)
		}
	}
	rank := func(a, b Question) int {
		return cmp.Or(cmp.Compare(b.worth(), a.worth()), cmp.Compare(b.narrows, a.narrows),
			cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.Path, b.Path))
	}
	slices.SortStableFunc(out, rank)
	out = together(v, out)
	slices.SortStableFunc(out, rank)
	return out
}

// usual offers the numbers people usually find, where the field has such.
func (q *Question) usual(f *limit.Fact) {
	field := rig.FieldAt(f.Field)
	if field == nil {
		return
	}
	for _, n := range field.Usual {
		v := fact.Exactly(n)
		edits := []rig.Edit{{Do: "fact", Path: q.Path, Fact: &v}}
		q.Answers = append(q.Answers, Answer{say.Number(n) + " " + lang.Text(f.Unit), edits, edits})
	}
}

// likeness says which facts are alike: the same fact of items of one kind and sheet, of leads of one family and grade.
// Facts with other answers are never alike.
func likeness(v *verdict.Verdict, f *limit.Fact) string {
	if it := v.Item(f.Of); it != nil {
		sub := f.Sub
		if at := it.Gear.Port(f.Sub); at >= 0 { // ports alike
			sub = string(it.Gear.Ports[at].Connector) + string(it.Gear.Ports[at].Direction)
		}
		return f.Field + "\x00" + string(it.Gear.Kind) + "\x00" + it.Gear.Name + "\x00" + sub
	}
	if l := v.Lead(f.Of); l != nil {
		family := gear.Family("")
		if _, p := v.Port(l.From); p != nil {
			family = p.Connector.Family()
		}
		return f.Field + "\x00" + string(family) + "\x00" + l.Grade
	}
	return f.Path()
}

// together makes one question of those that are alike, the most deciding first.
func together(v *verdict.Verdict, all []Question) []Question {
	first := map[string]int{}
	out := all[:0]
	for i := range all {
		q := all[i]
		k, ok := first[q.like]
		if !ok || len(out[k].Answers) != len(q.Answers) || out[k].Unit != q.Unit {
			if !ok {
				first[q.like] = len(out)
			}
			out = append(out, q)
			continue
		}
		to := &out[k]
		to.Alike = append(to.Alike, Alike{q.Path, about(v, &q)})
		to.Decides, to.narrows, to.Flaw = to.Decides+q.Decides, to.narrows+q.narrows, to.Flaw && q.Flaw
		to.Low, to.High = min(to.Low, q.Low), max(to.High, q.High)
		for j := range to.Answers {
			to.Answers[j].All = append(slices.Clip(to.Answers[j].All), q.Answers[j].Edits...)
		}
		for j := range q.ids {
			if !slices.Contains(to.ids, q.ids[j]) {
				to.Limits, to.ids = append(to.Limits, q.Limits[j]), append(to.ids, q.ids[j])
			}
		}
	}
	return out
}

// about is what a question is of, in a few words.
func about(v *verdict.Verdict, q *Question) string {
	if it := v.Item(q.key.Of); it != nil {
		if at := it.Gear.Port(q.key.Sub); at >= 0 && len(it.Gear.Ports) > 1 && it.IsHost() {
			return rig.PortName(&it.Gear.Ports[at])
		}
		return it.Label
	}
	if l := v.Lead(q.key.Of); l != nil {
		return lang.Text("the lead %s", v.LeadTitle(l))
	}
	return q.Path
}
