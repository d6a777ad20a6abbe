package rig

import (
	"strings"

	"eventether/core/gear"
)

// OnSheet says on a spec sheet what an edit says of an item of a rig: a measured draw, a speed that was read. ok is
// false where the edit is about how the item is set in this rig, or about something else.
func OnSheet(g gear.Gear, e Edit) (out gear.Gear, ok bool) {
	parts := strings.SplitN(e.Path, "/", 3)
	if e.Do != "fact" && e.Do != "word" || len(parts) < 3 || parts[0] != "items" ||
		strings.HasPrefix(parts[2], "set/") || parts[2] == "owned" || parts[2] == "price" {
		return g, false
	}
	after, err := Apply(&Rig{Items: []Item{{ID: parts[1], Label: parts[1], Gear: g}}}, e)
	if err != nil {
		return g, false
	}
	return after.Items[0].Gear, true
}
