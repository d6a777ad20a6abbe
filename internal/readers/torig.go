package readers

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/usb"
)

// Plan is how a rig becomes what a machine says of itself: edits, and in words what was found and what was not.
type Plan struct {
	Edits []rig.Edit `json:"edits"`
	Found []string   `json:"found" doc:"Devices of the rig that were found, and where"`
	Added []string   `json:"added" doc:"Devices the rig did not have"`
	Left  []string   `json:"left" doc:"What was not taken over, and why"`
	Tells []string   `json:"tells" doc:"What the computer says of itself that the rig has otherwise"`
}

// classes and of [standard: USB-IF base classes].
const (
	classAudio   = 1
	classHID     = 3
	classStorage = 8
	classVideo   = 14
)

// ToRig gives the computer of a rig the controllers, sockets and hubs a reading shows, and puts the plugs of devices it
// recognises, by the name programs list them under or the name of their sheet, where the reading has them. Devices it
// does not know are looked up on the shelf, else added as what their class says.
func ToRig(r *rig.Rig, u *USB, shelf []gear.Entry) (*Plan, error) {
	host := r.Host()
	if host == nil {
		return nil, fmt.Errorf("the rig has no computer to read this for")
	}
	t := &toRig{rig: r, host: host, u: u, shelf: shelf, plan: &Plan{Edits: []rig.Edit{}, Found: []string{},
		Added: []string{}, Left: []string{}, Tells: []string{}}, leads: map[string]bool{}, items: map[string]bool{}}
	for i := range r.Items {
		t.items[r.Items[i].ID] = true
	}
	for i := range r.Leads {
		t.leads[r.Leads[i].ID] = true
	}
	t.topology()
	t.devices()
	t.computer()
	t.plan.Edits = append(append(t.displaced(), t.first...), t.then...)
	if t.gear != nil {
		t.plan.Edits = append([]rig.Edit{{Do: "take", Item: host.ID, Gear: t.gear}}, t.plan.Edits...)
	}
	after, err := rig.Apply(r, t.plan.Edits...)
	if err != nil {
		return nil, fmt.Errorf("this reading and the rig do not go together: %w", err)
	}
	was := rig.Check(r) // a rig that only begins has no source yet
	if bad := slices.DeleteFunc(rig.Check(after), func(p rig.Problem) bool {
		return slices.Contains(was, p)
	}); len(bad) > 0 {
		return nil, fmt.Errorf("this reading and the rig do not go together: %s: %s", bad[0].Place, bad[0].Text)
	}
	return t.plan, nil
}

type toRig struct {
	rig          *rig.Rig
	host         *rig.Item
	u            *USB
	shelf        []gear.Entry
	plan         *Plan
	gear         *gear.Gear
	first, then  []rig.Edit
	items, leads map[string]bool
	ports        []gear.Port
	controllers  []gear.Controller
	hubs         map[string]string // path -> item id
	hubPorts     map[string]int    // item id -> its sockets
	plugged      map[string]bool   // sockets something was put into
	stays        map[string]bool   // leads of the rig the reading accounts for
	taken        map[string]bool   // path of a socket of a root hub that has something in it
	crowded      bool              // there are more sockets than a sheet can have
	untold       int
	same         map[string]string // path of a port of the slower half of a socket -> of the faster
	matched      []string
}

func speedOf(mbps *float64) usb.Speed {
	switch {
	case mbps == nil:
		return usb.UnknownSpeed
	case *mbps < 1000:
		return usb.HighSpeed
	case *mbps < 10000:
		return usb.Gen1
	case *mbps < 20000:
		return usb.Gen2
	case *mbps < 40000:
		return usb.Gen2x2
	}
	return usb.Tunnel
}

// gradeOf is what a lead is made for at least, by the speed a device came up at behind it: it has data wires, and
// carries that.
func gradeOf(mbps *float64) string {
	switch speedOf(mbps) {
	case usb.HighSpeed:
		return "usb-2"
	case usb.Gen1:
		return "usb-5g"
	case usb.Gen2:
		return "usb-10g"
	case usb.Gen2x2:
		return "usb-20g"
	case usb.Tunnel:
		return "usb-40g"
	}
	return "usb-unknown"
}

func (t *toRig) controllerOf(bus int) string {
	for _, c := range t.u.Controllers {
		if slices.Contains(c.Buses, bus) {
			return gear.Slug(c.ID)
		}
	}
	return fmt.Sprintf("bus-%d", bus)
}

