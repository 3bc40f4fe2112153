// Package assign finds who takes which machine to which zones in what order: as much as
// matters most, done as early as can be. Minutes of one clock, metres, km/h.
package assign

import (
	"cmp"
	"math"
	"slices"

	"vespers/core/plane"
)

// equal is how near two numbers are that are the same.
const equal = 1e-9

// detour is how much longer the way on the ground is than the straight line (trade
// practice).
const detour = 1.4

// Zone is a piece of work: it is done once, whole, without a break, outside its quiet times
// and ended by its deadline, both in minutes. Infinity is no deadline.
type Zone struct {
	ID       string
	At       plane.Point // the middle of it
	Priority float64
	Deadline float64
	Quiet    [][2]float64
}

// Operator is somebody who is there from a minute on.
type Operator struct {
	ID   string
	From float64
}

// Machine stands at a place, can be had from a minute on, and travels at a speed in km/h.
type Machine struct {
	ID    string
	At    plane.Point
	Speed float64
	From  float64
}

// Problem is what has to be assigned within a window of minutes. An operator keeps one
// machine, and a machine one operator.
type Problem struct {
	From, To  float64
	Zones     []Zone
	Operators []Operator
	Machines  []Machine
	// Minutes is how long a zone takes an operator with a machine: operators, machines,
	// zones; 0 is what they may not do.
	Minutes [][][]float64
}

// Job is one zone of a plan.
type Job struct {
	Zone, Operator, Machine int
	Start, End              float64
}

// Plan is who does what when, by start. Last is when the last zone is done, Sum the sum of
// the ends; Left are the zones that nobody does. Priority is no more than AtMost, whoever
// does what; an exact plan is the best that there is.
type Plan struct {
	Jobs                []Job
	Priority, Last, Sum float64
	Exact               bool
	AtMost              float64
	Left                []int
}

// The most that is solved exactly.
const (
	mostZones     = 8
	mostOperators = 5
	mostMachines  = 6
)

// Solve finds the plan: the largest sum of priorities, then the earliest end of all, then
// the least sum of the ends.
func (p *Problem) Solve() Plan {
	if len(p.Zones) <= mostZones && len(p.Operators) <= mostOperators && len(p.Machines) <= mostMachines {
		plan := p.plan(p.exact())
		plan.Exact, plan.AtMost = true, plan.Priority
		return plan
	}
	plan := p.plan(p.search())
	plan.AtMost = max(plan.Priority, p.bound())
	return plan
}

// turn is what one operator does: the machine, and its zones in order.
type turn struct {
	operator, machine int
	zones             []int
}

// state is where a pair stands and since when.
type state struct {
	at   plane.Point
	time float64
}

func (p *Problem) begin(operator, machine int) state {
	return state{p.Machines[machine].At, max(p.From, p.Operators[operator].From, p.Machines[machine].From)}
}

// next does a zone after what was done before, as early as can be; ok is false where it
// cannot be done any more. Who begins earlier is never done later.
func (p *Problem) next(s state, operator, machine, zone int) (start float64, after state, ok bool) {
	z, takes := &p.Zones[zone], p.Minutes[operator][machine][zone]
	if takes == 0 {
		return 0, s, false
	}
	start = s.time + s.at.Distance(z.At)*detour/(p.Machines[machine].Speed*1000/60)
	for _, q := range z.Quiet { // by their beginnings
		if start < q[1]-equal && start+takes > q[0]+equal {
			start = q[1]
		}
	}
	end := start + takes
	return start, state{z.At, end}, end <= min(z.Deadline, p.To)+equal
}

// jobs are those of a turn that can be kept.
func (p *Problem) jobs(t turn) (out []Job) {
	s := p.begin(t.operator, t.machine)
	for _, zone := range t.zones {
		start, after, _ := p.next(s, t.operator, t.machine, zone)
		out, s = append(out, Job{zone, t.operator, t.machine, start, after.time}), after
	}
	return out
}

// plan is what turns come to.
func (p *Problem) plan(turns []turn) Plan {
	out := Plan{Jobs: []Job{}, Left: []int{}}
	done := make([]bool, len(p.Zones))
	for _, t := range turns {
		out.Jobs = append(out.Jobs, p.jobs(t)...)
	}
	slices.SortStableFunc(out.Jobs, func(a, b Job) int {
		if math.Abs(a.Start-b.Start) > equal {
			return cmp.Compare(a.Start, b.Start)
		}
		return cmp.Compare(a.Zone, b.Zone)
	})
	for _, j := range out.Jobs {
		done[j.Zone] = true
		out.Last, out.Sum = max(out.Last, j.End), out.Sum+j.End
	}
	for i, z := range p.Zones {
		if done[i] {
			out.Priority += z.Priority
		} else {
			out.Left = append(out.Left, i)
		}
	}
	return out
}
