package operator

// What a person has shown, and how long that holds.

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// The kinds of qualification that a lead writes down.
const (
	Practice      = "practice"       // controls practised, for one kind of machine
	SlopePractice = "slope_practice" // slope work practised under supervision
	Licence       = "licence"        // a driving licence
)

// QualificationKinds lists them in the order they are offered.
func QualificationKinds() []string { return []string{Practice, SlopePractice, Licence} }

// Qualification is one thing a person has shown, and who saw it.
type Qualification struct {
	Kind  string     `json:"kind"`
	Sheet string     `json:"sheet,omitempty"` // id of the sheet; "" for a licence
	On    time.Time  `json:"on"`
	Until *time.Time `json:"until,omitempty"`
	By    string     `json:"by"`
	// Record is where it was written down, for taking it back.
	Record string `json:"record,omitempty"`
}

var (
	ruleAgeUnknown = text.NewRule("ready.age_unknown", text.Slot{Name: "machine", Kind: text.Words}, text.Slot{Name: "years", Kind: text.Count})
	ruleTooYoung   = text.NewRule("ready.too_young", text.Slot{Name: "machine", Kind: text.Words}, text.Slot{Name: "years", Kind: text.Count})
	rulePractice   = text.NewRule("ready.practice", text.Slot{Name: "machine", Kind: text.Words})
	ruleRefresher  = text.NewRule("ready.refresher", text.Slot{Name: "machine", Kind: text.Words}, text.Slot{Name: "since", Kind: text.Moment})
	ruleCompany    = text.NewRule("ready.company", text.Slot{Name: "why", Kind: text.Words})
	ruleCheckIn    = text.NewRule("ready.check_in", text.Slot{Name: "why", Kind: text.Words})
	ruleConflict   = text.NewRule("ready.conflict", text.Slot{Name: "items", Kind: text.Subjects})
	ruleBareFor    = text.NewRule("ready.protection_for_use", text.Slot{Name: "item", Kind: text.Words})
	ruleNoSlope    = text.NewRule("use.no_slope_practice", text.Slot{Name: "machine", Kind: text.Words})
	ruleNoLicence  = text.NewRule("use.no_licence")
)

// holds is the newest qualification of a kind for a sheet that is valid at a
// time. A licence is for every machine.
func (r Readiness) holds(kind, sheet string, now time.Time) (Qualification, bool) {
	var newest Qualification
	found := false
	for _, q := range r.Qualifications {
		if q.Kind != kind || q.Sheet != sheet && kind != Licence || q.Until != nil && now.After(*q.Until) {
			continue
		}
		if !found || q.On.After(newest.On) {
			newest, found = q, true
		}
	}
	return newest, found
}

// unqualified is what the record lacks for a machine.
func (r Readiness) unqualified(sheet *machine.Sheet, now time.Time) []text.Reason {
	var out []text.Reason
	switch {
	case sheet.MinimumAge == 0:
	case r.Born == nil:
		out = append(out, ruleAgeUnknown.Says(sheet.Name, sheet.MinimumAge))
	case r.Born.AddDate(sheet.MinimumAge, 0, 0).After(now):
		out = append(out, ruleTooYoung.Says(sheet.Name, sheet.MinimumAge))
	}
	if sheet.Needs == nil || !sheet.Needs.Practice {
		return out
	}
	q, held := r.holds(Practice, sheet.ID, now)
	due := RefresherDue(sheet, q)
	switch {
	case !held:
		out = append(out, rulePractice.Says(sheet.Name))
	case !due.IsZero() && now.After(due):
		out = append(out, ruleRefresher.Says(sheet.Name, due))
	}
	return out
}

// RefresherDue is when practice has to be shown again; the zero time if never.
func RefresherDue(sheet *machine.Sheet, practice Qualification) time.Time {
	if sheet.Needs == nil || sheet.Needs.RefresherMonths == 0 || practice.On.IsZero() {
		return time.Time{}
	}
	return practice.On.AddDate(0, sheet.Needs.RefresherMonths, 0)
}

// soonDays is how far ahead a lead is shown what runs out (house rule).
const soonDays = 60

// RunsOut is when a qualification runs out: by its own date, or because the
// sheet asks to see practice again; the zero time if never. The sheet may be
// nil where the qualification is for none.
func (q Qualification) RunsOut(sheet *machine.Sheet) time.Time {
	switch {
	case q.Until != nil:
		return *q.Until
	case q.Kind == Practice && sheet != nil:
		return RefresherDue(sheet, q)
	}
	return time.Time{}
}

// Soon reports whether something due runs out soon, or has.
func Soon(due, now time.Time) bool {
	return !due.IsZero() && due.Before(now.AddDate(0, 0, soonDays))
}

// accompanied is what is missing of company, for a machine.
func (r Readiness) accompanied(sheet *machine.Sheet) []text.Reason {
	switch {
	case sheet.Company == nil:
	case sheet.Company.Kind == "person" && r.Company == "":
		return []text.Reason{ruleCompany.Says(sheet.Company.Why)}
	case sheet.Company.Kind == "check_in" && r.CheckIn == "":
		return []text.Reason{ruleCheckIn.Says(sheet.Company.Why)}
	}
	return nil
}

// conflicts is what the person has not said they are clear of.
func (r Readiness) conflicts(sheet *machine.Sheet) []text.Reason {
	var worn []text.Text
	for _, c := range sheet.NotToWear {
		if !slices.Contains(r.ClearOf, c.ID) {
			worn = append(worn, c.Name)
		}
	}
	if len(worn) == 0 {
		return nil
	}
	return []text.Reason{ruleConflict.Says(worn)}
}

// Slopes reports whether the person has practised slopes on the machine, where that has to
// be practised.
func (r Readiness) Slopes(sheet *machine.Sheet, now time.Time) bool {
	_, held := r.holds(SlopePractice, sheet.ID, now)
	return held || sheet.Needs == nil || !sheet.Needs.SlopePractice
}

// Forbids is why the person may not put the machine to a use they may put
// others to: refused is the job, not the machine.
func (r Readiness) Forbids(sheet *machine.Sheet, use string, now time.Time) []text.Reason {
	var out []text.Reason
	for _, p := range sheet.Protection {
		if slices.Contains(p.For, use) && !slices.Contains(r.Worn, p.ID) {
			out = append(out, ruleBareFor.Says(p.Name))
		}
	}
	if sheet.Needs == nil {
		return out
	}
	switch use {
	case "slope", "wet_slope":
		if !r.Slopes(sheet, now) {
			out = append(out, ruleNoSlope.Says(sheet.Name))
		}
	case "road":
		if _, held := r.holds(Licence, "", now); sheet.Needs.Licence && !held {
			out = append(out, ruleNoLicence.Says())
		}
	}
	return out
}
