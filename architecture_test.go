package vespers_test

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode/utf8"

	"vespers/core/machine"
)

// floors is the house from the ground up: a package imports only what stands on
// a lower floor, its tests too; only tests of the core may use all of the core.
var floors = [][]string{
	{"core/unit"},
	{"core/text"},
	{"core/record", "core/machine", "core/trend"},
	{"core/machine/machinetest"},
	{"core/strict", "core/plane"},
	{"core/walk", "core/interlock", "core/procedure", "core/fuel", "core/defect", "core/operator", "core/own", "core/reel", "core/evening", "core/ground", "core/assign"},
	{"core/inspect", "core/round", "core/grade"},
	{"core/outing"},
	{"core/outing/outingtest"},
	{"core/review"},
	{"core/yard"},
	{"draw"},
	{"catalogue"},
	{"say", "photo"},
	{"tell"},
	{"store/projector"},
	{"store"},
	{"outside", "standin"},
	{"export"},
	{"demo"},
	{"storetest"},
	{"web/page"},
	{"web/signin", "web/yard", "web/outings", "web/defects", "web/bench", "web/wall", "web/day", "web/vespers", "web/muster", "web/ground", "web/calendar", "web/outside", "web/paper", "web/people", "web/care", "web/house", "web/find", "web/models"},
	{"web"},
	{"cmd/vespers", "cmd/bench", "scripts/mutants"},
}

func floor(pkg string) int {
	return slices.IndexFunc(floors, func(f []string) bool { return slices.Contains(f, pkg) })
}

// sources calls see with every Go file.
func sources(t *testing.T, see func(path string, imports []string)) {
	t.Helper()
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git") {
			return filepath.SkipDir
		}
		if !strings.HasSuffix(path, ".go") || !strings.Contains(path, "/") {
			return nil
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		var imports []string
		for _, i := range f.Imports {
			name, err := strconv.Unquote(i.Path.Value)
			if err != nil {
				return err
			}
			imports = append(imports, name)
		}
		see(path, imports)
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}

func TestImportsGoDownOnly(t *testing.T) {
	sources(t, func(path string, imports []string) {
		own := filepath.ToSlash(filepath.Dir(path))
		mine := floor(own)
		if mine < 0 {
			t.Errorf("%s stands on no floor", path)
		}
		for _, i := range imports {
			inside, ok := strings.CutPrefix(i, "vespers/")
			if strings.HasSuffix(path, "_test.go") && strings.HasPrefix(own, "core/") && strings.HasPrefix(inside, "core/") {
				continue
			}
			if at := floor(inside); ok && inside != own && (at < 0 || at >= mine) {
				t.Errorf("%s imports %s, which is not below it", path, i)
			}
		}
	})
}

// TestFilesSayWhatTheyAreFor before anything else.
func TestFilesSayWhatTheyAreFor(t *testing.T) {
	sources(t, func(path string, _ []string) {
		if strings.HasSuffix(path, "_test.go") {
			return
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ParseComments)
		if err != nil {
			t.Fatal(err)
		}
		first := f.End()
		if len(f.Decls) > 0 {
			first = f.Decls[0].Pos()
		}
		if len(f.Comments) == 0 || f.Comments[0].Pos() > first {
			t.Errorf("%s does not say what it is for", path)
		}
	})
	for _, pattern := range []string{"web/static/app/*.js", "web/static/styles/*.css", "scripts/*.mjs", "e2e/*.mjs"} {
		paths, err := filepath.Glob(pattern)
		if err != nil || len(paths) == 0 {
			t.Errorf("%s: %d files, %v", pattern, len(paths), err)
		}
		for _, path := range paths {
			data, err := os.ReadFile(path)
			if err != nil {
				t.Fatal(err)
			}
			if s := string(data); !strings.HasPrefix(s, "// ") && !strings.HasPrefix(s, "/* ") {
				t.Errorf("%s does not say what it is for", path)
			}
		}
	}
}

// TestNothingTypedIsCut: a field keeps what was typed or the server refuses it
// with the reason; a field that stops taking letters does neither.
func TestNothingTypedIsCut(t *testing.T) {
	for _, path := range templates(t) {
		data, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		if strings.Contains(string(data), "maxlength") {
			t.Errorf("%s cuts what is typed", path)
		}
	}
}

// TestOnePackageKnowsTheFramework: changing the web framework is a matter of one
// package.
func TestOnePackageKnowsTheFramework(t *testing.T) {
	sources(t, func(path string, imports []string) {
		for _, i := range imports {
			if strings.Contains(i, "gin-gonic") || strings.Contains(i, "gin-contrib") {
				if filepath.ToSlash(filepath.Dir(path)) != "web/page" {
					t.Errorf("%s imports %s", path, i)
				}
			}
		}
	})
}

// outside is what the core must not touch: it gets time, chance and data as
// arguments. A table that is compiled in is a part of it like any literal: nothing is read
// when it runs.
var outside = regexp.MustCompile(`^(os|net|io/ioutil|database|math/rand|crypto/rand|log|html|syscall|unsafe|runtime)(/|$)`)

func TestCoreStandsAlone(t *testing.T) {
	clock := regexp.MustCompile(`\btime\.(Now|Since|Until|Sleep|After|Tick|NewTimer|NewTicker)\b`)
	sources(t, func(path string, imports []string) {
		if !strings.HasPrefix(path, "core/") || strings.HasSuffix(path, "_test.go") || strings.HasSuffix(filepath.Dir(path), "test") {
			return // tests and what they share may read their own fixtures
		}
		for _, i := range imports {
			if outside.MatchString(i) || strings.Contains(strings.Split(i, "/")[0], ".") {
				t.Errorf("%s imports %s", path, i)
			}
		}
		data, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		if m := clock.Find(data); m != nil {
			t.Errorf("%s looks at the clock: %s", path, m)
		}
	})
}

