// Package defects is a defect's page: what was found, looking for the switch
// behind a failed test, and the return to service.
package defects

import (
	"embed"
	"errors"
	"net/http"
	"strings"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/round"
	"vespers/core/yard"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/defects", operator.Desk, showDesk),
		page.Get("/workshop", operator.Mend, showWorkshop),
		page.Get("/defects/:defect", operator.Look, showDefect),
		page.Get("/defects/:defect/tag", operator.Look, showTag),
		page.Get("/defects/:defect/defect.pdf", operator.Look, showPDF),
		page.Post("/defects/:defect/terms", operator.Ease, setTerms),
		page.Post("/me/news", operator.OwnThings, hearNews),
		page.Post("/defects/:defect/repair", operator.Mend, beginRepair),
		page.Get("/defects/:defect/find", operator.Mend, showFind),
		page.Post("/defects/:defect/find", operator.Mend, tryFault),
		page.Post("/defects/:defect/find/again", operator.Mend, dropTrials),
	}
}

// defectPage shows one defect and, to a technician, the form that closes it.
type defectPage struct {
	Defect, Machine, Name string // ids, and the machine's name
	Grade, What, Until    string
	Overdue               bool
	Found, Closed         string
	Reasons, Limits       []string
	Note                  string
	Noted                 []outingNote
	Open                  bool
	Hirer                 string // whose machine it is, where it is hired
	MayClose, MayFind     bool
	Problem               string
	Cause, Work, Parts    string // as it was closed
	Proof                 string // the outing in which it was proved
	Repair                *repairForm
	Terms                 *termsForm // a lead may ease or tighten it
	Story                 []storyLine
	// Controls is how the controls stood when a test failed.
	Controls []string
}

type outingNote struct{ Photo, Note string }

var defectPages = page.New[defectPage](templates, "defect")

func showDefect(v *page.Visit) { showDefectWith(v, http.StatusOK, "") }

func showDefectWith(v *page.Visit, status int, problem string) {
	if p, ok := defectData(v, problem); ok {
		defectPages.Show(v, status, p.What, p)
	}
}

// defectData is the defect of the address; ok is false, and the visit answered, where it
// could not be read.
func defectData(v *page.Visit, problem string) (p defectPage, ok bool) {
	d, err := v.Site.Store.Defect(v.Context(), v.Param("defect"))
	if err != nil {
		v.Fail(err)
		return p, false
	}
	m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
	if err != nil {
		v.Fail(err)
		return p, false
	}
	grade := d.Finding.GradeAt(m.Hours, v.Now)
	p = defectPage{Defect: d.ID, Machine: m.ID, Name: m.Name, Grade: string(grade), What: v.Defect(sheet, d.Defect), Note: d.Note, Open: d.Open,
		Overdue: d.Open && grade != d.Finding.Grade, Hirer: m.Hirer, Problem: problem,
		MayClose: mayMend(v, d.Defect), Found: v.T("defect.found", "who", d.FinderName, "when", v.When(d.FoundAt, v.Now))}
	p.Reasons, p.Limits = tell.Reasons(v.Voice, d.Finding)
	if d.Finding.Grade == defect.Mend {
		p.Until = tell.Deadline(v.Voice, d.Finding.Deadline)
	}
	if !d.Open {
		p.Closed, p.Cause, p.Work = v.T("defect.closed", "who", d.CloserName, "when", v.When(d.ClosedAt, v.Now)), d.Cause, d.Work
	}
	if p.MayClose {
		if p.Repair, err = newRepairForm(v, d.Defect, sheet); err != nil {
			v.Fail(err)
			return p, false
		}
	}
	if mayEase(v, d.Defect, grade) {
		p.Terms = newTermsForm(v, d.Defect, sheet)
	}
	if p.Story, err = storyOf(v, d); err != nil {
		v.Fail(err)
		return p, false
	}
	if o, err := v.Site.Store.Outing(v.Context(), d.Outing); err == nil {
		p.story(v, o, d.Defect)
	}
	p.MayFind = p.MayFind && p.MayClose && m.Hirer == ""
	return p, true
}

// story fills in what the outing that found the defect knows of it.
func (p *defectPage) story(v *page.Visit, o *outing.Outing, d yard.Defect) {
	for _, n := range o.Unit(d.Machine).Notes(d.ID) {
		p.Noted = append(p.Noted, outingNote{Photo: n.Photo, Note: n.Note})
	}
	u, test, ok := o.Test(d.ID)
	if !ok {
		return
	}
	p.MayFind = !u.Round.Results[test].Slow()
	for _, sw := range u.Interlocks().Switches {
		p.Controls = append(p.Controls, tell.Position(v.Voice, sw, u.Round.Plan.Tests[test].To[sw.ID]))
	}
}

// saved leads on, or shows what went wrong.
func saved(v *page.Visit, err error, to string) {
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved(to)
}

