package yard_test

import (
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

func TestAMachineIsAdded(t *testing.T) {
	good := yard.AddMachine{Name: "Beadle", Bay: "3", Sheet: newTown(t).sheet().Hash, Hours: "12,5"}
	for name, c := range map[string]struct {
		change func(*yard.AddMachine)
		rule   string
	}{
		"as it should be":   {func(*yard.AddMachine) {}, ""},
		"no name":           {func(c *yard.AddMachine) { c.Name = "" }, "person.name_needed"},
		"no bay":            {func(c *yard.AddMachine) { c.Bay = " " }, "person.name_needed"},
		"a name too long":   {func(c *yard.AddMachine) { c.Name = strings.Repeat("x", 81) }, "typed.too_long"},
		"a bay too long":    {func(c *yard.AddMachine) { c.Bay = strings.Repeat("x", 21) }, "typed.too_long"},
		"a name taken":      {func(c *yard.AddMachine) { c.Name = "verger" }, "machine.named_so_already"},
		"no hours":          {func(c *yard.AddMachine) { c.Hours = "" }, "machine.hours_needed"},
		"less than nothing": {func(c *yard.AddMachine) { c.Hours = "-1" }, "machine.hours_needed"},
		"too many hours":    {func(c *yard.AddMachine) { c.Hours = "100000" }, "machine.hours_needed"},
		"no number":         {func(c *yard.AddMachine) { c.Hours = "1e3" }, "machine.hours_needed"},
		"no sheet":          {func(c *yard.AddMachine) { c.Sheet = "none" }, "yard.no_such_sheet"},
		"a hirer too long":  {func(c *yard.AddMachine) { c.Hirer = strings.Repeat("x", 81) }, "typed.too_long"},
	} {
		t.Run(name, func(t *testing.T) {
			w, one := newTown(t), good
			c.change(&one)
			w.refused("maren", one, c.rule)
		})
	}
	w := newTown(t)
	w.must("maren", good)
	if m := w.machine("Beadle"); m.Hours != 12.5 || m.Bay != "3" {
		t.Errorf("%+v", m)
	}
}

func TestAnEditionOfTheSameSheet(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	other := machinetest.Of(t, "disc_chipper")
	w.refused("maren", yard.AdoptSheet{Machine: verger, Sheet: other.Hash}, "machine.other_sheet")
	w.refused("maren", yard.AdoptSheet{Machine: verger, Sheet: "none"}, "machine.other_sheet")
	w.refused("maren", yard.AdoptSheet{Machine: "none", Sheet: other.Hash}, "yard.no_such_machine")
	next := *w.sheet().Sheet
	next.Edition = "2027-1"
	w.sheets["next"] = &next
	w.must("maren", yard.AdoptSheet{Machine: verger, Sheet: "next"})
}

// TestWhatAMachineHas: a lead says each fixed option once, by a way there is; what
// operators tell is left as it was told, and another edition keeps what it knows.
func TestWhatAMachineHas(t *testing.T) {
	w := newTown(t)
	for _, r := range machinetest.Whole(t) {
		if r.Sheet.Family == "boom_mower" {
			w.sheets["boom"] = r.Sheet
		}
	}
	w.must("maren", yard.AddMachine{Name: "Crozier", Bay: "3", Sheet: "boom?head=flail", Hours: "0"})
	id := w.machine("Crozier").ID
	w.refused("maren", yard.SetOptions{Machine: "none", Ways: machine.Chosen{"head": "flail"}}, "yard.no_such_machine")
	w.refused("maren", yard.SetOptions{Machine: id}, "machine.option_way")
	w.refused("maren", yard.SetOptions{Machine: id, Ways: machine.Chosen{"head": "comb"}}, "machine.option_way")
	w.must("maren", yard.SetOptions{Machine: id, Ways: machine.Chosen{"head": "rotary", "counterweight": "off", "colour": "red"}})
	key := w.said[0].Event.(yard.SheetAdopted).Sheet
	if hash, chosen := machine.SplitKey(key); hash != "boom" || chosen["head"] != "rotary" || chosen["counterweight"] != "fitted" || len(chosen) != 2 {
		t.Errorf("%s", key)
	}
	next := *w.sheets["boom"]
	next.Edition = "2027-1"
	w.sheets["next"] = &next
	w.must("maren", yard.AdoptSheet{Machine: id, Sheet: "next"})
	if got := w.said[0].Event.(yard.SheetAdopted).Sheet; got != strings.Replace(key, "boom", "next", 1) {
		t.Errorf("the new edition has %s, the old had %s", got, key)
	}
}

// TestNobodyTakesOutWhatNobodySaid: an edition that asks how the machine is built
// keeps it in until a lead has said so; a machine is added with all of it said.
func TestNobodyTakesOutWhatNobodySaid(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	next := *w.sheet().Sheet
	next.Edition = "2027-1"
	next.Options = []machine.Option{{ID: "bar", Choices: []machine.OptionChoice{{ID: "folding"}, {ID: "fixed"}}}, {ID: "catch", Told: true, Choices: []machine.OptionChoice{{ID: "chute"}, {ID: "bag"}}}}
	w.sheets["next"] = &next
	w.refused("maren", yard.AddMachine{Name: "Beadle", Bay: "3", Sheet: "next", Hours: "1"}, "machine.option_way")
	w.refused("maren", yard.AddMachine{Name: "Beadle", Bay: "3", Sheet: "next?bar=bent", Hours: "1"}, "machine.option_way")
	w.must("maren", yard.AddMachine{Name: "Beadle", Bay: "3", Sheet: "next?bar=fixed", Hours: "1"})
	w.must("maren", yard.AdoptSheet{Machine: verger, Sheet: "next"})
	w.refused("maren", yard.TakeOut{Machine: verger}, "take_out.built_how")
	w.must("maren", yard.SetOptions{Machine: verger, Ways: machine.Chosen{"bar": "folding"}})
	w.must("maren", yard.TakeOut{Machine: verger})
}

// TestWhatTheMeterSays: every deadline follows a meter that was read wrongly or
// exchanged, and none gets longer by a slip of the finger.
func TestWhatTheMeterSays(t *testing.T) {
	for name, c := range map[string]struct {
		hours     string
		exchanged bool
		want      float64 // of a deadline at 108 h, told at 100 h
	}{
		"read too high before":            {"90", false, 98},
		"read too low before":             {"105", false, 108},
		"a new meter that begins at nil":  {"0", true, 8},
		"a new meter that stands further": {"1000", true, 1008},
	} {
		t.Run(name, func(t *testing.T) {
			w := newTown(t)
			verger, until, passed := w.machine("Verger").ID, 108.0, 99.0
			id := w.found(verger, defect.Mend, &until)
			old := w.found(verger, defect.Mend, &passed)
			none := w.found(verger, defect.Watch, nil)
			w.must("maren", yard.SetMeter{Machine: verger, Hours: c.hours, Reason: "Read off the glass", Exchanged: c.exchanged})
			if got := *w.defects[id].Finding.Deadline.Hours; got != c.want {
				t.Errorf("the deadline is at %v, want %v", got, c.want)
			}
			if got := *w.defects[old].Finding.Deadline.Hours; !c.exchanged && got != passed {
				t.Errorf("a deadline that had passed is at %v", got)
			}
			if w.defects[none].Finding.Deadline.Hours != nil {
				t.Error("a deadline came out of nothing")
			}
		})
	}
	w := newTown(t)
	verger := w.machine("Verger").ID
	w.refused("maren", yard.SetMeter{Machine: verger, Hours: "90"}, "yard.reason_needed")
	w.refused("maren", yard.SetMeter{Machine: verger, Hours: "", Reason: "x"}, "machine.hours_needed")
	w.refused("maren", yard.SetMeter{Machine: "none", Hours: "1", Reason: "x"}, "yard.no_such_machine")
	w.refused("ida", yard.SetMeter{Machine: verger, Hours: "90", Reason: "x"}, "who.not_your_role")
	saw := machinetest.Of(t, "petrol_chainsaw")
	w.must("maren", yard.AddMachine{Name: "Lector", Bay: "7", Sheet: saw.Hash, Hours: "0"})
	w.refused("maren", yard.SetMeter{Machine: w.machine("Lector").ID, Hours: "1", Reason: "x"}, "machine.no_meter")
	// In an outing, it takes the new reading too.
	w.must("ida", yard.TakeOut{Machine: verger})
	w.must("maren", yard.SetMeter{Machine: verger, Hours: "50", Reason: "Read off the glass"})
	if o := w.outings[w.machine("Verger").Outing]; o.Units[0].HoursNow() != 50 {
		t.Errorf("the outing is at %v hours", o.Units[0].HoursNow())
	}
}

// TestASecondOuting is asked about; both is a word for it.
func TestASecondOuting(t *testing.T) {
	w := newTown(t)
	verger, sexton := w.machine("Verger").ID, w.machine("Sexton").ID
	w.must("ida", yard.TakeOut{Machine: verger})
	w.refused("ida", yard.TakeOut{Machine: sexton}, "take_out.another_is_open")
	w.refused("otto", yard.TakeOut{Machine: verger}, "take_out.taken")
	w.refused("osk", yard.TakeOut{Machine: sexton}, "who.not_your_role")
	w.must("otto", yard.TakeOut{Machine: sexton})
	idas, ottos := w.machine("Verger").Outing, w.machine("Sexton").Outing
	w.refused("ida", yard.InOuting{Outing: ottos, Command: outing.TakeOver{}}, "take_out.another_is_open")
	w.must("ida", yard.InOuting{Outing: idas, Command: outing.End{}})
	w.must("ida", yard.InOuting{Outing: ottos, Command: outing.TakeOver{}})
	w.refused("otto", yard.InOuting{Outing: ottos, Command: outing.Ready{Fit: "yes"}}, "who.anothers_outing")
	w.must("ida", yard.TakeOut{Machine: verger, Both: true})
	w.refused("ida", yard.InOuting{Outing: "none", Command: outing.End{}}, "yard.no_such_outing")
	w.refused("maren", yard.ChangePerson{Person: "ida", Name: "Ida", Role: "visitor", Language: "en"}, "person.has_an_outing")
}

// TestNobodyWhoLeftIsReleased, and an outing of theirs goes on with another.
func TestNobodyWhoLeftIsReleased(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	w.must("ida", yard.TakeOut{Machine: verger})
	o := w.machine("Verger").Outing
	w.must("ida", yard.InOuting{Outing: o, Command: outingtest.Ready(w.outings[o])})
	w.must("maren", yard.LetGo{Person: "ida"})
	for _, c := range []outing.Command{outing.Release{}, outing.End{}, outing.Ready{Fit: "yes"}, outing.HandOver{To: "otto"}} {
		w.refused("ida", yard.InOuting{Outing: o, Command: c}, "who.nobody_here")
	}
	w.refused("maren", yard.InOuting{Outing: o, Command: outing.HandOver{To: "ida"}}, "turn.to_whom")
	w.refused("maren", yard.InOuting{Outing: o, Command: outing.HandOver{To: "osk"}}, "turn.to_whom")
	w.must("maren", yard.InOuting{Outing: o, Command: outing.HandOver{To: "otto"}})
	w.refused("otto", yard.InOuting{Outing: o, Command: outing.Release{}}, "outing.ready_first")
}

// TestUnfitIsTheirOwnWord: it closes the way for all but the lead who hands the
// outing to somebody by name, and for the person who takes it back.
func TestUnfitIsTheirOwnWord(t *testing.T) {
	w := newTown(t)
	w.must("ida", yard.TakeOut{Machine: w.machine("Verger").ID})
	o := w.machine("Verger").Outing
	w.must("ida", yard.InOuting{Outing: o, Command: outing.Ready{Fit: "no"}})
	w.refused("otto", yard.InOuting{Outing: o, Command: outing.TakeOver{}}, "turn.a_lead_hands_it_over")
	w.refused("maren", yard.InOuting{Outing: o, Command: outing.Ready{Fit: "yes"}}, "who.anothers_outing")
	w.must("maren", yard.InOuting{Outing: o, Command: outing.HandOver{To: "otto"}})
	w.must("otto", yard.InOuting{Outing: o, Command: outing.Ready{Fit: "yes"}})
	w.must("otto", yard.InOuting{Outing: o, Command: outing.Ready{Fit: "no"}})
	w.must("otto", yard.InOuting{Outing: o, Command: outing.Ready{Fit: "yes"}})
}

func TestAHaltStays(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	id := w.found(verger, defect.Halt, nil)
	w.refused("ida", yard.TakeOut{Machine: verger}, "take_out.on_halt")
	w.refused("ida", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: "Cleaned"}, "who.not_your_role")
	w.refused("maren", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: "Cleaned"}, "who.not_your_role")
	w.refused("ruth", yard.BeginRepair{Defects: []string{id}, Cause: " ", Work: "Cleaned"}, "defect.cause_and_work")
	w.refused("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: strings.Repeat("x", 2001)}, "typed.too_long")
	w.refused("ruth", yard.BeginRepair{Defects: []string{"none"}, Cause: "Sand", Work: "Cleaned"}, "yard.no_such_defect")
	w.refused("ruth", yard.TryFault{Defect: id, Seen: "good"}, "defect.nothing_to_search")
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: "Cleaned"})
	w.refused("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: "Cleaned"}, "defect.closed_already")
	w.refused("ruth", yard.DropTrials{Defect: id}, "defect.closed_already")
	w.must("ida", yard.TakeOut{Machine: verger})
}

