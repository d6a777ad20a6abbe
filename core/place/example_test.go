package place_test

import (
	"fmt"

	"eventether/core/place"
	"eventether/internal/demo/rigs"
)

// The best socket and format for every USB device of a rig.
func ExampleSuggest() {
	s := place.Suggest(rigs.Loft(), place.Options{})
	fmt.Println(s.Possible, s.Sure, s.Proven)
	for _, m := range s.Moves {
		fmt.Println(m.Words)
	}
	// Output:
	// true true true
	// Stick 3: from hub 2 to back 2
}
