package outing

// The few points that are measured though a look would do.

import (
	"hash/fnv"
	"slices"

	"vespers/core/machine"
)

// spotsMost is how many points of a walk become a reading instead of a tick, at
// most (house rule): enough that nobody fills a sheet in from the cab, few
// enough that nobody is policed.
const spotsMost = 2

// spotsOneIn is how seldom a point comes up (house rule).
const spotsOneIn = 3

// Spots chooses, for each of the sheets of an outing, the points that are
// measured this time: each comes up one time in three, and never more than two.
// The seed is the outing's own, so that it can be told again which they were;
// asked says whether a point of a sheet is looked at at all.
func Spots(seed string, sheets []*machine.Sheet, asked func(sheet int, c *machine.Check) bool) [][]string {
	type spot struct {
		unit  int
		check string
		lot   uint64
	}
	var all []spot
	for i, sheet := range sheets {
		for j := range sheet.Checks {
			c := &sheet.Checks[j]
			if c.Spot != nil && asked(i, c) {
				h := fnv.New64a()
				h.Write([]byte(seed + "/" + sheet.ID + "/" + c.ID))
				if lot := h.Sum64() >> 8; lot%spotsOneIn == 0 {
					all = append(all, spot{i, c.ID, lot})
				}
			}
		}
	}
	slices.SortFunc(all, func(a, b spot) int {
		switch {
		case a.lot < b.lot:
			return -1
		case a.lot > b.lot:
			return 1
		}
		return 0
	})
	out := make([][]string, len(sheets))
	for _, s := range all[:min(spotsMost, len(all))] {
		out[s.unit] = append(out[s.unit], s.check)
	}
	return out
}

// measured is a sheet with some of its points to be measured.
func measured(sheet *machine.Sheet, checks []string) *machine.Sheet {
	if len(checks) == 0 {
		return sheet
	}
	own := *sheet
	own.Checks = slices.Clone(sheet.Checks)
	for i := range own.Checks {
		if own.Checks[i].Spot != nil && slices.Contains(checks, own.Checks[i].ID) {
			own.Checks[i] = own.Checks[i].Measured()
		}
	}
	return &own
}
