package grade

import (
	"bufio"
	"bytes"
	_ "embed"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
)

//go:embed testdata/worked.txt
var worked []byte

var morning = time.Date(2026, 3, 5, 6, 40, 0, 0, time.UTC)

// at is an hour meter that runs.
func at(hours float64) *float64 { return &hours }

// TestWorkedFindings holds the table against what a practitioner would say of each.
func TestWorkedFindings(t *testing.T) {
	sheets := map[string]*machine.Sheet{}
	for _, r := range machinetest.All(t) {
		sheets[r.Sheet.ID] = r.Sheet
	}
	met, rows := map[string]bool{}, 0
	lines := bufio.NewScanner(bytes.NewReader(worked))
	for lines.Scan() {
		line := lines.Text()
		if line == "" || line[0] == '#' {
			continue
		}
		cells := strings.Split(line, " | ")
		if len(cells) != 7 {
			t.Fatalf("%d cells: %s", len(cells), line)
		}
		rows++
		t.Run(strings.Join(cells[:3], " "), func(t *testing.T) {
			sheet := sheets[cells[0]]
			if sheet == nil {
				t.Fatal("no such machine")
			}
			met[cells[0]] = true
			f := Finding{Check: cells[1]}
			if name, value, reads := strings.Cut(cells[2], "="); reads {
				n, err := strconv.ParseFloat(value, 64)
				if err != nil {
					t.Fatal(err)
				}
				f.Of, f.Reading = name, &n
			} else {
				f.Fault = cells[2]
			}
			report, err := Case{At: &morning, Hours: at(1000), Findings: []Finding{f}}.Judge(sheet)
			if err != nil {
				t.Fatal(err)
			}
			if got := deadline(report.Deadline); got != cells[4] {
				t.Errorf("deadline %s, want %s: %s", got, cells[4], cells[6])
			}
			takes := strings.Join(words(report.Restrictions), " ")
			if takes == "" {
				takes = "-"
			}
			wants := strings.Fields(cells[5])
			slices.SortFunc(wants, func(a, b string) int {
				return slices.Index(words(machine.Restrictions()), a) - slices.Index(words(machine.Restrictions()), b)
			})
			if takes != strings.Join(wants, " ") {
				t.Errorf("takes away %s, want %s: %s", takes, cells[5], cells[6])
			}
			if string(report.Findings[0].Grade) != cells[3] || string(report.Grade) != cells[3] {
				t.Errorf("%s, want %s: %s", report.Findings[0].Grade, cells[3], cells[6])
			}
			if report.Grade != defect.Sound && len(report.Findings[0].Reasons) == 0 {
				t.Error("no reason")
			}
		})
	}
	if rows < 120 || len(met) < 8 {
		t.Errorf("%d findings of %d machines", rows, len(met))
	}
}

// deadline is one from morning at 1000 h, as the table has it.
func deadline(d defect.Deadline) string {
	var out []string
	if d.Hours != nil {
		out = append(out, fmt.Sprintf("%gh", *d.Hours-1000))
	}
	if d.At != nil {
		out = append(out, fmt.Sprintf("%gd", d.At.Sub(morning).Hours()/24))
	}
	if len(out) == 0 {
		return "-"
	}
	return strings.Join(out, " ")
}
