// Package defect grades what is found: how far gone a thing is, what that
// means for the machine, which uses it takes away and until when the machine
// may go out with it.
package defect

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// Grade is what a finding means for the machine.
type Grade string

// The grades, mildest first.
const (
	Sound Grade = "sound" // nothing to do
	Watch Grade = "watch" // goes out; looked at again every time
	Mend  Grade = "mend"  // goes out until a deadline, perhaps restricted
	Halt  Grade = "halt"  // does not start
)

// Grades lists them, mildest first.
func Grades() []Grade { return []Grade{Sound, Watch, Mend, Halt} }

// Worse is the worse of two grades.
func Worse(a, b Grade) Grade {
	if slices.Index(Grades(), a) > slices.Index(Grades(), b) {
		return a
	}
	return b
}

// House is the yard's own rules about grades.
type House struct {
	// LeakIsHalt: nothing that leaks goes out, a weep at a fitting included.
	LeakIsHalt bool `json:"leak_is_halt,omitempty"`
	// AnyIsHalt: nothing that was found out of order goes out, whatever it is.
	AnyIsHalt bool `json:"any_is_halt,omitempty"`
	// MendDays is how many days a Mend may stand.
	MendDays int `json:"mend_days"`
	// AgainWithin is how many outings back a point that was not sound counts against
	// one that is not sound now: 0 is the usual five, less than 0 none.
	AgainWithin int `json:"again_within,omitempty"`
	// Edition is which edition of the grading rules an outing began with; it
	// keeps them, so that yesterday reads the same tomorrow. 0 is the first: a
	// Mend with a deadline in hours had no date, and where no meter runs the
	// hours never passed. Since 3 the worse of two readings counts where safety
	// hangs on it. Since 4 what came before counts, and where a reading leads; what
	// a finding forbids stays when its grade is made worse. Since 5 the hours of a
	// deadline run from the release on, however often the meter is read.
	Edition int `json:"edition,omitempty"`
}

// Edition is the edition of the grading rules that an outing begins with now.
const Edition = 5

// dated: every Mend has a date, and hours count by the clock where no meter runs.
func (h House) dated() bool { return h.Edition >= 2 }

// WorkCounts reports whether hours of work count against a deadline in them from the
// release on; before, a meter read while out began them anew.
func (h House) WorkCounts() bool { return h.Edition >= 5 }

// Remembers: what came before counts, and where readings lead.
func (h House) Remembers() bool { return h.Edition >= 4 }

// againUsual is how many outings back a point counts again, where the house says
// nothing (house rule).
const againUsual = 5

// Again is how many outings back a point counts again, 0 for none.
func (h House) Again() int {
	if h.AgainWithin == 0 {
		return againUsual
	}
	return max(0, h.AgainWithin)
}

// AgainWithinOf is how a house writes that a point counts again so many outings back.
func AgainWithinOf(outings int) int {
	if outings == 0 {
		return -1
	}
	return outings
}

// WorseCounts: of two readings that safety hangs on the worse one counts.
func (h House) WorseCounts() bool { return h.Edition >= 3 }

// Dated gives a Mend the date the house sets it, from when it was found.
func (h House) Dated(f Finding, found time.Time) Finding {
	if f.Grade != Mend || h.MendDays <= 0 {
		return f
	}
	switch {
	case h.dated():
		until := found.Add(time.Duration(h.MendDays) * 24 * time.Hour)
		f.Deadline = f.Deadline.Earlier(Deadline{At: &until})
	case f.Deadline == (Deadline{}):
		until := found.AddDate(0, 0, h.MendDays)
		f.Deadline.At = &until
	}
	return f
}

// againMost is how many outings back a point counts again at most.
const againMost = 50

// mendDaysMost: a Mend that may stand longer is a Watch by another name (house
// rule).
const mendDaysMost = 60

var (
	ruleMendDays = text.NewRule("house.mend_days", text.Slot{Name: "most", Kind: text.Count})
	ruleAgain    = text.NewRule("house.again_within", text.Slot{Name: "most", Kind: text.Count})
)

