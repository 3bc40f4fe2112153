package main_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

const small = `sheet: glebe
hazards: [{id: folded_running, when: bar == folded && engine == running, harm: crushed, source: house_rule, text: {en: Folded, es: Plegado}}]
power: petrol
fitted: [bar]
procedure: [{id: rest, value: 2, unit: min, source: house_rule}, {id: tea, value: 9, unit: s, source: manual}]
options: {roll_bar: [fixed, folding]}
procedures:
  fuel:
    begin: {engine: off}
    steps:
      - {id: key, do: {en: Key out, es: Llave fuera}, makes: {key: out}}
      - {id: here, do: {en: Here?, es: ¿Aquí?}, answer: yes_no, makes: {place: outdoors, level: yes, ignition: none}, no: {then: stop}}
      - {id: cool, do: {en: Cool, es: Enfríe}, answer: wait, wait: {parameter: rest, since: {engine: off}}, makes: {metal: cool}}
      - {id: fold, if: {has: roll_bar, value: folding}, do: {en: Fold, es: Pliegue}, makes: {bar: folded}}
      - {id: open, do: {en: Open, es: Abra}, needs: {metal: cool, key: out, place: [outdoors]}, makes: {cap: open}}
      - {id: shut, do: {en: Shut, es: Cierre}, makes: {cap: shut}}
events:
  fire: {after: halt, accepts: [away_key], steps: [{id: away, do: {en: Away, es: Aléjese}, makes: {person: away}}]}
`

// TestProcedureCommands: a file with procedures alone is checked and planned; what is
// reached gives status 1, what cannot be used 2, with file and line.
func TestProcedureCommands(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	write := func(name, body string) string {
		t.Helper()
		file := filepath.Join(dir, name)
		if err := os.WriteFile(file, []byte(body), 0o600); err != nil {
			t.Fatal(err)
		}
		return file
	}
	type report struct {
		Sheet   string
		States  int
		Hazards []struct {
			ID             string
			Applies, Holds bool
			Path, Guards   []string
			Without        []string `json:"without_guards"`
		}
		DeadEnds     []struct{ At string } `json:"dead_ends"`
		NeverReached []string              `json:"never_reached"`
		Complete     bool
	}
	check := func(file string) (r report, status int) {
		t.Helper()
		out, status := output(t, bin, "procedure", "check", file, "--json")
		if err := json.Unmarshal([]byte(out), &r); err != nil {
			t.Fatalf("%v, status %d: %s", err, status, out)
		}
		return r, status
	}
	good := write("good.yaml", small)
	r, status := check(good)
	if status != 0 || r.Sheet != "glebe" || !r.Complete || len(r.DeadEnds) != 0 || r.DeadEnds == nil || r.NeverReached == nil {
		t.Fatalf("status %d: %+v", status, r)
	}
	applies := 0
	for _, h := range r.Hazards {
		if h.Applies {
			applies++
			if len(h.Guards) == 0 || len(h.Without) == 0 {
				t.Errorf("%+v", h)
			}
		}
	}
	if applies < 5 || len(r.Hazards) < 50 {
		t.Errorf("%d of %d hazards apply", applies, len(r.Hazards))
	}
	r, status = check(write("hot.yaml", strings.Replace(small, "metal: cool, key", "key", 1)))
	reached := slices.IndexFunc(r.Hazards, func(h struct {
		ID             string
		Applies, Holds bool
		Path, Guards   []string
		Without        []string `json:"without_guards"`
	}) bool {
		return h.ID == "cap_hot"
	})
	if h := r.Hazards[reached]; status != 1 || h.Holds || h.Path[len(h.Path)-1] != "fuel/open=done" {
		t.Errorf("status %d, %+v", status, h)
	}
	for change, says := range map[[2]string]string{
		{"key: out}}", "cutter: off}}"}:                  "cutter",
		{"then: stop", "then: back:open"}:                "open",
		{"needs: {metal", "wants: {metal"}:               "wants",
		{"es: Abra}", "fr: Ouvrez}"}:                     "/procedures/fuel/steps/open/do",
		{"source: house_rule", "source: the pub"}:        "source",
		{"value: 2", "value: 0"}:                         "rest",
		{"procedures:\n  fuel:", "procedures:\n  brew:"}: "brew",
		{"value: 9", "value: 0"}:                         "tea",
		{"unit: s,", "unit: m,"}:                         "tea",
		{"sheet: glebe", "sheep: glebe"}:                 "sheep",
		{"power: petrol", "power: steam"}:                "power",
		{"value: folding", "value: flapping"}:            "flapping",
		{"id: shut", "id: open"}:                         "open",
		{"makes: {cap: shut}", "makes: {walk: passed}"}:  "walk",
	} {
		file := write("bad.yaml", strings.Replace(small, change[0], change[1], 1))
		out, status := output(t, bin, "procedure", "check", file)
		if status != 2 || !strings.Contains(out, "bad.yaml:") || !strings.Contains(out, says) {
			t.Errorf("%v: status %d: %s", change, status, out)
		}
	}

	var plan struct {
		Steps []struct {
			Procedure, ID, Answer string
			Needs                 map[string]any
			Makes                 map[string]string
			Wait                  *float64 `json:"wait_s"`
		}
		Seconds, Waiting float64
	}
	given := write("given.json", `{"facts":{"key":"out"},"since":{"engine=off":30},"options":{"roll_bar":"folding"}}`)
	out, status := output(t, bin, "procedure", "plan", good, "--do", "fuel", "--given", given, "--json")
	if err := json.Unmarshal([]byte(out), &plan); err != nil || status != 0 || len(plan.Steps) != 5 || *plan.Steps[1].Wait != 75 || plan.Steps[2].ID != "fold" || plan.Steps[3].Needs["metal"] != "cool" {
		t.Errorf("%v %d %s", err, status, out)
	}
	seated := write("seated.json", `{"facts":{"person":"in_place"}}`)
	if out, status := output(t, bin, "procedure", "plan", good, "--do", "event:fire", "--given", seated); status != 0 || !strings.Contains(out, "Away") {
		t.Errorf("%d %s", status, out)
	}
	running := write("running.json", `{"facts":{"engine":"running"}}`)
	if out, status := output(t, bin, "procedure", "plan", good, "--do", "fuel", "--given", running, "--json"); status != 1 || !strings.Contains(out, `"impossible": "fuel"`) || !strings.Contains(out, `"steps": []`) {
		t.Errorf("%d %s", status, out)
	}
	for _, args := range [][]string{{"--do", "brew"}, {"--do", "fuel", "--given", write("odd.json", `{"facts":{"engine":"purring"}}`)}, {"--do", "fuel", "--given", write("more.json", `{"fact":{}}`)}} {
		if out, status := output(t, bin, append([]string{"procedure", "plan", good}, args...)...); status != 2 {
			t.Errorf("%v: %d %s", args, status, out)
		}
	}
	if _, status := output(t, bin, "procedure", "check", good, "--all"); status != 2 {
		t.Error("a sheet and all of them at once")
	}
	published, err := os.ReadFile("../../docs/facts.md")
	if out, _ := output(t, bin, "procedure", "facts"); err != nil || out != string(published) {
		t.Errorf("docs/facts.md is not what the code says (%v); run: go run ./cmd/vespers procedure facts > docs/facts.md", err)
	}
}

