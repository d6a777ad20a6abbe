package night_test

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/night"
)

// anyOps draws operations of every kind on few steps and few things, so that they meet.
func anyOps(t *rapid.T, n int) []night.Op {
	ops := make([]night.Op, n)
	id := func(i int) string { return fmt.Sprintf("op-%06d", i) }
	for i := range ops {
		op := night.Op{ID: id(i), At: int64(rapid.IntRange(1, 40).Draw(t, "at")),
			Kind: rapid.SampledFrom([]string{"tick", "untick", "fail", "incident", "figure", "note", "air", "end",
				"drop"}).Draw(t, "kind")}
		other := ""
		if i > 0 {
			other = id(rapid.IntRange(0, i-1).Draw(t, "other"))
		}
		switch op.Kind {
		case "tick", "untick", "fail":
			op.Step = rapid.SampledFrom([]string{"a", "b", "c"}).Draw(t, "step")
		case "drop":
			op.Of = other
		case "incident", "figure", "note":
			if rapid.Bool().Draw(t, "again") {
				op.Of = other
			}
			op.Text = "x"
			op.Incident = &night.Incident{Loss: "other", What: "w",
				MinutesLost: float64(rapid.IntRange(0, 99).Draw(t, "lost")) / 10}
			op.Figure = &night.Figure{What: "w", Value: 1}
		}
		ops[i] = op
	}
	return ops
}

// What has changed since any seq, laid over what stood then, is what stands now; and nothing that stayed is sent again.
func TestChangesLeadFromOneStateToTheNext(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ops := anyOps(t, rapid.IntRange(1, 40).Draw(t, "n"))
		at := rapid.IntRange(0, len(ops)).Draw(t, "at")
		s := night.NewState()
		for i := range at {
			s.Add(ops[i])
		}
		was := s.Standing()
		for i := at; i < len(ops); i++ {
			s.Add(ops[i])
			s.Add(ops[i]) // sent again
		}
		require.Equal(t, int64(len(ops)), s.Seq())
		c, want := s.Since(int64(at)), s.Standing()
		require.Equal(t, night.Fold(ops), want)
		for step, tick := range c.Ticks {
			was.Ticks[step] = tick
		}
		require.Equal(t, want.Ticks, was.Ticks)
		over := func(old, fresh []night.Written) (ids []string) {
			by := map[string]night.Written{}
			for _, k := range append(old, fresh...) {
				by[k.ID] = k
			}
			for id, k := range by {
				if !slices.Contains(c.Gone, id) {
					raw, err := json.Marshal(k)
					require.NoError(t, err)
					ids = append(ids, string(raw))
				}
			}
			slices.Sort(ids)
			return ids
		}
		// a thing that has become of another kind leaves its old list
		kind := func(list []night.Written, other ...[]night.Written) (out []night.Written) {
			for _, k := range list {
				moved := false
				for _, o := range other {
					moved = moved || slices.ContainsFunc(o, func(x night.Written) bool { return x.ID == k.ID })
				}
				if !moved {
					out = append(out, k)
				}
			}
			return out
		}
		require.Equal(t, over(want.Incidents, nil), over(kind(was.Incidents, c.Figures, c.Notes), c.Incidents))
		require.Equal(t, over(want.Figures, nil), over(kind(was.Figures, c.Incidents, c.Notes), c.Figures))
		require.Equal(t, over(want.Notes, nil), over(kind(was.Notes, c.Incidents, c.Figures), c.Notes))
		require.Equal(t, []any{want.AirAt, want.EndAt, want.Lost}, []any{c.AirAt, c.EndAt, c.Lost})
		if at == len(ops) {
			require.Empty(t, c.Ticks)
			require.Empty(t, slices.Concat(c.Incidents, c.Figures, c.Notes))
		}
	})
}

func long(n int) string { return strings.Repeat("x", n) }

