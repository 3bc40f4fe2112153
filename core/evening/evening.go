// Package evening plans the close of a day: which person washes, greases, fuels and puts
// away which machine when, so that the yard is closed soonest. Metal that is hot waits,
// a wash place holds one machine, a person does one thing at a time. Trade practice: a
// machine is followed from its first job to its last by one person.
//
// Times are minutes from now on; two that differ by less than a millionth are the same.
package evening

import (
	"cmp"
	"math"
	"slices"
)

// Evening is what has to be done until the yard is closed.
type Evening struct {
	// Places are how many of each there are, by id.
	Places map[string]int
	// People are those whose going home counts; none is whoever may do something.
	People   []Person
	Machines []Machine
}

// Person is somebody who may do jobs from a minute on.
type Person struct {
	ID   string
	From float64
}

// Machine is one that is home or on its way.
type Machine struct {
	ID string
	// Arrives is in how many minutes it is home, Cool in how many after that its metal
	// is cool.
	Arrives, Cool float64
	// Who may do its jobs; the plan chooses one of them for all.
	Who  []string
	Jobs []Job
}

// Job is one thing that is done to a machine, in the order of its list.
type Job struct {
	ID      string
	Minutes float64
	// Place is where it is done, "" for anywhere.
	Place string
	// Cool: its metal has to be cool. Early: it waits for no job before it.
	Cool, Early bool
}

// Start is a job as it is planned.
type Start struct {
	Machine, Job, Who, Place string
	Start, End               float64
}

// Plan is who does what when.
type Plan struct {
	// Close is when the last job ends, AtLeast what no plan can go below.
	Close, AtLeast float64
	// Exact: no plan closes earlier, and none that closes then lets people go home
	// earlier in sum; of a large evening only that none closes earlier. What is small
	// and still too tangled for proofsMost is not exact.
	Exact bool
	// GoingHome is the sum of when each person ends their last job.
	GoingHome float64
	Jobs      []Start
	// InOrder is when the yard would be closed if each machine were done as it comes.
	InOrder float64
}

// What is planned exactly.
const (
	machinesMost = 6
	jobsMost     = 6
	peopleMost   = 4
)

// same is how much two times may differ and be one.
const same = 1e-7

// Make plans an evening without problems. The same evening gives the same plan.
func Make(e Evening) Plan { return planned(e, 1) }

// Soon plans an evening for somebody who waits for it: with a fortieth of the steps, so
// that what is hard is answered in a quarter of a second, and said not to be exact.
func Soon(e Evening) Plan { return planned(e, 40) }

func planned(e Evening, haste int) Plan {
	y := newYard(e)
	y.haste = haste
	var best *schedule
	exact := false
	if y.small() {
		best, exact = y.exact()
	} else {
		best = y.search(y.share(), searchSteps/haste)
	}
	p := Plan{Close: best.close, GoingHome: best.sum, AtLeast: y.bound(), Exact: exact, InOrder: y.inOrder()}
	if exact || !y.small() && p.AtLeast > p.Close-same {
		p.AtLeast, p.Exact = p.Close, true
	}
	for i := range best.starts {
		o := &y.ops[i]
		m := &e.Machines[o.machine]
		j := &m.Jobs[o.job]
		p.Jobs = append(p.Jobs, Start{Machine: m.ID, Job: j.ID, Who: y.people[best.owner[o.machine]].ID, Place: j.Place, Start: best.starts[i], End: best.starts[i] + o.minutes})
	}
	slices.SortStableFunc(p.Jobs, func(a, b Start) int { return cmp.Compare(a.Start, b.Start) })
	return p
}

// op is one job as the search sees it.
type op struct {
	machine, job int
	minutes      float64
	place        int     // index, or -1
	release      float64 // no earlier, by arrival, metal and the jobs before it
	before       uint64  // jobs of its machine that have to be done
	after        float64 // minutes of the jobs of its machine that come after it
}

// yard is an evening as the search sees it.
type yard struct {
	Evening
	people  []Person
	places  []int   // how many of each
	ops     []op    // machine by machine, in the order of their lists
	first   []int   // the first op of each machine, and one more
	who     [][]int // by machine, indices of people
	byStart []int   // ops by release, then as in the file: the best order for one person
	alike   []int   // by person, the first who may do the same from the same minute on
	haste   int     // by which the steps are divided
}

