package fuel

import (
	"math"
	"testing"

	"vespers/core/text"
)

func near(a, b float64) bool { return math.Abs(a-b) < 1e-9 }

// every makes fills every some hours at some litres an hour.
func every(hours float64, burns ...float64) []Fill {
	fills := []Fill{{Hours: 100, Litres: 5}}
	for _, b := range burns {
		fills = append(fills, Fill{Hours: fills[len(fills)-1].Hours + hours, Litres: b * hours})
	}
	return fills
}

func TestNeed(t *testing.T) {
	for name, c := range map[string]struct {
		day                 Day
		litres, burn, short float64
		fromFills           bool
	}{
		"a day from half full":            {Day{Burn: 3, Hours: 4, Reserve: 2, InTank: 8, Usable: 20}, 6, 3, 0, false},
		"enough is in":                    {Day{Burn: 3, Hours: 1, Reserve: 2, InTank: 8, Usable: 20}, 0, 3, 0, false},
		"more than goes in":               {Day{Burn: 5, Hours: 6, Reserve: 2, InTank: 8, Usable: 20}, 12, 5, 12, false},
		"four fills say nothing yet":      {Day{Burn: 3, Hours: 2, Usable: 20, Fills: every(5, 4, 4, 4)}, 6, 3, 0, false},
		"five fills count":                {Day{Burn: 3, Hours: 2, Usable: 20, Fills: every(5, 4, 4, 4, 4)}, 8, 4, 0, true},
		"one was typed wrong":             {Day{Burn: 3, Hours: 2, Usable: 20, Fills: every(5, 4, 4, 40, 4, 4)}, 8, 4, 0, true},
		"never above twice the sheet's":   {Day{Burn: 3, Hours: 2, Usable: 20, Fills: every(5, 9, 9, 9, 9)}, 12, 6, 0, true},
		"never below half of it":          {Day{Burn: 3, Hours: 2, Usable: 20, Fills: every(5, 1, 1, 1, 1)}, 3, 1.5, 0, true},
		"only the last ten":               {Day{Burn: 3, Hours: 1, Usable: 20, Fills: every(5, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4)}, 4, 4, 0, true},
		"the middle of an even number":    {Day{Burn: 3, Hours: 1, Usable: 20, Fills: every(5, 2, 3, 4, 5)}, 3.5, 3.5, 0, true},
		"a full tank takes nothing":       {Day{Burn: 3, Hours: 9, Usable: 20, InTank: 20}, 0, 3, 7, false},
		"nothing planned, reserve is not": {Day{Burn: 3, Reserve: 4, Usable: 20, InTank: 1}, 3, 3, 0, false},
	} {
		n, refused := Needed(c.day)
		if refused != nil || !near(n.Litres, c.litres) || !near(n.Burn, c.burn) || !near(n.Short, c.short) || n.FromFills != c.fromFills {
			t.Errorf("%s: %+v %v", name, n, refused)
		}
	}
	for name, c := range map[string]struct {
		day  Day
		rule text.Rule
	}{
		"hours below nothing":    {Day{Hours: -1}, RuleNegative},
		"no number":              {Day{Burn: math.NaN()}, RuleNegative},
		"endless":                {Day{Usable: math.Inf(1)}, RuleNegative},
		"over the tank":          {Day{InTank: 21, Usable: 20}, RuleOverTank},
		"a fill below nothing":   {Day{Fills: []Fill{{1, -1}}}, RuleNegative},
		"a meter that runs back": {Day{Fills: []Fill{{2, 1}, {1, 1}}}, RuleBackwards},
		"a meter below nothing":  {Day{Fills: []Fill{{-2, 1}}}, RuleNegative},
		"a meter that stands":    {Day{Fills: []Fill{{2, 1}, {2, 1}}}, RuleBackwards},
	} {
		if _, refused := Needed(c.day); refused == nil || refused.Rule != c.rule {
			t.Errorf("%s: %v", name, refused)
		}
	}
}

