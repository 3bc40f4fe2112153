package export

import (
	"bytes"
	"encoding/csv"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/yard"
	"vespers/store"
)

// TestTables are what a reader of CSV takes them for, whatever was typed.
func TestTables(t *testing.T) {
	at := time.Date(2026, 3, 5, 6, 40, 0, 0, time.FixedZone("east", 3600))
	hours := 102.5
	d := store.Defect{FinderName: "Inés, the elder", Defect: yard.Defect{ID: "d1", Machine: "m1", Outing: "o1", Point: "lamps", Fault: "broken", Test: -1, Open: true,
		Note: "=2+2\nsecond \"line\"", FoundBy: "ines", FoundAt: at, Value: &inspect.Value{Typed: "-5", Unit: "mm"},
		Finding: defect.Finding{Extent: machine.Lost, Grade: defect.Mend, Restrictions: []machine.Restriction{machine.NoRoad, machine.DaylightOnly}, Deadline: defect.Deadline{Hours: &hours, At: &at}}}}
	closed := d
	closed.ID, closed.Open, closed.Test, closed.Cause = "d2", false, 4, "-- wire"
	var out bytes.Buffer
	if err := Defects(&out, []store.Defect{d, closed}, map[string]string{"m1": "Verger"}); err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(&out).ReadAll()
	if err != nil || len(rows) != 3 || !slices.Equal(rows[0], DefectColumns) {
		t.Fatalf("%v %v", rows, err)
	}
	cell := func(row int, column string) string { return rows[row][slices.Index(DefectColumns, column)] }
	for column, want := range map[string]string{"machine_name": "Verger", "found_by_name": "Inés, the elder", "note": "'=2+2\nsecond \"line\"", "value": "-5", "unit": "mm", "test": "",
		"restrictions": "no_road daylight_only", "deadline_hours": "102.5", "deadline_at": "2026-03-05T05:40:00Z", "found_at": "2026-03-05T05:40:00Z", "status": "open", "closed_at": ""} {
		if got := cell(1, column); got != want {
			t.Errorf("%s: %q, want %q", column, got, want)
		}
	}
	if cell(2, "status") != "closed" || cell(2, "test") != "5" || cell(2, "cause") != "'-- wire" {
		t.Errorf("%v", rows[2])
	}
	out.Reset()
	if err := Outings(&out, []store.OutingRow{{ID: "o1", MachineName: "Verger", Began: at, Status: "released"}}); err != nil {
		t.Fatal(err)
	}
	if rows, err = csv.NewReader(&out).ReadAll(); err != nil || !slices.Equal(rows[0], OutingColumns) || rows[1][5] != "2026-03-05T05:40:00Z" || rows[1][6] != "" {
		t.Errorf("%v %v", rows, err)
	}
}

// TestColumnsAreDocumented, in their order.
func TestColumnsAreDocumented(t *testing.T) {
	data, err := os.ReadFile("../docs/export.md")
	if err != nil {
		t.Fatal(err)
	}
	text := string(data)
	for name, columns := range map[string][]string{"outings.csv": OutingColumns, "defects.csv": DefectColumns,
		"answers.csv": AnswerColumns, "fills.csv": FillColumns, "people.csv": PeopleColumns} {
		at := strings.Index(text, "`"+name+"`")
		if at < 0 {
			t.Fatalf("nothing of %s", name)
		}
		for _, c := range columns {
			i := strings.Index(text[at:], "`"+c+"`")
			if i < 0 {
				t.Errorf("%s: %s is not there, or not in its place", name, c)
				break
			}
			at += i
		}
	}
}
