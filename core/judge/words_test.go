package judge

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Figures are written short, and never promise more minutes than there are.
func TestSpans(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		unit      string
		want      string
	}{
		{3, 3, "m", "3 m"},
		{3, 2, "m", "2 to 3 m"},
		{0.12345, 0.12345, "V", "0.123 V"},
		{12.3456, 99.999, "W", "12.35 to 100 W"},
		{994.304, 994.304, "MB/s", "994.3 MB/s"},
		{29.98, 29.98, "min", "29.9 min"},
		{99.99, 213.9, "min", "99.9 to 213 min"},
		{270, 270, "min", "270 min"},
		{1, never, "min", "1 min or more"},
		{0, 0, "", "0"},
	} {
		require.Equal(t, c.want, span(c.low, c.high, c.unit))
	}
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(0, 1e5).Draw(t, "minutes")
		m := minutes(v)
		require.LessOrEqual(t, m, v+1e-6)
		require.Less(t, v-m, 1.0)
		require.Equal(t, m, minutes(m), "rounding what is rounded changes nothing")
	})
}
