package interlock_test

// The planner against the text, on thousands of small sections.

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
)

// some makes a section with n switches that uses everything there is to say.
func some(r *rand.Rand, n int) machine.Interlock {
	var s machine.Interlock
	one := func(of int) bool { return r.IntN(of) == 0 }
	for i := range n {
		sw := machine.Switch{ID: fmt.Sprintf("s%d", i), Place: one(4)}
		if one(4) {
			sw.Contacts = "per_permit"
		}
		if one(4) {
			sw.Moving = "forbidden"
		}
		if one(4) {
			sw.Rest = "broken"
		}
		if one(6) {
			sw.AtStart = "made"
		}
		s.Switches = append(s.Switches, sw)
	}
	likely := one(2)
	permit := func(id, kind string) *machine.Permit {
		p := machine.Permit{ID: id, Kind: kind, When: term(r, n, 3)}
		if likely {
			p.When = like(r, n, kind)
		}
		s.Permits = append(s.Permits, p)
		return &s.Permits[len(s.Permits)-1]
	}
	if !one(5) {
		permit("start", "start")
	}
	if !one(5) {
		permit("run", "run")
	}
	for d := range r.IntN(4) {
		p := permit(fmt.Sprintf("d%d", d), "drive")
		if d > 0 && one(3) && s.Permits[len(s.Permits)-2].TurnedBy == "" {
			p.TurnedBy = fmt.Sprintf("d%d", d-1)
		}
		if p.Latched = one(2); p.Latched && one(2) {
			p.LatchedBy = []string{fmt.Sprintf("s%d", r.IntN(n))}
		}
	}
	if len(s.Permits) == 0 {
		permit("d0", "drive")
	}
	for range r.IntN(3) {
		s.Never = append(s.Never, machine.Never{State: term(r, n, 2),
			In: []machine.Reaches{nil, {"refusal"}, {"engage"}, {"stop"}, {"all"}, {"engage", "stop"}}[r.IntN(6)]})
	}
	return s
}

// like is a term as machines have them: made is the safe side, a drive wants its
// safeguards and its demand.
func like(r *rand.Rand, n int, kind string) string {
	out := fmt.Sprintf("s%d", r.IntN(n))
	for range r.IntN(n) {
		out += []string{" && ", " && ", " || "}[r.IntN(3)] + fmt.Sprintf("s%d", r.IntN(n))
	}
	if kind == "drive" {
		out = fmt.Sprintf("!s%d && (%s)", r.IntN(n), out)
	}
	return out
}

func term(r *rand.Rand, n, depth int) string {
	if depth == 0 || r.IntN(3) == 0 {
		return []string{"", "!"}[r.IntN(2)] + fmt.Sprintf("s%d", r.IntN(n))
	}
	switch r.IntN(6) {
	case 0:
		return "!(" + term(r, n, depth-1) + ")"
	case 1, 2, 3:
		return "(" + term(r, n, depth-1) + ") && (" + term(r, n, depth-1) + ")"
	}
	return "(" + term(r, n, depth-1) + ") || (" + term(r, n, depth-1) + ")"
}

func (l *literal) written(t literalTest) machine.RequiredTest {
	q := machine.RequiredTest{Kind: t.kind, Permit: t.permit, To: l.positions(t.to), Return: t.back}
	if t.kind != "refusal" {
		q.From = l.positions(t.from)
	}
	return q
}

func (l *literal) positions(x uint) map[string]bool {
	out := map[string]bool{}
	for _, s := range l.section.Switches {
		out[s.ID] = x&l.bit(s.ID) != 0
	}
	return out
}

