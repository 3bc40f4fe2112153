// Package people is the leads' page of the crew: who is here, what each has
// read, practised and holds, and what leads did about it.
package people

import (
	"embed"
	"net/http"
	"slices"
	"strings"
	"time"

	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/yard"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/people", operator.People, showCrew),
		page.Post("/people", operator.People, addPerson),
		page.Post("/people/:person", operator.People, changePerson),
		page.Post("/people/:person/manual", operator.Vouch, sawManual),
		page.Post("/people/:person/qualification", operator.Vouch, sawShown),
		page.Post("/people/:person/born", operator.Vouch, sawBorn),
		page.Post("/people/:person/withdraw", operator.Vouch, withdraw),
		page.Post("/people/:person/pin", operator.People, lendPIN),
		page.Post("/people/:person/duties", operator.People, handDuties),
		page.Get("/people/:person/left", operator.People, askLetGo),
		page.Post("/people/:person/left", operator.People, letGo),
		page.Post("/people/:person/back", operator.People, takeBack),
	}
}

// crewPage is the lead's page of people.
type crewPage struct {
	People    []personView
	Gone      []goneView
	Soon      []string // what runs out soon, or has
	Acts      []string // what leads did about people and the yard
	Tried     []string // wrong PINs
	Sheets    []page.SheetChoice
	Roles     []operator.Role
	Languages []text.Language
	ID        string
	Problem   string
	Name      string // as typed
	Role      string
	Language  string
}

type personView struct {
	ID, Name, Born string
	Role           operator.Role
	Language       text.Language
	Self           bool
	StandsIn       string // until when, in words
	MayStandIn     bool
	Read           []string // manuals read and things shown, in words
	Records        []recordLine
	Form           string
}

// recordLine is one thing that was written down and can be taken back.
type recordLine struct{ ID, Words string }

type goneView struct{ ID, Name, Since, Form string }

var crewPages = page.New[crewPage](templates, "crew")

func showCrew(v *page.Visit) { showCrewWith(v, http.StatusOK, "") }

const (
	actsMost  = 12
	triedDays = 14
	goneMost  = 8
)

func showCrewWith(v *page.Visit, status int, problem string) {
	p := crewPage{Roles: operator.Roles(), Languages: text.Languages(), ID: page.NewID(), Problem: problem, Name: v.Field("name"), Role: v.Field("role"), Language: v.Field("language")}
	if err := p.fill(v); err != nil {
		v.Fail(err)
		return
	}
	crewPages.Show(v, status, v.T("people.title"), p)
}

func (p *crewPage) fill(v *page.Visit) error {
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		return err
	}
	if p.Sheets, err = v.SheetChoices(); err != nil {
		return err
	}
	for _, one := range people {
		view := personView{ID: one.ID, Name: one.Name, Role: one.Role, Language: one.Language, Born: one.Born, Self: one.ID == v.Person.ID, Form: page.NewID(), MayStandIn: one.MayStandIn()}
		if one.MayStandIn() && one.Leads(v.Now) {
			view.StandsIn = v.Day(one.StandsIn)
		}
		view.Read = p.manuals(v, one.Manuals)
		shown, soon := p.qualifications(v, one.Qualifications)
		view.Read = append(view.Read, shown...)
		for _, words := range soon {
			p.Soon = append(p.Soon, one.Name+": "+words)
		}
		view.Records = p.records(v, one)
		p.People = append(p.People, view)
	}
	gone, err := v.Site.Store.Gone(v.Context(), goneMost)
	if err != nil {
		return err
	}
	for _, one := range gone {
		p.Gone = append(p.Gone, goneView{ID: one.ID, Name: one.Name, Since: v.When(one.Left, v.Now), Form: page.NewID()})
	}
	return p.notices(v)
}

// notices are what all leads should see: acts about people, and wrong PINs.
func (p *crewPage) notices(v *page.Visit) error {
	acts, err := v.Site.Store.Acts(v.Context(), actsMost)
	if err != nil {
		return err
	}
	for _, a := range acts {
		p.Acts = append(p.Acts, v.T("act."+a.Kind, "who", a.ByName, "whom", a.Name, "when", v.When(a.At, v.Now), "why", a.Why))
	}
	tried, err := v.Site.Store.Tried(v.Context(), "", v.Now.AddDate(0, 0, -triedDays), actsMost)
	if err != nil {
		return err
	}
	for _, t := range tried {
		p.Tried = append(p.Tried, t.PersonName+": "+v.T("tried.elsewhere", "n", t.Times, "when", v.When(t.At, v.Now), "address", t.Address))
	}
	return nil
}

// records lists what can be taken back, one line each.
func (p *crewPage) records(v *page.Visit, one store.Person) []recordLine {
	var out []recordLine
	for _, m := range one.Manuals {
		if m.Record != "" {
			out = append(out, recordLine{m.Record, v.T("people.read", "sheets", v.T("people.sheet", "sheet", p.sheetName(m.Sheet), "edition", m.Edition), "day", v.Day(m.On), "language", v.T("language."+string(m.Language)))})
		}
	}
	for _, q := range one.Qualifications {
		if q.Record != "" {
			out = append(out, recordLine{q.Record, v.T("qualification."+q.Kind, "machine", p.sheetName(q.Sheet), "day", v.Day(q.On), "who", v.Name(q.By))})
		}
	}
	return out
}

