package outings

// "Ready?": fitness, clothing, company, manual.

import (
	"net/http"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// readyPage asks whether the operator is ready.
type readyPage struct {
	Signals []page.SignalView // where a second person is needed
	common
	Types      []string
	Fit        string // as answered: yes, no or ""
	Manuals    []manualLine
	NoStart    []string // what the record lacks: nothing gets started
	Options    []page.OptionView
	Protection []item
	NotToWear  []item
	Missing    []string
	// Company and CheckIn say why somebody has to be about, People who can be.
	Company, CheckIn string
	People           []choice
	LookedFor        string
	Watched          string   // by whom it was had before, where it is asked whether others could reach it
	Since            []string // what changed since the machines last went out
	Cooling          []string // what waits for the machines to cool, and until when
	Exposure         []string
	// Same is what of the protection the operator wore last time, in words, with
	// the ids that the one question stands for; only the rest is asked item by item.
	Same    string
	SameIDs []string
	SameOn  bool
	// Hand: the outing can be given to somebody by name.
	Hand []choice
	// Plan is what the machines are meant for, with what of it they are not for.
	Plan planned
}

// manualLine is what the operator's record says of the manual of one machine.
type manualLine struct {
	Words string
	Read  bool
}

// item is one thing to wear, or not to.
type item struct {
	ID, Words, Note string
	On              bool
}

type choice struct {
	ID, Name string
	Chosen   bool
}

var readyPages = page.New[readyPage](templates, "ready")

func showReady(v *page.Visit) {
	base, ok := load(v, outing.StageReady)
	if !ok {
		return
	}
	p, err := readyData(v, base)
	if err != nil {
		v.Fail(err)
		return
	}
	readyPages.Show(v, http.StatusOK, v.T("stage.ready"), p)
}

func readyData(v *page.Visit, base common) (readyPage, error) {
	o := base.o
	p := readyPage{common: base, Plan: plannedOf(v, base.o, base.o.JobsRefused(v.Now))}
	who, err := v.Site.Store.Person(v.Context(), o.Operator())
	if err != nil {
		return p, err
	}
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		return p, err
	}
	p.company(v, people)
	if p.Exposure, err = exposureWords(v, o); err != nil {
		return p, err
	}
	worn, err := v.Site.Store.WornBefore(v.Context(), o.Operator(), o.ID)
	if err != nil {
		return p, err
	}
	p.protection(v, worn)
	p.options(v)
	if p.Since, err = since(v, o); err != nil {
		return p, err
	}
	if o.AsksWatched() {
		p.Watched = v.Name(o.Turns[len(o.Turns)-2].Operator)
	}
	for _, u := range o.Units {
		p.Types = append(p.Types, v.Text(u.Sheet.Name))
		p.Manuals = append(p.Manuals, manual(v, who, u))
	}
	for _, r := range who.Readiness().Unschooled(o.Sheets(), v.Now) {
		p.NoStart = append(p.NoStart, v.Reason(r))
	}
	for _, u := range o.Units {
		for _, c := range u.Cooling(v.Now) {
			p.Cooling = append(p.Cooling, v.T("ready.cooling_until", "point", u.Name+": "+v.Text(c.Name), "until", v.When(u.CoolAt(c), v.Now)))
		}
	}
	p.said(v)
	p.Hand, err = takers(v, o)
	return p, err
}

// options asks how the machines stand today.
func (p *readyPage) options(v *page.Visit) {
	for _, o := range p.o.Told() {
		view := v.OptionView(o.Machine, &o.Option, o.Way)
		if p.Several {
			view.Name = o.MachineName + ": " + view.Name
		}
		p.Options = append(p.Options, view)
	}
}

// said fills in what was answered before, and what keeps the outing in besides.
func (p *readyPage) said(v *page.Visit) {
	r := p.o.Ready()
	if r == nil {
		return
	}
	p.Fit = "no"
	if r.Fit {
		p.Fit = "yes"
	}
	for _, reason := range p.o.Unready(v.Now) {
		if words := v.Reason(reason); !slices.Contains(p.NoStart, words) {
			p.Missing = append(p.Missing, words)
		}
	}
	p.LookedFor = r.CheckIn
}

