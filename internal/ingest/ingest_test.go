package ingest

import (
	"bufio"
	"bytes"
	"io"
	"net"
	"net/http"
	"os/exec"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/pion/webrtc/v4"
	"github.com/pion/webrtc/v4/pkg/media/h264reader"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	pion "github.com/pion/webrtc/v4/pkg/media"

	"eventether/core/inspect"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/sheet"
	"eventether/internal/mistakes"
)

func start(t *testing.T, transport string) *Ingest {
	t.Helper()
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		t.Skip("no ffmpeg")
	}
	in, err := Start(Options{Transport: transport, Kbps: 600})
	require.NoError(t, err)
	t.Cleanup(in.Close)
	return in
}

// own is the command of the rig's stream, sent to an address instead of a file.
func own(command, to string) string {
	at := strings.LastIndex(command, "-f flv ")
	return command[:at] + "-f flv " + to
}

func streamOf(t *testing.T) (*sheet.Part, *inspect.Held, func(*Ingest) *inspect.Held) {
	t.Helper()
	v := judge.Rig(mistakes.Rig())
	for _, p := range sheet.Of(v).Parts {
		if p.ID == "stream-0" {
			return &p, nil, func(in *Ingest) *inspect.Held {
				s := in.Standing()
				h, ok := inspect.Hold(v, "stream-0", &s.Arrived)
				require.True(t, ok)
				return h
			}
		}
	}
	t.Fatal("no stream")
	return nil, nil, nil
}

func send(t *testing.T, command string) {
	t.Helper()
	out, err := exec.CommandContext(t.Context(), "bash", "-c", command).CombinedOutput()
	require.NoError(t, err, "%s\n%s", command, out)
}

// until waits for something to be so.
func until(t *testing.T, what string, so func() bool) {
	t.Helper()
	require.Eventually(t, so, 30*time.Second, 20*time.Millisecond, what)
}

// What a rig's own command sends is as its sheet says, in every line that can be seen; and a picture of it is there.
func TestItsOwnCommandIsRight(t *testing.T) {
	in := start(t, "rtmp")
	part, _, held := streamOf(t)
	send(t, strings.Replace(own(part.Command, in.Addresses()[0]+"/"+in.Key()), "-t 5", "-t 12", 1))
	until(t, "all of it", func() bool { return !in.Standing().Going.Connected })
	for _, l := range held(in).Lines {
		if !l.Hidden {
			assert.Equal(t, limit.Slack, l.State, "%s: planned %s, came %s: %s", l.Name, l.Planned, l.Measured, l.Says)
		}
	}
	s := in.Standing()
	assert.Zero(t, s.Going.Lost)
	assert.Equal(t, 1, s.Going.Connections)
	until(t, "a picture", func() bool { return bytes.HasPrefix(in.Standing().Shot, []byte{0xff, 0xd8}) })
}

// Each line wrong once, sent: each is found.
func TestEachLineWrongOnceIsFound(t *testing.T) {
	part, _, held := streamOf(t)
	for i := range mistakes.All {
		m := &mistakes.All[i]
		if m.Part != "stream-0" {
			continue
		}
		in := start(t, "rtmp")
		send(t, own(m.Command(t, part.Command), in.Addresses()[0]+"/"+in.Key()))
		until(t, "all of it", func() bool { s := in.Standing(); return !s.Going.Connected && s.Going.Connections == 1 })
		h := held(in)
		found := false
		for _, l := range h.Lines {
			bad := l.State == limit.Kinked || l.State == limit.Snapped
			found = found || bad && l.ID == m.Line
			assert.False(t, bad && l.ID != m.Line && !slices.Contains(m.Also, l.ID), "%s wrong: %s found too: %s, planned %s", m.Line, l.ID, l.Measured, l.Planned)
		}
		assert.True(t, found, "%s wrong, and not found: %+v", m.Line, h.Lines)
		assert.Equal(t, m.Refused, len(h.Refuses) > 0, "%s: %+v", m.Line, h.Refuses)
		in.Close()
	}
}