// topology makes a socket of every port of every root hub, and an item of every hub.
func (t *toRig) topology() {
	t.hubs, t.hubPorts, t.plugged = map[string]string{}, map[string]int{}, map[string]bool{"": true}
	t.stays = map[string]bool{}
	t.halves()
	t.worthwhile()
	for _, d := range t.inOrder() {
		n := 0
		if d.HubPorts != nil {
			n = min(max(*d.HubPorts, 0), 30)
		}
		if d.Parent == nil { // a root hub
			ctl := t.controllerOf(d.Bus)
			if !slices.ContainsFunc(t.controllers, func(c gear.Controller) bool { return c.ID == ctl }) {
				t.controllers = append(t.controllers, gear.Controller{ID: ctl})
			}
			for k := 1; k <= n; k++ {
				if t.same[portPath(*d.Path, k)] != "" {
					continue // one socket with a faster one, which stands already
				}
				if len(t.ports) == mostSockets || t.crowded && !t.taken[fmt.Sprintf("%d-%d", d.Bus, k)] {
					t.untold++
					continue
				}
				t.ports = append(t.ports, gear.Port{ID: fmt.Sprintf("bus-%d-port-%d", d.Bus, k),
					Label: fmt.Sprintf("bus %d, port %d", d.Bus, k), Connector: gear.USBA, Direction: gear.Downstream,
					Controller: ctl, USB: &gear.USBPort{Speed: speedOf(d.SpeedMbps)}})
			}
			continue
		}
		t.hub(d, n)
	}
}

// halves finds the ports that are one socket with a port of a faster hub.
func (t *toRig) halves() {
	t.same = map[string]string{}
	speed := map[string]float64{} // of each hub by the path of each of its ports
	hubs := t.inOrder()
	for _, d := range hubs {
		for _, p := range d.Peers {
			if d.SpeedMbps != nil {
				speed[portPath(*d.Path, p.Port)] = *d.SpeedMbps
			}
		}
	}
	for _, d := range hubs {
		for _, p := range d.Peers {
			if mine := portPath(*d.Path, p.Port); speed[mine] < speed[p.Is] {
				t.same[mine] = p.Is
			}
		}
	}
}

// inOrder are the hubs from the roots outward, the faster half of each before the slower.
func (t *toRig) inOrder() (out []*USBDevice) {
	for i := range t.u.Devices {
		if d := &t.u.Devices[i]; d.Path != nil && d.Hub != nil && *d.Hub {
			out = append(out, d)
		}
	}
	depth := func(d *USBDevice) int {
		if d.Parent == nil {
			return 0
		}
		return 1 + strings.Count(*d.Path, ".")
	}
	peered := func(d *USBDevice) float64 {
		if len(d.Peers) == 0 || d.SpeedMbps == nil {
			return 0
		}
		return -*d.SpeedMbps
	}
	slices.SortStableFunc(out, func(a, b *USBDevice) int {
		return cmp.Or(cmp.Compare(depth(a), depth(b)), cmp.Compare(peered(a), peered(b)))
	})
	return out
}

// mostSockets is how many sockets a sheet may have.
const mostSockets = 64

// worthwhile finds out whether all sockets fit a sheet; where they do not, those with something in them come first.
func (t *toRig) worthwhile() {
	t.taken = map[string]bool{}
	sockets := 0
	for i := range t.u.Devices {
		d := &t.u.Devices[i]
		if d.Parent == nil && d.Hub != nil && *d.Hub && d.HubPorts != nil {
			sockets += min(*d.HubPorts, 30)
		}
		if d.Parent != nil && d.Port != nil && strings.HasPrefix(*d.Parent, "usb") {
			t.taken[fmt.Sprintf("%d-%d", d.Bus, *d.Port)] = true
		}
	}
	t.crowded = sockets+len(t.host.Gear.Ports) > mostSockets
}

// socket is the reference of the port a device hangs on; "" when its hub is not known.
func (t *toRig) socket(d *USBDevice) string {
	if d.Parent == nil || d.Port == nil {
		return ""
	}
	ref, parent, port, bus := "", *d.Parent, *d.Port, strconv.Itoa(d.Bus)
	if d.Path != nil && t.same[*d.Path] != "" {
		parent, bus, port = parentOf(t.same[*d.Path])
	}
	if strings.HasPrefix(parent, "usb") {
		id := fmt.Sprintf("bus-%s-port-%d", bus, port)
		if slices.ContainsFunc(t.ports, func(p gear.Port) bool { return p.ID == id }) {
			ref = t.host.ID + "." + id
		}
	} else if hub := t.hubs[parent]; hub != "" && port >= 1 && port <= t.hubPorts[hub] {
		ref = fmt.Sprintf("%s.p%d", hub, port)
	}
	if t.plugged[ref] {
		return "" // a listing of two states of a machine
	}
	t.plugged[ref] = true
	return ref
}

