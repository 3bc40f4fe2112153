package export

import (
	"bytes"
	"encoding/csv"
	"slices"
	"testing"
	"time"

	"vespers/core/fuel"
	"vespers/core/operator"
	"vespers/store"
)

// TestTablesOfRecords: a number that nobody said is empty, not nought, and what somebody
// typed is no formula.
func TestTablesOfRecords(t *testing.T) {
	at, seconds := time.Date(2026, 3, 5, 6, 40, 0, 0, time.UTC), 4.25
	var out bytes.Buffer
	table := NewTable(&out, AnswerColumns)
	table.Answer(store.Answer{ID: "a1", Kind: "point", At: at, Point: "tyres", Item: "left", Answer: "reading", Typed: "-0,5", Unit: "bar", Note: "@left"})
	table.Answer(store.Answer{ID: "a2", Kind: "test", At: at, Test: 3, Seconds: &seconds})
	fills := NewTable(&out, FillColumns)
	if err := table.Close(); err != nil {
		t.Fatal(err)
	}
	fills.Fill(store.FillRow{Fill: store.Fill{ID: "f1", At: at, Entry: fuel.Entry{ToMark: true}}})
	fills.Fill(store.FillRow{Fill: store.Fill{ID: "f2", At: at, Can: at, Entry: fuel.Entry{Told: true, Litres: 7.5, Read: true, Hours: 0}}})
	if err := fills.Close(); err != nil {
		t.Fatal(err)
	}
	people := NewTable(&out, PeopleColumns)
	people.Person(operator.Person{ID: "osk", Role: operator.Visitor})
	people.Person(operator.Person{ID: "ida", Role: operator.Operator, StandsIn: at, Manuals: []operator.ManualRead{{Sheet: "s", Edition: "2", On: at}},
		Qualifications: []operator.Qualification{{Kind: operator.Licence, On: at, Until: &at, By: "maren"}}})
	if err := people.Close(); err != nil {
		t.Fatal(err)
	}
	reader := csv.NewReader(&out)
	reader.FieldsPerRecord = -1
	rows, err := reader.ReadAll()
	if err != nil || len(rows) != 10 {
		t.Fatalf("%v %v", rows, err)
	}
	cell := func(row int, columns []string, name string) string { return rows[row][slices.Index(columns, name)] }
	for _, c := range []struct {
		row        int
		columns    []string
		name, want string
	}{
		{1, AnswerColumns, "value", "'-0,5"}, {1, AnswerColumns, "note", "'@left"}, {1, AnswerColumns, "test", ""}, {1, AnswerColumns, "seconds", ""},
		{2, AnswerColumns, "test", "3"}, {2, AnswerColumns, "seconds", "4.25"}, {2, AnswerColumns, "at", "2026-03-05T06:40:00Z"},
		{4, FillColumns, "litres", ""}, {4, FillColumns, "hours", ""}, {4, FillColumns, "to_mark", "true"}, {4, FillColumns, "fuel_of", ""},
		{5, FillColumns, "litres", "7.5"}, {5, FillColumns, "hours", "0"}, {5, FillColumns, "fuel_of", "2026-03-05"},
		{7, PeopleColumns, "shown", ""}, {7, PeopleColumns, "stands_in_until", ""},
		{8, PeopleColumns, "shown", "manual"}, {8, PeopleColumns, "edition", "2"}, {8, PeopleColumns, "stands_in_until", "2026-03-05T06:40:00Z"},
		{9, PeopleColumns, "shown", "licence"}, {9, PeopleColumns, "seen_by", "maren"}, {9, PeopleColumns, "until", "2026-03-05T06:40:00Z"},
	} {
		if got := cell(c.row, c.columns, c.name); got != c.want {
			t.Errorf("line %d, %s: %q, want %q", c.row, c.name, got, c.want)
		}
	}
	for row, columns := range map[int][]string{0: AnswerColumns, 3: FillColumns, 6: PeopleColumns} {
		if !slices.Equal(rows[row], columns) {
			t.Errorf("%v", rows[row])
		}
	}
}
