// What a technician would do with leads: another grade, a shorter one, one that goes as far as it has to, the same
// turned round.

package advise

import (
	"math"
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sdi"
	"eventether/core/usb"
	"eventether/core/work"
)

// Lengths leads are sold in, metres [practice].
var soldLengths = []float64{0.5, 1, 2, 3, 5, 7.5, 10, 15, 20, 30, 50}

// thickAWG is the gauge of the wires for power in a USB lead that is bought for a device which draws from it
// [practice].
var thickAWG = fact.Est(24, 22, 24)

// soldAs is the shortest lead sold that goes so far.
func soldAs(metres float64) float64 {
	for _, m := range soldLengths {
		if m >= metres {
			return m
		}
	}
	return math.Ceil(metres)
}

func (u *universe) leads(at int) {
	l := &u.Leads[at]
	fi, fp, _, _ := u.g.LeadEnds(at)
	if fi < 0 || l.LengthM.High == 0 {
		return
	}
	// Another lead is as long as this one; where it may not go as far as it has to, as long as that takes.
	metres, short := l.LengthM.Value, false
	if span := l.SpanM; span != nil && span.High > l.LengthM.Low {
		if far := soldAs(span.High); far > metres {
			metres, short = far, true
		}
	}
	// shorter is a length sold between the run and the lead as it is.
	shorter := func() (float64, bool) {
		if span := l.SpanM; span != nil && span.High < l.LengthM.Low {
			m := soldAs(span.High)
			return m, m < l.LengthM.Low
		}
		return 0, false
	}
	switch u.Items[fi].Gear.Ports[fp].Connector.Family() {
	case gear.HDMIFamily:
		if m, ok := shorter(); ok {
			u.lead(l, string(hdmi.Premium), m)
		}
		grade := hdmi.Grade(l.Grade)
		switch grade {
		case hdmi.Unknown, hdmi.StandardHD, hdmi.HighSpeed:
			u.lead(l, string(hdmi.Premium), metres)
		case hdmi.Premium, hdmi.UltraHigh:
			if short {
				u.lead(l, l.Grade, metres)
			}
		}
		if grade != hdmi.Active || short {
			u.lead(l, string(hdmi.Active), metres)
		}
		if grade != hdmi.Optical || short {
			u.lead(l, string(hdmi.Optical), metres)
		}
		if short && grade == hdmi.HighSpeed {
			u.lead(l, l.Grade, metres)
		}
		if grade.Directional() && l.Direction == "wrong" {
			u.turn(l)
		}
		if l.Adapters > 0 && !short {
			u.leadAt(l, l.Grade, metres, pricePlainLead)
		}
	case gear.SDIFamily:
		class := sdi.Class(l.Grade)
		if short || class == sdi.RG179 || class == sdi.RG59 || class == sdi.UnknownCoax {
			u.lead(l, string(sdi.RG6), metres)
		}
		if class != sdi.Optical || short {
			u.lead(l, string(sdi.Optical), metres)
		}
	case gear.USBFamily:
		if m, ok := shorter(); ok {
			u.lead(l, string(usb.Lead5G), m)
		}
		switch usb.Grade(l.Grade) {
		case usb.ChargeOnly, usb.USB2Lead, usb.UnknownGrade:
			if !short {
				metres = min(metres, 2)
			}
			u.lead(l, string(usb.Lead5G), metres)
		default:
			if short || l.AWG == nil || l.AWG.High > thickAWG.Value {
				// or thicker, where the voltage at its end is short
				u.lead(l, l.Grade, metres)
			}
		}
	}
}

// lead is the move to another lead, at what one of its grade costs.
func (u *universe) lead(l *rig.Lead, grade string, metres float64) {
	u.leadAt(l, grade, metres, priceOfLead(u.family(l), grade))
}

// leadAt is the move to another lead at a price.
func (u *universe) leadAt(l *rig.Lead, grade string, metres float64, price leadPrice) {
	length, thin := fact.Exactly(metres), false
	m := move("lead", "lead:"+l.ID+":"+grade+":"+say.Number(metres), l.ID).
		slotted("lead:" + l.ID).
		taking(u.lay(u.family(l), metres)).
		costing(u.money(price.of(metres))).
		doing(rig.Edit{Do: "lead", Lead: l.ID, Grade: grade, LengthM: &length, Thin: &thin})
	thick := ""
	if u.family(l) == gear.USBFamily {
		// one whose wires for power are thick: what it loses is known before it is bought
		awg := thickAWG
		m.Edits = append(m.Edits, rig.Edit{Do: "fact", Path: "leads/" + l.ID + "/awg", Fact: &awg})
		thick = lang.Text(", %s AWG for power", say.Number(awg.Value))
	}
	m.say = func() (label, short string) {
		if l.SpanM != nil && metres != l.LengthM.Value {
			return lang.Text("Replace the lead %s by %s, %s m%s: the run is %s m", u.p.LeadTitle(l),
					plans.GradeName(grade), say.Number(metres), thick, say.Number(l.SpanM.High)),
				lang.Text("lead of %s to %s %s m", u.Items[u.end(l)].Label, plans.GradeName(grade), say.Number(metres))
		}
		return lang.Text("Replace the lead %s by %s, %s m%s", u.p.LeadTitle(l), plans.GradeName(grade),
				say.Number(metres), thick),
			lang.Text("lead of %s to %s %s m", u.Items[u.end(l)].Label, plans.GradeName(grade), say.Number(metres))
	}
	u.add(m)
}

// family is the connector family of a lead's ends.
func (u *universe) family(l *rig.Lead) gear.Family {
	if _, p := u.Port(l.From); p != nil {
		return p.Connector.Family()
	}
	return ""
}

// turn is the move that lays an active or optical lead the other way round.
func (u *universe) turn(l *rig.Lead) {
	u.add(move("lead", "turn:"+l.ID, l.ID).
		slotted("lead:" + l.ID).
		taking(u.takes(work.Turn)).
		saying(func() (string, string) {
			return lang.Text("Turn the lead %s round: its source end belongs to the source", u.p.LeadTitle(l)),
				lang.Text("lead of %s turned round", u.Items[u.end(l)].Label)
		}).
		doing(rig.Edit{Do: "word", Path: "leads/" + l.ID + "/direction", Word: "right"}))
}

// end is the index of the item at a lead's From end.
func (u *universe) end(l *rig.Lead) int {
	id, _ := rig.SplitRef(l.From)
	return slices.IndexFunc(u.Items, func(it rig.Item) bool { return it.ID == id })
}

// boardLengths are the lengths a lead is stepped through on the board, metres [practice].
var boardLengths = []float64{0.5, 1, 1.5, 2, 3, 5, 7.5, 10, 12, 15, 20, 30}

// lengths are the same lead in every other length. They are offered on the board, not searched for cures: how far
// apart things stand is not for us to change.
func (u *universe) lengths(id string) {
	l := u.Lead(id)
	if l == nil || l.LengthM.High == 0 {
		return
	}
	for _, m := range boardLengths {
		if m == l.LengthM.Value && l.LengthM.Narrow() {
			continue
		}
		length := fact.Exactly(m)
		u.add(move("length", "length:"+id+":"+say.Number(m), id).
			slotted("lead:" + id).
			taking(u.lay(u.family(l), m)).
			saying(func() (string, string) {
				return lang.Text("Make it %s m long: the lead %s", say.Number(m), u.p.LeadTitle(l)),
					lang.Text("lead of %s to %s m", u.Items[u.end(l)].Label, say.Number(m))
			}).
			doing(rig.Edit{Do: "lead", Lead: id, LengthM: &length}))
	}
}
