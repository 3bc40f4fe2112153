package yard

// What the rules look at: the yard as it stands.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/ground"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
)

// Settings are the yard's own.
type Settings struct {
	Name     string
	Timezone string // an IANA name
	House    defect.House
	// Practice is what was chosen where good practitioners differ; Chosen who chose
	// each last, and when.
	Practice  Practice
	Chosen    map[string]Chosen
	Emergency Emergency
	// Places are where machines are washed and fuelled.
	Places Places
	// Pictures is for how long those of findings are kept.
	Pictures Pictures
	// Mowing is on how many days fine turf was mown.
	Mowing Mowing
}

// Chosen is who chose something last, and when.
type Chosen struct {
	By string    `json:"by"`
	At time.Time `json:"at"`
}

// Machine is one machine of the yard.
type Machine struct {
	ID, Name, Bay string
	Sheet         string // hash
	Hours         float64
	HoursAt       time.Time // when the meter was read so; zero where that is not known
	Outing        string    // the outing it is in, or ""
	// Grade is the worst of its open defects as they were found, Deadline the
	// first of those that a Mend among them has.
	Grade    defect.Grade
	Deadline defect.Deadline
	Worked   time.Time // when it came home from work last; zero if never
	Hirer    string    // whose it is, where it is hired; else ""
	// Stood is how it was left when it was last out, by fact; nil where nobody told.
	Stood machine.Facts
	// Left is when it left the yard, and LeftWhy why; zero while it is there.
	Left    time.Time
	LeftWhy string
}

// GradeAt is the worst of its open defects now.
func (m Machine) GradeAt(now time.Time) defect.Grade {
	if m.Lapsed(now) {
		return defect.Halt
	}
	return m.Grade
}

// Lapsed reports whether it is on Halt only because the deadline of a Mend has
// passed.
func (m Machine) Lapsed(now time.Time) bool {
	return m.Grade != defect.Halt && m.Deadline.Passed(m.Hours, now)
}

// Unread reports whether the hours of its deadline may be up, out since a moment: no meter
// runs faster than the clock, and nobody has read it since. Only reading it tells.
func (m Machine) Unread(out, now time.Time) bool {
	if m.Deadline.Hours == nil || out.IsZero() || m.Lapsed(now) || m.Grade == defect.Halt {
		return false
	}
	if m.HoursAt.After(out) {
		out = m.HoursAt
	}
	return m.Hours+now.Sub(out).Hours() > *m.Deadline.Hours
}

// Defect is one defect of a machine.
type Defect struct {
	ID, Machine, Outing string
	Point, Item, Fault  string
	Test                int
	Note                string
	Value               *inspect.Value
	Finding             defect.Finding
	FoundBy             string
	FoundAt             time.Time
	Open                bool
	ClosedBy            string
	ClosedAt            time.Time
	Cause, Work         string
}

// View is the yard as the rules see it. What is not there is not found; a View
// that cannot look says so by other means.
type View interface {
	outing.Crew
	Settings() (Settings, bool)
	People() []operator.Person // everyone who works here
	// Machine finds one, also one that has left; Machines are those in the yard.
	Machine(id string) (Machine, bool)
	Machines() []Machine
	Sheet(hash string) (*machine.Sheet, bool)
	// Sheets are the hashes of all that the yard has, older editions too.
	Sheets() []string
	// OpenDefects are those of a machine; Defect finds one, open or closed.
	OpenDefects(machineID string) []Defect
	Defect(id string) (Defect, bool)
	EveryOpenDefect() []Defect
	Trials(defectID string) []interlock.Observation
	Outing(id string) (*outing.Outing, bool)
	// Outings lists those that began before a moment and were not over before another.
	Outings(from, until time.Time) []*outing.Outing
	// LastOut is when the last outing began that began before a moment and was released,
	// or is open still.
	LastOut(before time.Time) (began time.Time, ok bool)
	// LastSeal is the last day that was sealed; ok is false before the first.
	LastSeal() (s Seal, ok bool)
	// Whereabouts is what was last said of where somebody is.
	Whereabouts(person string) (w Whereabouts, ok bool)
	// Came is when somebody last came; Given whose a machine was last given, Person "" for
	// nobody's; Weather as it was last said.
	Came(person string) (c Came, ok bool)
	Given(machineID string) (g Given, ok bool)
	Weather() (w Weather, ok bool)
	// GivenTo lists the machines that somebody was given since a moment, by id.
	GivenTo(person string, since time.Time) []string
	// Quiet are the quiet hours that end after a moment and begin before another.
	Quiet(from, until time.Time) []Quiet
	// Site is the site as it is kept; ok is false where nobody drew one. Walked is the last
	// walk of a zone, Tried the last trial of a bank, Morning the plan that was published
	// last.
	Site() (f ground.File, ok bool)
	Walked(zone string) (w Walked, ok bool)
	Tried(zone string) (t Tried, ok bool)
	Morning() (m Morning, ok bool)
	// Load is the last load sheet of an outing.
	Load(outingID string) (l Load, ok bool)
	// Spent is how many seconds each chore of the evening took the last times on a machine,
	// so many at most, the newest first.
	Spent(machineID string, most int) map[string][]float64
	// OldPictures are the hashes of pictures that are kept still, of findings that were all
	// over before a moment, with nothing open at their point.
	OldPictures(before time.Time) []string
	// CalendarOpen reports whether somebody's calendar has an address.
	CalendarOpen(person string) bool
	// OutWith lists the outings that somebody has now, by id.
	OutWith(person string) []string
	// LastRead is what was read at a machine's last outing.
	LastRead(machineID string) []inspect.Before
	// LastPlan is what a machine was meant for the last time, nil where nobody said.
	LastPlan(machineID string) *outing.Meant
	// Memory is what is remembered of a machine that grades what is found on it now.
	Memory(machineID string) outing.Memory
	// Past is what is known of when a machine was looked at, by point.
	Past(machineID string) inspect.Past
	// Pasts is Past of every machine, by its id, as far as some points go.
	Pasts(points []string) map[string]inspect.Past
	// Plan computes the round of a section, or remembers it.
	Plan(key string, section machine.Interlock) (interlock.Plan, bool)
	// Zone finds a time zone by its name.
	Zone(name string) (*time.Location, bool)
	// Clock is how the clock that dates the records stands.
	Clock() Clock
}

// Clock is how the clock that dates the records stands.
type Clock struct {
	// Wrong: since From a record is dated as the one before it, because the
	// clock stands behind, or the clock was seen to jump ahead. It stays so
	// until a lead says that the clock is right.
	Wrong    bool
	From, To time.Time // the first and the last record of that time
}

// dayBegins is the hour at which a yard's day begins: who works at two in the
// morning is still in yesterday (house rule).
const dayBegins = 4

// DayStart is when the yard's day that holds t began, in its time zone.
func DayStart(t time.Time, zone *time.Location) time.Time {
	local := t.In(zone)
	start := time.Date(local.Year(), local.Month(), local.Day(), dayBegins, 0, 0, 0, zone)
	if local.Before(start) {
		start = start.AddDate(0, 0, -1)
	}
	return start
}
