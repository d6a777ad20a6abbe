package place

import (
	"cmp"
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/pcie"
	"eventether/core/power"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
)

// Suggestion is the best placing of a rig's devices beside the present one, or why there is none.
type Suggestion struct {
	Possible bool        `json:"possible"`
	Sure     bool        `json:"sure" doc:"It holds at worst too, not only as likely"`
	Proven   bool        `json:"proven" doc:"No better one exists; or, when there is none, none exists"`
	Moves    []PlugMove  `json:"moves"`
	Formats  []FormatSet `json:"formats" doc:"Devices that have to work in another format than now"`
	Edits    []rig.Edit  `json:"edits"`
	Shared   []Shared    `json:"shared" doc:"Every shared bus and supply, as it is and as suggested"`
	Lost     string      `json:"lost,omitempty" doc:"What of the picture has to be given up"`
	Why      string      `json:"why,omitempty" doc:"Why there is none"`
	Changes  []string    `json:"changes" doc:"The smallest change that would make one possible"`
	Tried    int64       `json:"tried" doc:"Steps of the search"`
}

// PlugMove is one plug from one socket to another.
type PlugMove struct {
	Item  string `json:"item"`
	Lead  string `json:"lead"`
	Label string `json:"label"`
	From  string `json:"from"`
	To    string `json:"to"`
	Words string `json:"words" doc:"Two-port stick: from front left to back 3"`
}

// FormatSet is one device's other format.
type FormatSet struct {
	Item  string `json:"item"`
	Label string `json:"label"`
	Was   string `json:"was"`
	Is    string `json:"is"`
}

// Shared is one bus or supply with its load now and as suggested.
type Shared struct {
	Name      string  `json:"name"`
	Unit      string  `json:"unit"`
	Carries   float64 `json:"carries"`
	Now       float64 `json:"now"`
	Suggested float64 `json:"suggested"`
	NowOver   bool    `json:"nowOver" doc:"More than it carries"`
	Over      bool    `json:"over" doc:"The same as suggested"`
}

// Setting is a rig turned into a problem, with the way back.
type Setting struct {
	Problem
	rig     *rig.Rig
	streams []rules.Device
	sockets []string // item.port of every port
	relax   []relaxation
}

// relaxation is one change that might make a placing possible.
type relaxation struct {
	words string
	do    func(*Problem)
}

// Of turns a rig into a problem. With worst, loads are taken at their worst and limits at their surest; else as likely.
func Of(r *rig.Rig, worst bool) *Setting {
	w := rig.NewWiring(r)
	s := &Setting{rig: r, streams: rules.New(r, w).Devices()}
	b := &build{Setting: s, g: w, worst: worst, bus: map[string]int{}}
	for i := range r.Items {
		it := &r.Items[i]
		if it.IsHost() || (it.Gear.Kind == gear.Hub || it.Gear.Kind == gear.Dock) {
			b.sockets(i)
		}
	}
	for k := range s.streams {
		b.device(&s.streams[k])
	}
	return s
}

type build struct {
	*Setting
	g     *rig.Wiring
	worst bool
	bus   map[string]int
}

func (b *build) pick(f fact.Fact, limit bool) float64 {
	switch {
	case !b.worst:
		return f.Value
	case limit:
		return f.Low
	}
	return f.High
}

func (b *build) resource(name string, kind Kind, carries float64) int {
	key := fmt.Sprintf("%s/%d", name, kind)
	if i, ok := b.bus[key]; ok {
		return i
	}
	b.bus[key] = len(b.Resources)
	b.Resources = append(b.Resources, Resource{name, kind, carries})
	return len(b.Resources) - 1
}

func busMBps(s usb.Speed) float64 {
	v, _ := usb.BusMBps(s, false, false)
	return v
}

