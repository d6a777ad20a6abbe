package line

import (
	"cmp"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"net/netip"
	"net/url"
	"slices"
	"strconv"
	"time"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/mpeg4audio"
	"github.com/bluenviron/mediacommon/v2/pkg/formats/mpegts"
	tscodecs "github.com/bluenviron/mediacommon/v2/pkg/formats/mpegts/codecs"
)

// srtPayload is how much a message holds: seven packets of a transport stream.
const srtPayload = 7 * 188

// srtCounted is what is counted of a connection by SRT.
type srtCounted struct {
	sent, waits, dropped uint64 // bytes of ours that were sent, that wait to be acknowledged, and that were given up for being too late
	waitsMs              float64
	packets, again       int64
	rttMs                float64
}

// srtAsked is what an address asks for.
type srtAsked struct {
	address    []byte
	streamID   string
	passphrase string
	latencyMs  int32
}

// Latency of a try by SRT, in milliseconds: what is asked for when the address does not say, and the bounds of what it may.
const (
	srtLatency                      = 1000
	leastSRTLatency, mostSRTLatency = 20, 8000
)

// checkSRT says what is wrong with an address by SRT, never what is secret in it.
func checkSRT(u *url.URL) error {
	q, err := url.ParseQuery(u.RawQuery)
	if err != nil {
		return errors.New("the address cannot be read behind its question mark: want name=value, joined by &")
	}
	for name := range q {
		if !slices.Contains([]string{"streamid", "passphrase", "latency", "mode"}, name) {
			return fmt.Errorf("the address says %s: want streamid, passphrase, latency and mode at most", name)
		}
	}
	if m := q.Get("mode"); m != "" && m != "caller" {
		return errors.New("the address is no caller's: a line is tried by calling the ingest")
	}
	if l := q.Get("latency"); l != "" {
		if v, err := strconv.Atoi(l); err != nil || v < leastSRTLatency || v > mostSRTLatency {
			return fmt.Errorf("latency %s: want %d to %d, in milliseconds", l, leastSRTLatency, mostSRTLatency)
		}
	}
	if u.Port() == "" {
		return errors.New("the address names no port: want srt://host:port")
	}
	return nil
}

// askedSRT resolves an address by SRT; what is not this computer's own is taken.
func askedSRT(ctx context.Context, t *Try, own bool) (*srtAsked, error) {
	u, err := url.Parse(t.Address)
	if err != nil {
		return nil, err
	}
	q := u.Query()
	a := &srtAsked{streamID: cmp.Or(q.Get("streamid"), t.Key), passphrase: q.Get("passphrase"), latencyMs: srtLatency}
	if v, err := strconv.Atoi(q.Get("latency")); err == nil {
		a.latencyMs = int32(v)
	}
	ips, err := allowed(ctx, u.Hostname(), own)
	if err != nil {
		return nil, err
	}
	port, err := strconv.ParseUint(u.Port(), 10, 16)
	if err != nil {
		return nil, err
	}
	ip, _ := netip.AddrFromSlice(ips[0])
	a.address = sockaddr(ip.Unmap(), uint16(port))
	return a, nil
}

// sockaddr is an address as connect(2) takes it [documented: ip(7), ipv6(7)].
func sockaddr(ip netip.Addr, port uint16) []byte {
	if ip.Is4() {
		b := make([]byte, 16)
		binary.NativeEndian.PutUint16(b, 2)
		binary.BigEndian.PutUint16(b[2:], port)
		copy(b[4:], ip.AsSlice())
		return b
	}
	b := make([]byte, 28)
	binary.NativeEndian.PutUint16(b, 10)
	binary.BigEndian.PutUint16(b[2:], port)
	copy(b[8:], ip.AsSlice())
	return b
}

