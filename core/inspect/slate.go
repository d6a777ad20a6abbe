package inspect

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/look"
	"eventether/core/say"
)

// Of the sync slate: how often it flashes and beeps, so that a camera's phase moves from one flash to the next, how high and how
// long it beeps, and for how long it is lit.
const (
	SlateEvery = 1.037 // seconds
	SlateHz    = 1000.0
	SlateBeep  = 0.08 // seconds
	SlateFlash = 0.2
)

// Light is how bright parts of a picture are at one frame: the mean linear light of cells, row by row, white at 1.
type Light struct {
	At    float64 // when the frame is shown
	Cells []float32
}

// Slate is a filmed slate: by how much its sound comes later than its picture.
type Slate struct {
	Answer look.Answer `json:"answer" enum:"found,clear,cannot-tell" doc:"found: it was measured; clear: there is no slate in it; cannot-tell: something of it is, and it does not tell"`
	Ms     float64     `json:"ms" doc:"Sound after picture, in the middle; early is negative. The way through the air is taken off"`
	Low    float64     `json:"low" doc:"The least of those that agree"`
	High   float64     `json:"high" doc:"The most of them"`
	AirMs  float64     `json:"airMs" doc:"What was taken off for the way through the air"`
	PPM    float64     `json:"ppm" doc:"By how much it drifts, parts per million; 0 where that is not measurable"`
	PPMs   float64     `json:"ppmError" doc:"95 of 100, either way; 0 where it is not measurable"`
	Pairs  []Pair      `json:"pairs" doc:"Flashes that had a beep"`
	Alone  int         `json:"alone" doc:"Flashes without a beep, and beeps without a flash"`
	Says   string      `json:"says"`
}

// leastFlashes are wanted to measure.
const leastFlashes = 4

// SlateOf finds flashes and beeps, and how far they are apart. lights are of every frame, sound is one channel at a rate that
// begins with the first of them; air is the distance of microphone and loudspeaker in milliseconds.
func SlateOf(lights []Light, sound []float32, rate, air float64) *Slate {
	s := &Slate{Answer: look.Clear, AirMs: air, Pairs: []Pair{}, Says: lang.Text("No slate is in it.")}
	flashes := flashesOf(lights)
	beeps := beepsOf(sound, rate)
	if len(flashes) < leastFlashes && len(beeps) < leastFlashes {
		return s
	}
	s.Answer = look.CannotTell
	if len(flashes) < leastFlashes || len(beeps) < leastFlashes {
		s.Alone = len(flashes) + len(beeps)
		s.Says = lang.Text("%s and %s: fewer than four of either tell nothing. Film it nearer, and turn the sound up.",
			say.Sentence(say.Count(len(flashes), "flash", "flashes")), say.Count(len(beeps), "beep", "beeps"))
		if !steady(flashes) && !steady(beeps) { // what is no slate at all
			s.Answer, s.Says = look.Clear, lang.Text("No slate is in it.")
		}
		return s
	}
	used := map[int]bool{}
	for _, f := range flashes {
		best := -1
		for i, b := range beeps {
			if d := math.Abs(b - f); d < SlateEvery/2 && (best < 0 || d < math.Abs(beeps[best]-f)) {
				best = i
			}
		}
		if best < 0 || used[best] {
			s.Alone++
			continue
		}
		used[best] = true
		s.Pairs = append(s.Pairs, Pair{hundredths(f), math.Round(1000*(1000*(beeps[best]-f)-air)) / 1000})
	}
	s.Alone += len(beeps) - len(used)
	s.settle(steady(flashes) && steady(beeps))
	return s
}

// settle finds the middle, the spread and the drift of the pairs.
func (s *Slate) settle(steady bool) {
	if len(s.Pairs) < leastFlashes || !steady {
		s.Says = lang.Text("Something flashes and beeps in it, and not as the slate does.")
		if !steady {
			s.Answer = look.Clear
		}
		return
	}
	ms := make([]float64, len(s.Pairs))
	for i, p := range s.Pairs {
		ms[i] = p.Ms
	}
	slices.Sort(ms)
	middle := ms[len(ms)/2]
	agree := s.Pairs[:0:0]
	s.Low, s.High = middle, middle
	for _, p := range s.Pairs {
		if math.Abs(p.Ms-middle) <= 50 {
			agree = append(agree, p)
			s.Low, s.High = min(s.Low, p.Ms), max(s.High, p.Ms)
		}
	}
	if 4*len(agree) < 3*len(s.Pairs) {
		s.Says = lang.Text("The pairs do not agree: %s ms. Film it again, without moving.", say.Span(ms[0], ms[len(ms)-1], ""))
		return
	}
	s.Answer, s.Ms = look.Found, hundredths(middle)
	s.Low, s.High = hundredths(s.Low), hundredths(s.High)
	where := lang.Text("The sound comes %s ms after the picture", say.Number(s.Ms))
	if s.Ms < 0 {
		where = lang.Text("The sound comes %s ms before the picture", say.Number(-s.Ms))
	}
	s.Says = lang.Text("%s: the middle of %s, %s to %s.", where, say.Count(len(agree), "pair", "pairs"), below(s.Low), below(s.High))
	if line, ok := fit(agree); ok && len(agree) >= leastPairs {
		ppm, within := line.slope*1000, line.slopeError*1000
		if within <= 2*leastSlope && math.Abs(ppm) > within {
			s.PPM, s.PPMs = hundredths(ppm), hundredths(within)
			s.Says += " " + lang.Text("It drifts by %s ppm, give or take %s.", below(s.PPM), say.Number(s.PPMs))
		}
	}
}

