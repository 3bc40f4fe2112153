package web

import (
	"net/http"
	"sort"
	"strings"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/draw"
	"vespers/store"
)

// yardPage is the plan of the shed, or the same as a list.
type yardPage struct {
	Sheets []symbol
	Bays   []bay
	Tally  []tally
}

// bay is one machine where it stands. It is flat and in words already: a yard
// has hundreds of them, and templates are slow at finding things out.
type bay struct {
	ID, No, Name, Type string
	Grade, GradeWord   string
	Symbol, View       string // the drawing and its viewBox
	Class              string // how it is drawn: its grade, and out or busy
	State              string // what it is doing
	Find               string // what the list's filter looks in
}

// tally counts machines of one grade.
type tally struct {
	Grade defect.Grade
	Count int
}

func (s *server) yardData(v *visit) (yardPage, error) {
	machines, err := s.Store.Machines(v.ctx())
	if err != nil {
		return yardPage{}, err
	}
	var page yardPage
	symbols := map[string]symbol{}
	types := map[string]string{}
	count, words := map[defect.Grade]int{}, map[defect.Grade]string{}
	for _, g := range defect.Grades() {
		words[g] = v.T("grade." + string(g))
	}
	inBay := v.T("yard.in_bay")
	for _, m := range machines {
		drawn, known := symbols[m.Sheet]
		if !known {
			sheet, err := s.Store.Sheet(v.ctx(), m.Sheet)
			if err != nil {
				return page, err
			}
			if drawn, err = s.pages.pieces.symbol(m.Sheet, sheet); err != nil {
				return page, err
			}
			symbols[m.Sheet], types[m.Sheet] = drawn, v.Text(sheet.Name)
			page.Sheets = append(page.Sheets, drawn)
		}
		count[m.Grade]++
		b := bay{ID: m.ID, No: m.Bay, Name: m.Name, Type: types[m.Sheet], Grade: string(m.Grade), GradeWord: words[m.Grade],
			Symbol: drawn.ID, View: drawn.View, Class: string(m.Grade), State: inBay}
		if m.Outing != nil {
			b.State = s.stateWords(v, m.Outing)
			b.Class += " busy"
			if m.Outing.Status == outing.Out {
				b.Class = string(m.Grade) + " out"
			}
		}
		b.Find = strings.ToLower(strings.Join([]string{b.Name, b.No, b.Type, b.State, b.GradeWord}, " "))
		page.Bays = append(page.Bays, b)
	}
	sort.Slice(page.Sheets, func(i, j int) bool { return page.Sheets[i].ID < page.Sheets[j].ID })
	for _, g := range defect.Grades() {
		if count[g] > 0 {
			page.Tally = append(page.Tally, tally{g, count[g]})
		}
	}
	return page, nil
}

// stateWords says what a machine is doing.
func (s *server) stateWords(v *visit, o *store.OutingRow) string {
	switch {
	case o.Status == outing.Out:
		return v.T("yard.out_with", "who", o.OperatorName, "since", v.Clock(o.Released))
	case o.Outcome == outing.Halted:
		return v.T("yard.halted_with", "who", o.OperatorName)
	case o.Stage == outing.StepWalk:
		return v.T("yard.walking", "who", o.OperatorName, "done", o.Done, "points", o.Points)
	}
	return v.T("yard.at_stage", "who", o.OperatorName, "stage", v.T("stage."+o.Stage))
}

func (s *server) showYard(v *visit) {
	page, err := s.yardData(v)
	if err != nil {
		s.fail(v, err)
		return
	}
	v.page(http.StatusOK, "yard", v.yard.Name, page)
}

func (s *server) showList(v *visit) {
	page, err := s.yardData(v)
	if err != nil {
		s.fail(v, err)
		return
	}
	v.page(http.StatusOK, "list", v.T("yard.list_title"), page)
}

// machinePage is one machine: how it stands and how it came to that.
type machinePage struct {
	store.Machine
	Sheet    *machine.Sheet
	Scene    draw.Scene
	Symbol   string
	Open     []defectView
	Closed   []defectView
	Current  *store.OutingRow
	Past     []store.OutingRow
	Halted   bool
	MayTake  bool
	ID       string
	NewSheet *store.SheetInfo
	Refused  string
	// Interlocked: it has interlocks to play with and to ask about.
	Interlocked bool
	Carriers    []store.Machine // what may carry this implement out now
}

