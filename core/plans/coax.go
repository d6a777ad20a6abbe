package plans

import (
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/sdi"
)

// IsSDI tells whether a socket is one of SDI.
func IsSDI(port *gear.Port) bool { return port.Connector.Family() == gear.SDIFamily }

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
			return lang.Text("%s dB ÷ %s dB per 100 m at %s MHz", say.Number(sdi.Budget(link)), say.Number(db), say.Number(mhz))
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
