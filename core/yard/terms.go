package yard

// Easing and tightening a Mend: a lead's word, with a reason, never about a Halt.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// SetTerms sets until when a machine may go out with a Mend, and what it is not for
// meanwhile. Until is a moment as a form sends it, in the yard's time; Hours what the
// meter may show, both as typed; Not are all restrictions that hold from now on.
type SetTerms struct {
	Defect, Until, Hours string
	Not                  []string
	Why                  string
}

// Act implements Command.
func (SetTerms) Act() operator.Act { return operator.Ease }

// HearNews says that the speaker has read what became of what they found.
type HearNews struct{}

// Act implements Command.
func (HearNews) Act() operator.Act { return operator.OwnThings }

// NewsHeard says that a person has read what became of what they found.
type NewsHeard struct {
	Person string `json:"person"`
}

// Kind implements record.Event.
func (NewsHeard) Kind() string { return "news_heard" }

var _ = record.Register(NewsHeard{})

func (HearNews) decide(s speech) ([]Decided, error) { return just(NewsHeard{Person: s.who.ID}), nil }

// termsDays is how many days after it was found a Mend may stand at most, whoever says
// so (house rule).
const termsDays = 60

// momentForm is a moment as a form sends it.
const momentForm = "2006-01-02T15:04"

var (
	ruleOnlyMend = text.NewRule("terms.only_a_mend", text.Slot{Name: "grade", Kind: text.Term})
	ruleUntil    = text.NewRule("terms.until_when")
	ruleTooLong  = text.NewRule("terms.too_long", text.Slot{Name: "most", Kind: text.Count}, text.Slot{Name: "last", Kind: text.Moment})
	ruleMeterNow = text.NewRule("terms.hours_behind", text.Slot{Name: "now", Kind: text.Amount})
	ruleNotKnown = text.NewRule("terms.no_such_restriction")
)

func (c SetTerms) decide(s speech) ([]Decided, error) {
	d, err := open(s.View, c.Defect)
	if err != nil {
		return nil, err
	}
	m, ok := s.Machine(d.Machine)
	if !ok {
		return nil, record.Refuse(ruleNoMachine.Says())
	}
	if now := d.Finding.GradeAt(m.Hours, s.At); now != defect.Mend {
		return nil, record.Refuse(ruleOnlyMend.Says(text.Key("grade." + string(now))))
	}
	why, err := why(c.Why)
	if err != nil {
		return nil, err
	}
	e := outing.TermsSet{Defect: d.ID, Why: why, Was: d.Finding.Deadline, WasNot: d.Finding.Restrictions}
	if e.Deadline, err = c.deadline(s, m, d); err != nil {
		return nil, err
	}
	for _, r := range machine.Restrictions() {
		if slices.Contains(c.Not, string(r)) {
			e.Restrictions = append(e.Restrictions, r)
		}
	}
	if len(e.Restrictions) != len(c.Not) {
		return nil, record.Refuse(ruleNotKnown.Says())
	}
	return []Decided{{Outing: m.Outing, Machine: m.ID, Event: e}}, nil
}

// deadline is the one that was typed: ahead, and not farther than any Mend may stand.
func (c SetTerms) deadline(s speech, m Machine, d Defect) (defect.Deadline, error) {
	settings, _ := s.Settings()
	zone, ok := s.Zone(settings.Timezone)
	if !ok {
		zone = time.UTC
	}
	until, err := time.ParseInLocation(momentForm, strings.TrimSpace(c.Until), zone)
	if err != nil || !until.After(s.At) {
		return defect.Deadline{}, record.Refuse(ruleUntil.Says())
	}
	if last := d.FoundAt.Add(termsDays * 24 * time.Hour); until.After(last) {
		return defect.Deadline{}, record.Refuse(ruleTooLong.Says(termsDays, last))
	}
	deadline := defect.Deadline{At: &until}
	if strings.TrimSpace(c.Hours) == "" {
		return deadline, nil
	}
	hours, err := typedHours(c.Hours)
	if err != nil {
		return deadline, err
	}
	if hours < m.Hours {
		hour, _ := unit.Find("h")
		return deadline, record.Refuse(ruleMeterNow.Says(text.Measure{Quantity: hour.Of(m.Hours), Unit: "h"}))
	}
	deadline.Hours = &hours
	return deadline, nil
}
