package main

// The commands that check the procedures of sheets, and plan them.

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"

	"vespers/catalogue"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/say"
)

type procedureCommand struct {
	Check procedureCheck `cmd:"" help:"Follow every way through every procedure, and show that no hazard is reached."`
	Plan  procedurePlan  `cmd:"" help:"What is to be done for a procedure or an event, in order."`
	Facts factsCommand   `cmd:"" help:"Print the facts that procedures stand over, and the hazards, as docs/facts.md has them."`
}

// procedures reads the procedures of a file; one that cannot be used gives exit
// status 2.
func procedures(v *say.Voice, file string) (*machine.Sheet, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	sheet, problems := catalogue.Procedures(file, data)
	report(v, problems)
	if sheet == nil {
		return nil, exit(2)
	}
	return sheet, nil
}

type procedureCheck struct {
	Sheet string `arg:"" optional:"" help:"A sheet, or a file with only its procedures." type:"existingfile"`
	All   bool   `help:"Check every sheet that ships with the program."`
	JSON  bool   `help:"Print JSON."`
}

// Run checks. A hazard that is reached, a dead end, or more states than are followed
// gives exit status 1.
func (c *procedureCheck) Run(v *say.Voice) error {
	if c.All == (c.Sheet != "") {
		fmt.Fprintln(os.Stderr, "vespers: name a sheet, or say --all")
		return exit(wrongUse)
	}
	var sheets []*machine.Sheet
	if c.All {
		all, err := catalogue.All()
		if err != nil {
			return err
		}
		for _, r := range all {
			sheets = append(sheets, r.Sheet)
		}
	} else {
		sheet, err := procedures(v, c.Sheet)
		if err != nil {
			return err
		}
		sheets = append(sheets, sheet)
	}
	var reports []*procedure.Report
	sound := true
	for _, s := range sheets {
		r := procedure.Check(s)
		reports, sound = append(reports, r), sound && r.Sound()
		if !c.JSON {
			printReport(v, r)
		}
	}
	var err error
	switch {
	case c.JSON && c.All:
		err = printJSON(reports)
	case c.JSON:
		err = printJSON(reports[0])
	}
	if err == nil && !sound {
		err = exit(1)
	}
	return err
}

func printReport(v *say.Voice, r *procedure.Report) {
	kept := 0
	for _, h := range r.Hazards {
		if h.Applies && h.Holds {
			kept++
		}
	}
	fmt.Printf("%s: %d states, %d transitions, %d hazards kept away\n", r.Sheet, r.States, r.Transitions, kept)
	if !r.Complete {
		fmt.Println("  not everything was followed: there are too many states")
	}
	for _, h := range r.Hazards {
		if !h.Holds {
			fmt.Printf("  REACHED %s: %s\n", h.ID, strings.Join(h.Path, " "))
		}
	}
	for _, d := range r.DeadEnds {
		fmt.Printf("  dead end %s because %s: %s\n", d.At, strings.Join(d.Because, ", "), strings.Join(d.Path, " "))
	}
	for _, at := range r.NeverReached {
		fmt.Println("  never reached", at)
	}
}

type procedurePlan struct {
	Sheet string `arg:"" help:"A sheet, or a file with only its procedures." type:"existingfile"`
	Do    string `required:"" help:"A procedure, or event:ID."`
	Given string `help:"A JSON file: how things stand." type:"existingfile"`
	JSON  bool   `help:"Print JSON."`
}

// Run prints the plan. What cannot be done gives exit status 1, what is not known
// exit status 2.
func (c *procedurePlan) Run(v *say.Voice) error {
	sheet, err := procedures(v, c.Sheet)
	if err != nil {
		return err
	}
	var given struct {
		Facts   machine.Facts      `json:"facts"`
		Since   map[string]float64 `json:"since"`
		Options machine.Chosen     `json:"options"`
		House   procedure.House    `json:"house"`
	}
	if c.Given != "" {
		data, err := os.ReadFile(c.Given)
		if err != nil {
			return err
		}
		if err := strictly(data, &given); err != nil {
			fmt.Fprintf(os.Stderr, "%s: %v\n", c.Given, err)
			return exit(2)
		}
	}
	g := procedure.Given{Facts: given.Facts, Since: given.Since, Options: given.Options, House: given.House}
	if field, reason, wrong := procedure.PlanRefused(sheet, c.Do, g); wrong {
		file := c.Given
		if field == "/do" {
			file = c.Sheet
		}
		fmt.Fprintf(os.Stderr, "%s: error: %s: %s [%s]\n", file, field, v.Reason(reason), reason.Rule)
		return exit(2)
	}
	plan := procedure.MakePlan(sheet, c.Do, g)
	if c.JSON {
		if err := printJSON(plan); err != nil {
			return err
		}
	} else {
		printPlan(v, plan)
	}
	if plan.Impossible != "" {
		return exit(1)
	}
	return nil
}

func printPlan(v *say.Voice, plan procedure.Plan) {
	for i := range plan.Steps {
		p := &plan.Steps[i]
		wait := ""
		if p.Wait != nil {
			wait = fmt.Sprintf(" (wait %.0f s)", *p.Wait)
		}
		fmt.Printf("%2d  %s/%s%s  %s\n", i+1, p.Procedure, p.ID, wait, v.Text(p.Step().Do))
	}
	if plan.Impossible != "" {
		fmt.Println("there is no way to", plan.Impossible)
		return
	}
	fmt.Printf("%.0f s, of which %.0f s with nothing to do\n", plan.Seconds, plan.WaitingSeconds)
}

// strictly reads JSON in which every field is known.
func strictly(data []byte, into any) error {
	d := json.NewDecoder(strings.NewReader(string(data)))
	d.DisallowUnknownFields()
	return d.Decode(into)
}

type factsCommand struct{}

// Run prints the published lists as they stand in the documents.
func (factsCommand) Run(v *say.Voice) error {
	fmt.Print("# Facts and hazards\n\n" +
		"Printed by `vespers procedure facts` from core/procedure; a test compares. What they mean for a\n" +
		"sheet is in [procedures.md](procedures.md).\n\n## Facts\n\nThe first value is how it stands when nobody knows.\n\n" +
		"| fact | values | a machine has it with | remark |\n|---|---|---|---|\n")
	for _, f := range procedure.Facts() {
		with := strings.Join(f.Fitted, ", ")
		if f.ReadOnly {
			with = "every outing; no step makes it"
		}
		fmt.Printf("| `%s` | %s | %s | %s |\n", f.ID, strings.Join(f.Values, " · "), with, f.Remark)
	}
	fmt.Print("\n## House rules that steps may hang on\n\n| question | choices, the first in force where nobody chose |\n|---|---|\n")
	for _, q := range procedure.Questions() {
		fmt.Printf("| `%s` | %s |\n", q.ID, strings.Join(q.Choices, " · "))
	}
	fmt.Print("\n## Hazards\n\n`at` a fact or value: judged where an answer sets it; without, wherever it becomes true.\n\n" +
		"| hazard | at | never | harm | source |\n|---|---|---|---|---|\n")
	for _, h := range procedure.Hazards() {
		when := "`" + strings.ReplaceAll(h.When, "|", "\\|") + "`"
		switch {
		case h.ButTest:
			when += ", but in a proof"
		case h.House != "":
			when += ", where the house says " + h.House
		case h.NotBattery:
			when += ", but by battery"
		}
		fmt.Printf("| `%s`: %s | %s | %s | %s | %s |\n", h.ID, h.Text.EN, h.At, when, h.Harm.EN, v.T("source."+string(h.Source)))
	}
	return nil
}
