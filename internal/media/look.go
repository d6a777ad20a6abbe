package media

import (
	"bufio"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"eventether/core/inspect"
	"eventether/core/look"
	"eventether/internal/system"
)

// Looked is what a file really shows and plays.
type Looked struct {
	File    string      `json:"file"`
	Seconds float64     `json:"seconds" doc:"Of it that were looked at"`
	Video   *look.Seen  `json:"video,omitempty" doc:"None where it has no picture"`
	Audio   *look.Heard `json:"audio,omitempty" doc:"None where it has no sound"`
	// Cut tells that it is longer than what was looked at, or ends in the middle.
	Cut string `json:"cut,omitempty"`

	mono []float32 // its first sound as one channel, where anybody wants it; none where it could not be decoded
}

// LookOptions bound the looking.
type LookOptions struct {
	Seconds float64 // of the file at most; 600 when 0

	few  func(at float64, samples []byte) // told the few samples of every frame, where anybody wants them
	mono bool                             // the sound is wanted as one channel, too
}

// lookedSeconds are looked at of a file where nothing else is said.
const lookedSeconds = 600

// mostLuma is the largest picture that is looked at, in samples: 8192 × 4320.
const mostLuma = 8192 * 4320

// Look decodes a file with ffmpeg, once, and looks at every frame and every sample of it as they come: memory does not
// grow with its length but for a few numbers a frame. progress is told the seconds that are done, and of how many.
//
// The file is opened by ffmpeg as a plain file of the formats recordings come in: a playlist, or an address in
// disguise, is none. Errors say what is wrong with the file; ErrNoEncoder stands for a machine without ffmpeg.
func Look(ctx context.Context, path string, o LookOptions, progress func(done, of float64)) (*Looked, error) {
	if o.Seconds <= 0 {
		o.Seconds = lookedSeconds
	}
	if _, err := plainFile(path); err != nil {
		return nil, err
	}
	of, err := codedAs(ctx, path)
	if err != nil {
		return nil, err
	}
	err = of.packets(ctx, path, o.Seconds+1, inspect.NewTraffic(0))
	if err != nil && !errors.Is(err, errStuck) { // what came before is looked at
		return nil, err
	}
	return lookAt(ctx, path, of, o, progress)
}

// lookAt looks at a file of which it is known what it says of itself, and when its frames are shown.
func lookAt(ctx context.Context, path string, of *said, o LookOptions, progress func(done, of float64)) (*Looked, error) {
	if of.video < 0 && of.samples() == 0 {
		return nil, fmt.Errorf("%q has neither picture nor sound", path)
	}
	out := &Looked{File: path}
	total := min(of.seconds(), o.Seconds)
	tell := func(done float64) {
		if progress != nil && total > 0 {
			progress(min(done, total), total)
		}
	}
	if of.video >= 0 {
		if st := of.Streams[of.video]; st.Width*st.Height > mostLuma {
			return nil, fmt.Errorf("%d × %d is more than the 8192 × 4320 that is looked at", st.Width, st.Height)
		}
	}
	// Picture and sound are decoded beside each other, each by its own child.
	var picture, sound error
	var wait sync.WaitGroup
	if of.video >= 0 {
		see := out.see
		if oneOutput {
			see = out.seeWhole
		}
		wait.Go(func() { picture = see(ctx, path, o, of, tell) })
	}
	if of.samples() > 0 {
		wait.Go(func() { sound = out.hear(ctx, path, o, of) })
	}
	wait.Wait()
	switch {
	case ctx.Err() != nil:
		return nil, ctx.Err()
	case picture != nil:
		return nil, picture
	case sound != nil && out.Video == nil:
		return nil, sound
	}
	if out.Video != nil {
		out.Seconds = out.Video.Seconds
	}
	if out.Audio != nil {
		out.Seconds = max(out.Seconds, out.Audio.Seconds)
	}
	if of.seconds() > o.Seconds+1 && out.Cut == "" {
		out.Cut = fmt.Sprintf("it is %.0f s long, and the first %.0f were looked at", of.seconds(), o.Seconds)
	}
	tell(total)
	return out, nil
}

