package catalogue

// A sheet is added to a yard only where no way through its procedures does harm.

import (
	"io/fs"
	"os"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/text"
)

var (
	ruleReached   = text.NewRule("sheet.hazard_reached", text.Slot{Name: "hazard", Kind: text.Words}, text.Slot{Name: "path", Kind: text.Name})
	ruleDeadEnd   = text.NewRule("sheet.dead_end", text.Slot{Name: "because", Kind: text.Name}, text.Slot{Name: "path", Kind: text.Name})
	ruleTooLong   = text.NewRule("sheet.too_many_states", text.Slot{Name: "most", Kind: text.Count})
	ruleNeverDone = text.NewRule("sheet.step_never_reached")
)

// ProveFile is CheckFile and, where nothing is wrong, the proof of its procedures.
func ProveFile(path string) (*machine.Sheet, []Problem, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, nil, err
	}
	sheet, problems := Prove(path, data, beside(path))
	return sheet, problems, nil
}

// Prove is Check and, where nothing is wrong, the proof of its procedures: a hazard
// that is reached, a step that is a dead end, and more ways than are followed make a
// sheet unusable; a step that is never reached is a warning.
func Prove(file string, data []byte, folders ...fs.FS) (*machine.Sheet, []Problem) {
	sheet, problems := Check(file, data, folders...)
	if sheet == nil || len(sheet.Procedures)+len(sheet.Events) == 0 {
		return sheet, problems
	}
	report := procedure.Check(sheet)
	source, err := parse(file, data)
	if err != nil {
		return nil, problems
	}
	c := &composer{kits: append(folders, kits())}
	problems = append(problems, placed(c.compose(source), unproved(sheet, report), func(r text.Rule) bool { return r == ruleNeverDone })...)
	if !report.Sound() {
		return nil, problems
	}
	return sheet, problems
}

// unproved says what a report found, where it stands in the sheet.
func unproved(s *machine.Sheet, r *procedure.Report) (out []machine.Problem) {
	for i, h := range r.Hazards {
		if !h.Holds {
			out = append(out, machine.Problem{Pointer: stepPointer(s, h.Path[len(h.Path)-1]), Reason: ruleReached.Says(hazardText(s, i), strings.Join(h.Path, " "))})
		}
	}
	for _, d := range r.DeadEnds {
		out = append(out, machine.Problem{Pointer: stepPointer(s, d.At), Reason: ruleDeadEnd.Says(strings.Join(d.Because, ", "), strings.Join(d.Path, " "))})
	}
	for _, at := range r.NeverReached {
		out = append(out, machine.Problem{Pointer: stepPointer(s, at), Reason: ruleNeverDone.Says()})
	}
	if !r.Complete {
		out = append(out, machine.Problem{Pointer: "/procedures", Reason: ruleTooLong.Says(procedure.StatesMost)})
	}
	return out
}

// hazardText is the sentence of a hazard: those of the table come first in a report,
// then the sheet's own.
func hazardText(s *machine.Sheet, i int) text.Text {
	table := procedure.Hazards()
	if i < len(table) {
		return table[i].Text
	}
	return s.Hazards[i-len(table)].Text
}

// stepPointer leads to the step that a report names: run/step, or run/step=answer.
func stepPointer(s *machine.Sheet, at string) string {
	run, step, _ := strings.Cut(at, "/")
	step, _, _ = strings.Cut(step, "=")
	of := func(section string, i int, steps []machine.Step) string {
		j := slices.IndexFunc(steps, func(st machine.Step) bool { return st.ID == step })
		if j < 0 {
			return machine.Pointer(section, i)
		}
		return machine.Pointer(section, i, "steps", j)
	}
	if id, event := strings.CutPrefix(run, "event:"); event {
		if i := slices.IndexFunc(s.Events, func(e machine.Event) bool { return e.ID == id }); i >= 0 {
			return of("events", i, s.Events[i].Steps)
		}
	}
	if i := slices.IndexFunc(s.Procedures, func(p machine.Procedure) bool { return p.ID == run }); i >= 0 {
		return of("procedures", i, s.Procedures[i].Steps)
	}
	return "/procedures"
}
