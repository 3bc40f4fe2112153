package catalogue_test

import (
	"testing"

	"vespers/catalogue"
)

// TestWholeYAML: a sheet that is written out with its options, and read back, is the
// same sheet.
func TestWholeYAML(t *testing.T) {
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		out, err := catalogue.WholeYAML(r.Sheet)
		if err != nil {
			t.Fatal(err)
		}
		back, problems := catalogue.Check(r.Sheet.ID+".yaml", out)
		if back == nil {
			t.Errorf("%s: %+v", r.Sheet.ID, problems)
			continue
		}
		alike := r.Sheet.Copy()
		alike.Kits = nil
		want, _ := catalogue.Resolve(alike)
		if got, _ := catalogue.Resolve(back); got.Hash != want.Hash {
			t.Errorf("%s changed on the way:\n%s\n%s", r.Sheet.ID, want.Body, got.Body)
		}
	}
}
