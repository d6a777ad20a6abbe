package advise

import (
	"math"
	"slices"
	"strconv"

	"eventether/core/engine"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/say"
	"eventether/core/sdi"
	"eventether/core/usb"
	"eventether/core/verdict"
	"eventether/core/work"
)

// Move is one thing a person can do to a rig, as edits, with what it costs and what it would bring.
type Move struct {
	ID      string      `json:"id"`
	Kind    string      `json:"kind" enum:"plug,mode,deliver,lead,length,setting,power,send,swap,show,way"`
	Of      string      `json:"of" doc:"The item or lead it is done to"`
	Slot    string      `json:"slot" doc:"Moves with the same slot exclude each other"`
	Label   string      `json:"label" doc:"What to do, as an order"`
	Short   string      `json:"short" doc:"The same in a few words, for the verdict's sentence"`
	Edits   []rig.Edit  `json:"edits"`
	Minutes float64     `json:"minutes"`
	Cost    *gear.Money `json:"cost,omitempty" doc:"What has to be bought, estimated"`
	GivesUp string      `json:"givesUp,omitempty" doc:"What the picture or the show loses"`
	// Judged is what the move would do; set on fixes and on ghosts.
	Judged *Judged `json:"judged,omitempty"`

	say     func() (label, short string)
	touches []string // ids of the things it changes
	anew    bool     // what is proposed for open choices may be another after it
	half    bool     // leaves the rig unsound by itself: a plug into a socket another one is still in
	loss    int
}

// word puts a move into words.
func (m *Move) word() {
	if m.say != nil {
		m.Label, m.Short = m.say()
	}
}

// Line is the move with what it takes, in one line.
func (m *Move) Line() string {
	takes := lang.Text("%s min", say.Number(m.Minutes))
	if m.Cost != nil && m.Cost.Amount > 0 {
		takes += ", " + lang.Text("about %s", m.Cost.String())
	}
	if m.GivesUp != "" {
		takes += ", " + lang.Text("gives up %s", m.GivesUp)
	}
	return m.Label + " (" + takes + ")"
}

// Judged says what a change would do to the rig.
type Judged struct {
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped" doc:"The rig afterwards"`
	Heals   []string    `json:"heals" doc:"Limits that get better, by id"`
	Strains []string    `json:"strains" doc:"Limits that get worse, by id"`
	Words   string      `json:"words" doc:"The same in words"`

	heals, strains []engine.ID
	mends          []engine.ID // of what it heals, what holds then
	lessens        []lessened
}

// lessened is a limit that stays untested after a move, with less at its worst.
type lessened struct {
	id    engine.ID
	ratio limit.Bounds // load against limit, after
}

// worthLess is what may be left, at most, of the worst a limit may come to, for a move to be worth naming.
const worthLess = 0.85

// inReach is how many times its limit it may still come to then: of what may be fifteen times too much a question is the answer.
const inReach = 3

// Moves lists everything that can be done to a rig in one move: a plug into a free socket (into a taken one only when
// no like socket is free), another mode, another picture from a capture device, another lead, a setting, mains power,
// a smaller sent picture, a stronger capture device. Sockets that are alike (same item, controller and speed) count
// once. The list is complete for what Advise searches through.
func Moves(r *rig.Rig) []Move {
	out := movesOn(verdict.Bare(r, rig.NewWiring(r)), nil)
	for i := range out {
		out[i].word()
	}
	return out
}

// movesOn lists the moves that touch one of the given ids, or all of them.
func movesOn(p *verdict.Verdict, ids map[string]bool) []Move { return universeOf(p).on(ids) }

func (u *universe) on(ids map[string]bool) []Move {
	r := u.Rig
	for i := range r.Leads {
		if ids == nil || ids[r.Leads[i].ID] {
			u.plugs(i)
			u.leads(i)
		}
	}
	for i := range r.Items {
		it := &r.Items[i]
		if ids != nil && !ids[it.ID] {
			continue
		}
		u.modes(it)
		u.delivers(it)
		u.settings(it)
		u.swaps(it)
	}
	if ids == nil || ids["send"] {
		u.sends()
	}
	if ids == nil || ids["send"] || ids["show"] {
		u.mends()
	}
	if ids == nil || ids["show"] {
		u.shows()
	}
	if ids == nil || ids["sound"] {
		u.hears()
	}
	return u.out
}

func universeOf(p *verdict.Verdict) *universe { return &universe{Rig: p.Rig, g: p.Wiring, p: p} }

type universe struct {
	*rig.Rig
	g   *rig.Wiring
	p   *verdict.Verdict // for what it knows of the rig; it need not have run
	out []Move
	// mine is where the moves of the item at hand begin.
	mine int
	// sound leaves out moves that leave a rig unsound by themselves.
	sound   bool
	sockets map[spotKind][]spot
	classes map[socketClass]int
}

func (u *universe) add(m Move) { u.out = append(u.out, m) }

func (u *universe) money(a gear.Amount) *gear.Money { return Price(u.Rig, a) }

// socketClass groups sockets that are alike for the bus.
type socketClass struct {
	item          string
	controller    string
	speed         usb.Speed
	connector     gear.Connector
	in            string    // picture inputs are each their own
	allows, volts fact.Fact // and what it gives
}

// spot is a socket of the rig.
type spot struct {
	item, port int
	class      int // sockets alike have one number
	taken      bool
}

// spots are the sockets of a direction and family, in the order of the sheets.
func (u *universe) spots(d gear.Direction, f gear.Family) []spot {
	if u.sockets == nil {
		u.sockets, u.classes = map[spotKind][]spot{}, map[socketClass]int{}
		for i := range u.Items {
			it := &u.Items[i]
			for j := range it.Gear.Ports {
				port := &it.Gear.Ports[j]
				if port.Direction != gear.In && port.Direction != gear.Downstream || port.Connector == gear.Internal {
					continue
				}
				c := classOf(it, port)
				n, ok := u.classes[c]
				if !ok {
					n = len(u.classes)
					u.classes[c] = n
				}
				k := spotKind{port.Direction, port.Connector.Family()}
				u.sockets[k] = append(u.sockets[k], spot{i, j, n, u.g.LeadAt(i, j) >= 0})
			}
		}
	}
	return u.sockets[spotKind{d, f}]
}

type spotKind struct {
	direction gear.Direction
	family    gear.Family
}

// plugged is a lead as its plug moves: the device it is of, the socket it is in, and which end of the lead that is.
type plugged struct {
	dev, devPort, host, socket int
	end                        string
	wants                      gear.Direction
}

func (u *universe) pluggedAs(at int) (p plugged, ok bool) {
	fi, fp, ti, tp := u.g.LeadEnds(at)
	if fi < 0 {
		return p, false
	}
	p = plugged{fi, fp, ti, tp, "to", gear.In}
	if d := u.Items[fi].Gear.Ports[fp].Direction; d == gear.In || d == gear.Downstream { // called from its far end
		p.dev, p.devPort, p.host, p.socket, p.end = ti, tp, fi, fp, "from"
	}
	from, to := &u.Items[p.dev].Gear.Ports[p.devPort], &u.Items[p.host].Gear.Ports[p.socket]
	if from.Direction == gear.Upstream {
		p.wants = gear.Downstream
	}
	return p, from.Connector != gear.Internal && to.Connector != gear.Internal && (u.Leads[at].LengthM.High > 0 || from.Connector.Family() != gear.HDMIFamily)
}

