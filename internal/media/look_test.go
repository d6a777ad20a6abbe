package media

import (
	"context"
	"errors"
	"flag"
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

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/inspect"
	"eventether/core/look"
)

// clip is one made film with what is known of it: what has to be found, and what must not be.
type clip struct {
	name  string
	seed  int
	args  []string // of ffmpeg, between its inputs and the file
	ext   string
	found []look.Name
	rate  string // the rate it is delivered at, and the one that looks in it
	inner string
}

var (
	allClips   = flag.Int("clips", 0, "how many made clips to look at; half of every kind was tuned on")
	firstClips = flag.Int("firstclip", 92, "seed of the first of them")
)

// sizeOfClips is small in make test, and larger where many are looked at.
var sizeOfClips = "320x180"

// drawn draws what a clip is made with, from its seed.
type drawn struct{ *rand.Rand }

func (d drawn) one(of ...string) string { return of[d.IntN(len(of))] }

func (d drawn) in(from, to float64) float64 {
	return math.Round(1000*(from+(to-from)*d.Float64())) / 1000
}

// scene is a moving picture of their own kinds: drawn, of fine lines, like a wall that is panned over.
func (d drawn) scene(rate string, seconds float64) string {
	t := strconv.FormatFloat(seconds, 'f', 3, 64)
	switch d.IntN(3) {
	case 0:
		return "mandelbrot=size=" + sizeOfClips + ":rate=" + rate + fmt.Sprintf(":start_scale=%g:end_scale=0.3:end_pts=300,trim=duration=", d.in(2.2, 3)) + t
	case 1:
		return "testsrc2=size=" + sizeOfClips + ":rate=" + rate + ":duration=" + t
	}
	return "nullsrc=size=" + sizeOfClips + ":rate=" + rate + fmt.Sprintf(":duration=0.02,geq=lum='128+70*sin(X/%g+Y/37)*cos(Y/29-X/%g)+18*sin(X/7)':cb=128:cr=128,",
		d.in(15, 25), d.in(35, 50)) + "loop=loop=-1:size=1,trim=duration=" + t + ",setpts=N/(" + rate + ")/TB,scroll=" + fmt.Sprintf("h=%g:v=%g", d.in(0.008, 0.014), d.in(0.004, 0.008))
}

// kinds is how many kinds of clips there are.
const kinds = 23

// panned is a camera that is moved over something with structure, steadily or by hand.
func (d drawn) panned(rate string, seconds float64) string {
	r := rateOf(rate)
	speed := []string{fmt.Sprintf("h=%f", d.in(0.4, 0.6)/r), fmt.Sprintf("v=%f", d.in(0.4, 0.6)/r), // of the picture each frame: whole pixels, for a repeat is one otherwise
		fmt.Sprintf("h=%f:v=%f", d.in(0.3, 0.5)/r, d.in(0.2, 0.3)/r)}[d.IntN(3)]
	return "nullsrc=size=" + sizeOfClips + ":rate=" + rate + ":duration=0.02,geq=lum='255*random(1)':cb=128:cr=128," +
		fmt.Sprintf("gblur=sigma=%g,eq=contrast=%g", d.in(1.2, 5), d.in(2, 6)) +
		",limiter=min=28:max=222:planes=1,loop=loop=-1:size=1,trim=duration=" +
		strconv.FormatFloat(seconds, 'f', 3, 64) + ",setpts=N/(" + rate + ")/TB,scroll=" + speed
}

