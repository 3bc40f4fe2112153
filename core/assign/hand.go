package assign

// A plan as somebody puts it together by hand, and what breaks in it.

// Order is one zone given to an operator with a machine, after those given to them before.
type Order struct{ Zone, Operator, Machine int }

// What can break in a plan by hand.
const (
	BreakMay     = "may"     // this operator may not do this zone with this machine
	BreakTwice   = "twice"   // the zone is done already
	BreakMachine = "machine" // the operator has another machine
	BreakTaken   = "taken"   // another operator has the machine
	BreakLate    = "late"    // it is not done by its deadline, or by the end of the window
)

// Break is what is wrong with an order, by its place in the list; the job is in no plan.
type Break struct {
	Order   int
	Because string
}

// ByHand is what orders come to, each as early as can be after those before it; what
// breaks is left out, and said.
func (p *Problem) ByHand(orders []Order) (Plan, []Break) {
	var breaks []Break
	machine, taken := map[int]int{}, map[int]int{}
	done, turns := map[int]bool{}, map[int]*turn{}
	states := map[int]state{}
	var in []int // the operators, as they come
	for i, o := range orders {
		has, working := machine[o.Operator]
		who, used := taken[o.Machine]
		because := ""
		switch {
		case done[o.Zone]:
			because = BreakTwice
		case working && has != o.Machine:
			because = BreakMachine
		case used && who != o.Operator:
			because = BreakTaken
		case p.Minutes[o.Operator][o.Machine][o.Zone] == 0:
			because = BreakMay
		}
		if because == "" {
			if !working {
				states[o.Operator] = p.begin(o.Operator, o.Machine)
			}
			_, after, ok := p.next(states[o.Operator], o.Operator, o.Machine, o.Zone)
			if ok {
				states[o.Operator] = after
			} else {
				because = BreakLate
			}
		}
		if because != "" {
			breaks = append(breaks, Break{i, because})
			continue
		}
		if !working {
			machine[o.Operator], taken[o.Machine] = o.Machine, o.Operator
			turns[o.Operator] = &turn{operator: o.Operator, machine: o.Machine}
			in = append(in, o.Operator)
		}
		done[o.Zone] = true
		turns[o.Operator].zones = append(turns[o.Operator].zones, o.Zone)
	}
	var all []turn
	for _, operator := range in {
		all = append(all, *turns[operator])
	}
	return p.plan(all), breaks
}
