package demo_test

import (
	"bytes"
	"context"
	"errors"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/outing"
	crew "vespers/core/yard"
	"vespers/demo"
	"vespers/store"
)

func yard(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "yard"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		if err := s.AddSheet(t.Context(), r); err != nil {
			t.Fatal(err)
		}
	}
	return s
}

// TestWrenfield: the demo shows every grade and every state, and its records
// hold together.
func TestWrenfield(t *testing.T) {
	s, ctx := yard(t), context.Background()
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		t.Fatal(err)
	}
	if r, err := s.Verify(ctx); err != nil || len(r.Problems) > 0 || r.Records < 200 {
		t.Errorf("%+v, %v", r, err)
	}
	machines, err := s.Machines(ctx)
	if err != nil {
		t.Fatal(err)
	}
	grades, families, out, open := map[defect.Grade]int{}, map[string]bool{}, 0, 0
	for _, m := range machines {
		grades[m.Grade]++
		sheet, err := s.Sheet(ctx, m.Sheet)
		if err != nil {
			t.Fatal(err)
		}
		families[sheet.Family] = true
		switch {
		case m.Out == nil:
		case m.Out.Status == outing.Out:
			out++
		default:
			open++
		}
	}
	for _, g := range defect.Grades() {
		if grades[g] == 0 {
			t.Errorf("no machine is %s", g)
		}
	}
	if len(families) != 22 || out == 0 || open < 2 {
		t.Errorf("%d families, %d out, %d under way", len(families), out, open)
	}
	people, err := s.People(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range people {
		if _, right, err := s.CheckPIN(ctx, p.ID, demo.PINs()[p.ID], store.From{Device: "shed"}); err != nil || !right {
			t.Errorf("%s cannot sign in: %v", p.Name, err)
		}
	}
	t.Run("its ground", func(t *testing.T) { onTheGround(t, s) })
}

// onTheGround asks the site for the yard as it stands: Cantor is out with Tobias.
func onTheGround(t *testing.T, s *store.Store) {
	view, check := s.View(t.Context())
	kept, _ := view.Site()
	if !bytes.Equal(kept.Bytes(), demo.Hillside) {
		t.Errorf("the site is not written as it was read:\n%s", kept.Bytes())
	}
	site, err := kept.Site()
	if err != nil {
		t.Fatal(err)
	}
	judged, err := crew.Ground(view, time.Now()).Judge(&site)
	if err := errors.Join(err, check()); err != nil {
		t.Fatal(err)
	}
	want := map[string]string{
		"upper_terrace": "", "lower_terrace": "", "chapel_lawn": "", "pond_bank": "slope", "lime_walk": "work", "cedar_glade": "", "water_trench": "work", "gate_verge": "",
	}
	for _, z := range judged {
		does := 0
		for _, r := range z.Rooms {
			if slices.Contains(r.Machine.Does, z.Work) && r.Left > 0 {
				does++
			}
			for _, a := range r.Answers {
				if r.Machine.ID == "cantor" && a.Operator == "tobias" && !slices.Contains(a.Because, "ticket") && strings.Join(a.Because, " ") != want[z.ID] {
					t.Errorf("Cantor and Tobias, %s: %v, not %q; keep %v", z.ID, a.Because, want[z.ID], a.Keep)
				}
			}
		}
		if does == 0 {
			t.Errorf("no machine of the yard does anything in %s", z.ID)
		}
		delete(want, z.ID)
	}
	if len(want) > 0 {
		t.Errorf("not asked: %v", want)
	}
}

// TestGeneratedYard: what is written in bulk is what answers would have
// written: the chain holds, and a rebuild finds the same.
func TestGeneratedYard(t *testing.T) {
	s, ctx := yard(t), context.Background()
	days := 0
	size := demo.Size{Machines: 8, OutingsADay: 6, Days: 2}
	if err := demo.Generate(ctx, s, size, time.Now(), func(day int) { days = day }); err != nil {
		t.Fatal(err)
	}
	if r, err := s.Verify(ctx); err != nil || days != 2 || len(r.Problems) > 0 || r.Records < 300 {
		t.Errorf("%d days, %+v, %v", days, r, err)
	}
	shown := func() (rows []store.OutingRow, standing []store.Standing) {
		rows, err := s.Today(ctx, time.Now().AddDate(0, 0, -10))
		if err != nil {
			t.Fatal(err)
		}
		standing, err = s.Machines(ctx)
		if err != nil {
			t.Fatal(err)
		}
		return rows, standing
	}
	before, standing := shown()
	if len(before) != 12 {
		t.Errorf("%d outings", len(before))
	}
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	after, again := shown()
	for i := range before {
		if before[i] != after[i] {
			t.Errorf("a rebuild shows %+v, it was %+v", after[i], before[i])
		}
	}
	for i := range standing {
		if !reflect.DeepEqual(standing[i].Machine, again[i].Machine) {
			t.Errorf("a rebuild shows %+v, it was %+v", again[i].Machine, standing[i].Machine)
		}
	}
}
