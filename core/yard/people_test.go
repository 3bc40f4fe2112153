package yard_test

import (
	"strings"
	"testing"

	"vespers/core/operator"
	"vespers/core/yard"
)

// TestFirstVisit: one lead, with a yard, and only once.
func TestFirstVisit(t *testing.T) {
	first := yard.SetUp{Yard: "Wrenfield", Timezone: "UTC", Name: "Maren", Language: "en", PIN: "4071"}
	for name, c := range map[string]struct {
		change func(*yard.SetUp)
		rule   string
	}{
		"no name for the yard": {func(c *yard.SetUp) { c.Yard = " " }, "person.name_needed"},
		"no name":              {func(c *yard.SetUp) { c.Name = "" }, "person.name_needed"},
		"no such zone":         {func(c *yard.SetUp) { c.Timezone = "Mars/Olympus" }, "yard.no_such_zone"},
		"no zone":              {func(c *yard.SetUp) { c.Timezone = "" }, "yard.no_such_zone"},
		"no such language":     {func(c *yard.SetUp) { c.Language = "xx" }, "person.no_such_language"},
		"letters for a PIN":    {func(c *yard.SetUp) { c.PIN = "abcd" }, "pin.digits"},
		"an obvious PIN":       {func(c *yard.SetUp) { c.PIN = "1234" }, "pin.obvious"},
	} {
		t.Run(name, func(t *testing.T) {
			w, bad := empty(t), first
			c.change(&bad)
			w.refused("", bad, c.rule)
			if _, done := w.Settings(); done || len(w.people) > 0 {
				t.Error("something was set up all the same")
			}
		})
	}
	w := empty(t)
	w.must("", first)
	w.refused("", first, "yard.set_up_already")
	if len(w.People()) != 1 || w.People()[0].Role != operator.Lead || w.lent[w.People()[0].ID] {
		t.Errorf("%+v", w.People())
	}
}

// TestNamesTellPeopleApart on the wall of names.
func TestNamesTellPeopleApart(t *testing.T) {
	for name, rule := range map[string]string{
		"":                        "person.name_needed",
		" \t":                     "person.name_needed",
		"Ida":                     "person.name_looks_alike",
		"  iDA ":                  "person.name_looks_alike",
		"I\nda":                   "person.name_needed",
		"Ida\x00":                 "typed.unreadable",
		"Id\u202ea":               "typed.unreadable",
		"\xff":                    "typed.unreadable",
		"Idа":                     "person.name_mixes_letters", // the last letter is Cyrillic
		strings.Repeat("ñ", 81):   "typed.too_long",
		strings.Repeat("ñ", 80):   "",
		"Ида":                     "",
		"Ida Ó Briain-Núñez (2.)": "",
	} {
		t.Run(name, func(t *testing.T) {
			w := newTown(t)
			w.refused("maren", yard.AddPerson{Name: name, Role: "operator", Language: "en", PIN: "8351"}, rule)
			w = newTown(t)
			w.refused("maren", yard.ChangePerson{Person: "otto", Name: name, Role: "operator", Language: "en"}, rule)
		})
	}
	w := newTown(t)
	w.must("maren", yard.ChangePerson{Person: "ida", Name: "IDA", Role: "operator", Language: "es"}) // one's own name is no other's
	w.must("maren", yard.LetGo{Person: "ida"})
	w.must("maren", yard.AddPerson{Name: "Ida", Role: "operator", Language: "en", PIN: "8351"})
	w.refused("maren", yard.TakeBack{Person: "ida"}, "person.name_looks_alike")
}

// TestALeadStays: a yard without a lead could never have one again.
func TestALeadStays(t *testing.T) {
	w := newTown(t)
	w.refused("maren", yard.LetGo{Person: "maren"}, "person.not_yourself")
	w.must("maren", yard.LetGo{Person: "edda"})
	w.refused("edda", yard.AddPerson{Name: "Mo", Role: "lead", Language: "en", PIN: "8351"}, "who.nobody_here")
	w.refused("maren", yard.ChangePerson{Person: "maren", Name: "Maren", Role: "operator", Language: "en"}, "person.last_lead")
	w.must("maren", yard.TakeBack{Person: "edda"})
	w.refused("maren", yard.TakeBack{Person: "edda"}, "person.here_already")
	w.must("maren", yard.ChangePerson{Person: "maren", Name: "Maren", Role: "operator", Language: "en"})
	w.refused("maren", yard.LetGo{Person: "otto"}, "who.not_your_role")
	w.refused("edda", yard.LetGo{Person: "nobody"}, "yard.no_such_person")
	w.refused("edda", yard.ChangePerson{Person: "ida", Name: "Ida", Role: "abbot", Language: "en"}, "person.no_such_role")
}

