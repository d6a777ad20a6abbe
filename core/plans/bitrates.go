package plans

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// start is what people start from for one picture, kb/s: the least that looks right, the wish, and what more is seldom
// seen.
type start struct {
	lines           int
	rate            float64
	low, wish, high float64
}

// starts are the trade's starting bitrates [practice; 480, 1440 and 2160 lines an estimate].
var starts = []start{
	{480, 30, 1000, 1500, 1500},
	{720, 30, 2500, 2500, 4000},
	{720, 60, 3500, 5000, 5000},
	{1080, 30, 5000, 5000, 5000},
	{1080, 60, 6500, 9000, 9000},
	{1440, 30, 9000, 9000, 9000},
	{1440, 60, 13000, 13000, 13000},
	{2160, 30, 13000, 20000, 20000},
	{2160, 60, 25000, 35000, 35000},
}

// cappedWish is the wish at 720 lines and 30 where a destination takes no larger picture, kb/s [practice].
const cappedWish = 4000

// step is what a bitrate is lowered by, kb/s, and what starting values are rounded to.
const step = 50

// LeastBits are the bits a pixel under which H.264 shows blocks on movement [practice].
const LeastBits = 0.045

// StartKbps is the bitrate to start from for a sent picture nobody has given one: its Value is the wish. It is the row
// of the same height and the nearest rate, by rate, rounded to 50; where no row has the height, that of the next larger
// one (of the largest), by pixels too. A picture that stands upright counts as it does lying down.
func StartKbps(width, height int, r picture.Rate) fact.Fact {
	lines := min(width, height)
	row := &starts[len(starts)-1]
	for i := range starts {
		if starts[i].lines >= lines {
			row = &starts[i]
			break
		}
	}
	by := 1.0
	if row.lines != lines {
		by = float64(width) * float64(height) / (float64(row.lines) * math.Round(float64(row.lines)*16/9))
	}
	fps := r.Float()
	for i := range starts {
		if o := &starts[i]; o.lines == row.lines && math.Abs(o.rate-fps) < math.Abs(row.rate-fps) {
			row = o
		}
	}
	if near := fps / row.rate; math.Abs(near-1) > 0.002 { // 59.94 is meant by 60
		by *= near
	}
	scale := func(v float64) float64 { return max(step, step*math.Round(v*by/step)) }
	return fact.Fact{Value: scale(row.wish), Low: scale(row.low), High: scale(row.high), From: fact.Practice}
}

// Wish is the bitrate to begin from for a destination: as usual, and 4000 kb/s for 720 lines at 30 where the
// destination takes no larger picture.
func Wish(d *rig.Destination, width, height int, r picture.Rate) float64 {
	usual := StartKbps(width, height, r)
	if in := d.Ingest; in != nil && in.MaxHeight > 0 && min(in.MaxWidth, in.MaxHeight) == 720 && min(width, height) ==
		720 && r.Float() < 45 {
		return max(usual.Value, step*math.Round(cappedWish*r.Float()/30/step))
	}
	return usual.Value
}

// WishOf is the wish for a destination as it is sent, kb/s.
func WishOf(d *rig.Destination) float64 { return Wish(d, d.Send.Width, d.Send.Height, d.Send.Rate) }

// Fits tells whether a destination takes a size: read either way round, unless it says that it takes lying pictures
// only [practice]. A side nobody has looked up bounds nothing.
func Fits(in *rig.Ingest, width, height int) bool {
	within := func(w, h int) bool {
		return (in.MaxWidth == 0 || w <= in.MaxWidth) && (in.MaxHeight == 0 || h <= in.MaxHeight)
	}
	return within(width, height) || !in.LandscapeOnly && within(height, width)
}

// together are the destinations that share one coding: alike in size, rate and what codes it, with bitrates and
// keyframe intervals that suit all. What a destination passes on goes with it.
type together struct {
	of          []int   // destinations that are sent to, the first of the show first
	passed      []int   // what they pass on
	least, most float64 // of the video bitrate; most is endless while nobody has looked
	said        float64 // the bitrate somebody has chosen; 0 for none
	word        string  // what somebody has chosen to code it
	exact       float64 // the keyframe interval that has to be kept, s; 0 for none
	mostKey     float64 // the largest one that is taken, s
}

