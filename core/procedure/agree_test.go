package procedure

import (
	"fmt"
	"math/rand"
	"slices"
	"sort"
	"strings"
	"testing"

	"vespers/core/machine"
	"vespers/core/text"
)

// TestAgreesWithTheText: on thousands of small sheets made at random, the check
// finds what the rules find when they are followed word by word: the same states
// and transitions, hazards and the shortest ways to them, guards, dead ends, steps
// that are never reached.
func TestAgreesWithTheText(t *testing.T) {
	const sheets = 600
	reached, applied, dead, never, large := 0, 0, 0, 0, 0
	for seed := range sheets {
		s := randomSheet(rand.New(rand.NewSource(int64(seed))))
		if problems := Problems(s); len(problems) > 0 {
			t.Fatalf("seed %d: %+v", seed, problems)
		}
		if report := check(s, nil, ""); report.States > 800 {
			large++
			continue
		}
		l, states := literally(s)
		report := Check(s)
		fail := func(what string, got, want any) {
			t.Fatalf("seed %d: %s: %v, and by the text %v", seed, what, got, want)
		}
		if report.States != states {
			fail("states", report.States, states)
		}
		if report.Transitions != l.moves {
			fail("transitions", report.Transitions, l.moves)
		}
		for _, h := range report.Hazards {
			path, is := l.reached[h.ID]
			if is == h.Holds || is && len(path) != len(h.Path) {
				fail(h.ID, h.Path, path)
			}
			guards, applies := l.guarded[h.ID]
			if applies != h.Applies {
				fail(h.ID+" applies", h.Guards, guards)
			}
			mine := slices.Clone(h.Guards)
			sort.Strings(mine)
			if applies && strings.Join(mine, " ") != strings.Join(guards, " ") {
				fail("guards of "+h.ID, mine, guards)
			}
			reached, applied = reached+len(path), applied+len(guards)
		}
		var at []string
		for _, d := range report.DeadEnds {
			at = append(at, d.At)
		}
		for _, d := range at {
			if !l.dead[d] {
				fail("dead end", d, l.dead)
			}
		}
		if len(at) != len(l.dead) {
			fail("dead ends", at, l.dead)
		}
		for _, n := range report.NeverReached {
			if l.seen[n] {
				fail("never reached", n, "reached")
			}
		}
		dead, never = dead+len(at), never+len(report.NeverReached)
	}
	if reached < 500 || applied < 500 || dead < 50 || never < 50 || large > sheets*2/3 {
		t.Errorf("too little was tried: %d steps to hazards, %d guards, %d dead ends, %d never reached, %d too large", reached, applied, dead, never, large)
	}
}

// randomSheet is a small sheet: a few facts, steps that need and make them, waits,
// questions, an event or two.
func randomSheet(r *rand.Rand) *machine.Sheet {
	s := &machine.Sheet{ID: "random", Power: []string{"petrol", "battery", "carrier"}[r.Intn(3)]}
	for _, f := range []string{"lead", "cutter", "travel", "brake", "bar", "water", "proved", "feeding", "attachment"} {
		if r.Intn(3) == 0 {
			s.Fitted = append(s.Fitted, f)
		}
	}
	if r.Intn(4) == 0 {
		s.Own = map[string][]string{"hood": {"shut", "open"}}
		s.Hazards = []machine.SheetHazard{{ID: "hood_engine", When: "hood == open && engine == running"}, {ID: "away_hood", At: "hood=open", When: "person == away || answer == no"}}
	}
	s.Options = []machine.Option{{ID: "roof", Choices: []machine.OptionChoice{{ID: "none"}, {ID: "fixed"}}}}
	s.Numbers = []machine.Parameter{{ID: "coast", Value: 5, Unit: "s"}}
	all := factsOf(s.Power, s.Fitted, s.Own)
	fact := func(write bool) (string, string) {
		for {
			f := all[r.Intn(len(all))]
			if write && f.ReadOnly {
				continue
			}
			return f.ID, f.Values[r.Intn(len(f.Values))]
		}
	}
	makes := func(most int) machine.Facts {
		out := machine.Facts{}
		for range r.Intn(most + 1) {
			f, v := fact(true)
			out[f] = v
		}
		return out
	}
	needs := func(often int) machine.Needs {
		out := machine.Needs{}
		for r.Intn(often) == 0 {
			f, v := fact(false)
			out[f] = append(out[f], v)
		}
		return out
	}
	events := r.Intn(3)
	steps := func() (out []machine.Step) {
		for i := range 1 + r.Intn(4) {
			st := machine.Step{ID: fmt.Sprintf("s%d", i), Do: text.Text{EN: "x", ES: "x"}, When: needs(5), Needs: needs(4), Makes: makes(2)}
			if r.Intn(3) == 0 {
				f, v := fact(false)
				st.Wait = &machine.Wait{Parameter: "coast", Since: machine.Facts{f: v}}
			}
			switch st.Answer = []string{"", "", "yes_no", "wait", "stopwatch"}[r.Intn(5)]; st.Answer {
			case "wait":
				if st.Wait == nil {
					st.Answer = "done"
				}
			case "yes_no", "stopwatch":
				then := []string{"stay", "next", "stop", fmt.Sprintf("back:s%d", r.Intn(i+1)), "next"}[r.Intn(5)]
				if events > 0 && r.Intn(4) == 0 {
					then = fmt.Sprintf("event:e%d", r.Intn(events))
				}
				st.No = &machine.No{Then: then, Makes: makes(1)}
				if r.Intn(3) == 0 {
					st.No.Finding = &machine.StepFinding{Check: "c", Fault: "f"}
				}
			}
			if r.Intn(8) == 0 {
				st.Ask = "always"
			}
			if r.Intn(8) == 0 {
				st.If = machine.If{"roof": {"fixed"}}
			}
			if r.Intn(10) == 0 {
				st.School = &machine.School{Question: "clearing", Choice: []string{"lead_off", "still"}[r.Intn(2)]}
			}
			st.Test = r.Intn(6) == 0
			out = append(out, st)
		}
		return out
	}
	for i := range 1 + r.Intn(2) {
		s.Procedures = append(s.Procedures, machine.Procedure{ID: []string{"start", "work"}[i], Begin: needs(3), Steps: steps()})
	}
	for i := range events {
		e := machine.Event{ID: fmt.Sprintf("e%d", i), Occurs: needs(3), World: makes(1), After: []string{"", "halt", "wait", "return_only"}[r.Intn(4)], Steps: steps()}
		if r.Intn(3) == 0 {
			e.Accepts = []string{"away_key"}
		}
		s.Events = append(s.Events, e)
	}
	return s
}
