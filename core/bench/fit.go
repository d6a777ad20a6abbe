package bench

import (
	"slices"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/rig"
)

// Fit is whether a lead can join two sockets, and why not where it cannot.
type Fit struct {
	Socket string `json:"socket" doc:"item.socket"`
	Item   string `json:"item"`
	Label  string `json:"label" doc:"Of the item"`
	Name   string `json:"name" doc:"Of the socket"`
	Fits   bool   `json:"fits"`
	Why    string `json:"why,omitempty" doc:"Why it does not fit"`
}

// Fits lists every socket of a rig with whether a lead from one socket goes there: those that fit first.
func Fits(r *rig.Rig, socket string) []Fit {
	out := []Fit{}
	for i := range r.Items {
		it := &r.Items[i]
		for j := range it.Gear.Ports {
			p := &it.Gear.Ports[j]
			ref := it.ID + "." + p.ID
			if ref == socket {
				continue
			}
			why := WhyNot(r, socket, ref)
			out = append(out, Fit{ref, it.ID, it.Label, rig.PortName(p), why == "", why})
		}
	}
	slices.SortStableFunc(out, func(a, b Fit) int { return b2i(b.Fits) - b2i(a.Fits) })
	return out
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// FamilyName is a family of sockets as people say it.
func FamilyName(f gear.Family) string {
	switch f {
	case gear.HDMIFamily:
		return "HDMI"
	case gear.SDIFamily:
		return "SDI"
	case gear.USBFamily:
		return "USB"
	case gear.PCIeFamily:
		return lang.Text("a card slot")
	}
	return lang.Text("a network socket")
}

// WhyNot says why no lead joins two sockets; "" where one can.
func WhyNot(r *rig.Rig, a, b string) string {
	ai, ap := r.Port(a)
	bi, bp := r.Port(b)
	switch {
	case ap == nil || bp == nil:
		return lang.Text("it is not in this rig any more")
	case a == b:
		return lang.Text("that is the same socket")
	case ai == bi:
		return lang.Text("both are on %s: a lead back into the same thing is a loop", ai.Label)
	}
	for _, ref := range []string{a, b} {
		if l := r.LeadIn(ref); l != nil {
			it, p := r.Port(ref)
			other, _ := r.Port(otherEnd(l, ref))
			if other == nil {
				other = it
			}
			return lang.Text("%s of %s is taken: the lead to %s is in it", rig.PortName(p), it.Label, other.Label)
		}
	}
	fa, fb := ap.Connector.Family(), bp.Connector.Family()
	pictures := func(f gear.Family) bool { return f == gear.HDMIFamily || f == gear.SDIFamily }
	switch {
	case fa == fb && (ap.Connector == gear.Internal) != (bp.Connector == gear.Internal):
		return lang.Text("one of them is wired inside the case")
	case fa == fb:
	case pictures(fa) && pictures(fb):
		return lang.Text("%s does not go into %s: a converter stands between them", FamilyName(fa), FamilyName(fb))
	case pictures(fa) && fb == gear.USBFamily || pictures(fb) && fa == gear.USBFamily:
		return lang.Text("%s does not go into %s: a capture device stands between them",
			FamilyName(pick(pictures(fa), fa, fb)), FamilyName(gear.USBFamily))
	default:
		return lang.Text("no lead joins %s and %s", FamilyName(fa), FamilyName(fb))
	}
	switch da, db := ap.Direction, bp.Direction; {
	case da.Sends() && db.Sends() && fa == gear.USBFamily:
		return lang.Text("both are plugs that look for a computer")
	case da.Sends() && db.Sends():
		return lang.Text("both give a picture: one has to take it")
	case da.Takes() && db.Takes() && fa == gear.USBFamily:
		return lang.Text("both are sockets for devices")
	case da.Takes() && db.Takes():
		return lang.Text("both take a picture: one has to give it")
	}
	after, err := rig.Apply(r, rig.Edit{Do: "lay", NewLead: NewLead(r, a, b, "new-lead-to-try")})
	if err != nil {
		return err.Error()
	}
	problems := rig.Check(after)
	if len(problems) == 0 {
		return ""
	}
	had := rig.Check(r) // what was wrong before is not this lead's doing
	for _, p := range problems {
		if !slices.ContainsFunc(had, func(q rig.Problem) bool { return q.Text == p.Text }) {
			return p.Text
		}
	}
	return ""
}

func pick[T any](first bool, a, b T) T {
	if first {
		return a
	}
	return b
}

func otherEnd(l *rig.Lead, ref string) string {
	if l.From == ref {
		return l.To
	}
	return l.From
}

// NewLead is the lead nobody has described yet between two sockets: unmarked, as long as such leads are as a rule
// [practice].
func NewLead(r *rig.Rig, a, b, id string) *rig.Lead {
	_, ap := r.Port(a)
	_, bp := r.Port(b)
	if ap.Direction.Takes() {
		a, b, ap, bp = b, a, bp, ap
	}
	l := &rig.Lead{ID: id, From: a, To: b}
	l.Grade, l.LengthM = UsualLead(ap, bp)
	if it, _ := r.Port(a); ap.Connector.Family() == gear.USBFamily && ap.Connector != gear.Internal &&
		it.Gear.Kind != gear.Hub && it.Gear.Kind != gear.Dock {
		l.AnySocket = true
	}
	if ap.Connector == gear.USBA && bp.Connector == gear.USBC {
		l.Adapters = 1
	}
	return l
}

// UsualLead is the grade and length of a lead nobody has described, from what sends to what takes [practice].
func UsualLead(from, to *gear.Port) (grade string, length fact.Fact) {
	switch from.Connector.Family() {
	case gear.HDMIFamily:
		return "unknown", fact.Est(2, 1, 5)
	case gear.SDIFamily:
		return "coax", fact.Est(10, 2, 30)
	case gear.PCIeFamily:
		return "slot", fact.Exactly(0)
	case gear.LANFamily:
		return "lan", fact.Est(5, 1, 20)
	}
	switch {
	case from.Connector == gear.Internal:
		return "usb-unknown", fact.Exactly(0)
	case from.Connector == gear.USBA: // a stick, or a lead of its own
		return "usb-5g", fact.Exactly(0)
	}
	return "usb-unknown", fact.Est(1, 0.3, 2)
}
