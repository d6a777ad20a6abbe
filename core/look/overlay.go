package look

import (
	"math"
	"slices"

	"eventether/core/lang"
	"eventether/core/say"
)

// stays looks for what stays put while the camera is moved: signs, clocks, frame lines. The frames of movement are
// averaged, so that the scene washes out and what lies over it keeps its edges; at such an edge one side hardly changes.
type stays struct {
	w, h, step int // of the grid, and how many pixels of the picture one of its points is apart
	last       []byte
	sum, moved []uint32 // of each point: its codes, and how they changed from one look to the next
	n          int      // looks with movement all over
}

// Of the grid, which is at most so wide; and when there was movement enough to tell, all [estimate].
const (
	gridWide   = 960
	leastMoves = 12  // looks
	movesAll   = 3.0 // codes of change in the middle of the points
	edgeCodes  = 14.0
	edgeOver   = 3.5 // times what is left of the scene's own edges
	stillShare = 0.3 // of the movement beside it
	stillCodes = 1.6 // or so little, which is noise
	blockOf    = 4   // points either way
)

// Add takes a frame that is looked at closely.
func (s *stays) add(f Frame) {
	step := max(1, (f.Width+gridWide-1)/gridWide)
	w, h := f.Width/step, f.Height/step
	if w != s.w || h != s.h {
		*s = stays{w: w, h: h, step: step, sum: make([]uint32, w*h), moved: make([]uint32, w*h)}
	}
	now := make([]byte, w*h)
	for y := range h {
		row := f.Luma[y*step*f.Width:]
		for x := range w {
			now[y*w+x] = row[x*step]
		}
	}
	if s.last != nil {
		total := 0
		for i := 0; i < len(now); i += 7 {
			total += abs(int(now[i]) - int(s.last[i]))
		}
		if float64(total)*7/float64(len(now)) >= movesAll {
			s.n++
			for i, v := range now {
				s.sum[i] += uint32(v)
				s.moved[i] += uint32(abs(int(v) - int(s.last[i])))
			}
		}
	}
	s.last = now
}

// boxes are what stays put within the active part, in pixels of the picture; ok is false where too little moved.
func (s *stays) boxes(active Box) (out []Box, ok bool) {
	if s.n < leastMoves {
		return nil, false
	}
	n := float64(s.n)
	usual := s.usual(n)
	if usual < movesAll {
		return nil, false
	}
	bw, bh := s.w/blockOf, s.h/blockOf
	edge, left := make([]float64, bw*bh), make([]float64, bw*bh)
	const rim = 3 // points [estimate] at the edge of the picture, where a border or the sensor's own edge ends
	x0, y0 := active.X/s.step+rim, active.Y/s.step+rim
	x1, y1 := min(s.w, (active.X+active.W)/s.step)-rim, min(s.h, (active.Y+active.H)/s.step)-rim
	for y := y0; y+1 < y1; y++ {
		for x := x0; x+1 < x1; x++ {
			at := y*s.w + x
			b := min(y/blockOf, bh-1)*bw + min(x/blockOf, bw-1)
			for _, o := range [2]int{at + 1, at + s.w} {
				d := math.Abs(float64(s.sum[at])-float64(s.sum[o])) / n
				left[b] = max(left[b], d)
				if still := float64(min(s.moved[at], s.moved[o])) / n; still <= max(stillCodes, stillShare*usual) {
					edge[b] = max(edge[b], d)
				}
			}
		}
	}
	cut := max(edgeCodes, edgeOver*median(left))
	return s.joined(edge, cut, bw, bh), true
}

// usual is how much the points change in the middle of all of them.
func (s *stays) usual(n float64) float64 {
	some := make([]float64, 0, len(s.moved)/11+1)
	for i := 0; i < len(s.moved); i += 11 {
		some = append(some, float64(s.moved[i])/n)
	}
	return median(some)
}

