package advise

import (
	"cmp"
	"slices"
	"strings"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/sdi"
	"eventether/core/usb"
	"eventether/core/verdict"
	"eventether/core/work"
)

// Route is another way for a source's picture into the computer, as edits. Which socket it takes is left open.
type Route struct {
	Now     bool   // it goes so already
	Why     string // why there is none
	Edits   []rig.Edit
	Minutes float64
	Cost    gear.Amount
}

// router finds routes for one source.
type router struct {
	*rig.Rig
	g  *rig.Wiring
	it *rig.Item
	at int
}

func routerOf(r *rig.Rig, g *rig.Wiring, it *rig.Item) *router {
	return &router{r, g, it, slices.IndexFunc(r.Items, func(o rig.Item) bool { return o.ID == it.ID })}
}

// ByUSB takes a source's picture by its own USB; the capture device it leaves gives its socket back.
func ByUSB(r *rig.Rig, it *rig.Item) Route { return routerOf(r, rig.NewWiring(r), it).byUSB() }

// ByCapture takes a source's picture from its output, through a capture device that has to be bought.
func ByCapture(r *rig.Rig, it *rig.Item) Route { return routerOf(r, rig.NewWiring(r), it).byCapture() }

// lead is the lead in the first socket of a direction that has one, and the first such socket.
func (c *router) lead(d gear.Direction) (lead *rig.Lead, port *gear.Port) {
	for j := range c.it.Gear.Ports {
		p := &c.it.Gear.Ports[j]
		if p.Direction != d {
			continue
		}
		if port == nil {
			port = p
		}
		if k := c.g.LeadAt(c.at, j); k >= 0 {
			return &c.Leads[k], p
		}
	}
	return nil, port
}

// freeSocket is a free USB socket of the computer or a hub, the fastest first.
func (c *router) freeSocket() string {
	best, bestSpeed := "", usb.Speed("")
	for i := range c.Items {
		it := &c.Items[i]
		if !it.IsHost() && it.Gear.Kind != gear.Hub {
			continue
		}
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			if p.Direction != gear.Downstream || p.Connector.Family() != gear.USBFamily ||
				p.Connector == gear.Internal || c.g.LeadAt(i, j) >= 0 {
				continue
			}
			speed := usb.UnknownSpeed
			if p.USB != nil {
				speed = p.USB.Speed
			}
			if best == "" || usb.AtLeast(speed, bestSpeed) && speed != bestSpeed {
				best, bestSpeed = it.ID+"."+p.ID, speed
			}
		}
	}
	return best
}

func (c *router) newID(stem string) string {
	return rig.FreshID(c.it.ID[:min(len(c.it.ID), 40)]+"-"+stem, func(id string) bool {
		// room for what is put behind it
		return c.Item(id) != nil || c.Lead(id) != nil || c.Lead(id+"-in") != nil || c.Lead(id+"-usb") != nil ||
			c.Lead(id+"-run") != nil || c.Lead(id+"-out") != nil
	})
}

func (c *router) byUSB() (w Route) {
	lead, port := c.lead(gear.Upstream)
	switch {
	case port == nil:
		w.Why = lang.Text("its sheet has no USB socket")
		return w
	case len(c.it.Gear.Delivers) == 0:
		w.Why = lang.Text("its sheet lists no picture by USB: its USB may only charge it")
		return w
	case lead != nil:
		w.Now = true
		return w
	}
	picLead, _ := c.lead(gear.Out)
	socket := c.freeSocket()
	if picLead != nil {
		// The capture device it leaves gives its socket back.
		to, _ := rig.SplitRef(picLead.To)
		w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: picLead.ID})
		if stick := c.Item(to); stick != nil && stick.Gear.Kind == gear.Capture {
			for i := range c.Leads {
				if from, _ := rig.SplitRef(c.Leads[i].From); from == to {
					w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: c.Leads[i].ID})
					socket = c.Leads[i].To
				}
			}
		}
	}
	if socket == "" {
		return Route{Why: lang.Text("no USB socket of the computer is free")}
	}
	grade, length := string(usb.Lead5G), fact.Est(1.5, 1, 2)
	if picLead != nil { // as far as the lead went that it replaces
		if run := orSpan(picLead); run.Low > length.High {
			length = run
		}
	}
	if port.USB != nil && port.USB.Speed == usb.HighSpeed {
		grade = string(usb.USB2Lead)
	}
	w.Edits = append(w.Edits, rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: c.newID("usb"), From: c.it.ID + "." + port.ID,
		To: socket, Grade: grade, LengthM: length, AnySocket: true}})
	w.Minutes = c.WorkMinutes.Of(work.Swap)
	return w
}

