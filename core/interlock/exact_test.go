package interlock

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"vespers/core/machine"
)

// chain is a section of so many switches that each have to be made to start.
func chain(switches int) machine.Interlock {
	var s machine.Interlock
	when := ""
	for i := range switches {
		id := fmt.Sprintf("s%c", 'a'+i)
		s.Switches = append(s.Switches, machine.Switch{ID: id, Rest: "made"})
		if when != "" {
			when += " && "
		}
		when += id
	}
	s.Permits = []machine.Permit{{ID: "start", Kind: "start", When: when}, {ID: "run", Kind: "run", When: when}}
	return s
}

// TestUpToEightSwitchesAreProved: the work allowed for eight is enough to
// finish, that for nine is a tenth of a second's.
func TestUpToEightSwitchesAreProved(t *testing.T) {
	for n, want := range map[int]int{7: 8_000_000_000, 8: 8_000_000_000, 9: 40_000_000, 12: 40_000_000} {
		t.Run(fmt.Sprint(n), func(t *testing.T) {
			if got := workLimit(n); got != want {
				t.Errorf("%d switches: %d steps", n, got)
			}
		})
	}
	for n, want := range map[int]int{8: 24, 9: 3} {
		t.Run(fmt.Sprint(n), func(t *testing.T) {
			if got := beam(n); got != want {
				t.Errorf("%d switches: %d side by side", n, got)
			}
		})
	}
	for _, n := range []int{7, 8} {
		logic, _ := Compile(chain(n))
		if logic == nil {
			t.Fatalf("%d switches do not compile", n)
		}
		if plan := logic.Plan(); !plan.TestsExact || !plan.MovementsExact {
			t.Errorf("the round of %d switches, %d tests, is not proved", n, len(plan.Tests))
		}
	}
}

// TestEightSwitches: up to eight switches and four drives both numbers are
// proved.
func TestEightSwitches(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 4))
	for i := range 60 {
		section := random(r, 8)
		for d := len(section.Permits); d < 6; d++ {
			section.Permits = append(section.Permits, machine.Permit{ID: fmt.Sprintf("e%d", d), Kind: "drive", When: randomExpr(r, 8, 3).String(), Latched: r.IntN(2) == 0})
		}
		plan := compiled(t, section).Plan()
		if !plan.TestsExact || !plan.MovementsExact {
			t.Errorf("section %d: %d tests, exact %v, movements exact %v: %+v", i, len(plan.Tests), plan.TestsExact, plan.MovementsExact, section)
		}
	}
}
