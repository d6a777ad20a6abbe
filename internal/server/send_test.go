package server

import (
	"encoding/json"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

// even is the loft as it holds, as a document.
func even(t testing.TB) string {
	t.Helper()
	text, err := rigfile.Write(rigs.LoftEven())
	require.NoError(t, err)
	return string(text)
}

func TestSend(t *testing.T) {
	s := serve(t)
	ask := func(body string) Sending {
		t.Helper()
		status, text, _ := call(t, s, "POST", "/api/send", body)
		require.Equal(t, 200, status, text)
		var out Sending
		require.NoError(t, json.Unmarshal([]byte(text), &out))
		return out
	}
	now := ask(`{"rig":` + even(t) + `}`)
	require.Len(t, now.Sheet.Parts, 4)
	require.Len(t, now.Regions, 1)
	assert.Equal(t, "pc", now.Computer)
	assert.Equal(t, 4000.0, now.Regions[0].CapKbps)
	ids := []string{}
	for _, l := range now.Limits {
		ids = append(ids, l.ID)
	}
	assert.Subset(t, ids, []string{"processor:pc", "uplink", "drive-write:drive-1", "bits-a-pixel:0"})
	for _, spot := range now.Regions[0].Spots {
		assert.Equal(t, spot.Label == "720p29.97" || strings.HasPrefix(spot.Label, "480p"), spot.Takes, spot.Label)
	}

	held := `[{"do":"send","name":"Class channel","send":{"width":1280,"height":720,"rate":"30000/1001","videoKbps":3000}}]`
	then := ask(`{"rig":` + even(t) + `,"edits":` + held + `,"since":` + even(t) + `}`)
	was := ""
	for _, l := range then.Sheet.Parts[2].Lines {
		if l.ID == "bitrate" {
			was = l.Value + " was " + l.Was
		}
	}
	assert.Equal(t, "3000 was 4000 kb/s", was)

	// A held preset and a size that is no rung are what the next change starts from.
	odd := ask(`{"rig":` + even(t) +
		`,"edits":[{"do":"send","name":"Class channel","send":{"width":1024,"height":576,"rate":"30000/1001","encoder":"fast"}}]}`)
	require.Len(t, odd.Sends, 1)
	assert.Equal(t, []any{1024, "fast"}, []any{odd.Sends[0].Width, odd.Sends[0].Encoder})

	for _, bad := range []string{`{}`, `{"rig":{}}`,
		`{"rig":` + even(t) +
			`,"edits":[{"do":"send","name":"nobody","send":{"width":1280,"height":720,"rate":"30"}}]}`,
		`{"rig":` + even(t) + `,"edits":7}`} {
		status, text, _ := call(t, s, "POST", "/api/send", bad)
		require.Equal(t, 422, status, text)
	}
}

func TestSheetFiles(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/rigs", even(t))
	require.Equal(t, 200, status)
	path := "/api/rigs/" + board(t, body).ID.String() + "/sheet"
	for as, want := range map[string]string{"text": "Keyframe interval in frames",
		"markdown": "| Bitrate | 4000 kb/s |", "csv": "Bitrate,4000,kb/s", "json": `"format": "eventether-sheet/1"`,
		"command": "\nffmpeg -hide_banner"} {
		status, text, h := call(t, s, "GET", path+"?as="+as, "")
		require.Equal(t, 200, status, text)
		assert.Contains(t, text, want, as)
		assert.Contains(t, h.Get("Content-Disposition"), "marlpit-puppet-loft-even-sheet.", as)
	}
	status, _, _ = call(t, s, "GET", path+"?as=pdf", "")
	require.Equal(t, 422, status)
}

// Measuring from the screen: one at a time, broken off, and refused where it cannot be.
func TestMeasuring(t *testing.T) {
	s := serve(t)
	status, text, _ := call(t, s, "POST", "/api/measure",
		`{"width":640,"height":360,"rate":"30","folder":"/no/such/folder"}`)
	require.Equal(t, 422, status)
	require.Contains(t, text, "/no/such/folder")
	status, text, _ = call(t, s, "POST", "/api/measure", `{"width":640,"height":360,"rate":"29.97"}`)
	require.Equal(t, 422, status, text)

	status, text, _ = call(t, s, "POST", "/api/measure", `{"width":640,"height":360,"rate":"30","seconds":5}`)
	require.Equal(t, 200, status, text)
	status, text, _ = call(t, s, "POST", "/api/measure", `{"width":640,"height":360,"rate":"30"}`)
	require.Equal(t, 409, status)
	require.Contains(t, text, "being measured already")
	look := func() (m Measuring) {
		_, text, _ := call(t, s, "GET", "/api/measure", "")
		require.NoError(t, json.Unmarshal([]byte(text), &m))
		return m
	}
	require.Eventually(t, func() bool { return look().Progress.Of > 0 }, 20*time.Second, 20*time.Millisecond)
	call(t, s, "DELETE", "/api/measure", "")
	require.Eventually(t, func() bool { return !look().Running }, 20*time.Second, 20*time.Millisecond)
	require.Contains(t, look().Failed, "broken off")
}

func TestMeasurementOfAnotherComputer(t *testing.T) {
	s := serve(t)
	ask := func(text string) (int, string) {
		body, err := json.Marshal(map[string]string{"text": text})
		require.NoError(t, err)
		status, out, _ := call(t, s, "POST", "/api/measurement", string(body))
		return status, out
	}
	good := `{"format":"eventether-measure/1","host":"studio","at":"2026-11-20T10:00:00Z","size":"1920×1080","steps":[],"computes":{"encodeMpxS":{"value":300,"low":250,"high":380,"from":"measured","at":"2026-11-20"},"hardware":"none","measured":{"at":"2026-11-20","host":"studio"}}}`
	status, out := ask(good)
	require.Equal(t, 200, status, out)
	require.Contains(t, out, `"host":"studio"`)
	for name, bad := range map[string]string{"not JSON": "hello", "another format": strings.Replace(good, "measure/1",
		"measure/9", 1), "a speed of nothing": strings.Replace(good, `"value":300,"low":250`, `"value":-3,"low":-4`, 1),
		"absurd": strings.Replace(good, `"high":380`, `"high":1e9`, 1), "unknown fields": strings.Replace(good,
			`"hardware"`, `"softwear"`, 1), "no date": `{"format":"eventether-measure/1","computes":{}}`} {
		status, out := ask(bad)
		require.Equal(t, 422, status, "%s: %s", name, out)
	}
}

func TestReadingARecording(t *testing.T) {
	s := serve(t)
	path := filepath.Join(t.TempDir(), "scene.mp4")
	out, err := exec.Command("ffmpeg", "-v", "error", "-nostdin", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=30",
		"-t", "2", "-pix_fmt", "yuv420p", path).CombinedOutput()
	require.NoError(t, err, string(out))
	body, err := json.Marshal(map[string]string{"path": path})
	require.NoError(t, err)
	status, text, _ := call(t, s, "POST", "/api/recording", string(body))
	require.Equal(t, 200, status, text)
	require.Contains(t, text, `"width":320`)
	status, text, _ = call(t, s, "POST", "/api/recording", `{"path":"/no/film.mp4"}`)
	require.Equal(t, 422, status)
	require.Contains(t, text, "/no/film.mp4")
}

func TestSound(t *testing.T) {
	s := serve(t)
	status, text, _ := call(t, s, "POST", "/api/sound", `{"rig":`+even(t)+`}`)
	require.Equal(t, 200, status, text)
	var out Sounding
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	require.Len(t, out.Plan.Paths, 3)
	assert.Equal(t, "muted", out.Plan.Paths[1].On, "one way to air for each voice: the camera's is proposed muted")
	assert.Equal(t, "Radio microphone", out.Plan.Paths[0].ListedAs)
	assert.Len(t, out.Windows, 3)
	for _, l := range out.Limits {
		assert.Equal(t, "slack", l.State.String(), l.ID)
	}
	status, text, _ = call(t, s, "POST", "/api/sound", `{"rig":`+strings.Replace(even(t), `"from": "lapel"`,
		`"from": "nobody"`, 1)+`}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, `\"nobody\" is not an item of this rig`)
}
