package main

// The command that prints what each sheet holds, so that gaps show.

import (
	"fmt"
	"io"
	"os"
	"slices"
	"strings"

	"vespers/catalogue"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/procedure"
)

type sheetTable struct{}

// Run prints the table of docs/machines.md.
func (sheetTable) Run() error {
	all, err := catalogue.All()
	if err != nil {
		return err
	}
	return writeTable(os.Stdout, all)
}

// tableHead is what stands above the table.
const tableHead = `# The machines

Printed by ` + "`vespers sheet table`" + ` from the sheets; a test compares. A machine with options is shown as it is
built where nobody chose. *Points* are looked at before or while it runs; *hands* are those for a technician or for
trained people alone.

| family | sheet | points: each use · day · week · rarer | hands | readings | controls | permits | tests | not shown by any | procedures | hazards | events | words |
|---|---|---|---|---|---|---|---|---|---|---|---|---|
`

func writeTable(w io.Writer, all []catalogue.Resolved) error {
	slices.SortFunc(all, func(a, b catalogue.Resolved) int {
		return strings.Compare(a.Sheet.Family+a.Sheet.ID, b.Sheet.Family+b.Sheet.ID)
	})
	var b strings.Builder
	b.WriteString(tableHead)
	for _, r := range all {
		s := r.Sheet.With(nil)
		often, hands, readings := [4]int{}, 0, 0
		for i := range s.Checks {
			c := &s.Checks[i]
			often[rarity(c.Every)]++
			if c.WhoLooks() != machine.ByOperator {
				hands++
			}
			readings += len(c.Readings)
		}
		tests, unseen := "–", "–"
		if s.Interlock.None == nil {
			logic, _ := interlock.Of(s)
			plan := logic.Plan()
			tests, unseen = fmt.Sprint(len(plan.Tests)), "none"
			var not []string
			for _, u := range plan.Uncatchable {
				not = append(not, u.Fault)
			}
			if len(not) > 0 {
				unseen = strings.Join(not, ", ")
			}
		}
		var procedures []string
		for _, p := range s.Procedures {
			procedures = append(procedures, p.ID)
		}
		hazards := 0
		for _, h := range procedure.Check(r.Sheet).Hazards {
			if h.Applies {
				hazards++
			}
		}
		fmt.Fprintf(&b, "| %s | `%s` | %d · %d · %d · %d | %d | %d | %d | %d | %s | %s | %s | %d | %d | %d |\n", s.Family, s.ID, often[0], often[1], often[2], often[3],
			hands, readings, len(s.Controls), len(s.Interlock.Permits), tests, unseen, strings.Join(procedures, " "), hazards, len(s.Events), wordsIn(s))
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// rarity is how seldom a point comes: each use, each day, each week, or more seldom.
func rarity(every *machine.Interval) int {
	switch {
	case every == nil:
		return 0
	case every.Hours > 0 || every.Months > 0 || every.FirstHours > 0:
		return 3
	case every.Days > 7:
		return 3
	case every.Days > 1:
		return 2
	}
	return 1
}

// wordsIn is how many English words the points, steps and events of a sheet have.
func wordsIn(s *machine.Sheet) (n int) {
	count := func(words ...string) {
		for _, w := range words {
			n += len(strings.Fields(w))
		}
	}
	for _, c := range s.Checks {
		count(c.Name.EN, c.Look.EN, c.Why.EN)
		for _, f := range c.Faults {
			count(f.Name.EN)
		}
	}
	for _, p := range s.Procedures {
		for _, step := range p.Steps {
			count(step.Do.EN)
		}
	}
	for _, e := range s.Events {
		for _, step := range e.Steps {
			count(step.Do.EN)
		}
	}
	return n
}
