package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/archive"
	"eventether/internal/demo/rigs"
	"eventether/internal/store"
)

// season keeps a log of 500 shows and 20,000 incidents, once in a database.
func season(b *testing.B, st *store.Store) uuid.UUID {
	b.Helper()
	sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{People: 2})
	text, err := json.Marshal(sheet)
	require.NoError(b, err)
	row, rev, err := st.Create(b.Context(), judge.Rig(rigs.LoftEven()), "bench", "made")
	require.NoError(b, err)
	var last uuid.UUID
	for i := range 500 {
		air := time.Date(2020, 1, 1, 19, 0, 0, 0, time.UTC).AddDate(0, 0, 3*i)
		ops := []night.Op{{ID: fmt.Sprintf("air-%06d", i), Kind: "air", At: air.UnixMilli()},
			{ID: fmt.Sprintf("end-%06d", i), Kind: "end", At: air.Add(2 * time.Hour).UnixMilli()}}
		for k := range 40 {
			ops = append(ops, night.Op{ID: fmt.Sprintf("inc-%04d-%03d", i, k), Kind: "incident",
				At: air.Add(time.Duration(k) * time.Minute).UnixMilli(), Incident: &night.Incident{Loss: "source",
					Part: fmt.Sprintf("Stick %d", k%7), Hop: "capture", What: "went black", Cause: "loose",
					Cure: "pushed in", MinutesLost: 0.5}})
		}
		last = uuid.New()
		_, err := st.PutNight(b.Context(), store.Night{ID: last, RigID: row.ID, Revision: rev.Number,
			Name: fmt.Sprint("Show ", i), AirAt: air, People: 2, Sheet: text, CreatedAt: air}, ops)
		require.NoError(b, err)
	}
	return last
}

// The overview of such a log, a tick in it, and everything out into an archive.
func BenchmarkLog(b *testing.B) {
	s := serve(b)
	st, err := store.Open(b.Context(), dsn)
	require.NoError(b, err)
	defer st.Close()
	last := season(b, st)
	b.Run("overview", func(b *testing.B) {
		for b.Loop() {
			res, err := http.Get(s.URL + "/api/nights")
			require.NoError(b, err)
			n, err := io.Copy(io.Discard, res.Body)
			require.NoError(b, err)
			require.Greater(b, n, int64(1000))
			_ = res.Body.Close()
		}
	})
	n := 0
	b.Run("tick", func(b *testing.B) {
		for b.Loop() {
			n++
			res, err := http.Post(s.URL+"/api/nights/"+last.String()+"/ops", "application/json",
				strings.NewReader(`{"ops":[`+op(fmt.Sprintf("tick-%06d", n), "tick", `,"step":"labels"`)+`]}`))
			require.NoError(b, err)
			require.Equal(b, 200, res.StatusCode)
			_ = res.Body.Close()
		}
	})
	b.Run("archive", func(b *testing.B) {
		for b.Loop() {
			var out bytes.Buffer
			require.NoError(b, archive.Write(b.Context(), st, &out, time.Now()))
			report, err := archive.Read(b.Context(), st, bytes.NewReader(out.Bytes()), int64(out.Len()), nil)
			require.NoError(b, err)
			require.Equal(b, len(report.Rows), report.Count(store.CameSame))
		}
	})
}

// A tick in a show of 100,000 operations, and what it changed coming back.
func BenchmarkLongShow(b *testing.B) {
	s := serve(b)
	st, err := store.Open(b.Context(), dsn)
	require.NoError(b, err)
	defer st.Close()
	sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{People: 2})
	row, rev, err := st.Create(b.Context(), judge.Rig(rigs.LoftEven()), "bench", "made")
	require.NoError(b, err)
	n, err := st.OpenNight(b.Context(), store.Night{RigID: row.ID, Revision: rev.Number, Name: "Long",
		AirAt: time.Now(), People: 2}, sheet)
	require.NoError(b, err)
	text := strings.Repeat("w w ", 120)
	for i := range 50 {
		ops := make([]night.Op, 2000)
		for k := range ops {
			ops[k] = night.Op{ID: fmt.Sprintf("inc-%06d", 2000*i+k), Kind: "incident", At: time.Now().UnixMilli(),
				Incident: &night.Incident{Loss: "source", What: text, Cause: text, Cure: text, Next: text}}
		}
		_, err := st.AddOps(b.Context(), n.ID, ops)
		require.NoError(b, err)
	}
	seq := 100_000
	// Some operations on top, each of them another every time, and what they changed coming back.
	send := func(many int) {
		ops := make([]string, many)
		for k := range ops {
			ops[k] = fmt.Sprintf(`{"id":"tick-%08d","kind":"tick","at":%d,"step":"labels"}`, seq+k,
				time.Now().UnixMilli())
		}
		body := fmt.Sprintf(`{"after":%d,"ops":[%s]}`, seq, strings.Join(ops, ","))
		res, err := http.Post(s.URL+"/api/nights/"+n.ID.String()+"/ops", "application/json", strings.NewReader(body))
		require.NoError(b, err)
		n, err := io.Copy(io.Discard, res.Body)
		require.NoError(b, err)
		require.Equal(b, 200, res.StatusCode)
		require.Less(b, n, int64(100_000))
		_ = res.Body.Close()
		seq += many
	}
	send(1) // reads the show once
	for _, many := range []int{1, 500, 2000} {
		b.Run(fmt.Sprint(many), func(b *testing.B) {
			for b.Loop() {
				send(many)
			}
		})
	}
}
