// Package pcie answers: how many megabytes a second does this slot carry?
package pcie

import (
	"fmt"
	"slices"
)

// laneMBps is what one lane carries after its coding, by generation, in MB/s [standard: PCI Express Base, line rates
// 2.5, 5, 8, 16 and 32 GT/s; 8b/10b for the first two, 128b/130b after].
var laneMBps = [...]float64{0, 2500 * 8 / 10 / 8, 5000 * 8 / 10 / 8, 8000.0 * 128 / 130 / 8, 16000.0 * 128 / 130 / 8,
	32000.0 * 128 / 130 / 8}

// MaxGeneration is the newest generation this package knows.
const MaxGeneration = len(laneMBps) - 1

// PacketShare is what packets leave of a lane for data, with the usual payload of 128 bytes [memory].
const PacketShare = 0.82

// Lanes lists the widths there are.
var Lanes = []int{1, 2, 4, 8, 16}

// Link is a slot or card: its generation and how many lanes are wired. A slot of x16 size may have 4 or 8 wired.
type Link struct {
	Generation int `json:"generation" minimum:"1" maximum:"5"`
	Lanes      int `json:"lanes" enum:"1,2,4,8,16" doc:"Wired, whatever the size of the slot"`
}

// Meet is the link two ends come to: the lower generation and the lower width.
func Meet(a, b Link) Link {
	return Link{min(a.Generation, b.Generation), min(a.Lanes, b.Lanes)}
}

// UsableMBps is what a link carries of data in MB/s; 0 for a link that is none.
func (l Link) UsableMBps() float64 {
	if l.Generation < 1 || l.Generation > MaxGeneration {
		return 0
	}
	return laneMBps[l.Generation] * float64(l.Lanes) * PacketShare
}

// CodedMBps is the same before packets.
func (l Link) CodedMBps() float64 { return l.UsableMBps() / PacketShare }

// Word is a link as edits write it: "3x4" is generation 3 on four lanes.
func (l Link) Word() string { return fmt.Sprintf("%dx%d", l.Generation, l.Lanes) }

// Parse reads a link as Word writes it.
func Parse(word string) (Link, error) {
	var l Link
	if n, err := fmt.Sscanf(word, "%dx%d", &l.Generation, &l.Lanes); err != nil || n != 2 || l.Word() != word ||
		l.Generation < 1 || l.Generation > MaxGeneration || !slices.Contains(Lanes, l.Lanes) {
		return Link{}, fmt.Errorf("%q is no way to wire a slot: want generation and lanes such as 3x4, generations 1 to %d and %v lanes",
			word, MaxGeneration, Lanes)
	}
	return l, nil
}
