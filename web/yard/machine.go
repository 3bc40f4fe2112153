package yard

// The page of one machine.

import (
	"cmp"
	"errors"
	"net/http"
	"slices"

	"rsc.io/qr"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/draw"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// machinePage is one machine: how it stands and how it came to that.
type machinePage struct {
	ID, Name, Bay, Type string
	Edition, Hirer      string
	Grade               string
	Without             []page.LeftWords // what a model of the yard's own does without
	HouseNumbers        string           // how many of its numbers are not its manual's
	Hours               float64
	Metered             bool
	Notched             bool   // its height of cut is set by notches
	Form                string // id for a form without script
	Scene               draw.Scene
	Open                []page.Found
	Due                 []page.DueLine
	Closed              []closedLine
	Current             *store.OutingRow
	Doing, Warmth       string // what is open of procedures; how warm it is
	InTank, Burns       string // fuel
	Drift               string // it burns otherwise than it did
	Past                []pastLine
	Halted              bool
	MayTake             bool
	MayLead             bool
	// Options are how those of its sheet stand; Fixed those a lead sets.
	Options, Fixed []page.OptionView
	NewSheet       *store.SheetInfo
	Refused        string
	// Plan asks what it is meant for today; Jobs are those it is not for, Instead the
	// machines that may do them.
	Plan page.PlanView
	// Cleared and NotFor are its uses as it stands, before anybody has looked.
	Cleared, NotFor []page.UseWords
	Until           string
	Readings        []readingLine
	Left            string // when it left the yard, and why
	OnSite          string // where it was left on site
	Jobs            []page.JobView
	Instead         []insteadLine
	// Interlocked: it has interlocks to play with and to ask about.
	Interlocked bool
	// Carried: it goes out with what carries it; Carriers may do so now.
	Carried  bool
	Carriers []yard.Machine
	Carrier  string // chosen already
	// Mine are the outings the person has already, where that was asked.
	Mine []mineLine
}

// insteadLine is another machine that may do what was planned.
type insteadLine struct{ ID, Words string }

// closedLine is a defect that was closed, and by whom.
type closedLine struct{ ID, What, Closed string }

type pastLine struct{ ID, When, Who, How string }

// mineLine is an outing somebody has open, and what can be done about it.
type mineLine struct {
	ID, Name, Since string
	Form            string
}

var machinePages = page.New[machinePage](templates, "machine")

func showMachine(v *page.Visit) { showMachineWith(v, http.StatusOK, "", false) }

func showMachineWith(v *page.Visit, status int, refused string, mine bool) {
	p, err := machineData(v)
	if err == nil && mine {
		p.Mine, err = mineLines(v)
	}
	if err != nil {
		v.Fail(err)
		return
	}
	p.Refused = refused
	if status == http.StatusConflict && !mine {
		p.jobs(v)
	}
	machinePages.Show(v, status, p.Name, p)
}

func machineData(v *page.Visit) (machinePage, error) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		return machinePage{}, err
	}
	p := machinePage{ID: m.ID, Name: m.Name, Bay: m.Bay, Type: v.Text(sheet.Name), Edition: sheet.Edition, Hirer: m.Hirer, Grade: string(m.GradeAt(v.Now)), Hours: m.Hours,
		Metered: sheet.Metered(), Form: page.NewID(), Scene: draw.Machine(sheet), Interlocked: sheet.Interlock.None == nil, Carried: sheet.Carrier != nil, Carrier: v.Field("carrier"),
		Halted: m.GradeAt(v.Now) == defect.Halt, MayLead: v.May(operator.Machines)}
	_, p.Notched = sheet.Number("height_notch")
	p.Without, p.HouseNumbers = v.LeftOut(sheet, false), v.HouseNumbers(sheet)
	all, err := v.Site.Store.Defects(v.Context(), m.ID, false)
	if err != nil {
		return p, err
	}
	var stands []yard.Defect
	for _, d := range all {
		what := v.Defect(sheet, d.Defect)
		if d.Open {
			stands = append(stands, d.Defect)
		}
		if !d.Open {
			line := closedLine{d.ID, what, v.T("defect.closed", "who", d.CloserName, "when", v.When(d.ClosedAt, v.Now))}
			p.Closed = append([]closedLine{line}, p.Closed...)
			continue
		}
		found := v.Found(d.ID, what, d.Finding, m.Hours)
		found.By = v.T("defect.found", "who", d.FinderName, "when", v.When(d.FoundAt, v.Now))
		p.Open = append(p.Open, found)
	}
	if marks := faultMarks(sheet, stands, func(d yard.Defect) defect.Grade { return d.Finding.GradeAt(m.Hours, v.Now) }); len(marks) > 0 {
		p.Scene = draw.Walk(sheet, marks)
	}
	if p.Readings, err = readings(v, m, sheet); err != nil {
		return p, err
	}
	past, err := v.Site.Store.Past(v.Context(), m.ID, 8)
	if err != nil {
		return p, err
	}
	for i, o := range past {
		if o.ID == m.Outing {
			p.Current = &past[i]
		}
		p.Past = append(p.Past, pastLine{ID: o.ID, When: v.When(o.Began, v.Now), Who: o.OperatorName, How: howItWent(v, o)})
	}
	view, check := v.Site.Store.View(v.Context())
	var unit *outing.UnitState
	if o, ok := view.Outing(m.Outing); ok && p.Current != nil {
		p.Doing, unit = v.Doing(o), o.Unit(m.ID)
	}
	p.Warmth = v.Warmth(sheet, m.Worked, unit)
	log, err := v.Site.Store.Fills(v.Context(), m.ID)
	if err != nil {
		return p, err
	}
	if p.Burns, p.Drift = v.Burns(sheet, store.FillRuns(log)); unit != nil {
		p.InTank = v.InTank(unit)
	}
	p.Due = v.DueLines(yard.DueOn(view, m, v.Now))
	if p.Current == nil {
		p.Plan = v.PlanView(sheet, view.LastPlan(m.ID))
		p.Plan.Before = p.Plan.Said != "" && !v.Posted()
	}
	if sheet.Carrier != nil {
		p.Carriers = yard.Carriers(view, sheet.Carrier.Family, v.Now)
	}
	p.cleared(v, view, m)
	if p.Halted {
		p.Instead = insteadOf(v, yard.Substitutes(view, m, outing.Meant{}, v.Now))
	}
	if err := check(); err != nil {
		return p, err
	}
	_, known := machine.SplitKey(m.Sheet)
	for i := range sheet.Options {
		o := &sheet.Options[i]
		if o.Told {
			if known[o.ID] != "" { // nobody has said yet
				p.Options = append(p.Options, v.OptionView(m.ID, o, known[o.ID]))
			}
			continue
		}
		view := v.OptionView(m.ID, o, sheet.Chosen()[o.ID])
		p.Options, p.Fixed = append(p.Options, view), append(p.Fixed, view)
	}
	p.MayTake = v.May(operator.TakeOut) && p.Current == nil && !p.Halted && m.Left.IsZero()
	if !m.Left.IsZero() {
		p.Left = v.T("machine.left", "when", v.When(m.Left, v.Now), "why", m.LeftWhy)
	}
	if where := outing.LeftOnSiteAt(m.Stood); where != "" && p.Current == nil {
		p.OnSite = v.T("machine.on_site", "where", where)
	}
	if p.MayLead {
		p.NewSheet, err = v.Site.Store.NewerSheet(v.Context(), sheet.ID, m.Sheet)
	}
	return p, err
}

