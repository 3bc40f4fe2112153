package interlock

import (
	"strings"
	"testing"

	"vespers/core/machine"
	"vespers/core/text"
)

func TestParsePrintsBack(t *testing.T) {
	for _, test := range []struct{ source, want string }{
		{"a", "a"},
		{"a&&b||c", "a && b || c"},
		{"a && (b || c)", "a && (b || c)"},
		{"!(a && !b)", "!(a && !b)"},
		{"!!a", "!!a"},
		{"(a)", "a"},
		{"true || false", "true || false"},
		{" seat\t||\n( brake ) ", "seat || brake"},
	} {
		t.Run(test.source, func(t *testing.T) {
			e, err := Parse(test.source)
			if err != nil || e.String() != test.want {
				t.Errorf("Parse(%q) = %v, %v; want %q", test.source, e, err, test.want)
			}
		})
	}
}

func TestSyntaxErrors(t *testing.T) {
	for _, test := range []struct {
		source string
		offset int
	}{
		{"", 0}, {"a &&", 4}, {"a & b", 2}, {"a b", 2}, {"(a", 2}, {"a)", 1}, {"A", 0}, {"1a", 0}, {"a || || b", 5}, {"!", 1},
	} {
		t.Run(test.source, func(t *testing.T) {
			_, err := Parse(test.source)
			syntax, ok := err.(*SyntaxError)
			if !ok || syntax.Offset != test.offset {
				t.Errorf("Parse(%q): %v, want an error at %d", test.source, err, test.offset)
			}
		})
	}
}

func FuzzParse(f *testing.F) {
	f.Add("a && (b || !c)")
	f.Add("!!(a)||true")
	f.Fuzz(func(t *testing.T, source string) {
		e, err := Parse(source)
		if err != nil {
			return
		}
		again, err := Parse(e.String())
		if err != nil || again.String() != e.String() {
			t.Fatalf("%q printed as %q, read back as %v, %v", source, e, again, err)
		}
		for _, made := range []bool{true, false} {
			position := func(name string) bool { return (len(name)%2 == 0) == made }
			if e.Eval(position) != again.Eval(position) {
				t.Fatalf("%q changed its truth in printing", source)
			}
		}
	})
}

// TestNestedWithoutEnd: what nobody writes does not exhaust the stack.
func TestNestedWithoutEnd(t *testing.T) {
	for _, open := range []string{"!", "("} {
		if _, err := Parse(strings.Repeat(open, 5_000_000) + "a"); err == nil {
			t.Errorf("five million %s were read", open)
		}
	}
	deep := strings.Repeat("!", 60) + strings.Repeat("(", 20) + "a" + strings.Repeat(")", 20)
	if _, err := Parse(deep + " && " + deep); err != nil {
		t.Errorf("eighty deep, twice: %v", err)
	}
}

