// Package rigtext answers: what does somebody say of a rig, in lines as one would tell it to a colleague? It reads and writes the
// text form of a rig, docs/formats/rig-text.md.
package rigtext

import (
	"encoding/json"
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
	return &rig.Rig{Format: rig.Format, Name: "New rig", Items: []rig.Item{}, Leads: []rig.Lead{}, Uplink: &rig.Uplink{EstimateMbps: &est},
		Show: rig.Show{Programme: rig.Programme{Width: 1920, Height: 1080, Rate: rate}, Motion: "talk", Minutes: 60, SetupMinutes: 60, RehearsalMinutes: 15,
			AnglesSelectable: true, Program: rig.Program{Kind: "encoder"},
			Destinations: []rig.Destination{{Name: "Stream", Transport: "rtmp", Send: rig.Send{Width: 1920, Height: 1080, Rate: rate}}}}}
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
	wanted   map[string]string // item -> label of what its power comes from
}

func newReader(on *rig.Rig, shelf []bench.Stocked) *reader {
	return &reader{Hand: bench.New(on, shelf), shelf: shelf, sheets: map[string]map[string]any{}, voice: -1}
}

func (r *reader) bad(s span, wants []string, format string, args ...string) {
	if wants == nil {
		wants = []string{}
	}
	r.problems = append(r.problems, Mark{r.now.line, runes(r.now.text, s.from), runes(r.now.text, s.to), lang.Text(format, args...), wants})
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

// computerFirst puts the computer in that takes the pictures, wherever in the text it is named: its sockets are called by their names
// alone. Where none is named, a laptop is proposed.
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
			if tree == nil || into(tree, &g) != nil || g.Kind != gear.Computer || !slices.ContainsFunc(g.Ports, func(p gear.Port) bool { return p.Direction == gear.Downstream }) {
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

// sheet finds a sheet by its name: of the text itself, of the shelf, a general kind.
func (r *reader) sheet(name string) (tree map[string]any, e *bench.Stocked) {
	if tree := r.sheets[strings.ToLower(name)]; tree != nil {
		return tree, nil
	}
	for i := range r.shelf {
		if strings.EqualFold(r.shelf[i].Gear.Name, name) {
			return treeOf(r.shelf[i].Gear), &r.shelf[i]
		}
	}
	if g := general(name); g != nil {
		return treeOf(*g), nil
	}
	return nil, nil
}

// general is a general kind by its name.
func general(name string) *gear.Gear {
	for _, e := range gear.Starter() {
		if strings.EqualFold(e.Gear.Name, name) {
			return &e.Gear
		}
	}
	for _, list := range [][]gear.Generic{gear.Sources, gear.Computers, {gear.Stick, gear.SDIBox, gear.PoweredHub, gear.SpareHub}} {
		for i := range list {
			if strings.EqualFold(list[i].Gear.Name, name) {
				return &list[i].Gear
			}
		}
	}
	return nil
}

// thing finds what an element names: an item, and a socket where one is said. known is false where it names nothing.
func (r *reader) thing(e *element) (it *rig.Item, socket span, known bool) {
	rg := r.Rig()
	if id, ok := strings.CutPrefix(e.label, "#"); ok && !e.quoted {
		id, rest, _ := strings.Cut(id, " ")
		if it := rg.Item(id); it != nil {
			return it, pickSpan(e, e.rest, rest), true
		}
	}
	best := -1
	for i := range rg.Items {
		l := rg.Items[i].Label
		switch {
		case strings.EqualFold(l, e.label):
			return &rg.Items[i], e.rest, true
		case e.quoted || e.bracket:
		case len(e.label) > len(l) && strings.EqualFold(e.label[:len(l)], l) && e.label[len(l)] == ' ':
			if best < 0 || len(l) > len(rg.Items[best].Label) {
				best = i
			}
		}
	}
	if best >= 0 {
		n := len(rg.Items[best].Label)
		return &rg.Items[best], trimmed(e.label[n:], e.from+n), true
	}
	if e.quoted || e.bracket {
		return nil, span{}, false
	}
	for i := range rg.Items { // a socket of the computer that takes the pictures
		if it := &rg.Items[i]; it.IsHost() && portOf(it, e.label) >= 0 {
			return it, e.span, true
		}
	}
	return nil, span{}, false
}

func pickSpan(e *element, rest span, text string) span {
	if rest.text != "" {
		return rest
	}
	at := e.to - len(text)
	return trimmed(text, at)
}

// portOf finds a socket of an item by its name, its id, or what it is where there is only one of that; -1 for none.
func portOf(it *rig.Item, name string) int {
	for i := range it.Gear.Ports {
		if p := &it.Gear.Ports[i]; strings.EqualFold(rig.PortName(p), name) || strings.EqualFold(p.ID, name) {
			return i
		}
	}
	at := -1
	for i := range it.Gear.Ports {
		if strings.EqualFold(bench.FamilyName(it.Gear.Ports[i].Connector.Family()), name) {
			if at >= 0 {
				return -1
			}
			at = i
		}
	}
	return at
}

// newThing puts a new item in, of the sheet an element names.
func (r *reader) newThing(e *element, label, sheet string) *rig.Item {
	tree, entry := r.sheet(sheet)
	if tree == nil {
		at := e.span
		if e.bracket {
			open := strings.Index(e.text, "[")
			at = span{sheet, e.from + open, e.from + strings.Index(e.text, "]") + 1}
		}
		r.bad(at, r.nearest(sheet), "no thing on the shelf is called “%s”", sheet)
		return nil
	}
	var g gear.Gear
	if err := into(tree, &g); err != nil {
		r.bad(e.span, nil, "%s", plainError(err))
		return nil
	}
	it := rig.Item{Gear: g}
	if entry != nil && !r.whole {
		it = r.ItemOf(entry)
	}
	if label != "" {
		it.Label = label
	} else if it.Label == "" {
		it.Label = sheet
	}
	it.ID = rig.FreshID(gear.Slug(it.Label), func(id string) bool { return r.Rig().Item(id) != nil })
	if g.Kind == gear.Computer && slices.ContainsFunc(r.Rig().Items, func(o rig.Item) bool { return o.IsHost() }) && !r.whole {
		it.Role = "source"
	}
	if err := r.Put(it); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
		return nil
	}
	r.fresh = append(r.fresh, it.ID)
	return r.Rig().Item(it.ID)
}

// nearest are names of sheets that share a word with what was typed, at most five.
func (r *reader) nearest(name string) []string {
	var out []string
	for _, word := range strings.Fields(strings.ToLower(name)) {
		for i := range r.shelf {
			if n := r.shelf[i].Gear.Name; len(word) > 2 && strings.Contains(strings.ToLower(n), word) && !slices.Contains(out, n) && len(out) < 5 {
				out = append(out, n)
			}
		}
	}
	return out
}

// find is the item an element names, put in where it is new.
func (r *reader) find(e *element) (it *rig.Item, socket span) {
	if r.whole && e.bracket { // a whole rig names every thing once with its kind, whatever it is called
		return r.newThing(e, e.label, e.sheet), e.rest
	}
	it, socket, known := r.thing(e)
	switch {
	case known && e.bracket && !strings.EqualFold(it.Gear.Name, e.sheet):
		r.bad(e.span, nil, "%s is a %s already: two things of one name cannot be told apart", it.Label, it.Gear.Name)
		return nil, span{}
	case known:
		return it, socket
	case e.bracket:
		return r.newThing(e, e.label, e.sheet), e.rest
	}
	if tree, _ := r.sheet(e.label); tree != nil { // a thing called as its kind is
		return r.newThing(e, "", e.label), span{}
	}
	if n := r.kindBefore(e.label); n > 0 && !e.quoted {
		return r.newThing(e, "", e.label[:n]), trimmed(e.label[n:], e.from+n)
	}
	return nil, span{}
}

// kindBefore is how much of what was typed is the name of a kind, with one of its sockets behind it; 0 for none.
func (r *reader) kindBefore(label string) (n int) {
	for i := range r.shelf {
		g := &r.shelf[i].Gear
		if k := len(g.Name); k > n && len(label) > k+1 && strings.EqualFold(label[:k], g.Name) && label[k] == ' ' && portOf(&rig.Item{Gear: *g}, strings.TrimSpace(label[k:])) >= 0 {
			n = k
		}
	}
	return n
}

// chain does what a line that joins things says.
func (r *reader) chain(s *statement) {
	if r.isVoice(s) {
		r.voiceLine(s)
		return
	}
	var at *rig.Item
	var sock span
	var lead *element
	var is said
	for i := range s.chain {
		e := &s.chain[i]
		if e.by == power {
			if at == nil || lead != nil {
				r.bad(e.span, nil, "power comes into a thing: name it before the <")
				return
			}
			r.power(at.ID, e)
			r.item = at.ID
			continue
		}
		if !e.quoted && !e.bracket {
			_, _, known := r.thing(e)
			if kind, _ := r.sheet(e.label); kind != nil {
				known = true
			}
			if !known {
				if l, ok, unknown := leadIn(e.text); ok || unknown != "" {
					switch {
					case !ok:
						r.bad(e.span, r.gradesFor(at), "“%s” says no grade of a lead", unknown)
						return
					case at == nil:
						r.bad(e.span, nil, "a line begins with a thing, not with a lead")
						return
					case lead != nil:
						r.bad(e.span, nil, "two leads one after the other: what do they meet at?")
						return
					}
					lead, is = e, l
					continue
				}
			}
		}
		it, socket := r.find(e)
		if it == nil {
			if len(r.problems) == 0 || r.problems[len(r.problems)-1].Line != s.line {
				r.bad(e.span, r.nearest(e.label), "“%s” is no thing of this rig, no socket of its computer and no lead: a new thing has its kind behind it, in brackets", e.text)
			}
			return
		}
		if at != nil && lead == nil && soundOnly(&at.Gear) && hears(&it.Gear) {
			r.listen(at, it, e)
			r.item = at.ID
			at, sock = r.Rig().Item(it.ID), span{}
			continue
		}
		if at != nil {
			if id := r.join(at.ID, sock, it.ID, socket, is, e, i+1 < len(s.chain)); id != "" {
				r.lead, r.item = id, ""
			} else {
				return
			}
			sock = span{}
		} else {
			r.item, sock = it.ID, socket
			if socket.text != "" && portOf(it, socket.text) < 0 {
				r.bad(socket, portNames(it, nil), "%s has no socket “%s”", it.Label, socket.text)
				return
			}
		}
		at, lead, is = r.Rig().Item(it.ID), nil, said{}
	}
	if lead != nil {
		r.bad(lead.span, nil, "the lead leads nowhere: what is at its other end?")
	}
}

// gradesFor are the grades of lead a thing's free sockets take.
func (r *reader) gradesFor(it *rig.Item) []string {
	var out []string
	for i := range grades {
		if g := &grades[i]; (it == nil || sendsBy(r.Rig(), it, g.family)) && (i == 0 || g.word != grades[i-1].word) {
			out = append(out, g.name)
		}
	}
	return out
}

// soundOnly tells whether a thing picks up sound and has no socket a lead goes into; hears, whether sound goes into one.
func soundOnly(g *gear.Gear) bool { return picksUp(g) && len(g.Ports) == 0 }

func hears(g *gear.Gear) bool {
	return g.Kind == gear.AudioInterface || g.Kind == gear.Mixer || g.Sound != nil && g.Sound.Takes != ""
}

// listen puts the sound of one thing through another: the voice is called as what picks it up.
func (r *reader) listen(mic, into *rig.Item, e *element) {
	sound := rig.Sound{Paths: []rig.SoundPath{}}
	if had := r.Rig().Sound; had != nil {
		sound = *had
	}
	sound.Paths = append(slices.Clone(sound.Paths), rig.SoundPath{Voice: mic.Label, From: mic.ID, Via: []string{into.ID}})
	if err := r.Edit(rig.Edit{Do: "sound", Sound: &sound}); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
	}
}

