package advise_test

import (
	"context"
	"fmt"

	"eventether/core/advise"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
)

// The smallest set of moves after which nothing snaps, each an edit to the rig.
func Example() {
	r, _ := rig.Apply(rigtest.Plain(), rig.Edit{Do: "word", Path: "leads/u0/grade", Word: "usb-2"})
	a := advise.On(context.Background(), judge.Rig(r), advise.Effort)
	for _, m := range a.Cure.Moves {
		fmt.Println(m.Label, "·", m.Minutes, "min")
	}
	after, _ := rig.Apply(r, a.Cure.Edits...)
	fmt.Println(judge.Rig(after).State, a.Cure.Proven)
	// Output:
	// Take MJPEG 1920×1080 from Stick · 1 min
	// slack true
}
