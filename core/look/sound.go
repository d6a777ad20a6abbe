package look

import (
	"math"
	"slices"
	"strings"

	"eventether/core/lang"
	"eventether/core/say"
)

// Sound takes samples of two channels, one block after the other, and says what they come to.
type Sound struct {
	rate     float64
	channels int
	loudness *Loudness
	samples  int
	peak     [2]float64
	square   [2]float64
	sum      [2]float64
	cross    float64
	full     [2]int // samples at full scale in a row, up to here
	clipped  int    // runs of three and more
	clips    []Stretch
	block    [2]float64 // square sums of the 50 ms at hand
	in       int
	levels   []float64 // of each 50 ms, dBFS, the louder channel
	both     [2][]float64
	hum      []float64    // a mono stretch for the mains, humRate samples a second
	side     [2][]float64 // the same of either channel, for echoes: both together are a comb where one comes later
	keep     int
	held     [2]float64
	claps    []float32 // a mono stretch to hold against another sound, at ClapRate; none where the rate does not divide
	clapKeep int
	clapHeld float64
}

// NewSound takes one or two channels at so many samples a second.
func NewSound(rate float64, channels int) *Sound {
	return &Sound{rate: rate, loudness: NewLoudness(rate, channels), channels: channels}
}

// Seconds is how much of it there was so far.
func (s *Sound) Seconds() float64 { return float64(s.samples) / s.rate }

// Channels is how many it has, 1 or 2.
func (s *Sound) Channels() int { return s.channels }

// Rate is how many samples a second it has.
func (s *Sound) Rate() float64 { return s.rate }

// humRate is about how many samples a second are kept to look for hum, and humMost how many at most.
const (
	humRate = 2000
	humMost = 60 * humRate
)

// Add takes samples of both channels, full scale at 1. One channel alone is given twice.
func (s *Sound) Add(left, right []float32) {
	s.loudness.Add(left, right)
	step := max(1, int(s.rate/humRate))
	window := int(s.rate / 20)
	clapStep := max(1, int(s.rate/ClapRate))
	for i := range left {
		v := [2]float64{float64(left[i]), float64(right[i])}
		for c, x := range v {
			s.peak[c] = max(s.peak[c], math.Abs(x))
			s.square[c] += x * x
			s.sum[c] += x
			s.block[c] += x * x
			if math.Abs(x) >= 0.9995 {
				if s.full[c]++; s.full[c] == 3 {
					s.clipped++
					at := float64(s.samples+i) / s.rate
					if n := len(s.clips); n > 0 && at-s.clips[n-1].To < 0.5 {
						s.clips[n-1].To = at
					} else if n < 200 {
						s.clips = append(s.clips, Stretch{at, at})
					}
				}
			} else {
				s.full[c] = 0
			}
		}
		s.cross += v[0] * v[1]
		s.held[0], s.held[1] = s.held[0]+v[0], s.held[1]+v[1]
		if s.keep++; s.keep == step {
			if len(s.hum) < humMost {
				a, b := s.held[0]/float64(step), s.held[1]/float64(step)
				s.hum = append(s.hum, (a+b)/2)
				s.side[0], s.side[1] = append(s.side[0], a), append(s.side[1], b)
			}
			s.keep, s.held = 0, [2]float64{}
		}
		s.clapHeld += (v[0] + v[1]) / 2
		if s.clapKeep++; s.clapKeep == clapStep {
			if len(s.claps) < mostClaps {
				s.claps = append(s.claps, float32(s.clapHeld/float64(clapStep)))
			}
			s.clapKeep, s.clapHeld = 0, 0
		}
		if s.in++; s.in == window {
			for c := range s.block {
				s.both[c] = append(s.both[c], level(s.block[c]/float64(window)))
			}
			s.levels = append(s.levels, level(max(s.block[0], s.block[1])/float64(window)))
			s.block, s.in = [2]float64{}, 0
		}
	}
	s.samples += len(left)
}

