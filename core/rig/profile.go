package rig

import (
	"fmt"
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/picture"
)

// Profile is what a kind of destination takes at most, for when nobody has looked it up.
type Profile struct {
	Word          string
	Width, Height int
	Rate          int64
	Kbps          float64 // video
}

// Profiles are what destinations take at most as a rule [practice], the smallest first.
var Profiles = []Profile{{"720p30", 1280, 720, 30, 4000}, {"1080p30", 1920, 1080, 30, 6000},
	{"1080p60", 1920, 1080, 60, 9000}, {"2160p60", 4096, 2160, 60, 50000}}

// Known is a made-up destination of a general kind: what it takes, and by what it is sent to.
type Known struct {
	Name      string `json:"name"`
	Transport string `json:"transport"`
	Ingest    Ingest `json:"ingest"`
}

// KnownDestinations are general kinds of destination to begin from; the real ones' help pages say the rest [practice].
var KnownDestinations = []Known{
	{"Capped at 720 lines", "rtmp", Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30), MaxVideoKbps: 4000,
		MinVideoKbps: new(0.0), KeyframeSeconds: 2, VideoCodecs: []string{"h264"}, MaxAudioKbps: 160,
		Transports: []string{"rtmp"}, CheckedOn: "2026-09-01"}},
	{"Open to 1080 lines", "rtmp", Ingest{MaxWidth: 1920, MaxHeight: 1080, MaxRate: picture.R(60), MaxVideoKbps: 9000,
		MinVideoKbps: new(0.0), KeyframeSeconds: 2, VideoCodecs: []string{"h264"}, MaxAudioKbps: 320,
		Transports: []string{"rtmp"}, CheckedOn: "2026-09-01"}},
	{"Takes 4K", "rtmp", Ingest{MaxWidth: 3840, MaxHeight: 2160, MaxRate: picture.R(60), MaxVideoKbps: 50000,
		MinVideoKbps: new(400.0), KeyframeSeconds: 2, VideoCodecs: []string{"h264"}, MaxAudioKbps: 320,
		Transports: []string{"rtmp", "srt"}, CheckedOn: "2026-09-01"}},
	{"Sound first", "rtmp", Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30), MaxVideoKbps: 2500,
		MinVideoKbps: new(0.0), KeyframeSeconds: 4, VideoCodecs: []string{"h264"}, MaxAudioKbps: 512,
		Transports: []string{"rtmp"}, CheckedOn: "2026-09-01"}},
	{"Reliable UDP only", "srt", Ingest{MaxWidth: 1920, MaxHeight: 1080, MaxRate: picture.R(60), MaxVideoKbps: 20000,
		MinVideoKbps: new(0.0), KeyframeSeconds: 1, VideoCodecs: []string{"h264"}, MaxAudioKbps: 320,
		Transports: []string{"srt"}, CheckedOn: "2026-09-01"}},
}

// transports are the ways a picture is sent.
var transports = []string{"rtmp", "srt", "webrtc", "hls"}

// CheckKnown says what is wrong with what a destination of one's own takes, if anything: it has to stand in a rig.
func CheckKnown(k *Known) string {
	if k.Name == "" {
		return "it has no name"
	}
	if k.Transport != "" && !slices.Contains(transports, k.Transport) {
		return fmt.Sprintf("transport %q: want one of %s", k.Transport, strings.Join(transports, ", "))
	}
	r := &Rig{Format: Format, Name: "x", Items: []Item{}, Leads: []Lead{},
		Show: Show{Programme: Programme{Width: 1280, Height: 720, Rate: picture.R(30)}, Minutes: 1,
			Program: Program{Kind: "encoder"},
			Destinations: []Destination{{Name: k.Name, Transport: k.Transport, Send: Send{Width: 1280, Height: 720,
				Rate: picture.R(30)}, Ingest: &k.Ingest}}}}
	for _, p := range Check(r) {
		if strings.Contains(p.Place, "destinations") { // a show alone has no computer
			return p.String()
		}
	}
	return ""
}

// Profiled kinds take sound of 160 kb/s and name no least bitrate, as a rule [practice].
const profiledAudioKbps = 160

// takesAtMost fills what a destination's limits do not say yet from a profile.
func (d *Destination) takesAtMost(word string) error {
	p := &Profiles[slices.IndexFunc(Profiles, func(p Profile) bool { return p.Word == word })]
	in := Ingest{}
	if d.Ingest != nil {
		in = *d.Ingest
	}
	if in.MaxWidth == 0 && in.MaxHeight == 0 {
		in.MaxWidth, in.MaxHeight = p.Width, p.Height
	}
	if in.MaxRate.IsZero() {
		in.MaxRate = picture.R(p.Rate)
	}
	if in.MaxVideoKbps == 0 {
		in.MaxVideoKbps = p.Kbps
	}
	if in.MaxAudioKbps == 0 {
		in.MaxAudioKbps = profiledAudioKbps
	}
	if in.MinVideoKbps == nil {
		in.MinVideoKbps = new(0.0)
	}
	d.Ingest = &in
	return nil
}

// DeliversWord is a delivered picture as edits write it: "YUY2 1920x1080 60000/1001".
func DeliversWord(f picture.Format, w, h int, r picture.Rate) string {
	return fmt.Sprintf("%s %dx%d %s", f, w, h, r)
}

// delivers adds the one picture a device is known to deliver.
func delivers(g *gear.Gear, e *Edit) error {
	bad := fmt.Errorf("%q: want format, size and rate such as %q", e.Word, "YUY2 1920x1080 60")
	parts := strings.Fields(e.Word)
	if len(parts) != 3 || !slices.Contains(picture.Formats, picture.Format(parts[0])) {
		return bad
	}
	var w, h int
	if n, err := fmt.Sscanf(parts[1], "%dx%d", &w, &h); err != nil || n != 2 || w < 16 || h < 16 || w > 16384 ||
		h > 16384 {
		return bad
	}
	rate, err := picture.ParseRate(parts[2])
	if err != nil {
		return err
	}
	g.Delivers = append(slices.Clip(g.Delivers), gear.Delivery{Format: picture.Format(parts[0]), Width: w, Height: h,
		MaxRate: rate})
	return nil
}

// worksWith notes what happened with a program.
func worksWith(g *gear.Gear, program string, e *Edit) {
	g.WorksWith = slices.Clone(g.WorksWith)
	for i := range g.WorksWith {
		if g.WorksWith[i].Program == program {
			g.WorksWith[i].Works, g.WorksWith[i].At = e.Word, e.At
			return
		}
	}
	g.WorksWith = append(g.WorksWith, gear.Experience{Program: program, Works: e.Word, At: e.At})
}
