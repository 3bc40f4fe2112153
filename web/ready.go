package web

import (
	"context"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/store"
)

// readyPage asks whether the operator is ready.
type readyPage struct {
	outingPage
	Manuals    []manualWords
	Protection []machine.Protection
	OnlyFor    map[string]string // by item, the uses it is asked for
	Missing    []string
	Worn       map[string]bool
	NotToWear  []machine.Conflict
	ClearOf    map[string]bool
	// Company and CheckIn say why somebody has to be about, People who can be.
	Company, CheckIn *machine.Company
	People           []store.Person
	With, LookedFor  string   // as answered before
	Since            []string // what changed since the machines last went out
	Exposure         []string
	// Same is what of the protection the operator wore last time, in words;
	// only the rest is asked item by item.
	Same []text.Text
	// SameOn: all of that was confirmed in this outing already.
	SameOn bool
}

// manualWords is what the operator's record says of the manual of one machine.
type manualWords struct {
	Words string
	Read  bool
}

func (s *server) showReady(v *visit) {
	base, ok := s.outing(v, outing.StepReady)
	if !ok {
		return
	}
	p, err := s.Store.Person(v.ctx(), base.O.Operator)
	if err != nil {
		s.fail(v, err)
		return
	}
	page := readyPage{outingPage: base, Protection: protection(base.O), Worn: map[string]bool{}, OnlyFor: map[string]string{}, ClearOf: map[string]bool{}}
	if err := s.company(v, &page); err != nil {
		s.fail(v, err)
		return
	}
	if page.Exposure, err = s.exposureWords(v, base.O); err != nil {
		s.fail(v, err)
		return
	}
	worn, err := s.Store.WornBefore(v.ctx(), base.O.Operator, base.O.ID)
	if err != nil {
		s.fail(v, err)
		return
	}
	for _, p := range page.Protection {
		page.OnlyFor[p.ID] = onlyFor(v, p)
	}
	page.askOnlyWhatDiffers(worn)
	if page.Since, err = s.since(v, base.O); err != nil {
		s.fail(v, err)
		return
	}
	for _, u := range base.O.Units {
		page.Manuals = append(page.Manuals, manual(v, p, u))
	}
	if base.O.Ready != nil {
		for _, r := range base.O.Unready(v.now) {
			page.Missing = append(page.Missing, v.Reason(r))
		}
		for _, w := range base.O.Ready.Worn {
			page.Worn[w] = true
		}
		for _, c := range base.O.Ready.ClearOf {
			page.ClearOf[c] = true
		}
		page.With, page.LookedFor = base.O.Ready.Company, base.O.Ready.CheckIn
	}
	v.page(http.StatusOK, "ready", v.T("stage.ready"), page)
}

// onlyFor says for which uses an item is asked; "" where always.
func onlyFor(v *visit, p machine.Protection) string {
	var uses []string
	for _, use := range p.For {
		uses = append(uses, lower(v.T("use."+use)))
	}
	if len(uses) == 0 {
		return ""
	}
	return v.T("ready.only_for", "uses", strings.Join(uses, ", "))
}

// askOnlyWhatDiffers puts what was worn last time into one question.
func (p *readyPage) askOnlyWhatDiffers(worn []string) {
	var asked []machine.Protection
	p.SameOn = p.O.Ready != nil
	for _, item := range p.Protection {
		if slices.Contains(worn, item.ID) {
			p.Same = append(p.Same, item.Name)
			p.SameOn = p.SameOn && slices.Contains(p.O.Ready.Worn, item.ID)
		} else {
			asked = append(asked, item)
		}
	}
	p.Protection = asked
}

