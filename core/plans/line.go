package plans

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
)

// hoursNear is how long before the show's start and after its end a measurement counts as near [estimate: ours].
const hoursNear = 2.0

// fewReadings is how many measurements near the hour it takes for their lower quartile to be planned with [practice].
const fewReadings = 4

// mostLine is what a line may carry of which is only known that it carries at least something, Mb/s: as of one nobody
// measured.
const mostLine = 1000.0

// byAirShare is what is counted of a measurement by air, at least: half of it to all [practice].
const byAirShare = 0.5

// Line is what the measurements of a line come to.
type Line struct {
	limit.Bounds         // Mb/s
	Near         []int   // places of the measurements near the hour
	Quartile     bool    // it is their lower quartile, else 0.7 of the lowest to the highest
	Elsewhere    bool    // none is near the hour, or nobody has said it: those of other hours stand in
	Count        int     // of those it is of
	Lowest       float64 // of them, Mb/s
}

// LineOf sums up the measurements of a line for a show of so many minutes that starts at a time of day ("" for not
// said). Of four and more near the hour it is the lower quartile, those by air at half to all of their figure; of fewer
// 0.7 of their lowest to their highest; of none near it the same of all there are.
func LineOf(readings []rig.UplinkReading, startsAt string, minutes float64) Line {
	l := Line{Near: nearTheHour(readings, startsAt, minutes)}
	of := l.Near
	if l.Elsewhere = len(of) == 0; l.Elsewhere {
		for i := range readings {
			of = append(of, i)
		}
	}
	lows, values, highs := make([]float64, len(of)), make([]float64, len(of)), make([]float64, len(of))
	for k, i := range of {
		v := readings[i].Value
		lows[k], values[k], highs[k] = v, v, v
		if readings[i].By == "air" {
			lows[k], values[k] = v*byAirShare, v*(1+byAirShare)/2
		}
		if readings[i].Least {
			highs[k] = max(v, mostLine)
		}
	}
	l.Count, l.Lowest = len(of), slices.Min(lows)
	if l.Quartile = !l.Elsewhere && len(of) >= fewReadings; l.Quartile {
		l.Bounds = limit.Bounds{Low: LowerQuartile(lows), Value: LowerQuartile(values), High: LowerQuartile(highs)}
		return l
	}
	l.Low, l.High = fewShare*slices.Min(lows), slices.Max(highs)
	l.Value = min(max(LowerQuartile(values), l.Low), l.High)
	return l
}

// fewShare is what is counted of the lowest of a few measurements [estimate].
const fewShare = 0.7

// nearTheHour are the measurements from two hours before the show to two hours after it, by the clock on the wall: a
// measurement's own time of day is the one it is written with, whatever its zone.
func nearTheHour(readings []rig.UplinkReading, startsAt string, minutes float64) (near []int) {
	hour, ok := clock(startsAt)
	if !ok {
		return nil
	}
	for i := range readings {
		_, at, dated := strings.Cut(readings[i].At, "T")
		if !dated {
			at = readings[i].At
		}
		h, ok := clock(at)
		if !ok {
			continue
		}
		after := math.Mod(h-(hour-hoursNear)+48, 24) // hours after the window begins
		if after <= 2*hoursNear+minutes/60+1e-9 {
			near = append(near, i)
		}
	}
	return near
}

// clock reads HH:MM at the beginning of a text as hours.
func clock(s string) (float64, bool) {
	if len(s) < 5 || s[2] != ':' {
		return 0, false
	}
	h, err1 := strconv.Atoi(s[:2])
	m, err2 := strconv.Atoi(s[3:5])
	return float64(h) + float64(m)/60, err1 == nil && err2 == nil && h < 24 && m < 60
}

// LowerQuartile of figures, by linear interpolation between ranks ((n−1)·¼, as type 7 of Hyndman and Fan 1996). They
// are sorted in place.
func LowerQuartile(v []float64) float64 {
	slices.Sort(v)
	at := float64(len(v)-1) / 4
	i := int(math.Floor(at))
	if i+1 == len(v) {
		return v[i]
	}
	return v[i] + (at-float64(i))*(v[i+1]-v[i])
}

// UploadFact is the sustained upload: what the measurements come to, else the estimate.
func (p *Plan) UploadFact() limit.Fact {
	up := p.Uplink
	if up == nil || len(up.MeasuredMbps) == 0 {
		var est *fact.Fact
		if up != nil {
			est = up.EstimateMbps
		}
		return limit.Stated(limit.At("uplink/estimateMbps", ""), "Mb/s", est, fact.Est(10, 0.5, 1000))
	}
	l := LineOf(up.MeasuredMbps, p.Show.StartsAt, p.Show.Minutes)
	f := limit.Fact{Key: limit.At("uplink/measuredMbps", ""), Unit: "Mb/s", Low: l.Low, Value: l.Value, High: l.High,
		From: fact.Measured}
	if l.Low < l.High { // one more measurement says more
		f.Key = limit.At("uplink/reading", "")
	}
	return f
}

