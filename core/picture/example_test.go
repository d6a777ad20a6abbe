package picture_test

import (
	"fmt"

	"eventether/core/picture"
)

// How movement at one rate looks in a programme at another.
func ExampleCadenceOf() {
	c := picture.CadenceOf(picture.R(24), picture.R(30))
	fmt.Println(c.Kind, c.Pattern)
	c = picture.CadenceOf(picture.NewRate(60000, 1001), picture.R(60))
	fmt.Printf("%s every %.3f s\n", c.Kind, c.SlipSeconds)
	// Output:
	// judder [2 1 1 1]
	// slip every 16.683 s
}
