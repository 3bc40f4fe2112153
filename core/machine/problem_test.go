package machine

import (
	"fmt"
	"strings"
	"testing"

	"vespers/core/text"
)

func both(s string) text.Text { return text.Text{EN: s, ES: s} }

func at(v float64) *float64 { return &v }

// good is a small sheet without problems.
func good() *Sheet {
	return &Sheet{
		ID: "small", Edition: "1", Name: both("Small"),
		Drawing:       Drawing{Length: 2, Width: 1, Parts: []Part{{ID: "frame", Kind: "frame", W: 1, H: 2}}},
		Loop:          Loop{Length: 6, Stations: []Station{{ID: "rear", At: 0}, {ID: "front", At: 3}}},
		Places:        []Place{{ID: "seat", Station: "rear", Metres: 0.5}},
		OperatorPlace: "seat",
		Settings:      []Setting{{ID: "deck", At: "front", Start: "down", End: "down", Ways: []Way{{ID: "down"}, {ID: "raised"}}}},
		Conditions:    []Condition{{ID: "soil", Choices: []ConditionChoice{{ID: "dry"}, {ID: "wet", Value: 1}}}},
		Checks: []Check{
			{ID: "oil", Class: ClassE, Phase: Cold, At: "rear", Faults: []Fault{{ID: "low", Extent: Early}},
				Readings: []Reading{{ID: "level", Unit: "mm", Range: [2]float64{0, 50}, Limits: &Limits{Low: at(10), High: at(40)}}, {ID: "other", Unit: "cm", Range: [2]float64{0, 5}}},
				Even:     &Evenness{Max: 2, Unit: "mm", Pairs: [][2]string{{"level", "other"}}}},
			{ID: "blade", Class: ClassB, Phase: Cold, At: "front", Needs: map[string]string{"deck": "raised"}, After: []string{"oil"}, Faults: []Fault{{ID: "bent", Extent: Lost, Restrict: []string{"no_slope"}}}},
			{ID: "brake", Class: ClassA, Phase: Running, At: "seat", After: []string{"oil"}, Faults: []Fault{{ID: "weak", Extent: Degraded}}},
		},
		Interlock: Interlock{Switches: []Switch{{ID: "seat", Label: both("Seat"), Made: both("occupied"), Broken: both("empty"), Make: both("sit"), Break: both("rise")}},
			Permits: []Permit{{ID: "blades", Kind: "drive", Label: both("Blades"), Moves: both("blades"), When: "seat"}}},
		Protection: []Protection{{ID: "eyes", Name: both("Eyes")}},
		Uses:       []Use{{ID: "slope", Limit: at(15), Unit: "°"}},
		Numbers:    []Parameter{{ID: "warm_up", Value: 60, Unit: "s"}},
	}
}