func (c *router) byCapture() (w Route) {
	lead, port := c.lead(gear.Out)
	switch {
	case port == nil:
		w.Why = lang.Text("its sheet has no picture output")
		return w
	case lead != nil:
		w.Now = true
		return w
	}
	device, price := &gear.StrongerCapture[0].Gear, gear.StrongerCapture[0].Price
	grade := string(hdmi.Premium)
	if port.Connector.Family() == gear.SDIFamily {
		device, price, grade = &gear.SDIBox.Gear, gear.SDIBox.Price, string(sdi.RG6)
	}
	socket := c.freeSocket()
	if usbLead, _ := c.lead(gear.Upstream); usbLead != nil {
		w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: usbLead.ID})
		socket = usbLead.To
	}
	if socket == "" {
		return Route{Why: lang.Text("no USB socket of the computer is free")}
	}
	id := c.newID("capture")
	in, up := "", ""
	for i := range device.Ports {
		if device.Ports[i].Direction == gear.In {
			in = device.Ports[i].ID
		} else {
			up = device.Ports[i].ID
		}
	}
	w.Edits = append(w.Edits,
		rig.Edit{Do: "add", NewItem: &rig.Item{ID: id, Label: lang.Text("Capture for ") + c.it.Label, Gear: *device}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: id + "-in", From: c.it.ID + "." + port.ID, To: id + "." + in,
			Grade: grade, LengthM: fact.Est(2, 1, 3)}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: id + "-usb", From: id + "." + up, To: socket,
			Grade: string(usb.Lead5G), LengthM: fact.Exactly(0), AnySocket: true}})
	w.Cost, w.Minutes = price+priceLead, 2*c.WorkMinutes.Of(work.Swap)
	return w
}

// orSpan is how far a lead has to go, as far as is known.
func orSpan(l *rig.Lead) fact.Fact {
	if l.SpanM != nil {
		return *l.SpanM
	}
	return l.LengthM
}

// rebuilds are the moves that lay a way differently, or put something between: another way in for a source in trouble,
// coax for a long HDMI lead, a hub with a supply before what a socket does not feed. They are looked at where plain
// moves do not mend a rig, and offered beside them.
func (u *universe) rebuilds() []Move {
	var out []Move
	trouble, feeds := map[string]bool{}, map[string]bool{}
	for i := range u.p.Results {
		l := &u.p.Results[i]
		if l.State != limit.Snapped {
			continue
		}
		for _, id := range l.Where {
			feeds[id] = feeds[id] || l.ID.Rule == rules.PortCurrent
			trouble[id] = trouble[id] || !l.Shared && l.Stage != plans.Send
		}
		if (l.ID.Rule == rules.Reach || l.ID.Rule == rules.Grade) && u.Lead(l.ID.Place) != nil &&
			u.family(u.Lead(l.ID.Place)) == gear.HDMIFamily {
			out = append(out, *u.coax(u.Lead(l.ID.Place)))
		}
	}
	for i := range u.Items {
		it := &u.Items[i]
		if !it.Gear.Kind.Shoots() || !trouble[it.ID] || len(out) >= mostRebuilds {
			continue
		}
		c := routerOf(u.Rig, u.g, it)
		if w := c.byUSB(); w.Why == "" && !w.Now {
			m := u.way("by-usb:", it, w, func() (string, string) {
				return lang.Text("Take the picture of %s by its own USB instead", it.Label),
					lang.Text("%s by its own USB", it.Label)
			})
			if d := slices.MaxFunc(it.Gear.Delivers, func(a, b gear.Delivery) int {
				return a.Height - b.Height
			}); d.Height < u.Show.Programme.Height {
				m.GivesUp, m.loss = u.loses(d.Width, d.Height, picture.Rate{})
			}
			out = append(out, m)
		}
		if w := c.byCapture(); w.Why == "" && !w.Now {
			out = append(out, u.way("by-capture:", it, w, func() (string, string) {
				return lang.Text("Take the picture of %s from its output, through a capture device", it.Label),
					lang.Text("%s through a capture device", it.Label)
			}))
		}
	}
	began := len(u.out)
	u.hubBetween(feeds)
	out = append(out, u.out[began:]...)
	u.out = u.out[:began]
	slices.SortStableFunc(out, func(a, b Move) int {
		return cmp.Or(cmp.Compare(len(a.GivesUp), len(b.GivesUp)), cmp.Compare(costOf(&a), costOf(&b)),
			strings.Compare(a.ID, b.ID))
	})
	return out[:min(len(out), mostRebuilds)]
}

// mostRebuilds bounds the ways that are laid differently: each is judged whole.
const mostRebuilds = 16

func (u *universe) way(prefix string, it *rig.Item, w Route, say func() (string, string)) Move {
	touches := []string{it.ID, "show"} // angles hang on every way there is
	for i := range w.Edits {
		if w.Edits[i].Do == "unplug" {
			touches = append(touches, w.Edits[i].Lead)
		}
	}
	m := move("way", prefix+it.ID, it.ID).
		slotted("way:" + it.ID).
		touching(touches...).
		taking(w.Minutes).
		worse(10).
		proposing().
		saying(say).
		doing(w.Edits...)
	if w.Cost > 0 {
		m.Cost = u.money(w.Cost)
	}
	return *m
}

