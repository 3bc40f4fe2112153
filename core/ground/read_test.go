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
		{"bank", slope(`{},"conditions":["steep"]`), "file.unknown_word"}, {"bank", slope(`{},"conditions":["soft","soft"]`), "file.twice"},
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

// TestWhatAFileSays: everything that stands in a file is taken as it stands there, and what
// is left out has its usual value.
func TestWhatAFileSays(t *testing.T) {
	bank, err := ReadBank([]byte(`{"readings":[{"kind":"rise_run","rise":1,"run":5,"u":{"rise":0.1,"run":0.2}}],"needed":3,"reverse_test":"failed",
		"slope":{"tiers":[{"when":{"deck":"wide"},"limit":9},{"limit":15,"never_above":18}],"wet":[{"limit":6}],"off":{"soft":4,"towing":"flat"},"direction":"across"},
		"options":{"deck":"narrow"},"conditions":["soft"],"practised":true}`))
	if err != nil || bank.Needed != 3 || !bank.ReverseFailed || bank.Direction != Across || *bank.Limits != (Limits{11, 14}) {
		t.Errorf("%+v %+v %v", bank, bank.Limits, err)
	}
	if r := bank.Readings[0]; r != (Reading{ByRiseRun, Measured{1, 0.1}, Measured{5, 0.2}}) {
		t.Errorf("%+v", r)
	}
	if bank, err = ReadBank([]byte(`{"readings":[{"kind":"percent","percent":9,"u":{"percent":0}}],"reverse_test":"passed","limit":15}`)); err != nil || bank.Needed != Needs || bank.ReverseFailed || *bank.Limits != (Limits{15, 15}) {
		t.Errorf("%+v %v", bank, err)
	}
	if bank, err = ReadBank([]byte(`{"readings":[{"kind":"percent","percent":9,"u":{"percent":0}}],"slope":{"tiers":[{"limit":15}],"wet":[{"limit":6}],"direction":"any"},"conditions":["wet"],"practised":true}`)); err != nil || *bank.Limits != (Limits{6, 6}) {
		t.Errorf("%+v %v", bank.Limits, err)
	}
	tow, err := ReadTow([]byte(`{"trailer":{"mass":350,"u":{"mass":2},"gross":1500},"vehicle":{"rating":1800},"machines":[{"mass":480,"u":{"mass":10}}],"tongue":{"load":105,"u":{"load":5}},"tongue_percent":[8,20]}`))
	if err != nil || tow.Low != 0.08 || tow.High != 0.2 || *tow.Tongue != (Measured{105, 5}) || tow.Trailer != (Measured{350, 2}) || tow.Machines[0] != (Measured{480, 10}) {
		t.Errorf("%+v %v", tow, err)
	}
	if got := tow.Judge(); got.Mass != 830 || got.GrossMargin != 658 || got.RatingMargin != 958 {
		t.Errorf("%+v", got)
	}
	if _, err := ReadTow([]byte(`{"trailer":{"mass":350,"u":{"mass":2},"gross":1500},"vehicle":{"rating":1800},"machines":[],"tongue_percent":[8,100.5]}`)); err == nil {
		t.Error("a tongue of more than all")
	}
	straps, err := ReadStraps([]byte(`{"mass":480,"u":{"mass":10},"ridden":true,"share":0.8,"straps":[{"load":500,"angle":45,"u":{"angle":5},"end":"rear","cut":true}]}`))
	if err != nil || straps.Share != 0.8 || !straps.Ridden || straps.Mass != (Measured{480, 10}) || *straps.Straps[0].Angle != (Measured{45, 5}) || !straps.Straps[0].Cut || straps.Straps[0].End != Rear {
		t.Errorf("%+v %v", straps, err)
	}
	for _, bad := range []string{`{"mass":480,"u":{"mass":10},"ridden":true}`, `{"mass":480,"u":{"mass":10},"ridden":true,"straps":[],"strap":1}`} {
		if _, err := ReadStraps([]byte(bad)); err == nil {
			t.Errorf("%s was read", bad)
		}
	}
	ramp, err := ReadRamp([]byte(`{"height":0.6,"length":2.5,"width":1.6,"u":{"height":0.01,"length":0.02,"width":0.03},"limit":15,"machine_width":1.2}`))
	if err != nil || ramp != (Ramp{Measured{0.6, 0.01}, Measured{2.5, 0.02}, Measured{1.6, 0.03}, 15, 1.2, RampMargin}) {
		t.Errorf("%+v %v", ramp, err)
	}
	if _, err := ReadBridge([]byte(`{"height":3,"u":{"height":0},"bridges":[],"legal":4,"margins":1}`)); err == nil {
		t.Error("an unknown word was read")
	}
	bridge, err := ReadBridge([]byte(`{"height":3,"u":{"height":0.1},"bridges":[4,5],"legal":4.2}`))
	if err != nil || bridge.Height != (Measured{3, 0.1}) || bridge.Margin != BridgeMargin || len(bridge.Bridges) != 2 || bridge.Legal != 4.2 {
		t.Errorf("%+v %v", bridge, err)
	}
}
