package ingest

import (
	"context"
	"io"
	"os/exec"
	"strconv"
	"sync"
	"time"

	"github.com/pion/webrtc/v4/pkg/media/oggwriter"

	"eventether/core/look"
	"eventether/internal/media"
	"eventether/internal/system"
)

// ears listen to the coded sound of one sender: a child of ffmpeg decodes it as it comes. One goroutine hands it to them; nil
// ears hear nothing.
type ears struct {
	coded chan []byte
	end   context.CancelFunc

	mu    sync.Mutex
	sound *look.Sound
	last  *look.Heard // what it came to, when that was asked last
	asked time.Time
}

// Of listening: how much coded sound may wait for its child, and how often what is heard is worked out anew.
const (
	waitingSound = 500
	heardEvery   = time.Second
)

// hears begins listening to coded sound of a kind ffmpeg reads from a pipe (aac, ogg, mp3), of so many samples a second and so
// many channels. What was heard before is forgotten.
func (in *Ingest) hears(kind string, rate, channels int) *ears {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil || rate < 8000 || rate > 192_000 || channels < 1 {
		return nil
	}
	in.mu.Lock()
	defer in.mu.Unlock()
	if in.ctx.Err() != nil { // closing: nothing begins any more
		return nil
	}
	ctx, end := context.WithCancel(in.ctx)
	e := &ears{coded: make(chan []byte, waitingSound), end: end, sound: look.NewSound(float64(rate), min(channels, 2))}
	args := []string{"-v", "error", "-threads", "1", "-probesize", "32768", "-analyzeduration", "500000", "-f", kind, "-i", "pipe:0"}
	if channels > 2 {
		args = append(args, "-af", "pan=stereo|c0=c0|c1=c1")
	} else {
		args = append(args, "-ac", strconv.Itoa(channels))
	}
	cmd := exec.CommandContext(ctx, tool, append(args, "-ar", strconv.Itoa(rate), "-f", "f32le", "pipe:1")...)
	system.EndsWithUs(cmd)
	to, err := cmd.StdinPipe()
	if err != nil {
		end()
		return nil
	}
	from, err := cmd.StdoutPipe()
	if err != nil || cmd.Start() != nil {
		end()
		return nil
	}
	if in.ears != nil {
		in.ears.end()
	}
	in.ears = e
	in.over.Go(func() {
		defer to.Close()
		for {
			select {
			case <-ctx.Done():
				return
			case b, more := <-e.coded:
				if _, err := to.Write(b); err != nil || !more {
					return
				}
			}
		}
	})
	in.over.Go(func() {
		defer end()
		_ = media.Listen(from, min(channels, 2), func(left, right []float32) {
			e.mu.Lock()
			defer e.mu.Unlock()
			e.sound.Add(left, right)
		})
		_, _ = io.Copy(io.Discard, from)
		_ = cmd.Wait()
	})
	return e
}

// take takes coded sound; what nobody has time for is left out.
func (e *ears) take(coded []byte) {
	if e == nil {
		return
	}
	select {
	case e.coded <- coded:
	default:
	}
}

// done says that no more comes: what waits is still heard.
func (e *ears) done() {
	if e != nil {
		close(e.coded)
	}
}

// Write is take, for what writes coded sound.
func (e *ears) Write(coded []byte) (int, error) {
	e.take(append([]byte{}, coded...))
	return len(coded), nil
}

// heard is what the sound came to so far; nil of one that was not listened to.
func (e *ears) heard() *look.Heard {
	if e == nil {
		return nil
	}
	e.mu.Lock()
	defer e.mu.Unlock()
	if time.Since(e.asked) > heardEvery && e.sound.Seconds() > 0 {
		h := e.sound.Hear()
		e.last, e.asked = &h, time.Now()
	}
	return e.last
}

// oggOf wraps Opus for ears that listen to it; nil for none.
func oggOf(e *ears, channels int) *oggwriter.OggWriter {
	if e == nil {
		return nil
	}
	w, err := oggwriter.NewWith(e, 48000, uint16(channels))
	if err != nil {
		return nil
	}
	return w
}
