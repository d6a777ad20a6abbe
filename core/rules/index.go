package rules

import (
	"hash/maphash"
	"math/bits"

	"eventether/core/limit"
)

// index finds a result by its id. A pass looks up every result it makes, and a used index is emptied for the next pass: with a list
// of numbers in place of a map of strings a pass is about a twentieth quicker, and the collector has nothing to follow.
type index struct {
	slots []int32 // place in Pass.Results, counted from 1; 0 is free
	used  int
}

// seed differs from process to process: nobody can write a rig whose places all fall on one slot.
var seed = maphash.String(maphash.MakeSeed(), "")

// hashOf spreads ids over the slots, by the slot of their rule (slotOf) and their place: eight bytes at a time, each time the two halves of a product folded on each other. Places are
// short, and a call of maphash takes longer than all of this.
func hashOf(rule int, place string) uint64 {
	h, s := seed^uint64(rule), place
	for len(s) >= 8 {
		h = fold(h ^ (uint64(s[0]) | uint64(s[1])<<8 | uint64(s[2])<<16 | uint64(s[3])<<24 | uint64(s[4])<<32 | uint64(s[5])<<40 | uint64(s[6])<<48 | uint64(s[7])<<56))
		s = s[8:]
	}
	rest := uint64(len(place)) << 56
	for i := range len(s) {
		rest |= uint64(s[i]) << (8 * i)
	}
	return fold(h ^ rest)
}

func fold(x uint64) uint64 {
	hi, lo := bits.Mul64(x, 0x9e3779b97f4a7c15)
	return hi ^ lo
}

// empty forgets everything and makes room for so many.
func (x *index) empty(room int) {
	x.used = 0
	size := 64
	for size < 2*room {
		size *= 2
	}
	if size > len(x.slots) {
		x.slots = make([]int32, size)
		return
	}
	clear(x.slots)
}

// find is the place of an id among results, and its slot, or the slot it would have.
func (x *index) find(results []Result, id limit.ID) (at, slot int, ok bool) {
	return x.findHashed(results, &id, hashOf(slotOf(id.Rule), id.Place))
}

func (x *index) findHashed(results []Result, id *limit.ID, hash uint64) (at, slot int, ok bool) {
	if len(x.slots) == 0 {
		return 0, 0, false
	}
	mask := len(x.slots) - 1
	for slot = int(hash) & mask; ; slot = (slot + 1) & mask {
		at := x.slots[slot]
		if at == 0 {
			return 0, slot, false
		}
		if results[at-1].ID == *id {
			return int(at) - 1, slot, true
		}
	}
}

// put notes that the id a slot was found for stands at a place.
func (x *index) put(results []Result, slot, at int) {
	if x.used++; 4*x.used <= 3*len(x.slots) {
		x.slots[slot] = int32(at) + 1
		return
	}
	x.empty(4 * x.used)
	for i := range results[:at+1] {
		_, slot, _ := x.find(results, results[i].ID)
		x.slots[slot] = int32(i) + 1
	}
	x.used = at + 1
}
