package storetest

import (
	"path/filepath"
	"testing"
	"time"

	"vespers/store"
)

// TestADrill: a backup of the demo is put back and says the same of every outing that is
// over; one that was changed does not, and one that is damaged is said to be.
func TestADrill(t *testing.T) {
	s, path := wrenfield(t)
	dir := t.TempDir()
	k := &store.Keeper{Store: s, Dir: filepath.Join(dir, "copies"), Every: time.Hour, Keep: 3, Now: time.Now}
	kept, err := k.Once(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	d, err := s.Drill(t.Context(), kept, dir)
	if err != nil || len(d.Problems) > 0 || len(d.Differ) > 0 {
		t.Fatalf("%+v %v", d, err)
	}
	if d.Outings < 5 || d.Folded != d.Outings || d.Records < 100 {
		t.Errorf("%+v", d)
	}
	if left, _ := filepath.Glob(filepath.Join(dir, "vespers-drill-*")); left != nil {
		t.Errorf("it leaves %v behind", left)
	}
	raw(t, path, "UPDATE outing SET outcome='halt' WHERE ended>0 AND outcome='clear'")
	if d, err = s.Drill(t.Context(), kept, dir); err != nil || len(d.Differ) == 0 {
		t.Errorf("the yard says otherwise, and the drill nothing: %+v %v", d, err)
	}
	raw(t, kept.Path, loose, "UPDATE record SET person='tobias' WHERE seq=40")
	if d, err = s.Drill(t.Context(), kept, dir); err != nil || len(d.Problems) == 0 {
		t.Errorf("the backup is damaged, and the drill says nothing: %+v %v", d, err)
	}
}
