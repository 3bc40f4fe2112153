// Package outing is one or more machines out on one day, with one operator
// after another: what has been said so far, what may be said next, and what
// follows from it.
//
// An Outing is the fold of its events. Decide turns a command into events, or
// refuses it; Apply takes an event in. Neither looks at a clock or a database,
// so every order of answers can be tried in a test. An Outing is a value:
// Apply makes a new one, and nothing that was handed out changes.
//
// What a day consists of are its stages (stage.go). Each knows its commands,
// its events, what it still misses and what it has found; Decide, Apply, Judge
// and Defects only ask them in order.
package outing