// joined are the boxes around blocks that lie together, the largest first.
func (s *stays) joined(edge []float64, cut float64, bw, bh int) (out []Box) {
	const reach = 3 // blocks from one letter to the next [estimate]
	seen := make([]bool, len(edge))
	for i := range edge {
		if seen[i] || edge[i] < cut {
			continue
		}
		seen[i] = true
		x0, y0, x1, y1, n := bw, bh, 0, 0, 0
		for next := []int{i}; len(next) > 0; {
			at := next[len(next)-1]
			next = next[:len(next)-1]
			x, y := at%bw, at/bw
			x0, y0, x1, y1, n = min(x0, x), min(y0, y), max(x1, x), max(y1, y), n+1
			for dy := -reach; dy <= reach; dy++ {
				for dx := -reach; dx <= reach; dx++ {
					if xx, yy := x+dx, y+dy; xx >= 0 && yy >= 0 && xx < bw && yy < bh && !seen[yy*bw+xx] && edge[yy*bw+xx] >= cut {
						seen[yy*bw+xx] = true
						next = append(next, yy*bw+xx)
					}
				}
			}
		}
		if n >= 3 {
			k := blockOf * s.step
			out = append(out, Box{x0 * k, y0 * k, (x1 - x0 + 1) * k, (y1 - y0 + 1) * k})
		}
	}
	slices.SortStableFunc(out, func(a, b Box) int { return b.W*b.H - a.W*a.H })
	return out[:min(len(out), 12)]
}

// overlay says what stays put.
func (p *Picture) overlay(s *Seen) Sign {
	f := Sign{What: IsOverlay, Answer: CannotTell,
		Says: lang.Text("Too little moves to tell a sign from the scene: move the camera slowly for ten seconds.")}
	boxes, ok := p.stays.boxes(s.Active)
	if !ok {
		return f
	}
	s.Stays, f.Answer, f.Says = boxes, Clear, lang.Text("Nothing stays put while the picture moves.")
	if len(boxes) > 0 {
		f.Answer, f.Value = Found, float64(len(boxes))
		f.Says = say.Sentence(lang.Text("%s put while the picture moves: %s. A menu, a battery sign, a clock or a frame line?",
			say.Count(len(boxes), "thing stays", "things stay"), p.whereIs(boxes[0])))
	}
	return f
}

// whereIs says where in the picture the middle of a box lies.
func (p *Picture) whereIs(b Box) string {
	if b.W > p.width*2/3 || b.H > p.height*2/3 {
		return lang.Text("all round")
	}
	words := [3][3]string{{lang.Text("upper left"), lang.Text("top"), lang.Text("upper right")},
		{lang.Text("left"), lang.Text("in the middle"), lang.Text("right")},
		{lang.Text("lower left"), lang.Text("bottom"), lang.Text("lower right")}}
	return words[min(2, 3*(b.Y+b.H/2)/max(1, p.height))][min(2, 3*(b.X+b.W/2)/max(1, p.width))]
}

// asleep is a picture that goes, black or standing, and does not come back, once nobody touched it for a while.
func (p *Picture) asleep(black, frozen Sign) Sign {
	f := Sign{What: IsAsleep, Answer: CannotTell, Unit: "min"}
	if len(p.times) == 0 {
		f.Says = lang.Text("No picture.")
		return f
	}
	end := p.times[len(p.times)-1]
	const least = 20 // seconds: what goes before was never awake [estimate]
	for _, s := range []Sign{black, frozen} {
		if s.Answer != Found {
			continue
		}
		if last := s.Spans[len(s.Spans)-1]; last.To >= end-0.2 && last.From >= least && last.To-last.From >= 2 {
			f.Answer, f.Value = Found, last.From/60
			f.Spans = []Stretch{last}
			how := lang.Text("black")
			if s.What == IsFrozen {
				how = lang.Text("still")
			}
			f.Says = lang.Text("It went %s after %s min and stayed so: asleep.", how, say.Number(say.Round2(f.Value)))
			return f
		}
	}
	f.Value = end / 60
	if f.Value < 1 {
		f.Says = lang.Text("Watched for less than a minute: leave it alone for longer than its idle time, or than the show.")
		return f
	}
	f.Answer, f.Says = Clear, lang.Text("Awake for the %s min it was watched.", say.Number(say.Round1(f.Value)))
	return f
}
