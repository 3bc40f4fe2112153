package catalogue

import (
	"bytes"
	"io/fs"
	"math"
	"os"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/walk"
)

func TestEmbeddedSheets(t *testing.T) {
	sheets, err := All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range sheets {
		s := r.Sheet
		if n := len(s.Checks); n < 11 || n > 50 {
			t.Errorf("%s has %d points", s.ID, n)
		}
		again, err := Decode(r.Body)
		if err != nil {
			t.Fatal(err)
		}
		if second, _ := Resolve(again); second.Hash != r.Hash {
			t.Errorf("%s: hash changes when it is read back", s.ID)
		}
		changes := map[string]int{}
		for _, stop := range walk.Route(s, walk.Options{}) {
			if stop.Do == walk.Set {
				changes[stop.ID]++
			}
		}
		for _, st := range s.Settings {
			if n := changes[st.ID]; n != 2 && st.Start == st.End || n != 1 && st.Start != st.End {
				t.Errorf("%s changes %s %d times", s.ID, st.ID, changes[st.ID])
			}
		}
		logic, _ := interlock.Of(s.With(nil))
		plan := logic.Plan()
		t.Logf("%s: %d points, %d tests, uncatchable %v", s.ID, len(s.Checks), len(plan.Tests), plan.Uncatchable)
	}
}

func TestSchemaInDocs(t *testing.T) {
	have, err := os.ReadFile("../docs/sheet.schema.json")
	if err != nil || !bytes.Equal(have, Schema()) {
		t.Errorf("docs/sheet.schema.json is not what the Go types say (%v); run: go run ./cmd/vespers sheet schema > docs/sheet.schema.json", err)
	}
}

// TestBadSheets breaks a good sheet in one place each and wants the problem
// told at that place.
func TestBadSheets(t *testing.T) {
	good, err := embedded.ReadFile("sheets/brackwing.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for name, test := range map[string]struct{ old, new, rule, at string }{
		"unknown switch":     {`when: "!cutters"`, `when: "!cuters"`, "interlock.unknown_switch", `when: "!cuters"`},
		"missing Spanish":    {`where: {en: "in the middle", es: "al centro"}`, `where: {en: "in the middle"}`, "sheet.missing_language", `where: {en: "in the middle"}`},
		"empty Spanish":      {`where: {en: "in the middle", es: "al centro"}`, `where: {en: "in the middle", es: ""}`, "sheet.missing_language", `where: {en: "in the middle", es: ""}`},
		"limit upside down":  {`{limits: {low: 83, high: 117`, `{limits: {low: 183, high: 117`, "sheet.limit_upside_down", `{limits: {low: 183`},
		"limit off range":    {`{limits: {low: 83, high: 117`, `{limits: {low: 83, high: 1170`, "sheet.limit_outside_range", "high: 1170"},
		"duplicate id":       {`{id: warm_up,`, `{id: crank,`, "sheet.duplicate_id", `{id: crank, value: 5`},
		"cyclic order":       {`    wheel_right_rear:`, "    blades: {after: [spindles]}\n    wheel_right_rear:", "sheet.cyclic_order", ""},
		"unknown unit":       {`unit: m, source`, `unit: yards, source`, "sheet.unknown_unit", "unit: yards"},
		"unknown kit":        {`kits: [on_board,`, `kits: [on_bord,`, "sheet.unknown_kit", "on_bord"},
		"unknown place":      {`operator_place: seat`, `operator_place: saddle`, "sheet.unknown_reference", "saddle"},
		"unknown field":      {`power: petrol`, "power: petrol\ncolour: red", "sheet.unknown_field", ""},
		"wrong type":         {`length: 2.2`, `length: long`, "sheet.wrong_type", "length: long"},
		"not a choice":       {`power: petrol`, `power: steam`, "sheet.not_a_choice", "power: steam"},
		"override unknown":   {`    wheel_right_rear:`, "    weel: {seconds: 1}\n    wheel_right_rear:", "sheet.override_unknown", "weel"},
		"bad yaml":           {`power: petrol`, `power: [petrol`, "sheet.yaml", ""},
		"needs unknown":      {`    wheel_right_rear:`, "    spindles: {needs: {hood: up}}\n    wheel_right_rear:", "sheet.unknown_reference", "hood: up"},
		"a control unplaced": {`    key: {at: [1.16, 1.38], where`, `    key: {where`, "sheet.field_missing", ""},
		"required no test":   {`to: {brake: false}}`, `to: {}}`, "interlock.required_not_a_test", "required"},
	} {
		t.Run(name, func(t *testing.T) {
			bad := strings.Replace(string(good), test.old, test.new, 1)
			if bad == string(good) {
				t.Fatalf("%s: nothing was broken", name)
			}
			sheet, problems := Check("bad.yaml", []byte(bad))
			if sheet != nil || len(problems) == 0 {
				t.Errorf("%s: passed", name)
				return
			}
			p := problems[0]
			if string(p.Reason.Rule) != test.rule {
				t.Errorf("%s: %s at %s:%d %+v, want %s", name, p.Reason.Rule, p.File, p.Line, p.Reason.Args, test.rule)
			}
			if lines := strings.Split(bad, "\n"); test.at != "" && (p.File != "bad.yaml" || !near(lines, p.Line, test.at)) {
				t.Errorf("%s: told at %s:%d, %q is elsewhere", name, p.File, p.Line, test.at)
			}
		})
	}
}

