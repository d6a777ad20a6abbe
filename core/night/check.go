package night

import (
	"fmt"
	"math"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"eventether/core/rig"
)

// Refusal says why one operation was not kept. Others that came with it are.
type Refusal struct {
	ID    string `json:"id"`
	Field string `json:"field,omitempty" doc:"Which of its fields: text, incident.what, figure.value …; empty where it is the whole operation"`
	Why   string `json:"why"`
}

// LastTime is the end of the times we know of: the year 2100, in milliseconds since 1970.
const LastTime = 4102444800000

// What an operation may say stands once: in the tags of its fields, from which the description of the API is made too.
var (
	opID       = regexp.MustCompile(tag[Op]("ID", "pattern"))
	kinds      = strings.Split(tag[Op]("Kind", "enum"), ",")
	losses     = strings.Split(tag[Incident]("Loss", "enum"), ",")
	hops       = strings.Split(tag[Incident]("Hop", "enum"), ",")
	mostLost   = bound[Incident]("MinutesLost")
	mostFigure = bound[Figure]("Value")
)

// tag is what a field's tag says of a bound.
func tag[T any](field, name string) string {
	f, ok := reflect.TypeFor[T]().FieldByName(field)
	if text, said := f.Tag.Lookup(name); ok && said {
		return text
	}
	panic(fmt.Sprintf("%s of %s says no %s", field, reflect.TypeFor[T](), name))
}

// bound is the largest number of a field.
func bound[T any](field string) float64 {
	v, err := strconv.ParseFloat(tag[T](field, "maximum"), 64)
	if err != nil {
		panic(err)
	}
	return v
}

// longest is how long a text of a field may be, in characters, and shortest how short.
func longest[T any](field string) int  { return length[T](field, "maxLength") }
func shortest[T any](field string) int { return length[T](field, "minLength") }

func length[T any](field, name string) int {
	n, err := strconv.Atoi(tag[T](field, name))
	if err != nil {
		panic(err)
	}
	return n
}

// text is one text of an operation, as people wrote it.
type text struct {
	field string
	of    *string
	most  int
}

// Lengths of the texts of an operation, read off their tags once.
var (
	leastID, mostID                     = shortest[Op]("ID"), longest[Op]("ID")
	mostText, mostWho, mostStep, mostOf = longest[Op]("Text"), longest[Op]("Who"), longest[Op]("Step"),
		longest[Op]("Of")
	mostWhat, mostCause, mostCure = longest[Incident]("What"), longest[Incident]("Cause"),
		longest[Incident]("Cure")
	mostNext, mostPart  = longest[Incident]("Next"), longest[Incident]("Part")
	mostNamed, mostUnit = longest[Figure]("What"), longest[Figure]("Unit")
	mostItem, mostPath  = longest[Figure]("Of"), longest[Figure]("Path")
)

func (op *Op) texts() []text {
	out := []text{{"text", &op.Text, mostText}, {"who", &op.Who, mostWho}}
	if i := op.Incident; i != nil {
		out = append(out, text{"incident.what", &i.What, mostWhat}, text{"incident.cause", &i.Cause, mostCause},
			text{"incident.cure", &i.Cure, mostCure},
			text{"incident.next", &i.Next, mostNext}, text{"incident.part", &i.Part, mostPart})
	}
	if f := op.Figure; f != nil {
		out = append(out, text{"figure.what", &f.What, mostNamed}, text{"figure.unit", &f.Unit, mostUnit})
	}
	return out
}

// EachText hands over every text of an operation that people wrote, with the name of its field.
func (op *Op) EachText(do func(field string, text *string)) {
	for _, t := range op.texts() {
		do(t.field, t.of)
	}
}

// Refused says what is wrong with an operation, wherever it comes from; nil when nothing is.
func (op *Op) Refused() *Refusal {
	if field, why := op.wrong(); why != "" {
		return &Refusal{op.ID, field, why}
	}
	return nil
}

