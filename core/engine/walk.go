package engine

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// startStream begins the USB part of a feed at the device that hands the picture to the computer. A device reached by
// several feeds (a switcher) sends one stream; the feeds share it.
func (p *Pass) startStream(w *Walk, it *rig.Item, at, out int) *plans.Stream {
	port := &it.Gear.Ports[out]
	if last := w.Hop; last.Stage != plans.Capture || last.Ref != it.ID {
		// else the device that took the picture hands it on
		p.NewHop(w, plans.Hop{Stage: plans.Capture, Kind: "item", Ref: it.ID, Item: it, Own: true})
	}
	s := p.Stream()
	s.Owner, s.Port, s.Ref = it, port.ID, p.Wiring.Ref(at, out)
	if it.Gear.Kind == gear.Card { // a stream for each input
		s.Input = w.In + 1
	}
	if port.Connector == gear.LAN {
		p.NotJudged("port", s.Ref, func(p *Pass) (string, string) {
			return p.T("the network connection of %s", it.Label),
				lang.Text("there are no rules for network connections yet")
		})
	}
	s.From = w.Source
	w.Bytes, w.Item, w.Out, w.Port = s, it, out, port
	p.at(AtCapture, w)
	w.Hop.Bytes = s
	s.Where = w.Deps()
	s.Speeds = append(p.Mem.Facts.Room(4), p.SpeedFact(it, port))
	s.Device = usb.UnknownSpeed
	if port.USB != nil && port.USB.Speed != usb.UnknownSpeed {
		s.Device = port.USB.Speed
	}
	s.MayReserve = port.Connector.Family() == gear.USBFamily
	if port.USB != nil {
		s.Reserves = port.USB.Transfer == usb.Isochronous
		s.MayReserve = port.USB.Transfer == usb.UnknownTransfer || port.USB.Transfer == ""
	}
	for have := p.began[at]; have != nil; have = have.Beside {
		if have.Port == port.ID && have.Input == s.Input {
			w.Where = plans.Merge(slices.Clip(w.Where), have.Where) // what it is rests on the feed that came first
			w.Bytes = have
			return have
		}
	}
	s.Beside, p.began[at] = p.began[at], s
	s.Shares, s.Crosses = p.shares.Room(3), p.crosses.Room(3)
	p.Streams = append(p.Streams, s)
	return s
}

// Walk carries what is known of a picture along its way. At every Moment it says what there is to judge.
type Walk struct {
	Feed   *plans.Feed
	Source int           // its place
	Hop    *plans.Hop    // the stretch of the board at hand
	Mode   *picture.Mode // the picture on the link; never changed in place
	Item   *rig.Item
	Out    int // port the picture leaves Item by, -1 for none
	Port   *gear.Port
	Ref    string // of Port
	Verb   string // what Port must do with the picture: send or take
	Lead   *rig.Lead
	From   *gear.Port // of Lead
	To     *gear.Port
	Ends   [2]*rig.Item  // what Lead joins
	In     int           // the input the picture came in by
	LeadAt int           // place of Lead
	Bytes  *plans.Stream // the picture on USB or a slot, once it is there
	Socket bool          // of a way that ends: it ends in a picture socket of the computer
	Dead   bool          // nothing flows through Lead

	Assumed   bool // nobody has said which picture the source sends
	Fixed     bool // the link is a fixed-rate one
	FixedSure bool // and both ends are known to have one
	LeadID    string
	Level     sdi.Level // the mapping of 3G-SDI that is sent, and the port that sends it
	LevelItem string
	LevelPort string
	Next      *gear.Port // the socket at the far end of the link, and whose it is
	NextItem  *rig.Item
	rated     *picture.Mode // the picture of which the character rate was worked out last, and that
	rates     [2]float64
	WasDown   bool // the picture was made smaller than the programme on the way
	Arrived   string
	Where     []string // ids passed so far: everything a limit here depends on
}

// NewHop starts a hop; the pointer is good as long as the pass.
func (p *Pass) NewHop(w *Walk, h plans.Hop) *plans.Hop {
	h.Results = p.Mem.Ints.Room(6)
	w.Feed.Hops = append(w.Feed.Hops, h)
	w.Hop = &w.Feed.Hops[len(w.Feed.Hops)-1]
	return w.Hop
}

// Deps is everything passed so far. The walk only ever appends, so what is handed out stays as it is.
func (w *Walk) Deps() []string { return w.Where[:len(w.Where):len(w.Where)] }

// WithShow is everything passed so far and the show.
func (p *Pass) WithShow(w *Walk) []string {
	return append(append(p.Mem.IDs.Room(len(w.Where)+1), w.Where...), "show")
}

