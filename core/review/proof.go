package review

// Machines proved by a whole round, and what they ask of a lead.

import (
	"time"

	"vespers/core/outing"
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
func Proofs(o *outing.Outing) []Proof {
	if o.Repair != nil {
		return nil // a part of a round proves what was touched, not the machine
	}
	var out []Proof
	for _, u := range o.Units {
		round := o.Prover(u).Round
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