// elsewhere lists a free socket of every kind a plug is not in, and a taken one of every kind none is free of.
func (u *universe) elsewhere(p plugged) (free, taken []spot) {
	dev := &u.Items[p.dev]
	from, to := &dev.Gear.Ports[p.devPort], &u.Items[p.host].Gear.Ports[p.socket]
	passesOn := slices.ContainsFunc(dev.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.In || p.Direction == gear.Downstream })
	spots := u.spots(p.wants, from.Connector.Family())
	is, ok := u.classes[classOf(&u.Items[p.host], to)]
	if !ok {
		is = -1
	}
	var above []bool
	if passesOn {
		above = u.g.Above(p.dev)
	}
	const hasFree, hasTaken = 1, 2
	marks := make([]uint8, len(u.classes))
	for _, s := range spots {
		if s.item == p.dev || s.class == is || s.item == p.host && s.port == p.socket || marks[s.class]&hasFree != 0 || s.taken && marks[s.class]&hasTaken != 0 {
			continue
		}
		it := &u.Items[s.item]
		if port := &it.Gear.Ports[s.port]; p.wants == gear.Downstream && !plugFits(to.Connector, port.Connector) && (!adapts(to, port) || s.taken) {
			continue
		}
		if passesOn && !it.IsHost() && above[s.item] {
			continue // into what hangs on it: a loop
		}
		if p.wants == gear.Downstream && onlyFeeds(it) && !onlyFeeds(&u.Items[p.host]) && (from.USB != nil || passesOn) {
			continue // nobody mends a picture by taking its plug out of the computer
		}
		if s.taken {
			marks[s.class] |= hasTaken
			taken = append(taken, s)
		} else {
			marks[s.class] |= hasFree
			free = append(free, s)
		}
	}
	return free, slices.DeleteFunc(taken, func(s spot) bool { return marks[s.class]&hasFree != 0 })
}

// onlyFeeds tells whether USB sockets of a thing give power and nothing else.
func onlyFeeds(it *rig.Item) bool {
	return it.Gear.Kind == gear.Supply || it.Gear.Kind == gear.PowerBank
}

// adapts tells whether a plug that is in one USB socket goes into another by an adapter.
func adapts(was, now *gear.Port) bool {
	return was.Connector == gear.USBA && now.Connector == gear.USBC
}

func (u *universe) plugs(at int) {
	p, ok := u.pluggedAs(at)
	if !ok {
		return
	}
	l, dev := &u.Leads[at], &u.Items[p.dev]
	free, taken := u.elsewhere(p)
	for _, s := range free {
		it := &u.Items[s.item]
		port := &it.Gear.Ports[s.port]
		m := u.plug(l, p.end, dev, it, port)
		if to := &u.Items[p.host].Gear.Ports[p.socket]; p.wants == gear.Downstream && !plugFits(to.Connector, port.Connector) {
			u.adapt(&m, dev, it, port)
		}
		u.add(m)
	}
	if u.sound {
		return
	}
	for _, s := range taken {
		it := &u.Items[s.item]
		m := u.plug(l, p.end, dev, it, &it.Gear.Ports[s.port])
		m.half = true
		u.add(m)
	}
}

// adapt makes a plug of another shape fit by an adapter.
func (u *universe) adapt(m *Move, dev, it *rig.Item, port *gear.Port) {
	m.Cost = u.money(priceAdapter)
	m.say = func() (label, short string) {
		return lang.Text("Put %s into %s of %s by an adapter from A to C", dev.Label, rig.PortName(port), it.Label),
			lang.Text("%s to %s by an adapter", dev.Label, rig.PortName(port))
	}
}

// hubBetween puts a hub with a supply of its own between a device and a socket that does not give it enough.
func (u *universe) hubBetween(ids map[string]bool) {
	for at := range u.Leads {
		l := &u.Leads[at]
		fi, fp, ti, tp := u.g.LeadEnds(at)
		if !ids[l.ID] || fi < 0 || u.Items[fi].Gear.Ports[fp].Direction != gear.Upstream || u.Items[ti].Gear.Ports[tp].Connector != gear.USBA {
			continue
		}
		dev, it, port := &u.Items[fi], &u.Items[ti], &u.Items[ti].Gear.Ports[tp]
		if r := u.p.Find(engine.ID{Rule: rules.PortCurrent, Place: it.ID + "." + port.ID}); r == nil || r.State != limit.Snapped && r.State != limit.Untested || dev.Gear.Kind == gear.Hub || dev.Gear.Kind == gear.Dock {
			continue
		}
		taken := func(id string) bool { return u.Item(id) != nil || u.Lead(id) != nil }
		id := rig.FreshID("powered-hub", taken)
		lead := rig.FreshID(id+"-up", taken)
		g := gear.PoweredHub.Gear
		hub, length := rig.Item{ID: id, Label: lang.Text("Powered hub"), Gear: g}, fact.Exactly(0.5)
		u.add(Move{ID: "hub:" + l.ID, Kind: "way", Of: l.ID, Slot: "plug:" + l.ID, anew: true, touches: []string{l.ID, it.ID}, Minutes: u.takes(work.Swap), Cost: u.money(gear.PoweredHub.Price),
			say: func() (string, string) {
				return lang.Text("Put a hub with a supply of its own between %s and %s", dev.Label, rig.PortName(port)), lang.Text("a powered hub before %s", dev.Label)
			},
			Edits: []rig.Edit{{Do: "add", NewItem: &hub}, {Do: "plug", Lead: l.ID, End: "to", Socket: id + ".p1"},
				{Do: "lay", NewLead: &rig.Lead{ID: lead, From: id + ".up", To: it.ID + "." + port.ID, Grade: "usb-5g", LengthM: length}}}})
	}
}

func classOf(it *rig.Item, port *gear.Port) socketClass {
	c := socketClass{item: it.ID, controller: port.Controller, connector: port.Connector}
	if port.USB != nil {
		c.speed = port.USB.Speed
	}
	if port.AllowsMA != nil {
		c.allows = *port.AllowsMA
	}
	if port.Volts != nil {
		c.volts = *port.Volts
	}
	if port.Direction == gear.In || port.Slot != nil {
		c.in = port.ID
	}
	return c
}

// plugFits tells whether a plug that is in one USB socket goes into another.
func plugFits(was, now gear.Connector) bool { return was == now }

func (u *universe) plug(l *rig.Lead, end string, dev, it *rig.Item, port *gear.Port) Move {
	ref := it.ID + "." + port.ID
	m := Move{ID: "plug:" + l.ID + ":" + ref, Kind: "plug", Of: l.ID, Slot: "plug:" + l.ID, touches: []string{l.ID}, Minutes: u.takes(work.Plug),
		Edits: []rig.Edit{{Do: "plug", Lead: l.ID, End: end, Socket: ref}}}
	m.say = func() (label, short string) {
		return lang.Text("Put %s into %s of %s", dev.Label, rig.PortName(port), it.Label),
			lang.Text("%s to %s", dev.Label, rig.PortName(port))
	}
	if port.Connector == gear.PCIe {
		m.Minutes = u.takes(work.Card)
		m.say = func() (label, short string) {
			return lang.Text("Switch %s off and unplug it, touch metal before you reach in, and move %s to %s", it.Label, dev.Label, rig.PortName(port)),
				lang.Text("%s to %s", dev.Label, rig.PortName(port))
		}
	}
	return m
}

// Lengths leads are sold in, metres [practice].
var soldLengths = []float64{0.5, 1, 2, 3, 5, 7.5, 10, 15, 20, 30, 50}

// thickAWG is the gauge of the wires for power in a USB lead that is bought for a device which draws from it [practice].
var thickAWG = fact.Est(24, 22, 24)

// soldAs is the shortest lead sold that goes so far.
func soldAs(metres float64) float64 {
	for _, m := range soldLengths {
		if m >= metres {
			return m
		}
	}
	return math.Ceil(metres)
}

