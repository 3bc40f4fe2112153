package storetest

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/export"
	"vespers/store"
)

// answersIn are the ids of answers in the exported lines, by the machine that the body
// names: a second reading of the same log.
func answersIn(t *testing.T, s *store.Store) map[string][]string {
	t.Helper()
	var lines bytes.Buffer
	if err := s.Export(ctx, &lines, false); err != nil {
		t.Fatal(err)
	}
	kinds := map[string]bool{"point_answered": true, "put_right": true, "break_answered": true, "tested": true, "step_answered": true}
	out := map[string][]string{}
	for dec := json.NewDecoder(&lines); dec.More(); {
		var line struct {
			Type, Kind, ID string
			Body           struct{ Machine string }
		}
		if err := dec.Decode(&line); err != nil {
			t.Fatal(err)
		}
		if line.Type == "record" && kinds[line.Kind] {
			out[""] = append(out[""], line.ID)
			out[line.Body.Machine] = append(out[line.Body.Machine], line.ID)
		}
	}
	return out
}

// TestAnswersAreFound: all of them, and by machine, person, point and day.
func TestAnswersAreFound(t *testing.T) {
	s, _ := wrenfield(t)
	want := answersIn(t, s)
	find := func(f store.Filter) (ids []string) {
		var out bytes.Buffer
		table := export.NewTable(&out, export.AnswerColumns)
		err := s.FindAnswers(ctx, f, func(a store.Answer) error {
			if f.Person != "" && a.Person != f.Person || f.Point != "" && a.Point != f.Point || a.At.IsZero() || a.Outing == "" || a.PersonName == "" {
				t.Errorf("%+v does not fit %+v", a, f)
			}
			table.Answer(a)
			ids = append(ids, a.ID)
			return nil
		})
		if err != nil || table.Close() != nil {
			t.Fatal(err)
		}
		if rows, err := csv.NewReader(&out).ReadAll(); err != nil || len(rows) != len(ids)+1 {
			t.Errorf("%d lines of a table of %d answers: %v", len(rows), len(ids), err)
		}
		return ids
	}
	for machine, ids := range want {
		if got := find(store.Filter{Machine: machine}); !equal(got, ids) {
			t.Errorf("of %q: %d answers, want %d", machine, len(got), len(ids))
		}
	}
	for _, f := range []store.Filter{{Person: "tobias"}, {Point: "hydraulic_leaks"}, {To: time.Now().AddDate(0, 0, -1)}} {
		if n := len(find(f)); n == 0 || n >= len(want[""]) {
			t.Errorf("%+v: %d answers of %d", f, n, len(want[""]))
		}
	}
	if n := len(find(store.Filter{From: time.Now().AddDate(0, 0, 1)})); n > 0 {
		t.Errorf("%d answers of tomorrow", n)
	}
}

// TestFillsAreFound, of one machine and of all.
func TestFillsAreFound(t *testing.T) {
	s, _ := wrenfield(t)
	for _, machine := range []string{"verger", "sexton"} {
		o := take(t, s, "fills-"+machine, "tobias", machine, "")
		if _, err := say(s, "fills-ready-"+machine, "tobias", in(o.ID, outingtest.Ready(o))); err != nil {
			t.Fatal(err)
		}
		for i, litres := range []string{"2.5", "1"} {
			if _, err := say(s, fmt.Sprintf("fill-%s-%d", machine, i), "tobias", in(o.ID, outing.Fill{Machine: machine, Litres: litres})); err != nil {
				t.Fatal(err)
			}
		}
	}
	machines, err := s.Machines(ctx)
	if err != nil {
		t.Fatal(err)
	}
	sum, all := 0, 0
	for _, m := range append(machines, store.Standing{}) {
		log, err := s.Fills(ctx, m.ID)
		if err != nil {
			t.Fatal(err)
		}
		n := 0
		err = s.FindFills(ctx, store.Filter{Machine: m.ID}, func(f store.FillRow) error {
			if m.ID != "" && (f.Machine != m.ID || f.MachineName != m.Name || !equal(f.Fill, log[n])) {
				t.Errorf("%+v, want %+v", f, log[n])
			}
			n++
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
		if m.ID == "" {
			all = n
			continue
		}
		sum += n
	}
	if all != sum || all == 0 {
		t.Errorf("%d fills in all, %d by machine", all, sum)
	}
}
