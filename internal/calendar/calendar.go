// Package calendar answers: what does a run sheet look like in a calendar? iCalendar, RFC 5545.
package calendar

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"time"

	ics "github.com/arran4/golang-ical"

	"eventether/core/lang"
	"eventether/core/runsheet"
)

// Write writes a run sheet for a show on air at a time, with the times of the plan for so many people: the work, each
// step with people at it, the show. made is when it is written.
func Write(w io.Writer, s *runsheet.RunSheet, air time.Time, people int, made time.Time) error {
	c := ics.NewCalendar()
	c.SetProductId("-//Even Tether//Run sheet//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetName(lang.Text("Run sheet: %s", s.Rig))
	event := func(id, what string, from, to time.Time) *ics.VEvent {
		sum := sha256.Sum256([]byte(s.Rig + "\n" + air.UTC().Format(time.RFC3339) + "\n" + id))
		e := c.AddEvent(hex.EncodeToString(sum[:12]) + "@eventether.invalid")
		e.SetDtStampTime(made)
		e.SetStartAt(from)
		e.SetEndAt(to)
		e.SetSummary(what)
		return e
	}
	minutes := func(m float64) time.Duration { return time.Duration(m * float64(time.Minute)).Round(time.Second) }
	p := s.Plan(people)
	start := air.Add(-minutes(p.Start))
	event("setup", lang.Text("%s: set up", s.Rig), start, start.Add(minutes(p.Minutes)))
	for i := range p.Turns {
		turn := &p.Turns[i]
		st := s.Step(turn.Step)
		e := event(turn.Step, st.Do, start.Add(minutes(turn.Start)), start.Add(minutes(turn.End)))
		text := ""
		for _, v := range st.Values {
			text += fmt.Sprintf("%s: %s\n", v.Name, v.Value)
		}
		for _, pass := range st.Pass {
			text += "→ " + pass + "\n"
		}
		if st.Caution != "" {
			text += "! " + st.Caution + "\n"
		}
		if text != "" {
			e.SetDescription(text)
		}
		if st.Where != "" {
			e.SetLocation(st.Where)
		}
	}
	event("air", lang.Text("%s: on air", s.Rig), air, air.Add(minutes(s.Show)))
	return c.SerializeTo(w, ics.WithNewLineWindows)
}

// Clock writes times of day before air, with the day where it is another one.
func Clock(air time.Time) runsheet.Clock {
	return func(before float64) string {
		at := air.Add(-time.Duration(before * float64(time.Minute)))
		if at.YearDay() != air.YearDay() || at.Year() != air.Year() {
			return at.Format("Mon 15:04")
		}
		return at.Format("15:04")
	}
}
