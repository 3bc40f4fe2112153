// Package machinetest has the sheets that ship with the program as they are
// resolved, so that tests of the core need nothing that stands above it. The
// catalogue's own test keeps them the same ("go test ./catalogue -update").
package machinetest

import (
	_ "embed"
	"encoding/json"
	"maps"
	"slices"
	"strings"
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

// All lists every machine there is, by the id of its sheet: each way that one is
// built, with the first ways of what its operator tells, as if there were no
// others. Built otherwise than first it has an id of its own. Each call gives its
// own.
func All(t testing.TB) []Resolved {
	t.Helper()
	var out []Resolved
	for _, whole := range Whole(t) {
		for i, build := range whole.Sheet.Builds() {
			one := Resolved{Hash: whole.Hash, Sheet: whole.Sheet.With(build).Alone()}
			if i > 0 {
				suffix := "_" + strings.Join(slices.Sorted(maps.Values(build)), "_")
				one.Hash, one.Sheet.ID = one.Hash+suffix, one.Sheet.ID+suffix
			}
			out = append(out, one)
		}
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
