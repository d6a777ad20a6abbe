package ingest

import (
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h264"
	"github.com/pion/interceptor"
	"github.com/pion/rtp"
	"github.com/pion/rtp/codecs"
	"github.com/pion/webrtc/v4"
	"github.com/pion/webrtc/v4/pkg/media/oggwriter"

	"eventether/core/inspect"
	"eventether/internal/media"
)

// mostOffer is the largest offer that is read, in bytes.
const mostOffer = 256 << 10

// takeWHIP answers offers by WHIP [standard: RFC 9725] and takes H.264 and Opus.
func (in *Ingest) takeWHIP(ctx context.Context) error {
	l, err := net.Listen("tcp", in.host())
	if err != nil {
		return err
	}
	w := &whip{in: in, ctx: ctx}
	if w.api, err = rtcAPI(in.o.Open); err != nil {
		_ = l.Close()
		return err
	}
	srv := &http.Server{Handler: w, ReadHeaderTimeout: speakWithin, ReadTimeout: speakWithin, WriteTimeout: 2 * speakWithin, MaxHeaderBytes: 16 << 10}
	in.over.Go(func() { _ = srv.Serve(l) })
	in.over.Go(func() {
		<-ctx.Done()
		_ = srv.Close()
		w.drop()
	})
	_, port, _ := net.SplitHostPort(l.Addr().String())
	for _, h := range in.hosts(port) {
		in.address = append(in.address, "http://"+h+"/whip")
	}
	return nil
}

// rtcAPI takes the codecs WebRTC has in common, over the interfaces of this computer.
func rtcAPI(open bool) (*webrtc.API, error) {
	m := &webrtc.MediaEngine{}
	if err := m.RegisterDefaultCodecs(); err != nil {
		return nil, err
	}
	i := &interceptor.Registry{}
	if err := webrtc.RegisterDefaultInterceptors(m, i); err != nil {
		return nil, err
	}
	s := webrtc.SettingEngine{}
	s.SetIncludeLoopbackCandidate(true)
	if !open {
		s.SetIPFilter(net.IP.IsLoopback)
	}
	return webrtc.NewAPI(webrtc.WithMediaEngine(m), webrtc.WithInterceptorRegistry(i), webrtc.WithSettingEngine(s)), nil
}

// whip is the door of WHIP.
type whip struct {
	in  *Ingest
	ctx context.Context
	api *webrtc.API

	mu sync.Mutex
	pc *webrtc.PeerConnection
}

// pipe stands for the connection of a sender by WebRTC, which has none of TCP.
type pipe struct{ net.Conn }

func (w *whip) drop() {
	w.mu.Lock()
	pc := w.pc
	w.pc = nil
	w.mu.Unlock()
	if pc != nil {
		_ = pc.Close()
	}
}

// ServeHTTP answers an offer, and ends what was begun.
func (w *whip) ServeHTTP(rw http.ResponseWriter, r *http.Request) {
	h := rw.Header()
	h.Set("Access-Control-Allow-Origin", "*")
	h.Set("Access-Control-Allow-Headers", "Authorization, Content-Type")
	h.Set("Access-Control-Allow-Methods", "POST, DELETE, OPTIONS")
	h.Set("Access-Control-Expose-Headers", "Location")
	switch {
	case r.Method == http.MethodOptions:
		rw.WriteHeader(http.StatusNoContent)
		return
	case !strings.HasPrefix(r.URL.Path, "/whip"):
		http.NotFound(rw, r)
		return
	case r.Header.Get("Authorization") != "Bearer "+w.in.key:
		w.in.note("A sender came with a key that is not the one of this rehearsal, and was refused.")
		http.Error(rw, "the bearer token is not the key of this rehearsal", http.StatusUnauthorized)
		return
	case r.Method == http.MethodDelete:
		w.drop()
		return
	case r.Method != http.MethodPost:
		http.Error(rw, "want an offer, by POST", http.StatusMethodNotAllowed)
		return
	case !strings.HasPrefix(r.Header.Get("Content-Type"), "application/sdp"):
		http.Error(rw, "want an offer as application/sdp", http.StatusUnsupportedMediaType)
		return
	}
	offer, err := io.ReadAll(io.LimitReader(r.Body, mostOffer))
	if err != nil {
		http.Error(rw, "the offer did not come in whole", http.StatusBadRequest)
		return
	}
	answer, err := w.begin(r.Context(), string(offer))
	if err != nil {
		w.in.note("An offer by WHIP was refused: %s.", short(err.Error()))
		http.Error(rw, err.Error(), http.StatusNotAcceptable)
		return
	}
	h.Set("Content-Type", "application/sdp")
	h.Set("Location", "/whip/stream")
	rw.WriteHeader(http.StatusCreated)
	_, _ = io.WriteString(rw, answer)
}

