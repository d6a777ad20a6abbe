package judge

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"eventether/core/rig"
)

// Ask says how a fact is asked for. Edits holds, for each of the fact's options, the edits that answer it; a number is
// answered by a fact edit at the fact's path.
type Ask struct {
	Question string
	How      string
	Minutes  float64
	Edits    [][]rig.Edit
}

// ask words the question for a number, once somebody wants to ask it; nil in a quiet pass.
func (p *pass) ask(question, about, how string, minutes float64) func() Ask {
	if p.quiet {
		return nil
	}
	return func() Ask { return Ask{Question: fmt.Sprintf(question, about), How: how, Minutes: minutes} }
}

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
}

// Asked tells whether anybody is asked about what an untested limit depends on.
func Asked(l *Limit) bool {
	return slices.ContainsFunc(l.DependsOn, func(d Dependence) bool {
		return slices.ContainsFunc(l.Facts, func(b Basis) bool { return b.Path == d.Path && b.ask != nil })
	})
}

// Answer is one choice and the edits that record it.
type Answer struct {
	Label string     `json:"label"`
	Edits []rig.Edit `json:"edits"`
}

// follow counts what hangs on a picture nobody has stated: every untested limit that judges it further down would be
// judged anew, and half of that counts as deciding it.
func (q *Question) follow(limits []Limit) {
	parts := strings.Split(q.Path, "/")
	if len(parts) != 4 || parts[2] != "output" {
		return
	}
	for i := range limits {
		l := &limits[i]
		if l.State == Untested && slices.Contains(picturesRules, l.Rule) && slices.Contains(l.Where, parts[1]) {
			q.Decides += 0.5
			q.Limits = append(q.Limits, l.ID)
		}
	}
}

var picturesRules = []string{"grade", "reach", "character-rate", "takes"}

// worth is what a question decides against the effort: ten minutes halve it.
func (q *Question) worth() float64 { return q.Decides / (1 + q.Minutes/10) }

// questions gathers what untested limits depend on, ranked by how much each fact would decide for the minutes it takes
// to find out, then by how much it would narrow.
func questions(limits []Limit) []Question {
	out := []Question{}
	at := map[string]int{}
	narrows := map[string]float64{}
	for i := range limits {
		l := &limits[i]
		for _, d := range l.DependsOn {
			f := &l.Facts[slices.IndexFunc(l.Facts, func(b Basis) bool { return b.Path == d.Path })]
			if f.ask == nil {
				continue
			}
			k, ok := at[d.Path]
			if !ok {
				k = len(out)
				at[d.Path] = k
				ask := f.ask()
				out = append(out, Question{Path: d.Path, Ask: ask.Question, How: ask.How, Minutes: ask.Minutes,
					Unit: f.Unit, Low: f.Low, Value: f.Value, High: f.High, Answers: []Answer{}})
				for j := range ask.Edits {
					out[k].Answers = append(out[k].Answers, Answer{f.Options[j].Label, ask.Edits[j]})
				}
			}
			out[k].Decides += d.Decides
			narrows[d.Path] += d.narrows
			out[k].Limits = append(out[k].Limits, l.ID)
		}
	}
	for k := range out {
		out[k].follow(limits)
	}
	slices.SortStableFunc(out, func(a, b Question) int {
		return cmp.Or(cmp.Compare(b.worth(), a.worth()), cmp.Compare(narrows[b.Path], narrows[a.Path]), cmp.Compare(a.Minutes, b.Minutes))
	})
	return out
}
