// Package media runs Debian's ffmpeg as a child process: it measures what this computer can do, and reads what a
// recording is.
//
// Nothing it makes is left behind, even where this process is killed: clips live in files without a name, and children
// end with their parent.
package media

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"time"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/h264"
	"eventether/core/picture"
	"eventether/internal/system"
)

// Format names a file of measurements.
const Format = "eventether-measure/1"

// ErrNoEncoder says that there is no ffmpeg to measure with.
var ErrNoEncoder = errors.New("ffmpeg is not installed: install Debian's package ffmpeg to measure this computer")

// Options are what to measure.
type Options struct {
	Width, Height int
	Rate          picture.Rate
	Each          time.Duration // how long each step runs
	Folder        string        // where sustained writing is measured; nothing is written when empty
	// MostShare bounds what is written to the folder, as a share of what is free there; an eighth when 0.
	MostShare float64
	On        string // mains, battery or unknown; looked up when empty
}

// Result is what was measured.
type Result struct {
	Format   string        `json:"format"`
	Host     string        `json:"host" doc:"The computer, as it calls itself"`
	At       string        `json:"at" format:"date-time"`
	Size     string        `json:"size" doc:"Of the picture it was measured with"`
	Computes gear.Computes `json:"computes"`
	Steps    []Step        `json:"steps"`
	Folder   string        `json:"folder,omitempty"`
	Write    *fact.Fact    `json:"writeMBps,omitempty" doc:"Sustained writing to the folder, MB/s"`
	FreeGB   *fact.Fact    `json:"freeGB,omitempty" doc:"Free space there"`
}

// Step is one measurement.
type Step struct {
	Name   string  `json:"name"`
	Low    float64 `json:"low"`
	Value  float64 `json:"value"`
	High   float64 `json:"high"`
	Unit   string  `json:"unit"`
	Failed string  `json:"failed,omitempty" doc:"Why there is none"`
	// Slower is how much slower the last third was than the first, as a share.
	Slower float64 `json:"slower,omitempty"`
}

// Progress is how far measuring has come.
type Progress struct {
	Step string `json:"step" doc:"What is measured now"`
	Done int    `json:"done"`
	Of   int    `json:"of"`
}

// pixels are the pictures everything is measured with: an easy one and a hard one are the two bounds.
var pictures = []struct{ name, filter string }{{"easy", "null"}, {"hard", "noise=alls=12:allf=t"}}

// bench holds the clips while measuring.
type bench struct {
	Options
	ffmpeg string
	raw    []*os.File // a second of each picture, 4:2:0
	mjpeg  []*os.File
	h264   []*os.File
	mpx    float64 // of a picture
}

