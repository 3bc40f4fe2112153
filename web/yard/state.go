package yard

// How a machine stands: what it is cleared for, where its readings lead, and what a lead
// changes about it.

import (
	"net/http"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/trend"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/draw"
	"vespers/store"
	"vespers/web/page"
)

// readingLine is what was read at one reading over hours, and where that leads.
type readingLine struct {
	Name, Last, Limit, Leads string
	View                     page.SceneView
	Rows                     []readRow // the same as numbers
}

type readRow struct{ Hours, Value string }

// readingsLeast is from how many values on a picture says more than the last one.
const readingsLeast = 2

// readings tells what was read of a machine since each part was new.
func readings(v *page.Visit, m store.Machine, sheet *machine.Sheet) ([]readingLine, error) {
	memory, err := v.Site.Store.Memory(v.Context(), m.ID)
	if err != nil {
		return nil, err
	}
	var out []readingLine
	for _, s := range memory.Series {
		c, ok := sheet.Check(s.Check)
		if !ok || len(s.Points) < readingsLeast {
			continue
		}
		r, ok := c.Reading(s.Item)
		if !ok || r.Limits == nil || r.Unit != s.Unit {
			continue
		}
		out = append(out, newReadingLine(v, c, r, s, m.Hours))
	}
	return out, nil
}

func newReadingLine(v *page.Visit, c *machine.Check, r *machine.Reading, s defect.Series, hours float64) readingLine {
	shown := v.Unit(r.Unit)
	in := func(value float64) text.Measure { return r.Measure(value) }
	line := readingLine{Name: v.Text(c.Name) + ", " + v.Text(r.Name), Last: v.Amount(in(s.Points[len(s.Points)-1].Value))}
	var limits []float64
	for _, l := range []*float64{r.Limits.Low, r.Limits.High} {
		if l == nil {
			continue
		}
		limits = append(limits, shown.In(in(*l).Quantity))
		if line.Limit != "" {
			line.Limit += " – "
		}
		line.Limit += v.Amount(in(*l))
	}
	var points []trend.Point
	for _, p := range s.Points {
		points = append(points, trend.Point{At: p.Hours, Value: shown.In(in(p.Value).Quantity)})
		line.Rows = append(line.Rows, readRow{v.Number(p.Hours, 1), v.Amount(in(p.Value))})
	}
	line.View = page.SceneView{Voice: v.Voice, Scene: draw.Readings(points, limits)}
	if at, ok := defect.LeadsTo(c, r, s, hours); ok {
		hour, _ := unit.Find("h")
		line.Leads = v.T("readings.leads", "limit", v.Amount(at.Limit), "hours", v.AmountTo(text.Measure{Quantity: hour.Of(at.Left), Unit: "h"}, 0))
	}
	return line
}

// faultMarks are where on its drawing something is open.
func faultMarks(sheet *machine.Sheet, open []yard.Defect, grade func(yard.Defect) defect.Grade) []draw.Mark {
	worst := map[string]defect.Grade{}
	for _, d := range open {
		if c, ok := sheet.Check(d.Point); ok {
			worst[c.At] = defect.Worse(grade(d), worst[c.At])
		}
	}
	var marks []draw.Mark
	for _, c := range sheet.Checks {
		g, found := worst[c.At]
		if !found {
			continue
		}
		delete(worst, c.At)
		state := "noted"
		if g == defect.Halt {
			state = "fault"
		}
		marks = append(marks, draw.Mark{Spot: c.At, State: state})
	}
	return marks
}

// changeMachine takes a lead's word of what a machine is called, and where it stands.
func changeMachine(v *page.Visit) {
	told(v, yard.ChangeMachine{Machine: v.Param("machine"), Name: v.Field("name"), Bay: v.Field("bay"), Hirer: v.Field("hirer")})
}

// sendAway takes a machine out of the yard.
func sendAway(v *page.Visit) {
	told(v, yard.SendAway{Machine: v.Param("machine"), Why: v.Field("why")})
}

// bringBack puts one that left in a bay again.
func bringBack(v *page.Visit) {
	told(v, yard.BringBack{Machine: v.Param("machine"), Bay: v.Field("bay")})
}

// told passes on what a lead says of a machine, and shows it again.
func told(v *page.Visit, c yard.Command) {
	_, err := v.Say(c)
	if words, refused := v.Words(err); refused {
		showMachineWith(v, http.StatusUnprocessableEntity, words, false)
		return
	}
	saved(v, err, "/machines/"+v.Param("machine"))
}
