package fuel

// The log of a tank: what was filled in, read as fills from mark to mark.

import "time"

// Entry is one line of it: litres, to the mark, or both.
type Entry struct {
	Hours  float64
	Read   bool // the hour meter was read
	Litres float64
	Told   bool // how many litres
	ToMark bool
}

// TooOld reports whether fuel of a can was older, when it was filled, than it may be; no
// most is no limit, and of a can of no day nobody knows.
func TooOld(can, filled time.Time, most time.Duration) bool {
	return most > 0 && !can.IsZero() && filled.Sub(can) > most
}

// ToMark reads a log, oldest first, as fills to the mark: what went in between two of
// them is what the hours between have burnt. Where something between was not told, or
// the hour meter not read, nothing is known of that time, and the next mark begins anew.
func ToMark(log []Entry) (runs [][]Fill) {
	var run []Fill
	litres, known := 0.0, true
	for _, e := range log {
		litres += e.Litres
		known = known && e.Told
		if !e.ToMark {
			continue
		}
		if n := len(run); !e.Read || n > 0 && (!known || e.Hours <= run[n-1].Hours) {
			runs, run = append(runs, run), nil
		}
		if e.Read {
			run = append(run, Fill{Hours: e.Hours, Litres: litres})
		}
		litres, known = 0, true
	}
	return append(runs, run)
}
