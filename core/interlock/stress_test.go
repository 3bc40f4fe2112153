package interlock

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"
	"os"
	"strings"

	"vespers/core/machine"
)

func TestStress(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 4))
	n := 8
	if os.Getenv("N") == "12" { n = 12 }
	worst := time.Duration(0)
	for i := range 60 {
		var s machine.Interlock
		for j := range n {
			sw := machine.Switch{ID: fmt.Sprintf("s%d", j)}
			if r.IntN(2) == 0 || os.Getenv("PER") != "" {
				sw.Contacts = "per_permit"
			}
			s.Switches = append(s.Switches, sw)
		}
		and := func(k int, neg bool) string {
			p := r.Perm(n)[:k]
			var out []string
			for m, x := range p {
				name := fmt.Sprintf("s%d", x)
				if neg && m == 0 {
					name = "!" + name
				}
				out = append(out, name)
			}
			return strings.Join(out, " && ")
		}
		st := and(4+r.IntN(3), false)
		s.Permits = append(s.Permits, machine.Permit{ID: "start", Kind: "start", When: st})
		s.Permits = append(s.Permits, machine.Permit{ID: "run", Kind: "run", When: fmt.Sprintf("s%d || %s", r.IntN(n), st)})
		for d := range 4 {
			s.Permits = append(s.Permits, machine.Permit{ID: fmt.Sprintf("d%d", d), Kind: "drive", When: and(2+r.IntN(4), true), Latched: r.IntN(3) == 0})
		}
		l := compiled(t, s)
		at := time.Now()
		plan := l.Plan()
		took := time.Since(at)
		worst = max(worst, took)
		t.Logf("%d: %v tests %d exact %v moves %d exact %v dangerous %d", i, took, len(plan.Tests), plan.TestsExact, plan.Movements, plan.MovementsExact, len(plan.Dangerous))
	}
	t.Log("worst", worst)
}
