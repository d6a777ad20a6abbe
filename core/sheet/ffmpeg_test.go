package sheet_test

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/h264"
	"eventether/core/judge"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
	"eventether/core/sheet"
)

func exactly(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

// probed is what ffprobe reads of a file.
type probed struct {
	Streams []struct {
		Type      string `json:"codec_type"`
		Codec     string `json:"codec_name"`
		Profile   string `json:"profile"`
		Level     int    `json:"level"`
		Width     int    `json:"width"`
		Height    int    `json:"height"`
		Rate      string `json:"r_frame_rate"`
		BFrames   int    `json:"has_b_frames"`
		Pixels    string `json:"pix_fmt"`
		Range     string `json:"color_range"`
		Space     string `json:"color_space"`
		Transfer  string `json:"color_transfer"`
		Primaries string `json:"color_primaries"`
		Sample    string `json:"sample_rate"`
		Channels  int    `json:"channels"`
	} `json:"streams"`
	Packets []struct {
		Type     string `json:"codec_type"`
		DTS      string `json:"dts_time"`
		Duration string `json:"duration_time"`
		Size     string `json:"size"`
		Flags    string `json:"flags"`
	} `json:"packets"`
}

func probe(t *testing.T, file string) probed {
	t.Helper()
	out, err := exec.Command("ffprobe", "-v", "error", "-show_streams", "-show_packets", "-of", "json", file).Output()
	require.NoError(t, err)
	var p probed
	require.NoError(t, json.Unmarshal(out, &p))
	return p
}

func line(t *testing.T, p *sheet.Part, id string) string {
	t.Helper()
	for i := range p.Lines {
		if p.Lines[i].ID == id {
			return p.Lines[i].Value
		}
	}
	t.Fatalf("%s has no line %s", p.Name, id)
	return ""
}

// kept is max_num_ref_frames in the first sequence parameter set of a file.
func kept(t *testing.T, file string) int {
	t.Helper()
	out, err := exec.Command("ffmpeg", "-v", "trace", "-nostdin", "-i", file, "-map", "0:v", "-c", "copy", "-bsf:v",
		"trace_headers", "-frames:v", "1", "-f", "null", "-").CombinedOutput()
	require.NoError(t, err)
	m := regexp.MustCompile(`max_num_ref_frames\s+\S+ = (\d+)`).FindSubmatch(out)
	require.NotNil(t, m)
	n, err := strconv.Atoi(string(m[1]))
	require.NoError(t, err)
	return n
}

// show is a rig that composes and sends one picture.
func show(w, h int, rate picture.Rate, kbps float64, preset string) *rig.Rig {
	r := rigtest.Plain()
	r.Show.Programme = rig.Programme{Width: w, Height: h, Rate: rate}
	d := &r.Show.Destinations[0]
	d.Name, d.Ingest = "Channel of "+preset, nil
	d.Send = rig.Send{Width: w, Height: h, Rate: rate, VideoKbps: exactly(kbps), Encoder: preset}
	return r
}

// TestTheReferenceEncoderMakesWhatTheSheetSays runs the commands of the sheets with Debian's ffmpeg and libx264 and
// reads the results with ffprobe: profile, level, size, rate, keyframes, B-frames, references, colour, sound; the mean
// bitrate; and a leaky bucket over the sizes of the real packets.
func TestTheReferenceEncoderMakesWhatTheSheetSays(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	f2997, f5994 := picture.NewRate(30000, 1001), picture.NewRate(60000, 1001)
	for _, c := range []struct {
		w, h   int
		rate   picture.Rate
		kbps   float64
		preset string
		level  int
	}{
		{854, 480, picture.R(30), 1500, "slow", 31}, {1280, 720, picture.R(30), 4000, "medium", 31},
		{1280, 720, picture.R(60), 5000, "fast", 32}, {1920, 1080, picture.R(25), 5000, "faster", 40},
		{1920, 1080, f2997, 6000, "veryfast", 40}, {1920, 1080, f5994, 9000, "superfast", 42},
		{2560, 1440, picture.R(60), 16000, "ultrafast", 51}, {3840, 2160, picture.R(30), 20000, "ultrafast", 51},
	} {
		t.Run(fmt.Sprintf("%dp%s %s", c.h, c.rate.Name(), c.preset), func(t *testing.T) {
			t.Parallel()
			s := sheet.Of(judge.Rig(show(c.w, c.h, c.rate, c.kbps, c.preset)))
			part := &s.Parts[len(s.Parts)-1]
			require.Equal(t, "stream", part.Kind)
			dir := t.TempDir()
			cmd := exec.Command("sh", "-c", strings.Replace(part.Command, "-hide_banner", "-v error -nostdin", 1))
			cmd.Dir = dir
			msg, err := cmd.CombinedOutput()
			require.NoError(t, err, "%s\n%s", part.Command, msg)
			file := filepath.Join(dir, "channel-of-"+c.preset+".flv")
			p := probe(t, file)
			v, a := p.Streams[0], p.Streams[1]
			if v.Type != "video" {
				v, a = a, v
			}
			assert.Equal(t, "High", v.Profile)
			assert.Equal(t, c.level, v.Level)
			assert.Equal(t, strconv.FormatFloat(float64(c.level)/10, 'f', -1, 64), line(t, part, "level"))
			assert.Equal(t, [2]int{c.w, c.h}, [2]int{v.Width, v.Height})
			assert.Equal(t, c.rate.String(), strings.TrimSuffix(v.Rate, "/1"))
			assert.Equal(t, 2, v.BFrames)
			assert.Equal(t, "yuv420p tv bt709 bt709 bt709",
				strings.Join([]string{v.Pixels, v.Range, v.Space, v.Transfer, v.Primaries}, " "))
			assert.Equal(t, "aac LC 48000 2", fmt.Sprint(a.Codec, " ", a.Profile, " ", a.Sample, " ", a.Channels))
			refs, _ := strconv.Atoi(line(t, part, "references"))
			assert.Equal(t, h264.Kept(refs, 2), kept(t, file), "references in the sequence header")

			frames, key := 0, []int{}
			var bytes, first, last float64
			fps := c.rate.Float()
			full := c.kbps * 1000 * 1.0 // one second of it
			bucket := 0.55 * full
			for i, k := range p.Packets {
				if k.Type != "video" {
					continue
				}
				if strings.Contains(k.Flags, "K") {
					key = append(key, frames)
				}
				size, _ := strconv.ParseFloat(k.Size, 64)
				at, _ := strconv.ParseFloat(k.DTS, 64)
				if frames == 0 {
					first = at
				}
				bucket -= size * 8
				// A packet in FLV carries a length of 4 bytes for each unit, as in the stream itself a start code.
				require.Greater(t, bucket, -0.01*full, "packet %d at %.3f s empties the decoder's buffer", i, at)
				bucket = min(full, bucket+c.kbps*1000/fps)
				frames, bytes, last = frames+1, bytes+size, at
			}
			assert.InDelta(t, 5*fps, float64(frames), 1)
			interval, _ := strconv.Atoi(line(t, part, "keyframe-frames"))
			for i, at := range key {
				assert.Equal(t, i*interval, at, "keyframe %d", i)
			}
			assert.Len(t, key, (frames-1)/interval+1)
			mean := bytes * 8 / 1000 / (last - first + 1/fps)
			assert.InEpsilon(t, c.kbps, mean, 0.05, "mean bitrate")
			t.Logf("%.0f kb/s of %.0f, level %d, %d keyframes", mean, c.kbps, v.Level, len(key))
		})
	}
}

// What plays after the encoder is killed in the middle of a recording, container by container: plain MP4 does not, as
// the sheet says, the others do.
func TestContainersAfterAKill(t *testing.T) {
	if testing.Short() {
		t.Skip("make test runs it")
	}
	for _, c := range []struct {
		container, file string
		plays           bool
	}{{"fmp4", "mp4", true}, {"mkv", "mkv", true}, {"mp4", "mp4", false}, {"mov", "mov", false}} {
		t.Run(c.container, func(t *testing.T) {
			r := show(640, 360, picture.R(30), 1000, "ultrafast")
			r.Show.Recordings = []rig.Recording{{What: "programme", Container: c.container, Encoder: "ultrafast"}}
			v := judge.Rig(r)
			s := sheet.Of(v)
			part := &s.Parts[len(s.Parts)-1]
			require.Equal(t, "recording", part.Kind)
			dir := t.TempDir()
			// Endless, in its own time, so that it is killed while it records.
			line := strings.Replace(strings.Replace(part.Command, " -t 5", " -t 600", 1), "-hide_banner",
				"-v error -nostdin", 1)
			line = strings.ReplaceAll(line, "-f lavfi", "-re -f lavfi")
			cmd := exec.Command("sh", "-c", "exec "+line)
			cmd.Dir = dir
			require.NoError(t, cmd.Start())
			file := filepath.Join(dir, "recording-of-programme."+c.file)
			require.Eventually(t, func() bool {
				info, err := os.Stat(file)
				return err == nil && info.Size() > 400_000
			}, 60e9, 50e6, "it records")
			require.NoError(t, cmd.Process.Kill())
			cmd.Wait()
			out, err := exec.Command("ffprobe", "-v", "error", "-count_packets", "-select_streams", "v",
				"-show_entries", "stream=nb_read_packets", "-of", "csv=p=0", file).Output()
			frames, _ := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(string(out), ",")))
			if c.plays {
				require.NoError(t, err)
				assert.Greater(t, frames, 10)
			} else {
				assert.Zero(t, frames)
			}
			care := v.Find(idOf(rules.Container, "0"))
			require.NotNil(t, care)
			assert.Equal(t, c.plays, care.State.String() == "slack", "what the sheet says of it")
			t.Logf("%s: %d frames play", c.container, frames)
		})
	}
}
