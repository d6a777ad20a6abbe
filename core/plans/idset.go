package plans

import "eventether/core/memory"

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