// Wrong says what no house may set: a Mend that never runs out, or runs out
// before it is mended; a memory longer than what is kept.
func (h House) Wrong() (text.Reason, bool) {
	if h.AgainWithin > againMost {
		return ruleAgain.Says(againMost), true
	}
	return ruleMendDays.Says(mendDaysMost), h.MendDays < 1 || h.MendDays > mendDaysMost
}

// DefaultHouse is what a new yard starts with.
func DefaultHouse() House { return House{MendDays: 7} }

// Deadline is when a Mend turns into a Halt: at an hour-meter reading, at a
// time, or whichever comes first.
type Deadline struct {
	Hours *float64   `json:"hours"` // hour meter, in hours
	At    *time.Time `json:"at"`
}

// Passed reports whether the deadline is over.
func (d Deadline) Passed(hours float64, now time.Time) bool {
	return d.Hours != nil && hours > *d.Hours || d.At != nil && now.After(*d.At)
}

// GradeAt is what a finding means now: a Mend past its deadline is a Halt. Every
// page, list, command and refusal asks here. Hours are the machine's meter.
func (f Finding) GradeAt(hours float64, now time.Time) Grade {
	if f.Grade == Mend && f.Deadline.Passed(hours, now) {
		return Halt
	}
	return f.Grade
}

// Now is a finding as it is now: a Mend past its deadline is a Halt, and says so
// first. Hours are the machine's meter.
func (f Finding) Now(hours float64, now time.Time) Finding {
	if f.GradeAt(hours, now) == f.Grade {
		return f
	}
	f.Grade, f.Deadline = Halt, Deadline{}
	f.Reasons = append([]text.Reason{rulePassed.Says()}, f.Reasons...)
	return f
}

// ByClock turns hours that no meter counts into as many hours by the clock:
// from a moment at which the meter stood as it was read last.
func (d Deadline) ByClock(from time.Time, meter float64) Deadline {
	if d.Hours == nil {
		return d
	}
	at := from.Add(time.Duration((*d.Hours - meter) * float64(time.Hour)))
	d.Hours = nil
	return d.Earlier(Deadline{At: &at})
}

// Earlier is the earlier of two deadlines, hours and time each for itself.
func (d Deadline) Earlier(e Deadline) Deadline {
	if e.Hours != nil && (d.Hours == nil || *e.Hours < *d.Hours) {
		d.Hours = e.Hours
	}
	if e.At != nil && (d.At == nil || e.At.Before(*d.At)) {
		d.At = e.At
	}
	return d
}

// Finding is a graded finding.
type Finding struct {
	Extent       machine.Extent        `json:"extent"`
	Grade        Grade                 `json:"grade"`
	Restrictions []machine.Restriction `json:"restrictions,omitempty"`
	Deadline     Deadline              `json:"deadline"`
	Reasons      []text.Reason         `json:"reasons,omitempty"`
}

// The rules that grade.
var (
	ruleCell     = text.NewRule("grade.cell", text.Slot{Name: "class", Kind: text.Term}, text.Slot{Name: "extent", Kind: text.Term}, text.Slot{Name: "grade", Kind: text.Term})
	rulePassed   = text.NewRule("grade.deadline_passed")
	ruleWeep     = text.NewRule("grade.weep")
	ruleHose     = text.NewRule("grade.hose_body")
	ruleAny      = text.NewRule("grade.house_any")
	ruleLeak     = text.NewRule("grade.house_leak")
	ruleCritical = text.NewRule("grade.critical")
	rulePast     = text.NewRule("grade.past_limit", text.Slot{Name: "value", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount}, text.Slot{Name: "source", Kind: text.Term})
	ruleDoubt    = text.NewRule("grade.doubt", text.Slot{Name: "value", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount}, text.Slot{Name: "uncertainty", Kind: text.Amount})
	ruleNear     = text.NewRule("grade.near_limit", text.Slot{Name: "value", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount})
	ruleUneven   = text.NewRule("grade.uneven", text.Slot{Name: "one", Kind: text.Words}, text.Slot{Name: "other", Kind: text.Words}, text.Slot{Name: "difference", Kind: text.Amount}, text.Slot{Name: "most", Kind: text.Amount})
)

