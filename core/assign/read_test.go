package assign

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vespers/core/record"
)

const morning = `{"window":[0,480],"zones":[{"id":"lawn","at":[0,-5],"priority":3,"deadline":300,"quiet":[[120,180],[20,40]]},{"id":"pond","at":[200,0]}],
"operators":[{"id":"tobias","from":15}],"machines":[{"id":"verger","at":[0,0],"km_h":10,"from":20}],"may":[{"operator":"tobias","machine":"verger","zone":"lawn","minutes":30}]}`

func TestRead(t *testing.T) {
	p, err := Read([]byte(morning))
	if err != nil {
		t.Fatal(err)
	}
	z := p.Zones[0]
	if p.From != 0 || p.To != 480 || z.Priority != 3 || z.Deadline != 300 || z.Quiet[0] != [2]float64{20, 40} || z.At.Y != -5 {
		t.Errorf("%+v", p)
	}
	if o := p.Zones[1]; o.Priority != 1 || !math.IsInf(o.Deadline, 1) || len(o.Quiet) > 0 {
		t.Errorf("left out: %+v", o)
	}
	if p.Operators[0].From != 15 || p.Machines[0].From != 20 || p.Machines[0].Speed != 10 || p.Minutes[0][0][0] != 30 || p.Minutes[0][0][1] != 0 {
		t.Errorf("%+v", p)
	}
}

// TestProblemsThatCannotBeUsed changes one thing of a sound one.
func TestProblemsThatCannotBeUsed(t *testing.T) {
	long := `"zones":[` + strings.Repeat(`{"id":"x","at":[0,0]},`, listMost) + `{"id":"y","at":[0,0]},`
	for name, c := range map[string]struct{ was, is, rule string }{
		"an unknown word":         {`"window"`, `"shift"`, "file.unknown_word"},
		"no window":               {`"window":[0,480],`, ``, "file.missing"},
		"a window of one":         {`[0,480]`, `[0]`, "assign.window"},
		"a window that ends":      {`[0,480]`, `[480,0]`, "assign.window"},
		"a window of nothing":     {`[0,480]`, `[480,480]`, "assign.window"},
		"a window before it all":  {`[0,480]`, `[-1,480]`, "assign.window"},
		"words":                   {`[0,480]`, `["0",480]`, "file.type"},
		"no zones":                {`"zones"`, `"zone"`, "file.unknown_word"},
		"no operators":            {`"operators":[{"id":"tobias","from":15}],`, ``, "file.missing"},
		"no place":                {`,"at":[200,0]`, ``, "file.missing"},
		"half a place":            {`[200,0]`, `[200]`, "assign.place"},
		"no priority":             {`"priority":3`, `"priority":0`, "file.number"},
		"a deadline below 0":      {`"deadline":300`, `"deadline":-1`, "file.number"},
		"a quiet time of nothing": {`[20,40]`, `[40,40]`, "assign.window"},
		"a zone twice":            {`"id":"pond"`, `"id":"lawn"`, "file.twice"},
		"no id":                   {`"id":"pond",`, ``, "file.missing"},
		"no speed":                {`"km_h":10`, `"km_h":0`, "file.number"},
		"somebody unknown":        {`"operator":"tobias"`, `"operator":"ines"`, "file.unknown_word"},
		"an unknown machine":      {`"machine":"verger"`, `"machine":"beadle"`, "file.unknown_word"},
		"an unknown zone":         {`"zone":"lawn"`, `"zone":"lake"`, "file.unknown_word"},
		"no minutes":              {`"minutes":30`, `"minutes":0`, "file.number"},
		"the same twice":          {`"may":[`, `"may":[{"operator":"tobias","machine":"verger","zone":"lawn","minutes":9},`, "file.twice"},
		"nothing said of it":      {`,"may":[{"operator":"tobias","machine":"verger","zone":"lawn","minutes":30}]`, ``, "file.missing"},
		"too many":                {`"zones":[`, long, "assign.too_many"},
	} {
		if !strings.Contains(morning, c.was) {
			t.Fatalf("%s: no %s", name, c.was)
		}
		_, err := Read([]byte(strings.Replace(morning, c.was, c.is, 1)))
		var refused *record.Refused
		if !errors.As(err, &refused) || string(refused.Reason.Rule) != c.rule {
			t.Errorf("%s: %v, not %s", name, err, c.rule)
		}
	}
}