// walk takes one picture from its source to where it ends.
func (p *Pass) walk(f *rig.Feed) {
	src := &p.Items[f.Source]
	p.Feeds = p.Feeds[:len(p.Feeds)+1]
	feed := &p.Feeds[len(p.Feeds)-1]
	*feed = plans.Feed{Source: src, ID: src.ID, Branch: f.Branch, Hops: p.hops.Room(2 + 2*len(f.Hops))}
	first := f.Hops[0]
	if first.Out >= 0 {
		feed.ID = p.Wiring.Ref(f.Source, first.Out)
	}
	if f.Again && f.Via >= 0 {
		feed.ID += ">" + p.Leads[f.Via].ID
	}
	w := &p.walker // one at a time
	*w = Walk{Feed: feed, Source: f.Source, Mode: &plans.NoPicture, Where: p.Mem.IDs.Room(3 * len(f.Hops))}
	w.Where = append(w.Where, src.ID)
	if f.Again || f.Branch { // that there is such a way, and what it is called, rests on all of its leads
		for _, h := range f.Hops[1:] {
			w.Where = append(w.Where, p.Leads[h.LeadIn].ID)
		}
	}
	if len(f.Hops) > 1 {
		p.nextLink(w, f, 0)
	}
	p.source(w, src, f.Source, first.Out)
	var s *plans.Stream
	if first.Out >= 0 && src.Gear.Ports[first.Out].Direction == gear.Upstream {
		s = p.startStream(w, src, f.Source, first.Out)
	}
	for i := 1; i < len(f.Hops); i++ {
		h := f.Hops[i]
		it := &p.Items[h.Item]
		if f.Branch && h.Out < 0 {
			feed.End = it
		}
		w.Where = append(w.Where, p.Leads[h.LeadIn].ID)
		p.lead(w, h.LeadIn, s)
		w.Where = append(w.Where, it.ID)
		switch {
		case s == nil && h.Out >= 0 && it.Gear.Ports[h.Out].Direction == gear.Upstream:
			w.In = h.In
			p.input(w, it, h, plans.Capture)
			w.Item, w.Out = it, h.Out
			p.at(AtBox, w)
			s = p.startStream(w, it, h.Item, h.Out)
		case s == nil && (h.Out >= 0 || !it.IsHost()):
			p.input(w, it, h, plans.Lead)
			if i+1 < len(f.Hops) {
				p.nextLink(w, f, i)
			}
			p.through(w, it, h)
		case s == nil:
			p.input(w, it, h, plans.Capture)
		default:
			p.port(w, it, h)
		}
	}
	p.arrives(w, f, s)
}

// CharacterRate is hdmi.CharacterRate of the picture at hand.
func (w *Walk) CharacterRate() (low, high float64) {
	if w.rated != w.Mode {
		w.rated = w.Mode
		w.rates[0], w.rates[1] = hdmi.CharacterRate(*w.Mode)
	}
	return w.rates[0], w.rates[1]
}

// nextLink readies the walk for the link that leaves the i-th hop of a feed.
func (p *Pass) nextLink(w *Walk, f *rig.Feed, i int) {
	w.Next, w.NextItem = nil, nil
	if out := f.Hops[i].Out; out >= 0 {
		if next := &f.Hops[i+1]; next.In >= 0 {
			w.NextItem = &p.Items[next.Item]
			w.Next = &w.NextItem.Gear.Ports[next.In]
		}
	}
}

// source is the beginning of a way: the camera, then its socket.
func (p *Pass) source(w *Walk, it *rig.Item, at, out int) {
	p.NewHop(w, plans.Hop{Stage: plans.Camera, Kind: "item", Ref: it.ID, Item: it})
	w.Item, w.Out = it, out
	if out >= 0 && it.Gear.Ports[out].Direction == gear.Out {
		w.Mode, w.Assumed = p.SentMode(it, &it.Gear.Ports[out])
	}
	p.at(AtSource, w)
	if out < 0 {
		p.NewHop(w, plans.Hop{Stage: plans.Socket, Kind: "item", Ref: it.ID, Item: it})
		return
	}
	port := &it.Gear.Ports[out]
	ref := p.Wiring.Ref(at, out)
	if port.Direction == gear.Upstream {
		p.NewHop(w, plans.Hop{Stage: plans.Socket, Kind: "port", Ref: ref, Item: it, Port: port})
		return
	}
	mode := w.Mode
	if it.Set != nil && it.Set.Upright && mode.Width > mode.Height {
		turned := *mode
		turned.Width, turned.Height = mode.Height, mode.Width
		mode = &turned
	}
	w.Mode = mode
	p.NewHop(w, plans.Hop{Stage: plans.Socket, Kind: "port", Ref: ref, Item: it, Port: port, Mode: mode})
	w.Port, w.Ref, w.Verb = port, ref, "send"
	p.at(AtOutput, w)
	p.Link(w)
}

// Link judges a picture against one of the two sockets its link joins. For an output it settles what kind of link
// follows.
func (p *Pass) Link(w *Walk) {
	if w.Port.Direction == gear.Out {
		w.Fixed, w.FixedSure = false, false
		if w.Port.Connector.Family() == gear.HDMIFamily && w.Next != nil {
			low, _ := w.CharacterRate()
			w.Fixed, w.FixedSure = plans.UsesFixedRate(w.Port, w.Next, low)
		}
		w.Level, w.LevelItem, w.LevelPort = sdi.UnknownLevel, w.Item.ID, w.Port.ID
		if w.Port.SDI != nil && w.Port.SDI.Level != "" {
			w.Level = w.Port.SDI.Level
		}
	}
	p.at(AtLink, w)
}

