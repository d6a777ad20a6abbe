package plans

import (
	"eventether/core/picture"
	"eventether/core/rig"
)

// BoxMode is the picture a switcher or scaling converter runs at: as its output is set, else its only mode; nil when
// nobody has said.
func BoxMode(it *rig.Item, out int) *picture.Mode {
	if it.Set != nil {
		if out >= 0 {
			if m, ok := it.Set.Output[it.Gear.Ports[out].ID]; ok {
				return &m
			}
		}
		first := "" // a switcher runs at one picture, whichever output it is set for
		for id := range it.Set.Output {
			if first == "" || id < first {
				first = id
			}
		}
		if first != "" {
			m := it.Set.Output[first]
			return &m
		}
	}
	if out >= 0 && len(it.Gear.Ports[out].Modes) == 1 {
		return &it.Gear.Ports[out].Modes[0]
	}
	return nil
}
