package rules

import (
	"math"
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
)

// layers is how many sources are on air at once at most; 0 where nobody has said.
func (p *Plan) layers() int {
	n := p.Show.Layers
	if n > 0 {
		return n
	}
	for i := range p.Show.Layouts {
		n = max(n, len(p.Show.Layouts[i].Sources))
	}
	return n
}

// largest is the largest part of the programme a source fills in the arrangements; all of it where it is in none.
func (p *Pass) largest(source string) picture.Rect {
	var out picture.Rect
	for i := range p.Show.Layouts {
		l := &p.Show.Layouts[i]
		boxes := l.Boxes(p.Show.Programme.Width, p.Show.Programme.Height)
		for k, id := range l.Sources {
			if id == source && boxes[k].W*boxes[k].H > out.W*out.H {
				out = boxes[k]
			}
		}
	}
	if out.W == 0 {
		return picture.Whole
	}
	return out
}

// LayoutName is an arrangement as people say it.
func LayoutName(r *rig.Rig, i int) string {
	l := &r.Show.Layouts[i]
	if l.Name != "" {
		return l.Name
	}
	names := seen(r, l)
	if len(names) < 2 {
		return List(names)
	}
	return lang.Text("%s with %s", names[0], List(names[1:]))
}

// LayoutNames are the sources of an arrangement.
func LayoutNames(r *rig.Rig, i int) string { return List(seen(r, &r.Show.Layouts[i])) }

func seen(r *rig.Rig, l *rig.Layout) []string {
	names := make([]string, len(l.Sources))
	for k, id := range l.Sources {
		if names[k] = id; r.Item(id) != nil {
			names[k] = r.Item(id).Label
		}
	}
	return names
}

// WindowEdge is how far from the edge the insets of an arrangement have to be for every window they are shown in, in percent of the
// programme's width, a tenth more than needed; 0 where they need not move, or could not.
func WindowEdge(r *rig.Rig, i int) float64 {
	l, pr := &r.Show.Layouts[i], &r.Show.Programme
	size, edge := l.Inset()
	most := edge
	for k := range r.Show.Destinations {
		d := &r.Show.Destinations[k]
		shows := shown(d, d.Window)
		most = max(most, (1-shows.W)/2, (1-shows.H)/2*float64(pr.Height)/float64(pr.Width))
	}
	to := math.Ceil(1000*most+0.1) / 10
	tall := float64(len(l.Sources)-1)*(size+to/100*float64(pr.Width)/float64(pr.Height)) + to/100*float64(pr.Width)/float64(pr.Height)
	if most == edge || to > 40 || tall > 1 || to/100+size > 1 {
		return 0
	}
	return to
}

// shown is the part of a sent picture that a window shows.
func shown(d *rig.Destination, window string) picture.Rect {
	shape, cuts := windows[window]
	if !cuts {
		return picture.Whole
	}
	return picture.Fit(d.Send.Width, d.Send.Height, shape[0]*d.Send.Height, shape[1]*d.Send.Height, picture.Crop).Shows
}

// LayoutWords says where each source of an arrangement lies.
func LayoutWords(r *rig.Rig, i int) string {
	l := &r.Show.Layouts[i]
	names := seen(r, l)
	if len(names) == 0 {
		return ""
	}
	switch l.Shape {
	case "inset":
		size, edge := l.Inset()
		return lang.Text("%s large; %s %s, %s % of the width, %s % from the edge", names[0], List(names[1:]), lang.Text(corners[l.At()]), Number(round1(100*size)), Number(round1(100*edge)))
	case "two-up":
		return lang.Text("%s side by side", List(names))
	case "upright":
		return lang.Text("%s upright in the middle", names[0])
	}
	return lang.Text("%s fills the picture", names[0])
}

var corners = map[string]string{"top-left": "at the top left", "top-right": "at the top right", "bottom-left": "at the bottom left", "bottom-right": "at the bottom right"}

var Arranged = rule(Rule{Name: "arranged", Asks: "Can the program compose this arrangement?", Sense: limit.Fits, Over: limit.Dark, Subject: TheSend,
	Board:   Short{"", "cannot be composed here"},
	Source:  practice("What is seen together has to come to the program by itself, each picture a device of its own"),
	Example: "An inset of a camera that comes through the same switcher as the large picture: the switcher has to compose it.",
	Judge:   Judging{OnRig: judgeArranged}})

// judgeArranged judges arrangements of several sources: each has to come by itself, and to a program that takes several.
func judgeArranged(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Layouts {
		l := &p.Show.Layouts[i]
		if len(l.Sources) < 2 {
			continue
		}
		r := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: Send, Shared: true, Where: append(p.whereWired(), l.Sources...), Kinds: &wiringKinds}
		lone, one := p.notAlone(l.Sources), p.takesOne()
		if lone != "" || one {
			r.Outcomes = limit.No
		}
		r.Say = func(w *Words) {
			name := LayoutName(w.Rig, i)
			w.What = w.T("Arrangement %s", name)
			switch {
			case one:
				w.Says = w.T("%s takes one camera and composes nothing: %s wants several at once.", Sentence(programName(w.Show.Program)), name)
			case lone != "":
				w.Says = w.T("%s does not come to the program by itself: %s cannot be composed there.", w.Item(lone).Label, name)
			default:
				w.Says = w.T("%s: each comes by itself. %s.", name, Sentence(LayoutWords(w.Rig, i)))
			}
		}
		p.add(nil, own, strconv.Itoa(i), &r)
	}
}

