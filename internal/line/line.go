// Package line answers: what does this line really carry, to that address, now?
//
// A test picture of a few seconds, made by ffmpeg as a child that pipes to us, is published over and over at one
// bitrate. The connection is our own: how late it runs, where it stalls and what the system counts of it (round trip,
// resends, bytes that were acknowledged) is the answer. The key is used once and stands in no process list, log or
// error.
package line

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"math"
	"net"
	"net/url"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/bluenviron/gortmplib"
	"github.com/bluenviron/gortmplib/pkg/codecs"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/mpeg4audio"
)

// Try is one try of a line.
type Try struct {
	Address string  // rtmp:// or rtmps://, host, perhaps a port, application; srt://host:port; "" for the stand-in on this computer
	Key     string  // of the stream
	Kbps    float64 // of picture and sound together
	Seconds float64

	late   float64    // seconds behind that end it; mostLate when 0
	dialer net.Dialer // what it is connected by
}

// Bounds of a try.
const (
	LeastKbps, MostKbps       = 300, 200_000
	LeastSeconds, MostSeconds = 2, 600
	audioKbps                 = 128
	connectWithin             = 15 * time.Second
	stalled                   = time.Second // without a byte that was acknowledged, while some wait
	mostLate                  = 10.0        // seconds behind: then it is over, and the line is full
	behind                    = 0.5         // seconds the last of it may arrive late on a line that is not full [estimate]
)

// Tried is what a try came to.
type Tried struct {
	Local   bool    // the far end is on this computer: nothing is said of a line
	Seconds float64 // from the first frame to the last that arrived
	Wanted  float64 // Mb/s that were to be sent
	Mbps    float64 // that arrived, as the far end's system acknowledged them; as they were written where no system counts
	Filled  bool    // it could not carry what was to be sent: what arrived is what it carries; else it carries at least that
	Stalls  []Stall // longer than a second without anything arriving
	Counted bool    // the system counted the connection: round trip and resends
	RTTms   float64 // in the middle of the try
	LeastMs float64
	Resent  float64 // of a hundred segments
	Closed  string  // why it ended early
}

// Stall is a while in which nothing arrived, in seconds from the beginning.
type Stall struct{ From, To float64 }

// Step is how far a try is.
type Step struct {
	Done  float64 `json:"done"`
	Of    float64 `json:"of"`
	Mbps  float64 `json:"mbps"`
	RTTms float64 `json:"rttMs,omitempty"`
}

// Check tells what is wrong with a try, in words.
func (t *Try) Check() error {
	switch {
	case t.Kbps < LeastKbps || t.Kbps > MostKbps:
		return fmt.Errorf("%.0f kb/s: want %d to %d", t.Kbps, LeastKbps, MostKbps)
	case t.Seconds < LeastSeconds || t.Seconds > MostSeconds:
		return fmt.Errorf("%.0f s: want %d to %d", t.Seconds, LeastSeconds, MostSeconds)
	case t.Address == "":
		return nil
	}
	u, err := url.Parse(t.Address)
	switch {
	case err != nil:
		return errors.New("the address cannot be read: want rtmp://host/application, without the key")
	case u.Scheme != "rtmp" && u.Scheme != "rtmps" && u.Scheme != "srt":
		return fmt.Errorf("%s: want an address that begins with rtmp:// or rtmps://, or srt://", cmp.Or(u.Scheme, t.Address))
	case u.Hostname() == "":
		return errors.New("the address names no host: want rtmp://host/application")
	case u.User != nil:
		return errors.New("the address has a name or password in it: leave it out")
	case u.Scheme == "srt":
		return checkSRT(u)
	case strings.Trim(u.Path, "/") == "":
		return errors.New("the address names no application: want rtmp://host/application, without the key")
	}
	return nil
}

// errOwn refuses services of this very computer, which a page could otherwise reach by us.
var errOwn = errors.New("the address is this very computer: try the built-in stand-in instead")

// allowed are the addresses of a host that may be called: none of this computer's own, unless own says so.
func allowed(ctx context.Context, host string, own bool) ([]net.IP, error) {
	ips, err := net.DefaultResolver.LookupIPAddr(ctx, host)
	if err != nil {
		return nil, fmt.Errorf("%s is no name anybody knows here", host)
	}
	mine, err := net.InterfaceAddrs()
	if err != nil {
		return nil, err
	}
	out := []net.IP{}
	for _, ip := range ips {
		here := ip.IP.IsLoopback() || ip.IP.IsUnspecified() || slices.ContainsFunc(mine, func(a net.Addr) bool {
			n, ok := a.(*net.IPNet)
			return ok && n.IP.Equal(ip.IP)
		})
		if here && !own {
			return nil, errOwn
		}
		out = append(out, ip.IP)
	}
	return out, nil
}

