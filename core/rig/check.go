package rig

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/sdi"
	"eventether/core/usb"
	"eventether/core/work"
)

// Problem is one thing wrong with a document: where, and what is expected there.
type Problem struct {
	Place string `json:"place"`
	Text  string `json:"text"`
}

func (p Problem) String() string {
	if p.Place == "" {
		return p.Text
	}
	return p.Place + ": " + p.Text
}

// Check lists every problem that keeps a rig from being judged, in the order of the document. A rig that is wired
// wrongly (an output into an output, a lead too long) is no problem here: judging says so.
func Check(r *Rig) []Problem {
	c := &checker{r: r, items: map[string]int{}, leads: map[string]int{}}
	c.head()
	c.things()
	c.wires()
	c.numbers((*Field).inDocument)
	if len(c.out) == 0 { // a walk makes sense only in a sound document
		c.shape()
	}
	return c.out
}

// CheckLeads is as Check, of a rig whose leads alone differ from one that passes.
func CheckLeads(r *Rig) []Problem {
	c := &checker{r: r, items: make(map[string]int, len(r.Items)), leads: make(map[string]int, len(r.Leads))}
	for i := range r.Items {
		c.items[r.Items[i].ID] = i
	}
	c.wires()
	if len(c.out) == 0 {
		c.shape()
	}
	return c.out
}

// CheckEntry lists every problem of a shelf entry; at is its place in a file.
func CheckEntry(at string, e *gear.Entry) []Problem {
	c := &checker{r: &Rig{}, items: map[string]int{}, leads: map[string]int{}}
	c.r.Items = []Item{{ID: e.ID, Label: e.Gear.Name, Gear: e.Gear}}
	c.sheet(where{base: at}, &c.r.Items[0])
	c.numbers(func(f *Field, s *spot, of, sub string) string {
		_, rest, _ := strings.Cut(f.inDocument(s, of, sub), ".gear.")
		return at + ".gear." + rest
	})
	return c.out
}

type checker struct {
	r     *Rig
	items map[string]int
	leads map[string]int
	out   []Problem
}

// where is where something stands in a document; it becomes words only when there is something to say of it.
type where struct {
	base     string
	item, of step
}

// step is one entry of a list: which, and its id.
type step struct {
	list string
	n    int
	id   string
}

// in is the place of an entry of a list of a thing.
func (p where) in(list string, n int, id string) where {
	p.of = step{list, n, id}
	return p
}

// dot is the place of a field there, or the place itself.
func (p where) dot(field string) string {
	out := p.base
	for _, s := range [2]step{p.item, p.of} {
		if s.list == "" {
			continue
		}
		if out != "" {
			out += "."
		}
		out += fmt.Sprintf("%s[%d]", s.list, s.n)
		if s.id != "" || s.list != "gear.delivers" {
			out += fmt.Sprintf(" %q", s.id)
		}
	}
	if out == "" || field == "" {
		return out + field
	}
	return out + "." + field
}

func (c *checker) add(place, format string, args ...any) {
	c.out = append(c.out, Problem{place, fmt.Sprintf(format, args...)})
}

// Bounds of a piece of work, in minutes.
const (
	leastWork = 0.1
	mostWork  = 600.0
)

