package ingest

import (
	"context"
	"fmt"
	"net"
	"slices"
	"strings"
	"time"

	"github.com/abema/go-mp4"
	"github.com/bluenviron/gortmplib"
	"github.com/bluenviron/gortmplib/pkg/message"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/av1"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h264"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h265"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/mpeg4audio"
	"github.com/pion/rtp"
	"github.com/pion/webrtc/v4/pkg/media/oggwriter"

	"eventether/core/inspect"
	"eventether/internal/media"
)

// takeRTMP listens for senders by RTMP [standard: RTMP 1.0], behind the relay.
func (in *Ingest) takeRTMP(ctx context.Context, host string) error {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	in.relay, err = newRelay(host, l.Addr().String())
	if err != nil {
		_ = l.Close()
		return err
	}
	in.over.Go(func() {
		<-ctx.Done()
		_ = l.Close()
	})
	slots := make(chan struct{}, mostAtOnce)
	in.over.Go(func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			select {
			case slots <- struct{}{}:
				in.over.Go(func() {
					defer func() { <-slots }()
					stop := context.AfterFunc(ctx, func() { _ = c.Close() })
					defer stop()
					in.serve(c)
				})
			default:
				_ = c.Close()
			}
		}
	})
	for _, h := range in.hosts(in.relay.port()) {
		in.address = append(in.address, "rtmp://"+h+"/"+in.app)
	}
	return nil
}

// serve takes one sender: who is not the one with the key is refused, and who says nothing is let go.
func (in *Ingest) serve(c net.Conn) {
	defer c.Close()
	defer in.survives()
	patience := func(d time.Duration) { _ = c.SetDeadline(time.Now().Add(d)) }
	patience(speakWithin)
	sc := &gortmplib.ServerConn{RW: c}
	if sc.Initialize() != nil {
		in.note("Something connected that does not speak RTMP, and was let go.")
		return
	}
	if sc.AcceptConn() != nil {
		in.note("A sender connected and said nothing of a stream.")
		return
	}
	path := ""
	if sc.URL != nil {
		path = strings.Trim(sc.URL.Path, "/")
	}
	app, key, _ := strings.Cut(path, "/")
	switch {
	case !sc.Publish:
		_ = sc.RejectAction()
		in.note("A player asked for the stream, and was refused: this destination only takes.")
		return
	case app != in.app:
		_ = sc.RejectAction()
		in.note("A sender named the application %q, and was refused: it is %q here.", short(app), in.app)
		return
	case key != in.key:
		_ = sc.RejectAction()
		in.note("A sender came with a key that is not the one of this rehearsal, and was refused.")
		return
	case !in.publishes(c):
		_ = sc.RejectAction()
		in.note("A second sender came while the first was sending, and was refused.")
		return
	}
	defer in.leaves(c)
	if sc.AcceptAction() != nil {
		return
	}
	in.note("The sender connected.")
	r := reader{in: in}
	defer func() { r.ears.done() }()
	for {
		patience(silentFor)
		m, err := sc.Read()
		if err != nil {
			if e, ok := err.(net.Error); ok && e.Timeout() {
				in.note("Nothing came for %.0f s: the sender was let go.", silentFor.Seconds())
			} else {
				in.note("The sender is gone.")
			}
			return
		}
		r.take(m)
	}
}

