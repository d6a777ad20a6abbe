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
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/judge"
	"eventether/core/sheet"
	"eventether/core/view"
	"eventether/internal/mistakes"
	"eventether/internal/rigfile"
)

// kept is the id of a rig that is quickly coded.
func keptRig(t *testing.T, call func(method, path, body string) string) string {
	t.Helper()
	file, err := rigfile.Write(mistakes.Rig())
	require.NoError(t, err)
	return board(t, call("POST", "/api/rigs", string(file))).ID.String()
}

// A clip is taken in, inspected when its turn comes, held against the sheet, and thrown away; another is called off.
func TestInspectAClip(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	s, a := serveWith(t)
	ask := func(method, path, body string) string {
		status, out, _ := call(t, s, method, path, body)
		require.Less(t, status, 300, "%s %s: %s", method, path, out)
		return out
	}
	id := keptRig(t, ask)
	clip := filepath.Join(t.TempDir(), "clip.mp4")
	out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=30000/1001:duration=12,drawbox=t=fill:c=black:enable='between(t,4,6)'",
		"-f", "lavfi", "-i", "sine=duration=12:sample_rate=48000", "-c:v", "libx264", "-g", "60", "-c:a", "aac", "-ac", "2", clip).CombinedOutput()
	require.NoError(t, err, string(out))
	raw, err := os.ReadFile(clip)
	require.NoError(t, err)
	send := func(of, name string) (int, Inspection, string) {
		r, err := http.NewRequest("POST", s.URL+"/api/rigs/"+id+"/inspections?of="+of+"&name="+name, bytes.NewReader(raw))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/octet-stream")
		got, err := s.Client().Do(r)
		require.NoError(t, err)
		defer got.Body.Close()
		var b bytes.Buffer
		_, _ = b.ReadFrom(got.Body)
		var one Inspection
		_ = json.Unmarshal(b.Bytes(), &one)
		return got.StatusCode, one, b.String()
	}
	status, _, body := send("nobody", "x")
	require.Equal(t, http.StatusUnprocessableEntity, status, body)
	status, one, body := send("recording-0", "Tuesday.mp4")
	require.Equal(t, http.StatusOK, status, body)
	_, waits, _ := send("programme", "..%2F..%2Fetc")
	assert.Equal(t, "etc", waits.Name)
	ask("DELETE", "/api/inspections/"+waits.ID.String(), "")
	now := func(of Inspection) (i Inspection) {
		require.NoError(t, json.Unmarshal([]byte(ask("GET", "/api/inspections/"+of.ID.String(), "")), &i))
		return i
	}
	require.Eventually(t, func() bool { return now(one).State == "done" && now(waits).State == "off" }, time.Minute, 50*time.Millisecond)
	i := now(one)
	require.NotNil(t, i.Inspected)
	assert.Contains(t, i.Inspected.Sentence, "black for 2 s")
	assert.Equal(t, "Tuesday.mp4", i.Name)
	require.NotNil(t, i.Inspected.Held)
	assert.NotEmpty(t, i.Shots)
	assert.Len(t, i.Inspected.Kbps.Values, 12)
	assert.NotEmpty(t, i.Inspected.Loudness.Values)
	require.NotNil(t, i.Preflight)
	kinds := map[string]bool{}
	for _, take := range i.Inspected.Looked.Takes {
		kinds[take.Edits[0].Path] = true
	}
	assert.True(t, kinds["show/recordings/0/kbps"], "%v", kinds)
	claps := "/api/inspections/" + one.ID.String() + "/claps"
	var met view.ClapsMet
	require.NoError(t, json.Unmarshal([]byte(ask("POST", claps, `{"heard":[2,3.5,5],"met":[1.9,3.4,4.9]}`)), &met))
	assert.InDelta(t, 100-500/29.97, met.Value, 0.1, "half a frame is taken off")
	require.NotEmpty(t, met.Takes)
	assert.Equal(t, "sound/paths/0/delayMs", met.Takes[0].Edits[0].Path)
	status, body, _ = call(t, s, "POST", claps, `{"heard":[2],"met":[]}`)
	assert.Equal(t, http.StatusUnprocessableEntity, status, body)
	for _, first := range []string{"0", "-4", "many", "99999999999"} { // where the second of two clips begins
		status, _, body := send("programme", "x&first="+first)
		assert.Equal(t, http.StatusUnprocessableEntity, status, body)
	}
	files, err := os.ReadDir(a.clips)
	require.NoError(t, err)
	assert.Empty(t, files, "nothing of a clip is kept")
	var list []Inspection
	require.NoError(t, json.Unmarshal([]byte(ask("GET", "/api/rigs/"+id+"/inspections", "")), &list))
	require.Len(t, list, 2)
	assert.Nil(t, list[0].Inspected)
	status, _, _ = call(t, s, "GET", "/api/inspections/"+id, "")
	assert.Equal(t, http.StatusNotFound, status)
}