// Measure measures this computer. What cannot be measured is a step that failed; the rest goes on. It stops, leaving
// nothing, when the context is done.
func Measure(ctx context.Context, o Options, progress func(Progress)) (*Result, error) {
	ffmpeg, err := exec.LookPath("ffmpeg")
	if err != nil {
		return nil, ErrNoEncoder
	}
	if o.Width < 64 || o.Height < 64 || o.Width > 8192 || o.Height > 8192 || o.Rate.IsZero() {
		return nil, fmt.Errorf("a picture of %d × %d at %s cannot be measured with: want 64 to 8192 pixels and a rate",
			o.Width, o.Height, o.Rate)
	}
	o.Width, o.Height = o.Width&^1, o.Height&^1
	if o.Folder != "" {
		if st, err := os.Stat(o.Folder); err != nil || !st.IsDir() {
			return nil, fmt.Errorf("folder %q is not there: want one that can be written to", o.Folder)
		}
	}
	if err := roomFor(&o); err != nil {
		return nil, err
	}
	host, _ := os.Hostname()
	now := time.Now()
	if o.On == "" {
		o.On = powerNow()
	}
	r := &Result{Format: Format, Host: host, At: now.UTC().Format(time.RFC3339), Size: picture.SizeName(o.Width,
		o.Height), Steps: []Step{}, Folder: o.Folder}
	r.Computes.Measured = &gear.Measured{At: now.Format(time.DateOnly), On: o.On, Load: loadNow(), Host: host}
	b := &bench{Options: o, ffmpeg: ffmpeg, mpx: float64(o.Width*o.Height) / 1e6}
	defer b.close()

	type step struct {
		name string
		do   func() (Step, error)
		keep **fact.Fact
	}
	var steps []step
	add := func(name string, keep **fact.Fact, do func() (Step, error)) {
		steps = append(steps, step{name, do, keep})
	}
	for _, pre := range h264.Presets {
		add("H.264 at "+pre.Name, r.Computes.AtPreset(pre.Name), func() (Step, error) {
			each := b.Each
			if pre.Name == "veryfast" {
				each *= 3 // long enough to see a machine that heats up
			}
			return b.both(ctx, b.raw, each, 1, b.rawInput, "-c:v", "libx264", "-preset", pre.Name, "-profile:v",
				"high", "-f", "null", "-")
		})
	}
	all := runtime.NumCPU()
	add("decoding MJPEG", &r.Computes.MJPEGMpxS, func() (Step, error) {
		return b.both(ctx, b.mjpeg, b.Each, all, coded("mjpeg"), "-f", "null", "-")
	})
	add("decoding H.264", &r.Computes.H264MpxS, func() (Step, error) {
		return b.both(ctx, b.h264, b.Each, 1, coded("matroska"), "-f", "null", "-")
	})
	add("converting to BGRA", &r.Computes.ConvertMpxS, func() (Step, error) {
		return b.both(ctx, b.raw, b.Each, all, b.rawInput, "-vf", "format=bgra", "-f", "null", "-")
	})
	add("scaling", &r.Computes.ScaleMpxS, func() (Step, error) {
		return b.both(ctx, b.raw, b.Each, all, b.rawInput, "-vf", fmt.Sprintf("scale=%d:%d:flags=bicubic",
			max(16, b.Width*2/3&^1), max(16, b.Height*2/3&^1)), "-f", "null", "-")
	})
	add("deinterlacing", &r.Computes.DeinterlaceMpxS, func() (Step, error) {
		return b.both(ctx, b.raw, b.Each, 1, b.rawInput, "-vf", "setfield=tff,yadif", "-f", "null", "-")
	})
	total := len(steps) + 3
	tell := func(name string, done int) {
		if progress != nil {
			progress(Progress{name, done, total})
		}
	}
	tell("making pictures", 0)
	if err := b.clips(ctx); err != nil {
		return nil, err
	}
	slow := false // the preset before is slower than the show already
	for i, s := range steps {
		tell(s.name, i+1)
		if slow && i < len(h264.Presets) {
			r.Steps = append(r.Steps, Step{Name: s.name, Unit: "Mpx/s",
				Failed: "not measured: the preset before is too slow for this picture already"})
			continue
		}
		got, err := s.do()
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		got.Name, got.Unit = s.name, "Mpx/s"
		if err != nil {
			got = Step{Name: s.name, Unit: "Mpx/s", Failed: err.Error()}
		} else {
			slow = got.High < b.mpx*o.Rate.Float()
			*s.keep = &fact.Fact{Value: got.Value, Low: got.Low, High: got.High, From: fact.Measured,
				At: r.Computes.Measured.At}
			if s.name == "H.264 at veryfast" {
				r.Computes.Measured.Slowdown = fmt.Sprintf("%.0f %% in the last third", 100*got.Slower)
			}
		}
		r.Steps = append(r.Steps, got)
	}
	tell("hardware encoders", total-2)
	b.hardware(ctx, r)
	if o.Folder != "" && ctx.Err() == nil {
		tell("writing", total-1)
		r.Steps = append(r.Steps, b.write(ctx, r))
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	tell("", total)
	return r, nil
}

// roomFor tells whether the pictures that are measured with fit into the folder for temporary files, with a tenth left
// over: a second of each, as it is (1.5 bytes a pixel), as MJPEG (half of that at most) and as H.264 (some megabytes).
func roomFor(o *Options) error {
	need := float64(len(pictures)) * (float64(o.Width*o.Height)*o.Rate.Float()*(1.5+0.75) + 4e6)
	_, room, err := system.Room(os.TempDir())
	if err != nil {
		return nil //nolint:nilerr // where nobody can tell, it is tried
	}
	if free := float64(room); need*1.1 > free {
		return fmt.Errorf("measuring at %d × %d at %s takes up to %.1f GB in %s for a while, and %.1f GB are free there: measure with a smaller picture, or make room",
			o.Width, o.Height, o.Rate, need*1.1/1e9, os.TempDir(), free/1e9)
	}
	return nil
}

// unnamed is a file without a name in the folder for temporary files: gone with the last that has it open.
func unnamed(folder string) (*os.File, error) {
	f, err := os.CreateTemp(folder, "eventether-*")
	if err != nil {
		return nil, err
	}
	if err := os.Remove(f.Name()); err != nil {
		f.Close()
		return nil, err
	}
	return f, nil
}

// clips makes a second of the easy and of the hard picture: as it is, as MJPEG, as H.264.
func (b *bench) clips(ctx context.Context) error {
	size := fmt.Sprintf("testsrc2=size=%dx%d:rate=%s", b.Width, b.Height, b.Rate)
	make := func(list *[]*os.File, args ...string) error {
		f, err := unnamed("")
		if err != nil {
			return err
		}
		*list = append(*list, f)
		cmd := b.command(ctx, append([]string{"-f", "lavfi", "-i", size, "-t", "1"}, args...)...)
		cmd.Stdout = f
		var said strings.Builder
		cmd.Stderr = &said
		if err := cmd.Run(); err != nil {
			return fmt.Errorf("making a picture to measure with: %w: %s", err, last(said.String()))
		}
		return nil
	}
	for _, p := range pictures {
		if err := errors.Join(
			make(&b.raw, "-vf", p.filter+",format=yuv420p", "-f", "rawvideo", "pipe:1"),
			make(&b.mjpeg, "-vf", p.filter+",format=yuvj422p", "-c:v", "mjpeg", "-q:v", "6", "-f", "mjpeg", "pipe:1"),
			make(&b.h264, "-vf", p.filter+",format=yuv420p", "-c:v", "libx264", "-preset", "ultrafast", "-b:v", "8M",
				"-maxrate", "12M", "-bufsize", "12M", "-f", "matroska", "pipe:1"),
		); err != nil {
			return err
		}
	}
	return nil
}

func (b *bench) close() {
	for _, f := range slices.Concat(b.raw, b.mjpeg, b.h264) {
		f.Close()
	}
}

// command is a child that ends with this process.
func (b *bench) command(ctx context.Context, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, b.ffmpeg, append([]string{"-v", "error", "-nostdin"}, args...)...)
	system.EndsWithUs(cmd)
	cmd.WaitDelay = 5 * time.Second
	return cmd
}

