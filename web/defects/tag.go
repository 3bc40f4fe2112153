package defects

// The tag that hangs on a machine, with a code that opens its page.

import (
	"net/http"

	"rsc.io/qr"

	"vespers/core/defect"
	"vespers/draw"
	"vespers/tell"
	"vespers/web/page"
)

// tagPage is a defect to be printed and hung where the key goes.
type tagPage struct {
	Defect, Name, Bay, Type string
	Grade, What, Until      string
	Found, Note, Hirer      string
	Reasons, Limits         []string
	Code                    draw.Scene
	Where                   string
}

var tagPages = page.New[tagPage](templates, "tag")

func showTag(v *page.Visit) {
	d, err := v.Site.Store.Defect(v.Context(), v.Param("defect"))
	if err != nil {
		v.Fail(err)
		return
	}
	m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
	if err != nil {
		v.Fail(err)
		return
	}
	grade := d.Finding.GradeAt(m.Hours, v.Now)
	p := tagPage{Defect: d.ID, Name: m.Name, Bay: m.Bay, Type: v.Text(sheet.Name), Grade: string(grade), What: v.Defect(sheet, d.Defect), Note: d.Note, Hirer: m.Hirer,
		Found: v.T("defect.found", "who", d.FinderName, "when", tell.DayTime(v.Voice, d.FoundAt)), Where: v.Address("/defects/" + d.ID)}
	p.Reasons, p.Limits = tell.Reasons(v.Voice, d.Finding)
	if grade == defect.Mend {
		p.Until = tell.Deadline(v.Voice, d.Finding.Deadline)
	}
	code, err := qr.Encode(p.Where, qr.M)
	if err != nil {
		v.Fail(err)
		return
	}
	p.Code = draw.Code(code.Size, code.Black)
	tagPages.Show(v, http.StatusOK, p.What, p)
}
