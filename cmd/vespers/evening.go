package main

// The command that plans the close of a day and prints it.

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"

	"vespers/core/evening"
	"vespers/core/record"
	"vespers/say"
)

type eveningCommand struct {
	Plan eveningPlan `cmd:"" help:"Who does what when, so that the yard is closed soonest."`
}

type eveningPlan struct {
	File string `arg:"" help:"An evening as JSON (docs/evening.md)." type:"existingfile"`
	JSON bool   `help:"Print JSON."`
}

// eveningReport is a plan as the command prints it, in minutes.
type eveningReport struct {
	Close     float64      `json:"close_min"`
	AtLeast   float64      `json:"at_least_min"`
	Exact     bool         `json:"exact"`
	GoingHome float64      `json:"going_home_sum_min"`
	Jobs      []eveningJob `json:"jobs"`
	InOrder   float64      `json:"in_order_of_arrival_min"`
}

type eveningJob struct {
	Machine string  `json:"machine"`
	Job     string  `json:"job"`
	Who     string  `json:"who"`
	Place   *string `json:"place"`
	Start   float64 `json:"start"`
	End     float64 `json:"end"`
}

// Run prints the plan; an evening that cannot be read gives exit status 2.
func (c *eveningPlan) Run(v *say.Voice) error {
	data, err := os.ReadFile(c.File)
	if err != nil {
		return err
	}
	of, err := evening.Read(data)
	var refused *record.Refused
	if errors.As(err, &refused) {
		fmt.Fprintf(os.Stderr, "%s: %s\n", c.File, v.Reason(refused.Reason))
		return exit(2)
	}
	if err != nil {
		return err
	}
	plan := evening.Make(of)
	if !c.JSON {
		printEvening(v, plan)
		return nil
	}
	out := eveningReport{Close: plan.Close, AtLeast: plan.AtLeast, Exact: plan.Exact, GoingHome: plan.GoingHome, InOrder: plan.InOrder, Jobs: []eveningJob{}}
	for _, s := range plan.Jobs {
		job := eveningJob{Machine: s.Machine, Job: s.Job, Who: s.Who, Start: s.Start, End: s.End}
		if s.Place != "" {
			job.Place = &s.Place
		}
		out.Jobs = append(out.Jobs, job)
	}
	print := json.NewEncoder(os.Stdout)
	print.SetIndent("", "  ")
	return print.Encode(out)
}

func printEvening(v *say.Voice, plan evening.Plan) {
	for _, s := range plan.Jobs {
		place := s.Place
		if place == "" {
			place = "-"
		}
		fmt.Printf("%8s %8s  %-16s %-12s %-12s %s\n", v.Number(s.Start, 1), v.Number(s.End, 1), s.Who, s.Machine, s.Job, place)
	}
	fmt.Println(v.T("evening.closes", "close", v.Number(plan.Close, 1), "order", v.Number(plan.InOrder, 1), "sum", v.Number(plan.GoingHome, 1)))
	if plan.Exact {
		fmt.Println(v.T("evening.exact"))
	} else {
		fmt.Println(v.T("evening.at_least", "least", v.Number(plan.AtLeast, 1)))
	}
}
