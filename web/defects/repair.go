package defects

// What was done about a defect: the form that begins its proof.

import (
	"net/http"
	"slices"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

// repairForm asks what was done, and says what will be looked at and tested again.
type repairForm struct {
	ID                 string
	Cause, Work, Parts string
	Others             []otherLine // open defects of the machine that may be mended with it
	Own                []placeLine // where the defect is
	Points             []placeLine // where else hands may have been
	Controls           []placeLine // switches and drives
	Again              []string    // points that are looked at again, as it stands
	Tests              int         // tests of the round that are repeated
	Round              bool        // all of them
	Nothing            bool
	Carriers           []yard.Machine
}

// placeLine is a point, a switch or a drive that hands may have been at.
type placeLine struct {
	ID, Name   string
	On, Renews bool
}

// otherLine is another open defect of the machine.
type otherLine struct {
	ID, Grade, What string
	On              bool
}

// typedRepair is what the form says.
func typedRepair(v *page.Visit, d string) yard.BeginRepair {
	return yard.BeginRepair{Defects: append([]string{d}, v.Fields("with")...), Cause: v.Field("cause"), Work: v.Field("work"), Parts: v.Field("parts"),
		Touched: v.Fields("touched"), Replaced: v.Fields("replaced"), Carrier: v.Field("carrier")}
}

// newRepairForm is the form for a defect, with what was typed.
func newRepairForm(v *page.Visit, d yard.Defect, sheet *machine.Sheet) (*repairForm, error) {
	view, check := v.Site.Store.View(v.Context())
	c := typedRepair(v, d.ID)
	f := &repairForm{ID: page.NewID(), Cause: c.Cause, Work: c.Work, Parts: c.Parts}
	if f.Cause == "" {
		f.Cause = v.Query("cause")
	}
	m, _ := view.Machine(d.Machine)
	for _, other := range view.OpenDefects(d.Machine) {
		if other.ID != d.ID {
			f.Others = append(f.Others, otherLine{other.ID, string(other.Finding.GradeAt(m.Hours, v.Now)), v.Defect(sheet, other), slices.Contains(c.Defects, other.ID)})
		}
	}
	plain := yard.BeginRepair{Defects: []string{d.ID}}
	r, tests, err := plain.Repeated(view, *v.Person, v.Now)
	if err != nil {
		return nil, err
	}
	f.Tests, f.Round, f.Nothing = tests, r.Round, tests+len(r.Points) == 0
	for _, id := range r.Points {
		if point, ok := sheet.Check(id); ok {
			f.Again = append(f.Again, v.Text(point.Name))
		}
	}
	f.places(v, sheet, r, c)
	if sheet.Carrier != nil {
		f.Carriers = yard.Carriers(view, sheet.Carrier.Family, v.Now)
	}
	return f, check()
}

// places lists where hands may have been.
func (f *repairForm) places(v *page.Visit, sheet *machine.Sheet, r outing.Repair, c yard.BeginRepair) {
	for i := range sheet.Checks {
		point := &sheet.Checks[i]
		line := placeLine{point.ID, v.Text(point.Name), slices.Contains(c.Touched, point.ID), slices.Contains(c.Replaced, point.ID)}
		if slices.Contains(r.Touched, point.ID) {
			f.Own = append(f.Own, line)
		} else {
			f.Points = append(f.Points, line)
		}
	}
	section := interlock.Section(sheet)
	for _, sw := range section.Switches {
		f.Controls = append(f.Controls, placeLine{sw.ID, tell.Position(v.Voice, sw, true), slices.Contains(c.Touched, sw.ID), slices.Contains(c.Replaced, sw.ID)})
	}
	for _, p := range section.Permits {
		if p.Kind == "drive" {
			f.Controls = append(f.Controls, placeLine{p.ID, v.T("repair.drive", "what", tell.Lower(v.Text(p.Moves))), slices.Contains(c.Touched, p.ID), slices.Contains(c.Replaced, p.ID)})
		}
	}
}

// beginRepair takes what was done, and leads to its proof.
func beginRepair(v *page.Visit) {
	id := v.Param("defect")
	done, err := v.Say(typedRepair(v, id))
	if words, refused := v.Words(err); refused {
		showDefectWith(v, http.StatusUnprocessableEntity, words)
		return
	}
	to := "/defects/" + id
	if err == nil && done.Outing != nil && done.Outing.Status == outing.Open {
		to = "/outings/" + done.Outing.ID
	}
	saved(v, err, to)
}

// mayMend reports whether whoever reads may tell what was done.
func mayMend(v *page.Visit, d yard.Defect) bool { return d.Open && v.May(operator.Mend) }