// chain is what a hub's ports share on the way up, from itself to the controller; ok is false when it leads nowhere.
func (b *build) chain(item int, depth int) (uses []int, speed usb.Speed, ok bool) {
	it := &b.rig.Items[item]
	up := slices.IndexFunc(it.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.Upstream })
	if up < 0 || depth > 6 {
		return nil, "", false
	}
	lead := b.g.LeadAt(item, up)
	if lead < 0 {
		return nil, "", false
	}
	_, _, ti, tp := b.g.LeadEnds(lead)
	above := &b.rig.Items[ti]
	in := &above.Gear.Ports[tp]
	speed, ok = b.link(&it.Gear.Ports[up], in, &b.rig.Leads[lead])
	if !ok {
		return nil, "", false
	}
	uses = append(uses, b.resource(it.Label, FastBus, busMBps(speed)), b.resource(it.Label, HighBus, b.high()))
	if surely, _ := it.Gear.BusPowered(); surely && it.Gear.Kind == gear.Hub {
		allows := b.pick(in.Allows(), true) * power.VBus // mW
		own := b.pick(it.Gear.Draws(), false) * 1000
		uses = append(uses, b.resource(it.Label+", its current", Power, max(0, allows-own)))
		b.relaxPower(it)
	} else if pw := it.Gear.Power; pw != nil && pw.SupplyW != nil {
		uses = append(uses, b.resource(it.Label+", its supply", Power, max(0, b.pick(*pw.SupplyW, true)*b.pick(pw.LeftAt5V(), true)*1000-b.pick(it.Gear.Draws(), false)*1000)))
	}
	if above.IsHost() {
		return append(uses, b.controller(above, in.Controller)...), speed, true
	}
	rest, fast, ok := b.chain(ti, depth+1)
	return append(uses, rest...), usb.Slower(speed, fast), ok
}

// link is the speed of one way up: the slowest of both sockets and the lead; at worst what nobody has said is 480 Mb/s.
// ok is false over a lead that carries no data.
func (b *build) link(up, in *gear.Port, lead *rig.Lead) (usb.Speed, bool) {
	speed := usb.Gen2
	if up.USB != nil && in.USB != nil && up.USB.Speed == usb.Gen2x2 && in.USB.Speed == usb.Gen2x2 {
		speed = usb.Gen2x2
	}
	for _, p := range []*gear.Port{up, in} {
		switch {
		case p.USB != nil && p.USB.Speed != usb.UnknownSpeed:
			speed = usb.Slower(speed, p.USB.Speed)
		case b.worst:
			speed = usb.HighSpeed
		}
	}
	sure, possible, err := usb.GradeSpeed(usb.Grade(lead.Grade))
	if err != nil || possible == "" {
		return "", false
	}
	if b.worst {
		possible = sure
	}
	return usb.Slower(speed, possible), true
}

// wayUp is what everything behind a dock with a controller of its own shares: its way up, a tunnel where both sockets and
// the lead make one, and what is above. Handbook 3.3.
func (b *build) wayUp(item, depth int) (uses []int, ok bool) {
	it := &b.rig.Items[item]
	up := slices.IndexFunc(it.Gear.Ports, func(p gear.Port) bool { return p.Direction == gear.Upstream })
	if up < 0 || depth > 6 {
		return nil, false
	}
	lead := b.g.LeadAt(item, up)
	if lead < 0 {
		return nil, false
	}
	_, _, ti, tp := b.g.LeadEnds(lead)
	in := &b.rig.Items[ti].Gear.Ports[tp]
	own := &it.Gear.Ports[up]
	speed, ok := b.link(own, in, &b.rig.Leads[lead])
	if !ok {
		return nil, false
	}
	carries := busMBps(speed)
	tunnels := func(p *gear.Port) bool { return p.USB != nil && p.USB.Speed == usb.Tunnel }
	if tunnels(own) && tunnels(in) && usb.Grade(b.rig.Leads[lead].Grade) == usb.Lead40G {
		carries = usb.TunnelMBps
	}
	uses = []int{b.resource(it.Label+", its way up", FastBus, carries)}
	if b.rig.Items[ti].IsHost() {
		return uses, true
	}
	rest, ok := b.wayUp(ti, depth+1)
	return append(uses, rest...), ok
}

func (b *build) high() float64 {
	sure, possible := usb.BusMBps(usb.HighSpeed, false, true)
	if b.worst {
		return sure
	}
	return possible
}

