package yard_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// ready is the hillside with a machine whose sheet says how fast it works, and people who
// may take it.
func ready(t *testing.T) (w *town, verger string) {
	w, verger, _ = readyWith(t)
	return w, verger
}

// readyWith is ready, with the sheet of the machine.
func readyWith(t *testing.T) (w *town, verger string, whole *machine.Sheet) {
	w = settled(t)
	m := w.machine("Verger")
	whole = w.sheet().Sheet.Copy()
	for _, p := range []machine.Parameter{{ID: "cutting_width", Value: 1.5, Unit: "m"}, {ID: "overlap", Value: .1, Unit: "m"}, {ID: "working_speed", Value: 6, Unit: "km/h"}, {ID: "travel_speed", Value: 10, Unit: "km/h"}, {ID: "exclusion", Value: 15, Unit: "m"}} {
		whole.Numbers = append(whole.Numbers, p)
	}
	whole.Checks = slices.DeleteFunc(whole.Checks, func(c machine.Check) bool { return c.Every != nil }) // nothing is due
	w.sheets["whole"] = whole
	m.Sheet = "whole"
	w.machines[m.ID] = m
	sexton := w.machine("Sexton")
	delete(w.machines, sexton.ID)
	for _, who := range []string{"ida", "otto"} {
		w.person(who, func(p *operator.Person) {
			all := outingtest.Schooled(p.ID, p.Role, whole)
			p.Manuals = all.Manuals
			p.Qualifications = slices.DeleteFunc(all.Qualifications, func(q operator.Qualification) bool { return q.Kind == operator.SlopePractice })
		})
		w.must("maren", yard.SayCame{Person: who})
	}
	return w, m.ID, whole
}

