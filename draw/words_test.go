package draw

import (
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// TestLadderInWords: each contact of a rung once, as it stands; where all have to
// conduct, the rung is lit exactly when all do.
func TestLadderInWords(t *testing.T) {
	for _, sheet := range sheets(t) {
		logic, _ := interlock.Of(sheet)
		for x := range interlock.State(1 << len(logic.Switches)) {
			made := logic.Positions(x)
			for _, rung := range Ladder(sheet.Interlock, made, map[string]bool{"brake": true}) {
				seen, closed := map[string]bool{}, 0
				for _, c := range rung.Contacts {
					if seen[c.Label.EN] || c.Position.Empty() {
						t.Fatalf("%s %s: %+v", sheet.ID, rung.Permit, rung.Contacts)
					}
					seen[c.Label.EN] = true
					if c.Closed {
						closed++
					}
					for _, sw := range sheet.Interlock.Switches {
						if sw.Label == c.Label && (c.Changed != (sw.ID == "brake") || (c.Position == sw.Made) != made[sw.ID]) {
							t.Fatalf("%s %s: %+v", sheet.ID, rung.Permit, c)
						}
					}
				}
				if flat(logic.Permit(rung.Permit)) && rung.Lit != (closed == len(rung.Contacts)) {
					t.Fatalf("%s %s: lit %v with %+v", sheet.ID, rung.Permit, rung.Lit, rung.Contacts)
				}
			}
		}
	}
}

// flat reports whether an expression wants all of its contacts.
func flat(e interlock.Expr) bool {
	and, ok := e.(interlock.And)
	for _, term := range and.Terms {
		_, name := term.(interlock.Name)
		_, not := term.(interlock.Not)
		ok = ok && (name || not)
	}
	return ok
}

// TestADriveIsDrawnWithWhatTurnsIt: a rotor does not turn by its own switch with
// the shaft standing still.
func TestADriveIsDrawnWithWhatTurnsIt(t *testing.T) {
	both := func(s string) text.Text { return text.Text{EN: s, ES: s} }
	section := machine.Interlock{
		Switches: []machine.Switch{{ID: "shaft_off", Label: both("Shaft"), Made: both("off"), Broken: both("on")}, {ID: "cut_off", Label: both("Cutter"), Made: both("off"), Broken: both("on")}},
		Permits:  []machine.Permit{{ID: "shaft", Kind: "drive", When: "!shaft_off"}, {ID: "rotor", Kind: "drive", When: "!cut_off", TurnedBy: "shaft"}},
	}
	for _, off := range []bool{true, false} {
		rungs := Ladder(section, map[string]bool{"shaft_off": off, "cut_off": false}, nil)
		if rotor := rungs[1]; rotor.Lit == off || len(rotor.Contacts) != 2 {
			t.Errorf("shaft off %v: %+v", off, rotor)
		}
	}
}