// Who has the wrong key or names another application is refused and told so; who says nothing, or rubbish, or asks to play,
// blocks nobody; a second sender is refused while the first sends.
func TestWhoIsRefused(t *testing.T) {
	in := start(t, "rtmp")
	part, _, _ := streamOf(t)
	address := in.Addresses()[0]
	for _, to := range []string{address + "/not-the-key", strings.Replace(address, "/rehearse", "/live", 1) + "/" + in.Key(), address} {
		err := exec.CommandContext(t.Context(), "bash", "-c", own(part.Command, to)).Run()
		require.Error(t, err, to)
	}
	assert.Zero(t, in.Standing().Going.Connections)
	host := strings.Split(strings.TrimPrefix(address, "rtmp://"), "/")[0]
	for _, says := range []string{"", "GET / HTTP/1.1\r\n\r\n", "\x03" + strings.Repeat("x", 1536), "\x80\x01", strings.Repeat("\x00", 100_000)} {
		c, err := net.Dial("tcp", host)
		require.NoError(t, err)
		defer c.Close() // stays open, and says no more
		_, _ = io.WriteString(c, says)
	}
	first := exec.Command("bash", "-c", strings.Replace(own(part.Command, address+"/"+in.Key()), "-f lavfi -i testsrc2", "-re -f lavfi -i testsrc2", 1))
	require.NoError(t, first.Start())
	until(t, "the right one sends", func() bool { return in.Standing().Going.Connected })
	require.Error(t, exec.CommandContext(t.Context(), "bash", "-c", own(part.Command, address+"/"+in.Key())).Run())
	_ = first.Process.Kill()
	_ = first.Wait()
	until(t, "the sender is gone", func() bool { return !in.Standing().Going.Connected })
	var all []string
	for _, e := range in.Standing().Events {
		all = append(all, e.Says)
		assert.NotContains(t, e.Says, in.Key())
	}
	text := strings.Join(all, "\n")
	for _, want := range []string{"a key that is not the one", `the application "live"`, "A second sender", "The sender connected.", "The sender is gone."} {
		assert.Contains(t, text, want)
	}
}

// Ends well while senders send, and says nothing more to anybody.
func TestCloseWhileSending(t *testing.T) {
	in := start(t, "rtmp")
	part, _, _ := streamOf(t)
	c := exec.Command("bash", "-c", strings.Replace(own(part.Command, in.Addresses()[0]+"/"+in.Key()), "-f lavfi -i testsrc2", "-re -f lavfi -i testsrc2", 1))
	require.NoError(t, c.Start())
	until(t, "it sends", func() bool { return in.Standing().Going.Connected })
	in.Close()
	require.Error(t, c.Wait())
	_, err := net.DialTimeout("tcp", "127.0.0.1:"+in.relay.port(), time.Second)
	require.Error(t, err)
}

// What a far end does badly is felt by the sender, and told: a stall holds it up, a narrow place makes it late, a closed
// connection ends it.
func TestABadFarEnd(t *testing.T) {
	in := start(t, "rtmp")
	part, _, _ := streamOf(t)
	require.Error(t, in.Dip(inspect.Stalls, 0, 2), "nobody sends")
	command := strings.Replace(own(part.Command, in.Addresses()[0]+"/"+in.Key()), "-f lavfi -i testsrc2", "-re -f lavfi -i testsrc2", 1)
	c := exec.Command("bash", "-c", strings.Replace(strings.ReplaceAll(command, "600k", "4000k"), "-t 5", "-t 60", 1))
	require.NoError(t, c.Start())
	defer func() {
		_ = c.Process.Kill()
		_ = c.Wait()
	}()
	until(t, "it sends", func() bool { return in.Standing().Going.Lasts > 1 })
	dip := func(n int) inspect.Dip { return in.Standing().Going.Dips[n] }
	require.NoError(t, in.Dip(inspect.Stalls, 0, 2))
	until(t, "it is as before", func() bool { return dip(0).Back >= 0 })
	assert.Greater(t, dip(0).Silent, 1.0, "%+v", dip(0))
	assert.Greater(t, dip(0).Behind, 0.8)
	require.NoError(t, in.Dip(inspect.Narrow, 1000, 2))
	until(t, "it is as before", func() bool { return dip(1).Back >= 0 })
	assert.Greater(t, dip(1).Behind, 0.5, "%+v", dip(1))
	for _, bad := range []struct {
		kind           string
		value, seconds float64
	}{{"jumps", 0, 1}, {inspect.Narrow, 5, 1}, {inspect.Stalls, 0, 500}, {inspect.Slow, 0, 1}, {inspect.Stalls, 0, 0}} {
		require.ErrorIs(t, in.Dip(bad.kind, bad.value, bad.seconds), ErrDip)
	}
	require.NoError(t, in.Dip(inspect.Denies, 0, 1))
	until(t, "the sender is gone", func() bool { return !in.Standing().Going.Connected })
	until(t, "it is over", func() bool { return dip(2).Over })
	assert.Contains(t, dip(2).Says, "has not come back")
}