func TestCoreCompilesForTheBrowser(t *testing.T) {
	build := exec.Command("go", "build", "./core/...")
	build.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	if out, err := build.CombinedOutput(); err != nil {
		t.Errorf("%v\n%s", err, out)
	}
}

// templates are the pages' own.
func templates(t *testing.T) []string {
	t.Helper()
	files, err := filepath.Glob("web/*/templates/*.html")
	if err != nil || len(files) < 20 {
		t.Fatalf("%d templates, %v", len(files), err)
	}
	return files
}

// eachLine calls see with every line of some files.
func eachLine(t *testing.T, files []string, see func(at string, line string)) {
	t.Helper()
	for _, f := range files {
		data, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		for n, line := range strings.Split(string(data), "\n") {
			see(f+":"+strconv.Itoa(n+1), line)
		}
	}
}

// TestNoInlineStyleOrScript: the content policy allows neither.
func TestNoInlineStyleOrScript(t *testing.T) {
	inline := regexp.MustCompile(`(?i)\sstyle\s*=|<style|\son[a-z]+\s*=\s*"|javascript:`)
	eachLine(t, templates(t), func(at, line string) {
		if m := inline.FindString(line); m != "" {
			t.Errorf("%s: %s", at, m)
		}
	})
}

// TestTemplatesCanBeRead: one element a line, so that a change can be reviewed.
func TestTemplatesCanBeRead(t *testing.T) {
	eachLine(t, templates(t), func(at, line string) {
		if n := utf8.RuneCountInString(line); n > 160 {
			t.Errorf("%s: %d characters", at, n)
		}
	})
}

// TestNoRuleOutsideTheCore looks for rules of the job where they do not belong:
// queries that compare times, hours or grades with anything but what they are
// given, and scripts that know grades, permits or limits.
func TestNoRuleOutsideTheCore(t *testing.T) {
	var queries []string
	for _, pattern := range []string{"store/*.go", "store/projector/*.go"} {
		files, err := filepath.Glob(pattern)
		if err != nil {
			t.Fatal(err)
		}
		queries = append(queries, files...)
	}
	rule := regexp.MustCompile(`(?i)(grade|outcome)\s*(=|<>|IN)\s*\(?'(sound|watch|mend|clear|refused)'|\b(mend_at|mend_hours|worked|reaches|hours)\s*[<>]=?\s*[1-9:?@]`)
	eachLine(t, queries, func(at, line string) {
		if m := rule.FindString(line); m != "" {
			t.Errorf("%s decides by itself: %s", at, m)
		}
	})
	scripts, err := filepath.Glob("web/static/app/*.js")
	if err != nil || len(scripts) < 8 {
		t.Fatalf("%d scripts, %v", len(scripts), err)
	}
	word := regexp.MustCompile(`(?i)\b(halt|mend|watch|permit|latch|interlock|grade|deadline|limit(?:s)?\b.*[<>])`)
	eachLine(t, scripts, func(at, line string) {
		code, _, _ := strings.Cut(line, "//")
		if m := word.FindString(code); m != "" {
			t.Errorf("%s knows of the job: %s", at, m)
		}
	})
}

// TestPublishedWords: the list in docs is the list of the code, both ways.
func TestPublishedWords(t *testing.T) {
	data, err := os.ReadFile("docs/uses-and-restrictions.md")
	if err != nil {
		t.Fatal(err)
	}
	uses, restrictions, found := strings.Cut(string(data), "## Restrictions")
	if !found {
		t.Fatal("the list has no section Restrictions")
	}
	listed := func(section string) (out []string) {
		for _, m := range regexp.MustCompile("(?m)^\\| `([a-z_]+)` \\|").FindAllStringSubmatch(section, -1) {
			out = append(out, m[1])
		}
		return out
	}
	if got := listed(uses); !slices.Equal(got, machine.Uses()) {
		t.Errorf("uses listed: %v", got)
	}
	var want []string
	for _, r := range machine.Restrictions() {
		want = append(want, string(r))
	}
	if got := listed(restrictions); !slices.Equal(got, want) {
		t.Errorf("restrictions listed: %v", got)
	}
}

func TestVendoredFilesAreThePackagesOfTheLockFile(t *testing.T) {
	var list []struct{ File, Package, Version, SHA256 string }
	read(t, "web/static/vendor/vendor.json", &list)
	var lock struct {
		Packages map[string]struct{ Version string }
	}
	read(t, "package-lock.json", &lock)
	listed := map[string]bool{"vendor.json": true}
	for _, v := range list {
		listed[v.File] = true
		if locked := lock.Packages["node_modules/"+v.Package].Version; locked != v.Version {
			t.Errorf("%s is from %s %s; the lock file has %s (npm run vendor)", v.File, v.Package, v.Version, locked)
		}
		data, err := os.ReadFile("web/static/vendor/" + v.File)
		if err != nil {
			t.Fatal(err)
		}
		if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != v.SHA256 {
			t.Errorf("%s was changed by hand", v.File)
		}
	}
	files, err := os.ReadDir("web/static/vendor")
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		if !listed[f.Name()] {
			t.Errorf("%s is from no package", f.Name())
		}
	}
}

func read(t *testing.T, path string, into any) {
	t.Helper()
	data, err := os.ReadFile(path)
	if err == nil {
		err = json.Unmarshal(data, into)
	}
	if err != nil {
		t.Fatal(err)
	}
}
