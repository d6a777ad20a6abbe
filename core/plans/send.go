package plans

import (
	"strconv"

	"eventether/core/limit"
	"eventether/core/rig"
)

const (
	defaultAudioKbps = 160  // AAC-LC stereo [practice: handbook 5.3]
	callKbps         = 2500 // a person joining by a call [estimate]
)

// Packaging is what transport adds to video and audio [handbook 5.4]: 1.05, and 1.25 where lost packets are sent again.
func Packaging(transport string) float64 {
	if transport == "srt" {
		return 1.25
	}
	return 1.05
}

// UploadShare is what each kilobit of a destination takes of the line: packaging, and twice where its backup ingest gets the
// same.
func UploadShare(d *rig.Destination) float64 {
	if d.Backup {
		return 2 * Packaging(d.Transport)
	}
	return Packaging(d.Transport)
}

// LeastMost is the lowest most that destinations have, kb/s [practice]: those that are for sound first.
const LeastMost = 2500

// VideoFact is the bitrate of a destination in kb/s, as a fact: of one that another passes on, that of the other.
func (p *Plan) VideoFact(i int) limit.Fact {
	i = p.passer(i) // what is passed on stays as it was coded
	d := &p.Show.Destinations[i]
	standIn := StartKbps(d.Send.Width, d.Send.Height, d.Send.Rate)
	if d.Ingest == nil || d.Ingest.MaxVideoKbps == 0 {
		standIn.Low = min(standIn.Low, LeastMost) // it may take no more than the least do
	} else { // nobody sends more than is taken
		standIn.High = min(standIn.High, d.Ingest.MaxVideoKbps)
		standIn.Low, standIn.Value = min(standIn.Low, standIn.High), min(standIn.Value, standIn.High)
	}
	return limit.Stated(limit.Part("show/destinations/N/videoKbps", "", strconv.Itoa(i)), "kb/s", d.Send.VideoKbps, standIn)
}
