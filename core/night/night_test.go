package night_test

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat/distuv"
	"pgregory.net/rapid"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/demo/rigs"
)

func ExampleFold() {
	s := night.Fold([]night.Op{
		{ID: "op-00003", Kind: "untick", Step: "sound", At: 3000, Who: "Bo"},
		{ID: "op-00001", Kind: "tick", Step: "sound", At: 1000, Who: "Ida"},
		{ID: "op-00002", Kind: "tick", Step: "test", At: 2000, Who: "Ida"},
		{ID: "op-00001", Kind: "tick", Step: "sound", At: 1000, Who: "Ida"},
	})
	fmt.Println(s.Ticks["sound"].Done, s.Ticks["test"].Done, len(s.Ticks))
	// Output: false true 2
}

// Two phones that were without a connection: whatever order their operations come in, and however often, everybody sees
// the same.
func TestFoldForgetsTheOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var ops []night.Op
		for i := range rapid.IntRange(1, 30).Draw(t, "ops") {
			op := night.Op{ID: fmt.Sprintf("op-%05d", i), At: int64(rapid.IntRange(0, 6).Draw(t, "at")),
				Kind: rapid.SampledFrom([]string{"tick", "untick", "fail", "incident", "figure", "note", "air", "end",
					"drop"}).Draw(t, "kind"), Step: strconv.Itoa(rapid.IntRange(0, 3).Draw(t, "step"))}
			if i > 0 && rapid.Bool().Draw(t, "again") {
				op.Of = fmt.Sprintf("op-%05d", rapid.IntRange(0, i-1).Draw(t, "of"))
			}
			op.Incident = &night.Incident{What: "w", MinutesLost: 1}
			ops = append(ops, op)
		}
		want := night.Fold(ops)
		mixed := append(append([]night.Op{}, ops...), ops[:len(ops)/2]...)
		rand.Shuffle(len(mixed), func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] })
		require.Equal(t, want, night.Fold(mixed))
	})
}

func TestEditsAreKept(t *testing.T) {
	s := night.Fold([]night.Op{
		{ID: "incident-1", Kind: "incident", At: 10, Incident: &night.Incident{Loss: "source", What: "black",
			MinutesLost: 2}},
		{ID: "incident-2", Kind: "incident", At: 20, Of: "incident-1", Incident: &night.Incident{Loss: "source",
			What: "black", Cause: "lead", MinutesLost: 3}},
		{ID: "note-0001", Kind: "note", At: 11, Text: "x"}, {ID: "drop-0001", Kind: "drop", At: 12, Of: "note-0001"},
	})
	require.Len(t, s.Incidents, 1)
	require.Equal(t, "lead", s.Incidents[0].Op.Incident.Cause)
	require.Equal(t, 3.0, s.Lost)
	require.Len(t, s.Incidents[0].Before, 1)
	require.Empty(t, s.Notes)
}

// the same table is run in the browser's tests.
func TestKeysAreTakenOut(t *testing.T) {
	own := func(w string) bool { return w == "stick-stage-number-2" }
	raw, err := os.ReadFile("testdata/keys.json")
	require.NoError(t, err)
	var cases []struct{ Text, Want string }
	require.NoError(t, json.Unmarshal(raw, &cases))
	require.Greater(t, len(cases), 10)
	for _, c := range cases {
		got, found := night.WithoutKeys(c.Text, own)
		assert.Equal(t, c.Want, got)
		assert.Equal(t, c.Want != c.Text, found, c.Text)
		again, _ := night.WithoutKeys(got, own)
		assert.Equal(t, got, again, "twice is once")
	}
}

// The bounds against gonum's χ², and one case of a textbook kind worked by hand: 10 faults in 1000 h, χ²(0.025; 20) =
// 9.591 and χ²(0.975; 22) = 36.781 by the usual tables.
func TestTimeBetweenFaults(t *testing.T) {
	b := night.BetweenFaults(1000, 10)
	assert.InDelta(t, 100, b.Hours, 1e-9)
	assert.InDelta(t, 2000/36.781, b.Low, 0.01)
	assert.InDelta(t, 2000/9.591, b.High, 0.02)
	for n := range 60 {
		b := night.BetweenFaults(77, n)
		assert.InEpsilon(t, 154/distuv.ChiSquared{K: float64(2*n + 2)}.Quantile(0.975), b.Low, 1e-6, n)
		if n > 0 {
			assert.InEpsilon(t, 154/distuv.ChiSquared{K: float64(2 * n)}.Quantile(0.025), b.High, 1e-6, n)
		}
	}
	none := night.BetweenFaults(10, 0)
	assert.Zero(t, none.Hours)
	assert.Zero(t, none.High)
	assert.InDelta(t, 10/3.6889, none.Low, 1e-3)
	assert.Equal(t, night.Between{}, night.BetweenFaults(0, 0))
}

// A figure that falls is found falling, and noise alone is called certain about once in twenty.
func TestDrift(t *testing.T) {
	day := int64(24 * 3600 * 1000)
	falling, certain := 0, 0
	for seed := range 400 {
		r := rand.New(rand.NewPCG(uint64(seed), 7))
		var down, flat []night.Held
		for i := range 12 {
			at := int64(i) * 7 * day
			down = append(down,
				night.Held{At: at,
					Readings: []night.Figure{{What: "uplink", Value: 10 - 0.4*float64(i) + 0.5*r.NormFloat64(),
						Unit: "Mb/s"}}})
			flat = append(flat,
				night.Held{At: at, Readings: []night.Figure{{What: "uplink", Value: 10 + r.NormFloat64(),
					Unit: "Mb/s"}}})
		}
		if d := night.Over(down).Drift[0]; d.Certain && d.PerMonth < 0 {
			falling++
		}
		if night.Over(flat).Drift[0].Certain {
			certain++
		}
	}
	assert.Greater(t, falling, 390)
	assert.InDelta(t, 20, certain, 14, "of 400, one in twenty")
}

