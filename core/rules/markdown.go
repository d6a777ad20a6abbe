package rules

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/limit"
)

// overWords say what a consequence means.
var overWords = map[limit.Consequence]string{
	limit.Dark:  "dark: no picture, no stream or no recording",
	limit.Drops: "drops: it comes and goes, or ends before the show does",
	limit.Flaw:  "flaw: it goes to air, and looks worse than it should",
	limit.Care:  "care: nothing on air; effort, risk or money",
}

var kindWords = map[fact.From]string{fact.Practice: "common practice of the trade", fact.Standard: "published standard", fact.Estimate: "planning estimate",
	fact.DataSheet: "the device's own sheet", fact.Measured: "what happened when it was tried"}

// subjects are the parts the rules stand in, by the first figure of their chapter.
var subjects = map[string]string{"1": "The show and its pictures", "2": "The camera, its output and the lead", "3": "Capture device and bus", "4": "Power and heat", "5": "Program, sent picture and uplink", "6": "Sound and time", "7": "Leads that fail"}

// senses say how a limit of a sense reads.
var senseWords = map[limit.Sense]string{limit.AtMost: "at most", limit.AtLeast: "at least", limit.Within: "within", limit.Fits: "fits or does not"}

// InWords is a rule as people read it: what it means when it is over, and where it comes from.
func (r *Rule) InWords() (over, source string) {
	return overWords[r.Over], fmt.Sprintf("%s (%s)", r.Source.Name, kindWords[r.Source.Kind])
}

// ByChapter lists every rule in the order of the work, and then by id.
func ByChapter() []*Rule {
	out := All()
	slices.SortStableFunc(out, func(a, b *Rule) int { return cmp.Or(cmp.Compare(a.Chapter, b.Chapter), cmp.Compare(a.ID, b.ID)) })
	return out
}

// Subject is the part of the work a rule belongs to.
func (r *Rule) Subject() string { return subjects[r.Chapter[:1]] }

// Markdown is the table of rules as a document.
func Markdown() string {
	var b strings.Builder
	b.WriteString("# The rules\n\nMade from the table of rules (`core/rules`) by `make generate`. A rule is judged on the bounds of the facts it rests on; the four words\nare in [arithmetic.md](arithmetic.md).\n")
	subject := ""
	for _, r := range ByChapter() {
		if s := r.Subject(); s != subject {
			subject = s
			fmt.Fprintf(&b, "\n## %s\n", s)
		}
		over, source := r.InWords()
		fmt.Fprintf(&b, "\n### %s\n\n%s\n\n", r.ID, r.Asks)
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
			fmt.Fprintf(&b, "- slack up to %s %% of the sure limit\n", Number(r.Ceiling*100))
		default:
			b.WriteString("- slack up to the rig's planning ceiling, 80 % when nothing is said\n")
		}
		fmt.Fprintf(&b, "- when it is over: %s\n- from: %s\n- example: %s\n", over, source, r.Example)
	}
	return b.String()
}