// TestProblems breaks the good sheet in one place each and wants the rule and
// the place told, and nothing else.
func TestProblems(t *testing.T) {
	if p := good().Problems(); len(p) > 0 {
		t.Fatalf("the good sheet has %+v", p)
	}
	for name, test := range map[string]struct {
		bend    func(*Sheet)
		rule    text.Rule
		pointer string
	}{
		"check twice":           {func(s *Sheet) { s.Checks[2].ID, s.Checks[1].After = "blade", nil }, RuleDuplicate, "/checks/2/id"},
		"setting twice":         {func(s *Sheet) { s.Settings = append(s.Settings, s.Settings[0]) }, RuleDuplicate, "/settings/1/id"},
		"protection twice":      {func(s *Sheet) { s.Protection = append(s.Protection, s.Protection[0]) }, RuleDuplicate, "/protection/1/id"},
		"use twice":             {func(s *Sheet) { s.Uses = append(s.Uses, s.Uses[0]) }, RuleDuplicate, "/uses/1/id"},
		"parameter twice":       {func(s *Sheet) { s.Numbers = append(s.Numbers, s.Numbers[0]) }, RuleDuplicate, "/numbers/1/id"},
		"place named a station": {func(s *Sheet) { s.Places = append(s.Places, Place{ID: "front", Station: "rear"}) }, RuleDuplicate, "/places/1/id"},
		"part twice":            {func(s *Sheet) { s.Drawing.Parts = append(s.Drawing.Parts, s.Drawing.Parts[0]) }, RuleDuplicate, "/drawing/parts/1/id"},
		"conflict twice":        {func(s *Sheet) { s.NotToWear = []Conflict{{ID: "cuffs"}, {ID: "cuffs"}} }, RuleDuplicate, "/not_to_wear/1/id"},
		"none without a reason": {func(s *Sheet) { s.Checks[0].Restrict = []string{None} }, RuleNoneWhy, "/checks/0/restrict"},
		"too steep up":          {func(s *Sheet) { s.Uses[0].Up = at(46) }, RuleSlopeLimit, "/uses/0/up"},
		"not up at all":         {func(s *Sheet) { s.Uses[0].Up = at(0) }, RuleSlopeLimit, "/uses/0/up"},
		"up where none is":      {func(s *Sheet) { s.Uses[0] = Use{ID: "road", Up: at(5)} }, RuleNoDegree, "/uses/0/limit"},
		"condition twice":       {func(s *Sheet) { s.Conditions = append(s.Conditions, s.Conditions[0]) }, RuleDuplicate, "/conditions/1/id"},
		"setting's spot twice":  {func(s *Sheet) { s.Checks[0].Spot = &Reading{ID: "more", Unit: "mm", Range: [2]float64{0, 9}} }, RuleSpot, "/checks/0/spot"},
		"up a ramp sideways":    {func(s *Sheet) { s.Transport = &Transport{Up: "sideways"} }, RuleUnknown, "/transport/up"},
		"a spot of no unit":     {func(s *Sheet) { s.Checks[1].Spot = &Reading{ID: "more", Unit: "fortnight", Range: [2]float64{0, 9}} }, RuleUnknownUnit, "/checks/1/spot/unit"},
		"after, three round":    {func(s *Sheet) { s.Checks[0].After = []string{"blade"} }, RuleCycle, "/checks/0/after"},
		"fault twice":           {func(s *Sheet) { s.Checks[1].Faults = append(s.Checks[1].Faults, Fault{ID: "bent"}) }, RuleDuplicate, "/checks/1/faults/1/id"},
		"reading twice":         {func(s *Sheet) { s.Checks[0].Readings[1].ID, s.Checks[0].Even = "level", nil }, RuleDuplicate, "/checks/0/readings/1/id"},
		"stations out of order": {func(s *Sheet) { s.Loop.Stations[1].At = 0 }, RuleStations, "/loop/stations/1/at"},
		"station off the loop":  {func(s *Sheet) { s.Loop.Stations[1].At = 6 }, RuleStations, "/loop/stations/1/at"},
		"place off the loop":    {func(s *Sheet) { s.Places[0].Station = "moon" }, RuleUnknown, "/places/0/station"},
		"operator nowhere":      {func(s *Sheet) { s.OperatorPlace = "moon" }, RuleUnknown, "/operator_place"},
		"hitch nowhere":         {func(s *Sheet) { s.Hitch = "moon" }, RuleUnknown, "/hitch"},
		"mount nowhere":         {func(s *Sheet) { s.Carrier = &Carrier{Family: "tractor", At: "moon"} }, RuleUnknown, "/carrier/at"},
		"setting nowhere":       {func(s *Sheet) { s.Settings[0].At = "moon" }, RuleUnknown, "/settings/0/at"},
		"setting ends oddly":    {func(s *Sheet) { s.Settings[0].End = "sideways" }, RuleUnknown, "/settings/0/end"},
		"setting starts oddly":  {func(s *Sheet) { s.Settings[0].Start = "sideways" }, RuleUnknown, "/settings/0/start"},
		"check nowhere":         {func(s *Sheet) { s.Checks[1].At = "moon" }, RuleUnknown, "/checks/1/at"},
		"need unknown":          {func(s *Sheet) { s.Checks[1].Needs = map[string]string{"hood": "open"} }, RuleUnknown, "/checks/1/needs/hood"},
		"need impossible":       {func(s *Sheet) { s.Checks[1].Needs = map[string]string{"deck": "sideways"} }, RuleUnknown, "/checks/1/needs/deck"},
		"after unknown":         {func(s *Sheet) { s.Checks[1].After = []string{"moon"} }, RuleUnknown, "/checks/1/after/0"},
		"after a later phase":   {func(s *Sheet) { s.Checks[1].After = []string{"brake"} }, RuleLaterPhase, "/checks/1/after/0"},
		"after itself":          {func(s *Sheet) { s.Checks[0].After = []string{"oil"} }, RuleCycle, "/checks/0/after"},
		"after each other":      {func(s *Sheet) { s.Checks[0].After = []string{"blade"} }, RuleCycle, "/checks/0/after"},
		"restriction unknown":   {func(s *Sheet) { s.Checks[1].Faults[0].Restrict = []string{"no_fun"} }, RuleUnknown, "/checks/1/faults/0/restrict/0"},
		"hose not hydraulic":    {func(s *Sheet) { s.Checks[1].Faults[0].HoseBody = true }, RuleHosePart, "/checks/1/faults/0/hose_body"},
		"unit unknown":          {func(s *Sheet) { s.Numbers[0].Unit = "fortnight" }, RuleUnknownUnit, "/numbers/0/unit"},
		"limit's unit unknown":  {func(s *Sheet) { s.Uses[0].Unit = "steep" }, RuleUnknownUnit, "/uses/0/unit"},
		"range upside down":     {func(s *Sheet) { s.Checks[0].Readings[1].Range = [2]float64{5, 5} }, RuleRange, "/checks/0/readings/1/range"},
		"limits empty":          {func(s *Sheet) { s.Checks[0].Readings[0].Limits = &Limits{} }, RuleNoLimit, "/checks/0/readings/0/limits"},
		"limits upside down":    {func(s *Sheet) { s.Checks[0].Readings[0].Limits.Low = at(40) }, RuleUpsideDown, "/checks/0/readings/0/limits"},
		"limit off the range":   {func(s *Sheet) { s.Checks[0].Readings[0].Limits.High = at(60) }, RuleOutOfRange, "/checks/0/readings/0/limits"},
		"band of no condition": {func(s *Sheet) {
			s.Checks[0].Readings[0].Limits = &Limits{By: "moon", Bands: []Band{{At: 0, Low: at(1)}, {At: 1, Low: at(2)}}}
		}, RuleUnknown, "/checks/0/readings/0/limits/by"},
		"one band only": {func(s *Sheet) {
			s.Checks[0].Readings[0].Limits = &Limits{By: "soil", Bands: []Band{{At: 0, Low: at(1)}}}
		}, RuleBandOrder, "/checks/0/readings/0/limits"},
		"bands out of order": {func(s *Sheet) {
			s.Checks[0].Readings[0].Limits = &Limits{By: "soil", Bands: []Band{{At: 1, Low: at(1)}, {At: 0, Low: at(2)}}}
		}, RuleBandOrder, "/checks/0/readings/0/limits/bands/1"},
		"band upside down": {func(s *Sheet) {
			s.Checks[0].Readings[0].Limits = &Limits{By: "soil", Bands: []Band{{At: 0, Low: at(9), High: at(4)}, {At: 1, Low: at(2)}}}
		}, RuleUpsideDown, "/checks/0/readings/0/limits/bands/0"},
		"even of unknown reading": {func(s *Sheet) { s.Checks[0].Even.Pairs[0][1] = "moon" }, RuleUnknown, "/checks/0/even/pairs/0/1"},
		"even in another unit":    {func(s *Sheet) { s.Checks[0].Even.Unit, s.Checks[0].Even.Pairs = "kPa", [][2]string{{"level", "level"}} }, RuleUnitKind, "/checks/0/even/unit"},
		"no words for a switch":   {func(s *Sheet) { s.Interlock.Switches[0].Make = text.Text{EN: "sit"} }, RuleNoText, "/interlock/switches/0/make"},
		"no words for a permit":   {func(s *Sheet) { s.Interlock.Permits[0].Label = text.Text{} }, RuleNoText, "/interlock/permits/0/label"},
		"nothing that moves":      {func(s *Sheet) { s.Interlock.Permits[0].Moves = text.Text{} }, RuleNoText, "/interlock/permits/0/moves"},
	} {
		t.Run(name, func(t *testing.T) {
			s := good()
			test.bend(s)
			found := s.Problems()
			if len(found) == 0 {
				t.Errorf("%s: nothing found", name)
				return
			}
			if strings.HasPrefix(name, "after") && len(found) > 2 {
				t.Errorf("%s: told %d times", name, len(found))
			}
			if found[0].Reason.Rule != test.rule || found[0].Pointer != test.pointer {
				t.Errorf("%s: %s at %s, want %s at %s", name, found[0].Reason.Rule, found[0].Pointer, test.rule, test.pointer)
			}
		})
	}
}

