package view

import (
	"slices"
	"strings"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
)

// Row is one line of the tree of a rig's sockets: a computer, a controller, a socket, a slot, or a hub with what hangs
// on it one step deeper.
type Row struct {
	Depth   int         `json:"depth"`
	Kind    RowKind     `json:"kind" enum:"computer,controller,socket,slot,hub"`
	Ref     string      `json:"ref" doc:"item, item.controller or item.port"`
	Label   string      `json:"label"`
	Speed   string      `json:"speed,omitempty"`
	Item    string      `json:"item,omitempty" doc:"What is plugged in"`
	Lead    string      `json:"lead,omitempty"`
	Plugged string      `json:"plugged,omitempty" doc:"Its label"`
	Runs    string      `json:"runs,omitempty" doc:"What its connection carries, and what limits it"`
	Limits  []Limit     `json:"limits"`
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped" doc:"The worst of the limits; slack with none"`
}

// RowKind is what a row stands for.
type RowKind string

// The kinds of rows.
const (
	RowComputer   RowKind = "computer"
	RowController RowKind = "controller"
	RowSocket     RowKind = "socket"
	RowSlot       RowKind = "slot"
	RowHub        RowKind = "hub"
)

// Tree lays out the sockets of every computer, hub and dock of a rig with the limits of v judged at each.
func Tree(r *rig.Rig, v *Verdict) []Row {
	t := &tree{r: r, g: rig.NewWiring(r), v: v, seen: map[string]bool{}, rows: []Row{}}
	for i := range r.Items {
		if r.Items[i].IsHost() {
			t.row(Row{Kind: RowComputer, Ref: r.Items[i].ID, Label: r.Items[i].Label}, "supply:"+r.Items[i].ID)
			t.item(i, 1)
		}
	}
	for i := range r.Items { // hubs that hang on nothing yet
		if k := r.Items[i].Gear.Kind; (k == gear.Hub || k == gear.Dock) && !t.seen[r.Items[i].ID] {
			t.row(Row{Kind: RowHub, Ref: r.Items[i].ID, Label: r.Items[i].Label}, t.hubLimits(&r.Items[i])...)
			t.item(i, 1)
		}
	}
	return t.rows
}

type tree struct {
	r    *rig.Rig
	g    *rig.Wiring
	v    *Verdict
	seen map[string]bool
	rows []Row
}

func (t *tree) row(row Row, ids ...string) {
	row.Limits, row.State = []Limit{}, limit.Slack
	for i := range t.v.Limits {
		l := &t.v.Limits[i]
		beside := row.Kind == RowSlot && l.Rule == rules.SideBySide.Name && slices.Contains(l.Where, row.Item)
		if beside || slices.Contains(ids, l.ID) {
			row.Limits = append(row.Limits, *l)
			row.State = limit.Worse(row.State, l.State)
		}
	}
	t.rows = append(t.rows, row)
}

func (t *tree) hubLimits(it *rig.Item) []string {
	return []string{"bus:" + it.ID + "..fast", "bus:" + it.ID + "..480", "supply:" + it.ID, "hub-depth:" + it.ID}
}

// item lays out the sockets of an item, those of one controller together.
func (t *tree) item(i, depth int) {
	it := &t.r.Items[i]
	if t.seen[it.ID] {
		return
	}
	t.seen[it.ID] = true
	var order []string
	for j := range it.Gear.Ports {
		if p := &it.Gear.Ports[j]; t.shown(it, p) && !slices.Contains(order, p.Controller) {
			order = append(order, p.Controller)
		}
	}
	for _, c := range order {
		at := depth
		if it.IsHost() || plans.OwnsController(it, c) {
			label := lang.Text("controller %s", c)
			if c == "" {
				label = lang.Text("slots and sockets without a named controller")
			}
			t.row(Row{Depth: depth, Kind: RowController, Ref: it.ID + "." + c, Label: label},
				"bus:"+it.ID+"."+c+".fast", "bus:"+it.ID+"."+c+".480")
			at++
		}
		for j := range it.Gear.Ports {
			if p := &it.Gear.Ports[j]; p.Controller == c && t.shown(it, p) {
				t.socket(i, j, at)
			}
		}
	}
}

// shown tells whether a port belongs into the tree: where devices or cards go in.
func (t *tree) shown(it *rig.Item, p *gear.Port) bool {
	return p.Direction == gear.Downstream && (p.Connector.Family() == gear.USBFamily || p.Connector == gear.PCIe)
}

func (t *tree) socket(i, j, depth int) {
	it := &t.r.Items[i]
	p := &it.Gear.Ports[j]
	ref := it.ID + "." + p.ID
	row := Row{Depth: depth, Kind: RowSocket, Ref: ref, Label: rig.PortName(p)}
	ids := []string{"port-current:" + ref}
	if p.Connector == gear.PCIe {
		row.Kind = RowSlot
		ids = append(ids, "slot:"+ref)
		if p.Slot != nil {
			row.Speed = plans.SlotName(p.Slot)
		}
	} else if p.USB != nil {
		row.Speed = rig.SpeedName(p.USB.Speed)
	} else {
		row.Speed = rig.SpeedName(usb.UnknownSpeed)
	}
	lead := t.g.LeadAt(i, j)
	if lead < 0 {
		t.row(row, ids...)
		return
	}
	l := &t.r.Leads[lead]
	from, fromPort, _, _ := t.g.LeadEnds(lead)
	dev := &t.r.Items[from]
	row.Lead, row.Item, row.Plugged = l.ID, dev.ID, dev.Label
	ids = append(ids, "drop:"+l.ID, "reach:"+l.ID, "carries-data:"+l.ID)
	if link := t.v.Find("link:" + dev.ID + "." + dev.Gear.Ports[fromPort].ID); link != nil {
		ids = append(ids, link.ID)
		row.Runs = strings.TrimPrefix(link.LimitSum, lang.Text("slowest part: "))
	}
	hub := dev.Gear.Kind == gear.Hub || dev.Gear.Kind == gear.Dock
	if hub {
		ids = append(ids, t.hubLimits(dev)...)
	}
	t.row(row, ids...)
	if hub {
		t.item(from, depth+1)
	}
}
