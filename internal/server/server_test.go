package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"eventether/core/limit"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
	"eventether/internal/jobs"
	"eventether/internal/postgres/pgtest"
	"eventether/internal/rigfile"
	"eventether/internal/store"
)

var dsn string

func TestMain(m *testing.M) { pgtest.Run(m, func(s string) { dsn = s }) }

// doors are the doors of the servers under test.
var doors = map[*httptest.Server]*door{}

func serve(t testing.TB) *httptest.Server {
	t.Helper()
	s, _ := serveWith(t)
	return s
}

// serveWith is a server with what is behind it.
func serveWith(t testing.TB) (*httptest.Server, *api) {
	t.Helper()
	st, err := store.Open(context.Background(), dsn)
	require.NoError(t, err)
	site := fstest.MapFS{"index.html": {Data: []byte("<title>Even Tether</title>")}, "assets/a.js": {Data: []byte("1")}}
	closing := make(chan struct{})
	clips := t.TempDir()
	open := sync.OnceValues(func() (*jobs.Queue, error) {
		q, err := jobs.Open(context.Background(), dsn, 1, slog.New(slog.NewTextHandler(io.Discard, nil)), jobs.Kinds(clips)...)
		if err == nil {
			t.Cleanup(q.Close)
		}
		return q, err
	})
	h, a := build(Config{Store: st, Jobs: open, Clips: clips, Site: site, Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Closing: closing})
	s := httptest.NewServer(newHeldToDescription(t, h))
	doors[s] = a.door
	t.Cleanup(func() {
		close(closing)
		s.Close()
		st.Close()
	})
	return s, a
}

// call sends one request and gives the status and the body.
func call(t testing.TB, s *httptest.Server, method, path, body string, headers ...string) (int, string, http.Header) {
	t.Helper()
	req, err := http.NewRequest(method, s.URL+path, strings.NewReader(body))
	require.NoError(t, err)
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(headers); i += 2 {
		if headers[i] == "Host" {
			req.Host = headers[i+1]
		}
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := s.Client().Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res.StatusCode, string(out), res.Header
}

func loft(t testing.TB) string {
	t.Helper()
	text, err := rigfile.Write(rigs.Loft())
	require.NoError(t, err)
	return string(text)
}

func board(t testing.TB, body string) Board {
	t.Helper()
	var b Board
	require.NoError(t, json.Unmarshal([]byte(body), &b))
	return b
}

func TestTheWayOfARig(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/rigs", loft(t))
	require.Equal(t, 200, status, body)
	b := board(t, body)
	require.Equal(t, "snapped", b.State)
	require.Equal(t, 1, b.Revision)
	path := "/api/rigs/" + b.ID.String()

	status, file, h := call(t, s, "GET", path+"/file", "")
	require.Equal(t, 200, status)
	require.Equal(t, loft(t), file, "export is the import, byte for byte")
	require.Equal(t, `attachment; filename="marlpit-puppet-loft.rig.json"`, h.Get("Content-Disposition"))

	edit := `{"from":1,"what":"moved Stick 1","edits":[{"do":"plug","lead":"face-plug","end":"to","socket":"pc.back-2"}]}`
	status, body, _ = call(t, s, "POST", path+"/edits", edit)
	require.Equal(t, 200, status, body)
	b = board(t, body)
	require.Equal(t, 2, b.Revision)
	require.True(t, b.Undo)
	for _, l := range b.Verdict.Limits {
		require.False(t, l.ID == "bus:hub..fast" && l.State == limit.Snapped)
	}
	status, body, _ = call(t, s, "POST", path+"/edits", edit)
	require.Equal(t, 409, status, body)
	require.Contains(t, body, "made from revision 1, and the newest is 2")

	status, body, _ = call(t, s, "POST", path+"/undo", `{"from":2}`)
	require.Equal(t, 200, status, body)
	require.Equal(t, "undid: moved Stick 1", board(t, body).Changed)
	require.True(t, board(t, body).Redo)
	status, body, _ = call(t, s, "POST", path+"/redo", `{"from":3}`)
	require.Equal(t, 200, status, body)
	status, body, _ = call(t, s, "POST", path+"/redo", `{"from":4}`)
	require.Equal(t, 409, status, body)

	_, body, _ = call(t, s, "GET", path+"?revision=1", "")
	require.False(t, board(t, body).Newest, "the rig as it was")
	_, body, _ = call(t, s, "GET", path+"/history", "")
	var past []Past
	require.NoError(t, json.Unmarshal([]byte(body), &past))
	require.Len(t, past, 4)

	status, body, _ = call(t, s, "POST", path+"/copy", "")
	require.Equal(t, 200, status, body)
	require.Equal(t, "Marlpit Puppet Loft, copy", board(t, body).Name)
	status, _, _ = call(t, s, "DELETE", path, "")
	require.Equal(t, 204, status)
	_, body, _ = call(t, s, "GET", "/api/rigs", "")
	require.NotContains(t, body, b.ID.String())
	status, _, _ = call(t, s, "POST", path+"/restore", "")
	require.Equal(t, 204, status)
	_, body, _ = call(t, s, "GET", "/api/rigs", "")
	require.Contains(t, body, b.ID.String())
}

func TestStartTryAndMoves(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/start",
		`{"sources":[{"kind":"camera","count":2}],"out":{"height":1080,"fps":30,"minutes":60},"computer":"laptop"}`)
	require.Equal(t, 200, status, body)
	require.Equal(t, "untested", board(t, body).State)
	require.NotEmpty(t, board(t, body).Verdict.Questions)
	status, body, _ = call(t, s, "POST", "/api/start",
		`{"sources":[{"kind":"kite","count":2}],"out":{"height":1080,"fps":30,"minutes":60},"computer":"laptop"}`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "sources[0].kind")

	status, body, _ = call(t, s, "POST", "/api/try",
		`{"rig":`+loft(t)+`,"edits":[{"do":"plug","lead":"face-plug","end":"to","socket":"pc.back-2"}]}`)
	require.Equal(t, 200, status, body)
	var g Ghost
	require.NoError(t, json.Unmarshal([]byte(body), &g))
	require.Contains(t, g.Judged.Words, "eases Small hub")
	status, body, _ = call(t, s, "POST", "/api/moves", `{"rig":`+loft(t)+`,"of":"face-plug"}`)
	require.Equal(t, 200, status, body)
	require.Contains(t, body, `"plug:face-plug:pc.back-2"`)
	status, body, _ = call(t, s, "POST", "/api/judge", loft(t))
	require.Equal(t, 200, status)
	require.Contains(t, body, "five moves")
	status, body, _ = call(t, s, "POST", "/api/judge?plain=true", loft(t))
	require.Equal(t, 200, status)
	require.NotContains(t, body, "five moves")
}

