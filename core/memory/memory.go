// Package memory holds what a pass takes its many small lists and its lookups from.
package memory

import (
	"hash/maphash"
	"math/bits"
)

// seed differs from process to process: nobody can write a rig whose places all fall on one slot.
var seed = maphash.String(maphash.MakeSeed(), "")

// HashOf spreads ids over the slots, by the place of their rule and their own: eight bytes at a time, each time the two
// halves of a product folded on each other. Places are short, and a call of maphash takes longer than all of this.
func HashOf(rule int, place string) uint64 {
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

// Emptied are free slots, a third more than there is to be room for at least.
func Emptied(slots []int32, room int) []int32 {
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

// Slab hands out small slices of one large one.
type Slab[T any] []T

// Of is a list of the items given.
func (s *Slab[T]) Of(items ...T) []T { return append(s.Room(len(items)), items...) }

// Room is an empty list with room for n.
func (s *Slab[T]) Room(n int) []T {
	if len(*s)+n > cap(*s) {
		*s = make([]T, 0, max(2*cap(*s), n, 16))
	}
	at := len(*s)
	*s = (*s)[:at+n]
	return (*s)[at : at : at+n]
}
