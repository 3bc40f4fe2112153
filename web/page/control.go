package page

// The controls of a machine, as pages show and list them.

import (
	"slices"

	"vespers/core/machine"
	"vespers/core/round"
	"vespers/core/text"
	"vespers/draw"
)

// ControlView is a control on a list, with the number it has on the figure.
type ControlView struct {
	ID          string
	Number      int
	Name, Where string
	Ways        []PositionView
}

// PositionView is one way that a control stands.
type PositionView struct {
	ID             string
	Name, Do, Does string
	Keeps          string // what it does when it is let go
	Caution        string
	Now            bool // it stands so
}

// Figure is a machine from above with controls marked on it.
type Figure struct {
	Machine  string // its name, where a page shows several
	View     SceneView
	Controls []ControlView
}

// Controls lists all controls of a sheet by number; at, if it is not nil, is how
// their contacts stand.
func (v *Visit) Controls(sheet *machine.Sheet, at map[string]bool) []ControlView {
	var out []ControlView
	for i, c := range sheet.AllControls() {
		one := v.control(c, i+1)
		now := c.Stands(at)
		for _, p := range c.Ways {
			one.Ways = append(one.Ways, v.position(&c, p, now != nil && now.ID == p.ID))
		}
		out = append(out, one)
	}
	return out
}

func (v *Visit) control(c machine.Control, number int) ControlView {
	return ControlView{ID: c.ID, Number: number, Name: v.Text(c.Name), Where: v.Text(c.Where)}
}

func (v *Visit) position(c *machine.Control, p machine.Position, now bool) PositionView {
	one := PositionView{ID: p.ID, Name: v.Text(p.Name), Do: v.Text(p.Do), Does: v.Text(p.Does), Now: now}
	if p.Caution != (text.Text{}) {
		one.Caution = v.Text(p.Caution)
	}
	switch to, springs := c.Way(p.SpringsTo); {
	case springs && len(c.Ways) == 2:
		one.Keeps = v.T("control.springs")
	case springs:
		one.Keeps = v.T("control.springs_to", "to", v.Text(to.Name))
	case p.Notch:
		one.Keeps = v.T("control.notch")
	}
	return one
}

// Figure marks every control of a sheet.
func (v *Visit) Figure(sheet *machine.Sheet) Figure {
	var knobs []draw.Knob
	for i, c := range sheet.AllControls() {
		knobs = append(knobs, draw.Knob{Control: c, Number: i + 1})
	}
	return Figure{View: SceneView{draw.Controls(sheet, knobs), v.Voice}}
}

// Moved marks the controls that changes move, on the machine each is on, numbered
// over all of them in the order of the changes, each once, and says the number of
// each change's; 0 is none. Only machines on which something is moved are shown.
func (v *Visit) Moved(sheets []*machine.Sheet, changes []round.Change) (figures []Figure, numbers []int) {
	numbers = make([]int, len(changes))
	figures = make([]Figure, len(sheets))
	knobs := make([][]draw.Knob, len(sheets))
	last := 0
	for i, change := range changes {
		for s, sheet := range sheets {
			c, ok := moved(sheet, change)
			if !ok {
				continue
			}
			k := slices.IndexFunc(knobs[s], func(k draw.Knob) bool { return k.Control.ID == c.ID })
			if k < 0 {
				last++
				k = len(knobs[s])
				knobs[s] = append(knobs[s], draw.Knob{Control: c, Number: last, Moved: true})
				figures[s].Controls = append(figures[s].Controls, v.control(c, last))
			}
			numbers[i] = knobs[s][k].Number
			break
		}
	}
	for s, sheet := range sheets {
		figures[s].View = SceneView{draw.Controls(sheet, knobs[s]), v.Voice}
	}
	return figures, numbers
}

// moved is the control of a sheet that a change moves.
func moved(sheet *machine.Sheet, change round.Change) (machine.Control, bool) {
	for _, c := range sheet.AllControls() {
		if change.Switch != "" && c.Works(change.Switch) || change.Control != "" && c.ID == change.Control {
			return c, true
		}
	}
	return machine.Control{}, false
}