// dial connects to an address that is not this computer's own, unless it is the stand-in's.
func dial(ctx context.Context, d *net.Dialer, address, standIn string) (net.Conn, error) {
	host, port, err := net.SplitHostPort(address)
	if err != nil {
		return nil, err
	}
	ips, err := allowed(ctx, host, address == standIn)
	if err != nil {
		return nil, err
	}
	var last error
	for _, ip := range ips { // what was looked at is what is connected to
		c, err := d.DialContext(ctx, "tcp", net.JoinHostPort(ip.String(), port))
		if err == nil {
			return c, nil
		}
		last = err
	}
	return nil, last
}

// Do tries a line, and tells how far it is. What goes wrong on the way there is an error that says what and where, and
// never the key; once it is connected, what happened is in the answer.
func Do(ctx context.Context, t Try, tell func(Step)) (*Tried, error) {
	if err := t.Check(); err != nil {
		return nil, err
	}
	film, err := testFilm(ctx, t.Kbps-audioKbps)
	if err != nil {
		return nil, err
	}
	if strings.HasPrefix(t.Address, "srt://") {
		return doSRT(ctx, t, film, false, tell)
	}
	standIn := ""
	if t.Address == "" {
		s, err := NewStandIn()
		if err != nil {
			return nil, err
		}
		defer s.Close()
		t.Address, t.Key, standIn = s.Address(), s.Key(), s.Host()
	}
	out, err := publish(ctx, t, film, standIn, tell)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	} else if err != nil {
		return nil, errors.New(withoutKey(err.Error(), t.Key))
	}
	out.Closed = withoutKey(out.Closed, t.Key)
	return out, nil
}

// withoutKey is a text in which the key does not stand, however it is written.
func withoutKey(text, key string) string {
	if key == "" {
		return text
	}
	for _, form := range []string{key, url.PathEscape(key), url.QueryEscape(key)} {
		text = strings.ReplaceAll(text, form, "(the key)")
	}
	return text
}

// connect opens the connection and begins to publish.
func connect(ctx context.Context, t Try, film *film, standIn string) (*publisher, *gortmplib.Writer, error) {
	u, err := url.Parse(t.Address)
	if err != nil {
		return nil, nil, err
	}
	within, cancel := context.WithTimeout(ctx, connectWithin)
	defer cancel()
	c, err := newPublisher(within, &t.dialer, u, t.Key, standIn)
	switch {
	case errors.Is(err, errOwn):
		return nil, nil, err
	case err != nil && within.Err() != nil:
		return nil, nil, fmt.Errorf("%s does not answer as an ingest within %d s", u.Host, int(connectWithin.Seconds()))
	case err != nil:
		return nil, nil, fmt.Errorf("%s: %w", u.Host, err)
	}
	w := &gortmplib.Writer{Conn: c, Tracks: []*gortmplib.Track{
		{Codec: &codecs.H264{SPS: film.sps, PPS: film.pps}}, {Codec: &codecs.MPEG4Audio{Config: film.sound}}}}
	if err := w.Initialize(); err != nil {
		c.Close()
		return nil, nil, fmt.Errorf("%s: %w", u.Host, err)
	}
	return c, w, nil
}

// publish sends the film over and over for as long as it is to be tried.
func publish(ctx context.Context, t Try, film *film, standIn string, tell func(Step)) (*Tried, error) {
	c, w, err := connect(ctx, t, film, standIn)
	if err != nil {
		return nil, err
	}
	defer c.Close()
	out := &Tried{Local: standIn != "", Wanted: math.Round(film.kbps/10) / 100, Stalls: []Stall{}}
	began := time.Now()
	watch := newWatch(c, began)
	ended := make(chan struct{})
	var far error
	go func() { // what the far end says is read, and that it closes is noticed
		defer close(ended)
		for {
			if _, err := c.Read(); err != nil {
				far = err
				return
			}
		}
	}()
	stop := context.AfterFunc(ctx, c.Close)
	defer stop()
	var wait sync.WaitGroup
	over := make(chan struct{})
	wait.Go(func() {
		watch.run(over, func(mbps, rtt float64) {
			tell(Step{Done: time.Since(began).Seconds(), Of: t.Seconds, Mbps: mbps, RTTms: rtt})
		})
	})
	sent := send(w, c, film, began, t.Seconds, cmp.Or(t.late, mostLate))
	if sent.err == nil {
		watch.drain(2 * time.Second)
	}
	out.Seconds = time.Since(began).Seconds()
	watch.look()
	close(over)
	wait.Wait()
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if sent.err != nil {
		c.Close()
		<-ended
		out.Closed = "the far end closed the connection after " + seconds(out.Seconds)
		if far != nil && !errors.Is(far, net.ErrClosed) && far.Error() != "EOF" {
			out.Closed += ": " + far.Error()
		}
		if sent.full {
			out.Closed = ""
		}
	}
	watch.into(out)
	out.Filled = sent.full || sent.late > behind || sent.err == nil && out.Seconds-t.Seconds > behind
	return out, nil
}

