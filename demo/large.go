package demo

// Wrenfield several times over, for measuring.

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
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
	var seeds []store.Seed
	add := func(pin string, e record.Event) {
		seeds = append(seeds, store.Seed{ID: fmt.Sprintf("large-%06d", len(seeds)+1), By: "lead", At: at, Event: e, PIN: pin})
	}
	add("", yard.Named{Name: "Wrenfield, the large yard", Timezone: Timezone, House: defect.DefaultHouse()})
	add("", yard.PersonAdded{ID: "lead", Name: "Maren Oduvale", Role: operator.Lead, Language: text.English, Units: unit.Metric})
	add("4071", yard.PINSet{ID: "lead"})
	schooled := func(id string) {
		for _, r := range sheets {
			add("", yard.ManualRecorded{Person: id, Manual: operator.ManualRead{Sheet: r.Sheet.ID, Edition: r.Sheet.Edition, Language: text.English, On: at}})
			if r.Sheet.Needs != nil && r.Sheet.Needs.Practice {
				add("", yard.QualificationRecorded{Person: id, Qualification: operator.Qualification{Kind: operator.Practice, Sheet: r.Sheet.ID, On: at, By: "lead"}})
			}
		}
		add("", yard.BornRecorded{Person: id, Born: "1988-09-30"})
	}
	schooled("lead")
	// Technicians, who look at whatever is due: nothing ever keeps a machine in.
	for i := range hands {
		add("", yard.PersonAdded{ID: hand(i), Name: fmt.Sprintf("Hand %02d", i+1), Role: operator.Technician, Language: text.English, Units: unit.Metric})
		schooled(hand(i))
	}
	for i := range size.Machines {
		r := sheets[i%len(sheets)]
		builds := r.Sheet.Builds()
		key := machine.Key(r.Hash, builds[i/len(sheets)%len(builds)])
		add("", yard.MachineAdded{ID: fmt.Sprintf("m-%03d", i), Name: fmt.Sprintf("Rider %03d", i+1), Bay: fmt.Sprint(i + 1), Sheet: key, Hours: float64(100 + i)})
	}
	if err := past.Seed(ctx, seeds); err != nil {
		return err
	}
	g := &generator{random: rand.New(rand.NewPCG(1, uint64(size.Days)))}
	const batch = 25 // days in one transaction
	for day := 0; day < size.Days; day += batch {
		err := past.Bulk(ctx, func(add func(id, machine, person string, steps func(*outing.Outing) (store.Step, bool)) error) error {
			for d := day; d < min(day+batch, size.Days); d++ {
				morning := lastMorning(now).AddDate(0, 0, -(size.Days-1-d)*7/5)
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

// lastMorning is when the last day's outings begin: four hours ago, or before the night
// where the yard's day is younger than that. No outing goes over the end of a day.
func lastMorning(now time.Time) time.Time {
	began := now.Add(-4 * time.Hour)
	if day := yard.DayStart(now, zone()); began.Before(day) {
		return day.Add(-10 * time.Hour)
	}
	return began
}

type generator struct {
	random *rand.Rand
}

// hands is how many operators there are.
const hands = 40

func hand(i int) string { return fmt.Sprintf("hand-%02d", i) }

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
		err := add(fmt.Sprintf("%05d-%03d", day, i), fmt.Sprintf("m-%03d", order[i]), hand(i%hands), func(o *outing.Outing) (store.Step, bool) {
			if o == nil {
				return store.Step{At: at}, true
			}
			steps++
			at = at.Add(15 * time.Second)
			if steps > stop || o.Status == outing.Closed || released && last && i%3 == 1 {
				return store.Step{}, false
			}
			if released {
				if u := o.NotParked(); u != nil && !u.Recorded() {
					at = at.Add(time.Hour)
				}
				var c outing.Command
				c, at = outingtest.Home(o, at)
				return store.Step{At: at, Command: c}, true
			}
			c := outingtest.Next(o, at)
			if c == nil {
				released = true
				c = outing.Release{}
			}
			at = outingtest.Wait(o, at)
			return store.Step{At: at, Command: c}, true
		})
		if err != nil {
			return err
		}
	}
	return nil
}
