package machine

import "testing"

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
