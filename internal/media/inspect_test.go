package media

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/look"
	"eventether/core/rig"
	"eventether/core/sheet"
	"eventether/internal/mistakes"
)

// commanded runs a part's own command, and gives the file.
func commanded(t *testing.T, command string) string {
	t.Helper()
	c := exec.CommandContext(t.Context(), "bash", "-c", command)
	c.Dir = t.TempDir()
	out, err := c.CombinedOutput()
	require.NoError(t, err, "%s\n%s", command, out)
	files, err := os.ReadDir(c.Dir)
	require.NoError(t, err)
	require.Len(t, files, 1)
	return filepath.Join(c.Dir, files[0].Name())
}

func arrived(t *testing.T, path string, kbps float64) *inspect.Arrived {
	t.Helper()
	a := &inspect.Arrived{}
	said, err := arrivedAs(t.Context(), path, a)
	require.NoError(t, err)
	require.NoError(t, cameOf(t.Context(), path, said, codedSeconds, kbps, a))
	return a
}

// What a rig's own command makes is as its sheet says, in every line that can be seen.
func TestEveryLineOfItsOwnCommandIsRight(t *testing.T) {
	for _, r := range []*rig.Rig{mistakes.Rig(), web(mistakes.Rig())} {
		v := judge.Rig(r)
		for _, part := range sheet.Of(v).Parts {
			if part.Command == "" {
				continue
			}
			w, ok := sheet.WantedOf(v, part.ID)
			require.True(t, ok, part.ID)
			held, ok := inspect.Hold(v, part.ID, arrived(t, commanded(t, part.Command), w.Kbps))
			require.True(t, ok)
			for _, l := range held.Lines {
				if !l.Hidden && !(l.ID == "bitrate" && l.State == limit.Untested) { // five seconds are too few for it
					assert.Equal(t, limit.Slack, l.State, "%s, %s: %s, planned %s, came %s", r.Name, part.ID, l.Name, l.Planned, l.Measured)
				}
			}
			assert.Empty(t, held.Refuses)
		}
	}
}

// web is a rig whose first stream goes by WebRTC.
func web(r *rig.Rig) *rig.Rig {
	r.Show.Destinations[0].Transport, r.Show.Destinations[0].Ingest = "webrtc", nil
	return r
}

// Each line of the sheet wrong once: it is found, and nothing that has nothing to do with it.
func TestEachLineWrongOnceIsFound(t *testing.T) {
	v := judge.Rig(mistakes.Rig())
	parts := map[string]sheet.Part{}
	for _, p := range sheet.Of(v).Parts {
		parts[p.ID] = p
	}
	for i := range mistakes.All {
		m := &mistakes.All[i]
		if m.Part == "stream-0" && i%3 != 0 { // all of them are sent (internal/ingest)
			continue
		}
		w, _ := sheet.WantedOf(v, m.Part)
		held, ok := inspect.Hold(v, m.Part, arrived(t, commanded(t, m.Command(t, parts[m.Part].Command)), w.Kbps))
		require.True(t, ok)
		found := false
		for _, l := range held.Lines {
			bad := l.State == limit.Kinked || l.State == limit.Snapped
			found = found || bad && l.ID == m.Line
			assert.False(t, bad && l.ID != m.Line && !slices.Contains(m.Also, l.ID), "%s wrong: %s found too: %s, planned %s", m.Line, l.ID, l.Measured, l.Planned)
		}
		assert.True(t, found, "%s wrong, and not found: %+v", m.Line, held.Lines)
		assert.Equal(t, m.Refused, len(held.Refuses) > 0, "%s: %+v", m.Line, held.Refuses)
	}
}

func film(t *testing.T, name string, args ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	out, err := exec.CommandContext(t.Context(), "ffmpeg", append(append([]string{"-v", "error", "-y"}, args...), path)...).CombinedOutput()
	require.NoError(t, err, string(out))
	return path
}

