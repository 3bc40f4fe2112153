package wall

// Where stopping times and readings of the yard lead, in a lead's week: they are of now,
// whatever the week.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// stopTimes are the drives that come to the limit of their stopping time, the first first.
func stopTimes(v *page.Visit, _, _ time.Time) (weekTable, error) {
	t := weekTable{ID: "stop_times", Columns: []string{v.T("week.drive"), v.T("week.last"), v.T("week.limit"), v.T("week.leads")}}
	machines, err := v.Site.Store.Proofs(v.Context())
	if err != nil {
		return t, err
	}
	machines = slices.DeleteFunc(machines, func(m store.Proof) bool { return m.Reaches.IsZero() })
	slices.SortStableFunc(machines, func(a, b store.Proof) int { return a.Reaches.Compare(b.Reaches) })
	var ids []string
	for _, m := range machines {
		ids = append(ids, m.ID)
	}
	times, err := v.Site.Store.StopTimes(v.Context(), ids...)
	if err != nil {
		return t, err
	}
	for _, m := range machines {
		sheet, err := v.Site.Store.Sheet(v.Context(), m.Sheet)
		if err != nil {
			return t, err
		}
		for _, one := range times[m.ID] {
			if one.Wear.Reaches.IsZero() {
				continue
			}
			stop := newWallStop(v, &sheet.Interlock, one)
			t.Lines = append(t.Lines, weekLine{Name: m.Name + ": " + stop.What, Link: "/wall?find=" + m.Name, Share: min(100, share(one.Seconds, one.Within)), Marked: stop.Growing,
				Cells: []string{stop.Last + "\u00a0s", stop.Limit + "\u00a0s", v.Day(one.Wear.Reaches)}})
		}
	}
	return t, nil
}

// wearing are the readings that come to a limit, the first first.
func wearing(v *page.Visit, _, _ time.Time) (weekTable, error) {
	t := weekTable{ID: "wear", Columns: []string{v.T("week.point"), v.T("week.last"), v.T("week.limit"), v.T("week.left")}}
	list, err := v.Site.Store.Wearings(v.Context(), weekMost)
	hour, _ := unit.Find("h")
	for _, one := range list {
		near, soon := defect.Near(one.Left)
		if !soon {
			break // and those that follow are farther
		}
		sheet, err := v.Site.Store.Sheet(v.Context(), one.Sheet)
		if err != nil {
			return t, err
		}
		c, ok := sheet.Check(one.Point)
		if !ok {
			continue
		}
		r, ok := c.Reading(one.Item)
		if !ok {
			continue
		}
		left := v.AmountTo(text.Measure{Quantity: hour.Of(one.Left), Unit: "h"}, 0)
		t.Lines = append(t.Lines, weekLine{Name: one.Name + ": " + v.Text(c.Name) + ", " + tell.Lower(v.Text(r.Name)), Link: "/machines/" + one.Machine, Share: 100 * near, Marked: one.Left <= 0,
			Cells: []string{v.Amount(r.Measure(one.Last)), v.Amount(r.Measure(one.Limit)), left}})
	}
	return t, err
}
