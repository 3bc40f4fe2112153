package walk

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
)

// randomSheet is a loop with places, settings, needs and an order without
// cycles.
func randomSheet(r *rand.Rand, stations, places, settings, checks int) *machine.Sheet {
	s := &machine.Sheet{Loop: machine.Loop{Length: float64(stations) * 1.5}}
	var spots []string
	for i := range stations {
		id := fmt.Sprintf("st%d", i)
		s.Loop.Stations = append(s.Loop.Stations, machine.Station{ID: id, At: float64(i)*1.5 + float64(r.IntN(10))/10})
		spots = append(spots, id)
	}
	for i := range places {
		id := fmt.Sprintf("pl%d", i)
		s.Places = append(s.Places, machine.Place{ID: id, Station: spots[r.IntN(stations)], Metres: float64(r.IntN(8)) / 10})
		spots = append(spots, id)
	}
	s.OperatorPlace = spots[r.IntN(len(spots))]
	for i := range settings {
		st := machine.Setting{ID: fmt.Sprintf("set%d", i), At: spots[r.IntN(len(spots))], Start: "w0", End: "w0"}
		for w := range 2 + r.IntN(2) {
			st.Ways = append(st.Ways, machine.Way{ID: fmt.Sprintf("w%d", w), Seconds: float64(r.IntN(4) * 5)})
		}
		if r.IntN(3) == 0 {
			st.End = "w1"
		}
		s.Settings = append(s.Settings, st)
	}
	for i := range checks {
		c := machine.Check{ID: fmt.Sprintf("c%02d", i), Phase: machine.Cold, At: spots[r.IntN(len(spots))], Seconds: 5, Needs: map[string]string{}}
		for _, st := range s.Settings {
			if r.IntN(3) == 0 {
				c.Needs[st.ID] = st.Ways[r.IntN(len(st.Ways))].ID
			}
		}
		for j := range i {
			if r.IntN(6) == 0 {
				c.After = append(c.After, fmt.Sprintf("c%02d", j))
			}
		}
		s.Checks = append(s.Checks, c)
	}
	r.Shuffle(len(s.Checks), func(i, j int) { s.Checks[i], s.Checks[j] = s.Checks[j], s.Checks[i] })
	return s
}

// brute is the least cost by trying everything: every check on its own, every
// setting in every way, at any time.
func brute(p *problem) int64 {
	type pair struct {
		n    node
		cost int64
	}
	least := int64(math.MaxInt64)
	cost := map[node]int64{}
	queue := []pair{{p.begin(), 0}}
	for len(queue) > 0 {
		at := queue[len(queue)-1]
		queue = queue[:len(queue)-1]
		if old, ok := cost[at.n]; ok && old <= at.cost || at.cost >= least {
			continue
		}
		cost[at.n] = at.cost
		if p.complete(at.n) {
			least = min(least, at.cost+p.distance[at.n.spot][p.end])
			continue
		}
		for i := range p.checks {
			if p.open(at.n, i) {
				to := at.n
				to.spot = uint8(p.checks[i].spot)
				to.done.add(i)
				queue = append(queue, pair{to, at.cost + p.distance[at.n.spot][to.spot]})
			}
		}
		for s := range p.settings {
			for way := range p.settings[s].ways {
				if way != at.n.ways.of(s) {
					to := node{spot: uint8(p.settings[s].spot), ways: at.n.ways.with(s, way), done: at.n.done}
					queue = append(queue, pair{to, at.cost + p.distance[at.n.spot][to.spot] + p.settings[s].costs[way]})
				}
			}
		}
	}
	return least
}

func TestAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for n := range 250 {
		s := randomSheet(r, 3+r.IntN(3), r.IntN(3), r.IntN(3), 1+r.IntN(6))
		plan := Cold(s, Options{})
		p := newProblem(s, Options{})
		looks := int64(0)
		for _, c := range p.checks {
			looks += c.cost
		}
		want := float64((brute(p)+looks)>>10<<10) / unitsASecond
		if !plan.Exact || math.Abs(plan.Seconds-want) > 1e-4 {
			t.Fatalf("sheet %d: %.3f s (exact %v), by brute force %.3f s\n%+v", n, plan.Seconds, plan.Exact, want, plan.Stops)
		}
		follow(t, s, plan, Options{})
	}
}

