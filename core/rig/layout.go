package rig

import (
	"fmt"
	"slices"

	"eventether/core/picture"
)

// Layout is one arrangement of the programme: which sources are seen together, and where.
type Layout struct {
	Name    string   `json:"name,omitempty" maxLength:"120"`
	Shape   string   `json:"shape" enum:"full,inset,two-up,upright" doc:"full: one fills the picture; inset: the others lie small over the first; two-up: two side by side; upright: one stands upright in the middle"`
	Sources []string `json:"sources" minItems:"1" maxItems:"5" doc:"Item ids of sources, the large one first"`
	Corner  string   `json:"corner,omitempty" enum:"top-left,top-right,bottom-left,bottom-right" doc:"Of insets; bottom-right when not said"`
	SizePct float64  `json:"sizePct,omitempty" minimum:"5" maximum:"60" doc:"Width of an inset, percent of the programme's; 25 when not said"`
	EdgePct float64  `json:"edgePct,omitempty" minimum:"0.1" maximum:"40" doc:"From an inset to the edge of the picture, percent of its width; 2.5 when not said"`
}

// How an inset lies while nobody has said [practice: a quarter of the width, a little off the edge].
const (
	insetPct = 25
	edgePct  = 2.5
)

// Inset is the width of an inset and its distance from the edge, as shares of the programme's width.
func (l *Layout) Inset() (size, edge float64) {
	size, edge = l.SizePct, l.EdgePct
	if size == 0 {
		size = insetPct
	}
	if edge == 0 {
		edge = edgePct
	}
	return size / 100, edge / 100
}

// At is the corner of its insets.
func (l *Layout) At() string {
	if l.Corner == "" {
		return "bottom-right"
	}
	return l.Corner
}

// Boxes are the places of its sources on a programme of w × h pixels, in their order: what a picture fills at most.
// Several insets stand above each other, or below each other from an upper corner.
func (l *Layout) Boxes(w, h int) []picture.Rect {
	out := make([]picture.Rect, len(l.Sources))
	size, edge := l.Inset()
	down := edge * float64(w) / float64(h) // as far from the lower edge as from the side
	for i := range out {
		switch {
		case l.Shape == "two-up":
			out[i] = picture.Rect{X: float64(i) / 2, W: 0.5, H: 1}
		case l.Shape == "upright":
			wide := min(1, float64(h)*9/16/float64(w))
			out[i] = picture.Rect{X: (1 - wide) / 2, W: wide, H: 1}
		case i == 0 || l.Shape != "inset":
			out[i] = picture.Whole
		default:
			k := float64(i - 1)
			r := picture.Rect{X: edge, Y: down + k*(size+down), W: size,
				H: size} // of the programme's shape: the same share both ways
			if at := l.At(); at == "top-right" || at == "bottom-right" {
				r.X = 1 - edge - size
			}
			if at := l.At(); at == "bottom-left" || at == "bottom-right" {
				r.Y = 1 - r.Y - size
			}
			out[i] = r
		}
	}
	return out
}

// layouts checks that arrangements are of sources that are there, as many as their shape has, and that their insets lie
// on the picture.
func (c *checker) layouts() {
	pr := c.r.Show.Programme
	for i := range c.r.Show.Layouts {
		l := &c.r.Show.Layouts[i]
		at := fmt.Sprintf("show.layouts[%d]", i)
		for k, id := range l.Sources {
			switch j, ok := c.items[id]; {
			case !ok:
				c.add(at+".sources", "%q is not an item of this rig", id)
			case !c.r.Items[j].IsSource():
				c.add(at+".sources", "%q sends no picture of its own: want a source", id)
			case slices.Contains(l.Sources[:k], id):
				c.add(at+".sources", "%q stands twice", id)
			}
		}
		n := len(l.Sources)
		switch {
		case (l.Shape == "full" || l.Shape == "upright") && n != 1:
			c.add(at+".sources", "%d sources: want one, which fills it", n)
		case l.Shape == "two-up" && n != 2:
			c.add(at+".sources", "%d sources: want two, side by side", n)
		case l.Shape == "inset" && n < 2:
			c.add(at+".sources", "%d source: want the large one, and one or more over it", n)
		}
		for _, r := range l.Boxes(max(1, pr.Width), max(1, pr.Height)) {
			if r.X < -1e-9 || r.Y < -1e-9 || r.X+r.W > 1+1e-9 || r.Y+r.H > 1+1e-9 {
				c.add(at+".sizePct", "%d insets of %g %% do not fit above each other: want fewer, or smaller ones",
					n-1, 100*r.W)
				break
			}
		}
	}
}

// without takes an item out of the arrangements, and those out that are none any more.
func without(layouts []Layout, item string) []Layout {
	if !slices.ContainsFunc(layouts, func(l Layout) bool { return slices.Contains(l.Sources, item) }) {
		return layouts
	}
	var out []Layout
	for _, l := range layouts {
		if slices.Contains(l.Sources, item) {
			l.Sources = slices.DeleteFunc(slices.Clone(l.Sources), func(id string) bool { return id == item })
			if len(l.Sources) == 0 {
				continue
			}
			if len(l.Sources) == 1 && l.Shape != "upright" {
				l.Shape, l.Corner, l.SizePct, l.EdgePct = "full", "", 0, 0
			}
		}
		out = append(out, l)
	}
	return out
}
