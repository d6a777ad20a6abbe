package rig

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/work"
)

// Edit is one change to a rig, as data: fixes, answers and everything done on the board are lists of edits.
// Which fields are read depends on Do.
type Edit struct {
	Do      string        `json:"do" enum:"plug,unplug,mode,deliver,lead,info-display,runs-on,powered-by,fact,word,takes,tried,send,swap,take,add,remove,lay,label,name,show,computes,times,sound" doc:"plug: put End of Lead into Socket. unplug: take Lead away. mode: set Port of Item to Mode. deliver: what the program takes from Port of Item. lead: replace Lead by one of Grade, LengthM and Thin. info-display, runs-on: set Word on Item. powered-by: Item gets its power from the item Word, or from nothing named. fact: set the number at Path. word: set the choice at Path. takes: Port of Item takes Mode, Yes or no. tried: Lead was tried at MHz, Yes it holds or no. send: change Send of the destination Name. swap: give Item the spec sheet Gear. take: give Item the newer spec sheet Gear of the shelf entry Shelf, settings kept. add: put in NewItem. remove: take Item and its leads out. lay: put in NewLead. label: call Item Name. name: call the rig Name. show: replace the show. computes: the computer Item can do what was measured, Computes. times: one's own times of work are Times; 0 takes one away. sound: the ways of sound are Sound, or described no more."`
	Item    string        `json:"item,omitempty"`
	Port    string        `json:"port,omitempty"`
	Lead    string        `json:"lead,omitempty"`
	End     string        `json:"end,omitempty" enum:"from,to"`
	Socket  string        `json:"socket,omitempty"`
	Mode    *picture.Mode `json:"mode,omitempty"`
	Deliver *Deliver      `json:"deliver,omitempty"`
	Grade   string        `json:"grade,omitempty"`
	LengthM *fact.Fact    `json:"lengthM,omitempty"`
	Thin    *bool         `json:"thin,omitempty"`
	Path    string        `json:"path,omitempty"`
	Fact    *fact.Fact    `json:"fact,omitempty"`
	Word    string        `json:"word,omitempty"`
	MHz     float64       `json:"mhz,omitempty"`
	At      string        `json:"at,omitempty"`
	Yes     *bool         `json:"yes,omitempty"`
	Send    *Send         `json:"send,omitempty"`
	Gear    *gear.Gear    `json:"gear,omitempty"`
	Shelf   *ShelfRef     `json:"shelf,omitempty"`
	Name    string        `json:"name,omitempty"`
	NewItem *Item         `json:"newItem,omitempty"`
	NewLead *Lead         `json:"newLead,omitempty"`
	Show    *Show         `json:"show,omitempty"`

	Computes *gear.Computes `json:"computes,omitempty"`
	Times    work.Times     `json:"times,omitempty"`
	Sound    *Sound         `json:"sound,omitempty"`
}

// Apply returns a new rig with the edits made in order. The given rig is never changed; parts no edit touches are
// shared. A lead that edits leave called from the end that takes is called from its other end. The result may still fail
// Check: the caller decides.
func Apply(r *Rig, edits ...Edit) (*Rig, error) {
	out := *r
	items, leads := writes(edits)
	if items {
		out.Items = slices.Clone(r.Items)
	}
	if leads {
		out.Leads = slices.Clone(r.Leads)
	}
	for i := range edits {
		if err := out.apply(&edits[i]); err != nil {
			return nil, fmt.Errorf("edit %d (%s): %w", i+1, edits[i].Do, err)
		}
	}
	out.turned(edits)
	return &out, nil
}

// writes tells which of the two long lists of a rig edits write into; the other is shared with the rig they are made on.
func writes(edits []Edit) (items, leads bool) {
	for i := range edits {
		switch e := &edits[i]; e.Do {
		case "plug", "unplug", "lead", "tried", "lay":
			leads = true
		case "mode", "deliver", "info-display", "runs-on", "takes", "label", "powered-by", "add", "computes":
			items = true
		case "send", "show", "name", "times", "sound":
		case "fact", "word":
			items = items || strings.HasPrefix(e.Path, "items/")
			leads = leads || strings.HasPrefix(e.Path, "leads/")
		default: // swap, take, remove; and what a later version adds
			items, leads = true, true
		}
	}
	return items, leads
}

