package plans

import (
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sdi"
)

// LeadName is "High Speed 3 m".
func (p *Plan) LeadName(l *rig.Lead) string {
	if l.LengthM.High == 0 {
		return lang.Text("plugged straight in")
	}
	length := say.Span(l.LengthM.Low, l.LengthM.High, "m")
	if l.LengthM.From == fact.Estimate {
		length = "~" + say.Number(l.LengthM.Value) + lang.Text(" m est.")
	}
	return GradeName(l.Grade) + " " + length
}

// carries is what a lead has to carry, in short.
func carries(m *picture.Mode, fixed bool, from *gear.Port) string {
	if from.Connector.Family() != gear.HDMIFamily {
		if link, mbps, ok := sdi.For(*m); ok && IsSDI(from) {
			return "carries " + string(link) + ", " + say.Number(mbps) + " Mb/s"
		}
		return ""
	}
	if fixed {
		low, high := hdmi.FixedRateNeed(*m)
		return "carries " + say.Span(low, high, "Gb/s")
	}
	low, high := hdmi.CharacterRate(*m)
	return "carries " + say.Span(low/say.Mega, high/say.Mega, "MHz")
}

// GradeName is a lead grade in words.
func GradeName(grade string) string {
	if name, ok := gradeNames[grade]; ok {
		return lang.Text(name)
	}
	return grade
}

var gradeNames = map[string]string{
	"unknown": "Unmarked HDMI", "standard": "Standard HDMI", "high-speed": "High Speed HDMI",
	"premium": "Premium High Speed HDMI",
	"ultra":   "Ultra High Speed HDMI", "active": "Active HDMI", "optical": "Optical HDMI",
	"usb-charge": "Charge-only USB", "usb-2": "USB 2", "usb-5g": "USB 5 Gb/s", "usb-10g": "USB 10 Gb/s",
	"usb-20g": "USB 20 Gb/s",
	"usb-40g": "USB 40 Gb/s", "usb-unknown": "Unmarked USB",
	"coax": "Unmarked coax", "rg-6": "RG-6 class coax", "rg-59": "RG-59 class coax", "rg-179": "Thin RG-179 coax",
	"fibre": "SDI over fibre", "lan": "Network", "slot": "Slot",
}

// MaybeActive tells whether a lead without a mark is longer than passive ones are sold, so that it may be an active or
// optical one [practice].
func MaybeActive(l *rig.Lead) bool {
	return hdmi.Grade(l.Grade) == hdmi.Unknown && l.LengthM.High > hdmi.PassiveMetres
}

// TriedOptions are the two answers a trial of a lead has: "as far as this lead is long" and "no further than the sure
// reach". What is needed is turned round: a lead that holds shows that it was the lower of the two.
func TriedOptions(l *rig.Lead, mhz, sure, possible float64, need bool) func() []limit.Option {
	t, f := true, false
	if need {
		sure, possible = possible, sure
	}
	return func() []limit.Option {
		return []limit.Option{{Word: "yes", Label: lang.Text("It holds"), Number: possible,
			Do: []rig.Edit{{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &t}}},
			{Word: "no", Label: lang.Text("It drops out"), Number: sure,
				Do: []rig.Edit{{Do: "tried", Lead: l.ID, MHz: mhz, Yes: &f}}}}
	}
}

// Thickness: a lead to a mini or micro socket may be a thin one unless it is said.
func Thickness(l *rig.Lead, from, to *gear.Port) hdmi.Thickness {
	switch {
	case l.Thin != nil && *l.Thin:
		return hdmi.Thin
	case l.Thin != nil:
		return hdmi.Thick
	case from.Connector.Small() || to.Connector.Small():
		return hdmi.MaybeThin
	}
	return hdmi.Thick
}

// IsSDI tells whether a socket is one of SDI.
func IsSDI(port *gear.Port) bool { return port.Connector.Family() == gear.SDIFamily }

// UpperFamily is a family of connectors as people write it: HDMI.
func UpperFamily(f gear.Family) string { return strings.ToUpper(string(f)) }

// CoaxReach bounds the reach of a coax lead: surely the shorter of the sum and what people plan with, possibly the sum.
// A lead of unknown class may be any.
func CoaxReach(l *rig.Lead, link sdi.Link, mhz float64) (limit.Fact, func() string) {
	f := limit.Fact{Unit: "m", From: fact.Estimate}
	points, class := l.Loss, sdi.Class(l.Grade)
	var why func() string
	if len(points) > 0 {
		f.From = fact.DataSheet
	}
	if len(points) == 0 && class == sdi.UnknownCoax {
		worst, _ := sdi.Planning(sdi.RG179)
		best, _ := sdi.Planning(sdi.RG6)
		f.Low, _ = sdi.Reach([]sdi.Point{worst}, link)
		f.High, _ = sdi.Reach([]sdi.Point{best}, link)
		f.Value = (f.Low + f.High) / 2
		f.Key = limit.At("leads/ID/grade", l.ID)
		f.Open = func() (out []limit.Option) {
			for _, c := range []sdi.Class{sdi.RG6, sdi.RG59, sdi.RG179} {
				pt, _ := sdi.Planning(c)
				reach, _ := sdi.Reach([]sdi.Point{pt}, link)
				out = append(out, limit.Option{Word: string(c), Label: GradeName(string(c)), Number: reach})
			}
			return out
		}
		return f, func() string {
			return lang.Text("coax nobody has read the jacket of: from thin to RG-6 class at %s MHz", say.Number(mhz))
		}
	}
	if len(points) == 0 {
		pt, _ := sdi.Planning(class)
		points = []sdi.Point{pt}
	}
	reach, err := sdi.Reach(points, link)
	if err != nil { // points that make no sense: anything may be
		f.Low, f.High, why = 0, 1000, func() string { return err.Error() }
	} else {
		f.Low, f.High = reach, reach
		why = func() string {
			db, _ := sdi.Loss(points, link.Mbps()/2)
			return lang.Text("%s dB ÷ %s dB per 100 m at %s MHz", say.Number(sdi.Budget(link)), say.Number(db),
				say.Number(mhz))
		}
	}
	if sure, _ := sdi.HabitMetres(link); sure > 0 && len(l.Loss) == 0 && sure < f.Low {
		f.Low = sure
		sum := why
		why = func() string { return sum() + lang.Text("; planned with 30 to 60 m") }
	}
	if f.Low != f.High {
		f.Key, f.Open = limit.At("leads/ID/tried", l.ID), TriedOptions(l, mhz, f.Low, f.High, false)
	}
	f.Value = f.Low
	return f, why
}
