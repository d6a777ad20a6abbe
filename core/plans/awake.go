package plans

import "eventether/core/limit"

// Undisturbed are the settings of the computer that takes the pictures which are off for a show.
var Undisturbed = []struct {
	ID, Name, Says string
	Over           limit.Consequence
}{
	{"sleep", "Sleep, lid and screen saver", "%s goes to sleep when nobody touches it: the stream and every recording end.", limit.Dark},
	{"updates", "Updates and virus scans", "%s updates or scans by itself: it restarts, or is busy, in the middle of the show.", limit.Drops},
	{"notices", "Notices and their sounds", "Notices of %s show in what is captured of its screen, and are heard.", limit.Flaw},
}
