// Package rigtext answers: what does somebody say of a rig, in lines as one would tell it to a colleague? It reads and
// writes the text form of a rig, docs/formats/rig-text.md.
package rigtext

import (
	"fmt"
	"slices"
	"strings"

	"eventether/core/bench"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
)

// Head is the first line of a whole rig as text: nothing is proposed for what such a text does not say.
const Head = "# eventether rig text 1"

// Reading is what a text says.
type Reading struct {
	Rig      *rig.Rig
	Done     *bench.Done
	Problems []Mark
}

// Blank is the rig a text begins with: the show a start has, and nothing in it.
func Blank() *rig.Rig {
	rate := picture.NewRate(30000, 1001)
	est := fact.Est(10, 2, 50)
	return &rig.Rig{Format: rig.Format, Name: "New rig", Items: []rig.Item{}, Leads: []rig.Lead{},
		Uplink: &rig.Uplink{EstimateMbps: &est},
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: rate}, Motion: "talk", Minutes: 60,
			SetupMinutes: 60, RehearsalMinutes: 15,
			AnglesSelectable: true, Program: rig.Program{Kind: "encoder"},
			Destinations: []rig.Destination{{Name: "Stream", Transport: "rtmp",
				Send: rig.Send{Width: 1920, Height: 1080, Rate: rate}}}}}
}

// Read reads a whole rig.
func Read(text string, shelf []bench.Stocked) *Reading {
	r := newReader(Blank(), shelf)
	r.whole = strings.Contains(text, Head)
	r.read(text)
	return r.reading()
}

// Say reads lines said of a rig that is there; what comes of them is a list of edits.
func Say(on *rig.Rig, text string, shelf []bench.Stocked) *Reading {
	r := newReader(on, shelf)
	r.said = true
	r.read(text)
	return r.reading()
}

type reader struct {
	*bench.Hand
	shelf    []bench.Stocked
	sheets   map[string]map[string]any // written in the text itself
	problems []Mark
	now      *statement
	item     string // what the facts below belong to
	lead     string
	voice    int
	top      []statement
	whole    bool // nothing is proposed
	said     bool // of a rig that is there
	fresh    []string
}

func newReader(on *rig.Rig, shelf []bench.Stocked) *reader {
	return &reader{Hand: bench.New(on, shelf), shelf: shelf, sheets: map[string]map[string]any{}, voice: -1}
}

func (r *reader) bad(s span, wants []string, format string, args ...string) {
	if wants == nil {
		wants = []string{}
	}
	r.problems = append(r.problems, Mark{r.now.line, runes(r.now.text, s.from), runes(r.now.text, s.to),
		lang.Text(format, args...), wants})
}

func (r *reader) reading() *Reading {
	slices.SortStableFunc(r.problems, func(a, b Mark) int { return a.Line - b.Line })
	return &Reading{r.Rig(), r.Done(), r.problems}
}

func (r *reader) read(text string) {
	lines, problems := parse(text)
	r.problems = append(r.problems, problems...)
	r.ownSheets(lines)
	r.computerFirst(lines)
	inSheet := false
	for i := range lines {
		s := &lines[i]
		r.now = s
		switch {
		case s.sheet != "":
			inSheet = true
		case s.key != nil && s.below:
			if !inSheet {
				r.facts(lines[i:])
				inSheet = true // the others of them are read
			}
		case s.key != nil:
			inSheet = false
			r.top = append(r.top, *s)
		default:
			inSheet = false
			r.item, r.lead, r.voice = "", "", -1
			if s.voice {
				r.voiceLine(s)
			} else {
				r.chain(s)
			}
		}
	}
	if len(r.problems) == 0 {
		r.rest()
	}
	r.topFacts()
	if len(r.problems) > 0 {
		return
	}
	if problems := rig.Check(r.Rig()); len(problems) > 0 {
		r.problems = append(r.problems, Mark{1, 0, 0, bench.InWords(r.Rig(), problems[0]), []string{}})
	}
}

