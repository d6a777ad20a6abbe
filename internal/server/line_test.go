package server

import (
	"encoding/json"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

// The line is tried to the stand-in and tells how far it is; what is no ingest is refused by name; no key comes back.
func TestTryTheLine(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	s := serve(t)
	file, err := rigfile.Write(rigs.Loft())
	require.NoError(t, err)
	_, body, _ := call(t, s, "POST", "/api/rigs", string(file))
	id := board(t, body).ID.String()
	_, body, _ = call(t, s, "GET", "/api/rigs/"+id+"/line", "")
	var needs struct{ Kbps float64 }
	require.NoError(t, json.Unmarshal([]byte(body), &needs))
	require.Greater(t, needs.Kbps, 1000.0)
	status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/line", `{"address":"","seconds":2,"kbps":2000}`)
	require.Equal(t, 200, status, body)
	lines := strings.Split(strings.TrimSpace(body), "\n")
	require.Greater(t, len(lines), 2)
	var last Trying
	require.NoError(t, json.Unmarshal([]byte(lines[len(lines)-1]), &last))
	require.NotNil(t, last.Tried, body)
	require.Contains(t, last.Tried.Sentence, "nothing of the line")
	require.Empty(t, last.Tried.Takes)
	for _, c := range []struct{ in, says string }{
		{`{"address":"file:///etc/passwd","seconds":5}`, "rtmp:// or rtmps://"},
		{`{"address":"rtmp://x/live","seconds":5,"by":"post"}`, "wired or air"},
		{`{"address":"rtmp://x/live","seconds":5,"at":"noon"}`, "with its zone"},
		{`{"address":"rtmp://x/live","seconds":100000}`, "2 to 600"},
		{`nothing`, "as JSON"},
	} {
		status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/line", c.in)
		require.Equal(t, 422, status, body)
		require.Contains(t, body, c.says)
	}
	_, body, _ = call(t, s, "POST", "/api/rigs/"+id+"/line", `{"address":"rtmp://localhost/live","key":"live_secret-42","seconds":5}`)
	require.Contains(t, body, "this very computer")
	require.NotContains(t, body, "secret")
}
