package evening

import (
	"fmt"
	"math/rand"
	"slices"
	"testing"
)

// usual is an evening as a yard has them: machines of one kind or another come home over
// an hour, some may be done by one person only.
func usual(r *rand.Rand, machines, people int) Evening {
	e := Evening{Places: map[string]int{"wash": 1, "fuel": 1}}
	for i := range people {
		e.People = append(e.People, Person{ID: fmt.Sprint("p", i), From: float64(r.Intn(3) * 5)})
	}
	for i := range machines {
		m := Machine{ID: fmt.Sprint("m", i), Arrives: float64(r.Intn(60)), Cool: float64(10 + r.Intn(20))}
		for _, p := range r.Perm(people)[:1+r.Intn(2)] {
			m.Who = append(m.Who, e.People[p].ID)
		}
		m.Jobs = evenings(r)
		e.Machines = append(e.Machines, m)
	}
	return e
}

// evenings are the six jobs of a machine.
func evenings(r *rand.Rand) []Job {
	n := func(least, span int) float64 { return float64(least+r.Intn(span)) + float64(r.Intn(2))/2 }
	return []Job{
		{ID: "air", Minutes: n(3, 4)},
		{ID: "wash", Minutes: n(6, 8), Place: "wash", Cool: true},
		{ID: "grease", Minutes: n(4, 5)},
		{ID: "fuel", Minutes: n(3, 3), Place: "fuel", Cool: true},
		{ID: "look", Minutes: n(2, 3), Early: true},
		{ID: "park", Minutes: n(2, 3), Cool: true},
	}
}

// hardest is one in which everybody may take everything, and all wait for one wash place.
func hardest(r *rand.Rand, machines, people int, alike bool) Evening {
	e := Evening{Places: map[string]int{"wash": 1, "fuel": 1}}
	for i := range people {
		p := Person{ID: fmt.Sprint("p", i)}
		if !alike {
			p.From = float64(i)
		}
		e.People = append(e.People, p)
	}
	for i := range machines {
		m := Machine{ID: fmt.Sprint("m", i), Arrives: float64(r.Intn(20)), Cool: float64(5 + r.Intn(20))}
		for _, p := range e.People {
			m.Who = append(m.Who, p.ID)
		}
		m.Jobs = evenings(r)
		e.Machines = append(e.Machines, m)
	}
	return e
}

// TestHardEvenings are proved: everybody may take everything, all wait for one wash
// place, people differ or are alike, and two wash places.
func TestHardEvenings(t *testing.T) {
	seeds := 3
	if testing.Short() {
		seeds = 1
	}
	for seed := range seeds {
		two := hardest(rand.New(rand.NewSource(int64(seed))), 6, 4, false)
		two.Places["wash"] = 2
		for name, e := range map[string]Evening{
			"usual":      usual(rand.New(rand.NewSource(int64(seed))), 6, 4),
			"alike":      hardest(rand.New(rand.NewSource(int64(seed))), 6, 4, true),
			"different":  hardest(rand.New(rand.NewSource(int64(seed))), 6, 4, false),
			"two places": two,
		} {
			p := Make(e)
			kept(t, e, p)
			if again := Make(e); !p.Exact || p.Close > p.InOrder+1e-6 || !slices.Equal(again.Jobs, p.Jobs) {
				t.Errorf("%s %d: exact %v, closes %v, in order %v", name, seed, p.Exact, p.Close, p.InOrder)
			}
			spread := e
			spread.People = nil // all who stand in a who
			if q := Make(spread); !q.Exact {
				t.Errorf("%s %d: nobody named, and not exact", name, seed)
			}
		}
	}
}

// TestLargeEvenings: every rule kept, and the bound near.
func TestLargeEvenings(t *testing.T) {
	for seed := range 2 {
		e := usual(rand.New(rand.NewSource(int64(seed))), 20, 10)
		p := Make(e)
		kept(t, e, p)
		if p.Close > p.AtLeast*1.05 || p.Close > p.InOrder+1e-6 {
			t.Errorf("%d: closes %v, at least %v, in order %v", seed, p.Close, p.AtLeast, p.InOrder)
		}
	}
	many := usual(rand.New(rand.NewSource(9)), 70, 66) // more people than fit in a word
	kept(t, many, Make(many))
}

// TestTooTangled: every job at one of two places, and everybody may take everything. What
// cannot be proved in time is not called exact, and what is said of it holds.
func TestTooTangled(t *testing.T) {
	if testing.Short() {
		t.Skip()
	}
	r := rand.New(rand.NewSource(1))
	e := hardest(r, 6, 4, false)
	for i := range e.Machines {
		for k := range e.Machines[i].Jobs {
			e.Machines[i].Jobs[k].Place = []string{"wash", "fuel"}[r.Intn(2)]
		}
	}
	p := Make(e)
	kept(t, e, p)
	if p.Exact || p.AtLeast > p.Close+1e-6 || p.Close > p.AtLeast*1.02 {
		t.Errorf("%v: closes %v, at least %v", p.Exact, p.Close, p.AtLeast)
	}
}