func short(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// reader takes the messages of one sender.
type reader struct {
	in   *Ingest
	sets [][]byte // parameter sets of H.264
	ears *ears
	what string                          // they listen to, in words to compare
	aacs *mpeg4audio.AudioSpecificConfig // of AAC; nil of others
	ogg  *oggwriter.OggWriter            // wraps Opus; nil of others
}

// seconds is a time stamp.
func seconds(d time.Duration) float64 { return d.Seconds() }

// take takes one message.
func (r *reader) take(m message.Message) {
	switch m := m.(type) {
	case *message.Video:
		switch {
		case m.Type == message.VideoTypeConfig && m.AVCConfig != nil:
			r.config(m.AVCConfig)
		case m.Type == message.VideoTypeConfig:
			r.in.says(&inspect.Video{Codec: "hevc"}, nil)
		case m.Type == message.VideoTypeAU:
			r.frame(m.DTS, m.PTSDelta, m.AU, m.IsKeyFrame, m.Codec == message.CodecH264)
		}
	case *message.VideoExSequenceStart:
		if m.AVCConfig != nil {
			r.config(m.AVCConfig)
			return
		}
		names := map[message.FourCC]string{message.FourCCHEVC: "hevc", message.FourCCAV1: "av1", message.FourCCVP9: "vp9"}
		r.in.says(&inspect.Video{Codec: names[m.FourCC]}, nil)
	case *message.VideoExCodedFrames:
		r.frame(m.DTS, m.PTSDelta, m.Payload, keyOf(m.FourCC, m.Payload), m.FourCC == message.FourCCAVC)
	case *message.VideoExFramesX:
		r.frame(m.DTS, 0, m.Payload, keyOf(m.FourCC, m.Payload), m.FourCC == message.FourCCAVC)
	case *message.Audio:
		switch {
		case m.AACConfig != nil:
			r.aac(m.AACConfig)
		case len(m.AU) > 0:
			if m.Codec != message.CodecMPEG4Audio {
				r.old(m)
			}
			r.heard(m.DTS, m.AU)
		}
	case *message.AudioExSequenceStart:
		switch {
		case m.AACConfig != nil:
			r.aac(m.AACConfig)
		case m.OpusConfig != nil:
			r.in.says(nil, &inspect.Audio{Codec: "opus", Rate: 48000, Channels: int(m.OpusConfig.ChannelCount)})
			if r.listen("ogg", 48000, int(m.OpusConfig.ChannelCount), nil) {
				r.ogg = oggOf(r.ears, int(m.OpusConfig.ChannelCount))
			}
		}
	case *message.AudioExCodedFrames:
		r.heard(m.DTS, m.Payload)
	}
}

// listen begins to listen to a sound, unless it is listened to already: some programs say what it is again and again.
func (r *reader) listen(kind string, rate, channels int, c *mpeg4audio.AudioSpecificConfig) (anew bool) {
	what := fmt.Sprint(kind, rate, channels, c)
	if what == r.what {
		return false
	}
	r.ears.done()
	r.what, r.aacs, r.ogg, r.ears = what, c, nil, r.in.hears(kind, rate, channels)
	return true
}

// heard takes a piece of coded sound.
func (r *reader) heard(at time.Duration, au []byte) {
	r.in.sound(inspect.Packet{At: seconds(at), Decode: seconds(at), Bytes: len(au)})
	switch {
	case r.ogg != nil:
		_ = r.ogg.WriteRTP(&rtp.Packet{Header: rtp.Header{Timestamp: uint32(at.Seconds() * 48000)}, Payload: au})
	case r.aacs != nil: // with the header that says what it is before each [standard: ISO/IEC 14496-3, ADTS]
		if b, err := (mpeg4audio.ADTSPackets{{Type: r.aacs.Type, SampleRate: r.aacs.SampleRate, ChannelConfig: r.aacs.ChannelConfig, AU: au}}).Marshal(); err == nil {
			r.ears.take(b)
		}
	default:
		r.ears.take(slices.Clone(au))
	}
}

// config takes over the parameter sets of H.264.
func (r *reader) config(c *mp4.AVCDecoderConfiguration) {
	r.sets = nil
	for _, s := range c.SequenceParameterSets {
		r.sets = append(r.sets, s.NALUnit)
		if v, ok := media.VideoOf(s.NALUnit); ok {
			r.in.says(v, nil)
		}
	}
	for _, s := range c.PictureParameterSets {
		r.sets = append(r.sets, s.NALUnit)
	}
}

// old is sound of the kinds RTMP had before AAC.
func (r *reader) old(m *message.Audio) {
	a := &inspect.Audio{Codec: map[uint8]string{message.CodecMPEG1Audio: "mp3", message.CodecLPCM: "pcm", message.CodecPCMA: "pcm_alaw",
		message.CodecPCMU: "pcm_mulaw"}[m.Codec], Channels: 1, Rate: 44100}
	if m.IsStereo {
		a.Channels = 2
	}
	r.in.says(nil, a)
	if a.Codec == "mp3" {
		r.listen("mp3", a.Rate, a.Channels, nil)
	}
}

func (r *reader) aac(c *mpeg4audio.AudioSpecificConfig) {
	a := &inspect.Audio{Codec: "aac", Profile: "LC", Rate: c.SampleRate, Channels: int(c.ChannelConfig)}
	switch {
	case c.ExtensionType != 0:
		a.Profile = "HE"
	case c.Type != mpeg4audio.ObjectTypeAACLC:
		a.Profile = "other than LC"
	}
	if c.ExtensionSampleRate > 0 {
		a.Rate = c.ExtensionSampleRate
	}
	r.in.says(nil, a)
	r.listen("aac", a.Rate, a.Channels, c)
}

// frame takes a coded frame of NAL units that have their lengths before them.
func (r *reader) frame(decode, shift time.Duration, au []byte, key, avc bool) {
	r.in.picture(inspect.Packet{At: seconds(decode + shift), Decode: seconds(decode), Bytes: len(au), Key: key})
	if !key || !avc {
		return
	}
	var nals h264.AVCC
	if nals.Unmarshal(au) != nil {
		return
	}
	if whole, err := h264.AnnexB(append(slices.Clone(r.sets), nals...)).Marshal(); err == nil {
		r.in.wants(keyframe{seconds(decode + shift), whole})
	}
}

// keyOf tells whether a coded frame is one decoding can begin at; of a coding that is not known here none is.
func keyOf(kind message.FourCC, payload []byte) bool {
	switch kind {
	case message.FourCCAVC, message.FourCCHEVC:
		var nals h264.AVCC // both have the length of each before it
		if nals.Unmarshal(payload) != nil {
			return false
		}
		if kind == message.FourCCAVC {
			return h264.IsRandomAccess(nals)
		}
		return h265.IsRandomAccess(nals)
	case message.FourCCAV1:
		var units av1.Bitstream
		return units.Unmarshal(payload) == nil && av1.IsRandomAccess2(units)
	}
	return false
}
