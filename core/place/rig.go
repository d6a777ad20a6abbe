package place

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/pcie"
	"eventether/core/plans"
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
	Even     *Even       `json:"even,omitempty" doc:"A placing that loads the worst bus less by 20 points or more, with more plugs moved"`
	Tried    int64       `json:"tried" doc:"Steps of the search"`
}

// Even is a more even placing than the suggested one, offered beside it.
type Even struct {
	Moves   []PlugMove  `json:"moves"`
	Formats []FormatSet `json:"formats"`
	Edits   []rig.Edit  `json:"edits"`
	Now     float64     `json:"now" doc:"Load of the worst bus as suggested, as a share of what it carries"`
	Then    float64     `json:"then" doc:"The same in this one"`
}

// worthMore is the headroom a more even placing has to gain to be offered.
const worthMore = 0.2

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
	streams []plans.Device
	sockets []string // item.port of every port
	relax   []relaxation
}

// relaxation is one change that might make a placing possible.
type relaxation struct {
	words string
	do    func(*Problem)
}

// Of turns a rig into a problem, from what its rules weigh. With worst, loads are taken at their worst and limits at
// their surest; else as likely.
func Of(r *rig.Rig, worst bool) *Setting {
	p := rules.New(r, rig.NewWiring(r)).Run()
	s := &Setting{rig: r, streams: p.Devices()}
	// what serves as well is chosen the same way, in whatever order a rig and its sheets have it
	for i := range s.streams {
		slices.SortStableFunc(s.streams[i].Formats, func(a, b plans.DeviceFormat) int {
			return cmp.Or(cmp.Compare(a.Loss, b.Loss), strings.Compare(a.Name, b.Name))
		})
	}
	slices.SortStableFunc(s.streams, func(a, b plans.Device) int {
		return cmp.Or(strings.Compare(r.Items[a.Item].ID, r.Items[b.Item].ID),
			strings.Compare(r.Items[a.Item].Gear.Ports[a.Port].ID, r.Items[b.Item].Gear.Ports[b.Port].ID))
	})
	known := map[shared]int{}
	for _, x := range p.Sockets(worst) {
		it := &r.Items[x.Item]
		q := &it.Gear.Ports[x.Port]
		port := Port{Name: rig.PortName(q), Plug: string(q.Connector), High: x.High, Open: x.Open, MaxMW: x.MaxMW}
		if !it.IsHost() {
			port.Name = it.Label + ", " + port.Name
		}
		for i := range x.Shares {
			port.Uses = append(port.Uses, s.resource(&x.Shares[i], known))
		}
		s.Ports = append(s.Ports, port)
		s.sockets = append(s.sockets, it.ID+"."+q.ID)
	}
	for k := range s.streams {
		s.device(&s.streams[k], worst)
	}
	return s
}

// shared tells one thing sockets share from another.
type shared struct {
	what  plans.Sharing
	place string
}

// resource is the index of what sockets share, each once.
func (s *Setting) resource(x *plans.Shared, known map[shared]int) int {
	if i, ok := known[shared{x.What, x.Place}]; ok {
		return i
	}
	i := len(s.Resources)
	known[shared{x.What, x.Place}] = i
	kind := [...]Kind{plans.FastSide: FastBus, plans.HighSide: HighBus, plans.BothSides: BothSides,
		plans.Current: Power, plans.SupplyPower: Power}[x.What]
	s.Resources = append(s.Resources, Resource{x.Name, kind, x.Cap})
	if x.What == plans.Current {
		s.relax = append(s.relax, relaxation{lang.Text("a supply for %s, or a powered hub in its place",
			s.rig.Items[x.Of].Label), func(p *Problem) { p.Resources[i].Cap = limit.Never }})
	}
	return i
}

// Plug is where a placing puts a device's plug: indices of the item, its port and its lead, and the edit that puts it
// there.
type Plug struct {
	Item, Port, Lead int
	Edit             rig.Edit
}

