package web

import (
	"bytes"
	"hash/fnv"
	"net/http"
	"slices"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/store"
)

// benchPage is a machine's ladder to play with: set controls, try to start,
// find a fault that was hidden.
type benchPage struct {
	Machine  store.Machine
	Controls []benchControl
	Drives   []benchDrive
	Game     interlock.Game
	Tests    []benchTest
	Recoil   bool

	Puzzle  string // which fault is hidden, as a riddle; "" for none
	Fresh   string // the next riddle
	Faults  []helpChoice
	Guessed bool
	Right   bool
	Hidden  string // the fault, once guessed
	Alike   bool   // another fault that no test tells from it was named
	Actions int    // what the search took
	Best    int    // what it takes with the best test each time
}

type benchControl struct{ Label, Made, Broken string }

type benchDrive struct{ Moves string }

// benchTest is a test of the round and what it shows.
type benchTest struct {
	Words  string
	Shows  []string
	Manual bool
}

// benchLogic is the section of a machine that can be played with; ok is false,
// and the page answered, if it has none.
func (s *server) benchLogic(v *visit) (store.Machine, *machine.Sheet, *interlock.Logic, bool) {
	m, sheet, err := s.Store.Described(v.ctx(), v.param("machine"))
	if err != nil {
		s.fail(v, err)
		return m, nil, nil, false
	}
	logic, _ := interlock.Compile(sheet.Interlock)
	if logic == nil || logic.None {
		s.fail(v, store.ErrNotFound)
		return m, nil, nil, false
	}
	return m, sheet, logic, true
}

func (s *server) showBench(v *visit) {
	m, sheet, logic, ok := s.benchLogic(v)
	if !ok {
		return
	}
	section := &sheet.Interlock
	page := benchPage{Machine: m, Puzzle: v.gin.Query("puzzle"), Fresh: newID(), Recoil: sheet.Starter == "recoil"}
	hidden := ""
	faults := logic.Hidden()
	if page.Puzzle != "" && len(faults) > 0 {
		hidden = riddle(page.Puzzle, faults)
	}
	page.Game, _ = logic.Game(hidden)
	for _, sw := range section.Switches {
		page.Controls = append(page.Controls, benchControl{v.Text(sw.Label), v.Text(sw.Made), v.Text(sw.Broken)})
	}
	for _, p := range section.Permits {
		if p.Kind == "drive" {
			page.Drives = append(page.Drives, benchDrive{v.Text(p.Moves)})
		}
	}
	guess := v.gin.Query("guess")
	for _, f := range faults {
		page.Faults = append(page.Faults, helpChoice{Value: f, Words: faultWords(v, section, f), Chosen: f == guess})
	}
	if page.Guessed = hidden != "" && slices.Contains(faults, guess); page.Guessed {
		found, _ := logic.Search(hidden)
		page.Best, page.Hidden = found.Actions, faultWords(v, section, hidden)
		page.Right = slices.Contains(found.Alike, guess)
		page.Alike = page.Right && guess != hidden
		page.Actions, _ = parseInt(v.gin.Query("actions"))
	}
	plan := s.Store.Plan(m.Sheet, logic)
	for _, t := range plan.Tests {
		page.Tests = append(page.Tests, benchTest{Words: v.testWords(section, logic, t), Shows: v.faultsWords(section, t.Catches), Manual: logic.Asked(t)})
	}
	v.page(http.StatusOK, "bench", v.T("bench.title", "name", m.Name), page)
}

// riddle chooses a fault by a word, so that the address of the page is the
// whole of the game.
func riddle(word string, faults []string) string {
	h := fnv.New32a()
	h.Write([]byte(word))
	return faults[int(h.Sum32()%uint32(len(faults)))]
}

// showBenchLadder draws the ladder for one state of the controls: a number with
// a bit for each switch.
func (s *server) showBenchLadder(v *visit) {
	_, sheet, logic, ok := s.benchLogic(v)
	if !ok {
		return
	}
	state, isNumber := parseInt(v.gin.Query("state"))
	if !isNumber || state < 0 || state >= 1<<len(logic.Switches) {
		s.fail(v, store.ErrNotFound)
		return
	}
	var b bytes.Buffer
	rungs := v.rungs(&sheet.Interlock, logic.Positions(interlock.State(state)), nil, "")
	if err := s.pages.part(&b, "rungs", map[string]any{"F": &frame{visit: v}, "Rungs": rungs}); err != nil {
		s.fail(v, err)
		return
	}
	v.gin.Data(http.StatusOK, "text/html; charset=utf-8", b.Bytes())
}