func (r *Rig) apply(e *Edit) error {
	switch e.Do {
	case "plug", "unplug", "lead", "tried":
		return r.applyLead(e)
	case "mode", "deliver", "info-display", "runs-on", "takes", "swap", "take", "label", "powered-by":
		return r.applyItem(e)
	case "fact", "word":
		return r.applyPath(e)
	case "send":
		for i := range r.Show.Destinations {
			if r.Show.Destinations[i].Name == e.Name && e.Send != nil {
				r.Show.Destinations = slices.Clone(r.Show.Destinations)
				r.Show.Destinations[i].Send = *e.Send
				return nil
			}
		}
		return fmt.Errorf("destination %q: not in this show, or no send given", e.Name)
	case "add":
		if e.NewItem == nil {
			return fmt.Errorf("newItem is missing")
		}
		r.Items = append(r.Items, *e.NewItem)
		return nil
	case "lay":
		if e.NewLead == nil {
			return fmt.Errorf("newLead is missing")
		}
		r.Leads = append(r.Leads, *e.NewLead)
		return nil
	case "remove":
		if r.Item(e.Item) == nil {
			return noItem(e.Item)
		}
		r.Items = slices.DeleteFunc(r.Items, func(it Item) bool { return it.ID == e.Item })
		r.Leads = slices.DeleteFunc(r.Leads, func(l Lead) bool {
			a, _ := SplitRef(l.From)
			b, _ := SplitRef(l.To)
			return a == e.Item || b == e.Item
		})
		if r.Sound != nil {
			s := *r.Sound
			s.Paths = slices.DeleteFunc(slices.Clone(s.Paths), func(p SoundPath) bool { return p.From == e.Item || slices.Contains(p.Via, e.Item) })
			r.Sound = &s
		}
		return nil
	case "name":
		if e.Name == "" {
			return fmt.Errorf("a rig needs a name")
		}
		r.Name = e.Name
		return nil
	case "sound":
		r.Sound = e.Sound
		return nil
	case "times":
		own := maps.Clone(r.WorkMinutes)
		if own == nil {
			own = work.Times{}
		}
		for kind, m := range e.Times {
			if own[kind] = m; m == 0 {
				delete(own, kind)
			}
		}
		if r.WorkMinutes = own; len(own) == 0 {
			r.WorkMinutes = nil
		}
		return nil
	case "computes":
		it := r.Item(e.Item)
		switch {
		case it == nil:
			return noItem(e.Item)
		case it.Gear.Kind != gear.Computer:
			return fmt.Errorf("%q is a %s, not a computer", e.Item, it.Gear.Kind)
		case e.Computes == nil:
			return fmt.Errorf("computes is missing")
		}
		it.Gear.Computes = e.Computes
		return nil
	case "show":
		if e.Show == nil {
			return fmt.Errorf("show is missing")
		}
		r.Show = *e.Show
		return nil
	}
	return fmt.Errorf("%q is not an edit", e.Do)
}

func noItem(id string) error { return fmt.Errorf("item %q: not in this rig", id) }

func (r *Rig) applyLead(e *Edit) error {
	l := r.Lead(e.Lead)
	if l == nil {
		return fmt.Errorf("lead %q: not in this rig", e.Lead)
	}
	switch e.Do {
	case "plug":
		if _, p := r.Port(e.Socket); p == nil {
			return fmt.Errorf("socket %q: not in this rig", e.Socket)
		}
		l.AnySocket = false
		switch e.End {
		case "from":
			l.From = e.Socket
		case "to":
			l.To = e.Socket
		default:
			return fmt.Errorf("end %q: want from or to", e.End)
		}
	case "unplug":
		r.Leads = slices.DeleteFunc(r.Leads, func(x Lead) bool { return x.ID == e.Lead })
	case "lead":
		if e.Grade != "" {
			l.Grade = e.Grade
		}
		if e.LengthM != nil {
			l.LengthM = *e.LengthM
		}
		if e.Thin != nil {
			l.Thin = e.Thin
		}
		if hdmi.Grade(l.Grade).Directional() && e.Grade != "" {
			l.Direction = "right" // whoever lays a new one looks at its ends
		} else if e.Grade != "" {
			l.Direction = ""
		}
		if e.Grade != "" || e.LengthM != nil {
			l.Adapters, l.ReachM, l.ContactsOhm = 0, nil, nil
		}
		if e.Grade != "" {
			l.Loss, l.AWG = nil, nil
		}
		l.Tried = nil // another lead than the one that was tried
	case "tried":
		if e.Yes == nil || e.MHz <= 0 {
			return fmt.Errorf("want yes (true or false) and mhz")
		}
		l.Tried = &Tried{MHz: e.MHz, Holds: *e.Yes, At: e.At}
	}
	return nil
}