// oneOutput is where a child has no more than its standard output.
const oneOutput = runtime.GOOS == "windows"

// plainFile is a file that can be read and holds something; a folder, a device or a pipe is none.
func plainFile(path string) (os.FileInfo, error) {
	st, err := os.Stat(path)
	switch {
	case err != nil:
		return nil, fmt.Errorf("%q cannot be read: %w", path, errors.Unwrap(err))
	case !st.Mode().IsRegular():
		return nil, fmt.Errorf("%q is no file", path)
	case st.Size() == 0:
		return nil, fmt.Errorf("%q is empty", path)
	}
	return st, nil
}

// asLuma is a filter that leaves the luma of a picture at a size, as eight bits. Its codes stay what they are, whatever range a
// file says they are in; a picture that has none, of red, green and blue, gets those of limited range, as players make of it.
func (s *said) asLuma(wide, tall int, how string) string {
	codes := "in_range=full:out_range=full"
	if chroma, _ := format(s.Streams[s.video].Format); chroma == "RGB" {
		codes = "out_range=limited"
	}
	return fmt.Sprintf("scale=%d:%d:flags=%s:%s,format=gray", wide, tall, how, codes)
}

// see looks at the picture. ffmpeg hands on every frame as few samples, and every few frames one whole: what is looked at of
// each is a hundredth of it.
func (out *Looked) see(ctx context.Context, path string, o LookOptions, of *said, tell func(float64)) error {
	p := look.NewPicture()
	wide, tall := of.shown()
	each := of.closely()
	graph := fmt.Sprintf("[%s]split[a][b];[a]%s[few];[b]select=not(mod(n\\,%d)),%s[whole]", of.stream(of.video),
		of.asLuma(look.SampledWidth, look.SampledHeight, "neighbor"), each, of.asLuma(wide, tall, "bicubic"))
	raw := []string{"-fps_mode", "passthrough", "-f", "rawvideo", "-pix_fmt", "gray"}
	args := slices.Concat([]string{"-an", "-sn", "-dn", "-filter_complex", graph, "-map", "[few]"}, raw, []string{"pipe:1", "-map", "[whole]"},
		raw, []string{"pipe:3"})
	whole, there, err := os.Pipe()
	if err != nil {
		return err
	}
	defer whole.Close()
	closes, used := make(chan []byte, 2), make(chan []byte, 4)
	go func() {
		defer close(closes)
		for {
			var luma []byte
			select {
			case luma = <-used:
			default:
				luma = make([]byte, wide*tall)
			}
			if _, err := io.ReadFull(whole, luma); err != nil {
				return
			}
			closes <- luma
		}
	}()
	frames := make(chan []byte, 1024) // those that come before the whole one beside them has been read
	var took sync.WaitGroup
	took.Go(func() {
		n := 0
		for few := range frames {
			at := of.at(n)
			p.AddSampled(at, wide, tall, few)
			if o.few != nil {
				o.few(at, few)
			}
			if n%each == 0 {
				if luma, ok := <-closes; ok {
					p.AddClosely(look.Frame{At: at, Width: wide, Height: tall, Luma: luma})
					used <- luma
				}
			}
			if n%25 == 0 {
				tell(at)
			}
			n++
		}
	})
	err = decode(ctx, path, o.Seconds, args, []*os.File{there}, func(r io.Reader) error {
		for {
			few := make([]byte, look.SampledWidth*look.SampledHeight)
			if _, err := io.ReadFull(r, few); err != nil {
				return ended(err)
			}
			frames <- few
		}
	})
	close(frames)
	took.Wait()
	for range closes { // what is left of it has no frame beside it
	}
	return out.seen(p, err)
}