// portNames are the sockets of an item as they are called, those that are wanted.
func portNames(it *rig.Item, want func(*gear.Port) bool) (out []string) {
	for i := range it.Gear.Ports {
		if p := &it.Gear.Ports[i]; want == nil || want(p) {
			out = append(out, rig.PortName(p))
		}
	}
	return out
}

// join lays a lead between two things; the id of the lead, or "" where none goes.
func (r *reader) join(a string, asock span, b string, bsock span, is said, e *element, on bool) string {
	rg := r.Rig()
	from, to := rg.Item(a), rg.Item(b)
	sockets := func(it *rig.Item, s span) ([]string, bool) {
		if s.text == "" {
			var out []string
			for i := range it.Gear.Ports {
				out = append(out, it.ID+"."+it.Gear.Ports[i].ID)
			}
			return out, true
		}
		at := portOf(it, s.text)
		if at < 0 {
			r.bad(s, portNames(it, nil), "%s has no socket “%s”", it.Label, s.text)
			return nil, false
		}
		return []string{it.ID + "." + it.Gear.Ports[at].ID}, true
	}
	as, ok := sockets(from, asock)
	if !ok {
		return ""
	}
	bs, ok := sockets(to, bsock)
	if !ok {
		return ""
	}
	why := ""
	var best *[2]string
	for _, x := range as {
		for _, y := range bs {
			_, xp := rg.Port(x)
			if is.grade != nil && xp.Connector.Family() != is.grade.family && (asock.text == "" || bsock.text == "") {
				continue
			}
			if !xp.Direction.Sends() && (asock.text == "" || bsock.text == "") {
				continue
			}
			if no := bench.WhyNot(rg, x, y); no != "" && !r.whole { // a whole rig is as it is, however it is wired
				_, yp := rg.Port(y)
				if why == "" && xp.Connector.Family() == yp.Connector.Family() && xp.Direction.Sends() && yp.Direction.Takes() || len(as)+len(bs) == 2 {
					why = no
				}
				continue
			}
			if best == nil || better(rg, [2]string{x, y}, *best, to.IsHost() && bsock.text == "") {
				best = &[2]string{x, y}
			}
		}
	}
	if best == nil && to.IsHost() && bsock.text == "" && is == (said{}) && slices.Contains(r.fresh, a) {
		n := len(r.Rig().Leads)
		if err := r.Way(a); err == nil && len(r.Rig().Leads) > n { // how it gets there was not said
			return r.Rig().Leads[n].ID
		}
	}
	if best == nil {
		if why == "" {
			why = lang.Text("no free socket of %s goes into one of %s", from.Label, to.Label)
			if is.grade != nil {
				why = lang.Text("no free socket of %s goes into one of %s by a lead of %s", from.Label, to.Label, bench.FamilyName(is.grade.family))
			}
		}
		r.bad(e.span, nil, "%s", why)
		return ""
	}
	x, y := best[0], best[1]
	_, xp := rg.Port(x)
	any := bsock.text == "" && to.IsHost() && xp.Connector.Family() == gear.USBFamily
	if any {
		if s := r.Socket(from, xp); s != "" {
			y = s
		}
	}
	l := bench.NewLead(rg, x, y, r.LeadID())
	if r.whole {
		l.From, l.To = x, y
	}
	l.AnySocket = l.AnySocket && any && !r.whole
	if is.grade != nil {
		if is.grade.family != xp.Connector.Family() {
			r.bad(e.span, nil, "%s of %s is %s: no %s lead goes there", rig.PortName(xp), from.Label, bench.FamilyName(xp.Connector.Family()), is.grade.name)
			return ""
		}
		l.Grade = is.grade.word
	}
	if is.metres != nil {
		l.LengthM = fact.Exactly(*is.metres)
	}
	if err := r.Edit(rig.Edit{Do: "lay", NewLead: l}); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
		return ""
	}
	return l.ID
}

