package rig

import "eventether/core/gear"

// Straight calls every lead from the end that sends, where one end sends and the other takes: which end somebody began with says
// nothing of the lead, and everything that follows leads may count on it. Leads that join two outputs, or two inputs, stay as they
// are. Reading a document does this.
func Straight(r *Rig) {
	g := NewWiring(r)
	for i := range r.Leads {
		fi, fp, ti, tp := g.LeadEnds(i)
		if fi < 0 {
			continue
		}
		if from, to := r.Items[fi].Gear.Ports[fp].Direction, r.Items[ti].Gear.Ports[tp].Direction; backwards(from, to) {
			l := &r.Leads[i]
			l.From, l.To = l.To, l.From
		}
	}
}

// turned calls the leads edits have plugged or laid from the end that sends. A lead with a source end that was plugged the other
// way round lies the other way round.
func (r *Rig) turned(edits []Edit) {
	for i := range edits {
		id := ""
		switch e := &edits[i]; e.Do {
		case "plug":
			if _, p := r.Port(e.Socket); p != nil && takes(p.Direction) == (e.End == "from") { // else in the kind of socket that end is for
				id = e.Lead
			}
		case "lay":
			id = e.NewLead.ID
		}
		l := r.Lead(id)
		if l == nil {
			continue
		}
		_, from := r.Port(l.From)
		if _, to := r.Port(l.To); from == nil || to == nil || !backwards(from.Direction, to.Direction) {
			continue
		}
		l.From, l.To = l.To, l.From
		switch {
		case edits[i].Do != "plug":
		case l.Direction == "right":
			l.Direction = "wrong"
		case l.Direction == "wrong":
			l.Direction = "right"
		}
	}
}

// backwards tells whether a lead between two ports is called from the end that takes.
func backwards(from, to gear.Direction) bool { return takes(from) && sends(to) }

// takes tells whether a picture, or a device's plug, comes in by a port.
func takes(d gear.Direction) bool { return d == gear.In || d == gear.Downstream }
