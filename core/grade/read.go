package grade

// Reading a case: what is not known or not given cannot be judged.

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

var (
	ruleMissing = text.NewRule("case.missing", text.Slot{Name: "where", Kind: text.Name})
	ruleUnknown = text.NewRule("case.unknown", text.Slot{Name: "where", Kind: text.Name}, text.Slot{Name: "what", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleWrong   = text.NewRule("case.wrong", text.Slot{Name: "where", Kind: text.Name}, text.Slot{Name: "what", Kind: text.Name})
	ruleOne     = text.NewRule("case.one_answer", text.Slot{Name: "where", Kind: text.Name})
)

// reader is a case being read.
type reader struct {
	Case
	sheet   *machine.Sheet
	house   defect.House
	history []defect.Past
	answers []answer
	carried []carried
	jobs    []machine.Job
}

// answer is one answer of now, graded by the table.
type answer struct {
	seen      defect.Seen
	right     bool
	takenBack bool
}

// gone reports whether a fault that was found is none any more.
func (a answer) gone() bool { return a.right || a.takenBack }

// over is what a fault that is none any more comes to: its extent stays.
func (a answer) over() defect.Finding {
	why := rulePutRight.Says()
	if a.takenBack {
		why = ruleTakenBack.Says()
	}
	return defect.Finding{Extent: a.seen.Finding.Extent, Grade: defect.Sound, Reasons: []text.Reason{why}}
}

type carried struct {
	check string
	f     defect.Finding
}

// meter is the hour meter now, 0 where none runs: nothing is reckoned from it then.
func (r *reader) meter() float64 {
	if r.Hours == nil {
		return 0
	}
	return *r.Hours
}

func missing(where string) error { return record.Refuse(ruleMissing.Says(where)) }

// NoSheet says that a case names no sheet.
func NoSheet() text.Reason { return ruleMissing.Says("sheet") }

func wrong(where string, what any) error {
	return record.Refuse(ruleWrong.Says(where, fmt.Sprint(what)))
}

func unknown(where, what string, known []string) error {
	return record.Refuse(ruleUnknown.Says(where, what, strings.Join(known, ", ")))
}

// finite refuses numbers that are none, or less than the least.
func finite(where string, n *float64, least float64) error {
	if n != nil && (math.IsNaN(*n) || math.IsInf(*n, 0) || *n < least) {
		return wrong(where, *n)
	}
	return nil
}

func (r *reader) read() error {
	if r.At == nil {
		return missing("at")
	}
	steps := []func() error{r.readHouse, r.readDay, r.readHistory, r.readFindings, r.readCarried, r.readTests, r.readUses}
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func (r *reader) readHouse() error {
	r.house = defect.DefaultHouse()
	r.house.Edition = defect.Edition
	if h := r.House; h != nil {
		if h.MendDays != nil {
			r.house.MendDays = *h.MendDays
		}
		if h.AgainWithin != nil {
			if r.house.AgainWithin = defect.AgainWithinOf(*h.AgainWithin); *h.AgainWithin < 0 {
				return wrong("house.again_within", *h.AgainWithin)
			}
		}
		r.house.LeakIsHalt = h.LeakIsHalt != nil && *h.LeakIsHalt
	}
	if reason, wrong := r.house.Wrong(); wrong {
		return record.Refuse(reason)
	}
	return nil
}

func (r *reader) readDay() error {
	if err := finite("hours", r.Hours, 0); err != nil {
		return err
	}
	if err := finite("planned_hours", r.PlannedHours, 0); err != nil {
		return err
	}
	for id, value := range r.Conditions {
		if _, ok := r.sheet.Condition(id); !ok {
			var known []string
			for _, c := range r.sheet.Conditions {
				known = append(known, c.ID)
			}
			return unknown("conditions", id, known)
		}
		if err := finite("conditions."+id, &value, math.Inf(-1)); err != nil {
			return err
		}
	}
	return nil
}

// readHistory reads what came before. What is not on the sheet any more is passed
// over, what was taken back was no finding.
func (r *reader) readHistory() error {
	for i, f := range r.History {
		where := fmt.Sprintf("history[%d]", i)
		c, ok := r.sheet.Check(f.Check)
		if !ok {
			if f.Check == "" {
				return missing(where + ".check")
			}
			continue
		}
		past := defect.Past{Check: f.Check, Hours: f.Hours, Right: f.PutRight, Sound: f.Sound}
		if f.Ago != nil {
			if past.Ago = *f.Ago; *f.Ago < 1 {
				return wrong(where+".ago", *f.Ago)
			}
		}
		if err := finite(where+".hours", f.Hours, 0); err != nil {
			return err
		}
		if f.Repaired || f.Replaced {
			if past.Work = defect.Repaired; f.Replaced {
				past.Work = defect.Replaced
			}
			past.Item, past.Sound, past.Right = f.Of, false, false
			r.history = append(r.history, past)
			continue
		}
		if err := f.oneAnswer(where); err != nil {
			return err
		}
		switch {
		case f.Fault != "":
			kind, ok := c.Fault(f.Fault)
			if !ok || r.tookBack(c.ClassOf(kind), f.TakenBack) {
				continue
			}
			past.Fault, past.Right = f.Fault, f.PutRight
		case f.Reading != nil:
			if _, ok := c.Reading(f.Of); f.Of != "" && !ok {
				continue
			}
			reading, err := r.reading(where, c, f)
			if err != nil {
				return err
			}
			past.Item, past.Value, past.Uncertainty = reading.id, &reading.value, &reading.uncertainty
		}
		r.history = append(r.history, past)
	}
	return nil
}

func (r *reader) readFindings() error {
	for i, f := range r.Findings {
		where := fmt.Sprintf("findings[%d]", i)
		c, ok := r.sheet.Check(f.Check)
		if !ok {
			if f.Check == "" {
				return missing(where + ".check")
			}
			return unknown(where+".check", f.Check, checks(r.sheet))
		}
		if f.Repaired || f.Replaced {
			return wrong(where, "repaired")
		}
		if err := f.oneAnswer(where); err != nil {
			return err
		}
		if err := finite(where+".hours", f.Hours, 0); err != nil {
			return err
		}
		a := answer{seen: defect.Seen{Check: c, In: r.context(f.At)}}
		switch {
		case f.Fault != "":
			kind, ok := c.Fault(f.Fault)
			if !ok {
				return unknown(where+".fault", f.Fault, faults(c))
			}
			a.seen.Fault = kind
			a.seen.Finding = defect.OfFault(c, kind, a.seen.In)
			a.right = f.PutRight && kind.PutRight != nil
			a.takenBack = r.tookBack(c.ClassOf(kind), f.TakenBack)
		case f.Reading != nil:
			reading, err := r.reading(where, c, f)
			if err != nil {
				return err
			}
			a.seen.Item, a.seen.Reading, a.seen.Value = reading.id, reading.of, reading.value
			a.seen.Finding = defect.OfReading(c, reading.of, reading.value, a.seen.In)
		default:
			a.seen.Finding = defect.Finding{Extent: machine.Sound, Grade: defect.Sound}
		}
		r.answers = append(r.answers, a)
	}
	return nil
}

// oneAnswer checks that an answer is one of a fault, a reading and sound.
func (f Finding) oneAnswer(where string) error {
	n := 0
	for _, given := range []bool{f.Fault != "", f.Reading != nil, f.Sound} {
		if given {
			n++
		}
	}
	if n != 1 {
		return record.Refuse(ruleOne.Says(where))
	}
	return nil
}

// tookBack reports whether a fault was taken back: by somebody, with why, and where
// safety hangs on it by the word of a second person who did not walk.
func (r *reader) tookBack(class machine.Class, t *TakenBack) bool {
	if t == nil || strings.TrimSpace(t.Who) == "" || strings.TrimSpace(t.Why) == "" {
		return false
	}
	return !class.Decides() || t.Second != "" && t.Second != t.Who && t.Second != r.Who
}

// context is what an answer of a time is graded in.
func (r *reader) context(at *time.Time) defect.Context {
	in := defect.Context{House: r.house, Hours: r.meter(), NoMeter: r.Hours == nil, At: *r.At, Conditions: r.Conditions, History: r.history}
	if at != nil {
		in.At = *at
	}
	return in
}

// read reading: which it is, what of two values counts, how sure it is.
type taken struct {
	id          string
	of          *machine.Reading // as the instrument and the day have it
	value       text.Measure
	uncertainty float64
}

// reading reads the reading of an answer.
func (r *reader) reading(where string, c *machine.Check, f Finding) (taken, error) {
	var out taken
	known := c.Readings
	if len(known) == 0 && c.Spot != nil {
		known = []machine.Reading{*c.Spot}
	}
	id := f.Of
	switch {
	case id == "" && len(known) == 1:
		id = known[0].ID
	case id == "":
		return out, missing(where + ".of")
	}
	of, ok := c.Reading(id)
	if !ok {
		return out, unknown(where+".of", id, readings(c))
	}
	u := of.UnitOf()
	if f.Unit != "" {
		if u, ok = unit.Find(f.Unit); !ok || u.Dimension != of.UnitOf().Dimension {
			return out, unknown(where+".unit", f.Unit, []string{of.Unit})
		}
	}
	for name, n := range map[string]*float64{".reading": f.Reading, ".again": f.Again} {
		if err := finite(where+name, n, math.Inf(-1)); err != nil {
			return out, err
		}
	}
	if err := finite(where+".uncertainty", f.Uncertainty, 0); err != nil {
		return out, err
	}
	if of.Limits != nil && of.Limits.By != "" {
		if _, given := r.Conditions[of.Limits.By]; !given {
			return out, missing("conditions." + of.Limits.By)
		}
	}
	out.id, out.uncertainty = id, of.Uncertainty
	if f.Uncertainty != nil {
		out.uncertainty = of.UnitOf().Steps(u.Span(*f.Uncertainty))
	}
	out.of = of.Under(r.Conditions).Within(&out.uncertainty)
	out.value = text.Measure{Quantity: u.Of(*f.Reading), Unit: of.Unit}
	if f.Again != nil {
		again := text.Measure{Quantity: u.Of(*f.Again), Unit: of.Unit}
		slip, err := r.slip(where, f.Slip)
		if err != nil {
			return out, err
		}
		if defect.SecondCounts(c, out.of, out.value, again, slip) {
			out.value = again
		}
	}
	return out, nil
}

// slip is which of two readings somebody else said was one, "" for none.
func (r *reader) slip(where string, s *Slip) (string, error) {
	if s == nil {
		return "", nil
	}
	if s.Which != "first" && s.Which != "second" {
		return "", unknown(where+".slip.which", s.Which, []string{"first", "second"})
	}
	if s.Who == "" || r.Who == "" || s.Who == r.Who {
		return "", nil
	}
	return s.Which, nil
}

// readCarried reads what the machine came with. A restriction is enforced whatever
// became of its point on the sheet.
func (r *reader) readCarried() error {
	for i, c := range r.Carried {
		where := fmt.Sprintf("carried[%d]", i)
		if c.Check == "" {
			return missing(where + ".check")
		}
		if !slices.Contains(defect.Grades(), c.Grade) {
			return unknown(where+".grade", string(c.Grade), words(defect.Grades()))
		}
		for _, one := range c.Restrictions {
			if !slices.Contains(machine.Restrictions(), one) {
				return unknown(where+".restrictions", string(one), words(machine.Restrictions()))
			}
		}
		for name, n := range map[string]*float64{".hours": c.Hours, ".deadline.hours": c.Deadline.Hours} {
			if err := finite(where+name, n, 0); err != nil {
				return err
			}
		}
		f := defect.Finding{Grade: c.Grade, Restrictions: c.Restrictions, Deadline: c.Deadline}
		if f.Grade != defect.Mend {
			f.Deadline = defect.Deadline{}
		}
		if r.Hours == nil && f.Deadline.Hours != nil {
			if c.Hours == nil {
				return missing(where + ".hours")
			}
			if c.At == nil {
				return missing(where + ".at")
			}
			f.Deadline = f.Deadline.ByClock(*c.At, *c.Hours)
		}
		if c.Deadline.At == nil && c.At != nil {
			f = r.house.Dated(f, *c.At)
		}
		r.carried = append(r.carried, carried{c.Check, f})
	}
	return nil
}

func (r *reader) readTests() error {
	for i, t := range r.Tests {
		where := fmt.Sprintf("tests[%d]", i)
		if t.ID == "" {
			return missing(where + ".id")
		}
		if known := []string{Passed, Failed, Void}; !slices.Contains(known, t.Outcome) {
			return unknown(where+".outcome", t.Outcome, known)
		}
	}
	return nil
}

func (r *reader) readUses() error {
	for i, use := range r.Uses {
		job, ok := machine.ParseJob(use)
		if !ok {
			return unknown(fmt.Sprintf("uses[%d]", i), use, machine.Uses())
		}
		r.jobs = append(r.jobs, job)
	}
	return nil
}

// uneven are the pairs of readings of now that differ too much, by the points that
// ask for it.
func (r *reader) uneven() []defect.Seen {
	var out []defect.Seen
	for i := range r.sheet.Checks {
		c := &r.sheet.Checks[i]
		if c.Even == nil {
			continue
		}
		in, values := r.context(nil), map[string]defect.Paired{}
		in.At = time.Time{}
		for _, pair := range c.Even.Pairs {
			for _, name := range pair {
				point, of, ok := r.sheet.Paired(c, name)
				for _, a := range r.answers {
					if ok && a.seen.Reading != nil && a.seen.Check.ID == point.ID && a.seen.Item == of.ID {
						values[name] = defect.Paired{Name: of.Name, Value: a.seen.Value}
						if a.seen.In.At.After(in.At) {
							in.At = a.seen.In.At // found when the last of them was read
						}
					}
				}
			}
		}
		if f := defect.OfUneven(c, values, in); f.Grade != defect.Sound {
			out = append(out, defect.Seen{Check: c, Item: "even", Finding: f, In: in})
		}
	}
	return out
}

func checks(s *machine.Sheet) (ids []string) {
	for _, c := range s.Checks {
		ids = append(ids, c.ID)
	}
	return ids
}

func faults(c *machine.Check) (ids []string) {
	for _, f := range c.Faults {
		ids = append(ids, f.ID)
	}
	return ids
}

func readings(c *machine.Check) (ids []string) {
	for _, r := range c.Readings {
		ids = append(ids, r.ID)
	}
	return ids
}

func words[T ~string](list []T) (out []string) {
	for _, w := range list {
		out = append(out, string(w))
	}
	return out
}
