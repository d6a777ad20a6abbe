// Package inspect answers: is what was coded what was planned?
//
// A Traffic takes packets of a picture and of a sound as they come, from a file or from a connection, and keeps a few
// numbers a second of them; with what a stream says of itself they are an Arrived. Hold sets an Arrived beside the encoder
// sheet of a rig, line by line, and says what the destination would refuse. Two recordings of one thing are set beside each
// other in time by Against, and a filmed slate by SlateOf.
//
// It knows no file, connection or clock. Times are seconds, rates kb/s of a thousand bits, sizes bytes.
package inspect

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/look"
)

// Packet is one coded frame, or one piece of coded sound.
type Packet struct {
	At     float64 // when it is shown or heard
	Decode float64 // when it is decoded; of sound the same
	Bytes  int
	Key    bool // decoding can begin at it
}

// Video is what a coded picture says of itself. What it does not say is empty, or 0.
type Video struct {
	Codec      string  `json:"codec" doc:"h264, hevc and so on"`
	Profile    string  `json:"profile,omitempty" doc:"As the standard names it: High, Main, Constrained Baseline"`
	Level      string  `json:"level,omitempty" doc:"4.1"`
	Width      int     `json:"width" doc:"In its samples, as it is shown"`
	Height     int     `json:"height" doc:"As it is shown"`
	Shape      string  `json:"shape,omitempty" doc:"Of its samples, wide to tall, where they are not square: 4:3"`
	Turned     int     `json:"turned,omitempty" enum:"90,180,270" doc:"Degrees by which a mark in the file turns it when it is shown, as a clock goes"`
	DeclaredHz float64 `json:"declaredHz,omitempty" doc:"Frames a second it says it has"`
	References int     `json:"references,omitempty"`
	Range      string  `json:"range,omitempty" enum:"limited,full"`
	Matrix     string  `json:"matrix,omitempty" doc:"bt709, smpte170m, bt2020nc"`
	Transfer   string  `json:"transfer,omitempty" doc:"bt709, smpte2084, arib-std-b67"`
	Chroma     string  `json:"chroma,omitempty" doc:"4:2:0"`
	Bits       int     `json:"bits,omitempty"`
	Interlaced bool    `json:"interlaced,omitempty"`
}

// ShapeOf names the shape of samples; none of those that are square, or of no known shape.
func ShapeOf(wide, tall int) string {
	if wide <= 0 || tall <= 0 || wide == tall {
		return ""
	}
	return strconv.Itoa(wide) + ":" + strconv.Itoa(tall)
}

// Shown is the size of a picture when its samples are shown square: 1440 × 1080 of 4:3 is shown as 1920 × 1080.
func (v *Video) Shown() (width, height int) {
	wide, tall, _ := strings.Cut(v.Shape, ":")
	w, _ := strconv.Atoi(wide)
	t, _ := strconv.Atoi(tall)
	if w <= 0 || t <= 0 {
		return v.Width, v.Height
	}
	return int(math.Round(float64(v.Width) * float64(w) / float64(t))), v.Height
}

// HDR names a curve of light that is not the ordinary one [standard: ITU-T H.273, by ffprobe's names]; empty of others.
func HDR(transfer string) string {
	return map[string]string{"smpte2084": "PQ", "arib-std-b67": "HLG"}[transfer]
}

// Audio is what a coded sound says of itself.
type Audio struct {
	Codec    string `json:"codec" doc:"aac, opus and so on"`
	Profile  string `json:"profile,omitempty" doc:"LC, HE-AAC"`
	Rate     int    `json:"rate" doc:"Samples a second"`
	Channels int    `json:"channels"`
}

// Arrived is what came in.
type Arrived struct {
	Transport string `json:"transport,omitempty" enum:"rtmp,srt,webrtc" doc:"None of a file"`
	Container string `json:"container,omitempty" enum:"fmp4,mp4,mkv,mov,flv,mpegts,other" doc:"Of a file"`
	Video     *Video `json:"video,omitempty"`
	Audio     *Audio `json:"audio,omitempty" doc:"The first of them"`
	Tracks    int    `json:"tracks" doc:"Sound tracks"`
	Came      Came   `json:"came"`
	Whole     *Whole `json:"whole,omitempty" doc:"Of a file: whether it is all there"`
	Luma      string `json:"luma,omitempty" enum:"limited,full" doc:"Range the picture itself shows; none where it shows neither"`
}

// Whole is whether a file is all there, and would be after a crash.
type Whole struct {
	Safe look.Answer `json:"safe" enum:"found,clear,cannot-tell" doc:"found: it can be played up to the last moments after a crash"`
	Ends look.Answer `json:"ends" enum:"found,clear,cannot-tell" doc:"found: it was closed as it should be; clear: it breaks off"`
	Says string      `json:"says"`
}

