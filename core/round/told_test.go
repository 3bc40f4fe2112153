package round_test

// Every word of every round, followed on a machine that knows nothing of plans.

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/round"
	"vespers/core/text"
)

// hands is a machine and somebody who does what they are told, word by word.
type hands struct {
	t        *testing.T
	section  *machine.Interlock
	controls []machine.Control
	engine   bool
	at       map[string]bool
	on       bool
	held     map[string]bool // drives that wait to be asked for anew
	moves    map[string]bool
	lang     text.Language
	where    string
	ways     map[string]string // of controls that work no contact
	kept     []string          // controls moved in this step, or said to be held still
}

func newHands(t *testing.T, controls []machine.Control, section *machine.Interlock, engine bool, lang text.Language) *hands {
	h := &hands{t: t, section: section, controls: controls, engine: engine, at: map[string]bool{}, on: !engine, held: map[string]bool{}, moves: map[string]bool{}, lang: lang}
	for _, s := range section.Switches {
		h.at[s.ID] = s.Rest != "broken"
	}
	h.rest()
	h.look("")
	return h
}

// rest puts what works no contact where it rests.
func (h *hands) rest() {
	h.ways = map[string]string{}
	for _, c := range h.controls {
		h.ways[c.ID] = c.Ways[0].ID
	}
}

// resting reports whether it all does.
func (h *hands) resting() bool {
	for _, c := range h.controls {
		if len(c.Ways[0].Switches) == 0 && h.ways[c.ID] != c.Ways[0].ID {
			return false
		}
	}
	return true
}

func (h *hands) fail(format string, args ...any) {
	h.t.Helper()
	h.t.Fatalf("%s: %s", h.where, fmt.Sprintf(format, args...))
}

func (h *hands) says(source string) bool {
	e, err := interlock.Parse(source)
	if err != nil {
		h.t.Fatal(err)
	}
	return e.Eval(func(id string) bool { return h.at[id] })
}

func (h *hands) permit(kind string) bool {
	for _, p := range h.section.Permits {
		if p.Kind == kind && !h.says(p.When) {
			return false
		}
	}
	return true
}

func (h *hands) may(p machine.Permit) bool {
	if !h.on || !h.says(p.When) {
		return false
	}
	for control, way := range p.Needs {
		if h.ways[control] != way {
			return false
		}
	}
	for _, by := range h.section.Permits {
		if by.ID == p.TurnedBy && !h.says(by.When) {
			return false
		}
	}
	return true
}

// look finds what moves after a control was moved.
func (h *hands) look(changed string) {
	for _, p := range h.section.Permits {
		if p.Kind != "drive" {
			continue
		}
		may := h.may(p)
		if p.Latched && !may && changed != "" {
			if slices.Contains(p.LatchedBy, changed) {
				h.held[p.ID] = h.held[p.ID] || h.moves[p.ID]
			} else if h.names(p, changed) {
				h.held[p.ID] = false
			}
		}
		h.moves[p.ID] = may && !h.held[p.ID]
	}
}

func (h *hands) names(p machine.Permit, id string) bool {
	e, _ := interlock.Parse(p.When)
	asked := false
	for _, made := range []bool{true, false} {
		e.Eval(func(name string) bool { asked = asked || name == id; return made })
	}
	return asked
}