// Claps are the first two minutes at ClapRate, to hold them against another sound's; none where its rate is no multiple.
func (s *Sound) Claps() []float32 {
	if int(s.rate)%ClapRate != 0 {
		return nil
	}
	return s.claps
}

// Level is how loud a sound is at the moment: the loudest 50 ms of the last half second, dBFS; ok is false before there
// are any.
func (s *Sound) Level() (db float64, ok bool) {
	n := len(s.levels)
	if n == 0 {
		return 0, false
	}
	return tenths(slices.Max(s.levels[max(0, n-10):])), true
}

// level is a mean square in dBFS.
func level(square float64) float64 { return 10 * math.Log10(max(square, 1e-13)) }

// Heard is what a sound came to.
type Heard struct {
	Seconds  float64 `json:"seconds"`
	From     float64 `json:"from,omitempty" doc:"Seconds after the picture's first frame at which it begins; less than 0 where it begins before"`
	Rate     float64 `json:"rate" doc:"Samples a second"`
	PeakDB   float64 `json:"peakDb" doc:"dBFS"`
	TruePeak float64 `json:"truePeak" doc:"dBTP, between the samples"`
	RMSDB    float64 `json:"rmsDb" doc:"dBFS"`
	LUFS     float64 `json:"lufs" doc:"Integrated loudness; −200 of silence"`
	Range    float64 `json:"range" doc:"Loudness range, LU"`
	FloorDB  float64 `json:"floorDb" doc:"The quietest tenth of 400 ms, dBFS"`

	Momentary float64   `json:"momentary" doc:"Loudest 400 ms, LUFS; -70 of less"`
	ShortTerm float64   `json:"shortTerm" doc:"Loudest three seconds, LUFS; -70 of less"`
	Loudness  []float64 `json:"loudness" doc:"Of the last three seconds, at every whole second from the third on, LUFS"`

	Signs []Sign `json:"signs"`
}

// Begins says that a sound begins so many seconds after the picture: what was found in it is told by the picture's clock.
func (h *Heard) Begins(from float64) {
	h.From = from
	for i := range h.Signs {
		for k := range h.Signs[i].Spans {
			s := &h.Signs[i].Spans[k]
			s.From, s.To = tenths(max(0, s.From+from)), tenths(max(0, s.To+from))
		}
	}
}

// silent is nothing worth hearing, dBFS.
const silent = -80

// Hear says what the samples so far come to.
func (s *Sound) Hear() Heard {
	n := max(1, float64(s.samples))
	h := Heard{Seconds: float64(s.samples) / s.rate, Rate: s.rate, PeakDB: tenths(dB(max(s.peak[0], s.peak[1]))),
		TruePeak: tenths(s.loudness.TruePeak()), RMSDB: tenths(level(max(s.square[0], s.square[1]) / n)),
		LUFS: tenths(max(-200, s.loudness.Integrated())), Range: tenths(s.loudness.Range()), Signs: []Sign{}}
	h.Momentary, h.ShortTerm = s.loudness.Most()
	h.Momentary, h.ShortTerm, h.Loudness = tenths(h.Momentary), tenths(h.ShortTerm), s.loudness.ShortTerm()
	blocks := s.blocks()
	h.FloorDB = tenths(quantile(slices.Sorted(slices.Values(blocks)), 0.1))
	put := func(f Sign) {
		if f.Spans == nil {
			f.Spans = []Stretch{}
		}
		h.Signs = append(h.Signs, f)
	}
	quiet := h.PeakDB < silent
	put(s.silence(quiet))
	put(s.clipping(quiet))
	put(s.sides(quiet))
	put(s.alike(quiet))
	put(s.against(quiet))
	put(s.offset(quiet))
	put(s.mains(quiet))
	put(s.pumps(quiet))
	put(s.echo(quiet))
	return h
}

func tenths(v float64) float64 { return math.Round(v*10) / 10 }

// blocks are the levels of 400 ms, one after the other, dBFS.
func (s *Sound) blocks() []float64 {
	var out []float64
	for i := 0; i+8 <= len(s.levels); i += 8 {
		sum := 0.0
		for _, l := range s.levels[i : i+8] {
			sum += math.Pow(10, l/10) / 8
		}
		out = append(out, level(sum))
	}
	return out
}

