package interlock

// What it costs to reach each state of the controls, one movement at a time.

import (
	"encoding/binary"
	"math/bits"
)

// costs is a number of control movements for every state; far is out of reach.
type costs []uint8

const far = 127 // below 128, so that eight costs can be compared in one word

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
// controls to move to get there. It is what the planner does most, so it takes
// eight states at a time.
func (v costs) spread() {
	if len(v) < 8 {
		for step := 1; step < len(v); step <<= 1 {
			for x := range v {
				v[x] = min(v[x], plus(v[x^step], 1))
			}
		}
		return
	}
	words := make([]uint64, len(v)/8)
	for i := range words {
		w := binary.LittleEndian.Uint64(v[8*i:])
		w = lesser(w, oneMore(w>>8&0x00ff00ff00ff00ff|w<<8&0xff00ff00ff00ff00))
		w = lesser(w, oneMore(w>>16&0x0000ffff0000ffff|w<<16&0xffff0000ffff0000))
		words[i] = lesser(w, oneMore(w>>32|w<<32))
	}
	for step := 1; step < len(words); step <<= 1 {
		for base := 0; base < len(words); base += 2 * step {
			low, high := words[base:base+step], words[base+step:base+2*step]
			for i, a := range low {
				b := high[i]
				low[i], high[i] = lesser(a, oneMore(b)), lesser(b, oneMore(a))
			}
		}
	}
	for i, w := range words {
		binary.LittleEndian.PutUint64(v[8*i:], w)
	}
}

const (
	each    = 0x0101010101010101
	eachTop = 0x8080808080808080
)

// oneMore adds one to each of eight costs; far stays far.
func oneMore(w uint64) uint64 {
	w += each
	return w - w&eachTop>>7
}

// lesser takes the lesser of each of eight pairs of costs.
func lesser(a, b uint64) uint64 {
	notLess := ((a | eachTop) - b) & eachTop >> 7 * 0xff
	return b&notLess | a&^notLess
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
