package server

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/rules"
	levels "eventether/core/sound"
	"eventether/core/typed"
)

// RuleWords is one rule of the job, as people read it.
type RuleWords struct {
	ID      engine.Name `json:"id"`
	Subject string      `json:"subject"`
	Asks    string      `json:"asks" doc:"The question it answers"`
	Sum     string      `json:"sum,omitempty" doc:"The arithmetic in words; none for a yes or no"`
	Unit    string      `json:"unit,omitempty"`
	Over    string      `json:"over" doc:"What happens when it is over"`
	Source  string      `json:"source"`
	Example string      `json:"example"`
}

// FieldWords is one thing a rig or a spec sheet may state: what a form needs to know of it.
type FieldWords struct {
	Path  string      `json:"path" doc:"With capitals for ids: items/ID/power/drawW"`
	Unit  string      `json:"unit,omitempty"`
	Units string      `json:"units,omitempty" doc:"The unit in words"`
	Low   float64     `json:"low" doc:"Least a number may be"`
	High  float64     `json:"high" doc:"Most a number may be"`
	Words []FieldWord `json:"words" doc:"What a choice may be; none for a number or a free text"`
	How   string      `json:"how,omitempty" doc:"How to find it out"`
}

// FieldWord is one thing a choice may be.
type FieldWord struct {
	Word  string `json:"word"`
	Label string `json:"label"`
}

// TypedNumber is a number as somebody typed it, and what the field it was typed into takes.
type TypedNumber struct {
	Text  string   `json:"text" maxLength:"200"`
	Unit  string   `json:"unit,omitempty" maxLength:"20"`
	Units string   `json:"units,omitempty" maxLength:"60" doc:"The unit in words, for a message"`
	Low   *float64 `json:"low,omitempty"`
	High  *float64 `json:"high,omitempty"`
	Whole bool     `json:"whole,omitempty" doc:"Only a whole number is meant"`
}

// TypedMoney is an amount as somebody typed it, and the currency that is meant where none was.
type TypedMoney struct {
	Text     string `json:"text" maxLength:"200"`
	Currency string `json:"currency" pattern:"^[A-Z]{3}$"`
}

// ReadNumber is what was meant, in the unit of the field.
type ReadNumber struct {
	Value float64 `json:"value"`
}

// Clapped is what several claps come to, in milliseconds.
type Clapped struct {
	levels.Span
	Count int `json:"count"`
}

func (a *api) registerTables(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("GET", "/api/rules", "listRules",
		"Every rule: what it asks, its sum, where it comes from, an example"),
		func(context.Context, *struct{}) (*struct{ Body []RuleWords }, error) {
			out := &struct{ Body []RuleWords }{Body: []RuleWords{}}
			for _, r := range rules.InOrder() {
				over, source := r.InWords()
				out.Body = append(out.Body, RuleWords{r.Name, r.Subject.String(), lang.Text(r.Asks), lang.Text(r.Sum),
					r.Unit, over, source, lang.Text(r.Example)})
			}
			return out, nil
		})
	huma.Register(h, op("POST", "/api/number", "readNumber",
		"A number as it was typed: with a comma or a point, a unit of its kind, in pieces, as a fraction"),
		func(_ context.Context, in *struct{ Body TypedNumber }) (*struct{ Body ReadNumber }, error) {
			v, err := typed.Number(in.Body.Text, in.Body.Unit)
			if err != nil {
				return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
			}
			if in.Body.Whole && v != math.Trunc(v) {
				return nil, huma.NewError(http.StatusUnprocessableEntity, fmt.Sprintf("“%s” is no whole number",
					in.Body.Text))
			}
			if b := in.Body; b.Low != nil && b.High != nil {
				if past := typed.Within(v, *b.Low, *b.High, cmp.Or(b.Units, b.Unit)); past != "" {
					return nil, huma.NewError(http.StatusUnprocessableEntity, past)
				}
			}
			return &struct{ Body ReadNumber }{ReadNumber{v}}, nil
		})
	huma.Register(h, op("POST", "/api/money", "readMoney", "An amount as it was typed, with or without its currency"),
		func(_ context.Context, in *struct{ Body TypedMoney }) (*struct{ Body gear.Money }, error) {
			hundredths, currency, err := typed.Money(in.Body.Text, in.Body.Currency)
			if err != nil {
				return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
			}
			return &struct{ Body gear.Money }{gear.Money{Amount: gear.Amount(hundredths), Currency: currency}}, nil
		})
	huma.Register(h, op("POST", "/api/claps", "readClaps",
		"Several claps as one measurement: the middle one, between the least and the most"),
		func(_ context.Context, in *struct{ Body TypedNumber }) (*struct{ Body Clapped }, error) {
			all, err := typed.Numbers(in.Body.Text, "ms")
			if err != nil {
				return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
			}
			m, _ := levels.Claps(all)
			return &struct{ Body Clapped }{Clapped{m, len(all)}}, nil
		})
	huma.Register(h, op("GET", "/api/fields", "listFields",
		"Every field of a rig and its sheets: unit, bounds and words"),
		func(context.Context, *struct{}) (*struct{ Body []FieldWords }, error) {
			out := &struct{ Body []FieldWords }{Body: []FieldWords{}}
			for i := range rig.Fields {
				f := &rig.Fields[i]
				w := FieldWords{Path: f.Path, Unit: f.Unit, Units: lang.Text(f.Units), Low: f.Low, High: f.High,
					Words: []FieldWord{}, How: lang.Text(f.How)}
				for _, o := range f.Words {
					w.Words = append(w.Words, FieldWord{o.Word, f.Label(o.Word)})
				}
				out.Body = append(out.Body, w)
			}
			return out, nil
		})
}