func (r *Rig) applyItem(e *Edit) error {
	it := r.Item(e.Item)
	if it == nil {
		return noItem(e.Item)
	}
	set := Set{}
	if it.Set != nil {
		set = *it.Set
	}
	switch e.Do {
	case "mode":
		if e.Mode == nil || it.Gear.Port(e.Port) < 0 {
			return fmt.Errorf("want a mode and a port of %q (it has %s)", e.Item, portList(&it.Gear))
		}
		set.Output = maps.Clone(set.Output)
		if set.Output == nil {
			set.Output = map[string]picture.Mode{}
		}
		set.Output[e.Port] = *e.Mode
	case "deliver":
		if e.Deliver == nil || it.Gear.Port(e.Port) < 0 {
			return fmt.Errorf("want a picture to deliver and a port of %q (it has %s)", e.Item, portList(&it.Gear))
		}
		set.Deliver = maps.Clone(set.Deliver)
		if set.Deliver == nil {
			set.Deliver = map[string]Deliver{}
		}
		set.Deliver[e.Port] = *e.Deliver
	case "info-display":
		if e.Word != "on" && e.Word != "off" {
			return fmt.Errorf("word %q: want on or off", e.Word)
		}
		set.InfoDisplay = e.Word
	case "runs-on":
		if !slices.Contains([]string{"battery", "mains", "usb", "grip"}, e.Word) {
			return fmt.Errorf("word %q: want battery, mains, usb or grip", e.Word)
		}
		set.RunsOn = e.Word
	case "takes":
		return it.takes(e)
	case "swap":
		return r.swap(it, e)
	case "take":
		kept := it.Set
		if err := r.swap(it, e); err != nil {
			return err
		}
		it.Shelf, it.Set = e.Shelf, keepFitting(kept, &it.Gear)
		return nil
	case "powered-by":
		if e.Word != "" && r.Item(e.Word) == nil {
			return noItem(e.Word)
		}
		it.PoweredBy = e.Word
		return nil
	case "label":
		if e.Name == "" {
			return fmt.Errorf("a label cannot be empty")
		}
		it.Label = e.Name
		return nil
	}
	it.Set = &set
	return nil
}

// takes notes that a port takes or refuses a mode.
func (it *Item) takes(e *Edit) error {
	at := it.Gear.Port(e.Port)
	if at < 0 || e.Mode == nil || e.Yes == nil {
		return fmt.Errorf("want a port of %q (it has %s), a mode, and yes (true or false)", it.ID, portList(&it.Gear))
	}
	it.Gear.Ports = slices.Clone(it.Gear.Ports)
	p := &it.Gear.Ports[at]
	same := func(m picture.Mode) bool { return m.Same(*e.Mode) }
	m := *e.Mode
	m.Chroma, m.Bits = picture.NotSaid, 0
	if *e.Yes {
		p.MoreModes = p.MoreModes || len(p.Modes) == 0
		p.Refuses = slices.DeleteFunc(slices.Clone(p.Refuses), same)
		if !slices.ContainsFunc(p.Modes, same) {
			p.Modes = append(slices.Clip(p.Modes), m)
		}
	} else {
		p.Modes = slices.DeleteFunc(slices.Clone(p.Modes), same)
		if !slices.ContainsFunc(p.Refuses, same) {
			p.Refuses = append(slices.Clip(p.Refuses), m)
		}
		p.MoreModes = p.MoreModes || len(p.Modes) == 0
	}
	if len(p.Refuses) == 0 {
		p.Refuses = nil
	}
	return nil
}

// keepFitting keeps of an item's settings what its new sheet still knows.
func keepFitting(set *Set, g *gear.Gear) *Set {
	if set == nil {
		return nil
	}
	out := *set
	out.Output, out.Deliver, out.Settings = maps.Clone(set.Output), maps.Clone(set.Deliver), maps.Clone(set.Settings)
	maps.DeleteFunc(out.Output, func(port string, _ picture.Mode) bool { return g.Port(port) < 0 })
	maps.DeleteFunc(out.Deliver, func(port string, _ Deliver) bool { return g.Port(port) < 0 })
	maps.DeleteFunc(out.Settings, func(id, _ string) bool { return g.Setting(id) == nil })
	out.Upright = out.Upright && g.Turns
	return &out
}

// swap gives an item another spec sheet and moves its leads to ports of the same family and direction.
func (r *Rig) swap(it *Item, e *Edit) error {
	if e.Gear == nil {
		return fmt.Errorf("gear is missing")
	}
	used := map[int]bool{}
	move := func(ref string) (string, error) {
		id, portID := SplitRef(ref)
		if id != it.ID {
			return ref, nil
		}
		old := it.Gear.Port(portID)
		if old < 0 {
			return "", fmt.Errorf("%q: no such port", ref)
		}
		was := it.Gear.Ports[old]
		fits := func(p gear.Port) bool {
			return p.Connector.Family() == was.Connector.Family() && p.Direction == was.Direction
		}
		if same := e.Gear.Port(portID); same >= 0 && !used[same] && fits(e.Gear.Ports[same]) {
			used[same] = true
			return ref, nil
		}
		for i, p := range e.Gear.Ports {
			if !used[i] && fits(p) {
				used[i] = true
				return id + "." + p.ID, nil
			}
		}
		return "", fmt.Errorf("%s has no free %s port (%s) for the lead now in %q", e.Gear.Name, was.Connector.Family(), was.Direction, ref)
	}
	for i := range r.Leads {
		var err error
		if r.Leads[i].From, err = move(r.Leads[i].From); err != nil {
			return err
		}
		if r.Leads[i].To, err = move(r.Leads[i].To); err != nil {
			return err
		}
	}
	it.Gear, it.Shelf, it.Set = *e.Gear, nil, nil
	if e.Name != "" {
		it.Label = e.Name
	}
	return nil
}
