// Package catalogue reads machine sheets: YAML files made of kits and
// overrides, checked and resolved into the core's types. The sheets that ship
// with the program are embedded.
package catalogue

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strings"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/text"
)

//go:embed kits/*.yaml sheets/*.yaml
var embedded embed.FS

// Resolved is a sheet with the hash of its content, under which it is stored.
type Resolved struct {
	Sheet *machine.Sheet
	Hash  string
	Body  []byte // the JSON that was hashed
}

// Resolve makes the stored form of a sheet.
func Resolve(s *machine.Sheet) (Resolved, error) {
	body, err := json.Marshal(s)
	if err != nil {
		return Resolved{}, err
	}
	sum := sha256.Sum256(body)
	return Resolved{Sheet: s, Hash: hex.EncodeToString(sum[:16]), Body: body}, nil
}

// FormatOne is the first form of sheets: what a procedure needs was a list of
// numbers called after it.
const FormatOne = "vespers/sheet/1"

// Decode reads a stored sheet back, of any format there ever was. One that a
// newer program wrote is not guessed at.
func Decode(body []byte) (*machine.Sheet, error) {
	var s machine.Sheet
	if err := json.Unmarshal(body, &s); err != nil {
		return nil, err
	}
	switch s.Format {
	case machine.Format:
		if s.Starter == "recoil" && len(s.Interlock.Starting) > 0 {
			s.Interlock.Starting[0].By = "cord" // as it was said before
		}
		return &s, nil
	case FormatOne:
		var old struct {
			Procedure []machine.Parameter `json:"procedure"`
		}
		err := json.Unmarshal(body, &old)
		s.Numbers = old.Procedure
		return &s, err
	}
	return nil, fmt.Errorf("catalogue: sheet %s is of format %q, which is not known here", s.ID, s.Format)
}

// Fingerprint tells editions of the embedded catalogue apart without reading
// what is in it.
func Fingerprint() (string, error) {
	h := sha256.New()
	err := fs.WalkDir(embedded, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := embedded.ReadFile(name)
		fmt.Fprintf(h, "%s %d\n", name, len(data))
		h.Write(data)
		return err
	})
	return machine.Format + " " + hex.EncodeToString(h.Sum(nil)[:16]), err
}

