package operator

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

var now = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

func words(s string) text.Text { return text.Text{EN: s, ES: s} }

// sheet asks for everything that can be asked for.
func sheet() *machine.Sheet {
	return &machine.Sheet{ID: "saw", Edition: "2", Name: words("Saw"), MinimumAge: 18,
		Needs:      &machine.Qualifications{Practice: true, SlopePractice: true, Licence: true, RefresherMonths: 24},
		Company:    &machine.Company{Kind: "person", Why: words("never alone")},
		Protection: []machine.Protection{{ID: "eyes", Name: words("Eyes")}, {ID: "ears", Name: words("Ears")}},
		NotToWear:  []machine.Conflict{{ID: "chaps", Name: words("Chaps")}}}
}

// ready is somebody who lacks nothing for it.
func ready() Readiness {
	born, shown := now.AddDate(-30, 0, 0), now.AddDate(-1, 0, 0)
	return Readiness{Role: Operator, Fit: true, Worn: []string{"eyes", "ears"}, Born: &born, Company: "maren", ClearOf: []string{"chaps"},
		Manuals:        []ManualRead{{Sheet: "saw", Edition: "2"}},
		Qualifications: []Qualification{{Kind: Practice, Sheet: "saw", On: shown}, {Kind: SlopePractice, Sheet: "saw", On: shown}, {Kind: Licence, On: shown}}}
}

func TestMissing(t *testing.T) {
	if m := ready().Missing([]*machine.Sheet{sheet()}, now); len(m) > 0 {
		t.Fatalf("somebody who lacks nothing lacks %+v", m)
	}
	birthday, eve := now.AddDate(-18, 0, 0), now.AddDate(-18, 0, 1)
	over := now.Add(-time.Hour)
	for name, test := range map[string]struct {
		bend func(*Readiness)
		want []text.Rule
	}{
		"not fit":                {func(r *Readiness) { r.Fit = false }, []text.Rule{"ready.not_fit"}},
		"bare":                   {func(r *Readiness) { r.Worn = nil }, []text.Rule{"ready.protection"}},
		"no manual":              {func(r *Readiness) { r.Manuals = nil }, []text.Rule{"ready.manual"}},
		"old manual":             {func(r *Readiness) { r.Manuals[0].Edition = "1" }, []text.Rule{"ready.old_manual"}},
		"both manuals":           {func(r *Readiness) { r.Manuals = append(r.Manuals, ManualRead{Sheet: "saw", Edition: "1"}) }, nil},
		"eighteen today":         {func(r *Readiness) { r.Born = &birthday }, nil},
		"eighteen tomorrow":      {func(r *Readiness) { r.Born = &eve }, []text.Rule{"ready.too_young"}},
		"age not on record":      {func(r *Readiness) { r.Born = nil }, []text.Rule{"ready.age_unknown"}},
		"practice ran out":       {func(r *Readiness) { r.Qualifications[0].Until = &over }, []text.Rule{"ready.practice"}},
		"practice two years old": {func(r *Readiness) { r.Qualifications[0].On = now.AddDate(-2, 0, -1) }, []text.Rule{"ready.refresher"}},
		"practice shown again": {func(r *Readiness) {
			r.Qualifications = append(r.Qualifications, Qualification{Kind: Practice, Sheet: "saw", On: now.AddDate(-5, 0, 0)})
		}, nil},
		"alone":                      {func(r *Readiness) { r.Company = "" }, []text.Rule{"ready.company"}},
		"in chaps":                   {func(r *Readiness) { r.ClearOf = nil }, []text.Rule{"ready.conflict"}},
		"a visitor":                  {func(r *Readiness) { r.Role = Visitor }, []text.Rule{"ready.role"}},
		"a trainee":                  {func(r *Readiness) { r.Role = Trainee }, nil},
		"no slope practice":          {func(r *Readiness) { r.Qualifications = r.Qualifications[:1] }, nil},
		"everything at once is told": {func(r *Readiness) { *r = Readiness{Role: Operator} }, []text.Rule{"ready.not_fit", "ready.protection", "ready.manual", "ready.age_unknown", "ready.practice", "ready.company", "ready.conflict"}},
	} {
		t.Run(name, func(t *testing.T) {
			r := ready()
			test.bend(&r)
			var got []text.Rule
			for _, reason := range r.Missing([]*machine.Sheet{sheet()}, now) {
				got = append(got, reason.Rule)
			}
			if !slices.Equal(got, test.want) {
				t.Errorf("%s: %v, want %v", name, got, test.want)
			}
		})
	}
}

func TestTwoMachinesAskOnce(t *testing.T) {
	r := ready()
	r.Worn = nil
	missing := r.Missing([]*machine.Sheet{sheet(), sheet()}, now)
	if len(missing) != 1 || len(missing[0].Args[0].Subjects) != 2 {
		t.Errorf("two machines that ask for the same: %+v", missing)
	}
}