// TestTheTableOfMachines is what the sheets say.
func TestTheTableOfMachines(t *testing.T) {
	published, err := os.ReadFile("../../docs/machines.md")
	if out, _ := output(t, program(t), "sheet", "table"); err != nil || out != string(published) {
		t.Errorf("docs/machines.md is not what the sheets say (%v); run: go run ./cmd/vespers sheet table > docs/machines.md", err)
	}
}

// TestFuelCommands: a day's need and a mix, as JSON and in words; what cannot be
// gives status 2, a total that cannot be reached 1 with the smallest that can.
func TestFuelCommands(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	for _, c := range []struct {
		what, file string
		status     int
		says       string
	}{
		{"need", `{"burn":3,"hours":4,"reserve":2,"in_tank":8,"usable":20}`, 0, `"litres": 6`},
		{"need", `{"burn":3,"hours":-4,"usable":20}`, 2, "hours"},
		{"need", `{"burn":3,"litres":4}`, 2, "litres"},
		{"mix", `{"total":5.1,"ratio":50}`, 0, `"petrol": 5`},
		{"mix", `{"in":2.6,"at":25,"total":3,"ratio":50}`, 1, "5.100 l"},
		{"mix", `{"total":5,"ratio":0}`, 2, "ratio"},
		{"mix", `{"total":"five","ratio":50}`, 2, "total"},
	} {
		file := filepath.Join(dir, "fuel.json")
		if err := os.WriteFile(file, []byte(c.file), 0o600); err != nil {
			t.Fatal(err)
		}
		if out, status := output(t, bin, "fuel", c.what, file, "--json"); status != c.status || !strings.Contains(out, c.says) {
			t.Errorf("%s %s: %d %s", c.what, c.file, status, out)
		}
	}
}
