package yard

// The desk of defects: every one that is open, what presses most first.

import (
	"cmp"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/outing"
)

// Block is what a defect keeps a machine from tomorrow.
type Block int

// The blocks, the most pressing first.
const (
	KeptIn   Block = iota // it does not start
	RunsOut               // its deadline passes before tomorrow is over
	Limited               // it goes out, and not for everything
	Unhinged              // it goes out as it is
)

// OnDesk is an open defect as the desk shows it.
type OnDesk struct {
	Defect
	Machine Machine
	Grade   defect.Grade // now
	Blocks  Block
	// Left is how many hours of work are left until its deadline, nil where none are
	// counted; Until when it passes by the clock, nil where it does not.
	Left  *float64
	Until *time.Time
	// Proving is the outing of a repair in which it is being proved, and Hand who has it.
	Proving, Hand string
}

// Desk lists every open defect: what keeps machines in, the oldest Halt first; then what
// runs out, the first first; then what limits them, and the rest.
func Desk(v View, now time.Time) []OnDesk {
	machines := map[string]Machine{}
	for _, m := range v.Machines() {
		machines[m.ID] = m
	}
	tomorrow := today(v, now).AddDate(0, 0, 2)
	var out []OnDesk
	for _, d := range v.EveryOpenDefect() {
		m, ok := machines[d.Machine]
		if !ok {
			continue
		}
		out = append(out, onDesk(v, m, d, tomorrow, now))
	}
	slices.SortStableFunc(out, func(a, b OnDesk) int {
		return cmp.Or(cmp.Compare(a.Blocks, b.Blocks), a.ends().Compare(b.ends()), a.FoundAt.Compare(b.FoundAt))
	})
	return out
}

// workday is for how many hours of work a day counts, to compare hours with dates.
const workday = 8

// ends orders what presses alike: by when it runs out, where it does.
func (d OnDesk) ends() time.Time {
	if d.Grade != defect.Mend || d.Until == nil {
		return time.Time{}
	}
	if d.Left == nil {
		return *d.Until
	}
	days := time.Duration(*d.Left / workday * 24 * float64(time.Hour))
	if by := d.FoundAt.Add(days); by.Before(*d.Until) {
		return by
	}
	return *d.Until
}

func onDesk(v View, m Machine, d Defect, tomorrow, now time.Time) OnDesk {
	line := OnDesk{Defect: d, Machine: m, Grade: d.Finding.GradeAt(m.Hours, now), Blocks: Unhinged}
	if line.Grade == defect.Mend {
		line.Until = d.Finding.Deadline.At
		if h := d.Finding.Deadline.Hours; h != nil {
			left := max(0, *h-m.Hours)
			line.Left = &left
		}
	}
	switch {
	case line.Grade == defect.Halt:
		line.Blocks = KeptIn
	case line.Until != nil && line.Until.Before(tomorrow), line.Left != nil && *line.Left < workday:
		line.Blocks = RunsOut
	case len(d.Finding.Restrictions) > 0:
		line.Blocks = Limited
	}
	if o, ok := v.Outing(m.Outing); ok && m.Outing != "" && o.Repair != nil && slices.Contains(o.Repair.Defects, d.ID) && o.Status != outing.Closed {
		line.Proving, line.Hand = o.ID, o.Operator()
	}
	return line
}
