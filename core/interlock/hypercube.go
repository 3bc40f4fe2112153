package interlock

import "math/bits"

// costs is a number of control movements for every state; far is out of reach.
type costs []uint8

const far = 255

func newCosts(n int) costs {
	v := make(costs, n)
	for i := range v {
		v[i] = far
	}
	return v
}

// plus adds movements to a cost; what is far stays so.
func plus(cost uint8, movements int) uint8 { return uint8(min(int(cost)+movements, far)) }

// spread gives every state the least over all states of their cost plus the
// controls to move to get there.
func (v costs) spread() {
	for step := 1; step < len(v); step <<= 1 {
		for base := 0; base < len(v); base += 2 * step {
			low, high := v[base:base+step], v[base+step:base+2*step]
			for i, a := range low {
				b := high[i]
				high[i] = min(b, plus(a, 1))
				low[i] = min(a, plus(b, 1))
			}
		}
	}
}

func (v costs) clone() costs { return append(costs(nil), v...) }

func (v costs) lower(x State, to uint8) { v[x] = min(v[x], to) }

// lowerAll takes the lesser of two costs in every state.
func (v costs) lowerAll(w costs) {
	for x, cost := range w {
		v[x] = min(v[x], cost)
	}
}

// distance is the number of controls to move from one state to another.
func distance(x, y State) int { return bits.OnesCount16(uint16(x ^ y)) }

// word is a state as a number that orders like its 0/1 word in the sheet's
// order of switches.
func word(s State) uint16 { return bits.Reverse16(uint16(s)) }