func seconds(s float64) string { return fmt.Sprintf("%.1f s", s) }

// sending is how sending went.
type sending struct {
	late float64 // how far behind the last frame was, in seconds
	full bool    // it fell so far behind that the rest was not sent
	err  error
}

// send publishes frames when they are due, until one is too late; a far end that takes nothing more holds up nobody for
// longer.
func send(w *gortmplib.Writer, c *publisher, f *film, began time.Time, lasts, most float64) (s sending) {
	video, audio := w.Tracks[0], w.Tracks[1]
	frames, sounds := 0, 0
	const aac = 1024.0 / 48000
	for {
		due := float64(frames) / f.hz
		if due >= lasts {
			return s
		}
		if d := time.Until(began.Add(time.Duration(due * float64(time.Second)))); d > 0 {
			time.Sleep(d)
		}
		at := time.Duration(due * float64(time.Second))
		if s.err = c.conn.SetWriteDeadline(began.Add(at + time.Duration(most*float64(time.Second)))); s.err != nil {
			return s
		}
		if s.err = w.WriteH264(video, at, at, f.frames[frames%len(f.frames)]); s.err != nil {
			s.full = errors.Is(s.err, os.ErrDeadlineExceeded)
			return s
		}
		for ; float64(sounds)*aac <= due; sounds++ {
			at := time.Duration(float64(sounds) * aac * float64(time.Second))
			if s.err = w.WriteMPEG4Audio(audio, at, f.sounds[sounds%len(f.sounds)]); s.err != nil {
				s.full = errors.Is(s.err, os.ErrDeadlineExceeded)
				return s
			}
		}
		frames++
		if s.late = time.Since(began).Seconds() - due; s.late > most {
			s.full = true
			return s
		}
	}
}

// StandIn is an ingest on this computer that takes what is sent to it, and throws it away.
type StandIn struct {
	listener net.Listener
	app, key string
}

// NewStandIn listens on loopback, with an application and a key made for this time.
func NewStandIn() (*StandIn, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	return standInOn(l), nil
}

func standInOn(l net.Listener) *StandIn {
	s := &StandIn{l, "try", rand.Text()}
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go s.take(c)
		}
	}()
	return s
}

// Host is where it listens.
func (s *StandIn) Host() string { return s.listener.Addr().String() }

// Address is what is published to.
func (s *StandIn) Address() string { return "rtmp://" + s.Host() + "/" + s.app }

// Key is the one it takes.
func (s *StandIn) Key() string { return s.key }

// Close ends it.
func (s *StandIn) Close() { _ = s.listener.Close() }

// take accepts one publisher with the right key, and reads what it sends until it ends, or is silent for long.
func (s *StandIn) take(c net.Conn) {
	defer c.Close()
	patience := func() { _ = c.SetDeadline(time.Now().Add(15 * time.Second)) }
	patience()
	sc := &gortmplib.ServerConn{RW: c}
	if sc.Initialize() != nil || sc.AcceptConn() != nil {
		return
	}
	if !sc.Publish || sc.URL == nil || !strings.HasSuffix(sc.URL.Path, "/"+s.key) {
		_ = sc.RejectAction()
		return
	}
	if sc.AcceptAction() != nil {
		return
	}
	for {
		patience()
		if _, err := sc.Read(); err != nil {
			return
		}
	}
}

// film is a test picture with sound, coded: frames of NAL units, and packets of sound.
type film struct {
	hz       float64
	kbps     float64 // of it all, as it came out
	sps, pps []byte
	frames   [][][]byte
	sound    *mpeg4audio.AudioSpecificConfig
	sounds   [][]byte
}
