package text

// Reasons: a rule with its arguments, told in any language later.

import (
	"fmt"
	"slices"
	"time"

	"vespers/core/unit"
)

// Rule is the id of one rule of the job, as it stands in records, on pages and
// in exports. Every rule is made by NewRule, so that a test can walk them all.
type Rule string

// Kind says what an argument of a rule is.
type Kind string

// The kinds of argument.
const (
	Words    Kind = "words"    // text of a sheet, in every language
	Amount   Kind = "amount"   // a quantity, shown in the reader's unit
	Count    Kind = "count"    // a whole number
	Term     Kind = "term"     // a key of the message catalogue
	Name     Kind = "name"     // a proper name or an id, shown as it is
	Moment   Kind = "moment"   // a time, shown in the yard's time zone
	Subjects Kind = "subjects" // several sheet texts, listed
)

// Slot is one argument a rule takes.
type Slot struct {
	Name string
	Kind Kind
}

var rules = map[Rule][]Slot{}

// NewRule registers a rule and the arguments its sentence needs. It is called
// from package variables only and panics if the id is taken.
func NewRule(id string, slots ...Slot) Rule {
	r := Rule(id)
	if _, taken := rules[r]; taken {
		panic("text: rule " + id + " is defined twice")
	}
	rules[r] = slots
	return r
}

// Rules lists every rule of the program by id.
func Rules() []Rule {
	out := make([]Rule, 0, len(rules))
	for r := range rules {
		out = append(out, r)
	}
	slices.Sort(out)
	return out
}

// Slots lists the arguments that r takes.
func (r Rule) Slots() []Slot { return rules[r] }

// Arg is one argument of a Reason; exactly one of the fields after Name is
// set, by the Kind its slot has.
type Arg struct {
	Name     string         `json:"name"`
	Words    *Text          `json:"words,omitempty"`
	Amount   *unit.Quantity `json:"amount,omitempty"`
	Unit     string         `json:"unit,omitempty"` // the sheet's unit for Amount
	Count    *int           `json:"count,omitempty"`
	Term     string         `json:"term,omitempty"`
	Plain    string         `json:"plain,omitempty"`
	Moment   *time.Time     `json:"moment,omitempty"`
	Subjects []Text         `json:"subjects,omitempty"`
}

// Reason is why something was decided: the rule and what it looked at.
type Reason struct {
	Rule Rule  `json:"rule"`
	Args []Arg `json:"args,omitempty"`
}

// Says makes a Reason of rule r. Values are matched to the rule's slots in
// order: Text, Measure, int, Key, string or time.Time. It panics on a mismatch,
// which is an error in the program, not in the data.
func (r Rule) Says(values ...any) Reason {
	slots := rules[r]
	if len(slots) != len(values) {
		panic(fmt.Sprintf("text: rule %s takes %d arguments, got %d", r, len(slots), len(values)))
	}
	reason := Reason{Rule: r}
	for i, v := range values {
		reason.Args = append(reason.Args, argument(r, slots[i], v))
	}
	return reason
}

// Key is a value for a Term slot: a key of the message catalogue.
type Key string

// Measure is a value for an Amount slot: a quantity with the unit its sheet
// gives it in, from which the reader's own unit follows.
type Measure struct {
	Quantity unit.Quantity
	Unit     string
}

func argument(r Rule, slot Slot, v any) Arg {
	a := Arg{Name: slot.Name}
	ok := false
	switch v := v.(type) {
	case Text:
		a.Words, ok = &v, slot.Kind == Words
	case Measure:
		a.Amount, a.Unit, ok = &v.Quantity, v.Unit, slot.Kind == Amount
	case int:
		a.Count, ok = &v, slot.Kind == Count
	case Key:
		a.Term, ok = string(v), slot.Kind == Term
	case string:
		a.Plain, ok = v, slot.Kind == Name
	case time.Time:
		a.Moment, ok = &v, slot.Kind == Moment
	case []Text:
		a.Subjects, ok = v, slot.Kind == Subjects
	}
	if !ok {
		panic(fmt.Sprintf("text: rule %s, argument %s is %s, got %T", r, slot.Name, slot.Kind, v))
	}
	return a
}
