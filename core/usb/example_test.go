package usb_test

import (
	"fmt"

	"eventether/core/usb"
)

// What one bus carries, and what one reserving endpoint of it does.
func ExampleBusMBps() {
	bulk, _ := usb.BusMBps(usb.Gen1, false, false)
	endpoint, _ := usb.EndpointMBps(usb.Gen1, usb.Isochronous)
	sure, possible := usb.BusMBps(usb.HighSpeed, true, false)
	fmt.Printf("%v bulk, %.1f an endpoint; 480 Mb/s with reserving streams: %.1f to %.1f MB/s\n", bulk, endpoint,
		sure, possible)
	// Output: 470 bulk, 393.2 an endpoint; 480 Mb/s with reserving streams: 32.8 to 41.0 MB/s
}
