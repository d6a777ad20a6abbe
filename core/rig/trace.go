package rig

import (
	"maps"
	"slices"
	"strings"

	"eventether/core/gear"
)

// Feed is the way one source's picture takes, hop by hop, towards the computer.
type Feed struct {
	Source int // index of the source in Items
	Hops   []Hop
	// Arrives tells whether the last hop is the computer that takes the pictures.
	Arrives bool
}

// Hop is one item on the way. LeadIn is the lead that brings the picture here, In and Out the ports it uses; -1 where
// there is none (the source has no way in, the computer no way out).
type Hop struct {
	Item   int
	LeadIn int
	In     int
	Out    int
}

// Graph is a rig with its leads indexed by socket.
type Graph struct {
	*Rig
	at    map[string]int         // item id -> index
	plug  map[portKey]plug       // socket -> the lead in it
	ends  []([2]portKey)         // lead -> its two sockets
	clash map[portKey][]int      // sockets with several leads in them, while a change is half made
	ports map[int]map[string]int // of items with many ports, port id -> index
}

type portKey struct{ item, port int }

type plug struct {
	lead int
	to   bool // this is the lead's To end
}

// NewGraph indexes a rig that passes Check, or nearly: leads whose ends do not exist are left out.
func NewGraph(r *Rig) *Graph {
	g := &Graph{Rig: r, at: make(map[string]int, len(r.Items)), plug: make(map[portKey]plug, 2*len(r.Leads)),
		ends: make([][2]portKey, len(r.Leads))}
	for i := range r.Items {
		g.at[r.Items[i].ID] = i
	}
	for i := range r.Leads {
		from, ok1 := g.key(r.Leads[i].From)
		to, ok2 := g.key(r.Leads[i].To)
		if !ok1 || !ok2 {
			g.ends[i] = [2]portKey{{-1, -1}, {-1, -1}}
			continue
		}
		g.ends[i] = [2]portKey{from, to}
		g.put(from, plug{i, false})
		g.put(to, plug{i, true})
	}
	return g
}

func (g *Graph) put(k portKey, p plug) {
	if first, taken := g.plug[k]; taken {
		if g.clash == nil {
			g.clash = map[portKey][]int{}
		}
		if len(g.clash[k]) == 0 {
			g.clash[k] = []int{first.lead}
		}
		g.clash[k] = append(g.clash[k], p.lead)
		return
	}
	g.plug[k] = p
}

