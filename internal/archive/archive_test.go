package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"flag"
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
	"eventether/core/rig/rigtest"
	"eventether/core/runsheet"
	"eventether/internal/demo"
	"eventether/internal/demo/rigs"
	"eventether/internal/postgres/pgtest"
	"eventether/internal/store"
)

var (
	dsn    string
	stores = flag.Int("stores", 2, "random stores that go out and come back")
)

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

func back(t testing.TB, s *store.Store, raw []byte) (*Report, error) {
	t.Helper()
	return Read(t.Context(), s, bytes.NewReader(raw), int64(len(raw)), nil)
}

// The demo with its season goes out, into an empty database, and out again the same; a second time everything is there
// already.
func TestThereAndBack(t *testing.T) {
	ctx := t.Context()
	from, to := database(t), database(t)
	require.NoError(t, demo.Starter(ctx, from))
	require.NoError(t, demo.Load(ctx, from))
	require.NoError(t, from.KeepProfile(ctx, rig.Known{Name: "Mine", Transport: "srt",
		Ingest: rig.Ingest{MaxVideoKbps: 3000}}, "ann"))
	require.NoError(t, from.KeepProfile(ctx, rig.Known{Name: "Mine", Transport: "srt",
		Ingest: rig.Ingest{MaxVideoKbps: 4000}}, "ann"))
	rows, err := from.List(ctx, false)
	require.NoError(t, err)
	kept := store.Report{ID: uuid.New(), RigID: rows[0].ID, Revision: 1, Kind: "rehearsal", Part: "stream-0", Name: "the stream to Class", At: time.Now().UTC(),
		Doc: []byte(`{"part":"stream-0","label":"the stream to Class","sentence":"As it is set."}`)}
	require.NoError(t, from.KeepReport(ctx, kept))
	raw := write(t, from)
	report, err := back(t, to, raw)
	require.NoError(t, err)
	reports, err := to.Reports(ctx, rows[0].ID)
	require.NoError(t, err)
	require.Len(t, reports, 1)
	require.Equal(t, kept.Name, reports[0].Name)
	again, err := from.Report(ctx, kept.ID)
	require.NoError(t, err)
	require.JSONEq(t, string(kept.Doc), string(again.Doc))
	mine, err := to.Profiles(ctx)
	require.NoError(t, err)
	require.Len(t, mine, 1)
	require.Equal(t, 2, mine[0].Number, "with its history")
	require.Equal(t, len(report.Rows), report.Count(store.CameNew))
	require.Greater(t, len(report.Rows), 60)
	require.Equal(t, documents(t, raw), documents(t, write(t, to)))
	report, err = back(t, to, raw)
	require.NoError(t, err)
	require.Equal(t, len(report.Rows), report.Count(store.CameSame))
}

