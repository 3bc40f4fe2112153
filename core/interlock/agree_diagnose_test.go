package interlock_test

// The diagnosis against the text.

import (
	"cmp"
	"math/rand/v2"
	"slices"
	"testing"

	"vespers/core/interlock"
)

// answer is what a test shows on a machine with these faults: seen or not
// before, seen or not after, moved again or not; a dash where nobody looks.
func (l *literal) answer(t literalTest, in []literalFault) string {
	mark := map[bool]string{true: "y", false: "n"}
	w := t.watch()
	if t.kind == "refusal" {
		return "-" + mark[l.effect(w, t.to, in...)] + "-"
	}
	if l.effect(w, t.from, in...) == (t.kind == "engage") {
		return mark[t.kind == "engage"] + "--"
	}
	before := mark[t.kind != "engage"]
	after := l.effect(w, t.to, in...) && (t.kind != "engage" || l.effect("run", t.from, in...))
	if after || !t.back {
		return before + mark[after] + "-"
	}
	again := l.effect("run", t.to, in...) && slices.ContainsFunc(in, func(f literalFault) bool { return f.how == "restarts" && f.on == t.permit })
	return before + "n" + mark[again]
}

func (l *literal) observation(t literalTest, answer string) interlock.Observation {
	is := map[byte]*bool{'y': new(true), 'n': new(false)}
	q := l.written(t)
	return interlock.Observation{Test: interlock.Test{Kind: q.Kind, Permit: q.Permit, From: q.From, To: q.To, Return: q.Return},
		AtFrom: is[answer[0]], Observed: is[answer[1]], Restarted: is[answer[2]]}
}

type literalSeen struct {
	test   literalTest
	answer string
}

func (l *literal) suspects(seen []literalSeen) (out [][]literalFault) {
	explains := func(in []literalFault) bool {
		return !slices.ContainsFunc(seen, func(s literalSeen) bool { return l.answer(s.test, in) != s.answer })
	}
	if explains(nil) {
		out = append(out, nil)
	}
	all := l.faults()
	for _, f := range all {
		if explains([]literalFault{f}) {
			out = append(out, []literalFault{f})
		}
	}
	if len(out) > 0 {
		return out
	}
	for i, f := range all {
		for _, g := range all[i+1:] {
			if f.on != g.on && explains([]literalFault{f, g}) {
				out = append(out, []literalFault{f, g})
			}
		}
	}
	return out
}

// next is the best test to do, by everything that decides.
func (l *literal) next(seen []literalSeen, suspects [][]literalFault) (best literalTest, ok bool) {
	at, on := l.rest(), false
	if n := len(seen); n > 0 {
		last := seen[n-1]
		if at = last.test.to; last.answer[1] == '-' || last.answer[2] != '-' {
			at = last.test.from
		}
		on = last.test.kind != "refusal" && l.effect("run", at)
	}
	key := func(t literalTest) (movements int, words []uint) {
		tail := []uint{t.to}
		if t.kind != "refusal" {
			if tail = []uint{t.from, t.to}; t.back {
				tail = append(tail, t.from)
			}
		}
		written := func(through []uint) (out []uint) {
			for _, x := range through {
				out = append(out, l.word(x))
			}
			return out
		}
		if t.kind == "refusal" || !l.engine() || on && l.reach(at, t.from) {
			return way(at, tail), written(tail)
		}
		movements = hopeless
		for _, u := range l.starts() {
			through := append([]uint{u}, tail...)
			n, w := way(at, through), written(through)
			if l.reach(u, t.from) && (n < movements || n == movements && slices.Compare(w, words) < 0) {
				movements, words = n, w
			}
		}
		return movements, words
	}
	largest := len(suspects)
	for _, t := range l.tests() {
		groups := map[string]int{}
		for _, s := range suspects {
			groups[l.answer(t, s)]++
		}
		n := 0
		for _, g := range groups {
			n = max(n, g)
		}
		if len(groups) < 2 || slices.ContainsFunc(seen, func(s literalSeen) bool { return s.test == t }) {
			continue
		}
		place := func(t literalTest) int {
			return 100*t.rank() + slices.Index(l.watches(), t.watch())
		}
		if ok && n == largest {
			m, w := key(t)
			bm, bw := key(best)
			back := map[bool]int{true: 1}
			if cmp.Or(cmp.Compare(m, bm), slices.Compare(w, bw), cmp.Compare(place(t), place(best)), cmp.Compare(back[t.back], back[best.back])) >= 0 {
				continue
			}
		} else if n > largest || ok && n == largest {
			continue
		}
		best, largest, ok = t, n, true
	}
	return best, ok
}

// TestTheDiagnosisAgreesWithTheText plants faults, one and two at a time, and
// does the tests that are asked for until none is.
func TestTheDiagnosisAgreesWithTheText(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	asked, pairs := 0, 0
	for range 700 {
		section := some(r, 2+r.IntN(3))
		l := newLiteral(section)
		logic, _ := interlock.Compile(section)
		all := l.faults()
		planted := [][]literalFault{nil}
		for range 5 {
			f, g := all[r.IntN(len(all))], all[r.IntN(len(all))]
			planted = append(planted, []literalFault{f})
			if f.on != g.on {
				planted = append(planted, []literalFault{f, g})
			}
		}
		for _, in := range planted {
			var seen []literalSeen
			var told []interlock.Observation
			for {
				got, err := logic.Diagnose(told)
				if err != nil {
					t.Fatalf("%v: %+v after %+v", err, section, told)
				}
				suspects := l.suspects(seen)
				var names [][]string
				for _, s := range suspects {
					one := []string{}
					for _, f := range s {
						one = append(one, f.name)
					}
					names = append(names, one)
				}
				if !slices.EqualFunc(got.Suspects, names, slices.Equal) {
					t.Fatalf("suspects %v, want %v: %+v after %+v", got.Suspects, names, section, seen)
				}
				if len(suspects) > 0 && len(suspects[0]) == 2 {
					pairs++
				}
				next, ok := l.next(seen, suspects)
				if ok != (got.Next != nil) {
					t.Fatalf("next %v, want %v %v: %+v after %+v", got.Next, next, ok, section, seen)
				}
				if !ok {
					break
				}
				from := uint(0)
				if got.Next.From != nil {
					from = l.position(got.Next.From)
				}
				if is := (literalTest{got.Next.Kind, got.Next.Permit, from, l.position(got.Next.To), got.Next.Return}); is != next {
					t.Fatalf("next %+v, want %+v: %+v after %+v", is, next, section, seen)
				}
				asked++
				seen = append(seen, literalSeen{next, l.answer(next, in)})
				told = append(told, l.observation(next, seen[len(seen)-1].answer))
			}
		}
	}
	t.Logf("%d tests asked for, %d times of pairs", asked, pairs)
	if asked < 1000 || pairs < 20 {
		t.Errorf("%d tests asked for, %d times of pairs", asked, pairs)
	}
}
