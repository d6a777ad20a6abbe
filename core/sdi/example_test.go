package sdi_test

import (
	"fmt"

	"eventether/core/picture"
	"eventether/core/sdi"
)

// Which link a picture goes by, and how far RG-6 carries it.
func ExampleFor() {
	link, mbps, _ := sdi.For(picture.Mode{Width: 1920, Height: 1080, Rate: picture.R(50)})
	point, _ := sdi.Planning(sdi.RG6)
	reach, _ := sdi.Reach([]sdi.Point{point}, link)
	fmt.Printf("%s, %v Mb/s, %.0f m\n", link, mbps, reach)
	// Output: 3G, 2970 Mb/s, 86 m
}
