// Package plans answers: what does a rig come to before anything of it is judged?
//
// Which ways pictures take and as what, which bytes devices hand on, what is coded and by what, what is sent, kept and
// heard, what sockets share: the figures that rules, placing, sheets and ladders read. Nothing here knows whether it is
// too much.
package plans

import (
	"slices"

	"eventether/core/gear"
	"eventether/core/limit"
	"eventether/core/memory"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/word"
)

// Stage is one of the seven places a tether passes, from lens to audience.
type Stage uint16

// The stages of the board, in order.
const (
	Camera Stage = 1 + iota
	Socket
	Lead
	Capture
	Port
	Picture
	Send
)

var stageWords = []string{"camera", "socket", "lead", "capture", "port", "picture", "send"}

func (s Stage) String() string { return word.Of(stageWords, s) }

// MarshalText gives the word.
func (s Stage) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// UnmarshalText reads the word.
func (s *Stage) UnmarshalText(text []byte) error { return word.Read(s, stageWords, "stage", text) }

// Stages lists the stages in order.
var Stages = []Stage{Camera, Socket, Lead, Capture, Port, Picture, Send}

// Feed is the way of one picture from its source, hop by hop.
type Feed struct {
	ID     string
	Source *rig.Item
	Branch bool      // it goes elsewhere than to the computer, beside the way that counts
	End    *rig.Item // of a branch: what it ends at
	Hops   []Hop
	// Mode is the picture on the last picture link, Bytes what arrived of it; none when it does not get there.
	Mode  *picture.Mode
	Bytes *Stream
	// Light is the rate at which lamps on the mains are filmed; zero where nothing is.
	Light picture.Rate
}

// Hop is one stretch of a feed on the board.
type Hop struct {
	Stage   Stage
	Fixed   bool   // the picture goes over a fixed-rate link
	Several bool   // one of several inputs of its item
	Own     bool   // a source that is its own capture device
	Kind    string // item, port, lead or rig
	Ref     string // what it is: an item id, a lead id or item.port
	Joins   string // feeds with the same mark run together here
	Results []int  // places in Pass.Results of what is judged here

	Item  *rig.Item // what it is of: of the programme the source; none for a lead
	Port  *gear.Port
	Lead  *rig.Lead     // what it is, or the lead whose plug is in this socket
	Mode  *picture.Mode // the picture on it
	Bytes *Stream       // what is handed on from here
	Here  *Hop          // another that ends in its socket
}

// Plan is what a rig comes to before anything is judged: which ways its pictures take, what is delivered, coded and
// shared.
type Plan struct {
	*rig.Rig
	Wiring  *rig.Wiring
	Ways    []rig.Feed
	Feeds   []Feed
	Streams []*Stream
	// Codings are what the computer codes, and by what: the best it carries where nobody has chosen.
	Codings []Coding
	Mem     Memory

	Ceiling    float64
	programmed picture.Mode
	marks      []bool
	passed     idSet
	Computed   []*Stream // what gets to the computer, in the order of their sockets
}

// Memory is where a plan's lists come from.
type Memory struct {
	Facts   memory.Slab[limit.Fact]
	Loads   memory.Slab[limit.Load]
	Terms   memory.Slab[limit.Term]
	Ints    memory.Slab[int]
	Modes   memory.Slab[picture.Mode]
	IDs     memory.Slab[string]
	streams memory.Slab[Stream]
	offers  memory.Slab[Delivery]
}

// Of is a plan of a rig before anything has walked it: what is sent, by itself, and what it is called.
func Of(r *rig.Rig, w *rig.Wiring) *Plan {
	p := new(Plan)
	p.Reset(r, w)
	return p
}

// Reset readies a used plan for another rig, keeping its memory.
func (p *Plan) Reset(r *rig.Rig, w *rig.Wiring) {
	m := &p.Mem
	*p = Plan{Rig: r, Wiring: w, Ceiling: r.PlanningCeiling(), Feeds: p.Feeds[:0], Streams: p.Streams[:0],
		Codings: p.Codings[:0],
		Mem: Memory{m.Facts[:0], m.Loads[:0], m.Terms[:0], m.Ints[:0], m.Modes[:0], m.IDs[:0], m.streams[:0],
			m.offers[:0]},
		marks: p.marks, passed: p.passed, Computed: p.Computed[:0]}
	p.programmed = picture.Mode{Width: r.Show.Programme.Width, Height: r.Show.Programme.Height,
		Rate: r.Show.Programme.Rate}
}

// Stream is a new stream; the pointer is good as long as the pass.
func (p *Plan) Stream() *Stream {
	s := append(p.Mem.streams.Room(1), Stream{})
	return &s[0]
}

// RoomFor is a limit with room for so many facts and loads.
func (p *Plan) RoomFor(facts, loads int) limit.Limit {
	return limit.Limit{Facts: p.Mem.Facts.Room(facts), Loads: p.Mem.Loads.Room(loads)}
}

// Marked is a mark for each item, none of them set.
func (p *Plan) Marked() []bool {
	p.marks = append(p.marks[:0], make([]bool, len(p.Items))...)
	return p.marks
}

// Merge adds to a list what is not in it.
func Merge(a, b []string) []string {
	for _, x := range b {
		if !slices.Contains(a, x) {
			a = append(a, x)
		}
	}
	return a
}

// idSet is a list of ids, each once.
type idSet struct {
	ids   []string
	slots []int32 // place in ids, counted from 1; 0 is free
}

// begin forgets everything and writes to a list with room for so many.
func (s *idSet) begin(to []string, room int) {
	s.ids, s.slots = to, memory.Emptied(s.slots, room)
}

// add puts ids behind the others, those that are not there; no more than there is room for.
func (s *idSet) add(ids []string) {
	mask := len(s.slots) - 1
next:
	for _, id := range ids {
		slot := int(memory.HashOf(0, id)) & mask
		for ; s.slots[slot] != 0; slot = (slot + 1) & mask {
			if s.ids[s.slots[slot]-1] == id {
				continue next
			}
		}
		s.ids = append(s.ids, id)
		s.slots[slot] = int32(len(s.ids))
	}
}