// better tells whether a pair of sockets is to be taken rather than another: the picture that goes out before one that is only passed
// on, pictures before plugs, a plug into a socket of its shape.
func better(r *rig.Rig, a, b [2]string, host bool) bool {
	rank := func(x [2]string) (n int) {
		_, p := r.Port(x[0])
		_, q := r.Port(x[1])
		if p.LoopOf != "" {
			n += 4
		}
		if p.Connector.Family() == gear.USBFamily && !host {
			n += 2
		}
		if p.Connector.Family() == gear.USBFamily && p.Connector != q.Connector {
			n++
		}
		return n
	}
	return rank(a) < rank(b)
}

// runs are the words for what a thing runs on.
var runs = map[string]string{"battery": "battery", "mains": "mains", "dummy battery": "mains", "adapter": "mains", "usb": "usb", "grip": "grip"}

// power says what a thing runs on, or gets its power from.
func (r *reader) power(id string, e *element) {
	edit := rig.Edit{Do: "runs-on", Item: id, Word: runs[strings.ToLower(e.label)]}
	if edit.Word == "" || e.quoted || e.bracket {
		it, _ := r.find(e)
		if it == nil {
			if len(r.problems) == 0 || r.problems[len(r.problems)-1].Line != r.now.line {
				r.bad(e.span, []string{"mains", "battery", "usb", "grip"}, "“%s” is nothing power comes from in this rig", e.text)
			}
			return
		}
		edit = rig.Edit{Do: "powered-by", Item: id, Word: it.ID}
	}
	if err := r.Edit(edit); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
	}
}

