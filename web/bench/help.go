package bench

// "It won't start or run": what the contacts say.

import (
	"net/http"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/tell"
	"vespers/web/page"
)

// helpPage is for a machine that will not start, run or move: what the operator
// sees goes in, the nearest fix comes out.
type helpPage struct {
	Machine, Name string
	Controls      []helpControl
	Symptoms      []choice
	Drives        []choice
	Codes         []choice
	Asked         bool
	Changes       [][]string // ways out, each a list of acts
	Suspects      []string
	Code          string   // what the blink code means
	Outside       []string // what lies outside the interlocks
	Rungs         []page.Rung
}

type helpControl struct {
	ID, Label, Made, Broken string
	IsMade                  bool
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
	for _, sw := range sheet.Interlock.Switches {
		switch v.Query("s_" + sw.ID) {
		case "made":
			at[sw.ID] = true
		case "broken":
			at[sw.ID] = false
		}
		p.Controls = append(p.Controls, helpControl{ID: sw.ID, Label: v.Text(sw.Label), Made: v.Text(sw.Made), Broken: v.Text(sw.Broken), IsMade: at[sw.ID]})
	}
	p.choices(v, sheet)
	seen, drive := interlock.Symptom(v.Query("seen")), v.Query("drive")
	watched := ""
	if p.Asked = seen != ""; p.Asked {
		p.answer(v, &sheet.Interlock, logic, seen, drive, at)
		watched = logic.Behind(seen, drive)
	}
	p.Rungs = v.Rungs(&sheet.Interlock, at, nil, watched)
	helpPages.Show(v, http.StatusOK, v.T("help.title", "name", m.Name), p)
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
		value := v.Number(float64(c.Blinks), 0)
		chosen := v.Query("code") == value
		p.Codes = append(p.Codes, choice{Value: value, Words: v.T("help.blinks", "n", c.Blinks), Chosen: chosen})
		if chosen {
			p.Code = v.Text(c.Means)
		}
	}
}

func (p *helpPage) answer(v *page.Visit, section *machine.Interlock, logic *interlock.Logic, seen interlock.Symptom, drive string, at map[string]bool) {
	blocked := logic.Blocked(seen, drive, at)
	for _, change := range blocked.Changes {
		var acts []string
		for _, move := range change {
			for _, sw := range section.Switches {
				switch {
				case sw.ID != move.Switch:
				case move.Made:
					acts = append(acts, v.Text(sw.Make))
				default:
					acts = append(acts, v.Text(sw.Break))
				}
			}
		}
		p.Changes = append(p.Changes, acts)
	}
	p.Suspects = tell.Faults(v.Voice, section, blocked.Suspects)
	if len(blocked.Changes) == 0 {
		p.Outside = append(p.Outside, v.T("help.outside."+string(seen)))
	}
}
