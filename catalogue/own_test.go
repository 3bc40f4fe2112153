package catalogue_test

import (
	"maps"
	"slices"
	"strings"
	"testing"

	"vespers/catalogue"
	"vespers/core/machine"
	"vespers/core/own"
)

func shipped(t *testing.T, id string) (*machine.Sheet, string) {
	t.Helper()
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		if r.Sheet.ID == id {
			return r.Sheet, r.Hash
		}
	}
	t.Fatalf("no sheet %s", id)
	return nil, ""
}

// spec takes every number over as one from a manual.
func copiedOut(s *machine.Sheet) own.Spec {
	out := own.Spec{ID: "own_thrush", Edition: "2026-11-27", Name: "Thrush 48", Manual: "T-4821", By: "Maren Oduvale", On: "2026-11-27",
		Figures: map[string]own.Figure{}, Left: map[string]own.Left{}, Fixed: machine.Chosen{}, Settled: map[string]string{}}
	for _, f := range s.Copy().Figures() {
		out.Figures[f.Path] = own.Figure{Typed: own.Written(&f), Page: "31"}
	}
	return out
}

func proved(t *testing.T, s *machine.Sheet) *machine.Sheet {
	t.Helper()
	text, err := catalogue.WholeYAML(s)
	if err != nil {
		t.Fatal(err)
	}
	sheet, problems := catalogue.Prove(s.ID+".yaml", text)
	if sheet == nil {
		for _, p := range problems {
			t.Errorf("%s: %s %v", p.Field, p.Reason.Rule, p.Reason.Args)
		}
		t.Fatal("not proved")
	}
	return sheet
}

func modelled(t *testing.T, of *machine.Sheet, hash string, s own.Spec) *machine.Sheet {
	t.Helper()
	out, problems := own.Make(of, hash, s)
	if len(problems) > 0 {
		t.Fatalf("%+v", problems)
	}
	return out
}

// TestAModelOfEverySheet: a model can be made from every sheet there is, is proved, and says of
// every number where it stands; the sheet it was made from stays as it was.
func TestAModelOfEverySheet(t *testing.T) {
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		before, _ := catalogue.Resolve(r.Sheet)
		made := proved(t, modelled(t, r.Sheet, r.Hash, copiedOut(r.Sheet)))
		if after, _ := catalogue.Resolve(r.Sheet); after.Hash != before.Hash {
			t.Errorf("%s was changed", r.Sheet.ID)
		}
		for _, f := range made.Copy().Figures() {
			if made.Made.Pages[f.Path] != "31" || f.Source != machine.Manual && f.Source != "" {
				t.Errorf("%s: %s is from %q, page %q", r.Sheet.ID, f.Path, f.Source, made.Made.Pages[f.Path])
			}
		}
		if again := own.Known(made, r.Sheet); !maps.Equal(again.Figures, copiedOut(r.Sheet).Figures) {
			t.Errorf("%s: a newer edition would not begin with these numbers", r.Sheet.ID)
		}
	}
}

