package rules

import (
	"hash/maphash"
	"math/bits"
)

// index finds a result by its id. A pass looks up every result it makes, and a used index is emptied for the next pass: with a list
// of numbers in place of a map of strings a pass is about a twentieth quicker, and the collector has nothing to follow.
type index struct {
	slots []int32 // place in Pass.Results, counted from 1; 0 is free
	used  int
}

// seed differs from process to process: nobody can write a rig whose places all fall on one slot.
var seed = maphash.String(maphash.MakeSeed(), "")

// hashOf spreads ids over the slots, by the place of their rule and their own: eight bytes at a time, each time the two
// halves of a product folded on each other. Places are short, and a call of maphash takes longer than all of this.
func hashOf(rule int, place string) uint64 {
	h, n := seed^uint64(rule), len(place)
	switch {
	case n >= 8:
		for i := 8; i < n; i += 8 {
			h = fold(h ^ eight(place, i-8))
		}
		h ^= eight(place, n-8) // with some of those before it, where there are not eight more
	case n >= 4:
		h ^= four(place, 0) | four(place, n-4)<<32
	case n > 0:
		h ^= uint64(place[0]) | uint64(place[n/2])<<8 | uint64(place[n-1])<<16
	}
	return fold(h ^ uint64(n)<<56)
}

func four(s string, at int) uint64 {
	s = s[at : at+4]
	return uint64(s[0]) | uint64(s[1])<<8 | uint64(s[2])<<16 | uint64(s[3])<<24
}

func eight(s string, at int) uint64 { return four(s, at) | four(s, at+4)<<32 }

func fold(x uint64) uint64 {
	hi, lo := bits.Mul64(x, 0x9e3779b97f4a7c15)
	return hi ^ lo
}

// empty forgets everything and makes room for so many.
func (x *index) empty(room int) {
	x.used = 0
	x.slots = emptied(x.slots, room)
}

// emptied are free slots, a third more than there is to be room for at least.
func emptied(slots []int32, room int) []int32 {
	size := 64
	for 3*size < 4*room {
		size *= 2
	}
	if size > len(slots) {
		return make([]int32, size)
	}
	clear(slots)
	return slots
}

// find is the place of an id among results, and its slot, or the slot it would have.
func (x *index) find(results []Result, id ID) (at, slot int, ok bool) {
	return x.findHashed(results, &id, hashOf(id.Rule.at, id.Place))
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

// idSet is a list of ids, each once.
type idSet struct {
	ids   []string
	slots []int32 // place in ids, counted from 1; 0 is free
}

// begin forgets everything and writes to a list with room for so many.
func (s *idSet) begin(to []string, room int) {
	s.ids, s.slots = to, emptied(s.slots, room)
}

// add puts ids behind the others, those that are not there; no more than there is room for.
func (s *idSet) add(ids []string) {
	mask := len(s.slots) - 1
next:
	for _, id := range ids {
		slot := int(hashOf(0, id)) & mask
		for ; s.slots[slot] != 0; slot = (slot + 1) & mask {
			if s.ids[s.slots[slot]-1] == id {
				continue next
			}
		}
		s.ids = append(s.ids, id)
		s.slots[slot] = int32(len(s.ids))
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