// lead passes one lead. s is nil while the picture has not entered USB.
func (p *Pass) lead(w *Walk, at int, s *plans.Stream) {
	l := &p.Leads[at]
	fi, fp, ti, tp := p.Wiring.LeadEnds(at)
	w.Ends = [2]*rig.Item{&p.Items[fi], &p.Items[ti]}
	w.Lead, w.LeadAt, w.From, w.To, w.LeadID = l, at, &w.Ends[0].Gear.Ports[fp], &w.Ends[1].Gear.Ports[tp], l.ID
	from := w.From
	switch {
	case s != nil && from.Connector.Family() == gear.USBFamily:
		p.at(AtUSBLead, w)
		return
	case s != nil && from.Connector == gear.PCIe:
		return // a card sits in its slot
	}
	p.NewHop(w, plans.Hop{Stage: plans.Lead, Kind: "lead", Ref: l.ID, Lead: l, Port: from, Mode: w.Mode,
		Fixed: w.Fixed})
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
		p.NotJudged("lead", l.ID, func(p *Pass) (string, string) {
			return p.T("the lead %s", p.LeadTitle(l)), p.T("there are no rules for %s links yet",
				plans.UpperFamily(from.Connector.Family()))
		})
	}
}

// input is a picture coming into a device.
func (p *Pass) input(w *Walk, it *rig.Item, h rig.Hop, stage plans.Stage) {
	port := &it.Gear.Ports[h.In]
	several := p.InputsUsed(it, h.Item) > 1 // a line for each input, until the box joins them
	hop := p.NewHop(w, plans.Hop{Stage: stage, Kind: "item", Ref: it.ID, Item: it, Port: port, Several: several})
	if several {
		hop.Joins = it.ID
	}
	if port.Direction != gear.In {
		return // the lead before it already says so
	}
	w.Item, w.Port, w.Ref, w.Verb = it, port, p.Wiring.Ref(h.Item, h.In), "take"
	p.at(AtPictureIn, w)
}

// through passes the picture on by a box that hands it on as a picture: a switcher, splitter, converter, or a capture
// device's loop-through.
func (p *Pass) through(w *Walk, it *rig.Item, h rig.Hop) {
	if h.Out < 0 {
		return
	}
	w.Item, w.In, w.Out, w.Port, w.Ref, w.Verb = it, h.In, h.Out, &it.Gear.Ports[h.Out], p.Wiring.Ref(h.Item, h.Out),
		"send"
	p.at(AtBox, w)
	p.at(AtBoxOut, w)
	p.Link(w)
}

// port takes a stream into a hub, a dock or the computer.
func (p *Pass) port(w *Walk, it *rig.Item, h rig.Hop) {
	w.Item, w.In, w.Out, w.Port = it, h.In, h.Out, &it.Gear.Ports[h.In]
	w.Ref = p.Wiring.Ref(h.Item, h.In)
	hop := p.NewHop(w, plans.Hop{Stage: plans.Port, Kind: "port", Ref: w.Ref, Item: it, Port: w.Port, Lead: w.Lead})
	if p.scope == nil {
		last := &p.ending[p.Wiring.Socket(h.Item, h.In)]
		hop.Here, *last = *last, hop
	}
	p.at(AtUSBPort, w)
}

// arrives closes a way: did it get to the computer, and what does the programme make of it?
func (p *Pass) arrives(w *Walk, f *rig.Feed, s *plans.Stream) {
	if f.Arrives && s != nil {
		if !slices.Contains(s.Brings, w.Source) {
			if s.Brings == nil {
				s.Brings = p.Mem.Ints.Room(1)
			}
			s.Brings = append(s.Brings, w.Source)
		}
		p.programme(w, s)
		return
	}
	if f.Branch {
		return // it ends where it is meant to
	}
	w.Item = &p.Items[f.Hops[len(f.Hops)-1].Item]
	p.NewHop(w, plans.Hop{Stage: plans.Port, Kind: "item", Ref: w.Item.ID, Item: w.Item})
	w.Socket = f.Arrives
	p.at(AtEnd, w)
}

// programme is a picture that has arrived in the computer.
func (p *Pass) programme(w *Walk, s *plans.Stream) {
	w.Bytes, w.Feed.Mode, w.Feed.Bytes = s, w.Mode, s
	s.Combs = s.Combs || w.Mode.Interlaced
	w.Arrived = s.Ref + ":" + w.Feed.ID
	p.NewHop(w, plans.Hop{Stage: plans.Picture, Kind: "rig", Ref: w.Feed.ID, Item: w.Feed.Source, Mode: w.Mode,
		Bytes: s})
	p.at(AtProgramme, w)
}