// follow walks a plan and checks that it can be walked.
func follow(t *testing.T, s *machine.Sheet, plan Plan, o Options) {
	t.Helper()
	stands, done := map[string]string{}, map[string]bool{}
	for _, st := range s.Settings {
		stands[st.ID] = st.Start
	}
	wanted := 0
	for i := range s.Checks {
		if s.Checks[i].Phase == machine.Cold && (o.Only == nil || o.Only(&s.Checks[i])) {
			wanted++
		}
	}
	for _, stop := range plan.Stops {
		if stop.Do == Set {
			stands[stop.ID] = stop.To
			continue
		}
		c, _ := s.Check(stop.ID)
		for setting, want := range c.Needs {
			if stands[setting] != want {
				t.Fatalf("%s is looked at with %s %s", c.ID, setting, stands[setting])
			}
		}
		for _, id := range c.After {
			if before, _ := s.Check(id); !done[id] && before.Phase == machine.Cold && (o.Only == nil || o.Only(before)) {
				t.Fatalf("%s comes before %s", c.ID, id)
			}
		}
		if done[c.ID] {
			t.Fatalf("%s twice", c.ID)
		}
		done[c.ID] = true
	}
	if len(done)+len(plan.Later) != wanted {
		t.Fatalf("%d of %d points", len(done)+len(plan.Later), wanted)
	}
	for _, st := range s.Settings {
		if stands[st.ID] != st.End {
			t.Fatalf("%s ends %s", st.ID, stands[st.ID])
		}
	}
}

func TestTwelvePairsAreExactAndLargeOnesBounded(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 12 {
		s := randomSheet(r, 6, 4, 2, 12)
		began := time.Now()
		plan := Cold(s, Options{})
		t.Logf("%d pairs, %v", newProblem(s, Options{}).pairs, time.Since(began))
		if !plan.Exact || plan.AtLeast != plan.Seconds {
			t.Errorf("not exact: %v s, at least %v s", plan.Seconds, plan.AtLeast)
		}
	}
	for range 6 {
		s := randomSheet(r, 12, 10, 4, 70)
		plan := Cold(s, Options{})
		if plan.AtLeast > plan.Seconds+1e-6 {
			t.Errorf("at least %v s, but %v s were found", plan.AtLeast, plan.Seconds)
		}
		follow(t, s, plan, Options{})
		if again := Cold(s, Options{}); !reflect.DeepEqual(again, plan) {
			t.Error("the same sheet gave another plan")
		}
		t.Logf("%d pairs: %.0f s, at least %.0f s, by the sheet %.0f s, exact %v", newProblem(s, Options{}).pairs, plan.Seconds, plan.AtLeast, plan.SheetOrder, plan.Exact)
	}
}

// TestBoundIsNeverTooHigh: no node on a walk costs less than its bound says.
func TestBoundIsNeverTooHigh(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 11))
	for range 60 {
		s := randomSheet(r, 4, 2, 2, 5)
		p := newProblem(s, Options{})
		if least := brute(p); p.bound(p.begin()) > least {
			t.Fatalf("bound %d, least %d", p.bound(p.begin()), least)
		}
	}
}

func TestHotAndBreak(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	s := randomSheet(r, 5, 2, 1, 9)
	oil, _ := s.Check("c02")
	oil.Cool = 30
	follower, _ := s.Check("c05")
	follower.After = append(follower.After, "c02")
	for minutes, want := range map[float64]bool{0: true, 29: true, 30: false, 500: false} {
		t.Run(fmt.Sprint(minutes), func(t *testing.T) {
			plan := Cold(s, Options{Hot: true, Minutes: minutes})
			if off := slices.Contains(plan.Later, "c02"); off != want {
				t.Errorf("after %v min: put off %v", minutes, off)
			}
			if want && !slices.Contains(plan.Later, "c05") {
				t.Error("what comes after a point put off was not put off")
			}
		})
	}
	if plan := Cold(s, Options{}); len(plan.Later) > 0 {
		t.Errorf("put off on a cold machine: %v", plan.Later)
	}
	oil.Break = true
	plan := Cold(s, Options{Only: Break})
	if n := len(plan.Stops); n == 0 || n > 4 {
		t.Errorf("at a break: %+v", plan.Stops)
	}
	follow(t, s, plan, Options{Only: Break})
}

func TestStartAndStandingSettings(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	s := randomSheet(r, 6, 2, 1, 8)
	for _, st := range s.Loop.Stations {
		from := Cold(s, Options{Start: st.ID})
		p := newProblem(s, Options{Start: st.ID})
		if p.spots[p.start].id != st.ID {
			t.Fatalf("starts at %s", p.spots[p.start].id)
		}
		follow(t, s, from, Options{})
	}
	raised := Cold(s, Options{Stands: map[string]string{"set0": "w1"}})
	if p := newProblem(s, Options{Stands: map[string]string{"set0": "w1"}}); p.settings[0].start != 1 {
		t.Error("a setting that stands otherwise was not seen")
	}
	if len(raised.Stops) < 8 {
		t.Errorf("%d stops", len(raised.Stops))
	}
}