// near reports whether the line, or the one above it, holds the text.
func near(lines []string, line int, text string) bool {
	for _, i := range []int{line - 1, line - 2} {
		if i >= 0 && i < len(lines) && strings.Contains(lines[i], text) {
			return true
		}
	}
	return false
}

func TestBadKit(t *testing.T) {
	sheet := []byte("format: vespers/sheet/2\nkits: [mine]\n")
	for name, test := range map[string]struct{ kit, rule string }{
		"other id":      {"kit: yours\n", "sheet.bad_kit"},
		"other section": {"kit: mine\nloop: {length: 3}\n", "sheet.bad_kit"},
		"not a list":    {"kit: mine\nchecks: {a: b}\n", "sheet.bad_kit"},
		"not yaml":      {"kit: [", "sheet.yaml"},
	} {
		t.Run(name, func(t *testing.T) {
			_, problems := Check("s.yaml", sheet, fstest.MapFS{"mine.yaml": {Data: []byte(test.kit)}})
			if len(problems) == 0 || string(problems[0].Reason.Rule) != test.rule || problems[0].File != "kits/mine.yaml" {
				t.Errorf("%s: %+v", name, problems)
			}
		})
	}
}

func TestRemoveAndOverride(t *testing.T) {
	good, _ := embedded.ReadFile("sheets/brackwing.yaml")
	changed := strings.Replace(string(good), "remove: {", "remove: {checks: [lamps], ", 1) + "    engine_oil: {class: H}\n"
	sheet, problems := Check("s.yaml", []byte(changed))
	if sheet == nil {
		t.Fatalf("%+v", problems)
	}
	if _, ok := sheet.Check("lamps"); ok {
		t.Error("lamps were not removed")
	}
	if c, _ := sheet.Check("engine_oil"); c.Class != machine.ClassH {
		t.Errorf("engine oil is class %s", c.Class)
	}
}

// TestFilesThatAreNoSheets are refused at once, whatever is in them.
func TestFilesThatAreNoSheets(t *testing.T) {
	sheet, err := fs.ReadFile(embedded, "sheets/brackwing.yaml")
	if err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"too large":          {append(bytes.Clone(sheet), bytes.Repeat([]byte("# more\n"), 200_000)...), "at most 1 MB"},
		"nested without end": {append(bytes.Clone(sheet), "x: "+strings.Repeat("[", 20_000)...), "more than 40 deep"},
	} {
		t.Run(name, func(t *testing.T) {
			began := time.Now()
			_, problems := Check("x.yaml", c.data)
			if len(problems) != 1 || !strings.Contains(problems[0].Reason.Args[0].Plain, c.says) {
				t.Errorf("%+v", problems)
			}
			if took := time.Since(began); took > time.Second {
				t.Errorf("it took %v", took)
			}
		})
	}
	if _, problems := Check("x.yaml", append([]byte("\ufeff"), sheet...)); len(problems) > 0 {
		t.Errorf("a mark before the text: %+v", problems)
	}
}

