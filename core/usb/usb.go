// Package usb answers: how fast is this USB connection, and how many picture bytes a second may it carry?
// All figures are decimal megabytes a second.
package usb

import "fmt"

// Speed is the line rate of a USB connection.
type Speed string

// The speeds, in rising order. UnknownSpeed is a port whose speed nobody has read yet.
const (
	HighSpeed    Speed = "480M"
	Gen1         Speed = "5G"
	Gen1x2       Speed = "10Gx2" // two lanes of 5
	Gen2         Speed = "10G"
	Gen2x2       Speed = "20G"
	Tunnel       Speed = "40G" // the USB 3 path through USB4 or Thunderbolt: at most 10 Gb/s
	UnknownSpeed Speed = "unknown"
)

// Speeds lists the known speeds in rising order of what they carry.
var Speeds = []Speed{HighSpeed, Gen1, Gen1x2, Gen2, Gen2x2, Tunnel}

// rank orders by payload; a tunnel's USB path is judged as 10 Gb/s.
var rank = map[Speed]int{HighSpeed: 1, Gen1: 2, Gen1x2: 3, Gen2: 4, Tunnel: 4, Gen2x2: 5}

// Slower is the lower of two known speeds.
func Slower(a, b Speed) Speed {
	if rank[b] < rank[a] {
		return b
	}
	return a
}

// AtLeast tells whether a is as fast as b.
func AtLeast(a, b Speed) bool { return rank[a] >= rank[b] }

// Transfer is how a device's stream uses the bus: isochronous reserves when it opens, bulk shares what is left.
type Transfer string

// Bulk and Isochronous are the two transfer types of video streams; UnknownTransfer has to be asked or read.
const (
	Bulk            Transfer = "bulk"
	Isochronous     Transfer = "isochronous"
	UnknownTransfer Transfer = "unknown"
)

// High-speed figures [standard: USB 2.0, chapter 5].
const (
	MicroframesPerSecond = 8000
	IsoTransaction       = 1024 // bytes in one high-bandwidth isochronous transaction (5.6.3)
	IsoPerMicroframe     = 3    // transactions of one endpoint in a microframe (5.9.2)
	BulkPerMicroframe    = 13   // 512-byte bulk transactions in a microframe (Table 5-10)
	// IsoSure and IsoPossible: maximal transactions of all endpoints that fit the 80 % of a microframe, by the
	// bus-time formula of 5.11.3 and by Table 5-5 (controllers differ in which sum they use).
	IsoSure     = 4
	IsoPossible = 5
	// Payload header of a webcam-class payload in bytes, one a microframe [standard: USB Device Class Definition for
	// Video Devices, 2.4.3.3].
	UVCHeaderLeast = 2
	UVCHeaderMost  = 12
)

const mega = 1e6

// EndpointMBps is the most one stream may send on a connection of the given speed, sure and possible.
func EndpointMBps(s Speed, t Transfer) (sure, possible float64) {
	bulk := bulkMBps(s)
	isoSure, isoPossible := isoEndpointMBps(s)
	switch t {
	case Bulk:
		return bulk, bulk
	case Isochronous:
		return isoSure, isoPossible
	}
	return min(bulk, isoSure), max(bulk, isoPossible)
}

// BusMBps is the most all streams together may take on one shared connection, sure and possible. iso says whether any
// of them reserves; maybeIso whether one might.
func BusMBps(s Speed, iso, maybeIso bool) (sure, possible float64) {
	if s == HighSpeed {
		bulk := bulkMBps(s)
		isoSure := IsoSure * IsoTransaction * MicroframesPerSecond / mega
		isoPossible := IsoPossible * IsoTransaction * MicroframesPerSecond / mega
		switch {
		case iso:
			return isoSure, isoPossible
		case maybeIso:
			return isoSure, bulk
		}
		return bulk, bulk
	}
	// Periodic transfers may take 90 % of a SuperSpeed bus [memory: USB 3.2]: 450 of 500 MB/s.
	if s == Gen1 && iso {
		return 450, 450
	}
	if s == Gen1 && maybeIso {
		return 450, bulkMBps(s)
	}
	return bulkMBps(s), bulkMBps(s)
}