func TestThePlannerAgreesWithTheText(t *testing.T) {
	r := rand.New(rand.NewPCG(2026, 11))
	sections, compared, seen := 2500, 0, map[string]int{}
	if testing.Short() {
		sections = 400
	}
	for i := range sections {
		section := some(r, 2+r.IntN(3))
		l := newLiteral(section)
		tests := l.tests()
		for range r.IntN(3) {
			if len(tests) > 0 {
				section.Required = append(section.Required, l.written(tests[r.IntN(len(tests))]))
			}
		}
		logic, problems := interlock.Compile(section)
		if logic == nil {
			t.Fatalf("%+v\n%+v", problems, section)
		}
		plan := logic.Plan()
		agreeOnFaults(t, l, tests, plan, section)
		want, ok := l.plan(section.Required, 200_000)
		if !ok {
			continue
		}
		compared++
		got := literalPlan{movements: plan.Movements, words: want.words}
		for _, one := range plan.Tests {
			from := uint(0)
			if one.From != nil {
				from = l.position(one.From)
			}
			got.tests = append(got.tests, literalTest{one.Kind, one.Permit, from, l.position(one.To), one.Return})
			seen[one.Kind]++
		}
		if !slices.Equal(got.tests, want.tests) || got.movements != want.movements || !plan.TestsExact || !plan.MovementsExact || plan.TestsAtLeast != len(want.tests) {
			t.Fatalf("section %d\ngot  %d %+v\nwant %d %+v\nof %+v", i, got.movements, got.tests, want.movements, want.tests, section)
		}
		if (plan.Start == nil) != (want.start == nil) || want.start != nil && l.position(plan.Start) != *want.start {
			t.Fatalf("section %d starts in %v, want %v: %+v", i, plan.Start, want.start, section)
		}
	}
	t.Logf("%d of %d compared, tests %v", compared, sections, seen)
	if compared < sections*9/10 || seen["engage"] < compared/12 {
		t.Errorf("only %d of %d rounds compared, tests %v", compared, sections, seen)
	}
}

// agreeOnFaults compares which are dangerous, which cannot be caught and why,
// what each test catches and the pairs.
func agreeOnFaults(t *testing.T, l *literal, tests []literalTest, plan interlock.Plan, section machine.Interlock) {
	t.Helper()
	free := newLiteral(section)
	free.free = true
	anyhow := free.tests()
	var dangerous []string
	uncatchable := []interlock.Uncatchable{}
	for _, f := range l.dangerous() {
		dangerous = append(dangerous, f.name)
		by := func(t literalTest) bool { return l.catches(t, f) }
		switch {
		case slices.ContainsFunc(tests, by):
		case slices.ContainsFunc(anyhow, by):
			uncatchable = append(uncatchable, interlock.Uncatchable{Fault: f.name, Reason: "forbidden"})
		default:
			uncatchable = append(uncatchable, interlock.Uncatchable{Fault: f.name, Reason: "unseen"})
		}
	}
	if !slices.Equal(plan.Dangerous, dangerous) || !slices.Equal(plan.Uncatchable, uncatchable) {
		t.Fatalf("dangerous %v and not caught %v, want %v and %v: %+v", plan.Dangerous, plan.Uncatchable, dangerous, uncatchable, section)
	}
	var pairs interlock.Pairs
	contacts := slices.DeleteFunc(l.dangerous(), func(f literalFault) bool { return f.how == "on" || f.how == "off" || f.how == "restarts" })
	done := map[int]literalTest{}
	for i, one := range plan.Tests {
		from := uint(0)
		if one.From != nil {
			from = l.position(one.From)
		}
		done[i] = literalTest{one.Kind, one.Permit, from, l.position(one.To), one.Return}
		for _, f := range l.dangerous() {
			if slices.Contains(one.Catches, f.name) != l.catches(done[i], f) {
				t.Fatalf("%+v catches %s: %v: %+v", one, f.name, !l.catches(done[i], f), section)
			}
		}
	}
	for i, f := range contacts {
		for _, g := range contacts[:i] {
			if f.on == g.on {
				continue
			}
			pairs.All++
			for _, one := range done {
				if l.shows(one, f, g) {
					pairs.Caught++
					break
				}
			}
		}
	}
	if plan.Pairs != pairs {
		t.Fatalf("pairs %+v, want %+v: %+v", plan.Pairs, pairs, section)
	}
}
