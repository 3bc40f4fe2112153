package outing_test

import (
	"testing"

	"vespers/core/defect"
	"vespers/core/outing"
	"vespers/demo"
)

// released brings a machine of a family out.
func released(t *testing.T, family string) *runner {
	t.Helper()
	s := sheetOf(t, family)
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.stage("verdict"))
	r.must(outing.Released{Verdict: r.o.Judge(morning)})
	return r
}

func TestLookAtABreak(t *testing.T) {
	r := released(t, "disc_chipper")
	s := r.o.Units[0].Sheet
	if len(r.o.BreakLeft()) != 0 {
		t.Fatal("a break has begun by itself")
	}
	r.refused(outing.BreakAnswered{Answered: outing.Answered{Machine: "m", Check: s.Checks[0].ID, Answer: outing.AnswerNotReached}}, "outing.not_in_break")
	plan := r.o.PlanBreak()
	r.must(plan)
	left := r.o.BreakLeft()
	if len(left) < 2 || len(left) > 12 {
		t.Fatalf("%d points at a break", len(left))
	}
	for _, s := range left {
		if !s.Check.Break {
			t.Errorf("%s is not for a break", s.Check.ID)
		}
	}
	r.refused(plan, "outing.break_not_done")
	answer := func(s outing.BreakStop) outing.BreakAnswered {
		e := outing.Answered{Machine: s.Unit.Machine, Check: s.Check.ID, Item: s.Item, Answer: outing.AnswerSound}
		if reading, ok := s.Check.Reading(s.Item); ok {
			e.Answer, e.Value = outing.AnswerReading, demo.Value(reading, demo.Good(s.Unit, reading))
		}
		return outing.BreakAnswered{Answered: e}
	}
	// What cannot be reached comes again at the end.
	r.must(outing.BreakAnswered{Answered: outing.Answered{Machine: "m", Check: left[0].Check.ID, Item: left[0].Item, Answer: outing.AnswerNotReached}})
	if now := r.o.BreakLeft(); len(now) != len(left) || now[len(now)-1].Check != left[0].Check {
		t.Errorf("what could not be reached is not last: %d of %d left", len(now), len(left))
	}
	for len(r.o.BreakLeft()) > 0 {
		r.must(answer(r.o.BreakLeft()[0]))
	}
	if d := r.o.Defects(); len(d) != 0 {
		t.Errorf("a clean look leaves %+v", d)
	}
	r.must(r.o.PlanBreak()) // the next break
	if len(r.o.BreakLeft()) != len(left) {
		t.Error("the second look is not whole")
	}
}

// TestABreakOnlyWorsens: a lost part found at a break halts a machine that is
// out; sound at the next break takes nothing back.
func TestABreakOnlyWorsens(t *testing.T) {
	r := released(t, "disc_chipper")
	r.must(r.o.PlanBreak())
	point := r.o.BreakLeft()[0]
	lost, early := "", ""
	for _, s := range r.o.BreakLeft() {
		for _, f := range s.Check.Faults {
			if f.Extent == "lost" && s.Check.Class <= "B" {
				point, lost = s, f.ID
			}
		}
	}
	for _, f := range point.Check.Faults {
		if f.Extent == "early" {
			early = f.ID
		}
	}
	r.must(outing.BreakAnswered{Answered: outing.Answered{Machine: "m", Check: point.Check.ID, Answer: outing.AnswerFault, Fault: lost}})
	d := r.o.Defects()
	if len(d) != 1 || d[0].Finding.Grade != defect.Halt || r.o.Judge(morning).Outcome != outing.Halted {
		t.Fatalf("%s %s: %+v", point.Check.ID, lost, d)
	}
	clone := r.o.Clone()
	for len(r.o.BreakLeft()) > 0 {
		s := r.o.BreakLeft()[0]
		e := outing.Answered{Machine: "m", Check: s.Check.ID, Item: s.Item, Answer: outing.AnswerSound}
		if reading, ok := s.Check.Reading(s.Item); ok {
			e.Answer, e.Value = outing.AnswerReading, demo.Value(reading, demo.Good(s.Unit, reading))
		}
		r.must(outing.BreakAnswered{Answered: e})
	}
	if len(clone.BreakLeft()) == 0 {
		t.Error("answers show in a clone made before")
	}
	r.must(r.o.PlanBreak())
	if early != "" {
		r.must(outing.BreakAnswered{Answered: outing.Answered{Machine: "m", Check: point.Check.ID, Answer: outing.AnswerFault, Fault: early}})
	} else {
		r.must(outing.BreakAnswered{Answered: outing.Answered{Machine: "m", Check: point.Check.ID, Answer: outing.AnswerSound}})
	}
	if d := r.o.Defects(); len(d) != 1 || d[0].Finding.Grade != defect.Halt {
		t.Errorf("a later look took the Halt back: %+v", d)
	}
	r.must(outing.Ended{How: outing.EndHome})
	r.refused(r.o.PlanBreak(), "outing.closed")
}

func TestNoBreakBeforeRelease(t *testing.T) {
	s := sheetOf(t, "disc_chipper")
	r := &runner{t: t, o: begin(t, s)}
	r.refused(r.o.PlanBreak(), "outing.not_out")
}
