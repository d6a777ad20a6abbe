package media

import (
	"encoding/binary"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/look"
)

// The codes of a picture stay what they are, whatever format it is kept in and whatever it says of its range: a film whose luma
// runs over a known span is seen to run over it, in the few samples of each frame and in the whole one.
func TestTheCodesOfAPictureStay(t *testing.T) {
	needsFFmpeg(t)
	for _, c := range []struct{ format, coder, says string }{
		{"yuv420p", "libx264 -crf 4", "tv"}, {"yuv420p", "libx264 -crf 4", "pc"}, {"yuv420p", "libx264 -crf 4", ""},
		{"yuv422p", "ffv1", "tv"}, {"yuv422p", "ffv1", "pc"}, {"yuv444p", "libx264 -crf 4", "pc"},
		{"yuv420p10le", "libx265 -x265-params log-level=0:lossless=1", "tv"}, {"yuv420p10le", "libx265 -x265-params log-level=0:lossless=1", "pc"},
		{"yuv422p10le", "prores_ks", "tv"}, {"yuv422p10le", "ffv1", "pc"}, {"nv12", "rawvideo", "pc"}, {"yuyv422", "rawvideo", "tv"},
		{"yuvj422p", "mjpeg -q:v 1", "pc"}, {"yuvj420p", "mjpeg -q:v 1", "pc"}, {"gray", "ffv1", ""},
	} {
		for _, full := range []bool{false, true} {
			name := fmt.Sprintf("%s, %s, says %q, is full: %v", c.format, c.coder, c.says, full)
			dark, bright, times := 16, 235, 1
			if full {
				dark, bright = 1, 254
			}
			if strings.Contains(c.format, "10") {
				times = 4
			}
			// Bars that move, of which the darkest and the brightest are the ends of the span.
			args := []string{"-f", "lavfi", "-i", fmt.Sprintf("nullsrc=size=320x180:rate=10:duration=2,format=%s,geq=lum='%d*(%d+%d*mod(floor(X/40+N),8)/7)':cb=%d:cr=%d",
				strings.NewReplacer("nv12", "yuv420p", "yuyv422", "yuv422p", "yuvj", "yuv").Replace(c.format), times, dark, bright-dark, 128*times, 128*times),
				"-vf", "scale=in_range=full:out_range=full", "-pix_fmt", c.format, "-c:v"}
			args = append(args, strings.Fields(c.coder)...)
			if c.says != "" {
				args = append(args, "-color_range", c.says)
			}
			path := film(t, "span.mkv", args...)
			said, err := codedAs(t.Context(), path)
			require.NoError(t, err)
			lowest, highest := byte(255), byte(0)
			var first []byte
			l, err := lookAt(t.Context(), path, said, LookOptions{Seconds: 60, few: func(_ float64, few []byte) {
				lowest, highest = min(lowest, slices.Min(few)), max(highest, slices.Max(few))
				if first == nil {
					first = slices.Clone(few)
				}
			}}, nil)
			require.NoError(t, err, name)
			assert.InDelta(t, dark, lowest, 3, name)
			assert.InDelta(t, bright, highest, 3, name)
			require.NotNil(t, l.Video, name)
			f := look.Find(l.Video.Signs, look.IsRange)
			require.NotNil(t, f)
			assert.Equal(t, map[bool]look.Answer{true: look.Found, false: look.Clear}[full], f.Answer, "%s: %s %v", name, f.Says, f.Value)
		}
	}
}

// turnedFilm is a film with a mark by which it is turned when it is shown, in the matrix of its track [standard: ISO/IEC 14496-12, tkhd].
func turnedFilm(t *testing.T, degrees int) string {
	t.Helper()
	path := film(t, "turned.mp4", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=3,drawbox=x=0:y=0:w=32:h=ih:color=black:t=fill,drawbox=x=288:y=0:w=32:h=ih:color=black:t=fill",
		"-c:v", "libx264", "-crf", "18", "-pix_fmt", "yuv420p")
	raw, err := os.ReadFile(path)
	require.NoError(t, err)
	at := strings.Index(string(raw), "tkhd") + 4
	require.Zero(t, raw[at], "version 0")
	for i, v := range map[int][]int32{90: {0, 1, -1, 0}, 180: {-1, 0, 0, -1}, 270: {0, -1, 1, 0}}[degrees] {
		binary.BigEndian.PutUint32(raw[at+40+12*(i/2)+4*(i%2):], uint32(v<<16))
	}
	require.NoError(t, os.WriteFile(path, raw, 0o600))
	return path
}

