package line

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os/exec"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/mpeg4audio"

	"eventether/internal/media"
	"eventether/internal/system"
)

// Of the film that is sent over and over: long enough for two keyframes, small enough to be made quickly on anything.
// Its bitrate is kept exactly, with filler, whatever is seen in it [documented: libx264's nal-hrd=cbr].
const (
	filmSeconds = 4
	filmSize    = "640x360"
	filmHz      = 30
)

// testFilm makes a test picture of so many kilobits a second, with a tone.
func testFilm(ctx context.Context, kbps float64) (*film, error) {
	k := fmt.Sprintf("%.0fk", kbps)
	raw, err := made(ctx, "-f", "lavfi", "-i", fmt.Sprintf("testsrc2=size=%s:rate=%d:duration=%d", filmSize, filmHz, filmSeconds),
		"-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-bf", "0", "-g", "60", "-sc_threshold", "0",
		"-b:v", k, "-minrate", k, "-maxrate", k, "-bufsize", fmt.Sprintf("%.0fk", kbps/5), "-x264-params", "nal-hrd=cbr:force-cfr=1:aud=1:repeat-headers=1",
		"-f", "h264", "pipe:1")
	if err != nil {
		return nil, err
	}
	f := &film{hz: filmHz}
	for _, nal := range split(raw) {
		switch kind := nal[0] & 31; kind {
		case 9: // a frame begins
			f.frames = append(f.frames, nil)
		case 7:
			f.sps = nal
		case 8:
			f.pps = nal
		default:
			if n := len(f.frames); n > 0 {
				f.frames[n-1] = append(f.frames[n-1], nal)
			}
		}
	}
	sound, err := made(ctx, "-f", "lavfi", "-i", fmt.Sprintf("sine=frequency=440:sample_rate=48000:duration=%d", filmSeconds), "-ac", "2",
		"-c:a", "aac", "-b:a", fmt.Sprintf("%dk", audioKbps), "-f", "adts", "pipe:1")
	if err != nil {
		return nil, err
	}
	var packets mpeg4audio.ADTSPackets
	if err := packets.Unmarshal(sound); err != nil || len(packets) == 0 || len(f.frames) == 0 || f.sps == nil || f.pps == nil {
		return nil, errors.New("the test picture could not be made: ffmpeg wrote something else than was asked for")
	}
	f.sound = &mpeg4audio.AudioSpecificConfig{Type: packets[0].Type, SampleRate: packets[0].SampleRate,
		ChannelConfig: packets[0].ChannelConfig}
	bytes := 0
	for _, p := range packets {
		f.sounds = append(f.sounds, p.AU)
		bytes += len(p.AU)
	}
	for _, frame := range f.frames {
		for _, nal := range frame {
			bytes += 4 + len(nal)
		}
	}
	f.kbps = float64(bytes) * 8 / 1000 / filmSeconds
	return f, nil
}

func made(ctx context.Context, args ...string) ([]byte, error) {
	cmd := exec.CommandContext(ctx, "ffmpeg", append([]string{"-v", "error", "-nostdin"}, args...)...)
	system.EndsWithUs(cmd)
	var problem bytes.Buffer
	cmd.Stderr = &problem
	out, err := cmd.Output()
	switch {
	case errors.Is(err, exec.ErrNotFound):
		return nil, media.ErrNoEncoder
	case err != nil && ctx.Err() == nil:
		return nil, fmt.Errorf("the test picture could not be made: %w: %s", err, bytes.TrimSpace(problem.Bytes()))
	}
	return out, ctx.Err()
}

// split takes a stream apart at its start codes [standard: ITU-T H.264 annex B].
func split(b []byte) (nals [][]byte) {
	begin := -1
	for i := 0; i+3 <= len(b); i++ {
		if b[i] != 0 || b[i+1] != 0 || b[i+2] != 1 {
			continue
		}
		if end := i; begin >= 0 {
			for end > begin && b[end-1] == 0 {
				end--
			}
			if end > begin {
				nals = append(nals, b[begin:end])
			}
		}
		begin = i + 3
		i += 2
	}
	if begin >= 0 && begin < len(b) {
		nals = append(nals, b[begin:])
	}
	return nals
}