// Plugs lists where a placing puts every plug that stands in a socket, nil for where they are now. Among sockets that
// are alike, the first plug goes into the first.
func (s *Setting) Plugs(p *Placing) []Plug {
	out := make([]Plug, 0, len(s.Devices))
	if p != nil {
		tidied := *p
		tidied.Port = s.tidy(p.Port)
		p = &tidied
	}
	for d := range s.Devices {
		st := &s.streams[d]
		to := st.Socket
		if p != nil {
			to = s.sockets[p.Port[d]]
		}
		out = append(out, Plug{st.Item, st.Port, st.Lead, rig.Edit{Do: "plug", Lead: s.rig.Leads[st.Lead].ID,
			End: st.End, Socket: to}})
	}
	return out
}

// tidy gives plugs that go into sockets alike the first of them in order; who stands in one already, or is held, stays.
func (s *Setting) tidy(ports []int) []int {
	out := slices.Clone(ports)
	taken := make([]bool, len(s.Ports))
	stays := func(d int) bool { return s.Devices[d].Fixed || s.Devices[d].Now == ports[d] }
	for d := range out {
		if stays(d) && out[d] >= 0 {
			taken[out[d]] = true
		}
	}
	for d := range out {
		if stays(d) || out[d] < 0 {
			continue
		}
		at := &s.Ports[ports[d]]
		for i := range s.Ports {
			if q := &s.Ports[i]; !taken[i] && q.Plug == at.Plug && q.High == at.High && q.Open == at.Open && q.MaxMW ==
				at.MaxMW && slices.Equal(q.Uses, at.Uses) {
				out[d] = i
				break
			}
		}
		taken[out[d]] = true
	}
	return out
}

// Hold leaves the plugs of these leads where they are, whether what is on them works there or not: it must not keep the
// others from a place.
func (s *Setting) Hold(these func(*rig.Lead) bool) {
	const hopeless = 1 << 20 // taken only where nothing else is left
	drawn := make([]float64, len(s.Resources))
	for d := range s.Devices {
		dev := &s.Devices[d]
		if !these(&s.rig.Leads[s.streams[d].Lead]) || dev.Now < 0 {
			continue
		}
		dev.Fixed = true
		dev.Formats = append(slices.Clip(dev.Formats), Format{Loss: hopeless})
		at := &s.Ports[dev.Now]
		if at.MaxMW > 0 {
			dev.MW = min(dev.MW, at.MaxMW)
		}
		for _, i := range at.Uses {
			if drawn[i] += dev.MW; s.Resources[i].Kind == Power {
				s.Resources[i].Cap = max(s.Resources[i].Cap, drawn[i])
			}
		}
	}
}

