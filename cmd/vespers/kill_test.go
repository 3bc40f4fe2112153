package main_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/demo"
	"vespers/store"
)

// built is where the real binary is, once a test has asked for it.
var built = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "vespers-built-")
	if err != nil {
		return "", err
	}
	out, err := exec.Command("go", "build", "-o", filepath.Join(dir, "vespers"), ".").CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("%w\n%s", err, out)
	}
	return filepath.Join(dir, "vespers"), nil
})

// TestMain takes the binary away again.
func TestMain(m *testing.M) {
	status := m.Run()
	if bin, err := built(); err == nil {
		os.RemoveAll(filepath.Dir(bin))
	}
	os.Exit(status)
}

// program is the real binary, built once.
func program(t *testing.T) string {
	t.Helper()
	bin, err := built()
	if err != nil {
		t.Fatal(err)
	}
	return bin
}

// run starts a server and waits for its address.
func run(t *testing.T, bin string, args ...string) (*exec.Cmd, string) {
	t.Helper()
	c := exec.Command(bin, args...)
	out, err := c.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := c.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { c.Process.Kill(); c.Wait() })
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if i := strings.Index(lines.Text(), "http://"); i >= 0 {
			go io.Copy(io.Discard, out)
			return c, strings.TrimSpace(lines.Text()[i:])
		}
	}
	t.Fatal("the server said no address")
	return nil, ""
}

// TestKilledInAStreamOfAnswers kills the real server while answers stream in,
// starts it again, and finds every answer that was said to be saved, once.
func TestKilledInAStreamOfAnswers(t *testing.T) {
	bin := program(t)
	file := filepath.Join(t.TempDir(), "yard.vespers")
	args := []string{"demo", "--db", file, "--addr", "127.0.0.1:0"}
	server, address := run(t, bin, args...)

	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 5 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	post := func(path string, form url.Values) (saved bool) {
		r, _ := http.NewRequest("POST", address+path, strings.NewReader(form.Encode()))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Accept", "application/json")
		response, err := client.Do(r)
		if err != nil {
			return false
		}
		defer response.Body.Close()
		var body struct{ Saved bool }
		_ = json.NewDecoder(response.Body).Decode(&body)
		return body.Saved
	}
	post("/sign-in/ines", url.Values{"pin": {demo.PINs()["ines"]}})
	if !post("/machines/verger/outing", url.Values{"id": {"kill-start-1"}, "both": {"yes"}}) {
		t.Fatal("no outing begun")
	}
	o := "/outings/o-kill-start-1"
	post(o+"/ready", url.Values{"id": {"kill-ready-1"}, "fit": {"yes"}, "option[verger.discharge]": {"chute"}})

	// The belt is answered and corrected, over and over, as fast as it goes;
	// the server is killed in the middle.
	go func() {
		time.Sleep(700 * time.Millisecond)
		server.Process.Kill()
	}()
	var acknowledged []string
	last := ""
	for n := range 100_000 {
		id := fmt.Sprintf("kill-%06d", n)
		form := url.Values{"id": {id}, "machine": {"verger"}, "check": {"seat_belt"}, "answer": {"sound"}}
		if last != "" {
			form.Set("supersedes", last)
		}
		if !post(o+"/answer", form) {
			break
		}
		acknowledged = append(acknowledged, id)
		last = id
	}
	server.Wait()
	if len(acknowledged) < 5 {
		t.Fatalf("only %d answers before the kill: the test shows nothing", len(acknowledged))
	}

	_, address = run(t, bin, args...)
	s, err := store.Open(context.Background(), file)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if r, err := s.Verify(context.Background()); err != nil || len(r.Problems) > 0 {
		t.Fatalf("%v %v", r.Problems, err)
	}
	out, err := s.Outing(context.Background(), "o-kill-start-1")
	if err != nil {
		t.Fatal(err)
	}
	times := map[string]int{}
	for _, g := range out.Units[0].Given("seat_belt", "") {
		times[g.Meta.ID]++
	}
	for _, id := range acknowledged {
		if times[id] != 1 {
			t.Errorf("%s was saved and is there %d times", id, times[id])
		}
	}
	if extra := len(times) - len(acknowledged); extra > 1 {
		t.Errorf("%d answers that were never acknowledged", extra)
	}
	// The walk goes on where it was: same session, same next point.
	left := out.Units[0].Left(machine.Cold)
	response, err := client.Get(address + o + "/walk")
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	page, _ := io.ReadAll(response.Body)
	if response.StatusCode != http.StatusOK || !strings.Contains(string(page), `value="`+left[0].ID+`"`) {
		t.Errorf("after the restart: %d, %s is not asked", response.StatusCode, left[0].ID)
	}
	t.Logf("%d answers acknowledged before the kill", len(acknowledged))
}

