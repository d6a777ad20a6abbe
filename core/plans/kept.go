package plans

import (
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
)

// TransportName is what people call a transport.
func TransportName(t string) string {
	switch t {
	case "srt":
		return lang.Text("reliable UDP (SRT)")
	case "webrtc":
		return "WebRTC"
	case "hls":
		return "HLS"
	}
	return "RTMP"
}

// AudioFact is the sound's bitrate to a destination, kb/s.
func (p *Plan) AudioFact(i int) limit.Fact {
	i = p.passer(i)
	d := &p.Show.Destinations[i]
	standIn := fact.Known(defaultAudioKbps, fact.Practice)
	for j := range p.Show.Destinations { // nobody sends more than is taken, by it and by those it passes on to
		if in := p.Show.Destinations[j].Ingest; p.passer(j) == i && in != nil && in.MaxAudioKbps > 0 &&
			in.MaxAudioKbps < standIn.Value {
			standIn = fact.Known(in.MaxAudioKbps, fact.Practice)
		}
	}
	return limit.Stated(limit.Part("show/destinations/N/audioKbps", "", strconv.Itoa(i)), "kb/s", d.Send.AudioKbps,
		standIn)
}

// Kept is everything recorded on one drive: an item, or the computer's own where Drive names none.
type Kept struct {
	Drive      *rig.Item // nil when the rig has nothing to record on
	Recordings []int
}

// KeptOn lists what is recorded, drive by drive, in the order of the recordings.
func (p *Plan) KeptOn() (out []Kept) {
	for i := range p.Show.Recordings {
		rec := &p.Show.Recordings[i]
		var k Kept
		switch at := p.Wiring.At(rec.Drive); {
		case rec.InCamera && at >= 0 && p.Items[at].Gear.Kind == gear.Drive: // the card that is named
			k = Kept{Drive: &p.Items[at]}
		case rec.InCamera:
			k = Kept{Drive: p.Item(rec.What)}
		case at >= 0:
			k = Kept{Drive: &p.Items[at]}
		default:
			k = Kept{Drive: p.Host()}
		}
		j := slices.IndexFunc(out, func(o Kept) bool { return o.Drive == k.Drive })
		if j < 0 {
			out = append(out, k)
			j = len(out) - 1
		}
		out[j].Recordings = append(out[j].Recordings, i)
	}
	return out
}

// WritesFact is what a drive writes for long, and free what is free on it.
func (k *Kept) WritesFact() limit.Fact {
	standIn := gear.DefaultWrite
	switch {
	case k.Drive.Gear.Kind == gear.Computer:
		standIn = gear.DefaultInner
	case k.Drive.Gear.Kind != gear.Drive:
		standIn = gear.DefaultCard
	}
	return limit.Stated(limit.At("items/ID/writeMBps", k.Drive.ID), "MB/s", k.Drive.Gear.WriteMBps, standIn)
}

// Writes is what the drive writes for long, MB/s.
func (k *Kept) Writes() limit.Bounds { return BoundsOf(k.WritesFact()) }

// MostFile is what FAT32 takes in one file, GB [standard: a file's length is kept in 32 bits].
const MostFile = 4.294967296

// keptPart is a part of what a recording writes: the whole of it where a test recording was measured, else picture and
// sound.
type keptPart struct {
	Name string
	fact limit.Fact
	kbps float64 // where there is no fact
}

// Load adds a part to a limit, so much for each kb/s.
func (k *keptPart) Load(l *limit.Limit, item string, by float64) {
	t := limit.Times(k.kbps * by)
	if k.kbps == 0 {
		t = limit.Times(by, l.Let(k.fact))
	}
	l.Loads = append(l.Loads, limit.Load{Item: item, Term: t})
}

// KeptParts are what a recording writes. A measured file holds its sound already.
func (p *Plan) KeptParts(i int) []keptPart {
	rec, name := &p.Show.Recordings[i], p.RecordingName(i)
	if c := p.KeptLike(i); c != nil && len(c.Destinations) > 0 { // the stream itself, as it is sent
		d := c.Destinations[0]
		return []keptPart{{Name: name, fact: p.VideoFact(d)}, {Name: lang.Text("its sound"), fact: p.AudioFact(d)}}
	}
	out := []keptPart{{Name: name, fact: p.KeptFact(i)}}
	if rec.Kbps == nil {
		out = append(out, keptPart{Name: lang.Text("its sound"), kbps: float64(p.tracks(i)) * defaultAudioKbps})
	}
	return out
}

// KeptSeconds is how long is recorded: the rehearsal and the show.
func (p *Plan) KeptSeconds() float64 { return (p.Show.RehearsalMinutes + p.Show.Minutes) * 60 }

// KeptWhole is what a recording writes with its sound, kb/s.
func (p *Plan) KeptWhole(i int) (out limit.Bounds) {
	for _, part := range p.KeptParts(i) {
		b := limit.Bounds{Low: part.kbps, Value: part.kbps, High: part.kbps}
		if part.kbps == 0 {
			b = BoundsOf(part.fact)
		}
		out = limit.Bounds{Low: out.Low + b.Low, Value: out.Value + b.Value, High: out.High + b.High}
	}
	return out
}

// KeptGB is what a recording of rehearsal and show comes to with its sound: what is copied and sent away, GB.
func (p *Plan) KeptGB(i int) limit.Bounds { return scaled(p.KeptWhole(i), p.KeptSeconds()/8e6) }

// KeptFileGB is its longest file, the show's, GB.
func (p *Plan) KeptFileGB(i int) limit.Bounds {
	return scaled(p.KeptWhole(i), p.Show.Minutes*60/8e6)
}

func scaled(b limit.Bounds, by float64) limit.Bounds {
	return limit.Bounds{Low: b.Low * by, Value: b.Value * by, High: b.High * by}
}

// tracks is how many sound tracks a recording has: one for each that was asked for, one at least.
func (p *Plan) tracks(i int) int { return max(1, p.Show.Recordings[i].Tracks) }

// RecordingName is what a recording is called.
func (p *Plan) RecordingName(i int) string {
	rec := &p.Show.Recordings[i]
	if rec.InCamera {
		return p.T("%s's own recording", p.RecordingOf(rec))
	}
	return p.T("recording of %s", p.RecordingOf(rec))
}

// ContainerName is what people call a container.
func ContainerName(c string) string {
	switch c {
	case "mkv":
		return "Matroska"
	case "mp4":
		return "MP4"
	case "mov":
		return "MOV"
	}
	return lang.Text("fragmented MP4")
}
