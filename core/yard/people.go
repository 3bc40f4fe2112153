package yard

// The crew: who is added, changed, let go, and what is vouched for.

import (
	"errors"
	"slices"
	"strings"
	"time"
	"unicode"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// The longest names, in characters.
const (
	nameMost   = 80
	yardMost   = 120
	reasonMost = 300
)

var (
	ruleNameNeeded = text.NewRule("person.name_needed")
	ruleAlike      = text.NewRule("person.name_looks_alike", text.Slot{Name: "name", Kind: text.Name})
	ruleMixed      = text.NewRule("person.name_mixes_letters")
	ruleNoRole     = text.NewRule("person.no_such_role")
	ruleLanguage   = text.NewRule("person.no_such_language")
	ruleUnits      = text.NewRule("person.no_such_units")
	ruleTheme      = text.NewRule("person.no_such_theme")
	ruleLastLead   = text.NewRule("person.last_lead")
	ruleNotSelf    = text.NewRule("person.not_yourself")
	ruleStillHere  = text.NewRule("person.here_already")
	ruleHasOuting  = text.NewRule("person.has_an_outing")
	ruleZone       = text.NewRule("yard.no_such_zone")
	ruleKind       = text.NewRule("vouch.no_such_kind")
	ruleDate       = text.NewRule("vouch.no_such_date")
	ruleChanged    = text.NewRule("vouch.changed_meanwhile", text.Slot{Name: "now", Kind: text.Name})
	ruleNoRecord   = text.NewRule("vouch.no_such_record")
	ruleWhy        = text.NewRule("yard.reason_needed")
)

// named is a name that was typed, or what is wrong with it.
func named(typed string, most int) (string, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return "", record.Refuse(ruleNameNeeded.Says())
	}
	if reason, wrong := text.Wrong(typed, most); wrong {
		return "", record.Refuse(reason)
	}
	if strings.ContainsAny(typed, "\n\t") {
		return "", record.Refuse(ruleNameNeeded.Says())
	}
	return typed, nil
}

// why is a reason that somebody has to give.
func why(typed string) (string, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return "", record.Refuse(ruleWhy.Says())
	}
	if reason, wrong := text.Wrong(typed, reasonMost); wrong {
		return "", record.Refuse(reason)
	}
	return typed, nil
}

// looks is how a name looks at a glance: without case, and without more than
// one space.
func looks(name string) string { return strings.Join(strings.Fields(strings.ToLower(name)), " ") }

// mixed reports whether a name has letters of two alphabets, which can be made
// to look like another name.
func mixed(name string) bool {
	seen := 0
	for _, script := range []*unicode.RangeTable{unicode.Latin, unicode.Cyrillic, unicode.Greek, unicode.Armenian, unicode.Cherokee} {
		if strings.ContainsFunc(name, func(r rune) bool { return unicode.Is(script, r) }) {
			seen++
		}
	}
	return seen > 1
}

// personName is a name that tells a person apart on the wall of names.
func personName(v View, typed, self string) (string, error) {
	name, err := named(typed, nameMost)
	if err != nil {
		return "", err
	}
	if mixed(name) {
		return "", record.Refuse(ruleMixed.Says())
	}
	for _, p := range v.People() {
		if p.ID != self && looks(p.Name) == looks(name) {
			return "", record.Refuse(ruleAlike.Says(p.Name))
		}
	}
	return name, nil
}

func roleAndLanguage(role, language string) (operator.Role, text.Language, error) {
	if !slices.Contains(operator.Roles(), operator.Role(role)) {
		return "", "", record.Refuse(ruleNoRole.Says())
	}
	if !slices.Contains(text.Languages(), text.Language(language)) {
		return "", "", record.Refuse(ruleLanguage.Says())
	}
	return operator.Role(role), text.Language(language), nil
}

var ruleClockRight = text.NewRule("yard.clock_is_right")

