package rig

import (
	"iter"
	"maps"
	"slices"
	"strings"

	"eventether/core/gear"
)

// Wiring is a rig with its leads indexed by socket.
type Wiring struct {
	*Rig
	at    map[string]int         // item id -> index
	first []int32                // item -> place of its first socket in plug
	plug  []plug                 // the lead in each socket, item by item
	ends  []([2]portKey)         // lead -> its two sockets
	clash map[portKey][]int      // sockets with several leads in them, while a change is half made
	ports map[int]map[string]int // of items with many ports, port id -> index

	hangs  [][]Hung         // item -> what hangs on its USB sockets; nil until asked for
	hung   hungRoom         // the memory of that
	tracer *tracer          // the memory of tracing
	powers map[string][]int // item id -> what gets its power from it; nil until asked for
}

type portKey struct{ item, port int }

type plug struct {
	lead int  // place among the leads
	to   bool // this is the lead's To end
	is   bool // there is one
}

// in is the plug in a socket.
func (g *Wiring) in(k portKey) (plug, bool) {
	p := g.plug[g.first[k.item]+int32(k.port)]
	return p, p.is
}

// Sockets is how many sockets all items have.
func (g *Wiring) Sockets() int { return len(g.plug) }

// Socket is the place of a port among all sockets.
func (g *Wiring) Socket(item, port int) int { return int(g.first[item]) + port }

// NewWiring indexes a rig that passes Check, or nearly: leads whose ends do not exist are left out.
func NewWiring(r *Rig) *Wiring {
	g := new(Room).Wiring(r)
	g.tracer = nil // its ways may be kept
	return g
}

// Room is the memory of a wiring and of tracing it, for whoever wires one rig after another and keeps none of it.
type Room struct {
	wiring Wiring
	at     map[string]int
	first  []int32
	ports  []map[string]int
	tracer tracer
}

// Wiring is as NewWiring makes it, good until the room is used again.
func (m *Room) Wiring(r *Rig) *Wiring {
	g := m.empty(r)
	if m.at == nil {
		m.at = make(map[string]int, len(r.Items))
	}
	clear(m.at)
	m.first = append(m.first[:0], make([]int32, len(r.Items))...)
	g.at, g.first = m.at, m.first
	sockets, many := int32(0), 0
	for i := range r.Items {
		ports := r.Items[i].Gear.Ports
		g.at[r.Items[i].ID] = i
		g.first[i] = sockets
		sockets += int32(len(ports))
		if len(ports) >= manyPorts {
			if g.ports == nil {
				g.ports = map[int]map[string]int{}
			}
			if many++; many > len(m.ports) {
				m.ports = append(m.ports, make(map[string]int, len(ports)))
			}
			byID := m.ports[many-1]
			clear(byID)
			for j := range ports {
				byID[ports[j].ID] = j
			}
			g.ports[i] = byID
		}
	}
	g.plug = append(g.plug[:0], make([]plug, sockets)...)
	g.ends = append(g.ends[:0], make([][2]portKey, len(r.Leads))...)
	for i := range r.Leads {
		g.find(i)
	}
	g.plugIn()
	return g
}

// Moved is the wiring of a rig that differs from the one g is of in where some leads end and in nothing else; it is
// good until the room is used again, and shares with g what is the same.
func (m *Room) Moved(g *Wiring, r *Rig, leads []int) *Wiring {
	out := m.empty(r)
	out.at, out.first, out.ports = g.at, g.first, g.ports
	out.plug = append(out.plug[:0], make([]plug, len(g.plug))...)
	out.ends = append(out.ends[:0], g.ends...)
	for _, i := range leads {
		out.find(i)
	}
	out.plugIn()
	return out
}

// empty is the wiring of the room without anything of the last rig but memory.
func (m *Room) empty(r *Rig) *Wiring {
	g := &m.wiring
	*g = Wiring{Rig: r, plug: g.plug, ends: g.ends, hung: g.hung, tracer: &m.tracer}
	return g
}

