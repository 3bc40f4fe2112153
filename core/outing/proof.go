package outing

import (
	"time"

	"vespers/core/interlock"
)

// Proof is a machine whose interlocks a whole round of the outing has proved.
type Proof struct {
	Machine string
	By      string // person id of who did the last test
	At      time.Time
	Tests   int
}

// Proofs lists the machines proved in the outing. A machine with nothing to be
// tested is not among them.
func (o *Outing) Proofs() []Proof {
	var out []Proof
	for _, u := range o.Units {
		round := o.prover(u).Round
		if len(round.Results) == 0 || !round.Done() {
			continue
		}
		p := Proof{Machine: u.Machine, Tests: len(round.Results)}
		for _, r := range round.Results {
			if !r.Meta.At.Before(p.At) {
				p.At, p.By = r.Meta.At, r.Meta.By
			}
		}
		out = append(out, p)
	}
	return out
}

// Want is what a machine's interlocks ask of a lead, the most pressing first.
type Want int

// The wants.
const (
	WearsOut         Want = iota // a drive comes to the limit of its stopping time within a season
	NeverProved                  // no whole round was ever done
	LongAgo                      // the last whole round was more than a week ago (house rule)
	NothingStandsOut             // nothing; also where there is nothing to be proved
)

// Wanted tells what a machine asks for: whether it has interlocks, when they
// were proved last (zero for never), and how its most worn drive stands.
func Wanted(interlocks bool, proved time.Time, wear Wear, now time.Time) Want {
	switch {
	case wear.Soon(now):
		return WearsOut
	case !interlocks:
		return NothingStandsOut
	case proved.IsZero():
		return NeverProved
	case now.Sub(proved) > 7*day:
		return LongAgo
	}
	return NothingStandsOut
}

// Observations is what the unit's round has shown, as far as it counts: for
// finding out which switch it is.
func (u *UnitState) Observations() []interlock.Observation {
	yes, no := true, false
	var out []interlock.Observation
	for i, r := range u.Round.Results {
		test := u.Round.Plan.Tests[i]
		o := interlock.Observation{Test: test, Observed: &no}
		stop := test.Kind != interlock.Refusal
		switch {
		case r.Outcome == "" || r.Outcome == Void:
			continue
		case r.Restarted:
			o.Restarted = &yes
		case r.Outcome == Failed && r.Seconds == nil:
			o.Observed = &yes
		case test.Return:
			o.Restarted = &no
		}
		if stop {
			o.AtFrom = &yes
		}
		out = append(out, o)
	}
	return out
}

// Slow reports whether a failed test failed only in its time: the contact did
// its work, what it stops is worn.
func (r Result) Slow() bool { return r.Outcome == Failed && r.Seconds != nil && !r.Restarted }
