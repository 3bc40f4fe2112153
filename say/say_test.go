package say

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"vespers/core/text"
	"vespers/core/unit"

	_ "vespers/catalogue"
	_ "vespers/core/outing"
)

// sample is a value for a slot of each kind.
func sample(k text.Kind) any {
	q, _ := unit.Find("kPa")
	switch k {
	case text.Words:
		return text.Text{EN: "Brake", ES: "Freno"}
	case text.Amount:
		return text.Measure{Quantity: q.Of(90), Unit: "kPa"}
	case text.Count:
		return 2
	case text.Term:
		return text.Key("grade.mend")
	case text.Moment:
		return time.Unix(0, 0)
	case text.Subjects:
		return []text.Text{{EN: "Gloves", ES: "Guantes"}}
	}
	return "name"
}

// shout is an exclamation; the ! of an expression is none.
var shout = regexp.MustCompile(`¡|\w!`)

func TestEveryRuleInEveryLanguage(t *testing.T) {
	for _, l := range text.Languages() {
		v := NewVoice(l, unit.Metric, time.UTC)
		for _, rule := range text.Rules() {
			var values []any
			for _, slot := range rule.Slots() {
				values = append(values, sample(slot.Kind))
			}
			said := v.Reason(rule.Says(values...))
			if strings.Contains(said, "⟨") || strings.Contains(said, "<no value>") || strings.Contains(said, "{{") || !v.Has("rule."+string(rule)) {
				t.Errorf("%s in %s: %q", rule, l, said)
			}
			if shout.MatchString(said) {
				t.Errorf("%s in %s shouts: %q", rule, l, said)
			}
		}
	}
}

func TestSameKeysInBothLanguages(t *testing.T) {
	keys := func(name string) map[string]bool {
		data, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		out := map[string]bool{}
		for _, m := range regexp.MustCompile(`(?m)^([a-z0-9_.A-Z]+):`).FindAllStringSubmatch(string(data), -1) {
			if out[m[1]] {
				t.Errorf("%s: %s stands twice", name, m[1])
			}
			out[m[1]] = true
		}
		return out
	}
	en, es := keys("en.yaml"), keys("es.yaml")
	for k := range en {
		if !es[k] {
			t.Errorf("es.yaml lacks %s", k)
		}
	}
	for k := range es {
		if !en[k] {
			t.Errorf("en.yaml lacks %s", k)
		}
	}
}

// TestEveryKeyUsedExists looks for message keys in templates and code.
func TestEveryKeyUsedExists(t *testing.T) {
	v := NewVoice(text.Spanish, unit.Metric, time.UTC)
	call := regexp.MustCompile(`(?:\.T |T\(|text\.Key\(|\.say\()"([a-z_]+\.[a-zA-Z0-9_.]*[a-zA-Z0-9_])"`)
	found := 0
	for _, pattern := range []string{"../web/*/*.go", "../web/*.go", "../web/*/templates/*.html", "../tell/*.go", "../core/*/*.go", "../cmd/vespers/*.go"} {
		names, err := filepath.Glob(pattern)
		if err != nil {
			t.Fatal(err)
		}
		for _, name := range names {
			data, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			if strings.HasSuffix(name, "_test.go") {
				continue
			}
			for _, m := range call.FindAllStringSubmatch(string(data), -1) {
				found++
				if !v.Has(m[1]) {
					t.Errorf("%s uses %s, which no catalogue has", name, m[1])
				}
			}
		}
	}
	if found < 200 {
		t.Errorf("only %d keys found: the pattern no longer fits the code", found)
	}
}

// TestTheDecimalMarkFollowsTheYard: Spanish is written with a point in Mexico and
// with a comma in Bogotá, English with a point everywhere.
func TestTheDecimalMarkFollowsTheYard(t *testing.T) {
	for _, test := range []struct {
		l    text.Language
		zone string
		want string
	}{{text.Spanish, "America/Mexico_City", "."}, {text.Spanish, "America/Bogota", ","}, {text.Spanish, "Europe/Dublin", "."}, {text.English, "America/Bogota", "."}} {
		t.Run(string(test.l)+" "+test.zone, func(t *testing.T) {
			zone, err := time.LoadLocation(test.zone)
			if err != nil {
				t.Fatal(err)
			}
			if got := NewVoice(test.l, unit.Metric, zone).Decimal(); got != test.want {
				t.Errorf("%q", got)
			}
		})
	}
	if got := NewVoice(text.Spanish, unit.Metric, nil).Decimal(); got != "." {
		t.Errorf("no zone: %q", got)
	}
}

func TestUnitsFollowThePerson(t *testing.T) {
	kPa, _ := unit.Find("kPa")
	m := text.Measure{Quantity: kPa.Of(90), Unit: "kPa"}
	for _, test := range []struct {
		l    text.Language
		u    unit.System
		want string
	}{
		{text.English, unit.Metric, "90\u00a0kPa"},
		{text.English, unit.US, "13.1\u00a0psi"},
		{text.Spanish, unit.US, "13.1\u00a0psi"},
	} {
		t.Run(test.want, func(t *testing.T) {
			if got := NewVoice(test.l, test.u, time.UTC).Amount(m); got != test.want {
				t.Errorf("%s %s: %q", test.l, test.u, got)
			}
		})
	}
}