// find notes where a lead ends.
func (g *Wiring) find(lead int) {
	from, ok1 := g.key(g.Leads[lead].From)
	to, ok2 := g.key(g.Leads[lead].To)
	if !ok1 || !ok2 {
		g.ends[lead] = [2]portKey{{-1, -1}, {-1, -1}}
		return
	}
	g.ends[lead] = [2]portKey{from, to}
}

// plugIn puts every lead into the sockets it ends in.
func (g *Wiring) plugIn() {
	for i := range g.ends {
		if e := &g.ends[i]; e[0].item >= 0 {
			g.put(e[0], plug{i, false, true})
			g.put(e[1], plug{i, true, true})
		}
	}
}

func (g *Wiring) put(k portKey, p plug) {
	if first, taken := g.in(k); taken {
		if g.clash == nil {
			g.clash = map[portKey][]int{}
		}
		if len(g.clash[k]) == 0 {
			g.clash[k] = []int{first.lead}
		}
		g.clash[k] = append(g.clash[k], p.lead)
		return
	}
	g.plug[g.first[k.item]+int32(k.port)] = p
}

func (g *Wiring) key(ref string) (portKey, bool) {
	id, port, _ := strings.Cut(ref, ".")
	i, ok := g.at[id]
	if !ok {
		return portKey{}, false
	}
	p := g.port(i, port)
	return portKey{i, p}, p >= 0
}

// manyPorts is from where on looking a port up beats going through the list.
const manyPorts = 24

func (g *Wiring) port(item int, id string) int {
	ports := g.Items[item].Gear.Ports
	if len(ports) < manyPorts {
		return g.Items[item].Gear.Port(id)
	}
	if i, ok := g.ports[item][id]; ok {
		return i
	}
	return -1
}

// Clashes lists, for every socket with more than one plug in it, the leads concerned.
func (g *Wiring) Clashes() [][]int {
	if len(g.clash) == 0 {
		return nil
	}
	return slices.SortedFunc(maps.Values(g.clash), slices.Compare[[]int])
}

// Clash tells whether two plugs are meant for one socket: each counts.
func (g *Wiring) Clash(item, port int) bool {
	return g.clash != nil && g.clash[portKey{item, port}] != nil
}

// At is the index of an item, -1 when there is none.
func (g *Wiring) At(id string) int {
	if i, ok := g.at[id]; ok {
		return i
	}
	return -1
}

// End is the item at one end of a lead, nil when there is none.
func (g *Wiring) End(ref string) *Item {
	id, _ := SplitRef(ref)
	if i, ok := g.at[id]; ok {
		return &g.Items[i]
	}
	return nil
}

// Taken tells whether a socket has a plug in it.
func (g *Wiring) Taken(ref string) bool {
	k, ok := g.key(ref)
	if ok {
		_, ok = g.in(k)
	}
	return ok
}

// LeadAt is the lead in a socket, -1 when it is free.
func (g *Wiring) LeadAt(item, port int) int {
	if p, ok := g.in(portKey{item, port}); ok {
		return p.lead
	}
	return -1
}

// LeadEnds gives the item and port at both ends of a lead.
func (g *Wiring) LeadEnds(lead int) (fromItem, fromPort, toItem, toPort int) {
	e := g.ends[lead]
	return e[0].item, e[0].port, e[1].item, e[1].port
}

// Of is the same wiring over another rig, whose items, leads and sockets stand in the same places.
func (g *Wiring) Of(r *Rig) *Wiring {
	out := *g
	out.Rig, out.powers, out.tracer, out.hung = r, nil, nil, hungRoom{}
	return &out
}

// Far is the item at the other end of a lead from the given one.
func (g *Wiring) Far(lead, item int) int {
	if e := g.ends[lead]; e[0].item == item {
		return e[1].item
	} else {
		return e[0].item
	}
}

