package page

// Sheets as pages read them.

import "vespers/store"

// SheetChoice is a sheet that can be chosen, by its name.
type SheetChoice struct {
	store.SheetInfo
	Name string
}

// SheetChoices lists the newest edition of every sheet.
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
		out = append(out, SheetChoice{SheetInfo: i, Name: v.Text(sheet.Name)})
	}
	return out, nil
}
