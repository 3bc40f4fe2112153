package machine

import (
	"encoding/json"
	"testing"
)

// TestFindingByID: what a section or a sheet has, and nothing where it has none.
func TestFindingByID(t *testing.T) {
	sheet := Sheet{
		Interlock: Interlock{Switches: []Switch{{ID: "seat"}, {ID: "brake"}}, Permits: []Permit{{ID: "run"}, {ID: "blades", StopWithin: 5}}},
		Numbers:   []Parameter{{ID: "noise", Value: 90}, {ID: "exclusion", Value: 15}},
	}
	for _, id := range []string{"brake", "blades", "exclusion", "nowhere", ""} {
		t.Run(id, func(t *testing.T) {
			wanted := func(kind string) string {
				if id == kind {
					return id
				}
				return ""
			}
			if got := sheet.Interlock.Switch(id).ID; got != wanted("brake") {
				t.Errorf("switch %q", got)
			}
			if got := sheet.Interlock.Permit(id); got.ID != wanted("blades") || (got.StopWithin == 5) != (id == "blades") {
				t.Errorf("permit %+v", got)
			}
			if got, ok := sheet.Number(id); got.ID != wanted("exclusion") || ok != (id == "exclusion") {
				t.Errorf("number %+v, %v", got, ok)
			}
		})
	}
}

// TestHowAMachineIsStarted: one way written alone, as sheets had it, or several of
// which an option chooses.
func TestHowAMachineIsStarted(t *testing.T) {
	for name, test := range map[string]struct {
		json string
		want string
		cord bool
	}{
		"alone":      {`{"starting": {"start": {"en": "key"}}}`, "key", false},
		"a list":     {`{"starting": [{"start": {"en": "pull"}, "by": "cord"}, {"start": {"en": "key"}}]}`, "pull", true},
		"no word":    {`{}`, "", false},
		"none of it": {`{"starting": []}`, "", false},
	} {
		t.Run(name, func(t *testing.T) {
			var l Interlock
			if err := json.Unmarshal([]byte(test.json), &l); err != nil {
				t.Fatal(err)
			}
			got := ""
			if how := l.HowStarted(); how != nil {
				got = how.Start.EN
			}
			if got != test.want || l.ByCord() != test.cord {
				t.Errorf("%q, by cord %v", got, l.ByCord())
			}
		})
	}
	s := good()
	s.Options = []Option{{ID: "start", Choices: []OptionChoice{{ID: "key"}, {ID: "cord"}}}}
	s.Interlock.Starting = Startings{{By: "key", If: If{"start": {"key"}}}, {By: "cord", If: If{"start": {"cord"}}}}
	if s.With(Chosen{"start": "key"}).Interlock.ByCord() || !s.With(Chosen{"start": "cord"}).Interlock.ByCord() {
		t.Error("the option does not choose how it is started")
	}
	if names := []string{s.With(nil).Name.EN, func() string { s.Options[0].Choices[1].Model = "R"; return s.With(Chosen{"start": "cord"}).Name.EN }()}; names[0] != "Small" || names[1] != "Small R" {
		t.Errorf("called %q", names)
	}
	if builds := s.Builds(); len(builds) != 2 || builds[1]["start"] != "cord" {
		t.Errorf("built %v", builds)
	}
	if s.Options[0].Told = true; len(s.Builds()) != 1 {
		t.Error("what is told is no build")
	}
}
