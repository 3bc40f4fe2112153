package storetest

// The site as it is kept: drawn, measured, walked and planned, and found the same by the
// records alone.

import (
	"bytes"
	"slices"
	"testing"
	"time"

	"vespers/core/ground"
	"vespers/core/yard"
	"vespers/demo"
	"vespers/store"
)

// onSite is all that is kept of a site.
type onSite struct {
	File    string
	Walked  yard.Walked
	Tried   yard.Tried
	Morning yard.Morning
}

func siteOf(t *testing.T, s *store.Store) (ground.File, onSite) {
	t.Helper()
	view, check := s.View(ctx)
	file, _ := view.Site()
	out := onSite{File: string(file.Bytes())}
	out.Walked, _ = view.Walked("pond_bank")
	out.Tried, _ = view.Tried("pond_bank")
	out.Morning, _ = view.Morning()
	if err := check(); err != nil {
		t.Fatal(err)
	}
	return file, out
}

func TestASiteIsKept(t *testing.T) {
	s, _ := wrenfield(t)
	file, _ := siteOf(t, s)
	if !bytes.Equal(file.Bytes(), demo.Hillside) {
		t.Error("the hillside is not the one that was imported")
	}
	must := func(who string, c yard.Command) {
		t.Helper()
		if _, err := say(s, time.Now().Format("site-150405.000000000"), who, c); err != nil {
			t.Fatalf("%T: %v", c, err)
		}
	}
	must("maren", yard.DrawFeature{Name: "Heap", Kind: "thing", Along: "1 2", Properties: map[string]any{"thing": "stump"}})
	must("maren", yard.DrawFeature{ID: "lower_wall", Name: "Head of the wall", Kind: "edge", Along: "0 8\n90 9", Properties: map[string]any{"edge": "drop"}})
	must("maren", yard.DropFeature{ID: "oak_stump"})
	must("ines", yard.MeasureBank{Zone: "pond_bank", Way: "percent", With: "Plan", Numbers: map[string]string{"percent": "30"}, Doubts: map[string]string{"percent": "2"}})
	photo, err := s.AddPhoto(ctx, []byte("a picture"))
	if err != nil {
		t.Fatal(err)
	}
	must("ines", yard.WalkZone{Zone: "pond_bank", Grass: "wet", Ground: "firm", Items: []string{"loose"}, Told: "Wire", Photo: photo})
	must("ines", yard.TryBank{Zone: "pond_bank", How: "slipped"})
	after, kept := siteOf(t, s)
	ids := func(f ground.File) (out []string) {
		for _, one := range f.Features {
			out = append(out, one.ID())
		}
		return out
	}
	want := append(slices.DeleteFunc(ids(file), func(id string) bool { return id == "oak_stump" }), "heap")
	if !slices.Equal(ids(after), want) {
		t.Errorf("in another order: %v, want %v", ids(after), want)
	}
	bank, _ := after.Feature("pond_bank")
	if said := bank.Said(); len(said) != 3 || said[2].With != "Plan" || said[2].By != "ines" {
		t.Errorf("%+v", said)
	}
	if kept.Walked.Told != "Wire" || kept.Walked.By != "ines" || !kept.Tried.Slipped {
		t.Errorf("%+v", kept)
	}
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if _, again := siteOf(t, s); again.File != kept.File || again.Walked.Told != kept.Walked.Told || again.Tried != kept.Tried {
		t.Errorf("from the records alone:\n%+v\n%+v", again, kept)
	}
	whole(t, s)
}
