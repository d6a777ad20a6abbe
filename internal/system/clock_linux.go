package system

import (
	"syscall"
	"time"
)

// Clock tells whether the network sets this computer's clock, and by how much it may be off at most: the kernel's own state
// [documented: adjtimex(2)]; ok is false where it does not say.
func Clock() (set bool, off time.Duration, ok bool) {
	const unsynchronised = 0x40
	var t syscall.Timex
	if _, err := syscall.Adjtimex(&t); err != nil {
		return false, 0, false
	}
	return t.Status&unsynchronised == 0, time.Duration(t.Maxerror) * time.Microsecond, true
}
