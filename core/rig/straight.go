package rig

import "eventether/core/gear"

// Straight calls every lead from the end that sends, where one end sends and the other takes: which end somebody began
// with says nothing of the lead, and everything that follows leads may count on it. Leads that join two outputs, or two
// inputs, stay as they are. Reading a document does this.
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

// turned calls the leads edits have plugged or laid from the end that sends. A lead with a source end that was plugged
// the other way round lies the other way round.
func (r *Rig) turned(edits []Edit) {
	for i := range edits {
		v := verbs[edits[i].Do]
		if v.turns == nil {
			continue
		}
		l := r.Lead(v.turns(r, &edits[i]))
		if l == nil {
			continue
		}
		_, from := r.Port(l.From)
		if _, to := r.Port(l.To); from == nil || to == nil || !backwards(from.Direction, to.Direction) {
			continue
		}
		l.From, l.To = l.To, l.From
		switch {
		case edits[i].NewLead != nil: // it is said how it lies
		case l.Direction == "right":
			l.Direction = "wrong"
		case l.Direction == "wrong":
			l.Direction = "right"
		}
	}
}

// plugged is the lead of an edit that put it into a socket of another kind than that end is for.
func plugged(r *Rig, e *Edit) string {
	if _, p := r.Port(e.Socket); p != nil && takes(p.Direction) == (e.End == "from") {
		return e.Lead
	}
	return ""
}

func laid(_ *Rig, e *Edit) string { return e.NewLead.ID }

// backwards tells whether a lead between two ports is called from the end that takes.
func backwards(from, to gear.Direction) bool { return takes(from) && sends(to) }

// takes tells whether a picture, or a device's plug, comes in by a port.
func takes(d gear.Direction) bool { return d.Takes() }