// isVoice tells whether a line says how somebody's voice gets to air: its first part is nothing of the rig, the next picks sound up.
func (r *reader) isVoice(s *statement) bool {
	if len(s.chain) < 2 || s.chain[0].bracket || s.chain[1].by == power {
		return false
	}
	if _, _, known := r.thing(&s.chain[0]); known {
		return false
	}
	if tree, _ := r.sheet(s.chain[0].label); tree != nil {
		return false
	}
	e := &s.chain[1]
	if it, _, known := r.thing(e); known {
		return picksUp(&it.Gear)
	}
	name := e.sheet
	if name == "" {
		name = e.label
	}
	tree, _ := r.sheet(name)
	var g gear.Gear
	return tree != nil && into(tree, &g) == nil && picksUp(&g)
}

func picksUp(g *gear.Gear) bool {
	return g.Kind == gear.Microphone || g.Kind == gear.WirelessSound || g.Sound != nil && g.Sound.Microphone != ""
}

// voiceLine says how a voice gets to air: what picks it up, and what it goes through. From the last of those on, leads may follow.
func (r *reader) voiceLine(s *statement) {
	if len(s.chain) < 2 {
		r.bad(s.chain[0].span, nil, "what picks the voice up?")
		return
	}
	p := rig.SoundPath{Voice: s.chain[0].label}
	if r.whole || s.chain[0].quoted {
		p.Voice = strings.Trim(s.chain[0].text, `"`)
		if s.chain[0].quoted {
			p.Voice = s.chain[0].label
		}
	}
	var before string
	for i := 1; i < len(s.chain); i++ {
		e := &s.chain[i]
		it, socket := r.find(e)
		if it == nil {
			if len(r.problems) == 0 || r.problems[len(r.problems)-1].Line != s.line {
				r.bad(e.span, r.nearest(e.label), "“%s” is no thing of this rig", e.text)
			}
			return
		}
		switch {
		case i == 1:
			p.From = it.ID
		case it.IsHost():
			if !s.voice && r.joined(before, it.ID) == nil {
				if r.join(before, span{}, it.ID, socket, said{}, e, false) == "" {
					return
				}
			}
		default:
			p.Via = append(p.Via, it.ID)
		}
		before = it.ID
	}
	sound := rig.Sound{Paths: []rig.SoundPath{}}
	if had := r.Rig().Sound; had != nil {
		sound = *had
	}
	sound.Paths = append(slices.Clone(sound.Paths), p)
	if err := r.Edit(rig.Edit{Do: "sound", Sound: &sound}); err != nil {
		r.bad(s.chain[0].span, nil, "%s", err.Error())
		return
	}
	r.voice = len(sound.Paths) - 1
}

