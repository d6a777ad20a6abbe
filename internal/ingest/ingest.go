// Package ingest answers: what does a sender really send, as a destination sees it, and what does it do when the destination
// does badly?
//
// It is a destination of one's own, for one rehearsal: an address and a key made for it, on this computer or, when somebody
// opens it, on the local network. RTMP is taken in Go, SRT by ffmpeg as a child that hands it on to us, WebRTC by WHIP. What
// arrives is held in numbers; of the picture one keyframe every few seconds is decoded. A relay before it does badly on
// demand. Nothing that was sent is kept but the last of those frames.
package ingest

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"sync"
	"time"

	"eventether/core/inspect"
	"eventether/core/look"
)

// Options are of one rehearsal.
type Options struct {
	Transport string  // rtmp, srt or webrtc
	Open      bool    // to the local network, not to this computer alone
	Kbps      float64 // planned for the picture, 0 where nothing is
	Log       *slog.Logger
}

// Ingest is a destination for one rehearsal.
type Ingest struct {
	o       Options
	app     string
	key     string
	began   time.Time
	address []string
	relay   *relay
	ctx     context.Context // done when it closes
	end     context.CancelFunc
	over    sync.WaitGroup

	mu        sync.Mutex
	live      *inspect.Live
	publisher net.Conn // who sends now
	events    []Event
	shot      []byte
	shotAt    float64
	seen      *look.Picture
	looker    chan keyframe
	ears      *ears // of who sends now, or sent last; nil where the sound is not listened to
}

// Event is something that happened at the door.
type Event struct {
	At   float64 `json:"at" doc:"Seconds since it was opened"`
	Says string  `json:"says"`
}

// Bounds of an ingest.
const (
	mostEvents    = 200
	mostAtOnce    = 16               // connections
	speakWithin   = 10 * time.Second // a sender that says nothing for so long before it publishes blocks nobody
	silentFor     = 30 * time.Second // and one that publishes and then is silent for so long is let go
	lookEvery     = 2 * time.Second  // a keyframe is decoded at most so often
	decodedWithin = 10 * time.Second
)

// Start opens a destination.
func Start(o Options) (*Ingest, error) {
	in := &Ingest{o: o, app: "rehearse", key: rand.Text(), began: time.Now(), live: inspect.NewLive(o.Kbps), events: []Event{}, seen: look.NewPicture(),
		looker: make(chan keyframe, 1)}
	ctx, end := context.WithCancel(context.Background())
	in.ctx, in.end = ctx, end
	in.over.Go(func() { in.look(ctx) })
	var err error
	switch o.Transport {
	case "rtmp":
		err = in.takeRTMP(ctx, in.host())
	case "srt":
		err = in.takeSRT(ctx)
	case "webrtc":
		err = in.takeWHIP(ctx)
	default:
		err = fmt.Errorf("%q: want rtmp, srt or webrtc", o.Transport)
	}
	if err != nil {
		in.Close()
		return nil, err
	}
	return in, nil
}

// host is where it listens.
func (in *Ingest) host() string {
	if in.o.Open {
		return "0.0.0.0:0"
	}
	return "127.0.0.1:0"
}

// hosts are the addresses of this computer a sender may use for a port.
func (in *Ingest) hosts(port string) (out []string) {
	if !in.o.Open {
		return []string{net.JoinHostPort("127.0.0.1", port)}
	}
	own, err := net.InterfaceAddrs()
	if err != nil {
		return []string{net.JoinHostPort("127.0.0.1", port)}
	}
	for _, a := range own {
		if n, ok := a.(*net.IPNet); ok && n.IP.To4() != nil && !n.IP.IsLoopback() {
			out = append(out, net.JoinHostPort(n.IP.String(), port))
		}
	}
	return append(out, net.JoinHostPort("127.0.0.1", port))
}

// now is the clock of the rehearsal, in seconds.
func (in *Ingest) now() float64 { return time.Since(in.began).Seconds() }

// survives keeps what a sender made panic to that sender: it is let go, and told.
func (in *Ingest) survives() {
	if p := recover(); p != nil {
		if in.o.Log != nil {
			in.o.Log.Error("panic", "rehearsal", in.o.Transport, "what", p)
		}
		in.note("What a sender sent could not be read, and it was let go.")
	}
}

// note notes an event; of too many the first are kept.
func (in *Ingest) note(format string, args ...any) {
	in.mu.Lock()
	defer in.mu.Unlock()
	if len(in.events) < mostEvents {
		in.events = append(in.events, Event{round(in.now()), fmt.Sprintf(format, args...)})
	}
}

func round(s float64) float64 { return float64(int(s*10)) / 10 }

// Addresses are what is typed into the program as its server; the key goes beside it.
func (in *Ingest) Addresses() []string { return in.address }

// Key is the key made for this rehearsal.
func (in *Ingest) Key() string { return in.key }