// do finds the control that a sentence speaks of, and moves it to where the
// sentence says, through what lies between.
func (h *hands) do(c round.Change) {
	h.t.Helper()
	words := c.Do.In(h.lang)
	if own := h.section.HowStarted(); own != nil && own.After == c.Do && c.Switch+c.Control == "" {
		return
	}
	var control *machine.Control
	to := 0
	for i := range h.controls {
		for j, p := range h.controls[i].Ways {
			if p.Do.In(h.lang) != words {
				continue
			}
			if control != nil {
				h.fail("%q is said of two movements", words)
			}
			control, to = &h.controls[i], j
		}
	}
	if control == nil {
		h.fail("%q is no movement of any control", words)
	}
	if c.Held {
		if p := control.Ways[to]; !h.stand(p) || p.SpringsTo == "" {
			h.fail("%q is to be held, and does not stand so, or stays by itself", words)
		}
		h.kept = append(h.kept, control.ID)
		return
	}
	if c.Switch == "" {
		if control.ID != c.Control || h.ways[control.ID] == control.Ways[to].ID {
			h.fail("%q, and it stands so already, or is another's", words)
		}
		h.ways[control.ID] = control.Ways[to].ID
		h.look("")
		return
	}
	h.kept = append(h.kept, control.ID)
	from := slices.IndexFunc(control.Ways, func(p machine.Position) bool { return h.stand(p) })
	if from < 0 || h.stand(control.Ways[to]) {
		h.fail("%q, and it stands so already, or nowhere", words)
	}
	changed := 0
	for from != to {
		if from < to {
			from++
		} else {
			from--
		}
		for _, s := range h.section.Switches {
			if made, works := control.Ways[from].Switches[s.ID]; works && h.at[s.ID] != made {
				changed++
				h.move(s, made)
			}
		}
	}
	if changed != 1 || h.at[c.Switch] != c.Made {
		h.fail("%q moves %d contacts, %s is %v", words, changed, c.Switch, h.at[c.Switch])
	}
	if n := h.springing(); n > 2 {
		h.fail("%d controls are to be held at once", n)
	}
}

// stand reports whether the contacts are as they are in a position.
func (h *hands) stand(p machine.Position) bool {
	for id, made := range p.Switches {
		if h.at[id] != made {
			return false
		}
	}
	return len(p.Switches) > 0
}

// mind: whatever has to be held now was moved in this step, or is said to be held
// still.
func (h *hands) mind() {
	h.t.Helper()
	for i := range h.controls {
		if p := h.controls[i].Stands(h.at); p != nil && p.SpringsTo != "" && !slices.Contains(h.kept, h.controls[i].ID) {
			h.fail("%s has to be held still, and nobody says so", h.controls[i].ID)
		}
	}
}

// springing is how many controls would spring back if they were let go.
func (h *hands) springing() (n int) {
	for i := range h.controls {
		if p := h.controls[i].Stands(h.at); p != nil && p.SpringsTo != "" {
			n++
		}
	}
	return n
}

func (h *hands) move(s machine.Switch, made bool) {
	h.t.Helper()
	before := h.whatMoves()
	h.at[s.ID] = made
	if h.on && h.engine && !h.permit("run") {
		h.on, h.held = false, map[string]bool{}
	}
	h.look(s.ID)
	if s.Moving == "forbidden" {
		for _, id := range append(before, h.whatMoves()...) {
			for _, p := range h.section.Permits {
				if (p.ID == id || p.Kind == "run") && h.names(p, s.ID) {
					h.fail("%s is touched while %s moves", s.ID, id)
				}
			}
		}
	}
}

func (h *hands) whatMoves() (out []string) {
	for _, p := range h.section.Permits {
		if h.moves[p.ID] {
			out = append(out, p.ID)
		}
	}
	return out
}

func (h *hands) off() { h.on, h.held = !h.engine, map[string]bool{}; h.look("") }

// start starts the engine as it stands.
func (h *hands) start() {
	h.t.Helper()
	switch {
	case !h.engine:
		return
	case h.on:
		h.fail("started while it runs")
	case !h.permit("start"):
		h.fail("told to start where it does not crank: %v", h.at)
	case !h.permit("run"):
		h.fail("told to start where it does not run: %v", h.at)
	}
	for _, s := range h.section.Switches {
		if (s.Place || s.AtStart == "made") && !h.at[s.ID] {
			h.fail("told to start with %s broken", s.ID)
		}
	}
	h.mind()
	if !h.resting() {
		h.fail("told to start with %v", h.ways)
	}
	h.on = true
	h.look("")
	if moving := h.whatMoves(); len(moving) > 0 {
		h.fail("started with %v moving", moving)
	}
}

// come does everything before the act.
func (h *hands) come(in round.Instruction) {
	h.t.Helper()
	if in.Stop {
		if !h.on {
			h.fail("told to switch off what does not run")
		}
		h.off()
	}
	for _, c := range in.Restart {
		h.do(c)
	}
	if in.Start {
		h.start()
	}
	on := h.on
	for _, c := range in.Set {
		h.do(c)
		if on && !h.on {
			h.fail("the engine went off at %q", c.Do.EN)
		}
	}
	h.mind()
}