// frame is the tolerance of a keyframe interval, s: one frame.
func frame(r picture.Rate) float64 {
	if r.IsZero() {
		return 0
	}
	return 1 / r.Float()
}

// alike tells whether a destination may share a coding, but for its figures.
func alike(a, b *rig.Destination) bool {
	return a.Send.Width == b.Send.Width && a.Send.Height == b.Send.Height && a.Send.Rate == b.Send.Rate &&
		a.Send.Range == b.Send.Range &&
		(a.Transport == "webrtc") == (b.Transport == "webrtc")
}

// ownGroup is a destination by itself, with what it passes on.
func (p *Plan) ownGroup(i int) together {
	ds := p.Show.Destinations
	g := together{of: []int{i}, most: math.Inf(1), mostKey: math.Inf(1), word: ds[i].Send.Encoder}
	if k := ds[i].Send.VideoKbps; k != nil {
		g.said = k.Value
	}
	take := func(in *rig.Ingest) {
		if in == nil {
			return
		}
		if least, known := in.Least(); known {
			g.least = max(g.least, least)
		}
		if in.MaxVideoKbps > 0 {
			g.most = min(g.most, in.MaxVideoKbps)
		}
		switch {
		case in.KeyframeSeconds <= 0:
		case in.KeyframeExact:
			g.exact = in.KeyframeSeconds
		default:
			g.mostKey = min(g.mostKey, in.KeyframeSeconds)
		}
	}
	take(ds[i].Ingest)
	for j := range ds {
		if ds[j].Via == ds[i].Name && ds[j].Via != "" {
			g.passed = append(g.passed, j)
			take(ds[j].Ingest)
		}
	}
	return g
}

// join puts another group into this one, where both can share one coding.
func (g *together) join(o *together, own bool, tolerance float64) bool {
	least, most := max(g.least, o.least), min(g.most, o.most)
	said := max(g.said, o.said)
	exact, mostKey := g.exact, min(g.mostKey, o.mostKey)
	if o.exact != 0 && (exact == 0 || o.exact < exact) {
		exact = o.exact
	}
	if !own {
		switch {
		case g.word != "" && o.word != "" && g.word != o.word,
			g.said != 0 && o.said != 0 && g.said != o.said,
			least > most,
			said != 0 && (g.said == 0 || o.said == 0) && (said < least || said > most),
			g.exact != 0 && o.exact != 0 && math.Abs(g.exact-o.exact) > tolerance,
			exact != 0 && exact > mostKey+tolerance:
			return false
		}
	}
	g.of, g.passed = append(g.of, o.of...), append(g.passed, o.passed...)
	g.least, g.most, g.said, g.exact, g.mostKey = least, most, said, exact, mostKey
	if g.word == "" {
		g.word = o.word
	}
	return true
}

// together groups what is sent by who can share a coding, whatever the order of the destinations.
func (p *Plan) together() []together {
	ds := p.Show.Destinations
	own := !p.CodesHere()
	var all []together
	for i := range ds {
		if ds[i].Via == "" {
			all = append(all, p.ownGroup(i))
		}
	}
	if len(all) > 1 {
		slices.SortStableFunc(all, func(a, b together) int {
			return cmp.Or(cmp.Compare(b.said, a.said), cmp.Compare(a.most, b.most), cmp.Compare(a.least, b.least),
				cmp.Compare(b.exact, a.exact), cmp.Compare(a.mostKey, b.mostKey), strings.Compare(b.word, a.word))
		})
	}
	out := all[:0]
	for i := range all {
		g := all[i]
		d := &ds[g.of[0]]
		joined := false
		for k := 0; k < len(out) && !joined; k++ {
			joined = alike(&ds[out[k].of[0]], d) && out[k].join(&g, own, frame(d.Send.Rate))
		}
		if !joined {
			out = append(out, g)
		}
	}
	for i := range out {
		slices.Sort(out[i].of)
	}
	slices.SortFunc(out, func(a, b together) int { return a.of[0] - b.of[0] })
	return out
}

