package main

// Measures of the evening's plan.

import (
	"fmt"
	"math/rand/v2"
	"time"

	"vespers/core/evening"
)

// anEvening is an evening of a yard: six jobs a machine, one wash place and one fuel point.
// Where all may do all nobody is spared; else each machine is one or two people's.
func anEvening(r *rand.Rand, machines, people int, all bool) evening.Evening {
	e := evening.Evening{Places: map[string]int{"wash": 1, "fuel": 1}}
	n := func(least, span int) float64 { return float64(least+r.IntN(span)) + float64(r.IntN(2))/2 }
	for i := range people {
		e.People = append(e.People, evening.Person{ID: fmt.Sprint("person ", i), From: float64(i)})
	}
	spread := 60
	if all {
		spread = 20
	}
	for i := range machines {
		m := evening.Machine{ID: fmt.Sprint("machine ", i), Arrives: float64(r.IntN(spread)), Cool: float64(10 + r.IntN(20))}
		many := people
		if !all {
			many = 1 + r.IntN(2)
		}
		for _, p := range r.Perm(people)[:many] {
			m.Who = append(m.Who, e.People[p].ID)
		}
		m.Jobs = []evening.Job{
			{ID: "air", Minutes: n(3, 4)},
			{ID: "wash", Minutes: n(6, 8), Place: "wash", Cool: true},
			{ID: "grease", Minutes: n(4, 5)},
			{ID: "fuel", Minutes: n(3, 3), Place: "fuel", Cool: true},
			{ID: "look", Minutes: n(2, 3), Early: true},
			{ID: "park", Minutes: n(2, 3), Cool: true},
		}
		e.Machines = append(e.Machines, m)
	}
	return e
}

// evenings times plans of usual, hard and large evenings, and how much sooner they close
// than the machines one by one as they come.
func evenings(t *table) error {
	for _, of := range []struct {
		what             string
		machines, people int
		all              bool
		most             time.Duration
		gap              float64
	}{
		{"evening of 6 machines, 4 people, exact", 6, 4, false, 500 * time.Millisecond, 0},
		{"the same, everybody may take everything, exact", 6, 4, true, 10 * time.Second, 0},
		{"evening of 20 machines, 10 people, within 5 % of its bound", 20, 10, false, 5 * time.Second, 0.05},
		{"the same, everybody may take everything", 20, 10, true, 5 * time.Second, 0.05},
	} {
		random := rand.New(rand.NewPCG(19, uint64(of.machines)))
		var took times
		gap, sooner, open := 0.0, 0.0, 0
		const count = 20
		for range count {
			e := anEvening(random, of.machines, of.people, of.all)
			var plan evening.Plan
			took = append(took, best(1, func() { plan = evening.Make(e) }))
			gap = max(gap, plan.Close/plan.AtLeast-1)
			sooner += (1 - plan.Close/plan.InOrder) / count
			if !plan.Exact {
				open++
			}
		}
		ok := took.at(1) <= of.most && gap <= of.gap+1e-9 && (of.gap > 0 || open == 0)
		t.row(of.what+", slowest of 20", of.most.String(), fmt.Sprintf("%s, median %s, worst gap %.1f %%, closes %.0f %% sooner than in order of arrival", ms(took.at(1)), ms(took.median()), gap*100, sooner*100), ok)
	}
	return nil
}
