package media

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"sync"

	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/internal/system"
)

// Inspected is what a clip really is: what was looked at and heard, and how it was coded.
type Inspected struct {
	Looked
	Bytes   int64           `json:"bytes"`
	Arrived inspect.Arrived `json:"arrived"`
	Notes   []string        `json:"notes" doc:"What to know of how it was inspected"`
	Shots   []Shot          `json:"shots" doc:"Frames of what was found, small"`
	Times   Times           `json:"times"`
}

// Shot is a frame of a clip, small.
type Shot struct {
	At   float64 `json:"at" doc:"Seconds from the beginning"`
	Of   string  `json:"of" doc:"What was found there: a name of looking, cut, or start"`
	JPEG []byte  `json:"jpeg" doc:"base64"`
}

// InspectOptions bound an inspection.
type InspectOptions struct {
	Seconds float64 // of it that are looked at; 600 when 0. How it is coded is read of the first hour
	Kbps    float64 // the bitrate planned for its picture, 0 where none is: its buffer is judged at it
	Shots   bool    // frames of what was found are wanted
	Times   bool    // what it tells of time is wanted, with the frames around claps
	Other   string  // another file of the same sound, to be held against it; none when empty
}

// codedSeconds is how much of a clip's packets are read.
const codedSeconds = 3600

// Inspect looks at a clip, as Look does, and reads how it is coded: with ffprobe, without decoding. Errors are as Look's; one
// that was never closed says so.
func Inspect(ctx context.Context, path string, o InspectOptions, progress func(done, of float64)) (*Inspected, error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	before, err := plainFile(path)
	if err != nil {
		return nil, err
	}
	looks := LookOptions{Seconds: o.Seconds}
	if looks.Seconds <= 0 {
		looks.Seconds = lookedSeconds
	}
	out := &Inspected{Bytes: before.Size(), Notes: []string{}, Shots: []Shot{}}
	said, err := arrivedAs(ctx, path, &out.Arrived)
	if err != nil {
		if _, _, broken := container(path, "", "", false); broken != "" && ctx.Err() == nil {
			return nil, fmt.Errorf("%q: %s", path, broken)
		}
		return nil, err
	}
	// A second sound is decoded beside all else.
	timed := o.Times || o.Other != ""
	looks.mono = timed
	light := lights{of: &limitedLight}
	if v := out.Arrived.Video; v != nil && v.Range == "full" && v.Chroma != "RGB" {
		light.of = &fullLight
	}
	var other second
	var wait sync.WaitGroup
	defer wait.Wait()
	if timed {
		wait.Go(func() { other = secondOf(ctx, path, o.Other, said) })
	}
	if o.Times {
		looks.few = light.add
	}
	err = cameOf(ctx, path, said, max(codedSeconds, looks.Seconds+1), o.Kbps, &out.Arrived)
	if errors.Is(err, errStuck) { // what came before is told
		out.Notes, err = append(out.Notes, lang.Text("Its packets could not be read to the end: nothing that can be read followed for long.")), nil
	}
	if err != nil {
		cancel()
		return nil, err
	}
	l, err := lookAt(ctx, path, said, looks, progress)
	if err != nil {
		cancel()
		return nil, err
	}
	wait.Wait()
	out.Looked = *l
	out.ranged()
	if after, err := os.Stat(path); err == nil && after.Size() != before.Size() {
		out.Notes = append(out.Notes, lang.Text("It grew meanwhile: it is still being written, and what is said here is of its beginning."))
	}
	if n := len(said.Streams); n > 20 {
		out.Notes = append(out.Notes, lang.Text("It holds %s streams: the first picture and the first sound were looked at.", strconv.Itoa(n)))
	}
	out.Times.Claps = []Clap{}
	if timed {
		t, err := times(ctx, path, l.mono, &other, said, &light)
		if err != nil {
			return nil, err
		}
		out.Times = *t
	}
	if o.Shots && out.Video != nil {
		out.Shots = shots(ctx, path, out.moments())
	}
	return out, ctx.Err()
}

// arrivedAs reads what a file says of itself, and whether it is all there.
func arrivedAs(ctx context.Context, path string, a *inspect.Arrived) (*said, error) {
	said, err := codedAs(ctx, path)
	if err != nil {
		return nil, err
	}
	said.into(a)
	a.Container, a.Whole, _ = container(path, said.Format.Name, said.Format.Tags.Brand, said.seconds() > 0)
	return said, nil
}

// cameOf reads how a file's packets came, so many seconds of it. With an error stands what came before.
func cameOf(ctx context.Context, path string, s *said, seconds, kbps float64, a *inspect.Arrived) error {
	t := inspect.NewTraffic(kbps)
	err := s.packets(ctx, path, seconds, t)
	a.Came = t.Came()
	if s.seconds() > seconds { // it ends where reading does, in the middle of what comes beside each other
		a.Came.Gaps = slices.DeleteFunc(a.Came.Gaps, func(g inspect.Gap) bool { return g.To > seconds-2 })
	}
	return err
}

// ranged takes over what looking tells of the range.
func (out *Inspected) ranged() {
	if out.Video == nil {
		return
	}
	if f := look.Find(out.Video.Signs, look.IsRange); f != nil && f.Answer == look.Found {
		out.Arrived.Luma = "full"
	} else if f != nil && f.Answer == look.Clear {
		out.Arrived.Luma = "limited"
	}
}

// mostShots are kept of one clip.
const mostShots = 16

// moment is a time of a clip worth a frame.
type moment struct {
	at float64
	of string
}

// moments are the times of what was found, the beginning first: two of each kind of finding, and the first cuts.
func (out *Inspected) moments() []moment {
	all := []moment{{0, "start"}}
	for i := range out.Video.Signs {
		f := &out.Video.Signs[i]
		if f.Answer != look.Found || f.What == look.IsRate || f.What == look.IsRange {
			continue
		}
		for k, s := range f.Spans {
			if k < 2 {
				all = append(all, moment{(s.From + s.To) / 2, string(f.What)})
			}
		}
		if len(f.Spans) == 0 {
			all = append(all, moment{out.Video.Seconds / 2, string(f.What)})
		}
	}
	for k, at := range out.Video.Cuts {
		if k < 4 {
			all = append(all, moment{at, "cut"})
		}
	}
	return all[:min(len(all), mostShots)]
}

// shots are small frames of a clip; one that cannot be had is left out.
func shots(ctx context.Context, path string, all []moment) []Shot {
	out := []Shot{}
	for _, m := range all {
		if ctx.Err() != nil {
			break
		}
		if jpeg := frameAt(ctx, path, m.at, 320); jpeg != nil {
			out = append(out, Shot{m.at, m.of, jpeg})
		}
	}
	return out
}

// frameAt is the frame of a clip at a time, so many pixels wide, as JPEG; nil where there is none.
func frameAt(ctx context.Context, path string, at float64, wide int) []byte {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return nil
	}
	cmd := exec.CommandContext(ctx, tool, "-v", "error", "-nostdin", "-protocol_whitelist", "file", "-format_whitelist", readable,
		"-ss", strconv.FormatFloat(max(0, at), 'f', 3, 64), "-i", "file:"+path, "-an", "-sn", "-dn", "-frames:v", "1", "-vf",
		fmt.Sprintf("scale=%d:-2", wide), "-c:v", "mjpeg", "-q:v", "5", "-f", "image2pipe", "pipe:1")
	system.EndsWithUs(cmd)
	raw, err := cmd.Output()
	if err != nil || len(raw) == 0 || len(raw) > 1<<20 {
		return nil
	}
	return raw
}
