package vespers_test

import (
	"bytes"
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

	"vespers/core/machine"
)

// floors is the house from the ground up: a package imports only what stands
// on a lower floor, or on its own.
var floors = []string{"core", "draw", "catalogue", "say", "photo", "store", "demo", "web", "cmd"}

func floor(pkg string) int {
	for i, f := range floors {
		if pkg == f || strings.HasPrefix(pkg, f+"/") {
			return i
		}
	}
	return -1
}

// sources calls see with every Go file that is not a test.
func sources(t *testing.T, see func(path string, imports []string)) {
	t.Helper()
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git") {
			return filepath.SkipDir
		}
		if !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
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
		mine := floor(filepath.ToSlash(filepath.Dir(path)))
		if mine < 0 {
			t.Errorf("%s stands on no floor", path)
		}
		for _, i := range imports {
			if inside, ok := strings.CutPrefix(i, "vespers/"); ok && floor(inside) > mine {
				t.Errorf("%s imports %s, which is above it", path, i)
			}
		}
	})
}

// outside is what the core must not touch: it gets time, chance and data as
// arguments.
var outside = regexp.MustCompile(`^(os|net|io/ioutil|database|math/rand|crypto/rand|log|html|syscall|unsafe|embed|runtime)(/|$)`)

func TestCoreStandsAlone(t *testing.T) {
	clock := regexp.MustCompile(`\btime\.(Now|Since|Until|Sleep|After|Tick|NewTimer|NewTicker)\b`)
	sources(t, func(path string, imports []string) {
		if floor(filepath.ToSlash(filepath.Dir(path))) != 0 {
			return
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

// TestNoInlineStyleOrScript: the content policy allows neither.
func TestNoInlineStyleOrScript(t *testing.T) {
	inline := regexp.MustCompile(`(?i)\sstyle\s*=|<style|\son[a-z]+\s*=\s*"|javascript:`)
	files, err := filepath.Glob("web/templates/*.html")
	if err != nil || len(files) == 0 {
		t.Fatal("no templates", err)
	}
	for _, f := range files {
		data, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		if m := inline.Find(data); m != nil {
			t.Errorf("%s: %s", f, bytes.TrimSpace(m))
		}
	}
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