// doSRT tries a line by SRT: the film as a transport stream, in messages of seven packets, each frame when it is due.
func doSRT(ctx context.Context, t Try, f *film, own bool, tell func(Step)) (*Tried, error) {
	a, err := askedSRT(ctx, &t, own)
	if err != nil {
		return nil, err
	}
	c, err := dialSRT(a.address, a.streamID, a.passphrase, a.latencyMs)
	if err != nil {
		u, _ := url.Parse(t.Address)
		return nil, errors.New(withoutKey(withoutKey(u.Host+": "+err.Error(), a.streamID), a.passphrase))
	}
	defer c.Close()
	stop := context.AfterFunc(ctx, c.Close)
	defer stop()
	out := &Tried{Wanted: math.Round(f.kbps/10) / 100, Stalls: []Stall{}, Counted: true}
	w := newSRTWatch(c, tell, t.Seconds)
	err = sendSRT(c, w, f, t.Seconds)
	if err == nil {
		w.drain(2*time.Second + time.Duration(a.latencyMs)*time.Millisecond)
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	w.into(out, t.Seconds)
	if err != nil {
		out.Closed = "the far end closed the connection after " + seconds(out.Seconds)
	}
	return out, nil
}

// messages collects a transport stream into messages.
type messages struct {
	c    *srtConn
	held []byte
}

func (m *messages) Write(b []byte) (int, error) {
	m.held = append(m.held, b...)
	for len(m.held) >= srtPayload {
		if _, err := m.c.Write(m.held[:srtPayload]); err != nil {
			return 0, err
		}
		m.held = append(m.held[:0], m.held[srtPayload:]...)
	}
	return len(b), nil
}

// sendSRT sends the film over and over for so many seconds.
func sendSRT(c *srtConn, watch *srtWatch, f *film, lasts float64) error {
	video := &mpegts.Track{Codec: &tscodecs.H264{}}
	audio := &mpegts.Track{Codec: &tscodecs.MPEG4Audio{Config: mpeg4audio.AudioSpecificConfig{Type: f.sound.Type, SampleRate: f.sound.SampleRate, ChannelConfig: f.sound.ChannelConfig}}}
	w := &mpegts.Writer{W: &messages{c: c}, Tracks: []*mpegts.Track{video, audio}}
	if err := w.Initialize(); err != nil {
		return err
	}
	const aac, clock = 1024.0 / 48000, 90000
	began, sounds := time.Now(), 0
	for n := 0; ; n++ {
		due := float64(n) / f.hz
		if due >= lasts {
			return nil
		}
		if d := time.Until(began.Add(time.Duration(due * float64(time.Second)))); d > 0 {
			time.Sleep(d)
		}
		at := int64((1 + due) * clock)
		au := f.frames[n%len(f.frames)]
		if n%len(f.frames)%60 == 0 {
			au = append([][]byte{f.sps, f.pps}, au...)
		}
		if err := w.WriteH264(video, at, at, au); err != nil {
			return err
		}
		for ; float64(sounds)*aac <= due; sounds++ {
			if err := w.WriteMPEG4Audio(audio, int64((1+float64(sounds)*aac)*clock), [][]byte{f.sounds[sounds%len(f.sounds)]}); err != nil {
				return err
			}
		}
		watch.look()
	}
}

// srtWatch looks at what is counted while it is sent.
type srtWatch struct {
	c      *srtConn
	tell   func(Step)
	lasts  float64
	began  time.Time
	looked time.Time
	told   time.Time
	was    uint64 // arrived when it was told last
	last   srtCounted
	rtts   []float64
	moved  time.Time
	stalls []Stall
}

func newSRTWatch(c *srtConn, tell func(Step), lasts float64) *srtWatch {
	now := time.Now()
	return &srtWatch{c: c, tell: tell, lasts: lasts, began: now, told: now, moved: now}
}

// arrived is what was acknowledged.
func (s *srtCounted) arrived() uint64 {
	if s.waits+s.dropped > s.sent {
		return 0
	}
	return s.sent - s.waits - s.dropped
}

// look notes what is counted, every tenth of a second.
func (w *srtWatch) look() {
	now := time.Now()
	if now.Sub(w.looked) < looks {
		return
	}
	w.looked = now
	s, ok := w.c.counted()
	if !ok {
		return
	}
	if s.arrived() > w.last.arrived() || s.waits == 0 {
		if d := now.Sub(w.moved); d > stalled {
			w.stalls = append(w.stalls, Stall{round(w.moved.Sub(w.began)), round(now.Sub(w.began))})
		}
		w.moved = now
	}
	w.last = s
	if s.rttMs > 0 {
		w.rtts = append(w.rtts, s.rttMs)
	}
	if d := now.Sub(w.told); d >= 500*time.Millisecond {
		w.tell(Step{Done: now.Sub(w.began).Seconds(), Of: w.lasts, Mbps: math.Round(float64(s.arrived()-min(w.was, s.arrived()))*8/d.Seconds()/1e4) / 100, RTTms: s.rttMs})
		w.told, w.was = now, s.arrived()
	}
}

// drain waits until all that was sent has arrived, at most so long.
func (w *srtWatch) drain(most time.Duration) {
	for end := time.Now().Add(most); time.Now().Before(end); time.Sleep(looks / 2) {
		w.looked = time.Time{}
		if w.look(); w.last.waits == 0 {
			return
		}
	}
}

// into puts what was counted into the answer. What was given up for being too late, or arrives late by more than half a second,
// tells a line that is full.
func (w *srtWatch) into(t *Tried, lasts float64) {
	t.Seconds = time.Since(w.began).Seconds()
	if lasts > 0 { // with what carries it
		t.Wanted = math.Round(float64(w.last.sent)*8/lasts/1e4) / 100
	}
	t.Mbps = math.Round(float64(w.last.arrived())*8/t.Seconds/1e4) / 100
	t.Stalls = append(t.Stalls, w.stalls...)
	slices.Sort(w.rtts)
	if n := len(w.rtts); n > 0 {
		t.RTTms, t.LeastMs = math.Round(w.rtts[n/2]*100)/100, math.Round(w.rtts[0]*100)/100
	}
	if w.last.packets > 0 {
		t.Resent = math.Round(float64(w.last.again)/float64(w.last.packets)*1e4) / 100
	}
	t.Filled = w.last.dropped > 0 || t.Seconds-lasts > behind+t.RTTms/1000
}
