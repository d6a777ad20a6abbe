package fact_test

import (
	"fmt"

	"eventether/core/fact"
)

// A number with bounds and where it comes from.
func ExampleEst() {
	fmt.Println(fact.Est(6.5, 5, 8))
	fmt.Println(fact.Fact{Value: 6.1, Low: 6.1, High: 6.1, From: fact.Measured, At: "2026-09-01"})
	// Output:
	// 6.5 (5 to 8), estimate
	// 6.1, measured 2026-09-01
}
