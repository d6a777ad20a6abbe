package rig

import (
	"fmt"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
)

// Start is the three answers a new rig begins with: the sources, what goes out, which computer.
type Start struct {
	Name     string        `json:"name,omitempty" maxLength:"120"`
	Sources  []StartSource `json:"sources" maxItems:"5"`
	Out      StartOut      `json:"out"`
	Computer string        `json:"computer" maxLength:"60" doc:"laptop, desktop, here for the very computer this runs on, or a computer of the shelf"`
}

// StartSource is so many sources of one kind.
type StartSource struct {
	Kind  string `json:"kind" enum:"camera,webcam,phone,slides,console"`
	Count int    `json:"count" minimum:"0" maximum:"12"`
}

// StartOut is what must go out.
type StartOut struct {
	Height  int     `json:"height" enum:"720,1080,2160"`
	Fps     int     `json:"fps" enum:"24,25,30,50,60" doc:"As people say it: 30 means 30000/1001"`
	Minutes float64 `json:"minutes" minimum:"1" maximum:"10080"`
}

// spoken are the exact rates people mean by the round ones.
var spoken = map[int]picture.Rate{24: picture.NewRate(24000, 1001), 25: picture.R(25), 30: picture.NewRate(30000, 1001),
	50: picture.R(50), 60: picture.NewRate(60000, 1001)}

// New lays out a rig of generic things with wide bounds from the three answers: every HDMI source behind a capture
// stick of its own, everything in the computer's first free sockets, a hub when they run out.
func New(s Start) (*Rig, error) {
	rate, ok := spoken[s.Out.Fps]
	if !ok || s.Out.Height <= 0 {
		return nil, fmt.Errorf("out: %d lines at %d frames a second is not offered: want 720, 1080 or 2160 at 24, 25, 30, 50 or 60",
			s.Out.Height, s.Out.Fps)
	}
	b := &builder{r: &Rig{Format: Format, Name: s.Name, Items: []Item{}, Leads: []Lead{}}}
	if problem := TextProblem(s.Name); problem != "" {
		return nil, fmt.Errorf("name %q %s", s.Name, problem)
	}
	if b.r.Name == "" {
		b.r.Name = "New rig"
	}
	at := slices.IndexFunc(gear.Computers, func(g gear.Generic) bool { return g.Key == s.Computer })
	if at < 0 {
		return nil, fmt.Errorf("computer %q: want laptop or desktop", s.Computer)
	}
	b.computer = gear.Computers[at]
	angles := 0
	for _, src := range s.Sources {
		g := slices.IndexFunc(gear.Sources, func(g gear.Generic) bool { return g.Key == src.Kind })
		if g < 0 || src.Count < 0 {
			return nil, fmt.Errorf("sources: %d of kind %q: want a count of 0 to 12 of camera, webcam, phone, slides or console",
				src.Count, src.Kind)
		}
		for n := range src.Count {
			angles++
			b.source(gear.Sources[g], n+1, src.Count, rate)
		}
	}
	if angles == 0 {
		return nil, fmt.Errorf("sources: none counted: want at least one")
	}
	b.plugIn()
	width := s.Out.Height * 16 / 9
	mains := 60
	if s.Out.Fps%25 == 0 {
		mains = 50
	}
	b.r.Show = Show{Programme: Programme{Width: width, Height: s.Out.Height, Rate: rate}, Motion: "talk",
		Minutes:      s.Out.Minutes,
		SetupMinutes: 60, RehearsalMinutes: 15, MainsHz: mains, Angles: angles, AnglesSelectable: true,
		Program: Program{Kind: "encoder"},
		Destinations: []Destination{{Name: "Stream", Transport: "rtmp", Send: Send{Width: width, Height: s.Out.Height,
			Rate: rate}}}}
	est := fact.Est(10, 2, 50)
	b.r.Uplink = &Uplink{EstimateMbps: &est}
	if problems := Check(b.r); len(problems) > 0 {
		return nil, fmt.Errorf("%s", problems[0])
	}
	return b.r, nil
}