func TestLimitsUnderConditions(t *testing.T) {
	l := &Limits{By: "soil", Bands: []Band{{At: 0, Low: at(18), High: at(38)}, {At: 1, Low: at(32), High: at(56)}}}
	for value, want := range map[float64][2]float64{0: {18, 38}, 0.5: {25, 47}, 1: {32, 56}, -3: {18, 38}, 7: {32, 56}} {
		t.Run(fmt.Sprint(value), func(t *testing.T) {
			got := l.Under(map[string]float64{"soil": value})
			if *got.Low != want[0] || *got.High != want[1] {
				t.Errorf("soil %v: %v to %v, want %v", value, *got.Low, *got.High, want)
			}
		})
	}
	if got := l.Under(nil); *got.Low != 18 {
		t.Errorf("not told: %v", *got.Low)
	}
	plain := &Limits{Low: at(3)}
	if plain.Under(map[string]float64{"soil": 1}) != plain {
		t.Error("limits that depend on nothing were changed")
	}
	oneSided := &Limits{By: "soil", Bands: []Band{{At: 0, Low: at(1)}, {At: 1, Low: at(2)}}}
	if got := oneSided.Under(map[string]float64{"soil": 1}); got.High != nil || *got.Low != 2 {
		t.Errorf("one side only: %+v", got)
	}
	r := &Reading{Unit: "mm", Limits: l}
	if under := r.Under(map[string]float64{"soil": 1}); *under.Limits.Low != 32 || r.Limits.Low != nil {
		t.Error("the reading under a condition is not a copy")
	}
}

