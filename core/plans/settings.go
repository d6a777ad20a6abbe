package plans

import (
	"math"

	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/rig"
)

// FactList are the facts of a result.
func (p *Plan) FactList(f ...limit.Fact) []limit.Fact { return p.Mem.Facts.Of(f...) }

// LoadOf is the one load of a result.
func (p *Plan) LoadOf(item string, t limit.Term) []limit.Load {
	return p.Mem.Loads.Of(limit.Load{Item: item, Term: t})
}

// FirstFact and secondFact are the caps of a result that has one, its first or second fact as it stands.
var FirstFact, SecondFact = []limit.Term{limit.Times(1, 1)}, []limit.Term{limit.Times(1, 2)}

// CapAt is the one cap of a result.
func (p *Plan) CapAt(t limit.Term) []limit.Term { return p.Mem.Terms.Of(t) }

// Stands is how a setting of an item stands for the show: as somebody has said, else as it is proposed, which is what a
// show needs; a setting no show needs stands as the device comes.
func Stands(it *rig.Item, s *gear.Setting) (word string, said bool) {
	if it.Set != nil {
		if word, ok := it.Set.Settings[s.ID]; ok {
			return word, true
		}
	}
	if want := s.Known().Want; want != "" {
		return want, false
	}
	if s.As == "" {
		return "unknown", true
	}
	return s.As, true
}

// StandsOn tells whether a setting is on for the show.
func StandsOn(it *rig.Item, s *gear.Setting) bool {
	word, _ := Stands(it, s)
	return word == "on"
}

// LeastTouch is how long a device has to stay awake for somebody to touch it in time throughout a show, in minutes:
// nobody does more often [practice].
const LeastTouch = 2

// TouchEvery is after how many minutes at the latest a device that sleeps is to be touched, well before it does; false
// where nobody knows when that is, and where it is too often for anybody.
func TouchEvery(it *rig.Item, ceiling float64) (minutes float64, ok bool) {
	st := it.Gear.Standby
	if st == nil || st.Does == "nothing" || st.AfterMinutes == nil || st.AfterMinutes.Low*ceiling < LeastTouch {
		return 0, false
	}
	return math.Floor(st.AfterMinutes.Low * ceiling), true
}

// RestartEvery is after how many minutes at the latest a recording in a camera is to be started again; false where its
// sheet does not say that the camera ends one, or where that is too often for anybody.
func RestartEvery(it *rig.Item) (minutes float64, ok bool) {
	most := it.Gear.RecordLimitMinutes
	if most == nil || most.Low < 2 {
		return 0, false
	}
	return math.Floor(most.Low), true
}

// Undisturbed are the settings of the computer that takes the pictures which are off for a show.
var Undisturbed = []struct {
	ID, Name, Says string
	Over           limit.Consequence
}{
	{"sleep", "Sleep, lid and screen saver",
		"%s goes to sleep when nobody touches it: the stream and every recording end.", limit.Dark},
	{"updates", "Updates and virus scans",
		"%s updates or scans by itself: it restarts, or is busy, in the middle of the show.", limit.Drops},
	{"notices", "Notices and their sounds", "Notices of %s show in what is captured of its screen, and are heard.",
		limit.Flaw},
}

// RunsOn tells what a camera or phone runs on: as said, else its own battery when its sheet has one, else the mains
// when it has an adapter; "" when nobody has said and the sheet does not tell.
func RunsOn(r *rig.Rig, it *rig.Item) string {
	if it.Set != nil && it.Set.RunsOn != "" {
		return it.Set.RunsOn
	}
	if it.PoweredBy != "" {
		if giver := r.Item(it.PoweredBy); giver != nil {
			switch giver.Gear.Kind {
			case gear.Strip, gear.UPS:
				return "mains"
			case gear.PowerBank, gear.Hub, gear.Dock, gear.Computer:
				return "usb"
			}
		}
	}
	pw := it.Gear.Power
	switch {
	case pw != nil && pw.Battery != nil:
		return "battery"
	case pw != nil && pw.Mains == gear.MainsYes:
		return "mains"
	}
	return ""
}