type builder struct {
	r        *Rig
	computer gear.Generic
	plugs    []string // upstream ports waiting for a socket
}

func (b *builder) source(g gear.Generic, n, of int, programme picture.Rate) {
	id, label := fmt.Sprintf("%s-%d", g.Key, n), g.Label
	if of > 1 {
		label = fmt.Sprintf("%s %d", g.Label, n)
	}
	it := Item{ID: id, Label: label, Gear: g.Gear}
	if g.Gear.Kind == gear.Computer {
		it.Role = "source"
	}
	b.r.Items = append(b.r.Items, it)
	out := &g.Gear.Ports[0]
	if out.Direction == gear.Upstream {
		b.plugs = append(b.plugs, id+"."+out.ID)
		return
	}
	k := len(b.r.Leads) + 1
	stick := Item{ID: fmt.Sprintf("stick-%d", k), Label: fmt.Sprintf("Stick %d", k), Gear: gear.Stick.Gear}
	b.r.Items = append(b.r.Items, stick)
	b.r.Leads = append(b.r.Leads, Lead{ID: fmt.Sprintf("hdmi-%d", k), From: id + "." + out.ID, To: stick.ID + ".in",
		Grade: "unknown", LengthM: fact.Est(2, 1, 5)})
	b.plugs = append(b.plugs, stick.ID+".usb")
}

// plugIn gives every waiting plug the first free socket of its shape, on hubs when the computer's run out.
func (b *builder) plugIn() {
	pc := Item{ID: "pc", Label: b.computer.Label, Gear: b.computer.Gear}
	b.r.Items = append(b.r.Items, pc)
	var free []string
	shape := map[string]gear.Connector{}
	offer := func(it *Item) {
		for i := range it.Gear.Ports {
			if p := &it.Gear.Ports[i]; p.Direction == gear.Downstream {
				free = append(free, it.ID+"."+p.ID)
				shape[it.ID+"."+p.ID] = p.Connector
			}
		}
	}
	offer(&pc)
	take := func(want gear.Connector) (string, bool) {
		for i, ref := range free {
			if shape[ref] == want {
				free = slices.Delete(free, i, i+1)
				return ref, true
			}
		}
		return "", false
	}
	wants := map[gear.Connector]int{}
	for _, ref := range b.plugs {
		_, p := b.r.Port(ref)
		wants[p.Connector]++
	}
	sockets := 0
	for _, c := range shape {
		if c == gear.USBA {
			sockets++
		}
	}
	for hub := 1; wants[gear.USBA] > sockets; hub++ { // a hub takes one socket and gives four
		h := Item{ID: fmt.Sprintf("hub-%d", hub), Label: fmt.Sprintf("Hub %d", hub), Gear: gear.PoweredHub.Gear}
		ref, _ := take(gear.USBA)
		b.r.Items = append(b.r.Items, h)
		b.r.Leads = append(b.r.Leads, Lead{ID: fmt.Sprintf("usb-hub-%d", hub), From: h.ID + ".up", To: ref,
			Grade: "usb-5g", LengthM: fact.Est(0.5, 0.2, 1)})
		offer(&h)
		sockets += 3
	}
	for i, ref := range b.plugs {
		_, p := b.r.Port(ref)
		lead := Lead{ID: fmt.Sprintf("usb-%d", i+1), From: ref, Grade: "usb-5g", LengthM: fact.Exactly(0),
			AnySocket: true}
		if p.Connector == gear.USBC { // a phone's lead may be any
			lead.Grade, lead.LengthM = "usb-unknown", fact.Est(1, 0.5, 2)
		}
		if to, ok := take(p.Connector); ok {
			lead.To = to
			b.r.Leads = append(b.r.Leads, lead)
		}
	}
}
