package catalogue

// Options as somebody writes them beside a sheet.

import (
	"maps"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

// UnknownOptions finds what was chosen of options, or of ways of options, that
// none of the sheets has.
func UnknownOptions(file string, chosen machine.Chosen, sheets ...*machine.Sheet) (out []Problem) {
	for _, id := range slices.Sorted(maps.Keys(chosen)) {
		var options, ways []string
		for _, s := range sheets {
			for _, o := range s.Options {
				options = append(options, o.ID)
				for _, way := range o.Choices {
					if o.ID == id {
						ways = append(ways, way.ID)
					}
				}
			}
		}
		unknown := func(what string, kind text.Key, known []string) {
			out = append(out, Problem{File: file, Line: 1, Reason: machine.RuleUnknown.Says(what, kind, strings.Join(known, ", "))})
		}
		switch {
		case len(ways) == 0:
			unknown(id, "sheet.kind.option", options)
		case !slices.Contains(ways, chosen[id]):
			unknown(chosen[id], "sheet.kind.option_way", ways)
		}
	}
	return out
}