// A clip that is turned when it is shown, as a phone's is, is looked at as it is shown; ffmpeg, which turns it too, has its size.
func TestATurnedClip(t *testing.T) {
	needsFFmpeg(t)
	for degrees, size := range map[int]string{90: "180x320", 180: "320x180", 270: "180x320"} {
		path := turnedFilm(t, degrees)
		in, err := Inspect(t.Context(), path, InspectOptions{}, nil)
		require.NoError(t, err)
		v := in.Arrived.Video
		assert.Equal(t, degrees, v.Turned)
		assert.Equal(t, size, fmt.Sprintf("%dx%d", v.Width, v.Height))
		border := look.Box{X: 32, W: 256, H: 180}
		if degrees != 180 {
			border = look.Box{Y: 32, W: 180, H: 256}
		}
		assert.Equal(t, border, in.Video.Active, "%d", degrees)
		assert.Equal(t, look.Found, look.Find(in.Video.Signs, look.IsBorder).Answer)

		png := film(t, "shown.png", "-i", path, "-frames:v", "1")
		out, err := exec.Command("ffprobe", "-v", "error", "-show_entries", "stream=width,height", "-of", "csv=p=0:s=x", png).Output()
		require.NoError(t, err)
		assert.Equal(t, size, strings.TrimSpace(string(out)))
	}
}

// Samples that are not square are told by a file, and by what a stream's decoder is set up with.
func TestSamplesThatAreNotSquare(t *testing.T) {
	needsFFmpeg(t)
	for _, c := range []struct {
		shape string
		shown [2]int
	}{{"4/3", [2]int{1920, 1080}}, {"1/1", [2]int{1440, 1080}}, {"16/11", [2]int{2095, 1080}}, {"7/5", [2]int{2016, 1080}}} {
		path := film(t, "shape.mp4", "-f", "lavfi", "-i", "testsrc2=size=1440x1080:rate=25:duration=1,setsar="+c.shape, "-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p")
		a := arrived(t, path, 0)
		w, h := a.Video.Shown()
		assert.Equal(t, c.shown, [2]int{w, h}, c.shape)
		want := strings.Replace(c.shape, "/", ":", 1)
		if want == "1:1" {
			want = ""
		}
		assert.Equal(t, want, a.Video.Shape)
		raw := film(t, "shape.h264", "-i", path, "-c", "copy", "-bsf:v", "h264_mp4toannexb,filter_units=pass_types=7")
		sps, err := os.ReadFile(raw)
		require.NoError(t, err)
		v, ok := VideoOf(sps[4:])
		require.True(t, ok)
		assert.Equal(t, want, v.Shape)
	}
}

