// Mutants changes the core in small wrong ways, one at a time, and counts how
// many of them its tests notice. It is not part of "make test": a change takes
// as long as the tests that have to find it.
//
//	go run ./scripts/mutants [-n 30] [-seed 1] [package...]
package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// mutant is one wrong change: bytes of a file replaced by others.
type mutant struct {
	file     string
	from, to int // offsets
	with     string
	what     string
	line     int
}

// opposites are the operators that take each other's place.
var opposites = map[token.Token]token.Token{
	token.EQL: token.NEQ, token.NEQ: token.EQL,
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR,
	token.LAND: token.LOR, token.LOR: token.LAND,
	token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO, token.QUO: token.MUL,
}

func main() {
	n := flag.Int("n", 30, "how many mutants a package")
	seed := flag.Int64("seed", 1, "which of them")
	own := flag.Bool("own", false, "run a package's own tests only")
	flag.Parse()
	packages := flag.Args()
	if len(packages) == 0 {
		packages = core()
	}
	worst := 100
	for _, pkg := range packages {
		all := mutants(pkg)
		rand.New(rand.NewSource(*seed)).Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		all = all[:min(*n, len(all))]
		survived := survivors(pkg, all, *own)
		killed := len(all) - len(survived)
		rate := 100
		if len(all) > 0 {
			rate = 100 * killed / len(all)
		}
		worst = min(worst, rate)
		fmt.Printf("%-20s %3d of %3d killed, %d %%\n", pkg, killed, len(all), rate)
		for _, m := range survived {
			fmt.Printf("  %s:%d %s\n", m.file, m.line, m.what)
		}
	}
	if worst < 85 {
		os.Exit(1)
	}
}

// core lists the packages of the core that are not helpers of tests.
func core() []string {
	found, err := filepath.Glob("core/*")
	if err != nil {
		panic(err)
	}
	return found
}

// mutants lists every change of a package's files.
func mutants(pkg string) []mutant {
	var out []mutant
	files, err := filepath.Glob(pkg + "/*.go")
	if err != nil {
		panic(err)
	}
	for _, file := range files {
		if strings.HasSuffix(file, "_test.go") {
			continue
		}
		set := token.NewFileSet()
		tree, err := parser.ParseFile(set, file, nil, 0)
		if err != nil {
			panic(err)
		}
		source, err := os.ReadFile(file)
		if err != nil {
			panic(err)
		}
		at := func(p token.Pos) int { return set.Position(p).Offset }
		add := func(n ast.Node, from, to int, with, what string) {
			out = append(out, mutant{file, from, to, with, what, set.Position(n.Pos()).Line})
		}
		said := func(n ast.Node) string { return string(source[at(n.Pos()):at(n.End())]) }
		for _, d := range tree.Decls {
			f, ok := d.(*ast.FuncDecl)
			if !ok || f.Body == nil {
				continue
			}
			ast.Inspect(f.Body, func(n ast.Node) bool {
				switch n := n.(type) {
				case *ast.BinaryExpr:
					if other, ok := opposites[n.Op]; ok && !texts(n) {
						add(n, at(n.OpPos), at(n.OpPos)+len(n.Op.String()), other.String(), fmt.Sprintf("%q: %s becomes %s", said(n), n.Op, other))
					}
				case *ast.IfStmt:
					add(n.Cond, at(n.Cond.Pos()), at(n.Cond.End()), "!("+said(n.Cond)+")", fmt.Sprintf("%q negated", said(n.Cond)))
				case *ast.BasicLit:
					if v, err := strconv.Atoi(n.Value); n.Kind == token.INT && err == nil {
						add(n, at(n.Pos()), at(n.End()), strconv.Itoa(v+1), fmt.Sprintf("%d becomes %d", v, v+1))
					}
				case *ast.Ident:
					if n.Name == "true" || n.Name == "false" {
						add(n, at(n.Pos()), at(n.End()), map[string]string{"true": "false", "false": "true"}[n.Name], n.Name+" turned round")
					}
				case *ast.BlockStmt:
					for _, s := range n.List {
						if dropped(s) {
							add(s, at(s.Pos()), at(s.End()), "", fmt.Sprintf("%q dropped", said(s)))
						}
					}
				}
				return true
			})
		}
	}
	return out
}

