// Package place answers: which device on which port in which format? It finds the best placing exactly, or proves that
// there is none.
package place

import (
	"fmt"

	"eventether/core/fact"
)

// Problem is a set of devices to put on ports.
type Problem struct {
	Devices   []Device
	Ports     []Port
	Resources []Resource
}

// Device is one thing with a plug. Now is the port it is on, -1 for none; Fixed keeps it there.
type Device struct {
	Name    string
	Plug    string // connector
	MW      float64
	Now     int
	Fixed   bool
	Formats []Format
}

// Format is one way a device can work: what it takes on the fast side of a bus and on the 480 Mb/s side, in MB/s, and
// how much of the picture it loses against what is wanted. A side it cannot work on is negative.
type Format struct {
	Name       string
	Fast, High float64
	Loss       int
	Either     bool    // nobody knows which side it works on: it takes room on both, and has to work on either
	Sends      float64 // MB/s on whichever side: what goes up a way both share
}

// Port is one socket: what plugs fit, which side of the bus its connection comes to, and the resources it shares, from
// the nearest up to its controller.
type Port struct {
	Name  string
	Plug  string
	High  bool    // only the 480 Mb/s side
	Open  bool    // of High: or the fast one, nobody knows; what is on it takes room on both
	MaxMW float64 // what it gives; 0 when it sets no limit of its own
	Uses  []int   // indices of resources
}

// Kind is what a resource counts.
type Kind int

// FastBus and HighBus count MB/s of their side, BothSides of either, Power milliwatts.
const (
	FastBus Kind = iota
	HighBus
	BothSides
	Power
)

// Resource is something ports share, with what it carries.
type Resource struct {
	Name string
	Kind Kind
	Cap  float64
}

// Placing is an answer: a port and a format for every device.
type Placing struct {
	Port   []int
	Format []int
	Loss   int     // of the picture, in all
	Ratio  float64 // of the worst-loaded bus
	Moves  int     // plugs that change their port
	Proven bool    // no better one exists
	// Even is the placing that loads the worst bus least, whatever plugs it takes, where that is another one.
	Even *Placing
}

// Ceiling is the share of a bus that still counts as slack.
const Ceiling = 0.8

// taut tells whether the worst bus is past what counts as slack.
func (a *Placing) taut() bool { return a.Ratio > Ceiling*(1+tolerance)+tolerance }

// Better tells whether a placing is to be preferred: more of the picture, then the better state of the worst bus, then
// fewer moves, then the lower worst bus. Nobody moves plugs to gain headroom that slack already is.
func (a *Placing) Better(b *Placing) bool {
	switch {
	case b == nil:
		return true
	case a.Loss != b.Loss:
		return a.Loss < b.Loss
	case a.taut() != b.taut():
		return b.taut()
	case a.Moves != b.Moves:
		return a.Moves < b.Moves
	}
	return a.Ratio < b.Ratio-tolerance
}

// tolerance is what two bus loads may differ by and still count as alike.
const tolerance = fact.Tolerance

// MostDevices is how many devices are searched exactly; more are not searched at all.
const MostDevices = 16

// Progress is told of while the search runs: which of its two sweeps it is in, how much of the sweep is done, the least
// any placing loses as far as is known, and the steps so far.
type Progress struct {
	Sweep int // 1 for the picture and the buses, 2 for the moves
	Done  float64
	Bound int
	Tried int64
}

// Effort is how many steps a suggestion may take: some seconds' worth.
const Effort = 6_000_000

// Options steer a search.
type Options struct {
	// Effort is how many steps the search may take, the same on every machine; no end when 0.
	Effort int64
	// Stop ends the search early when it returns true; what was found is then not proven. It is asked now and then.
	Stop func() bool
	// Report is told of progress now and then.
	Report func(Progress)
}

// Check tells what is wrong with a placing, or nil: a plug that does not fit, a socket taken twice, a resource past
// what it carries. It shares no code with the search.
func (p *Problem) Check(a *Placing) error {
	taken := map[int]int{}
	load := make([]float64, len(p.Resources))
	for d := range p.Devices {
		port := &p.Ports[a.Port[d]]
		f := &p.Devices[d].Formats[a.Format[d]]
		if port.Plug != p.Devices[d].Plug {
			return fmt.Errorf("%s does not fit %s", p.Devices[d].Name, port.Name)
		}
		if other, twice := taken[a.Port[d]]; twice {
			return fmt.Errorf("%s and %s are both on %s", p.Devices[other].Name, p.Devices[d].Name, port.Name)
		}
		taken[a.Port[d]] = d
		if port.MaxMW > 0 && fact.Over(p.Devices[d].MW, port.MaxMW) {
			return fmt.Errorf("%s draws %.0f mW and %s gives %.0f", p.Devices[d].Name, p.Devices[d].MW, port.Name,
				port.MaxMW)
		}
		onHigh := port.High || f.Fast < 0 || f.Either
		onFast := f.Fast >= 0 && (!port.High || port.Open)
		if onHigh && f.High < 0 || !onHigh && !onFast {
			return fmt.Errorf("%s cannot work in %s on %s", p.Devices[d].Name, f.Name, port.Name)
		}
		for _, i := range port.Uses {
			switch k := p.Resources[i].Kind; {
			case k == FastBus && onFast:
				load[i] += f.Fast
			case k == HighBus && onHigh:
				load[i] += f.High
			case k == BothSides:
				load[i] += f.Sends
			case k == Power:
				load[i] += p.Devices[d].MW
			}
		}
	}
	for i, r := range p.Resources {
		if fact.Over(load[i], r.Cap) {
			return fmt.Errorf("%s carries %.1f, and %.1f is put on it", r.Name, r.Cap, load[i])
		}
	}
	return nil
}
