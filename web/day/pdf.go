package day

// A day as a document.

import (
	"vespers/export"
	"vespers/web/page"
)

func showPDF(v *page.Visit) {
	p, ok := dayData(v)
	if !ok {
		return
	}
	d := v.Document(p.On, "")
	d.Lead = nil
	for _, c := range p.Counts {
		d.Lead = append(d.Lead, c.Words)
	}
	for _, g := range p.Groups {
		s := export.Section{Head: g.Name}
		for _, one := range g.Strips {
			s.Lines = append(s.Lines, one.Name+": "+one.Steps)
		}
		d.Sections = append(d.Sections, s)
	}
	v.SendPDF("day.pdf", d)
}
