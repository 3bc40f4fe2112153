package page

// Sheets as pages read them.

import (
	"vespers/core/machine"
	"vespers/store"
)

// SheetChoice is a machine as it is built, to be chosen by its name.
type SheetChoice struct {
	store.SheetInfo
	Name string
	Key  string // the sheet's hash, with how what is fixed stands
}

// SheetChoices lists the newest edition of every sheet, once for each way that
// the machine is built.
func (v *Visit) SheetChoices() ([]SheetChoice, error) {
	list, err := v.Site.Store.Catalogue(v.Context())
	if err != nil {
		return nil, err
	}
	var out []SheetChoice
	for _, i := range list {
		sheet, err := v.Site.Store.Sheet(v.Context(), i.Hash)
		if err != nil {
			return nil, err
		}
		for _, build := range sheet.Builds() {
			out = append(out, SheetChoice{SheetInfo: i, Name: v.built(sheet, build), Key: machine.Key(i.Hash, build)})
		}
	}
	return out, nil
}

// built names a machine with what is fixed on it, unless its name says so.
func (v *Visit) built(sheet *machine.Sheet, build machine.Chosen) string {
	name := v.Text(sheet.With(build).Name)
	for i := range sheet.Options {
		o := &sheet.Options[i]
		if way, ok := o.Choice(build[o.ID]); ok && way.Model == "" {
			name += " · " + v.Text(way.Name)
		}
	}
	return name
}