func (c EndWrongClock) decide(s speech) ([]Decided, error) {
	reason, err := why(c.Reason)
	if err != nil {
		return nil, err
	}
	clock := s.Clock()
	if !clock.Wrong {
		return nil, record.Refuse(ruleClockRight.Says())
	}
	return just(ClockWrong{From: clock.From, To: clock.To, Reason: reason}), nil
}

func (c SetUp) decide(s speech) ([]Decided, error) {
	if _, done := s.Settings(); done {
		return nil, record.Refuse(ruleSetUp.Says())
	}
	yard, err := named(c.Yard, yardMost)
	if err != nil {
		return nil, err
	}
	name, err := personName(s.View, c.Name, "")
	if err != nil {
		return nil, err
	}
	if _, known := s.Zone(c.Timezone); !known {
		return nil, record.Refuse(ruleZone.Says())
	}
	_, language, err := roleAndLanguage(string(operator.Lead), c.Language)
	if err != nil {
		return nil, err
	}
	if reason, wrong := operator.PINWrong(c.PIN); wrong {
		return nil, record.Refuse(reason)
	}
	id := "p-" + s.ID
	return []Decided{
		{Event: PersonAdded{ID: id, Name: name, Role: operator.Lead, Language: language, Units: unit.Metric}},
		{Event: PINSet{ID: id}},
		{Event: Named{Name: yard, Timezone: c.Timezone, House: defect.DefaultHouse()}},
	}, nil
}

func (c NameYard) decide(s speech) ([]Decided, error) {
	name, err := named(c.Name, yardMost)
	if err != nil {
		return nil, err
	}
	if _, known := s.Zone(c.Timezone); !known {
		return nil, record.Refuse(ruleZone.Says())
	}
	if reason, wrong := c.House.Wrong(); wrong {
		return nil, record.Refuse(reason)
	}
	if err := errors.Join(c.Practice.check(), c.Emergency.check(), c.Places.check(), c.Pictures.check()); err != nil {
		return nil, err
	}
	settings, _ := s.Settings()
	return just(Named{Name: name, Timezone: c.Timezone, House: c.House, Practice: c.Practice.chosen(settings.Practice), Emergency: c.Emergency, Places: c.Places, Pictures: c.Pictures}), nil
}

func (c AddPerson) decide(s speech) ([]Decided, error) {
	name, err := personName(s.View, c.Name, "")
	if err != nil {
		return nil, err
	}
	role, language, err := roleAndLanguage(c.Role, c.Language)
	if err != nil {
		return nil, err
	}
	id := "p-" + s.ID
	lent, err := pin(id, c.PIN, true)
	if err != nil {
		return nil, err
	}
	return append(just(PersonAdded{ID: id, Name: name, Role: role, Language: language, Units: unit.Metric}), lent...), nil
}

// here is somebody who works here.
func here(v View, id string) (operator.Person, error) {
	p, ok := v.Person(id)
	if !ok || !p.Here() {
		return p, record.Refuse(ruleNoPerson.Says())
	}
	return p, nil
}

func (c ChangePerson) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	name, err := personName(s.View, c.Name, p.ID)
	if err != nil {
		return nil, err
	}
	role, language, err := roleAndLanguage(c.Role, c.Language)
	if err != nil {
		return nil, err
	}
	if role != operator.Lead && lastLead(s.View, p) {
		return nil, record.Refuse(ruleLastLead.Says())
	}
	if !role.MayWork() && len(s.OutWith(p.ID)) > 0 {
		return nil, record.Refuse(ruleHasOuting.Says())
	}
	return just(PersonChanged{ID: p.ID, Name: name, Role: role, Language: language}), nil
}

// lastLead reports whether somebody is the only lead there is: a yard without
// one could never have one again.
func lastLead(v View, p operator.Person) bool {
	return p.Role == operator.Lead && !slices.ContainsFunc(v.People(), func(q operator.Person) bool { return q.ID != p.ID && q.Role == operator.Lead })
}

