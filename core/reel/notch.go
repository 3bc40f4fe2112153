// Package reel is the arithmetic of reel mowers: how a unit's brackets are moved for a
// height of cut.
package reel

import "math"

// Unit is a cutting unit whose rollers hang in brackets with notches: its height of cut
// as the gauge bar shows it at the left and the right end, the height wanted and what a
// notch is worth, all in one unit of length; and in which notch its front and rear
// brackets are now, counted from below.
type Unit struct {
	Left, Right, Want, Notch float64
	Front, Rear              int
}

// Side is what becomes of one end: by how many notches its brackets go up (down, where
// less than none), and what is left for the roller nut, up where more than nothing.
type Side struct {
	Notches int
	Nut     float64
}

// Plan is what is moved. FrontRear tells by how many notches the front bracket is moved
// besides, so that front and rear are within one of each other; more than one and the
// bed-knife meets the turf at another angle (manual).
type Plan struct {
	Left, Right Side
	FrontRear   int
}

// Set plans the move to a height: the nearest notch for each end, the rest by the nut.
// ok is false where a number cannot be true.
func (u Unit) Set() (p Plan, ok bool) {
	for _, v := range []float64{u.Left, u.Right, u.Want, u.Notch} {
		if !(v > 0) || math.IsInf(v, 0) {
			return p, false
		}
	}
	side := func(now float64) Side {
		n := math.Round((u.Want - now) / u.Notch)
		return Side{int(n), u.Want - now - n*u.Notch}
	}
	p.Left, p.Right = side(u.Left), side(u.Right)
	switch apart := u.Front - u.Rear; {
	case apart > 1:
		p.FrontRear = 1 - apart
	case apart < -1:
		p.FrontRear = -1 - apart
	}
	return p, true
}
