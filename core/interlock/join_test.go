package interlock_test

import (
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/text"
)

func sheetNamed(t *testing.T, id string) *machine.Sheet {
	t.Helper()
	for _, r := range machinetest.All(t) {
		if r.Sheet.ID == id {
			return r.Sheet
		}
	}
	t.Fatalf("no sheet %s", id)
	return nil
}

// TestTractorAndBoom: joined, the two need no more tests than apart, and what
// lets the tractor's shaft turn on lets the rotor turn on too.
func TestTractorAndBoom(t *testing.T) {
	tractor, boom := sheetNamed(t, "hollin_tractor"), sheetNamed(t, "hollin_boom")
	joined, problems := interlock.Join(tractor.Interlock, boom)
	if len(problems) > 0 {
		t.Fatalf("they cannot be joined: %+v", problems)
	}
	logic, _ := interlock.Compile(joined)
	plan := logic.Plan()
	if !plan.TestsExact || !plan.MovementsExact {
		t.Errorf("%d tests, exact %v %v", len(plan.Tests), plan.TestsExact, plan.MovementsExact)
	}
	for _, u := range plan.Uncatchable {
		t.Logf("not caught: %s (%s)", u.Fault, u.Reason)
	}
	if !interlock.OfImplement(tractor.Interlock, "rotor") || interlock.OfImplement(tractor.Interlock, "pto") {
		t.Error("the rotor is the boom's, the shaft the tractor's")
	}
	for i, test := range plan.Tests {
		t.Logf("%d %s %s from %v to %v catches %v", i+1, test.Kind, test.Permit, test.From, test.To, test.Catches)
	}
}

func pair() (machine.Interlock, *machine.Sheet) {
	carrier := machine.Interlock{
		Switches: []machine.Switch{{ID: "seat", Place: true}, {ID: "off"}},
		Permits:  []machine.Permit{{ID: "start", Kind: "start", When: "off"}, {ID: "run", Kind: "run", When: "seat"}, {ID: "shaft", Kind: "drive", When: "!off"}, {ID: "side", Kind: "drive", When: "!off", TurnedBy: "shaft"}},
		Required: []machine.RequiredTest{{Kind: "refusal", Permit: "start", To: map[string]bool{"off": false}}},
	}
	implement := &machine.Sheet{
		Carrier: &machine.Carrier{Drives: "shaft", Start: "cut_off"},
		Interlock: machine.Interlock{
			Switches: []machine.Switch{{ID: "cut_off"}, {ID: "door"}},
			Permits:  []machine.Permit{{ID: "rotor", Kind: "drive", When: "!cut_off && door", StopWithin: 4}},
			Never:    []machine.Never{{State: "!door && cut_off"}},
			Required: []machine.RequiredTest{{Kind: "drive_stop", Permit: "rotor", From: map[string]bool{"off": false, "cut_off": false}, To: map[string]bool{"off": true, "cut_off": false}}},
		},
	}
	return carrier, implement
}

func TestJoin(t *testing.T) {
	carrier, implement := pair()
	joined, problems := interlock.Join(carrier, implement)
	if len(problems) > 0 {
		t.Fatalf("%+v", problems)
	}
	if got := joined.Permits[0].When; got != "(off) && (cut_off)" {
		t.Errorf("start when %s", got)
	}
	if joined.Permits[1].When != "seat" || joined.Permits[4].TurnedBy != "shaft" || joined.Permits[2].TurnedBy != "" {
		t.Errorf("%+v", joined.Permits)
	}
	if implement.Interlock.Permits[0].TurnedBy != "" || carrier.Permits[0].When != "off" {
		t.Error("joining changed what was joined")
	}
	// A clutch of the carrier that does not let go is a suspect when the rotor
	// turns on; no contact is invented for it.
	logic, _ := interlock.Compile(joined)
	d, err := logic.Diagnose([]interlock.Observation{{Test: interlock.Test{Kind: "drive_stop", Permit: "rotor",
		From: map[string]bool{"off": false, "cut_off": false}, To: map[string]bool{"off": true, "cut_off": false}}, Observed: new(true)}})
	if err != nil {
		t.Fatal(err)
	}
	suspects := map[string]bool{}
	for _, s := range d.Suspects {
		suspects[s[0]] = true
	}
	if !suspects["shaft:on"] || !suspects["off:broken"] || len(d.Suspects) != 2 {
		t.Errorf("suspects %v", d.Suspects)
	}
}

