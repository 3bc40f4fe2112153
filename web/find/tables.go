package find

// The tables that fit a filter, to be taken away. None is cut: what is too long is
// refused, to be narrowed down.

import (
	"bytes"
	"errors"
	"net/http"

	"vespers/export"
	"vespers/store"
	"vespers/web/page"
)

// The longest tables, in lines: more than a spreadsheet is a pleasure with.
const (
	tableMost   = 20000
	answersMost = 200000
)

// errTooLong: a table would have more lines than are sent.
var errTooLong = errors.New("find: the table is too long")

// table sends what write writes for the filter of the address.
func table(v *page.Visit, name string, write func(f store.Filter, out *bytes.Buffer) error) {
	f, ok := filter(v)
	if !ok {
		v.Fail(store.ErrNotFound)
		return
	}
	var out bytes.Buffer
	err := write(f, &out)
	if errors.Is(err, errTooLong) {
		v.Problem(http.StatusUnprocessableEntity, v.T("find_records.too_long"), "")
		return
	}
	send(v, "text/csv; charset=utf-8", name, out.Bytes(), err)
}

func outingsCSV(v *page.Visit) {
	table(v, "outings.csv", func(f store.Filter, out *bytes.Buffer) error {
		list, err := v.Site.Store.FindOutings(v.Context(), f, tableMost+1)
		if err == nil && len(list) > tableMost {
			err = errTooLong
		}
		if err != nil {
			return err
		}
		return export.Outings(out, list)
	})
}

func defectsCSV(v *page.Visit) {
	table(v, "defects.csv", func(f store.Filter, out *bytes.Buffer) error {
		list, err := v.Site.Store.FindDefects(v.Context(), f, tableMost+1)
		if err == nil && len(list) > tableMost {
			err = errTooLong
		}
		names := map[string]string{}
		for _, d := range list {
			if _, known := names[d.Machine]; known || err != nil {
				continue
			}
			var m store.Machine
			m, err = v.Site.Store.Machine(v.Context(), d.Machine)
			names[d.Machine] = m.Name
		}
		if err != nil {
			return err
		}
		return export.Defects(out, list, names)
	})
}

func answersCSV(v *page.Visit) {
	table(v, "answers.csv", func(f store.Filter, out *bytes.Buffer) error {
		t, lines := export.NewTable(out, export.AnswerColumns), 0
		err := v.Site.Store.FindAnswers(v.Context(), f, func(a store.Answer) error {
			if lines++; lines > answersMost {
				return errTooLong
			}
			t.Answer(a)
			return nil
		})
		return errors.Join(err, t.Close())
	})
}

func fillsCSV(v *page.Visit) {
	table(v, "fills.csv", func(f store.Filter, out *bytes.Buffer) error {
		t, lines := export.NewTable(out, export.FillColumns), 0
		err := v.Site.Store.FindFills(v.Context(), f, func(r store.FillRow) error {
			if lines++; lines > answersMost {
				return errTooLong
			}
			t.Fill(r)
			return nil
		})
		return errors.Join(err, t.Close())
	})
}

// peopleCSV is what leads know of people: nobody else takes it away.
func peopleCSV(v *page.Visit) {
	table(v, "people.csv", func(f store.Filter, out *bytes.Buffer) error {
		people, err := v.Site.Store.People(v.Context())
		if err != nil {
			return err
		}
		t := export.NewTable(out, export.PeopleColumns)
		for _, one := range people {
			if f.Person == "" || one.ID == f.Person {
				t.Person(one)
			}
		}
		return t.Close()
	})
}
