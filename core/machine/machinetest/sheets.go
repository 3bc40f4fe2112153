// Package machinetest has the sheets that ship with the program as they are
// resolved, so that tests of the core need nothing that stands above it. The
// catalogue's own test keeps them the same ("go test ./catalogue -update").
package machinetest

import (
	_ "embed"
	"encoding/json"
	"testing"

	"vespers/core/machine"
)

//go:embed sheets.json
var embedded []byte

// Resolved is a sheet with the hash it is stored under.
type Resolved struct {
	Hash  string         `json:"hash"`
	Sheet *machine.Sheet `json:"sheet"`
}

// All lists every sheet, by id, with the first ways of its options and as if
// there were no others. Each call gives its own.
func All(t testing.TB) []Resolved {
	t.Helper()
	out := Whole(t)
	for i := range out {
		out[i].Sheet = out[i].Sheet.With(nil).Alone()
	}
	return out
}

// Whole lists every sheet, by id, with all ways of its options.
func Whole(t testing.TB) []Resolved {
	t.Helper()
	var out []Resolved
	if err := json.Unmarshal(embedded, &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// Of is the first sheet of a family.
func Of(t testing.TB, family string) Resolved {
	t.Helper()
	for _, r := range All(t) {
		if r.Sheet.Family == family {
			return r
		}
	}
	t.Fatalf("no sheet of family %s", family)
	return Resolved{}
}
