// Package export writes what a yard holds in open formats: tables as CSV. The columns
// are in docs/export.md; a test compares.
package export

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/store"
)

// OutingColumns and DefectColumns are the first lines of the tables.
var (
	OutingColumns = []string{"outing", "machine", "machine_name", "operator", "operator_name", "began", "released", "released_by", "second", "ended", "status", "outcome"}
	DefectColumns = []string{"defect", "machine", "machine_name", "outing", "point", "item", "fault", "test", "value", "unit", "note", "extent", "grade", "deadline_hours", "deadline_at",
		"restrictions", "rules", "found_by", "found_by_name", "found_at", "status", "closed_by", "closed_by_name", "closed_at", "cause", "work"}
)

// Outings writes outings, a line each.
func Outings(w io.Writer, list []store.OutingRow) error {
	out := csv.NewWriter(w)
	out.Write(OutingColumns)
	for _, o := range list {
		out.Write(cells(o.ID, o.Machine, o.MachineName, o.Operator, o.OperatorName, moment(o.Began), moment(o.Released), o.ReleasedBy, o.Second, moment(o.Ended), string(o.Status), o.Outcome))
	}
	out.Flush()
	return out.Error()
}

// Defects writes defects, a line each. Names finds what machines are called.
func Defects(w io.Writer, list []store.Defect, names map[string]string) error {
	out := csv.NewWriter(w)
	out.Write(DefectColumns)
	for _, d := range list {
		value, unit, test, hours, at, status := "", "", "", "", "", "closed"
		if d.Value != nil {
			value, unit = d.Value.Typed, d.Value.Unit
		}
		if d.Test >= 0 {
			test = strconv.Itoa(d.Test + 1)
		}
		if d.Finding.Deadline.Hours != nil {
			hours = strconv.FormatFloat(*d.Finding.Deadline.Hours, 'f', -1, 64)
		}
		if d.Finding.Deadline.At != nil {
			at = moment(*d.Finding.Deadline.At)
		}
		if d.Open {
			status = "open"
		}
		var rules []string
		for _, r := range d.Finding.Reasons {
			rules = append(rules, string(r.Rule))
		}
		out.Write(cells(d.ID, d.Machine, names[d.Machine], d.Outing, d.Point, d.Item, d.Fault, test, value, unit, d.Note, string(d.Finding.Extent), string(d.Finding.Grade), hours, at,
			words(d.Finding.Restrictions), strings.Join(rules, " "), d.FoundBy, d.FinderName, moment(d.FoundAt), status, d.ClosedBy, d.CloserName, moment(d.ClosedAt), d.Cause, d.Work))
	}
	out.Flush()
	return out.Error()
}

func words(list []machine.Restriction) string {
	var out []string
	for _, r := range list {
		out = append(out, string(r))
	}
	return strings.Join(out, " ")
}

// moment is a time in UTC, to the second, "" for none.
func moment(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.UTC().Format(time.RFC3339)
}

// cells are fields that no spreadsheet takes for a formula: what somebody typed is text.
func cells(list ...string) []string {
	for i, c := range list {
		if c != "" && strings.ContainsRune("=+-@\t\r", rune(c[0])) {
			if _, err := strconv.ParseFloat(c, 64); err != nil {
				list[i] = "'" + c
			}
		}
	}
	return list
}
