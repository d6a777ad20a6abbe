package plans

import (
	"eventether/core/gear"
	"eventether/core/rig"
)

// RunsOn tells what a camera or phone runs on: as said, else its own battery when its sheet has one, else the mains when
// it has an adapter; "" when nobody has said and the sheet does not tell.
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
