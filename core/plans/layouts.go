package plans

import (
	"math"
	"strconv"

	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
)

// Layers is how many sources are on air at once at most; 0 where nobody has said.
func (p *Plan) Layers() int {
	n := p.Show.Layers
	if n > 0 {
		return n
	}
	for i := range p.Show.Layouts {
		n = max(n, len(p.Show.Layouts[i].Sources))
	}
	return n
}

// LayoutName is an arrangement as people say it.
func LayoutName(r *rig.Rig, i int) string {
	l := &r.Show.Layouts[i]
	if l.Name != "" {
		return l.Name
	}
	names := seen(r, l)
	if len(names) < 2 {
		return say.List(names)
	}
	return lang.Text("%s with %s", names[0], say.List(names[1:]))
}

// LayoutNames are the sources of an arrangement.
func LayoutNames(r *rig.Rig, i int) string { return say.List(seen(r, &r.Show.Layouts[i])) }

func seen(r *rig.Rig, l *rig.Layout) []string {
	names := make([]string, len(l.Sources))
	for k, id := range l.Sources {
		if names[k] = id; r.Item(id) != nil {
			names[k] = r.Item(id).Label
		}
	}
	return names
}

// WindowEdge is how far from the edge the insets of an arrangement have to be for every window they are shown in, in
// percent of the programme's width, a tenth more than needed; 0 where they need not move, or could not.
func WindowEdge(r *rig.Rig, i int) float64 {
	l, pr := &r.Show.Layouts[i], &r.Show.Programme
	size, edge := l.Inset()
	most := edge
	for k := range r.Show.Destinations {
		d := &r.Show.Destinations[k]
		shows := Shown(d, d.Window)
		most = max(most, (1-shows.W)/2, (1-shows.H)/2*float64(pr.Height)/float64(pr.Width))
	}
	to := math.Ceil(1000*most+0.1) / 10
	tall := float64(len(l.Sources)-1)*(size+to/100*float64(pr.Width)/float64(pr.Height)) + to/100*float64(pr.Width)/
		float64(pr.Height)
	if most == edge || to > 40 || tall > 1 || to/100+size > 1 {
		return 0
	}
	return to
}

// Shown is the part of a sent picture that a window shows.
func Shown(d *rig.Destination, window string) picture.Rect {
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
		return lang.Text("%s large; %s %s, %s % of the width, %s % from the edge", names[0], say.List(names[1:]),
			lang.Text(corners[l.At()]), say.Number(say.Round1(100*size)), say.Number(say.Round1(100*edge)))
	case "two-up":
		return lang.Text("%s side by side", say.List(names))
	case "upright":
		return lang.Text("%s upright in the middle", names[0])
	}
	return lang.Text("%s fills the picture", names[0])
}

var corners = map[string]string{"top-left": "at the top left", "top-right": "at the top right",
	"bottom-left": "at the bottom left", "bottom-right": "at the bottom right"}

// NotAlone is the first of several sources that does not come to the program in a picture of its own; none for nothing.
func (p *Plan) NotAlone(sources []string) string {
	for _, id := range sources {
		alone := false
		for _, s := range p.Streams {
			alone = alone || len(s.Brings) == 1 && p.Items[s.Brings[0]].ID == id
		}
		if !alone {
			return id
		}
	}
	return ""
}

// windows are the shapes a picture may be shown in, width to height; as it is sent has none of its own.
var windows = map[string][2]int{"4:3": {4, 3}, "1:1": {1, 1}, "9:16": {9, 16}, "21:9": {21, 9}}

// Light is how a camera stands against lamps on the mains.
type Light struct {
	MainsHz int
	Rate    picture.Rate
	BeatHz  float64 // how often a second the brightness beats with a wrong exposure; 0 stands as bands
	Shutter string  // the exposure to set; none when every one flickers
}

// LightOf is how a rate stands against mains.
func LightOf(rate picture.Rate, mains int64) Light {
	l := Light{MainsHz: int(mains), Rate: rate, BeatHz: picture.Beat(rate, mains)}
	if e, ok := picture.Shutter(rate, mains); ok {
		l.Shutter = e.String()
	}
	return l
}

// Words say what to set, and what comes of another exposure.
func (l Light) Words() string {
	if l.Shutter == "" {
		return lang.Text("no exposure within a frame at %s is free of flicker in %s Hz light.", l.Rate.Name(),
			strconv.Itoa(l.MainsHz))
	}
	what := lang.Text("with another one the brightness beats %s times a second.",
		say.Number(say.Round1(l.BeatHz*10)/10))
	switch {
	case l.BeatHz == 0:
		what = lang.Text("with another one bands stand in the picture.")
	case l.BeatHz < 0.5:
		what = lang.Text("with another one bands crawl through the picture.")
	}
	return lang.Text("set the shutter to %s s; %s", l.Shutter, what)
}
