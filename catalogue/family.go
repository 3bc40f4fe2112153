package catalogue

// The families of machines: a file of the catalogue.

import (
	_ "embed"
	"fmt"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

//go:embed families.yaml
var families []byte

// Families lists the families that a sheet may be of.
func Families() []string {
	root, err := parse("families.yaml", families)
	if err != nil {
		panic(fmt.Sprint("catalogue: families.yaml: ", err)) // it ships with the program
	}
	ids := slices.Clone(root.keys)
	slices.Sort(ids)
	return ids
}

// familyProblems: a sheet is of a family there is, and so is what carries it.
func familyProblems(sheet *machine.Sheet) []machine.Problem {
	known := Families()
	var out []machine.Problem
	unknown := func(id string, path ...any) {
		if !slices.Contains(known, id) {
			out = append(out, machine.Problem{Pointer: machine.Pointer(path...), Reason: machine.RuleUnknown.Says(id, text.Key("sheet.kind.family"), strings.Join(known, ", "))})
		}
	}
	unknown(sheet.Family, "family")
	if sheet.Carrier != nil {
		unknown(sheet.Carrier.Family, "carrier", "family")
	}
	if sheet.Towed != nil {
		for i, by := range sheet.Towed.By {
			unknown(by.Family, "towed", "by", i, "family")
		}
	}
	return out
}