// cells is the table of class against extent (early, degraded, lost). Class D
// early and class G lost depend on more than the cell.
var cells = map[machine.Class][3]Grade{
	machine.ClassA: {Watch, Halt, Halt},
	machine.ClassB: {Watch, Halt, Halt},
	machine.ClassC: {Halt, Halt, Halt},
	machine.ClassD: {Mend, Halt, Halt},
	machine.ClassE: {Watch, Mend, Halt},
	machine.ClassF: {Watch, Mend, Mend},
	machine.ClassG: {Watch, Mend, Mend},
	machine.ClassH: {Watch, Watch, Mend},
}

// weepHours is how long a cleaned weep at a fitting may run before it is
// looked at again (trade practice).
const weepHours = 2

// Context is what the table needs besides the point.
type Context struct {
	House House
	Hours float64 // the machine's hour meter now
	// NoMeter: no hour meter runs on the machine; At is when it was found.
	NoMeter bool
	At      time.Time
	// Conditions of the day that limits depend on, by id.
	Conditions map[string]float64
	// History is what came before on the machine, in the order it happened; Series is
	// what was read since each part was new, where that is kept apart.
	History []Past
	Series  []Series
}

// OfFault grades a described fault at a point.
func OfFault(c *machine.Check, f *machine.Fault, in Context) Finding {
	class := c.ClassOf(f)
	if f.HoseBody && in.House.Remembers() {
		out := Finding{Extent: f.Extent, Grade: Halt, Reasons: []text.Reason{ruleHose.Says()}}
		if in.House.AnyIsHalt {
			out.Reasons = append(out.Reasons, ruleAny.Says())
		}
		return out.forbid(machine.NoFineTurf).restrict(f.Restrict, in)
	}
	out := cell(c, class, f.Extent, in)
	if f.HoseBody {
		out.Grade, out.Deadline = Halt, Deadline{}
		out.Reasons = append(out.Reasons, ruleHose.Says())
	}
	return out.restrict(f.Restrict, in)
}

// OfReading grades one reading at a point.
func OfReading(c *machine.Check, r *machine.Reading, value text.Measure, in Context) Finding {
	extent, why := in.extentOf(c, r.Under(in.Conditions), value.Quantity)
	if extent == machine.Sound {
		return Finding{Extent: extent, Grade: Sound}
	}
	out := cell(c, c.Class, extent, in)
	out.Reasons = append([]text.Reason{why}, out.Reasons...)
	if in.takesAway(c.Class, extent) {
		out = out.restrict(c.Restrict, in)
	}
	return out
}

// takesAway reports whether a reading of this class and extent takes away what its
// point says: past its limit, and near it where it warns.
func (in Context) takesAway(class machine.Class, extent machine.Extent) bool {
	return machine.Restricts(class, extent) || in.House.Remembers() && extent == machine.Lost
}

// Paired is one of two readings that must be alike.
type Paired struct {
	Name  text.Text
	Value text.Measure
}

// OfUneven grades the differences between paired readings; values are by the
// name that the evenness gives them. Pairs that are not complete are left out.
func OfUneven(c *machine.Check, values map[string]Paired, in Context) Finding {
	out := Finding{Extent: machine.Sound, Grade: Sound}
	if c.Even == nil {
		return out
	}
	u := c.Even.UnitOf()
	for _, pair := range c.Even.Pairs {
		one, both := values[pair[0]]
		other, second := values[pair[1]]
		if !both || !second {
			continue
		}
		difference := one.Value.Quantity.Value - other.Value.Quantity.Value
		if difference < 0 {
			difference = -difference
		}
		if difference <= u.Span(c.Even.Max)+slack(u) {
			continue
		}
		f := cell(c, c.Class, machine.Lost, in).restrict(c.Restrict, in)
		f.Reasons = append([]text.Reason{ruleUneven.Says(one.Name, other.Name,
			span(difference, c.Even.Unit), span(u.Span(c.Even.Max), c.Even.Unit))}, f.Reasons...)
		out = out.with(f)
	}
	return out
}

