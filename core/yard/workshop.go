package yard

// The technician's list: every machine on which there is something for their hands,
// what presses most first.

import (
	"cmp"
	"slices"
	"time"

	"vespers/core/review"
)

// ForHands is what a machine asks of a technician.
type ForHands struct {
	Machine Machine
	Open    []OnDesk // as the desk orders them
	Due     []Due
	// WearsOut is when a drive comes to the limit of its stopping time; zero where none
	// does within a season.
	WearsOut time.Time
	Presses  Block
}

// Workshop lists the machines on which something is open, due or wears out: those that
// do not start first, then what runs out before tomorrow is over. reaches is when the
// most worn drive of a machine comes to its limit, by machine.
func Workshop(v View, reaches map[string]time.Time, now time.Time) []ForHands {
	of := map[string]*ForHands{}
	for _, m := range v.Machines() {
		of[m.ID] = &ForHands{Machine: m, Presses: Unhinged}
	}
	for _, d := range Desk(v, now) {
		w := of[d.Machine.ID]
		w.Open, w.Presses = append(w.Open, d), min(w.Presses, d.Blocks)
	}
	for _, due := range DueAll(v, now) {
		w := of[due[0].Machine.ID]
		if w.Due = due; due[0].Keeps() {
			w.Presses = KeptIn
		}
	}
	var out []ForHands
	for _, m := range v.Machines() {
		w := of[m.ID]
		switch wear := (review.Wear{Reaches: reaches[m.ID]}); {
		case wear.Over(now):
			w.WearsOut, w.Presses = wear.Reaches, min(w.Presses, RunsOut)
		case wear.Soon(now):
			w.WearsOut = wear.Reaches
		}
		if len(w.Open) > 0 || len(w.Due) > 0 || !w.WearsOut.IsZero() {
			out = append(out, *w)
		}
	}
	slices.SortStableFunc(out, func(a, b ForHands) int { return cmp.Compare(a.Presses, b.Presses) })
	return out
}
