package assign

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"testing"
	"time"

	"vespers/core/plane"
)

// throw makes a problem with all that can stand in one.
func throw(seed uint64, zones, operators, machines int) *Problem {
	d := rand.New(rand.NewPCG(seed, 8))
	number := func(low, high int) float64 { return float64(low + d.IntN(high-low)) }
	place := func() plane.Point { return plane.Point{X: number(-300, 300), Y: number(-300, 300)} }
	p := &Problem{From: number(0, 30), To: number(100, 400)}
	for i := range zones {
		z := Zone{ID: fmt.Sprint("z", i), At: place(), Priority: number(1, 4), Deadline: math.Inf(1)}
		if d.IntN(3) == 0 {
			z.Deadline = number(50, 300)
		}
		if d.IntN(3) == 0 {
			from := number(20, 150)
			z.Quiet = [][2]float64{{from, from + number(5, 60)}, {from + 70, from + 70 + number(1, 40)}}
		}
		p.Zones = append(p.Zones, z)
	}
	for i := range operators {
		p.Operators = append(p.Operators, Operator{fmt.Sprint("o", i), number(0, 60)})
	}
	for i := range machines {
		p.Machines = append(p.Machines, Machine{fmt.Sprint("m", i), place(), number(4, 15), number(0, 60)})
	}
	p.Minutes = make([][][]float64, operators)
	for o := range p.Minutes {
		p.Minutes[o] = make([][]float64, machines)
		for m := range p.Minutes[o] {
			p.Minutes[o][m] = make([]float64, zones)
			for z := range p.Minutes[o][m] {
				if d.IntN(3) > 0 {
					p.Minutes[o][m][z] = number(10, 120)
				}
			}
		}
	}
	return p
}

// worst looks at a plan as somebody with a watch would, and says what is wrong with it.
func worst(p *Problem, plan Plan) string {
	type hand struct {
		machine int
		at      plane.Point
		time    float64
	}
	hands, holds, done := map[int]*hand{}, map[int]int{}, map[int]bool{}
	priority, last, sum := 0.0, 0.0, 0.0
	for i, j := range plan.Jobs {
		z, m := p.Zones[j.Zone], p.Machines[j.Machine]
		if i > 0 && j.Start < plan.Jobs[i-1].Start-1e-6 {
			return "not by their starts"
		}
		if done[j.Zone] {
			return "a zone twice"
		}
		done[j.Zone] = true
		if who, held := holds[j.Machine]; held && who != j.Operator {
			return "two on a machine"
		}
		holds[j.Machine] = j.Operator
		h := hands[j.Operator]
		if h == nil {
			h = &hand{j.Machine, m.At, max(p.From, m.From, p.Operators[j.Operator].From)}
			hands[j.Operator] = h
		}
		if h.machine != j.Machine {
			return "another machine"
		}
		way := math.Hypot(h.at.X-z.At.X, h.at.Y-z.At.Y) * 1.4 / 1000 / m.Speed * 60
		takes := p.Minutes[j.Operator][j.Machine][j.Zone]
		switch {
		case takes == 0:
			return "may not"
		case j.Start < h.time+way-1e-6:
			return "begun before it is there"
		case math.Abs(j.End-j.Start-takes) > 1e-6:
			return "not whole"
		case j.End > p.To+1e-6 || j.End > z.Deadline+1e-6:
			return "too late"
		}
		for _, q := range z.Quiet {
			if j.Start < q[1]-1e-6 && j.End > q[0]+1e-6 {
				return "in a quiet time"
			}
		}
		h.at, h.time = z.At, j.End
		priority, last, sum = priority+z.Priority, max(last, j.End), sum+j.End
	}
	if math.Abs(priority-plan.Priority)+math.Abs(last-plan.Last)+math.Abs(sum-plan.Sum) > 1e-6 {
		return fmt.Sprintf("its sums are %v %v %v", priority, last, sum)
	}
	if len(plan.Jobs)+len(plan.Left) != len(p.Zones) || plan.Priority > plan.AtMost+1e-9 {
		return "what is left, or at most"
	}
	return ""
}

