package interlock

// Coverage is what a list of tests shows of the dangerous faults.
type Coverage struct {
	Caught []string `json:"caught"`
	Missed []string `json:"missed"`
}

// Coverage judges any routine, the planner's or another. The error is a *Wrong.
func (l *Logic) Coverage(tests []Test) (Coverage, error) {
	out := Coverage{Caught: []string{}, Missed: []string{}}
	if l.None {
		if len(tests) > 0 {
			return out, &Wrong{Reason: ruleNoTest.Says(1)}
		}
		return out, nil
	}
	b := newBench(l)
	all, err := b.candidates(tests)
	if err != nil {
		return out, err
	}
	var caught set
	for _, c := range all {
		caught = caught.union(b.catches(c))
	}
	for i, f := range b.dangerous {
		if caught.has(i) {
			out.Caught = append(out.Caught, f.name)
		} else {
			out.Missed = append(out.Missed, f.name)
		}
	}
	return out, nil
}
