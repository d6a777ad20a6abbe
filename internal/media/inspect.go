package media

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h264"

	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/look"
	"eventether/internal/system"
)

// Inspected is what a clip really is: what was looked at and heard, and how it was coded.
type Inspected struct {
	Looked
	Bytes   int64           `json:"bytes"`
	Arrived inspect.Arrived `json:"arrived"`
	Notes   []string        `json:"notes" doc:"What to know of how it was inspected"`
	Shots   []Shot          `json:"shots" doc:"Frames of what was found, small"`
	Times   Times           `json:"times"`
}

// Shot is a frame of a clip, small.
type Shot struct {
	At   float64 `json:"at" doc:"Seconds from the beginning"`
	Of   string  `json:"of" doc:"What was found there: a name of looking, cut, or start"`
	JPEG []byte  `json:"jpeg" doc:"base64"`
}

// InspectOptions bound an inspection.
type InspectOptions struct {
	Seconds float64 // of it that are looked at; 600 when 0. How it is coded is read of the first hour
	Kbps    float64 // the bitrate planned for its picture, 0 where none is: its buffer is judged at it
	Shots   bool    // frames of what was found are wanted
	Times   bool    // what it tells of time is wanted, with the frames around claps
	Other   string  // another file of the same sound, to be held against it; none when empty
}

// codedSeconds is how much of a clip's packets are read.
const codedSeconds = 3600

// Inspect looks at a clip, as Look does, and reads how it is coded: with ffprobe, without decoding. Errors are as Look's; one
// that was never closed says so.
func Inspect(ctx context.Context, path string, o InspectOptions, progress func(done, of float64)) (*Inspected, error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	before, err := plainFile(path)
	if err != nil {
		return nil, err
	}
	out := &Inspected{Bytes: before.Size(), Notes: []string{}, Shots: []Shot{}}
	said, err := arrivedAs(ctx, path, &out.Arrived)
	if err != nil {
		if _, _, broken := container(path, "", "", false); broken != "" && ctx.Err() == nil {
			return nil, fmt.Errorf("%q: %s", path, broken)
		}
		return nil, err
	}
	a := &out.Arrived
	var wait sync.WaitGroup
	var coded error
	wait.Go(func() { a.Came, coded = cameOf(ctx, path, said, o.Kbps) })
	var light lights
	looks := LookOptions{Seconds: o.Seconds}
	if o.Times {
		looks.few = light.add
	}
	l, err := Look(ctx, path, looks, progress)
	if err != nil {
		cancel()
	}
	wait.Wait()
	if errors.Is(coded, errStuck) { // what came before is told
		out.Notes, coded = append(out.Notes, lang.Text("Its packets could not be read to the end: nothing that can be read followed for long.")), nil
	}
	if err = errors.Join(err, coded); err != nil {
		return nil, err
	}
	out.Looked = *l
	out.ranged()
	if after, err := os.Stat(path); err == nil && after.Size() != before.Size() {
		out.Notes = append(out.Notes, lang.Text("It grew meanwhile: it is still being written, and what is said here is of its beginning."))
	}
	if n := len(said.Streams); n > 20 {
		out.Notes = append(out.Notes, lang.Text("It holds %s streams: the first picture and the first sound were looked at.", strconv.Itoa(n)))
	}
	out.Times.Claps = []Clap{}
	if o.Times || o.Other != "" {
		t, err := times(ctx, path, o.Other, said, &light)
		if err != nil {
			return nil, err
		}
		out.Times = *t
	}
	if o.Shots && out.Video != nil {
		out.Shots = shots(ctx, path, out.moments())
	}
	return out, ctx.Err()
}

// arrivedAs reads what a file says of itself, and whether it is all there.
func arrivedAs(ctx context.Context, path string, a *inspect.Arrived) (*said, error) {
	said, err := codedAs(ctx, path)
	if err != nil {
		return nil, err
	}
	said.into(a)
	if v := a.Video; v != nil && v.Codec == "h264" {
		v.References = references(ctx, path)
	}
	a.Container, a.Whole, _ = container(path, said.Format.Name, said.Format.Tags.Brand, said.timed())
	return said, nil
}

