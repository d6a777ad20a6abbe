package advise

import (
	"math"

	"eventether/core/gear"
	"eventether/core/hdmi"
	"eventether/core/rig"
	"eventether/core/sdi"
)

// What moves buy, in cents of the budget's currency [estimate: what such a thing costs in shops; nobody is held to it].
// What stands in a sheet of general gear (core/gear) has its price there.
const (
	priceDummy      = gear.Amount(2500) // a dummy battery, from a maker one can name
	pricePoweredHub = gear.Amount(3500)
	priceSpare      = gear.Amount(4000) // one battery of a camera
	priceBank       = gear.Amount(4000) // 20,000 mAh
	priceSupply     = gear.Amount(3000) // USB, 15 W
	priceAdapter    = gear.Amount(800)  // from A to C
	priceUPS        = gear.Amount(25000)
	priceUSBLead    = gear.Amount(1000) // a metre
	priceLead       = gear.Amount(2000) // a picture lead of some metres
	priceShortLead  = gear.Amount(1300) // one of half a metre
	priceCoax       = gear.Amount(800)  // its ends, and so much a metre
	priceCoaxMetre  = gear.Amount(120)
)

// leadPrice is what a lead costs: its ends and so much a metre, in whole units of the currency [estimate].
type leadPrice struct{ ends, metre float64 }

// leadPrices are those of leads bought as another of their kind; the rest costs as usualLead.
var leadPrices = map[string]leadPrice{
	string(hdmi.HighSpeed): {8, 2},
	string(hdmi.Premium):   {12, 2.5},
	string(hdmi.UltraHigh): {12, 2.5},
	string(hdmi.Active):    {30, 2},
	string(hdmi.Optical):   {50, 2},
	string(sdi.RG6):        {8, 1.2},
	string(sdi.Optical):    {180, 1},
}

var (
	priceUSBData   = leadPrice{8, 2}    // USB of any speed
	pricePlainLead = leadPrice{10, 2.5} // as it is, in one piece
)

// priceOfLead is what a lead of a grade costs.
func priceOfLead(f gear.Family, grade string) leadPrice {
	if f == gear.USBFamily {
		return priceUSBData
	}
	return leadPrices[grade]
}

// of is what so many metres cost.
func (p leadPrice) of(metres float64) gear.Amount {
	return gear.Amount(math.Round((p.ends + p.metre*metres) * 100))
}

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