// Every list is written as a list, as the API description says.
func TestNoListIsNull(t *testing.T) {
	s := serve(t)
	even, err := rigfile.Write(rigs.LoftEven())
	require.NoError(t, err)
	for _, doc := range []string{loft(t), string(even)} {
		for _, path := range []string{"/api/judge", "/api/judge?plain=true"} {
			status, body, _ := call(t, s, "POST", path, doc)
			require.Equal(t, 200, status)
			require.NotContains(t, body, ":null", path)
		}
	}
}

func TestBadInputChangesNothing(t *testing.T) {
	s := serve(t)
	_, before, _ := call(t, s, "GET", "/api/rigs", "")
	bad := strings.NewReplacer(`"to": "stick-bench.in"`, `"to": "nowhere.in"`, `"from": "cam-face.hdmi"`,
		`"from": "cam-face.sdi"`).Replace(loft(t))
	status, body, h := call(t, s, "POST", "/api/rigs", bad)
	require.Equal(t, 422, status)
	require.Equal(t, "application/problem+json", h.Get("Content-Type"))
	require.Contains(t, body, `there is no item \"nowhere\"`)
	require.Contains(t, body, `has no port \"sdi\"`)
	require.Contains(t, body, "Nothing was changed")
	for _, junk := range []string{"{", "[]", "null", `"x"`, `{"format":"eventether-rig/9"}`} {
		status, body, _ = call(t, s, "POST", "/api/rigs", junk)
		require.Contains(t, []int{400, 422}, status, "%s: %s", junk, body)
	}
	noise := strings.Repeat("x", 10<<20)
	status, _, _ = call(t, s, "POST", "/api/rigs", noise)
	require.Equal(t, 413, status)
	_, after, _ := call(t, s, "GET", "/api/rigs", "")
	require.Equal(t, before, after)
}

