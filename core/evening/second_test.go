package evening

import (
	"fmt"
	"math"
	"math/rand"
	"slices"
	"testing"
)

// The judge written a second time, from the words alone, slow and plain: every way to
// share the machines, and for each every order in which jobs can be begun, one after
// another, each as soon as its machine, its person, its metal and a place allow.

type plain struct {
	e     Evening
	close float64
	sum   float64
}

func (p *plain) tryAll() {
	owner := map[string]string{}
	var share func(i int)
	share = func(i int) {
		if i == len(p.e.Machines) {
			p.orders(owner)
			return
		}
		for _, who := range p.e.Machines[i].Who {
			owner[p.e.Machines[i].ID] = who
			share(i + 1)
		}
	}
	share(0)
}

func (p *plain) orders(owner map[string]string) {
	free := map[string]float64{}
	for _, person := range p.e.People {
		free[person.ID] = person.From
	}
	for _, m := range p.e.Machines {
		for _, who := range m.Who {
			if _, known := free[who]; !known {
				free[who] = 0
			}
		}
	}
	places := map[string][]float64{}
	for id, n := range p.e.Places {
		places[id] = make([]float64, n)
	}
	ends := make([][]float64, len(p.e.Machines)) // of each job, -1 before
	left := 0
	for i, m := range p.e.Machines {
		for range m.Jobs {
			ends[i] = append(ends[i], -1)
			left++
		}
	}
	p.next(owner, free, places, ends, left, 0)
}

func (p *plain) next(owner map[string]string, free map[string]float64, places map[string][]float64, ends [][]float64, left int, since float64) {
	if left == 0 {
		close, sum := 0.0, 0.0
		for _, list := range ends {
			close = max(close, slices.Max(list))
		}
		for _, f := range free {
			sum += f
		}
		if close < p.close-1e-6 || close < p.close+1e-6 && sum < p.sum-1e-6 {
			p.close, p.sum = close, sum
		}
		return
	}
	for i, m := range p.e.Machines {
		for k, j := range m.Jobs {
			if ends[i][k] >= 0 {
				continue
			}
			who := owner[m.ID]
			at := max(m.Arrives, free[who])
			if j.Cool {
				at = max(at, m.Arrives+m.Cool)
			}
			ready := true
			for b, end := range ends[i] {
				at = max(at, end) // one job at a time
				ready = ready && (end >= 0 || b >= k || j.Early)
			}
			if !ready {
				continue
			}
			units := []float64{0}
			if j.Place != "" {
				units = places[j.Place]
			}
			for u := range units {
				at := max(at, units[u])
				if at < since-1e-9 || at+j.Minutes > p.close+1e-6 {
					continue // jobs are begun in the order of time
				}
				wasFree, wasUnit := free[who], units[u]
				free[who], ends[i][k] = at+j.Minutes, at+j.Minutes
				if j.Place != "" {
					units[u] = at + j.Minutes
				}
				p.next(owner, free, places, ends, left-1, at)
				free[who], ends[i][k], units[u] = wasFree, -1, wasUnit
				if j.Place == "" {
					break
				}
			}
		}
	}
}

// judged is what the second judge says of an evening.
func judged(e Evening) (close, sum float64) {
	p := &plain{e: e, close: math.Inf(1), sum: math.Inf(1)}
	p.tryAll()
	return p.close, p.sum
}

// random is some evening of a few jobs.
func random(r *rand.Rand, machines, people, jobs int) Evening {
	e := Evening{Places: map[string]int{"wash": 1 + r.Intn(5)/4, "fuel": 1}}
	for i := range people {
		p := Person{ID: fmt.Sprint("p", i)}
		if r.Intn(3) == 0 {
			p.From = float64(r.Intn(12))
		}
		e.People = append(e.People, p)
	}
	for i := range machines {
		m := Machine{ID: fmt.Sprint("m", i), Arrives: float64(r.Intn(3) * r.Intn(8)), Cool: float64(r.Intn(2) * r.Intn(15))}
		for _, p := range e.People {
			if r.Intn(3) > 0 {
				m.Who = append(m.Who, p.ID)
			}
		}
		if len(m.Who) == 0 {
			m.Who = []string{e.People[r.Intn(people)].ID}
		}
		for k := range 1 + r.Intn(jobs) {
			j := Job{ID: fmt.Sprint("j", k), Minutes: float64(1+r.Intn(20)) / 2, Place: []string{"", "", "wash", "fuel"}[r.Intn(4)], Cool: r.Intn(3) == 0, Early: r.Intn(5) == 0}
			m.Jobs = append(m.Jobs, j)
		}
		e.Machines = append(e.Machines, m)
	}
	return e
}

