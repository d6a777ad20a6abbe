//go:build !linux

package system

import "time"

// Clock is asked on Linux only.
func Clock() (set bool, off time.Duration, ok bool) { return false, 0, false }
