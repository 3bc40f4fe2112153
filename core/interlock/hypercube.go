package interlock

import "math/bits"

// costs is a number of control movements for every state; far is out of reach.
type costs []uint16

const far = 1 << 14

func newCosts(n int) costs {
	v := make(costs, n)
	for i := range v {
		v[i] = far
	}
	return v
}

// spread gives every state the least over all states of their cost plus the
// controls to move to get there.
func (v costs) spread() {
	for step := 1; step < len(v); step <<= 1 {
		for x := range v {
			if x&step != 0 {
				continue
			}
			a, b := v[x], v[x|step]
			if a+1 < b {
				v[x|step] = a + 1
			} else if b+1 < a {
				v[x] = b + 1
			}
		}
	}
}

func (v costs) lower(x State, to uint16) {
	if to < v[x] {
		v[x] = to
	}
}

// distance is the number of controls to move from one state to another.
func distance(x, y State) int { return bits.OnesCount16(uint16(x ^ y)) }

// word is a state as a number that orders like its 0/1 word in the sheet's
// order of switches.
func word(s State) uint16 { return bits.Reverse16(uint16(s)) }
