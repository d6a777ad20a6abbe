package gear_test

import (
	"fmt"

	"eventether/core/gear"
)

// What is typical of a thing nobody has described.
func ExampleGear_Draws() {
	stick := gear.Gear{Kind: gear.Capture, Name: "Stick"}
	fmt.Println(stick.Draws())
	_, possibly := (&gear.Gear{Kind: gear.Hub}).BusPowered()
	fmt.Println("a hub may live on its socket:", possibly)
	// Output:
	// 2.5 (1 to 8), estimate
	// a hub may live on its socket: true
}
