package engine

import (
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
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
		w.Loads[i].Label = p.LabelOf(l.Loads[i].Item)
	}
	for i := range l.Facts {
		w.Facts[i].Name = p.FactName(&l.Facts[i])
	}
	if say != nil {
		say(w)
	}
	return w
}

// LabelOf is what an id is called.
func (p *Pass) LabelOf(id string) string {
	if i := p.Wiring.At(id); i >= 0 {
		return p.Items[i].Label
	}
	if l := p.Lead(id); l != nil {
		return p.LeadName(l)
	}
	return id
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
	return p.AskOf(f, p.Fill(field, t.Ask, f), t.How, field.Minutes)
}

// AskOf is a question in given words.
func (p *Pass) AskOf(f *limit.Fact, question, how string, minutes float64) *Ask {
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

// LoadText is the load of the result between its bounds, with the unit.
func (w *Words) LoadText() string {
	return say.Span(w.Result.Load.Low, w.Result.Load.High, w.Result.Unit)
}

// LimitText is the limit of the result between its bounds, with the unit: for AtLeast from what possibly does to what
// surely does.
func (w *Words) LimitText() string { return say.Span(w.Result.Sure, w.Result.Possible, w.Result.Unit) }
