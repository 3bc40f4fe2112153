package machine

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"testing"
)

// optioned is the good sheet with a bagger or a chute, and a wide or narrow deck.
func optioned() *Sheet {
	s := good()
	way := func(ids ...string) []OptionChoice {
		var out []OptionChoice
		for _, id := range ids {
			out = append(out, OptionChoice{ID: id, Name: both(id)})
		}
		return out
	}
	s.Options = []Option{{ID: "discharge", Name: both("Discharge"), Told: true, Choices: way("chute", "bagger", "mulch")}, {ID: "width", Name: both("Width"), Choices: way("narrow", "wide")}}
	s.Checks = append(s.Checks,
		Check{ID: "chute", Class: ClassA, Phase: Cold, At: "rear", If: If{"discharge": {"chute"}}, Faults: []Fault{{ID: "tied", Extent: Lost}}},
		Check{ID: "bag", Class: ClassA, Phase: Cold, At: "rear", If: If{"discharge": {"bagger"}, "width": {"wide"}}, Faults: []Fault{{ID: "torn", Extent: Lost}, {ID: "thin", Extent: Early, If: If{"width": {"narrow"}}}}})
	s.Checks[0].Readings[1].If = If{"width": {"wide", "narrow"}}
	s.Uses = []Use{{ID: "slope", Limit: at(15), Unit: "°", If: If{"discharge": {"chute", "mulch"}}}, {ID: "slope", Limit: at(9), Unit: "°", If: If{"discharge": {"bagger"}}}}
	return s
}

// TestASheetWithItsOptions: what belongs to the ways chosen is there, and
// nothing else; who chose nothing has the first of each.
func TestASheetWithItsOptions(t *testing.T) {
	whole := optioned()
	for name, c := range map[string]struct {
		chosen Chosen
		checks string
		slope  float64
	}{
		"nothing chosen":       {nil, "oil blade brake chute", 15},
		"a bagger, narrow":     {Chosen{"discharge": "bagger"}, "oil blade brake", 9},
		"a bagger, wide":       {Chosen{"discharge": "bagger", "width": "wide"}, "oil blade brake bag", 9},
		"a mulch plate":        {Chosen{"discharge": "mulch", "width": "wide"}, "oil blade brake", 15},
		"a way that is none":   {Chosen{"discharge": "hopper"}, "oil blade brake chute", 15},
		"an option that is no": {Chosen{"colour": "red"}, "oil blade brake chute", 15},
	} {
		t.Run(name, func(t *testing.T) {
			s := whole.With(c.chosen)
			var ids []string
			for _, check := range s.Checks {
				ids = append(ids, check.ID)
			}
			if got := strings.Join(ids, " "); got != c.checks || len(s.Uses) != 1 || *s.Uses[0].Limit != c.slope {
				t.Errorf("%s, %d uses", got, len(s.Uses))
			}
			if again := s.With(Chosen{"discharge": "bagger", "width": "wide"}); len(again.Checks) != 4 {
				t.Error("what was left out the first time is lost")
			}
			if len(whole.Checks) != 5 || len(whole.Uses) != 2 || whole.Chosen() != nil {
				t.Error("the whole sheet was changed")
			}
			body, _ := json.Marshal(s.Alone())
			if strings.Contains(string(body), `"if"`) || strings.Contains(string(body), `"options"`) || len(s.Alone().Problems()) > 0 {
				t.Errorf("alone it is no sheet: %+v", s.Alone().Problems())
			}
		})
	}
	if whole.Checks[4].Faults[1].If == nil {
		t.Error("to make it stand alone changed the whole")
	}
	plain := good()
	if plain.With(Chosen{"discharge": "bagger"}) != plain || len(plain.EveryWay()) != 1 {
		t.Error("a sheet without options is another with them")
	}
	if ways := whole.EveryWay(); len(ways) != 6 {
		t.Errorf("%d combinations", len(ways))
	}
	if told := whole.Told(); len(told) != 1 || told[0].ID != "discharge" {
		t.Errorf("told: %v", told)
	}
}