func (c *checker) head() {
	for i, what := range c.r.Show.Besides {
		switch {
		case !slices.Contains([]string{VirtualCamera, ScreenRecording, OwnStream}, what):
			c.add("show.besides", "%q: want %s, %s or %s", what, VirtualCamera, ScreenRecording, OwnStream)
		case slices.Contains(c.r.Show.Besides[:i], what):
			c.add("show.besides", "%q stands twice", what)
		}
	}
	if c.r.Format != Format {
		c.add("format", "%q: this version reads %q", c.r.Format, Format)
	}
	c.text(where{}, "name", c.r.Name)
	c.text(where{}, "notes", c.r.Notes)
	for _, kind := range slices.Sorted(maps.Keys(c.r.WorkMinutes)) {
		if m := c.r.WorkMinutes[kind]; !work.Known(kind) {
			c.add("workMinutes", "%q is no kind of work", kind)
		} else if !(m >= leastWork && m <= mostWork) {
			c.add("workMinutes", "%q takes %v min: want %v to %v", kind, m, leastWork, mostWork)
		}
	}
	if c.r.Show.Programme.Rate.IsZero() {
		c.add("show.programme.rate", "is missing: want an exact fraction such as \"30000/1001\"")
	}
	if d := c.r.Show.Date; d != "" && !IsDay(d) {
		c.add("show.date", "%q: want a day such as 2026-12-04", d)
	}
	for i := range c.r.Items {
		if d := c.r.Items[i].Arrives; d != "" && !IsDay(d) {
			c.add(fmt.Sprintf("items[%d] %q.arrives", i, c.r.Items[i].ID), "%q: want a day such as 2026-12-04", d)
		}
	}
	for i := range c.r.Show.Destinations {
		d := &c.r.Show.Destinations[i]
		at := fmt.Sprintf("show.destinations[%d] %q", i, d.Name)
		c.text(where{base: at}, "", d.Name)
		if d.Send.Rate.IsZero() {
			c.add(at+".send.rate", "is missing: want an exact fraction such as \"30000/1001\"")
		}
		c.ingest(at, d)
		if d.Via == "" {
			continue
		}
		via := slices.IndexFunc(c.r.Show.Destinations, func(o Destination) bool { return o.Name == d.Via })
		switch {
		case via < 0 || via == i:
			c.add(at+".via", "%q is not another destination of this show", d.Via)
		case c.r.Show.Destinations[via].Via != "":
			c.add(at+".via", "%q is passed on by another itself: want one that is sent to", d.Via)
		case c.r.Show.Destinations[via].Send.Width != d.Send.Width ||
			c.r.Show.Destinations[via].Send.Height != d.Send.Height ||
			c.r.Show.Destinations[via].Send.Rate != d.Send.Rate:
			c.add(at+".send", "differs from what %q is sent, which passes it on as it is", d.Via)
		}
	}
}

// ingest checks that what a destination takes does not contradict itself.
func (c *checker) ingest(at string, d *Destination) {
	in := d.Ingest
	if in == nil {
		return
	}
	if least, _ := in.Least(); in.MaxVideoKbps > 0 && least > in.MaxVideoKbps {
		c.add(at+".ingest.minVideoKbps", "%g kb/s at least and %g at most: no bitrate is both", least, in.MaxVideoKbps)
	}
	for _, t := range in.Transports {
		if !slices.Contains(transports, t) {
			c.add(at+".ingest.transports", "%q: want rtmp, srt, webrtc or hls", t)
		}
	}
}

func (c *checker) things() {
	for i := range c.r.Items {
		it := &c.r.Items[i]
		at := where{item: step{"items", i, it.ID}}
		if first, twice := c.items[it.ID]; twice {
			c.add(at.dot("id"), "is the id of items[%d] too: ids must differ", first)
		}
		c.items[it.ID] = i
		c.text(at, "label", it.Label)
		c.sheet(at, it)
	}
	c.recordings()
	c.sound()
}

// sheet checks an item's spec sheet and how it is set.
func (c *checker) sheet(at where, it *Item) {
	c.text(at, "gear.notes", it.Gear.Notes)
	c.text(at, "gear.name", it.Gear.Name)
	c.ports(at, it)
	c.sets(at, it)
	c.own(at, it)
}

// sound checks that every way of sound names things of this rig.
func (c *checker) sound() {
	if c.r.Sound == nil {
		return
	}
	for i := range c.r.Sound.Paths {
		p := &c.r.Sound.Paths[i]
		at := fmt.Sprintf("sound.paths[%d]", i)
		c.text(where{base: at}, "voice", p.Voice)
		seen := map[string]bool{}
		for k, id := range append([]string{p.From}, p.Via...) {
			where := at + ".from"
			if k > 0 {
				where = fmt.Sprintf("%s.via[%d]", at, k-1)
			}
			if _, ok := c.items[id]; !ok {
				c.add(where, "%q is not an item of this rig", id)
			} else if seen[id] {
				c.add(where, "%q stands in this way already", id)
			}
			seen[id] = true
		}
	}
}