// with joins two findings on one point: the worse grade, all restrictions, the
// earlier deadline.
func (f Finding) with(g Finding) Finding {
	if g.Grade == Sound {
		return f
	}
	if f.Grade == Sound {
		return g
	}
	if Worse(f.Grade, g.Grade) != f.Grade {
		f.Extent = g.Extent
	}
	f.Grade = Worse(f.Grade, g.Grade)
	f.Restrictions = Union(f.Restrictions, g.Restrictions)
	f.Deadline = f.Deadline.Earlier(g.Deadline)
	f.Reasons = append(slices.Clone(f.Reasons), g.Reasons...)
	return f
}

// Union is every restriction of both lists, in the published order.
func Union(a, b []machine.Restriction) []machine.Restriction {
	var out []machine.Restriction
	for _, r := range machine.Restrictions() {
		if slices.Contains(a, r) || slices.Contains(b, r) {
			out = append(out, r)
		}
	}
	return out
}

// cell is what the table says of a class and an extent, and what a house rule makes
// of that.
func cell(c *machine.Check, class machine.Class, extent machine.Extent, in Context) Finding {
	column := slices.Index([]machine.Extent{machine.Early, machine.Degraded, machine.Lost}, extent)
	out := Finding{Extent: extent, Grade: cells[class][column]}
	by := out.Grade // what the table says
	var more []text.Reason
	switch {
	case class == machine.ClassD && extent == machine.Early:
		out.Deadline = in.inHours(weepHours)
		out = out.forbid(machine.NoFineTurf, machine.RecheckTwoHours)
		if in.House.LeakIsHalt {
			out.Grade = Halt
			more = append(more, ruleLeak.Says())
			break
		}
		more = append(more, ruleWeep.Says())
	case class == machine.ClassE && extent == machine.Early, class <= machine.ClassE && class >= machine.ClassD && in.House.Remembers():
		out = out.forbid(machine.NoFineTurf)
	case class == machine.ClassG && extent == machine.Lost && c.Critical:
		out.Grade = Halt
		more = append(more, ruleCritical.Says())
	}
	if in.House.AnyIsHalt && out.Grade != Halt {
		out.Grade = Halt
		if more = append(more, ruleAny.Says()); in.House.Remembers() {
			more = more[len(more)-1:]
		}
	}
	if out.Grade == Halt {
		out.Deadline = Deadline{}
		if !in.House.Remembers() {
			out.Restrictions, by = nil, Halt
		}
	}
	says := ruleCell.Says(text.Key("class."+string(class)), text.Key("extent."+string(extent)), text.Key("grade."+string(by)))
	if out.Reasons = more; out.Grade == by || by == Halt { // what a rule overrides is not said
		out.Reasons = append([]text.Reason{says}, more...)
	}
	return out
}

// inHours is a deadline after so many hours of work: by the meter, and where none
// runs by the clock.
func (in Context) inHours(hours float64) Deadline {
	until := in.Hours + hours
	d := Deadline{Hours: &until}
	if in.NoMeter && in.House.dated() {
		return d.ByClock(in.At, in.Hours)
	}
	return d
}

// forbid adds restrictions of the table.
func (f Finding) forbid(these ...machine.Restriction) Finding {
	f.Restrictions = Union(f.Restrictions, these)
	return f
}

// restrict adds restrictions that a sheet names. Before the fourth edition a Halt
// had none.
func (f Finding) restrict(names []string, in Context) Finding {
	if f.Grade == Halt && !in.House.Remembers() {
		f.Restrictions, f.Deadline = nil, Deadline{}
		return f
	}
	var more []machine.Restriction
	for _, n := range names {
		more = append(more, machine.Restriction(n))
	}
	return f.forbid(more...)
}