// ranged takes over what looking tells of the range.
func (out *Inspected) ranged() {
	if out.Video == nil {
		return
	}
	if f := look.Find(out.Video.Signs, look.IsRange); f != nil && f.Answer == look.Found {
		out.Arrived.Luma = "full"
	} else if f != nil && f.Answer == look.Clear {
		out.Arrived.Luma = "limited"
	}
}

// said is what ffprobe prints of a file.
type said struct {
	Streams []struct {
		Index    int    `json:"index"`
		Kind     string `json:"codec_type"`
		Codec    string `json:"codec_name"`
		Profile  string `json:"profile"`
		Level    int    `json:"level"`
		Width    int    `json:"width"`
		Height   int    `json:"height"`
		Format   string `json:"pix_fmt"`
		Range    string `json:"color_range"`
		Matrix   string `json:"color_space"`
		Transfer string `json:"color_transfer"`
		Fields   string `json:"field_order"`
		Rate     string `json:"avg_frame_rate"`
		Samples  string `json:"sample_rate"`
		Channels int    `json:"channels"`
		Start    string `json:"start_time"`
		Is       struct {
			Cover int `json:"attached_pic"`
		} `json:"disposition"`
	} `json:"streams"`
	Format struct {
		Name     string `json:"format_name"`
		Duration string `json:"duration"`
		Tags     struct {
			Brand string `json:"major_brand"`
		} `json:"tags"`
	} `json:"format"`
	video, audio int // indexes; -1 for none
}

func (s *said) timed() bool {
	d, err := strconv.ParseFloat(s.Format.Duration, 64)
	return err == nil && d > 0
}

// codedAs reads what a file says of itself.
func codedAs(ctx context.Context, path string) (*said, error) {
	raw, err := probed(ctx, path, "-show_streams", "-show_format", "-of", "json")
	if err != nil {
		return nil, err
	}
	s := &said{video: -1, audio: -1}
	if err := json.Unmarshal(raw, s); err != nil {
		return nil, fmt.Errorf("%q is no recording", path)
	}
	for i := range s.Streams {
		switch st := &s.Streams[i]; {
		case st.Kind == "video" && s.video < 0 && st.Is.Cover == 0 && st.Width > 0:
			s.video = i
		case st.Kind == "audio" && s.audio < 0 && st.Channels > 0:
			s.audio = i
		}
	}
	return s, nil
}

// into tells what it says in the words of the core.
func (s *said) into(a *inspect.Arrived) {
	for i := range s.Streams {
		if s.Streams[i].Kind == "audio" {
			a.Tracks++
		}
	}
	if s.video >= 0 {
		st := &s.Streams[s.video]
		v := &inspect.Video{Codec: st.Codec, Profile: st.Profile, Width: st.Width, Height: st.Height,
			Interlaced: slices.Contains([]string{"tt", "bb", "tb", "bt"}, st.Fields)}
		if st.Codec == "h264" && st.Level > 0 {
			v.Level = levelOf(st.Level)
		}
		switch st.Range {
		case "tv":
			v.Range = "limited"
		case "pc":
			v.Range = "full"
		}
		if st.Matrix != "unknown" {
			v.Matrix = st.Matrix
		}
		if st.Transfer != "unknown" {
			v.Transfer = st.Transfer
		}
		v.Chroma, v.Bits = format(st.Format)
		if strings.HasPrefix(st.Format, "yuvj") && v.Range == "" {
			v.Range = "full"
		}
		if num, den, ok := strings.Cut(st.Rate, "/"); ok {
			n, _ := strconv.ParseFloat(num, 64)
			if d, _ := strconv.ParseFloat(den, 64); d > 0 {
				v.DeclaredHz = n / d
			}
		}
		a.Video = v
	}
	if s.audio >= 0 {
		st := &s.Streams[s.audio]
		rate, _ := strconv.Atoi(st.Samples)
		a.Audio = &inspect.Audio{Codec: st.Codec, Profile: st.Profile, Rate: rate, Channels: st.Channels}
	}
}