func (s *server) showMachine(v *visit) { s.machinePage(v, http.StatusOK, "") }

func (s *server) machinePage(v *visit, status int, refused string) {
	m, sheet, err := s.Store.Described(v.ctx(), v.param("machine"))
	if err != nil {
		s.fail(v, err)
		return
	}
	page := machinePage{Machine: m, Sheet: sheet, Scene: draw.Machine(sheet), ID: newID(), Refused: refused, Interlocked: sheet.Interlock.None == nil}
	all, err := s.Store.Defects(v.ctx(), m.ID, false)
	if err != nil {
		s.fail(v, err)
		return
	}
	for _, d := range all {
		view := s.defectView(v, page.Sheet, d)
		if d.Open {
			page.Open = append(page.Open, view)
			page.Halted = page.Halted || d.HaltAt(m.Hours, v.now)
		} else {
			page.Closed = append([]defectView{view}, page.Closed...)
		}
	}
	if page.Past, err = s.Store.Past(v.ctx(), m.ID, 8); err != nil {
		s.fail(v, err)
		return
	}
	for i := range page.Past {
		if page.Past[i].ID == m.Outing {
			page.Current = &page.Past[i]
		}
	}
	if page.Sheet.Carrier != nil {
		if page.Carriers, err = s.carriers(v, page.Sheet.Carrier.Family); err != nil {
			s.fail(v, err)
			return
		}
	}
	page.MayTake = v.person.Role != operator.Visitor && page.Current == nil && !page.Halted
	if v.person.Role == operator.Lead {
		if page.NewSheet, err = s.Store.NewerSheet(v.ctx(), page.Sheet.ID, m.Sheet); err != nil {
			s.fail(v, err)
			return
		}
	}
	v.page(status, "machine", m.Name, page)
}

// carriers lists the machines of a family that stand in their bays and may go
// out.
func (s *server) carriers(v *visit, family string) ([]store.Machine, error) {
	all, err := s.Store.Machines(v.ctx())
	if err != nil {
		return nil, err
	}
	var free []store.Machine
	for _, m := range all {
		sheet, err := s.Store.Sheet(v.ctx(), m.Sheet)
		if err != nil {
			return nil, err
		}
		if sheet.Family == family && m.Outing == nil && m.Grade != defect.Halt {
			free = append(free, m.Machine)
		}
	}
	return free, nil
}

// defectView is a defect in the reader's words.
type defectView struct {
	store.Defect
	What    string
	Reasons []string
	Until   string
	Limits  []string
	Overdue bool
	Cell    string
}

func (s *server) defectView(v *visit, sheet *machine.Sheet, d store.Defect) defectView {
	view := defectView{Defect: d, What: defectWords(v, sheet, d)}
	for _, r := range d.Finding.Reasons {
		view.Reasons = append(view.Reasons, v.Reason(r))
	}
	for _, r := range d.Finding.Restrictions {
		view.Limits = append(view.Limits, v.T("restriction."+string(r)))
	}
	if d.Grade == defect.Mend {
		view.Until = deadlineWords(v, d.Finding.Deadline)
		view.Overdue = d.Finding.Deadline.At != nil && v.now.After(*d.Finding.Deadline.At)
	}
	return view
}

// defectWords names a defect: the point and the fault, or the test.
func defectWords(v *visit, sheet *machine.Sheet, d store.Defect) string {
	if d.Test >= 0 {
		return v.T("defect.failed_test", "n", d.Test+1)
	}
	c, ok := sheet.Check(d.Point)
	if !ok {
		return d.Point
	}
	words := v.Text(c.Name)
	if f, ok := c.Fault(d.Fault); ok {
		return words + ": " + lower(v.Text(f.Name))
	}
	if r, ok := c.Reading(d.Item); ok {
		words += ": " + lower(v.Text(r.Name))
		if d.Value != nil {
			words += ", " + d.Value.Typed + "\u00a0" + d.Value.Unit
		}
	}
	return words
}

