package typed

import (
	"math"
	"regexp"
	"strings"
)

// MostMoney is the largest amount that is read.
const MostMoney = 999_999_999.99

var (
	paid      = regexp.MustCompile(`^(?:([A-Za-z]{3}|€)\s*)?(\d[\d.,'\x{00a0}\x{202f} ]*?)\s*([A-Za-z]{3}|€)?$`)
	thousands = regexp.MustCompile(`^(\d{1,3})[.,](\d{3})$`)
)

// Money reads an amount typed with or without its currency, before or behind it ("800", "12,50 eur", "EUR 1.250"): in
// hundredths, with the currency in three letters, the given one where none was typed. Three digits behind a lone comma
// or point are thousands, since no amount has three decimals. The error says in words what is wrong with it.
func Money(text, in string) (hundredths int64, currency string, err error) {
	text = strings.TrimSpace(text)
	m := paid.FindStringSubmatch(text)
	if m == nil || m[1] != "" && m[3] != "" {
		return 0, "", wrong("“%s” is no amount: want one such as 120.00 EUR", text)
	}
	currency = strings.ToUpper(m[1] + m[3])
	switch currency {
	case "":
		currency = in
	case "€":
		currency = "EUR"
	}
	figure := thousands.ReplaceAllString(strings.TrimSpace(m[2]), "$1$2")
	v, err := plain(figure)
	if err != nil {
		return 0, "", wrong("“%s” is no amount: want one such as 120.00 EUR", text)
	}
	cents := math.Round(v * 100)
	switch {
	case v > MostMoney:
		return 0, "", wrong("“%s” is more than 999999999.99", text)
	case math.Abs(v*100-cents) > 1e-4:
		return 0, "", wrong("“%s” has more than two decimals", text)
	}
	return int64(cents), currency, nil
}
