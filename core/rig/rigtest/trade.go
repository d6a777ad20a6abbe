package rigtest

import (
	"eventether/core/fact"
	"eventether/core/gear"
)

// What exists in the trade [common practice, no source; figures from memory]: the ranges from which random rigs state
// facts. They are kept apart from the defaults on purpose: where a stated fact lies outside the bounds its absence is
// given, forgetting it settles what it did not, and the laws report the default as too narrow.
var trade = struct {
	draw                                                                                         map[gear.Kind]fact.Fact
	loss, roundTrip, allowance, second, longest                                                  fact.Fact
	laptop, desktop                                                                              fact.Fact
	circuitA, stripA, idle, hardware, sessions, usable, standby, heat, mjpeg, charges, free      fact.Fact
	write, inner, volts, uplink, awg, powerFactor, record, bank, bankShare, stripLimitW, limitVA fact.Fact
}{
	draw: map[gear.Kind]fact.Fact{gear.Capture: span(1, 8), gear.Webcam: span(0.8, 2.5), gear.Drive: span(2, 6),
		gear.Hub: span(0.3, 1.5), gear.AudioInterface: span(1.5, 4),
		gear.Microphone: span(0.3, 0.7), gear.Camera: span(2, 28), gear.Phone: span(1, 7),
		gear.Computer: span(15, 1100), gear.Monitor: span(10, 110), gear.Switcher: span(6, 55),
		gear.Dock: span(3, 20), gear.Console: span(55, 210), gear.Lamp: span(5, 200), gear.Mixer: span(8, 45),
		gear.Converter: span(1, 6), gear.Splitter: span(1, 6),
		gear.Player: span(5, 35), gear.Recorder: span(5, 30), gear.Card: span(5, 25),
		gear.WirelessSound: span(0.2, 0.7), gear.UPS: span(3, 30), gear.Supply: span(0, 5), gear.PowerBank: span(0, 1),
		gear.Strip: span(0, 1)},
	loss: span(0, 1.5), roundTrip: span(5, 190), allowance: span(0, 900), second: span(0.5, 80),
	longest: span(240, 2880),
	laptop:  span(22, 235), desktop: span(65, 1100),
	circuitA: span(10, 32), stripA: span(10, 16), idle: span(0.1, 0.25), hardware: span(250, 1500),
	sessions: span(2, 8), usable: span(0.7, 0.9), standby: span(1, 60), heat: span(10, 1440),
	mjpeg: span(1, 4), charges: span(0, 100), free: span(0, 4000), write: span(5, 500), inner: span(80, 500),
	volts: span(4.75, 5.25), uplink: span(400, 8000), awg: span(20, 30),
	powerFactor: span(0.5, 1), record: span(29, 1440), bank: span(2500, 30000), bankShare: span(0.35, 1),
	stripLimitW: span(100, 2000), limitVA: span(150, 3000),
}

// span is a range of the trade.
func span(low, high float64) fact.Fact { return fact.Est((low+high)/2, low, high) }

// drawOf is what things of a kind draw in the trade.
func drawOf(g *gear.Gear) fact.Fact {
	switch g.Class {
	case gear.Laptop, gear.SmallLaptop, gear.GoodLaptop:
		return trade.laptop
	case gear.DesktopClass, gear.MidDesktop, gear.LargeDesktop:
		return trade.desktop
	}
	if f, ok := trade.draw[g.Kind]; ok {
		return f
	}
	return span(0, 20)
}