// keyframes is the keyframe interval of a group, s: 2, or the most that is taken where that is less, or the exact one.
func (g *together) keyframes() float64 {
	if g.exact != 0 {
		return g.exact
	}
	return min(2, g.mostKey)
}

// Open is a coding whose bitrate nobody has chosen.
type Open struct {
	Kbps  float64 // the wish; what Lower leaves of it
	Px    float64 // pixels a second
	Share float64 // what each kb/s of it takes of the line: every destination of it, with packaging
	Least float64 // where the lowering ends, kb/s, where that is above 0.045 bits a pixel
}

// least is where the lowering of a bitrate ends, kb/s.
func (o *Open) least() float64 { return max(LeastOf(o.Kbps, o.Px), min(o.Least, o.Kbps)) }

// LeastOf is where lowering a bitrate in steps ends, kb/s, for so many pixels a second: the last step not under 0.045
// bits a pixel.
func LeastOf(kbps, px float64) float64 {
	floor := LeastBits * px / 1000
	if kbps <= floor {
		return kbps
	}
	return kbps - step*math.Floor((kbps-floor)/step+1e-9)
}

// Lower lowers open bitrates in steps of 50 kb/s until, with what else is sent, they keep within what may be used of
// the line, kb/s; the one with most bits a pixel gives way first, and none goes under 0.045. It reports whether they
// fit.
func Lower(open []Open, others, budget float64) bool {
	ends := make([]float64, len(open))
	need := others
	for i := range open {
		ends[i] = open[i].least()
		need += open[i].Share * open[i].Kbps
	}
	for fact.Over(need, budget) {
		at := -1
		for i := range open {
			if open[i].Kbps-step >= ends[i]-1e-6 && (at < 0 ||
				open[i].Kbps/open[i].Px > open[at].Kbps/open[at].Px*(1+1e-12)) {
				at = i
			}
		}
		if at < 0 {
			return false
		}
		open[at].Kbps -= step
		need -= step * open[at].Share
	}
	return true
}

// SendEdits change what is sent to a destination, and with it what that one passes on.
func SendEdits(sh *rig.Show, i int, send rig.Send) []rig.Edit {
	d := &sh.Destinations[i]
	out := []rig.Edit{{Do: "send", Name: d.Name, Send: &send}}
	for j := range sh.Destinations {
		if o := &sh.Destinations[j]; o.Via == d.Name && (o.Send.Width != send.Width || o.Send.Height != send.Height ||
			o.Send.Rate != send.Rate) {
			on := o.Send
			on.Width, on.Height, on.Rate = send.Width, send.Height, send.Rate
			out = append(out, rig.Edit{Do: "send", Name: o.Name, Send: &on})
		}
	}
	return out
}

// UplinkShare is how much of the line is planned with [practice], in place of the usual ceiling.
const UplinkShare = 0.75

// lineKnown tells whether anybody has measured the line, or said what it carries: a planning estimate says nothing.
func (p *Plan) lineKnown() bool {
	up := p.Uplink
	return up != nil && (len(up.MeasuredMbps) > 0 || up.EstimateMbps != nil && up.EstimateMbps.From != fact.Estimate)
}

// Bitrates proposes the video bitrate of every destination nobody has given one, kb/s: the wish, raised to the highest
// least and lowered to the lowest most of those that share the coding, and lowered further until the line, where it is
// known, is slack. What would share a coding somebody has chosen the bitrate of goes along with it, unless the line
// carries that no more. 0 stands for a destination that has one, or that another passes on.
func (p *Plan) Bitrates() []float64 {
	out, fits := p.BitratesWithin(true)
	if !fits {
		out, _ = p.BitratesWithin(false)
	}
	return out
}

