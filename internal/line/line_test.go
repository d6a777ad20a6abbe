package line

import (
	"context"
	"encoding/json"
	"io"
	"math"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func needsFFmpeg(t *testing.T) string {
	path, err := exec.LookPath("ffmpeg")
	if err != nil {
		t.Skip("no ffmpeg")
	}
	return path
}

func quiet(Step) {}

// The film keeps its bitrate exactly, within what frames of a second differ.
func TestTheFilmKeepsItsBitrate(t *testing.T) {
	needsFFmpeg(t)
	for _, kbps := range []float64{600, 6000, 24000} {
		f, err := testFilm(t.Context(), kbps)
		require.NoError(t, err)
		require.Len(t, f.frames, filmSeconds*filmHz)
		assert.InEpsilon(t, kbps+audioKbps, f.kbps, 0.06)
		assert.InDelta(t, filmSeconds*48000/1024, len(f.sounds), 3)
	}
}

func TestToTheStandIn(t *testing.T) {
	needsFFmpeg(t)
	steps := 0
	out, err := Do(t.Context(), Try{Kbps: 4000, Seconds: 3}, func(Step) { steps++ })
	require.NoError(t, err)
	assert.True(t, out.Local)
	assert.Empty(t, out.Closed)
	assert.InEpsilon(t, 4.0, out.Mbps, 0.1)
	assert.False(t, out.Filled)
	assert.Empty(t, out.Stalls)
	assert.Greater(t, steps, 3)
	if out.Counted {
		assert.Positive(t, out.RTTms)
		// A far end that is woken late is asked again with what was sent last [standard: RFC 8985, tail loss probes]: now and then
		// one of some hundred segments, however good the line.
		assert.Less(t, out.Resent, 3.0)
		assert.GreaterOrEqual(t, out.Resent, 0.0)
	}
}

// relay hands on what it gets at so many bits a second, and holds everything back for a while; it stands for a line that
// is too slow, and one that stalls.
func relay(t *testing.T, to string, bits float64, from, until time.Duration) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	go func() {
		in, err := l.Accept()
		if err != nil {
			return
		}
		defer in.Close()
		_ = in.(*net.TCPConn).SetReadBuffer(64 << 10)
		out, err := net.Dial("tcp", to)
		if err != nil {
			return
		}
		defer out.Close()
		go func() { _, _ = io.Copy(in, out) }()
		began, passed := time.Now(), 0
		part := make([]byte, 8<<10)
		for {
			n, err := in.Read(part)
			if err != nil {
				return
			}
			passed += n
			if d := time.Until(began.Add(time.Duration(float64(passed) * 8 / bits * float64(time.Second)))); d > 0 {
				time.Sleep(d)
			}
			if d := time.Since(began); d > from && d < until {
				time.Sleep(until - d)
			}
			if _, err := out.Write(part[:n]); err != nil {
				return
			}
		}
	}()
	return l.Addr().String()
}

// A far end that takes nothing more, and does not close either, holds up nobody: the line is full.
func TestAFarEndThatTakesNothingMore(t *testing.T) {
	needsFFmpeg(t)
	out := through(t, 40_000, 60, 80e6, time.Second/2, time.Hour)
	assert.True(t, out.Filled, "%+v", out)
	assert.Empty(t, out.Closed)
	assert.Less(t, out.Seconds, 30.0)
	assert.Less(t, out.Mbps, 20.0)
}

func through(t *testing.T, kbps, seconds, bits float64, from, until time.Duration) *Tried {
	t.Helper()
	s, err := NewStandIn()
	require.NoError(t, err)
	t.Cleanup(s.Close)
	by := relay(t, s.Host(), bits, from, until)
	f, err := testFilm(t.Context(), kbps-audioKbps)
	require.NoError(t, err)
	out, err := publish(t.Context(), Try{Address: "rtmp://" + by + "/try", Key: s.Key(), Kbps: kbps, Seconds: seconds, late: 4}, f, by, quiet)
	require.NoError(t, err)
	return out
}

// A line of a known rate: filled, what arrives is that rate; not filled, it is a low bound.
func TestALineOfAKnownRate(t *testing.T) {
	needsFFmpeg(t)
	slow := through(t, 9_000, 3, 3e6, 0, 0)
	assert.True(t, slow.Filled, "%+v", slow)
	assert.InDelta(t, 3, slow.Mbps, 0.7, "what lies in buffers on the way has arrived")
	fast := through(t, 3000, 4, 40e6, 0, 0)
	assert.False(t, fast.Filled, "%+v", fast)
	assert.InEpsilon(t, 3, fast.Mbps, 0.1)
}