// seeWhole is the same where a child has one output: every frame is handed on whole.
func (out *Looked) seeWhole(ctx context.Context, path string, o LookOptions, of *said, tell func(float64)) error {
	p := look.NewPicture()
	wide, tall := of.shown()
	args := []string{"-map", of.stream(of.video), "-an", "-sn", "-dn", "-vf", of.asLuma(wide, tall, "bicubic"), "-fps_mode", "passthrough", "-f", "rawvideo",
		"-pix_fmt", "gray", "pipe:1"}
	return out.seen(p, decode(ctx, path, o.Seconds, args, nil, func(r io.Reader) error {
		luma := make([]byte, wide*tall)
		for n := 0; ; n++ {
			if _, err := io.ReadFull(r, luma); err != nil {
				return ended(err)
			}
			p.Add(look.Frame{At: of.at(n), Width: wide, Height: tall, Luma: luma})
			if n%25 == 0 {
				tell(of.at(n))
			}
		}
	}))
}

// seen takes what a picture came to; what ended early for a reason is told as far as it went.
func (out *Looked) seen(p *look.Picture, err error) error {
	if err != nil && p.Frames() == 0 {
		return err
	}
	if err != nil {
		out.Cut = err.Error()
	}
	seen := p.See()
	out.Video = &seen
	return nil
}

// hear listens to the sound.
func (out *Looked) hear(ctx context.Context, path string, o LookOptions, of *said) error {
	rate, channels := of.samples(), of.Streams[of.audio].Channels
	s := look.NewSound(float64(rate), min(channels, 2))
	args := []string{"-map", of.stream(of.audio), "-vn", "-sn", "-dn", "-t", inSeconds(o.Seconds)}
	var through []string
	if channels > 2 {
		through = append(through, "pan=stereo|c0=c0|c1=c1")
	}
	if of.holes {
		through = append(through, asTimed)
	}
	if len(through) > 0 {
		args = append(args, "-af", strings.Join(through, ","))
	}
	args = append(args, "-ar", strconv.Itoa(rate), "-f", "f32le")
	both := func(r io.Reader) error { return Listen(r, min(channels, 2), s.Add) }
	var err error
	switch {
	case !o.mono:
		err = decode(ctx, path, o.Seconds, append(args, "pipe:1"), nil, both)
	case oneOutput:
		err = decode(ctx, path, o.Seconds, append(args, "pipe:1"), nil, both)
		out.mono, _ = soundOf(ctx, path, of.oneChannel()) // what it says is said already
	default:
		// As one channel it is wanted for longer or shorter than all of it is: what comes from the child's standard output is
		// what comes to the end.
		var r, w *os.File
		if r, w, err = os.Pipe(); err != nil {
			return err
		}
		defer r.Close()
		var heard sync.WaitGroup
		var failed error
		heard.Go(func() {
			failed = both(r)
			_, _ = io.Copy(io.Discard, r)
		})
		args = slices.Concat(of.oneChannel(), []string{"pipe:1"}, args, []string{"pipe:3"})
		err = decode(ctx, path, max(o.Seconds, soundSeconds), args, []*os.File{w}, func(r io.Reader) (err error) {
			out.mono, err = floats(r)
			return err
		})
		heard.Wait()
		err = errors.Join(err, failed)
	}
	if err != nil {
		out.mono = nil
	}
	heard := s.Hear()
	if err != nil && heard.Seconds == 0 {
		return err
	}
	if of.video >= 0 {
		heard.Begins(math.Round(10*(of.starts(of.audio)-of.starts(of.video))) / 10)
	}
	out.Audio = &heard
	return nil
}

// asTimed is a filter that fills holes of a sound's time stamps with silence, from a tenth of a second on, and stretches nothing.
const asTimed = "aresample=async=1"

// Listen hands on interleaved samples of one or two channels as they come, 32-bit floats: left and right, the same of one channel.
func Listen(r io.Reader, channels int, add func(left, right []float32)) error {
	const block = 4096
	raw := make([]byte, 4*channels*block)
	left, right := make([]float32, block), make([]float32, block)
	for {
		n, err := io.ReadFull(r, raw)
		k := n / (4 * channels)
		for i := range k {
			at := 4 * channels * i
			left[i] = sample(raw[at:])
			right[i] = left[i]
			if channels == 2 {
				right[i] = sample(raw[at+4:])
			}
		}
		add(left[:k], right[:k])
		if err != nil {
			return ended(err)
		}
	}
}