// BitratesWithin is Bitrates, and whether the line carries them; with along, what would share a coding somebody has
// chosen the bitrate of goes along with it.
func (p *Plan) BitratesWithin(along bool) (out []float64, fits bool) {
	ds := p.Show.Destinations
	out = make([]float64, len(ds))
	others := p.uploads(func(i int) bool { return ds[i].Send.VideoKbps != nil })
	var open []Open
	var of [][]int
	for _, g := range p.together() {
		free := slices.DeleteFunc(slices.Clone(g.of), func(i int) bool { return ds[i].Send.VideoKbps != nil })
		if len(free) == 0 {
			continue
		}
		o := Open{Px: float64(ds[g.of[0]].Send.Width) * float64(ds[g.of[0]].Send.Height) *
			ds[g.of[0]].Send.Rate.Float()}
		for _, i := range free {
			o.Share += UploadShare(&ds[i])
			o.Kbps = max(o.Kbps, WishOf(&ds[i]))
		}
		o.Kbps = min(max(o.Kbps, g.least), g.most)
		if g.said != 0 && along {
			o.Kbps = min(max(g.said, g.least), g.most) // a program that codes by itself keeps within them
			others += o.Share * o.Kbps
			for _, i := range free {
				out[i] = o.Kbps
			}
			continue
		}
		for _, i := range free { // a connection by itself may carry less than the line
			o.Kbps = min(o.Kbps, max(LeastOf(o.Kbps, o.Px), p.oneCarries(i)))
		}
		open, of = append(open, o), append(of, free)
	}
	fits = true
	if p.lineKnown() {
		fits = Lower(open, others, UplinkShare*1000*p.UploadFact().Low)
	}
	for k := range open {
		for _, i := range of[k] {
			out[i] = open[k].Kbps
		}
	}
	return out, fits
}

// oneCarries is the video bitrate one connection to a destination carries with room at the loss and round trip somebody
// has measured, kb/s, rounded down to a step; endless where nobody has, or where more was seen to come through.
func (p *Plan) oneCarries(i int) float64 {
	d, up := &p.Show.Destinations[i], p.Uplink
	if up == nil || up.LossPct == nil || up.RTTMs == nil || d.Held == "yes" || !p.OverTCP(d) {
		return limit.Endless
	}
	most := p.Ceiling*1000*Mathis(up.RTTMs.High, up.LossPct.High)/Packaging(d.Transport) - p.AudioFact(i).High
	return step * math.Floor(most/step)
}

// uploads is what is sent at worst but for the open bitrates, kb/s: calls, sound, and the pictures of the destinations
// counted.
func (p *Plan) uploads(counted func(i int) bool) float64 {
	sum := 0.0
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		kbps := p.AudioFact(i).High
		if counted(i) {
			kbps += p.VideoFact(i).High
		}
		sum += UploadShare(d) * kbps
	}
	for i := range p.Show.Calls {
		sum += p.CallUp(i).High
	}
	return sum
}

// BitrateFor is what would be proposed for a destination if this were sent, with everything else as it stands: what the
// ladder, the moves and the board offer for another size or rate. It keeps within what the destination takes.
func (p *Plan) BitrateFor(i int, send rig.Send) float64 {
	r := *p.Rig
	r.Show.Destinations = slices.Clone(r.Show.Destinations)
	send.VideoKbps = nil
	r.Show.Destinations[i].Send = send
	for j := range r.Show.Destinations { // what it passes on goes with it
		if o := &r.Show.Destinations[j]; o.Via != "" && o.Via == r.Show.Destinations[i].Name {
			o.Send.Width, o.Send.Height, o.Send.Rate = send.Width, send.Height, send.Rate
		}
	}
	with := &Plan{Rig: &r, Wiring: p.Wiring, Ceiling: p.Ceiling}
	return with.Bitrates()[i]
}

// passer is the destination whose stream another gets: itself, or the one that passes it on.
func (p *Plan) passer(i int) int {
	via := p.Show.Destinations[i].Via
	if via == "" {
		return i
	}
	for j := range p.Show.Destinations {
		if o := &p.Show.Destinations[j]; o.Name == via && o.Via == "" {
			return j
		}
	}
	return i
}

// CallUp is what a call sends, kb/s.
func (p *Plan) CallUp(i int) limit.Fact {
	return limit.Stated(limit.Part("show/calls/N/upKbps", "", strconv.Itoa(i)), "kb/s", p.Show.Calls[i].UpKbps,
		fact.Est(callKbps, 600, 4000))
}

