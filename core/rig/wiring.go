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

// NewWiring indexes a rig that passes Check, or nearly: leads whose ends do not exist are left out.
func NewWiring(r *Rig) *Wiring {
	g := &Wiring{Rig: r, at: make(map[string]int, len(r.Items)), first: make([]int32, len(r.Items)),
		ends: make([][2]portKey, len(r.Leads))}
	sockets := int32(0)
	for i := range r.Items {
		g.at[r.Items[i].ID] = i
		g.first[i] = sockets
		sockets += int32(len(r.Items[i].Gear.Ports))
	}
	g.plug = make([]plug, sockets)
	for i := range r.Leads {
		from, ok1 := g.key(r.Leads[i].From)
		to, ok2 := g.key(r.Leads[i].To)
		if !ok1 || !ok2 {
			g.ends[i] = [2]portKey{{-1, -1}, {-1, -1}}
			continue
		}
		g.ends[i] = [2]portKey{from, to}
		g.put(from, plug{i, false, true})
		g.put(to, plug{i, true, true})
	}
	return g
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
	if g.ports == nil {
		g.ports = map[int]map[string]int{}
	}
	byID, ok := g.ports[item]
	if !ok {
		byID = make(map[string]int, len(ports))
		for i := range ports {
			byID[ports[i].ID] = i
		}
		g.ports[item] = byID
	}
	if i, ok := byID[id]; ok {
		return i
	}
	return -1
}

// Clashes lists, for every socket with more than one plug in it, the leads concerned.
func (g *Wiring) Clashes() [][]int {
	return slices.SortedFunc(maps.Values(g.clash), slices.Compare[[]int])
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
	out.Rig, out.powers = r, nil
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
		g.hangs = make([][]Hung, len(g.Items))
		for i := range g.Leads {
			fi, fp, ti, tp := g.LeadEnds(i)
			if fi < 0 {
				continue
			}
			from, to := &g.Items[fi].Gear.Ports[fp], &g.Items[ti].Gear.Ports[tp]
			if from.Direction == gear.Upstream && to.Direction == gear.Downstream && from.Connector.Family() == gear.USBFamily {
				g.hangs[ti] = append(g.hangs[ti], Hung{fi, i, tp})
			}
		}
	}
	return g.hangs[item]
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
