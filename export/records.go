package export

// Tables of what was answered and filled, and of what people have shown.

import (
	"encoding/csv"
	"io"
	"strconv"
	"time"

	"vespers/core/operator"
	"vespers/store"
)

// The first lines of the tables.
var (
	AnswerColumns = []string{"answer", "kind", "outing", "machine", "by", "by_name", "at", "takes_the_place_of", "point", "item", "test", "said", "fault", "value", "unit", "seconds", "note", "why", "second"}
	FillColumns   = []string{"fill", "machine", "machine_name", "outing", "at", "litres", "to_mark", "hours", "fuel_of", "by", "by_name"}
	PeopleColumns = []string{"person", "name", "role", "language", "born", "stands_in_until", "shown", "sheet", "edition", "on", "until", "seen_by"}
)

// Table is a table that is written line by line.
type Table struct{ out *csv.Writer }

// NewTable begins a table with its first line.
func NewTable(w io.Writer, columns []string) Table {
	t := Table{csv.NewWriter(w)}
	t.line(columns...)
	return t
}

// Close writes what is left. It gives the first error there was.
func (t Table) Close() error {
	t.out.Flush()
	return t.out.Error()
}

func (t Table) line(list ...string) { t.out.Write(cells(list...)) } // the writer keeps its first error for Close

// Answer writes a line of AnswerColumns.
func (t Table) Answer(a store.Answer) {
	test := ""
	if a.Test > 0 {
		test = strconv.Itoa(a.Test)
	}
	t.line(a.ID, a.Kind, a.Outing, a.Machine, a.Person, a.PersonName, moment(a.At), a.Supersedes, a.Point, a.Item, test, a.Answer, a.Fault, a.Typed, a.Unit, number(a.Seconds), a.Note, a.Why, a.Second)
}

// Fill writes a line of FillColumns.
func (t Table) Fill(f store.FillRow) {
	var litres, hours *float64
	if f.Told {
		litres = &f.Litres
	}
	if f.Read {
		hours = &f.Hours
	}
	day := ""
	if !f.Can.IsZero() {
		day = f.Can.UTC().Format(time.DateOnly)
	}
	t.line(f.ID, f.Machine, f.MachineName, f.Outing, moment(f.At), number(litres), strconv.FormatBool(f.ToMark), number(hours), day, f.Person, f.PersonName)
}

// Person writes a line of PeopleColumns for each thing a person has read or shown, one
// with nothing shown for who has none.
func (t Table) Person(p operator.Person) {
	who := []string{p.ID, p.Name, string(p.Role), string(p.Language), p.Born, moment(p.StandsIn)}
	for _, m := range p.Manuals {
		t.line(append(who[:len(who):len(who)], "manual", m.Sheet, m.Edition, moment(m.On), "", "")...)
	}
	for _, q := range p.Qualifications {
		until := ""
		if q.Until != nil {
			until = moment(*q.Until)
		}
		t.line(append(who[:len(who):len(who)], q.Kind, q.Sheet, "", moment(q.On), until, q.By)...)
	}
	if len(p.Manuals)+len(p.Qualifications) == 0 {
		t.line(append(who, "", "", "", "", "", "")...)
	}
}

// number is a number as CSV has it, "" for none.
func number(n *float64) string {
	if n == nil {
		return ""
	}
	return strconv.FormatFloat(*n, 'f', -1, 64)
}