func TestWhatCannotBeJoined(t *testing.T) {
	for name, test := range map[string]struct {
		bend    func(*machine.Interlock, *machine.Sheet)
		rule    text.Rule
		pointer string
	}{
		"no such drive":       {func(_ *machine.Interlock, i *machine.Sheet) { i.Carrier.Drives = "pump" }, "interlock.carrier_drive", "/carrier/drives"},
		"a drive turned":      {func(_ *machine.Interlock, i *machine.Sheet) { i.Carrier.Drives = "side" }, "interlock.carrier_drive", "/carrier/drives"},
		"no such permit":      {func(c *machine.Interlock, _ *machine.Sheet) { c.Permits, c.Required = c.Permits[1:], nil }, "interlock.carrier_permit", "/carrier/start"},
		"carrier's switch":    {func(_ *machine.Interlock, i *machine.Sheet) { i.Carrier.Run = "seat" }, "interlock.unknown_switch", "/carrier/run"},
		"no term":             {func(_ *machine.Interlock, i *machine.Sheet) { i.Carrier.Run = "door &&" }, "interlock.syntax", "/carrier/run"},
		"switch in both":      {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Switches[1].ID = "seat" }, "interlock.duplicate_id", "/interlock/switches/1/id"},
		"permit in both":      {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Permits[0].ID = "shaft" }, "interlock.duplicate_id", "/interlock/permits/0/id"},
		"engine of its own":   {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Permits[0].Kind = "run" }, "interlock.implement_permit", "/interlock/permits/0/kind"},
		"turned already":      {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Permits[0].TurnedBy = "shaft" }, "interlock.turned_already", "/interlock/permits/0/turned_by"},
		"no test of the two":  {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Required[0].To = map[string]bool{} }, "interlock.required_not_a_test", "/interlock/required/0"},
		"nothing to join":     {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.None = &text.Text{EN: "none"} }, "interlock.nothing_to_join", "/carrier"},
		"carried by nothing":  {func(_ *machine.Interlock, i *machine.Sheet) { i.Carrier = nil }, "interlock.nothing_to_join", "/carrier"},
		"too many switches":   {func(c *machine.Interlock, _ *machine.Sheet) { more(c, 9) }, "interlock.too_many", "/interlock/switches"},
		"a switch that isn't": {func(_ *machine.Interlock, i *machine.Sheet) { i.Interlock.Never[0].State = "dor" }, "interlock.unknown_switch", "/interlock/never/0/state"},
	} {
		t.Run(name, func(t *testing.T) {
			carrier, implement := pair()
			test.bend(&carrier, implement)
			joined, problems := interlock.Join(carrier, implement)
			if len(problems) == 0 || problems[0].Reason.Rule != test.rule || problems[0].Pointer != test.pointer || joined.Permits != nil {
				t.Errorf("%+v, want %s at %s", problems, test.rule, test.pointer)
			}
		})
	}
	carrier, implement := pair()
	more(&carrier, 8)
	if _, problems := interlock.Join(carrier, implement); len(problems) > 0 {
		t.Errorf("twelve switches: %+v", problems)
	}
}

func more(c *machine.Interlock, n int) {
	for i := range n {
		c.Switches = append(c.Switches, machine.Switch{ID: "more" + string(rune('a'+i))})
	}
}

// TestAnImplementAlone: its required tests wait for its carrier; read as a file
// of its own they are none.
func TestAnImplementAlone(t *testing.T) {
	_, implement := pair()
	if logic, problems := interlock.Of(implement); logic == nil || len(problems) > 0 {
		t.Errorf("%+v", problems)
	}
	if _, problems := interlock.Alone(implement); len(problems) != 1 || problems[0].Reason.Rule != "interlock.names_carrier" || problems[0].Pointer != "/interlock/required/0" {
		t.Errorf("%+v", problems)
	}
	implement.Carrier.Run = "seat"
	if logic, problems := interlock.Of(implement); logic != nil || problems[0].Reason.Rule != "interlock.unknown_switch" {
		t.Errorf("%+v", problems)
	}
}
