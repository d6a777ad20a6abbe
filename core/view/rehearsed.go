package view

import (
	"fmt"
	"math"

	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sheet"
	"eventether/core/verdict"
)

// Rehearsed is a stream that is sent to a stand-in for its destination, or was, beside the sheet.
type Rehearsed struct {
	Part      string          `json:"part"`
	Label     string          `json:"label"`
	Held      *inspect.Held   `json:"held"`
	Going     inspect.Going   `json:"going"`
	Arrived   inspect.Arrived `json:"arrived"`
	Seen      []look.Sign     `json:"seen" doc:"What few small frames of it tell"`
	Sentence  string          `json:"sentence"`
	Preflight *Preflight      `json:"preflight" doc:"The same in one line, and whether it shows the rehearsal's step done"`
}

// Elsewhere is what another destination would not take of a stream.
type Elsewhere struct {
	Name    string            `json:"name"`
	Refuses []inspect.Refusal `json:"refuses"`
	Unknown []string          `json:"unknown" doc:"What nobody has looked up of what it takes"`
}

// ElsewhereOf tells what a kind of destination would refuse of what arrived.
func ElsewhereOf(k *rig.Known, a *inspect.Arrived) Elsewhere {
	return Elsewhere{k.Name, inspect.Refuses(&k.Ingest, k.Name, a), inspect.Unknown(&k.Ingest)}
}

// wholeRehearsal is how long a stream has to come for its rehearsal to count as done, in seconds: the five minutes of the run
// sheet.
const wholeRehearsal = 300

// RehearsedAt sets what arrives of a stream beside its part of the sheet. An error names what is no stream the program codes.
func RehearsedAt(v *verdict.Verdict, part string, a *inspect.Arrived, g inspect.Going, seen []look.Sign) (*Rehearsed, error) {
	w, ok := sheet.WantedOf(v, part)
	held, _ := inspect.Hold(v, part, a)
	if !ok || !w.Stream {
		return nil, fmt.Errorf("%q is no stream of this rig that its program codes", part)
	}
	out := &Rehearsed{Part: part, Label: partLabel(&w), Held: held, Going: g, Arrived: *a, Seen: append([]look.Sign{}, seen...)}
	bad := ""
	if f := look.Find(out.Seen, look.IsBlack); f != nil && f.Answer == look.Found { // what stands still may be slides
		bad = f.Says
	}
	if g.Connections == 0 {
		held.Sentence, held.State = lang.Text("Nothing has come yet."), limit.Untested.String()
		for i := range held.Lines {
			l := &held.Lines[i]
			l.Measured, l.State, l.Says = "", limit.Untested, ""
		}
	}
	lost := out.lostByItself()
	stalls := out.stallsByItself()
	switch {
	case g.Connections == 0:
		out.Sentence = lang.Text("Nobody sends yet: type the address and the key into the program, and begin sending.")
	case bad != "":
		out.Sentence = bad
	case held.State == limit.Snapped.String() || held.State == limit.Kinked.String():
		out.Sentence = held.Sentence
	case lost > 0 || stalls > 0:
		out.Sentence = lang.Text("It is as it is set, but %s, and it stopped coming %s: look at the way there and at the processor.",
			say.Count(lost, "frame was lost", "frames were lost"), say.Count(stalls, "time", "times"))
	case !g.Connected:
		out.Sentence = lang.Text("The sender is gone. %s", held.Sentence)
	case out.silent():
		out.Sentence = lang.Text("Nothing has come for %s s.", say.Number(math.Round(g.Silent)))
	default:
		out.Sentence = held.Sentence
	}
	out.passes(lost, stalls, bad)
	return out, nil
}

// lostByItself are frames that never came, but for those the far end's own doing cost.
func (out *Rehearsed) lostByItself() int {
	lost := out.Going.Lost
	for _, d := range out.Going.Dips {
		if d.At >= out.Going.Since {
			lost -= d.Lost
		}
	}
	return max(0, lost)
}

// stallsByItself counts times nothing came, but for those within what the far end did.
func (out *Rehearsed) stallsByItself() (n int) {
	for _, s := range out.Going.Stalls {
		own := true
		for _, d := range out.Going.Dips {
			end := d.At + d.Seconds + max(0, d.Back)
			if d.Back < 0 || s.From <= end+1 && s.To >= d.At {
				own = false
			}
		}
		if own {
			n++
		}
	}
	return n
}

// silent tells whether a sender that is there sends nothing, and the far end is not why.
func (out *Rehearsed) silent() bool {
	for _, d := range out.Going.Dips {
		if d.Back < 0 {
			return false
		}
	}
	return out.Going.Connected && out.Going.Silent > 1
}

// passes tells whether the rehearsal's step is done by it.
func (out *Rehearsed) passes(lost, stalls int, bad string) {
	p := Passes{Answer: look.Found, Left: []string{}}
	seconds := out.Arrived.Came.Seconds
	off := out.Held.State == limit.Snapped.String() || out.Held.State == limit.Kinked.String()
	switch {
	case out.Going.Connections > 0 && (off || bad != "" || lost > 0 || stalls > 0 || out.silent()):
		p.Answer = look.Clear
	case out.Held.State == limit.Untested.String():
		p.Answer = look.CannotTell
		p.Left = append(p.Left, ended(out.Held.Sentence))
	case seconds < wholeRehearsal:
		p.Answer = look.CannotTell
		p.Left = append(p.Left, lang.Text("five minutes of it: %s have come", say.Count(int(seconds/60), "minute", "minutes")))
	}
	row := PreflightRow{Of: out.Part, Label: say.Sentence(out.Label), Planned: lang.Text("as on the sheet"), Measured: out.Sentence, Passes: p}
	switch p.Answer {
	case look.Clear:
		row.Follows = out.Sentence
	case look.CannotTell:
		row.Follows = say.Sentence(p.Left[0]) + "."
	}
	out.Preflight = &Preflight{Rows: []PreflightRow{row}, Sentence: out.Sentence}
}
