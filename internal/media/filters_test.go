package media

import (
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/look"
)

// filtered is what a filter of ffmpeg says of a film.
func filtered(t *testing.T, path string, args ...string) string {
	t.Helper()
	out, err := exec.Command("ffmpeg", append(append([]string{"-v", "info", "-nostdin", "-i", path}, args...), "-f", "null", "-")...).CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

// numbers are the numbers behind a name in a text.
func numbers(t *testing.T, text, name string) (out []float64) {
	t.Helper()
	for _, m := range regexp.MustCompile(regexp.QuoteMeta(name)+`\s*([-0-9.]+)`).FindAllStringSubmatch(text, -1) {
		v, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		out = append(out, v)
	}
	return out
}

// What is found is what ffmpeg's own filters find: blackdetect, freezedetect, cropdetect, idet, mpdecimate, astats.
func TestAgainstFilters(t *testing.T) {
	const wall = "nullsrc=size=320x180:rate=25:duration=0.02,geq=lum='128+70*sin(X/19+Y/37)*cos(Y/29-X/41)+18*sin(X/7)':cb=128:cr=128,loop=loop=-1:size=1,trim=duration=8,setpts=N/25/TB,scroll=h=0.011:v=0.006"
	looked := func(path string) *Looked {
		l, err := Look(t.Context(), path, LookOptions{}, nil)
		require.NoError(t, err)
		return l
	}
	found := func(l *Looked, name look.Name) *look.Sign {
		f := look.Find(l.Video.Signs, name)
		require.Equal(t, look.Found, f.Answer, f.Says)
		return f
	}

	path := film(t, "black.mkv", "-f", "lavfi", "-i", wall+",drawbox=t=fill:c=black:enable='between(t,2,3.6)+between(t,5,6.2)'")
	f, text := found(looked(path), look.IsBlack), filtered(t, path, "-vf", "blackdetect=d=0.5")
	starts, ends := numbers(t, text, "black_start:"), numbers(t, text, "black_end:")
	require.Len(t, starts, 2)
	require.Len(t, f.Spans, 2)
	for i, s := range f.Spans {
		assert.InDelta(t, starts[i], s.From, 0.05)
		assert.InDelta(t, ends[i], s.To, 0.05)
	}

	path = film(t, "frozen.mkv", "-f", "lavfi", "-i", wall+",loop=loop=75:size=1:start=60")
	f, text = found(looked(path), look.IsFrozen), filtered(t, path, "-vf", "freezedetect=n=0.002:d=2")
	starts = numbers(t, text, "freeze_start:")
	require.Len(t, starts, 1)
	assert.InDelta(t, starts[0], f.Spans[0].From, 0.1)
	assert.InDelta(t, numbers(t, text, "freeze_duration:")[0], f.Spans[0].To-f.Spans[0].From, 0.15)

	path = film(t, "border.mkv", "-f", "lavfi", "-i", wall+",pad=iw+64:ih+40:32:20:black")
	l := looked(path)
	found(l, look.IsBorder)
	crops := regexp.MustCompile(`crop=(\d+):(\d+):(\d+):(\d+)`).FindAllStringSubmatch(filtered(t, path, "-vf", "cropdetect=round=2"), -1)
	require.NotEmpty(t, crops)
	crop := crops[len(crops)-1]
	for i, is := range []int{l.Video.Active.W, l.Video.Active.H, l.Video.Active.X, l.Video.Active.Y} {
		want, err := strconv.Atoi(crop[i+1])
		require.NoError(t, err)
		assert.InDelta(t, want, is, 2, crop[0])
	}

	combed := film(t, "combed.mkv", "-f", "lavfi", "-i", strings.ReplaceAll(strings.ReplaceAll(wall, "rate=25", "rate=50"), "N/25", "N/50")+",tinterlace=interleave_top", "-c:v", "ffv1")
	plain := film(t, "plain.mkv", "-f", "lavfi", "-i", wall, "-c:v", "ffv1")
	for path, answer := range map[string]look.Answer{combed: look.Found, plain: look.Clear} {
		text = filtered(t, path, "-vf", "idet")
		line := text[strings.LastIndex(text, "Multi frame detection"):]
		fields := numbers(t, line, "TFF:")[0] + numbers(t, line, "BFF:")[0]
		progressive := numbers(t, line, "Progressive:")[0]
		assert.Equal(t, fields > progressive, answer == look.Found, line)
		assert.Equal(t, answer, look.Find(looked(path).Video.Signs, look.IsCombing).Answer)
	}

	path = film(t, "repeats.mkv", "-f", "lavfi", "-i", wall+",fps=30", "-c:v", "ffv1")
	l = looked(path)
	found(l, look.IsRepeats)
	out, err := exec.Command("ffmpeg", "-v", "error", "-nostdin", "-i", path, "-vf", "mpdecimate=hi=64:lo=32:frac=0.01", "-fps_mode", "passthrough", "-f", "framemd5", "-").Output()
	require.NoError(t, err)
	kept := 0
	for line := range strings.Lines(string(out)) {
		if !strings.HasPrefix(line, "#") {
			kept++
		}
	}
	assert.InDelta(t, l.Video.Pace.Frames-kept, l.Video.Cadence.Repeats, 2)

	path = film(t, "sound.wav", "-f", "lavfi", "-i", "anoisesrc=color=pink:amplitude=0.4:duration=6:seed=4,volume='if(lt(mod(t,2),1),1,0.02)':eval=frame", "-ac", "1")
	text = filtered(t, path, "-af", "astats=measure_perchannel=none")
	heard := looked(path).Audio
	assert.InDelta(t, numbers(t, text, "Peak level dB:")[0], heard.PeakDB, 0.1)
	assert.InDelta(t, numbers(t, text, "RMS level dB:")[0], heard.RMSDB, 0.1)
}