// All resolves every sheet that ships with the program, by id.
func All() ([]Resolved, error) {
	files, err := fs.Glob(embedded, "sheets/*.yaml")
	if err != nil {
		return nil, err
	}
	sort.Strings(files)
	var out []Resolved
	for _, file := range files {
		data, err := embedded.ReadFile(file)
		if err != nil {
			return nil, err
		}
		sheet, problems := Check(file, data)
		if sheet == nil {
			return nil, fmt.Errorf("catalogue: %s:%d: %s", problems[0].File, problems[0].Line, problems[0].Reason.Rule)
		}
		r, err := Resolve(sheet)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

// CheckFile checks a sheet file; a folder "kits" beside it is searched before
// the kits that ship with the program. The error is one of reading the file.
func CheckFile(path string) (*machine.Sheet, []Problem, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, nil, err
	}
	sheet, problems := Check(path, data, beside(path))
	return sheet, problems, nil
}

// beside is the folder "kits" beside a sheet file.
func beside(path string) fs.FS { return os.DirFS(filepath.Join(filepath.Dir(path), "kits")) }

// Check resolves a sheet and finds what is wrong with it. The sheet is nil if
// there is any problem that is more than a warning.
func Check(file string, data []byte, folders ...fs.FS) (*machine.Sheet, []Problem) {
	source, err := parse(file, data)
	if err != nil {
		return nil, []Problem{{File: file, Line: syntaxLine(err), Reason: ruleYAML.Says(err.Error())}}
	}
	c := &composer{kits: append(folders, kits())}
	root := c.compose(source)
	if len(c.found) > 0 {
		return nil, c.found
	}
	if problems := placed(root, shape(root), none); len(problems) > 0 {
		return nil, problems
	}
	sheet, err := decode(root)
	if err != nil {
		return nil, []Problem{{File: file, Line: 1, Reason: ruleShape.Says(err.Error())}}
	}
	problems := placed(root, slices.Concat(familyProblems(sheet), sheet.Problems(), procedure.Problems(sheet)), none)
	if len(problems) == 0 {
		logic := sheet.EachWay(func(one *machine.Sheet) []machine.Problem {
			_, found := interlock.Of(one)
			return append(found, interlock.Unbuilt(one)...)
		})
		problems = placed(root, logic, interlock.SheetWarning)
	}
	for _, p := range problems {
		if !p.Warning {
			return nil, problems
		}
	}
	return sheet, problems
}

// kits are those that ship with the program.
func kits() fs.FS {
	own, err := fs.Sub(embedded, "kits")
	if err != nil {
		panic(err)
	}
	return own
}

// Interlock reads the interlock section of a file, which may be a whole sheet
// or the section alone, with ways of its options; left out, their first.
func Interlock(file string, data []byte, chosen machine.Chosen) (*interlock.Logic, []Problem) {
	s, problems := section(file, data)
	if s.sheet == nil {
		return nil, problems
	}
	if problems = UnknownOptions(file, chosen, s.sheet); len(problems) > 0 {
		return nil, problems
	}
	one := s.sheet.With(chosen)
	logic, found := interlock.Alone(one)
	return logic, s.placed(one, found)
}

// Joined reads the sections of a carrier and of an implement, with ways of the
// options of both, and joins them.
func Joined(file string, data []byte, with string, implement []byte, chosen machine.Chosen) (*interlock.Logic, []Problem) {
	c, problems := section(file, data)
	if c.sheet == nil {
		return nil, problems
	}
	carrier := c.sheet.With(chosen)
	if _, found := interlock.Alone(carrier); len(found) > 0 {
		problems = c.placed(carrier, found)
	}
	i, found := section(with, implement)
	if i.sheet == nil {
		return nil, append(problems, found...)
	}
	if found = UnknownOptions(file, chosen, c.sheet, i.sheet); len(found) > 0 {
		return nil, found
	}
	one := i.sheet.With(chosen)
	joined, wrong := interlock.Join(carrier.Interlock, one)
	problems = append(problems, i.placed(one, wrong)...)
	if slices.ContainsFunc(problems, func(p Problem) bool { return !p.Warning }) {
		return nil, problems
	}
	logic, _ := interlock.Compile(joined)
	return logic, problems
}

// sectioned is what a file says of interlocks, of what carries it, and of the
// options and controls that these need.
type sectioned struct {
	root  *node
	sheet *machine.Sheet
}

func (s sectioned) placed(one *machine.Sheet, found []machine.Problem) []Problem {
	for i := range found {
		found[i].Pointer = one.Origin(found[i].Pointer)
	}
	return placed(s.root, found, interlock.Warning)
}

// section reads it; the sheet is nil where there are problems.
func section(file string, data []byte) (s sectioned, problems []Problem) {
	source, err := parse(file, data)
	if err != nil {
		return s, []Problem{{File: file, Line: syntaxLine(err), Reason: ruleYAML.Says(err.Error())}}
	}
	if !source.mapping {
		return s, []Problem{{File: file, Line: 1, Reason: ruleNotMapping.Says()}}
	}
	c := &composer{kits: []fs.FS{kits()}}
	whole := c.compose(source)
	if len(c.found) > 0 { // what is wrong elsewhere in it does not matter here
		whole = source
		if over := source.fields["override"]; over != nil {
			whole.merge(over)
		}
		normaliseNever(whole)
		normaliseStarting(whole)
		normaliseIf(whole)
	}
	s.root = &node{file: file, line: 1, mapping: true, fields: map[string]*node{}}
	for _, part := range []string{"interlock", "carrier", "options", "controls"} {
		if found := whole.fields[part]; found != nil {
			s.root.put(part, found.copy())
		}
	}
	found := shape(s.root)
	wrong := within("/interlock", found)
	for _, part := range []string{"/carrier/", "/options/", "/controls/"} {
		wrong = append(wrong, within(part, found)...)
	}
	if problems := placed(s.root, wrong, none); len(problems) > 0 {
		return s, problems
	}
	if s.sheet, err = decode(s.root); err != nil {
		return s, []Problem{{File: file, Line: 1, Reason: ruleShape.Says(err.Error())}}
	}
	return s, nil
}

// within keeps the problems of one part of a document.
func within(pointer string, problems []machine.Problem) []machine.Problem {
	var out []machine.Problem
	for _, p := range problems {
		if strings.HasPrefix(p.Pointer, pointer) {
			out = append(out, p)
		}
	}
	return out
}

func decode(root *node) (*machine.Sheet, error) {
	body, err := json.Marshal(root.plain())
	if err != nil {
		return nil, err
	}
	var sheet machine.Sheet
	err = json.Unmarshal(body, &sheet) // its format is looked at with the rest
	sheet.Word()
	return &sheet, err
}

func none(text.Rule) bool { return false }

// syntaxLine is the line a YAML error speaks of.
func syntaxLine(err error) int {
	var line, column int
	if _, scan := fmt.Sscanf(err.Error(), "[%d:%d]", &line, &column); scan == nil {
		return line
	}
	return 1
}
