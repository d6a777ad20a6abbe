package view_test

import (
	"fmt"

	"eventether/core/judge"
	"eventether/core/rig/rigtest"
	"eventether/core/view"
)

// A verdict in words: the sentence above the board, and every hop of every feed.
func Example() {
	v := view.Of(judge.Rig(rigtest.Plain()), nil)
	fmt.Println(v.Sentence)
	for _, h := range v.Feeds[0].Hops {
		fmt.Printf("%s: %s\n", h.Stage, h.Label)
	}
	// Output:
	// Holds as proposed with room to spare. Not judged yet: sound.
	// camera: Camera
	// socket: HDMI
	// lead: High Speed HDMI 2 m
	// capture: Stick
	// port: p0
	// picture: same rate
}
