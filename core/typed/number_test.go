package typed

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNumber(t *testing.T) {
	for _, c := range []struct {
		text, unit string
		want       float64
	}{
		{"12", "m", 12}, {"12 m", "m", 12}, {"12m", "m", 12}, {"4,5 m", "m", 4.5}, {"4.5", "m", 4.5},
		{"450 cm", "m", 4.5}, {"10 ft", "m", 3.048},
		{"5 Mb/s", "kb/s", 5000}, {"5 Mbps", "kb/s", 5000}, {"5000 kb/s", "Mb/s", 5}, {"6 mbit/s", "Mb/s", 6},
		{"450 MB/s", "MB/s", 450}, {"0,5 GB/s", "MB/s", 500},
		{"2 h", "min", 120}, {"2 h 30 min", "min", 150}, {"1:30", "min", 90}, {"90 s", "min", 1.5},
		{"0.12 s", "ms", 120}, {"120 ms", "ms", 120},
		{"1/50", "", 0.02}, {"1/50", "s", 0.02}, {"800 EUR", "EUR", 800}, {"800 EUR", "", 800}, {"1 000", "W", 1000},
		{"1.234,5", "W", 1234.5}, {"1,234.5", "W", 1234.5}, {"1,234,567", "", 1234567},
		{"900 mA", "mA", 900}, {"0.9 A", "mA", 900}, {"2 Ah", "mAh", 2000}, {"1 TB", "GB", 1000}, {"-3 dB", "dB", -3},
		{"−3", "dB", -3}, {"80%", "%", 80}, {"5 V", "V", 5}, {"30 mΩ", "Ω", 0.03}, {"24 AWG", "AWG", 24},
		{"5 MBIT/S", "Mb/s", 5}, {"5 MBPS", "kb/s", 5000}, {"-3 db", "dB", -3}, {"5 kw", "W", 5000},
		{"1e3", "m", 1000}, {"2.5e-1 m", "m", 0.25}, {"148.5 MHz", "MHz", 148.5}, {"48 kHz", "kHz", 48},
	} {
		got, err := Number(c.text, c.unit)
		require.NoError(t, err, "%q in %s", c.text, c.unit)
		require.InDelta(t, c.want, got, 1e-9, "%q in %s", c.text, c.unit)
	}
	for _, c := range []struct{ text, unit, says string }{
		{"", "m", "missing"}, {"5 EUR 3 EUR", "EUR", "not one number"},
		{"5 furlongs", "EUR", "is no unit that is known"}, {"5 5", "EUR", ""}, {"450 MB/S", "Mb/s", "bytes a second"},
		{"many", "m", "“many” is not a number"},
		{"5 furlongs", "m", "“furlongs” is no unit that is known: it is in m"},
		{"5 m", "min", "“5 m” is a length: this is in min"},
		{"5 MB/s", "Mb/s", "bytes a second"}, {"5 Mb/s", "MB/s", "a bitrate"}, {"1/0", "", "not a number"},
		{"5 5 m", "m", ""}, {"12 m x", "m", "not a number"}, {"3 4", "m", ""}, {"5 m", "", "is no unit"},
		{"NaN", "m", "not a number"}, {"1e999", "m", ""}, {"--5", "m", "not a number"}, {"1:75", "min", ""},
	} {
		got, err := Number(c.text, c.unit)
		if c.says == "" { // blanks between thousands are read through
			continue
		}
		require.Error(t, err, "%q in %s gave %v", c.text, c.unit, got)
		require.ErrorContains(t, err, c.says, "%q in %s", c.text, c.unit)
	}
	require.Empty(t, Within(5, 0, 10, "m"))
	require.Equal(t, "3000 m is out of bounds: 0 to 2000 m", Within(3000, 0, 2000, "m"))
}

func FuzzNumber(f *testing.F) {
	f.Add("2 h 30 min", "min")
	f.Add("1,5", "m")
	f.Fuzz(func(t *testing.T, text, unit string) {
		v, err := Number(text, unit)
		if err == nil {
			require.False(t, v != v)
		}
	})
}

func TestNumbers(t *testing.T) {
	for text, want := range map[string][]float64{"12 15 11 14 13": {12, 15, 11, 14, 13}, "12, 15, 11": {12, 15, 11},
		"12,5; -3": {12.5, -3}, "12 ms 15 ms": {12, 15}, "0.012s 15ms": {12, 15}} {
		got, err := Numbers(text, "ms")
		require.NoError(t, err, text)
		require.InDeltaSlice(t, want, got, 1e-9, text)
	}
	for _, bad := range []string{"", " ", "12 x", "12 m"} {
		_, err := Numbers(bad, "ms")
		require.Error(t, err, bad)
	}
}
