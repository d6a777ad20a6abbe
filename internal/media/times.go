package media

import (
	"bytes"
	"context"
	"io"
	"math"
	"os/exec"
	"strconv"

	"eventether/core/inspect"
	"eventether/core/look"
	"eventether/internal/system"
)

// Times are what a clip tells of time: a filmed slate, claps, and one sound against another.
type Times struct {
	Slate   *inspect.Slate   `json:"slate,omitempty"`
	Claps   []Clap           `json:"claps"`
	Against *inspect.Against `json:"against,omitempty"`
	Of      string           `json:"of,omitempty" enum:"track,file" doc:"What the first sound was held against: the second track, or another file"`
}

// Clap is a clap that is heard, with the frames around it: in one of them hands meet.
type Clap struct {
	At     float64 `json:"at" doc:"When it is heard, seconds from the first frame"`
	Frames []Shot  `json:"frames"`
}

// Of time: how much is listened to, how finely light is kept, and for how long.
const (
	soundRate    = look.ClapRate
	soundSeconds = 1200
	lightSeconds = 180
	lightAcross  = 16
	lightDown    = 9
	clapFrames   = 9
)

// lights keeps how bright parts of a picture are, of few samples of each frame.
type lights struct {
	of  *[256]float32 // the light of a code
	all []inspect.Light
}

// The light of a code, white at 1: the inverse of the curve of BT.709 [standard: ITU-R BT.709], in either range.
var limitedLight, fullLight = lightOf(16, 219), lightOf(0, 255)

func lightOf(black, swing float64) (out [256]float32) {
	for c := range out {
		v := min(1, max(0, (float64(c)-black)/swing))
		if v < 0.081 {
			v /= 4.5
		} else {
			v = math.Pow((v+0.099)/1.099, 1/0.45)
		}
		out[c] = float32(v)
	}
	return out
}

// add takes the samples of a frame.
func (l *lights) add(at float64, few []byte) {
	if at > lightSeconds {
		return
	}
	cells := make([]float32, lightAcross*lightDown)
	const wide, tall = look.SampledWidth / lightAcross, look.SampledHeight / lightDown
	for y := range look.SampledHeight {
		for x := range look.SampledWidth {
			cells[min(y/tall, lightDown-1)*lightAcross+x/wide] += l.of[few[y*look.SampledWidth+x]]
		}
	}
	for i := range cells {
		cells[i] /= wide * tall
	}
	l.all = append(l.all, inspect.Light{At: at, Cells: cells})
}

// oneChannel are ffmpeg's arguments for a sound as one channel, at soundRate.
func oneChannel(stream string) []string {
	return []string{"-map", stream, "-vn", "-sn", "-dn", "-ac", "1", "-ar", strconv.Itoa(soundRate), "-f", "f32le"}
}

// oneChannel are the arguments for the first sound.
func (s *said) oneChannel() []string {
	args := oneChannel(s.stream(s.audio))
	if s.holes {
		args = append(args, "-af", asTimed)
	}
	return args
}

// soundOf is one sound track of a file as one channel, by such arguments.
func soundOf(ctx context.Context, path string, args []string) (out []float32, err error) {
	err = decode(ctx, path, soundSeconds, append(args, "pipe:1"), nil, func(r io.Reader) (err error) {
		out, err = floats(r)
		return err
	})
	return out, err
}

// floats are the samples that come of one channel, soundSeconds of them: what comes after is read and left.
func floats(r io.Reader) (out []float32, err error) {
	buf := make([]byte, 64<<10)
	for {
		n, err := io.ReadFull(r, buf)
		for i := 0; i+4 <= n && len(out) < soundSeconds*soundRate; i += 4 {
			out = append(out, sample(buf[i:]))
		}
		if err != nil {
			return out, ended(err)
		}
	}
}

// second is the sound that a file's first one is held against.
type second struct {
	of    string // what it is: track or file, "" for none
	sound []float32
	err   error
}

