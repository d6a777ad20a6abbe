package view

import (
	"fmt"
	"slices"
	"strings"

	"eventether/core/advise"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/rules"
	"eventether/core/usb"
	"eventether/core/work"
)

// Way is one way a camera's picture can take into the computer, judged in the rig as it stands. Handbook 2.3.
type Way struct {
	Kind     string      `json:"kind" enum:"usb,capture"`
	Title    string      `json:"title"`
	Now      bool        `json:"now" doc:"It is connected so"`
	Possible bool        `json:"possible"`
	Why      string      `json:"why,omitempty" doc:"Why it is not possible"`
	State    limit.State `json:"state,omitempty" enum:"slack,taut,kinked,untested,snapped" doc:"Of this feed"`
	Rig      limit.State `json:"rig,omitempty" enum:"slack,taut,kinked,untested,snapped" doc:"Of the whole rig"`
	Picture  string      `json:"picture,omitempty" doc:"What the program gets"`
	Movement string      `json:"movement,omitempty"`
	Bus      string      `json:"bus,omitempty" doc:"Share of its connection"`
	Weakest  string      `json:"weakest,omitempty"`
	Minutes  float64     `json:"minutes"`
	Cost     *gear.Money `json:"cost,omitempty"`
	Gives    []string    `json:"gives"`
	GivesUp  []string    `json:"givesUp"`
	Edits    []rig.Edit  `json:"edits"`
}

// Ways compares taking a camera's picture by its own USB with taking it through a capture device.
func Ways(r *rig.Rig, id string) ([]Way, error) {
	it := r.Item(id)
	if it == nil {
		return nil, fmt.Errorf("item %q: not in this rig", id)
	}
	if !it.Gear.Kind.Shoots() {
		return nil, fmt.Errorf("item %q: is a %s; only a source can come in by USB or by capture", id, it.Gear.Kind)
	}
	c := &comparison{r: r, g: rig.NewWiring(r), it: it}
	return []Way{c.byUSB(), c.byCapture()}, nil
}

type comparison struct {
	r  *rig.Rig
	g  *rig.Wiring
	it *rig.Item
}

// lead is the lead in the first socket of a direction that has one, and the first such socket.
func (c *comparison) lead(d gear.Direction) (lead *rig.Lead, port *gear.Port) {
	at := slices.IndexFunc(c.r.Items, func(o rig.Item) bool { return o.ID == c.it.ID })
	for j := range c.it.Gear.Ports {
		p := &c.it.Gear.Ports[j]
		if p.Direction != d {
			continue
		}
		if port == nil {
			port = p
		}
		if k := c.g.LeadAt(at, j); k >= 0 {
			return &c.r.Leads[k], p
		}
	}
	return nil, port
}

func (c *comparison) byUSB() Way {
	w := Way{Kind: "usb", Title: lang.Text("By its own USB"), Edits: []rig.Edit{},
		Gives:   []string{lang.Text("one cable, with power and sound over it"), lang.Text("no capture device to buy"), lang.Text("listed under its own name")},
		GivesUp: []string{lang.Text("often only 720p or 1080p at 30"), lang.Text("a charge-only or USB 2 cable limits it"), lang.Text("its menus lock other functions out")}}
	if c.it.Gear.USBWay == "remote" {
		w.Gives = []string{lang.Text("a larger picture than a webcam mode on some cameras"), lang.Text("a virtual camera several programs can share")}
		w.GivesUp = []string{lang.Text("software to install, and perhaps to pay"), lang.Text("a driver that may come only at the first connection"), lang.Text("listed cameras only")}
	}
	lead, port := c.lead(gear.Upstream)
	switch {
	case port == nil:
		w.Why = lang.Text("its sheet has no USB socket")
	case len(c.it.Gear.Delivers) == 0:
		w.Why = lang.Text("its sheet lists no picture by USB: its USB may only charge it")
	case lead != nil:
		w.Now = true
		return c.judged(w)
	default:
		picLead, _ := c.lead(gear.Out)
		socket := c.freeSocket()
		if picLead != nil {
			// The capture device it leaves gives its socket back.
			to, _ := rig.SplitRef(picLead.To)
			w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: picLead.ID})
			if stick := c.r.Item(to); stick != nil && stick.Gear.Kind == gear.Capture {
				for i := range c.r.Leads {
					if from, _ := rig.SplitRef(c.r.Leads[i].From); from == to {
						w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: c.r.Leads[i].ID})
						socket = c.r.Leads[i].To
					}
				}
			}
		}
		if socket == "" {
			w.Why = lang.Text("no USB socket of the computer is free")
			return w
		}
		grade, length := string(usb.Lead5G), fact.Est(1.5, 1, 2)
		if port.USB != nil && port.USB.Speed == usb.HighSpeed {
			grade = string(usb.USB2Lead)
		}
		w.Edits = append(w.Edits, rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: c.newID("usb"), From: c.it.ID + "." + port.ID, To: socket, Grade: grade, LengthM: length, AnySocket: true}})
		w.Minutes = c.r.WorkMinutes.Of(work.Swap)
		return c.judged(w)
	}
	return w
}

