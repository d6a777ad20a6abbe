// Package power answers: how long does a battery run this device? hubs, docks and the mains come with
// their own rules.
package power

// Usable share of a battery's rated energy [estimate]: 0.9 new, less with age and cold.
const (
	UsableNew  = 0.9
	UsableAged = 0.7
)

// WattHours of a battery from its rating: mAh × V ÷ 1000. A power bank's mAh are at its cells' 3.6 to 3.7 V.
func WattHours(mAh, volts float64) float64 { return mAh * volts / 1000 }

// RunMinutes is energy × usable share ÷ draw. A draw of nothing or less runs for ever: +Inf.
func RunMinutes(wattHours, usable, drawW float64) float64 {
	return wattHours * usable / drawW * 60
}
