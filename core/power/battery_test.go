package power

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// By hand: a 1080 mAh pack of 7.2 V holds 7.776 Wh; at 6.5 W and 0.9 usable it runs 64.6 minutes.
func TestRunMinutes(t *testing.T) {
	require.InDelta(t, 7.776, WattHours(1080, 7.2), 1e-12)
	require.InDelta(t, 64.6, RunMinutes(WattHours(1080, 7.2), UsableNew, 6.5), 0.05)
	// An hour at one watt takes one watt-hour.
	require.InDelta(t, 60, RunMinutes(1, 1, 1), 1e-12)
	require.Less(t, RunMinutes(10, UsableAged, 5), RunMinutes(10, UsableNew, 5))
}
