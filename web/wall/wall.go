// Package wall is what stands out over many outings, for leads: how well the
// interlocks of every machine are proved, and what comes again and again.
package wall

import (
	"embed"
	"net/http"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/review"
	"vespers/draw"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// wallPage tells a lead how well the interlocks of every machine are proved:
// what the round of each kind shows, and when each machine's was last whole.
type wallPage struct {
	Groups []wallGroup
	Kinds  []wallKind
	Find   string
	More   int // machines that are not listed
}

// wallGroup is the machines that want the same kind of look.
type wallGroup struct {
	Title    string
	Machines []wallMachine
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
	Proved                string // when and by whom, if the group does not say it
	Covers                string // how much of what is dangerous its round shows
	Stops                 []wallStop
}

// wallStop is how a drive's stopping time moves. It is drawn where it grows.
type wallStop struct {
	What, Last, Limit string
	Words             string // what the trend says
	Growing           bool
	View              page.SceneView
}

// wallTitles head the groups.
var wallTitles = map[review.Want]string{
	review.WearsOut: "wall.wears_out", review.NeverProved: "wall.never", review.LongAgo: "wall.long_ago", review.NothingStandsOut: "wall.proved_lately",
}

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/wall", operator.Desk, showWall),
		page.Get("/patterns", operator.Review, showPatterns),
		page.Get("/week", operator.Review, showWeek),
	}
}

var wallPages = page.New[wallPage](templates, "wall")

func showWall(v *page.Visit) {
	list, err := wallMachines(v)
	if err != nil {
		v.Fail(err)
		return
	}
	wall := wallPage{Find: v.Query("find")}
	shown := named(list, wall.Find)
	slices.SortStableFunc(shown, func(a, b candidate) int { return int(a.want - b.want) })
	if v.Query("all") == "" && len(shown) > wallMost {
		wall.More = len(shown) - wallMost
		shown = shown[:wallMost]
	}
	ids := make([]string, len(shown))
	for i, m := range shown {
		ids[i] = m.ID
	}
	times, err := v.Site.Store.StopTimes(v.Context(), ids...)
	if err != nil {
		v.Fail(err)
		return
	}
	kinds := map[string]wallKind{}
	for i, m := range shown {
		kind, known := kinds[m.Sheet]
		if !known {
			kind = newWallKind(v, m.Sheet, m.sheet)
			kinds[m.Sheet] = kind
			wall.Kinds = append(wall.Kinds, kind)
		}
		if i == 0 || m.want != shown[i-1].want {
			wall.Groups = append(wall.Groups, wallGroup{Title: v.T(wallTitles[m.want])})
		}
		group := &wall.Groups[len(wall.Groups)-1]
		group.Machines = append(group.Machines, wallLine(v, m, kind, times[m.ID]))
	}
	wallPages.Show(v, http.StatusOK, v.T("wall.title"), wall)
}

// named are the machines whose words hold all those looked for.
func named(list []candidate, find string) []candidate {
	words := strings.Fields(strings.ToLower(find))
	return slices.DeleteFunc(list, func(c candidate) bool {
		return slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(c.words, word) })
	})
}

// candidate is a machine that may stand on the wall.
type candidate struct {
	store.Proof
	sheet *machine.Sheet
	want  review.Want
	words string // what it is found by
}

func wallMachines(v *page.Visit) ([]candidate, error) {
	machines, err := v.Site.Store.Proofs(v.Context())
	if err != nil {
		return nil, err
	}
	list := make([]candidate, len(machines))
	for i, m := range machines {
		sheet, err := v.Site.Store.Sheet(v.Context(), m.Sheet)
		if err != nil {
			return nil, err
		}
		list[i] = candidate{
			Proof: m, sheet: sheet, want: review.Wanted(sheet.Interlock.None == nil, m.At, review.Wear{Reaches: m.Reaches}, v.Now),
			words: strings.ToLower(m.Name + " " + m.Bay + " " + v.Text(sheet.Name) + " " + v.T("grade."+string(m.GradeAt(v.Now)))),
		}
	}
	return list, nil
}

// newWallKind is what the round of a sheet shows and what it cannot.
func newWallKind(v *page.Visit, hash string, sheet *machine.Sheet) wallKind {
	kind := wallKind{Name: v.Text(sheet.Name)}
	logic := v.Site.Store.Logic(hash, sheet)
	if logic == nil || logic.None {
		return kind
	}
	plan := v.Site.Store.Plan(hash, sheet)
	kind.Tests, kind.All, kind.Shown = len(plan.Tests), len(plan.Dangerous), len(plan.Dangerous)-len(plan.Uncatchable)
	for _, u := range plan.Uncatchable {
		kind.Unseen = append(kind.Unseen, tell.Fault(v.Voice, &sheet.Interlock, u.Fault)+": "+v.T("uncatchable."+u.Reason))
	}
	if n, caught := logic.OwnRoutine(); n > 0 {
		kind.Own = v.T("round.own_routine", "n", n, "shown", caught, "all", kind.All, "added", kind.Tests-n)
	}
	return kind
}

func wallLine(v *page.Visit, m candidate, kind wallKind, times []store.StopTimes) wallMachine {
	one := wallMachine{ID: m.ID, Name: m.Name, Grade: string(m.GradeAt(v.Now)), Type: kind.Name, Find: m.words, Proved: v.T("wall.nothing")}
	if kind.All > 0 {
		one.Covers = v.T("wall.covers", "shown", kind.Shown, "all", kind.All)
		one.Proved = ""
	}
	switch {
	case !m.At.IsZero():
		one.Proved = v.T("wall.proved", "who", m.PersonName, "when", v.When(m.At, v.Now))
	case kind.All > 0 && m.want == review.WearsOut:
		one.Proved = v.T("wall.never")
	}
	for _, t := range times {
		one.Stops = append(one.Stops, newWallStop(v, &m.sheet.Interlock, t))
	}
	return one
}

// newWallStop says how long a drive took last, and where that leads.
func newWallStop(v *page.Visit, section *machine.Interlock, t store.StopTimes) wallStop {
	stop := wallStop{What: v.Text(section.Permit(t.Permit).Moves), Last: v.Number(t.Seconds, 1), Limit: v.Number(t.Within, 1), Growing: t.Wear.Soon(v.Now)}
	week := v.Number(t.Wear.Week, 2)
	switch {
	case t.Wear.Few:
		stop.Words = v.T("trend.few")
	case stop.Growing:
		stop.Words = v.T("trend.reaches", "week", week, "day", v.Day(t.Wear.Reaches))
		if t.Wear.Over(v.Now) {
			stop.Words = v.T("trend.over", "week", week)
		}
		stop.View = page.SceneView{Voice: v.Voice, Scene: draw.Trend(review.StopPoints(t.Times), t.Within)}
	case t.Wear.Week > 0:
		stop.Words = v.T("trend.grows", "week", week)
	default:
		stop.Words = v.T("trend.steady")
	}
	return stop
}