// parentOf is the hub, the bus and the port of a path: usb2 of 2-3, 2-3 of 2-3.1.
func parentOf(path string) (parent, bus string, port int) {
	bus, ports, _ := strings.Cut(path, "-")
	parent, last := "usb"+bus, ports
	if i := strings.LastIndexByte(ports, '.'); i >= 0 {
		parent, last = bus+"-"+ports[:i], ports[i+1:]
	}
	port, _ = strconv.Atoi(last)
	return parent, bus, port
}

func (t *toRig) fresh(taken map[string]bool, stem string) string {
	id := rig.FreshID(stem, func(id string) bool { return taken[id] })
	taken[id] = true
	return id
}

// named is a name a sheet can have: what a listing calls a device, cut to length and without what no text may hold.
func named(name string) string {
	name = strings.Map(func(c rune) rune {
		if rig.TextProblem(string(c)+"a") != "" {
			return -1
		}
		return c
	}, strings.ToValidUTF8(name, ""))
	if r := []rune(name); len(r) > 120 {
		name = string(r[:119]) + "…"
	}
	if name = strings.TrimSpace(name); rig.TextProblem(name) != "" || name == "" {
		return "A device without a name"
	}
	return name
}

// hubThere tells whether the rig has this hub already, as an earlier reading made it.
func (t *toRig) hubThere(d *USBDevice, socket string, ports int) bool {
	at := slices.IndexFunc(t.rig.Leads, func(l rig.Lead) bool { return l.To == socket })
	if at < 0 {
		return false
	}
	from, _ := rig.SplitRef(t.rig.Leads[at].From)
	it := t.rig.Item(from)
	if it == nil || it.Gear.Kind != gear.Hub {
		return false
	}
	for k := 1; k <= ports; k++ {
		if it.Gear.Port(fmt.Sprintf("p%d", k)) < 0 {
			return false
		}
	}
	t.hubs[*d.Path], t.hubPorts[from] = from, ports
	t.stays[t.rig.Leads[at].ID] = true
	t.plan.Found = append(t.plan.Found, fmt.Sprintf("%s at %s", it.Label, *d.Path))
	return true
}

// displaced unplugs what the rig has in a socket where the reading has something else.
func (t *toRig) displaced() []rig.Edit {
	var out []rig.Edit
	for i := range t.rig.Leads {
		l := &t.rig.Leads[i]
		if !t.plugged[l.To] || t.stays[l.ID] {
			continue
		}
		from, _ := rig.SplitRef(l.From)
		out = append(out, rig.Edit{Do: "unplug", Lead: l.ID})
		t.plan.Left = append(t.plan.Left,
			fmt.Sprintf("%s: the reading has something else in its socket; it is unplugged", t.label(from)))
	}
	return out
}

func (t *toRig) hub(d *USBDevice, ports int) {
	if whole := t.hubs[t.same[*d.Path]]; whole != "" { // the slower half of one that stands already
		t.hubs[*d.Path] = whole
		return
	}
	socket := t.socket(d)
	if socket == "" {
		t.plan.Left = append(t.plan.Left,
			fmt.Sprintf("hub %s: the hub it hangs on is not in the reading, or has no such socket free", *d.Path))
		return
	}
	if t.hubThere(d, socket, ports) {
		return
	}
	id := t.fresh(t.items, "hub-"+strings.NewReplacer(".", "-").Replace(*d.Path))
	t.hubs[*d.Path], t.hubPorts[id] = id, ports
	name := "Hub " + *d.Path
	if d.Name != nil {
		name = named(*d.Name)
	}
	speed := speedOf(d.SpeedMbps)
	g := gear.Gear{Kind: gear.Hub, Name: name,
		Ports: []gear.Port{{ID: "up", Connector: gear.USBA, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: speed}}}, Power: &gear.Power{SelfPowered: "unknown"}}
	if d.SelfPowered != nil {
		g.Power.SelfPowered = map[bool]string{true: "yes", false: "no"}[*d.SelfPowered]
	}
	for k := 1; k <= ports; k++ {
		g.Ports = append(g.Ports, gear.Port{ID: fmt.Sprintf("p%d", k), Label: fmt.Sprintf("hub %s, port %d", *d.Path,
			k), Connector: gear.USBA, Direction: gear.Downstream, USB: &gear.USBPort{Speed: speed}})
	}
	t.first = append(t.first, rig.Edit{Do: "add", NewItem: &rig.Item{ID: id, Label: "Hub " + *d.Path, Gear: g}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: t.fresh(t.leads, id+"-lead"), From: id + ".up", To: socket,
			Grade: gradeOf(d.SpeedMbps), LengthM: fact.Est(0.5, 0, 2)}})
	t.plan.Added = append(t.plan.Added, fmt.Sprintf("%s at %s", name, *d.Path))
}

