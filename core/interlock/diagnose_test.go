package interlock

import (
	"errors"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"vespers/core/text"
)

// try does a test on a machine in some condition, straight from the meaning of
// a test.
func try(s slowly, in condition, t Test) Observation {
	b := newBench(s.l)
	c, _ := b.legalOf(t)
	yes, no := true, false
	truth := func(b bool) *bool {
		if b {
			return &yes
		}
		return &no
	}
	o := Observation{Test: t}
	if t.Kind != Refusal {
		if o.AtFrom = truth(s.effect(int(c.effect), c.from, in...)); !*o.AtFrom {
			return o
		}
	}
	o.Observed = truth(s.effect(int(c.effect), c.to, in...))
	if t.Return && !*o.Observed {
		again := slices.ContainsFunc(in, func(f fault) bool { return f.restarts == int(c.effect) }) && s.effect(watchRuns, c.to, in...)
		o.Restarted = truth(again)
	}
	return o
}

// TestDiagnosisKeepsTheTruth plants every single fault, and many pairs, and
// follows the tests that the diagnosis asks for until it asks for no more.
func TestDiagnosisKeepsTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	for round := range 40 {
		l := compiled(t, random(r, 2+r.IntN(3)))
		s := slowly{l}
		faults := l.faults()
		conditions := []condition{nil}
		for i, f := range faults {
			conditions = append(conditions, condition{f})
			if g := faults[r.IntN(len(faults))]; !f.sameThing(g) && i%2 == 0 {
				conditions = append(conditions, condition{f, g})
			}
		}
		for _, in := range conditions {
			var seen []Observation
			for {
				d, err := l.Diagnose(seen)
				if err != nil {
					t.Fatal(err)
				}
				single := len(d.Suspects) > 0 && len(d.Suspects[0]) < 2
				kept := slices.ContainsFunc(d.Suspects, func(names []string) bool { return sameNames(names, in) })
				if !kept && (len(in) < 2 || !single) {
					t.Fatalf("round %d: %v was dropped after %d tests: %v", round, in, len(seen), d.Suspects)
				}
				if d.Next == nil {
					break
				}
				if len(seen) > 40 {
					t.Fatalf("the diagnosis of %v does not end", in)
				}
				seen = append(seen, try(s, in, *d.Next))
			}
		}
	}
}

func sameNames(names []string, in condition) bool {
	var want []string
	for _, f := range in {
		want = append(want, f.name)
	}
	slices.Sort(want)
	got := slices.Clone(names)
	slices.Sort(got)
	return slices.Equal(got, want)
}

// TestNextTestAgainstBruteForce compares the largest group that the next test
// leaves with that of every other test.
func TestNextTestAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 2))
	for range 60 {
		l := compiled(t, random(r, 2+r.IntN(3)))
		s := slowly{l}
		d, _ := l.Diagnose(nil)
		faults := append([]fault{{restarts: -1, on: -1, contact: -1}}, l.faults()...)
		worst := func(one Test) int {
			groups := map[string]int{}
			for _, f := range faults {
				o := try(s, condition{f}, one)
				key := ""
				for _, p := range []*bool{o.AtFrom, o.Observed, o.Restarted} {
					key += map[bool]string{true: "?", false: ""}[p == nil]
					if p != nil {
						key += map[bool]string{true: "y", false: "n"}[*p]
					}
				}
				groups[key]++
			}
			largest := 0
			for _, n := range groups {
				largest = max(largest, n)
			}
			return largest
		}
		all, _ := s.tests()
		best := len(faults)
		for _, one := range all {
			best = min(best, worst(one))
		}
		switch {
		case d.Next == nil && best < len(faults):
			t.Fatalf("no next test, though one leaves %d of %d", best, len(faults))
		case d.Next != nil && worst(*d.Next) != best:
			t.Fatalf("next leaves %d, another test %d", worst(*d.Next), best)
		}
	}
}

func TestDiagnoseZeroTurn(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	yes, no := true, false
	cranked := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brake": false}}, Observed: &yes}
	d, err := l.Diagnose([]Observation{cranked})
	if err != nil || !reflect.DeepEqual(d.Suspects, [][]string{{"brake:made"}, {"start:on"}}) {
		t.Fatalf("suspects %v, %v", d.Suspects, err)
	}
	refused := Observation{Test: *d.Next, Observed: &no}
	if d, _ = l.Diagnose([]Observation{cranked, refused}); !reflect.DeepEqual(d.Suspects, [][]string{{"brake:made"}}) || d.Next != nil {
		t.Errorf("after a refusal elsewhere: %v, next %v", d.Suspects, d.Next)
	}
	other := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"lever_l": false}}, Observed: &yes}
	other2 := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"lever_r": false}}, Observed: &no}
	d, _ = l.Diagnose([]Observation{cranked, other, other2})
	if len(d.Suspects) == 0 || len(d.Suspects[0]) != 2 || !slices.ContainsFunc(d.Suspects, func(s []string) bool { return slices.Equal(s, []string{"brake:made", "lever_l:made"}) }) {
		t.Errorf("two bypassed switches: %v", d.Suspects)
	}
}

func TestWrongResults(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	yes, no := true, false
	refusal := Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brake": false}}
	for name, test := range map[string]struct {
		o    Observation
		rule text.Rule
	}{
		"no test":          {Observation{Test: Test{Kind: Refusal, Permit: "start"}, Observed: &no}, ruleNoTest},
		"unknown switch":   {Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brak": false}}, Observed: &no}, ruleNoTest},
		"from in refusal":  {Observation{Test: refusal, AtFrom: &yes, Observed: &no}, ruleNotFrom},
		"nothing observed": {Observation{Test: refusal}, ruleNoResult},
		"restart":          {Observation{Test: refusal, Observed: &no, Restarted: &no}, ruleNotStopped},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := l.Diagnose([]Observation{test.o})
			var wrong *Wrong
			if !errors.As(err, &wrong) || wrong.Place != 0 || wrong.Reason.Rule != test.rule {
				t.Errorf("%s: %v, want %s", name, err, test.rule)
			}
		})
	}
}

// TestCoverageAndPairs compares both with the definitions.
func TestCoverageAndPairs(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 1))
	for range 80 {
		l := compiled(t, random(r, 1+r.IntN(4)))
		s := slowly{l}
		all, catches := s.tests()
		dangerous := s.dangerous()
		var some []Test
		var want set
		for i := range all {
			if r.IntN(4) == 0 {
				some = append(some, all[i])
				want = want.union(catches[i])
			}
		}
		got, err := l.Coverage(some)
		if err != nil {
			t.Fatal(err)
		}
		for i, f := range dangerous {
			if slices.Contains(got.Caught, f.name) != want.has(i) || slices.Contains(got.Missed, f.name) == want.has(i) {
				t.Fatalf("%s: caught %v, missed %v, want %v", f.name, got.Caught, got.Missed, want.has(i))
			}
		}
		plan := l.Plan()
		var pairs Pairs
		for i, f := range dangerous {
			for _, g := range dangerous[:i] {
				if f.contact < 0 || g.contact < 0 || f.contact == g.contact {
					continue
				}
				pairs.All++
				if slices.ContainsFunc(plan.Tests, func(one Test) bool {
					o := try(s, condition{g, f}, one)
					return o.Observed != nil && *o.Observed
				}) {
					pairs.Caught++
				}
			}
		}
		if plan.Pairs != pairs {
			t.Fatalf("pairs %+v, want %+v", plan.Pairs, pairs)
		}
	}
}