// notAlone is the first of several sources that does not come to the program in a picture of its own; none for nothing.
func (p *Plan) notAlone(sources []string) string {
	for _, id := range sources {
		alone := false
		for _, s := range p.Streams {
			alone = alone || len(s.brings) == 1 && p.Items[s.brings[0]].ID == id
		}
		if !alone {
			return id
		}
	}
	return ""
}

var Window = rule(Rule{Name: "window", Asks: "Is what lies at the edge of the picture still seen in the window it is shown in?", Sum: "½ − distance from the edge ≤ ½ × what the window shows of the picture", Sense: limit.AtMost, Unit: "%", Ceiling: 1, Over: limit.Flaw, Subject: TheSend,
	Source:  practice("A window of another shape is filled, and cuts off the sides: 4:3 keeps 75 % of the width of 16:9, square 56 %"),
	Example: "An inset 2.5 % from the edge reaches to 47.5 % from the middle; a 4:3 window shows 37.5 %: cut off, kinked.",
	Judge:   Judging{OnRig: judgeWindow}})

// windows are the shapes a picture may be shown in, width to height; as it is sent has none of its own.
var windows = map[string][2]int{"4:3": {4, 3}, "1:1": {1, 1}, "9:16": {9, 16}, "21:9": {21, 9}}

// windowShapes are what a window may turn out to be, as it is sent first: that is what is likely.
var windowShapes = []string{"as-sent", "4:3", "1:1", "9:16", "21:9"}

// edge is the outermost edge of what lies on a picture, against what a window shows of it.
type edge struct {
	reach, half float64 // from the middle, as shares of the side
	wide        bool    // of the width, else of the height
	of          string  // source
}

// edgeIn is the edge of an arrangement that a window leaves the least room, in a destination's picture; no reach where all of it may be cut.
func (p *Pass) edgeIn(lay *rig.Layout, d *rig.Destination, window string) edge {
	out := edge{half: 1}
	if lay.Shape == "full" {
		return out
	}
	pr := &p.Show.Programme
	shows, sent := shown(d, window), picture.Fit(pr.Width, pr.Height, d.Send.Width, d.Send.Height, picture.Box).At
	boxes := lay.Boxes(pr.Width, pr.Height)
	for i := range boxes {
		if lay.Shape == "inset" && i == 0 {
			continue // what lies below the others fills the picture and may lose its sides
		}
		r := boxes[i].Within(sent)
		for _, e := range []edge{{max(0.5-r.X, r.X+r.W-0.5), shows.W / 2, true, lay.Sources[i]}, {max(0.5-r.Y, r.Y+r.H-0.5), shows.H / 2, false, lay.Sources[i]}} {
			if e.reach/e.half > out.reach/out.half {
				out = e
			}
		}
	}
	return out
}

// judgeWindow judges insets, two-ups and uprights against the window of each destination; one nobody has looked at may have any shape.
func judgeWindow(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		for k := range p.Show.Layouts {
			lay := &p.Show.Layouts[k]
			at := p.edgeIn(lay, d, orElse(d.Window, "as-sent"))
			if at.reach == 0 {
				continue
			}
			l := p.roomy(1, 1)
			l.Stage, l.Shared, l.Where, l.Kinds = Send, true, []string{"show", "send"}, &showKinds
			l.Loads = append(l.Loads, limit.Load{Item: at.of, Term: limit.Times(100 * at.reach)})
			half := limit.Known(100*at.half, "%", fact.Given)
			if d.Window == "" {
				shapes := make([]limit.Option, len(windowShapes))
				for n, shape := range windowShapes { // as much as there would have to be shown of this side for the room that shape leaves
					e := p.edgeIn(lay, d, shape)
					shapes[n] = limit.Option{Word: shape, Number: 100 * at.reach * e.half / e.reach}
				}
				half = limit.Choice(part("show/destinations/N/window", "", strconv.Itoa(i)), "%", "not said", &shapes)
			}
			l.Caps = p.cap(limit.Times(1, l.Let(half)))
			l.Say = func(w *Words) { sayWindow(w, d, k, at) }
			p.add(nil, own, strconv.Itoa(i)+":"+strconv.Itoa(k), &l)
		}
	}
}

func sayWindow(w *Words, d *rig.Destination, k int, at edge) {
	name, side, of := LayoutName(w.Rig, k), lang.Text("width"), w.Item(at.of).Label
	if !at.wide {
		side = lang.Text("height")
	}
	w.What, w.Sum = w.T("%s as people see %s", name, d.Name), w.T("half of what the window shows of the %s", side)
	w.Facts[0].Name = w.T("half of what is shown of the %s", side)
	w.Loads[0] = LoadWords{of, w.T("how far its edge is from the middle, in percent of the %s", side)}
	reaches, shown := Number(round1(100*at.reach)), Number(round1(100*at.half))
	switch {
	case d.Window == "":
		w.Says = w.T("Nobody has looked in a window of which shape people see %s: %s reaches to %s % of the %s from the middle, and %s may be shown.", d.Name, of, reaches, side, w.limit())
	case d.Window == "as-sent":
		w.Says = w.T("%s is seen in the shape it is sent in: %s is whole.", d.Name, of)
	default:
		w.Says = w.T("%s: %s reaches to %s % of the %s from the middle, and the window of %s shows %s %.", d.Name, of, reaches, side, d.Window, shown)
	}
	if w.Result.State == limit.Kinked {
		w.Says += lang.Text(" It is cut off there, and whole in the recording.")
	}
}