func TestALineThatStalls(t *testing.T) {
	needsFFmpeg(t)
	out := through(t, 16_000, 6, 80e6, 2*time.Second, 4*time.Second)
	if !out.Counted {
		t.Skip("this system does not count connections")
	}
	require.NotEmpty(t, out.Stalls, "%+v", out)
	assert.InDelta(t, 3, (out.Stalls[0].From+out.Stalls[0].To)/2, 0.9)
}

// An ingest that is another program takes what is sent for what it is, from its first frame to its last.
func TestAnotherProgramTakesIt(t *testing.T) {
	ffmpeg := needsFFmpeg(t)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	host := l.Addr().String()
	require.NoError(t, l.Close())
	file := filepath.Join(t.TempDir(), "taken.flv")
	cmd := exec.Command(ffmpeg, "-v", "error", "-nostdin", "-listen", "1", "-i", "rtmp://"+host+"/live/key-of-this-try", "-c", "copy", file)
	require.NoError(t, cmd.Start())
	f, err := testFilm(t.Context(), 1500)
	require.NoError(t, err)
	var out *Tried
	require.Eventually(t, func() bool { // it listens once it has started
		out, err = publish(t.Context(), Try{Address: "rtmp://" + host + "/live", Key: "key-of-this-try", Kbps: 1628, Seconds: 3}, f, host, quiet)
		return err == nil
	}, 20*time.Second, 100*time.Millisecond)
	_ = cmd.Wait()
	assert.Empty(t, out.Closed)
	probed, err := exec.Command("ffprobe", "-v", "error", "-count_packets", "-show_entries",
		"stream=codec_name,nb_read_packets,width,r_frame_rate", "-of", "json", file).Output()
	require.NoError(t, err)
	var said struct {
		Streams []struct {
			Codec   string `json:"codec_name"`
			Packets string `json:"nb_read_packets"`
			Width   int    `json:"width"`
		}
	}
	require.NoError(t, json.Unmarshal(probed, &said), string(probed))
	require.Len(t, said.Streams, 2)
	for _, s := range said.Streams {
		n, _ := strconv.ParseFloat(s.Packets, 64)
		if s.Codec == "h264" {
			assert.Equal(t, 640, s.Width)
			assert.InDelta(t, 90, n, 2)
		} else {
			assert.Equal(t, "aac", s.Codec)
			assert.InDelta(t, math.Floor(3*48000/1024), n, 4)
		}
	}
}

// What cannot be tried says why, and the key stands in no error and no process.
func TestWhatCannotBeTried(t *testing.T) {
	needsFFmpeg(t)
	const key = "live_secret/42"
	for name, c := range map[string]struct {
		address string
		says    string
	}{
		"a file":     {"file:///etc/passwd", "rtmp:// or rtmps://"},
		"a page":     {"https://ingest.example/live", "rtmp:// or rtmps://"},
		"no host":    {"rtmp:///live", "no host"},
		"no app":     {"rtmp://ingest.example/", "no application"},
		"a password": {"rtmp://a:b@ingest.example/live", "leave it out"},
		"unreadable": {"rtmp://%zz", "cannot be read"},
		"loopback":   {"rtmp://127.0.0.1:5432/live", "this very computer"},
		"by name":    {"rtmp://localhost/live", "this very computer"},
		"nobody":     {"rtmp://nobody.invalid/live", "no name anybody knows"},
	} {
		_, err := Do(t.Context(), Try{Address: c.address, Key: key, Kbps: 1000, Seconds: 2}, quiet)
		require.ErrorContains(t, err, c.says, name)
		require.NotContains(t, err.Error(), "secret", name)
	}
	for _, wrong := range []Try{{Kbps: 1, Seconds: 5}, {Kbps: 1e9, Seconds: 5}, {Kbps: 1000}, {Kbps: 1000, Seconds: 1e6}} {
		_, err := Do(t.Context(), wrong, quiet)
		require.ErrorContains(t, err, "want")
	}
	assert.Equal(t, "at (the key) or (the key)", withoutKey("at live_secret/42 or live_secret%2F42", key))
	s, err := NewStandIn()
	require.NoError(t, err)
	defer s.Close()
	f, err := testFilm(t.Context(), 500)
	require.NoError(t, err)
	_, err = publish(t.Context(), Try{Address: s.Address(), Key: "wrong-one", Kbps: 628, Seconds: 2}, f, s.Host(), quiet)
	require.Error(t, err, "the stand-in takes its own key only")
	ctx, cancel := context.WithCancel(t.Context())
	_, err = Do(ctx, Try{Kbps: 1000, Seconds: 60}, func(s Step) {
		if s.Done > 0 {
			cancel()
		}
	})
	require.ErrorIs(t, err, context.Canceled)
	procs, _ := os.ReadDir("/proc")
	for _, p := range procs {
		if text, err := os.ReadFile(filepath.Join("/proc", p.Name(), "cmdline")); err == nil && strings.Contains(string(text), "ffmpeg") {
			require.NotContains(t, string(text), "secret")
		}
	}
}