// worth is what a plan comes to, the better the greater.
type worth struct{ priority, last, sum float64 }

func (a worth) above(b worth) bool {
	switch {
	case math.Abs(a.priority-b.priority) > 1e-9:
		return a.priority > b.priority
	case math.Abs(a.last-b.last) > 1e-9:
		return a.last < b.last
	}
	return a.sum < b.sum-1e-9
}

// tryAll is the best of every way there is: each zone in turn is put at the end of
// somebody's turn, in every order.
func tryAll(p *Problem) (best worth) {
	type hand struct {
		machine int
		at      plane.Point
		time    float64
	}
	hands := make([]hand, len(p.Operators))
	for o := range hands {
		hands[o].machine = -1
	}
	taken := make([]bool, len(p.Machines))
	done := make([]bool, len(p.Zones))
	var try func(w worth)
	try = func(w worth) {
		if w.above(best) {
			best = w
		}
		for z, zone := range p.Zones {
			if done[z] {
				continue
			}
			for o := range hands {
				for m, machine := range p.Machines {
					takes, h := p.Minutes[o][m][z], hands[o]
					if takes == 0 || h.machine >= 0 && h.machine != m || h.machine < 0 && taken[m] {
						continue
					}
					if h.machine < 0 {
						h = hand{m, machine.At, max(p.From, machine.From, p.Operators[o].From)}
					}
					start := h.time + h.at.Distance(zone.At)*1.4*60/1000/machine.Speed
					for again := true; again; {
						again = false
						for _, q := range zone.Quiet {
							if start < q[1]-1e-9 && start+takes > q[0]+1e-9 {
								start, again = q[1], true
							}
						}
					}
					if end := start + takes; end <= min(p.To, zone.Deadline)+1e-9 {
						before := hands[o]
						hands[o], done[z], taken[m] = hand{m, zone.At, end}, true, true
						try(worth{w.priority + zone.Priority, max(w.last, end), w.sum + end})
						hands[o], done[z], taken[m] = before, false, before.machine == m || before.machine < 0 && false
					}
				}
			}
		}
	}
	try(worth{})
	return best
}

// TestExactAgainstEveryWay of small problems.
func TestExactAgainstEveryWay(t *testing.T) {
	for seed := range uint64(400) {
		p := throw(seed, 1+int(seed%4), 1+int(seed/4%3), 1+int(seed/12%3))
		plan := p.Solve()
		if wrong := worst(p, plan); wrong != "" || !plan.Exact || plan.AtMost != plan.Priority {
			t.Fatalf("seed %d: %s, %+v", seed, wrong, plan)
		}
		best := tryAll(p)
		if math.Abs(plan.Priority-best.priority) > 1e-6 || math.Abs(plan.Last-best.last) > 1e-6 || math.Abs(plan.Sum-best.sum) > 1e-6 {
			t.Errorf("seed %d: %v %v %v, not %v", seed, plan.Priority, plan.Last, plan.Sum, best)
		}
	}
}

// TestTheLargestExact is solved within its time, and the same each time.
func TestTheLargestExact(t *testing.T) {
	for seed := range uint64(6) {
		p := throw(seed, 8, 5, 6)
		if seed == 0 { // everybody may take everything everywhere, with time for all
			p.To = 2000
			for o := range p.Minutes {
				for m := range p.Minutes[o] {
					for z := range p.Minutes[o][m] {
						p.Minutes[o][m][z] = float64(30 + (o*7+m*5+z*3)%40)
					}
				}
			}
		}
		began := time.Now()
		plan := p.Solve()
		t.Log(time.Since(began), plan.Priority, plan.Last)
		if wrong := worst(p, plan); wrong != "" || !plan.Exact {
			t.Errorf("seed %d: %s", seed, wrong)
		}
		if again := p.Solve(); !reflect.DeepEqual(plan, again) {
			t.Errorf("seed %d: another plan", seed)
		}
	}
}