// clips are so many of them, of every kind in turn.
func clips(first, n int) []clip {
	var out []clip
	rates := []string{"24000/1001", "24", "25", "30000/1001", "30", "50", "60000/1001", "60"}
	names := map[string]string{"24000/1001": "23.976", "30000/1001": "29.97", "60000/1001": "59.94"}
	name := func(r string) string {
		if s, ok := names[r]; ok {
			return s
		}
		return r
	}
	for seed := first; seed < first+n; seed++ {
		kind, d := seed%kinds, drawn{rand.New(rand.NewPCG(uint64(seed), 27))}
		rate := d.one(rates...)
		c := clip{seed: seed, rate: name(rate), ext: "mkv"}
		noise := ""
		if n := d.IntN(10); n > 0 {
			noise = fmt.Sprintf(",noise=alls=%d:allf=t", n)
		}
		video := d.scene(rate, 6) + noise // what a camera adds; what follows is the device
		sound := "anoisesrc=color=" + d.one("pink", "brown", "pink") + ":amplitude=" + fmt.Sprint(d.in(0.12, 0.3)) + ":duration=6:seed=" + strconv.Itoa(seed) +
			",volume='if(lt(mod(t,2.2),1.1),1,0.02)':eval=frame,aformat=channel_layouts=mono,asplit[a][b];[b]adelay=" + strconv.Itoa(4+d.IntN(12)) + "[c];[a][c]join=inputs=2:channel_layout=stereo"
		coded := []string{"-c:v", "libx264", "-preset", "veryfast", "-crf", strconv.Itoa(16 + d.IntN(8))}
		motion := d.IntN(2) == 1
		if motion {
			coded = []string{"-c:v", "mjpeg", "-q:v", strconv.Itoa(2 + d.IntN(4))}
		}
		switch kind {
		case 0:
			c.name = "plain"
		case 1: // slower pictures in a faster stream
			k := d.IntN(6)
			inner := []string{"25", "24000/1001", "15", "30000/1001", "24", "30"}[k]
			rate = []string{"30", "30000/1001", "30", "60000/1001", "30", "60"}[k]
			c.name, c.rate, c.inner = "repeats", name(rate), name(inner)
			video = d.scene(inner, 6) + noise + ",fps=" + rate
			c.found = []look.Name{look.IsRepeats}
		case 2:
			c.name, c.found = "frozen", []look.Name{look.IsFrozen}
			video += ",loop=loop=" + strconv.Itoa(int(d.in(2.3, 3.4)*rateOf(rate))) + ":size=1:start=" +
				strconv.Itoa(int(d.in(1, 3)*rateOf(rate)))
		case 3:
			c.name, c.found = "black", []look.Name{look.IsBlack}
			from := d.in(1, 3)
			video += fmt.Sprintf(",drawbox=t=fill:c=black:enable='between(t,%g,%g)'", from, from+d.in(0.7, 2.2))
		case 4:
			c.name, c.found = "border", []look.Name{look.IsBorder}
			x, y := 2*(6+d.IntN(20)), 2*(6+d.IntN(14))
			pad := []string{fmt.Sprintf("pad=iw:ih+%d:0:%d", 2*y, y), fmt.Sprintf("pad=iw+%d:ih:%d:0", 2*x, x), fmt.Sprintf("pad=iw+%d:ih+%d:%d:%d", 2*x, 2*y, x, y)}[d.IntN(3)]
			video += "," + pad + ":black"
		case 5:
			c.name, c.found = "combed", []look.Name{look.IsCombing}
			k := d.IntN(3)
			double := []string{"50", "60000/1001", "60"}[k]
			c.rate = []string{"25", "29.97", "30"}[k]
			video = d.scene(double, 6) + noise + ",tinterlace=interleave_top"
		case 6:
			c.name, c.found = "full range", []look.Name{look.IsRange}
			video += fmt.Sprintf(",eq=contrast=%g", d.in(1.5, 2)) + ",scale=in_range=tv:out_range=pc"
		case 7:
			hz := d.in(0.7, 5.5)
			c.name, c.found = "flicker", []look.Name{look.IsFlicker}
			video += fmt.Sprintf(",eq=brightness='%.3f*sin(2*PI*%g*t)':eval=frame",
				d.in(0.03, 0.09), hz)
		case 8:
			c.name, c.found = "hum", []look.Name{look.IsHum}
			base, loud := []int{50, 60}[d.IntN(2)], d.in(0.8, 3)
			sound += fmt.Sprintf("[s];aevalsrc='%[2]g*(0.006*sin(2*PI*%[1]d*t)+0.004*sin(4*PI*%[1]d*t)+0.003*sin(6*PI*%[1]d*t))|%[2]g*0.006*sin(2*PI*%[1]d*t)':d=6[h];[s][h]amix=inputs=2:normalize=0",
				base, loud)
		case 9:
			c.name, c.found = "clipped", []look.Name{look.IsClipped}
			sound += fmt.Sprintf(",volume=%g", d.in(9, 14)) + ",aformat=sample_fmts=s16"
		case 10:
			c.name, c.found = "one-sided", []look.Name{look.IsOneSided}
			sound += fmt.Sprintf(",pan=stereo|c0=c0|c1=%g*c1", d.in(0, 0.03))
		case 11:
			c.name, c.found = "inverted", []look.Name{look.IsInverted}
			sound += fmt.Sprintf(",pan=stereo|c0=c0|c1=-%g*c0", d.in(0.7, 1))
		case 12:
			c.name, c.found = "level control", []look.Name{look.IsPumping}
			sound = "anoisesrc=color=pink:amplitude=0.3:duration=12:seed=" + strconv.Itoa(seed) +
				",volume='if(lt(mod(t,4),1.5),1,0.004+0.03*(mod(t,4)-1.5)/2.5)':eval=frame,aformat=channel_layouts=stereo"
			video = d.scene(rate, 12)
		case 13:
			c.name, c.found = "silent", []look.Name{look.IsSilent}
			sound = "anullsrc=channel_layout=stereo:sample_rate=48000,atrim=duration=6"
		}
		if kind >= 14 && kind <= 18 {
			video = d.panned(rate, 6)
			c.found = []look.Name{look.IsOverlay}
			colour := d.one("white", "white@0.8", "black", "0xE0E0E0")
			where := [2]string{fmt.Sprintf("iw*%g", d.in(0.04, 0.8)), fmt.Sprintf("ih*%g", []float64{d.in(0.05, 0.14), d.in(0.8, 0.88)}[d.IntN(2)])}
			box := func(dx, dy, w, h float64, more string) {
				video += fmt.Sprintf(",drawbox=x=%s+iw*%g:y=%s+ih*%g:w=iw*%g:h=ih*%g:c=%s:t=%s", where[0], dx, where[1], dy,
					w, h, colour, more)
			}
			switch kind {
			case 14:
				c.name = "panned, letters"
				for i := range 5 {
					box(0.025*float64(i), 0, 0.008, 0.06, "fill")
					box(0.025*float64(i), 0.025*float64(i%3), 0.017, 0.012, "fill")
				}
			case 15:
				c.name = "panned, frame line"
				video += fmt.Sprintf(",drawbox=x=iw*0.1:y=ih*0.1:w=iw*0.8:h=ih*0.8:c=%s:t=2", colour)
			case 16:
				c.name = "panned, clock"
				for i := range 4 {
					for k := range 7 { // a digit of bars, which change every second
						x, y := 0.03*float64(i)+0.016*float64(k%2), 0.03*float64(k/3)
						w, h := 0.016, 0.012
						if k%2 == 1 {
							w, h = 0.005, 0.035
						}
						on := fmt.Sprintf("fill:enable='gt(mod(floor(t*%g)*%d+%d,5),1)'", []float64{1, 0.25, 0.1, 0.01}[3-i], k+3,
							k*i)
						box(x, y, w, h, on)
					}
				}
			case 17:
				c.name = "panned, battery in the corner"
				box(0, 0, 0.04, 0.035, "2")
				box(0, 0.008, 0.025, 0.02, "fill")
			case 18:
				c.name, c.found = "panned, clean", nil
			}
			video += noise
		}
		if kind == 19 {
			c.name, c.found = "asleep", []look.Name{look.IsAsleep, look.IsBlack}
			video = d.scene(rate, 28) + noise + ",drawbox=t=fill:c=black:enable='gte(t,24)'"
			if d.IntN(2) == 1 {
				c.found[1] = look.IsFrozen
				video = d.scene(rate, 24) + noise + ",tpad=stop_mode=clone:stop_duration=4"
			}
			sound = strings.Replace(sound, "duration=6", "duration=28", 1)
		}
		switch kind {
		case 20:
			c.name, c.found = "echo", []look.Name{look.IsEcho}
			sound = strings.Replace(sound, "duration=6", "duration=14", 1) + fmt.Sprintf(",aecho=1:1:%d:%g",
				50+d.IntN(250), d.in(0.28, 0.6))
			video = d.scene(rate, 14) + noise
		case 21:
			c.name, c.found = "hunting focus", []look.Name{look.IsFocus}
			swing := d.in(0.3, 0.75)
			video = fmt.Sprintf("testsrc2=size=%s:rate=%s:duration=12,loop=loop=-1:size=1,trim=duration=12,setpts=N/(%s)/TB,%s"+
				",split[sh][so];[so]gblur=sigma=%g[bl];[sh][bl]blend=all_expr='A*(0.5+0.5*cos(2*PI*T*%g))+B*(0.5-0.5*cos(2*PI*T*%g))'",
				sizeOfClips, rate, rate, "drawgrid=w=20:h=20:c=gray", d.in(3, 8), swing, swing) + noise
			sound = strings.Replace(sound, "duration=6", "duration=12", 1)
		case 22:
			c.name, c.found = "leaning", []look.Name{look.IsLevel}
			angle := d.in(1.6, 5.5) * []float64{1, -1}[d.IntN(2)]
			video = fmt.Sprintf("testsrc2=size=%s:rate=%s:duration=6,drawgrid=w=60:h=50:t=3:c=black,rotate=%g*PI/180:c=gray,crop=iw*0.86:ih*0.86,scale=%s,limiter=min=20:max=230:planes=1",
				sizeOfClips, rate, angle, sizeOfClips) + noise
		}
		post := ",format=yuv420p"
		if kind == 6 {
			post = ",format=yuvj420p"
			if !motion {
				coded = append(coded, "-color_range", "pc")
			}
		} else if motion {
			coded = append(coded, "-strict", "unofficial", "-color_range", "tv")
		}
		c.args = slices.Concat([]string{"-filter_complex", video + post + "[v];" + sound + "[snd]", "-map", "[v]",
			"-map", "[snd]"},
			coded, []string{"-c:a", "pcm_s16le", "-ar", "48000", "-shortest"})
		out = append(out, c)
	}
	return out
}

