// Package find looks for outings and defects over the whole time of a yard, and takes
// them away: the filter is the address.
package find

import (
	"bytes"
	"embed"
	"net/http"
	"net/url"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/find", operator.Desk, showFind),
		page.Get("/find/outings.csv", operator.Desk, outingsCSV),
		page.Get("/find/defects.csv", operator.Desk, defectsCSV),
		page.Get("/find/answers.csv", operator.Desk, answersCSV),
		page.Get("/find/fills.csv", operator.Desk, fillsCSV),
		page.Get("/find/people.csv", operator.People, peopleCSV),
		page.Get("/export/yard.jsonl", operator.House, yardLines),
	}
}

// shownMost is how many of each a page shows; a table takes more.
const shownMost = 60

// findPage is a filter and what fits it.
type findPage struct {
	Machines, People, Grades, Points []option
	From, To                         string
	Outings                          []outingLine
	Defects                          []defectLine
	More                             bool // there are more than are shown
	Tables                           []tableLink
	Problem                          string
	MayTakeAll                       bool
}

// tableLink is a table with the filter in its address.
type tableLink struct{ Href, Name string }

// option is something that may be looked for.
type option struct {
	ID, Name string
	On       bool
}

type outingLine struct{ ID, When, Machine, Who, How string }

type defectLine struct{ ID, When, Machine, Grade, What, Who, Closed string }

var findPages = page.New[findPage](templates, "find-records")

// filter reads the address; ok is false for a day that is none.
func filter(v *page.Visit) (f store.Filter, ok bool) {
	f = store.Filter{Machine: v.Query("machine"), Person: v.Query("person"), Grade: defect.Grade(v.Query("grade")), Point: v.Query("point")}
	for name, into := range map[string]*time.Time{"from": &f.From, "to": &f.To} {
		typed := v.Query(name)
		if typed == "" {
			continue
		}
		day, err := time.ParseInLocation(time.DateOnly, typed, v.Zone)
		if err != nil {
			return f, false
		}
		*into = v.Yard.DayStart(day.Add(12 * time.Hour))
		if name == "to" { // that day too
			*into = v.Yard.DayStart(day.Add(36 * time.Hour))
		}
	}
	return f, f.Grade == "" || slices.Contains(defect.Grades(), f.Grade)
}

func showFind(v *page.Visit) {
	p := findPage{From: v.Query("from"), To: v.Query("to"), MayTakeAll: v.May(operator.House)}
	for _, name := range []string{"defects", "outings", "answers", "fills", "people"} {
		if name != "people" || v.May(operator.People) {
			p.Tables = append(p.Tables, tableLink{"/find/" + name + ".csv?" + query(v), v.T("find_records." + name + "_csv")})
		}
	}
	f, ok := filter(v)
	status := http.StatusOK
	if !ok {
		p.Problem, status = v.T("find_records.no_day"), http.StatusUnprocessableEntity
	}
	err := p.options(v, f)
	if err == nil && ok {
		err = p.fill(v, f)
	}
	if err != nil {
		v.Fail(err)
		return
	}
	findPages.Show(v, status, v.T("find_records.title"), p)
}

// query is the filter of the address without what is empty.
func query(v *page.Visit) string {
	q := url.Values{}
	for _, name := range []string{"machine", "person", "from", "to", "grade", "point"} {
		if typed := v.Query(name); typed != "" {
			q.Set(name, typed)
		}
	}
	return q.Encode()
}

// options lists what may be looked for.
func (p *findPage) options(v *page.Visit, f store.Filter) error {
	machines, err := v.Site.Store.Machines(v.Context())
	if err != nil {
		return err
	}
	sheets, points := map[string]bool{}, map[string]string{}
	for _, m := range machines {
		p.Machines = append(p.Machines, option{m.ID, m.Name, m.ID == f.Machine})
		if sheets[m.Sheet] || f.Machine != "" && m.ID != f.Machine {
			continue
		}
		sheets[m.Sheet] = true
		_, sheet, err := v.Site.Store.Described(v.Context(), m.ID)
		if err != nil {
			return err
		}
		named(v, sheet, points)
	}
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		return err
	}
	for _, one := range people {
		p.People = append(p.People, option{one.ID, one.Name, one.ID == f.Person})
	}
	for _, g := range defect.Grades()[1:] {
		p.Grades = append(p.Grades, option{string(g), v.T("grade." + string(g)), g == f.Grade})
	}
	for id, name := range points {
		p.Points = append(p.Points, option{id, name, id == f.Point})
	}
	slices.SortFunc(p.Points, func(a, b option) int { return bytes.Compare([]byte(a.Name), []byte(b.Name)) })
	return nil
}

// named notes what the points of a sheet are called; of two with one id the first.
func named(v *page.Visit, sheet *machine.Sheet, points map[string]string) {
	for i := range sheet.Checks {
		if _, known := points[sheet.Checks[i].ID]; !known {
			points[sheet.Checks[i].ID] = v.Text(sheet.Checks[i].Name)
		}
	}
}

func (p *findPage) fill(v *page.Visit, f store.Filter) error {
	if f.Grade == "" && f.Point == "" {
		list, err := v.Site.Store.FindOutings(v.Context(), f, shownMost+1)
		if err != nil {
			return err
		}
		if len(list) > shownMost {
			list, p.More = list[:shownMost], true
		}
		for _, o := range list {
			how := v.T("machine.not_released")
			if !o.Released.IsZero() {
				how = v.T("machine.was_released")
			}
			p.Outings = append(p.Outings, outingLine{o.ID, v.When(o.Began, v.Now), o.MachineName, o.OperatorName, how})
		}
	}
	list, err := v.Site.Store.FindDefects(v.Context(), f, shownMost+1)
	if err != nil {
		return err
	}
	if len(list) > shownMost {
		list, p.More = list[:shownMost], true
	}
	for _, d := range list {
		m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
		if err != nil {
			return err
		}
		line := defectLine{ID: d.ID, When: v.When(d.FoundAt, v.Now), Machine: m.Name, Grade: string(d.Finding.Grade), What: v.Defect(sheet, d.Defect), Who: d.FinderName}
		if !d.Open {
			line.Closed = v.T("defect.closed", "who", d.CloserName, "when", v.When(d.ClosedAt, v.Now))
		}
		p.Defects = append(p.Defects, line)
	}
	return nil
}

// yardLines sends the whole yard as lines of JSON, without PINs.
func yardLines(v *page.Visit) {
	var out bytes.Buffer
	err := v.Site.Store.Export(v.Context(), &out, false)
	send(v, "application/x-ndjson", "yard.jsonl", out.Bytes(), err)
}

// send answers with a file to be kept.
func send(v *page.Visit, kind, name string, data []byte, err error) {
	if err != nil {
		v.Fail(err)
		return
	}
	v.SendFile(kind, name, data)
}
