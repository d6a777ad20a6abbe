package server

import (
	"bytes"
	"encoding/json"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/look"
	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

// A clip is looked at, held against what is planned of a feed, and thrown away; what is none is refused by name.
func TestLookAtAClip(t *testing.T) {
	ffmpeg, err := exec.LookPath("ffmpeg")
	if err != nil {
		t.Skip("no ffmpeg")
	}
	s := serve(t)
	file, err := rigfile.Write(rigs.Desk())
	require.NoError(t, err)
	_, body, _ := call(t, s, "POST", "/api/rigs", string(file))
	id := board(t, body).ID.String()
	_, body, _ = call(t, s, "GET", "/api/rigs/"+id+"/look", "")
	require.Contains(t, body, `"programme"`)
	folder := t.TempDir()
	t.Setenv("TMPDIR", folder)
	clip := filepath.Join(t.TempDir(), "clip.mkv")
	out, err := exec.Command(ffmpeg, "-v", "error", "-f", "lavfi", "-i",
		"testsrc2=size=1280x720:rate=25:duration=3,pad=1280:800:0:40:black",
		"-f", "lavfi", "-i", "sine=duration=3", "-c:v", "libx264", "-preset", "ultrafast", clip).CombinedOutput()
	require.NoError(t, err, string(out))
	raw, err := os.ReadFile(clip)
	require.NoError(t, err)
	send := func(of, kind string, body []byte) (int, []Looking, string) {
		req, err := http.NewRequest("POST", s.URL+"/api/rigs/"+id+"/look?of="+of, bytes.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", kind)
		res, err := s.Client().Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		var text bytes.Buffer
		_, err = text.ReadFrom(res.Body)
		require.NoError(t, err)
		var lines []Looking
		if res.StatusCode == 200 {
			for line := range strings.Lines(text.String()) {
				var l Looking
				require.NoError(t, json.Unmarshal([]byte(line), &l), line)
				lines = append(lines, l)
			}
		}
		return res.StatusCode, lines, text.String()
	}
	status, lines, text := send("programme", "application/octet-stream", raw)
	require.Equal(t, 200, status, text)
	last := lines[len(lines)-1]
	require.NotNil(t, last.Looked, text)
	require.Greater(t, len(lines), 2, "how far it is was told")
	require.Equal(t, "Size", last.Looked.Rows[0].What)
	require.Equal(t, look.Clear, last.Looked.Rows[0].Agrees, "1280 × 800 is not what is planned")
	require.Equal(t, look.IsBorder, last.Looked.Wrong[0].What)
	require.NotEmpty(t, last.Looked.Wrong[0].Do)
	left, err := os.ReadDir(folder)
	require.NoError(t, err)
	require.Empty(t, left, "nothing of it is kept")

	_, lines, _ = send("programme", "application/octet-stream", []byte("no film at all"))
	require.Contains(t, lines[len(lines)-1].Problem, "It is no recording")
	status, _, text = send("nobody", "application/octet-stream", raw)
	require.Equal(t, 422, status)
	require.Contains(t, text, `nobody`)
	status, _, _ = send("programme", "application/json", raw)
	require.Equal(t, 415, status)
	status, _, text = send("programme", "application/octet-stream", nil)
	require.Equal(t, 422, status, text)
	req, err := http.NewRequest("POST", s.URL+"/api/rigs/"+id+"/look", bytes.NewReader(raw))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/octet-stream")
	req.Header.Set("Origin", "http://elsewhere.example")
	res, err := s.Client().Do(req)
	require.NoError(t, err)
	require.NoError(t, res.Body.Close())
	require.Equal(t, 403, res.StatusCode)
}