// A sound that ends, begins late or has a hole, a picture that ends, and recordings that were joined, as ffmpeg makes them; the
// times are those ffprobe prints of the first and last packets.
func TestWhatIsNotThereAllAlong(t *testing.T) {
	needsFFmpeg(t)
	picture := func(seconds string) []string {
		return []string{"-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=" + seconds}
	}
	sound := func(more string) []string {
		return []string{"-f", "lavfi", "-i", "anoisesrc=amplitude=0.1:sample_rate=48000:" + more}
	}
	coded := []string{"-c:v", "libx264", "-preset", "ultrafast", "-c:a", "aac"}
	joined := func(t *testing.T) string {
		one := film(t, "one.ts", slices.Concat(picture("4"), sound("duration=4"), coded)...)
		raw, err := os.ReadFile(one)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(one, slices.Concat(raw, raw, raw), 0o600))
		return one
	}
	for name, c := range map[string]struct {
		path string
		gaps []inspect.Gap
		anew []float64
	}{
		"whole":           {film(t, "a.mp4", slices.Concat(picture("6"), sound("duration=6"), coded)...), nil, nil},
		"whole, in FLV":   {film(t, "a.flv", slices.Concat(picture("6"), sound("duration=6"), coded)...), nil, nil},
		"whole, as PCM":   {film(t, "a.mov", slices.Concat(picture("6"), sound("duration=6"), []string{"-c:v", "mjpeg", "-c:a", "pcm_s16le"})...), nil, nil},
		"whole, in AVI":   {film(t, "a.avi", slices.Concat(picture("6"), sound("duration=6"), []string{"-c:v", "mjpeg", "-c:a", "pcm_s16le"})...), nil, nil},
		"sound ends":      {film(t, "b.mkv", slices.Concat(picture("8"), sound("duration=3"), coded)...), []inspect.Gap{{Of: "sound", From: 3, To: 8}}, nil},
		"picture ends":    {film(t, "c.mp4", slices.Concat(picture("3"), sound("duration=8"), coded)...), []inspect.Gap{{Of: "picture", From: 3, To: 8}}, nil},
		"sound is late":   {film(t, "d.mkv", slices.Concat(picture("8"), []string{"-itsoffset", "3"}, sound("duration=5"), coded)...), []inspect.Gap{{Of: "sound", To: 3}}, nil},
		"a hole":          {film(t, "e.mkv", slices.Concat(picture("8"), sound("duration=8,aselect='not(between(t,3,4.5))'"), coded)...), []inspect.Gap{{Of: "sound", From: 3, To: 4.5}}, nil},
		"joined":          {joined(t), nil, []float64{4, 8}},
		"a picture alone": {film(t, "f.mp4", slices.Concat(picture("3"), coded)...), nil, nil},
	} {
		came := arrived(t, c.path, 0).Came
		require.Len(t, came.Gaps, len(c.gaps), "%s: %+v", name, came.Gaps)
		for i, g := range c.gaps {
			assert.Equal(t, g.Of, came.Gaps[i].Of, name)
			assert.InDelta(t, g.From, came.Gaps[i].From, 0.1, name)
			assert.InDelta(t, g.To, came.Gaps[i].To, 0.1, name)
		}
		require.Len(t, came.Anew, len(c.anew), name)
		for i, at := range c.anew {
			assert.InDelta(t, at, came.Anew[i], 0.1, name)
		}
		require.NotNil(t, came.Pace, name)
		assert.InDelta(t, 25, came.Pace.Hz, 0.01, name)
		assert.Less(t, came.Uneven, 0.02, name)
	}
}

// What is heard after a hole, or of a sound that begins late, is told at the time it is in the picture.
func TestSoundIsTimedByThePicture(t *testing.T) {
	needsFFmpeg(t)
	const claps = "aevalsrc=if(lt(mod(t-2\\,1.5)\\,0.05)*between(t\\,2\\,9)\\,(2*random(0)-1)*exp(-60*mod(t-2\\,1.5))\\,0.001*(2*random(1)-1)):s=48000:d=10"
	loud := "aevalsrc=if(between(t\\,6\\,6.3)\\,sgn(sin(3000*t))\\,0.1*sin(3000*t)):s=48000:d=10"
	film := func(late string, sound string) *Inspected {
		path := film(t, "timed.mkv", "-f", "lavfi", "-i", "testsrc2=size=192x108:rate=25:duration=12", "-itsoffset", late, "-f", "lavfi", "-i", sound, "-c:v", "libx264", "-g", "50", "-c:a", "pcm_s16le")
		in, err := Inspect(t.Context(), path, InspectOptions{Times: true}, nil)
		require.NoError(t, err)
		return in
	}
	for name, c := range map[string]struct {
		late, hole string
		by         float64
	}{"as it is": {"0", "", 0}, "after holes": {"0", ",aselect='not(between(t,2.6,3.1)+between(t,5.6,6.2))'", 0}, "late": {"1.6", "", 1.6}} {
		in := film(c.late, claps+c.hole)
		require.Len(t, in.Times.Claps, 5, name)
		for i, clap := range in.Times.Claps {
			assert.InDelta(t, 2+1.5*float64(i)+c.by, clap.At, 0.03, name)
		}
		in = film(c.late, loud+c.hole)
		spans := look.Find(in.Audio.Signs, look.IsClipped).Spans
		require.NotEmpty(t, spans, name)
		at := 6 + c.by
		if c.hole != "" {
			at = 6.2 // what was in the hole is gone
		}
		assert.InDelta(t, at, spans[0].From, 0.15, name)
		assert.InDelta(t, c.by, in.Audio.From, 0.06, name)
	}
}