// TestWhatNoModelIs: what nobody spoke of, and what cannot be.
func TestWhatNoModelIs(t *testing.T) {
	of, hash := shipped(t, "brackwing")
	const cool = "numbers/cool_before_fuel"
	guard := of.Checks[slices.IndexFunc(of.Checks, func(c machine.Check) bool { return c.Class.Decides() && len(c.Switches) == 0 })].ID
	cases := map[string]struct {
		change func(*own.Spec)
		field  string
		rule   string
	}{
		"no name":           {func(s *own.Spec) { s.Name = " " }, "name", "own.name_needed"},
		"two lines":         {func(s *own.Spec) { s.Name = "Thrush\n48" }, "name", "own.name_needed"},
		"long name":         {func(s *own.Spec) { s.Name = strings.Repeat("a", 61) }, "name", "typed.too_long"},
		"no manual":         {func(s *own.Spec) { s.Manual = "" }, "manual", "own.manual_needed"},
		"a number unspoken": {func(s *own.Spec) { delete(s.Figures, cool) }, "figures/" + cool, "own.figure_needed"},
		"no page":           {func(s *own.Spec) { s.Figures[cool] = own.Figure{Typed: "12"} }, "figures/" + cool, "own.page_needed"},
		"a word":            {func(s *own.Spec) { s.Figures[cool] = own.Figure{Typed: "long", Page: "3"} }, "figures/" + cool, "own.not_a_number"},
		"another unit":      {func(s *own.Spec) { s.Figures[cool] = own.Figure{Typed: "12 kPa", Page: "3"} }, "figures/" + cool, "own.unit_differs"},
		"two ways":          {func(s *own.Spec) { s.Figures[cool] = own.Figure{Typed: "1,250", Page: "3"} }, "figures/" + cool, "own.two_ways"},
		"typed and kept":    {func(s *own.Spec) { s.Figures[cool] = own.Figure{Typed: "99", Page: "3", Kept: true} }, "figures/" + cool, "own.figure_and_kept"},
		"no such option":    {func(s *own.Spec) { s.Fixed["wings"] = "two" }, "fixed/wings", "own.no_such_way"},
		"settled, no why":   {func(s *own.Spec) { s.Fixed["deck"] = "wide" }, "settled/deck", "own.settled_why"},
		"left, no why":      {func(s *own.Spec) { s.Left["decals_manual"] = own.Left{Kind: machine.NotFitted} }, "left/decals_manual", "own.why_needed"},
		"left, no kind":     {func(s *own.Spec) { s.Left["decals_manual"] = own.Left{Why: "gone"} }, "left/decals_manual", "own.kind_needed"},
		"a guard unlooked":  {func(s *own.Spec) { s.Left[guard] = own.Left{Kind: machine.NotLooked, Why: "holds"} }, "left/" + guard, "own.decides_safety"},
		"a switch's point": {func(s *own.Spec) {
			i := slices.IndexFunc(of.Checks, func(c machine.Check) bool { return len(c.Switches) > 0 })
			s.Left[of.Checks[i].ID] = own.Left{Kind: machine.NotFitted, Why: "none"}
		}, "", "own.holds_a_switch"},
	}
	for name, c := range cases {
		s := copiedOut(of)
		c.change(&s)
		made, problems := own.Make(of, hash, s)
		ok := slices.ContainsFunc(problems, func(p own.Problem) bool {
			return (c.field == "" || p.Field == c.field) && (c.rule == "" || string(p.Reason.Rule) == c.rule)
		})
		if made != nil || !ok {
			t.Errorf("%s: %+v", name, problems)
		}
	}
}

// TestKeptNumbers: a number that the manual does not give is a house rule, and where one of two
// ends of a limit was kept, the limit is.
func TestKeptNumbers(t *testing.T) {
	of, hash := shipped(t, "brackwing")
	s := copiedOut(of)
	var low string
	for _, f := range of.Copy().Figures() {
		if f.Kind == machine.FigureLow && s.Figures[strings.TrimSuffix(f.Path, "low")+"high"].Typed != "" {
			low = f.Path
			break
		}
	}
	s.Figures[low] = own.Figure{Kept: true}
	// An interval that was kept is still told as one of the house's.
	interval := "checks/" + of.Checks[slices.IndexFunc(of.Checks, func(c machine.Check) bool {
		return c.If == nil && c.Every != nil && c.Every.Source == machine.Manual && c.Every.Hours > 0 && c.Every.Months == 0
	})].ID + "/every/hours"
	s.Figures[interval] = own.Figure{Kept: true}
	made := proved(t, modelled(t, of, hash, s))
	if n := len(made.Copy().Figures()) - len(made.Made.Pages); n != 2 {
		t.Errorf("%d of two numbers are told as the house's", n)
	}
	code := of.Copy()
	code.Numbers[0].Source = machine.LocalCode
	all := copiedOut(of)
	all.Figures["numbers/"+code.Numbers[0].ID] = own.Figure{Kept: true}
	if kept, _ := modelled(t, code, hash, all).Number(code.Numbers[0].ID); kept.Source != machine.LocalCode {
		t.Errorf("a local code was made %q", kept.Source)
	}
	for _, f := range made.Copy().Figures() {
		switch page := made.Made.Pages[f.Path]; {
		case f.Path == low && (page != "" || f.Source != machine.HouseRule):
			t.Errorf("%s: %q, page %q", f.Path, f.Source, page)
		case f.Path == strings.TrimSuffix(low, "low")+"high" && f.Source != machine.HouseRule:
			t.Errorf("the other end is %q", f.Source)
		}
	}
}