// findPage helps a technician to find the switch behind a failed round: the
// test that tells most, until nothing tells the suspects apart.
type findPage struct {
	Defect, Machine, Name string
	What                  string
	ID                    string
	Rungs                 []page.Rung
	Cautions              []string
	Suspects              []string // in words
	Pairs                 bool     // no single fault explains it
	None                  bool     // nothing explains it
	Sound                 bool     // no fault at all is among the suspects
	Done                  []string // what was seen so far, in words
	Tried                 int      // how many of these here
	Next                  string   // kind of the next test, "" if none tells more
	Return                bool
	Stand                 []string    // how every control is set first, the engine off
	Start                 bool        // the engine is started then
	Set                   []page.Todo // what is moved with it running
	Speed                 string      // how fast it runs meanwhile
	AtTest                []string    // cautions of this test
	Act, Back             page.Todo
	Moves                 string
	MayTry                bool
	Cause                 string
	Try, Turn             string // what is done in a refusal, and to start the engine
}

var findPages = page.New[findPage](templates, "find")

// search reads the failed round behind the defect of the address; ok is false,
// and the visit answered, if there is none to look into.
func search(v *page.Visit) (yard.Defect, yard.Search, bool) {
	view, check := v.Site.Store.View(v.Context())
	d, ok := view.Defect(v.Param("defect"))
	if !ok {
		v.Fail(errors.Join(check(), store.ErrNotFound))
		return d, yard.Search{}, false
	}
	found, err := yard.Look(view, d)
	if err := check(); err != nil {
		v.Fail(err)
		return d, found, false
	}
	if err != nil {
		v.Fail(store.ErrNotFound)
		return d, found, false
	}
	return d, found, true
}

func showFind(v *page.Visit) {
	d, found, ok := search(v)
	if !ok {
		return
	}
	m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
	if err != nil {
		v.Fail(err)
		return
	}
	section, logic := found.Unit.Interlocks(), found.Unit.Round.Logic()
	p := findPage{Defect: d.ID, Machine: m.ID, Name: m.Name, What: v.Defect(sheet, d), ID: page.NewID(), Tried: found.Tried,
		MayTry: d.Open && v.May(operator.Mend), None: len(found.Result.Suspects) == 0}
	marked := map[string]bool{}
	for _, names := range found.Result.Suspects {
		p.Pairs = p.Pairs || len(names) > 1
		p.Sound = p.Sound || len(names) == 0
		p.Suspects = append(p.Suspects, tell.Suspect(v.Voice, section, names))
		for _, f := range names {
			marked[interlock.ReadFault(f).On] = true
		}
	}
	for _, o := range found.All {
		p.Done = append(p.Done, v.T("find.seen", "test", tell.Test(v.Voice, section, logic, o.Test), "seen", tell.Observed(v.Voice, o)))
	}
	for _, c := range section.Cautions {
		p.Cautions = append(p.Cautions, v.Text(c))
	}
	at, watched := logic.Positions(logic.Rest), ""
	if next := found.Result.Next; next != nil {
		at, watched = next.To, next.Permit
		p.Next, p.Return = next.Kind, next.Return
		p.steps(v, found.Unit.Round, *next)
	}
	if len(p.Suspects) == 1 || p.Next == "" {
		p.Cause = strings.Join(p.Suspects, " "+v.T("find.or")+" ")
	}
	p.Rungs = v.Rungs(section, at, marked, watched)
	findPages.Show(v, http.StatusOK, v.T("find.title"), p)
}

// steps tells the next test, from whatever the machine was left like.
func (p *findPage) steps(v *page.Visit, r round.State, next interlock.Test) {
	stand, in := r.Alone(next)
	for _, sw := range r.Section.Switches {
		p.Stand = append(p.Stand, tell.Position(v.Voice, sw, stand[sw.ID]))
	}
	p.Start, p.Set = in.Start, v.Todos(in.Set)
	p.Act, p.Back = v.Todo(in.Act), v.Todo(in.Back)
	for _, c := range in.Cautions {
		p.AtTest = append(p.AtTest, v.Text(c))
	}
	if in.Speed != "" {
		p.Speed = v.T("round.speed." + string(in.Speed))
	}
	p.Moves = v.Text(r.Section.Permit(next.Permit).Moves)
	p.Try, p.Turn = v.T("round.turn_key_moment"), v.T("round.turn_key")
	if own := r.Section.HowStarted(); own != nil {
		p.Try, p.Turn = v.Text(own.Try), v.Text(own.Start)
	}
}

// tryFault passes on what the next test showed; a page that is out of date is
// told so.
func tryFault(v *page.Visit) {
	_, err := v.Say(yard.TryFault{Defect: v.Param("defect"), Tried: v.Whole("tried"), Seen: v.Field("seen")})
	saved(v, err, "/defects/"+v.Param("defect")+"/find")
}

// dropTrials begins the search again.
func dropTrials(v *page.Visit) {
	_, err := v.Say(yard.DropTrials{Defect: v.Param("defect")})
	saved(v, err, "/defects/"+v.Param("defect")+"/find")
}
