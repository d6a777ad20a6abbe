package ingest

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/mpeg4audio"
	"github.com/pion/webrtc/v4"
	pion "github.com/pion/webrtc/v4/pkg/media"
	"github.com/pion/webrtc/v4/pkg/media/oggreader"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/look"
)

// loudnessOf is the integrated loudness of a source by the ebur128 filter.
func loudnessOf(t *testing.T, source string) float64 {
	t.Helper()
	out, err := exec.CommandContext(t.Context(), "ffmpeg", "-nostdin", "-f", "lavfi", "-i", source, "-af", "ebur128", "-f", "null", "-").CombinedOutput()
	require.NoError(t, err, string(out))
	all := regexp.MustCompile(`I:\s+(-?[\d.]+) LUFS`).FindAllStringSubmatch(string(out), -1)
	require.NotEmpty(t, all)
	v, err := strconv.ParseFloat(all[len(all)-1][1], 64)
	require.NoError(t, err)
	return v
}

// What is sent is heard: as loud as ebur128 says of its source, on which sides, and whether there is anything; whatever it is coded
// as. A second sender is heard anew.
func TestTheSoundIsHeard(t *testing.T) {
	in := start(t, "rtmp")
	noise := "anoisesrc=color=pink:amplitude=0.2:duration=9:seed=3:sample_rate=48000,lowpass=f=5000,lowpass=f=5000"
	sent := func(source, filter string, coded ...string) *look.Heard {
		args := append([]string{"-v", "error", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=30:duration=9", "-f", "lavfi", "-i", source, "-af", filter,
			"-c:v", "libx264", "-preset", "ultrafast", "-g", "60"}, coded...)
		out, err := exec.CommandContext(t.Context(), "ffmpeg", append(args, "-f", "flv", in.Addresses()[0]+"/"+in.Key())...).CombinedOutput()
		require.NoError(t, err, string(out))
		var h *look.Heard
		until(t, "what was sent is heard", func() bool {
			s := in.Standing()
			h = s.Heard
			return !s.Going.Connected && h != nil && h.Seconds > 8.5
		})
		return h
	}
	is := func(h *look.Heard, what look.Name) look.Answer { return look.Find(h.Signs, what).Answer }
	loud := loudnessOf(t, noise)
	both := loud + 3 // as loud on two sides
	for name, coded := range map[string][]string{"aac": {"-c:a", "aac", "-b:a", "160k", "-ac", "2"}, "mp3": {"-c:a", "libmp3lame", "-ar", "44100", "-ac", "2"}} {
		h := sent(noise, "anull", coded...)
		within := map[string]float64{"aac": 0.3, "mp3": 0.7}[name] // its coder scales what comes to 0.95 [from memory]
		assert.InDelta(t, loud, h.LUFS, within, name)              // ffmpeg shares it out to two sides
		assert.Equal(t, look.Clear, is(h, look.IsSilent), name)
		assert.Equal(t, look.Clear, is(h, look.IsClipped), name)
	}
	h := sent(noise, "anull", "-c:a", "aac", "-ac", "1", "-ar", "44100")
	assert.InDelta(t, loud, h.LUFS, 0.3, "one channel")
	h = sent("anullsrc=sample_rate=48000:channel_layout=stereo,atrim=duration=9", "anull", "-c:a", "aac")
	assert.Equal(t, look.Found, is(h, look.IsSilent))
	h = sent(noise, "pan=stereo|c0=c0|c1=0*c0", "-c:a", "aac")
	assert.Equal(t, look.Found, is(h, look.IsOneSided))
	h = sent(noise, "pan=stereo|c0=c0|c1=-1*c0", "-c:a", "aac", "-b:a", "256k")
	assert.Equal(t, look.Found, is(h, look.IsInverted))
	h = sent(noise, "pan=5.1|c0=c0|c1=c0|c2=0*c0|c3=0*c0|c4=0*c0|c5=0*c0", "-c:a", "aac", "-b:a", "256k")
	assert.InDelta(t, both, h.LUFS, 0.3, "the first two of six")
}

