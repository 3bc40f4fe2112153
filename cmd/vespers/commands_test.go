package main_test

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// output runs the program and gives its exit status.
func output(t *testing.T, bin string, args ...string) (string, int) {
	t.Helper()
	c := exec.Command(bin, args...)
	out, err := c.CombinedOutput()
	if exit, ok := err.(*exec.ExitError); ok {
		return string(out), exit.ExitCode()
	}
	if err != nil {
		t.Fatal(err)
	}
	return string(out), 0
}

func TestWalkPlanCommand(t *testing.T) {
	bin, sheet := program(t), "../../catalogue/sheets/tarnwood_chipper.yaml"
	type report struct {
		Stops []struct {
			Do, ID, At, Setting, To string
		}
		Metres, Seconds float64
		Walking         float64 `json:"walking_seconds"`
		Changes         int
		Exact           bool
		AtLeast         float64 `json:"at_least_seconds"`
		SheetOrder      float64 `json:"sheet_order_seconds"`
		Later           []string
	}
	plan := func(args ...string) (r report) {
		t.Helper()
		out, status := output(t, bin, append([]string{"walk", "plan", sheet, "--json"}, args...)...)
		if err := json.Unmarshal([]byte(out), &r); err != nil || status != 0 {
			t.Fatalf("%v, status %d: %s", err, status, out)
		}
		return r
	}
	whole := plan()
	if !whole.Exact || whole.AtLeast != whole.Seconds || whole.Changes != 2 || whole.SheetOrder < whole.Seconds || len(whole.Later) != 0 {
		t.Errorf("%+v", whole)
	}
	for _, s := range whole.Stops {
		if s.Do == "set" && (s.Setting != "hood" || s.ID != "hood" || s.To == "") || s.Do == "check" && s.Setting != "" {
			t.Errorf("%+v", s)
		}
	}
	if hot := plan("--hot", "10"); len(hot.Later) != 2 || len(hot.Stops) != len(whole.Stops)-2 {
		t.Errorf("ten minutes after work %v wait, %d stops", hot.Later, len(hot.Stops))
	}
	if warm := plan("--hot", "25"); len(warm.Later) != 1 {
		t.Errorf("after 25 minutes %v wait", warm.Later)
	}
	if pause := plan("--break"); len(pause.Stops) == 0 || len(pause.Stops) > 5 {
		t.Errorf("at a break: %d stops", len(pause.Stops))
	}
	if from := plan("--start", "rear"); from.Stops[0].At != "rear" {
		t.Errorf("from behind it begins at %s", from.Stops[0].At)
	}
	if out, status := output(t, bin, "walk", "plan", sheet, "--start", "moon"); status != 2 || !strings.Contains(out, "hitch") {
		t.Errorf("from the moon: %d %s", status, out)
	}
	if out, status := output(t, bin, "walk", "plan", sheet); status != 0 || !strings.Contains(out, "changes") || !strings.Contains(out, "Knives") {
		t.Errorf("in words: %d %s", status, out)
	}
	if out, _ := output(t, bin, "--lang", "es", "walk", "plan", sheet); !strings.Contains(out, "Cuchillas") {
		t.Errorf("in Spanish: %s", out)
	}
}

func TestSheetDrawCommand(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	all := filepath.Join(dir, "all.svg")
	if out, status := output(t, bin, "sheet", "draw", "--all", all); status != 0 {
		t.Fatal(out)
	}
	svg, err := os.ReadFile(all)
	if err != nil || !strings.HasPrefix(string(svg), "<svg") || !strings.Contains(string(svg), "Tarnwood 190") || !strings.Contains(string(svg), "Fernhollow 45") {
		t.Errorf("%v, %d bytes", err, len(svg))
	}
	one := filepath.Join(dir, "one.svg")
	if out, status := output(t, bin, "sheet", "draw", "../../catalogue/sheets/fernhollow_saw.yaml", "--out", one); status != 0 {
		t.Error(out)
	}
	if _, status := output(t, bin, "sheet", "draw"); status == 0 {
		t.Error("drew nothing, and was content")
	}
}

