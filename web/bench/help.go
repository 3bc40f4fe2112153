package bench

// "It won't start or run": what the contacts say.

import (
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/tell"
	"vespers/web/page"
)

// helpPage is for a machine that will not start, run or move: what the operator
// sees goes in, the nearest fix comes out.
type helpPage struct {
	Machine, Name string
	Figure        page.Figure
	Controls      []page.ControlView
	Symptoms      []choice
	Drives        []choice
	Codes         []choice
	Asked         bool
	Changes       [][]page.Todo // ways out, each a list of acts
	Suspects      []string
	Code          string   // what the blink code means
	Outside       []string // what lies outside the interlocks
	Rungs         []page.Rung
}

var helpPages = page.New[helpPage](templates, "help")

func showHelp(v *page.Visit) {
	m, sheet, logic, ok := subject(v)
	if !ok {
		return
	}
	p := helpPage{Machine: m.ID, Name: m.Name}
	at := logic.Positions(logic.Rest)
	if start, ok := logic.StartState(); ok {
		at = start
	}
	all := sheet.AllControls()
	for i := range all {
		if way, told := all[i].Way(v.Query("c_" + all[i].ID)); told {
			maps.Copy(at, way.Switches)
		}
	}
	for i, view := range v.Controls(sheet, at) {
		if slices.ContainsFunc(logic.Switches, all[i].Works) {
			p.Controls = append(p.Controls, told(view, v.Query("c_"+view.ID)))
		}
	}
	p.Figure = v.Figure(sheet)
	p.choices(v, sheet)
	seen, drive := interlock.Symptom(v.Query("seen")), v.Query("drive")
	watched := ""
	if p.Asked = seen != ""; p.Asked {
		p.answer(v, sheet, logic, seen, drive, at)
		watched = logic.Behind(seen, drive)
	}
	p.Rungs = v.Rungs(&sheet.Interlock, at, nil, watched)
	helpPages.Show(v, http.StatusOK, v.T("help.title", "name", m.Name), p)
}

// told is a control as somebody says it stands, where they said: several of its
// ways may work the contacts alike.
func told(c page.ControlView, way string) page.ControlView {
	if slices.ContainsFunc(c.Ways, func(p page.PositionView) bool { return p.ID == way }) {
		for i := range c.Ways {
			c.Ways[i].Now = c.Ways[i].ID == way
		}
	}
	return c
}

func (p *helpPage) choices(v *page.Visit, sheet *machine.Sheet) {
	asked := v.Query("seen")
	for _, seen := range interlock.Symptoms() {
		p.Symptoms = append(p.Symptoms, choice{Value: string(seen), Words: v.T("help.seen." + string(seen)), Chosen: asked == string(seen) || asked == "" && seen == interlock.Dead})
	}
	for _, permit := range sheet.Interlock.Permits {
		if permit.Kind == "drive" {
			p.Drives = append(p.Drives, choice{Value: permit.ID, Words: v.Text(permit.Moves), Chosen: v.Query("drive") == permit.ID})
		}
	}
	for _, c := range sheet.Interlock.Codes {
		value := c.Key()
		chosen := v.Query("code") == value
		p.Codes = append(p.Codes, choice{Value: value, Words: codeWords(v, c), Chosen: chosen})
		if chosen {
			p.Code = v.Text(c.Means)
		}
	}
}

func (p *helpPage) answer(v *page.Visit, sheet *machine.Sheet, logic *interlock.Logic, seen interlock.Symptom, drive string, at map[string]bool) {
	section, controls := &sheet.Interlock, sheet.AllControls()
	blocked := logic.Blocked(seen, drive, at)
	for _, change := range blocked.Changes {
		var acts []page.Todo
		for _, move := range change {
			sw := section.Switch(move.Switch)
			act := page.Todo{Words: v.Text(sw.Break), Number: 1 + slices.IndexFunc(controls, func(c machine.Control) bool { return c.Works(sw.ID) })}
			if move.Made {
				act.Words = v.Text(sw.Make)
			}
			acts = append(acts, act)
		}
		p.Changes = append(p.Changes, acts)
	}
	p.Suspects = tell.Faults(v.Voice, section, blocked.Suspects)
	if len(blocked.Changes) == 0 {
		p.Outside = append(p.Outside, v.T("help.outside."+string(seen)))
	}
}

// codeWords says what is seen.
func codeWords(v *page.Visit, c machine.Code) string {
	var words string
	switch {
	case c.Shows != "":
		words = c.Shows
	case len(c.Groups) > 0:
		var groups []string
		for _, n := range c.Groups {
			groups = append(groups, strconv.Itoa(n))
		}
		words = v.T("help.groups", "groups", strings.Join(groups, " – "))
	default:
		words = v.T("help.blinks", "n", c.Blinks)
	}
	if c.Lamp != (text.Text{}) {
		words = v.Text(c.Lamp) + ": " + words
	}
	return words
}