// BySDI takes SDI for an HDMI lead: a converter at either end and coax between them.
func BySDI(r *rig.Rig, l *rig.Lead) Move {
	m := universeOf(verdict.Bare(r, rig.NewWiring(r))).coax(l)
	m.word()
	return *m
}

// coax takes SDI for an HDMI lead that does not reach: a converter at either end and coax between them.
func (u *universe) coax(l *rig.Lead) *Move {
	from, _ := u.Port(l.From)
	c := routerOf(u.Rig, u.g, from)
	id := c.newID("sdi")
	metres := orSpan(l)
	short, thin := fact.Exactly(0.5), false
	lead := func(n, a, b, grade string, length fact.Fact) rig.Edit {
		return rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: id + n, From: a, To: b, Grade: grade, LengthM: length}}
	}
	far := rig.FreshID(id+"-far", func(id string) bool { return u.Item(id) != nil })
	edits := []rig.Edit{
		{Do: "add", NewItem: &rig.Item{ID: id, Label: lang.Text("Converter at %s", from.Label), Gear: gear.ToSDI.Gear}},
		{Do: "add", NewItem: &rig.Item{ID: far, Label: lang.Text("Converter for %s", from.Label),
			Gear: gear.FromSDI.Gear}},
		{Do: "plug", Lead: l.ID, End: "to", Socket: id + ".in"},
		{Do: "lead", Lead: l.ID, Grade: string(hdmi.Premium), LengthM: &short, Thin: &thin},
	}
	if l.SpanM != nil { // the run is the coax's now
		edits = append(edits, rig.Edit{Do: "fact", Path: "leads/" + l.ID + "/spanM", Fact: &short})
	}
	edits = append(edits, lead("-run", id+".out", far+".in", string(sdi.RG6), metres),
		lead("-out", far+".out", l.To, string(hdmi.Premium), short))
	_, minutes := u.WorkMinutes.Lay(true, metres.Value, work.Walk(l.OverWalk))
	return move("way", "coax:"+l.ID, l.ID).
		slotted("lead:"+l.ID).
		touching(l.ID, from.ID).
		taking(minutes + 2*u.takes(work.Desk)).
		costing(u.money(gear.ToSDI.Price + gear.FromSDI.Price + priceCoax + gear.Amount(float64(priceCoaxMetre)*
			metres.Value) + 2*priceShortLead)).
		worse(10).
		proposing().
		saying(func() (string, string) {
			return lang.Text("Take SDI for the lead %s: a converter at either end and %s m of coax", u.p.LeadTitle(l),
				say.Number(metres.Value)), lang.Text("SDI for %s", from.Label)
		}).
		doing(edits...)
}

// rebuilt looks for a way to mend a rig by laying one way differently, and whatever plain moves it takes then. It
// counts where plain moves alone mend nothing, or give up more of the picture; where they only cost more, it stands
// among the fixes.
func (s *search) rebuilt(best *found) *found {
	if best != nil && best.givenUp() == 0 {
		return best
	}
	u := universeOf(s.b.Verdict)
	most := s.b.Work + s.limit/rebuildShare // plain moves come first
	for _, m := range u.rebuilds() {
		if s.over() || s.b.Work > most {
			break
		}
		f := s.afterWithin(s.b.Given, nil, m, s.limit/rebuildShare/4)
		if f == nil || f.state == limit.Snapped {
			continue
		}
		if best == nil || cmp.Or(cmp.Compare(f.givenUp(), best.givenUp()),
			cmp.Compare(len(f.moves), len(best.moves))) < 0 ||
			f.givenUp() == best.givenUp() && len(f.moves) == len(best.moves) && f.less(best) {
			best = f
		}
	}
	return best
}

// worthTrying are the ways that are laid differently for something no plain move mends for nothing.
func worthTrying(b *verdict.Base, plain, rebuilds []Move) []Move {
	free := map[engine.ID]bool{}
	for i := range plain {
		if m := &plain[i]; m.Judged != nil && m.GivesUp == "" && costOf(m) == 0 {
			for _, id := range m.Judged.mends {
				free[id] = true
			}
		}
	}
	return slices.DeleteFunc(rebuilds, func(m Move) bool {
		for i := range b.Results {
			if l := &b.Results[i]; l.State == limit.Snapped && !free[l.ID] && touchesAny(l.Where, m.touches) {
				return false
			}
		}
		return true
	})
}

// rebuildShare is the part of the effort that looking for another way may take: one in so many.
const rebuildShare = 32

// rebuilds tells whether a set of moves lays a way differently.
func (f *found) rebuilds() bool {
	return f != nil && slices.ContainsFunc(f.moves, func(m Move) bool { return m.Kind == "way" })
}

// givenUp is what a set of moves costs the picture or the show, to compare.
func (f *found) givenUp() (n int) {
	for i := range f.moves {
		if f.moves[i].GivesUp != "" {
			n += f.moves[i].loss
		}
	}
	return n
}
