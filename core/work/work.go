// Package work answers: how long does a piece of work take? One table by kind of work; a user's own times stand before
// it.
package work

import (
	"math"
	"slices"

	"eventether/core/lang"
)

// Kind is a kind of work.
type Kind string

// The kinds of work of a set-up, and of changes to one.
const (
	Mount     Kind = "mount"      // a camera mounted and framed
	Setting   Kind = "setting"    // one setting of a camera
	Desk      Kind = "desk"       // an HDMI or USB lead on a desk
	Room      Kind = "room"       // a lead across a room
	Tape      Kind = "tape"       // five metres more of it taped down
	SDI       Kind = "sdi"        // an SDI lead
	Plug      Kind = "plug"       // a plug moved, or put in
	Card      Kind = "card"       // a card in or out, computer off
	First     Kind = "first"      // a new device's first connection: driver, permission
	Source    Kind = "source"     // a source chosen and sized in the program
	Mic       Kind = "microphone" // a microphone placed and levelled
	Sheet     Kind = "sheet"      // an encoder sheet entered the first time
	SheetSeen Kind = "sheet-seen" // an encoder sheet looked through
	TestFile  Kind = "test-file"  // a test recording of two minutes, and looking at it
	Clap      Kind = "clap"       // a clap test
	Ready     Kind = "ready"      // a destination made ready
	Rehearsal Kind = "rehearsal"  // a private rehearsal
	Labels    Kind = "labels"     // labels printed and stuck on
	Reading   Kind = "reading"    // a reading of the uplink
	Carry     Kind = "carry"      // carrying in and unpacking
	Look      Kind = "look"       // a fact looked up, or something looked at

	Mode    Kind = "mode"    // another picture set on a camera
	Deliver Kind = "deliver" // another picture taken from a device
	Power   Kind = "power"   // a camera on another supply
	Send    Kind = "send"    // a value of the encoder sheet changed
	Swap    Kind = "swap"    // a thing changed for another
	Turn    Kind = "turn"    // a directional lead turned round
	Show    Kind = "show"    // a wish of the show changed
	Spare   Kind = "spare"   // a battery changed
)

// Takes is how long a kind of work takes until somebody's own history says otherwise.
type Takes struct {
	Kind    Kind
	Name    string  // as one says it
	Minutes float64 // [estimate]
}

// table is what such work takes as a rule [practice]; from Mode on it is ours, of the same size [estimate].
var table = []Takes{
	{Mount, "a camera mounted and framed", 6}, {Setting, "one camera setting", 0.5}, {Desk, "a lead on a desk", 1},
	{Room, "a lead across a room", 4}, {Tape, "five metres of lead taped down", 2}, {SDI, "an SDI lead", 3},
	{Plug, "a plug", 1},
	{Card, "a card in or out", 15}, {First, "the first connection of a new device", 5},
	{Source, "a source chosen and sized in the program", 2},
	{Mic, "a microphone placed and levelled", 5}, {Sheet, "an encoder sheet entered", 10},
	{SheetSeen, "an encoder sheet checked", 2},
	{TestFile, "a test recording and a look at it", 6}, {Clap, "a clap test", 4}, {Ready, "a destination made ready",
		6},
	{Rehearsal, "a private rehearsal", 10}, {Labels, "labels printed and stuck on", 5},
	{Reading, "a reading of the uplink", 3}, {Look, "something looked up", 3}, {Carry, "carrying in and unpacking", 15},
	{Mode, "another picture set on a camera", 2}, {Deliver, "another picture taken from a device", 1},
	{Power, "a camera on another supply", 3},
	{Send, "a value of the encoder sheet changed", 1}, {Swap, "a thing changed for another", 5},
	{Turn, "a lead turned round", 2},
	{Show, "a wish of the show changed", 1}, {Spare, "a battery changed", 4},
}

// All lists every kind with its name and its estimate.
func All() []Takes { return slices.Clone(table) }

// Name is a kind of work as one says it; the kind itself where it is none of these.
func Name(kind string) string {
	for i := range table {
		if string(table[i].Kind) == kind {
			return lang.Text(table[i].Name)
		}
	}
	return kind
}

// Known tells whether there is such a kind.
func Known(kind string) bool {
	return slices.ContainsFunc(table, func(t Takes) bool { return string(t.Kind) == kind })
}

// Times are somebody's own times in minutes, by kind.
type Times map[string]float64

// Minutes is how long a kind of work takes, and whether that is somebody's own time.
func (own Times) Minutes(k Kind) (minutes float64, theirs bool) {
	if m, ok := own[string(k)]; ok {
		return m, true
	}
	for i := range table {
		if table[i].Kind == k {
			return table[i].Minutes, false
		}
	}
	return 0, false
}

// Of is how long a kind of work takes, in minutes.
func (own Times) Of(k Kind) float64 {
	m, _ := own.Minutes(k)
	return m
}

// OnDesk is how many metres a lead on a desk has at most; a longer one goes across the room.
const OnDesk = 3.0

// Walk is whether a lead lies where people walk.
type Walk string

// OverWalk and OffWalk are said; of others nobody has said it.
const (
	OverWalk Walk = "yes"
	OffWalk  Walk = "no"
)

// taped is how many metres are taped down in one piece of work.
const taped = 5.0

// Lay is the kind of work of laying a lead of so many metres, and how long it takes: more for each started five metres
// that are taped down, along all of it where it lies over a walk and not at all where it does not. While nobody has
// said, from five metres on what is longer than that counts, which is between the two; Bounds has both.
func (own Times) Lay(sdi bool, metres float64, walk Walk) (k Kind, minutes float64) {
	switch {
	case sdi && metres <= OnDesk:
		return SDI, own.Of(SDI)
	case metres <= OnDesk:
		return Desk, own.Of(Desk)
	}
	pieces := math.Ceil(max(0, metres-taped) / taped)
	switch walk {
	case OverWalk:
		pieces = math.Ceil(metres / taped)
	case OffWalk:
		pieces = 0
	}
	return Room, own.Of(Room) + own.Of(Tape)*pieces
}

// Bounds are the least and the most laying a lead may take: without and with a walk where nobody has said, from five
// metres on.
func (own Times) Bounds(sdi bool, metres float64, walk Walk) (low, high float64) {
	if walk != "" || metres < taped {
		_, m := own.Lay(sdi, metres, walk)
		return m, m
	}
	_, low = own.Lay(sdi, metres, OffWalk)
	_, high = own.Lay(sdi, metres, OverWalk)
	return low, high
}