// TestAMendWhoseTimeIsUpIsAHalt, by the clock and by the meter.
func TestAMendWhoseTimeIsUpIsAHalt(t *testing.T) {
	now, early, late := morning, morning.Add(-time.Minute), morning.Add(time.Minute)
	below, above := 99.9, 100.1
	for name, c := range map[string]struct {
		machine yard.Machine
		want    defect.Grade
	}{
		"nothing":          {yard.Machine{Grade: defect.Sound, Hours: 100}, defect.Sound},
		"by then":          {yard.Machine{Grade: defect.Mend, Hours: 100, Deadline: defect.Deadline{At: &late, Hours: &above}}, defect.Mend},
		"the time is up":   {yard.Machine{Grade: defect.Mend, Hours: 100, Deadline: defect.Deadline{At: &early, Hours: &above}}, defect.Halt},
		"the hours are":    {yard.Machine{Grade: defect.Mend, Hours: 100, Deadline: defect.Deadline{At: &late, Hours: &below}}, defect.Halt},
		"a Halt is a Halt": {yard.Machine{Grade: defect.Halt}, defect.Halt},
	} {
		t.Run(name, func(t *testing.T) {
			if got := c.machine.GradeAt(now); got != c.want {
				t.Errorf("%s, want %s", got, c.want)
			}
		})
	}
}

