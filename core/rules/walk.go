package rules

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// Walk carries what is known of a picture along its way. At every Moment it says what there is to judge.
type Walk struct {
	Feed   *Feed
	Source int           // its place
	Hop    *Hop          // the stretch of the board at hand
	Mode   *picture.Mode // the picture on the link; never changed in place
	Item   *rig.Item
	Out    int // port the picture leaves Item by, -1 for none
	Port   *gear.Port
	Ref    string // of Port
	Verb   string // what Port must do with the picture: send or take
	Lead   *rig.Lead
	From   *gear.Port // of Lead
	To     *gear.Port
	Ends   [2]*rig.Item // what Lead joins
	In     int          // the input the picture came in by
	LeadAt int          // place of Lead
	Bytes  *Stream      // the picture on USB or a slot, once it is there
	Socket bool         // of a way that ends: it ends in a picture socket of the computer
	Dead   bool         // nothing flows through Lead

	assumed   bool // nobody has said which picture the source sends
	fixed     bool // the link is a fixed-rate one
	fixedSure bool // and both ends are known to have one
	lead      string
	level     sdi.Level // the mapping of 3G-SDI that is sent, and the port that sends it
	levelItem string
	levelPort string
	next      *gear.Port // the socket at the far end of the link, and whose it is
	nextItem  *rig.Item
	rated     *picture.Mode // the picture of which the character rate was worked out last, and that
	rates     [2]float64
	wasDown   bool // the picture was made smaller than the programme on the way
	arrived   string
	where     []string // ids passed so far: everything a limit here depends on
}

// hop starts a hop; the pointer is good as long as the pass.
func (p *Pass) hop(w *Walk, h Hop) *Hop {
	h.Results = p.Mem.Ints.Room(6)
	w.Feed.Hops = append(w.Feed.Hops, h)
	w.Hop = &w.Feed.Hops[len(w.Feed.Hops)-1]
	return w.Hop
}

// deps is everything passed so far. The walk only ever appends, so what is handed out stays as it is.
func (w *Walk) deps() []string { return w.where[:len(w.where):len(w.where)] }

// withShow is everything passed so far and the show.
func (p *Pass) withShow(w *Walk) []string {
	return append(append(p.Mem.IDs.Room(len(w.where)+1), w.where...), "show")
}

// walk takes one picture from its source to where it ends.
func (p *Pass) walk(f *rig.Feed) {
	src := &p.Items[f.Source]
	p.Feeds = p.Feeds[:len(p.Feeds)+1]
	feed := &p.Feeds[len(p.Feeds)-1]
	*feed = Feed{Source: src, ID: src.ID, Branch: f.Branch, Hops: p.hops.Room(2 + 2*len(f.Hops))}
	first := f.Hops[0]
	if first.Out >= 0 {
		feed.ID = p.Wiring.Ref(f.Source, first.Out)
	}
	if f.Again && f.Via >= 0 {
		feed.ID += ">" + p.Leads[f.Via].ID
	}
	w := &p.walker // one at a time
	*w = Walk{Feed: feed, Source: f.Source, Mode: &noPicture, where: p.Mem.IDs.Room(3 * len(f.Hops))}
	w.where = append(w.where, src.ID)
	if f.Again || f.Branch { // that there is such a way, and what it is called, rests on all of its leads
		for _, h := range f.Hops[1:] {
			w.where = append(w.where, p.Leads[h.LeadIn].ID)
		}
	}
	if len(f.Hops) > 1 {
		p.nextLink(w, f, 0)
	}
	p.source(w, src, f.Source, first.Out)
	var s *Stream
	if first.Out >= 0 && src.Gear.Ports[first.Out].Direction == gear.Upstream {
		s = p.startStream(w, src, f.Source, first.Out)
	}
	for i := 1; i < len(f.Hops); i++ {
		h := f.Hops[i]
		it := &p.Items[h.Item]
		if f.Branch && h.Out < 0 {
			feed.End = it
		}
		w.where = append(w.where, p.Leads[h.LeadIn].ID)
		p.lead(w, h.LeadIn, s)
		w.where = append(w.where, it.ID)
		switch {
		case s == nil && h.Out >= 0 && it.Gear.Ports[h.Out].Direction == gear.Upstream:
			w.In = h.In
			p.input(w, it, h, Capture)
			w.Item, w.Out = it, h.Out
			p.at(AtBox, w)
			s = p.startStream(w, it, h.Item, h.Out)
		case s == nil && (h.Out >= 0 || !it.IsHost()):
			p.input(w, it, h, Lead)
			if i+1 < len(f.Hops) {
				p.nextLink(w, f, i)
			}
			p.through(w, it, h)
		case s == nil:
			p.input(w, it, h, Capture)
		default:
			p.port(w, it, h)
		}
	}
	p.arrives(w, f, s)
}

var noPicture picture.Mode

// characterRate is hdmi.CharacterRate of the picture at hand.
func (w *Walk) characterRate() (low, high float64) {
	if w.rated != w.Mode {
		w.rated = w.Mode
		w.rates[0], w.rates[1] = hdmi.CharacterRate(*w.Mode)
	}
	return w.rates[0], w.rates[1]
}

