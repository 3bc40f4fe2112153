package outing

// The end of an outing, and what a lead puts right about its meter meanwhile.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

type homeStage struct{ quiet }

var ruleShutDown = text.NewRule("outing.shut_down_first", text.Slot{Name: "machine", Kind: text.Name})

func (homeStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	e := Ended{How: EndGivenUp}
	switch c := c.(type) {
	case End:
		if o.Status == Out {
			e.How = EndHome
		}
	case Leave:
		left, err := c.read(o, by)
		if err != nil {
			return nil, true, err
		}
		e.How, e.Left = EndLeft, left
	default:
		return pass()
	}
	for _, u := range o.Units {
		if !u.Recorded() && e.Left == nil {
			continue
		}
		live := u.Live(by.Meta)
		if r := u.open(live); r != nil {
			return nil, true, record.Refuse(*r)
		}
		if e.Stood == nil {
			e.Stood = map[string]machine.Facts{}
		}
		e.Stood[u.Machine] = left(live)
		if u.Behind != nil && *u.Behind != "" && Coupled(u.Sheet, e.Stood[u.Machine]) {
			e.Stood[u.Machine][stoodBehind] = *u.Behind
		}
		if e.Left != nil {
			e.Stood[u.Machine][stoodOnSite] = e.Left.Where
		}
	}
	if u := o.NotParked(); u != nil {
		return nil, true, record.Refuse(ruleShutDown.Says(u.Name))
	}
	return one(e, nil)
}

// LeftOnSite is where a machine stands that was not brought home, how it is secured
// there, why, and who fetches it (a person's id).
type LeftOnSite struct {
	Where   string `json:"where"`
	Secured string `json:"secured"`
	Why     string `json:"why"`
	Fetches string `json:"fetches"`
}

// Leave leaves the machines of an outing on site: shut down, and secured as it says.
type Leave struct{ Where, Secured, Why, Fetches string }

// Act implements Command.
func (Leave) Act() operator.Act { return operator.End }

var (
	ruleNeverOut = text.NewRule("leave.never_out")
	ruleLeftHow  = text.NewRule("leave.say_how")
	ruleFetches  = text.NewRule("leave.who_fetches")
)

// leaveMost is the longest of its texts, in characters.
const leaveMost = 200

func (c Leave) read(o *Outing, by speech) (*LeftOnSite, error) {
	if o.Status != Out || o.Repair != nil {
		return nil, record.Refuse(ruleNeverOut.Says())
	}
	out := LeftOnSite{Fetches: c.Fetches}
	for _, one := range []struct {
		typed string
		into  *string
	}{{c.Where, &out.Where}, {c.Secured, &out.Secured}, {c.Why, &out.Why}} {
		typed := strings.TrimSpace(one.typed)
		if typed == "" {
			return nil, record.Refuse(ruleLeftHow.Says())
		}
		if reason, wrong := text.Wrong(typed, leaveMost); wrong {
			return nil, record.Refuse(reason)
		}
		*one.into = typed
	}
	if who, ok := by.crew.Person(c.Fetches); !ok || !who.Here() {
		return nil, record.Refuse(ruleFetches.Says())
	}
	return &out, nil
}

// NotParked is a machine that has to be shut down before the outing is home, or nil.
func (o *Outing) NotParked() *UnitState {
	if o.Order < orderShutDown || o.Status != Out {
		return nil
	}
	for _, u := range o.Units {
		if !u.Parked && slices.ContainsFunc(u.Sheet.Procedures, func(p machine.Procedure) bool { return p.ID == parksIt }) {
			return u
		}
	}
	return nil
}

// left is how a machine is left: what nobody looks at any more is unknown, and how far
// the outing was is no matter of the next.
func left(live *procedure.Live) machine.Facts {
	facts := live.Left(time.Time{}).Stands()
	for _, f := range append([]string{"metal"}, progressFacts...) {
		delete(facts, f)
	}
	return facts
}

func (homeStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	ended, mine := e.(Ended)
	if mine {
		o.Status, o.End, o.Home = Closed, &ended, m
	}
	return mine
}

// shortMove is how long a machine may have been out without having worked: a
// move across the yard leaves it as cool as it was (house rule).
const shortMove = time.Minute

// WorkedUntil reports whether the machines worked, if they come home by a record.
// Where the clock was wrong nobody knows for how long they were out: then they
// did.
func (o *Outing) WorkedUntil(home record.Meta) bool {
	unknown := home.Doubtful || o.Release.Doubtful
	return (o.Verdict != nil || o.ran != nil) && (unknown || o.RanUntil(home).Sub(o.Release.At) >= shortMove)
}

// RanUntil is when the machines were last set off, if they come home by a record: when
// they were shut down, or else then.
func (o *Outing) RanUntil(home record.Meta) time.Time {
	var last time.Time
	for _, u := range o.Units {
		off := home.At
		if live := u.procedures.live; live != nil && live.Stands()["engine"] == "off" && !home.Doubtful {
			if at, told := live.Since("engine"); told {
				off = at
			}
		}
		if off.After(last) {
			last = off
		}
	}
	return last
}