func (u *universe) leads(at int) {
	l := &u.Leads[at]
	fi, fp, _, _ := u.g.LeadEnds(at)
	if fi < 0 || l.LengthM.High == 0 {
		return
	}
	// Another lead is as long as this one; where it may not go as far as it has to, as long as that takes.
	metres, short := l.LengthM.Value, false
	if span := l.SpanM; span != nil && span.High > l.LengthM.Low {
		if far := soldAs(span.High); far > metres {
			metres, short = far, true
		}
	}
	// shorter is a length sold between the run and the lead as it is.
	shorter := func() (float64, bool) {
		if span := l.SpanM; span != nil && span.High < l.LengthM.Low {
			m := soldAs(span.High)
			return m, m < l.LengthM.Low
		}
		return 0, false
	}
	switch u.Items[fi].Gear.Ports[fp].Connector.Family() {
	case gear.HDMIFamily:
		if m, ok := shorter(); ok {
			u.lead(l, string(hdmi.Premium), m, 12, 2.5)
		}
		grade := hdmi.Grade(l.Grade)
		switch grade {
		case hdmi.Unknown, hdmi.StandardHD, hdmi.HighSpeed:
			u.lead(l, string(hdmi.Premium), metres, 12, 2.5)
		case hdmi.Premium, hdmi.UltraHigh:
			if short {
				u.lead(l, l.Grade, metres, 12, 2.5)
			}
		}
		if grade != hdmi.Active || short {
			u.lead(l, string(hdmi.Active), metres, 30, 2)
		}
		if grade != hdmi.Optical || short {
			u.lead(l, string(hdmi.Optical), metres, 50, 2)
		}
		if short && grade == hdmi.HighSpeed {
			u.lead(l, l.Grade, metres, 8, 2)
		}
		if grade.Directional() && l.Direction == "wrong" {
			u.turn(l)
		}
		if l.Adapters > 0 && !short {
			u.lead(l, l.Grade, metres, 10, 2.5)
		}
	case gear.SDIFamily:
		class := sdi.Class(l.Grade)
		if short || class == sdi.RG179 || class == sdi.RG59 || class == sdi.UnknownCoax {
			u.lead(l, string(sdi.RG6), metres, 8, 1.2)
		}
		if class != sdi.Optical || short {
			u.lead(l, string(sdi.Optical), metres, 180, 1)
		}
	case gear.USBFamily:
		if m, ok := shorter(); ok {
			u.lead(l, string(usb.Lead5G), m, 8, 2)
		}
		switch usb.Grade(l.Grade) {
		case usb.ChargeOnly, usb.USB2Lead, usb.UnknownGrade:
			if !short {
				metres = min(metres, 2)
			}
			u.lead(l, string(usb.Lead5G), metres, 8, 2)
		default:
			if short || l.AWG == nil || l.AWG.High > thickAWG.Value { // or thicker, where the voltage at its end is short
				u.lead(l, l.Grade, metres, 8, 2)
			}
		}
	}
}

// lead is the move to another lead; its price is a base and so much a metre [estimate].
func (u *universe) lead(l *rig.Lead, grade string, metres, base, perMetre float64) {
	length, thin := fact.Exactly(metres), false
	m := Move{ID: "lead:" + l.ID + ":" + grade + ":" + say.Number(metres), Kind: "lead", Of: l.ID, Slot: "lead:" + l.ID, touches: []string{l.ID},
		Minutes: u.lay(u.family(l), metres), Cost: u.money(gear.Amount(math.Round((base + perMetre*metres) * 100))),
		Edits: []rig.Edit{{Do: "lead", Lead: l.ID, Grade: grade, LengthM: &length, Thin: &thin}}}
	thick := ""
	if u.family(l) == gear.USBFamily { // one whose wires for power are thick: what it loses is known before it is bought
		awg := thickAWG
		m.Edits = append(m.Edits, rig.Edit{Do: "fact", Path: "leads/" + l.ID + "/awg", Fact: &awg})
		thick = lang.Text(", %s AWG for power", say.Number(awg.Value))
	}
	m.say = func() (label, short string) {
		if l.SpanM != nil && metres != l.LengthM.Value {
			return lang.Text("Replace the lead %s by %s, %s m%s: the run is %s m", u.p.LeadTitle(l), plans.GradeName(grade), say.Number(metres), thick, say.Number(l.SpanM.High)),
				lang.Text("lead of %s to %s %s m", u.Items[u.end(l)].Label, plans.GradeName(grade), say.Number(metres))
		}
		return lang.Text("Replace the lead %s by %s, %s m%s", u.p.LeadTitle(l), plans.GradeName(grade), say.Number(metres), thick),
			lang.Text("lead of %s to %s %s m", u.Items[u.end(l)].Label, plans.GradeName(grade), say.Number(metres))
	}
	u.add(m)
}

// family is the connector family of a lead's ends.
func (u *universe) family(l *rig.Lead) gear.Family {
	if _, p := u.Port(l.From); p != nil {
		return p.Connector.Family()
	}
	return ""
}

// turn is the move that lays an active or optical lead the other way round.
func (u *universe) turn(l *rig.Lead) {
	u.add(Move{ID: "turn:" + l.ID, Kind: "lead", Of: l.ID, Slot: "lead:" + l.ID, touches: []string{l.ID}, Minutes: u.takes(work.Turn),
		say: func() (string, string) {
			return lang.Text("Turn the lead %s round: its source end belongs to the source", u.p.LeadTitle(l)), lang.Text("lead of %s turned round", u.Items[u.end(l)].Label)
		},
		Edits: []rig.Edit{{Do: "word", Path: "leads/" + l.ID + "/direction", Word: "right"}}})
}

// end is the index of the item at a lead's From end.
func (u *universe) end(l *rig.Lead) int {
	id, _ := rig.SplitRef(l.From)
	return slices.IndexFunc(u.Items, func(it rig.Item) bool { return it.ID == id })
}

func (u *universe) modes(it *rig.Item) {
	if !it.IsSource() && it.Gear.Kind != gear.Switcher {
		return
	}
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Out || !it.IsSource() && len(port.Modes) < 2 {
			continue
		}
		now, assumed := u.p.OutputMode(it, port)
		for _, mode := range port.Modes {
			if mode == now && !assumed || u.nobodySets(it, mode.Rate) {
				continue
			}
			m := Move{ID: "mode:" + it.ID + "." + port.ID + ":" + u.Mode(mode), Kind: "mode", Of: it.ID, Slot: "mode:" + it.ID + "." + port.ID,
				touches: []string{it.ID}, Minutes: u.takes(work.Mode), Edits: []rig.Edit{{Do: "mode", Item: it.ID, Port: port.ID, Mode: &mode}}}
			m.GivesUp, m.loss = u.loses(mode.Width, mode.Height, mode.Rate)
			if mode.Rate != u.Show.Programme.Rate { // of equal moves, the programme's own rate
				m.loss++
			}
			if mode.Width != now.Width { // and the size it has
				m.loss += 2
			}
			m.say = func() (label, short string) {
				return lang.Text("Set %s to %s", it.Label, plans.ModeText(&mode)),
					lang.Text("%s to %s", it.Label, mode.Name())
			}
			u.add(m)
		}
	}
}

// nobodySets tells of a rate a console, a player or a computer is not set to for a show that wants more: games and slides at 24
// frames to fit a card.
func (u *universe) nobodySets(it *rig.Item, rate picture.Rate) bool {
	switch it.Gear.Kind {
	case gear.Console, gear.Player, gear.Computer:
		return rate.Nominal() < 29 && rate.Nominal() < u.Show.Programme.Rate.Nominal()
	}
	return false
}

