package server

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/require"

	"eventether/core/gear"
	"eventether/core/rig/rigtest"
	"eventether/internal/wire"
)

// What is long rests while something short is at work, and goes on after it; each has room of its own.
func TestShortWorkDoesNotWaitForLong(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		h := newHeavy()
		for range cap(h.longs) - 1 {
			h.longs <- struct{}{}
		}
		begun, busy := make(chan struct{}), make(chan struct{})
		var order []string
		go func() {
			_ = h.long(t.Context(), func(ctx context.Context) {
				_, bounded := ctx.Deadline()
				require.True(t, bounded, "it has an end")
				close(begun)
				<-busy
				if ctx.Err() == nil {
					order = append(order, "long goes on")
				}
			})
		}()
		<-begun
		require.NoError(t, h.short(t.Context(), func(context.Context) {
			close(busy)
			synctest.Wait() // what is long has asked whether to go on, and rests
			order = append(order, "short")
		}))
		synctest.Wait()
		require.Equal(t, []string{"short", "long goes on"}, order)
	})
}

// How long a new rig of one webcam takes while one heavy rig after the other is judged with all advice: the 99th
// percentile is in the note. The heavy one is the mesh of 16 kB in advise's list.
func BenchmarkSmallBesideHeavy(b *testing.B) {
	s := serve(b)
	raw, err := wire.Marshal(rigtest.Mesh{Kind: gear.Switcher, Cameras: 1, Outs: 2, Width: 1, Depth: 20, Leads: 2,
		Sends: 1}.Rig())
	require.NoError(b, err)
	post := func(path, body string) {
		res, err := http.Post(s.URL+path, "application/json", strings.NewReader(body))
		require.NoError(b, err)
		text, err := io.ReadAll(res.Body)
		require.NoError(b, err)
		require.Equal(b, 200, res.StatusCode, string(text))
		_ = res.Body.Close()
	}
	small := `{"sources":[{"kind":"webcam","count":1}],"out":{"height":720,"fps":30,"minutes":60},"computer":"laptop"}`
	for _, beside := range []bool{false, true} {
		b.Run(fmt.Sprint("heavy=", beside), func(b *testing.B) {
			stop := make(chan struct{})
			var wait sync.WaitGroup
			if beside {
				for i := range 3 {
					wait.Go(func() {
						for k := 0; ; k++ {
							select {
							case <-stop:
								return
							default:
								post("/api/judge", strings.Replace(string(raw), `"name":"`,
									fmt.Sprintf(`"name":"%d-%d `, i, k), 1))
							}
						}
					})
				}
			}
			var took []time.Duration
			for b.Loop() {
				began := time.Now()
				post("/api/start", small)
				took = append(took, time.Since(began))
			}
			close(stop)
			wait.Wait()
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "p99-ms")
		})
	}
}

// A long document is judged in its turn, and one that was judged before, or is short, at once.
func TestLongDocumentsLeaveRoom(t *testing.T) {
	long, err := wire.Marshal(rigtest.Mesh{Kind: gear.Switcher, Cameras: 1, Outs: 2, Width: 1, Depth: 20, Leads: 2,
		Sends: 1}.Rig())
	require.NoError(t, err)
	require.Greater(t, len(long), shortDocument)
	brief, err := wire.Marshal(rigtest.Mesh{Kind: gear.Switcher, Cameras: 1, Outs: 1, Width: 1, Depth: 1, Leads: 1,
		Sends: 1}.Rig())
	require.NoError(t, err)
	require.Less(t, len(brief), shortDocument)
	synctest.Test(t, func(t *testing.T) {
		k := newVerdicts()
		was, err := k.read(long)
		require.NoError(t, err)
		for range cap(k.large) { // all turns are taken
			k.large <- struct{}{}
		}
		again, err := k.read(long)
		require.NoError(t, err)
		require.Same(t, was, again)
		_, err = k.read(brief)
		require.NoError(t, err)
		judged := false
		go func() {
			_, err := k.read(append([]byte(" "), long...))
			require.NoError(t, err)
			judged = true
		}()
		synctest.Wait()
		require.False(t, judged, "it did not wait for its turn")
		<-k.large
		synctest.Wait()
		require.True(t, judged)
	})
}
