// Package paper is the paper for a day without power: a blank inspection of each
// machine to be printed, and copying in what was written on one.
package paper

import (
	"embed"
	"net/http"
	"slices"
	"strings"

	"rsc.io/qr"

	"vespers/core/inspect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/round"
	"vespers/core/yard"
	"vespers/draw"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/paper", operator.Look, func(v *page.Visit) { showStart(v, http.StatusOK, yard.CopyPaper{Code: v.Query("code")}, "") }),
		page.Post("/paper", operator.TakeOut, begin),
		page.Get("/paper/blanks", operator.Look, showBlanks),
		page.Get("/machines/:machine/blank", operator.Look, showBlank),
		page.Get("/outings/:outing/paper", operator.Look, showCopy),
		page.Post("/outings/:outing/paper/answer", operator.Work, answer),
		page.Post("/outings/:outing/paper/told", operator.Work, tellDay),
		page.Post("/outings/:outing/paper/test", operator.Work, test),
		page.Post("/outings/:outing/paper/finish", operator.Work, finish),
	}
}

// startPage asks for the code of a paper, and has the blanks to be printed.
type startPage struct {
	Form, Problem string
	Typed         yard.CopyPaper
	May           bool
	Machines      []paperOf
}

type paperOf struct{ ID, Name, Bay, Code string }

var startPages = page.New[startPage](templates, "start")

