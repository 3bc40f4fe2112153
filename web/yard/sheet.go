package yard

// Adding a sheet to the yard, from its text or a file: checked, shown with what is
// wrong, and kept beside the others until a machine is given it.

import (
	"fmt"
	"io"
	"net/http"
	"unicode/utf8"

	"vespers/catalogue"
	"vespers/web/page"
)

// sheetsPage lists the sheets of the yard, and takes another.
type sheetsPage struct {
	Sheets   []page.SheetChoice
	Text     string   // as it was given
	Problems []string // for which it was not added
	Added    string   // what was added
	Warnings []string // what to look at on what was added
}

var sheetsPages = page.New[sheetsPage](templates, "sheets")

func showSheets(v *page.Visit) { answerSheets(v, http.StatusOK, sheetsPage{}) }

func answerSheets(v *page.Visit, status int, p sheetsPage) {
	var err error
	if p.Sheets, err = v.SheetChoices(); err != nil {
		v.Fail(err)
		return
	}
	sheetsPages.Show(v, status, v.T("sheets.title"), p)
}

func addSheet(v *page.Visit) {
	if err := v.Multipart(); err != nil { // longer than anything may be, or none of this page's forms
		answerSheets(v, http.StatusRequestEntityTooLarge, sheetsPage{Problems: []string{v.T("sheets.too_large")}})
		return
	}
	body, err := givenSheet(v)
	if err != nil {
		v.Fail(err)
		return
	}
	var p sheetsPage
	if utf8.ValidString(body) { // what is no text is not shown as one
		p.Text = body
	}
	sheet, problems := catalogue.Prove("sheet.yaml", []byte(body))
	for _, one := range problems {
		where := fmt.Sprintf("%s:%d", one.File, one.Line)
		if one.Field != "" && one.Field != "/" {
			where += " " + one.Field
		}
		words := where + ": " + v.Reason(one.Reason)
		if sheet != nil {
			p.Warnings = append(p.Warnings, words)
			continue
		}
		p.Problems = append(p.Problems, words)
	}
	if sheet == nil {
		answerSheets(v, http.StatusUnprocessableEntity, p)
		return
	}
	r, err := catalogue.Resolve(sheet)
	if err == nil {
		err = v.Site.Store.OfferSheet(v.Context(), r)
	}
	if words, ok := v.Words(err); ok {
		p.Problems = append(p.Problems, words)
		answerSheets(v, http.StatusConflict, p)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	p.Text, p.Added = "", v.T("sheets.added", "sheet", v.Text(sheet.Name), "edition", sheet.Edition, "points", len(sheet.Checks))
	answerSheets(v, http.StatusOK, p)
}

// givenSheet is the text of the sheet that was sent, from its file where there is
// one. It is no longer than a body may be.
func givenSheet(v *page.Visit) (string, error) {
	file := v.File("file")
	if file == nil {
		return v.Field("text"), nil
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	return string(data), err
}