func rateOf(r string) float64 {
	a, b, ok := strings.Cut(r, "/")
	x, _ := strconv.ParseFloat(a, 64)
	if y, err := strconv.ParseFloat(b, 64); ok && err == nil {
		return x / y
	}
	return x
}

func needsFFmpeg(t *testing.T) {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
}

func made(t *testing.T, folder string, c clip) string {
	path := filepath.Join(folder, fmt.Sprintf("%03d.%s", c.seed, c.ext))
	if _, err := os.Stat(path); err == nil {
		return path
	}
	out, err := exec.Command("ffmpeg", append(append([]string{"-v", "error", "-y"}, c.args...), path)...).
		CombinedOutput()
	require.NoError(t, err, "%s: %s\n%s", c.name, out, strings.Join(c.args, " "))
	return path
}

// always are things any made clip may have without being asked: a drawn picture repeats nothing, but may be bright, and
// noise on both sides is alike or not. What stays put is judged of panned clips: a drawn test card has parts that do, and a
// zoom has a middle.
var never = map[look.Name]bool{look.IsRate: true, look.IsExposure: true, look.IsEqual: true, look.IsOffset: true}

// Made clips of every kind are looked at: what was put into them is found, and nothing else is.
func TestLooking(t *testing.T) {
	needsFFmpeg(t)
	n := *allClips
	if n == 0 {
		n = kinds
	}
	folder := t.TempDir()
	if *allClips > 0 {
		sizeOfClips = "480x270"
		folder = filepath.Join(os.TempDir(), "looked-clips")
		require.NoError(t, os.MkdirAll(folder, 0o755))
	}
	type tally struct{ hits, misses, open, false, quiet int }
	var halves [2]tally
	for _, c := range clips(*firstClips, n) {
		l, err := Look(context.Background(), made(t, folder, c), LookOptions{}, nil)
		require.NoError(t, err, c.name)
		h := &halves[(c.seed/kinds+c.seed%kinds)%2] // every kind in both
		bad := func(format string, args ...any) {
			text := fmt.Sprintf("%d %s: ", c.seed, c.name) + fmt.Sprintf(format, args...)
			if *allClips == 0 {
				t.Error(text)
			} else {
				t.Log(text)
			}
		}
		all := l.Video.Signs
		if l.Audio != nil {
			all = append(all, l.Audio.Signs...)
		}
		for _, name := range c.found {
			switch f := look.Find(all, name); f.Answer {
			case look.Found:
				h.hits++
			case look.CannotTell:
				h.open++
				bad("%s: cannot tell: %s %v", name, f.Says, f.Value)
			default:
				h.misses++
				bad("%s is missed: %s %v", name, f.Says, f.Value)
			}
		}
		for _, f := range all {
			if never[f.What] || f.What == look.IsOverlay && !strings.HasPrefix(c.name, "panned") || slices.Contains(c.found, f.What) || c.name == "silent" && f.What != look.IsSilent &&
				f.What < "s" {
				continue
			}
			if f.Answer == look.Found {
				h.false++
				bad("%s is not there: %s", f.What, f.Says)
			} else {
				h.quiet++
			}
		}
		if l.Video.Pace == nil || l.Video.Pace.Name != c.rate {
			h.misses++
			bad("rate: want %s, have %+v", c.rate, l.Video.Pace)
		} else {
			h.hits++
		}
		if c.inner != "" && (l.Video.Cadence == nil || l.Video.Cadence.Name != c.inner) {
			h.misses++
			bad("inner rate: want %s, have %+v", c.inner, l.Video.Cadence)
		}
	}
	for i, which := range []string{"tuned on", "unseen"} {
		t.Logf("%s: %d found, %d missed, %d cannot tell, %d false alarms of %d", which, halves[i].hits,
			halves[i].misses, halves[i].open,
			halves[i].false, halves[i].quiet+halves[i].false)
	}
}

