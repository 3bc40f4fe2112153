package web

import (
	"net/http"
	"sort"
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
	More     int // machines that are not listed, because nothing about them stands out
}

// wallMost is how many machines are listed, those that need a look first.
const wallMost = 60

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
	times, err := s.Store.StopTimes(v.ctx())
	if err != nil {
		s.fail(v, err)
		return
	}
	stops := map[string][]drive{}
	for _, t := range times {
		if d := newDrive(t, v.now); len(d.points) > 0 {
			stops[t.Machine] = append(stops[t.Machine], d)
		}
	}
	// Those that need a look first: a brake that is wearing out, a round that is
	// long ago or was never done.
	look := func(m store.Standing) int {
		for _, d := range stops[m.ID] {
			if d.growing {
				return 0
			}
		}
		proof, proved := proofs[m.ID]
		switch {
		case !proved:
			return 1
		case v.now.Sub(proof.At) > staleAfter:
			return 2
		}
		return 3
	}
	if v.gin.Query("all") == "" && len(machines) > wallMost {
		sort.SliceStable(machines, func(i, j int) bool { return look(machines[i]) < look(machines[j]) })
	}
	shown := machines
	if v.gin.Query("all") == "" && len(machines) > wallMost {
		shown = machines[:wallMost]
	}
	kinds := map[string]wallKind{}
	page := wallPage{More: len(machines) - len(shown)}
	for _, m := range shown {
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

// drive is a drive's stopping times with the line through them.
type drive struct {
	permit  string
	last    store.StopTime
	points  []trend.Point
	line    trend.Line
	ok      bool // there is a line
	growing bool // it comes to the limit within a season
	reaches time.Time
}

// steadyBelow is how much a week is not told by tap, in seconds.
const steadyBelow = 0.02

// season is how far ahead a brake that wears out is worth a word.
const season = 120

// newDrive looks at the times of the last months.
func newDrive(t store.StopTimes, now time.Time) drive {
	d := drive{permit: t.Permit}
	var first time.Time
	for _, p := range t.Points {
		if now.Sub(p.At) > trendDays*24*time.Hour {
			continue
		}
		if len(d.points) == 0 {
			first = p.At
		}
		d.last = p
		d.points = append(d.points, trend.Point{Day: p.At.Sub(first).Hours() / 24, Value: p.Seconds})
	}
	if d.line, d.ok = trend.Fit(d.points); !d.ok || d.line.Slope*7 < steadyBelow {
		return d
	}
	today := now.Sub(first).Hours() / 24
	if day, comes := d.line.Reaches(d.last.Within, today); comes && day-today < season {
		d.growing, d.reaches = true, now.Add(time.Duration((day-today)*24*float64(time.Hour)))
	}
	return d
}

// wallStops says for each drive how long it took last, and where that leads.
func wallStops(v *visit, section *machine.Interlock, drives []drive) []wallStop {
	var out []wallStop
	for _, d := range drives {
		stop := wallStop{What: v.Text(permit(section, d.permit).Moves), Last: v.Number(d.last.Seconds, 1), Limit: v.Number(d.last.Within, 1), Growing: d.growing}
		week := v.Number(d.line.Slope*7, 2)
		switch {
		case !d.ok:
			stop.Words = v.T("trend.few")
		case d.line.Slope*7 < steadyBelow:
			stop.Words = v.T("trend.steady")
		case d.growing:
			stop.Words = v.T("trend.reaches", "week", week, "day", v.Day(d.reaches))
			stop.View = sceneView{Scene: draw.Trend(d.points, d.last.Within)}
		default:
			stop.Words = v.T("trend.grows", "week", week)
		}
		out = append(out, stop)
	}
	return out
}
