package rigs

import (
	"runtime"
	"runtime/debug"
	"testing"

	"eventether/internal/quick"
)

// BenchmarkLoft judges the loft with everything a screen shows: words, fixes, the smallest cure, questions. Memory is
// collected as in the server, which keeps 17 MB [measured] and collects when four times that is there.
func BenchmarkLoft(b *testing.B) {
	defer debug.SetGCPercent(debug.SetGCPercent(300))
	kept := make([]byte, 16<<20)
	defer runtime.KeepAlive(kept)
	r := Loft()
	quick.Of(b, func() { full(r) })
}
