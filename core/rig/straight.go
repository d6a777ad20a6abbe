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
		if from, to := r.Items[fi].Gear.Ports[fp].Direction, r.Items[ti].Gear.Ports[tp].Direction; takes(from) && sends(to) {
			l := &r.Leads[i]
			l.From, l.To = l.To, l.From
		}
	}
}

// takes tells whether a picture, or a device's plug, comes in by a port.
func takes(d gear.Direction) bool { return d == gear.In || d == gear.Downstream }