func TestLookUps(t *testing.T) {
	s := good()
	spot, ok := s.Spot("seat")
	if !ok || spot.Station != "rear" || spot.Off != 0.5 {
		t.Errorf("%+v", spot)
	}
	for name, found := range map[string]bool{
		"check":     second(s.Check("blade")),
		"setting":   second(s.Setting("deck")),
		"use":       second(s.Use("slope")),
		"condition": second(s.Condition("soil")),
	} {
		t.Run(name, func(t *testing.T) {
			if !found {
				t.Errorf("%s is not found", name)
			}
		})
	}
	for name, found := range map[string]bool{
		"check":     second(s.Check("moon")),
		"setting":   second(s.Setting("moon")),
		"use":       second(s.Use("road")),
		"condition": second(s.Condition("moon")),
		"spot":      second(s.Spot("moon")),
	} {
		t.Run(name, func(t *testing.T) {
			if found {
				t.Errorf("a %s that is not there was found", name)
			}
		})
	}
	if s.HasEngine() {
		t.Error("a drive permit alone is no engine")
	}
	if says := UnknownSpot(s, "moon"); !strings.Contains(says.Args[2].Plain, "seat") {
		t.Errorf("it does not say which spots there are: %+v", says)
	}
	fault := &Fault{ID: "x", Class: ClassC}
	if s.Checks[0].ClassOf(fault) != ClassC || s.Checks[0].ClassOf(&Fault{}) != ClassE {
		t.Error("the class of a fault")
	}
}

func second[T any](_ T, ok bool) bool { return ok }

func TestRestrictionsForbidUses(t *testing.T) {
	uses := map[string]bool{}
	for _, u := range Uses() {
		uses[u] = true
	}
	conditions := 0
	for _, r := range Restrictions() {
		switch use := r.Forbids(); {
		case use == "":
			conditions++
		case !uses[use]:
			t.Errorf("%s forbids %q, which is no use", r, use)
		}
	}
	if conditions != 2 {
		t.Errorf("%d restrictions forbid nothing", conditions)
	}
}

// TestASpotIsMeasured instead of ticked, and one beside nothing else is sound as
// a sheet.
func TestASpotIsMeasured(t *testing.T) {
	s := good()
	s.Checks[1].Spot = &Reading{ID: "edge", Unit: "mm", Range: [2]float64{0, 9}}
	if p := s.Problems(); len(p) > 0 {
		t.Fatalf("%+v", p)
	}
	if r, ok := s.Checks[1].Reading("edge"); !ok || r.Unit != "mm" {
		t.Error("the spot is no reading")
	}
	measured := s.Checks[1].Measured()
	if len(measured.Readings) != 1 || measured.Readings[0].ID != "edge" || len(s.Checks[1].Readings) != 0 {
		t.Errorf("%+v", measured.Readings)
	}
	if _, ok := s.Checks[2].Reading("edge"); ok {
		t.Error("another point has it too")
	}
}

// Example finds what is wrong with a sheet.
func Example() {
	s := good()
	s.Checks[1].Needs = map[string]string{"hood": "open"}
	for _, p := range s.Problems() {
		fmt.Println(p.Pointer, p.Reason.Rule)
	}
	// Output: /checks/1/needs/hood sheet.unknown_reference
}
