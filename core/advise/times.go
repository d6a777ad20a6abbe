package advise

import (
	"math"

	"eventether/core/gear"
	"eventether/core/rig"
)

// Minutes of moves by kind of work [estimate: handbook 7.6]; a user's own history replaces them once there is one.
const (
	minutesPlug    = 1
	minutesCard    = 15 // switched off, opened, moved, closed, started again
	minutesMode    = 2
	minutesDeliver = 1
	minutesDesk    = 1 // a lead on a desk
	minutesRoom    = 4 // a lead across a room
	minutesTape    = 2 // more for each five metres that are taped down
	minutesSDI     = 3
	minutesSetting = 1
	minutesPower   = 3
	minutesSend    = 1
	MinutesSwap    = 5
	minutesTurn    = 2
	minutesShow    = 1
	minutesSpare   = 4

	onDesk = 3.0 // metres a lead on a desk has at most
	step   = 5.0 // metres taped in minutesTape
)

// quickest is the least any move takes, in minutes.
const quickest = 1

// layMinutes is what laying another lead over a run of so many metres takes.
func layMinutes(family gear.Family, metres float64) float64 {
	switch {
	case metres <= onDesk && family == gear.SDIFamily:
		return minutesSDI
	case metres <= onDesk:
		return minutesDesk
	}
	return minutesRoom + minutesTape*math.Ceil(max(0, metres-step)/step)
}

// Prices of moves [estimate].
const (
	priceDummy      = gear.Amount(2500)
	pricePoweredHub = gear.Amount(3500)
	priceSpare      = gear.Amount(4000)
	priceAdapter    = gear.Amount(800)
	priceUPS        = gear.Amount(25000)
	priceUSBLead    = gear.Amount(1000)
)

// A larger UPS, as they are sold [practice].
const (
	largeUPSWatts = 1000
	largeUPSVA    = 1500
)

// Price is an amount in the currency of a show's budget.
func Price(r *rig.Rig, a gear.Amount) *gear.Money {
	currency := "EUR"
	if b := r.Show.Budget; b != nil {
		currency = b.Currency
	}
	return &gear.Money{Amount: a, Currency: currency}
}
