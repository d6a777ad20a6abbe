package hdmi_test

import (
	"fmt"

	"eventether/core/hdmi"
	"eventether/core/picture"
)

// What 2160p60 needs of a link, and how far passive copper carries it.
func ExampleCharacterRate() {
	m := picture.Mode{Width: 3840, Height: 2160, Rate: picture.R(60), Chroma: picture.RGB, Bits: 8}
	hz, _ := hdmi.CharacterRate(m)
	sure, possible := hdmi.Reach(hdmi.Premium, hz/1e6, hdmi.Thick)
	fmt.Println(hz/1e6, "MHz,", sure, "to", possible, "m")
	// Output: 594 MHz, 3 to 5 m
}