// Ref is a port as leads name it: "pc.front-left".
func (g *Wiring) Ref(item, port int) string {
	if p, ok := g.in(portKey{item, port}); ok { // what the lead says of it is at hand
		if l := &g.Leads[p.lead]; p.to {
			return l.To
		} else {
			return l.From
		}
	}
	return g.Items[item].ID + "." + g.Items[item].Gear.Ports[port].ID
}

// Hung is a device on a USB socket: the item, the lead that ends there, and the socket of the item it hangs on.
type Hung struct{ Item, Lead, Port int }

// Hangs lists what hangs on the USB sockets of an item, in the order of the leads.
func (g *Wiring) Hangs(item int) []Hung {
	if g.hangs == nil {
		g.hangAll()
	}
	return g.hangs[item]
}

type hungRoom struct {
	all   []Hung
	of    [][]Hung
	count []int
}

func (g *Wiring) hangAll() {
	m := &g.hung
	m.of, m.count = append(m.of[:0], make([][]Hung, len(g.Items))...), append(m.count[:0], make([]int, len(g.Items))...)
	each := func(do func(lead int, on *[2]portKey)) {
		for i := range g.ends {
			e := &g.ends[i]
			if e[0].item < 0 {
				continue
			}
			from, to := &g.Items[e[0].item].Gear.Ports[e[0].port], &g.Items[e[1].item].Gear.Ports[e[1].port]
			if from.Direction == gear.Upstream && to.Direction == gear.Downstream && from.Connector.Family() ==
				gear.USBFamily {
				do(i, e)
			}
		}
	}
	all := 0
	each(func(_ int, on *[2]portKey) { m.count[on[1].item]++; all++ })
	m.all = append(m.all[:0], make([]Hung, all)...)
	at := 0
	for i, n := range m.count {
		m.of[i] = m.all[at : at : at+n]
		at += n
	}
	each(func(lead int, on *[2]portKey) {
		m.of[on[1].item] = append(m.of[on[1].item], Hung{on[0].item, lead, on[1].port})
	})
	g.hangs = m.of
}

// Step is one lead on the way up from a device: the lead, the item above, the socket the plug is in, and the item's own
// port on the way on, -1 where the way ends.
type Step struct{ Lead, From, FromPort, Item, Socket, On int }

// Up climbs from an upstream port through what it is plugged into, up to the computer or as far as the leads go. It is
// finite by construction: at most one step an item.
func (g *Wiring) Up(item, port int) iter.Seq[Step] {
	return func(yield func(Step) bool) {
		for range g.Items {
			at := g.LeadAt(item, port)
			if at < 0 {
				return
			}
			s := Step{Lead: at, On: -1}
			s.From, s.FromPort, s.Item, s.Socket = g.LeadEnds(at)
			if s.Item == item { // laid the other way round
				s.From, s.FromPort, s.Item, s.Socket = s.Item, s.Socket, s.From, s.FromPort
			}
			up := &g.Items[s.Item]
			if !up.IsHost() {
				s.On = slices.IndexFunc(up.Gear.Ports, func(q gear.Port) bool { return q.Direction == gear.Upstream })
			}
			if !yield(s) || s.On < 0 {
				return
			}
			item, port = s.Item, s.On
		}
	}
}

// Outlet lists the items that get their power from one, through strips, UPSs and supplies too; each once.
func (g *Wiring) Outlet(of int) (out []int) {
	if g.powers == nil {
		g.powers = map[string][]int{}
		for i := range g.Items {
			if by := g.Items[i].PoweredBy; by != "" {
				g.powers[by] = append(g.powers[by], i)
			}
		}
	}
	if len(g.powers[g.Items[of].ID]) == 0 {
		return nil
	}
	seen := map[int]bool{of: true}
	for at := -1; at < len(out); at++ {
		from := of
		if at >= 0 {
			from = out[at]
			if k := g.Items[from].Gear.Kind; k != gear.Strip && k != gear.UPS && k != gear.Supply {
				continue
			}
		}
		for _, i := range g.powers[g.Items[from].ID] {
			if !seen[i] {
				seen[i] = true
				out = append(out, i)
			}
		}
	}
	return out
}
