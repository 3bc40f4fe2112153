package yard_test

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/ground"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/yard"
)

var morning = outingtest.Morning

// town is a yard in memory, for as much as the tests of its gate look at.
type town struct {
	t        *testing.T
	n        int
	at       time.Time
	settings *yard.Settings
	people   map[string]operator.Person
	machines map[string]yard.Machine
	sheets   map[string]*machine.Sheet
	outings  map[string]*outing.Outing
	defects  map[string]yard.Defect
	clock    yard.Clock
	memory   map[string]outing.Memory
	lent     map[string]bool // by person, whether their PIN is lent
	said     []yard.Decided  // what the last command became
	seals    []yard.Seal
	where    map[string]yard.Whereabouts
	came     map[string]yard.Came
	given    map[string]yard.Given
	quiet    []yard.Quiet
	weather  *yard.Weather
	calendar map[string]string
	spent    map[string]map[string][]float64
	site     *ground.File
	walked   map[string]yard.Walked
	tried    map[string]yard.Tried
	morning  *yard.Morning
	loads    map[string]yard.Load
	pictures map[string]time.Time // when what they are of was over
}

// newTown is set up, with two leads, some crew and two machines.
func newTown(t *testing.T) *town {
	w := empty(t)
	w.must("", yard.SetUp{Yard: "Wrenfield", Timezone: "UTC", Name: "Maren", Language: "en", PIN: "4071"})
	w.rename("p-0001", "maren")
	for _, p := range [][2]string{{"Edda", "lead"}, {"Ida", "operator"}, {"Otto", "operator"}, {"Ruth", "technician"}, {"Jonah", "trainee"}, {"Osk", "visitor"}} {
		w.must("maren", yard.AddPerson{Name: p[0], Role: p[1], Language: "en", PIN: "8351"})
		w.rename(fmt.Sprintf("p-%04d", w.n), map[string]string{"Edda": "edda", "Ida": "ida", "Otto": "otto", "Ruth": "ruth", "Jonah": "jonah", "Osk": "osk"}[p[0]])
	}
	for _, m := range []string{"Verger", "Sexton"} {
		w.must("maren", yard.AddMachine{Name: m, Bay: "1", Sheet: w.sheet().Hash, Hours: "100"})
	}
	return w
}

// empty is before the first visit.
func empty(t *testing.T) *town {
	w := &town{t: t, at: morning, people: map[string]operator.Person{}, machines: map[string]yard.Machine{}, sheets: map[string]*machine.Sheet{},
		outings: map[string]*outing.Outing{}, defects: map[string]yard.Defect{}, lent: map[string]bool{}, where: map[string]yard.Whereabouts{}, came: map[string]yard.Came{}, given: map[string]yard.Given{}, calendar: map[string]string{}, memory: map[string]outing.Memory{}}
	if resolved == nil {
		resolved = machinetest.All(t)
	}
	for _, r := range resolved {
		w.sheets[r.Hash] = r.Sheet
	}
	return w
}

// resolved are the sheets, read once: nothing here changes them.
var resolved []machinetest.Resolved

func (w *town) sheet() machinetest.Resolved { return resolved[0] }

// machine finds a machine by its name.
func (w *town) machine(name string) yard.Machine {
	w.t.Helper()
	for _, m := range w.machines {
		if m.Name == name {
			return m
		}
	}
	w.t.Fatalf("no machine %s", name)
	return yard.Machine{}
}

// rename gives somebody an id that is easier to read.
func (w *town) rename(from, to string) {
	p, ok := w.people[from]
	if !ok {
		w.t.Fatalf("nobody is %s", from)
	}
	p.ID = to
	delete(w.people, from)
	w.people[to] = p
}

// try says something and takes in what it becomes.
func (w *town) try(by string, c yard.Command) error {
	w.n++
	w.at = w.at.Add(time.Second)
	meta := record.Meta{ID: fmt.Sprintf("%04d", w.n), By: by, At: w.at}
	said, err := yard.Decide(w, c, meta)
	if err != nil && len(said) > 0 {
		w.t.Errorf("%T was refused and became %v", c, said)
	}
	w.said = said
	for _, d := range said {
		w.take(meta, d)
	}
	return err
}

func (w *town) must(by string, c yard.Command) {
	w.t.Helper()
	if err := w.try(by, c); err != nil {
		w.t.Fatalf("%s says %T %+v: %v", by, c, c, err)
	}
}

// rule is what refuses a command, or "".
func (w *town) rule(by string, c yard.Command) string {
	w.t.Helper()
	err := w.try(by, c)
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	if err != nil {
		w.t.Fatal(err)
	}
	return ""
}

func (w *town) refused(by string, c yard.Command, rule string) {
	w.t.Helper()
	if got := w.rule(by, c); got != rule {
		w.t.Errorf("%s says %T %+v: %q, want %q", by, c, c, got, rule)
	}
}

