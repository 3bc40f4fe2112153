package yard_test

import (
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/operator"
	"vespers/core/yard"
)

// TestDutiesAreHandedForATime: to who may release alone, until the end of a date; what
// stands in cannot make a lead of itself, and only a lead hands them.
func TestDutiesAreHandedForATime(t *testing.T) {
	w := newTown(t)
	day := func(ahead int) string { return w.at.AddDate(0, 0, ahead).Format(time.DateOnly) }
	for name, c := range map[string]struct{ who, until, rule string }{
		"a trainee":       {"jonah", day(1), "duties.not_to_them"},
		"a visitor":       {"osk", day(1), "duties.not_to_them"},
		"a lead":          {"edda", day(1), "duties.not_to_them"},
		"nobody":          {"ghost", day(1), "person.nobody"},
		"yesterday":       {"ida", day(-1), "vouch.no_such_date"},
		"no date":         {"ida", "soon", "vouch.no_such_date"},
		"half a year":     {"ida", day(183), "duties.too_long"},
		"who has none":    {"ida", "", "duties.none"},
		"until tonight":   {"ida", day(0), ""},
		"a technician":    {"ruth", day(14), ""},
		"the longest way": {"ruth", day(91), ""},
	} {
		t.Run(name, func(t *testing.T) {
			one := newTown(t)
			got := one.rule("maren", yard.HandDuties{Person: c.who, Until: c.until})
			if c.rule == "person.nobody" && got != "" || got == c.rule {
				return
			}
			t.Errorf("%q, want %q", got, c.rule)
		})
	}
	w.must("maren", yard.HandDuties{Person: "ida", Until: day(1)})
	meter := yard.SetMeter{Machine: w.machine("Verger").ID, Hours: "90", Reason: "Read off"}
	w.must("ida", meter)
	w.refused("ida", yard.LendPIN{Person: "maren", PIN: "8351"}, "who.not_your_role")
	w.refused("ida", yard.ChangePerson{Person: "ida", Name: "Ida", Role: "lead", Language: "en"}, "who.not_your_role")
	w.refused("ida", yard.HandDuties{Person: "ruth", Until: day(1)}, "who.not_your_role")
	w.refused("ida", yard.SawManual{Person: "ida", Sheet: w.sheet().Hash}, "who.not_for_yourself")
	w.must("edda", yard.HandDuties{Person: "ida"})
	w.refused("ida", meter, "who.not_your_role")
	w.must("maren", yard.HandDuties{Person: "ida", Until: day(1)})
	w.at = w.at.AddDate(0, 0, 2)
	w.refused("ida", meter, "who.not_your_role") // it ends by itself
}

// TestTheTableOfDuties, written a second time: what a stand-in may, act by act.
func TestTheTableOfDuties(t *testing.T) {
	now := time.Date(2026, 11, 2, 8, 0, 0, 0, time.UTC)
	in := operator.Person{ID: "ida", Role: operator.Operator, StandsIn: now.Add(time.Hour)}
	handed := map[operator.Act]bool{operator.HandOver: true, operator.Seek: true, operator.End: true, operator.Desk: true, operator.Ease: true,
		operator.Review: true, operator.Vouch: true, operator.Machines: true, operator.Close: true, operator.Muster: true, operator.Site: true}
	for _, act := range operator.Acts() {
		for _, whose := range []operator.Whose{operator.Own, operator.Others} {
			own := operator.May(operator.Operator, act, whose)
			want := own || handed[act] && operator.May(operator.Lead, act, whose)
			if got := in.May(act, whose, now); got != want {
				t.Errorf("%s, %d: %v", act, whose, got)
			}
			for name, p := range map[string]operator.Person{
				"over":      {ID: "ida", Role: operator.Operator, StandsIn: now},
				"gone":      {ID: "ida", Role: operator.Operator, StandsIn: now.Add(time.Hour), Left: now},
				"a trainee": {ID: "ida", Role: operator.Trainee, StandsIn: now.Add(time.Hour)},
			} {
				if p.May(act, whose, now) != operator.May(p.Role, act, whose) {
					t.Errorf("%s, %s: more than the role", name, act)
				}
			}
		}
	}
}

// lookedAfter is a town in which nothing is due.
type lookedAfter struct{ *town }

func (w lookedAfter) Pasts([]string) map[string]inspect.Past {
	out := map[string]inspect.Past{}
	for _, m := range w.Machines() {
		seen := inspect.Seen{At: w.at, Hours: m.Hours}
		out[m.ID] = inspect.Past{Added: seen, Looked: map[string]inspect.Seen{}}
		for i := range resolved[0].Sheet.Checks {
			out[m.ID].Looked[resolved[0].Sheet.Checks[i].ID] = seen
		}
	}
	return out
}

// TestTheWorkshop: what does not start first, then what runs out or has worn past its
// limit, then the rest; a machine that asks nothing is not on it.
func TestTheWorkshop(t *testing.T) {
	w := newTown(t)
	sexton, verger := w.machine("Sexton").ID, w.machine("Verger").ID
	if list := yard.Workshop(lookedAfter{w}, nil, w.at); len(list) != 0 {
		t.Errorf("a sound yard asks for %+v", list)
	}
	reaches := map[string]time.Time{verger: w.at.Add(-time.Hour), sexton: w.at.AddDate(0, 2, 0)}
	order := func() (out []string) {
		for _, one := range yard.Workshop(lookedAfter{w}, reaches, w.at) {
			out = append(out, one.Machine.Name)
		}
		return out
	}
	if got := order(); len(got) != 2 || got[0] != "Verger" {
		t.Errorf("what has worn past its limit comes first: %v", got)
	}
	w.holds(sexton, "chute", "tied", defect.Halt)
	if got := order(); len(got) != 2 || got[0] != "Sexton" {
		t.Errorf("a Halt comes first: %v", got)
	}
	if list := yard.Workshop(lookedAfter{w}, reaches, w.at); list[0].Presses != yard.KeptIn || len(list[0].Open) != 1 || list[1].Presses != yard.RunsOut || list[1].WearsOut.IsZero() {
		t.Errorf("%+v", list)
	}
	if list := yard.Workshop(w, nil, w.at); len(list) != 2 || list[1].Presses != yard.KeptIn || len(list[1].Due) == 0 {
		t.Errorf("what is overdue and mandatory keeps in: %+v", list)
	}
	reaches = map[string]time.Time{verger: w.at.AddDate(0, 9, 0)}
	if got := order(); len(got) != 1 {
		t.Errorf("what lasts for nine months is on the list: %v", got)
	}
}
