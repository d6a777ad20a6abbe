package rigtext

import (
	"errors"
	"slices"
	"strconv"
	"strings"

	"eventether/core/bench"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

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
			known := false // in a whole rig names that read as leads stand in quotes
			if !r.whole {
				_, _, known = r.thing(e)
				kind, _ := r.sheet(e.label)
				known = known || kind != nil || r.kindBefore(e.label) > 0
			}
			if !known {
				if l, ok, unknown := leadIn(e.text); ok || unknown != "" && !r.whole {
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
				r.bad(e.span, r.nearest(e.label),
					"“%s” is no thing of this rig, no socket of its computer and no lead: a new thing has its kind behind it, in brackets",
					e.text)
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
			if id := r.join(at.ID, sock, it.ID, socket, is, e); id != "" {
				r.lead, r.item = id, ""
			} else {
				return
			}
			sock = span{}
		} else {
			r.item, sock = it.ID, socket
			if socket.text != "" && portOf(it, socket.text) < 0 {
				r.bad(socket, portNames(it), "%s has no socket “%s”", it.Label, socket.text)
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

// soundOnly tells whether a thing picks up sound and has no socket a lead goes into; hears, whether sound goes into
// one.
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
	sound.Paths = append(slices.Clone(sound.Paths), rig.SoundPath{Voice: mic.Label, From: mic.ID,
		Via: []string{into.ID}})
	if err := r.Edit(rig.Edit{Do: "sound", Sound: &sound}); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
	}
}

// join lays a lead between two things; the id of the lead, or "" where none goes.
func (r *reader) join(a string, asock span, b string, bsock span, is said, e *element) string {
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
			r.bad(s, portNames(it), "%s has no socket “%s”", it.Label, s.text)
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
				if why == "" && xp.Connector.Family() == yp.Connector.Family() && xp.Direction.Sends() &&
					yp.Direction.Takes() || len(as)+len(bs) == 2 {
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
				why = lang.Text("no free socket of %s goes into one of %s by a lead of %s", from.Label, to.Label,
					bench.FamilyName(is.grade.family))
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
			r.bad(e.span, nil, "%s of %s is %s: no %s lead goes there", rig.PortName(xp), from.Label,
				bench.FamilyName(xp.Connector.Family()), is.grade.name)
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

// better tells whether a pair of sockets is to be taken rather than another: the picture that goes out before one that
// is only passed on, pictures before plugs, a plug into a socket of its shape.
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
var runs = map[string]string{"battery": "battery", "mains": "mains", "dummy battery": "mains", "adapter": "mains",
	"usb": "usb", "grip": "grip"}

// power says what a thing runs on, or gets its power from.
func (r *reader) power(id string, e *element) {
	edit := rig.Edit{Do: "runs-on", Item: id, Word: runs[strings.ToLower(e.label)]}
	if edit.Word == "" || e.quoted || e.bracket {
		it, _ := r.find(e)
		if it == nil {
			if len(r.problems) == 0 || r.problems[len(r.problems)-1].Line != r.now.line {
				r.bad(e.span, []string{"mains", "battery", "usb", "grip"},
					"“%s” is nothing power comes from in this rig", e.text)
			}
			return
		}
		edit = rig.Edit{Do: "powered-by", Item: id, Word: it.ID}
	}
	if err := r.Edit(edit); err != nil {
		r.bad(e.span, nil, "%s", err.Error())
	}
}

// isVoice tells whether a line says how somebody's voice gets to air: its first part is nothing of the rig, the next
// picks sound up.
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

// voiceLine says how a voice gets to air: what picks it up, and what it goes through. From the last of those on, leads
// may follow.
func (r *reader) voiceLine(s *statement) {
	if len(s.chain) < 2 {
		r.bad(s.chain[0].span, nil, "what picks the voice up?")
		return
	}
	p := rig.SoundPath{Voice: s.chain[0].label}
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
				if r.join(before, span{}, it.ID, socket, said{}, e) == "" {
					return
				}
			}
		default:
			p.Via = append(p.Via, it.ID)
			if socket.text == "" {
				break
			}
			n, err := inputNumber(socket.text)
			if err != nil {
				r.bad(socket, []string{"input 1", "input 2"}, "“%s” is no input of sound: %s", socket.text, err.Error())
				return
			}
			p.Input = n
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

// inputNumber reads which input a voice goes into.
func inputNumber(text string) (int, error) {
	number := strings.TrimSpace(strings.TrimPrefix(strings.ToLower(text), "input"))
	n, err := strconv.Atoi(number)
	if err != nil || n < 1 || n > 64 {
		return 0, errors.New("want input 1 to 64")
	}
	return n, nil
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