// recordings checks what the show says of items: programs beside the main one, and what is kept where.
func (c *checker) recordings() {
	for i := range c.r.Items {
		it := &c.r.Items[i]
		if it.PoweredBy == "" {
			continue
		}
		at := fmt.Sprintf("items[%d] %q.poweredBy", i, it.ID)
		j, ok := c.items[it.PoweredBy]
		switch {
		case !ok:
			c.add(at, "%q is not an item of this rig", it.PoweredBy)
		case j == i:
			c.add(at, "%q cannot power itself", it.ID)
		case !c.r.Items[j].Gear.Kind.Gives():
			c.add(at, "%q is a %s: want a strip, UPS, supply, power bank, hub, dock or computer", it.PoweredBy,
				c.r.Items[j].Gear.Kind)
		case c.powersItself(i):
			c.add(at, "%q hangs on itself by way of %q", it.ID, it.PoweredBy)
		}
	}
	c.layouts()
	for i, also := range c.r.Show.Also {
		for _, id := range also.Takes {
			if _, ok := c.items[id]; !ok {
				c.add(fmt.Sprintf("show.also[%d].takes", i), "%q is not an item of this rig", id)
			}
		}
	}
	for i, rec := range c.r.Show.Recordings {
		if j, ok := c.items[rec.What]; rec.InCamera && (!ok || !c.r.Items[j].Gear.Kind.Shoots()) {
			c.add(fmt.Sprintf("show.recordings[%d].what", i), "%q records in the camera: want the id of a camera",
				rec.What)
		}
		if rec.Drive == "" {
			continue
		}
		at := fmt.Sprintf("show.recordings[%d].drive", i)
		if j, ok := c.items[rec.Drive]; !ok {
			c.add(at, "%q is not an item of this rig", rec.Drive)
		} else if k := c.r.Items[j].Gear.Kind; k != gear.Drive && k != gear.Recorder && k != gear.Computer {
			c.add(at, "%q is a %s: want a drive, a recorder or a computer", rec.Drive, k)
		}
	}
}

// own checks what a sheet says of the device itself: its settings and what it does by itself.
func (c *checker) own(at where, it *Item) {
	g := &it.Gear
	seen := map[string]bool{}
	for j := range g.Settings {
		if s := &g.Settings[j]; seen[s.ID] {
			c.add(at.in("gear.settings", j, s.ID).dot(""), "stands twice: ids must differ")
		}
		seen[g.Settings[j].ID] = true
	}
	for j := range g.Settings {
		for _, x := range g.Settings[j].Excludes {
			if !seen[x] || x == g.Settings[j].ID {
				c.add(at.in("gear.settings", j, g.Settings[j].ID).dot("excludes"),
					"%q is no other setting of this sheet", x)
			}
		}
	}
	if it.Set != nil {
		for _, id := range sortedKeys(it.Set.Settings) {
			if !seen[id] {
				c.add(at.dot("set.settings"), "%q is not a setting of its sheet", id)
			}
		}
		if it.Set.Upright && !g.Turns {
			c.add(at.dot("set.upright"),
				"the picture of this device does not turn: its sheet says nothing of \"turns\"")
		}
	}
	for j := range g.Ports {
		p := &g.Ports[j]
		if p.LoopOf == "" {
			continue
		}
		if k := g.Port(p.LoopOf); k < 0 || g.Ports[k].Direction != gear.In || p.Direction != gear.Out {
			c.add(at.in("gear.ports", j, p.ID).dot("loopOf"),
				"want an output that names an input of the same item; %q is none", p.LoopOf)
		}
	}
}

func (c *checker) ports(at where, it *Item) {
	seen, controllers := map[string]bool{}, map[string]bool{}
	for j := range it.Gear.Controllers {
		ctl := &it.Gear.Controllers[j]
		here := at.in("gear.controllers", j, ctl.ID)
		if controllers[ctl.ID] {
			c.add(here.dot("id"), "stands twice: ids must differ")
		}
		controllers[ctl.ID] = true
	}
	for j := range it.Gear.Ports {
		p := &it.Gear.Ports[j]
		here := at.in("gear.ports", j, p.ID)
		if seen[p.ID] {
			c.add(here.dot("id"), "stands twice on this item: ids must differ")
		}
		seen[p.ID] = true
		if p.SDI != nil && p.Connector.Family() != gear.SDIFamily {
			c.add(here.dot("sdi"), "the socket is %s: only a bnc socket has SDI", p.Connector)
		}
		for k, m := range p.Modes {
			if m.Rate.IsZero() {
				c.add(fmt.Sprintf("%s[%d].rate", here.dot("modes"), k), "is missing")
			}
		}
		if p.Controller != "" && !controllers[p.Controller] {
			c.add(here.dot("controller"), "%q is not a controller of this item", p.Controller)
		}
	}
	for j := range it.Gear.Delivers {
		d := &it.Gear.Delivers[j]
		here := at.in("gear.delivers", j, "")
		if d.MaxRate.IsZero() {
			c.add(here.dot("maxRate"), "is missing")
		}
		if st := d.Steps; st != nil && (st.MinWidth > d.Width || st.MinHeight > d.Height) {
			c.add(here.dot("steps"), "the smallest size %d×%d is larger than the largest %d×%d", st.MinWidth,
				st.MinHeight, d.Width, d.Height)
		}
	}
}

