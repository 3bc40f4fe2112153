package main

import (
	"encoding/json"
	"fmt"
	"os"

	"vespers/catalogue"
	"vespers/say"
)

type sheetCommands struct {
	Check  sheetCheck  `cmd:"" help:"Check sheet files: file, line, what is wrong and what would be right."`
	Draw   sheetDraw   `cmd:"" help:"Draw sheets as they look in the yard and on the walk."`
	Schema sheetSchema `cmd:"" help:"Print the JSON Schema of a resolved sheet."`
}

type sheetCheck struct {
	Files []string `arg:"" name:"file" help:"Sheet files."`
}

// Run checks files and fails if one cannot be used.
func (c *sheetCheck) Run(v *say.Voice) error {
	bad := false
	for _, file := range c.Files {
		sheet, problems, err := catalogue.CheckFile(file)
		if err != nil {
			return err
		}
		report(v, problems)
		if sheet == nil {
			bad = true
			continue
		}
		r, err := catalogue.Resolve(sheet)
		if err != nil {
			return err
		}
		fmt.Printf("%s: %s %s, %d points, %s\n", file, sheet.ID, sheet.Edition, len(sheet.Checks), r.Hash)
	}
	if bad {
		return exit(2)
	}
	return nil
}

func report(v *say.Voice, problems []catalogue.Problem) {
	for _, p := range problems {
		kind := "error"
		if p.Warning {
			kind = "warning"
		}
		fmt.Fprintf(os.Stderr, "%s:%d: %s: %s [%s]\n", p.File, p.Line, kind, v.Reason(p.Reason), p.Reason.Rule)
	}
}

type sheetSchema struct{}

// Run prints the schema.
func (sheetSchema) Run() error {
	_, err := os.Stdout.Write(catalogue.Schema())
	return err
}

type interlockCommand struct {
	Plan interlockPlan `cmd:"" help:"The smallest round of tests for a sheet."`
}

type interlockPlan struct {
	Sheet string `arg:"" help:"A sheet, or a file with only its interlock part." type:"existingfile"`
	JSON  bool   `help:"Print JSON."`
}

// Run prints the plan.
func (c *interlockPlan) Run(v *say.Voice) error {
	data, err := os.ReadFile(c.Sheet)
	if err != nil {
		return err
	}
	logic, problems := catalogue.Interlock(c.Sheet, data)
	report(v, problems)
	if logic == nil {
		return exit(2)
	}
	plan := logic.Plan()
	if c.JSON {
		e := json.NewEncoder(os.Stdout)
		e.SetIndent("", "  ")
		return e.Encode(plan)
	}
	for i, t := range plan.Tests {
		fmt.Printf("%2d  %-11s %-8s", i+1, t.Kind, t.Permit)
		for _, s := range logic.Switches {
			mark := "made"
			if !t.To[s] {
				mark = "BROKEN"
			}
			fmt.Printf("  %s=%s", s, mark)
		}
		fmt.Printf("  catches %v\n", t.Catches)
	}
	fmt.Printf("%d tests", len(plan.Tests))
	if !plan.TestsExact {
		fmt.Printf(" (at least %d are needed)", plan.TestsAtLeast)
	}
	fmt.Printf(", %d dangerous faults\n", len(plan.Dangerous))
	for _, u := range plan.Uncatchable {
		fmt.Printf("not caught: %s (%s)\n", u.Fault, u.Reason)
	}
	return nil
}
