package catalogue

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"testing"

	"vespers/core/machine/machinetest"
)

var update = flag.Bool("update", false, "write the sheets that tests of the core use")

// TestCoreHasTheSheets: what tests of the core use is what the catalogue says.
func TestCoreHasTheSheets(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	var want []machinetest.Resolved
	for _, r := range all {
		want = append(want, machinetest.Resolved{Hash: r.Hash, Sheet: r.Sheet})
	}
	var data bytes.Buffer
	e := json.NewEncoder(&data)
	e.SetIndent("", " ")
	if err := e.Encode(want); err != nil {
		t.Fatal(err)
	}
	const file = "../core/machine/machinetest/sheets.json"
	if *update {
		if err := os.WriteFile(file, data.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if got, err := os.ReadFile(file); err != nil || !bytes.Equal(got, data.Bytes()) {
		t.Errorf("%s is not what the catalogue says (%v): go test ./catalogue -run Core -update", file, err)
	}
}
