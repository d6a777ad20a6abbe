package gear

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Money is an exact decimal amount in one currency.
type Money struct {
	Amount   Amount `json:"amount"`
	Currency string `json:"currency" pattern:"^[A-Z]{3}$" doc:"Three letters, EUR"`
}

// Amount is money in hundredths, written "150.00".
type Amount int64

var amountText = regexp.MustCompile(`^\d{1,9}(\.\d{1,2})?$`)

// MarshalText writes two decimals.
func (a Amount) MarshalText() ([]byte, error) { return []byte(a.String()), nil }

// String writes two decimals.
func (a Amount) String() string { return fmt.Sprintf("%d.%02d", int64(a)/100, int64(a)%100) }

// UnmarshalText reads "150", "150.5" and "150.00".
func (a *Amount) UnmarshalText(text []byte) error {
	if !amountText.Match(text) {
		return fmt.Errorf("amount %q: want digits with at most two decimals, such as \"150.00\"", text)
	}
	whole, cents, _ := strings.Cut(string(text), ".")
	n, err := strconv.ParseInt(whole+(cents + "00")[:2], 10, 64)
	*a = Amount(n)
	return err
}

// String is what people read: 12 EUR, 12.50 EUR.
func (m Money) String() string {
	return strings.TrimSuffix(m.Amount.String(), ".00") + " " + m.Currency
}