func below(v float64) string {
	if v < 0 {
		return "−" + say.Number(-v)
	}
	return say.Number(v)
}

// steady tells whether times come at the slate's beat, or at whole numbers of it.
func steady(times []float64) bool {
	if len(times) < leastFlashes {
		return false
	}
	on := 0
	for i := 1; i < len(times); i++ {
		beats := (times[i] - times[i-1]) / SlateEvery
		if n := math.Round(beats); n >= 1 && math.Abs(beats-n) < 0.06 {
			on++
		}
	}
	return 4*on >= 3*(len(times)-1)
}

// Of flashes: the least step in linear light, and which share of the brightest cells is looked at [estimate].
const (
	leastStep  = 0.02
	brightest  = 0.15
	partly     = 0.04 // of the step: the frame in whose exposure it began
	beforeRise = 5    // frames that tell how dark it was
)

// flashesOf finds when the light rises: the frame in which it does tells by its share of the step where in it that was, for it
// gathers light from when it is shown to when the next one is.
func flashesOf(lights []Light) []float64 {
	n := len(lights)
	if n < 20 || len(lights[0].Cells) == 0 {
		return nil
	}
	light := brightestOf(lights)
	sorted := slices.Sorted(slices.Values(light))
	low, high := sorted[n/10], sorted[n-1-n/50]
	if high-low < leastStep {
		return nil
	}
	period := (lights[n-1].At - lights[0].At) / float64(n-1)
	var out []float64
	for i := beforeRise; i+2 < n; i++ {
		before := slices.Clone(light[i-beforeRise : i])
		slices.Sort(before)
		dark := before[beforeRise/2]
		full := max(light[i+1], light[i+2])
		step := full - dark
		if step < 0.5*(high-low) || light[i]-dark < partly*step || before[beforeRise-1]-dark > partly*step {
			continue
		}
		share := min(1, (light[i]-dark)/step)
		out = append(out, lights[i].At+(1-share)*period)
		i += beforeRise
	}
	return out
}

// brightestOf is the mean of the cells that change most: where the slate is in the picture.
func brightestOf(lights []Light) []float64 {
	cells := len(lights[0].Cells)
	type cell struct {
		of   int
		wide float64
	}
	all := make([]cell, cells)
	values := make([]float64, len(lights))
	for c := range all {
		for i := range lights {
			values[i] = float64(lights[i].Cells[c])
		}
		slices.Sort(values)
		all[c] = cell{c, values[len(values)-1-len(values)/50] - values[len(values)/10]}
	}
	slices.SortFunc(all, func(a, b cell) int {
		switch {
		case a.wide > b.wide:
			return -1
		case a.wide < b.wide:
			return 1
		}
		return 0
	})
	most := max(1, int(brightest*float64(cells)))
	for most > 1 && all[most-1].wide < 0.5*all[0].wide {
		most--
	}
	out := make([]float64, len(lights))
	for i := range lights {
		for _, c := range all[:most] {
			out[i] += float64(lights[i].Cells[c.of]) / float64(most)
		}
	}
	return out
}

// beepsOf finds when a tone of the slate's pitch begins: where the band around it rises to half of what it comes to. Its
// envelope is a mean of four milliseconds either side of which lies as much: a step crosses half of it where it is.
func beepsOf(sound []float32, rate float64) []float64 {
	half := int(0.002 * rate)
	n := len(sound)
	if n < 10*half || half == 0 {
		return nil
	}
	var re, im float64
	envelope := make([]float64, n)
	sin, cos := make([]float64, n), make([]float64, n)
	for i, v := range sound {
		s, c := math.Sincos(2 * math.Pi * SlateHz * float64(i) / rate)
		sin[i], cos[i] = float64(v)*s, float64(v)*c
	}
	for i := range n {
		re, im = re+cos[i], im+sin[i]
		if k := i - 2*half - 1; k >= 0 {
			re, im = re-cos[k], im-sin[k]
		}
		if at := i - half; at >= 0 {
			envelope[at] = math.Hypot(re, im) / float64(2*half+1)
		}
	}
	step := int(0.02 * rate)
	var tops []float64
	for from := 0; from+step <= n; from += step {
		tops = append(tops, slices.Max(envelope[from:from+step]))
	}
	sorted := slices.Sorted(slices.Values(tops))
	loud, quiet := sorted[len(sorted)-1-len(sorted)/50], sorted[len(sorted)/2]
	if loud < 1e-4 || loud < 4*quiet {
		return nil
	}
	var out []float64
	for i := 1; i < n; i++ {
		if envelope[i] < loud/4 {
			continue
		}
		end := min(n, i+int(0.03*rate))
		top := slices.Max(envelope[i:end])
		from := max(0, i-int(0.02*rate))
		for k := from; k < end-1; k++ { // half of what it comes to, between two samples
			if envelope[k] < top/2 && envelope[k+1] >= top/2 {
				out = append(out, (float64(k)+(top/2-envelope[k])/(envelope[k+1]-envelope[k]))/rate)
				break
			}
		}
		i += int(0.5 * SlateEvery * rate)
	}
	return out
}
