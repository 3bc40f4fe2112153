package main

// Who takes which machine to which zones.

import (
	"fmt"

	"vespers/core/assign"
	"vespers/say"
)

type groundAssign struct{ groundFile }

// assignReport is a plan as the command prints it, in minutes.
type assignReport struct {
	Plan     []assignJob `json:"plan"`
	Priority float64     `json:"priority"`
	Last     float64     `json:"last_end_min"`
	Sum      float64     `json:"sum_ends_min"`
	Exact    bool        `json:"exact"`
	AtMost   float64     `json:"at_most_priority"`
	Left     []string    `json:"left"`
}

type assignJob struct {
	Zone     string  `json:"zone"`
	Operator string  `json:"operator"`
	Machine  string  `json:"machine"`
	Start    float64 `json:"start_min"`
	End      float64 `json:"end_min"`
}

// Run prints the plan.
func (c *groundAssign) Run(v *say.Voice) error {
	problem, err := readGround(c.File, v, assign.Read)
	if err != nil {
		return err
	}
	plan := problem.Solve()
	out := assignReport{[]assignJob{}, plan.Priority, plan.Last, plan.Sum, plan.Exact, plan.AtMost, []string{}}
	for _, j := range plan.Jobs {
		out.Plan = append(out.Plan, assignJob{problem.Zones[j.Zone].ID, problem.Operators[j.Operator].ID, problem.Machines[j.Machine].ID, j.Start, j.End})
	}
	for _, zone := range plan.Left {
		out.Left = append(out.Left, problem.Zones[zone].ID)
	}
	if c.JSON {
		return printJSON(out)
	}
	for _, j := range out.Plan {
		fmt.Println(v.T("assign.job", "zone", j.Zone, "operator", j.Operator, "machine", j.Machine, "start", v.Number(j.Start, 0), "end", v.Number(j.End, 0)))
	}
	for _, zone := range out.Left {
		fmt.Println(v.T("assign.left", "zone", zone))
	}
	fmt.Println(v.T("assign.sum", "priority", v.Number(out.Priority, 1), "last", v.Number(out.Last, 0)))
	if !out.Exact {
		fmt.Println(v.T("assign.bound", "most", v.Number(out.AtMost, 1)))
	}
	return nil
}