// computerFirst puts the computer in that takes the pictures, wherever in the text it is named: its sockets are called
// by their names alone. Where none is named, a laptop is proposed.
func (r *reader) computerFirst(lines []statement) {
	if r.whole || slices.ContainsFunc(r.Rig().Items, func(it rig.Item) bool { return it.IsHost() }) {
		return
	}
	chains := false
	for i := range lines {
		for j := range lines[i].chain {
			e := &lines[i].chain[j]
			chains = true
			name := e.sheet
			if !e.bracket {
				name = e.label
			}
			tree, _ := r.sheet(name)
			var g gear.Gear
			if tree == nil || into(tree, &g) != nil || g.Kind != gear.Computer || !slices.ContainsFunc(g.Ports,
				func(p gear.Port) bool { return p.Direction == gear.Downstream }) {
				continue
			}
			r.now = &lines[i]
			r.find(e)
			return
		}
	}
	if !chains {
		return
	}
	g := &gear.Computers[0]
	it := rig.Item{ID: "laptop", Label: g.Label, Gear: g.Gear}
	if r.Put(it) == nil {
		r.Done().Notes = append(r.Done().Notes, lang.Text("no computer was named: a laptop is proposed"))
	}
}

// ownSheets reads the sheets a text brings with it.
func (r *reader) ownSheets(lines []statement) {
	var tree map[string]any
	for i := range lines {
		s := &lines[i]
		r.now = s
		switch {
		case s.sheet != "":
			tree = map[string]any{"kind": s.kind, "name": s.sheet}
			r.sheets[strings.ToLower(s.sheet)] = tree
		case s.key != nil && s.below && tree != nil:
			if err := put(tree, s.key.path, s.key.value); err != nil {
				r.bad(s.at, nil, "%s", err.Error())
			}
		default:
			if tree != nil {
				r.checkSheet(s, tree)
			}
			tree = nil
		}
	}
	if tree != nil {
		r.checkSheet(r.now, tree)
	}
}

func (r *reader) checkSheet(s *statement, tree map[string]any) {
	if err := into(tree, &gear.Gear{}); err != nil {
		r.bad(s.at, nil, "the sheet %s: %s", fmt.Sprint(tree["name"]), plainError(err))
	}
}

// plainError is an error of reading JSON without the words of the reader.
func plainError(err error) string {
	text := strings.TrimPrefix(err.Error(), "json: ")
	if name, ok := strings.CutPrefix(text, "unknown field "); ok {
		return lang.Text("%s is no field there", strings.Trim(name, `"`))
	}
	return text
}

// rest proposes what was not said: a computer where there is none, and the way of every new thing that has none.
func (r *reader) rest() {
	if r.whole || len(r.fresh) == 0 {
		return
	}
	for _, id := range slices.Clone(r.fresh) {
		it := r.Rig().Item(id)
		if it == nil || it.IsHost() || r.leadsOn(it) {
			continue
		}
		switch it.Gear.Kind {
		case gear.Monitor, gear.Recorder, gear.Strip, gear.UPS, gear.Supply, gear.PowerBank:
			continue
		}
		_ = r.Way(id) // what has no way is noted
	}
	if r.Done().What = lang.Text("Typed lines"); len(r.fresh) == 1 {
		r.Done().What = lang.Text("Put in %s", r.Rig().Item(r.fresh[0]).Label)
	}
}

// leadsOn tells whether the picture or the plug of a thing goes somewhere already: of what hands pictures to a
// computer, its plug.
func (r *reader) leadsOn(it *rig.Item) bool {
	var all, plugs []string
	for i := range it.Gear.Ports {
		p := &it.Gear.Ports[i]
		if ref := it.ID + "." + p.ID; p.Direction == gear.Upstream && !it.IsSource() {
			plugs = append(plugs, ref)
		} else if p.Direction.Sends() {
			all = append(all, ref)
		}
	}
	if len(plugs) > 0 {
		all = plugs
	}
	return len(all) == 0 || slices.ContainsFunc(all, func(ref string) bool { return r.Rig().LeadIn(ref) != nil })
}