// On a used database: what was added since comes too, what goes on from it stays, what is another stays and is named.
func TestNothingIsOverwritten(t *testing.T) {
	ctx := t.Context()
	one, two := database(t), database(t)
	row, rev, err := one.Create(ctx, judge.Rig(rigs.LoftEven()), "ann", "made")
	require.NoError(t, err)
	n, err := one.OpenNight(ctx, store.Night{RigID: row.ID, Revision: rev.Number, Name: "First", AirAt: time.Now(),
		People: 1}, runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.NoError(t, err)
	before := write(t, one)
	_, err = back(t, two, before)
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
	report, err := back(t, two, longer)
	require.NoError(t, err)
	require.Equal(t, 2, report.Count(store.CameLonger), "a revision of the rig, a tick of the night")
	report, err = back(t, two, before)
	require.NoError(t, err)
	require.Equal(t, 2, report.Count(store.CameAhead), "the rig, and its night")

	three := database(t)
	_, err = back(t, three, before)
	require.NoError(t, err)
	change(three, "Three")
	report, err = back(t, three, longer)
	require.NoError(t, err)
	require.Equal(t, 1, report.Count(store.CameClash))
	got, _, err := three.Get(ctx, row.ID, 0)
	require.NoError(t, err)
	require.Equal(t, "Three", got.Name)
}

// Random stores go out, into an empty database, and out again the same; so do archives of the first form.
func TestRandomStoresComeBack(t *testing.T) {
	ctx := t.Context()
	for seed := range uint64(*stores) {
		from, to := database(t), database(t)
		d := rigtest.NewDice(seed)
		for i := range 3 + d.N(4) {
			row, _, err := from.Create(ctx, judge.Rig(rigtest.Rig(seed*100+uint64(i))), "ann", "made — ü")
			require.NoError(t, err)
			head := 1
			for range d.N(40) {
				var err error
				switch d.N(4) {
				case 0:
					_, _, err = from.Undo(ctx, row.ID, head, "ann")
				case 1:
					_, _, err = from.Redo(ctx, row.ID, head, "ben")
				default:
					_, rev, got := from.Get(ctx, row.ID, 0)
					require.NoError(t, got)
					r, read := rev.Rig()
					require.NoError(t, read)
					after, apply := rig.Apply(r,
						rig.Edit{Do: "name", Name: strings.Repeat("ü", d.N(5)) + fmt.Sprint("n", d.N(1000))})
					require.NoError(t, apply)
					_, _, err = from.Save(ctx, row.ID, head, judge.Rig(after), "ann", "called")
				}
				if err == nil {
					head++
				} else {
					require.ErrorIs(t, err, store.ErrNothing)
				}
			}
			if d.Of(3) {
				require.NoError(t, from.Delete(ctx, row.ID))
			}
			for range d.N(3) {
				sheet := runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{People: 2})
				n, err := from.OpenNight(ctx, store.Night{RigID: row.ID, Revision: 1 + d.N(head), Name: "Show",
					AirAt: time.Unix(1_800_000_000, 0), People: 1 + d.N(3)}, sheet)
				require.NoError(t, err)
				var ops []night.Op
				for k := range d.N(5000) {
					ops = append(ops, night.Op{ID: fmt.Sprintf("op-%06d", k), Kind: "incident",
						At: int64(1 + d.N(1e9)), Incident: &night.Incident{Loss: "other", What: "wörd",
							MinutesLost: float64(d.N(9))}})
				}
				if len(ops) > 0 {
					_, err = from.AddOps(ctx, n.ID, ops)
					require.NoError(t, err)
				}
			}
		}
		raw := write(t, from)
		report, err := back(t, to, raw)
		require.NoError(t, err, "seed %d", seed)
		require.Equal(t, len(report.Rows), report.Count(store.CameNew))
		require.Equal(t, documents(t, raw), documents(t, write(t, to)), "seed %d", seed)
		report, err = back(t, to, raw)
		require.NoError(t, err)
		require.Equal(t, len(report.Rows), report.Count(store.CameSame))
		// The state of a rig, and what can be undone of it, are what they were.
		for _, deleted := range []bool{false, true} {
			was, err := from.List(ctx, deleted)
			require.NoError(t, err)
			is, err := to.List(ctx, deleted)
			require.NoError(t, err)
			require.Equal(t, len(was), len(is))
			for i := range was {
				require.Equal(t, []any{was[i].ID, was[i].Name, was[i].State, was[i].Feeds, was[i].Head},
					[]any{is[i].ID, is[i].Name, is[i].State, is[i].Feeds, is[i].Head})
				before, err := from.Steps(ctx, was[i].ID)
				require.NoError(t, err)
				after, err := to.Steps(ctx, was[i].ID)
				require.NoError(t, err)
				require.Equal(t, before, after)
			}
		}
	}
}

// A rig of 380 kB after 80 changes goes out small and comes back.
func TestLongHistoryIsSmall(t *testing.T) {
	ctx := t.Context()
	from, to := database(t), database(t)
	r := rigtest.Feeds(60)
	for i := range r.Items {
		r.Items[i].Gear.Notes = fmt.Sprintf("%d ", i) + strings.Repeat("note ", 500)
	}
	row, _, err := from.Create(ctx, judge.Rig(r), "ann", "made")
	require.NoError(t, err)
	v := judge.Rig(r)
	for i := range 80 {
		changed := *r
		changed.Name = fmt.Sprint("g", i)
		v.Given = &changed
		_, _, err := from.Save(ctx, row.ID, i+1, v, "ann", "called")
		require.NoError(t, err)
	}
	raw := write(t, from)
	doc, err := json.Marshal(r)
	require.NoError(t, err)
	require.Greater(t, len(doc), 380_000)
	require.Less(t, len(raw), len(doc)/2)
	_, err = back(t, to, raw)
	require.NoError(t, err)
	_, rev, err := to.Get(ctx, row.ID, 70)
	require.NoError(t, err)
	require.Equal(t, "g68", rev.Name)
}

