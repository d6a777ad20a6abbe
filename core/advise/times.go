package advise

import (
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/work"
)

// takes is how long a kind of work takes here: by the user's own times where there are such.
func (u *universe) takes(k work.Kind) float64 { return u.WorkMinutes.Of(k) }

// takesSetting is one setting, with walking up to the camera.
func (u *universe) takesSetting() float64 { return 2 * u.takes(work.Setting) }

// lay is what laying another lead over a run of so many metres takes.
func (u *universe) lay(family gear.Family, metres float64) float64 {
	_, m := u.WorkMinutes.Lay(family == gear.SDIFamily, metres, "")
	return m
}

// quickest is the least any move takes, in minutes.
func quickest(own work.Times) float64 {
	least := 2 * own.Of(work.Setting)
	for _, k := range []work.Kind{work.Plug, work.Card, work.Mode, work.Deliver, work.Desk, work.Room, work.SDI, work.Power, work.Send, work.Swap, work.Turn, work.Show, work.Spare} {
		least = min(least, own.Of(k))
	}
	return least
}

// Prices of moves [estimate].
const (
	priceDummy      = gear.Amount(2500)
	pricePoweredHub = gear.Amount(3500)
	priceSpare      = gear.Amount(4000)
	priceBank       = gear.Amount(4000)
	priceSupply     = gear.Amount(3000)
	priceAdapter    = gear.Amount(800)
	priceUPS        = gear.Amount(25000)
	priceUSBLead    = gear.Amount(1000)
)

// A larger UPS, as they are sold [practice].
const (
	largeUPSWatts = 1000
	largeUPSVA    = 1500
)

// Dummy is about what a dummy battery costs, in the currency of a show's budget.
func Dummy(r *rig.Rig) *gear.Money { return Price(r, priceDummy) }

// Price is an amount in the currency of a show's budget.
func Price(r *rig.Rig, a gear.Amount) *gear.Money {
	currency := "EUR"
	if b := r.Show.Budget; b != nil {
		currency = b.Currency
	}
	return &gear.Money{Amount: a, Currency: currency}
}