// sample is one of a sound; what is no number, or far from one, is silence.
func sample(raw []byte) float32 {
	if v := math.Float32frombits(binary.LittleEndian.Uint32(raw)); v > -64 && v < 64 {
		return v
	}
	return 0
}

// ended is nil where a stream has come to its end.
func ended(err error) error {
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		return nil
	}
	return err
}

// decode runs ffmpeg over a file and hands what it writes on. A child never outlives its parent.
func decode(ctx context.Context, path string, seconds float64, args []string, more []*os.File, take func(io.Reader) error) error {
	for _, f := range more { // the child has them; here they are closed, so that their other end sees when it ends
		defer f.Close()
	}
	all := append([]string{"-v", "error", "-nostdin", "-protocol_whitelist", "file", "-format_whitelist", readable,
		"-t", inSeconds(seconds), "-i", "file:" + path}, args...)
	return child(ctx, "ffmpeg", all, more, take, func(said *system.Said) error {
		return fmt.Errorf("%q cannot be decoded: %s", path, firstLine(said, path))
	})
}

// inSeconds is a time as ffmpeg reads it.
func inSeconds(t float64) string { return strconv.FormatFloat(t, 'f', 3, 64) }

// child runs one of ffmpeg's tools and hands what it writes on; more are files of the child's, and failed makes an error of what
// it said where it failed.
func child(ctx context.Context, name string, args []string, more []*os.File, take func(io.Reader) error, failed func(*system.Said) error) error {
	tool, err := exec.LookPath(name)
	if err != nil {
		return ErrNoEncoder
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	cmd := exec.CommandContext(ctx, tool, args...)
	system.EndsWithUs(cmd)
	said := system.Said{Most: 4000}
	cmd.Stderr = &said
	cmd.ExtraFiles = more
	pipe, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	for _, f := range more {
		_ = f.Close()
	}
	watched := watching(pipe, cancel)
	taken := take(bufio.NewReaderSize(watched, 1<<20))
	if taken != nil {
		cancel()
	}
	err = cmd.Wait()
	switch {
	case watched.stop():
		return errStuck
	case taken != nil:
		return taken
	case ctx.Err() != nil:
		return ctx.Err()
	case err != nil:
		return failed(&said)
	}
	return nil
}

// errStuck says that a child has read on for long and found nothing: a file with a hole in it, or one that is damaged for
// gigabytes.
var errStuck = errors.New("nothing that can be read followed for long: the file is damaged from there on, or has a hole")

// stuckAfter is how long a child may find nothing.
var stuckAfter = 30 * time.Second

// watched reads what a child writes, and ends it when it writes nothing for long.
type watched struct {
	from  io.Reader
	timer *time.Timer
	stuck atomic.Bool
}

func watching(from io.Reader, end func()) *watched {
	w := &watched{from: from}
	w.timer = time.AfterFunc(stuckAfter, func() {
		w.stuck.Store(true)
		end()
	})
	return w
}

func (w *watched) Read(b []byte) (int, error) {
	n, err := w.from.Read(b)
	if err == nil {
		w.timer.Reset(stuckAfter)
	}
	return n, err
}

// stop ends the watching, and tells whether the child was ended by it.
func (w *watched) stop() bool { return !w.timer.Stop() && w.stuck.Load() }

// firstLine is the first thing a tool says of a file, without the file's own name.
func firstLine(said *system.Said, path string) string {
	line := said.First()
	line = strings.TrimPrefix(strings.TrimPrefix(line, "file:"+path+": "), path+": ")
	if strings.Contains(line, "Format not on whitelist") {
		return "it is of a kind that is not read here"
	}
	if line == "" {
		return "nothing in it is a picture or a sound"
	}
	return line
}