func (h *hands) same(want map[string]bool) {
	h.t.Helper()
	for id, made := range want {
		if h.at[id] != made {
			h.fail("%s stands at %v, meant is %v", id, h.at[id], made)
		}
	}
}

// try does one test as told. Done false stops short of the act.
func (h *hands) try(in round.Instruction, test interlock.Test, done bool) {
	h.t.Helper()
	h.come(in)
	if test.Kind == interlock.Refusal {
		h.same(test.To)
		if h.engine && h.on || h.permit("start") {
			h.fail("it cranks, or runs already")
		}
		return
	}
	h.same(test.From)
	if !h.on {
		h.fail("nothing runs")
	}
	if moves := h.moves[test.Permit]; test.Kind != interlock.EngineStop && moves != (test.Kind == interlock.DriveStop) {
		h.fail("before the act it moves: %v", moves)
	}
	if !done {
		return
	}
	h.do(in.Act)
	h.same(test.To)
	switch {
	case test.Kind == interlock.EngineStop && h.on:
		h.fail("the engine runs on")
	case test.Kind != interlock.EngineStop && h.moves[test.Permit]:
		h.fail("it moves on")
	}
	if !test.Return {
		return
	}
	h.do(in.Back)
	h.same(test.From)
	if h.moves[test.Permit] {
		h.fail("it moves again")
	}
}

// mishap is what goes otherwise than well at one step of a round.
type mishap string

const (
	nothingWrong mishap = ""
	nearOnce     mishap = "near"
	notMoving    mishap = "not moving"
	notThenNear  mishap = "not moving, then near"
	deadKey      mishap = "would not crank"
	crankedOnly  mishap = "cranked and did not start"
	notShown     mishap = "did not move when let to"
)

// follow goes through a round, with a mishap at one step.
func follow(t *testing.T, r *runner, h *hands, wrong mishap, at int) {
	t.Helper()
	for n := 0; !r.Done(); n++ {
		in := r.Now()
		h.kept = nil // a hand that answers on a screen lets go
		h.where = fmt.Sprintf("%s, step %d (%s), %s at %d, %s", r.Machine, n, r.Step(), wrong, at, h.lang)
		if n > 120 {
			h.fail("the round does not end")
		}
		here := wrong != nothingWrong && n == at
		switch r.Step() {
		case round.StepBegin:
			r.begin()
		case round.StepStart:
			for _, c := range in.Set {
				h.do(c)
			}
			h.same(in.At)
			if in.Stop || !in.Start || len(in.Restart) > 0 {
				h.fail("%+v", in)
			}
			if here && wrong == deadKey {
				r.want(r.turn("no"), "")
				break
			}
			h.start()
			if here && wrong == crankedOnly {
				h.off()
				r.want(r.turn("cranked"), "")
				break
			}
			r.want(r.turn("started"), "")
		case round.StepShow:
			h.come(in)
			if !h.moves[in.Permit] {
				h.fail("%s does not move", in.Permit)
			}
			moved := "yes"
			if here && wrong == notShown {
				moved = "no"
			}
			e, err := r.Show(round.Show{Machine: "m", Attempt: r.Attempt, Permit: in.Permit, Moved: moved}, now)
			r.want(r.take(e, err), "")
		case round.StepPutBack:
			h.come(in)
			h.same(in.At)
			if moving := h.whatMoves(); len(moving) > 0 || !h.resting() || r.Engine && h.on != r.Running {
				h.fail("put back with %v moving, running %v", moving, h.on)
			}
			r.good()
		case round.StepTest:
			i := r.Next()
			test, limit := r.Plan.Tests[i], r.StopWithin(i)
			if test.Kind == interlock.Refusal && len(in.Set)+len(in.Restart)+len(in.Stays) == 0 {
				h.fail("nobody is told what the refusal is about")
			}
			stop := test.Kind == interlock.EngineStop || test.Kind == interlock.DriveStop
			switch {
			case here && stop && (wrong == notMoving || wrong == notThenNear):
				h.try(in, test, false)
				if test.Kind == interlock.EngineStop {
					h.off() // it was not running
				}
				r.want(r.test(i, round.NotBefore), "")
				if wrong == notThenNear {
					wrong, at = nearOnce, n+1
				}
			case here && wrong == nearOnce && limit > 0.5:
				h.try(in, test, true)
				r.want(r.test(i, round.Good, fmt.Sprint(limit)), "")
			default:
				h.try(in, test, true)
				r.good()
			}
		}
	}
}