func TestBadSections(t *testing.T) {
	good := func() machine.Interlock { return zeroTurn("") }
	for name, test := range map[string]struct {
		break_  func(*machine.Interlock)
		rule    text.Rule
		pointer string
	}{
		"unknown switch":  {func(s *machine.Interlock) { s.Permits[0].When = "brake && brke" }, ruleSwitch, "/interlock/permits/0/when"},
		"syntax":          {func(s *machine.Interlock) { s.Permits[1].When = "seat |" }, ruleSyntax, "/interlock/permits/1/when"},
		"duplicate":       {func(s *machine.Interlock) { s.Permits[2].ID = "seat" }, ruleDuplicate, "/interlock/permits/2/id"},
		"two starts":      {func(s *machine.Interlock) { s.Permits[2].Kind = "start" }, ruleTooMany, "/interlock/permits/2"},
		"bad kind":        {func(s *machine.Interlock) { s.Permits[2].Kind = "go" }, rulePermit, "/interlock/permits/2/kind"},
		"latched run":     {func(s *machine.Interlock) { s.Permits[1].Latched = true }, ruleLatch, "/interlock/permits/1/latched"},
		"latched by":      {func(s *machine.Interlock) { s.Permits[2].LatchedBy = []string{"bar"} }, ruleSwitch, "/interlock/permits/2/latched_by/0"},
		"code of nothing": {func(s *machine.Interlock) { s.Codes = []machine.Code{{Blinks: 2, Switch: "bell"}} }, ruleSwitch, "/interlock/codes/0/switch"},
		"code twice":      {func(s *machine.Interlock) { s.Codes = []machine.Code{{Blinks: 2}, {Blinks: 2}} }, ruleCodeTwice, "/interlock/codes/1"},
		"code in groups": {func(s *machine.Interlock) {
			s.Codes = []machine.Code{{Groups: []int{2, 3}}, {Groups: []int{3, 2}}, {Groups: []int{2, 3}}}
		}, ruleCodeTwice, "/interlock/codes/2"},
		"code of no blinks":    {func(s *machine.Interlock) { s.Codes = []machine.Code{{Groups: []int{2, 0}}} }, ruleCodeNone, "/interlock/codes/0"},
		"code of nothing seen": {func(s *machine.Interlock) { s.Codes = []machine.Code{{}} }, ruleCodeNone, "/interlock/codes/0"},
		"code of two kinds":    {func(s *machine.Interlock) { s.Codes = []machine.Code{{Blinks: 2, Shows: "E2"}} }, ruleCodeNone, "/interlock/codes/0"},
		"code on two lamps": {func(s *machine.Interlock) {
			s.Codes = []machine.Code{{Lamp: text.Text{EN: "red"}, Blinks: 2}, {Lamp: text.Text{EN: "green"}, Blinks: 2}, {Blinks: 2}, {Shows: "2"}, {Blinks: 2}}
		}, ruleCodeTwice, "/interlock/codes/4"},
		"never":               {func(s *machine.Interlock) { s.Never[0].State = "!seet" }, ruleSwitch, "/interlock/never/0/state"},
		"nothing":             {func(s *machine.Interlock) { *s = machine.Interlock{} }, ruleNothing, "/interlock"},
		"never in no test":    {func(s *machine.Interlock) { s.Never[0].In = machine.Reaches{} }, ruleNoReach, "/interlock/never/0/in"},
		"never in what":       {func(s *machine.Interlock) { s.Never[0].In = machine.Reaches{"stop", "drive"} }, ruleReach, "/interlock/never/0/in/1"},
		"turned by none":      {func(s *machine.Interlock) { s.Permits[2].TurnedBy = "shaft" }, ruleTurned, "/interlock/permits/2/turned_by"},
		"turned by itself":    {func(s *machine.Interlock) { s.Permits[2].TurnedBy = "blades" }, ruleTurned, "/interlock/permits/2/turned_by"},
		"turned by run":       {func(s *machine.Interlock) { s.Permits[2].TurnedBy = "run" }, ruleTurned, "/interlock/permits/2/turned_by"},
		"a run permit turned": {func(s *machine.Interlock) { s.Permits[1].TurnedBy = "blades" }, ruleTurned, "/interlock/permits/1/turned_by"},
		"none, and never":     {func(s *machine.Interlock) { *s = machine.Interlock{None: &text.Text{EN: "none"}, Never: s.Never} }, ruleNoneAndAll, "/interlock/none"},
		"no start state":      {func(s *machine.Interlock) { s.Permits[2].When = "cutters" }, ruleNoStart, "/interlock/permits"},
		"made unsafe":         {func(s *machine.Interlock) { s.Permits[0].When = "!seat" }, ruleMadeUnsafe, "/interlock/permits/0/when"},
	} {
		t.Run(name, func(t *testing.T) {
			section := good()
			test.break_(&section)
			_, problems := Compile(section)
			if len(problems) == 0 || problems[0].Reason.Rule != test.rule || problems[0].Pointer != test.pointer {
				t.Errorf("%s: %+v, want %s at %s", name, problems, test.rule, test.pointer)
			}
		})
	}
}