// joined is a lead between two things, nil where there is none.
func (r *reader) joined(a, b string) *rig.Lead {
	for i := range r.Rig().Leads {
		l := &r.Rig().Leads[i]
		x, _ := rig.SplitRef(l.From)
		y, _ := rig.SplitRef(l.To)
		if x == a && y == b || x == b && y == a {
			return l
		}
	}
	return nil
}

// facts says of what the line above is about everything that stands below it.
func (r *reader) facts(lines []statement) {
	n := 0
	for n < len(lines) && lines[n].key != nil && lines[n].below {
		n++
	}
	lines = lines[:n]
	switch {
	case r.lead != "":
		was := *r.Rig().Lead(r.lead)
		fresh := rig.Lead{}
		if r.said1(lines, treeOf(was), &fresh) {
			r.try(&lines[0], rig.Edit{Do: "unplug", Lead: was.ID}, rig.Edit{Do: "lay", NewLead: &fresh})
			r.lead = fresh.ID
		}
	case r.voice >= 0:
		sound := *r.Rig().Sound
		sound.Paths = slices.Clone(sound.Paths)
		fresh := rig.SoundPath{}
		if r.said1(lines, treeOf(sound.Paths[r.voice]), &fresh) {
			sound.Paths[r.voice] = fresh
			r.try(&lines[0], rig.Edit{Do: "sound", Sound: &sound})
		}
	case r.item != "" && slices.Contains(r.fresh, r.item):
		it := *r.Rig().Item(r.item)
		fresh := rig.Item{}
		if r.said1(lines, treeOf(it), &fresh) {
			if fresh.ID != it.ID && r.Rig().Item(fresh.ID) != nil {
				r.bad(lines[0].at, nil, "%s is the id of another thing", fresh.ID)
				return
			}
			r.replaceItem(it.ID, fresh)
		}
	case r.item != "":
		for i := range lines {
			r.state(&lines[i])
		}
	default:
		r.now = &lines[0]
		r.bad(lines[0].at, nil, "there is no thing or lead above it that this could be said of")
	}
}

