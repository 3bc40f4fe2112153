package yard_test

import (
	"strings"
	"testing"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// TestTheCodeOfAPaper: stands for one machine and one edition of its sheet, is read as it
// is written by hand, and an older one still leads to its own sheet.
func TestTheCodeOfAPaper(t *testing.T) {
	w := newTown(t)
	verger, sexton := w.machine("Verger"), w.machine("Sexton")
	code := yard.PaperCode(verger.ID, verger.Sheet)
	if code == yard.PaperCode(sexton.ID, sexton.Sheet) || len(code) != 9 || strings.ContainsAny(code, "ILOU") {
		t.Fatalf("the code is %q", code)
	}
	for _, typed := range []string{code, strings.ToLower(code), strings.ReplaceAll(code, "-", " "), " " + strings.ReplaceAll(code, "-", ""), strings.NewReplacer("0", "o", "1", "l").Replace(code)} {
		if m, ok := yard.OfPaper(w, typed); !ok || m.ID != verger.ID || m.Sheet != verger.Sheet {
			t.Errorf("%q is %v of %s", typed, ok, m.Name)
		}
	}
	for _, typed := range []string{"", code[:8], code + "A", "0000-0000", "ß000-0000"} {
		if m, ok := yard.OfPaper(w, typed); ok {
			t.Errorf("%q is %s", typed, m.Name)
		}
	}
	newer := *w.sheets[verger.Sheet]
	newer.Edition = "99"
	w.sheets["newer"] = &newer
	adopted := verger
	adopted.Sheet = machine.Key("newer", nil)
	w.machines[verger.ID] = adopted
	if now := yard.PaperCode(adopted.ID, adopted.Sheet); now == code {
		t.Error("another edition has the same code")
	}
	if m, ok := yard.OfPaper(w, code); !ok || m.ID != verger.ID || m.Sheet != verger.Sheet {
		t.Errorf("the old paper is of %s by %s, %v", m.Name, m.Sheet, ok)
	}
}

// TestAPaperIsCopied: by whoever wrote it, from a time that is over and not long ago, of a
// machine that nobody has; also of one on Halt. Its key stays in, and it is not among
// what went out that day.
func TestAPaperIsCopied(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger")
	copied := func(day, clock string) yard.CopyPaper {
		return yard.CopyPaper{Code: yard.PaperCode(verger.ID, verger.Sheet), Day: day, Time: clock}
	}
	for rule, c := range map[string]yard.CopyPaper{
		"paper.no_such_code": {Code: "AAAA-AAAA", Day: "2026-11-23", Time: "07:00"},
		"paper.say_when":     copied("2026-11-23", ""),
		"paper.not_yet":      copied("2026-11-24", "23:00"),
		"paper.too_old":      copied("2026-10-20", "07:00"),
	} {
		w.refused("ida", c, rule)
	}
	w.refused("ida", copied("yesterday", "07:00"), "paper.say_when")
	w.found(verger.ID, "halt", nil)
	w.must("ida", copied("2026-11-23", "07:00"))
	id := w.machines[verger.ID].Outing
	o, _ := w.Outing(id)
	if o.Paper == nil || o.Stage() != outing.StagePaper || o.Operator() != "ida" {
		t.Fatalf("it began %+v", o.Paper)
	}
	w.refused("otto", copied("2026-11-23", "07:00"), "take_out.taken")
	answer := yard.InOuting{Outing: id, Command: outingtest.Sound(verger.ID, "seat_belt")}
	w.refused("otto", answer, "who.anothers_outing")
	w.refused("maren", answer, "who.anothers_outing")
	w.must("ida", answer)
	if why, may := yard.KeyMay(w, w.machines[verger.ID], w.at); may || why.Rule != "key.nobody_has_it" {
		t.Errorf("its key may be out: %v", why)
	}
	if closing := yard.Close(w, w.at); len(closing.Machines) > 0 {
		t.Errorf("it went out: %+v", closing.Machines)
	}
	w.must("ida", yard.InOuting{Outing: id, Command: outing.FinishPaper{Out: "no"}})
	if w.machines[verger.ID].Outing != "" {
		t.Error("it is still being copied")
	}
	// The same paper again is none; another of the same morning is, and so is this one
	// where its copying was given up.
	for _, who := range []string{"ida", "otto"} {
		w.refused(who, copied("2026-11-23", "07:00"), "paper.copied_already")
	}
	done, _ := w.Outing(id)
	given := *done
	given.End = &outing.Ended{How: outing.EndGivenUp}
	w.outings[id] = &given
	w.must("ida", copied("2026-11-23", "07:00"))
	w.outings[id] = done
	first := w.machines[verger.ID].Outing
	w.must("ida", yard.InOuting{Outing: first, Command: outing.FinishPaper{Out: "no"}})
	w.must("ida", copied("2026-11-23", "07:10"))
}

// TestABlankOfEveryMachine: every sheet has a paper, and nothing on it is answered.
func TestABlankOfEveryMachine(t *testing.T) {
	w := newTown(t)
	for _, hash := range w.Sheets() {
		m := w.machine("Verger")
		m.Sheet = hash
		if w.sheets[hash].Unsaid(nil) != nil {
			continue
		}
		o, err := yard.BlankPaper(w, m, w.at)
		if err != nil {
			t.Errorf("%s: %v", w.sheets[hash].ID, err)
			continue
		}
		if lines := o.Units[0].PaperLines(); len(lines) < 5 {
			t.Errorf("%s: %d lines", w.sheets[hash].ID, len(lines))
		}
	}
	m := w.machine("Verger")
	m.Sheet = "none"
	if _, err := yard.BlankPaper(w, m, w.at); err == nil {
		t.Error("a machine without a sheet has a paper")
	}
}
