package calendar_test

import (
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/runsheet"
	"eventether/internal/calendar"
	"eventether/internal/demo/rigs"
)

// What is written keeps to the lines of RFC 5545 (3.1: folded at 75 octets, ended by CR LF; 3.3.11: commas, semicolons,
// backslashes and line ends of a text are escaped; 3.6.1: each event has UID and DTSTAMP) and is read back: every step
// stands there with its times, nothing before the planned start, and the show at air time.
func TestReadBack(t *testing.T) {
	r := rigs.LoftEven()
	r.Name = "Loft; evening, \\ \"even\"\nsecond line"
	s := runsheet.Of(judge.Rig(r), nil, runsheet.Options{People: 2})
	air, err := time.Parse(time.RFC3339, "2026-12-04T19:30:00+01:00")
	require.NoError(t, err)
	var b strings.Builder
	require.NoError(t, calendar.Write(&b, s, air, 2, air.AddDate(0, 0, -1)))
	for line := range strings.SplitSeq(b.String(), "\r\n") {
		require.LessOrEqual(t, len(line), 75, "RFC 5545, 3.1: lines are folded")
		require.NotContains(t, line, "\n", "lines end in CR LF")
	}
	whole := strings.ReplaceAll(b.String(), "\r\n ", "")
	require.Contains(t, whole, "SUMMARY:Loft\\; evening\\, \\\\ \"even\"\\nsecond line: on air\r\n")
	require.Equal(t, strings.Count(whole, "BEGIN:VEVENT"), strings.Count(whole, "DTSTAMP:20261203T183000Z"))
	cal, err := ics.ParseCalendar(strings.NewReader(b.String()))
	require.NoError(t, err)
	uids := map[string]bool{}
	var summaries []string
	plan := s.Plan(2)
	for _, e := range cal.Events() {
		from, err := e.GetStartAt()
		require.NoError(t, err)
		to, err := e.GetEndAt()
		require.NoError(t, err)
		require.True(t, to.After(from))
		require.False(t, from.Before(air.Add(-time.Duration(plan.Start*float64(time.Minute))-time.Second)))
		require.False(t, uids[e.Id()], "ids stand once")
		uids[e.Id()] = true
		summary := ics.FromText(e.GetProperty(ics.ComponentPropertySummary).Value)
		summaries = append(summaries, summary)
		if strings.HasSuffix(summary, "on air") {
			require.True(t, from.Equal(air))
			require.Equal(t, 120*time.Minute, to.Sub(from))
			require.Contains(t, summary, `Loft; evening, \ "even"`)
		}
	}
	require.Len(t, summaries, len(plan.Turns)+2)
	require.Contains(t, summaries, "Mount and frame Bench camera.")
}

func TestClock(t *testing.T) {
	air := time.Date(2026, 12, 4, 0, 30, 0, 0, time.UTC)
	clock := calendar.Clock(air)
	require.Equal(t, "00:15", clock(15))
	require.Equal(t, "Thu 23:10", clock(80))
}
