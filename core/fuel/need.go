package fuel

// What a day needs in the tank, and whether the machine drinks as it did.

import (
	"slices"

	"vespers/core/text"
)

// Day is what a day's fuel is computed from.
type Day struct {
	Burn    float64 `json:"burn"`    // the sheet's, litres an hour
	Hours   float64 `json:"hours"`   // planned
	Reserve float64 `json:"reserve"` // litres that stay in
	InTank  float64 `json:"in_tank"`
	Usable  float64 `json:"usable"` // what the tank may hold, to its mark
	Fills   []Fill  `json:"fills"`  // oldest first
	// Before are runs of fills before those, with gaps between them of which nothing
	// is known.
	Before [][]Fill `json:"-"`
}

// Need is what is to be filled.
type Need struct {
	Litres float64 `json:"litres"`
	// Burn is the litres an hour that were counted with: the sheet's, or what the
	// fills say.
	Burn      float64 `json:"burn"`
	FromFills bool    `json:"from_fills"`
	// Short is what a full tank leaves missing: it is filled once more on the way.
	Short float64 `json:"short"`
	Drift Drift   `json:"drift"`
}

// Needed computes a day's need: what it burns and the reserve less what is in,
// never below nothing nor above what goes in.
func Needed(d Day) (Need, *text.Reason) {
	for _, v := range []struct {
		what string
		v    float64
	}{{"burn", d.Burn}, {"hours", d.Hours}, {"reserve", d.Reserve}, {"in_tank", d.InTank}, {"usable", d.Usable}} {
		if r := negative(v.what, v.v); r != nil {
			return Need{}, r
		}
	}
	if d.InTank > d.Usable {
		r := RuleOverTank.Says("in_tank")
		return Need{}, &r
	}
	if r := checkFills(d.Fills); r != nil {
		return Need{}, r
	}
	runs := append(slices.Clip(d.Before), d.Fills)
	n := Need{Drift: drift(d.Burn, runs)}
	n.Burn, n.FromFills = burnt(d.Burn, runs)
	wanted := max(0, n.Burn*d.Hours+d.Reserve-d.InTank)
	n.Litres = min(wanted, d.Usable-d.InTank)
	n.Short = wanted - n.Litres
	return n, nil
}

// burnt is the litres an hour to count with: the sheet's until five fills are on
// record, then the middle of the last ten, between half and twice the sheet's.
func burnt(sheet float64, runs [][]Fill) (burn float64, fromFills bool) {
	burns, _ := consumptions(runs)
	fills := 0
	for _, run := range runs {
		fills += len(run)
	}
	if fills < fillsLeast || len(burns) == 0 {
		return sheet, false
	}
	return min(max(median(last(burns, fillsLast)), sheet/2), 2*sheet), true
}

// Drift is how what a machine burns has moved.
type Drift struct {
	// Share is the newest against what it was, 1 as it was; 0 where too little is
	// known.
	Share float64 `json:"share"`
	// Flagged: a quarter more or less, which a leak, a clogged filter or a habit
	// explains.
	Flagged bool `json:"flagged"`
}

// drift holds the middle of the last five consumptions against that of the
// machine's first ten, or the sheet's where there are not so many. Fills that
// follow too soon tell too little; one that was typed wrong moves no middle.
func drift(sheet float64, runs [][]Fill) Drift {
	all, hours := consumptions(runs)
	var burns []float64
	for i, b := range all {
		if hours[i] >= driftHours {
			burns = append(burns, b)
		}
	}
	was := sheet
	if len(burns) >= fillsLast+driftLast {
		was = median(burns[:fillsLast])
	}
	if len(burns) < driftLast || was <= 0 {
		return Drift{}
	}
	share := median(last(burns, driftLast)) / was
	const rounding = 1e-9
	return Drift{Share: share, Flagged: share >= 1+driftFrom-rounding || share <= 1-driftFrom+rounding}
}
