package rigs

import (
	"testing"
)

// BenchmarkLoft judges the loft with everything a screen shows: words, fixes, the smallest cure, questions.
func BenchmarkLoft(b *testing.B) {
	r := Loft()
	b.ReportAllocs()
	for b.Loop() {
		full(r)
	}
}