// Opus by WebRTC is heard, too.
func TestOpusIsHeard(t *testing.T) {
	in := start(t, "webrtc")
	noise := "anoisesrc=color=pink:amplitude=0.2:duration=5:seed=3:sample_rate=48000,lowpass=f=5000,lowpass=f=5000"
	raw, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", noise, "-c:a", "libopus", "-b:a", "128k", "-ac", "2", "-page_duration", "20000", "-f", "ogg", "-").Output()
	require.NoError(t, err)
	pc, track := offering(t, webrtc.MimeTypeOpus)
	r, err := http.NewRequestWithContext(t.Context(), http.MethodPost, in.Addresses()[0], strings.NewReader(pc.LocalDescription().SDP))
	require.NoError(t, err)
	r.Header.Set("Authorization", "Bearer "+in.Key())
	r.Header.Set("Content-Type", "application/sdp")
	got, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer got.Body.Close()
	answer, err := io.ReadAll(got.Body)
	require.NoError(t, err)
	require.NoError(t, pc.SetRemoteDescription(webrtc.SessionDescription{Type: webrtc.SDPTypeAnswer, SDP: string(answer)}))
	until(t, "connected", func() bool { return pc.ConnectionState() == webrtc.PeerConnectionStateConnected })

	ogg, _, err := oggreader.NewWith(bytes.NewReader(raw))
	require.NoError(t, err)
	tick := time.NewTicker(20 * time.Millisecond)
	defer tick.Stop()
	for {
		page, head, err := ogg.ParseNextPage()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		if head.GranulePosition == 0 {
			continue
		}
		<-tick.C
		require.NoError(t, track.WriteSample(pion.Sample{Data: page, Duration: 20 * time.Millisecond}))
	}
	until(t, "it is heard", func() bool { h := in.Standing().Heard; return h != nil && h.Seconds > 3.5 })
	h := in.Standing().Heard
	assert.InDelta(t, loudnessOf(t, noise), h.LUFS, 0.3)
	assert.Equal(t, look.Clear, look.Find(h.Signs, look.IsSilent).Answer)
}

// Listening costs nobody anything: rubbish in place of sound, a child that is gone, more than anybody has time for, and an end in
// the middle.
func TestEarsHoldNobodyUp(t *testing.T) {
	in := start(t, "rtmp")
	var none *ears
	none.take([]byte{1})
	none.done()
	assert.Nil(t, none.heard())
	for _, kind := range []string{"aac", "ogg", "mp3", "no kind there is"} {
		e := in.hears(kind, 48000, 2)
		require.NotNil(t, e)
		for range 4 * waitingSound {
			e.take(bytes.Repeat([]byte{0xa5}, 400))
		}
		e.done()
		assert.Nil(t, e.heard(), kind)
	}
	// What a program says again is not listened to anew; something else is.
	r := reader{in: in}
	assert.True(t, r.listen("ogg", 48000, 2, nil))
	first := r.ears
	assert.False(t, r.listen("ogg", 48000, 2, nil))
	assert.Same(t, first, r.ears)
	assert.True(t, r.listen("mp3", 48000, 2, nil))
	assert.True(t, r.listen("aac", 48000, 2, &mpeg4audio.AudioSpecificConfig{Type: mpeg4audio.ObjectTypeAACLC, SampleRate: 48000, ChannelConfig: 2}))
	assert.False(t, r.listen("aac", 48000, 2, &mpeg4audio.AudioSpecificConfig{Type: mpeg4audio.ObjectTypeAACLC, SampleRate: 48000, ChannelConfig: 2}))
	assert.True(t, r.listen("aac", 44100, 2, &mpeg4audio.AudioSpecificConfig{Type: mpeg4audio.ObjectTypeAACLC, SampleRate: 44100, ChannelConfig: 2}))
	r.ears.done()

	assert.Nil(t, in.hears("aac", 0, 2))
	assert.Nil(t, in.hears("aac", 48000, 0))
	e := in.hears("aac", 48000, 2)
	require.NotNil(t, e)
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	closed := make(chan struct{})
	go func() { in.Close(); close(closed) }()
	select {
	case <-closed:
	case <-ctx.Done():
		t.Fatal("it does not close while it listens")
	}
	assert.Nil(t, in.hears("aac", 48000, 2), "closed")
	e.done()
}
