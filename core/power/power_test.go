package power

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Copper. [standard: ASTM B258 wire sizes, copper 17.24 nΩ·m]
func TestCopper(t *testing.T) {
	for awg, want := range map[float64]float64{28: 212.9, 26: 133.9, 24: 84.2, 22: 53.0, 20: 33.3} {
		require.InDelta(t, want, MilliohmPerMetre(awg), 0.06, "AWG %v", awg)
	}
}