// devices finds every device that is no hub in the rig, on the shelf, or adds it.
func (t *toRig) devices() {
	for i := range t.u.Devices {
		d := &t.u.Devices[i]
		if d.Hub != nil && *d.Hub {
			continue
		}
		name := "A device without a name"
		if d.Name != nil {
			name = named(*d.Name)
		}
		where := fmt.Sprintf("device %d of bus %d", d.Dev, d.Bus)
		if d.Path != nil {
			where = *d.Path
		}
		socket := t.socket(d)
		switch {
		case socket == "":
			t.plan.Left = append(t.plan.Left, fmt.Sprintf("%s (%s): the reading does not say where it hangs", name,
				where))
		case t.known(d, name, socket, where):
		case slices.Equal(d.Classes, []int{classHID}):
			t.plan.Left = append(t.plan.Left, fmt.Sprintf("%s at %s: keyboards and mice take next to nothing of a bus",
				name, where))
		default:
			t.add(d, name, socket, where)
		}
	}
}

// sameName compares names as people write them.
func sameName(a, b string) bool {
	return a != "" && b != "" && strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b))
}

func called(g *gear.Gear, name string) bool {
	return sameName(g.ListedAs, name) || sameName(g.Name, name)
}

// known puts the plug of a device the rig has where the reading has it.
func (t *toRig) known(d *USBDevice, name, socket, where string) bool {
	for i := range t.rig.Items {
		it := &t.rig.Items[i]
		if it.IsHost() || slices.Contains(t.matched, it.ID) || !called(&it.Gear, name) {
			continue
		}
		for k := range t.rig.Leads {
			l := &t.rig.Leads[k]
			from, port := rig.SplitRef(l.From)
			if at := it.Gear.Port(port); from != it.ID || at < 0 || it.Gear.Ports[at].Direction != gear.Upstream {
				continue
			}
			t.matched = append(t.matched, it.ID)
			t.stays[l.ID] = true
			if l.To != socket {
				t.then = append(t.then, rig.Edit{Do: "plug", Lead: l.ID, End: "to", Socket: socket})
			}
			if l.Grade == "usb-unknown" {
				if g := gradeOf(d.SpeedMbps); g != l.Grade {
					t.then = append(t.then, rig.Edit{Do: "word", Path: "leads/" + l.ID + "/grade", Word: g})
				}
			}
			t.facts(it, port, d)
			t.plan.Found = append(t.plan.Found, fmt.Sprintf("%s at %s", it.Label, where))
			return true
		}
	}
	return false
}

// facts takes over what the reading knows of a device: its speed, and whether it reserves.
func (t *toRig) facts(it *rig.Item, port string, d *USBDevice) {
	path := "items/" + it.ID + "/ports/" + port + "/usb/"
	if d.SpeedMbps != nil {
		t.then = append(t.then, rig.Edit{Do: "word", Path: path + "speed", Word: string(speedOf(d.SpeedMbps))})
	}
	if len(d.IsoAlt) > 0 {
		t.then = append(t.then, rig.Edit{Do: "word", Path: path + "transfer", Word: string(usb.Isochronous)})
	}
	if f := reserves(d); f != nil {
		t.then = append(t.then, rig.Edit{Do: "fact", Path: path + "reservesMBps", Fact: f})
	}
}

// reserves is what the alternate settings of a device's pictures reserve, the smallest to the largest; nil when none
// does.
func reserves(d *USBDevice) *fact.Fact {
	if !slices.Contains(d.Classes, classVideo) {
		return nil
	}
	var f *fact.Fact
	for _, a := range d.IsoAlt {
		if a.BytesPerInterval <= 0 || a.IntervalUs <= 0 {
			continue
		}
		mb := float64(a.BytesPerInterval) / float64(a.IntervalUs)
		if f == nil {
			f = &fact.Fact{Low: mb, High: mb, From: fact.DataSheet}
		}
		f.Low, f.High = min(f.Low, mb), max(f.High, mb)
		f.Value = f.High // most devices claim the largest
	}
	return f
}

