package interlock

// A section of a sheet compiled: permits as functions of the contacts.

import (
	"regexp"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

// The most a sheet may have.
const (
	maxSwitches = 12
	maxDrives   = 8
)

// State is the position of every switch: bit i is set when switch i is made.
type State uint16

// Logic is an interlock section compiled for computing.
type Logic struct {
	Switches []string
	Rest     State
	// NoneText is set when the machine has no powered motion of its own.
	None bool

	permits  []permit
	start    int // index into permits, -1 if none
	run      int
	drives   []int
	places   State          // switches that are the operator's place
	atStart  State          // switches without which no engine is started
	still    State          // switches not to be touched while what they hold moves
	nowhere  [reaches]table // states no test may use, by kind of test
	required []machine.RequiredTest
}

// reach is a kind of test that a state can be ruled out in.
type reach int

const (
	refusals reach = iota
	engages
	stops
	reaches
)

// reachNames are those of the sheet; both is what all was called when there
// were two.
var reachNames = map[string][]reach{"refusal": {refusals}, "engage": {engages}, "stop": {stops},
	"all": {refusals, engages, stops}, "both": {refusals, engages, stops}}

type permit struct {
	id        string
	when      Expr
	latched   bool
	latchedBy State // mask; 0 means any
	truth     table // when, in every state
	named     State // switches that when names
	per       State // of these, the ones with a contact of their own here
	turnedBy  int   // permit of the drive that turns this one, -1 if none
}

// The rules that interlock sections are held to.
var (
	ruleSyntax     = text.NewRule("interlock.syntax", text.Slot{Name: "expression", Kind: text.Name}, text.Slot{Name: "column", Kind: text.Count})
	ruleSwitch     = text.NewRule("interlock.unknown_switch", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	rulePermit     = text.NewRule("interlock.unknown_permit", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleTooMany    = text.NewRule("interlock.too_many", text.Slot{Name: "what", Kind: text.Term}, text.Slot{Name: "most", Kind: text.Count})
	ruleDuplicate  = text.NewRule("interlock.duplicate_id", text.Slot{Name: "id", Kind: text.Name})
	ruleBadID      = text.NewRule("interlock.bad_id", text.Slot{Name: "id", Kind: text.Name})
	ruleMadeUnsafe = text.NewRule("interlock.made_unsafe", text.Slot{Name: "switch", Kind: text.Name}, text.Slot{Name: "permit", Kind: text.Name})
	ruleRequired   = text.NewRule("interlock.required_not_a_test")
	ruleLatch      = text.NewRule("interlock.latched_not_drive", text.Slot{Name: "id", Kind: text.Name})
	ruleCodeTwice  = text.NewRule("interlock.code_twice", text.Slot{Name: "code", Kind: text.Name})
	ruleCodeNone   = text.NewRule("interlock.code_none")
	ruleNothing    = text.NewRule("interlock.nothing")
	ruleNoneAndAll = text.NewRule("interlock.none_and_some")
	ruleReach      = text.NewRule("interlock.unknown_reach", text.Slot{Name: "id", Kind: text.Name})
	ruleNoReach    = text.NewRule("interlock.no_reach")
	ruleTurned     = text.NewRule("interlock.turned_by", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleNoStart    = text.NewRule("interlock.no_start_state")
)

var idPattern = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

// Warning reports whether a problem is a warning only: the sheet can be used.
func Warning(r text.Rule) bool { return r == ruleMadeUnsafe || r == ruleNoStart }

// Compile reads an interlock section. With problems that are not warnings the
// Logic is nil.
func Compile(section machine.Interlock) (*Logic, []machine.Problem) {
	c := &compiler{section: section, logic: &Logic{start: -1, run: -1}}
	if section.None != nil {
		if len(section.Switches)+len(section.Permits)+len(section.Never)+len(section.Required)+len(section.Codes) > 0 {
			c.add(ruleNoneAndAll.Says(), "none")
			return nil, c.found
		}
		return &Logic{None: true, start: -1, run: -1}, nil
	}
	if len(section.Permits) == 0 {
		c.add(ruleNothing.Says())
		return nil, c.found
	}
	if len(section.Switches) > maxSwitches {
		// Nothing else can be said of expressions over so many.
		c.add(ruleTooMany.Says(text.Key("interlock.switches"), maxSwitches), "switches")
		return nil, c.found
	}
	c.switches()
	c.permits()
	c.turned()
	c.never()
	c.codes()
	if len(c.found) > 0 {
		return nil, c.found
	}
	c.required()
	if len(c.found) > 0 {
		return nil, c.found
	}
	c.warnings()
	return c.logic, c.found
}

type compiler struct {
	section machine.Interlock
	logic   *Logic
	ids     map[string]bool
	found   []machine.Problem
}

func (c *compiler) add(r text.Reason, path ...any) {
	c.found = append(c.found, machine.Problem{Pointer: machine.Pointer(append([]any{"interlock"}, path...)...), Reason: r})
}

func (c *compiler) identity(id string, path ...any) {
	if !idPattern.MatchString(id) || id == "true" || id == "false" {
		c.add(ruleBadID.Says(id), path...)
	}
	if c.ids[id] {
		c.add(ruleDuplicate.Says(id), path...)
	}
	c.ids[id] = true
}

func (c *compiler) switches() {
	c.ids = map[string]bool{}
	for i, s := range c.section.Switches {
		c.identity(s.ID, "switches", i, "id")
		c.logic.Switches = append(c.logic.Switches, s.ID)
		if s.Rest != "broken" {
			c.logic.Rest |= 1 << i
		}
		if s.Place {
			c.logic.places |= 1 << i
		}
		if s.AtStart == "made" {
			c.logic.atStart |= 1 << i
		}
		if s.Moving == "forbidden" {
			c.logic.still |= 1 << i
		}
	}
}

func (c *compiler) expression(source string, path ...any) Expr {
	e, err := Parse(source)
	if err != nil {
		c.add(ruleSyntax.Says(source, err.(*SyntaxError).Offset+1), path...)
		return nil
	}
	set := map[string]bool{}
	names(e, set)
	ok := true
	for name := range set {
		if c.logic.index(name) < 0 {
			c.add(ruleSwitch.Says(name, strings.Join(c.logic.Switches, ", ")), path...)
			ok = false
		}
	}
	if !ok {
		return nil
	}
	return e
}

func (l *Logic) index(name string) int { return slices.Index(l.Switches, name) }

func (c *compiler) permits() {
	for i, p := range c.section.Permits {
		c.identity(p.ID, "permits", i, "id")
		e := c.expression(p.When, "permits", i, "when")
		if e == nil {
			continue
		}
		compiled := permit{id: p.ID, when: e, truth: c.logic.tabulate(e), latched: p.Latched, turnedBy: -1}
		set := map[string]bool{}
		names(e, set)
		for j, s := range c.section.Switches {
			if set[s.ID] {
				compiled.named |= 1 << j
				if s.Contacts == "per_permit" {
					compiled.per |= 1 << j
				}
			}
		}
		c.latch(i, p, &compiled)
		c.place(i, p.Kind, len(c.logic.permits))
		c.logic.permits = append(c.logic.permits, compiled)
	}
	if len(c.logic.drives) > maxDrives {
		c.add(ruleTooMany.Says(text.Key("interlock.drives"), maxDrives), "permits")
	}
}

func (c *compiler) latch(i int, p machine.Permit, compiled *permit) {
	if p.Latched && p.Kind != "drive" {
		c.add(ruleLatch.Says(p.ID), "permits", i, "latched")
	}
	for j, name := range p.LatchedBy {
		k := c.logic.index(name)
		if k < 0 {
			c.add(ruleSwitch.Says(name, strings.Join(c.logic.Switches, ", ")), "permits", i, "latched_by", j)
			continue
		}
		compiled.latchedBy |= 1 << k
	}
}

func (c *compiler) place(i int, kind string, at int) {
	switch kind {
	case "start":
		if c.logic.start >= 0 {
			c.add(ruleTooMany.Says(text.Key("interlock.start_permits"), 1), "permits", i)
		}
		c.logic.start = at
	case "run":
		if c.logic.run >= 0 {
			c.add(ruleTooMany.Says(text.Key("interlock.run_permits"), 1), "permits", i)
		}
		c.logic.run = at
	case "drive":
		c.logic.drives = append(c.logic.drives, at)
	default:
		c.add(rulePermit.Says(kind, "start, run, drive"), "permits", i, "kind")
	}
}

func (c *compiler) never() {
	n := 1 << len(c.logic.Switches)
	for kind := range c.logic.nowhere {
		c.logic.nowhere[kind] = newTable(n)
	}
	for i, never := range c.section.Never {
		e := c.expression(never.State, "never", i, "state")
		if e == nil {
			continue
		}
		in := never.In
		switch {
		case in == nil:
			in = machine.Reaches{"all"}
		case len(in) == 0:
			c.add(ruleNoReach.Says(), "never", i, "in")
		}
		t := c.logic.tabulate(e)
		for j, name := range in {
			kinds, known := reachNames[name]
			if !known {
				c.add(ruleReach.Says(name), "never", i, "in", j)
			}
			for _, kind := range kinds {
				c.logic.nowhere[kind].or(t)
			}
		}
	}
}

// turned finds the drives that turn others: drives of the section that nothing
// turns in their turn.
func (c *compiler) turned() {
	for i, p := range c.section.Permits {
		if p.TurnedBy == "" || i >= len(c.logic.permits) {
			continue
		}
		var known []string
		for j, other := range c.section.Permits {
			if other.Kind == "drive" && other.TurnedBy == "" {
				known = append(known, other.ID)
				if other.ID == p.TurnedBy && p.Kind == "drive" {
					c.logic.permits[i].turnedBy = j
				}
			}
		}
		if c.logic.permits[i].turnedBy < 0 {
			c.add(ruleTurned.Says(p.TurnedBy, strings.Join(known, ", ")), "permits", i, "turned_by")
		}
	}
}

// codes: a blink code that speaks of a switch speaks of one there is, and no
// number means two things.
func (c *compiler) codes() {
	seen := map[string]bool{}
	for i, code := range c.section.Codes {
		if code.Switch != "" && c.logic.index(code.Switch) < 0 {
			c.add(ruleSwitch.Says(code.Switch, strings.Join(c.logic.Switches, ", ")), "codes", i, "switch")
		}
		key := code.Key()
		switch {
		case key == "":
			c.add(ruleCodeNone.Says(), "codes", i)
		case seen[key]:
			c.add(ruleCodeTwice.Says(key), "codes", i)
		}
		seen[key] = true
	}
}

// warnings: breaking a switch should never make cranking or running possible;
// and an engine needs a state to be started in.
func (c *compiler) warnings() {
	l := c.logic
	if l.engine() && len(newField(l, l.with(nil), false).starts) == 0 {
		c.add(ruleNoStart.Says(), "permits")
	}
	for _, p := range []int{l.start, l.run} {
		if p < 0 {
			continue
		}
		t := l.permits[p].truth
		for i, name := range l.Switches {
			for x := range State(1 << len(l.Switches)) {
				if x>>i&1 == 1 && !t.has(x) && t.has(x&^(1<<i)) {
					c.add(ruleMadeUnsafe.Says(name, l.permits[p].id), "permits", p, "when")
					break
				}
			}
		}
	}
}