func (b *build) controller(it *rig.Item, id string) []int {
	uplink := gear.DefaultUplink
	for i := range it.Gear.Controllers {
		if c := &it.Gear.Controllers[i]; c.ID == id && c.UplinkMBps != nil {
			uplink = *c.UplinkMBps
		}
	}
	name := it.Label + ", " + cmp.Or(id, "its controller")
	return []int{b.resource(name, FastBus, b.pick(uplink, true)), b.resource(name, HighBus, b.high())}
}

// sockets adds the USB sockets of one item.
func (b *build) sockets(item int) {
	it := &b.rig.Items[item]
	var shared []int
	speed := usb.Gen2x2
	owns := func(id string) bool {
		return it.IsHost() || slices.ContainsFunc(it.Gear.Controllers, func(c gear.Controller) bool { return c.ID == id })
	}
	chained := false
	for j := range it.Gear.Ports {
		p := &it.Gear.Ports[j]
		if p.Direction != gear.Downstream || p.Connector.Family() != gear.USBFamily || p.Connector == gear.Internal || p.ChargeOnly {
			continue
		}
		if at := b.g.LeadAt(item, j); at >= 0 { // a hub's plug stays where it is
			if fi, _, _, _ := b.g.LeadEnds(at); b.rig.Items[fi].Gear.Kind == gear.Hub || b.rig.Items[fi].Gear.Kind == gear.Dock {
				continue
			}
		}
		port := Port{Name: rig.PortName(p), Plug: string(p.Connector)}
		if !it.IsHost() {
			port.Name = it.Label + ", " + port.Name
		}
		if owns(p.Controller) {
			port.Uses = b.controller(it, p.Controller)
			if !it.IsHost() {
				up, ok := b.wayUp(item, 0)
				if !ok {
					return
				}
				port.Uses = append(port.Uses, up...)
			}
		} else {
			if !chained {
				var ok bool
				if shared, speed, ok = b.chain(item, 0); !ok {
					return
				}
				chained = true
			}
			port.Uses = shared
		}
		own := usb.UnknownSpeed
		if p.USB != nil {
			own = p.USB.Speed
		}
		port.High = own == usb.HighSpeed || own == usb.UnknownSpeed && b.worst || speed == usb.HighSpeed
		if surely, _ := it.Gear.BusPowered(); !surely || it.Gear.Kind != gear.Hub {
			port.MaxMW = b.pick(p.Allows(), true) * power.VBus
		}
		b.Ports = append(b.Ports, port)
		b.Setting.sockets = append(b.Setting.sockets, it.ID+"."+p.ID)
	}
}

func (b *build) relaxPower(it *rig.Item) {
	name := it.Label + ", its current"
	words := "a supply for " + it.Label + ", or a powered hub in its place"
	if slices.ContainsFunc(b.relax, func(r relaxation) bool { return r.words == words }) {
		return
	}
	b.relax = append(b.relax, relaxation{words, func(p *Problem) {
		for i := range p.Resources {
			if p.Resources[i].Name == name {
				p.Resources[i].Cap = 1e9
			}
		}
	}})
}

// device adds one device with what it takes.
func (b *build) device(st *rules.Device) {
	it := &b.rig.Items[st.Item]
	lead := &b.rig.Leads[st.Lead]
	_, to := b.rig.Port(lead.To)
	d := Device{Name: it.Label, Now: slices.Index(b.Setting.sockets, lead.To)}
	if to != nil {
		d.Plug = string(to.Connector)
	}
	if surely, possibly := it.Gear.BusPowered(); surely || possibly && b.worst {
		d.MW = b.pick(it.Gear.Draws(), false) * 1000
	}
	d.Fixed = to != nil && to.Connector == gear.Internal
	for _, f := range st.Formats {
		fast, high := f.Fast, f.High
		if b.worst {
			fast, high = f.FastWorst, f.HighWorst
		}
		d.Formats = append(d.Formats, Format{f.Name, fast, high, f.Loss})
	}
	n := len(b.Devices)
	b.Devices = append(b.Devices, d)
	b.relax = append(b.relax, relaxation{it.Label + " off USB: to a card, or left out", func(p *Problem) {
		p.Devices[n].Formats = []Format{{Name: "off USB", Fast: 0, High: 0}}
		p.Devices[n].MW = 0
		p.Devices[n].Plug = "none"
		p.Ports = append(p.Ports, Port{Name: "elsewhere", Plug: "none"})
	}})
}

