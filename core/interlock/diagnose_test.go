package interlock

import (
	"errors"
	"reflect"
	"slices"
	"testing"

	"vespers/core/text"
)

func TestDiagnoseZeroTurn(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	yes, no := true, false
	cranked := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brake": false}}, Observed: &yes}
	d, err := l.Diagnose([]Observation{cranked})
	if err != nil || !reflect.DeepEqual(d.Suspects, [][]string{{"brake:made"}, {"start:on"}}) {
		t.Fatalf("suspects %v, %v", d.Suspects, err)
	}
	refused := Observation{Test: *d.Next, Observed: &no}
	if d, _ = l.Diagnose([]Observation{cranked, refused}); !reflect.DeepEqual(d.Suspects, [][]string{{"brake:made"}}) || d.Next != nil {
		t.Errorf("after a refusal elsewhere: %v, next %v", d.Suspects, d.Next)
	}
	other := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"lever_l": false}}, Observed: &yes}
	other2 := Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"lever_r": false}}, Observed: &no}
	d, _ = l.Diagnose([]Observation{cranked, other, other2})
	if len(d.Suspects) == 0 || len(d.Suspects[0]) != 2 || !slices.ContainsFunc(d.Suspects, func(s []string) bool { return slices.Equal(s, []string{"brake:made", "lever_l:made"}) }) {
		t.Errorf("two bypassed switches: %v", d.Suspects)
	}
}

func TestWrongResults(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	yes, no := true, false
	refusal := Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brake": false}}
	for name, test := range map[string]struct {
		o    Observation
		rule text.Rule
	}{
		"no test":          {Observation{Test: Test{Kind: Refusal, Permit: "start"}, Observed: &no}, ruleNoTest},
		"unknown switch":   {Observation{Test: Test{Kind: Refusal, Permit: "start", To: map[string]bool{"brak": false}}, Observed: &no}, ruleNoTest},
		"from in refusal":  {Observation{Test: refusal, AtFrom: &yes, Observed: &no}, ruleNotFrom},
		"nothing observed": {Observation{Test: refusal}, ruleNoResult},
		"restart":          {Observation{Test: refusal, Observed: &no, Restarted: &no}, ruleNotStopped},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := l.Diagnose([]Observation{test.o})
			var wrong *Wrong
			if !errors.As(err, &wrong) || wrong.Place != 0 || wrong.Reason.Rule != test.rule {
				t.Errorf("%s: %v, want %s", name, err, test.rule)
			}
		})
	}
}
