package advise

import (
	"eventether/core/gear"
	"eventether/core/work"
)

// takes is how long a kind of work takes here: by the user's own times where there are such.
func (u *universe) takes(k work.Kind) float64 { return u.WorkMinutes.Of(k) }

// takesSetting is one setting, with walking up to the camera.
func (u *universe) takesSetting() float64 { return 2 * u.takes(work.Setting) }

// lay is what laying another lead over a run of so many metres takes.
func (u *universe) lay(family gear.Family, metres float64) float64 {
	_, m := u.WorkMinutes.Lay(family == gear.SDIFamily, metres, "")
	return m
}

// quickest is the least any move takes, in minutes.
func quickest(own work.Times) float64 {
	least := 2 * own.Of(work.Setting)
	for _, k := range []work.Kind{work.Plug, work.Card, work.Mode, work.Deliver, work.Desk, work.Room, work.SDI,
		work.Power, work.Send, work.Swap, work.Turn, work.Show, work.Spare} {
		least = min(least, own.Of(k))
	}
	return least
}