func TestDemoBeginsAtATimeOfDay(t *testing.T) {
	bin := program(t)
	if out, status := output(t, bin, "demo", "--db", filepath.Join(t.TempDir(), "y"), "--time", "breakfast"); status == 0 || !strings.Contains(out, "07:40") {
		t.Errorf("at breakfast: %d %s", status, out)
	}
	run(t, bin, "demo", "--db", filepath.Join(t.TempDir(), "y"), "--addr", "127.0.0.1:0", "--time", "07:40")
}

func TestInterlockCommands(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	file := func(name, content string) string {
		t.Helper()
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	section := file("section.yaml", `interlock:
  switches: [{id: seat}, {id: brake}]
  permits:
    - {id: start, kind: start, when: brake}
    - {id: run, kind: run, when: seat || brake}
  never:
    - "!seat && !brake"
`)
	var plan struct {
		Tests          []map[string]any
		TestsExact     bool `json:"tests_exact"`
		Movements      int
		MovementsExact bool `json:"movements_exact"`
		Dangerous      []string
		Uncatchable    []struct{ Fault, Reason string }
		Pairs          struct{ All, Caught int }
	}
	out, status := output(t, bin, "interlock", "plan", section, "--json")
	if err := json.Unmarshal([]byte(out), &plan); err != nil || status != 0 {
		t.Fatalf("%v, status %d: %s", err, status, out)
	}
	// The brake is shown by a refusal; what shows the seat is never allowed.
	if len(plan.Tests) != 1 || !plan.TestsExact || !plan.MovementsExact || plan.Movements != 1 || strings.Join(plan.Dangerous, " ") != "seat:made brake:made start:on run:on" ||
		len(plan.Uncatchable) != 2 || plan.Uncatchable[0].Fault != "seat:made" || plan.Uncatchable[0].Reason != "forbidden" || plan.Pairs.All != 1 || plan.Pairs.Caught != 1 {
		t.Errorf("%+v", plan)
	}
	tests := file("tests.json", out) // a plan is a list of tests too
	out, status = output(t, bin, "interlock", "coverage", section, "--tests", tests, "--json")
	if status != 0 || !strings.Contains(strings.Join(strings.Fields(out), ""), `"caught":["brake:made","start:on"],"missed":["seat:made","run:on"]`) {
		t.Errorf("status %d: %s", status, out)
	}
	results := file("results.json", `[
  {"kind": "refusal", "permit": "start", "from": null, "to": {"brake": false}, "observed": true}
]`)
	out, status = output(t, bin, "interlock", "diagnose", section, "--results", results, "--json")
	if status != 0 || !strings.Contains(strings.Join(strings.Fields(out), ""), `"suspects":[["brake:made"],["start:on"]],"next":null`) {
		t.Errorf("status %d: %s", status, out)
	}
	none := file("none.yaml", "interlock:\n  none: {en: no powered motion, es: sin movimiento}\n")
	if out, status = output(t, bin, "interlock", "plan", none, "--json"); status != 0 || !strings.Contains(out, `"tests": []`) {
		t.Errorf("status %d: %s", status, out)
	}
	for name, test := range map[string]struct {
		args []string
		says string
	}{
		"no legal result":   {[]string{"diagnose", section, "--results", file("a.json", "[\n\n{\"kind\":\"refusal\",\"permit\":\"start\",\"to\":{},\"observed\":true}]")}, "a.json:3: error: Test 1"},
		"observed at from":  {[]string{"diagnose", section, "--results", file("b.json", `[{"kind":"refusal","permit":"start","to":{"brake":false},"at_from":true,"observed":true}]`)}, "b.json:1: error"},
		"an unknown field":  {[]string{"coverage", section, "--tests", file("c.json", `[{"kind":"refusal","permt":"start"}]`)}, "c.json:1: error"},
		"broken off":        {[]string{"coverage", section, "--tests", file("d.json", "{\"tests\":\n[{")}, "d.json:2: error"},
		"no list":           {[]string{"coverage", section, "--tests", file("e.json", `{"plan":[]}`)}, "e.json:1: error"},
		"unknown switch":    {[]string{"plan", file("f.yaml", "interlock:\n  switches: [{id: a}]\n  permits:\n    - {id: run, kind: run, when: b}\n")}, "f.yaml:4: error"},
		"bad position":      {[]string{"plan", file("g.yaml", "interlock:\n  switches:\n    - {id: a, rest: half}\n  permits:\n    - {id: run, kind: run, when: a}\n")}, "g.yaml:3: error"},
		"no legal required": {[]string{"plan", file("h.yaml", "interlock:\n  switches: [{id: a}]\n  permits:\n    - {id: run, kind: run, when: a}\n  required:\n    - {kind: engine_stop, permit: run, from: {a: false}, to: {a: true}}\n")}, "h.yaml:6: error"},
	} {
		t.Run(name, func(t *testing.T) {
			out, status := output(t, bin, append([]string{"interlock"}, test.args...)...)
			if status != 2 || !strings.Contains(out, test.says) {
				t.Errorf("%s: status %d: %s", name, status, out)
			}
		})
	}
}

// TestAWrongCommandLine says so on the error output, with status 2.
func TestAWrongCommandLine(t *testing.T) {
	bin := program(t)
	for _, args := range [][]string{{"serve", "--bogus"}, {"dance"}, {}, {"verify", "one", "two"}} {
		c := exec.Command(bin, args...)
		var wrong strings.Builder
		c.Stderr = &wrong
		out, err := c.Output()
		if c.ProcessState.ExitCode() != 2 || len(out) > 0 || !strings.Contains(wrong.String(), "--help") {
			t.Errorf("%v: %v, %q, %q", args, err, out, wrong.String())
		}
	}
	if out, status := output(t, bin, "--version"); status != 0 || !strings.HasPrefix(out, "vespers ") {
		t.Errorf("%d %q", status, out)
	}
}

// TestSheetsAreShownAndAdded: kits say what they bring and demand, a sheet is printed as it
// is computed with and is a sheet again, and is added to a yard without a build.
func TestSheetsAreShownAndAdded(t *testing.T) {
	bin, boom := program(t), "../../catalogue/sheets/hollin_boom.yaml"
	for name, c := range map[string]struct {
		args   []string
		status int
		says   []string
	}{
		"all kits":           {[]string{"sheet", "kits"}, 0, []string{"rotary_deck", "tow_hitch", "demands places"}},
		"one kit":            {[]string{"sheet", "kits", "rotary_deck"}, 0, []string{"brings options: discharge", "demands settings: lead", "demands places: deck_under, front"}},
		"no such kit":        {[]string{"sheet", "kits", "rotary"}, 2, []string{"rotary_deck"}},
		"as it is by itself": {[]string{"sheet", "resolve", boom}, 0, []string{"- id: flails", "limit: 10"}},
		"with options":       {[]string{"sheet", "resolve", boom, "--option", "head=rotary", "--option", "counterweight=off"}, 0, []string{"- id: head_blades", "limit: 4"}},
		"no such option":     {[]string{"sheet", "resolve", boom, "--option", "tail=long"}, 2, []string{"tail", "head, counterweight"}},
		"no such way":        {[]string{"sheet", "resolve", boom, "--option", "head=comb"}, 2, []string{"comb", "flail, rotary"}},
		"a walk with it":     {[]string{"walk", "plan", boom, "--option", "head=rotary"}, 0, []string{"Blades, bolts and roll pins"}},
		"a walk without":     {[]string{"walk", "plan", boom}, 0, []string{"Knives, pins and rotor"}},
		"a walk with none":   {[]string{"walk", "plan", boom, "--option", "head=comb"}, 2, []string{"flail, rotary"}},
	} {
		t.Run(name, func(t *testing.T) {
			out, status := output(t, bin, c.args...)
			if status != c.status {
				t.Errorf("status %d: %s", status, out)
			}
			for _, want := range c.says {
				if !strings.Contains(out, want) {
					t.Errorf("no %q in %.400s", want, out)
				}
			}
		})
	}
	dir := t.TempDir()
	out, _ := output(t, bin, "sheet", "resolve", boom, "--option", "head=rotary")
	if strings.Contains(out, "flails") || strings.Contains(out, "if:") {
		t.Error("what belongs to another way is printed")
	}
	own := filepath.Join(dir, "own.yaml")
	if err := os.WriteFile(own, []byte(strings.Replace(out, "id: hollin_boom", "id: our_boom", 1)), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, status := output(t, bin, "sheet", "check", own); status != 0 {
		t.Fatalf("what was printed is no sheet: %s", out)
	}
	yard := filepath.Join(dir, "yard")
	if out, status := output(t, bin, "large-yard", "--db", yard, "--days", "1"); status != 0 {
		t.Fatal(out)
	}
	if out, status := output(t, bin, "sheet", "add", "--db", yard, own); status != 0 || !strings.Contains(out, "our_boom") {
		t.Errorf("not added: %d %s", status, out)
	}
	bad := filepath.Join(dir, "bad.yaml")
	if err := os.WriteFile(bad, []byte(strings.Replace(out, "limit: 10", "limit: 150", 1)), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, status := output(t, bin, "sheet", "add", "--db", yard, bad); status != 2 || !strings.Contains(out, "/uses/slope/limit") {
		t.Errorf("a slope of 150° was added: %d %s", status, out)
	}
}

// TestEveningPlan: a plan as JSON with what the file left out, in words in Spanish, and
// status 2 with a reason for what cannot be read.
func TestEveningPlan(t *testing.T) {
	bin := program(t)
	file := filepath.Join(t.TempDir(), "evening.json")
	write := func(text string) {
		if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write(`{"machines":[{"id":"verger","cool":15,"who":["tobias"],"jobs":[{"id":"air","minutes":4},{"id":"wash","minutes":8,"place":"wash","cool":true}]}]}`)
	want := `{"close_min":23,"at_least_min":23,"exact":true,"going_home_sum_min":23,"jobs":[{"machine":"verger","job":"air","who":"tobias","place":null,"start":0,"end":4},{"machine":"verger","job":"wash","who":"tobias","place":"wash","start":15,"end":23}],"in_order_of_arrival_min":23}`
	out, status := output(t, bin, "evening", "plan", file, "--json")
	if plain := strings.NewReplacer(" ", "", "\n", "").Replace(out); status != 0 || plain != want {
		t.Errorf("%d: %s", status, plain)
	}
	if out, status = output(t, bin, "evening", "plan", file, "--lang", "es"); status != 0 || !strings.Contains(out, "Ningún plan cierra antes.") {
		t.Errorf("%d: %s", status, out)
	}
	write(`{"machines":[]}`)
	if out, status = output(t, bin, "evening", "plan", file); status != 2 || !strings.Contains(out, "machines: there is none") {
		t.Errorf("%d: %s", status, out)
	}
}

// TestGroundCommands: verdicts as JSON and in words, status 0 whatever they are; 2 with a
// reason for what cannot be used.
func TestGroundCommands(t *testing.T) {
	const lawn = `{"type":"FeatureCollection","vespers":{"coordinates":"local","u":0},"features":[
{"type":"Feature","id":"lawn","geometry":{"type":"Polygon","coordinates":[[[0,0],[10,0],[20,0],[20,10],[0,10],[0,0]]]},"properties":{"kind":"zone","surface":"rough","work":"mow"}},
{"type":"Feature","id":"way","geometry":{"type":"Point","coordinates":[5,15]},"properties":{"kind":"thing","thing":"path"}}]}`
	const morning = `{"window":[0,60],"zones":[{"id":"lawn","at":[0,0]},{"id":"pond","at":[90,0]}],"operators":[{"id":"tobias"}],"machines":[{"id":"verger","at":[0,0],"km_h":10}],"may":[{"operator":"tobias","machine":"verger","zone":"lawn","minutes":30}]}`
	bin := program(t)
	file, crew := filepath.Join(t.TempDir(), "ground.json"), filepath.Join(t.TempDir(), "crew.json")
	if err := os.WriteFile(crew, []byte(`{"machines":[{"id":"verger","released":true,"does":["mow"],"width_m":1,"exclusion_m":9}],"people":[{"id":"tobias","machines":["verger"]}]}`), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		what, text, lang string
		status           int
		says             string
	}{
		{"slope", `{"readings":[{"kind":"percent","percent":15,"u":{"percent":0}}],"limit":15}`, "", 0, `"worst_deg":8.53`},
		{"slope", `{"readings":[{"kind":"percent","percent":15,"u":{"percent":0}}]}`, "", 0, `"limit_deg":null`},
		{"slope", `{"readings":[{"kind":"angle","angle":16,"u":{"angle":1}}],"limit":15,"reverse_test":"failed"}`, "", 0, `"because":["slope","reverse_test"]`},
		{"slope", `{"readings":[{"kind":"angle","angle":16,"u":{"angle":1}}],"limit":15}`, "es", 0, "Así no: demasiada pendiente."},
		{"slope", `{"readings":[{"kind":"angle","angle":16,"u":{"angle":1}}],"limit":15,"never_above":20}`, "en", 0, "with the lead’s word"},
		{"slope", `{"readings":[]}`, "en", 2, "readings: there is none"},
		{"ramp", `{"height":0.6,"length":2,"width":1.6,"u":{"height":0,"length":0,"width":0},"limit":15,"machine_width":1.2}`, "", 0, `"needed_m":2.4`},
		{"bridge", `{"height":3.9,"u":{"height":0},"bridges":[],"legal":4}`, "", 0, `"lowest_m":null,`},
		{"tow", `{"trailer":{"mass":350,"u":{"mass":0},"gross":1500},"vehicle":{"rating":300},"machines":[]}`, "", 0, `"tongue_percent":null,"allowed":false,"because":["rating","tongue_unknown"]`},
		{"straps", `{"mass":480,"u":{"mass":10},"ridden":false,"straps":[]}`, "en", 0, "too few straps in front"},
		{"straps", `{"mass":480}`, "es", 2, "ground.json: "},
		{"zones", lawn, "", 0, `{"zones":[{"zone":"lawn","area_m2":200,"worst_deg":null,"few":true,"verdicts":[{"machine":"verger","operator":"tobias","allowed":false,"watch":false,` +
			`"because":["slope_unknown","use:near_public"],"keep":[],"limit_deg":3,"left_m2":200,"out":[],"near":[{"id":"way","kind":"path","m":5}],"near_public":true,"minutes":null,"litres":null}]}]}`},
		{"zones", lawn, "en", 0, "verger: 200 m² of it\n    way, a path: 5 m from where it works.\n    tobias: Not so: nobody has measured how steep it is; not for places with people near."},
		{"zones", lawn, "es", 0, "way, un sendero: a 5 m de donde trabaja."},
		{"zones", strings.Replace(lawn, "[20,10]", "[10,10]", 1), "en", 0, "lawn, 150 m²"},
		{"zones", strings.Replace(lawn, "[20,10]", "[5,-10]", 1), "es", 2, "se cruza"},
		{"assign", morning, "", 0, `{"plan":[{"zone":"lawn","operator":"tobias","machine":"verger","start_min":0,"end_min":30}],"priority":1,"last_end_min":30,"sum_ends_min":30,"exact":true,"at_most_priority":1,"left":["pond"]}`},
		{"assign", morning, "es", 0, "lawn: tobias con verger, del minuto 0 al 30\npond: nadie"},
		{"assign", strings.Replace(morning, "[0,60]", "[60,0]", 1), "en", 2, "window is two numbers"},
	} {
		if err := os.WriteFile(file, []byte(c.text), 0o600); err != nil {
			t.Fatal(err)
		}
		args := []string{"ground", c.what, file, "--json"}
		if c.lang != "" {
			args = []string{"--lang", c.lang, "ground", c.what, file}
		}
		if c.what == "zones" {
			args = append(args, "--with", crew)
		}
		out, status := output(t, bin, args...)
		if c.lang == "" {
			out = strings.NewReplacer(" ", "", "\n", "").Replace(out)
		}
		if status != c.status || !strings.Contains(out, c.says) {
			t.Errorf("%s %s: %d %s", c.what, c.text, status, out)
		}
	}
}