// TestUnitsAndRange: a number in another unit counts as it is, and what the instrument
// can show reaches beyond a limit that lies outside.
func TestUnitsAndRange(t *testing.T) {
	of, hash := shipped(t, "brackwing")
	s := copiedOut(of)
	var path string
	for _, f := range of.Copy().Figures() {
		if f.Kind == machine.FigureHigh && f.Unit == "kPa" {
			path = f.Path
			break
		}
	}
	s.Figures[path] = own.Figure{Typed: "150 psi", Page: "9"}
	made := proved(t, modelled(t, of, hash, s))
	for _, f := range made.Copy().Figures() {
		if f.Path != path {
			continue
		}
		if v := f.Value(); v < 1034 || v > 1035 {
			t.Errorf("150 psi are %v kPa", v)
		}
		if f.Reading.Range[1] <= f.Value() {
			t.Errorf("the range ends at %v", f.Reading.Range[1])
		}
	}
}

// TestFixedAndLeft: what belongs to other ways of a settled option goes, its numbers are
// not asked for, and the newer edition knows the rest; what is left out is nowhere in
// the sheet, and comes back where it is no longer left out.
func TestFixedAndLeft(t *testing.T) {
	of, hash := shipped(t, "brackwing")
	option := of.Options[0]
	way := option.Choices[1].ID
	s := copiedOut(of)
	s.Fixed[option.ID], s.Settled[option.ID] = way, "p. 4"
	for _, f := range of.Copy().Figures() {
		if !f.There(s.Fixed) {
			delete(s.Figures, f.Path)
		}
	}
	left := ""
	for _, c := range of.Checks { // one that others come after
		if len(c.Switches) == 0 && c.If == nil && slices.ContainsFunc(of.Checks, func(d machine.Check) bool { return slices.Contains(d.After, c.ID) }) {
			left = c.ID
			break
		}
	}
	s.Left[left] = own.Left{Kind: machine.NotFitted, Why: "has none"}
	made := proved(t, modelled(t, of, hash, s))
	if len(made.Options) != len(of.Options)-1 || len(made.Made.Left) != 1 {
		t.Fatalf("%d options, left out %+v", len(made.Options), made.Made.Left)
	}
	if _, has := made.Check(left); has {
		t.Errorf("%s is there", left)
	}
	for _, c := range made.Checks {
		if slices.Contains(c.After, left) {
			t.Errorf("%s still waits for %s", c.ID, left)
		}
	}
	known := own.Known(made, of)
	known.ID, known.Edition, known.By, known.On = s.ID, "2026-12-01", s.By, s.On
	again := modelled(t, of, hash, known)
	again.Edition, again.Made.On = made.Edition, made.Made.On
	a, _ := catalogue.Resolve(made)
	if b, _ := catalogue.Resolve(proved(t, again)); a.Hash != b.Hash {
		t.Error("a newer edition that changes nothing is another sheet")
	}
	delete(known.Left, left)
	for path, f := range copiedOut(of).Figures {
		if _, ok := known.Figures[path]; !ok {
			known.Figures[path] = f
		}
	}
	if _, has := modelled(t, of, hash, known).Check(left); !has {
		t.Error("what is no longer left out did not come back")
	}
}

// TestAModelOfAModel: in a yard that has not what a model was made from, the newer edition
// is made from the model; what was left out and settled is still told.
func TestAModelOfAModel(t *testing.T) {
	of, hash := shipped(t, "brackwing")
	option := of.Options[0]
	first := copiedOut(of)
	first.Fixed[option.ID], first.Settled[option.ID] = option.Choices[0].ID, "p. 4"
	first.Left["decals_manual"] = own.Left{Kind: machine.NotLooked, Why: "painted over"}
	model := proved(t, modelled(t, of, hash, first))
	known := own.Known(model, model)
	known.ID, known.Edition, known.By, known.On = model.ID, "2027-01-02", "Edda", "2027-01-02"
	known.Left = nil // it is no point of the model any more
	newer := proved(t, modelled(t, model, "here", known))
	if len(newer.Made.Left) != 1 || newer.Made.Fixed[option.ID] != option.Choices[0].ID || newer.Made.Settled[option.ID] != "p. 4" || newer.Made.Hash != "here" {
		t.Errorf("%+v", newer.Made)
	}
	if len(newer.Made.Pages) != len(model.Made.Pages) {
		t.Errorf("%d pages of %d", len(newer.Made.Pages), len(model.Made.Pages))
	}
}