// A rehearsal: opened, sent to, made to do badly, ended; its report is kept with the state of the rig, and its address is gone.
func TestRehearse(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	s := serve(t)
	ask := func(method, path, body string) string {
		status, out, _ := call(t, s, method, path, body)
		require.Less(t, status, 300, "%s %s: %s", method, path, out)
		return out
	}
	id := keptRig(t, ask)
	status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/rehearsals", `{"part":"recording-0"}`)
	require.Equal(t, http.StatusUnprocessableEntity, status, body)
	read := func(text string) (r Rehearsal) {
		require.NoError(t, json.Unmarshal([]byte(text), &r))
		return r
	}
	r := read(ask("POST", "/api/rigs/"+id+"/rehearsals", `{"part":"stream-0"}`))
	require.Len(t, r.Addresses, 1)
	assert.True(t, strings.HasPrefix(r.Addresses[0], "rtmp://127.0.0.1:"), r.Addresses)
	assert.Contains(t, r.Now.Sentence, "Nobody sends yet")
	path := "/api/rehearsals/" + r.ID.String()
	status, body, _ = call(t, s, "POST", path+"/dip", `{"kind":"stalls","seconds":2}`)
	require.Equal(t, http.StatusUnprocessableEntity, status, body)
	require.Contains(t, body, "nobody sends")
	command := ""
	for _, p := range sheet.Of(judge.Rig(mistakes.Rig())).Parts {
		if p.ID == "stream-0" {
			command = p.Command
		}
	}
	command = strings.Replace(command[:strings.LastIndex(command, "-f flv ")]+"-f flv "+r.Addresses[0]+"/"+r.Key, "-f lavfi -i testsrc2", "-re -f lavfi -i testsrc2", 1)
	c := exec.Command("bash", "-c", strings.Replace(command, "-t 5", "-t 90", 1))
	require.NoError(t, c.Start())
	defer func() {
		_ = c.Process.Kill()
		_ = c.Wait()
	}()
	require.Eventually(t, func() bool { return read(ask("GET", path, "")).Now.Arrived.Came.Frames > 60 }, time.Minute, 100*time.Millisecond)
	r = read(ask("POST", path+"/dip", `{"kind":"closes"}`))
	require.Len(t, r.Now.Going.Dips, 1)
	require.NotEmpty(t, r.Else)
	r = read(ask("POST", path+"/end", ""))
	assert.True(t, r.Ended)
	assert.Empty(t, r.Addresses)
	assert.Empty(t, r.Key)
	assert.Equal(t, r.Report, read(ask("POST", path+"/end", "")).Report, "ended once")
	var reports []Reported
	require.NoError(t, json.Unmarshal([]byte(ask("GET", "/api/rigs/"+id+"/reports", "")), &reports))
	require.Len(t, reports, 1)
	assert.Equal(t, 1, reports[0].Revision)
	var one Reported
	require.NoError(t, json.Unmarshal([]byte(ask("GET", "/api/reports/"+r.Report.String(), "")), &one))
	require.NotNil(t, one.Was)
	assert.Len(t, one.Was.Going.Dips, 1)
	assert.NotEmpty(t, one.Was.Held.Lines)
	status, _, _ = call(t, s, "GET", "/api/reports/"+id, "")
	assert.Equal(t, http.StatusNotFound, status)
	status, _, _ = call(t, s, "GET", "/api/rehearsals/"+id, "")
	assert.Equal(t, http.StatusNotFound, status)
}