// clone copies what relaxations change.
func (p *Problem) clone() *Problem {
	out := *p
	out.Devices, out.Ports, out.Resources = slices.Clone(p.Devices), slices.Clone(p.Ports), slices.Clone(p.Resources)
	return &out
}

// withCard adds a USB card with a controller of its own on one lane of generation 2, four sockets. Handbook 3.3.
func withCard(p *Problem) {
	fast, high := len(p.Resources), len(p.Resources)+1
	p.Resources = append(p.Resources, Resource{"a new USB card", FastBus, pcie.Link{Generation: 2, Lanes: 1}.UsableMBps()}, Resource{"a new USB card", HighBus, busMBps(usb.HighSpeed)})
	for range 4 {
		p.Ports = append(p.Ports, Port{Name: "a new USB card", Plug: string(gear.USBA), MaxMW: power.PortUSB3 * power.VBus, Uses: []int{fast, high}})
	}
}

// Suggest finds the best placing for a rig: one that holds at worst, else one that holds as likely; else it says why
// there is none, and the smallest change that would make one possible.
func Suggest(r *rig.Rig, o Options) *Suggestion {
	if o.Effort == 0 {
		o.Effort = Effort
	}
	out := &Suggestion{Moves: []PlugMove{}, Formats: []FormatSet{}, Edits: []rig.Edit{}, Shared: []Shared{}, Changes: []string{}}
	report := o.Report
	o.Report = func(p Progress) {
		out.Tried = p.Tried
		if report != nil {
			report(p)
		}
	}
	var s *Setting
	var best *Placing
	effort := o.Effort
	for _, worst := range []bool{true, false} {
		s = Of(r, worst)
		o.Effort = effort / 3 // a third at worst, a third as likely, a third for what would help
		best, out.Proven = Solve(&s.Problem, o)
		if best != nil {
			out.Possible, out.Sure = true, worst
			break
		}
	}
	if len(s.Devices) == 0 {
		out.Possible, out.Sure, out.Proven = true, true, true
		return out
	}
	if best == nil {
		if out.Proven {
			out.Why = s.why()
			out.Changes = s.smallest(o)
		} else {
			out.Why = "the search ended before it found one, or knew that there is none"
		}
		out.Shared = s.shared(nil)
		return out
	}
	s.words(out, best)
	out.Shared = s.shared(best)
	return out
}

// why names the plainest reason a setting has no placing.
func (s *Setting) why() string {
	plugs := map[string]int{}
	for d := range s.Devices {
		plugs[s.Devices[d].Plug]++
		if len(s.Devices[d].Formats) == 0 {
			return s.Devices[d].Name + " has no format that works on any socket"
		}
	}
	for plug, n := range plugs {
		have := 0
		for i := range s.Ports {
			if s.Ports[i].Plug == plug {
				have++
			}
		}
		if have < n {
			return fmt.Sprintf("%d plugs of the shape %s, and %d sockets for them", n, plug, have)
		}
	}
	return "whichever sockets and formats are chosen, some bus or supply is past what it carries"
}

// smallest looks for one change, else two, that make a placing possible, within the effort there is.
func (s *Setting) smallest(o Options) []string {
	left := o.Effort
	spent := int64(0)
	report := o.Report
	o.Report = func(p Progress) {
		spent = p.Tried
		if report != nil {
			report(p)
		}
	}
	helps := func(do ...relaxation) bool {
		if left <= 0 || o.Stop != nil && o.Stop() {
			return false
		}
		p := s.clone()
		for _, r := range do {
			r.do(p)
		}
		o.Effort, spent = left, 0
		best, _ := Solve(p, o)
		left -= spent + 1
		return best != nil
	}
	all := append(slices.Clone(s.relax), relaxation{"a USB card with a controller of its own", withCard})
	for i := range all {
		if helps(all[i]) {
			return []string{all[i].words}
		}
	}
	for i := range all {
		for j := i + 1; j < len(all); j++ {
			if helps(all[i], all[j]) {
				return []string{all[i].words, all[j].words}
			}
		}
	}
	return []string{}
}