var (
	integrated = regexp.MustCompile(`I:\s+(-?[0-9.]+) LUFS`)
	span       = regexp.MustCompile(`LRA:\s+(-?[0-9.]+) LU`)
	truePeak   = regexp.MustCompile(`Peak:\s+(-?[0-9.]+) dBFS`)
)

// Loudness, range and true peak against another program's meter of the same standard: within 0.1 LU and 0.2 dB.
func TestLoudnessAgainstAnother(t *testing.T) {
	needsFFmpeg(t)
	for i, source := range []string{
		"sine=frequency=997:duration=12,volume=4",
		"anoisesrc=color=pink:amplitude=0.4:duration=20:seed=3,volume='if(lt(mod(t,5),2.5),1,0.1)':eval=frame",
		"aevalsrc='0.8*sin(2*PI*11990*t)|0.5*sin(2*PI*15000*t+1)':s=48000:d=8,afade=d=0.1,afade=t=out:st=7.9:d=0.1",
		"anoisesrc=color=brown:amplitude=0.5:duration=30:seed=9,tremolo=f=0.2:d=0.9",
		"aevalsrc='0.7*sin(2*PI*440*t)*lt(mod(t,3),1.5)|0.3*sin(2*PI*700*t)':s=44100:d=15",
	} {
		path := filepath.Join(t.TempDir(), "a.wav")
		out, err := exec.Command("ffmpeg", "-v", "error", "-y", "-f", "lavfi", "-i", source, "-c:a", "pcm_f32le",
			path).CombinedOutput()
		require.NoError(t, err, string(out))
		l, err := Look(context.Background(), path, LookOptions{}, nil)
		require.NoError(t, err)
		said, err := exec.Command("ffmpeg", "-nostats", "-i", path, "-af", "ebur128=peak=true", "-f", "null",
			"-").CombinedOutput()
		require.NoError(t, err)
		number := func(r *regexp.Regexp) float64 {
			all := r.FindAllSubmatch(said, -1)
			require.NotEmpty(t, all, string(said))
			v, err := strconv.ParseFloat(string(all[len(all)-1][1]), 64)
			require.NoError(t, err)
			return v
		}
		assert.InDelta(t, number(integrated), l.Audio.LUFS, 0.11, "%d: loudness", i)
		assert.InDelta(t, number(truePeak), l.Audio.TruePeak, 0.21, "%d: true peak", i)
		assert.InDelta(t, number(span), l.Audio.Range, 0.21, "%d: range", i)
	}
}

