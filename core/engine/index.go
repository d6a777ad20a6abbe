package engine

import "eventether/core/memory"

// index finds a result by its id. A pass looks up every result it makes, and a used index is emptied for the next pass:
// with a list of numbers in place of a map of strings a pass is about a twentieth quicker, and the collector has
// nothing to follow.
type index struct {
	slots []int32 // place in Pass.Results, counted from 1; 0 is free
	used  int
}

// empty forgets everything and makes room for so many.
func (x *index) empty(room int) {
	x.used = 0
	x.slots = memory.Emptied(x.slots, room)
}

// find is the place of an id among results, and its slot, or the slot it would have.
func (x *index) find(results []Result, id ID) (at, slot int, ok bool) {
	return x.findHashed(results, &id, memory.HashOf(id.Rule.at, id.Place))
}

func (x *index) findHashed(results []Result, id *ID, hash uint64) (at, slot int, ok bool) {
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
