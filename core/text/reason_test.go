package text

import (
	"testing"
	"time"

	"vespers/core/unit"
)

var (
	ruleTest  = NewRule("test.all_kinds", Slot{"words", Words}, Slot{"amount", Amount}, Slot{"count", Count}, Slot{"term", Term}, Slot{"name", Name}, Slot{"moment", Moment}, Slot{"subjects", Subjects})
	rulePlain = NewRule("test.plain")
)

func TestSays(t *testing.T) {
	mm, _ := unit.Find("mm")
	now := time.Unix(1000, 0)
	r := ruleTest.Says(Text{"a", "b"}, Measure{mm.Of(3), "mm"}, 4, Key("grade.mend"), "x", now, []Text{{"c", "d"}})
	if r.Rule != ruleTest || len(r.Args) != 7 {
		t.Fatalf("%+v", r)
	}
	if r.Args[0].Words.ES != "b" || r.Args[1].Unit != "mm" || *r.Args[2].Count != 4 || r.Args[3].Term != "grade.mend" || r.Args[4].Plain != "x" || !r.Args[5].Moment.Equal(now) || len(r.Args[6].Subjects) != 1 {
		t.Errorf("%+v", r.Args)
	}
	for i, slot := range ruleTest.Slots() {
		if r.Args[i].Name != slot.Name {
			t.Errorf("argument %d is called %s, its slot %s", i, r.Args[i].Name, slot.Name)
		}
	}
	if got := rulePlain.Says(); len(got.Args) != 0 {
		t.Errorf("%+v", got)
	}
}

// panics reports whether f does: an error in the program, not in the data.
func panics(f func()) (did bool) {
	defer func() { did = recover() != nil }()
	f()
	return false
}

func TestMistakesOfTheProgramPanic(t *testing.T) {
	for name, f := range map[string]func(){
		"the same rule twice":  func() { NewRule("test.plain") },
		"too many arguments":   func() { rulePlain.Says("x") },
		"too few arguments":    func() { ruleTest.Says() },
		"the wrong kind":       func() { NewRule("test.count", Slot{"n", Count}).Says("four") },
		"a kind nobody knows":  func() { NewRule("test.name", Slot{"n", Name}).Says(3.5) },
		"a key for a name":     func() { NewRule("test.name2", Slot{"n", Name}).Says(Key("x")) },
		"a name for a subject": func() { NewRule("test.subjects", Slot{"n", Subjects}).Says("x") },
	} {
		t.Run(name, func(t *testing.T) {
			if !panics(f) {
				t.Errorf("%s passed", name)
			}
		})
	}
}

func TestRulesAreListedInOrder(t *testing.T) {
	last := Rule("")
	for _, r := range Rules() {
		if r <= last {
			t.Errorf("%s after %s", r, last)
		}
		last = r
	}
}

func TestTexts(t *testing.T) {
	both := Text{"Brake", "Freno"}
	if both.In(Spanish) != "Freno" || both.In(English) != "Brake" || both.In("fr") != "Brake" {
		t.Error("a text in the wrong language")
	}
	for _, half := range []Text{{}, {EN: "x"}, {ES: "x"}} {
		if !half.Empty() {
			t.Errorf("%+v counts as complete", half)
		}
	}
	if both.Empty() {
		t.Error("a complete text counts as empty")
	}
}