// manuals are the lines of what somebody has read: one a day and language.
func (p *crewPage) manuals(v *page.Visit, read []operator.ManualRead) []string {
	var out []string
	for i := 0; i < len(read); {
		first, sheets := read[i], []string(nil)
		for ; i < len(read) && read[i].Language == first.Language && v.Day(read[i].On) == v.Day(first.On); i++ {
			sheets = append(sheets, v.T("people.sheet", "sheet", p.sheetName(read[i].Sheet), "edition", read[i].Edition))
		}
		out = append(out, v.T("people.read", "sheets", strings.Join(sheets, ", "), "day", v.Day(first.On), "language", v.T("language."+string(first.Language))))
	}
	return out
}

// qualifications are the lines of what somebody has shown, one for all that the
// same person saw on one day, and those of what runs out soon.
func (p *crewPage) qualifications(v *page.Visit, all []operator.Qualification) (lines, soon []string) {
	type look struct{ kind, by, day, until string }
	var looks []look
	machines := map[look][]string{}
	words := func(l look, machines string) string {
		line := v.T("qualification."+l.kind, "machine", machines, "day", l.day, "who", v.Name(l.by))
		if l.until != "" {
			line += ", " + v.T("people.until", "day", l.until)
		}
		return line
	}
	for _, q := range all {
		l := look{kind: q.Kind, by: q.By, day: v.Day(q.On)}
		due := p.runsOut(v, q)
		if !due.IsZero() {
			l.until = v.Day(due)
		}
		name := p.sheetName(q.Sheet)
		if !due.IsZero() && operator.Soon(due, v.Now) {
			soon = append(soon, words(l, name))
		}
		if machines[l] == nil {
			looks = append(looks, l)
		}
		machines[l] = append(machines[l], name)
	}
	for _, l := range looks {
		lines = append(lines, words(l, strings.Join(machines[l], ", ")))
	}
	return lines, soon
}

func (p *crewPage) sheetName(id string) string {
	if i := slices.IndexFunc(p.Sheets, func(c page.SheetChoice) bool { return c.SheetInfo.ID == id }); i >= 0 {
		return p.Sheets[i].Name
	}
	return id
}

// runsOut is when a qualification runs out, by its sheet if it is for one.
func (p *crewPage) runsOut(v *page.Visit, q operator.Qualification) time.Time {
	i := slices.IndexFunc(p.Sheets, func(c page.SheetChoice) bool { return c.SheetInfo.ID == q.Sheet })
	if i < 0 {
		return q.RunsOut(nil)
	}
	sheet, err := v.Site.Store.Sheet(v.Context(), p.Sheets[i].Hash)
	if err != nil {
		return q.RunsOut(nil)
	}
	return q.RunsOut(sheet)
}

// say passes on something said of a person, and goes back to the people.
func say(v *page.Visit, c yard.Command) {
	_, err := v.Say(c)
	if words, refused := v.Words(err); refused {
		showCrewWith(v, http.StatusUnprocessableEntity, words)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/people")
}

func addPerson(v *page.Visit) {
	say(v, yard.AddPerson{Name: v.Field("name"), Role: v.Field("role"), Language: v.Field("language"), PIN: v.Field("pin")})
}

func changePerson(v *page.Visit) {
	say(v, yard.ChangePerson{Person: v.Param("person"), Name: v.Field("name"), Role: v.Field("role"), Language: v.Field("language")})
}

func sawManual(v *page.Visit) {
	say(v, yard.SawManual{Person: v.Param("person"), Sheet: v.Field("sheet")})
}

func sawShown(v *page.Visit) {
	say(v, yard.SawShown{Person: v.Param("person"), Kind: v.Field("kind"), Sheet: v.Field("sheet"), Until: v.Field("until")})
}

func sawBorn(v *page.Visit) {
	say(v, yard.SawBorn{Person: v.Param("person"), Born: v.Field("born"), Was: v.Field("was")})
}

func withdraw(v *page.Visit) {
	say(v, yard.Withdraw{Person: v.Param("person"), Record: v.Field("record"), Why: v.Field("why")})
}

func lendPIN(v *page.Visit) {
	say(v, yard.LendPIN{Person: v.Param("person"), PIN: v.Field("pin")})
}

func handDuties(v *page.Visit) {
	say(v, yard.HandDuties{Person: v.Param("person"), Until: v.Field("until")})
}

func letGo(v *page.Visit) { say(v, yard.LetGo{Person: v.Param("person")}) }

func takeBack(v *page.Visit) { say(v, yard.TakeBack{Person: v.Param("person")}) }

// letGoPage asks before somebody is let go.
type letGoPage struct{ ID, Person, Name, Role string }

var letGoPages = page.New[letGoPage](templates, "letgo")

func askLetGo(v *page.Visit) {
	one, err := v.Site.Store.Person(v.Context(), v.Param("person"))
	if err != nil {
		v.Fail(err)
		return
	}
	letGoPages.Show(v, http.StatusOK, v.T("people.left"), letGoPage{ID: page.NewID(), Person: one.ID, Name: one.Name, Role: v.T("role." + string(one.Role))})
}
