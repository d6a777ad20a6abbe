package view

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/say"
)

// Report is the verdict as plain text: the sentence, every feed and branch, every shared limit, every finding with its
// best fix, what is not judged, and the next question. One limit is one line.
func Report(name string, v *Verdict) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s: %s\n%s\n", name, lang.Text(v.State.String()), v.Sentence)
	if len(v.ToFindOut) > 0 {
		fmt.Fprintf(&b, "%s\n", lang.Text("To find out: %s.", say.List(v.ToFindOut)))
	}
	if v.Cure != nil {
		for i := range v.Cure.Moves {
			fmt.Fprintf(&b, "  %s. %s\n", strconv.Itoa(i+1), v.Cure.Moves[i].Line())
		}
	}
	if v.Proposed.Words != "" {
		fmt.Fprintf(&b, "%s\n", lang.Text("Proposed: %s", v.Proposed.Words))
	}
	feed := func(f *Feed) {
		parts := make([]string, 0, len(f.Hops))
		for _, h := range f.Hops {
			text := h.Label
			if h.State != limit.Slack {
				text += " [" + lang.Text(h.State.String()) + "]"
			}
			parts = append(parts, text)
		}
		fmt.Fprintf(&b, "  %-9s %s\n", lang.Text(f.State.String()), strings.Join(parts, " → "))
	}
	b.WriteString(lang.Text("\nTethers\n"))
	for i := range v.Feeds {
		feed(&v.Feeds[i])
	}
	if len(v.Branches) > 0 {
		b.WriteString(lang.Text("\nAlso goes to\n"))
	}
	for i := range v.Branches {
		feed(&v.Branches[i])
	}
	b.WriteString(lang.Text("\nShared limits\n"))
	for i := range v.Limits {
		if l := &v.Limits[i]; l.Shared {
			b.WriteString("  " + Line(l) + "\n")
		}
	}
	if len(v.Findings) > 0 {
		b.WriteString(lang.Text("\nFindings\n"))
	}
	limits := map[string]*Limit{}
	for i := range v.Limits {
		limits[v.Limits[i].ID] = &v.Limits[i]
	}
	for _, f := range v.Findings {
		fmt.Fprintf(&b, "  %-9s %s\n", lang.Text(f.State.String()), f.Says)
		cautions := []string{}
		for _, m := range f.Members {
			l := limits[m.Limit]
			line := lang.Text("rule: %s. %s [%s]", string(l.Rule), l.Source.Name, lang.Text(string(l.Source.Kind)))
			if l.Sense != limit.Fits || len(f.Members) > 1 {
				line = strings.TrimSpace(strings.TrimPrefix(Line(l), lang.Text(l.State.String()))) + "; " + line
			}
			fmt.Fprintf(&b, "            %s\n", line)
			if l.Caution != "" && !slices.Contains(cautions, l.Caution) {
				cautions = append(cautions, l.Caution)
			}
			if len(m.Fixes) > 0 {
				fmt.Fprintf(&b, "            %s\n", lang.Text("fix: %s (%s)", m.Fixes[0].Label,
					m.Fixes[0].Judged.Words))
			} else if len(m.Eases) > 0 {
				fmt.Fprintf(&b, "            %s\n", lang.Text("%s (%s)", m.Eases[0].Label, m.Eases[0].Judged.Words))
			}
		}
		for _, c := range cautions {
			fmt.Fprintf(&b, "            %s\n", lang.Text("caution: %s", c))
		}
	}
	if a := v.Advice; a != nil && !a.Complete {
		fmt.Fprintf(&b, "\n%s\n", lang.Text("The advice was stopped after %s of %s moves: better ones may exist.",
			strconv.Itoa(a.Judged), strconv.Itoa(a.Moves)))
	}
	if len(v.NotJudged) > 0 {
		b.WriteString(lang.Text("\nNot judged\n"))
	}
	for i := range v.NotJudged {
		fmt.Fprintf(&b, "  %s: %s\n", v.NotJudged[i].Label, v.NotJudged[i].Why)
	}
	if len(v.Questions) > 0 {
		q := v.Questions[0]
		b.WriteString(lang.Text("\nNext question\n  %s\n  %s About %s min.\n", q.Ask, q.How, say.Number(q.Minutes)))
	}
	return b.String()
}

// Line is a limit in one line: state, what, load of limit, share.
func Line(l *Limit) string {
	if l.Sense == limit.Fits {
		return fmt.Sprintf("%-9s %s", lang.Text(l.State.String()), l.What)
	}
	of := map[limit.Sense]string{limit.AtMost: lang.Text("of at most"), limit.AtLeast: lang.Text("of at least"),
		limit.Within: lang.Text("within")}[l.Sense]
	return fmt.Sprintf("%-9s %s: %s %s %s, %s", lang.Text(l.State.String()), l.What, say.Span(l.Load.Low, l.Load.High,
		""), of, say.Span(l.Sure, l.Possible, l.Unit), say.Percent(l.Ratio))
}