// since lists what changed on the machines since the outing before this one:
// what was found then or later, and what was mended.
func (s *server) since(v *visit, o *outing.Outing) ([]string, error) {
	var out []string
	for _, u := range o.Units {
		past, err := s.Store.Past(v.ctx(), u.Machine, 2)
		if err != nil {
			return nil, err
		}
		if len(past) < 2 {
			continue // it has not been out before
		}
		all, err := s.Store.Defects(v.ctx(), u.Machine, false)
		if err != nil {
			return nil, err
		}
		for _, d := range all {
			what := defectWords(v, u.Sheet, d)
			switch {
			case !d.Open && d.ClosedAt.After(past[1].Began):
				out = append(out, v.T("since.mended", "what", what, "who", d.CloserName, "work", d.Work))
			case d.Open && !d.FoundAt.Before(past[1].Began) && d.Outing != o.ID:
				out = append(out, v.T("since.found", "what", what, "who", d.FinderName, "grade", v.T("grade."+string(d.Grade))))
			}
		}
	}
	return out, nil
}

// company fills in who has to be about, and what is not to be worn.
func (s *server) company(v *visit, page *readyPage) error {
	for _, u := range page.O.Units {
		page.NotToWear = append(page.NotToWear, u.Sheet.NotToWear...)
		switch c := u.Sheet.Company; {
		case c == nil:
		case c.Kind == "person":
			page.Company = c
		default:
			page.CheckIn = c
		}
	}
	if page.Company == nil {
		return nil
	}
	people, err := s.Store.People(v.ctx())
	for _, p := range people {
		if p.ID != page.O.Operator {
			page.People = append(page.People, p)
		}
	}
	return err
}

// timeOfDay is what a check-in time has to look like.
var timeOfDay = regexp.MustCompile(`^([01]\d|2[0-3]):[0-5]\d$`)

func manual(v *visit, p store.Person, u *outing.UnitState) manualWords {
	for _, m := range p.Manuals {
		if m.Sheet == u.Sheet.ID && m.Edition == u.Sheet.Edition {
			return manualWords{Read: true, Words: v.T("ready.manual_read", "machine", v.Text(u.Sheet.Name), "edition", m.Edition, "day", v.Day(m.On), "language", v.T("language."+string(m.Language)))}
		}
	}
	return manualWords{Words: v.T("ready.manual_missing", "machine", v.Text(u.Sheet.Name), "edition", u.Sheet.Edition)}
}

// protection is what the machines of an outing ask for together.
func protection(o *outing.Outing) []machine.Protection {
	var all []machine.Protection
	for _, u := range o.Units {
		for _, p := range u.Sheet.Protection {
			i := slices.IndexFunc(all, func(q machine.Protection) bool { return q.ID == p.ID })
			switch {
			case i < 0:
				all = append(all, p)
			case len(p.For) == 0 || len(all[i].For) == 0:
				all[i].For = nil // one machine asks for it always
			default:
				all[i].For = append(slices.Clip(all[i].For), p.For...)
			}
		}
	}
	return all
}

// ready takes the answers to "Ready?"; the role, the manuals and what else the
// record shows come from the operator's own record.
func (s *server) ready(v *visit) {
	worn := v.gin.PostFormArray("worn")
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) {
		p, err := s.Store.Person(context.WithoutCancel(v.ctx()), o.Operator)
		if err != nil {
			return nil, err
		}
		e := outing.Readied{Readiness: p.Readiness()}
		e.Fit = v.field("fit") == "yes"
		if with, err := s.Store.Person(context.WithoutCancel(v.ctx()), v.field("company")); err == nil && with.Left.IsZero() && with.ID != o.Operator {
			e.Company = with.ID
		}
		if at := v.field("check_in"); timeOfDay.MatchString(at) {
			e.CheckIn = at
		}
		clear := v.gin.PostFormArray("clear_of")
		for _, u := range o.Units {
			for _, c := range u.Sheet.NotToWear {
				if slices.Contains(clear, c.ID) {
					e.ClearOf = append(e.ClearOf, c.ID)
				}
			}
		}
		before, err := s.Store.WornBefore(context.WithoutCancel(v.ctx()), o.Operator, o.ID)
		if err != nil {
			return nil, err
		}
		same := v.field("same") == "on"
		for _, item := range protection(o) {
			if slices.Contains(worn, item.ID) || same && slices.Contains(before, item.ID) {
				e.Worn = append(e.Worn, item.ID)
			}
		}
		return e, nil
	})
}