// By SRT, too: ffmpeg takes it and hands it on. Who has another pass phrase gets nothing through.
func TestSRT(t *testing.T) {
	in := start(t, "srt")
	part, _, held := streamOf(t)
	at := strings.LastIndex(part.Command, "-f flv ")
	to := func(key string) string {
		return part.Command[:at] + "-f mpegts '" + in.Addresses()[0] + "&passphrase=" + key + "'"
	}
	live := func(key string) string {
		return strings.Replace(strings.Replace(to(key), "-f lavfi -i testsrc2", "-re -f lavfi -i testsrc2", 1), "-t 5", "-t 4", 1)
	}
	_ = exec.CommandContext(t.Context(), "bash", "-c", live("another-phrase")).Run()
	assert.Zero(t, in.Standing().Going.Connections)
	until(t, "frames", func() bool {
		_ = exec.CommandContext(t.Context(), "bash", "-c", live(in.Key())).Run()
		return in.Standing().Arrived.Came.Frames > 60
	})
	for _, l := range held(in).Lines {
		switch l.ID {
		case "size", "rate", "profile", "level", "b-frames", "range", "matrix", "audio", "audio-rate", "audio-channels":
			assert.Equal(t, limit.Slack, l.State, "%s: planned %s, came %s", l.Name, l.Planned, l.Measured)
		case "transport":
			assert.Equal(t, limit.Kinked, l.State, "the sheet wants RTMP")
		}
	}
}

// offering is a sender by WebRTC with one track of a kind, whose offer is made.
func offering(t *testing.T, kind string) (*webrtc.PeerConnection, *webrtc.TrackLocalStaticSample) {
	t.Helper()
	api, err := rtcAPI(false)
	require.NoError(t, err)
	pc, err := api.NewPeerConnection(webrtc.Configuration{})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pc.Close() })
	track, err := webrtc.NewTrackLocalStaticSample(webrtc.RTPCodecCapability{MimeType: kind}, "track", "x")
	require.NoError(t, err)
	_, err = pc.AddTrack(track)
	require.NoError(t, err)
	offer, err := pc.CreateOffer(nil)
	require.NoError(t, err)
	gathered := webrtc.GatheringCompletePromise(pc)
	require.NoError(t, pc.SetLocalDescription(offer))
	<-gathered
	return pc, track
}

// By WHIP: an offer with the key is answered, H.264 arrives; one without it is refused.
func TestWHIP(t *testing.T) {
	in := start(t, "webrtc")
	address := in.Addresses()[0]
	pc, track := offering(t, webrtc.MimeTypeH264)
	ask := func(method, key, kind, body string) (int, string) {
		r, err := http.NewRequestWithContext(t.Context(), method, address, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Authorization", "Bearer "+key)
		r.Header.Set("Content-Type", kind)
		got, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer got.Body.Close()
		text, err := io.ReadAll(got.Body)
		require.NoError(t, err)
		return got.StatusCode, string(text)
	}
	sdp := pc.LocalDescription().SDP
	for _, c := range []struct {
		method, key, kind, body string
		status                  int
	}{{"POST", "wrong", "application/sdp", sdp, 401}, {"GET", in.Key(), "", "", 405}, {"POST", in.Key(), "text/plain", sdp, 415},
		{"POST", in.Key(), "application/sdp", "no offer", 406}} {
		status, _ := ask(c.method, c.key, c.kind, c.body)
		assert.Equal(t, c.status, status, "%+v", c)
	}
	status, answer := ask("POST", in.Key(), "application/sdp", sdp)
	require.Equal(t, http.StatusCreated, status, answer)
	require.NoError(t, pc.SetRemoteDescription(webrtc.SessionDescription{Type: webrtc.SDPTypeAnswer, SDP: answer}))
	until(t, "connected", func() bool { return pc.ConnectionState() == webrtc.PeerConnectionStateConnected })
	status, _ = ask("POST", in.Key(), "application/sdp", sdp)
	assert.Equal(t, 406, status, "somebody sends already")

	raw, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=30:duration=4", "-c:v", "libx264", "-profile:v", "baseline", "-bf", "0",
		"-g", "60", "-bsf:v", "h264_metadata=aud=insert", "-f", "h264", "-").Output()
	require.NoError(t, err)
	h, err := h264reader.NewReader(bufio.NewReader(bytes.NewReader(raw)))
	require.NoError(t, err)
	tick := time.NewTicker(time.Second / 30)
	defer tick.Stop()
	frames := 0
	for {
		nal, err := h.NextNAL()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		sample := pion.Sample{Data: nal.Data}
		if nal.UnitType == h264reader.NalUnitTypeCodedSliceNonIdr || nal.UnitType == h264reader.NalUnitTypeCodedSliceIdr {
			frames++
			<-tick.C
			sample.Duration = time.Second / 30
		}
		require.NoError(t, track.WriteSample(sample))
	}
	until(t, "frames", func() bool { return in.Standing().Arrived.Came.Frames > frames/2 })
	v := in.Standing().Arrived.Video
	require.NotNil(t, v)
	assert.Equal(t, "Constrained Baseline", v.Profile)
	assert.Equal(t, 320, v.Width)
	status, _ = ask("DELETE", in.Key(), "", "")
	assert.Equal(t, 200, status)
	until(t, "gone", func() bool { return !in.Standing().Going.Connected })
	require.Error(t, in.Dip(inspect.Stalls, 0, 2))
}
