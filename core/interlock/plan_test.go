package interlock

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/core/text"
)

func zeroTurn(contacts string) machine.Interlock {
	sw := func(ids ...string) (out []machine.Switch) {
		for _, id := range ids {
			out = append(out, machine.Switch{ID: id, Contacts: contacts})
		}
		return out
	}
	return machine.Interlock{
		Switches: sw("seat", "brake", "cutters", "lever_l", "lever_r"),
		Permits: []machine.Permit{
			{ID: "start", Kind: "start", When: "brake && cutters && lever_l && lever_r"},
			{ID: "run", Kind: "run", When: "seat || (brake && cutters && lever_l && lever_r)"},
			{ID: "blades", Kind: "drive", When: "!cutters", StopWithin: 5},
		},
		Never: []machine.Never{{State: "!seat && !brake", In: machine.Reaches{"stop"}}},
	}
}

func compiled(t *testing.T, section machine.Interlock) *Logic {
	t.Helper()
	l, problems := Compile(section)
	if l == nil {
		t.Fatalf("section does not compile: %v", problems)
	}
	return l
}

func TestZeroTurnPlan(t *testing.T) {
	for _, test := range []struct {
		contacts    string
		tests       int
		uncatchable []Uncatchable
	}{
		{"shared", 5, []Uncatchable{}},
		{"per_permit", 8, []Uncatchable{{"brake@run:made", Forbidden}}},
	} {
		t.Run(test.contacts, func(t *testing.T) {
			plan := compiled(t, zeroTurn(test.contacts)).Plan()
			if len(plan.Tests) != test.tests || !plan.TestsExact {
				t.Errorf("%s: %d tests, exact %v; want %d: %+v", test.contacts, len(plan.Tests), plan.TestsExact, test.tests, plan.Tests)
			}
			if !reflect.DeepEqual(plan.Uncatchable, test.uncatchable) {
				t.Errorf("%s: uncatchable %v, want %v", test.contacts, plan.Uncatchable, test.uncatchable)
			}
			stops := false
			for _, one := range plan.Tests {
				if one.Kind != Refusal {
					stops = true
				} else if stops {
					t.Errorf("%s: a refusal after a stop", test.contacts)
				}
			}
		})
	}
}

func TestRequiredTestsAreInThePlan(t *testing.T) {
	section := zeroTurn("")
	section.Required = []machine.RequiredTest{
		{Kind: Refusal, Permit: "start", To: map[string]bool{"seat": false, "brake": false}},
		{Kind: Refusal, Permit: "start", To: map[string]bool{"cutters": false}},
	}
	plan := compiled(t, section).Plan()
	var at []int
	for _, r := range []map[string]bool{{"seat": false, "brake": false, "cutters": true, "lever_l": true, "lever_r": true}, {"seat": true, "brake": true, "cutters": false, "lever_l": true, "lever_r": true}} {
		at = append(at, slices.IndexFunc(plan.Tests, func(one Test) bool { return reflect.DeepEqual(one.To, r) && one.Kind == Refusal }))
	}
	if at[0] < 0 || at[1] < at[0] {
		t.Errorf("required tests stand at %v", at)
	}
	section.Required[0].To = map[string]bool{}
	if _, problems := Compile(section); len(problems) != 1 || problems[0].Reason.Rule != ruleRequired {
		t.Errorf("a refusal from the start state was taken as a test: %v", problems)
	}
}

func TestNoPoweredMotion(t *testing.T) {
	l := compiled(t, machine.Interlock{None: &text.Text{EN: "none", ES: "ninguna"}})
	if plan := l.Plan(); len(plan.Tests) != 0 || len(plan.Dangerous) != 0 {
		t.Errorf("plan of a machine without interlocks: %+v", plan)
	}
}

// random makes a section with n switches, start, run and up to two drives.
func random(r *rand.Rand, n int) machine.Interlock {
	var section machine.Interlock
	for i := range n {
		s := machine.Switch{ID: fmt.Sprintf("s%d", i), Place: r.IntN(6) == 0}
		if r.IntN(6) == 0 {
			s.Moving = "forbidden"
		}
		if r.IntN(3) == 0 {
			s.Contacts = "per_permit"
		}
		section.Switches = append(section.Switches, s)
	}
	add := func(id, kind string, latched bool) {
		section.Permits = append(section.Permits, machine.Permit{ID: id, Kind: kind, When: randomExpr(r, n, 3).String(), Latched: latched})
	}
	if r.IntN(5) > 0 {
		add("start", "start", false)
	}
	if r.IntN(5) > 0 {
		add("run", "run", false)
	}
	for d := range r.IntN(3) {
		add(fmt.Sprintf("d%d", d), "drive", r.IntN(2) == 0)
	}
	if len(section.Permits) == 0 {
		add("run", "run", false)
	}
	if r.IntN(2) == 0 {
		section.Never = []machine.Never{{State: randomExpr(r, n, 2).String(), In: []machine.Reaches{{"refusal"}, {"stop"}, {"engage"}, nil}[r.IntN(4)]}}
	}
	return section
}

func randomExpr(r *rand.Rand, n, depth int) Expr {
	if depth == 0 || r.IntN(3) == 0 {
		return Name(fmt.Sprintf("s%d", r.IntN(n)))
	}
	switch r.IntN(5) {
	case 0:
		return Not{randomExpr(r, n, depth-1)}
	case 1, 2:
		return And{[]Expr{randomExpr(r, n, depth-1), randomExpr(r, n, depth-1)}}
	}
	return Or{[]Expr{randomExpr(r, n, depth-1), randomExpr(r, n, depth-1)}}
}

func TestSamePlanEveryTime(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 20 {
		section := random(r, 6)
		first := compiled(t, section).Plan()
		for range 3 {
			if again := compiled(t, section).Plan(); !reflect.DeepEqual(first, again) {
				t.Fatalf("two plans for %+v", section)
			}
		}
	}
}

func BenchmarkPlanZeroTurn(b *testing.B) {
	for b.Loop() {
		l, _ := Compile(zeroTurn("per_permit"))
		l.Plan()
	}
}

func BenchmarkPlanTwelveSwitches(b *testing.B) {
	r := rand.New(rand.NewPCG(1, 2))
	var sections []machine.Interlock
	for range 10 {
		sections = append(sections, random(r, 12))
	}
	i := 0
	for b.Loop() {
		l, _ := Compile(sections[i%len(sections)])
		l.Plan()
		i++
	}
}
