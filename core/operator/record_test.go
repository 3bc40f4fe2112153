package operator

import (
	"fmt"
	"slices"
	"testing"
	"time"
)

// TestPINs that are tried first are refused.
func TestPINs(t *testing.T) {
	for pin, want := range map[string]string{
		"": "digits", "123": "digits", "123456789": "digits", "12a4": "digits", "12 4": "digits", "１２３４": "digits", "-123": "digits", "/123": "digits", ":123": "digits",
		"0000": "obvious", "77777": "obvious", "1234": "obvious", "123456": "obvious", "7890": "obvious", "8901": "obvious", "9012": "obvious", "4321": "obvious", "2109": "obvious", "3210": "obvious", "98765432": "obvious",
		"1212": "obvious", "121212": "obvious", "565656": "obvious", "1999": "obvious", "2026": "obvious",
		"4071": "", "2608": "", "1231": "", "12121": "", "121213": "", "1900456": "", "20261": "", "1233": "", "1224": "", "3211": "", "8350": "", "9013": "", "1098": "obvious", "0915": "", "1357": "", "9753": "", "2099999": "",
	} {
		t.Run(pin, func(t *testing.T) {
			reason, wrong := PINWrong(pin)
			rule := ""
			if want != "" {
				rule = "pin." + want
			}
			if string(reason.Rule) != rule || wrong != (want != "") {
				t.Errorf("%q, want %q", reason.Rule, rule)
			}
			if PINLike(pin) == (want == "digits") {
				t.Errorf("like a PIN: %v", PINLike(pin))
			}
		})
	}
}

// TestWhoIsLetToAPage: everybody who may do what it is for to anything at all,
// in the order that roles are offered.
func TestWhoIsLetToAPage(t *testing.T) {
	all, crew, leads := Roles(), []Role{Operator, Lead, Technician, Trainee}, []Role{Lead}
	for act, want := range map[Act][]Role{
		Look: all, OwnThings: all, TakeOut: crew, TakeOver: crew, HandOver: crew, Work: crew, Release: crew, End: crew,
		Mend: {Technician}, Desk: {Lead, Technician}, Ease: leads, Seek: leads, Review: leads, People: leads, Vouch: leads, Machines: leads, Close: leads, Muster: leads, House: leads, "": nil, "dance": nil,
	} {
		t.Run(fmt.Sprint(act), func(t *testing.T) {
			if got := Who(act); !slices.Equal(got, want) {
				t.Errorf("%s: %v, want %v", act, got, want)
			}
		})
	}
	if len(Acts()) != 21 {
		t.Error("an act was added: say who may")
	}
	if May("", Look, Own) || May("abbot", Look, Own) {
		t.Error("nobody may look")
	}
}

func TestAPerson(t *testing.T) {
	left := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		p    Person
		here bool
	}{"somebody": {Person{ID: "ida"}, true}, "who left": {Person{ID: "ida", Left: left}, false}, "nobody": {Person{}, false}} {
		t.Run(name, func(t *testing.T) {
			if c.p.Here() != c.here {
				t.Errorf("%s is here: %v", name, c.p.Here())
			}
		})
	}
	if r := (Person{Born: "1988-09-30", Role: Trainee}).Readiness(); r.Born == nil || r.Born.Year() != 1988 || r.Role != Trainee {
		t.Errorf("%+v", r)
	}
	for _, born := range []string{"", "1988", "30-09-1988"} {
		if r := (Person{Born: born}).Readiness(); r.Born != nil {
			t.Errorf("%q is a birthday", born)
		}
	}
	for role, want := range map[Role]bool{Operator: true, Lead: true, Technician: true, Trainee: true, Visitor: false, "": false} {
		t.Run(fmt.Sprint(role), func(t *testing.T) {
			if role.MayWork() != want {
				t.Errorf("%q may have an outing: %v", role, !want)
			}
		})
	}
}

// TestTheNewestCounts: of two of a kind, the one seen later.
func TestTheNewestCounts(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 1, n, 0, 0, 0, 0, time.UTC) }
	until := func(n int) *time.Time { d := day(n); return &d }
	r := Readiness{Qualifications: []Qualification{
		{Kind: Practice, Sheet: "a", On: day(2), By: "second"},
		{Kind: Practice, Sheet: "a", On: day(3), By: "third"},
		{Kind: Practice, Sheet: "a", On: day(1), By: "first"},
		{Kind: Practice, Sheet: "a", On: day(9), By: "over", Until: until(10)},
		{Kind: Practice, Sheet: "b", On: day(8), By: "other"},
		{Kind: Licence, On: day(1), By: "licence", Until: until(12)},
	}}
	for name, c := range map[string]struct {
		kind, sheet string
		now         int
		by          string
	}{
		"the newest that holds":     {Practice, "a", 11, "third"},
		"the newest of all":         {Practice, "a", 10, "over"},
		"of another sheet":          {Practice, "b", 11, "other"},
		"of none":                   {Practice, "c", 11, ""},
		"of another kind":           {SlopePractice, "a", 11, ""},
		"a licence, whatever sheet": {Licence, "a", 12, "licence"},
		"a licence that ran out":    {Licence, "a", 13, ""},
	} {
		t.Run(name, func(t *testing.T) {
			q, ok := r.holds(c.kind, c.sheet, day(c.now))
			if q.By != c.by || ok != (c.by != "") {
				t.Errorf("%q %v", q.By, ok)
			}
		})
	}
}

// TestNothingIsEndless: a machine without vibration or noise may be worked for
// ever, one with them for so long.
func TestNothingIsEndless(t *testing.T) {
	if action, limit := (Exposure{}).Minutes(0); !(action > 1e9 && limit > 1e9) {
		t.Errorf("%v %v", action, limit)
	}
	if m := (Exposure{}).NoiseMinutes(0); m < 1e9 {
		t.Errorf("%v", m)
	}
	if action, limit := (Exposure{Vibration: 0.5}).Minutes(2.5); action != 240 || limit != 3.5*480 {
		t.Errorf("%v %v", action, limit)
	}
	if action, limit := (Exposure{Vibration: 1.00001}).Minutes(2.5); action != 0 || limit == 0 {
		t.Errorf("beyond the action value: %v %v", action, limit)
	}
	if _, limit := (Exposure{Vibration: 4.5}).Minutes(2.5); limit != 0 {
		t.Errorf("beyond the limit: %v", limit)
	}
	if m := (Exposure{Noise: 1.00001}).NoiseMinutes(85); m != 0 {
		t.Errorf("beyond the noise of a day: %v", m)
	}
}

// Example asks who may do what: an operator to their own outing, and to that of
// another.
func Example() {
	fmt.Println(May(Operator, Work, Own), May(Operator, Work, Others), May(Lead, HandOver, Others), May(Lead, Vouch, Own))
	// Output: true false true false
}