// Came is how it came, in figures.
type Came struct {
	Seconds   float64    `json:"seconds"`
	VideoKbps float64    `json:"videoKbps" doc:"On average"`
	AudioKbps float64    `json:"audioKbps"`
	Windows   []float64  `json:"windows" doc:"kb/s of the picture, of each whole second"`
	Sound     []float64  `json:"sound" doc:"kb/s of the sound, of each whole second"`
	Most      float64    `json:"most" doc:"The highest of the windows"`
	Least     float64    `json:"least" doc:"The lowest of them"`
	Frames    int        `json:"frames"`
	Pace      *look.Pace `json:"pace,omitempty"`
	Uneven    float64    `json:"uneven" doc:"Share of steps from frame to frame that are not the usual one: variable rate where it is more than one in a hundred"`
	NeedsKbit float64    `json:"needsKbit" doc:"Buffer a decoder needs that is filled at the rate planned; 0 where none is"`
	BFrames   int        `json:"bFrames" doc:"Most frames in a row that are shown before one that was decoded sooner"`
	Keys      Keys       `json:"keys"`
	Gaps      []Gap      `json:"gaps,omitempty" doc:"Where only picture or only sound is there"`
	Anew      []float64  `json:"anew,omitempty" doc:"When its time stamps begin anew, seconds since the beginning: what comes after is counted on from there"`
	SkewMs    float64    `json:"skewMs" doc:"By how much the sound's last time stamp is ahead of the picture's, on average, where both came together"`
}

// Keys are how keyframes come.
type Keys struct {
	Count  int     `json:"count"`
	Usual  float64 `json:"usual" doc:"Seconds from one to the next, in the middle"`
	Least  float64 `json:"least"`
	Most   float64 `json:"most" doc:"The stretch after the last one counts where it is longer"`
	Frames int     `json:"frames" doc:"The usual distance in frames"`
}

// mostTimes is how many times of frames are kept for their rate, and mostSeconds how many windows: ten minutes at 120, and a
// whole day.
const (
	mostTimes   = 72_000
	mostSeconds = 86_400
)

// Traffic takes packets. It is not safe for use by several at once.
type Traffic struct {
	video, sound series
	seen, listen run
	times        []float64 // of frames, as decoded
	held         []float64 // times of the last frames, to put them in the order they are shown
	highest      float64   // latest time shown so far
	between      int       // frames in a row shown before one decoded sooner
	bFrames      int
	frames       int
	sinceKey     int
	keySteps     []float64
	keyFrames    []int
	lastKey      float64
	keys         int
	steps        map[int64]int // microseconds between frames, in the order they are shown, to tens
	last         float64       // latest of them
	began        bool
	drains       []drain // at the rate planned, and a little over it
	skew         float64 // of time stamps, summed
	skews        int
	heard        float64
}

// NewTraffic takes packets of a picture that is planned at so many kb/s, 0 where nothing is planned: its buffer is judged at
// that rate.
func NewTraffic(plannedKbps float64) *Traffic {
	return &Traffic{steps: map[int64]int{}, drains: drainsOf(plannedKbps)}
}

// series are bytes by the second.
type series struct {
	bytes   int64
	windows []int64
	from    float64
	to      float64
	some    bool
}

func (s *series) add(at float64, bytes int) {
	if !s.some {
		s.some, s.from, s.to = true, at, at
	}
	s.bytes += int64(bytes)
	s.to = max(s.to, at)
	k := int(at - s.from)
	if k < 0 || k >= mostSeconds {
		return
	}
	for len(s.windows) <= k {
		s.windows = append(s.windows, 0)
	}
	s.windows[k] += int64(bytes)
}

// kbps are its whole seconds, and the average.
func (s *series) kbps(step float64) (windows []float64, mean float64) {
	windows = []float64{}
	if !s.some {
		return windows, 0
	}
	lasts := s.to - s.from + step
	for k, b := range s.windows {
		if float64(k+1) <= lasts+1e-6 {
			windows = append(windows, float64(b)*8/1000)
		}
	}
	if lasts > 0 {
		mean = float64(s.bytes) * 8 / 1000 / lasts
	}
	return windows, mean
}

// Sound takes a piece of coded sound.
func (t *Traffic) Sound(p Packet) {
	p.At += t.listen.add(p.At)
	t.sound.add(p.At, p.Bytes)
	t.heard = p.At
}

// Picture takes a coded frame, in the order they are decoded, and tells when it is shown: where time stamps begin anew, counted
// on from there.
func (t *Traffic) Picture(p Packet) (at float64) {
	offset := t.seen.add(p.Decode)
	p.At, p.Decode = p.At+offset, p.Decode+offset
	t.video.add(p.Decode, p.Bytes)
	for i := range t.drains {
		t.drains[i].take(p.Decode, p.Bytes)
	}
	t.frames++
	if t.sound.some {
		t.skew += t.heard - p.Decode
		t.skews++
	}
	switch {
	case !t.began || p.At > t.highest:
		t.highest, t.between = p.At, 0
	default:
		t.between++
		t.bFrames = max(t.bFrames, t.between)
	}
	t.began = true
	if p.Key {
		if t.keys++; t.keys > 1 && len(t.keySteps) < mostSeconds {
			t.keySteps = append(t.keySteps, p.At-t.lastKey)
			t.keyFrames = append(t.keyFrames, t.sinceKey)
		}
		t.lastKey, t.sinceKey = p.At, 0
	}
	t.sinceKey++
	// Sixteen references at most can be waited for [standard: H.264 A.3.1]: what came before that many is shown.
	k, _ := slices.BinarySearch(t.held, p.At)
	t.held = slices.Insert(t.held, k, p.At)
	if len(t.held) > 17 {
		t.shown(t.held[0])
		t.held = t.held[1:]
	}
	return p.At
}

