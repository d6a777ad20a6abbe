package power

import "math"

// BankConverter is what a power bank's converter leaves of its cells' energy [estimate].
const BankConverter = 0.85

// Converter is what is left when a 12 V supply is turned into 5 V [estimate].
const Converter = 0.9

// Currents a USB port allows at 5 V, in mA [standard: USB 2.0, 7.2.1; USB 3.2, 11.4.1; two lanes from memory],
// and the volts at port and device.
const (
	PortUSB2    = 500
	UnitUSB2    = 100.0 // one unit load: what a hub without a supply gives each port by the letter
	UnitUSB3    = 150.0
	PortUSB3    = 900
	PortUSB3x2  = 1500
	TypeC3A     = 3000
	VBus        = 5.0
	LowUSB2     = 4.75 // a high-power port of USB 2.0 gives at least this [standard: USB 2.0, 7.2.2]
	LowUSB3     = 4.45 // [memory]
	DeviceUSB2  = 4.40 // a USB 2 device works down to this [memory]
	DeviceUSB3  = 4.00 // [memory]
	ContactOhms = 0.12 // contacts of both plugs in the loop, at most [estimate]
)

// Resistivity of annealed copper at 20 °C in nΩ·m [standard: ASTM B258 sizes, IACS copper].
const Resistivity = 17.24

// MilliohmPerMetre of a copper wire by its gauge: the diameter is 0.127 mm × 92^((36 − AWG)/39) [standard: ASTM B258].
func MilliohmPerMetre(awg float64) float64 {
	d := 0.127e-3 * math.Pow(92, (36-awg)/39)
	return Resistivity * 1e-9 / (math.Pi / 4 * d * d) * 1000
}