// references is how many pictures an H.264 stream says it keeps; 0 where that cannot be read. ffprobe does not tell.
func references(ctx context.Context, path string) int {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return 0
	}
	cmd := exec.CommandContext(ctx, tool, "-v", "error", "-nostdin", "-protocol_whitelist", "file,pipe", "-format_whitelist", readable,
		"-i", "file:"+path, "-map", "0:V:0", "-c", "copy", "-bsf:v", "h264_mp4toannexb", "-frames:v", "1", "-f", "h264", "pipe:1")
	system.EndsWithUs(cmd)
	raw, err := cmd.Output()
	if err != nil {
		return 0
	}
	var nals h264.AnnexB
	if nals.Unmarshal(raw) != nil {
		return 0
	}
	for _, nal := range nals {
		if len(nal) > 0 && nal[0]&31 == byte(h264.NALUTypeSPS) {
			if v, ok := VideoOf(nal); ok {
				return v.References
			}
		}
	}
	return 0
}

// format is what a pixel format's name says: yuv420p10le is 4:2:0 of ten bits.
func format(name string) (chroma string, bits int) {
	bits = 8
	for _, b := range []int{9, 10, 12, 14, 16} {
		if strings.HasSuffix(strings.TrimRight(name, "lbe"), "p"+strconv.Itoa(b)) {
			bits = b
		}
	}
	switch {
	case strings.Contains(name, "420"), name == "nv12", name == "p010le":
		chroma = "4:2:0"
	case strings.Contains(name, "422"):
		chroma = "4:2:2"
	case strings.Contains(name, "444"):
		chroma = "4:4:4"
	case strings.HasPrefix(name, "gray"):
		chroma = "4:0:0"
	case name == "gbrp" || strings.HasPrefix(name, "rgb") || strings.HasPrefix(name, "bgr"):
		chroma = "RGB"
	}
	if name == "p010le" {
		bits = 10
	}
	return chroma, bits
}

// probed is what ffprobe prints of a plain file.
func probed(ctx context.Context, path string, args ...string) ([]byte, error) {
	var out bytes.Buffer
	err := ask(ctx, path, args, func(r io.Reader) error {
		_, err := out.ReadFrom(io.LimitReader(r, 64<<20))
		return err
	})
	return out.Bytes(), err
}