// TestHazardsComeFirst: a hazard names what can happen before what to do about
// it, in both languages.
func TestHazardsComeFirst(t *testing.T) {
	sheets, err := All()
	if err != nil {
		t.Fatal(err)
	}
	first := func(words string) bool {
		name, _, named := strings.Cut(words, ": ")
		return named && len(name) < 50 && !strings.Contains(name, ".")
	}
	hazards := 0
	for _, r := range sheets {
		check := func(where string, hazard *text.Text) {
			if hazard == nil {
				return
			}
			hazards++
			if !first(hazard.EN) || !first(hazard.ES) {
				t.Errorf("%s %s: %q, %q", r.Sheet.ID, where, hazard.EN, hazard.ES)
			}
		}
		for _, c := range r.Sheet.Checks {
			check(c.ID, c.Hazard)
		}
		for _, s := range r.Sheet.Settings {
			for _, w := range s.Ways {
				check(s.ID+" "+w.ID, w.Hazard)
			}
		}
	}
	if hazards < 30 {
		t.Errorf("only %d hazards", hazards)
	}
}

// TestSoundIsTheAnswerYes: no point asks whether something bad is there, because
// the thumb that has said yes thirty times says it again.
func TestSoundIsTheAnswerYes(t *testing.T) {
	sheets, err := All()
	if err != nil {
		t.Fatal(err)
	}
	bad := []string{"Any ", " any ", "Is grass", "Water or", "¿Algún", "¿Alguna", "¿Hay grietas", "¿Hay humedad", "¿Hay pasto"}
	for _, r := range sheets {
		for _, c := range r.Sheet.Checks {
			for _, words := range bad {
				if strings.Contains(c.Look.EN, words) || strings.Contains(c.Look.ES, words) {
					t.Errorf("%s %s asks for what is bad: %q, %q", r.Sheet.ID, c.ID, c.Look.EN, c.Look.ES)
				}
			}
		}
	}
}

// TestNoHandHoldsALeverTwoWays: what a control of several contacts cannot do is
// ruled out of the tests.
func TestNoHandHoldsALeverTwoWays(t *testing.T) {
	good, err := embedded.ReadFile("sheets/mossgate_trencher.yaml")
	if err != nil {
		t.Fatal(err)
	}
	bad := strings.Replace(string(good), "    - \"!chain_dig && !chain_back\"\n", "", 1)
	sheet, problems := Check("bad.yaml", []byte(bad))
	if bad == string(good) || sheet != nil || len(problems) != 1 || problems[0].Reason.Rule != "interlock.no_hand" || problems[0].Field != "/controls/chain_lever" {
		t.Errorf("%+v", problems)
	}
}

// TestNobodyRisesWithAFootOnAPedal that springs back.
func TestNobodyRisesWithAFootOnAPedal(t *testing.T) {
	good, err := embedded.ReadFile("sheets/hollin_tractor.yaml")
	if err != nil {
		t.Fatal(err)
	}
	bad := strings.Replace(string(good), "    - \"!seat && clutch\"\n", "", 1)
	sheet, problems := Check("bad.yaml", []byte(bad))
	if bad == string(good) || sheet != nil || len(problems) != 1 || problems[0].Reason.Rule != "interlock.no_foot" || problems[0].Field != "/controls/clutch" {
		t.Errorf("%+v", problems)
	}
}

// TestEveryControlIsSomewhereElse: drawn, no two lie on each other.
func TestEveryControlIsSomewhereElse(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		for _, build := range r.Sheet.Builds() {
			s := r.Sheet.With(build)
			near := max(s.Drawing.Length, s.Drawing.Width) * 0.04
			for i, a := range s.Controls {
				for _, b := range s.Controls[:i] {
					if d := math.Hypot(a.At[0]-b.At[0], a.At[1]-b.At[1]); d < near {
						t.Errorf("%s: %s and %s are %.2f m apart", s.ID, a.ID, b.ID, d)
					}
				}
			}
			if len(s.Controls) < 5 {
				t.Errorf("%s has %d controls", s.ID, len(s.Controls))
			}
		}
	}
}
