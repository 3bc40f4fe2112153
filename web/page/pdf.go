package page

// Documents to be kept or sent.

import (
	"bytes"

	"vespers/export"
)

// Document is one with a title and a line under it, in the reader's words.
func (v *Visit) Document(title, lead string) export.Document {
	return export.Document{Yard: v.Yard.Name, Title: title, Lead: []string{lead}, Made: v.Now, Language: string(v.Language),
		Foot: v.T("pdf.foot", "who", v.Person.Name, "when", v.Day(v.Now)+" "+v.Clock(v.Now))}
}

// SendPDF answers with a document.
func (v *Visit) SendPDF(name string, d export.Document) {
	var out bytes.Buffer
	if err := export.PDF(&out, d); err != nil {
		v.Fail(err)
		return
	}
	v.SendFile("application/pdf", name, out.Bytes())
}