// Half an hour of work done in an hour: what is left takes twice its plan, and the minutes to spare follow.
func TestPace(t *testing.T) {
	minute := int64(60000)
	sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{})
	air := 600 * minute
	whole := night.PaceOf(sheet, 1, &night.Standing{}, air, 0)
	assert.Equal(t, sheet.Plan(1).Minutes, whole.Left)
	assert.Equal(t, 600-whole.Left-15, whole.Ahead)
	assert.NotEmpty(t, whole.Next)
	st := night.Standing{Ticks: map[string]night.Tick{}}
	for i, id := range []string{"mount:cam-bench", "mount:cam-face", "mount:cam-stage", "mount:phone"} {
		st.Ticks[id] = night.Tick{Done: true, At: int64(6+i*14) * minute}
	}
	p := night.PaceOf(sheet, 1, &st, air, 48*minute)
	assert.InDelta(t, 2, p.Factor, 1e-9, "24 min of work in 48")
	assert.InDelta(t, whole.Left-24, p.Left, 1e-9)
	assert.Equal(t, 48*minute+int64(2*p.Left)*minute, p.ReadyAt)
	assert.NotContains(t, p.Next, "mount:phone")
	for _, x := range sheet.Steps {
		st.Ticks[x.ID] = night.Tick{Done: true, At: 50 * minute}
	}
	p = night.PaceOf(sheet, 1, &st, air, 90*minute)
	assert.Zero(t, p.Left)
	assert.Equal(t, 50*minute, p.ReadyAt)
	assert.Equal(t, 535.0, p.Ahead)
}

func TestStepTimes(t *testing.T) {
	minute := int64(60000)
	s := night.Fold([]night.Op{
		{ID: "op-00001", Kind: "tick", Step: "a", At: 4 * minute, Who: "Ida"}, {ID: "op-00002", Kind: "tick",
			Step: "b", At: 9 * minute, Who: "Ida"},
		{ID: "op-00003", Kind: "tick", Step: "c", At: 9*minute + 1000, Who: "Ida"}, {ID: "op-00004", Kind: "tick",
			Step: "d", At: 7 * minute, Who: "Bo"}, {ID: "op-00005", Kind: "tick", Step: "e", At: 300 * minute,
			Who: "Bo"}, {ID: "op-00006", Kind: "tick", Step: "f", At: 11 * minute, Who: "Bo"}})
	took := night.Times(&s, []night.Step{{"a", "mount", 6}, {"b", "mount", 6}, {"c", "plug", 1}, {"d", "room", 4},
		{"f", "mount", 6}, {"e", "plug", 1}})
	assert.Equal(t, []night.Took{{"b", "mount", 5, 6}, {"f", "mount", 4, 6}}, took,
		"first ticks, ticks at once and a pause of hours are no times")
	season := night.Over([]night.Held{{Took: took}})
	assert.Contains(t, season.Work, night.Learn{Kind: "mount", Name: "a camera mounted and framed", Times: 2,
		Minutes: 4.5, Low: 4.25, High: 4.75})
}

// Going to air and the end of it are taken back by dropping what said so; what was said before it counts again.
func TestAirAndEndAreTakenBack(t *testing.T) {
	op := func(id, kind string, at int64, of string) night.Op {
		return night.Op{ID: id, Kind: kind, At: at, Of: of}
	}
	for name, c := range map[string]struct {
		ops      []night.Op
		air, end int64
	}{
		"on air": {[]night.Op{op("air-00001", "air", 10, "")}, 10, 0},
		"taken back": {[]night.Op{op("air-00001", "air", 10, ""),
			op("drop-0001", "drop", 11, "air-00001")}, 0, 0},
		"the drop came first": {[]night.Op{op("air-00001", "air", 10, ""),
			op("drop-0001", "drop", 9, "air-00001")}, 0, 0},
		"and on air again": {[]night.Op{op("air-00001", "air", 10, ""),
			op("drop-0001", "drop", 11, "air-00001"), op("air-00002", "air", 12, "")}, 12, 0},
		"not over after all": {[]night.Op{op("air-00001", "air", 10, ""), op("end-00001", "end", 90, ""),
			op("drop-0001", "drop", 91, "end-00001")}, 10, 0},
		"the later end is undone": {[]night.Op{op("end-00001", "end", 90, ""), op("end-00002", "end", 95, ""),
			op("drop-0001", "drop", 96, "end-00002")}, 0, 90},
	} {
		s := night.Fold(c.ops)
		require.Equal(t, c.air, s.AirAt, name)
		require.Equal(t, c.end, s.EndAt, name)
		require.Equal(t, c.air != 0, s.AirOp != "", name)
	}
}

func TestMinutesLostAreMinutes(t *testing.T) {
	for _, bad := range []float64{-5, 10081, math.NaN(), math.Inf(1), 1.7e308} {
		op := night.Op{ID: "incident-1", Kind: "incident", At: 1, Incident: &night.Incident{Loss: "other", What: "x",
			MinutesLost: bad}}
		require.Contains(t, op.Refused().Why, "want 0 to 10080", bad)
	}
}
