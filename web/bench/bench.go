// Package bench is a machine's interlocks to play with and to ask about: the
// ladder as controls are moved, a fault to be hunted, and help for a machine that
// will not start. What happens is in a table that the core computed.
package bench

import (
	"bytes"
	"embed"
	"hash/fnv"
	"net/http"
	"slices"
	"strconv"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/machines/:machine/controls", operator.Look, showControls),
		page.Get("/machines/:machine/steps", operator.Look, showSteps),
		page.Get("/machines/:machine/height", operator.Look, showHeight),
		page.Get("/machines/:machine/help", operator.Look, showHelp),
		page.Get("/machines/:machine/bench", operator.Look, showBench),
		page.Get("/machines/:machine/bench/ladder", operator.Look, showLadder),
	}
}

// benchPage is a machine's ladder to play with: set controls, try to start,
// find a fault that was hidden.
type benchPage struct {
	Machine, Name string
	Figure        page.Figure
	Controls      []benchControl
	Others        []page.ControlView // that work no contact
	Drives        []string           // what each moves
	Game          interlock.Game
	Tests         []benchTest
	Turn          string // what is done to start it

	Puzzle  string // which fault is hidden, as a riddle; "" for none
	Fresh   string // the next riddle
	Faults  []choice
	Guessed bool
	Right   bool
	Hidden  string // the fault, once guessed
	Alike   bool   // another fault that no test tells from it was named
	Actions int    // what the search took
	Best    int    // what it takes with the best test each time
}

// benchControl is a control with its contacts, by their numbers, in each way.
type benchControl struct {
	page.ControlView
	Contacts [][]contactStand
	Now      int // the way it stands in at rest
}

// contactStand is a contact by its number, and whether it is made.
type contactStand [2]int

// benchTest is a test of the round and what it shows.
type benchTest struct {
	Words  string
	Shows  []string
	Manual bool
}

type choice struct {
	Value, Words string
	Chosen       bool
}

var benchPages = page.New[benchPage](templates, "bench")

// subject is a machine whose section can be played with; ok is false, and the
// visit answered, if it has none.
func subject(v *page.Visit) (m store.Machine, sheet *machine.Sheet, logic *interlock.Logic, ok bool) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		v.Fail(err)
		return m, nil, nil, false
	}
	logic = v.Site.Store.Logic(m.Sheet, sheet)
	if logic == nil || logic.None {
		v.Fail(store.ErrNotFound)
		return m, nil, nil, false
	}
	return m, sheet, logic, true
}

func showBench(v *page.Visit) {
	m, sheet, logic, ok := subject(v)
	if !ok {
		return
	}
	section := &sheet.Interlock
	p := benchPage{Machine: m.ID, Name: m.Name, Puzzle: v.Query("puzzle"), Fresh: page.NewID(), Turn: v.T("bench.key")}
	if own := section.HowStarted(); own != nil {
		p.Turn = v.Text(own.Start)
	}
	hidden := ""
	faults := logic.Hidden()
	if p.Puzzle != "" && len(faults) > 0 {
		hidden = riddle(p.Puzzle, faults)
	}
	p.Game, _ = logic.Game(hidden)
	p.Figure = v.Figure(sheet)
	p.controls(v, sheet, logic)
	for _, permit := range section.Permits {
		if permit.Kind == "drive" {
			p.Drives = append(p.Drives, v.Text(permit.Moves))
		}
	}
	guess := v.Query("guess")
	for _, f := range faults {
		p.Faults = append(p.Faults, choice{Value: f, Words: tell.Fault(v.Voice, section, f), Chosen: f == guess})
	}
	if p.Guessed = hidden != "" && slices.Contains(faults, guess); p.Guessed {
		found, _ := logic.Search(hidden)
		p.Best, p.Hidden = found.Actions, tell.Fault(v.Voice, section, hidden)
		p.Right = slices.Contains(found.Alike, guess)
		p.Alike = p.Right && guess != hidden
		p.Actions, _ = strconv.Atoi(v.Query("actions"))
	}
	for _, t := range v.Site.Store.Plan(m.Sheet, sheet).Tests {
		_, manual := logic.Asked(t)
		p.Tests = append(p.Tests, benchTest{Words: tell.Test(v.Voice, section, logic, t), Shows: tell.Faults(v.Voice, section, t.Catches), Manual: manual})
	}
	benchPages.Show(v, http.StatusOK, v.T("bench.title", "name", m.Name), p)
}

// controls lists those that work a contact, as they stand at rest, and the rest.
func (p *benchPage) controls(v *page.Visit, sheet *machine.Sheet, logic *interlock.Logic) {
	all := sheet.AllControls()
	for i, view := range v.Controls(sheet, logic.Positions(logic.Rest)) {
		if !slices.ContainsFunc(logic.Switches, all[i].Works) {
			p.Others = append(p.Others, view)
			continue
		}
		one := benchControl{ControlView: view}
		for j, way := range all[i].Ways {
			var stands []contactStand
			for n, id := range logic.Switches {
				if made, works := way.Switches[id]; works && made {
					stands = append(stands, contactStand{n, 1})
				} else if works {
					stands = append(stands, contactStand{n, 0})
				}
			}
			one.Contacts = append(one.Contacts, stands)
			if view.Ways[j].Now {
				one.Now = j
			}
		}
		p.Controls = append(p.Controls, one)
	}
}

// riddle chooses a fault by a word, so that the address of the page is the
// whole of the game.
func riddle(word string, faults []string) string {
	h := fnv.New32a()
	h.Write([]byte(word))
	return faults[int(h.Sum32()%uint32(len(faults)))]
}

// showLadder draws the ladder for one state of the controls: a number with a
// bit for each switch.
func showLadder(v *page.Visit) {
	_, sheet, logic, ok := subject(v)
	if !ok {
		return
	}
	state, err := strconv.Atoi(v.Query("state"))
	if err != nil || state < 0 || state >= 1<<len(logic.Switches) {
		v.Fail(store.ErrNotFound)
		return
	}
	var b bytes.Buffer
	rungs := v.Rungs(&sheet.Interlock, logic.Positions(interlock.State(state)), nil, "")
	if err := page.Part(&b, "rungs", map[string]any{"F": v, "Rungs": rungs}); err != nil {
		v.Fail(err)
		return
	}
	v.Send("text/html; charset=utf-8", b.Bytes(), false)
}