// TestBeyondTheExact: a plan that can be kept, near to the best, and a bound that holds.
func TestBeyondTheExact(t *testing.T) {
	for seed := range uint64(3) {
		p := throw(seed, 30, 8, 10)
		plan := p.Solve()
		if wrong := worst(p, plan); wrong != "" || plan.Exact {
			t.Errorf("seed %d: %s", seed, wrong)
		}
		if again := p.Solve(); !reflect.DeepEqual(plan, again) {
			t.Errorf("seed %d: another plan", seed)
		}
	}
	for seed := range uint64(25) { // what the search finds of what is known exactly
		p := throw(seed, 6, 3, 4)
		best, found := p.Solve(), p.plan(p.search())
		if wrong := worst(p, Plan{found.Jobs, found.Priority, found.Last, found.Sum, false, found.Priority, found.Left}); wrong != "" {
			t.Fatalf("seed %d: %s", seed, wrong)
		}
		if bound := p.bound(); bound < best.Priority-1e-9 {
			t.Errorf("seed %d: bound %v under %v", seed, bound, best.Priority)
		}
		if found.Priority != best.Priority || found.Last > best.Last*1.01 {
			t.Errorf("seed %d: found %v %v, not %v %v", seed, found.Priority, found.Last, best.Priority, best.Last)
		}
	}
}

// TestNothingToDo: no zones, nobody, no machine, nothing that may be done.
func TestNothingToDo(t *testing.T) {
	for name, p := range map[string]*Problem{"no zones": throw(1, 0, 2, 2), "nobody": throw(1, 3, 0, 2), "no machine": throw(1, 3, 2, 0), "nobody of many": throw(1, 12, 0, 9)} {
		if plan := p.Solve(); len(plan.Jobs) > 0 || plan.Priority != 0 || plan.Last != 0 || plan.Sum != 0 || len(plan.Left) != len(p.Zones) || plan.AtMost != 0 {
			t.Errorf("%s: %+v", name, plan)
		}
	}
}

// TestTheBound holds with priorities in fractions too, and is a whole number where they
// all are.
func TestTheBound(t *testing.T) {
	for seed := range uint64(200) {
		p := throw(seed, 5, 2, 2)
		if bound := p.bound(); bound != math.Trunc(bound) {
			t.Errorf("seed %d: %v", seed, bound)
		}
		for i := range p.Zones {
			p.Zones[i].Priority *= .37
		}
		if best, bound := p.Solve().Priority, p.bound(); bound < best-1e-9 {
			t.Errorf("seed %d: bound %v under %v", seed, bound, best)
		}
	}
	one := &Problem{To: 60, Zones: []Zone{{Priority: 2, Deadline: math.Inf(1)}, {Priority: 1.5, Deadline: math.Inf(1)}}, Operators: []Operator{{}}, Machines: []Machine{{Speed: 5}, {Speed: 5}}, Minutes: [][][]float64{{{40, 40}, {40, 40}}}}
	if bound := one.bound(); math.Abs(bound-2.75) > 1e-9 { // the second zone half
		t.Errorf("an hour of one: %v", bound)
	}
	one.Zones[0], one.Zones[1] = one.Zones[1], one.Zones[0] // whichever stands first
	if bound := one.bound(); math.Abs(bound-2.75) > 1e-9 {
		t.Errorf("an hour of one, the other way round: %v", bound)
	}
	one.Operators = []Operator{{From: 50}, {}, {From: 30}} // one machine: the one who is there longest
	one.Machines = one.Machines[:1]
	one.Minutes = [][][]float64{{{40, 40}}, {{40, 40}}, {{40, 40}}}
	if bound := one.bound(); math.Abs(bound-2.75) > 1e-9 {
		t.Errorf("three people and a machine: %v", bound)
	}
}

// TestWhatIsTriedExactly: as much as is promised, and nothing beyond.
func TestWhatIsTriedExactly(t *testing.T) {
	for _, c := range []struct {
		zones, operators, machines int
		exact                      bool
	}{{8, 5, 6, true}, {9, 1, 1, false}, {1, 6, 1, false}, {1, 1, 7, false}} {
		if plan := throw(3, c.zones, c.operators, c.machines).Solve(); plan.Exact != c.exact {
			t.Errorf("%+v: %v", c, plan.Exact)
		}
	}
}
