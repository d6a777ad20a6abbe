package advise

import (
	"cmp"
	"slices"

	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
)

// Question is one fact worth asking for, with what it would decide.
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
	Decides float64  `json:"decides" doc:"Sum over untested limits of the share of answers that would decide each, plus half a limit for each that hangs on a picture nobody has stated"`
	Limits  []string `json:"limits" doc:"The untested limits that depend on it"`

	key     limit.Key
	narrows float64
}

// Answer is one choice and the edits that record it.
type Answer struct {
	Label string     `json:"label"`
	Edits []rig.Edit `json:"edits"`
}

// follow counts what hangs on a picture nobody has stated: every untested limit that judges it further down would be
// judged anew, and half of that counts as deciding it.
func (q *Question) follow(results []rules.Result) {
	if q.key.Field != "items/ID/output/PORT" {
		return
	}
	for i := range results {
		l := &results[i]
		if l.State == limit.Untested && slices.Contains(picturesRules, l.ID.Rule) && slices.Contains(l.Where, q.key.Of) {
			q.Decides += 0.5
			q.Limits = append(q.Limits, l.ID.String())
		}
	}
}

var picturesRules = []limit.RuleID{"grade", "reach", "character-rate", "takes"}

// worth is what a question decides against the effort: ten minutes halve it.
func (q *Question) worth() float64 { return q.Decides / (1 + q.Minutes/10) }

// Questions gathers what untested limits depend on, ranked by how much each fact would decide for the minutes it takes
// to find out, then by how much it would narrow.
func Questions(v *judge.Verdict) []Question {
	out := []Question{}
	at := map[limit.Key]int{}
	for i := range v.Results {
		l := &v.Results[i]
		if l.State != limit.Untested {
			continue
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
					Unit: f.Unit, Low: f.Low, Value: f.Value, High: f.High, Answers: []Answer{}, key: f.Key})
				for j, o := range f.Choices() {
					out[k].Answers = append(out[k].Answers, Answer{rules.OptionLabel(f, &o), ask.Edits[j]})
				}
			}
			out[k].Decides += d.Decides
			out[k].narrows += d.Narrows
			out[k].Limits = append(out[k].Limits, l.ID.String())
		}
	}
	for k := range out {
		out[k].follow(v.Results)
	}
	slices.SortStableFunc(out, func(a, b Question) int {
		return cmp.Or(cmp.Compare(b.worth(), a.worth()), cmp.Compare(b.narrows, a.narrows), cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.Path, b.Path))
	})
	return out
}
