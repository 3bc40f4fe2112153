package procedure

// The states that have been seen: a table that is quick for a million of them.

// state is how facts stand and what is open.
type state struct {
	w world
	o open
}

// states numbers states in the order in which they are first seen.
type states struct {
	list  []state
	slots []int32 // 1 + the number of the state there; 0 is free
}

func newStates() *states { return &states{slots: make([]int32, 1<<12)} }

// add numbers a state; fresh is false where it had a number already.
func (t *states) add(s state) (number int32, fresh bool) {
	mask := uint64(len(t.slots) - 1)
	at := s.hash() & mask
	for t.slots[at] != 0 {
		if n := t.slots[at] - 1; t.list[n] == s {
			return n, false
		}
		at = (at + 1) & mask
	}
	t.list = append(t.list, s)
	t.slots[at] = int32(len(t.list))
	if 2*len(t.list) > len(t.slots) {
		t.grow()
	}
	return int32(len(t.list) - 1), true
}

func (t *states) grow() {
	t.slots = make([]int32, 2*len(t.slots))
	mask := uint64(len(t.slots) - 1)
	for n, s := range t.list {
		at := s.hash() & mask
		for t.slots[at] != 0 {
			at = (at + 1) & mask
		}
		t.slots[at] = int32(n + 1)
	}
}

// hash mixes both numbers so that states that differ in few bits lie far apart.
func (s state) hash() uint64 {
	h := uint64(s.w)*0x9E3779B97F4A7C15 ^ uint64(s.o)*0xC2B2AE3D27D4EB4F
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	return h ^ h>>32
}
