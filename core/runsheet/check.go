package runsheet

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"unicode/utf8"

	"eventether/core/rig"
)

// Bounds of a sheet that comes from elsewhere: far more than any evening has.
const (
	mostSteps   = 2000
	mostMinutes = 1_000_000 // sending away over a slow line takes weeks
	mostPeople  = 6
	mostText    = 2000
	mostList    = 500
)

// Problem says what is wrong with a run sheet that comes from elsewhere; "" when nothing is. What passes can be
// planned, read and written: no figure is out of bounds, no step waits for itself, no text turns the direction of what
// follows.
func (s *RunSheet) Problem() string {
	if n := len(s.Steps); n > mostSteps {
		return fmt.Sprintf("the run sheet has %d steps: at most %d are read", n, mostSteps)
	}
	if len(s.Plans) == 0 || len(s.Plans) > mostPeople {
		return fmt.Sprintf("the run sheet has %d plans: want one for one person, and up to %d", len(s.Plans),
			mostPeople)
	}
	at := make(map[string]int, len(s.Steps))
	for i := range s.Steps {
		st := &s.Steps[i]
		if _, twice := at[st.ID]; twice || st.ID == "" {
			return fmt.Sprintf("step %d of the run sheet: id %q: want one of its own", i+1, cut(st.ID))
		}
		at[st.ID] = i
	}
	for i := range s.Steps {
		if p := s.Steps[i].problem(at); p != "" {
			return fmt.Sprintf("step %q of the run sheet: %s", cut(s.Steps[i].ID), p)
		}
	}
	if s.circular(at) {
		return "steps of the run sheet wait for each other in a circle"
	}
	for i := range s.Plans {
		if p := s.Plans[i].problem(at); p != "" {
			return fmt.Sprintf("plan for %d: %s", i+1, p)
		}
	}
	texts := slices.Concat(s.First, s.Gone)
	for _, p := range s.Packing {
		texts = append(texts, p.Bag, p.What)
	}
	if len(texts) > 10*mostList {
		return fmt.Sprintf("the run sheet has %d lines of text: at most %d are read", len(texts), 10*mostList)
	}
	return cmp.Or(minutes("show", s.Show), minutes("planned", s.Planned), inTexts(append(texts, s.Rig)))
}

func (st *Step) problem(at map[string]int) string {
	if !slices.Contains(Phases, st.Phase) {
		return fmt.Sprintf("phase %q is none of this version", cut(string(st.Phase)))
	}
	if st.People < 0 || st.People > mostPeople {
		return fmt.Sprintf("it holds %d people: want 0 to %d", st.People, mostPeople)
	}
	for _, a := range st.After {
		if _, ok := at[a]; !ok {
			return fmt.Sprintf("it waits for %q, which is no step", cut(a))
		}
	}
	if n := max(len(st.After), len(st.Values), len(st.Pass), len(st.Fails), len(st.Looks)); n > mostSteps {
		return fmt.Sprintf("a list of %d: at most %d are read", n, mostSteps)
	}
	texts := slices.Concat([]string{st.ID, st.Heading, st.Do, st.Label, st.Where, st.Caution}, st.Pass, st.Fails, st.Looks)
	for _, v := range st.Values {
		texts = append(texts, v.Name, v.Value, v.Was)
	}
	return cmp.Or(minutes("it takes", st.Minutes), inTexts(append(texts, string(st.Kind))))
}

func (p *Plan) problem(at map[string]int) string {
	for _, m := range []float64{p.Minutes, p.AtLeast, p.Start} {
		if why := minutes("its minutes", math.Abs(m)/float64(mostSteps)); why != "" {
			return why
		}
	}
	if p.People < 1 || p.People > mostPeople {
		return fmt.Sprintf("people %d: want 1 to %d", p.People, mostPeople)
	}
	for i := range p.Turns {
		t := &p.Turns[i]
		if _, ok := at[t.Step]; !ok {
			return fmt.Sprintf("a turn of %q, which is no step", cut(t.Step))
		}
		for _, m := range []float64{t.Start, t.End} {
			if why := minutes("a turn", m/float64(mostSteps)); why != "" {
				return why
			}
		}
		if len(t.Who) > mostPeople {
			return fmt.Sprintf("a turn of %d people: want up to %d", len(t.Who), mostPeople)
		}
	}
	if len(p.Turns) > mostSteps {
		return fmt.Sprintf("%d turns: at most %d are read", len(p.Turns), mostSteps)
	}
	return ""
}

func minutes(what string, m float64) string {
	if !(m >= 0 && m <= mostMinutes) {
		return fmt.Sprintf("%s %v minutes: want 0 to %d", what, m, mostMinutes)
	}
	return ""
}

// inTexts says what is wrong with the first of some texts that cannot be kept.
func inTexts(texts []string) string {
	for _, t := range texts {
		if n := utf8.RuneCountInString(t); n > mostText {
			return fmt.Sprintf("%q is %d characters long: at most %d are read", cut(t), n, mostText)
		}
		if p := rig.TextProblem(t); p != "" {
			return fmt.Sprintf("%q %s", cut(t), p)
		}
	}
	return ""
}

func cut(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// circular tells whether steps wait for each other.
func (s *RunSheet) circular(at map[string]int) bool {
	waits := make([]int, len(s.Steps))
	later := make([][]int, len(s.Steps))
	var ready []int
	for i := range s.Steps {
		waits[i] = len(s.Steps[i].After)
		for _, a := range s.Steps[i].After {
			later[at[a]] = append(later[at[a]], i)
		}
		if waits[i] == 0 {
			ready = append(ready, i)
		}
	}
	seen := 0
	for ; seen < len(ready); seen++ {
		for _, l := range later[ready[seen]] {
			if waits[l]--; waits[l] == 0 {
				ready = append(ready, l)
			}
		}
	}
	return seen < len(s.Steps)
}

// Texts are all texts of a sheet that people read, to be cleaned before it is kept.
func (s *RunSheet) Texts() []*string {
	out := []*string{&s.Rig}
	each := func(list []string) {
		for i := range list {
			out = append(out, &list[i])
		}
	}
	each(s.First)
	each(s.Gone)
	for i := range s.Steps {
		st := &s.Steps[i]
		out = append(out, &st.Do, &st.Label, &st.Where, &st.Caution)
		each(st.Pass)
		each(st.Fails)
		for k := range st.Values {
			v := &st.Values[k]
			out = append(out, &v.Name, &v.Value, &v.Was)
		}
	}
	for i := range s.Packing {
		out = append(out, &s.Packing[i].Bag, &s.Packing[i].What)
	}
	return out
}
