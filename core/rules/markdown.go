package rules

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"eventether/core/engine"
	"eventether/core/limit"
	"eventether/core/say"
)

// senses say how a limit of a sense reads.
var senseWords = map[limit.Sense]string{limit.AtMost: "at most", limit.AtLeast: "at least", limit.Within: "within",
	limit.Fits: "fits or does not"}

// InOrder lists every rule by subject, in the order of the work, and then by name.
func InOrder() []*Rule {
	out := All()
	slices.SortStableFunc(out, func(a, b *Rule) int { return cmp.Compare(a.Subject, b.Subject) })
	return out
}

// Markdown is the table of rules as a document.
func Markdown() string {
	var b strings.Builder
	b.WriteString("# The rules\n\nMade from the table of rules (`core/rules`) by `make generate`. A rule is judged on the bounds of the facts it rests on; the five words\nare in [arithmetic.md](arithmetic.md).\n")
	subject := engine.Subject(0)
	for _, r := range InOrder() {
		if s := r.Subject; s != subject {
			subject = s
			fmt.Fprintf(&b, "\n## %s\n", s)
		}
		over, source := r.InWords()
		fmt.Fprintf(&b, "\n### %s\n\n%s\n\n", r.Name, r.Asks)
		if r.Sum != "" {
			unit := ""
			if r.Unit != "" {
				unit = ", in " + r.Unit
			}
			fmt.Fprintf(&b, "- sum: %s (%s%s)\n", r.Sum, senseWords[r.Sense], unit)
		}
		switch {
		case r.Sense == limit.Fits:
		case r.Ceiling == 1:
			b.WriteString("- made for its limit: fits up to 100 %\n")
		case r.Ceiling > 0:
			fmt.Fprintf(&b, "- slack up to %s %% of the sure limit\n", say.Number(r.Ceiling*100))
		default:
			b.WriteString("- slack up to the rig's planning ceiling, 80 % when nothing is said\n")
		}
		fmt.Fprintf(&b, "- when it is over: %s\n- from: %s\n- example: %s\n", over, source, r.Example)
	}
	return b.String()
}
