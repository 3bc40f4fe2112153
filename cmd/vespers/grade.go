package main

// The command that judges one machine from a written case.

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"vespers/core/defect"
	"vespers/core/grade"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"
	"vespers/tell"
)

type gradeCommand struct {
	File string `arg:"" help:"A case as JSON (docs/grading.md); its sheet is a file relative to it." type:"existingfile"`
	JSON bool   `help:"Print JSON."`
	options
}

// gradeReport is a judged case as it is printed.
type gradeReport struct {
	Grade        defect.Grade          `json:"grade"`
	Deadline     gradeDeadline         `json:"deadline"`
	Restrictions []machine.Restriction `json:"restrictions"`
	Refused      []gradeRefused        `json:"refused_uses"`
	NotReleased  []string              `json:"not_released_because"`
	Findings     []gradeFinding        `json:"findings"`
	Uneven       []gradeFinding        `json:"uneven,omitempty"`
}

type gradeDeadline struct {
	Hours *float64 `json:"hours"`
	At    *string  `json:"at"`
}

type gradeRefused struct {
	Use     string   `json:"use"`
	Because []string `json:"because"`
}

type gradeFinding struct {
	Check   string         `json:"check"`
	Extent  machine.Extent `json:"extent"`
	Grade   defect.Grade   `json:"grade"`
	Reasons []gradeReason  `json:"reasons"`
}

type gradeReason struct {
	Rule string         `json:"rule"`
	Args map[string]any `json:"args"`
}

// Run judges the case. Whatever its grade the status is 0; what cannot be judged gives 2.
func (c *gradeCommand) Run(v *say.Voice) error {
	data, err := os.ReadFile(c.File)
	if err != nil {
		return err
	}
	var of grade.Case
	if err := strictly(data, &of); err != nil {
		fmt.Fprintf(os.Stderr, "%s: %v\n", c.File, err)
		return exit(2)
	}
	if of.Sheet == "" {
		fmt.Fprintf(os.Stderr, "%s: %s\n", c.File, v.Reason(grade.NoSheet()))
		return exit(2)
	}
	file := of.Sheet
	if !filepath.IsAbs(file) {
		file = filepath.Join(filepath.Dir(c.File), file)
	}
	if _, err := os.Stat(file); err != nil {
		fmt.Fprintf(os.Stderr, "%s: %v\n", c.File, err)
		return exit(2)
	}
	sheet, err := usable(v, file, c.Option)
	if err != nil {
		return err
	}
	sheet = sheet.With(c.Option)
	report, err := of.Judge(sheet)
	var refused *record.Refused
	if errors.As(err, &refused) {
		fmt.Fprintf(os.Stderr, "%s: %s\n", c.File, v.Reason(refused.Reason))
		return exit(2)
	}
	if err != nil {
		return err
	}
	if c.JSON {
		return printJSON(printedReport(report))
	}
	v.Zone = of.At.Location()
	printGrade(v, sheet, report)
	return nil
}

func printedReport(r grade.Report) gradeReport {
	out := gradeReport{Grade: r.Grade, Restrictions: append([]machine.Restriction{}, r.Restrictions...), Deadline: gradeDeadline{Hours: r.Deadline.Hours},
		Refused: []gradeRefused{}, NotReleased: []string{}, Findings: printedFindings(r.Findings)}
	if r.Deadline.At != nil {
		at := r.Deadline.At.UTC().Format(time.RFC3339Nano)
		out.Deadline.At = &at
	}
	for _, u := range r.Refused {
		out.Refused = append(out.Refused, gradeRefused{u.Use, rulesOf(u.Because)})
	}
	out.NotReleased = append(out.NotReleased, rulesOf(r.NotReleased)...)
	if len(r.Uneven) > 0 {
		out.Uneven = printedFindings(r.Uneven)
	}
	return out
}

func printedFindings(list []grade.Graded) []gradeFinding {
	out := []gradeFinding{}
	for _, f := range list {
		one := gradeFinding{Check: f.Check, Extent: f.Extent, Grade: f.Grade, Reasons: []gradeReason{}}
		for _, reason := range f.Reasons {
			one.Reasons = append(one.Reasons, gradeReason{string(reason.Rule), plainArgs(reason)})
		}
		out = append(out, one)
	}
	return out
}

func rulesOf(reasons []text.Reason) []string {
	var out []string
	for _, r := range reasons {
		out = append(out, string(r.Rule))
	}
	return out
}

// plainArgs are the arguments of a reason by name: amounts in the sheet's unit.
func plainArgs(r text.Reason) map[string]any {
	out := map[string]any{}
	for _, a := range r.Args {
		switch {
		case a.Words != nil:
			out[a.Name] = *a.Words
		case a.Amount != nil:
			u, _ := unit.Find(a.Unit)
			out[a.Name] = map[string]any{"value": u.In(*a.Amount), "unit": a.Unit}
		case a.Count != nil:
			out[a.Name] = *a.Count
		case a.Moment != nil:
			out[a.Name] = a.Moment.UTC().Format(time.RFC3339Nano)
		case a.Subjects != nil:
			out[a.Name] = a.Subjects
		case a.Term != "":
			out[a.Name] = a.Term
		default:
			out[a.Name] = a.Plain
		}
	}
	return out
}

// printGrade tells a judged case to somebody who reads.
func printGrade(v *say.Voice, sheet *machine.Sheet, r grade.Report) {
	head := v.Text(sheet.Name) + ": " + v.T("grade."+string(r.Grade))
	if until := tell.Deadline(v, r.Deadline); until != "" {
		head += ", " + until
	}
	fmt.Println(head)
	for _, reason := range append(append([]text.Reason{}, r.Reasons...), r.NotReleased...) {
		fmt.Println("  " + v.Reason(reason))
	}
	for _, one := range r.Restrictions {
		fmt.Println("  " + v.T("restriction."+string(one)))
	}
	for _, u := range r.Refused {
		fmt.Printf("  %s\n", v.T("grade.use_refused", "use", useWords(v, u.Use)))
		for _, b := range u.Because {
			fmt.Println("    " + v.Reason(b))
		}
	}
	for _, f := range append(append([]grade.Graded{}, r.Findings...), r.Uneven...) {
		c, _ := sheet.Check(f.Check)
		fmt.Printf("%-6s %s\n", v.T("grade."+string(f.Grade)), v.Text(c.Name))
		for _, reason := range f.Reasons {
			fmt.Println("       " + v.Reason(reason))
		}
	}
}

// useWords says a planned use.
func useWords(v *say.Voice, use string) string {
	if use == defect.UseHours {
		return v.T("use.hours")
	}
	job, _ := machine.ParseJob(use)
	return tell.Job(v, job)
}
