package defects

// A defect's whole story as a document.

import (
	"vespers/export"
	"vespers/web/page"
)

func showPDF(v *page.Visit) {
	p, ok := defectData(v, "")
	if !ok {
		return
	}
	d := v.Document(p.Name+": "+p.What, v.T("grade."+p.Grade))
	if p.Until != "" {
		d.Lead[0] += " · " + p.Until
	}
	d.Lead = append(d.Lead, p.Found)
	if p.Note != "" {
		d.Lead = append(d.Lead, p.Note)
	}
	var story, closed []string
	for _, s := range p.Story {
		line := s.Words
		if s.When != "" {
			line = s.When + ": " + line
		}
		story = append(story, line)
	}
	if !p.Open {
		closed = []string{p.Closed, v.T("defect.cause") + ": " + p.Cause, v.T("defect.work") + ": " + p.Work}
	}
	d.Sections = []export.Section{
		{Head: v.T("pdf.why"), Lines: append(p.Reasons, p.Limits...)},
		{Head: v.T("defect.controls"), Lines: p.Controls},
		{Head: v.T("story.title"), Lines: story},
		{Head: v.T("repair.title"), Lines: closed},
	}
	v.SendPDF("defect.pdf", d)
}
