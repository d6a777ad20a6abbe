package server

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// Texts, keys and numbers that cannot be kept are refused by name, with nothing of the database in the answer, and
// never as something that waiting would mend.
func TestWhatCannotBeKeptIsRefused(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/rigs", loft(t))
	require.Equal(t, 200, status, body)
	id := board(t, body).ID.String()
	big := fmt.Sprintf(`{"from":%d,"edits":[],"what":"x"}`, uint64(1)<<40)
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"POST", "/api/rigs", strings.Replace(loft(t), `"name": "Marlpit`, `"name": "\u0000Marlpit`, 1), 422, "U+0000"},
		{"POST", "/api/start",
			`{"name":"\u0000","computer":"laptop","sources":[{"kind":"camera","count":1}],"out":{"height":1080,"fps":30,"minutes":60}}`,
			422, "U+0000"},
		{"POST", "/api/start",
			`{"name":" ","computer":"laptop","sources":[{"kind":"camera","count":1}],"out":{"height":1080,"fps":30,"minutes":60}}`,
			422, "nothing to see"},
		{"POST", "/api/rigs/" + id + "/edits", `{"from":1,"edits":[{"do":"name","name":"A"}],"what":"\u0000"}`, 422,
			"what holds"},
		{"POST", "/api/rigs/" + id + "/edits", `{"from":1,"edits":[{"do":"name","name":"\u202eA"}],"what":"x"}`, 422,
			"U+202E"},
		{"POST", "/api/rigs/" + id + "/edits", big, 404, "no revision"},
		{"POST", "/api/rigs/" + id + "/undo", `{"from":99999999999}`, 422, "from"},
		{"GET", "/api/rigs/" + id + "?revision=99999999999", "", 422, "revision"},
		{"GET", "/api/rigs/" + id + "/file?revision=2147483647", "", 404, "no revision"},
		{"GET", "/api/rigs/%00", "", 422, "path.id"},
		{"DELETE", "/api/shelf/%00", "", 404, "no such thing"},
		{"POST", "/api/shelf/a%00b/copy", "", 404, "no such thing"},
		{"POST", "/api/shelf-file", `{"text":"kind,name,draw W\nhub,H,NaN\n"}`, 422, "NaN"},
		{"POST", "/api/shelf", `{"entry":{"id":"x","owned":true,"gear":{"kind":"hub","name":"H"}},"what":"\u0007"}`,
			422, "what holds"},
		{"GET", "/assets", "", 404, "no file"},
		{"GET", "/assets/none.js", "", 404, "no file"},
	} {
		status, body, _ := call(t, s, c.method, c.path, c.body)
		require.Equal(t, c.status, status, "%s %s %s: %s", c.method, c.path, c.body[:min(len(c.body), 200)], body)
		require.Contains(t, body, c.says, "%s %s", c.method, c.path)
		require.NotContains(t, body, "SQLSTATE")
	}
	status, _, _ = call(t, s, "GET", "/api/shelf/..%2f..%2fetc", "")
	require.Less(t, status, 500)
}

// A file too large is read off before it is answered: the client sees the answer, said with a length or without.
func TestTooLargeIsAnswered(t *testing.T) {
	s := serve(t)
	for _, length := range []int64{9 << 20, -1} {
		req, err := http.NewRequest("POST", s.URL+"/api/rigs", io.LimitReader(zeros{}, 9<<20))
		require.NoError(t, err)
		req.ContentLength = length
		req.Header.Set("Content-Type", "application/json")
		conn, err := net.Dial("tcp", s.Listener.Addr().String())
		require.NoError(t, err)
		// Everything is sent before anything is read, as simple clients do.
		require.NoError(t, req.Write(conn), "length %d", length)
		res := make([]byte, 12)
		_, err = io.ReadFull(conn, res)
		require.NoError(t, err, "length %d", length)
		require.Equal(t, "HTTP/1.1 413", string(res))
		conn.Close()
	}
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = ' '
	}
	return len(p), nil
}

// The same request under the same key makes one rig; an edit answered 503 after it was kept is answered when it is
// asked again, and does not clash with itself.
func TestRetriesMakeNothingTwice(t *testing.T) {
	s := serve(t)
	count := func() int {
		_, body, _ := call(t, s, "GET", "/api/rigs", "")
		var list []Listed
		require.NoError(t, json.Unmarshal([]byte(body), &list))
		return len(list)
	}
	before := count()
	var ids sync.Map
	var wg sync.WaitGroup
	for range 12 {
		wg.Go(func() {
			status, body, _ := call(t, s, "POST", "/api/rigs", loft(t), keyHeader, t.Name())
			if status == 200 {
				ids.Store(board(t, body).ID, true)
			}
		})
	}
	wg.Wait()
	n, id := 0, ""
	ids.Range(func(k, _ any) bool { n++; id = fmt.Sprint(k); return true })
	require.Equal(t, 1, n)
	require.Equal(t, before+1, count())

	edit := `{"from":1,"edits":[{"do":"name","name":"Kept once"}],"what":"called it"}`
	for range 3 {
		status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/edits", edit, keyHeader, t.Name()+"-edit")
		require.Equal(t, 200, status, body)
		require.Equal(t, 2, board(t, body).Revision)
	}
	status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/edits", edit)
	require.Equal(t, 409, status, body)
	status, body, _ = call(t, s, "POST", "/api/rigs", loft(t), keyHeader, t.Name()+"-edit")
	require.Equal(t, 409, status, body)
	require.Contains(t, body, "key")
	status, _, _ = call(t, s, "POST", "/api/rigs", loft(t), keyHeader, strings.Repeat("k", 201))
	require.Equal(t, 422, status)
}

