package look

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/say"
)

// Frame is one picture as it was delivered: when, in seconds, and its luma as codes of 8 bits, unscaled.
type Frame struct {
	At            float64
	Width, Height int
	Luma          []byte
}

// Of the picture a grid of cells is kept for movement; so many samples go into each, which takes the noise down.
const (
	across, down = 32, 18
	cells        = across * down
	inCell       = 4 // samples either way
)

// Picture takes frames and says what they come to.
type Picture struct {
	width, height int
	times         []float64
	change        []float64 // of the cells against the frame before, mean of the absolute
	most          []float64 // of the cell that changes most
	mean          []float64
	dark          []float64 // share of cells that are black
	cell, before  [cells]float64
	rowMost       []float64 // of each row the brightest its mean ever was
	edges         margins
	codes         [256]int64
	combed        float64 // lines that lie between, on what moves
	moving        float64
	looked        int     // frames that were looked at closely
	lately        float64 // when the last of them came
	sizes         int     // times the size changed
	stays         stays
	focus         focus
	lean          lean
	grain         grain
}

// NewPicture takes a picture of no size yet.
func NewPicture() *Picture { return &Picture{} }

// Frames is how many there were.
func (p *Picture) Frames() int { return len(p.times) }

// Closely is how often a frame is looked at line by line, in seconds.
const Closely = 0.2

// Samples either way of a picture that is taken as samples only: what Add reads of a frame for movement.
const (
	SampledWidth  = across * inCell
	SampledHeight = down * inCell
)

// Add takes the next frame. Its luma is read and not kept.
func (p *Picture) Add(f Frame) {
	if f.Width < across || f.Height < down || len(f.Luma) < f.Width*f.Height {
		return
	}
	p.sized(f.Width, f.Height)
	p.next(f.At, f)
	if p.looked == 0 || f.At-p.lately >= Closely {
		p.AddClosely(f)
	}
}

// AddSampled takes the next frame of a picture of a size as SampledWidth × SampledHeight of its samples, evenly spread.
func (p *Picture) AddSampled(at float64, width, height int, samples []byte) {
	if len(samples) < SampledWidth*SampledHeight {
		return
	}
	p.sized(width, height)
	p.next(at, Frame{At: at, Width: SampledWidth, Height: SampledHeight, Luma: samples})
}

// AddClosely takes a frame whose samples are added besides, to look at it line by line: border, range, combing, signs.
func (p *Picture) AddClosely(f Frame) {
	if f.Width < across || f.Height < down || len(f.Luma) < f.Width*f.Height {
		return
	}
	p.sized(f.Width, f.Height)
	p.lately = f.At
	p.grain.add(f)
	p.closely(f)
}

// sized begins what depends on the size anew, where it is another.
func (p *Picture) sized(width, height int) {
	if width == p.width && height == p.height {
		return
	}
	if p.width != 0 {
		p.sizes++
	}
	p.width, p.height = width, height
	p.rowMost = make([]float64, height)
	p.edges = margins{height / 3, height / 3, width / 3, width / 3}
}

// next notes how a frame differs from the one before.
func (p *Picture) next(at float64, f Frame) {
	p.before, p.cell = p.cell, p.before
	mean, dark := p.fill(f)
	change, most := math.NaN(), math.NaN()
	if len(p.times) > 0 {
		change, most = 0, 0
		for i := range p.cell {
			d := math.Abs(p.cell[i] - p.before[i])
			change += d / cells
			most = max(most, d)
		}
	}
	p.times, p.mean, p.dark = append(p.times, at), append(p.mean, mean), append(p.dark, dark)
	p.change, p.most = append(p.change, change), append(p.most, most)
}

// Lately is how a picture is at the moment.
type Lately struct {
	Hz     float64 `json:"hz" doc:"Frames in the last second"`
	Change float64 `json:"change" doc:"Codes a cell changes from one frame to the next, on average of the last second"`
	Dark   bool    `json:"dark" doc:"Nothing but black"`
	Frames int     `json:"frames"`
}

// Now is how the picture is: in the second before the last frame.
func (p *Picture) Now() Lately {
	n := len(p.times)
	l := Lately{Frames: n}
	if n < 2 {
		return l
	}
	from := n - 1
	for from > 1 && p.times[n-1]-p.times[from-1] <= 1 {
		from--
	}
	for i := from; i < n; i++ {
		l.Change += p.change[i] / float64(n-from)
	}
	if d := p.times[n-1] - p.times[from-1]; d > 0 {
		l.Hz = tenths(float64(n-from) / d)
	}
	l.Change, l.Dark = math.Round(l.Change*100)/100, p.dark[n-1] > 0.98
	return l
}