func (g *Graph) key(ref string) (portKey, bool) {
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

func (g *Graph) port(item int, id string) int {
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
func (g *Graph) Clashes() [][]int {
	return slices.SortedFunc(maps.Values(g.clash), slices.Compare[[]int])
}

// End is the item at one end of a lead, nil when there is none.
func (g *Graph) End(ref string) *Item {
	id, _ := SplitRef(ref)
	if i, ok := g.at[id]; ok {
		return &g.Items[i]
	}
	return nil
}

// Taken tells whether a socket has a plug in it.
func (g *Graph) Taken(ref string) bool {
	k, ok := g.key(ref)
	if ok {
		_, ok = g.plug[k]
	}
	return ok
}

// LeadAt is the lead in a socket, -1 when it is free.
func (g *Graph) LeadAt(item, port int) int {
	if p, ok := g.plug[portKey{item, port}]; ok {
		return p.lead
	}
	return -1
}

// LeadEnds gives the item and port at both ends of a lead.
func (g *Graph) LeadEnds(lead int) (fromItem, fromPort, toItem, toPort int) {
	e := g.ends[lead]
	return e[0].item, e[0].port, e[1].item, e[1].port
}

// Trace follows every source to the computer, through any number of hops, in the order of the items. A picture that
// is split takes the way that reaches the computer; one that reaches it nowhere ends where its longest way ends.
func (g *Graph) Trace() []Feed {
	var feeds []Feed
	for i := range g.Items {
		it := &g.Items[i]
		if !it.IsSource() {
			continue
		}
		began := len(feeds)
		for p := range it.Gear.Ports {
			if d := it.Gear.Ports[p].Direction; d != gear.Out && d != gear.Upstream {
				continue
			}
			if g.LeadAt(i, p) < 0 {
				continue
			}
			feeds = append(feeds, g.follow(i, p))
		}
		mine := feeds[began:]
		if len(mine) == 0 {
			feeds = append(feeds, Feed{Source: i, Hops: []Hop{{Item: i, LeadIn: -1, In: -1, Out: firstOut(it)}}})
			continue
		}
		if slices.ContainsFunc(mine, func(f Feed) bool { return f.Arrives }) {
			mine = slices.DeleteFunc(mine, func(f Feed) bool { return !f.Arrives })
			feeds = feeds[:began+len(mine)]
		} else {
			feeds = feeds[:began+1]
		}
	}
	return feeds
}

func firstOut(it *Item) int {
	for p := range it.Gear.Ports {
		if d := it.Gear.Ports[p].Direction; d == gear.Out || d == gear.Upstream {
			return p
		}
	}
	return -1
}

func (g *Graph) follow(item, port int) Feed {
	f := Feed{Source: item}
	hops := make([]Hop, 1, 6)
	hops[0] = Hop{Item: item, LeadIn: -1, In: -1, Out: port}
	f.Hops, f.Arrives = g.walk(hops)
	return f
}

// walk extends the way from its last hop's Out port; it returns the first way that arrives, else the longest.
func (g *Graph) walk(hops []Hop) ([]Hop, bool) {
	last := hops[len(hops)-1]
	p, ok := g.plug[portKey{last.Item, last.Out}]
	if !ok {
		return hops, false
	}
	end := g.ends[p.lead][1]
	if p.to {
		end = g.ends[p.lead][0] // a lead laid the wrong way round still joins the two sockets
	}
	for _, h := range hops {
		if h.Item == end.item {
			return hops, false // a loop; Check names it
		}
	}
	hops = append(hops, Hop{Item: end.item, LeadIn: p.lead, In: end.port, Out: -1})
	it := &g.Items[end.item]
	if it.IsHost() {
		return hops, true
	}
	best, at := hops, len(hops)-1
	in := it.Gear.Ports[end.port].Direction
	if in != gear.In && in != gear.Downstream {
		return hops, false // it went into an output: it ends here
	}
	for q := range it.Gear.Ports {
		if !passes(in, it.Gear.Ports[q].Direction) {
			continue
		}
		if g.LeadAt(end.item, q) < 0 {
			continue
		}
		branch := hops
		if len(best) > len(hops) { // an earlier branch is kept: leave it alone
			branch = slices.Clone(hops)
		}
		branch[at].Out = q
		way, arrives := g.walk(branch)
		if arrives {
			return way, true
		}
		if len(way) > len(best) {
			best = way
		}
	}
	return best, false
}

// passes tells whether a picture that came in by one direction of port leaves by another.
func passes(in, out gear.Direction) bool {
	switch in {
	case gear.In:
		return out == gear.Out || out == gear.Upstream
	case gear.Downstream:
		return out == gear.Upstream
	}
	return false
}

// findLoop describes a loop of leads, or returns "".
func findLoop(r *Rig) string {
	g := NewGraph(r)
	state := make([]int, len(r.Items)) // 0 new, 1 on the way, 2 done
	var path []int
	var visit func(i int) string
	visit = func(i int) string {
		state[i] = 1
		path = append(path, i)
		for p := range r.Items[i].Gear.Ports {
			pl, ok := g.plug[portKey{i, p}]
			if !ok || pl.to {
				continue
			}
			next := g.ends[pl.lead][1].item
			if state[next] == 1 {
				names := []string{}
				for _, k := range path[slices.Index(path, next):] {
					names = append(names, r.Items[k].ID)
				}
				return strings.Join(append(names, r.Items[next].ID), " → ")
			}
			if state[next] == 0 {
				if loop := visit(next); loop != "" {
					return loop
				}
			}
		}
		path = path[:len(path)-1]
		state[i] = 2
		return ""
	}
	for i := range r.Items {
		if state[i] == 0 {
			if loop := visit(i); loop != "" {
				return loop
			}
		}
	}
	return ""
}

func sortedKeys[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }

func contains(list []string, s string) bool { return slices.Contains(list, s) }
