// Package round is the interlock round as it is run on a machine: which test is
// next, what a result comes to, how the controls are set for it, and what the
// round has shown. Which tests there are is computed by package interlock.
//
// A State is a value, like that of package inspect.
package round
