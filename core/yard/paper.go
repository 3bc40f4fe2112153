package yard

// The paper for a day without power: the code that stands on a printed sheet, and
// copying one in afterwards.

import (
	"crypto/sha256"
	"encoding/base32"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// CopyPaper begins to copy a paper in: the code on it, and the date (2006-01-02) and
// time (15:04) at which the inspection on it was begun.
type CopyPaper struct{ Code, Day, Time string }

// Act implements Command.
func (CopyPaper) Act() operator.Act { return operator.TakeOut }

var (
	ruleNoCode     = text.NewRule("paper.no_such_code")
	rulePaperWhen  = text.NewRule("paper.say_when")
	rulePaperAhead = text.NewRule("paper.not_yet")
	rulePaperTwice = text.NewRule("paper.copied_already", text.Slot{Name: "name", Kind: text.Name}, text.Slot{Name: "since", Kind: text.Moment})
	rulePaperOld   = text.NewRule("paper.too_old", text.Slot{Name: "days", Kind: text.Count})
)

// paperDays is how old a paper may be that is copied in, in days (house rule).
const paperDays = 31

// letters are those of a code: no I, L, O or U, which are read as something else.
var letters = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)

// PaperCode is the code on the paper of a machine, built by a sheet (its key): the same
// paper has the same code, another edition of the sheet another.
func PaperCode(machineID, sheet string) string {
	sum := sha256.Sum256([]byte(machineID + "\n" + sheet))
	code := letters.EncodeToString(sum[:5])
	return code[:4] + "-" + code[4:]
}

// readCode is a code as somebody typed it.
func readCode(typed string) string {
	typed = strings.NewReplacer("O", "0", "I", "1", "L", "1", "-", "", " ", "").Replace(strings.ToUpper(typed))
	if len(typed) != 8 {
		return ""
	}
	return typed[:4] + "-" + typed[4:]
}

// OfPaper is the machine that a code stands for, built as its paper was printed: as it is
// now, or by an older edition of its sheet.
func OfPaper(v View, typed string) (m Machine, ok bool) {
	code := readCode(typed)
	if code == "" {
		return m, false
	}
	hashes := v.Sheets()
	for _, m := range v.Machines() {
		if PaperCode(m.ID, m.Sheet) == code {
			return m, true
		}
		now, known := v.Sheet(m.Sheet)
		if !known {
			continue
		}
		for _, hash := range hashes {
			older, known := v.Sheet(hash)
			if !known || older.ID != now.ID {
				continue
			}
			for _, chosen := range older.EveryWay() {
				if key := machine.Key(hash, chosen); PaperCode(m.ID, key) == code {
					m.Sheet = key
					return m, true
				}
			}
		}
	}
	return m, false
}

func (c CopyPaper) decide(s speech) ([]Decided, error) {
	m, ok := OfPaper(s.View, c.Code)
	if !ok {
		return nil, record.Refuse(ruleNoCode.Says())
	}
	if m.Outing != "" {
		who := operator.Person{}
		if o, ok := s.Outing(m.Outing); ok {
			who, _ = s.Person(o.Operator())
		}
		return nil, record.Refuse(ruleTaken.Says(who.Name))
	}
	settings, _ := s.Settings()
	zone, ok := s.Zone(settings.Timezone)
	if !ok {
		zone = time.UTC
	}
	written, err := time.ParseInLocation("2006-01-02 15:04", c.Day+" "+c.Time, zone)
	switch {
	case err != nil:
		return nil, record.Refuse(rulePaperWhen.Says())
	case written.After(s.At):
		return nil, record.Refuse(rulePaperAhead.Says())
	case s.At.Sub(written) > paperDays*24*time.Hour:
		return nil, record.Refuse(rulePaperOld.Says(paperDays))
	}
	if o := copied(s.View, PaperCode(m.ID, m.Sheet), written, s.At); o != nil {
		who, _ := s.Person(o.Operator())
		return nil, record.Refuse(rulePaperTwice.Says(who.Name, o.Began))
	}
	sheet, ok := s.Sheet(m.Sheet)
	if !ok {
		return nil, record.Refuse(ruleNoSheet.Says())
	}
	if _, chosen := machine.SplitKey(m.Sheet); sheet.Unsaid(chosen) != nil {
		return nil, record.Refuse(ruleBuilt.Says(sheet.Unsaid(chosen).Name))
	}
	main, _ := bring(s.View, m, sheet, nil, s.At)
	id := "o-" + s.ID
	started, err := outing.ComposePaper(id, s.who, settings.House, main, s.Plan, outing.Paper{Code: PaperCode(m.ID, m.Sheet), Written: written}, s.At)
	if err != nil {
		return nil, err
	}
	return []Decided{{Outing: id, Machine: m.ID, Event: started}}, nil
}

// copiedWithin is for how long it is looked back whether a paper was copied in already: who
// copies it a second time does so the same day or the next ones.
const copiedWithin = 3 * 24 * time.Hour

// copied is the outing that a paper was copied into already, nil where it was not; one that
// was given up does not count.
func copied(v View, code string, written, now time.Time) *outing.Outing {
	from := now.Add(-copiedWithin)
	for _, o := range v.Outings(from, now) {
		given := o.End != nil && o.End.How == outing.EndGivenUp
		if o.Paper != nil && o.Paper.Code == code && o.Paper.Written.Equal(written) && !given {
			return o
		}
	}
	return nil
}

// BlankPaper is a machine as its paper is printed now, with nothing answered.
func BlankPaper(v View, m Machine, now time.Time) (*outing.Outing, error) {
	sheet, ok := v.Sheet(m.Sheet)
	if !ok {
		return nil, record.Refuse(ruleNoSheet.Says())
	}
	if _, chosen := machine.SplitKey(m.Sheet); sheet.Unsaid(chosen) != nil {
		return nil, record.Refuse(ruleBuilt.Says(sheet.Unsaid(chosen).Name))
	}
	settings, _ := v.Settings()
	main, _ := bring(v, m, sheet, nil, now)
	started, err := outing.ComposePaper("paper", outing.Anybody, settings.House, main, v.Plan, outing.Paper{Code: PaperCode(m.ID, m.Sheet), Written: now}, now)
	if err != nil {
		return nil, err
	}
	return imagined(v, started, now)
}
