package rig_test

import (
	"fmt"

	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// What stands on the way up from a stick, and what the rig states of its lead.
func ExampleWiring_Up() {
	r := rigtest.Plain()
	w := rig.NewWiring(r)
	stick := w.At("stick-0")
	for up := range w.Up(stick, r.Items[stick].Gear.Port("usb")) {
		fmt.Println(r.Leads[up.Lead].ID, "into", w.Ref(up.Item, up.Socket))
	}
	f := rig.FieldAt("leads/ID/lengthM")
	fmt.Println(f.At("h0", ""), f.Low, "to", f.High, f.Units)
	// Output:
	// u0 into pc.p0
	// leads/h0/lengthM 0 to 2000 metres
}

// A change is a list of edits; the rig it is made from stays as it is.
func ExampleApply() {
	r := rigtest.Plain()
	after, err := rig.Apply(r, rig.Edit{Do: "word", Path: "items/cam-0/clean", Word: "never"})
	fmt.Println(r.Item("cam-0").Gear.Clean, after.Item("cam-0").Gear.Clean, err)
	_, err = rig.Apply(r, rig.Edit{Do: "word", Path: "items/cam-0/clean", Word: "shiny"})
	fmt.Println(err)
	// Output:
	// clean never <nil>
	// edit 1 (word): path "items/cam-0/clean": "shiny" is not one of [clean after-setting never unknown]
}
