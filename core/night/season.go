package night

import (
	"cmp"
	"math"
	"slices"

	"eventether/core/work"
)

// Held is one night as the log over all nights counts it.
type Held struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	At       int64      `json:"at" doc:"When it went to air, or was to, milliseconds since 1970 UTC"`
	Minutes  float64    `json:"minutes" doc:"On air"`
	SetUp    float64    `json:"setUp" doc:"Minutes from the first tick to the last one before air; 0 when not ticked"`
	Planned  float64    `json:"planned" doc:"Minutes of set-up as planned"`
	Lost     float64    `json:"lost" doc:"Minutes lost by all incidents"`
	Mishaps  []Incident `json:"mishaps"`
	Readings []Figure   `json:"readings"`
	Took     []Took     `json:"took"`
	// BeforeAir are how many of the mishaps were before air, and Failed the steps that failed at least once.
	BeforeAir int      `json:"beforeAir,omitempty"`
	Failed    []string `json:"failed,omitempty"`
}

// Season is what many nights tell together.
type Season struct {
	Shows     int     `json:"shows" doc:"That have been on air"`
	Hours     float64 `json:"hours" doc:"On air"`
	Faults    int     `json:"faults"`
	Lost      float64 `json:"lost" doc:"Minutes"`
	BeforeAir int     `json:"beforeAir" doc:"Of the faults, those of set-up: in no time between faults"`
	Between   Between `json:"between"`
	ByPart    []Share `json:"byPart"`
	ByHop     []Share `json:"byHop"`
	ByLoss    []Share `json:"byLoss"`
	Work      []Learn `json:"work" doc:"How long work took, by kind"`
	Drift     []Drift `json:"drift" doc:"How what was measured has moved"`
}

// Between is the time between faults, in hours on air, with the bounds that hold the true one nineteen times of twenty.
type Between struct {
	Hours float64 `json:"hours" doc:"0 while there was none"`
	Low   float64 `json:"low"`
	High  float64 `json:"high" doc:"0 for no upper bound"`
	Rests int     `json:"rests" doc:"Shows it rests on"`
}

// Share is how much of the faults something has.
type Share struct {
	Of     string  `json:"of"`
	Faults int     `json:"faults"`
	Lost   float64 `json:"lost" doc:"Minutes"`
}

// Learn is what the history says of a kind of work.
type Learn struct {
	Kind    string  `json:"kind"`
	Name    string  `json:"name" doc:"As one says it"`
	Times   int     `json:"times"`
	Minutes float64 `json:"minutes" doc:"The middle one"`
	Low     float64 `json:"low" doc:"A quarter took less"`
	High    float64 `json:"high" doc:"A quarter took longer"`
}

// Drift is one figure over the shows.
type Drift struct {
	What   string  `json:"what"`
	Of     string  `json:"of,omitempty"`
	Unit   string  `json:"unit,omitempty"`
	Points []Point `json:"points"`
	// PerMonth is the slope by least squares, in the unit a month of 30 days; Certain tells whether no slope at all is
	// out of the question (nineteen times of twenty).
	PerMonth float64 `json:"perMonth"`
	Certain  bool    `json:"certain"`
}

// Point is one reading.
type Point struct {
	At    int64   `json:"at"`
	Value float64 `json:"value"`
}

// Over sums nights up.
func Over(shows []Held) Season {
	s := Season{ByPart: []Share{}, ByHop: []Share{}, ByLoss: []Share{}, Work: []Learn{}, Drift: []Drift{}}
	parts, hops, losses := map[string]*Share{}, map[string]*Share{}, map[string]*Share{}
	times := map[string][]float64{}
	type line struct{ what, of, unit string }
	lines := map[line][]Point{}
	for i := range shows {
		n := &shows[i]
		if s.Hours += n.Minutes / 60; n.Minutes > 0 {
			s.Shows++
		}
		s.BeforeAir += n.BeforeAir
		for k := range n.Mishaps {
			in := &n.Mishaps[k]
			s.Faults++
			s.Lost += in.MinutesLost
			count(parts, cmp.Or(in.Part, "—"), in)
			count(hops, cmp.Or(in.Hop, "—"), in)
			count(losses, in.Loss, in)
		}
		for _, t := range n.Took {
			times[t.Kind] = append(times[t.Kind], t.Minutes)
		}
		for _, f := range n.Readings {
			at := line{f.What, f.Of, f.Unit}
			lines[at] = append(lines[at], Point{n.At, f.Value})
		}
	}
	s.ByPart, s.ByHop, s.ByLoss = ranked(parts), ranked(hops), ranked(losses)
	for kind, took := range times {
		slices.Sort(took)
		s.Work = append(s.Work, Learn{kind, work.Name(kind), len(took), quantile(took, 0.5), quantile(took, 0.25),
			quantile(took, 0.75)})
	}
	slices.SortFunc(s.Work, func(a, b Learn) int { return cmp.Compare(a.Kind, b.Kind) })
	for at, points := range lines {
		slices.SortFunc(points, func(a, b Point) int { return cmp.Compare(a.At, b.At) })
		d := Drift{What: at.what, Of: at.of, Unit: at.unit, Points: points}
		d.PerMonth, d.Certain = slope(points)
		s.Drift = append(s.Drift, d)
	}
	slices.SortFunc(s.Drift, func(a, b Drift) int {
		return cmp.Or(cmp.Compare(len(b.Points), len(a.Points)), cmp.Compare(a.What, b.What), cmp.Compare(a.Of, b.Of),
			cmp.Compare(a.Unit, b.Unit))
	})
	s.Between = BetweenFaults(s.Hours, s.Faults-s.BeforeAir) // those of set-up apart: nobody was on air
	s.Between.Rests = s.Shows
	return s
}