// What comes second by second is what ffprobe prints of the packets, added up another way; cuts are those scdet finds.
func TestInspectAgainstOtherTools(t *testing.T) {
	var cut []string
	for i, src := range []string{"testsrc2", "smptehdbars", "mandelbrot", "rgbtestsrc", "yuvtestsrc"} {
		d := []string{":duration=", "2.4"}
		if src == "mandelbrot" {
			cut = append(cut, src+"=size=320x180:rate=25,trim=duration=2.4,format=yuv420p[v"+strconv.Itoa(i)+"]")
			continue
		}
		cut = append(cut, src+"=size=320x180:rate=25"+strings.Join(d, "")+",format=yuv420p[v"+strconv.Itoa(i)+"]")
	}
	path := film(t, "cuts.mkv", "-filter_complex", strings.Join(cut, ";")+";[v0][v1][v2][v3][v4]concat=n=5[v]", "-map", "[v]", "-c:v", "libx264", "-g", "50",
		"-bf", "3", "-crf", "20")
	in, err := Inspect(t.Context(), path, InspectOptions{Kbps: 500, Shots: true}, nil)
	require.NoError(t, err)

	out, err := exec.Command("ffmpeg", "-v", "info", "-nostdin", "-i", path, "-vf", "scdet=t=10", "-f", "null", "-").CombinedOutput()
	require.NoError(t, err)
	var theirs []float64
	for _, m := range regexp.MustCompile(`lavfi\.scd\.time: ([0-9.]+)`).FindAllStringSubmatch(string(out), -1) {
		at, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		theirs = append(theirs, at)
	}
	require.Len(t, theirs, 4)
	assert.InDeltaSlice(t, theirs, in.Video.Cuts, 0.021)

	raw, err := exec.Command("ffprobe", "-v", "error", "-select_streams", "v", "-show_entries", "packet=dts_time,pts_time,size,flags", "-of", "csv=p=0", path).Output()
	require.NoError(t, err)
	sums, first, keys := map[int]float64{}, math.NaN(), 0
	for line := range strings.Lines(string(raw)) {
		f := strings.Split(strings.TrimSpace(line), ",")
		at, err := strconv.ParseFloat(f[1], 64)
		if err != nil {
			at, err = strconv.ParseFloat(f[0], 64)
			require.NoError(t, err)
		}
		if math.IsNaN(first) {
			first = at
		}
		size, err := strconv.ParseFloat(f[2], 64)
		require.NoError(t, err)
		sums[int(at-first)] += size * 8 / 1000
		if strings.HasPrefix(f[3], "K") {
			keys++
		}
	}
	c := in.Arrived.Came
	for k, kbps := range c.Windows {
		assert.InDelta(t, sums[k], kbps, 0.01, "second %d", k)
	}
	assert.GreaterOrEqual(t, len(c.Windows), 11)
	assert.Equal(t, keys, c.Keys.Count)
	assert.Equal(t, 3, c.BFrames)
	kinds := map[string]int{}
	for _, s := range in.Shots {
		kinds[s.Of]++
		assert.Equal(t, []byte{0xff, 0xd8}, s.JPEG[:2])
	}
	assert.Equal(t, 1, kinds["start"])
	assert.Equal(t, 4, kinds["cut"])
}

// Noise of a known size: samples spread evenly over N codes have N ÷ √12 for a standard deviation. Where nothing stands still
// there is none to tell.
func TestNoiseOfAKnownSize(t *testing.T) {
	for _, n := range []float64{4, 10, 24} {
		path := film(t, "noise.mkv", "-f", "lavfi", "-i", fmt.Sprintf("nullsrc=size=320x180:rate=10:duration=4,geq=lum='100+20*sin(X/20)+%g*random(1)':cb=128:cr=128", n), "-c:v", "ffv1")
		in, err := Inspect(t.Context(), path, InspectOptions{}, nil)
		require.NoError(t, err)
		assert.InEpsilon(t, n/math.Sqrt(12), in.Video.Noise, 0.15, "%g codes", n)
	}
	in, err := Inspect(t.Context(), film(t, "moves.mkv", "-f", "lavfi", "-i", drawn{rand.New(rand.NewPCG(1, 1))}.panned("25", 4), "-c:v", "ffv1"), InspectOptions{}, nil)
	require.NoError(t, err)
	assert.Zero(t, in.Video.Noise)
}

// hollow is a film with thirty gigabytes of nothing behind it, which take no room.
func hollow(t *testing.T, of string) string {
	t.Helper()
	raw, err := os.ReadFile(of)
	require.NoError(t, err)
	out := filepath.Join(t.TempDir(), "hollow.mkv")
	require.NoError(t, os.WriteFile(out, raw, 0o600))
	require.NoError(t, os.Truncate(out, 30e9+int64(len(raw))))
	return out
}

// Without ffmpeg it is said what is missing.
func TestInspectWithoutFFmpeg(t *testing.T) {
	path := film(t, "plain.mkv", "-f", "lavfi", "-i", "testsrc2=size=64x36:rate=10:duration=1")
	t.Setenv("PATH", t.TempDir())
	_, err := Inspect(t.Context(), path, InspectOptions{Shots: true, Times: true}, nil)
	require.ErrorIs(t, err, ErrNoEncoder)
}

// attached is a film with a file of so many bytes attached to it.
func attached(t *testing.T, film string, size int) string {
	t.Helper()
	font := filepath.Join(t.TempDir(), "a.ttf")
	require.NoError(t, os.WriteFile(font, make([]byte, size), 0o600))
	out := filepath.Join(t.TempDir(), "attached.mkv")
	said, err := exec.Command("ffmpeg", "-v", "error", "-i", film, "-attach", font, "-metadata:s:t", "mimetype=font/ttf", "-c", "copy", out).CombinedOutput()
	require.NoError(t, err, string(said))
	return out
}

