package yard

// Adding a sheet to the yard, from its text or a file: checked, shown with what is
// wrong, and kept beside the others until a machine is given it.

import (
	"fmt"
	"io"
	"net/http"

	"vespers/catalogue"
	"vespers/web/page"
)

// sheetsPage lists the sheets of the yard, and takes another.
type sheetsPage struct {
	ID       string
	Sheets   []page.SheetChoice
	Text     string // as it was given
	Problems []string
	Added    string // what was added
}

var sheetsPages = page.New[sheetsPage](templates, "sheets")

func showSheets(v *page.Visit) { answerSheets(v, http.StatusOK, sheetsPage{}) }

func answerSheets(v *page.Visit, status int, p sheetsPage) {
	var err error
	if p.Sheets, err = v.SheetChoices(); err != nil {
		v.Fail(err)
		return
	}
	p.ID = page.NewID()
	sheetsPages.Show(v, status, v.T("sheets.title"), p)
}

func addSheet(v *page.Visit) {
	if err := v.Multipart(); err != nil {
		v.Fail(page.ErrForm)
		return
	}
	name, body := "sheet.yaml", v.Field("text")
	if file := v.File("file"); file != nil {
		defer file.Close()
		data, err := io.ReadAll(file) // no longer than a body may be; Check bounds a sheet
		if err != nil {
			v.Fail(err)
			return
		}
		body = string(data)
	}
	p := sheetsPage{Text: body}
	sheet, problems := catalogue.Check(name, []byte(body))
	for _, one := range problems {
		where := fmt.Sprintf("%s:%d", one.File, one.Line)
		if one.Field != "" && one.Field != "/" {
			where += " " + one.Field
		}
		p.Problems = append(p.Problems, where+": "+v.Reason(one.Reason))
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