// TestNobodyVouchesForThemselves, and what was written down wrongly is taken
// back by a record.
func TestNobodyVouchesForThemselves(t *testing.T) {
	w := newTown(t)
	sheet := w.sheet().Hash
	for _, c := range []yard.Command{
		yard.SawManual{Person: "maren", Sheet: sheet}, yard.SawShown{Person: "maren", Kind: operator.Licence},
		yard.SawBorn{Person: "maren", Born: "1980-01-01"}, yard.Withdraw{Person: "maren", Record: "0001", Why: "No"},
	} {
		w.refused("maren", c, "who.not_for_yourself")
	}
	w.must("edda", yard.SawManual{Person: "maren", Sheet: sheet})
	w.must("maren", yard.SawShown{Person: "ida", Kind: operator.Practice, Sheet: sheet, Until: "2027-01-31"})
	q := w.people["ida"].Qualifications[0]
	if q.By != "maren" || q.Until.Format("2006-01-02 15:04:05") != "2027-01-31 23:59:59" {
		t.Errorf("%+v until %v", q, q.Until)
	}
	w.refused("maren", yard.SawShown{Person: "ida", Kind: operator.Practice, Sheet: sheet, Until: "2020-01-31"}, "vouch.no_such_date")
	w.refused("maren", yard.SawShown{Person: "ida", Kind: operator.Practice, Sheet: sheet, Until: "soon"}, "vouch.no_such_date")
	w.refused("maren", yard.SawShown{Person: "ida", Kind: "juggling", Sheet: sheet}, "vouch.no_such_kind")
	w.refused("maren", yard.SawShown{Person: "ida", Kind: operator.Practice, Sheet: "none"}, "yard.no_such_sheet")
	w.refused("maren", yard.SawManual{Person: "ida", Sheet: "none"}, "yard.no_such_sheet")
	w.refused("maren", yard.Withdraw{Person: "ida", Record: q.Record, Why: " "}, "yard.reason_needed")
	w.refused("maren", yard.Withdraw{Person: "otto", Record: q.Record, Why: "It was Ida"}, "vouch.no_such_record")
	w.must("maren", yard.Withdraw{Person: "ida", Record: q.Record, Why: "It was Otto"})
	w.refused("maren", yard.Withdraw{Person: "ida", Record: q.Record, Why: "It was Otto"}, "vouch.no_such_record")
}

func TestWhenSomebodyWasBorn(t *testing.T) {
	w := newTown(t)
	for born, rule := range map[string]string{"": "vouch.no_such_date", "1988": "vouch.no_such_date", "2020-01-01": "vouch.no_such_date", "1880-01-01": "vouch.no_such_date", "1988-13-01": "vouch.no_such_date"} {
		t.Run(born, func(t *testing.T) {
			w.refused("maren", yard.SawBorn{Person: "ida", Born: born}, rule)
		})
	}
	w.must("maren", yard.SawBorn{Person: "ida", Born: " 1988-09-30 "})
	w.refused("edda", yard.SawBorn{Person: "ida", Born: "1989-09-30"}, "vouch.changed_meanwhile")
	w.must("edda", yard.SawBorn{Person: "ida", Born: "1989-09-30", Was: "1988-09-30"})
}

func TestOwnSettings(t *testing.T) {
	w := newTown(t)
	good := yard.SetOwn{Language: "es", Units: "us", Theme: "lantern", Keys: true}
	w.must("osk", good)
	for rule, c := range map[string]yard.SetOwn{
		"person.no_such_language": {Language: "", Units: "us", Theme: "lantern"},
		"person.no_such_units":    {Language: "es", Units: "furlongs", Theme: "lantern"},
		"person.no_such_theme":    {Language: "es", Units: "us", Theme: "plaid"},
	} {
		t.Run(rule, func(t *testing.T) {
			w.refused("ida", c, rule)
		})
	}
	w.refused("ida", yard.ChangePIN{PIN: "2580258"}, "")
	if w.lent["ida"] {
		t.Error("one's own PIN is no lent one")
	}
	w.refused("ida", yard.ChangePIN{PIN: "1111"}, "pin.obvious")
	w.refused("ida", yard.LendPIN{Person: "otto", PIN: "8351"}, "who.not_your_role")
	w.must("maren", yard.LendPIN{Person: "ida", PIN: "8351"})
	if !w.lent["ida"] {
		t.Error("a PIN set by a lead is not lent")
	}
	w.refused("maren", yard.LendPIN{Person: "ida", PIN: "12"}, "pin.digits")
}
