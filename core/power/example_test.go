package power_test

import (
	"fmt"

	"eventether/core/power"
)

// How long a small battery runs a camera of 6.5 W.
func ExampleRunMinutes() {
	wh := power.WattHours(1080, 7.2)
	fmt.Printf("%.1f Wh, %.0f min\n", wh, power.RunMinutes(wh, power.UsableNew, 6.5))
	// Output: 7.8 Wh, 65 min
}