func (b *bench) rawInput() []string {
	return []string{"-f", "rawvideo", "-pix_fmt", "yuv420p", "-video_size", fmt.Sprintf("%dx%d", b.Width, b.Height),
		"-framerate", b.Rate.String()}
}

func coded(format string) func() []string { return func() []string { return []string{"-f", format} } }

// both runs the easy and the hard picture and takes them as bounds, in Mpx/s: the slowest third of the hard, the
// fastest of the easy one.
func (b *bench) both(ctx context.Context, clips []*os.File, each time.Duration, children int, input func() []string,
	args ...string) (Step, error) {
	s := Step{Low: math.Inf(1)}
	product := 1.0
	for _, clip := range clips {
		thirds, err := b.run(ctx, clip, each, children, input(), args)
		if err != nil {
			return s, err
		}
		mean := 0.0
		for _, t := range thirds {
			v := t * b.mpx
			s.Low, s.High, mean = min(s.Low, v), max(s.High, v), mean+v/3
		}
		product *= mean
		if thirds[0] > 0 {
			s.Slower = max(s.Slower, 1-thirds[2]/thirds[0])
		}
	}
	s.Value = min(s.High, max(s.Low, math.Sqrt(product)))
	if s.Low <= 0 {
		return s, errors.New("it got no frame done in the time given")
	}
	s.Low, s.Value, s.High = tenth(s.Low), tenth(s.Value), tenth(s.High)
	s.Slower = math.Round(max(0, s.Slower)*100) / 100
	return s, nil
}

func tenth(v float64) float64 { return math.Max(0.1, math.Round(v*10)/10) }

// run runs children over a clip for some time and gives the frames a second of each third of it, all children together.
func (b *bench) run(ctx context.Context, clip *os.File, each time.Duration, children int,
	input, args []string) (thirds [3]float64, err error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	type child struct {
		thirds [3]float64
		err    error
	}
	results := make(chan child, children)
	for range children {
		go func() {
			t, err := b.one(ctx, clip, each, input, args)
			results <- child{t, err}
		}()
	}
	for range children {
		c := <-results
		if c.err != nil && err == nil {
			err = c.err
			cancel()
		}
		for i := range thirds {
			thirds[i] += c.thirds[i]
		}
	}
	return thirds, err
}

