package media_test

import (
	"context"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/internal/media"
)

// film records a noisy made-up picture at a quality, and gives the file.
func film(t *testing.T, name string, quality, noise int, more ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	args := append([]string{"-v", "error", "-nostdin", "-y", "-f", "lavfi", "-i", "testsrc2=size=640x360:rate=30",
		"-vf", fmt.Sprintf("noise=alls=%d:allf=t,format=yuv420p", noise), "-t", "3",
		"-c:v", "libx264", "-preset", "veryfast", "-crf", fmt.Sprint(quality)}, append(more, path)...)
	out, err := exec.Command("ffmpeg", args...).CombinedOutput()
	require.NoError(t, err, "%s", out)
	return path
}

func TestReadRecording(t *testing.T) {
	path := film(t, "scene.mkv", 23, 12)
	r, err := media.ReadRecording(context.Background(), path)
	require.NoError(t, err)
	st, err := os.Stat(path)
	require.NoError(t, err)
	assert.InDelta(t, float64(st.Size())*8/3000, r.Kbps, 0.02*r.Kbps)
	assert.Equal(t, [2]int{640, 360}, [2]int{r.Width, r.Height})
	assert.Equal(t, "30", r.Rate)
	assert.InDelta(t, r.Kbps*1000/(640*360*30), r.BitsAPixel, 0.001)

	// What a file says of itself may be anything: size and time are what count.
	padded := film(t, "padded.mp4", 23, 12)
	f, err := os.OpenFile(padded, os.O_APPEND|os.O_WRONLY, 0)
	require.NoError(t, err)
	_, err = f.Write(append([]byte{0, 0x40, 0, 0, 'f', 'r', 'e', 'e'}, make([]byte, 0x400000-8)...))
	require.NoError(t, err)
	require.NoError(t, f.Close())
	r, err = media.ReadRecording(context.Background(), padded)
	require.NoError(t, err)
	assert.False(t, r.Agrees, "%+v", r)
	assert.Greater(t, r.Kbps, r.DeclaredKbps)

	// 40 GB of nothing behind a film: only its beginning is read.
	require.NoError(t, os.Truncate(path, 40<<30))
	r, err = media.ReadRecording(context.Background(), path)
	if err == nil {
		assert.Equal(t, int64(40<<30), r.Bytes)
	}
	text := filepath.Join(t.TempDir(), "notes.txt")
	require.NoError(t, os.WriteFile(text, []byte("no film"), 0o600))
	for _, bad := range []string{text, filepath.Join(t.TempDir(), "none.mp4"), t.TempDir(), "/dev/zero",
		"http://127.0.0.1:1/x.mp4", "concat:/etc/passwd"} {
		_, err := media.ReadRecording(context.Background(), bad)
		require.Error(t, err, bad)
		require.Contains(t, err.Error(), bad)
	}
}

// The bitrate doubles about every six steps of quality down. Measured on a noisy made-up picture: the
// slope of log2(bitrate) against quality, by least squares from 16 to 32. It holds over the whole, not everywhere:
// while the noise is kept, eight steps are twice the bytes, and where it begins to be lost four are; with less noise it
// is lost sooner.
func TestSixStepsAreTwiceTheBytes(t *testing.T) {
	var n, sx, sy, sxx, sxy float64
	for q := 16; q <= 32; q += 2 {
		r, err := media.ReadRecording(context.Background(), film(t, "q.mkv", q, 40, "-frames:v", "30"))
		require.NoError(t, err)
		x, y := float64(q), math.Log2(r.Kbps)
		n, sx, sy, sxx, sxy = n+1, sx+x, sy+y, sxx+x*x, sxy+x*y
		t.Logf("quality %d: %.0f kb/s", q, r.Kbps)
	}
	slope := (n*sxy - sx*sy) / (n*sxx - sx*sx)
	t.Logf("twice the bytes every %.1f steps", -1/slope)
	assert.InDelta(t, 6, -1/slope, 1.5)
}

// Five minutes of 1080p30 at quality 18 that are 373 MB, and a player that shows 18 Mb/s: the two do not agree, and
// size ÷ time, 9.9 Mb/s, is what to trust [practice].
func TestTypedRecording(t *testing.T) {
	f := media.TypedRecording(373, 5, 18000)
	assert.Equal(t, 9947.0, f.Kbps)
	assert.False(t, f.Agrees)
	assert.True(t, media.TypedRecording(373, 5, 0).Agrees, "nothing to disagree with")
	assert.True(t, media.TypedRecording(373, 5, 10500).Agrees)
}

// A list of other files is no recording: what it names, a pipe nobody writes to, is never opened.
func TestListsAreNoRecordings(t *testing.T) {
	dir := t.TempDir()
	pipe := filepath.Join(dir, "pipe.ts")
	require.NoError(t, syscall.Mkfifo(pipe, 0o600))
	for name, text := range map[string]string{
		"a.m3u8":     "#EXTM3U\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\n" + pipe + "\n#EXT-X-ENDLIST\n",
		"a.ffconcat": "ffconcat version 1.0\nfile pipe.ts\n",
		"a.mpd":      `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" type="static"><Period><AdaptationSet><Representation id="1"><BaseURL>pipe.ts</BaseURL></Representation></AdaptationSet></Period></MPD>`,
	} {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		ctx, cancel := context.WithTimeout(t.Context(), 15*time.Second)
		_, err := media.ReadRecording(ctx, path)
		require.Error(t, err, name)
		require.NoError(t, ctx.Err(), "%s was given up, not refused", name)
		cancel()
	}
}