func TestTheClockIsRightAgain(t *testing.T) {
	w := newTown(t)
	w.refused("maren", yard.EndWrongClock{Reason: "Battery"}, "yard.clock_is_right")
	w.clock = yard.Clock{Wrong: true, From: morning, To: morning.Add(time.Hour)}
	w.refused("ida", yard.EndWrongClock{Reason: "Battery"}, "who.not_your_role")
	w.refused("maren", yard.EndWrongClock{}, "yard.reason_needed")
	w.must("maren", yard.EndWrongClock{Reason: "Battery"})
	if e, ok := w.said[0].Event.(yard.ClockWrong); !ok || !e.From.Equal(morning) || !e.To.Equal(morning.Add(time.Hour)) || e.Reason != "Battery" {
		t.Errorf("%+v", w.said)
	}
}

// TestADayBeginsAtFour: who works at two in the morning is still in yesterday.
func TestADayBeginsAtFour(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Madrid")
	if err != nil {
		t.Fatal(err)
	}
	for clock, day := range map[string]int{"03:59": 23, "04:00": 24, "23:59": 24, "12:00": 24} {
		t.Run(clock, func(t *testing.T) {
			at, err := time.ParseInLocation("2006-01-02 15:04", "2026-11-24 "+clock, zone)
			if err != nil {
				t.Fatal(err)
			}
			if start := yard.DayStart(at.UTC(), zone); start.Day() != day || start.Hour() != 4 {
				t.Errorf("%s belongs to the day that begins %s", clock, start)
			}
		})
	}
}

