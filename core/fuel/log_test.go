package fuel_test

import (
	"reflect"
	"testing"
	"time"

	"vespers/core/fuel"
)

func TestACanIsOfADay(t *testing.T) {
	day := time.Date(2026, 5, 4, 0, 0, 0, 0, time.UTC)
	month := 30 * 24 * time.Hour
	for _, c := range []struct {
		can  time.Time
		most time.Duration
		old  bool
	}{{day, month, false}, {day.Add(-month), month, false}, {day.Add(-month - 1), month, true}, {day.AddDate(-1, 0, 0), 0, false}, {time.Time{}, month, false}} {
		if got := fuel.TooOld(c.can, day, c.most); got != c.old {
			t.Errorf("%v of at most %v: %v", c.can, c.most, got)
		}
	}
}

// TestALogFromMarkToMark: what went in between two marks is what the hours between have
// burnt; of a gap nothing is known.
func TestALogFromMarkToMark(t *testing.T) {
	full := func(hours, litres float64) fuel.Entry {
		return fuel.Entry{Hours: hours, Read: true, Litres: litres, Told: true, ToMark: true}
	}
	some := func(litres float64) fuel.Entry { return fuel.Entry{Litres: litres, Told: true} }
	markOnly := fuel.Entry{Hours: 20, Read: true, ToMark: true}
	blind := fuel.Entry{Litres: 5, Told: true, ToMark: true}
	for _, c := range []struct {
		name string
		log  []fuel.Entry
		want [][]fuel.Fill
	}{
		{"nothing", nil, [][]fuel.Fill{nil}},
		{"plain", []fuel.Entry{full(10, 3), full(14, 16)}, [][]fuel.Fill{{{Hours: 10, Litres: 3}, {Hours: 14, Litres: 16}}}},
		{"a splash between", []fuel.Entry{full(10, 3), some(5), full(14, 11)}, [][]fuel.Fill{{{Hours: 10, Litres: 3}, {Hours: 14, Litres: 16}}}},
		{"to the mark, and not how much", []fuel.Entry{full(10, 3), markOnly, full(24, 16)}, [][]fuel.Fill{{{Hours: 10, Litres: 3}}, {{Hours: 20}, {Hours: 24, Litres: 16}}}},
		{"the meter not read", []fuel.Entry{full(10, 3), blind, full(24, 16)}, [][]fuel.Fill{{{Hours: 10, Litres: 3}}, {{Hours: 24, Litres: 16}}}},
		{"twice at the same hour", []fuel.Entry{full(10, 3), full(10, 1), full(14, 16)}, [][]fuel.Fill{{{Hours: 10, Litres: 3}}, {{Hours: 10, Litres: 1}, {Hours: 14, Litres: 16}}}},
		{"another meter", []fuel.Entry{full(900, 3), full(2, 16), full(6, 16)}, [][]fuel.Fill{{{Hours: 900, Litres: 3}}, {{Hours: 2, Litres: 16}, {Hours: 6, Litres: 16}}}},
	} {
		if got := fuel.ToMark(c.log); !reflect.DeepEqual(got, c.want) {
			t.Errorf("%s: %+v", c.name, got)
		}
	}
	var log []fuel.Entry
	for i := range 12 {
		log = append(log, full(float64(10+5*i), 20))
	}
	log[6].Told = false // of two of the spans nothing is known; the rest counts
	n, refused := fuel.Needed(fuel.Day{Burn: 3.5, Hours: 1, Usable: 40, Before: fuel.ToMark(log)})
	if refused != nil || n.Burn != 4 || !n.FromFills {
		t.Errorf("%+v %v", n, refused)
	}
}