func showStart(v *page.Visit, status int, typed yard.CopyPaper, problem string) {
	p := startPage{Form: page.NewID(), Typed: typed, Problem: problem, May: v.May(operator.TakeOut)}
	if p.Typed.Day == "" {
		p.Typed.Day = v.Now.In(v.Zone).Format("2006-01-02")
	}
	view, check := v.Site.Store.View(v.Context())
	for _, m := range view.Machines() {
		p.Machines = append(p.Machines, paperOf{m.ID, m.Name, m.Bay, yard.PaperCode(m.ID, m.Sheet)})
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	slices.SortFunc(p.Machines, func(a, b paperOf) int { return strings.Compare(a.Name, b.Name) })
	startPages.Show(v, status, v.T("paper.title"), p)
}

func begin(v *page.Visit) {
	typed := yard.CopyPaper{Code: v.Field("code"), Day: v.Field("day"), Time: v.Field("time")}
	done, err := v.Say(typed)
	if words, refused := v.Words(err); refused && !v.Scripted() {
		showStart(v, http.StatusUnprocessableEntity, typed, words)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/outings/" + done.Outing.ID + "/paper")
}

// blankPage is the papers of one machine or of all.
type blankPage struct {
	Day, Yard string
	Papers    []blank
	NotThese  []string // machines that have none, and why
}

// blank is the paper of one machine.
type blank struct {
	ID, Name, Type, Bay, Code, Where string
	Picture                          draw.Scene // of the address where it is copied in
	Known                            []string   // what stands against it when it is printed
	Protection                       []string
	Days                             []day // conditions that limits hang on
	Lines                            []line
	Carried                          bool // its interlocks are tested with what carries it
	Tests                            bool // it has tests of its own
}

type day struct {
	ID, Name string
	Choices  []choice
}

var blankPages = page.New[blankPage](templates, "blank")

func showBlank(v *page.Visit) {
	view, _ := v.Site.Store.View(v.Context())
	m, ok := view.Machine(v.Param("machine"))
	if !ok {
		v.Fail(store.ErrNotFound)
		return
	}
	showBlanksOf(v, view, []yard.Machine{m}, m.Name)
}

func showBlanks(v *page.Visit) {
	view, _ := v.Site.Store.View(v.Context())
	showBlanksOf(v, view, view.Machines(), v.T("paper.all"))
}

func showBlanksOf(v *page.Visit, view yard.View, machines []yard.Machine, title string) {
	p := blankPage{Day: v.Day(v.Now), Yard: v.Yard.Name}
	for _, m := range machines {
		o, err := yard.BlankPaper(view, m, v.Now)
		if words, refused := v.Words(err); refused {
			p.NotThese = append(p.NotThese, m.Name+": "+words)
			continue
		}
		if err != nil {
			v.Fail(err)
			return
		}
		b, err := newBlank(v, m, o, yard.DueOn(view, m, v.Now))
		if err != nil {
			v.Fail(err)
			return
		}
		p.Papers = append(p.Papers, b)
	}
	blankPages.Show(v, http.StatusOK, v.T("paper.of", "machine", title), p)
}

func newBlank(v *page.Visit, m yard.Machine, o *outing.Outing, due []yard.Due) (blank, error) {
	u := o.Units[0]
	b := blank{ID: m.ID, Name: m.Name, Type: v.Text(u.Sheet.Name), Bay: m.Bay, Code: o.Paper.Code, Lines: lines(v, o, u),
		Carried: u.Sheet.Carrier != nil, Tests: len(u.Round.Plan.Tests) > 0}
	b.Where = v.Address("/paper?code=" + b.Code)
	code, err := qr.Encode(b.Where, qr.M)
	if err != nil {
		return b, err
	}
	b.Picture = draw.Code(code.Size, code.Black)
	for _, d := range o.Defects() {
		b.Known = append(b.Known, tell.Standing(v.Voice, o, d))
	}
	for _, d := range due {
		if d.Check.Every.Days == 1 {
			continue // it stands on the paper
		}
		b.Known = append(b.Known, v.T("paper.due", "point", v.Text(d.Check.Name), "how", tell.Due(v.Voice, d, v.Now)))
	}
	for _, p := range o.Protection() {
		if len(p.For) == 0 {
			b.Protection = append(b.Protection, v.Text(p.Name))
		}
	}
	for i := range u.Sheet.Conditions {
		b.Days = append(b.Days, newDay(v, u, i))
	}
	return b, nil
}

func newDay(v *page.Visit, u *outing.UnitState, i int) day {
	c := u.Sheet.Conditions[i]
	d := day{ID: c.ID, Name: v.Text(c.Name)}
	for _, one := range c.Choices {
		d.Choices = append(d.Choices, choice{one.ID, v.Text(one.Name)})
	}
	return d
}

// copyPage is a paper that is copied in, or was.
type copyPage struct {
	Outing, Machine, Name, Code string
	Written, Who                string
	Mine, Over, GivenUp         bool
	Form                        string
	Days                        []day // not told yet
	Lines                       []line
	Left                        int
	Worked                      string
	Halts, Missing              []string // what would have kept it in
	// Problem is why something was refused, At the line that it was typed in ("end" for
	// the end of the paper), and Typed all that was typed there.
	Problem, At string
	Typed       map[string]string
}

var copyPages = page.New[copyPage](templates, "copy")

func showCopy(v *page.Visit) { showCopyWith(v, http.StatusOK, "") }

// typedFields are those that a refused line shows again.
var typedFields = []string{"item", "typed", "seconds", "note", "out", "until", "hours"}

// showCopyWith shows the paper, and at one of its lines what was typed and refused there.
func showCopyWith(v *page.Visit, status int, problem string) {
	o, err := v.Site.Store.Outing(v.Context(), v.Param("outing"))
	if err == nil && o.Paper == nil {
		err = store.ErrNotFound
	}
	if err != nil {
		v.Fail(err)
		return
	}
	u := o.Main()
	p := copyPage{Problem: problem, Typed: map[string]string{}}
	for _, name := range typedFields {
		p.Typed[name] = v.Field(name)
	}
	switch {
	case problem == "":
	case v.Field("check") != "":
		p.At = v.Field("check")
	case v.Field("test") != "":
		p.At = "test " + v.Field("test")
	case v.Field("condition") == "":
		p.At = "end"
	}
	view, check := v.Site.Store.View(v.Context())
	who, _ := view.Person(o.Operator())
	p.Outing, p.Machine, p.Name, p.Code, p.Written, p.Who = o.ID, u.Machine, u.Name, o.Paper.Code, v.When(o.Paper.Written, v.Now), v.Name(o.Operator())
	p.Form, p.Lines, p.Over = page.NewID(), lines(v, o, u), o.Status == outing.Closed
	p.Mine = o.May(*v.Person, operator.Work, v.Now) && o.Operator() == v.Person.ID
	p.Left = copied(v, u, who, p.Lines)
	for i, c := range u.Sheet.Conditions {
		if u.Told(c.ID) == "" {
			p.Days = append(p.Days, newDay(v, u, i))
		}
	}
	halts, missing := o.AsOnPaper(who)
	p.Halts = reasons(v, halts)
	for _, m := range missing {
		p.Missing = append(p.Missing, v.Reason(m.Reason))
	}
	if o.End != nil {
		p.GivenUp = o.End.How == outing.EndGivenUp
		if o.End.Worked != nil {
			p.Worked = v.When(*o.End.Worked, v.Now)
		}
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	copyPages.Show(v, status, v.T("paper.of", "machine", u.Name), p)
}

// say passes on what is copied, and leads to the next line of the paper. What is refused
// stays where it was typed; without the page's script it is shown there again.
func say(v *page.Visit, c outing.Command) {
	id := v.Param("outing")
	_, err := v.Say(yard.InOuting{Outing: id, Command: c})
	if words, refused := v.Words(err); refused && !v.Scripted() {
		showCopyWith(v, http.StatusUnprocessableEntity, words)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/outings/" + id + "/paper#next")
}

func answer(v *page.Visit) {
	say(v, outing.Answer{Answer: inspect.Answer{Machine: v.Field("machine"), Check: v.Field("check"), Item: v.Field("item"), Answer: v.Field("answer"), Fault: v.Field("fault"),
		Note: v.Field("note"), Typed: v.Field("typed"), Unit: v.Field("unit")}})
}

func tellDay(v *page.Visit) {
	say(v, outing.Tell{Conditioned: inspect.Conditioned{Machine: v.Field("machine"), Condition: v.Field("condition"), Choice: v.Field("choice")}})
}

func test(v *page.Visit) {
	say(v, outing.CopyTest{Copy: round.Copy{Machine: v.Field("machine"), Test: v.Whole("test"), Result: v.Field("result"), Seconds: v.Field("seconds")}})
}

func finish(v *page.Visit) {
	say(v, outing.FinishPaper{Out: v.Field("out"), Until: v.Field("until"), Hours: v.Field("hours")})
}
