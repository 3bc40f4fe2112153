package main

// The commands that plan, play and search interlock rounds without a yard.

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"

	"vespers/catalogue"
	"vespers/core/interlock"
	"vespers/say"
)

type interlockCommand struct {
	Plan     interlockPlan     `cmd:"" help:"The smallest round of tests for a sheet."`
	Coverage interlockCoverage `cmd:"" help:"What a list of tests catches, and what it misses."`
	Diagnose interlockDiagnose `cmd:"" help:"The faults that explain what was seen, and the test that tells most."`
}

// interlockFile is the sheet that each of the commands reads.
type interlockFile struct {
	Sheet string `arg:"" help:"A sheet, or a file with only its interlock part." type:"existingfile"`
	With  string `help:"The sheet of an implement that it carries." type:"existingfile"`
	JSON  bool   `help:"Print JSON."`
	options
}

// logic compiles the sheet; what is wrong with it is printed and gives exit
// status 2.
func (f *interlockFile) logic(v *say.Voice) (*interlock.Logic, error) {
	data, err := os.ReadFile(f.Sheet)
	if err != nil {
		return nil, err
	}
	var logic *interlock.Logic
	var problems []catalogue.Problem
	if f.With == "" {
		logic, problems = catalogue.Interlock(f.Sheet, data, f.Option)
	} else {
		implement, err := os.ReadFile(f.With)
		if err != nil {
			return nil, err
		}
		logic, problems = catalogue.Joined(f.Sheet, data, f.With, implement, f.Option)
	}
	report(v, problems)
	if logic == nil {
		return nil, exit(2)
	}
	return logic, nil
}

type interlockPlan struct{ interlockFile }

// Run prints the plan.
func (c *interlockPlan) Run(v *say.Voice) error {
	logic, err := c.logic(v)
	if err != nil {
		return err
	}
	plan := logic.Plan()
	if c.JSON {
		return printJSON(plan)
	}
	for i, t := range plan.Tests {
		fmt.Printf("%2d  %s  catches %s\n", i+1, describe(logic, t), strings.Join(t.Catches, " "))
	}
	if plan.Start != nil {
		fmt.Println("the engine is started first with", positions(logic, plan.Start, plan.Start))
	}
	fmt.Printf("%d tests", len(plan.Tests))
	if !plan.TestsExact {
		fmt.Printf(" (at least %d are needed)", plan.TestsAtLeast)
	}
	fmt.Printf(", %d control movements", plan.Movements)
	if !plan.MovementsExact {
		fmt.Print(" (fewer may do)")
	}
	fmt.Printf(", %d dangerous faults, %d of %d pairs of them caught\n", len(plan.Dangerous), plan.Pairs.Caught, plan.Pairs.All)
	for _, u := range plan.Uncatchable {
		fmt.Printf("not caught: %s (%s)\n", u.Fault, u.Reason)
	}
	return nil
}

type interlockCoverage struct {
	interlockFile
	Tests string `required:"" help:"A JSON file with a list of tests." type:"existingfile"`
}

// Run prints what the tests catch. A test that is none gives exit status 2.
func (c *interlockCoverage) Run(v *say.Voice) error {
	logic, err := c.logic(v)
	if err != nil {
		return err
	}
	tests, lines, err := list[interlock.Test](c.Tests, "tests")
	if err != nil {
		return err
	}
	coverage, err := logic.Coverage(tests)
	if err != nil {
		return wrongIn(v, c.Tests, lines, err)
	}
	if c.JSON {
		return printJSON(coverage)
	}
	fmt.Printf("catches %d of %d dangerous faults\n", len(coverage.Caught), len(coverage.Caught)+len(coverage.Missed))
	for _, f := range coverage.Missed {
		fmt.Println("missed:", f)
	}
	return nil
}

type interlockDiagnose struct {
	interlockFile
	Results string `required:"" help:"A JSON file with a list of tests and what was observed." type:"existingfile"`
}

