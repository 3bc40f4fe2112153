package outing

// Proving a machine again after work was done on it: an outing of a technician that
// looks at what was touched and repeats the tests that cover it, and ends with a
// signature instead of a release.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// Repair is the work after which an outing proves its machine again.
type Repair struct {
	// Defects are those that end with it.
	Defects []string `json:"defects"`
	Cause   string   `json:"cause"`
	Work    string   `json:"work"`
	Parts   string   `json:"parts,omitempty"`
	// Touched are the points that hands were at, Replaced those with a new part.
	Touched  []string `json:"touched,omitempty"`
	Replaced []string `json:"replaced,omitempty"`
	// Controls are the switches and drives that hands were at; Renewed the drives that
	// stop with a new part.
	Controls []string `json:"controls,omitempty"`
	Renewed  []string `json:"renewed,omitempty"`
	// Points are looked at again. Of the round are repeated the tests that show a fault
	// of the controls, or one of Faults, which a test that failed would have shown; or
	// all of them, where a safety device was out and nothing says which tests cover it.
	Points []string `json:"points,omitempty"`
	Faults []string `json:"faults,omitempty"`
	Round  bool     `json:"round,omitempty"`
}

// repeats reports whether a test of the whole round is repeated.
func (r Repair) repeats(t interlock.Test) bool {
	return r.Round || interlock.Repeats(t, r.Controls) || slices.ContainsFunc(t.Catches, func(f string) bool { return slices.Contains(r.Faults, f) })
}

// Sign puts the machine of a repair back to service.
type Sign struct{}

// Act implements Command.
func (Sign) Act() operator.Act { return operator.Mend }

// EndMended is how the outing of a repair ends that was signed.
const EndMended = "mended"

var (
	ruleNotRepair  = text.NewRule("repair.not_one")
	ruleNoRelease  = text.NewRule("repair.no_release")
	ruleFoundAgain = text.NewRule("repair.found_again", text.Slot{Name: "point", Kind: text.Words})
	ruleTestAgain  = text.NewRule("repair.test_failed")
)

// ComposeRepair makes what the outing of a repair begins with: the points that are
// looked at again, and of the round what is repeated. Open defects that do not end with
// it are carried.
func ComposeRepair(id string, who operator.Person, house defect.House, main Machine, carrier *Machine, plan Planner, repair Repair, now time.Time) (Started, error) {
	main.Practice = without(main.Practice, "test_rhythm")
	return compose(composing{id: id, who: who, house: house, main: main, carrier: carrier, plan: plan, now: now, repair: &repair})
}

// without are the choices of a house but one.
func without(practice map[string]string, question string) map[string]string {
	out := map[string]string{}
	for id, choice := range practice {
		if id != question {
			out[id] = choice
		}
	}
	return out
}

// part is the round of a section with only the tests that are repeated; the whole of
// it for an outing that is no repair.
func (r *Repair) part(whole interlock.Plan, section machine.Interlock) interlock.Plan {
	if r == nil {
		return whole
	}
	logic, _ := interlock.Compile(section)
	if logic == nil || !slices.ContainsFunc(whole.Tests, r.repeats) {
		return interlock.NoTests()
	}
	return logic.Part(whole, r.repeats)
}

type repairStage struct{ quiet }

func (repairStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if _, mine := c.(Sign); !mine {
		return pass()
	}
	if o.Repair == nil {
		return nil, true, record.Refuse(ruleNotRepair.Says())
	}
	if err := o.working(by.At); err != nil {
		return nil, true, err
	}
	if missing := o.Unproved(by.At); len(missing) > 0 {
		return nil, true, record.Refuse(missing[0].Reason)
	}
	events, _, err := homeStage{}.decide(o, End{}, by)
	if err != nil {
		return nil, true, err
	}
	e := events[0].(Ended)
	e.How = EndMended
	return one(e, nil)
}

func (repairStage) apply(*Outing, record.Meta, record.Event) bool { return false }

// Unproved is what keeps the machine of a repair from being signed back: points and
// tests that are not repeated yet, and what was found again. The operator's own papers
// are asked for by what they answer.
func (o *Outing) Unproved(now time.Time) []Missing {
	if o.Ready() == nil {
		return []Missing{{Reason: ruleNotAsked.Says(), Step: StageReady}}
	}
	var out []Missing
	for _, d := range o.Defects() {
		u := o.Unit(d.Machine)
		if d.Carried || d.Finding.GradeAt(u.HoursNow(), now) != defect.Halt {
			continue
		}
		m := Missing{Reason: ruleTestAgain.Says(), Step: StageVerdict, Machine: d.Machine, Check: d.Check}
		if c, ok := u.Sheet.Check(d.Check); ok {
			m.Reason = ruleFoundAgain.Says(c.Name)
		}
		out = append(out, m)
	}
	if o.Stale(now) {
		out = append(out, Missing{Reason: ruleStale.Says(), Step: StageVerdict})
	}
	for _, u := range o.Units {
		for _, s := range stages {
			if _, release := s.(releaseStage); !release {
				out = append(out, s.missing(o, u, now)...)
			}
		}
	}
	return out
}