// peakBits is what a recording of constant quality takes at most, bits a pixel at quality 18 [estimate].
const peakBits = 1.2

// KeptPeak is the largest bitrate a recording of constant quality is likely to reach, kb/s: twice the mean of a test
// recording, or 1.2 bits a pixel at quality 18 where there is none, by its quality; what a level has to hold.
func (p *Plan) KeptPeak(i int) float64 {
	rec := &p.Show.Recordings[i]
	if rec.Kbps != nil {
		return 2 * rec.Kbps.High
	}
	w, h, r := p.KeptPicture(i)
	return float64(w) * float64(h) * r.Float() / 1000 * peakBits * math.Exp2((18-QualityFor(rec, p.Show.Minutes))/6)
}

// Rung is one size and rate, with the bitrates people start from.
type Rung struct {
	Width    int          `json:"width"`
	Height   int          `json:"height"`
	Rate     picture.Rate `json:"rate"`
	Label    string       `json:"label" doc:"Lines and rate, as people say it: 1080p29.97"`
	LowKbps  float64      `json:"lowKbps" doc:"The least that looks right"`
	HighKbps float64      `json:"highKbps" doc:"The wish"`
	// FloorKbps is where blocks begin to show: 0.045 bits a pixel.
	FloorKbps float64 `json:"floorKbps"`
	LeastKbps float64 `json:"leastKbps" doc:"What the wish is lowered to at most: the last step of 50 not under the floor"`
	MpxS      float64 `json:"mpxS" doc:"What has to be coded, millions of pixels a second"`
	// Worth is what the picture is worth in this show, to compare.
	Worth int `json:"-"`
}

// motions are how much a doubling of the rate is worth, against a doubling of the pixels, by what moves [practice: 30
// suffices for talk, 60 for motion; the figures are ours, an estimate].
var motions = map[string]float64{"still": 0.1, "talk": 0.3, "": 0.3, "stage": 0.8, "play": 1.5, "sport": 1.8}

// sizes of the ladder, the largest first.
var sizes = [][2]int{{3840, 2160}, {2560, 1440}, {1920, 1080}, {1280, 720}, {854, 480}}

// Rungs are the sizes and rates a programme can be sent at without making anything larger, the best first for what
// moves in the show: its own rate, and half of it where that is a rate people watch.
func Rungs(pr rig.Programme, motion string) []Rung {
	weight, ok := motions[motion]
	if !ok {
		weight = motions[""]
	}
	rates := []picture.Rate{pr.Rate}
	if half := picture.NewRate(pr.Rate.Num, pr.Rate.Den*2); half.Float() >= 23 {
		rates = append(rates, half)
	}
	var out []Rung
	add := func(w, h int) {
		for _, r := range rates {
			g := Rung{Width: w, Height: h, Rate: r, Label: RungLabel(w, h, r)}
			start := StartKbps(w, h, r)
			g.LowKbps, g.HighKbps = start.Low, start.Value
			px := float64(w) * float64(h) * r.Float()
			g.FloorKbps, g.MpxS, g.LeastKbps = math.Ceil(LeastBits*px/1000), px/1e6, LeastOf(start.Value, px)
			g.Worth = int(math.Round(1000 * (math.Log2(float64(w)*float64(h)) + weight*math.Log2(r.Float()))))
			out = append(out, g)
		}
	}
	own := false
	for _, s := range sizes {
		if pr.Height > pr.Width { // an upright programme
			s[0], s[1] = s[1], s[0]
		}
		if s[0] > pr.Width || s[1] > pr.Height {
			continue
		}
		own = own || s == [2]int{pr.Width, pr.Height}
		add(s[0], s[1])
	}
	if !own {
		add(pr.Width, pr.Height)
	}
	slices.SortStableFunc(out, func(a, b Rung) int {
		return cmp.Or(cmp.Compare(b.Worth, a.Worth), cmp.Compare(b.MpxS, a.MpxS))
	})
	return out
}

// RungLabel is a size and rate as people say it, by its shorter side: 1080p29.97.
func RungLabel(w, h int, r picture.Rate) string {
	return say.Number(float64(min(w, h))) + "p" + r.Name()
}