// While an archive comes back, what is there already goes on: rigs are changed and shows ticked as if nothing were
// under way.
func TestNothingWaitsForARestore(t *testing.T) {
	ctx := t.Context()
	s := database(t)
	row, rev, err := s.Create(ctx, judge.Rig(rigs.LoftEven()), "ann", "made")
	require.NoError(t, err)
	n, err := s.OpenNight(ctx, store.Night{RigID: row.ID, Revision: rev.Number, Name: "Show", AirAt: aired, People: 1},
		runsheet.Of(judge.Rig(rigs.LoftEven()), nil, runsheet.Options{}))
	require.NoError(t, err)
	_, err = s.AddOps(ctx, n.ID, []night.Op{{ID: "op-000001", Kind: "tick", Step: "labels", At: 5}})
	require.NoError(t, err)
	raw := write(t, s)
	ticks, head := 0, 1
	report, err := Read(ctx, s, bytes.NewReader(raw), int64(len(raw)), func(int64, int64) {
		soon, cancel := context.WithTimeout(ctx, 10*time.Second)
		defer cancel()
		ticks++
		_, err := s.AddOps(soon, n.ID, []night.Op{{ID: fmt.Sprintf("op-1%05d", ticks), Kind: "tick", Step: "labels",
			At: 6}})
		require.NoError(t, err)
		_, _, err = s.Save(soon, row.ID, head, judge.Rig(rigs.LoftEven()), "ann", "again")
		require.NoError(t, err)
		head++
	})
	require.NoError(t, err)
	require.Equal(t, 2, ticks, "a rig and a show")
	require.Zero(t, report.Count(store.CameClash))
}