// Run prints the suspects and the next test. A result that is none gives exit
// status 2.
func (c *interlockDiagnose) Run(v *say.Voice) error {
	logic, err := c.logic(v)
	if err != nil {
		return err
	}
	results, lines, err := list[interlock.Observation](c.Results, "results")
	if err != nil {
		return err
	}
	d, err := logic.Diagnose(results)
	if err != nil {
		return wrongIn(v, c.Results, lines, err)
	}
	if c.JSON {
		return printJSON(d)
	}
	for _, s := range d.Suspects {
		if len(s) == 0 {
			s = []string{"no fault"}
		}
		fmt.Println("suspect:", strings.Join(s, " and "))
	}
	if d.Next == nil {
		fmt.Println("no test tells them apart")
		return nil
	}
	fmt.Println("next:", describe(logic, *d.Next))
	return nil
}

// describe writes a test on one line: for a stop only the switch that is
// changed is marked.
func describe(logic *interlock.Logic, t interlock.Test) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%-11s %-8s %s", t.Kind, t.Permit, positions(logic, t.From, t.To))
	if t.Return {
		b.WriteString(" and back")
	}
	return b.String()
}

// positions writes how the controls stand; one that was moved has its from.
func positions(logic *interlock.Logic, from, to map[string]bool) string {
	word := map[bool]string{true: "made", false: "broken"}
	var out []string
	for _, s := range logic.Switches {
		one := s + "=" + word[to[s]]
		if from != nil && from[s] != to[s] {
			one += "(from " + word[from[s]] + ")"
		}
		out = append(out, one)
	}
	return strings.Join(out, " ")
}

// list reads a JSON list, or the list under a key of an object, with the line
// on which each item begins.
func list[T any](path, key string) (items []T, lines []int, err error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, nil, err
	}
	fail := func(offset int64, problem string) ([]T, []int, error) {
		fmt.Fprintf(os.Stderr, "%s:%d: error: %s\n", path, lineOf(data, offset), problem)
		return nil, nil, exit(2)
	}
	d := json.NewDecoder(bytes.NewReader(data))
	start := int64(0)
	if trimmed := bytes.TrimLeft(data, " \t\r\n"); len(trimmed) > 0 && trimmed[0] == '{' {
		var object map[string]json.RawMessage
		if err := json.Unmarshal(data, &object); err != nil {
			return fail(errorOffset(err, d), err.Error())
		}
		inner, ok := object[key]
		if !ok {
			return fail(0, fmt.Sprintf("there is no %q", key))
		}
		start = int64(bytes.Index(data, inner))
		d = json.NewDecoder(bytes.NewReader(data[start:]))
	}
	if t, err := d.Token(); err != nil || t != json.Delim('[') {
		return fail(start, "a list is wanted here")
	}
	d.DisallowUnknownFields()
	for d.More() {
		at := start + d.InputOffset()
		for at < int64(len(data)) && strings.IndexByte(" \t\r\n,", data[at]) >= 0 {
			at++
		}
		var item T
		if err := d.Decode(&item); err != nil {
			return fail(at, err.Error())
		}
		items, lines = append(items, item), append(lines, lineOf(data, at))
	}
	if _, err := d.Token(); err != nil {
		return fail(start+d.InputOffset(), err.Error())
	}
	return items, lines, nil
}

func errorOffset(err error, d *json.Decoder) int64 {
	var syntax *json.SyntaxError
	if errors.As(err, &syntax) {
		return syntax.Offset
	}
	return d.InputOffset()
}

func lineOf(data []byte, offset int64) int {
	return bytes.Count(data[:min(offset, int64(len(data)))], []byte("\n")) + 1
}

// wrongIn prints which item of a list cannot be.
func wrongIn(v *say.Voice, path string, lines []int, err error) error {
	var wrong *interlock.Wrong
	if !errors.As(err, &wrong) {
		return err
	}
	line := 1
	if wrong.Place < len(lines) {
		line = lines[wrong.Place]
	}
	fmt.Fprintf(os.Stderr, "%s:%d: error: %s [%s]\n", path, line, v.Reason(wrong.Reason), wrong.Reason.Rule)
	return exit(2)
}

func printJSON(x any) error {
	e := json.NewEncoder(os.Stdout)
	e.SetIndent("", "  ")
	return e.Encode(x)
}
