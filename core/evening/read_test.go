package evening

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vespers/core/record"
)

// by hand: one person, two machines, one wash place. The first is hot for a quarter of an
// hour, so the second is washed before it.
const byHand = `{"machines":[
 {"id":"verger","cool":15,"who":["tobias"],"jobs":[{"id":"air","minutes":4},{"id":"wash","minutes":8,"place":"wash","cool":true},{"id":"look","minutes":3,"early":true}]},
 {"id":"sexton","arrives":5,"who":["tobias","ines"],"jobs":[{"id":"wash","minutes":6,"place":"wash","cool":true},{"id":"park","minutes":2}]}]}`

func TestByHand(t *testing.T) {
	e, err := Read([]byte(byHand))
	if err != nil {
		t.Fatal(err)
	}
	p := Make(e)
	kept(t, e, p)
	// All by tobias, and ines is home at once: air 0-4, look 4-7, sexton's wash 7-13 while
	// verger cools, park 13-15, verger's wash 15-23.
	if !p.Exact || p.Close != 23 || p.GoingHome != 23 || p.AtLeast != 23 || len(p.Jobs) != 5 {
		t.Errorf("%+v", p)
	}
	// In order: verger by tobias, air 0-4, wash 15-23, look 23-26; sexton by ines, who is
	// free, waits for the place from 23 on: 29, 31.
	if p.InOrder != 31 {
		t.Errorf("in order of arrival %v", p.InOrder)
	}
}

func TestWhatIsRefused(t *testing.T) {
	machine := func(s string) string { return `{"machines":[` + s + `]}` }
	job := `{"id":"air","minutes":4}`
	good := `{"id":"verger","who":["tobias"],"jobs":[` + job + `]}`
	for text, rule := range map[string]string{
		``: "file.json", `{`: "file.json", `[]`: "file.type", `null`: "file.type", machine(good) + ` 1`: "file.json",
		`{}`: "file.nothing", `{"machines":[]}`: "file.nothing", `{"machines":{}}`: "file.type", machine(`3`): "file.type",
		machine(`{"id":"a","who":["t"]}`): "file.nothing", machine(`{"id":"a","who":["t"],"jobs":[]}`): "file.nothing", machine(`{"id":"a","who":[],"jobs":[` + job + `]}`): "file.nothing",
		machine(`{"who":["t"],"jobs":[` + job + `]}`): "file.missing", machine(`{"id":7,"who":["t"],"jobs":[` + job + `]}`): "file.type",
		machine(good + `,` + good): "file.twice", machine(`{"id":"a","who":["t"],"jobs":[` + job + `,` + job + `]}`): "file.twice",
		`{"people":[{"id":"t"},{"id":"t"}],"machines":[` + good + `]}`:                       "file.twice",
		`{"people":[{"id":"ines"}],"machines":[` + good + `]}`:                               "evening.nobody",
		`{"people":[],"machines":[` + good + `]}`:                                            "evening.nobody",
		`{"people":[{"id":"tobias","from":-1}],"machines":[` + good + `]}`:                   "file.number",
		`{"people":[{"id":"tobias","from":"8"}],"machines":[` + good + `]}`:                  "file.type",
		machine(strings.Replace(good, `"id":"verger"`, `"id":"verger","arrives":-1`, 1)):     "file.number",
		machine(strings.Replace(good, `"id":"verger"`, `"id":"verger","cool":-0.1`, 1)):      "file.number",
		machine(strings.Replace(good, `"id":"verger"`, `"id":"verger","cool":null`, 1)):      "file.type",
		machine(strings.Replace(good, `"id":"verger"`, `"id":"verger","Arrives":1`, 1)):      "file.unknown_word",
		machine(strings.Replace(good, `"id":"verger"`, `"id":"verger","id":"a"`, 1)):         "file.twice",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":0`, 1)):                      "file.number",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":1e999`, 1)):                  "file.number",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":"4"`, 1)):                    "file.type",
		machine(strings.Replace(good, `,"minutes":4`, ``, 1)):                                "file.missing",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":4,"place":"pit"`, 1)):        "evening.no_such_place",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":4,"place":4`, 1)):            "file.type",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":4,"early":1`, 1)):            "file.type",
		machine(strings.Replace(good, `"minutes":4`, `"minutes":4,"late":true`, 1)):          "file.unknown_word",
		`{"places":{"wash":0},"machines":[` + good + `]}`:                                    "file.number",
		`{"places":{"wash":1.5},"machines":[` + good + `]}`:                                  "file.number",
		`{"places":{"wash":"1"},"machines":[` + good + `]}`:                                  "file.type",
		`{"places":{"wash":true},"machines":[` + good + `]}`:                                 "file.type",
		`{"places":["wash"],"machines":[` + good + `]}`:                                      "file.type",
		`{"machines":[` + good + `],"weather":"wet"}`:                                        "file.unknown_word",
		machine(strings.Replace(good, `"who":["tobias"]`, `"who":"tobias"`, 1)):              "file.type",
		machine(strings.Replace(good, `"who":["tobias"]`, `"who":[null]`, 1)):                "file.type",
		machine(`{"id":"a","who":["t"],"jobs":[` + strings.Repeat(job+`,`, 60) + job + `]}`): "evening.too_many_jobs",
	} {
		_, err := Read([]byte(text))
		var refused *record.Refused
		if !errors.As(err, &refused) || string(refused.Reason.Rule) != rule {
			t.Errorf("%s: %v, want %s", text, err, rule)
		}
	}
	for _, text := range []string{machine(good), `{"places":{"pit":2},"machines":[` + strings.Replace(good, `"minutes":4`, `"minutes":4,"place":"pit"`, 1) + `]}`,
		machine(strings.Replace(good, `"minutes":4`, `"minutes":4,"place":null`, 1)), machine(strings.Replace(good, `"tobias"`, `"tobias","tobias"`, 1))} {
		if _, err := Read([]byte(text)); err != nil {
			t.Errorf("%s: %v", text, err)
		}
	}
}

// TestSomebodyWithNothingToDo counts from their first minute, and is no part of closing.
func TestSomebodyWithNothingToDo(t *testing.T) {
	e, err := Read([]byte(`{"people":[{"id":"tobias"},{"id":"ruth","from":90}],"machines":[{"id":"verger","who":["tobias"],"jobs":[{"id":"air","minutes":0.25}]}]}`))
	if err != nil {
		t.Fatal(err)
	}
	if p := Make(e); p.Close != 0.25 || math.Abs(p.GoingHome-90.25) > 1e-9 || !p.Exact || p.InOrder != 0.25 {
		t.Errorf("%+v", p)
	}
}