// fill averages samples of each cell.
func (p *Picture) fill(f Frame) (mean, dark float64) {
	for y := range down {
		y0, y1 := y*f.Height/down, (y+1)*f.Height/down
		for x := range across {
			x0, x1 := x*f.Width/across, (x+1)*f.Width/across
			sum := 0
			for j := range inCell {
				row := (y0 + (y1-y0)*(2*j+1)/(2*inCell)) * f.Width
				for i := range inCell {
					sum += int(f.Luma[row+x0+(x1-x0)*(2*i+1)/(2*inCell)])
				}
			}
			v := float64(sum) / (inCell * inCell)
			p.cell[y*across+x] = v
			mean += v / cells
			if v < 24 {
				dark += 1.0 / cells
			}
		}
	}
	return mean, dark
}

// closely looks at every sample of a frame: borders, codes, combing.
func (p *Picture) closely(f Frame) {
	p.looked++
	w, h := f.Width, f.Height
	var codes [4][256]int64 // four counts beside each other: a code often follows itself, and waits for its own count
	for y := range h {
		sum, row := 0, f.Luma[y*w:y*w+w]
		for len(row) >= 4 {
			a, b, c, d := row[0], row[1], row[2], row[3]
			sum += int(a) + int(b) + int(c) + int(d)
			codes[0][a]++
			codes[1][b]++
			codes[2][c]++
			codes[3][d]++
			row = row[4:]
		}
		for _, v := range row {
			sum += int(v)
			codes[0][v]++
		}
		p.rowMost[y] = max(p.rowMost[y], float64(sum)/float64(w))
	}
	for i := range p.codes {
		p.codes[i] += codes[0][i] + codes[1][i] + codes[2][i] + codes[3][i]
	}
	p.edges.narrow(f)
	p.combs(f)
	p.stays.add(f)
	p.focus.add(p, f)
	p.lean.add(f)
}

// margins are how many rows and columns at each edge never left black, a third of the picture at most.
type margins struct{ top, bottom, left, right int }

// narrow takes what is not black in a frame off them.
func (m *margins) narrow(f Frame) {
	w, h := f.Width, f.Height
	until := func(n *int, line func(i int) (from, step, count int)) {
		for i := range *n {
			from, step, count := line(i)
			sum, peak := 0, byte(0)
			for k := range count {
				v := f.Luma[from+k*step]
				sum, peak = sum+int(v), max(peak, v)
			}
			if sum >= 22*count || peak >= 64 { // codes of a mean and of one sample [estimate]
				*n = i
				return
			}
		}
	}
	until(&m.top, func(i int) (int, int, int) { return i * w, 1, w })
	until(&m.bottom, func(i int) (int, int, int) { return (h - 1 - i) * w, 1, w })
	until(&m.left, func(i int) (int, int, int) { return i, w, h })
	until(&m.right, func(i int) (int, int, int) { return w - 1 - i, w, h })
}

// combs counts lines that differ from both their neighbours the same way, where lines two apart agree: two moments in
// one frame.
func (p *Picture) combs(f Frame) {
	w, h := f.Width, f.Height
	if h < 8 {
		return
	}
	const step = 12 // codes by which a line stands out
	for y := 2; y+2 < h; y++ {
		a, b, c, d := f.Luma[(y-1)*w:][:w], f.Luma[y*w:][:w], f.Luma[(y+1)*w:][:w], f.Luma[(y+2)*w:][:w]
		for x := 1; x < w; x += 3 {
			up, below := int(b[x])-int(a[x]), int(b[x])-int(c[x])
			if up > step && below > step || up < -step && below < -step {
				p.moving++
				two := int(a[x]) - int(c[x])
				next := int(b[x]) - int(d[x])
				if abs(two)*3 < abs(up) && abs(next)*3 < abs(up) {
					p.combed++
				}
			}
		}
	}
}

func abs(v int) int { return max(v, -v) }

// Seen is what frames came to.
type Seen struct {
	Width   int       `json:"width"`
	Height  int       `json:"height"`
	Seconds float64   `json:"seconds"`
	Pace    *Pace     `json:"pace,omitempty"`
	Cadence *Cadence  `json:"cadence,omitempty"`
	Active  Box       `json:"active" doc:"What of the picture is not border, in its pixels"`
	Stays   []Box     `json:"stays" doc:"What stays put while the picture moves, in its pixels"`
	Cuts    []float64 `json:"cuts" doc:"When the picture is another from one frame to the next, seconds from the beginning"`
	Noise   float64   `json:"noise,omitempty" doc:"Of what stands still, codes of luma (standard deviation); 0 where nothing stands still for long enough to tell"`
	Signs   []Sign    `json:"signs"`
}

