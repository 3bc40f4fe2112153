package catalogue

import (
	"strings"
	"testing"

	"vespers/core/text"
)

// TestASheetThatDoesHarmIsRefused: with a need, a question or a step taken out, the
// proof says what is reached and where it stands; a step that nothing leads to is
// only told.
func TestASheetThatDoesHarmIsRefused(t *testing.T) {
	shipped, err := embedded.ReadFile("sheets/fernhollow_saw.yaml")
	if err != nil {
		t.Fatal(err)
	}
	if sheet, problems := Prove("saw.yaml", shipped); sheet == nil || len(problems) > 0 {
		t.Fatalf("as it ships: %+v", problems)
	}
	for name, c := range map[string]struct {
		old, new string
		rule     text.Rule
		field    string
	}{
		"started without looking round": {"needs: {person: in_place, people: clear, brake: set", "needs: {person: in_place, brake: set", ruleReached, "/procedures/start/steps/pull"},
		"left with a bare chain":        {`motion: still, scabbard: "on"}`, `motion: still}`, ruleReached, "/procedures/shutdown/steps/leave"},
		"a need that nothing makes":     {`needs: {hands: "off"}`, `needs: {hands: "off", place: bed}`, ruleDeadEnd, "/procedures/clean/steps/lead_on"},
		"a step that nothing leads to": {`do: {en: "Fill the bar oil`, `when: {engine: running}
        do: {en: "Fill the bar oil`, ruleNeverDone, "/procedures/fuel/steps/bar_oil"},
	} {
		changed := strings.Replace(string(shipped), c.old, c.new, 1)
		if c.rule == ruleReached && strings.Contains(name, "looking") { // the question is what guards it too
			changed = strings.Replace(changed, "no: {then: stay, makes: {people: near}}", "no: {then: next}", 1)
		}
		if c.rule == ruleReached && strings.Contains(name, "bare") {
			changed = strings.Replace(changed, "makes: {scabbard: \"on\"}", "makes: {lead: \"on\"}", 1)
		}
		if changed == string(shipped) {
			t.Fatalf("%s: nothing was changed", name)
		}
		sheet, problems := Prove("saw.yaml", []byte(changed))
		found := false
		for _, p := range problems {
			found = found || p.Reason.Rule == c.rule && p.Field == c.field && p.Line > 1 && p.File == "saw.yaml"
		}
		if !found || (sheet == nil) != (c.rule != ruleNeverDone) {
			t.Errorf("%s: %+v", name, problems)
		}
	}
}
