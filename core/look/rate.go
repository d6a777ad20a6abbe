package look

import (
	"math"
	"slices"

	"eventether/core/picture"
)

// Pace is how fast frames come: by least squares of their times over their numbers, so that jitter averages out and a
// lost frame does not bend the line.
type Pace struct {
	Hz       float64 `json:"hz" doc:"Frames a second"`
	Error    float64 `json:"error" doc:"Standard error of that"`
	Frames   int     `json:"frames"`
	Lost     int     `json:"lost" doc:"Frames that are missing between others"`
	JitterMs float64 `json:"jitterMs" doc:"95 of 100 frames come so near to their time, milliseconds"`
	// Name is the rate it is, none where the frames do not tell two apart.
	Name string `json:"name,omitempty"`
}

// known are the rates pictures come at.
var known = []picture.Rate{{Num: 10, Den: 1}, {Num: 12, Den: 1}, {Num: 15000, Den: 1001}, {Num: 15, Den: 1},
	{Num: 20, Den: 1}, {Num: 24000, Den: 1001}, {Num: 24, Den: 1}, {Num: 25, Den: 1}, {Num: 30000, Den: 1001},
	{Num: 30, Den: 1}, {Num: 48, Den: 1}, {Num: 50, Den: 1}, {Num: 60000, Den: 1001}, {Num: 60, Den: 1},
	{Num: 100, Den: 1}, {Num: 120000, Den: 1001}, {Num: 120, Den: 1}}

// leastFrames are too few to say how fast they come.
const leastFrames = 12

// PaceOf finds how fast frames come whose times are given in seconds, rising; ok is false of too few.
//
// The standard error of the period is σ·√(12 ÷ N³): with 2 ms of jitter ten seconds tell 30 from 30000/1001, which
// differ by 33 µs. Times that are kept in ticks (milliseconds, ninety thousandths) bring at least the error of rounding
// to them.
func PaceOf(times []float64) (p Pace, ok bool) {
	n := len(times)
	if n < leastFrames {
		return p, false
	}
	steps := make([]float64, 0, n-1)
	for i := 1; i < n; i++ {
		if d := times[i] - times[i-1]; d > 0 {
			steps = append(steps, d)
		}
	}
	if len(steps) < leastFrames-1 {
		return p, false
	}
	period := median(steps)
	for range 3 { // the better the period, the better lost frames are counted
		slope, at, sigma := line(times, period)
		if slope <= 0 {
			return p, false
		}
		lost := at[n-1] + 1 - n
		off := make([]float64, n)
		first := intercept(times, at, slope)
		for i := range times {
			off[i] = math.Abs(times[i] - first - slope*float64(at[i]))
		}
		slices.Sort(off)
		se := max(sigma, 1e-5) * math.Sqrt(12/math.Pow(float64(n), 3))
		p = Pace{Hz: 1 / slope, Error: se / (slope * slope), Frames: n, Lost: max(0, lost),
			JitterMs: 1000 * quantile(off, 0.95)}
		period = slope
	}
	p.Name = nameOf(p.Hz, p.Error)
	return p, true
}

// line numbers frames and fits their times: the period, the numbers, and how far times lie off it.
func line(times []float64, period float64) (slope float64, at []int, sigma float64) {
	n := len(times)
	at = make([]int, n)
	// Frames are counted from where the one before should have been, not from where it was: with jitter of a sixth of a
	// period one in fifty would be counted double otherwise. What should have been follows what is by a share, so that
	// a period a little off does not run away.
	const follows = 0.15
	should := times[0]
	for i := 1; i < n; i++ {
		k := max(1, int(math.Round((times[i]-should)/period)))
		at[i] = at[i-1] + k
		should += float64(k) * period
		should += follows * (times[i] - should)
	}
	var sk, st, skk, skt float64
	for i := range times {
		k, t := float64(at[i]), times[i]-times[0]
		sk, st, skk, skt = sk+k, st+t, skk+k*k, skt+k*t
	}
	m := float64(n)
	slope = (m*skt - sk*st) / (m*skk - sk*sk)
	first := (st - slope*sk) / m
	for i := range times {
		d := times[i] - times[0] - first - slope*float64(at[i])
		sigma += d * d
	}
	return slope, at, math.Sqrt(sigma / max(1, m-2))
}

func intercept(times []float64, at []int, slope float64) float64 {
	sum := 0.0
	for i := range times {
		sum += times[i] - slope*float64(at[i])
	}
	return sum / float64(len(times))
}

// nameOf is the one rate within three standard errors; none where there is none, or another is as near.
func nameOf(hz, se float64) string {
	name := ""
	for _, r := range known {
		if math.Abs(hz-r.Float()) <= 3*se+hz*2e-6 {
			if name != "" {
				return ""
			}
			name = r.Name()
		}
	}
	return name
}

// Cadence is which frames are new, and which repeat the one before.
type Cadence struct {
	Repeats int     `json:"repeats"`
	Hz      float64 `json:"hz" doc:"New frames a second"`
	Name    string  `json:"name,omitempty" doc:"The rate that goes so into the one delivered; none where no known one does"`
}

// still is the change, in codes of cells, under which nothing moves enough to tell a repeated frame from a new one.
const still = 0.30

// repeatsOf finds repeats by how much frames differ from the one before (NaN for the first): movement and repeats are
// two heaps, with nothing between them. ok is false where nothing moves, or noise fills what lies between.
//
// Where it stands for long (out), it is frozen or black, and that is another finding.
func repeatsOf(change []float64, out []bool, delivered float64) (c Cadence, repeated []bool, ok bool) {
	var all []float64
	for i := 1; i < len(change); i++ {
		if !out[i] {
			all = append(all, change[i])
		}
	}
	slices.Sort(all)
	if len(all) < leastFrames {
		return c, nil, false
	}
	low, high := quantile(all, 0.02), quantile(all, 0.90)
	if high < still {
		return c, nil, false
	}
	repeated = make([]bool, len(change))
	if low >= 0.4*high { // one heap
		c.Hz, c.Name = delivered, nameOf(delivered, delivered*1e-4)
		return c, repeated, true
	}
	cut := math.Sqrt(max(low, 0.01) * high)
	between := 0
	for i, d := range change[1:] {
		switch {
		case out[i+1]:
		case d < cut*0.7:
			repeated[i+1] = true
			c.Repeats++
		case d < cut*1.4:
			between++
		}
	}
	if between > len(all)/12 { // movement that stops and goes, not two heaps
		return Cadence{}, nil, false
	}
	c.Hz = delivered * float64(len(all)-c.Repeats) / float64(len(all))
	c.Name = innerName(c.Hz, delivered, len(all))
	return c, repeated, true
}

// innerName is the rate of new frames: as near as the ends of so many frames allow, and of two that are as near the one
// whose clock is the delivered one's, as 23.976 in 29.97.
func innerName(hz, delivered float64, frames int) (name string) {
	whole := math.Abs(delivered-math.Round(delivered)) < 0.004
	near := math.Inf(1)
	for _, r := range known {
		off := math.Abs(hz - r.Float())
		if off > 1.5*delivered/float64(frames)+0.002*delivered {
			continue
		}
		if (r.Den == 1) != whole { // of the other clock: only where nothing else is near
			off += delivered / float64(frames)
		}
		if off < near {
			near, name = off, r.Name()
		}
	}
	return name
}