// TestWhatEveryReleaseTells: what decides safety, and what the house does not look at, is told at
// every release.
func TestWhatEveryReleaseTells(t *testing.T) {
	for _, c := range []struct {
		class machine.Class
		kind  string
		want  bool
	}{{machine.ClassA, machine.NotFitted, true}, {machine.ClassD, machine.NotFitted, true}, {machine.ClassE, machine.NotFitted, false}, {machine.ClassH, machine.NotLooked, true}} {
		if got := (machine.LeftOut{Class: c.class, Kind: c.kind}).Matters(); got != c.want {
			t.Errorf("%s %s: %v", c.class, c.kind, got)
		}
	}
}

// TestFigures: every number of a manual is a figure, a level between marks is none, and
// what a figure is written as is read back.
func TestFigures(t *testing.T) {
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	every := 0
	for _, r := range all {
		s := r.Sheet.Copy()
		figures := s.Figures()
		has := func(path string) bool {
			return slices.ContainsFunc(figures, func(f machine.Figure) bool { return strings.HasPrefix(f.Path, path) })
		}
		for _, f := range figures {
			if f.Reading != nil && f.Reading.Kind == "marks" {
				t.Errorf("%s asks %s of a manual", s.ID, f.Path)
			}
			for _, value := range []float64{1.125, 250, 0.5, 12.3456} {
				if f.Kind == machine.FigureMonths {
					continue
				}
				f.Set(value, machine.Manual)
				if got, reason := own.Read(&f, own.Written(&f)); reason != nil || got != value {
					t.Fatalf("%s: %v is written %q and read %v, %v", f.Path, value, own.Written(&f), got, reason)
				}
			}
		}
		for _, c := range s.Checks {
			if c.Every != nil && c.Every.Source == machine.Manual && c.Every.Hours > 0 {
				every++
				if !has("checks/" + c.ID + "/every/hours") {
					t.Errorf("%s does not ask how often for %s", s.ID, c.ID)
				}
			}
		}
		for _, n := range s.Numbers {
			if !has("numbers/" + n.ID) {
				t.Errorf("%s does not ask for %s", s.ID, n.ID)
			}
		}
	}
	if every == 0 {
		t.Error("no interval by hours in any sheet")
	}
}

// TestWhatAStepFinds: where the point is left out that an answer of a procedure would
// find, the procedure goes on without finding it.
func TestWhatAStepFinds(t *testing.T) {
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	tried := 0
	for _, r := range all {
		found := map[string]bool{}
		for _, p := range r.Sheet.Procedures {
			for _, st := range p.Steps {
				if st.No != nil && st.No.Finding != nil {
					found[st.No.Finding.Check] = true
				}
			}
		}
		for id := range found {
			if c, ok := r.Sheet.Check(id); !ok || len(c.Switches) > 0 {
				continue
			}
			s := copiedOut(r.Sheet)
			s.Left[id] = own.Left{Kind: machine.NotFitted, Why: "has none"}
			proved(t, modelled(t, r.Sheet, r.Hash, s))
			tried++
		}
	}
	if tried == 0 {
		t.Error("no step of any sheet finds a fault of a point that may be left out")
	}
}

func TestNamesOfModels(t *testing.T) {
	if got := own.ID("Señor Müller's 48-Z"); got != "own_senor_muller_s_48_z" {
		t.Error(got)
	}
	if a, b := own.ID("Дрозд"), own.ID("Сойка"); a == b || len(a) < 6 || a != own.ID("Дрозд") {
		t.Errorf("%s, %s", a, b)
	}
	if got := own.Edition("2026-11-27", []string{"2026-11-27", "2026-11-27.2"}); got != "2026-11-27.3" {
		t.Error(got)
	}
}