// TestHoursThatMayBeUp: no meter runs faster than the clock, counted from when it left or
// was last read; what stands in the yard, or is on Halt anyway, asks for no reading.
func TestHoursThatMayBeUp(t *testing.T) {
	at := func(clock string) time.Time {
		when, err := time.Parse(time.DateTime, "2026-11-26 "+clock+":00")
		if err != nil {
			t.Fatal(err)
		}
		return when
	}
	limit := 100.0
	for name, c := range map[string]struct {
		hours          float64
		read, out, now string
		halt, none     bool
		want           bool
	}{
		"not yet":            {hours: 98, read: "06:00", out: "07:00", now: "08:30"},
		"just":               {hours: 98, read: "06:00", out: "07:00", now: "09:00"},
		"a minute over":      {hours: 98, read: "06:00", out: "07:00", now: "09:01", want: true},
		"read since":         {hours: 98, read: "08:00", out: "07:00", now: "09:30"},
		"read long ago":      {hours: 98, read: "08:00", out: "07:00", now: "10:01", want: true},
		"in the yard":        {hours: 99, read: "06:00", now: "12:00"},
		"on Halt anyway":     {hours: 98, read: "06:00", out: "07:00", now: "12:00", halt: true},
		"passed, as it says": {hours: 100.1, read: "06:00", out: "07:00", now: "12:00"},
		"no hours set":       {hours: 98, read: "06:00", out: "07:00", now: "12:00", none: true},
	} {
		t.Run(name, func(t *testing.T) {
			m := yard.Machine{Hours: c.hours, HoursAt: at(c.read), Grade: defect.Mend}
			if !c.none {
				m.Deadline.Hours = &limit
			}
			if c.halt {
				m.Grade = defect.Halt
			}
			var out time.Time
			if c.out != "" {
				out = at(c.out)
			}
			if got := m.Unread(out, at(c.now)); got != c.want {
				t.Errorf("%v", got)
			}
		})
	}
}