// secondOf hears another file's sound, or this file's second track.
func secondOf(ctx context.Context, path, other string, s *said) (h second) {
	switch {
	case s.samples() == 0:
	case other != "":
		h.of = "file"
		h.sound, h.err = soundOf(ctx, other, oneChannel("0:a:0"))
	case s.tracks() > 1:
		h.of = "track"
		h.sound, h.err = soundOf(ctx, path, oneChannel("0:a:1"))
	}
	return h
}

// times finds what a clip tells of time, of its first sound, the second one, and how bright its picture is.
func times(ctx context.Context, path string, first []float32, h *second, s *said, l *lights) (*Times, error) {
	out := &Times{Claps: []Clap{}}
	if first == nil || ctx.Err() != nil {
		return out, nil // what cannot be decoded was told already
	}
	if h.err != nil && h.of == "file" {
		return nil, h.err
	}
	if h.err == nil && h.of != "" {
		out.Of, out.Against = h.of, inspect.TimesOf(first, h.sound, soundRate)
	}
	if s.video < 0 || len(l.all) == 0 {
		return out, nil
	}
	// Sound that begins after the first frame has so much silence before it, by the clock of the frames; sound that begins
	// sooner is cut.
	shift := s.starts(s.audio) - s.starts(s.video)
	if k := int(math.Abs(shift) * soundRate); shift > 0 && k < soundSeconds*soundRate {
		first = append(make([]float32, k), first...)
	} else if shift < 0 {
		first = first[min(k, len(first)):]
	}
	out.Slate = inspect.SlateOf(l.all, first[:min(len(first), lightSeconds*soundRate)], soundRate, 0)
	if out.Slate.Answer == look.Clear {
		out.Slate = nil
		for _, at := range inspect.ClapsIn(first, soundRate) {
			if strip := strip(ctx, path, at, l.all); len(strip) > 0 {
				out.Claps = append(out.Claps, Clap{at, strip})
			}
		}
	}
	return out, ctx.Err()
}

// tracks is how many sound tracks there are.
func (s *said) tracks() (n int) {
	for i := range s.Streams {
		if s.Streams[i].Kind == "audio" {
			n++
		}
	}
	return n
}

// starts is when a stream begins, in seconds of the file.
func (s *said) starts(i int) float64 {
	v, err := strconv.ParseFloat(s.Streams[i].Start, 64)
	if err != nil || math.Abs(v) > 3600 {
		return 0
	}
	return v
}

// strip are the frames around a time, small.
func strip(ctx context.Context, path string, at float64, all []inspect.Light) []Shot {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return nil
	}
	k := 0
	for k < len(all) && all[k].At < at {
		k++
	}
	from := k - clapFrames/2 - 1
	if from < 0 || from+clapFrames > len(all) {
		return nil
	}
	half := (all[from+1].At - all[from].At) / 2
	cmd := exec.CommandContext(ctx, tool, "-v", "error", "-nostdin", "-protocol_whitelist", "file", "-format_whitelist", readable,
		"-ss", strconv.FormatFloat(max(0, all[from].At-half), 'f', 4, 64), "-i", "file:"+path, "-an", "-sn", "-dn", "-frames:v", strconv.Itoa(clapFrames),
		"-fps_mode", "passthrough", "-vf", "scale=160:-2", "-c:v", "mjpeg", "-q:v", "6", "-f", "image2pipe", "pipe:1")
	system.EndsWithUs(cmd)
	raw, err := cmd.Output()
	if err != nil {
		return nil
	}
	out := []Shot{}
	for _, part := range bytes.SplitAfter(raw, []byte{0xff, 0xd9}) {
		if bytes.HasPrefix(part, []byte{0xff, 0xd8}) && len(out) < clapFrames {
			out = append(out, Shot{math.Round(all[from+len(out)].At*1e4) / 1e4, "frame", part})
		}
	}
	return out
}
