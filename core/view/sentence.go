package view

import (
	"slices"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/say"
)

// sentence is the verdict in one sentence, short enough for a phone: whether it holds, after how many moves, in minutes
// and money, with which flaw, or how many facts decide. The moves, the facts and the flaws are listed under it.
func sentence(v *Verdict) string {
	open, flaws := countFindings(v, limit.Untested), countFindings(v, limit.Kinked)
	held := lang.Text("Holds")
	if len(v.Proposed.Choices) > 0 {
		held = lang.Text("Holds as proposed")
	}
	switch c := v.Cure; {
	case v.State == limit.Snapped && c == nil && v.Advice == nil:
		return lang.Text("Does not hold.")
	case v.State == limit.Snapped && c == nil && !v.Advice.CureProven:
		return lang.Text("Does not hold, and no set of moves that mends it has been found; not every set was tried. ") +
			weakest(v)
	case v.State == limit.Snapped && c == nil:
		return lang.Text("Does not hold, and neither a set of moves known here nor leaving sources out mends it. ") +
			weakest(v)
	case v.State == limit.Snapped && v.Advice.WayOut:
		shorts := make([]string, len(c.Moves))
		for i := range c.Moves {
			shorts[i] = c.Moves[i].Short
		}
		b := lang.Text("Does not hold as it is wanted. The nearest that works: %s; %s.", say.List(shorts), effort(v))
		if c.State == limit.Untested {
			b = lang.Text("Does not hold as it is wanted. The nearest that may work: %s; %s.", say.List(shorts),
				effort(v))
		}
		return b
	case v.State == limit.Snapped:
		b := lang.Text("Holds after %s: %s.", say.Count(len(c.Moves), "move", "moves"), effort(v))
		if c.State == limit.Untested {
			b = lang.Text("Holds after %s if %s: %s.", say.Count(len(c.Moves), "move", "moves"),
				say.Count(max(open, 1), "fact turns out well", "facts turn out well"), effort(v))
		}
		if !c.Proven {
			b += lang.Text(" A smaller set may exist.")
		}
		if c.Flaws > 0 {
			b += lang.Text(" With %s.", say.Count(c.Flaws, "flaw", "flaws"))
		}
		return b
	case v.State == limit.Untested:
		b := lang.Text("%s if %s.", held, say.Count(open, "fact turns out well", "facts turn out well"))
		if open == 0 {
			b = lang.Text("Nothing is known to fail, and whether it holds is not settled.")
		}
		if flaws > 0 {
			b += lang.Text(" With %s.", say.Count(flaws, "flaw", "flaws"))
		}
		return b
	case v.State == limit.Kinked && c != nil && flaws > 0:
		b := lang.Text("%s, with %s; %s would mend it: %s.", held, say.Count(flaws, "flaw", "flaws"),
			say.Count(len(c.Moves), "move", "moves"), effort(v))
		if c.Flaws > 0 {
			b += lang.Text(" %s would stay.", say.Sentence(say.Count(c.Flaws, "flaw", "flaws")))
		}
		return b + unjudged(v)
	case v.State == limit.Kinked && flaws == 1 && len(firstOf(v, limit.Kinked)) < 90:
		return lang.Text("%s, with one flaw: %s", held, firstOf(v, limit.Kinked)) + unjudged(v)
	case v.State == limit.Kinked && flaws > 0:
		return lang.Text("%s, with %s.", held, say.Count(flaws, "flaw", "flaws")) + unjudged(v)
	case v.State == limit.Kinked:
		return lang.Text("%s, with a flaw.", held) + unjudged(v)
	case v.State == limit.Taut && len(v.Findings) == 0:
		return lang.Text("%s, with little to spare.", held) + unjudged(v)
	case v.State == limit.Taut:
		return lang.Text("%s, with little to spare: ", held) + weakest(v) + unjudged(v)
	}
	return lang.Text("%s with room to spare.", held) + unjudged(v)
}

// effort is what the moves of the cure take.
func effort(v *Verdict) string {
	b := say.Number(v.Cure.Minutes) + " "
	if v.Cure.Minutes == 1 {
		b += lang.Text("minute, ")
	} else {
		b += lang.Text("minutes, ")
	}
	if v.Cure.Cost.Amount == 0 {
		return b + lang.Text("nothing to buy")
	}
	return b + lang.Text("about %s to buy", v.Cure.Cost.String())
}

// countFindings is how many findings there are of a state; of untested ones, those that decide whether the rig holds.
func countFindings(v *Verdict, s limit.State) (n int) {
	for i := range v.Findings {
		if f := &v.Findings[i]; f.State == s && (s != limit.Untested || f.Over.Breaks()) {
			n++
		}
	}
	return n
}

// toFindOut names the facts that decide whether the rig holds.
func toFindOut(v *Verdict) []string {
	names := []string{}
	for i := range v.Findings {
		f := &v.Findings[i]
		if f.State != limit.Untested || !f.Over.Breaks() || len(f.Members) == 0 {
			continue
		}
		at := slices.IndexFunc(v.Limits, func(l Limit) bool { return l.ID == f.Members[0].Limit })
		if at >= 0 && !slices.Contains(names, v.Limits[at].What) {
			names = append(names, v.Limits[at].What)
		}
	}
	return names
}

// firstOf says the first finding of a state.
func firstOf(v *Verdict, s limit.State) string {
	for i := range v.Findings {
		if v.Findings[i].State == s {
			return strings.TrimSuffix(v.Findings[i].Says, ".") + "."
		}
	}
	return ""
}

// unjudged names what a rig that holds was not judged on: silence is never slack.
func unjudged(v *Verdict) string {
	const most = 3
	names := make([]string, 0, most)
	for i := range v.NotJudged {
		if len(names) < most {
			names = append(names, v.NotJudged[i].Label)
		}
	}
	switch more := len(v.NotJudged) - most; {
	case len(names) == 0:
		return ""
	case more > 0:
		return lang.Text(" Not judged yet: %s and %s more.", say.List(names), strconv.Itoa(more))
	}
	return lang.Text(" Not judged yet: %s.", say.List(names))
}

func weakest(v *Verdict) string {
	if len(v.Findings) == 0 {
		return ""
	}
	return v.Findings[0].Says
}
