package judge_test

import (
	"fmt"

	"eventether/core/engine"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/rules"
)

// A rig is judged in figures and ids; a limit is put into words when somebody asks.
func Example() {
	r, _ := rig.Apply(rigtest.Plain(), rig.Edit{Do: "word", Path: "leads/u0/grade", Word: "usb-2"})
	v := judge.Rig(r)
	fmt.Println(v.State)
	l := v.Find(engine.ID{Rule: rules.Link, Place: "stick-0.usb"})
	fmt.Printf("%.1f of %.1f %s\n", l.Load.Value, l.Sure, l.Unit)
	fmt.Println(v.Word(l).Says)
	// Output:
	// snapped
	// 93.2 of 53.2 MB/s
	// Stick sends 93.22 MB/s; its connection carries 53.25 MB/s (slowest part: grade of the lead from Stick to Computer).
}
