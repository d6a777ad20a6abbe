package rules

import (
	"cmp"
	"strconv"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
)

// largest is the largest part of the programme a source fills in the arrangements; all of it where it is in none.
func largest(p *Pass, source string) picture.Rect {
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

var Arranged = rule(Rule{
	Name:    "arranged",
	Asks:    "Can the program compose this arrangement?",
	Sense:   limit.Fits,
	Over:    limit.Dark,
	Subject: TheSend,
	Board:   Short{Bad: "cannot be composed here"},
	Source:  practice("What is seen together has to come to the program by itself, each picture a device of its own"),
	Example: "An inset of a camera that comes through the same switcher as the large picture: the switcher has to compose it.",
	Judge:   Judging{OnRig: judgeArranged},
})

// judgeArranged judges arrangements of several sources: each has to come by itself, and to a program that takes
// several.
func judgeArranged(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Layouts {
		l := &p.Show.Layouts[i]
		if len(l.Sources) < 2 {
			continue
		}
		r := Result{Limit: limit.Limit{Outcomes: limit.Yes}, Stage: plans.Send, Shared: true,
			Where: append(whereWired(p), l.Sources...), Kinds: &wiringKinds}
		lone, one := p.NotAlone(l.Sources), takesOne(p)
		if lone != "" || one {
			r.Outcomes = limit.No
		}
		r.Say = func(w *Words) {
			name := plans.LayoutName(w.Rig, i)
			w.What = w.T("Arrangement %s", name)
			switch {
			case one:
				w.Says = w.T("%s takes one camera and composes nothing: %s wants several at once.",
					say.Sentence(plans.ProgramName(w.Show.Program)), name)
			case lone != "":
				w.Says = w.T("%s does not come to the program by itself: %s cannot be composed there.",
					w.Item(lone).Label, name)
			default:
				w.Says = w.T("%s: each comes by itself. %s.", name, say.Sentence(plans.LayoutWords(w.Rig, i)))
			}
		}
		p.Add(nil, own, strconv.Itoa(i), &r)
	}
}

var Window = rule(Rule{
	Name:    "window",
	Asks:    "Is what lies at the edge of the picture still seen in the window it is shown in?",
	Sum:     "½ − distance from the edge ≤ ½ × what the window shows of the picture",
	Sense:   limit.AtMost,
	Unit:    "%",
	Ceiling: 1,
	Over:    limit.Flaw,
	Subject: TheSend,
	Source:  practice("A window of another shape is filled, and cuts off the sides: 4:3 keeps 75 % of the width of 16:9, square 56 %"),
	Example: "An inset 2.5 % from the edge reaches to 47.5 % from the middle; a 4:3 window shows 37.5 %: cut off, kinked.",
	Judge:   Judging{OnRig: judgeWindow},
})

// windowShapes are what a window may turn out to be, as it is sent first: that is what is likely.
var windowShapes = []string{"as-sent", "4:3", "1:1", "9:16", "21:9"}

// edge is the outermost edge of what lies on a picture, against what a window shows of it.
type edge struct {
	reach, half float64 // from the middle, as shares of the side
	wide        bool    // of the width, else of the height
	of          string  // source
}

// edgeIn is the edge of an arrangement that a window leaves the least room, in a destination's picture; no reach where
// all of it may be cut.
func edgeIn(p *Pass, lay *rig.Layout, d *rig.Destination, window string) edge {
	out := edge{half: 1}
	if lay.Shape == "full" {
		return out
	}
	pr := &p.Show.Programme
	shows, sent := plans.Shown(d, window), picture.Fit(pr.Width, pr.Height, d.Send.Width, d.Send.Height, picture.Box).At
	boxes := lay.Boxes(pr.Width, pr.Height)
	for i := range boxes {
		if lay.Shape == "inset" && i == 0 {
			continue // what lies below the others fills the picture and may lose its sides
		}
		r := boxes[i].Within(sent)
		for _, e := range []edge{{max(0.5-r.X, r.X+r.W-0.5), shows.W / 2, true, lay.Sources[i]},
			{max(0.5-r.Y, r.Y+r.H-0.5), shows.H / 2, false, lay.Sources[i]}} {
			if e.reach/e.half > out.reach/out.half {
				out = e
			}
		}
	}
	return out
}

// judgeWindow judges insets, two-ups and uprights against the window of each destination; one nobody has looked at may
// have any shape.
func judgeWindow(p *Pass, own *Rule, _ *Walk) {
	for i := range p.Show.Destinations {
		d := &p.Show.Destinations[i]
		for k := range p.Show.Layouts {
			lay := &p.Show.Layouts[k]
			at := edgeIn(p, lay, d, cmp.Or(d.Window, "as-sent"))
			if at.reach == 0 {
				continue
			}
			l := p.Roomy(1, 1)
			l.Stage, l.Shared, l.Where, l.Kinds = plans.Send, true, []string{"show", "send"}, &showKinds
			l.Loads = append(l.Loads, limit.Load{Item: at.of, Term: limit.Times(100 * at.reach)})
			half := limit.Known(100*at.half, "%", fact.Given)
			if d.Window == "" {
				shapes := make([]limit.Option, len(windowShapes))
				// as much as there would have to be shown of this side for the room that shape leaves
				for n, shape := range windowShapes {
					e := edgeIn(p, lay, d, shape)
					shapes[n] = limit.Option{Word: shape, Number: 100 * at.reach * e.half / e.reach}
				}
				half = limit.Choice(limit.Part("show/destinations/N/window", "", strconv.Itoa(i)), "%", "not said",
					&shapes)
			}
			l.Caps = p.CapAt(limit.Times(1, l.Let(half)))
			l.Say = func(w *Words) { sayWindow(w, d, k, at) }
			p.Add(nil, own, strconv.Itoa(i)+":"+strconv.Itoa(k), &l)
		}
	}
}

func sayWindow(w *Words, d *rig.Destination, k int, at edge) {
	name, side, of := plans.LayoutName(w.Rig, k), lang.Text("width"), w.Item(at.of).Label
	if !at.wide {
		side = lang.Text("height")
	}
	w.What, w.Sum = w.T("%s as people see %s", name, d.Name), w.T("half of what the window shows of the %s", side)
	w.Facts[0].Name = w.T("half of what is shown of the %s", side)
	w.Loads[0] = labelled(of, w.T("how far its edge is from the middle, in percent of the %s", side))
	reaches, shown := say.Number(say.Round1(100*at.reach)), say.Number(say.Round1(100*at.half))
	switch {
	case d.Window == "":
		w.Says = w.T("Nobody has looked in a window of which shape people see %s: %s reaches to %s % of the %s from the middle, and %s may be shown.",
			d.Name, of, reaches, side, w.LimitText())
	case d.Window == "as-sent":
		w.Says = w.T("%s is seen in the shape it is sent in: %s is whole.", d.Name, of)
	default:
		w.Says = w.T("%s: %s reaches to %s % of the %s from the middle, and the window of %s shows %s %.", d.Name,
			of, reaches, side, d.Window, shown)
	}
	if w.Result.State == limit.Kinked {
		w.Says += lang.Text(" It is cut off there, and whole in the recording.")
	}
}