// controlsOf are the controls of what rounds calls so.
func controlsOf(t *testing.T, name string) (out []machine.Control) {
	for _, s := range machinetest.All(t) {
		if slices.Contains(strings.Split(name, " with "), s.Sheet.ID) {
			out = append(out, s.Sheet.AllControls()...)
		}
	}
	return out
}

// rounds are those of every sheet, and of a carrier with each implement.
func rounds(t *testing.T) map[string]round.Setup {
	out := map[string]round.Setup{}
	all := machinetest.All(t)
	for _, s := range all {
		if s.Sheet.Carrier != nil && s.Sheet.Carrier.Drives != "" {
			for _, carrier := range all {
				if carrier.Sheet.Family == s.Sheet.Carrier.Family {
					joined, problems := interlock.Join(carrier.Sheet.Interlock, s.Sheet)
					if len(problems) > 0 {
						t.Fatal(problems)
					}
					out[carrier.Sheet.ID+" with "+s.Sheet.ID] = round.Setup{Section: &joined, Engine: true, Running: true}
				}
			}
			continue
		}
		out[s.Sheet.ID] = round.Setup{Section: &s.Sheet.Interlock, Engine: s.Sheet.HasEngine(), Running: true}
	}
	for name, of := range out {
		logic, _ := interlock.Compile(*of.Section)
		of.Machine, of.Plan, of.Edition = name, logic.Plan(), round.Edition
		out[name] = of
	}
	return out
}

// TestEveryWordIsTrue: first time through and after every mishap at every step,
// in both languages, the words lead from where the controls are to what is
// meant, and nobody starts an engine with something moving.
func TestEveryWordIsTrue(t *testing.T) {
	for name, of := range rounds(t) {
		t.Run(name, func(t *testing.T) {
			controls := controlsOf(t, name)
			for _, lang := range text.Languages() {
				for _, running := range []bool{true, false} {
					of.Running = running
					for _, wrong := range []mishap{nothingWrong, nearOnce, notMoving, notThenNear, deadKey, crankedOnly, notShown} {
						for at := range 2*len(of.Plan.Tests) + 4 {
							if wrong == nothingWrong && at > 0 {
								break
							}
							follow(t, &runner{t: t, State: round.Begin(of)}, newHands(t, controls, of.Section, of.Engine, lang), wrong, at)
						}
					}
				}
			}
		})
	}
}

// TestEveryWordOfAPartIsTrue: of the tests that are repeated when hands were at one
// switch, too.
func TestEveryWordOfAPartIsTrue(t *testing.T) {
	for name, of := range rounds(t) {
		t.Run(name, func(t *testing.T) {
			controls := controlsOf(t, name)
			logic, _ := interlock.Compile(*of.Section)
			whole, met := of.Plan, map[string]bool{}
			for _, sw := range of.Section.Switches {
				of.Plan = logic.Part(whole, func(test interlock.Test) bool { return interlock.Repeats(test, []string{sw.ID}) })
				key := fmt.Sprint(of.Plan.Tests)
				if len(of.Plan.Tests) == 0 || met[key] {
					continue
				}
				met[key] = true
				for _, f := range whole.Dangerous {
					kept := slices.ContainsFunc(of.Plan.Tests, func(x interlock.Test) bool { return slices.Contains(x.Catches, f) })
					shown := slices.ContainsFunc(whole.Tests, func(x interlock.Test) bool { return slices.Contains(x.Catches, f) })
					if interlock.ReadFault(f).On == sw.ID && shown && !kept {
						t.Errorf("%s is not shown again", f)
					}
				}
				for _, running := range []bool{true, false} {
					of.Running = running
					for _, wrong := range []mishap{nothingWrong, nearOnce, notMoving, deadKey} {
						for at := range 2*len(of.Plan.Tests) + 4 {
							if wrong == nothingWrong && at > 0 {
								break
							}
							follow(t, &runner{t: t, State: round.Begin(of)}, newHands(t, controls, of.Section, of.Engine, text.English), wrong, at)
						}
					}
				}
			}
		})
	}
}
