package main

// Measures of the core: walks, rounds, verdicts.

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"time"

	"vespers/catalogue"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/walk"
)

// planning times every plan of every sheet, and the interlock plans of random
// sections with as many switches as there may be.
func planning(t *table) error {
	machines, err := built()
	if err != nil {
		return err
	}
	for what, one := range map[string]struct {
		most time.Duration
		plan func(*machine.Sheet, *interlock.Logic)
	}{
		"walk":                               {20 * time.Millisecond, func(s *machine.Sheet, _ *interlock.Logic) { walk.Route(s, walk.Options{}) }},
		"interlock plan":                     {5 * time.Millisecond, func(_ *machine.Sheet, l *interlock.Logic) { l.Plan() }},
		"next test of a search from nothing": {20 * time.Millisecond, func(_ *machine.Sheet, l *interlock.Logic) { l.Diagnose(nil) }},
	} {
		slowest, which := time.Duration(0), ""
		for _, s := range machines {
			logic, _ := interlock.Of(s)
			if took := best(3, func() { one.plan(s, logic) }); took > slowest {
				slowest, which = took, s.Name.EN
			}
		}
		t.row(fmt.Sprintf("%s, slowest of %d machines", what, len(machines)), ms(one.most), ms(slowest)+" ("+which+")", slowest <= one.most)
	}
	if err := proving(t); err != nil {
		return err
	}
	most := 0
	for _, s := range machines {
		logic, _ := interlock.Of(s)
		for _, f := range logic.Hidden() {
			if found, _ := logic.Search(f); found.Tests > most {
				most = found.Tests
			}
		}
	}
	t.note("tests that the longest search for a fault needs", fmt.Sprint(most))

	random := rand.New(rand.NewPCG(12, 12))
	var eight, took, diagnosis times
	unproved := 0
	for range 40 {
		logic, problems := interlock.Compile(randomSection(random, 8, 4))
		if logic == nil {
			return fmt.Errorf("random section: %s", problems[0].Reason.Rule)
		}
		eight = append(eight, best(1, func() {
			if plan := logic.Plan(); !plan.TestsExact || !plan.MovementsExact {
				unproved++
			}
		}))
	}
	t.row("interlock plan, 40 random sections of 8 switches and 4 drives, all proved, slowest", "1 s",
		fmt.Sprintf("%s, median %s, %d not proved", ms(eight.at(1)), ms(eight.median()), unproved), eight.at(1) <= time.Second && unproved == 0)
	for range 40 {
		logic, problems := interlock.Compile(randomSection(random, 12, 2))
		if logic == nil {
			return fmt.Errorf("random section: %s", problems[0].Reason.Rule)
		}
		took = append(took, best(1, func() { logic.Plan() }))
		diagnosis = append(diagnosis, best(1, func() { logic.Diagnose(nil) }))
	}
	t.note("diagnosis of 40 random sections of 12 switches, from nothing, slowest", ms(diagnosis.at(1))+", median "+ms(diagnosis.median()))
	t.row("interlock plan, 40 random sections of 12 switches, slowest", "250 ms", ms(took.at(1))+", median "+ms(took.median()), took.at(1) <= 250*time.Millisecond)
	return nil
}

// proving times the check of every sheet's procedures, and says how many states of
// it were followed and how many hazards are kept away.
func proving(t *table) error {
	sheets, err := catalogue.All()
	for _, r := range sheets {
		var report *procedure.Report
		took := best(1, func() { report = procedure.Check(r.Sheet) })
		kept := 0
		for _, h := range report.Hazards {
			if h.Applies && h.Holds {
				kept++
			}
		}
		t.row("procedures of "+r.Sheet.Name.EN+", every way followed", "2 s",
			fmt.Sprintf("%s, %d states, %d hazards kept away", ms(took), report.States, kept), report.Sound() && took <= 2*time.Second)
	}
	return err
}

// built are the machines of the catalogue, each way that one is built.
func built() ([]*machine.Sheet, error) {
	sheets, err := catalogue.All()
	var out []*machine.Sheet
	for _, r := range sheets {
		for _, build := range r.Sheet.Builds() {
			out = append(out, r.Sheet.With(build))
		}
	}
	return out, err
}

// best is the fastest of several runs, which is the one the rest of the
// machine disturbed least.
func best(runs int, f func()) time.Duration {
	least := time.Duration(1<<63 - 1)
	for range runs {
		began := time.Now()
		f()
		least = min(least, time.Since(began))
	}
	return least
}

// randomSection has a start, a run and drive permits of random terms, with a
// place, a switch that is held, and a drive turned by another.
func randomSection(random *rand.Rand, switches, drives int) machine.Interlock {
	var section machine.Interlock
	name := func(i int) string { return fmt.Sprintf("s%d", i) }
	for i := range switches {
		section.Switches = append(section.Switches, machine.Switch{ID: name(i), Place: i == switches-1})
	}
	section.Switches[switches-2].Moving = "forbidden"
	some := func(operator string, n int) string {
		var terms []string
		for _, i := range random.Perm(switches)[:n] {
			terms = append(terms, name(i))
		}
		return "(" + strings.Join(terms, operator) + ")"
	}
	section.Permits = []machine.Permit{
		{ID: "start", Kind: "start", When: some(" && ", 5)},
		{ID: "run", Kind: "run", When: some(" && ", 2) + " || " + some(" && ", 4)},
	}
	for d := range drives {
		p := machine.Permit{ID: fmt.Sprintf("d%d", d), Kind: "drive", When: "!" + name(d) + " && " + some([]string{" || ", " && "}[d%2], 2), Latched: d%2 == 1}
		if d == 3 {
			p.TurnedBy = "d0"
		}
		section.Permits = append(section.Permits, p)
	}
	section.Never = []machine.Never{{State: "!" + name(2) + " && !" + name(3)}}
	return section
}