// TestAMorningIsPlanned: who is here with what stands ready, for the zones that were
// chosen, outside quiet hours; and is published as it was put together.
func TestAMorningIsPlanned(t *testing.T) {
	w, verger := ready(t)
	until := w.at.Add(6 * time.Hour)
	takes := func(zones ...string) *yard.Takes {
		t.Helper()
		out, err := yard.TakesOf(w, zones, until, w.at)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	both := takes("bank", "lawn")
	if len(both.People) != 2 || len(both.Machines) != 1 || len(both.Zones) != 2 {
		t.Fatalf("%+v", both)
	}
	plan := both.Problem.Solve()
	jobs := both.Jobs(plan)
	if len(jobs) != 1 || jobs[0].Zone != "lawn" || jobs[0].Machine != verger || jobs[0].From.Before(w.at.Add(-time.Minute)) || !jobs[0].From.Before(jobs[0].Until) {
		t.Errorf("%+v; bank: %v", jobs, both.Refused(1, 0, 0))
	}
	if got := both.Refused(1, 0, 0); !slices.Equal(got, []string{"slope"}) { // nobody has practised slopes
		t.Errorf("bank: %v", got)
	}
	if _, err := yard.TakesOf(w, []string{"wall"}, until, w.at); err == nil {
		t.Error("a wall was planned")
	}

	w.must("maren", yard.SayQuiet{From: w.at.Format("15:04"), Until: w.at.Add(time.Hour).Format("15:04"), What: "A burial"})
	quiet := takes("lawn")
	if jobs := quiet.Jobs(quiet.Problem.Solve()); len(jobs) != 1 || jobs[0].From.Before(w.at.Truncate(time.Minute).Add(time.Hour)) {
		t.Errorf("in the quiet hour: %+v", jobs)
	}

	turn := yard.Turn{Zone: "lawn", Operator: "ida", Machine: verger}
	for name, c := range map[string]struct {
		c    yard.PlanMorning
		rule string
	}{
		"nothing to take back": {yard.PlanMorning{}, "morning.none_to_take_back"},
		"until before now":     {yard.PlanMorning{Turns: []yard.Turn{turn}, Until: w.at.Add(-time.Hour).Format("15:04")}, "morning.until"},
		"until no time":        {yard.PlanMorning{Turns: []yard.Turn{turn}, Until: "late"}, "morning.until"},
		"too steep":            {yard.PlanMorning{Turns: []yard.Turn{{Zone: "bank", Operator: "ida", Machine: verger}}}, "morning.breaks"},
		"nobody here":          {yard.PlanMorning{Turns: []yard.Turn{{Zone: "lawn", Operator: "jonah", Machine: verger}}}, "morning.breaks"},
		"a zone twice":         {yard.PlanMorning{Turns: []yard.Turn{turn, turn}}, "morning.breaks"},
		"no zone":              {yard.PlanMorning{Turns: []yard.Turn{{Zone: "moon", Operator: "ida", Machine: verger}}}, "site.no_such_zone"},
	} {
		t.Log(name)
		w.refused("maren", c.c, c.rule)
	}
	w.must("maren", yard.PlanMorning{Turns: []yard.Turn{turn}, Until: "15:10"})
	m, ok := yard.MorningToday(w, w.at)
	if !ok || len(m.Jobs) != 1 || m.Jobs[0].Operator != "ida" || m.Until.Format("15:04") != "15:10" {
		t.Errorf("%+v", m)
	}
	if next, ok := yard.MorningUntil(w, "", w.at.Add(24*time.Hour)); !ok || next.Format("15:04") != "15:10" || next.Day() == m.Until.Day() {
		t.Errorf("tomorrow until %v", next)
	}
	w.must("maren", yard.PlanMorning{})
	if m, _ := yard.MorningToday(w, w.at); len(m.Jobs) > 0 {
		t.Errorf("%+v", m)
	}
	w.must("maren", yard.SayWeather{Grass: "dry", Light: "good", Storm: "about"})
	w.refused("maren", yard.PlanMorning{Turns: []yard.Turn{turn}}, "morning.storm")
}

// TestWhatNobodyCanPlan: a machine that is on Halt or somebody else's, one without numbers,
// somebody who has not come.
func TestWhatNobodyCanPlan(t *testing.T) {
	refused := func(change func(w *town, verger string)) []string {
		w, verger := ready(t)
		change(w, verger)
		takes, err := yard.TakesOf(w, []string{"lawn"}, w.at.Add(time.Hour), w.at)
		if err != nil {
			t.Fatal(err)
		}
		if len(takes.Machines) == 0 {
			return []string{"no machine"}
		}
		if len(takes.People) == 0 {
			return []string{"nobody"}
		}
		return takes.Refused(0, 0, 0)
	}
	for name, c := range map[string]struct {
		change func(w *town, verger string)
		want   string
	}{
		"as it is": {func(*town, string) {}, ""},
		"on Halt": {func(w *town, verger string) {
			m := w.machines[verger]
			m.Grade = defect.Halt
			w.machines[verger] = m
		}, "no machine"},
		"given to another": {func(w *town, verger string) {
			w.must("maren", yard.GiveMachine{Machine: verger, Person: "otto"})
		}, yard.Theirs},
		"no speed": {func(w *town, verger string) {
			s := w.sheets["whole"]
			s.Numbers = slices.DeleteFunc(s.Numbers, func(p machine.Parameter) bool { return p.ID == "travel_speed" })
		}, yard.NoNumbers},
		"nobody came": {func(w *town, verger string) {
			w.came = nil
		}, "nobody"},
	} {
		if got := refused(c.change); len(got) != min(1, len(c.want)) || c.want != "" && got[0] != c.want {
			t.Errorf("%s: %v, want %q", name, got, c.want)
		}
	}
}

// TestWhatAMorningKeeps: a machine that is out is its operator's, who takes no other; care
// that is overdue keeps a machine in; a trailer goes only with what pulls it; zones keep
// their own quiet and their deadline; machines come from the fuel point.
func TestWhatAMorningKeeps(t *testing.T) {
	w, verger, whole := readyWith(t)
	takes := func() *yard.Takes {
		t.Helper()
		out, err := yard.TakesOf(w, []string{"lawn"}, w.at.Add(6*time.Hour), w.at)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	refused := func(out *yard.Takes, who, machine string) string {
		t.Helper()
		i := slices.IndexFunc(out.People, func(p operator.Person) bool { return p.ID == who })
		k := slices.IndexFunc(out.Machines, func(m yard.Standing) bool { return m.ID == machine })
		if i < 0 || k < 0 {
			return "not there"
		}
		if because := out.Refused(0, k, i); len(because) > 0 {
			return because[0]
		}
		return ""
	}
	second := w.machines[verger]
	second.ID, second.Name, second.Outing = "second", "Second", ""
	w.machines["second"] = second

	// From the fuel point, ten metres south of the corner, to the middle of the lawn.
	plan := takes()
	first := plan.Problem.Machines[0]
	if first.At.X != 0 || first.At.Y != -10 {
		t.Errorf("it comes from %v", first.At)
	}

	o := outingtest.Begin(t, "ida", outingtest.Machine(verger, machinetest.Resolved{Sheet: whole, Hash: "whole"}), nil)
	w.outings[o.ID] = o
	out := w.machines[verger]
	out.Outing = o.ID
	w.machines[verger] = out
	for _, c := range []struct{ who, machine, want string }{{"ida", verger, ""}, {"otto", verger, yard.Theirs}, {"ida", "second", yard.HasOther}, {"otto", "second", ""}} {
		if got := refused(takes(), c.who, c.machine); got != c.want {
			t.Errorf("%s with %s: %q, want %q", c.who, c.machine, got, c.want)
		}
	}

	// What is due keeps it in.
	due := whole.Copy()
	due.Checks = append(slices.Clone(due.Checks), w.sheet().Sheet.Copy().Checks...)
	w.sheets["due"] = due
	second.Sheet = "due"
	w.machines["second"] = second
	if got := refused(takes(), "otto", "second"); got != "not there" {
		t.Errorf("care is overdue, and Otto: %q", got)
	}
	towed := whole.Copy()
	towed.Towed = &machine.Towed{}
	w.sheets["towed"] = towed
	second.Sheet = "towed"
	w.machines["second"] = second
	if got := refused(takes(), "otto", "second"); got != "not there" {
		t.Errorf("a trailer alone, and Otto: %q", got)
	}

	clock := func(d time.Duration) string { return w.at.Add(d).Format("15:04") }
	lawn := func(properties map[string]any) yard.Takes {
		t.Helper()
		w.must("maren", yard.DrawFeature{ID: "lawn", Name: "Lawn", Kind: "zone", Along: "0 0\n40 0\n40 40\n0 40", Properties: properties})
		return *takes()
	}
	quiet := lawn(map[string]any{"quiet": []any{[]any{clock(0), clock(90 * time.Minute)}}})
	if jobs := quiet.Jobs(quiet.Problem.Solve()); len(jobs) != 1 || jobs[0].From.Before(w.at.Add(89*time.Minute)) {
		t.Errorf("in its quiet time: %+v", jobs)
	}
	late := lawn(map[string]any{"quiet": nil, "deadline": clock(5 * time.Minute)})
	if jobs := late.Jobs(late.Problem.Solve()); len(jobs) != 0 {
		t.Errorf("after its deadline: %+v", jobs)
	}
	whenever := lawn(map[string]any{"deadline": nil})
	if jobs := whenever.Jobs(whenever.Problem.Solve()); len(jobs) != 1 {
		t.Errorf("without either: %+v", jobs)
	}
}

// TestTheClockIsPutBack in the night before: the morning's quiet hour is the one that the
// clock on the wall shows.
func TestTheClockIsPutBack(t *testing.T) {
	for night, at := range map[string]time.Time{"put back": time.Date(2026, 10, 25, 10, 20, 0, 0, time.UTC), "put on": time.Date(2027, 3, 28, 9, 20, 0, 0, time.UTC)} {
		w, _ := ready(t)
		w.settings.Timezone = "Europe/Dublin"
		w.at, w.came = at, map[string]yard.Came{}
		for _, who := range []string{"ida", "otto"} {
			w.must("maren", yard.SayCame{Person: who})
		}
		w.must("maren", yard.DrawFeature{ID: "lawn", Name: "Lawn", Kind: "zone", Along: "0 0\n40 0\n40 40\n0 40", Properties: map[string]any{"quiet": []any{[]any{"10:30", "11:30"}}}})
		until, ok := yard.MorningUntil(w, "", w.at)
		dublin, err := time.LoadLocation("Europe/Dublin")
		if err != nil || !ok || until.In(dublin).Format("15:04") != "16:00" {
			t.Errorf("%s: until %v, %v", night, until, err)
		}
		takes, err := yard.TakesOf(w, []string{"lawn"}, until, w.at)
		if err != nil {
			t.Fatal(err)
		}
		jobs := takes.Jobs(takes.Problem.Solve())
		if len(jobs) != 1 || jobs[0].From.In(dublin).Format("15:04") != "11:30" {
			t.Errorf("%s: %+v", night, jobs)
		}
	}
}
