package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/store"
)

// Size is how large a generated yard is.
type Size struct {
	Machines, OutingsADay, Days int
}

// Large is the yard that the budgets are measured on: ten years of 250 working
// days. Hundredth is a hundredth of its history.
var (
	Large     = Size{Machines: 500, OutingsADay: 60, Days: 2500}
	Hundredth = Size{Machines: 500, OutingsADay: 60, Days: 25}
)

// Generate fills an empty yard. The same size gives the same yard but for its
// dates, which end at now.
func Generate(ctx context.Context, s *store.Store, size Size, now time.Time, progress func(day int)) error {
	all, err := catalogue.All()
	if err != nil {
		return err
	}
	// Riders only: they have the longest walks and most answers.
	var sheets []catalogue.Resolved
	for _, r := range all {
		if r.Sheet.Family == "zero_turn" {
			sheets = append(sheets, r)
		}
	}
	at := now.AddDate(0, 0, -size.Days*7/5-2)
	past := s.WithClock(func() time.Time { return at })
	n := 0
	record := func(b interface{ Kind() string }) {
		n++
		if err == nil {
			err = past.Record(ctx, store.Entry{ID: fmt.Sprintf("large-%06d", n), Person: "lead"}, b)
		}
	}
	record(store.YardNamed{Name: "Wrenfield, the large yard", Timezone: "Europe/Dublin", House: defect.DefaultHouse()})
	record(store.PersonAdded{ID: "lead", Name: "Maren Oduvale", Role: operator.Lead, Language: text.English, Units: unit.Metric})
	var manuals []operator.ManualRead
	for _, r := range sheets {
		manuals = append(manuals, operator.ManualRead{Sheet: r.Sheet.ID, Edition: r.Sheet.Edition, Language: text.English, On: at})
		record(store.ManualRecorded{Person: "lead", Manual: manuals[len(manuals)-1]})
	}
	for i := range 40 {
		record(store.PersonAdded{ID: fmt.Sprintf("hand-%02d", i), Name: fmt.Sprintf("Hand %02d", i+1), Role: operator.Operator, Language: text.English, Units: unit.Metric})
	}
	for i := range size.Machines {
		r := sheets[i%len(sheets)]
		record(store.MachineAdded{ID: fmt.Sprintf("m-%03d", i), Name: fmt.Sprintf("Rider %03d", i+1), Bay: fmt.Sprint(i + 1), Sheet: r.Hash, Hours: float64(100 + i)})
	}
	if err == nil {
		err = past.SetPIN(ctx, store.Entry{ID: "large-pin"}, "lead", "4071")
	}
	if err != nil {
		return err
	}
	g := &generator{random: rand.New(rand.NewPCG(1, uint64(size.Days))), ready: operator.Readiness{Role: operator.Operator, Manuals: manuals}}
	const batch = 25 // days in one transaction
	for day := 0; day < size.Days; day += batch {
		err := past.Bulk(ctx, func(add func(id, machine, person string, steps func(*outing.Outing) (store.Step, bool)) error) error {
			for d := day; d < min(day+batch, size.Days); d++ {
				morning := now.AddDate(0, 0, -(size.Days-1-d)*7/5).Add(-2 * time.Hour)
				if err := g.day(add, d, morning, size, d == size.Days-1); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
		progress(min(day+batch, size.Days))
	}
	return nil
}

type generator struct {
	random *rand.Rand
	ready  operator.Readiness
}

// day takes a different set of machines out each day. On the last day a third
// are still out and a third are half walked.
func (g *generator) day(add func(id, machine, person string, steps func(*outing.Outing) (store.Step, bool)) error, day int, morning time.Time, size Size, last bool) error {
	order := g.random.Perm(size.Machines)
	for i := range min(size.OutingsADay, size.Machines) {
		at := morning.Add(time.Duration(i) * time.Minute)
		stop := 1 << 20
		if last && i%3 == 0 {
			stop = 15
		}
		steps, released := 0, false
		err := add(fmt.Sprintf("o-%05d-%03d", day, i), fmt.Sprintf("m-%03d", order[i]), fmt.Sprintf("hand-%02d", i%40), func(o *outing.Outing) (store.Step, bool) {
			if o == nil {
				return store.Step{At: at}, true
			}
			steps++
			at = at.Add(15 * time.Second)
			if steps > stop || o.Status == outing.Closed || released && last && i%3 == 1 {
				return store.Step{}, false
			}
			if released {
				return store.Step{At: at.Add(time.Hour), Event: outing.Ended{How: outing.EndHome}}, true
			}
			e := Next(o, g.ready)
			if e == nil {
				released = true
				return store.Step{At: at, Event: outing.Released{Verdict: o.Judge(at)}}, true
			}
			return store.Step{At: at, Event: e}, true
		})
		if err != nil {
			return err
		}
	}
	return nil
}