// warm is how many frames a child has to have taken before they are counted: an encoder first fills its look-ahead, of
// up to 60 frames, as fast as it gets them. It is not waited for longer than three times the run.
const warm = 72

// one runs one child: its own report of frames done, every so often, says how fast it is.
func (b *bench) one(ctx context.Context, clip *os.File, each time.Duration, input, args []string) (thirds [3]float64,
	err error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	period := max(each.Seconds()/30, 0.02)
	all := append([]string{"-progress", "pipe:1", "-stats_period", strconv.FormatFloat(period, 'f', 3, 64),
		"-stream_loop", "-1"}, input...)
	all = append(append(all, "-i", "/dev/fd/3"), args...)
	cmd := b.command(ctx, all...)
	cmd.ExtraFiles = []*os.File{clip}
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.StdoutPipe()
	if err != nil {
		return thirds, err
	}
	if err := cmd.Start(); err != nil {
		return thirds, err
	}
	type mark struct {
		at     time.Duration
		frames float64
	}
	var marks []mark
	started, began := time.Now(), time.Time{}
	late := time.AfterFunc(10*each+20*time.Second, cancel) // whatever happens
	defer late.Stop()
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		frames, is := strings.CutPrefix(lines.Text(), "frame=")
		if !is {
			continue
		}
		n, _ := strconv.ParseFloat(strings.TrimSpace(frames), 64)
		if n == 0 || n < warm && time.Since(started) < 3*each {
			continue
		}
		if began.IsZero() {
			began = time.Now()
		}
		marks = append(marks, mark{time.Since(began), n})
		if time.Since(began) >= each && len(marks) > 3 {
			break
		}
	}
	cancel()
	_, _ = io.Copy(io.Discard, out)
	_ = cmd.Wait() // it was ended; what it said counts
	if len(marks) < 2 {
		if s := last(said.String()); s != "" {
			return thirds, errors.New(s)
		}
		return thirds, errors.New("it reported no progress")
	}
	end := marks[len(marks)-1]
	at := func(t time.Duration) float64 { // frames by then, between two marks
		for i := 1; i < len(marks); i++ {
			if a, z := marks[i-1], marks[i]; z.at >= t {
				if z.at == a.at {
					return z.frames
				}
				return a.frames + (z.frames-a.frames)*float64(t-a.at)/float64(z.at-a.at)
			}
		}
		return end.frames
	}
	for i := range thirds {
		from, to := end.at*time.Duration(i)/3, end.at*time.Duration(i+1)/3
		if to > from {
			thirds[i] = (at(to) - at(from)) / (to - from).Seconds()
		}
	}
	return thirds, nil
}

// last is the last line a child said.
func last(said string) string {
	lines := strings.Split(strings.TrimSpace(said), "\n")
	s := strings.TrimSpace(lines[len(lines)-1])
	if len(s) > 200 {
		s = s[:200]
	}
	return s
}

// hardware tries every H.264 encoder ffmpeg lists that is no software one: what opens is measured, the fastest kept.
func (b *bench) hardware(ctx context.Context, r *Result) {
	out, err := b.command(ctx, "-encoders").Output()
	if err != nil {
		return
	}
	r.Computes.Hardware = "none"
	for l := range strings.SplitSeq(string(out), "\n") {
		f := strings.Fields(l)
		if len(f) < 2 || !strings.HasPrefix(f[1], "h264_") {
			continue
		}
		name := f[1]
		var before, filter []string
		if strings.HasSuffix(name, "_vaapi") {
			devices, _ := filepath.Glob("/dev/dri/renderD*")
			if len(devices) == 0 {
				r.Steps = append(r.Steps, Step{Name: name, Unit: "Mpx/s",
					Failed: "listed, and there is no graphics device to open"})
				continue
			}
			before, filter = []string{"-vaapi_device", devices[0]}, []string{"-vf", "format=nv12,hwupload"}
		}
		got, err := b.both(ctx, b.raw, b.Each, 1, func() []string {
			return append(slices.Clone(before), b.rawInput()...)
		}, append(filter, "-c:v", name, "-b:v", "6M", "-f", "null", "-")...)
		if ctx.Err() != nil {
			return
		}
		if err != nil {
			r.Steps = append(r.Steps, Step{Name: name, Unit: "Mpx/s",
				Failed: "listed, and does not open: " + err.Error()})
			continue
		}
		got.Name, got.Unit = name, "Mpx/s"
		r.Steps = append(r.Steps, got)
		if r.Computes.HardwareMpxS == nil || got.Low > r.Computes.HardwareMpxS.Low {
			r.Computes.Hardware = name
			r.Computes.HardwareMpxS = &fact.Fact{Value: got.Value, Low: got.Low, High: got.High, From: fact.Measured,
				At: r.Computes.Measured.At}
		}
	}
}

