package typed

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMoney(t *testing.T) {
	for text, want := range map[string]struct {
		hundredths int64
		currency   string
	}{
		"800": {80000, "EUR"}, "800 EUR": {80000, "EUR"}, "12,50 sek": {1250, "SEK"}, "EUR 1.250": {125000, "EUR"},
		"1,250": {125000, "EUR"}, "1.250,75": {125075, "EUR"},
		"1,250.75 USD": {125075, "USD"}, "€ 9.9": {990, "EUR"}, "12€": {1200, "EUR"}, "0": {0, "EUR"},
		" 1 250 ": {125000, "EUR"}, "999999999.99": {99999999999, "EUR"},
	} {
		h, c, err := Money(text, "EUR")
		require.NoError(t, err, text)
		require.Equal(t, want.hundredths, h, text)
		require.Equal(t, want.currency, c, text)
	}
	for text, says := range map[string]string{
		"": "no amount", "dear": "no amount", "-5": "no amount", "5 kr": "no amount", "EUR 5 EUR": "no amount",
		"12.505": "", "12.5055": "more than two decimals", "1e9": "no amount", "1000000000": "is more than",
	} {
		h, _, err := Money(text, "EUR")
		if says == "" {
			require.EqualValues(t, 1250500, h, "three digits behind a point are thousands")
			continue
		}
		require.ErrorContains(t, err, says, text)
	}
}
