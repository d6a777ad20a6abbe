// Package mistakes is for tests: a rig that is quickly coded, and for every line of its sheet a setting that is wrong.
package mistakes

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

// Rig is a rig whose stream and recording are quickly coded.
func Rig() *rig.Rig {
	r := rigs.LoftEven()
	r.Show.Programme.Width, r.Show.Programme.Height = 320, 180
	d := &r.Show.Destinations[0]
	d.Send.Width, d.Send.Height, d.Send.VideoKbps, d.Send.Encoder = 320, 180, new(fact.Exactly(600)), "veryfast"
	d.Ingest = &rig.Ingest{MaxVideoKbps: 800, KeyframeSeconds: 2, MaxAudioKbps: 160, VideoCodecs: []string{"h264"}, MaxWidth: 1280, MaxHeight: 720,
		MaxRate: picture.Rate{Num: 30, Den: 1}}
	r.Show.Recordings = []rig.Recording{{What: "programme", Width: 320, Height: 180, Quality: 22, Container: "fmp4", Encoder: "veryfast"}}
	return r
}

// Mistake is one line of a sheet set wrong.
type Mistake struct {
	Part, Line string
	Replace    []string // of the part's command
	Also       []string // lines such a mistake changes besides
	Refused    bool     // the destination does not take it
}

const still = "noise=alls=10:allf=t"

// All are mistakes in every line that can be seen. What needs it has a picture that is busy for a while and then is not, or cuts.
var All = []Mistake{
	{"stream-0", "size", []string{"size=320x180", "size=240x180"}, []string{"level"}, false},
	{"stream-0", "size", []string{"format=yuv420p", "format=yuv420p,setsar=4/3"}, nil, false}, // pixels that are not square
	{"stream-0", "rate", []string{"rate=30000/1001", "rate=25"}, []string{"keyframe-seconds", "keyframe-frames"}, true},
	{"stream-0", "bitrate", []string{"600k", "1100k"}, []string{"rate-control", "buffer"}, true},
	{"stream-0", "keyframe-seconds", []string{"keyint=60", "keyint=150"}, []string{"keyframe-frames"}, true},
	{"stream-0", "scene-cut", []string{"min-keyint=60", "min-keyint=1", "scenecut=0", "scenecut=40", still, still + ",'negate=enable=sin(4.8*t)+abs(sin(4.8*t))'"},
		[]string{"keyframe-seconds", "keyframe-frames"}, false},
	{"stream-0", "rate-control", []string{"nal-hrd=cbr:vbv-init=0.55", "filler=0", "-maxrate 600k -bufsize 600k", "", still,
		"'noise=alls=80:allf=t:enable=sin(0.9*t)+abs(sin(0.9*t))'"}, []string{"buffer", "bitrate", "level"}, false},
	{"stream-0", "buffer", []string{"-bufsize 600k", "-bufsize 3000k", "vbv-init=0.55", "vbv-init=0.9", still,
		"'noise=alls=80:allf=t:enable=sin(0.9*t)+abs(sin(0.9*t))'"}, []string{"rate-control", "bitrate", "level"}, false},
	{"stream-0", "profile", []string{"-profile:v high", "-profile:v main", "8x8dct=1", "8x8dct=0"}, nil, false},
	{"stream-0", "level", []string{"-level:v 1.3", "-level:v 4.1"}, nil, false},
	{"stream-0", "references", []string{"ref=1", "ref=6", "bframes=2", "bframes=2:b-pyramid=none"}, []string{"level", "b-frames"}, false},
	{"stream-0", "b-frames", []string{"bframes=2", "bframes=0"}, []string{"references"}, false},
	{"stream-0", "range", []string{"-color_range tv", "-color_range pc"}, nil, false},
	{"stream-0", "matrix", []string{"-colorspace bt709", "-colorspace smpte170m"}, nil, false},
	{"stream-0", "chroma", []string{"format=yuv420p", "format=yuv422p", "-profile:v high", "-profile:v high422"}, []string{"profile", "level"}, false},
	{"stream-0", "audio", []string{"-c:a aac", "-c:a libmp3lame"}, []string{"audio-rate"}, false},
	{"stream-0", "audio-bitrate", []string{"-b:a 160k", "-b:a 64k"}, nil, false},
	{"stream-0", "audio-rate", []string{"-ar 48000", "-ar 44100"}, nil, false},
	{"stream-0", "audio-channels", []string{"-ac 2", "-ac 1"}, nil, false},
	{"recording-0", "container", []string{"+frag_keyframe+empty_moov", "+faststart"}, nil, false},
	{"recording-0", "audio-tracks", []string{"-map 1:a", "-map 1:a -map 1:a"}, nil, false},
}

// Command is a part's command with the mistake in it, twelve seconds long.
func (m *Mistake) Command(t testing.TB, command string) string {
	t.Helper()
	replace := append([]string{"-t 5", "-t 12"}, m.Replace...)
	for i := 0; i+1 < len(replace); i += 2 {
		require.Contains(t, command, replace[i])
		command = strings.ReplaceAll(command, replace[i], replace[i+1])
	}
	return command
}