// Mode is a mode as an id.
func (u *universe) Mode(m picture.Mode) string {
	return m.Name() + "/" + string(m.Chroma) + strconv.Itoa(m.Depth())
}

// loses says what a picture gives up against the programme, and how much for ordering.
func (u *universe) loses(w, h int, r picture.Rate) (string, int) {
	pr := u.Show.Programme
	switch {
	case w < pr.Width || h < pr.Height:
		return lang.Text("a picture smaller than the programme"), 1000 - h/10
	case !r.IsZero() && r.Nominal() < pr.Rate.Nominal():
		return lang.Text("fewer frames than the programme"), 500
	}
	return "", 0
}

func (u *universe) delivers(it *rig.Item) {
	if len(it.Gear.Delivers) < 2 {
		return
	}
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Upstream {
			continue
		}
		var now rig.Deliver
		asked := false
		if it.Set != nil {
			now, asked = it.Set.Deliver[port.ID]
		}
		for _, d := range it.Gear.Delivers {
			if asked && d.Format == now.Format && (now.Width == 0 || d.Width == now.Width && d.Height == now.Height) {
				continue
			}
			m := Move{Kind: "deliver", Of: it.ID, Slot: "deliver:" + it.ID + "." + port.ID, touches: []string{it.ID}, Minutes: u.takes(work.Deliver),
				ID:    "deliver:" + it.ID + "." + port.ID + ":" + string(d.Format) + ":" + picture.SizeName(d.Width, d.Height),
				Edits: []rig.Edit{{Do: "deliver", Item: it.ID, Port: port.ID, Deliver: &rig.Deliver{Format: d.Format, Width: d.Width, Height: d.Height, Rate: now.Rate}}}}
			m.GivesUp, m.loss = u.loses(d.Width, d.Height, picture.Rate{})
			m.loss += 10 - d.Format.Richness()
			m.say = func() (label, short string) {
				return lang.Text("Take %s %s from %s", string(d.Format), picture.SizeName(d.Width, d.Height), it.Label),
					lang.Text("%s to %s", it.Label, string(d.Format))
			}
			u.add(m)
		}
	}
}

func (u *universe) settings(it *rig.Item) {
	u.mine = len(u.out)
	if it.Gear.Clean == gear.AfterSetting && it.Set != nil && it.Set.InfoDisplay == "on" {
		u.add(Move{ID: "info-display:" + it.ID, Kind: "setting", Of: it.ID, Slot: "info-display:" + it.ID, touches: []string{it.ID}, Minutes: u.takesSetting(),
			say: func() (string, string) {
				return lang.Text("Turn the information display of %s off", it.Label), lang.Text("information display of %s off", it.Label)
			},
			Edits: []rig.Edit{{Do: "info-display", Item: it.ID, Word: "off"}}})
	}
	u.ownSettings(it)
	if it.Gear.Protected == gear.UntilTurnedOff && it.Set != nil && it.Set.Protection == "on" {
		u.set(it, "protection", "off", func(_, item string) (string, string) {
			return lang.Text("Turn the encryption of %s off in its own menu, where its maker allows it", item), lang.Text("encryption of %s off", item)
		})
	}
	if it.IsHost() && it.Set != nil {
		for _, of := range plans.Undisturbed {
			if it.Set.Undisturbed[of.ID] == "on" {
				u.set(it, of.ID, "off", func(_, item string) (string, string) {
					return lang.Text("Turn off until the show is over, on %s: %s", item, lang.Text(of.Name)), lang.Text("off on %s: %s", item, lang.Text(of.Name))
				})
			}
		}
	}
	if it.Set != nil && it.Set.Upright {
		u.set(it, "upright", "no", func(_, item string) (string, string) {
			return lang.Text("Lay %s level", item), lang.Text("%s level", item)
		})
	}
	u.shutter(it)
	u.spare(it)
	u.feed(it)
	u.restart(it)
	u.touch(it)
	u.onBattery(it)
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || it.Set != nil && it.Set.RunsOn == "mains" || pw.Mains != gear.MainsYes && pw.Mains != gear.MainsDummy {
		return
	}
	m := Move{ID: "runs-on:" + it.ID, Kind: "power", Of: it.ID, Slot: "runs-on:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Power),
		say: func() (string, string) {
			return lang.Text("Run %s from the mains by its adapter", it.Label), lang.Text("%s on the mains", it.Label)
		},
		Edits: []rig.Edit{{Do: "runs-on", Item: it.ID, Word: "mains"}}}
	if pw.Mains == gear.MainsDummy {
		m.Cost = u.money(priceDummy)
		m.say = func() (string, string) {
			return lang.Text("Run %s from the mains by a dummy battery (right voltage and polarity, from a maker you can name)", it.Label), lang.Text("%s on a dummy battery", it.Label)
		}
	}
	u.add(m)
}

// restart has somebody stop a recording in a camera and start it again, before the camera ends it by itself.
func (u *universe) restart(it *rig.Item) {
	every, ok := plans.RestartEvery(it)
	if !ok || it.Gear.RecordLimitMinutes.Low >= u.Show.Minutes {
		return
	}
	m := Move{ID: "restart:" + it.ID, Kind: "setting", Of: it.ID, Slot: "restart:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Setting), loss: 5, GivesUp: lang.Text("a few seconds of it each time"),
		say: func() (string, string) {
			return lang.Text("Stop the recording in %s and start it again every %s min at the latest, in a break if there is one", it.Label, say.Number(every)), lang.Text("recording in %s started again", it.Label)
		}}
	for i := range u.Show.Recordings {
		if rec := &u.Show.Recordings[i]; rec.InCamera && rec.What == it.ID && !rec.Restarts {
			m.Edits = append(m.Edits, rig.Edit{Do: "word", Path: "show/recordings/" + strconv.Itoa(i) + "/restarts", Word: "yes"})
		}
	}
	if len(m.Edits) > 0 {
		u.add(m)
	}
}