// TestAgreesWithTheSecondJudge on closing time and on the sum of going home, and each
// plan keeps every rule.
func TestAgreesWithTheSecondJudge(t *testing.T) {
	n := 400
	if testing.Short() {
		n = 60
	}
	for seed := range n {
		r := rand.New(rand.NewSource(int64(seed)))
		e := random(r, 1+r.Intn(3), 1+r.Intn(3), 3)
		plan := Make(e)
		kept(t, e, plan)
		close, sum := judged(e)
		if !plan.Exact || math.Abs(plan.Close-close) > 1e-6 || math.Abs(plan.GoingHome-sum) > 1e-6 || plan.AtLeast != plan.Close {
			t.Errorf("seed %d: %v closes %v, sum %v; the second judge says %v, %v\n%+v", seed, plan.Exact, plan.Close, plan.GoingHome, close, sum, e)
		}
		if low := newYard(e).bound(); low > close+1e-6 {
			t.Errorf("seed %d: at least %v, and it closes after %v", seed, low, close)
		}
		y := newYard(e)
		large := y.search(y.share(), 200)
		if large.close < close-1e-6 {
			t.Errorf("seed %d: the search closes after %v, the best after %v", seed, large.close, close)
		}
	}
}

// kept holds a plan against every rule, by itself.
func kept(t *testing.T, e Evening, plan Plan) {
	t.Helper()
	from, last := map[string]float64{}, map[string]float64{}
	for _, m := range e.Machines {
		for _, who := range m.Who {
			last[who] = 0
		}
	}
	for _, p := range e.People {
		from[p.ID], last[p.ID] = p.From, p.From
	}
	find := func(machine, job string) Start {
		i := slices.IndexFunc(plan.Jobs, func(s Start) bool { return s.Machine == machine && s.Job == job })
		if i < 0 {
			t.Fatalf("%s %s is not planned", machine, job)
		}
		return plan.Jobs[i]
	}
	close := 0.0
	for _, m := range e.Machines {
		who := find(m.ID, m.Jobs[0].ID).Who
		if !slices.Contains(m.Who, who) {
			t.Errorf("%s does %s", who, m.ID)
		}
		for k, j := range m.Jobs {
			s := find(m.ID, j.ID)
			close = max(close, s.End)
			last[who] = max(last[who], s.End)
			if s.Who != who || math.Abs(s.End-s.Start-j.Minutes) > 1e-6 || s.Start < m.Arrives-1e-6 || s.Start < from[who]-1e-6 || j.Cool && s.Start < m.Arrives+m.Cool-1e-6 || s.Place != j.Place {
				t.Errorf("%+v", s)
			}
			for b := range k {
				if before := find(m.ID, m.Jobs[b].ID); !j.Early && before.End > s.Start+1e-6 {
					t.Errorf("%+v before %+v", s, before)
				}
			}
		}
	}
	apart := func(a, b Start) bool { return a.End <= b.Start+1e-6 || b.End <= a.Start+1e-6 }
	for i, a := range plan.Jobs {
		at := 1
		for _, b := range plan.Jobs[:i] {
			if a.Machine == b.Machine && !apart(a, b) || a.Who == b.Who && !apart(a, b) {
				t.Errorf("%+v while %+v", a, b)
			}
		}
		for k, b := range plan.Jobs {
			if k != i && a.Place != "" && b.Place == a.Place && b.Start <= a.Start+1e-9 && b.End > a.Start+1e-6 {
				at++
			}
		}
		if a.Place != "" && at > e.Places[a.Place] {
			t.Errorf("%d at %s at %v", at, a.Place, a.Start)
		}
		if i > 0 && a.Start < plan.Jobs[i-1].Start {
			t.Errorf("%+v after %+v", a, plan.Jobs[i-1])
		}
	}
	sum := 0.0
	for _, end := range last {
		sum += end
	}
	if math.Abs(close-plan.Close) > 1e-6 || math.Abs(sum-plan.GoingHome) > 1e-6 || plan.AtLeast > plan.Close+1e-6 {
		t.Errorf("says %v, %v of %v, %v", plan.Close, plan.GoingHome, close, sum)
	}
}