// UploadSum says what the figure of the line is.
func UploadSum(r *rig.Rig) string {
	if r.Uplink == nil || len(r.Uplink.MeasuredMbps) == 0 {
		return lang.Text("not measured yet")
	}
	l := LineOf(r.Uplink.MeasuredMbps, r.Show.StartsAt, r.Show.Minutes)
	n := say.Count(l.Count, "measurement", "measurements")
	var sum string
	switch {
	case l.Quartile:
		sum = lang.Text("lower quartile of the %s near %s, the lowest %s Mb/s", n, r.Show.StartsAt,
			say.Number(l.Lowest))
	case !l.Elsewhere:
		sum = lang.Text("%s near %s only: from 0.7 × the lowest to the highest", n, r.Show.StartsAt)
	case r.Show.StartsAt == "":
		sum = lang.Text("%s, and nobody has said when the show starts: from 0.7 × the lowest to the highest", n)
	default:
		sum = lang.Text("%s, none of them near %s: another hour's line, from 0.7 × the lowest to the highest", n,
			r.Show.StartsAt)
	}
	least := 0
	for i := range r.Uplink.MeasuredMbps {
		if r.Uplink.MeasuredMbps[i].Least {
			least++
		}
	}
	if least > 0 {
		sum += lang.Text("; %s did not fill the line, which carries at least that", strconv.Itoa(least))
	}
	if rest := len(r.Uplink.MeasuredMbps) - l.Count; rest > 0 {
		sum += lang.Text("; %s of other hours", strconv.Itoa(rest))
	}
	return sum
}

// LineSum says what the figure of a rig's line is.
func (p *Plan) LineSum() string { return UploadSum(p.Rig) }

// Odd is a measurement of the line to look at again.
type Odd struct {
	Place int    `json:"place" doc:"Among the measurements"`
	Why   string `json:"why"`
}

// OddReadings points at measurements that cannot be or lie far from the others: nothing at all, more than a home or
// venue line has, four times the middle one or a quarter of it.
func OddReadings(readings []rig.UplinkReading) []Odd {
	out := []Odd{}
	values := make([]float64, len(readings))
	for i := range readings {
		values[i] = readings[i].Value
	}
	slices.Sort(values)
	for i := range readings {
		v := readings[i].Value
		middle := 0.0
		if n := len(values); n >= 3 {
			middle = (values[(n-1)/2] + values[n/2]) / 2
		}
		switch {
		case v == 0:
			out = append(out, Odd{i, lang.Text("Nothing got out: was the line down? It counts as it stands.")})
		case v > mostUpload:
			out = append(out, Odd{i, lang.Text("%s Mb/s is more than lines have: kilobits, perhaps?", say.Number(v))})
		case middle > 0 && (v > 4*middle || v < middle/4):
			out = append(out, Odd{i, lang.Text("Far from the others, whose middle is %s Mb/s.",
				say.Number(say.Round2(middle)))})
		}
	}
	return out
}

// mostUpload is more than any line people stream over carries, Mb/s [estimate].
const mostUpload = 10000

// mathis is the constant of the formula with delayed acknowledgements, and segment the payload of a segment on
// Ethernet, bytes.
const (
	mathis  = 0.87
	segment = 1460.0
)

// Mathis is what one connection carries over TCP at a round trip in ms and a loss in percent, Mb/s; endless without
// loss.
func Mathis(rttMs, lossPct float64) float64 {
	if rttMs <= 0 || lossPct <= 0 {
		return limit.Endless
	}
	return mathis * segment * 8 / (rttMs / 1000 * math.Sqrt(lossPct/100)) / 1e6
}

// OverTCP tells whether what is sent to a destination goes by one connection over TCP. What codes by itself, a page or
// a studio in the browser, leaves here by WebRTC whatever takes it on.
func (p *Plan) OverTCP(d *rig.Destination) bool {
	return p.CodesHere() && (d.Transport == "" || d.Transport == "rtmp" || d.Transport == "hls")
}

const (
	defaultAudioKbps = 160  // AAC-LC stereo [practice]
	callKbps         = 2500 // a person joining by a call [estimate]
)

// Packaging is what transport adds to video and audio [practice]: 1.05, and 1.25 where lost packets are sent again.
func Packaging(transport string) float64 {
	if transport == "srt" {
		return 1.25
	}
	return 1.05
}

// UploadShare is what each kilobit of a destination takes of the line: packaging, and twice where its backup ingest
// gets the same.
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
	return limit.Stated(limit.Part("show/destinations/N/videoKbps", "", strconv.Itoa(i)), "kb/s", d.Send.VideoKbps,
		standIn)
}