func (s *Sound) silence(quiet bool) Sign {
	f := Sign{What: IsSilent, Unit: "dBFS", Answer: Clear, Value: tenths(dB(max(s.peak[0], s.peak[1]))),
		Says: lang.Text("There is sound.")}
	if quiet {
		f.Answer, f.Says = Found, lang.Text("Silent: nothing over −80 dBFS.")
	}
	return f
}

func (s *Sound) clipping(quiet bool) Sign {
	f := Sign{What: IsClipped, Answer: Clear, Says: lang.Text("Never at full scale for three samples in a row."),
		Spans: s.clips}
	if quiet {
		return Sign{What: IsClipped, Answer: CannotTell, Says: lang.Text("Silent.")}
	}
	if s.clipped > 0 {
		f.Answer, f.Value = Found, float64(s.clipped)
		f.Says = lang.Text("Clipped: %s at full scale.", say.Count(s.clipped, "run", "runs"))
	}
	return f
}

func (s *Sound) sides(quiet bool) Sign {
	f := Sign{What: IsOneSided, Unit: "dB", Answer: CannotTell, Says: lang.Text("Silent.")}
	if quiet {
		return f
	}
	apart := level(s.square[0]/float64(s.samples)) - level(s.square[1]/float64(s.samples))
	f.Answer, f.Value, f.Says = Clear, tenths(math.Abs(apart)), lang.Text("Both sides are there.")
	if math.Abs(apart) >= 20 {
		f.Answer, f.Says = Found, lang.Text("On the left only.")
		if apart < 0 {
			f.Says = lang.Text("On the right only.")
		}
	}
	return f
}

// correlation of the channels, less what does not swing.
func (s *Sound) correlation() float64 {
	n := float64(s.samples)
	a, b := s.square[0]-s.sum[0]*s.sum[0]/n, s.square[1]-s.sum[1]*s.sum[1]/n
	if a <= 0 || b <= 0 {
		return 0
	}
	return (s.cross - s.sum[0]*s.sum[1]/n) / math.Sqrt(a*b)
}

func (s *Sound) alike(quiet bool) Sign {
	f := Sign{What: IsEqual, Answer: CannotTell, Says: lang.Text("Silent.")}
	if quiet {
		return f
	}
	if s.channels == 1 {
		f.Answer, f.Value, f.Says = Found, 1, lang.Text("One channel.")
		return f
	}
	f.Value = s.correlation()
	f.Answer, f.Says = Clear, lang.Text("The sides differ.")
	if f.Value > 0.999 {
		f.Answer, f.Says = Found, lang.Text("Left and right are the same: mono, as one microphone is.")
	}
	return f
}

func (s *Sound) against(quiet bool) Sign {
	f := Sign{What: IsInverted, Answer: CannotTell, Says: lang.Text("Silent.")}
	if quiet {
		return f
	}
	f.Value = s.correlation()
	f.Answer, f.Says = Clear, lang.Text("The sides do not cancel.")
	if f.Value < -0.9 {
		f.Answer, f.Says = Found, lang.Text("One side is inverted: both together cancel, and a phone plays silence.")
	}
	return f
}

func (s *Sound) offset(quiet bool) Sign {
	f := Sign{What: IsOffset, Unit: "%", Answer: CannotTell, Says: lang.Text("No samples.")}
	if s.samples == 0 {
		return f
	}
	off := 100 * max(math.Abs(s.sum[0]), math.Abs(s.sum[1])) / float64(s.samples)
	f.Answer, f.Value, f.Says = Clear, math.Round(off*100)/100, lang.Text("It swings about zero.")
	if off > 0.5 {
		f.Answer, f.Says = Found, lang.Text("It swings about %s %, not about zero.", say.Number(say.Round2(off)))
	}
	return f
}