func deadlineWords(v *visit, d defect.Deadline) string {
	switch {
	case d.Hours != nil && d.At != nil:
		return v.T("deadline.both", "hours", v.Number(*d.Hours, 1), "day", v.Day(*d.At))
	case d.Hours != nil:
		return v.T("deadline.hours", "hours", v.Number(*d.Hours, 1))
	case d.At != nil:
		return v.T("deadline.day", "day", v.Day(*d.At))
	}
	return ""
}

// defectPage shows one defect and, to a technician, the form that closes it.
type defectPage struct {
	defectView
	MachineName string
	Hirer       string // whose machine it is, where it is hired
	MayClose    bool
	MayFind     bool // the technician can look for the switch behind it
	ID          string
	Problem     string
	Cause, Work string
	// Controls is how the controls stood when a test failed.
	Controls []string
	Noted    []outing.Noted
}

func (s *server) showDefect(v *visit) { s.defectPage(v, http.StatusOK, "") }

func (s *server) defectPage(v *visit, status int, problem string) {
	d, err := s.Store.Defect(v.ctx(), v.param("defect"))
	if err != nil {
		s.fail(v, err)
		return
	}
	m, sheet, err := s.Store.Described(v.ctx(), d.Machine)
	if err != nil {
		s.fail(v, err)
		return
	}
	view := s.defectView(v, sheet, d)
	if o, _, _, ok := s.failedRound(v, d); ok {
		view.What += ": " + lower(v.failedTest(o, d.ID))
	}
	cause := v.field("cause")
	if cause == "" {
		cause = v.gin.Query("cause")
	}
	v.page(status, "defect", view.What, defectPage{defectView: view, Controls: s.controlsAt(v, d), Noted: s.notes(v, d), MachineName: m.Name, Hirer: m.Hirer, MayClose: d.Open && v.person.Role.MayMend(),
		ID: newID(), Problem: problem, Cause: cause, Work: v.field("work"), MayFind: d.Open && m.Hirer == "" && v.person.Role.MayMend() && s.findable(v, d)})
}

// failedRound is the unit and the test that a defect was found by; ok is false
// for a finding of a walk-around.
func (s *server) failedRound(v *visit, d store.Defect) (o *outing.Outing, u *outing.UnitState, test int, ok bool) {
	if d.Test < 0 {
		return nil, nil, 0, false
	}
	o, err := s.Store.Outing(v.ctx(), d.Outing)
	if err != nil {
		return nil, nil, 0, false
	}
	u, test, ok = o.Test(d.ID)
	return o, u, test, ok
}

// findable reports whether a defect is a failed test with a contact behind it,
// not a stop that only took too long.
func (s *server) findable(v *visit, d store.Defect) bool {
	_, u, test, ok := s.failedRound(v, d)
	return ok && !u.Round.Results[test].Slow()
}

// notes is what was added to the finding that became the defect.
func (s *server) notes(v *visit, d store.Defect) []outing.Noted {
	o, err := s.Store.Outing(v.ctx(), d.Outing)
	if err != nil {
		return nil
	}
	return o.Unit(d.Machine).Notes(d.ID)
}

// controlsAt tells a technician how the controls stood in the test that failed.
func (s *server) controlsAt(v *visit, d store.Defect) []string {
	_, u, test, ok := s.failedRound(v, d)
	if !ok {
		return nil
	}
	var out []string
	for _, sw := range u.Interlocks().Switches {
		out = append(out, positionWords(v, sw, u.Round.Plan.Tests[test].To[sw.ID]))
	}
	return out
}

// positionWords says how a control stands.
func positionWords(v *visit, sw machine.Switch, made bool) string {
	position := sw.Broken
	if made {
		position = sw.Made
	}
	return v.Text(sw.Label) + ": " + v.Text(position)
}

func (s *server) closeDefect(v *visit) {
	if !s.checkID(v) {
		return
	}
	cause, work := v.field("cause"), v.field("work")
	if cause == "" || work == "" {
		s.defectPage(v, http.StatusUnprocessableEntity, v.T("defect.cause_and_work"))
		return
	}
	if err := s.Store.CloseDefect(v.ctx(), v.entry(), store.DefectClosed{Defect: v.param("defect"), Cause: cause, Work: work}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/defects/" + v.param("defect"))
}