// begin answers an offer.
func (w *whip) begin(ctx context.Context, offer string) (string, error) {
	pc, err := w.api.NewPeerConnection(webrtc.Configuration{})
	if err != nil {
		return "", err
	}
	me := &pipe{}
	if !w.in.publishes(me) {
		_ = pc.Close()
		return "", errors.New("somebody is sending already")
	}
	gone := sync.OnceFunc(func() {
		w.in.leaves(me)
		_ = pc.Close()
	})
	pc.OnConnectionStateChange(func(s webrtc.PeerConnectionState) {
		switch s {
		case webrtc.PeerConnectionStateConnected:
			w.in.note("The sender connected.")
		case webrtc.PeerConnectionStateFailed, webrtc.PeerConnectionStateClosed, webrtc.PeerConnectionStateDisconnected:
			w.in.note("The sender is gone.")
			go gone()
		}
	})
	pc.OnTrack(func(t *webrtc.TrackRemote, _ *webrtc.RTPReceiver) { w.track(t) })
	fail := func(err error) (string, error) {
		gone()
		return "", err
	}
	if err := pc.SetRemoteDescription(webrtc.SessionDescription{Type: webrtc.SDPTypeOffer, SDP: offer}); err != nil {
		return fail(errors.New("the offer cannot be read"))
	}
	answer, err := pc.CreateAnswer(nil)
	if err != nil {
		return fail(err)
	}
	gathered := webrtc.GatheringCompletePromise(pc)
	if err := pc.SetLocalDescription(answer); err != nil {
		return fail(err)
	}
	select {
	case <-gathered:
	case <-ctx.Done():
		return fail(ctx.Err())
	case <-w.ctx.Done():
		return fail(w.ctx.Err())
	}
	w.mu.Lock()
	w.pc = pc
	w.mu.Unlock()
	go func() { // one that never connects is let go
		timer := time.NewTimer(speakWithin)
		defer timer.Stop()
		select {
		case <-timer.C:
		case <-w.ctx.Done():
		}
		if pc.ConnectionState() != webrtc.PeerConnectionStateConnected {
			gone()
		}
	}()
	return pc.LocalDescription().SDP, nil
}

// track takes one track until it ends.
func (w *whip) track(t *webrtc.TrackRemote) {
	defer w.in.survives()
	c := t.Codec()
	rate := float64(c.ClockRate)
	if t.Kind() == webrtc.RTPCodecTypeAudio {
		w.in.says(nil, &inspect.Audio{Codec: strings.ToLower(strings.TrimPrefix(c.MimeType, "audio/")), Rate: int(c.ClockRate), Channels: int(c.Channels)})
		var ogg *oggwriter.OggWriter
		if strings.EqualFold(c.MimeType, webrtc.MimeTypeOpus) {
			ears := w.in.hears("ogg", int(c.ClockRate), int(max(1, c.Channels)))
			defer ears.done()
			ogg = oggOf(ears, int(max(1, c.Channels)))
		}
		stamps := unwrap{}
		for {
			p, _, err := t.ReadRTP()
			if err != nil {
				return
			}
			at := stamps.next(p.Timestamp) / rate
			w.in.sound(inspect.Packet{At: at, Decode: at, Bytes: len(p.Payload)})
			if ogg != nil {
				_ = ogg.WriteRTP(p)
			}
		}
	}
	f := &frames{in: w.in, avc: strings.EqualFold(c.MimeType, webrtc.MimeTypeH264), rate: rate}
	if !f.avc {
		w.in.says(&inspect.Video{Codec: strings.ToLower(strings.TrimPrefix(c.MimeType, "video/"))}, nil)
	}
	for {
		p, _, err := t.ReadRTP()
		if err != nil {
			return
		}
		f.take(p)
	}
}

// unwrap makes time stamps of 32 bits rise for ever, from 0.
type unwrap struct {
	last uint32
	sum  float64
	some bool
}

func (u *unwrap) next(stamp uint32) float64 {
	if u.some {
		u.sum += float64(int32(stamp - u.last))
	}
	u.some, u.last = true, stamp
	return u.sum
}

// frames puts packets together to frames.
type frames struct {
	in     *Ingest
	avc    bool
	rate   float64
	stamps unwrap
	parts  codecs.H264Packet
	frame  []byte // with start codes
	bytes  int
}

func (f *frames) take(p *rtp.Packet) {
	at := f.stamps.next(p.Timestamp) / f.rate
	f.bytes += len(p.Payload)
	if f.avc {
		if nal, err := f.parts.Unmarshal(p.Payload); err == nil && len(f.frame) < 16<<20 {
			f.frame = append(f.frame, nal...)
		}
	}
	if !p.Marker {
		return
	}
	key := false
	var nals h264.AnnexB
	if nals.Unmarshal(f.frame) == nil {
		key = h264.IsRandomAccess(nals)
	}
	for _, nal := range nals {
		if len(nal) > 0 && h264.NALUType(nal[0]&31) == h264.NALUTypeSPS {
			if v, ok := media.VideoOf(nal); ok {
				f.in.says(v, nil)
			}
		}
	}
	f.in.picture(inspect.Packet{At: at, Decode: at, Bytes: f.bytes, Key: key})
	if key {
		f.in.wants(keyframe{at, append([]byte{}, f.frame...)})
	}
	f.frame, f.bytes = f.frame[:0], 0
}
