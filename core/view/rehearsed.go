package view

import (
	"fmt"
	"math"
	"slices"

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
	Heard     *look.Heard     `json:"heard,omitempty" doc:"What its sound came to; none of one that was not listened to"`
	Sounds    []Found         `json:"sounds,omitempty" doc:"What its sound was listened for, the worst first"`
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
func RehearsedAt(v *verdict.Verdict, part string, a *inspect.Arrived, g inspect.Going, seen []look.Sign, heard *look.Heard) (*Rehearsed, error) {
	w, ok := sheet.WantedOf(v, part)
	held, _ := inspect.Hold(v, part, a)
	if !ok || !w.Stream {
		return nil, fmt.Errorf("%q is no stream of this rig that its program codes", part)
	}
	out := &Rehearsed{Part: part, Label: partLabel(&w), Held: held, Going: g, Arrived: *a, Seen: append([]look.Sign{}, seen...)}
	out.listened(v, heard)
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
	if bad == "" {
		bad = out.without()
	}
	if bad == "" {
		bad = out.dead()
	}
	lost := out.lostByItself()
	stalls := out.stallsByItself()
	late := out.lateByItself()
	switch {
	case g.Connections == 0:
		out.Sentence = lang.Text("Nobody sends yet: type the address and the key into the program, and begin sending.")
	case bad != "":
		out.Sentence = bad
	case late != "" && g.LateNow >= fallsBehind:
		out.Sentence = late
	case held.State == limit.Snapped.String() || held.State == limit.Kinked.String():
		out.Sentence = held.Sentence
	case lost > 0 || stalls > 0 || g.Backs > 0 || len(g.Apart) > 0:
		but := []string{}
		if lost > 0 {
			but = append(but, say.Count(lost, "frame was lost", "frames were lost"))
		}
		if stalls > 0 {
			but = append(but, lang.Text("it stopped coming %s", say.Count(stalls, "time", "times")))
		}
		gone := map[string]int{}
		for _, a := range g.Apart {
			gone[a.Of]++
		}
		if n := gone[inspect.OfSound]; n > 0 {
			but = append(but, lang.Text("the sound was gone %s", say.Count(n, "time", "times")))
		}
		if n := gone[inspect.OfPicture]; n > 0 {
			but = append(but, lang.Text("the picture was gone %s", say.Count(n, "time", "times")))
		}
		if g.Backs > 0 {
			but = append(but, lang.Text("its time stamps went back %s, where players and destinations stop", say.Count(g.Backs, "time", "times")))
		}
		out.Sentence = say.Sentence(lang.Text("%s: look at the way there and at the processor.", say.List(but)))
		if held.State != limit.Untested.String() {
			out.Sentence = lang.Text("It is as it is set, but %s: look at the way there and at the processor.", say.List(but))
		}
	case late != "":
		out.Sentence = late
	case out.stays() != "":
		out.Sentence = out.stays()
	case !g.Connected:
		out.Sentence = lang.Text("The sender is gone. %s", held.Sentence)
	case out.silent():
		out.Sentence = lang.Text("Nothing has come for %s s.", say.Number(math.Round(g.Silent)))
	default:
		out.Sentence = held.Sentence
		if off := out.flaws(); off > 0 {
			out.Sentence += " " + lang.Text("Of its sound, %s.", say.Count(off, "thing is not as it should be", "things are not as they should be"))
		}
	}
	out.passes(lost > 0 || stalls > 0 || g.Backs > 0 || len(g.Apart) > 0 || late != "" || out.stays() != "" || bad != "")
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

// Of coming late by itself, in seconds [estimate]: what is worth a word, and what is no hitch any more but work or a line that
// is too much.
const (
	comesLate   = 1.0
	fallsBehind = 3.0
)

// lateByItself tells of a stream that comes late, but for what the far end did; empty where it does not.
func (out *Rehearsed) lateByItself() string {
	g := &out.Going
	switch {
	case g.Late < comesLate:
		return ""
	case g.LateNow < g.Late/2:
		return lang.Text("It came %s s late for a while and caught up: look at the way there and at the processor.", say.Number(g.Late))
	}
	return lang.Text("It falls behind: it comes %s s later now than when it had settled. The computer does not keep up, or the way there is too narrow: take work off the processor, choose a quicker preset, or send less.",
		say.Number(g.LateNow))
}

// stays tells of what the far end did that the sender has not got over; empty where there is none.
func (out *Rehearsed) stays() string {
	for _, d := range out.Going.Dips {
		if d.Stays && d.At >= out.Going.Since {
			return d.Says
		}
	}
	return ""
}

// stallsByItself counts times nothing came, but for those within what the far end did.
func (out *Rehearsed) stallsByItself() (n int) {
	for _, s := range out.Going.Stalls {
		own := true
		for _, d := range out.Going.Dips {
			end := d.At + d.Seconds + max(0, d.Back)
			if d.Back < 0 && !d.Stays || s.From <= end+1 && s.To >= d.At {
				own = false
			}
		}
		if own {
			n++
		}
	}
	return n
}

// Of listening while it comes, in seconds [estimate].
const (
	leastHeard  = 5.0  // before anything is said of a sound
	silentSince = 10.0 // without anything, which is told
)

// listened gives each thing its sound was listened for its state, the worst first. What takes more than a stream's few minutes, or
// a clip made for it, is not asked of it: nothing open is listed.
func (out *Rehearsed) listened(v *verdict.Verdict, h *look.Heard) {
	if h == nil || out.Arrived.Audio == nil || out.Going.Connections == 0 {
		return
	}
	short := *h
	short.Loudness = []float64{} // of two hours, each second anew: nobody draws it
	out.Heard = &short
	if h.Seconds < leastHeard {
		return
	}
	if quiet := sinceQuiet(h); quiet >= silentSince && quiet < h.Seconds-leastHeard {
		out.Sounds = append(out.Sounds, Found{look.IsSilent, limit.Untested, lang.Text("Silent for %s s now, and it was not before.", say.Number(math.Round(quiet))),
			lang.Text("If anybody speaks, look whether the microphone is muted."), []look.Stretch{}})
	}
	for i := range h.Signs {
		switch s := &h.Signs[i]; {
		case s.Answer == look.Clear:
			out.Sounds = append(out.Sounds, Found{s.What, limit.Slack, s.Says, "", []look.Stretch{}})
		case s.Answer == look.Found && slices.Contains(worstFirst, s.What):
			out.Sounds = append(out.Sounds, Found{s.What, stateOf(s.What), s.Says, doAbout(v.Rig, s.What), []look.Stretch{}})
		}
	}
	if f := loudnessFound(v, h); f != nil {
		out.Sounds = append(out.Sounds, *f)
	}
	slices.SortStableFunc(out.Sounds, func(a, b Found) int { return b.State.Severity() - a.State.Severity() })
}

// sinceQuiet is for how long nothing has been heard, to the second.
func sinceQuiet(h *look.Heard) (seconds float64) {
	n := len(h.Loudness)
	for n > 0 && h.Loudness[n-1] <= gate {
		n--
	}
	if n == len(h.Loudness) {
		return 0
	}
	return float64(len(h.Loudness)-n) + 2 // each is of the three seconds before it
}

// dead tells of a sound that ends a show: silent, or cancelling itself; empty of one that does not.
func (out *Rehearsed) dead() string {
	if len(out.Sounds) > 0 && out.Sounds[0].State == limit.Snapped {
		return lang.Text("%s %s", out.Sounds[0].Says, out.Sounds[0].Do)
	}
	return ""
}

// flaws counts what is wrong with its sound and ends no show.
func (out *Rehearsed) flaws() (n int) {
	for i := range out.Sounds {
		if out.Sounds[i].State == limit.Kinked {
			n++
		}
	}
	return n
}

// without tells of a picture or a sound that does not come any more while the other does; empty where both come.
func (out *Rehearsed) without() string {
	w := out.Going.Without
	if w == nil || !out.Going.Connected {
		return ""
	}
	seconds := say.Number(math.Round(w.To - w.From))
	if w.Of == inspect.OfSound {
		return lang.Text("No sound has come for %s s, and the picture goes on.", seconds)
	}
	return lang.Text("No picture has come for %s s, and the sound goes on.", seconds)
}

// silent tells whether a sender that is there sends nothing, and the far end is not why.
func (out *Rehearsed) silent() bool {
	for _, d := range out.Going.Dips {
		if d.Back < 0 && !d.Stays {
			return false
		}
	}
	return out.Going.Connected && out.Going.Silent > 1
}

// passes tells whether the rehearsal's step is done by it; bad is whether anything is wrong that no line of the sheet says.
func (out *Rehearsed) passes(bad bool) {
	p := Passes{Answer: look.Found, Left: []string{}}
	seconds := out.Arrived.Came.Seconds
	off := out.Held.State == limit.Snapped.String() || out.Held.State == limit.Kinked.String()
	switch {
	case out.Going.Connections > 0 && (off || bad || out.silent()):
		p.Answer = look.Clear
	case out.Held.State == limit.Untested.String():
		p.Answer = look.CannotTell
		p.Left = append(p.Left, ended(out.Held.Sentence))
	case out.Going.Connections > 0 && out.Heard == nil:
		p.Answer = look.CannotTell
		p.Left = append(p.Left, lang.Text("what its sound is like, which could not be listened to here"))
	case out.Going.Connections > 0 && out.Heard.Seconds < leastHeard: // of a sender that has just begun anew, too
		p.Answer = look.CannotTell
		p.Left = append(p.Left, lang.Text("what its sound is like, which was listened to for %s s only", say.Number(math.Round(out.Heard.Seconds))))
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