// words turns a placing into moves, formats and edits.
func (s *Setting) words(out *Suggestion, best *Placing) {
	lost := 0
	for d := range s.Devices {
		st := &s.streams[d]
		it, lead := &s.rig.Items[st.Item], &s.rig.Leads[st.Lead]
		if to := s.sockets[best.Port[d]]; to != lead.To {
			_, was := s.rig.Port(lead.To)
			from := lead.To
			if was != nil {
				from = rig.PortName(was)
			}
			out.Moves = append(out.Moves, PlugMove{it.ID, lead.ID, it.Label, lead.To, to, fmt.Sprintf("%s: from %s to %s", it.Label, from, s.Ports[best.Port[d]].Name)})
			out.Edits = append(out.Edits, rig.Edit{Do: "plug", Lead: lead.ID, End: "to", Socket: to})
		}
		f := &st.Formats[best.Format[d]]
		lost += f.Loss
		if f.Deliver == nil || f.Now {
			continue
		}
		was := ""
		for i := range st.Formats {
			if st.Formats[i].Now {
				was = st.Formats[i].Name
			}
		}
		out.Formats = append(out.Formats, FormatSet{it.ID, it.Label, was, f.Name})
		out.Edits = append(out.Edits, rig.Edit{Do: "deliver", Item: it.ID, Port: it.Gear.Ports[st.Port].ID, Deliver: f.Deliver})
	}
	if lost > 0 {
		small, chroma, compressed := lost/400, lost%400/20, lost%20
		switch {
		case small > 0:
			out.Lost = fmt.Sprintf("%d smaller or slower than the programme, %d below 4:2:2, %d compressed", small, chroma, compressed)
		case chroma > 0:
			out.Lost = fmt.Sprintf("%d below 4:2:2, %d compressed", chroma, compressed)
		}
	}
}

// shared lists every bus and supply with its load as the plugs are now, and as suggested.
func (s *Setting) shared(best *Placing) []Shared {
	now := &Placing{Port: make([]int, len(s.Devices)), Format: make([]int, len(s.Devices))}
	for d := range s.Devices {
		now.Port[d] = s.Devices[d].Now
		for i := range s.streams[d].Formats {
			if s.streams[d].Formats[i].Now {
				now.Format[d] = i
			}
		}
	}
	a, b := s.loads(now), make([]float64, len(s.Resources))
	if best != nil {
		b = s.loads(best)
	}
	out := []Shared{}
	for i, r := range s.Resources {
		if a[i] == 0 && b[i] == 0 {
			continue
		}
		x := Shared{Name: r.Name, Unit: "MB/s", Carries: r.Cap, Now: a[i], Suggested: b[i], NowOver: fact.Over(a[i], r.Cap), Over: fact.Over(b[i], r.Cap)}
		switch r.Kind {
		case Power:
			x.Unit, x.Carries, x.Now, x.Suggested = "W", r.Cap/1000, a[i]/1000, b[i]/1000
		case HighBus:
			x.Name += ", the 480 Mb/s side"
		case FastBus:
			x.Name += ", the fast side"
		}
		out = append(out, x)
	}
	return out
}

func (s *Setting) loads(p *Placing) []float64 {
	out := make([]float64, len(s.Resources))
	for d := range s.Devices {
		if p.Port[d] < 0 || len(s.Devices[d].Formats) == 0 {
			continue
		}
		c := class{Port: s.Ports[p.Port[d]]}
		for _, i := range c.Uses {
			out[i] += max(0, takes(&s.Resources[i], &s.Devices[d], &s.Devices[d].Formats[p.Format[d]], &c))
		}
	}
	return out
}
