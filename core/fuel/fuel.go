// Package fuel is the arithmetic of tanks and cans: how much a day needs, what a
// machine burns, what goes into a mix, and when a machine drinks otherwise than it
// did. Litres and engine hours throughout.
package fuel

import (
	"math"
	"slices"

	"vespers/core/text"
)

// Fill is one fill to the mark, with the hour meter then.
type Fill struct {
	Hours  float64 `json:"hours"`
	Litres float64 `json:"litres"`
}

// The rules of trade practice and of the house that these answers stand on.
const (
	fillsLeast = 5    // until so many, the sheet's figure counts
	fillsLast  = 10   // what is burnt is the middle of so many
	driftLast  = 5    // of which the newest are held against the first
	driftHours = 4    // between two fills: less tells too little
	driftFrom  = 0.25 // of what it was
)

var (
	// RuleNegative: something that is measured cannot be less than nothing.
	RuleNegative = text.NewRule("fuel.negative", text.Slot{Name: "what", Kind: text.Name})
	// RuleRatio: a ratio of oil to petrol is one to something.
	RuleRatio = text.NewRule("fuel.ratio", text.Slot{Name: "what", Kind: text.Name})
	// RuleOverTank: more than the tank holds.
	RuleOverTank = text.NewRule("fuel.over_tank", text.Slot{Name: "what", Kind: text.Name})
	// RuleTooLittle: what is in the can is too strong or too weak for so small a mix.
	RuleTooLittle = text.NewRule("fuel.mix_too_small", text.Slot{Name: "least", Kind: text.Name})
	// RuleBackwards: the hour meter of a fill runs backwards, or stands still.
	RuleBackwards = text.NewRule("fuel.hours_backwards", text.Slot{Name: "what", Kind: text.Name})
)

// refused says that something is below nothing, or no number; nil if it is in order.
func negative(what string, v float64) *text.Reason {
	if v >= 0 && !math.IsInf(v, 0) {
		return nil
	}
	r := RuleNegative.Says(what)
	return &r
}

// consumptions are the litres an engine hour between two fills, oldest first, and
// the hours between them.
func consumptions(runs [][]Fill) (burns, between []float64) {
	for _, fills := range runs {
		for i := 1; i < len(fills); i++ {
			if hours := fills[i].Hours - fills[i-1].Hours; hours > 0 {
				burns, between = append(burns, fills[i].Litres/hours), append(between, hours)
			}
		}
	}
	return burns, between
}

func median(list []float64) float64 {
	sorted := slices.Sorted(slices.Values(list))
	n := len(sorted)
	if n%2 == 1 {
		return sorted[n/2]
	}
	return (sorted[n/2-1] + sorted[n/2]) / 2
}

func last(list []float64, n int) []float64 { return list[max(0, len(list)-n):] }

// checkFills refuses fills that cannot be.
func checkFills(fills []Fill) *text.Reason {
	for i, f := range fills {
		if r := negative("fills.litres", f.Litres); r != nil {
			return r
		}
		if r := negative("fills.hours", f.Hours); r != nil {
			return r
		}
		if i > 0 && f.Hours <= fills[i-1].Hours {
			r := RuleBackwards.Says("fills.hours")
			return &r
		}
	}
	return nil
}
