package wall

// The lead's week: what stopped, what the next look found, how long mornings take, what
// went into the tanks, who runs out of what; each as a picture and as its table.

import (
	"net/http"
	"strconv"
	"time"

	"vespers/core/operator"
	"vespers/core/trend"
	"vespers/core/yard"
	"vespers/store"
	"vespers/web/page"
)

// weekPage is seven days up to now, or up to the end of an earlier day.
type weekPage struct {
	Title, Before, Next string // the weeks beside it, as dates
	Tables              []weekTable
}

// weekTable is one question: a line for each machine, drawn as long as its number.
type weekTable struct {
	ID, Title, What string
	Columns         []string
	Lines           []weekLine
	More            int
}

type weekLine struct {
	Name, Link string
	Share      float64 // of the longest, in per cent
	Cells      []string
	Marked     bool // it wants a look
}

// weekMost is how many lines a table has: what comes after them stands out less.
const weekMost = 12

// weekDays is how long a week is.
const weekDays = 7

var weekPages = page.New[weekPage](templates, "week")

func showWeek(v *page.Visit) {
	to := v.Now
	if on := v.Query("on"); on != "" {
		asked, err := time.ParseInLocation(time.DateOnly, on, v.Zone)
		if err != nil {
			v.Fail(store.ErrNotFound)
			return
		}
		if end := v.Yard.DayStart(asked.AddDate(0, 0, 1).Add(12 * time.Hour)); end.Before(to) {
			to = end
		}
	}
	from := v.Yard.DayStart(v.Yard.DayStart(to.Add(-time.Minute)).AddDate(0, 0, 1-weekDays).Add(time.Hour))
	p := weekPage{Title: v.T("week.title", "from", v.Day(from), "to", v.Day(to)), Before: from.In(v.Zone).AddDate(0, 0, -1).Format(time.DateOnly)}
	if to.Before(v.Now) {
		p.Next = to.In(v.Zone).AddDate(0, 0, weekDays-1).Format(time.DateOnly)
	}
	for _, fill := range []func(*page.Visit, time.Time, time.Time) (weekTable, error){stopsOf, foundNext, stopTimes, wearing, mornings, fuelOf, runsOut} {
		table, err := fill(v, from, to)
		if err != nil {
			v.Fail(err)
			return
		}
		table.Title, table.What = v.T("week."+table.ID), v.T("week.what."+table.ID)
		if len(table.Lines) > weekMost {
			table.More, table.Lines = len(table.Lines)-weekMost, table.Lines[:weekMost]
		}
		p.Tables = append(p.Tables, table)
	}
	weekPages.Show(v, http.StatusOK, p.Title, p)
}

// share is a number as a part of the largest, in per cent.
func share(n, most float64) float64 {
	if most <= 0 {
		return 0
	}
	return 100 * n / most
}

func stopsOf(v *page.Visit, from, to time.Time) (weekTable, error) {
	t := weekTable{ID: "stops", Columns: []string{v.T("week.machine"), v.T("grade.halt"), v.T("week.found")}}
	list, err := v.Site.Store.Stops(v.Context(), from, to)
	most := 0
	for _, one := range list {
		most = max(most, one.Found)
	}
	for _, one := range list {
		t.Lines = append(t.Lines, weekLine{Name: one.Name, Link: "/machines/" + one.Machine, Share: share(float64(one.Found), float64(most)), Marked: one.Halts > 0,
			Cells: []string{strconv.Itoa(one.Halts), strconv.Itoa(one.Found)}})
	}
	return t, err
}

func foundNext(v *page.Visit, from, to time.Time) (weekTable, error) {
	t := weekTable{ID: "found_next", Columns: []string{v.T("week.point"), v.T("week.times")}}
	list, err := v.Site.Store.FoundNext(v.Context(), from, to)
	for _, one := range list {
		name := one.Name + ": " + one.Point
		if sheet, err := v.Site.Store.Sheet(v.Context(), one.Sheet); err == nil {
			if c, ok := sheet.Check(one.Point); ok {
				name = one.Name + ": " + v.Text(c.Name)
			}
		}
		t.Lines = append(t.Lines, weekLine{Name: name, Link: "/machines/" + one.Machine, Share: share(float64(one.Times), float64(list[0].Times)), Cells: []string{strconv.Itoa(one.Times)}})
	}
	return t, err
}

// mornings are the minutes from taking a machine out to its release: the middle one of the
// week, and the longest.
func mornings(v *page.Visit, from, to time.Time) (weekTable, error) {
	t := weekTable{ID: "mornings", Columns: []string{v.T("week.machine"), v.T("week.middle"), v.T("week.longest"), v.T("week.times")}}
	list, err := v.Site.Store.Mornings(v.Context(), from, to)
	of := map[string][]float64{}
	var order []store.Morning
	longest := 0.0
	for _, one := range list {
		if of[one.Machine] == nil {
			order = append(order, one)
		}
		of[one.Machine] = append(of[one.Machine], one.Minutes)
	}
	for _, one := range order {
		longest = max(longest, trend.Median(of[one.Machine]))
	}
	for _, one := range order {
		middle, most := trend.Median(of[one.Machine]), 0.0
		for _, m := range of[one.Machine] {
			most = max(most, m)
		}
		t.Lines = append(t.Lines, weekLine{Name: one.Name, Link: "/machines/" + one.Machine, Share: share(middle, longest),
			Cells: []string{v.T("week.minutes", "n", v.Number(middle, 0)), v.T("week.minutes", "n", v.Number(most, 0)), strconv.Itoa(len(of[one.Machine]))}})
	}
	return t, err
}

func fuelOf(v *page.Visit, from, to time.Time) (weekTable, error) {
	t := weekTable{ID: "fuel", Columns: []string{v.T("week.machine"), v.T("week.litres"), v.T("week.fills"), v.T("week.drift")}}
	list, err := v.Site.Store.FilledIn(v.Context(), from, to)
	if err != nil {
		return t, err
	}
	for _, one := range list {
		sheet, err := v.Site.Store.Sheet(v.Context(), one.Sheet)
		if err != nil {
			return t, err
		}
		log, err := v.Site.Store.Fills(v.Context(), one.Machine)
		if err != nil {
			return t, err
		}
		_, drift := v.Burns(sheet, store.FillRuns(log))
		t.Lines = append(t.Lines, weekLine{Name: one.Name, Link: "/machines/" + one.Machine, Share: share(one.Litres, list[0].Litres), Marked: drift != "",
			Cells: []string{v.Litres(one.Litres), strconv.Itoa(one.Fills), drift}})
	}
	return t, nil
}

// runsOut is who runs out of what, the first first; it is of now, whatever the week.
func runsOut(v *page.Visit, _, _ time.Time) (weekTable, error) {
	t := weekTable{ID: "people", Columns: []string{v.T("week.person"), v.T("week.runs_out")}}
	if !v.May(operator.People) {
		return t, nil
	}
	view, check := v.Site.Store.View(v.Context())
	for _, d := range yard.PapersEnding(view, *v.Person, v.Now) {
		what := v.T("calendar.kind." + d.Qualification.Kind)
		if d.Sheet != nil {
			what += ", " + v.Text(d.Sheet.Name)
		}
		t.Lines = append(t.Lines, weekLine{Name: d.Person.Name + ": " + what, Link: "/people", Share: 100 * d.Near(v.Now), Marked: !d.On.After(v.Now), Cells: []string{v.Day(d.On)}})
	}
	return t, check()
}
