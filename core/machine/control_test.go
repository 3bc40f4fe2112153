package machine

import (
	"slices"
	"testing"

	"vespers/core/text"
)

// barred is the good sheet with a travel bar, a seat and a key.
func barred() *Sheet {
	s := good()
	way := func(id string, switches map[string]bool) Position {
		return Position{ID: id, Name: both(id), Do: both("to " + id), Switches: switches}
	}
	s.Interlock.Switches = []Switch{{ID: "seat"}, {ID: "forward", Label: both("Bar, forward")}, {ID: "back", Label: both("Bar, back")}}
	bar := Control{ID: "bar", Name: both("Bar"), At: []float64{0.5, 1}, Ways: []Position{
		way("ahead", map[string]bool{"forward": false, "back": true}),
		way("neutral", map[string]bool{"forward": true, "back": true}),
		way("astern", map[string]bool{"forward": true, "back": false}),
	}}
	bar.Ways[0].SpringsTo, bar.Ways[2].SpringsTo = "neutral", "neutral"
	bar.Ways[2].Caution = both("Room behind you.")
	s.Controls = []Control{
		{ID: "seat", Name: both("Seat"), At: []float64{0.5, 1.5}, Ways: []Position{way("in it", map[string]bool{"seat": true}), way("up", map[string]bool{"seat": false})}},
		bar,
		{ID: "key", Name: both("Key"), At: []float64{0.6, 1}, Ways: []Position{way("off", nil), way("on", nil)}},
	}
	s.Word()
	return s
}

func TestContactsTakeTheWordsOfTheirControls(t *testing.T) {
	s := barred()
	if p := s.Problems(); len(p) > 0 {
		t.Fatalf("%+v", p)
	}
	want := map[string]Switch{
		"seat":    {Label: both("Seat"), Made: both("in it"), Broken: both("up"), Make: both("to in it"), Break: both("to up")},
		"forward": {Label: both("Bar, forward"), Made: both("neutral"), Broken: both("ahead"), Make: both("to neutral"), Break: both("to ahead")},
		"back":    {Label: both("Bar, back"), Made: both("neutral"), Broken: both("astern"), Make: both("to neutral"), Break: both("to astern"), Caution: both("Room behind you.")},
	}
	for _, got := range s.Interlock.Switches {
		w := want[got.ID]
		if w.ID = got.ID; got.Label != w.Label || got.Made != w.Made || got.Broken != w.Broken || got.Make != w.Make || got.Break != w.Break || got.Caution != w.Caution {
			t.Errorf("%+v, want %+v", got, w)
		}
	}
	again := *s
	if again.Word(); !slices.EqualFunc(again.Interlock.Switches, s.Interlock.Switches, func(a, b Switch) bool { return a.Make == b.Make && a.Label == b.Label }) {
		t.Error("said twice, the words are others")
	}
}

// TestControlsStand where their contacts are.
func TestControlsStand(t *testing.T) {
	s := barred()
	for name, test := range map[string]struct {
		at   map[string]bool
		want string
	}{
		"ahead":   {map[string]bool{"back": true}, "ahead"},
		"neutral": {map[string]bool{"forward": true, "back": true}, "neutral"},
		"astern":  {map[string]bool{"forward": true}, "astern"},
		"nowhere": {nil, ""},
	} {
		t.Run(name, func(t *testing.T) {
			got := ""
			if p := s.Controls[1].Stands(test.at); p != nil {
				got = p.ID
			}
			if got != test.want {
				t.Errorf("%q, want %q", got, test.want)
			}
		})
	}
	if p := s.Controls[2].Stands(map[string]bool{}); p != nil {
		t.Errorf("a key that works no contact stands at %s", p.ID)
	}
}

// TestOldSheetsHaveControlsToo: one for each contact, in the contact's words,
// without a place.
func TestOldSheetsHaveControlsToo(t *testing.T) {
	old := good()
	all := old.AllControls()
	if len(all) != 1 || all[0].Name != both("Seat") || all[0].At != nil || all[0].Stands(map[string]bool{"seat": true}).Do != both("sit") {
		t.Errorf("%+v", all)
	}
	if all := barred().AllControls(); len(all) != 3 {
		t.Errorf("%d controls, want those of the sheet alone", len(all))
	}
}