func (c *comparison) byCapture() Way {
	w := Way{Kind: "capture", Title: lang.Text("Through a capture device"), Edits: []rig.Edit{},
		Gives:   []string{lang.Text("full size and rate"), lang.Text("long runs, and steadier"), lang.Text("its USB socket stays free for power")},
		GivesUp: []string{lang.Text("a capture device and the right lead"), lang.Text("continuous power for the camera")}}
	lead, port := c.lead(gear.Out)
	switch {
	case port == nil:
		w.Why = lang.Text("its sheet has no picture output")
		return w
	case lead != nil:
		w.Now = true
		return c.judged(w)
	}
	device, price := &gear.StrongerCapture[0].Gear, gear.StrongerCapture[0].Price
	grade := string(hdmiLeadGrade)
	if port.Connector.Family() == gear.SDIFamily {
		device, price, grade = &gear.SDIBox.Gear, gear.SDIBox.Price, "rg-6"
	}
	socket := c.freeSocket()
	if usbLead, _ := c.lead(gear.Upstream); usbLead != nil {
		w.Edits = append(w.Edits, rig.Edit{Do: "unplug", Lead: usbLead.ID})
		socket = usbLead.To
	}
	if socket == "" {
		w.Why = lang.Text("no USB socket of the computer is free")
		return w
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
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: id + "-in", From: c.it.ID + "." + port.ID, To: id + "." + in, Grade: grade, LengthM: fact.Est(2, 1, 3)}},
		rig.Edit{Do: "lay", NewLead: &rig.Lead{ID: id + "-usb", From: id + "." + up, To: socket, Grade: string(usb.Lead5G), LengthM: fact.Exactly(0), AnySocket: true}})
	w.Cost, w.Minutes = advise.Price(c.r, price+2000), 2*c.r.WorkMinutes.Of(work.Swap)
	return c.judged(w)
}

const hdmiLeadGrade = "premium"

// freeSocket is a free USB socket of the computer or a hub, the fastest first.
func (c *comparison) freeSocket() string {
	best, bestSpeed := "", usb.Speed("")
	for i := range c.r.Items {
		it := &c.r.Items[i]
		if !it.IsHost() && it.Gear.Kind != gear.Hub {
			continue
		}
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			if p.Direction != gear.Downstream || p.Connector.Family() != gear.USBFamily || p.Connector == gear.Internal || c.g.LeadAt(i, j) >= 0 {
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

func (c *comparison) newID(stem string) string {
	return rig.FreshID(c.it.ID[:min(len(c.it.ID), 40)]+"-"+stem, func(id string) bool { // room for what is put behind it
		return c.r.Item(id) != nil || c.r.Lead(id) != nil || c.r.Lead(id+"-in") != nil || c.r.Lead(id+"-usb") != nil
	})
}

// judged fills in what the rig makes of a way.
func (c *comparison) judged(w Way) Way {
	after, err := rig.Apply(c.r, w.Edits...)
	if err == nil {
		if bad := rig.Check(after); len(bad) > 0 {
			err = fmt.Errorf("%s", bad[0])
		}
	}
	if err != nil {
		w.Why = err.Error()
		return w
	}
	v := judge.Rig(after)
	w.Possible, w.Rig = true, v.State
	for _, f := range v.FeedsThat(false) {
		if f.Source.ID != c.it.ID {
			continue
		}
		w.State = v.FeedState(f)
		worst := (*rules.Result)(nil)
		for i := range f.Hops {
			h := &f.Hops[i]
			label, detail := v.HopWords(h)
			switch h.Stage {
			case rules.Capture:
				w.Picture = detail
			case rules.Picture:
				w.Movement = label
			}
			for _, at := range h.Results {
				l := &v.Results[at]
				if l.ID.Rule == "link" && judge.ShowsRoom(l) {
					w.Bus = rules.Percent(l.Ratio)
				}
				if l.State != limit.Slack && (worst == nil || l.State.Severity() > worst.State.Severity()) {
					worst = l
				}
			}
		}
		if worst != nil {
			w.Weakest = v.Word(worst).Says
		}
	}
	if d := c.it.Gear.Driver; w.Kind == "usb" && (d == "driver" || d == "software") && !strings.Contains(strings.Join(w.GivesUp, " "), "install") {
		w.GivesUp = append(w.GivesUp, "a "+d+lang.Text(" to install"))
	}
	return w
}
