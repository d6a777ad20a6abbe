package media

import (
	"bufio"
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/abema/go-mp4"
	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h264"

	"eventether/core/inspect"
	"eventether/core/look"
	"eventether/internal/system"
)

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
		Shape    string `json:"sample_aspect_ratio"` // of a sample: 4:3
		Setup    string `json:"extradata"`           // what its decoder is set up with, as a dump; none where that is large
		Is       struct {
			Cover int `json:"attached_pic"`
		} `json:"disposition"`
		Beside []struct {
			Rotation float64 `json:"rotation"` // degrees it is turned by when shown, the other way round than a clock
		} `json:"side_data_list"`
	} `json:"streams"`
	Format struct {
		Name     string `json:"format_name"`
		Duration string `json:"duration"`
		Tags     struct {
			Brand string `json:"major_brand"`
		} `json:"tags"`
	} `json:"format"`
	video, audio int       // indexes of the first picture and the first sound; -1 for none
	times        []float64 // of the picture's frames, as they are shown
	holes        bool      // in its first sound
}

// seconds are how long it says it is; 0 where it does not.
func (s *said) seconds() float64 {
	d, err := strconv.ParseFloat(s.Format.Duration, 64)
	if err != nil || !(d > 0) {
		return 0
	}
	return d
}

// at is when a frame is shown, seconds from the first; past those that are known, as evenly as they came.
func (s *said) at(n int) float64 {
	k := len(s.times)
	switch {
	case n < k:
		return s.times[n] - s.times[0]
	case k > 1:
		return s.times[k-1] - s.times[0] + float64(n-k+1)*(s.times[k-1]-s.times[0])/float64(k-1)
	}
	return float64(n) / 25
}

// closely is of how many frames one is looked at whole: five a second.
func (s *said) closely() int {
	if k := len(s.times); k > 1 && s.times[k-1] > s.times[0] {
		return max(1, int(math.Round(look.Closely*float64(k-1)/(s.times[k-1]-s.times[0]))))
	}
	return 5
}

// stream is one of them as ffmpeg names it.
func (s *said) stream(i int) string { return fmt.Sprintf("0:%d", s.Streams[i].Index) }

// turned is by how many degrees its picture is turned when it is shown, as a clock goes: 0, 90, 180 or 270.
func (s *said) turned() int {
	for _, b := range s.Streams[s.video].Beside {
		if quarters := -math.Round(b.Rotation / 90); quarters != 0 && math.Abs(quarters) < 100 {
			return 90 * ((int(quarters)%4 + 4) % 4)
		}
	}
	return 0
}

// shown is the size of its picture as it is shown, in its own samples.
func (s *said) shown() (wide, tall int) {
	st := &s.Streams[s.video]
	if s.turned()%180 == 90 {
		return st.Height, st.Width
	}
	return st.Width, st.Height
}

// shape is that of its picture's samples as they are shown, 4:3; none where they are square, or nobody says.
func (s *said) shape() string {
	wide, tall, _ := strings.Cut(s.Streams[s.video].Shape, ":")
	w, _ := strconv.Atoi(wide)
	t, _ := strconv.Atoi(tall)
	if s.turned()%180 == 90 {
		w, t = t, w
	}
	return inspect.ShapeOf(w, t)
}

// samples is how many a second its sound has, 0 where it has none that is listened to.
func (s *said) samples() int {
	if s.audio < 0 {
		return 0
	}
	if rate, err := strconv.Atoi(s.Streams[s.audio].Samples); err == nil && rate >= 8000 && rate <= 400000 {
		return rate
	}
	return 0
}