// programmeMode is the programme's size and rate as a picture.
func (p *Plan) programmeMode() *picture.Mode { return &p.programmed }

// nextLink readies the walk for the link that leaves the i-th hop of a feed.
func (p *Pass) nextLink(w *Walk, f *rig.Feed, i int) {
	w.next, w.nextItem = nil, nil
	if out := f.Hops[i].Out; out >= 0 {
		if next := &f.Hops[i+1]; next.In >= 0 {
			w.nextItem = &p.Items[next.Item]
			w.next = &w.nextItem.Gear.Ports[next.In]
		}
	}
}

// source is the beginning of a way: the camera, then its socket.
func (p *Pass) source(w *Walk, it *rig.Item, at, out int) {
	p.hop(w, Hop{Stage: Camera, Kind: "item", Ref: it.ID, Item: it})
	w.Item, w.Out = it, out
	if out >= 0 && it.Gear.Ports[out].Direction == gear.Out {
		w.Mode, w.assumed = p.outputMode(it, &it.Gear.Ports[out])
	}
	p.at(AtSource, w)
	if out < 0 {
		p.hop(w, Hop{Stage: Socket, Kind: "item", Ref: it.ID, Item: it})
		return
	}
	port := &it.Gear.Ports[out]
	ref := p.Wiring.Ref(at, out)
	if port.Direction == gear.Upstream {
		p.hop(w, Hop{Stage: Socket, Kind: "port", Ref: ref, Item: it, Port: port})
		return
	}
	mode := w.Mode
	if it.Set != nil && it.Set.Upright && mode.Width > mode.Height {
		turned := *mode
		turned.Width, turned.Height = mode.Height, mode.Width
		mode = &turned
	}
	w.Mode = mode
	p.hop(w, Hop{Stage: Socket, Kind: "port", Ref: ref, Item: it, Port: port, Mode: mode})
	w.Port, w.Ref, w.Verb = port, ref, "send"
	p.at(AtOutput, w)
	p.link(w)
}

// link judges a picture against one of the two sockets its link joins. For an output it settles what kind of link follows.
func (p *Pass) link(w *Walk) {
	if w.Port.Direction == gear.Out {
		w.fixed, w.fixedSure = false, false
		if w.Port.Connector.Family() == gear.HDMIFamily && w.next != nil {
			low, _ := w.characterRate()
			w.fixed, w.fixedSure = usesFixedRate(w.Port, w.next, low)
		}
		w.level, w.levelItem, w.levelPort = sdi.UnknownLevel, w.Item.ID, w.Port.ID
		if w.Port.SDI != nil && w.Port.SDI.Level != "" {
			w.level = w.Port.SDI.Level
		}
	}
	p.at(AtLink, w)
}

// lead passes one lead. s is nil while the picture has not entered USB.
func (p *Pass) lead(w *Walk, at int, s *Stream) {
	l := &p.Leads[at]
	fi, fp, ti, tp := p.Wiring.LeadEnds(at)
	w.Ends = [2]*rig.Item{&p.Items[fi], &p.Items[ti]}
	w.Lead, w.LeadAt, w.From, w.To, w.lead = l, at, &w.Ends[0].Gear.Ports[fp], &w.Ends[1].Gear.Ports[tp], l.ID
	from := w.From
	switch {
	case s != nil && from.Connector.Family() == gear.USBFamily:
		p.at(AtUSBLead, w)
		return
	case s != nil && from.Connector == gear.PCIe:
		return // a card sits in its slot
	}
	p.hop(w, Hop{Stage: Lead, Kind: "lead", Ref: l.ID, Lead: l, Port: from, Mode: w.Mode, Fixed: w.fixed})
	switch from.Connector.Family() {
	case gear.HDMIFamily:
		if p.at(AtPictureLead, w); !w.Dead {
			p.at(AtHDMILead, w)
		}
	case gear.SDIFamily:
		if p.at(AtPictureLead, w); !w.Dead {
			p.at(AtCoax, w)
		}
	default:
		p.notJudged("lead", l.ID, func(p *Pass) (string, string) {
			return p.T("the lead %s", p.LeadTitle(l)), p.T("there are no rules for %s links yet", upperFamily(from.Connector.Family()))
		})
	}
}

// input is a picture coming into a device.
func (p *Pass) input(w *Walk, it *rig.Item, h rig.Hop, stage Stage) {
	port := &it.Gear.Ports[h.In]
	several := p.inputsUsed(it, h.Item) > 1 // a line for each input, until the box joins them
	hop := p.hop(w, Hop{Stage: stage, Kind: "item", Ref: it.ID, Item: it, Port: port, Several: several})
	if several {
		hop.Joins = it.ID
	}
	if port.Direction != gear.In {
		return // the lead before it already says so
	}
	w.Item, w.Port, w.Ref, w.Verb = it, port, p.Wiring.Ref(h.Item, h.In), "take"
	p.at(AtPictureIn, w)
}

