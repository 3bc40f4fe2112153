// Package models is where a lead makes a model of the yard's own: a sheet like one
// there is, with the numbers of a machine's paper manual. What it would be is drawn,
// planned and proved before it is kept.
package models

import (
	"embed"
	"net/http"
	"slices"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/models", operator.Machines, showModels),
		page.Get("/models/new", operator.Machines, showForm),
		page.Post("/models/new", operator.Machines, prove),
		page.Post("/models/change", operator.Machines, changeForm),
		page.Post("/models/keep", operator.Machines, keep),
		page.Get("/models/sheet/:hash", operator.Look, sendSheet),
	}
}

// modelsPage lists what a model can be made from: the sheets that came with the
// program, and the yard's own for a newer edition.
type modelsPage struct {
	Own  []modelLine
	Like []modelLine
}

// modelLine is one sheet: Of is what a model is made from, Model the one that becomes
// newer.
type modelLine struct {
	Of, Model, Hash string
	Name, Words     string
	Drawing         page.Symbol
}

var modelsPages = page.New[modelsPage](templates, "models")

func showModels(v *page.Visit) {
	list, err := v.Site.Store.Catalogue(v.Context())
	if err != nil {
		v.Fail(err)
		return
	}
	var p modelsPage
	for _, i := range list {
		sheet, err := v.Site.Store.Sheet(v.Context(), i.Hash)
		if err != nil {
			v.Fail(err)
			return
		}
		symbol, err := page.SymbolOf(i.Hash, sheet)
		if err != nil {
			v.Fail(err)
			return
		}
		line := modelLine{Of: i.Hash, Hash: i.Hash, Name: v.Text(sheet.Name), Drawing: symbol, Words: v.T("machine.edition", "edition", i.Edition)}
		if sheet.Made == nil {
			p.Like = append(p.Like, line)
			continue
		}
		line.Model, line.Of = i.Hash, origin(list, sheet, i.Hash)
		line.Words = v.T("own.made", "edition", i.Edition, "who", sheet.Made.By, "manual", sheet.Made.Manual)
		p.Own = append(p.Own, line)
	}
	modelsPages.Show(v, http.StatusOK, v.T("own.title"), p)
}

// origin is the sheet that a newer edition of a model is made from: the newest one of
// what it was made from, or the model itself in a yard that does not have that.
func origin(list []store.SheetInfo, model *machine.Sheet, hash string) string {
	i := slices.IndexFunc(list, func(s store.SheetInfo) bool { return s.ID == model.Made.Of })
	if i < 0 {
		return hash
	}
	return list[i].Hash
}
