package defect

import (
	"testing"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// point is one of a class with a fault of every extent, a reading of millimetres over
// 10 and one over 20, in a system.
func point(id string, class machine.Class) machine.Check {
	low, lower := 10.0, 20.0
	return machine.Check{ID: id, Class: class, System: "s", Name: text.Text{EN: id, ES: id}, Faults: []machine.Fault{
		{ID: "early", Extent: machine.Early}, {ID: "degraded", Extent: machine.Degraded}, {ID: "lost", Extent: machine.Lost}},
		Readings: []machine.Reading{{ID: "a", Unit: "mm", Uncertainty: 1, Limits: &machine.Limits{Low: &low}}, {ID: "b", Unit: "mm", Uncertainty: 1, Limits: &machine.Limits{Low: &lower}}}}
}

func mm(v float64) *text.Measure {
	u, _ := unit.Find("mm")
	return &text.Measure{Quantity: u.Of(v), Unit: "mm"}
}

// faulty is a fault of now at a point.
func faulty(c *machine.Check, fault string, past ...Past) Seen {
	f, _ := c.Fault(fault)
	in := Context{House: House{MendDays: 7, Edition: Edition}, Hours: 100, History: past}
	return Seen{Check: c, Fault: f, Finding: OfFault(c, f, in), In: in}
}

// reads is a reading of now at a point.
func reads(c *machine.Check, item string, v float64, past ...Past) Seen {
	r, _ := c.Reading(item)
	in := Context{House: House{MendDays: 7, Edition: Edition}, Hours: 100, History: past}
	return Seen{Check: c, Item: item, Reading: r, Value: *mm(v), Finding: OfReading(c, r, *mm(v), in), In: in}
}

// TestWhatCameBeforeMakesWorse, once, and only what counts.
func TestWhatCameBeforeMakesWorse(t *testing.T) {
	sheet := &machine.Sheet{Checks: []machine.Check{point("p", machine.ClassE), point("f", machine.ClassG), point("h", machine.ClassH), point("a", machine.ClassA)}}
	p, f, h, a := &sheet.Checks[0], &sheet.Checks[1], &sheet.Checks[2], &sheet.Checks[3]
	was := func(check, fault string, ago int, over bool) Past {
		return Past{Check: check, Fault: fault, Ago: ago, Over: over}
	}
	read := func(item string, v float64, ago int) Past {
		return Past{Check: "p", Item: item, Value: mm(v), Ago: ago, Right: true}
	}
	work := func(item string, ago int) Past { return Past{Check: "p", Item: item, Work: Repaired, Ago: ago} }
	sound := Past{Check: "p", Sound: true, Ago: 1}
	for name, c := range map[string]struct {
		s    Seen
		want Grade
		rule text.Rule
	}{
		"nothing before":                  {faulty(p, "early"), Watch, "grade.cell"},
		"over since":                      {faulty(p, "early", was("p", "early", 2, true)), Mend, "grade.again"},
		"never over: carried":             {faulty(p, "early", was("p", "early", 2, false)), Watch, "grade.cell"},
		"answered sound since":            {faulty(p, "early", was("p", "lost", 2, false), sound), Mend, "grade.again"},
		"sound at another point":          {faulty(p, "early", was("p", "lost", 2, false), Past{Check: "f", Sound: true}), Watch, "grade.cell"},
		"sound before it":                 {faulty(p, "early", sound, was("p", "lost", 1, false)), Watch, "grade.cell"},
		"repaired long ago, over":         {faulty(p, "early", was("p", "lost", 2, false), work("", 9)), Mend, "grade.again"},
		"five ago":                        {faulty(p, "early", was("p", "lost", 5, true)), Mend, "grade.again"},
		"six ago":                         {faulty(p, "early", was("p", "lost", 6, true)), Watch, "grade.cell"},
		"long ago":                        {faulty(p, "early", was("p", "lost", 0, true)), Watch, "grade.cell"},
		"another point":                   {faulty(p, "early", was("f", "lost", 1, true)), Watch, "grade.cell"},
		"a fault the sheet has no more":   {faulty(p, "early", was("p", "gone", 1, true)), Watch, "grade.cell"},
		"a point the sheet has no more":   {faulty(p, "early", was("gone", "early", 1, true)), Watch, "grade.cell"},
		"repaired":                        {faulty(p, "early", work("", 3)), Mend, "grade.did_not_hold"},
		"repaired six ago":                {faulty(p, "early", work("", 6)), Watch, "grade.cell"},
		"another reading repaired":        {faulty(p, "early", work("a", 1)), Watch, "grade.cell"},
		"its reading repaired":            {reads(p, "a", 11.5, work("a", 1)), Mend, "grade.did_not_hold"},
		"its other reading repaired":      {reads(p, "a", 11.5, work("b", 1)), Watch, "grade.near_limit"},
		"the same reading again":          {reads(p, "a", 11.5, read("a", 9, 1)), Mend, "grade.again"},
		"the other reading":               {reads(p, "a", 11.5, read("b", 9, 1)), Watch, "grade.near_limit"},
		"the same reading, sound":         {reads(p, "a", 11.5, read("a", 19, 1)), Watch, "grade.near_limit"},
		"a reading after a fault":         {reads(p, "a", 11.5, was("p", "lost", 1, true)), Mend, "grade.again"},
		"a fault after a reading":         {faulty(p, "early", read("b", 9, 1)), Mend, "grade.again"},
		"from a Mend to a Halt":           {faulty(p, "degraded", work("", 1)), Halt, "grade.did_not_hold"},
		"a Halt stays":                    {faulty(p, "lost", work("", 1)), Halt, "grade.cell"},
		"what wears, from Watch to Mend":  {faulty(f, "early", was("f", "lost", 1, true)), Mend, "grade.again"},
		"what wears stops at a Mend":      {faulty(f, "degraded", was("f", "lost", 1, true)), Mend, "grade.cell"},
		"comfort, from Watch to Mend":     {faulty(h, "degraded", was("h", "lost", 1, true)), Mend, "grade.again"},
		"safety, from Watch to Mend":      {faulty(a, "early", was("a", "lost", 1, true)), Mend, "grade.again"},
		"sound stays":                     {reads(p, "a", 19, work("", 1)), Sound, ""},
		"the repair says it before again": {faulty(p, "early", was("p", "lost", 2, false), work("", 1)), Mend, "grade.did_not_hold"},
	} {
		t.Run(name, func(t *testing.T) {
			got := Remember(sheet, []Seen{c.s}, nil)[0]
			if got.Grade != c.want || len(got.Reasons) > 0 && got.Reasons[0].Rule != c.rule {
				t.Errorf("%s, want %s: %v", got.Grade, c.want, got.Reasons)
			}
			if len(c.s.Finding.Reasons) > 0 && c.s.Finding.Reasons[0].Rule == c.rule && c.want != c.s.Finding.Grade {
				t.Error("the table's own finding was changed")
			}
		})
	}
	forgets := faulty(p, "early", work("", 1))
	forgets.In.House.Edition = 3
	if got := Remember(sheet, []Seen{forgets}, nil)[0]; got.Grade != Watch {
		t.Errorf("the third edition remembers: %s", got.Grade)
	}
	never := faulty(p, "early", work("", 1))
	never.In.House.AgainWithin = -1
	if got := Remember(sheet, []Seen{never}, nil)[0]; got.Grade != Watch {
		t.Errorf("a house that forgets: %s", got.Grade)
	}
}

// TestTwoWatchesOnOneSystem make each of today's one worse; carried ones count, put
// right ones do not, and one point is one.
func TestTwoWatchesOnOneSystem(t *testing.T) {
	sheet := &machine.Sheet{Checks: []machine.Check{point("p", machine.ClassE), point("q", machine.ClassA), point("x", machine.ClassE)}}
	p, q, x := &sheet.Checks[0], &sheet.Checks[1], &sheet.Checks[2]
	x.System = "other"
	for name, c := range map[string]struct {
		today    []Seen
		watching []string
		want     []Grade
	}{
		"two":                    {[]Seen{faulty(p, "early"), faulty(q, "early")}, nil, []Grade{Mend, Mend}},
		"one, one carried":       {[]Seen{faulty(p, "early")}, []string{"q"}, []Grade{Mend}},
		"the same, carried":      {[]Seen{faulty(p, "early")}, []string{"p"}, []Grade{Watch}},
		"one point twice":        {[]Seen{faulty(p, "early"), reads(p, "a", 11.5)}, nil, []Grade{Watch, Watch}},
		"another system":         {[]Seen{faulty(p, "early"), faulty(x, "early")}, nil, []Grade{Watch, Watch}},
		"a Halt beside":          {[]Seen{faulty(p, "early"), faulty(q, "lost")}, nil, []Grade{Watch, Halt}},
		"a Mend among two":       {[]Seen{faulty(p, "degraded")}, []string{"q", "p"}, []Grade{Halt}},
		"carried, off the sheet": {[]Seen{faulty(p, "early")}, []string{"gone", "away"}, []Grade{Watch}},
	} {
		t.Run(name, func(t *testing.T) {
			for i, f := range Remember(sheet, c.today, c.watching) {
				if f.Grade != c.want[i] {
					t.Errorf("%d: %s, want %s", i, f.Grade, c.want[i])
				}
			}
		})
	}
}

// TestWhereItLeads: a line through what was kept, towards a limit and not away, by the
// sheet's wear where it is too short; a deadline only where past is a Halt.
func TestWhereItLeads(t *testing.T) {
	e, g := point("p", machine.ClassE), point("p", machine.ClassG)
	worn := -0.5
	e.Readings[1].Wear = &worn
	at := func(c *machine.Check, item string, v, hours float64, kept ...Read) Seen {
		s := reads(c, item, v)
		s.In.Hours, s.In.Series = hours, []Series{{Check: "p", Item: item, Unit: "mm", Points: kept}}
		return s
	}
	falling := []Read{{Hours: 90, Value: 30}, {Hours: 95, Value: 25}}
	for name, c := range map[string]struct {
		s     Seen
		left  float64
		ok    bool
		wear  bool
		grade Grade
		hours bool
	}{
		"one in an hour":                 {at(&e, "a", 20, 100, falling...), 10, true, false, Mend, true},
		"past ten":                       {at(&e, "a", 20.01, 100, Read{Hours: 90, Value: 30.01}, Read{Hours: 95, Value: 25.01}), 10.01, true, false, Sound, false},
		"no deadline where it is a Mend": {at(&g, "a", 18, 100, Read{Hours: 90, Value: 28}, Read{Hours: 95, Value: 23}), 8, true, false, Mend, false},
		"rising":                         {at(&e, "a", 20, 100, Read{Hours: 90, Value: 12}, Read{Hours: 95, Value: 16}), 0, false, false, Sound, false},
		"level":                          {at(&e, "a", 20, 100, Read{Hours: 90, Value: 20}, Read{Hours: 95, Value: 20}), 0, false, false, Sound, false},
		"two readings":                   {at(&e, "a", 20, 100, falling[0]), 0, false, false, Sound, false},
		"less than five hours":           {at(&e, "a", 13, 99.9, falling[1], Read{Hours: 97, Value: 20}), 0, false, false, Sound, false},
		"five hours":                     {at(&e, "a", 20, 100, falling[1], falling[1]), 10, true, false, Mend, true},
		"by wear":                        {at(&e, "b", 24, 100), 8, true, true, Mend, true},
		"readings before wear":           {at(&e, "b", 24, 100, Read{Hours: 80, Value: 24}, Read{Hours: 90, Value: 24}), 0, false, false, Sound, false},
		"behind already":                 {at(&e, "a", 14, 100, Read{Hours: 90, Value: 12}, Read{Hours: 92, Value: 10.5}, Read{Hours: 99, Value: 4}), 0, true, false, Mend, true},
	} {
		t.Run(name, func(t *testing.T) {
			sheet := &machine.Sheet{Checks: []machine.Check{*c.s.Check}}
			got, ok := c.s.Crossing()
			if ok != c.ok || ok && (got.Left < c.left-1e-6 || got.Left > c.left+1e-6 || got.Wear != c.wear) {
				t.Errorf("%+v %v, want %g %v", got, ok, c.left, c.ok)
			}
			f := Remember(sheet, []Seen{c.s}, nil)[0]
			if f.Grade != c.grade || (f.Deadline.Hours != nil) != c.hours {
				t.Errorf("%s %v, want %s %v", f.Grade, f.Deadline, c.grade, c.hours)
			}
			if c.hours && (*f.Deadline.Hours < c.s.In.Hours+c.left-1e-6 || *f.Deadline.Hours > c.s.In.Hours+c.left+1e-6) {
				t.Errorf("until %g", *f.Deadline.Hours)
			}
		})
	}
	// Where no meter runs only wear leads anywhere, and hours are by the clock.
	s := at(&e, "b", 24, 0)
	s.In.NoMeter, s.In.At = true, found
	if f := Remember(&machine.Sheet{Checks: []machine.Check{e}}, []Seen{s}, nil)[0]; f.Grade != Mend || f.Deadline.Hours != nil || f.Deadline.At == nil || says(f.Deadline) != "0.3333333333333333d" {
		t.Errorf("%s %s", f.Grade, says(f.Deadline))
	}
	s = at(&e, "a", 20, 100, falling...)
	s.In.NoMeter = true
	if f := Remember(&machine.Sheet{Checks: []machine.Check{e}}, []Seen{s}, nil)[0]; f.Grade != Sound {
		t.Errorf("a line without a meter: %s", f.Grade)
	}
	// A reading past its limit leads nowhere.
	s = at(&e, "b", 19, 100)
	if f := Remember(&machine.Sheet{Checks: []machine.Check{e}}, []Seen{s}, nil)[0]; f.Grade != Halt || f.Reasons[0].Rule != "grade.past_limit" || len(f.Reasons) != 2 {
		t.Errorf("%+v", f)
	}
}
