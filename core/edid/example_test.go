package edid_test

import (
	"fmt"

	"eventether/core/edid"
)

// What a sink says it takes.
func ExampleDecode() {
	r := edid.Decode(edid.Sample(16))
	fmt.Println(r.Valid, r.Preferred.Width, r.Preferred.Height, r.Preferred.RateHz)
	fmt.Println(edid.Decode([]byte{1, 2, 3}).Valid)
	// Output:
	// true 1920 1080 60
	// false
}