// What cannot be written as JSON is a fault with a body, told before the status line.
func TestABodyThatCannotBeWritten(t *testing.T) {
	gin.SetMode(gin.ReleaseMode)
	w := httptest.NewRecorder()
	g, _ := gin.CreateTestContext(w)
	g.Status(http.StatusOK)
	require.NoError(t, jsonFormat.Marshal(g.Writer, map[string]float64{"x": math.Inf(1)}))
	require.Equal(t, 500, w.Code)
	var said huma.ErrorModel
	require.NoError(t, json.Unmarshal(w.Body.Bytes(), &said))
	require.Contains(t, said.Detail, "could not be written")
	v := view.Verdict{Limits: []view.Limit{{Sure: math.Inf(1)}}}
	_, err := told(v)
	require.ErrorContains(t, err, "was not kept")
}

// A board comes with the advice that is ready at once, and the whole of it for the asking.
func TestAdviceForTheAsking(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/rigs", loft(t))
	require.Equal(t, 200, status, body)
	b := board(t, body)
	status, body, _ = call(t, s, "GET", fmt.Sprintf("/api/rigs/%s/advice", b.ID), "")
	require.Equal(t, 200, status, body)
	var v view.Verdict
	require.NoError(t, json.Unmarshal([]byte(body), &v))
	require.True(t, v.Advice.Complete)
	loft := judge.Rig(rigs.Loft())
	want := view.Of(loft, advise.On(t.Context(), loft, advise.Effort))
	require.Equal(t, want.Sentence, v.Sentence)
	require.Equal(t, b.Verdict.State, v.State)
	require.Equal(t, len(want.Findings), len(v.Findings))
}

// Work whose client went away is not begun, and work under way ends unfinished and says so.
func TestCancelledWorkStops(t *testing.T) {
	h := newHeavy()
	for range cap(h.longs) { // others are at it
		h.longs <- struct{}{}
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	ran := false
	require.ErrorIs(t, h.long(ctx, func(context.Context) { ran = true }), context.Canceled)
	for range cap(h.longs) {
		<-h.longs
	}
	require.ErrorIs(t, h.long(ctx, func(context.Context) { ran = true }), context.Canceled)
	require.ErrorIs(t, h.short(ctx, func(context.Context) { ran = true }), context.Canceled)
	require.False(t, ran)
	v := advise.On(ctx, judge.Rig(rigs.Loft()), advise.Effort)
	require.False(t, v.Complete)
	require.Less(t, v.Judged, v.Moves)
}

// The description is written once, whoever asks first.
func TestDescriptionAskedForByMany(t *testing.T) {
	s := serve(t)
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			if status, body, _ := call(t, s, "GET", "/api/openapi.json", ""); status != 200 ||
				!json.Valid([]byte(body)) {
				t.Errorf("status %d, %d bytes", status, len(body))
			}
		})
	}
	wg.Wait()
}

// BenchmarkLightBesideHeavy keeps heavy requests (all advice, of a rig not seen before) under way and sends twenty
// light ones (the pass) at a time beside them; it reports how long the slowest hundredth of the light ones took. The
// reference is the same without.
func BenchmarkLightBesideHeavy(b *testing.B) {
	s := serve(b)
	doc := loft(b)
	var sent atomic.Int64
	for _, heavies := range []int{0, 1, 4} {
		b.Run(fmt.Sprintf("heavy=%d", heavies), func(b *testing.B) {
			ctx, cancel := context.WithCancel(context.Background())
			var beside, wg sync.WaitGroup
			for range heavies {
				beside.Go(func() {
					for ctx.Err() == nil {
						call(b, s, "POST", "/api/judge", strings.Replace(doc, "Marlpit Puppet Loft",
							fmt.Sprintf("Marlpit Puppet Loft %d", sent.Add(1)), 1))
					}
				})
			}
			took := make([]time.Duration, 0, 2000)
			var mu sync.Mutex
			for b.Loop() {
				for range 20 {
					wg.Go(func() {
						began := time.Now()
						call(b, s, "POST", "/api/judge?plain=true", doc)
						mu.Lock()
						took = append(took, time.Since(began))
						mu.Unlock()
					})
				}
				wg.Wait()
			}
			cancel()
			beside.Wait()
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "ms-p99")
		})
	}
}
