package procedure

// The procedures and events of a sheet as a person reads them: in which order, with
// which steps, and how long they wait.

import (
	"cmp"
	"slices"
	"time"

	"vespers/core/machine"
)

// day is the order in which procedures come in a day.
var day = []string{"unload", "charge", "fuel", "start", "work", "clear", "shutdown", "clean", "grease", "service", "backlap", "load", "store"}

// OfTheDay are the procedures of a sheet in the order of a day.
func OfTheDay(s *machine.Sheet) []machine.Procedure {
	return slices.SortedStableFunc(slices.Values(s.Procedures), func(a, b machine.Procedure) int {
		return cmp.Compare(slices.Index(day, a.ID), slices.Index(day, b.ID))
	})
}

// first are the events that nobody may have to look for: life before machine.
var first = []string{"fire", "hurt"}

// Pressing are the events of a sheet, those first that nobody may have to look for.
func Pressing(s *machine.Sheet) []machine.Event {
	at := func(e machine.Event) int {
		if i := slices.Index(first, e.ID); i >= 0 {
			return i
		}
		return len(first)
	}
	return slices.SortedStableFunc(slices.Values(s.Events), func(a, b machine.Event) int { return cmp.Compare(at(a), at(b)) })
}

// After is what a machine is from an event on; an event that does not say so leaves
// it as it is: on.
func After(e machine.Event) string { return cmp.Or(e.After, "on") }

// Length is how long a wait is, with its source: one of the numbers, the first of the
// name, or its own seconds, which are trade practice.
func Length(numbers []machine.Parameter, w *machine.Wait) machine.Parameter {
	if i := slices.IndexFunc(numbers, func(n machine.Parameter) bool { return w.Parameter != "" && n.ID == w.Parameter }); i >= 0 {
		return numbers[i]
	}
	return machine.Parameter{ID: w.Parameter, Value: w.Seconds, Unit: "s", Source: machine.Trade}
}

// Cooling is the longest wait of a sheet for metal to be cool.
func Cooling(s *machine.Sheet) (longest time.Duration) {
	eachStep(s, func(st *machine.Step, _ ...any) {
		if st.Wait != nil && st.Makes["metal"] == "cool" {
			seconds := Length(s.Numbers, st.Wait).Amount().Quantity.Value
			longest = max(longest, time.Duration(seconds*float64(time.Second)))
		}
	})
	return longest
}

// Shown are those of some steps that are there.
func Shown(s *machine.Sheet, steps []machine.Step, way Way) (out []machine.Step) {
	for i := range steps {
		if there(&steps[i], s.Ways(way.Options), way.House) {
			out = append(out, steps[i])
		}
	}
	return out
}

// FactKey is the key of the words for how a fact stands; those of a sheet's own have
// one in common.
func FactKey(fact, is string) string {
	if slices.ContainsFunc(facts, func(f Fact) bool { return f.ID == fact }) {
		return "fact." + fact + "." + is
	}
	return "fact.own"
}
