package rules_test

import (
	"fmt"

	"eventether/core/rules"
)

// Every rule says what it asks, and what happens when it is over.
func ExampleNamed() {
	r := rules.Named("drop")
	over, source := r.InWords()
	fmt.Println(r.Asks)
	fmt.Println(r.Sum)
	fmt.Println(over)
	fmt.Println(source)
	// Output:
	// Is there enough voltage left at the end of a USB lead?
	// V at the socket − A × (2 × m × mΩ/m ÷ 1000 + contacts) ≥ V the device needs
	// drops: it comes and goes, or ends before the show does
	// ASTM B258 wire sizes, copper 17.24 nΩ·m; voltages at port and device from memory of USB 2.0 and USB 3.2 (published standard)
}