func TestDrift(t *testing.T) {
	ten := []float64{4, 4, 4, 4, 4, 4, 4, 4, 4, 4}
	for name, c := range map[string]struct {
		fills   []Fill
		share   float64
		flagged bool
	}{
		"too few":                          {every(5, 8, 8, 8, 8), 0, false},
		"a quarter more than the sheet":    {every(5, 5, 5, 5, 5, 5), 1.25, true},
		"a little less":                    {every(5, 4.9, 4.9, 4.9, 4.9, 4.9), 4.9 / 4, false},
		"a quarter less":                   {every(5, 3, 3, 3, 3, 3), 0.75, true},
		"against its own first ten":        {every(5, append(ten, 5, 5, 5, 5, 5)...), 1.25, true},
		"one fill typed wrong changes not": {every(5, append(ten, 4, 4, 400, 4, 4)...), 1, false},
		"nor hides it":                     {every(5, append(ten, 5, 5, 0.1, 5, 5)...), 1.25, true},
		"fills that follow too soon":       {every(3.9, 8, 8, 8, 8, 8, 8), 0, false},
		"four hours are enough":            {every(4, 8, 8, 8, 8, 8), 2, true},
	} {
		n, refused := Needed(Day{Burn: 4, Usable: 20, Fills: c.fills})
		if refused != nil || !near(n.Drift.Share, c.share) || n.Drift.Flagged != c.flagged {
			t.Errorf("%s: %+v %v", name, n.Drift, refused)
		}
	}
}

func TestMix(t *testing.T) {
	for name, c := range map[string]struct {
		can         Can
		oil, petrol float64
	}{
		"from nothing":            {Can{Total: 5.1, Ratio: 50}, 0.1, 5},
		"half a can, the same":    {Can{In: 2.55, At: 50, Total: 5.1, Ratio: 50}, 0.05, 2.5},
		"from lean to rich":       {Can{In: 2.55, At: 50, Total: 5.2, Ratio: 25}, 0.15, 2.5},
		"exactly enough":          {Can{In: 5.1, At: 50, Total: 5.1, Ratio: 50}, 0, 0},
		"too strong, thinned out": {Can{In: 1.3, At: 25, Total: 2.55, Ratio: 50}, 0, 1.25},
	} {
		m, refused := Mixed(c.can)
		if refused != nil || !near(m.Oil, c.oil) || !near(m.Petrol, c.petrol) {
			t.Errorf("%s: %+v %v", name, m, refused)
		}
	}
	for name, c := range map[string]struct {
		can  Can
		rule text.Rule
	}{
		"a ratio of nothing":     {Can{Total: 5}, RuleRatio},
		"one to a half":          {Can{Total: 5, Ratio: 0.5}, RuleRatio},
		"no number":              {Can{Total: 5, Ratio: math.NaN()}, RuleRatio},
		"a can of unknown ratio": {Can{In: 1, Total: 5, Ratio: 50}, RuleRatio},
		"less than nothing":      {Can{Total: -5, Ratio: 50}, RuleNegative},
		"less than is in":        {Can{In: 5.1, At: 50, Total: 4, Ratio: 50}, RuleTooLittle},
		"too much oil in it":     {Can{In: 2.6, At: 25, Total: 3, Ratio: 50}, RuleTooLittle},
	} {
		_, refused := Mixed(c.can)
		if refused == nil || refused.Rule != c.rule {
			t.Errorf("%s: %v", name, refused)
		}
	}
	// The smallest total that is told works, and a little less does not.
	can := Can{In: 2.6, At: 25, Total: 5.1, Ratio: 50}
	if m, refused := Mixed(can); refused != nil || m.Oil > 1e-9 {
		t.Errorf("%+v %v", m, refused)
	}
	can.Total = 5.09
	if _, refused := Mixed(can); refused == nil || refused.Args[0].Plain != "5.100 l" {
		t.Errorf("%v", refused)
	}
}
