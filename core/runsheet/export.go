package runsheet

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/say"
)

// Clock writes a time so many minutes before air, 5 for five minutes before it; nil writes the minutes themselves.
type Clock func(before float64) string

func (c Clock) say(before float64) string {
	if c != nil {
		return c(before)
	}
	return "−" + strconv.FormatFloat(math.Ceil(before), 'f', 0, 64) + " min"
}

// Summary is when to begin, in a sentence for each plan.
func (s *RunSheet) Summary(clock Clock) []string {
	var out []string
	for i := range s.Plans {
		p := &s.Plans[i]
		text := lang.Text("Alone: begin at %s (%s min of work, %s for nothing).", clock.say(p.Start),
			say.Number(math.Ceil(p.Minutes)), say.Number(Margin))
		if p.People > 1 {
			text = lang.Text("%s of you: begin at %s (%s min of work, %s for nothing).",
				say.Sentence(spelled(p.People)), clock.say(p.Start), say.Number(math.Ceil(p.Minutes)),
				say.Number(Margin))
		}
		if !p.Proven {
			text += " " + lang.Text("No order can take less than %s min.", say.Number(math.Ceil(p.AtLeast)))
		}
		out = append(out, text)
	}
	return out
}

func spelled(n int) string {
	return lang.Text([]string{"one", "two", "three", "four", "five", "six"}[min(n, MostPeople)-1])
}

// Text is the run sheet as plain text, with the times of the plan for so many people.
func (s *RunSheet) Text(people int, clock Clock) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s\n", lang.Text("Run sheet: %s", s.Rig))
	for _, f := range append(s.First, s.Summary(clock)...) {
		fmt.Fprintf(&b, "%s\n", f)
	}
	s.each(people, clock, func(heading string) { fmt.Fprintf(&b, "\n%s\n", heading) },
		func(st *Step, when, who string) {
			fmt.Fprintf(&b, "  [ ] %-10s %-4s %s\n", when, who, oneLine(st))
			for _, v := range st.Values {
				fmt.Fprintf(&b, "        %s: %s%s\n", v.Name, v.Value, v.marks())
			}
			for _, p := range st.Pass {
				fmt.Fprintf(&b, "        → %s\n", p)
			}
			if st.Label != "" {
				fmt.Fprintf(&b, "        %s\n", lang.Text("Label: %s", st.Label))
			}
			if st.Caution != "" {
				fmt.Fprintf(&b, "        ! %s\n", st.Caution)
			}
		})
	if len(s.Packing) > 0 {
		fmt.Fprintf(&b, "\n%s\n", lang.Text("Packing"))
		for _, p := range s.Packing {
			fmt.Fprintf(&b, "  [ ] %s: %s%s\n", p.Bag, p.What, p.mark())
		}
	}
	return b.String()
}

// Markdown is the run sheet as a list that can be ticked.
func (s *RunSheet) Markdown(people int, clock Clock) string {
	var b strings.Builder
	fmt.Fprintf(&b, "# %s\n\n", escape(lang.Text("Run sheet: %s", s.Rig)))
	for _, f := range append(s.First, s.Summary(clock)...) {
		fmt.Fprintf(&b, "- %s\n", escape(f))
	}
	s.each(people, clock, func(heading string) { fmt.Fprintf(&b, "\n## %s\n\n", escape(heading)) },
		func(st *Step, when, who string) {
			fmt.Fprintf(&b, "- [ ] **%s** %s%s\n", when, escape(oneLine(st)), escape(prefixed(" · ", who)))
			for _, v := range st.Values {
				fmt.Fprintf(&b, "  - %s: %s%s\n", escape(v.Name), escape(v.Value), escape(v.marks()))
			}
			for _, p := range st.Pass {
				fmt.Fprintf(&b, "  - → %s\n", escape(p))
			}
			for _, p := range st.Fails {
				fmt.Fprintf(&b, "  - ↯ %s\n", escape(p))
			}
			if st.Caution != "" {
				fmt.Fprintf(&b, "  - ⚠ %s\n", escape(st.Caution))
			}
		})
	if len(s.Packing) > 0 {
		fmt.Fprintf(&b, "\n## %s\n\n", lang.Text("Packing"))
		for _, p := range s.Packing {
			fmt.Fprintf(&b, "- [ ] %s: %s%s\n", escape(p.Bag), escape(p.What), escape(p.mark()))
		}
	}
	return b.String()
}

// each goes through the steps in the order of the sheet, with their times in a plan.
func (s *RunSheet) each(people int, clock Clock, heading func(string), do func(st *Step, when, who string)) {
	p := s.Plan(people)
	turns := map[string]*Turn{}
	for i := range p.Turns {
		turns[p.Turns[i].Step] = &p.Turns[i]
	}
	last := ""
	for i := range s.Steps {
		st := &s.Steps[i]
		if st.Heading != last {
			heading(st.Heading)
			last = st.Heading
		}
		when, who := say.Number(st.Minutes)+" min", ""
		if turn := turns[st.ID]; turn != nil {
			when = clock.say(p.Start - turn.Start)
			who = turn.people()
			if turn.Critical {
				who += "*"
			}
		}
		do(st, when, who)
	}
}

// people are who does it, as 1+2.
func (s *Turn) people() string {
	out := make([]string, len(s.Who))
	for i, w := range s.Who {
		out[i] = strconv.Itoa(w)
	}
	return strings.Join(out, "+")
}

func oneLine(st *Step) string {
	text := st.Do
	if st.Both {
		text += " " + lang.Text("(one at the camera, one at the computer)")
	}
	return text
}

func (v *Value) marks() string {
	switch {
	case v.Was != "":
		return lang.Text(" (last time %s)", v.Was)
	case v.Proposed:
		return lang.Text(" (proposed)")
	}
	return ""
}

func (p *Packed) mark() string {
	if p.Owned == "missing" {
		return lang.Text(" (to buy or to borrow)")
	}
	if p.Owned == "borrowed" {
		return lang.Text(" (borrowed: it goes back)")
	}
	return ""
}

func prefixed(prefix, s string) string {
	if s == "" {
		return ""
	}
	return prefix + s
}

// escape keeps text from being read as markup.
func escape(s string) string {
	return strings.NewReplacer("\\", "\\\\", "*", "\\*", "_", "\\_", "[", "\\[", "`", "\\`", "<", "&lt;", "#", "\\#",
		"|", "\\|", "\n", " ").Replace(s)
}
