package outing_test

import (
	"testing"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// released brings a machine of a family out.
func released(t *testing.T, family string) *runner {
	t.Helper()
	s := machinetest.Of(t, family)
	r := newRunner(t, s)
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	return r
}

// good is the answer to a point of a break where it is in order.
func good(s outing.BreakStop) outing.AnswerBreak {
	if reading, ok := s.Check.Reading(s.Item); ok {
		return outing.AnswerBreak{Answer: outingtest.Typed(s.Unit.Machine, s.Check.ID, reading, outingtest.Good(s.Unit, reading))}
	}
	return outing.AnswerBreak{Answer: outingtest.Sound(s.Unit.Machine, s.Check.ID).Answer}
}

func TestLookAtABreak(t *testing.T) {
	r := released(t, "disc_chipper")
	s := r.o.Units[0].Sheet
	if len(r.o.BreakLeft()) != 0 {
		t.Fatal("a break has begun by itself")
	}
	r.refused(outing.AnswerBreak{Answer: inspect.Answer{Machine: "m", Check: s.Checks[0].ID, Answer: inspect.NotReached}}, "outing.not_in_break")
	r.must(outing.BeginBreak{})
	left := r.o.BreakLeft()
	if len(left) < 2 || len(left) > 12 {
		t.Fatalf("%d points at a break", len(left))
	}
	for _, s := range left {
		if !s.Check.Break {
			t.Errorf("%s is not for a break", s.Check.ID)
		}
	}
	r.refused(outing.BeginBreak{}, "outing.break_not_done")
	// What cannot be reached comes again at the end.
	r.must(outing.AnswerBreak{Answer: inspect.Answer{Machine: "m", Check: left[0].Check.ID, Item: left[0].Item, Answer: inspect.NotReached}})
	if now := r.o.BreakLeft(); len(now) != len(left) || now[len(now)-1].Check != left[0].Check {
		t.Errorf("what could not be reached is not last: %d of %d left", len(now), len(left))
	}
	for len(r.o.BreakLeft()) > 0 {
		r.must(good(r.o.BreakLeft()[0]))
	}
	if d := r.o.Defects(); len(d) != 0 {
		t.Errorf("a clean look leaves %+v", d)
	}
	r.must(outing.BeginBreak{}) // the next break
	if len(r.o.BreakLeft()) != len(left) {
		t.Error("the second look is not whole")
	}
}

// TestABreakOnlyWorsens: a lost part found at a break halts a machine that is
// out; sound at the next break takes nothing back.
func TestABreakOnlyWorsens(t *testing.T) {
	r := released(t, "disc_chipper")
	r.must(outing.BeginBreak{})
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
	r.must(outing.AnswerBreak{Answer: outingtest.Fault("m", point.Check.ID, lost).Answer})
	d := r.o.Defects()
	if len(d) != 1 || d[0].Finding.Grade != defect.Halt || r.o.Judge(morning).Outcome != outing.Halted {
		t.Fatalf("%s %s: %+v", point.Check.ID, lost, d)
	}
	before := r.o
	for len(r.o.BreakLeft()) > 0 {
		r.must(good(r.o.BreakLeft()[0]))
	}
	if len(before.BreakLeft()) == 0 {
		t.Error("answers show in an outing handed out before")
	}
	r.must(outing.BeginBreak{})
	if early != "" {
		r.must(outing.AnswerBreak{Answer: outingtest.Fault("m", point.Check.ID, early).Answer})
	} else {
		r.must(outing.AnswerBreak{Answer: outingtest.Sound("m", point.Check.ID).Answer})
	}
	if d := r.o.Defects(); len(d) != 1 || d[0].Finding.Grade != defect.Halt {
		t.Errorf("a later look took the Halt back: %+v", d)
	}
	r.home()
	r.refused(outing.BeginBreak{}, "outing.closed")
}

func TestNoBreakBeforeRelease(t *testing.T) {
	s := machinetest.Of(t, "disc_chipper")
	r := newRunner(t, s)
	r.refused(outing.BeginBreak{}, "outing.not_out")
}
