package demo

// A yard with machines of every kind, for measuring.

import (
	"context"
	"fmt"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/store"
)

// Kinds fills an empty yard with so many machines, of every sheet and every way that it is
// built in turn, and one lead; no machine has gone out yet.
func Kinds(ctx context.Context, s *store.Store, machines int, now time.Time) error {
	all, err := catalogue.All()
	if err != nil {
		return err
	}
	var keys []string
	for _, r := range all {
		if err := s.AddSheet(ctx, r); err != nil {
			return err
		}
		for _, build := range r.Sheet.Builds() {
			keys = append(keys, machine.Key(r.Hash, build))
		}
	}
	at := now.AddDate(0, 0, -1)
	var seeds []store.Seed
	add := func(pin string, e record.Event) {
		seeds = append(seeds, store.Seed{ID: fmt.Sprintf("kinds-%06d", len(seeds)+1), By: "lead", At: at, Event: e, PIN: pin})
	}
	add("", yard.Named{Name: "Wrenfield, every kind", Timezone: Timezone, House: defect.DefaultHouse()})
	add("", yard.PersonAdded{ID: "lead", Name: "Maren Oduvale", Role: operator.Lead, Language: text.English, Units: unit.Metric})
	add("4071", yard.PINSet{ID: "lead"})
	for i := range machines {
		add("", yard.MachineAdded{ID: fmt.Sprintf("k-%03d", i), Name: fmt.Sprintf("Machine %03d", i+1), Bay: fmt.Sprint(i + 1), Sheet: keys[i%len(keys)], Hours: float64(i)})
	}
	return s.WithClock(func() time.Time { return at }).Seed(ctx, seeds)
}