// ReservationMBps bounds what an isochronous stream of need MB/s takes out of a high-speed bus: at least its packets,
// at most the largest alternate setting, which many devices claim whatever they send.
func ReservationMBps(needLow float64) (low, high float64) {
	largest := float64(IsoPerMicroframe*IsoTransaction*MicroframesPerSecond) / mega
	return min(needLow, largest), largest
}

// TunnelMBps is what the PCI Express part of a 40 Gb/s tunnel carries, shared by all ports of a dock with a controller
// of its own: 22 Gb/s [practice].
const TunnelMBps = 2750.0

func bulkMBps(s Speed) float64 {
	switch s {
	case HighSpeed: // Table 5-10: 13 × 512 bytes × 8000
		return BulkPerMicroframe * 512 * MicroframesPerSecond / mega
	case Gen1: // [memory: practice of good controllers; after coding it is 500]
		return 470
	case Gen1x2: // [memory]
		return 940
	case Gen2, Tunnel: // [memory]
		return 1100
	case Gen2x2: // [memory]
		return 2200
	}
	return 0
}

// isoEndpointMBps is the picture one isochronous endpoint carries, sure and possible: on a high-speed bus three
// transactions a microframe less the one class header of the payload they carry together; at 5 Gb/s 48 packets of 1024
// bytes per 125 µs, at 10 Gb/s twice as many [standard: USB 3.2; the second from memory].
func isoEndpointMBps(s Speed) (sure, possible float64) {
	switch s {
	case HighSpeed:
		return (IsoPerMicroframe*IsoTransaction - UVCHeaderMost) * MicroframesPerSecond / mega,
			(IsoPerMicroframe*IsoTransaction - UVCHeaderLeast) * MicroframesPerSecond / mega
	case Gen2, Gen2x2, Tunnel:
		return 96 * 1024 * MicroframesPerSecond / mega, 96 * 1024 * MicroframesPerSecond / mega
	}
	return 48 * 1024 * MicroframesPerSecond / mega, 48 * 1024 * MicroframesPerSecond / mega
}

// Grade is what a USB lead is made for.
type Grade string

// The USB lead grades.
const (
	ChargeOnly   Grade = "usb-charge"
	USB2Lead     Grade = "usb-2"
	Lead5G       Grade = "usb-5g"
	Lead10G      Grade = "usb-10g"
	Lead20G      Grade = "usb-20g"
	Lead40G      Grade = "usb-40g"
	UnknownGrade Grade = "usb-unknown"
)

// Grades lists every USB lead grade.
var Grades = []Grade{ChargeOnly, USB2Lead, Lead5G, Lead10G, Lead20G, Lead40G, UnknownGrade}

// GradeSpeed is the fastest connection through a lead, sure and possible. A charge-only lead carries nothing: "".
func GradeSpeed(g Grade) (sure, possible Speed, err error) {
	switch g {
	case ChargeOnly:
		return "", "", nil
	case USB2Lead:
		return HighSpeed, HighSpeed, nil
	case Lead5G:
		return Gen1, Gen1, nil
	case Lead10G:
		return Gen2, Gen2, nil
	case Lead20G:
		return Gen2x2, Gen2x2, nil
	case Lead40G:
		return Gen2x2, Gen2x2, nil
	case UnknownGrade:
		return HighSpeed, Gen2, nil
	}
	return "", "", fmt.Errorf("USB lead grade %q is not one of %v", g, Grades)
}

// Reach is how long a passive USB lead may be at a speed, in metres, sure and possible. 480 Mb/s: 5 m from the 26 ns
// cable delay of [standard: USB 2.0, 7.1.16], 4 m with Type-C ends; the faster ones are [practice].
func Reach(s Speed, typeC bool) (sure, possible float64) {
	switch s {
	case HighSpeed:
		if typeC {
			return 4, 5
		}
		return 5, 5
	case Gen1, Gen1x2:
		if typeC {
			return 2, 3
		}
		return 3, 3
	case Tunnel:
		return 0.8, 1
	}
	return 1, 2
}
