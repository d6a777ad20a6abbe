// Package quick answers: how long does work take while the machine is left alone, where others share it?
package quick

import (
	"slices"
	"testing"
	"time"
)

// Of benchmarks work, and reports besides how long the quickest tenth of its runs took at most.
func Of(b *testing.B, work func()) {
	b.ReportAllocs()
	var took []time.Duration
	for b.Loop() {
		began := time.Now()
		work()
		took = append(took, time.Since(began))
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)/10].Nanoseconds()), "ns/quick")
}