func (r *reader) try(s *statement, edits ...rig.Edit) {
	if err := r.Edit(edits...); err != nil {
		r.now = s
		r.bad(s.at, nil, "%s", plainError(err))
	}
}

// said1 puts facts into a document and reads it; false where one of them cannot be said of it, which is then told.
func (r *reader) said1(lines []statement, tree map[string]any, v any) bool {
	with := func(but int) error {
		t := cloneTree(tree).(map[string]any)
		for i := range lines {
			if i == but {
				continue
			}
			if err := put(t, lines[i].key.path, lines[i].key.value); err != nil {
				return err
			}
		}
		return into(t, v)
	}
	err := with(-1)
	if err == nil {
		return true
	}
	at := len(lines) - 1
	for i := range lines {
		if with(i) == nil {
			at = i
			break
		}
	}
	r.now = &lines[at]
	r.bad(lines[at].at, nil, "%s", plainError(err))
	return false
}

// state says of an item that was there what can be stated by itself.
func (r *reader) state(s *statement) {
	path := "items/" + r.item + "/" + strings.ReplaceAll(s.key.path, ".", "/")
	edit := rig.Edit{Do: "word", Path: path, Word: s.key.value}
	var f fact.Fact
	if err := json.Unmarshal([]byte(valueJSON(valueOf(s.key.value))), &f); err == nil {
		edit = rig.Edit{Do: "fact", Path: path, Fact: &f}
	}
	if err := r.Edit(edit); err != nil {
		r.now = s
		r.bad(s.at, nil, "%s is nothing that can be said of %s here", s.key.path, r.Rig().Item(r.item).Label)
	}
}