// touch has somebody touch a device that sleeps and has no setting against it, before it does.
func (u *universe) touch(it *rig.Item) {
	every, ok := plans.TouchEvery(it, u.PlanningCeiling())
	if !ok || it.Gear.Standby.AfterMinutes.Low*u.PlanningCeiling() >= u.Show.Minutes || it.Set != nil && it.Set.Touched {
		return
	}
	if l := u.p.Find(engine.ID{Rule: rules.Standby, Place: it.ID}); l == nil {
		return // its settings see to it
	}
	u.add(Move{ID: "touch:" + it.ID, Kind: "setting", Of: it.ID, Slot: "touch:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Setting), loss: 5, GivesUp: lang.Text("a hand during the show"),
		say: func() (string, string) {
			return lang.Text("Touch %s every %s min at the latest during the show, so that it does not fall asleep: half-press, turn a dial", it.Label, say.Number(every)), lang.Text("%s touched in time", it.Label)
		},
		Edits: []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/set/touched", Word: "yes"}}})
}

// shutter sets a shutter that bands in the light of the place to one that does not.
func (u *universe) shutter(it *rig.Item) {
	hz := int64(u.Show.MainsHz)
	if it.Set == nil || it.Set.Shutter.IsZero() || hz == 0 || it.Set.Shutter.FreeOfFlicker(hz) {
		return
	}
	rate := u.Show.Programme.Rate
	for j := range it.Gear.Ports {
		if port := &it.Gear.Ports[j]; port.Direction == gear.Out {
			if m, _ := u.p.OutputMode(it, port); !m.Rate.IsZero() {
				rate = m.Rate
			}
			break
		}
	}
	if word := plans.LightOf(rate, hz).Shutter; word != "" {
		u.set(it, "shutter", word, func(word, item string) (string, string) {
			return lang.Text("Set the shutter of %s to %s s", item, word), lang.Text("shutter of %s to %s s", item, word)
		})
	}
}

// spare takes one charged battery more to the show: changing it is a gap in the picture.
func (u *universe) spare(it *rig.Item) {
	u.bank(it)
	pw := it.Gear.Power
	if pw == nil || pw.Battery == nil || !it.IsSource() || it.Set != nil && it.Set.RunsOn == "mains" {
		return
	}
	n := 1
	if it.Set != nil {
		n += it.Set.Spares
	}
	have := n - 1
	for _, n := range slices.Compact([]int{n, max(n, u.packsFor(it)-1)}) { // one more, and as many as it takes
		if n > 6 {
			continue
		}
		more := n - have
		u.add(Move{ID: "spare:" + it.ID + ":" + strconv.Itoa(n), Kind: "power", Of: it.ID, Slot: "runs-on:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Spare) * float64(more), Cost: u.money(priceSpare * gear.Amount(more)), loss: 20 * more,
			GivesUp: lang.Text("the picture while a battery is changed"), say: func() (string, string) {
				return lang.Text("Take %s for %s", say.Count(more, "more charged battery", "more charged batteries"), it.Label),
					lang.Text("%s for %s", say.Count(more, "spare battery", "spare batteries"), it.Label)
			},
			Edits: []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/set/spares", Word: strconv.Itoa(n)}}})
	}
}

// bank takes a second bank like the one a device runs on, to be changed when that is empty: with a battery of its own the
// device runs through the change.
func (u *universe) bank(it *rig.Item) {
	bank := u.Item(it.PoweredBy)
	if bank == nil || bank.Gear.Kind != gear.PowerBank || !it.IsSource() || it.Set == nil || it.Set.RunsOn != "usb" || bank.Set != nil && bank.Set.Spares > 2 {
		return
	}
	n := 1
	if bank.Set != nil {
		n += bank.Set.Spares
	}
	m := Move{ID: "bank:" + bank.ID + ":" + strconv.Itoa(n), Kind: "power", Of: bank.ID, Slot: "runs-on:" + bank.ID, touches: []string{bank.ID, it.ID}, Minutes: u.takes(work.Spare), Cost: u.money(priceBank), loss: 4,
		say: func() (string, string) {
			return lang.Text("Take one more bank like %s, and change over before it is empty: in the break, if there is one", bank.Label), lang.Text("one more bank like %s", bank.Label)
		},
		Edits: []rig.Edit{{Do: "word", Path: "items/" + bank.ID + "/set/spares", Word: strconv.Itoa(n)}}}
	if it.Gear.Power == nil || it.Gear.Power.Battery == nil {
		m.GivesUp, m.loss = lang.Text("the picture while the bank is changed"), 20
	}
	if !slices.ContainsFunc(u.out, func(o Move) bool { return o.ID == m.ID }) { // others may hang on it too
		u.add(m)
	}
}

// packsFor is how many of its batteries carry a device through the show at worst.
func (u *universe) packsFor(it *rig.Item) int {
	pack, usable := it.Gear.Power.Battery, gear.DefaultUsable
	if pack.UsableShare != nil {
		usable = *pack.UsableShare
	}
	one := power.RunMinutes(power.WattHours(pack.MAh.Low, pack.Volts.Low), usable.Low, it.Gear.Draws().High)
	if one <= 0 {
		return 99
	}
	return int(math.Ceil((u.Show.SetupMinutes + u.Show.RehearsalMinutes + u.Show.Minutes) / one))
}

// ownSettings puts settings of a device right, and turns off one of two that exclude each other.
func (u *universe) ownSettings(it *rig.Item) {
	for i := range it.Gear.Settings {
		s := &it.Gear.Settings[i]
		have, _ := plans.Stands(it, s)
		if k := s.Known(); k.Want != "" && have != k.Want {
			u.set(it, "settings/"+s.ID, k.Want, func(word, item string) (string, string) {
				return lang.Text("Set the %s of %s to %s", k.Label, item, word), lang.Text("%s of %s %s", k.Label, item, word)
			})
		}
		for _, id := range s.Excludes {
			if other := it.Gear.Setting(id); other != nil && have == "on" && plans.StandsOn(it, other) {
				for _, off := range []*gear.Setting{other, s} {
					label := off.Known().Label
					u.set(it, "settings/"+off.ID, "off", func(_, item string) (string, string) {
						return lang.Text("Turn the %s of %s off", label, item), lang.Text("%s of %s off", label, item)
					})
				}
			}
		}
	}
}

// set is the move that sets something on a device for this show.
func (u *universe) set(it *rig.Item, field, word string, say func(word, item string) (label, short string)) {
	m := Move{ID: "set:" + it.ID + ":" + field + ":" + word, Kind: "setting", Of: it.ID, Slot: "set:" + it.ID + ":" + field, touches: []string{it.ID}, Minutes: u.takesSetting(),
		say: func() (string, string) { return say(word, it.Label) }, Edits: []rig.Edit{{Do: "word", Path: "items/" + it.ID + "/set/" + field, Word: word}}}
	if !slices.ContainsFunc(u.out[u.mine:], func(o Move) bool { return o.ID == m.ID }) {
		u.add(m)
	}
}

// Anew tells whether a move is judged with what is proposed for the rig after it, rather than with the choices as they were.
func (m *Move) Anew() bool { return m.anew }

// programmeRates sets the programme to the rate a source sends that goes unevenly into it.
func (u *universe) programmeRates() {
	seen := []picture.Rate{u.Show.Programme.Rate}
	for i := range u.p.Feeds {
		s := u.p.Feeds[i].Bytes
		if s == nil || s.Unknown || s.Rate.IsZero() || slices.Contains(seen, s.Rate) || len(seen) > 4 {
			continue
		}
		if k := picture.CadenceOf(s.Rate, u.Show.Programme.Rate).Kind; k != picture.Judder && k != picture.Slip {
			continue
		}
		rate := s.Rate
		seen = append(seen, rate)
		show := u.Show
		was := show.Programme.Rate
		show.Programme.Rate = rate
		show.Destinations = slices.Clone(show.Destinations)
		for j := range show.Destinations {
			if d := &show.Destinations[j]; d.Send.Rate == was {
				d.Send.Rate = rate
			}
		}
		m := Move{ID: "show:rate:" + rate.String(), Kind: "show", Of: "show", Slot: "show", touches: []string{"show"}, Minutes: u.takes(work.Show), anew: true, loss: 30,
			say: func() (string, string) {
				return lang.Text("Make the programme %s", rate.Name()), lang.Text("programme at %s", rate.Name())
			},
			Edits: []rig.Edit{{Do: "show", Show: &show}}}
		if rate.Cmp(was) < 0 {
			m.GivesUp, m.loss = lang.Text("a programme at %s", was.Name()), 80
		}
		u.add(m)
	}
}

// shows changes what the show asks for, where that is what cannot be had.
func (u *universe) shows() {
	u.programmeRates()
	if u.Show.AnglesSelectable && slices.ContainsFunc(u.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Switcher }) {
		show := u.Show
		show.AnglesSelectable, show.Switching = false, "switcher"
		u.add(Move{ID: "show:switch-there", Kind: "show", Of: "show", Slot: "show", touches: []string{"show"}, Minutes: u.takes(work.Show), loss: 50,
			GivesUp: lang.Text("picking each angle in the program"), say: func() (string, string) {
				return lang.Text("Change angles on the switcher instead of in the program"), lang.Text("angles changed on the switcher")
			},
			Edits: []rig.Edit{{Do: "show", Show: &show}}})
	}
	u.otherPrograms()
	for i := range u.Show.Also {
		show := u.Show
		show.Also = slices.Delete(slices.Clone(u.Show.Also), i, i+1)
		name := plans.ProgramName(rig.Program{Kind: u.Show.Also[i].Kind, Name: u.Show.Also[i].Name})
		u.add(Move{ID: "show:without:" + strconv.Itoa(i), Kind: "show", Of: "show", Slot: "show", touches: []string{"show"}, Minutes: u.takes(work.Show), loss: 60,
			GivesUp: lang.Text("the picture in %s", name), say: func() (string, string) {
				return lang.Text("Do without the picture in %s", name), lang.Text("no picture for %s", name)
			},
			Edits: []rig.Edit{{Do: "show", Show: &show}}})
	}
}

// otherPrograms takes the pictures with a program that takes several, where the one there is takes one camera; and changes angles by
// hand where what was to change them is not there.
func (u *universe) otherPrograms() {
	add := func(id string, loss int, gives string, say func() (string, string), change func(*rig.Show)) {
		show := u.Show
		show.Destinations, show.Besides = slices.Clone(show.Destinations), slices.Clone(show.Besides)
		change(&show)
		u.add(Move{ID: "show:" + id, Kind: "show", Of: "show", Slot: "show", touches: []string{"show"}, Minutes: u.takes(work.Show), loss: loss, GivesUp: gives, say: say, Edits: []rig.Edit{{Do: "show", Show: &show}}})
	}
	over := func(rule *engine.Rule) bool {
		return slices.ContainsFunc(u.p.Results, func(l engine.Result) bool {
			return l.ID.Rule == rule && l.State.Severity() >= limit.Kinked.Severity()
		})
	}
	if kind := u.Show.Program.Kind; (kind == "call" || kind == "destination-page") && (over(rules.Angles) || over(rules.OneCamera) || over(rules.Arranged)) {
		name := plans.ProgramName(u.Show.Program)
		if kind == "call" {
			add("through-encoder", 20, "", func() (string, string) {
				return lang.Text("Compose in an encoder on this computer, and give its picture to %s as a camera", name), lang.Text("an encoder in between")
			}, func(sh *rig.Show) {
				sh.Program = rig.Program{Kind: "encoder"}
				if !slices.Contains(sh.Besides, rig.VirtualCamera) {
					sh.Besides = append(sh.Besides, rig.VirtualCamera)
				}
				if len(sh.Calls) == 0 {
					sh.Calls = []rig.Call{{Name: u.Show.Program.Name, Persons: 1}}
				}
			})
		} else {
			add("by-encoder", 20, "", func() (string, string) {
				return lang.Text("Send with an encoder on this computer in place of %s", name), lang.Text("an encoder in place of the page")
			}, func(sh *rig.Show) {
				sh.Program = rig.Program{Kind: "encoder"}
				for i := range sh.Destinations {
					d := &sh.Destinations[i]
					if in := d.Ingest; in != nil && len(in.Transports) > 0 {
						d.Transport = in.Transports[0]
					} else if d.Transport == "webrtc" {
						d.Transport = "rtmp"
					}
				}
			})
		}
		if u.Show.Angles != 1 {
			add("one-angle", 60, lang.Text("every picture but one"), func() (string, string) {
				return lang.Text("Show one camera only in %s", name), lang.Text("one camera only")
			}, func(sh *rig.Show) { sh.Angles = 1 })
		}
	}
	u.layouts(over, add)
	if by := u.Show.Switching; over(rules.WhoSwitches) {
		if by != "keys" {
			add("by-keys", 5, "", func() (string, string) {
				return lang.Text("Change angles in the program, by keys"), lang.Text("angles changed by keys")
			}, func(sh *rig.Show) { sh.Switching, sh.AnglesSelectable = "keys", true })
		}
	}
}

// layouts changes arrangements: an inset further in, where a window cuts it off, or without one that cannot be composed.
func (u *universe) layouts(over func(*engine.Rule) bool, add func(id string, loss int, gives string, say func() (string, string), change func(*rig.Show))) {
	cut, uncomposed := over(rules.Window), over(rules.Arranged)
	for i := range u.Show.Layouts {
		l, name := &u.Show.Layouts[i], plans.LayoutName(u.Rig, i)
		change := func(to func(*rig.Show)) func(*rig.Show) {
			return func(sh *rig.Show) { sh.Layouts = slices.Clone(sh.Layouts); to(sh) }
		}
		if in := plans.WindowEdge(u.Rig, i); cut && in > 0 && l.Shape == "inset" {
			add("layout:"+strconv.Itoa(i)+":in", 5, "", func() (string, string) {
				return lang.Text("Move the insets of %s in, to %s % from the edge", name, say.Number(in)), lang.Text("insets of %s further in", name)
			}, change(func(sh *rig.Show) { sh.Layouts[i].EdgePct = in }))
		}
		if uncomposed && len(l.Sources) > 1 {
			add("layout:"+strconv.Itoa(i)+":without", 60, lang.Text("seeing %s together", plans.LayoutNames(u.Rig, i)), func() (string, string) {
				return lang.Text("Do without the arrangement %s", name), lang.Text("no %s", name)
			}, change(func(sh *rig.Show) { sh.Layouts = slices.Delete(sh.Layouts, i, i+1) }))
		}
	}
}

// connect uses a USB connection a device has and nobody uses, where its picture does not get to the computer another way.
func (u *universe) connect(it *rig.Item) {
	stuck := false
	for i := range u.p.Results {
		l := &u.p.Results[i]
		stuck = stuck || l.State == limit.Snapped && (l.ID.Rule == rules.Arrives || l.ID.Rule == rules.WayRound) && slices.Contains(l.Where, it.ID)
	}
	if !stuck || len(it.Gear.Delivers) == 0 {
		return
	}
	at := u.g.At(it.ID)
	for j := range it.Gear.Ports {
		port := &it.Gear.Ports[j]
		if port.Direction != gear.Upstream || port.Connector.Family() != gear.USBFamily || u.g.LeadAt(at, j) >= 0 {
			continue
		}
		for h := range u.Items {
			host := &u.Items[h]
			for k := range host.Gear.Ports {
				socket := &host.Gear.Ports[k]
				if !host.IsHost() || socket.Direction != gear.Downstream || socket.Connector.Family() != gear.USBFamily || u.g.LeadAt(h, k) >= 0 {
					continue
				}
				id := rig.FreshID(it.ID[:min(len(it.ID), 40)]+"-usb", func(id string) bool { return u.Item(id) != nil || u.Lead(id) != nil })
				edits := []rig.Edit{{Do: "lay", NewLead: &rig.Lead{ID: id, From: it.ID + "." + port.ID, To: host.ID + "." + socket.ID, Grade: "usb-5g", LengthM: fact.Exactly(1)}}}
				touches := []string{it.ID, "show"} // angles hang on every lead there is
				for n := range u.Leads {           // out of the output it was put into for want of an input
					if f, _, t, tp := u.g.LeadEnds(n); f == at && t == h && host.Gear.Ports[tp].Direction == gear.Out {
						edits, touches = append(edits, rig.Edit{Do: "unplug", Lead: u.Leads[n].ID}), append(touches, u.Leads[n].ID)
					}
				}
				u.add(Move{ID: "connect:" + it.ID + "." + port.ID, Kind: "plug", Of: it.ID, Slot: "connect:" + it.ID, touches: touches, Minutes: u.takes(work.Desk), Cost: u.money(priceUSBLead),
					say: func() (string, string) {
						return lang.Text("Use the USB of %s: a lead into %s of %s", it.Label, rig.PortName(socket), host.Label), lang.Text("%s by its own USB", it.Label)
					},
					Edits: edits})
				return
			}
		}
	}
}

// ups takes the load off a UPS that carries too much: a larger one, or things that can do without it hung elsewhere.
func (u *universe) ups(it *rig.Item) {
	pw := it.Gear.Power
	if it.Gear.Kind != gear.UPS || pw == nil || pw.LimitW == nil && pw.LimitVA == nil {
		return
	}
	if pw.LimitW == nil || pw.LimitW.High < largeUPSWatts {
		g, power := it.Gear, *pw
		watts, apparent := fact.Exactly(largeUPSWatts), fact.Exactly(largeUPSVA)
		power.LimitW, power.LimitVA, power.Battery = &watts, &apparent, nil
		g.Power, g.Name = &power, lang.Text("UPS of 1000 W, 1500 VA")
		u.add(Move{ID: "ups:" + it.ID, Kind: "swap", Of: it.ID, Slot: "swap:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Swap), Cost: u.money(priceUPS),
			say: func() (string, string) {
				return lang.Text("Replace %s by one of 1000 W and 1500 VA", it.Label), lang.Text("a larger UPS for %s", it.Label)
			},
			Edits: []rig.Edit{{Do: "swap", Item: it.ID, Gear: &g}}})
	}
	for i := range u.Items {
		o := &u.Items[i]
		if o.PoweredBy != it.ID || o.IsHost() {
			continue // the computer is what it is for
		}
		u.add(Move{ID: "off:" + it.ID + ":" + o.ID, Kind: "power", Of: o.ID, Slot: "powered-by:" + o.ID, touches: []string{o.ID, it.ID}, Minutes: u.takes(work.Plug), loss: 15,
			GivesUp: lang.Text("%s when the mains fails", o.Label), say: func() (string, string) {
				return lang.Text("Hang %s on another outlet than %s", o.Label, it.Label), lang.Text("%s off %s", o.Label, it.Label)
			},
			Edits: []rig.Edit{{Do: "powered-by", Item: o.ID}}})
	}
}

func (u *universe) swaps(it *rig.Item) {
	u.ups(it)
	u.connect(it)
	if surely, _ := it.Gear.BusPowered(); it.Gear.Kind == gear.Hub && surely {
		u.poweredHub(it)
	}
	if it.Gear.Kind != gear.Capture {
		return
	}
	for i := range gear.StrongerCapture {
		sw := &gear.StrongerCapture[i]
		if sw.Gear.Name == it.Gear.Name {
			continue
		}
		m := Move{ID: "swap:" + it.ID + ":" + sw.Key, Kind: "swap", Of: it.ID, Slot: "swap:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Swap), Cost: u.money(sw.Price),
			Edits: []rig.Edit{{Do: "swap", Item: it.ID, Gear: &sw.Gear}}}
		if !sameShape(&it.Gear, &sw.Gear) {
			continue
		}
		m.say = func() (label, short string) {
			return lang.Text("Replace %s by a %s", it.Label, sw.Gear.Name),
				lang.Text("%s becomes a %s", it.Label, sw.Gear.Name)
		}
		u.add(m)
	}
}

// poweredHub gives a hub that lives on its socket a supply: a hub of the same sockets with one.
func (u *universe) poweredHub(it *rig.Item) {
	g := it.Gear
	pw := gear.Power{}
	if g.Power != nil {
		pw = *g.Power
	}
	supply, volts := fact.Est(25, 20, 36), fact.Est(12, 12, 12)
	pw.SelfPowered, pw.SupplyW, pw.SupplyVolts = "yes", &supply, &volts
	g.Power, g.Name = &pw, lang.Text("Powered hub")
	u.add(Move{ID: "powered:" + it.ID, Kind: "swap", Of: it.ID, Slot: "swap:" + it.ID, touches: []string{it.ID}, Minutes: u.takes(work.Swap), Cost: u.money(pricePoweredHub),
		say: func() (string, string) {
			return lang.Text("Replace %s by a hub with a supply of its own", it.Label), lang.Text("%s becomes a powered hub", it.Label)
		},
		Edits: []rig.Edit{{Do: "swap", Item: it.ID, Gear: &g}}})
}

// sameShape tells whether a capture device can stand in for another: one socket in and one plug of the same shapes.
func sameShape(a, b *gear.Gear) bool {
	if len(a.Ports) != len(b.Ports) {
		return false
	}
	for i := range a.Ports {
		p, q := &a.Ports[i], &b.Ports[i]
		if p.Direction != q.Direction || p.Connector.Family() != q.Connector.Family() {
			return false
		}
	}
	return true
}

func (u *universe) sends() {
	rungs := plans.Rungs(u.Show.Programme, u.Show.Motion)
	for i := range u.Show.Destinations {
		d := &u.Show.Destinations[i]
		if d.Via != "" {
			continue // what is sent to the one that passes it on is moved
		}
		now := d.Send
		for _, step := range rungs { // every rung under what is sent [practice: handbook 5.4]
			if step.Height > now.Height || step.Width > now.Width || step.Height == now.Height && step.Rate.Cmp(now.Rate) >= 0 {
				continue
			}
			send := now
			send.Width, send.Height, send.Rate = step.Width, step.Height, step.Rate
			kbps := u.p.BitrateFor(i, send)
			send.VideoKbps = new(fact.Exactly(kbps))
			m := Move{Kind: "send", Of: "show", Slot: "send:" + d.Name, touches: []string{"send"}, Minutes: u.takes(work.Send), GivesUp: lang.Text("a smaller picture for the viewers"), loss: 1000 + (rungs[0].Worth-step.Worth)/10,
				ID:    "send:" + d.Name + ":" + picture.SizeName(step.Width, step.Height) + ":" + step.Rate.String(),
				Edits: plans.SendEdits(&u.Show, i, send)}
			m.say = func() (label, short string) {
				return lang.Text("Send %s at %s, %s kb/s to %s", picture.SizeName(step.Width, step.Height), step.Rate.Name(), say.Number(kbps), d.Name),
					lang.Text("send %s to %s", step.Label, d.Name)
			}
			u.add(m)
		}
		if in := d.Ingest; in != nil && in.MaxVideoKbps > 0 && now.VideoKbps != nil && now.VideoKbps.Low > in.MaxVideoKbps { // to the cap, and no further
			send := now
			kbps := fact.Exactly(in.MaxVideoKbps)
			send.VideoKbps = &kbps
			u.add(Move{Kind: "send", Of: "show", Slot: "send:" + d.Name, touches: []string{"send"}, Minutes: u.takes(work.Send), loss: 3, ID: "send:" + d.Name + ":cap",
				say: func() (string, string) {
					return lang.Text("Lower the video bitrate to %s to the %s kb/s it takes", d.Name, say.Number(in.MaxVideoKbps)), lang.Text("%s kb/s to %s", say.Number(in.MaxVideoKbps), d.Name)
				},
				Edits: []rig.Edit{{Do: "send", Name: d.Name, Send: &send}}})
		}
		if least := u.p.BitrateFor(i, now); now.VideoKbps != nil && now.VideoKbps.Value > least {
			send := now
			send.VideoKbps = new(fact.Exactly(least))
			u.add(Move{Kind: "send", Of: "show", Slot: "send:" + d.Name, touches: []string{"send"}, Minutes: u.takes(work.Send), loss: 5,
				ID: "send:" + d.Name + ":" + say.Number(least), say: func() (string, string) {
					return lang.Text("Lower the video bitrate to %s to %s kb/s", d.Name, say.Number(least)), lang.Text("%s kb/s to %s", say.Number(least), d.Name)
				}, Edits: []rig.Edit{{Do: "send", Name: d.Name, Send: &send}}})
		}
	}
}

// boardLengths are the lengths a lead is stepped through on the board, metres [practice].
var boardLengths = []float64{0.5, 1, 1.5, 2, 3, 5, 7.5, 10, 12, 15, 20, 30}

// lengths are the same lead in every other length. They are offered on the board, not searched for cures: how far
// apart things stand is not for us to change.
func (u *universe) lengths(id string) {
	l := u.Lead(id)
	if l == nil || l.LengthM.High == 0 {
		return
	}
	for _, m := range boardLengths {
		if m == l.LengthM.Value && l.LengthM.Narrow() {
			continue
		}
		length := fact.Exactly(m)
		u.add(Move{ID: "length:" + id + ":" + say.Number(m), Kind: "length", Of: id, Slot: "lead:" + id, touches: []string{id}, Minutes: u.lay(u.family(l), m),
			say: func() (string, string) {
				return lang.Text("Make it %s m long: the lead %s", say.Number(m), u.p.LeadTitle(l)), lang.Text("lead of %s to %s m", u.Items[u.end(l)].Label, say.Number(m))
			},
			Edits: []rig.Edit{{Do: "lead", Lead: id, LengthM: &length}}})
	}
}

// others offers every other thing of the same kind there is: typical ones, and the spec sheets of like things in the
// rig. What stands in StrongerCapture is offered already.
func (u *universe) others(id string) {
	it := u.Item(id)
	if it == nil {
		return
	}
	seen := map[string]bool{it.Gear.Name: true}
	for i := range u.out {
		if u.out[i].Kind == "swap" {
			seen[u.out[i].Edits[0].Gear.Name] = true
		}
	}
	offer := func(g *gear.Gear, key string, price *gear.Money) {
		if g.Kind != it.Gear.Kind || seen[g.Name] {
			return
		}
		seen[g.Name] = true
		m := Move{ID: "swap:" + id + ":" + key, Kind: "swap", Of: id, Slot: "swap:" + id, touches: []string{id}, Minutes: u.takes(work.Swap), Cost: price,
			say: func() (string, string) {
				return lang.Text("Replace %s by %s", it.Label, g.Name), lang.Text("%s becomes %s", it.Label, g.Name)
			},
			Edits: []rig.Edit{{Do: "swap", Item: id, Gear: g}}}
		if after, err := rig.Apply(u.Rig, m.Edits...); err == nil && len(rig.Check(after)) == 0 {
			u.add(m)
		}
	}
	for _, list := range [][]gear.Generic{gear.Sources, {gear.Stick, gear.SpareHub}, gear.Computers} {
		for i := range list {
			if list[i].Gear.Kind == gear.Computer && (list[i].Key == "slides") != (it.Role == "source") {
				continue // one takes the pictures, the other gives one
			}
			offer(&list[i].Gear, list[i].Key, nil)
		}
	}
	for i := range u.Items {
		if u.Items[i].IsHost() == it.IsHost() {
			offer(&u.Items[i].Gear, "like-"+u.Items[i].ID, u.Items[i].Price)
		}
	}
}

// everySocket adds plug moves into the free sockets that Moves leaves out because they are like another one: on the
// board a hand may want just that socket.
func (u *universe) everySocket(id string) {
	l := u.Lead(id)
	if l == nil {
		return
	}
	dev, p := u.Port(l.From)
	_, to := u.Port(l.To)
	end, now := "to", l.To
	if p != nil && (p.Direction == gear.In || p.Direction == gear.Downstream) {
		dev, p = u.Port(l.To)
		_, to = u.Port(l.From)
		end, now = "from", l.From
	}
	if p == nil || to == nil || to.Connector == gear.Internal {
		return
	}
	wants := gear.In
	if p.Direction == gear.Upstream {
		wants = gear.Downstream
	}
	above := u.g.Above(u.g.At(dev.ID))
	passesOn := slices.ContainsFunc(dev.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.In || p.Direction == gear.Downstream })
	for i := range u.Items {
		it := &u.Items[i]
		for j := range it.Gear.Ports {
			port := &it.Gear.Ports[j]
			ref := it.ID + "." + port.ID
			if it.ID == dev.ID || passesOn && !it.IsHost() && above[i] || port.Direction != wants || !plugFits(to.Connector, port.Connector) || u.g.LeadAt(i, j) >= 0 {
				continue
			}
			m := u.plug(l, end, dev, it, port)
			if ref != now && !slices.ContainsFunc(u.out, func(o Move) bool { return o.ID == m.ID }) {
				u.add(m)
			}
		}
	}
}

// places are the moves that change places with the plug in a like socket, where no like socket is free: one for each kind
// of socket, as plugs has them.
func (u *universe) places(ids map[string]bool) []Move {
	for i := range u.Leads {
		if !ids[u.Leads[i].ID] {
			continue
		}
		if p, ok := u.pluggedAs(i); ok {
			if _, taken := u.elsewhere(p); len(taken) > 0 {
				u.swapWith(i, func(s spot) bool {
					return slices.ContainsFunc(taken, func(t spot) bool { return t.item == s.item && t.port == s.port })
				})
			}
		}
	}
	return u.out
}

// swapPlugs offers to change places with the plug in every like socket that is taken.
func (u *universe) swapPlugs(id string) {
	if i := slices.IndexFunc(u.Leads, func(l rig.Lead) bool { return l.ID == id }); i >= 0 {
		u.swapWith(i, func(spot) bool { return true })
	}
}

// swapWith offers to change places with the plugs in some of the taken sockets.
func (u *universe) swapWith(at int, with func(spot) bool) {
	l := &u.Leads[at]
	fi, fp, ti, tp := u.g.LeadEnds(at)
	if fi < 0 || u.Items[fi].Gear.Ports[fp].Direction != gear.Upstream {
		return
	}
	from, to := &u.Items[fi], &u.Items[ti].Gear.Ports[tp]
	for i := range u.Leads {
		o := &u.Leads[i]
		di, dp, hi, hp := u.g.LeadEnds(i)
		if i == at || di < 0 || di == fi || hi == fi || di == ti || hi == ti && hp == tp || !with(spot{item: hi, port: hp}) {
			continue
		}
		dev, host := &u.Items[di], &u.Items[hi]
		socket := &host.Gear.Ports[hp]
		if dev.Gear.Ports[dp].Direction != gear.Upstream || socket.Connector != to.Connector {
			continue
		}
		minutes := 2.0 * u.takes(work.Plug)
		if to.Connector == gear.PCIe { // the computer is opened once
			minutes = u.takes(work.Card) + u.takes(work.Plug)
		}
		u.add(Move{ID: "change:" + l.ID + ":" + o.ID, Kind: "plug", Of: l.ID, Slot: "plug:" + l.ID, touches: []string{l.ID, o.ID}, Minutes: minutes,
			say: func() (string, string) {
				if to.Connector == gear.PCIe {
					return lang.Text("Switch %s off and unplug it, touch metal before you reach in, and change places: %s into %s, %s into %s", host.Label, from.Label, rig.PortName(socket), dev.Label, rig.PortName(to)), lang.Text("%s and %s change places", from.Label, dev.Label)
				}
				return lang.Text("Change places: %s into %s, %s into %s", from.Label, rig.PortName(socket), dev.Label, rig.PortName(to)), lang.Text("%s and %s change places", from.Label, dev.Label)
			},
			Edits: []rig.Edit{{Do: "plug", Lead: l.ID, End: "to", Socket: o.To}, {Do: "plug", Lead: o.ID, End: "to", Socket: l.To}}})
	}
}
