package web

import (
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/store"
)

// crewPage is the lead's page of people.
type crewPage struct {
	People  []personView
	Soon    []string // what runs out soon, or has
	Sheets  []sheetChoice
	Roles   []operator.Role
	ID      string
	Problem string
	Name    string
}

type personView struct {
	store.Person
	Read []string // manuals read and things shown, in words
	ID2  string
}

type sheetChoice struct {
	store.SheetInfo
	Name string
}

func (s *server) sheetChoices(v *visit) ([]sheetChoice, error) {
	list, err := s.Store.Catalogue(v.ctx())
	if err != nil {
		return nil, err
	}
	var out []sheetChoice
	for _, i := range list {
		sheet, err := s.Store.Sheet(v.ctx(), i.Hash)
		if err != nil {
			return nil, err
		}
		out = append(out, sheetChoice{SheetInfo: i, Name: v.Text(sheet.Name)})
	}
	return out, nil
}

func (s *server) showCrew(v *visit) { s.crewPage(v, http.StatusOK, "") }

func (s *server) crewPage(v *visit, status int, problem string) {
	people, err := s.Store.People(v.ctx())
	if err != nil {
		s.fail(v, err)
		return
	}
	page := crewPage{Roles: operator.Roles(), ID: newID(), Problem: problem, Name: v.field("name")}
	if page.Sheets, err = s.sheetChoices(v); err != nil {
		s.fail(v, err)
		return
	}
	names := map[string]string{}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	for _, p := range people {
		view := personView{Person: p, ID2: newID()}
		view.Read = page.manuals(v, p.Manuals)
		shown, soon := s.qualifications(v, &page, p.Qualifications, names)
		view.Read = append(view.Read, shown...)
		for _, words := range soon {
			page.Soon = append(page.Soon, p.Name+": "+words)
		}
		page.People = append(page.People, view)
	}
	v.page(status, "crew", v.T("people.title"), page)
}

// manuals are the lines of what somebody has read: one a day and language.
func (p *crewPage) manuals(v *visit, read []operator.ManualRead) []string {
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
func (s *server) qualifications(v *visit, page *crewPage, all []operator.Qualification, names map[string]string) (lines, soon []string) {
	type look struct{ kind, by, day, until string }
	var looks []look
	machines := map[look][]string{}
	words := func(l look, machines string) string {
		line := v.T("qualification."+l.kind, "machine", machines, "day", l.day, "who", names[l.by])
		if l.until != "" {
			line += ", " + v.T("people.until", "day", l.until)
		}
		return line
	}
	for _, q := range all {
		l := look{kind: q.Kind, by: q.By, day: v.Day(q.On)}
		due := s.runsOut(v, page.Sheets, q)
		if !due.IsZero() {
			l.until = v.Day(due)
		}
		name := page.sheetName(q.Sheet)
		if !due.IsZero() && operator.Soon(due, v.now) {
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
	if i := slices.IndexFunc(p.Sheets, func(c sheetChoice) bool { return c.ID == id }); i >= 0 {
		return p.Sheets[i].Name
	}
	return id
}

// runsOut is when a qualification runs out, by its sheet if it is for one.
func (s *server) runsOut(v *visit, sheets []sheetChoice, q operator.Qualification) time.Time {
	i := slices.IndexFunc(sheets, func(c sheetChoice) bool { return c.ID == q.Sheet })
	if i < 0 {
		return q.RunsOut(nil)
	}
	sheet, err := s.Store.Sheet(v.ctx(), sheets[i].Hash)
	if err != nil {
		return q.RunsOut(nil)
	}
	return q.RunsOut(sheet)
}

// recordQualification writes down what a lead saw a person do.
func (s *server) recordQualification(v *visit) {
	if !s.checkID(v) {
		return
	}
	q := operator.Qualification{Kind: v.field("kind"), On: v.now, By: v.person.ID}
	if !slices.Contains(operator.QualificationKinds(), q.Kind) {
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("error.bad_form"))
		return
	}
	if q.Kind != operator.Licence {
		sheet, err := s.Store.Sheet(v.ctx(), v.field("sheet"))
		if err != nil {
			s.crewPage(v, http.StatusUnprocessableEntity, v.T("machine.sheet_needed"))
			return
		}
		q.Sheet = sheet.ID
	}
	if typed := v.field("until"); typed != "" {
		until, err := time.ParseInLocation(time.DateOnly, typed, v.Zone)
		if err != nil || until.Before(v.now) {
			s.crewPage(v, http.StatusUnprocessableEntity, v.T("people.date_needed"))
			return
		}
		until = until.AddDate(0, 0, 1).Add(-time.Second)
		q.Until = &until
	}
	s.recordOf(v, func(person string) recorded { return store.QualificationRecorded{Person: person, Qualification: q} })
}

// recordBorn writes down when a person was born.
func (s *server) recordBorn(v *visit) {
	if !s.checkID(v) {
		return
	}
	born, err := time.Parse(time.DateOnly, v.field("born"))
	if err != nil || born.After(v.now.AddDate(-12, 0, 0)) || born.Before(v.now.AddDate(-100, 0, 0)) {
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("people.date_needed"))
		return
	}
	s.recordOf(v, func(person string) recorded {
		return store.BornRecorded{Person: person, Born: born.Format(time.DateOnly)}
	})
}

// recorded is something a record can hold.
type recorded interface{ Kind() string }

// recordOf records something of the person in the address, and goes back to
// the people.
func (s *server) recordOf(v *visit, make func(person string) recorded) {
	p, err := s.Store.Person(v.ctx(), v.param("person"))
	if err == nil {
		err = s.Store.Record(v.ctx(), v.entry(), make(p.ID))
	}
	if err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/people")
}

func (s *server) addPerson(v *visit) {
	if !s.checkID(v) {
		return
	}
	role := operator.Role(v.field("role"))
	language := text.Language(v.field("language"))
	switch {
	case v.field("name") == "" || len(v.field("name")) > 80:
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("people.name_needed"))
		return
	case !slices.Contains(operator.Roles(), role) || !slices.Contains(text.Languages(), language):
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("error.bad_form"))
		return
	case !store.ValidPIN(v.field("pin")):
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("signin.pin_digits"))
		return
	}
	e := v.entry()
	id := "p-" + e.ID
	err := s.Store.Record(v.ctx(), e, store.PersonAdded{ID: id, Name: v.field("name"), Role: role, Language: language, Units: unit.Metric})
	if err == nil {
		e.ID += ".pin"
		err = s.Store.SetPIN(v.ctx(), e, id, v.field("pin"))
	}
	if err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/people")
}

