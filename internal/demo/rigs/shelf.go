package rigs

import (
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// Shelf is what the loft and the hall own, as the demo's shelf has it first.
func Shelf() []gear.Entry {
	money := func(cents gear.Amount) *gear.Money { return &gear.Money{Amount: cents, Currency: "EUR"} }
	out := []gear.Entry{
		{ID: "loft-camera-a", Gear: cameraA, Owned: true, Count: 2, Price: money(64000)},
		{ID: "loft-camera-b", Gear: cameraB, Owned: true, Count: 1, Price: money(38000)},
		{ID: "plain-stick", Gear: plainStick, Owned: true, Count: 3, Price: money(4500)},
		{ID: "four-k-stick", Gear: wideStick, Owned: true, Count: 1, Price: money(12000)},
		{ID: "hall-camera", Gear: hallCamera, Owned: true, Count: 2, Price: money(140000)},
		{ID: "side-camcorder", Gear: sideCamcorder, Owned: true, Count: 1, Price: money(42000)},
		{ID: "hall-switcher", Gear: hallSwitcher, Owned: true, Count: 1, Price: money(58000)},
		{ID: "sdi-capture-box", Gear: sdiBox, Owned: true, Count: 1, Price: money(16000)},
	}
	for i := range out {
		out[i].Demo = true
	}
	return out
}

// Measured is what was found out since: the draw of the loft's first camera, read with a meter.
func Measured() gear.Entry {
	e := Shelf()[0]
	power := *e.Gear.Power
	draw := fact.Fact{Value: 6.1, Low: 5.9, High: 6.3, From: fact.Measured, At: "2026-10-12"}
	power.DrawW = &draw
	e.Gear.Power = &power
	return e
}

// onShelf marks the items of a rig that were copied from the shelf, in its first state.
func onShelf(r *rig.Rig) *rig.Rig {
	for i := range r.Items {
		for _, e := range Shelf() {
			if r.Items[i].Gear.Name == e.Gear.Name {
				r.Items[i].Shelf = &rig.ShelfRef{ID: e.ID, Revision: 1}
			}
		}
	}
	return r
}