// ask runs ffprobe over a plain file, and hands what it prints on as it comes.
func ask(ctx context.Context, path string, args []string, take func(io.Reader) error) error {
	tool, err := exec.LookPath("ffprobe")
	if err != nil {
		return ErrNoEncoder
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	all := append([]string{"-v", "error", "-protocol_whitelist", "file", "-format_whitelist", readable}, args...)
	cmd := exec.CommandContext(ctx, tool, append(all, "file:"+path)...)
	system.EndsWithUs(cmd)
	problem := system.Said{Most: 4000}
	cmd.Stderr = &problem
	pipe, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	watched := watching(pipe, cancel)
	taken := take(watched)
	if taken != nil {
		cancel()
	}
	err = cmd.Wait()
	switch {
	case watched.stop():
		return errStuck
	case taken != nil:
		return taken
	case ctx.Err() != nil:
		return ctx.Err()
	case err != nil:
		return fmt.Errorf("%q is no recording: %s", path, firstLine(&problem, path))
	}
	return nil
}

// cameOf reads the packets of a file's first picture and first sound.
func cameOf(ctx context.Context, path string, s *said, kbps float64) (inspect.Came, error) {
	t := inspect.NewTraffic(kbps)
	err := ask(ctx, path, []string{"-read_intervals", "%+" + strconv.Itoa(codedSeconds), "-show_entries",
		"packet=stream_index,pts_time,dts_time,size,flags", "-of", "csv=p=0"}, func(r io.Reader) error {
		lines := bufio.NewScanner(r)
		lines.Buffer(make([]byte, 64<<10), 1<<20)
		for lines.Scan() {
			s.packet(t, lines.Text())
		}
		return lines.Err()
	})
	return t.Came(), err
}

// packet takes one packet as ffprobe prints it: stream, pts, dts, bytes, flags.
func (s *said) packet(t *inspect.Traffic, line string) {
	f := strings.Split(line, ",")
	if len(f) < 5 {
		return
	}
	index, err := strconv.Atoi(f[0])
	if err != nil {
		return
	}
	at, noAt := strconv.ParseFloat(f[1], 64)
	decode, noDecode := strconv.ParseFloat(f[2], 64)
	switch {
	case noAt != nil && noDecode != nil:
		return
	case noAt != nil:
		at = decode
	case noDecode != nil:
		decode = at
	}
	size, err := strconv.Atoi(f[3])
	if err != nil || math.IsNaN(at) || math.IsInf(at, 0) || math.Abs(at) > 1e9 || math.Abs(decode) > 1e9 {
		return
	}
	p := inspect.Packet{At: at, Decode: decode, Bytes: size, Key: strings.HasPrefix(f[4], "K")}
	switch {
	case s.video >= 0 && index == s.Streams[s.video].Index:
		t.Picture(p)
	case s.audio >= 0 && index == s.Streams[s.audio].Index:
		t.Sound(p)
	}
}

// mostShots are kept of one clip.
const mostShots = 16

// moment is a time of a clip worth a frame.
type moment struct {
	at float64
	of string
}

// moments are the times of what was found, the beginning first: two of each kind of finding, and the first cuts.
func (out *Inspected) moments() []moment {
	all := []moment{{0, "start"}}
	for i := range out.Video.Signs {
		f := &out.Video.Signs[i]
		if f.Answer != look.Found || f.What == look.IsRate || f.What == look.IsRange {
			continue
		}
		for k, s := range f.Spans {
			if k < 2 {
				all = append(all, moment{(s.From + s.To) / 2, string(f.What)})
			}
		}
		if len(f.Spans) == 0 {
			all = append(all, moment{out.Video.Seconds / 2, string(f.What)})
		}
	}
	for k, at := range out.Video.Cuts {
		if k < 4 {
			all = append(all, moment{at, "cut"})
		}
	}
	return all[:min(len(all), mostShots)]
}

// shots are small frames of a clip; one that cannot be had is left out.
func shots(ctx context.Context, path string, all []moment) []Shot {
	out := []Shot{}
	for _, m := range all {
		if ctx.Err() != nil {
			break
		}
		if jpeg := frameAt(ctx, path, m.at, 320); jpeg != nil {
			out = append(out, Shot{m.at, m.of, jpeg})
		}
	}
	return out
}

// frameAt is the frame of a clip at a time, so many pixels wide, as JPEG; nil where there is none.
func frameAt(ctx context.Context, path string, at float64, wide int) []byte {
	tool, err := exec.LookPath("ffmpeg")
	if err != nil {
		return nil
	}
	cmd := exec.CommandContext(ctx, tool, "-v", "error", "-nostdin", "-protocol_whitelist", "file", "-format_whitelist", readable,
		"-ss", strconv.FormatFloat(max(0, at), 'f', 3, 64), "-i", "file:"+path, "-an", "-sn", "-dn", "-frames:v", "1", "-vf",
		fmt.Sprintf("scale=%d:-2", wide), "-c:v", "mjpeg", "-q:v", "5", "-f", "image2pipe", "pipe:1")
	system.EndsWithUs(cmd)
	raw, err := cmd.Output()
	if err != nil || len(raw) == 0 || len(raw) > 1<<20 {
		return nil
	}
	return raw
}