// texts: adding texts has no opposite.
func texts(e *ast.BinaryExpr) bool {
	for _, side := range []ast.Expr{e.X, e.Y} {
		switch side := side.(type) {
		case *ast.BasicLit:
			if side.Kind == token.STRING {
				return e.Op == token.ADD
			}
		case *ast.BinaryExpr:
			if texts(side) {
				return true
			}
		}
	}
	return false
}

// dropped are statements that can be left out and still compile, mostly.
func dropped(s ast.Stmt) bool {
	switch s := s.(type) {
	case *ast.AssignStmt:
		return s.Tok != token.DEFINE
	case *ast.ExprStmt, *ast.IncDecStmt:
		return true
	case *ast.BranchStmt:
		return s.Tok == token.CONTINUE
	}
	return false
}

// survivors runs the tests on each mutant, and gives those that nothing noticed.
// One that does not compile is no mutant and counts as noticed by the compiler.
func survivors(pkg string, all []mutant, own bool) []mutant {
	var mu sync.Mutex
	var out []mutant
	var wait sync.WaitGroup
	room := make(chan struct{}, runtime.NumCPU())
	for _, m := range all {
		wait.Add(1)
		go func() {
			defer wait.Done()
			room <- struct{}{}
			defer func() { <-room }()
			if lives(m, "./"+pkg) && (own || lives(m, users(pkg)...)) {
				mu.Lock()
				out = append(out, m)
				mu.Unlock()
			}
		}()
	}
	wait.Wait()
	slices.SortFunc(out, func(a, b mutant) int {
		return strings.Compare(fmt.Sprintf("%s %05d", a.file, a.line), fmt.Sprintf("%s %05d", b.file, b.line))
	})
	return out
}

// users lists the packages of the core that use a package: their tests notice
// too what is wrong in it.
func users(pkg string) []string {
	out, err := exec.Command("go", "list", "-test", "-f", `{{if not .ForTest}}{{.ImportPath}} {{join .Imports " "}} {{join .TestImports " "}} {{join .XTestImports " "}}{{end}}`, "./core/...").Output()
	if err != nil {
		panic(err)
	}
	var using []string
	for _, line := range strings.Split(string(out), "\n") {
		if names := strings.Fields(line); len(names) > 1 && slices.Contains(names[1:], "vespers/"+pkg) && !strings.HasSuffix(names[0], ".test") {
			using = append(using, names[0])
		}
	}
	return using
}

// lives reports whether the tests of packages pass on a mutant.
func lives(m mutant, packages ...string) bool {
	if len(packages) == 0 {
		return true
	}
	dir, err := os.MkdirTemp("", "mutant")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	source, err := os.ReadFile(m.file)
	if err != nil {
		panic(err)
	}
	changed := filepath.Join(dir, "changed.go")
	data := append(append(slices.Clone(source[:m.from]), m.with...), source[m.to:]...)
	absolute, err := filepath.Abs(m.file)
	if err != nil {
		panic(err)
	}
	overlay, err := json.Marshal(map[string]any{"Replace": map[string]string{absolute: changed}})
	if err != nil {
		panic(err)
	}
	if err := os.WriteFile(changed, data, 0o600); err != nil {
		panic(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "overlay.json"), overlay, 0o600); err != nil {
		panic(err)
	}
	test := exec.Command("go", append([]string{"test", "-failfast", "-timeout", "60s", "-overlay", filepath.Join(dir, "overlay.json")}, packages...)...)
	return test.Run() == nil
}
