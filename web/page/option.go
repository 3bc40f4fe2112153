package page

// Options of a machine's sheet, as forms ask for them and pages name them.

import (
	"vespers/core/machine"
)

// OptionView is an option with its ways; Way names the one that is.
type OptionView struct {
	Field, Name, Way string
	Ways             []WayView
}

// WayView is one way of an option.
type WayView struct {
	ID, Name string
	Chosen   bool
}

// OptionView is an option of a machine in words.
func (v *Visit) OptionView(machineID string, o *machine.Option, way string) OptionView {
	view := OptionView{Field: "option[" + machineID + "." + o.ID + "]", Name: v.Text(o.Name)}
	for _, c := range o.Choices {
		view.Ways = append(view.Ways, WayView{ID: c.ID, Name: v.Text(c.Name), Chosen: c.ID == way})
		if c.ID == way {
			view.Way = v.Text(c.Name)
		}
	}
	return view
}