func count(in map[string]*Share, of string, i *Incident) {
	sh := in[of]
	if sh == nil {
		sh = &Share{Of: of}
		in[of] = sh
	}
	sh.Faults++
	sh.Lost += i.MinutesLost
}

func ranked(in map[string]*Share) []Share {
	out := make([]Share, 0, len(in))
	for _, sh := range in {
		out = append(out, *sh)
	}
	slices.SortFunc(out, func(a, b Share) int {
		return cmp.Or(cmp.Compare(b.Faults, a.Faults), cmp.Compare(b.Lost, a.Lost), cmp.Compare(a.Of, b.Of))
	})
	return out
}

// quantile is between the two nearest of sorted values.
func quantile(sorted []float64, q float64) float64 {
	at := q * float64(len(sorted)-1)
	low := int(math.Floor(at))
	if low+1 >= len(sorted) {
		return sorted[len(sorted)-1]
	}
	return sorted[low] + (at-float64(low))*(sorted[low+1]-sorted[low])
}

// BetweenFaults is the mean time between faults over so many hours, with its bounds at 95 %: 2T ÷ χ² of 0.975 at 2n+2
// degrees of freedom, and of 0.025 at 2n (exponential times, the end of watching fixed beforehand) [standard: IEC
// 60605-4, memory].
func BetweenFaults(hours float64, faults int) Between {
	if hours <= 0 {
		return Between{}
	}
	b := Between{Low: 2 * hours / chiSquare(0.975, faults+1)}
	if faults > 0 {
		b.Hours, b.High = hours/float64(faults), 2*hours/chiSquare(0.025, faults)
	}
	return b
}

// chiSquare is the value a χ² of 2·half degrees of freedom stays under with probability p. For even degrees its
// distribution is a sum of Poisson terms: P(χ² ≤ x) = 1 − Σ_{i<half} e^(−x/2) (x/2)^i ÷ i!.
func chiSquare(p float64, half int) float64 {
	under := func(x float64) float64 {
		y := x / 2
		i := float64(half - 1) // the terms from the last one down, until they add nothing any more
		lg, _ := math.Lgamma(i + 1)
		term := math.Exp(i*math.Log(y) - y - lg)
		sum := 0.0
		for ; i >= 0; i-- {
			sum += term
			if term *= i / y; i < y && term < sum*1e-17 {
				break
			}
		}
		return 1 - sum
	}
	low, high := 1e-9, 1.0
	for under(high) < p {
		high *= 2
	}
	for range 100 {
		if mid := (low + high) / 2; under(mid) < p {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}

const month = 30 * 24 * 3600 * 1000.0 // in milliseconds

// slope is the least-squares slope a month, and whether it is other than none at 95 % (t distribution, by its quantiles
// at the degrees of freedom there are).
func slope(points []Point) (perMonth float64, certain bool) {
	n := float64(len(points))
	if n < 3 {
		return 0, false
	}
	var sx, sy float64
	for _, p := range points {
		sx, sy = sx+float64(p.At-points[0].At)/month, sy+p.Value
	}
	mx, my := sx/n, sy/n
	var xx, xy, yy float64
	for _, p := range points {
		x, y := float64(p.At-points[0].At)/month-mx, p.Value-my
		xx, xy, yy = xx+x*x, xy+x*y, yy+y*y
	}
	if xx <= 0 {
		return 0, false
	}
	b := xy / xx
	left := max(0, yy-b*xy)
	spread := math.Sqrt(left / (n - 2) / xx)
	return b, math.Abs(b) > student(int(n)-2)*spread
}

// student is the 0.975 quantile of Student's t, by its usual series in the normal quantile (Abramowitz and Stegun
// 26.7.5).
func student(df int) float64 {
	exact := []float64{12.706, 4.303, 3.182, 2.776, 2.571}
	if df <= len(exact) {
		return exact[df-1]
	}
	z, v := 1.959964, float64(df)
	z3, z5, z7 := z*z*z, math.Pow(z, 5), math.Pow(z, 7)
	return z + (z3+z)/(4*v) + (5*z5+16*z3+3*z)/(96*v*v) + (3*z7+19*z5+17*z3-15*z)/(384*v*v*v)
}
