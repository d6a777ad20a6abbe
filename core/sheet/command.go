package sheet

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"

	"eventether/core/h264"
	"eventether/core/plans"
)

// command is what a command line of the reference encoder is made of.
type command struct {
	c         *plans.Coding
	name      string
	kbps      float64 // 0: constant quality
	quality   float64
	frames    int
	refs      int
	level     *h264.Level
	full      bool
	sound     float64
	tracks    int
	container string
	transport string
}

// web tells that it goes to a WebRTC ingest.
func (k *command) web() bool { return k.transport == "webrtc" }

// seconds is how long what a command makes is.
const seconds = 5

// source is a made-up moving picture, busy enough to need its bitrate: test bars that move, with noise over them.
func (k *command) source() string {
	return fmt.Sprintf("testsrc2=size=%dx%d:rate=%s", k.c.From[0], k.c.From[1], k.c.Rate)
}

func (k *command) filters() string {
	f := []string{"noise=alls=10:allf=t"}
	if k.c.Scaled() {
		way := "lanczos"
		if k.c.Width > k.c.From[0] || k.c.Height > k.c.From[1] {
			way = "bicubic"
		}
		f = append(f, fmt.Sprintf("scale=%d:%d:flags=%s", k.c.Width, k.c.Height, way))
	}
	if k.c.Width%2 == 1 || k.c.Height%2 == 1 { // 4:2:0 has even sides: the last column or row goes
		f = append(f, "crop=trunc(iw/2)*2:trunc(ih/2)*2")
	}
	to := "tv"
	if k.full {
		to = "pc"
	}
	return strings.Join(append(f, "scale=out_color_matrix=bt709:out_range="+to, "format=yuv420p"), ",")
}

// coder are the settings of the picture. What a hardware encoder would code is shown with software at veryfast.
func (k *command) coder() []string {
	preset := k.c.Preset
	if preset == nil {
		preset = h264.PresetNamed("veryfast")
	}
	to := "tv"
	if k.full {
		to = "pc"
	}
	x := []string{"ref=" + strconv.Itoa(k.refs), "bframes=2", "scenecut=0", "keyint=" + strconv.Itoa(k.frames),
		"min-keyint=" + strconv.Itoa(k.frames), "cabac=1", "8x8dct=1"}
	out := []string{"-c:v", "libx264", "-preset", preset.Name, "-profile:v", "high"}
	if k.web() { // x264's baseline is the constrained one
		x[1], x[5], x[6] = "bframes=0", "cabac=0", "8x8dct=0:weightp=0"
		out[5] = "baseline"
	}
	if k.level != nil {
		out = append(out, "-level:v", k.level.Name)
	}
	if k.kbps > 0 {
		rate := strconv.FormatFloat(k.kbps, 'f', 0, 64)
		out = append(out, "-b:v", rate+"k", "-maxrate", rate+"k", "-bufsize", rate+"k")
		x = append(x, "nal-hrd=cbr", "vbv-init=0.55") // so short a piece would else spend a full buffer beside its rate
	} else {
		out = append(out, "-crf", strconv.FormatFloat(k.quality, 'f', -1, 64))
	}
	return append(out, "-x264-params", strings.Join(x, ":"), "-color_range", to, "-colorspace", "bt709",
		"-color_primaries", "bt709", "-color_trc", "bt709")
}

// streamCommand makes a file with exactly what would be sent.
func streamCommand(k *command) string {
	args := []string{"-hide_banner", "-y", "-f", "lavfi", "-i", k.source(), "-f", "lavfi", "-i",
		"sine=frequency=440:sample_rate=48000", "-vf", k.filters()}
	args = append(args, k.coder()...)
	codec := "aac"
	if k.web() {
		codec = "libopus"
	}
	args = append(args, "-c:a", codec, "-b:a", strconv.FormatFloat(k.sound, 'f', 0, 64)+"k", "-ar", "48000", "-ac",
		"2", "-t", strconv.Itoa(seconds))
	if k.transport == "srt" {
		return shell(append(args, "-f", "mpegts", file(k.name)+".ts"))
	}
	if k.web() { // no file has its name: the same pictures and sound in one that holds both
		return shell(append(args, "-f", "matroska", file(k.name)+".mkv"))
	}
	return shell(append(args, "-f", "flv", file(k.name)+".flv"))
}

// recordingCommand makes a file as it would be recorded.
func recordingCommand(k *command) string {
	args := []string{"-hide_banner", "-y", "-f", "lavfi", "-i", k.source()}
	for t := range k.tracks {
		args = append(args, "-f", "lavfi", "-i", fmt.Sprintf("sine=frequency=%d:sample_rate=48000", 330+110*t))
	}
	args = append(args, "-map", "0:v")
	for t := range k.tracks {
		args = append(args, "-map", strconv.Itoa(t+1)+":a")
	}
	args = append(args, "-vf", k.filters())
	args = append(args, k.coder()...)
	args = append(args, "-c:a", "aac", "-b:a", "160k", "-ar", "48000", "-ac", "2", "-t", strconv.Itoa(seconds))
	switch k.container {
	case "mkv":
		return shell(append(args, "-f", "matroska", file(k.name)+".mkv"))
	case "mov":
		return shell(append(args, "-f", "mov", file(k.name)+".mov"))
	case "mp4":
		return shell(append(args, "-f", "mp4", file(k.name)+".mp4"))
	}
	return shell(append(args, "-movflags", "+frag_keyframe+empty_moov", "-f", "mp4", file(k.name)+".mp4"))
}

// file is a name as a file of the current folder may have it: letters, digits and dashes.
func file(name string) string {
	out := strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return '-'
	}, name)
	for strings.Contains(out, "--") {
		out = strings.ReplaceAll(out, "--", "-")
	}
	out = strings.Trim(out, "-")
	if r := []rune(out); len(r) > 60 {
		out = string(r[:60])
	}
	if out == "" {
		return "stream"
	}
	return out
}

// shell is a command line as a shell takes it: what has anything but plain characters stands in quotes.
func shell(args []string) string {
	var b strings.Builder
	b.WriteString("ffmpeg")
	for _, a := range args {
		b.WriteByte(' ')
		plain := a != "" && !strings.ContainsFunc(a, func(r rune) bool {
			return !(r < 128 && (unicode.IsLetter(r) || unicode.IsDigit(r)) || strings.ContainsRune("-_./:=,+%@", r))
		})
		if plain {
			b.WriteString(a)
		} else {
			b.WriteString("'" + strings.ReplaceAll(a, "'", `'\''`) + "'")
		}
	}
	return b.String()
}