func newYard(e Evening) *yard {
	y := &yard{Evening: e, people: slices.Clone(e.People)}
	index := map[string]int{}
	for i, p := range y.people {
		index[p.ID] = i
	}
	for _, m := range e.Machines {
		var who []int
		for _, id := range m.Who {
			i, known := index[id]
			if !known {
				i = len(y.people)
				index[id], y.people = i, append(y.people, Person{ID: id})
			}
			if !slices.Contains(who, i) {
				who = append(who, i)
			}
		}
		y.who = append(y.who, who)
	}
	names := map[string]int{}
	for m := range e.Machines {
		y.first = append(y.first, len(y.ops))
		y.add(m, names)
	}
	y.first = append(y.first, len(y.ops))
	for i := range y.ops {
		y.byStart = append(y.byStart, i)
	}
	slices.SortStableFunc(y.byStart, func(a, b int) int { return cmp.Compare(y.ops[a].release, y.ops[b].release) })
	for i := range y.people {
		first := 0
		for !y.interchangeable(first, i) {
			first++
		}
		y.alike = append(y.alike, first)
	}
	return y
}

// add puts the jobs of a machine among the ops.
func (y *yard) add(m int, names map[string]int) {
	of := &y.Machines[m]
	at := len(y.ops)
	for k, j := range of.Jobs {
		o := op{machine: m, job: k, minutes: j.Minutes, place: -1, release: of.Arrives}
		if j.Place != "" {
			q, known := names[j.Place]
			if !known {
				q = len(y.places)
				names[j.Place], y.places = q, append(y.places, y.Places[j.Place])
			}
			o.place = q
		}
		if j.Cool {
			o.release += of.Cool
		}
		for b := range k {
			if !j.Early {
				o.before |= 1 << b
				o.release = max(o.release, y.ops[at+b].release)
			}
		}
		y.ops = append(y.ops, o)
	}
	for k := range of.Jobs {
		for l := k + 1; l < len(of.Jobs); l++ {
			if y.ops[at+l].before>>k&1 == 1 {
				y.ops[at+k].after += y.ops[at+l].minutes
			}
		}
	}
}

// interchangeable reports whether two people are one to the plan.
func (y *yard) interchangeable(a, b int) bool {
	if y.people[a].From != y.people[b].From {
		return false
	}
	for _, who := range y.who {
		if slices.Contains(who, a) != slices.Contains(who, b) {
			return false
		}
	}
	return true
}

// small reports whether the evening is one that is planned exactly.
func (y *yard) small() bool {
	able := 0 // who may do anything at all
	for i := range y.people {
		if slices.ContainsFunc(y.who, func(who []int) bool { return slices.Contains(who, i) }) {
			able++
		}
	}
	return len(y.Machines) <= machinesMost && able <= peopleMost && !slices.ContainsFunc(y.Machines, func(m Machine) bool { return len(m.Jobs) > jobsMost })
}

// inOrder is when the yard is closed if the machines are done one by one as they come,
// each by whoever is free first and stays with it.
func (y *yard) inOrder() float64 {
	order := make([]int, len(y.Machines))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(y.Machines[a].Arrives, y.Machines[b].Arrives) })
	free, places := y.starting()
	last := 0.0
	for _, m := range order {
		p := y.who[m][0]
		for _, other := range y.who[m] {
			if free[other] < free[p] {
				p = other
			}
		}
		of := &y.Machines[m]
		t := max(of.Arrives, free[p])
		for k, j := range of.Jobs {
			if j.Cool {
				t = max(t, of.Arrives+of.Cool)
			}
			o := &y.ops[y.first[m]+k]
			unit := 0
			if o.place >= 0 {
				units := places[o.place]
				for i := range units {
					if units[i] < units[unit] {
						unit = i
					}
				}
				t = max(t, units[unit])
			}
			t += j.Minutes
			if o.place >= 0 {
				places[o.place][unit] = t
			}
		}
		free[p], last = t, max(last, t)
	}
	return last
}

// starting is when people and places are free before anything is planned.
func (y *yard) starting() (people []float64, places [][]float64) {
	for _, p := range y.people {
		people = append(people, p.From)
	}
	for _, count := range y.places {
		places = append(places, make([]float64, count))
	}
	return people, places
}

// schedule is a whole plan: who has each machine, and when each op starts.
type schedule struct {
	close, sum float64
	owner      []int
	starts     []float64
}

// better reports whether a plan is better than another, nil for none.
func (s *schedule) better(than *schedule) bool {
	return than == nil || s.close < than.close-same || s.close < than.close+same && s.sum < than.sum-same
}

var never = math.Inf(1)
