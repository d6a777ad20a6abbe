package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"

	"eventether/core/judge"
	"eventether/core/night"
	"eventether/core/rig"
	"eventether/core/runsheet"
	"eventether/internal/demo"
	"eventether/internal/demo/rigs"
	"eventether/internal/postgres/pgtest"
	"eventether/internal/store"
)

var dsn string

// named finds the database in a connection string.
var named = regexp.MustCompile(`(127\.0\.0\.1:\d+/)\w+`)

func TestMain(m *testing.M) { pgtest.Run(m, func(s string) { dsn = s }) }

// database is a new, empty one.
func database(t testing.TB) *store.Store {
	t.Helper()
	name := "a" + strings.ReplaceAll(uuid.NewString(), "-", "")
	admin, err := gorm.Open(postgres.Open(dsn))
	require.NoError(t, err)
	require.NoError(t, admin.Exec("CREATE DATABASE "+name).Error)
	pool, err := admin.DB()
	require.NoError(t, err)
	require.NoError(t, pool.Close())
	s, err := store.Open(context.Background(), named.ReplaceAllString(dsn, "${1}"+name))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

func write(t testing.TB, s *store.Store) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, Write(t.Context(), s, &b, time.Unix(1_800_000_000, 0)))
	return b.Bytes()
}

func bring(t testing.TB, s *store.Store, raw []byte) (*Report, error) {
	t.Helper()
	return Read(t.Context(), s, bytes.NewReader(raw), int64(len(raw)))
}

// The demo with its season goes out, into an empty database, and out again the same; a second time everything is there already.
func TestThereAndBack(t *testing.T) {
	ctx := t.Context()
	from, to := database(t), database(t)
	require.NoError(t, demo.Starter(ctx, from))
	require.NoError(t, demo.Load(ctx, from))
	require.NoError(t, from.KeepProfile(ctx, rig.Known{Name: "Mine", Transport: "srt", Ingest: rig.Ingest{MaxVideoKbps: 3000}}, "ann"))
	require.NoError(t, from.KeepProfile(ctx, rig.Known{Name: "Mine", Transport: "srt", Ingest: rig.Ingest{MaxVideoKbps: 4000}}, "ann"))
	raw := write(t, from)
	report, err := bring(t, to, raw)
	require.NoError(t, err)
	mine, err := to.Profiles(ctx)
	require.NoError(t, err)
	require.Len(t, mine, 1)
	require.Equal(t, 2, mine[0].Number, "with its history")
	require.Equal(t, len(report.Rows), report.Count(store.CameNew))
	require.Greater(t, len(report.Rows), 60)
	require.Equal(t, documents(t, raw), documents(t, write(t, to)))
	report, err = bring(t, to, raw)
	require.NoError(t, err)
	require.Equal(t, len(report.Rows), report.Count(store.CameSame))
}

// On a used database: what was added since comes too, what goes on from it stays, what is another stays and is named.
func TestNothingIsOverwritten(t *testing.T) {
	ctx := t.Context()
	one, two := database(t), database(t)
	row, rev, err := one.Create(ctx, judge.Rig(rigs.LoftEven()), "ann", "made")
	require.NoError(t, err)
	n, err := one.OpenNight(ctx, store.Night{RigID: row.ID, Revision: rev.Number, Name: "First", AirAt: time.Now(), People: 1}, runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.NoError(t, err)
	before := write(t, one)
	_, err = bring(t, two, before)
	require.NoError(t, err)
	change := func(s *store.Store, name string) {
		r, err := rig.Apply(rigs.LoftEven(), rig.Edit{Do: "name", Name: name})
		require.NoError(t, err)
		_, _, err = s.Save(ctx, row.ID, 1, judge.Rig(r), "ann", "called "+name)
		require.NoError(t, err)
	}
	change(one, "One")
	_, err = one.AddOps(ctx, n.ID, []night.Op{{ID: "op-000001", Kind: "tick", Step: "labels", At: 5}})
	require.NoError(t, err)
	longer := write(t, one)
	report, err := bring(t, two, longer)
	require.NoError(t, err)
	require.Equal(t, 2, report.Count(store.CameLonger), "a revision of the rig, a tick of the night")
	report, err = bring(t, two, before)
	require.NoError(t, err)
	require.Equal(t, 1, report.Count(store.CameAhead))

	three := database(t)
	_, err = bring(t, three, before)
	require.NoError(t, err)
	change(three, "Three")
	report, err = bring(t, three, longer)
	require.NoError(t, err)
	require.Equal(t, 1, report.Count(store.CameClash))
	got, _, err := three.Get(ctx, row.ID, 0)
	require.NoError(t, err)
	require.Equal(t, "Three", got.Name)
}

// documents are the documents of an archive by name, as values.
func documents(t testing.TB, raw []byte) map[string]any {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	require.NoError(t, err)
	out := map[string]any{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		var v any
		require.NoError(t, json.Unmarshal(text, &v))
		out[f.Name] = v
	}
	return out
}

func zipped(t testing.TB, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = io.WriteString(w, text)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

// Cut short, altered, of a newer version, a gigabyte of zeros: named, and nothing taken.
func TestUnusableArchives(t *testing.T) {
	ctx := t.Context()
	s := database(t)
	_, _, err := s.Create(ctx, judge.Rig(rigs.LoftEven()), "ann", "made")
	require.NoError(t, err)
	good := write(t, s)
	empty := database(t)
	altered := bytes.Clone(good)
	at := bytes.Index(altered, []byte("rigs/")) + 80
	for i := range 30 {
		altered[at+i] ^= 0x5a
	}
	manifest := fmt.Sprintf(`{"format":%q,"made":"2026-01-01T00:00:00Z"}`, Format)
	var zeros bytes.Buffer
	z := zip.NewWriter(&zeros)
	w, err := z.Create("rigs/0.json")
	require.NoError(t, err)
	block := make([]byte, 1<<20)
	for range 1024 {
		_, err := w.Write(block)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	doc := `{"id":"7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a11","name":"x","state":"slack","feeds":0,"createdAt":"2026-01-01T00:00:00Z","updatedAt":"2026-01-01T00:00:00Z","revisions":%s}`
	for name, c := range map[string]struct {
		raw  []byte
		says string
	}{
		"nothing":       {nil, "no archive"},
		"text":          {[]byte("hello"), "no archive"},
		"cut short":     {good[:len(good)/2], "cut short"},
		"altered":       {altered, ""},
		"newer":         {zipped(t, map[string]string{"manifest.json": `{"format":"eventether-backup/2","made":"2026-01-01T00:00:00Z"}`}), "newer"},
		"no manifest":   {zipped(t, map[string]string{}), "manifest.json is missing"},
		"zeros":         {zeros.Bytes(), "larger than 64"},
		"strange place": {zipped(t, map[string]string{"manifest.json": manifest, "../etc/passwd": "{}"}), "nothing of this application"},
		"unknown field": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": `{"colour":1}`}), "colour"},
		"broken rig":    {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc, `[{"number":1,"kind":"create","shows":1,"what":"","who":"","at":"2026-01-01T00:00:00Z","doc":{"format":"x"}}]`)}), "this version reads"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := bring(t, empty, c.raw)
			var bad *Unusable
			require.ErrorAs(t, err, &bad)
			require.Contains(t, err.Error(), c.says)
			rows, err := empty.List(ctx, false)
			require.NoError(t, err)
			require.Empty(t, rows)
		})
	}
}