// add puts a device the rig does not have into it: as its sheet on the shelf, else as its class says.
func (t *toRig) add(d *USBDevice, name, socket, where string) {
	g := gear.Gear{Name: name, Ports: []gear.Port{{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream,
		USB: &gear.USBPort{Speed: speedOf(d.SpeedMbps)}}}}
	var ref *rig.ShelfRef
	if at := slices.IndexFunc(t.shelf, func(e gear.Entry) bool {
		return called(&e.Gear, name) && e.Gear.HasPort(gear.USBFamily, gear.Upstream)
	}); at >= 0 {
		g, ref = t.shelf[at].Gear, &rig.ShelfRef{ID: t.shelf[at].ID, Revision: 1}
	} else {
		switch {
		case slices.Contains(d.Classes, classVideo):
			g.Kind, g.Clean, g.Driver = gear.Webcam, gear.UnknownClean, "none"
		case slices.Contains(d.Classes, classStorage):
			g.Kind = gear.Drive
		case slices.Contains(d.Classes, classAudio):
			g.Kind = gear.AudioInterface
		default:
			t.plan.Left = append(t.plan.Left, fmt.Sprintf("%s at %s: neither picture, sound nor drive", name, where))
			return
		}
		if len(d.IsoAlt) > 0 {
			g.Ports[0].USB.Transfer, g.Ports[0].USB.ReservesMBps = usb.Isochronous, reserves(d)
		}
		if d.MaxPowerMA != nil {
			w := float64(*d.MaxPowerMA) * 5 / 1000
			g.Power = &gear.Power{DrawW: &fact.Fact{Value: w, Low: w / 4, High: w, From: fact.DataSheet}}
		}
	}
	up := slices.IndexFunc(g.Ports, func(p gear.Port) bool { return p.Direction == gear.Upstream })
	id := t.fresh(t.items, gear.Slug(name))
	t.then = append(t.then, rig.Edit{Do: "add", NewItem: &rig.Item{ID: id, Label: name, Gear: g, Shelf: ref}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: t.fresh(t.leads, id+"-lead"), From: id + "." + g.Ports[up].ID,
			To: socket, Grade: gradeOf(d.SpeedMbps), LengthM: fact.Est(0.5, 0, 2)}})
	t.plan.Added = append(t.plan.Added, fmt.Sprintf("%s at %s", name, where))
}

// computer gives the host the sockets that were read. Sockets the rig had stay while a plug the reading does not know
// is in them, so that nothing is lost.
func (t *toRig) computer() {
	if len(t.ports) == 0 {
		return
	}
	g := t.host.Gear
	g.Controllers = append(slices.Clone(t.controllers), slices.DeleteFunc(slices.Clone(g.Controllers),
		func(c gear.Controller) bool {
			return slices.ContainsFunc(t.controllers, func(o gear.Controller) bool { return o.ID == c.ID })
		})...)
	ports := slices.Clone(t.ports)
	for _, p := range g.Ports {
		if p.Connector.Family() == gear.USBFamily && p.Direction == gear.Downstream {
			ref := t.host.ID + "." + p.ID
			at := slices.IndexFunc(t.rig.Leads, func(l rig.Lead) bool { return l.To == ref })
			if at < 0 {
				continue
			}
			from, _ := rig.SplitRef(t.rig.Leads[at].From)
			if !slices.Contains(t.matched, from) {
				t.plan.Left = append(t.plan.Left, fmt.Sprintf("%s in %s: not in the reading; it stays where it is",
					t.label(from), rig.PortName(&p)))
			}
		}
		if !slices.ContainsFunc(ports, func(q gear.Port) bool { return q.ID == p.ID }) {
			ports = append(ports, p)
		}
	}
	if more := len(ports) - mostSockets; more > 0 {
		t.untold += more
		ports = ports[:mostSockets]
	}
	g.Ports = ports
	if t.untold > 0 {
		t.plan.Left = append(t.plan.Left,
			fmt.Sprintf("%d sockets with nothing in them: a computer has at most %d here", t.untold, mostSockets))
	}
	used := map[string]bool{}
	for _, p := range g.Ports {
		used[p.Controller] = true
	}
	g.Controllers = slices.DeleteFunc(g.Controllers, func(c gear.Controller) bool { return !used[c.ID] })
	t.gear = &g
}

func (t *toRig) label(id string) string {
	if it := t.rig.Item(id); it != nil {
		return it.Label
	}
	return id
}
