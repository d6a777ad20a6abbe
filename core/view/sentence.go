package view

import (
	"strconv"

	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rules"
)

// sentence is what stands above the board.
func sentence(v *Verdict) string {
	switch {
	case v.State == limit.Slack:
		return lang.Text("Holds with room to spare.") + unjudged(v)
	case v.State == limit.Taut && len(v.Findings) == 0:
		return lang.Text("Holds, with little to spare.") + unjudged(v)
	case v.State == limit.Taut:
		return lang.Text("Holds, with little to spare: ") + weakest(v) + unjudged(v)
	case v.State == limit.Untested:
		return lang.Text("Nothing is known to fail. Whether it holds depends on ") + rules.Count(countState(v, limit.Untested), "open point", "open points") + "."
	case v.Cure == nil && len(v.Findings) == 0:
		return lang.Text("Does not hold.")
	case v.Cure == nil && !v.Advice.CureProven:
		return lang.Text("Does not hold, and no set of moves that mends it has been found; not every set was tried. ") + weakest(v)
	case v.Cure == nil:
		return lang.Text("Does not hold, and no set of moves known here mends it. ") + weakest(v)
	}
	c := v.Cure
	shorts := make([]string, len(c.Moves))
	for i := range c.Moves {
		shorts[i] = c.Moves[i].Short
	}
	b := lang.Text("Holds after ")
	if c.State == limit.Untested {
		b = lang.Text("No longer fails after ")
	}
	b += rules.Count(len(c.Moves), "move", "moves") + ": " + rules.List(shorts) + ". " + rules.Number(c.Minutes) + " "
	if c.Minutes == 1 {
		b += lang.Text("minute, ")
	} else {
		b += lang.Text("minutes, ")
	}
	if c.Cost.Amount == 0 {
		b += lang.Text("nothing to buy.")
	} else {
		b += lang.Text("about %s to buy.", c.Cost.String())
	}
	if len(c.GivesUp) > 0 {
		b += lang.Text(" Gives up ") + rules.List(c.GivesUp) + "."
	}
	if !c.Proven {
		b += lang.Text(" A smaller set may exist.")
	}
	if c.State == limit.Untested {
		b += lang.Text(" Whether it then holds depends on ") + rules.Count(len(untestedAfter(v)), "open point", "open points") + "."
	}
	return b
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
		return lang.Text(" Not judged yet: %s and %s more.", rules.List(names), strconv.Itoa(more))
	}
	return lang.Text(" Not judged yet: %s.", rules.List(names))
}

// untestedAfter are the limits that are untested now; a cure never adds to them.
func untestedAfter(v *Verdict) (out []string) {
	for i := range v.Limits {
		if v.Limits[i].State == limit.Untested {
			out = append(out, v.Limits[i].ID)
		}
	}
	return out
}

func weakest(v *Verdict) string {
	if len(v.Findings) == 0 {
		return ""
	}
	return v.Findings[0].Says
}

func countState(v *Verdict, s limit.State) int {
	n := 0
	for i := range v.Limits {
		if v.Limits[i].State == s {
			n++
		}
	}
	return n
}