func (c *checker) sets(at where, it *Item) {
	if it.Set == nil {
		return
	}
	for _, id := range sortedKeys(it.Set.Output) {
		here := func(more string) string { return at.dot("set.output." + id + more) }
		if p := it.Gear.Port(id); p < 0 {
			c.add(here(""), "the item has no port %q; it has %s", id, portList(&it.Gear))
		} else if d := it.Gear.Ports[p].Direction; d != gear.Out {
			c.add(here(""), "port %q is %s: only a picture output can be set to a mode", id, d)
		}
		if it.Set.Output[id].Rate.IsZero() {
			c.add(here(".rate"), "is missing")
		}
	}
	for _, id := range sortedKeys(it.Set.Deliver) {
		here := func(more string) string { return at.dot("set.deliver." + id + more) }
		if p := it.Gear.Port(id); p < 0 {
			c.add(here(""), "the item has no port %q; it has %s", id, portList(&it.Gear))
		} else if d := it.Gear.Ports[p].Direction; d != gear.Upstream {
			c.add(here(""), "port %q is %s: pictures are delivered on an upstream port", id, d)
		}
	}
}

// plugsIn tells whether an end of a lead is the plug of a device that may go into any USB socket.
func (c *checker) plugsIn(ref string, p *gear.Port) bool {
	id, _ := SplitRef(ref)
	it := c.r.Item(id)
	return it != nil && it.Gear.Kind != gear.Hub && it.Gear.Kind != gear.Dock && !it.IsHost() && p.Direction ==
		gear.Upstream &&
		p.Connector.Family() == gear.USBFamily && p.Connector != gear.Internal
}

func (c *checker) wires() {
	socket := map[string]string{}
	for i := range c.r.Leads {
		l := &c.r.Leads[i]
		at := where{item: step{"leads", i, l.ID}}
		if first, twice := c.leads[l.ID]; twice {
			c.add(at.dot("id"), "is the id of leads[%d] too: ids must differ", first)
		}
		c.leads[l.ID] = i
		from := c.end(at, "from", l.From, l.ID, socket)
		to := c.end(at, "to", l.To, l.ID, socket)
		if from == nil || to == nil {
			continue
		}
		if a, b := from.Connector.Family(), to.Connector.Family(); a != b {
			c.add(at.dot(""), "joins %s to %s: no lead does; a converter stands between them", a, b)
			continue
		}
		if l.AnySocket && !c.plugsIn(l.From, from) && !c.plugsIn(l.To, to) {
			c.add(at.dot("anySocket"),
				"is for the lead of a device that plugs into USB, not of a hub, a dock or a computer")
		}
		if allowed := GradesFor(from.Connector.Family()); !contains(allowed, l.Grade) {
			c.add(at.dot("grade"), "%q is not a grade of %s leads: want one of %s", l.Grade, from.Connector.Family(),
				strings.Join(allowed, ", "))
		}
	}
}

func (c *checker) end(at where, end, ref, lead string, socket map[string]string) *gear.Port {
	id, port := SplitRef(ref)
	i, ok := c.items[id]
	if !ok {
		c.add(at.dot(end), "%q: there is no item %q in this rig", ref, id)
		return nil
	}
	it := &c.r.Items[i]
	p := it.Gear.Port(port)
	if p < 0 {
		c.add(at.dot(end), "%q: %q has no port %q; it has %s", ref, id, port, portList(&it.Gear))
		return nil
	}
	if other, taken := socket[ref]; taken {
		c.add(at.dot(end), "%q already has lead %q in it: one socket takes one plug", ref, other)
	}
	socket[ref] = lead
	return &it.Gear.Ports[p]
}

