package main

import (
	"bufio"
	"encoding/json"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
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

// ourselves is this very binary as the application.
func ourselves(t *testing.T, args ...string) *exec.Cmd {
	t.Helper()
	self, err := os.Executable()
	require.NoError(t, err)
	c := exec.CommandContext(t.Context(), self, args...)
	c.Env = append(os.Environ(), "EVENTETHER_RUN=1")
	return c
}

// What a rig's own sheet sends to the command is as it is set; what its own sheet records is, too.
func TestRehearseAndInspect(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	r := mistakes.Rig()
	file, err := rigfile.Write(r)
	require.NoError(t, err)
	folder := t.TempDir()
	rig := filepath.Join(folder, "rig.json")
	require.NoError(t, os.WriteFile(rig, file, 0o600))
	parts := map[string]string{}
	for _, p := range sheet.Of(judge.Rig(r)).Parts {
		parts[p.ID] = strings.Replace(p.Command, "-t 5", "-t 12", 1)
	}

	c := ourselves(t, "rehearse", "--rig", rig, "--minutes", "2", "--json")
	said, err := c.StderrPipe()
	require.NoError(t, err)
	var out strings.Builder
	c.Stdout = &out
	require.NoError(t, c.Start())
	lines := bufio.NewScanner(said)
	address, key := "", ""
	for key == "" && lines.Scan() {
		if s, ok := strings.CutPrefix(lines.Text(), "Server: "); ok {
			address = s
		} else if s, ok := strings.CutPrefix(lines.Text(), "Key:"); ok {
			key = strings.TrimSpace(s)
		}
	}
	go func() {
		for lines.Scan() {
		}
	}()
	sends := parts["stream-0"]
	sends = sends[:strings.LastIndex(sends, "-f flv ")] + "-f flv " + address + "/" + key
	text, err := exec.Command("bash", "-c", sends).CombinedOutput()
	require.NoError(t, err, string(text))
	require.NoError(t, c.Wait(), out.String())
	var was view.Rehearsed
	require.NoError(t, json.Unmarshal([]byte(out.String()), &was))
	assert.Equal(t, "slack", was.Held.State, was.Sentence)

	keeps := exec.Command("bash", "-c", parts["recording-0"])
	keeps.Dir = t.TempDir()
	text, err = keeps.CombinedOutput()
	require.NoError(t, err, string(text))
	clips, err := os.ReadDir(keeps.Dir)
	require.NoError(t, err)
	clip := filepath.Join(keeps.Dir, clips[0].Name())
	text, _ = ourselves(t, "inspect", clip, "--rig", rig).CombinedOutput()
	assert.Contains(t, string(text), "Every line that can be seen from here is as it is set.")
	text, _ = ourselves(t, "inspect", clip, "--json").CombinedOutput()
	again, err := ourselves(t, "inspect", clip, "--against", clip).CombinedOutput()
	assert.Contains(t, string(again), "second sound", err)
	var in struct{ Arrived struct{ Container string } }
	require.NoError(t, json.Unmarshal(text, &in), string(text))
	assert.Equal(t, "fmp4", in.Arrived.Container)
	for _, wrong := range []struct {
		args []string
		says string
	}{
		{[]string{"inspect", filepath.Join(folder, "none.mp4")}, "cannot be read"},
		{[]string{"inspect", rig}, "is no recording"},
		{[]string{"inspect", clip, "--of", "recording-0"}, "say which rig"},
		{[]string{"inspect", clip, "--rig", rig, "--of", "camera-9"}, "want one of recording-0, stream-0"},
		{[]string{"inspect", clip, "--seconds", "0"}, "want 1 to 86400"},
		{[]string{"rehearse", "--minutes", "0"}, "want more than 0"},
		{[]string{"rehearse", "--by", "pigeon"}, "want rtmp, srt or webrtc"},
		{[]string{"rehearse", "--rig", rig, "--part", "recording-0"}, "want a stream of the rig"},
	} {
		c := ourselves(t, wrong.args...)
		text, err := c.CombinedOutput()
		require.Error(t, err, wrong.args)
		assert.Equal(t, exitUnusable, c.ProcessState.ExitCode(), "%v: %s", wrong.args, text)
		assert.Contains(t, string(text), wrong.says, wrong.args)
	}
}

// A server that is told to stop while somebody rehearses keeps the report, and leaves no child running; it is there again.
func TestARehearsalOutlivesItsServer(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	folder := filepath.Join(t.TempDir(), "db")
	serve := func() (*exec.Cmd, string) {
		c := ourselves(t, "serve", "--data", folder, "--port", "46180")
		out, err := c.StdoutPipe()
		require.NoError(t, err)
		require.NoError(t, c.Start())
		lines := bufio.NewScanner(out)
		for lines.Scan() {
			if _, rest, ok := strings.Cut(lines.Text(), "is at "); ok {
				address, _, _ := strings.Cut(rest, " ")
				go func() { _, _ = io.Copy(io.Discard, out) }()
				return c, address
			}
		}
		t.Fatal("it does not begin")
		return nil, ""
	}
	ask := func(method, address, body string, to any) {
		t.Helper()
		r, err := http.NewRequestWithContext(t.Context(), method, address, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		got, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer got.Body.Close()
		text, err := io.ReadAll(got.Body)
		require.NoError(t, err)
		require.Less(t, got.StatusCode, 300, string(text))
		require.NoError(t, json.Unmarshal(text, to))
	}
	file, err := rigfile.Write(mistakes.Rig())
	require.NoError(t, err)
	c, address := serve()
	var rig, far struct {
		ID        string
		Key       string
		Addresses []string
	}
	ask("POST", address+"/api/rigs", string(file), &rig)
	ask("POST", address+"/api/rigs/"+rig.ID+"/rehearsals", `{"part":"stream-0"}`, &far)
	sender := exec.Command("ffmpeg", "-v", "error", "-re", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=30", "-c:v", "libx264", "-g", "30", "-t", "60", "-f", "flv",
		far.Addresses[0]+"/"+far.Key)
	require.NoError(t, sender.Start())
	defer func() { _ = sender.Process.Kill(); _ = sender.Wait() }()
	require.Eventually(t, func() bool {
		var now struct{ Now view.Rehearsed }
		ask("GET", address+"/api/rehearsals/"+far.ID, "", &now)
		return now.Now.Arrived.Came.Frames > 30
	}, time.Minute, 100*time.Millisecond)
	require.NoError(t, c.Process.Signal(syscall.SIGTERM))
	require.NoError(t, c.Wait())
	assert.Empty(t, childrenOf(c.Process.Pid))
	c, address = serve()
	var reports []struct{ ID string }
	ask("GET", address+"/api/rigs/"+rig.ID+"/reports", "", &reports)
	assert.Len(t, reports, 1)
	require.NoError(t, c.Process.Signal(syscall.SIGTERM))
	require.NoError(t, c.Wait())
}