// Box is a part of a picture, in pixels.
type Box struct {
	X int `json:"x"`
	Y int `json:"y"`
	W int `json:"w"`
	H int `json:"h"`
}

// See says what the frames so far come to.
func (p *Picture) See() Seen {
	s := Seen{Width: p.width, Height: p.height, Active: Box{W: p.width, H: p.height}, Stays: []Box{}, Signs: []Sign{}, Cuts: p.cuts(), Noise: p.grain.sigma()}
	if n := len(p.times); n > 0 {
		s.Seconds = p.times[n-1] - p.times[0]
	}
	put := func(f Sign) {
		if f.Spans == nil {
			f.Spans = []Stretch{}
		}
		s.Signs = append(s.Signs, f)
	}
	pace, paced := PaceOf(p.times)
	if paced {
		s.Pace = &pace
	}
	put(p.rate(pace, paced))
	put(p.repeats(&s, pace, paced))
	black, frozen := p.black(), p.frozen()
	put(black)
	put(frozen)
	put(p.border(&s.Active))
	put(p.fullRange())
	put(p.interlaced())
	put(p.flicker(pace, paced))
	put(p.exposure())
	put(p.overlay(&s))
	put(p.asleep(black, frozen))
	put(p.hunts())
	put(p.leans())
	return s
}

func (p *Picture) rate(pace Pace, ok bool) Sign {
	f := Sign{What: IsRate, Answer: CannotTell, Unit: "frames/s",
		Says: lang.Text("Too few frames to say how fast they come.")}
	if !ok {
		return f
	}
	f.Value = pace.Hz
	switch {
	case pace.Name != "":
		f.Answer, f.Says = Found, lang.Text("%s frames a second; 95 of 100 come within %s ms of their time.",
			pace.Name, say.Number(say.Round2(pace.JitterMs)))
	default:
		f.Says = lang.Text("%s frames a second, give or take %s: that is no rate cameras have, or too short to tell two apart.",
			say.Number(pace.Hz), say.Number(pace.Error))
	}
	if pace.Lost > 0 {
		f.Says += " " + say.Sentence(lang.Text("%s missing.", say.Count(pace.Lost, "frame is", "frames are")))
	}
	return f
}

func (p *Picture) repeats(s *Seen, pace Pace, paced bool) Sign {
	f := Sign{What: IsRepeats, Answer: CannotTell, Unit: "frames",
		Says: lang.Text("Nothing moves enough to tell repeated frames from new ones.")}
	if !paced {
		return f
	}
	c, repeated, ok := repeatsOf(p.change, p.standing(), pace.Hz)
	if !ok {
		return f
	}
	s.Cadence = &c
	if c.Repeats*200 < len(p.times) {
		f.Answer, f.Says = Clear, lang.Text("Every frame is a new one.")
		return f
	}
	f.Answer, f.Value = Found, float64(c.Repeats)
	f.Says = lang.Text("%s of %s frames repeat the one before: %s new ones a second.", say.Number(float64(c.Repeats)),
		say.Number(float64(len(p.times))), say.Number(say.Round2(c.Hz)))
	if c.Name != "" {
		f.Says += " " + lang.Text("A source at %s looks like this.", c.Name)
	}
	f.Spans = runs(p.times, func(i int) bool { return repeated[i] }, 0.2)
	return f
}

// standing marks the frames of stretches in which nothing changes for longer than a slower picture repeats its frames in a
// faster stream, and of black.
func (p *Picture) standing() []bool {
	out := make([]bool, len(p.times))
	for i := 1; i < len(out); i++ {
		from := i
		for i < len(out) && (p.change[i] < quiet || p.dark[i] > 0.98) {
			i++
		}
		const stall = 7 // frames in a row; 15 in 60 repeats three
		if i-from >= stall || i > from && p.times[i-1]-p.times[from-1] >= 0.4 {
			first, last := max(0, from-1), min(i, len(out)-1)
			for first > 1 && p.change[first] < still { // what coding still settles at either end
				first--
			}
			for last+1 < len(out) && p.change[last] < still {
				last++
			}
			for k := first; k <= last; k++ {
				out[k] = true
			}
		}
	}
	return out
}

// quiet is the change, in codes of cells, of a picture that stands, with the noise of its coding.
const quiet = 0.12