// replaceItem puts another document in the place of an item that came with this text, leads and all that names it as they were.
func (r *reader) replaceItem(id string, fresh rig.Item) {
	rg := r.Rig()
	for i := range rg.Items {
		if rg.Items[i].ID == id {
			rg.Items[i] = fresh
		}
	}
	for i := range r.fresh {
		if r.fresh[i] == id {
			r.fresh[i] = fresh.ID
		}
	}
	edits := r.Done().Edits
	for i := range edits {
		if n := edits[i].NewItem; n != nil && n.ID == id {
			c := fresh
			edits[i].NewItem = &c
		}
	}
	r.item = fresh.ID
}

// topFacts says what is said of the rig as a whole.
func (r *reader) topFacts() {
	var all []statement
	for _, s := range r.top {
		r.now = &s
		head, rest, _ := strings.Cut(s.key.path, ".")
		switch {
		case head == "rig" && rest == "":
			r.try(&s, rig.Edit{Do: "name", Name: fmt.Sprint(valueOr(s.key.value))})
			continue
		case head == "rig":
			r.bad(s.at, nil, "the name of the rig has no parts")
			continue
		case r.said && head != "show" && head != "sound":
			r.bad(s.at, nil, "%s is said of a whole rig, not beside others: begin a new rig with it", head)
			continue
		case head == "show":
			s.key = &pair{s.key.path, r.byLabel(rest, s.key.value)}
		}
		all = append(all, s)
	}
	if len(all) == 0 {
		return
	}
	fresh := rig.Rig{}
	if !r.said1(all, treeOf(*r.Rig()), &fresh) {
		return
	}
	show, sound := fresh.Show, fresh.Sound
	r.try(&all[0], rig.Edit{Do: "show", Show: &show}, rig.Edit{Do: "sound", Sound: sound})
	to := r.Rig()
	to.Notes, to.Ceiling, to.Uplink, to.WorkMinutes = fresh.Notes, fresh.Ceiling, fresh.Uplink, fresh.WorkMinutes
}

// valueOr is a text as it was meant: without the quotes it may stand in.
func valueOr(s string) string {
	if v, ok := valueOf(s).(string); ok {
		return v
	}
	return s
}

// byLabel turns the names of things in what is said of a show into their ids.
func (r *reader) byLabel(path, value string) string {
	if path != "recordings" && path != "also" {
		return value
	}
	list, _ := valueOf(value).([]any)
	renamed(list, func(label string) string {
		for i := range r.Rig().Items {
			if r.Rig().Items[i].Label == label {
				return r.Rig().Items[i].ID
			}
		}
		return label
	})
	if list == nil {
		return value
	}
	return valueText(list)
}

// renamed calls the things otherwise that recordings and programs name.
func renamed(list []any, name func(string) string) {
	for _, e := range list {
		m, _ := e.(map[string]any)
		for _, k := range []string{"what", "drive"} {
			if s, ok := m[k].(string); ok {
				m[k] = name(s)
			}
		}
		takes, _ := m["takes"].([]any)
		for i := range takes {
			if s, ok := takes[i].(string); ok {
				takes[i] = name(s)
			}
		}
	}
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

// leadsOn tells whether the picture or the plug of a thing goes somewhere already: of what hands pictures to a computer, its plug.
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
	return len(all) == 0 || slices.ContainsFunc(all, func(ref string) bool { return bench.LeadIn(r.Rig(), ref) != nil })
}
