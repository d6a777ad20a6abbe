package server

import (
	"bytes"
	"io"
	"net/http"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
)

// Twenty large bodies at once: no more are inside than there is room for, a small one passes them, one whose length is
// not said goes alone, and all are answered.
func TestCrowd(t *testing.T) {
	gin.SetMode(gin.TestMode)
	const large = roomAtOnce / 4
	var inside, most atomic.Int64
	full, open := make(chan struct{}), make(chan struct{})
	var once sync.Once
	e := gin.New()
	e.Use(crowd())
	e.POST("/", func(c *gin.Context) {
		b, err := io.ReadAll(c.Request.Body)
		if !assertNoError(c, err) || len(b) < smallBody {
			return
		}
		n := inside.Add(int64(len(b)))
		defer inside.Add(-int64(len(b)))
		for m := most.Load(); n > m && !most.CompareAndSwap(m, n); m = most.Load() {
		}
		if n == roomAtOnce {
			once.Do(func() { close(full) })
		}
		<-open
	})
	s := httptest.NewServer(e)
	defer s.Close()
	post := func(body io.Reader) int {
		res, err := http.Post(s.URL, "application/json", body)
		if err != nil {
			return 0
		}
		_ = res.Body.Close()
		return res.StatusCode
	}
	var wait sync.WaitGroup
	var answered atomic.Int64
	for i := range 20 {
		wait.Go(func() {
			var body io.Reader = bytes.NewReader(make([]byte, large))
			if i == 19 {
				<-full
				body = io.MultiReader(body) // its length is not said
			}
			if post(body) == http.StatusOK {
				answered.Add(1)
			}
		})
	}
	<-full
	require.Equal(t, http.StatusOK, post(bytes.NewReader(make([]byte, smallBody-1))),
		"small, while all the room is taken")
	close(open)
	wait.Wait()
	require.EqualValues(t, 20, answered.Load())
	require.EqualValues(t, roomAtOnce, most.Load())
}

func assertNoError(c *gin.Context, err error) bool {
	if err != nil {
		c.Status(http.StatusBadRequest)
	}
	return err == nil
}
