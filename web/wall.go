package web

import (
	"net/http"
	"strings"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/trend"
	"vespers/draw"
	"vespers/store"
)

// wallPage tells a lead how well the interlocks of every machine are proved:
// what the round of each kind shows, and when each machine's was last whole.
type wallPage struct {
	Kinds    []wallKind
	Machines []wallMachine
}

// wallKind is what is the same for all machines of a sheet.
type wallKind struct {
	Name   string
	Tests  int
	Shown  int // dangerous faults that the round shows
	All    int
	Own    string   // what the manual's own routine shows, if there is one
	Unseen []string // what no round shows
}

// wallMachine is one machine. A yard has hundreds: it is in words already.
type wallMachine struct {
	ID, Name, Grade, Type string
	Find                  string // what the filter looks in
	Proved                string // when and by whom; "" if never
	Covers                string // how much of what is dangerous its round shows
	Nothing               bool   // nothing to be proved
	Stale                 bool   // longer ago than a week
	Stops                 []wallStop
}

// wallStop is how a drive's stopping time moves. It is drawn where it grows.
type wallStop struct {
	What, Last, Limit string
	Words             string // what the trend says
	Growing           bool
	View              sceneView
}

// trendDays is how far back stopping times are looked at.
const trendDays = 120

// staleAfter is how long a proof of a machine that is in use goes unremarked.
const staleAfter = 7 * 24 * time.Hour

func (s *server) showWall(v *visit) {
	machines, err := s.Store.Machines(v.ctx())
	if err != nil {
		s.fail(v, err)
		return
	}
	proofs, err := s.Store.Proofs(v.ctx())
	if err != nil {
		s.fail(v, err)
		return
	}
	times, err := s.Store.StopTimes(v.ctx(), "", v.now.AddDate(0, 0, -trendDays))
	if err != nil {
		s.fail(v, err)
		return
	}
	stops := map[string][]store.StopTime{}
	for _, t := range times {
		stops[t.Machine] = append(stops[t.Machine], t)
	}
	kinds := map[string]wallKind{}
	var page wallPage
	for _, m := range machines {
		sheet, err := s.Store.Sheet(v.ctx(), m.Sheet)
		if err != nil {
			s.fail(v, err)
			return
		}
		kind, known := kinds[m.Sheet]
		if !known {
			kind = s.wallKind(v, m.Sheet, sheet)
			kinds[m.Sheet] = kind
			page.Kinds = append(page.Kinds, kind)
		}
		one := wallMachine{ID: m.ID, Name: m.Name, Grade: string(m.Grade), Type: kind.Name, Nothing: kind.All == 0,
			Find: strings.ToLower(m.Name + " " + m.Bay + " " + kind.Name + " " + v.T("grade."+string(m.Grade)))}
		if !one.Nothing {
			one.Covers = v.T("wall.covers", "shown", kind.Shown, "all", kind.All)
		}
		if p, ok := proofs[m.ID]; ok {
			one.Proved = v.T("wall.proved", "who", p.PersonName, "when", v.When(p.At, v.now))
			one.Stale = v.now.Sub(p.At) > staleAfter
		}
		one.Stops = wallStops(v, &sheet.Interlock, stops[m.ID])
		page.Machines = append(page.Machines, one)
	}
	v.page(http.StatusOK, "wall", v.T("wall.title"), page)
}

// wallKind is what the round of a sheet shows and what it cannot.
func (s *server) wallKind(v *visit, hash string, sheet *machine.Sheet) wallKind {
	kind := wallKind{Name: v.Text(sheet.Name)}
	logic, _ := interlock.Compile(sheet.Interlock)
	if logic == nil || logic.None {
		return kind
	}
	plan := s.Store.Plan(hash, logic)
	kind.Tests, kind.All, kind.Shown = len(plan.Tests), len(plan.Dangerous), len(plan.Dangerous)-len(plan.Uncatchable)
	for _, u := range plan.Uncatchable {
		kind.Unseen = append(kind.Unseen, faultWords(v, &sheet.Interlock, u.Fault)+": "+v.T("uncatchable."+u.Reason))
	}
	if n, caught := logic.OwnRoutine(); n > 0 {
		kind.Own = v.T("round.own_routine", "n", n, "shown", caught, "all", kind.All, "added", kind.Tests-n)
	}
	return kind
}

// wallStops says for each drive how long it took last, and where that leads.
func wallStops(v *visit, section *machine.Interlock, times []store.StopTime) []wallStop {
	var out []wallStop
	for len(times) > 0 {
		n := 1
		for n < len(times) && times[n].Permit == times[0].Permit {
			n++
		}
		one := times[:n]
		times = times[n:]
		last := one[n-1]
		stop := wallStop{What: v.Text(permit(section, last.Permit).Moves), Last: v.Number(last.Seconds, 1), Limit: v.Number(last.Within, 1)}
		var points []trend.Point
		for _, t := range one {
			points = append(points, trend.Point{Day: t.At.Sub(one[0].At).Hours() / 24, Value: t.Seconds})
		}
		today := v.now.Sub(one[0].At).Hours() / 24
		if stop.Words, stop.Growing = trendWords(v, points, last.Within, today); stop.Growing {
			stop.View = sceneView{Scene: draw.Trend(points, last.Within)}
		}
		out = append(out, stop)
	}
	return out
}

// trendWords says where stopping times lead; growing is set where they come to
// the limit within a season.
func trendWords(v *visit, points []trend.Point, limit, today float64) (words string, growing bool) {
	line, ok := trend.Fit(points)
	switch {
	case !ok:
		return v.T("trend.few"), false
	case line.Slope*7 < 0.02: // a fiftieth of a second a week is not told by tap
		return v.T("trend.steady"), false
	}
	week := v.Number(line.Slope*7, 2)
	if day, comes := line.Reaches(limit, today); comes && day-today < 120 {
		return v.T("trend.reaches", "week", week, "day", v.Day(v.now.Add(time.Duration((day-today)*24*float64(time.Hour))))), true
	}
	return v.T("trend.grows", "week", week), false
}