// What is no recording is said to be none, and why; nothing hangs.
func TestLookingAtWhatIsNone(t *testing.T) {
	needsFFmpeg(t)
	folder := t.TempDir()
	write := func(name, text string) string {
		path := filepath.Join(folder, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
		return path
	}
	for name, path := range map[string]string{
		"no such file": filepath.Join(folder, "none.mp4"),
		"empty":        write("empty.mp4", ""),
		"text":         write("text.mp4", strings.Repeat("no film\n", 500)),
		"a playlist":   write("list.m3u8", "#EXTM3U\n#EXTINF:10,\n/etc/passwd\n"),
		"a list":       write("list.txt", "ffconcat version 1.0\nfile '/etc/passwd'\n"),
		"a folder":     folder,
	} {
		l, err := Look(context.Background(), path, LookOptions{}, nil)
		require.Error(t, err, name)
		require.Nil(t, l, name)
		require.NotContains(t, err.Error(), "root:", name)
	}
	c := clips(0, 1)[0]
	whole := made(t, folder, c)
	ctx, cancel := context.WithCancel(context.Background())
	_, err := Look(ctx, whole, LookOptions{}, func(done, _ float64) { cancel() })
	require.ErrorIs(t, err, context.Canceled)
	raw, err := os.ReadFile(whole)
	require.NoError(t, err)
	cut := write("cut.mkv", string(raw[:len(raw)/2]))
	l, err := Look(context.Background(), cut, LookOptions{}, nil)
	require.NoError(t, err)
	require.Less(t, l.Video.Seconds, 5.0, "what is there was looked at")
	require.False(t, math.IsNaN(l.Audio.LUFS))
	short, err := Look(context.Background(), whole, LookOptions{Seconds: 2}, nil)
	require.NoError(t, err)
	require.InDelta(t, 2, short.Seconds, 0.2)
	require.NotEmpty(t, short.Cut)
	require.False(t, errors.Is(err, context.Canceled))
}

// A child with one output only tells the same of a clip as one with two.
func TestWholeFramesTellTheSame(t *testing.T) {
	needsFFmpeg(t)
	folder := t.TempDir()
	for _, c := range []clip{clips(0, 5)[4], clips(15, 1)[0]} { // a border; a frame line, panned
		path := made(t, folder, c)
		of, err := codedAs(t.Context(), path)
		require.NoError(t, err)
		require.NoError(t, of.packets(t.Context(), path, lookedSeconds, inspect.NewTraffic(0)))
		var few, whole Looked
		require.NoError(t, few.see(t.Context(), path, LookOptions{Seconds: 600}, of, func(float64) {}))
		require.NoError(t, whole.seeWhole(t.Context(), path, LookOptions{Seconds: 600}, of, func(float64) {}))
		require.Equal(t, whole.Video.Pace, few.Video.Pace)
		require.Equal(t, whole.Video.Active, few.Video.Active)
		for i, s := range whole.Video.Signs {
			require.Equal(t, s.Answer, few.Video.Signs[i].Answer, "%s: %s: %s", c.name, s.What, s.Says)
		}
	}
}