// device adds one device with what it takes.
func (s *Setting) device(st *plans.Device, worst bool) {
	it := &s.rig.Items[st.Item]
	_, to := s.rig.Port(st.Socket)
	d := Device{Name: it.Label, Now: slices.Index(s.sockets, st.Socket), MW: st.DrawW.Value * 1000}
	if worst {
		d.MW = st.DrawW.High * 1000
	}
	if to != nil {
		d.Plug = string(to.Connector)
	}
	d.Fixed = to != nil && to.Connector == gear.Internal
	for _, f := range st.Formats {
		fast, high, sends := f.Fast, f.High, f.Sends
		if worst {
			fast, high, sends = f.FastWorst, f.HighWorst, f.SendsWorst
		}
		d.Formats = append(d.Formats, Format{f.Name, fast, high, int(f.Loss), worst && st.Either, sends})
	}
	n := len(s.Devices)
	s.Devices = append(s.Devices, d)
	s.relax = append(s.relax, relaxation{lang.Text("%s off USB: to a card, or left out", it.Label), func(p *Problem) {
		p.Devices[n].Formats = []Format{{Name: lang.Text("off USB"), Fast: 0, High: 0}}
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

// withCard adds a USB card with a controller of its own on one lane of generation 2, four sockets.
func withCard(p *Problem) {
	high, _ := usb.BusMBps(usb.HighSpeed, false, true)
	n := len(p.Resources)
	p.Resources = append(p.Resources, Resource{lang.Text("a new USB card"), FastBus,
		pcie.Link{Generation: 2, Lanes: 1}.UsableMBps()}, Resource{lang.Text("a new USB card"), HighBus, high})
	for range 4 {
		p.Ports = append(p.Ports, Port{Name: lang.Text("a new USB card"), Plug: string(gear.USBA),
			MaxMW: power.PortUSB3 * power.VBus, Uses: []int{n, n + 1}})
	}
}

// Suggest finds the best placing for a rig: one that holds at worst, else one that holds as likely; else it says why
// there is none, and the smallest change that would make one possible.
func Suggest(r *rig.Rig, o Options) *Suggestion {
	if o.Effort == 0 {
		o.Effort = Effort
	}
	out := &Suggestion{Moves: []PlugMove{}, Formats: []FormatSet{}, Edits: []rig.Edit{}, Shared: []Shared{},
		Changes: []string{}}
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
			out.Why = lang.Text("the search ended before it found one, or knew that there is none")
		}
		out.Shared = s.shared(nil)
		return out
	}
	s.words(out, best)
	if e := best.Even; e != nil && best.Ratio-e.Ratio >= worthMore {
		more := &Suggestion{Moves: []PlugMove{}, Formats: []FormatSet{}, Edits: []rig.Edit{}}
		s.words(more, e)
		out.Even = &Even{more.Moves, more.Formats, more.Edits, best.Ratio, e.Ratio}
	}
	out.Shared = s.shared(best)
	return out
}

// why names the plainest reason a setting has no placing.
func (s *Setting) why() string {
	plugs := map[string]int{}
	for d := range s.Devices {
		plugs[s.Devices[d].Plug]++
		if len(s.Devices[d].Formats) == 0 {
			return lang.Text("%s has no format that works on any socket", s.Devices[d].Name)
		}
	}
	for _, plug := range slices.Sorted(maps.Keys(plugs)) { // in one order: the same rig gets the same reason
		n, have := plugs[plug], 0
		for i := range s.Ports {
			if s.Ports[i].Plug == plug {
				have++
			}
		}
		if have < n {
			return lang.Text("plugs of the shape %s: %s, and sockets for them: %s", plug, strconv.Itoa(n),
				strconv.Itoa(have))
		}
	}
	return lang.Text("whichever sockets and formats are chosen, some bus or supply is past what it carries")
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
	all := append(slices.Clone(s.relax), relaxation{lang.Text("a USB card with a controller of its own"), withCard})
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
	lost := plans.Loss(0)
	for d := range s.Devices {
		st := &s.streams[d]
		it, lead := &s.rig.Items[st.Item], &s.rig.Leads[st.Lead]
		if to := s.sockets[best.Port[d]]; to != st.Socket {
			_, was := s.rig.Port(st.Socket)
			from := st.Socket
			if was != nil {
				from = rig.PortName(was)
			}
			out.Moves = append(out.Moves, PlugMove{it.ID, lead.ID, it.Label, st.Socket, to,
				lang.Text("%s: from %s to %s", it.Label, from, s.Ports[best.Port[d]].Name)})
			out.Edits = append(out.Edits, rig.Edit{Do: "plug", Lead: lead.ID, End: st.End, Socket: to})
		}
		f := &st.Formats[best.Format[d]]
		lost += f.Loss
		if f.Deliver == nil || f.Now {
			continue
		}
		was := lang.Text("not said")
		for i := range st.Formats {
			if st.Formats[i].Now {
				was = st.Formats[i].Name
			}
		}
		out.Formats = append(out.Formats, FormatSet{it.ID, it.Label, was, f.Name})
		out.Edits = append(out.Edits, rig.Edit{Do: "deliver", Item: it.ID, Port: it.Gear.Ports[st.Port].ID,
			Deliver: f.Deliver})
	}
	out.Lost = lost.String()
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
		x := Shared{Name: r.Name, Unit: "MB/s", Carries: r.Cap, Now: a[i], Suggested: b[i],
			NowOver: fact.Over(a[i], r.Cap), Over: fact.Over(b[i], r.Cap)}
		switch r.Kind {
		case Power:
			x.Unit, x.Carries, x.Now, x.Suggested = "W", r.Cap/1000, a[i]/1000, b[i]/1000
		case HighBus:
			x.Name += lang.Text(", the 480 Mb/s side")
		case FastBus:
			x.Name += lang.Text(", the fast side")
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
