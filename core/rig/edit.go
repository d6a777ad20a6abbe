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

// Edit is one change to a rig, as data: fixes, answers and everything done on the board are lists of edits. Which
// fields are read depends on Do: see Verbs.
type Edit struct {
	Do       VerbName      `json:"do"`
	Item     string        `json:"item,omitempty"`
	Port     string        `json:"port,omitempty"`
	Lead     string        `json:"lead,omitempty"`
	End      string        `json:"end,omitempty" enum:"from,to"`
	Socket   string        `json:"socket,omitempty"`
	Mode     *picture.Mode `json:"mode,omitempty"`
	Deliver  *Deliver      `json:"deliver,omitempty"`
	Grade    string        `json:"grade,omitempty"`
	LengthM  *fact.Fact    `json:"lengthM,omitempty"`
	Thin     *bool         `json:"thin,omitempty"`
	Adapters *int          `json:"adapters,omitempty" minimum:"0" maximum:"10"`
	Path     string        `json:"path,omitempty"`
	Fact     *fact.Fact    `json:"fact,omitempty"`
	Word     string        `json:"word,omitempty"`
	MHz      float64       `json:"mhz,omitempty"`
	At       string        `json:"at,omitempty"`
	Yes      *bool         `json:"yes,omitempty"`
	Send     *Send         `json:"send,omitempty"`
	Gear     *gear.Gear    `json:"gear,omitempty"`
	Shelf    *ShelfRef     `json:"shelf,omitempty"`
	Name     string        `json:"name,omitempty"`
	NewItem  *Item         `json:"newItem,omitempty"`
	NewLead  *Lead         `json:"newLead,omitempty"`
	Show     *Show         `json:"show,omitempty"`

	Computes *gear.Computes  `json:"computes,omitempty"`
	Times    work.Times      `json:"times,omitempty"`
	Readings []UplinkReading `json:"readings,omitempty" maxItems:"1000"`
	Sound    *Sound          `json:"sound,omitempty"`
}

// Apply returns a new rig with the edits made in order. The given rig is never changed; parts no edit touches are
// shared. A lead that edits leave called from the end that takes is called from its other end. The result may still
// fail Check: the caller decides.
func Apply(r *Rig, edits ...Edit) (*Rig, error) {
	out := *r
	written := writes(edits)
	if written&inItems != 0 {
		out.Items = slices.Clone(r.Items)
	}
	if written&inLeads != 0 {
		out.Leads = slices.Clone(r.Leads)
	}
	if err := out.applyAll(edits); err != nil {
		return nil, err
	}
	return &out, nil
}

func (r *Rig) applyAll(edits []Edit) error {
	for i := range edits {
		if err := r.apply(&edits[i]); err != nil {
			return fmt.Errorf("edit %d (%s): %w", i+1, edits[i].Do, err)
		}
	}
	r.turned(edits)
	return nil
}

// writes tells which of the two long lists of a rig edits write into; the other is shared with the rig they are made
// on.
func writes(edits []Edit) (out part) {
	for i := range edits {
		v := verbs[edits[i].Do]
		switch {
		case v == nil:
		case v.writes != whereItsPath:
			out |= v.writes
		case strings.HasPrefix(edits[i].Path, "items/"):
			out |= inItems
		case strings.HasPrefix(edits[i].Path, "leads/"):
			out |= inLeads
		}
	}
	return out
}

func (r *Rig) apply(e *Edit) error {
	v := verbs[e.Do]
	if v == nil {
		return fmt.Errorf("%q is not an edit", e.Do)
	}
	if lacks := v.lacks(e); len(lacks) > 0 {
		return fmt.Errorf("%s is missing", strings.Join(lacks, ", "))
	}
	return v.do(r, e)
}

// replaceLead makes a lead another one: what was measured of the old one is not known of it.
func (r *Rig) replaceLead(e *Edit) error {
	return r.onLead(e, func(l *Lead) error {
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
		if e.Adapters != nil {
			l.Adapters = *e.Adapters
		}
		l.Tried = nil // another lead than the one that was tried
		return nil
	})
}

// takes notes that a port takes or refuses a mode.
func (it *Item) takes(e *Edit) error {
	at := it.Gear.Port(e.Port)
	if err := e.itsPort(it); err != nil {
		return err
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
		fits := func(p gear.Port) bool { return p.Replaces(&was) }
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
		return "", fmt.Errorf("%s has no free %s port (%s) for the lead now in %q", e.Gear.Name,
			was.Connector.Family(), was.Direction, ref)
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