// shape checks what only the whole shows: a computer, at least one feed, no loop.
func (c *checker) shape() {
	hosts := 0
	sources := 0
	for i := range c.r.Items {
		if c.r.Items[i].IsHost() {
			hosts++
		}
		if c.r.Items[i].IsSource() {
			sources++
		}
	}
	if hosts == 0 {
		c.add("items", "no computer takes the pictures: want one item of kind computer (its role is host unless it says source)")
	}
	if hosts > 1 {
		c.add("items", "%d computers take pictures: want one; give the others the role source", hosts)
	}
	if sources == 0 {
		c.add("items", "no feed: want at least one camera, phone, webcam, console, player or computer with the role source")
	}
	if loop := findLoop(c.r); loop != "" {
		c.add("leads", "the leads make a loop: %s", loop)
	}
}

// powersItself tells whether the way up from an item's supply comes back to it.
func (c *checker) powersItself(at int) bool {
	i := at
	for range c.r.Items {
		next, ok := c.items[c.r.Items[i].PoweredBy]
		if !ok {
			return false
		}
		if i = next; i == at {
			return true
		}
	}
	return false
}

// numbers checks every number against the bounds of its field.
func (c *checker) numbers(place func(f *Field, s *spot, of, sub string) string) {
	c.r.eachFact(func(f *Field, s *spot, of, sub string, at *fact.Fact) {
		for _, v := range [2]float64{at.Low, at.High} {
			if v < f.Low || v > f.High {
				c.add(place(f, s, of, sub), "%v is outside %v to %v (%s)", v, f.Low, f.High, f.Units)
				return
			}
		}
	})
}

func (c *checker) text(at where, field, s string) {
	for _, ch := range s {
		if ch < ' ' && ch != '\n' && ch != '\t' {
			c.add(at.dot(field), "holds the control character %U: plain text only", ch)
			return
		}
	}
}

// GradesFor lists the lead grades of a connector family. The list is not to be written into.
func GradesFor(f gear.Family) []string {
	switch f {
	case gear.HDMIFamily:
		return hdmiGrades
	case gear.USBFamily:
		return usbGrades
	case gear.SDIFamily:
		return coaxClasses
	}
	return otherGrades
}

var (
	hdmiGrades, usbGrades, coaxClasses = plain(hdmi.Grades), plain(usb.Grades), plain(sdi.Classes)
	otherGrades                        = []string{"lan", "slot", "unknown"}
)

func plain[T ~string](list []T) []string {
	out := make([]string, len(list))
	for i, w := range list {
		out[i] = string(w)
	}
	return out
}

func portList(g *gear.Gear) string {
	if len(g.Ports) == 0 {
		return "no ports"
	}
	ids := make([]string, len(g.Ports))
	for i := range g.Ports {
		ids[i] = g.Ports[i].ID
	}
	return strings.Join(ids, ", ")
}

// IsDay tells whether a text is a day of the calendar: 2026-12-04.
func IsDay(s string) bool {
	if len(s) != 10 || s[4] != '-' || s[7] != '-' {
		return false
	}
	var y, m, d int
	if n, err := fmt.Sscanf(s, "%4d-%2d-%2d", &y, &m, &d); err != nil || n != 3 || y < 1900 || m < 1 || m > 12 ||
		d < 1 {
		return false
	}
	return d <= daysOf(y, m)
}

// daysOf is how many days a month has.
func daysOf(y, m int) int {
	if m == 2 && (y%4 == 0 && y%100 != 0 || y%400 == 0) {
		return 29
	}
	return [...]int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}[m-1]
}

// DayAfter is the day after one of the calendar; the same text for what is none.
func DayAfter(s string) string {
	if !IsDay(s) {
		return s
	}
	var y, m, d int
	fmt.Sscanf(s, "%4d-%2d-%2d", &y, &m, &d)
	if d++; d > daysOf(y, m) {
		d, m = 1, m+1
	}
	if m > 12 {
		m, y = 1, y+1
	}
	return fmt.Sprintf("%04d-%02d-%02d", y, m, d)
}
