package power

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Copper of handbook 4.1. [standard: ASTM B258 wire sizes, copper 17.24 nΩ·m]
func TestCopper(t *testing.T) {
	for awg, want := range map[float64]float64{28: 212.9, 26: 133.9, 24: 84.2, 22: 53.0, 20: 33.3} {
		require.InDelta(t, want, MilliohmPerMetre(awg), 0.06, "AWG %v", awg)
	}
	// 0.9 A over 2 m of AWG 28 loses 0.77 V.
	require.InDelta(t, 0.77, DropVolts(0.9, 2, MilliohmPerMetre(28), 0), 0.005)
	require.InDelta(t, 0.77+0.108, DropVolts(0.9, 2, MilliohmPerMetre(28), ContactOhms), 0.005)
}

func TestTemperature(t *testing.T) {
	require.Equal(t, 22.0, Temperature(22, 6, 5, 60, 0))
	require.InDelta(t, 52, Temperature(22, 6, 5, 60, 1e6), 1e-9)
	require.InDelta(t, 22+30*0.632, Temperature(22, 6, 5, 60, 300), 0.01, "one time constant")
}