// inputsUsed counts the picture inputs of an item that have a lead in them.
func (p *Plan) inputsUsed(it *rig.Item, at int) int {
	if it.Gear.Kind == gear.Capture || it.Gear.Kind == gear.Computer {
		return 1
	}
	n := 0
	for j := range it.Gear.Ports {
		if it.Gear.Ports[j].Direction == gear.In && p.Wiring.LeadAt(at, j) >= 0 {
			n++
		}
	}
	return n
}

// through passes the picture on by a box that hands it on as a picture: a switcher, splitter, converter, or a capture
// device's loop-through.
func (p *Pass) through(w *Walk, it *rig.Item, h rig.Hop) {
	if h.Out < 0 {
		return
	}
	w.Item, w.In, w.Out, w.Port, w.Ref, w.Verb = it, h.In, h.Out, &it.Gear.Ports[h.Out], p.Wiring.Ref(h.Item, h.Out), "send"
	p.at(AtBox, w)
	p.at(AtBoxOut, w)
	p.link(w)
}

// port takes a stream into a hub, a dock or the computer.
func (p *Pass) port(w *Walk, it *rig.Item, h rig.Hop) {
	w.Item, w.In, w.Out, w.Port = it, h.In, h.Out, &it.Gear.Ports[h.In]
	w.Ref = p.Wiring.Ref(h.Item, h.In)
	hop := p.hop(w, Hop{Stage: Port, Kind: "port", Ref: w.Ref, Item: it, Port: w.Port, Lead: w.Lead})
	if p.scope == nil {
		last := &p.ending[p.Wiring.Socket(h.Item, h.In)]
		hop.here, *last = *last, hop
	}
	p.at(AtUSBPort, w)
}

// arrives closes a way: did it get to the computer, and what does the programme make of it?
func (p *Pass) arrives(w *Walk, f *rig.Feed, s *Stream) {
	if f.Arrives && s != nil {
		if !slices.Contains(s.brings, w.Source) {
			if s.brings == nil {
				s.brings = p.Mem.Ints.Room(1)
			}
			s.brings = append(s.brings, w.Source)
		}
		p.programme(w, s)
		return
	}
	if f.Branch {
		return // it ends where it is meant to
	}
	w.Item = &p.Items[f.Hops[len(f.Hops)-1].Item]
	p.hop(w, Hop{Stage: Port, Kind: "item", Ref: w.Item.ID, Item: w.Item})
	w.Socket = f.Arrives
	p.at(AtEnd, w)
}

// programme is a picture that has arrived in the computer.
func (p *Pass) programme(w *Walk, s *Stream) {
	w.Bytes, w.Feed.Mode, w.Feed.Bytes = s, w.Mode, s
	s.combs = s.combs || w.Mode.Interlaced
	w.arrived = s.ref + ":" + w.Feed.ID
	p.hop(w, Hop{Stage: Picture, Kind: "rig", Ref: w.Feed.ID, Item: w.Feed.Source, Mode: w.Mode, Bytes: s})
	p.at(AtProgramme, w)
}

// movement is the rate of the movement in the picture that arrived, which may be slower than its link.
func movement(m *picture.Mode, s *Stream) picture.Rate {
	if !m.Inner.IsZero() && m.Inner.Cmp(s.Rate) < 0 {
		return m.Inner
	}
	return s.Rate
}

// HopWords are what a hop says: a label, and a detail beside it.
func (p *Plan) HopWords(h *Hop) (label, detail string) {
	switch {
	case h.Stage == Picture:
		s, pr := h.Bytes, &p.Show.Programme
		label, detail = CadenceText(movement(h.Mode, s), pr.Rate), picture.SizeName(s.Width, s.Height)
		if s.Width != pr.Width || s.Height != pr.Height {
			detail = p.T("%s into %s", detail, picture.SizeName(pr.Width, pr.Height))
		}
	case h.Kind == "lead" && h.Stage == Lead:
		label, detail = p.leadName(h.Lead), carries(h.Mode, h.Fixed, h.Port)
	case h.Kind == "lead":
		label, detail = p.leadName(h.Lead), p.LeadTitle(h.Lead)
	case h.Stage == Socket && h.Port == nil:
		label = lang.Text("no picture output")
	case h.Stage == Socket && h.Mode == nil:
		label, detail = rig.PortName(h.Port), lang.Text("its own USB")
	case h.Stage == Socket:
		label, detail = rig.PortName(h.Port), ModeText(h.Mode)
	case h.Kind == "port":
		label, detail = rig.PortName(h.Port), SocketSpeed(h.Port)
		if h.Item != nil && !h.Item.IsHost() { // of a hub or dock
			detail = p.T("%s, %s", h.Item.Label, detail)
		}
	case h.Stage == Port: // it goes no further
		label = h.Item.Label
	case h.Own:
		label = p.T("%s itself", h.Item.Label)
	case h.Several:
		label, detail = rig.PortName(h.Port), h.Item.Label
	default:
		label, detail = h.Item.Label, h.Item.Gear.Name
	}
	if h.Bytes != nil && h.Stage == Capture {
		detail = h.Bytes.Name()
	}
	return label, detail
}