// TestProblemsOfOneWayStandInTheWholeSheet, once each, however many combinations
// have them.
func TestProblemsOfOneWayStandInTheWholeSheet(t *testing.T) {
	if p := optioned().Problems(); len(p) > 0 {
		t.Fatalf("the good sheet has %+v", p)
	}
	for name, c := range map[string]struct {
		bend    func(*Sheet)
		rule    string
		pointer string
	}{
		"a place that is none":       {func(s *Sheet) { s.Checks[4].At = "moon" }, "sheet.unknown_reference", "/checks/4/at"},
		"a fault twice in one way":   {func(s *Sheet) { s.Checks[4].Faults[1] = Fault{ID: "torn", Extent: Lost} }, "sheet.duplicate_id", "/checks/4/faults/1/id"},
		"two limits at once":         {func(s *Sheet) { s.Uses[1].If = nil }, "sheet.duplicate_id", "/uses/1/id"},
		"after what is not there":    {func(s *Sheet) { s.Checks[2].After = []string{"chute"} }, "sheet.unknown_reference", "/checks/2/after/0"},
		"a reading only of one way":  {func(s *Sheet) { s.Checks[0].Readings[1].If = If{"width": {"wide"}} }, "sheet.unknown_reference", "/checks/0/even/pairs/0/1"},
		"an option that is none":     {func(s *Sheet) { s.Checks[3].If = If{"colour": {"red"}} }, "sheet.unknown_reference", "/checks/3/if/colour"},
		"a way that is none":         {func(s *Sheet) { s.Checks[4].Faults[1].If = If{"width": {"huge"}} }, "sheet.unknown_reference", "/checks/4/faults/1/if/width"},
		"an option twice":            {func(s *Sheet) { s.Options = append(s.Options, s.Options[0]) }, "sheet.duplicate_id", "/options/2/id"},
		"a way twice":                {func(s *Sheet) { s.Options[0].Choices[1].ID = "chute" }, "sheet.duplicate_id", "/options/0/choices/1/id"},
		"a use with a limit of none": {func(s *Sheet) { s.Uses[0].Limit = nil }, "sheet.slope_limit", "/uses/0"},
		"too many ways": {func(s *Sheet) {
			for _, id := range strings.Split("a b c d e f g", " ") {
				s.Options = append(s.Options, Option{ID: id, Choices: []OptionChoice{{ID: "x"}, {ID: "y"}}})
			}
		}, "sheet.too_many_ways", "/options"},
	} {
		t.Run(name, func(t *testing.T) {
			s := optioned()
			c.bend(s)
			found := s.Problems()
			if !slices.ContainsFunc(found, func(p Problem) bool { return string(p.Reason.Rule) == c.rule && p.Pointer == c.pointer }) {
				t.Errorf("%+v, want %s at %s", found, c.rule, c.pointer)
			}
		})
	}
}

// TestChosenThereAndBack: what names a sheet with its ways is read as the same,
// and the same ways always make the same name.
func TestChosenThereAndBack(t *testing.T) {
	for name, c := range map[string]Chosen{"none": nil, "one": {"discharge": "bagger"}, "two": {"width": "wide", "discharge": "mulch"}} {
		t.Run(name, func(t *testing.T) {
			hash, chosen := SplitKey(Key("0a1b", c))
			if hash != "0a1b" || !maps.Equal(chosen, c) || Key(hash, chosen) != Key("0a1b", c) {
				t.Errorf("%s %v", hash, chosen)
			}
		})
	}
	if Key("0a1b", nil) != "0a1b" || Key("h", Chosen{"b": "2", "a": "1"}) != "h?a=1&b=2" {
		t.Error(Key("h", Chosen{"b": "2", "a": "1"}))
	}
}

// TestEveryListMayHangOnAnOption: whatever of a sheet belongs to another way is not
// there, whatever belongs to this one or to none is, and by itself nothing of it
// hangs on anything.
func TestEveryListMayHangOnAnOption(t *testing.T) {
	here, away := If{"head": {"flail"}}, If{"head": {"rotary"}}
	s := good()
	s.Options = []Option{{ID: "head", Choices: []OptionChoice{{ID: "flail"}, {ID: "rotary"}}}}
	three := []If{nil, here, away}
	s.Settings, s.Protection, s.Uses, s.Numbers, s.Controls, s.Drawing.Parts, s.Checks = nil, nil, nil, nil, nil, nil, nil
	s.Interlock = Interlock{}
	for _, i := range three {
		s.Settings = append(s.Settings, Setting{If: i})
		s.Protection = append(s.Protection, Protection{If: i})
		s.Uses = append(s.Uses, Use{If: i})
		s.Numbers = append(s.Numbers, Parameter{If: i})
		s.Controls = append(s.Controls, Control{If: i})
		s.Drawing.Parts = append(s.Drawing.Parts, Part{If: i})
		s.Interlock.Switches = append(s.Interlock.Switches, Switch{If: i})
		s.Interlock.Permits = append(s.Interlock.Permits, Permit{If: i})
		s.Interlock.Never = append(s.Interlock.Never, Never{If: i})
		s.Interlock.Required = append(s.Interlock.Required, RequiredTest{If: i})
		s.Interlock.Starting = append(s.Interlock.Starting, Starting{If: i})
		c := Check{If: i}
		for _, j := range three {
			c.Readings, c.Faults = append(c.Readings, Reading{If: j}), append(c.Faults, Fault{If: j})
		}
		s.Checks = append(s.Checks, c)
	}
	seen := 0
	s.With(nil).lists(func(l conditional) {
		seen++
		if l.size != 2 {
			t.Errorf("%s has %d things", l.path, l.size)
		}
	})
	if seen != 12+2*2 {
		t.Errorf("%d lists", seen)
	}
	s.lists(func(l conditional) {
		if l.size != 3 {
			t.Errorf("%s of the whole sheet has %d things", l.path, l.size)
		}
	})
	alone := s.With(nil).Alone()
	alone.lists(func(l conditional) {
		for i := range l.size {
			if *l.when(i) != nil {
				t.Errorf("%s %d hangs on %v", l.path, i, *l.when(i))
			}
		}
	})
	if one := s.With(nil); one.Origin("/checks/1/faults/1/name") != "/checks/1/faults/1/name" || s.With(Chosen{"head": "rotary"}).Origin("/checks/1/faults/1/name") != "/checks/2/faults/2/name" {
		t.Error("what is wrong is told at another place")
	}
}