// codedAs reads what a file says of itself.
func codedAs(ctx context.Context, path string) (*said, error) {
	what := []string{"-show_streams", "-show_format", "-of", "json"}
	raw, err := probed(ctx, path, mostSetup, append(what, "-show_data")...)
	attached := errors.Is(err, errSaysMuch) // fonts, as it may be: what they hold is printed, too
	if attached {
		raw, err = probed(ctx, path, mostSaid, what...)
	}
	if err != nil {
		return nil, err
	}
	s := &said{video: -1, audio: -1}
	if err := json.Unmarshal(raw, s); err != nil {
		return nil, fmt.Errorf("%q is no recording", path)
	}
	for i := range s.Streams {
		switch st := &s.Streams[i]; {
		case st.Kind == "video" && s.video < 0 && st.Is.Cover == 0 && st.Width > 0 && st.Height > 0:
			s.video = i
		case st.Kind == "audio" && s.audio < 0 && st.Channels > 0:
			s.audio = i
		}
	}
	if attached && s.video >= 0 { // asked of the picture alone
		raw, err := probed(ctx, path, mostSetup, "-select_streams", strconv.Itoa(s.Streams[s.video].Index), "-show_data", "-show_entries", "stream=extradata", "-of", "json")
		var one said
		if err == nil && json.Unmarshal(raw, &one) == nil && len(one.Streams) == 1 {
			s.Streams[s.video].Setup = one.Streams[0].Setup
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
		v := &inspect.Video{Codec: st.Codec, Profile: st.Profile, Turned: s.turned(), Shape: s.shape(),
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
		if st.Codec == "h264" {
			v.References = references(st.Setup)
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
		v.Width, v.Height = s.shown()
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

// references is how many pictures an H.264 stream says it keeps, in what its decoder is set up with; 0 where that cannot be
// read. ffprobe prints those bytes, but not what they say.
func references(dump string) int {
	var setup []byte
	for line := range strings.Lines(dump) { // 00000010: 2ff9 7011  /.p.
		_, digits, _ := strings.Cut(line, ": ")
		digits, _, _ = strings.Cut(digits, "  ")
		raw, err := hex.DecodeString(strings.ReplaceAll(strings.TrimSpace(digits), " ", ""))
		if err != nil {
			return 0
		}
		setup = append(setup, raw...)
	}
	var nals h264.AnnexB
	var box mp4.AVCDecoderConfiguration
	box.SetType(mp4.BoxTypeAvcC())
	if _, err := mp4.Unmarshal(bytes.NewReader(setup), uint64(len(setup)), &box, mp4.Context{}); err == nil && box.ConfigurationVersion == 1 {
		for _, set := range box.SequenceParameterSets {
			nals = append(nals, set.NALUnit)
		}
	} else if nals.Unmarshal(setup) != nil {
		return 0
	}
	for _, nal := range nals {
		if len(nal) > 0 && h264.NALUType(nal[0]&31) == h264.NALUTypeSPS {
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
	case strings.Contains(name, "rgb") || strings.Contains(name, "bgr") || strings.HasPrefix(name, "gbr"):
		chroma = "RGB"
	}
	if name == "p010le" {
		bits = 10
	}
	return chroma, bits
}

// mostSaid is how much ffprobe may print of what a file says of itself, and mostSetup how much with what decoders are set up with:
// a few hundred bytes each, as a dump.
const (
	mostSaid  = 16 << 20
	mostSetup = 1 << 20
)

var errSaysMuch = errors.New("it says more of itself than is read")

// probed is what ffprobe prints of a plain file, so many bytes at most.
func probed(ctx context.Context, path string, most int64, args ...string) ([]byte, error) {
	var out bytes.Buffer
	err := ask(ctx, path, args, func(r io.Reader) error {
		if n, err := out.ReadFrom(io.LimitReader(r, most+1)); err != nil || n <= most {
			return err
		}
		return fmt.Errorf("%q: %w: %d MB", path, errSaysMuch, most>>20)
	})
	return out.Bytes(), err
}

// ask runs ffprobe over a plain file, and hands what it prints on as it comes.
func ask(ctx context.Context, path string, args []string, take func(io.Reader) error) error {
	all := append([]string{"-v", "error", "-protocol_whitelist", "file", "-format_whitelist", readable}, args...)
	return child(ctx, "ffprobe", append(all, "file:"+path), nil, take, func(said *system.Said) error {
		return fmt.Errorf("%q is no recording: %s. MP4, MOV, Matroska, FLV, transport streams, AVI, MXF and files of sound are read", path, firstLine(said, path))
	})
}

// mostTimes are the frames whose times are kept: of ten minutes, at any rate there is.
const mostTimes = 1 << 20

// packets reads those of a file's first picture and first sound, so many seconds of it, into traffic, and notes when frames
// are shown. What came before an error stays.
func (s *said) packets(ctx context.Context, path string, seconds float64, t *inspect.Traffic) error {
	if s.video < 0 && s.audio < 0 {
		return nil
	}
	err := ask(ctx, path, []string{"-read_intervals", "%+" + strconv.FormatFloat(seconds, 'f', 0, 64), "-show_entries",
		"packet=stream_index,pts_time,dts_time,size,flags", "-of", "csv=p=0"}, func(r io.Reader) error {
		lines := bufio.NewScanner(r)
		lines.Buffer(make([]byte, 64<<10), 1<<20)
		for lines.Scan() {
			s.packet(t, lines.Text())
		}
		return lines.Err()
	})
	slices.Sort(s.times)
	s.holes = t.Holes()
	return err
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
		if at := t.Picture(p); len(s.times) < mostTimes {
			s.times = append(s.times, at)
		}
	case s.audio >= 0 && index == s.Streams[s.audio].Index:
		t.Sound(p)
	}
}