// black is dark all over for half a second.
func (p *Picture) black() Sign {
	f := Sign{What: IsBlack, Unit: "s", Answer: Clear, Says: lang.Text("Never black.")}
	f.Spans = runs(p.times, func(i int) bool { return p.dark[i] > 0.98 && p.mean[i] < 21 }, 0.5)
	for _, s := range f.Spans {
		f.Value += s.To - s.From
	}
	if len(f.Spans) > 0 {
		f.Answer, f.Says = Found, lang.Text("Black for %s s in all.", say.Number(say.Round1(f.Value)))
	}
	return f
}

// frozen is nothing that changes for two seconds, where something does at other times.
func (p *Picture) frozen() Sign {
	f := Sign{What: IsFrozen, Unit: "s", Answer: CannotTell,
		Says: lang.Text("Nothing moves in all of it: a still scene, or a picture that stands.")}
	stands := func(i int) bool { return i > 0 && p.change[i] < quiet && p.most[i] < 2.5 && p.dark[i] <= 0.98 }
	moves := 0
	for i := range p.times {
		if i > 0 && p.change[i] >= still {
			moves++
		}
	}
	if moves < 5 {
		return f
	}
	f.Answer, f.Says = Clear, lang.Text("It never stands still for two seconds.")
	f.Spans = runs(p.times, stands, 1.9)
	for _, s := range f.Spans {
		f.Value += s.To - s.From
	}
	if len(f.Spans) > 0 {
		f.Answer, f.Says = Found, lang.Text("The picture stands for %s s in all.", say.Number(say.Round1(f.Value)))
	}
	return f
}

// border finds rows and columns that never leave black while the rest does.
func (p *Picture) border(active *Box) Sign {
	f := Sign{What: IsBorder, Unit: "px", Answer: CannotTell,
		Says: lang.Text("Too dark to tell a border from the scene.")}
	if p.looked == 0 {
		return f
	}
	bright := quantile(slices.Sorted(slices.Values(p.rowMost)), 0.6)
	if bright < 40 {
		return f
	}
	top, bottom, left, right := p.edges.top, p.edges.bottom, p.edges.left, p.edges.right
	*active = Box{left, top, p.width - left - right, p.height - top - bottom}
	const thin = 3 // lines at an edge that coding or a sensor leaves dark
	if max(top, bottom, left, right) < thin {
		*active = Box{W: p.width, H: p.height}
		f.Answer, f.Says = Clear, lang.Text("No border: the picture fills its frame.")
		return f
	}
	f.Answer, f.Value = Found, float64(max(top, bottom, left, right))
	f.Says = lang.Text("A black border: the picture is %s × %s at %s, %s of %s × %s.", say.Number(float64(active.W)),
		say.Number(float64(active.H)), say.Number(float64(left)), say.Number(float64(top)),
		say.Number(float64(p.width)),
		say.Number(float64(p.height)))
	return f
}

// fullRange tells by the codes that are there: many outside of 16 to 235 are full; none, over dark and bright, are
// limited.
func (p *Picture) fullRange() Sign {
	f := Sign{What: IsRange, Answer: CannotTell, Unit: "%",
		Says: lang.Text("Not dark and bright enough to tell full from limited range.")}
	var all, below, above, far, dark, light int64
	for v, n := range p.codes {
		all += n
		switch {
		case v < 13:
			below += n
		case v > 239:
			above += n
		}
		if v < 8 || v > 246 { // coding a sharp white line overshoots by less
			far += n
		}
		if v <= 24 {
			dark += n
		}
		if v >= 222 {
			light += n
		}
	}
	if all == 0 {
		return f
	}
	outside := 100 * float64(below+above) / float64(all)
	f.Value = outside
	switch {
	case outside > 0.25 && far*4 > below+above:
		f.Answer, f.Says = Found, lang.Text("Full range: %s % of the picture lies outside of 16 to 235.",
			say.Number(say.Round1(outside)))
	case dark*2000 > all && light*2000 > all:
		f.Answer, f.Says = Clear, lang.Text("Limited range: dark and bright stay within 16 to 235.")
	}
	return f
}

// interlaced tells by lines that stand between.
func (p *Picture) interlaced() Sign {
	f := Sign{What: IsCombing, Unit: "%", Answer: CannotTell,
		Says: lang.Text("Nothing moves across enough to tell whether lines of two moments are mixed.")}
	seen := float64(p.looked) * float64(p.width) * float64(p.height) / 3
	if seen == 0 {
		return f
	}
	share := 100 * p.combed / seen
	f.Value = share
	moved := 0
	for i := range p.times {
		if i > 0 && p.change[i] > 2*still {
			moved++
		}
	}
	switch {
	case share > 0.35 && p.combed > 0.25*p.moving:
		f.Answer, f.Says = Found,
			lang.Text("Combed: lines of two moments stand in one frame. The source sends interlaced pictures.")
	case moved*4 > len(p.times):
		f.Answer, f.Says = Clear, lang.Text("Not combed.")
	}
	return f
}