func TestBadControls(t *testing.T) {
	for name, test := range map[string]struct {
		bend    func(*Sheet)
		rule    text.Rule
		pointer string
	}{
		"twice":            {func(s *Sheet) { s.Controls[2].ID = "bar" }, RuleDuplicate, "/controls/2/id"},
		"a way twice":      {func(s *Sheet) { s.Controls[2].Ways[1].ID = "off" }, RuleDuplicate, "/controls/2/ways/1/id"},
		"far away":         {func(s *Sheet) { s.Controls[2].At[1] = 9 }, RuleControlPlace, "/controls/2/at"},
		"far to the left":  {func(s *Sheet) { s.Controls[2].At[0] = -1 }, RuleControlPlace, "/controls/2/at"},
		"the same words":   {func(s *Sheet) { s.Controls[2].Ways[1].Do = both("to astern") }, RuleControlSame, "/controls/2/ways/1/do"},
		"no such contact":  {func(s *Sheet) { s.Controls[2].Ways[1].Switches = map[string]bool{"horn": true} }, RuleUnknown, "/controls/2/ways/1/switches/horn"},
		"a contact untold": {func(s *Sheet) { delete(s.Controls[1].Ways[0].Switches, "back") }, RuleControlAll, "/controls/1/ways/0"},
		"a contact twice": {func(s *Sheet) {
			s.Controls[2].Ways[0].Switches, s.Controls[2].Ways[1].Switches = map[string]bool{"seat": true}, map[string]bool{"seat": false}
		}, RuleControlTwo, "/controls/2"},
		"a contact never works": {func(s *Sheet) { s.Controls[0].Ways[1].Switches["seat"] = true }, RuleControlOnce, "/controls/0/ways"},
		"it changes and back":   {func(s *Sheet) { s.Controls[1].Ways[2].Switches["forward"] = false }, RuleControlOnce, "/controls/1/ways"},
		"no control":            {func(s *Sheet) { s.Controls = s.Controls[1:] }, RuleControlNone, "/interlock/switches/0"},
		"springs nowhere":       {func(s *Sheet) { s.Controls[1].Ways[0].SpringsTo = "home" }, RuleUnknown, "/controls/1/ways/0/springs_to"},
		"springs where it is":   {func(s *Sheet) { s.Controls[1].Ways[0].SpringsTo = "ahead" }, RuleUnknown, "/controls/1/ways/0/springs_to"},
		"a notch that springs":  {func(s *Sheet) { s.Controls[1].Ways[0].Notch = true }, RuleControlSpring, "/controls/1/ways/0/springs_to"},
	} {
		t.Run(name, func(t *testing.T) {
			s := barred()
			test.bend(s)
			p := s.Problems()
			if len(p) == 0 || p[0].Reason.Rule != test.rule || p[0].Pointer != test.pointer {
				t.Errorf("%+v, want %s at %s", p, test.rule, test.pointer)
			}
		})
	}
}

// TestAPermitTakesTheWordsOfWhatItNeeds, and needs only what works no contact and
// does not rest so.
func TestAPermitTakesTheWordsOfWhatItNeeds(t *testing.T) {
	s := barred()
	s.Controls[2].Ways[1].Caution = both("Level ground.")
	s.Interlock.Permits[0].Needs = map[string]string{"key": "on"}
	s.Word()
	s.Word() // said again, nothing is there twice
	if p := s.Problems(); len(p) > 0 {
		t.Fatalf("%+v", p)
	}
	want := First{Control: "key", Do: both("to on"), Back: both("to off"), Caution: both("Level ground.")}
	if got := s.Interlock.Permits[0].First; len(got) != 1 || got[0] != want {
		t.Errorf("%+v, want %+v", got, want)
	}
	for name, test := range map[string]struct {
		needs map[string]string
		known string
	}{
		"no such control":   {map[string]string{"horn": "on"}, "key"},
		"it works contacts": {map[string]string{"bar": "ahead"}, "key"},
		"no such position":  {map[string]string{"key": "half"}, "on"},
		"it rests so":       {map[string]string{"key": "off"}, "on"},
	} {
		t.Run(name, func(t *testing.T) {
			s.Interlock.Permits[0].Needs = test.needs
			if p := s.Problems(); len(p) != 1 || p[0].Reason.Rule != RuleUnknown || p[0].Reason.Args[2].Plain != test.known {
				t.Errorf("%+v, want what is known: %s", p, test.known)
			}
		})
	}
}
