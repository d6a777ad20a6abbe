package pcie_test

import (
	"fmt"

	"eventether/core/pcie"
)

// A card of generation 2 in a slot of generation 3 with four lanes.
func ExampleMeet() {
	link := pcie.Meet(pcie.Link{Generation: 3, Lanes: 4}, pcie.Link{Generation: 2, Lanes: 4})
	fmt.Println(link.Word(), link.UsableMBps(), "MB/s")
	// Output: 2x4 1640 MB/s
}