// mains looks for hum: power at the harmonics of 50 or 60 Hz against what lies between them.
func (s *Sound) mains(quiet bool) Sign {
	f := Sign{What: IsHum, Unit: "dB", Answer: CannotTell, Says: lang.Text("Too short to hear hum under the rest.")}
	rate := s.rate / float64(max(1, int(s.rate/humRate)))
	window := int(2 * rate)
	if quiet {
		f.Says = lang.Text("Silent.")
		return f
	}
	if len(s.hum) < window {
		return f
	}
	type heard struct{ over, level float64 }
	of := func(base float64) heard {
		var overs, levels []float64
		for at := 0; at+window <= len(s.hum); at += window {
			part := windowed(s.hum[at : at+window])
			over, power, n := 0.0, 0.0, 0
			for k := 1; k <= 6; k++ {
				hz := base * float64(k)
				if hz > 0.45*rate {
					break
				}
				a := amplitude(part, hz/rate)
				beside := (amplitude(part, (hz-3)/rate) + amplitude(part, (hz+3)/rate) + amplitude(part, (hz-7)/rate) +
					amplitude(part, (hz+7)/rate)) / 4
				if a > 4*beside { // a line, not a slope
					over += dB(a) - dB(beside)
					n++
				}
				power += a * a / 2
			}
			if n == 0 {
				overs = append(overs, 0)
			} else {
				overs = append(overs, over/float64(n))
			}
			levels = append(levels, level(power))
		}
		slices.Sort(overs)
		slices.Sort(levels)
		return heard{quantile(overs, 0.5), quantile(levels, 0.5)}
	}
	fifty, sixty := of(50), of(60)
	hum, base := fifty, 50.0
	if sixty.over > fifty.over || sixty.over == fifty.over && sixty.level > fifty.level {
		hum, base = sixty, 60
	}
	f.Value = tenths(hum.over)
	switch {
	case hum.over >= 14 && hum.level > -75:
		f.Answer, f.Says = Found, lang.Text("It hums at %s Hz: %s dBFS, %s dB over what lies beside.", say.Number(base),
			strings.Replace(say.Number(tenths(hum.level)), "-", "−", 1), say.Number(tenths(hum.over)))
	default:
		f.Answer, f.Says = Clear, lang.Text("No hum of the mains.")
	}
	return f
}

// windowed tapers a stretch, so that its ends bring no lines of their own.
func windowed(v []float64) []float64 {
	out := make([]float64, len(v))
	for i, x := range v {
		out[i] = x * (1 - math.Cos(2*math.Pi*(float64(i)+0.5)/float64(len(v))))
	}
	return out
}

// pumps looks at pauses: after loud stretches their floor climbs back up within seconds where a level control lifts it.
func (s *Sound) pumps(quiet bool) Sign {
	f := Sign{What: IsPumping, Unit: "dB", Answer: CannotTell,
		Says: lang.Text("No pauses long enough to hear a level control.")}
	if quiet {
		return f
	}
	sorted := slices.Sorted(slices.Values(s.levels))
	loud := quantile(sorted, 0.8)
	cut := loud - 15
	var climbs []float64
	for i := 1; i < len(s.levels); i++ {
		if s.levels[i] >= cut || s.levels[i-1] < cut {
			continue
		}
		to := i
		for to < len(s.levels) && s.levels[to] < cut+6 && to-i < 80 {
			to++
		}
		for to > i && s.levels[to-1] > cut-2 { // the next word begins
			to--
		}
		if to-i < 24 { // 1.2 s
			continue
		}
		pause := s.levels[i+4 : to-2]
		third := max(3, len(pause)/3)
		early, late := median(pause[:third]), median(pause[len(pause)-third:])
		climbs = append(climbs, late-early)
	}
	if len(climbs) < 2 {
		return f
	}
	f.Value = tenths(median(climbs))
	f.Answer, f.Says = Clear, lang.Text("The pauses stay as quiet as they begin.")
	if f.Value >= 6 {
		f.Answer, f.Says = Found, lang.Text("The pauses rise by %s dB: an automatic level control turns them up.",
			say.Number(f.Value))
	}
	return f
}