func (op *Op) wrong() (field, why string) {
	switch {
	case !opID.MatchString(op.ID) || len(op.ID) < leastID || len(op.ID) > mostID:
		return "id", fmt.Sprintf("id %s: want %d to %d letters, digits and dashes", short(op.ID), leastID, mostID)
	case !slices.Contains(kinds, op.Kind):
		return "kind", fmt.Sprintf("kind %s: want one of %s", short(op.Kind), strings.Join(kinds, ", "))
	case op.At <= 0 || op.At > LastTime:
		return "at", fmt.Sprintf("the time %d is none: want milliseconds since 1970, up to the year 2100", op.At)
	case op.Said < 0 || op.Said > LastTime:
		return "said", fmt.Sprintf("the time %d is none: want milliseconds since 1970, up to the year 2100", op.Said)
	}
	for _, t := range op.texts() {
		if n := utf8.RuneCountInString(*t.of); n > t.most {
			return t.field, fmt.Sprintf("%s is %d characters long: at most %d are kept", named(t.field), n, t.most)
		}
		if p := rig.TextProblem(*t.of); p != "" {
			return t.field, named(t.field) + " " + p
		}
	}
	for _, t := range []text{{"step", &op.Step, mostStep}, {"of", &op.Of, mostOf}} {
		if n := utf8.RuneCountInString(*t.of); n > t.most {
			return t.field, fmt.Sprintf("%s is %d characters long: at most %d are kept", t.field, n, t.most)
		}
		if p := rig.TextProblem(*t.of); p != "" {
			return t.field, t.field + " " + p
		}
	}
	switch op.Kind {
	case "tick", "untick", "fail":
		if op.Step == "" {
			return "step", "it does not say of which step it is"
		}
	case "note":
		if strings.TrimSpace(op.Text) == "" {
			return "text", "the note is empty"
		}
	case "drop":
		if op.Of == "" {
			return "of", "it does not say what is dropped"
		}
	case "incident":
		return op.Incident.wrong()
	case "figure":
		return op.Figure.wrong()
	}
	return "", ""
}

func (i *Incident) wrong() (field, why string) {
	switch {
	case i == nil || strings.TrimSpace(i.What) == "":
		return "incident.what", "say what happened"
	case !slices.Contains(losses, i.Loss):
		return "incident.loss", fmt.Sprintf("loss %s: want one of %s", short(i.Loss), strings.Join(losses, ", "))
	case i.Hop != "" && !slices.Contains(hops, i.Hop):
		return "incident.hop", fmt.Sprintf("hop %s: want one of %s", short(i.Hop), strings.Join(hops, ", "))
	case !(i.MinutesLost >= 0 && i.MinutesLost <= mostLost):
		return "incident.minutesLost", fmt.Sprintf("%v minutes lost: want 0 to %v", i.MinutesLost, mostLost)
	}
	return "", ""
}

func (f *Figure) wrong() (field, why string) {
	switch {
	case f == nil || strings.TrimSpace(f.What) == "":
		return "figure.what", "say what was measured"
	case math.IsNaN(f.Value) || f.Value < -mostFigure || f.Value > mostFigure:
		return "figure.value", fmt.Sprintf("%v: want a figure from -1,000,000,000 to 1,000,000,000", f.Value)
	case utf8.RuneCountInString(f.Of) > mostItem || utf8.RuneCountInString(f.Path) > mostPath ||
		rig.TextProblem(f.Of+f.Path) != "":
		return "figure.path", "the fact it measures is not one of a rig"
	}
	return "", ""
}

// named is how a field is called.
func named(field string) string {
	switch field {
	case "text":
		return "the note"
	case "who":
		return "who it was"
	}
	_, name, _ := strings.Cut(field, ".")
	return name
}

// short quotes a word that came in, or the beginning of it.
func short(s string) string {
	if utf8.RuneCountInString(s) > 40 {
		s = string([]rune(s)[:40]) + "…"
	}
	return strconv.Quote(s)
}

// mostAhead is how far a device's clock may be ahead of ours before the time an operation came counts in place of what
// its clock said.
const mostAhead = 60_000

// Arrive puts the time of an operation right as it comes in. The sender's clock is behind ours by off milliseconds, as
// far as it says so; what would still be in the future by more than a minute happened when it came, or every later word
// on it would lose. Figures may be of another time than that of any clock: out of a table.
func (op *Op) Arrive(now, off int64) {
	op.Said = 0
	at := op.At + off
	if at > now+mostAhead && (op.Kind != "figure" || op.Of != "") {
		op.At, op.Said = now, op.At
		return
	}
	op.At = at
}
