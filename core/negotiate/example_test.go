package negotiate_test

import (
	"fmt"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/negotiate"
	"eventether/core/picture"
)

// What a camera and a stick agree on over a lead that carries 340 MHz.
func ExampleBetween() {
	hd, uhd := picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(50)}, picture.Mode{Width: 3840, Height: 2160,
		Rate: picture.R(50)}
	mhz := fact.Exactly(340)
	socket := &gear.HDMIPort{MaxTMDSMHz: &mhz}
	camera := &gear.Port{ID: "hdmi", Connector: gear.HDMIA, Direction: gear.Out, HDMI: socket,
		Modes: []picture.Mode{hd, uhd}}
	stick := &gear.Port{ID: "in", Connector: gear.HDMIA, Direction: gear.In, HDMI: socket, Modes: []picture.Mode{hd}}
	o := negotiate.Between(camera, stick, negotiate.Carry{SureMHz: 340, PossibleMHz: 340})
	for _, t := range o.Takes {
		fmt.Println(t.Mode.Name(), t.Sure)
	}
	// Output: 1080p50 true
}
