package sheet

import (
	"math"
	"strconv"
	"strings"

	"eventether/core/h264"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Wanted is what a stream or a recording has to come out as: the figures behind its part of the sheet.
type Wanted struct {
	Part, Name      string
	Stream          bool
	Width, Height   int
	Rate            picture.Rate
	Kbps            float64 // of the picture; 0 of constant quality
	BufferKbit      float64 // 0 of constant quality
	KeyframeSeconds float64
	Profile         string
	Level           string // none where no level holds it
	References      int    // what the encoder is told; a stream says h264.Kept of it
	BFrames         int
	Full            bool    // full range
	AudioKbps       float64 // of each track; 0 where it is not said
	AudioCodec      string  // aac or opus
	Tracks          int     // of sound
	Container       string  // of a recording
	Transport       string  // of a stream: rtmp, srt, webrtc or hls
	Ingest          *rig.Ingest
}

// WantedOf gives the figures of a part of the sheet by its id; ok is false where it has none: another part, or one whose
// program codes as it likes.
func WantedOf(v *verdict.Verdict, part string) (w Wanted, ok bool) {
	kind, number, _ := strings.Cut(part, "-")
	i, err := strconv.Atoi(number)
	switch {
	case err != nil || i < 0:
		return w, false
	case kind == "stream" && i < len(v.Show.Destinations) && v.Show.Destinations[i].Via == "":
		return streamWanted(v, i)
	case kind == "recording" && i < len(v.Show.Recordings):
		return recordingWanted(v, i)
	}
	return w, false
}

func streamWanted(v *verdict.Verdict, i int) (w Wanted, ok bool) {
	d, c := &v.Show.Destinations[i], v.SentLike(i)
	if c == nil || c.Own {
		return w, false
	}
	kbps, web := math.Round(v.Video(i).Value), d.Transport == "webrtc"
	w = wantedOf(c, shapeOf(c, kbps, kbps, web))
	w.Part, w.Name, w.Stream = "stream-"+strconv.Itoa(i), d.Name, true
	w.Kbps, w.BufferKbit, w.KeyframeSeconds = kbps, kbps, c.KeyframeSeconds
	w.Full = v.Given.Show.Destinations[i].Send.Range == "full"
	w.AudioKbps, w.AudioCodec, w.Tracks = math.Round(v.Audio(i).Value), "aac", 1
	if web {
		w.AudioCodec = "opus"
	}
	w.Transport, w.Ingest = or(d.Transport, "rtmp"), d.Ingest
	return w, true
}

func recordingWanted(v *verdict.Verdict, i int) (w Wanted, ok bool) {
	rec, c := &v.Show.Recordings[i], v.KeptLike(i)
	if c == nil || c.Own {
		return w, false
	}
	if len(c.Destinations) > 0 { // the stream's own, kept as it was coded
		if w, ok = streamWanted(v, c.Destinations[0]); !ok {
			return w, false
		}
		w.Ingest, w.Stream, w.Transport = nil, false, ""
	} else {
		w = wantedOf(c, shapeOf(c, v.KeptPeak(i), 0, false))
		w.KeyframeSeconds, w.AudioCodec, w.AudioKbps = 2, "aac", 160
	}
	w.Part, w.Name = "recording-"+strconv.Itoa(i), say.Sentence(v.RecordingName(i))
	w.Tracks, w.Container = max(1, rec.Tracks), or(rec.Container, "fmp4")
	return w, true
}

func wantedOf(c *plans.Coding, as shape) Wanted {
	w := Wanted{Width: c.Width - c.Width%2, Height: c.Height - c.Height%2, Rate: c.Rate, Profile: as.profile,
		References: as.references, BFrames: as.bFrames}
	if as.level != nil {
		w.Level = as.level.Name
	}
	return w
}

// shape is how a picture is coded.
type shape struct {
	profile    string
	level      *h264.Level // nil where none holds it
	references int         // what the encoder is told
	bFrames    int
}

// shapeOf finds how a coding of a rate, 0 for none that bounds it, is shaped; web tells that it goes to a WebRTC ingest.
func shapeOf(c *plans.Coding, kbps, buffer float64, web bool) shape {
	preset := c.Preset
	if preset == nil {
		preset = h264.PresetNamed("veryfast")
	}
	s := shape{profile: "High", references: preset.References, bFrames: 2}
	if web {
		s.profile, s.bFrames = "Constrained Baseline", 0
	}
	s.level = h264.LevelFor(h264.Stream{Width: c.Width, Height: c.Height, Rate: c.Rate, Kbps: kbps, BufferKbit: buffer,
		References: h264.Kept(1, s.bFrames), Main: web})
	if s.level != nil {
		s.references = min(s.references, s.level.MaxReferences(c.Width, c.Height))
	}
	return s
}
