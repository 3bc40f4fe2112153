package assign

import (
	"reflect"
	"slices"
	"testing"
)

// byHand is a problem in which everybody may do everything in ten minutes, and travelling
// takes next to nothing.
func byHand() *Problem {
	p := &Problem{From: 0, To: 100, Zones: []Zone{{ID: "a", Priority: 1, Deadline: 100}, {ID: "b", Priority: 1, Deadline: 15}, {ID: "c", Priority: 1, Deadline: 100, Quiet: [][2]float64{{5, 40}}}},
		Operators: []Operator{{ID: "one"}, {ID: "two"}}, Machines: []Machine{{ID: "m", Speed: 10}, {ID: "n", Speed: 10}}}
	for range p.Operators {
		p.Minutes = append(p.Minutes, [][]float64{{10, 10, 10}, {10, 10, 10}})
	}
	p.Minutes[1][1][0] = 0 // two may not do a with n
	return p
}

// TestByHand: each way in which an order breaks, and what is left of the plan.
func TestByHand(t *testing.T) {
	for _, c := range []struct {
		name   string
		orders []Order
		breaks []Break
		jobs   []Job
	}{
		{"nothing", nil, nil, []Job{}},
		{"one after the other", []Order{{0, 0, 0}, {2, 0, 0}}, nil, []Job{{0, 0, 0, 0, 10}, {2, 0, 0, 40, 50}}},
		{"beside one another", []Order{{0, 0, 0}, {1, 1, 1}}, nil, []Job{{0, 0, 0, 0, 10}, {1, 1, 1, 0, 10}}},
		{"a zone twice", []Order{{0, 0, 0}, {0, 1, 0}}, []Break{{1, BreakTwice}}, []Job{{0, 0, 0, 0, 10}}},
		{"another machine", []Order{{0, 0, 0}, {2, 0, 1}}, []Break{{1, BreakMachine}}, []Job{{0, 0, 0, 0, 10}}},
		{"somebody's machine", []Order{{0, 0, 0}, {2, 1, 0}}, []Break{{1, BreakTaken}}, []Job{{0, 0, 0, 0, 10}}},
		{"who may not", []Order{{0, 1, 1}, {1, 1, 1}}, []Break{{0, BreakMay}}, []Job{{1, 1, 1, 0, 10}}},
		{"too late after another", []Order{{0, 0, 0}, {1, 0, 0}}, []Break{{1, BreakLate}}, []Job{{0, 0, 0, 0, 10}}},
		{"a broken first order takes no machine", []Order{{0, 1, 1}, {2, 0, 1}}, []Break{{0, BreakMay}}, []Job{{2, 0, 1, 40, 50}}},
	} {
		plan, breaks := byHand().ByHand(c.orders)
		if !reflect.DeepEqual(breaks, c.breaks) || !reflect.DeepEqual(plan.Jobs, c.jobs) {
			t.Errorf("%s: %v %v, want %v %v", c.name, plan.Jobs, breaks, c.jobs, c.breaks)
		}
	}
}

// TestWhatIsSolvedHoldsByHand: a plan that was found breaks nowhere when it is given by
// hand, and comes to the same.
func TestWhatIsSolvedHoldsByHand(t *testing.T) {
	p := byHand()
	plan := p.Solve()
	var orders []Order
	for _, j := range plan.Jobs {
		orders = append(orders, Order{j.Zone, j.Operator, j.Machine})
	}
	again, breaks := p.ByHand(orders)
	if len(breaks) > 0 || again.Sum != plan.Sum || again.Priority != plan.Priority || !slices.Equal(again.Jobs, plan.Jobs) {
		t.Errorf("%+v %v, want %+v", again, breaks, plan)
	}
}
