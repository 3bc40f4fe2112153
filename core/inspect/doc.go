// Package inspect is looking at the points of one machine and answering them:
// on the walk-around, at a break, and wherever else a route leads past points.
//
// A State is a value. Nothing that was handed out is changed by what comes
// after: every change makes a new State, so that a remembered one may be shared.
package inspect