// What is wrong with an operation, wherever it comes from: the field is named, and what is allowed.
func TestRefused(t *testing.T) {
	good := func(op night.Op) night.Op {
		op.ID, op.At = "op-000001", 5
		return op
	}
	for _, c := range []struct {
		op          night.Op
		field, says string
	}{
		{good(night.Op{Kind: "tick", Step: "a"}), "", ""},
		{good(night.Op{Kind: "air"}), "", ""},
		{good(night.Op{Kind: "note", Text: "Ana says: “late”, 21:40"}), "", ""},
		{good(night.Op{Kind: "figure", Figure: &night.Figure{What: "x", Value: -1e9}}), "", ""},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "sound", Hop: "lead", What: "x",
			MinutesLost: 10080}}), "", ""},
		{night.Op{ID: "short", Kind: "air", At: 1}, "id", "8 to 60"},
		{night.Op{ID: "op-000001", Kind: "air"}, "at", "year 2100"},
		{night.Op{ID: "op-000001", Kind: "air", At: math.MaxInt64}, "at", "year 2100"},
		{good(night.Op{Kind: "leap"}), "kind", "tick, untick"},
		{good(night.Op{Kind: "tick"}), "step", "which step"},
		{good(night.Op{Kind: "fail"}), "step", "which step"},
		{good(night.Op{Kind: "tick", Step: long(301)}), "step", "301 characters"},
		{good(night.Op{Kind: "note"}), "text", "empty"},
		{good(night.Op{Kind: "note", Text: " "}), "text", "nothing to see"},
		{good(night.Op{Kind: "note", Text: long(2001)}), "text", "at most 2000"},
		{good(night.Op{Kind: "note", Text: "from the chat: \u2068Ana\u2069"}), "text", "the note"},
		{good(night.Op{Kind: "note", Text: "x", Who: "a\u202eb"}), "who", "who it was"},
		{good(night.Op{Kind: "drop"}), "of", "what is dropped"},
		{good(night.Op{Kind: "incident"}), "incident.what", "what happened"},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "other", What: " "}}), "incident.what",
			"nothing to see"},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "fire", What: "x"}}), "incident.loss",
			"source, composing"},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "other", Hop: "moon", What: "x"}}),
			"incident.hop", "camera, socket"},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "other", What: "x", MinutesLost: 1e308}}),
			"incident.minutesLost", "0 to 10080"},
		{good(night.Op{Kind: "incident", Incident: &night.Incident{Loss: "other", What: "x", Cause: long(501)}}),
			"incident.cause", "501"},
		{good(night.Op{Kind: "figure"}), "figure.what", "measured"},
		{good(night.Op{Kind: "figure", Figure: &night.Figure{What: "x", Value: 1.7e308}}), "figure.value",
			"1,000,000,000"},
		{good(night.Op{Kind: "figure", Figure: &night.Figure{What: "x", Value: math.NaN()}}), "figure.value",
			"1,000,000,000"},
		{good(night.Op{Kind: "figure", Figure: &night.Figure{What: "x", Path: long(201)}}), "figure.path", "fact"},
	} {
		r := c.op.Refused()
		if c.says == "" {
			require.Nil(t, r, "%+v", c.op)
			continue
		}
		require.NotNil(t, r, "%+v", c.op)
		require.Equal(t, c.field, r.Field)
		require.Contains(t, r.Why, c.says)
		require.Equal(t, c.op.ID, r.ID)
	}
	fields := map[string]bool{}
	(&night.Op{Incident: &night.Incident{}, Figure: &night.Figure{}}).EachText(func(field string, _ *string) {
		fields[field] = true
	})
	require.Len(t, fields, 9)
}

// A clock that is behind is put right; one ahead by more than a minute gives way to the time it came, and that is said.
func TestArrive(t *testing.T) {
	const now = 1_800_000_000_000
	for _, c := range []struct{ at, off, want, said int64 }{
		{now - 3600_000, 0, now - 3600_000, 0},
		{now - 3600_000, 3500_000, now - 100_000, 0},
		{now + 3600_000, -3600_000, now, 0},
		{now + 60_000, 0, now + 60_000, 0},
		{now + 60_001, 0, now, now + 60_001},
		{now + 3600_000, 0, now, now + 3600_000},
		{now, 9e17, now, now},
	} {
		op := night.Op{At: c.at, Said: 7}
		op.Arrive(now, c.off)
		require.Equal(t, []int64{c.want, c.said}, []int64{op.At, op.Said}, c)
	}
	figure := night.Op{Kind: "figure", At: now + 3600_000}
	figure.Arrive(now, 0)
	require.EqualValues(t, now+3600_000, figure.At, "out of a table")
	// An untick after the tick of a clock that is ahead counts.
	tick, untick := night.Op{ID: "op-000001", Kind: "tick", Step: "a", At: now + 3600_000},
		night.Op{ID: "op-000002", Kind: "untick", Step: "a", At: now + 5}
	tick.Arrive(now, 0)
	untick.Arrive(now+5, 0)
	s := night.Fold([]night.Op{tick, untick})
	require.False(t, s.Ticks["a"].Done)
}

// Adding to a long show costs what it changes.
func BenchmarkAdd(b *testing.B) {
	s := night.NewState()
	for i := range 100_000 {
		s.Add(night.Op{ID: fmt.Sprintf("op-%06d", i), Kind: "note", At: int64(i + 1), Text: long(500)})
	}
	b.ResetTimer()
	for i := range b.N {
		seq := s.Seq()
		s.Add(night.Op{ID: fmt.Sprintf("more-%09d", i), Kind: "tick", Step: "a", At: int64(200_000 + i)})
		_ = s.Since(seq)
	}
}