// protection puts what was worn last time into one question, by its ids.
func (p *readyPage) protection(v *page.Visit, before []string) {
	r := p.o.Ready()
	p.SameOn = r != nil
	var same []string
	for _, one := range p.o.Protection() {
		on := r != nil && slices.Contains(r.Worn, one.ID)
		if slices.Contains(before, one.ID) {
			same = append(same, v.Text(one.Name))
			p.SameIDs = append(p.SameIDs, one.ID)
			p.SameOn = p.SameOn && on
			continue
		}
		p.Protection = append(p.Protection, item{ID: one.ID, Words: v.Text(one.Name), Note: onlyFor(v, one), On: on})
	}
	p.Same = strings.Join(same, "; ")
	for _, c := range p.o.NotToWear() {
		p.NotToWear = append(p.NotToWear, item{ID: c.ID, Words: v.T("ready.off", "item", v.Text(c.Name)), Note: v.Text(c.Why), On: r != nil && slices.Contains(r.ClearOf, c.ID)})
	}
}

// onlyFor says for which uses an item is asked; "" where always.
func onlyFor(v *page.Visit, p machine.Protection) string {
	var uses []string
	for _, use := range p.For {
		uses = append(uses, tell.Lower(v.T("use."+use)))
	}
	if len(uses) == 0 {
		return ""
	}
	return v.T("ready.only_for", "uses", strings.Join(uses, ", "))
}

// company fills in who has to be about.
func (p *readyPage) company(v *page.Visit, people []store.Person) {
	for _, u := range p.o.Units {
		switch c := u.Sheet.Company; {
		case c == nil:
		case c.Kind == "person":
			p.Company = v.Text(c.Why)
		default:
			p.CheckIn = v.Text(c.Why)
		}
	}
	if p.Company == "" {
		return
	}
	var sheets []*machine.Sheet
	for _, u := range p.o.Units {
		sheets = append(sheets, u.Sheet)
	}
	p.Signals = v.Signals(sheets...)
	with := ""
	if r := p.o.Ready(); r != nil {
		with = r.Company
	}
	for _, other := range p.o.Companions(people) {
		p.People = append(p.People, choice{ID: other.ID, Name: other.Name, Chosen: other.ID == with})
	}
}

func manual(v *page.Visit, p store.Person, u *outing.UnitState) manualLine {
	for _, m := range p.Manuals {
		if m.Sheet == u.Sheet.ID && m.Edition == u.Sheet.Edition {
			return manualLine{Read: true, Words: v.T("ready.manual_read", "machine", v.Text(u.Sheet.Name), "edition", m.Edition, "day", v.Day(m.On), "language", v.T("language."+string(m.Language)))}
		}
	}
	return manualLine{Words: v.T("ready.manual_missing", "machine", v.Text(u.Sheet.Name), "edition", u.Sheet.Edition)}
}

// since lists what changed on the machines since the outing before this one:
// what was found then or later, and what was mended.
func since(v *page.Visit, o *outing.Outing) ([]string, error) {
	var out []string
	for _, u := range o.Units {
		past, err := v.Site.Store.Past(v.Context(), u.Machine, 2)
		if err != nil {
			return nil, err
		}
		if len(past) < 2 {
			continue // it has not been out before
		}
		all, err := v.Site.Store.Defects(v.Context(), u.Machine, false)
		if err != nil {
			return nil, err
		}
		for _, d := range all {
			what := v.Defect(u.Sheet, d.Defect)
			switch {
			case !d.Open && d.ClosedAt.After(past[1].Began):
				out = append(out, v.T("since.mended", "what", what, "who", d.CloserName, "work", d.Work))
			case d.Open && !d.FoundAt.Before(past[1].Began) && (d.Outing != o.ID || len(o.Turns) > 1): // also by who had it just now
				out = append(out, v.T("since.found", "what", what, "who", d.FinderName, "grade", v.T("grade."+string(d.Finding.GradeAt(u.HoursNow(), v.Now)))))
			}
		}
	}
	return out, nil
}

// ready takes the answers to "Ready?". The one question "as last time" brings
// the ids it stood for with it.
func ready(v *page.Visit) {
	worn := v.Fields("worn")
	if v.Field("same") == "on" {
		worn = append(worn, v.Fields("same_item")...)
	}
	say(v, outing.Ready{Fit: v.Field("fit"), Shown: append(v.Fields("shown"), v.Fields("same_item")...), Worn: worn, ClearOf: v.Fields("clear_of"),
		Company: v.Field("company"), CheckIn: v.Field("check_in"), Watched: v.Field("watched"), Options: v.Ways("option")})
}
