package say

import (
	"testing"

	"eventether/core/limit"

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
		{1, limit.Never, "min", "1 min or more"},
		{0, 0, "", "0"},
	} {
		require.Equal(t, c.want, Span(c.low, c.high, c.unit))
	}
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(0, 1e5).Draw(t, "minutes")
		m := minutes(v)
		require.LessOrEqual(t, m, v+1e-6)
		require.Less(t, v-m, 1.0)
		require.Equal(t, m, minutes(m), "rounding what is rounded changes nothing")
	})
}

func TestWords(t *testing.T) {
	for v, want := range map[float64]string{0: "0", 1: "1", 497.664: "497.7", 53.248: "53.25", 0.0599: "0.06",
		2509.97: "2510", 12.5: "12.5", 1e6: "1000000"} {
		require.Equal(t, want, Number(v))
	}
	require.Equal(t, "3 to 5 m", Span(5, 3, "m"))
	require.Equal(t, "3 m", Span(3, 3, "m"))
	require.Equal(t, "5 W or more", Span(5, limit.Never, "W"))
	require.Equal(t, "106 %", Percent(limit.Bounds{Low: 1.0588, Value: 1.0588, High: 1.0588}))
	require.Equal(t, "past any limit", Percent(limit.Bounds{Low: 1, Value: 2, High: limit.Never}))
	require.Equal(t, "one move", Count(1, "move", "moves"))
	require.Equal(t, "12 moves", Count(12, "move", "moves"))
}