func (c SetOwn) decide(s speech) ([]Decided, error) {
	switch {
	case !slices.Contains(text.Languages(), text.Language(c.Language)):
		return nil, record.Refuse(ruleLanguage.Says())
	case c.Units != string(unit.Metric) && c.Units != string(unit.US):
		return nil, record.Refuse(ruleUnits.Says())
	case c.Theme != "auto" && c.Theme != "daylight" && c.Theme != "lantern":
		return nil, record.Refuse(ruleTheme.Says())
	}
	return just(PersonSet{ID: s.who.ID, Language: text.Language(c.Language), Units: unit.System(c.Units), Theme: c.Theme, Keys: c.Keys}), nil
}

func pin(person, pin string, lent bool) ([]Decided, error) {
	if reason, wrong := operator.PINWrong(pin); wrong {
		return nil, record.Refuse(reason)
	}
	return just(PINSet{ID: person, Lent: lent}), nil
}

func (c ChangePIN) decide(s speech) ([]Decided, error) { return pin(s.who.ID, c.PIN, false) }

func (c LendPIN) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	return pin(p.ID, c.PIN, true)
}

func (c LetGo) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	switch {
	case err != nil:
		return nil, err
	case p.ID == s.who.ID:
		return nil, record.Refuse(ruleNotSelf.Says())
	case lastLead(s.View, p):
		return nil, record.Refuse(ruleLastLead.Says())
	}
	return just(PersonLeft{ID: p.ID}), nil
}

func (c TakeBack) decide(s speech) ([]Decided, error) {
	p, ok := s.Person(c.Person)
	switch {
	case !ok:
		return nil, record.Refuse(ruleNoPerson.Says())
	case p.Here():
		return nil, record.Refuse(ruleStillHere.Says())
	}
	if _, err := personName(s.View, p.Name, p.ID); err != nil {
		return nil, err // somebody of that name came meanwhile
	}
	return just(PersonReturned{ID: p.ID}), nil
}

func (c SawManual) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	sheet, ok := s.Sheet(c.Sheet)
	if !ok {
		return nil, record.Refuse(ruleNoSheet.Says())
	}
	return just(ManualRecorded{Person: p.ID, Manual: operator.ManualRead{Sheet: sheet.ID, Edition: sheet.Edition, Language: p.Language, On: s.At}}), nil
}

func (c SawShown) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	q := operator.Qualification{Kind: c.Kind, On: s.At, By: s.By}
	if !slices.Contains(operator.QualificationKinds(), c.Kind) {
		return nil, record.Refuse(ruleKind.Says())
	}
	if c.Kind != operator.Licence {
		sheet, ok := s.Sheet(c.Sheet)
		if !ok {
			return nil, record.Refuse(ruleNoSheet.Says())
		}
		q.Sheet = sheet.ID
	}
	if c.Until != "" {
		until, err := endOfDay(s, c.Until)
		if err != nil {
			return nil, err
		}
		q.Until = &until
	}
	return just(QualificationRecorded{Person: p.ID, Qualification: q}), nil
}

// The ages that a date of birth can give, in years: beyond, it is a slip of the
// finger (house rule).
const youngest, oldest = 12, 100

func (c SawBorn) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	born, err := time.Parse(time.DateOnly, strings.TrimSpace(c.Born))
	switch {
	case err != nil || born.After(s.At.AddDate(-youngest, 0, 0)) || born.Before(s.At.AddDate(-oldest, 0, 0)):
		return nil, record.Refuse(ruleDate.Says())
	case c.Was != p.Born:
		return nil, record.Refuse(ruleChanged.Says(p.Born))
	}
	return just(BornRecorded{Person: p.ID, Born: born.Format(time.DateOnly)}), nil
}

func (c Withdraw) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	reason, err := why(c.Why)
	if err != nil {
		return nil, err
	}
	manual := slices.ContainsFunc(p.Manuals, func(r operator.ManualRead) bool { return r.Record == c.Record })
	shown := slices.ContainsFunc(p.Qualifications, func(q operator.Qualification) bool { return q.Record == c.Record })
	if c.Record == "" || !manual && !shown {
		return nil, record.Refuse(ruleNoRecord.Says())
	}
	return just(Withdrawn{Person: p.ID, Record: c.Record, Why: reason}), nil
}