// zippedLines is an archive with one line of so many zeros.
func zippedLines(t testing.TB, manifest string, n int) []byte {
	t.Helper()
	return zipped(t, map[string]string{"manifest.json": manifest, "nights/0.jsonl": strings.Repeat("0", n)})
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
		var all []any
		for d := json.NewDecoder(bytes.NewReader(text)); d.More(); {
			var v any
			require.NoError(t, d.Decode(&v))
			all = append(all, v)
		}
		out[f.Name] = all
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
	manifest := fmt.Sprintf(`{"format":%q,"made":"2026-01-01T00:00:00Z"}`, Format1)
	plain := rigtest.Plain()
	plain.Name = "x"
	text, err := json.Marshal(plain)
	require.NoError(t, err)
	revision := func(number int, kind string, shows int, state, what string) string {
		said, err := json.Marshal(what)
		require.NoError(t, err)
		return fmt.Sprintf(`{"number":%d,"kind":%q,"shows":%d,"what":%s,"who":"","at":"2026-01-01T00:00:00Z","name":"x","state":%q,"doc":%s}`,
			number, kind, shows, said, state, text)
	}
	var zeros bytes.Buffer
	z := zip.NewWriter(&zeros)
	w, err := z.Create("manifest.json")
	require.NoError(t, err)
	_, err = io.WriteString(w, manifest)
	require.NoError(t, err)
	w, err = z.Create("rigs/0.json")
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
		"nothing":   {nil, "no archive"},
		"text":      {[]byte("hello"), "no archive"},
		"cut short": {good[:len(good)/2], "cut short"},
		"altered":   {altered, ""},
		"newer": {zipped(t,
			map[string]string{"manifest.json": `{"format":"eventether-backup/4","made":"2026-01-01T00:00:00Z"}`}),
			"newer"},
		"no manifest": {zipped(t, map[string]string{}), "manifest.json is missing"},
		"zeros":       {zeros.Bytes(), "more than 150 times its size"},
		"strange place": {zipped(t, map[string]string{"manifest.json": manifest, "../etc/passwd": "{}"}),
			"nothing of this application"},
		"unknown field": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": `{"colour":1}`}),
			"colour"},
		"broken rig": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[{"number":1,"kind":"create","shows":1,"what":"","who":"","at":"2026-01-01T00:00:00Z","state":"slack","doc":{"format":"x"}}]`)}),
			"this version reads"},
		"first undone": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "undo", 1, "slack", "")+`]`)}), "undoes what is not there"},
		"redone": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "slack", "")+`,`+revision(2, "redo", 1, "slack", "")+`]`)}),
			"redoes what was not undone"},
		"created twice": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "slack", "")+`,`+revision(2, "create", 2, "slack", "")+`]`)}),
			"the first is a create"},
		"a strange kind": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "leap", 1, "slack", "")+`]`)}), "want create, edit"},
		"shows another": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 7, "slack", "")+`]`)}), "says it shows 7"},
		"strange state": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "soaked", "")+`]`)}), "soaked"},
		"long text": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "slack", strings.Repeat("x", 5000))+`]`)}), "5000 characters"},
		"turned text": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "slack", "a\u202eb")+`]`)}), "direction"},
		"misnumbered": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(2, "create", 2, "slack", "")+`]`)}), "not numbered"},
		"no revisions": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[]`)}), "0 revisions"},
		"cut difference": {zipped(t, map[string]string{"manifest.json": strings.Replace(manifest, "/1", "/2", 1),
			"rigs/a.jsonl": strings.Replace(fmt.Sprintf(doc, "2"), "revisions", "head", 1) + "\n" + revision(1,
				"create", 1, "slack",
				"") + "\n" + `{"number":2,"kind":"edit","shows":2,"what":"","who":"","at":"2026-01-01T00:00:00Z","name":"x","state":"slack","same":[5,999999],"between":""}`}),
			"does not follow"},
		"no rig": {zipped(t, map[string]string{"manifest.json": manifest,
			"nights/a.json": `{"id":"7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a12","rigId":"7f2f3c5a-9a1c-4ad3-8c63-0c9d5d1f6a13","revision":3,"name":"x","airAt":"2026-01-01T00:00:00Z","people":1,"createdAt":"2026-01-01T00:00:00Z","sheet":{"plans":[]},"ops":[]}`}), "neither in the archive nor here"},
		"good and bad": {zipped(t, map[string]string{"manifest.json": manifest, "rigs/a.json": fmt.Sprintf(doc,
			`[`+revision(1, "create", 1, "slack", "")+`]`), "rigs/b.json": "{}"}), ""},
		"a huge figure": {zipped(t, map[string]string{"manifest.json": manifest,
			"shelf/a.json": `{"id":"a","kind":"camera","name":"x","owned":false,"updatedAt":"2026-01-01T00:00:00Z","revisions":[{"number":1,"kind":"","shows":0,"what":"","who":"","at":"2026-01-01T00:00:00Z","doc":{"id":"a","gear":{"kind":"camera","name":"x","batteryWh":{"value":1e300}}}}]}`}),
			"larger than any figure"},
		"strange gear": {zipped(t, map[string]string{"manifest.json": manifest,
			"shelf/a.json": `{"id":"a","kind":"camera","name":"x","owned":false,"updatedAt":"2026-01-01T00:00:00Z","revisions":[{"number":1,"kind":"","shows":0,"what":"","who":"","at":"2026-01-01T00:00:00Z","doc":{"id":"a","gear":{"kind":"kite","name":"x"}}}]}`}),
			"kite"},
		"lines of zeros": {zippedLines(t, manifest, 200<<20), "more than 150 times its size"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := back(t, empty, c.raw)
			var bad *Unusable
			require.ErrorAs(t, err, &bad)
			require.Contains(t, err.Error(), c.says)
			rows, err := empty.List(ctx, false)
			require.NoError(t, err)
			require.Empty(t, rows)
		})
	}
}

// aired is when the shows of these tests go to air.
var aired = time.Unix(1_800_000_000, 0).UTC()