// Files as they come after a crash, or in disguise: each is answered in words, soon, and without being followed anywhere.
func TestInspectOddFiles(t *testing.T) {
	was := stuckAfter
	stuckAfter = 4 * time.Second // there is a file with a hole in it
	defer func() { stuckAfter = was }()
	src := []string{"-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=4", "-f", "lavfi", "-i", "sine=duration=4", "-c:v", "libx264", "-g", "25", "-c:a", "aac"}
	plain := film(t, "plain.mp4", src...)
	parts := film(t, "parts.mp4", append(src, "-movflags", "+frag_keyframe+empty_moov")...)
	mkv := film(t, "film.mkv", src...)
	cutAt := func(path string, share float64) string {
		raw, err := os.ReadFile(path)
		require.NoError(t, err)
		out := filepath.Join(t.TempDir(), "cut-"+filepath.Base(path))
		require.NoError(t, os.WriteFile(out, raw[:int(share*float64(len(raw)))], 0o600))
		return out
	}
	written := func(name, text string) string {
		out := filepath.Join(t.TempDir(), name)
		require.NoError(t, os.WriteFile(out, []byte(text), 0o600))
		return out
	}
	many := []string{"-f", "lavfi", "-i", "testsrc2=size=64x36:rate=10:duration=1", "-f", "lavfi", "-i", "sine=duration=1"}
	many = append(many, "-map", "0:v")
	for range 400 {
		many = append(many, "-map", "1:a")
	}
	for _, c := range []struct {
		name, path string
		fails      string // part of the error
		check      func(*Inspected)
	}{
		{"plain", plain, "", func(in *Inspected) {
			assert.Equal(t, "mp4", in.Arrived.Container)
			assert.Equal(t, look.Clear, in.Arrived.Whole.Safe)
			assert.Equal(t, look.Found, in.Arrived.Whole.Ends)
		}},
		{"plain, cut", cutAt(plain, 0.6), "never closed", nil},
		{"in parts", parts, "", func(in *Inspected) {
			assert.Equal(t, "fmp4", in.Arrived.Container)
			assert.Equal(t, look.Found, in.Arrived.Whole.Safe)
		}},
		{"in parts, cut", cutAt(parts, 0.6), "", func(in *Inspected) {
			assert.Equal(t, look.Clear, in.Arrived.Whole.Ends)
			assert.Greater(t, in.Arrived.Came.Seconds, 1.5)
		}},
		{"matroska", mkv, "", func(in *Inspected) { assert.Equal(t, look.Found, in.Arrived.Whole.Safe) }},
		{"matroska, cut", cutAt(mkv, 0.6), "", func(in *Inspected) { assert.Greater(t, in.Arrived.Came.Seconds, 1.5) }},
		{"wrong ending", func() string {
			out := filepath.Join(t.TempDir(), "film.txt")
			require.NoError(t, os.Rename(film(t, "x.mkv", src...), out))
			return out
		}(), "", func(in *Inspected) { assert.Equal(t, "mkv", in.Arrived.Container) }},
		{"picture only", film(t, "v.mkv", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=2"), "", func(in *Inspected) {
			assert.Nil(t, in.Arrived.Audio)
			assert.Nil(t, in.Audio)
		}},
		{"sound only", film(t, "a.wav", "-f", "lavfi", "-i", "sine=duration=2"), "", func(in *Inspected) {
			assert.Nil(t, in.Arrived.Video)
			assert.NotNil(t, in.Audio)
		}},
		{"four hundred tracks", film(t, "many.mkv", many...), "", func(in *Inspected) {
			assert.Equal(t, 400, in.Arrived.Tracks)
			assert.Len(t, in.Notes, 1)
		}},
		{"with fonts attached", attached(t, mkv, 8<<20), "", func(in *Inspected) { assert.Positive(t, in.Arrived.Video.References) }},
		{"thirty gigabytes, nearly all of them a hole", hollow(t, mkv), "", func(in *Inspected) { assert.Greater(t, in.Bytes, int64(30e9)) }},
		{"nothing in it", written("a.mp4", ""), "is empty", nil},
		{"text", written("a.mp4", "this is no film at all, however long it is looked at"), "is no recording", nil},
		{"a playlist", written("a.m3u8", "#EXTM3U\n#EXTINF:2,\n"+mkv+"\n"), "is no recording", nil},
		{"a list of files", written("a.mkv", "ffconcat version 1.0\nfile '"+mkv+"'\n"), "is no recording", nil},
		{"a link elsewhere", written("a.mov", "<?xml version=\"1.0\"?><SMIL><video src=\"http://127.0.0.1:9/x\"/></SMIL>"), "is no recording", nil},
		{"a folder", t.TempDir(), "is no file", nil},
		{"not there", filepath.Join(t.TempDir(), "none.mkv"), "cannot be read", nil},
		{"no file but a device", "/dev/zero", "is no file", nil},
	} {
		in, err := Inspect(t.Context(), c.path, InspectOptions{Shots: true}, nil)
		if c.fails != "" {
			require.ErrorContains(t, err, c.fails, c.name)
			continue
		}
		require.NoError(t, err, c.name)
		c.check(in)
		_, err = json.Marshal(in)
		require.NoError(t, err, c.name)
	}
}