func (w *town) person(id string, change func(*operator.Person)) {
	p := w.people[id]
	change(&p)
	w.people[id] = p
}

// take folds what was said.
func (w *town) take(m record.Meta, d yard.Decided) {
	switch e := d.Event.(type) {
	case yard.Named:
		w.settings = &yard.Settings{Name: e.Name, Timezone: e.Timezone, House: e.House, Practice: e.Practice, Emergency: e.Emergency, Places: e.Places, Pictures: e.Pictures}
	case yard.SiteImported:
		file, err := ground.ReadFile(e.File)
		if err != nil {
			w.t.Fatal(err)
		}
		w.site = &file
	case yard.FeatureDrawn:
		one, err := ground.ReadFeature(e.Feature)
		w.redraw(one, err)
	case yard.FeatureDropped:
		file, err := yard.SiteOf(w).Without(e.ID)
		if err != nil {
			w.t.Fatal(err)
		}
		w.site = &file
	case yard.BankMeasured:
		one, _ := yard.SiteOf(w).Feature(e.Zone)
		one, err := e.On(one, m)
		w.redraw(one, err)
	case yard.ZoneWalked:
		w.walked = map[string]yard.Walked{e.Zone: {ZoneWalked: e, By: m.By, At: m.At}}
	case yard.BankTried:
		w.tried = map[string]yard.Tried{e.Zone: {BankTried: e, By: m.By, At: m.At}}
	case yard.LoadChecked:
		w.loads = map[string]yard.Load{e.Outing: {LoadChecked: e, By: m.By, At: m.At}}
	case yard.MorningPlanned:
		w.morning = &yard.Morning{MorningPlanned: e, By: m.By, At: m.At, Record: m.ID}
	case yard.PersonAdded:
		w.people[e.ID] = operator.Person{ID: e.ID, Name: e.Name, Role: e.Role, Language: e.Language, Units: e.Units}
	case yard.PersonChanged:
		w.person(e.ID, func(p *operator.Person) { p.Name, p.Role, p.Language = e.Name, e.Role, e.Language })
	case yard.PersonSet:
		w.person(e.ID, func(p *operator.Person) { p.Language, p.Units, p.Theme, p.Keys = e.Language, e.Units, e.Theme, e.Keys })
	case yard.DutiesHanded:
		w.person(e.ID, func(p *operator.Person) { p.StandsIn = e.Until })
	case yard.PINSet:
		w.lent[e.ID] = e.Lent
	case yard.PersonLeft:
		w.person(e.ID, func(p *operator.Person) { p.Left = m.At })
	case yard.PersonReturned:
		w.person(e.ID, func(p *operator.Person) { p.Left = time.Time{} })
	case yard.ManualRecorded:
		e.Manual.Record = m.ID
		w.person(e.Person, func(p *operator.Person) { p.Manuals = append(p.Manuals, e.Manual) })
	case yard.QualificationRecorded:
		e.Qualification.Record = m.ID
		w.person(e.Person, func(p *operator.Person) { p.Qualifications = append(p.Qualifications, e.Qualification) })
	case yard.BornRecorded:
		w.person(e.Person, func(p *operator.Person) { p.Born = e.Born })
	case yard.Withdrawn:
		w.person(e.Person, func(p *operator.Person) {
			p.Manuals = slices.DeleteFunc(p.Manuals, func(r operator.ManualRead) bool { return r.Record == e.Record })
			p.Qualifications = slices.DeleteFunc(p.Qualifications, func(q operator.Qualification) bool { return q.Record == e.Record })
		})
	case yard.MachineAdded:
		w.machines[e.ID] = yard.Machine{ID: e.ID, Name: e.Name, Bay: e.Bay, Sheet: e.Sheet, Hours: e.Hours, Grade: defect.Sound, Hirer: e.Hirer}
	case yard.SheetAdopted:
		one := w.machines[e.Machine]
		one.Sheet = e.Sheet
		w.machines[e.Machine] = one
	case yard.MachineChanged:
		one := w.machines[e.Machine]
		one.Name, one.Bay, one.Hirer = e.Name, e.Bay, e.Hirer
		w.machines[e.Machine] = one
	case yard.MachineLeft:
		one := w.machines[e.Machine]
		one.Left, one.LeftWhy = m.At, e.Why
		w.machines[e.Machine] = one
	case yard.MachineReturned:
		one := w.machines[e.Machine]
		one.Left, one.LeftWhy, one.Bay = time.Time{}, "", e.Bay
		w.machines[e.Machine] = one
	case yard.MeterSet:
		one := w.machines[e.Machine]
		one.Hours = e.Hours
		w.machines[e.Machine] = one
		for id, hours := range e.Deadlines {
			d := w.defects[id]
			d.Finding.Deadline.Hours = &hours
			w.defects[id] = d
		}
	case yard.DefectClosed:
		one := w.defects[e.Defect]
		one.Open = false
		w.defects[e.Defect] = one
	case outing.TermsSet:
		one := w.defects[e.Defect]
		one.Finding.Deadline, one.Finding.Restrictions = e.Deadline, e.Restrictions
		w.defects[e.Defect] = one
		if o, ok := w.outings[d.Outing]; ok {
			w.outings[d.Outing] = o.Apply(m, e)
		}
	case yard.Seal:
		e.Record, e.By = m.ID, m.By
		w.seals = append(w.seals, e)
	case yard.PersonCame:
		w.came[e.Person] = yard.Came{By: m.By, At: m.At}
	case yard.MachineGiven:
		w.given[e.Machine] = yard.Given{Person: e.Person, By: m.By, At: m.At}
	case yard.QuietSaid:
		w.quiet = append(w.quiet, yard.Quiet{QuietSaid: e, Record: m.ID, By: m.By})
	case yard.QuietDropped:
		w.quiet = slices.DeleteFunc(w.quiet, func(q yard.Quiet) bool { return q.Record == e.Record })
	case yard.WeatherSaid:
		w.weather = &yard.Weather{WeatherSaid: e, By: m.By, At: m.At}
	case yard.CalendarOpened:
		w.calendar[e.Person] = e.Hash
	case yard.CalendarClosed:
		delete(w.calendar, e.Person)
	case yard.PersonHome:
		w.where[e.Person] = yard.Whereabouts{PersonHome: e, By: m.By, At: m.At}
	case yard.ClockWrong:
		w.clock = yard.Clock{}
	case outing.Started:
		o, err := outing.Begin(d.Outing, m, e, func(hash string) (*machine.Sheet, error) { s, _ := w.Sheet(hash); return s, nil })
		if err != nil {
			w.t.Fatal(err)
		}
		w.outings[o.ID] = o
		w.place(o)
	default:
		if o, ok := w.outings[d.Outing]; ok {
			w.outings[d.Outing] = o.Apply(m, e)
			w.place(w.outings[d.Outing])
		}
	}
}