func TestGuard(t *testing.T) {
	s := serve(t)
	own := "http://" + s.Listener.Addr().String()
	for _, c := range []struct {
		name         string
		method, path string
		body         string
		headers      []string
		want         int
	}{
		{"plain", "GET", "/api/rigs", "", nil, 200},
		{"localhost by name", "GET", "/api/rigs", "", []string{"Host", "localhost:4170"}, 200},
		{"IPv6 loopback", "GET", "/api/rigs", "", []string{"Host", "[::1]:4170"}, 200},
		{"a rebound name", "GET", "/api/rigs", "", []string{"Host", "evil.example"}, 403},
		{"a name that starts well", "GET", "/api/rigs", "", []string{"Host", "localhost.evil.example"}, 403},
		{"an address of the house", "GET", "/api/rigs", "", []string{"Host", "192.168.1.5:4170"}, 403},
		{"another origin posts", "POST", "/api/judge", loft(t), []string{"Origin", "http://evil.example"}, 403},
		{"a sandboxed page posts", "POST", "/api/judge", loft(t), []string{"Origin", "null"}, 403},
		{"another port posts", "POST", "/api/judge", loft(t), []string{"Origin", "http://127.0.0.1:1"}, 403},
		{"a fetch from another port of this computer", "POST", "/api/judge", loft(t),
			[]string{"Sec-Fetch-Site", "same-site"}, 403},
		{"a fetch from the page itself", "POST", "/api/judge", loft(t), []string{"Sec-Fetch-Site", "same-origin"}, 200},
		{"a cross-site fetch", "POST", "/api/judge", loft(t), []string{"Sec-Fetch-Site", "cross-site"}, 403},
		{"our own page posts", "POST", "/api/judge", loft(t), []string{"Origin", own}, 200},
		{"a form posts", "POST", "/api/judge", "a=b", []string{"Content-Type", "application/x-www-form-urlencoded"},
			415},
		{"text posts", "POST", "/api/judge", "{}", []string{"Content-Type", "text/plain"}, 415},
		{"no such address", "GET", "/api/none", "", nil, 404},
		{"no such asset", "GET", "/assets/none.js", "", nil, 404},
		{"a page of the application", "GET", "/rigs/abc", "", nil, 200},
		{"climbing out", "GET", "/../../etc/passwd", "", nil, 200}, // the application's page, not the file
		{"an id that is none", "GET", "/api/rigs/abc", "", nil, 422},
		{"a rig that is none", "GET", "/api/rigs/00000000-0000-0000-0000-000000000000", "", nil, 404},
	} {
		t.Run(c.name, func(t *testing.T) {
			status, body, h := call(t, s, c.method, c.path, c.body, c.headers...)
			require.Equal(t, c.want, status, body)
			require.Contains(t, h.Get("Content-Security-Policy"), "script-src 'self';")
			require.NotContains(t, h.Get("Content-Security-Policy"), "script-src 'self' 'unsafe")
			require.Equal(t, "nosniff", h.Get("X-Content-Type-Options"))
			require.NotContains(t, body, "root:")
		})
	}
}

func TestHealth(t *testing.T) {
	st, err := store.Open(t.Context(), dsn)
	require.NoError(t, err)
	s := httptest.NewServer(New(Config{Store: st, Site: fstest.MapFS{},
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))}))
	defer s.Close()
	status, body, _ := call(t, s, "GET", "/healthz", "")
	require.Equal(t, 200, status, body)
	require.NoError(t, st.Close())
	status, body, _ = call(t, s, "GET", "/healthz", "")
	require.Equal(t, 503, status, body)
	status, body, _ = call(t, s, "GET", "/api/rigs", "")
	require.Equal(t, 503, status, body)
	require.Contains(t, body, "The database does not answer")
	status, body, _ = call(t, s, "POST", "/api/judge", loft(t))
	require.Equal(t, 200, status, "judging needs no database")
	require.Contains(t, body, "five moves")
}

func TestDescriptionInDocsIsCurrent(t *testing.T) {
	var want bytes.Buffer
	enc := json.NewEncoder(&want)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	require.NoError(t, enc.Encode(Describe()))
	have, err := os.ReadFile("../../docs/api/openapi.json")
	require.NoError(t, err)
	require.Equal(t, want.String(), string(have), "run make generate")
}

func TestFileName(t *testing.T) {
	for name, want := range map[string]string{"Marlpit Puppet Loft, even": "marlpit-puppet-loft-even.rig.json",
		"../../etc": "etc.rig.json", "Ünicorn": "nicorn.rig.json", "…": "rig.rig.json", `a"b`: "ab.rig.json"} {
		require.Equal(t, want, fileName(name))
	}
	require.Equal(t, strings.Repeat("é", 114)+", copy", copyName(strings.Repeat("é", 120)))
}