// Transport is what it takes.
func (in *Ingest) Transport() string { return in.o.Transport }

// Standing is what an ingest knows at one moment.
type Standing struct {
	At      float64 // seconds since it was opened
	Arrived inspect.Arrived
	Going   inspect.Going
	Events  []Event
	Shot    []byte // the last keyframe that was looked at, as JPEG
	Seen    []look.Sign
	Heard   *look.Heard // nil of a sound that is not listened to
}

// Standing tells how it stands.
func (in *Ingest) Standing() Standing {
	in.mu.Lock()
	ears := in.ears
	in.mu.Unlock()
	heard := ears.heard() // takes a while
	in.mu.Lock()
	defer in.mu.Unlock()
	s := Standing{Heard: heard, At: round(in.now()), Going: in.live.Going(in.now()), Events: append([]Event{}, in.events...), Shot: in.shot, Seen: []look.Sign{}}
	s.Arrived = in.live.Arrived()
	s.Arrived.Transport = in.o.Transport
	if in.seen.Frames() > 1 {
		for _, f := range in.seen.See().Signs {
			if f.What == look.IsBlack || f.What == look.IsFrozen || f.What == look.IsBorder { // what few small frames can tell
				s.Seen = append(s.Seen, f)
			}
		}
	}
	return s
}

// Bounds of what a far end does badly.
const (
	leastNarrow, mostNarrow = 50, 100_000 // kb/s
	leastSlow, mostSlow     = 1, 5000     // ms
	leastDip, mostDip       = 0.5, 120    // s
)

// ErrDip says that a far end cannot do so, in words for whoever asked.
var ErrDip = errors.New("the far end cannot do that")

// checkDip says what is wrong with what is asked of a far end.
func checkDip(kind string, value, seconds float64) error {
	within := func(what, unit string, v, low, high float64) error {
		if v >= low && v <= high {
			return nil
		}
		return fmt.Errorf("%w: %s %g %s; want %g to %g", ErrDip, what, v, unit, low, high)
	}
	switch kind {
	case inspect.Narrow:
		return errors.Join(within("down to", "kb/s", value, leastNarrow, mostNarrow), within("for", "s", seconds, leastDip, mostDip))
	case inspect.Slow:
		return errors.Join(within("by", "ms", value, leastSlow, mostSlow), within("for", "s", seconds, leastDip, mostDip))
	case inspect.Stalls, inspect.Denies:
		return within("for", "s", seconds, leastDip, mostDip)
	case inspect.Closes:
		return nil
	}
	return fmt.Errorf("%w: %q is nothing it does", ErrDip, kind)
}

// Dip does something badly from now on.
func (in *Ingest) Dip(kind string, value, seconds float64) error {
	if kind == inspect.Closes {
		seconds = 0
	}
	err := checkDip(kind, value, seconds)
	switch {
	case err != nil:
		return err
	case in.relay == nil:
		return fmt.Errorf("this destination takes %s, and cannot do badly: rehearse by RTMP or SRT for that", strings.ToUpper(in.o.Transport))
	}
	in.mu.Lock()
	if g := in.live.Going(in.now()); !g.Connected {
		in.mu.Unlock()
		return errors.New("nobody sends: begin sending first")
	}
	in.live.Dips(in.now(), kind, value, seconds)
	in.mu.Unlock()
	in.relay.does(kind, value, time.Duration(seconds*float64(time.Second)))
	return nil
}

// Close ends it, and every child with it.
func (in *Ingest) Close() {
	in.mu.Lock() // whatever begins begins before, or not at all
	in.end()
	in.mu.Unlock()
	if in.relay != nil {
		in.relay.close()
	}
	in.over.Wait()
}

// publishes makes somebody the one who sends; false where somebody else does.
func (in *Ingest) publishes(c net.Conn) bool {
	in.mu.Lock()
	defer in.mu.Unlock()
	if in.publisher != nil {
		return false
	}
	in.publisher, in.seen = c, look.NewPicture()
	if in.ears != nil {
		in.ears.end()
		in.ears = nil
	}
	in.live.Begins(in.now())
	return true
}

// leaves says that who sent is gone.
func (in *Ingest) leaves(c net.Conn) {
	in.mu.Lock()
	defer in.mu.Unlock()
	if in.publisher == c {
		in.publisher = nil
		in.live.Ends(in.now())
	}
}

func (in *Ingest) picture(p inspect.Packet) {
	in.mu.Lock()
	defer in.mu.Unlock()
	in.live.Picture(in.now(), p)
}

func (in *Ingest) sound(p inspect.Packet) {
	in.mu.Lock()
	defer in.mu.Unlock()
	in.live.Sound(in.now(), p)
}

// says takes over what the stream says of its picture, or of its sound.
func (in *Ingest) says(v *inspect.Video, a *inspect.Audio) {
	in.mu.Lock()
	defer in.mu.Unlock()
	in.live.Says(v, a)
}
