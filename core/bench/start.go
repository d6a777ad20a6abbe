package bench

import (
	"fmt"
	"slices"

	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

// Answers are what a new rig begins with: the three answers, and what folds out of them.
type Answers struct {
	rig.Start
	Things      []Counted `json:"things,omitempty" maxItems:"40" doc:"Other things there are, by shelf entry or general kind: cameras, switchers, cards, microphones"`
	For         string    `json:"for,omitempty" enum:"stream,page,call,recording" doc:"Where the programme goes; stream when not said"`
	Destination string    `json:"destination,omitempty" maxLength:"120" doc:"A general kind of destination, by name"`
	MainsHz     int       `json:"mainsHz,omitempty" enum:"50,60" doc:"Mains of the place; by the rate when not said"`
}

// Here is the word for the very computer the product runs on.
const Here = "here"

// Machine is the very computer the product runs on, as far as it could be read.
type Machine struct {
	Laptop bool
	Read   func(*rig.Rig) ([]rig.Edit, error) // how a rig becomes like it: its sockets, and what is plugged where
}

// Counted is so many of one thing.
type Counted struct {
	Entry string `json:"entry" maxLength:"60"`
	Count int    `json:"count" minimum:"0" maximum:"12"`
}

// StartKinds are the general kinds a start offers beside the five it begins with, in the order they are asked for: Of
// says which answer they fold out of.
var StartKinds = []struct{ Entry, Of string }{
	{"camera-usb-1080", "sources"}, {"studio-camera", "sources"}, {"camera-full-hdmi", "sources"},
	{"built-in-webcam", "sources"}, {"phone-by-wifi", "sources"}, {"action-camera", "sources"},
	{"action-camera-hdmi", "sources"},
	{"network-camera", "sources"}, {"games-computer", "sources"}, {"disc-player", "sources"},
	{"four-input-switcher", "between"}, {"sdi-switcher", "between"}, {"four-input-card", "between"},
	{"card-4k60", "between"},
	{"usb-microphone", "sound"}, {"lapel-microphone", "sound"}, {"hand-microphone", "sound"},
	{"wireless-lapel", "sound"}, {"interface-two", "sound"}, {"sound-mixer", "sound"},
	{"small-laptop", "computer"}, {"large-laptop", "computer"}, {"strong-desktop", "computer"},
}

// Begin makes a rig of the answers. Whoever begins so has what he names; what stands between is proposed. The error is
// a *Refusal or says what is not offered. The very computer is there where it could be read.
func Begin(a Answers, shelf []Stocked, this *Machine) (*rig.Rig, error) {
	plain := a.Computer == "laptop" || a.Computer == "desktop"
	base := a.Start
	if plain && !slices.ContainsFunc(a.Things, func(c Counted) bool { return c.Count > 0 }) {
		r, err := rig.New(base)
		if err != nil {
			return nil, err
		}
		return r, a.goes(r)
	}
	h, err := a.lay(shelf, this)
	if err != nil {
		return nil, err
	}
	r := h.Rig()
	r.Show.Angles = 0
	for i := range r.Items {
		if r.Items[i].IsSource() {
			r.Show.Angles++
		}
	}
	if err := a.goes(r); err != nil {
		return nil, err
	}
	if problems := rig.Check(r); len(problems) > 0 {
		return nil, &Refusal{InWords(r, problems[0])}
	}
	return r, nil
}

// lay puts the computer in, then what pictures go through, then the sources, then sound.
func (a *Answers) lay(shelf []Stocked, this *Machine) (*Hand, error) {
	frame := rig.Start{Name: a.Name, Sources: []rig.StartSource{{Kind: "webcam", Count: 1}}, Out: a.Out,
		Computer: "laptop"}
	r, err := rig.New(frame) // its show, its name and its line
	if err != nil {
		return nil, err
	}
	r.Items, r.Leads = []rig.Item{}, []rig.Lead{}
	h := New(r, shelf)
	own := func(g gear.Gear, label string, ref *rig.ShelfRef, numbered bool) error {
		it := rig.Item{ID: h.itemID(gear.Slug(label)), Label: h.label(label, numbered), Gear: g, Shelf: ref}
		if g.Kind == gear.Computer && slices.ContainsFunc(h.r.Items, func(o rig.Item) bool { return o.IsHost() }) {
			it.Role = "source"
		}
		if err := h.put(it); err != nil {
			return err
		}
		return h.lead(it.ID)
	}
	find := func(entry string) (*Stocked, error) {
		at := slices.IndexFunc(shelf, func(e Stocked) bool { return e.ID == entry })
		if at < 0 {
			return nil, refuse("%s is not on the shelf", entry)
		}
		return &shelf[at], nil
	}
	there := map[gear.Kind]int{} // sources that are plugged in already
	if a.Computer == Here {
		if there, err = h.here(this, own); err != nil {
			return nil, err
		}
	} else if at := slices.IndexFunc(gear.Computers, func(g gear.Generic) bool {
		return g.Key == a.Computer
	}); at >= 0 {
		err = own(gear.Computers[at].Gear, gear.Computers[at].Label, nil, false)
	} else {
		e, missing := find(a.Computer)
		if missing != nil || e.Gear.Kind != gear.Computer {
			return nil, fmt.Errorf("computer %q: want laptop, desktop, or a computer of the shelf", a.Computer)
		}
		err = own(e.Gear, e.Gear.Name, refOf(e), false)
	}
	if err != nil {
		return nil, err
	}
	turn := func(g *gear.Gear) int {
		switch {
		case g.Kind == gear.Switcher || g.Kind == gear.Card || g.Kind == gear.Capture ||
			g.Kind == gear.AudioInterface || g.Kind == gear.Mixer:
			return 0
		case g.Kind.Shoots() || g.Kind == gear.Computer:
			return 1
		}
		return 2
	}
	for now := range 3 {
		for _, c := range a.Things {
			e, err := find(c.Entry)
			if err != nil {
				return nil, err
			}
			for range c.Count {
				if turn(&e.Gear) != now {
					break
				}
				if err := own(e.Gear, e.Gear.Name, refOf(e), c.Count > 1); err != nil {
					return nil, err
				}
			}
		}
		if now != 1 {
			continue
		}
		for _, s := range a.Sources {
			at := slices.IndexFunc(gear.Sources, func(g gear.Generic) bool { return g.Key == s.Kind })
			if at < 0 || s.Count < 0 {
				return nil, fmt.Errorf("sources: %d of kind %q: want a count of 0 to 12 of camera, webcam, phone, slides or console",
					s.Count, s.Kind)
			}
			kind := gear.Sources[at].Gear.Kind
			for range s.Count {
				if there[kind] > 0 { // it is one of those that are plugged in
					there[kind]--
					continue
				}
				if err := own(gear.Sources[at].Gear, gear.Sources[at].Label, nil, s.Count > 1); err != nil {
					return nil, err
				}
			}
		}
	}
	return h, h.voices()
}

// here puts in the very computer with what is plugged into it, and tells how many sources that brought, by kind.
func (h *Hand) here(this *Machine, own func(gear.Gear, string, *rig.ShelfRef, bool) error) (map[gear.Kind]int, error) {
	if this == nil {
		return nil, refuse("this computer could not be read: say which kind it is instead")
	}
	key := "desktop"
	if this.Laptop {
		key = "laptop"
	}
	at := slices.IndexFunc(gear.Computers, func(g gear.Generic) bool { return g.Key == key })
	if err := own(gear.Computers[at].Gear, lang.Text("This computer"), nil, false); err != nil {
		return nil, err
	}
	edits, err := this.Read(h.Rig())
	if err != nil {
		return nil, &Refusal{err.Error()}
	}
	if err := h.do(edits...); err != nil {
		return nil, err
	}
	there := map[gear.Kind]int{}
	for i := range h.r.Items {
		if it := &h.r.Items[i]; it.IsSource() {
			there[it.Gear.Kind]++
		}
	}
	return there, nil
}

func refOf(e *Stocked) *rig.ShelfRef {
	if e.Revision == 0 {
		return nil
	}
	return &rig.ShelfRef{ID: e.ID, Revision: e.Revision}
}

// voices lead every microphone that has no plug of its own into what takes sound, and those with one straight to the
// program.
func (h *Hand) voices() error {
	into := slices.IndexFunc(h.r.Items, func(it rig.Item) bool {
		return it.Gear.Kind == gear.AudioInterface || it.Gear.Kind == gear.Mixer
	})
	sound := rig.Sound{Paths: []rig.SoundPath{}}
	for i := range h.r.Items {
		it := &h.r.Items[i]
		if it.Gear.Kind != gear.Microphone && it.Gear.Kind != gear.WirelessSound || it.Gear.Sound == nil ||
			it.Gear.Sound.Microphone == "" {
			continue
		}
		p := rig.SoundPath{Voice: it.Label, From: it.ID}
		if len(it.Gear.Ports) == 0 && into >= 0 {
			p.Via = []string{h.r.Items[into].ID}
		}
		sound.Paths = append(sound.Paths, p)
	}
	if len(sound.Paths) == 0 {
		return nil
	}
	return h.do(rig.Edit{Do: "sound", Sound: &sound})
}

// callName is what the call is called that a rig is for.
const callName = "The call"

// goes says where the programme goes.
func (a *Answers) goes(r *rig.Rig) error {
	s := &r.Show
	if a.MainsHz != 0 {
		s.MainsHz = a.MainsHz
	}
	switch a.For {
	case "call":
		s.Program, s.Destinations = rig.Program{Kind: "call"}, []rig.Destination{}
		s.Calls, s.AnglesSelectable = []rig.Call{{Name: callName, Persons: 1}},
			false // one at a time, chosen in its menu
		return nil
	case "recording":
		s.Destinations = []rig.Destination{}
		s.Recordings = []rig.Recording{{What: "programme", Container: "fmp4"}}
		return nil
	case "page":
		s.Program, s.AnglesSelectable = rig.Program{Kind: "destination-page"}, false
		s.Destinations[0].Transport = "webrtc"
	}
	if a.Destination == "" {
		return nil
	}
	at := slices.IndexFunc(rig.KnownDestinations, func(k rig.Known) bool { return k.Name == a.Destination })
	if at < 0 {
		return &Refusal{lang.Text("%s is no general kind of destination", a.Destination)}
	}
	k := rig.KnownDestinations[at]
	d := &s.Destinations[0]
	d.Name, d.Ingest = k.Name, &k.Ingest
	if a.For != "page" {
		d.Transport = k.Transport
	}
	if in := &k.Ingest; d.Send.Height > in.MaxHeight { // as large as it takes
		d.Send.Width, d.Send.Height = in.MaxWidth, in.MaxHeight
	}
	if fps := k.Ingest.MaxRate; !fps.IsZero() && d.Send.Rate.Nominal() > fps.Nominal() {
		d.Send.Rate = d.Send.Rate.Part(fps)
	}
	return nil
}