// cleared says what a machine is cleared for as it stands, or as its outing has it.
func (p *machinePage) cleared(v *page.Visit, view yard.View, m store.Machine) {
	judged := outing.Verdict{}
	switch o, ok := view.Outing(m.Outing); {
	case m.Outing != "" && ok && o.Repair == nil && o.Paper == nil:
		judged = o.Judge(v.Now)
	case m.Outing == "" && m.Left.IsZero():
		carrier := ""
		if len(p.Carriers) > 0 {
			carrier = p.Carriers[0].ID
		}
		if judged, ok = yard.AsItStands(view, m.ID, carrier, v.Now); !ok {
			return
		}
	default:
		return
	}
	if len(judged.Halts) > 0 {
		return
	}
	p.Cleared, p.NotFor = v.Uses(judged)
	p.Until = tell.Deadline(v.Voice, judged.Deadline)
}

// typedOut is the form that takes a machine out.
func typedOut(v *page.Visit) yard.TakeOut {
	return yard.TakeOut{Machine: v.Param("machine"), Carrier: v.Field("carrier"), Both: v.Field("both") == "yes", For: v.PlanTyped()}
}

// jobs fills in which planned uses are refused, and who may do them instead.
func (p *machinePage) jobs(v *page.Visit) {
	view, _ := v.Site.Store.View(v.Context())
	refused, instead := typedOut(v).Refuses(view, *v.Person, v.Now)
	if p.Jobs = v.Jobs(refused); len(refused) == 0 {
		return
	}
	p.Instead = insteadOf(v, instead)
}

// insteadMost is how many substitutes a page names.
const insteadMost = 6

// insteadOf says where substitutes stand, and who has those that are out.
func insteadOf(v *page.Visit, list []yard.Substitute) (out []insteadLine) {
	for _, s := range list[:min(len(list), insteadMost)] {
		words := v.T("plan.stands_in", "machine", s.Name, "bay", s.Bay)
		if s.Out {
			words = v.T("plan.is_out", "machine", s.Name, "who", v.Name(s.Who))
		}
		out = append(out, insteadLine{s.ID, words})
	}
	return out
}