func TestCheckIn(t *testing.T) {
	s := sheet()
	s.Company.Kind = "check_in"
	r := ready()
	if m := r.Missing([]*machine.Sheet{s}, now); len(m) != 1 || m[0].Rule != "ready.check_in" {
		t.Errorf("a second person is not a time: %+v", m)
	}
	r.CheckIn = "10:30"
	if m := r.Missing([]*machine.Sheet{s}, now); len(m) != 0 {
		t.Errorf("%+v", m)
	}
}

func TestForbids(t *testing.T) {
	over := now.Add(-time.Hour)
	for name, test := range map[string]struct {
		bend func(*Readiness)
		use  string
		want bool
	}{
		"slope, practised":       {func(*Readiness) {}, "slope", false},
		"slope, not practised":   {func(r *Readiness) { r.Qualifications[1].Sheet = "other" }, "slope", true},
		"wet slope":              {func(r *Readiness) { r.Qualifications[1].Sheet = "other" }, "wet_slope", true},
		"road, licensed":         {func(*Readiness) {}, "road", false},
		"road, licence ran out":  {func(r *Readiness) { r.Qualifications[2].Until = &over }, "road", true},
		"turf asks for nothing":  {func(r *Readiness) { r.Qualifications = nil }, "fine_turf", false},
		"licence of any machine": {func(r *Readiness) { r.Qualifications[2].Sheet = "tractor" }, "road", false},
	} {
		t.Run(name, func(t *testing.T) {
			r := ready()
			test.bend(&r)
			if got := len(r.Forbids(sheet(), test.use, now)) > 0; got != test.want {
				t.Errorf("%s: forbidden %v", name, got)
			}
		})
	}
	if len(Readiness{}.Forbids(&machine.Sheet{}, "road", now)) > 0 {
		t.Error("a machine that asks for nothing forbids the road")
	}
}

func TestWhoReleasesAlone(t *testing.T) {
	for role, want := range map[Role]bool{Operator: true, Lead: true, Technician: true, Trainee: false, Visitor: false, "": false} {
		t.Run(fmt.Sprint(role), func(t *testing.T) {
			if role.MayRelease() != want {
				t.Errorf("%q releases alone: %v", role, !want)
			}
		})
	}
}

func TestRefresherDue(t *testing.T) {
	shown := time.Date(2024, 12, 14, 9, 0, 0, 0, time.UTC)
	if due := RefresherDue(sheet(), Qualification{On: shown}); !due.Equal(time.Date(2026, 12, 14, 9, 0, 0, 0, time.UTC)) {
		t.Errorf("due %v", due)
	}
	never := sheet()
	never.Needs.RefresherMonths = 0
	if due := RefresherDue(never, Qualification{On: shown}); !due.IsZero() {
		t.Errorf("due %v where the sheet asks for none", due)
	}
}

func TestRunsOutSoon(t *testing.T) {
	until := now.AddDate(0, 0, 59)
	licence := Qualification{Kind: Licence, Until: &until}
	if due := licence.RunsOut(nil); !due.Equal(until) || !Soon(due, now) || Soon(due, now.AddDate(0, 0, -2)) {
		t.Errorf("a licence until %v runs out %v", until, due)
	}
	practice := Qualification{Kind: Practice, Sheet: "saw", On: now.AddDate(-3, 0, 0)}
	if due := practice.RunsOut(sheet()); !Soon(due, now) {
		t.Errorf("practice of three years ago runs out %v", due)
	}
	if due := (Qualification{Kind: SlopePractice, On: now}).RunsOut(sheet()); !due.IsZero() || Soon(due, now) {
		t.Errorf("slope practice runs out %v", due)
	}
}

// TestProtectionForAUse: what is asked for one use keeps nobody from starting;
// without it that use is not theirs.
func TestProtectionForAUse(t *testing.T) {
	sheet := &machine.Sheet{ID: "sweeper", Edition: "1", Protection: []machine.Protection{{ID: "eyes"}, {ID: "respirator", For: []string{"dry_dust"}}}}
	r := Readiness{Role: Operator, Fit: true, Worn: []string{"eyes"}, Manuals: []ManualRead{{Sheet: "sweeper", Edition: "1"}}}
	if missing := r.Missing([]*machine.Sheet{sheet}, time.Now()); len(missing) != 0 {
		t.Errorf("missing %v", missing)
	}
	if why := r.Forbids(sheet, "dry_dust", time.Now()); len(why) != 1 || why[0].Rule != ruleBareFor {
		t.Errorf("dry dust: %v", why)
	}
	if why := r.Forbids(sheet, "near_public", time.Now()); len(why) != 0 {
		t.Errorf("near the public: %v", why)
	}
	r.Worn = append(r.Worn, "respirator")
	if why := r.Forbids(sheet, "dry_dust", time.Now()); len(why) != 0 {
		t.Errorf("dry dust with it on: %v", why)
	}
}