// shown notes when a frame is shown, in that order.
func (t *Traffic) shown(at float64) {
	if len(t.times) > 0 && len(t.steps) < 10_000 {
		t.steps[int64(math.Round((at-t.last)*1e5))]++
	}
	if len(t.times) < mostTimes {
		t.times = append(t.times, at)
	}
	t.last = at
}

// Frames is how many came so far.
func (t *Traffic) Frames() int { return t.frames }

// Came says what came so far.
func (t *Traffic) Came() Came {
	c := Came{Frames: t.frames, BFrames: t.bFrames}
	u := *t
	u.steps = map[int64]int{}
	for k, n := range t.steps {
		u.steps[k] = n
	}
	u.times, u.held = slices.Clip(t.times), nil
	for _, at := range t.held {
		u.shown(at)
	}
	step := 0.0
	if pace, ok := look.PaceOf(u.times); ok {
		c.Pace, step = &pace, 1/pace.Hz
		c.Uneven = u.uneven(step)
	}
	c.Windows, c.VideoKbps = t.video.kbps(step)
	c.Sound, c.AudioKbps = t.sound.kbps(0.02)
	c.NeedsKbit = t.needs(c.VideoKbps)
	switch { // from the beginning of the one that begins first to the end of the one that ends last
	case t.video.some && t.sound.some:
		c.Seconds = max(t.video.to+step, t.sound.to) - min(t.video.from, t.sound.from)
	case t.video.some:
		c.Seconds = t.video.to + step - t.video.from
	default:
		c.Seconds = t.sound.to - t.sound.from
	}
	if len(c.Windows) > 0 {
		c.Most, c.Least = slices.Max(c.Windows), slices.Min(c.Windows)
	}
	c.Keys.Count = t.keys
	if n := len(t.keySteps); n > 0 {
		sorted := slices.Sorted(slices.Values(t.keySteps))
		c.Keys.Usual, c.Keys.Least, c.Keys.Most = sorted[n/2], sorted[0], sorted[n-1]
		frames := slices.Sorted(slices.Values(t.keyFrames))
		c.Keys.Frames = frames[n/2]
	}
	if t.keys > 0 {
		c.Keys.Most = max(c.Keys.Most, t.video.to-t.lastKey)
	}
	c.Gaps = gaps(&t.seen, &t.listen, c.Uneven <= 0.01)
	for _, at := range t.either().anew {
		c.Anew = append(c.Anew, tenth(at-t.either().from))
	}
	if t.skews > 0 {
		c.SkewMs = math.Round(1000*t.skew/float64(t.skews)*10) / 10
	}
	return c
}

// either is the picture, or the sound where there is no picture.
func (t *Traffic) either() *run {
	if t.seen.some {
		return &t.seen
	}
	return &t.listen
}

// uneven is the share of steps that are more than a fifth of a period off the usual one.
func (t *Traffic) uneven(period float64) float64 {
	off, n := 0, 0
	for step, k := range t.steps {
		n += k
		if math.Abs(float64(step)/1e5-period) > max(period/5, 0.0015) {
			off += k
		}
	}
	return float64(off) / max(1, float64(n))
}

// drain is a bucket that frames are poured into as they are decoded, and that runs out at a rate: the most that was ever in
// it is the buffer a decoder needs that is filled at that rate [standard: ITU-T H.264 annex C, from memory; the same bucket
// turned round].
type drain struct {
	kbps float64
	in   float64 // kbit
	at   float64
	most float64
	some bool
}

func (d *drain) take(at float64, bytes int) {
	if d.some {
		d.in = max(0, d.in-d.kbps*max(0, at-d.at))
	}
	d.some, d.at = true, at
	d.in += float64(bytes) * 8 / 1000
	d.most = max(d.most, d.in)
}

// over are the rates a buffer is judged at, against the one planned: a coder that is a little over its rate all evening has
// no buffer that is too small, but another rate.
var over = []float64{1, 1.02, 1.05, 1.1}

// drainsOf are buckets that run out at a planned rate and a little more.
func drainsOf(kbps float64) []drain {
	if kbps <= 0 {
		return nil
	}
	out := make([]drain, len(over))
	for i := range out {
		out[i].kbps = kbps * over[i]
	}
	return out
}

// needs is the buffer for the lowest of the rates that is not under what came on average, kbit.
func (t *Traffic) needs(mean float64) float64 {
	for i := range t.drains {
		if d := &t.drains[i]; d.kbps >= mean || i == len(t.drains)-1 {
			return d.most
		}
	}
	return 0
}
