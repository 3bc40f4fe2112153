package ground

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"vespers/core/record"
)

// TestFilesThatCannotBeUsed: what is missing, unknown, twice, negative or none where it
// cannot be is refused by its rule.
func TestFilesThatCannotBeUsed(t *testing.T) {
	const (
		angle = `{"kind":"angle","angle":13,"u":{"angle":1}}`
		drop  = `{"kind":"drop","drop":0.2,"length":1.2,"u":{"drop":0,"length":0}}`
		ramp  = `{"height":0.6,"length":2.5,"width":1.6,"u":{"height":0,"length":0,"width":0},"limit":15,"machine_width":1.2}`
		load  = `{"height":3,"u":{"height":0},"bridges":[4],"legal":4}`
		tow   = `{"trailer":{"mass":350,"u":{"mass":0},"gross":1500},"vehicle":{"rating":1800},"machines":[{"mass":480,"u":{"mass":10}}]}`
		held  = `{"mass":480,"u":{"mass":10},"ridden":true,"straps":[{"load":500,"angle":45,"u":{"angle":5},"end":"front"}]}`
	)
	bank := func(reading string) string { return `{"readings":[` + reading + `]}` }
	with := func(more string) string { return `{"readings":[` + angle + `],` + more + `}` }
	slope := func(s string) string { return with(`"slope":` + s) }
	read := map[string]func([]byte) error{
		"bank":   func(b []byte) error { _, err := ReadBank(b); return err },
		"ramp":   func(b []byte) error { _, err := ReadRamp(b); return err },
		"bridge": func(b []byte) error { _, err := ReadBridge(b); return err },
		"tow":    func(b []byte) error { _, err := ReadTow(b); return err },
		"straps": func(b []byte) error { _, err := ReadStraps(b); return err },
	}
	for i, c := range []struct{ of, text, want string }{
		{"bank", bank(angle + "," + drop), ""}, {"ramp", ramp, ""}, {"bridge", load, ""}, {"tow", tow, ""}, {"straps", held, ""},
		{"bank", ``, "file.json"}, {"bank", `[]`, "file.type"}, {"bank", `{}`, "file.nothing"}, {"bank", bank(``), "file.nothing"}, {"bank", bank(`3`), "file.type"},
		{"bank", bank(`{"kind":"eye","angle":3}`), "file.unknown_word"}, {"bank", bank(`{"angle":3,"u":{"angle":1}}`), "file.missing"},
		{"bank", bank(`{"kind":"angle","angle":13}`), "file.missing"}, {"bank", bank(`{"kind":"angle","angle":13,"u":{}}`), "file.missing"},
		{"bank", bank(`{"kind":"angle","angle":-1,"u":{"angle":1}}`), "file.number"}, {"bank", bank(`{"kind":"angle","angle":1,"u":{"angle":-1}}`), "file.number"},
		{"bank", bank(`{"kind":"angle","angle":"13","u":{"angle":1}}`), "file.type"}, {"bank", bank(`{"kind":"angle","angle":89,"u":{"angle":1}}`), "ground.reading_says_nothing"},
		{"bank", bank(`{"kind":"percent","percent":9,"drop":1,"u":{"percent":1}}`), "file.unknown_word"},
		{"bank", bank(strings.Replace(drop, `"length":1.2`, `"length":0`, 1)), "file.number"}, {"bank", bank(strings.Replace(drop, `"length":0}`, `"length":1.2}`, 1)), "ground.reading_says_nothing"},
		{"bank", bank(strings.Replace(drop, `"drop":0,"length":0`, `"drop":0`, 1)), "file.missing"},
		{"bank", with(`"needed":1.5`), "file.number"}, {"bank", with(`"needed":"2"`), "file.type"}, {"bank", with(`"reverse_test":"no"`), "file.unknown_word"},
		{"bank", with(`"limit":15,"never_above":14`), "ground.never_above_less"}, {"bank", with(`"never_above":14`), "file.missing"}, {"bank", with(`"limit":-1`), "file.number"},
		{"bank", with(`"limit":15,"conditions":["wet"]`), "ground.only_with_slope"}, {"bank", with(`"practised":true`), "ground.only_with_slope"},
		{"bank", with(`"limit":15,"slope":{}`), "ground.limit_and_slope"}, {"bank", with(`"Limit":15`), "file.unknown_word"},
		{"bank", slope(`{}`), ""}, {"bank", slope(`{"direction":"down"}`), "file.unknown_word"}, {"bank", slope(`{"tiers":[{"never_above":8}]}`), "file.missing"},
		{"bank", slope(`{"tiers":[{"limit":8,"never_above":7}]}`), "ground.never_above_less"}, {"bank", slope(`{"off":{"wet":3}}`), "file.unknown_word"},
		{"bank", slope(`{"off":{"soft":"less"}}`), "file.type"}, {"bank", slope(`{"off":{"soft":"flat"}}`), ""}, {"bank", slope(`{"off":{"soft":-1}}`), "file.number"},
		{"bank", slope(`{},"conditions":["steep"]`), "file.unknown_word"}, {"bank", slope(`{},"conditions":["soft","soft"]`), "ground.condition_twice"},
		{"bank", slope(`{},"practised":1`), "file.type"}, {"bank", slope(`{},"options":{"deck":3}`), "file.type"}, {"bank", slope(`{},"restrictions":[3]`), "file.type"},
		{"ramp", strings.Replace(ramp, `"machine_width":1.2`, `"machine_width":0`, 1), "file.number"}, {"ramp", strings.Replace(ramp, `"limit":15,`, ``, 1), "file.missing"},
		{"ramp", strings.Replace(ramp, `,"width":0}`, `}`, 1), "file.missing"}, {"ramp", strings.Replace(ramp, `"limit":15`, `"limit":15,"margin":-1`, 1), "file.number"},
		{"bridge", strings.Replace(load, `"bridges":[4],`, ``, 1), "file.missing"}, {"bridge", strings.Replace(load, `[4]`, `[]`, 1), ""}, {"bridge", strings.Replace(load, `[4]`, `[0]`, 1), "file.number"}, {"bridge", strings.Replace(load, `[4]`, `["4"]`, 1), "file.type"},
		{"tow", strings.Replace(tow, `"gross":1500`, `"gross":0`, 1), "file.number"}, {"tow", strings.Replace(tow, `"mass":10`, `"mass":900`, 1), "ground.doubt_of_all"},
		{"tow", strings.Replace(tow, `{"trailer"`, `{"tongue":{"load":9},"trailer"`, 1), "file.missing"}, {"tow", strings.Replace(tow, `{"trailer"`, `{"tongue":{},"trailer"`, 1), ""},
		{"tow", strings.Replace(tow, `{"trailer"`, `{"tongue_percent":[15,10],"trailer"`, 1), "ground.tongue_percent"}, {"tow", strings.Replace(tow, `{"trailer"`, `{"tongue_percent":[15],"trailer"`, 1), "ground.tongue_percent"},
		{"straps", strings.Replace(held, `"ridden":true,`, ``, 1), "file.missing"}, {"straps", strings.Replace(held, `"angle":45`, `"angle":91`, 1), "ground.strap_angle"},
		{"straps", strings.Replace(held, `"front"`, `"side"`, 1), "file.unknown_word"}, {"straps", strings.Replace(held, `"u":{"angle":5},`, ``, 1), "file.missing"}, {"straps", strings.Replace(held, `"load":500`, `"load":0`, 1), "file.number"},
	} {
		err := read[c.of]([]byte(c.text))
		got := ""
		var refused *record.Refused
		if errors.As(err, &refused) {
			got = string(refused.Reason.Rule)
		}
		if err != nil && got == "" || got != c.want {
			t.Errorf("%d %s %s: %v, want %q", i, c.of, c.text, cmpOr(got, fmt.Sprint(err)), c.want)
		}
	}
}

func cmpOr(a, b string) string {
	if a != "" {
		return a
	}
	return b
}