// write measures sustained writing to the folder: to a file without a name, synced as it grows, never more than a share
// of what is free.
func (b *bench) write(ctx context.Context, r *Result) Step {
	s := Step{Name: "writing to " + b.Folder, Unit: "MB/s"}
	_, room, err := system.Room(b.Folder)
	if err != nil {
		s.Failed = err.Error()
		return s
	}
	free := float64(room)
	gb := math.Floor(free/1e7) / 100
	r.FreeGB = &fact.Fact{Value: gb, Low: gb, High: gb, From: fact.Measured, At: r.Computes.Measured.At}
	share := b.MostShare
	if share <= 0 {
		share = 0.125
	}
	f, err := unnamed(b.Folder)
	if err != nil {
		s.Failed = err.Error()
		return s
	}
	defer f.Close()
	chunk := make([]byte, 4<<20)
	for i := range chunk {
		chunk[i] = byte(i*7 + i>>11) // no drive makes less of it
	}
	most, written := int64(min(free*share, 8e9)), int64(0)
	began := time.Now()
	s.Low = math.Inf(1)
	for written+16<<20 <= most && time.Since(began) < 3*b.Each && ctx.Err() == nil {
		part := time.Now()
		for range 4 {
			if _, err = f.Write(chunk); err != nil {
				break
			}
		}
		if err == nil {
			err = f.Sync()
		}
		if err != nil {
			s.Failed = err.Error()
			return s
		}
		written += 16 << 20
		speed := 16 * 1.048576 / time.Since(part).Seconds()
		s.Low, s.High = min(s.Low, speed), max(s.High, speed)
	}
	if written == 0 {
		s.Low, s.High = 0, 0
		s.Failed = fmt.Sprintf("only %.2f GB are free: too little to measure with", free/1e9)
		return s
	}
	s.Low, s.High, s.Value = tenth(s.Low), tenth(s.High), tenth(float64(written)/1e6/time.Since(began).Seconds())
	s.Value = min(s.High, max(s.Low, s.Value))
	r.Write = &fact.Fact{Value: s.Value, Low: s.Low, High: s.High, From: fact.Measured, At: r.Computes.Measured.At}
	return s
}

// powerNow is what the computer runs on, as Linux tells it.
func powerNow() string {
	supplies, _ := filepath.Glob("/sys/class/power_supply/*/online")
	for _, s := range supplies {
		on, err := os.ReadFile(s)
		if err != nil {
			continue
		}
		if strings.TrimSpace(string(on)) == "1" {
			return "mains"
		}
		return "battery"
	}
	return "unknown"
}

// loadNow is how busy the computer was before measuring.
func loadNow() string {
	b, err := os.ReadFile("/proc/loadavg")
	if err != nil {
		return ""
	}
	return fmt.Sprintf("%s processes busy on %d processors, the minute before", strings.Fields(string(b))[0],
		runtime.NumCPU())
}

// ReadResult reads a file of measurements. What is wrong with it is named by place.
func ReadResult(text []byte) (*Result, error) {
	var r Result
	dec := json.NewDecoder(bytes.NewReader(text))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&r); err != nil {
		return nil, fmt.Errorf("this is no file of measurements (%w): want what eventether measure --json prints", err)
	}
	if r.Format != Format {
		return nil, fmt.Errorf("format %q: want %q", r.Format, Format)
	}
	if r.Computes.Measured == nil {
		return nil, errors.New("computes.measured is missing: it says when it was measured")
	}
	return &r, nil
}
