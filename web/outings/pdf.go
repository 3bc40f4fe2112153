package outings

// An outing as a document to be kept or sent.

import (
	"slices"
	"strings"

	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/export"
	"vespers/tell"
	"vespers/web/page"
)

// showPDF sends what the verdict says, and every answer that led to it.
func showPDF(v *page.Visit) {
	p, ok := verdict(v)
	if !ok {
		return
	}
	o := p.o
	d := v.Document(p.Names, v.T("pdf.outing", "when", tell.DayTime(v.Voice, o.Began), "who", v.Name(o.Turns[0].Operator)))
	d.Lead = append(d.Lead, p.Type+" · "+v.T("machine.edition", "edition", p.Edition)+" · "+v.T("machine.hours", "hours", v.Number(p.Hours, 1)))
	if p.By != "" {
		d.Lead = append(d.Lead, v.T("verdict.released")+" "+p.By)
	}
	if p.Ended != "" {
		d.Lead = append(d.Lead, p.Ended)
	}
	section := func(key string, lines []string) {
		d.Sections = append(d.Sections, export.Section{Head: v.T(key), Lines: lines})
	}
	section("verdict.halt", p.Halts)
	var missing, cleared, notFor, found []string
	for _, m := range p.Missing {
		missing = append(missing, m.Words)
	}
	for _, u := range p.Cleared {
		cleared = append(cleared, u.Words+only(u.Only))
	}
	for _, u := range p.NotFor {
		notFor = append(notFor, u.Words+only(u.Why))
	}
	for _, f := range p.Found {
		line := v.T("grade."+f.Grade) + ": " + f.What
		for _, more := range append([]string{f.Until, f.By}, f.Reasons...) {
			if more != "" {
				line += " · " + more
			}
		}
		found = append(found, line)
	}
	section("verdict.not_yet", missing)
	section("verdict.cleared_for", cleared)
	section("verdict.not_for", notFor)
	if p.Plan.Said != "" {
		section("pdf.plan", append([]string{p.Plan.Said}, refusedJobs(p.Plan)...))
	}
	if p.Repair != nil {
		section("repair.title", []string{p.Repair.Cause, p.Repair.Work, p.Repair.Parts, p.Repair.Signed})
	}
	section("verdict.found", found)
	var left []string
	for _, l := range p.Left {
		left = append(left, l.Words)
	}
	section("own.release_left", left)
	load, err := loaded(v, o)
	if err != nil {
		v.Fail(err)
		return
	}
	section("load.title", load)
	section("pdf.answers", answers(v, o))
	section("pdf.people", p.Answered)
	v.SendPDF("outing.pdf", d)
}

// only are conditions or reasons behind a use.
func only(list []string) string {
	words := ""
	for _, one := range list {
		words += " (" + one + ")"
	}
	return words
}

func refusedJobs(p planned) (out []string) {
	for _, j := range p.Jobs {
		out = append(out, j.Use+only(j.Why))
	}
	return out
}

// loaded is the load sheet, part by part; nothing where there is none.
func loaded(v *page.Visit, o *outing.Outing) (out []string, err error) {
	view, check := v.Site.Store.View(v.Context())
	l, ok := view.Load(o.ID)
	if err := check(); err != nil || !ok {
		return nil, err
	}
	out = append(out, v.T("load.said", "who", v.Name(l.By), "when", tell.DayTime(v.Voice, l.At)))
	for _, u := range o.Units {
		for _, rule := range v.Kept(u.Sheet, u.Practice, "load") {
			out = append(out, u.Name+": "+rule)
		}
	}
	for _, part := range tell.Load(v.Voice, l.LoadChecked) {
		out = append(out, part.Name+": "+strings.Join(slices.Concat([]string{part.Answer + "."}, part.Words, part.Mend), " "))
	}
	return append(out, v.T("load.caution")), nil
}

// answers lists every answer that counts, machine by machine in the order of its sheet.
func answers(v *page.Visit, o *outing.Outing) (out []string) {
	for _, u := range o.Units {
		for i := range u.Sheet.Checks {
			c := &u.Sheet.Checks[i]
			for _, item := range u.Places(c) {
				g, ok := u.Last(c.ID, item)
				if !ok || g.Answer == inspect.NotReached {
					continue
				}
				line := v.Text(c.Name)
				if r, ok := c.Reading(item); ok {
					line += ", " + tell.Lower(v.Text(r.Name))
				}
				line += ": " + tell.Given(v.Voice, c, g.Answered)
				if g.Right != nil {
					line += " → " + tell.Given(v.Voice, c, g.Right.Now)
				}
				if len(o.Units) > 1 {
					line = u.Name + ", " + tell.Lower(line)
				}
				out = append(out, line)
			}
		}
	}
	return out
}