func (w *town) place(o *outing.Outing) {
	for _, u := range o.Units {
		one := w.machines[u.Machine]
		one.Outing = o.ID
		if o.Status == outing.Closed {
			one.Outing = ""
			if stood := o.End.Stood[u.Machine]; len(stood) > 0 {
				one.Stood = stood
			}
		}
		w.machines[u.Machine] = one
	}
}

// What follows is the View.

func (w *town) Person(id string) (operator.Person, bool) {
	p, ok := w.people[id]
	return p, ok
}

func (w *town) Settings() (yard.Settings, bool) {
	if w.settings == nil {
		return yard.Settings{}, false
	}
	return *w.settings, true
}

func (w *town) People() []operator.Person {
	here := slices.DeleteFunc(slices.Collect(maps.Values(w.people)), func(p operator.Person) bool { return !p.Here() })
	slices.SortFunc(here, func(a, b operator.Person) int { return cmp.Compare(a.Name, b.Name) })
	return here
}

func (w *town) Machine(id string) (yard.Machine, bool) {
	m, ok := w.machines[id]
	return m, ok
}

func (w *town) Machines() []yard.Machine {
	all := slices.SortedFunc(maps.Values(w.machines), func(a, b yard.Machine) int { return cmp.Compare(a.Name, b.Name) })
	return slices.DeleteFunc(all, func(m yard.Machine) bool { return !m.Left.IsZero() })
}

func (w *town) Sheets() []string { return slices.Sorted(maps.Keys(w.sheets)) }

func (w *town) Sheet(key string) (*machine.Sheet, bool) {
	hash, chosen := machine.SplitKey(key)
	s, ok := w.sheets[hash]
	if !ok {
		return nil, false
	}
	return s.With(chosen), true
}

func (w *town) OpenDefects(machineID string) []yard.Defect {
	var out []yard.Defect
	for _, d := range w.defects {
		if d.Machine == machineID && d.Open {
			out = append(out, d)
		}
	}
	slices.SortFunc(out, func(a, b yard.Defect) int { return cmp.Or(a.FoundAt.Compare(b.FoundAt), cmp.Compare(a.ID, b.ID)) })
	return out
}

func (w *town) EveryOpenDefect() (out []yard.Defect) {
	for _, m := range w.Machines() {
		out = append(out, w.OpenDefects(m.ID)...)
	}
	return out
}

func (w *town) Defect(id string) (yard.Defect, bool) {
	d, ok := w.defects[id]
	return d, ok
}

func (w *town) Trials(string) []interlock.Observation { return nil }

func (w *town) Outing(id string) (*outing.Outing, bool) {
	o, ok := w.outings[id]
	return o, ok
}

