package grade

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
)

// better says where a verdict is better than another, "" for nowhere.
func better(a, b Report) string {
	switch {
	case a.Grade != b.Grade && defect.Worse(a.Grade, b.Grade) == b.Grade:
		return fmt.Sprintf("%s, was %s", a.Grade, b.Grade)
	case len(a.NotReleased) == 0 && len(b.NotReleased) > 0:
		return "released"
	}
	for _, r := range b.Restrictions {
		if !slices.Contains(a.Restrictions, r) && r != machine.RecheckTwoHours {
			return "does not take away " + string(r)
		}
	}
	for _, u := range b.Refused {
		if u.Use != defect.UseHours && !slices.ContainsFunc(a.Refused, func(v Refused) bool { return v.Use == u.Use }) {
			return "allows " + u.Use
		}
	}
	if a.Grade != b.Grade || a.Grade == defect.Halt {
		return "" // what is Halt has no deadline that counts
	}
	later := b.Deadline.Hours != nil && (a.Deadline.Hours == nil || *a.Deadline.Hours > *b.Deadline.Hours+1e-9)
	if later || b.Deadline.At != nil && (a.Deadline.At == nil || a.Deadline.At.After(*b.Deadline.At)) {
		return "has more time"
	}
	return ""
}

// TestWorseIsNeverBetter: one more fault, one more test that failed, a reading
// farther out, a doubt that is larger, never give a better verdict.
func TestWorseIsNeverBetter(t *testing.T) {
	try := func(t *testing.T, r cases) {
		before := r.one()
		was, err := before.Judge(r.sheet)
		if err != nil {
			t.Fatal(err)
		}
		hold := func(what string, worse Case) {
			now, err := worse.Judge(r.sheet)
			if err != nil {
				t.Fatal(err)
			}
			if b := better(now, was); b != "" {
				a, _ := json.Marshal(before)
				c, _ := json.Marshal(worse)
				of, _ := json.Marshal(r.sheet.Checks)
				t.Fatalf("%s: %s\n%s\n%s\n%.900s", what, b, a, c, of)
			}
		}
		more := before
		c := pick(r, r.sheet.Checks)
		more.Findings = append(slices.Clone(before.Findings), Finding{Check: c.ID, Fault: pick(r, c.Faults).ID})
		hold("one more fault", more)
		failed := before
		failed.Tests = append(slices.Clone(before.Tests), Test{"9", Failed})
		hold("a failed test", failed)
		for i, f := range before.Findings {
			if f.Reading == nil || f.Again != nil {
				continue
			}
			c, _ := r.sheet.Check(f.Check)
			rd, _ := c.Reading(f.Of)
			if rd.Limits == nil || rd.Limits.By != "" || (rd.Limits.Low == nil) == (rd.Limits.High == nil) {
				continue
			}
			farther := before
			farther.Findings = slices.Clone(before.Findings)
			v := *f.Reading - float64(1+r.IntN(12))/4
			if rd.Limits.High != nil {
				v = *f.Reading + float64(1+r.IntN(12))/4
			}
			farther.Findings[i].Reading = &v
			if c.Even == nil { // farther out may be nearer to its pair
				hold("farther out", farther)
			}
		}
	}
	for seed := range uint64(4000) {
		r := rand.New(rand.NewPCG(seed, 21))
		try(t, cases{r, small(r)})
	}
	for i, one := range machinetest.All(t) {
		r := rand.New(rand.NewPCG(uint64(i), 22))
		for range 150 {
			try(t, cases{r, one.Sheet})
		}
	}
}
