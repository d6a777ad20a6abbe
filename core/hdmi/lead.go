package hdmi

// Grade is the speed class printed on an HDMI lead.
type Grade string

// The lead grades. Unknown is a lead without a mark; Active and Optical are
// directional.
const (
	Unknown    Grade = "unknown"
	StandardHD Grade = "standard"
	HighSpeed  Grade = "high-speed"
	Premium    Grade = "premium"
	UltraHigh  Grade = "ultra"
	Active     Grade = "active"
	Optical    Grade = "optical"
)

// Grades lists every HDMI lead grade in rising order, then the special ones.
var Grades = []Grade{StandardHD, HighSpeed, Premium, UltraHigh, Active, Optical, Unknown}

// Character rates in MHz a link or lead is made for [memory: HDMI 1.0 to 2.1; the documents could not be opened here].
const (
	MHz12 = 165.0 // HDMI 1.0 to 1.2
	MHz14 = 340.0 // HDMI 1.3 and 1.4
	MHz20 = 600.0 // HDMI 2.0
)

// Directional tells whether a lead has a source end and a sink end.
func (g Grade) Directional() bool { return g == Active || g == Optical }

// FixedRateGbps is the payload of a fixed-rate link a lead is certified for, sure and possible, in Gb/s: only an ultra
// lead is made for one, an active or optical one may be [memory: HDMI 2.1].
func (g Grade) FixedRateGbps() (sure, possible float64) {
	switch g {
	case UltraHigh:
		return FRL4x12.PayloadGbps(), FRL4x12.PayloadGbps()
	case Active, Optical, Unknown:
		return 0, FRL4x12.PayloadGbps()
	}
	return 0, 0
}

// GradeMHz is the character rate a lead grade is certified for [memory: HDMI]. An ultra lead carries every TMDS rate.
// A lead without a mark is surely good for the lowest grade and possibly for the highest.
func GradeMHz(g Grade) (sure, possible float64) {
	switch g {
	case StandardHD:
		return 74.25, 74.25
	case HighSpeed:
		return MHz14, MHz14
	case Premium, UltraHigh, Active, Optical:
		return MHz20, MHz20
	}
	return 74.25, MHz20
}

// Reach is how far a lead of a grade carries a character rate, in metres, surely and possibly [practice, estimate:
// ]. Passive leads with a mini or micro end are often thin: half the reach, unless the lead is known to be
// full thickness. A lead without a mark may be an active or optical one, once it is longer than passive ones are sold.
func Reach(g Grade, mhz float64, thin Thickness) (sure, possible float64) {
	switch g {
	case Active:
		switch {
		case mhz <= MHz14:
			return 10, 20
		case mhz <= MHz20:
			return 8, 15
		}
		return 3, 10 // fixed-rate links over active copper [estimate, ours]
	case Optical:
		return 30, 100
	}
	switch {
	case mhz <= 148.5:
		sure, possible = 10, 15
	case mhz <= MHz14:
		sure, possible = 5, 10
	case mhz <= MHz20:
		sure, possible = 3, 5
	default:
		sure, possible = 2, 3
	}
	switch thin {
	case Thin:
		sure, possible = sure/2, possible/2
	case MaybeThin:
		sure = sure / 2
	}
	if g == Unknown {
		possible = 100
	}
	return sure, possible
}

// PassiveMetres is the longest lead that is taken for a passive one when it carries no mark, in metres [practice].
const PassiveMetres = 5.0

// Thickness says whether a lead is one of the thin ones made for small sockets.
type Thickness int

// Thick is an ordinary lead, Thin a thin one, MaybeThin has a small plug and nothing said.
const (
	Thick Thickness = iota
	Thin
	MaybeThin
)
