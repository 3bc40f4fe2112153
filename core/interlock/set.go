package interlock

// Sets of small numbers, as bits.

import (
	"math/bits"
	"slices"
)

// set is a set of small numbers: faults, or tests that catch one. 320 is
// beyond the 268 faults that twelve switches and ten permits can have.
type set [5]uint64

func (s set) has(i int) bool { return s[i>>6]>>(i&63)&1 == 1 }
func (s *set) add(i int)     { s[i>>6] |= 1 << (i & 63) }

func (s set) union(t set) set {
	for i := range s {
		s[i] |= t[i]
	}
	return s
}

func (s set) meet(t set) set {
	for i := range s {
		s[i] &= t[i]
	}
	return s
}

func (s set) minus(t set) set {
	for i := range s {
		s[i] &^= t[i]
	}
	return s
}

func (s set) empty() bool       { return s == set{} }
func (s set) within(t set) bool { return s.minus(t).empty() }

func (s set) count() int {
	n := 0
	for _, w := range s {
		n += bits.OnesCount64(w)
	}
	return n
}

// sortBy sorts, keeping the order of equals.
func sortBy[T any](items []T, compare func(a, b T) int) { slices.SortStableFunc(items, compare) }