// BenchmarkJudge judges the loft over HTTP on loopback, one request after the other.
func BenchmarkJudge(b *testing.B) {
	s := serve(b)
	doc := loft(b)
	for _, path := range []string{"/api/judge?plain=true", "/api/judge"} {
		b.Run(path, func(b *testing.B) {
			for b.Loop() {
				if status, _, _ := call(b, s, "POST", path, doc); status != 200 {
					b.Fatal(status)
				}
			}
		})
	}
}

// BenchmarkJudgeAt sends so many requests a second on loopback, open loop, and reports how long the slowest hundredth
// took from the moment it was due: of one rig, which the server keeps once it is judged, and of rigs that differ, each
// of which is judged.
func BenchmarkJudgeAt(b *testing.B) {
	debug.SetGCPercent(300) // as the server has it
	s := serve(b)
	doc := loft(b)
	sent := 0
	for _, c := range []struct {
		name, path string
		perSecond  int
		differ     bool
	}{
		{"one/plain/200", "/api/judge?plain=true", 200, false}, {"one/full/200", "/api/judge", 200, false},
		{"differ/plain/200", "/api/judge?plain=true", 200, true}, {"differ/full/25", "/api/judge", 25, true},
		{"differ/full/50", "/api/judge", 50, true}, {"differ/full/100", "/api/judge", 100, true},
	} {
		b.Run(c.name, func(b *testing.B) {
			requests := 6 * c.perSecond
			took := make([]time.Duration, requests)
			var wg sync.WaitGroup
			for b.Loop() {
				tick := time.NewTicker(time.Second / time.Duration(c.perSecond))
				for i := range took {
					body := doc
					if sent++; c.differ {
						body = strings.Replace(doc, "Marlpit Puppet Loft", fmt.Sprintf("Marlpit Puppet Loft %d", sent),
							1)
					}
					due := <-tick.C
					wg.Go(func() {
						call(b, s, "POST", c.path, body)
						took[i] = time.Since(due)
					})
				}
				tick.Stop()
				wg.Wait()
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[requests/2].Microseconds())/1000, "ms-p50")
			b.ReportMetric(float64(took[requests*99/100].Microseconds())/1000, "ms-p99")
			b.ReportMetric(0, "ns/op")
		})
	}
}

// What edits would do is answered with the cure at once; what eases each finding comes when all of it is asked for.
func TestTryingComesInTwoSteps(t *testing.T) {
	s := serve(t)
	ask := func(more string) (v struct {
		Verdict view.Verdict `json:"verdict"`
	}) {
		status, body, _ := call(t, s, "POST", "/api/try",
			`{"rig":`+loft(t)+`,"edits":[{"do":"lead","lead":"bench-lead","lengthM":2}]`+more+`}`)
		require.Equal(t, 200, status, body)
		require.NoError(t, json.Unmarshal([]byte(body), &v))
		return v
	}
	fixes := func(v view.Verdict) (n int) {
		for _, f := range v.Findings {
			for _, m := range f.Members {
				n += len(m.Fixes)
			}
		}
		return n
	}
	first, all := ask("").Verdict, ask(`,"all":true`).Verdict
	require.False(t, first.Advice.Complete)
	require.Zero(t, fixes(first))
	require.True(t, all.Advice.Complete)
	require.Greater(t, fixes(all), 10)
	require.Equal(t, first.Sentence, all.Sentence)
	require.Equal(t, first.Cure, all.Cure)
	require.Contains(t, asJSON(t, first.Cure), "the run is 3 m",
		"a lead that is too short is answered with one that is not")
}

// BenchmarkTry tries another length of a lead of the loft over HTTP on loopback, one after the other: what a key on the
// board asks.
func BenchmarkTry(b *testing.B) {
	debug.SetGCPercent(300) // as the server has it
	s := serve(b)
	doc, n := loft(b), 0
	for b.Loop() {
		n++
		edits := fmt.Sprintf(`[{"do":"lead","lead":"bench-lead","lengthM":%g}]`, 3+float64(n%70)/10)
		if status, _, _ := call(b, s, "POST", "/api/try", `{"rig":`+doc+`,"edits":`+edits+`}`); status != 200 {
			b.Fatal(status)
		}
	}
}