// howItWent says whether an outing was released, and by whom where that was
// somebody else.
func howItWent(v *page.Visit, o store.OutingRow) string {
	switch {
	case o.Released.IsZero():
		return v.T("machine.not_released")
	case o.Second != "":
		return v.T("machine.was_released_with", "who", v.Name(o.Second))
	}
	return v.T("machine.was_released")
}

// mineLines are the outings that the person has open.
func mineLines(v *page.Visit) ([]mineLine, error) {
	view, check := v.Site.Store.View(v.Context())
	var out []mineLine
	for _, id := range view.OutWith(v.Person.ID) {
		if o, ok := view.Outing(id); ok {
			out = append(out, mineLine{ID: id, Name: o.Name(), Since: v.When(o.Began, v.Now), Form: page.NewID()})
		}
	}
	return out, check()
}

// takeOut begins an outing, or says why the machine stays.
func takeOut(v *page.Visit) {
	done, err := v.Say(typedOut(v))
	if err == nil {
		v.Saved("/outings/" + done.Outing.ID)
		return
	}
	var refused *record.Refused
	if !errors.As(err, &refused) || yard.Missing(refused.Reason.Rule) {
		v.Fail(err)
		return
	}
	showMachineWith(v, http.StatusConflict, v.Reason(refused.Reason), refused.Reason.Rule == yard.RuleSecondOuting)
}

// newMachinePage is the form that puts a machine in a bay.
type newMachinePage struct {
	ID               string
	Sheets           []page.SheetChoice
	Name, Bay, Hours string
	Sheet, Hirer     string
	Problem          string
}

var newMachinePages = page.New[newMachinePage](templates, "newmachine")

func showNewMachine(v *page.Visit) { askNewMachine(v, http.StatusOK, "") }

func askNewMachine(v *page.Visit, status int, problem string) {
	sheets, err := v.SheetChoices()
	if err != nil {
		v.Fail(err)
		return
	}
	// From a model that was just made there is nothing else to choose from.
	if only := v.Query("sheet"); only != "" {
		sheets = slices.DeleteFunc(sheets, func(c page.SheetChoice) bool { return c.Hash != only })
	}
	newMachinePages.Show(v, status, v.T("machine.new_title"), newMachinePage{ID: page.NewID(), Sheets: sheets, Problem: problem,
		Name: v.Field("name"), Bay: v.Field("bay"), Hours: v.Field("hours"), Sheet: cmp.Or(v.Field("sheet"), v.Query("sheet")), Hirer: v.Field("hirer")})
}

func addMachine(v *page.Visit) {
	_, err := v.Say(yard.AddMachine{Name: v.Field("name"), Bay: v.Field("bay"), Sheet: v.Field("sheet"), Hours: v.Field("hours"), Hirer: v.Field("hirer")})
	if words, refused := v.Words(err); refused {
		askNewMachine(v, http.StatusUnprocessableEntity, words)
		return
	}
	saved(v, err, "/yard")
}

// saved leads on, or shows what went wrong.
func saved(v *page.Visit, err error, to string) {
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved(to)
}

func adoptSheet(v *page.Visit) {
	_, err := v.Say(yard.AdoptSheet{Machine: v.Param("machine"), Sheet: v.Field("sheet")})
	saved(v, err, "/machines/"+v.Param("machine"))
}

// setOptions takes a lead's word of what the machine has.
func setOptions(v *page.Visit) {
	id := v.Param("machine")
	_, err := v.Say(yard.SetOptions{Machine: id, Ways: v.Ways("option")[id]})
	if words, refused := v.Words(err); refused {
		showMachineWith(v, http.StatusUnprocessableEntity, words, false)
		return
	}
	saved(v, err, "/machines/"+id)
}

// setMeter takes a lead's word of what the hour meter says.
func setMeter(v *page.Visit) {
	_, err := v.Say(yard.SetMeter{Machine: v.Param("machine"), Hours: v.Field("hours"), Reason: v.Field("reason"), Exchanged: v.Field("exchanged") == "on"})
	if words, refused := v.Words(err); refused {
		showMachineWith(v, http.StatusUnprocessableEntity, words, false)
		return
	}
	saved(v, err, "/machines/"+v.Param("machine"))
}

// labelPage is a machine's label with the code that opens its page.
type labelPage struct {
	ID, Name, Type, Bay string
	Code                draw.Scene
	Where               string
}

var labelPages = page.New[labelPage](templates, "label")

// showLabel is the label to be printed and put on the machine.
func showLabel(v *page.Visit) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	label := labelPage{ID: m.ID, Name: m.Name, Bay: m.Bay, Type: v.Text(sheet.Name), Where: v.Address("/machines/" + m.ID)}
	code, err := qr.Encode(label.Where, qr.M)
	if err != nil {
		v.Fail(err)
		return
	}
	label.Code = draw.Code(code.Size, code.Black)
	labelPages.Show(v, http.StatusOK, m.Name, label)
}
