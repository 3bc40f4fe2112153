package inspect_test

import (
	"testing"

	"vespers/core/defect"
	"vespers/core/inspect"
)

// TestMadeWorse: who found it may make it worse, never better and nothing sound, and
// that is said first.
func TestMadeWorse(t *testing.T) {
	l := begin(t)
	l.want(say("tyre", "left", "reading", "", "60"), "")
	found := l.Found()
	if len(found) != 1 || found[0].Finding.Grade == defect.Halt {
		t.Fatalf("%+v", found)
	}
	last, _ := l.Last("tyre", "left")
	was := found[0].Finding.Grade
	for _, c := range []struct {
		e    inspect.Worsened
		rule string
	}{
		{inspect.Worsened{Machine: "m", Check: "tyre", Item: "left", Finding: "none", Grade: defect.Halt}, "answer.superseded_already"},
		{inspect.Worsened{Machine: "m", Check: "tyre", Item: "left", Finding: last.Meta.ID, Grade: was}, "finding.not_worse"},
		{inspect.Worsened{Machine: "m", Check: "tyre", Item: "left", Finding: last.Meta.ID, Grade: defect.Sound}, "finding.not_worse"},
		{inspect.Worsened{Machine: "m", Check: "tyre", Item: "left", Finding: last.Meta.ID, Grade: "bad"}, "finding.not_worse"},
	} {
		if _, err := l.Worsen(c.e); rule(err) == "" {
			t.Errorf("%+v was taken", c.e)
		}
	}
	e, err := l.Worsen(inspect.Worsened{Machine: "m", Check: "tyre", Item: "left", Finding: last.Meta.ID, Grade: defect.Halt, Why: "It hisses"})
	if err != nil {
		t.Fatal(err)
	}
	l.take(e)
	f := l.Found()[0].Finding
	if f.Grade != defect.Halt || f.Reasons[0].Rule != "grade.by_hand_why" || f.Deadline != (defect.Deadline{}) {
		t.Errorf("%+v", f)
	}
	if len(l.Worse(last)) != 0 {
		t.Error("worse than a Halt")
	}
}

// TestWhatCameBefore makes a finding worse in the walk, and a sound reading a Mend
// where it comes to its limit; outings of an earlier edition forget.
func TestWhatCameBefore(t *testing.T) {
	for _, c := range []struct {
		edition int
		grade   defect.Grade
		rule    string
	}{{defect.Edition, defect.Mend, "grade.did_not_hold"}, {3, defect.Watch, "grade.cell"}} {
		l := begin(t)
		l.House.Edition = c.edition
		l.State.History = []defect.Past{{Check: "oil", Work: defect.Repaired, Ago: 2}}
		l.want(say("oil", "", "fault", "low", ""), "")
		f := l.Found()[0].Finding
		if f.Grade != c.grade || string(f.Reasons[0].Rule) != c.rule || (f.Deadline.At != nil) != (c.grade == defect.Mend) {
			t.Errorf("%d: %+v", c.edition, f)
		}
	}
	falling := func(edition int) *look {
		l := begin(t)
		l.House.Edition = edition
		// By one in an hour: 88 at 100 h, and the limit of 80 in eight.
		l.State.Series = []defect.Series{{Check: "tyre", Item: "left", Unit: "kPa", Points: []defect.Read{{Hours: 88, Value: 100}, {Hours: 94, Value: 94}}}}
		l.want(say("tyre", "left", "reading", "", "88"), "")
		return l
	}
	l := falling(defect.Edition)
	last, _ := l.Last("tyre", "left")
	if f := l.Judged(last); last.Finding.Grade != defect.Sound || f.Grade != defect.Mend || f.Reasons[0].Rule != "grade.trend" || f.Deadline.Hours != nil || len(l.Found()) != 1 {
		t.Errorf("%+v", f)
	}
	if l := falling(3); len(l.Found()) != 0 {
		t.Errorf("%+v", l.Found())
	}
}