func (s *server) recordManual(v *visit) {
	if !s.checkID(v) {
		return
	}
	p, err := s.Store.Person(v.ctx(), v.param("person"))
	if err != nil {
		s.fail(v, err)
		return
	}
	sheet, err := s.Store.Sheet(v.ctx(), v.field("sheet"))
	if err != nil {
		s.fail(v, err)
		return
	}
	read := operator.ManualRead{Sheet: sheet.ID, Edition: sheet.Edition, Language: p.Language, On: v.now}
	if err := s.Store.Record(v.ctx(), v.entry(), store.ManualRecorded{Person: p.ID, Manual: read}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/people")
}

func (s *server) resetPIN(v *visit) {
	if !s.checkID(v) {
		return
	}
	if !store.ValidPIN(v.field("pin")) {
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("signin.pin_digits"))
		return
	}
	if err := s.Store.SetPIN(v.ctx(), v.entry(), v.param("person"), v.field("pin")); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/people")
}

func (s *server) personLeft(v *visit) {
	if !s.checkID(v) {
		return
	}
	if v.param("person") == v.person.ID {
		s.crewPage(v, http.StatusUnprocessableEntity, v.T("people.not_yourself"))
		return
	}
	if err := s.Store.Record(v.ctx(), v.entry(), store.PersonLeft{ID: v.param("person")}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/people")
}

// newMachinePage is the form that puts a machine in a bay.
type newMachinePage struct {
	ID               string
	Sheets           []sheetChoice
	Name, Bay, Hours string
	Sheet, Hirer     string
	Problem          string
}

func (s *server) showNewMachine(v *visit) { s.newMachinePage(v, http.StatusOK, "") }

func (s *server) newMachinePage(v *visit, status int, problem string) {
	sheets, err := s.sheetChoices(v)
	if err != nil {
		s.fail(v, err)
		return
	}
	v.page(status, "newmachine", v.T("machine.new_title"), newMachinePage{ID: newID(), Sheets: sheets, Problem: problem,
		Name: v.field("name"), Bay: v.field("bay"), Hours: v.field("hours"), Sheet: v.field("sheet"), Hirer: v.field("hirer")})
}

func (s *server) addMachine(v *visit) {
	if !s.checkID(v) {
		return
	}
	hour, _ := unit.Find("h")
	hours, _, err := unit.Parse(v.field("hours"), hour)
	switch {
	case v.field("name") == "" || v.field("bay") == "" || len(v.field("name")) > 80 || len(v.field("bay")) > 20 || len(v.field("hirer")) > 80:
		s.newMachinePage(v, http.StatusUnprocessableEntity, v.T("machine.name_needed"))
		return
	case err != nil || hours.Value < 0 || hour.In(hours) > 99999:
		s.newMachinePage(v, http.StatusUnprocessableEntity, v.T("machine.hours_needed"))
		return
	}
	if _, err := s.Store.Sheet(v.ctx(), v.field("sheet")); err != nil {
		s.newMachinePage(v, http.StatusUnprocessableEntity, v.T("machine.sheet_needed"))
		return
	}
	e := v.entry()
	added := store.MachineAdded{ID: "m-" + strings.ToLower(e.ID), Name: v.field("name"), Bay: v.field("bay"), Sheet: v.field("sheet"), Hours: hour.In(hours), Hirer: v.field("hirer")}
	if err := s.Store.Record(v.ctx(), e, added); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/yard")
}

func (s *server) adoptSheet(v *visit) {
	if !s.checkID(v) {
		return
	}
	m, old, err := s.Store.Described(v.ctx(), v.param("machine"))
	if err != nil {
		s.fail(v, err)
		return
	}
	sheet, err := s.Store.Sheet(v.ctx(), v.field("sheet"))
	if err != nil || sheet.ID != old.ID {
		s.fail(v, store.ErrNotFound)
		return
	}
	if err := s.Store.Record(v.ctx(), v.entry(), store.SheetAdopted{Machine: m.ID, Sheet: v.field("sheet")}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/machines/" + m.ID)
}

func parseInt(s string) (int, bool) {
	n, err := strconv.Atoi(s)
	return n, err == nil
}