func (w *town) Outings(from, until time.Time) (out []*outing.Outing) {
	for _, id := range slices.Sorted(maps.Keys(w.outings)) {
		if o := w.outings[id]; o.Began.Before(until) && (o.Status != outing.Closed || !o.Home.At.Before(from)) {
			out = append(out, o)
		}
	}
	return out
}

func (w *town) LastOut(before time.Time) (last time.Time, ok bool) {
	for _, o := range w.outings {
		if o.Began.Before(before) && o.Began.After(last) && (o.Verdict != nil || o.Status == outing.Open) {
			last, ok = o.Began, true
		}
	}
	return last, ok
}

func (w *town) LastSeal() (yard.Seal, bool) {
	if len(w.seals) == 0 {
		return yard.Seal{}, false
	}
	return w.seals[len(w.seals)-1], true
}

func (w *town) Whereabouts(person string) (yard.Whereabouts, bool) {
	said, ok := w.where[person]
	return said, ok
}

func (w *town) Came(person string) (yard.Came, bool) {
	c, ok := w.came[person]
	return c, ok
}

func (w *town) Given(machineID string) (yard.Given, bool) {
	g, ok := w.given[machineID]
	return g, ok
}

func (w *town) GivenTo(person string, since time.Time) (out []string) {
	for _, id := range slices.Sorted(maps.Keys(w.given)) {
		if g := w.given[id]; g.Person == person && !g.At.Before(since) {
			out = append(out, id)
		}
	}
	return out
}

func (w *town) Weather() (yard.Weather, bool) {
	if w.weather == nil {
		return yard.Weather{}, false
	}
	return *w.weather, true
}

func (w *town) Quiet(from, until time.Time) []yard.Quiet {
	return slices.DeleteFunc(slices.Clone(w.quiet), func(q yard.Quiet) bool { return !q.Until.After(from) || !q.From.Before(until) })
}

func (w *town) Spent(machineID string, most int) map[string][]float64 {
	out := map[string][]float64{}
	for chore, list := range w.spent[machineID] {
		out[chore] = list[:min(most, len(list))]
	}
	return out
}

func (w *town) OldPictures(before time.Time) (out []string) {
	for hash, over := range w.pictures {
		if over.Before(before) {
			out = append(out, hash)
		}
	}
	return out
}

func (w *town) CalendarOpen(person string) bool { return w.calendar[person] != "" }

func (w *town) OutWith(person string) []string {
	var out []string
	for id, o := range w.outings {
		if o.Status != outing.Closed && o.Operator() == person {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}

func (w *town) LastRead(string) []inspect.Before { return nil }
func (w *town) LastPlan(string) *outing.Meant    { return nil }
func (w *town) Memory(id string) outing.Memory   { return w.memory[id] }

func (w *town) Past(string) inspect.Past { return inspect.Past{Added: inspect.Seen{At: w.at}} }

func (w *town) Pasts([]string) map[string]inspect.Past { return nil }

func (w *town) Plan(key string, section machine.Interlock) (interlock.Plan, bool) {
	return outing.Plan(key, section)
}

func (w *town) Zone(name string) (*time.Location, bool) {
	zone, err := time.LoadLocation(name)
	return zone, err == nil && name != "" && name != "Local"
}

func (w *town) Clock() yard.Clock { return w.clock }

// halt is a defect of a machine that stands; hours is its deadline, or nil.
func (w *town) found(machineID string, grade defect.Grade, hours *float64) string {
	id := fmt.Sprintf("d-%d", len(w.defects))
	w.defects[id] = yard.Defect{ID: id, Machine: machineID, Open: true, FoundBy: "ida", FoundAt: w.at,
		Finding: defect.Finding{Grade: grade, Deadline: defect.Deadline{Hours: hours}, Reasons: []text.Reason{}}}
	return id
}

func (w *town) Site() (ground.File, bool) {
	if w.site == nil {
		return ground.File{}, false
	}
	return *w.site, true
}
func (w *town) Walked(zone string) (yard.Walked, bool) { one, ok := w.walked[zone]; return one, ok }
func (w *town) Tried(zone string) (yard.Tried, bool)   { one, ok := w.tried[zone]; return one, ok }
func (w *town) Morning() (yard.Morning, bool) {
	if w.morning == nil {
		return yard.Morning{}, false
	}
	return *w.morning, true
}

func (w *town) Load(id string) (yard.Load, bool) { one, ok := w.loads[id]; return one, ok }

// redraw puts a feature into the site.
func (w *town) redraw(one ground.Feature, err error) {
	w.t.Helper()
	if err != nil {
		w.t.Fatal(err)
	}
	file, err := yard.SiteOf(w).With(one)
	if err != nil {
		w.t.Fatal(err)
	}
	w.site = &file
}