func TestBackupAndRestore(t *testing.T) {
	bin := program(t)
	dir := t.TempDir()
	file, backup, restored := filepath.Join(dir, "yard"), filepath.Join(dir, "backup"), filepath.Join(dir, "restored")
	run(t, bin, "demo", "--db", file, "--addr", "127.0.0.1:0")
	command := func(args ...string) (string, error) {
		out, err := exec.Command(bin, args...).CombinedOutput()
		return string(out), err
	}
	if out, err := command("backup", "--db", file, backup); err != nil {
		t.Fatal(out)
	}
	if out, err := command("backup", "--db", file, backup); err == nil {
		t.Errorf("a backup overwrote another: %s", out)
	}
	if out, err := command("restore", backup, "--db", file); err == nil || !strings.Contains(out, "nothing was changed") {
		t.Errorf("restored over a yard in use: %s", out)
	}
	if out, err := command("restore", backup, "--db", restored); err != nil {
		t.Fatal(out)
	}
	was, err := command("verify", "--db", file)
	if err != nil {
		t.Fatal(was)
	}
	if is, err := command("verify", "--db", restored); err != nil || is != was {
		t.Errorf("restored: %s, was: %s", is, was)
	}
	if err := os.WriteFile(filepath.Join(dir, "torn"), []byte("SQLite format 3\x00 and nothing else"), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := command("restore", filepath.Join(dir, "torn"), "--db", filepath.Join(dir, "new")); err == nil {
		t.Errorf("a torn backup was restored: %s", out)
	}
}

func TestSheetCommands(t *testing.T) {
	bin := program(t)
	out, err := exec.Command(bin, "sheet", "check", "../../catalogue/sheets/brackwing.yaml").CombinedOutput()
	if err != nil || !strings.Contains(string(out), "brackwing") {
		t.Errorf("%v: %s", err, out)
	}
	bad := filepath.Join(t.TempDir(), "bad.yaml")
	if err := os.WriteFile(bad, []byte("format: vespers/sheet/2\nkits: [engine_of_dreams]\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err = exec.Command(bin, "--lang", "es", "sheet", "check", bad).CombinedOutput()
	if exit, ok := err.(*exec.ExitError); !ok || exit.ExitCode() != 2 || !strings.Contains(string(out), "bad.yaml:2") || !strings.Contains(string(out), "No hay juego") {
		t.Errorf("%v: %s", err, out)
	}
	out, err = exec.Command(bin, "interlock", "plan", "../../catalogue/sheets/brackwing.yaml", "--option", "deck=wide", "--json").CombinedOutput()
	var plan struct {
		Tests      []any
		TestsExact bool `json:"tests_exact"`
		Start      map[string]bool
	}
	if err != nil || json.Unmarshal(out, &plan) != nil || len(plan.Tests) != 9 || !plan.TestsExact || !plan.Start["brake"] {
		t.Errorf("%v: %s", err, out)
	}
	// The boom is tested on its tractor; alone it says so, with the line.
	tractor, boom := "../../catalogue/sheets/hollin_tractor.yaml", "../../catalogue/sheets/hollin_boom.yaml"
	out, err = exec.Command(bin, "interlock", "plan", tractor, "--with", boom, "--json").CombinedOutput()
	if err != nil || json.Unmarshal(out, &plan) != nil || len(plan.Tests) != 9 {
		t.Errorf("%v: %s", err, out)
	}
	out, err = exec.Command(bin, "interlock", "plan", boom).CombinedOutput()
	if exit, ok := err.(*exec.ExitError); !ok || exit.ExitCode() != 2 || !strings.Contains(string(out), "--with") || !strings.Contains(string(out), "hollin_boom.yaml:") {
		t.Errorf("%v: %s", err, out)
	}
	tests := filepath.Join(t.TempDir(), "tests.json")
	if err := os.WriteFile(tests, []byte(`[{"kind":"engage","permit":"boom","from":{"pto_off":false},"to":{"pto_off":false,"stick_still":false}}]`), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err = exec.Command(bin, "interlock", "coverage", tractor, "--with", boom, "--tests", tests, "--json").CombinedOutput()
	if err != nil || !strings.Contains(string(out), `"master_off:broken"`) {
		t.Errorf("%v: %s", err, out)
	}
	out, err = exec.Command(bin, "interlock", "diagnose", tractor, "--with", boom, "--results", tests, "--json").CombinedOutput()
	if exit, ok := err.(*exec.ExitError); !ok || exit.ExitCode() != 2 { // a test without what was seen is no result
		t.Errorf("%v: %s", err, out)
	}
}