// flicker looks for a beat of the light: the mean of the picture swings evenly.
func (p *Picture) flicker(pace Pace, paced bool) Sign {
	f := Sign{What: IsFlicker, Unit: "%", Answer: CannotTell,
		Says: lang.Text("Too short to see a beat of the light.")}
	n := len(p.mean)
	if !paced || n < int(4*pace.Hz) || n < 60 {
		return f
	}
	mean := 0.0
	for _, v := range p.mean {
		mean += v / float64(n)
	}
	if mean < 24 {
		f.Says = lang.Text("Too dark to see a beat of the light.")
		return f
	}
	if slices.Max(p.dark) > 0.9 {
		f.Says = lang.Text("Black at times: what swings then is not the light.")
		return f
	}
	flat := detrended(p.mean)
	best, at, slow := 0.0, 0.0, 0.0
	for hz := 0.2; hz < 0.45; hz += 0.05 { // a scene that changes slowly swings most at the slowest
		slow = max(slow, amplitude(flat, hz/pace.Hz))
	}
	var others []float64
	for hz := 0.5; hz <= 0.4*pace.Hz; hz += pace.Hz / float64(2*n) {
		a := amplitude(flat, hz/pace.Hz)
		others = append(others, a)
		if a > best {
			best, at = a, hz
		}
	}
	depth := 200 * best / max(1, mean-16)
	f.Value = depth
	switch usual := median(others); {
	case depth > 1.2 && best > 9*usual && best > 1.3*slow:
		f.Answer, f.Says = Found, lang.Text("The light beats at %s Hz, %s % deep: the shutter does not fit the mains.",
			say.Number(say.Round2(at)), say.Number(say.Round1(depth)))
	case depth > 1.2 && best > 5*usual:
		f.Says = lang.Text("The brightness swings, and not evenly enough to call it the light.")
	default:
		f.Answer, f.Says = Clear, lang.Text("No beat of the light.")
	}
	return f
}

// detrended takes the slow course of a series off it: a straight line, and what changes over a second or two stays.
func detrended(v []float64) []float64 {
	n := float64(len(v))
	var sx, sy, sxx, sxy float64
	for i, y := range v {
		x := float64(i)
		sx, sy, sxx, sxy = sx+x, sy+y, sxx+x*x, sxy+x*y
	}
	slope := (n*sxy - sx*sy) / (n*sxx - sx*sx)
	first := (sy - slope*sx) / n
	out := make([]float64, len(v))
	for i, y := range v { // with a window, so that the ends bring no beat of their own
		out[i] = (y - first - slope*float64(i)) * (1 - math.Cos(2*math.Pi*(float64(i)+0.5)/n))
	}
	return out
}

// amplitude of a series at so many turns a sample.
func amplitude(v []float64, turns float64) float64 {
	re, im := 0.0, 0.0
	s, c := math.Sincos(2 * math.Pi * turns)
	x, y := 1.0, 0.0
	for _, a := range v {
		re, im = re+a*x, im+a*y
		x, y = x*c-y*s, x*s+y*c
	}
	return 2 * math.Hypot(re, im) / float64(len(v))
}

// exposure tells of a picture most of which lies at an end.
func (p *Picture) exposure() Sign {
	f := Sign{What: IsExposure, Unit: "%", Answer: Clear, Says: lang.Text("Neither burnt out nor drowned.")}
	var all, light, dark int64
	for v, n := range p.codes {
		all += n
		if v >= 234 {
			light += n
		}
		if v <= 18 {
			dark += n
		}
	}
	if all == 0 {
		f.Answer, f.Says = CannotTell, lang.Text("No picture.")
		return f
	}
	burnt, drowned := 100*float64(light)/float64(all), 100*float64(dark)/float64(all)
	switch {
	case burnt > 10:
		f.Answer, f.Value, f.Says = Found, burnt, lang.Text("%s % of the picture is burnt out.",
			say.Number(say.Round1(burnt)))
	case drowned > 60 && drowned < 97:
		f.Answer, f.Value, f.Says = Found, drowned, lang.Text("%s % of the picture is black.",
			say.Number(say.Round1(drowned)))
	}
	return f
}
