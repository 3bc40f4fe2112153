package web

import (
	"net/http"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/store"
)

// helpPage is for a machine that will not start, run or move: what the operator
// sees goes in, the nearest fix comes out.
type helpPage struct {
	Machine  store.Machine
	Controls []helpControl
	Symptoms []helpChoice
	Drives   []helpChoice
	Codes    []helpChoice
	Asked    bool
	Changes  [][]string // ways out, each a list of acts
	Suspects []string
	Code     string   // what the blink code means
	Outside  []string // what lies outside the interlocks
	Rungs    []rungView
}

type helpControl struct {
	ID, Label, Made, Broken string
	IsMade                  bool
}

type helpChoice struct {
	Value, Words string
	Chosen       bool
}

func (s *server) showHelp(v *visit) {
	m, sheet, err := s.Store.Described(v.ctx(), v.param("machine"))
	if err != nil {
		s.fail(v, err)
		return
	}
	logic, _ := interlock.Compile(sheet.Interlock)
	if logic == nil || logic.None {
		s.fail(v, store.ErrNotFound)
		return
	}
	page := helpPage{Machine: m}
	at := logic.Positions(logic.Rest)
	if start, ok := logic.StartState(); ok {
		at = start
	}
	for _, sw := range sheet.Interlock.Switches {
		switch v.gin.Query("s_" + sw.ID) {
		case "made":
			at[sw.ID] = true
		case "broken":
			at[sw.ID] = false
		}
		page.Controls = append(page.Controls, helpControl{ID: sw.ID, Label: v.Text(sw.Label), Made: v.Text(sw.Made), Broken: v.Text(sw.Broken), IsMade: at[sw.ID]})
	}
	page.choices(v, sheet)
	seen, drive := interlock.Symptom(v.gin.Query("seen")), v.gin.Query("drive")
	if page.Asked = v.gin.Query("seen") != ""; page.Asked {
		page.answer(v, &sheet.Interlock, logic, seen, drive, at)
	}
	watched := ""
	for _, p := range sheet.Interlock.Permits {
		if seen == interlock.Dead && p.Kind == "start" || (seen == interlock.NoStart || seen == interlock.Dies) && p.Kind == "run" || seen == interlock.NoDrive && p.ID == drive {
			watched = p.ID
		}
	}
	page.Rungs = v.rungs(&sheet.Interlock, at, nil, watched)
	v.page(http.StatusOK, "help", v.T("help.title", "name", m.Name), page)
}

func (p *helpPage) choices(v *visit, sheet *machine.Sheet) {
	asked := v.gin.Query("seen")
	for _, seen := range interlock.Symptoms() {
		p.Symptoms = append(p.Symptoms, helpChoice{Value: string(seen), Words: v.T("help.seen." + string(seen)), Chosen: asked == string(seen) || asked == "" && seen == interlock.Dead})
	}
	for _, permit := range sheet.Interlock.Permits {
		if permit.Kind == "drive" {
			p.Drives = append(p.Drives, helpChoice{Value: permit.ID, Words: v.Text(permit.Moves), Chosen: v.gin.Query("drive") == permit.ID})
		}
	}
	for _, c := range sheet.Interlock.Codes {
		value := v.Number(float64(c.Blinks), 0)
		chosen := v.gin.Query("code") == value
		p.Codes = append(p.Codes, helpChoice{Value: value, Words: v.T("help.blinks", "n", c.Blinks), Chosen: chosen})
		if chosen {
			p.Code = v.Text(c.Means)
		}
	}
}

func (p *helpPage) answer(v *visit, section *machine.Interlock, logic *interlock.Logic, seen interlock.Symptom, drive string, at map[string]bool) {
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
	p.Suspects = v.faultsWords(section, blocked.Suspects)
	if len(blocked.Changes) == 0 {
		p.Outside = append(p.Outside, v.T("help.outside."+string(seen)))
	}
}
